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


def test_filters_and_a_t_stop_cost_what_they_say():
    assert light.illuminance(stop=4.0, exposure=0.02, iso=400.0, filters=2.0) == pytest.approx(
        4 * light.illuminance(stop=4.0, exposure=0.02, iso=400.0)
    )
    assert light.stops_more(light=lux(14.0, 120.0), known=lux(5.6, 24.0)) == pytest.approx(4.97, abs=0.01)
    assert light.effective_stop(stop=4.0, focal=0.05, distance=1e9, loss=2.1 / 2.0) == pytest.approx(4.2)


# ------------------------------------------------------------------------------------ lamps and wires
def test_lamps_for_a_lit_floor_and_the_circuit_that_bears_them():
    power = light.lamp_power(light=12_500.0, area=6.0, efficacy=90.0, used=0.4)
    assert power == pytest.approx(2083, abs=1)  # lux × m² = lm; lm / (lm/W × share) = W
    drawn = light.current(power=power, volts=230.0)
    assert drawn == pytest.approx(9.06, abs=0.01)
    assert light.circuits_needed(current=drawn, breaker=16.0, load=0.8) == 1
    assert light.circuits_needed(current=12.8, breaker=16.0, load=0.8) == 1  # exactly what it bears for hours
    assert light.circuits_needed(current=12.9, breaker=16.0, load=0.8) == 2


def test_the_air_of_a_stage_warms_as_the_heat_balance_says():
    """Air of 20 °C: 1.204 kg/m³ and 1006 J/(kg K), any handbook; a kilowatt in 100 m³ warms it by a degree in two minutes."""
    assert light.warms_by_a_degree_in(power=1000.0, volume=100.0) == pytest.approx(1.204 * 1006 * 100 / 1000, rel=0.01)


def test_lamps_in_a_model():
    drawn = light.lamps_current(count=150, amps=0.02)
    assert drawn == pytest.approx(3.0)
    assert light.lamps_power(current=drawn, volts=12.0) == pytest.approx(36.0)


@pytest.mark.parametrize(("current", "volts", "length", "mm2"), [(3.0, 12.0, 2.0, 0.75), (3.0, 12.0, 10.0, 2.5), (0.02, 12.0, 1.0, 0.05),
                                                                (16.0, 230.0, 1.0, 4.0)])  # fmt: skip
def test_a_wire_loses_no_more_than_a_twentieth_and_is_one_that_is_sold(current, volts, length, mm2):
    section = light.wire_section(current=current, volts=volts, length=length).value
    assert section == pytest.approx(mm2 * 1e-6)
    resistance = 2 * 1.72e-8 * length / section  # IEC 60028: 0.017241 ohm mm²/m at 20 °C, value from memory
    assert current * resistance <= 0.05 * volts * (1 + 1e-9)
    assert current / (section * 1e6) <= 5.0 * (1 + 1e-9)


def test_a_wire_thicker_than_any_is_told():
    assert light.wire_section(current=200.0, volts=12.0, length=5.0).notes


def test_a_screen_that_reads_as_white_in_the_light_of_the_set():
    bright = light.screen_luminance(light=1770.0, reflects=0.9)
    assert bright == pytest.approx(507, abs=0.5)
    assert light.screen_flux(luminance=bright, width=0.06, height=0.03, gain=1.0) == pytest.approx(2.87, abs=0.01)
