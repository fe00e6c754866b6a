"""Which column is which? A table that somebody wrote, before it comes in: its columns matched, its bad rows named."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.desk import Desk
from homunculus.app.drawing.row_list import HEAD_H, RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.theme.ink import Ink
from homunculus.app.to_match import NOTHING
from homunculus.core.errors import UserError
from homunculus.core.plan.memory import Last
from homunculus.core.showing import so_many

TOP, ROW = 112.0, 30.0
IN_FILE = (Column("head", "in the file", 208), Column("key", "becomes", 150), Column("sample", "reads", 0))


class MatchBench(Bench):
    """Each column of the file on a line, with what it becomes. Arrows change it, Enter takes the rows in."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Columns")
        self.of = NOTHING
        self.columns: tuple[str, ...] = ()
        self.list: RowList[int] = RowList(
            self, "columns", IN_FILE, Manner(lambda index: index, self._cell, self._said, self._draw_cell), round(ROW)
        )
        self.list.clicked.connect(lambda at: self.turn(at.row(), 1) if at.column() == 1 else None)
        self.list.acted.connect(lambda _: self.take())
        self._trial: Last[Any] = Last()

    @property
    def table(self) -> list[list[str]]:
        """The rows of the table."""
        return self.of.rows

    def enter(self) -> None:
        """Show the table that was read last, with what its columns were guessed to be."""
        self.of = self.desk.to_match
        self.columns = self.of.guess
        self.refresh()

    def trial(self) -> Any:
        """What the table would give as it is matched now, or a sentence why it gives nothing."""
        return self._trial.get((self.columns, self.desk.job, self.desk.shelf.room, self.table), self._try)

    def _try(self) -> Any:
        try:
            return self.of.trial(self.columns)
        except UserError as trouble:
            return str(trouble)

    def content(self) -> object:
        return (self.of.name, self.columns, self.desk.job, self.desk.shelf.room)

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.list.setVisible(bool(self.table))
        if not self.table:
            return
        self.list.setGeometry(8, round(TOP), self.width() - 16, self._list_height())
        self.list.recolour(self.of.name, self.columns)
        self.list.put(range(len(self.columns)))
        self.spots.place("take", QRectF(12, 50, 330, 44), "take the rows in, key Enter", self.take)
        self.spots.place("leave", QRectF(356, 50, 200, 44), "leave it, key Escape", self._leave)

    def _list_height(self) -> int:
        """As high as the columns of the file, as far as what was left out has room beneath."""
        return int(min(HEAD_H + len(self.columns) * ROW, max(3 * ROW, self.height() - TOP - 180)))

    def _said(self, index: int) -> str:
        return f"{self.table[0][index] or f'column {index + 1}'}: {self._key_words(self.columns[index])}"

    def _samples(self, index: int) -> str:
        samples = [row[index] for row in self.table[1:] if row[index].strip()][:3]
        return "  ·  ".join(" ".join(sample.split()) for sample in samples) or "empty"

    def _cell(self, index: int, key: str) -> str:
        if key == "head":
            return self.table[0][index] or f"column {index + 1}"
        return self._key_words(self.columns[index]) if key == "key" else self._samples(index)

    def _key_words(self, key: str) -> str:
        return dict(self.of.offered)[key] if key else "leave out"

    # -------------------------------------------------------------------------------------- acts
    def turn(self, index: int, by: int) -> None:
        """Match a column to the next of what is not matched yet."""
        free = ["", *(k for k, _ in self.of.offered if k == self.columns[index] or k not in self.columns)]
        key = free[(free.index(self.columns[index]) + by) % len(free)]
        self.columns = (*self.columns[:index], key, *self.columns[index + 1 :])
        self.refresh()

    def _leave(self) -> None:
        self.desk.wanted.emit(self.of.back)

    def take(self) -> None:
        """Take the good rows in; one step."""
        if self.of.take(self.columns):
            self._leave()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, index = event.key(), self.list.item()
        if index is not None and key in (Qt.Key.Key_Right, Qt.Key.Key_Left):
            self.turn(index, 1 if key == Qt.Key.Key_Right else -1)
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.table:
            self.list.setFocus()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take()
        else:
            event.ignore()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        ink.text(
            18,
            29,
            ink.squeezed(self.width() - 36, f"Which column of {self.of.name} is which?", "bench_question"),
            "bench_question",
        )
        if not self.table:
            return
        found = self.trial()
        if isinstance(found, str):
            ink.tag(18, 62, "danger")
            ink.text(42, 74, found, "label", "danger")
        else:
            count = len(found.new) + len(found.changed)
            ink.rule(
                18, 84, 18 + ink.text(18, 78, f"Take in {so_many(count, self.of.thing)}", "after_value"), 84, "ink", 2
            )
            words = f"{len(found.new)} new, {len(found.changed)} changed, {found.same} as they are, {len(found.bad)} left out"
            ink.text(18, 102, words, "note", "ink2")
        ink.rule(362, 84, 362 + ink.text(362, 78, "Leave it", "after_value", "ink2"), 84, "ink2", 1)
        if not isinstance(found, str):
            self._bad(ink, found, TOP + self._list_height() + 30)

    def _draw_cell(self, ink: Ink, index: int, key: str, area: QRectF, _above: int | None) -> None:
        x, base, room, becomes = area.left() + 10, area.top() + 20, area.width() - 18, self.columns[index]
        words = self._cell(index, key)
        if key == "head":
            ink.text(x, base, ink.squeezed(room - 30, words, "label"), "label")
            ink.arrow(area.right() - 34, base - 4, 24, "ink2" if becomes else "line")
        elif key == "key":
            words = ink.squeezed(room, words, "label")
            ink.text(x, base, words, "label", "decide" if becomes else "ink2")
            if becomes:
                ink.rule(x, base + 4, x + ink.width(words, "label"), base + 4, "decide", 1.2)
        else:
            ink.text(x, base, ink.squeezed(room, words, "note"), "note", "ink2")

    def _bad(self, ink: Ink, found: Any, y: float) -> None:
        for words in found.filled:
            ink.tag(16, y - 11, "mind")
            ink.text(42, y, words, "note")
            y += 20
        if not found.bad:
            ink.text(18, y, "Every row can be read.", "note", "ink2")
            return
        ink.text(18, y, "Left out, row by row", "heading")
        ink.rule(18, y + 6, self.width() - 18, y + 6, "ink", 1.2)
        y += 26
        for bad in found.bad:
            if y > self.height() - 34:
                ink.text(18, y, f"and {len(found.bad) - found.bad.index(bad)} more", "note", "ink2")
                break
            ink.text(18, y, f"row {bad.row}", "label", "danger")
            ink.text(80, y, bad.column, "label")
            ink.text(190, y, ink.squeezed(self.width() - 208, bad.reason, "note"), "note", "ink2")
            y += 21
