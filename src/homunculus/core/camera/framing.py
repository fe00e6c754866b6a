"""What fills the frame, and what our camera must be to see what a live plate saw."""

from __future__ import annotations

from math import atan2, inf, pi, tan

from homunculus.core.camera.lens import image_distance
from homunculus.core.figures import Outcome, rule


@rule("height / S × image distance / (distance × height of the sensor)", "pinhole projection, similar triangles")
def share_of_frame(*, height: float, distance: float, image: float, sensor: float, scale: float = 1.0) -> float:
    """Share of the frame's height that something fills.

    ``height`` [real m] of what is built at a ``scale`` and stands at a ``distance`` [m on the floor]; ``image`` distance f (1 + m)
    and height of the ``sensor`` [m] are the camera's own. The image distance grows as one focuses close, so the scale does not fall out.
    """
    return height / scale * image / (distance * sensor)


@rule("1/2 + image distance × tan(arctan(height / distance) + tilt) / height of the sensor", "pinhole projection")
def foot_in_frame(*, height: float, distance: float, tilt: float, image: float, sensor: float) -> Outcome:
    """Where the ground at a ``distance`` [m] stands in the frame, as a share of its height from the top.

    The lens is at a ``height`` over that ground [m] and tilted up by ``tilt`` [rad]; ``image`` distance f (1 + m) and
    height of the ``sensor`` in m. Ground that lies square to the view or behind it is far outside: ±1000, and said.
    """
    angle = atan2(height, distance) + tilt
    if abs(angle) >= pi / 2 - 1e-6:
        return Outcome(1000.0 if angle > 0 else -1000.0, ("the ground lies behind the camera",))
    return Outcome(0.5 + image * tan(angle) / sensor)


@rule("f from f (1 + m) / sensor width, the same for both cameras", "same angle of view, breathing included")
def matching_focal(
    *, focal: float, plate_sensor: float, plate_distance: float | None, sensor: float, distance: float | None
) -> Outcome:
    """Focal length [m] that sees on our ``sensor`` [m wide] the angle of ``focal`` [m] on ``plate_sensor`` [m wide].

    The plate is focused at ``plate_distance`` and we at ``distance`` [both m]; where they are not known both lenses
    are taken as focused at infinity, which is said: it is 6 % off at 0.6 m on a lens of 35 mm.
    """
    away = inf if plate_distance is None else plate_distance
    image = image_distance(focal=focal, distance=away) * sensor / plate_sensor
    if distance is None:
        return Outcome(image, ("without the plate's distance: both lenses taken as focused at infinity",))
    return Outcome(image * distance / (image + distance))
