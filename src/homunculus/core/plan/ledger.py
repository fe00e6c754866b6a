"""What moved between two plans."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, datetime
from typing import TYPE_CHECKING

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.figures import Figure, FigureSpec, Subject
from homunculus.core.job.build import Build
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.quantities import System
from homunculus.core.showing import show, show_clock, show_day, significant

if TYPE_CHECKING:
    from homunculus.core.plan.job_plan import Plan

MOST_NEWS = 3
"""Lines in which is told what moved of several builds."""


class Moved(Struct, frozen=True, eq=False):
    """One figure that moved: before, after, and by how much in words."""

    before: Figure
    after: Figure

    @property
    def change(self) -> str:
        """By how much, in words."""
        return change_words(self.before, self.after)

    def words(self, system: System, currency: str) -> str:
        """What moved from where to where and by how much, in a ``system`` of units and a ``currency``."""
        spec, subject = self.after.spec, self.after.subject
        before, after, unit = short_pair(self.before, self.after, system, currency)
        whose = f" {subject.detail}" if subject.detail else ""
        return f"{spec.label}{whose} {before} → {after}{f' {unit}' if unit else ''} ({self.change})"


def moved(before: BuildPlan, after: BuildPlan) -> tuple[Moved, ...]:
    """List the figures of a build that differ, the weightiest first.

    Parameters
    ----------
    before
        As pinned.
    after
        As now.
    """
    old, same = before.by_subject, before.figure_ids
    found = []
    for figure in after.figures:
        if id(figure) in same:
            continue  # the very same figure: most are, and telling it so costs nothing
        earlier = old.get((figure.spec, figure.subject))
        if earlier is not None and _differ(earlier.value, figure.value, figure.spec):
            found.append(Moved(earlier, figure))
    found.sort(key=lambda m: (m.after.spec.rank, -_share(m)))
    first: dict[tuple[str, Subject], Moved] = {}
    for item in found:  # of figures that differ by shot or pour alone, the one that moved most speaks for all
        first.setdefault((item.after.spec.name, replace(item.after.subject, shot="", op="")), item)
    return tuple(first.values())


def moved_builds(before: Plan, after: Plan) -> tuple[tuple[Build, tuple[Moved, ...]], ...]:
    """List what moved of every build between two plans of one cast, ``before`` and ``after``; builds of which nothing did are left out."""
    found = []
    old = {made.build.id: made for made in before.builds}
    for made in after.builds:
        earlier = old.get(made.build.id)
        if earlier is not None and earlier is not made and (moves := moved(earlier, made)):
            found.append((made.build, moves))
    return tuple(found)


def news(moves: Sequence[tuple[Build, tuple[Moved, ...]]], system: System, currency: str) -> tuple[str, ...]:
    """Tell in a few lines what moved of several builds, two figures of each; the last line says how many more there are.

    Parameters
    ----------
    moves
        What moved, build by build, the weightiest first.
    system
        Of units.
    currency
        Sign for money.
    """
    lines = [f"{build.name}: {move.words(system, currency)}" for build, moved in moves for move in moved[:2]]
    more = len(lines) - MOST_NEWS
    return (*lines[: MOST_NEWS - 1], f"{lines[MOST_NEWS - 1]}  and {more} more") if more > 0 else tuple(lines)


def _differ(a: object, b: object, spec: FigureSpec) -> bool:
    """Whether two values differ by enough to say so."""
    if a == b or spec.kind == "thing":
        return False
    if isinstance(a, int | float) and isinstance(b, int | float):
        if spec.kind == "shop_days":
            return abs(b - a) >= 0.05
        if spec.kind == "count":
            return round(a) != round(b)
        if spec.kind == "duration":
            return abs(b - a) >= 30
        return a == 0 or abs(b / a - 1) >= 0.005
    if isinstance(a, datetime) and isinstance(b, datetime):
        return abs((b - a).total_seconds()) >= 30
    return True


def _share(item: Moved) -> float:
    a, b = item.before.value, item.after.value
    return abs(b / a - 1) if isinstance(a, int | float) and isinstance(b, int | float) and a else 0.0


def change_words(before: Figure, after: Figure) -> str:
    """Say by how much a figure moved: per cent for sizes, hours for times, days for slack.

    Parameters
    ----------
    before, after
        The same figure of two plans.
    """
    a, b = before.value, after.value
    if isinstance(a, datetime) and isinstance(b, datetime):
        return _signed_hours((b - a).total_seconds())
    if isinstance(a, date) and isinstance(b, date):
        return f"{(b - a).days:+d} d".replace("-", "−")
    if not (isinstance(a, int | float) and isinstance(b, int | float)):
        return "changed"
    if after.spec.kind == "shop_days":
        return str(show(b - a, "shop_days"))
    if after.spec.kind == "count":
        return f"{round(b - a):+d}".replace("-", "−")
    if after.spec.kind == "duration":
        return _signed_hours(b - a)
    if a == 0:
        return "new"
    percent = (b / a - 1) * 100
    sign = "+" if percent > 0 else "−"
    return f"{sign}{significant(abs(percent), 2 if abs(percent) < 100 else 3)} %"


def _signed_hours(seconds: float) -> str:
    sign, size = ("+" if seconds > 0 else "−"), abs(seconds)
    if size < 3600:
        return f"{sign}{size / 60:.0f} min"
    if size < 96 * 3600:
        return f"{sign}{significant(size / 3600, 2 if size < 36000 else 3)} h"
    return f"{sign}{significant(size / 86400, 2)} d"


def short_pair(before: Figure, after: Figure, system: System, currency: str) -> tuple[str, str, str]:
    """Show before and after as briefly as they can be told apart: (before, after, shared unit).

    Parameters
    ----------
    before, after
        The same figure of two plans.
    system
        Of units.
    currency
        Sign for money.
    """
    a, b = before.value, after.value
    if isinstance(a, datetime) and isinstance(b, datetime):
        if a.date() == b.date():
            return f"{show_clock(a)}", f"{show_clock(b)}", ""
        return (
            f"{show_day(a)[:3]} {show_clock(a)}" if abs((b - a).days) < 6 else show_day(a),
            show(b, "moment").number,
            "",
        )
    spec = after.spec
    first = show(a, spec.kind, system, spec.digits, currency)
    last = show(b, spec.kind, system, spec.digits, currency)
    return (first.number if first.unit == last.unit else str(first)), last.number, last.unit
