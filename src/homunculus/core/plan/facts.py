"""Facts: results of slow work, keyed by the content that they came from, and the wants that ask for them."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Literal

from msgspec import Struct

STUDY_VERSION = 4
"""Raised when the study of meshes changes, so that older facts are studied again."""


class MeshFact(Struct, frozen=True):
    """The study of one mesh, in the mesh's own units.

    ``thicknesses`` with ``outward_ratio`` and ``inward_ratio`` are the curve V(t)/t
    (:class:`homunculus.core.form.shell.Shell`); ``outline`` is the side view, foot at 0, centred along.
    """

    content: str
    version: int
    faces: int
    volume: float
    area: float
    size: tuple[float, float, float]
    open_edges: int
    turned_edges: int
    thicknesses: tuple[float, ...]
    outward_ratio: tuple[float, ...]
    inward_ratio: tuple[float, ...]
    """At the ``depths``, the last of which is where the layer fills the form."""
    band: float
    """Uncertainty of the curve, as a share."""
    outline: tuple[tuple[tuple[float, float], ...], ...]
    around: float
    """Length around the largest polygon of the outline, where two mould halves meet."""
    shells: int = 1
    inside_out: int = 0
    """Shells that face the wrong way."""
    depths: tuple[float, ...] = (0.0, 1.0)
    cavities: int = 0
    hollow: float = 0.0
    """Volume that closed cavities take out of the form."""
    joined: bool = False
    """Whether shells run into each other: volume and area are then those of all of them together."""
    shared_edges: int = 0
    undercut: float = 0.0
    """Share of the side view in which a rigid mould of two halves, parted along the outline, would lock."""
    overhang: float = 0.0
    """Share of the view from above in which a sheet drawn over the form would lock."""

    @property
    def sound(self) -> bool:
        """Whether its numbers can be those of a form; a study that was damaged is made again."""
        rising = all(b > a for a, b in pairwise(self.thicknesses)) and all(b > a for a, b in pairwise(self.depths))
        ratios = (*self.outward_ratio, *self.inward_ratio)
        return (rising and self.volume > 0 and self.area > 0 and min(self.size) > 0 and all(r >= 0 for r in ratios)
                and len(self.thicknesses) == len(self.outward_ratio) > 2 and len(self.depths) == len(self.inward_ratio) > 2)  # fmt: skip

    @property
    def torn(self) -> bool:
        """Whether there is something to mend."""
        return bool(self.open_edges or self.turned_edges or self.inside_out)

    @property
    def cavity_words(self) -> str:
        """The closed cavities, as a question."""
        what = "a closed cavity" if self.cavities == 1 else f"{self.cavities} closed cavities"
        meant = "is it meant?" if self.cavities == 1 else "are they meant?"
        return f"{what} of {self.hollow / (self.volume + self.hollow):.1%} of the form: {meant}"

    def notes(self) -> tuple[str, ...]:
        """Say what the state of the surface means for the numbers."""
        said = []
        if self.open_edges:
            said.append(
                f"{self.open_edges} open edges: the surface is not closed, so volume and weights are only as good "
                "as the holes are small"
            )
        if self.turned_edges:
            said.append(
                f"{self.turned_edges} edges where neighbours face opposite ways: part of the volume counts backwards"
            )
        if self.inside_out:
            whole = (
                "all of it is" if self.inside_out == self.shells else f"{self.inside_out} of {self.shells} shells are"
            )
            said.append(f"{whole} inside out: what they enclose is counted the wrong way round")
        if self.shared_edges:
            said.append(f"{self.shared_edges} edges where more than two faces meet: fins or seams, taken as one body")
        if self.joined:
            said.append("parts that run into each other are taken as one body; layers lie on its outer surface")
        if self.cavities:
            said.append(f"{self.cavity_words} No layer lies in it")
        said.append(f"layers from the mesh's own distance field, within {self.band:.1%}")
        return tuple(said)


Facts = Mapping[str, MeshFact]


class Want(Struct, frozen=True):
    """Slow work that is asked for: what kind of fact, and the key of what it is about."""

    kind: Literal["study", "field", "coarse"]
    """The study of a mesh; the distance field of a form; a coarse copy of a mesh."""
    key: str
    """The content of a mesh, or a form in words: what the fact is kept by."""
    name: str
    """What a person calls it."""
