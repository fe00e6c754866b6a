"""What planners write on: figures, each once, and cautions at their place."""

from __future__ import annotations

from typing import Literal

from msgspec import Struct

from homunculus.core.figures import Figure, FigureSpec, Phrase, Station, Subject

Level = Literal["mind", "danger"]


class Mind(Struct, frozen=True, eq=False):
    """A caution at its place: a headline with the figure, why, and the way out when there is one."""

    level: Level
    station: Station
    subject: Subject
    headline: Phrase
    why: Phrase
    cost: float = 0.0
    """Order by what waiting costs; the larger comes first."""
    about: Literal["", "count", "coverage"] = ""
    """Where the way out is, when it is not at the station itself."""


class Sheet:
    """Collects figures while their planners run; lives for one planning only."""

    def __init__(self) -> None:
        self.figures: list[Figure] = []
        self.minds: list[Mind] = []
        self.index: dict[tuple[str, Subject], Figure] = {}

    def subject(self, piece: str = "", shot: str = "", **of: str) -> Subject:
        """Name whom a figure speaks of: a ``piece``, a ``shot``, or something ``of`` them by the fields of :class:`Subject`."""
        return Subject("", piece, shot, **of)

    def add(self, figure: Figure) -> Figure:
        """Keep a ``figure`` and hand it back.

        Raises
        ------
        ValueError
            When there is one of that name and subject: two figures with one identity are a mistake of the planner.
        """
        before = len(self.index)
        self.index.setdefault((figure.spec.name, figure.subject), figure)
        if len(self.index) == before:
            raise ValueError(f"{figure.spec.name} of {figure.subject} is reckoned twice")
        self.figures.append(figure)
        return figure

    def find(self, spec: FigureSpec, piece: str = "", shot: str = "", **of: str) -> Figure | None:
        """Return an earlier figure by its ``spec`` and its ``piece``, ``shot`` or what is ``of`` them, or none."""
        return self.find_of(spec, self.subject(piece, shot, **of))

    def find_of(self, spec: FigureSpec, subject: Subject) -> Figure | None:
        """Return an earlier figure by its ``spec`` and ``subject``, or none."""
        return self.index.get((spec.name, subject))
