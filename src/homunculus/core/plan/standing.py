"""How the whole job stands: its builds by their first shoot day, with what is late, held, uncovered and frozen."""

from __future__ import annotations

from datetime import date, datetime, timedelta

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.figures import Figure
from homunculus.core.job.build import Build
from homunculus.core.job.counts import unsigned
from homunculus.core.job.shots import Deadline, Shot
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.coverage import Coverage
from homunculus.core.planners.counts import off_the_count


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


def standing(builds: tuple[BuildPlan, ...], covered: Coverage) -> tuple[Standing, ...]:
    """List builds by their first shoot day; those in no shot come last.

    Parameters
    ----------
    builds
        Their plans.
    covered
        The needs of all shots, held against what covers them.
    """
    uncovered: dict[str, int] = {}
    for row in covered.uncovered:
        for build_id in row.shot.builds:
            uncovered[build_id] = uncovered.get(build_id, 0) + 1
    rows = []
    for plan in builds:
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
    cast = {f.subject: f for f in figures if f.spec is specs.CASTINGS}
    return any(off_the_count(f, cast[f.subject]) for f in figures if f.spec is specs.ASKED)


def outside(shots: tuple[Shot, ...]) -> tuple[Outside, ...]:
    """List the deadlines that follow ``shots``, the earliest first."""
    found = [Outside(s, d, s.day + timedelta(days=d.days)) for s in shots for d in s.deadlines]
    return tuple(sorted(found, key=lambda o: (o.day, o.shot.id)))
