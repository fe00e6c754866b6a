"""How much light an exposure takes. Source: ISO 2720 (incident meters), C = 250 for a flat receptor."""

from __future__ import annotations

import math

from homunculus.core.camera.blur import Glass, magnification
from homunculus.core.figures import Outcome, rule

INCIDENT_CONSTANT = 250.0


@rule("t = shutter angle / 360° / f", "definition")
def exposure_time(*, shutter: float, rate: float) -> float:
    """Exposure time [s] from the ``shutter`` angle [rad] and the camera's ``rate`` [fps]."""
    return shutter / (2 * math.pi) / rate


@rule("E = 250 N² × 2^filters / (t × ISO)", "ISO 2720, flat receptor, C = 250; the standard allows 240 to 400")
def illuminance(*, stop: float, exposure: float, iso: float, filters: float = 0.0) -> float:
    """Incident light [lux] for a correct exposure at an effective ``stop``, ``exposure`` [s] and ``iso``; ``filters`` take so many stops."""
    return INCIDENT_CONSTANT * stop**2 * 2**filters / (exposure * iso)


@rule("log₂ (E / E known)", "definition of a stop")
def stops_more(*, light: float, known: float) -> float:
    """How many stops more a ``light`` is than a ``known`` one [both lux]."""
    return math.log2(light / known)


@rule(
    "E × lit area / (lumen a watt × share that reaches the set)",
    "definition of lux and lumen; both factors are estimates",
)
def lamp_power(*, light: float, area: float, efficacy: float, used: float) -> float:
    """Power [W] of the lamps for a ``light`` [lux] on an ``area`` [m²], at an ``efficacy`` [lm/W] of which a share is ``used``."""
    return light * area / (efficacy * used)


@rule(
    "width of the field at the far end × depth that must be sharp, one metre at least",
    "an estimate: common practice, no source",
)
def lit_area(*, sensor_width: float, image: float, near: float, far: float) -> float:
    """Area [m²] to light from ``near`` to ``far``, as wide as a camera of ``sensor_width`` and ``image`` distance sees there [all m].

    Beyond a hundred metres nothing is lit.
    """
    end = min(far, 100.0)
    return sensor_width * end / image * max(end - near, 1.0)


@rule("I = P / U", "definition")
def current(*, power: float, volts: float) -> float:
    """Current [A] that a ``power`` [W] draws at so many ``volts``."""
    return power / volts


@rule("current / (breaker × share of it that is loaded for hours), up to a whole one", "common practice, no source")
def circuits_needed(*, current: float, breaker: float, load: float) -> float:
    """How many circuits a ``current`` [A] takes, each with a ``breaker`` [A] that is loaded to a share ``load``."""
    return math.ceil(current / (breaker * load) - 1e-9)


AIR_J_M3_K = 1.2 * 1005.0
"""Heat that a cubic metre of air takes for a degree: density 1.2 kg/m³ and 1005 J/(kg K), at 20 °C, any handbook."""


@rule("ρ c V / P", "heat balance of closed air, nothing leaving: ρ 1.2 kg/m³, c 1005 J/(kg K)")
def warms_by_a_degree_in(*, power: float, volume: float) -> float:
    """How long [s] the air of a closed stage of ``volume`` [m³] takes to warm by one degree from a ``power`` [W]; less follows, for walls take heat."""
    return AIR_J_M3_K * volume / power


# ------------------------------------------------------------------------------------ in the model
COPPER_OHM_M = 1.72e-8
"""Of annealed copper at 20 °C: IEC 60028, value from memory."""
DROP, DENSITY_A_M2 = 0.05, 5e6
"""Share of the voltage that may be lost on the wire, and the current that a square metre of it carries: common practice, no source."""
SECTIONS_M2 = tuple(
    mm2 * 1e-6 for mm2 in (0.05, 0.08, 0.14, 0.25, 0.34, 0.5, 0.75, 1.0, 1.5, 2.5, 4.0, 6.0, 10.0, 16.0, 25.0)
)
"""Sections that wires are sold in: IEC 60228 from 0.5 mm² on, finer ones common practice."""


@rule("n × I", "lamps side by side")
def lamps_current(*, count: int, amps: float) -> float:
    """Current [A] of ``count`` lamps of ``amps`` each."""
    return count * amps


@rule("P = U × I", "definition; all of it ends as heat inside a closed hull")
def lamps_power(*, current: float, volts: float) -> float:
    """Power [W] of a ``current`` [A] at so many ``volts``."""
    return current * volts


@rule(
    "the larger of I / 5 A per mm² and 2 ρ L I / (5 % of U), up to a section that is sold",
    "ρ of copper by IEC 60028; loss and load are common practice",
)
def wire_section(*, current: float, volts: float, length: float) -> Outcome:
    """Section of copper [m²] for a ``current`` [A] at so many ``volts`` over a ``length`` [m] there and back."""
    least = max(current / DENSITY_A_M2, 2 * COPPER_OHM_M * length * current / (DROP * volts))
    found = next((section for section in SECTIONS_M2 if section >= least * (1 - 1e-9)), None)
    if found is None:
        return Outcome(least, ("thicker than any single wire here: several supplies, or a higher voltage",))
    return Outcome(found)


@rule("L = E ρ / π", "a matt white surface: Lambert")
def screen_luminance(*, light: float, reflects: float) -> float:
    """Luminance [cd/m²] of what ``reflects`` a share of a ``light`` [lux]."""
    return light * reflects / math.pi


@rule("Φ = π L A / gain", "a surface that shines alike to all sides")
def screen_flux(*, luminance: float, width: float, height: float, gain: float) -> float:
    """Light [lm] that a screen of ``width`` and ``height`` [m] must give for a ``luminance`` [cd/m²]; a ``gain`` over 1 needs less."""
    return math.pi * luminance * width * height / gain


@rule(
    "N effective = N × T/N wide open × (1 + m/p), m = f / (s − f)",
    "geometrical optics of a thick lens; the lens's T-stop where its card says it",
)
def effective_stop(*, stop: float, focal: float, distance: float, pupil: float = 1.0, loss: float = 1.0) -> float:
    """Stop that counts for light: ``stop`` of a ``focal`` length in focus at a ``distance`` from the eye [both m].

    ``pupil`` is the lens's magnification of its pupils, ``loss`` its T-stop over its f-number.
    """
    glass = Glass(focal, pupil)
    return stop * loss * (1 + magnification(glass, focus=distance - glass.entrance_m) / pupil)
