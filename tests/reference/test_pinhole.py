"""What fills the frame, against the textbook's angle of view 2·atan(h / 2f), and the plate match against the same angle."""

from __future__ import annotations

from math import atan, cos, radians, sin, tan

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.camera.framing import foot_in_frame, matching_focal, share_of_frame

focal = st.floats(0.008, 0.3)
sensor = st.floats(0.005, 0.07)


def angle(size, focal):
    return 2 * atan(size / (2 * focal))


@given(focal, sensor, st.floats(0.5, 500), st.floats(0.01, 3))
def test_what_spans_the_angle_of_view_fills_the_frame(f, h, distance, share):
    spans = 2 * distance * tan(angle(h, f) / 2)
    assert share_of_frame(height=share * spans, distance=distance, focal=f, sensor=h) == pytest.approx(share)


@given(focal, sensor, st.floats(0.1, 30), st.floats(5, 500), st.floats(-20, 20))
def test_the_ground_stands_where_a_turned_camera_projects_it(f, h, height, distance, tilt):
    c, s = cos(radians(tilt)), sin(radians(tilt))  # the lens at the origin, looking along x, turned up by the tilt
    along, up = distance * c - height * s, -height * c - distance * s
    assert foot_in_frame(height=height, distance=distance, tilt=tilt, focal=f, sensor=h) == pytest.approx(
        0.5 - f * up / along / h
    )


@given(focal, sensor, sensor)
def test_the_matching_lens_sees_the_plates_angle(f, plate, ours):
    assert angle(ours, matching_focal(focal=f, plate_sensor=plate, sensor=ours)) == pytest.approx(angle(plate, f))
