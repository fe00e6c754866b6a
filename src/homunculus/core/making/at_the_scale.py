"""What happens at the scale: one mix weighed cup by cup. Knows readings, noughts, steadiness and steps; no device and no screen."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Literal, Protocol

from msgspec.structs import replace

from homunculus.core.cure.clock import pot_life_law
from homunculus.core.figures import Phrase
from homunculus.core.job.build import materials_of, mixes_at, piece_of
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import Mix
from homunculus.core.log import Book, EventKind, LogEvent
from homunculus.core.making.mixing import pot_life_here, pour_time
from homunculus.core.making.weighing import Recipe, Steady, Weighing, resume, what_it_did
from homunculus.core.planners.poured import handling, pot_life_factor
from homunculus.core.quantities import System, parse

Phase = Literal["cup", "part", "stir", "end"]
USUAL_STEP_KG = 0.0001
ZERO_S = 3.0
"""A scale that has not come to nought so long after it was asked is read from where it stands: common practice, no source."""


class Around(Protocol):
    """What the weighing needs from where it happens."""

    def now(self) -> datetime:
        """The present moment, naive local."""

    def air_c(self) -> float:
        """Temperature of the bench [°C]."""

    def job(self) -> Job:
        """The job as it stands."""

    def log(self, kind: EventKind, text: str, **fields: object) -> LogEvent:
        """Enter something of a ``kind`` with its ``text`` and other ``fields`` into the log and hand back the entry."""

    def tare(self) -> None:
        """Ask the scale for nought."""


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


class AtTheScale:
    """One weighing and what the pan says.

    Parameters
    ----------
    around
        Clock, air, log and the scale's nought.
    recipe
        What is weighed.
    card
        Of what is mixed.
    book
        The log so far: a weighing that was left goes on from there.
    """

    def __init__(self, around: Around, recipe: Recipe, card: MaterialCard, book: Book) -> None:
        self._around, self.recipe, self.card = around, recipe, card
        entries = book.since_end(recipe.build, recipe.piece, recipe.logged_as)
        self.weighing: Weighing = resume(recipe, entries)
        self.phase: Phase = "cup" if self.weighing.next_part is not None else "stir"
        self.pan = Pan()
        self.lots: dict[str, str] = _last_lots(around.job(), book, card)
        self.did: Phrase = ()
        self._steady = Steady(self.pan.step_kg)
        self._met_at: dict[int, datetime] = {}
        """When the parts of each batch met; the pot life runs from there."""
        self._entries: list[LogEvent] = []
        self._find_started(entries)

    # ------------------------------------------------------------------------------------- the pan
    def meet(self, step_kg: float) -> None:
        """A scale that resolves ``step_kg`` has said who it is."""
        self.pan.step_kg = step_kg
        self._steady = Steady(step_kg)

    def forget_scale(self) -> None:
        """The scale is another one."""
        self.pan = Pan()
        self._steady = Steady(self.pan.step_kg)

    def go_quiet(self, sentence: str) -> None:
        """The scale says nothing, for the reason in ``sentence``; empty when it speaks again."""
        self.pan.quiet = sentence
        self._steady.forget()

    def hear(self, at: float, kg: float, *, beyond: bool = False) -> None:
        """Take in a reading; one that stands within the tolerance is taken as the weight.

        Parameters
        ----------
        at
            Seconds on any clock that does not go back.
        kg
            As the scale shows it.
        beyond
            Whether it is more than the scale bears.
        """
        pan = self.pan
        pan.kg, pan.at, pan.heard, pan.beyond = kg - pan.offset_kg, at, True, beyond
        if pan.zeroing and not self._at_nought(at, kg):
            return
        if self.phase == "part" and not beyond:
            index = self.weighing.next_part
            assert index is not None
            low, high = self.weighing.band(index)
            if index > 0 and pan.kg > 5 * pan.step_kg:
                self._met_at.setdefault(self.weighing.batch, self._around.now())
            weight = self._steady.feed(at, pan.kg, min((high - low) / 8, 15 * pan.step_kg))
            if weight is not None and weight + self.weighing.held(index) >= low:
                self.take(weight)

    def _at_nought(self, at: float, kg: float) -> bool:
        """Whether the scale has come to nought; one that does not within a while is read from where it stands."""
        pan = self.pan
        pan.asked_at = at if pan.asked_at is None else pan.asked_at
        if abs(kg) <= 3 * pan.step_kg:
            pan.offset_kg = 0.0
        elif at - pan.asked_at < ZERO_S:
            return False
        else:
            pan.offset_kg = kg
        pan.kg, pan.zeroing, pan.asked_at = kg - pan.offset_kg, False, None
        return True

    def _tare(self) -> None:
        self._steady.forget()
        if self.pan.heard and not self.pan.quiet and abs(self.pan.kg) < self.pan.step_kg / 2:
            return  # it reads nought already: a tare that came late would swallow the first of the pour
        self.pan.zeroing, self.pan.asked_at = True, None
        self._around.tare()

    @property
    def to_take(self) -> bool:
        """Whether what lies on the pan can be taken as it is."""
        pan = self.pan
        return self.phase == "part" and pan.heard and not (pan.quiet or pan.zeroing) and pan.kg > 2 * pan.step_kg

    # --------------------------------------------------------------------------------------- steps
    def go_on(self) -> None:
        """Do the next step: cup on, take what lies there, stirred and poured."""
        if self.phase == "cup":
            self._tare()
            self.phase = "part"
        elif self.to_take:
            self.take(self.pan.kg)
        elif self.phase == "stir":
            self._poured()

    def take(self, mass: float) -> None:
        """Keep a weight of ``mass`` [kg] of the part that is due."""
        before, index = self.weighing, self.weighing.next_part
        mass = round(mass, 6)  # as the log keeps it, or what is taken back would leave a trace in the cup
        if index is None or mass <= 0:
            return
        self.weighing = before.pour(mass)
        self.did = what_it_did(before, self.weighing)
        part = self.recipe.parts[index].name
        if index > 0:
            self._met_at.setdefault(before.batch, self._around.now())
        words = f"{self.recipe.name}, batch {before.batch} of {self.recipe.batches}"
        self._entries.append(self._log("weighed", words, celsius=self._around.air_c(), weights_kg={part: mass},
                                       lot=self.lots.get(part, ""), mix=self.recipe.mix, batch=before.batch))  # fmt: skip
        self._tare()
        self.phase = "part" if self.weighing.next_part is not None else "stir"

    def type_weight(self, text: str, system: System) -> None:
        """Take a typed weight, ``text`` as read off a dial in a ``system`` of units.

        Raises
        ------
        UserError
            When it is no weight.
        """
        mass = parse(text, "mass", system)
        if self.phase in ("cup", "part"):
            self.phase = "part"
            self.take(mass)

    def take_back(self) -> None:
        """Take the last weight back: it stays in the log, corrected, and the part is due again."""
        if not self._entries or self.phase == "end":
            return
        last = self._entries.pop()
        self._log("correction", f"taken back: {last.text}", corrects=last.id)
        part = next(iter(last.weights_kg))
        index = [p.name for p in self.recipe.parts].index(part)
        cup = list(self.weighing.cup)
        if last.batch == self.weighing.batch and index < len(cup):
            cup[index] = round(max(0.0, cup[index] - last.weights_kg[part]), 6)
            while cup and cup[-1] == 0:
                cup.pop()
            self.weighing = Weighing(self.recipe, self.weighing.done, tuple(cup))
        self.did, self.phase = (), "part"
        self._tare()

    def _poured(self) -> None:
        self.weighing = self.weighing.empty_cup()
        self._entries, self.did = [], ()
        if not self.weighing.finished:
            self.phase = "cup"
            return
        total = {p.name: round(sum(b[i] for b in self.weighing.done), 6) for i, p in enumerate(self.recipe.parts)}
        count = len(self.weighing.done)
        words = f"{self.recipe.name}, {count} {'batch' if count == 1 else 'batches'}"
        self._log("poured", words, celsius=self._around.air_c(), weights_kg=total, mix=self.recipe.mix)
        self.phase = "end"

    def _log(self, kind: EventKind, text: str, **fields: object) -> LogEvent:
        return self._around.log(
            kind, text, build=self.recipe.build, piece=self.recipe.piece, op=self.recipe.op, **fields
        )

    # ---------------------------------------------------------------------------------------- time
    @property
    def pot_life_s(self) -> float:
        """Pot life at the bench's temperature now [s]; 0 where the card has none."""
        if self.card.pot_life_s is None:
            return 0.0
        law = pot_life_law(self.card)
        made = pot_life_here(book=self.card.pot_life_s.value, kinetics=law, bench=self._around.air_c(),
                             stirred=pot_life_factor(self._around.job().cards, self._mix()).value)  # fmt: skip
        return float(made.value)

    def _mix(self) -> Mix:
        """The mix that is weighed, with what is stirred into it."""
        piece = piece_of(self._around.job().build(self.recipe.build), self.recipe.piece)
        return next((m for m in mixes_at(piece, self.recipe.op) if m.name == self.recipe.mix), Mix())

    @property
    def stir_s(self) -> float:
        """How long to stir [s]."""
        return self.card.stir_s.value if self.card.stir_s else 0.0

    @property
    def met(self) -> datetime | None:
        """When the parts of this cup met."""
        return self._met_at.get(self.weighing.batch)

    @property
    def gone_s(self) -> float:
        """Since the parts of this cup met [s]; 0 before."""
        return (self._around.now() - self.met).total_seconds() if self.met else 0.0

    @property
    def left_s(self) -> float:
        """What is left of this cup's pot life [s]; negative when it has gelled."""
        return self.pot_life_s - self.gone_s

    @property
    def hands_s(self) -> float:
        """Seconds that handling this batch still takes, by the shop's own figures."""
        takes = {name: given.value for name, given in handling(self.card, self._around.job().shop.mixing).items()}
        if self.recipe.pace_s_per_kg is not None:
            takes["per_kg"] = self.recipe.pace_s_per_kg
        whole = float(pour_time(batches=1, batch=self.weighing.cup_kg, hands=1, **takes))
        return max(0.0, whole - self.gone_s)

    @property
    def spare_s(self) -> float:
        """What will be left of the pot life when this cup is in the mould [s]; negative when it gels before."""
        return self.left_s - self.hands_s

    def gels(self) -> list[tuple[int, datetime]]:
        """Earlier batches and when they gel, those that have not yet."""
        life = timedelta(seconds=self.pot_life_s)
        return [(n, at + life) for n, at in sorted(self._met_at.items())
                if n < self.weighing.batch and at + life > self._around.now()]  # fmt: skip

    def _find_started(self, entries: Sequence[LogEvent]) -> None:
        """Read off the log when the parts of this pour's batches met, and what is in the cup."""
        first = self.recipe.parts[0].name
        cup = [entry for entry in entries if entry.kind == "weighed" and entry.mix == self.recipe.mix]
        for entry in cup:
            if first not in entry.weights_kg:
                self._met_at.setdefault(entry.batch, entry.at)
        self._entries = [entry for entry in cup if entry.batch == self.weighing.batch]


def _last_lots(job: Job, book: Book, card: MaterialCard) -> dict[str, str]:
    """The newest lot of each part of a material, whichever piece it went into."""
    same = [
        (b.id, p.id)
        for b in job.builds
        for p in b.pieces
        if card.id in materials_of(replace(b, pieces=(p,), assembly=()))
    ]
    names = {part.name for part in card.parts}
    entries = sorted((e for key in same for e in book.of_piece(*key) if e.lot), key=lambda e: e.at)
    return {part: entry.lot for entry in entries for part in entry.weights_kg if part in names or not names}
