"""What planners put down of each piece of a build the last time: put down again while nothing that they may go by is another."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, NamedTuple

from homunculus.core import specs
from homunculus.core.figures import Figure, Subject
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.cards import Cards
from homunculus.core.job.operations import Insert
from homunculus.core.job.shop import Shop
from homunculus.core.plan.facts import Facts

Key = tuple[str, Subject]
APART = ("pieces", "begun")
"""What of a build its parts do not go by: their own piece they have, and a beginning is reckoned as what is decided."""


class Part(NamedTuple):
    """What one planner put down of one piece."""

    by: tuple[object, ...]
    """The very objects that it went by: the piece, what was counted, the parts of it before this."""
    added: tuple[tuple[Any, ...], ...]
    """Figures, cautions, wants and pours."""
    by_key: dict[Key, Figure]
    result: Any


class ByPiece:
    """The parts of one build, from one planning to the next.

    A part may go by its piece, by the build but for its other pieces, by shop, cards and facts, by how many figures there are and
    what was counted of the piece, and by the parts of the piece before it. It may not go by shots or by what was counted of others.
    """

    def __init__(self) -> None:
        self.parts: dict[tuple[str, str], Part] = {}
        """By planner and piece."""
        self.counted: dict[Key, Figure] = {}
        self._around: tuple[object, ...] = ()
        self._cards: Cards | None = None

    def begin(
        self, build: Build, shop: Shop, cards: Cards, facts: Facts, counted: Sequence[Figure]
    ) -> dict[str, list[object]]:
        """Forget all parts where something around the pieces is another than the last time; what parts go by from here on, by piece.

        ``build``, ``shop``, ``cards`` and ``facts`` are those of now, and ``counted`` the figures that there are before the first part.
        """
        fields = (getattr(build, name) for name in build.__struct_fields__ if name not in APART)
        around = (*fields, shop, *facts.values())
        if around != self._around or cards != self._cards:  # what is shared is not looked into
            self.parts.clear()
        self._around, self._cards = around, cards
        self.counted = {(f.spec.name, f.subject): f for f in counted}
        whole = self.counted.get((specs.FIGURES.name, Subject(build.id)))
        found: dict[str, list[object]] = {piece.id: [piece, whole] for piece in build.pieces}
        for figure in counted:
            if figure.subject.piece in found:
                found[figure.subject.piece].append(figure)
        self.parts = {key: part for key, part in self.parts.items() if key[1] in found}
        return found


def alone(piece: Piece) -> bool:
    """Whether what is planned of a ``piece`` goes by no other: it is cast around none."""
    return not any(isinstance(op, Insert) for op in piece.route)


def the_same(one: Figure, other: Figure) -> bool:
    """Whether ``one`` figure and an ``other`` of the same spec and subject agree in value, rule, notes and all that went in."""
    return (
        one.value == other.value
        and one.rule is other.rule
        and one.notes == other.notes
        and len(one.inputs) == len(other.inputs)
        and all(a == c and (b is d or b == d) for (a, b), (c, d) in zip(one.inputs, other.inputs, strict=True))
    )
