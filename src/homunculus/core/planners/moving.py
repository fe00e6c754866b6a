"""What moves in a shot: models towed, flown, dropped, chained in time; waves; light matter; and the camera itself."""

from __future__ import annotations

import math
from collections.abc import Iterator

from homunculus.core import specs
from homunculus.core.camera import frame_rate
from homunculus.core.camera.stand import at_scale
from homunculus.core.figures import Figure, Given, Phrase, Subject, derive, rule
from homunculus.core.job.shots import ByBuild, FrameByFrame, Shot
from homunculus.core.job.stage import Action, CameraMove, Cues, Drop, Falling, Flown, Tie, Travel, Wave
from homunculus.core.moving import cueing, easing, falling, swinging, towing
from homunculus.core.moving.playing import Offset, extent_of, lasts_of, offset_of
from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.set_plan import SetPlan, SetSheet, base_scale
from homunculus.core.plan.sheet import Level, Mind
from homunculus.core.planners.shots import shot_scale
from homunculus.core.planners.stage import plan_zone

DUST_SHARE = 0.25
"""Share of the explosive limit from which dust is minded: common practice for alarms, no source."""
ONE_FRAME = 0.999


def screen_seconds(action: Travel | Flown | Cues | Wave | Falling | CameraMove, shot: Shot) -> Given:
    """How long an ``action`` of a ``shot`` lasts on screen: as it says, else to the shot's end."""
    if action.lasts_s is not None:
        return Given(action.lasts_s, "screen_time", "lasts on screen", action.name, decided=True)
    return Given(lasts_of(action, shot), "screen_time", "to the shot's end", shot.name)


@rule("v / S / f0 × frames an exposure is held", "kinematics: at this rate of showing, frame by frame")
def step_each(*, real: float, scale: float, base: float, hold: int) -> float:
    """Way [m] from exposure to exposure, each held for ``hold`` frames at the ``base`` rate [fps], of what goes at a ``real`` speed [m/s] at a ``scale``."""
    return real / scale / base * hold


class _Moving:
    """What the moves of one build in one shot go by."""

    def __init__(self, sheet: BuildSheet, found: SetPlan) -> None:
        self.sheet, self.found, self.shot = sheet, found, found.shot
        self.scale = shot_scale(sheet.context, self.shot)
        self.base = Given(sheet.context.shop.base_rate_fps, "rate", "projected rate", "shop")
        self.rate = found.find(specs.RATE)

    def subject(self, name: str) -> Subject:
        return self.sheet.subject(shot=self.shot.id, move=name)

    def mind(self, name: str, level: Level, headline: Phrase, why: Phrase, cost: float) -> None:
        """Mind something of the move of a ``name``."""
        self.sheet.minds.append(Mind(level, "lens", self.subject(name), headline, why, cost))

    def mass(self, action: Travel | Flown) -> Figure | Given | None:
        if action.mass_kg is not None:
            return Given(action.mass_kg, "mass", "it weighs", action.name, decided=True)
        return self.sheet.find(specs.WEIGHT)

    def real(self, speed: float, whose: str) -> Given:
        return Given(speed, "speed", "real speed", whose, decided=True)

    def speed(self, action: Travel | Flown | Cues, real: float) -> Figure | None:
        """Speed on set; frame by frame the way from exposure to exposure instead."""
        rule_of = self.shot.rule
        if isinstance(rule_of, FrameByFrame):
            hold = Given(rule_of.hold, "count", "frames an exposure is held", self.shot.name, decided=True)
            self.sheet.add(derive(specs.MOVE_STEP, step_each, self.subject(action.name), real=self.real(real, action.name), scale=self.scale, base=self.base, hold=hold))  # fmt: skip
            return None
        if self.rate is None:
            return None
        return self.sheet.add(derive(specs.MOVE_SPEED, frame_rate.model_speed, self.subject(action.name),
            real=self.real(real, action.name), scale=self.scale, rate=self.rate, base=self.base))  # fmt: skip


def plan_moving(sheet: BuildSheet) -> None:
    """Derive what of the ``sheet``'s build moves in each of its shots, and what pulls it."""
    for found, action in _mine(sheet):
        at = _Moving(sheet, found)
        match action:
            case Travel():
                _plan_travel(at, action)
            case Flown():
                _plan_flown(at, action)
            case Cues():
                _plan_cues(at, action)
            case Drop():
                _plan_drop(at, action)
            case Wave():
                _plan_wave(at, action)


