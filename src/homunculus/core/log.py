"""Entries of the shop log: what was done, when, by the shop's own hand. Never rewritten, only corrected."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from msgspec import Struct

EventKind = Literal["weighed", "poured", "opened", "spoiled", "measured", "note", "correction"]


class LogEvent(Struct, frozen=True, omit_defaults=True):
    """One entry. Weights in kg, temperatures in °C, moments naive local."""

    id: str
    at: datetime
    kind: EventKind
    text: str = ""
    build: str = ""
    piece: str = ""
    celsius: float | None = None
    until: datetime | None = None
    """For a measured stretch of time: its end."""
    weights_kg: dict[str, float] = {}
    lot: str = ""
    """Of the material, as it stands on its pail."""
    mix: str = ""
    """Which mix of the piece, where it has several."""
    batch: int = 0
    """Which batch of the pour a weight went into, from 1."""
    picture: str = ""
    """File name of a picture in the job folder's ``pictures``."""
    corrects: str = ""
    """Id of the entry that this one puts right; that one no longer counts."""


_last: tuple[tuple[LogEvent, ...], tuple[LogEvent, ...]] = ((), ())


def standing(log: tuple[LogEvent, ...]) -> tuple[LogEvent, ...]:
    """Return the entries of a ``log`` that count, oldest first: those corrected by a later one are left out.

    The answer for the same log is kept: a log of years is asked about many times a second.
    """
    global _last
    if _last[0] is not log:
        corrected = {e.corrects for e in log if e.corrects}
        _last = (log, tuple(sorted((e for e in log if e.id not in corrected), key=lambda e: e.at)))
    return _last[1]
