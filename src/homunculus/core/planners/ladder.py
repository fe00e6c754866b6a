"""The ladder: over which scales each limit holds, is strained, fails, and where none fails.

A lane calls single rules, never the whole plan. Its bands do not depend on the decided scale, only its value does.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from itertools import pairwise
from typing import Literal

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.camera import lens as optics
from homunculus.core.figures import Figure, Given, Phrase, derive
from homunculus.core.job.shots import Gravity, Lens, Shot
from homunculus.core.plan.build_plan import Context, Mind, Sheet
from homunculus.core.planners.lens import views_of
from homunculus.core.planners.mould import moulds_cost
from homunculus.core.planners.scale import at_scale, build_weight, real_extent, weighed_pieces
from homunculus.core.planners.shots import scale_of_view, shot_scale
from homunculus.core.showing import show, show_scale

Hold = Literal["holds", "strained", "fails"]
WORST: dict[Hold, int] = {"holds": 0, "strained": 1, "fails": 2}
POINTS = 56
SOFT_STOP = 16.0
"""Beyond it diffraction softens the picture on a sensor of this size: common practice, no source."""


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


class _Test(Struct, frozen=True):
    """A limit: what it is called and how it stands at any scale."""

    key: str
    name: str
    note: Phrase
    value: Figure | None
    hold: Callable[[float], Hold]
    remedy: str


def ladder_range(context: Context) -> tuple[float, float]:
    """Return the lowest and highest scale number that the ladder of a ``context``'s build shows."""
    if context.build.scale < 1:
        return 0.1, 100.0
    return 1.0, 100.0


def ladder(context: Context, known: Ladder | None = None) -> Ladder:
    """Work out every lane that a build has data for.

    Parameters
    ----------
    context
        The build with its shots, shop and cards.
    known
        An earlier ladder; its bands are used again when nothing but the scale differs.
    """
    low, high = ladder_range(context)
    tests = [t for t in _tests(Sheet(context)) if t]
    basis = _basis(context, low)
    if known is not None and known.basis == basis:
        bands = {lane.key: lane.bands for lane in known.lanes}
        free = known.free
    else:
        bands = {t.key: _bands(t.hold, low, high) for t in tests}
        free = _free(tuple(bands.values()), low, high)
    lanes = tuple(Lane(t.key, t.name, t.note, bands[t.key], t.value, t.remedy) for t in tests)
    return Ladder(low, high, lanes, free, basis)


def _basis(context: Context, low: float) -> tuple[object, ...]:
    """What the bands depend on: all of the context but the scale. Compared by content, cheap when shared."""
    build = context.build
    return (build.pieces, build.water, build.bought_parts, build.rubber_budget, build.stands_m, context.shots,
            context.shop, context.cards, *map(id, context.facts.values()), low)  # fmt: skip


def _tests(sheet: Sheet) -> list[_Test | None]:
    return [_stage(sheet), _camera(sheet), _focus(sheet), _water(sheet), _bought(sheet), _weight(sheet), _rubber(sheet)]


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


def _scale(sheet: Sheet) -> Given:
    return Given(sheet.context.build.scale, "scale", "scale", decided=True)


def _stage(sheet: Sheet) -> _Test | None:
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
    return _Test("stage", "Fits the stage", note, value, lambda s: _at_most(real / s, room * 0.9, room),
                 "Lower the stand, or build it in two parts")  # fmt: skip


def _rate_at(shot: Shot, base: float, scale: float) -> float:
    match shot.rule:
        case Gravity(faster=faster):
            return float(frame_rate.gravity_rate(scale=scale, base=base, faster=faster))
        case _:
            return base


def _camera(sheet: Sheet) -> _Test | None:
    context = sheet.context
    shots = {
        s: shot_scale(context, s).value / context.build.scale for s in context.shots if isinstance(s.rule, Gravity)
    }
    if not shots:
        return None
    base, most = context.shop.base_rate_fps, max(context.mode.rates_fps)

    def wanted(shot: Shot, scale: float) -> float:
        return _rate_at(shot, base, scale * shots[shot])

    shot = max(shots, key=lambda s: wanted(s, context.build.scale))
    value = derive(specs.RATE_WANTED, frame_rate.gravity_rate, sheet.subject(shot=shot.id),
                   scale=shot_scale(context, shot), base=Given(base, "rate", "projected rate", "shop"),
                   faster=Given(getattr(shot.rule, "faster", 1.0), "factor", "faster"))  # fmt: skip
    return _Test("camera", "Camera keeps up", (Given(most, "rate", "most"), " is all it has"), value,
                 lambda s: _at_most(max(wanted(x, s) for x in shots), most, most * 1.25),
                 "A faster camera, or let it fall a little fast")  # fmt: skip


