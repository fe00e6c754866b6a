"""Job to plan: the one place that knows the order in which figures depend on each other."""

from __future__ import annotations

from msgspec import Struct

from homunculus.core.errors import UserError
from homunculus.core.facts import Facts, Want
from homunculus.core.figures import Figure, FigureSpec, Subject
from homunculus.core.job import Job
from homunculus.core.plan_types import BuildPlan, Context, Mind, Sheet
from homunculus.core.shots import Shot, in_order
from homunculus.core.stages.count import plan_castings, plan_counts
from homunculus.core.stages.framing import plan_framing
from homunculus.core.stages.ladder import mind_the_ladder
from homunculus.core.stages.lens import plan_lens
from homunculus.core.stages.mix import plan_mixes
from homunculus.core.stages.mould import plan_moulds
from homunculus.core.stages.order import mind_the_shots
from homunculus.core.stages.scale import plan_scale
from homunculus.core.stages.shoot import plan_shoot
from homunculus.core.stages.shot import plan_shots

ORDER = (
    plan_shots, plan_counts, plan_scale, plan_lens, plan_framing, plan_moulds, plan_castings, plan_mixes, plan_shoot,
    mind_the_shots, mind_the_ladder,
)  # fmt: skip


class Plan(Struct, frozen=True, eq=False):
    """Every derived figure of a job, build by build."""

    job: Job
    builds: tuple[BuildPlan, ...]

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
        for plan in self.builds:
            if plan.build.id == build_id:
                return plan
        self.job.build(build_id)
        raise AssertionError("a build of the job is always planned")

    def figures(self) -> tuple[Figure, ...]:
        """All figures, in the order of builds and stages."""
        return tuple(f for b in self.builds for f in b.figures)

    def wants(self) -> tuple[Want, ...]:
        """Slow work that is asked for, each once."""
        return tuple({w.content: w for b in self.builds for w in b.wants}.values())

    def figure(self, spec: FigureSpec, subject: Subject) -> Figure | None:
        """Return one figure by its ``spec`` and ``subject``, or none."""
        for plan in self.builds:
            if plan.build.id == subject.build:
                return plan.find(spec, subject.piece, subject.shot, subject.part)
        return None


def shots_by_build(shots: tuple[Shot, ...]) -> dict[str, tuple[Shot, ...]]:
    """Return the shots of every build, where ``shots`` are all of them in the order in which they are taken."""
    found: dict[str, list[Shot]] = {}
    for shot in shots:
        for build_id in shot.builds:
            found.setdefault(build_id, []).append(shot)
    return {build_id: tuple(shots) for build_id, shots in found.items()}


def plan_build(context: Context) -> BuildPlan:
    """Derive everything of one build.

    Parameters
    ----------
    context
        All that it may depend on.

    Returns
    -------
    BuildPlan
        With ``held`` saying what is in the way where the build contradicts itself; what could be
        reckoned before that is there.
    """
    sheet = Sheet(context)
    held = ""
    try:
        for stage in ORDER:
            stage(sheet)
    except (UserError, OverflowError) as trouble:
        what = "Something in it is so large or so far off that it cannot be reckoned. Look at sizes, scale and dates."
        held = str(trouble) if isinstance(trouble, UserError) else what
        subject = sheet.subject()
        sheet.minds.append(Mind("danger", "shot", subject, (f"{context.build.name} is held",), (held,), 20.0))
    minds = tuple(sorted(sheet.minds, key=lambda m: (m.level != "danger", -m.cost)))
    wants = tuple({w.content: w for w in sheet.wants}.values())
    if wants and not held:
        held = "waiting for the study of " + ", ".join(w.file_name for w in wants)
    return BuildPlan(
        context.build, tuple(sheet.figures), tuple(sheet.tasks), tuple(sheet.headlines), minds, wants, held
    )


def plan(job: Job, facts: Facts) -> Plan:
    """Derive every figure of a job.

    Parameters
    ----------
    job
        A frozen job with its cards embedded.
    facts
        Mesh studies by content; what is missing comes back among the wants.
    """
    shots = shots_by_build(in_order(job.shots))
    return Plan(job, tuple(plan_build(Context(b, shots.get(b.id, ()), job.shop, job.cards, facts)) for b in job.builds))
