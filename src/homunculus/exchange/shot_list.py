"""Shots from a table that anybody wrote, and back: columns are matched, good rows come in, bad ones are named."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import date

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.cells.shots import BY_KEY, COLUMNS, new_shot, read_cell
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot, in_order
from homunculus.core.quantities import System, decimal_points
from homunculus.core.showing import so_many
from homunculus.exchange.columns import BadRow, guess
from homunculus.exchange.tables import write_csv, write_spreadsheet


class ShotTable(Struct, frozen=True):
    """What a table gives for a job."""

    shots: tuple[Shot, ...]
    """All shots of the job with those of the table put in."""
    new: tuple[str, ...]
    changed: tuple[str, ...]
    same: int
    bad: tuple[BadRow, ...]
    filled: tuple[str, ...]
    """Sentences about what the table did not say and was filled in."""


def guess_columns(head: Sequence[str], remembered: Mapping[str, str]) -> tuple[str, ...]:
    """Guess for each column of a table which column of the shot list it is.

    Parameters
    ----------
    head
        First row of the table.
    remembered
        Keys that a person matched before, by the folded head; empty for “leave out”.

    Returns
    -------
    tuple
        A key for each column, or empty; none twice.
    """
    return guess(head, ((column.key, column.head, column.also) for column in COLUMNS), remembered)


def shots_from_table(
    rows: Sequence[Sequence[str]], columns: Sequence[str], job: Job, day: date, system: System = "metric"
) -> ShotTable:
    """Read the rows of a table into the shots of a job.

    A shot that the job has is changed where the table has words; an empty cell changes nothing.

    Parameters
    ----------
    rows
        With the head as the first.
    columns
        Key of each column, or empty to leave it out.
    job
        As it is.
    day
        For new shots without a day.
    system
        Of units, for bare numbers.

    Raises
    ------
    UserError
        When no column says which shot a row is.
    """
    if "id" not in columns:
        raise UserError("No column says which shot a row is", remedy="Match one column to “shot”")
    at = columns.index("id")
    shots = {shot.id: shot for shot in job.shots}
    seen: dict[str, int] = {}
    new, changed, bad, same = [], [], [], 0
    undated, untimed = [], []
    for number, row in enumerate(rows[1:], 2):
        name = " ".join(row[at].split()) if at < len(row) else ""
        column = "shot"
        try:
            if not name:
                raise UserError("it names no shot")
            if name in seen:
                raise UserError(f"shot {name} stands in row {seen[name]} already")
            before = shots.get(name)
            shot = before or replace(new_shot((), day), id=name, name="")
            for key, cell in zip(columns, row, strict=False):
                as_it_is = before is not None and cell.strip() == BY_KEY[key].write(before, job) if key else True
                if key != "id" and cell.strip() and not as_it_is:
                    column = BY_KEY[key].head
                    with decimal_points():
                        shot = read_cell(job, shot, key, cell, system)
        except UserError as trouble:
            bad.append(BadRow(number, column, str(trouble)))
            continue
        seen[name] = number
        if before is None:
            new.append(name)
            if not _says(row, columns, "day"):
                undated.append(name)
            if not _says(row, columns, "seconds"):
                untimed.append(name)
        elif shot != before:
            changed.append(name)
        else:
            same += 1
        shots[name] = shot
    filled = []
    if undated:
        filled.append(f"{_so_many(undated)} no day: put on {day.isoformat()}")
    if untimed:
        filled.append(f"{_so_many(untimed)} no seconds: 4 s taken")
    return ShotTable(tuple(shots.values()), tuple(new), tuple(changed), same, tuple(bad), tuple(filled))


def table_words(name: str, found: ShotTable) -> str:
    """Say what the table ``name`` gave, as it was ``found``."""
    words = f"{name}: {so_many(len(found.new), 'new shot')}, {len(found.changed)} changed"
    words += f", {so_many(len(found.bad), 'row')} left out" if found.bad else ""
    return ". ".join((words, *found.filled)) + "."


def _so_many(shots: list[str]) -> str:
    return f"new shot {shots[0]} has" if len(shots) == 1 else f"{len(shots)} new shots have"


def _says(row: Sequence[str], columns: Sequence[str], key: str) -> bool:
    return key in columns and columns.index(key) < len(row) and bool(row[columns.index(key)].strip())


def table_of(job: Job) -> list[list[str]]:
    """Return the shots of a ``job`` as rows of words with a head, in the order of the shoot; read back they are the same."""
    rows = [[column.head for column in COLUMNS]]
    return rows + [[column.write(shot, job) for column in COLUMNS] for shot in in_order(job.shots)]


def as_csv(job: Job, _name: str) -> bytes:
    """Write the shots of a ``job`` as CSV."""
    return write_csv(table_of(job))


def as_spreadsheet(job: Job, _name: str) -> bytes:
    """Write the shots of a ``job`` as a spreadsheet."""
    return write_spreadsheet(table_of(job), job.name)
