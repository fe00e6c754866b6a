"""What is done to what stands in a set: pulled along, aside and up, built at another scale, the camera moved; each an edit of the job."""

from __future__ import annotations

import math
from typing import NamedTuple

from msgspec.structs import replace

from homunculus.app.benches.lens.taking import Taking
from homunculus.app.desk import Desk
from homunculus.app.editor import SO_ALREADY
from homunculus.core import specs
from homunculus.core.camera.frame_rate import next_scale
from homunculus.core.cells.air import parse_air, show_air
from homunculus.core.cells.places import parse_camera, show_camera, sized
from homunculus.core.edits.sets import camera_of, eye_height, put_camera, put_place, put_shot
from homunculus.core.edits.stage import at_foot, at_scale, camera_to, moved, raised, scale_times, sight_stepped
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot
from homunculus.core.plan.set_plan import Plane, SetPlan
from homunculus.core.quantities import parse, parse_scale
from homunculus.core.showing import show_scale


class _From(NamedTuple):
    """The stage as it was when the hand took hold."""

    job: Job
    found: SetPlan
    feet: dict[str, float]
    eye: float

    def plane(self, need: int) -> Plane | None:
        """What stood at a need."""
        return next((p for p in self.found.planes if p.need == need), None)


class Laying:
    """What can be done on the stage that is drawn."""

    def __init__(self, desk: Desk, taking: Taking) -> None:
        self.desk, self.taking = desk, taking
        self._from: _From | None = None
        self._pulled: float | None = None

    def _now(self) -> _From | None:
        if (drawn := self.taking.drawn()) is None:
            return None
        found, camera, _ = drawn
        stage = self.desk.plan.stage(found.shot.id, camera.name)
        feet = {p.name: f.number for p in found.planes if stage and (f := stage.find(specs.PLANE_FOOT, use=p.name))}
        return _From(self.desk.job, found, feet, eye_height(found, camera))

    def grasp(self) -> None:
        """Take hold of something; nothing is decided yet."""
        self._from, self._pulled = self._now(), None
        self.desk.grasp()

    def plane(self, need: int) -> Plane | None:
        """What stands at a need."""
        found = self.taking.found()
        return next((p for p in found.planes if p.need == need), None) if found else None

    # ------------------------------------------------------------------------------------- pulled
    def pull(self, need: int, along: float, across: float, up: float = 0.0, *, start: _From | None = None) -> None:
        """Pull what stands at a need so far from where the hand took hold [m]: along the floor, aside, and its foot up."""
        at = start or self._from
        plane = at.plane(need) if at else None
        if at is None or plane is None:
            return
        place = moved(plane, along, across)
        if up:
            place = replace(place, foot_m=raised(plane, at.feet.get(plane.name, 0.0), up).foot_m)
        if place != plane.place or self.desk.gesture is not None:
            self.taking.put(f"{plane.name} moved", put_place(at.found.shot, need, place))

    def step(self, need: int, along: float = 0.0, across: float = 0.0, up: float = 0.0) -> None:
        """The same by a step of the keys."""
        now = self._now()
        if now:
            self.pull(need, along, across, up, start=now)

    def pull_camera(self, along: float, across: float, up: float) -> None:
        """Pull the camera so far from where the hand took hold [m]."""
        self._camera(self._from, along, across, up)

    def step_camera(self, along: float = 0.0, up: float = 0.0) -> None:
        """The same by a step of the keys."""
        self._camera(self._now(), along, 0.0, up)

    def _camera(self, at: _From | None, along: float, across: float, up: float) -> None:
        camera = camera_of(at.found.shot, self.taking.name) if at else None
        if at and camera and (along or across or up):
            self.taking.put("camera moved", camera_to(at.found, camera, along, across, up, at.eye))

    # ------------------------------------------------------------------------------------- scale
    def pull_scale(self, need: int, times: float, *, stays: bool) -> None:
        """Pull the scale at a need to so many times what it was; it keeps what it looks, or with ``stays`` where it stands."""
        at = self._from
        plane = at.plane(need) if at else None
        if at and plane:
            self._scale(at.job, at.found, plane, scale_times(plane, times), stays=stays)

    def step_scale(self, need: int, steps: int, *, stays: bool = False) -> None:
        """The next stock scale."""
        found, plane = self.taking.found(), self.plane(need)
        if found and plane:
            self._scale(self.desk.job, found, plane, next_scale(plane.scale.number, steps), stays=stays)

    def _scale(self, job: Job, found: SetPlan, plane: Plane, scale: float, *, stays: bool) -> bool:
        try:
            changed = at_scale(job, found, plane, scale, stays=stays)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        return self.taking.edit(f"{plane.name} at {show_scale(scale)}", changed)

    def type_scale(self, need: int, words: str) -> bool:
        """Take a typed scale; “stays” behind it leaves it where it stands."""
        found, plane = self.taking.found(), self.plane(need)
        if found is None or plane is None:
            return False
        stays = words.strip().casefold().endswith("stays")
        scale = parse_scale(words.strip()[: -len("stays")] if stays else words)
        return self._scale(self.desk.job, found, plane, scale, stays=stays)

    # -------------------------------------------------------------------------------------- typed
    def camera_words(self) -> str:
        """The whole camera as it is typed."""
        camera = self.taking.camera()
        return show_camera(camera, self.desk.system) if camera else ""

    def type_camera(self, words: str) -> bool:
        """Take the whole camera as it was typed."""
        if (drawn := self.taking.drawn()) is None:
            return False
        _, camera, shot = drawn
        typed = parse_camera(words, self.desk.system, camera.name, camera)
        kept = replace(typed, focal_m=camera.focal_m) if typed.lens and typed.lens == camera.lens else typed
        if kept.lens and kept.lens != camera.lens:
            card = next((c for c in self.taking.cards() if c.id == kept.lens), None)
            kept = replace(kept, focal_m=card.focal_m.value) if card else kept
        return self.taking.put("camera", put_camera(shot, kept))

    def air_words(self) -> str:
        """The air of the stage as it is typed."""
        return show_air(self.taking.shot.air, self.desk.system) if self.taking.shot else ""

    def type_air(self, words: str) -> bool:
        """Take the air as it was typed."""
        shot = self.taking.shot
        if shot is None:
            return False
        return self.taking.put("air", replace(shot, air=parse_air(words, self.desk.system, shot.air)))

    def eye_words(self) -> str:
        """How high the eye looks, as it is typed."""
        shot = self.taking.shot
        return "" if shot is None or shot.eye_real_m is None else sized(shot.eye_real_m, self.desk.system)

    def type_eye(self, words: str) -> bool:
        """Take how high the eye looks; nothing typed leaves it to the plate, or to its main build."""
        shot = self.taking.shot
        if shot is None:
            return False
        if words == self.eye_words():  # rounding does not move it
            self.desk.said.emit(SO_ALREADY)
            return True
        value = parse(words, "length", self.desk.system) if words.strip() else None
        return self.taking.put("eye, real", replace(shot, eye_real_m=value))

    def step_eye(self, steps: int) -> None:
        """How high the eye looks, by tenths of a metre."""
        shot, now = self.taking.shot, self._real_eye()
        if shot and now is not None:
            self.taking.put("eye, real", replace(shot, eye_real_m=round(now + 0.1 * steps, 3)))

    def pull_eye(self, steps: int) -> None:
        """The same, pulled so many steps from where the hand took hold."""
        at = self._from
        now = self._real_eye() if self._pulled is None else self._pulled
        if at and now is not None:
            self._pulled = now
            self.taking.put("eye, real", replace(at.found.shot, eye_real_m=round(now + 0.1 * steps, 3)))

    def step_sight(self, steps: int) -> None:
        """How far one sees, by a tenth."""
        shot = self.taking.shot
        if shot and shot.air and shot.air.sight_m:
            self.taking.put("sight", replace(shot, air=sight_stepped(shot.air, steps)))

    def _real_eye(self) -> float | None:
        if (drawn := self.taking.drawn()) is None:
            return None
        _, camera, shot = drawn
        if shot.eye_real_m is not None:
            return shot.eye_real_m
        if shot.plate and shot.plate.height_m is not None:
            return shot.plate.height_m
        stage = self.desk.plan.stage(shot.id, camera.name)
        figure = stage.find(specs.EYE_REAL) if stage else None
        return figure.number if figure and math.isfinite(figure.number) else None

    # ------------------------------------------------------------------------------------ let be
    def foot_free(self, need: int) -> None:
        """Let its foot rise to the eye again."""
        plane, shot = self.plane(need), self.taking.shot
        if plane and shot:
            self.taking.put(f"{plane.name} rises to the eye", put_place(shot, need, at_foot(plane.place, None)))

    def straight(self, need: int) -> None:
        """Put it on the axis again, unturned."""
        plane, shot = self.plane(need), self.taking.shot
        if plane and shot:
            self.taking.put(
                f"{plane.name} on the axis", put_place(shot, need, replace(plane.place, across_m=0.0, turn_deg=0.0))
            )

    def put_shot(self, what: str, shot: Shot) -> bool:
        """Change the shot."""
        return self.taking.edit(what, put_shot(self.desk.job, shot))
