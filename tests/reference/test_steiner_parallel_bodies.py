"""Layers on solids against Steiner's formula and against sampling.

Source: Steiner's formula for parallel bodies (convex geometry; e.g. Schneider, Convex Bodies, ch. 4):
V(t) = V + A t + M t² + 4π/3 t³; box: M = π (a + b + c). The sphere r 100 mm, t 10 mm: 1.3865 L out, 1.1352 L in.
Spheroids: area by the symmetric elliptic integral (DLMF 19.33.1), M = 2π (polar half axis + a mean of arcs), both closed forms;
inside, up to the least radius of curvature, the same formula holds with the signs turned.
"""

import math

import numpy as np
import pytest
from scipy.special import elliprg

from homunculus.core.form.measure import measure
from homunculus.core.job.forms import Box, Cylinder, Sphere, WeighedClay


def test_sphere_of_100_mm_with_10_mm():
    shell = measure(Sphere(0.2), {}).shell
    assert shell.outward(0.01) * 1e3 == pytest.approx(1.3865, abs=5e-5)
    assert shell.inward(0.01) * 1e3 == pytest.approx(1.1352, abs=5e-5)


def test_area_times_thickness_is_as_wrong_as_they_say():
    shell = measure(Sphere(0.2), {}).shell
    assert 0.05 < 1 - shell.area * 0.01 / shell.outward(0.01) < 0.15


def sampled_shell(distance, low, high, t, n=2_000_000):
    """Volume of 0 < distance < t by a scrambled grid of points."""
    random = np.random.default_rng(5)
    points = random.uniform(low, high, (n, 3))
    d = distance(points)
    return float(((d > 0) & (d < t)).mean() * np.prod(np.array(high) - np.array(low)))


def test_box_by_sampling():
    a, b, c, t = 0.3, 0.2, 0.1, 0.03
    half = np.array([a, b, c]) / 2

    def distance(p):
        q = np.abs(p) - half
        return np.linalg.norm(np.maximum(q, 0), axis=1) + np.minimum(q.max(axis=1), 0)

    reach = half + t
    assert measure(Box(a, b, c), {}).shell.outward(t) == pytest.approx(
        sampled_shell(distance, -reach, reach, t), rel=5e-3
    )


def test_cylinder_by_sampling():
    r, h, t = 0.1, 0.3, 0.02

    def distance(p):
        q = np.stack((np.hypot(p[:, 0], p[:, 1]) - r, np.abs(p[:, 2]) - h / 2), axis=1)
        return np.linalg.norm(np.maximum(q, 0), axis=1) + np.minimum(q.max(axis=1), 0)

    reach = np.array([r + t, r + t, h / 2 + t])
    made = measure(Cylinder(2 * r, h), {}).shell.outward(t)
    assert made == pytest.approx(sampled_shell(distance, -reach, reach, t), rel=5e-3)


def test_frustum_by_turning_its_offset_profile():
    r1, r2, h, t = 0.12, 0.06, 0.2, 0.015
    # Pappus on the offset polygon with rounded corners, integrated numerically along the axis
    z = np.linspace(-t, h + t, 400_001)
    slant = math.hypot(h, r1 - r2)
    nz, nr = (r1 - r2) / slant, h / slant
    radius = np.zeros_like(z)
    side = r1 + (r2 - r1) * (z - t * nz) / h + t * nr
    on_side = (z - t * nz >= 0) & (z - t * nz <= h)
    radius[on_side] = side[on_side]
    for r0, z0 in ((r1, 0.0), (r2, h)):
        near = np.abs(z - z0) <= t
        radius[near] = np.maximum(radius[near], r0 + np.sqrt(t**2 - (z[near] - z0) ** 2))
    whole = np.trapezoid(np.pi * radius**2, z)
    made = measure(Cylinder(2 * r1, h, 2 * r2), {})
    assert made.volume + made.shell.outward(t) == pytest.approx(whole, rel=2e-4)


@pytest.mark.parametrize(("round_m", "polar_m"), [(0.10, 0.08), (0.08, 0.10), (0.10, 0.05), (0.05, 0.10)])
@pytest.mark.parametrize("share", [0.02, 0.3, 0.9])
def test_an_ovoid_of_clay_inside_and_out(round_m, polar_m, share):
    a, c = round_m, polar_m
    area = 4 * math.pi * elliprg(a**4, a * a * c * c, a * a * c * c)
    off = math.sqrt(abs(a * a - c * c))
    mean = 2 * math.pi * (c + a * a / off * (math.acos(c / a) if c < a else math.acosh(c / a)))
    volume = 4 / 3 * math.pi * a * a * c
    t = share * min(c * c / a, a * a / c, a)
    clay = measure(WeighedClay(volume * 1700, 1700.0, 2 * a, 2 * a, 2 * c), {})
    assert clay.shell.area == pytest.approx(area, rel=1e-3)
    assert clay.shell.outward(t) == pytest.approx(area * t + mean * t**2 + 4 / 3 * math.pi * t**3, rel=2e-3)
    assert clay.shell.inward(t) == pytest.approx(area * t - mean * t**2 + 4 / 3 * math.pi * t**3, rel=4e-3)
    assert clay.shell.inward(min(a, c) * 1.01) == pytest.approx(volume, rel=1e-6)
