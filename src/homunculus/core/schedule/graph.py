"""The graph of what has to be done: what waits for what, who and what it takes, and when each comes out.

Work is placed by the shop's hours, clocks run through nights and days off. Where several could be done next, that is taken
which can begin first; of those the one that is due first, then the first of the list (a serial schedule without delay:
common practice in project scheduling).
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from heapq import heappop, heappush, heapreplace

from homunculus.core.errors import UserError
from homunculus.core.job.shop import ShopHours
from homunculus.core.schedule.calendar import FARTHEST_DAYS, next_open, shifts_of, work, work_unbroken
from homunculus.core.schedule.wall_clock import later


class CannotBe(Exception):  # noqa: N818  (it is an answer: from here on nothing can be dated)
    """Something that never ends, or cannot be done as things stand."""


@dataclass(slots=True)
class Link:
    """One that must be done before, by its number."""

    of: int
    least_s: float = 0.0
    most_s: float | None = None


@dataclass(slots=True)
class Node:
    """One thing to do: hands, then a clock, or one of them."""

    name: str
    after: list[Link]
    hands_s: float = 0.0
    unbroken: bool = False
    """Whether the hands cannot be left overnight."""
    clock: Callable[[datetime], float] | None = None
    """Seconds that pass by themselves, from when the hands left it. It raises :class:`CannotBe` where that never ends."""
    takes: tuple[str, ...] = ()
    """What it holds from beginning to end, of which there is one."""
    not_before: datetime | None = None
    due: datetime = datetime.max


@dataclass(slots=True)
class Placed:
    """When a node is done, and for what it waited."""

    start: datetime
    left: datetime
    """When the hands are off it."""
    end: datetime
    waited: str = ""


@dataclass
class Schedule:
    """All that could be placed, by number; and what stopped the rest."""

    placed: dict[int, Placed] = field(default_factory=dict)
    stopped: dict[int, CannotBe] = field(default_factory=dict)


def place(nodes: Sequence[Node], begins: datetime, crew: int, hours: ShopHours, zone: str = "") -> Schedule:
    """Place all nodes.

    Parameters
    ----------
    nodes
        In their order: where nothing else decides, the first goes first.
    begins
        Nothing begins before.
    crew
        How many work side by side; each does one thing at a time.
    hours
        The shop's.
    zone
        Time zone by which the clocks of the wall change.

    Returns
    -------
    Schedule
        A node that stops, and all that wait for it, are not placed.

    Raises
    ------
    UserError
        When some wait for each other in a circle.
    """
    return _Placing(nodes, begins, crew, hours, zone).all()


class _Placing:
    """One placing: what is done, what could be next, who is free."""

    def __init__(self, nodes: Sequence[Node], begins: datetime, crew: int, hours: ShopHours, zone: str) -> None:
        self.nodes, self.begins, self.hours, self.zone = nodes, begins, shifts_of(hours), zone
        self.made = Schedule()
        self.free = [begins] * crew
        self.held: dict[str, datetime] = {}
        self.waits = [len(node.after) for node in nodes]
        self.follow: list[list[int]] = [[] for _ in nodes]
        for number, node in enumerate(nodes):
            for link in node.after:
                self.follow[link.of].append(number)
        self.coming: list[tuple[datetime, datetime, int]] = []
        """Work that can begin later than the first hands are free: from when, due, number."""
        self.waiting: list[tuple[datetime, int]] = []
        """Work that waits for hands alone: due, number."""
        self.holding: list[int] = []
        """What takes something up of which there is one."""
        self.given_up: set[int] = set()
        self.ready: dict[int, datetime] = {}
        """When all that comes before a node is done."""

    def all(self) -> Schedule:
        """Place one after the other."""
        pending = [number for number, left in enumerate(self.waits) if not left]
        while True:
            while pending:
                pending += self._meet(pending.pop())
            number = self._next()
            if number is None:
                break
            pending += self._do(number)
        if len(self.made.placed) + len(self.given_up) < len(self.nodes):
            stuck = next(
                n.name for i, n in enumerate(self.nodes) if i not in self.made.placed and i not in self.given_up
            )
            raise UserError(
                f"“{stuck}” waits for something that waits for it", "route", "Take one of the two waits away"
            )
        return self.made

    def _meet(self, number: int) -> list[int]:
        """All that comes before a node is done: a clock runs by itself, the rest queues."""
        node = self.nodes[number]
        self.ready[number] = at = self._ready_at(node)
        if node.takes:
            self.holding.append(number)
        elif node.hands_s:
            heappush(self.coming, (at, node.due, number))
        else:
            return self._do(number)
        return []

    def _next(self) -> int | None:
        """What can begin first, taken out of its queue."""
        if not (self.coming or self.waiting or self.holding):
            return None
        opens = next_open(self.free[0], self.hours)
        while self.coming and self.coming[0][0] <= opens:
            _, due, number = heappop(self.coming)
            heappush(self.waiting, (due, number))
        if not self.holding:
            return heappop(self.waiting)[1] if self.waiting else heappop(self.coming)[2]
        found: list[tuple[datetime, datetime, int]] = []
        if self.waiting:
            found.append((opens, *self.waiting[0]))
        elif self.coming:
            at, due, number = self.coming[0]
            found.append((next_open(at, self.hours), due, number))
        found += [(self._begin(n), self.nodes[n].due, n) for n in self.holding]
        number = min(found)[2]
        if number in self.holding:
            self.holding.remove(number)
        elif self.waiting:
            heappop(self.waiting)
        else:
            heappop(self.coming)
        return number

    def _ready_at(self, node: Node) -> datetime:
        at = self.begins if node.not_before is None else max(self.begins, node.not_before)
        for link in node.after:
            end = self.made.placed[link.of].end
            at = max(at, end + timedelta(seconds=link.least_s) if link.least_s else end)
        return at

    def _begin(self, number: int) -> datetime:
        node = self.nodes[number]
        at = max([self.ready[number], *(self.held[thing] for thing in node.takes if thing in self.held)])
        return next_open(max(at, self.free[0]), self.hours) if node.hands_s else at

    def _do(self, number: int) -> list[int]:
        """Place a node; who may now begin."""
        node = self.nodes[number]
        try:
            self.made.placed[number] = self._place(node, self.ready[number])
        except CannotBe as trouble:
            self.made.stopped[number] = trouble
            self._give_up(number)
            return []
        found = []
        for after in self.follow[number]:
            self.waits[after] -= 1
            if self.waits[after] == 0 and after not in self.given_up:
                found.append(after)
        return found

    def _give_up(self, number: int) -> None:
        """What waits for a node that stopped has no date."""
        pending = [number]
        while pending:
            one = pending.pop()
            if one not in self.given_up:
                self.given_up.add(one)
                pending += self.follow[one]

    def _place(self, node: Node, at: datetime) -> Placed:
        waited = ""
        if node.not_before is not None and at == node.not_before > self.begins:
            waited = "a signature"
        for thing in node.takes:
            if self.held.get(thing, at) > at:
                at, waited = self.held[thing], thing
        if node.hands_s:
            if self.free[0] > at:
                at, waited = self.free[0], "hands"
            start, left = (work_unbroken if node.unbroken else work)(at, node.hands_s, self.hours)
        else:
            start = left = at
        end = later(left, node.clock(left), self.zone) if node.clock else left
        if (end - self.begins).days > FARTHEST_DAYS:
            raise CannotBe
        if node.hands_s:
            heapreplace(self.free, left)
        for thing in node.takes:
            self.held[thing] = end
        return Placed(start, left, end, waited)


def too_late(nodes: Sequence[Node], made: Schedule) -> list[tuple[int, int, float]]:
    """List what began later than it may: the node, what it follows, and by how many seconds.

    Parameters
    ----------
    nodes
        All of them.
    made
        As they were placed.
    """
    found = []
    for number, done in made.placed.items():
        for link in nodes[number].after:
            if link.most_s is not None and link.of in made.placed:
                over = (done.start - made.placed[link.of].end).total_seconds() - link.most_s
                if over > 1:
                    found.append((number, link.of, over))
    return found
