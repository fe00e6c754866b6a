"""How a piece is made, taken from a card: its mould and its route. The job keeps what the card filled."""

from __future__ import annotations

from collections.abc import Sequence

from msgspec.structs import replace

from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, materials_of, piece_of
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.job import Job
from homunculus.core.job.ways import WayCard


def made_by(job: Job, build_id: str, piece_id: str, way: WayCard, library: Sequence[MaterialCard]) -> Job:
    """Return the ``job`` in which a piece is made another way: with the card's route, and its mould where it had another kind.

    Parameters
    ----------
    job
        As it is.
    build_id, piece_id
        Whose piece.
    way
        The card. A mould of the same kind stays as it is decided.
    library
        Material cards to take what is missing from; the job keeps those that it has.

    Raises
    ------
    UserError
        When there is no such piece, or a material is neither in the job nor in the library.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    mould = piece.mould if type(piece.mould) is type(way.mould) else way.mould
    new: Build = replace_piece(build, replace(piece, mould=mould, route=way.route))
    known = {card.id for card in job.cards.materials}
    missing = [name for name in materials_of(new) if name not in known]
    found = tuple(card for card in library if card.id in missing)
    if len(found) < len(missing):
        raise UserError(f"There is no material “{next(n for n in missing if n not in {c.id for c in found})}”", "cards",
                        "Add its card, or choose another way")  # fmt: skip
    cards = replace(job.cards, materials=(*job.cards.materials, *found)) if found else job.cards
    return replace_build(replace(job, cards=cards), new)
