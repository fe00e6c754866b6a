"""What a plan is made of, beneath the planners that make it."""

from __future__ import annotations

from bisect import bisect_left, bisect_right
from collections.abc import Callable
from datetime import datetime
from functools import cached_property
from operator import is_
from typing import Any, Literal, TypeVar

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.cure.clock import Clock
from homunculus.core.cure.temperature import Daily, Programme
from homunculus.core.figures import Figure, FigureSpec, Given, Phrase, Station, Subject
from homunculus.core.form.measure import Measure
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.cameras import CameraMode
from homunculus.core.job.cards import Cards, MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import Shot
from homunculus.core.job.sourced import Sourced
from homunculus.core.plan.by_piece import ByPiece, Part, alone, the_same
from homunculus.core.plan.facts import Facts, Want
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.sheet import Mind, Sheet
from homunculus.core.quantities import Kind

Matter = Literal["labour", "wet", "curing", "air_dry", "oven"]
Hold = Literal["holds", "strained", "fails"]
Result = TypeVar("Result")
PourOf = Literal["jacket", "mould", "layer", "casting"]
"""For what something is mixed, in the order in which it is usually done."""


class Context(Struct, frozen=True, eq=False):
    """All that one build's figures may depend on, and nothing else: what the memory is keyed by."""

    build: Build
    shots: tuple[Shot, ...]
    shop: Shop
    cards: Cards
    facts: Facts
    sets: tuple[SetPlan, ...] = ()
    """The sets of its shots, in their order."""
    making: Context | None = None
    """The same without cameras and places: all that its making depends on, which is most of the work."""

    @property
    def mode(self) -> CameraMode:
        """How the shop's camera records."""
        return self.cards.camera(self.shop.camera).mode(self.shop.mode)

    @property
    def programme(self) -> Programme:
        """The shop's air over time."""
        return Daily(self.shop.air)


def card_given(card: MaterialCard, sourced: Sourced, kind: Kind, label: str) -> Given:
    """A value of a ``card`` as an input of a ``kind`` with a ``label``; its source says whose word it is.

    ``sourced`` is the card's value with its provenance.
    """
    return Given(sourced.value, kind, label, f"{card.name}: {sourced.source}")


class Setting(Struct, frozen=True, eq=False):
    """How something sets after hands have left it: its material, its clock, and the mould's lag."""

    card: MaterialCard
    clock: Clock
    lag_s: float = 0.0


class PlannedPour(Struct, frozen=True, eq=False):
    """Something that is mixed: for a mould or a half of it, a jacket, castings, a coat."""

    build: str
    piece: str
    op: str
    """The operation; empty where the route pours nothing and the mould is poured undated."""
    name: str
    """“gallery: rubber, first half”."""
    called: str
    """The same without the piece."""
    of: PourOf
    card: MaterialCard
    mixes: tuple[Mix, ...]
    times: int
    """How often: once a mould, once a turn of castings."""
    coats: int
    """How often each time: coat by coat."""
    keyed: bool
    """Whether its batches need not run into one body."""
    setting: Setting | None
    """None where its card does not say when it has set."""
    logged_as: tuple[str, ...]
    """The names under which the log knows it: the first pour of a mould also by none."""
    dated: bool = True
    """Whether the route has it. What a route leaves out is reckoned and may be weighed, but nothing waits for it."""

    @property
    def key(self) -> tuple[str, str]:
        """Which it is of its build."""
        return self.piece, self.op

    @property
    def verb(self) -> str:
        """What was done when it is in: “poured”."""
        return {"jacket": "laid up", "layer": "put on"}.get(self.of, "poured")

    def mix_name(self, index: int) -> str:
        """How figures name the mix ``index``; empty where there is but one."""
        return self.mixes[index].name if len(self.mixes) > 1 else ""


class Task(Struct, frozen=True):
    """One bar of the forward plan."""

    name: str
    piece: str
    matter: Matter
    start: datetime
    end: datetime
    done: str = "opens"
    """What the end is called."""
    held: str = ""
    """Signatures that it waits for."""
    op: str = ""
    """Which operation it is."""
    waited: str = ""
    """For what it waited beside what comes before it: hands, a signature, something that is taken up."""


