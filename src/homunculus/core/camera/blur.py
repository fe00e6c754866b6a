"""How unsharp a point comes out: defocus and diffraction together, and the stop that makes the worst of several least.

Distances are from the front principal plane, those of rules from the eye, the entrance pupil; infinity is no case of its
own, for all formulas go by reciprocals.
Source throughout: geometrical optics of a thick lens, its pupils included; Airy disc from scalar diffraction (Born and
Wolf, Principles of Optics). Defocus and Airy disc are added in squares, as the variances of independent spreads are.
"""

from __future__ import annotations

import math
from typing import NamedTuple

from homunculus.core.figures import Outcome, rule

OPTICS = "geometrical optics of a thick lens; diffraction added in squares"
WAVELENGTH_M = 550e-9
WITHIN = "the lens cannot focus within its focal length"


class Glass(NamedTuple):
    """What of a lens the blur goes by."""

    focal_m: float
    pupil: float = 1.0
    """Exit pupil over entrance pupil; 1 where nobody knows it."""

    @property
    def entrance_m(self) -> float:
        """How far [m] the entrance pupil lies behind the front principal plane; before it when negative: f (1/p − 1)."""
        return self.focal_m * (1 / self.pupil - 1)


def magnification(glass: Glass, *, focus: float) -> float:
    """Size of the image over that of the thing, m = f / (s − f), of a ``glass`` in ``focus`` at s [m]; 0 at infinity.

    Raises
    ------
    ValueError
        When the focus lies within the focal length.
    """
    if focus <= glass.focal_m:
        raise ValueError(WITHIN)
    return glass.focal_m / focus / (1 - glass.focal_m / focus)


def aperture_disc(glass: Glass, *, focus: float, distance: float) -> float:
    """Diameter [m] of the blur of a point at a ``distance`` x at f/1, by defocus alone: m f |x − s| / (x + f (1/p − 1)).

    At f/N it is an N-th of it. ``focus`` of the ``glass`` is s; both in m. Reckoned by the reciprocal u of the distance from the eye, as
    f² |(1 − f (1/p − 1) u) / s − u| / (1 − f/s), in which infinity is nought.

    Raises
    ------
    ValueError
        When the focus lies within the focal length, or the point behind the entrance pupil.
    """
    focal, eye = glass.focal_m, glass.entrance_m
    if focus <= focal:
        raise ValueError(WITHIN)
    if distance + eye <= 0:
        raise ValueError("the point lies behind the entrance pupil")
    near = 1 / (distance + eye)
    apart = abs((1 - eye * near) / focus - near)
    return focal**2 * apart / (1 - focal / focus)


def airy_disc(glass: Glass, *, focus: float) -> float:
    """Diameter [m] of the Airy disc of a ``glass`` at f/1, 2.44 λ (1 + m/p); at f/N it is N times that. ``focus`` in m."""
    return 2.44 * WAVELENGTH_M * (1 + magnification(glass, focus=focus) / glass.pupil)


def blur(glass: Glass, *, stop: float, focus: float, distance: float) -> float:
    """Diameter [m] into which a point at a ``distance`` spreads at f/``stop``, when the ``glass`` is in ``focus`` elsewhere [both m]."""
    disc = aperture_disc(glass, focus=focus, distance=distance)
    return math.hypot(disc / stop, airy_disc(glass, focus=focus) * stop)


def middle_focus(*, near: float, far: float, entrance: float = 0.0) -> float:
    """Where to focus [m] so that ``near`` and ``far`` [m] are equally unsharp; 2 n F / (n + F) where the pupils are equal.

    With the ``entrance`` pupil δ behind the front principal plane [m] it is (2 n F + δ (n + F)) / (n + F + 2 δ). ``far``
    may be infinite.
    """
    a, b = 1 / near, 1 / far
    middle = (2 + entrance * (a + b)) / (a + b + 2 * entrance * a * b)
    return min(max(middle, near), far)  # of one plane it is that plane, to the last digit


