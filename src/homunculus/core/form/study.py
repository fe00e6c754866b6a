"""The study of a mesh: its surface, the whole curve V(t) of its layers, and its outline. Imports numpy, scipy.

The curve comes from distances between the points of a grid and the surface (nearest triangles of a dense
sample, found with a k-d tree), inside told from outside by counting crossings along columns. It is made at two
pitches; what they differ by is the band that is shown.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable

import contourpy
import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import gaussian_filter
from scipy.spatial import cKDTree

from homunculus.core.facts import STUDY_VERSION, MeshFact
from homunculus.core.form.mesh import Triangles, measure_surface, read_stl
from homunculus.core.form.outline import perimeter

Floats = NDArray[np.float64]
Progress = Callable[[float, str], None]
SHARES = (0.0, 0.015, 0.02, 0.03, 0.04, 0.05, 0.06, 0.08, 0.10, 0.13, 0.16, 0.20)
"""Thicknesses of the curve, as shares of the form's girth length; thinner ones lean on the area, which is exact."""
FINE_POINTS, COARSE_POINTS = 450_000, 150_000


class Cancelled(Exception):  # noqa: N818  (it is no error)
    """The work was told to stop; raised by a progress function and passed through."""


def study_mesh(data: bytes, where: str, progress: Progress = lambda _share, _what: None) -> MeshFact:
    """Study a mesh file.

    Parameters
    ----------
    data
        The whole STL file.
    where
        Its name, for messages.
    progress
        Called with a share from 0 to 1 and words; may raise :class:`Cancelled` to stop the work.

    Returns
    -------
    MeshFact
        In the units of the file.

    Raises
    ------
    UserError
        When the file cannot be read.
    Cancelled
        When ``progress`` raised it.
    """
    progress(0.0, "reading")
    triangles = read_stl(data, where)
    surface = measure_surface(triangles)
    progress(0.1, "outline")
    outline = trace_outline(triangles)
    progress(0.15, "layers")
    girth = min(max(surface.size), float(np.sqrt(surface.area / 6)))  # the side of a cube of this area
    fine = _layers(triangles, girth, FINE_POINTS, lambda share: progress(0.15 + 0.6 * share, "layers"))
    coarse = _layers(
        triangles, girth, COARSE_POINTS, lambda share: progress(0.75 + 0.24 * share, "checking the layers")
    )
    at = np.array(SHARES) * girth
    outward, inward = (_ratio(volumes, at, surface.area) for volumes in fine)
    rough_out, rough_in = (_ratio(volumes, at, surface.area) for volumes in coarse)
    gap = np.abs(np.concatenate((outward / rough_out - 1, inward / np.maximum(rough_in, 1e-30) - 1)))
    progress(1.0, "done")
    return MeshFact(
        hashlib.sha256(data).hexdigest(),
        STUDY_VERSION,
        surface.faces,
        surface.volume,
        surface.area,
        surface.size,
        surface.open_edges,
        surface.turned_edges,
        tuple(at.tolist()),
        tuple(outward.tolist()),
        tuple(inward.tolist()),
        max(0.002, float(np.nanmax(gap))),
        outline,
        max((perimeter(polygon) for polygon in outline), default=0.0),
    )


def _ratio(volumes: Floats, at: Floats, area: float) -> Floats:
    """V(t)/t, with the exact area at 0."""
    ratio = np.empty_like(at)
    ratio[0] = area
    ratio[1:] = volumes[1:] / at[1:]
    return ratio


