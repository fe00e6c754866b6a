"""The picture that a camera has of its set: what stands there as bodies of triangles, and their outlines in pixels. Imports numpy."""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from homunculus.core.camera.eye import Eye, clipped
from homunculus.core.form.facets import Facets, Outline, flat, together
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.forms import Form
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Place
from homunculus.core.job.shots import ByBuild, ByPeople
from homunculus.core.moving.playing import STILL, Offset
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
    own: tuple[Facets, ...]
    """Its surfaces in their own place: their middle and foot at nought."""
    where: tuple[float, float, float]
    """Across, away and up."""
    turn: float
    """Clockwise from above [rad]."""
    waits: bool
    """Whether a coarse copy of a mesh of it is still being made, or nobody has said how large it is."""
    person: bool = False

    @property
    def away(self) -> float:
        """How far from the first camera's eye its middle stands: what is nearer is drawn over what is farther."""
        return self.where[1]

    def placed(self) -> tuple[Facets, ...]:
        """Its surfaces where they stand."""
        return tuple(one.moved(1.0, self.where, self.turn) for one in self.own)

    def reach(self) -> tuple[tuple[float, float, float], tuple[float, float, float]]:
        """Its least and greatest corner in the set [m]."""
        points = np.concatenate([one.points for one in self.placed()])
        low, high = points.min(axis=0).tolist(), points.max(axis=0).tolist()
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    def local(self, point: tuple[float, float, float]) -> tuple[float, float, float]:
        """A ``point`` of the set [m] as it lies to the body in its own place."""
        x, y, z = (a - b for a, b in zip(point, self.where, strict=True))
        cos, sin = math.cos(self.turn), math.sin(self.turn)
        return x * cos - y * sin, x * sin + y * cos, z

    def in_set(self, points: Pixels) -> Pixels:
        """The ``points`` of its own place, shape (n, 3), where they stand in the set."""
        cos, sin = math.cos(self.turn), math.sin(self.turn)
        spin = np.array([[cos, sin, 0.0], [-sin, cos, 0.0], [0.0, 0.0, 1.0]])
        return np.asarray(points @ spin.T + self.where)


class OwnSurfaces(NamedTuple):
    """What stands at a plane, in its own place: it stays the same object while a hand pulls it about."""

    facets: tuple[Facets, ...]
    waits: bool
    person: bool = False


def eye_of(camera: Camera, height: float, reach: float, wide: float, ratio: float) -> Eye:
    """The eye of a ``camera`` at a ``height`` over the floor [m], for a ``reach`` and a picture ``wide`` [both pixels], whose height over width is the ``ratio``."""
    at = (camera.across_m, -camera.back_m, height)
    turns = (math.radians(camera.pan_deg), math.radians(camera.tilt_deg), math.radians(camera.roll_deg))
    return Eye(at, *turns, reach, wide, wide * ratio)


def surfaces_of(job: Job, found: SetPlan, plane: Plane, facets_of: FacetsOf) -> OwnSurfaces:
    """What stands at a ``plane`` of the ``found`` set of a ``job``, in its own place.

    ``facets_of`` gives the triangles of a form in its own metres, of a mesh a coarse copy; none while that is made.
    """
    cover = found.shot.needs[plane.need].cover
    if plane.build and isinstance(cover, ByBuild):
        own, waits = _of_build(job.build(plane.build), cover, facets_of)
        spots = _copies(own, cover.at_once, plane.deep)
        return OwnSurfaces(
            tuple(one.moved(1.0, (x, y, 0.0)) if x or y else one for x, y in spots for one in own), waits
        )
    people = isinstance(cover, ByPeople)
    size = size_of(plane.place, people=people)
    if size is None:
        return OwnSurfaces((), True)
    return OwnSurfaces((flat(size[0] / plane.scale.number, size[1] / plane.scale.number),), False, people)


def body_of(plane: Plane, own: OwnSurfaces, foot: float, offset: Offset = STILL) -> Body:
    """What stands at a ``plane``, with its ``own`` surfaces.

    Parameters
    ----------
    plane, own
        Which.
    foot
        Of its ground over the floor [m].
    offset
        Across, away and up from where it stands [m], while it moves.
    """
    middle = (plane.at.number + (plane.to or plane.at).number) / 2
    where = (plane.place.across_m + offset[0], middle + offset[1], foot + offset[2])
    return Body(plane.need, plane.name, own.facets, where, math.radians(plane.place.turn_deg), own.waits, own.person)


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


def outline_from(body: Body, at: tuple[float, float, float]) -> Outline:
    """The closed lines in the set [m] at which what is seen of a ``body`` from a point ``at`` in it [m] ends, wherever one looks from there."""
    from_there = body.local(at)
    own = [one.outline(from_there) for one in body.own]
    if not own:
        return NOTHING
    whole = together(own)
    return Outline(body.in_set(whole.points), whole.begins)


def outline_seen(body: Body, eye: Eye, known: Outline | None = None) -> Outline:
    """The closed lines in which an ``eye`` sees a ``body``, in pixels: filled where they wind at all they are its silhouette.

    Those in the set from where the eye is may be ``known``.
    """
    whole = outline_from(body, eye.at) if known is None else known
    if not len(whole.points):
        return NOTHING
    turned = eye.turned(whole.points)
    if float(turned[:, 2].min()) > NEAREST_M:
        return Outline(eye.drawn(turned), whole.begins)
    kept = [
        line for line in (clipped(one, NEAREST_M) for one in Outline(turned, whole.begins).lines()) if len(line) > 2
    ]
    if not kept:
        return NOTHING
    begins = np.concatenate([np.arange(len(line) + 1) == 0 for line in kept])
    return Outline(eye.drawn(np.concatenate([np.vstack((line, line[:1])) for line in kept])), begins)


NOTHING = Outline(np.empty((0, 2)), np.empty(0, np.bool_))


def horizon(eye: Eye) -> tuple[float, float]:
    """Where the horizon meets the left and the right edge of an ``eye``'s picture [pixels from its top]."""
    level = eye.reach_px * math.tan(eye.tilt)
    # what is level lies where the ray's upward part is nought: a straight line, turned by the roll about the picture's middle
    slope = math.tan(eye.roll)
    middle = eye.high_px / 2 + level / math.cos(eye.roll)
    half = eye.wide_px / 2
    return middle + slope * half, middle - slope * half
