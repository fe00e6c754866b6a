"""Operations: how a piece comes to be, step by step, and how its figure is put together. Plain data.

What is not said is nothing: no hours, no waste, no release. With what an operation usually begins is told by cards (``library/ways``),
never by a default here, so that no later version of the program moves a job.

A piece has a route, a build an assembly. What an operation does to dates, weights and mixes is told by its kind
(:mod:`homunculus.core.operations`).
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.job.bounds import CoatThickness, Duration, Share
from homunculus.core.job.counts import SignOffKind
from homunculus.core.job.decided import decided
from homunculus.core.job.moulds import PLAIN, Mix

Loop = Literal["once", "mould", "casting", "piece", "figure"]
LOOPS: tuple[Loop, ...] = ("once", "mould", "casting", "piece", "figure")
"""How often it is done: once and for all (a sculpt, a pattern), once a mould, once a casting, once a good piece, once a figure."""
LayerSide = Literal["mould", "casting"]
"""Outward from the form, as a mould grows; or inward, as a casting does."""
How = Literal["poured", "brushed", "sprayed", "boxed", "laid up"]

OpId = Annotated[str, Meta(pattern=r"^[^/\s]{1,60}$")]
Work = Annotated[Duration, decided("work", "duration", 1800, "shoot")]
WorkPerM2 = Annotated[Duration, decided("and for each m²", "duration", 1800, "shoot")]
WorkPerKg = Annotated[Duration, decided("and for each kg", "duration", 300, "shoot")]


class After(Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What has to be done before, and how long may lie between."""

    of: Annotated[str, Meta(pattern=r"^[^/\s]*(/[^/\s]+)?$", min_length=1)]
    """An operation of the same list; of a piece, as “gallery/rubber”; of the assembly, as “/rig”."""
    least_s: Duration = 0.0
    """Not before so much time has passed."""
    most_s: Duration | None = None
    """Not later than that: a bond's window, plaster before it is cold."""


class Operation(Struct, frozen=True, forbid_unknown_fields=True, omit_defaults=True):
    """What all operations have. Without ``after`` it follows the one before it in its list."""

    id: OpId
    name: str = ""
    """As it is called on screen; by its id where empty."""
    loop: Loop = "once"
    after: tuple[After, ...] = ()
    takes: tuple[str, ...] = ()
    """What it takes up, of which the build has one at a time: an oven, a spray booth."""
    skill: str = ""
    """Whose hands."""
    onto: str = ""
    """A card of the job: what its material touches, beside what the route shows."""
    release: str = ""
    """What keeps it from bonding there."""
    cautions: tuple[str, ...] = ()
    shows: tuple[SignOffKind, ...] = ()
    """The signatures that are given on what it leaves: all that comes after it waits for them."""
    held_by: tuple[SignOffKind, ...] = ()
    """Signatures that hold it whatever comes before it; where any operation says so, they hold no other."""

    @property
    def called(self) -> str:
        """Its name on screen."""
        return self.name or self.id.replace("-", " ")


class Hands(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="hands"):
    """Work by hand, in shop hours."""

    work_s: Work = 0.0
    work_s_per_m2: WorkPerM2 = 0.0
    """For every square metre of the piece's surface as built."""
    work_s_per_kg: WorkPerKg = 0.0
    """For every kilogram of a finished piece."""


class Wait(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="wait"):
    """A clock without hands: air-drying, soaking, growing."""

    wait_s: Annotated[Duration, decided("wait", "duration", 3600, "shoot")] = 0.0


class Pour(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="pour"):
    """Mixing and pouring what the piece's mould is poured of, or one part of it, then leaving it alone."""

    loop: Loop = "mould"
    share: Annotated[float, Meta(gt=0, le=1000)] = 1.0
    """Of all pours of this mould, or of this part, in proportion: two halves have equal ones."""
    part: str = ""
    """A part of the construction that is poured by itself, as the core of a rigid mould; what nobody names is poured with the rest."""


class LayUp(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="lay-up"):
    """Laminating the jacket of the piece's mould, or one half of it."""

    loop: Loop = "mould"
    share: Annotated[float, Meta(gt=0, le=1000)] = 1.0
    """Of all lay-ups of this jacket, in proportion."""
    work_s: Work = 0.0
    work_s_per_m2: WorkPerM2 = 0.0
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN


class Layer(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="layer"):
    """A layer of its own: a print coat, a gel coat, a plaster shell, primer, paint, a skin."""

    loop: Loop = "mould"
    material: str = ""
    how: How = "brushed"
    side: LayerSide = "mould"
    thickness_m: Annotated[CoatThickness | None, decided("thickness of a coat", "length", 0.0001, "mould")] = None
    """Of each coat; of what is laid up none is said: it follows from the plies."""
    coats: Annotated[int, Meta(ge=1, le=100), decided("coats", "count", 1, "mould")] = 1
    """Of what is laid up, plies."""
    between_s: Annotated[Duration | None, decided("between coats", "duration", 300, "shoot")] = None
    """From one coat to the next; where none is said, until it has set by its card."""
    waste: Annotated[Share, decided("lost", "share", 0.01, "mould")] = 0.0
    work_s: Work = 0.0
    """For each coat."""
    work_s_per_m2: WorkPerM2 = 0.0
    """For each coat."""
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN


class Cast(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="cast"):
    """Filling the mould with the piece's material, then leaving it alone until it is out."""

    loop: Loop = "casting"
    work_s: Work = 0.0
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN


class Insert(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="insert"):
    """Laying another piece of the build into the mould before it is filled: an armature, a core of wire."""

    loop: Loop = "casting"
    piece: str = ""
    """Which; what it takes of the room is not poured."""
    work_s: Work = 0.0


class Draw(Operation, frozen=True, forbid_unknown_fields=True, omit_defaults=True, tag="draw"):
    """A heated sheet is drawn over the piece's form by vacuum, and trimmed. Sheets that spoil are those that do not come out good."""

    loop: Loop = "piece"
    material: str = ""
    """The sheet: a card of the job."""
    sheet_m: Annotated[CoatThickness | None, decided("sheet", "length", 0.00025, "mould")] = None
    margin_m: Annotated[float, Meta(ge=0, le=2), decided("sheet around the form", "length", 0.01, "mould")] = 0.0
    """Between the form's foot and the clamp, on every side."""
    work_s: Work = 0.0
    """For each sheet: heated, drawn, cooled, trimmed."""


AnyOperation = Hands | Wait | Pour | LayUp | Layer | Cast | Insert | Draw
