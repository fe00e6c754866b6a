"""What stands where in a shot: feet that rise to the eye, what reads and what must be made, air, and how far the camera may go.

It is reckoned when somebody asks: the stage of a shot is no part of the figures of its builds.
"""

from __future__ import annotations

import math

from homunculus.core import specs
from homunculus.core.camera import depth
from homunculus.core.edits.sets import eye_height, over_ground
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, FigureSpec, Given, Rule, derive, rule
from homunculus.core.floor import air, stands
from homunculus.core.job.sets import Camera
from homunculus.core.job.stage import MeasuringCard, StageAir
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.set_plan import Plane, SetPlan, SetSheet, base_scale
from homunculus.core.plan.sheet import Level
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.lens import behind, optics_of


def plan_stage(found: SetPlan, camera: Camera, builds: dict[str, BuildPlan]) -> StagePlan:
    """Derive the stage of the ``found`` set as one ``camera`` sees it; ``builds`` are the plans of those that stand in it, by id."""
    sheet = SetSheet(found.context)
    sheet.index, sheet.planes = {**found.index}, list(found.planes)
    try:
        _plan_eye(sheet, found, camera)
        for plane in found.planes:
            _plan_plane(sheet, found, plane, camera)
            _plan_tables(sheet, plane, builds)
        plan_zone(sheet, camera)
        _plan_match(sheet, found, camera, builds)
        _plan_card(sheet, found.shot.card, camera)
    except OverflowError:
        sheet.mind("danger", "lens", (f"Shot {found.shot.id}: its stage is held",), ("A distance in it is beyond reckoning.",), 5.0)  # fmt: skip
    return StagePlan(found, camera, tuple(sheet.figures), sheet.index, tuple(sheet.minds))


def reach_of(sheet: SetSheet, camera: Camera) -> Figure | None:
    """Image distance of a ``camera`` of the ``sheet``'s set in delivered pixels; none without a body."""
    known = sheet.find(specs.REACH, camera=camera.name)
    mode, body = sheet.set.mode(camera), sheet.set.body(camera)
    if known or mode is None or body is None:
        return known
    image: Figure | Given | None = sheet.find(specs.IMAGE, camera=camera.name)
    if image is None:  # nothing must be sharp yet
        image = Given(optics_of(sheet.set, camera).focal.value, "length", "image distance", "focused at infinity")
    return sheet.add(derive(specs.REACH, depth.reach_in_pixels, sheet.subject(camera=camera.name), image=image,
        sensor_width=Given(mode.sensor_width_m.value, "length", "sensor width", body.name),
        delivery=Given(sheet.set.shop.delivery_px, "pixels", "delivered width", "shop")))  # fmt: skip


# --------------------------------------------------------------------------------------- feet
def eye_given(found: SetPlan, camera: Camera) -> Given:
    """Height of a ``camera``'s eye over the floor in the ``found`` set, as an input."""
    said = camera.height_m is not None
    return Given(eye_height(found, camera), "length", "eye over the floor", found.shot.name if said else "nobody said; a person's", decided=said)  # fmt: skip


def _plan_eye(sheet: SetSheet, found: SetPlan, camera: Camera) -> None:
    """How high the eye looks: as decided, as the plate has it, else over the foot of the main build."""
    if real_eye(found) is not None:
        return
    base = next((plane for plane in found.planes if plane.build == found.base), None)
    foot = _own_foot(sheet, base) if base else None
    standing = foot if foot is not None else 0.0
    sheet.add(derive(specs.EYE_REAL, depth.eye_over_ground, sheet.subject(), eye=eye_given(found, found.shot.cameras[0] if found.shot.cameras else camera),
        foot=Given(standing, "length", "foot of the main build", base.name if base else "the floor", decided=foot is not None), scale=base_scale(found.context)))  # fmt: skip


def real_eye(found: SetPlan) -> Given | None:
    """How high the eye looks over the ground of the ``found`` set, real, as somebody decided or the plate has it; none where it follows."""
    shot = found.shot
    if shot.eye_real_m is not None:
        return Given(shot.eye_real_m, "length", "the eye looks", shot.name, decided=True)
    if shot.plate and shot.plate.height_m is not None:
        return Given(shot.plate.height_m, "length", "the plate's eye", shot.plate.format or "the plate")
    return None


