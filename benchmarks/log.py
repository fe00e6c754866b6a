"""A log of 100 000 entries: opening the job over opening it with an empty log, and an append beside the frames.

Run: python -m benchmarks.log
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
import time
from datetime import timedelta
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()

import msgspec

from benchmarks.edit import FRAME_MS
from benchmarks.jobs import demo_job
from benchmarks.start import OURS, one
from homunculus import demo
from homunculus.core.log import EventKind, LogEvent

ENTRIES = 100_000
ROUNDS = 5


def long_log(folder: Path) -> Path:
    """The demo with a log of many years."""
    demo_job(folder)
    begin = demo.REFERENCE_NOW - timedelta(minutes=30 * ENTRIES)
    kinds: tuple[EventKind, ...] = ("note", "weighed", "weighed", "poured", "opened")
    pieces = (("lighthouse", "gallery"), ("ferry", "hull"), ("keeper", "cheek"), ("oldclaw", "claw"))
    entries = (
        LogEvent(f"{i:x}", begin + timedelta(minutes=30 * i), kinds[i % 5], f"entry {i}", *pieces[(i // 5) % 4], 20.5,
                 weights_kg={"A": 0.5} if i % 5 in (1, 2) else {})
        for i in range(ENTRIES)
    )  # fmt: skip
    (folder / "log.jsonl").write_bytes(b"".join(msgspec.json.encode(entry) + b"\n" for entry in entries))
    return folder


def empty_log(folder: Path) -> Path:
    """The demo with nothing logged."""
    demo_job(folder)
    (folder / "log.jsonl").unlink()
    return folder


def frames(folder: Path) -> list[float]:
    """Milliseconds that the interface was busy at a time while entries were appended and kept."""
    from PySide6.QtWidgets import QApplication

    from homunculus.app.start import make_window
    from homunculus.app.tidying import Tidying

    window = make_window(folder, demo.REFERENCE_NOW)
    window.resize(1280, 800)
    window.show()
    window.benches.toggle("log")
    QApplication.processEvents()
    Tidying(window.desk)
    busy = []
    for i in range(60):
        kept = len(window.desk.log)
        window.desk.write("note", f"heard {i}")
        while len(window.desk.log) == kept:
            begin = time.perf_counter()
            QApplication.processEvents()
            busy.append((time.perf_counter() - begin) * 1000)
            time.sleep(0.001)
    window.close()
    return sorted(busy, reverse=True)[:60]


def main() -> int:
    """Print the ratio and the longest stop."""
    with tempfile.TemporaryDirectory() as scratch:
        jobs = [str(empty_log(Path(scratch) / "empty")), str(long_log(Path(scratch) / "long"))]
        times: list[list[float]] = [[], []]
        one(OURS, jobs[0])  # warm the disk
        for _ in range(ROUNDS):
            for known, job in zip(times, jobs, strict=True):
                known.append(one(OURS, job)[0])
        short, long = (statistics.median(known) for known in times)
        print(f"job with {ENTRIES} entries    : opens in {long * 1000:.0f} ms / with an empty log {short * 1000:.0f} ms "
              f"= {long / short:.2f} (goal <= 2)")  # fmt: skip
        stops = frames(Path(jobs[1]))
        high = stops[int(len(stops) * 0.05)]
        print(f"append kept and shown       : the interface stops for {statistics.median(stops):.1f} ms in the middle, {high:.1f} ms "
              f"at the 95th percentile = {high / FRAME_MS:.2f} frames (goal <= 1)")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
