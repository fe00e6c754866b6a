"""How a piece comes to be, told in loops: its steps, how often each is done, what it takes."""

from __future__ import annotations

from typing import NamedTuple

from homunculus.core import specs
from homunculus.core.edits.decisions import Decision, decisions
from homunculus.core.figures import Figure
from homunculus.core.job.job import Job
from homunculus.core.job.operations import AnyOperation, Loop, Pour
from homunculus.core.plan.build_plan import BuildPlan

LOOP_WORDS: dict[Loop, str] = {
    "once": "once", "mould": "once a mould", "casting": "a casting", "piece": "a good piece", "figure": "a figure",
}  # fmt: skip


class Step(NamedTuple):
    """One operation as the strip shows it."""

    op: AnyOperation
    decided: tuple[Decision, ...]
    """What is decided about it, most telling first."""
    work: Figure | None
    """By hand, as often as it is done."""
    sets: Figure | None
    """How long what it pours takes."""


class Stretch(NamedTuple):
    """Steps that follow each other and are done equally often."""

    loop: Loop
    steps: tuple[Step, ...]
    work_s: float
    """Of all of them [s]."""


def steps_of(job: Job, made: BuildPlan, piece: str) -> tuple[Step, ...]:
    """The steps of a piece, or of the assembly where none is named.

    Parameters
    ----------
    job
        Where they are decided.
    made
        The build's plan.
    piece
        Which piece, by its id.
    """
    build = made.build
    route = next((p.route for p in build.pieces if p.id == piece), build.assembly) if piece else build.assembly
    mine = [d for d in decisions(job, build.id) if d.build == build.id and d.piece == piece]
    layer = next((d for d in mine if d.path[0] == "mould" and d.path[1] in ("blanket_m", "wall_m")), None)
    found = []
    for op in route:
        own = [d for d in mine if d.path[0] == f"op:{op.id}"]
        if isinstance(op, Pour) and layer:  # one truth of the mould: at the first that is poured of it
            own.insert(0, layer)
            layer = None
        found.append(
            Step(op, tuple(own), made.find(specs.WORK, piece, op=op.id), made.find(specs.CURE, piece, op=op.id))
        )
    return tuple(found)


def stretches(steps: tuple[Step, ...]) -> tuple[Stretch, ...]:
    """The ``steps`` in the loops in which they follow each other."""
    found: list[Stretch] = []
    for step in steps:
        seconds = step.work.number if step.work else 0.0
        if found and found[-1].loop == step.op.loop:
            last = found.pop()
            found.append(Stretch(last.loop, (*last.steps, step), last.work_s + seconds))
        else:
            found.append(Stretch(step.op.loop, (step,), seconds))
    return tuple(found)