def _layers(
    triangles: Triangles, girth: float, points: int, progress: Callable[[float], None]
) -> tuple[Floats, Floats]:
    """Volumes of the outward and the inward layer for each of SHARES, on a grid of about so many points."""
    low, high = triangles.min(axis=(0, 1)).astype(float), triangles.max(axis=(0, 1)).astype(float)
    thick = np.array(SHARES) * girth
    reach = float(thick[-1])
    pitch = float((np.prod(high - low + 2 * reach) / points) ** (1 / 3))
    origin = low - reach - pitch * np.array([1.137, 1.291, 1.419])  # off any plane that a modeller would use
    shape = np.ceil((high - low + 2 * reach) / pitch).astype(int) + 3
    inside = _inside(triangles.astype(float), origin, pitch, shape)
    samples, owners = _sample(triangles.astype(float), pitch * 0.5)
    tree = cKDTree(samples)
    volumes = [np.zeros(len(thick)), np.zeros(len(thick))]
    y, z = np.meshgrid(np.arange(shape[1]), np.arange(shape[2]), indexing="ij")
    slab = np.stack((np.zeros(y.size), y.ravel(), z.ravel()), axis=1) * pitch + origin
    for i in range(shape[0]):
        progress(i / shape[0])
        grid = slab + np.array([i * pitch, 0, 0])
        distance, near = tree.query(grid, k=2, distance_upper_bound=reach + 2 * pitch, workers=2)
        close = np.flatnonzero(np.isfinite(distance[:, 0]))
        if not len(close):
            continue
        exact = _distance_to_owners(grid[close], near[close], owners, triangles)
        within = inside[i].ravel()[close]
        signed = np.where(within, -exact, exact)
        for side, s in ((0, signed), (1, -signed)):
            # Each point stands for a cell; near a level only part of the cell counts, on both sides of it.
            part = np.clip((thick[:, None] - s[None, :]) / pitch + 0.5, 0, 1)
            bare = np.clip(-s / pitch + 0.5, 0, 1)
            volumes[side] += (part - bare[None, :]).sum(axis=1) * pitch**3
    return volumes[0], volumes[1]


def _distance_to_owners(
    points: Floats, near: NDArray[np.intp], owners: NDArray[np.intp], triangles: Triangles
) -> Floats:
    """Least distance from each point to the triangles that its nearest samples lie on."""
    best = np.full(len(points), np.inf)
    for k in range(near.shape[1]):
        valid = near[:, k] < len(owners)
        corner = triangles[owners[near[valid, k]]].astype(float)
        best[valid] = np.minimum(best[valid], distance_to_triangles(points[valid], corner))
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
    a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
    normal = np.cross(b - a, c - a)
    long = np.einsum("ij,ij->i", normal, normal)
    long = np.where(long > 0, long, 1.0)
    height = np.einsum("ij,ij->i", points - a, normal)
    above = np.ones(len(points), bool)
    best = np.full(len(points), np.inf)
    for p, q in ((a, b), (b, c), (c, a)):
        edge, to = q - p, points - p
        square = np.einsum("ij,ij->i", edge, edge)
        t = np.clip(np.einsum("ij,ij->i", to, edge) / np.where(square > 0, square, 1.0), 0, 1)
        gap = to - t[:, None] * edge
        best = np.minimum(best, np.einsum("ij,ij->i", gap, gap))
        above &= np.einsum("ij,ij->i", np.cross(normal, edge), to) >= 0
    return np.sqrt(np.where(above, height**2 / long, best))


def _sample(triangles: Floats, spacing: float) -> tuple[Floats, NDArray[np.intp]]:
    """Points on the surface about ``spacing`` apart, and the triangle that each lies on."""
    a, b, c = triangles[:, 0], triangles[:, 1], triangles[:, 2]
    area = np.linalg.norm(np.cross(b - a, c - a), axis=1) / 2
    counts = np.maximum(1, np.ceil(area / spacing**2)).astype(int)
    # Long thin triangles need points along their length as well.
    longest = np.sqrt(np.maximum.reduce([((b - a) ** 2).sum(1), ((c - b) ** 2).sum(1), ((a - c) ** 2).sum(1)]))
    counts = np.maximum(counts, np.ceil(longest / spacing).astype(int))
    owners = np.repeat(np.arange(len(triangles)), counts)
    order = np.arange(len(owners)) - np.repeat(np.cumsum(counts) - counts, counts)
    u = (order + 0.5) / counts[owners]
    v = (order * 0.6180339887498949 + 0.5) % 1.0  # golden-ratio sequence: even without chance
    root = np.sqrt(u)
    return (
        (1 - root)[:, None] * a[owners] + (root * (1 - v))[:, None] * b[owners] + (root * v)[:, None] * c[owners],
        owners,
    )


