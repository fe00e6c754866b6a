"""Every pour of a build, and its mixes: pot life here, batches, weights, pouring time."""

from __future__ import annotations

from collections.abc import Iterator
from functools import partial

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.constructions.register import construction_of
from homunculus.core.cure.clock import pot_life_law
from homunculus.core.cure.kinetics import LONGEST_S
from homunculus.core.figures import Figure, Given, Subject, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.job.operations import AnyOperation, Cast, LayUp, Pour
from homunculus.core.making import mixing
from homunculus.core.operations.register import kind_of
from homunculus.core.plan.build_plan import BuildSheet, Headline, PlannedPour, card_given
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.counts import cast_of
from homunculus.core.planners.poured import handling, parts_by_weight, pot_life_factor, vessel

UNDATED = Pour("")
"""What pours a mould whose route does not."""
LAID_UP = LayUp("the jacket")
"""What lays up a jacket whose route does not; no operation can be called so, an id has no space."""


def operations_of(piece: Piece) -> tuple[AnyOperation, ...]:
    """The operations of a ``piece``, and those that its route leaves out: a mould is laid up, poured and filled with or without dates."""
    if piece.mould is None:
        return piece.route
    kinds = {type(op) for op in piece.route}
    before = [LAID_UP] if LayUp not in kinds and construction_of(piece.mould).laminate(piece.mould) else []
    return (
        *before,
        *(() if Pour in kinds else (UNDATED,)),
        *piece.route,
        *(() if Cast in kinds else (cast_of(piece),)),
    )


def plan_mixes(sheet: BuildSheet) -> None:
    """List all pours of the ``sheet``'s build and derive the mixing figures of those whose weight is known."""
    for piece in sheet.context.build.pieces:
        sheet.part("mixes", piece, partial(_plan_piece, sheet, piece))
    _headline(sheet)


def _plan_piece(sheet: BuildSheet, piece: Piece) -> None:
    for op, pour in _pours(sheet, piece):
        sheet.pours.append(pour)
        _plan_pour(sheet, piece, op, pour)


def _headline(sheet: BuildSheet) -> None:
    """The heaviest mould speaks for all."""
    found = [(f.number, i, p) for i, p in enumerate(sheet.pours)
             if p.of == "mould" and (f := sheet.find(specs.RUBBER, p.piece) or sheet.find(specs.STONE, p.piece))]  # fmt: skip
    if not found:
        return
    pour = max(found, key=lambda row: (row[0], -row[1]))[2]
    mass = sheet.find(specs.RUBBER, pour.piece) or sheet.find(specs.STONE, pour.piece)
    count, batch = sheet.find(specs.BATCHES, pour.piece, op=pour.op), sheet.find(specs.BATCH, pour.piece, op=pour.op)
    if mass and count:
        mine = sum(1 for p in sheet.pours if p.piece == pour.piece and p.of == "mould")
        word = " batch" if count.value == 1 else " batches"
        each = (f"{mine} × ",) if mine > 1 else ()
        of = (" of ", batch) if batch else (" in several mixes",)
        sheet.headlines.append(Headline("mix", mass, (*each, count, word, *of)))


def _pours(sheet: BuildSheet, piece: Piece) -> Iterator[tuple[AnyOperation, PlannedPour]]:
    unnamed = True
    for op in operations_of(piece):
        kind = kind_of(op)
        mixed = kind.mixed(piece, op)
        if mixed is None:
            if isinstance(op, Cast) and op in piece.route and not piece.material:
                sheet.minds.append(Mind("mind", "mould", sheet.subject(piece.id), (f"{piece.name}: of nothing yet",),
                    ("Nobody has said what it is cast of, so its castings are neither mixed nor dated by a clock.",), 6.0))  # fmt: skip
            continue
        card = sheet.context.cards.material(mixed.card)
        dated = any(op is one for one in piece.route)
        called = op.called if dated else {"mould": "rubber", "jacket": "jacket"}.get(mixed.of, "casting")
        first = unnamed and mixed.of == "mould"
        unnamed = unnamed and not first
        yield op, PlannedPour(
            build=sheet.context.build.id, piece=piece.id, op=op.id, name=f"{piece.name}: {called}", called=called, of=mixed.of,
            card=card, mixes=mixed.mixes, times=kind.times(sheet, piece, op), coats=kind.coats(op), keyed=mixed.keyed,
            setting=kind.setting(sheet, piece, op, card), logged_as=(op.id, "") if first and op.id else (op.id,),
            dated=dated or first,
        )  # fmt: skip


def _plan_pour(sheet: BuildSheet, piece: Piece, op: AnyOperation, pour: PlannedPour) -> None:
    """Derive batches and weights of all mixes of one pour, where its weight and a pot life are known."""
    card, names = pour.card, [pour.mix_name(i) for i in range(len(pour.mixes))]
    masses = [kind_of(op).mass(sheet, piece, op, i) for i in range(len(pour.mixes))]
    if not card.parts or any(mass is None for mass in masses):
        return
    work = kind_of(op).work(sheet, piece, op) if kind_of(op).worked_in else None
    known = [mass for mass in masses if mass]
    takes = [_takes(sheet, pour, i, known, work) for i in range(len(known))]
    made = [_plan_mix(sheet, pour, i, mass, takes[i]) for i, mass in enumerate(known)]
    subject = sheet.subject(piece.id, op=op.id)
    if len(names) > 1:
        named = [f"{name or 'mix'} {i}" for i, name in enumerate(names, 1)]
        for spec, which in ((specs.BATCHES, 0), (specs.POUR_TIME, 1)):
            figures = dict(zip(named, (row[which] for row in made), strict=True))
            sheet.add(derive(spec, mixing.all_mixes, subject, **figures))
    if not all(count.value for count, _, _ in made):
        life = sheet.find(specs.POT_LIFE, piece.id, op=op.id, mix=names[0])
        sheet.minds.append(Mind("danger", "mix", subject, (f"{pour.name}: no batch can be mixed in time",),
            ("The pot life is ", life or "too short", " at this temperature. Cool the shop, or choose a slower one.",), 5.0))  # fmt: skip
    elif not pour.keyed:
        for name, (_, _, joint) in zip(names, made, strict=True):
            _mind_the_joint(sheet, pour, name, joint)


