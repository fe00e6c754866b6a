"""What the window works on: one open job with its session, log and status; everything else asks here.

One signal, ``changed``, tells that job, log, units, theme or the hour moved; drawings then read again.
"""

from __future__ import annotations

import os
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from time import monotonic

from PySide6.QtCore import QObject, QTimer, Signal

from homunculus.app.breakdown import Breakdown
from homunculus.app.drawing.silhouette import Silhouette, Silhouettes
from homunculus.app.editor import SO_ALREADY
from homunculus.app.keeper import Keeper
from homunculus.app.meshes import Meshes
from homunculus.app.pictures import Pictures
from homunculus.app.piece_files import PieceFiles
from homunculus.app.runner import Runner
from homunculus.app.shelf import ShopShelf
from homunculus.app.theme import Theme
from homunculus.app.to_match import NOTHING, ToMatch
from homunculus.core.edits.decisions import Decision, decide, decide_typed, decisions, find_decision, stepped
from homunculus.core.edits.wishes import needs_files
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Station
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.log import Book, EventKind, LogEvent
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.facts import Facts, MeshFact
from homunculus.core.plan.freezing import Cost
from homunculus.core.plan.job_plan import Plan
from homunculus.core.plan.ledger import Moved
from homunculus.core.plan.memory import Last
from homunculus.core.plan.sheet import Mind
from homunculus.core.plan.status import NextStep, Status, next_step, status
from homunculus.core.planners.ladder import Ladder
from homunculus.core.quantities import Kind, System, without_noise
from homunculus.core.session import Session
from homunculus.core.showing import Shown, show, show_clock, show_given
from homunculus.core.why import show_figure
from homunculus.store.folder import JobFolder, copy_folder, read_facts
from homunculus.store.rescue import keep_elsewhere, missing_meshes

PATIENCE_S = 0.15
"""Planning does not keep the window waiting for longer at once."""
REST_AFTER_MS = 200
WARM_AFTER_MS = 1500
"""When the window has long been there: the cards of the shelf are read."""
SAVE_AFTER_MS = 250
SAVE_AGAIN_MS = 800
"""While edits stream in, as in a drag: seldom enough not to be felt, soon enough to be on the disk within a second."""


