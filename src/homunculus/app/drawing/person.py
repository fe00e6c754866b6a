"""A person of 1.75 m, as a plain workshop figure: the measure that every drawing carries."""

from __future__ import annotations

from functools import cache

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainterPath

PERSON_M = 1.75
"""Height of the person that drawings carry as a measure."""

# Half of a standing figure, front view, in thousandths of its height: across, up.
_HALF = (
    (8, 868), (24, 846), (26, 838), (74, 826), (112, 806), (124, 774), (132, 700), (136, 620), (138, 540), (140, 470),
    (134, 452), (120, 452), (116, 470), (112, 540), (106, 620), (98, 690), (92, 740), (88, 690), (84, 630), (90, 560),
    (94, 500), (92, 420), (84, 340), (78, 270), (74, 200), (64, 110), (58, 50), (66, 22), (66, 0), (20, 0), (18, 40),
    (20, 120), (18, 200), (16, 280), (12, 360), (8, 440),
)  # fmt: skip


@cache
def person_path(height: float) -> QPainterPath:
    """A standing person's outline, feet at 0, centred, y downwards; ``height`` in pixels."""
    unit = height / 1000
    path = QPainterPath()
    right = [QPointF(x * unit, -y * unit) for x, y in _HALF]
    left = [QPointF(-p.x(), p.y()) for p in reversed(right)]
    path.moveTo(right[0])
    for point in (*right[1:], *left):
        path.lineTo(point)
    path.closeSubpath()
    path.setFillRule(Qt.FillRule.WindingFill)
    path.addEllipse(QPointF(0, -932 * unit), 50 * unit, 64 * unit)
    return path
