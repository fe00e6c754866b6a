"""What can be done: with the thing under the hand, by right press or Menu key; and all that the program can do, by kind."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from functools import partial

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QMenu, QWidget

from homunculus.app.benches.register import BENCHES
from homunculus.app.benches.spec import BenchSpec, Command, WindowLike
from homunculus.app.drawing.place import Can, Place
from homunculus.app.drawing.spot import Spot
from homunculus.app.shell.commands import WINDOW_COMMANDS, bench_commands
from homunculus.app.shell.shop_commands import SHOP_COMMANDS
from homunculus.app.theme import Theme


def sheet(parent: QWidget, theme: Theme) -> QMenu:
    """An empty menu in the window's own type and colours."""
    menu = QMenu(parent)
    menu.setObjectName("what-can")
    menu.setFont(theme.font("label"))
    ink, film, ground = (theme.colour(name).name() for name in ("ink", "film", "sheet"))
    menu.setStyleSheet(
        f"QMenu {{ background: {ground}; color: {ink}; border: 1.5px solid {ink}; padding: 4px 0; }}"
        f"QMenu::item {{ padding: 7px 22px 7px 16px; }} QMenu::item:selected {{ background: {film}; color: {ink}; }}"
        f"QMenu::separator {{ height: 1px; background: {ink}; margin: 4px 12px; }}"
    )
    return menu


def fill(menu: QMenu, entries: Iterable[Can]) -> None:
    """Write entries into a ``menu``: words, key, what is done."""
    for entry in entries:
        action = menu.addAction(f"{entry.words}\t{entry.key}" if entry.key else entry.words)
        action.triggered.connect(partial(_act, entry.act))


def _act(do: Callable[[], object], _checked: bool = False) -> None:
    do()


def with_thing(window: WindowLike, place: Place, spot: Spot | list[Can] | None) -> QMenu:
    """What can be done with what lies beneath ``spot`` on a ``place``, or with a row that has told it; beside all things, on the open bench."""
    menu = sheet(window, window.desk.theme)
    own = spot if isinstance(spot, list) else place.can(spot.objectName()) if spot else []
    if isinstance(spot, Spot) and spot.action and not own:
        own = [Can(spot.accessibleName(), "Enter", spot.act)]
    fill(menu, own)
    spec: BenchSpec = window.benches.open_spec
    if own:
        menu.addSeparator()
    else:  # beside a thing: what the bench itself can do
        fill(menu, (_of(window, command) for command in spec.commands))
    fill(
        menu,
        (
            Can("Go to anything", "/", window.goto.open),
            Can("The keys", "F1", window.keys_here.turn),
            Can("Back one change", "U", window.benches.bench.undo),
        ),
    )
    return menu


def everything(window: WindowLike) -> QMenu:
    """All that the program can do, by kind."""
    menu = sheet(window, window.desk.theme)
    fill(menu, [Can("How the whole job stands", "J", partial(window.benches.open, "whole"))])
    ways = {command.words: command for command in bench_commands()}
    own = {command.words for spec in BENCHES for command in spec.commands}
    groups: list[tuple[str, list[Command]]] = [("Benches", [c for words, c in ways.items() if words not in own])]
    groups += [(spec.title, list(spec.commands)) for spec in BENCHES if spec.commands]
    groups += [("The shop", list(SHOP_COMMANDS)), ("Job, window, undo", list(WINDOW_COMMANDS))]
    for title, commands in groups:
        part = sheet(menu, window.desk.theme)
        part.setTitle(title)
        fill(part, (_of(window, command) for command in commands))
        menu.addMenu(part)
    return menu


def _of(window: WindowLike, command: Command) -> Can:
    return Can(
        command.words,
        command.keys[0] if command.keys else "" if " " in command.hint else command.hint,
        partial(command.act, window),
    )


def show(menu: QMenu, at: QPoint) -> None:
    """Show a ``menu`` at a place of the screen; the first entry has the keyboard."""
    menu.aboutToHide.connect(menu.deleteLater)
    if actions := menu.actions():
        menu.setActiveAction(actions[0])
    menu.popup(at)
