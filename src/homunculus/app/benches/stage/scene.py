"""What stands in a set as bodies, kept while they stay where they are, and as paths in plan, from the side and in the camera's picture."""

from __future__ import annotations

import struct
from collections.abc import Mapping

import numpy as np
from PySide6.QtCore import QByteArray, QDataStream, QIODevice, QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import person_path
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.camera.eye import Eye
from homunculus.core.camera.picture import (
    NOTHING,
    Body,
    OwnSurfaces,
    body_of,
    eye_of,
    horizon,
    outline_from,
    outline_seen,
    surfaces_of,
)
from homunculus.core.edits.sets import eye_height
from homunculus.core.form.facets import Outline, together
from homunculus.core.job.sets import Camera
from homunculus.core.moving.playing import STILL, Offset
from homunculus.core.plan.set_plan import Plane, SetPlan
from homunculus.core.plan.stage_plan import StagePlan

FAR_M = 1e6
"""From so far a form is seen as on a drawing, without perspective."""


class Scene:
    """Bodies of the drawn stage, and their outlines; what did not change is not reckoned again."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._own: dict[tuple[str, int], tuple[tuple[object, ...], OwnSurfaces]] = {}
        self._bodies: dict[tuple[str, int], Body] = {}
        self._flat: dict[tuple[int, str], tuple[tuple[object, ...], QPainterPath]] = {}
        self._seen: dict[int, tuple[Body, Eye, QPainterPath, Outline]] = {}

    # ----------------------------------------------------------------------------------- bodies
    def bodies(self, stage: StagePlan, offsets: Mapping[int, Offset] | None = None) -> list[Body]:
        """All that stands there, the farthest first; ``offsets`` move what stands at a need."""
        found = [self._body(stage, plane, (offsets or {}).get(plane.need, STILL)) for plane in stage.found.planes]
        return sorted(found, key=lambda body: -body.away)

    def _body(self, stage: StagePlan, plane: Plane, offset: Offset) -> Body:
        foot = stage.find(specs.PLANE_FOOT, use=plane.name)
        body = body_of(plane, self._surfaces(stage.found, plane), foot.number if foot else 0.0, offset)
        key = (stage.found.shot.id, plane.need)
        known = self._bodies.get(key)
        if known is not None and known.own is body.own and known[3:] == body[3:] and known.name == body.name:
            return known  # the very same, so that nothing is drawn anew for it
        self._bodies[key] = body
        return body

    def _surfaces(self, found: SetPlan, plane: Plane) -> OwnSurfaces:
        job, place = self.desk.job, plane.place
        pieces = job.build(plane.build).pieces if plane.build else None
        cover = found.shot.needs[plane.need].cover
        key = (pieces, plane.scale.number, round(plane.deep, 9), cover, place.wide_m, place.high_m)
        known = self._own.get((found.shot.id, plane.need))
        if known is None or known[1].waits or known[0][0] is not pieces or known[0][1:] != key[1:]:
            known = (key, surfaces_of(job, found, plane, self.desk.meshes.facets_of))
            self._own[found.shot.id, plane.need] = known
        return known[1]

    def eye(self, stage: StagePlan, camera: Camera | None = None) -> Eye | None:
        """The eye of the drawn camera, or as a ``camera`` that moves has it; none where it has no body."""
        reach = stage.find(specs.REACH, camera=stage.camera.name)
        mode = stage.found.context.mode(stage.camera)
        if reach is None or mode is None:
            return None
        at = camera or stage.camera
        height = eye_height(stage.found, stage.camera) if at.height_m is None else at.height_m
        return eye_of(at, height, reach.number, float(stage.found.context.shop.delivery_px), mode.ratio)

    # ------------------------------------------------------------------------------------ paths
    def flat(self, body: Body, side: str) -> QPainterPath:
        """The outline of a body on a drawing, in metres about its own place: from above as away and across, from the side as away and (downwards) up."""
        key = (body.own, body.turn)
        known = self._flat.get((body.need, side))
        if known is None or known[0][0] is not body.own or known[0][1] != body.turn:
            turned = [one.moved(1.0, STILL, body.turn) for one in body.own]
            far = (0.0, 0.0, FAR_M) if side == "plan" else (FAR_M, 0.0, 0.0)
            columns, sign = ((1, 0), 1.0) if side == "plan" else ((1, 2), -1.0)
            whole = together([one.outline(far) for one in turned]) if turned else NOTHING
            path = path_of(
                Outline(whole.points[:, columns] * (1.0, sign), whole.begins) if turned else NOTHING
            ).simplified()
            if turned and path.isEmpty():  # seen edge on: a line from end to end
                points = np.concatenate([one.points[:, columns] * (1.0, sign) for one in turned])
                low, high = points.min(axis=0).tolist(), points.max(axis=0).tolist()
                path.moveTo(*low)
                path.lineTo(*high)
            known = (key, path)  # drawn often, made seldom
            self._flat[body.need, side] = known
        return known[1]

    def seen(self, body: Body, eye: Eye) -> QPainterPath:
        """The outline of a body in the camera's picture, in its pixels."""
        known = self._seen.get(body.need)
        if known is None or known[0] is not body or known[1] != eye:
            same = (
                known is not None and known[0] is body and known[1].at == eye.at
            )  # it only looks elsewhere, or reaches further
            lines = known[3] if known is not None and same else outline_from(body, eye.at)
            outline = outline_seen(body, eye, lines)
            path = path_of(outline)
            if body.person and len(outline.points):
                box = path.boundingRect()
                path = person_path(box.height()).translated(box.center().x(), box.bottom())
            known = (body, eye, path, lines)
            self._seen[body.need] = known
        return known[2]

    # ---------------------------------------------------------------------------------- picture
    def draw(self, ink: Ink, area: QRectF, stage: StagePlan, bodies: list[Body], eye: Eye, chosen: int) -> None:
        """Draw the camera's picture: the far first, paler as the air or their distance makes them."""
        painter, theme = ink.painter, ink.theme
        painter.save()
        painter.setClipRect(area)
        painter.fillRect(area, theme.colour("film"))
        k = area.width() / eye.wide_px
        shot = stage.found.shot
        laid = shot.plate.picture if shot.plate and shot.plate.picture else shot.ends_picture
        photo = self.desk.pictures.pixmap(laid)
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
        dark = (
            near.lightnessF() > far.lightnessF()
        )  # on a dark set near things are dark with an edge, never a bright bar
        depth = 0.06 + 0.3 * (1 - share) if dark else 0.16 + 0.52 * share

        def mixed(a: float, b: float) -> float:
            return a * depth + b * (1 - depth)

        return QColor.fromRgbF(
            mixed(near.redF(), far.redF()), mixed(near.greenF(), far.greenF()), mixed(near.blueF(), far.blueF())
        )


def path_of(outline: Outline) -> QPainterPath:
    """An outline as a path that is filled where it winds at all: handed over as the bytes that Qt keeps paths in, since each line of hundreds would cost a call."""
    path = QPainterPath()
    count = len(outline.points)
    if not count:
        return path
    elements = np.zeros(count, _ELEMENT)
    elements["kind"] = np.where(outline.begins, 0, 1)
    elements["x"], elements["y"] = outline.points[:, 0], outline.points[:, 1]
    last = int(np.flatnonzero(outline.begins)[-1])
    data = QByteArray(struct.pack(">i", count) + elements.tobytes() + struct.pack(">ii", last, _WINDING))
    stream = QDataStream(data, QIODevice.OpenModeFlag.ReadOnly)  # both must live until it is read
    stream >> path
    return path


_ELEMENT = np.dtype([("kind", ">i4"), ("x", ">f8"), ("y", ">f8")])
"""A move or a line to a point, as Qt's stream has it."""
_WINDING = 1
