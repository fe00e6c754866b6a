"""The signed distance field of a form: layers and sections come from the same grid. Imports numpy, scipy, contourpy.

Distances are to the nearest triangles of a dense sample of the surface (found with a k-d tree), negative inside; inside is
told from outside by counting crossings along columns.
"""

from __future__ import annotations

import io
import math
import os
import zipfile
import zlib
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from functools import lru_cache
from itertools import pairwise
from typing import Any

import contourpy
import numpy as np
from msgspec import Struct
from numpy.typing import NDArray
from scipy.ndimage import binary_fill_holes, distance_transform_edt, label, map_coordinates
from scipy.spatial import cKDTree

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import Triangles, bounds
from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Sections, Sphere, WeighedClay

Floats = NDArray[np.float64]
Share = Callable[[float], None]
FINEST, THIN, CLOSE = 0.12, 0.6, 3.0
"""Side of the cubes of which one sample each is kept, and of those for asking from far away, and how near the surface all that
were kept are asked; in grid cells."""
MOST_SAMPLES, MOST_CROSSINGS, PORTION = 9_000_000, 120_000_000, 3_000_000
"""What bounds the memory of a study to about 2 GB and its time to some tens of seconds."""
AT_ONCE = 400_000
"""Triangles that are sampled at once: what is reckoned on the way takes several times the memory of the triangles."""
LEAF = 64
"""Samples that lie together in a tree: from far away many are about as near, and to go through them in a row is a third quicker
than to go down to each."""
WORKERS = max(2, min(6, (os.cpu_count() or 2) - 1))
"""Threads that measure; one core is left to the window where there are more than two."""
MOST_UNPACKED = 200_000_000
LEAST_CAVITY = 40
"""Cells of the grid below which a hole is taken for the grid's own."""
Polygons = tuple[NDArray[np.float64], ...]
"""Each of shape (points, 2): along the cut, up. The largest first; the last point is not the first again."""


