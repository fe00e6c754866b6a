"""Sections of a body from its girths: each girth an oval of its width to depth, reduced for a skin that stretches on, or built over."""

from __future__ import annotations

import itertools
import math
from collections.abc import Iterator
from typing import NamedTuple

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.form.parallel import ellipse_perimeter
from homunculus.core.job.bodies import PAIRED, BodyCard, Level, Limb
from homunculus.core.job.forms import Section, Sections

BODY_KG_M3 = 1010.0
"""Of a living body with air in its lungs: it floats with little of it out of the water. Between 985 (deep breath) and 1060 kg/m³ (all air out),
hydrodensitometry after Siri 1961 and Brožek 1963, values from memory."""
ORDER: tuple[Limb, ...] = ("trunk", "head", "arm", "leg", "hand", "foot")


def oval(girth: float, aspect: float) -> tuple[float, float]:
    """Width and depth [m] of the oval of a ``girth`` [m] that is ``aspect`` times as wide as deep: the perimeter goes with the size, so nothing is solved for."""
    depth = girth / ellipse_perimeter(aspect / 2, 0.5)
    return aspect * depth, depth


class Part(NamedTuple):
    """A limb as a form, and where it stands."""

    limb: Limb
    side: str
    """left, right, or nothing where there is but one."""
    form: Sections
    along_m: float
    up_m: float

    @property
    def name(self) -> str:
        """What its piece is called."""
        return f"{self.side} {self.limb}".strip()


def parts_of(body: BodyCard, *, reduced: float = 0.0, over_m: float = 0.0) -> tuple[Part, ...]:
    """The limbs of a ``body`` as forms.

    Parameters
    ----------
    body
        With at least two levels of each limb that it has.
    reduced
        Share by which every girth is smaller, as for a suit that stretches on. Heights stay.
    over_m
        How far the surface is built over [m], all round and at both ends.

    Raises
    ------
    UserError
        When a limb has one level, two at one height, or nothing is left.
    """
    found = [part for limb in ORDER for part in _limb(body, limb, reduced, over_m)]
    if not found:
        raise UserError(
            f"{body.name} has no level yet", remedy="Type at least two: chest: 1.29 m up, 106 cm round, 1.3 wide"
        )
    return tuple(found)


def _limb(body: BodyCard, limb: Limb, reduced: float, over: float) -> Iterator[Part]:
    levels = sorted((level for level in body.levels if level.limb == limb), key=lambda level: level.at_m)
    if not levels:
        return
    if len(levels) < 2:
        raise UserError(
            f"The {limb} of {body.name} has one level", remedy="Type another one: it goes from level to level"
        )
    same = next((a for a, b in itertools.pairwise(levels) if a.at_m == b.at_m), None)
    if same:
        raise UserError(
            f"Two levels of the {limb} of {body.name} are at one height, {same.name}",
            remedy="Type another height for one of them",
        )
    foot, top = levels[0].at_m - over, levels[-1].at_m + over
    cuts = [_cut(level, reduced, over, foot) for level in levels]
    if over:
        cuts = [_at(cuts[0], 0.0), *cuts, _at(cuts[-1], top - foot)]
    form = Sections(tuple(cuts))
    sides = (("left", -1), ("right", 1)) if body.part == "whole" and limb in PAIRED else (("", 0),)
    apart = body.arm_apart_m if limb in ("arm", "hand") else body.leg_apart_m
    for side, sign in sides:
        yield Part(limb, side, form, sign * apart / 2, foot)


def _cut(level: Level, reduced: float, over: float, foot: float) -> Section:
    girth = level.girth_m * (1 - reduced)
    width, depth = oval(girth, level.aspect)
    if width + 2 * over <= 0 or depth + 2 * over <= 0:
        raise UserError(f"Nothing is left of {level.name}", remedy="Reduce by less")
    return Section(level.at_m - foot, width + 2 * over, depth + 2 * over)


def _at(cut: Section, height: float) -> Section:
    return Section(height, cut.width_m, cut.depth_m)


def outlines(parts: tuple[Part, ...]) -> tuple[tuple[tuple[tuple[float, float], ...], ...], float, float]:
    """The outlines of ``parts`` from the front, and how wide and high all of them are.

    Returns
    -------
    tuple
        For each part its corners, across from the body's middle and up from the floor [m]; then width and height [m].
    """
    made = []
    for part in parts:
        right = [(part.along_m + cut.width_m / 2, part.up_m + cut.at_m) for cut in part.form.sections]
        left = [(part.along_m - cut.width_m / 2, part.up_m + cut.at_m) for cut in reversed(part.form.sections)]
        made.append((*right, *left))
    wide = 2 * max(abs(x) for corners in made for x, _ in corners)
    return tuple(made), wide, max(z for corners in made for _, z in corners)


def scaled_to(body: BodyCard, stature_m: float, mass_kg: float | None) -> BodyCard:
    """A ``body`` of another stature and, where it is said, mass: heights go with the stature, girths so that the mass comes out.

    Parameters
    ----------
    body
        One that says its stature.
    stature_m
        Of the other one [m].
    mass_kg
        Of the other one; where none is said it goes with the cube of the stature.

    Raises
    ------
    UserError
        When the body says no stature, or no mass where one is asked for.
    """
    if body.stature_m is None:
        raise UserError(f"{body.name} says no stature", remedy="Type its stature on its sheet")
    tall = stature_m / body.stature_m.value
    wide = tall
    if mass_kg is not None:
        if body.mass_kg is None:
            raise UserError(f"{body.name} says no weight", remedy="Type what it weighs on its sheet")
        wide = math.sqrt(mass_kg / body.mass_kg.value / tall)
    told = f"after {body.name}"
    levels = tuple(
        replace(level, at_m=level.at_m * tall, girth_m=level.girth_m * wide, source=told) for level in body.levels
    )
    mass = mass_kg if mass_kg is not None else body.mass_kg.value * tall**3 if body.mass_kg else None
    return replace(
        body, stature_m=replace(body.stature_m, value=stature_m, source="typed by hand"), levels=levels,
        mass_kg=replace(body.mass_kg, value=mass, source="typed by hand" if mass_kg is not None else told) if body.mass_kg and mass else body.mass_kg,
        arm_apart_m=body.arm_apart_m * wide, leg_apart_m=body.leg_apart_m * wide,
    )  # fmt: skip
