"""Slow work off the interface thread: saving, logging, studying meshes. Knows no widget."""

from __future__ import annotations

import queue
import threading

from PySide6.QtCore import QObject, Signal

from homunculus.core.errors import UserError
from homunculus.core.job.forms import Form, Mesh
from homunculus.core.job.job import Job
from homunculus.core.log import LogEvent
from homunculus.core.session import Pin
from homunculus.store.folder import JobFolder

Save = tuple[Job, tuple[Pin, ...]]
RETRY_S = 5.0
MOST_FIELD_BYTES = 60_000_000


class Keeper(QObject):
    """Writes job and log in one thread, in order; of several waiting saves only the newest is written.

    What could not be written is held and tried again, before anything newer and every few seconds.
    """

    saved = Signal()
    kept = Signal(object)
    """A log entry that now outlasts a power cut."""
    failed = Signal(str)

    def __init__(self, folder: JobFolder, held: tuple[LogEvent, ...] = (), job: Save | None = None) -> None:
        super().__init__()
        self._folder = folder
        self._waiting: queue.Queue[Save | LogEvent | None] = queue.Queue()
        self._log_held: list[LogEvent] = list(held)
        self._job_held: Save | None = job
        self._busy = False
        self._said = ""
        self._thread = threading.Thread(target=self._run, name="keeper", daemon=True)
        self._thread.start()

    @property
    def held(self) -> tuple[LogEvent, ...]:
        """Entries that are not on the disk yet: those that could not be written, and those that wait."""
        with self._waiting.mutex:
            waiting = [item for item in self._waiting.queue if isinstance(item, LogEvent)]
        return (*self._log_held, *waiting)

    @property
    def all_kept(self) -> bool:
        """Whether everything that was asked for is on the disk."""
        with self._waiting.mutex:
            waiting = any(item is not None for item in self._waiting.queue)
        return not (self._log_held or self._job_held is not None or self._busy or waiting)

    def save(self, job: Job, pins: tuple[Pin, ...]) -> None:
        """Ask for the job to be saved."""
        self._waiting.put((job, pins))

    def log(self, entry: LogEvent) -> None:
        """Ask for an entry to be kept; :attr:`kept` tells when it is."""
        self._waiting.put(entry)

    def close(self, within_s: float = 10.0) -> None:
        """Finish what waits, then stop; what hangs longer than ``within_s`` is left."""
        self._waiting.put(None)
        self._thread.join(within_s)

    def _run(self) -> None:
        while True:
            nothing_held = not self._log_held and self._job_held is None
            try:
                item = self._waiting.get(timeout=None if nothing_held else RETRY_S)
            except queue.Empty:
                self._write_held()
                continue
            self._busy = True  # taken from the queue, not yet written
            if isinstance(item, LogEvent):
                self._log_held.append(item)
            elif item is not None:
                self._job_held = item
            if item is None or not self._newer_waits():
                self._write_held()
            self._busy = False
            if item is None:
                return

    def _write_held(self) -> None:
        try:
            while self._log_held:
                self._folder.append(self._log_held[0])
                self.kept.emit(self._log_held.pop(0))
            if self._job_held is not None:
                self._folder.save(*self._job_held)
                self._job_held = None
                self.saved.emit()
        except UserError as trouble:
            if str(trouble) != self._said:  # it is tried every few seconds, and said once
                self._said = str(trouble)
                self.failed.emit(str(trouble))
        else:
            self._said = ""

    def _newer_waits(self) -> bool:
        with self._waiting.mutex:
            return bool(self._waiting.queue)


