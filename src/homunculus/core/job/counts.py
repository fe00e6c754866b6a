"""How many are wanted, what was frozen, and who has signed. Plain data, like the rest of a job."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Count, Moment
from homunculus.core.job.decided import decided

Role = Literal["hero", "stunt", "background", "spare", "test"]
ROLES: tuple[Role, ...] = ("hero", "stunt", "background", "spare", "test")
SignOffKind = Literal["design", "likeness", "rights"]
SIGN_OFFS: tuple[SignOffKind, ...] = ("design", "likeness", "rights")


class Wanted(Struct, frozen=True, forbid_unknown_fields=True):
    """Whole figures of a build, by what they are for. What takes break comes on top by itself."""

    hero: Annotated[Count, decided("hero", "count", 1, "mould")] = 1
    stunt: Annotated[Count, decided("stunt", "count", 1, "mould")] = 0
    background: Annotated[Count, decided("background", "count", 1, "mould")] = 0
    spare: Annotated[Count, decided("spare", "count", 1, "mould")] = 0
    test: Annotated[Count, decided("test", "count", 1, "mould")] = 0


class Variant(Struct, frozen=True, forbid_unknown_fields=True):
    """One of several forms of a piece, each with a mould of its own: left and right, a pose, a face."""

    name: str
    share: Annotated[float, Meta(gt=0, le=1e6), decided("", "share", 0.05, "mould")] = 1.0
    """In proportion to the others."""


class Ordered(Struct, frozen=True, forbid_unknown_fields=True):
    """How many castings of a piece, or of one of its variants, the mould shop was told to make."""

    piece: str
    variant: str
    castings: Count


class Frozen(Struct, frozen=True, forbid_unknown_fields=True):
    """The number for the mould shop: when, by whom, how many of each, and why it is what it is."""

    at: Moment
    by: str
    castings: tuple[Ordered, ...]
    reason: str = ""

    def of(self, piece: str, variant: str) -> int | None:
        """Castings of a ``piece`` or of one ``variant`` of it; none when it was not there when the count was frozen."""
        return next((o.castings for o in self.castings if (o.piece, o.variant) == (piece, variant)), None)

    @property
    def total(self) -> int:
        """All of them."""
        return sum(ordered.castings for ordered in self.castings)


class SignOff(Struct, frozen=True, forbid_unknown_fields=True):
    """Somebody's word that must be in before a mould is begun; ``at`` once it is."""

    kind: SignOffKind
    by: str = ""
    """Who signs."""
    at: Moment | None = None
    expected: date | None = None


def unsigned(signoffs: tuple[SignOff, ...]) -> tuple[SignOffKind, ...]:
    """Return which of the ``signoffs`` are not in yet."""
    return tuple(s.kind for s in signoffs if s.at is None)
