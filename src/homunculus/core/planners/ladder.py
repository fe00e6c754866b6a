"""The ladder: over which scales each limit holds, is strained, fails, and where none fails.

A lane calls single rules, never the whole plan. Its bands do not depend on the decided scale, only its value does, and
by it which shot governs, whose light and detail two lanes tell.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable
from itertools import pairwise
from typing import NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.camera.blur import Glass, airy_disc, best_stop, ends_disc
from homunculus.core.camera.frame_rate import ROUND_SCALES, STOCK_SCALES
from homunculus.core.camera.lens import focus_distance
from homunculus.core.camera.stand import BEHIND_M, at_scale, depth_needed
from homunculus.core.camera.strays import STRAYS, strays
from homunculus.core.figures import Figure, Given, Phrase, derive
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Gravity
from homunculus.core.making.ovens import through
from homunculus.core.plan.build_plan import BuildSheet, Context, Hold, Limit
from homunculus.core.plan.set_plan import SetPlan, at_times, base_scale, moving_with
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.lens import ends_at, optics_of
from homunculus.core.planners.mould import moulds_cost
from homunculus.core.planners.scale import build_weight, form_of, real_extent, weighed_pieces
from homunculus.core.planners.sets import plan_light, shared_rates
from homunculus.core.planners.shots import base_given, governing_shot, shot_scale
from homunculus.core.showing import show, show_scale

WORST: dict[Hold, int] = {"holds": 0, "strained": 1, "fails": 2}
LANES = (
    "stage", "deep", "door", "camera", "falls", "focus", "light", "detail", "intercut", "water", "bought", "weight", "rubber",
)  # fmt: skip
"""In the order in which they are drawn."""
POINTS = 56
MINDED_ELSEWHERE = ("bought", "falls", "door", "intercut")
"""Lanes of which a caution of its own is given, or none."""


class Band(Struct, frozen=True):
    """A run of scales over which a limit is kept equally well."""

    low: float
    high: float
    hold: Hold


def hold_at(bands: tuple[Band, ...], scale: float) -> Hold:
    """How well a limit is kept at a ``scale``, by its ``bands`` from low to high."""
    for band in bands:
        if scale <= band.high * (1 + 1e-9):
            return band.hold
    return bands[-1].hold


class Lane(Struct, frozen=True, eq=False):
    """One limit over the whole ladder."""

    key: str
    name: str
    note: Phrase
    bands: tuple[Band, ...]
    value: Figure | None
    remedy: str

    def hold_at(self, scale: float) -> Hold:
        """How well the limit is kept at a ``scale``."""
        return hold_at(self.bands, scale)

    def speech(self, scale: float) -> str:
        """One sentence for the ear: how the lane stands at a ``scale`` and where it fails."""
        value = f", {show(self.value.value, self.value.spec.kind)}" if self.value else ""
        edges = [f"{b.hold} from {show_scale(b.low)} to {show_scale(b.high)}" for b in self.bands if b.hold != "holds"]
        return f"{self.name}: {self.hold_at(scale)} at {show_scale(scale)}{value}. {'; '.join(edges) or 'holds throughout'}."


class Ladder(Struct, frozen=True, eq=False):
    """All lanes of a build, and the brackets around the scales at which nothing fails."""

    low: float
    high: float
    lanes: tuple[Lane, ...]
    free: tuple[tuple[float, float], ...]
    basis: tuple[object, ...] = ()
    """What the bands were made from."""


class Candidate(NamedTuple):
    """A scale worth taking, and why."""

    scale: float
    strained: tuple[str, ...]
    """Names of the lanes that are strained there; none fails."""
    cost: Figure | None


def candidates(context: Context, found: Ladder) -> tuple[Candidate, ...]:
    """The best three of the scales that people build at, by the ``found`` ladder of a ``context``'s build: nothing fails, then fewest strained, then money, then nearest."""
    if not any(band.hold == "fails" for lane in found.lanes for band in lane.bands):
        return ()  # nothing asks for a scale: then the smallest would be the cheapest, and nonsense
    kept = []
    for scale in sorted({*ROUND_SCALES, *STOCK_SCALES}):
        holds = [lane.hold_at(scale) for lane in found.lanes]
        if found.low <= scale <= found.high and "fails" not in holds:
            strained = tuple(lane.name for lane, hold in zip(found.lanes, holds, strict=True) if hold == "strained")
            kept.append(Candidate(scale, strained, moulds_cost(context, scale)))
    now = context.build.scale
    kept.sort(key=lambda c: (len(c.strained), c.cost.number if c.cost else 0.0, abs(math.log(c.scale / now))))
    return tuple(kept[:3])


