"""400 shots and 200 builds: opening against the demo, an edit of a shot, and scrolling the threads of coverage.

Run: python -m benchmarks.shots
"""

from __future__ import annotations

import os
import statistics
import sys
import tempfile
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_CONFIG_HOME", tempfile.mkdtemp())

from benchmarks.edit import FRAME_MS
from benchmarks.jobs import demo_job, many_shots
from benchmarks.section import timed
from benchmarks.start import OURS, one
from homunculus import demo
from homunculus.app.start import make_window
from homunculus.app.tidying import Tidying

ROUNDS = 7


def opening(small: str, large: str) -> None:
    """Print how long the large job takes to its first paint, over the demo."""
    one(OURS, small), one(OURS, large)
    pairs = [(one(OURS, small)[0], one(OURS, large)[0]) for _ in range(ROUNDS)]
    first, last = (statistics.median(times) for times in zip(*pairs, strict=True))
    print(
        f"open 400 shots, 200 builds  : {last * 1000:.0f} ms / demo {first * 1000:.0f} ms = {last / first:.2f} (goal <= 2)"
    )


def said(name: str, times: list[float], goal: str) -> None:
    """Print the middle and the 95th percentile of sorted times."""
    median, high = statistics.median(times), times[int(len(times) * 0.95)]
    print(f"{name:28}: median {median:5.1f} ms = {median / FRAME_MS:.2f} frames, "
          f"95th percentile {high:5.1f} ms = {high / FRAME_MS:.2f} frames ({goal})")  # fmt: skip


def main() -> int:
    """Print all three."""
    with tempfile.TemporaryDirectory() as scratch:
        small, large = demo_job(Path(scratch) / "demo"), many_shots(Path(scratch) / "many")
        opening(str(small), str(large))
        window = make_window(large, demo.REFERENCE_NOW)
        window.resize(1280, 800)
        window.show()
        desk = window.desk
        for name, bench in (("coverage", window.benches.of("coverage")), ("breakdown", window.benches.of("breakdown"))):
            window.benches.toggle(name)
            timed(lambda _: None)
            Tidying(window.desk)

            def edit(i: int, name: str = name) -> None:
                shot = desk.breakdown.shots[(i * 7) % 400]
                desk.breakdown.edit_cell(shot, "seconds", f"{3 + i % 5}.{len(name)}")

            said(f"edit a shot, {name}", timed(edit), "goal: 95th <= 33 ms")

            def scroll(i: int, bench=bench) -> None:  # type: ignore[no-untyped-def]
                rows = bench.list if hasattr(bench, "list") else bench.needs
                rows.verticalScrollBar().setValue((i * 87) % (rows.verticalScrollBar().maximum() or 1))

            said(f"scroll, {name}", timed(scroll), "goal <= 1 frame")
        window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
