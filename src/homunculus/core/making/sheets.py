"""Sheets drawn over a form: the blank, how thin it becomes, what all of them weigh."""

from __future__ import annotations

from homunculus.core.figures import Outcome, rule
from homunculus.core.form.measure import Measure


@rule("(l + 2m)(d + 2m)", "geometry")
def blank_area(*, form: Measure, margin: float) -> float:
    """Area [m²] of a sheet that covers the foot of a ``form`` with a ``margin`` [m] on every side."""
    length, depth, _ = form.size
    return (length + 2 * margin) * (depth + 2 * margin)


@rule("sheet × blank / (surface without the foot + what lies flat around it)", "volume is conserved; even stretching")
def drawn_thickness(*, sheet: float, blank: float, form: Measure, foot: float) -> Outcome:
    """Thickness [m] on average where a ``sheet`` [m] with a ``blank`` [m²] was drawn over a ``form``; corners are thinner.

    ``foot`` is the share that the form's foot has of the rectangle around it.
    """
    length, depth, _ = form.size
    under = length * depth * foot
    covered = max(blank, form.area - under + blank - under)
    return Outcome(sheet * blank / covered, form.notes)


@rule("blank × thickness × density × sheets", "definition")
def sheets_mass(*, blank: float, sheet: float, density: float, count: int) -> float:
    """Mass [kg] of so many sheets (``count``) of a ``blank`` [m²], ``sheet`` [m] thick, at a ``density`` [kg/m³]."""
    return blank * sheet * density * count
