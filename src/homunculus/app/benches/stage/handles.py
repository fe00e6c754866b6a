"""What is taken hold of on the stage bench: the camera, what stands there in plan, from the side and in the picture, and its values."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from typing import Protocol

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtWidgets import QApplication

from homunculus.app.benches.grips import Grip, Grips
from homunculus.app.benches.stage.floor_view import FloorView
from homunculus.app.benches.stage.laying import Laying
from homunculus.app.benches.stage.rows import columns
from homunculus.app.benches.stage.scene import Scene
from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Spots
from homunculus.core import specs
from homunculus.core.plan.set_plan import Plane
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.showing import show_scale

PICTURE_PX = 160.0
"""Pixels pulled by which a distance or a scale grows to e times what it was."""
OF_A_NEED = ("row", "plan", "side", "shape", "scale", "place")
"""What handles hold that are of something in the set."""


def held_by(key: str) -> tuple[str, int]:
    """What the handle of a ``key`` holds, and the need that it is of, from 0; -1 where it is of none."""
    kind, _, need = key.partition(":")
    return kind, int(need) if kind in OF_A_NEED and need.isdecimal() else -1


class Typing(Protocol):
    """What handles ask of the bench that they lie on."""

    desk: Desk
    spots: Spots
    grips: Grips
    scene: Scene
    laying: Laying

    def type_place(self, need: int, first: str = "") -> None:
        """Type where something stands."""

    def type_scale(self, need: int, first: str = "") -> None:
        """Type the scale of something."""

    def type_camera(self, first: str = "") -> None:
        """Type the whole camera."""

    def type_eye(self, first: str = "") -> None:
        """Type how high the eye looks."""

    def type_air(self, first: str = "") -> None:
        """Type the air of the stage."""

    def choose(self, need: int) -> None:
        """Choose the row of a need."""


class Handles:
    """Lays the handles of a ``bench``."""

    def __init__(self, bench: Typing) -> None:
        self.bench = bench

    def camera(self, view: FloorView) -> None:
        """The camera in plan, its eye from the side."""
        camera, laying = view.stage.camera, self.bench.laying
        at = view.on_plan(-camera.back_m, camera.across_m)
        said = f"camera {camera.name or 'A'}: {laying.camera_words()}; pull it along or aside"
        self.bench.grips.lay("camera", QRectF(at.x() - 34, at.y() - 18, 44, 36), said, "all",
                       Grip(lambda by: laying.pull_camera(by.x() / view.px, by.y() / view.px, 0.0), lambda steps: laying.step_camera(along=0.01 * steps), self.bench.type_camera))  # fmt: skip
        at = view.on_side(-camera.back_m, view.eye_m)
        said = f"eye {self.bench.desk.given(view.eye_m, 'length')} over the floor" + (
            "" if camera.height_m is not None else ", nobody said"
        )
        self.bench.grips.lay("eye", QRectF(at.x() - 34, at.y() - 18, 44, 36), said, "up",
                       Grip(lambda by: laying.pull_camera(0.0, 0.0, -by.y() / view.px), lambda steps: laying.step_camera(up=0.005 * steps), self.bench.type_camera))  # fmt: skip

    def body(self, stage: StagePlan, view: FloorView, picture: QRectF, plane: Plane) -> None:
        """What stands there: in plan, from the side, and in the ``picture``."""
        need, name, laying = plane.need, plane.name, self.bench.laying
        typing = partial(self.bench.type_place, need)
        at = view.on_plan(plane.at.number, plane.place.across_m)
        self.bench.grips.lay(f"plan:{need}", QRectF(at.x() - 20, at.y() - 20, 40, 40), f"{name} in plan; arrows put it aside", "all",
                       Grip(lambda by: laying.pull(need, by.x() / view.px, by.y() / view.px), lambda steps: laying.step(need, across=0.005 * steps), typing))  # fmt: skip
        foot = stage.find(specs.PLANE_FOOT, use=name)
        at = view.on_side(plane.at.number, foot.number if foot else 0.0)
        said = f"{name}, foot {self.bench.desk.given(foot.number, 'length')}" if foot else name
        self.bench.grips.lay(f"side:{need}", QRectF(at.x() - 20, at.y() - 30, 40, 40), f"{said}, from the side; arrows lift it", "all",
                       Grip(lambda by: laying.pull(need, by.x() / view.px, 0.0, -by.y() / view.px), lambda steps: laying.step(need, up=0.005 * steps), typing))  # fmt: skip
        eye = self.bench.scene.eye(stage)
        if eye is None:
            return
        k = picture.width() / eye.wide_px
        body = next(b for b in view.bodies if b.need == need)
        box = self.bench.scene.seen(body, eye).boundingRect()
        seen = QRectF(picture.left() + box.left() * k, picture.top() + box.top() * k, box.width() * k, box.height() * k).intersected(picture)  # fmt: skip
        if seen.width() < 6 or seen.height() < 6:
            return
        away = plane.at.number

        def pull(by: QPointF) -> None:  # under the hand across; up is farther, the more the higher
            laying.pull(need, away * (math.exp(-by.y() / PICTURE_PX) - 1), by.x() / k / eye.reach_px * away)

        self.bench.grips.lay(f"shape:{need}", QRectF(seen.center().x() - 20, seen.center().y() - 20, 40, 40).intersected(picture), f"{name} in the picture; pull it aside, or up to put it farther away",
                       "all", Grip(pull, lambda steps: laying.step(need, across=0.005 * steps), typing))  # fmt: skip

    def values(self, stage: StagePlan, picture: QRectF) -> None:
        """The eye's real height and the air, beneath the ``picture``."""
        y, laying = picture.bottom() + 2, self.bench.laying
        real = stage.find(specs.EYE_REAL)
        said = (
            f"the eye looks {self.bench.desk.words(real)} over the ground"
            if real
            else "the eye over the ground, real, decided"
        )
        still: Callable[[QPointF], None] = lambda by: None  # noqa: E731
        self.bench.grips.lay("real", QRectF(picture.left() + 108, y, 116, 30), said, "up",
                       Grip(lambda by: laying.pull_eye(round(-by.y() / 8)), laying.step_eye, self.bench.type_eye))  # fmt: skip
        self.bench.grips.lay(
            "air",
            QRectF(picture.right() - 160, y, 164, 30),
            f"air: {laying.air_words()}",
            "up",
            Grip(still, laying.step_sight, self.bench.type_air),
        )

    def row(self, stage: StagePlan, plane: Plane, area: QRectF) -> None:
        """Its row: choose it, pull its scale and how far away it is."""
        need, laying, x = plane.need, self.bench.laying, columns(area)
        looks, tier = stage.find(specs.PLANE_LOOKS, use=plane.name), stage.seen(specs.PLANE_TIER, plane.name)
        shown = (
            self.bench.desk.words(looks) if looks else f"{self.bench.desk.given(plane.place.at_m, 'length')}, decided"
        )
        said = f"{plane.name} at {self.bench.desk.given(plane.at.number, 'length')}, {show_scale(plane.scale.number)}, looks {shown} away" + (f", {tier.value}" if tier else "")  # fmt: skip
        self.bench.spots.place(
            f"row:{need}", QRectF(x[0] - 4, area.top() + 2, x[1] - x[0], 34), said, partial(self.bench.choose, need)
        )

        def pull_scale(by: QPointF) -> None:
            stays = bool(QApplication.keyboardModifiers() & Qt.KeyboardModifier.AltModifier)
            laying.pull_scale(need, math.exp(-by.y() / PICTURE_PX), stays=stays)

        self.bench.grips.lay(f"scale:{need}", QRectF(x[1] - 6, area.top(), x[2] - x[1] - 4, 38), f"{plane.name}, scale {show_scale(plane.scale.number)}, decided", "up",
                       Grip(pull_scale, partial(laying.step_scale, need), partial(self.bench.type_scale, need)))  # fmt: skip
        away = plane.at.number
        self.bench.grips.lay(f"place:{need}", QRectF(x[2] - 6, area.top(), x[3] - x[2] - 58, 38), f"{plane.name} stands at {self.bench.desk.given(away, 'length')}", "up",
                       Grip(lambda by: laying.pull(need, away * (math.exp(-by.y() / PICTURE_PX) - 1), 0.0), lambda steps: laying.step(need, along=0.01 * steps * away),
                            partial(self.bench.type_place, need)))  # fmt: skip