def ladder_range(context: Context) -> tuple[float, float]:
    """Return the lowest and highest scale number that the ladder of a ``context``'s build shows."""
    if context.build.scale < 1:
        return 0.1, 100.0
    return 1.0, 100.0


def ladder(context: Context, known: Ladder | None = None, limits: tuple[Limit, ...] = ()) -> Ladder:
    """Work out every lane that a build has data for.

    Parameters
    ----------
    context
        The build with its shots, shop and cards.
    known
        An earlier ladder; its bands are used again when nothing but the scale differs.
    limits
        Those that were found when the build was planned, if it was: with known bands they are all that is needed.
    """
    low, high = ladder_range(context)
    sheet = BuildSheet(context)
    basis = _basis(sheet, low)
    found = _in_order(limits) if limits else _limits(sheet)
    if known is not None and known.basis == basis and [x.key for x in known.lanes] == [x.key for x in found]:
        bands = {lane.key: lane.bands for lane in known.lanes}
        free = known.free
    else:  # limits of their own, for they keep what they reckon of each scale
        found = _limits(sheet) if limits else found
        bands = {limit.key: _bands(limit.hold, low, high) for limit in found}
        free = _free(tuple(bands.values()), low, high)
    lanes = tuple(Lane(x.key, x.name, x.note, bands[x.key], x.value, x.remedy) for x in found)
    return Ladder(low, high, lanes, free, basis)


def _basis(sheet: BuildSheet, low: float) -> tuple[object, ...]:
    """What the bands depend on: all of the context but the scale, and which shot governs at it. Compared by content, cheap when shared."""
    context, governs = sheet.context, governing_shot(sheet)
    sets = [found.context for found in context.sets]
    others = tuple(b for found in sets for b in found.standing if b.build != context.build.id)
    cards = tuple((found.bodies, found.lenses) for found in sets)
    return (replace(context.build, scale=1.0), context.shots, others, cards, context.shop, context.cards,
            *map(id, context.facts.values()), low, governs and governs.id)  # fmt: skip


def _limits(sheet: BuildSheet) -> list[Limit]:
    return _in_order((*_own_limits(sheet), *_set_limits(sheet)))


def _in_order(limits: Iterable[Limit]) -> list[Limit]:
    return sorted(limits, key=lambda limit: LANES.index(limit.key))


def _own_limits(sheet: BuildSheet) -> list[Limit]:
    """Limits that depend on no camera."""
    found = (
        _stage(sheet), _door(sheet), _intercut(sheet), _water(sheet), _bought(sheet), _weight(sheet), _rubber(sheet),
    )  # fmt: skip
    return [limit for limit in found if limit]


def _set_limits(sheet: BuildSheet) -> list[Limit]:
    """Limits of the sets in which the build stands."""
    at = _AtScales(sheet)
    found = _deep(sheet), _camera(sheet), _falls(sheet), _focus(sheet), _light(sheet, at), _detail(sheet, at)
    return [limit for limit in found if limit]


def _bands(hold: Callable[[float], Hold], low: float, high: float) -> tuple[Band, ...]:
    """Find where the verdict changes: a scan on a log grid, each change narrowed by bisection."""
    ratio = (high / low) ** (1 / POINTS)
    bands: list[Band] = []
    start, here, verdict = low, low, hold(low)
    for i in range(1, POINTS + 1):
        there = low * ratio**i
        next_verdict = hold(there)
        if next_verdict != verdict:
            a, b = here, there
            while b / a > 1.0005:
                middle = math.sqrt(a * b)
                a, b = (middle, b) if hold(middle) == verdict else (a, middle)
            bands.append(Band(start, b, verdict))
            start, verdict = b, hold(b)
            if verdict != next_verdict:  # two changes within one step: take the second at the grid point
                bands.append(Band(start, there, verdict))
                start, verdict = there, next_verdict
        here = there
    bands.append(Band(start, high, verdict))
    return tuple(bands)


