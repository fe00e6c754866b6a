"""Rigid: two halves of stone or resin, closed all round; with a gap, a core hangs inside and the gap is the skin."""

from __future__ import annotations

from types import MappingProxyType

from homunculus.core import specs
from homunculus.core.constructions.construction import Construction, Line, cavities
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.moulds import RigidMould
from homunculus.core.making import moulds
from homunculus.core.plan.build_plan import BuildSheet, Headline


class Rigid(Construction):
    """The construction."""

    mould = RigidMould
    surround = "halves"
    hard = True
    matter = "stone"
    poured = "stone"
    volume, mass = specs.STONE_VOLUME, specs.STONE
    layer = "gap_m"
    thickness = "wall_m"
    handles = ("wall_m",)
    stack = ((specs.HALVES, "two halves"), (specs.CORE, "core"), (specs.WASTE, "waste"))
    foot = specs.ONE_CASTING
    named = MappingProxyType({"halves": specs.HALVES, "core": specs.CORE})

    def headline(self, mould: RigidMould, piece: Piece) -> Headline:
        """Its gap, or without a core its wall."""
        name, words = ("gap", "gap to the core, two halves") if mould.gap_m else ("wall", "wall of two halves")
        return Headline("mould", Given(mould.gap_m or mould.wall_m, "length", name, piece.name, decided=True), (words,))

    def parts(self, sheet: BuildSheet, piece: Piece, mould: RigidMould, form: Figure) -> dict[str, Figure]:
        """The halves, and with a gap the core; the skin between them is told."""
        subject = sheet.subject(piece.id)
        wall, several = Given(mould.wall_m, "length", "wall", piece.name, decided=True), cavities(mould, piece)
        parts = {
            "halves": sheet.add(derive(specs.HALVES, moulds.halves_volume, subject, form=form, wall=wall, **several))
        }
        gap = Given(mould.gap_m, "length", "gap to the core", piece.name, decided=True)
        if mould.gap_m:
            parts["core"] = sheet.add(derive(specs.CORE, moulds.core_volume, subject, form=form, gap=gap, **several))
        sheet.add(derive(specs.SKIN, moulds.wall_volume, subject, form=form, wall=gap))
        return parts

    def jacket(self, _sheet: BuildSheet, _piece: Piece, _mould: RigidMould, _form: Figure) -> None:
        """It stands by itself."""

    def gap_m(self, mould: RigidMould) -> float:
        """The gap is the skin."""
        return mould.gap_m

    def section(self, mould: RigidMould, _laminate_m: float) -> tuple[Line, ...]:
        """The form, and with a gap the core; the halves' own outline is straight."""
        return (Line("form", 0.0), Line("core", -mould.gap_m)) if mould.gap_m else (Line("form", 0.0),)
