"""Faked depth, and what moves: worked values, and every law against another way to the same answer."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.integrate import solve_ivp
from scipy.optimize import brentq, least_squares

from homunculus.core.camera.depth import (
    along_free,
    contrast_by_air,
    contrast_wanted,
    eye_over_ground,
    finest_on_it,
    finish_tier,
    foot_height,
    reach_in_pixels,
    sideways_free,
)
from homunculus.core.camera.eye import Eye
from homunculus.core.camera.frame_rate import time_on_set
from homunculus.core.camera.lens import image_distance
from homunculus.core.errors import UserError
from homunculus.core.floor.air import carbon_dioxide, time_to_limit
from homunculus.core.floor.stands import Taped, adjusted, from_nails
from homunculus.core.job.stage import CameraMove
from homunculus.core.moving import cueing, easing, falling, swinging, towing
from homunculus.core.moving.playing import extent_of, gone

G = 9.80665


# ------------------------------------------------------------------------------------------- depth
def test_worked_values_of_a_set_of_one_to_eight():
    """25 mm on 36 mm and 4 096 px; the values were worked out apart from the program."""
    far = reach_in_pixels(image=0.025, sensor_width=0.036, delivery=4096)
    near = reach_in_pixels(image=image_distance(focal=0.025, distance=0.6), sensor_width=0.036, delivery=4096)
    assert (far, near) == pytest.approx((2844, 2968), abs=0.6)
    free = {(scale, at): sideways_free(distance=at, scale=scale, base=8, reach=far, allowed=3) for scale, at in ((1, 0.2), (16, 2.5), (32, 4))}  # fmt: skip
    assert 3 / (free[1, 0.2] * 1000) == pytest.approx(99.6, rel=1e-3)
    assert 3 / (free[16, 2.5] * 1000) == pytest.approx(0.569, rel=1e-3)
    assert free[16, 2.5] == pytest.approx(5.3e-3, abs=5e-5)
    assert free[32, 4] == pytest.approx(5.6e-3, abs=5e-5)
    assert sideways_free(distance=3, scale=8, base=8, reach=far, allowed=3) == math.inf
    assert along_free(distance=3, scale=8, base=8, edge=2048, allowed=3) == math.inf


@given(st.floats(0.2, 20), st.floats(1, 200), st.floats(1, 50), st.floats(0.5, 10))
def test_the_zone_is_where_two_projections_part_by_what_passes(distance, scale, base, allowed):
    """The model is seen from the moved eye, and so is the real thing that it stands for, from an eye moved by the base scale's times."""
    if abs(base / scale - 1) < 1e-3:
        return
    reach = 3000.0

    def apart(across, away):
        picture = [Eye((across * k, away * k, 0.0), 0.0, 0.0, 0.0, reach, 4096.0, 2160.0) for k in (1.0, base)]
        edge = 2048 / reach * distance if away else 0.0
        model, real = np.array([[edge, distance, 0.0]]), np.array([[edge * scale, distance * scale, 0.0]])
        return abs(float(picture[0].pixels(model)[0, 0] - picture[1].pixels(real)[0, 0]))

    side = sideways_free(distance=distance, scale=scale, base=base, reach=reach, allowed=allowed)
    assert apart(side, 0.0) == pytest.approx(allowed, rel=1e-6)
    ahead = along_free(distance=distance, scale=scale, base=base, edge=2048, allowed=allowed)
    assert apart(0.0, ahead) == pytest.approx(allowed, rel=1e-6)
    assert apart(0.0, -ahead) <= allowed * (1 + 1e-9), "back takes longer to tell"