class Study(QObject):
    """Studies meshes one after another in a thread of its own, with progress and cancel."""

    progressed = Signal(str, float)
    found = Signal(object)
    failed = Signal(str, str)
    ended = Signal(str)

    def __init__(self, folder: JobFolder) -> None:
        super().__init__()
        self._folder = folder
        self._asked: set[str] = set()
        self._cancel = threading.Event()
        self._running = False
        self._thread: threading.Thread | None = None

    def use(self, folder: JobFolder) -> None:
        """Read and keep in another folder from now on."""
        self._folder = folder

    @property
    def busy(self) -> bool:
        """Whether a mesh is being studied."""
        return self._thread is not None and self._thread.is_alive()

    def want(self, content: str, file_name: str) -> None:
        """Study a mesh, unless it was asked for before."""
        if content in self._asked or self._running:
            return
        self._asked.add(content)
        self._cancel.clear()
        self._running = True
        self._thread = threading.Thread(target=self._run, args=(content, file_name), name="study", daemon=True)
        self._thread.start()

    def cancel(self) -> None:
        """Stop the study that runs, within a second."""
        self._cancel.set()

    def again(self, content: str) -> None:
        """Let a mesh be asked for again after it was cancelled or failed."""
        self._asked.discard(content)

    def close(self) -> None:
        """Stop and wait."""
        self.cancel()
        if self._thread:
            self._thread.join(10)

    def _run(self, content: str, file_name: str) -> None:
        from homunculus.core.form.study import Cancelled, study_with_field  # numpy and scipy only in this thread
        from homunculus.store.meshes import keep_field, keep_study, read_mesh

        def progress(share: float, what: str) -> None:
            if self._cancel.is_set():
                raise Cancelled
            self.progressed.emit(f"{file_name}: {what}", share)

        try:
            fact, field = study_with_field(read_mesh(self._folder.path, content), file_name, progress)
            keep_field(self._folder.path, content, field.to_bytes())
            keep_study(self._folder.path, fact)
            self.found.emit(fact)
        except Cancelled:
            self.failed.emit(content, f"The study of {file_name} was stopped. Nothing was changed.")
        except UserError as trouble:
            self.failed.emit(content, str(trouble))
        except Exception as trouble:  # noqa: BLE001  (a thread that died silently would be waited for for ever)
            words = f"{file_name} could not be studied ({type(trouble).__name__}). Mend it, or export it again."
            self.failed.emit(content, words)
        finally:
            self._running = False  # before it is told: what waits is asked for as soon as this one has ended
            self.ended.emit(content)


class Fields(QObject):
    """Brings distance fields for sections: kept ones from the folder, others made in a thread of its own."""

    found = Signal(str, object)
    failed = Signal(str, str)

    def __init__(self, folder: JobFolder) -> None:
        super().__init__()
        self._folder = folder
        self._asked: set[str] = set()
        self._threads: list[threading.Thread] = []

    def use(self, folder: JobFolder) -> None:
        """Read from another folder from now on."""
        self._folder = folder

    @property
    def busy(self) -> bool:
        """Whether a field is being brought."""
        return any(thread.is_alive() for thread in self._threads)

    def want(self, key: str, form: Form) -> None:
        """Bring the field of a form, unless it was asked for before."""
        if key in self._asked:
            return
        self._asked.add(key)
        self._threads = [thread for thread in self._threads if thread.is_alive()]
        self._threads.append(threading.Thread(target=self._run, args=(key, form), name="fields", daemon=True))
        self._threads[-1].start()

    def close(self) -> None:
        """Wait for what runs."""
        for thread in self._threads:
            thread.join(30)

    def _run(self, key: str, form: Form) -> None:
        from homunculus.core.form import field as fields  # numpy, scipy and contourpy only in this thread
        from homunculus.store.atomic import read_bounded
        from homunculus.store.meshes import field_file, keep_field, read_mesh

        try:
            if isinstance(form, Mesh):
                kept = field_file(self._folder.path, form.content)
                if kept.is_file():
                    try:
                        self.found.emit(
                            key, fields.field_from_bytes(read_bounded(kept, MOST_FIELD_BYTES, "The field"), str(kept))
                        )
                        return
                    except UserError:
                        pass  # it is damaged, and made again
                from homunculus.core.form.mesh import read_stl

                triangles = read_stl(read_mesh(self._folder.path, form.content), form.file_name)
            else:
                triangles = fields.triangles_of(form)
            made = fields.make_field(triangles, reach=fields.usual_reach(triangles), points=90_000)
            self.found.emit(key, made)
            if isinstance(form, Mesh):
                keep_field(self._folder.path, form.content, made.to_bytes())
        except (UserError, OSError) as trouble:
            self.failed.emit(key, str(trouble))
