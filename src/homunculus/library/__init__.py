"""Data cards that ship with the program: it offers, a job embeds what it uses."""

from __future__ import annotations

from pathlib import Path
from typing import TypeVar

import msgspec

from homunculus.core.errors import UserError
from homunculus.core.job.cards import CameraCard, HazardCard, MaterialCard

HERE = Path(__file__).parent
Card = TypeVar("Card", MaterialCard, CameraCard, HazardCard)


def _read(folder: str, kind: type[Card]) -> tuple[Card, ...]:
    cards = []
    for path in sorted((HERE / folder).glob("*.toml")):
        try:
            cards.append(msgspec.toml.decode(path.read_bytes(), type=kind))
        except (msgspec.DecodeError, msgspec.ValidationError) as trouble:
            raise UserError(f"The card cannot be read: {trouble}", path.name, "Mend or remove the card") from None
    return tuple(cards)


def materials() -> tuple[MaterialCard, ...]:
    """All material cards, by file name."""
    return _read("materials", MaterialCard)


def cameras() -> tuple[CameraCard, ...]:
    """All camera cards, by file name."""
    return _read("cameras", CameraCard)


def hazards() -> tuple[HazardCard, ...]:
    """All hazard cards, by file name."""
    return _read("hazards", HazardCard)