def test_feet_rise_to_the_eye_so_that_every_ground_has_one_horizon():
    real = eye_over_ground(eye=1.62, foot=0.9, scale=12)
    assert real == pytest.approx(8.64)
    feet = {scale: foot_height(eye=1.62, real=real, scale=scale).value for scale in (12, 24, 48, 160)}
    assert feet == pytest.approx({12: 0.90, 24: 1.26, 48: 1.44, 160: 1.566})
    eye = Eye((0.0, 0.0, 1.62), 0.0, 0.0, 0.0, 3000.0, 4096.0, 2160.0)
    for scale, foot in feet.items():  # a point of the ground that looks 100 m away, on whichever plane it is built
        picture = eye.pixels(np.array([[0.0, 100 / scale, foot]]))[0, 1]
        assert picture == pytest.approx(1080 + 3000 * real / 100)
    low = foot_height(eye=1.0, real=8.64, scale=1)
    assert low.value == 0
    assert "7.64 m beneath" in low.notes[0]


def test_air_takes_contrast_as_koschmieder_has_it():
    """At the sight itself the threshold is left, whichever it is; half-way its root; planes at the base scale need no paint."""
    for threshold in (0.02, 0.05):
        assert contrast_wanted(looks=2000, sight=2000, threshold=threshold) == pytest.approx(threshold)
        assert contrast_wanted(looks=1000, sight=2000, threshold=threshold) == pytest.approx(math.sqrt(threshold))
    assert -math.log(contrast_wanted(looks=1, sight=1, threshold=0.02)) == pytest.approx(3.912, abs=5e-4)
    assert -math.log(contrast_wanted(looks=1, sight=1, threshold=0.05)) == pytest.approx(2.996, abs=5e-4)
    same = contrast_by_air(distance=3.4, sight=2000, base=12, threshold=0.02)
    assert same == pytest.approx(contrast_wanted(looks=3.4 * 12, sight=2000, threshold=0.02))
    assert contrast_by_air(distance=6, sight=2000, base=12, threshold=0.02) == pytest.approx(0.869, abs=1e-3)


def test_what_reads_decides_what_a_hand_must_make():
    reach = 0.032 / 0.036 * 4096
    assert finest_on_it(distance=3.4, reach=reach, blur=3.7) == pytest.approx(3.45e-3, rel=1e-2)
    assert finest_on_it(distance=3.4, reach=reach, blur=0.5) == pytest.approx(2 * 3.4 / reach)
    bounds = {"hero": 0.004, "mid": 0.0055, "block": 0.007}
    assert [finish_tier(finest=f, **bounds) for f in (0.001, 0.004, 0.005, 0.006, 0.0072)] == [
        "hero",
        "hero",
        "mid",
        "block",
        "cut-out",
    ]


# ------------------------------------------------------------------------------------------- stands
@given(st.floats(-4, 8), st.floats(0.2, 6), st.booleans())
def test_two_tapes_from_two_nails_find_a_stand(x, y, left):
    here = (x, y if left else -y)
    found = from_nails(4.0, math.hypot(*here), math.dist(here, (4.0, 0.0)), left=left)
    assert found == pytest.approx(here, abs=1e-6)


def test_tapes_that_do_not_meet_are_refused():
    with pytest.raises(UserError, match="do not meet"):
        from_nails(4.0, 1.0, 2.0, left=True)


def test_more_tapes_than_needed_are_adjusted_as_a_kept_library_does():
    true = {"lens": (1.2, 2.0), "lamp": (3.1, 2.6), "table": (2.2, 4.0)}
    fixed = {"A": (0.0, 0.0), "B": (4.0, 0.0), **true}
    pairs = (
        [("A", n) for n in true] + [("B", n) for n in true] + [("lens", "lamp"), ("lamp", "table"), ("table", "lens")]
    )
    noise = np.random.default_rng(3).normal(0, 0.003, len(pairs))
    taped = tuple(Taped(a, b, math.dist(fixed[a], fixed[b]) + e) for (a, b), e in zip(pairs, noise, strict=True))
    first = {name: (x + 0.05, y - 0.04) for name, (x, y) in true.items()}
    found, off = adjusted(4.0, first, taped)

    def residuals(flat):
        at = {"A": (0.0, 0.0), "B": (4.0, 0.0)} | {n: flat[2 * i : 2 * i + 2] for i, n in enumerate(true)}
        return [math.dist(at[t.one], at[t.other]) - t.metres for t in taped]

    kept = least_squares(residuals, np.array(list(first.values())).ravel(), xtol=1e-14, ftol=1e-14, gtol=1e-14)
    assert np.array(list(found.values())).ravel() == pytest.approx(kept.x, abs=1e-7)
    assert off == pytest.approx(math.sqrt(2 * kept.cost / len(taped)), rel=1e-6)


