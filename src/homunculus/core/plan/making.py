"""How a piece comes to be, told in loops: its steps, how often each is done, what it takes."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import groupby
from typing import NamedTuple

from homunculus.core import specs
from homunculus.core.edits.decisions import Decision, decisions
from homunculus.core.figures import Figure, Subject, derive
from homunculus.core.job.job import Job
from homunculus.core.job.operations import AnyOperation, Loop, Pour
from homunculus.core.job.shots import Shot, breaking_uses
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.planners.shoot import hands_time

LOOP_WORDS: dict[Loop, str] = {
    "once": "once", "mould": "once a mould", "casting": "a casting", "piece": "a good piece", "figure": "a figure",
}  # fmt: skip


class Step(NamedTuple):
    """One operation as the strip shows it."""

    op: AnyOperation
    piece: str
    """Whose route it stands in, by its id; empty for what is done with the whole figure."""
    decided: tuple[Decision, ...]
    """What is decided about it, most telling first."""
    work: Figure | None
    """By hand, as often as it is done."""
    sets: Figure | None
    """How long what it pours takes."""

    @property
    def key(self) -> str:
        """Names it among the steps of a piece and of its figure: an operation's id, with a stroke before it of the figure's."""
        return self.op.id if self.piece else f"/{self.op.id}"


class Stretch(NamedTuple):
    """Steps that follow each other and are done equally often."""

    loop: Loop
    steps: tuple[Step, ...]
    work: Figure | None
    """Of all of them; none where there are no hands."""


def steps_of(job: Job, made: BuildPlan, piece: str, known: Iterable[Decision] | None = None) -> tuple[Step, ...]:
    """The steps of a piece, or of the assembly where none is named.

    Parameters
    ----------
    job
        Where they are decided.
    made
        The build's plan.
    piece
        Which piece, by its id.
    known
        What is decided about the build, where that is at hand already.
    """
    build = made.build
    route = next((p.route for p in build.pieces if p.id == piece), build.assembly) if piece else build.assembly
    mine = [
        d for d in (decisions(job, build.id) if known is None else known) if d.build == build.id and d.piece == piece
    ]
    layer = next((d for d in mine if d.path[0] == "mould" and d.path[1] in ("blanket_m", "wall_m")), None)
    found = []
    for op in route:
        own = [d for d in mine if d.path[0] == f"op:{op.id}"]
        if isinstance(op, Pour) and layer:  # one truth of the mould: at the first that is poured of it
            own.insert(0, layer)
            layer = None
        found.append(
            Step(op, piece, tuple(own), made.find(specs.WORK, piece, op=op.id), made.find(specs.CURE, piece, op=op.id))
        )
    return tuple(found)


class Breaks(NamedTuple):
    """What takes break of a piece: how many of it, and in which shots."""

    number: int
    shots: tuple[str, ...]


def breaks(shots: tuple[Shot, ...], made: BuildPlan) -> dict[str, Breaks]:
    """How many of each piece of a build takes break, by its id.

    Parameters
    ----------
    shots
        Those that the build is in.
    made
        The build's plan.
    """
    found: dict[str, Breaks] = {}
    for shot in shots:
        for name, use in breaking_uses(shot, made.build.id):
            figure = made.find(specs.BROKEN, shot=shot.id, use=name)
            for piece in (use.pieces or tuple(p.id for p in made.build.pieces)) if figure else ():
                before = found.get(piece, Breaks(0, ()))
                found[piece] = Breaks(before.number + round(figure.number), (*before.shots, shot.id))  # type: ignore[union-attr]
    return found


def all_steps_of(job: Job, made: BuildPlan, piece: str, known: Iterable[Decision] | None = None) -> tuple[Step, ...]:
    """The steps of a ``piece``, then those of its whole figure; ``job``, ``made`` and ``known`` as for :func:`steps_of`."""
    found = tuple(decisions(job, made.build.id) if known is None else known)
    return (*(steps_of(job, made, piece, found) if piece else ()), *steps_of(job, made, "", found))


def stretches(steps: tuple[Step, ...]) -> tuple[Stretch, ...]:
    """The ``steps`` in the loops in which they follow each other; those of a piece and those of the figure apart."""
    runs = groupby(steps, key=lambda step: (step.op.loop, step.piece))
    return tuple(Stretch(loop, mine := tuple(run), work_of(mine)) for (loop, _), run in runs)


def work_of(steps: tuple[Step, ...]) -> Figure | None:
    """The working time of some ``steps`` together; none where there are no hands."""
    found = {f"{i} {step.op.called}": step.work for i, step in enumerate(steps, 1) if step.work}
    if not found:
        return None
    subject = next(iter(found.values())).subject
    return derive(specs.HANDS, hands_time, Subject(build=subject.build, piece=steps[0].piece), **found)
