"""The weighing at a real scale, or at the practice one: devices and signals around :mod:`homunculus.core.making.at_the_scale`."""

from __future__ import annotations

import os
import subprocess
import sys
from datetime import datetime
from typing import Any

from PySide6.QtCore import QObject, QSettings, Signal

from homunculus.app.desk import Desk
from homunculus.core.errors import UserError
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.job import Job
from homunculus.core.log import EventKind, LogEvent
from homunculus.core.making.at_the_scale import AtTheScale
from homunculus.core.making.weighing import Recipe
from homunculus.devices.protocol import Hello, Reading
from homunculus.devices.scale import Scale

PRACTICE = "practice"


class Weigher(QObject):
    """Holds one weighing and one scale, and tells when something changed.

    Parameters
    ----------
    desk
        Where weights are logged.
    recipe
        What is weighed.
    card
        Of what is mixed.
    """

    changed = Signal()
    ended = Signal()
    _heard = Signal(float, object)
    _met = Signal(object)
    _quiet = Signal(object)

    def __init__(self, desk: Desk, recipe: Recipe, card: MaterialCard) -> None:
        super().__init__()
        self.desk = desk
        self._scale: Scale | None = None
        self.at = AtTheScale(self, recipe, card, desk.book)
        self.note = ""
        """What could not be read of what was typed."""
        self._practice: subprocess.Popen[str] | None = None
        self.device = ""
        self._heard.connect(self.hear)
        self._met.connect(self._meet)
        self._quiet.connect(self._go_quiet)

    # ---------------------------------------------------------------- what the weighing asks around it
    def now(self) -> datetime:
        """The present moment."""
        return self.desk.now()

    def air_c(self) -> float:
        """Temperature of the bench [°C]."""
        return self.desk.status.air_c

    def job(self) -> Job:
        """The job as it stands."""
        return self.desk.job

    def log(self, kind: EventKind, text: str, **fields: Any) -> LogEvent:
        """Enter something into the log."""
        return self.desk.enter(LogEvent(os.urandom(6).hex(), self.now(), kind, text, **fields))

    def tare(self) -> None:
        """Ask the scale for nought."""
        if self._scale:
            self._scale.tare()

    # ------------------------------------------------------------------------------------- scale
    def connect_scale(self, device: str = "") -> None:
        """Listen to the scale at a device; to a practice scale, where none is named or known."""
        settings = QSettings("homunculus", "homunculus")
        self.device = device or str(settings.value("scale") or PRACTICE)
        settings.setValue("scale", self.device)
        self.close()
        self.at.forget_scale()
        path = self._start_practice() if self.device == PRACTICE else self.device
        self._scale = Scale(path, self._heard.emit, self._met.emit, self._quiet.emit)
        self.changed.emit()

    def _start_practice(self) -> str:
        self._practice = subprocess.Popen([sys.executable, "-m", "homunculus.devices.practice_scale"], text=True,
                                          stdin=subprocess.PIPE, stdout=subprocess.PIPE)  # fmt: skip
        assert self._practice.stdout is not None
        return self._practice.stdout.readline().strip()

    @property
    def practising(self) -> bool:
        """Whether the scale is the practice one."""
        return self._practice is not None

    def order(self, words: str) -> None:
        """Tell the practice scale what to do."""
        if self._practice and self._practice.stdin and self._practice.poll() is None:
            self._practice.stdin.write(words + "\n")
            self._practice.stdin.flush()

    def close(self) -> None:
        """Let go of the scale; what was weighed is in the log."""
        if self._scale:
            self._scale.close()
            self._scale = None
        if self._practice:
            assert self._practice.stdin is not None
            assert self._practice.stdout is not None
            self._practice.stdin.close()
            self._practice.wait(5)
            self._practice.stdout.close()
            self._practice = None

    def hear(self, at: float, reading: Reading) -> None:
        """Take in a reading."""
        self.at.hear(at, reading.kg, beyond=reading.beyond)
        self.changed.emit()

    def _meet(self, hello: Hello) -> None:
        self.at.meet(hello.step_kg)
        self.changed.emit()

    def _go_quiet(self, sentence: str | None) -> None:
        self.at.go_quiet(sentence or "")
        self.changed.emit()

    # ------------------------------------------------------------------------------------- steps
    def go_on(self) -> None:
        """Do the next step."""
        self.at.go_on()
        if self.at.phase == "end":
            self.ended.emit()
        self.changed.emit()

    def take(self, mass: float) -> None:
        """Keep a weight of the part that is due."""
        self.note = ""
        self.at.take(mass)
        self.changed.emit()

    def type_weight(self, text: str) -> bool:
        """Take a typed weight; false, with a sentence, when it cannot be read."""
        try:
            self.at.type_weight(text, self.desk.system)
            self.note = ""
        except UserError as trouble:
            self.note = str(trouble)
        self.changed.emit()
        return not self.note

    def take_back(self) -> None:
        """Take the last weight back."""
        self.at.take_back()
        self.changed.emit()

    def name_lot(self, part: str, lot: str) -> None:
        """Say from which lot a part comes; it goes into every weight from now on."""
        self.at.lots[part] = lot
        self.changed.emit()
