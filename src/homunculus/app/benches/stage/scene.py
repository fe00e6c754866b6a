"""What stands in a set as bodies, kept while they stay where they are, and as paths in plan, from the side and in the camera's picture."""

from __future__ import annotations

from collections.abc import Mapping

import numpy as np
from numpy.typing import NDArray
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPixmap, QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import person_path
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.camera.eye import Eye
from homunculus.core.camera.picture import STILL, Body, Offset, body_of, eye_of, horizon, outlines
from homunculus.core.edits.sets import eye_height
from homunculus.core.job.sets import Camera
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.stage_plan import StagePlan

FAR_M = 1e6
"""From so far a form is seen as on a drawing, without perspective."""


class Scene:
    """Bodies of the drawn stage, and their outlines; what did not change is not reckoned again."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._bodies: dict[tuple[str, int], tuple[tuple[object, ...], Body]] = {}
        self._flat: dict[tuple[int, str], tuple[Body, QPainterPath]] = {}
        self._seen: dict[int, tuple[Body, Eye, QPainterPath]] = {}
        self._photo: tuple[str, QPixmap] = ("", QPixmap())

    # ----------------------------------------------------------------------------------- bodies
    def bodies(self, stage: StagePlan, offsets: Mapping[int, Offset] | None = None) -> list[Body]:
        """All that stands there, the farthest first; ``offsets`` move what stands at a need."""
        found = [self._body(stage.found, stage, index, (offsets or {}).get(plane.need, STILL)) for index, plane in enumerate(stage.found.planes)]  # fmt: skip
        return sorted(found, key=lambda body: -body.away)

    def _body(self, found: SetPlan, stage: StagePlan, index: int, offset: Offset) -> Body:
        plane = found.planes[index]
        foot = stage.find(specs.PLANE_FOOT, use=plane.name)
        height = foot.number if foot else 0.0
        need, job = found.shot.needs[plane.need], self.desk.job
        build = job.build(plane.build) if plane.build else None
        waiting = self._bodies.get((found.shot.id, plane.need))
        key = (build.pieces if build else None, plane.scale.number, plane.at.number, plane.to.number if plane.to else None, plane.place, height, need, offset)  # fmt: skip
        if waiting is None or waiting[0] != key or waiting[1].waits:
            waiting = (key, body_of(job, found, plane, height, self.desk.meshes.facets_of, offset))
            self._bodies[found.shot.id, plane.need] = waiting
        return waiting[1]

    def eye(self, stage: StagePlan, camera: Camera | None = None) -> Eye | None:
        """The eye of the drawn camera, or as a ``camera`` that moves has it; none where it has no body."""
        reach = stage.find(specs.REACH, camera=stage.camera.name)
        mode = stage.found.context.mode(stage.camera)
        if reach is None or mode is None:
            return None
        at = camera or stage.camera
        height = eye_height(stage.found, stage.camera) if at.height_m is None else at.height_m
        ratio = mode.sensor_height_m.value / mode.sensor_width_m.value
        return eye_of(at, height, reach.number, float(stage.found.context.shop.delivery_px), ratio)

    # ------------------------------------------------------------------------------------ paths
    def flat(self, body: Body, side: str) -> QPainterPath:
        """The outline of a body on a drawing, in metres: from above as away and across, from the side as away and (downwards) up."""
        known = self._flat.get((body.need, side))
        if known is None or known[0] is not body:
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.WindingFill)
            for facets in body.facets:
                middle = facets.points.mean(axis=0)
                if side == "plan":
                    eye = (float(middle[0]), float(middle[1]), FAR_M)
                    columns, sign = (1, 0), 1.0
                else:
                    eye = (FAR_M, float(middle[1]), float(middle[2]))
                    columns, sign = (1, 2), -1.0
                for loop in facets.outline(eye):
                    _add(path, loop[:, columns] * (1.0, sign))
            known = (body, path)
            self._flat[body.need, side] = known
        return known[1]

    def seen(self, body: Body, eye: Eye) -> QPainterPath:
        """The outline of a body in the camera's picture, in its pixels."""
        known = self._seen.get(body.need)
        if known is None or known[0] is not body or known[1] != eye:
            path = QPainterPath()
            path.setFillRule(Qt.FillRule.WindingFill)
            loops = outlines(body, eye)
            if body.person and loops:
                box = np.concatenate(loops)
                low, high = box.min(axis=0), box.max(axis=0)
                person = person_path(float(high[1] - low[1]))
                path.addPath(person.translated(float(low[0] + high[0]) / 2, float(high[1])))
            else:
                for loop in loops:
                    _add(path, loop)
            known = (body, eye, path)
            self._seen[body.need] = known
        return known[2]

    # ---------------------------------------------------------------------------------- picture
    def photo(self, name: str) -> QPixmap:
        """The plate's picture; null where there is none."""
        from homunculus.store.pictures import picture_file

        if self._photo[0] != name:
            self._photo = (name, QPixmap(str(picture_file(self.desk.folder.path, name))) if name else QPixmap())
        return self._photo[1]

    def draw(self, ink: Ink, area: QRectF, stage: StagePlan, bodies: list[Body], eye: Eye, chosen: int) -> None:
        """Draw the camera's picture: the far first, paler as the air or their distance makes them."""
        painter, theme = ink.painter, ink.theme
        painter.save()
        painter.setClipRect(area)
        painter.fillRect(area, theme.colour("film"))
        k = area.width() / eye.wide_px
        shot = stage.found.shot
        photo = self.photo(shot.plate.picture if shot.plate and shot.plate.picture else shot.ends_picture)
        if not photo.isNull():
            painter.setOpacity(0.55)
            painter.drawPixmap(area.toRect(), photo)
            painter.setOpacity(1.0)
        self._ground(ink, area, eye, k, wet=self._wet(stage))
        for rank, body in enumerate(bodies):
            path = self.seen(body, eye)
            if path.isEmpty():
                continue
            painter.save()
            painter.translate(area.topLeft())
            painter.scale(k, k)
            mine = body.need == chosen
            width = (2.6 if mine else 1.7) / k
            painter.setPen(ink.pen("ink", width))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)  # its inner half, and all lines that are hidden, are covered by what follows
            painter.fillPath(path, self._shade(ink, stage, body, rank, len(bodies)))
            painter.restore()
        painter.restore()
        ink.box(area.x(), area.y(), area.width(), area.height(), "", "ink", 1.4)

    def _wet(self, stage: StagePlan) -> bool:
        return any(b.water for b in self.desk.job.builds if b.id in stage.found.shot.builds)

    def _ground(self, ink: Ink, area: QRectF, eye: Eye, k: float, *, wet: bool) -> None:
        left, right = horizon(eye)
        ends = [area.topLeft() + QPointF(0, left * k), area.topLeft() + QPointF(area.width(), right * k)]
        if wet:
            low = QPolygonF([*ends, area.bottomRight() + QPointF(9, 9), area.bottomLeft() + QPointF(-9, 9)])
            ink.painter.setPen(Qt.PenStyle.NoPen)
            ink.painter.setBrush(ink.theme.colour("reckon_t"))
            ink.painter.drawPolygon(low)
        ink.painter.setPen(ink.pen("ink2", 1.0))
        ink.painter.drawLine(*ends)

    def _shade(self, ink: Ink, stage: StagePlan, body: Body, rank: int, count: int) -> QColor:
        plane = next(p for p in stage.found.planes if p.need == body.need)
        contrast = stage.find(specs.CONTRAST_WANTED, use=plane.name)
        share = contrast.number if contrast else (rank + 1) / max(count, 1)
        near, far = ink.theme.colour("ink"), ink.theme.colour("film")
        depth = 0.16 + 0.52 * share

        def mixed(a: float, b: float) -> float:
            return a * depth + b * (1 - depth)

        return QColor.fromRgbF(
            mixed(near.redF(), far.redF()), mixed(near.greenF(), far.greenF()), mixed(near.blueF(), far.blueF())
        )


def _add(path: QPainterPath, loop: NDArray[np.float64]) -> None:
    path.addPolygon(QPolygonF([QPointF(x, y) for x, y in loop.tolist()]))
    path.closeSubpath()
