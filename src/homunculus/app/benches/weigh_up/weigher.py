"""What happens at the scale: one mix weighed cup by cup, each weight kept in the log. Draws nothing."""

from __future__ import annotations

import os
import subprocess
import sys
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal

from PySide6.QtCore import QObject, QSettings, Signal

from homunculus.app.desk import Desk
from homunculus.core.cure.clock import pot_life_law
from homunculus.core.errors import UserError
from homunculus.core.figures import Phrase
from homunculus.core.job.build import piece_of
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.log import LogEvent
from homunculus.core.making.mixing import pot_life_here, pour_time
from homunculus.core.making.weighing import Recipe, Steady, Weighing, resume, what_it_did
from homunculus.core.planners.poured import handling, pot_life_factor
from homunculus.core.quantities import parse
from homunculus.devices.protocol import Hello, Reading
from homunculus.devices.scale import Scale

Phase = Literal["cup", "part", "stir", "end"]
PRACTICE = "practice"
USUAL_STEP_KG = 0.0001
ZERO_S = 3.0


@dataclass
class Pan:
    """What the scale says, and when."""

    kg: float = 0.0
    at: float = 0.0
    heard: bool = False
    beyond: bool = False
    quiet: str = ""
    step_kg: float = USUAL_STEP_KG
    zeroing: bool = False
    """Whether nought was asked for and has not been read yet."""
    asked_at: float | None = None
    offset_kg: float = 0.0
    """Taken off every reading of a scale that does not set itself to nought."""


