"""The shelf from the command line: found, shown, compared, edited by lines, taken in and out of tables, taken into jobs."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from datetime import datetime
from pathlib import Path

from homunculus import library
from homunculus.core.edits.edit import edits_between
from homunculus.core.edits.lines import said
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.plan.job_plan import plan
from homunculus.core.plan.ledger import moved_builds
from homunculus.core.plan.memory import Memory
from homunculus.core.quantities import System
from homunculus.core.shelf.finding import found, name_of
from homunculus.core.shelf.lines import do_line
from homunculus.core.shelf.sheet import beside, rows
from homunculus.core.shelf.stock import Storeroom
from homunculus.core.shelf.taking import followed, newer, taken
from homunculus.exchange.formats import reader, writer
from homunculus.store.atomic import read_bounded, write_atomically
from homunculus.store.folder import JobFolder, read_facts
from homunculus.store.shelf import ShelfFolder

MOST_BYTES = 60_000_000
MOST_MOVES = 6
"""Figures of one build that are told."""


def find(words: str, sort: str) -> Iterator[str]:
    """The cards that ``words`` tell of, one a line; of one ``sort`` where it is named."""
    for hit in found(ShelfFolder().read().offered, library.families(), words, sort):
        yield f"{hit.key:44s} {name_of(hit.card)}" + (f"  ({hit.group})" if hit.sort.name == "materials" else "")


def show(key: str, other: str, system: System) -> Iterator[str]:
    """The sheet of the card ``key``, beside that of an ``other`` where one is named, in a ``system`` of units."""
    stock = ShelfFolder().read().stock
    card = stock.card(*_parts(key))
    if not other:
        yield from (
            f"{r.label}: {r.text}" + (f"  [{r.source}]" if r.source else "") for r in rows(card, system) if r.text
        )
        return
    second = stock.card(*_parts(other))
    if type(second) is not type(card):
        raise UserError(f"{name_of(card)} and {name_of(second)} are not of one sort", remedy="Compare two of one sort")
    for row in beside(card, second, system):
        yield f"{'≠' if row.differs else ' '} {row.label}: {row.one.text or '–'} | {row.other.text or '–'}"


def _parts(key: str) -> tuple[str, str]:
    sort, _, card_id = key.partition("/")
    return sort, card_id


def do_lines(text: str, where: str, now: datetime) -> Iterator[str]:
    """Run lines of ``text`` on the shelf, each an edit of its own; ``where`` names their file, ``now`` the dated copy.

    Raises
    ------
    UserError
        With the number of the first line that cannot be run; those before it are kept.
    """
    folder = ShelfFolder()
    for number, line in said(text):
        try:
            _change(folder, lambda room, line=line: do_line(room, line, library.families())[0], now)  # type: ignore[misc]
        except UserError as trouble:
            raise UserError(trouble.what, f"{where}, line {number}", trouble.remedy) from trouble
        yield line


def _change(folder: ShelfFolder, make: Callable[[Storeroom], Storeroom], now: datetime) -> None:
    before = folder.read()
    edits = edits_between(before, make(before))
    if edits:
        folder.edit(edits, now)


def take_in(files: list[Path], sort: str, system: System, now: datetime) -> Iterator[str]:
    """Take cards of a ``sort`` in from ``files``, and say what came of each; ``now`` dates copy and provenance."""
    from homunculus.exchange.card_table import card_words, cards_from_table, guess_columns

    folder = ShelfFolder()
    for file in files:
        table = reader("cards", file.name)(read_bounded(file, MOST_BYTES, file.name), file.name)
        columns = guess_columns(table[0] if table else [], sort, {})
        room = folder.read()
        read = cards_from_table(
            table, columns, room.stock, sort, library.families(), f"{file.name}, {now:%Y-%m-%d}", system
        )
        edits = edits_between(room, Storeroom(read.stock, room.put_away))
        if edits:
            folder.edit(edits, now)
        yield card_words(file.name, read)
        yield from (f"row {bad.row}, {bad.column}: {bad.reason}" for bad in read.bad[:20])


def write_out(file: Path, sort: str) -> str:
    """Write all cards of a ``sort`` to a ``file``, and say so."""
    cards = ShelfFolder().read().offered.of(sort)
    write_atomically(file, writer("cards", file.name)(cards, sort))
    return f"Wrote {len(cards)} {sort} to {file.name}."


def newer_of(folder: Path, system: System) -> Iterator[str]:
    """What the shelf has newer than the job in a ``folder``, in a ``system`` of units, and what following it would move."""
    from homunculus.report import load

    job, facts = load(folder)
    stock = ShelfFolder().read().offered
    hits = newer(job, stock, system)
    if not hits:
        yield "The shelf has nothing newer than this job."
    memory = Memory()
    before = plan(job, facts, memory)
    for hit in hits:
        yield f"{hit.key}: {hit.words}"
        after = plan(followed(job, stock, hit.key), facts, Memory(behind=memory))
        for build, moves in moved_builds(before, after):
            yield from (f"  {build.name}: {move.words(system, job.shop.currency)}" for move in moves[:MOST_MOVES])


def recover() -> str:
    """Put a damaged shelf right, and say what was done."""
    return ShelfFolder().recover()


def follow(folder: Path, wanted: list[str], now: datetime) -> Iterator[str]:
    """Let the job in a ``folder`` follow the shelf in the cards ``wanted``, in all where none is named; ``now`` dates the copy."""

    def all_of(job: Job) -> tuple[Job, list[str]]:
        stock = ShelfFolder().read().offered
        keys = wanted or [hit.key for hit in newer(job, stock)]
        for key in keys:
            job = followed(job, stock, key)
        return job, [f"Follows the shelf: {key}" for key in keys]

    yield from _in_job(folder, now, all_of)


def take(folder: Path, keys: list[str], now: datetime) -> Iterator[str]:
    """Take the cards ``keys`` from the shelf into the job in a ``folder``; ``now`` dates the copy."""

    def all_of(job: Job) -> tuple[Job, list[str]]:
        stock = ShelfFolder().read().offered
        for key in keys:
            job = taken(job, stock, key)
        return job, [f"Took {key}" for key in keys]

    yield from _in_job(folder, now, all_of)


def _in_job(folder: Path, now: datetime, change: Callable[[Job], tuple[Job, list[str]]]) -> Iterator[str]:
    opened = JobFolder(folder, now)
    try:
        job, words = change(opened.job)
        plan(job, read_facts(opened.path, job))  # what a plan refuses is no job
        opened.save(job, opened.pins)
        yield from words
    finally:
        opened.close()
