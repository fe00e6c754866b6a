"""Jacketed: a rubber blanket over the form, in a laminated jacket of two halves with flanges."""

from __future__ import annotations

from types import MappingProxyType

from homunculus.core import specs
from homunculus.core.constructions.construction import Construction, Line, cavities, laminated
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.moulds import JacketMould
from homunculus.core.making import moulds
from homunculus.core.plan.build_plan import BuildSheet, Headline


def _blanket(mould: JacketMould, piece: Piece) -> Given:
    return Given(mould.blanket_m, "length", "blanket", piece.name, decided=True)


class Jacketed(Construction):
    """The construction."""

    mould = JacketMould
    surround = "jacket"
    matter = "rubber"
    poured = "rubber"
    volume, mass = specs.RUBBER_VOLUME, specs.RUBBER
    layer = thickness = "blanket_m"
    handles = ("flange_m", "layers", "keys")
    stack = ((specs.BLANKET, "blanket"), (specs.KEYS, "keys, spout"), (specs.WASTE, "waste"))
    foot = specs.JACKET
    named = MappingProxyType({"blanket": specs.BLANKET, "keys": specs.KEYS})

    def headline(self, mould: JacketMould, piece: Piece) -> Headline:
        """Its blanket."""
        return Headline("mould", _blanket(mould, piece), ("blanket, jacket of two",))

    def parts(self, sheet: BuildSheet, piece: Piece, mould: JacketMould, form: Figure) -> dict[str, Figure]:
        """Blanket, and keys with spout and vents."""
        subject = sheet.subject(piece.id)
        thickness = _blanket(mould, piece)
        blanket = sheet.add(derive(specs.BLANKET, moulds.blanket_volume, subject, form=form, thickness=thickness,
                                   **cavities(mould, piece)))  # fmt: skip
        share = Given(mould.keys, "share", "keys", piece.name, decided=True)
        return {
            "blanket": blanket,
            "keys": sheet.add(derive(specs.KEYS, moulds.keys_volume, subject, blanket=blanket, share=share)),
        }

    def jacket(self, sheet: BuildSheet, piece: Piece, mould: JacketMould, form: Figure) -> Figure | None:
        """Its laminate over the blanket and on the flanges."""
        return laminated(sheet, piece, mould, form, _blanket(mould, piece))

    def flange_m(self, mould: JacketMould) -> float:
        """Of the jacket, at the parting line."""
        return mould.flange_m

    def gap_m(self, _mould: JacketMould) -> float:
        """The piece says how thick it is cast."""
        return 0.0

    def section(self, mould: JacketMould, laminate_m: float) -> tuple[Line, ...]:
        """Form, rubber, laminate."""
        return Line("form", 0.0), Line("rubber", mould.blanket_m), Line("jacket", mould.blanket_m + laminate_m)
