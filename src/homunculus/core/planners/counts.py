"""How many exactly: takes and what they break, figures, good ones, castings; then what all castings weigh and cost."""

from __future__ import annotations

from functools import partial

from homunculus.core import specs
from homunculus.core.figures import Figure, Given, derive, rule
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.counts import ROLES, Variant
from homunculus.core.job.operations import Cast, Insert
from homunculus.core.job.shots import ByBuild, Shot, breaking_uses
from homunculus.core.making import mixing, moulds, yields
from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.sheet import Level, Mind
from homunculus.core.planners.poured import dry_density, price_of, wet_density
from homunculus.core.planners.scale import form_of, wall_of
from homunculus.core.showing import show_day

ALONE = (Variant("", 1.0),)
UNDATED_CAST = Cast("the castings")
"""What fills a mould whose route does not; no operation can be called so, an id has no space."""
MOST_TURNS = 3000
"""Castings of one mould after another; no mould lives so long."""


@rule("what was frozen; before that, what is asked for", "one number for the mould shop")
def for_the_mould_shop(*, asked: int, frozen: int | None) -> int:
    """Castings to make: as ``frozen``, or as ``asked`` while nothing is."""
    return asked if frozen is None else frozen


@rule("sum", "arithmetic")
def of_all(**parts: float) -> float:
    """Sum of the variants of a piece, or of the pieces of a build."""
    return sum(parts.values())


def variants_of(piece: Piece) -> tuple[Variant, ...]:
    """The variants of a ``piece``; one without a name when all are alike."""
    return piece.variants or ALONE


def moulds_of(piece: Piece) -> int:
    """How many moulds a ``piece`` has: of each variant so many."""
    return len(variants_of(piece)) * (piece.mould.moulds if piece.mould else 1)


def plan_counts(sheet: BuildSheet) -> None:
    """Derive takes, figures and castings of the ``sheet``'s build."""
    context, build = sheet.context, sheet.context.build
    confidence = Given(context.shop.confidence, "share", "confidence", "shop", decided=True)
    whole: dict[str, Figure] = {}
    alone: dict[str, dict[str, Figure]] = {}
    for shot in context.shots:
        for name, use in breaking_uses(shot, build.id):
            _plan_breaking(sheet, shot, name, use, confidence, whole, alone)
    roles = {role: Given(getattr(build.wanted, role), "count", role, build.name, decided=True) for role in ROLES}
    figures = sheet.count(derive(specs.FIGURES, yields.figures_wanted, sheet.subject(), **roles, **whole))
    _plan_flotillas(sheet, figures)
    rows = sum(len(variants_of(piece)) for piece in build.pieces if piece.copies and piece.mould and piece.good < 1)
    each_row = confidence if rows < 2 else sheet.count(derive(specs.ROW_CONFIDENCE, yields.row_confidence, sheet.subject(),
        confidence=confidence, rows=Given(rows, "count", "rows of castings of which some are lost", build.name)))  # fmt: skip
    counted = {piece.id: figure for piece in build.pieces if piece.copies
               and (figure := _plan_piece(sheet, piece, _having(sheet, piece, figures, whole), alone.get(piece.id, {}), each_row))}  # fmt: skip
    if counted:
        sheet.count(derive(specs.ALL_CASTINGS, of_all, sheet.subject(), **counted))


