"""The number for the mould shop: freezing it, and what it costs to change it afterwards."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.edits.decisions import replace_build
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, FigureSpec, Given, Subject, derive, rule
from homunculus.core.job.build import Build, Piece, piece_of
from homunculus.core.job.counts import Frozen, Ordered
from homunculus.core.job.job import Job
from homunculus.core.plan.build_plan import BuildPlan, Context
from homunculus.core.plan.planning import plan_build
from homunculus.core.planners.counts import variants_of
from homunculus.core.quantities import System
from homunculus.core.showing import show


def asked_now(made: BuildPlan) -> tuple[Ordered, ...]:
    """Castings that the plan of a build asks for, as it is ``made``, piece by piece and variant by variant."""
    return tuple(
        Ordered(piece.id, variant.name, round(asked.number))
        for piece in made.build.pieces
        for variant in variants_of(piece)
        if (asked := made.find(specs.ASKED, piece.id, variant=variant.name))
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


@rule("as asked for, less as frozen", "two plans of the build: once as frozen, once as asked for")
def to_follow(**plans: float) -> float:
    """What more it takes by two ``plans`` when the count is followed; minus is saved."""
    return sum(value if name.startswith("asked") else -value for name, value in plans.items())


@rule("ready as asked for, less ready as frozen", "two plans of the build: once as frozen, once as asked for")
def ready_later(*, asked: datetime, frozen: datetime) -> float:
    """Seconds by which the build is ready later ``asked`` for than ``frozen``."""
    return (asked - frozen).total_seconds()


class Cost(Struct, frozen=True, eq=False):
    """What changing the frozen number to what is asked for costs; minus is saved."""

    moved: tuple[Drift, ...]
    masses: tuple[Figure, ...]
    """Of each material; the part of the subject is the name of its card."""
    money: Figure | None
    """Of the materials whose cards have a price."""
    unpriced: tuple[str, ...]
    """Materials without a price."""
    mould_time: Figure | None
    """Time that the moulds are in use."""
    ready: Figure | None
    """How much later the build is ready."""

    @property
    def figures(self) -> tuple[Figure, ...]:
        """All of them."""
        return tuple(f for f in (*self.masses, self.money, self.mould_time, self.ready) if f)


def cost_of_change(context: Context, made: BuildPlan) -> Cost | None:
    """Reckon what it costs to follow the count: the plan as frozen against the plan as asked for.

    Parameters
    ----------
    context
        All that the build depends on.
    made
        Its plan, with its frozen number.

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
    after = plan_build(replace(context, build=replace(made.build, frozen=None)))
    pieces = [piece_of(made.build, piece_id) for piece_id in dict.fromkeys(row.piece for row in moved)]
    by_card: dict[str, list[Piece]] = {}
    for piece in pieces:
        if piece.material:
            by_card.setdefault(piece.material, []).append(piece)
    cards = {card_id: context.cards.material(card_id) for card_id in by_card}
    subject = Subject(made.build.id)
    masses = [_more(specs.FREEZE_MASS, specs.CAST_MASS, replace(subject, part=cards[card_id].name), made, after, of)
              for card_id, of in by_card.items()]  # fmt: skip
    priced = [piece for piece in pieces if piece.material and cards[piece.material].price_per_kg]
    before_ready, after_ready = made.find(specs.READY), after.find(specs.READY)
    ready = None
    if before_ready and after_ready:
        ready = derive(specs.FREEZE_READY, ready_later, subject, asked=Given(after_ready.value, "moment", "ready, as asked for"),
                       frozen=Given(before_ready.value, "moment", "ready, as frozen"))  # fmt: skip
    return Cost(
        moved, tuple(mass for mass in masses if mass),
        _more(specs.FREEZE_COST, specs.CAST_COST, subject, made, after, priced),
        tuple(card.name for card in cards.values() if not card.price_per_kg),
        _more(specs.FREEZE_MOULD_TIME, specs.MOULD_TIME, subject, made, after, pieces), ready,
    )  # fmt: skip


def _more(
    spec: FigureSpec, of: FigureSpec, subject: Subject, before: BuildPlan, after: BuildPlan, pieces: Sequence[Piece]
) -> Figure | None:
    """What more there is of one figure of some pieces; none where neither plan knows it."""
    inputs: dict[str, Given] = {}
    for piece in pieces:
        for word, plan, how in (("asked", after, "as asked for"), ("frozen", before, "as frozen")):
            figure = plan.find(of, piece.id)
            if figure:
                label = f"{of.label}, {piece.name}, {how}"
                inputs[f"{word} {piece.id}"] = Given(figure.value, of.kind, label, "the plan of the build")
    return derive(spec, to_follow, subject, **inputs) if inputs else None


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
    parts = [_signed(f.number, f"{show(abs(f.number), 'mass', system)} {f.subject.part}")
             for f in cost.masses if abs(f.number) > 1e-9]  # fmt: skip
    if cost.money and cost.money.number:
        parts.append(_signed(cost.money.number, str(show(abs(cost.money.number), "money", system, 3, currency))))
    parts += [f"{name} has no price" for name in cost.unpriced]
    if cost.mould_time and cost.mould_time.number:
        held_s = cost.mould_time.number
        parts.append(_signed(held_s, f"{abs(held_s) / 86400:.1f} mould days"))
    days = cost.ready.number / 86400 if cost.ready else 0.0
    stands = abs(days) < 0.005
    parts.append("the ready date stands" if stands else f"ready {abs(days):.1f} d {'later' if days > 0 else 'sooner'}")
    return f"{moved}: {'; '.join(parts)}."


def _signed(value: float, words: str) -> str:
    return ("+" if value >= 0 else "−") + words
