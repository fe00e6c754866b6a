"""Clocks that are put forward and back: how much time really passes between two moments of the wall clock.

Moments are naive and local, as people write them; a zone (IANA name) says when its clocks change. Without one they do not.
Source: the zone database, by the standard library.
"""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

from homunculus.core.errors import UserError


@lru_cache(maxsize=64)
def zone_of(name: str) -> ZoneInfo | None:
    """The zone of that ``name``; none for an empty one.

    Raises
    ------
    UserError
        When there is no such zone.
    """
    if not name:
        return None
    try:
        return ZoneInfo(name)
    except (KeyError, ValueError, OSError):
        raise UserError(
            f"“{name}” is no time zone", "shop", "Name one such as Europe/Lisbon, or leave it empty"
        ) from None


def later(start: datetime, seconds: float, zone: str = "") -> datetime:
    """The moment on the wall clock of a ``zone`` when ``seconds`` have passed since ``start``."""
    known = zone_of(zone)
    if known is None:
        return start + timedelta(seconds=seconds)
    ended = start.replace(tzinfo=known).astimezone(UTC) + timedelta(seconds=seconds)
    return ended.astimezone(known).replace(tzinfo=None)


def seconds_between(first: datetime, last: datetime, zone: str = "") -> float:
    """Seconds that pass from ``first`` to ``last``, both on the wall clock of a ``zone``."""
    known = zone_of(zone)
    if known is None:
        return (last - first).total_seconds()
    return (last.replace(tzinfo=known).astimezone(UTC) - first.replace(tzinfo=known).astimezone(UTC)).total_seconds()