# ------------------------------------------------------------------------------------------- tows
def test_the_worked_tow():
    """10 m/s at 1:8 shot at 100 fps over 4 m, 25 kg, μ 0.05; and the same by the gravity rule."""
    speed = 10 / 8 * 100 / 24
    faster = towing.run_up_acceleration(speed=speed, run_up=4.0)
    assert (speed, faster) == pytest.approx((5.21, 3.39), abs=5e-3)
    assert towing.pull_on_wheels(mass=25, acceleration=faster, friction=0.05) == pytest.approx(97, abs=0.5)
    slow = 10 / math.sqrt(8)
    assert slow == pytest.approx(3.54, abs=5e-3)
    assert towing.pull_on_wheels(mass=25, acceleration=slow**2 / 8, friction=0.05) == pytest.approx(51, abs=0.5)


def test_a_run_up_as_long_as_asked_pulls_as_hard_as_the_weakest_tie_may_be():
    ties = (("tow eye", 200.0, 5.0), ("cable", 900.0, 8.0))
    allowed = towing.weakest(ties=ties)
    assert (allowed.value, allowed.notes) == (40.0, ("the weakest is tow eye",))
    steady = towing.pull_on_wheels(mass=25, acceleration=0, friction=0.05, slope=math.radians(2))
    least = towing.least_run_up(speed=3.0, mass=25, allowed=40.0, steady=steady)
    faster = towing.run_up_acceleration(speed=3.0, run_up=least)
    assert towing.pull_on_wheels(mass=25, acceleration=faster, friction=0.05, slope=math.radians(2)) == pytest.approx(
        40.0
    )
    assert towing.least_run_up(speed=3.0, mass=25, allowed=10.0, steady=steady) == math.inf
    assert towing.track_length(run_up=least, speed=3.0, time=2.0) == pytest.approx(least + 6)
    # afloat, against the work done: pull times way is what moves the mass and the water along, and what drag eats
    afloat = towing.pull_afloat(mass=10, acceleration=0.5, added=0.1, drag_area=0.004, speed=2.0)
    assert afloat == pytest.approx(10 * 1.1 * 0.5 + 0.5 * 998 * 0.004 * 4)


@given(st.floats(0.3, 6.0), st.floats(0.05, 3.0))
def test_a_ramp_leaves_the_swing_that_an_ode_has(wire, periods):
    """The full equation of a pendulum under a trolley that speeds up evenly, solved by a kept library; small angles."""
    period = swinging.swing_period(wire=wire)
    ramp, speed = periods * period, 0.02 * math.sqrt(G * wire)
    push = speed / ramp
    way = solve_ivp(lambda t, y: (y[1], -G / wire * math.sin(y[0]) - push / wire * math.cos(y[0])), (0, ramp), (0.0, 0.0), rtol=1e-9, atol=1e-12)  # fmt: skip
    angle, turning = way.y[0, -1], way.y[1, -1]
    left = math.hypot(angle, turning * math.sqrt(wire / G)) * wire
    assert swinging.swing_left(speed=speed, ramp=ramp, wire=wire).value == pytest.approx(
        left, rel=3e-3, abs=2e-5 * wire
    )


