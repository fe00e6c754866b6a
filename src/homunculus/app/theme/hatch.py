"""Patterns of matter, as tiled brushes on one grid for the whole window."""

from __future__ import annotations

from functools import cache

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QColor, QImage, QPainter, QPen


@cache
def hatch(name: str, colour: str, ratio: float = 1.0, ground: str = "") -> QBrush:
    """Return the brush of a pattern.

    ``name`` is one of wet, curing, firm, cured, oven, air_dry, past, laminate, structure, clay; ``colour`` is a
    ``#rrggbb``; ``ratio`` is the device's pixels to one of ours; on a ``ground`` of a colour it covers what lies beneath.
    """
    if name in ("cured", "labour"):
        return QBrush(QColor(colour))
    size = {"wet": 11, "curing": 7, "firm": 6, "oven": 4, "air_dry": 20, "past": 8, "laminate": 5, "structure": 13}
    side = size.get(name, 26)
    tall = 11 if name == "air_dry" else side
    image = QImage(round(side * ratio), round(tall * ratio), QImage.Format.Format_ARGB32_Premultiplied)
    image.setDevicePixelRatio(ratio)
    image.fill(QColor(ground) if ground else Qt.GlobalColor.transparent)
    painter = QPainter(image)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    _draw(painter, name, QColor(colour), side, tall)
    painter.end()
    return QBrush(image)


def _draw(painter: QPainter, name: str, colour: QColor, side: int, tall: int) -> None:
    widths = {"curing": 1.1, "firm": 1.1, "oven": 1.1, "air_dry": 1.0, "laminate": 0.8, "structure": 0.8, "clay": 0.8}
    painter.setPen(QPen(colour, widths.get(name, 1.0)))
    if name == "wet":
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        for x, y in ((2.75, 2.75), (8.25, 8.25)):
            painter.drawEllipse(QPointF(x, y), 1.0, 1.0)
    elif name == "past":
        for x, y in ((0, 0), (4, 4)):
            painter.fillRect(QRectF(x, y, 4, 4), colour)
    elif name == "oven":
        painter.drawLine(QPointF(2, 0), QPointF(2, tall))
    elif name == "air_dry":
        for y in (2.75, 8.25):
            painter.drawPolyline([QPointF(x, y + (1.7 if (x // 5) % 2 else 0)) for x in range(-5, side + 6, 5)])
    elif name == "clay":
        for x, y, dx, dy in ((4, 5, 4, 2), (15, 3, -2, 4), (21, 13, 4, -2), (8, 16, 1, 4), (16, 21, 4, 1)):
            painter.drawLine(QPointF(x, y), QPointF(x + dx, y + dy))
    else:
        for shift in (-side, 0, side):
            if name != "laminate":
                painter.drawLine(QPointF(shift - 1, side + 1), QPointF(shift + side + 1, -1))
            if name in ("firm", "laminate"):
                painter.drawLine(QPointF(shift - 1, -1), QPointF(shift + side + 1, side + 1))