def _free(lanes: tuple[tuple[Band, ...], ...], low: float, high: float) -> tuple[tuple[float, float], ...]:
    edges = sorted({low, high, *(b.low for bands in lanes for b in bands)})
    runs: list[tuple[float, float]] = []
    for a, b in pairwise(edges):
        middle = math.sqrt(a * b)
        if any(hold_at(bands, middle) == "fails" for bands in lanes):
            continue
        if runs and math.isclose(runs[-1][1], a):
            runs[-1] = (runs[-1][0], b)
        else:
            runs.append((a, b))
    return tuple(runs)


def _at_most(value: float, limit: float, strained: float) -> Hold:
    """Compare a value with where it begins to strain and where it fails."""
    return "holds" if value <= limit else "strained" if value <= strained else "fails"


def _scale(sheet: BuildSheet) -> Given:
    return Given(sheet.context.build.scale, "scale", "scale", decided=True)


def _stage(sheet: BuildSheet) -> Limit | None:
    reach, build, stage = real_extent(sheet), sheet.context.build, sheet.context.shop.stage
    if reach is None:
        return None
    real = reach[1][1] - reach[1][0]
    room = stage.height_m - stage.lamps_m - build.stands_m
    if room <= 0:
        return None
    value = derive(
        specs.HEIGHT, at_scale, sheet.subject(), real=Given(real, "length", "real height"), scale=_scale(sheet)
    )
    note = (Given(stage.height_m, "length", "stage"), ", stand and lamps off") if build.stands_m else (
        Given(stage.height_m, "length", "stage"), ", lamps off")  # fmt: skip
    return Limit("stage", "Fits the stage", note, value, lambda s: _at_most(real / s, room * 0.9, room),
                 "Lower the stand, or build it in two parts")  # fmt: skip


def _ends_by_looks(found: SetPlan, build: str) -> dict[str, float]:
    """Far sides [m] of all that the scale of a build moves in a set, by what it is."""
    moving = moving_with(found.context, build)
    return {p.name: (p.to or p.at).number for p in found.planes if p.build in moving and p.place.looks}


def _deep(sheet: BuildSheet) -> Limit | None:
    """Whether what stands as far away as it looks finds room on the stage."""
    build, stage = sheet.context.build, sheet.context.shop.stage
    farthest = [
        (max(ends.values()), found) for found in sheet.context.sets if (ends := _ends_by_looks(found, build.id))
    ]
    if not farthest:
        return None
    far, found = max(farthest, key=lambda it: it[0])
    planes = {name: Given(at, "length", name, found.shot.name) for name, at in _ends_by_looks(found, build.id).items()}
    value = derive(specs.STAGE_DEPTH, depth_needed, sheet.subject(shot=found.shot.id), **planes)
    return Limit("deep", "Stage is long enough", (Given(stage.long_m, "length", "stage"), f", shot {found.shot.id}"), value,
                 lambda s: _at_most(far * build.scale / s + BEHIND_M, stage.long_m * 0.95, stage.long_m),
                 "A longer lens and nearer, or a larger scale number")  # fmt: skip


def _door(sheet: BuildSheet) -> Limit | None:
    """Whether every piece goes through the stage's door."""
    build, stage = sheet.context.build, sheet.context.shop.stage
    wide, high = stage.door_width_m, stage.door_height_m
    sizes = [(form.size, piece) for piece in build.pieces if (form := form_of(sheet, piece))]
    if wide is None or high is None or not sizes:
        return None
    size, piece = max(sizes, key=lambda it: sorted(it[0])[1])
    value = derive(specs.LONGEST, at_scale, sheet.subject(piece.id), scale=_scale(sheet),
                   real=Given(sorted(size)[1], "length", "its middle side, real", piece.name))  # fmt: skip

    def hold(scale: float) -> Hold:
        fits = all(through((one[0] / scale, one[1] / scale, one[2] / scale), wide, high) for one, _ in sizes)
        return "holds" if fits else "fails"

    return Limit("door", "Goes through the door", (Given(wide, "length", "door"), " × ", Given(high, "length", "door, high")), value, hold,
                 "Build it in parts, or on the stage")  # fmt: skip


