"""The stage of a shot besides its cameras: air, the plate's measuring card, and what moves. Plain data.

What moves is told in real sizes and in seconds on screen, as scripts do; what a hand or a winch does on set follows.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Coordinate, Kilograms, Moment, Seconds, Size

Degrees = Annotated[float, Meta(ge=-180, le=180)]
Speed = Annotated[float, Meta(gt=0, le=20_000)]
Start = Annotated[float, Meta(ge=0, le=1e8)]
"""Seconds on screen from the shot's beginning."""
Newtons = Annotated[float, Meta(ge=0.01, le=1e7)]
Ease = Annotated[float, Meta(ge=0, le=0.5)]


class StageAir(Struct, frozen=True, forbid_unknown_fields=True):
    """Haze that makes depth, and dry ice."""

    sight_m: Size | None = None
    """How far one sees, real; none: clear air."""
    threshold_pct: Literal[2, 5] = 2
    """Contrast at which that is told."""
    ice_kg_h: Annotated[float, Meta(ge=0, le=10_000)] = 0.0
    """Dry ice that goes into water or air."""
    ice_s: Annotated[float, Meta(gt=0, le=86_400)] = 900.0
    """How long."""
    changes_h: Annotated[float, Meta(ge=0, le=1000)] = 1.0
    """How often the stage's air is changed: an estimate until somebody measures it."""


# ------------------------------------------------------------------------------------------ the card
class Stand(Struct, frozen=True, forbid_unknown_fields=True):
    """A stand or mark on the floor, by its two distances from the nails."""

    name: str
    from_a_m: Size
    from_b_m: Size
    side: Literal["left", "right"] = "left"
    """Of the line from nail A to nail B, where two circles meet twice."""


class Found(Struct, frozen=True, forbid_unknown_fields=True):
    """A stand as it was found: its distances measured again."""

    stand: str
    from_a_m: Size
    from_b_m: Size
    at: Moment | None = None
    by: str = ""


class MeasuringCard(Struct, frozen=True, forbid_unknown_fields=True):
    """Stands of a shot from two fixed nails, and what was found when they were measured again."""

    nails_m: Size = 4.0
    """From nail A to nail B."""
    within_m: Annotated[float, Meta(ge=1e-5, le=1)] = 0.002
    """How far off a stand may be."""
    stands: Annotated[tuple[Stand, ...], Meta(max_length=200)] = ()
    readings: Annotated[tuple[Found, ...], Meta(max_length=2000)] = ()


# ------------------------------------------------------------------------------------- what moves
class Tie(Struct, frozen=True, forbid_unknown_fields=True):
    """Something that a tow or a wire is tied by: what it bears, and by how much less it is loaded."""

    name: str
    bears_n: Newtons
    safety: Annotated[float, Meta(ge=1, le=50)] = 5.0
    """Common practice for what nobody hangs on, no source; over people the licensed person says it."""


class Travel(Struct, frozen=True, forbid_unknown_fields=True, tag="travel"):
    """A model pulled along: on wheels, on a track, or afloat."""

    name: str
    build: str
    real_m_s: Speed
    starts_s: Start = 0.0
    lasts_s: Seconds | None = None
    """None: to the shot's end."""
    heading_deg: Degrees = 90.0
    """0 away from the camera, 90 to the right."""
    run_up_m: Size = 0.5
    friction: Annotated[float, Meta(ge=0, le=2)] = 0.05
    slope_deg: Annotated[float, Meta(ge=-60, le=60)] = 0.0
    drag_m2: Annotated[float, Meta(ge=1e-6, le=1000)] | None = None
    """Drag area C_d A in water; none: it runs on wheels or a track."""
    added: Annotated[float, Meta(ge=0, le=5)] = 0.1
    """Share of its mass that moves along as water."""
    mass_kg: Kilograms | None = None
    """None: what the build weighs."""
    ties: Annotated[tuple[Tie, ...], Meta(max_length=50)] = ()


