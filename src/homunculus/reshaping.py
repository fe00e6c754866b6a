"""Meshes of a job folder turned over and cut; the command line and the window's thread do it alike."""

from __future__ import annotations

from pathlib import Path

from msgspec.structs import replace

from homunculus.core.edits.reshape import Half
from homunculus.core.job.forms import Mesh


class Reshaper:
    """The meshes of a folder.

    Parameters
    ----------
    folder
        Of the job; what comes out is kept in it too.
    """

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self._known: dict[object, tuple[Half, Half] | Mesh] = {}
        """What was done last: a thread does it first, then the edit finds it done."""

    def turned_over(self, mesh: Mesh) -> Mesh:
        """The ``mesh`` as its mirror image, left for right.

        Raises
        ------
        UserError
            When its file cannot be read.
        """
        from homunculus.core.form.mesh import mirrored, read_stl  # numpy only where a mesh is at hand
        from homunculus.exchange.mesh_files import as_stl
        from homunculus.store.meshes import read_mesh, take_in_mesh

        known = self._known.get(mesh)
        if isinstance(known, Mesh):
            return known
        over = mirrored(read_stl(read_mesh(self.folder, mesh.content), mesh.file_name))
        made = replace(mesh, content=take_in_mesh(self.folder, as_stl(over)))
        self._known = {mesh: made}
        return made

    def cut(self, mesh: Mesh, side: int, at: float) -> tuple[Half, Half]:
        """The two halves of a ``mesh`` that is cut across a ``side`` (0 length, 1 depth, 2 height), ``at`` so far [m] from its end.

        Raises
        ------
        UserError
            When it is not closed, or the plane does not cut it.
        """
        from homunculus.core.form.mesh import bounds, read_stl
        from homunculus.exchange.mesh_cut import cut_mesh
        from homunculus.store.meshes import read_mesh, take_in_mesh

        known = self._known.get((mesh, side, at))
        if isinstance(known, tuple):
            return known
        data = read_mesh(self.folder, mesh.content)
        low, high = bounds(read_stl(data, mesh.file_name))
        found = []
        for stl in cut_mesh(data, mesh.file_name, side, at / mesh.unit_m):
            mine_low, mine_high = bounds(read_stl(stl, mesh.file_name))
            along = float(mine_low[0] + mine_high[0] - low[0] - high[0]) / 2 * mesh.unit_m
            up = float(mine_low[2] - low[2]) * mesh.unit_m
            found.append(Half(replace(mesh, content=take_in_mesh(self.folder, stl)), along, up))
        self._known = {(mesh, side, at): (found[0], found[1])}
        return found[0], found[1]