def _mine(sheet: BuildSheet) -> Iterator[tuple[SetPlan, Travel | Flown | Cues | Drop | Wave]]:
    mine = sheet.context.build.id
    for found in sheet.context.sets:
        for action in found.shot.actions:
            if isinstance(action, Travel | Flown | Cues | Drop | Wave) and action.build == mine:
                yield found, action


def _ties(at: _Moving, ties: tuple[Tie, ...], name: str) -> Figure | None:
    if not ties:
        return None
    listed = Given(tuple((t.name, t.bears_n, t.safety) for t in ties), "thing", ", ".join(f"{t.name} bears {t.bears_n:g} N, {t.safety:g} times safe" for t in ties), name, decided=True)  # fmt: skip
    return at.sheet.add(derive(specs.PULL_ALLOWED, towing.weakest, at.subject(name), ties=listed))


def _plan_travel(at: _Moving, action: Travel) -> None:
    speed, mass = at.speed(action, action.real_m_s), at.mass(action)
    if speed is None:
        return
    subject, add, name = at.subject(action.name), at.sheet.add, action.name
    run_up = Given(action.run_up_m, "length", "run-up", name, decided=True)
    faster = add(derive(specs.ACCELERATION, towing.run_up_acceleration, subject, speed=speed, run_up=run_up))
    seconds = screen_seconds(action, at.shot)
    assert at.rate is not None
    time = add(derive(specs.MOVE_TIME, frame_rate.time_on_set, subject, screen=seconds, base=at.base, rate=at.rate))
    add(derive(specs.TRACK, towing.track_length, subject, run_up=run_up, speed=speed, time=time))
    if mass is None:
        return
    still = Given(0.0, "acceleration", "at speed", name)
    if action.drag_m2 is None:
        own = {
            "friction": Given(action.friction, "factor", "friction", name, decided=True),
            "slope": Given(math.radians(action.slope_deg), "angle", "slope", name, decided=True),
        }
        pull = add(derive(specs.PULL, towing.pull_on_wheels, subject, mass=mass, acceleration=faster, **own))
        steady = add(derive(specs.STEADY_PULL, towing.pull_on_wheels, subject, mass=mass, acceleration=still, **own))
        moved: Figure | Given = mass
    else:
        afloat: dict[str, Figure | Given] = {"drag_area": Given(action.drag_m2, "area", "drag area", name, decided=True), "speed": speed,
                  "added": Given(action.added, "share", "water that moves along", name, decided=True)}  # fmt: skip
        pull = add(derive(specs.PULL, towing.pull_afloat, subject, mass=mass, acceleration=faster, **afloat))
        steady = add(derive(specs.STEADY_PULL, towing.pull_afloat, subject, mass=mass, acceleration=still, **afloat))
        moved = Given(mass.number * (1 + action.added), "mass", "with the water that moves along", name)
    allowed = _ties(at, action.ties, name)
    if allowed is None:
        at.mind(name, "mind", (f"Shot {at.shot.id}: what is {name} tied by?",),
            ("It is pulled with ", pull, ". Say what its ties bear, as in “tie tow eye bears 200 N / 5”."), 2.0)  # fmt: skip
        return
    way: tuple[str | Figure | Given, ...] = ("a stronger tie: at speed alone it is too much",)
    if steady.number < allowed.number:
        pulled = {"speed": speed, "mass": moved, "allowed": allowed, "steady": steady}
        way = (
            "a run-up of ",
            add(derive(specs.LEAST_RUN_UP, towing.least_run_up, subject, **pulled)),
            ", or a stronger tie",
        )
    if pull.number > allowed.number * (1 + 1e-9):
        at.mind(name, "danger", (f"Shot {at.shot.id}: {name} pulls too hard, ", pull),
            (f"{(allowed.notes or ('its weakest tie',))[0].removeprefix('the weakest is ')} may get ", allowed, ". It wants ", *way, "."), 7.0)  # fmt: skip


