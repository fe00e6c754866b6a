"""How far points lie from a triangle surface: by the nearest of a dense sample of it, and the triangles that these lie on. Imports numpy, scipy."""

from __future__ import annotations

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import Triangles

Floats = NDArray[np.float64]
FINEST, THIN, CLOSE = 0.12, 0.6, 3.0
"""Side of the cubes of which one sample each is kept, and of those for asking from far away, and how near the surface all that
were kept are asked; in grid cells."""
MOST_SAMPLES = 9_000_000
"""What bounds the memory of a study to about 2 GB and its time to some tens of seconds, as :data:`inside.MOST_CROSSINGS` does."""
AT_ONCE = 400_000
"""Triangles that are sampled at once: what is reckoned on the way takes several times the memory of the triangles."""
LEAF = 64
"""Samples that lie together in a tree: from far away many are about as near, and to go through them in a row is a third quicker
than to go down to each."""


class Surfaces(Struct, frozen=True, eq=False):
    """Points on a triangle surface, the triangle that each lies on, and trees to find the nearest in."""

    triangles: Floats
    samples: Floats
    owners: NDArray[np.intp]
    tree: cKDTree
    few: NDArray[np.intp]
    far: cKDTree
    """Of the few alone: what is asked from well away from the surface, where a sideways miss of a third of a cell moves a
    distance by hundredths of a cell, and the search is as long as the samples are many."""
    several: bool = False
    """Whether there is more than one shell, or one with edges of more than two faces: layers then lie on the outside of all."""
    torn: bool = False
    """Whether it is not closed: inside is then told by counting along all three axes."""


def sampled(triangles: Triangles, pitch: float, *, torn: bool = False) -> Surfaces:
    """Sample a surface for grids of that ``pitch`` or coarser, in the form's own unit.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    pitch
        Of the finest grid.
    torn
        As :class:`Surfaces` keeps it.

    Raises
    ------
    UserError
        When the surface is so folded that its samples would not fit the memory.
    """
    fine = triangles.astype(float)
    samples, owners = sample_surface(fine, pitch * 0.5)
    kept = _one_a_cell(samples, pitch * FINEST)
    if len(kept) < 0.7 * len(samples):  # faces far finer than the grid
        samples, owners = samples[kept], owners[kept]
    return _with_trees(fine, samples, owners, pitch, several=False, torn=torn)


def _with_trees(
    fine: Floats, samples: Floats, owners: NDArray[np.intp], pitch: float, *, several: bool, torn: bool
) -> Surfaces:
    """Plant the trees in which nearest samples are found, one of all and one of a few for asking from far away."""
    tree = cKDTree(samples, leafsize=LEAF, balanced_tree=False)
    few = _one_a_cell(samples, pitch * THIN)
    if len(few) > 0.5 * len(samples):
        few = np.arange(len(samples))
        return Surfaces(fine, samples, owners, tree, few, tree, several, torn)
    return Surfaces(fine, samples, owners, tree, few, cKDTree(samples[few], leafsize=LEAF), several, torn)


def outer_part(surface: Surfaces, solid: NDArray[np.bool_], origin: Floats, pitch: float) -> Surfaces:
    """Keep the samples that the outside touches: those that lie buried in other shells, or in cavities, carry no layer.

    Parameters
    ----------
    surface
        All samples.
    solid
        Which points of the grid the outside does not reach, shape (x, y, z).
    origin, pitch
        Where the grid begins, shape (3,), and its pitch, in the form's own unit.
    """
    corners = surface.triangles[surface.owners]
    normal = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    normal /= np.maximum(np.linalg.norm(normal, axis=1, keepdims=True), 1e-30)
    free = np.zeros(len(surface.owners), bool)
    for way in (1.0, -1.0):
        for far in (0.8, 1.6):
            cell = np.rint((surface.samples + way * far * pitch * normal - origin) / pitch).astype(int)
            cell = np.clip(cell, 0, np.array(solid.shape) - 1)
            free |= ~solid[cell[:, 0], cell[:, 1], cell[:, 2]]
    if free.all() or not free.any():
        return surface
    samples, owners = surface.samples[free], surface.owners[free]
    return _with_trees(surface.triangles, samples, owners, pitch, several=True, torn=surface.torn)


def measure_points(grid: Floats, surface: Surfaces, pitch: float, reach: float, distances: NDArray[np.float32]) -> None:
    """Measure how far points lie from a surface.

    Parameters
    ----------
    grid
        The points, shape (n, 3), in the form's own unit.
    surface
        Its samples.
    pitch, reach
        Of the grid that they are of, and how far from the surface distances are wanted, in that unit.
    distances
        Of as many points; written where they lie within reach.
    """
    distance, near = surface.far.query(grid, k=2, distance_upper_bound=reach + 2 * pitch)
    close = np.flatnonzero(np.isfinite(distance[:, 0]))
    if not len(close):
        return
    near = np.append(surface.few, len(surface.owners))[near]
    if surface.far is not surface.tree:
        by = close[distance[close, 0] < CLOSE * pitch]
        near[by] = surface.tree.query(grid[by], k=2)[1]
    exact = _distance_to_owners(grid[close], near[close], surface.owners, surface.triangles)
    distances.reshape(-1)[close] = np.minimum(exact, reach)


