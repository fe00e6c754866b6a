"""Meshes of three kinds in, their units guessed, and torn ones mended; a general mesh library writes and checks them."""

import numpy as np
import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import measure_surface, sound_surface
from homunculus.core.form.repair import inside_out, mend, nesting
from homunculus.exchange.mesh_files import as_stl, corners_of, guess_unit, read_any

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


@given(st.sampled_from(["obj", "ply"]), st.integers(0, 4000), st.binary(max_size=20))
def test_a_torn_file_is_read_or_refused_by_name_and_never_breaks_the_reader(kind, cut, dirt):
    """What reads it in a process of its own, asked in this one: a process for each would be a second for each."""
    whole = BOX.export(file_type=kind)
    whole = whole if isinstance(whole, bytes) else whole.encode()
    data = whole[: cut % len(whole)] + dirt
    try:
        found = np.frombuffer(corners_of(data, f"box.{kind}", kind), np.float32).reshape(-1, 3, 3)
        sound_surface(found, f"box.{kind}")
        assert np.isfinite(found).all()
    except UserError as trouble:
        assert f"box.{kind}" in str(trouble)  # noqa: PT017  (the only way out but an answer)


BOX = trimesh.creation.box((30, 20, 10))
FORMS = {
    "ball": BALL, "box": BOX.subdivide().subdivide(), "ring": trimesh.creation.torus(50, 15),
    "drum": trimesh.creation.cylinder(20, 60, sections=40),
}  # fmt: skip


@settings(max_examples=40)
@given(st.sampled_from(sorted(FORMS)), st.integers(0, 10_000), st.floats(0, 0.5), st.booleans())
def test_turned_faces_are_found_and_turned_back_whatever_the_form(name, seed, share, whole):
    good = triangles(FORMS[name])
    rng = np.random.default_rng(seed)
    torn = good.copy()
    wrong = rng.random(len(torn)) < share
    torn[wrong] = torn[wrong][:, ::-1]
    if whole:
        torn = torn[:, ::-1]
    mended = mend(torn)
    surface, told = measure_surface(mended.triangles), measure_surface(good)
    assert (surface.open_edges, surface.turned_edges, mended.left_open) == (0, 0, 0)
    assert surface.volume == pytest.approx(told.volume, rel=1e-4)
    assert inside_out(mended.triangles)[1] == []
    assert mended.holes == 0
    if not wrong.any() and not whole:
        assert mended.words == "nothing to mend"


@settings(max_examples=30)
@given(st.integers(0, 10_000), st.integers(1, 4))
def test_holes_are_closed_and_the_form_hardly_moves(seed, count):
    good = triangles(BALL)
    rng = np.random.default_rng(seed)
    middles = good.mean(axis=1)
    ways = rng.normal(size=(count, 3))
    ways /= np.linalg.norm(ways, axis=1, keepdims=True)
    near = (middles @ ways.T / 50 > 0.97).any(axis=1)  # a small cap around each way is missing
    mended = mend(good[~near])
    surface = measure_surface(mended.triangles)
    assert (surface.open_edges, surface.turned_edges, mended.left_open) == (0, 0, 0)
    assert 1 <= mended.holes <= count
    assert surface.volume == pytest.approx(measure_surface(good).volume, rel=0.02)
    assert surface.faces < len(good) + 400


@pytest.mark.parametrize("system", ["stl", "obj", "ply"])
def test_a_colour_or_texture_beside_the_triangles_does_no_harm(system):
    mesh = BALL.copy()
    mesh.visual.vertex_colors = np.full((len(mesh.vertices), 4), 200, np.uint8)
    data = mesh.export(file_type=system)
    read = read_any(data if isinstance(data, bytes) else data.encode(), f"ball.{system}")
    assert measure_surface(read).open_edges == 0


def test_what_lies_in_what_as_a_general_mesh_library_tells_it():
    body = trimesh.creation.annulus(r_min=20, r_max=50, height=40, sections=256)
    turn = trimesh.transformations.rotation_matrix(0.7, (1, 2, 3), (5, -3, 2))
    at = np.random.default_rng(3).uniform((-50, -50, -20), (50, 50, 20), (80, 3))
    r = np.hypot(at[:, 0], at[:, 1])
    clear = (abs(r - 20) > 0.5) & (abs(r - 50) > 0.5)
    inside = (r > 20) & (r < 50)
    body.apply_transform(turn)
    specks = [
        trimesh.creation.icosahedron().apply_scale(0.3).apply_translation(p) for p in trimesh.transform_points(at, turn)
    ]
    found = nesting(np.concatenate([triangles(body), *map(triangles, specks)]))
    depths = np.array([depth for _, depth in found])
    assert (depths[1:] == inside)[clear].all()
    assert 10 < inside[clear].sum() < clear.sum() - 10
