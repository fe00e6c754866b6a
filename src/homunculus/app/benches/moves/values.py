"""What is decided of the chosen move, each value with its lozenge: pulled, stepped and typed."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from typing import Protocol

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF

from homunculus.app.benches.grips import Grip, Grips
from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Spots
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting
from homunculus.core.cells.actions import Phrase, read_value
from homunculus.core.edits.stage import value_stepped, values_of
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Action
from homunculus.core.showing import Shown, show_number

VALUE_PX = 8.0
"""Pixels a step while a value is pulled."""


class Chooser(Protocol):
    """What the values ask of the bench on which they stand."""

    desk: Desk
    spots: Spots
    grips: Grips
    chosen: int
    held: tuple[Shot, Action] | None

    def chosen_move(self) -> Action | None:
        """The move whose values they are."""

    def put(self, index: int, action: Action | None, what: str) -> bool:
        """Put a move in the place of another."""

    def type_over(
        self, name: str, over: str, stands: str, accept: Callable[[str], bool], back: str = "", key: str = ""
    ) -> object:
        """Open a line to type over what ``stands`` there, begun by ``key``."""

    def setting(self) -> Setting:
        """Measures words."""

    def width(self) -> int:
        """In pixels."""


class Values:
    """The values of the move that a bench has chosen."""

    def __init__(self, bench: Chooser) -> None:
        self.bench = bench

    def _laid(self, action: Action, picture: QRectF) -> list[tuple[Phrase, QPointF, float]]:
        """The values with where each stands, and how wide it is, as far as they fit."""
        setting, x, found = self.bench.setting(), 18.0, []
        for told in values_of(action):
            wide = (
                setting.width(self._label(told), "note") + setting.number_width(self._shown(action, told), "label") + 34
            )
            if x + wide > self.bench.width() - 16:
                break
            found.append((told, QPointF(x, picture.bottom() + 56), wide))
            x += wide
        return found

    @staticmethod
    def _label(told: Phrase) -> str:
        return told.before or told.behind

    def _shown(self, action: Action, told: Phrase) -> Shown:
        value: float = getattr(action, told.field)
        if told.kind is None:
            return Shown(show_number(value), "°" if told.unit == "°" else "")
        return self.bench.desk.given(value, told.kind)

    def arrange(self, picture: QRectF) -> None:
        """Lay a handle over each."""
        action = self.bench.chosen_move()
        for told, at, wide in self._laid(action, picture) if action else ():
            grip = Grip(partial(self._pull, told), partial(self._step, told), partial(self._type, told))
            said = f"{self._label(told)} {self._shown(action, told)}, decided" if action else ""
            self.bench.grips.lay(f"value:{told.field}", QRectF(at.x() - 4, at.y() - 22, wide - 8, 36), said, "up", grip)

    def draw(self, ink: Ink, picture: QRectF) -> None:
        """Draw them in a row."""
        action = self.bench.chosen_move()
        for told, at, _ in self._laid(action, picture) if action else ():
            width = ink.text(at.x(), at.y(), self._label(told), "note", "ink2")
            ink.decided(at.x() + width + 5, at.y(), self._shown(action, told), "label")  # type: ignore[arg-type]

    def _pull(self, told: Phrase, by: QPointF) -> None:
        if self.bench.held:
            steps = round(-by.y() / VALUE_PX)
            self.bench.put(
                self.bench.chosen, value_stepped(self.bench.held[1], told, steps), f"{self._label(told)} pulled"
            )

    def _step(self, told: Phrase, steps: int) -> None:
        action = self.bench.chosen_move()
        if action:
            self.bench.put(self.bench.chosen, value_stepped(action, told, steps), self._label(told))

    def _type(self, told: Phrase, first: str = "") -> None:
        action = self.bench.chosen_move()
        if action:
            stands, what = str(self._shown(action, told)), f"{self._label(told)} of {action.name}"
            self.bench.type_over(what, f"value:{told.field}", stands, partial(self._take, told), key=first)

    def _take(self, told: Phrase, words: str) -> bool:
        action = self.bench.chosen_move()
        if action is None:
            return False
        value = read_value(type(action), told, words, self.bench.desk.system)
        return self.bench.put(self.bench.chosen, replace(action, **{told.field: value}), self._label(told))
