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

from PySide6.QtWidgets import QApplication

from homunculus import demo
from homunculus.app.shell.window import Window
from homunculus.app.start import make_window
from homunculus.core import specs
from homunculus.core.cure.curve import WhatIf
from homunculus.devices.protocol import Reading

HERE = Path(__file__).parent.parent / "docs" / "screenshots"


def dragged(window: Window) -> None:
    """The lighthouse pulled from 1:12 to 1:8."""
    window.desk.decide(window.desk.decision("scale"), 8.0)


def station(stage: str, build: str) -> Callable[[Window], None]:
    """A station's sheet for a build."""

    def show(window: Window) -> None:
        window.desk.choose(build)
        window.desk.go(stage)  # type: ignore[arg-type]

    return show


def over(name: str, build: str) -> Callable[[Window], None]:
    """A bench about the whole job, with a build chosen."""

    def show(window: Window) -> None:
        window.desk.choose(build)
        window.show_over(name)

    return show


def plate(window: Window) -> None:
    """The shot that must cut to a live plate."""
    station("shot", "lighthouse")(window)
    window.desk.breakdown.choose("1")


def loose_end(window: Window) -> None:
    """The need that nobody covers, brought into view."""
    over("coverage", "oldclaw")(window)
    window.coverage_bench.go_to_loose()


def why(window: Window) -> None:
    """Why the opening moved."""
    dragged(window)
    window.desk.asked_why.emit(window.desk.build_plan.find(specs.CURE, "gallery"))


def coats(window: Window) -> None:
    """The claw's print coat, with its thickener."""
    station("mix", "oldclaw")(window)
    window.mix_bench.show_piece("claw")


def weighing(window: Window) -> None:
    """The second batch of the gallery's rubber: A went over, B is being poured."""
    window.desk.choose("lighthouse")
    window.desk.go("mix")
    window.open_weigh_up()
    weigher = window.weigh_up.weigher
    assert weigher is not None
    weigher.close()  # no scale: the readings come from here
    for part, lot in (("A", "A 2211"), ("B", "B 2211")):
        weigher.name_lot(part, lot)
    for weights in ((0.6902, 0.0690), (0.6962,)):
        weigher.go_on()
        for weight in weights:
            weigher.take(weight)
        if weigher.phase == "stir":
            weigher.go_on()
    weigher.hear(0.0, Reading(0.0, True))
    weigher.hear(1.0, Reading(0.0412, False))
    window.weigh_up.refresh()


def trying(window: Window) -> None:
    """The gallery poured in the afternoon, and kept in an oven."""
    station("cure", "lighthouse")(window)
    begin = window.cure_bench.course().start  # type: ignore[union-attr]
    window.cure_bench.try_out(WhatIf(start=begin + timedelta(hours=6), oven_c=40.0))


def stage_colours(window: Window) -> None:
    """The same bench on a dark set, in feet and inches."""
    window.desk.use_theme("stage")
    window.desk.use_units("imperial")


PICTURES: dict[str, Callable[[Window], None]] = {
    "scale": lambda window: None,
    "scale-dragged": dragged,
    "scale-puppet": lambda window: window.desk.choose("oldclaw"),
    "scale-stage-imperial": stage_colours,
    "why": why,
    "mould": station("mould", "lighthouse"),
    "mould-rigid": station("mould", "gulls"),
    "mix": coats,
    "weigh-up": weighing,
    "cure": trying,
    "cure-wet": station("cure", "keeper"),
    "log": lambda window: window.show_log(),
    "shot": plate,
    "shots": over("breakdown", "oldclaw"),
    "coverage": loose_end,
    "counts": over("counts", "gulls"),
    "shoot": station("shoot", "oldclaw"),
    "floor": over("floor", "lighthouse"),
    "whole": over("whole", "lighthouse"),
}


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
            window.desk.matter.fields.close()  # the section is read in a thread
            window.setFocus()
            QApplication.processEvents()
            window.grab().save(str(target / f"{name}.png"))
            window.close()
            print(target / f"{name}.png")


if __name__ == "__main__":
    main(sys.argv[1:])
