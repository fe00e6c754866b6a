"""Edits of the shop: its hours of the day, its week, and the people and things that it has."""

from __future__ import annotations

from datetime import time
from typing import Any, Literal

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.job.workshop import Vessel
from homunculus.core.quantities import System
from homunculus.core.schedule.calendar import day_length
from homunculus.core.shelf.finding import begun
from homunculus.core.shelf.sheet import read_row
from homunculus.core.shelf.stock import Family, Sort, Stock, sort_of

Hour = Literal["opens", "closes", "warm_from", "warm_to"]
QUARTER = 15
"""Minutes by which an hour of the shop is moved."""
DAY = 24 * 60


def minutes_of(clock: time) -> int:
    """Minutes of a ``clock`` since midnight."""
    return clock.hour * 60 + clock.minute


def clock_of(minutes: float) -> time:
    """The clock so many ``minutes`` after midnight, at a whole quarter; a day on it is the same again."""
    whole = round(minutes / QUARTER) * QUARTER % DAY
    return time(whole // 60, whole % 60)


def hour_of(shop: Shop, which: Hour) -> time:
    """The hour of a ``shop`` of the name ``which``."""
    return getattr(shop.hours if which in ("opens", "closes") else shop.air, which)  # type: ignore[no-any-return]


def with_hour(job: Job, which: Hour, clock: time) -> Job:
    """The ``job`` whose shop has another hour ``which``, at a ``clock``: when it opens, closes, gets warm or cold.

    Raises
    ------
    UserError
        When the shop would never be open.
    """
    shop = job.shop
    if which in ("opens", "closes"):
        hours = replace(shop.hours, **{which: clock})
        day_length(hours)
        return replace(job, shop=replace(shop, hours=hours))
    return replace(job, shop=replace(shop, air=replace(shop.air, **{which: clock})))


def with_weekday(job: Job, day: int) -> Job:
    """The ``job`` whose shop works on a ``day`` of the week, Monday is 0, or no longer does.

    Raises
    ------
    UserError
        When it is the only day.
    """
    hours = job.shop.hours
    days = set(hours.weekdays) ^ {day}
    if not days:
        raise UserError("A shop works on one day of the week at least", remedy="Add another day first")
    return replace(job, shop=replace(job.shop, hours=replace(hours, weekdays=tuple(sorted(days)))))


def _things(job: Job, sort: Sort) -> tuple[Any, ...]:
    if sort.where[:1] != ("shop",):
        raise UserError(
            f"{sort.one.capitalize()} is nothing that a shop has here",
            remedy="People, ovens, vessels, scales, machines",
        )
    found: tuple[Any, ...] = getattr(job.shop, sort.where[1])
    return found


def _with_things(job: Job, sort: Sort, things: tuple[Any, ...]) -> Job:
    return replace(job, shop=replace(job.shop, **{sort.where[1]: things}))


def new_thing(job: Job, stock: Stock, families: tuple[Family, ...], sort: str, name: str) -> tuple[Job, Any]:
    """The ``job`` whose shop has one more person or thing of a ``sort``, and that one.

    Parameters
    ----------
    job, stock
        The job, and the shelf by which a new one begins.
    families
        Of materials.
    sort, name
        What it is, and what it is called.

    Raises
    ------
    UserError
        When it has no name, or a shop has no such things.
    """
    one = sort_of(sort)
    things = _things(job, one)
    known = stock.of(one.name)
    begin_like = replace(
        stock, **{one.name: (*things, *(card for card in known if all(card.id != t.id for t in things)))}
    )
    made = begun(begin_like, families, one.name, name)
    return _with_things(job, one, (*things, made)), made


def thing_of(job: Job, sort: str, thing_id: str) -> Any:
    """The person or thing of a ``sort`` that the shop of a ``job`` has under the ``thing_id``.

    Raises
    ------
    UserError
        When there is none.
    """
    found = next((t for t in _things(job, sort_of(sort)) if t.id == thing_id), None)
    if found is None:
        raise UserError(f"The shop has no {sort_of(sort).one} “{thing_id}”", remedy="Look at what it has with E")
    return found


def with_row(job: Job, sort: str, thing_id: str, key: str, text: str, system: System) -> Job:
    """The ``job`` in which one row of a person or thing of a ``sort`` says something else.

    Parameters
    ----------
    job
        As it is.
    sort, thing_id
        Which.
    key, text
        The row and what is typed into it, in a ``system`` of units.

    Raises
    ------
    UserError
        When there is no such thing or row, or it cannot be so.
    """
    one, thing = sort_of(sort), thing_of(job, sort, thing_id)
    changed = read_row(thing, key, text, system, job.shop.currency)
    return _with_things(job, one, tuple(changed if t is thing else t for t in _things(job, one)))


def without_thing(job: Job, sort: str, thing_id: str) -> Job:
    """The ``job`` whose shop no longer has the person or thing of a ``sort`` under the ``thing_id``.

    Raises
    ------
    UserError
        When there is none.
    """
    thing = thing_of(job, sort, thing_id)
    one = sort_of(sort)
    return _with_things(job, one, tuple(t for t in _things(job, one) if t is not thing))


def mixed_in(job: Job, vessel_id: str) -> Job:
    """The ``job`` that mixes in another vessel: what no air is drawn out of in a plain one, all else in one for that.

    Raises
    ------
    UserError
        When the shop has no vessel ``vessel_id``.
    """
    vessel: Vessel = thing_of(job, "vessels", vessel_id)
    field = "vessel_m3" if vessel.vacuum else "bucket_m3"
    return replace(job, shop=replace(job.shop, mixing=replace(job.shop.mixing, **{field: vessel.volume_m3})))


def is_mixed_in(shop: Shop, vessel: Vessel) -> bool:
    """Whether a ``shop`` mixes in a ``vessel``: one of its sort and size."""
    return vessel.volume_m3 == (shop.mixing.vessel_m3 if vessel.vacuum else shop.mixing.bucket_m3)
