"""Saving and logging off the interface thread. Knows no widget."""

from __future__ import annotations

import queue
import threading
from typing import NamedTuple

from PySide6.QtCore import QObject, Signal

from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.log import LogEvent
from homunculus.core.session import Pin
from homunculus.store.folder import JobFolder

Save = tuple[Job, tuple[Pin, ...]]


class Ahead(NamedTuple):
    """A job that will be saved once somebody changes something in it."""

    job: Job
    pins: tuple[Pin, ...]


RETRY_S = 5.0


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
        self._waiting: queue.Queue[Save | LogEvent | Ahead | None] = queue.Queue()
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
            waiting = any(item is not None and not isinstance(item, Ahead) for item in self._waiting.queue)
        return not (self._log_held or self._job_held is not None or self._busy or waiting)

    def prepare(self, job: Job, pins: tuple[Pin, ...]) -> None:
        """Ask for the job to be put into words ahead, so that its first save holds nobody up."""
        self._waiting.put(Ahead(job, pins))

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
            if isinstance(item, Ahead):
                self._folder.prepare(*item)
            elif isinstance(item, LogEvent):
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
