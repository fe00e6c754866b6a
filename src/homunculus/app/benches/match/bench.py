"""Which column is which? A table that somebody wrote, before it comes in: its columns matched, its bad rows named."""

from __future__ import annotations

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.shots import BY_KEY, COLUMNS
from homunculus.core.errors import UserError
from homunculus.exchange.shot_list import ShotTable

TOP, ROW = 118.0, 30.0
HEAD_X, ARROW_X, KEY_X, SAMPLE_X = 18.0, 190.0, 226.0, 380.0


class MatchBench(Bench):
    """Each column of the file on a line, with what it becomes. Arrows change it, Enter takes the rows in."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Columns")
        self.file_name = ""
        self.table: list[list[str]] = []
        self.columns: tuple[str, ...] = ()
        self.first = 0
        self._trial: tuple[object, ShotTable | str] | None = None

    def enter(self) -> None:
        """Show the table that was read last, with what its columns were guessed to be."""
        self.file_name, self.table, self.columns = self.desk.breakdown.files.read_last
        self.first = 0
        self.refresh()

    def trial(self) -> ShotTable | str:
        """What the table would give as it is matched now, or a sentence why it gives nothing."""
        key = (self.columns, self.desk.job, id(self.table))
        if self._trial is None or self._trial[0] != key:
            try:
                found: ShotTable | str = self.desk.breakdown.files.trial(self.table, self.columns)
            except UserError as trouble:
                found = str(trouble)
            self._trial = (key, found)
        return self._trial[1]

    def content(self) -> object:
        return (self.file_name, self.columns, self.desk.job.shots, self.first)

    # ------------------------------------------------------------------------------------- spots
    def _lines(self) -> int:
        """Columns of the file that fit."""
        return max(1, min(len(self.columns), int((self.height() - TOP - 210) // ROW)))

    def arrange(self) -> None:
        if not self.table:
            return
        self.first = max(0, min(self.first, len(self.columns) - self._lines()))
        for line in range(self._lines()):
            index = self.first + line
            spot = self.spots.place(f"column:{index}", QRectF(12, TOP + line * ROW, self.width() - 24, ROW),
                                    f"{self.table[0][index]}: {self._key_words(self.columns[index])}",
                                    lambda i=index: self.turn(i, 1))  # type: ignore[misc]  # fmt: skip
            spot.entered = self.take
        self.spots.place("take", QRectF(12, 50, 330, 44), "take the rows in, key Enter", self.take)
        self.spots.place("leave", QRectF(356, 50, 200, 44), "leave it, key Escape", self._leave)

    @staticmethod
    def _key_words(key: str) -> str:
        return BY_KEY[key].head if key else "leave out"

    # -------------------------------------------------------------------------------------- acts
    def turn(self, index: int, by: int) -> None:
        """Match a column to the next of what is not matched yet."""
        free = ["", *(c.key for c in COLUMNS if c.key == self.columns[index] or c.key not in self.columns)]
        key = free[(free.index(self.columns[index]) + by) % len(free)]
        self.columns = (*self.columns[:index], key, *self.columns[index + 1 :])
        self.refresh()

    def _leave(self) -> None:
        self.desk.wanted.emit("breakdown")

    def take(self) -> None:
        """Take the good rows in; one step."""
        if self.desk.breakdown.files.take_table(self.file_name, self.table, self.columns):
            self._leave()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        spot, key = self.spots.focused(), event.key()
        name = spot.objectName() if spot else ""
        index = int(name[7:]) if name.startswith("column:") else -1
        if index >= 0 and key in (Qt.Key.Key_Right, Qt.Key.Key_Left):
            self.turn(index, 1 if key == Qt.Key.Key_Right else -1)
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            target = max(0, min(len(self.columns) - 1, index + (1 if key == Qt.Key.Key_Down else -1)))
            if not self.first <= target < self.first + self._lines():
                self.first += 1 if target > index else -1
                self.refresh()
            found = self.spots.find(f"column:{target}")
            if found:
                found.setFocus()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.take()
        else:
            event.ignore()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.first += -1 if event.angleDelta().y() > 0 else 1
        self.refresh()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        ink.text(
            18,
            29,
            ink.squeezed(self.width() - 36, f"Which column of {self.file_name} is which?", "bench_question"),
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
            ink.rule(18, 84, 18 + ink.text(18, 78, f"Take in {count} shots", "after_value"), 84, "ink", 2)
            words = f"{len(found.new)} new, {len(found.changed)} changed, {found.same} as they are, {len(found.bad)} left out"
            ink.text(18, 102, words, "note", "ink2")
        ink.rule(362, 84, 362 + ink.text(362, 78, "Leave it", "after_value", "ink2"), 84, "ink2", 1)
        ink.rule(18, TOP - 6, self.width() - 18, TOP - 6, "ink", 1.5)
        for line in range(self._lines()):
            self._line(ink, self.first + line, TOP + line * ROW)
        y = TOP + self._lines() * ROW
        hidden = len(self.columns) - self._lines()
        if hidden > 0:
            ink.text(self.width() - 18, y + 14, f"{hidden} more columns: scroll", "note", "ink2", "right")
        if not isinstance(found, str):
            self._bad(ink, found, y + 30)

    def _line(self, ink: Ink, index: int, y: float) -> None:
        base, key = y + 20, self.columns[index]
        head = self.table[0][index] or f"column {index + 1}"
        ink.text(HEAD_X, base, ink.squeezed(ARROW_X - HEAD_X - 12, head, "label"), "label")
        ink.arrow(ARROW_X, base - 4, 24, "ink2" if key else "line")
        ink.text(KEY_X, base, self._key_words(key), "label", "decide" if key else "ink2")
        if key:
            ink.rule(KEY_X, base + 4, KEY_X + ink.width(self._key_words(key), "label"), base + 4, "decide", 1.2)
        samples = [row[index] for row in self.table[1:] if row[index].strip()][:3]
        words = "  ·  ".join(" ".join(s.split()) for s in samples) or "empty"
        ink.text(SAMPLE_X, base, ink.squeezed(self.width() - SAMPLE_X - 20, words, "note"), "note", "ink2")
        ink.rule(18, y + ROW - 1, self.width() - 18, y + ROW - 1, "hair", 0.75)

    def _bad(self, ink: Ink, found: ShotTable, y: float) -> None:
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
