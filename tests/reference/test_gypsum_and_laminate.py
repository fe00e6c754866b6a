"""Gypsum and laminate arithmetic against worked figures of the trade.

Gypsum: 100 parts of powder in c parts of water fill 100 / 2.63 + c cm³; for c = 70 that is 108.0 cm³ of 1.574 g/cm³ (grain
density from memory; volumes of grain and water add). Laminate: 450 g/m² mat wetted with 2.3 times its weight of resin, fibre
2560 and resin 1150 kg/m³ (usual data-sheet densities of glass and polyester, value from memory): 1.08 mm and 1.49 kg/m² a layer.
"""

import pytest

from homunculus import library
from homunculus.core.making import mixing, moulds


def test_a_hundred_parts_of_powder_in_seventy_of_water():
    mixed = {"powder": 100.0, "water": 70.0, "grain": 2630.0, "water_density": 1000.0}
    density = mixing.slurry_density(**mixed)
    assert 170.0 / density * 1000 == pytest.approx(108.0, abs=0.05)
    assert density == pytest.approx(1574, abs=1)
    assert mixing.dry_density(**mixed) == pytest.approx(1098, abs=1)  # 51.4 parts of water have left
    hard = mixed | {"grain": 2760.0, "water": 30.0}
    assert mixing.slurry_density(**hard) == pytest.approx(130 / (100 / 2760 + 0.03), rel=1e-9)


@pytest.mark.parametrize(("celsius", "density"), [(4, 999.975), (20, 998.207), (25, 997.048), (37, 993.333)])
def test_water_is_as_heavy_as_the_tables_say(celsius, density):
    # table values of air-free water: Tanaka et al. 2001, from memory
    assert mixing.water_density(celsius=celsius) == pytest.approx(density, abs=0.005)


def test_what_is_stirred_in_adds_its_volume():
    found = mixing.mixed_density(own=100.0, density=1100.0, softener=(15.0, 960.0))
    assert found.value == pytest.approx(1079, abs=0.5)
    assert "not known" in mixing.mixed_density(own=100.0, density=1100.0, dust=(5.0, None)).notes[0]


def test_a_laminate_is_neither_its_resin_nor_its_fibre():
    assert moulds.laminate_density(ratio=2.3, mat_density=2560.0, resin_density=1150.0) == pytest.approx(1380, abs=2)


def test_plaster_goes_by_the_bucket():
    # 180 kg in 13 buckets of 14 kg: a 12 L bucket with a third of head-room
    most = mixing.most_in_batch(
        vessel=0.012, head_room=1.35, density=1574.0, pot_life=720.0, margin=0.15, fixed=90.0, per_kg=20.0
    )
    assert mixing.batch_count(total=180.0, most=most.value).value == 13


@pytest.mark.parametrize(
    "card", [c for c in library.materials() if c.family == "gypsum" and c.grain_kg_m3], ids=lambda c: c.id
)
def test_the_cards_of_gypsum_agree_with_their_own_water(card):
    parts = {p.name: p.parts for p in card.parts}
    wet = mixing.slurry_density(**parts, grain=card.grain_kg_m3.value, water_density=998.2)
    assert card.density_kg_m3.value == pytest.approx(wet, rel=0.01)


def test_one_layer_of_mat():
    card = next(c for c in library.materials() if c.id == "laminate-polyester-mat")
    given = {"layers": 1, "mat": 0.45, "ratio": 2.3}
    thick = moulds.laminate_thickness(**given, mat_density=2560.0, resin_density=1150.0)
    assert thick == pytest.approx(1.08e-3, abs=0.005e-3)
    assert moulds.laminate_mass(area=1.0, **given) == pytest.approx(1.49, abs=0.006)
    assert card.mat_kg_m2.value == pytest.approx(0.45)
