"""Forms traced over pictures: against closed forms, from the side, snapped to edges, offered by itself; as edits and as lines."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus import library
from homunculus.core.edits.traced import view_of, with_outline, with_picture, without_picture
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.form.traced import edge_near, metres_a_pixel, outline_offered, sections_of, thinned, width_at
from homunculus.core.job.build import piece_of
from homunculus.core.job.traces import Trace, View
from homunculus.core.session import Session

TEN_PX = ((0.0, 0.0), (10.0, 0.0))


def view(outline, pitch=0.001):
    """A view in which a pixel is so long."""
    return View("a.png", TEN_PX, 10 * pitch, tuple(outline), closed=True)


def round_outline(wide, high, corners=240, middle=(300.0, 400.0)):
    return [(middle[0] + wide / 2 * math.cos(2 * math.pi * i / corners), middle[1] + high / 2 * math.sin(2 * math.pi * i / corners))
            for i in range(corners)]  # fmt: skip


def volume(front, side=None):
    return measure(sections_of(Trace(view(front), view(side) if side else None)), {}).volume


def test_a_traced_circle_is_a_ball_within_one_per_cent():
    assert volume(round_outline(200, 200)) == pytest.approx(math.pi / 6 * 0.2**3, rel=0.01)


def test_a_traced_ellipse_with_another_from_the_side_is_an_ellipsoid_within_one_per_cent():
    """Volume π/6 · a · b · c; the side's picture is taken at another distance, so its pixel is another length."""
    front, side = round_outline(300, 200), round_outline(160, 400)
    made = sections_of(Trace(view(front), View("b.png", TEN_PX, 0.005, tuple(side), closed=True)))
    assert measure(made, {}).volume == pytest.approx(math.pi / 6 * 0.3 * 0.2 * 0.08, rel=0.01)
    assert measure(made, {}).size == pytest.approx((0.3, 0.08, 0.2), rel=0.01)


def test_a_traced_square_is_a_cylinder_and_from_two_sides_one_of_an_oval_within_one_per_cent():
    square = [(100.0, 100.0), (300.0, 100.0), (300.0, 300.0), (100.0, 300.0)]
    assert volume(square) == pytest.approx(math.pi / 4 * 0.2**3, rel=0.01)
    narrow = [(0.0, 0.0), (100.0, 0.0), (100.0, 200.0), (0.0, 200.0)]
    assert volume(square, narrow) == pytest.approx(math.pi / 4 * 0.2 * 0.1 * 0.2, rel=0.01)


def test_a_cone_stands_on_its_foot_whichever_way_round_it_was_pressed():
    cone = [(200.0, 100.0), (300.0, 300.0), (100.0, 300.0)]
    for outline in (cone, cone[::-1], cone[1:] + cone[:1]):
        made = sections_of(Trace(view(outline)))
        assert made.sections[0].width_m == pytest.approx(0.2, rel=1e-3)
        assert made.sections[-1].width_m < 0.002
        assert measure(made, {}).volume == pytest.approx(math.pi / 12 * 0.2**2 * 0.2, rel=0.01)


def test_of_something_with_two_legs_the_widths_are_those_of_both_together():
    legs = [(0, 0), (300, 0), (300, 200), (200, 200), (200, 100), (100, 100), (100, 200), (0, 200)]
    legs = [(float(x), float(y)) for x, y in legs]
    assert width_at(tuple(legs), 150.0) == 200
    assert width_at(tuple(legs), 50.0) == 300


@given(st.floats(0.2, 50), st.floats(0.5, 20), st.floats(-500, 500))
def test_the_form_goes_with_the_known_length_and_not_with_where_it_lies_in_the_picture(scale, known, shift):
    base = round_outline(200, 150, 60)
    moved = [(x * scale + shift, y * scale - shift) for x, y in base]
    ends = ((0.0, 0.0), (200.0 * scale, 0.0))
    made = measure(sections_of(Trace(View("a.png", ends, known, tuple(moved), closed=True))), {})
    assert made.size[0] == pytest.approx(known, rel=0.01, abs=2e-5)
    assert made.size[2] == pytest.approx(known * 0.75, rel=0.01, abs=2e-5)


# ------------------------------------------------------------------------------------------- pictures
def picture(size=200, middle=(90, 110), radius=60.0, dark=40, light=220, noise=0.0):
    ys, xs = np.mgrid[0:size, 0:size]
    inside = np.hypot(xs - middle[0], ys - middle[1]) <= radius
    grey = np.where(inside, dark, light).astype(float)
    return grey + np.random.default_rng(3).normal(0, noise, grey.shape)


def test_a_point_is_drawn_to_the_edge_near_it_and_stays_where_there_is_none():
    grey = picture(noise=3.0)
    for angle in np.linspace(0, 6, 13):
        at = (90 + 66 * math.cos(angle), 110 + 66 * math.sin(angle))
        x, y = edge_near(grey, at)
        assert abs(math.hypot(x - 90.5, y - 110.5) - 60) < 2.5, "on the rim, six pixels from the hand"
    assert edge_near(grey, (20.0, 20.0)) == (20.0, 20.0)
    assert edge_near(grey, (-5.0, 300.0)) == (-5.0, 300.0)


