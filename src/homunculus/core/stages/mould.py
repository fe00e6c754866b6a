"""Moulds of a build: rubber, laminate, weight and cost of each."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.cards import MaterialCard
from homunculus.core.casting import mixing, moulds
from homunculus.core.figures import Figure, FigureSpec, Given, derive
from homunculus.core.job import BlockMould, JacketMould, Mould, Piece, RigidMould
from homunculus.core.plan_types import Headline, Mind, Sheet, card_given
from homunculus.core.showing import show_day
from homunculus.core.stages.scale import form_of
from homunculus.core.stages.shot import scale_given


def plan_moulds(sheet: Sheet) -> None:
    """Derive the mould figures of every piece of the ``sheet``'s build that has a mould."""
    moulded = [piece for piece in sheet.context.build.pieces if piece.mould]
    reckoned = [piece for piece in moulded if _plan_one(sheet, piece)]
    masses = {p.id: figure for p in reckoned if (figure := _of_all_moulds(sheet, p, specs.RUBBER))}
    costs = {p.id: figure for p in reckoned if (figure := _of_all_moulds(sheet, p, specs.RUBBER_COST))}
    if masses:
        sheet.add(derive(specs.BUILD_RUBBER, moulds.total_volume, sheet.subject(), **masses))
    if costs:
        sheet.add(derive(specs.BUILD_COST, moulds.total_volume, sheet.subject(), **costs))
    _headline(sheet, moulded)
    _mind_signatures(sheet, moulded)


def _mind_signatures(sheet: Sheet, moulded: list[Piece]) -> None:
    """A late objection costs a finished mould, so what is not signed holds it."""
    missing = [s for s in sheet.context.build.signoffs if s.at is None]
    if not (moulded and missing):
        return
    words = " and ".join(s.kind for s in missing)
    who = "; ".join(f"{s.kind} by {s.by or 'nobody named'}"
                    + (f", expected {show_day(s.expected)}" if s.expected else "") for s in missing)  # fmt: skip
    sheet.minds.append(Mind("mind", "mould", sheet.subject(), (f"Moulds held: {words} not signed",),
        (f"{who[:1].upper()}{who[1:]}. An objection after the mould costs the mould.",), 9.0, "count"))  # fmt: skip


def _of_all_moulds(sheet: Sheet, piece: Piece, spec: FigureSpec) -> Figure | None:
    """A figure of one mould of a piece, times the moulds that its variants need."""
    one = sheet.find(spec, piece.id)
    if one is None or len(piece.variants) < 2:
        return one
    count = Given(len(piece.variants), "count", "moulds, one a variant", piece.name, decided=True)
    return derive(spec, moulds.of_all_moulds, sheet.subject(piece.id), one=one, moulds=count)


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
        elif isinstance(mould, RigidMould):
            value = Given(
                mould.gap_m or mould.wall_m, "length", "gap" if mould.gap_m else "wall", piece.name, decided=True
            )
            words = "gap to the core, two halves" if mould.gap_m else "wall of two halves"
            sheet.headlines.append(Headline("mould", value, (words,)))


def _plan_one(sheet: Sheet, piece: Piece) -> bool:
    """Derive one piece's mould; false while its form has not been studied."""
    real = form_of(sheet, piece)
    if real is None or piece.mould is None:
        return False
    mould, subject = piece.mould, sheet.subject(piece.id)
    card = sheet.context.cards.material(mould.poured)
    form = sheet.add(derive(specs.FORM, moulds.form_at_scale, subject, scale=scale_given(sheet),
        form=Given(real, "thing", "form at real size", piece.name)))  # fmt: skip
    parts = _parts(sheet, piece, mould, form)
    rigid = isinstance(mould, RigidMould)
    volume_spec, mass_spec = (specs.STONE_VOLUME, specs.STONE) if rigid else (specs.RUBBER_VOLUME, specs.RUBBER)
    bare = derive(volume_spec, moulds.total_volume, subject, **parts)
    waste = sheet.add(derive(specs.WASTE, moulds.waste_volume, subject, rubber=bare,
        share=Given(mould.waste, "share", "waste", piece.name, decided=True),
        least=Given(mould.least_waste_m3, "volume", "least waste", piece.name)))  # fmt: skip
    volume = sheet.add(derive(volume_spec, moulds.total_volume, subject, **parts, waste=waste))
    density = _wet_density(sheet, piece, card)
    mass = sheet.add(derive(mass_spec, moulds.mass_of, subject, volume=volume, density=density))
    if card.price_per_kg and not rigid:
        price = card_given(card, card.price_per_kg, "money_per_mass", "price")
        sheet.add(derive(specs.RUBBER_COST, mixing.cost_of, subject, mass=mass, price=price))
    in_place = derive(mass_spec, moulds.mass_of, subject, volume=bare, density=density)
    jacket = _plan_jacket(sheet, piece, mould, form) if isinstance(mould, JacketMould) else None
    weighed = {"poured": in_place} | ({"jacket": jacket} if jacket else {})
    sheet.add(derive(specs.MOULD_WEIGHT, moulds.total_volume, subject, **weighed))
    return True


