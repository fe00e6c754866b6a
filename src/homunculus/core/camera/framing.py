"""What fills the frame, and what our camera must be to see what a live plate saw."""

from __future__ import annotations

from homunculus.core.figures import rule


@rule("height × focal length / (distance × height of the sensor)", "pinhole projection, similar triangles")
def share_of_frame(*, height: float, distance: float, focal: float, sensor: float) -> float:
    """Share of the frame's height that something fills.

    ``height`` and ``distance`` are real [m], as are ``focal`` length and height of the ``sensor`` [m]; scale falls out.
    """
    return height * focal / (distance * sensor)


@rule("focal length of the plate × our sensor / its sensor", "same angle of view: similar triangles")
def matching_focal(*, focal: float, plate_sensor: float, sensor: float) -> float:
    """Focal length [m] that sees on our ``sensor`` [m wide] the angle of ``focal`` [m] on ``plate_sensor`` [m wide]."""
    return focal * sensor / plate_sensor
