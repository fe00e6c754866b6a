"""A build and its pieces, as decided."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.errors import UserError
from homunculus.core.job.bounds import Chance, Coordinate, Count, Denominator, Length, Moment, Share, Size, Thickness
from homunculus.core.job.counts import Frozen, Role, SignOff, Variant, Wanted
from homunculus.core.job.decided import decided
from homunculus.core.job.forms import Form
from homunculus.core.job.lighting import ModelLamps, ModelScreen
from homunculus.core.job.moulds import PLAIN, Mix, Mould
from homunculus.core.job.operations import AnyOperation, Pour
from homunculus.core.job.traces import Trace


class Piece(Struct, frozen=True, forbid_unknown_fields=True):
    """One part of a build."""

    id: str
    name: str
    form: Form
    drawn_at: Denominator = 1.0
    """Scale at which the form is drawn: 1 when its sizes are the real ones."""
    enlarged: Annotated[float, Meta(ge=0.05, le=20), decided("size of the build's", "share", 0.1, "scale")] = 1.0
    """Size over that of the build: 2.5 for an insert at 250 % of it. Inserts do not count as its height."""
    material: str = ""
    """What the finished piece is made of; a card of the job."""
    wall_m: Thickness | None = None
    """Wall of a hollow piece as built; none for a solid one."""
    copies: Annotated[Count, decided("one figure has", "count", 1, "mould")] = 1
    """How many of it one figure has; how many in all where it does not go by the figure."""
    in_all: bool = False
    """Whether so many are wanted however many figures there are: a tool, a base, one for all."""
    only: tuple[Role, ...] = ()
    """The figures that have it, by what they are for; all where none is named."""
    spares: Annotated[Count, decided("spares of it", "count", 1, "mould")] = 0
    """Of it alone, beside those of whole figures."""
    tests: Annotated[Count, decided("of it for tests", "count", 1, "mould")] = 0
    worn: Annotated[Count | None, decided("hang on a figure at once", "count", 1, "scale")] = None
    """How many of these hang on one figure at once; all when none is said. Of a library of faces it is one."""
    waste: Annotated[Share, decided("lost with each casting", "share", 0.01, "mould")] = 0.05
    """Material lost with every casting: wetting, sprue, what stays in the cup."""
    variants: tuple[Variant, ...] = ()
    """Forms that it comes in, each with a mould of its own; none when all are alike."""
    good: Annotated[Chance, decided("come out good", "share", 0.01, "mould")] = 1.0
    """Share of its castings that come out good."""
    at_m: tuple[Coordinate, Coordinate] = (0.0, 0.0)
    """Where its foot stands in the side view, real metres: along, up."""
    mould: Mould | None = None
    route: tuple[AnyOperation, ...] = ()
    """How it comes to be, in the order in which it is done."""
    trace: Trace | None = None
    """The pictures that its form is traced over."""


class Water(Struct, frozen=True, forbid_unknown_fields=True):
    """Water in the shot: the size of what it does, in real metres."""

    wave_m: Size


class Move(Struct, frozen=True, forbid_unknown_fields=True):
    """Something that must appear to move at a real speed."""

    name: str
    real_m_s: Annotated[float, Meta(gt=0, le=20000)]
    shots: tuple[str, ...] = ()
    """The shots in which it moves; all of the build's when none is named."""


class Intercut(Struct, frozen=True, forbid_unknown_fields=True):
    """A double that must cut together with a full-size one: one dimension, real and as it was built."""

    what: str
    real_m: Size
    built_m: Size


class Build(Struct, frozen=True, forbid_unknown_fields=True):
    """One thing the workshop makes."""

    id: str
    name: str
    called: str
    """How a question names it: “the lighthouse”."""
    scale: Annotated[Denominator, decided("scale", "scale", 1.01, "scale", ratio=True)]
    starts: Moment
    """When work on it may begin."""
    pieces: tuple[Piece, ...]
    assembly: tuple[AnyOperation, ...] = ()
    """What is done with its pieces together; the first of it waits for all that are part of the figure."""
    crew: Annotated[int, Meta(ge=1, le=100), decided("work on it side by side", "count", 1, "shoot")] = 1
    wanted: Wanted = Wanted()
    frozen: Frozen | None = None
    signoffs: tuple[SignOff, ...] = ()
    """Those that it needs before its moulds are begun."""
    bought_parts: bool = False
    rubber_budget: Annotated[float, Meta(ge=0, le=1e9)] | None = None
    water: Water | None = None
    moves: tuple[Move, ...] = ()
    intercut: Intercut | None = None
    stands_m: Length = 0.0
    """Height of its foot above the stage floor."""
    kind: str = ""
    """The card of its kind, with which it began; empty where nobody said."""
    follows: str = ""
    """The build whose scale it takes; empty where its own is decided."""
    follows_at: Annotated[float, Meta(ge=0.05, le=20)] = 1.0
    """Its size over that of the build that it follows."""
    lamps: Annotated[tuple[ModelLamps, ...], Meta(max_length=100)] = ()
    """Lamps on it."""
    screens: Annotated[tuple[ModelScreen, ...], Meta(max_length=100)] = ()
    """Screens within it."""
    put_away: bool = False
    """Whether it is kept out of the cast: nothing of it is planned, and it covers nothing."""
    begun: tuple[str, ...] = ()
    """Its values that nobody has decided yet, by their keys: the card of its kind, or of a way of making, began them."""


def mixes_of(piece: Piece) -> tuple[Mix, ...]:
    """All mixes of a ``piece``: of its mould, and of the operations of its route."""
    own = tuple(mix for op in piece.route for mix in getattr(op, "mixes", ()))
    return (*(piece.mould.mixes if piece.mould else ()), *own)


def mixes_at(piece: Piece, op: str) -> tuple[Mix, ...]:
    """The mixes of one pour of a ``piece``: of its operation ``op`` where that has its own, else of its mould; plain where neither has."""
    own = next((o for o in piece.route if o.id == op), None)
    if own is not None and hasattr(own, "mixes"):
        mixes: tuple[Mix, ...] = own.mixes
        return mixes
    return piece.mould.mixes if piece.mould and (not op or isinstance(own, Pour)) else PLAIN


def materials_of(build: Build) -> tuple[str, ...]:
    """The cards that a ``build`` names, each once: what its pieces, moulds and layers are made of, and what they touch."""
    found: list[str] = []
    for piece in build.pieces:
        found += [piece.material, *(piece.mould.materials if piece.mould else ())]
        found += _of_operations(piece.route)
    return tuple(dict.fromkeys(name for name in (*found, *_of_operations(build.assembly)) if name))


def _of_operations(ops: tuple[AnyOperation, ...]) -> list[str]:
    return [name for op in ops for name in (getattr(op, "material", ""), op.onto)]


def piece_of(build: Build, piece_id: str) -> Piece:
    """Find a piece of a build.

    Parameters
    ----------
    build
        The build to look in.
    piece_id
        The stable id of the piece.

    Raises
    ------
    UserError
        When the build has no such piece.
    """
    for piece in build.pieces:
        if piece.id == piece_id:
            return piece
    raise UserError(f"“{build.name}” has no piece “{piece_id}”", "job", "Name one of its pieces")
