"""What a way of making a mould tells of itself: planner, ladder, section and benches ask nothing else."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from homunculus.core.figures import Figure, FigureSpec, Given
from homunculus.core.job.build import Piece
from homunculus.core.plan.build_plan import Headline, Sheet

Surround = Literal["jacket", "box", "halves"]
"""What stands around what is poured: a laminated jacket with flanges, a box, nothing but its own two halves."""


class Line(NamedTuple):
    """One line of the section, at a distance from the form's surface."""

    name: Literal["form", "rubber", "jacket", "core"]
    outward_m: float
    """As built; inward where it is negative."""


def cavities(mould: Any, piece: Piece) -> dict[str, Given]:
    """The cavities of a ``mould`` of a ``piece`` as an input of a rule; nothing where there is but one."""
    if mould.cavities == 1:
        return {}
    return {"cavities": Given(mould.cavities, "count", "cavities of a mould", piece.name, decided=True)}


class Construction(ABC):
    """One way of making a mould. Its data is a struct of the job, its volumes are rules of :mod:`homunculus.core.making.moulds`."""

    mould: type[Any]
    """Its data."""
    surround: Surround
    volume: FigureSpec
    """All that is poured."""
    mass: FigureSpec
    layer: str
    """The field that is the layer over the form, taken hold of on the drawing."""
    handles: tuple[str, ...]
    """Other fields that are taken hold of there."""
    stack: tuple[tuple[FigureSpec, str], ...]
    """The volumes that it is poured of, from the lowest up, waste last, with a word for each."""
    foot: FigureSpec
    """What is told beneath them."""
    named: Mapping[str, FigureSpec]
    """The parts that may be poured by themselves, by the names that :meth:`parts` gives them."""

    @abstractmethod
    def headline(self, mould: Any, piece: Piece) -> Headline:
        """What the line shows of a ``mould`` of a ``piece``."""

    @abstractmethod
    def parts(self, sheet: Sheet, piece: Piece, mould: Any, form: Figure) -> dict[str, Figure]:
        """Derive the volumes that are poured over the ``form`` of a ``piece``, by name, waste left out, onto a ``sheet``; of a ``mould``."""

    @abstractmethod
    def jacket(self, sheet: Sheet, piece: Piece, mould: Any, form: Figure) -> Figure | None:
        """Derive onto a ``sheet`` what stands around what is poured over the ``form`` of a ``piece`` in a ``mould``.

        None where nothing does, or where its card says too little.
        """

    @abstractmethod
    def gap_m(self, mould: Any) -> float:
        """Thickness [m] of what is cast, where the ``mould`` gives it; 0 where the piece itself does."""

    @abstractmethod
    def section(self, mould: Any, laminate_m: float) -> tuple[Line, ...]:
        """The lines of a section through a ``mould`` whose laminate is ``laminate_m`` [m] thick, from the form on."""

    def laminate(self, mould: Any) -> str:
        """The card of the laminate of a ``mould``; empty where it has none."""
        return str(getattr(mould, "laminate", ""))

    def flange_m(self, mould: Any) -> float:
        """How far the flanges of a ``mould`` stand out [m]; 0 where it has none."""
        return 0.0
