"""The stage bench and the moves: handles dragged on the demo, and a set of twelve builds with meshes; edit to window painted, against a frame.

Run: python -m benchmarks.stage
"""

from __future__ import annotations

import os
import sys
import tempfile
import time
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("XDG_CONFIG_HOME", tempfile.mkdtemp())

from msgspec.structs import replace
from PySide6.QtCore import QPointF
from PySide6.QtGui import QPainter, QPixmap
from PySide6.QtWidgets import QApplication

from benchmarks.edit import opened
from benchmarks.jobs import demo_job
from benchmarks.section import timed
from benchmarks.shots import said
from homunculus.app.shell.window import Window
from homunculus.app.theme.ink import Ink
from homunculus.app.tidying import Tidying
from homunculus.core.job.forms import Mesh
from homunculus.core.job.sets import Place
from homunculus.core.job.shots import ByBuild, Need
from homunculus.store.folder import decode, encode

BUILDS = 12


def twelve(folder: Path) -> Path:
    """A job with one shot in which twelve builds stand, each of one mesh of the demo's."""
    demo_job(folder)
    document = decode((folder / "job.json").read_bytes(), "job.json")
    job = document.job
    meshes = [(b, p) for b in job.builds for p in b.pieces if isinstance(p.form, Mesh)]
    builds, needs = [], []
    for i in range(BUILDS):
        build, piece = meshes[i % len(meshes)]
        own = replace(piece, id="body", name="body", at_m=(0.0, 0.0), enlarged=1.0, route=(), mould=None, variants=())
        name = f"{build.id}-{i}"
        builds.append(
            replace(
                build, id=name, name=name, pieces=(own,), assembly=(), follows="", moves=(), frozen=None, stands_m=0.0
            )
        )
        needs.append(Need(name, ByBuild(name), Place(2.0 + 0.5 * i, across_m=0.4 * (i % 5 - 2))))
    shot = next(s for s in job.shots if s.id == "2")
    large = replace(job, builds=tuple(builds), shots=(replace(shot, needs=tuple(needs), base="", actions=()),))
    (folder / "job.json").write_bytes(encode(large, ()))
    return folder


def settled(window: Window, name: str) -> None:
    """Open a bench and wait for the coarse copies of its meshes."""
    window.benches.open(name)
    until = time.monotonic() + 60
    while time.monotonic() < until:
        QApplication.processEvents()
        bench = window.benches.of(name)
        stage = bench.stage()
        waits = (
            [body for body in bench.scene.bodies(stage) if body.waits and window.desk.job.shots] if stage else [None]
        )
        if not any(waits):
            break
        time.sleep(0.01)
    QApplication.processEvents()


def dragged(window: Window, name: str, keys: tuple[str, ...], goals: dict[str, str]) -> None:
    """Print how long each step of a drag takes, for each handle."""
    bench = window.benches.of(name)
    for key in keys:
        handle = bench.spots.find(key)
        if handle is None:
            print(f"pull {key}: not in sight")
            continue
        at = QPointF(handle.geometry().center())
        Tidying(window.desk)
        handle.pressed.emit()
        times = timed(lambda i, h=handle, a=at: h.dragged.emit(a + QPointF(i % 60 * 3, -(i % 60) * 3)))  # type: ignore[misc]
        handle.released.emit()
        window.desk.undo()
        said(f"{name}: pull {key}", times, goals.get(key, "goal <= 1"))


def pictures(window: Window) -> None:
    """Print how long the camera's picture alone takes: one build moved, and the camera moved, so that all outlines are other ones."""
    bench = window.benches.of("stage")
    stage, scene = bench.stage(), bench.scene
    area = bench.picture_area(stage)
    pixmap = QPixmap(window.size())
    eye = scene.eye(stage)

    def draw(offsets: dict[int, tuple[float, float, float]], at: float) -> None:
        painter = QPainter(pixmap)
        moved = eye._replace(at=(eye.at[0] + at, *eye.at[1:]))
        scene.draw(Ink(painter, window.desk.theme, quick=True), area, stage, scene.bodies(stage, offsets), moved, -1)
        painter.end()

    Tidying(window.desk)
    said("picture of 12, one moved", timed(lambda i: draw({3: (0.001 * (i + 1), 0.0, 0.0)}, 0.0)), "goal <= 1")
    said("picture of 12, camera moved", timed(lambda i: draw({}, 0.001 * (i + 1))), "goal <= 2")


def main() -> int:
    """Print both jobs."""
    with tempfile.TemporaryDirectory() as scratch:
        window = opened(demo_job(Path(scratch) / "demo"), "lighthouse")
        window.desk.breakdown.choose("4")
        settled(window, "stage")
        dragged(window, "stage", ("plan:0", "side:0", "shape:0", "place:1", "scale:2", "real", "camera", "eye"), {})
        window.desk.breakdown.choose("5")
        settled(window, "moves")
        dragged(window, "moves", ("move:0", "end:0", "value:run_up_m", "now"), {})
        window.close()
        window = opened(twelve(Path(scratch) / "twelve"), "")
        window.desk.breakdown.choose("2")
        settled(window, "stage")
        pictures(window)
        dragged(
            window,
            "stage",
            ("plan:3", "camera"),
            {"plan:3": "all twelve planned again", "camera": "all twelve planned again"},
        )
        window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main())
