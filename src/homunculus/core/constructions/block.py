"""Block: a box filled with rubber around the form, which stands on its floor."""

from __future__ import annotations

from types import MappingProxyType

from homunculus.core import specs
from homunculus.core.constructions.construction import Construction, Line, cavities
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.moulds import BlockMould
from homunculus.core.making import moulds
from homunculus.core.plan.build_plan import BuildSheet, Headline


def _wall(mould: BlockMould, piece: Piece) -> Given:
    return Given(mould.wall_m, "length", "wall", piece.name, decided=True)


class Block(Construction):
    """The construction."""

    mould = BlockMould
    surround = "box"
    matter = "rubber"
    poured = "rubber"
    volume, mass = specs.RUBBER_VOLUME, specs.RUBBER
    layer = thickness = "wall_m"
    handles = ()
    stack = ((specs.BLANKET, "block"), (specs.WASTE, "waste"))
    foot = specs.JACKET
    named = MappingProxyType({"block": specs.BLANKET})

    def headline(self, mould: BlockMould, piece: Piece) -> Headline:
        """Its wall."""
        return Headline("mould", _wall(mould, piece), ("block mould wall",))

    def parts(self, sheet: BuildSheet, piece: Piece, mould: BlockMould, form: Figure) -> dict[str, Figure]:
        """The block."""
        return {"block": sheet.add(derive(specs.BLANKET, moulds.block_volume, sheet.subject(piece.id), form=form,
                                          wall=_wall(mould, piece), **cavities(mould, piece)))}  # fmt: skip

    def jacket(self, _sheet: BuildSheet, _piece: Piece, _mould: BlockMould, _form: Figure) -> None:
        """The box comes off."""

    def gap_m(self, _mould: BlockMould) -> float:
        """The piece says how thick it is cast."""
        return 0.0

    def section(self, _mould: BlockMould, _laminate_m: float) -> tuple[Line, ...]:
        """The form; the block's own outline is straight."""
        return (Line("form", 0.0),)
