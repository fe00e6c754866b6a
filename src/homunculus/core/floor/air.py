"""The air of a stage that dry ice feeds: how much of it is carbon dioxide. No substitute for a meter: the gas is heavy and pools low."""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule

GAS_M3_KG = 0.547
"""Gas from a kilogram of dry ice at 20 °C and sea level: ideal gas, 24.06 L/mol over 44.01 g/mol."""
OUTDOORS = 420e-6
"""Share of carbon dioxide outdoors: common knowledge, value from memory."""
ALL_DAY, QUARTER_HOUR = 5_000e-6, 30_000e-6
"""Greatest shares over 8 h (OSHA, NIOSH) and over 15 min (NIOSH): values from memory."""
POOLS = "mixed through the whole room; near the floor it is more: ask for a meter"


@rule("C = outdoors + G / Q × (1 − exp(−Q t / V))", "mass balance of a well-mixed room; " + POOLS)
def carbon_dioxide(*, ice: float, time: float, volume: float, changes: float) -> Outcome:
    """Share of carbon dioxide in a room of a ``volume`` [m³] after a ``time`` [s] of so much dry ``ice`` [kg/s], with so many ``changes`` of air a second."""
    gas, vent = ice * GAS_M3_KG, changes * volume
    rise = gas * time / volume if vent * time < 1e-12 * volume else gas / vent * -math.expm1(-vent * time / volume)
    return Outcome(min(OUTDOORS + rise, 1.0), (POOLS,))


@rule("− V / Q × ln(1 − (limit − outdoors) × Q / G)", "the same mass balance, for the time")
def time_to_limit(*, ice: float, volume: float, changes: float, limit: float) -> float:
    """Seconds until a room of a ``volume`` [m³] reaches a ``limit`` of carbon dioxide [share]; infinite where it never does.

    ``ice`` in kg/s, ``changes`` of air a second.
    """
    gas, vent = ice * GAS_M3_KG, changes * volume
    room = limit - OUTDOORS
    if gas <= 0 or vent * room >= gas:
        return math.inf
    return room * volume / gas if vent <= 0 else -volume / vent * math.log1p(-room * vent / gas)