def _plan_flown(at: _Moving, action: Flown) -> None:
    speed, mass, name = at.speed(action, action.real_m_s), at.mass(action), action.name
    if speed is None or at.rate is None:
        return
    subject, add = at.subject(name), at.sheet.add
    wire = Given(action.wire_m, "length", "wire", name, decided=True)
    period = add(derive(specs.SWING, swinging.swing_period, subject, wire=wire))
    add(derive(specs.SWING_SCREEN, swinging.period_on_screen, subject, period=period, rate=at.rate, base=at.base))
    ramp: Figure | Given = (
        period if action.ramp_s is None else Given(action.ramp_s, "duration", "ramp", name, decided=True)
    )
    left = add(derive(specs.SWING_LEFT, swinging.swing_left, subject, speed=speed, ramp=ramp, wire=wire))
    if mass is not None:
        load = add(derive(specs.PULL, swinging.wire_load, subject, mass=mass, speed=speed, wire=wire, wires=Given(action.wires, "count", "wires", name, decided=True)))  # fmt: skip
        allowed = _ties(at, action.ties, name)
        if allowed and load.number > allowed.number:
            at.mind(name, "danger", (f"Shot {at.shot.id}: {name} is too heavy for its wires, ", load), ("Each may get ", allowed, ". More wires, or stronger ones; over people a licensed rigger decides."), 8.0)  # fmt: skip
    if left.number > SWING_SEEN * action.wire_m:
        at.mind(name, "mind", (f"Shot {at.shot.id}: {name} swings on by ", left), ("A ramp of one period, ", period, ", leaves none."), 3.0)  # fmt: skip


SWING_SEEN = 0.01
"""Share of the wire by which a swing is minded: common practice, no source."""


def _plan_cues(at: _Moving, action: Cues) -> None:
    if at.rate is None:
        return
    subject, add, name = at.subject(action.name), at.sheet.add, action.name
    spots = places_of(action)
    length = Given(abs(spots[-1] - spots[0]) if len(spots) > 1 else action.along_m, "length", "first to last, on the model", name, decided=True)  # fmt: skip
    if action.lasts_s is not None:
        lasts = screen_seconds(action, at.shot)
        time = add(derive(specs.CUE_TIME, frame_rate.time_on_set, subject, screen=lasts, base=at.base, rate=at.rate))
    elif action.real_m_s is not None:
        speed = at.speed(action, action.real_m_s)
        if speed is None:
            return
        time = add(derive(specs.CUE_TIME, cueing.run_time, subject, length=length, speed=speed))
    else:
        at.mind(name, "mind", (f"Shot {at.shot.id}: how fast does {name} run?",), ("Say how long it shows, “for 0.5 s”, or how fast its front reads, “6 m/s real”.",), 2.0)  # fmt: skip
        return
    cues = Given(len(spots), "count", "cues", name, decided=True)
    gap = add(derive(specs.CUE_GAP, cueing.cue_gap, subject, time=time, cues=cues))
    add(derive(specs.CUE_FRAMES, cueing.gap_in_frames, subject, gap=gap, rate=at.rate))
    if time.number > 0 and length.number > 0:
        add(
            derive(
                specs.CUE_READS,
                cueing.front_reads_as,
                subject,
                length=length,
                time=time,
                scale=at.scale,
                base=at.base,
                rate=at.rate,
            )
        )
    least = cueing.smallest_gap(cueing.cue_times(spots, time.number))
    if len(spots) > 1 and least * at.rate.number < ONE_FRAME:
        at.mind(name, "mind", (f"Shot {at.shot.id}: cues of {name} fall into one frame",),
            ("Two are ", Given(least, "duration", "least gap"), " apart, and a frame lasts ", Given(1 / at.rate.number, "duration", "a frame"),
             ": they read as one. Fewer cues, or a slower front."), 2.0)  # fmt: skip


def places_of(action: Cues) -> tuple[float, ...]:
    """Where the cues of an ``action`` are along the model [m], in their order: as it says, else evenly."""
    return tuple(sorted(action.places_m)) if action.places_m else cueing.evenly(action.along_m, action.count)


def _plan_drop(at: _Moving, action: Drop) -> None:
    subject, add, name = at.subject(action.name), at.sheet.add, action.name
    height = add(derive(specs.DROP_HEIGHT, at_scale, subject, real=Given(action.real_m, "length", "falls, real", name, decided=True), scale=at.scale))  # fmt: skip
    time = add(derive(specs.DROP_TIME, falling.fall_time, subject, height=height))
    add(derive(specs.DROP_SPEED, falling.fall_speed, subject, height=height))
    if at.rate is not None:
        add(derive(specs.DROP_SCREEN, swinging.period_on_screen, subject, period=time, rate=at.rate, base=at.base))


