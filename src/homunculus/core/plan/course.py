"""The course of one pour, with what is tried beside it: computed once for as long as nothing of it changes."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.cure.clock import Clock, in_its_air
from homunculus.core.cure.curve import CureStep, Point, WhatIf, cure_curve, cure_steps, moment
from homunculus.core.cure.record import Record
from homunculus.core.cure.temperature import Daily, Programme
from homunculus.core.figures import Figure
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.job import Job
from homunculus.core.log import Book
from homunculus.core.plan.build_plan import BuildPlan, PlannedPour
from homunculus.core.plan.status import Status, measured_programme

BEFORE = timedelta(hours=1)


class CureCourse(Struct, frozen=True, eq=False):
    """A pour and its cure: from when, through which air, to which steps; and the same as tried."""

    start: datetime
    poured: bool
    """Whether it is in the mould; else it is planned."""
    card: MaterialCard
    planned: tuple[CureStep, ...]
    points: tuple[Point, ...]
    trial: tuple[CureStep, ...]
    tried: tuple[Point, ...]
    tried_from: datetime
    figures: tuple[Figure, ...]
    gaps: tuple[tuple[datetime, datetime], ...]

    @classmethod
    def of(
        cls, job: Job, made: BuildPlan, now: Status, book: Book, pour: PlannedPour, what_if: WhatIf
    ) -> CureCourse | None:
        """Reckon the course of a pour; none where it does not cure or is not planned.

        Parameters
        ----------
        job
            With its cards and its shop.
        made
            The plan of the piece's build.
        now
            What is true at the moment.
        book
            The log, for the temperatures that were measured.
        pour
            Which.
        what_if
            What is tried beside it.
        """
        card, setting = pour.card, pour.setting
        bar = next((b for b in now.bars if not b.planned and (b.build, b.piece, b.op) == (made.build.id, *pour.key)
                    and b.matter == "curing" and not b.ended), None)  # fmt: skip
        planned = made.find(specs.POURED, pour.piece, op=pour.op)
        start = bar.start if bar else planned.value if planned and isinstance(planned.value, datetime) else None
        if start is None or setting is None:
            return None
        air: Programme = measured_programme(job, book) if bar else Daily(job.shop.air)
        usual, bench_c = in_its_air(card, air, start)
        lag, clock = setting.lag_s, setting.clock
        steps = cure_steps(card, usual, start, lag, air if bench_c is not None else None, clock)
        until = _until(steps)
        points = _points(card, clock, usual, start, lag, until, bench_c)
        trial: tuple[CureStep, ...] = ()
        tried: tuple[Point, ...] = ()
        begin = what_if.start or start
        if what_if.any:
            # an oven takes up a mould that lay in the room until then
            room = air if what_if.oven_c is not None or bench_c is not None else None
            other = what_if.programme(usual, job.shop.air)
            trial = cure_steps(card, other, begin, lag, room, clock)
            tried = _points(card, clock, other, begin, lag, min(until * 1.5, _until(trial)),
                            room.at(begin) if room else None)  # fmt: skip
        found = (made.find(spec, pour.piece, op=pour.op) for spec in (specs.OPENS, specs.CURE))
        figures = tuple(f for f in found if f) if not bar else ()
        gaps = tuple(g for e in book.standing if e.series for g in Record(e.at, e.series).gaps()) if bar else ()
        return cls(start, bar is not None, card, steps, points, trial, tried, begin, figures, gaps)

    @property
    def tried_later_s(self) -> float | None:
        """By how much it would open later as tried [s]; none where either never opens."""
        planned, tried = self.opens(self.start, self.planned), self.opens(self.tried_from, self.trial)
        return (tried - planned).total_seconds() if planned and tried else None

    @property
    def shift_min(self) -> float:
        """By how much what is tried begins later [min]."""
        return (self.tried_from - self.start).total_seconds() / 60

    def window(self) -> tuple[datetime, datetime]:
        """From when to when the axis goes."""
        first = min(self.start, self.tried_from) - BEFORE
        ends = [self.start + timedelta(seconds=self.points[-1].seconds)]
        if self.tried:
            ends.append(self.tried_from + timedelta(seconds=self.tried[-1].seconds))
        return first, max(ends) + BEFORE

    @staticmethod
    def opens(start: datetime, steps: tuple[CureStep, ...]) -> datetime | None:
        """When it may be opened, poured at ``start`` and curing in these ``steps``; none when it never cures."""
        step = next((s for s in steps if s.name == "opens"), None)
        return moment(start, step.here) if step else None


def _until(steps: tuple[CureStep, ...]) -> float:
    opens = next((s.here for s in steps if s.name == "opens"), math.inf)
    return min(1.25 * opens, 10 * 86400.0) if math.isfinite(opens) else 5 * 86400.0


def _points(
    card: MaterialCard,
    clock: Clock,
    air: Programme,
    start: datetime,
    lag: float,
    until: float,
    start_c: float | None = None,
) -> tuple[Point, ...]:
    assert card.demould_s is not None
    return cure_curve(book=card.demould_s.value, clock=clock, programme=air, start=start, lag=lag,
                      until=until, start_c=start_c)  # fmt: skip
