"""What is weighed for a mix: the recipe that the weighing works on, out of a plan."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.job.cards import Part
from homunculus.core.making.weighing import Recipe
from homunculus.core.plan.build_plan import BuildPlan, PlannedPour

USUAL_TOLERANCE = 0.02  # common practice, no source: addition cures are less forgiving than this, sheets say how much


def recipe_of(made: BuildPlan, pour: PlannedPour, index: int) -> Recipe | None:
    """Take a recipe out of a plan.

    Parameters
    ----------
    made
        The build's plan.
    pour
        What is poured.
    index
        Which of its mixes.

    Returns
    -------
    Recipe or None
        None while the plan does not know how much there is to mix, or no batch can be mixed in time.
    """
    card, mix, which = pour.card, pour.mixes[index], pour.mix_name(index)
    count, batch, most = (
        made.find(s, pour.piece, op=pour.op, mix=which) for s in (specs.BATCHES, specs.BATCH, specs.MOST)
    )
    if not (card.parts and count and batch and most and count.value):
        return None
    names = [p.name for p in card.parts] + [a.name for a in mix.additives if a.share > 0]
    weights = [made.find(specs.PART, pour.piece, op=pour.op, mix=which, part=n) for n in names]
    parts = tuple(Part(n, w.number / batch.number) for n, w in zip(names, weights, strict=True) if w and w.number > 0)
    tolerance = card.ratio_tolerance.value if card.ratio_tolerance else USUAL_TOLERANCE
    name = f"{pour.name}, {mix.name}" if which else pour.name
    total = batch.number * int(count.number)
    pace = made.find(specs.PACE, pour.piece, op=pour.op, mix=which)
    return Recipe(made.build.id, pour.piece, mix.name, name, parts, total, int(count.number), most.number, tolerance,
                  pour.op, pour.logged_as, pace.number if pace else None)  # fmt: skip
