"""The window: four places around the bench, keys, drops, and where it stood last."""

from __future__ import annotations

from functools import cached_property, partial
from pathlib import Path
from typing import TYPE_CHECKING

from PySide6.QtCore import QPoint, QRect, QSettings, Qt, QTimer
from PySide6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent, QKeyEvent, QKeySequence, QResizeEvent, QShortcut
from PySide6.QtWidgets import QApplication, QLineEdit, QMainWindow, QWidget

from homunculus.app.benches.register import BENCHES
from homunculus.app.benches.spec import Command
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can, Place
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.spot import Spot
from homunculus.app.files import ask_for_folder
from homunculus.app.shell.bench_area import meant_otherwise
from homunculus.app.shell.benches import Benches
from homunculus.app.shell.clock import Clock
from homunculus.app.shell.commands import all_commands, open_another
from homunculus.app.shell.key_help import KeyHelp
from homunculus.app.shell.keys_here import KeysHere
from homunculus.app.shell.ledger import Ledger
from homunculus.app.shell.line import Line
from homunculus.app.shell.notice import Notice
from homunculus.app.shell.rail import Rail
from homunculus.exchange.formats import content_of, endings

if TYPE_CHECKING:
    from homunculus.app.shell.goto import Entry, GoTo
    from homunculus.exchange.mesh_files import Taken

LINE_H, RAIL_W, LEDGER_W, CLOCK_H = 98, 200, 246, 92


