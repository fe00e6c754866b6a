"""What hangs on wires: its swing, and how it starts without one."""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule
from homunculus.core.moving.towing import G

SMALL = 0.35
"""Share of the wire up to which a swing counts as small: its period is then within 1 % of that of small angles."""
PENDULUM = "mathematical pendulum, small angles; any mechanics text"


@rule("T = 2π √(L / g)", PENDULUM)
def swing_period(*, wire: float) -> float:
    """Period [s] of what hangs on a ``wire`` [m]."""
    return 2 * math.pi * math.sqrt(wire / G)


@rule("T × f / f0", "definition")
def period_on_screen(*, period: float, rate: float, base: float) -> float:
    """How long [s] a ``period`` [s] lasts on screen at a ``rate``, shown at the ``base`` rate [both fps]."""
    return period * rate / base


@rule("2 v / (ω² τ) × |sin(ω τ / 2)|, ω = √(g / L)", PENDULUM + ": uniform acceleration of the point of suspension")
def swing_left(*, speed: float, ramp: float, wire: float) -> Outcome:
    """How far [m] it swings to either side of its wire after a ``ramp`` [s] from rest to a ``speed`` [m/s], on a ``wire`` [m].

    None is left after a ramp of one whole period; large angles leave a little.
    """
    omega = math.sqrt(G / wire)
    left = speed / omega if ramp <= 0 else 2 * speed / (omega**2 * ramp) * abs(math.sin(omega * ramp / 2))
    wide = (
        (f"{left / wire:.0%} of the wire: far beyond small angles, so a rough figure",) if left > SMALL * wire else ()
    )
    return Outcome(left, wide)


@rule("m (g + v² / L)", "mechanics: weight, and what keeps it on its arc at the lowest point")
def wire_load(*, mass: float, speed: float, wire: float, wires: int) -> float:
    """Pull [N] in each of so many ``wires`` of a length ``wire`` [m] on which a ``mass`` [kg] hangs that swings through at a ``speed`` [m/s]."""
    return mass * (G + speed**2 / wire) / wires
