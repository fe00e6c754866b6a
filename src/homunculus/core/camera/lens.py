"""Depth of field from the exact thin lens, and what a lens can resolve.

Distances are from the front principal plane. Source throughout: geometrical optics, exact thin-lens forms
(not the far-field short forms); Airy disc from scalar diffraction (Born and Wolf, Principles of Optics).
"""

from __future__ import annotations

import math

from homunculus.core.figures import Outcome, rule

OPTICS = "geometrical optics, thin lens"
WAVELENGTH_M = 550e-9


def depth_of_field(*, focal: float, stop: float, confusion: float, distance: float) -> tuple[float, float]:
    """Return the near and far limit of what is sharp.

    Parameters
    ----------
    focal, confusion, distance
        Focal length, circle of confusion (diameter) and focus distance [m].
    stop
        The f-number.

    Returns
    -------
    tuple of float
        Near and far limit [m]; far is infinite past the hyperfocal distance.

    Raises
    ------
    ValueError
        When the focus distance is within the focal length.
    """
    if distance <= focal:
        raise ValueError("the lens cannot focus within its focal length")
    spread = stop * confusion * (distance - focal)
    near = distance * focal**2 / (focal**2 + spread)
    bracket = focal**2 - spread
    return near, (distance * focal**2 / bracket if bracket > 0 else math.inf)


def hyperfocal(*, focal: float, stop: float, confusion: float) -> float:
    """Return the hyperfocal distance [m]: f²/(N c) + f.

    Parameters
    ----------
    focal, confusion
        Focal length and circle of confusion [m].
    stop
        The f-number.
    """
    return focal**2 / (stop * confusion) + focal


@rule("c = sensor width / delivered pixels × pixels that pass as sharp", "so many delivered pixels on the sensor")
def confusion_from_delivery(*, sensor_width: float, delivery: int, sharp: float) -> float:
    """Circle of confusion [m]: ``sensor_width`` [m], ``delivery`` [pixels across], ``sharp`` [pixels of blur]."""
    return sensor_width / delivery * sharp


@rule("s = 2 n F / (n + F)", OPTICS)
def focus_distance(*, near: float, far: float) -> float:
    """Distance [m] to focus at so that ``near`` … ``far`` [m] are equally sharp at their ends."""
    return 2 * near * far / (near + far)


@rule("N = f² (F − n) / (c (F (n − f) + n (F − f)))", OPTICS + "; blur with diffraction added in squares")
def stop_to_hold(*, focal: float, near: float, far: float, confusion: float) -> Outcome:
    """F-number that holds ``near`` … ``far`` [m]; ``focal`` and ``confusion`` in metres.

    Notes say the total blur where diffraction makes the geometric answer too kind.
    """
    if near <= focal:
        return Outcome(math.inf, ("the near end lies within the focal length: it cannot be focused",))
    stop = focal**2 * (far - near) / (confusion * (far * (near - focal) + near * (far - focal)))
    blur = total_blur(focal=focal, stop=stop, distance=focus_distance(near=near, far=far), confusion=confusion)
    if blur > 1.25 * confusion:
        return Outcome(
            stop, (f"with diffraction the blur is {blur * 1e6:.1f} µm against {confusion * 1e6:.1f} µm wanted",)
        )
    return Outcome(stop)


def total_blur(*, focal: float, stop: float, distance: float, confusion: float) -> float:
    """Return the blur at the ends of the held depth, defocus and Airy disc added in squares.

    Parameters
    ----------
    focal, distance
        Focal length and focus distance [m].
    stop
        The f-number.
    confusion
        Defocus blur at the ends of the depth [m].

    Returns
    -------
    float
        Diameter [m].
    """
    magnification = focal / (distance - focal)
    airy = 2.44 * WAVELENGTH_M * stop * (1 + magnification)
    return math.hypot(confusion, airy)


@rule("two delivered pixels: 2 × width seen / delivered pixels", "Nyquist sampling")
def finest_seen(*, sensor_width: float, delivery: int, focal: float, distance: float) -> float:
    """Smallest thing [m] that reads on the model: lens of ``focal`` at ``distance`` [m], ``sensor_width`` [m].

    ``delivery`` is the delivered width in pixels.
    """
    return 2 * sensor_width * (distance - focal) / focal / delivery
