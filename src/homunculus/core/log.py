"""Entries of the shop log: what was done, when, by the shop's own hand. Never rewritten, only corrected."""

from __future__ import annotations

from bisect import bisect_right, insort
from collections import defaultdict
from collections.abc import Iterable
from datetime import datetime
from itertools import pairwise
from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.cure.record import Record
from homunculus.core.job.bounds import Count, FileName, Moment

EventKind = Literal["weighed", "poured", "opened", "spoiled", "measured", "note", "correction", "counted", "signed"]


ENDS: tuple[EventKind, ...] = ("poured", "opened", "spoiled")
"""What closes a weighing."""


Degrees = Annotated[float, Meta(ge=-273.15, le=2000)]
Weight = Annotated[float, Meta(ge=-1e4, le=1e6)]
After = Annotated[float, Meta(ge=0, le=4e9)]


class LogEvent(Struct, frozen=True, omit_defaults=True):
    """One entry. Weights in kg, temperatures in °C, moments naive local."""

    id: str
    at: Moment
    kind: EventKind
    text: str = ""
    build: str = ""
    piece: str = ""
    celsius: Degrees | None = None
    until: Moment | None = None
    """For a measured stretch of time: its end."""
    weights_kg: dict[str, Weight] = {}
    lot: str = ""
    """Of the material, as it stands on its pail."""
    mix: str = ""
    """Which mix of the pour, where it has several."""
    batch: Count = 0
    """Which batch of the pour a weight went into, from 1."""
    series: tuple[tuple[After, Degrees], ...] = ()
    """For a recorded temperature: (seconds after ``at``, °C)."""
    picture: FileName = ""
    """File name of a picture in the job folder's ``pictures``."""
    corrects: str = ""
    """Id of the entry that this one puts right; that one no longer counts."""
    op: str = ""
    """Which operation of the piece's route; empty in a log of before there were any, and where the mould is poured undated."""


