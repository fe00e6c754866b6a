"""A job being worked on: the changes that led to it, pins, and the memory of what was reckoned."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import date, datetime
from typing import NamedTuple

from msgspec import Struct

from homunculus.core.edits.begun import still_begun
from homunculus.core.edits.embedded import with_used
from homunculus.core.edits.lines import do
from homunculus.core.edits.reshape import Reshaping
from homunculus.core.edits.ties import tied
from homunculus.core.edits.wishes import do_wish, is_wish
from homunculus.core.figures import Station
from homunculus.core.job.bounds import Moment
from homunculus.core.job.job import Job
from homunculus.core.job.ways import Shelf
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.cautions import step_minds
from homunculus.core.plan.facts import Facts, MeshFact
from homunculus.core.plan.job_plan import Plan, plan
from homunculus.core.plan.ledger import Moved, moved
from homunculus.core.plan.memory import Memory
from homunculus.core.plan.sheet import Mind
from homunculus.core.plan.status import Status, minds_now
from homunculus.core.quantities import System

MOST_STEPS = 500
LONGEST_NAME = 80


class Pin(Struct, frozen=True, forbid_unknown_fields=True):
    """A job kept for comparison, with when and how it was named."""

    number: int
    at: Moment
    job: Job


class Change(NamedTuple):
    """One step of undo: its name, and the job before and after, the very objects.

    They share what did not change, and what was planned of them need not be planned again.
    """

    name: str
    before: Job
    after: Job


class Session:
    """History, pins and memory of one open job.

    One gesture is one step of undo: edits with the same ``gesture`` that follow each other replace the step.
    What was reckoned is kept while it comes from the same objects.
    """

    def __init__(
        self,
        job: Job,
        facts: Facts | None = None,
        pins: tuple[Pin, ...] = (),
        shelf: Shelf | Callable[[], Shelf] | None = None,
        reshaping: Reshaping | None = None,
    ) -> None:
        self._job = self._before = job
        """As it stands, and as it was when the gesture that goes on began."""
        self._gesture: object = None
        self._told = False
        """Whether that gesture has changed anything so far."""
        self._changes: list[Change] = []
        self._at = 0
        """How many of the changes stand; those after them were gone back on."""
        self.pins = pins
        self._shelf: Callable[[], Shelf] = (lambda: shelf) if isinstance(shelf, Shelf) else shelf or Shelf
        """What there is beside the job to take from."""
        self.reshaping = reshaping
        """Who has the files of the meshes."""
        self.facts: dict[str, MeshFact] = dict(facts or {})
        self._memory = Memory()
        self._pinned_memory = Memory(behind=self._memory)
        self.patience_s = math.inf
        """After so many seconds of planning builds are left for the next time; see :meth:`go_on`."""
        self._first = ""
        self._round: object = object()

    @property
    def job(self) -> Job:
        """The job as it stands."""
        return self._job

    @property
    def can_undo(self) -> bool:
        """Whether there is a change to go back on."""
        return self._at > 0

    @property
    def can_redo(self) -> bool:
        """Whether there is a change to do again."""
        return self._at < len(self._changes)

    @property
    def undo_name(self) -> str:
        """Name of the change that undo would take back, or empty."""
        return self._changes[self._at - 1].name if self.can_undo else ""

    @property
    def redo_name(self) -> str:
        """Name of the change that redo would make, or empty."""
        return self._changes[self._at].name if self.can_redo else ""

    def edit(self, name: str, job: Job, gesture: object = None) -> bool:
        """Make a new job the current one.

        Parameters
        ----------
        name
            Of the change, for undo.
        job
            The new job.
        gesture
            The same object for all edits of one drag; none for a change of its own.

        Returns
        -------
        bool
            False when nothing changed.

        Raises
        ------
        UserError
            When a build that follows another's scale could not.
        """
        job = with_used(self._job, still_begun(self._job, tied(job)), self._shelf)
        if job == self.job:
            return False
        del self._changes[self._at :]
        if gesture is None or gesture is not self._gesture:
            self._before, self._gesture = self._job, gesture
        elif self._told:
            del self._changes[-1]  # the drag goes on: all of it is one change, from where it began
        self._told = job != self._before
        if self._told:  # what was pulled away and back again is no change
            self._changes.append(Change(name, self._before, job))
        del self._changes[:-MOST_STEPS]  # what was before the oldest change kept can no longer be gone back to
        self._at, self._job = len(self._changes), job
        return True

    def do(self, line: str, system: System = "metric", today: date | None = None) -> None:
        """Run one line, as one change under its own words.

        Parameters
        ----------
        line
            As :mod:`homunculus.core.edits.lines` or :mod:`homunculus.core.edits.wishes` have it.
        system
            Units in which a wish was written; plain edits are in metric ones.
        today
            On which a build begins that says no day.

        Raises
        ------
        UserError
            When it cannot be read, or the job could not be planned as it would have it; nothing is changed then.
        """
        name = " ".join(line.split())[:LONGEST_NAME]
        if is_wish(line):
            name, job = do_wish(self._job, line, self._shelf(), system, today, self.reshaping)
        else:
            _, job = do(self._job, line, lambda job: with_used(self._job, job, self._shelf))
        if job != self._job:
            plan(job, self.facts, Memory(behind=self._memory))  # what a plan refuses is no job
            self.edit(name, job)

    def undo(self) -> bool:
        """Go back one change; false when there is none."""
        if not self.can_undo:
            return False
        self._at, self._gesture = self._at - 1, None
        self._job = self._changes[self._at].before
        return True

    def redo(self) -> bool:
        """Make the change again that was last gone back on; false when there is none."""
        if not self.can_redo:
            return False
        self._job = self._changes[self._at].after
        self._at, self._gesture = self._at + 1, None
        return True

    def pin(self, at: datetime) -> Pin:
        """Keep the job as it stands, to compare with.

        Parameters
        ----------
        at
            The moment, naive local.
        """
        new = Pin((self.pins[-1].number if self.pins else 0) + 1, at, self.job)
        self.pins = (*self.pins, new)
        return new

    @property
    def last_pin(self) -> Pin | None:
        """The pin that the ledger compares with, or none."""
        return self.pins[-1] if self.pins else None

    def learn(self, fact: MeshFact) -> None:
        """Keep a ``fact``; it is keyed by its content and can only land where that content is used."""
        self.facts = {**self.facts, fact.content: fact}

    def plan(self) -> Plan:
        """Plan the job as it stands, reusing all that comes from the same objects as before."""
        job = self.job
        return self._memory.get("plan", (job, self.facts, self._round),
                                lambda: plan(job, self.facts, self._memory, self.patience_s, self._first))  # fmt: skip

    def plan_of(self, job: Job) -> Plan:
        """Plan another ``job`` that shares most with this one: what is made of the same objects is not made again."""
        return plan(job, self.facts, Memory(behind=self._memory))

    def look_at(self, build_id: str) -> None:
        """The build ``build_id`` is looked at: it is planned before all others, and now where it was left."""
        self._first = build_id
        if build_id in self.plan().left:
            self.go_on()

    def go_on(self) -> None:
        """Plan more of the builds that were left."""
        self._round = object()

    def pinned_build(self, build_id: str) -> BuildPlan | None:
        """The plan of the build ``build_id`` as it was pinned, or none."""
        pin, memory = self.last_pin, self._pinned_memory
        if pin is None or all(build.id != build_id for build in pin.job.builds):
            return None
        return memory.get(("pinned", build_id), (pin.job, self.facts), lambda: plan(
            pin.job, self.facts, memory, 0.0, build_id).build(build_id))  # fmt: skip

    def moved(self, build_id: str) -> tuple[Moved, ...]:
        """What moved of the build ``build_id`` since the last pin.

        Raises
        ------
        UserError
            When the job has no such build.
        """
        before, after = self.pinned_build(build_id), self.plan().build(build_id)
        if before is None:
            return ()
        return self._memory.get(("moved", build_id), (before, after), lambda: moved(before, after))

    def minds(self, build_id: str, at: Status, station: Station) -> tuple[Mind, ...]:
        """What to mind about a build now.

        Parameters
        ----------
        build_id
            Which one.
        at
            What is true now.
        station
            The open station, whose step brings cautions of its own.

        Raises
        ------
        UserError
            When the job has no such build.
        """
        job, made = self.job, self.plan().build(build_id)
        return self._memory.get(("minds", station), (job, made, at),
                                lambda: (*minds_now(made, at), *step_minds(job, made, station)))  # fmt: skip