def _plan_flotillas(sheet: BuildSheet, figures: Figure) -> None:
    """Derive how many models each shot has before the lens at once, where it shows several; there have to be so many."""
    build = sheet.context.build
    for shot in sheet.context.shots:
        for i, use in enumerate(u for u in shot.uses if u.build == build.id and u.at_once > 1):
            subject = sheet.subject(shot=shot.id, use=str(i + 1) if i else "")
            once = sheet.count(derive(specs.AT_ONCE, yields.in_one_pass, subject,
                seen=Given(use.at_once, "count", "seen at once", shot.name, decided=True),
                passes=Given(use.passes, "count", "passes", shot.name, decided=True)))  # fmt: skip
            if once.number > figures.number and not use.pieces:
                passes = -(-use.at_once // max(1, round(figures.number)))
                sheet.minds.append(Mind("danger", "shot", subject, (f"Shot {shot.id} shows {use.at_once}, there are ", figures),
                    (f"In {use.passes} pass{'es' if use.passes > 1 else ''} ", once, f" stand before the lens. Make more, or take it in {passes} passes.",), 8.0))  # fmt: skip


def _having(sheet: BuildSheet, piece: Piece, figures: Figure, broken: dict[str, Figure]) -> Figure:
    """The figures that have a piece: all, or those for what it is; what takes break of whole figures are heroes and stunts."""
    if not piece.only or piece.in_all:
        return figures
    build = sheet.context.build
    roles = {role: Given(getattr(build.wanted, role) if role in piece.only else 0, "count", role if role in piece.only else f"{role}, without it",
                         build.name, decided=True) for role in ROLES}  # fmt: skip
    lost = broken if {"hero", "stunt"} & set(piece.only) else {}
    return sheet.count(derive(specs.FIGURES, yields.figures_wanted, sheet.subject(piece.id), **roles, **lost))


def _plan_breaking(sheet: BuildSheet, shot: Shot, name: str, use: ByBuild, confidence: Given, whole: dict[str, Figure],
                   alone: dict[str, dict[str, Figure]]) -> None:  # fmt: skip
    """Derive takes and broken copies of one destructive use; they count for the pieces named, or for the whole."""
    subject = sheet.subject(shot=shot.id, use=name)
    if use.chance is None:
        sheet.minds.append(Mind("mind", "shot", subject, (f"Shot {shot.id} breaks {_what(sheet, use)}",),
            ("Nobody has said how likely one take is to be good, so no copies are counted for it: it breaks the thing itself. "
             "Say the chance, and whether it can be put together again.",), 3.0))  # fmt: skip
        return
    chance = Given(use.chance, "share", "chance of a good take", shot.name, decided=True)
    takes = sheet.count(derive(specs.TAKES, yields.takes_for, subject, chance=chance, confidence=confidence))
    resets = Given(use.resets, "count", "resets of one copy", shot.name, decided=True)
    broken = sheet.count(derive(specs.BROKEN, yields.copies_broken, subject, takes=takes, resets=resets))
    for shelf in [alone.setdefault(piece_id, {}) for piece_id in use.pieces] or [whole]:
        shelf[f"shot {shot.id}, {name or 'whole'}"] = broken


def _what(sheet: BuildSheet, use: ByBuild) -> str:
    names = [p.name for p in sheet.context.build.pieces if p.id in use.pieces]
    return " and ".join(names) or sheet.context.build.called


def _plan_piece(sheet: BuildSheet, piece: Piece, figures: Figure, broken: dict[str, Figure],
                confidence: Given | Figure) -> Figure | None:  # fmt: skip
    """Derive what is wanted and cast of a piece, variant by variant; return its castings from all its moulds.

    What has no mould is made otherwise: it is wanted, and nothing of it is cast.
    """
    subject, variants = sheet.subject(piece.id), variants_of(piece)
    own = {word: Given(count, "count", f"{word}s of it", piece.name, decided=True)
           for word, count in (("spare", piece.spares), ("test", piece.tests)) if count}  # fmt: skip
    each = Given(piece.copies, "count", "in all" if piece.in_all else "one figure has", piece.name, decided=True)
    if piece.in_all:
        wanted = sheet.count(derive(specs.GOOD_ONES, yields.pieces_in_all, subject, in_all=each, **own, **broken))
    else:
        wanted = sheet.count(
            derive(specs.GOOD_ONES, yields.pieces_wanted, subject, figures=figures, each=each, **own, **broken)
        )
    good = Given(piece.good, "share", "come out good", piece.name, decided=True)
    shares = Given(tuple(v.share for v in variants), "thing", "shares of the variants", piece.name)
    frozen = sheet.context.build.frozen
    cast_of = {}
    for index, variant in enumerate(variants):
        share, mine = wanted, sheet.subject(piece.id, variant=variant.name)
        if variant.name:
            share = sheet.count(derive(specs.GOOD_ONES, yields.of_variant, mine, wanted=wanted, shares=shares,
                                   index=Given(index, "count", "place among them", piece.name)))  # fmt: skip
        if piece.mould is None:
            continue
        asked = sheet.count(
            derive(specs.ASKED, yields.castings_for, mine, wanted=share, good=good, confidence=confidence)
        )
        number = frozen.of(piece.id, variant.name) if frozen else None
        fixed = Given(number, "thing", f"{number} frozen" if number is not None else "nothing frozen",
                      f"{frozen.by}, {show_day(frozen.at)}" if frozen else "mould shop", decided=True)  # fmt: skip
        cast = sheet.count(derive(specs.CASTINGS, for_the_mould_shop, mine, asked=asked, frozen=fixed))
        cast_of[variant.name] = cast
        if asked.value != cast.value and frozen:
            _mind_the_freeze(sheet, piece, variant, asked, cast)
    if not cast_of:
        return None
    return sheet.count(derive(specs.CASTINGS, of_all, subject, **cast_of)) if piece.variants else cast_of[""]


def off_the_count(asked: Figure, cast: Figure) -> Level | None:
    """How bad it is that something else is ``cast`` than is ``asked`` for: too few is a danger; none when it is the same."""
    if round(asked.number) == round(cast.number):
        return None
    return "danger" if asked.number > cast.number else "mind"


def _mind_the_freeze(sheet: BuildSheet, piece: Piece, variant: Variant, asked: Figure, cast: Figure) -> None:
    name = f"{piece.name} {variant.name}".strip()
    level = off_the_count(asked, cast)
    assert level is not None
    why = ("The mould shop makes ", cast, " castings as frozen; the count now asks for ", asked,
           ". Change the frozen number and say why, or take the count back.")  # fmt: skip
    sheet.minds.append(Mind(level, "mould", sheet.subject(piece.id, variant=variant.name),
                            (f"{name}: {'short of' if level == 'danger' else 'more than'} the count",), why, 7.0, "count"))  # fmt: skip


def castings_of(sheet: BuildSheet, piece: Piece) -> tuple[int, ...]:
    """Castings of each variant of a ``piece`` of the ``sheet``'s build; empty where none is wanted."""
    found = (sheet.find(specs.CASTINGS, piece.id, variant=variant.name) for variant in variants_of(piece))
    return tuple(round(figure.number) for figure in found if figure)


def turns_of(sheet: BuildSheet, piece: Piece) -> tuple[int, ...]:
    """How many castings of a ``piece`` each turn gives: every mould of every variant one from each of its cavities.

    The first turn is the fullest; empty where nothing is cast. ``sheet`` has the counts.
    """
    if piece.mould is None:
        return ()
    places = piece.mould.moulds * piece.mould.cavities
    castings = castings_of(sheet, piece)
    turns = max((-(-count // places) for count in castings), default=0)
    return tuple(
        sum(min(places, max(0, count - turn * places)) for count in castings)
        for turn in range(min(turns, MOST_TURNS + 1))
    )


def plan_castings(sheet: BuildSheet) -> None:
    """Derive what one casting and all castings of every cast piece of the ``sheet``'s build weigh and cost."""
    for piece in sheet.context.build.pieces:
        castings, form = sheet.find(specs.CASTINGS, piece.id), form_of(sheet, piece)
        if castings and form and piece.mould and piece.material and sheet.find(specs.FORM, piece.id):
            sheet.part("castings", piece, partial(_plan_casting, sheet, piece, castings))


def cast_of(piece: Piece) -> Cast:
    """The operation that casts a ``piece``; an undated one where its route has none."""
    return next((op for op in piece.route if isinstance(op, Cast)), UNDATED_CAST)


def _plan_casting(sheet: BuildSheet, piece: Piece, castings: Figure) -> None:
    context, subject, op = sheet.context, sheet.subject(piece.id), cast_of(piece)
    card, as_built = sheet.context.cards.material(piece.material), sheet.find(specs.FORM, piece.id)
    assert as_built is not None
    thick = Given(wall_of(piece), "length", "wall of the casting", piece.name, decided=True)
    whole = sheet.find(specs.SKIN, piece.id) or derive(
        specs.SKIN, moulds.wall_volume, subject, form=as_built, wall=thick
    )
    volume = _less_what_is_inserted(sheet, piece, whole)
    poured, price = _poured(sheet, piece, op, card, volume)
    dry = Given(dry_density(context, card), "density", "finished, dry", card.name)
    sheet.add(derive(specs.ONE_CASTING, yields.casting_mass, subject, volume=volume, density=dry))
    waste = Given(piece.waste, "share", "lost with each", piece.name, decided=True)
    mass = sheet.add(derive(specs.CAST_MASS, yields.all_castings, subject, castings=castings, one=poured, waste=waste))
    if price:
        sheet.add(derive(specs.CAST_COST, mixing.cost_of, subject, mass=mass, price=price))


def _less_what_is_inserted(sheet: BuildSheet, piece: Piece, volume: Figure) -> Figure:
    """What is cast around another piece has that much less to fill."""
    found: dict[str, Given] = {}
    for op in piece.route:
        other = next((p for p in sheet.context.build.pieces if isinstance(op, Insert) and p.id == op.piece), None)
        form = form_of(sheet, other) if other else None
        if other and form:
            built = form.scaled(1 / sheet.context.build.scale)
            wall = wall_of(other)
            found[op.id] = Given(
                built.shell.inward(wall) if wall else built.volume, "volume", other.name, "its form as built"
            )
    return (
        derive(specs.SKIN, moulds.around_what_is_in, sheet.subject(piece.id), volume=volume, **found)
        if found
        else volume
    )


def _poured(
    sheet: BuildSheet, piece: Piece, op: Cast, card: MaterialCard, volume: Figure
) -> tuple[Figure, Figure | Given | None]:
    """One casting as it is poured, and the price of a kilogram of it; mix by mix where it has several."""
    whose = sheet.subject(piece.id, op=op.id)
    if len(op.mixes) == 1:
        density = wet_density(sheet, card, op.mixes[0], whose)
        one = sheet.add(
            derive(specs.ONE_POURED, yields.casting_mass, sheet.subject(piece.id), volume=volume, density=density)
        )
        return one, price_of(sheet, card, op.mixes[0], whose)
    shares = Given(sum(m.share for m in op.mixes), "share", "all shares", piece.name)
    parts: dict[str, Figure] = {}
    prices: dict[str, Figure | Given] = {}
    for i, mix in enumerate(op.mixes, 1):
        mine = sheet.subject(piece.id, op=op.id, mix=mix.name)
        if price := price_of(sheet, card, mix, mine):
            prices[f"price_{i}"] = price
        parts[f"{mix.name or 'mix'} {i}"] = sheet.add(derive(specs.MIX, mixing.mix_mass, mine, volume=volume, shares=shares,
            share=Given(mix.share, "share", mix.name, piece.name, decided=True), density=wet_density(sheet, card, mix, mine)))  # fmt: skip
    one = sheet.add(derive(specs.ONE_POURED, moulds.total_volume, sheet.subject(piece.id), **parts))
    if not prices:
        return one, None
    masses = {f"mass_{i}": mass for i, mass in enumerate(parts.values(), 1)}
    return one, sheet.add(derive(specs.PRICE, mixing.price_of_mixes, whose, **masses, **prices))