class Flown(Struct, frozen=True, forbid_unknown_fields=True, tag="flown"):
    """A model on wires under a moving trolley."""

    name: str
    build: str
    real_m_s: Speed
    starts_s: Start = 0.0
    lasts_s: Seconds | None = None
    heading_deg: Degrees = 90.0
    wire_m: Size = 2.0
    wires: Annotated[int, Meta(ge=1, le=100)] = 2
    ramp_s: Annotated[float, Meta(ge=0, le=600)] | None = None
    """On set, from rest to its speed; none: one period of its swing, after which none is left."""
    mass_kg: Kilograms | None = None
    ties: Annotated[tuple[Tie, ...], Meta(max_length=50)] = ()


class Cues(Struct, frozen=True, forbid_unknown_fields=True, tag="cues"):
    """Points along a model that go off one after another. Timing only."""

    name: str
    build: str
    count: Annotated[int, Meta(ge=1, le=2000)] = 12
    along_m: Size = 1.0
    """From the first to the last, on the model."""
    starts_s: Start = 0.0
    lasts_s: Seconds | None = None
    """On screen, from the first to the last; none: by the front's speed."""
    real_m_s: Speed | None = None
    """Of the front, as it shall read."""
    places_m: Annotated[tuple[Coordinate, ...], Meta(max_length=2000)] = ()
    """Of each, on the model; none: evenly."""


class Drop(Struct, frozen=True, forbid_unknown_fields=True, tag="drop"):
    """Something heavy that falls."""

    name: str
    build: str
    real_m: Size
    """Height of the fall, real."""
    starts_s: Start = 0.0


class Wave(Struct, frozen=True, forbid_unknown_fields=True, tag="wave"):
    """Waves from a paddle or a dump tank."""

    name: str
    build: str
    real_m: Size
    """From crest to crest, real."""
    starts_s: Start = 0.0
    lasts_s: Seconds | None = None


class Falling(Struct, frozen=True, forbid_unknown_fields=True, tag="falling"):
    """Light matter in the air: snow, ash, spume."""

    name: str
    grain_m: Annotated[float, Meta(ge=1e-6, le=0.05)]
    density_kg_m3: Annotated[float, Meta(ge=1, le=20_000)]
    """Of a grain."""
    build: str = ""
    """At whose scale it reads; empty: that of the set."""
    coverage_kg_m2: Annotated[float, Meta(ge=1e-6, le=100)] = 0.02
    area_m2: Annotated[float, Meta(ge=1e-4, le=1e5)] = 4.0
    starts_s: Start = 0.0
    lasts_s: Seconds | None = None
    thrown_m3: Annotated[float, Meta(ge=1e-3, le=1e5)] | None = None
    """Volume of the cloud where all is thrown at once; none: it is sifted evenly."""
    burns: bool = True
    """Whether its dust can burn: what has grown, and metal."""


class CameraMove(Struct, frozen=True, forbid_unknown_fields=True, tag="camera"):
    """A camera that travels or turns."""

    name: str
    camera: str = ""
    across_m: Coordinate = 0.0
    """To the right, on the floor."""
    along_m: Coordinate = 0.0
    """Towards what it looks at."""
    up_m: Coordinate = 0.0
    pan_deg: Degrees = 0.0
    tilt_deg: Degrees = 0.0
    arc_deg: Degrees = 0.0
    """Round a point before it, which stays in the middle; to the right is plus."""
    about_m: Size = 2.0
    """How far before it that point is."""
    starts_s: Start = 0.0
    lasts_s: Seconds | None = None
    ease: Ease = 0.2
    """Share of the time that speeding up takes, and slowing down."""
    grain_m: Annotated[float, Meta(ge=0, le=0.1)] = 0.0
    """To what a hand or a motor can place it."""


Action = Travel | Flown | Cues | Drop | Wave | Falling | CameraMove
STATED: tuple[type[Action], ...] = (Travel, Flown, Cues, Drop, Wave, Falling, CameraMove)
