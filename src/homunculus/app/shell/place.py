"""A place of the window: one painting with spots on it, redrawn whenever the desk changes."""

from __future__ import annotations

from PySide6.QtCore import QSize
from PySide6.QtGui import QPainter, QPaintEvent, QResizeEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Spots
from homunculus.app.theme import Theme
from homunculus.app.theme.ink import Ink


class Place(QWidget):
    """Subclasses draw in :meth:`draw` and lay their spots in :meth:`arrange`."""

    ground = "film"

    def __init__(self, parent: QWidget, desk: Desk, name: str) -> None:
        super().__init__(parent)
        self.desk = desk
        self.setObjectName(name)
        self.setAccessibleName(name)
        self.spots = Spots(self, self.theme)
        desk.changed.connect(self.refresh)

    def room(self) -> QSize:
        """Size of what this place lies in."""
        parent = self.parentWidget()
        return parent.size() if parent else self.size()

    def theme(self) -> Theme:
        """The colours in use."""
        return self.desk.theme

    def refresh(self) -> None:
        """Read the desk again."""
        if self.isVisible():
            self.spots.begin()
            self.arrange()
            self.spots.end()
            self.update()

    def arrange(self) -> None:
        """Lay the spots over what is drawn."""

    def draw(self, ink: Ink) -> None:
        """Draw the place."""

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        painter.fillRect(event.rect(), self.theme().colour(self.ground))
        self.draw(Ink(painter, self.theme()))
        painter.end()

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.refresh()

    def showEvent(self, _event: object) -> None:
        self.refresh()
