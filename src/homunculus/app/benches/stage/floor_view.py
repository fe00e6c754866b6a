"""Plan over side on one depth axis, at one scale: what stands on the stage, the camera's cone, and how far the camera may go."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF, QTransform

from homunculus.app.benches.stage.scene import Scene
from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.camera.picture import Body
from homunculus.core.camera.stand import BEHIND_M
from homunculus.core.edits.sets import eye_height
from homunculus.core.plan.stage_plan import StagePlan

SMALL_M = 1.6
"""A set that ends nearer is drawn without the person behind the camera, who would not fit at its scale."""
SHARE = 0.62
"""Of the height that the plan has; the side has the rest."""
TAPE = 26.0
LOUPE_PX = 46.0
"""Radius of the loupe in which the zone is told."""


class FloorView:
    """How the stage lies on the drawing: metres to pixels."""

    def __init__(self, desk: Desk, stage: StagePlan, scene: Scene, area: QRectF, like: FloorView | None = None) -> None:
        self.desk, self.stage, self.scene, self.area = desk, stage, scene, area
        self.bodies = scene.bodies(stage)
        found, camera = stage.found, stage.camera
        self.eye_m = eye_height(found, camera)
        far = max((end.number for p in found.planes for end in (p.at, p.to) if end), default=2.0)
        self.small = far < SMALL_M
        self.behind = 0.3 * far + 0.1 if self.small else BEHIND_M
        span = self.behind + far * 1.15
        plan_h, side_h = area.height() * SHARE, area.height() * (1 - SHARE) - TAPE
        angle = found.find(specs.ANGLE, camera=camera.name)
        half = math.tan(angle.number / 2) * far if angle else 0.5 * far
        reach = max([half, *(abs(p.place.across_m) + 0.3 for p in found.planes)])
        top = max([self.eye_m + 0.25 * (0.3 if self.small else 1), 0.0 if self.small else PERSON_M, *self._tops()])
        self.px = min((area.width() - 20) / span, plan_h / (2.0 * min(reach, 0.75 * far)), side_h / top)
        self.eye_x = area.left() + 10 + self.behind * self.px
        if like is not None:  # while something is pulled the drawing keeps its scale
            self.px, self.eye_x = like.px, like.eye_x
        self.axis_y = area.top() + plan_h / 2
        self.plan = QRectF(area.left(), area.top(), area.width(), plan_h - 6)
        self.floor = area.bottom() - TAPE
        self.side = QRectF(area.left(), area.top() + plan_h + 4, area.width(), self.floor - area.top() - plan_h - 4)

    def _tops(self) -> list[float]:
        return [body.where[2] - self.scene.flat(body, "side").boundingRect().top() for body in self.bodies]

    # ----------------------------------------------------------------------------------- places
    def x_of(self, away: float) -> float:
        """Where a distance from the first camera's eye lies."""
        return self.eye_x + away * self.px

    def on_plan(self, away: float, across: float) -> QPointF:
        """Where a point of the floor lies in the plan: what is to the right of the axis lies below it."""
        return QPointF(self.x_of(away), self.axis_y + across * self.px)

    def on_side(self, away: float, up: float) -> QPointF:
        """Where a point lies in the side view."""
        return QPointF(self.x_of(away), self.floor - up * self.px)

    def box(self, body: Body, side: str) -> QRectF:
        """Where a body lies on the drawing."""
        return self._on_it(body, side).mapRect(self.scene.flat(body, side).boundingRect())

    def _on_it(self, body: Body, side: str) -> QTransform:
        """From a body's own metres to the drawing."""
        at = (
            self.on_plan(body.where[1], body.where[0]) if side == "plan" else self.on_side(body.where[1], body.where[2])
        )
        return QTransform().translate(at.x(), at.y()).scale(self.px, self.px)

    # ---------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink, chosen: int) -> None:
        """Draw both views."""
        self._walls(ink)
        for area, side in ((self.plan, "plan"), (self.side, "side")):
            painter = ink.painter
            painter.save()
            painter.setClipRect(area.adjusted(0, 0, 0, 2))
            self._cone(ink, side)
            if side == "side":
                self._tables(ink)
            for body in self.bodies:
                self._body(ink, body, side, mine=body.need == chosen)
            self._camera(ink, side)
            painter.restore()
        self._tape(ink)

    def _body(self, ink: Ink, body: Body, side: str, *, mine: bool) -> None:
        path = self.scene.flat(body, side)
        colour = "ink" if mine else "ink2"
        bounds = path.boundingRect()
        if path.isEmpty() or min(bounds.width(), bounds.height()) * self.px < 1.5:
            self._board(ink, body, side, colour, bounds)
            return
        shape = self._on_it(body, side).map(path)
        shape.setFillRule(Qt.FillRule.WindingFill)
        ink.painter.fillPath(shape, ink.theme.colour("sheet"))
        ink.hatched(shape, "curing", "line")
        ink.painter.setPen(ink.pen(colour, 1.6 if mine else 1.0))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(shape)

    def _board(self, ink: Ink, body: Body, side: str, colour: str, bounds: QRectF) -> None:
        """What is thin, or of a size that nobody has said."""
        dash = "" if body.own else "hidden"
        if side == "plan":
            half = bounds.height() / 2 if body.own else 0.3
            a, b = self.on_plan(body.away, body.where[0] - half), self.on_plan(body.away, body.where[0] + half)
        else:
            top = body.where[2] - bounds.top() if body.own else self.eye_m + 0.1
            a, b = self.on_side(body.away, body.where[2]), self.on_side(body.away, top)
        ink.rule(a.x(), a.y(), b.x(), b.y(), colour, 2.4, dash)
        if side == "side":
            ink.rule(a.x(), a.y(), a.x(), self.floor, "ink2", 1.0)

    def _tables(self, ink: Ink) -> None:
        """The ground of each thing, with its legs, and the breaks between tables."""
        for plane in self.stage.found.planes:
            foot, tables = (
                self.stage.find(specs.PLANE_FOOT, use=plane.name),
                self.stage.find(specs.TABLES, use=plane.name),
            )
            body = next((b for b in self.bodies if b.need == plane.need), None)
            if body is None or foot is None or tables is None or foot.number <= 0.02:
                continue
            box = self.box(body, "side")
            left, right = (
                min(box.left(), self.x_of(body.away) - 12) - 3,
                max(box.right(), self.x_of(body.away) + 12) + 3,
            )
            y = self.floor - foot.number * self.px
            ink.rules([(left, y, right, y), (left + 4, y, left + 4, self.floor), (right - 4, y, right - 4, self.floor)], "ink2", 1.1)  # fmt: skip
            count = round(tables.number)
            breaks = [left + (right - left) * i / count for i in range(1, count)][:12]
            ink.rules([(x, y - 4, x, y + 4) for x in breaks], "ink", 1.4)

    def _cone(self, ink: Ink, side: str) -> None:
        spec = specs.ANGLE if side == "plan" else specs.ANGLE_HIGH
        camera = self.stage.camera
        angle = self.stage.find(spec, camera=camera.name)
        middle = math.radians(camera.pan_deg if side == "plan" else -camera.tilt_deg)
        start = (
            self.on_plan(-camera.back_m, camera.across_m)
            if side == "plan"
            else self.on_side(-camera.back_m, self.eye_m)
        )
        area = self.plan if side == "plan" else self.side
        long = area.right() - start.x()
        ink.rule(start.x(), start.y(), start.x() + long, start.y() + math.tan(middle) * long, "line", 1.0, "planned")
        if angle is None:
            return
        for edge in (middle - angle.number / 2, middle + angle.number / 2):
            if abs(edge) < 1.5:
                ink.rule(
                    start.x(), start.y(), start.x() + long, start.y() + math.tan(edge) * long, "ink2", 1.0, "planned"
                )

    def _camera(self, ink: Ink, side: str) -> None:
        camera = self.stage.camera
        at = (
            self.on_plan(-camera.back_m, camera.across_m)
            if side == "plan"
            else self.on_side(-camera.back_m, self.eye_m)
        )
        painter = ink.painter
        for left, top, wide, high in ((-27, -5, 17, 11), (-10, -3, 8, 6), (-2, -4, 3, 8)):
            painter.fillRect(QRectF(at.x() + left, at.y() + top, wide, high), ink.theme.colour("ink"))
        if side == "plan":
            return
        legs = 0.16 * (self.floor - at.y())
        ink.rules([(at.x() - 18, at.y() + 6, at.x() - 18 + d, self.floor) for d in (-legs, 0.0, legs)], "ink", 1.1)
        if not self.small and self.behind * self.px > 52:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink.theme.colour("ink2"))
            painter.drawPath(person_path(PERSON_M * self.px).translated(at.x() - 0.78 * self.px, self.floor))

    def _walls(self, ink: Ink) -> None:
        """The walls of the stage, where they are in sight, hatched on their far side."""
        stage = self.desk.job.shop.stage
        for across in (-stage.short_m / 2, stage.short_m / 2):
            y = self.axis_y + across * self.px
            if self.plan.top() <= y <= self.plan.bottom():
                ink.rule(self.eye_x, y, self.plan.right(), y, "ink2", 1.2)
        end = self.x_of(stage.long_m - self.behind)
        if end < self.area.right():
            for area in (self.plan, self.side):
                ink.rule(end, area.top(), end, area.bottom(), "ink2", 1.2)
                marks = [(end, area.top() + d, end + 6, area.top() + d - 5) for d in range(6, round(area.height()), 9)]
                ink.rules([(a, float(b), c, float(d)) for a, b, c, d in marks], "line", 1.0)

    def _tape(self, ink: Ink) -> None:
        """The floor, and the tape along it from the eye."""
        ink.rule(self.area.left(), self.floor, self.area.right(), self.floor, "ink", 1.6)
        marks = [
            (x, self.floor + 1, x - 5, self.floor + 6)
            for x in range(round(self.area.left()) + 6, round(self.area.right()), 7)
        ]
        ink.rules([(float(a), b, float(c), d) for a, b, c, d in marks], "line", 1.0)
        imperial = self.desk.system == "imperial"
        unit = 0.3048 if imperial else 1.0
        step = next((s for s in (0.05, 0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50) if s * unit * self.px >= 34), 100)
        last = (self.area.right() - self.eye_x - 26) / self.px / unit
        for i in range(int(last / step) + 1):
            x = self.x_of(i * step * unit)
            ink.rule(x, self.floor - 5, x, self.floor + 5, "ink", 1.2)
            words = f"{i * step:g}"
            if i == int(last / step):
                words += " ft" if imperial else " m"
            ink.text(x, self.floor + 22, words, "note", "ink2", "centre")


