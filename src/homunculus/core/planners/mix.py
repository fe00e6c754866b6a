"""Mixing the rubber of each mould: pot life here, batches, weights, pouring time; each of several mixes by itself."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.cure.clock import pot_life_law
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.making import mixing
from homunculus.core.plan.build_plan import Headline, Mind, Sheet, card_given
from homunculus.core.planners.poured import handling, parts_by_weight, pot_life_factor, vessel


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
    card, total = sheet.context.cards.material(piece.mould.poured), _poured(sheet, piece.id)
    if total is None or card.pot_life_s is None:
        return
    mixes = piece.mould.mixes
    counts, times, joints = [], [], []
    for mix in mixes:
        count, time, joint = _plan_mix(sheet, piece, mix, card, total)
        counts.append(count)
        times.append(time)
        joints.append(joint)
    if len(mixes) > 1:
        subject = sheet.subject(piece.id)
        sheet.add(derive(specs.BATCHES, mixing.all_mixes, subject, **_named(mixes, counts)))
        sheet.add(derive(specs.POUR_TIME, mixing.all_mixes, subject, **_named(mixes, times)))
    if not all(count.value for count in counts):
        life = sheet.find(specs.POT_LIFE, piece.id, mix=mixes[0].name if len(mixes) > 1 else "")
        sheet.minds.append(Mind("danger", "mix", sheet.subject(piece.id), (f"{piece.name}: no batch can be mixed in time",),
            ("The pot life is ", life or "too short", " at this temperature. Cool the shop, or choose a slower one.",), 5.0))  # fmt: skip
    elif not piece.mould.keyed:
        for mix, joint in zip(mixes, joints, strict=True):
            _mind_the_joint(sheet, piece, mix, joint)


def _mind_the_joint(sheet: Sheet, piece: Piece, mix: Mix, joint: Figure) -> None:
    """Batches that must become one body have to meet before the first has gelled."""
    name = mix.name if len(piece.mould.mixes) > 1 else ""  # type: ignore[union-attr]
    life = sheet.find(specs.POT_LIFE, piece.id, mix=name)
    if life and joint.number > life.number:
        sheet.minds.append(Mind("mind", "mix", sheet.subject(piece.id, mix=name),
            (f"{piece.name}: the first batch gels before the last is in",),
            ("From first to last it is ", joint, ", the pot life ", life, ": they will not run into one body. More hands, a larger vessel, "
             "a slower material, or layers keyed on purpose.",), 4.0))  # fmt: skip


def _named(mixes: tuple[Mix, ...], figures: list[Figure]) -> dict[str, Figure]:
    return {f"{mix.name or 'mix'} {i}": figure for i, (mix, figure) in enumerate(zip(mixes, figures, strict=True), 1)}


def _plan_mix(sheet: Sheet, piece: Piece, mix: Mix, card: MaterialCard, total: Figure) -> tuple[Figure, Figure, Figure]:
    """Derive batches and weights of one mix; return the number of batches, the time that they take, and first to last."""
    assert piece.mould is not None
    assert card.pot_life_s is not None
    context, shop = sheet.context, sheet.context.shop.mixing
    several = len(piece.mould.mixes) > 1
    subject = sheet.subject(piece.id, mix=mix.name if several else "")
    law = pot_life_law(card)
    pot_life = sheet.add(derive(specs.POT_LIFE, mixing.pot_life_here, subject,
        book=card_given(card, card.pot_life_s, "duration", "pot life, book"),
        kinetics=Given(law, "thing", f"{law.law} from its card", card.name),
        bench=Given(context.shop.air.day_c, "temperature", "shop by day", "shop"), stirred=pot_life_factor(context.cards, mix)))  # fmt: skip
    density = (sheet.find_of(specs.DENSITY, subject) or sheet.find(specs.SLURRY, piece.id)
               or card_given(card, card.density_kg_m3, "density", "density"))  # fmt: skip
    takes = handling(card, shop)
    most = sheet.add(derive(specs.MOST, mixing.most_in_batch, subject, density=density, pot_life=pot_life,
        margin=Given(shop.margin, "share", "kept in hand", "shop"), **vessel(card, shop), **takes))  # fmt: skip
    mass = sheet.find_of(specs.MIX, subject) if several else total
    assert mass is not None
    count = sheet.add(derive(specs.BATCHES, mixing.batch_count, subject, total=mass, most=most))
    batch = sheet.add(derive(specs.BATCH, mixing.batch_mass, subject, total=mass, batches=count))
    sheet.add(
        derive(specs.FILL, mixing.filled_to, subject, batch=batch, density=density, vessel=vessel(card, shop)["vessel"])
    )
    hands = Given(shop.hands, "count", "who mix side by side", "shop", decided=True)
    time = sheet.add(
        derive(specs.POUR_TIME, mixing.pour_time, subject, batches=count, batch=batch, hands=hands, **takes)
    )
    joint = sheet.add(derive(specs.JOINT, mixing.joint_time, subject, batches=count, batch=batch, hands=hands, **takes))
    sheet.add(derive(specs.SPARE, mixing.spare_time, subject, pot_life=pot_life, batch=batch, **takes))
    parts = parts_by_weight(card)
    own = sum(given.value for given in parts.values())
    whole = dict(parts)
    for additive in mix.additives:
        stirred = mixing.additive_parts(own=own, share=additive.share)
        whole[additive.name] = Given(stirred, "parts", f"parts of {additive.name}", piece.name, decided=True)
    all_parts = Given(sum(given.value for given in whole.values()), "parts", "all parts", card.name)
    for name, share in whole.items():
        sheet.add(derive(specs.PART, mixing.part_mass, replace(subject, part=name),
                         total=batch, part=share, all_parts=all_parts))  # fmt: skip
    return count, time, joint
