"""The set in side view at true proportion: where things lie on the drawing, and the drawing itself."""

from __future__ import annotations

import math
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF, QTransform

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.camera.stand import BEHIND_M
from homunculus.core.edits.sets import depth_ends, eye_height
from homunculus.core.figures import Figure
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import ByBuild, ByPeople
from homunculus.core.plan.set_plan import Plane, SetPlan

LEFT = 26.0
LENS_H = 70.0
"""Height over the eye in which lens and stop are told."""
SMALL_M = 1.6
"""A set that ends nearer is drawn without the person behind the camera, who would not fit at its scale."""


class Stop(NamedTuple):
    """Something on the axis: a thing, or an end of what is held besides."""

    key: str
    name: str
    at: float
    """On the floor, from the first camera's eye [m]."""
    to: float
    blur: Figure | None
    held: bool
    looks: bool
    build: str
    pieces: tuple[str, ...]
    """Of the build those that are seen; all where empty."""
    alone: bool


def pieces_of(found: SetPlan, plane: Plane) -> tuple[str, ...]:
    """The pieces of a build that stand there, by their ids; none where all do."""
    cover = found.shot.needs[plane.need].cover
    return cover.pieces if isinstance(cover, ByBuild) else ()


def stops_of(found: SetPlan, camera: Camera) -> list[Stop]:
    """All that stands on the axis of a camera, the nearest first."""
    stops = [
        Stop(f"place:{p.need}", p.name, p.at.number, (p.to or p.at).number,
             found.find(specs.PLANE_BLUR, use=p.name, camera=camera.name), p.place.held, p.place.looks, p.build, pieces_of(found, p), p.place.alone)
        for p in found.planes
    ]  # fmt: skip
    ends = depth_ends(found, camera)
    if ends and camera.depth:
        worst = found.find(specs.BLUR, camera=camera.name)
        for end, at in zip(("near", "far"), ends, strict=True):
            if math.isfinite(at):
                stops.append(Stop(f"end:{end}", f"{end} end", at, at, worst, True, camera.depth.looks, "", (), False))
    return sorted(stops, key=lambda stop: stop.at)


