"""The list of shots, as on paper: one ruled row a shot, every cell typed where it stands."""

from __future__ import annotations

from functools import partial
from typing import Literal

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence
from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.files import ask_to_read, ask_to_write
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.needs import HINT
from homunculus.core.cells.shots import BY_KEY, COLUMNS, cell_words, cell_worth
from homunculus.core.job.shots import Shot, screen_time
from homunculus.core.plan.memory import Last
from homunculus.core.showing import show, show_day, so_many
from homunculus.exchange.formats import endings, offered, offered_to_write

HEAD, ROW, FOOT = 92.0, 29.0, 36.0
WIDTHS = {
    "id": 50, "name": 168, "seconds": 66, "unit": 78, "day": 82, "order": 46, "cut": 78, "needs": 300, "rule": 96,
    "lens": 176, "cameras": 176, "ends_as": 190, "deadlines": 200, "call": 52, "plate_format": 130,
}  # fmt: skip
ORDER = ("id", "name", "seconds", "day", "order", "unit", "needs",
         *(c.key for c in COLUMNS if c.key not in ("id", "name", "seconds", "day", "order", "unit", "needs")))  # fmt: skip
LIST = tuple(Column(key, BY_KEY[key].head, WIDTHS.get(key, 92)) for key in ORDER)

ACTS_X = 282.0
ACTS = (
    ("add", "add a shot", "add a shot, key Insert"),
    ("take-in", "take in a file", "take in a file of shots"),
    ("write", "write a file", "write the shots to a file"),
)
"""What stands beside the filter: its spot, its words, what it says."""


