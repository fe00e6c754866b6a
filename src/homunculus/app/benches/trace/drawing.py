"""What a trace leads to: the outline and the known length on the picture, and beside it the form that follows."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.core.form.measure import measure
from homunculus.core.form.outline import outline
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Sections

MOST_MARKS = 60
"""Points of an outline that are drawn; all of them can be had."""


def draw_outline(ink: Ink, points: list[QPointF], *, closed: bool) -> None:
    """Draw an outline through ``points``, brought to its beginning where it is ``closed``."""
    if not points:
        return
    ink.painter.setPen(ink.pen("sheet", 4))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    polygon = QPolygonF([*points, points[0]] if closed else points)
    ink.painter.drawPolyline(polygon)
    ink.painter.setPen(ink.pen("decide", 1.8))
    ink.painter.drawPolyline(polygon)
    for at in points if len(points) <= MOST_MARKS else points[:: len(points) // MOST_MARKS + 1]:
        ink.lozenge(at.x(), at.y(), 8, hollow=closed)


def draw_form(ink: Ink, desk: Desk, piece: Piece, area: QRectF) -> None:
    """Draw into an area what follows for a ``piece``: its form from the front and from the side, at one scale, beside a person where one fits."""
    x, room, top = area.left(), area.width(), area.top()
    ink.rule(x - 12, 44, x - 12, area.bottom(), "line", 1)
    ink.text(x, top + 4, "The form that follows", "heading")
    ink.rule(x, top + 10, x + room, top + 10, "ink", 1.2)
    found = measure(piece.form, desk.facts)
    if found is None or not isinstance(piece.form, Sections):
        said = "Closed, the outline makes measured sections of it: as deep as wide, until a picture from the side says otherwise."
        ink.paragraph(x, top + 32, room, said, "note", "ink2")
        return
    wide, deep, tall = found.size
    high = min(260.0, area.height() - 140)
    ratio = min((room - 24) / max(wide + deep, 1e-9), high / max(tall, 1e-9))
    foot = top + 40 + high
    _half(ink, outline(piece.form)[0], x + wide * ratio / 2, foot, ratio)
    turned = Sections(tuple(type(cut)(cut.at_m, cut.depth_m, cut.width_m) for cut in piece.form.sections))
    _half(ink, outline(turned)[0], x + 24 + (wide + deep / 2) * ratio, foot, ratio)
    ink.rule(x, foot, x + room, foot, "ink", 1.5)
    if 14 < PERSON_M * ratio < high * 1.02:
        ink.painter.save()
        ink.painter.translate(x + room - 12, foot)
        ink.painter.setPen(ink.pen("line", 1))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(person_path(PERSON_M * ratio))
        ink.painter.restore()
    sides = " × ".join(str(desk.given(side, "length")) for side in (wide, deep, tall))
    ink.text(x, foot + 22, ink.squeezed(room, sides, "label"), "label")
    ink.text(x, foot + 40, "wide, deep, high, real", "note", "ink2")
    side = piece.trace.side if piece.trace else None
    ink.text(x, foot + 58, "from its own picture" if side and side.closed else "round: as deep as wide", "note", "ink2")


def _half(ink: Ink, corners: tuple[tuple[float, float], ...], x: float, foot: float, ratio: float) -> None:
    ink.painter.setPen(ink.pen("ink", 1.6))
    ink.painter.setBrush(ink.theme.colour("clay"))
    ink.painter.drawPolygon(QPolygonF([QPointF(x + along * ratio, foot - up * ratio) for along, up in corners]))
