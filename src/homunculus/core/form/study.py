"""The study of a mesh: its surface, the whole curve V(t) of its layers, and its outline. Imports numpy, scipy.

The curve comes from the form's distance field (:mod:`homunculus.core.form.field`), made at two pitches; what they differ
by is the band that is shown.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

import contourpy
import numpy as np
from msgspec import Struct
from msgspec.structs import replace
from scipy.ndimage import gaussian_filter

from homunculus.core.form.field import Field, depth_within, grid_pitch, layer_volumes, make_field, solid_volume
from homunculus.core.form.mesh import Surface, Triangles, bounds, read_stl, sound_surface
from homunculus.core.form.nearest import Floats, sample_surface, sampled
from homunculus.core.form.outline import perimeter
from homunculus.core.form.repair import hollows, inside_out
from homunculus.core.plan.facts import STUDY_VERSION, MeshFact

Progress = Callable[[float, str], None]
SHARES = (0.0, 0.015, 0.02, 0.03, 0.04, 0.05, 0.06, 0.08, 0.10, 0.13, 0.16, 0.20)
"""Thicknesses of the curve, as shares of the form's girth length; thinner ones lean on the area, which is exact."""
FINE_POINTS, COARSE_POINTS = 450_000, 150_000
MOST_BESIDE = 2_000_000
"""Of more faces shells and outline are told one after the other: both at once would take more than the 2 GB that are promised."""
LEAST_BAND = 0.004
"""No finer than a grid of this size tells; the band is 1.3 times what the two grids differ by, the most that was seen on
forms whose layers are known (see the reference tests)."""


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
    surface = sound_surface(triangles, where)
    girth = min(max(surface.size), float(np.sqrt(surface.area / 6)))  # the side of a cube of this area
    at = np.array(SHARES) * girth
    reach = float(at[-1]) * 1.15  # half a cell more than the thickest layer
    progress(0.08, "shells and outline")
    with ThreadPoolExecutor(1) as beside:
        told_apart = beside.submit(inside_out, triangles)
        content = beside.submit(lambda: hashlib.sha256(data).hexdigest())
        if len(triangles) > MOST_BESIDE:
            told_apart.result()
        outline = trace_outline(triangles)
        progress(0.12, "layers")
        points = sampled(triangles, grid_pitch(np.array(surface.size), reach, FINE_POINTS),
                         torn=surface.open_edges > 0 or surface.shared_edges > 0)  # fmt: skip
        shells, wrong = told_apart.result()
    points = replace(points, several=shells > 1 or surface.shared_edges > 0)
    progress(0.15, "layers")
    field = make_field(
        triangles, reach=reach, points=FINE_POINTS, progress=lambda share: progress(0.15 + 0.6 * share, "layers"),
        surface=points,
    )  # fmt: skip
    rough = make_field(
        triangles, reach=reach, points=COARSE_POINTS,
        progress=lambda share: progress(0.75 + 0.24 * share, "checking the layers"), surface=points,
    )  # fmt: skip
    body = _body(triangles, surface, field, rough, at)
    depths = _depths(at, field)
    outward, inward = _curves(field, at, depths, body)
    rough_out, rough_in = _curves(rough, at, depths, body)
    gap = np.abs(np.concatenate((outward / rough_out - 1, inward / np.maximum(rough_in, 1e-30) - 1)))
    progress(1.0, "done")
    fact = MeshFact(
        content.result(),
        STUDY_VERSION,
        surface.faces,
        body.volume,
        body.area,
        surface.size,
        surface.open_edges,
        surface.turned_edges,
        tuple(at.tolist()),
        tuple(outward.tolist()),
        tuple(inward.tolist()),
        max(LEAST_BAND, body.doubt, 1.3 * float(np.nanmax(gap))),
        outline,
        max((perimeter(polygon) for polygon in outline), default=0.0),
        shells,
        len(wrong),
        tuple(depths.tolist()),
        body.cavities,
        body.hollow,
        body.joined,
        surface.shared_edges,
        *locking(field),
    )
    return fact, field


