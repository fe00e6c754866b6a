"""What is weighed: the mix that the Mix bench draws."""

from __future__ import annotations

from homunculus.app.benches.base import drawn_pour
from homunculus.app.desk import Desk
from homunculus.core.making.recipes import recipe_of
from homunculus.core.making.weighing import Recipe


def drawn_recipe(desk: Desk) -> Recipe | None:
    """The recipe of the mix that is drawn; none where nothing is mixed, or no batch can be mixed in time."""
    pour = drawn_pour(desk)
    return recipe_of(desk.build_plan, pour, min(desk.mix_index, len(pour.mixes) - 1)) if pour else None
