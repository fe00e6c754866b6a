"""Moulds as data: how a piece is surrounded, and the mixes that fill it."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job.bounds import CoatThickness, Lag, Share, Thickness
from homunculus.core.job.decided import decided

Waste = Annotated[Share, decided("waste", "share", 0.01, "mould")]
FilledLag = Annotated[Lag, decided("mould's lag", "duration", 900, "cure")]


class Additive(Struct, frozen=True, forbid_unknown_fields=True):
    """Something stirred in: pigment, softener, thickener, as a share of the weight of the material's own parts."""

    name: str
    share: Annotated[float, Meta(ge=0, le=0.5), decided("", "share", 0.005, "mix")]
    card: str = ""
    """Its card, which says density, price and what it does to the pot life; by its name when empty."""


class Mix(Struct, frozen=True, forbid_unknown_fields=True):
    """One of the mixes that fill a mould: a print coat, a colour. Without a name it is the only one."""

    name: str = ""
    share: Annotated[float, Meta(gt=0, le=1), decided("", "share", 0.05, "mix")] = 1.0
    """Of the whole pour; shares are taken in proportion."""
    additives: tuple[Additive, ...] = ()


PLAIN = (Mix(),)


class _Mould(Struct, frozen=True, forbid_unknown_fields=True, kw_only=True):
    """What all moulds have."""

    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 5e-5
    lag_s: FilledLag = 3600.0
    """Time constant with which the filled mould follows the air."""
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""
    moulds: Annotated[int, Meta(ge=1, le=1000), decided("moulds of each form", "count", 1, "mould")] = 1
    """How many such moulds are made, of each variant."""
    cavities: Annotated[int, Meta(ge=1, le=1000), decided("cavities of a mould", "count", 1, "mould")] = 1
    """How many forms lie side by side in one."""


class JacketMould(_Mould, frozen=True, forbid_unknown_fields=True, tag="jacketed"):
    """A two-half mould: a rubber blanket over the form, in a laminated jacket with flanges."""

    rubber: str
    blanket_m: Annotated[Thickness, decided("blanket", "length", 0.0005, "mould")]
    laminate: str
    layers: Annotated[int, Meta(ge=1, le=20), decided("layers of laminate", "count", 1, "mould")] = 3
    flange_m: Annotated[float, Meta(ge=0, le=0.3), decided("flange", "length", 0.005, "mould")] = 0.04
    keys: Annotated[Share, decided("keys and spout", "share", 0.01, "mould")] = 0.04
    """Keys, spout and vents, as a share of the blanket."""
    waste: Waste = 0.08

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
        return (self.rubber, self.laminate)


class BlockMould(_Mould, frozen=True, forbid_unknown_fields=True, tag="block"):
    """A box filled with rubber around the form."""

    rubber: str
    wall_m: Annotated[Thickness, decided("wall", "length", 0.0005, "mould")]
    waste: Waste = 0.05

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
        return (self.rubber,)


class RigidMould(_Mould, frozen=True, forbid_unknown_fields=True, tag="rigid"):
    """A rigid mould of two halves closed all round; with a gap, a core hangs inside and the gap is the skin."""

    stone: str
    """What is poured: a card of gypsum or casting resin."""
    wall_m: Annotated[Thickness, decided("wall", "length", 0.0005, "mould")]
    """Least wall around the form."""
    gap_m: Annotated[float, Meta(ge=0, le=0.2), decided("gap to the core", "length", 0.0005, "mould")] = 0.0
    """Between form and core: how thick the skin comes out; 0 for a solid casting without a core."""
    waste: Waste = 0.1

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
        return (self.stone,)


class LaminateMould(_Mould, frozen=True, forbid_unknown_fields=True, tag="laminated"):
    """A rigid mould of laminate in parts with flanges: a gel coat on the form, plies behind it; with a gap, a core hangs inside."""

    gel: str
    """The gel coat: a card of the job."""
    gel_m: Annotated[CoatThickness, decided("gel coat", "length", 0.0001, "mould")]
    laminate: str
    layers: Annotated[int, Meta(ge=1, le=20), decided("plies of laminate", "count", 1, "mould")] = 4
    flange_m: Annotated[float, Meta(ge=0, le=0.3), decided("flange", "length", 0.005, "mould")] = 0.05
    gap_m: Annotated[float, Meta(ge=0, le=0.2), decided("gap to the core", "length", 0.0005, "mould")] = 0.0
    """Between form and core: how thick the skin comes out; 0 where the piece itself says."""
    waste: Waste = 0.1

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.gel_m

    @property
    def poured(self) -> str:
        """The material that lies on the form."""
        return self.gel

    @property
    def materials(self) -> tuple[str, ...]:
        """All that it is made of."""
        return (self.gel, self.laminate)


Mould = JacketMould | BlockMould | RigidMould | LaminateMould
