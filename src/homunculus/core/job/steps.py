"""Steps: what is done to a build, in the order in which it is done."""

from __future__ import annotations

from msgspec import Struct

from homunculus.core.job.bounds import Hours


class Hands(Struct, frozen=True, forbid_unknown_fields=True, tag="hands"):
    """Work by hand, in shop hours."""

    name: str
    hours: Hours = 0.0
    hours_per_m2: Hours = 0.0
    """Added for every square metre of the piece's surface as built."""
    piece: str = ""


class LayUp(Struct, frozen=True, forbid_unknown_fields=True, tag="lay-up"):
    """Laminating the jacket of a piece's mould, half by half."""

    piece: str
    hours_per_m2: Hours = 3.0


class PourRubber(Struct, frozen=True, forbid_unknown_fields=True, tag="pour"):
    """Mixing and pouring the rubber of a piece's mould, then leaving it alone."""

    piece: str


class CastCopies(Struct, frozen=True, forbid_unknown_fields=True, tag="cast"):
    """Making all castings of a piece, one after another from each of its moulds."""

    piece: str
    hands_per_casting_h: Hours = 0.5


class Dry(Struct, frozen=True, forbid_unknown_fields=True, tag="dry"):
    """Waiting without hands: air-drying, soaking, growing."""

    name: str
    hours: Hours


Step = Hands | LayUp | PourRubber | CastCopies | Dry
