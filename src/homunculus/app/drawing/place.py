"""A place of the window: one painting with spots on it, redrawn whenever the desk changes."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, NamedTuple

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QContextMenuEvent, QPainter, QPaintEvent, QPixmap, QRegion, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Spot, Spots
from homunculus.app.drawing.typing import Typed
from homunculus.app.theme import Theme
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting
from homunculus.core.errors import UserError

NOTCH = 120
"""A notch of a wheel, in the toolkit's eighths of a degree."""


class Can(NamedTuple):
    """Something that can be done with a thing: in words, by which key, and how."""

    words: str
    key: str
    act: Callable[[], object]


class Place(QWidget):
    """Subclasses draw in :meth:`draw` and lay their spots in :meth:`arrange`."""

    ground = "film"
    least_height = 0
    """Height that the drawing needs; where a bench has less it is scrolled."""

    def __init__(self, parent: QWidget, desk: Desk, name: str) -> None:
        super().__init__(parent)
        self.desk = desk
        self.setObjectName(name)
        self.setAttribute(Qt.WidgetAttribute.WA_OpaquePaintEvent)  # each place fills all of itself
        self.setAccessibleName(name)
        self.spots = Spots(self, lambda: desk.said.emit("= lets a beginning stand; this is none."))
        self._painted: tuple[object, ...] | None = None
        self._behind, self._turned = False, 0
        self._region = QRegion()
        self._pictures: dict[str, tuple[object, QPixmap]] = {}
        desk.changed.connect(self.refresh)

    def enter(self) -> None:
        """Called when it is opened as a bench."""

    def undo(self) -> None:
        """Go back one change; what is about something beside the job goes back on that."""
        self.desk.undo()

    def redo(self) -> None:
        """Make the change again that was gone back on."""
        self.desk.redo()

    def notches(self, event: QWheelEvent) -> int:
        """Whole notches that a wheel was turned away from the hand; what a touchpad tells in small parts adds up, and sideways is none."""
        self._turned += event.angleDelta().y()
        whole = int(self._turned / NOTCH)
        self._turned -= whole * NOTCH
        return whole

    def decided_at_hand(self) -> str:
        """The key of the decided value that the keyboard is on, or nothing."""
        focus = QApplication.focusWidget()  # it may lie on a drawing that is part of this one
        name = focus.objectName() if focus else ""
        return name.removeprefix("decide:") if name.startswith("decide:") else ""

    def type_over(
        self,
        name: str,
        over: QRectF | str,
        stands: str,
        accept: Callable[[str], bool],
        back: str | QWidget = "",
        key: str = "",
        *,
        role: str = "label",
        least: float = 150.0,
        words: bool = False,
        hint: str = "",
    ) -> Typed | None:
        """Open a line to type over what ``stands`` there, begun by a ``key``: over an area, or the spot of that name where it is in sight.

        How it is written is said, where there is a ``hint``. What ``accept`` refuses stays to be mended; where it raises a UserError, that is said. Afterwards the keyboard goes ``back`` to a
        widget or to the spot of that name, without one to the spot that was typed over.
        """
        if isinstance(over, str):
            spot = self.spots.find(over)
            if spot is None:
                return None
            back = back or over
            over = QRectF(spot.geometry())

        def take(typed: str) -> bool:
            try:
                return accept(typed)
            except UserError as trouble:
                self.desk.said.emit(str(trouble))
                return False

        line = Typed(self, self.theme(), name, stands, take, key, words=words)
        line.setFont(self.theme().font(role))
        if isinstance(back, QWidget):
            line.closed.connect(lambda: (back if back.isVisible() else self).setFocus())
        else:
            line.closed.connect(lambda: (self.spots.find(back) or self.window()).setFocus())
        line.open_over(over, least)
        if hint:
            self.desk.said.emit(hint)
        return line

    def room(self) -> QSize:
        """Size of what this place lies in."""
        parent = self.parentWidget()
        return parent.size() if parent else self.size()

    def theme(self) -> Theme:
        """The colours in use."""
        return self.desk.theme

    def setting(self) -> Setting:
        """Measures words where nothing is being painted."""
        return Setting(self.theme())

    def refresh(self) -> None:
        """Read the desk again; what shows the same as before is not painted again."""
        if not self.isVisible():
            return
        signature = (self.content(), self.desk.theme_name, self.desk.system, self.size().toTuple())
        if signature == self._painted and not (self._behind and self.desk.gesture is None):
            return
        before, self._painted = self._painted, signature
        if self.desk.gesture is None:
            self.spots.begin()
            self.arrange()
            self.spots.end()
            self._behind = False
        else:
            self._behind = True
        self.repaint_changed(before[0] if before and before[1:] == signature[1:] else None, signature[0])

    def again(self) -> None:
        """Lay out and paint anew, whether or not what it shows is the same."""
        self._painted = None
        self.refresh()

    def content(self) -> object:
        """What the drawing depends on, to be compared with the last time; something new means always paint."""
        return object()

    def repaint_changed(self, _before: object, _now: object) -> None:
        """Ask for painting; places made of independent parts compare their contents and ask for those alone."""
        self.update()

    def arrange(self) -> None:
        """Lay the spots over what is drawn."""

    def draw(self, ink: Ink) -> None:
        """Draw the place; what :meth:`touches` says lies outside need not be drawn."""

    def touches(self, area: QRectF) -> bool:
        """Whether an area has to be drawn in this painting."""
        return self._region.intersects(area.toAlignedRect())

    def kept(self, ink: Ink, name: str, key: object, area: QRectF, draw: Callable[[Ink], None]) -> None:
        """Draw an area from a picture of it, painted anew when the key differs from the last time."""
        ratio = self.devicePixelRatioF()
        whole = (key, area.toAlignedRect(), self.desk.theme_name, self.desk.system, ratio)
        known = self._pictures.get(name)
        if known is None or known[0] != whole:
            picture = QPixmap((area.size() * ratio).toSize())
            picture.setDevicePixelRatio(ratio)
            picture.fill(self.theme().colour(self.ground))
            painter = QPainter(picture)
            painter.translate(-area.topLeft())
            draw(Ink(painter, self.theme()))
            painter.end()
            known = self._pictures[name] = (whole, picture)
        ink.painter.drawPixmap(area.topLeft(), known[1])

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        self._region = event.region()
        try:
            painter.fillRect(event.rect(), self.theme().colour(self.ground))
            ink = Ink(painter, self.theme(), quick=self.desk.gesture is not None)
            self.draw(ink)
            spot = self.spots.focused()
            if spot is not None:
                ink.ticks(QRectF(spot.geometry()))
        finally:
            painter.end()  # an open painter takes the whole program down

    def can(self, _key: str) -> list[Can]:
        """What can be done with what lies beneath the spot of a key, beside pressing it."""
        return []

    def can_row(self, _rows: str, _item: Any, _column: str) -> list[Can]:
        """What can be done with an item of one of its lists, in a column."""
        return []

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """A right press, or the Menu key: what can be done with this."""
        by_key = event.reason() == QContextMenuEvent.Reason.Keyboard
        spot = self.spots.focused() if by_key else self.childAt(event.pos())
        found = spot if isinstance(spot, Spot) else None
        at = found.mapToGlobal(found.rect().center()) if found and by_key else event.globalPos()
        self.desk.asked_what.emit(self, found, at)

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.refresh()

    def showEvent(self, _event: object) -> None:
        self.refresh()
