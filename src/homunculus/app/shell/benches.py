"""The benches of the window: each is made, and its modules loaded, when it is first wanted."""

from __future__ import annotations

from functools import cached_property
from typing import TYPE_CHECKING, TypeAlias, TypeVar

from PySide6.QtWidgets import QMainWindow, QWidget

from homunculus.app.desk import Desk
from homunculus.app.shell.bench_area import BenchArea
from homunculus.app.shell.why import WhySlip
from homunculus.core.figures import Station

if TYPE_CHECKING:
    from homunculus.app.shell.bench import Bench
    from homunculus.app.shell.job_bench import JobBench
    from homunculus.app.stations.count.bench import CountBench
    from homunculus.app.stations.cure.bench import CureBench
    from homunculus.app.stations.log.bench import LogBench
    from homunculus.app.stations.mix.bench import MixBench
    from homunculus.app.stations.mix.weigh_up import WeighUp
    from homunculus.app.stations.mould.bench import MouldBench
    from homunculus.app.stations.scale.bench import ScaleBench
    from homunculus.app.stations.sheet import SheetBench
    from homunculus.app.stations.shoot.bench import ShootBench
    from homunculus.app.stations.shoot.page import FloorBench
    from homunculus.app.stations.shot.bench import ShotBench
    from homunculus.app.stations.shot.breakdown import BreakdownBench
    from homunculus.app.stations.shot.coverage import CoverageBench
    from homunculus.app.stations.shot.matching import MatchBench
    from homunculus.app.stations.whole.bench import WholeBench

    AnyOf: TypeAlias = Bench | ScaleBench | SheetBench

AnyBench = TypeVar("AnyBench", bound="Bench | ScaleBench | SheetBench")
AnyJobBench = TypeVar("AnyJobBench", bound="JobBench")


BELONGS: dict[str, Station] = {
    "breakdown": "shot",
    "coverage": "shot",
    "match": "shot",
    "counts": "mould",
    "floor": "shoot",
}
"""Which station a bench about the whole job belongs to."""


