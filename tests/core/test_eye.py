"""What a camera sees: projection against a kept library's camera, outlines against areas that are known."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.spatial import ConvexHull
from scipy.spatial.transform import Rotation
from trimesh.creation import icosphere
from trimesh.scene.cameras import Camera as KeptCamera

from homunculus.core.camera.eye import Eye, clipped
from homunculus.core.form.facets import Facets, facets_of, flat
from homunculus.core.form.measure import measure
from homunculus.core.form.mesh import measure_surface
from homunculus.core.job.forms import Box, Cylinder, Displaced, Section, Sections, Sphere

turns = st.floats(-1.2, 1.2)
places = st.tuples(st.floats(-5, 5), st.floats(-5, 5), st.floats(-2, 4))


@given(places, turns, turns, turns, st.integers(0, 10_000))
@settings(max_examples=60)
def test_points_fall_where_a_kept_librarys_pinhole_camera_has_them(at, pan, tilt, roll, seed):
    """trimesh's camera: x right, y up, looking along −z, its matrix K with the image turned over; scipy's rotations for its pose."""
    eye = Eye(at, pan, tilt, roll, 2844.4, 4096.0, 2160.0)
    kept = KeptCamera(resolution=(4096, 2160), focal=(2844.4, 2844.4))
    # out of the set (across, away, up) into a camera that looks along −z, then panned, tilted and rolled
    upright = np.array([[1, 0, 0], [0, 0, -1], [0, 1, 0]], float)
    pose = Rotation.from_matrix(upright) * Rotation.from_euler("YXZ", [-pan, tilt, -roll])
    own = np.random.default_rng(seed).uniform((-2, -1.5, -9), (2, 1.5, -0.5), (40, 3))
    points = pose.apply(own) + at
    flipped = own * (1, -1, -1)  # the library's K wants y down and z ahead
    image = (kept.K @ flipped.T).T
    assert eye.pixels(points) == pytest.approx(image[:, :2] / image[:, 2:], abs=1e-6)
    # turned and turned back: the ray through a pixel meets the point
    rays = eye.rays(eye.pixels(points))
    apart = points - at
    assert rays == pytest.approx(apart / np.linalg.norm(apart, axis=1, keepdims=True), abs=1e-9)


def area_px(loops):
    """Signed area of closed lines."""
    total = 0.0
    for loop in loops:
        x, y = loop[:, 0], loop[:, 1]
        total += 0.5 * float(np.dot(x, np.roll(y, -1)) - np.dot(y, np.roll(x, -1)))
    return total


def seen(facets, eye):
    return [eye.pixels(loop[:-1]) for loop in facets.outline(eye.at).lines()]


def test_the_outline_of_a_ball_is_the_disc_that_it_covers():
    """Seen from d a ball of radius r covers a cone of half the angle asin(r/d): off the axis an ellipse, here in the middle a circle."""
    eye = Eye((0.0, -4.0, 0.5), 0.0, 0.0, 0.0, 1000.0, 1000.0, 1000.0)
    radius = 1000 * math.tan(math.asin(0.5 / 4.0))
    ball = Facets(*(lambda m: (m.vertices * 0.5 + (0, 0, 0.5), m.faces))(icosphere(subdivisions=4)))
    loops = seen(ball, eye)
    assert len(loops) == 1
    assert abs(area_px(loops)) == pytest.approx(math.pi * radius**2, rel=4e-3)
    coarse = seen(facets_of(Sphere(1.0)), eye)
    assert abs(area_px(coarse)) == pytest.approx(math.pi * radius**2, rel=3e-2)
    assert len(coarse) == 1, "the tips of a ball leave no slivers"


def test_a_box_shows_its_front_and_what_a_corner_adds():
    eye = Eye((0.0, -5.0, 0.5), 0.0, 0.0, 0.0, 1000.0, 1000.0, 1000.0)
    (front,) = seen(facets_of(Box(2.0, 2.0, 1.0)), eye)
    assert abs(area_px([front])) == pytest.approx(2.0 / 4 * 1000 * (1.0 / 4 * 1000))
    turned = facets_of(Box(2.0, 2.0, 1.0)).moved(1.0, (0.0, 0.0, 0.0), math.radians(45))
    (edge,) = seen(turned, eye)
    wide = edge[:, 0].max() - edge[:, 0].min()
    assert wide == pytest.approx(2 * math.sqrt(2) / 5 * 1000)
    right = facets_of(Box(2.0, 1.0, 1.0)).moved(1.0, (0.0, 0.0, 0.0), math.radians(30))
    # clockwise from above: its right end comes nearer to an eye before it
    corner = right.points[np.argmax(right.points[:, 0])]
    assert corner[1] < 0


@pytest.mark.parametrize("form", [Box(2.0, 1.0, 3.0), Cylinder(2.0, 3.0), Cylinder(2.0, 3.0, 0.0), Cylinder(0.5, 1.0, 1.5), Sphere(1.4),
                                  Displaced(0.5, 1.2, 1.0, 1.0), Sections((Section(0.0, 1.0, 1.0), Section(1.0, 2.0, 0.5), Section(2.0, 0.0, 0.0)))])  # fmt: skip
def test_forms_in_triangles_are_closed_face_outward_and_stand_on_their_foot(form):
    facets = facets_of(form)
    surface = measure_surface(facets.points[facets.faces].astype(np.float32))
    assert (surface.open_edges, surface.turned_edges, surface.shared_edges) == (0, 0, 0)
    a, b, c = (facets.points[facets.faces[:, i]] for i in range(3))
    assert float(np.einsum("ij,ij->", a, np.cross(b, c))) > 0
    assert facets.points[:, 2].min() == pytest.approx(0.0, abs=1e-12)
    shape = measure(form, {})
    assert np.ptp(facets.points, axis=0) == pytest.approx(shape.size, rel=4e-3)
    assert (facets.beyond >= 0).all()
    assert (facets.ends[facets.beyond] == facets.ends[:, ::-1]).all()


@given(st.sampled_from((Box(2.0, 1.0, 3.0), Cylinder(2.0, 3.0), Cylinder(2.0, 3.0, 0.5), Sphere(1.4), Displaced(0.5, 1.2, 1.0, 1.0))),
       st.floats(0, 2 * math.pi), st.floats(-1.3, 1.3), st.floats(2.5, 12.0))  # fmt: skip
@settings(max_examples=80, deadline=None)
def test_from_wherever_one_looks_a_convex_form_shows_the_hull_of_its_corners(form, around, up, far):
    """A kept library's convex hull of all corners in the picture; one closed line, and nothing else, has its area."""
    middle = np.array([0.0, 0.0, 0.7])
    at = (
        middle + far * np.array([math.sin(around) * math.cos(up), -math.cos(around) * math.cos(up), math.sin(up)]) * 1.3
    )
    eye = Eye(tuple(at), -around, -up, 0.3, 1000.0, 1000.0, 1000.0)
    facets = facets_of(form)
    loops = seen(facets, eye)
    assert len(loops) == 1
    assert abs(area_px(loops)) == pytest.approx(ConvexHull(eye.pixels(facets.points)).volume, rel=1e-9)


