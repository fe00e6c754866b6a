"""Take the pictures of docs/screenshots from the demo data. Run: .venv/bin/python scripts/take_pictures.py [NAME ...]

With names, only those; with --to FOLDER, elsewhere.
"""

from __future__ import annotations

import os
import sys
import tempfile
from collections.abc import Callable
from datetime import timedelta
from pathlib import Path

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ["QT_QPA_OFFSCREEN_NO_GLX"] = "1"
os.environ["XDG_CONFIG_HOME"] = tempfile.mkdtemp()
os.environ["XDG_DATA_HOME"] = tempfile.mkdtemp()

from PySide6.QtWidgets import QApplication

from homunculus import demo
from homunculus.app.benches.register import BENCHES
from homunculus.app.shell.window import Window
from homunculus.app.start import make_window
from homunculus.core.cure.curve import WhatIf
from homunculus.devices.protocol import Reading

HERE = Path(__file__).parent.parent / "docs" / "screenshots"


def dragged(window: Window) -> None:
    """The lighthouse pulled from 1:12 to 1:8."""
    window.desk.decide(window.desk.decision("scale"), 8.0)


def on(bench: str, build: str, act: Callable[[Window], object] = lambda window: None) -> Callable[[Window], None]:
    """A bench with a build chosen, and something done there."""

    def show(window: Window) -> None:
        window.desk.choose(build)
        window.benches.open(bench)
        act(window)

    return show


def gallery(window: Window) -> None:
    """The gallery chosen."""
    window.desk.piece_id = "gallery"
    window.desk.changed.emit()


def until_drawn(window: Window, name: str) -> None:
    """Wait for the coarse copies of meshes, that are made beside."""
    bench = window.benches.of(name)
    while any(body.waits for body in bench.scene.bodies(bench.stage())):
        QApplication.processEvents()


def staged(window: Window) -> None:
    """The lantern through the rail, with the cut-outs behind."""
    window.desk.breakdown.choose("4")
    window.benches.open("stage")
    until_drawn(window, "stage")


def moving(window: Window) -> None:
    """The great wave, two seconds in, on a dark set, in feet and inches."""
    window.desk.use_theme("stage")
    window.desk.use_units("imperial")
    window.desk.breakdown.choose("3")
    window.benches.open("moves")
    until_drawn(window, "moves")
    window.benches.of("moves").go_to(1.9)


def claw_rubber(window: Window) -> None:
    """The claw's first half, with its print coat."""
    window.benches.of("mix").show_piece("claw")
    window.benches.of("mix").show_pour("rubber-1")


def weighing(window: Window) -> None:
    """The second batch of the gallery's rubber: A went over, B is being poured."""
    on("mix", "lighthouse", lambda window: window.benches.of("mix").show_pour("rubber-1"))(window)
    window.benches.open("weigh_up")
    weigher = window.benches.of("weigh_up").weigher
    assert weigher is not None
    weigher.close()  # no scale: the readings come from here
    for part, lot in (("A", "A 2211"), ("B", "B 2211")):
        weigher.name_lot(part, lot)
    for weights in ((0.6206, 0.0621), (0.6326,)):
        weigher.go_on()
        for weight in weights:
            weigher.take(weight)
        if weigher.at.phase == "stir":
            weigher.go_on()
    weigher.hear(0.0, Reading(0.0, True))
    weigher.hear(1.0, Reading(0.0412, False))
    window.benches.of("weigh_up").refresh()


def trying(window: Window) -> None:
    """The gallery poured in the afternoon, and kept in an oven."""
    on("cure", "lighthouse")(window)
    begin = window.benches.of("cure").course().start
    window.benches.of("cure").try_out(WhatIf(start=begin + timedelta(hours=6), oven_c=40.0))


def dearer(window: Window) -> None:
    """The rubber is dearer on the shelf than in the job, and gels sooner."""
    for row in ("price: 30 a kg from invoice, March", "pot life, book: 35 min from invoice, March"):
        window.desk.shelf.do(f"row materials/silicone-tin-soft: {row}")
    on("shelf", "lighthouse")(window)
    window.benches.of("shelf").choose("materials/silicone-tin-soft")


PICTURES: dict[str, Callable[[Window], None]] = {
    spec.name: on(spec.name, "lighthouse") for spec in BENCHES if spec.factory and (spec.place in ("station", "window") or spec.key) and spec.name != "trace"
} | {
    "scale": dragged,
    "made": on("made", "lighthouse", gallery),
    "lens": on("lens", "lighthouse", lambda window: window.desk.breakdown.choose("4")),
    "stage": on("lens", "lighthouse", staged),
    "moves": on("lens", "lighthouse", moving),
    "mix": on("mix", "oldclaw", claw_rubber),
    "weigh_up": weighing,
    "cure": trying,
    "shot": on("shot", "lighthouse", lambda window: window.desk.breakdown.choose("1")),
    "breakdown": on("breakdown", "oldclaw"),
    "coverage": on("coverage", "oldclaw", lambda window: window.benches.of("coverage").go_to_loose()),
    "counts": on("counts", "gulls"),
    "shoot": on("shoot", "oldclaw"),
    "shelf": dearer,
    "shop": on("shop", "lighthouse", lambda window: window.benches.of("shop").press("ovens/bench-oven")),
}  # fmt: skip
"""Every bench of the register with the lighthouse, where nothing tells more is seen with another build or after some act; but for a few, so that they stay under twenty."""


def main(names: list[str]) -> None:
    """Take the named pictures, or all."""
    target = HERE
    if "--to" in names:
        at = names.index("--to")
        target = Path(names[at + 1])
        names = names[:at] + names[at + 2 :]
    target.mkdir(parents=True, exist_ok=True)
    for name in names or PICTURES:
        with tempfile.TemporaryDirectory() as scratch:
            folder = Path(scratch) / "job"
            demo.copy_to(folder, demo.REFERENCE_NOW.date())
            window = make_window(folder, demo.REFERENCE_NOW)
            window.resize(1280, 800)
            window.show()
            window.desk.use_theme("plaster")  # the last picture's choices were remembered
            window.desk.use_units("metric")
            QApplication.processEvents()
            PICTURES[name](window)
            QApplication.processEvents()
            window.desk.runner.settle("field")  # the section is read in a thread
            window.setFocus()
            while window.desk.plan.left:  # on a busy machine builds out of sight come after the first paint
                QApplication.processEvents()
            QApplication.processEvents()
            window.grab().save(str(target / f"{name}.png"))
            window.close()
            print(target / f"{name}.png")


if __name__ == "__main__":
    main(sys.argv[1:])
