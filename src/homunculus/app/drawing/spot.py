"""Places on a drawing that can be reached: by pointer, by Tab, and by ear.

A spot is a transparent child of the drawing that lies over what it stands for. It is an ordinary widget, so that
focus order and accessibility work as everywhere; the drawing beneath stays one painting.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable
from itertools import pairwise

from PySide6.QtCore import SIGNAL, QPointF, QRect, QRectF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QWidget

Action = Callable[[], None]

SPARE = 120
"""So many spots that are not on a drawing now are kept for the next time, the newest."""


class Spot(QWidget):
    """One reachable place. ``Enter``, ``Space`` or a click does its action."""

    activated = Signal()

    def __init__(self, parent: QWidget, name: str) -> None:
        super().__init__(parent)
        self._parent = parent
        self.setObjectName(name)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setAttribute(Qt.WidgetAttribute.WA_NoSystemBackground)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.action: Action | None = None
        self.entered: Action | None = None
        """What Enter does instead of the action, where it means “done”."""

    def say(self, name: str, description: str = "") -> None:
        """Set what a screen reader says."""
        if self.accessibleName() != name:
            self.setAccessibleName(name)
            self.setToolTip(name)
        if self.accessibleDescription() != description:
            self.setAccessibleDescription(description)

    def act(self) -> None:
        """Do what a click does."""
        if self.action:
            self.action()
        self.activated.emit()

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton and self.rect().contains(event.position().toPoint()):
            self.act()

    def mousePressEvent(self, event: QMouseEvent) -> None:
        event.accept()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.entered and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.entered()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.act()
        else:
            event.ignore()

    def focusInEvent(self, event: QFocusEvent) -> None:
        super().focusInEvent(event)
        self._parent.update()

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        self._parent.update()


class Handle(Spot):
    """A decided value that can be dragged, stepped with the arrows, or typed over.

    Signals carry positions in the parent's pixels. One press to release is one gesture.
    """

    pressed = Signal()
    dragged = Signal(QPointF)
    released = Signal()
    stepped = Signal(int)
    typing = Signal(str)
    accepted = Signal()
    """A beginning stands as it is: it is decided."""

    def __init__(self, parent: QWidget, name: str, cursor: Qt.CursorShape) -> None:
        super().__init__(parent, name)
        self.setCursor(cursor)
        self._held = False
        self._moved = False
        self.below_nought = True
        """Whether what is typed over may begin with a minus; else that key is the bench's: a step less."""

    def mousePressEvent(self, event: QMouseEvent) -> None:
        if event.button() == Qt.MouseButton.LeftButton:
            self._held, self._moved = True, False
            self.pressed.emit()

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._moved = True
            self.dragged.emit(self.mapToParent(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        if self._held:
            self._held = False
            self.released.emit()

    def mouseDoubleClickEvent(self, event: QMouseEvent) -> None:
        self.typing.emit("")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        tenfold = 10 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 1
        plain = not event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier)
        if event.key() in (Qt.Key.Key_Right, Qt.Key.Key_Up):
            self.stepped.emit(tenfold)
        elif event.key() in (Qt.Key.Key_Left, Qt.Key.Key_Down):
            self.stepped.emit(-tenfold)
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.typing.emit("")
        elif plain and event.text() and event.text() in ("0123456789-" if self.below_nought else "0123456789"):
            # , and . are keys of benches: a step, a frame
            self.typing.emit(event.text())
        elif plain and event.text() == "=":
            self.accepted.emit()
        else:
            event.ignore()


class Spots:
    """The spots of one drawing, found again by key so that focus survives a new plan.

    Parameters
    ----------
    parent
        The drawing.
    settled
        Says that a value is no beginning, where somebody would let one stand that is none.
    """

    def __init__(self, parent: QWidget, settled: Action | None = None) -> None:
        self._parent = parent
        self._no_beginning = settled
        self._known: dict[str, Spot] = {}
        self._placed: list[str] = []

    def begin(self) -> None:
        """Start placing anew."""
        self._placed = []

    def place(self, key: str, area: QRectF, name: str, action: Action | None, description: str = "") -> Spot:
        """Put the spot of a key over an area; made when new."""
        spot = self._known.get(key)
        if spot is None:
            spot = self._known[key] = Spot(self._parent, key)
            spot.show()
        self._settle(spot, key, area, name, description)
        spot.action = action
        return spot

    def place_handle(self, key: str, area: QRectF, name: str, cursor: Qt.CursorShape, wire: Callable[[Handle], None]
                     ) -> Handle:  # fmt: skip
        """Put the handle of a key over an area; ``wire`` connects it when it is new."""
        handle = self._known.get(key)
        if not isinstance(handle, Handle):
            handle = self._known[key] = Handle(self._parent, key, cursor)
            wire(handle)
            if self._no_beginning and not handle.receivers(SIGNAL("accepted()")):
                handle.accepted.connect(self._no_beginning)
            handle.show()
        self._settle(handle, key, area, name, "")
        return handle

    def _settle(self, spot: Spot, key: str, area: QRectF, name: str, description: str) -> None:
        rect = area.toAlignedRect()
        if spot.geometry() != rect:
            spot.setGeometry(rect)
        if spot.isHidden():
            spot.show()
        spot.say(name, description)
        self._placed.append(key)

    def end(self) -> None:
        """Hide what was not placed this time, and put Tab in reading order when that changed."""
        placed = set(self._placed)
        spare = [key for key in self._known if key not in placed]
        for key in spare:
            if not self._known[key].isHidden():
                self._known[key].hide()
        for key in spare[:-SPARE]:  # a day among two hundred builds would leave thousands behind
            self._known.pop(key).deleteLater()
        self._order(self._placed)

    def _order(self, keys: Iterable[str]) -> None:
        order = tuple(keys)
        if order == getattr(self, "_last_order", None):
            return
        self._last_order = order
        for a, b in pairwise(order):
            QWidget.setTabOrder(self._known[a], self._known[b])

    def find(self, key: str) -> Spot | None:
        """The spot of a key that is on the drawing now, or none."""
        return self._known.get(key) if key in self._placed else None

    def focused(self) -> Spot | None:
        """The spot that has the keyboard, or none."""
        return next((self._known[key] for key in self._placed if self._known[key].hasFocus()), None)

    def areas(self) -> dict[str, QRect]:
        """Where each placed spot lies, for tests and for pictures."""
        return {key: self._known[key].geometry() for key in self._placed}
