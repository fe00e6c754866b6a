"""Shop hours: when hands work, how long a task takes on the wall, how much working time lies between two moments."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from functools import cached_property, lru_cache

from homunculus.core.errors import UserError
from homunculus.core.job.shop import ShopHours

FARTHEST_DAYS = 15_000
"""Nothing is planned further ahead than forty years: what would be is a slip of the hand."""
Shift = tuple[datetime, datetime]


def day_length(hours: ShopHours) -> float:
    """Seconds that one day of shop ``hours`` has; past midnight where the shop closes before it opens.

    Raises
    ------
    UserError
        When the shop never opens.
    """
    opens, closes = hours.opens, hours.closes
    seconds = (closes.hour - opens.hour) * 3600 + (closes.minute - opens.minute) * 60
    if seconds == 0 or not set(hours.weekdays) & set(range(7)):
        raise UserError(
            "The shop never opens", "shop hours", "Let it close at another hour than it opens, on at least one weekday"
        )
    return float(seconds if seconds > 0 else seconds + 86400)


class Shifts:
    """The shifts of a shop by the day, each worked out once: a schedule asks for the same days again and again.

    Parameters
    ----------
    hours
        The shop's.
    """

    def __init__(self, hours: ShopHours) -> None:
        self.hours = hours
        self._of: dict[date, Shift | None] = {}
        self._overnight = hours.closes <= hours.opens
        self._last: Shift | None = None

    @cached_property
    def day_s(self) -> float:
        """Seconds that one of its days has.

        Raises
        ------
        UserError
            When the shop never opens.
        """
        return day_length(self.hours)

    def on(self, day: date) -> Shift | None:
        """From when to when the shop is open on a ``day``; none on a day off. A night shift belongs to the day on which it begins."""
        if day in self._of:
            return self._of[day]
        hours, found = self.hours, None
        if day.weekday() in hours.weekdays and day not in hours.days_off:
            closing = day + timedelta(days=1) if self._overnight else day
            found = (datetime.combine(day, hours.opens), datetime.combine(closing, hours.closes))
        self._of[day] = found
        return found

    def next(self, moment: datetime) -> Shift:
        """The shift that is open at a ``moment``, else the next one.

        Raises
        ------
        UserError
            When the shop never opens, or not within forty years.
        """
        if self._last and self._last[0] <= moment < self._last[1]:
            return self._last
        today, farthest = moment.date(), FARTHEST_DAYS if self.day_s else 0
        for days in range(-1 if self._overnight else 0, farthest):  # yesterday's night shift may still be on
            shift = self.on(today + timedelta(days=days) if days else today)
            if shift and moment < shift[1]:
                self._last = shift
                return shift
        raise UserError("The shop is closed for forty years from then on", "shop hours", "Look at the days off")


def shifts_of(hours: ShopHours | Shifts) -> Shifts:
    """The shifts of a shop: of its ``hours``, or those already known."""
    return hours if isinstance(hours, Shifts) else _known_shifts(hours)


@lru_cache(maxsize=8)
def _known_shifts(hours: ShopHours) -> Shifts:
    return Shifts(hours)


def open_on(day: date, hours: ShopHours) -> bool:
    """Whether a shift begins on that ``day``, by the shop's ``hours`` and days off."""
    return shifts_of(hours).on(day) is not None


def bench_days(first: date, last: date, hours: ShopHours) -> int:
    """How many days the shop is open from the ``first`` to the day before the ``last``, by its ``hours``."""
    shifts, days = shifts_of(hours), (first + timedelta(days=n) for n in range((last - first).days))
    return sum(shifts.on(day) is not None for day in days)


def next_open(moment: datetime, hours: ShopHours | Shifts) -> datetime:
    """First moment from ``moment`` on at which the shop is open, by its ``hours``.

    Raises
    ------
    UserError
        When the shop never opens.
    """
    return max(moment, shifts_of(hours).next(moment)[0])


def work(start: datetime, seconds: float, hours: ShopHours | Shifts) -> Shift:
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

    Raises
    ------
    UserError
        When the shop never opens, or the work would take longer than anybody plans.
    """
    shifts = shifts_of(hours)
    if seconds > FARTHEST_DAYS / 3 * shifts.day_s:
        raise UserError("That much work cannot be planned", "steps", "Look at its hours, at the sizes and at the scale")
    opens, closes = shifts.next(start)
    begin = moment = max(start, opens)
    left = seconds
    while left > (closes - moment).total_seconds():
        left -= (closes - moment).total_seconds()
        opens, closes = shifts.next(closes)
        moment = opens
    return begin, moment + timedelta(seconds=left)


def work_unbroken(start: datetime, seconds: float, hours: ShopHours | Shifts) -> Shift:
    """Place work that cannot be left: on the first day on which it still fits before closing.

    Parameters
    ----------
    start
        Not before this moment.
    seconds
        Working time; more than a day runs past closing on a day begun at opening.
    hours
        The shop's.

    Raises
    ------
    UserError
        When the shop never opens.
    """
    shifts = shifts_of(hours)
    opens, closes = shifts.next(start)
    begin = max(start, opens)
    if seconds > (closes - begin).total_seconds() and begin > opens:
        begin = shifts.next(closes)[0]
    return begin, begin + timedelta(seconds=seconds)


def working_time(first: datetime, last: datetime, hours: ShopHours) -> float:
    """Working seconds from ``first`` to ``last`` by the shop's ``hours``; negative when last comes first.

    Raises
    ------
    UserError
        When the two lie more than forty years apart.
    """
    if last < first:
        return -working_time(last, first, hours)
    if (last - first).days > FARTHEST_DAYS:
        raise UserError("Two dates lie more than forty years apart", "shots", "Look at the days of the shots")
    shifts, before, after = shifts_of(hours), first.date() - timedelta(days=1), last.date()
    edges = {before, first.date(), after - timedelta(days=1), after}
    whole = bench_days(first.date() + timedelta(days=1), after - timedelta(days=1), hours)  # of these no hour is lost
    parts = (shift for day in edges if (shift := shifts.on(day)))
    return whole * day_length(hours) + sum(
        max(0.0, (min(last, closes) - max(first, opens)).total_seconds()) for opens, closes in parts
    )
