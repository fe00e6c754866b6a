"""Light as a shop has it: a set-up that it knows, its lamps and circuits; and lamps and screens in a model. Plain data."""

from __future__ import annotations

import math
from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Rate, Share, Size, Stop, Words
from homunculus.core.job.decided import decided

Amperes = Annotated[float, Meta(ge=1e-5, le=10_000)]
Volts = Annotated[float, Meta(ge=0.5, le=1000)]


class Lighting(Struct, frozen=True, forbid_unknown_fields=True):
    """What light is measured by and made with. What a lamp gives for its power is an estimate until somebody measures it."""

    known_stop: Annotated[Stop, decided("known set-up, stop", "stop", 0.1, "lens")] = 5.6
    """A set-up that the user knows, against which stops are told."""
    known_fps: Annotated[Rate, decided("known set-up, rate", "rate", 1, "lens")] = 24.0
    known_shutter_rad: Annotated[
        float, Meta(gt=0, le=6.284), decided("known set-up, shutter", "angle", math.pi / 180, "lens")
    ] = math.pi
    known_iso: Annotated[float, Meta(ge=25, le=25600), decided("known set-up, ISO", "count", 100, "lens")] = 800.0
    lm_w: Annotated[float, Meta(ge=1, le=300), decided("a lamp gives", "efficacy", 5, "lens")] = 90.0
    """Lumen a watt: an estimate, common practice for lamps of light-emitting diodes; a hot lamp has about 25."""
    used: Annotated[float, Meta(ge=0.01, le=1), decided("of that reaches the set", "share", 0.05, "lens")] = 0.4
    """An estimate: common practice, no source."""
    volts: Annotated[Volts, decided("the mains have", "voltage", 10, "lens")] = 230.0
    breaker_a: Annotated[Amperes, decided("a breaker holds", "current", 1, "lens")] = 16.0
    load: Annotated[Share, decided("of it for hours", "share", 0.05, "lens")] = 0.8
    """Share of a breaker that is loaded for hours: common practice, no source."""
    circuits: Annotated[int, Meta(ge=1, le=1000), decided("circuits there are", "count", 1, "lens")] = 4


class ModelLamps(Struct, frozen=True, forbid_unknown_fields=True):
    """Lamps of one kind on a model, on one pair of wires."""

    name: Words
    count: Annotated[int, Meta(ge=1, le=100_000)]
    amps: Amperes
    """Of each."""
    volts: Volts
    wire_m: Annotated[float, Meta(ge=0.001, le=1000)] = 2.0
    """From the supply to the lamps."""


class ModelScreen(Struct, frozen=True, forbid_unknown_fields=True):
    """A screen within a model that must read as what it shows, beside what is lit around it."""

    name: Words
    width_m: Size
    height_m: Size
    reflects: Annotated[float, Meta(ge=0.01, le=1)] = 0.9
    """Of the white that it must look like."""
    gain: Annotated[float, Meta(ge=0.1, le=20)] = 1.0
    """How much brighter than a matt one it is, straight on."""
