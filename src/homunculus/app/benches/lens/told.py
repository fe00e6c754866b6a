"""What is told on the drawing of the lens bench: ways out, decided values, sharp air and angles, the dots of blur."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath

from homunculus.app.benches.lens.side import Side, Stop
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.edits.sets import Hold
from homunculus.core.figures import Figure, Given
from homunculus.core.job.sets import Camera
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.ways_out import WayOut
from homunculus.core.planners.lens import optics_of, taken_at

WAYS_Y, WAY_H = 122.0, 21.0
BAR_X, BAR_W, BAR_PX = 236.0, 86.0, 6.0
"""Of the bars of the ways out: where they begin, how long they are, and how many pixels of blur that is."""


def softest(found: SetPlan, camera: Camera) -> str:
    """What is least sharp of all that stands there; empty where it is an end of what is held besides."""
    held = [(f.number, p.name) for p in found.planes
            if p.place.held and (f := found.find(specs.PLANE_BLUR, use=p.name, camera=camera.name))]  # fmt: skip
    worst = found.find(specs.BLUR, camera=camera.name)
    name = max(held)[1] if held else ""
    return name if held and worst and math.isclose(max(held)[0], worst.number, rel_tol=0.01) else ""


def draw_ways(desk: Desk, ink: Ink, ways: tuple[WayOut, ...], more: int) -> None:
    """Draw the ways out that are in sight, each with its blur against what passes; so many ``more`` are out of sight."""
    if not ways:
        return
    ink.text(
        18, WAYS_Y, "Ways out, each at its own best stop" + (f", and {more} more" if more else ""), "label", weight=600
    )
    allowed = desk.job.shop.sharp_px
    scale = BAR_W / max(BAR_PX, 2 * allowed)
    for value in (0.0, allowed):
        ink.text(BAR_X + 80 + value * scale, WAYS_Y, f"{value:g}", "tick", "ink2", "centre")
    for index, way in enumerate(ways):
        y = WAYS_Y + 22 + index * WAY_H
        room = BAR_X + 66 - 18
        width = ink.text(18, y, ink.squeezed(room, way.words, "label"), "label", "ink" if way.holds else "ink2")
        if room - width > 40:
            ink.text(18 + width + 8, y, ink.squeezed(room - width - 8, way.note, "note"), "note", "ink2")
        if way.blur is None:
            continue
        x, ends = BAR_X + 80, min(way.blur.number * scale, BAR_W)
        ink.box(x, y - 10, allowed * scale, 10, fill="reckon_t")
        ink.rules([(x, y - 10, x + allowed * scale, y - 10), (x, y, x + allowed * scale, y)], "reckon", 1.2)
        marks = [x + allowed * scale + 5 + i * 9 for i in range(round((BAR_W - allowed * scale) / 9))]
        ink.rules(
            [(m - 3, y - 8, m + 3, y - 2) for m in marks] + [(m - 3, y - 2, m + 3, y - 8) for m in marks], "danger", 1.0
        )
        ink.dot(x + ends, y - 5, 3)
        ink.number(x + BAR_W + 14, y, desk.shown(way.blur), "label", "reckon", equals=True)


def draw_holds(desk: Desk, ink: Ink, side: Side, places: dict[Hold, QRectF]) -> None:
    """The decided values on the drawing: lens, stop, focus."""
    found, camera = side.found, side.camera
    optics, taken = optics_of(found.context, camera), taken_at(found, camera)
    for hold, area in places.items():
        x, y = area.x() + 8, area.y() + 24
        if hold == "focal":
            ink.plate(x - 2, y - 20, 62, 26)
            ink.decided(x, y, desk.given(optics.focal.number, "focal_length"), "on_drawing")
        elif hold == "stop" and taken:
            ink.plate(x - 2, y - 20, 60, 26)
            _taken(desk, ink, x, y, taken.stop)
        elif hold == "focus" and taken:
            ink.plate(x - 2, y - 20, 76, 26)
            at = side.own_x + taken.focus.number * side.px
            ink.lozenge(min(at, side.area.right()), side.eye_y + (46 if y > side.eye_y else -46))
            _taken(desk, ink, x, y, taken.focus)


def _taken(desk: Desk, ink: Ink, x: float, y: float, value: Figure | Given) -> None:
    """A value that somebody decided, or that is left to the program: the lozenge is then hollow."""
    left = isinstance(value, Figure)
    shown = desk.shown(value) if isinstance(value, Figure) else desk.given(value.number, value.kind)
    ink.decided(x, y, shown, "on_drawing", begun=left)


def draw_notes(desk: Desk, ink: Ink, side: Side, wide: float, *, low: bool) -> None:
    """What is told beside: sharp air, angle of view, barrel, clearance."""
    found, camera = side.found, side.camera
    air = side.air()
    from_, to = (found.find(spec, camera=camera.name) for spec in (specs.AIR_FROM, specs.AIR_TO))
    right = wide - 18.0
    y = WAYS_Y
    angle, across = (found.find(spec, camera=camera.name) for spec in (specs.ANGLE_HIGH, specs.ANGLE))
    lines: list[tuple[str, str]] = []
    if from_ and to:
        lines.append((f"= {desk.words(from_)} to {desk.words(to)}", "is sharp") if air else
                     ("no air is quite sharp", "diffraction alone is more"))  # fmt: skip
        inside = any(s.held and air and air[0] <= s.at + camera.back_m and s.to <= air[1] for s in side.stops)
        if air and not inside:
            lines.append(("nothing stands in sharp air", ""))
    if angle and across:
        lines.append((f"= {desk.words(angle)}", f"high, {desk.words(across)} across"))
    barrel, clear = (found.find(spec, camera=camera.name) for spec in (specs.BARREL, specs.CLEARANCE))
    if barrel:
        lines.append((f"= {desk.words(barrel)}", "on the barrel"))
    if clear:
        lines.append((f"= {desk.words(clear)}", "free before the lens"))
    nearest = found.find(specs.NEAREST, camera=camera.name)
    if nearest:
        lines.append((f"= {desk.words(nearest)}", "is its nearest focus"))
    light = found.find(specs.LIGHT, camera=camera.name)
    if light:
        lines.append((f"= {desk.words(light)}", "on the set"))
    card = optics_of(found.context, camera).card
    body = found.context.body(camera)
    lines.append(("", ", ".join(part for part in (card.name if card else "", body.name if body else "") if part)))
    for value, words in lines[: 2 if low else 8]:
        words = ink.squeezed(wide * 0.4, words, "note")
        x = right - (ink.width(words, "note") if words else 0)
        ink.plate(x - 8 - ink.width(value, "label"), y - 13, right - x + 8 + ink.width(value, "label"), 16)
        if words:
            ink.text(x, y, words, "note", "ink2")
        if value:
            ink.text(x - 6, y, value, "label", "reckon" if value.startswith("=") else "danger", "right")
        y += 18


def draw_dot(ink: Ink, x: float, y: float, stop: Stop, big: float, allowed: float) -> None:
    """Draw the blur of what stands there so many times as ``big``, in the ring of what is ``allowed``; what is over is chequered."""
    if stop.blur is None:
        return
    radius, ring = min(stop.blur.number * big / 2, 26.0), min(allowed * big / 2, 26.0)
    painter, theme = ink.painter, ink.theme
    if stop.blur.number > allowed and stop.held:
        disc = QPainterPath()
        disc.addEllipse(QPointF(x, y), radius, radius)
        painter.fillPath(disc, theme.colour("sheet"))
        ink.hatched(disc, "past", "danger")
        painter.setPen(ink.pen("danger", 1.6))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(x, y), radius, radius)
    painter.setPen(ink.pen("reckon", 1.4, "" if stop.held else "hidden"))
    painter.setBrush(theme.colour("reckon_t") if stop.held else Qt.BrushStyle.NoBrush)
    painter.drawEllipse(QPointF(x, y), min(radius, ring), min(radius, ring))
    if stop.blur.number <= allowed:
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(ink.pen("line", 1.0))
        painter.drawEllipse(QPointF(x, y), ring, ring)
