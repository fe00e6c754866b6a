"""The whole job, counted: needs and who covers them, what is in the way of its builds, what comes too late."""

from __future__ import annotations

from collections.abc import Iterable, Sequence

from homunculus.core import specs
from homunculus.core.figures import Figure, FigureSpec, Given, Subject, derive, rule
from homunculus.core.floor.wear import LEVEL_WORDS, Late, Proposal
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.coverage import Coverage, NeedRow
from homunculus.core.plan.standing import Standing
from homunculus.core.planners.counts import of_all

JOB = Subject()


@rule("builds whose slack is below nought", "counting")
def late_builds(**slack: float) -> int:
    """How many builds are ready after they are due, by the ``slack`` [shop days] of each."""
    return sum(days < 0 for days in slack.values())


@rule("how many there are", "counting")
def how_many(**found: float) -> int:
    """How many are ``found``."""
    return len(found)


def plan_whole(
    builds: Sequence[BuildPlan], covered: Coverage, wear: Proposal, standing: Sequence[Standing]
) -> list[Figure]:
    """Derive the figures of the whole job.

    Parameters
    ----------
    builds
        The plans of all builds.
    covered
        The needs of all shots, held against what covers them.
    wear
        What comes too late as planned, and in the order that ruins least.
    standing
        How each build stands.
    """
    castings = {b.build.id: total for b in builds if (total := b.find(specs.ALL_CASTINGS))}
    slack = {row.build.id: row.slack for row in standing if row.slack}
    return [
        _by_shot(specs.NEEDS, covered.rows), _by_shot(specs.UNCOVERED, covered.uncovered), _by_shot(specs.TO_DECIDE, covered.open),
        _named(specs.UNSEEN, ((f"{u.build.id}/{u.piece.id}", f"{u.piece.name} of {u.build.called}") for u in covered.unseen)),
        derive(specs.JOB_CASTINGS, of_all, JOB, **castings),
        derive(specs.LATE_BUILDS, late_builds, JOB, **slack),
        _named(specs.HELD_BUILDS, ((r.build.id, f"{r.build.name}: {', '.join(r.held)} not signed") for r in standing if r.held)),
        _named(specs.FROZEN_BUILDS, ((r.build.id, r.build.name) for r in standing if r.frozen)),
        _named(specs.OFF_COUNT, ((r.build.id, r.build.name) for r in standing if r.off_count)),
        _late(specs.LATE_USES, wear.late_before), _late(specs.LEAST_LATE, wear.late_after),
    ]  # fmt: skip


def _by_shot(spec: FigureSpec, rows: Iterable[NeedRow]) -> Figure:
    found: dict[str, int] = {}
    names: dict[str, str] = {}
    for row in rows:
        found[row.shot.id] = found.get(row.shot.id, 0) + 1
        names[row.shot.id] = row.shot.name
    inputs = {
        f"shot {shot}": Given(count, "count", f"shot {shot}, {names[shot]}", "the list of shots")
        for shot, count in found.items()
    }
    return derive(spec, of_all, JOB, **inputs)


def _named(spec: FigureSpec, found: Iterable[tuple[str, str]]) -> Figure:
    return derive(spec, how_many, JOB, **{key: Given(1, "count", words, "the job") for key, words in found})


def _late(spec: FigureSpec, late: Iterable[Late]) -> Figure:
    first = {item.shot: item for item in reversed(tuple(late))}
    return _named(spec, ((shot, f"shot {shot} finds {'/'.join(item.item)} {LEVEL_WORDS[item.level]} by shot {item.spoiled_by}")
                         for shot, item in reversed(first.items())))  # fmt: skip
