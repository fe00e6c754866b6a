"""What is said before anything that happens once: the lines of a go/no-go list, from the shot and its plan."""

from __future__ import annotations

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.figures import Phrase
from homunculus.core.job.shots import Check, Shot, breaking_uses
from homunculus.core.plan.job_plan import Plan


class CheckLine(Struct, frozen=True, eq=False):
    """One line to be said: words with live figures, and the check that it stands for."""

    words: Phrase
    check: Check


def happens_once(shot: Shot) -> bool:
    """Whether a take of the ``shot`` cannot simply be done again: something is destroyed, or checks were written for it."""
    return bool(shot.checks) or any(use.wear == "destructive" for use in shot.uses)


def lines(shot: Shot, made: Plan) -> tuple[CheckLine, ...]:
    """List what has to be go before a take, the plan's own lines first.

    Parameters
    ----------
    shot
        With the checks that were written for it and those that were said.
    made
        Plan of the job.

    Returns
    -------
    tuple
        A line's check is the one kept in the shot where it was said already.
    """
    said = {check.what: check for check in shot.checks}
    found: list[CheckLine] = []

    def add(key: str, *words: object) -> None:
        found.append(CheckLine(tuple(words), said.pop(key, Check(key))))  # type: ignore[arg-type]

    for camera in shot.cameras:
        name = camera.name or "A"
        add(f"camera {name} runs", f"Camera {name} runs", *_at_rate(shot, made))
    uses = [
        (b, *named) for b in shot.builds if b in {m.build.id for m in made.builds} for named in breaking_uses(shot, b)
    ]
    for build_id, part, use in uses:
        plan = made.build(build_id)
        what = " and ".join(p.name for p in plan.build.pieces if p.id in use.pieces) or plan.build.called
        again = part.rpartition(", ")[2]
        what += f", once more ({again})" if again.isdecimal() else ""
        broken = plan.find(specs.BROKEN, shot=shot.id, use=part)
        takes = plan.find(specs.TAKES, shot=shot.id, use=part)
        if broken and takes:
            add(f"copies of {what} counted", f"Copies of {what} at hand: ", broken, " for ", takes, " takes")
        else:
            add(f"only one {what}", f"There is one {what}: it is gone after this take")
        add(f"{what} as it must begin", f"{what[:1].upper()}{what[1:]} stands as the set-up record has it")
    if shot.ends_as:
        add("end state known", f"Everybody knows how it ends: {shot.ends_as}")
    add("abort word", "The abort word is said, and who may say it: anybody")
    add("proof pull", "A proof pull or dry run went through")
    found += [CheckLine((check.what,), check) for check in said.values()]
    return tuple(found)


def _at_rate(shot: Shot, made: Plan) -> Phrase:
    rate = made.sets[shot.id].find(specs.RATE)
    return (" at ", rate) if rate else ()


def say(shot: Shot, check: Check) -> Shot:
    """Return the ``shot`` with ``check`` put in place of the one of the same words, or added."""
    known = any(c.what == check.what for c in shot.checks)
    if known:
        return replace(shot, checks=tuple(check if c.what == check.what else c for c in shot.checks))
    return replace(shot, checks=(*shot.checks, check))


def begin_again(shot: Shot) -> Shot:
    """Return the ``shot`` with nothing said: before the next take everything is asked once more."""
    return replace(shot, checks=tuple(Check(c.what) for c in shot.checks))
