"""Gypsum and laminate arithmetic against worked figures of the trade.

Gypsum: 100 parts of powder in c parts of water fill 100 / 2.63 + c cm³; for c = 70 that is 108.0 cm³ of 1.574 g/cm³ (grain
density from memory; volumes of grain and water add). Laminate: 450 g/m² mat wetted with 2.3 times its weight of resin, fibre
2560 and resin 1150 kg/m³ (usual data-sheet densities of glass and polyester, value from memory): 1.08 mm and 1.49 kg/m² a layer.
"""

import pytest

from homunculus import library
from homunculus.core.casting import mixing, moulds


def test_a_hundred_parts_of_powder_in_seventy_of_water():
    density = mixing.slurry_density(powder=100.0, water=70.0)
    assert 170.0 / density * 1000 == pytest.approx(108.0, abs=0.05)
    assert density == pytest.approx(1574, abs=1)


@pytest.mark.parametrize("card", [c for c in library.materials() if c.kind == "gypsum"], ids=lambda c: c.id)
def test_the_cards_of_gypsum_agree_with_their_own_water(card):
    parts = {p.name: p.parts for p in card.parts}
    assert card.density_kg_m3.value == pytest.approx(mixing.slurry_density(**parts), rel=0.01)


def test_one_layer_of_mat():
    card = next(c for c in library.materials() if c.kind == "laminate")
    given = {"layers": 1, "mat": 0.45, "ratio": 2.3}
    thick = moulds.laminate_thickness(**given, mat_density=2560.0, resin_density=1150.0)
    assert thick == pytest.approx(1.08e-3, abs=0.005e-3)
    assert moulds.laminate_mass(area=1.0, **given) == pytest.approx(1.49, abs=0.006)
    assert card.mat_kg_m2.value == pytest.approx(0.45)
