"""Data cards that ship with the program: it offers, a job embeds what it uses."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from homunculus.core.errors import UserError
from homunculus.core.job.bodies import BodyCard
from homunculus.core.job.cameras import CameraCard, LensCard
from homunculus.core.job.cards import HazardCard, MaterialCard
from homunculus.core.job.ways import KindCard, Shelf, WayCard
from homunculus.core.shelf.stock import SORTS, Family, Stock

HERE = Path(__file__).parent
Card = TypeVar("Card")


class _Families(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The file of families."""

    families: tuple[Family, ...]


def _decoded(path: Path, kind: type[Card]) -> Card:
    try:
        return msgspec.toml.decode(path.read_bytes(), type=kind)
    except (msgspec.DecodeError, msgspec.ValidationError) as trouble:
        raise UserError(f"The card cannot be read: {trouble}", path.name, "Mend or remove the card") from None


def _read(folder: str, kind: type[Card]) -> tuple[Card, ...]:
    return tuple(_decoded(path, kind) for path in sorted((HERE / folder).glob("*.toml")))


def materials() -> tuple[MaterialCard, ...]:
    """All material cards, by file name."""
    return _read("materials", MaterialCard)


def cameras() -> tuple[CameraCard, ...]:
    """All camera cards, by file name."""
    return _read("cameras", CameraCard)


def lenses() -> tuple[LensCard, ...]:
    """All lenses, by file name."""
    return _read("lenses", LensCard)


def hazards() -> tuple[HazardCard, ...]:
    """All hazard cards, by file name."""
    return _read("hazards", HazardCard)


def ways() -> tuple[WayCard, ...]:
    """All ways of making, by file name."""
    return _read("ways", WayCard)


def kinds() -> tuple[KindCard, ...]:
    """All kinds of build, by file name."""
    return _read("kinds", KindCard)


@cache
def families() -> tuple[Family, ...]:
    """All families of materials, in the order in which they stand on the shelf."""
    return _decoded(HERE / "families.toml", _Families).families


@cache
def stock() -> Stock:
    """All cards that ship, of every sort."""
    found: dict[str, Any] = {}
    for sort in SORTS:
        kind: Any = sort.card
        found[sort.name] = _read(sort.name, kind)
    return Stock(**found)


@cache
def shelf() -> Shelf:
    """All that a job may take from, read once: cards do not change while the program runs."""
    return Shelf(materials(), ways(), kinds(), _read("bodies", BodyCard), cameras(), _read("lenses", LensCard))


def way(name: str) -> WayCard:
    """The way of making of that ``name``, by its id.

    Raises
    ------
    UserError
        When there is none.
    """
    found = next((card for card in ways() if card.id == name), None)
    if found is None:
        raise UserError(
            f"There is no way of making called “{name}”", "library", f"Choose one of: {', '.join(c.id for c in ways())}"
        )
    return found


def new_job_lines() -> str:
    """The lines that make a new job, with @name and @start to be put in."""
    return (HERE / "new-job.lines").read_text("utf-8")
