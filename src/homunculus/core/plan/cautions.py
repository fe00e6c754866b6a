"""The cautions of a step, from the cards of what is worked with and from the hazards; benches and the ledger ask here."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from functools import lru_cache
from typing import get_args

from homunculus.core import specs
from homunculus.core.figures import Given, Station, Subject
from homunculus.core.job.build import materials_of
from homunculus.core.job.cards import CautionStep, HazardCard
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import CameraMove, Cues, Drop, Falling, Flown, Travel, Wave
from homunculus.core.plan.build_plan import BuildPlan, PlannedPour, PourOf
from homunculus.core.plan.sheet import Mind


def lift_words(mass_kg: float, shop: Shop) -> str:
    """Say who lifts a ``mass_kg``: two people, the ``shop``'s hoist, or nobody as it is."""
    if mass_kg <= shop.carry_kg:
        return "two can lift it"
    return "for the hoist" if mass_kg <= shop.hoist_kg else "too heavy for the hoist"


def step_cautions(job: Job, pours: Sequence[PlannedPour], step: CautionStep) -> tuple[tuple[str, str], ...]:
    """List the cautions that belong beside a step, each once.

    Parameters
    ----------
    job
        With its cards.
    pours
        What is mixed in it: of mixing, weighing and curing one, of moulding all of a piece; what is cast counts last, as the
        mould is built before.
    step
        What is done.

    Returns
    -------
    tuple
        The material's name and the caution; those of an operation itself stand under its name.
    """
    found: dict[str, str] = {}
    seen: set[str] = set()
    for pour in pours:
        found |= {words: pour.called for words in _own_cautions(job, pour) if words not in found}
        if pour.card.id not in seen:
            found |= {words: pour.card.name for words in job.cards.cautions(pour.card, step) if words not in found}
        seen.add(pour.card.id)
    return tuple((name, words) for words, name in found.items())


def _own_cautions(job: Job, pour: PlannedPour) -> tuple[str, ...]:
    build = next((b for b in job.builds if b.id == pour.build), None)
    piece = next((p for p in build.pieces if p.id == pour.piece), None) if build else None
    return next((op.cautions for op in piece.route if op.id == pour.op), ()) if piece else ()


def _said_minds(job: Job, made: BuildPlan, station: Station, steps: tuple[CautionStep, ...]) -> Iterator[Mind]:
    """The cautions that a build's own words bring, its kind, and what it is made of."""
    build = made.build
    used = set(materials_of(build))
    families = {card.family for card in job.cards.materials if card.id in used}
    work = [op.called for ops in (*(p.route for p in build.pieces), build.assembly) for op in ops]
    mine = [found.shot for found in made.sets]
    shots = [" ".join((s.name, s.ends_as, *(n.what for n in s.needs))) for s in mine]
    said: dict[CautionStep, str] = {
        "work": "\n".join(work),
        "wear": "\n".join((build.name, *(p.name for p in build.pieces), *shots)),
        "stage": "\n".join((build.name, *(m.name for m in build.moves), *shots)),
    }
    moving = tuple(words for shot in mine for words in set_cautions(job, shot))
    if "stage" in steps:
        for words in dict.fromkeys(moving):
            yield Mind("mind", station, Subject(build.id), ("On the stage",), (words,))
    for hazard in job.cards.hazards:
        if hazard.told in moving:
            continue
        step = next((s for s in steps if hazard.brought_by(s, build.kind, families, said[s])), None)
        if step:
            yield Mind("mind", station, Subject(build.id), (build.name,), (hazard.told,))


def step_minds(job: Job, made: BuildPlan, station: Station) -> tuple[Mind, ...]:
    """List the cautions of a step, each once.

    Parameters
    ----------
    job
        With its cards.
    made
        The build's plan.
    station
        The open station; moulding and shooting have cautions here, mixing and curing show theirs on their benches.
    """
    if station == "shoot":
        return tuple(_said_minds(job, made, station, ("wear", "stage")))
    if station != "mould":
        return ()
    found: dict[str, Mind] = {}
    for mind in _said_minds(job, made, station, ("work",)):
        found.setdefault(str(mind.why[0]), mind)
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
        mine = sorted((p for p in made.pours if p.piece == piece.id), key=lambda p: get_args(PourOf).index(p.of))
        for name, words in step_cautions(job, mine, "mould"):
            found.setdefault(words, Mind("mind", station, subject, (name,), (words,)))
    return tuple(found.values())


_WORDS_OF = {
    Travel: "tow winch cable", Flown: "flown overhead wire rigging", Cues: "charge armed cue", Drop: "falls overhead", Wave: "water wave mains", Falling: "dust flour in the air",
    CameraMove: "track",
}  # fmt: skip
"""By which words the cards of hazards know what moves."""


def set_cautions(job: Job, shot: Shot) -> tuple[str, ...]:
    """List the cautions of what moves and what is in the air of a ``shot`` of a ``job``, each once; every one says who decides."""
    said = [_WORDS_OF[type(action)] for action in shot.actions]
    said += [action.name for action in shot.actions]
    said += ["crane" for action in shot.actions if isinstance(action, CameraMove) and action.up_m]
    if shot.air is not None:
        said += ["smoke haze"] if shot.air.sight_m is not None else []
        said += ["dry ice"] if shot.air.ice_kg_h else []
    once = any(isinstance(action, Cues | Drop) for action in shot.actions)
    return _brought(job.cards.hazards, "\n".join(said), once=once) if said else ()


@lru_cache(64)
def _brought(hazards: tuple[HazardCard, ...], words: str, *, once: bool) -> tuple[str, ...]:
    """What the ``hazards`` tell that a set brings by these ``words``, and by what happens ``once``; kept, for a drag asks at each step."""
    told = [h.told for h in hazards if h.brought_by("stage", "", set(), words) or (once and "take" in h.steps)]
    return tuple(dict.fromkeys(told))