def _plan_wave(at: _Moving, action: Wave) -> None:
    subject, add, name = at.subject(action.name), at.sheet.add, action.name
    crest = add(derive(specs.CREST, at_scale, subject, real=Given(action.real_m, "length", "crest to crest, real", name, decided=True), scale=at.scale))  # fmt: skip
    period = add(derive(specs.CREST_TIME, falling.wave_period, subject, length=crest))
    if at.rate is not None:
        add(derive(specs.CREST_READS, falling.wave_reads_as, subject, length=crest, period=period, scale=at.scale, base=at.base, rate=at.rate))  # fmt: skip
    if period.notes:
        at.mind(name, "mind", (f"Shot {at.shot.id}: {name} are ripples, ", crest), ("Surface tension drives waves under 50 mm: they run too fast and stand too round. A larger model, or longer waves.",), 3.0)  # fmt: skip


# ------------------------------------------------------------------------------------ of the set
def plan_set_moves(sheet: SetSheet) -> None:
    """Derive what in the ``sheet``'s set moves without being a build: light matter, and its cameras."""
    for action in sheet.set.shot.actions:
        if isinstance(action, Falling):
            _plan_falling(sheet, action)
        elif isinstance(action, CameraMove):
            _plan_camera_move(sheet, action)


def _given_base(sheet: SetSheet) -> Given:
    return Given(sheet.set.shop.base_rate_fps, "rate", "projected rate", "shop")


def _plan_falling(sheet: SetSheet, action: Falling) -> None:
    shot, name, base, rate = sheet.set.shot, action.name, _given_base(sheet), sheet.find(specs.RATE)
    subject = sheet.subject(move=name)
    standing = next((b for b in sheet.set.standing if b.build == action.build), None)
    scale = Given(standing.scale, "scale", "scale", standing.name, decided=True) if standing else base_scale(sheet.set)
    sinks = sheet.add(derive(specs.SINKS, falling.terminal_speed, subject,
        grain=Given(action.grain_m, "length", "grain", name, decided=True), density=Given(action.density_kg_m3, "density", "of a grain", name, decided=True)))  # fmt: skip
    if rate is None or sinks.number <= 0:
        return
    sheet.add(derive(specs.SINKS_SCREEN, falling.sinks_as, subject, speed=sinks, scale=scale, base=base, rate=rate))
    seconds = screen_seconds(action, shot)
    if action.thrown_m3 is None:
        area = Given(action.area_m2, "area", "it falls on", name, decided=True)
        on_set = sheet.add(
            derive(specs.MOVE_TIME, frame_rate.time_on_set, subject, screen=seconds, base=base, rate=rate)
        )
        covers = Given(action.coverage_kg_m2, "areal_density", "covers", name, decided=True)
        feed = sheet.add(derive(specs.FEED, falling.feed_rate, subject, area=area, time=on_set, coverage=covers))
        dust = sheet.add(derive(specs.IN_THE_AIR, falling.in_the_air, subject, feed=feed, area=area, speed=sinks))
    else:
        mass = Given(action.coverage_kg_m2 * action.area_m2, "mass", "all that is thrown", name)
        cloud = Given(action.thrown_m3, "volume", "cloud", name, decided=True)
        dust = sheet.add(derive(specs.IN_THE_AIR, falling.thrown_in_the_air, subject, mass=mass, cloud=cloud))
    if not action.burns or dust.number < DUST_SHARE * falling.EXPLOSIVE_KG_M3:
        return
    beyond = dust.number >= falling.EXPLOSIVE_KG_M3
    limit = Given(falling.EXPLOSIVE_KG_M3, "density", "explosive from about")
    sheet.mind("danger" if beyond else "mind", "lens", (f"Shot {shot.id}: {name} as dust, ", dust),
        ("Fine dust of what has grown burns in air from about ", limit, " on. Take what cannot burn, no flame and no hot lamp near; the local code and the "
         "licensed person decide."), 9.5 if beyond else 3.5, move=name)  # fmt: skip


def way_of(action: CameraMove) -> float:
    """How far [m] the camera of an ``action`` goes on the floor and up."""
    arc = abs(math.radians(action.arc_deg)) * action.about_m
    return math.hypot(action.across_m, action.along_m, action.up_m) + arc


