"""A coarse copy of a mesh, for outlines: so few faces (a drawing of some hundred pixels shows no more) that its picture is drawn while a hand pulls it. Imports numpy.

It is made in a process of its own: the kept library that does it holds the interpreter for the whole of a call.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import Triangles, bounds, read_stl
from homunculus.exchange.apart import read_apart

MOST_FACES = 1200
SECONDS = 120.0
REMEDY = "Mend it first, or make it coarser where it was sculpted"


def coarsen(data: bytes, name: str) -> bytes:
    """Make a coarse copy of a mesh.

    Parameters
    ----------
    data
        The whole STL file.
    name
        Its name, for messages.

    Returns
    -------
    bytes
        An STL of no more than :data:`MOST_FACES` faces, in the same units and at the same place.

    Raises
    ------
    UserError
        When it cannot be read, or nothing is left of it.
    """
    return read_apart("homunculus.exchange.mesh_coarse:coarsen_in_child", data, name, REMEDY, seconds=SECONDS)


def coarsen_in_child(data: bytes, name: str) -> bytes:
    """Make a coarse copy, as :func:`coarsen`, of the mesh ``data`` called ``name`` in this very process.

    Raises
    ------
    UserError
        As :func:`coarsen`.
    """
    from homunculus.exchange.mesh_files import as_stl

    triangles = read_stl(data, name)
    if len(triangles) <= MOST_FACES:
        return as_stl(triangles)
    coarse = _simplified(triangles)
    if coarse is None:
        coarse = clustered(triangles, MOST_FACES)
    if not len(coarse):
        raise UserError(f"Nothing is left of {name} when it is made coarse", name, REMEDY)
    return as_stl(coarse)


def _simplified(triangles: Triangles) -> Triangles | None:
    """The surface with edges taken out as long as it moves by little; none where it is not closed all round."""
    import manifold3d

    from homunculus.core.form.repair import corners_of

    faces = corners_of(triangles)
    points = np.zeros((int(faces.max()) + 1, 3))
    points[faces.reshape(-1)] = triangles.reshape(-1, 3)
    solid = manifold3d.Manifold(manifold3d.Mesh64(vert_properties=points, tri_verts=faces.astype(np.uint64)))
    if solid.status() != manifold3d.Error.NoError or solid.is_empty():
        return None
    low, high = bounds(triangles)
    tolerance = float((high - low).max()) * 5e-4
    while solid.num_tri() > MOST_FACES and tolerance < float((high - low).max()) * 0.1:
        solid = solid.simplify(tolerance)
        tolerance *= 1.6
    if solid.is_empty() or solid.num_tri() > MOST_FACES:
        return None
    mesh = solid.to_mesh64()
    found: Triangles = np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts)].astype(np.float32)
    return found


def clustered(triangles: Triangles, most: int) -> Triangles:
    """The surface with all corners of a cell drawn together, in cells so large that no more than ``most`` faces are left: for torn ``triangles`` too.

    Source: Rossignac and Borrel, Multi-resolution 3D approximations, 1993.
    """
    low, high = bounds(triangles)
    cells = 96.0
    while True:
        pitch = float((high - low).max()) / cells
        keys = np.floor((triangles.reshape(-1, 3) - low) / pitch).astype(np.int64)
        code = (keys[:, 0] * 4096 + keys[:, 1]) * 4096 + keys[:, 2]
        _, inverse = np.unique(code, return_inverse=True)
        inverse = inverse.reshape(-1)
        count = np.bincount(inverse)
        middle: NDArray[np.float64] = np.column_stack(
            [np.bincount(inverse, triangles.reshape(-1, 3)[:, i]) / count for i in range(3)]
        )
        faces = inverse.reshape(-1, 3)
        kept = (faces[:, 0] != faces[:, 1]) & (faces[:, 1] != faces[:, 2]) & (faces[:, 2] != faces[:, 0])
        whole = np.unique(_first_least(faces[kept]), axis=0)
        if len(whole) <= most or cells < 4:
            return middle[whole].astype(np.float32)
        cells *= 0.85


def _first_least(faces: NDArray[np.int64]) -> NDArray[np.int64]:
    """Faces turned so that their least corner comes first: what is twice there is told."""
    turn = np.argmin(faces, axis=1)
    at = (np.arange(3) + turn[:, None]) % 3
    return np.take_along_axis(faces, at, axis=1)
