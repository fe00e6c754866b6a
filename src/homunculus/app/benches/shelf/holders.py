"""Drawings of what stands on a shelf: pails, bottles, bags, lenses, ovens, a person; as large as the largest pack is."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF

from homunculus.app.drawing.person import person_path
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.form.bodies import outlines, parts_of
from homunculus.core.job.bodies import BodyCard
from homunculus.core.job.cards import MaterialCard
from homunculus.core.shelf.stock import Family
from homunculus.core.shelf.telling import largest_pack

MATTER = {
    "chemical": "curing",
    "baked": "oven",
    "gelled": "wet",
    "dried": "air_dry",
    "hydrated": "firm",
    "moisture": "air_dry",
}
"""What a material waits for when it sets, as the same pattern that it has everywhere."""
LEAST = 0.5
"""Of the room, for what is smallest: smaller nobody could tell one from another."""


def draw_holder(
    ink: Ink,
    area: QRectF,
    card: Any,
    sort: str,
    families: tuple[Family, ...],
    *,
    width: float = 1.3,
    colour: str = "ink",
) -> None:
    """Draw what a ``card`` of a ``sort`` stands in, on the foot of an area, with lines of a ``width`` and ``colour``."""
    shape, size, matter = sort, 1.0, ""
    if isinstance(card, MaterialCard):
        family = next((f for f in families if f.id == card.family), None)
        shape, size = (family.holder if family else "jar"), LEAST + (1 - LEAST) * largest_pack(card)
        matter = MATTER[card.clock] if card.parts or card.demould_s else ""
    room = QRectF(
        area.center().x() - area.width() * size / 2,
        area.bottom() - area.height() * size,
        area.width() * size,
        area.height() * size,
    )
    path, filled = (_measured(card, room), None) if isinstance(card, BodyCard) else _SHAPES[shape](room)
    ink.painter.fillPath(path, ink.theme.colour("sheet"))
    if filled is not None:
        ink.painter.save()
        ink.painter.setClipPath(path, Qt.ClipOperation.IntersectClip)
        ink.painter.fillRect(filled, ink.theme.colour("rubber" if matter else "pencil"))
        if matter:
            ink.hatched(filled, matter, "line" if colour != "ink" else "ink2")
        ink.painter.restore()
    ink.painter.setPen(ink.pen(colour, width))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.drawPath(path)


Shape = tuple[QPainterPath, QRectF | None]


def _box(r: QRectF) -> QPainterPath:
    path = QPainterPath()
    path.addRect(r)
    return path


def _part(r: QRectF, left: float, top: float, right: float, bottom: float) -> QRectF:
    """A part of a room, by shares of its sides."""
    return QRectF(
        r.left() + left * r.width(), r.top() + top * r.height(), (right - left) * r.width(), (bottom - top) * r.height()
    )


def _polygon(r: QRectF, points: tuple[tuple[float, float], ...]) -> QPainterPath:
    path = QPainterPath()
    for i, (x, y) in enumerate(points):
        at = QPointF(r.left() + x * r.width(), r.top() + y * r.height())
        path.lineTo(at) if i else path.moveTo(at)
    path.closeSubpath()
    return path


def _pail(r: QRectF) -> Shape:
    path = _polygon(r, ((0.12, 0.22), (0.88, 0.22), (0.8, 1.0), (0.2, 1.0)))
    path.addRect(_part(r, 0.08, 0.12, 0.92, 0.22))
    return path, _part(r, 0, 0.4, 1, 1)


def _bottle(r: QRectF) -> Shape:
    path = _polygon(
        r, ((0.36, 0.0), (0.64, 0.0), (0.64, 0.18), (0.82, 0.32), (0.82, 1.0), (0.18, 1.0), (0.18, 0.32), (0.36, 0.18))
    )
    path.moveTo(r.left() + 0.36 * r.width(), r.top() + 0.12 * r.height())
    path.lineTo(r.left() + 0.64 * r.width(), r.top() + 0.12 * r.height())
    return path, _part(r, 0, 0.45, 1, 1)


def _jar(r: QRectF) -> Shape:
    path = _box(_part(r, 0.2, 0.42, 0.8, 1))
    path.addRect(_part(r, 0.16, 0.28, 0.84, 0.42))
    return path, _part(r, 0, 0.6, 1, 1)


def _bag(r: QRectF) -> Shape:
    path = _polygon(
        r,
        (
            (0.16, 0.12),
            (0.84, 0.12),
            (0.76, 0.2),
            (0.9, 0.34),
            (0.88, 0.96),
            (0.8, 1.0),
            (0.2, 1.0),
            (0.12, 0.96),
            (0.1, 0.34),
            (0.24, 0.2),
        ),
    )
    return path, _part(r, 0, 0.45, 1, 1)


def _block(r: QRectF) -> Shape:
    path = _box(_part(r, 0.06, 0.5, 0.74, 1))
    path.addPath(_polygon(r, ((0.06, 0.5), (0.26, 0.34), (0.94, 0.34), (0.74, 0.5))))
    path.addPath(_polygon(r, ((0.74, 0.5), (0.94, 0.34), (0.94, 0.84), (0.74, 1.0))))
    return path, _part(r, 0.06, 0.5, 0.74, 1)


def _measured(body: BodyCard, r: QRectF) -> QPainterPath:
    """A body as it was measured, limb by limb, from the front."""
    path = QPainterPath()
    try:
        parts = parts_of(body)
    except UserError:
        return person_path(r.height()).translated(r.center().x(), r.bottom())
    corners, wide, top = outlines(parts)
    px = min(r.height() / top, r.width() / wide)
    for limb in corners:
        path.addPolygon(QPolygonF([QPointF(r.center().x() + x * px, r.bottom() - z * px) for x, z in limb]))
        path.closeSubpath()
    return path


def _sheet(r: QRectF) -> Shape:
    path = QPainterPath()
    for i in range(4):
        path.addPath(
            _polygon(r, tuple((x, y + 0.1 * i) for x, y in ((0.02, 0.62), (0.3, 0.42), (0.98, 0.42), (0.7, 0.62))))
        )
    return path, None


def _roll(r: QRectF) -> Shape:
    path = QPainterPath()
    path.addEllipse(_part(r, 0.04, 0.52, 0.36, 1))
    path.addEllipse(_part(r, 0.14, 0.67, 0.26, 0.85))
    path.addPath(_polygon(r, ((0.2, 0.52), (0.96, 0.52), (0.96, 1.0), (0.2, 1.0))))
    return path, None


def _spool(r: QRectF) -> Shape:
    path = _box(_part(r, 0.1, 0.28, 0.9, 0.4))
    path.addRect(_part(r, 0.1, 0.88, 0.9, 1))
    for x in (0.24, 0.37, 0.5, 0.63, 0.76):
        path.moveTo(r.left() + x * r.width(), r.top() + 0.4 * r.height())
        path.lineTo(r.left() + x * r.width(), r.top() + 0.88 * r.height())
    return path, None


def _bundle(r: QRectF) -> Shape:
    path = QPainterPath()
    for x in (0.2, 0.35, 0.5, 0.65, 0.8):
        path.moveTo(r.left() + x * r.width(), r.top() + 0.24 * r.height())
        path.quadTo(
            QPointF(r.left() + 0.5 * r.width(), r.top() + 0.55 * r.height()),
            QPointF(r.left() + (2 * x - 0.5) * r.width(), r.bottom()),
        )
    path.addRect(_part(r, 0.38, 0.5, 0.62, 0.6))
    return path, None


def _camera(r: QRectF) -> Shape:
    path = _box(_part(r, 0.02, 0.46, 0.6, 0.96))
    path.addPath(_polygon(r, ((0.6, 0.58), (0.92, 0.5), (0.92, 0.92), (0.6, 0.84))))
    path.addRect(_part(r, 0.12, 0.34, 0.46, 0.46))
    return path, None


def _lens(r: QRectF) -> Shape:
    path = _polygon(
        r, ((0.04, 0.62), (0.5, 0.62), (0.5, 0.52), (0.92, 0.52), (0.92, 1.0), (0.5, 1.0), (0.5, 0.9), (0.04, 0.9))
    )
    path.moveTo(r.left() + 0.92 * r.width(), r.top() + 0.52 * r.height())
    path.quadTo(
        QPointF(r.left() + 1.02 * r.width(), r.top() + 0.76 * r.height()),
        QPointF(r.left() + 0.92 * r.width(), r.bottom()),
    )
    return path, _part(r, 0.58, 0.52, 0.7, 1)


def _person(r: QRectF) -> Shape:
    return person_path(r.height()).translated(r.center().x(), r.bottom()), None


def _oven(r: QRectF) -> Shape:
    path = _box(_part(r, 0.08, 0.2, 0.92, 1))
    path.addRect(_part(r, 0.18, 0.4, 0.82, 0.92))
    return path, _part(r, 0.18, 0.4, 0.82, 0.92)


def _scale(r: QRectF) -> Shape:
    path = _polygon(r, ((0.14, 0.72), (0.86, 0.72), (0.96, 1.0), (0.04, 1.0)))
    path.addRect(_part(r, 0.2, 0.58, 0.8, 0.64))
    path.addRect(_part(r, 0.46, 0.64, 0.54, 0.72))
    path.addRect(_part(r, 0.34, 0.8, 0.66, 0.92))
    return path, None


def _machine(r: QRectF) -> Shape:
    path = _box(_part(r, 0.1, 0.2, 0.9, 1))
    path.addRect(_part(r, 0.2, 0.3, 0.8, 0.78))
    path.addRect(_part(r, 0.3, 0.7, 0.7, 0.78))
    path.addRect(_part(r, 0.44, 0.3, 0.56, 0.46))
    return path, None


def _stage(r: QRectF) -> Shape:
    path = _polygon(r, ((0.02, 1.0), (0.02, 0.3), (0.98, 0.3), (0.98, 1.0)))
    path.addPath(_polygon(r, ((0.02, 1.0), (0.24, 0.8), (0.76, 0.8), (0.98, 1.0))))
    path.addRect(_part(r, 0.24, 0.48, 0.76, 0.8))
    return path, None


def _bought(r: QRectF) -> Shape:
    path = _box(_part(r, 0.1, 0.46, 0.9, 1))
    path.addPath(_polygon(r, ((0.1, 0.46), (0.5, 0.62), (0.9, 0.46))))
    return path, None


def _hazard(r: QRectF) -> Shape:
    path = _polygon(r, ((0.04, 0.7), (0.26, 0.46), (0.94, 0.46), (0.94, 0.94), (0.26, 0.94)))
    path.addEllipse(_part(r, 0.2, 0.64, 0.3, 0.76))
    return path, None


_SHAPES = {
    "pail": _pail, "bottle": _bottle, "jar": _jar, "bag": _bag, "block": _block, "sheet": _sheet, "roll": _roll, "spool": _spool,
    "bundle": _bundle, "cameras": _camera, "lenses": _lens, "people": _person, "ovens": _oven, "vessels": _pail, "scales": _scale,
    "machines": _machine, "stages": _stage, "bought": _bought, "bodies": _person, "hazards": _hazard,
}  # fmt: skip
