"""Blur against rays traced through a thick lens of two, whatever its pupils.

Sources: paraxial ray transfer (any optics text, such as Hecht, Optics, chapter 6); Airy, 1835.
The lens is traced here, surface by surface, and knows none of the formulas that are tested.
"""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st

from homunculus.core.camera import blur, lens, light
from homunculus.core.camera.blur import Glass


class Traced:
    """Two thin lenses of powers ``one`` and ``two`` [1/m], ``gap`` apart, with a stop ``at`` behind the first [m]."""

    def __init__(self, one, two, gap, at):
        self.one, self.two, self.gap, self.at = one, two, gap, at
        (_, _), (power, rest) = self._matrix()
        self.focal = -1 / power
        self.front = (rest - 1) / power  # of the front principal plane, behind the first lens
        self.stop_shown = 1 / (1 - at * one)  # size of the entrance pupil over that of the stop
        self.entrance = at * self.stop_shown  # behind the first lens
        behind = gap - at
        self.pupil = (1 / (1 - behind * two)) / self.stop_shown
        self.exit = -behind / (1 - behind * two)  # behind the second lens

    def _matrix(self):
        go = lambda d: np.array([[1, d], [0, 1]])  # noqa: E731
        bend = lambda p: np.array([[1, 0], [-p, 1]])  # noqa: E731
        return bend(self.two) @ go(self.gap) @ bend(self.one)

    def sensor(self, s):
        """Where [m behind the second lens] a point ``s`` before the front principal plane is imaged: a ray from the axis crosses it again."""
        height, angle = self._matrix() @ np.array([(s - self.front), 1.0])
        return -height / angle

    def disc(self, x, s, stop):
        """Diameter [m] on the sensor of a point ``x`` before the front principal plane: rays by both edges of the pupil."""
        first = x - self.front
        angle = self.focal / stop / 2 / (first + self.entrance)
        height, out = self._matrix() @ np.array([angle * first, angle])
        return 2 * abs(height + out * self.sensor(s))

    def image_height(self, y, x, s):
        """How high [m] on the sensor a point ``y`` off the axis and ``x`` before the front principal plane comes out: the ray by the middle of the stop."""
        first = x - self.front
        angle = -y / (first + self.entrance)
        height, out = self._matrix() @ np.array([y + angle * first, angle])
        return abs(height + out * self.sensor(s))

    def cone(self, s, stop):
        """The f-number of the cone of light that falls on the sensor in focus at ``s``."""
        wide = self.pupil * self.focal / stop
        return (self.sensor(s) - self.exit) / wide


lenses = st.builds(Traced, st.floats(8, 40), st.floats(-12, 30), st.floats(0.002, 0.04), st.floats(0.0, 1.0)).map(
    lambda t: Traced(t.one, t.two, t.gap, t.at * t.gap)
)  # the stop stands within


@given(lenses, st.floats(0.15, 40), st.floats(0.15, 40), st.floats(1.4, 22))
def test_blur_and_the_cone_of_light_are_those_of_traced_rays_whatever_the_pupils(traced, x, s, stop):
    assume(0.004 < traced.focal < 0.12 and 0.3 < traced.pupil < 3.5)
    glass = Glass(traced.focal, traced.pupil)
    assert traced.front - traced.entrance == pytest.approx(-glass.entrance_m, abs=1e-12), "where the pupil stands"
    found = blur.aperture_disc(glass, focus=s, distance=x) / stop
    assert found == pytest.approx(traced.disc(x, s, stop), rel=1e-6, abs=1e-12)
    airy = blur.airy_disc(glass, focus=s) * stop
    assert airy == pytest.approx(2.44 * 550e-9 * traced.cone(s, stop), rel=1e-9)


@given(lenses, st.floats(0.2, 40), st.floats(0.2, 40), st.floats(1.0, 8.0), st.floats(1.4, 22))
def test_what_the_program_reckons_from_the_eye_is_what_the_traced_lens_does(traced, x, s, ratio, stop):
    assume(0.004 < traced.focal < 0.12 and 0.3 < traced.pupil < 3.5)
    focal, pupil, eye = traced.focal, traced.pupil, traced.entrance - traced.front
    assume(min(x, s) > traced.focal + abs(eye) + 0.02)
    image = lens.image_distance(focal=focal, distance=s + eye, pupil=pupil)
    assert traced.image_height(0.1, x, s) == pytest.approx(0.1 * image / (x + eye), rel=1e-6), "how large it comes out"
    wide = lens.field_width(sensor_width=0.036, distance=x + eye, image=image)
    assert traced.image_height(float(wide), x, s) == pytest.approx(0.036, rel=1e-6)
    ends = {"near": x + eye, "far": x * ratio + eye}
    focus = lens.focus_distance(**ends, focal=focal, pupil=pupil)
    discs = [traced.disc(at - eye, focus - eye, stop) for at in ends.values()]
    assert discs[0] == pytest.approx(discs[1], rel=1e-5, abs=1e-11), "both ends are equally unsharp"
    spread = blur.worst_blur(
        focal=focal, pupil=pupil, **ends, focus=focus, stop=stop, sensor_width=0.036, delivery=4096
    )
    airy = 2.44 * 550e-9 * traced.cone(focus - eye, stop)
    assert spread == pytest.approx(math.hypot(discs[0], airy) * 4096 / 0.036, rel=1e-5)
    assert light.effective_stop(stop=stop, focal=focal, distance=s + eye, pupil=pupil) == pytest.approx(
        traced.cone(s, stop), rel=1e-9
    )