def test_a_wire_of_two_metres():
    period = swinging.swing_period(wire=2.0)
    assert period == pytest.approx(2.84, abs=5e-3)
    assert swinging.period_on_screen(period=period, rate=60, base=24) == pytest.approx(7.1, abs=0.01)
    assert swinging.swing_left(speed=1.0, ramp=period, wire=2.0).value == pytest.approx(0.0, abs=1e-12)
    assert swinging.swing_left(speed=1.0, ramp=0.0, wire=2.0).value == pytest.approx(1.0 / math.sqrt(G / 2))
    assert swinging.swing_left(speed=8.0, ramp=0.1, wire=2.0).notes
    assert swinging.wire_load(mass=3.0, speed=2.0, wire=2.0, wires=2) == pytest.approx(1.5 * (G + 2))


# ------------------------------------------------------------------------------------------- cues
def test_thirty_cues_along_one_metre_eighty():
    gap = cueing.cue_gap(time=0.5, cues=30)
    assert gap == pytest.approx(17.24e-3, abs=5e-6)
    assert cueing.gap_in_frames(gap=gap, rate=120) == pytest.approx(2.07, abs=5e-3)
    assert pytest.approx(3.60) == 1.8 / 0.5
    assert cueing.front_reads_as(length=1.8, time=0.5, scale=8, base=24, rate=120) == pytest.approx(5.76)
    assert cueing.run_time(length=1.8, speed=3.6) == pytest.approx(0.5)
    assert time_on_set(screen=2.5, base=24, rate=120) == pytest.approx(0.5)
    times = cueing.cue_times(cueing.evenly(1.8, 30), 0.5)
    assert np.diff(times) == pytest.approx(gap)
    assert (times[0], times[-1]) == (0.0, 0.5)
    assert cueing.cue_times((0.0, 0.2, 1.0), 2.0) == pytest.approx((0.0, 0.4, 2.0))
    assert cueing.smallest_gap((0.0, 0.4, 2.0)) == pytest.approx(0.4)
    assert (cueing.cue_gap(time=1.0, cues=1), cueing.evenly(1.0, 1), cueing.cue_times((0.3,), 1.0)) == (
        0.0,
        (0.0,),
        (0.0,),
    )


# ------------------------------------------------------------------------------------------- falling
@pytest.mark.parametrize(("grain", "speed"), [(50e-6, 0.105), (100e-6, 0.355), (200e-6, 0.97)])
def test_starch_sinks_as_schiller_and_naumann_have_it(grain, speed):
    found = falling.terminal_speed(grain=grain, density=1500.0).value
    assert found == pytest.approx(speed, rel=2e-2)

    def force(v):  # weight under water of air against drag by its coefficient
        reynolds = 1.204 * v * grain / 1.825e-5
        drag = 24 / reynolds * (1 + 0.15 * reynolds**0.687)
        return math.pi / 6 * grain**3 * (1500 - 1.204) * G - drag * math.pi / 8 * grain**2 * 1.204 * v * v

    assert found == pytest.approx(brentq(force, 1e-6, 50), rel=1e-9)


def test_light_matter_reads_and_loads_the_air():
    slow = falling.terminal_speed(grain=50e-6, density=1500.0).value
    assert falling.sinks_as(speed=slow, scale=48, base=24, rate=96) == pytest.approx(1.26, abs=0.01)
    assert falling.terminal_speed(grain=0.01, density=2000.0).notes
    assert falling.terminal_speed(grain=0.01, density=1.0).value == 0
    assert falling.thrown_in_the_air(mass=2.0, cloud=40.0) == falling.EXPLOSIVE_KG_M3
    feed = falling.feed_rate(coverage=0.02, area=4.0, time=10.0)
    assert feed * 60 * 1000 == pytest.approx(480), "grams a minute"
    # a column of air over the ground holds what rains into it until it is down: height over speed
    assert falling.in_the_air(feed=feed, area=4.0, speed=slow) * 4.0 * 3.0 == pytest.approx(feed * 3.0 / slow)


