"""A form pulled to another size along the view, away from it, or up."""

from __future__ import annotations

import math

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Mesh, Section, Sections, Sphere, WeighedClay


def size_of(form: Form) -> tuple[float, float, float] | None:
    """Length, depth and height [m] of a ``form``, as it is drawn; none of a mesh, whose size is learned."""
    match form:
        case (
            Box(a, b, c) | WeighedClay(length_m=a, depth_m=b, height_m=c) | Displaced(length_m=a, depth_m=b, height_m=c)
        ):
            return a, b, c
        case Cylinder(d, h, top):
            widest = max(d, top or 0.0)
            return widest, widest, h
        case Sphere(d):
            return d, d, d
        case Sections(sections):
            return (
                max(s.width_m for s in sections),
                max(s.depth_m for s in sections),
                sections[-1].at_m - sections[0].at_m,
            )
    return None


def stretched(form: Form, side: int, to: float) -> Form:
    """Return a ``form`` whose length (``side`` 0), depth (1) or height (2) is ``to`` [m]; what is round stays round.

    Raises
    ------
    UserError
        Of a mesh, which is scaled by the unit that it was drawn in.
    """
    match form:
        case Box() | WeighedClay() | Displaced():
            return replace(form, **{("length_m", "depth_m", "height_m")[side]: to})
        case Sphere():
            return Sphere(to)
        case Cylinder(d, h, top):
            if side == 2:
                return Cylinder(d, to, top)
            times = to / max(d, top or 0.0)
            return Cylinder(_round(d * times), h, None if top is None else _round(top * times))
        case Sections(sections):
            now = size_of(form)
            assert now is not None
            times = to / now[side]
            field = ("width_m", "depth_m", "at_m")[side]
            foot = sections[0].at_m if side == 2 else 0.0
            return Sections(tuple(_pulled(s, field, foot + (getattr(s, field) - foot) * times) for s in sections))
        case Mesh():
            raise UserError(
                "A mesh has the size that it was drawn in", remedy="Say another unit for it, or drop another file"
            )
    raise AssertionError(form)


def _pulled(section: Section, field: str, value: float) -> Section:
    return replace(section, **{field: _round(value)})


def _round(value: float) -> float:
    return float(f"{value:.9g}")


def nice_step(size: float) -> float:
    """A round step of one, two or five for a thing of that ``size`` [m]: about a hundredth of it."""
    hundredth = max(size, 1e-6) / 100
    power = 10.0 ** math.floor(math.log10(hundredth))
    return next(m * power for m in (1, 2, 5, 10) if m * power >= hundredth * 0.999)