def test_a_set_that_holds_one_plane_obeys_the_thin_lens():
    """1/f = 1/s + 1/b, and the width of the field by similar triangles: 50 mm at 3 m on 36 mm sees 2.124 m, 20 mm at 160 mm 252 mm."""
    for focal, at, wide in ((0.050, 3.0, 2.124), (0.020, 0.160, 0.252)):
        image = float(lens.image_distance(focal=focal, distance=at))
        assert 1 / at + 1 / image == pytest.approx(1 / focal)
        assert lens.field_width(sensor_width=0.036, distance=at, image=image) == pytest.approx(wide, abs=1e-3)
        assert lens.finest_seen(sensor_width=0.036, delivery=4096, distance=at, image=image) == pytest.approx(
            2 * wide / 4096, rel=1e-3
        )
    assert lens.on_the_barrel(focal=0.05, focus=3.0) == pytest.approx(3.0 + 0.05 * 3.0 / 2.95)


@given(st.floats(0.008, 0.2), st.floats(1.2, 40), st.floats(1.1, 30), st.floats(0.4, 3))
def test_infinity_is_a_limit_and_no_case(focal, stop, near, pupil):
    glass = Glass(focal, pupil)
    for at in ({"focus": near, "distance": math.inf}, {"focus": math.inf, "distance": near}):
        close = {name: min(value, 1e9) for name, value in at.items()}
        assert blur.blur(glass, stop=stop, **at) == pytest.approx(blur.blur(glass, stop=stop, **close), rel=1e-6)
    assert blur.middle_focus(near=near, far=math.inf, entrance=glass.entrance_m) == pytest.approx(
        blur.middle_focus(near=near, far=1e9, entrance=glass.entrance_m), rel=1e-6
    )


@given(st.floats(0.012, 0.1), st.floats(0.5, 4), st.floats(0.3, 5), st.floats(1.05, 30), st.floats(2e-6, 80e-6))
def test_the_ends_are_equally_unsharp_and_the_sharp_air_ends_where_the_blur_is_what_is_allowed(
    focal, pupil, near, ratio, allowed
):
    glass = Glass(focal, pupil)
    focus = blur.middle_focus(near=near, far=near * ratio, entrance=glass.entrance_m)
    discs = [blur.aperture_disc(glass, focus=focus, distance=x) for x in (near, near * ratio)]
    assert discs[0] == pytest.approx(discs[1], rel=1e-6)
    best = blur.best_stop(glass, focus=focus, disc=discs[0], widest=1e-3, narrowest=1e4)
    least = blur.blur(glass, stop=best, focus=focus, distance=near)
    assert all(least <= blur.blur(glass, stop=best * k, focus=focus, distance=near) for k in (0.5, 0.95, 1.05, 2))
    stop = blur.widest_sharp_stop(glass, focus=focus, disc=discs[0], allowed=allowed)
    assert math.isinf(stop) == (least > allowed) or least == pytest.approx(allowed, rel=1e-6)
    if math.isfinite(stop):
        assert stop <= best * 1.000001
        assert blur.sharp_air(glass, stop=stop, focus=focus, allowed=allowed) == pytest.approx(
            (near, near * ratio), rel=1e-3
        )


@pytest.mark.parametrize(
    ("focal", "near", "far", "focus", "stop", "microns"),
    [(0.025, 0.5, 1.5, 0.75, 17.6, 34.6), (0.020, 0.16, 0.9, None, 28, 57)],  # worked by hand, beside the formulas
)
def test_worked_stops_of_least_blur(focal, near, far, focus, stop, microns):
    glass = Glass(focal)
    at = blur.middle_focus(near=near, far=far)
    assert focus is None or at == pytest.approx(focus)
    disc = blur.aperture_disc(glass, focus=at, distance=near)
    best = blur.best_stop(glass, focus=at, disc=disc, widest=1.4, narrowest=64)
    assert best == pytest.approx(stop, rel=0.02)
    assert blur.blur(glass, stop=best, focus=at, distance=far) * 1e6 == pytest.approx(microns, rel=0.01)


