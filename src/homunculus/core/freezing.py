"""The number for the mould shop: freezing it, and what it costs to change it afterwards."""

from __future__ import annotations

from datetime import datetime, timedelta

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.counts import Frozen, Ordered
from homunculus.core.edits import replace_build
from homunculus.core.errors import UserError
from homunculus.core.facts import Facts
from homunculus.core.job import Build, Job
from homunculus.core.plan import plan_build, shots_by_build
from homunculus.core.plan_types import BuildPlan, Context
from homunculus.core.quantities import System
from homunculus.core.shots import in_order
from homunculus.core.showing import show
from homunculus.core.stages.count import variants_of


def asked_now(made: BuildPlan) -> tuple[Ordered, ...]:
    """Castings that the plan of a build asks for, as it is ``made``, piece by piece and variant by variant."""
    return tuple(
        Ordered(piece.id, variant.name, round(asked.number))
        for piece in made.build.pieces
        for variant in variants_of(piece)
        if (asked := made.find(specs.ASKED, piece.id, part=variant.name))
    )


def freeze(job: Job, made: BuildPlan, at: datetime, by: str, reason: str = "") -> Job:
    """Freeze the count of a build at what it asks for now.

    Parameters
    ----------
    job
        As it is.
    made
        Plan of the build.
    at, by, reason
        When, who says so, and why.

    Raises
    ------
    UserError
        When nobody's name stands under it, or a number that was frozen is changed without a reason.
    """
    if not by.strip():
        raise UserError("Nobody's name is under the number", remedy="Type who freezes it")
    if made.build.frozen and not reason.strip():
        raise UserError("A frozen number changes only with a reason", remedy="Type why; it goes into the log")
    return replace_build(
        job, replace(made.build, frozen=Frozen(at, by.strip(), asked_now(made), " ".join(reason.split())))
    )


class Drift(Struct, frozen=True):
    """One piece, or one variant of it, whose frozen number differs from what is asked for now."""

    piece: str
    variant: str
    frozen: int
    asked: int


class Cost(Struct, frozen=True):
    """What changing the frozen number to what is asked for costs; minus is saved."""

    moved: tuple[Drift, ...]
    mass_kg: tuple[tuple[str, float], ...]
    """Material by name of its card."""
    money: float
    """Of the materials whose cards have a price."""
    unpriced: tuple[str, ...]
    """Materials without a price."""
    mould_s: float
    """Time that the moulds are in use."""
    ready: timedelta
    """How much later the build is ready."""


def cost_of_change(job: Job, made: BuildPlan, facts: Facts) -> Cost | None:
    """Reckon what it costs to follow the count: the plan as frozen against the plan as asked for.

    Parameters
    ----------
    job
        As it is.
    made
        Plan of the build, with its frozen number.
    facts
        Mesh studies by content.

    Returns
    -------
    Cost or None
        None when nothing is frozen or nothing differs.
    """
    frozen = made.build.frozen
    if frozen is None:
        return None
    rows = [Drift(o.piece, o.variant, frozen.of(o.piece, o.variant) or 0, o.castings) for o in asked_now(made)]
    moved = tuple(row for row in rows if row.frozen != row.asked)
    if not moved:
        return None
    loose = replace(made.build, frozen=None)
    after = plan_build(
        Context(loose, shots_by_build(in_order(job.shots)).get(loose.id, ()), job.shop, job.cards, facts)
    )
    names = {piece.id: piece.material for piece in made.build.pieces}
    masses: dict[str, float] = {}
    money, unpriced = 0.0, []
    for piece_id in dict.fromkeys(row.piece for row in moved):
        more = _more(specs.CAST_MASS, made, after, piece_id)
        card = job.cards.material(names[piece_id]) if names[piece_id] else None
        if card is None or more is None:
            continue
        masses[card.name] = masses.get(card.name, 0.0) + more
        if card.price_per_kg:
            money += _more(specs.CAST_COST, made, after, piece_id) or 0.0
        else:
            unpriced.append(card.name)
    mould = sum(_more(specs.MOULD_TIME, made, after, row) or 0.0 for row in dict.fromkeys(r.piece for r in moved))
    before_ready, after_ready = made.find(specs.READY), after.find(specs.READY)
    later = timedelta(0)
    if before_ready and after_ready:
        later = after_ready.value - before_ready.value  # type: ignore[operator,assignment]
    return Cost(moved, tuple(masses.items()), money, tuple(dict.fromkeys(unpriced)), mould, later)


def _more(spec: object, before: BuildPlan, after: BuildPlan, piece: str) -> float | None:
    old, new = before.find(spec, piece), after.find(spec, piece)  # type: ignore[arg-type]
    if old is None and new is None:
        return None
    return (new.number if new else 0.0) - (old.number if old else 0.0)


def cost_words(cost: Cost, build: Build, system: System = "metric", currency: str = "€") -> str:
    """Say what following the count costs: castings, material, money, days of the moulds, and the date.

    Parameters
    ----------
    cost
        As reckoned.
    build
        Whose pieces are named.
    system
        Of units.
    currency
        Sign for money.
    """
    names = {piece.id: piece.name for piece in build.pieces}
    moved = ", ".join(f"{names.get(d.piece, d.piece)}{', ' + d.variant if d.variant else ''} {d.frozen} → {d.asked}"
                      for d in cost.moved)  # fmt: skip
    parts = [_signed(kg, f"{show(abs(kg), 'mass', system)} {name}") for name, kg in cost.mass_kg if abs(kg) > 1e-9]
    if cost.money:
        parts.append(_signed(cost.money, str(show(abs(cost.money), "money", system, 3, currency))))
    parts += [f"{name} has no price" for name in cost.unpriced]
    if cost.mould_s:
        parts.append(_signed(cost.mould_s, f"{abs(cost.mould_s) / 86400:.1f} mould days"))
    days = cost.ready / timedelta(days=1)
    stands = abs(days) < 0.005
    parts.append("the ready date stands" if stands else f"ready {abs(days):.1f} d {'later' if days > 0 else 'sooner'}")
    return f"{moved}: {'; '.join(parts)}."


def _signed(value: float, words: str) -> str:
    return ("+" if value >= 0 else "−") + words
