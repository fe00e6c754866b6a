"""What a picture of outlines does not show by itself: cues that have gone, waves, matter in the air."""

from __future__ import annotations

import numpy as np
from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.camera.eye import Eye
from homunculus.core.camera.picture import Body
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Cues, Falling, Wave
from homunculus.core.moving.playing import Offset, crest_line, cues_gone, in_a_row, lasts_of, shown_speed, since
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.moving import needs_moved, places_of

GRAINS = 90
"""Grains that are drawn: enough to see how fast they sink, not how many there are."""


class _Marks:
    """Draws what goes on at one moment of one shot."""

    def __init__(self, desk: Desk, ink: Ink, picture: QRectF, stage: StagePlan, eye: Eye, shot: Shot) -> None:
        self.desk, self.ink, self.picture, self.stage, self.eye, self.shot = desk, ink, picture, stage, eye, shot
        rate = stage.found.find(specs.RATE)
        self.base = desk.job.shop.base_rate_fps
        self.rate = rate.number if rate else None
        self.k = picture.width() / eye.wide_px

    def on(self, points: list[Offset]) -> list[QPointF]:
        """Points of the set, in metres, as points of the picture; what lies behind the eye is left out."""
        turned = self.eye.turned(np.array(points, np.float64))
        ahead = turned[turned[:, 2] > 0.02]
        corner = self.picture.topLeft()
        return (
            [corner + QPointF(x * self.k, y * self.k) for x, y in self.eye.drawn(ahead).tolist()] if len(ahead) else []
        )

    def cues(self, action: Cues, bodies: list[Body], after: float) -> None:
        """Dots along the front of what they go off on; those that have gone are filled."""
        needs = needs_moved(self.stage.found, action)
        body = next((body for body in bodies if body.need in needs and body.own), None)
        made = self.desk.plan.build(action.build) if body else None
        time = made.find(specs.CUE_TIME, shot=self.shot.id, move=action.name) if made else None
        if body is None or time is None or self.rate is None:
            return
        low, high = body.reach()
        spots = places_of(action)
        points = [(body.where[0] + along, low[1], (low[2] + high[2]) / 2) for along in in_a_row(spots)]
        for point, done in zip(
            self.on(points), cues_gone(spots, time.number, self.base, self.rate, after), strict=False
        ):
            self.ink.dot(point.x(), point.y(), 3.2 if done else 2.0, fill="danger" if done else "sheet", edge="ink")

    def wave(self, action: Wave, after: float) -> None:
        """One crest line before what it washes about."""
        plane = next((p for p in self.stage.found.planes if p.build == action.build), None)
        foot = self.stage.find(specs.PLANE_FOOT, use=plane.name) if plane else None
        if plane and foot:
            away = plane.at.number
            crest = crest_line(action, plane.scale.number, self.base, self.rate, after, away, foot.number, away)
            self.ink.painter.setPen(self.ink.pen("reckon", 2.0))
            self.ink.painter.drawPolyline(QPolygonF(self.on(crest)))

    def grains(self, action: Falling, after: float) -> None:
        """Grains that sink as fast as they read at the first thing that stands there."""
        sinks, plane = self.stage.found.find(specs.SINKS, move=action.name), next(iter(self.stage.found.planes), None)
        if sinks is None or plane is None or self.rate is None:
            return
        fallen = shown_speed(sinks.number, self.base, self.rate) * after
        down = self.k * self.eye.reach_px / plane.at.number * fallen
        for i in range(GRAINS):
            x = self.picture.left() + (i * 0.618034 % 1) * self.picture.width()
            y = self.picture.top() + ((i * 0.754878 % 1) * self.picture.height() + down) % self.picture.height()
            self.ink.dot(x, y, 1.2, fill="sheet", edge="ink2")


def draw_marks(
    desk: Desk, ink: Ink, picture: QRectF, stage: StagePlan, bodies: list[Body], eye: Eye, shot: Shot, at: float
) -> None:
    """Draw what goes on at a moment over the outlines of bodies."""
    ink.painter.save()
    ink.painter.setClipRect(picture)
    marks = _Marks(desk, ink, picture, stage, eye, shot)
    for action in shot.actions:
        after = since(action, at)
        if isinstance(action, Cues):
            marks.cues(action, bodies, after)
        elif isinstance(action, Wave | Falling) and 0 <= after <= lasts_of(action, shot):
            marks.wave(action, after) if isinstance(action, Wave) else marks.grains(action, after)
    ink.painter.restore()
