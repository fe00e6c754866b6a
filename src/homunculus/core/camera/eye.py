"""What a camera sees: points before it as pixels of its picture, and back. Imports numpy.

A set's own directions are across (to the right of the axis), away and up, in metres from the floor beneath the first camera's eye.
Source: pinhole projection from the entrance pupil; the picture is flat and the lens draws straight lines straight.
"""

from __future__ import annotations

import math
from typing import Any, NamedTuple

import numpy as np
from numpy.typing import NDArray

Points = NDArray[np.float64]


class Eye(NamedTuple):
    """Where a camera's eye is, how it is turned, and how large its picture is."""

    at: tuple[float, float, float]
    """Across, away and up [m]."""
    pan: float
    """To the right [rad]."""
    tilt: float
    """Up [rad]."""
    roll: float
    """Clockwise as whoever looks through it turns it [rad]: what is level then rises to the right."""
    reach_px: float
    """Image distance in pixels of the picture."""
    wide_px: float
    high_px: float

    def axes(self) -> Points:
        """Its own right, up and forward as rows, in the set's directions."""
        pan, tilt, roll = self.pan, self.tilt, self.roll
        forward = np.array([math.sin(pan), math.cos(pan), 0.0])
        right = np.array([math.cos(pan), -math.sin(pan), 0.0])
        up = np.array([0.0, 0.0, 1.0])
        forward, up = forward * math.cos(tilt) + up * math.sin(tilt), up * math.cos(tilt) - forward * math.sin(tilt)
        right, up = right * math.cos(roll) - up * math.sin(roll), up * math.cos(roll) + right * math.sin(roll)
        return np.array([right, up, forward])

    def turned(self, points: NDArray[Any]) -> Points:
        """Return ``points`` of the set, shape (n, 3), as right, up and forward of the camera [m]."""
        return np.asarray((np.asarray(points, np.float64) - self.at) @ self.axes().T)

    def drawn(self, turned: Points) -> Points:
        """Return ``turned`` points, each before the eye, as pixels from the picture's upper left corner, shape (n, 2)."""
        scale = self.reach_px / turned[:, 2]
        return np.column_stack((self.wide_px / 2 + turned[:, 0] * scale, self.high_px / 2 - turned[:, 1] * scale))

    def pixels(self, points: NDArray[Any]) -> Points:
        """Return ``points`` of the set, shape (n, 3) and each before the eye, as pixels, shape (n, 2)."""
        return self.drawn(self.turned(points))

    def rays(self, pixels: NDArray[Any]) -> Points:
        """Return the directions into the set, of length 1, in which ``pixels``, shape (n, 2), lie: shape (n, 3)."""
        flat = np.asarray(pixels, np.float64)
        own = np.column_stack(
            (flat[:, 0] - self.wide_px / 2, self.high_px / 2 - flat[:, 1], np.full(len(flat), self.reach_px))
        )
        found = own @ self.axes()
        return np.asarray(found / np.linalg.norm(found, axis=1, keepdims=True))


def clipped(turned: Points, nearest: float) -> Points:
    """Return the closed line through ``turned`` points as far as it lies more than ``nearest`` [m] before the eye; empty where none of it does.

    Source: Sutherland and Hodgman, Reentrant polygon clipping, 1974, by one plane.
    """
    ahead = turned[:, 2] > nearest
    if ahead.all():
        return turned
    kept = []
    for i in range(len(turned)):
        here, there = turned[i - 1], turned[i]
        if ahead[i - 1] != ahead[i]:
            share = (nearest - here[2]) / (there[2] - here[2])
            kept.append(here + share * (there - here))
        if ahead[i]:
            kept.append(there)
    return np.array(kept) if len(kept) > 2 else np.empty((0, 3))
