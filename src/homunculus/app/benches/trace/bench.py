"""What outline has it? A picture laid under, one known length, and points along the outside: the form follows each of them."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QImage, QImageReader, QKeyEvent, QMouseEvent, QPolygonF
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.drawing.spot import Handle
from homunculus.app.drawing.typing import Typed
from homunculus.app.files import ask_to_read
from homunculus.app.theme.ink import Ink
from homunculus.core.edits import traced as edits
from homunculus.core.edits.traced import Which
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.form.outline import outline
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Sections
from homunculus.core.job.job import Job
from homunculus.core.job.traces import Point, View
from homunculus.core.quantities import parse
from homunculus.exchange.formats import offered, reader

if TYPE_CHECKING:
    from numpy.typing import NDArray

LEFT, TOP, RIGHT_W = 18.0, 100.0, 226.0
VIEWS: tuple[Which, ...] = ("front", "side")
HOLD = 24.0
"""Of a point on a crowded outline: smaller than what stands alone, so that its neighbours can be had too."""
MOST_PIXELS = 100_000_000


class TraceBench(Bench):
    """The chosen piece of the chosen build, traced over its pictures. Every point is a step of the job."""

    least_height = 420

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Trace")
        self.which: Which = "front"
        self.snap = True
        self.cross: Point = (0.0, 0.0)
        """Where the keyboard points, in pixels of the picture."""
        self._images: dict[str, QImage] = {}
        self._grey: tuple[str, Any] = ("", None)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)

    # ------------------------------------------------------------------------------------ reading
    def piece(self) -> Piece | None:
        """The piece that is traced: the one that the benches draw, else the first."""
        if not self.desk.chosen or not self.desk.build.pieces:
            return None
        pieces = self.desk.build.pieces
        return next((p for p in pieces if p.id == self.desk.piece_id), pieces[0])

    def view(self) -> View | None:
        """The view that is shown, or none where no picture lies under it."""
        piece = self.piece()
        return edits.view_of(piece, self.which) if piece else None

    def image(self, name: str) -> QImage:
        """A picture of the job folder; null when it is no longer there or is too large."""
        from homunculus.store.pictures import picture_file

        if name not in self._images:
            image = QImage()
            try:
                source = QImageReader(str(picture_file(self.desk.folder.path, name)))
                source.setAutoTransform(True)
                size = source.size()
                if 0 < size.width() * size.height() <= MOST_PIXELS:
                    image = source.read()
            except UserError as trouble:
                self.desk.said.emit(str(trouble))
            self._images[name] = image
        return self._images[name]

    def grey(self, name: str) -> NDArray[Any] | None:
        """A picture's brightness, rows by columns; none where it cannot be read."""
        import numpy as np

        if self._grey[0] != name:
            image = self.image(name)
            found: NDArray[Any] | None = None
            if not image.isNull():
                plain = image.convertToFormat(QImage.Format.Format_Grayscale8)
                rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
                found = rows[:, : plain.width()].astype(float)
            self._grey = (name, found)
        return self._grey[1]  # type: ignore[no-any-return]

    # -------------------------------------------------------------------------------- the picture
    def area(self) -> QRectF:
        """Where the picture lies."""
        view = self.view()
        room = QRectF(LEFT, TOP, self.width() - RIGHT_W - LEFT - 14, self.height() - TOP - 14)
        image = self.image(view.picture) if view else QImage()
        if image.isNull():
            return room
        ratio = min(room.width() / image.width(), room.height() / image.height())
        return QRectF(room.left(), room.top(), image.width() * ratio, image.height() * ratio)

    def on_bench(self, point: Point) -> QPointF:
        """Where a point of the picture lies on the bench."""
        area, image = self.area(), self.image(self.view().picture) if self.view() else QImage()  # type: ignore[union-attr]
        ratio = area.width() / max(1, image.width())
        return QPointF(area.left() + point[0] * ratio, area.top() + point[1] * ratio)

    def in_picture(self, at: QPointF) -> Point:
        """Which point of the picture lies at a place of the bench."""
        area, image = self.area(), self.image(self.view().picture) if self.view() else QImage()  # type: ignore[union-attr]
        ratio = area.width() / max(1, image.width())
        return (at.x() - area.left()) / ratio, (at.y() - area.top()) / ratio

    # --------------------------------------------------------------------------------------- spots
    def content(self) -> object:
        piece = self.piece()
        return (
            piece.trace if piece else None,
            piece.form if piece else None,
            piece.name if piece else "",
            self.which,
            self.snap,
            self.cross,
        )

    def enter(self) -> None:
        """The keyboard is on the picture: its cross goes by arrows."""
        self.setFocus()

    def arrange(self) -> None:
        piece, view = self.piece(), self.view()
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
            ("offer", 240.0, "outline what stands out, key A", self.offer),
            ("snap", 388.0, "points go to the edges near them, key S", self.turn_snap),
        ):
            self.spots.place(name, QRectF(x, 40, 140, 34), words, act)
        if not view.closed and len(view.outline) > 2:
            self.spots.place(
                "close", QRectF(self.width() - RIGHT_W, 40, 160, 34), "close the outline, key Enter", self.close_outline
            )
        for i, point in enumerate(view.known):
            self._point_spot(
                f"known:{i}", point, f"end {i + 1} of the known length", partial(self._pull_known, i), 40.0
            )
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
            self._point_spot(f"point:{i}", point, f"point {i + 1} of the outline", partial(self._pull_point, i), HOLD)

    def _point_spot(self, key: str, point: Point, words: str, pull: Any, hold: float) -> None:
        at = self.on_bench(point)
        area = QRectF(at.x() - hold / 2, at.y() - hold / 2, hold, hold)
        self.spots.place_handle(
            key, area, words, Qt.CursorShape.CrossCursor, lambda handle: self._wire_point(handle, key, pull)
        )

    def _wire_point(self, handle: Handle, key: str, pull: Any) -> None:
        handle.pressed.connect(self.desk.grasp)
        handle.dragged.connect(lambda at: self._pull(key, self.in_picture(at)))
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(lambda steps: self._step(key, steps))
        handle.typing.connect(lambda _: self.close_outline() if key.startswith("point:") else self.ask_length())

    def _pull(self, key: str, to: Point) -> None:
        sort, _, number = key.partition(":")
        (self._pull_known if sort == "known" else self._pull_point)(int(number), to)

    def _step(self, key: str, steps: int) -> None:
        view = self.view()
        sort, _, number = key.partition(":")
        points = view.known if view and sort == "known" else view.outline if view else ()
        if int(number) < len(points):
            x, y = points[int(number)]
            self._pull(key, (x + steps, y))

    # ---------------------------------------------------------------------------------------- acts
    def _change(self, name: str, make: Callable[[Job, str, str, Which], Job]) -> bool:
        piece = self.piece()
        if piece is None:
            return False
        try:
            job = make(self.desk.job, self.desk.chosen, piece.id, self.which)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        return self.desk.edit(f"{piece.name}: {name}", job, self.desk.gesture)

    def show_view(self, which: Which) -> None:
        """Show the picture from the front or from the side."""
        self.which = which
        self.refresh()

    def turn_view(self) -> None:
        """Show the other picture."""
        self.show_view("side" if self.which == "front" else "front")

    def turn_snap(self) -> None:
        """Draw points that are set to the edges near them from now on, or no longer."""
        self.snap = not self.snap
        self.desk.said.emit("Points go to the edge near them." if self.snap else "Points stay where they are set.")
        self.refresh()

    def choose_picture(self) -> None:
        """Ask for a picture to lay under."""
        path = ask_to_read(self, "A drawing or a photograph", "picture", f"{offered('Pictures', 'picture', 'drawing')}")
        if path:
            self.lay(path)

    def lay(self, path: Path) -> None:
        """Lay a picture under the view that is shown; a drawing of lines is made one of pixels first, in a process of its own."""
        piece = self.piece()
        if piece is None:
            self.desk.said.emit("A picture is laid under a piece: say first what the build consists of (M).")
            return
        folder = self.desk.folder.path

        def work() -> str:
            from homunculus.exchange.apart import read_apart
            from homunculus.store.atomic import read_bounded
            from homunculus.store.pictures import keep_data, keep_picture

            if path.suffix.lower() != ".svg":
                return keep_picture(folder, path)
            reader("drawing", path.name)  # there is one
            data = read_bounded(path, 5_000_000, path.name)
            return keep_data(
                folder,
                read_apart("homunculus.app.rasterise:svg_as_png", data, path.name, "Export it as PNG"),
                path.name,
            )

        self.desk.runner.begin(f"Reading {path.name}", work, lambda name: self._laid_under(path.name, name))

    def _laid_under(self, called: str, name: str) -> None:
        if self.image(name).isNull():
            self.desk.said.emit(f"{called} cannot be shown: it is damaged, or larger than 100 million pixels.")
            return
        self.cross = (self.image(name).width() / 2, self.image(name).height() / 2)
        if self._change(
            "a picture laid under", lambda job, build, piece, which: edits.with_picture(job, build, piece, which, name)
        ):
            self.desk.said.emit("Which length in it do you know? Press its two ends, then type how long it really is.")

    def take_away(self) -> None:
        """Take the picture away; the form stays as it is."""
        if self._change("without the picture", edits.without_picture):
            self.desk.said.emit("The picture is gone from under it, the form stays. U goes back.")

    def press(self, at: Point, *, free: bool = False) -> None:
        """Set a point: an end of the known length first, then along the outline; ``free`` of the edges near it."""
        view = self.view()
        if view is None or view.closed:
            if view:
                self.desk.said.emit("The outline is closed. Drag its points, or Backspace opens it again.")
            return
        if len(view.known) < 2:
            ends = (*view.known, at)
            if (
                self._change(
                    "an end of the known length",
                    lambda job, build, piece, which: edits.with_known(job, build, piece, which, ends, None),
                )
                and len(ends) == 2
            ):
                self.ask_length()
            return
        if view.known_m is None:
            self.ask_length()
            return
        to = at if free else self._to_edge(at)
        self._change(
            "one more point",
            lambda job, build, piece, which: edits.with_outline(
                job, build, piece, which, (*view.outline, to), closed=False
            ),
        )

    def _to_edge(self, at: Point) -> Point:
        from homunculus.core.form.traced import edge_near

        view = self.view()
        grey = self.grey(view.picture) if view and self.snap else None
        return edge_near(grey, at) if grey is not None else at

    def ask_length(self) -> None:
        """Ask how long the known length really is."""
        view, spot = self.view(), self.spots.find("length")
        if view is None or len(view.known) < 2:
            self.desk.said.emit("Press the two ends of the known length first.")
            return
        middle = self.on_bench(view.known[1])
        area = QRectF(spot.geometry()) if spot else QRectF(middle.x() - 50, middle.y() - 44, 110, 40)

        def take(words: str) -> bool:
            try:
                length = parse(words, "length", self.desk.system)
            except UserError as trouble:
                self.desk.said.emit(str(trouble))
                return False
            return self._change(
                "a known length",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, view.known, length),
            )

        first = str(self.desk.given(view.known_m, "length")).replace("\N{NO-BREAK SPACE}", " ") if view.known_m else ""
        self._typed = Typed(self, self.theme(), "how long it really is, such as 1.2 m", first, take)
        self._typed.closed.connect(self.setFocus)
        self._typed.open_over(area)
        self.desk.said.emit("How long is that really?")

    def _pull_known(self, index: int, to: Point) -> None:
        view = self.view()
        if view and index < len(view.known):
            ends = (*view.known[:index], to, *view.known[index + 1 :])
            self._change(
                "an end of the known length",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, ends, view.known_m),
            )

    def _pull_point(self, index: int, to: Point) -> None:
        view = self.view()
        if view and index < len(view.outline):
            points = (*view.outline[:index], to, *view.outline[index + 1 :])
            self._change(
                "a point pulled",
                lambda job, build, piece, which: edits.with_outline(
                    job, build, piece, which, points, closed=view.closed
                ),
            )

    def back(self) -> None:
        """Open a closed outline again, or take its last point back."""
        view = self.view()
        if view is None or not (view.outline or view.known):
            return
        if not view.outline:
            self._change(
                "an end taken back",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, view.known[:-1], None),
            )
            return
        points = view.outline if view.closed else view.outline[:-1]
        self._change(
            "the last point back",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, points, closed=False),
        )

    def close_outline(self) -> None:
        """Bring the outline to its beginning: the form follows."""
        view = self.view()
        if view is None or view.closed:
            return
        if self._change(
            "traced",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, view.outline, closed=True),
        ):
            self.desk.said.emit(
                "Closed: the form follows, also while you pull. V lays one from the side under, for the depth. U goes back."
            )

    def offer(self) -> None:
        """Outline what stands out in the picture."""
        from homunculus.core.form.traced import outline_offered

        view = self.view()
        grey = self.grey(view.picture) if view else None
        if view is None or grey is None:
            return
        try:
            points = outline_offered(grey)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        closed = view.known_m is not None
        if self._change(
            "outlined by itself",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, points, closed=closed),
        ):
            self.desk.said.emit(
                f"{len(points)} points are offered: pull those that are wrong, or U takes all of them back."
            )

    # ---------------------------------------------------------------------------------- mouse, keys
    def mousePressEvent(self, event: QMouseEvent) -> None:
        self.setFocus()
        if event.button() == Qt.MouseButton.LeftButton and self.view() and self.area().contains(event.position()):
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
        if key in arrows and self.view():
            self._walk(*arrows[Qt.Key(key)])
            return
        match key:
            case Qt.Key.Key_Insert:
                self.press(self.cross)
            case Qt.Key.Key_Backspace:
                self.back()
            case Qt.Key.Key_Return | Qt.Key.Key_Enter:
                self.close_outline()
            case Qt.Key.Key_A:
                self.offer()
            case Qt.Key.Key_S:
                self.turn_snap()
            case Qt.Key.Key_V:
                self.turn_view()
            case Qt.Key.Key_Delete:
                self.take_away()
            case Qt.Key.Key_BracketLeft | Qt.Key.Key_BracketRight:
                self._next_piece(1 if key == Qt.Key.Key_BracketRight else -1)
            case _:
                event.ignore()

    def _walk(self, across: int, down: int) -> None:
        view = self.view()
        image = self.image(view.picture) if view else QImage()
        x, y = self.cross
        self.cross = (min(max(0.0, x + across), float(image.width())), min(max(0.0, y + down), float(image.height())))
        self.refresh()

    def _next_piece(self, by: int) -> None:
        piece = self.piece()
        if piece:
            pieces = self.desk.build.pieces
            self.desk.piece_id = pieces[(pieces.index(piece) + by) % len(pieces)].id
            self.desk.changed.emit()

    # ------------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        piece, view = self.piece(), self.view()
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
        self._draw_form(ink, piece)
        if view is None:
            self.draw_empty(ink)
            return
        ink.text(18, 90, ink.squeezed(self.width() - RIGHT_W - 30, self._next_words(view), "label"), "label", "ink")
        area, image = self.area(), self.image(view.picture)
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
        self._draw_outline(ink, view)
        if self.hasFocus():
            at = self.on_bench(self.cross)
            for dx, dy in ((9, 0), (0, 9)):
                ink.rule(at.x() - dx, at.y() - dy, at.x() + dx, at.y() + dy, "danger", 1.2)

    def _next_words(self, view: View) -> str:
        if len(view.known) < 2:
            return f"Press the {'first' if not view.known else 'other'} end of a length that you know."
        if view.known_m is None:
            return "Type how long that is really."
        if view.closed:
            return f"Closed, {len(view.outline)} points. Drag one, or Backspace opens it again."
        return f"Press along the outside, {len(view.outline)} points so far. Backspace takes one back, Enter closes."

    def _draw_names(self, ink: Ink, view: View | None) -> None:
        piece = self.piece()
        for which in ("front", "side"):
            spot = self.spots.find(f"view:{which}")
            if spot is None or piece is None:
                continue
            here, there = which == self.which, edits.view_of(piece, which) is not None
            words = f"from the {which}" + ("" if there else ", none")
            width = ink.text(spot.x() + 6, 62, words, "label", "ink" if here else "ink2", weight=600 if here else 0)
            if here:
                ink.rule(spot.x() + 6, 67, spot.x() + 6 + width, 67, "ink", 2)
        for name, words in (
            ("offer", "outline what stands out"),
            ("snap", f"to the edges: {'yes' if self.snap else 'no'}"),
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

    def _draw_outline(self, ink: Ink, view: View) -> None:
        points = [self.on_bench(point) for point in view.outline]
        if not points:
            return
        ink.painter.setPen(ink.pen("sheet", 4))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        polygon = QPolygonF([*points, points[0]] if view.closed else points)
        ink.painter.drawPolyline(polygon)
        ink.painter.setPen(ink.pen("decide", 1.8))
        ink.painter.drawPolyline(polygon)
        for at in points if len(points) <= 60 else points[:: len(points) // 60 + 1]:
            ink.lozenge(at.x(), at.y(), 8, hollow=view.closed)

    def _draw_form(self, ink: Ink, piece: Piece) -> None:
        """What follows: the form from the front and from the side, at one scale beside a person or a bar."""
        x, room = self.width() - RIGHT_W + 4, RIGHT_W - 20
        ink.rule(x - 12, 44, x - 12, self.height() - 10, "line", 1)
        ink.text(x, TOP + 4, "The form that follows", "heading")
        ink.rule(x, TOP + 10, x + room, TOP + 10, "ink", 1.2)
        found = measure(piece.form, self.desk.facts)
        if found is None or not isinstance(piece.form, Sections):
            ink.paragraph(
                x,
                TOP + 32,
                room,
                "Closed, the outline makes measured sections of it: as deep as wide, until a picture from the side says otherwise.",
                "note",
                "ink2",
            )
            return
        wide, deep, tall = found.size
        high = min(260.0, self.height() - TOP - 150)
        ratio = min((room - 24) / max(wide + deep, 1e-9), high / max(tall, 1e-9))
        foot = TOP + 40 + high
        self._draw_half(ink, outline(piece.form)[0], x + wide * ratio / 2, foot, ratio)
        turned = Sections(tuple(type(cut)(cut.at_m, cut.depth_m, cut.width_m) for cut in piece.form.sections))
        self._draw_half(ink, outline(turned)[0], x + 24 + (wide + deep / 2) * ratio, foot, ratio)
        ink.rule(x, foot, x + room, foot, "ink", 1.5)
        if PERSON_M * ratio < high * 1.02 and PERSON_M * ratio > 14:
            ink.painter.save()
            ink.painter.translate(x + room - 12, foot)
            ink.painter.setPen(ink.pen("line", 1))
            ink.painter.drawPath(person_path(PERSON_M * ratio))
            ink.painter.restore()
        sides = " × ".join(str(self.desk.given(side, "length")) for side in (wide, deep, tall))
        ink.text(x, foot + 22, ink.squeezed(room, sides, "label"), "label")
        ink.text(x, foot + 40, "wide, deep, high, real", "note", "ink2")
        side = (
            "from its own picture"
            if piece.trace and piece.trace.side and piece.trace.side.closed
            else "round: as deep as wide"
        )
        ink.text(x, foot + 58, side, "note", "ink2")

    @staticmethod
    def _draw_half(ink: Ink, corners: tuple[tuple[float, float], ...], x: float, foot: float, ratio: float) -> None:
        ink.painter.setPen(ink.pen("ink", 1.6))
        ink.painter.setBrush(ink.theme.colour("clay"))
        ink.painter.drawPolygon(QPolygonF([QPointF(x + along * ratio, foot - up * ratio) for along, up in corners]))