class Weigher(QObject):
    """Holds one weighing and one scale.

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
        self.desk, self.recipe, self.card = desk, recipe, card
        self.weighing: Weighing = resume(recipe, desk.book.since_end(recipe.build, recipe.piece))
        self.phase: Phase = "cup" if self.weighing.next_part is not None else "stir"
        self.pan = Pan()
        self.lots: dict[str, str] = self._last_lots()
        self.did: Phrase = ()
        self.note = ""
        """What could not be read of what was typed."""
        self._steady = Steady(self.pan.step_kg)
        self._met_at: dict[int, datetime] = {}
        """When the parts of each batch met; the pot life runs from there."""
        self._entries: list[LogEvent] = []
        self._scale: Scale | None = None
        self._practice: subprocess.Popen[str] | None = None
        self.device = ""
        self._heard.connect(self.hear)
        self._met.connect(self._meet)
        self._quiet.connect(self._go_quiet)
        self._find_started()

    # ------------------------------------------------------------------------------------- scale
    def connect_scale(self, device: str = "") -> None:
        """Listen to the scale at a device; to a practice scale, where none is named or known."""
        settings = QSettings("homunculus", "homunculus")
        self.device = device or str(settings.value("scale") or PRACTICE)
        settings.setValue("scale", self.device)
        self._let_go_of_scale()
        self.pan = Pan()
        self._steady = Steady(self.pan.step_kg)
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

    def _let_go_of_scale(self) -> None:
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

    def close(self) -> None:
        """Let go of the scale; what was weighed is in the log."""
        self._let_go_of_scale()

    def hear(self, at: float, reading: Reading) -> None:
        """Take in a reading; one that stands within the tolerance is taken as the weight."""
        pan = self.pan
        pan.kg, pan.at, pan.heard, pan.beyond = reading.kg - pan.offset_kg, at, True, reading.beyond
        if pan.zeroing and not self._at_nought(at, reading):
            return
        if self.phase == "part" and not reading.beyond:
            index = self.weighing.next_part
            assert index is not None
            low, high = self.weighing.band(index)
            held = self.weighing.held(index)
            if index > 0 and pan.kg > 5 * pan.step_kg:
                self._met_at.setdefault(self.weighing.batch, self.desk.now())
            band = min((high - low) / 8, 15 * pan.step_kg)
            weight = self._steady.feed(at, pan.kg, band)
            if weight is not None and weight + held >= low:
                self.take(weight)
        self.changed.emit()

    def _at_nought(self, at: float, reading: Reading) -> bool:
        """Whether the scale has come to nought; one that does not within a while is read from where it stands."""
        pan = self.pan
        pan.asked_at = at if pan.asked_at is None else pan.asked_at
        if abs(reading.kg) <= 3 * pan.step_kg:
            pan.offset_kg = 0.0
        elif at - pan.asked_at < ZERO_S:
            return False
        else:
            pan.offset_kg = reading.kg
        pan.kg, pan.zeroing, pan.asked_at = reading.kg - pan.offset_kg, False, None
        return True

    def _meet(self, hello: Hello) -> None:
        self.pan.step_kg = hello.step_kg
        self._steady = Steady(hello.step_kg)
        self.changed.emit()

    def _go_quiet(self, sentence: str | None) -> None:
        self.pan.quiet = sentence or ""
        self._steady.forget()
        self.changed.emit()

    def _tare(self) -> None:
        self._steady.forget()
        if self.pan.heard and not self.pan.quiet and abs(self.pan.kg) < self.pan.step_kg / 2:
            return  # it reads nought already: a tare that came late would swallow the first of the pour
        self.pan.zeroing, self.pan.asked_at = True, None
        if self._scale:
            self._scale.tare()

    # ------------------------------------------------------------------------------------- steps
    def go_on(self) -> None:
        """Do the next step: cup on, take what lies there, stirred and poured."""
        if self.phase == "cup":
            self._tare()
            self.phase = "part"
        elif (
            self.phase == "part"
            and self.pan.heard
            and not (self.pan.quiet or self.pan.zeroing)
            and self.pan.kg > 2 * self.pan.step_kg
        ):
            self.take(self.pan.kg)
        elif self.phase == "stir":
            self._poured()
        self.changed.emit()

    def take(self, mass: float) -> None:
        """Keep a weight of the part that is due."""
        before, index = self.weighing, self.weighing.next_part
        if index is None or mass <= 0:
            return
        self.weighing, self.note = before.pour(mass), ""
        self.did = what_it_did(before, self.weighing)
        part = self.recipe.parts[index].name
        if index > 0:
            self._met_at.setdefault(before.batch, self.desk.now())
        words = f"{self.recipe.name}, batch {before.batch} of {self.recipe.batches}"
        self._entries.append(self.desk.enter(LogEvent(
            os.urandom(6).hex(), self.desk.now(), "weighed", words, self.recipe.build, self.recipe.piece,
            self.desk.status.air_c, weights_kg={part: round(mass, 6)}, lot=self.lots.get(part, ""), mix=self.recipe.mix,
            batch=before.batch,
        )))  # fmt: skip
        self._tare()
        self.phase = "part" if self.weighing.next_part is not None else "stir"
        self.changed.emit()

    def type_weight(self, text: str) -> bool:
        """Take a typed weight, as read off a dial; false, with a sentence, when it cannot be read."""
        try:
            mass = parse(text, "mass", self.desk.system)
        except UserError as trouble:
            self.note = str(trouble)
            self.changed.emit()
            return False
        if self.phase in ("cup", "part"):
            self.phase = "part"
            self.take(mass)
        return True

    def take_back(self) -> None:
        """Take the last weight back: it stays in the log, corrected, and the part is due again."""
        if not self._entries or self.phase == "end":
            return
        last = self._entries.pop()
        self.desk.enter(LogEvent(os.urandom(6).hex(), self.desk.now(), "correction", f"taken back: {last.text}",
                                 self.recipe.build, self.recipe.piece, corrects=last.id))  # fmt: skip
        part = next(iter(last.weights_kg))
        index = [p.name for p in self.recipe.parts].index(part)
        cup = list(self.weighing.cup)
        if last.batch == self.weighing.batch and index < len(cup):
            cup[index] = max(0.0, cup[index] - last.weights_kg[part])
            while cup and cup[-1] == 0:
                cup.pop()
            self.weighing = Weighing(self.recipe, self.weighing.done, tuple(cup))
        self.did, self.phase = (), "part"
        self._tare()
        self.changed.emit()

    def _poured(self) -> None:
        self.weighing = self.weighing.empty_cup()
        self._entries, self.did = [], ()
        if not self.weighing.finished:
            self.phase = "cup"
            return
        total = {p.name: round(sum(b[i] for b in self.weighing.done), 6) for i, p in enumerate(self.recipe.parts)}
        count = len(self.weighing.done)
        words = f"{self.recipe.name}, {count} {'batch' if count == 1 else 'batches'}"
        self.desk.enter(LogEvent(os.urandom(6).hex(), self.desk.now(), "poured", words, self.recipe.build,
                                 self.recipe.piece, self.desk.status.air_c, weights_kg=total, mix=self.recipe.mix))  # fmt: skip
        self.phase = "end"
        self.ended.emit()

    def name_lot(self, part: str, lot: str) -> None:
        """Say from which lot a part comes; it goes into every weight from now on."""
        self.lots[part] = lot
        self.changed.emit()

    # -------------------------------------------------------------------------------------- time
    @property
    def pot_life_s(self) -> float:
        """Pot life at the bench's temperature now [s]; 0 where the card has none."""
        if self.card.pot_life_s is None:
            return 0.0
        law = pot_life_law(self.card)
        made = pot_life_here(book=self.card.pot_life_s.value, kinetics=law, bench=self.desk.status.air_c,
                             stirred=pot_life_factor(self.desk.job.cards, self._mix()).value)  # fmt: skip
        return float(made.value)

    def _mix(self) -> Mix:
        """The mix that is weighed, with what is stirred into it."""
        mould = piece_of(self.desk.job.build(self.recipe.build), self.recipe.piece).mould
        found = [m for m in mould.mixes if m.name == self.recipe.mix] if mould else []
        return found[0] if found else Mix()

    @property
    def stir_s(self) -> float:
        """How long to stir [s]."""
        return self.card.stir_s.value if self.card.stir_s else 0.0

    @property
    def met(self) -> datetime | None:
        """When the parts of this cup met."""
        return self._met_at.get(self.weighing.batch)

    @property
    def left_s(self) -> float:
        """What is left of this cup's pot life [s]; negative when it has gelled."""
        return self.pot_life_s - ((self.desk.now() - self.met).total_seconds() if self.met else 0.0)

    @property
    def hands_s(self) -> float:
        """Seconds that handling this batch still takes, by the shop's own figures."""
        takes = {name: given.value for name, given in handling(self.card, self.desk.job.shop.mixing).items()}
        whole = float(pour_time(batches=1, batch=self.weighing.cup_kg, hands=1, **takes))
        return max(0.0, whole - ((self.desk.now() - self.met).total_seconds() if self.met else 0.0))

    @property
    def spare_s(self) -> float:
        """What will be left of the pot life when this cup is in the mould [s]; negative when it gels before."""
        return self.left_s - self.hands_s

    def gels(self) -> list[tuple[int, datetime]]:
        """Earlier batches and when they gel, those that have not yet."""
        life = timedelta(seconds=self.pot_life_s)
        return [(n, at + life) for n, at in sorted(self._met_at.items())
                if n < self.weighing.batch and at + life > self.desk.now()]  # fmt: skip

    def _find_started(self) -> None:
        """Read off the log when the parts of this pour's batches met, and what is in the cup."""
        first = self.recipe.parts[0].name
        fresh: dict[int, datetime] = {}
        cup: list[LogEvent] = []
        for entry in self.desk.book.since_end(self.recipe.build, self.recipe.piece):
            if entry.kind == "weighed" and entry.mix == self.recipe.mix:
                cup.append(entry)
                if first not in entry.weights_kg:
                    fresh.setdefault(entry.batch, entry.at)
        self._met_at = fresh
        self._entries = [entry for entry in cup if entry.batch == self.weighing.batch]

    def _last_lots(self) -> dict[str, str]:
        """The newest lot of each part of this material, whichever piece it went into."""
        same = [
            (b.id, p.id) for b in self.desk.job.builds for p in b.pieces if p.mould and p.mould.poured == self.card.id
        ]
        entries = sorted((e for key in same for e in self.desk.book.of_piece(*key) if e.lot), key=lambda e: e.at)
        return {part: entry.lot for entry in entries for part in entry.weights_kg}