class Desk(QObject):
    """An open job and what is chosen of it."""

    changed = Signal()
    said = Signal(str)
    asked_why = Signal(object)
    wanted = Signal(str)
    """A bench, by its name."""
    asked_what = Signal(object, object, object)
    """What can be done: on which place, with which spot or none, where on the screen."""
    asked_of_made = Signal(str)
    """Something that the bench for builds and pieces does, by the name of what it does."""
    working = Signal(str, float)

    def __init__(self, folder: JobFolder, themes: dict[str, Theme], now: datetime | None = None) -> None:
        super().__init__()
        self.folder = folder
        facts = read_facts(folder.path, folder.job)
        self.shelf = ShopShelf(self)
        self.session = Session(folder.job, facts, folder.pins, lambda: self.shelf.to_take)
        self.book = Book(folder.log)
        self._frozen = now
        self.closed = False
        """Whether threads and folder were let go of: nothing is begun then."""
        self._patience_s = 10.0
        self.themes = themes
        self.theme_name = "plaster"
        self.system: System = "metric"
        self.station: Station = "scale"
        self.chosen = folder.job.cast[0].id if folder.job.cast else ""
        self.who = ""  # who last put a name under something
        self.op_id: str | None = None  # the pour that the benches draw; none while nobody chose one
        self.mix_index = 0  # the mix that the benches draw, where the piece has several
        self.piece_id = ""  # the piece that the benches draw, where the chosen build has several
        self._status: Status | None = None
        self._decided: Last[dict[str, Decision]] = Last()
        self._silhouettes = Silhouettes()
        self.gesture: object = None
        self._saved_at = -SAVE_AGAIN_MS / 1000
        """What is being dragged; while it is, places draw but leave their spots where they are."""
        self.keeper = Keeper(folder)
        self.runner = Runner()
        self.pictures = Pictures(lambda: self.folder.path, self.said.emit)
        self.meshes = Meshes(self, folder)
        self.breakdown = Breakdown(self)
        self.pieces = PieceFiles(self, lambda: self.shelf.to_take)
        self.to_match = NOTHING
        """The table whose columns are looked over."""
        self._soon = QTimer(self, singleShot=True, interval=SAVE_AFTER_MS)
        self._soon.timeout.connect(self.save_now)
        self.session.patience_s = PATIENCE_S
        self.session.look_at(self.chosen)
        self._rest = QTimer(self, singleShot=True, interval=0)
        self._rest.timeout.connect(self._plan_on)
        self._minute = QTimer(self, interval=20_000)
        self._minute.timeout.connect(self._tick)
        self._listen_to_keeper()
        self.runner.said.connect(self.said)
        self.runner.working.connect(self.working)
        self.meshes.changed.connect(self.changed)
        self.meshes.learned.connect(self._learned)

    def start(self) -> None:
        """Begin what runs beside the window: the clock, and the studies that the plan wants."""
        self._minute.start()
        QTimer.singleShot(WARM_AFTER_MS, self.shelf, self.shelf.warm)
        QTimer.singleShot(WARM_AFTER_MS, self, lambda: self.keeper.prepare(self.job, self.session.pins))
        self._ask_studies()
        self._rest.start(0)

    # ----------------------------------------------------------------------------------- reading
    def now(self) -> datetime:
        """The present moment, or the one that the window was told to take."""
        return self._frozen or datetime.now()

    @property
    def job(self) -> Job:
        """The job as it stands."""
        return self.session.job

    @property
    def facts(self) -> Facts:
        """What is known of meshes."""
        return self.session.facts

    @property
    def build(self) -> Build:
        """The chosen build."""
        return self.job.build(self.chosen)

    @property
    def plan(self) -> Plan:
        """The plan of the job as it stands."""
        return self.session.plan()

    @property
    def build_plan(self) -> BuildPlan:
        """The plan of the chosen build."""
        return self.plan.build(self.chosen)

    @property
    def cost(self) -> Cost | None:
        """What it costs to let the frozen number of the chosen build follow its count."""
        return self.plan.cost(self.chosen)

    @property
    def pinned_build(self) -> BuildPlan | None:
        """The chosen build as it was pinned, or none."""
        return self.session.pinned_build(self.chosen)

    @property
    def status(self) -> Status:
        """What is true now."""
        if self._status is None:
            self._status = status(self.plan, self.book, self.now())
        return self._status

    @property
    def minds(self) -> tuple[Mind, ...]:
        """What to mind about the chosen build now."""
        return self.session.minds(self.chosen, self.status, self.station)

    @property
    def log(self) -> Sequence[LogEvent]:
        """All entries, as they were written."""
        return self.book.written

    @property
    def ladder(self) -> Ladder:
        """The ladder of the chosen build."""
        return self.plan.ladder(self.chosen)

    def silhouette(self, build: Build) -> Silhouette:
        """The side view of a build from its own form."""
        return self._silhouettes.of(build, self.session.facts)

    @property
    def theme(self) -> Theme:
        """The colours in use."""
        return self.themes[self.theme_name]

    def shown(self, figure: Figure, digits: int | None = None) -> Shown:
        """A figure in the units in use."""
        spec = figure.spec
        return show(figure.value, spec.kind, self.system, digits or spec.digits, self.job.shop.currency)

    def given(self, value: float, kind: Kind) -> Shown:
        """A given value in the units in use."""
        return show_given(value, kind, self.system, self.job.shop.currency)

    def words(self, figure: Figure) -> str:
        """A figure as words in the units in use."""
        return show_figure(figure, self.system, self.job.shop.currency)

    @property
    def moved(self) -> tuple[Moved, ...]:
        """What moved of the chosen build since the pin."""
        return self.session.moved(self.chosen)

    def grasp(self) -> None:
        """A drag begins: all edits until it ends are one step."""
        self.gesture = object()

    def let_go(self) -> None:
        """The drag has ended."""
        self.gesture = None
        self.changed.emit()

    # ---------------------------------------------------------------------------------- choosing
    def choose(self, build_id: str) -> None:
        """Choose a build of the cast."""
        if any(build.put_away for build in self.job.builds if build.id == build_id):
            self.said.emit(f"{self.job.build(build_id).name} was put away. The foot of the cast brings it back.")
            return
        if build_id != self.chosen:
            self.chosen, self.op_id = build_id, None
            self.session.look_at(build_id)
            self.changed.emit()

    def choose_next(self, by: int) -> None:
        """Choose the build so many rows on."""
        ids = [b.id for b in self.job.cast]
        if ids:
            self.choose(ids[(ids.index(self.chosen) + by) % len(ids)])

    def go(self, station: Station) -> None:
        """Open a station."""
        if station != self.station:
            self.station = station
            self.changed.emit()

    def use_units(self, system: System) -> None:
        """Show everything in a system of units."""
        self.system = system
        self.changed.emit()

    def use_theme(self, name: str) -> None:
        """Show everything in a theme's colours."""
        self.theme_name = name
        self.changed.emit()

    # ----------------------------------------------------------------------------------- editing
    def edit(self, name: str, job: Job, gesture: object = None) -> bool:
        """Make a new job the current one; all figures move at once. False when it cannot be, which is said."""
        try:
            changed = self.session.edit(name, job, gesture)
        except UserError as trouble:
            self.said.emit(str(trouble))
            return False
        if changed:
            self._moved()
        elif self.gesture is None and gesture is None:
            self.said.emit(SO_ALREADY)
        return True

    def do(self, line: str) -> bool:
        """Run a typed line that edits the job; false, with a sentence, when it cannot be run. What cuts a mesh is done by a thread first."""
        if needs_files(self.job, line):
            self.meshes.reshape(line, lambda: self._do(line))
            return True
        return self._do(line)

    def _do(self, line: str) -> bool:
        before = self.job
        self.session.reshaping = self.meshes.reshaper
        try:
            self.session.do(line, self.system, self.now().date())
        except UserError as trouble:
            self.said.emit(str(trouble))
            return False
        if self.job is not before:
            self._moved()
            self.said.emit(f"Did: {self.session.undo_name}. U goes back.")
        else:
            self.said.emit(SO_ALREADY)
        return True

    def decide(self, decision: Decision, value: float) -> None:
        """Decide a value; what cannot be is said and changes nothing."""
        if self.gesture is not None:  # pulled
            value = without_noise(value)
        try:
            job = decide(self.job, decision, value)
        except UserError as trouble:
            self.said.emit(str(trouble))
            return
        self.edit(self._step_name(decision, value), job, self.gesture)

    def decide_typed(self, decision: Decision, text: str) -> bool:
        """Decide a typed value; false, with a sentence, when it cannot be read."""
        try:
            job = decide_typed(self.job, decision, text, self.system)
        except UserError as trouble:
            self.said.emit(str(trouble))
            return False
        after = find_decision(job, decision.build, decision.key)
        self.edit(self._step_name(decision, after.value), job)
        return True

    def step(self, decision: Decision, steps: int) -> None:
        """Move a decision by workshop steps."""
        self.decide(decision, stepped(decision, steps))

    def accept(self, key: str) -> None:
        """Let a beginning of the chosen build, or of the shop, stand as it is: it is decided."""
        decision = self.decision(key)
        if decision.begun:
            self.decide(decision, decision.value)
            self.said.emit(f"{decision.label.capitalize()} stands as it began: it is decided now. U goes back.")
        else:
            self.said.emit(f"{decision.label.capitalize()} was decided before.")

    def decision(self, key: str) -> Decision:
        """The decision of that key about the chosen build."""
        if ":" not in key and "." not in key:  # the build's own come first: found without listing all of its pieces'
            return find_decision(self.job, self.chosen, key)
        found = self.decisions().get(key)
        return found if found is not None else find_decision(self.job, self.chosen, key)

    def decisions(self) -> dict[str, Decision]:
        """All that is decided about the chosen build, its cards and the shop, by key; listed once for a job."""
        return self._decided.get((self.job, self.chosen), self._find_decisions)

    def _find_decisions(self) -> dict[str, Decision]:
        found = {d.key: d for d in reversed(decisions(self.job, self.chosen))}  # of two with one key the first counts
        return dict(reversed(found.items()))

    def _step_name(self, decision: Decision, value: float) -> str:
        return f"{decision.label} {show(value, decision.kind, self.system)}"

    def to_pin(self, decision: Decision) -> None:
        """Return a decision to its pinned value."""
        pin = self.session.last_pin
        if pin is None:
            self.said.emit("Nothing is pinned yet. P pins this plan.")
            return
        try:
            pinned = find_decision(pin.job, decision.build, decision.key)
        except UserError:
            self.said.emit("This was not there when the plan was pinned.")
            return
        if pinned.value == decision.value:
            self.said.emit(SO_ALREADY)
        else:
            self.decide(decision, pinned.value)

    def undo(self) -> None:
        """Go back one change and say which."""
        name = self.session.undo_name
        if self.session.undo():
            self._moved()
            self.said.emit(f"Went back on: {name}.")
        else:
            self.said.emit("There is no change to go back on.")

    def redo(self) -> None:
        """Make the change again that was gone back on, and say which."""
        name = self.session.redo_name
        if self.session.redo():
            self._moved()
            self.said.emit(f"Did again: {name}.")
        else:
            self.said.emit("There is no change to do again.")

    def pin(self) -> None:
        """Pin the plan."""
        pin = self.session.pin(self.now())
        self.save_soon()
        self.changed.emit()
        self.said.emit(f"Pinned as {pin.number}. The ledger now shows what moves from here.")

    def _moved(self) -> None:
        self._status = None
        if self.chosen not in {b.id for b in self.job.cast}:
            self.chosen = self.job.cast[0].id if self.job.cast else ""
        self.save_soon()
        self.session.look_at(self.chosen)
        self.changed.emit()
        self._ask_studies()
        self._rest.start(0)

    # ------------------------------------------------------------------------------------ saving
    def save_soon(self) -> None:
        """Save shortly: some edits of a drag are written together, and none waits for the hand to rest."""
        if not self._soon.isActive():
            self._soon.start(SAVE_AFTER_MS if monotonic() - self._saved_at > 1.0 else SAVE_AGAIN_MS)

    def save_now(self) -> None:
        """Hand the job to the saving thread."""
        self._soon.stop()
        self._saved_at = monotonic()
        self.keeper.save(self.job, self.session.pins)

    def _listen_to_keeper(self) -> None:
        self.keeper.failed.connect(self.said)
        self.keeper.kept.connect(self._kept)

    def move_to(self, path: Path) -> None:
        """Go on working in another folder: the job as it stands, all of its log, meshes and studies are taken there."""
        self.keeper.close(3.0)
        held = self.keeper.held
        try:
            copy_folder(self.folder.path, path, self.job, self.session.pins, (*self.book.written, *held))
            new = JobFolder(path, self.now())
        except UserError as trouble:
            self.keeper = Keeper(self.folder, held)
            self._listen_to_keeper()
            self.save_now()
            self.said.emit(str(trouble))
            return
        self.folder.close()
        self.folder = new
        self.keeper = Keeper(new)
        self._listen_to_keeper()
        for entry in held:  # they came with the log
            self._kept(entry)
        self.meshes.move_to(new)
        self.save_now()
        missing = missing_meshes(path, self.job)
        lost = f" These meshes could not be brought: {', '.join(missing)}." if missing else ""
        self.said.emit(f"The job is in {path.name} now. The old folder stays as it was.{lost}")

    def finish(self) -> bool:
        """Write all that waits; false, with a sentence said, when something could not be kept: it is then tried on."""
        self._soon.stop()
        self.save_now()
        self.keeper.close()
        if self.keeper.all_kept:
            return True
        held = self.keeper.held
        self.keeper = Keeper(self.folder, held, (self.job, self.session.pins))
        self._listen_to_keeper()
        count = f" and {len(held)} log entries" if held else ""
        self.said.emit(f"The last changes{count} are not on the disk. It is tried on, and closes by itself when they are. "
                       "Choose another folder (Ctrl+Shift+S), or close once more to give them up.")  # fmt: skip
        return False

    def rescue(self, within_s: float = 2.0) -> Path | None:
        """Save at once, as when the desktop closes; what cannot be kept in time goes to a folder of its own, which is returned."""
        self._soon.stop()
        self._patience_s = 0.2  # what hangs is not waited for a second time
        self.keeper.save(self.job, self.session.pins)
        self.keeper.close(within_s)
        if self.keeper.all_kept:
            return None
        return keep_elsewhere(self.folder.path, self.job, self.session.pins, (*self.book.written, *self.keeper.held))

    def close(self) -> None:
        """Let go of threads and folder; nothing is begun after this."""
        self.closed = True
        self._minute.stop()
        self._rest.stop()
        self._soon.stop()
        self.runner.close()
        self.keeper.close(self._patience_s)
        self.folder.close()

    # --------------------------------------------------------------------------------------- log
    def write(self, kind: EventKind, text: str = "", piece: str = "", op: str = "") -> None:
        """Log what was done just now with the chosen build; it shows once it is kept."""
        build = self.chosen if piece else ""
        air = self.status.air_c if kind in ("poured", "opened") else None
        self.enter(LogEvent(os.urandom(6).hex(), self.now(), kind, text, build, piece, air, op=op))

    def enter(self, entry: LogEvent) -> LogEvent:
        """Have an entry kept and hand it back; it shows once it is kept."""
        self.keeper.log(entry)
        return entry

    def _kept(self, entry: LogEvent) -> None:
        self.book.add(entry)
        self._status = None
        text = entry.text.rstrip(".")
        self.said.emit(f"Logged at {show_clock(entry.at)}: {entry.kind}{', ' + text if text else ''}.")
        self.changed.emit()

    def next_pour_step(self) -> NextStep | None:
        """What Space would log for the chosen build: what, which pour, and words for it."""
        return next_step(self.build_plan, self.book, self.status) if self.chosen else None

    def _plan_on(self) -> None:
        """Plan more of the builds that were left, between what else there is to do."""
        if self.closed or not self.plan.left:
            return
        if self.gesture is not None:  # what is dragged goes before; the others follow when the hand lets go
            self._rest.start(REST_AFTER_MS)
            return
        self.session.go_on()
        self._status = None
        left, total = len(self.plan.left), len(self.job.cast)
        self.working.emit(f"Reckoning {left} more builds" if left else "", 1 - left / total)
        self.changed.emit()
        self._ask_studies()
        self._rest.start(0)

    def match(self, table: ToMatch) -> None:
        """Let a person look over a ``table``'s columns."""
        self.to_match = table
        self.wanted.emit("match")

    def plan_of(self, job: Job) -> Plan:
        """The plan of another ``job`` that shares most with this one; what is the same is not reckoned again."""
        return self.session.plan_of(job)

    def shelf_moved(self) -> None:
        """The shop's shelf is another one now: what is taken from it from now on is."""
        self.changed.emit()

    def _tick(self) -> None:
        self._status = None
        self.shelf.look_again()
        self.changed.emit()

    # ------------------------------------------------------------------------------------- facts
    def _ask_studies(self) -> None:
        if self.closed:
            return
        for want in self.plan.wants():
            self.meshes.study(want)

    def _learned(self, fact: MeshFact) -> None:
        self.session.learn(fact)
        self._status = None
        self.changed.emit()
