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
    shared_edges: int = 0
    """Edges at which more than two faces meet."""


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
    if len(data) > MOST_TEXT_BYTES:
        raise UserError("A mesh of so many triangles is not read as text", where, "Export it as binary STL")
    words = data.split()
    at = [i for i, word in enumerate(words) if word.lower() == b"vertex"]
    if not at or len(at) % 3 or at[-1] + 3 >= len(words):
        raise UserError("The triangles are cut short or missing", where, "Export it again")
    try:
        numbers = [[float(words[i + 1]), float(words[i + 2]), float(words[i + 3])] for i in at]
    except ValueError:
        raise UserError("A corner is not three numbers", where, "Export it again") from None
    with np.errstate(over="ignore"):  # what is too large for the format becomes infinite, and is refused as such
        return np.array(numbers, np.float32).reshape(-1, 3, 3)


def _finite(triangles: Triangles, where: str) -> Triangles:
    triangles = np.ascontiguousarray(triangles)
    if not len(triangles) or not np.isfinite(triangles).all():
        raise UserError("Some corners of the mesh are not numbers", where, "Export it again")
    return triangles


MOST_TEXT_BYTES = 100_000_000
MOST_FACES = 6_000_000
FARTHEST = 1e8
"""Units from the origin: a hundred kilometres in millimetres."""


def sound_surface(triangles: Triangles, where: str) -> Surface:
    """Measure a surface, and refuse triangles that no form can be made of, before anything slow is done with them.

    Parameters
    ----------
    triangles
        Shape (faces, 3, 3).
    where
        Name of the file, for the message.

    Returns
    -------
    Surface
        As :func:`measure_surface`.

    Raises
    ------
    UserError
        When they are too many, too far out, flat, do not hang together or enclose nothing.
    """
    _finite(triangles, where)
    if len(triangles) > MOST_FACES:
        raise UserError(f"{len(triangles)} triangles are more than can be worked with", where, "Make it coarser first")
    low, high = bounds(triangles)
    span, far = float((high - low).max()), float(np.abs(np.concatenate((low, high))).max())
    if far > FARTHEST:
        raise UserError(
            f"Its corners lie {far:.3g} units out, which no sculpt is", where, "Export it again, nearer its origin"
        )
    if span <= 0 or float((high - low).min()) < span * 1e-6:
        raise UserError("It has no thickness: all of it lies in one plane or line", where, "Export a closed surface")
    if far > span * 1e5:
        raise UserError("It is so small and so far from its origin that its corners run together", where,
                        "Move it to the origin and export it again")  # fmt: skip
    surface = measure_surface(triangles)
    if len(triangles) > 30 and surface.open_edges > 0.75 * len(triangles):
        raise UserError("Its triangles do not hang together: most edges belong to one alone", where,
                        "Join its corners and export a closed surface")  # fmt: skip
    if len(triangles) > 30 and surface.shared_edges > 0.2 * len(triangles):
        raise UserError("Most of its edges are shared by more than two triangles", where,
                        "Take out doubled faces and export it again")  # fmt: skip
    if surface.volume < 1e-6 * surface.area**1.5:
        raise UserError("It encloses nothing", where, "Export a closed surface")
    return surface


def bounds(triangles: NDArray[Any]) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Least and greatest corner of ``triangles``, axis by axis: numpy is slow at all three at once."""
    axes = [triangles[:, :, i] for i in range(3)]
    return np.array([float(v.min()) for v in axes]), np.array([float(v.max()) for v in axes])


def mirrored(triangles: Triangles) -> Triangles:
    """Return ``triangles`` as their mirror image, left for right about their middle; they face outward still."""
    low, high = bounds(triangles)
    over = triangles[:, ::-1].astype(np.float64)
    over[:, :, 0] = (low[0] + high[0]) - over[:, :, 0]
    return over.astype(np.float32)


def volume_at(triangles: Triangles, unit_m: float) -> float:
    """Volume [m³] of ``triangles`` of which a unit stands for ``unit_m``."""
    return measure_surface(triangles).volume * unit_m**3


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
    middle = np.tile(((low + high) / 2).astype(np.float32), 3)
    centred = (triangles.reshape(-1, 9) - middle).reshape(-1, 3, 3)  # against cancellation far from the origin
    a, b, c = centred[:, 0], centred[:, 1], centred[:, 2]
    across = np.cross(b - a, c - a)
    volume = np.einsum("ij,ij->", a, across, dtype=np.float64) / 6
    area = np.sqrt(np.einsum("ij,ij->i", across, across)).sum(dtype=np.float64) / 2
    open_edges, turned, shared = _edge_faults(triangles)
    size = (high - low).tolist()
    return Surface(
        len(triangles), abs(float(volume)), float(area), tuple(low.tolist()), tuple(size), open_edges, turned, shared
    )


def corner_keys(triangles: Triangles) -> NDArray[np.uint64]:
    """Give every corner of the ``triangles`` a number by which equal ones are told, shape (faces, 3).

    It is a 64-bit mix of the coordinates' bits; with a million corners the chance of a false match is below 1 in 10 million.
    """
    bits = (triangles.reshape(-1, 3) + np.float32(0)).view(np.uint32)  # + 0 turns -0 into 0
    x, y, z = (bits[:, axis].astype(np.uint64) for axis in range(3))
    key = x * np.uint64(0x9E3779B97F4A7C15)
    key ^= key >> np.uint64(29)
    key = (key + y) * np.uint64(0xBF58476D1CE4E5B9)
    key ^= key >> np.uint64(32)
    key = (key + z) * np.uint64(0x94D049BB133111EB)
    key ^= key >> np.uint64(31)
    return key.reshape(-1, 3)


def _edge_faults(triangles: Triangles) -> tuple[int, int, int]:
    """Count edges without a partner, edges whose faces run the same way, and edges of more than two faces, by one sort."""
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
    return int(odd.sum()), int(turned.sum()), int((counts > 2).sum())
