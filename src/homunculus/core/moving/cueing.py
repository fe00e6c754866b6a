"""Cues one after another along a model. Timing only: what a cue releases is planned by whoever is licensed for it."""

from __future__ import annotations

from itertools import pairwise

from homunculus.core.figures import rule


@rule("length / speed on the model", "kinematics")
def run_time(*, length: float, speed: float) -> float:
    """Seconds on set in which a front runs along a ``length`` on the model [m] at a ``speed`` there [m/s]."""
    return length / speed


@rule("time / (cues − 1)", "arithmetic: the first and the last cue are its ends")
def cue_gap(*, time: float, cues: int) -> float:
    """Seconds from one of so many ``cues`` to the next, evenly over a ``time`` on set [s]; 0 for a single one."""
    return time / (cues - 1) if cues > 1 else 0.0


@rule("gap × f", "definition")
def gap_in_frames(*, gap: float, rate: float) -> float:
    """Frames of the camera, at a ``rate`` [fps], from one cue to the next after a ``gap`` [s]."""
    return gap * rate


@rule("length / time × S × f0 / f", "kinematics")
def front_reads_as(*, length: float, time: float, scale: float, base: float, rate: float) -> float:
    """Real speed [m/s] that a front seems to have which runs along a ``length`` on the model [m] in a ``time`` on set [s].

    ``scale`` is the denominator, ``base`` and ``rate`` the projected and the camera's rate [fps].
    """
    return length / time * scale * base / rate


def cue_times(places: tuple[float, ...], time: float) -> tuple[float, ...]:
    """When each cue goes [s on set] of those at ``places`` along the model [m], first and last a ``time`` [s] apart, by a front of even speed."""
    if len(places) < 2 or places[-1] == places[0]:
        return tuple(0.0 for _ in places)
    return tuple((at - places[0]) / (places[-1] - places[0]) * time for at in places)


def evenly(length: float, cues: int) -> tuple[float, ...]:
    """Places of so many ``cues`` evenly along a ``length`` [m], both ends included."""
    return tuple(length * i / (cues - 1) for i in range(cues)) if cues > 1 else (0.0,)


def smallest_gap(times: tuple[float, ...]) -> float:
    """Least time [s] between two cues of ``times`` [s]; 0 for a single one."""
    return min((b - a for a, b in pairwise(times)), default=0.0)
