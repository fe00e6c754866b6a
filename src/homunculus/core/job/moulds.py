"""Moulds as data: how a piece is surrounded, and the mixes that fill it."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Lag, Share, Thickness


class Additive(Struct, frozen=True, forbid_unknown_fields=True):
    """Something stirred in: pigment, softener, thickener, as a share of the weight of the material's own parts."""

    name: str
    share: Annotated[float, Meta(ge=0, le=0.5)]
    card: str = ""
    """Its card, which says density, price and what it does to the pot life; by its name when empty."""


class Mix(Struct, frozen=True, forbid_unknown_fields=True):
    """One of the mixes that fill a mould: a print coat, a colour. Without a name it is the only one."""

    name: str = ""
    share: Annotated[float, Meta(gt=0, le=1)] = 1.0
    """Of the whole pour; shares are taken in proportion."""
    additives: tuple[Additive, ...] = ()


PLAIN = (Mix(),)


class JacketMould(Struct, frozen=True, forbid_unknown_fields=True, tag="jacketed"):
    """A two-half mould: a rubber blanket over the form, in a laminated jacket with flanges."""

    rubber: str
    blanket_m: Thickness
    laminate: str
    layers: Annotated[int, Meta(ge=1, le=20)] = 3
    flange_m: Annotated[float, Meta(ge=0, le=0.3)] = 0.04
    keys: Share = 0.04
    """Keys, spout and vents, as a share of the blanket."""
    waste: Share = 0.08
    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 5e-5
    lag_s: Lag = 3600.0
    """Time constant with which the filled mould follows the air."""
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.blanket_m

    @property
    def poured(self) -> str:
        """The material that the mould is poured of."""
        return self.rubber

    @property
    def materials(self) -> tuple[str, ...]:
        """All that it is made of."""
        return (self.poured, self.laminate)


class BlockMould(Struct, frozen=True, forbid_unknown_fields=True, tag="block"):
    """A box filled with rubber around the form."""

    rubber: str
    wall_m: Thickness
    waste: Share = 0.05
    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 5e-5
    lag_s: Lag = 3600.0
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.wall_m

    @property
    def poured(self) -> str:
        """The material that the mould is poured of."""
        return self.rubber

    @property
    def materials(self) -> tuple[str, ...]:
        """All that it is made of."""
        return (self.poured,)


class RigidMould(Struct, frozen=True, forbid_unknown_fields=True, tag="rigid"):
    """A rigid mould of two halves closed all round; with a gap, a core hangs inside and the gap is the skin."""

    stone: str
    """What is poured: a card of gypsum or casting resin."""
    wall_m: Thickness
    """Least wall around the form."""
    gap_m: Annotated[float, Meta(ge=0, le=0.2)] = 0.0
    """Between form and core: how thick the skin comes out; 0 for a solid casting without a core."""
    waste: Share = 0.1
    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 2e-4
    lag_s: Lag = 3600.0
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.wall_m

    @property
    def poured(self) -> str:
        """The material that the mould is poured of."""
        return self.stone

    @property
    def materials(self) -> tuple[str, ...]:
        """All that it is made of."""
        return (self.poured,)


Mould = JacketMould | BlockMould | RigidMould
