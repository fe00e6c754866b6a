"""Froude scaling of time and speed.

Source: dynamic similarity by Froude number, V/√(gL) equal at both scales (any fluid-mechanics text; ITTC
procedures): time and speed go with √S. Falling bodies: h = ½ g t² (Galileo), integrated here by hand.
"""

import math

import pytest

from homunculus.core.camera import frame_rate
from homunculus.core.camera.stand import at_scale

G = 9.80665  # standard gravity, CGPM 1901


@pytest.mark.parametrize(("scale", "rate"), [(4, 48.0), (6, 58.79), (12, 83.14), (24, 117.6)])
def test_square_root_rule(scale, rate):
    assert frame_rate.gravity_rate(scale=scale, base=24.0) == pytest.approx(rate, abs=0.03)


@pytest.mark.parametrize("scale", [2.0, 8.0, 12.0, 87.0])
def test_a_stone_falling_from_the_model_takes_as_many_frames_as_from_the_real_tower(scale):
    height = 18.0
    real_frames = math.sqrt(2 * height / G) * 24.0
    model_frames = math.sqrt(2 * height / scale / G) * frame_rate.gravity_rate(scale=scale, base=24.0)
    assert model_frames == pytest.approx(real_frames)
    assert frame_rate.apparent_gravity(
        scale=scale, base=24.0, rate=frame_rate.gravity_rate(scale=scale, base=24.0)
    ) == pytest.approx(1.0)


@pytest.mark.parametrize(("rate", "gravity"), [(120.0, 0.48), (60.0, 1.92)])
def test_apparent_gravity_of_a_twelfth(rate, gravity):
    assert frame_rate.apparent_gravity(scale=12.0, base=24.0, rate=rate) == pytest.approx(gravity)


def test_the_froude_number_of_a_ferry_is_the_same_at_both_scales():
    real, scale, base = 6.0, 24.0, 24.0
    rate = frame_rate.gravity_rate(scale=scale, base=base)
    model = frame_rate.model_speed(real=real, scale=scale, rate=rate, base=base)
    assert model / math.sqrt(G * 31 / scale) == pytest.approx(real / math.sqrt(G * 31))


def test_a_sixth_at_120_frames_is_twice_as_fast_as_gravity():
    # k 2.04 and g' 0.24: common practice for collapses, no source
    k = 120.0 / frame_rate.gravity_rate(scale=6.0, base=24.0)
    assert k == pytest.approx(2.04, abs=5e-3)
    assert frame_rate.apparent_gravity(scale=6.0, base=24.0, rate=120.0) == pytest.approx(0.24)


def test_five_hours_in_eight_seconds():
    wanted = frame_rate.screen_time_rate(base=24.0, screen=8.0, event=5 * 3600.0)
    assert 1 / wanted.value == pytest.approx(93.75)
    assert 8.0 * 24 == 192


def test_capillary_length_of_water():
    # σ 72.75 mN/m and ρ 998.2 kg/m³ at 20 °C: IAPWS release on surface tension; CRC Handbook
    assert pytest.approx(math.sqrt(0.07275 / (998.2 * G)), rel=0.015) == frame_rate.CAPILLARY_LENGTH_M


@pytest.mark.parametrize("scale", [22.5, 32.0, 45.0, 87.0, 120.0, 160.0])
def test_railway_scales_of_nem_010_are_stock(scale):
    assert scale in frame_rate.STOCK_SCALES


def test_a_sixteenth_part_on_a_twelfth_model_is_a_quarter_too_small():
    # 1/16 over 1/12 − 1
    assert 12 / 16 - 1 == -0.25
    error = frame_rate.bought_part_error(scale=14.0)
    assert abs(error.value) == pytest.approx(14 / 16 - 1, abs=0.3)
    assert frame_rate.bought_part_error(scale=12.0).value == 0.0


def test_the_nearest_rate_is_nearest_by_ratio():
    rates = (24.0, 48.0, 60.0, 72.0, 96.0, 120.0)
    assert frame_rate.nearest_rate(wanted=83.0, rates=rates).value == 72.0
    assert frame_rate.nearest_rate(wanted=83.3, rates=rates).value == 96.0
    assert frame_rate.nearest_rate(wanted=200.0, rates=rates).notes == ("the camera stops at 120 fps",)
    assert frame_rate.nearest_rate(wanted=0.0107, rates=rates).value == 0.0107


def test_what_falls_at_one_to_twelve_is_stretched_by_the_root_of_twelve():
    rate = frame_rate.gravity_rate(scale=12.0, base=24.0)
    assert frame_rate.time_stretch(rate=rate, base=24.0) == pytest.approx(3.464, abs=1e-3)


@pytest.mark.parametrize(
    ("real", "scale", "built"), [(1.75, 5.0, 0.350), (1.80, 4.00, 0.450), (1.75, 3.89, 0.450), (8.0, 5.0, 1.60)]
)
def test_a_scale_is_real_over_built(real, scale, built):
    assert at_scale(real=real, scale=scale) == pytest.approx(built, abs=5e-4)
