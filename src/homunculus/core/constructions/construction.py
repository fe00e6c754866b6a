"""What a way of making a mould tells of itself: planner, ladder, section and benches ask nothing else."""

from __future__ import annotations

from abc import ABC, abstractmethod
from collections.abc import Mapping
from typing import Any, Literal, NamedTuple

from homunculus.core import specs
from homunculus.core.figures import Figure, FigureSpec, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.making import moulds
from homunculus.core.plan.build_plan import BuildSheet, Headline

Surround = Literal["jacket", "box", "halves"]
"""What stands around what is poured: laminate with flanges, a box, nothing but its own two halves."""


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


def laminated(sheet: BuildSheet, piece: Piece, mould: Any, form: Figure, beneath: Given) -> Figure | None:
    """Derive onto a ``sheet`` the laminate of a ``mould`` of a ``piece``: over the ``form`` and what lies ``beneath`` it, and on the flanges.

    None where the laminate's card says too little.
    """
    card, subject = sheet.context.cards.material(mould.laminate), sheet.subject(piece.id)
    area = sheet.add(derive(specs.JACKET_AREA, moulds.jacket_area, subject, form=form, blanket=beneath,
        flange=Given(mould.flange_m, "length", "flange", piece.name, decided=True), **cavities(mould, piece)))  # fmt: skip
    if not (card.mat_kg_m2 and card.resin_to_mat):
        return None
    layers = Given(mould.layers, "count", "layers", piece.name, decided=True)
    mat = Given(card.mat_kg_m2.value, "areal_density", "mat", card.name)
    ratio = Given(card.resin_to_mat.value, "factor", "resin to mat", card.name)
    if card.mat_density_kg_m3:
        sheet.add(derive(specs.JACKET_THICKNESS, moulds.laminate_thickness, subject, layers=layers, mat=mat,
            ratio=ratio, mat_density=Given(card.mat_density_kg_m3.value, "density", "fibre", card.name),
            resin_density=Given(card.density_kg_m3.value, "density", "resin", card.name)))  # fmt: skip
    sheet.add(derive(specs.RESIN, moulds.laminate_resin, subject, area=area, layers=layers, mat=mat, ratio=ratio))
    return sheet.add(
        derive(specs.JACKET, moulds.laminate_mass, subject, area=area, layers=layers, mat=mat, ratio=ratio)
    )


class Construction(ABC):
    """One way of making a mould. Its data is a struct of the job, its volumes are rules of :mod:`homunculus.core.making.moulds`."""

    mould: type[Any]
    """Its data."""
    surround: Surround
    hard: bool = False
    """Whether its halves bend no more than stone: what is undercut locks in them."""
    matter: str
    """What is poured, in a word: rubber, stone, gel coat."""
    poured: str
    """The field that names what is poured."""
    volume: FigureSpec
    """All that is poured."""
    mass: FigureSpec
    layer: str
    """The field that is the layer over the form, taken hold of on the drawing."""
    thickness: str
    """The field that says how thick what is poured lies; a line and the mould's ``layer_m`` tell it."""
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
    def parts(self, sheet: BuildSheet, piece: Piece, mould: Any, form: Figure) -> dict[str, Figure]:
        """Derive the volumes that are poured over the ``form`` of a ``piece``, by name, waste left out, onto a ``sheet``; of a ``mould``."""

    @abstractmethod
    def jacket(self, sheet: BuildSheet, piece: Piece, mould: Any, form: Figure) -> Figure | None:
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
