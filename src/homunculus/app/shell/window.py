"""The window: four places around the bench, keys, drops, and where it stood last."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtCore import QRect, QSettings, Qt, QTimer
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence, QResizeEvent, QShortcut
from PySide6.QtWidgets import QApplication, QFileDialog, QLineEdit

from homunculus.app.desk import Desk
from homunculus.app.intake import CUTS, LISTS, choose_list, choose_target, take_in_list, take_in_text
from homunculus.app.matter import Taken, unit_of
from homunculus.app.shell.benches import Benches
from homunculus.app.shell.clock import Clock
from homunculus.app.shell.goto import Entry, GoTo
from homunculus.app.shell.ledger import Ledger
from homunculus.app.shell.line import Line
from homunculus.app.shell.notice import Notice
from homunculus.app.shell.rail import Rail
from homunculus.app.shell.shop_commands import shop_commands
from homunculus.core.figures import STATIONS, Figure

MESHES, TEXTS = (".stl", ".obj", ".ply"), (".csv", ".txt")
PICTURES = (".png", ".jpg", ".jpeg")
OVER: dict[int, str] = {
    Qt.Key.Key_L: "log", Qt.Key.Key_B: "breakdown", Qt.Key.Key_V: "coverage", Qt.Key.Key_H: "counts", Qt.Key.Key_G: "floor",
    Qt.Key.Key_J: "whole",
}  # fmt: skip
LINE_H, RAIL_W, LEDGER_W, CLOCK_H = 98, 200, 246, 92


class Window(Benches):
    """Everything on screen for one job."""

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.setObjectName("window")
        self.setWindowTitle(f"{desk.job.name} – Homunculus")
        self.setMinimumSize(900, 560)
        self.setAcceptDrops(True)
        middle = self.middle
        self.line, self.rail = Line(middle, desk), Rail(middle, desk)
        self.ledger, self.clock = Ledger(middle, desk), Clock(middle, desk)
        self.notice = Notice(self.bench_area, desk)
        self.goto = GoTo(middle, desk, self._commands())
        self._told = False
        self._to_take: list[Path] = []
        self._wire()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._restore()
        self._open_station()
        self.setFocus()

    def _wire(self) -> None:
        desk = self.desk
        desk.changed.connect(self._open_station)
        desk.asked_why.connect(self._ask_why)
        desk.said.connect(self.notice.say)
        desk.working.connect(self.notice.work)
        self.line.wanted.connect(self.open_over)
        self.ledger.wanted.connect(self.open_over)
        self.notice.cancelled.connect(desk.matter.cancel)
        desk.matter.asked_unit.connect(self._ask_unit)
        desk.breakdown.files.matched.connect(self._match_columns)
        for keys, act in (
            ("Ctrl+Z", desk.undo), ("Ctrl+Shift+Z", desk.redo), ("Ctrl+Y", desk.redo), ("Ctrl+K", self.goto.open),
            ("Ctrl+O", self.choose_job), ("Ctrl+C", self.copy), ("Ctrl+P", self.print_page), ("Ctrl+S", self.save), ("Ctrl+Shift+S", self.choose_folder), ("Ctrl+Q", self.close),
        ):  # fmt: skip
            QShortcut(QKeySequence(keys), self).activated.connect(act)

    def _commands(self) -> list[Entry]:
        desk = self.desk
        return [
            ("Pin this plan", "P", desk.pin),
            ("Back one change", "U", desk.undo),
            ("Do again", "Ctrl+Y", desk.redo),
            ("Metric units", "I", lambda: desk.use_units("metric")),
            ("Imperial units", "I", lambda: desk.use_units("imperial")),
            ("Plaster colours, for the shop", "T", lambda: desk.use_theme("plaster")),
            ("Station colours, for a dark set", "T", lambda: desk.use_theme("stage")),
            ("Take in a mesh as this build's form", "file or drop", self.choose_mesh),
            ("Drawing or figures of this station", "F", self.show_figures),
            ("Open another job", "Ctrl+O", self.choose_job),
            ("Go on in another folder", "Ctrl+Shift+S", self.choose_folder),
            ("Take in a logger's temperatures", "CSV file or drop", lambda: self.cure_bench.choose_csv()),
            ("Weigh up the mix of this piece", "W on Mix", self.open_weigh_up),
            ("Write a note in the log", "N", self.note),
            ("The log", "L", self.show_log),
            ("The list of shots", "B", lambda: self.show_over("breakdown")),
            ("Who covers what", "V", lambda: self.show_over("coverage")),
            ("How many exactly", "H", lambda: self.show_over("counts")),
            ("On the floor: set-up record, go or no-go", "G", lambda: self.show_over("floor")),
            ("Print the shot's page", "Ctrl+P, PDF", self.print_page),
            ("How the whole job stands", "J", lambda: self.show_over("whole")),
            ("Take in a list of shots", "CSV, XLSX or drop", lambda: choose_list(self, desk, "table")),
            ("Take in an edit list", "OTIO, cut list or drop", lambda: choose_list(self, desk, "cut")),
            ("Write the list of shots", "CSV, XLSX, OTIO, cut list", lambda: choose_target(self, desk)),
            ("Write the log as CSV", "file", lambda: self.log_bench.choose_csv()),
            ("Copy the figures of this station", "Ctrl+C", self.copy),
            *shop_commands(desk, lambda: self.notice),
        ]

    # ------------------------------------------------------------------------------------ layout
    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._lay_out()

    def _lay_out(self) -> None:
        width, height = self.width(), self.height()
        clock = CLOCK_H if height >= 760 else 46 if height >= 640 else 24
        ledger = LEDGER_W if width >= 1180 else 0
        bottom = height - clock
        self.line.setGeometry(0, 0, width, LINE_H)
        self.rail.setGeometry(0, LINE_H, RAIL_W, bottom - LINE_H)
        self.bench_area.setGeometry(RAIL_W, LINE_H, width - RAIL_W - ledger, bottom - LINE_H)
        self.ledger.setVisible(ledger > 0)
        self.ledger.setGeometry(width - ledger, LINE_H, ledger, bottom - LINE_H)
        self.clock.setGeometry(0, bottom, width, clock)
        bench = QRect(0, 0, self.bench_area.width(), self.bench_area.height())
        self.bench_area.lay(self.made)
        if "weigh_up" in self.__dict__:
            self.weigh_up.setGeometry(0, 0, width, bottom)
        self.notice.settle()
        if self.why.isVisible():
            self.why.setGeometry(bench.width() - self.why.width(), 0, self.why.width(), bench.height())

    def _ask_why(self, figure: Figure) -> None:
        self.why.ask(figure)

    # -------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier):
            event.ignore()
            return
        key, desk = event.key(), self.desk
        if self._weighing and key not in (Qt.Key.Key_T, Qt.Key.Key_I):
            self.weigh_up.keyPressEvent(event)  # a pedal's Space must never miss, wherever the focus went
        elif Qt.Key.Key_1 <= key <= Qt.Key.Key_7:
            self.over = ""
            desk.go(STATIONS[key - Qt.Key.Key_1])
            self._open_station()
        elif key == Qt.Key.Key_PageDown:
            desk.choose_next(1)
        elif key == Qt.Key.Key_PageUp:
            desk.choose_next(-1)
        elif key == Qt.Key.Key_P:
            desk.pin()
        elif key == Qt.Key.Key_U:
            desk.undo()
        elif key == Qt.Key.Key_I:
            desk.use_units("imperial" if desk.system == "metric" else "metric")
        elif key == Qt.Key.Key_T:
            desk.use_theme("stage" if desk.theme_name == "plaster" else "plaster")
        elif key == Qt.Key.Key_N:
            self.note()
        elif key in OVER:
            self.show_over(OVER[key])
        elif key == Qt.Key.Key_F:
            self.show_figures()
        elif key == Qt.Key.Key_Slash:
            self.goto.open()
        elif key in (Qt.Key.Key_Comma, Qt.Key.Key_Period) and desk.station == "scale":
            self.scale_bench._step(-1 if key == Qt.Key.Key_Comma else 1)
        elif key == Qt.Key.Key_Space:
            self._next_step()
        elif key == Qt.Key.Key_Escape:
            self._escape()
        else:
            self.bench.keyPressEvent(event)  # a key of the open bench works wherever the focus is

    def _next_step(self) -> None:
        step = self.desk.next_pour_step()
        if step and self.desk.station in ("mould", "mix", "cure"):
            self.desk.write(step[0], step[2], step[1])

    def _escape(self) -> None:
        """Close what floats; else back to the pinned value of what has the focus, or of the scale."""
        if self.goto.isVisible():
            self.goto.hide()
        elif self.why.isVisible():
            self.why.fold()
        elif self.over:
            self.show_over(self.over)
        else:
            focus = QApplication.focusWidget()
            name = focus.objectName() if focus else ""
            key = name.removeprefix("decide:") if name.startswith("decide:") else "scale"
            if key != "scale" or self.desk.station == "scale":
                self.desk.to_pin(self.desk.decision(key))

    # ---------------------------------------------------------------------------------- commands
    def note(self) -> None:
        """Type a note into the log."""
        self.notice.ask("What happened?", lambda words: self.desk.write("note", words))

    def save(self) -> None:
        """Save at once, and say that it is done anyway."""
        self.desk.save_now()
        self.notice.say("Kept. Every change is saved as it is made.")

    def copy(self) -> None:
        """Copy the figures of the open station, or the list of shots, as lines of text, tab between."""
        focus = QApplication.focusWidget()
        if isinstance(focus, QLineEdit):
            focus.copy()
            return
        if self.over == "breakdown":
            self.breakdown_bench.copy()
            return
        desk = self.desk
        rows = [f"{f.spec.label}\t{f.subject}\t{desk.words(f)}" for f in desk.build_plan.figures
                if f.spec.station == desk.station and f.spec.kind != "thing"]  # fmt: skip
        QApplication.clipboard().setText("\n".join(rows))
        self.notice.say(f"Copied {len(rows)} figures.")

    def print_page(self) -> None:
        """Ask where to write the page of the drawn shot as PDF."""
        self.floor_bench.choose_pdf()

    def _ask_unit(self, taken: Taken, whose: str) -> None:
        """Ask once in which unit a mesh was drawn; Enter takes what was guessed from its size."""
        self.notice.ask(taken.question(self.desk.system), lambda words: self.desk.use_mesh(taken, whose, unit_of(words)),
                        taken.guess.unit)  # fmt: skip

    def choose_mesh(self) -> None:
        """Ask for a mesh file and take it in."""
        name, _ = QFileDialog.getOpenFileName(
            self, "Take in a mesh", "", "Meshes (*.stl *.STL *.obj *.OBJ *.ply *.PLY)"
        )
        if name:
            piece = self.mould_bench.piece() if self.desk.station == "mould" else None
            self.desk.take_in(Path(name), piece.id if piece else "")

    def choose_job(self) -> None:
        """Ask for a job folder and open it in a window of its own."""
        name = QFileDialog.getExistingDirectory(self, "Open a job folder")
        if name:
            from homunculus.app.start import open_another

            self.notice.say(open_another(Path(name)))

    def choose_folder(self) -> None:
        """Ask for an empty folder and go on working there."""
        name = QFileDialog.getExistingDirectory(self, "An empty folder to go on in")
        if name:
            self.desk.move_to(Path(name))
            self._told = False

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if self._dropped(event):
            event.acceptProposedAction()

    def leave(self) -> None:
        """Close without asking: what could be kept is kept."""
        self._told = True
        self.close()

    def _close_when_kept(self) -> None:
        if self.desk.keeper.all_kept:
            self.close()

    def dropEvent(self, event: QDropEvent) -> None:
        self._to_take += self._dropped(event)
        self._take_next()

    def _take_next(self) -> None:
        """Take in one dropped file after another: while one is being read or asked about, the others wait."""
        if not self._to_take:
            return
        if self.desk.matter.work.busy or self.notice.asking:
            QTimer.singleShot(150, self._take_next)
            return
        self._take(self._to_take.pop(0))
        QTimer.singleShot(0, self._take_next)

    def _take(self, path: Path) -> None:
        ending = path.suffix.lower()
        if ending in TEXTS:
            take_in_text(self.desk, path)
        elif ending in (*LISTS, *CUTS):
            take_in_list(self.desk, path)
        elif ending in PICTURES:
            self._picture(path)
        else:
            self.desk.take_in(path)

    def _picture(self, path: Path) -> None:
        """A picture belongs to the set-up where that is open, else to the end of the drawn shot."""
        if self.over == "floor":
            self.floor_bench.attach(path)
        elif self.bench is self.shot_bench:
            self.shot_bench.attach(path)
        else:
            self.notice.say(
                "A picture belongs to a shot: open station 1 for what its end must match, or G for its set-up."
            )

    @staticmethod
    def _dropped(event: QDropEvent) -> list[Path]:
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        return [path for path in paths if path.suffix.lower() in (*MESHES, *LISTS, *CUTS, *PICTURES)]

    # ------------------------------------------------------------------------- opening and closing
    def _restore(self) -> None:
        """Stand where the window stood last."""
        settings = QSettings("homunculus", "homunculus")
        self.resize(1280, 800)
        geometry = settings.value("geometry")
        if geometry:
            self.restoreGeometry(geometry)
        if settings.value("units") == "imperial":
            self.desk.system = "imperial"
        if settings.value("theme") in ("plaster", "stage"):
            self.desk.theme_name = str(settings.value("theme"))
        for message in self.desk.folder.set_aside:
            QTimer.singleShot(0, lambda m=message: self.notice.say(m))

    def closeEvent(self, event: QCloseEvent) -> None:
        settings = QSettings("homunculus", "homunculus")
        settings.setValue("geometry", self.saveGeometry())
        settings.setValue("units", self.desk.system)
        settings.setValue("theme", self.desk.theme_name)
        if not self._told and not self.desk.finish():
            self._told = True  # the next closing goes through, by hand or because all is kept
            self.desk.keeper.saved.connect(self._close_when_kept)
            event.ignore()
            return
        if self._weighing:
            self.weigh_up.close_up()
        self.desk.close()
        super().closeEvent(event)
