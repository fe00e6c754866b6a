"""Pieces whose mesh becomes another: turned over for the other side, cut in two. Who has the files does it; what follows from it is told here."""

from __future__ import annotations

from typing import NamedTuple, Protocol

from msgspec.structs import replace

from homunculus.core.edits.decisions import replace_build
from homunculus.core.edits.pieces import checked, new_id, with_own_route
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.job.shots import ByBuild, Need, Shot
from homunculus.core.plan.facts import Facts

HALVES = (("left", "right"), ("front", "back"), ("lower", "upper"))


class Half(NamedTuple):
    """One half of a mesh, and how its middle and its foot lie from those of the whole [m, as drawn]."""

    form: Mesh
    along: float
    up: float


class Reshaping(Protocol):
    """What can be done with meshes where their files are."""

    def turned_over(self, mesh: Mesh) -> Mesh:
        """The ``mesh`` as its mirror image, left for right.

        Raises
        ------
        UserError
            When its file cannot be read.
        """

    def cut(self, mesh: Mesh, side: int, at: float) -> tuple[Half, Half]:
        """The two halves of a ``mesh`` that is cut across a ``side`` (0 length, 1 depth, 2 height), ``at`` so far [m] from its end.

        Raises
        ------
        UserError
            When it is not closed, or the plane does not cut it.
        """


def mesh_of(piece: Piece) -> Mesh:
    """The mesh of a ``piece``.

    Raises
    ------
    UserError
        When its form is none.
    """
    if not isinstance(piece.form, Mesh):
        raise UserError(f"The form of the {piece.name} is no mesh", remedy="Pull its sizes, or drop a mesh on it")
    return piece.form


def cut_at(piece: Piece, real_m: float) -> float:
    """How far from its end a ``piece`` is cut, as drawn [m], for so much at full size (``real_m``)."""
    return real_m / (piece.drawn_at * piece.enlarged)


def half_way_up(piece: Piece, facts: Facts) -> float | None:
    """How high above its foot the middle of a ``piece`` lies at full size [m]; none of a mesh without a study among the ``facts``."""
    known = measure(piece.form, facts)
    return known.size[2] * piece.drawn_at * piece.enlarged / 2 if known else None


def piece_in_two(job: Job, build_id: str, piece_id: str, side: int, halves: tuple[Half, Half]) -> Job:
    """Return the ``job`` with a piece cut in two: it is the first half from then on, the second stands behind it in the list.

    Parameters
    ----------
    job, build_id, piece_id
        Whose piece; both halves are made as it was, and both are where shots named it.
    side
        Across which it was cut: length, depth, height.
    halves
        As they were cut.

    Raises
    ------
    UserError
        When there is no such piece, or it can not stand so.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    times = piece.drawn_at * piece.enlarged
    first, second = (
        replace(piece, name=f"{piece.name} {word}", form=half.form,
                at_m=(float(f"{piece.at_m[0] + half.along * times:.9g}"), float(f"{piece.at_m[1] + half.up * times:.9g}")))
        for word, half in zip(HALVES[side], halves, strict=True)
    )  # fmt: skip
    second = with_own_route(replace(second, id=new_id(second.name, (p.id for p in build.pieces))), piece_id)
    pieces = [one for p in build.pieces for one in ((first, second) if p is piece else (p,))]
    cut = replace_build(job, replace(build, pieces=tuple(pieces)))
    return checked(replace(cut, shots=tuple(_both(shot, build_id, piece_id, second.id) for shot in cut.shots)), job)


def _both(shot: Shot, build_id: str, piece_id: str, other: str) -> Shot:
    """A shot in which who named the piece names both halves."""

    def named(need: Need) -> Need:
        cover = need.cover
        if not isinstance(cover, ByBuild) or cover.build != build_id or piece_id not in cover.pieces:
            return need
        at = cover.pieces.index(piece_id) + 1
        return replace(need, cover=replace(cover, pieces=(*cover.pieces[:at], other, *cover.pieces[at:])))

    needs = tuple(named(need) for need in shot.needs)
    return shot if needs == shot.needs else replace(shot, needs=needs)
