"""What a job takes from the shelf, where the shelf has a newer one by now, and what following it would change."""

from __future__ import annotations

import hashlib
from typing import Any, NamedTuple

import msgspec
from msgspec.structs import replace

from homunculus.core.edits.edit import at
from homunculus.core.errors import UserError
from homunculus.core.job.decided import decided_fields
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Stage
from homunculus.core.job.sourced import ENTERED
from homunculus.core.quantities import System
from homunculus.core.shelf.sheet import Beside, beside, rows
from homunculus.core.shelf.stock import SORTS, Sort, Stock, sort_of


class Newer(NamedTuple):
    """A card that stands otherwise on the shelf than in the job."""

    sort: Sort
    mine: Any
    shelved: Any
    changes: tuple[Beside, ...]
    """Row by row: as the job has it, and as the shelf has it."""

    @property
    def key(self) -> str:
        """What it is known by among all cards."""
        return f"{self.sort.name}/{self.mine.id}"

    @property
    def words(self) -> str:
        """What the shelf says otherwise, row by row."""
        return "; ".join(
            f"{row.label} {row.one.text or 'nothing'} → {row.other.text or 'nothing'}" for row in self.changes
        )


def carried(job: Job, sort: Sort) -> tuple[Any, ...]:
    """The cards of a ``sort`` that a ``job`` carries."""
    return tuple(at(job, sort.where)) if sort.where else ()


def newer(job: Job, stock: Stock, system: System = "metric") -> tuple[Newer, ...]:
    """The cards that a ``job`` carries and of which the ``stock`` has others by now; their rows in a ``system`` of units.

    What was changed for this job alone does not count, nor what somebody chose to leave as it is, nor that the shelf says something where
    the job's card says nothing and nobody decides anything: a colour, a pack.
    """
    found = []
    left = set(job.left)
    for sort in SORTS:
        mine = carried(job, sort)
        known = {card.id: card for card in stock.of(sort.name)} if mine else {}
        kind: Any = sort.card
        for card in mine:
            other = known.get(card.id)
            if other is None or other == card or _mark(sort, other) in left:
                continue
            followed_card = _followed(card, other)
            changes = tuple(row for row in beside(card, followed_card, system, job.shop.currency) if row.differs)
            if any(row.one.text or row.key in decided_fields(kind) for row in changes):
                found.append(Newer(sort, card, other, changes))
    return tuple(found)


def followed(job: Job, stock: Stock, key: str) -> Job:
    """The ``job`` that carries the card ``key`` as the ``stock`` has it; what was entered for this job stays.

    Raises
    ------
    UserError
        When neither has such a card.
    """
    sort, card = _mine(job, key)
    return _put(job, sort, _followed(card, stock.card(sort.name, card.id)))


def left_as_is(job: Job, stock: Stock, key: str) -> Job:
    """The ``job`` in which nobody is told again of the card ``key`` as the ``stock`` has it now.

    Raises
    ------
    UserError
        When neither has such a card.
    """
    sort, card = _mine(job, key)
    return replace(job, left=(*job.left, _mark(sort, stock.card(sort.name, card.id))))


def taken(job: Job, stock: Stock, key: str) -> Job:
    """The ``job`` that carries the card ``key`` of a ``stock``: as it stands there, once; a stage is then the one that is shot on.

    Raises
    ------
    UserError
        When the shelf has no such card, or cards of its sort are taken otherwise.
    """
    name, _, card_id = key.partition("/")
    sort, card = sort_of(name), stock.card(name, card_id)
    if sort.name == "stages":
        stage = Stage(
            card.width_m, card.depth_m, card.height_m, card.lamps_m, card.name, card.door_width_m, card.door_height_m
        )
        return replace(job, shop=replace(job.shop, stage=stage))
    if not sort.where:
        raise UserError(
            f"{card.name} is not carried by a job by itself", remedy="Take it into a build, as one of its pieces"
        )
    return _put(job, sort, card)


def put_down(job: Job, key: str) -> Job:
    """The ``job`` that no longer carries the card ``key``.

    Raises
    ------
    UserError
        When it carries no such card.
    """
    sort, card = _mine(job, key)
    cards = tuple(one for one in carried(job, sort) if one.id != card.id)
    return _with(job, sort, cards)


def shelved(stock: Stock, job: Job, key: str) -> Stock:
    """The ``stock`` that has the card ``key`` as the ``job`` has it.

    Raises
    ------
    UserError
        When the job has no such card.
    """
    sort, card = _mine(job, key)
    return stock.with_card(sort.name, card)


def bought_line(job: Job, stock: Stock, card_id: str, build_id: str) -> str:
    """The line that puts the bought card ``card_id`` of a ``stock`` into the build ``build_id`` of a ``job``, as large as it is sold.

    A piece's sizes are real ones: what is sold 75 mm long stands on a build at 1:12 for something of 900 mm.

    Raises
    ------
    UserError
        When there is no such card or build, or the card does not say how large the thing is.
    """
    card, build = stock.card("bought", card_id), job.build(build_id)
    sides = [side.value for side in (card.length_m, card.depth_m, card.height_m) if side]
    if len(sides) < 3:
        raise UserError(
            f"Nobody has said how large {card.name} is", remedy="Type its length, depth and height on its sheet"
        )
    real = " × ".join(f"{side * build.scale * 1000:.6g}" for side in sides)
    return f"piece {build.id}: {card.name.replace(',', '').replace(':', ' to ')}: box {real} mm, bought"


def _mine(job: Job, key: str) -> tuple[Sort, Any]:
    name, _, card_id = key.partition("/")
    sort = sort_of(name)
    card = next((one for one in carried(job, sort) if one.id == card_id), None)
    if card is None:
        raise UserError(f"This job carries no {sort.one} “{card_id}”", remedy="Take it from the shelf first")
    return sort, card


def _put(job: Job, sort: Sort, card: Any) -> Job:
    cards = carried(job, sort)
    if any(one.id == card.id for one in cards):
        return _with(job, sort, tuple(card if one.id == card.id else one for one in cards))
    return _with(job, sort, (*cards, card))


def _with(job: Job, sort: Sort, cards: tuple[Any, ...]) -> Job:
    part, field = sort.where
    return replace(job, **{part: replace(getattr(job, part), **{field: cards})})


def _followed(mine: Any, other: Any) -> Any:
    """The ``other`` card, with what was entered for the job in ``mine``."""
    entered = {row.key: getattr(mine, row.key) for row in rows(mine) if row.source == ENTERED}
    return replace(other, **entered) if entered else other


def _mark(sort: Sort, card: Any) -> str:
    content = hashlib.sha256(msgspec.json.encode(card, order="deterministic")).hexdigest()[:16]
    return f"{sort.name}/{card.id} {content}"
