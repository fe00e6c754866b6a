"""Depth of field and diffraction against the exact thin lens.

Sources: thin-lens equation 1/f = 1/s + 1/s' traced here from scratch; Airy disc 2.44 λ N (Born and Wolf, Principles
of Optics, 8.5). The worked values were computed, not copied.
"""

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.camera import blur, lens
from homunculus.core.camera.blur import Glass


def blur_on_sensor(focal, stop, focused_at, point_at):
    """Blur disc of a point, traced through a thin lens of aperture f/N onto the sensor."""
    sensor = 1 / (1 / focal - 1 / focused_at)
    image = 1 / (1 / focal - 1 / point_at)
    return focal / stop * abs(image - sensor) / image


def depth_of_field(focal, stop, confusion, distance):
    """The handbook's near and far limit, exact thin lens and no diffraction; far is infinite past the hyperfocal distance."""
    spread = stop * confusion * (distance - focal)
    over = focal**2 - spread
    return distance * focal**2 / (focal**2 + spread), (distance * focal**2 / over if over > 0 else math.inf)


WORKED = [(0.050, 8, 3.0, 30e-6, 2.3379, 4.1853), (0.025, 16, 0.6, 25e-6, 0.4386, 0.9494),
          (0.018, 11, 0.127, 20e-6, 0.1182, 0.1372)]  # fmt: skip


@pytest.mark.parametrize(("focal", "stop", "distance", "confusion", "near", "far"), WORKED)
def test_without_diffraction_the_sharp_air_is_the_handbook_s_depth(
    monkeypatch, focal, stop, distance, confusion, near, far
):
    monkeypatch.setattr(blur, "WAVELENGTH_M", 0.0)
    found = blur.sharp_air(Glass(focal), stop=stop, focus=distance, allowed=confusion)
    assert found == pytest.approx((near, far), abs=6e-5)
    assert found == pytest.approx(depth_of_field(focal, stop, confusion, distance), rel=1e-9)


def test_in_focus_at_the_hyperfocal_distance_all_from_half_of_it_is_sharp(monkeypatch):
    monkeypatch.setattr(blur, "WAVELENGTH_M", 0.0)
    at = 0.050**2 / (8 * 30e-6) + 0.050
    assert at == pytest.approx(10.467, abs=5e-4)
    near, far = blur.sharp_air(Glass(0.050), stop=8, focus=at, allowed=30e-6)
    assert far > 1e6
    assert near == pytest.approx(at / 2, rel=1e-6)


@given(st.floats(0.012, 0.1), st.floats(2, 22), st.floats(0.3, 8), st.floats(0.3, 8))
def test_a_point_s_disc_is_that_of_rays_through_a_thin_lens(focal, stop, distance, point):
    found = blur.aperture_disc(Glass(focal), focus=distance, distance=point) / stop
    assert found == pytest.approx(blur_on_sensor(focal, stop, distance, point), rel=1e-6, abs=1e-12)


def to_take(focal, near, far, *, widest=2.8, smallest=22.0, confusion=25e-6):
    focus = lens.focus_distance(near=near, far=far)
    return blur.stop_to_take(
        focal=focal, near=near, far=far, focus=focus, confusion=confusion, widest=widest, smallest=smallest
    )


def test_half_a_metre_to_one_and_a_half_is_held_by_the_depth_formula_and_by_no_stop():
    assert lens.stop_asked(focal=0.025, near=0.5, far=1.5, confusion=25e-6) == pytest.approx(17.24, abs=0.01)
    assert lens.focus_distance(near=0.5, far=1.5) == pytest.approx(0.75)
    found = to_take(0.025, 0.5, 1.5)
    assert found.value == pytest.approx(17.6, abs=0.05)
    spread = blur.blur(Glass(0.025), stop=found.value, focus=0.75, distance=0.5)
    assert spread == pytest.approx(34.6e-6, abs=0.1e-6)
    assert "asks f/17.2" in found.notes[0]


@given(st.floats(0.012, 0.06), st.floats(0.3, 3), st.floats(1.1, 4), st.floats(8e-6, 40e-6))
def test_the_stop_that_holds_is_the_inverse_of_the_depth(focal, near, ratio, confusion):
    far = near * ratio
    stop = lens.stop_asked(focal=focal, near=near, far=far, confusion=confusion)
    at = lens.focus_distance(near=near, far=far)
    assert depth_of_field(focal, stop, confusion, at) == pytest.approx((near, far), rel=1e-6)


@given(st.floats(0.012, 0.06), st.floats(0.3, 3), st.floats(8e-6, 40e-6))
def test_infinity_is_the_limit_of_a_far_end_that_recedes(focal, near, confusion):
    endless = lens.stop_asked(focal=focal, near=near, far=math.inf, confusion=confusion)
    assert lens.stop_asked(focal=focal, near=near, far=1e9, confusion=confusion) == pytest.approx(endless, rel=1e-6)
    at = lens.focus_distance(near=near, far=math.inf)
    assert at == pytest.approx(2 * near, rel=1e-12)
    assert depth_of_field(focal, endless, confusion, at)[0] == pytest.approx(near, rel=1e-6)


@pytest.mark.parametrize(
    ("near", "far", "stop", "said"),
    [(1.0, 1.0, 2.8, "one plane"), (1.0, 1.01, 2.8, "opens to f/2.8"), (0.16, 0.9, 22.0, "asks f/44"),
     (0.5, 1.5, 17.6, "no stop holds it"), (0.7, 1.2, 8.75, "asks f/7.66")],
)  # fmt: skip
def test_a_stop_is_one_that_the_lens_has(near, far, stop, said):
    found = to_take(0.020 if near == 0.16 else 0.025, near, far)
    assert found.value == pytest.approx(stop, abs=0.05)
    assert said in " ".join(found.notes)


@given(st.floats(0.012, 0.06), st.floats(0.3, 3), st.floats(1.01, 4), st.floats(8e-6, 60e-6))
def test_at_the_stop_that_is_told_both_ends_just_pass_or_nothing_does_better(focal, near, ratio, confusion):
    far, glass = near * ratio, Glass(focal)
    stop = float(to_take(focal, near, far, widest=0.5, smallest=128.0, confusion=confusion).value)
    focus = lens.focus_distance(near=near, far=far)

    def worst(at):
        return max(blur.blur(glass, stop=at, focus=focus, distance=end) for end in (near, far))

    if worst(stop) <= confusion * (1 + 1e-9):
        assert stop == 0.5 or worst(stop) == pytest.approx(confusion)
        assert stop == 0.5 or worst(stop * 0.99) > confusion
    else:
        assert worst(stop) <= min(worst(stop * 0.98), worst(stop * 1.02)) or stop == 128.0


@pytest.mark.parametrize(("magnification", "microns"), [(0.0, 21.5), (0.2, 25.8)])
def test_airy_disc_at_f16(magnification, microns):
    focal = 0.05
    distance = focal / magnification + focal if magnification else 1e9
    airy = 16 * blur.airy_disc(Glass(focal), focus=distance)
    assert airy * 1e6 == pytest.approx(microns, abs=0.06)


def test_within_the_focal_length_nothing_is_held():
    assert math.isinf(lens.stop_asked(focal=0.05, near=0.04, far=0.5, confusion=25e-6))
    with pytest.raises(ValueError, match="focal length"):
        lens.image_distance(focal=0.05, distance=0.05)
