"""Whom and what a shop has: people with their skills and days, ovens, vessels, scales, machines, stages; and what it buys."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.job import bounds
from homunculus.core.job.bounds import Celsius, Kilograms, Length, Size
from homunculus.core.job.decided import told
from homunculus.core.job.sourced import Sourced

Weekday = Annotated[int, Meta(ge=0, le=6)]
"""Monday is 0."""


class Person(Struct, frozen=True, forbid_unknown_fields=True):
    """Somebody who works in the shop."""

    id: str
    name: str
    skills: tuple[str, ...] = ()
    """As steps name them: sculptor, mould maker, caster …"""
    weekdays: tuple[Weekday, ...] = (0, 1, 2, 3, 4)
    days_off: Annotated[tuple[date, ...], Meta(max_length=3000)] = ()


class Oven(Struct, frozen=True, forbid_unknown_fields=True):
    """An oven for moulds: its chamber, as a mould meets it."""

    id: str
    name: str
    width_m: Annotated[Size, told("chamber, wide", "length")]
    depth_m: Annotated[Size, told("chamber, deep", "length")]
    height_m: Annotated[Size, told("chamber, high", "length")]
    highest_c: Annotated[Celsius, told("keeps at most", "temperature")]
    shelves: Annotated[int, Meta(ge=1, le=100), told("shelves", "count")] = 1
    """That can be taken out: with one in use the whole height is free."""


class Vessel(Struct, frozen=True, forbid_unknown_fields=True):
    """Something to mix in."""

    id: str
    name: str
    volume_m3: Annotated[bounds.Vessel, told("holds", "volume")]
    vacuum: bool = False
    """Whether air is drawn out in it."""


class Scale(Struct, frozen=True, forbid_unknown_fields=True):
    """Something to weigh on."""

    id: str
    name: str
    most_kg: Annotated[Kilograms, told("weighs at most", "mass")]
    step_kg: Annotated[Kilograms, told("shows to", "mass")]


class Machine(Struct, frozen=True, forbid_unknown_fields=True):
    """A printer, a vacuum former, a cutter: what it does and how large a thing it takes."""

    id: str
    name: str
    does: Literal["prints", "draws sheets", "cuts", "sprays", "turns moulds"]
    width_m: Annotated[Size, told("takes, wide", "length")]
    depth_m: Annotated[Size, told("takes, deep", "length")]
    height_m: Annotated[Size, told("takes, high", "length")]


class StageCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A stage that may be shot on."""

    id: str
    name: str
    width_m: Annotated[Size, told("wide", "length")]
    depth_m: Annotated[Size, told("deep", "length")]
    height_m: Annotated[Size, told("high", "length")]
    lamps_m: Annotated[Length, told("lamps take of the height", "length")] = 0.8
    door_width_m: Annotated[Size | None, told("door, wide", "length")] = None
    door_height_m: Annotated[Size | None, told("door, high", "length")] = None


class BoughtCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A thing that is bought as it is: what it costs, when it comes, how large it is."""

    id: str
    name: str
    traits: tuple[str, ...] = ()
    length_m: Annotated[Sourced | None, told("long", "length")] = None
    depth_m: Annotated[Sourced | None, told("deep", "length")] = None
    height_m: Annotated[Sourced | None, told("high", "length")] = None
    scale: Annotated[Sourced | None, told("scale", "scale")] = None
    """In which it is sold, where it is a model of something."""
    price: Annotated[Sourced | None, told("price", "money")] = None
    lead_s: Annotated[Sourced | None, told("comes after", "duration")] = None
    sold_by: Annotated[int, Meta(ge=1, le=100000), told("pieces in a pack", "count")] = 1
