"""Where everything in the shop is drawn: the day on its strip, people and things on their floors, each at one scale."""

from __future__ import annotations

from typing import Any, NamedTuple

from PySide6.QtCore import QRectF

from homunculus.core.edits import shop as edits
from homunculus.core.job.shop import Shop
from homunculus.core.job.workshop import Machine, Oven, Scale, Vessel

LEFT, RIGHT_W = 18.0, 250.0
DAY_TOP, DAY_H = 62.0, 30.0
WEEK_Y, PEOPLE_FLOOR, PEOPLE_H = 128.0, 296.0, 100.0
PITCH = 74.0
"""Between people, at least."""
WALL_M = 0.12
"""Of an oven or machine around its chamber. Common practice, no source: a drawing, no figure."""
TINY_M = 0.3
"""What is smaller is drawn under a loupe."""
LOUPE = 4.0
SORTS = ("ovens", "machines", "scales", "vessels")


class Standing(NamedTuple):
    """A thing on the floor: its sort, itself, where it is drawn and at how many times the scale of the others."""

    sort: str
    thing: Any
    area: QRectF
    loupe: float = 1.0


class Room:
    """The bench's drawing laid out for a size and a shop.

    Parameters
    ----------
    width, height
        Of the bench.
    shop
        What is in it.
    """

    def __init__(self, width: float, height: float, shop: Shop) -> None:
        self.width, self.height = width, height
        self.right = width - RIGHT_W
        """Where the column at the right begins."""
        self.span = self.right - LEFT - 20
        """How wide the drawing is."""
        self.day = QRectF(LEFT, DAY_TOP, self.span, DAY_H)
        self.floor = height - 94.0
        people = len(shop.people) + 1
        self.pitch = max(PITCH, min(110.0, self.span / people))
        self.fit = max(1, int(self.span // self.pitch))
        self.px, self.standing = self._lay(shop)

    def hour_x(self, minutes: float) -> float:
        """Where a moment of the day lies, so many minutes after midnight."""
        return self.day.left() + self.day.width() * minutes / 1440

    def minutes_at(self, x: float) -> float:
        """The moment of the day at a place, in minutes after midnight."""
        return max(0.0, min(1439.0, (x - self.day.left()) / self.day.width() * 1440))

    def air_area(self, name: str, shop: Shop) -> QRectF:
        """Where the temperature of a ``shop`` by day or by night is decided."""
        low, high = edits.minutes_of(shop.air.warm_from), edits.minutes_of(shop.air.warm_to)
        middle = (low + high) / 2 if name == "day" else low / 2
        if name == "night" and low < 200:
            middle = (high + 1440) / 2
        x = max(self.day.left() - 6, min(self.hour_x(middle) - 34, self.day.right() - 84))
        return QRectF(x, self.day.bottom() + 2, 84, 34)

    def person_area(self, index: int) -> QRectF:
        """Where the person so many from the left stands."""
        return QRectF(LEFT + index * self.pitch, PEOPLE_FLOOR - PEOPLE_H - 4, self.pitch - 4, PEOPLE_H + 42)

    def _lay(self, shop: Shop) -> tuple[float, list[Standing]]:
        """All things on one floor, as large as fits: pixels a metre, and where each stands."""
        things = [(sort, thing, *_size(thing)) for sort in SORTS for thing in getattr(shop, sort)]
        room = self.floor - PEOPLE_FLOOR - 100
        wide = sum(max(w * (LOUPE if max(w, h) < TINY_M else 1), 0.28) + 0.24 for _, _, w, h in things) + 1.6
        tall = max([1.75, *(h for _, _, _, h in things)])
        px = min(62.0, room / tall, (self.span - 20) / wide)
        x, found = LEFT + 1.5 * px, []
        for sort, thing, w, h in things:
            loupe = LOUPE if max(w, h) < TINY_M else 1.0
            width, high = max(10.0, w * px * loupe), max(8.0, h * px * loupe)
            pitch = max(width, 0.28 * px)
            found.append(Standing(sort, thing, QRectF(x + (pitch - width) / 2, self.floor - high, width, high), loupe))
            x += pitch + 0.24 * px
        return px, found


def _size(thing: Any) -> tuple[float, float]:
    """How wide and high a thing stands on the floor [m]."""
    match thing:
        case Oven(width_m=width, height_m=height) | Machine(width_m=width, height_m=height):
            return width + 2 * WALL_M, height + 2 * WALL_M
        case Vessel(volume_m3=volume):
            side = (volume / 0.785) ** (1 / 3)  # as high as it is wide
            return side, side
        case Scale():
            return 0.24, 0.1
    return 0.3, 0.3
