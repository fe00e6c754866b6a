"""What is known of a form: volume, area, size, its shell curve and its outline.

Sources: solid geometry; Steiner's formula for parallel bodies (box: M = π(a + b + c)); Simpson's rule for
measured sections; displacement for weighed clay.
"""

from __future__ import annotations

import math
from functools import lru_cache
from itertools import pairwise

from msgspec import Struct

from homunculus.core.errors import UserError
from homunculus.core.form.outline import Polygon, outline, perimeter
from homunculus.core.form.parallel import ellipse_perimeter, ellipsoid_layers, frustum_depth
from homunculus.core.form.shell import Shell
from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Mesh, Sections, Sphere, WeighedClay
from homunculus.core.plan.facts import Facts, MeshFact

BALL = 4 / 3 * math.pi


class Measure(Struct, frozen=True):
    """A form, measured. Lengths in metres at the scale at which the form is drawn."""

    volume: float
    area: float
    size: tuple[float, float, float]
    """Length along the view, depth, height."""
    shell: Shell
    outline: tuple[Polygon, ...]
    parting_length: float
    """Length of the line around the outline, where two mould halves meet."""
    notes: tuple[str, ...] = ()

    def scaled(self, k: float) -> Measure:
        """Return the measure of the form enlarged ``k`` times in length (its outline included)."""
        if k == 1.0:
            return self
        return Measure(
            self.volume * k**3,
            self.area * k**2,
            (self.size[0] * k, self.size[1] * k, self.size[2] * k),
            self.shell.scaled(k),
            tuple(tuple((x * k, z * k) for x, z in polygon) for polygon in self.outline),
            self.parting_length * k,
            self.notes,
        )


def measure(form: Form, facts: Facts) -> Measure | None:
    """Measure a form; none for a mesh that has not been studied yet.

    Parameters
    ----------
    form
        The form, in the sizes it is drawn in.
    facts
        Mesh studies by content.

    Raises
    ------
    UserError
        When the form cannot be one: sections out of order, a mesh without volume.
    """
    if isinstance(form, Mesh):
        fact = facts.get(form.content)
        return _of_fact(fact, form.unit_m) if fact else None
    return _of_shape(form)


@lru_cache(maxsize=256)
def _of_shape(form: Box | Sphere | Cylinder | WeighedClay | Displaced | Sections) -> Measure:
    """Every plan measures every piece anew, and most of them have not changed."""
    match form:
        case Box(length_m=a, depth_m=b, height_m=c):
            edges = a + b + c
            volume, area = a * b * c, 2 * (a * b + b * c + c * a)
            shell = Shell(volume, area, (math.pi * edges, BALL), (-4 * edges, 8.0), min(a, b, c) / 2)
            size = (a, b, c)
        case Sphere(diameter_m=d):
            r = d / 2
            volume, area = BALL * r**3, 4 * math.pi * r**2
            shell = Shell(volume, area, (4 * math.pi * r, BALL), (-4 * math.pi * r, BALL), r)
            size = (d, d, d)
        case Cylinder():
            shell, size = _cone(form)
        case WeighedClay(mass_kg=mass, clay_density_kg_m3=density):
            shell, size = _ovoid(mass / density, form)
        case Displaced(water_m3=water):
            shell, size = _ovoid(water, form)
        case Sections():
            shell, size = _sections(form)
    shape = outline(form)
    notes = {
        WeighedClay: ("shell and area taken from an ovoid of these sizes, volume from the weight",),
        Displaced: ("shell and area taken from an ovoid of these sizes, volume from the water",),
        Sections: ("the layer outside taken from round sections of the same girth",),
    }.get(type(form), ())
    return Measure(shell.volume, shell.area, size, shell, shape, perimeter(shape[0]), notes)


def _of_fact(fact: MeshFact, unit: float) -> Measure:
    shell = Shell(fact.volume, fact.area, inradius=fact.depths[-1], at=fact.thicknesses, out_ratio=fact.outward_ratio,
                  in_at=fact.depths, in_ratio=fact.inward_ratio)  # fmt: skip
    notes = fact.notes()
    return Measure(fact.volume, fact.area, fact.size, shell, fact.outline, fact.around, notes).scaled(unit)


