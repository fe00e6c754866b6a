"""A table that somebody wrote, before it comes in: what the bench that matches its columns is handed."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple


class ToMatch(NamedTuple):
    """A table whose columns a person looks over."""

    name: str
    rows: list[list[str]]
    guess: tuple[str, ...]
    """What each column is guessed to be; empty for those that are left out."""
    offered: tuple[tuple[str, str], ...]
    """The columns that there are: key and head."""
    thing: str
    """What a row is, in a word: a shot, a card, a piece."""
    back: str
    """The bench that it belongs to."""
    trial: Callable[[tuple[str, ...]], Any]
    """What the table would give with its columns so: its new, changed, same, bad and filled; raises a sentence where it gives nothing."""
    take: Callable[[tuple[str, ...]], bool]
    """Takes it in with its columns so; false, with a sentence, when it cannot be."""


NOTHING = ToMatch("", [], (), (), "row", "", lambda _: None, lambda _: False)