def best_stop(glass: Glass, *, focus: float, disc: float, widest: float, narrowest: float) -> float:
    """The f-number, within ``widest`` … ``narrowest``, at which the worst point is least unsharp.

    ``disc`` is the largest of the discs at f/1 [m] of a ``glass`` in ``focus`` [m]. Opening lets defocus grow as 1/N, closing the Airy
    disc as N: their sum in squares is least where they are equal, at N² = disc / airy.
    """
    return min(max(math.sqrt(disc / airy_disc(glass, focus=focus)), widest), narrowest)


def widest_sharp_stop(glass: Glass, *, focus: float, disc: float, allowed: float) -> float:
    """The widest f-number at which the worst point spreads no further than ``allowed`` [m]; infinite where none does it.

    ``disc`` is the largest of the discs at f/1 [m] of a ``glass`` in ``focus`` [m]. From (disc/N)² + (airy N)² = allowed², the root that takes less light: N² = 2 disc² / (c² + √(c⁴ − 4 disc² airy²)).
    """
    airy = airy_disc(glass, focus=focus)
    left = allowed**4 - 4 * (disc * airy) ** 2
    return math.sqrt(2 * disc**2 / (allowed**2 + math.sqrt(left))) if left >= 0 else math.inf


def sharp_air(glass: Glass, *, stop: float, focus: float, allowed: float) -> tuple[float, float] | None:
    """From where to where [m] a point spreads no further than ``allowed`` [m] at f/``stop``, with the ``glass`` in ``focus`` [m].

    None where diffraction alone is more. The far end may be infinite.
    """
    room = allowed**2 - (airy_disc(glass, focus=focus) * stop) ** 2
    if room < 0:
        return None
    spread = stop * math.sqrt(room) * (1 - glass.focal_m / focus)
    square, offset = glass.focal_m**2, glass.entrance_m
    nearest, farthest = (square / focus + spread), (square / focus - spread)
    near = (square - spread * offset) / nearest
    far = (square + spread * offset) / farthest if farthest > 0 else math.inf
    return max(near, 0.0), far


def worst_disc(glass: Glass, *, focus: float, near: float, far: float) -> float:
    """The larger of the discs at f/1 [m] of the ends ``near`` and ``far``, of a ``glass`` in ``focus`` between them [all m]."""
    return max(aperture_disc(glass, focus=focus, distance=near), aperture_disc(glass, focus=focus, distance=far))


def ends_disc(glass: Glass, *, focus: float, near: float, far: float) -> float:
    """As :func:`worst_disc`, with ``focus``, ``near`` and ``far`` of the ``glass`` taken from the eye: its entrance pupil [all m]."""
    eye = glass.entrance_m
    return worst_disc(glass, focus=focus - eye, near=near - eye, far=far - eye)


@rule("N² = disc at f/1 / Airy disc at f/1, within what the lens has", OPTICS)
def stop_of_least_blur(
    *, focal: float, near: float, far: float, focus: float, widest: float, smallest: float, pupil: float = 1.0
) -> Outcome:
    """F-number at which the ends ``near`` and ``far`` are least unsharp, for a lens of ``focal`` length in ``focus`` [all m].

    Distances are from the eye. The lens opens to ``widest`` and closes to ``smallest``; ``pupil`` is its magnification.
    """
    glass = Glass(focal, pupil)
    disc = ends_disc(glass, focus=focus, near=near, far=far)
    free = best_stop(glass, focus=focus - glass.entrance_m, disc=disc, widest=0.0, narrowest=math.inf)
    stop = min(max(free, widest), smallest)
    return Outcome(
        stop, () if stop == free else (f"f/{free:.3g} would be best; the lens has f/{widest:g} to f/{smallest:g}",)
    )


