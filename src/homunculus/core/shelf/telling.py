"""What a card tells at a glance: one fact, how much the largest pack holds, where its values lie among those of its family."""

from __future__ import annotations

from typing import Any, NamedTuple

from homunculus.core.job.bodies import BodyCard
from homunculus.core.job.cameras import CameraCard, LensCard
from homunculus.core.job.cards import HazardCard, MaterialCard
from homunculus.core.job.workshop import BoughtCard, Machine, Oven, Person, Scale, StageCard, Vessel
from homunculus.core.quantities import Kind, System
from homunculus.core.shelf.sheet import kind_of_row, shown
from homunculus.core.shelf.stock import Family
from homunculus.core.showing import show, trimmed

DRUM_M3 = 0.025
"""A pack that is drawn as large as can be: five gallons, the largest that one person carries. Common practice, no source."""
CLOCK_WORDS = {
    "chemical": "cures by itself", "baked": "baked in an oven", "gelled": "firm when cold", "dried": "dries", "hydrated": "sets with water",
    "moisture": "cures with the air’s moisture",
}  # fmt: skip


def fact_of(card: Any, system: System = "metric", currency: str = "€") -> str:
    """The one fact by which a ``card`` is told from its neighbours, in a ``system`` of units and a ``currency``."""

    def told(value: float, kind: Kind) -> str:
        return shown(value, kind, system, currency)

    match card:
        case MaterialCard(price_per_kg=price):
            return f"{currency} {price.value:.4g} a kg" if price else ""
        case CameraCard(modes=modes):
            return f"to {max(max(mode.rates_fps) for mode in modes):g} fps"
        case LensCard(widest=widest, narrowest=narrowest):
            return f"{told(widest.value, 'stop')} to {told(narrowest.value, 'stop')}"
        case Person(skills=skills):
            return ", ".join(skills) or "no skill said"
        case Oven(width_m=width, depth_m=depth, height_m=height, highest_c=celsius):
            return f"{' × '.join(told(side, 'length') for side in (width, depth, height))}, to {told(celsius, 'temperature')}"
        case Vessel(volume_m3=volume, vacuum=vacuum):
            return told(volume, "volume") + (", vacuum" if vacuum else "")
        case Scale(most_kg=most, step_kg=step):
            return f"{told(most, 'mass')}, to {told(step, 'mass')}"
        case Machine(does=does, width_m=width, depth_m=depth, height_m=height):
            return f"{does}, {' × '.join(told(side, 'length') for side in (width, depth, height))}"
        case StageCard(width_m=width, depth_m=depth, height_m=height):
            return " × ".join(told(side, "length") for side in (width, depth, height))
        case BoughtCard(price=price):
            return told(price.value, "money") if price else "no price said"
        case BodyCard(part=part, stature_m=stature):
            return part + (f", {trimmed(show(stature.value, 'length', system))}" if stature else "")
        case HazardCard(steps=steps):
            return ", ".join(steps)
    return ""


def largest_pack(card: MaterialCard) -> float:
    """How large the largest pack of a ``card`` is beside a drum, by its length: the cube root of the share of the volume; 1 at most.

    Where no pack is known it is as large as a kilogram.
    """
    mass = max((pack.mass_kg for pack in card.packs), default=1.0)
    return min(1.0, float((mass / card.density_kg_m3.value / DRUM_M3) ** (1 / 3)))


class Strip(NamedTuple):
    """Where a value lies among those of its family, as shares of what is usual."""

    mine: float
    others: tuple[float, ...]
    usual: tuple[str, str]
    """The ends of the strip in words."""

    @property
    def outside(self) -> bool:
        """Whether it lies beyond what is usual."""
        return not 0 <= self.mine <= 1


def strip_of(card: Any, key: str, families: tuple[Family, ...], stock: tuple[MaterialCard, ...], system: System = "metric",
             currency: str = "€") -> Strip | None:  # fmt: skip
    """Where the row ``key`` of a ``card`` lies among what is usual in its family; none where nobody knows.

    Parameters
    ----------
    card
        A material.
    key
        One of its rows.
    families
        That tell what is usual.
    stock
        All materials: those of the same family are marked too.
    system, currency
        In which the ends are told.
    """
    family = next((f for f in families if f.id == getattr(card, "family", "")), None)
    usual = next((u for u in family.usual if u.field == key), None) if family else None
    value = getattr(card, key, None)
    if usual is None or value is None:
        return None
    card_type: Any = MaterialCard
    kind: Kind = kind_of_row(card_type, key) or "factor"
    reach = usual.most - usual.least

    def share(number: float) -> float:
        return (number - usual.least) / reach

    others = tuple(
        share(found.value)
        for one in stock
        if one.family == card.family and one.id != card.id and (found := getattr(one, key))
    )
    ends = (shown(usual.least, kind, system, currency), shown(usual.most, kind, system, currency))
    return Strip(share(value.value), tuple(o for o in others if 0 <= o <= 1), ends)
