"""The order of wear: what each shot does to what it uses, which shot comes too late, and an order that ruins least.

Wear has three levels: fresh (0), soiled (1), gone (2). A pristine use needs what it uses fresh and leaves it so; a soiling
one needs it not gone and leaves it soiled; a destructive one needs it not gone and leaves it gone, unless copies are
counted for the takes: then copies are broken and the thing itself is spared.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from itertools import groupby
from typing import NamedTuple

from msgspec.structs import replace

from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot, Wear, in_order

FRESH, SOILED, GONE = 0, 1, 2
LEVEL_WORDS = ("fresh", "soiled", "gone")
MOST_EXACT = 12
"""Shots that depend on each other in a circle, up to which the best order is searched through."""

Item = tuple[str, str]
"""A build and one of its pieces."""


class Beat(NamedTuple):
    """What one shot does to what it uses: the item, the worst level it may have before, the least it has after."""

    shot: str
    day: date
    touches: tuple[tuple[Item, int, int], ...]


class Late(NamedTuple):
    """A use that comes too late: the shot, what it needs, how it finds it, and the shot that did it."""

    shot: str
    item: Item
    level: int
    spoiled_by: str


def needs_and_leaves(wear: Wear) -> tuple[int, int]:
    """The worst level that a use of that ``wear`` can do with, and the least level that it leaves."""
    return {"pristine": (FRESH, FRESH), "soiling": (SOILED, SOILED), "destructive": (SOILED, GONE)}[wear]


def beats(shots: Sequence[Shot], builds: Sequence[Build]) -> tuple[Beat, ...]:
    """Reduce ``shots``, in the order in which they are taken, to what they do to pieces of the ``builds``."""
    pieces = {b.id: tuple(p.id for p in b.pieces) for b in builds}
    found = []
    for shot in in_order(tuple(shots)):
        touches = [
            ((use.build, piece), *needs_and_leaves(use.wear))
            for use in shot.uses
            if not (use.wear == "destructive" and use.chance is not None)
            for piece in (use.pieces or pieces.get(use.build, ()))
        ]
        found.append(Beat(shot.id, shot.day, tuple(touches)))
    return tuple(found)


def walk(order: Sequence[Beat]) -> tuple[tuple[Late, ...], dict[Item, list[int]]]:
    """Take the beats in ``order``: the uses that come too late, and the level of each item after every beat."""
    level: dict[Item, int] = {}
    did: dict[Item, str] = {}
    late: list[Late] = []
    course: dict[Item, list[int]] = {item: [] for beat in order for item, _, _ in beat.touches}
    for beat in order:
        late += [
            Late(beat.shot, item, level[item], did[item])
            for item, most, _ in beat.touches
            if level.get(item, FRESH) > most
        ]
        for item, _, leaves in beat.touches:
            if leaves > level.get(item, FRESH):
                level[item], did[item] = leaves, beat.shot
        for item, levels in course.items():
            levels.append(level.get(item, FRESH))
    return tuple(late), course


class Proposal(NamedTuple):
    """An order of wear that keeps every shot on its day."""

    order: tuple[str, ...]
    late_before: tuple[Late, ...]
    late_after: tuple[Late, ...]
    moved: tuple[tuple[date, tuple[str, ...], tuple[str, ...]], ...]
    """Days whose order changes: as planned, as proposed."""
    exact: bool
    """Whether no order within the days leaves fewer late uses; false when a circle was too large to search through."""


def least_wear(order: Sequence[Beat]) -> Proposal:
    """Propose the order within each day in which the fewest uses come too late; of those, one that moves least.

    Parameters
    ----------
    order
        All beats, as planned; days stay in their order and keep their shots.
    """
    level: dict[Item, int] = {}
    found: list[Beat] = []
    moved = []
    exact = True
    for day, group in groupby(order, key=lambda beat: beat.day):
        planned = list(group)
        best, whole = _day(planned, level)
        exact = exact and whole
        if _late(best, level) == _late(planned, level):
            best = planned
        if best != planned:
            moved.append((day, tuple(b.shot for b in planned), tuple(b.shot for b in best)))
        found += best
        for beat in best:
            _wear_down(level, beat)
    return Proposal(tuple(b.shot for b in found), walk(order)[0], walk(found)[0], tuple(moved), exact)


def _wear_down(level: dict[Item, int], beat: Beat) -> None:
    for item, _, leaves in beat.touches:
        level[item] = max(level.get(item, FRESH), leaves)


def _late(order: Sequence[Beat], start: dict[Item, int]) -> int:
    level, late = dict(start), 0
    for beat in order:
        late += sum(level.get(item, FRESH) > most for item, most, _ in beat.touches)
        _wear_down(level, beat)
    return late


def _day(planned: list[Beat], start: dict[Item, int]) -> tuple[list[Beat], bool]:
    """The best order of one day. A shot should precede another if that one leaves something too worn for it;
    what should precede each other in a circle is searched through together, the circles follow one another.
    """
    before = _precedence(planned)
    best: list[Beat] = []
    exact, level = True, dict(start)
    for group in _circles(len(planned), before):
        members = [planned[i] for i in group]
        if len(members) > MOST_EXACT:
            members = sorted(members, key=lambda beat: max((leaves for _, _, leaves in beat.touches), default=FRESH))
            exact = False
        elif len(members) > 1:
            members = _search(members, level)
        best += members
        for beat in members:
            _wear_down(level, beat)
    return best, exact


def _precedence(planned: list[Beat]) -> list[set[int]]:
    """For each beat those that it should come before."""
    after: list[set[int]] = [set() for _ in planned]
    wants: dict[Item, list[tuple[int, int]]] = {}
    for i, beat in enumerate(planned):
        for item, most, _ in beat.touches:
            wants.setdefault(item, []).append((i, most))
    for j, beat in enumerate(planned):
        for item, _, leaves in beat.touches:
            for i, most in wants[item]:
                if i != j and leaves > most:
                    after[i].add(j)
    return after


def _circles(count: int, after: list[set[int]]) -> list[list[int]]:
    """Groups that should precede each other in a circle, in an order that keeps every precedence between groups and
    otherwise stays as close to the planned order as taking the earliest free group does.
    """
    reach = [_reached(i, after) for i in range(count)]
    group_of: dict[int, list[int]] = {}
    groups: list[list[int]] = []
    for i in range(count):
        if i in group_of:
            continue
        members = [i] + [j for j in range(i + 1, count) if j in reach[i] and i in reach[j]]
        groups.append(members)
        group_of.update(dict.fromkeys(members, members))
    ordered: list[list[int]] = []
    waiting = list(groups)
    while waiting:
        free = next(g for g in waiting if not any(g[0] in reach[other[0]] for other in waiting if other is not g))
        waiting.remove(free)
        ordered.append(free)
    return ordered


def _reached(start: int, after: list[set[int]]) -> set[int]:
    seen: set[int] = set()
    waiting = list(after[start])
    while waiting:
        i = waiting.pop()
        if i not in seen:
            seen.add(i)
            waiting += after[i]
    return seen


def _search(members: list[Beat], start: dict[Item, int]) -> list[Beat]:
    """The order of a circle with the fewest late uses, then the fewest pairs out of the planned order.

    What is worn depends only on which shots are done, not on their order, so the best way to each set of done shots is
    found once (dynamic programming over sets).
    """
    n = len(members)
    best: list[tuple[int, int, int]] = [(0, 0, -1)] + [(10**9, 10**9, -1)] * ((1 << n) - 1)
    for done in range(1 << n):
        level = dict(start)
        for i in range(n):
            if done >> i & 1:
                _wear_down(level, members[i])
        late, turned, _ = best[done]
        for i in range(n):
            if done >> i & 1:
                continue
            more = sum(level.get(item, FRESH) > most for item, most, _ in members[i].touches)
            cost = (late + more, turned + (done >> (i + 1)).bit_count(), i)
            if cost < best[done | 1 << i]:
                best[done | 1 << i] = cost
    order, done = [], (1 << n) - 1
    while done:
        last = best[done][2]
        order.append(members[last])
        done ^= 1 << last
    return order[::-1]


def take_order(job: Job, order: Sequence[str]) -> Job:
    """Return the ``job`` whose shots are numbered within their days as in ``order``, a list of all shots' ids."""
    place = {shot_id: i for i, shot_id in enumerate(order)}
    by_day: dict[date, list[str]] = {}
    for shot in sorted(job.shots, key=lambda s: place[s.id]):
        by_day.setdefault(shot.day, []).append(shot.id)
    within = {shot_id: i for ids in by_day.values() for i, shot_id in enumerate(ids, 1)}
    return replace(
        job, shots=tuple(s if s.order == within[s.id] else replace(s, order=within[s.id]) for s in job.shots)
    )
