"""What a bench shows where there is nothing yet: its own drawing in dashes, and beneath it what begins it."""

from __future__ import annotations

from collections.abc import Callable
from typing import Literal

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath

from homunculus.app.drawing.person import person_path
from homunculus.app.theme.ink import Ink

What = Literal["frame", "track", "figures", "threads", "rows", "page", "days", "mould"]
HIGH = 250.0
"""Of the drawing; the words stand beneath it."""


def empty_area(width: float, top: float) -> QRectF:
    """Where the drawing lies on a bench that is so wide, from a height on; all of it can be pressed."""
    return QRectF(18, top, min(width - 36, 620.0), HIGH + 44)


def draw_empty(ink: Ink, area: QRectF, what: What, handle: str, words: str) -> None:
    """Draw ``what`` is missing in an area, the live ``handle`` beneath it, and some ``words`` behind that."""
    path = _DRAWINGS[what](QRectF(area.left(), area.top(), area.width(), HIGH - 10))
    ink.painter.setBrush(Qt.BrushStyle.NoBrush)
    ink.painter.setPen(ink.pen("line", 1.2, "hidden"))
    ink.painter.drawPath(path)
    y = area.top() + HIGH + 18
    width = ink.text(area.left(), y, f"+ {handle}", "on_drawing", "decide")
    ink.rule(area.left(), y + 5, area.left() + width, y + 5, "decide", 1.5, "hidden")
    ink.text(
        area.left() + width + 18,
        y,
        ink.squeezed(max(60.0, area.right() + 200 - area.left() - width), words, "note"),
        "note",
        "ink2",
    )


def _lines(path: QPainterPath, *lines: tuple[float, float, float, float]) -> None:
    for x1, y1, x2, y2 in lines:
        path.moveTo(x1, y1)
        path.lineTo(x2, y2)


def _frame(area: QRectF) -> QPainterPath:
    """A camera's frame with its ground and somebody in it."""
    path = QPainterPath()
    wide = min(area.width(), area.height() * 1.85)
    box = QRectF(area.left(), area.top(), wide, wide / 1.85)
    path.addRect(box)
    ground = box.top() + box.height() * 0.78
    _lines(path, (box.left(), ground, box.right(), ground))
    path.addPath(person_path(box.height() * 0.5).translated(box.left() + wide * 0.36, ground))
    path.addRect(QRectF(box.left() + wide * 0.55, ground - box.height() * 0.4, wide * 0.16, box.height() * 0.4))
    return path


def _track(area: QRectF) -> QPainterPath:
    """Flags along a line, and what wears down beneath them."""
    path, pitch = QPainterPath(), area.width() / 7
    y = area.top() + 46
    for i in range(7):
        x = area.left() + i * pitch + 4
        _lines(path, (x, y, x, y - 40))
        path.addRect(QRectF(x, y - 40, pitch * 0.55, 20))
    _lines(path, (area.left(), y, area.right(), y))
    steps = [
        QPointF(area.left() + pitch * x, area.top() + 90 + down)
        for x, down in ((0, 0), (2.5, 0), (2.5, 44), (5, 44), (5, 110), (7, 110))
    ]
    path.moveTo(steps[0])
    for point in steps[1:]:
        path.lineTo(point)
    return path


def _figures(area: QRectF) -> QPainterPath:
    """A row of the same figure."""
    path, high = QPainterPath(), min(150.0, area.height() - 30)
    count = max(2, int(area.width() // (high * 0.5)))
    for i in range(min(count, 7)):
        path.addPath(person_path(high).translated(area.left() + high * (0.2 + 0.5 * i), area.top() + high + 20))
    _lines(path, (area.left(), area.top() + high + 20, area.right(), area.top() + high + 20))
    return path


def _threads(area: QRectF) -> QPainterPath:
    """Needs at the left, what covers them at the right, threads between."""
    path, left, right = QPainterPath(), area.left() + 120, area.right() - 130
    for i, to in enumerate((0, 0, 2, 1, 2)):
        y, end = area.top() + 24 + i * 44, area.top() + 40 + to * 74
        _lines(path, (area.left(), y, left - 14, y))
        path.moveTo(left, y)
        path.cubicTo((left + right) / 2, y, (left + right) / 2, end, right, end)
    for i in range(3):
        path.addRect(QRectF(right + 8, area.top() + 28 + i * 74, 110, 24))
    return path


def _rows(area: QRectF) -> QPainterPath:
    """A ruled list."""
    path = QPainterPath()
    _lines(path, *((area.left(), area.top() + i * 34, area.right(), area.top() + i * 34) for i in range(7)))
    _lines(
        path,
        *(
            (area.left() + area.width() * x, area.top(), area.left() + area.width() * x, area.top() + 204)
            for x in (0.12, 0.5, 0.68)
        ),
    )
    return path


def _page(area: QRectF) -> QPainterPath:
    """A page with fields, and a list to be ticked."""
    path, half = QPainterPath(), area.left() + area.width() * 0.55
    for i in range(4):
        _lines(path, (area.left(), area.top() + 30 + i * 52, half - 30, area.top() + 30 + i * 52))
    for i in range(5):
        path.addRect(QRectF(half, area.top() + 8 + i * 42, 20, 20))
        _lines(path, (half + 32, area.top() + 24 + i * 42, area.right(), area.top() + 24 + i * 42))
    return path


def _days(area: QRectF) -> QPainterPath:
    """Bars under days."""
    path = QPainterPath()
    _lines(path, (area.left(), area.top() + 20, area.right(), area.top() + 20))
    for i in range(9):
        x = area.left() + i * area.width() / 8
        _lines(path, (x, area.top() + 12, x, area.top() + 28))
    for i, (start, end) in enumerate(((0.0, 0.4), (0.15, 0.7), (0.3, 0.9))):
        path.addRect(
            QRectF(area.left() + area.width() * start, area.top() + 50 + i * 52, area.width() * (end - start), 26)
        )
    return path


def _mould(area: QRectF) -> QPainterPath:
    """A form in its box."""
    path, side = QPainterPath(), min(area.height(), area.width())
    box = QRectF(area.left(), area.top(), side, side)
    path.addRect(box)
    path.addEllipse(box.adjusted(side * 0.2, side * 0.16, -side * 0.2, -side * 0.16))
    _lines(path, (box.left() - 8, box.center().y(), box.right() + 8, box.center().y()))
    return path


_DRAWINGS: dict[What, Callable[[QRectF], QPainterPath]] = {
    "frame": _frame, "track": _track, "figures": _figures, "threads": _threads, "rows": _rows, "page": _page, "days": _days, "mould": _mould,
}  # fmt: skip