class Bar(Struct, frozen=True):
    """One pour or cure on the clock."""

    name: str
    build: str
    piece: str
    matter: Matter
    start: datetime
    end: datetime
    gels: datetime | None = None
    opens: datetime | None = None
    planned: bool = False
    done: str = "opens"
    """What the end is called."""
    ended: bool = False
    """Whether it was opened or spoiled."""
    held: str = ""
    """Signatures that it waits for."""
    op: str = ""


class Headline(Struct, frozen=True, eq=False):
    """What a station of the line shows for a build: one value, and a note beneath."""

    station: Station
    value: Figure | Given
    note: Phrase = ()


class Limit(Struct, frozen=True, eq=False):
    """What a scale must keep to: what it is called and how it stands at any scale."""

    key: str
    name: str
    note: Phrase
    value: Figure | None
    hold: Callable[[float], Hold]
    remedy: str


class BuildPlan(Struct, frozen=True, eq=False, dict=True):
    """Every figure of one build, its tasks, headlines, cautions and wants."""

    build: Build
    own: tuple[Figure, ...]
    """Those that speak of the build; ``figures`` are these and those of its shots' sets."""
    tasks: tuple[Task, ...]
    headlines: tuple[Headline, ...]
    minds: tuple[Mind, ...]
    wants: tuple[Want, ...]
    held: str
    """A sentence, when the build could not be reckoned through: what is in the way."""
    index: dict[tuple[str, Subject], Figure]
    """The figures by the name of their spec and their subject."""
    pours: tuple[PlannedPour, ...] = ()
    """All that is mixed, piece by piece in the order of their routes."""
    sets: tuple[SetPlan, ...] = ()
    """The sets of its shots, in their order."""
    limits: tuple[Limit, ...] = ()
    """What its scale must keep to."""

    @cached_property
    def figures(self) -> tuple[Figure, ...]:
        """Every figure that it has to do with: its own, and those of the sets in which it stands."""
        return (*self.own, *(figure for found in self.sets for figure in found.figures))

    @cached_property
    def by_subject(self) -> dict[tuple[FigureSpec, Subject], Figure]:
        """The figures by what they are and whom they speak of."""
        return {(figure.spec, figure.subject): figure for figure in self.figures}

    @cached_property
    def figure_ids(self) -> frozenset[int]:
        """By which its figures are known as the very same objects in another plan, as long as this one lives."""
        return frozenset(map(id, self.figures))

    @cached_property
    def bars(self) -> tuple[Bar, ...]:
        """What the clock may show of its tasks, by their beginning: all but work by hand."""
        shown = sorted((t for t in self.tasks if t.matter != "labour"), key=lambda t: t.start)
        return tuple(
            Bar(
                t.name,
                self.build.id,
                t.piece,
                t.matter,
                t.start,
                t.end,
                planned=True,
                done=t.done,
                held=t.held,
                op=t.op,
            )
            for t in shown
        )

    @cached_property
    def _begins(self) -> tuple[tuple[datetime, ...], tuple[Bar, ...], tuple[datetime, ...]]:
        """When each of its bars begins; which of them are poured, and when those begin."""
        wet = tuple(bar for bar in self.bars if bar.matter == "wet")
        return tuple(bar.start for bar in self.bars), wet, tuple(bar.start for bar in wet)

    @cached_property
    def _seen_ahead(self) -> dict[tuple[datetime, datetime], tuple[list[Bar], Bar | None]]:
        return {}

    def ahead(self, now: datetime, until: datetime) -> tuple[list[Bar], Bar | None]:
        """What of its plan goes on ``now`` or begins before ``until``, and what is poured next; kept for the last that was asked for."""
        known = self._seen_ahead.get((now, until))
        if known is None:
            starts, wet, begins = self._begins
            index = bisect_right(begins, now)
            near = [bar for bar in self.bars[: bisect_left(starts, until)] if now < bar.end]
            known = near, (wet[index] if index < len(wet) else None)
            self._seen_ahead.clear()
            self._seen_ahead[now, until] = known
        return known

    def pour(self, piece: str, op: str) -> PlannedPour | None:
        """Find a pour by its ``piece`` and its operation ``op``; where the piece has no such one, its first."""
        mine = [pour for pour in self.pours if pour.piece == piece]
        return next((pour for pour in mine if pour.op == op), mine[0] if mine else None)

    def find(self, spec: FigureSpec, piece: str = "", shot: str = "", **of: str) -> Figure | None:
        """Return a figure of this build or of a set that it stands in, or none where it could not be reckoned yet.

        Parameters
        ----------
        spec
            Which figure.
        piece, shot, **of
            Its subject within the build, by the fields of :class:`Subject`.
        """
        subject = Subject(self.build.id, piece, shot, **of)
        return self.index.get((spec.name, subject)) or in_set(self.sets, spec, subject)

    def set_of(self, shot: str) -> SetPlan | None:
        """The set of one of its shots by the ``shot``'s id, or none."""
        return next((found for found in self.sets if found.shot.id == shot), None)

    def headline(self, station: Station) -> Headline | None:
        """Return the headline of a ``station``, or none where there is nothing to say."""
        return next((h for h in self.headlines if h.station == station), None)


