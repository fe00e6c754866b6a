"""Sections and layers of the distance field against closed forms.

Sources: an oval's perimeter 4 a E(e), its inner parallel area πab − Pt + πt² up to the least radius of curvature b²/a;
circle of a cut ball, r² − d²; Pappus and solid geometry for the triangulated primitives.
"""

import math

import numpy as np
import pytest
from scipy.special import ellipe

from homunculus.core.errors import UserError
from homunculus.core.form.field import (
    field_from_bytes,
    layer_volumes,
    make_field,
    solid_volume,
    triangles_of,
    usual_reach,
)
from homunculus.core.form.measure import measure
from homunculus.core.form.mesh import measure_surface
from homunculus.core.job.forms import Box, Cylinder, Mesh, Section, Sections, Sphere, WeighedClay


@pytest.fixture(scope="module")
def ball():
    return make_field(triangles_of(Sphere(0.2)), reach=0.04, points=60_000)


def area(polygons):
    return sum(abs(np.sum(p[:, 0] * np.roll(p[:, 1], -1) - np.roll(p[:, 0], -1) * p[:, 1])) / 2 for p in polygons)


@pytest.mark.parametrize("offset", [0.0, 0.03, -0.07])
@pytest.mark.parametrize("angle", [0.0, 0.6, math.pi / 2])
def test_a_cut_ball_is_a_circle_however_the_plane_is_turned(ball, offset, angle):
    form, layer = ball.section(offset=offset, angle=angle, levels=(0.0, 0.02))
    assert area(form) == pytest.approx(math.pi * (0.1**2 - offset**2), rel=0.02)
    assert area(layer) == pytest.approx(math.pi * (0.12**2 - offset**2), rel=0.02)
    points = np.array(form[0])
    assert points[:, 0].mean() == pytest.approx(0.0, abs=0.003)
    assert points[:, 1].mean() == pytest.approx(0.1, abs=0.003)


def test_a_plane_that_passes_by_cuts_nothing(ball):
    assert ball.section(offset=0.2, angle=0.0, levels=(0.0,)) == ((),)


def test_a_turned_plane_through_a_box_cuts_its_diagonal():
    field = make_field(triangles_of(Box(0.3, 0.1, 0.2)), reach=0.03, points=80_000)
    (straight,) = field.section(offset=0.0, angle=0.0, levels=(0.0,))
    (turned,) = field.section(offset=0.0, angle=math.atan2(0.1, 0.3), levels=(0.0,))
    (across,) = field.section(offset=0.0, angle=math.pi / 2, levels=(0.0,))
    assert area(straight) == pytest.approx(0.3 * 0.2, rel=0.02)
    assert area(turned) == pytest.approx(math.hypot(0.3, 0.1) * 0.2, rel=0.04)
    assert area(across) == pytest.approx(0.1 * 0.2, rel=0.03)


def test_the_surface_of_a_balls_field_lies_on_the_ball_and_looks_outward(ball):
    points, normals = ball.surface()
    away = points - (0.0, 0.0, 0.1)
    assert np.linalg.norm(away, axis=1) == pytest.approx(0.1, abs=0.0007)
    assert np.sum(away * normals, axis=1) == pytest.approx(0.1, abs=0.0007)


def test_a_field_written_and_read_cuts_the_same(ball):
    again = field_from_bytes(ball.to_bytes(), "ball.field")
    assert again.distances.shape == ball.distances.shape
    assert area(again.section(offset=0.01, angle=0.3, levels=(0.0,))[0]) == pytest.approx(
        area(ball.section(offset=0.01, angle=0.3, levels=(0.0,))[0]), rel=1e-3
    )
    for damaged in (b"", ball.to_bytes()[:300], b"PK\x03\x04 nonsense"):
        with pytest.raises(UserError, match=r"ball\.field"):
            field_from_bytes(damaged, "ball.field")


