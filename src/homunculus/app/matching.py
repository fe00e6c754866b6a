"""Tables that somebody wrote, read and written beside the interface; how their columns were matched is remembered."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import QSettings

from homunculus.app.editor import Editor, way_back
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.exchange.formats import Content, reader, writer

MOST_BYTES = 60_000_000


def remembered(sort: str) -> dict[str, str]:
    """Columns of tables of a ``sort`` that a person matched before, by their folded heads."""
    known = QSettings("homunculus", "homunculus").value(f"columns/{sort}")
    return known if isinstance(known, dict) else {}


def remember_match(sort: str, head: list[str], columns: tuple[str, ...]) -> None:
    """Remember how the ``head`` of a table of a ``sort`` was matched to ``columns``."""
    from homunculus.exchange.columns import remember

    QSettings("homunculus", "homunculus").setValue(f"columns/{sort}", {**remembered(sort), **remember(head, columns)})


def write_table(desk: Editor, path: Path, content: Content, what: tuple[Any, ...], said: str) -> None:
    """Write ``what`` there is of some ``content`` to a file at a ``path``, in a thread of the ``desk``'s; then it is ``said``."""

    def work() -> None:
        from homunculus.store.atomic import write_atomically

        write_atomically(path, writer(content, path.name)(*what))

    desk.runner.begin(f"Writing {path.name}", work, lambda _: desk.said.emit(f"{said} to {path.name}."))


def take_in(desk: Editor, name: str, job: Job, words: str) -> bool:
    """Make the job that a file gave the current one, and say in ``words`` what it gave; nothing is to be taken back where nothing changed."""
    if job == desk.job:
        desk.said.emit(f"{words} {way_back(changed=False)}")
        return True
    if not desk.edit(name, job):
        return False
    desk.said.emit(f"{words} {way_back(changed=True)}")
    return True


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
