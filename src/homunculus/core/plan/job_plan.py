"""The plan of a job: its builds, each for itself, and what concerns all of them together."""

from __future__ import annotations

import math
from datetime import date, datetime, timedelta
from functools import cached_property
from time import monotonic

from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, FigureSpec, Subject
from homunculus.core.floor.wear import Proposal, beats, least_wear
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot
from homunculus.core.plan.build_plan import BuildPlan, Context
from homunculus.core.plan.by_piece import ByPiece
from homunculus.core.plan.contexts import contexts, ordered_shots, sets
from homunculus.core.plan.coverage import Coverage, coverage
from homunculus.core.plan.facts import Facts, Want
from homunculus.core.plan.freezing import Cost, cost_of_change
from homunculus.core.plan.memory import Memory
from homunculus.core.plan.planning import not_planned, plan_build, plan_making
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.plan.standing import Outside, Standing, outside, standing
from homunculus.core.planners.ladder import Candidate, Ladder, candidates, ladder
from homunculus.core.planners.stage import plan_stage
from homunculus.core.planners.whole import plan_whole


class Plan:
    """Every derived figure of a job. What concerns the whole job is reckoned when it is first asked for.

    Parameters
    ----------
    job
        A frozen job with its cards embedded.
    facts
        Mesh studies by content.
    memory
        What was reckoned before; a build whose context is made of the same objects keeps its plan.
    patience_s
        After so many seconds builds are left for the next time: nobody waits for two hundred of them at once.
    first
        The build that is planned in any case.
    """

    def __init__(self, job: Job, facts: Facts, memory: Memory, patience_s: float = math.inf, first: str = "") -> None:
        self.job = job
        self.facts = facts
        self._memory = memory
        self.sets = sets(job, memory)
        """The sets of all shots by the shots' ids."""
        self.contexts = contexts(job, facts, memory, self.sets)
        self._plan_builds(monotonic() + patience_s, first)

    def _plan_builds(self, until: float, first: str) -> None:
        last = self._memory.get("last builds", (), dict[str, tuple[Context, BuildPlan]])
        made = {c.build.id: self._plan_one(c) for c in self.contexts if c.build.id == first}
        for context in self.contexts:
            build_id, known = context.build.id, last.get(context.build.id)
            if build_id in made:
                continue
            if known is not None and known[0] is context:
                made[build_id] = known[1]
            elif monotonic() < until or self._memory.has(("build", build_id), (context,)):
                made[build_id] = self._plan_one(context)
        last.update({c.build.id: (c, made[c.build.id]) for c in self.contexts if c.build.id in made})
        self.left = frozenset(c.build.id for c in self.contexts if c.build.id not in made)
        """The builds that are left for the next time; until then they have no figures."""
        self.builds = tuple(made.get(c.build.id) or not_planned(c.build) for c in self.contexts)
        self._by_id = {plan.build.id: plan for plan in self.builds}

    def _plan_one(self, context: Context) -> BuildPlan:
        def make() -> BuildPlan:
            making = context.making or context
            pieces = self._memory.get(("pieces", context.build.id), (), ByPiece)
            made = self._memory.get(("made", context.build.id), (making,), lambda: plan_making(making, pieces))
            return plan_build(context, made)

        return self._memory.get(("build", context.build.id), (context,), make)

    def complete(self) -> None:
        """Plan what was left: what speaks of the whole job speaks of all builds."""
        if self.left:
            self._plan_builds(math.inf, "")

    # ---------------------------------------------------------------------------- one build's
    def build(self, build_id: str) -> BuildPlan:
        """Find the plan of a build.

        Parameters
        ----------
        build_id
            The stable id.

        Raises
        ------
        UserError
            When the job has no such build.
        """
        found = self._by_id.get(build_id)
        if found is None:
            return not_planned(self.job.build(build_id), "put away")
        return found

    def context(self, build_id: str) -> Context:
        """All that the figures of the build ``build_id`` depend on.

        Raises
        ------
        UserError
            When the job has no such build, or it was put away.
        """
        if self.job.build(build_id).put_away:
            raise UserError(
                f"{self.job.build(build_id).name} was put away", "job", f"Bring it back first: bring back {build_id}"
            )
        return self.contexts[self.builds.index(self.build(build_id))]

    def shoot_day(self, today: date) -> date:
        """The day on which a shot is put that says none: the last shoot day; before there is one the day after all is ready; else ``today``."""
        if self.job.shots:
            return max(shot.day for shot in self.job.shots)
        found = [figure.value for made in self.builds if (figure := made.find(specs.READY))]
        ready = [moment.date() for moment in found if isinstance(moment, datetime)]
        return max(max(ready) + timedelta(days=1), today) if ready else today

    def cost(self, build_id: str) -> Cost | None:
        """What it costs to let the frozen number of the build ``build_id`` follow its count; none when nothing would move."""
        made, context = self.build(build_id), self.context(build_id)
        if made.build.frozen is None:
            return None
        return self._memory.get(("cost", build_id), (made,), lambda: cost_of_change(context, made))

    def ladder(self, build_id: str) -> Ladder:
        """The ladder of the build ``build_id``.

        Raises
        ------
        UserError
            When the job has no such build.
        """
        context = self.context(build_id)
        last = self._memory.get(("last ladder", build_id), (), list[Ladder])

        def make() -> Ladder:
            made = self.build(build_id)
            limits = () if made.held else made.limits  # of what is held some were not come to
            last[:] = [ladder(context, last[0] if last else None, limits)]  # bands stay where only the scale differs
            return last[0]

        return self._memory.get(("ladder", build_id), (context,), make)

    def candidates(self, build_id: str) -> tuple[Candidate, ...]:
        """The best three scales of the build ``build_id``.

        Raises
        ------
        UserError
            When the job has no such build.
        """
        context, found = self.context(build_id), self.ladder(build_id)
        return self._memory.get(("candidates", build_id), (context,), lambda: candidates(context, found))

    def stage(self, shot_id: str, camera_name: str = "") -> StagePlan | None:
        """The stage of the shot ``shot_id`` as its camera of the name ``camera_name`` sees it; none where the shot has no camera."""
        found = self.sets.get(shot_id)
        camera = next((c for c in found.shot.cameras if c.name == camera_name), None) if found else None
        if found is None or camera is None:
            return None
        builds = {b.build.id: b for b in self.builds if b.build.id in found.shot.builds}
        key = ("stage", shot_id, camera_name)
        return self._memory.get(key, (found, *builds.values()), lambda: plan_stage(found, camera, builds))

    # ---------------------------------------------------------------------------- the whole job's
    @property
    def shots(self) -> tuple[Shot, ...]:
        """All shots in the order in which they are taken."""
        return ordered_shots(self.job, self._memory)

    @property
    def shoot_days(self) -> tuple[date, ...]:
        """The days on which something is shot, in their order."""
        return self._memory.get("days", (self.job.shots,), lambda: tuple(sorted({s.day for s in self.job.shots})))

    def shots_of(self, build_id: str) -> tuple[Shot, ...]:
        """The shots that the build ``build_id`` is in, in the order in which they are taken.

        Raises
        ------
        UserError
            When the job has no such build.
        """
        return self.context(build_id).shots

    @cached_property
    def _names(self) -> object:
        """An object that stays the same while builds keep their names and pieces: all that shots ask of them."""

        def name(build: Build) -> object:
            parts = (build.id, build.name, build.pieces, build.put_away)
            return self._memory.get(("name", build.id), parts, object)

        return self._memory.get("names", self._memory.each("names of", self.job.builds, name), object)

    @property
    def coverage(self) -> Coverage:
        """Who covers what."""
        shots, last = self.shots, self._memory.get("last coverage", (), list[Coverage])

        def make() -> Coverage:  # keeps the rows of shots that are the same, of builds that are
            last[:] = [coverage(self.job, last[0] if last else None, shots)]
            return last[0]

        return self._memory.get("coverage", (self._names, shots), make)

    @property
    def wear(self) -> Proposal:
        """What is worn by which shot, and the order that ruins least."""
        return self._memory.get(
            "wear", (self._names, self.shots), lambda: least_wear(beats(self.job.shots, self.job.builds))
        )

    @property
    def standing(self) -> tuple[Standing, ...]:
        """All builds, the first to be shot first."""
        self.complete()
        covered = self.coverage
        return self._memory.get("standing", (covered, *self.builds), lambda: standing(self.builds, covered))

    @property
    def outside(self) -> tuple[Outside, ...]:
        """Deadlines of outside work and post-production."""
        return self._memory.get("outside", (self.job.shots,), lambda: outside(self.job.shots))

    @property
    def whole(self) -> tuple[Figure, ...]:
        """The figures of the whole job, and of what a change of a frozen count costs."""
        self.complete()
        costs = tuple(cost for build in self.builds if (cost := self.cost(build.build.id)))
        inputs = (self.coverage, self.wear, self.standing, *self.builds, *costs)
        return self._memory.get("whole", inputs, lambda: (
            *plan_whole(self.builds, self.coverage, self.wear, self.standing), *(f for cost in costs for f in cost.figures),
        ))  # fmt: skip

    def whole_figure(self, spec: FigureSpec) -> Figure:
        """The figure of a ``spec`` about the whole job."""
        return next(figure for figure in self.whole if figure.spec is spec)

    def figures(self) -> tuple[Figure, ...]:
        """All figures: in the order of builds and planners, then those of each shot's set, then those of the whole job."""
        self.complete()
        return (
            *(f for b in self.builds for f in b.own),
            *(f for found in self.sets.values() for f in found.figures),
            *(
                f
                for found in self.sets.values()
                for camera in found.shot.cameras[:1]
                if (stage := self.stage(found.shot.id, camera.name))
                for f in stage.figures
            ),
            *self.whole,
        )

    def wants(self) -> tuple[Want, ...]:
        """Slow work that is asked for, each once."""
        return tuple({w.key: w for b in self.builds for w in b.wants}.values())

    def figure(self, spec: FigureSpec, subject: Subject) -> Figure | None:
        """Return one figure by its ``spec`` and ``subject``, or none."""
        made = self._by_id.get(subject.build)
        found = made.index.get((spec.name, subject)) if made else None
        if found is None and subject.shot in self.sets and not subject.build:
            found = self.sets[subject.shot].index.get((spec.name, subject))
        return found or next((f for f in self.whole if f.spec is spec and f.subject == subject), None)


def plan(job: Job, facts: Facts, memory: Memory | None = None, patience_s: float = math.inf, first: str = "") -> Plan:
    """Derive every figure of a job.

    Parameters
    ----------
    job
        A frozen job with its cards embedded.
    facts
        Mesh studies by content; what is missing comes back among the wants.
    memory
        What was reckoned before, if anything.
    patience_s
        After so many seconds builds are left for the next time.
    first
        The build that is planned in any case.
    """
    return Plan(job, facts, memory or Memory(), patience_s, first)