@pytest.mark.parametrize(
    "form",
    [Box(0.3, 0.2, 0.1), Cylinder(0.2, 0.3), Cylinder(0.3, 0.2, 0.1), Sphere(0.25),
     Sections((Section(0.0, 0.2, 0.2), Section(0.1, 0.3, 0.3), Section(0.3, 0.1, 0.1)))],
)  # fmt: skip
def test_triangulated_primitives_are_closed_and_measure_as_they_should(form):
    surface, exact = measure_surface(triangles_of(form)), measure(form, {})
    assert (surface.open_edges, surface.turned_edges) == (0, 0)
    assert surface.volume == pytest.approx(exact.volume, rel=6e-3)
    assert surface.area == pytest.approx(exact.area, rel=6e-3)
    assert surface.size == pytest.approx(exact.size, rel=2e-3)


def test_the_ovoid_of_weighed_clay_has_its_sizes():
    surface = measure_surface(triangles_of(WeighedClay(0.21, 1500.0, 0.11, 0.035, 0.15)))
    assert surface.size == pytest.approx((0.11, 0.035, 0.15), rel=2e-3)
    with pytest.raises(TypeError):
        triangles_of(Mesh("0" * 64, "x.stl", 1.0))


def test_layers_of_the_field_are_the_layers_of_the_box():
    triangles = triangles_of(Box(0.3, 0.2, 0.12))
    field = make_field(triangles, reach=usual_reach(triangles), points=200_000)
    exact = measure(Box(0.3, 0.2, 0.12), {}).shell
    outward, inward = layer_volumes(field, np.array([0.01, 0.02]))
    assert outward == pytest.approx([exact.outward(0.01), exact.outward(0.02)], rel=0.015)
    assert inward == pytest.approx([exact.inward(0.01), exact.inward(0.02)], rel=0.015)


def test_a_surface_whose_faces_point_both_ways_still_knows_its_inside():
    """Columns whose crossings do not come out even are told by counting them, as even and odd."""
    torn = triangles_of(Sphere(0.2)).copy()
    turned = np.random.default_rng(3).random(len(torn)) < 0.5
    torn[turned] = torn[turned][:, ::-1]
    assert solid_volume(make_field(torn, reach=0.02, points=60_000)) == pytest.approx(math.pi * 0.2**3 / 6, rel=0.02)


@pytest.mark.parametrize("share", [0.1, 0.4, 0.8, 1.2])
def test_layers_inside_stacked_sections_are_those_of_the_same_frustum_and_of_an_oval_column(share):
    low, high, tall = 0.10, 0.06, 0.25
    cut = tuple(Section(z, 2 * r, 2 * r) for z, r in ((0.0, low), (tall * 0.4, low * 0.6 + high * 0.4), (tall, high)))
    t = share * high
    turned = measure(Cylinder(2 * low, tall, 2 * high), {})
    stacked = measure(Sections(cut), {})
    assert stacked.shell.inward(t) == pytest.approx(turned.shell.inward(t), rel=0.003)
    assert stacked.shell.outward(t) == pytest.approx(turned.shell.outward(t), rel=0.003)

    a, b = 0.10, 0.06
    t = min(share * b * b / a, b)
    oval = measure(Sections((Section(0.0, 2 * a, 2 * b), Section(tall, 2 * a, 2 * b))), {})
    if t <= b * b / a:
        inner = math.pi * a * b - 4 * a * ellipe(1 - b * b / a / a) * t + math.pi * t * t
        assert oval.shell.inward(t) == pytest.approx(math.pi * a * b * tall - inner * (tall - 2 * t), rel=0.003)
    assert oval.shell.inward(b) == pytest.approx(math.pi * a * b * tall)

    disc, t = measure(Sections((Section(0.3, 0.5, 0.5), Section(0.34, 0.5, 0.5))), {}), 0.02 * min(share, 1)
    inner = math.pi * (0.25 - t) ** 2 * (0.04 - 2 * t)
    assert disc.shell.inward(t) == pytest.approx(math.pi * 0.25**2 * 0.04 - inner, rel=0.003)
    lifted = measure(Sections(tuple(Section(s.at_m + 0.3, s.width_m, s.depth_m) for s in cut)), {})
    assert lifted.shell.inward(share * high) == pytest.approx(stacked.shell.inward(share * high), rel=1e-6)
