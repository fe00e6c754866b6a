"""Vessels that are filled: flasks for the parts, buckets for the batches, and the ring of a pot life."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath

from homunculus.app.theme.ink import Ink

NECK = 0.9
"""Share of the target that the body holds: the neck magnifies the last tenth, as a measuring flask's does."""


class Flask:
    """A flask of a part: where it lies and how full a share of its target is drawn.

    Parameters
    ----------
    area
        Body and neck, in pixels.
    """

    def __init__(self, area: QRectF) -> None:
        self.area = area
        self.shoulder = area.top() + area.height() * 0.52
        """Where the neck begins."""
        self.neck_foot = self.shoulder - area.height() * 0.05
        self.mark = area.top() + area.height() * 0.26
        """Height of the target."""
        self.side = area.width() * 0.33

    def outline(self) -> QPainterPath:
        """The glass, open at the top."""
        a, bend = self.area, 0.06 * self.area.height()
        path = QPainterPath(QPointF(a.left() + self.side, a.top()))
        path.lineTo(a.left() + self.side, self.neck_foot)
        path.cubicTo(QPointF(a.left() + self.side, self.shoulder), QPointF(a.left(), self.shoulder),
                     QPointF(a.left(), self.shoulder + 2 * bend))  # fmt: skip
        path.lineTo(a.left(), a.bottom() - 10)
        path.quadTo(QPointF(a.left(), a.bottom()), QPointF(a.left() + 10, a.bottom()))
        path.lineTo(a.right() - 10, a.bottom())
        path.quadTo(QPointF(a.right(), a.bottom()), QPointF(a.right(), a.bottom() - 10))
        path.lineTo(a.right(), self.shoulder + 2 * bend)
        path.cubicTo(QPointF(a.right(), self.shoulder), QPointF(a.right() - self.side, self.shoulder),
                     QPointF(a.right() - self.side, self.neck_foot))  # fmt: skip
        path.lineTo(a.right() - self.side, a.top())
        return path

    def level(self, share: float) -> float:
        """Height at which the surface of so large a ``share`` of the target lies."""
        foot, neck = self.area.bottom(), self.shoulder
        if share <= NECK:
            return foot - (foot - neck) * max(0.0, share) / NECK
        return max(self.area.top() + 4, neck - (neck - self.mark) * (share - NECK) / (1 - NECK))

    def draw(self, ink: Ink, share: float, *, past: bool = False, width: float = 2.25) -> None:
        """Draw the glass filled to a ``share`` of its target; what is ``past`` the target is chequered."""
        outline, surface = self.outline(), self.level(share)
        painter = ink.painter
        painter.fillPath(outline, ink.theme.colour("film"))
        painter.save()
        painter.setClipPath(outline)
        if share > 0:
            top = max(surface, self.level(1.0)) if past else surface
            body = QRectF(self.area.left(), top, self.area.width(), self.area.bottom() - top)
            painter.fillRect(body, ink.theme.colour("rubber"))
            ink.hatched(body, "wet", "reckon")
            if past:
                beyond = QRectF(self.area.left(), surface, self.area.width(), top - surface)
                painter.fillRect(beyond, ink.theme.colour("mind_t"))
                ink.hatched(beyond, "past", "mind")
            painter.fillRect(QRectF(self.area.left(), surface - 1.2, self.area.width(), 2.4), ink.theme.colour("ink"))
        painter.restore()
        painter.setPen(ink.pen("ink", width))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(outline)


def bucket(ink: Ink, area: QRectF, share: float, limit: float, words: str, *, done: bool = False) -> None:
    """Draw a bucket.

    Parameters
    ----------
    ink
        The pen.
    area
        Of the bucket.
    share, limit
        Filled part and the part that may be filled, of the whole height.
    words
        Written on it.
    done
        Whether this one is in the mould already.
    """
    ink.box(area.x(), area.y(), area.width(), area.height(), fill="sheet")
    level = QRectF(area.x(), area.bottom() - area.height() * share, area.width(), area.height() * share)
    if done:
        ink.hatched(level, "curing", "ink2")
    else:
        ink.box(level.x(), level.y(), level.width(), level.height(), fill="rubber")
        ink.hatched(level, "wet", "reckon")
    at = area.bottom() - area.height() * limit
    ink.rule(area.left(), at, area.right(), at, "decide", 1.2, "limit")
    ink.box(area.x(), area.y(), area.width(), area.height(), edge="ink", width=1.5)
    ink.text(area.center().x(), area.y() + min(22.0, area.height() * 0.45), words, "lane_value", "ink", "centre")


def ring(
    ink: Ink,
    middle: QPointF,
    radius: float,
    parts: list[tuple[float, str, str, str]],
    hand: float | None,
    role: str = "tick",
) -> None:
    """Draw a ring of time, clockwise from the top.

    Parameters
    ----------
    ink
        The pen.
    middle, radius
        Of the ring's outside.
    parts
        (share of the whole, pattern, colour of its ground, words) one after another.
    hand
        Share at which now stands, or none.
    role
        Type of the words.
    """
    thick = radius * 0.2
    outer = QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius)
    inner = outer.adjusted(thick, thick, -thick, -thick)
    painter, begin = ink.painter, 0.0
    for share, pattern, ground, words in parts:
        piece = QPainterPath()
        start, sweep = 90 - begin * 360, -share * 360
        piece.arcMoveTo(outer, start)
        piece.arcTo(outer, start, sweep)
        piece.arcTo(inner, start + sweep, -sweep)
        piece.closeSubpath()
        painter.fillPath(piece, ink.theme.colour(ground))
        if pattern:
            ink.hatched(piece, pattern, "reckon" if pattern == "wet" else "mind" if pattern == "curing" else "ink2")
        painter.setPen(ink.pen("ink", 1.5))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(piece)
        if words and share > 0.06:
            ray = QPainterPath()
            centre = inner.adjusted(-thick / 2, -thick / 2, thick / 2, thick / 2)
            ray.arcMoveTo(centre, start + sweep / 2)
            at = ray.currentPosition()
            width, size = ink.width(words, role), ink.theme.size(role)
            ink.plate(at.x() - width / 2, at.y() - size * 0.55, width, size * 1.08)
            ink.text(at.x(), at.y() + size * 0.34, words, role, "ink", "centre")
        begin += share
    if hand is not None:
        ray, wide = QPainterPath(), outer.adjusted(-8, -8, 8, 8)
        ray.arcMoveTo(wide, 90 - hand * 360)
        tip = ray.currentPosition()
        ray.arcMoveTo(inner, 90 - hand * 360)
        foot = ray.currentPosition()
        painter.setPen(ink.pen("ink", 4))
        painter.drawLine(foot, tip)