def test_spreads_of_points_add_in_squares_as_rolled_dice_do():
    glass, random = Glass(0.05, 1.3), np.random.default_rng(7)
    disc = blur.aperture_disc(glass, focus=2.0, distance=1.6) / 11
    airy = blur.airy_disc(glass, focus=2.0) * 11

    def spread(wide):
        """Points spread evenly over a disc so ``wide``."""
        away, turn = wide / 2 * np.sqrt(random.random(400_000)), random.random(400_000) * 2 * np.pi
        return np.array([away * np.cos(turn), away * np.sin(turn)])

    both = spread(disc) + spread(airy)
    assert math.sqrt(8 * np.mean((both**2).sum(axis=0))) == pytest.approx(
        blur.blur(glass, stop=11, focus=2.0, distance=1.6), rel=0.005
    )


def test_what_no_lens_can_do_is_refused():
    with pytest.raises(ValueError, match="within its focal length"):
        blur.blur(Glass(0.05), stop=8, focus=0.04, distance=1)
    with pytest.raises(ValueError, match="behind the entrance pupil"):
        blur.aperture_disc(Glass(0.05, 2.0), focus=1, distance=0.02)
    assert blur.sharp_air(Glass(0.05), stop=64, focus=1, allowed=20e-6) is None, "diffraction alone is more"


@given(st.floats(0.01, 0.2), st.floats(4.01, 60), st.floats(0.5, 3))
def test_at_its_nearest_focus_the_barrel_says_what_the_card_says(focal, times, pupil):
    nearest = focal * times
    eye = lens.nearest_from_eye(nearest=nearest, focal=focal, pupil=pupil).value
    assert lens.on_the_barrel(focal=focal, focus=eye, pupil=pupil) == pytest.approx(nearest)


def test_a_barrel_that_begins_nearer_than_four_focal_lengths_is_told():
    found = lens.nearest_from_eye(nearest=0.15, focal=0.05)
    assert found.value == pytest.approx(0.1)
    assert "simple lens" in found.notes[0]


STORED = {"focal": 40.73283375642016, "principal": 26.729481059105833, "entrance": 11.357450689109246, "entrance_radius": 5.091604232465237,
          "exit": -12.772158557299848, "exit_radius": 8.177795694970651}  # fmt: skip
"""First-order data [mm] of two thick singlets with a stop between (radii −200, 40, stop, 60, −30; gaps 2, 12, 6, 6; indices of 1.5168 and 1.6204
glass at 550 nm), as the general optics package ray-optics 0.9.8 has them; places are from the first vertex, of the exit pupil from the last (its own figure is
shifted by how far the image lies from the gap of 40 mm that was entered)."""
AT = {600.0: (55.48156031994993, 0.06951035290715635, 4.173112270663834), 900.0: (54.52285906822273, 0.04597402696773911, 4.114496152419424),
      1500.0: (53.766739301335264, 0.027411120900142416, 4.068266103608114)}  # fmt: skip
"""By the distance of the thing from the first vertex [mm]: image behind the last vertex [mm], magnification, f-number of the cone of light; all at f/4."""


def test_pupils_magnification_cone_and_blur_are_those_of_a_general_optics_package():
    mm = 1e-3
    glass = Glass(STORED["focal"] * mm, STORED["exit_radius"] / STORED["entrance_radius"])
    assert glass.pupil == pytest.approx(1.606, abs=1e-3)
    assert glass.entrance_m == pytest.approx((STORED["entrance"] - STORED["principal"]) * mm, rel=1e-6)
    stop = STORED["focal"] / (2 * STORED["entrance_radius"])
    assert stop == pytest.approx(4.0, abs=1e-6)
    for away, (_, size, cone) in AT.items():
        eye = (away + STORED["entrance"]) * mm
        assert blur.magnification(glass, focus=(away + STORED["principal"]) * mm) == pytest.approx(size, rel=1e-6)
        assert light.effective_stop(stop=stop, focal=glass.focal_m, distance=eye, pupil=glass.pupil) == pytest.approx(
            cone, rel=1e-5
        )
        image = lens.image_distance(focal=glass.focal_m, distance=eye, pupil=glass.pupil)
        assert image / eye == pytest.approx(size, rel=1e-6), "the pinhole in the eye draws as large as the lens does"
    for focus, point in ((600.0, 900.0), (900.0, 600.0), (600.0, 1500.0)):
        theirs = 2 * STORED["exit_radius"] * abs(AT[point][0] - AT[focus][0]) / (AT[point][0] - STORED["exit"])
        ours = (
            blur.aperture_disc(
                glass, focus=(focus + STORED["principal"]) * mm, distance=(point + STORED["principal"]) * mm
            )
            / stop
        )
        assert ours == pytest.approx(theirs * mm, rel=1e-5)
