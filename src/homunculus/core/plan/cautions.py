"""The cautions of a step, from the cards of what is worked with and from the hazards; benches and the ledger ask here."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.figures import Given, Station, Subject
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import CautionStep
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.plan.build_plan import BuildPlan, Mind


def lift_words(mass_kg: float, shop: Shop) -> str:
    """Say who lifts a ``mass_kg``: two people, the ``shop``'s hoist, or nobody as it is."""
    if mass_kg <= shop.carry_kg:
        return "two can lift it"
    return "for the hoist" if mass_kg <= shop.hoist_kg else "too heavy for the hoist"


def step_cautions(job: Job, piece: Piece, step: CautionStep) -> tuple[tuple[str, str], ...]:
    """List the cautions that belong beside a step of a piece, each once.

    Parameters
    ----------
    job
        With its cards.
    piece
        What is made; without a mould nothing is poured.
    step
        What is done. Moulding works with the jacket's laminate and with what is cast, the others with what is poured.

    Returns
    -------
    tuple
        The material's name and the caution.
    """
    if piece.mould is None:
        return ()
    names = [piece.mould.poured]
    if step == "mould":
        names = [*reversed(piece.mould.materials), piece.material]
    cards = [card for name in dict.fromkeys(names) for card in job.cards.materials if card.id == name]
    found = {words: card.name for card in cards for words in job.cards.cautions(card, step)}
    return tuple((name, words) for words, name in found.items())


def step_minds(job: Job, made: BuildPlan, station: Station) -> tuple[Mind, ...]:
    """List the cautions of a step, each once.

    Parameters
    ----------
    job
        With its cards.
    made
        The build's plan.
    station
        The open station; only moulding has cautions here, mixing and curing show theirs on their benches.
    """
    if station != "mould":
        return ()
    found: dict[str, Mind] = {}
    for piece in made.build.pieces:
        if piece.mould is None:
            continue
        subject = Subject(made.build.id, piece.id)
        weight = made.find(specs.MOULD_WEIGHT, piece.id)
        if weight and weight.number > job.shop.carry_kg:
            for words in job.cards.cautions(None, "lift"):
                found.setdefault(
                    words, Mind("mind", station, subject, (f"{piece.name}: ", weight, " to lift"), (words,))
                )
            if weight.number > job.shop.hoist_kg:
                said = (
                    "It is ",
                    weight,
                    ", the hoist is rated ",
                    Given(job.shop.hoist_kg, "mass", "hoist"),
                    ". Part the mould.",
                )
                found.setdefault(
                    "hoist", Mind("danger", station, subject, (f"{piece.name}: too heavy for the hoist",), said, 6.0)
                )
        for name, words in step_cautions(job, piece, "mould"):
            found.setdefault(words, Mind("mind", station, subject, (name,), (words,)))
    return tuple(found.values())