def _one_a_cell(samples: Floats, cell: float) -> NDArray[np.intp]:
    """Indices of one sample in each cube of side ``cell``."""
    cells = [np.floor((v - v.min()) / cell).astype(np.int64) for v in (samples[:, 0], samples[:, 1], samples[:, 2])]
    keys = (cells[0] * (cells[1].max() + 1) + cells[1]) * (cells[2].max() + 1) + cells[2]
    return np.asarray(np.unique(keys, return_index=True)[1])


def _distance_to_owners(points: Floats, near: NDArray[np.intp], owners: NDArray[np.intp], triangles: Floats) -> Floats:
    """Least distance from each point to the triangles that its nearest samples lie on."""
    best = np.full(len(points), np.inf)
    last = np.full(len(points), len(triangles))
    for k in range(near.shape[1]):
        valid = np.flatnonzero(near[:, k] < len(owners))
        owner = owners[near[valid, k]]
        other = owner != last[valid]  # where faces are large, the next sample lies on the same one
        valid, owner = valid[other], owner[other]
        last[valid] = owner
        best[valid] = np.minimum(best[valid], distance_to_triangles(points[valid], triangles[owner].astype(float)))
    return best


def distance_to_triangles(points: Floats, corners: Floats) -> Floats:
    """Distance from each point to its own triangle.

    Parameters
    ----------
    points
        Shape (n, 3).
    corners
        Shape (n, 3, 3).

    Returns
    -------
    array, shape (n,)
        In the units of the points.
    """
    place = np.ascontiguousarray(points.T)
    a, b, c = _axis_by_axis(corners)
    normal = _across(b - a, c - a)
    long = _times(normal, normal)
    height = _times(place - a, normal)
    above = np.ones(len(points), bool)
    best = np.full(len(points), np.inf)
    for p, q in ((a, b), (b, c), (c, a)):
        edge, to = q - p, place - p
        square = _times(edge, edge)
        t = np.clip(_times(to, edge) / np.where(square > 0, square, 1.0), 0, 1)
        gap = to - t * edge
        best = np.minimum(best, _times(gap, gap))
        above &= _times(_across(normal, edge), to) >= 0
    return np.sqrt(np.where(above, height**2 / np.where(long > 0, long, 1.0), best))


def _axis_by_axis(corners: Floats) -> Floats:
    """Corners of shape (n, 3, 3) as three vectors each axis by axis, shape (3, 3, n): many times quicker than along so short an axis."""
    return np.ascontiguousarray(corners.transpose(1, 2, 0))


def _times(u: Floats, v: Floats) -> Floats:
    """Dot product of vectors that lie axis by axis, shape (3, n)."""
    product: Floats = u[0] * v[0] + u[1] * v[1] + u[2] * v[2]
    return product


def _across(u: Floats, v: Floats) -> Floats:
    """Cross product of vectors that lie axis by axis, shape (3, n)."""
    return np.stack((u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]))


def too_folded() -> UserError:
    """What is said of a surface that could not be measured in bounded time and memory."""
    return UserError(
        "Its surface is folded too often to be measured", remedy="Close it, or make it simpler, and export it again"
    )


def sample_surface(triangles: Floats, spacing: float) -> tuple[Floats, NDArray[np.intp]]:
    """Points on the surface of ``triangles`` about ``spacing`` apart, in their own unit, and the triangle that each lies on."""
    points, owners, so_far = [], [], 0
    for begin in range(0, len(triangles), AT_ONCE):
        a, b, c = _axis_by_axis(triangles[begin : begin + AT_ONCE])
        across = _across(b - a, c - a)
        area = np.sqrt(_times(across, across)) / 2
        counts = np.maximum(1, np.ceil(area / spacing**2)).astype(int)
        # Long thin triangles need points along their length as well.
        longest = np.sqrt(np.maximum.reduce([_times(edge, edge) for edge in (b - a, c - b, a - c)]))
        counts = np.maximum(counts, np.ceil(longest / spacing).astype(int))
        so_far += int(counts.sum())
        if so_far > MOST_SAMPLES:
            raise too_folded()
        owner = np.repeat(np.arange(len(counts)), counts)
        order = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
        u = (order + 0.5) / counts[owner]
        v = (order * 0.6180339887498949 + 0.5) % 1.0  # golden-ratio sequence: even without chance
        root = np.sqrt(u)
        first, second, third = 1 - root, root * (1 - v), root * v
        found = np.empty((len(owner), 3))
        for axis in range(3):
            found[:, axis] = first * a[axis][owner] + second * b[axis][owner] + third * c[axis][owner]
        points.append(found)
        owners.append(owner + begin)
    return np.concatenate(points), np.concatenate(owners)
