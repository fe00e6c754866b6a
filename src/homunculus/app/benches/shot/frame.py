"""What is in the frame of a shot, at the size at which the lens shows it."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QTransform

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import person_path
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.figures import Figure
from homunculus.core.job.shots import Shot
from homunculus.core.planners.framing import views_of
from homunculus.core.planners.scale import PERSON_M

FOOT = 0.86
"""Where things stand in the frame when no plate says, as a share of its height."""


class Seen(NamedTuple):
    """One build in the frame: its drawing in pixels, that of the pieces left out, where it is, and its share."""

    build: str
    name: str
    inked: QPainterPath
    pencilled: QPainterPath
    box: QRectF
    share: Figure | None
    person_px: float
    ground: float
    """Where it stands, in pixels from the top of the drawing."""


def seen(desk: Desk, shot: Shot, camera: str, frame: QRectF) -> list[Seen]:
    """Lay out the builds of a shot in the frame of one of its cameras; where that sees nothing sharp they are drawn to fit, each as large as it can be."""
    known = {b.id: b for b in desk.job.cast}
    named: dict[str, set[str]] = {}
    for use in shot.uses:
        if use.build in known:
            covered = use.pieces or tuple(p.id for p in known[use.build].pieces)
            named.setdefault(use.build, set()).update(covered)
    found = []
    for index, (build_id, pieces) in enumerate(named.items()):
        build = known[build_id]
        silhouette = desk.silhouette(build)
        bounds = silhouette.bounds
        if bounds.isEmpty():
            continue
        made = desk.plan.build(build_id)
        views = [
            v for v in views_of(desk.plan.context(build_id)) if (v.found.shot.id, v.camera.name) == (shot.id, camera)
        ]
        share = made.find(specs.FRAME_SHARE, views[0].insert, shot.id, camera=camera) if views else None
        high = real_height(share)
        if share and high:
            insert = next((p for p in build.pieces if p.id == share.subject.piece), None)
            per_m = frame.height() * share.number / high / (insert.enlarged if insert else 1)
        else:
            per_m = min(frame.height() * 0.7 / bounds.height(), frame.width() * 0.8 / len(named) / bounds.width())
        foot = made.find(specs.FOOT, shot=shot.id) if not camera else None
        ground = frame.top() + frame.height() * (foot.number if foot else FOOT)
        middle = frame.left() + frame.width() * (index + 0.5) / len(named)
        place = QTransform().translate(middle, ground).scale(per_m, per_m)
        place.translate(-bounds.center().x(), -bounds.bottom())
        inked, pencilled = QPainterPath(), QPainterPath()
        inked.setFillRule(Qt.FillRule.WindingFill)
        for piece, path in silhouette.paths:
            (inked if piece.id in pieces else pencilled).addPath(place.map(path))
        found.append(
            Seen(build_id, build.name, inked, pencilled, place.mapRect(bounds), share, PERSON_M * per_m, ground)
        )
    return found


def real_height(share: Figure | None) -> float:
    """The real height [m] of which a ``share`` of the frame was reckoned; 0 without one."""
    return next((given.number for name, given in share.inputs if name == "height"), 0.0) if share else 0.0


def draw_frame(ink: Ink, frame: QRectF, things: list[Seen], chosen: str, *, known_lens: bool) -> None:
    """Draw the frame and what is in it; what runs out of it is cut off, the chosen build is inked."""
    painter = ink.painter
    ink.box(frame.x(), frame.y(), frame.width(), frame.height(), fill="film")
    painter.save()
    painter.setClipRect(frame)
    ground = next((t.ground for t in things if t.build == chosen), frame.top() + frame.height() * FOOT)
    ink.rule(frame.left(), ground, frame.right(), ground, "hair", 1)
    for thing in sorted(things, key=lambda t: t.build == chosen):
        painter.setPen(ink.pen("line", 1.0, "planned"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(thing.pencilled)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ink.theme.colour("ink" if thing.build == chosen else "line"))
        painter.drawPath(thing.inked)
    if things and known_lens:
        first = next((t for t in things if t.build == chosen), things[0])
        if first.person_px > 5:
            x = max(frame.left() + 14, min(first.box.left() - 14 - first.person_px * 0.15, frame.right() - 20))
            painter.translate(QPointF(x, ground))
            painter.setPen(ink.pen("ink2", 1.0))
            painter.setBrush(ink.theme.colour("film"))
            painter.drawPath(person_path(first.person_px))
    painter.restore()
    edge = ink.pen("ink", 2.0, "" if known_lens else "planned")
    painter.setPen(edge)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawRect(frame)