class Side:
    """How the set lies on the drawing: metres to pixels, one scale both ways.

    Parameters
    ----------
    desk
        For the stage, and the silhouettes.
    found
        The set.
    camera
        Through which it is seen.
    area
        Where the drawing lies: its foot is the floor.
    """

    def __init__(self, desk: Desk, found: SetPlan, camera: Camera, area: QRectF) -> None:
        self.desk, self.found, self.camera, self.area = desk, found, camera, area
        self.stops = stops_of(found, camera)
        self._shapes: dict[str, QPainterPath] = {}
        far = max((stop.to for stop in self.stops), default=2.0)
        stage = desk.job.shop.stage
        self.above = 120.0
        """How far the cone may reach over the area."""
        self.small = far < SMALL_M
        self.behind = 0.22 * far + 0.15 if self.small else BEHIND_M
        span = self.behind + far * 1.12
        self.walls = not self.small and span > 0.6 * stage.long_m
        span = max(span, stage.long_m) if self.walls else span
        self.eye_m = eye_height(found, camera)
        tallest = max(self.eye_m + 0.12 * (1 if self.small else 2), 0.0 if self.small else PERSON_M, *self._heights())
        self.px = min(
            (area.width() - 2 * LEFT) / span, area.height() / tallest, (area.height() - LENS_H) / max(self.eye_m, 0.01)
        )
        self.floor = area.bottom()
        self.eye_x = area.left() + LEFT + self.behind * self.px
        self.eye_y = self.floor - self.eye_m * self.px

    def _heights(self) -> list[float]:
        return [self.desk.job.build(s.build).stands_m + (self._low(s) - self.shape(s).boundingRect().top()) / self._scale(s)
                for s in self.stops if s.build]  # fmt: skip

    def _low(self, stop: Stop) -> float:
        """Where the foot of what stands there lies in its outline: that of the whole build, but inserts stand by themselves."""
        if self._inserted(stop):
            return self.shape(stop).boundingRect().bottom()
        return self.desk.silhouette(self.desk.job.build(stop.build)).bounds.bottom()

    def shape(self, stop: Stop) -> QPainterPath:
        """The outline of what stands there, in real metres, y downwards."""
        if stop.key not in self._shapes:
            self._shapes[stop.key] = self._outline(stop)
        return self._shapes[stop.key]

    def _outline(self, stop: Stop) -> QPainterPath:
        silhouette, path = self.desk.silhouette(self.desk.job.build(stop.build)), QPainterPath()
        for piece, outline in silhouette.paths:
            if not stop.pieces or piece.id in stop.pieces:
                path.addPath(outline)
        return path

    def _inserted(self, stop: Stop) -> bool:
        """Whether all that is seen of it are inserts, which stand by themselves."""
        pieces = self.desk.job.build(stop.build).pieces
        return bool(stop.pieces) and all(p.enlarged != 1 for p in pieces if p.id in stop.pieces)

    def _scale(self, stop: Stop) -> float:
        """The scale at which outlines are as large as they are built: an insert's outline is as it is made."""
        return self.desk.job.build(stop.build).scale

    def x_of(self, metres: float) -> float:
        """Where a distance from the first camera's eye lies."""
        return self.eye_x + metres * self.px

    @property
    def own_x(self) -> float:
        """Where the eye of the camera stands that is drawn."""
        first = self.camera is self.found.shot.cameras[0]
        return self.eye_x - (0.0 if first else self.camera.back_m * self.px)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink, focus: float | None, chosen: str) -> None:
        """Draw floor, walls, cone, sharp air, things and camera."""
        painter = ink.painter
        painter.save()
        painter.setClipRect(self.area.adjusted(0, -self.above, 0, 0))
        self._air(ink)
        self._cone(ink)
        for stop in self.stops:
            self._thing(ink, stop, chosen)
        self._camera(ink)
        painter.restore()
        self._ground(ink)
        nearest = self.found.find(specs.NEAREST, camera=self.camera.name)
        if nearest and self.own_x + nearest.number * self.px < self.area.right():
            x = self.own_x + nearest.number * self.px
            ink.rules([(x, self.floor, x, self.floor - 9), (x, self.floor - 9, x + 5, self.floor - 9)], "ink", 2)
        for stop in self.stops:
            ink.rule(self.x_of(stop.at), self.floor, self.x_of(stop.at), self.floor + 5, "ink", 1.4)
        if focus is not None and math.isfinite(focus):
            x = self.own_x + focus * self.px
            ink.rule(x, self.eye_y - 46, x, self.eye_y + 46, "decide", 2)

    def _ground(self, ink: Ink) -> None:
        area, stage = self.area, self.desk.job.shop.stage
        ink.rule(area.left(), self.floor, area.right(), self.floor, "ink", 1.6)
        ends = [
            (x, self.floor + 1, x - 6, self.floor + 7) for x in range(round(area.left()) + 6, round(area.right()), 7)
        ]
        ink.rules([(float(a), b, float(c), d) for a, b, c, d in ends], "line", 1.0)
        if not self.walls:
            return
        high = min(stage.height_m * self.px, area.height() * 0.82)
        for x in (self.eye_x - self.behind * self.px, self.eye_x + (stage.long_m - self.behind) * self.px):
            high = (
                min(high, area.height() * 0.5)
                if x < self.eye_x
                else min(stage.height_m * self.px, area.height() * 0.82)
            )
            ink.rule(x, self.floor - high, x, self.floor, "ink2", 1.2)
            away = -1 if x < self.eye_x else 1
            marks = [(x, self.floor - d, x + away * 7, self.floor - d - 5) for d in range(0, round(high), 9)]
            ink.rules([(a, float(b), c, float(d)) for a, b, c, d in marks], "line", 1.0)

    def _cone(self, ink: Ink) -> None:
        """Upper and lower edge of what it sees, and the axis."""
        angle = self.found.find(specs.ANGLE_HIGH, camera=self.camera.name)
        right = self.area.right() - 10
        ink.rule(self.own_x, self.eye_y, right, self.eye_y, "line", 1.0, "planned")
        if angle is None:
            return
        rise = math.tan(angle.number / 2) * (right - self.own_x)
        for side in (-1, 1):
            ink.rule(self.own_x, self.eye_y, right, self.eye_y + side * rise, "ink2", 1.0, "planned")

    def air(self) -> tuple[float, float] | None:
        """From where to where the air is sharp [m from this camera's eye]; none where there is none."""
        low, high = (self.found.find(spec, camera=self.camera.name) for spec in (specs.AIR_FROM, specs.AIR_TO))
        if low is None or high is None or low.notes:
            return None
        return low.number, high.number

    def _air(self, ink: Ink) -> None:
        """The slice of sharp air: the biggest colour of the drawing."""
        air, angle = self.air(), self.found.find(specs.ANGLE_HIGH, camera=self.camera.name)
        if air is None or angle is None:
            return
        half = math.tan(angle.number / 2)
        reach = (self.area.right() - 10 - self.own_x) / self.px
        near, far = max(air[0], 0.0), min(air[1], reach)
        if far <= near:
            return
        points = []
        for at, side in ((near, -1), (far, -1), (far, 1), (near, 1)):
            points.append(QPointF(self.own_x + at * self.px, self.eye_y + side * half * at * self.px))
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.setBrush(ink.theme.colour("reckon_t"))
        ink.painter.drawPolygon(QPolygonF(points))
        for at in (near, far):
            if at == reach:
                continue
            x, rise = self.own_x + at * self.px, half * at * self.px
            ink.rule(x, self.eye_y - rise, x, self.eye_y + rise, "reckon", 2)

    def _thing(self, ink: Ink, stop: Stop, chosen: str) -> None:
        x = self.x_of(stop.at)
        if stop.build:
            build = self.desk.job.build(stop.build)
            shape = self.shape(stop)
            bounds = shape.boundingRect()
            if not bounds.isEmpty():
                k, foot = self.px / self._scale(stop), self.floor - build.stands_m * self.px
                high = bounds.height() * k
                if not build.stands_m and high < 0.6 * (
                    self.floor - self.eye_y
                ):  # too low to be seen: held up to the eye
                    foot = self.eye_y + high / 2
                    ink.rule(x, foot, x, self.floor, "ink2", 1.1)
                place = QTransform().translate(x, foot).scale(k, k).translate(-bounds.center().x(), -self._low(stop))
                path = place.map(shape)
                path.setFillRule(Qt.FillRule.WindingFill)
                self._solid(ink, path, mine=stop.build == chosen)
                if build.stands_m:
                    half = bounds.width() * k / 2
                    ink.rules([(x - half, foot, x + half, foot), (x - half * 0.8, foot, x - half * 0.8, self.floor),
                               (x + half * 0.8, foot, x + half * 0.8, self.floor)], "ink2", 1.1)  # fmt: skip
        elif stop.key.startswith("place:"):
            need = self.found.shot.needs[int(stop.key[6:])]
            if isinstance(need.cover, ByPeople) and not self.small:
                path = person_path(PERSON_M * self.px).translated(x, self.floor)
                self._solid(ink, path, mine=False)
            else:
                ink.rule(x, self.eye_y - 20, x, self.floor, "ink", 2.4)
                ink.rules([(x, self.floor - 26, x + 9, self.floor)], "ink2", 1.1)
        else:
            ink.rule(x, self.eye_y - 26, x, self.eye_y + 26, "ink2", 1.2, "hidden")
        radius = max(1.5, min(stop.blur.number / 2, 14.0)) if stop.blur else 1.5
        ink.dot(x, self.eye_y, radius)

    def _solid(self, ink: Ink, path: QPainterPath, *, mine: bool) -> None:
        painter = ink.painter
        painter.fillPath(path, ink.theme.colour("sheet"))
        ink.hatched(path, "curing", "line")
        painter.setPen(ink.pen("ink" if mine else "ink2", 1.3 if mine else 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(path.simplified() if path.elementCount() < 400 else path)

    def _camera(self, ink: Ink) -> None:
        x, y, painter = self.own_x, self.eye_y, ink.painter
        painter.fillRect(QRectF(x - 28, y - 8, 19, 15), ink.theme.colour("ink"))
        painter.fillRect(QRectF(x - 8, y - 5, 6, 9), ink.theme.colour("ink"))
        painter.fillRect(QRectF(x - 2, y - 6, 4, 11), ink.theme.colour("ink"))
        legs = 0.16 * (self.floor - y)
        ink.rules([(x - 18, y + 7, x - 18 - legs, self.floor), (x - 18, y + 7, x - 18 + legs, self.floor),
                   (x - 18, y + 7, x - 18, self.floor)], "ink", 1.2)  # fmt: skip
        if not self.small and self.behind * self.px > 70:
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(ink.theme.colour("ink2"))
            painter.drawPath(person_path(PERSON_M * self.px).translated(x - 0.72 * self.px, self.floor))
