"""The keys of the open bench, written on its drawing: each beside what it works on, what works anywhere at the foot."""

from __future__ import annotations

from typing import TYPE_CHECKING, NamedTuple

from PySide6.QtCore import QPoint, QRect, QRectF, QSize, Qt
from PySide6.QtGui import QColor, QKeyEvent, QMouseEvent, QPainter, QPaintEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.spec import Key
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.shell.key_help import HANDS, KeyHelp
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting

if TYPE_CHECKING:
    from homunculus.app.shell.benches import Benches

HIGH, GAP, FOOT = 24.0, 3.0, 12.0
VEIL = 150
"""How much of the drawing shows through, of 255: less is more."""


class Written(NamedTuple):
    """A key on the drawing: where it is written, and what it points at; nothing where it works on no one thing."""

    key: str
    words: str
    area: QRectF
    of: QRectF | None


def write_keys(keys: tuple[Key, ...], areas: dict[str, QRect], setting: Setting, size: QSize) -> list[Written]:
    """Where each of the ``keys`` is written on a drawing of a ``size`` with spots in these ``areas``; no two lie on each other."""
    found: list[Written] = []
    inside = QRectF(4, 4, size.width() - 8, size.height() - 8)

    def place(key: str, words: str, left: float, top: float, of: QRectF | None, down: float) -> None:
        width = setting.width(key, "tick", 600) + setting.width(words, "body") + 40
        area = QRectF(max(inside.left(), min(left, inside.right() - width)), top, width, HIGH)
        while any(area.intersects(other.area.adjusted(-2, -2, 2, 2)) for other in found):
            area.translate(0, down)
            if not inside.contains(area):
                area.moveTop(inside.top() if down > 0 else inside.bottom() - HIGH)
                area.translate(8, 0)
            if area.right() > inside.right() + 4000:
                return
        found.append(Written(key, words, area, of))

    for key in keys:
        spot = next((QRectF(rect) for name, rect in areas.items() if key.at and name.startswith(key.at)), None)
        if spot is not None and inside.intersects(spot):
            place(key.name, key.words, spot.left() + 6, min(spot.top() + 2, inside.bottom() - HIGH), spot, HIGH + GAP)
    known = {written.key for written in found}
    left, top = inside.left() + FOOT, inside.bottom() - HIGH
    for name, words in [(k.name, k.words) for k in keys if k.name not in known] + list(HANDS):
        width = setting.width(name, "tick", 600) + setting.width(words, "body") + 40
        if left + width > inside.right():
            left, top = inside.left() + FOOT, top - HIGH - GAP
        place(name, words, left, top, None, -(HIGH + GAP))
        left = found[-1].area.right() + 8 if found[-1].area.top() == top else left
    return found


class KeysHere(Place):
    """A veil over the open bench with its keys; any key or press takes it away, F1 goes on to all keys."""

    def __init__(self, parent: QWidget, desk: Desk, benches: Benches, whole: KeyHelp) -> None:
        super().__init__(parent, desk, "The keys of this bench")
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent, False)  # the drawing shows through
        self._benches, self._whole = benches, whole
        self.written: list[Written] = []
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.hide()

    def turn(self) -> None:
        """The keys here, then all keys, then none."""
        if self.isVisible():
            self.put_away()
            self._whole.toggle()
        elif self._whole.isVisible():
            self._whole.put_away()
        elif self._benches.covering is not None:  # what covers the window has its keys on the sheet alone
            self._whole.toggle()
        else:
            self._show()

    def _show(self) -> None:
        spec, middle = self._benches.open_spec, self._benches.middle
        bench, room = self._benches.bench, self._benches.area
        seen = QRect(room.mapTo(middle, QPoint(0, 0)), room.size())
        shift = bench.mapTo(middle, QPoint(0, 0)) - seen.topLeft()
        areas = {name: rect.translated(shift) for name, rect in bench.spots.areas().items()}
        self.setGeometry(seen)
        self.written = write_keys(spec.keys, areas, self.setting(), seen.size())
        self.setAccessibleName(f"Keys on {spec.title}")
        self.setAccessibleDescription(". ".join(f"{one.key}: {one.words}" for one in self.written))
        self.show()
        self.raise_()
        self.setFocus()
        self.update()

    def put_away(self) -> None:
        """Take the keys away and give the keyboard back."""
        self.hide()
        self.window().setFocus()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_F1, Qt.Key.Key_Question):
            self.turn()
            return
        self.put_away()
        if event.key() != Qt.Key.Key_Escape:
            event.ignore()  # it does what it says

    def mousePressEvent(self, _event: QMouseEvent) -> None:
        self.put_away()

    def content(self) -> object:
        return tuple(one.key for one in self.written)

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        try:
            veil = QColor(self.theme().colour("sheet"))
            veil.setAlpha(VEIL)
            painter.fillRect(event.rect(), veil)
            self.draw(Ink(painter, self.theme()))
        finally:
            painter.end()

    def draw(self, ink: Ink) -> None:
        for one in self.written:
            if one.of is not None:
                ink.ticks(one.of)
            ink.box(one.area.x(), one.area.y(), one.area.width(), one.area.height(), fill="sheet", edge="ink2")
            ink.key(one.area.x() + 4, one.area.y() + 12, one.key, "")
            caps = max(26.0, 10 + ink.width(one.key, "tick", 600)) + 8
            ink.text(one.area.x() + caps, one.area.y() + 17, one.words, "body")
        more = "F1 again: all keys. Any other takes these away."
        width = ink.width(more, "note")
        ink.plate(self.width() - width - 14, 8, width, 16)
        ink.text(self.width() - 14, 20, more, "note", "ink2", "right")
