"""A job being worked on: the history of frozen jobs, pins, and the memory of what was reckoned."""

from __future__ import annotations

from datetime import datetime
from operator import is_

from msgspec import Struct

from homunculus.core.bounded import Moment
from homunculus.core.facts import Facts, MeshFact
from homunculus.core.job import Build, Job
from homunculus.core.plan import Plan, plan_build, shots_by_build
from homunculus.core.plan_types import BuildPlan, Context
from homunculus.core.shots import Shot, in_order

MOST_STEPS = 500


class Pin(Struct, frozen=True, forbid_unknown_fields=True):
    """A job kept for comparison, with when and how it was named."""

    number: int
    at: Moment
    job: Job


class _Step(Struct, frozen=True, eq=False):
    name: str
    gesture: object
    job: Job


class Session:
    """History, pins and memory of one open job.

    One gesture is one step of undo: edits with the same ``gesture`` that follow each other replace the step.
    A build's figures are kept while its context consists of the same objects.
    """

    def __init__(self, job: Job, facts: Facts | None = None, pins: tuple[Pin, ...] = ()) -> None:
        self._steps = [_Step("opened", None, job)]
        self._at = 0
        self.pins = pins
        self.facts: dict[str, MeshFact] = dict(facts or {})
        self._memory: dict[str, tuple[Context, BuildPlan]] = {}
        self._pinned_memory: dict[str, tuple[Context, BuildPlan]] = {}
        self._shots: tuple[object, tuple[Shot, ...], dict[str, tuple[Shot, ...]]] = (None, (), {})

    @property
    def job(self) -> Job:
        """The job as it stands."""
        return self._steps[self._at].job

    @property
    def can_undo(self) -> bool:
        """Whether there is a change to go back on."""
        return self._at > 0

    @property
    def can_redo(self) -> bool:
        """Whether there is a change to do again."""
        return self._at < len(self._steps) - 1

    @property
    def undo_name(self) -> str:
        """Name of the change that undo would take back, or empty."""
        return self._steps[self._at].name if self.can_undo else ""

    @property
    def redo_name(self) -> str:
        """Name of the change that redo would make, or empty."""
        return self._steps[self._at + 1].name if self.can_redo else ""

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
        """
        if job == self.job:
            return False
        last = self._steps[self._at]
        del self._steps[self._at + 1 :]
        if gesture is not None and last.gesture is gesture:
            self._steps[self._at] = _Step(name, gesture, job)
        else:
            self._steps.append(_Step(name, gesture, job))
            self._at += 1
            if len(self._steps) > MOST_STEPS:
                del self._steps[0]  # what was before the oldest step kept can no longer be gone back to
                self._at -= 1
        return True

    def undo(self) -> bool:
        """Go back one change; false when there is none."""
        if not self.can_undo:
            return False
        self._at -= 1
        return True

    def redo(self) -> bool:
        """Make the change again that was last gone back on; false when there is none."""
        if not self.can_redo:
            return False
        self._at += 1
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
        """Plan the job as it stands, reusing every build whose context is unchanged."""
        return self._plan(self.job, self._memory)

    def pinned_plan(self) -> Plan | None:
        """Plan the pinned job, or none without a pin."""
        return self._plan(self.last_pin.job, self._pinned_memory) if self.last_pin else None

    @property
    def shots(self) -> tuple[Shot, ...]:
        """All shots in the order in which they are taken."""
        self._by_build(self.job)
        return self._shots[1]

    def shots_of(self, build_id: str) -> tuple[Shot, ...]:
        """The shots that a build is in, by its ``build_id``, in the order in which they are taken."""
        return self._by_build(self.job).get(build_id, ())

    def _by_build(self, job: Job) -> dict[str, tuple[Shot, ...]]:
        if self._shots[0] is not job.shots:
            ordered = in_order(job.shots)
            self._shots = (job.shots, ordered, shots_by_build(ordered))
        return self._shots[2]

    def _plan(self, job: Job, memory: dict[str, tuple[Context, BuildPlan]]) -> Plan:
        builds = []
        by_build = self._by_build(job)
        for build in job.builds:
            shots = by_build.get(build.id, ())
            known = memory.get(build.id)
            if memory is self._pinned_memory and known is None:
                known = self._memory.get(build.id)  # what is as pinned was planned already
            if known is None or not _same(known[0], build, shots, job, self.facts):
                context = Context(build, shots, job.shop, job.cards, self.facts)
                known = (context, plan_build(context))
            memory[build.id] = known
            builds.append(known[1])
        return Plan(job, tuple(builds))


def _same(known: Context, build: Build, shots: tuple[Shot, ...], job: Job, facts: Facts) -> bool:
    """Whether a build's context is made of the same objects as before."""
    return (
        known.build is build
        and known.shop is job.shop
        and known.cards is job.cards
        and known.facts is facts
        and (known.shots is shots or (len(known.shots) == len(shots) and all(map(is_, known.shots, shots))))
    )
