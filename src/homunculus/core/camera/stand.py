"""Where things stand before a lens: distances on the floor, and how far away they look."""

from __future__ import annotations

from homunculus.core.figures import rule

BEHIND_M = 1.15
"""Room behind the eye for the camera's body and whoever looks through it: common practice, no source."""


@rule("the farthest thing + 1.15 m behind the eye", "room for camera and operator is common practice, no source")
def depth_needed(**planes: float) -> float:
    """How long [m] a stage must be for the farthest of ``planes`` from the eye [m]."""
    return max(planes.values()) + BEHIND_M


@rule("real / S", "definition of scale")
def at_scale(*, real: float, scale: float) -> float:
    """Size or distance on the model [m] of something ``real`` [m] at a ``scale``."""
    return real / scale


@rule("S × distance on the floor", "pinhole projection: what is S times smaller looks S times farther away")
def looks_like(*, distance: float, scale: float) -> float:
    """How far away [real m] something at a ``scale`` looks from a ``distance`` [m]."""
    return distance * scale


@rule("the least distance of all that must be sharp, from this camera's eye", "arithmetic")
def nearest_sharp(*, back: float, **planes: float) -> float:
    """Nearest point [m] that must be sharp: of ``planes`` from the first camera's eye, seen from an eye so far ``back`` [m]."""
    return min(planes.values()) + back


@rule("the greatest distance of all that must be sharp, from this camera's eye", "arithmetic")
def farthest_sharp(*, back: float, **planes: float) -> float:
    """Farthest point [m] that must be sharp: of ``planes`` from the first camera's eye, seen from an eye so far ``back`` [m]."""
    return max(planes.values()) + back
