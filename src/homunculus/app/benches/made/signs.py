"""Small sections of the ways of making, drawn around the piece's own outline."""

from __future__ import annotations

from PySide6.QtCore import QMarginsF, QPointF, QRectF, Qt
from PySide6.QtGui import QPainter, QPainterPath, QPainterPathStroker, QPen, QPixmap, QPolygonF, QTransform

from homunculus.app.theme.ink import Ink
from homunculus.core.constructions.register import construction_of
from homunculus.core.job.ways import WayCard

SIGN = QRectF(0, 0, 48, 42)
"""How large a sign is."""
MARGINS = QMarginsF(8, 8, 8, 8)
"""Into which its lines may reach."""
MOST = 400
"""Signs that are kept; 16 kB each."""


def fitted(path: QPainterPath, area: QRectF) -> QPainterPath:
    """An outline made to fit an area."""
    box = path.boundingRect()
    if box.isEmpty():
        path = QPainterPath()
        path.addRect(area)
        return path
    k = min(area.width() / box.width(), area.height() / box.height())
    small = QTransform(k, 0, 0, k, area.center().x() - box.center().x() * k, area.bottom() - box.bottom() * k).map(path)
    found = QPainterPath()
    for polygon in small.toSubpathPolygons():
        found.addPolygon(QPolygonF(_coarser(polygon.toList())))
        found.closeSubpath()
    return found


def cross_out(ink: Ink, area: QRectF, word: str) -> None:
    """Draw through what cannot be, as a limit that fails, and write why in a word."""
    y = area.top() + 12
    width = ink.width(word, "note", 600)
    ink.plate(area.center().x() - width / 2, area.bottom() - 15, width, 13)
    ink.text(area.center().x(), area.bottom() - 4, word, "note", "danger", "centre", 600)
    ink.rule(area.left() - 4, y, area.right() + 4, y, "danger", 1.2)
    for x in (area.left() + 8, area.center().x(), area.right() - 8):
        ink.rule(x - 4, y - 4, x + 4, y + 4, "danger", 1.4)
        ink.rule(x - 4, y + 4, x + 4, y - 4, "danger", 1.4)


def _coarser(points: list[QPointF]) -> list[QPointF]:
    """Without points that lie within a pixel of the one before: of a mesh's outline most do, and rings around it would cost their square."""
    kept = points[:1]
    for point in points[1:]:
        if (point - kept[-1]).manhattanLength() >= 1.0:
            kept.append(point)
    return kept


def inside(area: QRectF) -> QRectF:
    """Where in the ``area`` of a sign the outline of the piece lies."""
    return area.adjusted(9, 8, -9, -5)


def around_of(way: WayCard) -> str:
    """How a ``way`` surrounds, cuts or builds what it makes."""
    return construction_of(way.mould).surround if way.mould else way.sign


class Stamps:
    """Signs as they were drawn: pieces that look alike so small share theirs, and a new ball is not drawn nine ways again."""

    def __init__(self) -> None:
        self._kept: dict[object, QPixmap] = {}

    def draw(self, ink: Ink, ways: list[tuple[WayCard, QPointF]], path: QPainterPath, here: str) -> None:
        """Draw ``ways`` with their corners as :func:`draw_way` does, around one outline, the ``path`` of a sign that lies at nought.

        The way with the id ``here`` is that by which the piece comes to be.
        """
        ratio = ink.painter.device().devicePixelRatio()
        count = path.elementCount()
        points = tuple((round(8 * e.x), round(8 * e.y)) for e in (path.elementAt(i) for i in range(count)))
        for way, at in ways:
            key = (around_of(way), way.mould is None, way.id == here, points, ink.theme, ratio)
            known = self._kept.pop(key, None)
            if known is None:
                known = QPixmap((SIGN.marginsAdded(MARGINS).size() * ratio).toSize())
                known.setDevicePixelRatio(ratio)
                known.fill(Qt.GlobalColor.transparent)
                painter = QPainter(known)
                painter.translate(MARGINS.left(), MARGINS.top())
                draw_way(Ink(painter, ink.theme), way, path, SIGN, here=way.id == here)
                painter.end()
            while len(self._kept) >= MOST:
                del self._kept[next(iter(self._kept))]
            self._kept[key] = known  # what was used last is dropped last
            ink.painter.drawPixmap(at - QPointF(MARGINS.left(), MARGINS.top()), known)


