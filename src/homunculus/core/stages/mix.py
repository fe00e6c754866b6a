"""Mixing the rubber of each mould: pot life here, batches, weights, pouring time."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.casting import mixing
from homunculus.core.figures import Given, derive
from homunculus.core.job import Piece
from homunculus.core.plan_types import Headline, Mind, Sheet, card_given


def plan_mixes(sheet: Sheet) -> None:
    """Derive the mixing figures of every mould of the ``sheet``'s build whose rubber is known."""
    for piece in sheet.context.build.pieces:
        if piece.mould and sheet.find(specs.RUBBER, piece.id):
            _plan_one(sheet, piece)
    masses = [(f.number, f.subject.piece) for f in sheet.figures if f.spec is specs.RUBBER]
    if masses:
        heaviest = max(masses)[1]
        mass, count = sheet.find(specs.RUBBER, heaviest), sheet.find(specs.BATCHES, heaviest)
        batch = sheet.find(specs.BATCH, heaviest)
        if mass and count and batch:
            word = " batch of " if count.value == 1 else " batches of "
            sheet.headlines.append(Headline("mix", mass, (count, word, batch)))


def _plan_one(sheet: Sheet, piece: Piece) -> None:
    assert piece.mould is not None
    context, subject = sheet.context, sheet.subject(piece.id)
    card, shop = context.cards.material(piece.mould.rubber), context.shop.mixing
    total = sheet.find(specs.RUBBER, piece.id)
    if total is None or card.pot_life_s is None:
        return
    pot_life = sheet.add(derive(specs.POT_LIFE, mixing.pot_life_here, subject,
        book=card_given(card, card.pot_life_s, "duration", "pot life, book"),
        reference=Given(card.reference_c, "temperature", "book temperature", card.name),
        bench=Given(context.shop.air.day_c, "temperature", "shop by day", "shop")))  # fmt: skip
    fixed = Given(shop.handling_s, "duration", "handling a batch", "shop")
    per_kg = Given(shop.handling_s_per_kg, "duration", "handling, for each kg", "shop")
    most = sheet.add(derive(specs.MOST, mixing.most_in_batch, subject,
        vessel=Given(shop.vessel_m3, "volume", "vessel", "shop"),
        head_room=Given(shop.head_room, "factor", "head-room", "shop"),
        density=card_given(card, card.density_kg_m3, "density", "density"),
        pot_life=pot_life, margin=Given(shop.margin, "share", "kept in hand", "shop"), fixed=fixed, per_kg=per_kg))  # fmt: skip
    count = sheet.add(derive(specs.BATCHES, mixing.batch_count, subject, total=total, most=most))
    batch = sheet.add(derive(specs.BATCH, mixing.batch_mass, subject, total=total, batches=count))
    sheet.add(
        derive(specs.POUR_TIME, mixing.pour_time, subject, batches=count, batch=batch, fixed=fixed, per_kg=per_kg)
    )
    all_parts = Given(sum(p.parts for p in card.parts), "factor", "all parts", card.name)
    for part in card.parts:
        share = Given(part.parts, "factor", f"parts of {part.name}", card.name)
        sheet.add(derive(specs.PART, mixing.part_mass, sheet.subject(piece.id, part=part.name),
                         total=batch, part=share, all_parts=all_parts))  # fmt: skip
    if not count.value:
        sheet.minds.append(Mind("danger", "mix", subject, (f"{piece.name}: no batch can be mixed in time",),
            ("The pot life is ", pot_life, " at this temperature. Cool the shop, or choose a slower rubber.",), 5.0))  # fmt: skip
