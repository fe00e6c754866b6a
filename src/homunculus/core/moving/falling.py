"""What falls: things that gravity rules, waves that it drives, and light matter that the air holds up."""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule
from homunculus.core.moving.towing import G

AIR_KG_M3, AIR_PA_S = 1.204, 1.825e-5
"""Density and viscosity of air at 20 °C and sea level: handbook values, from memory."""
STEEPEST_RE = 800.0
EXPLOSIVE_KG_M3 = 0.05
"""Order of the lower explosive limit of fine organic dust in air: Eckhoff, Dust Explosions in the Process Industries; value from memory."""


@rule("t = √(2 h / g)", "free fall without the drag of air")
def fall_time(*, height: float) -> float:
    """Seconds on set in which something heavy falls from a ``height`` [m]."""
    return math.sqrt(2 * height / G)


@rule("v = √(2 g h)", "free fall without the drag of air")
def fall_speed(*, height: float) -> float:
    """Speed [m/s] with which something heavy arrives from a ``height`` [m]."""
    return math.sqrt(2 * G * height)


@rule("T = √(2π λ / g)", "linear waves on deep water (Airy); any fluid-mechanics text")
def wave_period(*, length: float) -> Outcome:
    """Seconds from crest to crest of waves of a ``length`` [m] on water deeper than half of it."""
    ripples = (
        ("so short that surface tension drives them: they run faster than a scaled wave",) if length < 0.05 else ()
    )
    return Outcome(math.sqrt(2 * math.pi * length / G), ripples)


@rule("v = λ / T × S × f0 / f", "kinematics")
def wave_reads_as(*, length: float, period: float, scale: float, base: float, rate: float) -> float:
    """Real speed [m/s] that waves of a ``length`` [m] and ``period`` [s] on set seem to have.

    ``scale`` is the denominator, ``base`` and ``rate`` the projected and the camera's rate [fps].
    """
    return length / period * scale * base / rate


@rule("weight = drag: v = √(4 g d Δρ / (3 C ρ)), C = 24 / Re × (1 + 0.15 Re^0.687)",
      "Schiller and Naumann 1933, Re < 800; Stokes' law where it is slow")  # fmt: skip
def terminal_speed(*, grain: float, density: float) -> Outcome:
    """Speed [m/s] at which round grains of a diameter ``grain`` [m] and a ``density`` [kg/m³] sink through still air at 20 °C."""
    stokes = (density - AIR_KG_M3) * G * grain**2 / (18 * AIR_PA_S)
    if stokes <= 0:
        return Outcome(0.0, ("it is lighter than the air",))
    low, high = 0.0, stokes  # the correction only slows it, and drag grows with speed: one root between them
    for _ in range(80):
        v = (low + high) / 2
        reynolds = AIR_KG_M3 * v * grain / AIR_PA_S
        low, high = (v, high) if v * (1 + 0.15 * reynolds**0.687) < stokes else (low, v)
    reynolds = AIR_KG_M3 * v * grain / AIR_PA_S
    note = (f"beyond what the formula holds for: Re {reynolds:.0f}",) if reynolds > STEEPEST_RE else ()
    return Outcome(v, note)


@rule("v × S × f0 / f", "kinematics")
def sinks_as(*, speed: float, scale: float, base: float, rate: float) -> float:
    """Real speed [m/s] with which something sinks on screen that sinks at a ``speed`` [m/s] on set.

    ``scale`` is the denominator, ``base`` and ``rate`` the projected and the camera's rate [fps].
    """
    return speed * scale * base / rate


@rule("coverage × area / time", "definition")
def feed_rate(*, coverage: float, area: float, time: float) -> float:
    """Mass [kg/s] to let fall for a ``coverage`` [kg/m²] of an ``area`` [m²] within a ``time`` [s]."""
    return coverage * area / time


@rule("what falls on a square metre a second / speed of sinking", "conservation of mass: an even rain of it")
def in_the_air(*, feed: float, area: float, speed: float) -> float:
    """Dust in the air [kg/m³] while a ``feed`` [kg/s] rains on an ``area`` [m²], sinking at a ``speed`` [m/s]."""
    return feed / (area * speed)


@rule("mass / volume of the cloud", "definition: all that is thrown is in the air at once")
def thrown_in_the_air(*, mass: float, cloud: float) -> float:
    """Dust in the air [kg/m³] of a ``mass`` [kg] thrown into a ``cloud`` [m³]."""
    return mass / cloud