def draw_way(ink: Ink, way: WayCard, path: QPainterPath, area: QRectF, *, here: bool) -> None:
    """Draw how a way surrounds, cuts or builds the outline of a piece: its ``path``, made to fit the inside of the ``area``."""
    edge, width = ("ink", 1.8) if here else ("ink2", 1.0)
    around = around_of(way)
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    if around in ("box", "halves"):
        ink.box(area.x(), area.y(), area.width(), area.height(), fill="sheet")
        ink.hatched(area, "wet" if around == "box" else "structure", "reckon" if around == "box" else "ink2")
        ink.box(area.x(), area.y(), area.width(), area.height(), edge=edge, width=width)
    elif around == "jacket":
        for thick, colour, hatch in ((15.0, "steel", "laminate"), (9.0, "rubber", "wet")):
            stroker = QPainterPathStroker()
            stroker.setWidth(thick)
            ring = stroker.createStroke(path)  # its inner edge lies under the piece, which is drawn over it
            ring.setFillRule(Qt.FillRule.WindingFill)
            beneath = QPen(ink.pen(edge, thick + 2 * width))  # the ring's own edge crosses itself, and is slow
            beneath.setJoinStyle(stroker.joinStyle())  # or a mesh's corners stick out
            ink.painter.setPen(beneath)
            ink.painter.drawPath(path)
            ink.hatched(ring, hatch, "ink2" if hatch == "laminate" else "reckon", colour)
    elif around == "block":
        ink.painter.setPen(ink.pen(edge, width, "hidden"))
        ink.painter.drawRect(area)
    elif around == "sheet":
        box = path.boundingRect()
        over = QPainterPath(QPointF(area.x() - 2, box.bottom()))
        for point in (QPointF(box.left() - 4, box.bottom()), box.topLeft() + QPointF(-2, -4), box.topRight() + QPointF(2, -4),
                      QPointF(box.right() + 4, box.bottom()), QPointF(area.right() + 2, box.bottom())):  # fmt: skip
            over.lineTo(point)
        ink.painter.setPen(ink.pen(edge, width + 1))
        ink.painter.drawPath(over)
    elif around == "carton":
        ink.box(area.x() + 4, area.y() + 12, area.width() - 8, area.height() - 12, edge=edge, width=width)
        ink.rule(area.x() + 4, area.y() + 22, area.right() - 4, area.y() + 22, edge, width)
        ink.rule(area.center().x(), area.y() + 12, area.center().x(), area.y() + 22, edge, width)
        return
    ground = "clay" if way.mould else "sheet"
    if around == "layers":
        ink.painter.fillPath(path, ink.theme.colour(ground))
        ink.painter.save()
        ink.painter.setClipPath(path)
        box = path.boundingRect()
        y = box.bottom() - 3
        while y > box.top():
            ink.rule(box.left(), y, box.right(), y, "ink2", 1)
            y -= 4
        ink.painter.restore()
    elif around == "block":
        ink.hatched(path, "structure", "ink2", ground)
    elif way.mould:
        ink.hatched(path, "clay", "ink2", ground)
    else:
        ink.hatched(path, "laminate", "ink2", ground)
    ink.painter.setPen(ink.pen(edge, width))
    ink.painter.drawPath(path)
    if around == "halves":
        ink.rule(area.x() - 3, area.center().y(), area.right() + 3, area.center().y(), edge, 1.2, "parting")
