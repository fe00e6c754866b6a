"""Job to plan: the one place that knows the order in which figures depend on each other."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.plan.build_plan import BuildPlan, BuildSheet, Context
from homunculus.core.plan.by_piece import ByPiece
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.counts import plan_castings, plan_counts
from homunculus.core.planners.framing import plan_framing
from homunculus.core.planners.ladder import mind_the_ladder, mind_what_it_is
from homunculus.core.planners.lens import plan_lens
from homunculus.core.planners.light import plan_model_light
from homunculus.core.planners.mix import plan_mixes
from homunculus.core.planners.mould import plan_moulds
from homunculus.core.planners.moving import plan_moving
from homunculus.core.planners.scale import plan_scale, plan_speeds
from homunculus.core.planners.shoot import plan_shoot
from homunculus.core.planners.shop import plan_shop
from homunculus.core.planners.shots import plan_shots
from homunculus.core.planners.wear import mind_the_shots

MAKING = (
    plan_counts, plan_scale, plan_moulds, plan_castings, plan_mixes, plan_shoot, plan_shop, mind_the_shots, mind_what_it_is,
)  # fmt: skip
"""What depends on no camera, and where most of the work is."""
SEEN = (plan_shots, plan_speeds, plan_lens, plan_framing, plan_model_light, plan_moving, mind_the_ladder)
"""What depends on the sets in which the build stands."""


def not_planned(build: Build, held: str = "being reckoned") -> BuildPlan:
    """The plan of a ``build`` that nobody has reckoned yet, or that is ``held`` away: no figures, and it says so."""
    return BuildPlan(build, (), (), (), (), (), held, {})


class Made(NamedTuple):
    """What of a build is planned without its sets, and what was in the way."""

    sheet: BuildSheet
    held: str


def plan_making(context: Context, last: ByPiece | None = None) -> Made:
    """Plan what of a build depends on no camera.

    Parameters
    ----------
    context
        Without sets.
    last
        What was put down of each of its pieces the last time; what is put down now is kept in it.
    """
    sheet = BuildSheet(context, last)
    return Made(sheet, _run(sheet, MAKING))


def _run(sheet: BuildSheet, planners: tuple[Callable[[BuildSheet], None], ...], *, said: bool = False) -> str:
    """Run some planners; a sentence where something was in the way, which is minded unless it was ``said`` already."""
    try:
        for planner in planners:
            planner(sheet)
    except (UserError, OverflowError) as trouble:
        what = "Something in it is so large or so far off that it cannot be reckoned. Look at sizes, scale and dates."
        held = str(trouble) if isinstance(trouble, UserError) else what
        name = sheet.context.build.name
        if not said:
            sheet.minds.append(Mind("danger", "shot", sheet.subject(), (f"{name} is held",), (held,), 20.0))
        return held
    return ""


def plan_build(context: Context, made: Made | None = None) -> BuildPlan:
    """Derive everything of one build.

    Parameters
    ----------
    context
        All that it may depend on.
    made
        What was planned of it without its sets, if it was.

    Returns
    -------
    BuildPlan
        With ``held`` saying what is in the way where the build contradicts itself; what could be
        reckoned besides that is there.
    """
    made = made or plan_making(replace(context.making or context, build=context.build))
    sheet = BuildSheet(context)
    sheet.go_on(made.sheet)
    seen = _run(sheet, SEEN, said=bool(made.held))
    held = made.held or seen
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
        tuple(sheet.limits),
    )
