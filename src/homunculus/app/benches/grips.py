"""Handles of a drawing whose acts change with it: what each does is asked for when it is pulled, stepped or typed."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt

from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Handle, Spots

CURSORS = {
    "along": Qt.CursorShape.SizeHorCursor,
    "up": Qt.CursorShape.SizeVerCursor,
    "all": Qt.CursorShape.SizeAllCursor,
}


class Grip(NamedTuple):
    """What a handle does."""

    pull: Callable[[QPointF], None]
    """Pulled so far [pixels] from where the hand took hold."""
    step: Callable[[int], None]
    type: Callable[[str], None]
    """Open the line; with a first character that was typed, or none."""


class Grips:
    """The handles of one drawing.

    Parameters
    ----------
    desk
        Told when a hand takes hold and lets go.
    spots
        Where handles lie.
    grasp
        Called with a handle's key when a hand takes hold of it.
    """

    def __init__(self, desk: Desk, spots: Spots, grasp: Callable[[str], None]) -> None:
        self._desk, self._spots, self._grasp = desk, spots, grasp
        self._known: dict[str, Grip] = {}

    def lay(self, key: str, area: QRectF, said: str, way: str, grip: Grip) -> None:
        """Lay the handle of a key over an area; it is pulled “along”, “up” or in “all” ways."""
        self._known[key] = grip
        self._spots.place_handle(key, area, said, CURSORS[way], lambda handle: self._wire(handle, key))

    def _wire(self, handle: Handle, key: str) -> None:
        start: list[QPointF] = []

        def grasp() -> None:
            start.clear()
            self._grasp(key)

        def drag(at: QPointF) -> None:
            if not start:
                start.append(at)
            self._known[key].pull(at - start[0])

        handle.pressed.connect(grasp)
        handle.dragged.connect(drag)
        handle.released.connect(self._desk.let_go)
        handle.stepped.connect(lambda steps: self._known[key].step(steps))
        handle.typing.connect(lambda first: self._known[key].type(first))