class Field(Struct, frozen=True, eq=False):
    """Signed distances on a grid, in the form's own units; beyond ``reach`` they stand at plus or minus it."""

    distances: NDArray[np.float32]
    origin: tuple[float, float, float]
    pitch: float
    reach: float
    middle: tuple[float, float]
    """Of the form, along and in depth: what cuts are measured from."""
    cavities: int = 0
    hollow: float = 0.0
    """Closed cavities, and what they take out of the form; the distances stand as if they were filled."""
    doubled: float = 0.0
    """What shells that run into each other enclose more than once."""

    def section(self, *, offset: float, angle: float, levels: tuple[float, ...]) -> tuple[Polygons, ...]:
        """Cut the field with an upright plane and trace where it stands at each level.

        Parameters
        ----------
        offset
            Distance of the plane from the form's middle.
        angle
            Turn of the plane about the vertical [radians]; 0 cuts along the side view.
        levels
            Distances from the surface: 0 is the form, t the outside of a layer of thickness t.

        Returns
        -------
        tuple of polygons for each level
            Points (along the cut from the middle, up).
        """
        cut = _cut(self, offset, angle)
        return tuple(cut.at(level) for level in levels)

    def plane(self, offset: float, angle: float) -> tuple[Floats, Floats, Floats]:
        """Sample an upright plane.

        Parameters
        ----------
        offset
            Distance from the form's middle, in its own units.
        angle
            Turn about the vertical [radians].

        Returns
        -------
        tuple of arrays
            Places along the cut, shape (n,); up, shape (m,); the distances there, shape (n, m). In the form's own units.
        """
        shape = self.distances.shape
        half = math.hypot(shape[0], shape[1]) * self.pitch / 2
        along = np.arange(-half, half + self.pitch / 2, self.pitch)
        up = np.arange(shape[2]) * self.pitch + self.origin[2]
        x = self.middle[0] + along * math.cos(angle) - offset * math.sin(angle)
        y = self.middle[1] + along * math.sin(angle) + offset * math.cos(angle)
        i, j = (x - self.origin[0]) / self.pitch, (y - self.origin[1]) / self.pitch
        k = np.arange(shape[2], dtype=float)
        grid = np.stack(
            (np.repeat(i[:, None], len(k), 1), np.repeat(j[:, None], len(k), 1), np.repeat(k[None, :], len(i), 0))
        )
        there: Floats = map_coordinates(self.distances, grid, order=1, mode="constant", cval=self.reach)
        return along.astype(np.float64), up.astype(np.float64), there

    def surface(self, most: int = 40_000) -> tuple[Floats, Floats]:
        """Points on the surface with their normals, for drawing the form.

        Parameters
        ----------
        most
            About how many at most.

        Returns
        -------
        tuple of two arrays, shape (points, 3)
            In the form's own units; normals of length 1, outward.
        """
        near = np.argwhere(np.abs(self.distances) < 0.75 * self.pitch)
        near = near[((near > 0) & (near < np.array(self.distances.shape) - 1)).all(axis=1)]
        near = near[:: max(1, len(near) // most)]
        i, j, k = near.T
        slope = np.stack([
            self.distances[i + 1, j, k] - self.distances[i - 1, j, k], self.distances[i, j + 1, k] - self.distances[i, j - 1, k],
            self.distances[i, j, k + 1] - self.distances[i, j, k - 1],
        ], axis=1).astype(float)  # fmt: skip
        normals = slope / np.maximum(np.linalg.norm(slope, axis=1, keepdims=True), 1e-30)
        points = near * self.pitch + np.array(self.origin) - normals * self.distances[i, j, k][:, None]
        return points, normals

    def to_bytes(self) -> bytes:
        """Write the field, compressed; half precision is finer than the grid can tell."""
        buffer = io.BytesIO()
        np.savez_compressed(
            buffer, distances=(self.distances / self.reach).astype(np.float16),
            frame=np.array([*self.origin, self.pitch, self.reach, *self.middle]),
        )  # fmt: skip
        return buffer.getvalue()


def field_from_bytes(data: bytes, where: str) -> Field:
    """Read a field that :meth:`Field.to_bytes` wrote.

    Parameters
    ----------
    data
        The whole file.
    where
        Its name, for the message.

    Raises
    ------
    UserError
        When it is damaged.
    """
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as packed:
            if sum(entry.file_size for entry in packed.infolist()) > MOST_UNPACKED:
                raise ValueError("it unpacks to more than a field is")
        with np.load(io.BytesIO(data), allow_pickle=False) as kept:
            frame = kept["frame"].tolist()
            distances = kept["distances"].astype(np.float32) * np.float32(frame[4])
        x, y, z, pitch, reach, along, deep = frame
        if distances.ndim != 3 or not (math.isfinite(sum(frame)) and pitch > 0 and reach > 0):
            raise ValueError("it is no grid")
    except (OSError, ValueError, KeyError, EOFError, IndexError, TypeError, MemoryError, NotImplementedError, zlib.error,
            zipfile.BadZipFile):  # fmt: skip
        raise UserError("The kept section field is damaged", where, "It will be made again") from None
    return Field(distances, (x, y, z), pitch, reach, (along, deep))


class _Cut:
    """A plane through a field. It is sampled once, however many layers are pulled through it, and the last levels are kept."""

    def __init__(self, field: Field, offset: float, angle: float) -> None:
        along, up, plane = field.plane(offset, angle)
        self._pitch = field.pitch
        self._tracer = contourpy.contour_generator(x=along, y=up, z=plane.T, line_type="Separate")
        self.at = lru_cache(8)(self._trace)

    def _trace(self, level: float) -> Polygons:
        return _closed(list(self._tracer.lines(level)), self._pitch)


@lru_cache(2)
def _cut(field: Field, offset: float, angle: float) -> _Cut:
    return _Cut(field, offset, angle)


def _closed(lines: list[Any], pitch: float) -> Polygons:
    polygons = []
    for line in lines:
        points = np.asarray(line)
        area = abs(np.sum(points[:-1, 0] * points[1:, 1] - points[1:, 0] * points[:-1, 1])) / 2
        if len(points) > 3 and area > pitch * pitch:
            polygons.append((area, points[:-1]))
    polygons.sort(key=lambda item: -item[0])
    return tuple(polygon for _, polygon in polygons)


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


def grid_pitch(size: Floats, reach: float, points: int) -> float:
    """Pitch of a grid of so many ``points`` around a form of that ``size``, shape (3,), and ``reach`` beyond, all in its own unit."""
    return float((np.prod(size + 2 * reach) / points) ** (1 / 3))


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


def _outer(surface: Surfaces, solid: NDArray[np.bool_], origin: Floats, pitch: float) -> Surfaces:
    """Keep the samples that the outside touches: those that lie buried in other shells, or in cavities, carry no layer."""
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


def make_field(
    triangles: Triangles,
    *,
    reach: float,
    points: int,
    progress: Share = lambda _share: None,
    surface: Surfaces | None = None,
) -> Field:
    """Make the field of a triangle surface.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    reach
        How far from the surface distances are wanted.
    points
        About how many grid points.
    progress
        Called with a share from 0 to 1; may raise to stop.
    surface
        Its samples, where they were made before.

    Raises
    ------
    UserError
        When the surface is so folded that it could not be measured in bounded time and memory.
    """
    low, high = bounds(triangles)
    pitch = grid_pitch(high - low, reach, points)
    surface = surface or sampled(triangles, pitch)
    origin = low - reach - pitch * np.array([1.137, 1.291, 1.419])  # off any plane that a modeller would use
    shape = np.ceil((high - low + 2 * reach) / pitch).astype(int) + 3
    with ThreadPoolExecutor(WORKERS) as pool:
        told = pool.submit(_inside, surface.triangles, origin, pitch, shape, surface.torn)
        cavities, hollow = 0, 0.0
        if surface.several:
            inside, doubled = told.result()
            solid = binary_fill_holes(inside)  # everything that the outside does not reach
            labels, count = label(solid & ~inside)
            sizes = np.bincount(labels.ravel(), minlength=count + 1)[1:]
            cavities, hollow = int((sizes > LEAST_CAVITY).sum()), float(sizes[sizes > LEAST_CAVITY].sum()) * pitch**3
            surface = _outer(surface, solid, origin, pitch)
        distances = np.full(tuple(shape), np.float32(reach))
        y, z = np.meshgrid(np.arange(shape[1]), np.arange(shape[2]), indexing="ij")
        slab = np.stack((np.zeros(y.size), y.ravel(), z.ravel()), axis=1) * pitch + origin
        slabs = [
            pool.submit(_measure_slab, slab + np.array([i * pitch, 0, 0]), surface, pitch, reach, distances[i])
            for i in range(shape[0])
        ]
        try:
            if not surface.several:
                solid, doubled = told.result()
            for i, done in enumerate(slabs):
                progress(i / shape[0])
                done.result()
        finally:
            pool.shutdown(cancel_futures=True)
    np.negative(distances, out=distances, where=solid)
    middle = (low + high) / 2
    return Field(
        distances, tuple(origin.tolist()), pitch, reach, (float(middle[0]), float(middle[1])), cavities, hollow, doubled
    )


def _measure_slab(grid: Floats, surface: Surfaces, pitch: float, reach: float, distances: NDArray[np.float32]) -> None:
    """Write into one slab of ``distances`` how far the ``grid``'s points, shape (n, 3), lie from the surface, where within reach."""
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


def usual_reach(triangles: Triangles) -> float:
    """How far layers on ``triangles`` are usually wanted: a quarter of the side of a cube of their area."""
    cut = np.cross(triangles[:, 1] - triangles[:, 0], triangles[:, 2] - triangles[:, 0])
    return 0.25 * float(np.sqrt(np.linalg.norm(cut, axis=1).sum() / 12))


def solid_volume(field: Field) -> float:
    """Volume inside the ``field``'s surface, cells on it counted by the part that lies inside."""
    return float(np.clip(0.5 - field.distances.astype(float) / field.pitch, 0, 1).sum()) * field.pitch**3


def depth_within(field: Field) -> Floats:
    """Depths below the surface of all cells of a ``field`` that lie deeper than its reach.

    Deeper than the reach distances were not kept; there it is the way to the nearest cell where they were, and its depth.
    """
    deep = field.distances <= -field.reach * 0.999
    if not deep.any():
        return np.zeros(0)
    way, nearest = distance_transform_edt(deep, return_indices=True)
    known = -field.distances[tuple(index[deep] for index in nearest)].astype(float)
    most = way[deep] * field.pitch + known  # by way of that cell's centre
    least = field.reach + (way[deep] - 0.5) * field.pitch  # the centre lies up to half a cell beyond the reach
    depths: Floats = (most + least) / 2
    return depths


def layer_volumes(field: Field, thicknesses: Floats) -> tuple[Floats, Floats]:
    """Volumes of the outward and the inward layer of each thickness.

    Parameters
    ----------
    field
        The form's distances.
    thicknesses
        At most the field's reach.
    """
    cell, pitch = field.pitch**3, field.pitch
    signed = field.distances[np.abs(field.distances) < field.reach].astype(float)
    volumes = []
    for s in (signed, -signed):
        # Each point stands for a cell; near a level only part of the cell counts, on both sides of it.
        bare = np.clip(-s / pitch + 0.5, 0, 1).sum()
        volumes.append(np.array([np.clip((t - s) / pitch + 0.5, 0, 1).sum() - bare for t in thicknesses]) * cell)
    return volumes[0], volumes[1]


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
            raise UserError(
                "Its surface is folded too often to be measured",
                remedy="Close it, or make it simpler, and export it again",
            )
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


def _inside(
    triangles: Floats, origin: Floats, pitch: float, shape: NDArray[np.intp], torn: bool = False
) -> tuple[NDArray[np.bool_], float]:
    """Which grid points lie inside, shape (x, y, z), and the volume that is enclosed more than once.

    Of a surface that is not closed inside is told by a vote of three axes.

    A column that leaves the surface another number of times than it entered tells nothing and has no vote.
    """
    if not torn:
        found, _, more = _wound(triangles, origin, pitch, shape)
        return found, more * pitch**3
    votes = np.zeros(tuple(shape), np.int8)
    doubled = []
    for axis in range(3):
        turn = [(axis + 1) % 3, (axis + 2) % 3, axis]
        found, fair, more = _wound(triangles[:, :, turn], origin[turn], pitch, shape[turn])
        vote = np.where(found, 1, -1).astype(np.int8) * fair[:, :, None]
        votes += np.transpose(vote, np.argsort(turn))
        doubled.append(more)
    return votes > 0, min(doubled) * pitch**3


def _wound(
    triangles: Floats, origin: Floats, pitch: float, shape: NDArray[np.intp]
) -> tuple[NDArray[np.bool_], NDArray[np.bool_], float]:
    """Where the surface winds about grid points, by signed crossings along each column in z; which columns came out even.

    Third, how many cells it encloses more than once, counted as often.

    Where faces point both ways the crossings are counted without their sign, as even and odd.
    """
    signed, plain = np.zeros(int(np.prod(shape))), np.zeros(int(np.prod(shape)))
    flat = (triangles[:, :, :2] - origin[:2]) / pitch
    low, spans = _columns(flat)
    some = np.flatnonzero(spans[:, 0] * spans[:, 1])  # of a fine surface most faces lie between columns
    flat, low, spans, heights = flat[some], low[some], spans[some], triangles[some, :, 2]
    begin = 0
    for upto in _portions(spans):
        part = slice(begin, upto)
        column, z, signs = _crossings(flat[part], heights[part], low[part], spans[part])
        level = np.clip(np.ceil((z - origin[2]) / pitch).astype(int), 0, shape[2] - 1)
        cells = np.ravel_multi_index((column[:, 0], column[:, 1], level), tuple(shape))
        signed += np.bincount(cells, signs, len(signed))
        plain += np.bincount(cells, minlength=len(plain))
        begin = upto
    winding = np.cumsum(signed.reshape(tuple(shape)), axis=2)
    parity = np.cumsum(plain.reshape(tuple(shape)), axis=2) % 2
    even = winding[:, :, -1] == 0
    found = np.where(even[:, :, None], winding != 0, parity == 1)
    more = float(np.maximum(np.abs(winding[even]) - 1, 0).sum())
    return found, even | (parity[:, :, -1] == 0), more


def _portions(spans: NDArray[np.intp]) -> list[int]:
    """Where to part triangles that span so many columns, so that each portion crosses a bounded number of them."""
    total = np.cumsum(spans[:, 0] * spans[:, 1])
    if not len(total):
        return []
    if total[-1] > MOST_CROSSINGS:
        raise UserError(
            "Its surface is folded too often to be measured", remedy="Close it, or make it simpler, and export it again"
        )
    marks = np.searchsorted(total, np.arange(1, int(total[-1] // PORTION) + 1) * PORTION) + 1
    return [*marks[marks < len(spans)].tolist(), len(spans)]


def _columns(flat: Floats) -> tuple[NDArray[np.intp], NDArray[np.intp]]:
    """The first column that each triangle may cross, along x and y, and how many; corners in pitches, shape (n, 3, 2)."""
    a, b, c = flat[:, 0], flat[:, 1], flat[:, 2]  # corner by corner: many times quicker than along so short an axis
    low = np.ceil(np.minimum(np.minimum(a, b), c)).astype(int)
    high = np.floor(np.maximum(np.maximum(a, b), c)).astype(int)
    return low, np.maximum(high - low + 1, 0)


def _crossings(
    flat: Floats, heights: Floats, low: NDArray[np.intp], spans: NDArray[np.intp]
) -> tuple[NDArray[np.intp], Floats, Floats]:
    """Where columns in z cross triangles: which column, shape (crossings, 2), how high, and which way, plus going in.

    Of the triangles, corners along x and y in pitches, shape (n, 3, 2), their heights (n, 3), and what columns they may cross.
    """
    counts = spans[:, 0] * spans[:, 1]
    owner = np.repeat(np.arange(len(flat)), counts)
    order = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    column = np.stack((low[owner, 0] + order // spans[owner, 1], low[owner, 1] + order % spans[owner, 1]), axis=1)
    a, b, c = (flat[owner, k] - column for k in range(3))
    cross = [p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0] for p, q in ((b, c), (c, a), (a, b))]
    total = cross[0] + cross[1] + cross[2]
    hit = (total != 0) & (
        ((cross[0] >= 0) & (cross[1] >= 0) & (cross[2] >= 0)) | ((cross[0] <= 0) & (cross[1] <= 0) & (cross[2] <= 0))
    )
    corners = heights[owner[hit]]
    z = sum(cross[k][hit] / total[hit] * corners[:, k] for k in range(3))
    return column[hit], np.asarray(z), np.where(total[hit] < 0, 1.0, -1.0)


def triangles_of(form: Form) -> Triangles:
    """Triangulate a form that is no mesh, foot at 0 and centred.

    Parameters
    ----------
    form
        In the sizes it is drawn in; weighed clay and what was dipped as the ovoid of its sizes.

    Raises
    ------
    TypeError
        For a mesh, which has triangles of its own.
    """
    match form:
        case Box(length_m=a, depth_m=b, height_m=c):
            half = np.array([[-a / 2, -b / 2], [a / 2, -b / 2], [a / 2, b / 2], [-a / 2, b / 2]])
            return _stacked([(0.0, half), (c, half)])
        case Cylinder(diameter_m=foot, height_m=height, top_diameter_m=top):
            upper = foot if top is None else max(top, 1e-6)
            return _turned([(0.0, foot, foot), (height, upper, upper)])
        case Sphere(diameter_m=d):
            return _turned(_oval(d, d, d))
        case (
            WeighedClay(length_m=length, depth_m=depth, height_m=height)
            | Displaced(length_m=length, depth_m=depth, height_m=height)
        ):
            return _turned(_oval(length, depth, height))
        case Sections(sections=cuts):
            return _turned([(c.at_m, max(c.width_m, 1e-6), max(c.depth_m, 1e-6)) for c in cuts])
    raise TypeError("a mesh has triangles of its own")


def _oval(length: float, depth: float, height: float) -> list[tuple[float, float, float]]:
    turns = np.linspace(0, np.pi, 33)
    return [
        (float(height / 2 * (1 - np.cos(a))), max(length * float(np.sin(a)), 1e-6), max(depth * float(np.sin(a)), 1e-6))
        for a in turns
    ]


def _turned(cuts: list[tuple[float, float, float]]) -> Triangles:
    around = np.linspace(0, 2 * np.pi, 64, endpoint=False)
    ring = np.stack((np.cos(around), np.sin(around)), axis=1)
    return _stacked([(z, ring * np.array([width / 2, depth / 2])) for z, width, depth in cuts])


def _stacked(rings: list[tuple[float, Floats]]) -> Triangles:
    """Close a stack of rings of equally many points, from the foot up, with a floor and a lid."""
    layers = [np.column_stack((ring, np.full(len(ring), z))) for z, ring in rings]
    faces = []
    for low, high in pairwise(layers):
        after_low, after_high = np.roll(low, -1, axis=0), np.roll(high, -1, axis=0)
        faces += [np.stack((low, after_low, after_high), axis=1), np.stack((low, after_high, high), axis=1)]
    for layer, outward in ((layers[0], False), (layers[-1], True)):
        middle = np.repeat(layer.mean(axis=0)[None, :], len(layer), 0)
        after = np.roll(layer, -1, axis=0)
        faces.append(np.stack((middle, layer, after) if outward else (middle, after, layer), axis=1))
    return np.concatenate(faces).astype(np.float32)
