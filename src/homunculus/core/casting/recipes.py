"""What is weighed for a mix: the recipe that the weighing works on, out of a plan."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.cards import MaterialCard, Part
from homunculus.core.casting.weighing import Recipe
from homunculus.core.job import Mix, Piece
from homunculus.core.plan_types import BuildPlan

USUAL_TOLERANCE = 0.02  # common practice, no source: addition cures are less forgiving than this, sheets say how much


def recipe_of(made: BuildPlan, card: MaterialCard, piece: Piece, mix: Mix) -> Recipe | None:
    """Take a recipe out of a plan.

    Parameters
    ----------
    made
        The build's plan.
    card
        What is mixed.
    piece
        Whose mould is filled.
    mix
        One of the mould's mixes.

    Returns
    -------
    Recipe or None
        None while the plan does not know how much there is to mix, or no batch can be mixed in time.
    """
    if piece.mould is None or not card.parts:
        return None
    several = len(piece.mould.mixes) > 1
    part = mix.name if several else ""
    count, batch = made.find(specs.BATCHES, piece.id, part=part), made.find(specs.BATCH, piece.id, part=part)
    most = made.find(specs.MOST, piece.id, part=part)
    if not (count and batch and most and count.value):
        return None
    names = [p.name for p in card.parts] + [a.name for a in mix.additives if a.share > 0]
    weights = [made.find(specs.PART, piece.id, part=f"{mix.name}: {n}" if several else n) for n in names]
    parts = tuple(Part(n, w.number / batch.number) for n, w in zip(names, weights, strict=True) if w and w.number > 0)
    tolerance = card.ratio_tolerance.value if card.ratio_tolerance else USUAL_TOLERANCE
    name = f"{piece.name}: {mix.name}" if several else f"{piece.name}: rubber"
    total = batch.number * int(count.number)
    return Recipe(made.build.id, piece.id, mix.name, name, parts, total, int(count.number), most.number, tolerance)