class Book:
    """The log, kept in order and by what is asked of it, so that one entry more costs the same after ten years.

    Parameters
    ----------
    entries
        As they were written.
    """

    def __init__(self, entries: Iterable[LogEvent] = ()) -> None:
        self._ids = {entry.id: entry for entry in entries}
        self.written: list[LogEvent] = list(self._ids.values())
        """Each once: what a retry wrote again counts once."""
        self.corrected = {entry.corrects for entry in self.written if entry.corrects}
        self.standing = sorted((e for e in self.written if self._stands(e)), key=_at)
        """The entries that count, oldest first: those corrected by another are left out, and what only corrects."""
        self._pieces: defaultdict[tuple[str, str], list[LogEvent]] = defaultdict(list)
        self._pours: defaultdict[tuple[str, str, str], list[LogEvent]] = defaultdict(list)
        self._ends: defaultdict[tuple[str, str, str, EventKind], list[LogEvent]] = defaultdict(list)
        self._builds: defaultdict[str, list[LogEvent]] = defaultdict(list)
        self._temperatures: list[LogEvent] = []
        self._measured: list[LogEvent] = []
        self._spans: tuple[tuple[datetime, datetime, float], ...] | None = None
        for entry in self.standing:
            for shelf in self._shelves(entry):
                shelf.append(entry)

    def _stands(self, entry: LogEvent) -> bool:
        return entry.kind != "correction" and entry.id not in self.corrected

    def _shelves(self, entry: LogEvent) -> list[list[LogEvent]]:
        found = []
        if build := entry.build:
            found.append(self._builds[build])
            if entry.piece and entry.kind != "note":
                found += (self._pieces[build, entry.piece], self._pours[build, entry.piece, entry.op])
                if entry.kind in ENDS:
                    found.append(self._ends[build, entry.piece, entry.op, entry.kind])
        if entry.celsius is not None or entry.series:
            found.append(self._temperatures)
        if entry.series or entry.until:
            found.append(self._measured)
            self._spans = None
        return found

    def add(self, entry: LogEvent) -> None:
        """Take in an ``entry``; the one that it corrects no longer counts. One that is in already is not taken twice."""
        if entry.id in self._ids:
            return
        self.written.append(entry)
        self._ids[entry.id] = entry
        if entry.corrects:
            self.corrected.add(entry.corrects)
            old = self._ids.get(entry.corrects)
            for shelf in (self.standing, *self._shelves(old)) if old else ():
                if old in shelf:
                    shelf.remove(old)
        if self._stands(entry):
            for shelf in (self.standing, *self._shelves(entry)):
                insort(shelf, entry, key=_at)

    def of_piece(self, build: str, piece: str) -> list[LogEvent]:
        """What was done with a ``piece`` of a ``build``, oldest first; notes left out."""
        return self._pieces.get((build, piece), [])

    def of_pour(self, build: str, piece: str, ops: tuple[str, ...]) -> list[LogEvent]:
        """What was done for one pour of a ``piece`` of a ``build``, oldest first; ``ops`` are the names under which it was logged."""
        found = [shelf for op in ops if (shelf := self._pours.get((build, piece, op)))]
        return found[0] if len(found) == 1 else sorted((e for shelf in found for e in shelf), key=_at)

    def times(self, kind: EventKind, build: str, piece: str, before: datetime, ops: tuple[str, ...]) -> int:
        """How often a pour of a ``piece`` of a ``build`` ended in that ``kind`` of :data:`ENDS` up to the moment ``before``; ``ops`` as above."""
        shelves = (self._ends.get((build, piece, op, kind), ()) for op in ops)
        return sum(bisect_right(shelf, before, key=_at) for shelf in shelves)

    def since_end(self, build: str, piece: str, ops: tuple[str, ...]) -> list[LogEvent]:
        """What was done for one pour of a ``piece`` of a ``build`` since it was last poured, opened or spoiled; ``ops`` as above."""
        entries, index = self.of_pour(build, piece, ops), 0
        for index in range(len(entries), 0, -1):
            if entries[index - 1].kind in ENDS:
                return entries[index:]
        return entries[:]

    def last(self, build: str, piece: str, kinds: tuple[EventKind, ...], before: datetime,
             ops: tuple[str, ...] | None = None) -> LogEvent | None:  # fmt: skip
        """The newest entry of those ``kinds`` about a ``piece`` of a ``build`` up to the moment ``before``, or none.

        Of one pour where its ``ops`` are given.
        """
        entries = self.of_piece(build, piece) if ops is None else self.of_pour(build, piece, ops)
        return next((e for e in reversed(entries) if e.kind in kinds and e.at <= before), None)

    def of_build(self, build: str) -> list[LogEvent]:
        """All entries about a ``build``, oldest first."""
        return self._builds.get(build, [])

    def pieces(self) -> Iterable[tuple[str, str]]:
        """The (build, piece) pairs that anything was done with."""
        return self._pieces.keys()

    def last_measured(self, now: datetime) -> LogEvent | None:
        """The newest entry up to ``now`` that tells a temperature, or none."""
        index = bisect_right(self._temperatures, now, key=_at)
        return self._temperatures[index - 1] if index else None

    def spans(self) -> tuple[tuple[datetime, datetime, float], ...]:
        """Measured stretches of temperature (first moment, last moment, °C), in order of being told."""
        if self._spans is None:
            found: list[tuple[datetime, datetime, float]] = []
            for entry in self._measured:
                if entry.series:
                    found += Record(entry.at, entry.series).spans()
                elif entry.until and entry.celsius is not None:
                    found.append((entry.at, entry.until, entry.celsius))
            self._spans = tuple(found)
        return self._spans


def odd_entry(entry: LogEvent) -> str:
    """Say what of an ``entry`` cannot be, beyond what its types tell; empty when all can."""
    if entry.series and any(b[0] < a[0] for a, b in pairwise(entry.series)):
        return "its readings go back in time"
    if entry.until and entry.until < entry.at:
        return "it ends before it begins"
    return ""


def _at(entry: LogEvent) -> datetime:
    return entry.at


def standing(log: Iterable[LogEvent]) -> tuple[LogEvent, ...]:
    """Return the entries of a ``log`` that count, oldest first: not those corrected by another, nor what only corrects."""
    return tuple(Book(log).standing)
