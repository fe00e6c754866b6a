"""Where benches lie: a bench that needs more height than there is can be scrolled, by wheel, bar, keys and focus."""

from __future__ import annotations

from collections.abc import Sequence

from PySide6.QtCore import QEvent, QObject, QPoint, QRect, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QResizeEvent, QWheelEvent
from PySide6.QtWidgets import QApplication, QScrollBar, QWidget

BAR = 12


def meant_otherwise(event: QKeyEvent) -> bool:
    """Whether a letter is pressed with Ctrl, Alt or the like: letters of benches stand alone, and Ctrl+X mirrors no piece."""
    held = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.AltModifier | Qt.KeyboardModifier.MetaModifier
    letter = Qt.Key.Key_A <= event.key() <= Qt.Key.Key_Z
    return bool(letter and event.modifiers() & held and not event.matches(QKeySequence.StandardKey.Paste))


class BenchArea(QWidget):
    """Holds the benches, each as wide as it is and at least as high as that bench asks for."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.bar = QScrollBar(Qt.Orientation.Vertical, self)
        self.bar.setAccessibleName("Scroll the bench")
        self.bar.valueChanged.connect(self._place)
        self.bar.hide()
        self._benches: Sequence[QWidget] = ()
        application = QApplication.instance()
        if isinstance(application, QApplication):
            application.focusChanged.connect(self._follow)

    def lay(self, benches: Sequence[QWidget]) -> None:
        """Give the ``benches`` their places; called again when one is made or opened."""
        for bench in benches:
            if bench not in self._benches:
                bench.installEventFilter(self)
        self._benches = list(benches)
        self._measure()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        if event.type() in (QEvent.Type.Show, QEvent.Type.Hide):
            self._measure()
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and meant_otherwise(event):
            event.ignore()  # the window may know it
            return True
        return False

    def _open(self) -> QWidget | None:
        return next((b for b in self._benches if not b.isHidden()), None)

    def _measure(self) -> None:
        bench = self._open()
        needed = int(getattr(bench, "least_height", 0)) if bench else 0
        over = max(0, needed - self.height())
        self.bar.setRange(0, over)
        self.bar.setPageStep(max(1, self.height()))
        self.bar.setSingleStep(40)
        self.bar.setVisible(over > 0)
        self.bar.setGeometry(self.width() - BAR, 0, BAR, self.height())
        self._place()

    def _place(self) -> None:
        bench = self._open()  # what is not open is placed when it is: how high it must be may take some reckoning
        if bench is not None:
            over = self.bar.maximum()
            width = self.width() - (BAR if over else 0)
            bench.setGeometry(QRect(0, -self.bar.value(), width, self.height() + over))
        self.bar.raise_()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._measure()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self.bar.maximum():
            moved = event.pixelDelta().y() or event.angleDelta().y() / 120 * self.bar.singleStep()
            self.bar.setValue(self.bar.value() - round(moved))
            event.accept()

    def _follow(self, _old: QWidget | None, now: QWidget | None) -> None:
        """Bring what has the keyboard into view."""
        bench = self._open()
        if now is None or bench is None or not self.bar.maximum() or not bench.isAncestorOf(now):
            return
        top = now.mapTo(bench, QPoint(0, 0)).y()
        if top < self.bar.value():
            self.bar.setValue(max(0, top - 20))
        elif top + now.height() > self.bar.value() + self.height():
            self.bar.setValue(top + now.height() - self.height() + 20)
