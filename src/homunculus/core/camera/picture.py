"""The picture that a camera has of its set: what stands there as bodies of triangles, and their outlines in pixels. Imports numpy."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from homunculus.core.camera.eye import Eye, clipped
from homunculus.core.form.facets import Facets, flat
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.forms import Form
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Place
from homunculus.core.job.shots import ByBuild, ByPeople
from homunculus.core.plan.set_plan import Plane, SetPlan

NEAREST_M = 0.01
"""What is nearer to the eye is cut off."""
PERSON_M = (0.5, 1.75)
"""Width and height of somebody who stands there: common practice, no source."""
MOST_COPIES = 40
FacetsOf = Callable[[Form], Facets | None]
Pixels = NDArray[np.float64]


class Body(NamedTuple):
    """What stands at a plane, in the set's own metres."""

    need: int
    name: str
    away: float
    """How far from the first camera's eye its middle stands: what is nearer is drawn over what is farther."""
    facets: tuple[Facets, ...]
    waits: bool
    """Whether a coarse copy of a mesh of it is still being made, or nobody has said how large it is."""
    person: bool = False


Offset = tuple[float, float, float]
STILL: Offset = (0.0, 0.0, 0.0)


def eye_of(camera: Camera, height: float, reach: float, wide: float, ratio: float) -> Eye:
    """The eye of a ``camera`` at a ``height`` over the floor [m], for a ``reach`` and a picture ``wide`` [both pixels], whose height over width is the ``ratio``."""
    at = (camera.across_m, -camera.back_m, height)
    turns = (math.radians(camera.pan_deg), math.radians(camera.tilt_deg), math.radians(camera.roll_deg))
    return Eye(at, *turns, reach, wide, wide * ratio)


def body_of(job: Job, found: SetPlan, plane: Plane, foot: float, facets_of: FacetsOf, offset: Offset = STILL) -> Body:
    """What stands at a ``plane`` of the ``found`` set of a ``job``.

    Parameters
    ----------
    job, found, plane
        Which.
    foot
        Of its ground over the floor [m].
    facets_of
        The triangles of a form in its own metres, of a mesh a coarse copy; none while that is made.
    offset
        Across, away and up from where it stands [m], while it moves.
    """
    need = found.shot.needs[plane.need]
    middle = (plane.at.number + (plane.to or plane.at).number) / 2
    where = (plane.place.across_m + offset[0], middle + offset[1], foot + offset[2])
    turn = math.radians(plane.place.turn_deg)
    if plane.build and isinstance(need.cover, ByBuild):
        own, waits = _of_build(job.build(plane.build), need.cover, facets_of)
        depth = (plane.to.number - plane.at.number) if plane.to else 0.0
        spots = _copies(own, need.cover.at_once, depth)
        facets = tuple(one.moved(1.0, (where[0] + x, where[1] + y, where[2]), turn) for x, y in spots for one in own)
        return Body(plane.need, plane.name, where[1], facets, waits)
    size = size_of(plane.place, people=isinstance(need.cover, ByPeople))
    if size is None:
        return Body(plane.need, plane.name, where[1], (), True)
    board = flat(size[0] / plane.scale.number, size[1] / plane.scale.number).moved(1.0, where, turn)
    return Body(plane.need, plane.name, where[1], (board,), False, isinstance(need.cover, ByPeople))


def size_of(place: Place, *, people: bool) -> tuple[float, float] | None:
    """Width and height [real m] of what is no build, as its ``place`` says; of ``people`` as people are; none where nobody said either."""
    wide, high = place.wide_m, place.high_m
    if people:
        return wide or PERSON_M[0], high or PERSON_M[1]
    if wide is None and high is None:
        return None
    return wide or high or 0.0, high or wide or 0.0


def _of_build(build: Build, cover: ByBuild, facets_of: FacetsOf) -> tuple[list[Facets], bool]:
    """The pieces of a build that are seen, as made, their common middle and foot at nought; and whether some are still to come."""
    shown = [p for p in build.pieces if p.id in cover.pieces] if cover.pieces else [p for p in build.pieces if p.enlarged == 1]  # fmt: skip
    alone = bool(shown) and all(p.enlarged != 1 for p in shown)
    ground: list[Piece] = shown if alone else [p for p in build.pieces if p.enlarged == 1]
    low = min((p.at_m[1] for p in ground), default=0.0)
    found: list[tuple[Facets, float, Piece]] = []
    waits = False
    for piece in shown:
        own = facets_of(piece.form)
        if own is None:
            waits = True
        else:
            found.append((own, piece.drawn_at * piece.enlarged, piece))
    ends = [(piece.at_m[0] + own.points[:, 0].min() * k, piece.at_m[0] + own.points[:, 0].max() * k) for own, k, piece in found]  # fmt: skip
    middle = (min(a for a, _ in ends) + max(b for _, b in ends)) / 2 if ends else 0.0
    s = build.scale
    return [own.moved(k / s, ((p.at_m[0] - middle) / s, 0.0, (p.at_m[1] - low) / s)) for own, k, p in found], waits


def _copies(own: list[Facets], count: int, depth: float) -> list[tuple[float, float]]:
    """Across and away of so many copies from the first's place: in rows that stand in each other's gaps."""
    count = min(count, MOST_COPIES)
    if count <= 1 or not own:
        return [(0.0, 0.0)]
    wide = max(float(f.points[:, 0].max()) for f in own) - min(float(f.points[:, 0].min()) for f in own)
    columns = math.ceil(math.sqrt(2 * count))
    rows = math.ceil(count / columns)
    spots = []
    for i in range(count):
        row, column = divmod(i, columns)
        in_row = min(columns, count - row * columns)
        across = (column - (in_row - 1) / 2 + 0.25 * (row % 2)) * 1.3 * wide
        spots.append((across, (row / (rows - 1) - 0.5) * depth if rows > 1 else 0.0))
    return spots


def outlines(body: Body, eye: Eye) -> list[Pixels]:
    """The closed lines in which an ``eye`` sees a ``body``, in pixels, each shape (n, 2): filled where they wind at all they are its silhouette."""
    found = []
    for facets in body.facets:
        for loop in facets.outline(eye.at):
            kept = clipped(eye.turned(loop), NEAREST_M)
            if len(kept) > 2:
                found.append(eye.drawn(kept))
    return found


def horizon(eye: Eye) -> tuple[float, float]:
    """Where the horizon meets the left and the right edge of an ``eye``'s picture [pixels from its top]."""
    level = eye.reach_px * math.tan(eye.tilt)
    # what is level lies where the ray's upward part is nought: a straight line, turned by the roll about the picture's middle
    slope = math.tan(eye.roll)
    middle = eye.high_px / 2 + level / math.cos(eye.roll)
    half = eye.wide_px / 2
    return middle + slope * half, middle - slope * half
