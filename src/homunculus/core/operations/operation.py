"""What a kind of operation tells of itself: planners ask nothing else."""

from __future__ import annotations

from typing import Any, ClassVar, NamedTuple

from homunculus.core import specs
from homunculus.core.cure.clock import clock_of
from homunculus.core.figures import Figure, Given, rule
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.job.operations import Loop
from homunculus.core.plan.build_plan import BuildSheet, Matter, PourOf, Setting
from homunculus.core.planners.counts import moulds_of
from homunculus.core.planners.scale import form_of, on_the_figure


@rule("(fixed + for each m² × surface + for each kg × weight) × how often", "common practice, no source")
def working_time(*, fixed: float = 0.0, per_m2: float = 0.0, area: float = 0.0, per_kg: float = 0.0, mass: float = 0.0,
                 times: int = 1, coats: int = 1) -> float:  # fmt: skip
    """Working time [s] of an operation: ``fixed`` [s], ``per_m2`` [s/m²] of an ``area`` [m²], ``per_kg`` [s/kg] of a ``mass`` [kg],
    so many ``times``, in so many ``coats``."""
    return (fixed + per_m2 * area + per_kg * mass) * times * coats


class Mixed(NamedTuple):
    """What an operation mixes."""

    of: PourOf
    card: str
    mixes: tuple[Mix, ...]
    keyed: bool
    """Whether its batches need not run into one body."""


class OperationKind:
    """One kind of operation. Its data is a struct of :mod:`homunculus.core.job.operations`.

    What a kind does not say, it does not do: no hands, no clock, nothing mixed.
    """

    data: ClassVar[type[Any]]
    unbroken: ClassVar[bool] = False
    """Whether the hands cannot be left overnight."""
    laid_aside: ClassVar[bool] = False
    """Whether long work may be left for something else, and taken up again."""
    one_bar: ClassVar[bool] = False
    """Whether all its turns are shown as one, from the first begun to the last out."""
    hands_matter: ClassVar[Matter] = "labour"
    """What its hands are drawn as."""
    worked_in: ClassVar[bool] = False
    """Whether what it mixes is used up little by little, as fast as hands lay it up or brush it."""
    needs_mould: ClassVar[bool] = False
    """Whether there is nothing to do where the piece has no mould."""

    def mixed(self, piece: Piece, op: Any) -> Mixed | None:
        """What an ``op`` of a ``piece`` mixes; none where nothing is."""
        return None

    def mass(self, sheet: BuildSheet, piece: Piece, op: Any, index: int) -> Figure | None:
        """Derive onto the ``sheet`` the mass [kg] that an ``op`` of a ``piece`` mixes of its mix ``index``, once; none where it is not known."""
        return None

    def setting(self, sheet: BuildSheet, piece: Piece, op: Any, card: MaterialCard) -> Setting | None:
        """How what an ``op`` of a ``piece`` mixed of a ``card`` sets; none where its card does not say when. ``sheet`` has the air."""
        return Setting(card, clock_of(card, humidity=sheet.context.shop.air.humidity)) if card.demould_s else None

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Any) -> Figure | None:
        """Derive onto the ``sheet`` the working time of an ``op``, as often as it is done; none without hands.

        ``piece`` is none in an assembly.
        """
        return None

    def inputs(self, sheet: BuildSheet, piece: Piece | None, op: Any) -> dict[str, Figure | Given]:
        """The inputs that all work has: what is fixed, and how often. ``sheet``, ``piece`` and ``op`` as for :meth:`work`."""
        whose = piece.name if piece else sheet.context.build.name
        found: dict[str, Figure | Given] = {"fixed": Given(op.work_s, "duration", op.called, whose, decided=True)}
        return found | ({"times": often} if (often := how_often(sheet, piece, op.loop)) else {})

    def times(self, sheet: BuildSheet, piece: Piece, op: Any) -> int:
        """How often what an ``op`` of a ``piece`` of the ``sheet``'s build mixes is mixed, its coats aside."""
        often = how_often(sheet, piece, op.loop)
        return round(often.number if isinstance(often, Figure) else often.value) if often else 1

    def coats(self, op: Any) -> int:
        """In how many coats an ``op`` is done each time, each with hands and a clock of its own."""
        return 1

    def matter(self, op: Any) -> Matter:
        """What the clock of an ``op`` is drawn as: what takes up an oven is in it."""
        return "oven" if "oven" in op.takes else "curing"

    def waits_s(self, op: Any) -> float:
        """Seconds of a clock of its own that an ``op`` has and no material runs."""
        return float(getattr(op, "wait_s", 0.0))


def how_often(sheet: BuildSheet, piece: Piece | None, loop: Loop) -> Figure | Given | None:
    """How often something is done in a ``loop``, as an input; none for once.

    Parameters
    ----------
    sheet
        Of the build.
    piece
        Whose route it is; none for the assembly.
    loop
        Once a mould, a casting, a good piece, a figure.
    """
    whose = piece.id if piece else ""
    if loop == "figure" or (piece is None and loop != "once"):
        return sheet.find(specs.FIGURES)
    if piece is None or loop == "once":
        return None
    if loop == "mould":
        count = moulds_of(piece)
        return Given(count, "count", "moulds", piece.name, decided=True) if count > 1 else None
    good = sheet.find(specs.GOOD_ONES, whose)
    return (sheet.find(specs.CASTINGS, whose) or good) if loop == "casting" else good


def surface(sheet: BuildSheet, piece: Piece | None) -> dict[str, Given]:
    """The surface of a ``piece`` as built, or of the whole figure, as an input; nothing while a mesh of the ``sheet`` waits for its study."""
    total, scale = 0.0, sheet.context.build.scale
    for one, count in [(piece, 1)] if piece else [(p, on_the_figure(p)) for p in sheet.context.build.pieces]:
        if count and (form := form_of(sheet, one)):
            total += count * form.area / scale**2
    return {"area": Given(total, "area", "surface as built", piece.name if piece else "whole figure")} if total else {}
