"""What pulls a model along: speed, run-up, pull, and what it is tied by."""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule

G = 9.80665
"""Standard gravity [m/s²], exact by definition."""
WATER_KG_M3 = 998.0
"""At 20 °C: handbook value, from memory."""
MECHANICS = "Newtonian mechanics"


@rule("a = v² / (2 × run-up)", "uniform acceleration from rest")
def run_up_acceleration(*, speed: float, run_up: float) -> float:
    """Acceleration [m/s²] that reaches a ``speed`` [m/s] over a ``run_up`` [m]."""
    return speed**2 / (2 * run_up)


@rule("F = m (a + μ g cos θ + g sin θ)", MECHANICS)
def pull_on_wheels(*, mass: float, acceleration: float, friction: float, slope: float = 0.0) -> float:
    """Pull [N] on a ``mass`` [kg] that rolls or slides with a ``friction`` coefficient up a ``slope`` [rad], at an ``acceleration`` [m/s²]."""
    return mass * (acceleration + friction * G * math.cos(slope) + G * math.sin(slope))


@rule("F = m (1 + added) a + ½ ρ C_d A v²", MECHANICS + "; the greatest, at the end of the run-up")
def pull_afloat(*, mass: float, acceleration: float, added: float, drag_area: float, speed: float) -> float:
    """Pull [N] on a ``mass`` [kg] afloat at the end of its run-up.

    ``added`` is the share of its mass that moves along as water, ``drag_area`` C_d A [m²], ``acceleration`` in m/s², ``speed`` in m/s.
    """
    return mass * (1 + added) * acceleration + 0.5 * WATER_KG_M3 * drag_area * speed**2


@rule("what the weakest bears / its safety factor", "common practice, no source")
def weakest(*, ties: tuple[tuple[str, float, float], ...]) -> Outcome:
    """The pull [N] that the weakest of ``ties`` (name, bears [N], safety factor) may get; a note names it."""
    name, bears, safety = min(ties, key=lambda tie: tie[1] / tie[2])
    return Outcome(bears / safety, (f"the weakest is {name}",))


@rule("run-up at which the pull is what the weakest tie may get", MECHANICS)
def least_run_up(*, speed: float, mass: float, allowed: float, steady: float) -> float:
    """Shortest run-up [m] to a ``speed`` [m/s] with a ``mass`` [kg, what moves along included] whose pull stays within ``allowed`` [N].

    ``steady`` is the part of the pull [N] that is there without acceleration; infinite where that is too much already.
    """
    left = allowed - steady
    return math.inf if left <= 0 else speed**2 * mass / (2 * left)


@rule("run-up + speed × time on set", "kinematics")
def track_length(*, run_up: float, speed: float, time: float) -> float:
    """Length of track [m] for a ``run_up`` [m] and a take of so much ``time`` on set [s] at a ``speed`` [m/s]; braking comes on top."""
    return run_up + speed * time
