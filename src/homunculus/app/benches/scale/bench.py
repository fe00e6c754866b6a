"""How big is it? The ladder above, the side elevation below, one decision through both."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.scale.elevation import FIGURE_H, Elevation
from homunculus.app.benches.scale.ladder_view import PITCH, TOP, LadderView
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.spot import Handle
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.camera.frame_rate import next_scale
from homunculus.core.showing import show_run, show_scale
from homunculus.core.why import phrase


class ScaleBench(Place):
    """The bench of station 2."""

    @property
    def least_height(self) -> int:  # type: ignore[override]
        """So that beneath all lanes there is room for a low elevation."""
        return max(560, round(TOP + PITCH * len(self.desk.ladder.lanes)) + 194) if self.desk.chosen else 560

    ground = "sheet"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Scale bench")
        self._held: Elevation | None = None

    # --------------------------------------------------------------------------------- geometry
    def ladder(self) -> LadderView:
        """The ladder as it lies now."""
        return LadderView(self.desk, self.width())

    def elevation(self) -> Elevation:
        """The elevation as it lies now: below the ladder, down to the bench's edge."""
        top = self.ladder().bottom + 38
        return Elevation(self.desk, QRectF(0, top, self.width(), max(150.0, self.height() - top)))

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        if not self.desk.chosen:
            return
        view, elevation = self.ladder(), self.elevation()
        scale = self.desk.build.scale
        state = "a beginning, = lets it stand" if self.desk.decision("scale").begun else "decided"
        free = " or ".join(show_run(a, b) for a, b in view.ladder.free) or "no scale"
        self.spots.place_handle(
            "scale", view.marker_area(), f"scale {show_scale(scale)}, {state}; nothing fails from {free}",
            Qt.CursorShape.SizeHorCursor, self._wire_ladder,
        )  # fmt: skip
        for index, (candidate, area) in enumerate(view.candidate_areas()):
            self.spots.place(f"best:{index + 1}", area, view.candidate_words(candidate),
                             lambda s=candidate.scale: self.desk.decide(self.desk.decision("scale"), s))  # type: ignore[misc]  # fmt: skip
        for index, lane in enumerate(view.ladder.lanes):
            said = lane.speech(scale) + " " + phrase(lane.note, self.desk.system)
            value = lane.value
            self.spots.place(f"lane:{lane.key}", view.lane_area(index), said,
                             (lambda f=value: self.desk.asked_why.emit(f)) if value else None)  # type: ignore[misc]  # fmt: skip
        y = elevation.area.top() + 8
        for figure, note, _role in elevation.headline_figures():
            self.spots.place(f"figure:{figure.spec.name}", QRectF(12, y - 4, 180, 56),
                             f"{figure.spec.label} {self.desk.words(figure)}, {note}",
                             lambda f=figure: self.desk.asked_why.emit(f))  # type: ignore[misc]  # fmt: skip
            y += FIGURE_H
        if not self.desk.build.pieces:
            self.spots.place(
                "empty",
                elevation.waiting_area(),
                "type its first piece",
                lambda: self.desk.asked_of_made.emit("add_piece"),
            )
        if self.desk.build_plan.find(specs.HEIGHT):
            height = self.desk.build_plan.find(specs.HEIGHT)
            assert height is not None
            self.spots.place_handle("height", elevation.handle_area(),
                                    f"model height {self.desk.words(height)}, another view of the scale",
                                    Qt.CursorShape.SizeVerCursor, self._wire_height)  # fmt: skip
        handle = self.spots.find("scale")
        if handle:
            handle.raise_()

    def _wire_ladder(self, handle: Handle) -> None:
        handle.pressed.connect(self._grasp)
        handle.dragged.connect(self._drag_scale)
        handle.released.connect(self._let_go)
        handle.stepped.connect(self._step)
        handle.typing.connect(self.type_scale)
        handle.accepted.connect(partial(self.desk.accept, "scale"))

    def _wire_height(self, handle: Handle) -> None:
        handle.pressed.connect(self._grasp)
        handle.dragged.connect(self._drag_height)
        handle.released.connect(self._let_go)
        handle.stepped.connect(lambda steps: self._step(-steps))
        handle.typing.connect(self.type_scale)
        handle.accepted.connect(partial(self.desk.accept, "scale"))

    # ------------------------------------------------------------------------------------- edits
    def _grasp(self) -> None:
        self._held = self.elevation()
        self.desk.grasp()

    def _let_go(self) -> None:
        self._held = None
        self.desk.let_go()

    def _drag_scale(self, at: QPointF) -> None:
        self.desk.decide(self.desk.decision("scale"), self.ladder().scale_at(at.x()))

    def _drag_height(self, at: QPointF) -> None:
        if self._held:
            scale = min(max(self._held.scale_for_y(at.y()), self.ladder().ladder.low), self.ladder().ladder.high)
            self.desk.decide(self.desk.decision("scale"), scale)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Comma, Qt.Key.Key_Period):
            self._step(-1 if event.key() == Qt.Key.Key_Comma else 1)
        else:
            event.ignore()

    def _step(self, steps: int) -> None:
        """To the next stock scale, up or down; ten at a time with Shift."""
        self.desk.decide(self.desk.decision("scale"), next_scale(self.desk.build.scale, steps))

    def type_scale(self, first: str = "") -> None:
        """Open the line to type a scale into, over the number."""
        area, stands = self.ladder().marker_area(), show_scale(self.desk.build.scale)
        self.type_over("scale", area, stands, self._accept, "scale", first, role="on_drawing")

    def _accept(self, text: str) -> bool:
        return self.desk.decide_typed(self.desk.decision("scale"), text)

    def draw(self, ink: Ink) -> None:
        if not self.desk.chosen:
            ink.text(18, 30, "No build yet.", "bench_question")
            return
        view = self.ladder()
        bands = tuple(lane.bands for lane in view.ladder.lanes)
        area = QRectF(0, 0, self.width(), view.bottom + 38)
        self.kept(ink, "ladder", (view.ladder.basis, bands), area, view.draw_still)
        ink.text(18, 29, f"How big is {self.desk.build.called}?", "bench_question")
        view.draw_moving(ink)
        self.elevation().draw(ink)
