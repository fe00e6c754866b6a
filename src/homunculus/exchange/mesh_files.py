"""Mesh files of open kinds to triangles; written back as STL, the kind that a job keeps."""

from __future__ import annotations

import io
from pathlib import PurePath
from typing import Any

import numpy as np
from msgspec import Struct

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import Triangles, sound_surface
from homunculus.core.quantities import System
from homunculus.core.showing import Shown, show, significant, trimmed
from homunculus.exchange.apart import read_apart
from homunculus.exchange.formats import reader

MOST_BYTES = 400_000_000
UNITS: tuple[tuple[str, float], ...] = (("mm", 0.001), ("cm", 0.01), ("m", 1.0), ("in", 0.0254), ("ft", 0.3048))
"""What one unit of a mesh file may stand for [m]; no such file says."""
LIKELY_M = 0.15
"""A sculpt is about so large, where nothing else is known: common practice, no source."""


class Guess(Struct, frozen=True):
    """Which unit a mesh was probably drawn in, and how large it then is [m]."""

    unit: str
    unit_m: float
    longest_m: float


def read_any(data: bytes, name: str) -> Triangles:
    """Read the triangles of a mesh file.

    Parameters
    ----------
    data
        The whole file.
    name
        Its name; the suffix tells the kind.

    Returns
    -------
    array of float32, shape (faces, 3, 3)

    Raises
    ------
    UserError
        When it is of another kind, cut short, empty or not made of triangles, or when no form could be of such triangles.
    """
    if len(data) > MOST_BYTES:
        raise UserError(
            f"{name} is larger than any sculpt ({len(data) // 1_000_000} MB)", name, "Make it coarser first"
        )
    triangles: Triangles = reader("mesh", name)(data, name)
    sound_surface(triangles, name)
    return triangles


def read_by_library(data: bytes, name: str) -> Triangles:
    """Read a mesh, ``data`` of a file called ``name``, by the general mesh library, within bounds.

    Raises
    ------
    UserError
        When it cannot be read or holds no triangles.
    """
    kind = PurePath(name).suffix.lower()[1:]
    found = read_apart(f"{__name__}:corners_of", data, name, "Export it again, or as STL", kind)
    return np.frombuffer(found, np.float32).reshape(-1, 3, 3)


def corners_of(data: bytes, name: str, kind: str) -> bytes:
    """Read an OBJ or PLY by the general mesh library, in a process of its own: corners as float32, faces × 3 × 3.

    Parameters
    ----------
    data, name
        The file.
    kind
        Its suffix without the point.

    Raises
    ------
    UserError
        When it cannot be read or holds no triangles.
    """
    import trimesh  # a second to load: only where such a file is read

    try:
        loaded: Any = trimesh.load(io.BytesIO(data), file_type=kind, process=False, force="mesh", skip_materials=True)
        corners = np.asarray(loaded.triangles, np.float32)
    except MemoryError:
        raise
    except Exception as trouble:
        raise UserError(f"{name} cannot be read as {kind.upper()} ({type(trouble).__name__})", name,
                        "Export it again, or as STL") from trouble  # fmt: skip
    if corners.ndim != 3 or not len(corners):
        raise UserError(f"{name} holds no triangles", name, "Export it again, or as STL")
    return corners.tobytes()


def as_stl(triangles: Triangles) -> bytes:
    """Write ``triangles`` as a binary STL."""
    record = np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("rest", "<u2")])
    rows = np.zeros(len(triangles), record)
    rows["corners"] = triangles
    return b"\0" * 80 + len(triangles).to_bytes(4, "little") + rows.tobytes()


def guess_unit(size: tuple[float, float, float], expected_m: float | None) -> Guess:
    """Guess what a unit of a mesh stands for.

    Parameters
    ----------
    size
        Of the mesh, in its own units.
    expected_m
        Longest side that it should have [m]: of the form that it takes the place of; none where nothing is known.
    """
    longest = max(size)
    if longest <= 0:
        return Guess("mm", 0.001, 0.0)
    wanted = expected_m or LIKELY_M
    name, unit = min(UNITS, key=lambda u: abs(np.log(longest * u[1] / wanted)))
    return Guess(name, unit, longest * unit)


class Taken(Struct, frozen=True):
    """A mesh file that was read: as the STL that is kept, its name, size in its own units, and which unit that probably is."""

    stl: bytes
    file_name: str
    size: tuple[float, float, float]
    guess: Guess
    content: str = ""
    """The hash of the STL, once a job folder keeps it; the bytes are then no longer carried along."""

    def longest_m(self, unit_m: float) -> float:
        """Its longest side [m] when a unit stands for ``unit_m``."""
        return max(self.size) * unit_m

    def question(self, system: System) -> str:
        """Ask for the unit, saying what was guessed in a ``system`` of units."""
        a, b, c = (str(trimmed(Shown(significant(v, 4), ""))) for v in self.size)
        would = show(self.guess.longest_m, "length", system)
        return f"{self.file_name} is {a} × {b} × {c}. In {self.guess.unit} it is {would} long. Which unit?"


def take(data: bytes, name: str, expected_m: float | None) -> Taken:
    """Read a mesh file as it is taken into a job.

    Parameters
    ----------
    data, name
        The file.
    expected_m
        Longest side that it should have [m]; none where nothing is known.

    Raises
    ------
    UserError
        When it is no mesh that a form could be of.
    """
    triangles = read_any(data, name)
    x, y, z = (triangles.max(axis=(0, 1)) - triangles.min(axis=(0, 1))).tolist()
    kept = data if PurePath(name).suffix.lower() == ".stl" else as_stl(triangles)
    return Taken(kept, name, (x, y, z), guess_unit((x, y, z), expected_m))


def unit_of(words: str) -> float:
    """Metres of a unit that was typed as ``words``.

    Raises
    ------
    UserError
        When it is none that a mesh is drawn in.
    """
    known = dict(UNITS)
    name = words.strip().lower().strip(".")
    if name not in known:
        raise UserError(f"“{words}” is no unit of a mesh", remedy=f"Name one of {', '.join(known)}")
    return known[name]
