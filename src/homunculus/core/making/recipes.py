"""What is weighed for a mix: the recipe that the weighing works on, out of a plan."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard, Part
from homunculus.core.job.moulds import Mix
from homunculus.core.making.weighing import Recipe
from homunculus.core.plan.build_plan import BuildPlan

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
    which = mix.name if several else ""
    count, batch, most = (made.find(s, piece.id, mix=which) for s in (specs.BATCHES, specs.BATCH, specs.MOST))
    if not (count and batch and most and count.value):
        return None
    names = [p.name for p in card.parts] + [a.name for a in mix.additives if a.share > 0]
    weights = [made.find(specs.PART, piece.id, mix=which, part=n) for n in names]
    parts = tuple(Part(n, w.number / batch.number) for n, w in zip(names, weights, strict=True) if w and w.number > 0)
    tolerance = card.ratio_tolerance.value if card.ratio_tolerance else USUAL_TOLERANCE
    name = f"{piece.name}: {mix.name}" if several else f"{piece.name}: rubber"
    total = batch.number * int(count.number)
    return Recipe(made.build.id, piece.id, mix.name, name, parts, total, int(count.number), most.number, tolerance)