def test_a_ring_is_seen_with_its_hole_and_a_board_from_both_sides():
    parts = 24
    points, faces = [], []
    for i in range(parts):
        a = 2 * math.pi * i / parts
        points += [(r * math.cos(a), y, r * math.sin(a)) for r, y in ((1.0, 0.0), (2.0, 0.0), (2.0, 0.3), (1.0, 0.3))]
        j = (i + 1) % parts
        for k in range(4):
            m = (k + 1) % 4
            faces += [(4 * i + k, 4 * i + m, 4 * j + m), (4 * i + k, 4 * j + m, 4 * j + k)]
    ring = Facets(np.array(points), np.array(faces)[:, ::-1])
    eye = Eye((0.0, -20.0, 0.0), 0.0, 0.0, 0.0, 1000.0, 1000.0, 1000.0)
    covered = abs(area_px(seen(ring, eye)))
    polygon = parts / 2 * math.sin(2 * math.pi / parts)
    assert covered == pytest.approx(polygon * (2**2 - (1 * 20 / 20.3) ** 2) * 50**2, rel=1e-6)
    for side in (-3.0, 3.0):
        board = seen(flat(2.0, 1.0), Eye((0.0, side, 0.5), 0.0 if side < 0 else math.pi, 0.0, 0.0, 900.0, 900.0, 900.0))
        assert abs(area_px(board)) == pytest.approx(600 * 300)


def test_what_reaches_behind_the_eye_is_cut_off_before_it():
    square = np.array([(-1.0, 0.0, -1.0), (1.0, 0.0, -1.0), (1.0, 0.0, 3.0), (-1.0, 0.0, 3.0)])
    kept = clipped(square, 0.5)
    assert kept[:, 2].min() == pytest.approx(0.5)
    assert len(kept) == 4
    assert len(clipped(square, 5.0)) == 0
    assert clipped(square + np.array((0, 0, 9)), 0.5) == pytest.approx(square + np.array((0, 0, 9)))
