"""The plate's values beside ours: what it has, what that asks on set, what is, how far off, and what that shows as."""

from __future__ import annotations

import math
from typing import NamedTuple

from PySide6.QtCore import QRectF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.edits.sets import over_ground
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.shots import Plate
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.lens import optics_of
from homunculus.core.quantities import Kind
from homunculus.core.showing import Shown

ROW = 34.0
ROWS = 6
"""Sensor, focal length, height, distance, tilt, roll."""
HEADS = ("", "plate", "asks on set", "is", "off", "shows as")
SHARES = (0.0, 0.27, 0.45, 0.62, 0.80, 1.0)


class MatchRow(NamedTuple):
    """One value of the plate beside ours."""

    what: str
    plate: Shown | None
    asked: Figure | Shown | None
    ours: Shown
    off: Figure | None
    shows: Figure | None


def match_rows(desk: Desk, stage: StagePlan) -> list[MatchRow]:
    """Lens, height, distance, tilt and roll: of the plate, as asked, as they are."""
    found, camera, plate = stage.found, stage.camera, stage.found.shot.plate or Plate()
    base = next((p for p in found.planes if p.build == found.base), None)
    foot = stage.find(specs.PLANE_FOOT, use=base.name) if base else None
    made = desk.plan.build(found.base) if found.base else None
    given = desk.given

    def asked(spec: FigureSpec) -> Figure | None:
        return made.find(spec, shot=found.shot.id) if made else None

    def row(what: str, value: float | None, kind: Kind, wanted: Figure | Shown | None, ours: float) -> MatchRow:
        off = stage.find(specs.MATCH_OFF, use=what) or stage.find(specs.MATCH_TURN, use=what)
        return MatchRow(
            what,
            None if value is None else given(value, kind),
            wanted,
            given(ours, kind),
            off,
            stage.find(specs.MATCH_SHIFT, use=what),
        )

    def turn(degrees: float | None) -> float | None:
        return None if degrees is None else math.radians(degrees)

    tilt, roll = turn(plate.tilt_deg), turn(plate.roll_deg)
    mode = found.context.mode(camera)
    return [
        row("sensor", plate.sensor_width_m, "length", None, mode.sensor_width_m.value if mode else 0.0),
        row("focal length", plate.focal_m, "focal_length", asked(specs.PLATE_FOCAL), optics_of(found.context, camera).focal.number),
        row("height", plate.height_m, "length", asked(specs.PLATE_HEIGHT), over_ground(found, camera, foot.number if foot else 0.0)),
        row("distance", plate.distance_m, "length", asked(specs.PLATE_DISTANCE), base.at.number if base else 0.0),
        row("tilt", tilt, "angle", None if tilt is None else given(tilt, "angle"), math.radians(camera.tilt_deg)),
        row("roll", roll, "angle", None if roll is None else given(roll, "angle"), math.radians(camera.roll_deg)),
    ]  # fmt: skip


def draw_match(desk: Desk, ink: Ink, stage: StagePlan, area: QRectF) -> None:
    """Draw the plate's values beside ours, a row each."""
    x = [area.left() + share * area.width() for share in SHARES]
    for at, head in zip(x[1:], HEADS[1:], strict=True):
        ink.text(at, area.top(), head, "note", "ink2", "right")
    ink.rule(area.left(), area.top() + 8, area.right(), area.top() + 8, "ink", 1.4)
    allowed = stage.found.context.shop.shift_px
    for i, row in enumerate(match_rows(desk, stage)):
        y = area.top() + 12 + i * ROW + 23
        ink.text(x[0], y, row.what, "label", weight=600)
        if row.plate:
            ink.decided(x[1] - 8, y, row.plate, "label", "right")
        else:
            ink.text(x[1] - 8, y, "say it", "note", "decide", "right")
        if isinstance(row.asked, Figure):
            ink.number(x[2], y, desk.shown(row.asked), "label", "reckon", "right", equals=True)
        elif row.asked:
            ink.number(x[2], y, row.asked, "label", "ink", "right")
        ink.number(x[3], y, row.ours, "label", "ink", "right")
        if row.off:
            ink.number(x[4], y, desk.shown(row.off), "label", "reckon", "right", equals=True)
        if row.shows:
            ink.number(
                x[5],
                y,
                desk.shown(row.shows),
                "label",
                "danger" if row.shows.number > allowed else "reckon",
                "right",
                equals=True,
            )
        ink.rule(area.left(), y + 10, area.right(), y + 10, "line", 1)
