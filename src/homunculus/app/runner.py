"""One runner for all that is slow: what is asked for waits in one queue, is told while it runs, and can be stopped. Knows no widget.

Each lane has a thread of its own, so that reading a list does not wait for the study of a million faces; what holds the
interpreter (meshes, spreadsheets and edit lists of other programs) is read in a process by :mod:`homunculus.exchange.apart`,
which ends the process when its task is stopped.
"""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any, Literal

from PySide6.QtCore import QObject, Signal

from homunculus.core.errors import Cancelled, UserError
from homunculus.core.plan.facts import Want
from homunculus.exchange.apart import STOPPED

Lane = Literal["study", "field", "coarse", "file"]
Progress = Callable[[float, str], None]
WAIT_S = 30.0


@dataclass(eq=False)
class _Task:
    lane: Lane
    words: str
    """What is told while it runs; empty for what runs unseen."""
    work: Callable[[Progress], object]
    then: Callable[[Any], None]
    stop_words: str
    name: str
    """What went wrong is said of it."""
    stopped: threading.Event = field(default_factory=threading.Event)


class Runner(QObject):
    """Does slow work, lane by lane in the order in which it was asked for, and hands what it brought to the interface's thread."""

    working = Signal(str, float)
    """What goes on and how far it is, as a share; 1 when nothing is left to tell of."""
    said = Signal(str)
    stopping = Signal()
    """A person asked that what goes on be stopped."""
    _brought = Signal(object, object)
    _failed = Signal(object, str)
    _told = Signal(object, str, float)

    def __init__(self) -> None:
        super().__init__()
        self._lock = threading.Condition()
        self._waiting: list[_Task] = []
        self._running: dict[Lane, _Task] = {}
        self._threads: dict[Lane, threading.Thread] = {}
        self._closed = False
        self._asked: set[Want] = set()
        self._brought.connect(self._hand_over)
        self._failed.connect(self._say)
        self._told.connect(self._tell)

    # -------------------------------------------------------------------------------------- asking
    def begin(self, words: str, work: Callable[[], object], then: Callable[[Any], None]) -> None:
        """Do something that was asked for, saying in ``words`` what goes on; ``then`` gets what it brought, unless it was stopped."""
        self._put(_Task("file", words, lambda _: work(), then, "Stopped. Nothing was changed.", words))

    def want(self, want: Want, make: Callable[[Progress], object], then: Callable[[Any], None], *, told: bool) -> None:
        """Bring a fact that the plan or a drawing wants, unless it was asked for before; ``told`` when a person sees it going on."""
        if want in self._asked:
            return
        self._asked.add(want)
        stop_words = (
            f"The {want.kind} of {want.name} was stopped, and nothing was changed. Drop its file again to have it made."
        )
        self._put(_Task(want.kind, want.name if told else "", make, then, stop_words, want.name))

    def again(self, want: Want) -> None:
        """Let something be asked for again that was stopped or failed."""
        self._asked.discard(want)

    def busy(self, *lanes: Lane) -> bool:
        """Whether something waits or runs in one of the ``lanes``, or in any."""
        with self._lock:
            return any(not lanes or task.lane in lanes for task in (*self._waiting, *self._running.values()))

    def _put(self, task: _Task) -> None:
        with self._lock:
            if self._closed:
                return
            self._waiting.append(task)
            if task.lane not in self._threads:
                thread = threading.Thread(target=self._run, args=(task.lane,), name=f"runner {task.lane}", daemon=True)
                self._threads[task.lane] = thread
                thread.start()
            self._lock.notify_all()
        if task.words:
            self.working.emit(task.words, 0.5 if task.lane == "file" else 0.0)

    # ------------------------------------------------------------------------------------- stopping
    def stop(self) -> None:
        """Stop what is told of, waiting or running; nothing is changed by it then."""
        self.stopping.emit()
        with self._lock:
            told = [task for task in (*self._waiting, *self._running.values()) if task.words]
            self._waiting = [task for task in self._waiting if not task.words]
            for task in told:
                task.stopped.set()
            self._running = {lane: task for lane, task in self._running.items() if task not in told}
        if told:
            self.working.emit("", 1.0)
            self.said.emit(max(told, key=lambda task: task.lane != "file").stop_words)  # a study names what it was of

    def close(self) -> None:
        """Stop everything and wait."""
        with self._lock:
            self._closed = True
            for task in (*self._waiting, *self._running.values()):
                task.stopped.set()
            self._waiting = []
            self._lock.notify_all()
        for thread in self._threads.values():
            thread.join(WAIT_S)

    def settle(self, lane: Lane) -> None:
        """Wait until nothing waits or runs in a ``lane``."""
        with self._lock:
            self._lock.wait_for(
                lambda: lane not in self._running and not any(t.lane == lane for t in self._waiting), WAIT_S
            )

    # -------------------------------------------------------------------------------------- running
    def _next(self, lane: Lane) -> _Task | None:
        """Wait for the next task of a lane; none when all is over."""
        with self._lock:
            while not self._closed:
                for task in self._waiting:
                    if task.lane == lane:
                        self._waiting.remove(task)
                        self._running[lane] = task
                        return task
                self._lock.wait()
            return None

    def _run(self, lane: Lane) -> None:
        while (task := self._next(lane)) is not None:
            self._do(task)
            with self._lock:
                if self._running.get(lane) is task:
                    del self._running[lane]
                self._lock.notify_all()

    def _do(self, task: _Task) -> None:
        def progress(share: float, what: str) -> None:
            if task.stopped.is_set():
                raise Cancelled
            self._told.emit(task, f"{task.words}: {what}", share)

        STOPPED.set(task.stopped.is_set)  # what reads in a process of its own ends it then
        try:
            self._brought.emit(task, task.work(progress))
        except Cancelled:
            pass  # it was said when it was stopped
        except (UserError, OSError) as trouble:
            self._failed.emit(task, str(trouble))
        except Exception as trouble:  # noqa: BLE001  (a thread that died silently would be waited for for ever)
            words = (
                f"{task.name}: something happened that nobody foresaw ({type(trouble).__name__}). Nothing was changed."
            )
            self._failed.emit(task, words)

    # ------------------------------------------------------------------------ in the interface's thread
    def _tell(self, task: _Task, words: str, share: float) -> None:
        if task.words and not task.stopped.is_set():
            self.working.emit(words, min(share, 0.99))

    def _hand_over(self, task: _Task, brought: object) -> None:
        if not task.stopped.is_set():
            self._ended(task)
            task.then(brought)

    def _say(self, task: _Task, sentence: str) -> None:
        if not task.stopped.is_set():
            self._ended(task)
            self.said.emit(sentence)

    def _ended(self, task: _Task) -> None:
        with self._lock:
            told = [t.words for t in (*self._running.values(), *self._waiting) if t.words and t is not task]
        if task.words or told:
            self.working.emit(*((told[0], 0.5) if told else ("", 1.0)))
