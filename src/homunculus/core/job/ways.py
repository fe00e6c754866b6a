"""Cards of ways of making: with what a construction begins, and the usual route. A job keeps what they filled."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta, Struct
from msgspec.structs import replace

from homunculus.core.job.bodies import BodyCard
from homunculus.core.job.bounds import Denominator, Size
from homunculus.core.job.build import Piece
from homunculus.core.job.cameras import CameraCard, LensCard
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mould
from homunculus.core.job.operations import AnyOperation


class WayCard(Struct, frozen=True, forbid_unknown_fields=True):
    """One way of making a piece, as it usually begins. No later change of a card moves a job."""

    id: str
    name: str
    source: str
    route: tuple[AnyOperation, ...]
    mould: Mould | None = None
    """None where nothing is moulded."""
    sign: Literal["", "block", "layers", "carton", "sheet"] = ""
    """How it is drawn, where no mould says so: cut out of a block, in layers, out of a carton, a sheet drawn over it, else put together."""


class KindCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A kind of build: what it usually consists of, how that is made, and with what doubts it begins."""

    id: str
    name: str
    says: str
    """What belongs to it."""
    source: str
    scale: Denominator
    size_m: Size
    """Its longest side, real, while nobody has said."""
    shape: tuple[Size, Size, Size]
    """Length, depth and height in proportion; the longest is 1."""
    pieces: Annotated[tuple[str, ...], Meta(min_length=1, max_length=30)]
    """Lines of :mod:`homunculus.core.cells.pieces`, sized for a longest side of 1 m."""
    doubts: tuple[str, ...] = ()
    sign: Annotated[
        tuple[Annotated[tuple[tuple[float, float], ...], Meta(min_length=3, max_length=60)], ...], Meta(max_length=20)
    ] = ()
    """How it is drawn, small: outlines, along and up from the ground, about one high."""


class Shelf(Struct, frozen=True):
    """What there is to choose from beside a job: materials, ways of making, kinds of build, bodies that were measured, cameras and lenses."""

    materials: tuple[MaterialCard, ...] = ()
    ways: tuple[WayCard, ...] = ()
    kinds: tuple[KindCard, ...] = ()
    bodies: tuple[BodyCard, ...] = ()
    cameras: tuple[CameraCard, ...] = ()
    lenses: tuple[LensCard, ...] = ()

    def beside(self, materials: tuple[MaterialCard, ...]) -> Shelf:
        """The shelf with the ``materials`` of a job in front: what the job has is the job's own."""
        known = {card.id for card in materials}
        return replace(self, materials=(*materials, *(c for c in self.materials if c.id not in known)))


def way_of(piece: Piece, ways: tuple[WayCard, ...]) -> WayCard | None:
    """The one of the ``ways`` by which a ``piece`` is made: by its mould, else by the operations of its route; none where it has neither."""
    if piece.mould:
        return next((way for way in ways if type(way.mould) is type(piece.mould)), None)
    mine = {op.id for op in piece.route}
    shared = {way.id: len(mine & {op.id for op in way.route}) for way in ways if way.mould is None}
    best = max(shared, key=shared.__getitem__, default="")
    return next((way for way in ways if way.id == best and shared[best]), None)
