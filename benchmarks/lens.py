"""The lens bench: each handle dragged, from the edit to the window painted, against a frame of 16.7 ms.

Run: python -m benchmarks.lens
"""

from __future__ import annotations

import os
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_CONFIG_HOME", tempfile.mkdtemp())

from PySide6.QtCore import QPointF

from benchmarks.edit import opened
from benchmarks.jobs import demo_job
from benchmarks.section import timed
from benchmarks.shots import said
from homunculus.app.tidying import Tidying

HOLDS = ("place:1", "place:0", "focus", "stop", "focal", "camera")


def main() -> int:
    """Print every handle of the demo's shot that cannot be held."""
    with tempfile.TemporaryDirectory() as scratch:
        window = opened(demo_job(Path(scratch) / "demo"), "lighthouse")
        window.benches.open("lens")
        window.desk.breakdown.choose("4")
        bench = window.benches.of("lens")
        for hold in HOLDS:
            handle = bench.spots.find(f"hold:{hold}")
            at = QPointF(handle.geometry().center())
            Tidying(window.desk)
            handle.pressed.emit()
            times = timed(lambda i, h=handle, a=at: h.dragged.emit(a + QPointF(i % 60, -(i % 60))))  # type: ignore[misc]
            handle.released.emit()
            window.desk.undo()
            said(f"pull {hold}", times, "goal <= 1")
        window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
