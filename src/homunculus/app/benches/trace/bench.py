"""What outline has it? A picture laid under, one known length, and points along the outside: the form follows each of them."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.trace.drawing import draw_form, draw_outline
from homunculus.app.benches.trace.tracing import Tracing
from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Handle
from homunculus.app.files import ask_to_read
from homunculus.app.theme.ink import Ink
from homunculus.core.edits import traced as edits
from homunculus.core.edits.traced import Which
from homunculus.core.job.traces import Point, View
from homunculus.core.quantities import parse
from homunculus.core.showing import so_many
from homunculus.exchange.formats import offered

if TYPE_CHECKING:
    pass

LEFT, TOP, RIGHT_W = 18.0, 100.0, 226.0
VIEWS: tuple[Which, ...] = ("front", "side")
HOLD = 24.0
"""Of a point on a crowded outline: smaller than what stands alone, so that its neighbours can be had too."""


class TraceBench(Bench):
    """The chosen piece of the chosen build, traced over its pictures. Every point is a step of the job."""

    least_height = 420

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Trace")
        self.tracing = Tracing(desk)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    # ------------------------------------------------------------------------------------ reading
    # -------------------------------------------------------------------------------- the picture
    def area(self) -> QRectF:
        """Where the picture lies."""
        room = QRectF(LEFT, TOP, self.width() - RIGHT_W - LEFT - 14, self.height() - TOP - 14)
        image = self.tracing.image()
        if image.isNull():
            return room
        ratio = min(room.width() / image.width(), room.height() / image.height())
        return QRectF(room.left(), room.top(), image.width() * ratio, image.height() * ratio)

    def on_bench(self, point: Point) -> QPointF:
        """Where a point of the picture lies on the bench."""
        area, image = self.area(), self.tracing.image()
        ratio = area.width() / max(1, image.width())
        return QPointF(area.left() + point[0] * ratio, area.top() + point[1] * ratio)

    def in_picture(self, at: QPointF) -> Point:
        """Which point of the picture lies at a place of the bench."""
        area, image = self.area(), self.tracing.image()
        ratio = area.width() / max(1, image.width())
        return (at.x() - area.left()) / ratio, (at.y() - area.top()) / ratio

    # --------------------------------------------------------------------------------------- spots
    def content(self) -> object:
        piece = self.tracing.piece()
        return (
            piece.trace if piece else None,
            piece.form if piece else None,
            piece.name if piece else "",
            self.tracing.which,
            self.tracing.snap,
            self.tracing.cross,
        )

    def enter(self) -> None:
        """The keyboard is on the picture: its cross goes by arrows."""
        self.setFocus()

    def arrange(self) -> None:
        piece, view = self.tracing.piece(), self.tracing.view()
        if piece is None:
            self.empty_spot(
                "mould",
                "its first piece",
                "A form is traced for a piece: say what the build consists of.",
                partial(self.desk.asked_of_made.emit, "add_piece"),
            )
            return
        for i, which in enumerate(VIEWS):
            self.spots.place(
                f"view:{which}",
                QRectF(12 + i * 112, 40, 108, 34),
                f"the picture from the {which}, key V",
                partial(self.show_view, which),
            )
        if view is None:
            self.empty_spot(
                "frame",
                "a picture",
                "a drawing or a photograph (PNG, JPEG, SVG): drop it here",
                self.choose_picture,
                TOP,
            )
            return
        for name, x, words, act in (
            ("offer", 240.0, "outline what stands out, key A", self.tracing.offer),
            ("snap", 388.0, "points go to the edges near them, key S", self.turn_snap),
        ):
            self.spots.place(name, QRectF(x, 40, 140, 34), words, act)
        if not view.closed and len(view.outline) > 2:
            self.spots.place(
                "close", QRectF(self.width() - RIGHT_W, 40, 160, 34), "close the outline, key Enter", self.close_outline
            )
        for i, point in enumerate(view.known):
            self._point_spot(f"known:{i}", point, f"end {i + 1} of the known length", 40.0)
        if len(view.known) == 2:
            middle = self.on_bench(
                ((view.known[0][0] + view.known[1][0]) / 2, (view.known[0][1] + view.known[1][1]) / 2)
            )
            self.spots.place(
                "length",
                QRectF(middle.x() - 50, middle.y() - 44, 110, 40),
                "the known length: type how long it really is",
                self.ask_length,
            )
        for i, point in enumerate(view.outline):
            self._point_spot(f"point:{i}", point, f"point {i + 1} of the outline", HOLD)

    def _point_spot(self, key: str, point: Point, words: str, hold: float) -> None:
        at = self.on_bench(point)
        area = QRectF(at.x() - hold / 2, at.y() - hold / 2, hold, hold)
        self.spots.place_handle(
            key, area, words, Qt.CursorShape.CrossCursor, lambda handle: self._wire_point(handle, key)
        )

    def _wire_point(self, handle: Handle, key: str) -> None:
        handle.pressed.connect(self.desk.grasp)
        handle.dragged.connect(lambda at: self.tracing.pull(key, self.in_picture(at)))
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(lambda steps: self.tracing.step(key, steps))
        handle.typing.connect(lambda _: self.tracing.close_outline() if key.startswith("point:") else self.ask_length())

    # ---------------------------------------------------------------------------------------- acts
    def show_view(self, which: Which) -> None:
        """Show the picture from the front or from the side."""
        self.tracing.which = which
        self.refresh()

    def turn_view(self) -> None:
        """Show the other picture."""
        self.show_view("side" if self.tracing.which == "front" else "front")

    def turn_snap(self) -> None:
        """Draw points that are set to the edges near them from now on, or no longer."""
        self.tracing.snap = not self.tracing.snap
        self.desk.said.emit(
            "Points go to the edge near them." if self.tracing.snap else "Points stay where they are set."
        )
        self.refresh()

    def choose_picture(self) -> None:
        """Ask for a picture to lay under."""
        path = ask_to_read(self, "A drawing or a photograph", "picture", f"{offered('Pictures', 'picture', 'drawing')}")
        if path:
            self.tracing.lay(path)

    def press(self, at: Point, *, free: bool = False) -> None:
        """Set a point; where the known length has both its ends, ask how long it is."""
        if self.tracing.press(at, free=free):
            self.ask_length()

    def close_outline(self) -> None:
        """Bring the outline to its beginning: the form follows."""
        self.tracing.close_outline()

    def offer(self) -> None:
        """Outline what stands out in the picture."""
        self.tracing.offer()

    def take_away(self) -> None:
        """Take the picture away; the form stays as it is."""
        self.tracing.take_away()

    def lay(self, path: Path) -> None:
        """Lay a picture under the view that is shown."""
        self.tracing.lay(path)

    def ask_length(self) -> None:
        """Ask how long the known length really is."""
        view, spot = self.tracing.view(), self.spots.find("length")
        if view is None or len(view.known) < 2:
            self.desk.said.emit("Press the two ends of the known length first.")
            return
        middle = self.on_bench(view.known[1])
        area = QRectF(spot.geometry()) if spot else QRectF(middle.x() - 50, middle.y() - 44, 110, 40)

        def take(words: str) -> bool:
            length = parse(words, "length", self.desk.system)
            return self.tracing.change(
                "a known length",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, view.known, length),
            )

        stands = str(self.desk.given(view.known_m, "length")) if view.known_m else ""
        self.type_over("how long it really is, such as 1.2 m", area, stands, take, self, role="on_drawing")
        self.desk.said.emit("How long is that really?")

    # ---------------------------------------------------------------------------------- mouse, keys
    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if (
            event.button() == Qt.MouseButton.LeftButton
            and self.tracing.view()
            and self.area().contains(event.position())
        ):
            self.press(
                self.in_picture(event.position()), free=bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            )

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        far = 1 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 10
        arrows = {
            Qt.Key.Key_Left: (-far, 0),
            Qt.Key.Key_Right: (far, 0),
            Qt.Key.Key_Up: (0, -far),
            Qt.Key.Key_Down: (0, far),
        }
        if key in arrows and self.tracing.view():
            self._walk(*arrows[Qt.Key(key)])
            return
        match key:
            case Qt.Key.Key_Insert:
                self.press(self.tracing.cross)
            case Qt.Key.Key_Backspace:
                self.tracing.back()
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self.tracing.close_outline()
            case Qt.Key.Key_A:
                self.tracing.offer()
            case Qt.Key.Key_S:
                self.turn_snap()
            case Qt.Key.Key_V:
                self.turn_view()
            case Qt.Key.Key_Delete:
                self.tracing.take_away()
            case Qt.Key.Key_BracketLeft | Qt.Key.Key_BracketRight:
                self._next_piece(1 if key == Qt.Key.Key_BracketRight else -1)
            case _:
                event.ignore()

    def _walk(self, across: int, down: int) -> None:
        image = self.tracing.image()
        x, y = self.tracing.cross
        self.tracing.cross = (
            min(max(0.0, x + across), float(image.width())),
            min(max(0.0, y + down), float(image.height())),
        )
        self.refresh()

    def _next_piece(self, by: int) -> None:
        piece = self.tracing.piece()
        if piece:
            pieces = self.desk.build.pieces
            self.desk.piece_id = pieces[(pieces.index(piece) + by) % len(pieces)].id
            self.desk.changed.emit()

    # ------------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        piece, view = self.tracing.piece(), self.tracing.view()
        if piece is None:
            ink.text(18, 29, "What outline has it?", "bench_question")
            self.draw_empty(ink)
            return
        ink.text(
            18,
            29,
            ink.squeezed(self.width() - 40, f"What outline has the {piece.name}?", "bench_question"),
            "bench_question",
        )
        self._draw_names(ink, view)
        x = self.width() - RIGHT_W + 4.0
        draw_form(ink, self.desk, piece, QRectF(x, TOP, RIGHT_W - 20, self.height() - TOP - 10))
        if view is None:
            self.draw_empty(ink)
            return
        ink.text(18, 90, ink.squeezed(self.width() - RIGHT_W - 30, self._next_words(view), "label"), "label", "ink")
        area, image = self.area(), self.tracing.image()
        if image.isNull():
            ink.text(
                area.left(),
                area.top() + 30,
                "The picture is no longer in the job folder. Lay it under again.",
                "body",
                "danger",
            )
        ink.painter.drawImage(area, image)
        ink.box(area.left(), area.top(), area.width(), area.height(), edge="line")
        self._draw_known(ink, view)
        draw_outline(ink, [self.on_bench(point) for point in view.outline], closed=view.closed)
        if self.hasFocus():
            at = self.on_bench(self.tracing.cross)
            for dx, dy in ((9, 0), (0, 9)):
                ink.rule(at.x() - dx, at.y() - dy, at.x() + dx, at.y() + dy, "danger", 1.2)

    def _next_words(self, view: View) -> str:
        if len(view.known) < 2:
            return f"Press the {'first' if not view.known else 'other'} end of a length that you know."
        if view.known_m is None:
            return "Type how long that is really."
        if view.closed:
            return f"Closed, {len(view.outline)} points. Drag one, or Backspace opens it again."
        points = so_many(len(view.outline), "point")
        return f"Press along the outside, {points} so far. Backspace takes one back, Enter closes."

    def _draw_names(self, ink: Ink, view: View | None) -> None:
        piece = self.tracing.piece()
        for which in ("front", "side"):
            spot = self.spots.find(f"view:{which}")
            if spot is None or piece is None:
                continue
            here, there = which == self.tracing.which, edits.view_of(piece, which) is not None
            words = f"from the {which}" + ("" if there else ", none")
            width = ink.text(spot.x() + 6, 62, words, "label", "ink" if here else "ink2", weight=600 if here else 0)
            if here:
                ink.rule(spot.x() + 6, 67, spot.x() + 6 + width, 67, "ink", 2)
        for name, words in (
            ("offer", "outline what stands out"),
            ("snap", f"to the edges: {'yes' if self.tracing.snap else 'no'}"),
            ("close", "close it: the form follows"),
        ):
            spot = self.spots.find(name)
            if spot:
                width = ink.text(spot.x() + 6, 62, words, "label", "decide")
                ink.rule(spot.x() + 6, 67, spot.x() + 6 + width, 67, "decide", 1, "" if view else "hidden")

    def _draw_known(self, ink: Ink, view: View) -> None:
        ends = [self.on_bench(point) for point in view.known]
        for end in ends:
            ink.lozenge(end.x(), end.y(), 11)
        if len(ends) == 2:
            ink.dimension(ends[0].x(), ends[0].y(), ends[1].x(), ends[1].y(), "decide")
            spot = self.spots.find("length")
            if spot:
                if view.known_m is None:
                    ink.plate(spot.x() + 4, spot.y() + 8, 84, 20)
                    ink.text(spot.x() + 6, spot.y() + 24, "how long?", "label", "decide")
                else:
                    shown = self.desk.given(view.known_m, "length")
                    ink.plate(spot.x() + 4, spot.y() + 6, ink.number_width(shown, "lane_value") + 14, 26)
                    ink.decided(spot.x() + 6, spot.y() + 24, shown, "lane_value")
