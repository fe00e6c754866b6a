"""Triangle meshes: reading STL and measuring what the surface encloses. Imports numpy.

Source: divergence theorem for volumes; the STL layout is the de facto binary and ASCII form.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from msgspec import Struct
from numpy.typing import NDArray

from homunculus.core.errors import UserError

Triangles = NDArray[np.float32]
"""Corners of the triangles, shape (faces, 3, 3)."""


class Surface(Struct, frozen=True):
    """What a triangle surface encloses, in its own units, and where it is not closed."""

    faces: int
    volume: float
    area: float
    low: tuple[float, float, float]
    size: tuple[float, float, float]
    open_edges: int
    turned_edges: int


def read_stl(data: bytes, where: str = "STL file") -> Triangles:
    """Read the triangles of a binary or ASCII STL.

    Parameters
    ----------
    data
        The whole file.
    where
        Its name, for the message.

    Returns
    -------
    array of float32, shape (faces, 3, 3)

    Raises
    ------
    UserError
        When it is cut short, is no STL, is empty or has corners that are not numbers.
    """
    if len(data) >= 84:
        count = int.from_bytes(data[80:84], "little")
        if len(data) == 84 + 50 * count and count:
            record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("rest", "<u2")])
            return _finite(np.frombuffer(data, record, count, 84)["corners"], where)
        if not data[:5].lower() == b"solid" and count and len(data) < 84 + 50 * count:
            raise UserError(
                f"The file stops after {(len(data) - 84) // 50} of {count} triangles", where, "Export it again"
            )
    if data[:5].lower() == b"solid":
        return _finite(_read_ascii(data, where), where)
    raise UserError("This is not an STL mesh", where, "Export the sculpt as STL")


def _read_ascii(data: bytes, where: str) -> Triangles:
    words = data.split()
    at = [i for i, word in enumerate(words) if word.lower() == b"vertex"]
    if not at or len(at) % 3 or at[-1] + 3 >= len(words):
        raise UserError("The triangles are cut short or missing", where, "Export it again")
    try:
        numbers = [[float(words[i + 1]), float(words[i + 2]), float(words[i + 3])] for i in at]
    except ValueError:
        raise UserError("A corner is not three numbers", where, "Export it again") from None
    return np.array(numbers, np.float32).reshape(-1, 3, 3)


def _finite(triangles: Triangles, where: str) -> Triangles:
    triangles = np.ascontiguousarray(triangles)
    if not len(triangles) or not np.isfinite(triangles).all():
        raise UserError("Some corners of the mesh are not numbers", where, "Export it again")
    return triangles


def bounds(triangles: NDArray[Any]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Least and greatest corner of ``triangles``, axis by axis: numpy is slow at all three at once."""
    axes = [triangles[:, :, i] for i in range(3)]
    return np.array([float(v.min()) for v in axes]), np.array([float(v.max()) for v in axes])


def measure_surface(triangles: Triangles) -> Surface:
    """Measure volume, area, size, open and turned edges of a triangle surface.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3), corners counter-clockwise from outside.

    Returns
    -------
    Surface
        In the units of the file; the volume is positive however the faces point.
    """
    low, high = bounds(triangles)
    centred = triangles - ((low + high) / 2).astype(np.float32)  # against cancellation far from the origin
    a, b, c = centred[:, 0], centred[:, 1], centred[:, 2]
    across = np.cross(b - a, c - a)
    volume = np.einsum("ij,ij->", a, across, dtype=np.float64) / 6
    area = np.sqrt(np.einsum("ij,ij->i", across, across)).sum(dtype=np.float64) / 2
    open_edges, turned = _edge_faults(triangles)
    size = (high - low).tolist()
    return Surface(
        len(triangles), abs(float(volume)), float(area), tuple(low.tolist()), tuple(size), open_edges, turned
    )


def corner_keys(triangles: Triangles) -> NDArray[np.uint64]:
    """Give every corner of the ``triangles`` a number by which equal ones are told, shape (faces, 3).

    It is a 64-bit mix of the coordinates' bits; with a million corners the chance of a false match is below 1 in 10 million.
    """
    bits = (triangles.reshape(-1, 3) + np.float32(0)).view(np.uint32).astype(np.uint64)  # + 0 turns -0 into 0
    key = bits[:, 0] * np.uint64(0x9E3779B97F4A7C15)
    key ^= key >> np.uint64(29)
    key = (key + bits[:, 1]) * np.uint64(0xBF58476D1CE4E5B9)
    key ^= key >> np.uint64(32)
    key = (key + bits[:, 2]) * np.uint64(0x94D049BB133111EB)
    key ^= key >> np.uint64(31)
    return key.reshape(-1, 3)


def _edge_faults(triangles: Triangles) -> tuple[int, int]:
    """Count edges without a partner, and edges whose two faces run the same way along them; one sort is all it takes."""
    corners = corner_keys(triangles)
    ends = np.roll(corners, -1, axis=1)
    forward = corners < ends
    edges = ((corners ^ ends) + np.uint64(3) * (corners & ends)) & ~np.uint64(1)
    real = corners != ends  # a triangle fallen together into a line has one edge that is none
    flat = np.sort((edges | forward.astype(np.uint64))[real])
    undirected = flat >> np.uint64(1)
    starts = np.flatnonzero(np.concatenate(([True], undirected[1:] != undirected[:-1])))
    counts = np.diff(np.append(starts, len(flat)))
    along = np.add.reduceat((flat & np.uint64(1)).astype(np.int64), starts)
    odd = counts % 2 == 1
    turned = ~odd & (2 * along != counts)
    return int(odd.sum()), int(turned.sum())
