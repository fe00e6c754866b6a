"""Moulds from real geometry: rubber, laminate, flange, waste.

Volumes of layers come from the form's whole curve V(t) (:mod:`homunculus.core.form.shell`).
"""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule
from homunculus.core.form.measure import Measure

GEOMETRY = "geometry"


@rule(
    "V = V(t) of the form at this scale, from its curve; times the cavities",
    "Steiner's formula, or the mesh's distance field",
)
def blanket_volume(*, form: Measure, thickness: float, cavities: int = 1) -> Outcome:
    """Rubber [m³] of a blanket of ``thickness`` [m] over the whole ``form``, in each of the ``cavities``."""
    notes = form.notes
    if not form.shell.reaches(thickness):
        notes = (*notes, "thicker than the form was studied for: carried on along the last slope")
    return Outcome(form.shell.outward(thickness) * cavities, notes)


@rule(
    "V = (n·l + (n + 1)w)(d + 2w)(h + w) − n forms: rubber all round, between and above, the forms on the board",
    GEOMETRY,
)
def block_volume(*, form: Measure, wall: float, cavities: int = 1) -> Outcome:
    """Rubber [m³] that fills a box with ``wall`` [m] of rubber around the ``form`` and above it.

    The form stands on the box's floor board, so rubber covers it on five sides; several ``cavities`` stand in a row.
    """
    length, depth, height = form.size
    row = cavities * length + (cavities + 1) * wall
    return Outcome(row * (depth + 2 * wall) * (height + wall) - cavities * form.volume, form.notes)


@rule("V = (n·l + (n + 1)w)(d + 2w)(h + 2w) − n forms: two halves, closed all round", GEOMETRY)
def halves_volume(*, form: Measure, wall: float, cavities: int = 1) -> Outcome:
    """Stone [m³] of two halves with at least a ``wall`` [m] all round the ``form``; several ``cavities`` lie in a row."""
    length, depth, height = form.size
    row = cavities * length + (cavities + 1) * wall
    return Outcome(row * (depth + 2 * wall) * (height + 2 * wall) - cavities * form.volume, form.notes)


@rule("V = form − the layer of the gap inside its surface; times the cavities", "the form's curve V(t)")
def core_volume(*, form: Measure, gap: float, cavities: int = 1) -> Outcome:
    """Stone [m³] of a core that leaves a ``gap`` [m] all round inside the ``form``, in each of the ``cavities``."""
    left = form.volume - form.shell.inward(gap)
    notes = () if left > 0 else ("the gap fills the form: no core is left",)
    return Outcome(max(0.0, left) * cavities, (*form.notes, *notes))


@rule("extra = blanket × share", "common practice, no source")
def keys_volume(*, blanket: float, share: float) -> float:
    """Rubber [m³] in keys, spout and vents: ``share`` of the ``blanket`` [m³]."""
    return blanket * share


@rule("waste = the larger of share × rubber and the least", "common practice, no source")
def waste_volume(*, rubber: float, share: float, least: float) -> float:
    """Rubber [m³] lost to wetting and scraping: ``share`` of the ``rubber`` [m³], at the ``least`` [m³]."""
    return max(rubber * share, least)


@rule("sum of the parts", "arithmetic")
def total_volume(**parts: float) -> float:
    """Sum of volumes [m³]."""
    return sum(parts.values())


@rule("moulds × one mould", "arithmetic")
def of_all_moulds(*, one: float, moulds: int) -> float:
    """What ``moulds`` of the same size take, where ``one`` takes so much [kg, m³ or money]."""
    return one * moulds


@rule("ρ = (1 + r) / (1 / the fibre's density + r / the resin's density)", "rule of mixtures without voids")
def laminate_density(*, ratio: float, mat_density: float, resin_density: float) -> float:
    """Density [kg/m³] of a laminate with ``ratio`` times the mat's weight of resin.

    ``mat_density`` is that of the fibre, ``resin_density`` that of the resin [kg/m³].
    """
    return (1 + ratio) / (1 / mat_density + ratio / resin_density)


@rule("m = V × density", "definition")
def mass_of(*, volume: float, density: float) -> float:
    """Mass [kg] of a ``volume`` [m³] at a ``density`` [kg/m³]."""
    return volume * density