def zone_boxes(stage: StagePlan) -> list[tuple[str, float, float]]:
    """How far the camera may go until each plane tells, the tightest first: name, sideways, along [m]."""
    found = []
    for plane in stage.found.planes:
        side, along = stage.seen(specs.SIDEWAYS, plane.name), stage.seen(specs.ALONG, plane.name)
        if side and along and math.isfinite(side.number):
            found.append((plane.name, side.number, along.number))
    return sorted(found, key=lambda it: it[1])


def draw_loupe(
    ink: Ink, at: QPointF, radius: float, boxes: list[tuple[str, float, float]], px: float, from_at: QPointF
) -> None:
    """The zone under a loupe tied to the camera: a box a plane, nested, the tightest filled.

    ``px`` is that of the drawing, so that the loupe can say how much larger it is.
    """
    shown = [box for box in boxes if box[1] <= boxes[0][1] * 40][:4]
    largest = max(max(b[1], b[2]) for b in shown)
    k = radius * 0.68 / largest
    painter = ink.painter
    ink.rules([(from_at.x(), from_at.y(), at.x() - radius * 0.8, at.y() - radius * 0.6), (from_at.x(), from_at.y(), at.x() + radius * 0.8, at.y() - radius * 0.6)], "ink2", 1.0)  # fmt: skip
    painter.setPen(ink.pen("ink", 2))
    painter.setBrush(ink.theme.colour("sheet"))
    painter.drawEllipse(at, radius, radius)
    ring = QPainterPath()
    ring.addEllipse(at, radius - 1, radius - 1)
    painter.save()
    painter.setClipPath(ring)
    for index, (_, side, along) in reversed(list(enumerate(shown))):
        half = QPointF(max(along * k, 1.5), max(side * k, 1.5))
        box = QPolygonF(
            [
                at + QPointF(-half.x(), -half.y()),
                at + QPointF(half.x(), -half.y()),
                at + half,
                at + QPointF(-half.x(), half.y()),
            ]
        )
        painter.setPen(ink.pen("ink" if not index else "ink2", 1.6 if not index else 1.0))
        painter.setBrush(ink.theme.colour("reckon_t") if not index else Qt.BrushStyle.NoBrush)
        painter.drawPolygon(box)
    painter.restore()
    ink.rules([(at.x() - 5, at.y(), at.x() + 5, at.y()), (at.x(), at.y() - 5, at.x(), at.y() + 5)], "ink", 1.6)
    times = k / px
    ink.text(
        at.x() + radius * 0.8, at.y() + radius + 6, f"×{times:.0f}" if times >= 3 else f"×{times:.1g}", "note", "ink2"
    )


