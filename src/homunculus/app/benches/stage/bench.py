"""What stands where? Plan and side of the stage, the picture that the camera has of it, and a row for each thing, near to far."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.benches.grips import Grip, Grips
from homunculus.app.benches.set_bench import VIEWS, SetBench
from homunculus.app.benches.stage.floor_view import LOUPE_PX, FloorView, draw_loupe, draw_names, zone_boxes
from homunculus.app.benches.stage.laying import Laying
from homunculus.app.benches.stage.rows import columns, draw_heads, draw_row, draw_values
from homunculus.app.benches.stage.scene import Scene
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.files import ask_to_read, ask_to_write
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.air import EXAMPLE as AIR_EXAMPLE
from homunculus.core.cells.places import PLACE_EXAMPLE
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure
from homunculus.core.floor.marks import floor_marks
from homunculus.core.job.shots import Plate
from homunculus.core.plan.cautions import set_cautions
from homunculus.core.plan.set_plan import Plane
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.showing import Shown, show_scale
from homunculus.exchange.formats import offered, offered_to_write, writer

ROW, SHORT = 61.0, 40.0
SPLIT = 0.535
"""Where the picture and the rows begin, as a share of the width."""
PICTURE_PX = 160.0
"""Pixels pulled by which a distance or a scale grows to e times what it was."""
OF_A_NEED = ("row", "plan", "side", "shape", "scale", "place")
"""What handles hold that are of something in the set."""


def held_by(key: str) -> tuple[str, int]:
    """What the handle of a ``key`` holds, and the need that it is of, from 0; -1 where it is of none."""
    kind, _, need = key.partition(":")
    return kind, int(need) if kind in OF_A_NEED and need.isdecimal() else -1


class StageBench(SetBench):
    """The stage of a shot."""

    view = VIEWS[2]
    least_height = 470

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Stage bench")
        self.laying = Laying(desk, self.taking)
        self.scene = Scene(desk)
        self.chosen = -1
        """The need whose row is chosen."""
        self.grips = Grips(desk, self.spots, self._grasp)
        self._held: FloorView | None = None
        desk.meshes.changed.connect(self._learned)

    def _learned(self) -> None:
        self._painted = None
        self.refresh()

    # ----------------------------------------------------------------------------------- reading
    def planes(self) -> list[Plane]:
        """All that stands there, near to far."""
        found = self.found()
        return sorted(found.planes, key=lambda p: p.at.number) if found else []

    def floor_view(self, stage: StagePlan) -> FloorView:
        """How it lies on the drawing; while something is pulled it keeps its scale."""
        area = QRectF(18, 48, self.width() * SPLIT - 34, self.height() - 52)
        pulled = self.desk.gesture is not None and self._held is not None
        view = FloorView(self.desk, stage, self.scene, area, self._held if pulled else None)
        if not pulled:
            self._held = view
        return view

    def picture_area(self, stage: StagePlan) -> QRectF:
        """Where the camera's picture lies."""
        left = self.width() * SPLIT
        wide = self.width() - left - 18
        mode = stage.found.context.mode(stage.camera)
        ratio = mode.ratio if mode else 0.56
        return QRectF(left, 50, wide, min(wide * ratio, self.height() * 0.42))

    def rows(self, stage: StagePlan) -> list[tuple[Plane, QRectF]]:
        """The rows in sight: all with their second line where there is room, else the chosen one alone."""
        picture = self.picture_area(stage)
        top, planes = picture.bottom() + 56, self.planes()
        room = self.height() - 34 - top
        long = len(planes) * ROW <= room
        heights = [ROW if long or p.need == self.chosen else SHORT for p in planes]
        at = next((i for i, p in enumerate(planes) if p.need == self.chosen), 0)
        self.first = max(0, min(self.first, at, len(planes) - 1))
        while self.first < at and sum(heights[self.first : at + 1]) > room:
            self.first += 1
        found, y = [], top
        for plane, height in list(zip(planes, heights, strict=True))[self.first :]:
            if y + height > self.height() - 30:
                break
            found.append((plane, QRectF(picture.left(), y, picture.width(), height)))
            y += height
        return found

    def notes(self, stage: StagePlan) -> list[tuple[str, Figure]]:
        """What is told beneath the rows: of the chosen thing its tables, of the stage its air."""
        plane = self.laying.plane(self.chosen)
        found: list[tuple[str, Figure | None]] = []
        if plane:
            found += [("tables", stage.find(specs.TABLES, use=plane.name)), ("each bears", stage.find(specs.TABLE_LOAD, use=plane.name)),
                      ("pairs of hands", stage.find(specs.HANDS_AROUND, use=plane.name))]  # fmt: skip
        found += [
            ("sight on the stage", stage.find(specs.SIGHT)),
            ("carbon dioxide", stage.find(specs.CARBON_DIOXIDE)),
            ("at its limit after", stage.find(specs.ICE_TIME)),
        ]
        return [(words, figure) for words, figure in found if figure]

    def _laid_notes(self, stage: StagePlan) -> list[tuple[str, Figure, QPointF]]:
        """The notes with where each begins, broken into lines, as far as there is room."""
        rows, picture = self.rows(stage), self.picture_area(stage)
        x, y = picture.left(), (rows[-1][1].bottom() if rows else picture.bottom() + 56) + 20
        found: list[tuple[str, Figure, QPointF]] = []
        setting = self.setting()
        for words, figure in self.notes(stage):
            wide = (
                setting.width(words, "note") + setting.number_width(self.desk.shown(figure), "note", equals=True) + 18
            )
            if x + wide > picture.right() and x > picture.left():
                x, y = picture.left(), y + 19
            if y > self.height() - 36:
                break
            found.append((words, figure, QPointF(x, y)))
            x += wide
        return found

    def content(self) -> object:
        return (self.found(), self.stage(), self.taking.name, self.chosen, self.first, self.desk.gesture is None, self.breakdown.own_shots, id(self.desk.session.facts))  # fmt: skip

    # ------------------------------------------------------------------------------------- spots
    def question(self) -> str:
        """What it answers."""
        shot = self.breakdown.shot
        return f"What stands where in shot {shot.id}?" if shot else "What stands where?"

    def arrange(self) -> None:
        stage = self.arrange_stage(self.question())
        if stage is None:
            return
        planes = self.planes()
        if planes and self.chosen not in [p.need for p in planes]:
            self.chosen = planes[0].need
        if not planes:
            waits = next((i for i, need in enumerate(stage.found.shot.needs) if need.place is None), None)
            if waits is None:
                self.empty_spot("frame", "something before the lens", "what it is, what covers it, and where: rail: stock: iron rail, stands 0.6 m", self.add, 96.0)  # fmt: skip
            else:
                self.empty_spot("frame", f"where is {stage.found.shot.needs[waits].what}?", "stands 3 m, or looks 40 m", partial(self.put_down, waits), 96.0)  # fmt: skip
            return
        view, picture = self.floor_view(stage), self.picture_area(stage)
        for spec, area in self._zone_areas(stage, view):
            self.figure_spot(spec, area)
        self._camera_spot(view)
        for plane in planes:
            self._body_spots(stage, view, picture, plane)
        self._value_spots(stage, picture)
        for plane, area in self.rows(stage):
            self._row_spots(stage, plane, area)
        for words, figure, at in self._laid_notes(stage):
            x = at.x() + self.setting().width(words, "note")
            self.figure_spot(
                figure,
                QRectF(
                    x, at.y() - 14, self.setting().number_width(self.desk.shown(figure), "note", equals=True) + 12, 18
                ),
            )
        self.decide_spot("shop.shift_px", QRectF(view.area.left() + 146, 68, 92, 28))
        waiting = [i for i, need in enumerate(stage.found.shot.needs) if need.place is None]
        foot = self.height() - 28
        self.spots.place(
            "add", QRectF(picture.left() - 4, foot, 160, 26), "put something more before the lens", self.add
        )
        if waiting:
            what = stage.found.shot.needs[waiting[0]].what
            self.spots.place(f"waiting:{waiting[0]}", QRectF(picture.left() + 160, foot, picture.width() - 160, 26), f"{what} stands nowhere yet: say where", partial(self.put_down, waiting[0]))  # fmt: skip

    def _zone_areas(self, stage: StagePlan, view: FloorView) -> list[tuple[Figure, QRectF]]:
        side = stage.find(specs.FREE_SIDEWAYS, camera=stage.camera.name)
        return [(side, QRectF(view.area.left() - 4, 66, 150, 34))] if side else []

    def _camera_spot(self, view: FloorView) -> None:
        camera, laying = view.stage.camera, self.laying
        at = view.on_plan(-camera.back_m, camera.across_m)
        said = f"camera {camera.name or 'A'}: {laying.camera_words()}; pull it along or aside"
        self.grips.lay("camera", QRectF(at.x() - 34, at.y() - 18, 44, 36), said, "all",
                       Grip(lambda by: laying.pull_camera(by.x() / view.px, by.y() / view.px, 0.0), lambda steps: laying.step_camera(along=0.01 * steps), self.type_camera))  # fmt: skip
        at = view.on_side(-camera.back_m, view.eye_m)
        said = f"eye {self.desk.given(view.eye_m, 'length')} over the floor" + (
            "" if camera.height_m is not None else ", nobody said"
        )
        self.grips.lay("eye", QRectF(at.x() - 34, at.y() - 18, 44, 36), said, "up",
                       Grip(lambda by: laying.pull_camera(0.0, 0.0, -by.y() / view.px), lambda steps: laying.step_camera(up=0.005 * steps), self.type_camera))  # fmt: skip

    def _body_spots(self, stage: StagePlan, view: FloorView, picture: QRectF, plane: Plane) -> None:
        need, name, laying = plane.need, plane.name, self.laying
        typing = partial(self.type_place, need)
        at = view.on_plan(plane.at.number, plane.place.across_m)
        self.grips.lay(f"plan:{need}", QRectF(at.x() - 20, at.y() - 20, 40, 40), f"{name} in plan; arrows put it aside", "all",
                       Grip(lambda by: laying.pull(need, by.x() / view.px, by.y() / view.px), lambda steps: laying.step(need, across=0.005 * steps), typing))  # fmt: skip
        foot = stage.find(specs.PLANE_FOOT, use=name)
        at = view.on_side(plane.at.number, foot.number if foot else 0.0)
        said = f"{name}, foot {self.desk.given(foot.number, 'length')}" if foot else name
        self.grips.lay(f"side:{need}", QRectF(at.x() - 20, at.y() - 30, 40, 40), f"{said}, from the side; arrows lift it", "all",
                       Grip(lambda by: laying.pull(need, by.x() / view.px, 0.0, -by.y() / view.px), lambda steps: laying.step(need, up=0.005 * steps), typing))  # fmt: skip
        eye = self.scene.eye(stage)
        if eye is None:
            return
        k = picture.width() / eye.wide_px
        body = next(b for b in view.bodies if b.need == need)
        box = self.scene.seen(body, eye).boundingRect()
        seen = QRectF(picture.left() + box.left() * k, picture.top() + box.top() * k, box.width() * k, box.height() * k).intersected(picture)  # fmt: skip
        if seen.width() < 6 or seen.height() < 6:
            return
        away = plane.at.number

        def pull(by: QPointF) -> None:  # under the hand across; up is farther, the more the higher
            laying.pull(need, away * (math.exp(-by.y() / PICTURE_PX) - 1), by.x() / k / eye.reach_px * away)

        self.grips.lay(f"shape:{need}", QRectF(seen.center().x() - 20, seen.center().y() - 20, 40, 40).intersected(picture), f"{name} in the picture; pull it aside, or up to put it farther away",
                       "all", Grip(pull, lambda steps: laying.step(need, across=0.005 * steps), typing))  # fmt: skip

    def _value_spots(self, stage: StagePlan, picture: QRectF) -> None:
        y, laying = picture.bottom() + 2, self.laying
        real = stage.find(specs.EYE_REAL)
        said = (
            f"the eye looks {self.desk.words(real)} over the ground"
            if real
            else "the eye over the ground, real, decided"
        )
        still: Callable[[QPointF], None] = lambda by: None  # noqa: E731
        self.grips.lay("real", QRectF(picture.left() + 108, y, 116, 30), said, "up",
                       Grip(lambda by: laying.pull_eye(round(-by.y() / 8)), laying.step_eye, self.type_eye))  # fmt: skip
        self.grips.lay(
            "air",
            QRectF(picture.right() - 160, y, 164, 30),
            f"air: {laying.air_words()}",
            "up",
            Grip(still, laying.step_sight, self.type_air),
        )

    def _row_spots(self, stage: StagePlan, plane: Plane, area: QRectF) -> None:
        need, laying, x = plane.need, self.laying, columns(area)
        looks, tier = stage.find(specs.PLANE_LOOKS, use=plane.name), stage.seen(specs.PLANE_TIER, plane.name)
        shown = self.desk.words(looks) if looks else f"{self.desk.given(plane.place.at_m, 'length')}, decided"
        said = f"{plane.name} at {self.desk.given(plane.at.number, 'length')}, {show_scale(plane.scale.number)}, looks {shown} away" + (f", {tier.value}" if tier else "")  # fmt: skip
        self.spots.place(
            f"row:{need}", QRectF(x[0] - 4, area.top() + 2, x[1] - x[0], 34), said, partial(self.choose, need)
        )

        def pull_scale(by: QPointF) -> None:
            stays = bool(QApplication.keyboardModifiers() & Qt.KeyboardModifier.AltModifier)
            laying.pull_scale(need, math.exp(-by.y() / PICTURE_PX), stays=stays)

        self.grips.lay(f"scale:{need}", QRectF(x[1] - 6, area.top(), x[2] - x[1] - 4, 38), f"{plane.name}, scale {show_scale(plane.scale.number)}, decided", "up",
                       Grip(pull_scale, partial(laying.step_scale, need), partial(self.type_scale, need)))  # fmt: skip
        away = plane.at.number
        self.grips.lay(f"place:{need}", QRectF(x[2] - 6, area.top(), x[3] - x[2] - 58, 38), f"{plane.name} stands at {self.desk.given(away, 'length')}", "up",
                       Grip(lambda by: laying.pull(need, away * (math.exp(-by.y() / PICTURE_PX) - 1), 0.0), lambda steps: laying.step(need, along=0.01 * steps * away),
                            partial(self.type_place, need)))  # fmt: skip

    # --------------------------------------------------------------------------------------- acts
    def _grasp(self, key: str) -> None:
        need = key.partition(":")[2]
        if need:
            self.chosen = int(need)
        self.laying.grasp()

    def choose(self, need: int) -> None:
        """Choose the row of a need."""
        self.chosen = need
        plane = self.laying.plane(need)
        if plane and plane.build and plane.build != self.desk.chosen:
            shot = self.breakdown.shot
            self.desk.choose(plane.build)
            if shot:
                self.breakdown.choose(shot.id)
        self.refresh()

    def _ask(self, key: str, what: str, words: str, accept: Callable[[str], bool], first: str = "") -> None:
        spot = self.spots.find(key)
        if spot:
            self.ask(what, QRectF(spot.geometry()), words, accept, key, first)

    def at_hand(self) -> tuple[str, int]:
        """The handle that the keyboard is on: what it holds, and the need where it is of one."""
        spot = self.spots.focused()
        return held_by(spot.objectName() if spot else "")

    def type_place(self, need: int, first: str = "") -> None:
        """Type where something stands, at the handle that has the keyboard, else in its row."""
        kind, at = self.at_hand()
        key = f"{kind}:{need}" if at == need else f"place:{need}"
        self.desk.said.emit(f"{PLACE_EXAMPLE}.")
        self._ask(key, self.taking.called(f"place:{need}"), self.taking.words(f"place:{need}"), lambda words: self.taking.type(f"place:{need}", words), first)  # fmt: skip

    def type_scale(self, need: int, first: str = "") -> None:
        """Type the scale of something; “stays” behind it leaves it where it stands."""
        plane = self.laying.plane(need)
        if plane:
            self._ask(f"scale:{need}", f"scale of {plane.name}", show_scale(plane.scale.number), partial(self.laying.type_scale, need), first)  # fmt: skip

    def type_camera(self, first: str = "") -> None:
        """Type the whole camera: lens, eye, pan, tilt, roll and all; what a first key would begin is part of none of it."""
        del first
        self.desk.said.emit("Write it like 32 mm, focus 3 m, f/11, eye 1.62 m, 0.2 m right, pan 3°, tilt -2°, roll 1°.")
        kind, _ = self.at_hand()
        self._ask(kind if kind in ("camera", "eye") else "camera", "the camera", self.laying.camera_words(), self.laying.type_camera)  # fmt: skip

    def type_eye(self, first: str = "") -> None:
        """Type how high the eye looks."""
        self._ask(
            "real", "how high the eye looks over the ground, real", self.laying.eye_words(), self.laying.type_eye, first
        )

    def type_air(self, first: str = "") -> None:
        """Type the air of the stage."""
        self.desk.said.emit(f"Write it like {AIR_EXAMPLE}; or clear.")
        self._ask("air", "the air of the stage", self.laying.air_words(), self.laying.type_air, first)

    def put_down(self, need: int) -> None:
        """Type where something stands that stands nowhere yet."""
        shot = self.breakdown.shot
        if shot:
            self.desk.said.emit(f"{PLACE_EXAMPLE}.")
            key = f"waiting:{need}" if self.spots.find(f"waiting:{need}") else "empty"
            self._ask(key, f"where {shot.needs[need].what} stands", "stands ", partial(self.taking.put_down, need))

    def add(self) -> None:
        """Type something more that stands there, as needs are typed."""
        shot = self.breakdown.shot
        key = "add" if self.spots.find("add") else "empty"
        if shot:
            self.desk.said.emit(
                "What it is, a colon, what covers it, and where: iron rail: stock: rail, stands 0.6 m, 2 m wide, 1.1 m high."
            )
            self._ask(key, "what else stands there", "", lambda words: self.breakdown.add_need(shot, words))

    def take_picture(self, path: Path) -> None:
        """Keep a picture of the plate, that lies behind the outlines."""
        from homunculus.store.pictures import keep_picture

        shot = self.breakdown.shot
        if shot is None:
            return
        try:
            name = keep_picture(self.desk.folder.path, path)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        if self.laying.put_shot(
            f"plate's picture, shot {shot.id}", replace(shot, plate=replace(shot.plate or Plate(), picture=name))
        ):
            self.desk.said.emit("The plate's picture lies behind the outlines. U goes back.")

    def choose_picture(self) -> None:
        """Ask for a picture of the plate."""
        path = ask_to_read(self, "A picture of the plate", "picture", offered("Pictures", "picture"))
        if path:
            self.take_picture(path)

    def choose_plan(self) -> None:
        """Ask where to write the stage plan."""
        stage = self.stage()
        if stage is None:
            self.desk.said.emit("There is no camera yet, and no stage to draw.")
            return
        asked = ask_to_write(
            self, "Write the stage plan", "plan", f"stage-{stage.found.shot.id}.svg", offered_to_write("stage")
        )
        if asked:
            self.write_plan(asked[0])

    def write_plan(self, path: Path) -> None:
        """Write the stage plan of the drawn shot as SVG or DXF, by the ending of the file."""
        stage = self.stage()
        if stage is None:
            return

        job, folder = self.desk.job, self.desk.folder.path

        def work() -> str:
            from homunculus.store.atomic import write_atomically
            from homunculus.surfaces import surface_in  # a mesh of which there is no coarse copy yet is waited for

            drawing = floor_marks(job, stage, lambda form: surface_in(folder, form))
            write_atomically(path, writer("stage", path.name)(drawing))
            return f"Wrote the stage plan of shot {stage.found.shot.id} to {path.name}."

        self.desk.runner.begin("Writing the stage plan", work, self.desk.said.emit)

    # --------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        kind, need = self.at_hand()
        rows = [p.need for p in self.planes()]
        match event.key():
            case Qt.Key.Key_Up | Qt.Key.Key_Down if kind == "row" and rows:
                at = rows.index(need) + (1 if event.key() == Qt.Key.Key_Down else -1)
                self.choose(rows[max(0, min(at, len(rows) - 1))])
                spot = self.spots.find(f"row:{self.chosen}")
                if spot:
                    spot.setFocus()
            case Qt.Key.Key_X if need >= 0:
                self.taking.soften(f"place:{need}")
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "side":
                self.laying.foot_free(need)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "plan":
                self.laying.straight(need)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind in ("row", "place"):
                self.taking.let_be(f"place:{need}")
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "real":
                self.laying.type_eye("")
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "air":
                self.laying.type_air("clear")
            case Qt.Key.Key_Insert:
                self.add()
            case _:
                super().keyPressEvent(event)

    def wheelEvent(self, event: QWheelEvent) -> None:
        rows = [p.need for p in self.planes()]
        if len(rows) > 1 and event.position().x() > self.width() * SPLIT and self.chosen in rows:
            at = rows.index(self.chosen) + (-1 if event.angleDelta().y() > 0 else 1)
            self.chosen = rows[max(0, min(at, len(rows) - 1))]
            self.refresh()
            event.accept()

    def can(self, key: str) -> list[Can]:
        kind, at = held_by(key)
        if at < 0:
            own = {"real": [Can("Leave it to the plate, or to the main build", "Del", lambda: self.laying.type_eye("")), Can("Type it", "Enter", self.type_eye)],
                   "air": [Can("Clear air", "Del", lambda: self.laying.type_air("clear")), Can("Type it", "Enter", self.type_air)],
                   "camera": [Can("Type the camera", "Enter", self.type_camera), Can("A picture of the plate behind the outlines", "PNG, JPEG or drop", self.choose_picture), Can("Write the stage plan", "SVG, DXF", self.choose_plan)]}  # fmt: skip
            return own.get(kind) or super().can(key)
        return [Can("Type where it stands, its foot, its turn", "Enter", lambda: self.type_place(at)), Can("Type its scale", "Enter", lambda: self.type_scale(at)),
                Can("The next smaller scale, where it stays", "", lambda: self.laying.step_scale(at, 1, stays=True)),
                Can("The next larger scale, where it stays", "", lambda: self.laying.step_scale(at, -1, stays=True)),
                Can("Let its foot rise to the eye", "Del", lambda: self.laying.foot_free(at)), Can("On the axis, unturned", "Del", lambda: self.laying.straight(at)),
                Can("It may be soft, or must be sharp again", "X", lambda: self.taking.soften(f"place:{at}")),
                Can("In a pass of its own, or with the others again", "", lambda: self.taking.alone(f"place:{at}")),
                Can("By how far it looks, or by the floor", "", lambda: self.taking.turn(f"place:{at}")),
                Can("It stands nowhere yet", "Del", lambda: self.taking.let_be(f"place:{at}"))]  # fmt: skip

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_top(ink, self.question())
        stage = self.stage()
        if stage is None or not stage.found.planes:
            self.draw_empty(ink)
            return
        view, picture = self.floor_view(stage), self.picture_area(stage)
        view.draw(ink, self.chosen)
        self._zone(ink, stage, view)
        draw_names(ink, view, self.chosen)
        eye = self.scene.eye(stage)
        if eye:
            self.scene.draw(ink, picture, stage, view.bodies, eye, self.chosen)
        draw_values(self.desk, ink, stage, picture)
        draw_heads(ink, picture)
        rows = self.rows(stage)
        for plane, area in rows:
            draw_row(self.desk, ink, stage, plane, area, mine=plane.need == self.chosen)
        self._foot(ink, stage, picture, len(self.planes()) - len(rows))
        self._notes_drawn(ink, stage, picture)
        self._hands(ink, stage, view)

    def _zone(self, ink: Ink, stage: StagePlan, view: FloorView) -> None:
        left, boxes = view.area.left(), zone_boxes(stage)
        ink.text(left, 64, "The camera may go", "note", "ink2")
        side = stage.find(specs.FREE_SIDEWAYS, camera=stage.camera.name)
        if side is None or not boxes:
            ink.text(left, 84, "anywhere: all stands at one scale", "label", "reckon")
            return
        ink.number(left, 90, self._either(side), "on_drawing", "reckon", equals=True)
        passes = self.spots.find("decide:shop.shift_px")
        if passes:
            shown, begun = self.desk.given(stage.found.context.shop.shift_px, "pixels"), self.desk.job.begun
            width = ink.decided(passes.x() + 6, 90, shown, "label", begun="shop.shift_px" in begun)
            ink.text(passes.x() + width + 22, 90, "pass", "note", "ink2")
        ink.text(left, 106, ink.squeezed(144, f"sideways: {boxes[0][0]}", "note"), "note", "ink2")
        camera = stage.camera
        radius = min(LOUPE_PX, view.plan.height() * 0.14)
        at = QPointF(left + radius + 6, view.plan.bottom() - radius - 16)
        draw_loupe(ink, at, radius, boxes, view.px, view.on_plan(-camera.back_m, camera.across_m))
        others = [box for box in boxes if box[1] > boxes[0][1] * 1.001]
        x, y = at.x() + radius + 14, at.y() - 14
        along = stage.find(specs.FREE_ALONG, camera=camera.name)
        if along:
            ink.text(
                x + ink.number(x, y, self._either(along), "label", "reckon", equals=True) + 6,
                y,
                "along",
                "note",
                "ink2",
            )
        if others:
            name, aside, _ = others[0]
            figure = stage.seen(specs.SIDEWAYS, name)
            if figure and aside:
                words = f"sideways without {boxes[0][0]},"
                ink.text(
                    x + ink.number(x, y + 19, self._either(figure), "label", "reckon", equals=True) + 6,
                    y + 19,
                    ink.squeezed(150, words, "note"),
                    "note",
                    "ink2",
                )
                ink.text(x, y + 36, ink.squeezed(200, f"until {name} tells", "note"), "note", "ink2")

    def _notes_drawn(self, ink: Ink, stage: StagePlan, picture: QRectF) -> None:
        y = 0.0
        for before, figure, at in self._laid_notes(stage):
            x = at.x() + ink.text(at.x(), at.y(), before, "note", "ink2") + 5
            ink.number(x, at.y(), self.desk.shown(figure), "note", "reckon", equals=True)
            y = at.y()
        rows = self.rows(stage)
        y = (y or (rows[-1][1].bottom() if rows else picture.bottom() + 60)) + 24
        said = [(m.level, self.taking.phrase(m.headline)) for m in stage.minds] + [
            ("mind", words) for words in set_cautions(self.desk.job, stage.found.shot)
        ]
        for index, (level, words) in enumerate(said):
            lines = ink.within(picture.width() - 30, words, "note", 2)
            if y + 16 * len(lines) > self.height() - 44:
                if y < self.height() - 32:
                    left = len(said) - index
                    ink.text(
                        picture.left() + 26,
                        y,
                        f"and {left} more {'caution' if left == 1 else 'cautions'}: they stand on Shoot and on paper",
                        "note",
                        "ink2",
                    )
                break
            ink.tag(picture.left(), y - 11, level)
            for i, line in enumerate(lines):
                ink.text(picture.left() + 26, y + 16 * i, line, "note", "ink2")
            y += 16 * len(lines) + 8

    def _hands(self, ink: Ink, stage: StagePlan, view: FloorView) -> None:
        """Places for hands along the long sides of the chosen thing's tables."""
        plane = self.laying.plane(self.chosen)
        count = stage.find(specs.HANDS_AROUND, use=plane.name) if plane else None
        body = next((b for b in view.bodies if plane and b.need == plane.need), None)
        if count is None or body is None or not count.number:
            return
        box = view.box(body, "plan")
        along = box.width() > box.height()
        a_side = round(count.number / 2)
        for i in range(min(a_side, 40)):
            share = (i + 0.5) / a_side
            for side in (0, 1):
                x = box.left() + share * box.width() if along else (box.left() - 7, box.right() + 7)[side]
                y = (box.top() - 7, box.bottom() + 7)[side] if along else box.top() + share * box.height()
                if view.plan.contains(x, y):
                    ink.dot(x, y, 3.0, fill="sheet", edge="ink2")

    def _either(self, figure: Figure) -> Shown:
        shown = self.desk.shown(figure)
        return Shown("±" + shown.number, shown.unit)

    def _foot(self, ink: Ink, stage: StagePlan, picture: QRectF, hidden: int) -> None:
        y = self.height() - 10
        width = ink.text(picture.left(), y, "+ put something there", "note", "decide")
        ink.rule(picture.left(), y + 4, picture.left() + width, y + 4, "decide", 1)
        waiting = next((n.what for n in stage.found.shot.needs if n.place is None), "")
        x = picture.left() + 164
        if waiting:
            words = ink.squeezed(picture.right() - x - (90 if hidden else 0), f"where is {waiting}?", "note")
            width = ink.text(x, y, words, "note", "decide")
            ink.rule(x, y + 4, x + width, y + 4, "decide", 1, "hidden")
        if hidden:
            ink.text(picture.right(), y, f"and {hidden} more", "note", "ink2", "right")