def test_a_straight_edge_is_found_where_it_is_nearest_also_at_the_pictures_border():
    grey = np.full((80, 100), 30.0)
    grey[:, 50:] = 200
    for at in ((45.0, 40.0), (56.0, 40.0), (45.0, 2.0), (52.0, 77.0)):
        x, y = edge_near(grey, at)
        assert abs(x - 50) <= 0.6
        assert abs(y - at[1]) <= 1.6
    assert edge_near(grey, (34.0, 40.0)) == (34.0, 40.0), "too far from the hand"
    assert edge_near(grey, (45.0, 40.0), reach=3.0) == (45.0, 40.0)
    faint = np.full((80, 100), 100.0)
    faint[:, 50:] = 110
    assert edge_near(faint, (47.0, 40.0)) == (47.0, 40.0), "grain is no edge"


def test_an_outline_that_is_offered_lies_on_the_pixels_edges():
    grey = np.full((100, 120), 220.0)
    grey[20:80, 30:70] = 40
    outline = outline_offered(grey)
    xs, ys = [x for x, _ in outline], [y for _, y in outline]
    assert (min(xs), max(xs)) == (pytest.approx(30, abs=0.51), pytest.approx(70, abs=0.51))
    assert (min(ys), max(ys)) == (pytest.approx(20, abs=0.51), pytest.approx(80, abs=0.51))
    grey[0:30, 90:120] = 40  # something smaller that touches the border
    assert max(x for x, _ in outline_offered(grey)) < 71


@pytest.mark.parametrize(("dark", "light"), [(40, 220), (230, 20)])
def test_what_stands_out_is_outlined_by_itself(dark, light):
    offered = outline_offered(picture(dark=dark, light=light, noise=5.0))
    assert 8 <= len(offered) <= 64
    made = sections_of(Trace(View("a.png", ((0.0, 0.0), (100.0, 0.0)), 1.0, offered, closed=True)))
    assert measure(made, {}).volume == pytest.approx(math.pi / 6 * 1.2**3, rel=0.03)
    with pytest.raises(UserError, match="Nothing stands out"):
        outline_offered(np.full((50, 50), 120.0))


def test_corners_that_matter_least_are_left_out_first():
    square = [(float(x), 0.0) for x in range(10)] + [(10.0, float(y)) for y in range(10)]
    square += [(float(x), 10.0) for x in range(10, 0, -1)] + [(0.0, float(y)) for y in range(10, 0, -1)]
    assert set(thinned(tuple(square), 4)) == {(0.0, 0.0), (10.0, 0.0), (10.0, 10.0), (0.0, 10.0)}


# ---------------------------------------------------------------------------------------------- edits
@pytest.mark.parametrize(("text", "said"), [
    ("front 0 0, 10 0, 10 10", "No length is known"), ("front known 0 0 to 0 0 is 1 m; front 0 0, 10 0, 10 10", "in one place"),
    ("front known 0 0 to 10 0 is 1 m; front 0 0, 10 0", "enclose nothing"), ("front known 0 0 to 10 0 is 1 m; front 0 0, 10 0, 20 0", "no height"),
    ("hull", "says nothing"), ("front known a b to c d is 1 m", "no place"), ("side 0 0, 1 1, 2 0", "No picture from the side"),
])  # fmt: skip
def test_a_trace_that_cannot_be_is_refused_in_a_sentence(demo_document, text, said):
    job = with_picture(demo_document.job, "ferry", "hull", "front", "a.png")
    session = Session(job, shelf=library.shelf())
    with pytest.raises(UserError, match=said) as trouble:
        session.do(f"trace ferry/hull: {text}")
    assert trouble.value.remedy


def test_a_piece_is_traced_by_lines_its_form_follows_each_change_and_all_is_undone(demo_document):
    job = with_picture(demo_document.job, "ferry", "wheelhouse", "front", "a.png")
    session = Session(job, shelf=library.shelf())
    session.do(
        "trace ferry/wheelhouse: front known 100 300 to 300 300 is 2 m; front 100 100, 300 100, 300 300, 100 300"
    )
    form = piece_of(session.job.build("ferry"), "wheelhouse").form
    assert measure(form, {}).size == pytest.approx((2.0, 2.0, 2.0), abs=1e-3)
    session.do("trace ferry/wheelhouse: front known 100 300 to 300 300 is 8 ft")
    assert measure(piece_of(session.job.build("ferry"), "wheelhouse").form, {}).size[0] == pytest.approx(
        2.4384, abs=1e-3
    )
    session.edit("side", with_picture(session.job, "ferry", "wheelhouse", "side", "b.png"))
    assert measure(piece_of(session.job.build("ferry"), "wheelhouse").form, {}).size[1] == pytest.approx(
        2.4384, abs=1e-3
    ), "stays while the side is open"
    session.do("trace ferry/wheelhouse: side known 0 0 to 100 0 is 1 m; side 0 0, 50 0, 50 100, 0 100")
    size = measure(piece_of(session.job.build("ferry"), "wheelhouse").form, {}).size
    assert size == pytest.approx((2.4384, 0.5, 2.4384), abs=1e-3)
    session.edit("opened", with_outline(session.job, "ferry", "wheelhouse", "front", ((0.0, 0.0),), closed=False))
    session.edit("round again", without_picture(session.job, "ferry", "wheelhouse", "side"))
    assert view_of(piece_of(session.job.build("ferry"), "wheelhouse"), "side") is None
    while session.can_undo:
        session.undo()
    assert session.job == job
    while session.can_redo:
        session.redo()
    assert metres_a_pixel(view_of(piece_of(session.job.build("ferry"), "wheelhouse"), "front")) == pytest.approx(
        2.4384 / 200
    )
