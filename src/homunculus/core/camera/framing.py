"""What fills the frame, and what our camera must be to see what a live plate saw."""

from __future__ import annotations

from math import atan2, radians, tan

from homunculus.core.figures import rule


@rule("height × focal length / (distance × height of the sensor)", "pinhole projection, similar triangles")
def share_of_frame(*, height: float, distance: float, focal: float, sensor: float) -> float:
    """Share of the frame's height that something fills.

    ``height`` and ``distance`` are real [m], as are ``focal`` length and height of the ``sensor`` [m]; scale falls out.
    """
    return height * focal / (distance * sensor)


@rule("1/2 + focal length × tan(arctan(height / distance) + tilt) / height of the sensor", "pinhole projection")
def foot_in_frame(*, height: float, distance: float, tilt: float, focal: float, sensor: float) -> float:
    """Where the ground at a ``distance`` [m] stands in the frame, as a share of its height from the top.

    The lens is at a ``height`` over that ground [m] and tilted up by ``tilt`` [degrees]; ``focal`` length and height of
    the ``sensor`` in m.
    """
    return 0.5 + focal * tan(atan2(height, distance) + radians(tilt)) / sensor


@rule("focal length of the plate × our sensor / its sensor", "same angle of view: similar triangles")
def matching_focal(*, focal: float, plate_sensor: float, sensor: float) -> float:
    """Focal length [m] that sees on our ``sensor`` [m wide] the angle of ``focal`` [m] on ``plate_sensor`` [m wide]."""
    return focal * sensor / plate_sensor
