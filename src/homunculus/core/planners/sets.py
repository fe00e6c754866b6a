"""One shot, one set: the rate at which all in it is taken, where each thing stands, and what each camera makes of it."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.camera.stand import at_scale, looks_like
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.sets import Camera, Place
from homunculus.core.job.shots import ByBuild, FixedRate, FrameByFrame, Gravity, Need, ScreenTime
from homunculus.core.plan.set_plan import FULL_SIZE, Plane, SetContext, SetPlan, SetSheet, base_scale, scale_in
from homunculus.core.planners.lens import plan_camera
from homunculus.core.planners.light import plan_set_light
from homunculus.core.planners.moving import plan_set_moves
from homunculus.core.planners.stage import plan_air


def plan_set(context: SetContext) -> SetPlan:
    """Derive everything of one shot's set from its ``context``."""
    return _planned(context, _plan_all)


def plan_focus(context: SetContext, camera: str) -> SetPlan:
    """Derive where things stand in the set of a ``context``, and of the ``camera`` of that name what it sees and holds; nothing else.

    For what is tried many times over and not kept: of all that, it is the same as in the whole plan.
    """
    return _planned(context, partial(_plan_stands, only=camera))


def plan_light(context: SetContext) -> SetPlan:
    """Derive where things stand in the set of a ``context``, what its cameras see and hold, and what light that takes; no air, nothing that moves.

    For what is tried many times over and not kept: of all that, it is the same as in the whole plan.
    """
    return _planned(context, _plan_lit)


def _planned(context: SetContext, plan: Callable[[SetSheet], None]) -> SetPlan:
    sheet = SetSheet(context)
    try:
        plan(sheet)
    except (UserError, OverflowError) as trouble:
        what = str(trouble) if isinstance(trouble, UserError) else "a distance or a size in it is beyond reckoning"
        sheet.mind("danger", "lens", (f"Shot {context.shot.id} is held",), (f"{what}.",), 20.0)
    return SetPlan(context, tuple(sheet.figures), sheet.index, tuple(sheet.planes), tuple(sheet.minds))


def _plan_stands(sheet: SetSheet, only: str | None = None) -> None:
    _plan_rate(sheet)
    sheet.planes = list(planes_of(sheet))
    for index, camera in enumerate(sheet.set.shot.cameras):
        if only in (None, camera.name):
            plan_camera(sheet, camera, first=index == 0)


def _plan_lit(sheet: SetSheet) -> None:
    _plan_stands(sheet)
    plan_set_light(sheet)


def _plan_all(sheet: SetSheet) -> None:
    _plan_lit(sheet)
    plan_air(sheet)
    plan_set_moves(sheet)
    _mind_what_it_had(sheet)


# -------------------------------------------------------------------------------------------- rate
def shared_rates(context: SetContext) -> Given | None:
    """The rates that every body in the set of a ``context`` has, as an input; none without a body."""
    modes = [(context.body(camera), context.mode(camera)) for camera in context.shot.cameras or (Camera(),)]
    known = [(body, mode) for body, mode in modes if body and mode]
    if not known:
        return None
    shared = [rate for rate in known[0][1].rates_fps if all(rate in mode.rates_fps for _, mode in known)]
    names = ", ".join(dict.fromkeys(body.name for body, _ in known))
    return Given(tuple(shared) or known[0][1].rates_fps, "thing", "rates of the camera", names)


def _plan_rate(sheet: SetSheet) -> None:
    """Derive the one rate of the take, how time is stretched, and what happens on set."""
    context, shot = sheet.set, sheet.set.shot
    subject, scale = sheet.subject(), base_scale(context)
    base = Given(context.shop.base_rate_fps, "rate", "projected rate", "shop")
    seconds = Given(shot.seconds, "screen_time", "on screen", shot.name)
    alone = sum(1 for need in shot.needs if need.place and need.place.alone)
    most = max((use.passes for use in shot.uses), default=1) + alone
    passes = {"passes": Given(most, "count", "passes", shot.name, decided=True)} if most > 1 else {}
    if isinstance(shot.rule, FrameByFrame):
        hold = Given(shot.rule.hold, "count", "frames an exposure is held", shot.name, decided=True)
        sheet.add(
            derive(specs.EXPOSURES, frame_rate.exposure_count, subject, screen=seconds, base=base, hold=hold, **passes)
        )
        return
    rates = shared_rates(context)
    if rates is None:
        return
    wanted = _wanted(sheet, shot.rule, scale, base)
    rate = sheet.add(derive(specs.RATE, frame_rate.nearest_rate, subject, wanted=wanted, rates=rates))
    sheet.add(derive(specs.STRETCH, frame_rate.time_stretch, subject, rate=rate, base=base))
    sheet.add(derive(specs.ON_SET, frame_rate.time_on_set, subject, screen=seconds, base=base, rate=rate, **passes))
    if wanted.number > rate.number * 1.02 and rate.notes and isinstance(shot.rule, Gravity):
        sheet.mind("danger", "scale", ("The camera stops at ", rate),
            ("Shot ", shot.id, " wants ", wanted, "; at ", rate, " it falls too fast. A larger scale number is out of reach for "
             "this camera."), 3.0)  # fmt: skip


