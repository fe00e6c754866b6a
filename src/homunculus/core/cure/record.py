"""A recorded temperature: readings of a logger, their gaps, and the stretches that a cure reckons with."""

from __future__ import annotations

from datetime import datetime, timedelta
from itertools import pairwise

from msgspec import Struct

LONGEST_GAP_S = 3600.0
"""A logger that was silent for longer says nothing of the time between: common practice, no source."""
COARSE_C = 0.1
"""Readings closer than this to the last kept one are left out: finer than any shop's logger."""

Series = tuple[tuple[float, float], ...]
"""(seconds after the first, °C)."""


class Record(Struct, frozen=True):
    """Readings in order of time, at least one."""

    first: datetime
    series: Series

    @property
    def last(self) -> datetime:
        """Moment of the last reading."""
        return self.first + timedelta(seconds=self.series[-1][0])

    @property
    def gap_s(self) -> float:
        """Above how many seconds without a reading there is a gap: thrice the usual step, an hour at least."""
        steps = sorted(b - a for (a, _), (b, _) in pairwise(self.series))
        return max(LONGEST_GAP_S, 3 * steps[len(steps) // 2]) if steps else LONGEST_GAP_S

    def gaps(self) -> tuple[tuple[datetime, datetime], ...]:
        """Stretches without readings: (last before, first after)."""
        gap = self.gap_s
        return tuple(
            (self.first + timedelta(seconds=a), self.first + timedelta(seconds=b))
            for (a, _), (b, _) in pairwise(self.series) if b - a > gap
        )  # fmt: skip

    def spans(self) -> tuple[tuple[datetime, datetime, float], ...]:
        """Stretches of one temperature, gaps left out: each reading holds half way to its neighbours."""
        gap, found = self.gap_s, []
        times = [t for t, _ in self.series]
        for i, (t, celsius) in enumerate(self.series):
            before = t - times[i - 1] if i else 0.0
            after = times[i + 1] - t if i + 1 < len(times) else 0.0
            low = t - (before / 2 if before <= gap else 0.0)
            high = t + (after / 2 if after <= gap else 0.0)
            if high > low:
                found.append((self.first + timedelta(seconds=low), self.first + timedelta(seconds=high), celsius))
        return tuple(found)

    def thinned(self) -> Record:
        """Leave out readings that say what the last kept one said, but keep both sides of every gap and the last."""
        kept, gap = [self.series[0]], self.gap_s
        for before, here, after in zip(self.series, self.series[1:], (*self.series[2:], self.series[-1]), strict=False):
            by_gap = here[0] - before[0] > gap or after[0] - here[0] > gap
            late = here[0] - kept[-1][0] > gap / 2
            if abs(here[1] - kept[-1][1]) >= COARSE_C and kept[-1] != before:
                kept.append(before)  # or the old reading would hold half way into the new one
            if by_gap or late or abs(here[1] - kept[-1][1]) >= COARSE_C:
                kept.append(here)
        if kept[-1] != self.series[-1]:
            kept += [r for r in self.series[-2:] if r != kept[-1]]
        return Record(self.first, tuple(kept))
