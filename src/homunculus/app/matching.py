"""A table that somebody wrote, before it comes in: what the bench that matches its columns is handed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

from homunculus.app.editor import Editor
from homunculus.core.errors import UserError
from homunculus.exchange.formats import Content, reader

MOST_BYTES = 60_000_000


class ToMatch(NamedTuple):
    """A table whose columns a person looks over."""

    name: str
    rows: list[list[str]]
    guess: tuple[str, ...]
    """What each column is guessed to be; empty for those that are left out."""
    offered: tuple[tuple[str, str], ...]
    """The columns that there are: key and head."""
    things: str
    """What its rows are, in a word: shots, cards, pieces."""
    back: str
    """The bench that it belongs to."""
    trial: Callable[[tuple[str, ...]], Any]
    """What the table would give with its columns so: its new, changed, same, bad and filled; raises a sentence where it gives nothing."""
    take: Callable[[tuple[str, ...]], bool]
    """Takes it in with its columns so; false, with a sentence, when it cannot be."""


NOTHING = ToMatch("", [], (), (), "rows", "", lambda _: None, lambda _: False)


def padded(rows: list[list[str]]) -> list[list[str]]:
    """The ``rows`` of a table, all as wide as the widest."""
    width = max(len(row) for row in rows)
    return [[*row, *[""] * (width - len(row))] for row in rows]


def read_rows(desk: Editor, path: Path, content: Content, then: Callable[[list[list[str]]], None]) -> None:
    """Read a table at a ``path`` in a thread, as some ``content``, and hand its rows on to ``then``; what cannot be read is said at the ``desk``."""

    def work() -> list[list[str]]:
        from homunculus.store.atomic import read_bounded

        rows: list[list[str]] = reader(content, path.name)(read_bounded(path, MOST_BYTES, path.name), path.name)
        if len(rows) < 2:
            raise UserError(f"{path.name} has no rows beneath a head", path.name, "Nothing was changed")
        return rows

    desk.runner.begin(f"Reading {path.name}", work, then)