class Window(QMainWindow):
    """Everything on screen for one job."""

    def __init__(self, desk: Desk) -> None:
        super().__init__()
        self.desk = desk
        self.setObjectName("window")
        self.setWindowTitle(f"{desk.job.name} – Homunculus")
        self.setMinimumSize(900, 560)
        self.setAcceptDrops(True)
        middle = QWidget(self)
        self.setCentralWidget(middle)
        self.benches = Benches(middle, desk)
        self.why = self.benches.why
        self.line, self.rail = Line(middle, desk), Rail(middle, desk)
        self.ledger, self.clock = Ledger(middle, desk), Clock(middle, desk)
        self.notice = Notice(self.benches.area, desk)
        self.commands = all_commands()
        self.help = KeyHelp(middle, desk, self.benches, self.commands)
        self.keys_here = KeysHere(middle, desk, self.benches, self.help)
        self._told = False
        self._to_take: list[Path] = []
        self.dropped_at: QPoint | None = None
        """Where on the screen the last files were dropped."""
        self._wire()
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self._restore()
        self.benches.show_open()
        self.setFocus()
        if not desk.job.builds:
            self.benches.open("made")  # a job of one's own begins with its first build

    @cached_property
    def goto(self) -> GoTo:
        """The go-to box, made when it is first wanted: its list takes a while to load."""
        from homunculus.app.shell.goto import GoTo

        return GoTo(self.benches.middle, self.desk, self._entries())

    def _wire(self) -> None:
        desk = self.desk
        desk.changed.connect(self.benches.show_open)
        desk.asked_why.connect(self.why.ask)
        desk.wanted.connect(self.benches.open)
        desk.asked_of_made.connect(self._on_made)
        desk.asked_what.connect(self._say_what_can)
        desk.said.connect(self.notice.say)
        desk.working.connect(self.notice.work)
        self.notice.cancelled.connect(desk.runner.stop)
        desk.meshes.asked_unit.connect(self._ask_unit)
        self._keys: dict[int, Command] = {}
        for command in self.commands:
            for keys in command.keys:
                if len(keys) > 1 and "+" in keys:
                    QShortcut(QKeySequence(keys), self).activated.connect(lambda c=command: c.act(self))
                else:
                    self._keys[QKeySequence.fromString(keys)[0].key()] = command  # type: ignore[index]

    def _say_what_can(self, place: Place, spot: Spot | list[Can] | None, at: QPoint) -> None:
        """Tell what can be done with a thing, or with a row whose bench has told it; of the job's name all that the program can do."""
        from homunculus.app.shell.what_can import everything, show, with_thing

        show(
            everything(self)
            if isinstance(spot, Spot) and spot.objectName() == "whole"
            else with_thing(self, place, spot),
            at,
        )

    def _on_made(self, what: str) -> None:
        """Do something on the bench where builds begin and pieces are made."""
        self.benches.open("made")
        getattr(self.benches.of("made").doings, what)()

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
        self.benches.lay_out(QRect(RAIL_W, LINE_H, width - RAIL_W - ledger, bottom - LINE_H), bottom)
        self.ledger.setVisible(ledger > 0)
        self.ledger.setGeometry(width - ledger, LINE_H, ledger, bottom - LINE_H)
        self.clock.setGeometry(0, bottom, width, clock)
        self.notice.settle()

    # -------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        control = event.modifiers() & (Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.MetaModifier)
        if control or meant_otherwise(event):
            event.ignore()
            return
        key, covering = event.key(), self.benches.covering
        command = self._keys.get(key)
        if covering is not None and not (command and command.anywhere):
            covering.keyPressEvent(event)  # a pedal's Space must never miss, wherever the focus went
        elif command:
            command.act(self)
        else:
            self.benches.bench.keyPressEvent(event)  # a key of the open bench works wherever the focus is

    def next_step(self) -> None:
        """Log what comes next with the moulds of the chosen build, at the stations where it is done."""
        step = self.desk.next_pour_step()
        if step and self.desk.station in ("mould", "mix", "cure"):
            self.desk.write(step.kind, step.words, step.piece, step.op)

    def escape(self) -> None:
        """Close what floats; else back to the pinned value of what has the focus, or of the scale."""
        if "goto" in vars(self) and self.goto.isVisible():
            self.goto.hide()
        elif self.keys_here.isVisible():
            self.keys_here.put_away()
        elif self.help.isVisible():
            self.help.put_away()
        elif self.why.isVisible():
            self.why.fold()
        elif self.benches.over:
            self.benches.toggle(self.benches.over)
        else:
            key = self.benches.bench.decided_at_hand() or ("scale" if self.desk.station == "scale" else "")
            if key:
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
        """Copy what the bench has to copy, the rows of the list that has the keyboard, or the figures of the open station: lines of text, tab between."""
        focus = QApplication.focusWidget()
        if isinstance(focus, QLineEdit):
            focus.copy()
            return
        if hasattr(self.benches.bench, "copy"):
            self.benches.bench.copy()
            return
        if isinstance(focus, RowList):
            focus.copy()
            return
        desk = self.desk
        if not desk.chosen:
            self.notice.say("There is nothing to copy yet: the job has no build.")
            return
        rows = [f"{f.spec.label}\t{f.subject}\t{desk.words(f)}" for f in desk.build_plan.figures
                if f.spec.station == desk.station and f.spec.kind != "thing"]  # fmt: skip
        QApplication.clipboard().setText("\n".join(rows))
        self.notice.say(f"Copied {len(rows)} figure{'s' if len(rows) != 1 else ''}.")

    def _ask_unit(self, taken: Taken, whose: str) -> None:
        """Ask once in which unit a mesh was drawn; Enter takes what was guessed from its size."""
        from homunculus.exchange.mesh_files import unit_of  # numpy: there already, a mesh was read

        self.notice.ask(taken.question(self.desk.system), lambda words: self.desk.meshes.use(taken, whose, unit_of(words)),
                        taken.guess.unit)  # fmt: skip

    def choose_job(self) -> None:
        """Ask for a job folder and open it in a window of its own."""
        path = ask_for_folder(self, "Open a job folder", "job", str(self.desk.folder.path.parent))
        if path:
            self.notice.say(open_another(path))

    def choose_folder(self) -> None:
        """Ask for an empty folder and go on working there."""
        path = ask_for_folder(self, "An empty folder to go on in", "job", str(self.desk.folder.path.parent))
        if path:
            self.desk.move_to(path)
            self._told = False

    def dragEnterEvent(self, event: QDragEnterEvent) -> None:
        if self._dropped(event):
            event.acceptProposedAction()

    def leave(self) -> None:
        """Close without asking: what could be kept is kept."""
        self._told = True
        self.close()

    def _entries(self) -> list[Entry]:
        """What can be gone to besides builds and figures."""
        from homunculus.app.shell.goto import Entry

        return [Entry(c.words, c.hint, partial(c.act, self)) for c in self.commands if c.listed]

    def _close_when_kept(self) -> None:
        if self.desk.keeper.all_kept:
            self.close()

    def dropEvent(self, event: QDropEvent) -> None:
        self._to_take += self._dropped(event)
        self.dropped_at = self.mapToGlobal(event.position().toPoint())
        self._take_next()

    def _take_next(self) -> None:
        """Take in one dropped file after another: while one is being read or asked about, the others wait."""
        if not self._to_take:
            return
        if self.desk.runner.busy("file") or self.notice.asking:
            QTimer.singleShot(150, self._take_next)
            return
        self._take(self._to_take.pop(0))
        QTimer.singleShot(0, self._take_next)

    def _take(self, path: Path) -> None:
        """Give a file to the bench that takes its kind: to the open one, else to one that need not be open."""
        wanted = {accepts.content for accepts in self.benches.open_spec.accepts}
        content = content_of(path, self.desk.breakdown.files.remembered(), wanted)
        takers = [(spec, accepts) for spec in BENCHES for accepts in spec.accepts if accepts.content == content]
        here = [accepts for spec, accepts in takers if spec is self.benches.open_spec]
        for accepts in (*here, *(accepts for _, accepts in takers if not accepts.closed)):
            accepts.take(self, path)
            return
        self.notice.say(next((accepts.closed for _, accepts in takers), f"Nothing takes in {path.name}."))

    @staticmethod
    def _dropped(event: QDropEvent) -> list[Path]:
        paths = [Path(url.toLocalFile()) for url in event.mimeData().urls() if url.isLocalFile()]
        known = endings(*{accepts.content for spec in BENCHES for accepts in spec.accepts})
        return [path for path in paths if path.suffix.lower() in known]

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
        if covering := self.benches.covering:
            covering.close_up()  # type: ignore[attr-defined]
        self.desk.close()
        super().closeEvent(event)
