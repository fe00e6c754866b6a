"""What an oven takes: moulds of a size, on so many of its shelves, with air between them."""

from __future__ import annotations

from itertools import permutations
from typing import NamedTuple

from homunculus.core.figures import Outcome, rule

AIR_M = 0.03
"""Air around each mould, so that all of it gets warm. Common practice, no source."""


class Chamber(NamedTuple):
    """The inside of an oven [m], and how many shelves it has."""

    name: str
    width: float
    depth: float
    height: float
    shelves: int


@rule("the largest, over ways to lie and shelves in use, of shelves × ⌊width / (a + air)⌋ × ⌊depth / (b + air)⌋ where c + air ≤ height / shelves",
      "geometry: boxes set out in rows")  # fmt: skip
def moulds_in_oven(
    *, form: tuple[float, float, float], around: float, flange: float, ovens: tuple[Chamber, ...]
) -> Outcome:
    """How many moulds the best of some ``ovens`` takes at once.

    Parameters
    ----------
    form
        Length, depth and height of the form as built [m].
    around
        How thick what stands around it is [m]: rubber and jacket, or stone.
    flange
        How far its flanges stand out beyond that [m], along and up; they part the mould along its depth.
    ovens
        Their chambers.
    """
    size = (form[0] + 2 * (around + flange), form[1] + 2 * around, form[2] + 2 * (around + flange))
    best, where = 0, ""
    for oven in ovens:
        for along, across, up in permutations(side + AIR_M for side in size):
            for shelves in range(1, oven.shelves + 1):
                if up <= oven.height / shelves:
                    count = shelves * int(oven.width // along) * int(oven.depth // across)
                    if count > best:
                        best, where = count, f"in the {oven.name}, {shelves} of its shelves in use"
    return Outcome(float(best), (where,) if where else ("in none of them",))


def smaller_sides(size: tuple[float, float, float]) -> tuple[float, float]:
    """The two smaller sides [m] of something of a ``size`` [m]: what has to go through a door, carried lengthwise."""
    low, middle, _ = sorted(size)
    return low, middle


def through(size: tuple[float, float, float], width: float, height: float) -> bool:
    """Whether something of a ``size`` [m] goes through a door of a ``width`` and ``height`` [m], lengthwise and not tilted."""
    low, middle = smaller_sides(size)
    return low <= min(width, height) and middle <= max(width, height)
