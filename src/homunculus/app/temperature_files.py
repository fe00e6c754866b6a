"""A logger's file into the log, as a measured stretch."""

from __future__ import annotations

from pathlib import Path

from homunculus.app.editor import Editor
from homunculus.core.log import LogEvent
from homunculus.exchange.formats import reader


def take_in_temperatures(desk: Editor, path: Path) -> None:
    """Take a logger's file in; what was left out is said."""

    def read() -> tuple[LogEvent, str]:
        from homunculus.exchange.temperatures import MOST_BYTES, as_entry  # not needed to start
        from homunculus.store.atomic import read_bounded

        found = reader("temperatures", path.name)(read_bounded(path, MOST_BYTES, path.name), path.name)
        entry, left_out = as_entry(found, path.name), len(found.left_out)
        more = f" and {left_out - 1} more rows" if left_out > 1 else ""
        return entry, f"{entry.text}. {found.left_out[0]}{more}: left out." if left_out else ""

    def enter(brought: tuple[LogEvent, str]) -> None:
        desk.enter(brought[0])
        if brought[1]:
            desk.said.emit(brought[1])

    desk.runner.begin(f"Reading {path.name}", read, enter)
