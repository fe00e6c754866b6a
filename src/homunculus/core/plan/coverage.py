"""Who covers what: the needs of all shots against builds, stock, people and open decisions; and what no shot sees."""

from __future__ import annotations

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
        The coverage of the same builds with other shots, whose rows are kept where a shot is still the same.
    ordered
        The job's shots as :func:`in_order` gives them, where that is known already.
    """
    builds = {build.id: build for build in job.builds}
    pieces = {build.id: {piece.id for piece in build.pieces} for build in job.builds}
    kept = {id(group[0].shot): group for group in known.groups} if known else {}
    shots = in_order(job.shots) if ordered is None else ordered
    groups = tuple(kept.get(id(shot)) or _rows(shot, builds, pieces) for shot in shots)
    rows = tuple(chain.from_iterable(groups))
    if known and {id(s.needs) for s in shots} == {id(group[0].shot.needs) for group in known.groups}:
        return Coverage(groups, known.unseen, known.never_seen, rows)  # other days and seconds, the same needs
    return Coverage(groups, *_seen(job, shots, builds, pieces), rows)


def _seen(
    job: Job, shots: tuple[Shot, ...], builds: dict[str, Build], pieces: dict[str, set[str]]
) -> tuple[tuple[Unseen, ...], dict[str, tuple[Side, ...]]]:
    """The pieces that no shot sees, and the sides that none sees."""
    seen: dict[str, set[str]] = {}
    sides: dict[str, set[Side]] = {}
    unsaid: set[str] = set()
    for shot in shots:
        for use in shot.uses:
            if use.build in builds:
                seen.setdefault(use.build, set()).update(use.pieces or pieces[use.build])
                sides.setdefault(use.build, set()).update(use.sides)
                if not use.sides:
                    unsaid.add(use.build)
    nothing: set[str] = set()
    unseen = tuple(Unseen(b, p) for b in job.cast for p in b.pieces if p.id not in seen.get(b.id, nothing))
    never = {
        build_id: tuple(side for side in OUTSIDE if side not in found)
        for build_id, found in sides.items()
        if build_id not in unsaid and not found >= set(OUTSIDE)
    }
    return unseen, never


def _rows(shot: Shot, builds: dict[str, Build], pieces: dict[str, set[str]]) -> tuple[NeedRow, ...]:
    if not shot.needs:
        return (NeedRow(shot, 0, None, "nothing", "nobody has said what it needs"),)
    return tuple(NeedRow(shot, i, need, *_state(need, builds, pieces)) for i, need in enumerate(shot.needs))


def _state(need: Need, builds: dict[str, Build], known: dict[str, set[str]]) -> tuple[CoveredBy, str]:
    match need.cover:
        case ByBuild(build=build, pieces=pieces):
            if build not in builds:
                return "nothing", f"there is no build “{build}” any more"
            if builds[build].put_away:
                return "nothing", f"{builds[build].name} was put away"
            gone = [piece for piece in pieces if piece not in known[build]]
            return ("nothing", f"{builds[build].name} has no piece “{gone[0]}” any more") if gone else ("build", "")
        case ByStock():
            return "stock", ""
        case ByPeople():
            return "people", ""
        case ByDecision():
            return "decision", ""
    return "nothing", ""
