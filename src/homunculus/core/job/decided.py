"""What a person decides, told once where the field is declared: its name on screen, its kind, its step, its station."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from typing import TYPE_CHECKING, Any, NamedTuple, get_args, get_type_hints

from msgspec import Meta

from homunculus.core.quantities import Kind

if TYPE_CHECKING:
    from homunculus.core.figures import Station


class Decided(NamedTuple):
    """How a field is decided."""

    label: str
    kind: Kind
    step: float
    """By which it goes up and down at a key, in the base unit of its kind; by which it is multiplied, with ``ratio``."""
    station: Station
    ratio: bool = False


def decided(label: str, kind: Kind, step: float, station: Station, *, ratio: bool = False) -> Meta:
    """Mark a field of the job as one that a person decides at the screen.

    Parameters
    ----------
    label
        What it is called there.
    kind
        Which kind of quantity it is.
    step
        By which it goes up and down, in the base unit of its kind.
    station
        Where it is decided.
    ratio
        Whether a step multiplies rather than adds.
    """
    return Meta(extra={"decided": Decided(label, kind, step, station, ratio)})


class Told(NamedTuple):
    """How a value of a card stands on its data sheet, where nobody decides it at a station."""

    label: str
    kind: Kind
    signed: bool = False
    """Whether it may be below nought."""


def told(label: str, kind: Kind, *, signed: bool = False) -> Meta:
    """Mark a field of a card as a row of its data sheet.

    Parameters
    ----------
    label
        What the row is called.
    kind
        Which kind of quantity stands in it.
    signed
        Whether it may be below nought.
    """
    return Meta(extra={"told": Told(label, kind, signed)})


def metas(hint: Any) -> Iterator[Meta]:
    """All that a type ``hint`` tells about its values, how deep it may stand: what may be none is a union of what has bounds."""
    if isinstance(hint, Meta):
        yield hint
    for part in get_args(hint):
        yield from metas(part)


@cache
def decided_fields(owner: type) -> dict[str, Decided]:
    """The fields of an ``owner``, a struct of the job, that a person decides, in their order."""
    hints = get_type_hints(owner, include_extras=True)
    return {
        field: meta.extra["decided"]
        for field, hint in hints.items()
        for meta in metas(hint)
        if meta.extra and "decided" in meta.extra
    }
