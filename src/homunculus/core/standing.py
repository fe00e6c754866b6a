"""How the whole job stands: its builds by their first shoot day, with what is late, held, uncovered and frozen."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import NamedTuple

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.counts import unsigned
from homunculus.core.coverage import Coverage
from homunculus.core.figures import Figure
from homunculus.core.job import Build
from homunculus.core.plan import Plan
from homunculus.core.shots import Deadline, Shot


class Standing(Struct, frozen=True, eq=False):
    """One build: when it begins, is ready and is due, and what is in the way."""

    build: Build
    starts: datetime
    ready: datetime | None
    due: datetime | None
    slack: Figure | None
    held: tuple[str, ...]
    """Signatures that its moulds wait for."""
    uncovered: int
    """Needs that nothing covers in the shots that it is in."""
    unseen: int
    """Pieces that no shot sees."""
    off_count: bool
    """Whether the count asks for something else than was frozen."""

    @property
    def late(self) -> bool:
        """Whether it is ready after it is due."""
        return self.slack is not None and self.slack.number < 0

    @property
    def frozen(self) -> bool:
        """Whether the mould shop has its number."""
        return self.build.frozen is not None


class Outside(Struct, frozen=True):
    """A deadline of outside work or post-production, on the day that follows from its shot."""

    shot: Shot
    deadline: Deadline
    day: date


def standing(made: Plan, covered: Coverage) -> tuple[Standing, ...]:
    """List the builds of a plan by their first shoot day; those in no shot come last.

    Parameters
    ----------
    made
        Plan of the job.
    covered
        Its needs, held against what covers them.
    """
    uncovered: dict[str, int] = {}
    for row in covered.uncovered:
        for build_id in row.shot.builds:
            uncovered[build_id] = uncovered.get(build_id, 0) + 1
    rows = []
    for plan in made.builds:
        moulded = any(piece.mould for piece in plan.build.pieces)
        stands = Standing(
            build=plan.build,
            starts=plan.build.starts,
            ready=_moment(plan.find(specs.READY)),
            due=_moment(plan.find(specs.DUE)),
            slack=plan.find(specs.SLACK),
            held=unsigned(plan.build.signoffs) if moulded else (),
            uncovered=uncovered.get(plan.build.id, 0),
            unseen=sum(1 for u in covered.unseen if u.build.id == plan.build.id),
            off_count=_off_count(plan.figures, plan.build),
        )
        rows.append(stands)
    return tuple(sorted(rows, key=lambda row: (row.due is None, row.due or row.starts, row.build.name)))


def _moment(figure: Figure | None) -> datetime | None:
    return figure.value if figure and isinstance(figure.value, datetime) else None


def _off_count(figures: tuple[Figure, ...], build: Build) -> bool:
    if build.frozen is None:
        return False
    asked = {f.subject: f.value for f in figures if f.spec is specs.ASKED}
    cast = {f.subject: f.value for f in figures if f.spec is specs.CASTINGS}
    return any(cast.get(subject) != value for subject, value in asked.items())


def outside(made: Plan) -> tuple[Outside, ...]:
    """List the deadlines that follow the shots of the job that was ``made`` into a plan, the earliest first."""
    found = [Outside(s, d, s.day + timedelta(days=d.days)) for s in made.job.shots for d in s.deadlines]
    return tuple(sorted(found, key=lambda o: (o.day, o.shot.id)))


class InTheWay(NamedTuple):
    """What is in the way of a job, counted."""

    late: int
    uncovered: int
    held: int
    frozen: int
    unseen: int
    to_decide: int


def in_the_way(rows: tuple[Standing, ...], covered: Coverage) -> InTheWay:
    """Count what is in the way, from the ``rows`` of the builds and what is ``covered``; frozen counts are none of it."""
    return InTheWay(sum(r.late for r in rows), len(covered.uncovered), sum(bool(r.held) for r in rows),
                    sum(r.frozen for r in rows), len(covered.unseen), len(covered.open))  # fmt: skip
