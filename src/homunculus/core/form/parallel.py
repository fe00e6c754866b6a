"""Inner parallel bodies in closed form or by one quadrature: what is left of a form when a layer is taken off inside.

Sources: geometry. Of an ellipse and an ellipsoid the layer along each normal ends on the medial axis, which lies in the
plane of the larger axes; of a stack of sections the profile is eroded by a ball (mathematical morphology), exact for
round sections and for ovals without slope.
"""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

from homunculus.core.job.forms import Section

_AROUND = 24
_ALONG = 40


def ellipse_perimeter(a: float, b: float) -> float:
    """Length [m] around an ellipse with half axes ``a`` and ``b`` [m], by the arithmetic-geometric mean (Gauss)."""
    a, b = max(a, b), min(a, b)
    if a <= 0:
        return 0.0
    if b <= 0:
        return 4 * a
    x, y, power, total = a, b, 0.5, (a * a - b * b) / 2
    while abs(x - y) > 1e-15 * x:
        power *= 2
        total += power * ((x - y) / 2) ** 2
        x, y = (x + y) / 2, math.sqrt(x * y)
    return 2 * math.pi / x * (a * a - total)


@lru_cache(maxsize=4096)
def _ellipse_rays(ratio: float) -> tuple[tuple[tuple[float, float, float], ...], float]:
    """Of an ellipse with half axes 1 and ``ratio``: (share of the perimeter, curvature, distance to the medial axis); and what
    this quadrature makes of the whole area."""
    found = []
    for i in range(_AROUND):
        turn = (i + 0.5) / _AROUND * math.pi / 2
        c, s = math.cos(turn), math.sin(turn)
        speed = math.hypot(s, ratio * c)  # of the parametrisation
        found.append((speed * 2 * math.pi / _AROUND, ratio / speed**3, ratio * speed))
    return tuple(found), sum(length * (m - k * m * m / 2) for length, k, m in found)


def ellipse_layer(a: float, b: float, t: float) -> float:
    """Area [m²] of the layer of thickness ``t`` [m] inside an ellipse with half axes ``a`` and ``b`` [m]."""
    a, b = max(a, b), min(a, b)
    if b <= 0 or t <= 0:
        return 0.0
    if t >= b:
        return math.pi * a * b
    if a - b < 1e-9 * a:
        return math.pi * t * (2 * a - t)
    ratio, thin = b / a, t / a
    rays, whole = _ellipse_rays(round(ratio, 2))
    part = sum(length * (m - k * m * m / 2) for length, k, deep in rays for m in (min(thin, deep),))
    return min(1.0, part / whole) * math.pi * a * b


def ellipsoid_layers(a: float, b: float, c: float, depths: tuple[float, ...]) -> tuple[float, ...]:
    """Volumes [m³] of the layers of all rising ``depths`` [m] inside an ellipsoid with half axes ``a``, ``b``, ``c`` [m].

    Along each inward normal the layer ends on the plane of the two larger axes, where the medial surface lies.
    """
    large, middle, small = sorted((a, b, c), reverse=True)
    steps, scale = 24, (large * middle * small) ** 2
    rays: list[tuple[float, float, float, float]] = []  # depth, weight, weighted mean and Gauss curvature
    for i in range(steps):
        up = (i + 0.5) / steps
        around = math.sqrt(1 - up * up)
        for j in range(2 * steps):
            turn = (j + 0.5) / steps * math.pi / 4
            x, y = around * math.cos(turn), around * math.sin(turn)
            # a point of the unit sphere, its image on the ellipsoid, and Gauss and mean curvature there; a patch of the
            # sphere becomes one that is norm times as large but for a constant, which falls out below
            px, py, pz = large * x, middle * y, small * up
            norm = math.sqrt((x / large) ** 2 + (y / middle) ** 2 + (up / small) ** 2)
            mean = (large**2 + middle**2 + small**2 - px * px - py * py - pz * pz) / (2 * scale * norm**3)
            rays.append((small * small * norm, norm, norm * mean, 1 / (scale * norm**3)))
    rays.sort()
    weight, mean, gauss = (sum(ray[k] for ray in rays) for k in (1, 2, 3))
    found, ended, done = [], 0.0, 0  # rays end in order of depth: what has ended stands, the rest is one polynomial
    for depth in (*depths, math.inf):
        while done < len(rays) and rays[done][0] <= depth:
            deep, w, m, g = rays[done]
            ended += w * deep - m * deep**2 + g * deep**3 / 3
            weight, mean, gauss, done = weight - w, mean - m, gauss - g, done + 1
        rest = weight * depth - mean * depth**2 + gauss * depth**3 / 3 if done < len(rays) else 0.0
        found.append(ended + rest)
    volume = 4 / 3 * math.pi * a * b * c
    return tuple(min(1.0, total / found[-1]) * volume for total in found[:-1])


