"""Mixing by weight, and how many batches a pour takes."""

from __future__ import annotations

import math
from typing import NamedTuple

from homunculus.core.cure.kinetics import LONGEST_S, Kinetics
from homunculus.core.figures import Outcome, rule


@rule("part = total × its parts / all parts", "parts by weight, the maker's data sheet")
def part_mass(*, total: float, part: float, all_parts: float) -> float:
    """Mass [kg] of one part of a mix of ``total`` [kg]: ``part`` out of ``all_parts`` by weight."""
    return total * part / all_parts


@rule("parts by weight = parts by volume × density of that part", "definition of density")
def weight_parts(*, parts: float, density: float) -> float:
    """Parts by weight of what comes as ``parts`` by volume with a ``density`` [kg/m³]; only their ratio counts."""
    return parts * density


@rule("part = share × the material's own parts", "common practice, no source")
def additive_parts(*, own: float, share: float) -> float:
    """Parts by weight of something stirred in: a ``share`` of the material's ``own`` parts."""
    return own * share


BOUND_WATER = 0.186
"""Water that hemihydrate binds, as a share of its own weight: stoichiometry, 1.5 × 18.015 / 145.15."""


@rule(
    "ρ = 999.97495 (1 − (T − 3.983)² (T + 301.8) / (522 529 (T + 69.35)))",
    "Tanaka et al. 2001, Metrologia 38; 0 to 40 °C",
)
def water_density(*, celsius: float) -> float:
    """Density [kg/m³] of air-free water at ``celsius``."""
    over = (celsius - 3.983035) ** 2 * (celsius + 301.797) / (522528.9 * (celsius + 69.34881))
    return 999.974950 * (1 - over)


@rule(
    "density = (powder + water) / (powder / grain + water / density of water)",
    "volumes add: grain and water, no air kept",
)
def slurry_density(*, powder: float, water: float, grain: float, water_density: float) -> float:
    """Density [kg/m³] of gypsum stirred in water, from the parts by weight of ``powder`` and ``water``.

    ``grain`` is the density of the unset powder's grains, ``water_density`` that of the water [kg/m³].
    """
    return (powder + water) / (powder / grain + water / water_density)


@rule(
    "dry density = (powder + bound water) / the volume that was poured",
    "18.6 % of the powder's weight is bound: stoichiometry",
)
def dry_density(*, powder: float, water: float, grain: float, water_density: float) -> float:
    """Density [kg/m³] of gypsum from which the loose water has left: ``powder`` and ``water`` as for the slurry.

    ``grain`` is the density of the grains, ``water_density`` that of the water [kg/m³].
    """
    return (powder + min(water, BOUND_WATER * powder)) / (powder / grain + water / water_density)


@rule("density = all parts / (own parts / own density + what is stirred in / its density)", "volumes add")
def mixed_density(*, own: float, density: float, **stirred: tuple[float, float | None]) -> Outcome:
    """Density [kg/m³] of ``own`` parts at a ``density`` with what is ``stirred`` in: (parts, density or none) each.

    What has no density of its own is taken as having the material's, and that is said.
    """
    mass, volume, unknown = own, own / density, []
    for name, (parts, other) in stirred.items():
        mass, volume = mass + parts, volume + parts / (other or density)
        if other is None:
            unknown.append(name)
    return Outcome(
        mass / volume, (f"density of {', '.join(unknown)} not known: taken as the material's",) if unknown else ()
    )


@rule("price of a kilogram = sum of parts × price / all parts", "the cards; of gypsum the powder is paid")
def mixed_price(*, own: float, price: float, **stirred: tuple[float, float | None]) -> Outcome:
    """Price [currency/kg] of the mix: ``own`` parts at a ``price`` [currency/kg], and what is ``stirred`` in (parts, price or none)."""
    mass, money, unknown = own, own * price, []
    for name, (parts, other) in stirred.items():
        mass, money = mass + parts, money + parts * (other or 0.0)
        if other is None:
            unknown.append(name)
    return Outcome(money / mass, (f"{', '.join(unknown)}: no price",) if unknown else ())


@rule(
    "joint = (batches one after another − 1) × (fixed + per kg × batch)",
    "from the first pour to the last: common practice",
)
def joint_time(*, batches: int, batch: float, fixed: float, per_kg: float, hands: int) -> float:
    """Time [s] from the first pour to the last of ``batches`` of so much [kg], ``hands`` mixing side by side.

    ``fixed`` [s] and ``per_kg`` [s/kg] are what one batch takes.
    """
    return (math.ceil(max(batches, 1) / hands) - 1) * (fixed + per_kg * batch)


@rule("sum of mass × price / all masses", "arithmetic")
def price_of_mixes(**inputs: float) -> float:
    """Price [currency/kg] of several mixes together: ``mass_1`` … [kg] at ``price_1`` … [currency/kg]."""
    masses = {name[5:]: value for name, value in inputs.items() if name.startswith("mass_")}
    return sum(mass * inputs[f"price_{i}"] for i, mass in masses.items()) / sum(masses.values())


@rule("its working time / its weight", "common practice, no source")
def pace(*, work: float, times: int, **masses: float) -> float:
    """Working time [s/kg] of what is worked in by hand: ``work`` [s] for all of so many ``times``, each of all ``masses`` [kg]."""
    mass = sum(masses.values())
    return work / times / mass if times and mass > 0 else 0.0


