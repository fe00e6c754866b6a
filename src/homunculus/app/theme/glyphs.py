"""The seven state glyphs, each with its own outline as well as its own fill; 16 px boxes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPen, QPolygonF

from homunculus.app.theme.ink import Ink


def state_glyph(ink: Ink, x: float, y: float, state: str, colour: str = "ink") -> None:
    """Draw the glyph of a state with its upper left corner at x, y (13 px of ink in a 16 px box)."""
    painter = ink.painter
    box = QRectF(x + 1.5, y + 1.5, 12, 12)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.setPen(ink.pen(colour, 1.5))
    if state == "none":
        pen = QPen(ink.pen(colour, 1.5))
        pen.setDashPattern([2.0, 1.4])
        painter.setPen(pen)
        painter.drawRect(box)
    elif state == "wet":
        drop = QPainterPath(QPointF(x + 7.5, y + 0.5))
        drop.cubicTo(QPointF(x + 9, y + 5), QPointF(x + 13, y + 7), QPointF(x + 13, y + 10))
        drop.arcTo(QRectF(x + 2, y + 4.5, 11, 10), 0, -180)
        drop.cubicTo(QPointF(x + 2, y + 7), QPointF(x + 6, y + 5), QPointF(x + 7.5, y + 0.5))
        painter.drawPath(drop)
        painter.setBrush(ink.theme.colour(colour))
        painter.setPen(Qt.PenStyle.NoPen)
        for dx, dy in ((7.5, 6.5), (5.4, 9.6), (9.6, 9.6), (7.5, 12)):
            painter.drawEllipse(QPointF(x + dx, y + dy), 0.9, 0.9)
    elif state == "set":
        dome = QPainterPath(QPointF(x + 1.5, y + 13.5))
        dome.lineTo(x + 1.5, y + 6)
        dome.quadTo(QPointF(x + 1.5, y + 1.5), QPointF(x + 7.5, y + 1.5))
        dome.quadTo(QPointF(x + 13.5, y + 1.5), QPointF(x + 13.5, y + 6))
        dome.lineTo(x + 13.5, y + 13.5)
        dome.closeSubpath()
        ink.hatched(dome, "curing", colour)
        painter.setPen(ink.pen(colour, 1.5))
        painter.drawPath(dome)
    elif state == "firm":
        ink.hatched(box, "firm", colour)
        painter.setPen(ink.pen(colour, 1.5))
        painter.drawRect(box)
    elif state == "ready":
        painter.fillRect(box, ink.theme.colour(colour))
    elif state == "onset":
        painter.fillRect(QRectF(x + 2, y + 8, 6, 5.5), ink.theme.colour(colour))
        ink.rule(x + 0.5, y + 14, x + 14.5, y + 14, colour, 1.5)
        ink.rule(x + 10.5, y + 1, x + 10.5, y + 14, colour, 1.5)
        painter.setBrush(ink.theme.colour(colour))
        painter.drawPolygon(QPolygonF([QPointF(x + 10.5, y + 1), QPointF(x + 15, y + 3.2), QPointF(x + 10.5, y + 5.4)]))
    else:  # broken
        left = [QPointF(x + 1, y + 3), QPointF(x + 7, y + 3), QPointF(x + 5, y + 7), QPointF(x + 8, y + 10)]
        painter.drawPolygon(QPolygonF([*left, QPointF(x + 6.5, y + 14), QPointF(x + 1, y + 14)]))
        right = [QPointF(x + 9.5, y + 1), QPointF(x + 14.5, y + 1), QPointF(x + 14.5, y + 12), QPointF(x + 9, y + 12)]
        painter.drawPolygon(QPolygonF([*right, QPointF(x + 10.5, y + 8), QPointF(x + 7.5, y + 5)]))
