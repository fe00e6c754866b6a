"""Where to focus, which stop a depth asks for, and what a lens can resolve.

Distances are from the front principal plane. Source throughout: geometrical optics, exact thin-lens forms (not the
far-field short forms). How unsharp a point comes out is ``blur``.
"""

from __future__ import annotations

import math

from homunculus.core.camera.blur import Glass, blur, magnification, middle_focus, widest_sharp_stop, worst_disc
from homunculus.core.figures import Outcome, rule

OPTICS = "geometrical optics, thin lens"


@rule("c = sensor width / delivered pixels × pixels that pass as sharp", "so many delivered pixels on the sensor")
def confusion_from_delivery(*, sensor_width: float, delivery: int, sharp: float) -> float:
    """Circle of confusion [m]: ``sensor_width`` [m], ``delivery`` [pixels across], ``sharp`` [pixels of blur]."""
    return sensor_width / delivery * sharp


@rule("s = 2 n F / (n + F); 2 n where the far end is at infinity", OPTICS)
def focus_distance(*, near: float, far: float) -> float:
    """Distance [m] to focus at so that ``near`` … ``far`` [m] are equally sharp at their ends; ``far`` may be infinite."""
    return middle_focus(near=near, far=far)


@rule("b = f s / (s − f) = f (1 + m)", OPTICS)
def image_distance(*, focal: float, distance: float) -> float:
    """Distance [m] from the rear principal plane to the image, for a ``focal`` length focused at ``distance`` [both m].

    It takes the place of the focal length in every field, share of the frame and pixel. ``distance`` may be infinite.

    Raises
    ------
    ValueError
        When the distance is within the focal length.
    """
    return focal * (1 + magnification(Glass(focal), focus=distance))


def stop_asked(*, focal: float, near: float, far: float, confusion: float) -> float:
    """Return the f-number that the depth formula asks for, whatever the lens has: 0 for a single plane.

    Parameters
    ----------
    focal, confusion
        Focal length and circle of confusion [m].
    near, far
        Ends of what must be sharp [m]; ``far`` may be infinite.

    Returns
    -------
    float
        N = f² (F − n) / (c (F (n − f) + n (F − f))), and its limit f² / (c (2 n − f)) at infinity: the disc of the ends
        at f/1 over what passes. Infinite where no stop does it: the near end within the focal length.
    """
    if near <= focal:
        return math.inf
    focus = middle_focus(near=near, far=far)
    return worst_disc(Glass(focal), focus=focus, near=near, far=far) / confusion


@rule("N = f² (F − n) / (c (F (n − f) + n (F − f))), within what the lens has",
      OPTICS + "; blur with diffraction added in squares")  # fmt: skip
def stop_to_hold(*, focal: float, near: float, far: float, confusion: float, widest: float, smallest: float) -> Outcome:
    """F-number to set so that ``near`` … ``far`` [m] are held; ``focal`` and ``confusion`` in metres.

    The lens opens to ``widest`` and closes to ``smallest`` (f-numbers): the answer lies between them, and a note says
    what the depth formula asked where that is another. Notes say the total blur where diffraction makes the geometric
    answer too kind.
    """
    asked = stop_asked(focal=focal, near=near, far=far, confusion=confusion)
    stop, notes = min(max(asked, widest), smallest), []
    if math.isinf(asked):
        return Outcome(stop, ("the near end lies within the focal length: it cannot be focused",))
    if asked < widest:
        notes.append(
            f"f/{asked:.2g} would hold it; the lens opens to f/{widest:g}"
            if near < far
            else "one plane: any stop holds it"
        )
    elif asked > smallest:
        notes.append(f"the depth asks f/{asked:.3g}; the lens closes to f/{smallest:g}, and focus is not held")
    glass, focus = Glass(focal), focus_distance(near=near, far=far)
    spread = blur(glass, stop=stop, focus=focus, distance=near)
    if spread > 1.05 * confusion:  # a twentieth is nothing that anybody sees
        truly = widest_sharp_stop(glass, focus=focus, disc=asked * confusion, allowed=confusion)
        way = f"f/{truly:.3g} holds it" if truly <= smallest else "no stop of this lens holds it"
        notes.append(
            f"with diffraction the blur is {spread * 1e6:.1f} µm against {confusion * 1e6:.1f} µm wanted; {way}"
        )
    return Outcome(stop, tuple(notes))


@rule("two delivered pixels: 2 × width seen / delivered pixels", "Nyquist sampling")
def finest_seen(*, sensor_width: float, delivery: int, focal: float, distance: float) -> float:
    """Smallest thing [m] that reads on the model: lens of ``focal`` at ``distance`` [m], ``sensor_width`` [m].

    ``delivery`` is the delivered width in pixels.
    """
    return 2 * sensor_width * (distance - focal) / focal / delivery
