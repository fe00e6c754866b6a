"""Surfaces of forms from a job folder, of meshes their coarse copies; the command line and the window's thread fetch them alike. Imports numpy."""

from __future__ import annotations

from pathlib import Path

from homunculus.core.errors import UserError
from homunculus.core.form.facets import Facets, as_facets, facets_of
from homunculus.core.form.mesh import read_stl
from homunculus.core.job.forms import Form, Mesh
from homunculus.exchange.mesh_coarse import coarsen
from homunculus.store.atomic import read_bounded
from homunculus.store.meshes import coarse_file, keep_coarse, read_mesh

MOST_BYTES = 1_000_000


def surface_in(folder: Path, form: Form) -> Facets:
    """The surface of a ``form`` in its own metres; the coarse copy of a mesh is the one that the job ``folder`` keeps, else made and kept.

    Raises
    ------
    UserError
        When a mesh is missing, cannot be read, or its copy cannot be kept.
    """
    if not isinstance(form, Mesh):
        return facets_of(form)
    kept = coarse_file(folder, form.content)
    if kept.is_file():
        try:
            return as_facets(read_stl(read_bounded(kept, MOST_BYTES, "The coarse copy"), str(kept)), form.unit_m)
        except UserError:
            pass  # it is damaged, and made again
    made = coarsen(read_mesh(folder, form.content), form.file_name)
    keep_coarse(folder, form.content, made)
    return as_facets(read_stl(made, form.file_name), form.unit_m)
