"""Forms as triangles, and the outline in which an eye sees them. Imports numpy.

Triangles run counter-clockwise from outside; a form stands with its foot at height 0, centred along and away.
"""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Sections, Sphere, WeighedClay

Points = NDArray[np.float64]
Faces = NDArray[np.int64]
AROUND = 40
"""Sides of what is round: its outline is then within 0.3 % of the radius."""


class Outline(NamedTuple):
    """Closed lines, one behind the other, each ending where it begins."""

    points: Points
    """Shape (n, 3) or (n, 2)."""
    begins: NDArray[np.bool_]
    """Which of the points begin a line."""

    def lines(self) -> list[Points]:
        """Each line by itself."""
        return np.split(self.points, np.flatnonzero(self.begins)[1:]) if len(self.points) else []


def together(outlines: list[Outline]) -> Outline:
    """All of some ``outlines`` as one."""
    if len(outlines) == 1:
        return outlines[0]
    return Outline(np.concatenate([o.points for o in outlines]), np.concatenate([o.begins for o in outlines]))


class Facets:
    """A surface of triangles, with the neighbour of each of their edges.

    Parameters
    ----------
    points
        Corners, shape (n, 3): along, away and up [m].
    faces
        Three corners each, shape (m, 3).
    """

    def __init__(self, points: NDArray[Any], faces: NDArray[Any]) -> None:
        self.points: Points = np.asarray(points, np.float64)
        self.faces: Faces = np.asarray(faces, np.int64)
        self.ends = np.column_stack((self.faces.reshape(-1), np.roll(self.faces, -1, axis=1).reshape(-1)))
        """From and to corner of each edge, three a face."""
        self.beyond = _neighbours(self.ends, len(self.points))
        """The edge that runs the other way beside each; -1 where there is none."""
        a, b, c = (self.points[self.faces[:, i]] for i in range(3))
        self.normals = np.cross(b - a, c - a)
        self.offsets = np.einsum("ij,ij->i", self.normals, a)

    def moved(self, k: float, by: tuple[float, float, float], turn: float = 0.0) -> Facets:
        """Return it ``k`` times as large, turned clockwise from above by ``turn`` [rad] and moved ``by`` so much [m]; its neighbours are known."""
        cos, sin = math.cos(turn), math.sin(turn)
        spin = np.array([[cos, sin, 0.0], [-sin, cos, 0.0], [0.0, 0.0, 1.0]])
        new = object.__new__(Facets)
        new.points = (self.points * k) @ spin.T + by
        new.faces, new.ends, new.beyond = self.faces, self.ends, self.beyond
        new.normals = (self.normals * k**2) @ spin.T
        new.offsets = np.einsum("ij,ij->i", new.normals, new.points[new.faces[:, 0]])
        return new

    def outline(self, eye: tuple[float, float, float]) -> Outline:
        """The closed lines at which what an ``eye`` sees of it ends.

        They are the edges between faces that look to the eye and faces that look away. Seen from the eye they wind about all that the form
        covers, so that they, filled where they wind at all, are its silhouette: the sum of all faces that look to the eye, whose
        common edges fall away.
        """
        facing = np.repeat(self.normals @ np.asarray(eye) > self.offsets, 3)
        other = facing[self.beyond] & (self.beyond >= 0)
        corners, begins = _chained(self.ends[facing & ~other])
        return Outline(self.points[corners], begins)


def _neighbours(ends: Faces, count: int) -> Faces:
    """Find for each edge the one that runs the other way; edges that several share are paired in their order."""
    ahead, back = ends[:, 0] * count + ends[:, 1], ends[:, 1] * count + ends[:, 0]
    found = np.full(len(ends), -1, np.int64)
    order_a, order_b = np.argsort(ahead, kind="stable"), np.argsort(back, kind="stable")
    a, b = ahead[order_a], back[order_b]
    left = np.searchsorted(a, b, "left")
    nth = np.arange(len(b)) - np.searchsorted(b, b, "left")  # of edges that run alike, which one
    at = left + nth
    fits = (at < len(a)) & (a[np.minimum(at, len(a) - 1)] == b)
    found[order_b[fits]] = order_a[at[fits]]
    return found


def _chained(lines: Faces) -> tuple[Faces, NDArray[np.bool_]]:
    """Put directed edges together to closed lines: corners in their order, the first of each line once more at its end, and where lines begin.

    As many edges leave each corner as come to it, so each that comes is followed by one that leaves, the nth by the nth: a permutation,
    whose cycles are the lines. They are told apart and put in order by pointer jumping (Wyllie 1979), all at once.
    """
    count = len(lines)
    by_start, by_end = np.argsort(lines[:, 0], kind="stable"), np.argsort(lines[:, 1], kind="stable")
    if not np.array_equal(lines[by_start, 0], lines[by_end, 1]):
        return _walked(lines)
    following = np.empty(count, np.int64)
    following[by_end] = by_start
    label, jump = np.arange(count), following
    left, hop = np.ones(count, np.int64), following
    rounds = max(1, int(count).bit_length())
    for _ in range(rounds):
        label = np.minimum(label, label[jump])
        jump = jump[jump]
    leads = label == np.arange(count)
    left[leads], hop = 0, np.where(leads, np.arange(count), hop)
    for _ in range(rounds):
        left = left + left[hop]
        hop = hop[hop]
    order = np.lexsort((np.where(leads, -count - 1, -left), label))
    corners, first = lines[order, 0], leads[order]
    at = np.flatnonzero(first)
    ends = np.append(at[1:], count)
    closed = np.insert(corners, ends, corners[at])
    begins = np.zeros(len(closed), np.bool_)
    begins[at + np.arange(len(at))] = True
    return closed, begins


