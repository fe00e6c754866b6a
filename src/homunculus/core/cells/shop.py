"""Shop hours and days off as people type them in one line, and back."""

from __future__ import annotations

import re
from datetime import date

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.shop import ShopHours
from homunculus.core.quantities import parse_day, parse_hour
from homunculus.core.schedule.calendar import day_length
from homunculus.core.showing import show_clock, show_day

DAYS = ("Mon", "Tue", "Wed", "Thu", "Fri", "Sat", "Sun")
_EXAMPLE = "Write it like 09:00 to 18:00, Mon to Fri"


def _weekday(words: str) -> int:
    found = [
        i
        for i, name in enumerate(DAYS)
        if len(words.strip()) >= 2 and words.strip().casefold().startswith(name.casefold()[:2])
    ]
    if not found:
        raise UserError(f"“{words.strip()}” is no day of the week", remedy=_EXAMPLE)
    return found[0]


def parse_hours(text: str, hours: ShopHours) -> ShopHours:
    """Read shop hours: “09:00 to 18:00, Mon to Fri”, “22:00 to 06:00, Mon, Wed, Fri”; days that are not said stay.

    Parameters
    ----------
    text
        As typed.
    hours
        As they are.

    Raises
    ------
    UserError
        When it cannot be read, or the shop would never open.
    """
    first, *days = [part for part in re.split(r"[,;]", text) if part.strip()] or [""]
    opens, to, closes = _span(first)
    if not to:
        raise UserError(f"“{text.strip()}” says no hours", remedy=_EXAMPLE)
    new = replace(hours, opens=parse_hour(opens, midnight=True), closes=parse_hour(closes, midnight=True))
    if days:
        new = replace(new, weekdays=read_weekdays(",".join(days)))
    day_length(new)
    return new


def read_weekdays(text: str) -> tuple[int, ...]:
    """Read a ``text`` as days of the week: “Mon to Fri”, “Mon, Wed, Sat”; Monday is 0.

    Raises
    ------
    UserError
        When one is none.
    """
    found: set[int] = set()
    for part in filter(str.strip, re.split(r"[,;]", text)):
        begin, ranged, end = _span(part)
        low = _weekday(begin)
        high = _weekday(end) if ranged else low
        found |= {(low + i) % 7 for i in range((high - low) % 7 + 1)}
    return tuple(sorted(found))


def _span(words: str) -> tuple[str, str, str]:
    match = re.fullmatch(r"(.+?)(?:\s+to\s+|\s*[-–]\s*)(.+)", words.strip())
    return (match[1], "to", match[2]) if match else (words, "", "")


def show_hours(hours: ShopHours) -> str:
    """Write shop ``hours`` as :func:`parse_hours` reads them."""
    days = ", ".join(DAYS[i] for i in hours.weekdays)
    return f"{show_clock(hours.opens)} to {show_clock(hours.closes)}, {days}"


def parse_days_off(text: str, near: date) -> tuple[date, ...]:
    """Read days on which nobody comes: “2026-04-03, 6 Apr, 2026-12-24 to 2026-12-31”; nothing for none.

    Parameters
    ----------
    text
        As typed.
    near
        A day of the same job, for days without a year.

    Raises
    ------
    UserError
        When one is no day, or a run is longer than a year.
    """
    found: set[date] = set()
    for part in (p for p in re.split(r"[,;]", text) if p.strip()):
        begin, _, end = part.partition(" to ")
        first = parse_day(begin, near)
        last = parse_day(end, near) if end.strip() else first
        if not 0 <= (last - first).days <= 366:
            raise UserError(
                f"“{part.strip()}” is no run of days", remedy="The first comes first, and it is a year at most"
            )
        found |= {date.fromordinal(first.toordinal() + i) for i in range((last - first).days + 1)}
    return tuple(sorted(found))


def show_days_off(days: tuple[date, ...]) -> str:
    """Write ``days`` off as :func:`parse_days_off` reads them."""
    return ", ".join(day.isoformat() for day in days)


def first_day(job: Job) -> date:
    """A day of a ``job``, for days without a year: when its first build begins."""
    return min((build.starts.date() for build in job.builds), default=date(2026, 1, 1))


def years_of(job: Job) -> tuple[int, ...]:
    """The years that a ``job`` lies in, and the one after, for its holidays; at most ten."""
    days = [b.starts.date() for b in job.builds] + [s.day for s in job.shots]
    first = min(days, default=date(2026, 1, 1)).year
    last = max(days, default=date(2026, 1, 1)).year
    return tuple(range(first, min(last + 1, first + 9) + 1))


def with_holidays(job: Job, country: str, days: tuple[date, ...], before: tuple[date, ...]) -> Job:
    """Write the public holidays of a ``country`` into a ``job``, as dates.

    ``days`` are its holidays, ``before`` those of the country that was chosen before: they go, other days off stay.
    """
    hours = job.shop.hours
    kept = set(hours.days_off) - set(before)
    new = replace(hours, days_off=tuple(sorted(kept | set(days))), country=country)
    return replace(job, shop=replace(job.shop, hours=new))


def hours_words(hours: ShopHours) -> str:
    """Say the shop's ``hours`` with how many days off there are, the next few named."""
    off = ", ".join(show_day(day) for day in hours.days_off[:3])
    more = f" and {len(hours.days_off) - 3} more" if len(hours.days_off) > 3 else ""
    return show_hours(hours) + (f"; off: {off}{more}" if off else "; no days off")
