"""Mixing the rubber of each mould: pot life here, batches, weights, pouring time; each of several mixes by itself."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.cards import MaterialCard
from homunculus.core.casting import mixing
from homunculus.core.cure.kinetics import kinetics_of
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job import Mix, Mixing, Piece
from homunculus.core.plan_types import Headline, Mind, Sheet, card_given


def plan_mixes(sheet: Sheet) -> None:
    """Derive the mixing figures of every mould of the ``sheet``'s build whose rubber is known."""
    for piece in sheet.context.build.pieces:
        if piece.mould and _poured(sheet, piece.id):
            _plan_one(sheet, piece)
    masses = [(f.number, f.subject.piece) for f in sheet.figures if f.spec in (specs.RUBBER, specs.STONE)]
    if masses:
        heaviest = max(masses)[1]
        mass, count = _poured(sheet, heaviest), sheet.find(specs.BATCHES, heaviest)
        batch = sheet.find(specs.BATCH, heaviest)
        if mass and count:
            word = " batch" if count.value == 1 else " batches"
            of = (" of ", batch) if batch else (" in several mixes",)
            sheet.headlines.append(Headline("mix", mass, (count, word, *of)))


def _poured(sheet: Sheet, piece: str) -> Figure | None:
    """Mass of what a mould is poured of, rubber or stone."""
    return sheet.find(specs.RUBBER, piece) or sheet.find(specs.STONE, piece)


def _plan_one(sheet: Sheet, piece: Piece) -> None:
    assert piece.mould is not None
    context, subject = sheet.context, sheet.subject(piece.id)
    card, shop = context.cards.material(piece.mould.poured), context.shop.mixing
    total = _poured(sheet, piece.id)
    if total is None or card.pot_life_s is None:
        return
    pot_life = sheet.add(derive(specs.POT_LIFE, mixing.pot_life_here, subject,
        book=card_given(card, card.pot_life_s, "duration", "pot life, book"),
        kinetics=Given(kinetics_of(card), "thing", f"{kinetics_of(card).law} from its card", card.name),
        bench=Given(context.shop.air.day_c, "temperature", "shop by day", "shop")))  # fmt: skip
    most = sheet.add(derive(specs.MOST, mixing.most_in_batch, subject,
        vessel=Given(shop.vessel_m3, "volume", "vessel", "shop"),
        head_room=head_room_of(card, shop),
        density=card_given(card, card.density_kg_m3, "density", "density"),
        pot_life=pot_life, margin=Given(shop.margin, "share", "kept in hand", "shop"), **_handling(sheet)))  # fmt: skip
    mixes = piece.mould.mixes
    counts, times = [], []
    for mix in mixes:
        count, time = _plan_mix(sheet, piece, mix, card, total, most)
        counts.append(count)
        times.append(time)
    if len(mixes) > 1:
        sheet.add(derive(specs.BATCHES, mixing.all_mixes, subject, **_named(mixes, counts)))
        sheet.add(derive(specs.POUR_TIME, mixing.all_mixes, subject, **_named(mixes, times)))
    if not all(count.value for count in counts):
        sheet.minds.append(Mind("danger", "mix", subject, (f"{piece.name}: no batch can be mixed in time",),
            ("The pot life is ", pot_life, " at this temperature. Cool the shop, or choose a slower rubber.",), 5.0))  # fmt: skip


def head_room_of(card: MaterialCard, shop: Mixing) -> Given:
    """How much larger than the mix the vessel must be: the ``card`` says, or the ``shop``."""
    if card.head_room:
        return card_given(card, card.head_room, "factor", "head-room")
    return Given(shop.head_room, "factor", "head-room", "shop")


def _named(mixes: tuple[Mix, ...], figures: list[Figure]) -> dict[str, Figure]:
    return {f"{mix.name or 'mix'} {i}": figure for i, (mix, figure) in enumerate(zip(mixes, figures, strict=True), 1)}


def _handling(sheet: Sheet) -> dict[str, Given]:
    shop = sheet.context.shop.mixing
    return {"fixed": Given(shop.handling_s, "duration", "handling a batch", "shop"),
            "per_kg": Given(shop.handling_s_per_kg, "duration", "handling, for each kg", "shop")}  # fmt: skip


def _plan_mix(
    sheet: Sheet, piece: Piece, mix: Mix, card: MaterialCard, total: Figure, most: Figure
) -> tuple[Figure, Figure]:
    """Derive batches and weights of one mix; return the number of batches and the time that they take."""
    assert piece.mould is not None
    several = len(piece.mould.mixes) > 1
    subject = sheet.subject(piece.id, part=mix.name if several else "")
    mass = total
    if several:
        shares = sum(m.share for m in piece.mould.mixes)
        mass = sheet.add(derive(specs.MIX, mixing.mix_mass, subject, total=total,
            share=Given(mix.share, "share", mix.name, piece.name, decided=True),
            shares=Given(shares, "share", "all shares", piece.name)))  # fmt: skip
    count = sheet.add(derive(specs.BATCHES, mixing.batch_count, subject, total=mass, most=most))
    batch = sheet.add(derive(specs.BATCH, mixing.batch_mass, subject, total=mass, batches=count))
    time = sheet.add(derive(specs.POUR_TIME, mixing.pour_time, subject, batches=count, batch=batch, **_handling(sheet)))
    pot_life = sheet.find(specs.POT_LIFE, piece.id)
    if pot_life:
        sheet.add(derive(specs.SPARE, mixing.spare_time, subject, pot_life=pot_life, batch=batch, **_handling(sheet)))
    parts = _parts_by_weight(card)
    own = sum(part.value for part in parts.values())
    whole = dict(parts)
    for additive in mix.additives:
        stirred = mixing.additive_parts(own=own, share=additive.share)
        whole[additive.name] = Given(stirred, "parts", f"parts of {additive.name}", piece.name, decided=True)
    all_parts = Given(sum(part.value for part in whole.values()), "parts", "all parts", card.name)
    for name, share in whole.items():
        label = f"{mix.name}: {name}" if several else name
        sheet.add(derive(specs.PART, mixing.part_mass, sheet.subject(piece.id, part=label),
                         total=batch, part=share, all_parts=all_parts))  # fmt: skip
    return count, time


def _parts_by_weight(card: MaterialCard) -> dict[str, Given]:
    """The parts of a card by weight; those given by volume take their densities."""
    found = {}
    for part in card.parts:
        value, source = part.parts, card.name
        if card.parts_by == "volume":
            density = (part.density_kg_m3 or card.density_kg_m3).value
            value, source = mixing.weight_parts(parts=part.parts, density=density), f"{card.name}, by volume"
        found[part.name] = Given(value, "parts", f"parts of {part.name}", source)
    return found
