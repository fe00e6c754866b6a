"""The set of a shot: its cameras, and where things stand before them. Plain data, in metres on the floor unless said.

Distances on the floor are taken from the eye of the first camera: the entrance pupil of its lens.
"""

from __future__ import annotations

import math
from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Coordinate, Denominator, Size, Stop

Turn = Annotated[float, Meta(ge=-360, le=360)]
Lean = Annotated[float, Meta(ge=-90, le=90)]
Focal = Annotated[float, Meta(ge=0.002, le=2)]


class Depth(Struct, frozen=True, forbid_unknown_fields=True):
    """From where to where a camera must see sharp."""

    near_m: Size
    far_m: Size | None
    """None for infinity."""
    looks: bool = True
    """As far as it looks at the base scale of the shot; else as measured on the floor."""

    @property
    def far(self) -> float:
        """The far end [m]; infinite where nothing limits it."""
        return math.inf if self.far_m is None else self.far_m


class Place(Struct, frozen=True, forbid_unknown_fields=True):
    """Where something stands before the lens."""

    at_m: Size
    to_m: Size | None = None
    """Its far side, where it is deep; none: it stands at one distance."""
    looks: bool = False
    """As far as it looks at its own scale, from which the floor follows; else as measured on the floor."""
    soft: bool = False
    """Whether it may be unsharp."""
    alone: bool = False
    """Whether it is taken in a pass of its own, in which the camera is focused on it."""
    scale: Denominator | None = None
    """Of what is no build: of a cut-out, say. None: full size."""
    across_m: Coordinate = 0.0
    """To the right of the axis, on the floor."""
    foot_m: Coordinate | None = None
    """Of its ground over the floor; none: it rises to the eye, as its scale wants it."""
    turn_deg: Turn = 0.0
    """Clockwise from above."""
    wide_m: Size | None = None
    """Of what is no build: as it is meant, real."""
    high_m: Size | None = None

    @property
    def held(self) -> bool:
        """Whether the camera must hold it together with all else."""
        return not self.soft and not self.alone


class Camera(Struct, frozen=True, forbid_unknown_fields=True):
    """One camera of a set: its body, its lens, where it stands, and how it is set."""

    focal_m: Focal = 0.035
    """Of a lens that is no card; a card says it itself."""
    depth: Depth | None = None
    """What must be sharp beside all that stands in the set and must be."""
    name: str = ""
    """Empty for the first, which people call A."""
    body: str = ""
    """A card; empty: the shop's."""
    mode: str = ""
    lens: str = ""
    """A card; empty: no lens of the shelf, but what is said here."""
    focus_m: Size | None = None
    """From the eye; none: where both ends are equally sharp."""
    stop: Stop | None = None
    """None: the widest that holds all, or where none does the best there is."""
    shutter_deg: Annotated[float, Meta(gt=0, le=360)] = 180.0
    iso: Annotated[float, Meta(ge=25, le=25600)] = 800.0
    exposure_s: Annotated[float, Meta(ge=1e-5, le=3600)] | None = None
    """How long one frame is exposed, decided by hand: what frame-by-frame and interval work has instead of a shutter angle."""
    widest_stop: Stop = 1.4
    """What the lens opens to, and closes to: common practice until somebody reads them off the barrel or takes a card."""
    smallest_stop: Stop = 22.0
    filters: Annotated[float, Meta(ge=0, le=30)] = 0.0
    """Stops of light that filters before it take."""
    height_m: Annotated[float, Meta(ge=-100, le=1000)] | None = None
    """Of the eye over the floor."""
    back_m: Coordinate = 0.0
    """How far its eye is behind that of the first camera."""
    across_m: Coordinate = 0.0
    """How far its eye is to the right of the axis."""
    pan_deg: Turn = 0.0
    """To the right."""
    tilt_deg: Lean = 0.0
    """Up is plus."""
    roll_deg: Lean = 0.0
    """Clockwise is plus."""
