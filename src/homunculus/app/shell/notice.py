"""One line at the foot of the bench: what was said, what is being worked on, or a question to type into."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, QTimer, Signal
from PySide6.QtGui import QAccessible, QAccessibleAnnouncementEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.typing import Typed
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError

HEIGHT = 36
STAYS_MS = 9000


class Notice(Place):
    """A strip that comes when there is something to say and goes by itself."""

    ground = "film"
    cancelled = Signal()

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Notice")
        self.words = ""
        self._work: tuple[str, float] | None = None
        self._timer = QTimer(self, singleShot=True, interval=STAYS_MS)
        self._timer.timeout.connect(self._leave)
        self._typed: Typed | None = None
        self.hide()

    def settle(self) -> None:
        """Lie along the foot of the bench."""
        lines = 2 if len(self.words) > 105 else 1
        height = HEIGHT + 18 * (lines - 1)
        self.setGeometry(0, self.room().height() - height, self.room().width(), height)

    def say(self, words: str) -> None:
        """Say a sentence."""
        self.words = words
        self.setAccessibleDescription(words)
        self._come()
        QAccessible.updateAccessibility(QAccessibleAnnouncementEvent(self, words))  # heard although nobody looks here
        self._timer.start()

    def work(self, words: str, share: float) -> None:
        """Show how far slow work is; it can be left with the cross."""
        self._work = (words, share) if share < 1 else None
        if self._work:
            self._come()
        elif not self.words:
            self.hide()
        self.refresh()

    @property
    def asking(self) -> bool:
        """Whether a line is open that waits for words."""
        return self._typed is not None and self._typed.isVisible()

    def ask(self, question: str, accept: Callable[[str], None], first: str = "") -> None:
        """Ask for a line of words, with ``first`` standing there already; what ``accept`` refuses stays to be mended."""
        self.words = question
        self._timer.stop()
        self._come()

        def take(words: str) -> bool:
            try:
                if words.strip():
                    accept(words.strip())
            except UserError as trouble:
                self.words = str(trouble)
                self.refresh()
                return False
            return True

        self._typed = Typed(self, self.theme(), question, first, take, words=True)
        self._typed.setFont(self.theme().font("label"))
        self._typed.setPlaceholderText("")  # the question stands before it
        self._typed.closed.connect(self._closed)
        asked = min(self.width() - 200, self.setting().width(question, "label") + 30)
        self._typed.open_over(QRectF(asked, 0, self.width() - asked - 20, HEIGHT))

    def _come(self) -> None:
        self.settle()
        self.show()
        self.raise_()
        self.refresh()

    def _closed(self) -> None:
        """The line is closed; what was said of it stays for its time."""
        self._typed = None
        if not self._timer.isActive():
            self._leave()

    def _leave(self) -> None:
        self.words = ""
        if not self._work:
            self.hide()
        self.refresh()

    def arrange(self) -> None:
        if self._work:
            self.spots.place("cancel", QRectF(self.width() - 46, 0, 44, HEIGHT), "stop this work", self.cancelled.emit)

    def draw(self, ink: Ink) -> None:
        ink.rule(0, 0.75, self.width(), 0.75, "ink2", 1.5)
        if self._work:
            words, share = self._work
            x, room = 18.0, self.width() - 90.0
            ink.box(x, 9, room, 18, edge="ink", width=1.2)
            ink.hatched(QRectF(x, 9, room * share, 18), "curing", "ink2")
            ink.plate(x + 10, 11, ink.width(words, "body"), 14)
            ink.text(x + 10, 23, words, "body")
            for a in (-5, 5):
                ink.rule(self.width() - 29, 18 + a, self.width() - 19, 18 - a, "ink", 1.6)
            return
        for i, line in enumerate(ink.within(self.width() - 36, self.words, "label", 2)):
            ink.text(18, 23 + 18 * i, line, "label")
