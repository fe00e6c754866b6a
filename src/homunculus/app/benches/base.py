"""A bench: the place in the middle, with decided values to take hold of and reckoned ones to ask."""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.empty import What, draw_empty, empty_area
from homunculus.app.drawing.place import Can, Place
from homunculus.app.drawing.spot import Handle
from homunculus.app.theme.glyphs import state_glyph
from homunculus.app.theme.ink import Ink
from homunculus.core.edits.decisions import Decision
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.build import Piece
from homunculus.core.plan.build_plan import PlannedPour
from homunculus.core.plan.status import pour_at_hand, pour_state
from homunculus.core.quantities import BELOW_NOUGHT

MORE_H = 18.0
"""Height of the line that leads to the cautions that did not fit."""
PULL_PX = 8
"""Pixels a step while a value is pulled: fine enough to stop at half a millimetre."""


class Pull:
    """A decided value that is pulled by hand: up, or with ``along`` to the right, it grows."""

    def __init__(self, desk: Desk, key: str, *, along: bool = False) -> None:
        self.desk, self.key, self.along = desk, key, along
        self._from, self._value = math.nan, 0.0

    def grasp(self) -> None:
        """Take hold of it; nothing is decided yet."""
        self._from, self._value = math.nan, self.desk.decision(self.key).value
        self.desk.grasp()

    def to(self, at: QPointF) -> None:
        """Pull it to a point; the first one is where the hand took hold."""
        here = at.x() if self.along else -at.y()
        if math.isnan(self._from):
            self._from = here
        decision = self.desk.decision(self.key)
        steps = round((here - self._from) / PULL_PX)
        if steps == 0 and decision.value == self._value:
            return  # taken hold of, not pulled
        self.desk.decide(decision, round(self._value / decision.step + steps) * decision.step)