class Benches(QMainWindow):
    """What lies in the middle of the window, and which of it is open."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.middle = QWidget(self)
        self.setCentralWidget(self.middle)
        self.bench_area = BenchArea(self.middle)
        self.made: list[AnyOf] = []
        """The benches made so far."""
        self.why = WhySlip(self.bench_area, desk)
        self.figures_wanted = False
        self.over = ""
        """The bench that lies over the station: the log, or one of those about the whole job."""

    @cached_property
    def scale_bench(self) -> ScaleBench:
        """The bench of station 2."""
        from homunculus.app.stations.scale.bench import ScaleBench

        return self._lay(ScaleBench(self.bench_area, self.desk))

    @cached_property
    def mould_bench(self) -> MouldBench:
        """The bench of station 4."""
        from homunculus.app.stations.mould.bench import MouldBench

        return self._lay(MouldBench(self.bench_area, self.desk))

    @cached_property
    def mix_bench(self) -> MixBench:
        """The bench of station 5."""
        from homunculus.app.stations.mix.bench import MixBench

        bench = self._lay(MixBench(self.bench_area, self.desk))
        bench.weigh.connect(self.open_weigh_up)
        return bench

    @cached_property
    def cure_bench(self) -> CureBench:
        """The bench of station 6."""
        from homunculus.app.stations.cure.bench import CureBench

        return self._lay(CureBench(self.bench_area, self.desk))

    @cached_property
    def log_bench(self) -> LogBench:
        """The log."""
        from homunculus.app.stations.log.bench import LogBench

        return self._lay(LogBench(self.bench_area, self.desk))

    def _lay_job_bench(self, bench: AnyJobBench) -> AnyJobBench:
        bench.wanted.connect(self.open_over)
        return self._lay(bench)

    @cached_property
    def shot_bench(self) -> ShotBench:
        """The bench of station 1."""
        from homunculus.app.stations.shot.bench import ShotBench

        return self._lay_job_bench(ShotBench(self.bench_area, self.desk))

    @cached_property
    def shoot_bench(self) -> ShootBench:
        """The bench of station 7."""
        from homunculus.app.stations.shoot.bench import ShootBench

        return self._lay_job_bench(ShootBench(self.bench_area, self.desk))

    @cached_property
    def breakdown_bench(self) -> BreakdownBench:
        """The list of shots."""
        from homunculus.app.stations.shot.breakdown import BreakdownBench

        return self._lay_job_bench(BreakdownBench(self.bench_area, self.desk))

    @cached_property
    def coverage_bench(self) -> CoverageBench:
        """Who covers what."""
        from homunculus.app.stations.shot.coverage import CoverageBench

        return self._lay_job_bench(CoverageBench(self.bench_area, self.desk))

    @cached_property
    def counts_bench(self) -> CountBench:
        """How many exactly."""
        from homunculus.app.stations.count.bench import CountBench

        return self._lay_job_bench(CountBench(self.bench_area, self.desk))

    @cached_property
    def floor_bench(self) -> FloorBench:
        """Set-up record and go/no-go list of a shot."""
        from homunculus.app.stations.shoot.page import FloorBench

        return self._lay_job_bench(FloorBench(self.bench_area, self.desk))

    @cached_property
    def whole_bench(self) -> WholeBench:
        """How the whole job stands."""
        from homunculus.app.stations.whole.bench import WholeBench

        return self._lay_job_bench(WholeBench(self.bench_area, self.desk))

    @cached_property
    def match_bench(self) -> MatchBench:
        """Which column of a table is which."""
        from homunculus.app.stations.shot.matching import MatchBench

        bench = self._lay(MatchBench(self.bench_area, self.desk))
        bench.left.connect(lambda: self.show_over("breakdown"))
        return bench

    @cached_property
    def sheet(self) -> SheetBench:
        """The ruled sheet of a station's figures."""
        from homunculus.app.stations.sheet import SheetBench

        return self._lay(SheetBench(self.bench_area, self.desk))

    @cached_property
    def weigh_up(self) -> WeighUp:
        """What covers the window while something is weighed."""
        from homunculus.app.stations.mix.weigh_up import WeighUp

        place = WeighUp(self.bench_area.parentWidget() or self, self.desk)
        place.left.connect(self._left_weigh_up)
        place.setGeometry(0, 0, self.width(), self.bench_area.geometry().bottom() + 1)
        return place

    def _lay(self, bench: AnyBench) -> AnyBench:
        """Lay a new bench where benches lie, beneath what floats over them."""
        bench.hide()
        bench.lower()
        self.made.append(bench)
        self.bench_area.lay(self.made)
        return bench

    def drawing(self, station: Station) -> AnyOf | None:
        """The drawing of a station, or none where it has a sheet alone."""
        match station:
            case "shot":
                return self.shot_bench
            case "scale":
                return self.scale_bench
            case "mould":
                return self.mould_bench
            case "mix":
                return self.mix_bench
            case "cure":
                return self.cure_bench
            case "shoot":
                return self.shoot_bench
        return None

    # ------------------------------------------------------------------------------- which is open
    def _open_station(self) -> None:
        wanted = self.bench
        if all(bench.isHidden() == (bench is not wanted) for bench in self.made):
            return
        self.why.fold_whole()
        for bench in self.made:
            bench.setVisible(bench is wanted)

    @property
    def bench(self) -> AnyOf:
        """The bench that is open; F shows the figures of a station that has a drawing, L the log."""
        if self.over:
            over: AnyOf = getattr(self, f"{self.over}_bench")
            return over
        drawing = self.drawing(self.desk.station)
        if drawing is not None and not (self.figures_wanted and self.desk.station != "scale"):
            return drawing
        return self.sheet

    def show_figures(self) -> None:
        """Change between a station's drawing and the ruled sheet of its figures."""
        self.figures_wanted = not self.figures_wanted
        self._open_station()

    def show_over(self, name: str) -> None:
        """Open a bench over the station, by its name; go back to the station when it is open already."""
        self.over = "" if self.over == name else name
        if self.over in BELONGS:
            self.desk.go(BELONGS[self.over])
        self._open_station()

    def open_over(self, name: str) -> None:
        """Open a bench over the station; it stays when it is open already."""
        if self.over != name:
            self.show_over(name)

    def show_log(self) -> None:
        """Open the log over the station, or go back to the station."""
        self.show_over("log")

    def _match_columns(self, table: tuple[str, list[list[str]], tuple[str, ...]]) -> None:
        self.match_bench.look_over(*table)
        self.open_over("match")
        self._open_station()

    @property
    def _weighing(self) -> bool:
        """Whether something is being weighed."""
        return "weigh_up" in self.__dict__ and self.weigh_up.weigher is not None

    def open_weigh_up(self) -> None:
        """Weigh up what the Mix bench shows."""
        recipe, piece = self.mix_bench.recipe(), self.mix_bench.piece()
        if recipe and piece and piece.mould:
            self.weigh_up.open(recipe, self.desk.job.cards.material(piece.mould.poured))

    def _left_weigh_up(self) -> None:
        """Go back to the Mix bench."""
        self.mix_bench.refresh()
        self.setFocus()
