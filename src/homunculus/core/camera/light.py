"""How much light an exposure takes. Source: ISO 2720 (incident meters), C = 250 for a flat receptor."""

from __future__ import annotations

import math

from homunculus.core.camera.blur import Glass, magnification
from homunculus.core.figures import rule

INCIDENT_CONSTANT = 250.0


@rule("t = shutter angle / 360° / f", "definition")
def exposure_time(*, shutter: float, rate: float) -> float:
    """Exposure time [s] from the ``shutter`` angle [rad] and the camera's ``rate`` [fps]."""
    return shutter / (2 * math.pi) / rate


@rule("E = 250 N² / (t × ISO)", "ISO 2720, flat receptor, C = 250; the standard allows 240 to 400")
def illuminance(*, stop: float, exposure: float, iso: float) -> float:
    """Incident light [lux] for a correct exposure at an effective ``stop``, ``exposure`` [s] and ``iso``."""
    return INCIDENT_CONSTANT * stop**2 / (exposure * iso)


@rule("N effective = N × (1 + m/p), m = f / (s − f)", "geometrical optics of a thick lens")
def effective_stop(*, stop: float, focal: float, distance: float, pupil: float = 1.0) -> float:
    """F-number with the bellows factor: ``stop`` of a ``focal`` length in focus at a ``distance`` from the eye [both m].

    ``pupil`` is the lens's magnification of its pupils.
    """
    glass = Glass(focal, pupil)
    return stop * (1 + magnification(glass, focus=distance - glass.entrance_m) / pupil)