class BreakdownBench(JobBench):
    """Rows of shots in the order of the shoot. Arrows walk the cells, Enter types into one."""

    sheet_name = "breakdown"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Shots")
        self.filter = ""
        self.list: RowList[Shot] = RowList(
            self, "shots", LIST, Manner(lambda shot: shot.id, self._cell, lambda shot: f"shot {shot.id}", self._draw_cell,
                                        worth=lambda shot, key: cell_worth(shot, desk.job, key)), round(ROW), cells=True, stays=True,
        )  # fmt: skip
        self.list.cell_acted.connect(self.edit)
        self._bare: set[str] = set()
        self._listed: object = None
        self._found: Last[tuple[Shot, ...]] = Last()

    # ------------------------------------------------------------------------------------- rows
    def rows(self) -> tuple[Shot, ...]:
        """The shots that hold every word of the filter; “nobody” finds those with an uncovered need."""
        if not self.filter:
            return self.breakdown.shots
        return self._found.get((self.desk.plan, self.filter), self._kept_ones)

    def _kept_ones(self) -> tuple[Shot, ...]:
        words = self.filter.casefold().split()
        bare = {row.shot.id for row in self.desk.plan.coverage.uncovered}
        return tuple(s for s in self.breakdown.shots if all(w in self._haystack(s, bare) for w in words))

    def _haystack(self, shot: Shot, bare: set[str]) -> str:
        cells = " ".join(BY_KEY[k].write(shot, self.desk.job) for k in ("id", "name", "unit", "day", "needs", "rule"))
        return f"{cells} {show_day(shot.day)} {'nobody' if shot.id in bare else ''}".casefold()

    def _summary(self) -> str:
        rows, all_rows = self.rows(), self.breakdown.shots
        bare = len(self.desk.plan.coverage.uncovered)
        seconds = screen_time(rows)
        words = f"{len(rows)} of {len(all_rows)} shots" if self.filter else f"{len(rows)} shots"
        words += f", {show(seconds, 'screen_time')} on screen, {len({s.day for s in rows})} days" if rows else ""
        words += f", {so_many(bare, 'need')} nobody covers" if bare else ""
        return words

    def content(self) -> object:
        """The head in words, the rows, and which of them need something that nobody covers."""
        bare = frozenset(row.shot.id for row in self.desk.plan.coverage.uncovered)
        return self._summary(), self.filter, self.rows(), bare

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        self.spots.place("filter", QRectF(12, 50, 260, 36), f"filter: {self.filter or 'none'}", self.type_filter)
        x = ACTS_X
        act = {"add": self.add, "take-in": lambda: self.choose_list("shots"), "write": self.choose_target}
        for name, words, said in ACTS:
            width = self.setting().width(words, "label") + 16
            self.spots.place(name, QRectF(x, 50, width, 36), said, act[name])
            x += width + 8
        rows, bare = self.rows(), {row.shot.id for row in self.desk.plan.coverage.uncovered}
        self.list.setGeometry(8, round(HEAD), self.width() - 16, round(self.height() - HEAD - FOOT))
        self.list.recolour(bare, self.desk.job.builds)
        if rows is not self._listed or bare != self._bare:
            self._listed, self._bare = rows, bare
            self.list.put(rows)
        self.list.setVisible(bool(rows))
        if not rows and not self.filter:
            self.first_shot("rows", HEAD + 20)

    def _cell(self, shot: Shot, key: str) -> str:
        return cell_words(shot, self.desk.job, key, self.desk.system)

    def at(self) -> tuple[int, str] | None:
        """Row and column of the cell that the keyboard is on."""
        index = self.list.currentIndex()
        return (index.row(), self.list.column()) if index.isValid() else None

    # -------------------------------------------------------------------------------------- acts
    def edit(self, shot: Shot, key: str, first: str = "") -> None:
        """Type into a cell."""
        self.breakdown.shot_id = shot.id
        hint = f"Needs with semicolons between; after a colon what covers one. {HINT}" if key == "needs" else ""
        self.type_over(f"shot {shot.id}, {BY_KEY[key].head}", self.list.cell_area(), BY_KEY[key].write(shot, self.desk.job),
                 lambda typed: self.breakdown.edit_cell(shot, key, typed), self.list, first, hint=hint)  # fmt: skip

    def type_filter(self) -> None:
        """Type the words that the rows must hold."""

        def accept(words: str) -> bool:
            self.filter = words.strip()
            self.refresh()
            return True

        self.type_over("filter", QRectF(12, 50, 260, 36), self.filter, accept, "filter")

    def add(self) -> None:
        """Add a shot and go to what happens in it."""
        self.filter = ""
        shot = self.breakdown.add_shot()
        self.show_shot(shot.id, "name")

    def show_shot(self, shot_id: str, key: str = "id") -> None:
        """Bring a shot's row into view and its cell into focus."""
        self.refresh()
        row = self.list.row_of(shot_id)
        if row is not None:
            self.list.setFocus()
            self.list.choose(row, key)

    def copy(self) -> None:
        """Copy the chosen rows, all when no more than one is, with all their columns and heads, as a spreadsheet takes them."""
        chosen = self.list.selected()
        rows = ["\t".join(column.head for column in COLUMNS)]
        rows += [
            "\t".join(column.write(s, self.desk.job) for column in COLUMNS)
            for s in (chosen if len(chosen) > 1 else self.list.rows.items)
        ]
        QApplication.clipboard().setText("\n".join(rows))
        count = len(rows) - 1
        self.desk.said.emit(f"Copied {so_many(count, 'shot')}.")

    def paste(self) -> None:
        """Take in rows that were copied from a spreadsheet, with their head."""
        self.breakdown.files.read_pasted(QApplication.clipboard().text())

    def choose_list(self, what: Literal["shots", "cut"]) -> None:
        """Ask for a list of shots or an edit list, and take it in."""
        kinds = offered("Lists of shots", "shots") if what == "shots" else offered("Edit lists", "cut")
        path, files = (
            ask_to_read(self, "Take in shots", "shots", f"{kinds};;{offered('All of them', 'shots', 'cut')}"),
            self.breakdown.files,
        )
        if path:
            (files.read_cut if path.suffix.lower() in endings("cut") else files.read_table)(path)

    def choose_target(self) -> None:
        """Ask where to write the shots; the ending decides what is written."""
        asked = ask_to_write(self, "Write the shots", "shots", "shots.xlsx", offered_to_write("shots", "cut"))
        if asked:
            path, kind = asked
            self.breakdown.files.write(path if path.suffix else path.with_suffix(kind.partition("*")[2].rstrip(")")))

    def can_row(self, _rows: str, shot: Shot, column: str) -> list[Can]:
        """With a shot of the list."""
        head = BY_KEY[column].head if column in BY_KEY else "this cell"
        return [Can(f"Type its {head}", "F2", lambda: self.edit(shot, column)), Can("What it needs", "", lambda: self.edit(shot, "needs")),
                Can("Look at this shot", "1", partial(self._look_at, shot)), Can("Go or no-go, and its set-up", "G", partial(self._look_at, shot, "floor")),
                Can("One more shot", "Ins", self.add), Can("Take it out", "Del", lambda: self.breakdown.remove_shot(shot)),
                Can("Copy the chosen rows", "Ctrl+C", self.copy), Can("Paste rows", "Ctrl+V", self.paste)]  # fmt: skip

    def _look_at(self, shot: Shot, bench: str = "shot") -> None:
        self.breakdown.choose(shot.id)
        self.desk.wanted.emit(bench)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        shot, key = self.list.item(), event.key()
        if event.matches(QKeySequence.StandardKey.Paste):
            self.paste()
        elif key == Qt.Key.Key_Insert:
            self.add()
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.rows() and not self.list.hasFocus():
            self.list.setFocus()
            self.list.choose(
                max(0, self.list.currentIndex().row()),
                self.list.column() if shot and self.list.column() != "id" else "name",
            )
        elif key == Qt.Key.Key_Delete and shot:
            self.breakdown.remove_shot(shot)
        else:
            event.ignore()

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
        for name, words, _ in ACTS:
            if spot := self.spots.find(name):
                x = spot.x() + 8.0
                ink.rule(x, 78, x + ink.text(x, 73, words, "label"), 78, "ink", 1)
        if not rows:
            if self.filter:
                ink.text(18, HEAD + 26, "No shot holds these words.", "body", "ink2")
            self.draw_empty(ink)
        self._foot(ink)

    def _draw_cell(self, ink: Ink, shot: Shot, key: str, area: QRectF, above: Shot | None) -> None:
        x, room = area.left() + 10, area.width() - 14
        if key == "needs" and shot.id in self._bare:
            ink.tag(x - 2, area.top() + 7, "danger")
            x, room = x + 20, room - 20
        role = "lane_value" if key == "id" else "label"
        colour = "ink2" if key == "day" and above is not None and above.day == shot.day else "ink"
        ink.text(x, area.top() + 19, ink.squeezed(room, self._cell(shot, key), role), role, colour)

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