class _AtScales:
    """The set of the governing shot as it would be at other scales; each reckoned once."""

    def __init__(self, sheet: BuildSheet) -> None:
        self.sheet = sheet
        shot = governing_shot(sheet)
        self.found = next((found for found in sheet.context.sets if shot and found.shot.id == shot.id), None)
        self._known: dict[float, SetPlan] = {}

    def at(self, scale: float) -> SetPlan | None:
        """It at a scale."""
        build = self.sheet.context.build
        if self.found is None or scale == build.scale:
            return self.found
        if scale not in self._known:
            self._known[scale] = plan_light(at_times(self.found.context, build.id, scale / build.scale))
        return self._known[scale]


def _light(sheet: BuildSheet, sets: _AtScales) -> Limit | None:
    """Whether the circuits bear the lamps of the governing shot."""
    value = sets.found.find(specs.LAMP_POWER) if sets.found else None
    shop = sheet.context.shop.lighting
    if value is None or sets.found is None:
        return None
    bears = shop.circuits * shop.breaker_a * shop.load * shop.volts

    def hold(scale: float) -> Hold:
        found = sets.at(scale)
        power = found.find(specs.LAMP_POWER) if found else None
        return _at_most(power.number, bears * 0.8, bears) if power else "holds"

    return Limit("light", "Circuits bear the lamps", (Given(bears, "power", "circuits"), f" at most, shot {sets.found.shot.id}"), value, hold,
                 "More circuits, a wider stop, or less that is lit")  # fmt: skip


def _detail(sheet: BuildSheet, sets: _AtScales) -> Limit | None:
    """Whether hands can make the finest that the lens sees."""
    cameras = sets.found.shot.cameras if sets.found else ()
    if sets.found is None or not cameras:
        return None
    hand, name = sheet.context.shop.finest_m, cameras[0].name
    value = sets.found.find(specs.FINEST, camera=name)
    if value is None:
        return None

    def hold(scale: float) -> Hold:
        found = sets.at(scale)
        seen = found.find(specs.FINEST, camera=name) if found else None
        return _at_most(hand, seen.number, seen.number * 2) if seen else "holds"

    return Limit("detail", "Hands make what it sees", (Given(hand, "length", "hands"), f" is the finest, shot {sets.found.shot.id}"), value, hold,
                 "A larger model, or what is finer printed or photographed")  # fmt: skip


def _intercut(sheet: BuildSheet) -> Limit | None:
    """Whether a double that was built cuts with the real thing."""
    intercut = sheet.context.build.intercut
    if intercut is None:
        return None
    value = sheet.find(specs.INTERCUT)
    return Limit("intercut", "The double cuts", (Given(intercut.built_m, "length", "built"), " as built"), value,
                 lambda s: _at_most(abs(intercut.built_m / (intercut.real_m / s) - 1), 0.02, 0.05),
                 "Alter the double, or take the scale at which it cuts")  # fmt: skip


def _camera(sheet: BuildSheet) -> Limit | None:
    """Whether the camera has the rate that the sets ask which go by this build's scale."""
    context, scale = sheet.context, sheet.context.build.scale
    mine = [found for found in context.sets if found.base == context.build.id]
    asked = [(found, rates) for found in mine if isinstance(found.shot.rule, Gravity)
             and (rates := shared_rates(found.context))]  # fmt: skip
    if not asked:
        return None
    base = context.shop.base_rate_fps

    def over(found: SetPlan, rates: Given, at: float) -> float:
        """The wanted rate over the most that the take's bodies have, at a scale."""
        own = base_scale(found.context).value / scale
        faster = found.shot.rule.faster if isinstance(found.shot.rule, Gravity) else 1.0
        return float(frame_rate.gravity_rate(scale=at * own, base=base, faster=faster)) / float(max(rates.value))

    found, rates = max(asked, key=lambda it: over(it[0], it[1], scale))
    value = found.find(specs.RATE_WANTED)
    return Limit("camera", "Camera keeps up", (Given(max(rates.value), "rate", "most"), " is all it has"), value,
                 lambda s: _at_most(max(over(it[0], it[1], s) for it in asked), 1.0, 1.25),
                 "A faster camera, or let it fall a little fast")  # fmt: skip


