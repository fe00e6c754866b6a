"""The shop's temperature over time, and how a mould follows it.

The air is a daily programme of two steps; a mould follows with a first-order lag, which between two steps
has the closed form T = T_air + (T₀ − T_air) e^(−t/τ).
"""

from __future__ import annotations

import math
from bisect import bisect_left, bisect_right
from collections.abc import Iterable, Iterator
from datetime import datetime, timedelta
from typing import Protocol

from msgspec import Struct

from homunculus.core.job.shop import Air
from homunculus.core.schedule.wall_clock import seconds_between

DAY = timedelta(days=1)


class Programme(Protocol):
    """Air temperature over time, in steps."""

    def at(self, moment: datetime) -> float:
        """Air temperature [°C] at a ``moment``."""

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on, each step's length and temperature, without end."""
        ...


class Daily(Struct, frozen=True):
    """The day/night programme of a shop."""

    air: Air

    def at(self, moment: datetime) -> float:
        """Air temperature [°C] at a ``moment``; warm hours may go past midnight, and are none where they end as they begin."""
        clock, first, last = moment.time(), self.air.warm_from, self.air.warm_to
        warm = first <= clock < last if first <= last else clock >= first or clock < last
        return self.air.day_c if warm else self.air.night_c

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on; seconds that pass, also in a night in which the clock is changed."""
        for moment, end in self.turns(start):
            yield seconds_between(moment, end, self.air.zone), self.at(moment)

    def turns(self, start: datetime) -> Iterator[tuple[datetime, datetime]]:
        """Yield the stretches of one temperature from ``start`` on, by the wall clock, without end."""
        moment = start
        early, late = sorted((self.air.warm_from, self.air.warm_to))
        while True:
            clock = moment.time()
            if clock < late:
                end = datetime.combine(moment, early if clock < early else late)
            else:
                end = datetime.combine(moment + DAY, early)
            yield moment, end
            moment = end


class Constant(Struct, frozen=True):
    """One temperature for good: an oven, or a room kept warm."""

    celsius: float

    def at(self, moment: datetime) -> float:
        """The temperature [°C], whatever the ``moment``."""
        return self.celsius

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on."""
        while True:
            yield 86400.0, self.celsius


class Nights:
    """A daily programme of which stretches were measured.

    Parameters
    ----------
    daily
        What holds where nothing was measured.
    measured
        (first moment, last moment, °C); a later one lies over an earlier.
    """

    def __init__(self, daily: Daily, measured: Iterable[tuple[datetime, datetime, float]]) -> None:
        self.daily = daily
        self._from: list[datetime] = []
        """Where each told stretch begins, in order; they do not overlap."""
        self._told: list[tuple[datetime, float]] = []
        for first, last, celsius in measured:
            self._lay(first, last, celsius)

    def _lay(self, first: datetime, last: datetime, celsius: float) -> None:
        low = bisect_right(self._from, first)
        while low > 0 and self._told[low - 1][0] > first:
            low -= 1
        high = bisect_left(self._from, last)
        over = list(zip(self._from[low:high], self._told[low:high], strict=True))
        kept = [(a, (min(b, first), c)) for a, (b, c) in over if a < first]
        kept.append((first, (last, celsius)))
        kept += [(max(a, last), (b, c)) for a, (b, c) in over if b > last]
        self._from[low:high] = [a for a, _ in kept]
        self._told[low:high] = [told for _, told in kept]

    def _reading(self, moment: datetime) -> tuple[float | None, datetime | None]:
        """What was told for a moment, and until when that, or the silence, lasts."""
        index = bisect_right(self._from, moment)
        if index and self._told[index - 1][0] > moment:
            return self._told[index - 1][1], self._told[index - 1][0]
        return None, self._from[index] if index < len(self._from) else None

    def at(self, moment: datetime) -> float:
        """Air temperature [°C] at a ``moment``."""
        told, _ = self._reading(moment)
        return self.daily.at(moment) if told is None else told

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on."""
        for begin, end in self.daily.turns(start):
            moment, usual = begin, self.daily.at(begin)
            while moment < end:
                told, until = self._reading(moment)
                upto = min(end, until) if until else end
                yield seconds_between(moment, upto, self.daily.air.zone), usual if told is None else told
                moment = upto


def mould_temperature(*, start: float, air: float, lag: float, after: float) -> float:
    """Temperature [°C] of a mould ``after`` so many seconds in ``air`` [°C], from ``start`` [°C].

    Parameters
    ----------
    start, air
        Temperature of the mould at first and of the air [°C].
    lag
        Time constant [s]; 0 follows at once.
    after
        Seconds.
    """
    return air if lag <= 0 else air + (start - air) * math.exp(-after / lag)