def _wanted(sheet: SetSheet, rule: Gravity | ScreenTime | FixedRate, scale: Given, base: Given) -> Figure | Given:
    shot, subject = sheet.set.shot, sheet.subject()
    match rule:
        case Gravity(faster=faster):
            factor = Given(faster, "factor", "faster than gravity", shot.name, decided=True)
            return sheet.add(
                derive(specs.RATE_WANTED, frame_rate.gravity_rate, subject, scale=scale, base=base, faster=factor)
            )
        case ScreenTime(event_s=event):
            return sheet.add(derive(
                specs.RATE_WANTED, frame_rate.screen_time_rate, subject, base=base,
                screen=Given(shot.seconds, "screen_time", "on screen", shot.name),
                event=Given(event, "duration", "the event takes", shot.name),
            ))  # fmt: skip
        case FixedRate(rate_fps=rate):
            return Given(rate, "rate", "chosen rate", shot.name, decided=True)


# ------------------------------------------------------------------------------------------ planes
def planes_of(sheet: SetSheet) -> tuple[Plane, ...]:
    """Lay down all needs of the ``sheet``'s set that have a place, each with the floor distance that follows or that it has."""
    found: list[Plane] = []
    taken: dict[str, int] = {}
    for index, need in enumerate(sheet.set.shot.needs):
        taken[need.what] = taken.get(need.what, 0) + 1
        name = need.what if taken[need.what] == 1 else f"{need.what}, {taken[need.what]}"
        if need.place:
            found.append(_plane(sheet, index, name, need, need.place))
    return tuple(found)


def _plane(sheet: SetSheet, index: int, name: str, need: Need, place: Place) -> Plane:
    build, insert, scale = whose_scale(sheet.set, need, place)
    subject = sheet.subject(use=name)
    if place.looks:
        real = Given(place.at_m, "length", "it looks as far away as", name, decided=True)
        at: Figure | Given = sheet.add(derive(specs.PLANE_AT, at_scale, subject, real=real, scale=scale))
        to = Given(place.to_m / scale.value, "length", "its far side", name) if place.to_m else None
    else:
        at = Given(place.at_m, "length", "stands at", name, decided=True)
        to = Given(place.to_m, "length", "its far side", name, decided=True) if place.to_m else None
        sheet.add(derive(specs.PLANE_LOOKS, looks_like, subject, distance=at, scale=scale))
    return Plane(name, index, build, insert, scale, at, to, place)


def whose_scale(context: SetContext, need: Need, place: Place | None) -> tuple[str, str, Given]:
    """The build and insert that a ``need`` of the set of a ``context`` shows, empty where it is none, and the scale at which it stands in its ``place``."""
    use = need.cover if isinstance(need.cover, ByBuild) else None
    standing = next((b for b in context.standing if use and b.build == use.build), None)
    if use is None or standing is None:
        said = place.scale if place else None
        return "", "", FULL_SIZE if said is None else Given(said, "scale", "its scale", need.what, decided=True)
    inserts = {piece for piece, _, _ in standing.inserts}
    insert = use.pieces[0] if use.pieces and set(use.pieces) <= inserts else ""
    return standing.build, insert, scale_in(standing, insert)


def _mind_what_it_had(sheet: SetSheet) -> None:
    shot = sheet.set.shot
    if shot.disagreed:
        sheet.mind("mind", "lens", (f"Shot {shot.id} has one set now: look at it",),
            (f"{shot.disagreed} Say where each thing stands, or that it is right as it is.",), 5.0)  # fmt: skip