def _own_foot(sheet: SetSheet, plane: Plane) -> float | None:
    """The foot that somebody decided: of the place, else of the build."""
    if plane.place.foot_m is not None:
        return plane.place.foot_m
    stands_m = next((b.stands_m for b in sheet.set.standing if b.build == plane.build), 0.0)
    return stands_m or None


def _plan_foot(sheet: SetSheet, found: SetPlan, plane: Plane, camera: Camera) -> None:
    """Where the ground of a ``plane`` lies: as said, else it rises to the eye."""
    subject, said = sheet.subject(use=plane.name), _foot_said(sheet, found, plane)
    if said:
        sheet.add(derive(specs.PLANE_FOOT, foot_as_decided, subject, decided=said))
        return
    real = real_eye(found) or sheet.find(specs.EYE_REAL)
    if real is not None:
        eye = eye_given(found, found.shot.cameras[0] if found.shot.cameras else camera)
        sheet.add(derive(specs.PLANE_FOOT, depth.foot_height, subject, eye=eye, real=real, scale=plane.scale))


def _foot_said(sheet: SetSheet, found: SetPlan, plane: Plane) -> Given | None:
    """The foot that somebody decided; the main build, by which the eye goes where nobody lifted it, stands on the floor."""
    leads = bool(plane.build) and plane.build == found.base and real_eye(found) is None
    own = _own_foot(sheet, plane) if leads else plane.place.foot_m
    if own is not None:
        return Given(own, "length", "its foot", plane.name, decided=True)
    return Given(0.0, "length", "its foot", "nobody said; the floor") if leads else None


@rule("as decided", "the place says it itself")
def foot_as_decided(*, decided: float) -> float:
    """The foot over the floor [m] that somebody ``decided``."""
    return decided


def _plan_plane(sheet: SetSheet, found: SetPlan, plane: Plane, camera: Camera) -> None:
    context = sheet.set
    _plan_foot(sheet, found, plane, camera)
    if context.shot.air and context.shot.air.sight_m is not None:
        _plan_haze(sheet, plane, context.shot.air)
    reach = reach_of(sheet, camera)
    if reach is None:
        return
    seen = sheet.subject(use=plane.name, camera=camera.name)
    first = camera is context.shot.cameras[0] if context.shot.cameras else True
    distance = behind(plane.at, camera, first=first)
    blur = sheet.find_of(specs.PLANE_BLUR, seen)
    finest = sheet.add(derive(specs.PLANE_FINEST, depth.finest_on_it, seen, distance=distance, reach=reach, **({"blur": blur} if blur else {})))  # fmt: skip
    shop = context.shop
    sheet.add(derive(specs.PLANE_TIER, depth.finish_tier, seen, finest=finest,
        hero=Given(shop.hero_m, "length", "hero up to", "shop", decided=True), mid=Given(shop.mid_m, "length", "mid up to", "shop", decided=True),
        block=Given(shop.block_m, "length", "blocks up to", "shop", decided=True)))  # fmt: skip


def _plan_haze(sheet: SetSheet, plane: Plane, stage_air: StageAir) -> None:
    subject, base = sheet.subject(use=plane.name), base_scale(sheet.set)
    if sheet.find_of(specs.CONTRAST_WANTED, subject):
        return
    sight = Given(stage_air.sight_m, "length", "one sees as far as", sheet.set.shot.name, decided=True)
    threshold = Given(stage_air.threshold_pct / 100, "share", "at a contrast of", sheet.set.shot.name, decided=True)
    if sheet.find(specs.SIGHT) is None:
        sheet.add(derive(specs.SIGHT, depth.sight_on_stage, sheet.subject(), sight=sight, base=base))
    looks: Figure | Given | None = sheet.find(specs.PLANE_LOOKS, use=plane.name)
    looks = looks or Given(plane.place.at_m, "length", "looks as far away as", plane.name, decided=True)
    sheet.add(
        derive(specs.CONTRAST_WANTED, depth.contrast_wanted, subject, looks=looks, sight=sight, threshold=threshold)
    )
    sheet.add(derive(specs.CONTRAST_AIR, depth.contrast_by_air, subject, distance=plane.at, sight=sight, base=base, threshold=threshold))  # fmt: skip