def _falls(sheet: BuildSheet) -> Limit | None:
    """Whether it falls as it should where another build decides the rate."""
    context, scale = sheet.context, sheet.context.build.scale
    others = [
        found for found in context.sets if found.base != context.build.id and isinstance(found.shot.rule, Gravity)
    ]
    if not others:
        return None

    def stray(found: SetPlan, at: float) -> float:
        share = strays(at * shot_scale(context, found.shot).value / scale, base_scale(found.context).value)
        return max(share, 1 / share)

    worst = max(others, key=lambda found: stray(found, scale))
    said = worst.context.base.name if worst.context.base else ""
    return Limit("falls", "Falls as it should", (f"{said} decides in shot {worst.shot.id}",),
                 sheet.find(specs.GRAVITY, shot=worst.shot.id) or _gravity(sheet, worst),
                 lambda s: _at_most(max(stray(found, s) for found in others), STRAYS, STRAYS**2),
                 "A pass of its own, or a scale nearer to what decides the rate")  # fmt: skip


def _gravity(sheet: BuildSheet, found: SetPlan) -> Figure | None:
    rate = found.find(specs.RATE)
    return derive(specs.GRAVITY, frame_rate.apparent_gravity, sheet.subject(shot=found.shot.id), base=base_given(sheet),
                  scale=shot_scale(sheet.context, found.shot), rate=rate) if rate else None  # fmt: skip


class _Sight(NamedTuple):
    """One camera of a set that this build stands in, as the focus lane needs it."""

    found: SetPlan
    camera: Camera
    glass: Glass
    widest: float
    smallest: float
    confusion: float


def _sights(context: Context) -> list[_Sight]:
    found = []
    for each in context.sets:
        for camera in each.shot.cameras:
            confusion = each.find(specs.CONFUSION, camera=camera.name)
            if confusion and _moves(each, camera, context.build.id):
                optics = optics_of(each.context, camera)
                pupil = optics.pupil["pupil"].value if optics.pupil else 1.0
                found.append(_Sight(each, camera, Glass(optics.focal.value, pupil), optics.widest.value,
                                    optics.smallest.value, confusion.number))  # fmt: skip
    return found


def _moves(found: SetPlan, camera: Camera, build: str) -> bool:
    """Whether the scale of a build changes what a camera must hold: what stands on the floor is no question of the scale."""
    return ends_at(found, camera, build, 2.0) != ends_at(found, camera, build, 1.0)


def _blur_at(sight: _Sight, build: str, times: float) -> tuple[float, float]:
    """Blur [m] as set, and the least there is, when a build's scale number is so many ``times`` what it is."""
    near, far = ends_at(sight.found, sight.camera, build, times)
    glass, eye = sight.glass, sight.glass.entrance_m
    focus = sight.camera.focus_m or float(focus_distance(near=near, far=far, focal=glass.focal_m, pupil=glass.pupil))
    if min(near, focus) - eye <= glass.focal_m * 1.0001:
        return math.inf, math.inf
    disc, airy = ends_disc(glass, focus=focus, near=near, far=far), airy_disc(glass, focus=focus - eye)
    best = best_stop(glass, focus=focus - eye, disc=disc, widest=sight.widest, narrowest=sight.smallest)
    least = math.hypot(disc / best, airy * best)
    stop = sight.camera.stop and min(max(sight.camera.stop, sight.widest), sight.smallest)
    return (math.hypot(disc / stop, airy * stop) if stop else least), least


def _focus(sheet: BuildSheet) -> Limit | None:
    context, build = sheet.context, sheet.context.build
    sights = _sights(context)
    if not sights:
        return None
    worst = max(sights, key=lambda s: _blur_at(s, build.id, 1.0)[1] / s.confusion)
    value = worst.found.find(specs.LEAST_BLUR, camera=worst.camera.name)

    def hold(scale: float) -> Hold:
        found: Hold = "holds"
        for sight in sights:
            now, least = _blur_at(sight, build.id, scale / build.scale)
            if least > sight.confusion:
                return "fails"
            found = "strained" if now > sight.confusion else found
        return found

    return Limit("focus", "Focus holds", (Given(context.shop.sharp_px, "pixels", "passes"), f" pass, shot {worst.found.shot.id}"),
                 value, hold, "A shorter lens, or stand further back")  # fmt: skip


