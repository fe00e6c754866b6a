"""A logger's file into the log, as a measured stretch."""

from __future__ import annotations

from pathlib import Path

from homunculus.app.editor import Editor
from homunculus.core.log import LogEvent
from homunculus.exchange.formats import reader


def take_in_temperatures(desk: Editor, path: Path) -> None:
    """Take a logger's file in; what was left out stands in its entry."""

    def read() -> LogEvent:
        from homunculus.exchange.temperatures import MOST_BYTES, as_entry  # not needed to start
        from homunculus.store.atomic import read_bounded

        found = reader("temperatures", path.name)(read_bounded(path, MOST_BYTES, path.name), path.name)
        return as_entry(found, path.name)

    def enter(entry: LogEvent) -> None:
        desk.enter(entry)

    desk.runner.begin(f"Reading {path.name}", read, enter)