# --------------------------------------------------------------------------------------- the zone
def plan_zone(sheet: SetSheet, camera: Camera) -> None:
    """Derive on the ``sheet`` of a set how far a ``camera`` may go until each plane tells, and the first of them."""
    subject = sheet.subject(camera=camera.name)
    reach = reach_of(sheet, camera)
    if reach is None or sheet.find_of(specs.FREE_SIDEWAYS, subject):
        return
    context = sheet.set
    base, first = base_scale(context), not context.shot.cameras or camera is context.shot.cameras[0]
    passes = Given(context.shop.shift_px, "pixels", "shift that passes", "shop", decided=True)
    edge = Given(context.shop.delivery_px / 2, "pixels", "edge of the frame", "half of the delivered width")
    each: dict[str, dict[str, Figure]] = {"sideways": {}, "along": {}}
    for plane in sheet.planes:
        if math.isclose(plane.scale.number, base.number, rel_tol=1e-9):
            continue
        seen = sheet.subject(use=plane.name, camera=camera.name)
        where = {
            "distance": behind(plane.at, camera, first=first),
            "scale": plane.scale,
            "base": base,
            "allowed": passes,
        }
        each["sideways"][plane.name] = sheet.add(
            derive(specs.SIDEWAYS, depth.sideways_free, seen, reach=reach, **where)
        )
        each["along"][plane.name] = sheet.add(derive(specs.ALONG, depth.along_free, seen, edge=edge, **where))
    if each["sideways"]:
        sheet.add(derive(specs.FREE_SIDEWAYS, depth.tightest, subject, **each["sideways"]))
        sheet.add(derive(specs.FREE_ALONG, depth.tightest, subject, **each["along"]))


# --------------------------------------------------------------------------------------- tables
HAND_M = 0.6
"""Room that somebody takes at a table: common practice, no source."""


@rule("⌈short side / (2 × reach of an arm)⌉", "common practice: hands reach in from both long sides; no source")
def tables_of(*, length: float, depth: float, arm: float) -> int:
    """Tables for a ground of a ``length`` and ``depth`` [m], so that an ``arm`` [m] reaches everything."""
    return max(1, math.ceil(min(length, depth) / (2 * arm) - 1e-9))


@rule("weight / tables", "spread evenly")
def load_each(*, weight: float, tables: int) -> float:
    """Mass [kg] on each of so many ``tables`` that bear a ``weight`` [kg]."""
    return weight / tables


@rule("⌊long side / 0.6 m⌋ × 2 × tables", "room of a person at a table: common practice, no source")
def hands_around(*, length: float, depth: float, tables: int) -> int:
    """People who find room along both long sides of each of so many ``tables``, of a ground of a ``length`` and ``depth`` [m]."""
    return math.floor(max(length, depth) / HAND_M) * 2 * tables


def _plan_tables(sheet: SetSheet, plane: Plane, builds: dict[str, BuildPlan]) -> None:
    made, subject = builds.get(plane.build), sheet.subject(use=plane.name)
    if made is None or plane.insert:
        return
    length, deep, weight = made.find(specs.LENGTH), made.find(specs.DEPTH), made.find(specs.WEIGHT)
    foot, shop = sheet.find(specs.PLANE_FOOT, use=plane.name), sheet.set.shop
    if length is None or deep is None or weight is None or foot is None or foot.number <= 0.05:
        return  # it stands on the floor
    tables = sheet.add(derive(specs.TABLES, tables_of, subject, length=length, depth=deep, arm=Given(shop.arm_m, "length", "an arm reaches", "shop", decided=True)))  # fmt: skip
    load = sheet.add(derive(specs.TABLE_LOAD, load_each, subject, weight=weight, tables=tables))
    sheet.add(derive(specs.HANDS_AROUND, hands_around, subject, length=length, depth=deep, tables=tables))
    if load.number > shop.table_kg:
        sheet.mind("danger", "lens", (f"{plane.name}: ", load, " on a table"),
            ("A table bears ", Given(shop.table_kg, "mass", "a table bears", decided=True), ". More tables, a platform, or legs beneath its heaviest pieces; "
             "who builds it says what it bears."), 4.0)  # fmt: skip


# --------------------------------------------------------------------------------------- the plate
@rule("ours − what the plate asks", "arithmetic")
def off_the_plate(*, ours: float, asked: float) -> float:
    """How far ``ours`` is from what is ``asked``, in their unit."""
    off = ours - asked
    return 0.0 if abs(off) < 1e-9 * max(abs(ours), abs(asked)) else off


