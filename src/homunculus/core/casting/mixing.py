"""Mixing by weight, and how many batches a pour takes."""

from __future__ import annotations

import math

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


GYPSUM_GRAIN_KG_M3 = 2630.0  # value from memory, for the set powder's grains


@rule("density = (powder + water) / (powder / 2.63 + water)", "volumes add: grain and water, no air kept")
def slurry_density(*, powder: float, water: float) -> float:
    """Density [kg/m³] of gypsum stirred in water, from the parts by weight of ``powder`` and ``water``."""
    return (powder + water) / (powder / GYPSUM_GRAIN_KG_M3 + water / 1000.0)


@rule("mix = total × its share / all shares", "arithmetic")
def mix_mass(*, total: float, share: float, shares: float) -> float:
    """Mass [kg] of one of several mixes of a ``total`` [kg]: its ``share`` of all ``shares``."""
    return total * share / shares


@rule("sum over the mixes", "arithmetic")
def all_mixes(**mixes: float) -> float:
    """Sum of what the mixes of one pour take: batches or seconds."""
    return sum(mixes.values())


@rule("pot life here = book / rate at the bench's temperature", "Arrhenius or rule of ten, by the card")
def pot_life_here(*, book: float, kinetics: Kinetics, bench: float) -> Outcome:
    """Pot life [s] at the ``bench`` [°C], from the ``book`` value [s] and the ``kinetics`` of the card."""
    rate = kinetics.rate(bench)
    note = f"{kinetics.law}; book value holds at {kinetics.reference_c:g} °C"
    return Outcome(book / rate if rate > 0 else LONGEST_S, (note,))


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


@rule("pour = batches × (fixed + per kg × batch)", "common practice, no source")
def pour_time(*, batches: int, batch: float, fixed: float, per_kg: float) -> float:
    """Time [s] to weigh, stir and pour all ``batches`` of so much [kg]: ``fixed`` [s] and ``per_kg`` [s/kg] each."""
    return batches * (fixed + per_kg * batch)


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
