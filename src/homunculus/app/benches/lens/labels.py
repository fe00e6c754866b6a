"""The labels beneath the floor: one a thing, beside each other; the worst where not all fit."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QRectF

from homunculus.app.benches.lens.side import Side, Stop

WIDE, LEFT = 78.0, 150.0
"""Of a label, and where the first may begin: beside what explains them."""
WORST = 5


class Label(NamedTuple):
    """A label and where it lies."""

    stop: Stop
    area: QRectF


def spread(side: Side, low: bool) -> list[Label]:
    """Lay the labels as near to what they speak of as there is room, none on another."""
    left, right = LEFT, side.area.right()
    most = max(1, int((right - left) // WIDE))
    stops = side.stops
    if len(stops) > most:
        keep = sorted(stops, key=lambda s: -(s.blur.number if s.blur else 0.0))[: min(WORST, most)]
        stops = [stop for stop in stops if stop in keep]
    centres = [min(max(side.x_of(stop.at), left + WIDE / 2), right - WIDE / 2) for stop in stops]
    for i in range(1, len(centres)):  # to the right, then back from the edge
        centres[i] = max(centres[i], centres[i - 1] + WIDE)
    for i in reversed(range(len(centres))):
        limit = right - WIDE / 2 if i == len(centres) - 1 else centres[i + 1] - WIDE
        centres[i] = min(centres[i], limit)
    high = 52.0 if low else 48.0
    return [
        Label(stop, QRectF(x - WIDE / 2, side.floor + 6, WIDE, high)) for stop, x in zip(stops, centres, strict=True)
    ]
