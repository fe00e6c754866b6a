"""How fast a cure runs: Arrhenius where the card knows the activation energy, the rule of ten where not.

Sources: Arrhenius, any physical-chemistry text; the rule of ten (rate doubles every 10 °C) is common
practice and no Arrhenius law: the two are 9 % apart at 9 °C.
"""

from __future__ import annotations

import math
from datetime import datetime
from functools import lru_cache
from typing import Protocol

from msgspec import Struct

from homunculus.core.cure.temperature import Constant, Daily, Programme, mould_temperature
from homunculus.core.figures import Outcome, rule
from homunculus.core.job.cards import ClockKind, MaterialCard
from homunculus.core.schedule.wall_clock import later

GAS_CONSTANT = 8.31446261815324  # J/(mol K), exact since 2019
ZERO_C = 273.15
SLICE_S = 1200.0
LONGEST_S = 60 * 86400.0


class Kinetics(Struct, frozen=True):
    """Speed of a cure against temperature.

    Parameters
    ----------
    reference_c
        Where the book's times hold [°C].
    activation_energy
        J/mol, or none for the rule of ten.
    least_c
        Below this the cure stands still [°C].
    kind
        What runs it; all but a chemical cure go at one speed wherever they go at all.
    """

    reference_c: float
    activation_energy: float | None = None
    least_c: float | None = None
    kind: ClockKind = "chemical"

    def rate(self, celsius: float) -> float:
        """Speed of the cure at ``celsius``, 1 at the reference."""
        if self.least_c is not None and celsius < self.least_c:
            return 0.0
        if self.kind != "chemical":
            return 1.0
        if self.activation_energy is None:
            return math.exp2((celsius - self.reference_c) / 10)
        inverse = 1 / (celsius + ZERO_C) - 1 / (self.reference_c + ZERO_C)
        return math.exp(-self.activation_energy / GAS_CONSTANT * inverse)

    @property
    def law(self) -> str:
        """Which law this is, for a note."""
        if self.kind != "chemical":
            return {"baked": f"soaks in the oven at {self.reference_c:g} °C, stands still below", "gelled": "firm as heat leaves it",
                    "dried": "dries with thickness squared and dry air", "hydrated": "sets in a nearly fixed time",
                    "moisture": "cures with the air's moisture, thickness squared"}[self.kind]  # fmt: skip
        return "rule of ten" if self.activation_energy is None else "Arrhenius"


class AnyClock(Protocol):
    """What tells how long a setting takes; see :mod:`homunculus.core.cure.clock`."""

    kinetics: Kinetics

    def time(self, *, book: float, programme: Programme, start: datetime, lag: float) -> float:
        """Time [s] for a ``book`` time [s], in a ``programme`` of temperatures from ``start``, with the mould's ``lag`` [s]."""
        ...


def kinetics_of(card: MaterialCard) -> Kinetics:
    """The speed of cure of a material ``card``."""
    energy, least = card.activation_energy_j_mol, card.least_c
    return Kinetics(card.reference_c, energy.value if energy else None, least.value if least else None)


@rule("Ea = R ln(t1 / t2) / (1/T1 − 1/T2)", "Arrhenius, from two lines of a data sheet")
def energy_from_two_times(*, time1: float, celsius1: float, time2: float, celsius2: float) -> float:
    """Activation energy [J/mol] from two cure times [s] at two temperatures [°C].

    ``time1`` belongs to ``celsius1``, ``time2`` to ``celsius2``.
    """
    inverse = 1 / (celsius1 + ZERO_C) - 1 / (celsius2 + ZERO_C)
    return GAS_CONSTANT * math.log(time1 / time2) / inverse


def time_to_cure(
    *,
    needed: float,
    kinetics: Kinetics,
    programme: Programme,
    start: datetime,
    lag: float,
    start_c: float | None = None,
) -> float:
    """Seconds until a cure that starts now has had its equivalent time at the reference temperature.

    ∫ rate(T) dt = needed, by Simpson's rule on slices of 20 minutes while the mould
    follows the air, the last slice solved by bisection.

    Parameters
    ----------
    needed
        Book time at the reference temperature [s].
    kinetics
        Speed of the cure.
    programme
        Air temperatures from ``start`` on.
    start
        Naive local moment of the pour.
    lag
        Time constant of the mould [s].
    start_c
        Temperature of mould and mix at the start [°C]; the air's when left out.

    Returns
    -------
    float
        Seconds, or infinity when it would take over 60 days.
    """
    if isinstance(programme, Daily | Constant):  # asked for several times in one plan, and cheap to tell apart
        return _remembered(needed, kinetics, programme, start, lag, start_c)
    return _until_cured(needed, kinetics, programme, start, lag, start_c)