def _cone(form: Cylinder) -> tuple[Shell, tuple[float, float, float]]:
    r1, h = form.diameter_m / 2, form.height_m
    r2 = r1 if form.top_diameter_m is None else form.top_diameter_m / 2
    slant = math.hypot(h, r1 - r2)
    volume = math.pi * h / 3 * (r1 * r1 + r1 * r2 + r2 * r2)
    area = math.pi * (r1 + r2) * slant + math.pi * (r1 * r1 + r2 * r2)
    lean = math.atan2(r1 - r2, h)
    mean = math.pi * h + math.pi * (r1 * (math.pi / 2 + lean) + r2 * (math.pi / 2 - lean))

    widest = 2 * max(r1, r2)
    shell = Shell(volume, area, (mean, BALL), inradius=frustum_depth(r1, r2, h), frustum=(r1, r2, h))
    return shell, (widest, widest, h)


def _ovoid(volume: float, form: WeighedClay | Displaced) -> tuple[Shell, tuple[float, float, float]]:
    """A known volume; area and curvature of the ellipsoid of the same proportions and that volume."""
    known = "clay's weight" if isinstance(form, WeighedClay) else "water"
    sides = (form.length_m / 2, form.depth_m / 2, form.height_m / 2)
    k = (volume / (BALL * sides[0] * sides[1] * sides[2])) ** (1 / 3)
    if not 0.4 < k < 1.3:
        raise UserError(
            f"The {known} and the outer sizes do not fit each other", "form", f"Check the {known} and the three sizes"
        )
    a, b, c = (s * k for s in sides)
    area = mean = 0.0
    steps = 24
    for i in range(steps):  # midpoint rule over the sphere of directions, one octant
        up = (i + 0.5) / steps
        around = math.sqrt(1 - up * up)
        for j in range(steps):
            turn = (j + 0.5) / steps * math.pi / 2
            x, y = around * math.cos(turn), around * math.sin(turn)
            weight = 4 * math.pi / steps**2
            mean += weight * math.sqrt((a * x) ** 2 + (b * y) ** 2 + (c * up) ** 2)  # support function
            area += weight * a * b * c * math.sqrt((x / a) ** 2 + (y / b) ** 2 + (up / c) ** 2)
    # The integral of mean curvature is that of the support function over all directions.
    inradius = min(a, b, c)
    depths = tuple(inradius * i / 16 for i in range(17))
    layers = ellipsoid_layers(a, b, c, depths[1:])
    ratio = (area, *(layer / t for layer, t in zip(layers, depths[1:], strict=True)))
    shell = Shell(volume, area, (mean, BALL), inradius=inradius, in_at=depths, in_ratio=ratio)
    return shell, (form.length_m, form.depth_m, form.height_m)


def _sections(form: Sections) -> tuple[Shell, tuple[float, float, float]]:
    cuts = form.sections
    if any(b.at_m <= a.at_m for a, b in pairwise(cuts)):
        raise UserError("Sections must go upwards", "form", "List them from foot to top")
    volume = area = 0.0
    mean = math.pi * (cuts[-1].at_m - cuts[0].at_m)
    radius = [ellipse_perimeter(s.width_m / 2, s.depth_m / 2) / (2 * math.pi) for s in cuts]  # of equal girth
    turn_before = -math.pi / 2
    for i in range(len(cuts) - 1):
        p, q, h = cuts[i], cuts[i + 1], cuts[i + 1].at_m - cuts[i].at_m
        middle = (p.width_m + q.width_m) / 2 * (p.depth_m + q.depth_m) / 2
        volume += math.pi / 4 * h / 6 * (p.width_m * p.depth_m + 4 * middle + q.width_m * q.depth_m)  # Simpson
        slant = math.hypot(h, radius[i + 1] - radius[i])
        area += math.pi * (radius[i] + radius[i + 1]) * slant
        turn = math.atan2(radius[i + 1] - radius[i], h)
        mean += math.pi * radius[i] * ((math.pi / 2 - turn) if i == 0 else (turn_before - turn))
        turn_before = turn
    mean += math.pi * radius[-1] * (turn_before + math.pi / 2)
    area += math.pi / 4 * (cuts[0].width_m * cuts[0].depth_m + cuts[-1].width_m * cuts[-1].depth_m)
    inradius = min(max(min(s.width_m, s.depth_m) for s in cuts) / 2, (cuts[-1].at_m - cuts[0].at_m) / 2)
    size = (max(s.width_m for s in cuts), max(s.depth_m for s in cuts), cuts[-1].at_m - cuts[0].at_m)
    return Shell(volume, area, (mean, BALL), inradius=inradius, sections=cuts), size
