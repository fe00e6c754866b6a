"""Moulds of a build: rubber, laminate, weight and cost of each."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.casting import mixing, moulds
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job import BlockMould, JacketMould, Piece
from homunculus.core.plan_types import Headline, Sheet, card_given
from homunculus.core.stages.scale import form_of
from homunculus.core.stages.shot import scale_given


def plan_moulds(sheet: Sheet) -> None:
    """Derive the mould figures of every piece of the ``sheet``'s build that has a mould."""
    moulded = [piece for piece in sheet.context.build.pieces if piece.mould]
    reckoned = [piece for piece in moulded if _plan_one(sheet, piece)]
    masses = {p.id: figure for p in reckoned if (figure := sheet.find(specs.RUBBER, p.id))}
    costs = {p.id: figure for p in reckoned if (figure := sheet.find(specs.RUBBER_COST, p.id))}
    if masses:
        sheet.add(derive(specs.BUILD_RUBBER, moulds.total_volume, sheet.subject(), **masses))
    if costs:
        sheet.add(derive(specs.BUILD_COST, moulds.total_volume, sheet.subject(), **costs))
    _headline(sheet, moulded)


def _headline(sheet: Sheet, moulded: list[Piece]) -> None:
    if len(moulded) > 1:
        names = ", ".join(p.name for p in moulded)
        sheet.headlines.append(Headline("mould", Given(len(moulded), "count", "moulds"), (f"moulds: {names}",)))
    elif moulded:
        piece, mould = moulded[0], moulded[0].mould
        if isinstance(mould, JacketMould):
            value = Given(mould.blanket_m, "length", "blanket", piece.name, decided=True)
            sheet.headlines.append(Headline("mould", value, ("blanket, jacket of two",)))
        elif isinstance(mould, BlockMould):
            value = Given(mould.wall_m, "length", "wall", piece.name, decided=True)
            sheet.headlines.append(Headline("mould", value, ("block mould wall",)))


def _plan_one(sheet: Sheet, piece: Piece) -> bool:
    """Derive one piece's mould; false while its form has not been studied."""
    real = form_of(sheet, piece)
    if real is None or piece.mould is None:
        return False
    mould, subject = piece.mould, sheet.subject(piece.id)
    rubber = sheet.context.cards.material(mould.rubber)
    form = sheet.add(derive(specs.FORM, moulds.form_at_scale, subject, scale=scale_given(sheet),
        form=Given(real, "thing", "form at real size", piece.name)))  # fmt: skip
    if isinstance(mould, JacketMould):
        thickness = Given(mould.blanket_m, "length", "blanket", piece.name, decided=True)
        blanket = sheet.add(derive(specs.BLANKET, moulds.blanket_volume, subject, form=form, thickness=thickness))
        keys = sheet.add(derive(specs.KEYS, moulds.keys_volume, subject, blanket=blanket,
                                share=Given(mould.keys, "share", "keys", piece.name, decided=True)))  # fmt: skip
        parts = {"blanket": blanket, "keys": keys}
    else:
        wall = Given(mould.wall_m, "length", "wall", piece.name, decided=True)
        block = sheet.add(derive(specs.BLANKET, moulds.block_volume, subject, form=form, wall=wall))
        parts = {"block": block}
    bare = derive(specs.RUBBER_VOLUME, moulds.total_volume, subject, **parts)
    waste = sheet.add(derive(specs.WASTE, moulds.waste_volume, subject, rubber=bare,
        share=Given(mould.waste, "share", "waste", piece.name, decided=True),
        least=Given(mould.least_waste_m3, "volume", "least waste", piece.name)))  # fmt: skip
    volume = sheet.add(derive(specs.RUBBER_VOLUME, moulds.total_volume, subject, **parts, waste=waste))
    density = card_given(rubber, rubber.density_kg_m3, "density", "density")
    mass = sheet.add(derive(specs.RUBBER, moulds.mass_of, subject, volume=volume, density=density))
    if rubber.price_per_kg:
        price = card_given(rubber, rubber.price_per_kg, "money_per_mass", "price")
        sheet.add(derive(specs.RUBBER_COST, mixing.cost_of, subject, mass=mass, price=price))
    in_place = derive(specs.RUBBER, moulds.mass_of, subject, volume=bare, density=density)
    jacket = _plan_jacket(sheet, piece, mould, form) if isinstance(mould, JacketMould) else None
    weighed = {"rubber": in_place} | ({"jacket": jacket} if jacket else {})
    sheet.add(derive(specs.MOULD_WEIGHT, moulds.total_volume, subject, **weighed))
    return True


def _plan_jacket(sheet: Sheet, piece: Piece, mould: JacketMould, form: Figure) -> Figure | None:
    card, subject = sheet.context.cards.material(mould.laminate), sheet.subject(piece.id)
    area = sheet.add(derive(specs.JACKET_AREA, moulds.jacket_area, subject, form=form,
        blanket=Given(mould.blanket_m, "length", "blanket", piece.name, decided=True),
        flange=Given(mould.flange_m, "length", "flange", piece.name, decided=True)))  # fmt: skip
    if not (card.mat_kg_m2 and card.resin_to_mat):
        return None
    layers = Given(mould.layers, "count", "layers", piece.name, decided=True)
    mat = Given(card.mat_kg_m2.value, "factor", "mat, kg a square metre", card.name)
    ratio = Given(card.resin_to_mat.value, "factor", "resin to mat", card.name)
    if card.mat_density_kg_m3:
        sheet.add(derive(specs.JACKET_THICKNESS, moulds.laminate_thickness, subject, layers=layers, mat=mat,
            ratio=ratio, mat_density=Given(card.mat_density_kg_m3.value, "density", "fibre", card.name),
            resin_density=Given(card.density_kg_m3.value, "density", "resin", card.name)))  # fmt: skip
    return sheet.add(
        derive(specs.JACKET, moulds.laminate_mass, subject, area=area, layers=layers, mat=mat, ratio=ratio)
    )
