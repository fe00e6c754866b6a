"""The shop's temperature over time, and how a mould follows it.

The air is a daily programme of two steps; a mould follows with a first-order lag, which between two steps
has the closed form T = T_air + (T₀ − T_air) e^(−t/τ).
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import datetime, timedelta
from itertools import pairwise
from typing import Protocol

from msgspec import Struct

from homunculus.core.job import Air


class Programme(Protocol):
    """Air temperature over time, in steps."""

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on, each step's length and temperature, without end."""
        ...


class Daily(Struct, frozen=True):
    """The day/night programme of a shop."""

    air: Air

    def at(self, moment: datetime) -> float:
        """Air temperature [°C] at a ``moment``."""
        warm = self.air.warm_from <= moment.time() < self.air.warm_to
        return self.air.day_c if warm else self.air.night_c

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on."""
        moment = start
        while True:
            clock = moment.time()
            if clock < self.air.warm_from:
                end, temperature = datetime.combine(moment.date(), self.air.warm_from), self.air.night_c
            elif clock < self.air.warm_to:
                end, temperature = datetime.combine(moment.date(), self.air.warm_to), self.air.day_c
            else:
                tomorrow = moment.date() + timedelta(days=1)
                end, temperature = datetime.combine(tomorrow, self.air.warm_from), self.air.night_c
            yield (end - moment).total_seconds(), temperature
            moment = end


class Nights(Struct, frozen=True):
    """A daily programme in which single nights were measured: (first moment, last moment, °C)."""

    daily: Daily
    measured: tuple[tuple[datetime, datetime, float], ...]

    def steps(self, start: datetime) -> Iterator[tuple[float, float]]:
        """Yield (seconds, °C) from ``start`` on."""
        moment = start
        edges = sorted({edge for span in self.measured for edge in span[:2]})
        for seconds, temperature in self.daily.steps(start):
            end = moment + timedelta(seconds=seconds)
            cuts = [moment, *(e for e in edges if moment < e < end), end]
            for a, b in pairwise(cuts):
                told = next((t for first, last, t in self.measured if first <= a and b <= last), temperature)
                yield (b - a).total_seconds(), told
            moment = end


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
