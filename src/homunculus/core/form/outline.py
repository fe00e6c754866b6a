"""Outlines in the side view: polygons of (along, up) points, in metres."""

from __future__ import annotations

import math

from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Section, Sections, Sphere, WeighedClay

Point = tuple[float, float]
Polygon = tuple[Point, ...]


def outline(form: Form) -> tuple[Polygon, ...]:
    """Draw the side view of a form that is no mesh, its foot at height 0 and centred along.

    Parameters
    ----------
    form
        Any form but a mesh, whose outline is part of its study.

    Returns
    -------
    tuple of polygons
        Points [m] along and up.

    Raises
    ------
    TypeError
        For a mesh.
    """
    match form:
        case Box(length_m=length, height_m=height):
            return (_trapezium(length / 2, length / 2, height),)
        case Cylinder(diameter_m=foot, height_m=height, top_diameter_m=top):
            return (_trapezium(foot / 2, (foot if top is None else top) / 2, height),)
        case Sphere(diameter_m=d):
            return (_oval(d / 2, d / 2, d / 2),)
        case WeighedClay(length_m=length, height_m=height) | Displaced(length_m=length, height_m=height):
            return (_oval(length / 2, height / 2, height / 2),)
        case Sections(sections=sections):
            return (_both_sides(sections),)
    raise TypeError("the outline of a mesh is in its study")


def perimeter(polygon: Polygon) -> float:
    """Length [m] around a closed polygon."""
    return sum(math.dist(a, b) for a, b in zip(polygon, polygon[1:] + polygon[:1], strict=True))


def _trapezium(foot: float, top: float, height: float) -> Polygon:
    return ((-foot, 0.0), (foot, 0.0), (top, height), (-top, height))


def _oval(half_length: float, half_height: float, middle: float) -> Polygon:
    turns = (2 * math.pi * i / 48 for i in range(48))
    return tuple((half_length * math.cos(a), middle + half_height * math.sin(a)) for a in turns)


def _both_sides(sections: tuple[Section, ...]) -> Polygon:
    right = tuple((s.width_m / 2, s.at_m) for s in sections)
    return right + tuple((-x, z) for x, z in reversed(right))