class Bench(Place):
    """What the drawings of the stations share."""

    ground = "sheet"

    def __init__(self, parent: QWidget, desk: Desk, name: str) -> None:
        super().__init__(parent, desk, name)
        self._missing: tuple[What, str, str, QRectF] | None = None
        self._cautions: tuple[str, ...] = ()
        self._first_caution = 0
        self._laid: list[tuple[QPointF, list[str]]] = []
        """Where each caution in sight begins, and its lines."""
        self._more, self._more_at = "", QPointF()

    # ---------------------------------------------------------------------------------- decided
    def decide_spot(self, key: str, area: QRectF, *, along: bool = False, keys: str = "") -> None:
        """Lay a handle over a decided value; pulled up, or with ``along`` to the right, it grows."""
        decision = self.desk.decision(key)
        state = "a beginning, = lets it stand" if decision.begun else "decided"
        said = f"{decision.label} {self.desk.given(decision.value, decision.kind)}, {state}{keys}"
        cursor = Qt.CursorShape.SizeHorCursor if along else Qt.CursorShape.SizeVerCursor
        self.spots.place_handle(f"decide:{key}", area, said, cursor, lambda h: self._wire(h, key, along=along))

    def _wire(self, handle: Handle, key: str, *, along: bool) -> None:
        handle.below_nought = self.desk.decision(key).kind in BELOW_NOUGHT
        pull = Pull(self.desk, key, along=along)
        handle.pressed.connect(lambda: pull.grasp())  # Qt would not keep what a method alone belongs to
        handle.dragged.connect(lambda at: pull.to(at))
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(lambda steps: self.desk.step(self.desk.decision(key), steps))
        handle.typing.connect(lambda first: self.type_value(key, first))
        handle.accepted.connect(lambda: self.desk.accept(key))

    def where_decided(self, key: str) -> tuple[QRectF, QWidget] | None:
        """Where a decided value is typed, and what has the keyboard again afterwards; none when it is not in sight."""
        handle = self.spots.find(f"decide:{key}")
        return (QRectF(handle.geometry()), handle) if handle else None

    def type_value(self, key: str, first: str = "") -> None:
        """Open the line to type a decided value into."""
        where = self.where_decided(key)
        if where is None:
            return
        decision = self.desk.decision(key)
        stands = str(self.desk.given(decision.value, decision.kind))
        self.type_over(
            decision.label,
            where[0],
            stands,
            lambda words: self.desk.decide_typed(self.desk.decision(key), words),
            where[1],
            first,
            role="on_drawing",
        )

    def value_key(self, event: QKeyEvent) -> bool:
        """Do what a key does to a decided value in a list, where the arrows go from row to row; whether it did."""
        key = self.decided_at_hand()
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if not key or not plain or not event.text():
            return False
        if event.text() == "=":
            self.desk.accept(key)
        elif event.text() in "+-":
            self.desk.step(self.desk.decision(key), 1 if event.text() == "+" else -1)
        elif event.text() in "0123456789.,":
            self.type_value(key, event.text())
        else:
            return False
        return True

    def draw_decided(self, ink: Ink, key: str, words: str = "", role: str = "on_drawing") -> None:
        """Draw a decided value where its handle lies, with its words beneath."""
        spot = self.spots.find(f"decide:{key}")
        if spot is None:
            return
        decision, box = self.desk.decision(key), spot.geometry()
        drop = 24 if role == "on_drawing" else 18
        ink.decided(
            box.x() + 8, box.y() + drop, self.desk.given(decision.value, decision.kind), role, begun=decision.begun
        )
        ink.text(box.x() + 8, box.y() + drop + 19, words or self._short(decision), "note", "ink2")

    @staticmethod
    def _short(decision: Decision) -> str:
        return decision.label.rsplit(", ", 1)[-1]

    def can(self, key: str) -> list[Can]:
        """A decided value is typed, stepped, or goes back to the pin."""
        kind, _, name = key.partition(":")
        if kind != "decide":
            return []
        desk = self.desk
        stands = (
            [Can("Let it stand: it is decided", "=", lambda: desk.accept(name))] if desk.decision(name).begun else []
        )
        return [*stands, Can("Type another value", "Enter", lambda: self.type_value(name)), Can("A step more", "↑", lambda: desk.step(desk.decision(name), 1)),
                Can("A step less", "↓", lambda: desk.step(desk.decision(name), -1)), Can("Back to the pinned value", "Esc", lambda: desk.to_pin(desk.decision(name)))]  # fmt: skip

    # --------------------------------------------------------------------------------- cautions
    def lay_cautions(self, cautions: Sequence[str], area: QRectF) -> None:
        """Lay the cautions of a step into an area; those that find no room in it are told, and turned to."""
        if tuple(cautions) != self._cautions:
            self._cautions, self._first_caution = tuple(cautions), 0
        self._laid, y = [], area.top()
        setting, room = self.setting(), area.width() - 26
        pitch = round(self.theme().size("note") * 1.28)
        for words in self._cautions[self._first_caution :]:
            foot = 0 if not self._first_caution and len(self._laid) + 1 == len(cautions) else MORE_H
            lines = setting.wrapped(room, words, "note")
            fit = int((area.bottom() - foot - y) // pitch)
            if self._laid and fit < len(lines):
                break
            lines = setting.within(room, words, "note", max(1, fit))
            self._laid.append((QPointF(area.left(), y), lines))
            y += pitch * len(lines) + 6
        left = len(self._cautions) - self._first_caution - len(self._laid)
        self._more = f"and {left} more" if left else "the first again" if self._first_caution else ""
        if self._more:
            self._more_at = QPointF(area.left() + 26, y + 8)
            self.spots.place(
                "cautions",
                QRectF(area.left() + 20, y - 8, 160, MORE_H + 6),
                f"{self._more}: show them",
                self._turn_cautions,
            )

    def _turn_cautions(self) -> None:
        self._first_caution = (self._first_caution + len(self._laid)) % max(1, len(self._cautions))
        self.again()

    def draw_cautions(self, ink: Ink) -> None:
        """Draw the cautions as they were laid."""
        pitch = round(self.theme().size("note") * 1.28)
        for at, lines in self._laid:
            ink.tag(at.x(), at.y(), "mind")
            for i, line in enumerate(lines):
                ink.text(at.x() + 26, at.y() + 11 + pitch * i, line, "note", "ink2")
        if self._more:
            x, y = self._more_at.x(), self._more_at.y()
            ink.rule(x, y + 4, x + ink.text(x, y, self._more, "note", "ink"), y + 4, "ink", 1)

    # --------------------------------------------------------------------------------- reckoned
    def figure_spot(self, figure: Figure, area: QRectF) -> None:
        """Lay a spot over a reckoned figure that asks why."""
        part = figure.subject.detail
        self.spots.place(f"figure:{figure.spec.name}" + (f":{part}" if part else ""), area,
                         f"{figure.spec.label} {part} {self.desk.words(figure)}",
                         lambda: self.desk.asked_why.emit(figure), figure.spec.meaning)  # fmt: skip

    # ------------------------------------------------------------------------------------ nothing yet
    def empty_spot(self, what: What, handle: str, words: str, act: Callable[[], None], top: float = 60.0) -> None:
        """Where there is nothing yet: lay a handle over the bench's drawing in dashes; :meth:`draw_empty` draws it."""
        self._missing = (what, handle, words, empty_area(self.width(), top))
        self.spots.place("empty", self._missing[3], f"{handle}. {words}", act)

    def draw_empty(self, ink: Ink) -> None:
        """Draw what is missing, in dashes."""
        if self._missing and self.spots.find("empty"):
            what, handle, words, area = self._missing
            draw_empty(ink, area, what, handle, words)

    def headline_area(self, index: int) -> QRectF:
        """Where headline figure ``index`` stands."""
        return QRectF(12 + index * 196, 46, 188, 52)


def moulded_pieces(desk: Desk) -> list[Piece]:
    """Pieces of the chosen build that have a mould."""
    return [p for p in desk.build.pieces if p.mould] if desk.chosen else []


def poured_pieces(desk: Desk) -> list[Piece]:
    """Pieces of the chosen build for which anything is mixed."""
    if not desk.chosen:
        return []
    mixed = {pour.piece for pour in desk.build_plan.pours}
    return [p for p in desk.build.pieces if p.id in mixed]


def drawn_piece(desk: Desk, pieces: list[Piece]) -> Piece | None:
    """The one of these ``pieces`` that the benches draw: the one chosen, else that with which comes what is done next."""
    chosen = next((p for p in pieces if p.id == desk.piece_id), None)
    if chosen or not pieces:
        return chosen
    step = desk.next_pour_step()
    return next((p for p in pieces if step and p.id == step.piece), pieces[0])


def drawn_pour(desk: Desk) -> PlannedPour | None:
    """The pour that Mix, Cure and the weigh-up are about: the one chosen, else the next of the piece's route."""
    piece = drawn_piece(desk, poured_pieces(desk))
    if piece is None:
        return None
    mine = [pour for pour in desk.build_plan.pours if pour.piece == piece.id]
    chosen = next((pour for pour in mine if pour.op == desk.op_id), None) if desk.op_id is not None else None
    return chosen or pour_at_hand(desk.build_plan, desk.book, desk.status, piece.id)


class PieceBench(Bench):
    """A bench about one piece at a time; which one, the desk keeps from station to station."""

    def pieces(self) -> list[Piece]:
        """Pieces of the chosen build that have a mould."""
        return moulded_pieces(self.desk)

    def piece(self) -> Piece | None:
        """The piece that is drawn."""
        return drawn_piece(self.desk, self.pieces())

    def show_piece(self, piece_id: str) -> None:
        """Draw another piece."""
        self.desk.piece_id, self.desk.op_id, self.desk.mix_index = piece_id, None, 0
        self.desk.changed.emit()

    def figure(self, spec: FigureSpec) -> Figure | None:
        """A figure of the piece that is drawn."""
        piece = self.piece()
        return self.desk.build_plan.find(spec, piece.id) if piece else None

    def piece_spots(self, what: str) -> None:
        """Lay the names of the pieces at the upper right, when there are several."""
        x = self.width() - 18.0
        for other in reversed(self.pieces()) if len(self.pieces()) > 1 else []:
            width = 14 + self.setting().width(other.name, "label")
            self.spots.place(f"piece:{other.id}", QRectF(x - width, 4, width, 40), f"{what} of {other.name}",
                             lambda i=other.id: self.show_piece(i))  # type: ignore[misc]  # fmt: skip
            x -= width + 6

    def _question_room(self) -> float:
        """Width that the question has beside the names of the pieces."""
        lefts = [s.x() for p in self.pieces() if (s := self.spots.find(f"piece:{p.id}"))]
        return min(lefts, default=self.width() - 12) - 30

    def draw_pieces(self, ink: Ink) -> None:
        """Draw the names of the pieces, the drawn one underlined."""
        chosen = self.piece()
        for other in self.pieces() if len(self.pieces()) > 1 else []:
            spot = self.spots.find(f"piece:{other.id}")
            if spot is None:
                continue
            box, here = spot.geometry(), chosen is not None and other.id == chosen.id
            width = ink.text(box.x() + 7, 29, other.name, "label", "ink" if here else "ink2")
            if here:
                ink.rule(box.x() + 7, 34, box.x() + 7 + width, 34, "ink", 2)

    def nothing_spots(self) -> None:
        """Lay the way out where no piece has a mould: to the first piece, or to the way that one is made."""
        if self.desk.build.pieces:
            self.spots.place("way", QRectF(12, 74, 300, 34), "make a piece by a usual way", self._make)
        else:
            self.empty_spot("mould", "its first piece", "What it consists of, and how that is made, is said by its pieces.",
                            partial(self.desk.asked_of_made.emit, "add_piece"))  # fmt: skip

    def _make(self) -> None:
        from homunculus.app.benches.mould.ways import ask_way  # reads cards: only when one is asked for

        ask_way(self.window())

    def draw_nothing(self, ink: Ink) -> None:
        """Say that no piece has a mould, and how one gets one."""
        if not self.desk.build.pieces:
            ink.text(18, 29, f"{self.desk.build.name} is of nothing yet.", "bench_question")
            self.draw_empty(ink)
            return
        ink.text(18, 29, "Nothing is moulded here.", "bench_question")
        ink.text(18, 60, "No piece of this build has a mould.", "body", "ink2")
        width = ink.text(18, 96, "+ make a piece by a usual way …", "label", "decide")
        ink.rule(18, 101, 18 + width, 101, "decide", 1)


POURS_Y = 124.0
"""Baseline of the names of the pours."""
LEAST_NAME = 92.0
"""Width below which the names of the pours are not squeezed: then some wait at the ends."""


class PourBench(PieceBench):
    """A bench about one pour at a time: a half of a mould, a jacket, a casting, a coat."""

    def __init__(self, parent: QWidget, desk: Desk, name: str) -> None:
        super().__init__(parent, desk, name)
        self._names: list[tuple[QRectF, PlannedPour]] = []

    def pieces(self) -> list[Piece]:
        """Pieces of the chosen build for which anything is mixed."""
        return poured_pieces(self.desk)

    def pour(self) -> PlannedPour | None:
        """The pour that is drawn."""
        return drawn_pour(self.desk)

    def pours(self) -> list[PlannedPour]:
        """All pours of the drawn piece, in the order of its route."""
        piece = self.piece()
        return [pour for pour in self.desk.build_plan.pours if pour.piece == piece.id] if piece else []

    def show_pour(self, op: str) -> None:
        """Draw another pour of the piece."""
        piece = self.piece()
        if piece:
            self.desk.piece_id, self.desk.op_id, self.desk.mix_index = piece.id, op, 0
            self.desk.changed.emit()

    def show_next_pour(self, by: int) -> None:
        """Draw the pour so many on in the route."""
        pour, pours = self.pour(), self.pours()
        if pour and len(pours) > 1:
            self.show_pour(pours[([p.op for p in pours].index(pour.op) + by) % len(pours)].op)

    def pour_figure(self, spec: FigureSpec, mix: str = "", part: str = "") -> Figure | None:
        """A figure of the pour that is drawn, or of one of its mixes."""
        pour = self.pour()
        return self.desk.build_plan.find(spec, pour.piece, op=pour.op, mix=mix, part=part) if pour else None

    def pour_spots(self, room: float) -> None:
        """Lay the names of the pours into a width, the drawn one in sight."""
        pours, pour = self.pours(), self.pour()
        self._names = []
        if len(pours) < 2 or pour is None:
            return
        wide = [26 + self.setting().width(p.called, "label", 600) for p in pours]
        fit = len(pours) if sum(wide) <= room else max(1, int(room / LEAST_NAME))
        at = [p.op for p in pours].index(pour.op)
        first = max(0, min(at - fit // 2, len(pours) - fit))
        most, x = room / min(fit, len(pours)), 16.0
        for one, width in list(zip(pours, wide, strict=True))[first : first + fit]:
            area = QRectF(x, POURS_Y - 20, width if sum(wide) <= room else min(width, most), 32)
            self._names.append((area, one))
            self.spots.place(f"pour:{one.op}", area, f"pour of {one.name}", lambda op=one.op: self.show_pour(op))  # type: ignore[misc]
            x = area.right()

    def draw_pours(self, ink: Ink) -> None:
        """Draw the names of the pours with how far each is, the drawn one underlined."""
        chosen = self.pour()
        for area, pour in self._names:
            here = chosen is not None and pour.op == chosen.op
            state_glyph(
                ink,
                area.x() + 2,
                POURS_Y - 13,
                pour_state(pour, self.desk.book, self.desk.status),
                "ink" if here else "ink2",
            )
            width = ink.text(area.x() + 20, POURS_Y, ink.squeezed(area.width() - 24, pour.called, "label", 600 if here else 0), "label",
                             "ink" if here else "ink2", weight=600 if here else 0)  # fmt: skip
            if here:
                ink.rule(area.x() + 20, POURS_Y + 5, area.x() + 20 + width, POURS_Y + 5, "ink", 2)
