"""A job embeds the cards that it uses: whatever names one brings it from the shelf into the job."""

from __future__ import annotations

from collections.abc import Callable

from msgspec.structs import replace

from homunculus.core.edits.decisions import replace_build
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, materials_of, mixes_of
from homunculus.core.job.job import Job
from homunculus.core.job.ways import Shelf


def with_cards(job: Job, build: Build, shelf: Shelf) -> Job:
    """Return the ``job`` with this ``build`` in it, and the cards of a ``shelf`` that it names and the job lacks."""
    return _with_named(replace_build(job, build), build, lambda: shelf)


def with_used(before: Job, after: Job, shelf: Callable[[], Shelf]) -> Job:
    """Return the job ``after`` an edit with the cards of a ``shelf`` that it uses and lacks, asked for only where there are such; builds that stand as ``before`` are not looked at."""
    if after.shots is not before.shots:
        after = _with_optics(after, before, shelf)
    if after.builds is before.builds:
        return after
    known = {id(build) for build in before.builds}
    for build in after.builds:
        if id(build) not in known:
            after = _with_named(after, build, shelf)
    return after


def _with_named(job: Job, build: Build, shelf: Callable[[], Shelf]) -> Job:
    here = {card.id for card in job.cards.materials}
    named = set(materials_of(build)) - here
    stirred = {(a.card or a.name).casefold() for p in build.pieces for mix in mixes_of(p) for a in mix.additives}
    stirred -= {word for card in job.cards.materials if card.stirred_in for word in (card.id, card.name.casefold())}
    if not named and not stirred:
        return job
    found = tuple(
        card for card in shelf().materials
        if card.id in named or (card.stirred_in and card.id not in here and stirred & {card.id, card.name.casefold()})
    )  # fmt: skip
    return replace(job, cards=replace(job.cards, materials=(*job.cards.materials, *found))) if found else job


def _with_optics(job: Job, before: Job, shelf: Callable[[], Shelf]) -> Job:
    """Bring the bodies and lenses that cameras of changed shots name and the ``job`` lacks.

    Raises
    ------
    UserError
        When the shelf has no such card either: what names it could not be opened again.
    """
    known = {id(shot) for shot in before.shots}
    cameras = [camera for shot in job.shots if id(shot) not in known for camera in shot.cameras]
    bodies = {c.body for c in cameras if c.body} - {card.id for card in job.cards.cameras}
    lenses = {c.lens for c in cameras if c.lens} - {card.id for card in job.cards.lenses}
    if not bodies and not lenses:
        return job
    stock = shelf()
    for wanted, cards, what in ((bodies, stock.cameras, "camera"), (lenses, stock.lenses, "lens")):
        missing = sorted(wanted - {card.id for card in cards})
        if missing:
            there = ", ".join(card.id for card in cards)
            raise UserError(
                f"There is no {what} “{missing[0]}” on the shelf",
                remedy=f"There are: {there}" if there else "Add its card first",
            )
    return replace(job, cards=replace(
        job.cards, cameras=(*job.cards.cameras, *(c for c in stock.cameras if c.id in bodies)),
        lenses=(*job.cards.lenses, *(c for c in stock.lenses if c.id in lenses)),
    ))  # fmt: skip
