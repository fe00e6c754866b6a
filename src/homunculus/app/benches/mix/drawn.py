"""What is weighed: the mix that the Mix bench draws."""

from __future__ import annotations

from homunculus.app.benches.base import drawn_piece
from homunculus.app.desk import Desk
from homunculus.core.making.recipes import recipe_of
from homunculus.core.making.weighing import Recipe


def drawn_recipe(desk: Desk) -> Recipe | None:
    """The recipe of the mix that is drawn; none where nothing is mixed, or no batch can be mixed in time."""
    piece = drawn_piece(desk)
    if piece is None or piece.mould is None:
        return None
    mixes = piece.mould.mixes
    card = desk.job.cards.material(piece.mould.poured)
    return recipe_of(desk.build_plan, card, piece, mixes[min(desk.mix_index, len(mixes) - 1)])
