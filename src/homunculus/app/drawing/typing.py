"""Typing over a decided value, on the drawing, where the value stands."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QFocusEvent, QKeyEvent
from PySide6.QtWidgets import QLineEdit, QWidget

from homunculus.app.theme import Theme
from homunculus.core.quantities import NBSP, like_what_stands


class Typed(QLineEdit):
    """A line to type a value into, over what ``stands`` there, begun by a ``key``; a bare number means the unit that stands there.

    What is asked for in ``words`` (a name, a lot) is taken as it is typed. Enter, Tab or a press elsewhere asks ``accept``; when it refuses Enter, the words stay to be mended.
    """

    closed = Signal()

    def __init__(
        self,
        parent: QWidget,
        theme: Theme,
        name: str,
        stands: str,
        accept: Callable[[str], bool],
        key: str = "",
        *,
        words: bool = False,
    ) -> None:
        super().__init__(parent)
        self._accept = accept
        self._room = parent.size()
        self._theme = theme
        self.setObjectName("typed")
        self.setAccessibleName(f"type {name}")
        self.setPlaceholderText(name)
        self.setFont(theme.font("on_drawing"))
        self.setFrame(False)
        colour, ground = theme.colour("decide").name(), theme.colour("sheet").name()
        self.setStyleSheet(
            f"color: {colour}; background: {ground}; border: none; border-bottom: 2px solid {colour};"
            f"selection-background-color: {theme.colour('decide_t').name()}; selection-color: {colour};"
        )
        self._done, self._words = False, words
        self._stands = stands.replace(NBSP, " ")
        self.setText(key or self._stands)
        if not key:  # what stands there is typed over, a key that began the typing stays
            self.selectAll()
        self.returnPressed.connect(self._entered)

    def open_over(self, area: QRectF, least: float = 130) -> None:
        """Show over an area of the drawing, inside the drawing's edges."""
        width = max(least, area.width() + 20)
        height = 38
        x = min(max(2.0, area.center().x() - width / 2), self._room.width() - width - 2)
        y = min(max(2.0, area.center().y() - height / 2), self._room.height() - height - 2)
        self.setGeometry(int(x), int(y), int(width), height)
        self.show()
        self.raise_()
        self.setFocus(Qt.FocusReason.OtherFocusReason)

    def _entered(self) -> None:
        if self._take():
            self._close()
        else:
            self.selectAll()

    def _take(self) -> bool:
        return self._accept(self.text() if self._words else like_what_stands(self.text(), self._stands))

    def _close(self) -> None:
        self._done = True
        self.hide()
        self.closed.emit()
        self.deleteLater()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Escape:
            self._close()
        else:
            super().keyPressEvent(event)
            if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
                event.accept()  # it was taken here: it does nothing beneath

    def focusNextPrevChild(self, next: bool) -> bool:
        if self._done:  # Qt looks for the next one when what has the keyboard is hidden
            return super().focusNextPrevChild(next)
        self._entered()  # Tab is like Enter: whoever opened this line says where the keyboard goes
        return True

    def focusOutEvent(self, event: QFocusEvent) -> None:
        super().focusOutEvent(event)
        kept = (Qt.FocusReason.ActiveWindowFocusReason, Qt.FocusReason.PopupFocusReason)  # another window, its own menu
        if not self.isVisible() or event.reason() in kept:
            return
        if event.reason() == Qt.FocusReason.MouseFocusReason and self.text() != self._stands:
            self._take()  # what is refused is said, and given up: the hand is elsewhere
        self._close()
