"""Coarse copies of meshes: few faces, the same outline within what a picture shows; torn ones too, and files that hurt refused."""

from __future__ import annotations

import math

import numpy as np
import pytest
from trimesh.creation import icosphere, torus

from homunculus.core.camera.eye import Eye
from homunculus.core.camera.picture import Body, outline_seen
from homunculus.core.errors import UserError
from homunculus.core.form.facets import as_facets
from homunculus.core.form.mesh import measure_surface, read_stl
from homunculus.core.job.forms import Box, Mesh
from homunculus.exchange.mesh_coarse import MOST_FACES, clustered, coarsen
from homunculus.exchange.mesh_files import as_stl
from homunculus.store.meshes import coarse_file, take_in_mesh
from homunculus.surfaces import surface_in


def mesh(shape):
    return np.asarray(shape.vertices[shape.faces], np.float32)


BALL = mesh(icosphere(subdivisions=5, radius=50.0))
RING = mesh(torus(60.0, 15.0, major_sections=160, minor_sections=60))


def covered(triangles):
    """How many pixels of a picture a mesh covers, seen from aside."""
    facets = as_facets(triangles, 0.001)
    body = Body(0, "it", (facets,), (0.0, 0.0, 0.0), 0.0, False)
    eye = Eye((0.0, -1.0, 0.3), 0.0, -0.2, 0.0, 1000.0, 1000.0, 1000.0)
    outline = outline_seen(body, eye)
    total = 0.0
    for line in outline.lines():
        x, y = line[:, 0], line[:, 1]
        total += 0.5 * float(np.dot(x[:-1], y[1:]) - np.dot(y[:-1], x[1:]))
    return abs(total)


@pytest.mark.parametrize("whole", [BALL, RING], ids=["ball", "ring"])
def test_a_coarse_copy_has_few_faces_its_place_and_its_outline(whole):
    assert len(whole) > 8 * MOST_FACES
    coarse = read_stl(coarsen(as_stl(whole), "it.stl"))
    assert len(coarse) <= MOST_FACES
    for k in range(3):
        assert coarse[..., k].min() == pytest.approx(whole[..., k].min(), abs=1.0)
        assert coarse[..., k].max() == pytest.approx(whole[..., k].max(), abs=1.0)
    surface = measure_surface(coarse)
    assert (surface.open_edges, surface.turned_edges) == (0, 0)
    assert surface.volume == pytest.approx(measure_surface(whole).volume, rel=0.05)
    assert covered(coarse) == pytest.approx(covered(whole), rel=0.01)


def test_what_is_small_already_stays_as_it_is():
    small = BALL[:400]
    assert read_stl(coarsen(as_stl(small), "it.stl")) == pytest.approx(small)


def test_a_torn_mesh_is_drawn_together_cell_by_cell():
    torn = np.delete(BALL, range(0, len(BALL), 7), axis=0)
    coarse = read_stl(coarsen(as_stl(torn), "torn.stl"))
    assert 100 < len(coarse) <= MOST_FACES
    disc = math.pi * (1000 * 0.05) ** 2
    assert 0.75 * disc < covered(coarse) < disc, "a seventh of it is missing"
    assert len(clustered(torn, 300)) <= 300


def test_a_file_that_is_no_mesh_is_refused():
    with pytest.raises(UserError):
        coarsen(b"solid nothing\nendsolid", "bad.stl")


def test_a_surface_is_made_once_kept_and_made_again_where_it_was_damaged(tmp_path, monkeypatch):
    content = take_in_mesh(tmp_path, as_stl(RING))
    form = Mesh(content, "ring.stl", 0.001)
    first = surface_in(tmp_path, form)
    assert coarse_file(tmp_path, content).is_file()
    assert first.points[:, 2].min() == pytest.approx(0.0, abs=1e-9)
    monkeypatch.setattr("homunculus.surfaces.coarsen", lambda *_: pytest.fail("it is kept"))
    assert surface_in(tmp_path, form).points == pytest.approx(first.points)
    monkeypatch.undo()
    coarse_file(tmp_path, content).write_bytes(b"torn")
    assert surface_in(tmp_path, form).points == pytest.approx(first.points)
    assert len(surface_in(tmp_path, Box(1.0, 1.0, 1.0)).faces) == 12
