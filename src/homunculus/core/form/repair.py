"""Mending a triangle surface: holes closed, faces turned the same way, shells turned right side out."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import breadth_first_order, connected_components

from homunculus.core.form.mesh import Triangles, corner_keys

Ints = NDArray[np.int64]


class Mended(Struct, frozen=True, eq=False):
    """A mended surface, and what was done to it."""

    triangles: Triangles
    holes: int
    turned_faces: int
    turned_shells: int
    left_open: int
    """Edges that still have no partner, or more than one."""

    @property
    def words(self) -> str:
        """What was done, in a sentence."""
        done = []
        if self.holes:
            done.append(f"closed {self.holes} {'hole' if self.holes == 1 else 'holes'}")
        if self.turned_faces:
            done.append(f"turned {self.turned_faces} faces")
        if self.turned_shells:
            done.append(
                f"turned {self.turned_shells} {'shell' if self.turned_shells == 1 else 'shells'} right side out"
            )
        said = ", ".join(done) or "nothing to mend"
        if self.left_open:
            said += (
                f"; {self.left_open} edges stay open or shared by more than two faces: mend those where it was sculpted"
            )
        return said


def corners_of(triangles: Triangles) -> Ints:
    """Number the corners of ``triangles``: equal ones get one number. Shape (faces, 3)."""
    _, numbers = np.unique(corner_keys(triangles), return_inverse=True)
    return numbers.reshape(-1, 3).astype(np.int64)


def _edges(faces: Ints) -> tuple[Ints, Ints, NDArray[np.bool_]]:
    """Edges as one number each (low end × count + high end), the faces that they belong to, and which way they run."""
    a, b = faces.ravel(), np.roll(faces, -1, axis=1).ravel()
    keys = np.minimum(a, b) * (faces.max() + 1) + np.maximum(a, b)
    return keys, np.repeat(np.arange(len(faces)), 3), a < b


def _neighbours(faces: Ints) -> tuple[Ints, Ints, NDArray[np.bool_]]:
    """Pairs of faces that share an edge with nobody else, and whether they run it the same way."""
    keys, owners, forward = _edges(faces)
    order = np.argsort(keys, kind="stable")
    keys, owners, forward = keys[order], owners[order], forward[order]
    starts = np.flatnonzero(np.concatenate(([True], keys[1:] != keys[:-1])))
    counts = np.diff(np.append(starts, len(keys)))
    pairs = starts[counts == 2]
    return owners[pairs], owners[pairs + 1], forward[pairs] == forward[pairs + 1]


def shells_of(faces: Ints) -> tuple[int, Ints]:
    """Tell the shells apart that ``faces`` (corner numbers) hang together in: how many, and which each belongs to.

    Faces that share an edge hang together, however many meet there: a body with fins is one body.
    """
    keys, owners, _ = _edges(faces)
    order = np.argsort(keys)
    keys, owners = keys[order], owners[order]
    alike = np.flatnonzero(keys[1:] == keys[:-1])
    first, second = owners[alike], owners[alike + 1]
    graph = coo_matrix((np.ones(len(first), bool), (first, second)), shape=(len(faces), len(faces)))
    count, labels = connected_components(graph, directed=False)
    return int(count), labels.astype(np.int64)


def _volumes(triangles: Triangles, labels: Ints, count: int) -> NDArray[np.float64]:
    middle = triangles.reshape(-1, 3).mean(axis=0)
    a, b, c = (triangles[:, i].astype(float) - middle for i in range(3))
    return np.bincount(labels, np.einsum("ij,ij->i", a, np.cross(b, c)) / 6, count).astype(np.float64)


def _winding(point: NDArray[np.float64], triangles: Triangles) -> float:
    """How often a closed surface winds around a point (van Oosterom and Strackee 1983): about 0 outside, ±1 inside."""
    a, b, c = (triangles[:, i].astype(float) - point for i in range(3))
    la, lb, lc = (np.linalg.norm(v, axis=1) for v in (a, b, c))
    top = np.einsum("ij,ij->i", a, np.cross(b, c))
    below = (
        la * lb * lc
        + np.einsum("ij,ij->i", a, b) * lc
        + np.einsum("ij,ij->i", b, c) * la
        + np.einsum("ij,ij->i", c, a) * lb
    )
    return float(np.arctan2(top, below).sum() / (2 * np.pi))


def inside_out(triangles: Triangles, most: int = 200) -> tuple[int, list[int]]:
    """Find shells that face the wrong way: outer ones that enclose a negative volume, hollows that enclose a positive one.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    most
        Above so many shells only the sign of each is looked at, as if none lay in another.

    Returns
    -------
    tuple
        Number of shells, and the numbers of those that face the wrong way.
    """
    found = nesting(triangles, most)
    return len(found), [n for n, (volume, depth) in enumerate(found) if (volume < 0) != (depth % 2 == 1)]


def hollows(triangles: Triangles) -> NDArray[np.bool_]:
    """Which of the ``triangles`` (shape (faces, 3, 3)) bound closed cavities: shells that lie in others and face inward."""
    _, labels = shells_of(corners_of(triangles))
    inner = [n for n, (volume, depth) in enumerate(nesting(triangles)) if volume < 0 and depth % 2 == 1]
    return np.isin(labels, inner)


def nesting(triangles: Triangles, most: int = 200) -> list[tuple[float, int]]:
    """For every shell its signed volume, and in how many others it lies.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    most
        Above so many shells none is taken to lie in another.
    """
    count, labels = shells_of(corners_of(triangles))
    volumes = _volumes(triangles, labels, count).tolist()
    if not 1 < count <= most:
        return [(volume, 0) for volume in volumes]
    order = np.argsort(labels, kind="stable")
    starts = np.searchsorted(labels[order], np.arange(count))
    sorted_faces = triangles[order]
    low = np.minimum.reduceat(sorted_faces.min(axis=1), starts)
    high = np.maximum.reduceat(sorted_faces.max(axis=1), starts)
    ends = np.append(starts[1:], len(order))
    found = []
    for shell in range(count):
        around = np.flatnonzero((low <= low[shell]).all(axis=1) & (high >= high[shell]).all(axis=1))
        point = sorted_faces[starts[shell]].mean(axis=0).astype(float)
        depth = sum(1 for other in around.tolist()
                    if other != shell and abs(_winding(point, sorted_faces[starts[other] : ends[other]])) > 0.5)  # fmt: skip
        found.append((volumes[shell], depth))
    return found


def mend(triangles: Triangles) -> Mended:
    """Mend a surface: faces of a shell turned one way, holes closed by fans, shells turned right side out.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    """
    whole = _without_slivers(triangles)
    whole, turned = _turn_alike(whole)
    whole, holes = _close_holes(whole)
    _, wrong = inside_out(whole)
    if wrong:
        _, labels = shells_of(corners_of(whole))
        flip = np.isin(labels, wrong)
        whole = np.where(flip[:, None, None], whole[:, ::-1], whole)
    keys, _, _ = _edges(corners_of(whole))
    _, counts = np.unique(keys, return_counts=True)
    return Mended(np.ascontiguousarray(whole, np.float32), holes, turned, len(wrong), int((counts != 2).sum()))


def fill(triangles: Triangles) -> tuple[Triangles, str]:
    """Fill closed cavities: the shells that bound them are left out. Gives the ``triangles`` themselves back if there is none.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).

    Returns
    -------
    tuple
        The surface without cavities, shape (fewer faces, 3, 3), and what was done, in words.
    """
    inner = hollows(triangles)
    if not inner.any():
        return triangles, "the cavity lies between parts that run into each other: close it where it was sculpted"
    count, _ = shells_of(corners_of(triangles[inner]))
    return np.asarray(triangles[~inner]), f"filled {count} closed {'cavity' if count == 1 else 'cavities'}"


def _without_slivers(triangles: Triangles) -> Triangles:
    """Leave out triangles of which two corners are one."""
    faces = corners_of(triangles)
    good = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
    return np.asarray(triangles[good])


def _turn_alike(triangles: Triangles) -> tuple[Triangles, int]:
    """Turn faces so that neighbours run their common edge opposite ways; of each shell the larger part stays."""
    first, second, same = _neighbours(corners_of(triangles))
    if not same.any():
        return triangles, 0
    size = len(triangles)
    graph = coo_matrix((np.where(same, 2, 1), (first, second)), shape=(size, size)).tocsr()
    both = graph.maximum(graph.T).tocsr()
    _, labels = connected_components(both, directed=False)
    flip = np.zeros(size, bool)
    for shell in np.unique(labels[np.concatenate((first[same], second[same]))]):
        order, before = breadth_first_order(both, int(np.argmax(labels == shell)), directed=False)
        steps = np.asarray(both[before[order[1:]], order[1:]]).ravel() == 2
        for node, parent, alike in zip(order[1:], before[order[1:]], steps, strict=True):
            flip[node] = flip[parent] ^ alike
        if flip[order].mean() > 0.5:
            flip[order] = ~flip[order]
    return np.where(flip[:, None, None], triangles[:, ::-1], triangles), int(flip.sum())


def _close_holes(triangles: Triangles) -> tuple[Triangles, int]:
    """Close every loop of open edges with a fan from its middle."""
    faces = corners_of(triangles)
    keys, owners, _ = _edges(faces)
    _, where, counts = np.unique(keys, return_inverse=True, return_counts=True)
    open_edges = np.flatnonzero(counts[where] == 1)
    if not len(open_edges):
        return triangles, 0
    side = open_edges % 3
    start = faces[owners[open_edges], side]
    end = faces[owners[open_edges], (side + 1) % 3]
    at = dict(zip(start.tolist(), triangles[owners[open_edges], side], strict=True))
    onward: dict[int, list[int]] = {}
    for here, there in zip(end.tolist(), start.tolist(), strict=True):
        onward.setdefault(here, []).append(there)  # a patch runs each edge the other way
    fans, holes = [], 0
    for loop in _loops(onward):
        points = np.array([at[corner] for corner in loop])
        middle = points.mean(axis=0)
        fans.append(np.stack((points, np.roll(points, -1, axis=0), np.broadcast_to(middle, points.shape)), axis=1))
        holes += 1
    return (np.concatenate((triangles, *fans)).astype(np.float32), holes) if fans else (triangles, 0)


def _loops(onward: dict[int, list[int]]) -> Iterator[list[int]]:
    """Closed walks along edges, each edge once; holes that touch at a corner are told apart. Uses ``onward`` up."""
    for begin in list(onward):
        path, place = [begin], {begin: 0}
        while path:
            ways = onward.get(path[-1])
            if not ways:
                place.pop(path.pop())  # a dead end: its edges stay open
                continue
            there = ways.pop()
            if there in place:
                loop = path[place[there] :]
                for corner in loop[1:]:
                    place.pop(corner)
                path = path[: place[there] + 1]
                if len(loop) > 2:
                    yield loop
            else:
                place[there] = len(path)
                path.append(there)