@rule("A = slope of V(t) at the blanket + 2 × (parting line × flange + 3.14 flange²); times the cavities", GEOMETRY)
def jacket_area(*, form: Measure, blanket: float, flange: float, cavities: int = 1) -> float:
    """Area [m²] to laminate: outside the ``blanket`` [m] of ``form``, and both ``flange`` [m] walls, of each of the ``cavities``."""
    around = form.parting_length + 2 * math.pi * blanket
    return cavities * (form.shell.area_outside(blanket) + 2 * (around * flange + math.pi * flange**2))


@rule("m = area × layers × mat × r × (1 + lost)", "rule of mixtures without voids")
def laminate_resin(*, area: float, layers: int, mat: float, ratio: float, waste: float = 0.0) -> float:
    """Mass [kg] of the resin alone in ``layers`` over an ``area`` [m²]: ``ratio`` times the weight of the ``mat`` [kg/m²].

    The share ``waste`` is lost on the way.
    """
    return area * layers * mat * ratio * (1 + waste)


@rule("V = V(t) of the form, coat by coat outward or inward", "the form's curve V(t)")
def layer_volume(*, form: Measure, thickness: float, inward: bool) -> float:
    """Material [m³] of a layer of a whole ``thickness`` [m] over the ``form``: ``inward``, or outward as a mould grows."""
    return form.shell.inward(thickness) if inward else form.shell.outward(thickness)


@rule("m = V × density × (1 + lost)", "definition")
def layer_mass(*, volume: float, density: float, waste: float) -> float:
    """Mass [kg] of a layer of a ``volume`` [m³] at a ``density`` [kg/m³], with the share ``waste`` that is lost on the way."""
    return volume * density * (1 + waste)


@rule("its share of all pours of this mould", "mass is conserved")
def share_of_pour(*, total: float, share: float, shares: float) -> float:
    """Mass [kg] of one pour of a ``total`` [kg] that is parted in proportion: ``share`` of all ``shares``."""
    return total * share / shares


@rule("t = mat / its density + r × mat / the resin's density, for each layer", "rule of mixtures without voids")
def laminate_thickness(*, layers: int, mat: float, ratio: float, mat_density: float, resin_density: float) -> float:
    """Thickness [m] of so many ``layers`` of ``mat`` [kg/m²] wetted with ``ratio`` times its weight of resin.

    ``mat_density`` is that of the fibre, ``resin_density`` that of the resin [kg/m³].
    """
    return layers * (mat / mat_density + ratio * mat / resin_density)


@rule("m = area × layers × mat × (1 + r)", "rule of mixtures without voids")
def laminate_mass(*, area: float, layers: int, mat: float, ratio: float) -> float:
    """Mass [kg] of ``layers`` over an ``area`` [m²]: ``mat`` [kg/m²], resin at ``ratio`` times its weight."""
    return area * layers * mat * (1 + ratio)


@rule("V = the wall inside the surface, or all of it when solid", "the form's curve V(t)")
def wall_volume(*, form: Measure, wall: float) -> float:
    """Material [m³] of a hollow ``form`` with a ``wall`` [m] inside its surface; solid when the wall is 0."""
    return form.shell.inward(wall) if wall else form.volume


@rule("total × its parts / all parts × its share", "mass is conserved; one material fills all parts")
def part_of_pour(*, total: float, share: float, shares: float, **volumes: float) -> Outcome:
    """Mass [kg] of one pour of a ``total`` [kg]: of the ``volumes`` [m³] those named ``in_…`` are its own, ``out_…`` those of others.

    It has a ``share`` of all ``shares`` of these parts.
    """
    mine, whole = sum(v for name, v in volumes.items() if name.startswith("in_")), sum(volumes.values())
    return Outcome(
        total * mine / whole * share / shares if whole else 0.0, () if mine else ("this mould has no such part",)
    )


@rule("what is cast, less what lies in it", GEOMETRY)
def around_what_is_in(*, volume: float, **inserted: float) -> Outcome:
    """Material [m³] of a casting of a ``volume`` [m³] around what was ``inserted`` [m³ each]."""
    left = volume - sum(inserted.values())
    return Outcome(max(0.0, left), () if left > 0 else ("what lies in it is larger than the casting",))


@rule("lengths / S, areas / S², volumes / S³", "similarity")
def form_at_scale(*, form: Measure, scale: float) -> Measure:
    """The ``form`` [real m] as built at a ``scale``."""
    return form.scaled(1 / scale)
