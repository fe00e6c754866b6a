"""Public meshes against second libraries: the example meshes of a general-purpose package, measured by trimesh and manifold3d.

Source of the meshes: tests/data/public/SOURCE.md. The libraries read the files by themselves.
"""

from pathlib import Path

import numpy as np
import pytest
import trimesh
from manifold3d import Manifold
from manifold3d import Mesh as ManifoldMesh

from homunculus.core.form.mesh import measure_surface
from homunculus.core.form.repair import inside_out, mend
from homunculus.core.form.study import study_mesh
from homunculus.exchange.mesh_files import as_stl, read_any

HERE = Path(__file__).parent.parent / "data" / "public"


def read(name):
    return read_any((HERE / name).read_bytes(), name)


@pytest.mark.parametrize(("name", "shells"), [("ant.ply", 15), ("nut.ply", 1)])
def test_volume_area_and_closedness_are_what_two_other_libraries_find(name, shells):
    surface, other = measure_surface(read(name)), trimesh.load(HERE / name)
    assert surface.volume == pytest.approx(other.volume, rel=1e-5)
    assert surface.area == pytest.approx(other.area, rel=1e-5)
    assert (surface.open_edges == 0) is other.is_watertight is True
    assert inside_out(read(name)) == (shells, [])
    if name == "nut.ply":  # the ant's legs run into its body, which a solid kernel would join first
        solid = Manifold(ManifoldMesh(np.asarray(other.vertices, np.float32), np.asarray(other.faces, np.uint32)))
        assert surface.volume == pytest.approx(solid.volume(), rel=1e-4)


def test_a_mesh_with_holes_is_told_as_both_libraries_tell_it_and_most_of_it_is_mended():
    surface, other = measure_surface(read("airplane.ply")), trimesh.load(HERE / "airplane.ply")
    assert surface.open_edges > 0
    assert not other.is_watertight
    mended = mend(read("airplane.ply"))
    assert mended.holes == 16
    assert 0 < mended.left_open < surface.open_edges / 20
    assert "mend those where it was sculpted" in mended.words


def test_layers_on_a_public_mesh_agree_with_offsets_of_a_solid_kernel():
    """Outward layer of the nut against manifold3d's rounded Minkowski sum with a ball of 24 segments' fineness."""
    other = trimesh.load(HERE / "nut.ply")
    solid = Manifold(ManifoldMesh(np.asarray(other.vertices, np.float32), np.asarray(other.faces, np.uint32)))
    fact = study_mesh(as_stl(read("nut.ply")), "nut.stl")
    t = fact.thicknesses[6]
    ball = Manifold.sphere(t, 32)
    grown = solid.minkowski_sum(ball).volume() - solid.volume()
    assert t * fact.outward_ratio[6] == pytest.approx(grown, rel=max(0.015, 1.5 * fact.band))