def frustum_core(r1: float, r2: float, height: float, t: float) -> float:
    """Volume [m³] that lies deeper than ``t`` [m] in a cone cut off flat: radii ``r1`` and ``r2``, ``height`` [m].

    The cone's wall and both ends move inward by t; past the thin end's radius what is left is a whole cone.
    """
    long = height - 2 * t
    if long <= 0:
        return 0.0
    shift = t * math.hypot(height, r1 - r2) / height
    a = r1 + (r2 - r1) * t / height - shift
    b = r2 + (r1 - r2) * t / height - shift
    a, b = max(a, b), min(a, b)
    if a <= 0:
        return 0.0
    if b < 0:
        return math.pi * a * a * long * a / (a - b) / 3
    return math.pi * long / 3 * (a * a + a * b + b * b)


def frustum_depth(r1: float, r2: float, height: float) -> float:
    """Greatest depth [m] inside a cone cut off flat: radii ``r1`` and ``r2``, ``height`` [m]; where its core vanishes."""
    low, high = 0.0, height / 2
    for _ in range(60):
        middle = (low + high) / 2
        low, high = (middle, high) if frustum_core(r1, r2, height, middle) > 0 else (low, middle)
    return high


Profile = tuple[tuple[float, float, float, float], ...]
"""Straight stretches of a profile: height and radius where each begins, height where it ends, slope."""


def _profile(points: list[tuple[float, float]]) -> Profile:
    return tuple((z0, r0, z1, (r1 - r0) / (z1 - z0)) for (z0, r0), (z1, r1) in pairwise(points))


def _eroded(profile: Profile, here: int, z: float, t: float) -> float:
    """Least of r(z + u) − √(t² − u²): how far in a profile stands at ``z`` when a ball of radius t is rolled inside it."""
    least = math.inf
    for step in (1, -1):
        i = here if step > 0 else here - 1
        while 0 <= i < len(profile):
            z0, r0, z1, slope = profile[i]
            low, high = max(z0, z - t), min(z1, z + t)
            if low > high:
                break
            touch = z - slope * t / math.sqrt(1 + slope * slope)  # where the ball meets the line
            at = min(max(touch, low), high)
            least = min(least, r0 + slope * (at - z0) - math.sqrt(max(0.0, t * t - (at - z) ** 2)))
            i += step
    return least


@lru_cache(maxsize=256)
def sections_layers(cuts: tuple[Section, ...], samples: int = 10) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """The layers inside a stack of oval sections.

    Parameters
    ----------
    cuts
        Measured sections from foot to top.
    samples
        How many thicknesses.

    Returns
    -------
    tuple
        Thicknesses [m] up to one that fills the form, and the share of the whole volume that each layer takes.
    """
    width = _profile([(s.at_m, s.width_m / 2) for s in cuts])
    depth = _profile([(s.at_m, s.depth_m / 2) for s in cuts])
    low, high = cuts[0].at_m, cuts[-1].at_m

    def core(t: float) -> float:
        total, inner, here = 0.0, high - low - 2 * t, 0
        for i in range(_ALONG if inner > 0 else 0):
            z = low + t + (i + 0.5) / _ALONG * inner
            while z > width[here][2]:
                here += 1
            a, b = (p[here][1] + p[here][3] * (z - p[here][0]) for p in (width, depth))
            off_a, off_b = a - _eroded(width, here, z, t), b - _eroded(depth, here, z, t)
            if a > 0 and b > 0:
                total += math.pi * a * b - ellipse_layer(a, b, (off_b * a + off_a * b) / (a + b))
        return total * max(0.0, inner) / _ALONG

    whole, before = core(0.0), 0.0
    deepest = min(max(min(s.width_m, s.depth_m) for s in cuts) / 2, (high - low) / 2)
    thick = tuple(deepest * i / samples for i in range(1, samples + 1))
    shares = []
    for t in thick[:-1]:
        before = min(1.0, max(before, 1 - core(t) / whole)) if whole else 1.0
        shares.append(before)
    return thick, (*shares, 1.0)