@rule("mix = volume × its share / all shares × its density", "arithmetic")
def mix_mass(*, volume: float, share: float, shares: float, density: float) -> float:
    """Mass [kg] of one of the mixes that fill a ``volume`` [m³]: its ``share`` of all ``shares``, its ``density`` [kg/m³]."""
    return volume * share / shares * density


@rule("sum over the mixes", "arithmetic")
def all_mixes(**mixes: float) -> float:
    """Sum of what the mixes of one pour take: batches or seconds."""
    return sum(mixes.values())


@rule("pot life here = book / rate at the bench's temperature", "Arrhenius or rule of ten, by the card")
def pot_life_here(*, book: float, kinetics: Kinetics, bench: float, stirred: float = 1.0) -> Outcome:
    """Pot life [s] at the ``bench`` [°C], from the ``book`` value [s] and the ``kinetics`` of the card.

    ``stirred`` is by how much what is stirred in stretches it.
    """
    rate = kinetics.rate(bench)
    note = f"{kinetics.law}; book value holds at {kinetics.reference_c:g} °C"
    return Outcome(book * stirred / rate if rate > 0 else LONGEST_S, (note,))


@rule("most in one batch = the lesser of vessel / head-room × density and what can be handled in the pot life",
      "head-room for drawing out air 3 to 4 times: common practice")  # fmt: skip
def most_in_batch(
    *, vessel: float, head_room: float, density: float, pot_life: float, margin: float, fixed: float, per_kg: float
) -> Outcome:
    """Largest batch [kg] by ``vessel`` [m³] over ``head_room`` and by ``pot_life`` [s].

    ``density`` in kg/m³; ``margin`` is the part of the pot life kept in hand; a batch takes ``fixed`` [s] and
    ``per_kg`` [s/kg] of handling.
    """
    by_vessel = vessel / head_room * density
    time = pot_life * (1 - margin) - fixed
    by_time = time / per_kg if per_kg > 0 else (math.inf if time > 0 else 0.0)
    if by_time <= 0:
        return Outcome(
            0.0, ("the pot life is shorter than it takes to weigh, stir and pour: cool it or choose a slower one",)
        )
    limit = "the vessel" if by_vessel <= by_time else "the pot life"
    return Outcome(min(by_vessel, by_time), (f"limited by {limit}",))


@rule("batches = total / most in one batch, rounded up", "arithmetic")
def batch_count(*, total: float, most: float) -> Outcome:
    """Number of even batches for a ``total`` [kg] with at ``most`` so much [kg] in each; 0 where none can be."""
    if most <= 0:
        return Outcome(0, ("no batch can be mixed in time",))
    return Outcome(max(1, math.ceil(total / most - 1e-9)))


@rule("batch = total / batches", "even batches, never a tiny last one: common practice")
def batch_mass(*, total: float, batches: int) -> float:
    """Mass [kg] of each of so many even ``batches`` of a ``total`` [kg]."""
    return total / max(batches, 1)


@rule("filled to = batch / density / vessel", "definition of density")
def filled_to(*, batch: float, density: float, vessel: float) -> float:
    """Share of a ``vessel`` [m³] that a ``batch`` [kg] of that ``density`` [kg/m³] takes before air is drawn out."""
    return batch / density / vessel


@rule("pour = batches one after another × (fixed + per kg × batch)", "common practice, no source")
def pour_time(*, batches: int, batch: float, fixed: float, per_kg: float, hands: int) -> float:
    """Time [s] to weigh, stir and pour all ``batches`` of so much [kg]: ``fixed`` [s] and ``per_kg`` [s/kg] each.

    ``hands`` is how many mix side by side.
    """
    return math.ceil(batches / hands) * (fixed + per_kg * batch)


@rule("left = pot life − (fixed + per kg × batch)", "common practice, no source")
def spare_time(*, pot_life: float, batch: float, fixed: float, per_kg: float) -> float:
    """What is left of the ``pot_life`` [s] when a ``batch`` [kg] is in the mould; negative when it gels before.

    ``fixed`` [s] and ``per_kg`` [s/kg] are what handling takes.
    """
    return pot_life - (fixed + per_kg * batch)


@rule("cost = mass × price", "the material's card")
def cost_of(*, mass: float, price: float) -> float:
    """Money for a ``mass`` [kg] at a ``price`` per kg."""
    return mass * price


class PotLifeShares(NamedTuple):
    """How a pot life is spent, as shares of it, or of what handling takes where that is longer."""

    gone: float
    pour: float
    stir: float
    spare: float
    kept: float
    """In hand, as the shop wants it."""


def pot_life_shares(*, life: float, hands: float, margin: float, gone: float = 0.0, stir: float = 0.0) -> PotLifeShares:
    """Part a pot life into what is gone, what handling takes, what is to spare and what is kept in hand.

    Parameters
    ----------
    life
        Pot life here [s].
    hands
        What weighing, stirring and pouring still take [s].
    margin
        Share of the pot life that the shop keeps in hand.
    gone
        Since the parts met [s].
    stir
        Of the handling, how long is stirred [s].
    """
    whole, stirred, gone = max(life, hands), min(stir, hands), min(gone, life)
    rest = max(0.0, life - gone - hands)
    kept = min(life * margin, rest)
    return PotLifeShares(*(part / whole for part in (gone, hands - stirred, stirred, rest - kept, kept)))


@rule("cost × (1 + tax)", "definition")
def with_tax(*, cost: float, tax: float) -> float:
    """What something costs with ``tax`` [share], whose ``cost`` is without."""
    return cost * (1 + tax)
