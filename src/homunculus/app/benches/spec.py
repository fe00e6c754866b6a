"""What a bench tells about itself, in the ``spec.py`` of its own folder: all that the window knows of it."""

from __future__ import annotations

import importlib
from collections.abc import Callable
from pathlib import Path
from typing import Any, Literal, NamedTuple

from homunculus.core.figures import Station
from homunculus.exchange.formats import Content

# The window as commands and drops see it; typed loosely, because a bench's own folder knows what its bench is.
WindowLike = Any


class Key(NamedTuple):
    """A key of a bench, as it is written, and what it does."""

    name: str
    words: str
    at: str = ""
    """How the spots begin that it works on: there it is written on the drawing; elsewhere where it works on no one thing."""


class Command(NamedTuple):
    """Something that can be gone to by its words. Its keys, where it has some, work everywhere."""

    words: str
    hint: str
    """What stands beside it: its key, or what kind of file."""
    act: Callable[[WindowLike], object]
    keys: tuple[str, ...] = ()
    listed: bool = True
    """Whether it can be gone to by its words."""
    anywhere: bool = False
    """Whether its keys reach it even while something covers the window."""


class Accepts(NamedTuple):
    """What a bench takes by drop."""

    content: Content
    take: Callable[[WindowLike, Path], object]
    closed: str = ""
    """What is said when the bench is not open, where it has to be."""


class BenchSpec(NamedTuple):
    """One bench. Its modules are loaded when it is first wanted."""

    name: str
    title: str
    question: str
    """What it answers; of a station ``{}`` stands for what the chosen build is called."""
    factory: str
    """“module:class” beneath ``homunculus.app.benches``; empty for a station that has a sheet of figures alone."""
    place: Literal["station", "job", "over", "window", "sheet"]
    """The drawing of a station; about the whole job; over the station; over all but the clock; the figures of any station."""
    station: Station | None = None
    """Where it belongs: opening it goes there."""
    key: str = ""
    """Opens it."""
    sheet: bool = True
    """Whether F turns its drawing to the sheet of figures."""
    keys: tuple[Key, ...] = ()
    commands: tuple[Command, ...] = ()
    accepts: tuple[Accepts, ...] = ()

    def load(self) -> type[Any]:
        """The class of the bench."""
        module, _, name = self.factory.partition(":")
        found: type[Any] = getattr(importlib.import_module(f"homunculus.app.benches.{module}"), name)
        return found