def _plan_camera_move(sheet: SetSheet, action: CameraMove) -> None:
    shot, base, rate, subject = (
        sheet.set.shot,
        _given_base(sheet),
        sheet.find(specs.RATE),
        sheet.subject(move=action.name),
    )
    camera = next((c for c in shot.cameras if c.name == action.camera), None)
    if camera is None:
        sheet.mind("mind", "lens", (f"Shot {shot.id} has no camera {action.camera or 'yet'}",), (f"{action.name} moves none. Name one that is there.",), 3.0, move=action.name)  # fmt: skip
        return
    seconds = screen_seconds(action, shot)
    sheet.add(derive(specs.MOVE_FRAMES, easing.frames_of, subject, screen=seconds, base=base))
    way = way_of(action)
    if way <= 0:
        return
    whole = sheet.add(derive(specs.CAMERA_WAY, camera_way, subject, across=_to(action.across_m, "to the right", action), along=_to(action.along_m, "forward", action),
        up=_to(action.up_m, "up", action), arc=Given(math.radians(action.arc_deg), "angle", "arc", action.name, decided=True),
        about=_to(action.about_m, "about a point before it", action)))  # fmt: skip
    if rate is not None:
        on_set = sheet.add(
            derive(specs.MOVE_TIME, frame_rate.time_on_set, subject, screen=seconds, base=base, rate=rate)
        )
        speed = sheet.add(derive(specs.CAMERA_SPEED, easing.greatest_speed, subject, way=whole, time=on_set, ease=Given(action.ease, "share", "eased", action.name, decided=True)))  # fmt: skip
        sheet.add(
            derive(
                specs.CAMERA_READS,
                falling.sinks_as,
                subject,
                speed=speed,
                scale=base_scale(sheet.set),
                base=base,
                rate=rate,
            )
        )
    plan_zone(sheet, camera)
    _mind_what_betrays(sheet, action)


@rule("√(across² + along² + up²) + |arc| × radius", "geometry")
def camera_way(*, across: float, along: float, up: float, arc: float, about: float) -> float:
    """Way of a camera [m] that goes ``across``, ``along`` and ``up``, and round an ``arc`` [rad] ``about`` a point so far before it [all m]."""
    return math.hypot(across, along, up) + abs(arc) * about


def _to(metres: float, label: str, action: CameraMove) -> Given:
    return Given(metres, "length", label, action.name, decided=True)


def _mind_what_betrays(sheet: SetSheet, action: CameraMove) -> None:
    """Mind the planes that tell before the camera's move ends: the tightest first."""
    shot, (aside, along) = sheet.set.shot, extent_of(action)
    told = []
    for plane in sheet.planes:
        for spec, way, words in ((specs.SIDEWAYS, aside, "sideways or up"), (specs.ALONG, along, "along")):
            free = sheet.find(spec, use=plane.name, camera=action.camera)
            if free and way > free.number:
                told.append((way / free.number, plane.name, free, way, words))
    if not told:
        return
    _, name, free, way, words = max(told, key=lambda it: it[0])
    others = len({it[1] for it in told}) - 1
    more = f", and {others} more" if others else ""
    sheet.mind("danger", "lens", (f"Shot {shot.id}: {name} betrays itself after ", free, more),
        (f"{action.name} goes ", Given(way, "length", "it goes"), f" {words}. A shorter move, turning about the eye instead, what betrays itself at the scale of "
         "the set or in a pass of its own."), 5.0, camera=action.camera, move=action.name)  # fmt: skip


def needs_moved(found: SetPlan, action: Action) -> tuple[int, ...]:
    """Which needs of the ``found`` set an ``action`` moves: those that show its build; where several do, those that break, else for what falls or goes off the one of fewest pieces."""
    shown = [
        (plane.need, found.shot.needs[plane.need].cover)
        for plane in found.planes
        if plane.build and plane.build == getattr(action, "build", "")
    ]
    uses = [(need, use) for need, use in shown if isinstance(use, ByBuild)]
    breaking = [need for need, use in uses if use.wear == "destructive"]
    if len(uses) < 2 or not isinstance(action, Drop | Cues):
        return tuple(need for need, _ in uses)
    return tuple(breaking or [min(uses, key=lambda it: len(it[1].pieces) or 10_000)[0]])


def offsets_at(found: SetPlan, base: float, at: float) -> dict[int, Offset]:
    """How far what stands in the ``found`` set is off its place [m on set] ``at`` so many seconds on screen, shown at the ``base`` rate [fps], by needs."""
    shot, rate = found.shot, found.find(specs.RATE)
    moved = [(action, needs_moved(found, action)) for action in shot.actions]
    result: dict[int, Offset] = {}
    for plane in found.planes:
        ways = [
            offset_of(action, shot, plane.scale.number, base, rate.number if rate else None, at)
            for action, needs in moved
            if plane.need in needs
        ]
        result[plane.need] = (sum(w[0] for w in ways), sum(w[1] for w in ways), sum(w[2] for w in ways))
    return result
