"""What would free a shot that cannot be held: each way out reckoned as the plan would have it, and kept as the job that it makes."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.camera.blur import Glass, sharp_air
from homunculus.core.camera.frame_rate import next_scale
from homunculus.core.camera.stand import BEHIND_M
from homunculus.core.edits.decisions import decide, find_decision
from homunculus.core.edits.sets import further_back, put_camera, put_place, put_shot, with_card
from homunculus.core.figures import Figure
from homunculus.core.job.cameras import LensCard
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shots import Shot
from homunculus.core.plan.contexts import focus_of
from homunculus.core.plan.set_plan import Plane, SetPlan, base_scale
from homunculus.core.planners.lens import TOLERANCE, optics_of, verdict_of
from homunculus.core.quantities import System
from homunculus.core.showing import show, show_scale

FARTHEST_M, STEPS = 60.0, 14
"""How far back a camera is tried, and how finely: a sixteen-thousandth of the way."""


class WayOut(NamedTuple):
    """One way out of a focus that does not hold."""

    key: str
    words: str
    note: str
    blur: Figure | None
    """Worst blur as it would be, at the stop of least blur of it; none where none can be told."""
    holds: bool
    job: Job | None
    """What taking it makes of the job; none where it cannot be taken, or is nothing that a job keeps."""


class _Tried(NamedTuple):
    """The job as it would be, and the set of the shot in it."""

    job: Job
    found: SetPlan


def ways_out(job: Job, found: SetPlan, camera: str, lenses: tuple[LensCard, ...], system: System) -> tuple[WayOut, ...]:
    """List what would make a ``camera`` of the ``found`` set of a ``job`` hold its depth, cheapest first; nothing where it holds already.

    ``lenses`` are those that there are to choose from, and the ``system`` of units is that of the words.
    """
    if verdict_of(found, camera) in (None, "holds"):
        return ()
    return tuple(way for way in _Search(job, found, camera, lenses, system).ways() if way)


def room_left(job: Job, found: SetPlan) -> float:
    """Room [m] that the stage of a ``job`` leaves behind the farthest thing of the ``found`` set, with whoever is behind the camera."""
    ends = [plane.to or plane.at for plane in found.planes]
    return job.shop.stage.long_m - BEHIND_M - max((end.number for end in ends), default=0.0)


class _Search:
    """Tries one change after another on copies of the job; nothing is kept but what is returned."""

    def __init__(self, job: Job, found: SetPlan, camera: str, lenses: tuple[LensCard, ...], system: System) -> None:
        self.job, self.found, self.name, self.system = job, found, camera, system
        self.shot = found.shot
        self.camera = next(one for one in self.shot.cameras if one.name == camera)
        self.lenses = lenses
        self.allowed = job.shop.sharp_px * TOLERANCE

    # ------------------------------------------------------------------------------------ trying
    def shown(self, metres: float) -> str:
        """A distance in words."""
        return str(show(metres, "length", self.system, 3))

    def put(self, shot: Shot, job: Job | None = None) -> _Tried:
        """The job with the shot as changed, its stop and focus left to be the best there is."""
        cameras = tuple(replace(one, stop=None, focus_m=None) if one.name == self.name else one for one in shot.cameras)
        shot, job = replace(shot, cameras=cameras), job or self.job
        return _Tried(put_shot(job, shot), focus_of(job, shot, self.name))

    def with_camera(self, camera: Camera) -> Shot:
        """The shot with the camera changed."""
        return put_camera(self.shot, camera)

    def with_place(self, plane: Plane, place: Place) -> Shot:
        """The shot with something standing elsewhere."""
        return put_place(self.shot, plane.need, place)

    def held(self, tried: _Tried) -> bool:
        """Whether the focus holds as tried, and nothing else of the camera is refused."""
        least = tried.found.find(specs.LEAST_BLUR, camera=self.name)
        return least is not None and least.number <= self.allowed

    def first(self, make: Callable[[float], _Tried], low: float, high: float) -> _Tried | None:
        """The least change, from ``low`` towards ``high``, at which it holds; none where it does not at ``high`` either."""
        found = make(high)
        if not self.held(found):
            return None
        for _ in range(STEPS):
            middle = (low + high) / 2
            tried = make(middle)
            low, high, found = (low, middle, tried) if self.held(tried) else (middle, high, found)
        return found

    def way(self, key: str, words: str, note: str, tried: _Tried, *, takes: bool = True) -> WayOut:
        """What a change comes to."""
        holds = self.held(tried) and takes
        return WayOut(
            key, words, note, tried.found.find(specs.LEAST_BLUR, camera=self.name), holds, tried.job if takes else None
        )

    # -------------------------------------------------------------------------------------- ways
    def ways(self) -> list[WayOut | None]:
        """All of them, cheapest first."""
        as_is = self.put(self.shot)
        if self.held(as_is):
            stop = as_is.found.find(specs.STOP, camera=self.name)
            words = str(show(stop.number, "stop")) if stop else "another stop"
            return [self.way("stop", words, "focus and stop left to the program", as_is)]
        plane = self._worst()
        return [
            self._alone(plane) if plane else None, self._moved(plane) if plane else None, self._less(),
            self._shorter(), self._back(), self._scale(), self._tilt(), self._stack(),
        ]  # fmt: skip

    def _worst(self) -> Plane | None:
        """Of what stands nearest and farthest that without which the rest comes out sharper."""
        held = [plane for plane in self.found.planes if plane.place.held]
        if len(held) < 2 and not (held and self.camera.depth):
            return None
        ends = {min(held, key=lambda p: p.at.number).need, max(held, key=lambda p: (p.to or p.at).number).need}

        def without(plane: Plane) -> float:
            tried = self.put(self.with_place(plane, replace(plane.place, alone=True)))
            least = tried.found.find(specs.LEAST_BLUR, camera=self.name)
            return least.number if least else math.inf

        return min((plane for plane in held if plane.need in ends), key=without)

    def _alone(self, plane: Plane) -> WayOut:
        tried = self.put(self.with_place(plane, replace(plane.place, alone=True)))
        stop = tried.found.find(specs.STOP, camera=self.name)
        note = f"{show(stop.number, 'stop')} for the rest" if stop else ""
        return self.way("alone", f"{plane.name} in a pass of its own", note, tried)

    def _moved(self, plane: Plane) -> WayOut | None:
        """The least sharp thing brought towards the others."""
        others = [end for end in _ends(self.found, self.camera) if not math.isclose(end, plane.at.number)]
        if not others or plane.to:
            return None
        here = plane.at.number
        there = min(others) if here < min(others) else max(others)
        scale = plane.scale.number if plane.place.looks else 1.0

        def make(share: float) -> _Tried:
            at = here * (there / here) ** share
            return self.put(self.with_place(plane, replace(plane.place, at_m=at * scale)))

        if there == here or not math.isfinite(there):
            return None
        tried = self.first(make, 0.0, 1.0)
        if tried is None:
            return self.way(
                "moved",
                f"{plane.name} at {self.shown(there)}",
                "no help: the others are too far apart",
                make(1.0),
                takes=False,
            )
        at = next(p for p in tried.found.planes if p.need == plane.need).at.number
        return self.way(
            "moved",
            f"{plane.name} {'out' if at > here else 'in'} to {self.shown(at)}",
            f"it reads {here / at:.0%} as big",
            tried,
        )

    def _less(self) -> WayOut | None:
        """Less to be held from the near end on, where nothing stands there."""
        depth = self.camera.depth
        if depth is None:
            return None
        per = base_scale(self.found.context).number if depth.looks else 1.0
        farther = min([*(p.at.number * per for p in self.found.planes if p.place.held), depth.far])
        if farther <= depth.near_m or not math.isfinite(farther):
            return None

        def make(share: float) -> _Tried:
            near = depth.near_m + (farther - depth.near_m) * share
            return self.put(self.with_camera(replace(self.camera, depth=Depth(near, depth.far_m, depth.looks))))

        tried = self.first(make, 0.0, 1.0)
        if tried is None:
            return None
        near = tried.found.find(specs.NEAR, camera=self.name)
        return self.way(
            "less", f"sharp from {self.shown(near.number) if near else 'there'} on", "what is nearer goes soft", tried
        )

    def _shorter(self) -> WayOut | None:
        """The longest lens there is that holds it, else the longest that could."""
        now = optics_of(self.found.context, self.camera).focal.number
        cards = sorted((c for c in self.lenses if c.focal_m.value < now), key=lambda c: -c.focal_m.value)
        here = {card.id for card in self.job.cards.lenses}
        for card in cards:
            added = (
                self.job
                if card.id in here
                else replace(self.job, cards=replace(self.job.cards, lenses=(*self.job.cards.lenses, card)))
            )
            tried = self.put(self.with_camera(with_card(self.camera, card)), added)
            if self.held(tried) and tried.found.refusal(self.name) is None:
                return self.way("lens", f"{card.name}", f"all reads {card.focal_m.value / now:.0%} as big", tried)
        least = 0.004
        if now <= least:
            return None
        tried_focal = self.first(
            lambda cut: self.put(self.with_camera(replace(self.camera, lens="", focal_m=now - cut))), 0.0, now - least
        )
        if tried_focal is None:
            return None
        focal = next(one for one in tried_focal.found.shot.cameras if one.name == self.name).focal_m
        return self.way(
            "lens",
            f"a lens of {focal * 1000:.3g} mm",
            f"all reads {focal / now:.0%} as big; none such on the shelf",
            tried_focal,
        )

    def _back(self) -> WayOut | None:
        """The camera further back, and all else with it as it stands."""
        tried = self.first(lambda back: self.put(further_back(self.found, back)), 0.0, FARTHEST_M)
        if tried is None:
            return None
        near, was = tried.found.find(specs.NEAR, camera=self.name), self.found.find(specs.NEAR, camera=self.name)
        by = near.number - was.number if near and was else 0.0
        left = room_left(self.job, self.found)
        takes = by <= left
        note = "the stage has room" if takes else f"no room: {self.shown(max(left, 0.0))} left"
        return self.way("back", f"camera back {self.shown(by)}", note, tried, takes=takes)

    def _scale(self) -> WayOut | None:
        """A larger model, where things stand as far away as they look."""
        base = self.found.context.base
        if base is None:
            return None
        decision = find_decision(self.job, base.build, "scale")
        scale, nearest = base.scale, next_scale(base.scale, -1)
        bound = _floor_bound(self.found, self.camera)
        for _ in range(12):
            scale, last = next_scale(scale, -1), scale
            if scale >= last:
                break
            tried = self.put(self.shot, decide(self.job, decision, scale))
            if self.held(tried):
                return self.way("scale", f"{show_scale(scale)} for the model", "a larger model, further off", tried)
            if bound:
                break
        if nearest >= base.scale:
            return None
        note = "no help: what stands on the floor stays" if bound else "no help"
        return self.way("scale", f"{show_scale(nearest)} for the model", note, self.put(self.shot, decide(self.job, decision, nearest)),
                        takes=False)  # fmt: skip

    def _tilt(self) -> WayOut | None:
        """A lens that tilts, so that the plane of focus runs along the floor: the hinge rule, tan α = f / eye height."""
        eye, focal = self.camera.height_m, optics_of(self.found.context, self.camera).focal.number
        if not eye or eye <= focal:
            return None
        tilt = math.degrees(math.asin(focal / eye))
        return WayOut(
            "tilt",
            f"the lens tilted {tilt:.2g}°",
            "the floor is sharp throughout; what stands up from it is not",
            None,
            False,
            None,
        )

    def _stack(self) -> WayOut | None:
        """Several exposures, each focused further off, laid over each other."""
        near, far = (self.found.find(spec, camera=self.name) for spec in (specs.NEAR, specs.FAR))
        confusion = self.found.find(specs.CONFUSION, camera=self.name)
        if near is None or far is None or confusion is None:
            return None
        optics = optics_of(self.found.context, self.camera)
        glass = Glass(optics.focal.number, optics.pupil["pupil"].number if optics.pupil else 1.0)
        count = slices(glass, near=near.number, far=far.number, confusion=confusion.number, widest=optics.widest.number,
                       smallest=optics.smallest.number)  # fmt: skip
        if count is None:
            return None
        still = self.found.find(specs.RATE) is None
        return WayOut(
            "stack",
            f"{count} exposures stacked",
            "frame by frame" if still else "only if its move repeats",
            None,
            still,
            None,
        )


def slices(glass: Glass, *, near: float, far: float, confusion: float, widest: float, smallest: float) -> int | None:
    """In how many exposures, each focused further off, ``near`` … ``far`` from the eye is held by a ``glass`` [m]; none beyond a hundred.

    Each is taken at the stop, within ``widest`` and ``smallest`` (f-numbers), at which blur from depth and diffraction share ``confusion`` [m]
    alike, which is where a slice is deepest.
    """
    eye = glass.entrance_m
    at, count = near - eye, 0
    while at < (far - eye) * (1 - 1e-9):
        stop = min(
            max(confusion / math.sqrt(2) / (2.44 * 550e-9 * (1 + glass.focal_m / at / glass.pupil)), widest), smallest
        )
        low, high = at, far - eye if math.isfinite(far) else 1e6
        for _ in range(40):  # the farthest focus of which the near limit is still here
            middle = 2 / (1 / low + 1 / high)
            air = sharp_air(glass, stop=stop, focus=middle, allowed=confusion)
            low, high = (middle, high) if air and air[0] <= at else (low, middle)
        air = sharp_air(glass, stop=stop, focus=low, allowed=confusion)
        count += 1
        if air is None or air[1] <= at * (1 + 1e-9) or count > 100:
            return None
        at = air[1]
    return max(count, 1)


def _ends(found: SetPlan, camera: Camera) -> list[float]:
    """All distances that must be sharp, from the first camera's eye [m]."""
    ends = [end.number for plane in found.planes if plane.place.held for end in (plane.at, plane.to) if end]
    if camera.depth:
        per = base_scale(found.context).number if camera.depth.looks else 1.0
        ends += [camera.depth.near_m / per, camera.depth.far / per]
    return ends


def _floor_bound(found: SetPlan, camera: Camera) -> bool:
    """Whether something that must be sharp stands where no scale moves it."""
    return any(not p.place.looks for p in found.planes if p.place.held) or bool(camera.depth and not camera.depth.looks)
