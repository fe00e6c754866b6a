"""Sliding the plane through a mould, and pulling its blanket: each step to everything repainted, against a frame.

Run: python -m benchmarks.section
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_CONFIG_HOME", tempfile.mkdtemp())

from PySide6.QtWidgets import QApplication

from benchmarks.edit import FRAME_MS
from benchmarks.jobs import demo_job
from homunculus import demo
from homunculus.app.start import make_window
from homunculus.app.tidying import Tidying

STEPS = 120


def timed(step: Callable[[int], None]) -> list[float]:
    """Milliseconds of each of many steps to everything repainted, the first few left out."""
    times = []
    for i in range(STEPS):
        begin = time.perf_counter()
        step(i)
        QApplication.processEvents()
        times.append((time.perf_counter() - begin) * 1000)
    return sorted(times[10:])


def main() -> int:
    """Print both drags."""
    with tempfile.TemporaryDirectory() as scratch:
        window = make_window(demo_job(Path(scratch) / "demo"), demo.REFERENCE_NOW)
        window.resize(1280, 800)
        window.show()
        desk, bench = window.desk, window.benches.of("mould")
        desk.choose("lighthouse")
        desk.go("mould")
        QApplication.processEvents()
        desk.runner.settle("field")
        QApplication.processEvents()
        Tidying(window.desk)
        desk.grasp()
        slid = timed(lambda i: bench.move_plane(0.002 * ((i * 7) % 60 - 30), 0.0))
        pulled = timed(lambda i: desk.decide(desk.decision("blanket_m:gallery"), 0.006 + 0.0005 * (i % 16)))
        desk.let_go()
        window.close()
    for name, times in (("plane slid", slid), ("blanket pulled", pulled)):
        median, high = statistics.median(times), times[int(len(times) * 0.95)]
        print(f"section, {name:18}: median {median:5.1f} ms = {median / FRAME_MS:.2f} frames, "
              f"95th percentile {high:5.1f} ms = {high / FRAME_MS:.2f} frames (goal <= 1)")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
