"""Columns of a table that anybody wrote: guessed by their heads, matched by a person once and remembered; rows that are left out."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence

from msgspec import Struct


class BadRow(Struct, frozen=True):
    """A row that was left out: its number in the file, the column, and why."""

    row: int
    column: str
    reason: str


def folded(words: str) -> str:
    """Return the ``words`` of a head as they are compared: letters and digits."""
    return re.sub(r"[^a-z0-9]+", " ", words.casefold()).strip()


def remember(head: Sequence[str], columns: Sequence[str]) -> dict[str, str]:
    """What to remember of a match of ``head`` to ``columns``: key, or empty for left out, by the folded head."""
    return {folded(words): key for words, key in zip(head, columns, strict=True) if folded(words)}


def guess(
    head: Sequence[str], known: Iterable[tuple[str, str, Sequence[str]]], remembered: Mapping[str, str]
) -> tuple[str, ...]:
    """Guess for each column of a table which of the known ones it is.

    Parameters
    ----------
    head
        First row of the table.
    known
        Key, head, and other heads that mean it.
    remembered
        Keys that a person matched before, by the folded head; empty for “leave out”.

    Returns
    -------
    tuple
        A key for each column, or empty; none twice.
    """
    columns = list(known)
    keys = {key for key, _, _ in columns}
    found: list[str] = []
    for words in head:
        plain = folded(words)
        key = remembered.get(plain)
        if key is None:
            exact = [key for key, title, _ in columns if plain == folded(title)]
            key = (exact or [key for key, _, also in columns if plain in also] or [""])[0]
        found.append(key if key in keys and key not in found else "")
    return tuple(found)