def _wet_density(sheet: Sheet, piece: Piece, card: MaterialCard) -> Figure | Given:
    """Density of what is poured: of gypsum it follows from the water, of all else it stands on the card."""
    parts = {part.name: part.parts for part in card.parts}
    if card.kind == "gypsum" and set(parts) == {"powder", "water"}:
        given = {name: Given(value, "parts", f"parts of {name}", card.name) for name, value in parts.items()}
        return sheet.add(derive(specs.SLURRY, mixing.slurry_density, sheet.subject(piece.id), **given))
    return card_given(card, card.density_kg_m3, "density", "density")


def _parts(sheet: Sheet, piece: Piece, mould: Mould, form: Figure) -> dict[str, Figure]:
    """Derive the volumes that are poured, by name, waste left out."""
    subject = sheet.subject(piece.id)
    if isinstance(mould, JacketMould):
        thickness = Given(mould.blanket_m, "length", "blanket", piece.name, decided=True)
        blanket = sheet.add(derive(specs.BLANKET, moulds.blanket_volume, subject, form=form, thickness=thickness))
        keys = sheet.add(derive(specs.KEYS, moulds.keys_volume, subject, blanket=blanket,
                                share=Given(mould.keys, "share", "keys", piece.name, decided=True)))  # fmt: skip
        return {"blanket": blanket, "keys": keys}
    wall = Given(mould.wall_m, "length", "wall", piece.name, decided=True)
    if isinstance(mould, BlockMould):
        return {"block": sheet.add(derive(specs.BLANKET, moulds.block_volume, subject, form=form, wall=wall))}
    parts = {"halves": sheet.add(derive(specs.HALVES, moulds.halves_volume, subject, form=form, wall=wall))}
    gap = Given(mould.gap_m, "length", "gap to the core", piece.name, decided=True)
    if mould.gap_m:
        parts["core"] = sheet.add(derive(specs.CORE, moulds.core_volume, subject, form=form, gap=gap))
    sheet.add(derive(specs.SKIN, moulds.wall_volume, subject, form=form, wall=gap))
    return parts


def _plan_jacket(sheet: Sheet, piece: Piece, mould: JacketMould, form: Figure) -> Figure | None:
    card, subject = sheet.context.cards.material(mould.laminate), sheet.subject(piece.id)
    area = sheet.add(derive(specs.JACKET_AREA, moulds.jacket_area, subject, form=form,
        blanket=Given(mould.blanket_m, "length", "blanket", piece.name, decided=True),
        flange=Given(mould.flange_m, "length", "flange", piece.name, decided=True)))  # fmt: skip
    if not (card.mat_kg_m2 and card.resin_to_mat):
        return None
    layers = Given(mould.layers, "count", "layers", piece.name, decided=True)
    mat = Given(card.mat_kg_m2.value, "areal_density", "mat", card.name)
    ratio = Given(card.resin_to_mat.value, "factor", "resin to mat", card.name)
    if card.mat_density_kg_m3:
        sheet.add(derive(specs.JACKET_THICKNESS, moulds.laminate_thickness, subject, layers=layers, mat=mat,
            ratio=ratio, mat_density=Given(card.mat_density_kg_m3.value, "density", "fibre", card.name),
            resin_density=Given(card.density_kg_m3.value, "density", "resin", card.name)))  # fmt: skip
    return sheet.add(
        derive(specs.JACKET, moulds.laminate_mass, subject, area=area, layers=layers, mat=mat, ratio=ratio)
    )
