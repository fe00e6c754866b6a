"""Depth that is faked: how far the camera may move before a plane betrays itself, what air does to contrast, where feet belong.

All distances are from the eye, the entrance pupil of the lens.
"""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule

PINHOLE = "pinhole projection from the entrance pupil"
CONTRAST = {0.02: -math.log(0.02), 0.05: -math.log(0.05)}
"""Optical depth at which what is black is just told from the sky: 3.912 at a threshold of 2 %, 2.996 at 5 %."""
KOSCHMIEDER = "Koschmieder: contrast against the sky over a path, at the threshold that is named"


@rule("f (1 + m/p) × delivered pixels / sensor width", "geometrical optics; the chief ray through both pupils")
def reach_in_pixels(*, image: float, sensor_width: float, delivery: int) -> float:
    """Image distance in delivered pixels, of an ``image`` distance and ``sensor_width`` [m] shown ``delivery`` pixels wide."""
    return image * delivery / sensor_width


@rule("pixels × d / (reach × |S0 / S − 1|)", PINHOLE + ": its shift less that of a thing which really is so far away")
def sideways_free(*, distance: float, scale: float, base: float, reach: float, allowed: float) -> float:
    """How far [m] the eye may go sideways or up until what stands at a ``distance`` [m] has shifted ``allowed`` pixels from where it should be.

    It is built at a ``scale`` in a set that goes by the ``base`` scale; ``reach`` is the image distance [pixels]. Infinite at the base scale.
    """
    off = abs(base / scale - 1)
    return math.inf if off < 1e-9 else allowed * distance / (reach * off)


@rule(
    "r u |1 − k| = pixels × (1 − u)(1 − k u), u = travel / d, k = S0 / S", PINHOLE + ": it grows faster than it should"
)
def along_free(*, distance: float, scale: float, base: float, edge: float, allowed: float) -> float:
    """How far [m] the eye may go towards what stands at a ``distance`` [m] until a point ``edge`` pixels beside the axis is ``allowed`` pixels off.

    It is built at a ``scale`` in a set that goes by the ``base`` scale. Away from it the same way takes longer to tell, so this is the
    lesser of both. Infinite at the base scale.
    """
    k = base / scale
    if abs(k - 1) < 1e-9:
        return math.inf
    b = allowed * (1 + k) + edge * abs(1 - k)
    return distance * 2 * allowed / (b + math.sqrt(max(b * b - 4 * allowed**2 * k, 0.0)))


@rule("the least of what its planes allow", "arithmetic")
def tightest(**planes: float) -> float:
    """How far [m] the eye may go before the first of all ``planes`` tells; infinite without any."""
    return min(planes.values(), default=math.inf)


@rule("contrast = exp(−(threshold's optical depth) × distance / sight)", KOSCHMIEDER)
def contrast_wanted(*, looks: float, sight: float, threshold: float) -> float:
    """Share of its contrast that what ``looks`` so far away [real m] keeps, where one sees as far as ``sight`` [real m] by a ``threshold`` of 2 or 5 %."""
    return math.exp(-CONTRAST[threshold] * looks / sight)


@rule("contrast = exp(−(threshold's optical depth) × distance × S0 / sight)", KOSCHMIEDER)
def contrast_by_air(*, distance: float, sight: float, base: float, threshold: float) -> float:
    """Share of contrast left by air as thick as the ``base`` scale wants it, over a ``distance`` on the floor [m]; ``sight`` [real m], ``threshold`` 2 or 5 %."""
    return math.exp(-CONTRAST[threshold] * distance * base / sight)


@rule("sight / S0", KOSCHMIEDER + "; all lengths of a set by its scale")
def sight_on_stage(*, sight: float, base: float) -> float:
    """How far one must see [m] on a stage in air that looks like a ``sight`` [real m] at the ``base`` scale."""
    return sight / base


@rule("(eye − foot) × S", "definition of scale")
def eye_over_ground(*, eye: float, foot: float, scale: float) -> float:
    """How high [real m] an ``eye`` over the floor looks, over the ground of what stands with its ``foot`` there [both m] at a ``scale``."""
    return (eye - foot) * scale


@rule(
    "eye − real height of the eye / S, the floor at least",
    PINHOLE + ": the horizon of every plane goes through the eye",
)
def foot_height(*, eye: float, real: float, scale: float) -> Outcome:
    """How high over the floor [m] the ground of what is built at a ``scale`` lies, for an ``eye`` so high [m] that looks ``real`` [real m] over it."""
    foot = eye - real / scale
    if foot < -1e-9:
        return Outcome(
            0.0,
            (f"it would lie {-foot:.3g} m beneath the floor: it stands on the floor, and its foot is not to be seen",),
        )
    return Outcome(max(foot, 0.0))


@rule("2 delivered pixels or the blur, whichever is larger, × d / reach", "Nyquist sampling; projection")
def finest_on_it(*, distance: float, reach: float, blur: float = 0.0) -> float:
    """Smallest thing [m] that reads on what stands at a ``distance`` [m] with so much ``blur``, for a ``reach`` [both pixels]."""
    return max(2.0, blur) * distance / reach


TIERS = ("hero", "mid", "block", "cut-out")


@rule("by the smallest thing that reads on it", "bounds are the shop's; common practice, no source")
def finish_tier(*, finest: float, hero: float, mid: float, block: float) -> str:
    """What a hand must make of a thing on which things over ``finest`` [m] read: hero, mid or block up to so much [m], else a cut-out."""
    return TIERS[0] if finest <= hero else TIERS[1] if finest <= mid else TIERS[2] if finest <= block else TIERS[3]


@rule("reach × |δ| / d", PINHOLE)
def placing_shift(*, off: float, distance: float, reach: float) -> float:
    """How many pixels what stands at a ``distance`` shifts when it stands ``off`` its place [both m] across the view; ``reach`` in pixels."""
    return reach * abs(off) / distance