@rule("√((disc/N)² + (2.44 λ N (1 + m/p))²) × delivered pixels / sensor width", OPTICS)
def worst_blur(
    *, focal: float, near: float, far: float, focus: float, stop: float, sensor_width: float, delivery: int,
    pupil: float = 1.0,
) -> float:  # fmt: skip
    """How many delivered pixels a point at the worse of the ends spreads over at a ``stop``.

    ``focal`` length, ``near``, ``far`` and ``focus`` from the eye, and ``sensor_width`` in metres, ``delivery`` in pixels across;
    ``pupil`` is the lens's magnification of its pupils.
    """
    glass = Glass(focal, pupil)
    disc, airy = ends_disc(glass, focus=focus, near=near, far=far), airy_disc(glass, focus=focus - glass.entrance_m)
    return math.hypot(disc / stop, airy * stop) * delivery / sensor_width


@rule("N² = 2 disc² / (c² + √(c⁴ − 4 disc² airy²)): the widest stop at which no end is blurred further than c; where none "
      "is, that of least blur", OPTICS)  # fmt: skip
def stop_to_take(
    *, focal: float, near: float, far: float, focus: float, confusion: float, widest: float, smallest: float,
    pupil: float = 1.0,
) -> Outcome:  # fmt: skip
    """F-number to set so that ``near`` … ``far`` are sharp, diffraction included, for a lens of ``focal`` length in ``focus``.

    All in metres, distances from the eye, ``confusion`` the blur that passes; the lens opens to ``widest`` and closes to
    ``smallest``, and ``pupil`` is its magnification of its pupils. Notes say what the depth formula of handbooks asks where that is
    another stop, and when none holds.
    """
    glass = Glass(focal, pupil)
    disc = ends_disc(glass, focus=focus, near=near, far=far)
    asked = disc / confusion
    free = widest_sharp_stop(glass, focus=focus - glass.entrance_m, disc=disc, allowed=confusion)
    if free > smallest:
        stop = best_stop(glass, focus=focus - glass.entrance_m, disc=disc, widest=widest, narrowest=smallest)
        return Outcome(stop, (f"no stop holds it: the depth formula asks f/{asked:.3g}, and this one blurs least",))
    if near == far:
        return Outcome(max(free, widest), ("one plane: any stop holds it",) if disc == 0 else ())
    if free < widest:
        return Outcome(widest, (f"f/{free:.2g} would hold it; the lens opens to f/{widest:g}",))
    other = abs(free / asked - 1) > 0.03
    return Outcome(free, (f"the depth formula, without diffraction, asks f/{asked:.3g}",) if other else ())


@rule("where (disc/N)² + (2.44 λ N (1 + m/p))² = c², before the focus", OPTICS)
def sharp_from(*, focal: float, focus: float, stop: float, confusion: float, pupil: float = 1.0) -> Outcome:
    """Distance from the eye [m] from which a point spreads no further than ``confusion`` [m] at a ``stop``.

    For a lens of ``focal`` length in ``focus``, in metres, whose pupils' magnification is ``pupil``. Where diffraction alone is more there is
    no such air: then it is the focus, and a note says so.
    """
    return _air_end(0, focal, focus, stop, confusion, pupil)


@rule("where (disc/N)² + (2.44 λ N (1 + m/p))² = c², behind the focus", OPTICS)
def sharp_to(*, focal: float, focus: float, stop: float, confusion: float, pupil: float = 1.0) -> Outcome:
    """Distance from the eye [m] to which a point spreads no further than ``confusion`` [m]; infinite where it never does.

    ``focal`` length, ``focus`` [m], ``stop`` and ``pupil`` as for :func:`sharp_from`.
    """
    return _air_end(1, focal, focus, stop, confusion, pupil)


def _air_end(end: int, focal: float, focus: float, stop: float, confusion: float, pupil: float) -> Outcome:
    glass = Glass(focal, pupil)
    air = sharp_air(glass, stop=stop, focus=focus - glass.entrance_m, allowed=confusion)
    if air is None:
        return Outcome(focus, ("diffraction alone blurs more than passes as sharp",))
    return Outcome(air[end] + glass.entrance_m)
