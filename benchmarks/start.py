"""Cold start to the first painted window, and memory there, each over a bare window of the same toolkit.

Run: python -m benchmarks.start
"""

from __future__ import annotations

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path

from benchmarks.jobs import demo_job

ROUNDS = 9
BARE = """
import sys
from PySide6.QtWidgets import QApplication, QMainWindow
app = QApplication([])
window = QMainWindow()
window.resize(1280, 800)
window.show()
app.processEvents()
"""
OURS = """
import gc, sys
gc.disable()  # as the command does
from pathlib import Path
from datetime import datetime
from homunculus.cli import main
from homunculus.app import start
app = start.make_application()
window = start.make_window(Path(sys.argv[1]), datetime(2026, 2, 24, 9, 10))
window.show()
app.processEvents()
"""
REPORT = """
rss = next(int(line.split()[1]) for line in open("/proc/self/status") if line.startswith("VmRSS"))
print(rss, flush=True)
import os
os._exit(0)
"""


def one(code: str, *arguments: str) -> tuple[float, int]:
    """Seconds from starting the process to its window painted, and its resident memory [kB]."""
    begin = time.perf_counter()
    process = subprocess.Popen([sys.executable, "-c", code + REPORT, *arguments], stdout=subprocess.PIPE, text=True)
    assert process.stdout is not None
    memory = int(process.stdout.readline())
    seconds = time.perf_counter() - begin
    process.wait()
    return seconds, memory


def main() -> int:
    """Print both ratios, from runs taken in turn."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
    with tempfile.TemporaryDirectory() as scratch:
        job = str(demo_job(Path(scratch) / "demo"))
        one(BARE), one(OURS, job)  # warm the disk
        bare, ours = [], []
        for _ in range(ROUNDS):
            bare.append(one(BARE))
            ours.append(one(OURS, job))
    times = [statistics.median(s for s, _ in runs) for runs in (bare, ours)]
    memories = [statistics.median(m for _, m in runs) for runs in (bare, ours)]
    print(f"cold start to first paint   : {times[1] * 1000:.0f} ms / bare window {times[0] * 1000:.0f} ms "
          f"= {times[1] / times[0]:.2f} (goal <= 1.6)")  # fmt: skip
    print(f"memory at start             : {memories[1] / 1024:.0f} MB / bare window {memories[0] / 1024:.0f} MB "
          f"= {memories[1] / memories[0]:.2f} (goal <= 2)")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
