"""The benches of the window: each is made, and its modules loaded, when it is first wanted; the register says which there are."""

from __future__ import annotations

from typing import Any

from PySide6.QtCore import QRect
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.register import BENCHES, BY_NAME, OF_STATION
from homunculus.app.benches.spec import BenchSpec
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.shell.bench_area import BenchArea
from homunculus.app.shell.why import WhySlip
from homunculus.app.theme.bars import colour_bar

FIGURES = next(spec for spec in BENCHES if spec.place == "sheet")


class Benches:
    """What lies in the middle of the window, and which of it is open.

    Parameters
    ----------
    middle
        What they lie in.
    desk
        What they work on.
    """

    def __init__(self, middle: QWidget, desk: Desk) -> None:
        self.desk = desk
        self.middle = middle
        self.area = BenchArea(middle)
        self.made: dict[str, Place] = {}
        """The benches made so far, by name."""
        self.why = WhySlip(self.area, desk)
        self.figures_wanted = False
        desk.changed.connect(self._recolour)
        self._recolour()
        self.over = ""
        """The bench that lies over the station: the log, or one of those about the whole job."""

    def of(self, name: str) -> Any:
        """The bench of that name; typed loosely, for whoever asks knows what it is."""
        if name not in self.made:
            spec = BY_NAME[name]
            self.made[name] = self._cover(spec) if spec.place == "window" else self._lay(spec)
            self.area.lay(self.laid)
        return self.made[name]

    @property
    def laid(self) -> list[Place]:
        """Those that lie where benches lie."""
        return [bench for name, bench in self.made.items() if BY_NAME[name].place != "window"]

    def _recolour(self) -> None:
        colour_bar(self.area.bar, self.desk.theme, "sheet")

    def _lay(self, spec: BenchSpec) -> Place:
        """Lay a new bench where benches lie, beneath what floats over them."""
        bench: Place = spec.load()(self.area, self.desk)
        bench.hide()
        bench.lower()
        return bench

    def _cover(self, spec: BenchSpec) -> Place:
        """Make a bench that covers all but the clock while it is used."""
        bench: Place = spec.load()(self.middle, self.desk)
        bench.left.connect(self._uncovered)  # type: ignore[attr-defined]
        bench.setGeometry(0, 0, self.middle.width(), self.area.geometry().bottom() + 1)
        return bench

    def lay_out(self, area: QRect, bottom: int) -> None:
        """Lie in an area; what covers the window reaches down to its ``bottom``."""
        self.area.setGeometry(area)
        self.area.lay(self.laid)
        for name, bench in self.made.items():
            if BY_NAME[name].place == "window":
                bench.setGeometry(0, 0, self.middle.width(), bottom)
        if self.why.isVisible():
            self.why.setGeometry(area.width() - self.why.width(), 0, self.why.width(), area.height())

    # ------------------------------------------------------------------------------- which is open
    @property
    def open_spec(self) -> BenchSpec:
        """What tells of the bench that is open; F shows the figures of a station that has a drawing, L the log."""
        if self.over:
            return BY_NAME[self.over]
        if not self.desk.chosen and self.desk.station not in ("shot", "shoot"):
            return BY_NAME["made"]  # without a build these stations are where one begins
        drawing = OF_STATION[self.desk.station]
        return drawing if drawing.factory and not (self.figures_wanted and drawing.sheet) else FIGURES

    @property
    def bench(self) -> Any:
        """The bench that is open."""
        return self.of(self.open_spec.name)

    @property
    def covering(self) -> Place | None:
        """The bench that covers the window now, if any."""
        return next(
            (b for n, b in self.made.items() if BY_NAME[n].place == "window" and b.isVisibleTo(self.middle)), None
        )

    def show_open(self) -> None:
        """Show the bench that is open, and no other."""
        wanted = self.bench
        if self.open_spec.name == "made" and not self.over and wanted.isHidden():
            wanted.enter()
        if all(bench.isHidden() == (bench is not wanted) for bench in self.laid):
            return
        self.why.fold_whole()
        for bench in self.laid:
            bench.setVisible(bench is wanted)

    def show_figures(self) -> None:
        """Change between a station's drawing and the ruled sheet of its figures."""
        self.figures_wanted = not self.figures_wanted
        self.show_open()

    def go(self, name: str) -> None:
        """Open a station, by the name of its bench."""
        self.over = ""
        self.desk.go(BY_NAME[name].station)  # type: ignore[arg-type]
        self.show_open()

    def open(self, name: str) -> None:
        """Open a bench, by its name; one that is open already is entered again."""
        spec = BY_NAME[name]
        if spec.place == "station":
            self.go(name)
        elif spec.place == "sheet":
            self.figures_wanted = True
            self.show_open()
        elif spec.place == "window":
            self.of(name).enter()
        else:
            if self.over != name:
                self.over = name
                if spec.station:
                    self.desk.go(spec.station)
            self.of(name).enter()  # it may have something new to show
            self.show_open()

    def toggle(self, name: str) -> None:
        """Open a bench over the station, by its name; go back to the station when it is open already."""
        if self.over == name:
            self.over = ""
            self.show_open()
        else:
            self.open(name)

    def _uncovered(self) -> None:
        """What covered the window was left."""
        self.bench.refresh()
        self.middle.window().setFocus()