@rule("edge × |f / f asked − 1|", "pinhole projection: a longer lens magnifies everything alike")
def lens_shift(*, ours: float, asked: float, edge: float) -> float:
    """Pixels by which a lens of a focal length ``ours`` instead of the ``asked`` one [both m] shifts what lies at the ``edge`` of the frame [pixels]."""
    return edge * abs(ours / asked - 1)


@rule("edge × |δ| / d", "pinhole projection")
def distance_shift(*, off: float, distance: float, edge: float) -> float:
    """Pixels by which standing ``off`` a ``distance`` [both m] shifts what lies at the ``edge`` of the frame [pixels]."""
    return edge * abs(off) / distance


@rule("reach × tan |δ|", "pinhole projection, in the middle of the picture")
def tilt_shift(*, off: float, reach: float) -> float:
    """Pixels by which a tilt ``off`` by so much [rad] shifts the picture, for a ``reach`` [pixels]."""
    return reach * math.tan(min(abs(off), 1.5))


@rule("edge × sin |δ|", "rotation about the middle of the picture")
def roll_shift(*, off: float, edge: float) -> float:
    """Pixels by which a roll ``off`` by so much [rad] lifts the ``edge`` of the frame [pixels]."""
    return edge * math.sin(min(abs(off), math.pi / 2))


def _plan_match(sheet: SetSheet, found: SetPlan, camera: Camera, builds: dict[str, BuildPlan]) -> None:
    """How our camera stands to what the plate asks, and what each shows as."""
    shot, plate, made = found.shot, found.shot.plate, builds.get(found.base)
    reach, base = reach_of(sheet, camera), next((p for p in found.planes if p.build == found.base), None)
    if plate is None or reach is None:
        return
    edge = Given(sheet.set.shop.delivery_px / 2, "pixels", "edge of the frame", "half of the delivered width")
    foot = sheet.find(specs.PLANE_FOOT, use=base.name) if base else None
    over = (
        Given(over_ground(found, camera, foot.number), "length", "eye over the model's ground", shot.name, decided=True)
        if foot
        else None
    )
    asked = {
        spec: made.find(spec, shot=shot.id) if made else None
        for spec in (specs.PLATE_FOCAL, specs.PLATE_HEIGHT, specs.PLATE_DISTANCE)
    }

    def off(what: str, spec: FigureSpec, ours: Figure | Given, wanted: Figure | Given) -> Figure:
        return sheet.add(derive(spec, off_the_plate, sheet.subject(use=what), ours=ours, asked=wanted))

    def shows(what: str, law: Rule, **inputs: Figure | Given) -> None:
        shift = sheet.add(derive(specs.MATCH_SHIFT, law, sheet.subject(use=what), **inputs))
        if shift.number > sheet.set.shop.shift_px:
            sheet.mind("danger", "lens", (f"Shot {shot.id}: {what} parts from the plate by ", shift), ("Take it as the plate asks, with one press on the measuring card.",), 4.0)  # fmt: skip

    if wanted := asked[specs.PLATE_FOCAL]:
        ours = optics_of(sheet.set, camera).focal
        off("focal length", specs.MATCH_OFF, ours, wanted)
        shows("focal length", lens_shift, ours=ours, asked=wanted, edge=edge)
    if over and base and (wanted := asked[specs.PLATE_HEIGHT]):
        shows(
            "height",
            depth.placing_shift,
            off=off("height", specs.MATCH_OFF, over, wanted),
            distance=base.at,
            reach=reach,
        )
    if base and (wanted := asked[specs.PLATE_DISTANCE]):
        shows(
            "distance",
            distance_shift,
            off=off("distance", specs.MATCH_OFF, base.at, wanted),
            distance=wanted,
            edge=edge,
        )
    for what, ours_deg, plate_deg in (
        ("tilt", camera.tilt_deg, plate.tilt_deg),
        ("roll", camera.roll_deg, plate.roll_deg),
    ):
        if plate_deg is not None:
            turned = off(what, specs.MATCH_TURN, Given(math.radians(ours_deg), "angle", what, shot.name, decided=True), Given(math.radians(plate_deg), "angle", f"{what} of the plate", plate.format or "the plate"))  # fmt: skip
            if what == "tilt":
                shows(what, tilt_shift, off=turned, reach=reach)
            else:
                shows(what, roll_shift, off=turned, edge=edge)


