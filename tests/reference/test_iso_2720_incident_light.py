"""Incident light for a correct exposure.

Source: ISO 2720:1974, incident-light calibration E·t·S/N² = C, C = 250 for a flat receptor (the standard allows 240 to
400). 1 footcandle = 10.764 lx (foot = 0.3048 m exactly). Worked values were computed, not copied.
"""

import math

import pytest

from homunculus.core.camera import light
from homunculus.core.quantities import parse


def lux(stop, rate, iso=800.0, shutter=180.0):
    t = light.exposure_time(shutter=math.radians(shutter), rate=rate)
    return light.illuminance(stop=stop, exposure=t, iso=iso)


def test_f56_at_24_frames():
    assert light.exposure_time(shutter=math.pi, rate=24.0) == pytest.approx(1 / 48)
    assert lux(5.6, 24.0) == pytest.approx(470, abs=1)


def test_f14_at_120_frames_is_five_stops_more():
    assert lux(14.0, 120.0) == pytest.approx(14_700, abs=10)
    assert math.log2(lux(14.0, 120.0) / lux(5.6, 24.0)) == pytest.approx(4.97, abs=0.01)


def test_a_stop_is_a_factor_of_two():
    assert lux(8.0, 24.0) / lux(8.0 / math.sqrt(2), 24.0) == pytest.approx(2.0)
    assert lux(8.0, 24.0, iso=400.0) / lux(8.0, 24.0) == pytest.approx(2.0)


def test_sunny_sixteen_lies_in_the_standards_range():
    # rule of thumb, common practice: full sun (about 100 000 lx) takes f/16 at 1/ISO
    full_sun = light.illuminance(stop=16.0, exposure=1 / 100, iso=100.0)
    assert 240 / 250 * 60_000 < full_sun < 400 / 250 * 100_000


def test_a_footcandle():
    assert parse("1 fc", "illuminance") == pytest.approx(10.764, abs=1e-3)


def test_close_focus_costs_light():
    assert light.effective_stop(stop=8.0, focal=0.05, distance=0.10) == pytest.approx(16.0)
