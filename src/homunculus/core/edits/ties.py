"""Builds that take their scale from another: a set from its puppet, an insert at 250 % of it, a cut-out from its plane."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.edits.decisions import bounds, replace_build
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.quantities import without_noise


def tied(job: Job) -> Job:
    """Return the ``job`` in which every build that follows another has its scale; one whose build is gone keeps its own from then on.

    Raises
    ------
    UserError
        When two follow each other in a circle, or a scale would be beyond what can be.
    """
    if not any(build.follows for build in job.builds):
        return job
    known = {build.id: build for build in job.builds}
    builds = tuple(_settled(build, known) for build in job.builds)
    return job if all(a is b for a, b in zip(builds, job.builds, strict=True)) else replace(job, builds=builds)


def _settled(build: Build, known: dict[str, Build]) -> Build:
    if not build.follows:
        return build
    if build.follows not in known:
        return replace(build, follows="", follows_at=1.0)
    scale, here, seen = 1.0, build, {build.id}
    while here.follows in known:
        scale /= here.follows_at
        here = known[here.follows]
        if here.id in seen:
            raise UserError(
                f"{build.name} would take its scale from itself", "scale", "Untie one of those that follow each other"
            )
        seen.add(here.id)
    scale = without_noise(scale * here.scale)
    low, high = bounds(Build, "scale")
    if not low <= scale <= high:
        raise UserError(
            f"{build.name} follows {here.name} and would be built at 1:{scale:g}",
            "scale",
            "Untie it first, or choose another scale",
        )
    return build if scale == build.scale else replace(build, scale=scale)


def tie(job: Job, build_id: str, to: str, times: float = 1.0) -> Job:
    """Return the ``job`` in which the build ``build_id`` takes its scale from another.

    Parameters
    ----------
    job
        As it is.
    build_id
        Which follows.
    to
        The build that it follows; empty to have its own scale again.
    times
        Its size over that of the other: 2.5 for an insert at 250 %.

    Raises
    ------
    UserError
        When there is no such build, it would follow itself, or a size is beyond what can be.
    """
    build = job.build(build_id)
    if to:
        job.build(to)
    low, high = bounds(Build, "follows_at")
    if not low <= times <= high:
        raise UserError(
            f"{times:.0%} of the other's size is beyond what can be", "scale", f"It goes from {low:.0%} to {high:.0%}"
        )
    return tied(replace_build(job, replace(build, follows=to, follows_at=float(times) if to else 1.0)))