# --------------------------------------------------------------------------------------- the card
def _plan_card(sheet: SetSheet, card: MeasuringCard | None, camera: Camera) -> None:
    """Where stands were found when they were measured again, and which of them moved."""
    if card is None:
        return
    nearest = min(sheet.planes, key=lambda plane: plane.at.number, default=None)
    reach = reach_of(sheet, camera)
    if nearest and reach:
        within = Given(card.within_m, "length", "a stand may be off", "the card", decided=True)
        sheet.add(
            derive(
                specs.STAND_ALLOWED, depth.placing_shift, sheet.subject(), off=within, distance=nearest.at, reach=reach
            )
        )
    for stand in card.stands:
        last = next((r for r in reversed(card.readings) if r.stand == stand.name), None)
        if last is None:
            continue
        try:
            left = stand.side == "left"
            belongs = stands.from_nails(card.nails_m, stand.from_a_m, stand.from_b_m, left=left)
            found = stands.from_nails(card.nails_m, last.from_a_m, last.from_b_m, left=left)
        except UserError as trouble:
            sheet.mind("danger", "lens", (f"{stand.name} cannot be there",), (f"{trouble}.",), 5.0, use=stand.name)
            continue
        subject = sheet.subject(use=stand.name)
        off = sheet.add(derive(specs.STAND_OFF, stands.moved_by, subject, belongs=Given(belongs, "thing", "where it belongs", "the card"),
                               found=Given(found, "thing", "where it was found", last.by or "measured again")))  # fmt: skip
        shows: tuple[str | Figure | Given, ...] = ()
        if nearest and reach:
            shift = sheet.add(derive(specs.STAND_SHIFT, depth.placing_shift, subject, off=off, distance=nearest.at, reach=reach))  # fmt: skip
            shows = (" It shows as ", shift, f" at {nearest.name}.")
        if off.number > card.within_m:
            away, right = found[0] - belongs[0], found[1] - belongs[1]
            back = f"{abs(away) * 1000:.0f} mm {'towards A' if away > 0 else 'towards B'}, {abs(right) * 1000:.0f} mm to the {'right' if right > 0 else 'left'} of A to B"  # fmt: skip
            sheet.mind("danger", "lens", (f"{stand.name} has moved by ", off),
                (f"Back: {back}; ", Given(stand.from_a_m, "length", "from A"), " from A, ", Given(stand.from_b_m, "length", "from B"), " from B.", *shows), 5.5, use=stand.name)  # fmt: skip


# --------------------------------------------------------------------------------------- dry ice
def plan_air(sheet: SetSheet) -> None:
    """Derive on the ``sheet`` of a set what dry ice makes of the stage's air, and mind it."""
    shot, stage = sheet.set.shot, sheet.set.shop.stage
    if shot.air is None or not shot.air.ice_kg_h:
        return
    ice = Given(shot.air.ice_kg_h / 3600, "mass_flow", "dry ice", shot.name, decided=True)
    volume = Given(stage.width_m * stage.depth_m * stage.height_m, "volume", "air of the stage", "shop")
    changes = Given(
        shot.air.changes_h / 3600,
        "thing",
        f"air changed {shot.air.changes_h:g} times an hour",
        "an estimate",
        decided=True,
    )
    time = Given(shot.air.ice_s, "duration", "it goes in for", shot.name, decided=True)
    share = sheet.add(
        derive(
            specs.CARBON_DIOXIDE,
            air.carbon_dioxide,
            sheet.subject(),
            ice=ice,
            time=time,
            volume=volume,
            changes=changes,
        )
    )
    limit = Given(air.QUARTER_HOUR, "share", "over 15 min", "NIOSH, value from memory")
    supply = {"ice": ice, "volume": volume, "changes": changes, "limit": limit}
    until = None
    if math.isfinite(air.time_to_limit(**{name: item.number for name, item in supply.items()})):
        until = sheet.add(derive(specs.ICE_TIME, air.time_to_limit, sheet.subject(), **supply))
    pools = "It pools low: a meter at the floor, an open door, nobody lying down. Whoever is trained for gases and the local code decide."
    if share.number > air.ALL_DAY:
        level: Level = "danger" if share.number > air.QUARTER_HOUR else "mind"
        less = (
            ("Less ice, more air, or a shorter time; the short limit is reached after ", until, ". ")
            if level == "danger"
            else ()
        )
        sheet.mind(level, "lens", (f"Shot {shot.id}: carbon dioxide ", share),
            ("0.5 % is the limit for a day, 3 % for a quarter of an hour. ", *less, pools), 9.0 if level == "danger" else 3.0)  # fmt: skip
