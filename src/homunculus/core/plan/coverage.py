"""Who covers what: the needs of all shots against builds, stock, people and open decisions; and what no shot sees."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain
from typing import Literal

from msgspec import Struct

from homunculus.core.job.build import Build, Piece
from homunculus.core.job.job import Job
from homunculus.core.job.shots import ByBuild, ByDecision, ByPeople, ByStock, Need, Shot, Side, in_order

CoveredBy = Literal["build", "stock", "people", "decision", "nothing"]
OUTSIDE: tuple[Side, ...] = ("front", "back", "left", "right", "top")


class NeedRow(Struct, frozen=True):
    """One need of one shot. A shot that needs nothing yet has one row without a need: nobody has broken it down."""

    shot: Shot
    index: int
    need: Need | None
    state: CoveredBy
    trouble: str = ""
    """Why it counts as uncovered though something is named."""


class Unseen(Struct, frozen=True):
    """A piece that no shot sees."""

    build: Build
    piece: Piece


class Coverage(Struct, frozen=True, eq=False):
    """All needs, in the order of the shoot, and what is seen of the builds."""

    groups: tuple[tuple[NeedRow, ...], ...]
    """The rows, shot by shot."""
    unseen: tuple[Unseen, ...]
    never_seen: dict[str, tuple[Side, ...]]
    """Sides of a build (by its id) that no shot sees; only for builds of which every use says its sides."""
    rows: tuple[NeedRow, ...]
    builds: tuple[Build, ...]
    """Those of the job."""
    shots: tuple[Shot, ...] = ()
    """Those of the groups."""
    at: dict[str, tuple[int, ...]] = {}
    """At which of them each build is named."""

    @property
    def uncovered(self) -> tuple[NeedRow, ...]:
        """Rows that nothing covers."""
        return tuple(row for row in self.rows if row.state == "nothing")

    @property
    def open(self) -> tuple[NeedRow, ...]:
        """Rows that wait for a decision."""
        return tuple(row for row in self.rows if row.state == "decision")


def coverage(job: Job, known: Coverage | None = None, ordered: tuple[Shot, ...] | None = None) -> Coverage:
    """Hold the needs of all shots of a ``job`` against what covers them.

    Parameters
    ----------
    job
        Its shots and builds.
    known
        An earlier coverage. Its rows are kept where a shot is still the same, and so are the builds that it uses.
    ordered
        The job's shots as :func:`in_order` gives them, where that is known already.
    """
    builds = {build.id: build for build in job.builds}
    others = _otherwise(known.builds, job.builds) if known else set(builds)
    shots = in_order(job.shots) if ordered is None else ordered
    if known and known.shots is shots:  # a build was edited: only the shots in which it is are told anew
        touched = sorted({i for build in others for i in known.at.get(build, ())})
        told = list(known.groups)
        for i in touched:
            told[i] = _rows(shots[i], builds)
        groups, at, before, looked_at = tuple(told), known.at, known, [shots[i] for i in touched]
    else:
        kept = {id(group[0].shot): group for group in known.groups} if known else {}
        groups = tuple(
            (kept.get(id(shot)) if others.isdisjoint(shot.builds) else None) or _rows(shot, builds) for shot in shots
        )
        found: dict[str, list[int]] = {}
        for i, shot in enumerate(shots):
            for build in shot.builds:
                found.setdefault(build, []).append(i)
        at, looked_at = {build: tuple(where) for build, where in found.items()}, list(shots)
        before = None
        if known and {id(s.needs) for s in shots} == {id(s.needs) for s in known.shots}:
            before = known  # other days, the same needs: what was seen of builds that are the same is seen still
        else:
            others = set(builds)
    rows = tuple(chain.from_iterable(groups))
    return Coverage(groups, *_seen(job, looked_at, others, before), rows, job.builds, shots, at)


def _otherwise(before: tuple[Build, ...], after: tuple[Build, ...]) -> set[str]:
    """The builds of which shots would be told otherwise: that came, went, or have another name or other pieces."""

    def said(build: Build) -> tuple[object, ...]:
        return build.name, build.put_away, build.pieces

    old = {build.id: build for build in before}
    gone = old.keys() - {build.id for build in after}
    moved = (b.id for b in after if (was := old.get(b.id)) is not b and (was is None or said(was) != said(b)))
    return {*gone, *moved}


def _seen(
    job: Job, shots: Sequence[Shot], wanted: set[str], before: Coverage | None
) -> tuple[tuple[Unseen, ...], dict[str, tuple[Side, ...]]]:
    """The pieces that none of the ``shots`` sees, and the sides that none sees: of the builds ``wanted``, and of all others as it was ``before``.

    Shots in which none of the builds wanted is may be left out.
    """
    if before and not wanted:
        return before.unseen, before.never_seen
    every = {build.id: frozenset(piece.id for piece in build.pieces) for build in job.builds if build.id in wanted}
    seen: dict[str, set[str]] = {}
    sides: dict[str, set[Side]] = {}
    unsaid: set[str] = set()
    for shot in shots:
        if wanted.isdisjoint(shot.builds):
            continue
        for use in shot.uses:
            if use.build in every:
                seen.setdefault(use.build, set()).update(use.pieces or every[use.build])
                sides.setdefault(use.build, set()).update(use.sides)
                if not use.sides:
                    unsaid.add(use.build)
    never = {
        build_id: tuple(side for side in OUTSIDE if side not in found)
        for build_id, found in sides.items()
        if build_id not in unsaid and not found >= set(OUTSIDE)
    }
    told: dict[str, list[Unseen]] = {}
    for one in before.unseen if before else ():
        if one.build.id not in wanted:
            told.setdefault(one.build.id, []).append(one)
    nothing: set[str] = set()
    for build in job.cast:
        if build.id in wanted:
            missed = (p for p in build.pieces if p.id not in seen.get(build.id, nothing))
            told[build.id] = [Unseen(build, piece) for piece in missed]
    kept = {key: found for key, found in before.never_seen.items() if key not in wanted} if before else {}
    return tuple(one for build in job.cast for one in told.get(build.id, ())), {**kept, **never}


def _rows(shot: Shot, builds: dict[str, Build]) -> tuple[NeedRow, ...]:
    if not shot.needs:
        return (NeedRow(shot, 0, None, "nothing", "nobody has said what it needs"),)
    return tuple(NeedRow(shot, i, need, *_state(need, builds)) for i, need in enumerate(shot.needs))


def _state(need: Need, builds: dict[str, Build]) -> tuple[CoveredBy, str]:
    match need.cover:
        case ByBuild(build=build, pieces=pieces):
            if build not in builds:
                return "nothing", f"there is no build “{build}” any more"
            if builds[build].put_away:
                return "nothing", f"{builds[build].name} was put away"
            gone = [piece for piece in pieces if all(known.id != piece for known in builds[build].pieces)]
            return ("nothing", f"{builds[build].name} has no piece “{gone[0]}” any more") if gone else ("build", "")
        case ByStock():
            return "stock", ""
        case ByPeople():
            return "people", ""
        case ByDecision():
            return "decision", ""
    return "nothing", ""
