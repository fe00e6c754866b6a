"""Laminate: a gel coat on the form and plies behind it, in parts that are bolted at their flanges; with a gap, a core hangs inside."""

from __future__ import annotations

from types import MappingProxyType

from homunculus.core import specs
from homunculus.core.constructions.construction import Construction, Line, cavities, laminated
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.moulds import LaminateMould
from homunculus.core.making import moulds
from homunculus.core.plan.build_plan import BuildSheet, Headline


def _gel(mould: LaminateMould, piece: Piece) -> Given:
    return Given(mould.gel_m, "length", "gel coat", piece.name, decided=True)


class Laminated(Construction):
    """The construction. What is mixed for the mould's pours is the gel coat; the plies are laid up."""

    mould = LaminateMould
    surround = "jacket"
    hard = True
    matter = "gel coat"
    poured = "gel"
    volume, mass = specs.GEL_VOLUME, specs.GEL
    layer = thickness = "gel_m"
    handles = ("flange_m", "layers", "gap_m")
    stack = ((specs.GEL_COAT, "gel coat"), (specs.WASTE, "waste"))
    foot = specs.JACKET
    named = MappingProxyType({"gel coat": specs.GEL_COAT})

    def headline(self, mould: LaminateMould, piece: Piece) -> Headline:
        """Its gel coat, and how many plies lie behind it."""
        return Headline("mould", _gel(mould, piece), (f"gel coat, {mould.layers} plies behind it",))

    def parts(self, sheet: BuildSheet, piece: Piece, mould: LaminateMould, form: Figure) -> dict[str, Figure]:
        """The gel coat; the skin in the gap is told."""
        subject = sheet.subject(piece.id)
        if mould.gap_m:
            gap = Given(mould.gap_m, "length", "gap to the core", piece.name, decided=True)
            sheet.add(derive(specs.SKIN, moulds.wall_volume, subject, form=form, wall=gap))
        return {"gel coat": sheet.add(derive(specs.GEL_COAT, moulds.blanket_volume, subject, form=form, thickness=_gel(mould, piece),
                                             **cavities(mould, piece)))}  # fmt: skip

    def jacket(self, sheet: BuildSheet, piece: Piece, mould: LaminateMould, form: Figure) -> Figure | None:
        """Its plies over the gel coat and on the flanges."""
        return laminated(sheet, piece, mould, form, _gel(mould, piece))

    def flange_m(self, mould: LaminateMould) -> float:
        """At the parting lines."""
        return mould.flange_m

    def gap_m(self, mould: LaminateMould) -> float:
        """The gap is the skin; without one the piece says how thick it is cast."""
        return mould.gap_m

    def section(self, mould: LaminateMould, laminate_m: float) -> tuple[Line, ...]:
        """Form, gel coat, plies."""
        return Line("form", 0.0), Line("rubber", mould.gel_m), Line("jacket", mould.gel_m + laminate_m)