def _focus(sheet: Sheet) -> _Test | None:
    context = sheet.context
    views = [view for view in views_of(context) if view.lens.near_real_m <= view.lens.far]
    if not views:
        return None
    mode = context.mode
    confusion = float(optics.confusion_from_delivery(
        sensor_width=mode.sensor_width_m.value, delivery=context.shop.delivery_px, sharp=context.shop.sharp_px))  # fmt: skip
    over = {view.insert: scale_of_view(context, view.insert).value / context.build.scale for view in views}

    def asked(lens: Lens, scale: float) -> float:
        return optics.stop_asked(
            focal=lens.focal_m, near=lens.near_real_m / scale, far=lens.far / scale, confusion=confusion
        )

    worst = max(views, key=lambda v: asked(v.lens, context.build.scale * over[v.insert]))
    lens, scale = worst.lens, context.build.scale * over[worst.insert]
    value = derive(specs.STOP, optics.stop_to_hold, sheet.subject(worst.insert, worst.shot.id, camera=worst.camera),
        focal=Given(lens.focal_m, "length", "focal length"),
        near=Given(lens.near_real_m / scale, "length", "near end"), far=Given(lens.far / scale, "length", "far end"),
        confusion=Given(confusion, "length", "circle of confusion"),
        widest=Given(lens.widest_stop, "stop", "the lens opens to"),
        smallest=Given(lens.smallest_stop, "stop", "the lens closes to"))  # fmt: skip
    lenses = tuple(dict.fromkeys((v.lens, over[v.insert]) for v in views))

    def hold(scale: float) -> Hold:
        return max((_at_most(asked(x, scale * k), min(SOFT_STOP, x.smallest_stop), x.smallest_stop) for x, k in lenses),
                   key=lambda verdict: WORST[verdict])  # fmt: skip

    return _Test("focus", "Focus holds", (Given(SOFT_STOP, "stop", "soft"), ", then it softens"), value, hold,
                 "A shorter lens, or stand further back")  # fmt: skip


def _water(sheet: Sheet) -> _Test | None:
    water = sheet.context.build.water
    if water is None:
        return None
    value = derive(specs.DROP, frame_rate.drop_reads_as, sheet.subject(), scale=_scale(sheet))
    wave = water.wave_m
    return _Test("water", "Water reads right", ("a drop stays ", Given(frame_rate.CAPILLARY_LENGTH_M, "length", "drop")), value,
                 lambda s: _at_most(s * frame_rate.CAPILLARY_LENGTH_M, wave / 120, wave / 70),
                 "Break the surface up with air, or add the spray later")  # fmt: skip


def _bought(sheet: Sheet) -> _Test | None:
    if not sheet.context.build.bought_parts:
        return None
    value = derive(specs.BOUGHT, frame_rate.bought_part_error, sheet.subject(), scale=_scale(sheet))

    def hold(scale: float) -> Hold:
        error = abs(frame_rate.bought_part_error.function(scale=scale).value)
        return "holds" if error <= 0.05 else "strained"

    nearest = value.notes[0].removeprefix("nearest stock scale ") if value.notes else ""
    return _Test(
        "bought",
        "Parts can be bought",
        (f"stock scale {nearest}",),
        value,
        hold,
        "Make those parts, or take a stock scale",
    )


def _weight(sheet: Sheet) -> _Test | None:
    pieces, shop = weighed_pieces(sheet), sheet.context.shop
    if not pieces or not any(density for *_, density in pieces):
        return None
    value = derive(specs.WEIGHT, build_weight, sheet.subject(), scale=_scale(sheet),
                   pieces=Given(pieces, "thing", "pieces with walls and densities"))  # fmt: skip
    return _Test("weight", "Two can carry it",
        (Given(shop.carry_kg, "mass", "carry"), ", hoist to ", Given(shop.hoist_kg, "mass", "hoist")), value,
        lambda s: _at_most(build_weight.function(pieces=pieces, scale=s).value, shop.carry_kg, shop.hoist_kg),
        "Part it, or thin its walls")  # fmt: skip


def _rubber(sheet: Sheet) -> _Test | None:
    budget, decided = sheet.context.build.rubber_budget, sheet.context.build.scale
    if budget is None:
        return None
    value = sheet.find(specs.BUILD_COST) or moulds_cost(sheet.context, decided)  # the chain behind both is one
    if value is None:
        return None

    def hold(scale: float) -> Hold:
        figure = value if scale == decided else moulds_cost(sheet.context, scale)
        return _at_most(figure.number if figure else 0.0, budget, budget * 1.5)

    return _Test("rubber", "Rubber is paid for", (Given(budget, "money", "budget"), " is set aside"), value, hold,
                 "A thinner blanket, or part of it in plaster")  # fmt: skip


def mind_the_ladder(sheet: Sheet) -> None:
    """Add a caution to the ``sheet`` for every lane that is strained or fails at the decided scale."""
    scale = sheet.context.build.scale
    for test in _tests(sheet):
        if test is None or test.value is None:
            continue
        verdict = test.hold(scale)
        if verdict == "holds" or test.key == "bought":
            continue
        sheet.minds.append(Mind("mind" if verdict == "strained" else "danger", "scale", sheet.subject(),
            (f"{test.name}: {verdict} at {show_scale(scale)}",),
            (test.value.spec.label + " ", test.value, "; ", *test.note, f". {test.remedy}."), 3.0 + WORST[verdict]))  # fmt: skip
