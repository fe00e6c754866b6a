"""Stands on the floor as points from two fixed nails, adjusted where more was taped than is needed.

Nail A is at the origin, nail B so far along x; points to the left of the line from A to B have a positive y.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from homunculus.core.errors import UserError
from homunculus.core.figures import rule

Point = tuple[float, float]


class Taped(NamedTuple):
    """A distance that was taped between two points by their names; “A” and “B” are the nails."""

    one: str
    other: str
    metres: float


def from_nails(nails: float, from_a: float, from_b: float, *, left: bool) -> Point:
    """Where a stand is by its distances ``from_a`` and ``from_b`` from two nails [all m], so far apart as ``nails`` [m].

    Of the two points where the circles meet the one to the ``left`` of the line from A to B, or the one to its right.

    Raises
    ------
    UserError
        When the circles do not meet.
    """
    x = (from_a**2 - from_b**2 + nails**2) / (2 * nails)
    rest = from_a**2 - x**2
    if rest < -1e-9 * from_a**2:
        raise UserError(
            f"{from_a:g} m and {from_b:g} m do not meet between nails {nails:g} m apart",
            remedy="Measure both again, each from its own nail",
        )
    y = math.sqrt(max(rest, 0.0))
    return x, y if left else -y


def adjusted(nails: float, first: dict[str, Point], taped: tuple[Taped, ...]) -> tuple[dict[str, Point], float]:
    """Move points so that all distances ``taped`` [m] fit best: least squares by Gauss and Newton.

    Parameters
    ----------
    nails
        From nail A to nail B [m].
    first
        Points about where they are, by name.
    taped
        At least two a point.

    Returns
    -------
    tuple
        The points, and how far the tapes are off on the whole: root of the mean square [m].
    """
    import numpy as np  # what needs no adjusting, needs none of it either

    names = list(first)
    at = np.array([first[name] for name in names], np.float64).reshape(-1, 2)
    fixed = {"A": np.zeros(2), "B": np.array([nails, 0.0])}
    index = {name: i for i, name in enumerate(names)}
    off = np.zeros(len(taped))
    for _ in range(50):
        slope = np.zeros((len(taped), 2 * len(names)))
        for row, tape in enumerate(taped):
            ends = [at[index[n]] if n in index else fixed[n] for n in (tape.one, tape.other)]
            apart = ends[0] - ends[1]
            length = max(float(np.hypot(*apart)), 1e-9)
            off[row] = length - tape.metres
            for name, sign in ((tape.one, 1.0), (tape.other, -1.0)):
                if name in index:
                    slope[row, 2 * index[name] : 2 * index[name] + 2] = sign * apart / length
        step = np.linalg.lstsq(slope, -off, rcond=None)[0].reshape(-1, 2)
        at = at + step
        if float(np.abs(step).max(initial=0.0)) < 1e-12:
            break
    found = {name: (float(at[i, 0]), float(at[i, 1])) for name, i in index.items()}
    return found, float(np.sqrt(np.mean(off**2))) if len(taped) else 0.0


@rule("distance between where it belongs and where it was found", "plane geometry, two circles from the nails")
def moved_by(*, belongs: Point, found: Point) -> float:
    """How far [m] a stand was ``found`` from where it ``belongs``: points from the nails [m]."""
    return math.dist(belongs, found)
