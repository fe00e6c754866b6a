"""The study of a mesh: its surface, the whole curve V(t) of its layers, and its outline. Imports numpy, scipy.

The curve comes from the form's distance field (:mod:`homunculus.core.form.field`), made at two pitches; what they differ
by is the band that is shown.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable

import contourpy
import numpy as np
from scipy.ndimage import gaussian_filter

from homunculus.core.facts import STUDY_VERSION, MeshFact
from homunculus.core.form.field import Field, Floats, grid_pitch, layer_volumes, make_field, sample_surface, sampled
from homunculus.core.form.mesh import Triangles, bounds, measure_surface, read_stl
from homunculus.core.form.outline import perimeter
from homunculus.core.form.repair import inside_out

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
    return study_with_field(data, where, progress)[0]


def study_with_field(
    data: bytes, where: str, progress: Progress = lambda _share, _what: None
) -> tuple[MeshFact, Field]:
    """Study a mesh file and hand over the distance field that its layers came from as well.

    Parameters
    ----------
    data, where, progress
        As for :func:`study_mesh`.

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
    progress(0.08, "shells")
    shells, wrong = inside_out(triangles)
    progress(0.1, "outline")
    outline = trace_outline(triangles)
    progress(0.15, "layers")
    girth = min(max(surface.size), float(np.sqrt(surface.area / 6)))  # the side of a cube of this area
    at = np.array(SHARES) * girth
    reach = float(at[-1]) * 1.15  # half a cell more than the thickest layer
    points = sampled(triangles, grid_pitch(triangles, reach, FINE_POINTS))
    field = make_field(
        triangles, reach=reach, points=FINE_POINTS, progress=lambda share: progress(0.15 + 0.6 * share, "layers"),
        surface=points,
    )  # fmt: skip
    rough = make_field(
        triangles, reach=reach, points=COARSE_POINTS,
        progress=lambda share: progress(0.75 + 0.24 * share, "checking the layers"), surface=points,
    )  # fmt: skip
    fine, coarse = layer_volumes(field, at), layer_volumes(rough, at)
    outward, inward = (_ratio(volumes, at, surface.area) for volumes in fine)
    rough_out, rough_in = (_ratio(volumes, at, surface.area) for volumes in coarse)
    gap = np.abs(np.concatenate((outward / rough_out - 1, inward / np.maximum(rough_in, 1e-30) - 1)))
    progress(1.0, "done")
    fact = MeshFact(
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
        shells,
        len(wrong),
    )
    return fact, field


def _ratio(volumes: Floats, at: Floats, area: float) -> Floats:
    """V(t)/t, with the exact area at 0."""
    ratio = np.empty_like(at)
    ratio[0] = area
    ratio[1:] = volumes[1:] / at[1:]
    return ratio


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
    low, high = (corner[[0, 2]] for corner in bounds(triangles))
    pitch = float((high - low).max()) / across
    deep = np.concatenate((flat, np.zeros((*flat.shape[:2], 1))), axis=2)
    points = sample_surface(deep, pitch * 0.5)[0][:, :2]
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
