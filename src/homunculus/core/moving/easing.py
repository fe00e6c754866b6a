"""Where something is at each frame of an eased move, so that the steps add up to the whole to the last digit."""

from __future__ import annotations

from homunculus.core.figures import rule


@rule("screen time × f0", "definition")
def frames_of(*, screen: float, base: float) -> int:
    """Frames that ``screen`` seconds have at the ``base`` rate [fps]."""
    return max(1, round(screen * base))


@rule("whole way / (frames − 1)", "the first frame shows the beginning, the last the end")
def even_step(*, way: float, frames: int) -> float:
    """Step from frame to frame of an even move over a ``way`` (its unit) with so many ``frames``; 0 for a single one."""
    return way / (frames - 1) if frames > 1 else 0.0


@rule(
    "way / (time on set × (1 − ease))", "trapezium of speed: speeding up and slowing down each take a share of the time"
)
def greatest_speed(*, way: float, time: float, ease: float) -> float:
    """Greatest speed of a move over a ``way`` (m or rad) in a ``time`` on set [s], with a share ``ease`` of it, 0 to ½, to start and as much to stop."""
    return abs(way) / (time * (1 - ease))


def share_done(at: float, ease: float) -> float:
    """Share of the way done at a share ``at`` of the time, where speeding up and slowing down take a share ``ease`` each, 0 to ½."""
    at = min(max(at, 0.0), 1.0)
    if ease <= 0:
        return at
    if at > 0.5:
        return 1.0 - share_done(1.0 - at, ease)
    if at < ease:
        return at * at / (2 * ease * (1 - ease))
    return (at - ease / 2) / (1 - ease)


def positions(way: float, frames: int, ease: float, grain: float = 0.0) -> tuple[float, ...]:
    """Where it is at each frame of a move.

    Parameters
    ----------
    way
        The whole of it, in any unit.
    frames
        How many; the first shows the beginning, the last the end.
    ease
        Share of the time, 0 to ½, that speeding up takes, and slowing down.
    grain
        To what a hand or a motor can place it, in the same unit; 0 for exactly. Places are rounded, not steps, so no error grows.
    """
    if frames < 2:
        return (0.0,)
    found = [way * share_done(i / (frames - 1), ease) for i in range(frames)]
    found[-1] = way
    return tuple(round(x / grain) * grain for x in found) if grain else tuple(found)
