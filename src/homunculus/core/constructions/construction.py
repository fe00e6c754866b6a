"""What a way of making a mould tells of itself: planner, ladder, section and benches ask nothing else."""

from __future__ import annotations

from typing import Any, Literal, NamedTuple, Protocol

from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.build import Piece
from homunculus.core.plan.build_plan import Headline, Sheet

Surround = Literal["jacket", "box", "halves"]
"""What stands around what is poured: a laminated jacket with flanges, a box, nothing but its own two halves."""


class Line(NamedTuple):
    """One line of the section, at a distance from the form's surface."""

    name: Literal["form", "rubber", "jacket", "core"]
    outward_m: float
    """As built; inward where it is negative."""


class Construction(Protocol):
    """One way of making a mould. Its data is a struct of the job, its volumes are rules of :mod:`homunculus.core.making.moulds`."""

    @property
    def mould(self) -> type[Any]:
        """Its data."""

    @property
    def surround(self) -> Surround:
        """What stands around what is poured."""

    @property
    def volume(self) -> FigureSpec:
        """All that is poured."""

    @property
    def mass(self) -> FigureSpec:
        """The weight of it."""

    @property
    def layer(self) -> str:
        """The field that is the layer over the form, taken hold of on the drawing."""

    @property
    def handles(self) -> tuple[str, ...]:
        """Other fields that are taken hold of there."""

    @property
    def stack(self) -> tuple[tuple[FigureSpec, str], ...]:
        """The volumes that it is poured of, from the lowest up, waste last, with a word for each."""

    @property
    def foot(self) -> FigureSpec:
        """What is told beneath them."""

    def headline(self, mould: Any, piece: Piece) -> Headline:
        """What the line shows of a ``mould`` of a ``piece``."""

    def parts(self, sheet: Sheet, piece: Piece, mould: Any, form: Figure) -> dict[str, Figure]:
        """Derive the volumes that are poured over the ``form`` of a ``piece``, by name, waste left out, onto a ``sheet``; of a ``mould``."""

    def jacket(self, sheet: Sheet, piece: Piece, mould: Any, form: Figure) -> Figure | None:
        """Derive onto a ``sheet`` what stands around what is poured over the ``form`` of a ``piece`` in a ``mould``.

        None where nothing does, or where its card says too little.
        """

    def gap_m(self, mould: Any) -> float:
        """Thickness [m] of what is cast, where the ``mould`` gives it; 0 where the piece itself does."""

    def section(self, mould: Any, laminate_m: float) -> tuple[Line, ...]:
        """The lines of a section through a ``mould`` whose laminate is ``laminate_m`` [m] thick, from the form on."""
