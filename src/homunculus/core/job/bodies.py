"""Cards of bodies: girths measured at heights, level by level, of which sections are made."""

from __future__ import annotations

from typing import Annotated, Literal, get_args

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Length, Size
from homunculus.core.job.decided import told
from homunculus.core.job.sourced import Sourced

Limb = Literal["trunk", "head", "arm", "leg", "hand", "foot"]
BodyPart = Literal["whole", "head", "hand", "leg"]
BODY_PARTS: tuple[BodyPart, ...] = get_args(BodyPart)
PAIRED: tuple[Limb, ...] = ("arm", "leg", "hand", "foot")
"""Of which a whole body has two."""


class Level(Struct, frozen=True, forbid_unknown_fields=True):
    """A girth of one limb at a height above the floor, and how much wider than deep it is there."""

    name: str
    limb: Limb
    at_m: Length
    girth_m: Annotated[float, Meta(gt=0.001, le=100)]
    aspect: Annotated[float, Meta(ge=0.1, le=10)]
    """Width over depth, seen from the front."""
    source: str


class BodyCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A body, or a part of one, as it was measured."""

    id: str
    name: str
    part: BodyPart
    stature_m: Annotated[Sourced | None, told("stature", "length")] = None
    mass_kg: Annotated[Sourced | None, told("weighs", "mass")] = None
    arm_apart_m: Annotated[Size, told("arms apart, middle to middle", "length")] = 0.46
    leg_apart_m: Annotated[Size, told("legs apart, middle to middle", "length")] = 0.19
    levels: Annotated[tuple[Level, ...], Meta(max_length=200)] = ()
