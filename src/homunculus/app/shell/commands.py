"""What works everywhere in the window: commands with their words and keys; and the way to each bench."""

from __future__ import annotations

import sys
from functools import partial
from pathlib import Path

from PySide6.QtCore import QProcess

from homunculus.app.benches.register import BENCHES, OF_STATION
from homunculus.app.benches.spec import Command, WindowLike
from homunculus.app.shell.shop_commands import SHOP_COMMANDS


def _units(window: WindowLike) -> None:
    window.desk.use_units("imperial" if window.desk.system == "metric" else "metric")


def _colours(window: WindowLike) -> None:
    window.desk.use_theme("stage" if window.desk.theme_name == "plaster" else "plaster")


WINDOW_COMMANDS: tuple[Command, ...] = (
    Command("Pin this plan", "P", lambda window: window.desk.pin(), ("P",)),
    Command("Back one change (undo)", "U", lambda window: window.benches.bench.undo(), ("U", "Ctrl+Z")),
    Command("Do again (redo)", "Ctrl+Y", lambda window: window.benches.bench.redo(), ("Ctrl+Y", "Ctrl+Shift+Z")),
    Command("Metric or imperial units", "I", _units, ("I",), listed=False, anywhere=True),
    Command("Colours: shop or dark set", "T", _colours, ("T",), listed=False, anywhere=True),
    Command("Metric units", "I", lambda window: window.desk.use_units("metric")),
    Command("Imperial units", "I", lambda window: window.desk.use_units("imperial")),
    Command("Plaster colours, for the shop", "T", lambda window: window.desk.use_theme("plaster")),
    Command("Stage colours, for a dark set", "T", lambda window: window.desk.use_theme("stage")),
    Command("Drawing or figures of this station", "F", lambda window: window.benches.show_figures(), ("F",)),
    Command("Go to anything", "/", lambda window: window.goto.open(), ("/", "Ctrl+K"), listed=False),
    Command("The keys", "F1", lambda window: window.keys_here.turn(), ("F1", "?"), anywhere=True),
    Command("The next build", "Page Down", lambda window: window.desk.choose_next(1), ("PgDown",), listed=False),
    Command("The build before", "Page Up", lambda window: window.desk.choose_next(-1), ("PgUp",), listed=False),
    Command("Log the next pour or opening", "Space", lambda window: window.next_step(), ("Space",), listed=False),
    Command("Close, or back to the pin", "Esc", lambda window: window.escape(), ("Esc",), listed=False),
    Command("Write a note in the log", "N", lambda window: window.note(), ("N",)),
    Command("Copy the figures of this station", "Ctrl+C", lambda window: window.copy(), ("Ctrl+C",)),
    Command("A new job", "Ctrl+N", lambda _window: begin_job(), ("Ctrl+N",)),
    Command("Open another job", "Ctrl+O", lambda window: window.choose_job(), ("Ctrl+O",)),
    Command("Save now", "Ctrl+S", lambda window: window.save(), ("Ctrl+S",), listed=False),
    Command("Go on in another folder", "Ctrl+Shift+S", lambda window: window.choose_folder(), ("Ctrl+Shift+S",)),
    Command("Close", "Ctrl+Q", lambda window: window.close(), ("Ctrl+Q",), listed=False),
)


def all_commands() -> tuple[Command, ...]:
    """Everything that can be done wherever one is."""
    return (*WINDOW_COMMANDS, *bench_commands(), *SHOP_COMMANDS)


def bench_commands() -> tuple[Command, ...]:
    """The way to each bench, by words and by key, and what each adds of its own."""
    found = [Command(spec.title, f"station {n}", partial(_go, name=spec.name), (str(n),))
             for n, spec in enumerate(OF_STATION.values(), 1)]  # fmt: skip
    for spec in BENCHES:
        if spec.key:
            found.append(Command(spec.question, spec.key, partial(_toggle, name=spec.name), (spec.key,)))
        found += spec.commands
    return tuple(found)


def _go(window: WindowLike, name: str) -> None:
    window.benches.go(name)


def _toggle(window: WindowLike, name: str) -> None:
    window.benches.toggle(name)


def begin_job() -> None:
    """The sheet of a new job, in a window of its own."""
    QProcess.startDetached(sys.executable, ["-m", "homunculus", "start", "--new"])


def open_another(folder: Path) -> str:
    """Open another job in a process of its own; return what to say about it."""
    if not (folder / "job.json").is_file():
        return "There is no job.json in that folder. Nothing was opened."
    QProcess.startDetached(sys.executable, ["-m", "homunculus", str(folder)])
    return f"{folder.name} opens in a window of its own."
