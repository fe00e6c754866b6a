"""The go-to box: type a few letters of a build, a station, a decision, a figure or a command."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import NamedTuple

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.theme.ink import Ink
from homunculus.core.edits.lines import VERBS, Offer, offers
from homunculus.core.edits.wishes import is_wish

MOST, ROW = 9, 32
COLUMNS = (Column("name", "name", 0), Column("sort", "what it is", 166))


class Entry(NamedTuple):
    """Something that can be gone to or done."""

    name: str
    sort: str
    """What it is, or what stands there now."""
    act: Callable[[], object]
    stays: bool = False
    """Whether the box stays open: the line goes on, or is run from it."""


class GoTo(Place):
    """A box over the bench with what matches beneath it. Enter goes to the marked one."""

    ground = "film"

    def __init__(self, parent: QWidget, desk: Desk, commands: list[Entry]) -> None:
        super().__init__(parent, desk, "Go to")
        self._commands = commands
        self.list: RowList[Entry] = RowList(
            self, "go to", COLUMNS, Manner(lambda e: e[:2], lambda e, key: e[0] if key == "name" else e[1], lambda e: f"{e[0]}, {e[1]}", self._draw_cell),
            ROW, heads=False, led=True,
        )  # fmt: skip
        self.list.clicked.connect(lambda _: self._take())
        self.line = QLineEdit(self)
        self.line.setObjectName("goto-line")
        self.line.setAccessibleName("Go to a build, station, figure or command")
        self.line.setFrame(False)
        self.line.textChanged.connect(self._typed)
        self.line.installEventFilter(self)
        self.hide()

    def open(self) -> None:
        """Show the box, empty."""
        width = 460
        self.setGeometry((self.room().width() - width) // 2, 60, width, 54 + MOST * ROW)
        theme = self.theme()
        self.line.setFont(theme.font("bench_question"))
        self.line.setStyleSheet(
            f"color: {theme.colour('ink').name()}; background: {theme.colour('sheet').name()};"
            f"border: none; border-bottom: 2px solid {theme.colour('ink').name()}; padding: 2px 6px;"
        )
        self.line.setPlaceholderText("go to …")
        self.line.setGeometry(10, 8, width - 20, 38)
        self.line.clear()
        self.show()
        self.raise_()
        self.line.setFocus()
        self.refresh()

    def _typed(self, _text: str) -> None:
        self.refresh()

    def matches(self) -> list[Entry]:
        """What fits the letters typed, best first."""
        words = self.line.text().casefold().split()
        found = [e for e in self._entries() if all(w in f"{e[0]} {e[1]}".casefold() for w in words)]
        first = words[0] if words else ""
        found.sort(key=lambda e: not e[0].casefold().startswith(first))
        line = self._typed_line()
        if not line:
            return found
        offered = [
            Entry(o.name, o.note, partial(self._go_on, o), True) for o in offers(self.line.text(), self.desk.job)
        ]
        return [*offered, *found] if offered else [*found, Entry(line, "edit the job", partial(self._run, line), True)]

    def _entries(self) -> list[Entry]:
        desk = self.desk
        entries = [Entry(b.name, "build", partial(desk.choose, b.id)) for b in desk.job.cast]
        entries += [Entry(f"Bring back {b.name}", "a build that was put away", partial(desk.do, f"bring back {b.id}"))
                    for b in desk.job.builds if b.put_away]  # fmt: skip
        entries += self._commands
        if desk.chosen:
            for figure in desk.build_plan.figures:
                if figure.spec.kind != "thing":
                    subject = figure.subject
                    whose = " ".join(
                        x for x in (subject.piece, subject.detail, subject.shot and f"shot {subject.shot}") if x
                    )
                    entries.append(
                        Entry(
                            f"{figure.spec.label} {whose}".strip(),
                            desk.words(figure),
                            partial(desk.asked_why.emit, figure),
                        )
                    )
        return entries

    def eventFilter(self, _watched: object, event: object) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QKeyEvent.Type.KeyPress:
            if event.key() == Qt.Key.Key_Escape:
                self.hide()
                return True
            if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up):
                count, by = max(1, self.list.rows.rowCount()), 1 if event.key() == Qt.Key.Key_Down else -1
                self.list.choose((self.list.currentIndex().row() + by) % count)
                return True
            if event.key() in (Qt.Key.Key_PageDown, Qt.Key.Key_PageUp):
                self.list.keyPressEvent(event)
                event.accept()  # else it goes on to the window where the list is at its end, and turns to another build
                return True
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                self._take()
                return True
        return False

    def _take(self) -> None:
        entry = self.list.item()
        if entry is None or not entry.stays:
            self.hide()
        if entry:
            entry.act()

    def _typed_line(self) -> str:
        """What stands in the box, where it is a line that edits the job."""
        words = self.line.text().strip()
        return words if words.partition(" ")[0] in VERBS or (is_wish(words) and words.partition(" ")[2]) else ""

    def _go_on(self, offer: Offer) -> None:
        """Put what was offered into the line; a value stands there to be typed over."""
        value = offer.note if offer.line.startswith("set ") and offer.line.endswith(" ") else ""
        self.line.setText(offer.line + value)
        self.line.setSelection(len(offer.line), len(value))

    def _run(self, line: str) -> None:
        """Run a typed line; a bad one stays, to be mended."""
        if self.desk.do(line):
            self.hide()

    def content(self) -> object:
        return self.line.text()

    def arrange(self) -> None:
        found = self.matches()
        self.list.setGeometry(4, 52, self.width() - 8, MOST * ROW)
        self.list.recolour()
        self.list.put(found)
        self.list.setVisible(bool(found))
        if found:
            self.list.choose(0)

    def draw(self, ink: Ink) -> None:
        ink.box(0.75, 0.75, self.width() - 1.5, self.height() - 1.5, edge="ink", width=1.5)
        if not self.list.rows.rowCount():
            ink.text(16, 74, "Nothing here is called that.", "body", "ink2")

    @staticmethod
    def _draw_cell(ink: Ink, entry: Entry, key: str, area: QRectF, _above: Entry | None) -> None:
        if key == "name":
            ink.text(
                area.left() + 14,
                area.top() + 21,
                ink.squeezed(area.width() - 22, entry[0], "label", 600),
                "label",
                "ink",
                weight=600,
            )
        else:
            ink.text(
                area.right() - 12,
                area.top() + 21,
                ink.squeezed(area.width() - 14, entry[1], "note"),
                "note",
                "ink2",
                "right",
            )
