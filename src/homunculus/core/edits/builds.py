"""Builds come and go: begun from a card of their kind, copied, named, put in another order, deleted."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from msgspec.structs import replace

from homunculus.core.cells.builds import read_build, usual_name
from homunculus.core.cells.pieces import read_piece
from homunculus.core.edits.begun import as_begun
from homunculus.core.edits.decisions import bounds, replace_build
from homunculus.core.edits.embedded import with_cards
from homunculus.core.edits.lines import reach
from homunculus.core.edits.pieces import checked, made_as, moved_by, new_id, shots_without
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.forms import Box, Cylinder, Form, Sphere
from homunculus.core.job.job import Job
from homunculus.core.job.ways import KindCard, Shelf
from homunculus.core.quantities import System

SAID = frozenset({"scale", "size"})
"""What may be said of a new build beside its name."""
Sizes = tuple[float, float, float]
"""Length along the view, depth, height: real metres."""


def sizes_of(kind: KindCard, longest_m: float) -> Sizes:
    """Length, depth and height [m] of a build of a ``kind`` whose longest side has ``longest_m``."""
    length, depth, height = (longest_m * share for share in kind.shape)
    return length, depth, height


def build_begun(
    job: Job,
    kind: KindCard,
    name: str,
    sizes: Sizes,
    scale: float,
    starts: datetime,
    shelf: Shelf,
    *,
    said: frozenset[str] = SAID,
    without: frozenset[str] = frozenset(),
) -> tuple[Job, str]:
    """Return the ``job`` with a new build at the end, and its id.

    Parameters
    ----------
    job
        As it is.
    kind
        Brings its usual pieces, made the usual way.
    name
        As the cast shows it.
    sizes
        How big it really is.
    scale
        At which it is built.
    starts
        When work on it may begin.
    shelf
        Where its materials and ways are taken from.
    said
        What somebody has said, “scale” or “size”; the rest is a beginning, like all that the kind brings.
    without
        Names of the pieces of its kind that were struck.

    Raises
    ------
    UserError
        When it has no name, or a size or scale cannot be.
    """
    name = " ".join(name.split())
    if not name:
        raise UserError("The new build has no name", remedy="Say what it is")
    for value, owner, field, word in (
        *((size, Box, "length_m", "size") for size in sizes),
        (scale, Build, "scale", "scale"),
    ):
        low, high = bounds(owner, field)
        if not low <= value <= high:
            raise UserError(f"A {word} of {value:g} is beyond what can be", remedy=reach(owner, field))
    shelf = shelf.beside(job.cards.materials)
    times: Any = tuple(size / share for size, share in zip(sizes, kind.shape, strict=True))
    pieces: list[Piece] = []
    if unknown := sorted(without - {piece_name(line) for line in kind.pieces}):
        raise UserError(
            f"A {kind.name} brings no “{unknown[0]}”",
            remedy=f"It brings {', '.join(piece_name(line) for line in kind.pieces)}",
        )
    for line in kind.pieces:
        if piece_name(line) in without:
            continue
        typed = read_piece(line, None, shelf)
        piece = replace(typed.piece, id=new_id(typed.piece.name, (p.id for p in pieces)), form=_sized(typed.piece.form, times),
                        at_m=(_round(typed.piece.at_m[0] * times[0]), _round(typed.piece.at_m[1] * times[2])))  # fmt: skip
        pieces.append(made_as(piece, typed.making, shelf))
    build = Build(
        new_id(name, (b.id for b in job.builds)), name, usual_name(name), scale, starts, tuple(pieces), kind=kind.id
    )
    build = as_begun(build, said)
    return checked(with_cards(replace(job, builds=(*job.builds, build)), build, shelf), job), build.id


def piece_name(line: str) -> str:
    """What the piece of a card's ``line`` is called."""
    return line.partition(":")[0].strip()


def build_typed(job: Job, build_id: str, text: str, system: System = "metric") -> Job:
    """Return the ``job`` in which the build ``build_id`` is as a line of ``text`` has it, written in a ``system`` of units.

    Raises
    ------
    UserError
        When the line cannot be read, or it names a shot that is not there.
    """
    build = read_build(text, job.build(build_id), system)
    shots = {shot.id for shot in job.shots}
    for move in build.moves:
        if unknown := next((shot for shot in move.shots if shot not in shots), None):
            raise UserError(
                f"{move.name} would move in shot {unknown}, and there is none", remedy="Name shots of the list"
            )
    return checked(replace_build(job, build), job)


def _round(value: float) -> float:
    return float(f"{value:.4g}")


def _sized(form: Form, times: Sizes) -> Form:
    """A form of a card, drawn for a longest side of 1 m, at the size of the build; what is round follows its length."""
    along, away, up = times
    match form:
        case Box(a, b, c):
            return Box(_round(a * along), _round(b * away), _round(c * up))
        case Cylinder(d, h, top):
            return Cylinder(_round(d * along), _round(h * up), None if top is None else _round(top * along))
        case Sphere(d):
            return Sphere(_round(d * along))
    raise UserError(
        "A card of a kind of build has a form that cannot be sized", "library", "Give it boxes, cylinders or balls"
    )


def build_named(job: Job, build_id: str, name: str) -> Job:
    """Return the ``job`` in which the build ``build_id`` has another ``name``; what a question calls it follows, where nobody had said otherwise.

    Raises
    ------
    UserError
        When there is no such build, or the name is empty.
    """
    build, name = job.build(build_id), " ".join(name.split())
    if not name:
        raise UserError("It would have no name", remedy="Write one")
    called = usual_name(name) if build.called == usual_name(build.name) else build.called
    return replace_build(job, replace(build, name=name, called=called))


def build_copied(job: Job, build_id: str) -> tuple[Job, str]:
    """Return the ``job`` with a copy of the build ``build_id`` behind it, in no shot and signed by nobody, and the copy's id.

    Raises
    ------
    UserError
        When there is no such build.
    """
    build = job.build(build_id)
    name = f"{build.name} 2"
    new = new_id(name, (b.id for b in job.builds))
    place = job.builds.index(build) + 1
    signoffs = tuple(replace(s, at=None) for s in build.signoffs)
    copy = replace(build, id=new, name=name, called=usual_name(name), frozen=None, signoffs=signoffs,
                   moves=tuple(replace(move, shots=()) for move in build.moves))  # fmt: skip
    return checked(replace(job, builds=(*job.builds[:place], copy, *job.builds[place:])), job), new


def build_removed(job: Job, build_id: str) -> Job:
    """Return the ``job`` without the build ``build_id``; shots that used it need what nothing covers.

    Raises
    ------
    UserError
        When there is no such build.
    """
    job.build(build_id)
    return shots_without(replace(job, builds=tuple(b for b in job.builds if b.id != build_id)), build_id)


def build_put_away(job: Job, build_id: str, away: bool = True) -> Job:
    """Return the ``job`` in which the build ``build_id`` is put ``away``, or brought back: out of the cast, nothing of it is planned.

    Raises
    ------
    UserError
        When there is no such build, or it is there already.
    """
    build = job.build(build_id)
    if build.put_away == away:
        raise UserError(f"{build.name} {'was put away' if away else 'is in the cast'} already")
    return replace_build(job, replace(build, put_away=away))


def build_moved(job: Job, build_id: str, by: int) -> Job:
    """Return the ``job`` in which the build ``build_id`` stands so many rows further down in the cast (``by``), or up.

    Raises
    ------
    UserError
        When there is no such build.
    """
    build = job.build(build_id)
    return replace(job, builds=moved_by(job.builds, build, by))