def _until_cured(
    needed: float, kinetics: Kinetics, programme: Programme, start: datetime, lag: float, start_c: float | None
) -> float:
    if needed <= 0:
        return 0.0
    elapsed = done = 0.0
    mould, rate = start_c, kinetics.rate
    for length, air in programme.steps(start):
        mould = air if mould is None else mould
        left = length
        steady, speed = rate(air), rate(mould)
        while left > 1e-9:
            if lag <= 0 or abs(mould - air) < 0.005:  # the mould is as warm as the air: one piece to the next step
                if steady > 0 and done + steady * left >= needed:
                    return elapsed + (needed - done) / steady
                done, elapsed, mould, left = done + steady * left, elapsed + left, air, 0.0
                continue
            span = min(left, SLICE_S)
            middle = mould_temperature(start=mould, air=air, lag=lag, after=span / 2)
            end = mould_temperature(start=middle, air=air, lag=lag, after=span / 2)
            then = rate(end)
            ahead = span / 6 * (speed + 4 * rate(middle) + then)
            if done + ahead >= needed:
                return elapsed + _within(needed - done, span, ahead, mould, air, lag, kinetics)
            done, elapsed, mould, speed, left = done + ahead, elapsed + span, end, then, left - span
        if elapsed > LONGEST_S:
            return math.inf
    return math.inf


_remembered = lru_cache(maxsize=1024)(_until_cured)


def _within(rest: float, span: float, whole: float, mould: float, air: float, lag: float, kinetics: Kinetics) -> float:
    """Seconds into a slice of ``span`` and ``whole`` equivalent seconds at which the ``rest`` is reached: the secant between too little and too much."""
    rate, low, high, least, most, fell = kinetics.rate, 0.0, span, -rest, whole - rest, None
    for _ in range(60):
        part = high - most * (high - low) / (most - least) if most > least else high
        middle = mould_temperature(start=mould, air=air, lag=lag, after=part / 2)
        end = mould_temperature(start=mould, air=air, lag=lag, after=part)
        over = part / 6 * (rate(mould) + 4 * rate(middle) + rate(end)) - rest
        if abs(over) < 1e-6 or high - low < 1e-6:  # a millionth of a second
            return part
        short = over < 0
        if short:
            low, least, most = part, over, most / 2 if fell is True else most  # halved, or one end would stay for good
        else:
            high, most, least = part, over, least / 2 if fell is False else least
        fell = short
    return high


def slowest(kinetics: Kinetics, programme: Programme, start: datetime, seconds: float) -> float:
    """The air temperature [°C] that cost a cure most time.

    Parameters
    ----------
    kinetics
        Speed of the cure.
    programme
        Air temperatures from ``start`` on.
    start
        Moment of the pour.
    seconds
        How long it cures.
    """
    lost: dict[float, float] = {}
    left = seconds
    for length, air in programme.steps(start):
        lost[air] = lost.get(air, 0.0) + min(length, left) * (1 - kinetics.rate(air))
        left -= length
        if left <= 0:
            break
    return max(lost, key=lambda celsius: lost[celsius])


@rule("rate at the mould's temperature, summed over time = book time; T follows the air with the mould's lag",
      "Arrhenius or rule of ten, by the card; first-order lag")  # fmt: skip
def cure_time(*, book: float, clock: AnyClock, programme: Programme, start: datetime, lag: float) -> Outcome:
    """Cure time here [s] for a ``book`` time [s]: the ``clock`` of the card, the shop's ``programme``.

    ``start`` is the moment of the pour, ``lag`` the mould's time constant [s].
    """
    seconds = clock.time(book=book, programme=programme, start=start, lag=lag)
    law = clock.kinetics
    notes = [f"{law.law}; book time holds at {law.reference_c:g} °C"] if law.kind == "chemical" else [law.law]
    if not math.isfinite(seconds):
        notes.append("it will not cure here: not in 60 days")
    return Outcome(seconds, tuple(notes))


@rule("moment = start + time", "arithmetic; the zone says when clocks change")
def moment_after(*, start: datetime, seconds: float, zone: str = "") -> datetime:
    """The moment when so many ``seconds`` have passed since ``start``, on the wall clock of a ``zone`` (IANA name)."""
    return later(start, seconds, zone)