def in_set(sets: tuple[SetPlan, ...], spec: FigureSpec, subject: Subject) -> Figure | None:
    """Find among ``sets`` the figure of a ``spec`` that the shot of a build's ``subject`` has for all its builds."""
    if not subject.shot:
        return None
    found = next((found for found in sets if found.shot.id == subject.shot), None)
    return found.index.get((spec.name, replace(subject, build=""))) if found else None


class BuildSheet(Sheet):
    """Collects a build's figures while its planners run.

    Parameters
    ----------
    context
        All that the figures may depend on.
    last
        What was put down of each piece the last time, if anything is to be kept of it.
    """

    def __init__(self, context: Context, last: ByPiece | None = None) -> None:
        super().__init__()
        self.context = context
        self._last = last
        self._before: dict[str, list[object]] | None = None
        """What the parts of each piece go by besides the piece, once something was counted."""
        self.tasks: list[Task] = []
        self.headlines: list[Headline] = []
        self.wants: list[Want] = []
        self.forms: dict[str, Measure] = {}
        self.pours: list[PlannedPour] = []
        self.limits: list[Limit] = []

    def subject(self, piece: str = "", shot: str = "", **of: str) -> Subject:
        """Name whom a figure speaks of: the build, a ``piece`` or a ``shot`` of it, or something ``of`` them."""
        return Subject(self.context.build.id, piece, shot, **of)

    def go_on(self, made: BuildSheet) -> None:
        """Take over all that was ``made`` before."""
        self.figures, self.minds, self.index = [*made.figures], [*made.minds], {**made.index}
        self.tasks, self.headlines, self.wants = [*made.tasks], [*made.headlines], [*made.wants]
        self.forms, self.pours, self.limits = {**made.forms}, [*made.pours], [*made.limits]

    def find_of(self, spec: FigureSpec, subject: Subject) -> Figure | None:
        """Return an earlier figure by its ``spec`` and ``subject``, or that of the shot's set, or none."""
        return self.index.get((spec.name, subject)) or in_set(self.context.sets, spec, subject)

    def count(self, figure: Figure) -> Figure:
        """Keep a ``figure`` as :meth:`add` does; where it is the same in all as the last time, that one, so that what goes by it is kept."""
        if self._last is not None:
            known = self._last.counted.get((figure.spec.name, figure.subject))
            if known is not None and the_same(known, figure):
                figure = known
            self._last.counted[figure.spec.name, figure.subject] = figure
        return self.add(figure)

    def part(self, planner: str, piece: Piece, make: Callable[[], Result]) -> Result:
        """Run what plans one piece, or put down again what it put down the last time.

        Parameters
        ----------
        planner
            Its name.
        piece
            What it plans.
        make
            Adds to this sheet; it may go by what :class:`ByPiece` says, and by nothing else.
        """
        last = self._last
        if last is None or not alone(piece):
            return make()
        if self._before is None:
            self._before = last.begin(
                self.context.build, self.context.shop, self.context.cards, self.context.facts, self.figures
            )
        before = self._before[piece.id]
        lists: tuple[list[Any], ...] = (self.figures, self.minds, self.wants, self.pours)
        known = last.parts.get((planner, piece.id))
        if known is not None and len(known.by) == len(before) and all(map(is_, known.by, before)):
            for whole, added in zip(lists, known.added, strict=True):
                whole.extend(added)
            self.index.update(known.by_key)
        else:
            marks = [len(whole) for whole in lists]
            result = make()
            added = tuple(tuple(whole[mark:]) for whole, mark in zip(lists, marks, strict=True))
            known = Part(tuple(before), added, {(f.spec.name, f.subject): f for f in self.figures[marks[0] :]}, result)
            last.parts[planner, piece.id] = known
        before.append(known)
        found: Result = known.result
        return found