def _inside(triangles: Floats, origin: Floats, pitch: float, shape: NDArray[np.intp]) -> NDArray[np.bool_]:
    """Which grid points lie inside, by counting crossings along each column in z; shape (x, y, z)."""
    flat = (triangles[:, :, :2] - origin[:2]) / pitch
    low = np.ceil(flat.min(axis=1)).astype(int)
    high = np.floor(flat.max(axis=1)).astype(int)
    spans = np.maximum(high - low + 1, 0)
    counts = spans[:, 0] * spans[:, 1]
    owner = np.repeat(np.arange(len(triangles)), counts)
    order = np.arange(len(owner)) - np.repeat(np.cumsum(counts) - counts, counts)
    column = np.stack((low[owner, 0] + order // spans[owner, 1], low[owner, 1] + order % spans[owner, 1]), axis=1)
    a, b, c = (flat[owner, k] - column for k in range(3))
    cross = [p[:, 0] * q[:, 1] - p[:, 1] * q[:, 0] for p, q in ((b, c), (c, a), (a, b))]
    total = cross[0] + cross[1] + cross[2]
    hit = (total != 0) & (
        ((cross[0] >= 0) & (cross[1] >= 0) & (cross[2] >= 0)) | ((cross[0] <= 0) & (cross[1] <= 0) & (cross[2] <= 0))
    )
    owner, column = owner[hit], column[hit]
    heights = triangles[owner, :, 2]
    z = sum(cross[k][hit] / total[hit] * heights[:, k] for k in range(3))
    level = np.ceil((z - origin[2]) / pitch).astype(int)
    cells = np.ravel_multi_index((column[:, 0], column[:, 1], np.clip(level, 0, shape[2] - 1)), tuple(shape))
    crossings = np.bincount(cells, minlength=int(np.prod(shape))).reshape(tuple(shape))
    return np.asarray(np.cumsum(crossings, axis=2) % 2 == 1)


def trace_outline(triangles: Triangles, across: int = 220) -> tuple[tuple[tuple[float, float], ...], ...]:
    """Trace the side view (x along, z up), foot at 0 and centred along.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    across
        Cells along the longer side.

    Returns
    -------
    tuple of polygons
        The largest first, in the units of the file; specks are left out.
    """
    flat = triangles[:, :, [0, 2]].astype(float)
    low, high = flat.min(axis=(0, 1)), flat.max(axis=(0, 1))
    pitch = float((high - low).max()) / across
    deep = np.concatenate((flat, np.zeros((*flat.shape[:2], 1))), axis=2)
    points = _sample(deep, pitch * 0.5)[0][:, :2]
    edge = 4
    shape = np.ceil((high - low) / pitch).astype(int) + 2 * edge + 1
    cell = np.floor((points - low) / pitch).astype(int) + edge
    filled = np.zeros(tuple(shape))
    filled[cell[:, 0], cell[:, 1]] = 1.0
    smooth = gaussian_filter(filled, 0.7)
    lines = contourpy.contour_generator(z=smooth.T, line_type="Separate").lines(0.5)
    middle = (low[0] + high[0]) / 2
    polygons = []
    for line in lines:
        world = (np.asarray(line) - edge + 0.5) * pitch
        world[:, 0] += low[0] - middle
        area = abs(np.sum(world[:-1, 0] * world[1:, 1] - world[1:, 0] * world[:-1, 1])) / 2
        if area > 12 * pitch**2:
            polygons.append((area, _thin(world[:-1], pitch * 0.35)))
    polygons.sort(key=lambda item: -item[0])
    return tuple(tuple((float(x), max(0.0, float(z))) for x, z in polygon) for _, polygon in polygons)


def _thin(polygon: Floats, tolerance: float) -> Floats:
    """Leave out points of a closed polygon that lie within tolerance of the line (Douglas–Peucker)."""
    keep = np.zeros(len(polygon), bool)
    far = int(np.argmax(((polygon - polygon[0]) ** 2).sum(axis=1)))
    keep[[0, far]] = True
    closed = np.concatenate((polygon, polygon[:1]))
    stack = [(0, far), (far, len(polygon))]
    while stack:
        start, end = stack.pop()
        if end - start < 2:
            continue
        along = closed[end] - closed[start]
        length = float(np.hypot(*along)) or 1.0
        offset = closed[start + 1 : end] - closed[start]
        gap = np.abs(offset[:, 0] * along[1] - offset[:, 1] * along[0]) / length
        worst = int(np.argmax(gap))
        if gap[worst] > tolerance:
            keep[start + 1 + worst] = True
            stack += [(start, start + 1 + worst), (start + 1 + worst, end)]
    return np.asarray(polygon[keep])
