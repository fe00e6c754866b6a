"""The shop: stage, hours, air, mixing, what two can carry."""

from __future__ import annotations

from datetime import date, time
from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job import bounds
from homunculus.core.job.bounds import Celsius, ClockTime, Confidence, Handling, Kilograms, Length, Rate, Share, Size
from homunculus.core.job.decided import decided
from homunculus.core.job.lighting import Lighting
from homunculus.core.job.workshop import Machine, Oven, Person, Scale, Vessel


class Stage(Struct, frozen=True, forbid_unknown_fields=True):
    """The stage that is shot on: its room, what the lamps take from the height, its door."""

    width_m: Annotated[Size, decided("stage, wide", "length", 0.5, "scale")]
    depth_m: Annotated[Size, decided("stage, deep", "length", 0.5, "scale")]
    height_m: Annotated[Size, decided("stage, high", "length", 0.1, "scale")]
    lamps_m: Annotated[Length, decided("lamps take of the height", "length", 0.1, "scale")] = 0.8
    name: str = ""
    door_width_m: Annotated[Size | None, decided("stage door, wide", "length", 0.1, "scale")] = None
    door_height_m: Annotated[Size | None, decided("stage door, high", "length", 0.1, "scale")] = None

    @property
    def long_m(self) -> float:
        """Its longer side [m], along which a set is laid: common practice, no source."""
        return max(self.width_m, self.depth_m)

    @property
    def short_m(self) -> float:
        """Its shorter side [m], across a set."""
        return min(self.width_m, self.depth_m)


class ShopHours(Struct, frozen=True, forbid_unknown_fields=True):
    """When hands work."""

    opens: ClockTime = time(9, 0)
    closes: ClockTime = time(18, 0)
    """Before it opens: then the shift goes past midnight."""
    weekdays: tuple[Annotated[int, Meta(ge=0, le=6)], ...] = (0, 1, 2, 3, 4)
    """Monday is 0."""
    days_off: Annotated[tuple[date, ...], Meta(max_length=3000)] = ()
    """Holidays and days on which nobody comes, as dates: no later version of a calendar moves a plan."""
    country: str = ""
    """Whose public holidays were written into the days off."""


class Air(Struct, frozen=True, forbid_unknown_fields=True):
    """The shop's temperature: warm by day, cold by night."""

    day_c: Annotated[Celsius, decided("shop by day", "temperature", 0.5, "cure")] = 21.0
    night_c: Annotated[Celsius, decided("shop by night", "temperature", 0.5, "cure")] = 14.0
    warm_from: ClockTime = time(8, 0)
    warm_to: ClockTime = time(18, 0)
    zone: str = ""
    """Time zone by which the shop's clocks change (IANA name); none: they do not."""
    humidity: Annotated[Share, decided("air's humidity", "share", 0.05, "cure")] = 0.5
    """Relative humidity of the air, by which things dry."""


class Mixing(Struct, frozen=True, forbid_unknown_fields=True):
    """How the shop mixes."""

    vessel_m3: Annotated[bounds.Vessel, decided("mixing vessel", "volume", 0.0005, "mix")] = 0.003
    head_room: Annotated[float, Meta(ge=1, le=10), decided("head-room", "factor", 0.5, "mix")] = 4.0
    """The vessel's volume over the mix's: silicone rises when air is drawn out."""
    handling_s: Annotated[Handling, decided("handling a batch, air drawn out", "duration", 30, "mix")] = 420.0
    """Weighing, stirring, drawing the air out and pouring one batch, whatever its size."""
    handling_s_per_kg: Annotated[Handling, decided("and for each kg", "duration", 10, "mix")] = 240.0
    margin: Annotated[Share, decided("pot life kept in hand", "share", 0.05, "mix")] = 0.15
    """Part of the pot life that is kept in hand."""
    bucket_m3: Annotated[bounds.Vessel, decided("mixing bucket", "volume", 0.001, "mix")] = 0.012
    """The bucket for what no air is drawn out of."""
    bucket_head_room: Annotated[float, Meta(ge=1, le=10), decided("bucket's head-room", "factor", 0.05, "mix")] = 1.35
    plain_s: Annotated[Handling, decided("handling a batch", "duration", 10, "mix")] = 90.0
    """Weighing, stirring and pouring one batch of it, whatever its size."""
    plain_s_per_kg: Annotated[Handling, decided("and for each kg, plain", "duration", 5, "mix")] = 20.0
    hands: Annotated[int, Meta(ge=1, le=20), decided("who mix side by side", "count", 1, "mix")] = 1
    """How many mix side by side."""


class Shop(Struct, frozen=True, forbid_unknown_fields=True):
    """What all builds share."""

    base_rate_fps: Annotated[Rate, decided("frame rate of the show", "rate", 1, "shot")] = 24.0
    camera: str = ""
    mode: str = ""
    """In which its camera records; the first where empty."""
    delivery_px: Annotated[int, Meta(ge=100, le=100000), decided("delivered, wide", "pixels", 128, "lens")] = 4096
    sharp_px: Annotated[float, Meta(ge=0.5, le=10), decided("blur that passes as sharp", "pixels", 0.5, "lens")] = 3.0
    """Delivered pixels of blur that pass as sharp."""
    stage: Stage = Stage(12.0, 8.0, 4.2)
    hours: ShopHours = ShopHours()
    air: Air = Air()
    mixing: Mixing = Mixing()
    lighting: Lighting = Lighting()
    carry_kg: Annotated[Kilograms, decided("two can carry", "mass", 5, "mould")] = 100.0
    hoist_kg: Annotated[Kilograms, decided("the hoist bears", "mass", 10, "mould")] = 250.0
    finest_m: Annotated[Size, decided("finest that hands make", "length", 0.00005, "lens")] = 0.0003
    shift_px: Annotated[float, Meta(ge=0.25, le=50), decided("shift that passes", "pixels", 0.5, "lens")] = 3.0
    """Delivered pixels by which a plane may slide against where it should be: common practice, no source."""
    hero_m: Annotated[Size, decided("hero finish up to", "length", 0.0005, "lens")] = 0.004
    """Smallest thing that reads on what is still made by hand in every detail; so on for what is made in masses, and as blocks."""
    mid_m: Annotated[Size, decided("mid finish up to", "length", 0.0005, "lens")] = 0.0055
    block_m: Annotated[Size, decided("blocks up to", "length", 0.0005, "lens")] = 0.007
    arm_m: Annotated[Size, decided("an arm reaches", "length", 0.05, "lens")] = 0.75
    """Over a table, to a puppet: common practice, no source."""
    table_kg: Annotated[Kilograms, decided("a table bears", "mass", 5, "lens")] = 80.0
    currency: Annotated[str, Meta(min_length=1, max_length=8)] = "€"
    tax: Annotated[Share, decided("tax, left out of all prices", "share", 0.01, "mould")] = 0.0
    """Prices are without it; where it is known, costs are told with it too."""
    people: Annotated[tuple[Person, ...], Meta(max_length=500)] = ()
    ovens: Annotated[tuple[Oven, ...], Meta(max_length=100)] = ()
    vessels: Annotated[tuple[Vessel, ...], Meta(max_length=500)] = ()
    """Those there are; which of them is mixed in, :class:`Mixing` says."""
    scales: Annotated[tuple[Scale, ...], Meta(max_length=100)] = ()
    machines: Annotated[tuple[Machine, ...], Meta(max_length=100)] = ()
    confidence: Annotated[Confidence, decided("confidence of counts", "share", 0.01, "mould")] = 0.95
    """With which enough castings come out good and enough takes succeed."""
