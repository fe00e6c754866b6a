"""The rows of the stage: a line for each thing, near to far, with what a hand must make of it; and what the eye and the air are."""

from __future__ import annotations

from PySide6.QtCore import QRectF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.edits.sets import eye_height
from homunculus.core.plan.set_plan import Plane
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.stage import real_eye
from homunculus.core.showing import Shown, show, show_scale

COLUMNS = (0.0, 0.265, 0.42, 0.735, 0.865, 0.995)
"""Name, scale, floor; then the right ends of looks, blur, contrast: as shares of the rows' width."""
NARROW = (0.0, 0.2, 0.345, 0.71, 0.845, 0.995)
"""The same where the rows are narrow: the name gives way."""
NARROW_PX = 340.0
LEAST = 0.45
"""As small as a distance on the floor is written, as a share of its size on a drawing, before how far it looks steps down."""


def columns(area: QRectF) -> list[float]:
    """Where the columns of rows stand."""
    shares = NARROW if area.width() < NARROW_PX else COLUMNS
    return [area.left() + share * area.width() for share in shares]


def draw_values(desk: Desk, ink: Ink, stage: StagePlan, picture: QRectF) -> None:
    """The line beneath the picture: the eye, as it stands and as it looks, and the air."""
    y, x = picture.bottom() + 22, picture.left()
    x += ink.text(x, y, "eye", "note", "ink2") + 6
    camera = stage.camera
    height = desk.given(eye_height(stage.found, camera), "length")
    if camera.height_m is not None:
        x += ink.decided(x, y, height, "label") + 14
    else:
        x += ink.number(x, y, height, "label", "ink") + 6
    ink.text(x, y, "up,", "note", "ink2")
    x = picture.left() + 112
    real, decided = stage.find(specs.EYE_REAL), real_eye(stage.found)
    if decided is not None:
        width = ink.decided(x, y, desk.given(decided.number, "length"), "label") + 12 if decided.decided else ink.number(x, y, desk.given(decided.number, "length"), "label", "ink")  # fmt: skip
    else:
        width = ink.number(x, y, desk.shown(real), "label", "reckon", equals=True) if real else 0.0
    ink.text(x + width + 8, y, "real", "note", "ink2")
    air = stage.found.shot.air
    right = picture.right() - 8
    if air is not None and air.sight_m is not None:
        shown = desk.given(air.sight_m, "length")
        wide = ink.number_width(shown, "label") + 8
        ink.decided(right, y, shown, "label", "right")
        room = right - wide - 16 - (x + width + 8 + ink.width("real", "note"))
        ink.text(
            right - wide - 10,
            y,
            ink.squeezed(max(room, 30.0), f"haze, sight at {air.threshold_pct} %", "note"),
            "note",
            "ink2",
            "right",
        )
    else:
        wide = ink.width("clear air", "label")
        ink.text(right, y, "clear air", "label", "decide", "right")
        ink.rule(right - wide, y + 5, right, y + 5, "decide", 1, "hidden")


def draw_heads(ink: Ink, picture: QRectF) -> None:
    """What the columns are."""
    y, x = picture.bottom() + 46, columns(picture)
    for at, words in zip(x[:3], ("near to far", "scale", "floor"), strict=True):
        ink.text(at, y, words, "note", "ink2")
    for at, words in zip(x[3:], ("looks", "blur", "contrast"), strict=True):
        ink.text(at, y, words, "note", "ink2", "right")
    ink.rule(picture.left(), y + 7, picture.right(), y + 7, "ink", 1.4)


def draw_row(desk: Desk, ink: Ink, stage: StagePlan, plane: Plane, area: QRectF, *, mine: bool) -> None:
    """One thing: name, scale, floor, how far it looks, blur, contrast; beneath, where there is room, what a hand must make, its foot and the air."""
    x, y = columns(area), area.top() + 22
    ink.text(x[0], y, ink.squeezed(x[1] - x[0] - 8, plane.name, "label", 600 if mine else 0), "label", "ink", weight=600 if mine else 0)  # fmt: skip
    fixed = bool(plane.insert) or (bool(plane.build) and bool(desk.job.build(plane.build).follows))
    scale = Shown(show_scale(plane.scale.number), "")
    if fixed:
        ink.number(x[1], y, scale, "label", "ink")
    else:
        ink.decided(x[1], y, scale, "label")
    looks = stage.find(specs.PLANE_LOOKS, use=plane.name)
    away = desk.shown(looks) if looks else show(plane.place.at_m, "length", desk.system)
    floor = show(plane.at.number, "length", desk.system)
    room = x[3] - x[2] - 14
    least = ink.number_width(floor, "on_drawing", equals=plane.place.looks, ratio=LEAST) + (
        0 if plane.place.looks else 12
    )
    ratio = ink.fitted(room - least, away, "label", equals=looks is not None)
    ink.number(x[3], y, away, "label", "reckon" if looks else "decide", "right", equals=looks is not None, ratio=ratio)
    room -= ink.number_width(away, "label", equals=looks is not None, ratio=ratio)
    ratio = min(0.74, max(LEAST, ink.fitted(room, floor, "on_drawing", equals=plane.place.looks)))
    if plane.place.looks:
        ink.number(x[2], y, floor, "on_drawing", "reckon", equals=True, ratio=ratio)
    else:
        ink.decided(x[2], y, floor, "on_drawing", ratio=ratio)
    blur, contrast = stage.seen(specs.PLANE_BLUR, plane.name), stage.find(specs.CONTRAST_WANTED, use=plane.name)
    if blur:
        over = blur.number > stage.found.context.shop.sharp_px and plane.place.held
        ink.number(x[4], y, desk.shown(blur), "label", "danger" if over else "reckon", "right", equals=True)
    if contrast:
        ink.number(x[5], y, desk.shown(contrast), "label", "reckon", "right", equals=True)
    if area.height() > 50:
        _second_line(desk, ink, stage, plane, x, y + 21)
    ink.rule(area.left(), area.bottom() - 1, area.right(), area.bottom() - 1, "line", 1)


def _second_line(desk: Desk, ink: Ink, stage: StagePlan, plane: Plane, x: list[float], y: float) -> None:
    tier, finest = stage.seen(specs.PLANE_TIER, plane.name), stage.seen(specs.PLANE_FINEST, plane.name)
    if tier and finest:
        width = ink.text(x[0], y, f"{tier.value}, detail over", "note", "ink2")
        ink.number(x[0] + width + 5, y, desk.shown(finest), "note", "reckon", equals=True)
    foot = stage.find(specs.PLANE_FOOT, use=plane.name)
    if foot:
        decided = foot.rule.name == "foot_as_decided"
        at = x[3] - 44
        ink.text(at - 4, y, "foot", "note", "ink2", "right")
        ink.number(at, y, desk.shown(foot), "note", "decide" if decided else "reckon", equals=not decided)
    air = stage.find(specs.CONTRAST_AIR, use=plane.name)
    if air:
        width = ink.number_width(desk.shown(air), "note", equals=True)
        ink.number(x[5], y, desk.shown(air), "note", "reckon", "right", equals=True)
        ink.text(x[5] - width - 5, y, "air", "note", "ink2", "right")
