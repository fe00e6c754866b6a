"""A table that somebody wrote, before it comes in: what the bench that matches its columns is handed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any, NamedTuple

from PySide6.QtCore import QSettings

from homunculus.app.editor import Editor
from homunculus.core.errors import UserError
from homunculus.exchange.formats import Content, reader, writer

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


def remembered(sort: str) -> dict[str, str]:
    """Columns of tables of a ``sort`` that a person matched before, by their folded heads."""
    known = QSettings("homunculus", "homunculus").value(f"columns/{sort}")
    return known if isinstance(known, dict) else {}


def remember_match(sort: str, head: list[str], columns: tuple[str, ...]) -> None:
    """Remember how the ``head`` of a table of a ``sort`` was matched to ``columns``."""
    from homunculus.exchange.shot_list import remember

    QSettings("homunculus", "homunculus").setValue(f"columns/{sort}", {**remembered(sort), **remember(head, columns)})


def write_table(desk: Editor, path: Path, content: Content, what: tuple[Any, ...], said: str) -> None:
    """Write ``what`` there is of some ``content`` to a file at a ``path``, in a thread of the ``desk``'s; then it is ``said``."""

    def work() -> None:
        from homunculus.store.atomic import write_atomically

        write_atomically(path, writer(content, path.name)(*what))

    desk.runner.begin(f"Writing {path.name}", work, lambda _: desk.said.emit(f"{said} to {path.name}."))


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
