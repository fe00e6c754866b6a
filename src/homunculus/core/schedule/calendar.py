"""Shop hours: when hands work, how long a task takes on the wall, how much working time lies between two moments."""

from __future__ import annotations

from datetime import datetime, timedelta

from homunculus.core.errors import UserError
from homunculus.core.job import ShopHours


def day_length(hours: ShopHours) -> float:
    """Seconds that one day of shop ``hours`` has.

    Raises
    ------
    UserError
        When the shop closes before it opens or never opens.
    """
    opens, closes = hours.opens, hours.closes
    seconds = (closes.hour - opens.hour) * 3600 + (closes.minute - opens.minute) * 60
    if seconds <= 0 or not hours.weekdays:
        raise UserError("The shop never opens", "shop hours", "Let it close after it opens, on at least one weekday")
    return float(seconds)


def next_open(moment: datetime, hours: ShopHours) -> datetime:
    """First moment from ``moment`` on at which the shop is open, by its ``hours``."""
    while True:
        if moment.weekday() in hours.weekdays:
            if moment.time() < hours.opens:
                return datetime.combine(moment.date(), hours.opens)
            if moment.time() < hours.closes:
                return moment
        moment = datetime.combine(moment.date() + timedelta(days=1), hours.opens)


def work(start: datetime, seconds: float, hours: ShopHours) -> tuple[datetime, datetime]:
    """Place work that may be left overnight.

    Parameters
    ----------
    start
        Not before this moment.
    seconds
        Working time.
    hours
        The shop's.

    Returns
    -------
    tuple of datetime
        First and last moment; the work itself stands still while the shop is closed.
    """
    begin = next_open(start, hours)
    moment, left = begin, seconds
    while left > 0:
        closes = datetime.combine(moment.date(), hours.closes)
        today = (closes - moment).total_seconds()
        if left <= today:
            return begin, moment + timedelta(seconds=left)
        left -= today
        moment = next_open(closes, hours)
    return begin, moment


def work_unbroken(start: datetime, seconds: float, hours: ShopHours) -> tuple[datetime, datetime]:
    """Place work that cannot be left: on the first day on which it still fits before closing.

    Parameters
    ----------
    start
        Not before this moment.
    seconds
        Working time; more than a day runs past closing on a day begun at opening.
    hours
        The shop's.
    """
    begin = next_open(start, hours)
    closes = datetime.combine(begin.date(), hours.closes)
    if seconds > (closes - begin).total_seconds() and begin.time() > hours.opens:
        begin = next_open(closes, hours)
    return begin, begin + timedelta(seconds=seconds)


def working_time(first: datetime, last: datetime, hours: ShopHours) -> float:
    """Working seconds from ``first`` to ``last`` by the shop's ``hours``; negative when last comes first."""
    if last < first:
        return -working_time(last, first, hours)
    total, day = 0.0, first.date()
    while day <= last.date():
        if day.weekday() in hours.weekdays:
            opens = max(first, datetime.combine(day, hours.opens))
            closes = min(last, datetime.combine(day, hours.closes))
            total += max(0.0, (closes - opens).total_seconds())
        day += timedelta(days=1)
    return total
