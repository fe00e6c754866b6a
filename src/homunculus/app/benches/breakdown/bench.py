"""The list of shots, as on paper: one ruled row a shot, every cell typed where it stands."""

from __future__ import annotations

from pathlib import Path
from typing import Literal

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.needs import HINT
from homunculus.core.cells.shots import BY_KEY, COLUMNS, cell_words
from homunculus.core.job.shots import Shot, screen_time
from homunculus.core.showing import show, show_day
from homunculus.exchange.formats import endings, offered, offered_to_write

HEAD, ROW, FOOT = 122.0, 29.0, 36.0
WIDTHS = {
    "id": 46.0, "name": 168.0, "seconds": 52.0, "unit": 78.0, "day": 82.0, "order": 46.0, "cut": 78.0, "needs": 300.0, "rule": 96.0,
    "lens": 176.0, "cameras": 176.0, "ends_as": 190.0, "deadlines": 200.0, "call": 52.0, "plate_format": 130.0,
}  # fmt: skip
ORDER = ("id", "name", "seconds", "day", "order", "unit", "needs",
         *(c.key for c in COLUMNS if c.key not in ("id", "name", "seconds", "day", "order", "unit", "needs")))  # fmt: skip


class BreakdownBench(JobBench):
    """Rows of shots in the order of the shoot. Arrows walk the cells, Enter types into one."""

    sheet_name = "breakdown"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Shots")
        self.filter = ""
        self.left = 1
        """The first column that is drawn after the shot's number, which always stays."""
        self._found: tuple[object, tuple[Shot, ...]] | None = None

    # ------------------------------------------------------------------------------------- rows
    def rows(self) -> tuple[Shot, ...]:
        """The shots that hold every word of the filter; “nobody” finds those with an uncovered need."""
        if not self.filter:
            return self.breakdown.shots
        key = (self.breakdown.shots, self.filter)
        if self._found is None or self._found[0] != key:
            words = self.filter.casefold().split()
            bare = {row.shot.id for row in self.desk.plan.coverage.uncovered}
            found = tuple(s for s in key[0] if all(w in self._haystack(s, bare) for w in words))
            self._found = (key, found)
        return self._found[1]

    def _haystack(self, shot: Shot, bare: set[str]) -> str:
        cells = " ".join(BY_KEY[k].write(shot, self.desk.job) for k in ("id", "name", "unit", "day", "needs", "rule"))
        return f"{cells} {show_day(shot.day)} {'nobody' if shot.id in bare else ''}".casefold()

    def most(self) -> int:
        """How many rows fit."""
        return max(1, int((self.height() - HEAD - FOOT) // ROW))

    def shown(self) -> tuple[Shot, ...]:
        """The rows that are drawn."""
        rows = self.rows()
        self.first = max(0, min(self.first, len(rows) - self.most()))
        return rows[self.first : self.first + self.most()]

    def columns(self) -> list[tuple[str, float, float]]:
        """Key, left edge and width of the columns that fit; the last one takes what is left."""
        x, found = 18.0, []
        for key in (ORDER[0], *ORDER[self.left :]):
            width = WIDTHS.get(key, 92.0)
            if x + min(width, 60) > self.width() - 18:
                break
            found.append((key, x, min(width, self.width() - 18 - x)))
            x += width
        return found

    def _summary(self) -> str:
        rows, all_rows = self.rows(), self.breakdown.shots
        bare = len(self.desk.plan.coverage.uncovered)
        seconds = screen_time(rows)
        words = f"{len(rows)} of {len(all_rows)} shots" if self.filter else f"{len(rows)} shots"
        words += f", {show(seconds, 'screen_time')} on screen, {len({s.day for s in rows})} days" if rows else ""
        words += f", {bare} {'need' if bare == 1 else 'needs'} nobody covers" if bare else ""
        return words

    def content(self) -> object:
        """The head in words, where the rows and columns begin, and the rows with whether nobody covers something of them."""
        bare = {row.shot.id for row in self.desk.plan.coverage.uncovered}
        shown = self.shown()
        return (self._summary(), self.filter, self.first, self.left, len(self.rows())), [
            (s, s.id in bare) for s in shown
        ]

    def repaint_changed(self, before: object, now: object) -> None:
        """Ask for the rows that differ alone, where only they do."""
        if not (isinstance(before, tuple) and isinstance(now, tuple)) or before[0][1:] != now[0][1:]:
            self.update()
            return
        if before[0] != now[0]:
            self.update(0, 32, self.width(), 18)
        for index, (old, new) in enumerate(zip(before[1], now[1], strict=True)):
            if old[0] is not new[0] or old[1] != new[1]:
                self.update(0, round(HEAD + index * ROW), self.width(), round(2 * ROW))  # a day shows where it begins

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        self.spots.place("filter", QRectF(12, 50, 260, 36), f"filter: {self.filter or 'none'}", self.type_filter)
        self.spots.place("add", QRectF(290, 50, 120, 36), "add a shot, key Insert", self.add)
        self.spots.place(
            "take-in", QRectF(424, 50, 170, 36), "take in a file of shots", lambda: self.choose_list("shots")
        )
        self.spots.place("write", QRectF(608, 50, 120, 36), "write the shots to a file", self.choose_target)
        columns = self.columns()
        for index, shot in enumerate(self.shown()):
            y = HEAD + index * ROW
            for key, x, width in columns:
                words = cell_words(shot, self.desk.job, key, self.desk.system) or "nothing"
                self.spots.place(f"cell:{index}:{key}", QRectF(x - 4, y, width, ROW), f"shot {shot.id}, {BY_KEY[key].head}: {words}",
                                 lambda s=shot, i=index, k=key: self.edit(s, i, k))  # type: ignore[misc]  # fmt: skip

    def at(self) -> tuple[int, str] | None:
        """Row and column of the cell that has the focus."""
        spot = self.spots.focused()
        parts = spot.objectName().split(":") if spot else []
        return (int(parts[1]), parts[2]) if len(parts) == 3 and parts[0] == "cell" else None

    # -------------------------------------------------------------------------------------- acts
    def edit(self, shot: Shot, index: int, key: str, first: str = "") -> None:
        """Type into a cell."""
        spot = self.spots.find(f"cell:{index}:{key}")
        if spot is None:
            return
        self.breakdown.shot_id = shot.id
        if key == "needs":
            self.desk.said.emit(f"Needs with semicolons between; after a colon what covers one. {HINT}")
        words = first or BY_KEY[key].write(shot, self.desk.job)
        self.ask(f"shot {shot.id}, {BY_KEY[key].head}", QRectF(spot.geometry()), words,
                 lambda typed: self.breakdown.edit_cell(shot, key, typed), f"cell:{index}:{key}")  # fmt: skip
        if first and self._typed:
            self._typed.deselect()

    def type_filter(self) -> None:
        """Type the words that the rows must hold."""

        def accept(words: str) -> bool:
            self.filter, self.first = words.strip(), 0
            self.refresh()
            return True

        self.ask("filter", QRectF(12, 50, 260, 36), self.filter, accept, "filter")

    def add(self) -> None:
        """Add a shot and go to what happens in it."""
        self.filter = ""
        shot = self.breakdown.add_shot()
        self.show_shot(shot.id, "name")

    def show_shot(self, shot_id: str, key: str = "id") -> None:
        """Bring a shot's row into view and its cell into focus."""
        ids = [s.id for s in self.rows()]
        if shot_id not in ids:
            return
        row = ids.index(shot_id)
        if not self.first <= row < self.first + self.most():
            self.first = max(0, row - self.most() // 2)
        if key not in [k for k, _, _ in self.columns()]:
            self.left = max(1, ORDER.index(key))
        self.refresh()
        spot = self.spots.find(f"cell:{row - self.first}:{key}")
        if spot:
            spot.setFocus()

    def copy(self) -> None:
        """Copy the rows that are shown, with their head, as a spreadsheet takes them."""
        rows = ["\t".join(column.head for column in COLUMNS)]
        rows += ["\t".join(column.write(s, self.desk.job) for column in COLUMNS) for s in self.rows()]
        QApplication.clipboard().setText("\n".join(rows))
        self.desk.said.emit(f"Copied {len(rows) - 1} shots.")

    def paste(self) -> None:
        """Take in rows that were copied from a spreadsheet, with their head."""
        self.breakdown.files.read_pasted(QApplication.clipboard().text())

    def choose_list(self, what: Literal["shots", "cut"]) -> None:
        """Ask for a list of shots or an edit list, and take it in."""
        from PySide6.QtWidgets import QFileDialog  # slow to load, seldom wanted

        kinds = offered("Lists of shots", "shots") if what == "shots" else offered("Edit lists", "cut")
        name, _ = QFileDialog.getOpenFileName(
            self, "Take in shots", "", f"{kinds};;{offered('All of them', 'shots', 'cut')}"
        )
        if name:
            path, files = Path(name), self.breakdown.files
            (files.read_cut if path.suffix.lower() in endings("cut") else files.read_table)(path)

    def choose_target(self) -> None:
        """Ask where to write the shots; the ending decides what is written."""
        from PySide6.QtWidgets import QFileDialog  # slow to load, seldom wanted

        name, kind = QFileDialog.getSaveFileName(
            self, "Write the shots", "shots.xlsx", offered_to_write("shots", "cut")
        )
        if name:
            path = Path(name)
            self.breakdown.files.write(path if path.suffix else path.with_suffix(kind.partition("*")[2].rstrip(")")))

    def keyPressEvent(self, event: QKeyEvent) -> None:
        at, key = self.at(), event.key()
        rows = self.shown()
        control = event.modifiers() & Qt.KeyboardModifier.ControlModifier
        if control and key == Qt.Key.Key_V:
            self.paste()
        elif key == Qt.Key.Key_Insert:
            self.add()
        elif at is None or at[0] >= len(rows):
            if key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and rows:
                self._go(0, "name")
            else:
                event.ignore()
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            self._walk(*at, 1 if key == Qt.Key.Key_Down else -1)
        elif key in (Qt.Key.Key_Right, Qt.Key.Key_Left):
            self._across(*at, 1 if key == Qt.Key.Key_Right else -1)
        elif key == Qt.Key.Key_Delete:
            self.breakdown.remove_shot(rows[at[0]])
        elif key == Qt.Key.Key_F2:
            self.edit(rows[at[0]], *at)
        else:
            event.ignore()

    def _go(self, row: int, key: str) -> None:
        spot = self.spots.find(f"cell:{row}:{key}")
        if spot:
            spot.setFocus()

    def _walk(self, row: int, key: str, by: int) -> None:
        if not 0 <= row + by < len(self.shown()):
            self.first += by
            self.refresh()
            by = 0
        self._go(row + by, key)

    def _across(self, row: int, key: str, by: int) -> None:
        """Step to the next column; at the edge the columns move on beneath the number of the shot."""
        place = ORDER.index(key) + by
        if not 0 <= place < len(ORDER):
            return
        target = ORDER[place]
        while target not in [k for k, _, _ in self.columns()]:
            self.left = max(1, self.left + by)
            if self.left >= len(ORDER):
                return
        self.refresh()
        self._go(row, target)

    def wheelEvent(self, event: QWheelEvent) -> None:
        delta = event.angleDelta()
        if event.modifiers() & Qt.KeyboardModifier.ShiftModifier or abs(delta.x()) > abs(delta.y()):
            self.left = max(1, min(len(ORDER) - 4, self.left + (-1 if (delta.x() or delta.y()) > 0 else 1)))
        else:
            self.first += -3 if delta.y() > 0 else 3
        self.refresh()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_sheets(ink)
        rows = self.rows()
        ink.text(18, 29, "What is in the script?", "bench_question")
        ink.text(18, 47, self._summary(), "note", "ink2")
        ink.text(
            18,
            73,
            ink.squeezed(240, self.filter or "filter by any words", "label"),
            "label",
            "decide" if self.filter else "ink2",
        )
        ink.rule(18, 78, 262, 78, "decide" if self.filter else "line", 1.2)
        for x, words in ((296.0, "add a shot"), (430.0, "take in a file"), (614.0, "write a file")):
            ink.rule(x, 78, x + ink.text(x, 73, words, "label"), 78, "ink", 1)
        columns = self.columns()
        for key, x, width in columns:
            ink.text(x, HEAD - 10, ink.squeezed(width - 8, BY_KEY[key].head, "note"), "note", "ink2")
        ink.rule(18, HEAD - 3, self.width() - 18, HEAD - 3, "ink", 1.5)
        if not rows:
            words = "No shot holds these words." if self.filter else (
                "No shot yet. Add one, or drop a file: a list of shots (CSV, XLSX) or an edit list (OTIO, cut list).")  # fmt: skip
            ink.text(18, HEAD + 26, words, "body", "ink2")
        uncovered = {row.shot.id for row in self.desk.plan.coverage.uncovered}
        day = None
        for index, shot in enumerate(self.shown()):
            if self.touches(QRectF(0, HEAD + index * ROW, self.width(), ROW)):
                self._row(ink, shot, index, columns, bare=shot.id in uncovered, new_day=shot.day != day)
            day = shot.day
        self._foot(ink)

    def _row(
        self, ink: Ink, shot: Shot, index: int, columns: list[tuple[str, float, float]], *, bare: bool, new_day: bool
    ) -> None:
        y = HEAD + index * ROW
        base = y + 19
        for key, x, width in columns:
            words = cell_words(shot, self.desk.job, key, self.desk.system)
            if key == "needs" and bare:
                ink.tag(x - 2, y + 7, "danger")
                x, width = x + 20, width - 20
            role = "lane_value" if key == "id" else "label"
            colour = "ink2" if key == "day" and not new_day else "ink"
            ink.text(x, base, ink.squeezed(width - 10, words, role), role, colour)
        ink.rule(18, y + ROW - 1, self.width() - 18, y + ROW - 1, "hair", 0.75)

    def _foot(self, ink: Ink) -> None:
        y = self.height() - 16
        ink.rule(18, y - 16, self.width() - 18, y - 16, "ink", 1)
        x = 18.0
        for name, words in (
            ("Enter", "type"),
            ("Ins", "add"),
            ("Del", "take out"),
            ("Ctrl+V", "paste rows"),
            ("Ctrl+C", "copy rows"),
        ):
            ink.key(x, y, name, words)
            x += max(20.0, ink.width(name, "tick", 600) + 10) + 8 + ink.width(words, "note") + 22
