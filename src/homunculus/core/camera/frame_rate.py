"""Frame rate and time for models (scale S = real length / model length)."""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule
from homunculus.core.showing import show_scale, significant

FROUDE = "dynamic similarity by Froude number; any fluid-mechanics text, ITTC procedures"
COMMON = "common practice, no source"
SINGLE_FPS = 1.0
"""At one frame a second and below an interval timer releases each frame: common practice, no source."""
CAPILLARY_LENGTH_M = 0.0027  # water at 20 °C: √(σ/ρg) with σ 72.8 mN/m


@rule("f = f0 × √S × k", FROUDE + "; k over 1 for collapses and blasts is " + COMMON)
def gravity_rate(*, scale: float, base: float, faster: float = 1.0) -> float:
    """Frame rate [fps] at which a falling model looks as heavy as the real thing.

    ``scale`` is the denominator, ``base`` the projected rate [fps], ``faster`` a bare factor.
    """
    return base * math.sqrt(scale) * faster


@rule("f = f0 × screen time / event time", "definition")
def screen_time_rate(*, base: float, screen: float, event: float) -> Outcome:
    """Frame rate [fps] at which an ``event`` [s] lasts ``screen`` [s], shown at the ``base`` rate [fps]."""
    rate = base * screen / event
    notes = (f"undercranked: one frame every {significant(1 / rate)} s",) if rate < base else ()
    return Outcome(rate, notes)


@rule("exposures = screen time × f0 / hold × passes", "definition")
def exposure_count(*, screen: float, base: float, hold: int, passes: int = 1) -> float:
    """Exposures to shoot for ``screen`` seconds at ``base`` [fps], each held for ``hold`` frames, in so many ``passes``."""
    return math.ceil(screen * base / hold - 1e-9) * passes


@rule("the camera's rate nearest to the wanted one, by ratio", "the camera's card")
def nearest_rate(*, wanted: float, rates: tuple[float, ...]) -> Outcome:
    """Rate [fps] that the camera has nearest to the ``wanted`` one; ``rates`` [fps] come from its card.

    One frame a second or fewer are released one by one, and need no rate of the camera.
    """
    if wanted <= SINGLE_FPS and wanted < min(rates):
        return Outcome(wanted, ("single frames, released one by one",))
    best = min(rates, key=lambda r: abs(math.log(r / wanted)))
    if wanted > max(rates) * 1.0001:
        return Outcome(best, (f"the camera stops at {significant(max(rates))} fps",))
    if wanted < min(rates) * 0.9999:
        return Outcome(best, (f"the camera's slowest is {significant(min(rates))} fps",))
    return Outcome(best)


def by_single_frames(rate: float) -> bool:
    """Whether a ``rate`` [fps] is taken frame by frame at intervals: the exposure is then decided by hand."""
    return rate <= SINGLE_FPS


@rule("g = S × (f0 / f)²", FROUDE)
def apparent_gravity(*, scale: float, base: float, rate: float) -> float:
    """Gravity as it looks on screen, 1 is real: over 1 falls too fast (looks small), under 1 floats.

    ``scale`` is the denominator, ``base`` and ``rate`` are the projected and the camera's rate [fps].
    """
    return scale * (base / rate) ** 2


@rule("stretch = f / f0", "definition")
def time_stretch(*, rate: float, base: float) -> float:
    """How much longer things last on screen than on set: ``rate`` over ``base`` [both fps]."""
    return rate / base


@rule("time on set = screen time × f0 / f × passes", "definition")
def time_on_set(*, screen: float, base: float, rate: float, passes: int = 1) -> float:
    """Seconds on set for ``screen`` seconds shown; ``base`` and ``rate`` in fps; taken in so many ``passes``."""
    return screen * base / rate * passes


@rule("v = V / S × f / f0", "kinematics; with the gravity rule it is V / √S")
def model_speed(*, real: float, scale: float, rate: float, base: float) -> float:
    """Speed [m/s] of the model that looks like the ``real`` speed [m/s] at the camera's ``rate`` [fps].

    ``scale`` is the denominator, ``base`` the projected rate [fps].
    """
    return real / scale * rate / base


@rule("drop = S × 2.7 mm", "capillary length of water at 20 °C")
def drop_reads_as(*, scale: float) -> float:
    """Real size [m] that a drop on the model seems to have: drops do not shrink with the ``scale``."""
    return scale * CAPILLARY_LENGTH_M


@rule("size error = S / S of the part − 1, nearest stock scale", "NEM 010 railway scales; kit and doll-house scales "
      + COMMON)  # fmt: skip
def bought_part_error(*, scale: float) -> Outcome:
    """How much too large (+) the nearest bought part is at this ``scale``, as a share. Real things are parts at 1:1."""
    best = min(STOCK_SCALES, key=lambda s: abs(math.log(scale / s)))
    return Outcome(scale / best - 1, (f"nearest stock scale {show_scale(best)}",))


def next_scale(scale: float, steps: int) -> float:
    """The stock scale so many ``steps`` smaller than 1:``scale`` (larger when negative); the last one where there are no more."""
    stock = sorted({*ROUND_SCALES, *STOCK_SCALES})
    for _ in range(abs(steps)):
        beyond = [s for s in stock if (s > scale * 1.0001 if steps > 0 else s < scale * 0.9999)]
        if not beyond:
            break
        scale = beyond[0] if steps > 0 else beyond[-1]
    return scale


def as_said(scale: float) -> float:
    """A ``scale`` rounded as people say scales: tenths to 1:20, halves to 1:50, then whole ones."""
    step = 0.1 if scale < 20 else 0.5 if scale < 50 else 1.0
    return round(round(scale / step) * step, 4) if scale >= 1 else round(scale, 3)


ROUND_SCALES = (0.25, 0.4, 0.5, 1.0, 2.0, 3.0, 4.0, 5.0, 8.0, 10.0, 20.0)
"""Scales that things are built at although no parts are sold for them."""
STOCK_SCALES = (1.0, 2.0, 3.0, 4.0, 6.0, 10.0, 12.0, 16.0, 22.5, 24.0, 25.0, 32.0, 35.0, 45.0, 48.0, 72.0, 87.0, 120.0, 160.0)  # fmt: skip
"""Scales at which parts can be bought: the real thing; dolls at 1:2 to 1:4 and vehicles at 1:10, value from memory;
NEM 010 for railways; doll-house and kit scales are common practice."""