def _water(sheet: BuildSheet) -> Limit | None:
    water = sheet.context.build.water
    if water is None:
        return None
    value = derive(specs.DROP, frame_rate.drop_reads_as, sheet.subject(), scale=_scale(sheet))
    wave = water.wave_m
    return Limit("water", "Water reads right", ("a drop stays ", Given(frame_rate.CAPILLARY_LENGTH_M, "length", "drop")), value,
                 lambda s: _at_most(s * frame_rate.CAPILLARY_LENGTH_M, wave / 120, wave / 70),
                 "Break the surface up with air, or add the spray later")  # fmt: skip


def _bought(sheet: BuildSheet) -> Limit | None:
    if not sheet.context.build.bought_parts:
        return None
    value = derive(specs.BOUGHT, frame_rate.bought_part_error, sheet.subject(), scale=_scale(sheet))

    def hold(scale: float) -> Hold:
        error = abs(frame_rate.bought_part_error.function(scale=scale).value)
        return "holds" if error <= 0.05 else "strained"

    nearest = value.notes[0].removeprefix("nearest stock scale ") if value.notes else ""
    return Limit(
        "bought",
        "Parts can be bought",
        (f"stock scale {nearest}",),
        value,
        hold,
        "Make those parts, or take a stock scale",
    )


def _weight(sheet: BuildSheet) -> Limit | None:
    pieces, shop = weighed_pieces(sheet), sheet.context.shop
    if not pieces or not any(density for *_, density in pieces):
        return None
    value = derive(specs.WEIGHT, build_weight, sheet.subject(), scale=_scale(sheet),
                   pieces=Given(pieces, "thing", "pieces with walls and densities"))  # fmt: skip
    return Limit("weight", "Two can carry it",
        (Given(shop.carry_kg, "mass", "carry"), ", hoist to ", Given(shop.hoist_kg, "mass", "hoist")), value,
        lambda s: _at_most(build_weight.function(pieces=pieces, scale=s).value, shop.carry_kg, shop.hoist_kg),
        "Part it, or thin its walls")  # fmt: skip


def _rubber(sheet: BuildSheet) -> Limit | None:
    budget, decided = sheet.context.build.rubber_budget, sheet.context.build.scale
    if budget is None:
        return None
    value = sheet.find(specs.BUILD_COST) or moulds_cost(sheet.context, decided)  # the chain behind both is one
    if value is None:
        return None

    def hold(scale: float) -> Hold:
        figure = value if scale == decided else moulds_cost(sheet.context, scale)
        return _at_most(figure.number if figure else 0.0, budget, budget * 1.5)

    return Limit("rubber", "Rubber is paid for", (Given(budget, "money", "budget"), " is set aside"), value, hold,
                 "A thinner blanket, or part of it in plaster")  # fmt: skip


def mind_what_it_is(sheet: BuildSheet) -> None:
    """Put on the ``sheet`` every limit that depends on no camera, and a caution where it is strained or fails at the decided scale."""
    _mind(sheet, _own_limits(sheet))


def mind_the_ladder(sheet: BuildSheet) -> None:
    """Put on the ``sheet`` every limit of its sets, and a caution where it is strained or fails at the decided scale."""
    _mind(sheet, _set_limits(sheet))


def _mind(sheet: BuildSheet, limits: list[Limit]) -> None:
    scale = sheet.context.build.scale
    sheet.limits += limits
    for limit in limits:
        if limit.value is None or limit.key in MINDED_ELSEWHERE:
            continue
        verdict = limit.hold(scale)
        if verdict == "holds":
            continue
        sheet.minds.append(Mind("mind" if verdict == "strained" else "danger", "scale", sheet.subject(),
            (f"{limit.name}: {verdict} at {show_scale(scale)}",),
            (limit.value.spec.label + " ", limit.value, "; ", *limit.note, f". {limit.remedy}."), 3.0 + WORST[verdict]))  # fmt: skip
