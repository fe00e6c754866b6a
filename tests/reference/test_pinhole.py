"""What fills the frame, against the textbook's angle of view 2·atan(h / 2b), b the image distance of a thin lens, and the plate
match against the same angle. The worked fields are those of the house's own arithmetic, computed from 1/f = 1/s + 1/b."""

from __future__ import annotations

from math import atan, cos, radians, sin, tan

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from homunculus.core.camera.framing import foot_in_frame, matching_focal, share_of_frame
from homunculus.core.camera.lens import image_distance

focal = st.floats(0.008, 0.3)
sensor = st.floats(0.005, 0.07)


def angle(size, focal):
    return 2 * atan(size / (2 * focal))


@given(focal, sensor, st.floats(0.5, 500), st.floats(0.01, 3))
def test_what_spans_the_angle_of_view_fills_the_frame(f, h, distance, share):
    spans = 2 * distance * tan(angle(h, f) / 2)
    assert share_of_frame(height=share * spans, distance=distance, image=f, sensor=h) == pytest.approx(share)


@pytest.mark.parametrize(("f", "s", "sees"), [(0.020, 0.160, 0.252), (0.050, 3.0, 2.124)])
def test_close_by_the_field_is_that_of_the_image_distance(f, s, sees):
    image = image_distance(focal=f, distance=s)
    assert 1 / f == pytest.approx(1 / s + 1 / image)
    assert share_of_frame(height=sees, distance=s, image=image, sensor=0.036) == pytest.approx(1.0, rel=2e-4)


@given(focal, sensor, st.floats(0.1, 30), st.floats(5, 500), st.floats(-20, 20))
def test_the_ground_stands_where_a_turned_camera_projects_it(f, h, height, distance, tilt):
    c, s = cos(radians(tilt)), sin(radians(tilt))  # the lens at the origin, looking along x, turned up by the tilt
    along, up = distance * c - height * s, -height * c - distance * s
    assume(along > 1e-3)
    found = foot_in_frame(height=height, distance=distance, tilt=radians(tilt), image=f, sensor=h)
    assert found.value == pytest.approx(0.5 - f * up / along / h)


def test_ground_behind_the_camera_is_said_and_no_number_without_end():
    found = foot_in_frame(height=1.0, distance=1.0, tilt=radians(60), image=0.035, sensor=0.019)
    assert (found.value, found.notes) == (1000.0, ("the ground lies behind the camera",))


@given(focal, sensor, sensor, st.floats(2, 500), st.floats(1, 48))
def test_the_matching_lens_sees_the_plates_angle_breathing_included(f, plate, ours, away, scale):
    found = matching_focal(focal=f, plate_sensor=plate, plate_distance=away, sensor=ours, distance=away / scale).value
    theirs = image_distance(focal=f, distance=away)
    mine = image_distance(focal=found, distance=away / scale)
    assert angle(ours, mine) == pytest.approx(angle(plate, theirs))


def test_without_a_distance_both_are_taken_at_infinity_and_that_is_said():
    found = matching_focal(focal=0.024, plate_sensor=0.0254, plate_distance=None, sensor=0.036, distance=None)
    assert angle(0.036, found.value) == pytest.approx(angle(0.0254, 0.024))
    assert "infinity" in found.notes[0]
