"""A closed mesh cut in two by a plane, in a process of its own: the kept library that does it stands still for nobody. Imports numpy."""

from __future__ import annotations

import struct

import numpy as np

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import Triangles, bounds, read_stl
from homunculus.exchange.apart import read_apart
from homunculus.exchange.mesh_files import as_stl

MEND_FIRST = "Mend it first, or cut it where it was sculpted"
SECONDS = 60.0


def cut_mesh(data: bytes, name: str, side: int, at: float) -> tuple[bytes, bytes]:
    """Cut a mesh in two, each half closed by the plane.

    Parameters
    ----------
    data
        The whole STL file.
    name
        Its name, for messages.
    side
        Across its length (0), its depth (1) or its height (2).
    at
        How far from its left, its front or its foot, in the file's own units.

    Returns
    -------
    tuple of bytes
        The STL files of what lies before the plane, and behind it.

    Raises
    ------
    UserError
        When it is not closed, or the plane leaves nothing on one side.
    """
    both = read_apart(
        "homunculus.exchange.mesh_cut:cut_in_child", data, name, MEND_FIRST, str(side), repr(at), seconds=SECONDS
    )
    length = struct.unpack("<Q", both[:8])[0]
    return both[8 : 8 + length], both[8 + length :]


def cut_in_child(data: bytes, name: str, side: str, at: str) -> bytes:
    """Cut a mesh, as :func:`cut_mesh`, in this very process; one STL after the other, the first's length before them.

    Parameters
    ----------
    data, name
        The file.
    side, at
        As text.

    Raises
    ------
    UserError
        As :func:`cut_mesh`.
    """
    import manifold3d

    from homunculus.core.form.repair import corners_of

    triangles = read_stl(data, name).astype(np.float64)
    faces = corners_of(triangles.astype(np.float32))
    points = np.zeros((int(faces.max()) + 1, 3))
    points[faces.reshape(-1)] = triangles.reshape(-1, 3)
    solid = manifold3d.Manifold(manifold3d.Mesh64(vert_properties=points, tri_verts=faces.astype(np.uint64)))
    if solid.status() != manifold3d.Error.NoError or solid.is_empty():
        raise UserError(f"{name} is not closed all round and cannot be cut", name, MEND_FIRST)
    low, high = bounds(triangles)
    axis, where = int(side), float(at)
    if not 0 < where < float(high[axis] - low[axis]):
        raise UserError(f"The plane leaves nothing of {name} on one side", name, "Put it within the form")
    normal = [0.0, 0.0, 0.0]
    normal[axis] = 1.0
    behind, before = solid.split_by_plane(normal, float(low[axis]) + where)
    halves = [_stl(before), _stl(behind)]
    if not all(halves):
        raise UserError(f"The plane leaves nothing of {name} on one side", name, "Put it within the form")
    return struct.pack("<Q", len(halves[0])) + halves[0] + halves[1]


def _stl(half: object) -> bytes:
    mesh = half.to_mesh64()  # type: ignore[attr-defined]
    triangles: Triangles = np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts)].astype(np.float32)
    return as_stl(triangles) if len(triangles) else b""
