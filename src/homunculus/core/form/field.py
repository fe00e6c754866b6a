"""The signed distance field of a form: layers and sections come from the same grid. Imports numpy, scipy, contourpy.

Distances are to the nearest triangles of a dense sample of the surface (found with a k-d tree), negative inside; inside is
told from outside by counting crossings along columns (:mod:`nearest`, :mod:`inside`).
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

from homunculus.core.errors import UserError
from homunculus.core.form.inside import inside_of
from homunculus.core.form.mesh import Triangles, bounds
from homunculus.core.form.nearest import Floats, Surfaces, measure_points, outer_part, sampled
from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Sections, Sphere, WeighedClay

Share = Callable[[float], None]
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


def grid_pitch(size: Floats, reach: float, points: int) -> float:
    """Pitch of a grid of so many ``points`` around a form of that ``size``, shape (3,), and ``reach`` beyond, all in its own unit."""
    return float((np.prod(size + 2 * reach) / points) ** (1 / 3))


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
        told = pool.submit(inside_of, surface.triangles, origin, pitch, shape, surface.torn)
        cavities, hollow = 0, 0.0
        if surface.several:
            inside, doubled = told.result()
            solid = binary_fill_holes(inside)  # everything that the outside does not reach
            labels, count = label(solid & ~inside)
            sizes = np.bincount(labels.ravel(), minlength=count + 1)[1:]
            cavities, hollow = int((sizes > LEAST_CAVITY).sum()), float(sizes[sizes > LEAST_CAVITY].sum()) * pitch**3
            surface = outer_part(surface, solid, origin, pitch)
        distances = np.full(tuple(shape), np.float32(reach))
        y, z = np.meshgrid(np.arange(shape[1]), np.arange(shape[2]), indexing="ij")
        slab = np.stack((np.zeros(y.size), y.ravel(), z.ravel()), axis=1) * pitch + origin
        slabs = [
            pool.submit(measure_points, slab + np.array([i * pitch, 0, 0]), surface, pitch, reach, distances[i])
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
