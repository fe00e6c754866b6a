"""Pieces from a table that anybody wrote, and back: a column for each phrase of a piece's line (:mod:`homunculus.core.cells.pieces`)."""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from typing import NamedTuple

from msgspec import Struct

from homunculus.core.cells.pieces import phrases_of
from homunculus.core.edits.pieces import piece_typed
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.job import Job
from homunculus.core.job.ways import Shelf
from homunculus.core.quantities import System, decimal_points
from homunculus.core.showing import so_many
from homunculus.exchange.columns import BadRow, guess
from homunculus.exchange.tables import write_csv, write_spreadsheet


class PieceColumn(NamedTuple):
    """A column: its key, its head, what stands before its cells in a line and after a bare number, other heads that mean it."""

    key: str
    head: str
    before: str = ""
    after: str = ""
    also: tuple[str, ...] = ()


COLUMNS = (
    PieceColumn("build", "build", also=("of", "belongs to")),
    PieceColumn("id", "piece", also=("id", "part", "no", "number")),
    PieceColumn("name", "name", also=("called", "what", "part name")),
    PieceColumn("form", "form and size", also=("form", "size", "sizes", "dimensions")),
    PieceColumn("drawn", "drawn at", "drawn "),
    PieceColumn("wall", "hollow", "hollow ", also=("wall", "thickness")),
    PieceColumn("material", "material", also=("made of",)),
    PieceColumn("making", "how it is made", also=("made by", "mould", "making", "way")),
    PieceColumn("enlarged", "enlarged"),
    PieceColumn("copies", "how many", after=" a figure", also=("count", "quantity", "copies", "number of")),
    PieceColumn("only", "only for", "only "),
    PieceColumn("spares", "spare", after=" spare", also=("spares",)),
    PieceColumn("tests", "test", after=" test", also=("tests",)),
    PieceColumn("good", "good", "good ", also=("yield",)),
    PieceColumn("waste", "lost", "lost ", also=("waste",)),
    PieceColumn("along", "along", "along ", also=("x",)),
    PieceColumn("up", "up", "up ", also=("z",)),
)
BY_KEY = {column.key: column for column in COLUMNS}


class PieceTable(Struct, frozen=True):
    """What a table gives for a job."""

    job: Job
    """With the pieces of the table put in."""
    new: tuple[str, ...]
    changed: tuple[str, ...]
    same: int
    bad: tuple[BadRow, ...]
    filled: tuple[str, ...] = ()
    """Sentences about what the table did not say and was filled in."""


def guess_columns(head: Sequence[str], remembered: Mapping[str, str]) -> tuple[str, ...]:
    """Guess for each column of a table which column of the list of pieces it is.

    Parameters
    ----------
    head
        First row of the table.
    remembered
        Keys that a person matched before, by the folded head; empty for “leave out”.
    """
    return guess(head, ((column.key, column.head, column.also) for column in COLUMNS), remembered)


def pieces_from_table(rows: Sequence[Sequence[str]], columns: Sequence[str], job: Job, shelf: Shelf, build_id: str = "",
                      system: System = "metric") -> PieceTable:  # fmt: skip
    """Read pieces from a table.

    Parameters
    ----------
    rows
        With a head.
    columns
        Which column of the list each is; empty for those that are left out.
    job
        As it is: a row whose piece is there changes it, cell by cell; empty cells change nothing.
    shelf
        What may be taken into the job.
    build_id
        Whose pieces they are where a row names no build.
    system
        In which sizes are that say no unit.

    Raises
    ------
    UserError
        When no column says how pieces are called.
    """
    if "name" not in columns and "id" not in columns:
        raise UserError("No column says how a piece is called", remedy="Match one column to “name” or “piece”")
    new: list[str] = []
    changed: list[str] = []
    bad: list[BadRow] = []
    same, seen = 0, dict[tuple[str, str], int]()
    for number, row in enumerate(rows[1:], 2):
        cells = {key: " ".join(cell.split()) for key, cell in zip(columns, row, strict=False) if key and cell.strip()}
        if not cells:
            continue
        try:
            build = _build_of(job, cells.get("build", ""), build_id)
            before = _piece_of(build, cells)
            known = (build.id, before.id if before else cells.get("name") or cells.get("id", ""))
            if known in seen:
                raise UserError(f"{known[1]} stands in row {seen[known]} already")
            with decimal_points():
                after = piece_typed(
                    job,
                    build.id,
                    before.id if before else "",
                    _line(before, cells, shelf.beside(job.cards.materials)),
                    shelf,
                    system,
                )
        except UserError as trouble:
            bad.append(
                BadRow(
                    number,
                    "build" if "no build" in str(trouble) else "name" if "is called" in str(trouble) else "piece",
                    str(trouble),
                )
            )
            continue
        seen[known] = number
        said = f"{build.id}/{known[1]}"
        if before is None:
            new.append(said)
        elif after.build(build.id) != build:
            changed.append(said)
        else:
            same += 1
        job = after
    return PieceTable(job, tuple(new), tuple(changed), same, tuple(bad))


