"""Who covers what: the needs of all shots against builds, stock, people and open decisions; and what no shot sees."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from homunculus.core.job import Build, Job, Piece
from homunculus.core.shots import ByBuild, ByDecision, ByPeople, ByStock, Need, Shot, Side, in_order

State = Literal["build", "stock", "people", "decision", "nothing"]
OUTSIDE: tuple[Side, ...] = ("front", "back", "left", "right", "top")


class Row(Struct, frozen=True):
    """One need of one shot. A shot that needs nothing yet has one row without a need: nobody has broken it down."""

    shot: Shot
    index: int
    need: Need | None
    state: State
    trouble: str = ""
    """Why it counts as uncovered though something is named."""


class Unseen(Struct, frozen=True):
    """A piece that no shot sees."""

    build: Build
    piece: Piece


class Coverage(Struct, frozen=True, eq=False):
    """All needs, in the order of the shoot, and what is seen of the builds."""

    rows: tuple[Row, ...]
    unseen: tuple[Unseen, ...]
    never_seen: dict[str, tuple[Side, ...]]
    """Sides of a build (by its id) that no shot sees; only for builds of which every use says its sides."""

    @property
    def uncovered(self) -> tuple[Row, ...]:
        """Rows that nothing covers."""
        return tuple(row for row in self.rows if row.state == "nothing")

    @property
    def open(self) -> tuple[Row, ...]:
        """Rows that wait for a decision."""
        return tuple(row for row in self.rows if row.state == "decision")


def coverage(job: Job) -> Coverage:
    """Hold the needs of all shots of a ``job`` against what covers them."""
    builds = {build.id: build for build in job.builds}
    rows: list[Row] = []
    seen: set[tuple[str, str]] = set()
    sides: dict[str, set[Side]] = {}
    unsaid: set[str] = set()
    for shot in in_order(job.shots):
        if not shot.needs:
            rows.append(Row(shot, 0, None, "nothing", "nobody has said what it needs"))
        for index, need in enumerate(shot.needs):
            state, trouble = _state(need, builds)
            rows.append(Row(shot, index, need, state, trouble))
            use = need.cover
            if isinstance(use, ByBuild) and use.build in builds:
                pieces = use.pieces or tuple(p.id for p in builds[use.build].pieces)
                seen.update((use.build, piece) for piece in pieces)
                sides.setdefault(use.build, set()).update(use.sides)
                if not use.sides:
                    unsaid.add(use.build)
    unseen = tuple(Unseen(b, p) for b in job.builds for p in b.pieces if (b.id, p.id) not in seen)
    never = {
        build_id: tuple(side for side in OUTSIDE if side not in found)
        for build_id, found in sides.items()
        if build_id not in unsaid and not found >= set(OUTSIDE)
    }
    return Coverage(tuple(rows), unseen, never)


def _state(need: Need, builds: dict[str, Build]) -> tuple[State, str]:
    match need.cover:
        case ByBuild(build=build, pieces=pieces):
            if build not in builds:
                return "nothing", f"there is no build “{build}” any more"
            known = {piece.id for piece in builds[build].pieces}
            gone = [piece for piece in pieces if piece not in known]
            return ("nothing", f"{builds[build].name} has no piece “{gone[0]}” any more") if gone else ("build", "")
        case ByStock():
            return "stock", ""
        case ByPeople():
            return "people", ""
        case ByDecision():
            return "decision", ""
    return "nothing", ""