def _walked(lines: Faces) -> tuple[Faces, NDArray[np.bool_]]:
    """The same for a torn surface, whose lines do not close by themselves: each is walked to its end, and closed straight."""
    leaving: dict[int, list[int]] = {}
    for start, end in lines.tolist():
        leaving.setdefault(start, []).append(end)
    corners: list[int] = []
    begins: list[bool] = []
    while leaving:
        first = at = next(iter(leaving))
        begun = len(corners)
        while ways := leaving.get(at):
            corners.append(at)
            following = ways.pop()
            if not ways:
                del leaving[at]
            at = following
            if at == first:
                break
        corners.append(first)
        begins += [i == begun for i in range(begun, len(corners))]
    return np.array(corners, np.int64), np.array(begins, np.bool_)


@lru_cache(512)
def facets_of(form: Form) -> Facets:
    """The triangles of a ``form`` that is no mesh, in its own metres.

    Raises
    ------
    TypeError
        For a mesh, whose coarse copy is a fact of its own.
    """
    match form:
        case Box(length_m=a, depth_m=b, height_m=c):
            return _stacked([(a / 2, b / 2, 0.0), (a / 2, b / 2, c)], 4)
        case Cylinder(diameter_m=foot, height_m=height, top_diameter_m=top):
            upper = foot if top is None else top
            return _stacked([(foot / 2, foot / 2, 0.0), (upper / 2, upper / 2, height)], AROUND)
        case Sphere(diameter_m=d):
            return _ball(d, d, d)
        case WeighedClay(length_m=a, depth_m=b, height_m=c) | Displaced(length_m=a, depth_m=b, height_m=c):
            return _ball(a, b, c)
        case Sections(sections=cuts):
            foot_m = cuts[0].at_m
            return _stacked([(s.width_m / 2, s.depth_m / 2, s.at_m - foot_m) for s in cuts], AROUND)
    raise TypeError("the triangles of a mesh are its own")


def flat(width: float, height: float) -> Facets:
    """A board of a ``width`` and ``height`` [m] that stands upright and is seen from both sides."""
    w = width / 2
    points = [(-w, 0.0, 0.0), (w, 0.0, 0.0), (w, 0.0, height), (-w, 0.0, height)]
    return Facets(np.array(points), np.array([(0, 1, 2), (0, 2, 3), (2, 1, 0), (3, 2, 0)]))


def _ball(length: float, depth: float, height: float) -> Facets:
    rows = 16
    angles = [math.pi * i / rows for i in range(rows + 1)]
    return _stacked([(length / 2 * math.sin(a), depth / 2 * math.sin(a), height / 2 * (1 - math.cos(a))) for a in angles], AROUND)  # fmt: skip


def _stacked(rings: list[tuple[float, float, float]], around: int) -> Facets:
    """Rings one over the other, each half its length, half its depth and its height, joined; four around are a box's corners."""
    points: list[tuple[float, float, float]] = []
    named: list[list[int]] = []
    widest = max(max(ring[:2]) for ring in rings)
    for half_length, half_depth, height in rings:
        tip = max(half_length, half_depth) < 1e-9 * widest  # a point, and not a ring of corners on one spot
        named.append([len(points) + (0 if tip else i) for i in range(around)])
        for i in range(1 if tip else around):
            turn = 2 * math.pi * i / around
            x, y = ((1, 1, -1, -1)[i], (-1, 1, 1, -1)[i]) if around == 4 else (math.cos(turn), math.sin(turn))
            points.append((half_length * x, half_depth * y, height))
    faces = []
    for low, high in pairwise(named):
        for i in range(around):
            j = (i + 1) % around
            faces += [(low[i], low[j], high[j]), (low[i], high[j], high[i])]
    for i in range(1, around - 1):
        faces += [(named[0][0], named[0][i + 1], named[0][i]), (named[-1][0], named[-1][i], named[-1][i + 1])]
    return Facets(np.array(points), np.array([face for face in faces if len(set(face)) == 3]))


def as_facets(triangles: NDArray[Any], unit_m: float) -> Facets:
    """The surface of mesh ``triangles``, shape (faces, 3, 3), of which a unit stands for ``unit_m``: its foot at 0, centred along and away, in metres."""
    corners = np.asarray(triangles, np.float64).reshape(-1, 3)
    points, numbers = np.unique(corners, axis=0, return_inverse=True)
    low, high = points.min(axis=0), points.max(axis=0)
    points = (points - ((low[0] + high[0]) / 2, (low[1] + high[1]) / 2, low[2])) * unit_m
    return Facets(points, numbers.reshape(-1, 3))
