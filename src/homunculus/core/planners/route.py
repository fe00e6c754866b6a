"""Routes and assembly of a build as one graph of things to do, and when each comes out."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator
from datetime import datetime
from functools import partial

from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Phrase
from homunculus.core.job.build import Piece
from homunculus.core.job.counts import unsigned
from homunculus.core.job.operations import After, AnyOperation, Insert, Layer, LayUp, Pour
from homunculus.core.operations.register import kind_of
from homunculus.core.plan.build_plan import BuildSheet, Matter, PlannedPour, Task
from homunculus.core.planners.counts import MOST_TURNS, turns_of
from homunculus.core.planners.scale import on_the_figure
from homunculus.core.planners.setting import Stopped, seconds_to_set, set_figure
from homunculus.core.schedule.calendar import Shifts, day_length, next_open, shifts_of
from homunculus.core.schedule.graph import CannotBe, Link, Node, Placed, Schedule, place, too_late

ASSEMBLY = ""
"""Stands for a piece where an operation is of the assembly."""
Key = tuple[str, str]
"""An operation: its piece, or :data:`ASSEMBLY`, and its id."""


STRETCH_S = 4 * 3600.0
"""Work by hand is laid aside for something that is due sooner after so long: common practice, no source."""
MOST_WORK_S = 2000 * 3600.0
"""What takes longer is placed in one: nobody would follow it by the hour."""


class Walk:
    """All of a build, placed.

    Parameters
    ----------
    graph
        Its nodes and operations.
    made
        As they were placed.
    """

    def __init__(self, graph: _Graph, made: Schedule) -> None:
        self.nodes, self.keys, self.made = graph.nodes, graph.keys, made
        self.operations, self.held = graph.operations, graph.held
        self._done: dict[Key, list[Placed]] = {}
        for number, key in enumerate(graph.keys):
            if number in made.placed:
                self._done.setdefault(key, []).append(made.placed[number])

    def done(self, key: Key) -> list[Placed]:
        """The stretches of the operation ``key`` that are placed, in their order."""
        return self._done.get(key, [])

    def stops(self) -> Iterator[tuple[Key, CannotBe]]:
        """What cannot be done, and why."""
        return ((self.keys[i], trouble) for i, trouble in self.made.stopped.items())


def all_operations(sheet: BuildSheet) -> dict[Key, tuple[Piece | None, AnyOperation]]:
    """The operations of the ``sheet``'s build by piece and id, the assembly's last.

    Raises
    ------
    UserError
        When two of one list have one id.
    """
    found: dict[Key, tuple[Piece | None, AnyOperation]] = {}
    build = sheet.context.build
    for owner, name, ops in (*((p, p.id, p.route) for p in build.pieces), (None, ASSEMBLY, build.assembly)):
        for op in ops:
            if (name, op.id) in found:
                raise UserError(f"Two operations of {owner.name if owner else build.name} are called “{op.id}”", "route",
                                "Give each an id of its own")  # fmt: skip
            found[name, op.id] = (owner, op)
    return found


def walk(sheet: BuildSheet, dues: dict[str, datetime]) -> Walk:
    """Place all operations of the ``sheet``'s build.

    Parameters
    ----------
    sheet
        With counts, masses and pouring times.
    dues
        By when each piece is needed, and under :data:`ASSEMBLY` the figure.

    Raises
    ------
    UserError
        When an operation waits for one that is not there, or for itself.
    """
    return _Graph(sheet, dues).placed()


class _Graph:
    """The nodes of a build while they are put together."""

    def __init__(self, sheet: BuildSheet, dues: dict[str, datetime]) -> None:
        self.sheet, self.dues = sheet, dues
        self.operations = all_operations(sheet)
        self.lists: dict[str, list[Key]] = {}
        for key in self.operations:
            self.lists.setdefault(key[0], []).append(key)
        self.pours = {pour.key: pour for pour in sheet.pours}
        self.together: dict[Key, int] = {}
        """Which of the operations of a casting are done turn by turn, one after the other."""
        self.nodes: list[Node] = []
        self.keys: list[Key] = []
        """Which operation each node is of: all of it, a coat, a turn of castings, a stretch of work."""
        self.last: dict[Key, int] = {}
        """The node that ends each operation."""
        self.first: dict[Key, list[int]] = {}
        """Those that begin it."""
        self.held = self._held()

    def placed(self) -> Walk:
        build, shop = self.sheet.context.build, self.sheet.context.shop
        for piece in build.pieces:
            self._lay_out(piece)
        self._lay_out(None)
        for key in self.operations:
            self._link(key)
        made = place(self.nodes, build.starts, build.crew, shop.hours, shop.air.zone)
        return Walk(self, made)

    # ------------------------------------------------------------------------------------- nodes
    def _lay_out(self, piece: Piece | None) -> None:
        """The operations of one list as nodes; what is done for each casting is done turn by turn."""
        name = piece.id if piece else ASSEMBLY
        ops = [self.operations[key][1] for key in self.lists.get(name, ())]
        if piece:
            self.sheet.part("work", piece, partial(self._works, piece, ops))
        turn_ops: list[AnyOperation] = []
        for op in ops:
            if piece and piece.mould and op.loop == "casting":
                turn_ops.append(op)
            else:
                self._turns(piece, turn_ops)
                turn_ops = []
                self._once(piece, op)
        self._turns(piece, turn_ops)

    def _once(self, piece: Piece | None, op: AnyOperation) -> None:
        kind, key = kind_of(op), (piece.id if piece else ASSEMBLY, op.id)
        if kind.needs_mould and (piece is None or piece.mould is None):
            raise UserError(f"“{op.called}” of {piece.name if piece else self.sheet.context.build.name} needs a mould", "route",
                            "Give the piece a mould, or take the operation out")  # fmt: skip
        figure = self._work(piece, op)
        seconds, stretches = figure.number if figure else 0.0, kind.coats(op)
        if kind.laid_aside and len(self.lists) > 1 and seconds <= MOST_WORK_S:
            stretches = max(1, math.ceil(seconds / STRETCH_S))
        for i in range(stretches):
            clock = self._clock(piece, op, last=i == stretches - 1)
            self._node(key, piece, op, seconds / stretches, clock, first=i == 0, after_own=i > 0)

    def _works(self, piece: Piece, ops: list[AnyOperation]) -> None:
        for op in ops:
            if piece.mould or not kind_of(op).needs_mould:
                self._work(piece, op)

    def _work(self, piece: Piece | None, op: AnyOperation) -> Figure | None:
        """Working time of an operation, as often as it is done; what is worked in by hand was reckoned with its mix."""
        return self.sheet.find(specs.WORK, piece.id if piece else "", op=op.id) or kind_of(op).work(
            self.sheet, piece, op
        )

    def _turns(self, piece: Piece | None, ops: list[AnyOperation]) -> None:
        if not ops or piece is None:
            return
        turns, group = turns_of(self.sheet, piece), len(self.nodes)
        work: dict[str, float] = {}
        """Seconds of each for one casting."""
        for op in ops:
            self.together[piece.id, op.id] = group
            figure = self._work(piece, op)
            work[op.id] = figure.number / sum(turns) if figure and turns else 0.0
        if len(turns) > MOST_TURNS:
            most = max(
                (f.number for f in self.sheet.figures if f.spec is specs.CASTINGS and f.subject.piece == piece.id),
                default=0,
            )
            trouble = Stopped("mould", piece.id, f"{piece.name}: more castings than can be planned one after another",
                              (f"{most:.0f} from its moulds. More moulds, or fewer copies.",))  # fmt: skip
            for op in ops:
                self._node((piece.id, op.id), piece, op, 0.0, _raise(trouble), first=True)
            return
        before: int | None = None
        for turn, filled in enumerate(turns):
            for op in ops:
                seconds = work[op.id] * filled
                number = self._node((piece.id, op.id), piece, op, seconds, self._clock(piece, op, last=turn == 0),
                                    first=turn == 0)  # fmt: skip
                if before is not None:
                    self.nodes[number].after.append(Link(before))
                before = number
        if not turns:
            for op in ops:
                self._node((piece.id, op.id), piece, op, 0.0, None, first=True)

    def _node(self, key: Key, piece: Piece | None, op: AnyOperation, seconds: float, clock: Callable[[datetime], float] | None, *,
              first: bool, after_own: bool = False) -> int:  # fmt: skip
        number = len(self.nodes)
        name = f"{piece.name}: {op.called}" if piece else op.called
        node = Node(name, [Link(number - 1)] if after_own else [], seconds, kind_of(op).unbroken, clock, op.takes,
                    self._not_before(key), self.dues.get(key[0], datetime.max))  # fmt: skip
        if isinstance(op, Pour) and piece:
            node.clock = self._checked_pour(piece, op, clock)
        self.nodes.append(node)
        self.keys.append(key)
        if first:
            self.first.setdefault(key, []).append(number)
        self.last[key] = number
        return number

    # ------------------------------------------------------------------------------------ clocks
    def _clock(self, piece: Piece | None, op: AnyOperation, *, last: bool) -> Callable[[datetime], float] | None:
        if isinstance(op, Layer) and not last and op.between_s is not None:
            return lambda _start, s=op.between_s: s  # type: ignore[misc]
        if waits := kind_of(op).waits_s(op):
            return lambda _start: waits
        pour = self.pours.get((piece.id, op.id)) if piece else None
        setting = pour.setting if pour else None
        if pour is None or setting is None:
            return None
        # not by way of self: a circle of nodes and clocks would wait for the collector, which then halts a drag
        return partial(set_figure if last else seconds_to_set, self.sheet, pour, setting)

    def _checked_pour(
        self, piece: Piece, op: Pour, clock: Callable[[datetime], float] | None
    ) -> Callable[[datetime], float] | None:
        """A pour that cannot be done in one go stops what is behind it."""
        count, time = (
            self.sheet.find(specs.BATCHES, piece.id, op=op.id),
            self.sheet.find(specs.POUR_TIME, piece.id, op=op.id),
        )
        if count is None or time is None:
            return clock
        if count.value and time.number <= day_length(self.sheet.context.shop.hours) and count.number <= 100_000:
            return clock
        why: Phrase = ("No batch can be mixed before it gels. Cool the shop, or choose a slower material.",)
        if count.value:
            why = (
                count,
                " batches take ",
                time,
                ", longer than the shop is open. More hands, a larger vessel, or part it.",
            )
        return _raise(Stopped("mix", piece.id, f"{piece.name}: cannot be poured in one go", why))

    # ------------------------------------------------------------------------------------- links
    def _link(self, key: Key) -> None:
        """What an operation waits for: what it names, else the one before it; the assembly for all that are part of the figure."""
        op, mine = self.operations[key][1], self.lists[key[0]]
        place_in = mine.index(key)
        links: list[Link] = []
        if op.after:
            for wait in op.after:
                before = _named(key[0], wait)
                if before not in self.last:
                    raise UserError(f"“{op.called}” waits for “{wait.of}”, which is not there", "route",
                                    "Let it wait for another, or for none")  # fmt: skip
                links += self._link_to(key, before, wait.least_s, wait.most_s)
        elif place_in:
            links += self._link_to(key, mine[place_in - 1])
        elif key[0] == ASSEMBLY:
            links += [Link(number) for number in self._ends_of_the_figure()]
        if isinstance(op, Insert):
            if op.piece not in self.lists and op.piece not in {p.id for p in self.sheet.context.build.pieces}:
                raise UserError(
                    f"“{op.called}” lays in “{op.piece}”, which is no piece of this build", "route", "Name a piece"
                )
            links += [Link(self.last[k]) for k in self.lists.get(op.piece, ())[-1:]]
        for number in self.first[key]:
            known = {link.of for link in self.nodes[number].after}
            self.nodes[number].after += [link for link in links if link.of not in known]

    def _link_to(self, key: Key, before: Key, least_s: float = 0.0, most_s: float | None = None) -> list[Link]:
        """A wait for another; those of one casting follow each other turn by turn already."""
        if key in self.together and self.together[key] == self.together.get(before):
            return []
        return [Link(self.last[before], least_s, most_s)]

    def _ends_of_the_figure(self) -> Iterator[int]:
        for piece in self.sheet.context.build.pieces:
            if piece.id in self.lists and on_the_figure(piece):
                yield self.last[self.lists[piece.id][-1]]

    # -------------------------------------------------------------------------------- signatures
    def _held(self) -> dict[Key, str]:
        """Which operations wait for a signature that is not in: those that name it, else all after the one that shows it, else all that
        builds a mould."""
        missing = unsigned(self.sheet.context.build.signoffs)
        found: dict[Key, list[str]] = {}
        for kind in missing:
            named = [key for key, (_, op) in self.operations.items() if kind in op.held_by]
            shown = [key for key, (_, op) in self.operations.items() if kind in op.shows]
            for key in named or (self._behind(shown) if shown else self._of_moulds()):
                found.setdefault(key, []).append(kind)
        return {key: ", ".join(kinds) for key, kinds in found.items()}

    def _of_moulds(self) -> Iterator[Key]:
        return (key for key, (_, op) in self.operations.items()
                if op.loop == "mould" and isinstance(op, Pour | LayUp | Layer))  # fmt: skip

    def _behind(self, shown: list[Key]) -> Iterator[Key]:
        """All that come after, by what they name and by their place."""
        follow: dict[Key, list[Key]] = {}
        for owner, mine in self.lists.items():
            for i, key in enumerate(mine):
                before = [_named(owner, wait) for wait in self.operations[key][1].after] or mine[i - 1 : i]
                if not before and owner == ASSEMBLY:
                    before = [self.lists[p.id][-1] for p in self.sheet.context.build.pieces if p.id in self.lists]
                for one in before:
                    follow.setdefault(one, []).append(key)
        reached, pending = set(shown), list(shown)
        while pending:
            for key in follow.get(pending.pop(), ()):
                if key not in reached:
                    reached.add(key)
                    pending.append(key)
        return (key for key in self.operations if key in reached and key not in shown)

    def _not_before(self, key: Key) -> datetime | None:
        """Nothing that is held is begun before the day on which the last missing signature is expected."""
        if key not in self.held:
            return None
        kinds, opens = self.held[key].split(", "), self.sheet.context.shop.hours.opens
        days = [
            s.expected for s in self.sheet.context.build.signoffs if s.at is None and s.expected and s.kind in kinds
        ]
        return datetime.combine(max(days), opens) if days else None


def _named(owner: str, wait: After) -> Key:
    """Which operation a wait in the list of an owner names."""
    whose, slash, name = wait.of.rpartition("/")
    return (whose, name) if slash else (owner, name)


def _raise(trouble: CannotBe) -> Callable[[datetime], float]:
    def stop(_start: datetime) -> float:
        raise trouble

    return stop


def tasks(sheet: BuildSheet, walked: Walk) -> Iterator[Task]:
    """The bars of a build as it was ``walked``: work, what sets behind it; all turns of a casting as one. ``sheet`` has its pours."""
    pours, shifts = {pour.key: pour for pour in sheet.pours}, shifts_of(sheet.context.shop.hours)
    for key, (piece, op) in walked.operations.items():
        done = walked.done(key)
        if not done:
            continue
        whose, held, waited = key[0], walked.held.get(key, ""), done[0].waited
        name = f"{piece.name}: {op.called}" if piece else op.called
        pour, matter = pours.get(key), _matter(op, pours.get(key))
        if kind_of(op).one_bar:
            if done[-1].end > done[0].start:
                yield Task(name, whose, matter, done[0].start, done[-1].end, "last out", held, op.id, waited)
            continue
        for one in _joined(done, shifts) if kind_of(op).laid_aside else done:
            words = "poured" if isinstance(op, Pour) else "done"
            if one.left > one.start:
                yield Task(name, whose, kind_of(op).hands_matter, one.start, one.left, words, held, op.id, one.waited)
            if one.end > one.left:
                yield Task(name, whose, matter, one.left, one.end, "opens" if pour else "dry", held, op.id,
                           one.waited if one.left == one.start else "")  # fmt: skip


def _joined(done: list[Placed], shifts: Shifts) -> Iterator[Placed]:
    """Stretches of work that follow each other without anything between, as one."""
    now = done[0]
    for one in done[1:]:
        if one.start <= next_open(now.left, shifts):
            now = Placed(now.start, one.left, one.end, now.waited)
        else:
            yield now
            now = one
    yield now


def _matter(op: AnyOperation, pour: PlannedPour | None) -> Matter:
    if pour and pour.card.clock == "baked":
        return "oven"
    return kind_of(op).matter(op)


def windows_missed(walked: Walk) -> list[tuple[Key, Key, float]]:
    """What begins later than it may after something: the operation, what it follows, seconds; of a build as it was ``walked``."""
    return [(walked.keys[n], walked.keys[of], over) for n, of, over in too_late(walked.nodes, walked.made)]
