"""Units against pint 0.25, a general units library; and laminate arithmetic by the rule of mixtures.

Laminate: 450 g/m² mat, resin 2.3:1 by weight, 2560 and 1150 kg/m³ → 1.08 mm and 1.49 kg/m² a layer (computed).
Gypsum: 100 parts powder in 70 parts water fill 100/2.63 + 70 = 108.0 cm³, wet 1.574 g/cm³ (2.63: value from memory).
"""

import pint
import pytest

from homunculus import library
from homunculus.core.making import moulds
from homunculus.core.quantities import _UNITS, parse

NAMES = {
    '"': "inch", "″": "inch", "'": "foot", "′": "foot", "m2": "m**2", "m²": "m**2", "cm2": "cm**2", "cm²": "cm**2",
    "mm2": "mm**2", "mm²": "mm**2", "ft2": "ft**2", "ft²": "ft**2", "in2": "in**2", "in²": "in**2", "m3": "m**3",
    "m³": "m**3", "cm3": "cm**3", "cm³": "cm**3", "cc": "cm**3", "in3": "in**3", "in³": "in**3", "ft3": "ft**3",
    "ft³": "ft**3", "gal": "US_liquid_gallon", "qt": "US_liquid_quart", "pt": "US_pint", "fl oz": "US_fluid_ounce",
    "lbs": "lb", "t": "metric_ton", "kg/m3": "kg/m**3", "kg/m³": "kg/m**3", "g/cm3": "g/cm**3", "g/cm³": "g/cm**3",
    "g/ml": "g/mL", "kn": "knot", "sec": "s", "min": "minute", "hr": "hour", "hours": "hour", "days": "day", "d": "day",
    "h": "hour", "fc": "lumen/foot**2", "lx": "lux", "°": "degree", "deg": "degree", "in": "inch", "um": "µm", "ml": "mL",
    "l": "L", "cl": "cL", "mph": "mile/hour", "kj/mol": "kJ/mol", "j/mol": "J/mol",
    "v": "V", "kv": "kV", "a": "A", "ma": "mA", "mv": "mV", "mw": "mW", "w": "W", "kw": "kW", "lm/w": "lm/W", "cd/m2": "cd/m**2", "cd/m²": "cd/m**2", "nit": "cd/m**2",
    "nits": "cd/m**2", "g/m3": "g/m**3", "g/m³": "g/m**3", "m/s2": "m/s**2", "m/s²": "m/s**2", "ft/s2": "ft/s**2", "ft/s²": "ft/s**2", "n": "N", "lbf": "lbf",
    "kgf": "kgf", "kg/h": "kg/hour", "g/min": "g/minute", "lb/h": "lb/hour", "oz/min": "oz/minute",
}  # fmt: skip
BASE = {"length": "m", "area": "m**2", "volume": "m**3", "mass": "kg", "density": "kg/m**3", "duration": "s",
        "speed": "m/s", "illuminance": "lux", "angle": "radian", "energy_per_mole": "J/mol", "voltage": "V",
        "current": "A", "power": "W", "efficacy": "lm/W", "luminance": "cd/m**2", "luminous_flux": "lm",
        "force": "N", "acceleration": "m/s**2", "mass_flow": "kg/s"}  # fmt: skip


@pytest.fixture(scope="module")
def units():
    return pint.UnitRegistry()


@pytest.mark.parametrize("kind", sorted(BASE))
def test_every_unit_is_as_large_as_the_library_says(units, kind):
    for name, factor in _UNITS[kind].items():
        known = "kN" if (kind, name) == ("force", "kn") else NAMES.get(name, name)  # of speed it is a knot
        theirs = units.Quantity(1, known).to(BASE[kind]).magnitude
        assert factor == pytest.approx(theirs, rel=1e-9), name


@pytest.mark.parametrize("fahrenheit", [-40, 32, 73, 212])
def test_fahrenheit(units, fahrenheit):
    theirs = units.Quantity(fahrenheit, "degF").to("degC").magnitude
    assert parse(f"{fahrenheit} F".replace("-", "−"), "temperature") == pytest.approx(theirs)


def test_one_layer_of_450_g_mat():
    card = next(c for c in library.materials() if c.id == "laminate-polyester-mat")
    thick = moulds.laminate_thickness(layers=1, mat=card.mat_kg_m2.value, ratio=card.resin_to_mat.value,
                                      mat_density=card.mat_density_kg_m3.value, resin_density=card.density_kg_m3.value)  # fmt: skip
    assert thick * 1e3 == pytest.approx(1.08, abs=5e-3)
    assert moulds.laminate_mass(area=1.0, layers=1, mat=0.45, ratio=2.3) == pytest.approx(1.49, abs=6e-3)


def test_plaster_poured_wet():
    card = next(c for c in library.materials() if c.id == "gypsum-fine")
    powder, water = (part.parts for part in card.parts)
    volume = powder / 2.63 + water
    assert volume == pytest.approx(108.0, abs=0.05)
    assert card.density_kg_m3.value == pytest.approx((powder + water) / volume * 1e3, abs=1.0)
