"""The course of a cure, and what would be otherwise: another start, a warmer room, an oven."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.cure.clock import Clock, clock_of, pot_life_law
from homunculus.core.cure.kinetics import time_to_cure
from homunculus.core.cure.temperature import Constant, Daily, Programme, mould_temperature
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.shop import Air

START_STEP_MIN = 30
OVEN_FROM_C, OVEN_TO_C = 30.0, 90.0
"""What ovens for moulds keep: common practice, no source."""


class Point(Struct, frozen=True):
    """One moment of a cure: seconds after the pour, °C of air and mould, share of the demould cure that is done."""

    seconds: float
    air: float
    mould: float
    done: float


class WhatIf(Struct, frozen=True):
    """What may be tried: another start, another temperature by night, an oven from the pour on."""

    start: datetime | None = None
    night_c: float | None = None
    oven_c: float | None = None

    @property
    def any(self) -> bool:
        """Whether anything is tried."""
        return self != WhatIf()

    def shifted(self, planned: datetime, minutes: float) -> WhatIf:
        """Poured so many ``minutes`` after the ``planned`` start, from two days before to four after, in half hours."""
        shift = round(max(-48 * 60, min(minutes, 96 * 60)) / START_STEP_MIN) * START_STEP_MIN
        return replace(self, start=planned + timedelta(minutes=shift) if shift else None)

    def with_nights(self, celsius: float, air: Air) -> WhatIf:
        """With nights of so many ``celsius``, in half degrees; nothing is tried where the shop's ``air`` has them already."""
        tried = round(max(-10.0, min(celsius, 45.0)) * 2) / 2
        return replace(self, night_c=None if tried == air.night_c else tried)

    def with_oven(self, celsius: float) -> WhatIf:
        """In an oven at so many ``celsius``, whole ones; none where it is colder than an oven keeps."""
        tried = round(min(celsius, OVEN_TO_C))
        return replace(self, oven_c=float(tried) if tried >= OVEN_FROM_C else None)

    def programme(self, usual: Programme, air: Air) -> Programme:
        """The temperatures that this would bring, instead of the ``usual`` ones in a shop with that ``air``."""
        if self.oven_c is not None:
            return Constant(self.oven_c)
        if self.night_c is not None:
            return Daily(replace(air, night_c=self.night_c))
        return usual


class CureStep(Struct, frozen=True):
    """A step of a cure: its name, its book time and its time here [s]; infinite where it would take over 60 days."""

    name: str
    book: float
    here: float


def cure_steps(
    card: MaterialCard, programme: Programme, start: datetime, lag: float, room: Programme | None = None,
    clock: Clock | None = None,
) -> tuple[CureStep, ...]:  # fmt: skip
    """List the steps of a cure that a card knows, with their times here.

    Parameters
    ----------
    card
        What cures.
    programme
        Air temperatures.
    start
        Moment of the pour.
    lag
        Time constant of the mould [s]; the pot life runs in the cup, without it.
    room
        Air in which it is mixed and from which the mould comes, where that is another one, as before an oven.
    clock
        Of the card in its mould; of the card alone when left out.
    """
    clock, found = clock or clock_of(card), []
    bench_c = room.at(start) if room else None
    for name, book in (
        ("gels", card.pot_life_s), ("opens", card.demould_s), ("may be handled", card.handling_s), ("full", card.full_cure_s),
    ):  # fmt: skip
        if book is not None:
            if name == "gels":
                here = time_to_cure(
                    needed=book.value, kinetics=pot_life_law(card), programme=room or programme, start=start, lag=0.0
                )
            else:
                here = clock.time(book=book.value, programme=programme, start=start, lag=lag, start_c=bench_c)
            found.append(CureStep(name, book.value, here))
    return tuple(found)


def cure_curve(
    *, book: float, clock: Clock, programme: Programme, start: datetime, lag: float, until: float,
    start_c: float | None = None, points: int = 120,
) -> tuple[Point, ...]:  # fmt: skip
    """Follow a cure.

    Parameters
    ----------
    book
        Time to demould at the reference temperature [s].
    clock
        Of the card in its mould; what firms by cooling is followed as the share of its time.
    programme
        Air temperatures from ``start`` on.
    start
        Moment of the pour.
    lag
        Time constant of the mould [s].
    until
        How far to follow it [s].
    start_c
        Temperature of mould and mix at the start [°C]; the air's when left out.
    points
        How many points at least; every step of the air's temperature is one more.

    Returns
    -------
    tuple of Point
        In order of time; ``done`` goes on past 1.
    """
    step, mould, done, seconds = until / points, start_c, 0.0, 0.0
    whole = book * clock.stretch
    if clock.cooling:
        whole = clock.time(book=book, programme=programme, start=start, lag=lag)
    found: list[Point] = []
    for length, air in programme.steps(start):
        mould = air if mould is None or lag <= 0 else mould
        found.append(Point(seconds, air, mould, done))
        parts = max(1, math.ceil(min(length, until - seconds) / step))
        span = min(length, until - seconds) / parts
        for _ in range(parts):
            middle = mould_temperature(start=mould, air=air, lag=lag, after=span / 2)
            end = mould_temperature(start=mould, air=air, lag=lag, after=span)
            done += (
                span / whole
                if clock.cooling
                else span
                / 6
                * (clock.kinetics.rate(mould) + 4 * clock.kinetics.rate(middle) + clock.kinetics.rate(end))
                / whole
            )
            mould, seconds = end, seconds + span
            found.append(Point(seconds, air, mould, done))
        if seconds >= until - 1e-6:
            break
    return tuple(found)


def moment(start: datetime, seconds: float) -> datetime | None:
    """The moment ``seconds`` after ``start``, or none when they are without end."""
    return start + timedelta(seconds=seconds) if math.isfinite(seconds) else None
