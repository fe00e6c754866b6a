"""Where to focus, which stop a depth asks for, and what a lens can resolve.

Distances are from the front principal plane. Source throughout: geometrical optics, exact thin-lens forms (not the
far-field short forms). How unsharp a point comes out is ``blur``.
"""

from __future__ import annotations

import math

from homunculus.core.camera.blur import Glass, magnification, middle_focus, worst_disc
from homunculus.core.figures import Outcome, rule

OPTICS = "geometrical optics, thin lens"


@rule("c = sensor width / delivered pixels × pixels that pass as sharp", "so many delivered pixels on the sensor")
def confusion_from_delivery(*, sensor_width: float, delivery: int, sharp: float) -> float:
    """Circle of confusion [m]: ``sensor_width`` [m], ``delivery`` [pixels across], ``sharp`` [pixels of blur]."""
    return sensor_width / delivery * sharp


@rule("s = 2 n F / (n + F); 2 n where the far end is at infinity", OPTICS)
def focus_distance(*, near: float, far: float, focal: float = 0.0, pupil: float = 1.0) -> float:
    """Distance [m] to focus at so that ``near`` … ``far`` [m] are equally sharp at their ends; ``far`` may be infinite.

    All from the eye. Where the lens's ``pupil`` magnification is not 1 its ``focal`` length [m] counts: the principal plane, by
    which focus goes, is then elsewhere.
    """
    eye = Glass(focal, pupil).entrance_m
    return middle_focus(near=near - eye, far=far - eye, entrance=eye) + eye


@rule("b = f (1 + m/p), m = f / (s − f)", "geometrical optics of a thick lens: the chief ray through both pupils")
def image_distance(*, focal: float, distance: float, pupil: float = 1.0) -> float:
    """Distance [m] at which a pinhole in the eye would have its image plane, for a ``focal`` length focused at ``distance`` [both m].

    It takes the place of the focal length in every field, share of the frame and pixel; with equal pupils it is the distance from the
    rear principal plane to the image. ``distance`` is from the eye, and may be infinite; ``pupil`` is the magnification of the pupils.

    Raises
    ------
    ValueError
        When the distance is within the focal length.
    """
    glass = Glass(focal, pupil)
    return focal * (1 + magnification(glass, focus=distance - glass.entrance_m) / pupil)


@rule("from the eye to the image plane: s − f (1/p − 1) + f (1 + m)", OPTICS + "; both principal planes taken as one")
def on_the_barrel(*, focal: float, focus: float, pupil: float = 1.0) -> float:
    """What a lens's barrel and a tape from the mark of the image plane say [m] for a ``focus`` from the eye [m].

    ``focal`` length in m, ``pupil`` the magnification of its pupils.
    """
    glass = Glass(focal, pupil)
    plane = focus - glass.entrance_m
    return plane + focal * (1 + magnification(glass, focus=plane))


@rule(
    "s² / (s − f) = nearest on the barrel, the farther root; + f (1/p − 1)",
    OPTICS + "; both principal planes taken as one",
)
def nearest_from_eye(*, nearest: float, focal: float, pupil: float = 1.0) -> Outcome:
    """Nearest focus from the eye [m] of a lens whose barrel begins at ``nearest`` from the image plane.

    ``focal`` length in m, ``pupil`` the magnification of its pupils. No thin lens images nearer than four focal lengths from thing to image:
    where a card says less, that is taken, and a note says so.
    """
    eye, left = Glass(focal, pupil).entrance_m, nearest**2 - 4 * nearest * focal
    if left < 0:
        return Outcome(2 * focal + eye, ("nearer than a simple lens of this focal length could: taken as its nearest",))
    return Outcome((nearest + math.sqrt(left)) / 2 + eye)


@rule("from the nearest thing to the lens's front: near − (length + flange − f (1 + m) + f (1/p − 1))",
      OPTICS + "; both principal planes taken as one")  # fmt: skip
def front_clearance(
    *, near: float, focal: float, focus: float, length: float, flange: float, pupil: float = 1.0
) -> float:
    """How far [m] the front of a lens is from what stands ``near`` the eye; below nought they touch.

    ``focal`` length, ``focus`` from the eye, ``length`` of the lens before the mount and ``flange``, the mount's distance from the image
    plane, in m; ``pupil`` is the magnification of its pupils.
    """
    behind = float(on_the_barrel(focal=focal, focus=focus, pupil=pupil)) - focus  # the image plane, behind the eye
    return near - (length + flange - behind)


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


@rule("width of the field = sensor width × distance / image distance", "pinhole projection at the image distance")
def field_width(*, sensor_width: float, distance: float, image: float) -> float:
    """How wide [m] a camera sees at a ``distance`` from the eye [m]: ``sensor_width`` and ``image`` distance f (1 + m) [both m].

    Infinite at infinity.
    """
    return sensor_width * distance / image


@rule("angle = 2 arctan(sensor / (2 × image distance))", "pinhole projection at the image distance")
def angle_of_view(*, sensor: float, image: float) -> float:
    """Angle [rad] that a ``sensor`` [m wide, or high] at an ``image`` distance [m] sees."""
    return 2 * math.atan2(sensor, 2 * image)


@rule("two delivered pixels: 2 × width of the field / delivered pixels", "Nyquist sampling")
def finest_seen(*, sensor_width: float, delivery: int, distance: float, image: float) -> float:
    """Smallest thing [m] that reads at a ``distance`` from the eye [m], on a sensor of ``sensor_width`` at an ``image`` distance [all m].

    ``delivery`` is the delivered width in pixels.
    """
    return 2 * float(field_width(sensor_width=sensor_width, distance=distance, image=image)) / delivery


@rule("two delivered pixels or the blur, whichever is larger, on the thing", "Nyquist sampling; projection")
def finest_at(*, finest: float, blur: float) -> float:
    """Smallest thing [m] that reads where two pixels show ``finest`` [m] and a point spreads over ``blur`` pixels."""
    return finest * max(1.0, blur / 2)
