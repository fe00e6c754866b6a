"""Meshes of three kinds in, their units guessed, and torn ones mended; a general mesh library writes and checks them."""

import numpy as np
import pytest
import trimesh

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import measure_surface
from homunculus.core.form.reading import as_stl, guess_unit, read_any
from homunculus.core.form.repair import inside_out, mend

BALL = trimesh.creation.icosphere(subdivisions=3, radius=50)


def triangles(mesh):
    return np.asarray(mesh.triangles, np.float32)


@pytest.mark.parametrize("kind", ["stl", "obj", "ply"])
def test_all_three_kinds_hold_the_same_ball(kind):
    data = BALL.export(file_type=kind)
    read = read_any(data if isinstance(data, bytes) else data.encode(), f"ball.{kind}")
    assert len(read) == len(BALL.faces)
    assert measure_surface(read).volume == pytest.approx(BALL.volume, rel=1e-5)
    assert (read_any(as_stl(read), "again.stl") == read).all()


@pytest.mark.parametrize("name", ["ball.obj", "ball.ply", "ball.step"])
def test_what_is_no_mesh_is_refused_by_name(name):
    with pytest.raises(UserError, match=r"ball\."):
        read_any(b"no mesh at all", name)


@pytest.mark.parametrize(("longest", "expected", "unit"), [
    (180.0, 0.18, "mm"), (18.0, 0.18, "cm"), (0.18, 0.2, "m"), (7.1, 0.18, "in"), (0.6, 0.18, "ft"), (140.0, None, "mm"), (0.0, None, "mm"),
])  # fmt: skip
def test_the_unit_is_guessed_from_the_size(longest, expected, unit):
    assert guess_unit((longest, longest / 2, longest / 3), expected).unit == unit


def test_a_ball_with_holes_and_turned_faces_is_whole_again():
    torn = triangles(BALL).copy()
    rng = np.random.default_rng(7)
    turned = rng.choice(len(torn), 90, replace=False)
    torn[turned] = torn[turned][:, ::-1]
    high = torn[:, :, 2].min(axis=1) > 40  # the cap is missing
    torn = torn[~high]
    mended = mend(torn)
    surface = measure_surface(mended.triangles)
    assert (surface.open_edges, surface.turned_edges, mended.left_open) == (0, 0, 0)
    assert mended.holes == 1
    assert mended.turned_faces > 0
    check = trimesh.Trimesh(mended.triangles.reshape(-1, 3), np.arange(len(mended.triangles) * 3).reshape(-1, 3))
    assert check.is_watertight
    assert check.volume == pytest.approx(surface.volume, rel=1e-5)
    assert surface.volume < BALL.volume


def test_a_hollow_is_told_from_a_shell_that_is_inside_out():
    hollow = triangles(trimesh.creation.icosphere(subdivisions=2, radius=20))[:, ::-1]
    beside = triangles(trimesh.creation.icosphere(subdivisions=2, radius=20)) + np.float32([200, 0, 0])
    good = np.concatenate((triangles(BALL), hollow, beside))
    assert inside_out(good) == (3, [])
    wrong = np.concatenate((triangles(BALL), hollow[:, ::-1], beside[:, ::-1]))
    count, shells = inside_out(wrong)
    assert (count, len(shells)) == (3, 2)
    mended = mend(wrong)
    assert mended.turned_shells == 2
    assert "2 shells right side out" in mended.words
    assert measure_surface(mended.triangles).volume == pytest.approx(measure_surface(good).volume, rel=1e-5)


def test_what_cannot_be_mended_is_said():
    fin = np.concatenate((triangles(BALL), triangles(BALL)[:1]))
    assert "stay open or shared" in mend(fin).words
    assert mend(triangles(BALL)).words == "nothing to mend"
