"""Job to plan: the one place that knows the order in which figures depend on each other."""

from __future__ import annotations

from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.plan.build_plan import BuildPlan, BuildSheet, Context
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.counts import plan_castings, plan_counts
from homunculus.core.planners.framing import plan_framing
from homunculus.core.planners.ladder import mind_the_ladder
from homunculus.core.planners.lens import plan_lens
from homunculus.core.planners.mix import plan_mixes
from homunculus.core.planners.mould import plan_moulds
from homunculus.core.planners.scale import plan_scale
from homunculus.core.planners.shoot import plan_shoot
from homunculus.core.planners.shop import plan_shop
from homunculus.core.planners.shots import plan_shots
from homunculus.core.planners.wear import mind_the_shots

ORDER = (
    plan_shots, plan_counts, plan_scale, plan_lens, plan_framing, plan_moulds, plan_castings, plan_mixes, plan_shoot, plan_shop,
    mind_the_shots, mind_the_ladder,
)  # fmt: skip


def not_planned(build: Build, held: str = "being reckoned") -> BuildPlan:
    """The plan of a ``build`` that nobody has reckoned yet, or that is ``held`` away: no figures, and it says so."""
    return BuildPlan(build, (), (), (), (), (), held, {})


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
    sheet = BuildSheet(context)
    held = ""
    try:
        for planner in ORDER:
            planner(sheet)
    except (UserError, OverflowError) as trouble:
        what = "Something in it is so large or so far off that it cannot be reckoned. Look at sizes, scale and dates."
        held = str(trouble) if isinstance(trouble, UserError) else what
        subject = sheet.subject()
        sheet.minds.append(Mind("danger", "shot", subject, (f"{context.build.name} is held",), (held,), 20.0))
    minds = tuple(sorted(sheet.minds, key=lambda m: (m.level != "danger", -m.cost)))
    wants = tuple({w.key: w for w in sheet.wants}.values())
    if wants and not held:
        held = "waiting for the study of " + ", ".join(w.name for w in wants)
    return BuildPlan(
        context.build,
        tuple(sheet.figures),
        tuple(sheet.tasks),
        tuple(sheet.headlines),
        minds,
        wants,
        held,
        sheet.index,
        tuple(sheet.pours),
        context.sets,
    )