def _build_of(job: Job, words: str, usual: str) -> Build:
    asked = words.casefold() or usual.casefold()
    found = next((b for b in job.builds if asked and asked in (b.id.casefold(), b.name.casefold())), None)
    if found is None:
        names = ", ".join(build.name for build in job.builds)
        raise UserError(
            f"“{words}” is no build" if words else "it names no build",
            remedy=f"There are {names}" if names else "Begin one first",
        )
    return found


def _piece_of(build: Build, cells: Mapping[str, str]) -> Piece | None:
    """The piece that a row is about, or none where it is a new one."""
    if "id" in cells:
        found = next((p for p in build.pieces if p.id == cells["id"]), None)
        if found or "name" in cells:
            return found
    name = cells.get("name", cells.get("id", "")).casefold()
    same = [p for p in build.pieces if p.name.casefold() == name]
    return same[0] if len(same) == 1 else None


def _line(before: Piece | None, cells: Mapping[str, str], shelf: Shelf) -> str:
    """The line of a piece as a row has it: what the row leaves empty is as it was."""
    phrases = dict(phrases_of(before, shelf, "metric")) if before else {}
    shown = {key: _cell(key, words) for key, words in phrases.items()}
    for column in COLUMNS[3:]:
        words = cells.get(column.key, "")
        if not words or words == shown.get(column.key):
            continue
        if column.after and re.fullmatch(r"\d+", words):
            words += column.after
        if column.key in ("spares", "tests") and words in ("0 spare", "0 test"):
            phrases.pop(column.key, None)
            continue
        phrases[column.key] = words if words.startswith(column.before) else column.before + words
    name = cells.get("name") or (before.name if before else cells.get("id", ""))
    return f"{name.replace(':', ' -')}: {', '.join(phrases.values())}"


def _cell(key: str, phrase: str) -> str:
    return phrase.removeprefix(BY_KEY[key].before)


def table_words(name: str, found: PieceTable) -> str:
    """Say what the table ``name`` gave, as it was ``found``."""
    words = f"{name}: {so_many(len(found.new), 'new piece')}, {len(found.changed)} changed, {found.same} as before"
    return words + (f", {so_many(len(found.bad), 'row')} left out." if found.bad else ".")


def table_of(job: Job, shelf: Shelf) -> list[list[str]]:
    """Return the pieces of all builds of a ``job`` as rows of words with a head, with the names of a ``shelf``; read back they are the same."""
    rows = [[column.head for column in COLUMNS]]
    shelf = shelf.beside(job.cards.materials)
    for build in job.builds:
        for piece in build.pieces:
            phrases = {"build": build.id, "id": piece.id, "name": piece.name} | dict(phrases_of(piece, shelf, "metric"))
            rows.append([_cell(column.key, phrases.get(column.key, "")) for column in COLUMNS])
    return rows


def as_csv(job: Job, shelf: Shelf) -> bytes:
    """Write the pieces of a ``job`` as CSV, with the names of a ``shelf``."""
    return write_csv(table_of(job, shelf))


def as_spreadsheet(job: Job, shelf: Shelf) -> bytes:
    """Write the pieces of a ``job`` as a spreadsheet, with the names of a ``shelf``."""
    return write_spreadsheet(table_of(job, shelf), job.name)
