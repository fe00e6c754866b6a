"""What a picture of outlines does not show by itself: cues that have gone, waves, matter in the air."""

from __future__ import annotations

import math
from collections.abc import Callable

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
from homunculus.core.moving.cueing import cue_times
from homunculus.core.moving.playing import lasts_of
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.moving import needs_moved, places_of

On = Callable[[list[tuple[float, float, float]]], list[QPointF]]
"""Points of the set as points of the picture."""
GRAINS = 90
"""Grains that are drawn: enough to see how fast they sink, not how many there are."""


def draw_marks(
    desk: Desk, ink: Ink, picture: QRectF, stage: StagePlan, bodies: list[Body], eye: Eye, shot: Shot, at: float
) -> None:
    """Draw what goes on at a moment over the outlines of bodies."""
    painter = ink.painter
    painter.save()
    painter.setClipRect(picture)
    k = picture.width() / eye.wide_px

    def on(points: list[tuple[float, float, float]]) -> list[QPointF]:
        turned = eye.turned(np.array(points, np.float64))
        ahead = turned[turned[:, 2] > 0.02]
        return [picture.topLeft() + QPointF(x * k, y * k) for x, y in eye.drawn(ahead).tolist()] if len(ahead) else []

    rate = stage.found.find(specs.RATE)
    base = desk.job.shop.base_rate_fps
    stretch = rate.number / base if rate else 1.0
    for action in shot.actions:
        since = at - action.starts_s
        if isinstance(action, Cues):
            _cues(desk, ink, stage, bodies, action, shot, since, stretch, on)
        elif isinstance(action, Wave):
            _waves(ink, stage, bodies, action, shot, since, base, on)
        elif isinstance(action, Falling) and 0 <= since <= lasts_of(action, shot):
            _grains(ink, picture, stage, action, shot, since, stretch, k * eye.reach_px)
    painter.restore()


def _body_of(bodies: list[Body], stage: StagePlan, action: Cues) -> Body | None:
    needs = needs_moved(stage.found, action)
    return next((body for body in bodies if body.need in needs and body.own), None)


def _cues(
    desk: Desk,
    ink: Ink,
    stage: StagePlan,
    bodies: list[Body],
    action: Cues,
    shot: Shot,
    since: float,
    stretch: float,
    on: On,
) -> None:
    body = _body_of(bodies, stage, action)
    made = desk.plan.build(action.build) if body else None
    time = made.find(specs.CUE_TIME, shot=shot.id, move=action.name) if made else None
    if body is None or time is None:
        return
    points = np.concatenate([f.points for f in body.placed()])
    low, high = points.min(axis=0), points.max(axis=0)
    spots = places_of(action)
    long = max(spots[-1] - spots[0], 1e-9) if len(spots) > 1 else 1e-9
    start = (low[0] + high[0]) / 2 - long / 2
    level, front = float(low[2] + high[2]) / 2, float(low[1])
    times = cue_times(spots, time.number)
    gone = [since >= t * stretch for t in times]
    for point, done in zip(on([(float(start + s - spots[0]), front, level) for s in spots]), gone, strict=False):
        ink.dot(point.x(), point.y(), 3.2 if done else 2.0, fill="danger" if done else "sheet", edge="ink")


def _waves(
    ink: Ink, stage: StagePlan, bodies: list[Body], action: Wave, shot: Shot, since: float, base: float, on: On
) -> None:
    plane = next((p for p in stage.found.planes if p.build == action.build), None)
    foot = stage.find(specs.PLANE_FOOT, use=plane.name) if plane else None
    if plane is None or foot is None or not 0 <= since <= lasts_of(action, shot):
        return
    length = action.real_m / plane.scale.number
    speed = math.sqrt(9.80665 * action.real_m / (2 * math.pi)) / plane.scale.number  # on screen, at the plane's scale
    half = plane.at.number
    steps = 120
    xs = [-half + 2 * half * i / steps for i in range(steps + 1)]
    crest = [
        (x, plane.at.number * 0.96, foot.number + length / 25 * math.sin(2 * math.pi * (x - speed * since) / length))
        for x in xs
    ]
    ink.painter.setPen(ink.pen("reckon", 2.0))
    ink.painter.drawPolyline(QPolygonF(on(crest)))


def _grains(
    ink: Ink, picture: QRectF, stage: StagePlan, action: Falling, shot: Shot, since: float, stretch: float, px: float
) -> None:
    sinks = stage.found.find(specs.SINKS, move=action.name)
    base = next(iter(stage.found.planes), None)
    if sinks is None or base is None:
        return
    fall = sinks.number / stretch * px / base.at.number  # pixels a second on screen, at the first plane
    for i in range(GRAINS):
        x = picture.left() + (i * 0.618034 % 1) * picture.width()
        y = picture.top() + ((i * 0.754878 % 1) * picture.height() + since * fall) % picture.height()
        ink.dot(x, y, 1.2, fill="sheet", edge="ink2")