def test_falls_and_waves_keep_to_their_laws_under_the_gravity_rule():
    """At √S frames everything that gravity drives reads as itself: the fall by time, the wave by speed."""
    for scale in (4.0, 12.0, 24.0):
        rate = 24 * math.sqrt(scale)
        time = falling.fall_time(height=14.0 / scale)
        assert swinging.period_on_screen(period=time, rate=rate, base=24) == pytest.approx(math.sqrt(2 * 14 / G))
        assert falling.fall_speed(height=14.0 / scale) == pytest.approx(G * time)
        period = falling.wave_period(length=40 / scale).value
        reads = falling.wave_reads_as(length=40 / scale, period=period, scale=scale, base=24, rate=rate)
        assert reads == pytest.approx(math.sqrt(G * 40 / (2 * math.pi)))
    assert falling.wave_period(length=0.03).notes


# ------------------------------------------------------------------------------------------- easing
def test_a_quarter_turn_in_240_exposures_has_239_steps():
    found = easing.positions(90.0, 240, 0.0)
    assert len(found) == 240
    assert np.diff(found) == pytest.approx(90 / 239)
    assert easing.even_step(way=90.0, frames=240) == pytest.approx(0.3766, abs=5e-5)


@given(st.floats(-5, 5), st.integers(1, 400), st.floats(0, 0.5), st.sampled_from((0.0, 0.001, 0.25)))
def test_eased_steps_add_up_and_no_step_is_faster_than_said(way, frames, ease, grain):
    found = easing.positions(way, frames, ease, grain)
    assert len(found) == frames
    if frames == 1:
        return
    assert sum(np.diff(found)) == pytest.approx(round(way / grain) * grain if grain else way, abs=1e-12)
    if not grain:
        assert found[-1] == way
        fastest = max(abs(np.diff(found))) * (frames - 1)
        assert fastest <= easing.greatest_speed(way=way, time=1.0, ease=ease) + 1e-9
        assert found == pytest.approx([way - x for x in reversed(found)], abs=1e-9), "it stops as it starts"


# ------------------------------------------------------------------------------------------- air
def test_dry_ice_fills_a_room_as_a_mass_balance_has_it():
    """dC/dt = (G + Q (outdoors − C)) / V from outdoor air, solved by a kept library; a kilogram is 0.547 m³ of gas."""
    volume, changes, ice = 400.0, 2.0 / 3600, 10.0 / 3600
    gas, vent = ice * 24.055e-3 / 44.01e-3, volume * changes
    solved = solve_ivp(
        lambda _, c: [(gas + vent * (420e-6 - c[0])) / volume], (0, 3600), [420e-6], rtol=1e-10, atol=1e-12
    )
    found = carbon_dioxide(ice=ice, time=3600.0, volume=volume, changes=changes).value
    assert found == pytest.approx(solved.y[0, -1], rel=2e-3)
    closed = carbon_dioxide(ice=ice, time=3600.0, volume=volume, changes=0.0).value
    assert closed == pytest.approx(420e-6 + 10 * 0.547 / volume)
    for air in (0.0, changes):
        until = time_to_limit(ice=ice * 8, volume=volume, changes=air, limit=0.03)
        assert carbon_dioxide(ice=ice * 8, time=until, volume=volume, changes=air).value == pytest.approx(0.03)
    assert time_to_limit(ice=ice, volume=volume, changes=20 / 3600, limit=0.03) == math.inf


@pytest.mark.parametrize(("arc", "far"), [(30.0, (0.75, 1.5 * (1 - math.cos(math.pi / 6)))), (180.0, (1.5, 3.0)), (360.0, (1.5, 3.0)), (-180.0, (1.5, 3.0))])  # fmt: skip
def test_an_arc_that_comes_back_has_been_as_far_as_its_circle_goes(arc, far):
    """A circle about a point 1.5 m before the eye is as wide as it and twice as long: geometry."""
    assert extent_of(CameraMove("round", arc_deg=arc, about_m=1.5)) == pytest.approx(far, abs=1e-3)
    across, along, up, turn = gone(CameraMove("round", arc_deg=arc, about_m=1.5, pan_deg=7.0), 1.0)
    assert math.hypot(across, along - 1.5) == pytest.approx(1.5)
    assert (up, turn) == (0.0, 7.0 - arc)
