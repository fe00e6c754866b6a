"""What stands where? Plan and side of the stage, the picture that the camera has of it, and a row for each thing, near to far."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.grips import Grips
from homunculus.app.benches.set_bench import VIEWS, SetBench
from homunculus.app.benches.stage.floor_view import FloorView, draw_names
from homunculus.app.benches.stage.handles import Handles, held_by
from homunculus.app.benches.stage.laying import Laying
from homunculus.app.benches.stage.rows import draw_heads, draw_row, draw_values
from homunculus.app.benches.stage.scene import Scene
from homunculus.app.benches.stage.told import Told
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
from homunculus.core.plan.set_plan import Plane
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.showing import show_scale
from homunculus.exchange.formats import offered, offered_to_write, writer

ROW, SHORT = 61.0, 40.0
SPLIT = 0.535
"""Where the picture and the rows begin, as a share of the width."""


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
        self.handles = Handles(self)
        self._held: FloorView | None = None
        desk.meshes.changed.connect(self._learned)

    def _learned(self) -> None:
        self.again()

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

    def told(self, stage: StagePlan) -> Told:
        """What is told beneath the rows."""
        rows, picture = self.rows(stage), self.picture_area(stage)
        top = rows[-1][1].bottom() if rows else picture.bottom() + 56
        return Told(self.desk, stage, self.laying.plane(self.chosen), picture, top, self.height())

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
        self.handles.camera(view)
        for plane in planes:
            self.handles.body(stage, view, picture, plane)
        self.handles.values(stage, picture)
        for plane, area in self.rows(stage):
            self.handles.row(stage, plane, area)
        for words, figure, at in self.told(stage).laid(self.setting()):
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

    def at_hand(self) -> tuple[str, int]:
        """The handle that the keyboard is on: what it holds, and the need where it is of one."""
        spot = self.spots.focused()
        return held_by(spot.objectName() if spot else "")

    def type_place(self, need: int, first: str = "") -> None:
        """Type where something stands, at the handle that has the keyboard, else in its row."""
        kind, at = self.at_hand()
        key = f"{kind}:{need}" if at == need else f"place:{need}"
        hold = f"place:{need}"
        self.type_over(self.taking.called(hold), key, self.taking.words(hold), lambda words: self.taking.type(hold, words), key=first,
                       hint=f"{PLACE_EXAMPLE}.")  # fmt: skip

    def type_scale(self, need: int, first: str = "") -> None:
        """Type the scale of something; “stays” behind it leaves it where it stands."""
        plane = self.laying.plane(need)
        if plane:
            self.type_over(f"scale of {plane.name}", f"scale:{need}", show_scale(plane.scale.number),
                           partial(self.laying.type_scale, need), key=first)  # fmt: skip

    def type_camera(self, first: str = "") -> None:
        """Type the whole camera: lens, eye, pan, tilt, roll and all; what a first key would begin is part of none of it."""
        del first
        hint = "Write it like 32 mm, focus 3 m, f/11, eye 1.62 m, 0.2 m right, pan 3°, tilt -2°, roll 1°."
        kind, _ = self.at_hand()
        over = kind if kind in ("camera", "eye") else "camera"
        self.type_over("the camera", over, self.laying.camera_words(), self.laying.type_camera, hint=hint)

    def type_eye(self, first: str = "") -> None:
        """Type how high the eye looks."""
        what = "how high the eye looks over the ground, real"
        if not self.type_over(what, "real", self.laying.eye_words(), self.laying.type_eye, key=first):
            self.desk.said.emit("The eye is that of a shot's camera, and there is none yet.")

    def type_air(self, first: str = "") -> None:
        """Type the air of the stage."""
        now, take, hint = self.laying.air_words(), self.laying.type_air, f"Write it like {AIR_EXAMPLE}; or clear."
        if not self.type_over("the air of the stage", "air", now, take, key=first, hint=hint):
            self.desk.said.emit("The air is that before a shot's camera, and there is none yet.")

    def put_down(self, need: int) -> None:
        """Type where something stands that stands nowhere yet."""
        shot = self.breakdown.shot
        if shot:
            key = f"waiting:{need}" if self.spots.find(f"waiting:{need}") else "empty"
            what, hint = f"where {shot.needs[need].what} stands", f"{PLACE_EXAMPLE}."
            self.type_over(what, key, "stands ", partial(self.taking.put_down, need), hint=hint)

    def add(self) -> None:
        """Type something more that stands there, as needs are typed."""
        shot = self.breakdown.shot
        key = "add" if self.spots.find("add") else "empty"
        if shot:
            hint = "What it is, a colon, what covers it, and where: iron rail: stock: rail, stands 0.6 m, 2 m wide, 1.1 m high."
            self.type_over("what else stands there", key, "", lambda words: self.breakdown.add_need(shot, words), hint=hint)  # fmt: skip

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
            at = rows.index(self.chosen) - self.notches(event)
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
        told, passes = self.told(stage), self.spots.find("decide:shop.shift_px")
        told.draw_zone(ink, view, QRectF(passes.geometry()) if passes else None)
        draw_names(ink, view, self.chosen)
        eye = self.scene.eye(stage)
        if eye:
            self.scene.draw(ink, picture, stage, view.bodies, eye, self.chosen)
        draw_values(self.desk, ink, stage, picture)
        draw_heads(ink, picture)
        rows = self.rows(stage)
        for plane, area in rows:
            draw_row(self.desk, ink, stage, plane, area, mine=plane.need == self.chosen)
        told.draw_foot(ink, len(self.planes()) - len(rows))
        told.draw(ink)
        told.draw_hands(ink, view)
