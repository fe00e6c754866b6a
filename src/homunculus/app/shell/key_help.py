"""The keys: those of the open bench, of all benches, and those that work everywhere; from the register, so that none is forgotten."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.register import BENCHES, OF_STATION
from homunculus.app.benches.spec import BenchSpec, Command
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.shell.commands import all_commands
from homunculus.app.theme.ink import Ink

if TYPE_CHECKING:
    from homunculus.app.shell.benches import Benches

ROW = 23.0
COLUMNS = (18.0, 302.0, 586.0)
WIDTH, HEIGHT = 868, 540
HANDS = (
    ("Tab", "from handle to handle"),
    ("arrows", "step a decided value"),
    ("typing", "over a decided value"),
    ("Enter", "why a figure is as it is"),
    ("=", "a beginning stands: it is decided"),
)
"""What no command does: the handles themselves."""
BEGIN, END = "<!-- keys: written by scripts/write_docs.py -->", "<!-- end of keys -->"
WRITTEN = {"PgDown": "Page Down", "PgUp": "Page Up"}


def open_keys(spec: BenchSpec) -> list[tuple[str, str]]:
    """The keys of one bench."""
    return [(key.name, key.words) for key in spec.keys]


def bench_keys() -> list[tuple[str, str]]:
    """The key that opens each bench, with its title."""
    found = [(str(n), spec.title) for n, spec in enumerate(OF_STATION.values(), 1)]
    return found + [(spec.key, spec.question) for spec in BENCHES if spec.key]


def everywhere(commands: tuple[Command, ...]) -> list[tuple[str, str]]:
    """The keys that work everywhere, but for those that open benches."""
    ways = {key for key, _ in bench_keys()}
    return [(WRITTEN.get(c.keys[0], c.keys[0]), c.words) for c in commands if c.keys and c.keys[0] not in ways]


def with_keys(readme: str) -> str:
    """The README with its table of keys as the register has them."""
    head, rest = readme.split(BEGIN)
    rows = ["| where | keys |", "| --- | --- |"]
    groups = [("everywhere", everywhere(all_commands())), ("benches", bench_keys())]
    groups += [(f"on {spec.title}", open_keys(spec)) for spec in BENCHES if spec.keys]
    rows += [f"| {where} | {', '.join(f'`{key}` {words}' for key, words in keys)} |" for where, keys in groups]
    return f"{head}{BEGIN}\n{chr(10).join(rows)}\n{END}{rest.split(END)[1]}"


class KeyHelp(Place):
    """A sheet over the window with all keys; any key closes it."""

    ground = "film"

    def __init__(self, parent: QWidget, desk: Desk, benches: Benches, commands: tuple[Command, ...]) -> None:
        super().__init__(parent, desk, "The keys")
        self._benches, self._commands = benches, commands
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.hide()

    def toggle(self) -> None:
        """Show the keys, or put them away."""
        if self.isVisible():
            self.put_away()
            return
        width, height = min(WIDTH, self.room().width() - 16), min(HEIGHT, self.room().height() - 12)
        self.setGeometry((self.room().width() - width) // 2, (self.room().height() - height) // 2, width, height)
        self.setAccessibleDescription(". ".join(f"{key}: {words}" for _, rows in self.groups() for key, words in rows))
        self.show()
        self.raise_()
        self.setFocus()
        self.refresh()

    def put_away(self) -> None:
        """Put the keys away and give the keyboard back."""
        self.hide()
        self.window().setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        self.put_away()
        if event.key() not in (Qt.Key.Key_Escape, Qt.Key.Key_F1):
            event.ignore()  # it does what it says

    def groups(self) -> list[tuple[str, list[tuple[str, str]]]]:
        """Heads, and keys with what they do."""
        spec = self._benches.open_spec
        return [
            (f"Here, on {spec.title}", [*open_keys(spec), *HANDS]),
            ("Benches", bench_keys()),
            ("Everywhere", everywhere(self._commands)),
        ]

    def content(self) -> object:
        return self._benches.open_spec.name

    def draw(self, ink: Ink) -> None:
        ink.box(0.75, 0.75, self.width() - 1.5, self.height() - 1.5, edge="ink", width=1.5)
        ink.text(18, 34, "The keys", "bench_question")
        ink.text(self.width() - 18, 34, "any key puts them away", "note", "ink2", "right")
        pitch = min(ROW, (self.height() - 104) / max(len(rows) for _, rows in self.groups()))
        for x, (head, rows) in zip(COLUMNS, self.groups(), strict=True):
            room = min(266.0, self.width() - x - 14)
            ink.text(x, 68, ink.squeezed(room, head, "heading"), "heading")
            ink.rule(x, 76, x + room, 76, "ink", 1.5)
            caps = max(26.0, *(10 + ink.width(key, "tick", 600) for key, _ in rows)) + 8
            for index, (key, words) in enumerate(rows):
                y = 94 + index * pitch
                ink.key(x, y, key, "")
                ink.text(x + caps, y + 5, ink.squeezed(room - caps, words, "body"), "body")
