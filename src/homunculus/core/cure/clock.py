"""A clock by kind: what runs a setting, and how long it takes here.

*Chemical* cures follow Arrhenius or the rule of ten. *Baked* ones stand still below the oven's temperature and soak there.
*Gelled* ones are firm when heat has left them, the sooner the colder the bench. *Dried* and *moisture-cured* ones go with
the square of the thickness and with the air's moisture. *Hydrated* ones (gypsum) set in a nearly fixed time.

Sources: conduction in a plane wall, first term of the series (Incropera and DeWitt, Fundamentals of Heat and Mass Transfer,
5.5); thickness squared and humidity are common practice, no source: rough.
"""

from __future__ import annotations

import math
from datetime import datetime

from msgspec import Struct

from homunculus.core.cure.kinetics import Kinetics, kinetics_of, time_to_cure
from homunculus.core.cure.temperature import Constant, Programme
from homunculus.core.errors import UserError
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mould
from homunculus.core.job.shop import Air
from homunculus.core.job.sourced import Sourced

USUAL_HUMIDITY = 0.5
"""Relative humidity for which drying times are given: common practice, no source."""
SATURATED = 0.95
"""Above it nothing dries: common practice, no source."""
USUAL_LAYER_M = 0.01
"""How thick a gel lies where nobody has said: common practice, no source."""
BELOW_BAKE_C = 3.0
"""How far below the oven's temperature the soak is taken to begin: common practice, no source."""


class Cooling(Struct, frozen=True):
    """A layer that is poured hot and is firm below a temperature [°C]; its thickness [m], its diffusivity [m²/s]."""

    pour_c: float
    firm_c: float
    thickness_m: float
    diffusivity_m2_s: float

    def seconds(self, bench_c: float) -> float:
        """Time [s] until the slowest point is firm on a bench of ``bench_c`` [°C]; infinite where the bench is too warm.

        Plane wall cooled from one side, first term of the series, as long as it holds.
        """
        if bench_c >= self.firm_c:
            return math.inf
        left = (self.firm_c - bench_c) / (self.pour_c - bench_c)
        return 4 * self.thickness_m**2 / (math.pi**2 * self.diffusivity_m2_s) * max(0.0, math.log(4 / math.pi / left))


class Clock(Struct, frozen=True):
    """What runs a setting: the law of its speed, by how much thickness and moisture stretch the book's time, or a cooling."""

    kinetics: Kinetics
    stretch: float = 1.0
    cooling: Cooling | None = None
    words: str = ""
    """What stretches it, for a note."""

    def time(
        self, *, book: float, programme: Programme, start: datetime, lag: float, start_c: float | None = None
    ) -> float:
        """Seconds until it has set.

        Parameters
        ----------
        book
            Time at the reference [s].
        programme
            Air temperatures from ``start`` on.
        start
            Moment of the pour.
        lag
            Time constant of the mould [s].
        start_c
            Temperature of mould and mix at the start [°C]; the air's when left out.

        Returns
        -------
        float
            Infinite where it will not set here within 60 days.
        """
        if self.cooling:
            return self.cooling.seconds(programme.at(start))
        if not math.isfinite(self.stretch):
            return math.inf
        return time_to_cure(
            needed=book * self.stretch,
            kinetics=self.kinetics,
            programme=programme,
            start=start,
            lag=lag,
            start_c=start_c,
        )


def clock_of(card: MaterialCard, *, thickness: float | None = None, humidity: float = USUAL_HUMIDITY) -> Clock:
    """The clock of a material.

    Parameters
    ----------
    card
        What sets.
    thickness
        Of the layer [m]; where it is not known the card's own, for a gel 10 mm.
    humidity
        Relative humidity of the air, as a share.

    Raises
    ------
    UserError
        When the card lacks what its clock needs.
    """
    least = card.least_c.value if card.least_c else None
    match card.clock:
        case "baked":
            bake = _needed(card, card.bake_c, "the oven's temperature")
            return Clock(Kinetics(bake, None, bake - BELOW_BAKE_C, "baked"))
        case "gelled":
            cooling = Cooling(
                _needed(card, card.pour_c, "the temperature at which it is poured"),
                _needed(card, card.firm_c, "the temperature below which it is firm"), thickness or USUAL_LAYER_M,
                _needed(card, card.diffusivity_m2_s, "its thermal diffusivity"))  # fmt: skip
            return Clock(Kinetics(card.reference_c, None, None, "gelled"), 1.0, cooling)
        case "hydrated":
            return Clock(Kinetics(card.reference_c, None, least, "hydrated"))
        case "dried" | "moisture" as kind:
            ratio = (thickness / card.at_thickness_m.value) ** 2 if thickness and card.at_thickness_m else 1.0
            if kind == "dried":
                air = (1 - USUAL_HUMIDITY) / (1 - humidity) if humidity < SATURATED else math.inf
            else:
                air = USUAL_HUMIDITY / humidity if humidity > 0.05 else math.inf
            return Clock(Kinetics(card.reference_c, None, least, kind), ratio * air, None,
                         f"×{ratio:.2g} for its thickness, ×{air:.2g} for the air's moisture")  # fmt: skip
    return Clock(kinetics_of(card))


def mould_clock(card: MaterialCard, mould: Mould, air: Air) -> Clock:
    """The clock of a ``mould`` poured of a ``card`` in the shop's ``air``: asked by the plan, the log's bars and the curve alike."""
    return clock_of(card, thickness=mould.layer_m, humidity=air.humidity)


def book_c(card: MaterialCard) -> float:
    """The temperature [°C] at which the times of a ``card`` hold: of what is baked the oven's."""
    return card.bake_c.value if card.clock == "baked" and card.bake_c else card.reference_c


def in_its_air(card: MaterialCard, air: Programme, start: datetime) -> tuple[Programme, float | None]:
    """The temperatures around what sets, and its own at the beginning [°C]; none where that is theirs.

    Parameters
    ----------
    card
        What sets: what is baked goes from the room into its oven.
    air
        Of the shop.
    start
        When it is left alone.
    """
    if card.clock == "baked" and card.bake_c:
        return Constant(card.bake_c.value), air.at(start)
    return air, None


def pot_life_law(card: MaterialCard) -> Kinetics:
    """How fast a mixed ``card`` goes off in the cup: as it cures where that is chemical, the rule of ten for what is baked
    later, and a fixed time for what sets by water or cold."""
    if card.clock in ("chemical", "baked"):
        return kinetics_of(card)
    return Kinetics(card.reference_c, None, card.least_c.value if card.least_c else None, "hydrated")


def _needed(card: MaterialCard, value: Sourced | None, what: str) -> float:
    if value is None:
        raise UserError(f"The card of {card.name} does not say {what}", "cards", "Read it off the data sheet")
    return value.value
