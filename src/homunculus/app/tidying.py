"""Python's collector of what points at itself runs while nobody does anything, and in the thread of the interface alone.

So no drag and no edit waits for it, and no thread that works beside drops what is Qt's.
"""

from __future__ import annotations

import gc
from collections.abc import Callable
from time import monotonic

from PySide6.QtCore import QObject, QTimer

from homunculus.app.desk import Desk

LOOK_MS = 500
REST_S = 0.4
"""Without an edit for so long nobody waits for anything."""
WORTH = 20_000
"""Objects made and not dropped since the last time: fewer are not worth the while."""
TOO_MANY = 2_000_000
"""So many are not left lying, whatever goes on."""
THOROUGH = 10
"""Every so often all of it is walked, not what is new alone."""


class Tidying(QObject):
    """Collects at rest; what is open at first is left out of it for good.

    Parameters
    ----------
    desk
        What is worked on.
    clock
        Seconds that pass.
    """

    def __init__(self, desk: Desk, clock: Callable[[], float] = monotonic) -> None:
        super().__init__(desk)
        self._desk, self._clock, self._busy_at, self._times = desk, clock, clock(), 0
        gc.freeze()
        gc.disable()
        desk.changed.connect(self._busy)
        self._timer = QTimer(self, interval=LOOK_MS)
        self._timer.timeout.connect(self.look)
        self._timer.start()

    def _busy(self) -> None:
        self._busy_at = self._clock()

    def look(self) -> None:
        """Collect where it is worth the while and nobody waits; a desk that is closed does not know who else works."""
        if self._desk.closed:
            self._timer.stop()
            return
        made = gc.get_count()[0]
        at_rest = self._desk.gesture is None and self._clock() - self._busy_at >= REST_S
        if made > TOO_MANY or (made > WORTH and at_rest):
            self._times += 1
            gc.collect(2 if self._times % THOROUGH == 0 else 1)