def _mind_the_joint(sheet: BuildSheet, pour: PlannedPour, mix: str, joint: Figure) -> None:
    """Batches that must become one body have to meet before the first has gelled. Each casting is filled from one batch."""
    life = sheet.find(specs.POT_LIFE, pour.piece, op=pour.op, mix=mix)
    if pour.of != "casting" and life and joint.number > life.number:
        sheet.minds.append(Mind("mind", "mix", sheet.subject(pour.piece, op=pour.op, mix=mix),
            (f"{pour.name}: the first batch gels before the last is in",),
            ("From first to last it is ", joint, ", the pot life ", life, ": they will not run into one body. More hands, a larger vessel, "
             "a slower material, or layers keyed on purpose.",), 4.0))  # fmt: skip


def _density(sheet: BuildSheet, pour: PlannedPour, subject: Subject) -> Figure | Given:
    """Density of a mix: a figure where it follows from what is stirred in, or of stone from powder and water."""
    shelves = [subject, replace(subject, mix="")]  # one slurry fills all mixes
    if pour.of == "mould":
        shelves += [replace(shelf, op="") for shelf in shelves]
    for shelf in shelves:
        if found := sheet.find_of(specs.DENSITY, shelf) or sheet.find_of(specs.SLURRY, shelf):
            return found
    return card_given(pour.card, pour.card.density_kg_m3, "density", "density")


def _pot_life(sheet: BuildSheet, card: MaterialCard, mix: Mix, subject: Subject) -> Figure | Given:
    """How long it can be poured here; what goes off only on the piece, as latex does, has no end in the cup."""
    if card.pot_life_s is None:
        return Given(LONGEST_S, "duration", "does not go off in the cup", card.name)
    law, air = pot_life_law(card), sheet.context.shop.air
    return sheet.add(derive(specs.POT_LIFE, mixing.pot_life_here, subject,
        book=card_given(card, card.pot_life_s, "duration", "pot life, book"),
        kinetics=Given(law, "thing", f"{law.law} from its card", card.name),
        bench=Given(air.day_c, "temperature", "shop by day", "shop"), stirred=pot_life_factor(sheet.context.cards, mix)))  # fmt: skip


def _takes(
    sheet: BuildSheet, pour: PlannedPour, index: int, masses: list[Figure], work: Figure | None
) -> dict[str, Figure | Given]:
    """What a batch takes: as the shop handles it, or as fast as hands work it in."""
    found: dict[str, Figure | Given] = {**handling(pour.card, sheet.context.shop.mixing)}
    if work:
        subject = sheet.subject(pour.piece, op=pour.op, mix=pour.mix_name(index))
        times = Given(pour.times * pour.coats, "count", "times", pour.name)
        each = {f"mass_{i}": mass for i, mass in enumerate(masses, 1)}
        found["per_kg"] = sheet.add(derive(specs.PACE, mixing.pace, subject, work=work, times=times, **each))
    return found


def _plan_mix(
    sheet: BuildSheet, pour: PlannedPour, index: int, mass: Figure, takes: dict[str, Figure | Given]
) -> tuple[Figure, Figure, Figure]:
    """Derive batches and weights of one mix; return the number of batches, the time that they take, and first to last."""
    card, mix = pour.card, pour.mixes[index]
    shop, subject = sheet.context.shop.mixing, sheet.subject(pour.piece, op=pour.op, mix=pour.mix_name(index))
    pot_life = _pot_life(sheet, card, mix, subject)
    density = _density(sheet, pour, subject)
    most = sheet.add(derive(specs.MOST, mixing.most_in_batch, subject, density=density, pot_life=pot_life,
        margin=Given(shop.margin, "share", "kept in hand", "shop"), **vessel(card, shop), **takes))  # fmt: skip
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
    if isinstance(pot_life, Figure):
        sheet.add(derive(specs.SPARE, mixing.spare_time, subject, pot_life=pot_life, batch=batch, **takes))
    parts = parts_by_weight(card)
    own = sum(given.value for given in parts.values())
    whole = dict(parts)
    for additive in mix.additives:
        stirred = mixing.additive_parts(own=own, share=additive.share)
        whole[additive.name] = Given(stirred, "parts", f"parts of {additive.name}", pour.name, decided=True)
    all_parts = Given(sum(given.value for given in whole.values()), "parts", "all parts", card.name)
    for name, share in whole.items():
        sheet.add(derive(specs.PART, mixing.part_mass, replace(subject, part=name),
                         total=batch, part=share, all_parts=all_parts))  # fmt: skip
    return count, time, joint