def locking(field: Field) -> tuple[float, float]:
    """Where something rigid around a form would not come off.

    Parameters
    ----------
    field
        The form's distance field.

    Returns
    -------
    tuple
        Of two halves that open to the front and to the back, the share of the side view that locks: there the form is entered more
        than once on a line straight through. Of a sheet drawn over it from above, the share of the view from above that overhangs.
        A cell of the grid is overlooked.
    """
    inside = field.distances < 0
    entered = inside[:, 1:] & ~inside[:, :-1]
    narrow = inside[:, :-2] & ~inside[:, 1:-1] & inside[:, 2:]
    times = entered.sum(axis=1) + inside[:, 0] - narrow.sum(axis=1)
    seen = inside.any(axis=1)
    undercut = float((times > 1).sum() / max(1, seen.sum()))
    above = inside.any(axis=2)
    first = np.argmax(inside, axis=2)
    foot = int(first[above].min()) if above.any() else 0
    overhang = float((above & (first > foot + 2)).sum() / max(1, above.sum()))
    return undercut, overhang


class _Body(Struct, frozen=True):
    """What all shells of a mesh are together."""

    volume: float
    area: float
    doubt: float = 0.0
    joined: bool = False
    cavities: int = 0
    hollow: float = 0.0


def _body(triangles: Triangles, surface: Surface, field: Field, rough: Field, at: Floats) -> _Body:
    """Volume and area of the form: the surface's own, or that of the union of its shells where these run into each other."""
    if surface.open_edges:  # what a surface that is not closed encloses is only known from all sides together
        volume = solid_volume(field) - field.hollow
        doubt = max(0.01, abs(volume / (solid_volume(rough) - rough.hollow) - 1))
        return _Body(volume, surface.area, doubt, False, field.cavities, field.hollow)
    if field.cavities == 0 and field.doubled == 0:
        return _Body(surface.volume, surface.area)
    cavities, hollow = field.cavities, field.hollow
    inner = triangles[hollows(triangles)] if cavities else triangles[:0]
    across = np.cross(inner[:, 1] - inner[:, 0], inner[:, 2] - inner[:, 0])
    outer = surface.area - float(np.linalg.norm(across, axis=1).sum()) / 2
    if field.doubled < 0.002 * surface.volume and rough.doubled < 0.002 * surface.volume:
        return _Body(surface.volume, outer, 0.004, False, cavities, hollow)  # side by side, or one in another
    out, _ = layer_volumes(field, at)
    fit = np.polynomial.Polynomial.fit(
        at[1:8], out[1:8] / at[1:8], 2
    )  # V(t)/t is nearly a parabola, and the area at nought
    volume = surface.volume - field.doubled
    doubt = max(0.01, 2 * abs(field.doubled - rough.doubled) / volume)
    return _Body(volume, float(fit(0.0)), doubt, True, cavities, hollow)


def _depths(at: Floats, field: Field) -> Floats:
    """Thicknesses of the inward curve: those of the outward one, and on to where nothing is left."""
    deepest = max(float(-field.distances.min()), float(depth_within(field).max(initial=0.0))) + field.pitch / 2
    if deepest <= at[-1]:
        inner = at[at < deepest * 0.98]
        return np.append(inner, deepest)
    last = field.reach - 2 * field.pitch  # to where distances were kept
    return np.concatenate((at, [last] if last > at[-1] * 1.02 else [], np.linspace(field.reach, deepest, 8)[1:]))


def _curves(field: Field, at: Floats, depths: Floats, body: _Body) -> tuple[Floats, Floats]:
    """V(t)/t of the layers outward and inward; the inward one rises to the whole volume at the last depth."""
    outward, _ = layer_volumes(field, at)
    near = depths[depths < field.reach - 0.5 * field.pitch]
    _, inward = layer_volumes(field, near)
    below = depth_within(field)
    further = [_above(field, body, below, t) for t in depths[len(near) :]]
    rising = np.minimum(np.maximum.accumulate(np.concatenate((inward, further))), body.volume)
    rising[-1] = body.volume
    return _ratio(outward, at, body.area), _ratio(rising, depths, body.area)


def _above(field: Field, body: _Body, below: Floats, t: float) -> float:
    """Volume between the surface and a depth ``t`` beyond the ``field``'s reach, where cells ``below`` it have these depths."""
    return body.volume - float(np.clip((below - t) / field.pitch + 0.5, 0, 1).sum()) * field.pitch**3


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
