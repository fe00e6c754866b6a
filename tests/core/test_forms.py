"""Forms that are no mesh: volume, area, layers, outline."""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.form.outline import outline, perimeter
from homunculus.core.job.forms import Box, Cylinder, Mesh, Section, Sections, Sphere, WeighedClay
from tests.strategies import forms, lengths


@given(forms, st.floats(0.2, 5.0), st.floats(0.001, 0.2))
def test_scale_then_layer_is_layer_then_scale(form, k, share):
    made = measure(form, {})
    t = share * min(made.size)
    assert made.scaled(k).shell.outward(t * k) == pytest.approx(made.shell.outward(t) * k**3, rel=1e-9)
    assert made.scaled(k).shell.inward(t * k) == pytest.approx(made.shell.inward(t) * k**3, rel=1e-9)
    assert made.scaled(k).area == pytest.approx(made.area * k**2)
    assert made.scaled(k).parting_length == pytest.approx(made.parting_length * k)


@given(forms, st.floats(0.001, 0.3), st.floats(1.01, 2.0))
def test_thicker_layers_are_larger_and_area_grows_outward(form, share, more):
    shell = measure(form, {}).shell
    t = share * shell.inradius
    assert shell.outward(t * more) > shell.outward(t) > shell.area * t
    assert 0 < shell.inward(t) < shell.area * t
    assert shell.inward(t * more) >= shell.inward(t)
    assert shell.area_outside(t) > shell.area


@given(forms)
def test_a_wall_as_thick_as_the_form_is_all_of_it(form):
    made = measure(form, {})
    assert made.shell.inward(made.shell.inradius * 1.0001) == pytest.approx(made.volume, rel=1e-6)


def test_a_cylinder_said_as_a_cone_of_two_like_diameters_is_the_same():
    a, b = measure(Cylinder(0.3, 0.5), {}), measure(Cylinder(0.3, 0.5, 0.3), {})
    assert a.volume == pytest.approx(math.pi * 0.15**2 * 0.5)
    assert a.shell == b.shell


def test_a_cone_has_its_textbook_volume_and_area():
    cone = measure(Cylinder(0.6, 0.4, 0.0), {})
    assert cone.volume == pytest.approx(math.pi * 0.3**2 * 0.4 / 3)
    assert cone.area == pytest.approx(math.pi * 0.3 * 0.5 + math.pi * 0.3**2)


def test_measured_sections_of_a_cylinder_come_to_the_cylinder():
    cuts = tuple(Section(z / 10, 0.3, 0.3) for z in range(6))
    a, b = measure(Sections(cuts), {}), measure(Cylinder(0.3, 0.5), {})
    assert a.volume == pytest.approx(b.volume)
    assert a.area == pytest.approx(b.area)
    assert a.shell.outward(0.01) == pytest.approx(b.shell.outward(0.01), rel=1e-9)


def test_measured_sections_of_a_ball_come_near_the_ball():
    cuts = tuple(Section(0.1 - 0.1 * math.cos(a), 0.2 * math.sin(a), 0.2 * math.sin(a))
                 for a in (math.pi * i / 60 for i in range(61)))  # fmt: skip
    ball = measure(Sphere(0.2), {})
    made = measure(Sections(cuts), {})
    assert made.volume == pytest.approx(ball.volume, rel=2e-3)
    assert made.area == pytest.approx(ball.area, rel=2e-3)
    assert made.shell.outward(0.01) == pytest.approx(ball.shell.outward(0.01), rel=3e-3)


def test_sections_out_of_order_are_refused():
    with pytest.raises(UserError, match="upwards"):
        measure(Sections((Section(0.0, 1, 1), Section(0.5, 1, 1), Section(0.4, 1, 1))), {})


def test_weighed_clay_gives_the_volume_of_its_weight_and_the_ball_where_it_is_one():
    density, r = 1500.0, 0.08
    mass = 4 / 3 * math.pi * r**3 * density
    made = measure(WeighedClay(mass, density, 2 * r, 2 * r, 2 * r), {})
    assert made.volume == pytest.approx(mass / density)
    assert made.area == pytest.approx(4 * math.pi * r**2, rel=1e-3)
    assert made.shell.outward(0.01) == pytest.approx(4 / 3 * math.pi * (0.09**3 - r**3), rel=1e-3)
    assert "ovoid" in made.notes[0]


def test_clay_that_cannot_have_those_sizes_is_refused():
    with pytest.raises(UserError, match="do not fit each other"):
        measure(WeighedClay(10.0, 1500.0, 0.05, 0.05, 0.05), {})


def test_a_mesh_without_a_study_is_not_measured_and_has_no_outline_yet():
    mesh = Mesh("0" * 64, "x.stl", 1.0)
    assert measure(mesh, {}) is None
    with pytest.raises(TypeError):
        outline(mesh)


@given(lengths(), lengths(), lengths())
def test_the_outline_of_a_box_is_its_front(a, b, c):
    made = measure(Box(a, b, c), {})
    assert made.parting_length == pytest.approx(2 * (a + c))
    assert perimeter(made.outline[0]) == made.parting_length


def test_a_mesh_fact_in_other_units_is_the_same_form(demo_document, demo_facts):
    form = next(p.form for b in demo_document.job.builds for p in b.pieces if p.id == "gallery")
    metres, millimetres = measure(form, demo_facts), measure(Mesh(form.content, form.file_name, 0.001), demo_facts)
    assert millimetres.volume == pytest.approx(metres.volume * 1e-9)
    assert millimetres.shell.outward(1e-5) == pytest.approx(metres.shell.outward(1e-2) * 1e-9)
    assert "distance field" in metres.notes[-1]
