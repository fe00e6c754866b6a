"""Forms: what the outside of a piece is measured as, in the form's own metres."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Kilograms, Length, Size


class Box(Struct, frozen=True, forbid_unknown_fields=True, tag="box"):
    """A box: length along the view, depth away from it, height."""

    length_m: Size
    depth_m: Size
    height_m: Size


class Cylinder(Struct, frozen=True, forbid_unknown_fields=True, tag="cylinder"):
    """An upright cylinder, or with two diameters a cone cut off flat."""

    diameter_m: Size
    height_m: Size
    top_diameter_m: Length | None = None


class Sphere(Struct, frozen=True, forbid_unknown_fields=True, tag="sphere"):
    """A ball."""

    diameter_m: Size


class Section(Struct, frozen=True, forbid_unknown_fields=True):
    """One measured section: height above the foot, width and depth across."""

    at_m: Length
    width_m: Length
    depth_m: Length


class Sections(Struct, frozen=True, forbid_unknown_fields=True, tag="sections"):
    """A form measured in sections from foot to top, each taken as an oval."""

    sections: Annotated[tuple[Section, ...], Meta(min_length=2, max_length=500)]


class WeighedClay(Struct, frozen=True, forbid_unknown_fields=True, tag="weighed"):
    """A sculpt known by the weight of its clay and its three outer sizes."""

    mass_kg: Kilograms
    clay_density_kg_m3: Annotated[float, Meta(ge=10, le=25000)]
    length_m: Size
    depth_m: Size
    height_m: Size


class Displaced(Struct, frozen=True, forbid_unknown_fields=True, tag="displaced"):
    """A thing known by the water that it pushes out of a tub, and its three outer sizes."""

    water_m3: Annotated[float, Meta(ge=1e-9, le=1000)]
    length_m: Size
    depth_m: Size
    height_m: Size


class Mesh(Struct, frozen=True, forbid_unknown_fields=True, tag="mesh"):
    """A closed triangle mesh, kept in the job folder under the hash of its content."""

    content: Annotated[str, Meta(pattern="^[0-9a-f]{64}$")]
    file_name: str
    unit_m: Annotated[float, Meta(ge=1e-6, le=1000)]
    """Metres that one unit of the file stands for."""


Form = Box | Cylinder | Sphere | Sections | WeighedClay | Displaced | Mesh
