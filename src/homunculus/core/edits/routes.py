"""Steps of a route come, go and change places; what is done with the figure alike."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.cells.steps import read_step
from homunculus.core.edits.decisions import replace_piece
from homunculus.core.edits.embedded import with_cards
from homunculus.core.edits.pieces import checked, mended, moved_by, new_id
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, piece_of
from homunculus.core.job.job import Job
from homunculus.core.job.operations import LOOPS, AnyOperation
from homunculus.core.job.ways import Shelf
from homunculus.core.quantities import System

Route = tuple[AnyOperation, ...]


def route_of(build: Build, piece_id: str) -> Route:
    """The operations of the piece ``piece_id`` of a ``build``; those of its assembly where that is empty.

    Raises
    ------
    UserError
        When there is no such piece.
    """
    return piece_of(build, piece_id).route if piece_id else build.assembly


def _put(job: Job, build: Build, piece_id: str, route: Route, shelf: Shelf | None = None) -> Job:
    new = (
        replace_piece(build, replace(piece_of(build, piece_id), route=route))
        if piece_id
        else replace(build, assembly=route)
    )
    return checked(with_cards(job, mended(new), shelf or Shelf()), job)


def step_typed(
    job: Job, build_id: str, piece_id: str, text: str, shelf: Shelf, system: System = "metric", op_id: str = ""
) -> Job:
    """Return the ``job`` with one step of a route as a line has it; a new one goes behind those that are done as often.

    Parameters
    ----------
    job
        As it is.
    build_id, piece_id
        Whose route; the build's assembly where no piece is named.
    text
        As :mod:`homunculus.core.cells.steps` reads it.
    shelf
        Materials for its layers.
    system
        Units in which it was written.
    op_id
        The step that the line is typed over; a new one where it is empty.

    Raises
    ------
    UserError
        When the line cannot be read, or there is no such step.
    """
    build, shelf = job.build(build_id), shelf.beside(job.cards.materials)
    route = route_of(build, piece_id)
    before = _step(route, op_id) if op_id else None
    name = text.partition(":")[0]
    others = tuple((p.id, p.name) for p in build.pieces if p.id != piece_id)
    op = read_step(text, op_id or new_id(name, (o.id for o in route)), shelf.materials, system, before, others)
    known = {(p.id, o.id) for p in build.pieces for o in p.route} | {("", o.id) for o in build.assembly}
    for wait in op.after:
        owner, _, name = wait.of.rpartition("/") if "/" in wait.of else (piece_id, "", wait.of)
        if (owner, name) not in known:
            steps = ", ".join(o.id for o in route) or "none yet"
            raise UserError(
                f"{op.called} would wait for “{wait.of}”, and there is no such step", remedy=f"There are {steps}"
            )
    if before is not None:
        return _put(job, build, piece_id, tuple(op if o is before else o for o in route), shelf)
    if not piece_id and op.loop == "once":
        op = replace(op, loop="figure")
    at = max((i + 1 for i, o in enumerate(route) if LOOPS.index(o.loop) <= LOOPS.index(op.loop)), default=0)
    return _put(job, build, piece_id, (*route[:at], op, *route[at:]), shelf)


def step_removed(job: Job, build_id: str, piece_id: str, op_id: str) -> Job:
    """Return the ``job`` without the step ``op_id`` of the piece ``piece_id`` of the build ``build_id``; what waited for it waits no more.

    Raises
    ------
    UserError
        When there is no such step.
    """
    build = job.build(build_id)
    route = route_of(build, piece_id)
    gone = _step(route, op_id)
    return _put(job, build, piece_id, tuple(op for op in route if op is not gone))


def _step(route: Route, op_id: str) -> AnyOperation:
    found = next((op for op in route if op.id == op_id), None)
    if found is None:
        raise UserError(f"There is no step “{op_id}”", "route", f"There are {', '.join(op.id for op in route)}")
    return found


def step_moved(job: Job, build_id: str, piece_id: str, op_id: str, by: int) -> Job:
    """Return the ``job`` in which the step ``op_id`` of the piece ``piece_id`` of the build ``build_id`` is done so many places later (``by``).

    Raises
    ------
    UserError
        When there is no such step.
    """
    build = job.build(build_id)
    route = route_of(build, piece_id)
    return _put(job, build, piece_id, moved_by(route, _step(route, op_id), by))
