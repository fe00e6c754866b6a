"""Nails and stands from above, and what was found elsewhere with the way back."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt

from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.floor.stands import Point, from_nails
from homunculus.core.job.stage import MeasuringCard


def draw_nails(ink: Ink, card: MeasuringCard, area: QRectF) -> None:
    """Nails and stands from above; what was found as a ring, with the way back."""
    points: dict[str, Point] = {"A": (0.0, 0.0), "B": (card.nails_m, 0.0)}
    found: dict[str, Point] = {}
    for stand in card.stands:
        left = stand.side == "left"
        last = next((r for r in reversed(card.readings) if r.stand == stand.name), None)
        try:
            points[stand.name] = from_nails(card.nails_m, stand.from_a_m, stand.from_b_m, left=left)
            if last:
                found[stand.name] = from_nails(card.nails_m, last.from_a_m, last.from_b_m, left=left)
        except UserError:
            continue  # its mind says why
    xs, ys = [p[0] for p in points.values()], [p[1] for p in points.values()]
    span = max(max(xs) - min(xs), 1e-3), max(max(ys) - min(ys), 0.4)
    k = min((area.width() - 90) / span[0], (area.height() - 60) / span[1])

    def on(p: Point) -> QPointF:
        return QPointF(area.left() + 30 + (p[0] - min(xs)) * k, area.bottom() - 30 - (p[1] - min(ys)) * k)

    for name in ("A", "B"):
        for other, at in points.items():
            if other not in ("A", "B"):
                a, b = on(points[name]), on(at)
                ink.rule(a.x(), a.y(), b.x(), b.y(), "line", 1.0)
    for name, point in points.items():
        spot = on(point)
        nail = name in ("A", "B")
        ink.rules(
            [(spot.x() - 6, spot.y(), spot.x() + 6, spot.y()), (spot.x(), spot.y() - 6, spot.x(), spot.y() + 6)],
            "ink",
            2.2 if nail else 1.4,
        )
        ink.text(
            spot.x() + 9,
            spot.y() + (18 if nail else -7),
            name if nail else ink.squeezed(120, name, "note"),
            "note",
            "ink",
            weight=600 if nail else 0,
        )
    for name, point in found.items():
        off = math.dist(point, points[name])
        if off <= card.within_m:
            continue
        here, there = on(points[name]), on(point)
        away = there - here
        long = math.hypot(away.x(), away.y())
        if long < 14:  # too little to see: drawn longer, in its direction
            away = away * (14 / max(long, 1e-9))
        there = here + away
        ink.painter.setPen(ink.pen("danger", 1.8))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawEllipse(there, 5, 5)
        ink.rule(there.x(), there.y(), here.x(), here.y(), "danger", 1.6)
