"""Which points of a grid lie inside a triangle surface, told by how often columns through them cross it. Imports numpy."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from homunculus.core.form.nearest import Floats, too_folded

MOST_CROSSINGS, PORTION = 120_000_000, 3_000_000
"""What bounds the memory and the time of it, and how many crossings are looked at at once."""


def inside_of(
    triangles: Floats, origin: Floats, pitch: float, shape: NDArray[np.intp], torn: bool = False
) -> tuple[NDArray[np.bool_], float]:
    """Which grid points lie inside, shape (x, y, z), and the volume that is enclosed more than once.

    A column that leaves the surface another number of times than it entered tells nothing and has no vote.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3), in the form's own unit.
    origin, pitch
        Where the grid begins, shape (3,), and its pitch, in that unit.
    shape
        Of the grid: how many points along each axis.
    torn
        Whether the surface is not closed: inside is then told by a vote of three axes.

    Raises
    ------
    UserError
        When the surface is so folded that it would take more than bounded time and memory.
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
        raise too_folded()
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