def draw_names(ink: Ink, view: FloorView, chosen: int) -> None:
    """The name of each thing beside it in the plan, and its lozenges; names that would meet are lifted apart."""
    taken = [
        QRectF(view.area.left(), view.plan.bottom() - 2 * LOUPE_PX - 34, 330, 2 * LOUPE_PX + 34),
        QRectF(view.area.left(), 44, 250, 70),
    ]
    mine = [body for body in view.bodies if body.need == chosen]
    for body in (*mine, *(b for b in reversed(view.bodies) if b not in mine)):
        plane = next(p for p in view.stage.found.planes if p.need == body.need)
        at = view.on_plan(plane.at.number, plane.place.across_m)
        words = ink.squeezed(112, body.name, "note")
        width = ink.width(words, "note")
        x = max(view.area.left() + 2, min(at.x() - width / 2, view.area.right() - width - 2))
        spot = QRectF(x, max(view.plan.top() + 2, min(view.box(body, "plan").top(), at.y() - 14) - 19), width, 16)
        for _ in range(3):  # lowered a little where it would meet another; left out where that does not help
            if not any(spot.intersects(other) for other in taken):
                break
            spot.translate(0, 17)
        if body in mine or not any(spot.intersects(other) for other in taken):
            taken.append(spot)
            ink.plate(spot.x(), spot.y() + 2, spot.width(), spot.height() - 4)
            ink.text(
                spot.x(),
                spot.y() + 13,
                words,
                "note",
                "ink" if body in mine else "ink2",
                weight=600 if body in mine else 0,
            )
    for body in view.bodies:
        plane = next(p for p in view.stage.found.planes if p.need == body.need)
        at = view.on_plan(plane.at.number, plane.place.across_m)
        foot = view.stage.find(specs.PLANE_FOOT, use=plane.name)
        side = view.on_side(plane.at.number, foot.number if foot else 0.0)
        ink.lozenge(at.x(), at.y(), 9)
        ink.lozenge(side.x(), side.y() - 4, 9, hollow=plane.place.foot_m is None)
