"""Cautions as minds: what the open step of a build brings with it, from the cards of its materials and hazards."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.figures import Given, Station, Subject
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.plan.build_plan import BuildPlan, Mind


def lift_words(mass_kg: float, shop: Shop) -> str:
    """Say who lifts a ``mass_kg``: two people, the ``shop``'s hoist, or nobody as it is."""
    if mass_kg <= shop.carry_kg:
        return "two can lift it"
    return "for the hoist" if mass_kg <= shop.hoist_kg else "too heavy for the hoist"


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
        for card_id in (getattr(piece.mould, "laminate", ""), piece.mould.poured):
            if card_id:
                card = job.cards.material(card_id)
                for words in job.cards.cautions(card, "mould"):
                    found.setdefault(words, Mind("mind", station, subject, (card.name,), (words,)))
    return tuple(found.values())
