"""The pieces in the elevation are taken hold of: moved along and up, pulled longer and higher, their sizes typed."""

from __future__ import annotations

import math
from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt

from homunculus.app.benches.base import Bench
from homunculus.app.benches.made.acts import Acts
from homunculus.app.benches.made.begin_view import SIDES
from homunculus.app.benches.made.elevation import Elevation
from homunculus.app.benches.made.strip import HEIGHT
from homunculus.app.drawing.spot import Handle
from homunculus.core.edits.pieces import on_ground, real_size, section_ends, section_width
from homunculus.core.form.stretch import nice_step
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.plan.memory import Last
from homunculus.core.quantities import parse, parse_signed

Held = tuple[QPointF, tuple[float, float]]


class PieceHandles:
    """The pieces of the chosen build as they stand, each to be taken hold of.

    Parameters
    ----------
    bench
        On which they are drawn.
    acts
        What is done with them.
    """

    def __init__(self, bench: Bench, acts: Acts) -> None:
        self.bench, self.desk, self.spots, self.acts = bench, bench.desk, bench.spots, acts
        self._held: Held | None = None
        self._view: Last[Elevation] = Last()
        self._lifted: dict[str, tuple[int, str]] | None = None

    def piece(self) -> Piece | None:
        """The chosen piece of the chosen build."""
        pieces = self.desk.build.pieces if self.desk.chosen else ()
        return next((p for p in pieces if p.id == self.desk.piece_id), pieces[0] if pieces else None)

    def split(self) -> float:
        """Where the lines begin."""
        return max(self.bench.width() * 0.6, self.bench.width() - 420.0)

    def strip_top(self) -> float:
        """Where the strip begins."""
        return self.bench.height() - HEIGHT

    def elevation(self) -> Elevation:
        """The build as it stands."""
        area = QRectF(18, 116, self.split() - 44, self.strip_top() - 116 - 42)
        lifted = self._lifted if self.desk.gesture is not None else None
        view = self._view.get(
            (self.desk.build, self.desk.facts, area.width(), area.height(), lifted),
            lambda: Elevation(self.desk, area, lifted),
        )
        self._lifted = view.lifted  # while something is dragged nothing is lifted otherwise
        return view

    def arrange(self, piece: Piece | None) -> None:
        """Lay the handles of all pieces, and of the sizes and sections of the chosen one."""
        view = self.elevation()
        for one, _ in sorted(view.paths, key=lambda row: piece is not None and row[0].id == piece.id):
            box = view.outline(one).boundingRect()
            grown = box.adjusted(-max(0.0, 20 - box.width() / 2), -max(0.0, 20 - box.height() / 2), max(0.0, 20 - box.width() / 2),
                                 max(0.0, 20 - box.height() / 2))  # fmt: skip
            said = f"{one.name}, {self.desk.given(one.at_m[0], 'length')} along: drag or arrows move it"
            handle = self.spots.place_handle(
                f"piece:{one.id}", grown, said, Qt.CursorShape.SizeAllCursor, partial(self._wire_piece, one.id)
            )
            handle.lower() if piece is None or one.id != piece.id else handle.raise_()
        box = view.outline(piece).boundingRect() if piece else QRectF()
        if piece is None or box.isEmpty():
            return
        if real_size(piece, 0) is not None:  # a mesh is as large as it was drawn
            self._size_spots(piece, box)
        for index, at in self.section_ends(piece):
            said = f"section {index + 1} of the {piece.name}: pull its width and its height; arrows step the width"
            self.spots.place_handle(f"section:{index}", QRectF(at.x() - 22, at.y() - 11, 44, 22), said, Qt.CursorShape.SizeAllCursor,
                                    partial(self._wire_section, index)).raise_()  # fmt: skip
        foot = QRectF(box.center().x() - 20, box.bottom() - 14, 40, 28)
        said = f"foot of the {piece.name}, {self.desk.given(piece.at_m[1], 'length')} up, real"
        self.spots.place_handle("foot", foot, said, Qt.CursorShape.SizeVerCursor, self._wire_foot).raise_()

    def _size_spots(self, piece: Piece, box: QRectF) -> None:
        """Where the sizes of a piece are pulled."""
        ends = {
            0: (QPointF(box.right(), box.center().y()), Qt.CursorShape.SizeHorCursor),
            2: (QPointF(box.center().x(), box.top()), Qt.CursorShape.SizeVerCursor),
        }
        for side, (at, cursor) in ends.items():
            real = real_size(piece, side) or 0.0
            state = "a beginning, = lets it stand" if self.acts.begun(piece) else "decided"
            said = f"{piece.name} {SIDES[side]}, {self.desk.given(real, 'length')} real, {state}"
            self.spots.place_handle(
                f"size:{side}", QRectF(at.x() - 20, at.y() - 20, 40, 40), said, cursor, partial(self._wire_size, side)
            ).raise_()

    def section_ends(self, piece: Piece | None) -> list[tuple[int, QPointF]]:
        """Where the measured sections of a piece are taken hold of: at their right ends, those that are far enough apart."""
        if piece is None or not (ends := section_ends(piece)):
            return []
        view = self.elevation()
        found: list[tuple[int, QPointF]] = []
        last = math.inf
        for index, end in enumerate(ends):
            at = view.point(*end, piece.id)
            if abs(last - at.y()) >= 22:  # so that no two lie on each other
                found.append((index, at))
                last = at.y()
        return found

    def _wire_section(self, index: int, handle: Handle) -> None:
        def pull(at: QPointF) -> None:
            piece = self.piece()
            if piece is None:
                return
            view, step = self.elevation(), nice_step(40 / self.elevation().px)
            middle = view.point(*piece.at_m, piece.id)
            wide = max(step, round(2 * (at.x() - middle.x()) / view.px / step) * step)
            high = round((middle.y() - at.y()) / view.px / step) * step
            self.acts.section(piece, index, wide, high)

        def step(steps: int) -> None:
            piece = self.piece()
            if piece and (wide := section_width(piece, index)):
                by = nice_step(wide)
                self.acts.section(piece, index, max(by, round(wide / by + steps) * by))

        handle.pressed.connect(self.desk.grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(step)
        handle.typing.connect(lambda _first: self.type_line(self._chosen_id()))

    def _chosen_id(self) -> str:
        piece = self.piece()
        return piece.id if piece else ""

    def wide(self, name: str, over: str, first: str, accept: Callable[[str], bool], hint: str = "") -> None:
        """Open a line as wide as the bench over a spot: what is typed is seen whole. A ``hint`` tells how it is written."""
        spot = self.spots.find(over)
        if spot:
            y = QRectF(spot.geometry()).center().y() - 19
            self.bench.type_over(name, QRectF(14, y, self.bench.width() - 50, 38), first, accept, spot, hint=hint)

    def type_line(self, piece_id: str) -> None:
        """Choose a piece and type its line anew."""
        self.acts.choose(piece_id)
        if any(piece.id == piece_id for piece in self.desk.build.pieces):
            piece, take = self._chosen(piece_id), partial(self.acts.typed, piece_id)
            self.wide(f"the line of {piece.name}", f"line:{piece_id}", self.acts.line(piece), take)

    # ---------------------------------------------------------------------------------- dragging
    def _chosen(self, piece_id: str) -> Piece:
        return piece_of(self.desk.build, piece_id)

    def _wire_piece(self, piece_id: str, handle: Handle) -> None:
        def grasp() -> None:
            self.acts.choose(piece_id)
            self._held = None
            self.desk.grasp()

        def pull(at: QPointF) -> None:
            piece = self._chosen(piece_id)
            if self._held is None:
                self._held = (at, piece.at_m)
            start, (along, up) = self._held
            px = self.elevation().px
            step = nice_step(40 / px)
            moved = tuple(
                round(v / step) * step for v in (along + (at.x() - start.x()) / px, up - (at.y() - start.y()) / px)
            )
            self.acts.placed(piece, moved[0], on_ground(piece, moved[1]))

        def step(steps: int) -> None:
            self.acts.choose(piece_id)
            self.acts.pushed(self._chosen(piece_id), along=steps)

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(step)
        handle.typing.connect(lambda _first: self.type_line(piece_id))

    def _wire_foot(self, handle: Handle) -> None:
        def pull(at: QPointF) -> None:
            piece = self.piece()
            if piece:
                view = self.elevation()
                step = nice_step(40 / view.px)
                up = on_ground(piece, round(view.up(at.y(), piece.id) / step) * step)
                self.acts.placed(piece, piece.at_m[0], up)

        def step(steps: int) -> None:
            piece = self.piece()
            if piece:
                self.acts.pushed(piece, up=steps)

        def type_over(first: str) -> None:
            if piece := self.piece():
                self.bench.type_over(f"how high the foot of the {piece.name} is, real", QRectF(handle.geometry()), self.acts.length(piece.at_m[1]),
                         self._foot_typed, handle, first, role="on_drawing")  # fmt: skip

        handle.pressed.connect(self.desk.grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(step)
        handle.typing.connect(type_over)

    def _foot_typed(self, words: str) -> bool:
        piece = self.piece()
        return piece is not None and self.acts.placed(piece, piece.at_m[0], parse_signed(words, self.desk.system))

    def _wire_size(self, side: int, handle: Handle) -> None:
        held: list[tuple[float, float, float]] = []

        def grasp() -> None:
            held.clear()
            self.desk.grasp()

        def pull(at: QPointF) -> None:
            piece = self.piece()
            now = real_size(piece, side) if piece else None
            if piece is None or now is None:
                return
            here = at.x() if side == 0 else -at.y()
            if not held:
                held.append((here, now, self.elevation().px))
            start, size, px = held[0]
            grown = size + (here - start) / px * (2 if side == 0 else 1)  # pulled from its middle, both ends go
            step = nice_step(40 / px)
            self.acts.sized(piece, side, max(step, round(grown / step) * step))

        def step(steps: int) -> None:
            piece = self.piece()
            now = real_size(piece, side) if piece else None
            if piece and now:
                by = nice_step(now)
                self.acts.sized(piece, side, max(by, round(now / by + steps) * by))

        def type_over(first: str) -> None:
            piece = self.piece()
            now = real_size(piece, side) if piece else None
            if piece and now:
                self.bench.type_over(f"how {SIDES[side]} the {piece.name} really is", QRectF(handle.geometry()), self.acts.length(now),
                         lambda words: self._sized(side, words), handle, first, role="on_drawing")  # fmt: skip

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(step)
        handle.typing.connect(type_over)
        handle.accepted.connect(self._accept_size)

    def _accept_size(self) -> None:
        if piece := self.piece():
            self.acts.size_accepted(piece)

    def _sized(self, side: int, words: str) -> bool:
        piece = self.piece()
        return piece is not None and self.acts.sized(piece, side, parse(words, "length", self.desk.system))
