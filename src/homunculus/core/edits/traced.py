"""Tracing as edits of a piece: a picture laid under, a length known, points set, pulled and taken back; closed, its sections are the form."""

from __future__ import annotations

import re
from typing import Literal

from msgspec.structs import replace

from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.edits.pieces import checked
from homunculus.core.errors import UserError
from homunculus.core.form.traced import sections_of
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.job.job import Job
from homunculus.core.job.traces import Point, Trace, View
from homunculus.core.quantities import System, parse

Which = Literal["front", "side"]
EXAMPLE = "front known 12 340 to 812 340 is 24 m; front 12 30, 40 22, 60 300; side 10 20, 30 20, 30 200"


def view_of(piece: Piece, which: Which) -> View | None:
    """The view ``which`` of a ``piece``; none where no picture was laid under."""
    return None if piece.trace is None else piece.trace.front if which == "front" else piece.trace.side


def _with_view(job: Job, build_id: str, piece_id: str, which: Which, view: View | None) -> Job:
    """The job in which a piece has another view; where all is said, its form follows."""
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    if which == "front":
        trace = None if view is None else replace(piece.trace, front=view) if piece.trace else Trace(view)
    elif piece.trace is None:
        raise UserError(
            "A picture from the side is laid beside one from the front", remedy="Lay the front's picture under first"
        )
    else:
        trace = replace(piece.trace, side=view)
    piece = replace(piece, trace=trace)
    if trace is not None and trace.front.closed and (trace.side is None or trace.side.closed):
        piece = replace(piece, form=sections_of(trace), drawn_at=1.0)
    return checked(replace_build(job, replace_piece(build, piece)), job)


def _known(job: Job, build_id: str, piece_id: str, which: Which) -> View:
    view = view_of(piece_of(job.build(build_id), piece_id), which)
    if view is None:
        raise UserError(
            f"No picture from the {which} is laid under", remedy="Drop a drawing or a photograph first (PNG, JPEG, SVG)"
        )
    return view


def with_picture(job: Job, build_id: str, piece_id: str, which: Which, name: str) -> Job:
    """The ``job`` in which the picture ``name`` of its folder lies under a piece, as the view ``which``; points that were set stay.

    Raises
    ------
    UserError
        When there is no such ``build_id`` or ``piece_id``, or a side is laid under before a front.
    """
    view = view_of(piece_of(job.build(build_id), piece_id), which)
    return _with_view(job, build_id, piece_id, which, replace(view, picture=name) if view else View(name))


def without_picture(job: Job, build_id: str, piece_id: str, which: Which) -> Job:
    """The ``job`` in which a piece (``build_id``, ``piece_id``) has no view ``which``; its form stays as it is.

    Raises
    ------
    UserError
        When it has none.
    """
    _known(job, build_id, piece_id, which)
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    trace = None if which == "front" else replace(piece.trace, side=None) if piece.trace else None
    return checked(replace_build(job, replace_piece(build, replace(piece, trace=trace))), job)


def with_known(
    job: Job, build_id: str, piece_id: str, which: Which, ends: tuple[Point, ...], length_m: float | None
) -> Job:
    """The ``job`` in which a length is known in a view.

    Parameters
    ----------
    job, build_id, piece_id, which
        Whose view.
    ends
        Of the length, in pixels; one while the other is not pressed yet.
    length_m
        How long it really is [m]; none while nobody has said.

    Raises
    ------
    UserError
        When there is no such view, or the ends lie in one place.
    """
    view = _known(job, build_id, piece_id, which)
    return _with_view(job, build_id, piece_id, which, replace(view, known=ends, known_m=length_m))


def with_outline(
    job: Job, build_id: str, piece_id: str, which: Which, outline: tuple[Point, ...], *, closed: bool
) -> Job:
    """The ``job`` in which a view's outline is another one.

    Parameters
    ----------
    job, build_id, piece_id, which
        Whose view.
    outline
        Its points [px].
    closed
        Whether it is brought to its beginning again: then the form follows.

    Raises
    ------
    UserError
        When there is no such view, or the closed outline encloses nothing.
    """
    view = _known(job, build_id, piece_id, which)
    if closed and len(outline) < 3:
        raise UserError("Two points enclose nothing", remedy="Press along the outside of the thing, then Enter")
    return _with_view(job, build_id, piece_id, which, replace(view, outline=outline, closed=closed))


_PICTURE = re.compile(r"(front|side) picture (\S+)")
_KNOWN = re.compile(r"(front|side) known (\S+) (\S+) to (\S+) (\S+) is (.+)")
_OUTLINE = re.compile(r"(front|side) ((?:\S+ \S+)(?:, ?\S+ \S+)*)")


def traced(job: Job, build_id: str, piece_id: str, text: str, system: System = "metric") -> Job:
    """The ``job`` with a piece traced as a ``text`` has it: “front known 12 340 to 812 340 is 24 m; front 12 30, 40 22, 60 300”.

    Parameters
    ----------
    job, build_id, piece_id
        Whose form.
    text
        Pictures of the job's folder, known lengths, and outlines in pixels, parted by semicolons.
    system
        In which the known length is.

    Raises
    ------
    UserError
        When it cannot be read, or encloses nothing.
    """
    for phrase in filter(None, (" ".join(part.split()) for part in text.split(";"))):
        if match := _PICTURE.fullmatch(phrase):
            job = with_picture(job, build_id, piece_id, _which(match[1]), match[2])
        elif match := _KNOWN.fullmatch(phrase):
            which, *numbers, length = match.groups()
            x1, y1, x2, y2 = map(_pixel, numbers)
            job = with_known(
                job, build_id, piece_id, _which(which), ((x1, y1), (x2, y2)), parse(length, "length", system)
            )
        elif match := _OUTLINE.fullmatch(phrase):
            points = [point.split() for point in match[2].split(",")]
            outline = tuple((_pixel(x), _pixel(y)) for x, y in points)
            job = with_outline(job, build_id, piece_id, _which(match[1]), outline, closed=True)
        else:
            raise UserError(f"“{phrase[:60]}” says nothing about a trace", remedy=EXAMPLE)
    return job


def _which(words: str) -> Which:
    return "front" if words == "front" else "side"


def _pixel(words: str) -> float:
    try:
        return float(words)
    except ValueError:
        raise UserError(f"“{words}” is no place in a picture", remedy=EXAMPLE) from None
