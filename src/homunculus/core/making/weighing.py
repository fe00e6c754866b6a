"""Weighing a mix, cup by cup: what to pour next, what an over-pour does to the rest, when a reading may be taken.

A part that went over is saved by re-targeting the others; the batches still to come share what is then left.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from statistics import fmean, median

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.figures import Given, Phrase
from homunculus.core.job.cards import Part
from homunculus.core.log import LogEvent

STEADY_S = 2.0
"""A reading is taken when it has stood so long: common practice, no source."""


class Recipe(Struct, frozen=True):
    """What is to be weighed for one mix. Masses in kg."""

    build: str
    piece: str
    mix: str
    name: str
    parts: tuple[Part, ...]
    """By weight, in the order of pouring; pigment and softener stand among them."""
    total_kg: float
    batches: int
    most_kg: float
    """The largest batch that vessel and pot life allow."""
    tolerance: float
    """Share by which a part may miss its weight."""
    op: str = ""
    """Of which operation."""
    logged_as: tuple[str, ...] = ("",)
    """The names under which the log knows that."""
    pace_s_per_kg: float | None = None
    """How long a kilogram takes to be worked in, where it is not poured at once."""

    @property
    def all_parts(self) -> float:
        """Sum of the parts."""
        return sum(part.parts for part in self.parts)


class Weighing(Struct, frozen=True):
    """Where the weighing of a recipe stands: batches done, and what is in the cup."""

    recipe: Recipe
    done: tuple[tuple[float, ...], ...] = ()
    """Weights by part of each finished batch [kg]."""
    cup: tuple[float, ...] = ()
    """Weights by part in the present cup [kg]; shorter than the parts while some are still to come."""

    @property
    def batch(self) -> int:
        """Number of the present batch, from 1."""
        return len(self.done) + 1

    @property
    def finished(self) -> bool:
        """Whether all is weighed: every batch, or so much in fewer that what is left is within the tolerance of one."""
        rest = self.recipe.total_kg - sum(map(sum, self.done))
        one = self.recipe.total_kg / max(self.recipe.batches, 1)
        return len(self.done) >= self.recipe.batches or rest <= one * self.recipe.tolerance

    @property
    def share_kg(self) -> float:
        """Mass of each batch still to come, the present one among them, as they share what is left."""
        left = self.recipe.batches - len(self.done)
        return max(0.0, self.recipe.total_kg - sum(map(sum, self.done))) / left if left > 0 else 0.0

    @property
    def per_part(self) -> float:
        """Mass that one part by weight has in this cup [kg]: the fullest part sets it for all."""
        poured = [mass / part.parts for mass, part in zip(self.cup, self.recipe.parts, strict=False) if mass > 0]
        return max(poured) if poured else self.share_kg / self.recipe.all_parts

    @property
    def targets(self) -> tuple[float, ...]:
        """What each part of this cup shall weigh in the end [kg]."""
        return tuple(part.parts * self.per_part for part in self.recipe.parts)

    def band(self, index: int) -> tuple[float, float]:
        """From where to where part ``index`` is good [kg]."""
        target = self.targets[index]
        return target * (1 - self.recipe.tolerance), target * (1 + self.recipe.tolerance)

    def held(self, index: int) -> float:
        """What the cup holds of part ``index`` [kg]."""
        return self.cup[index] if index < len(self.cup) else 0.0

    @property
    def next_part(self) -> int | None:
        """Index of the part to pour now: the first that is missing or, after an over-pour, short. None when mixed."""
        for index, target in enumerate(self.targets):
            if self.held(index) < target * (1 - self.recipe.tolerance) - 1e-12:
                return index
        return None

    def pour(self, mass: float) -> Weighing:
        """Put ``mass`` [kg] of the part that is due into the cup."""
        index = self.next_part
        if index is None or mass <= 0:
            return self
        cup = list(self.cup) + [0.0] * (index + 1 - len(self.cup))
        cup[index] += mass
        return replace(self, cup=tuple(cup))

    def empty_cup(self) -> Weighing:
        """Count the cup as a finished batch; one that lacks a part stays."""
        if self.next_part is not None:
            return self
        return Weighing(self.recipe, (*self.done, self.cup), ())

    @property
    def cup_kg(self) -> float:
        """What the cup will weigh when all its parts are in [kg]."""
        return sum(self.targets)

    @property
    def later_kg(self) -> float:
        """Mass of each batch after this one [kg]; 0 when this is the last."""
        left = self.recipe.batches - len(self.done) - 1
        rest = self.recipe.total_kg - sum(map(sum, self.done)) - self.cup_kg
        return max(0.0, rest) / left if left > 0 else 0.0

    @property
    def too_much(self) -> bool:
        """Whether the cup outgrows what vessel and pot life allow."""
        return self.cup_kg > self.recipe.most_kg * 1.0005

    def asked(self, index: int) -> float:
        """What part ``index`` would weigh had nothing gone over or under in this cup [kg]."""
        return self.share_kg / self.recipe.all_parts * self.recipe.parts[index].parts

    def over(self, index: int) -> float:
        """By how much part ``index`` outweighs the others in the cup, or what was asked where it stands alone [kg]; 0 if not."""
        poured = zip(self.cup, self.recipe.parts, strict=False)
        others = [mass / part.parts for i, (mass, part) in enumerate(poured) if i != index and mass > 0]
        fair = max(others) * self.recipe.parts[index].parts if others else self.asked(index)
        return max(0.0, self.held(index) - fair)


def what_it_did(before: Weighing, after: Weighing) -> Phrase:
    """Say what the last weight did to the rest, where it did anything worth saying.

    Parameters
    ----------
    before, after
        The weighing without and with that weight.

    Returns
    -------
    tuple
        Words and live weights; empty when the part came in as asked.
    """
    index = before.next_part
    if index is None:
        return ()
    parts, asked, got = after.recipe.parts, before.targets[index], after.held(index)
    over = got - asked
    if abs(over) <= asked * 0.002:
        return ()
    way = " over" if over > 0 else " under"
    said: list[str | Given] = [f"{parts[index].name} went ", Given(abs(over), "mass", "missed by"), way]
    if math.isclose(after.per_part, before.per_part):  # a fuller part sets the cup: this one is only short
        return (*said, ".")
    moved = [i for i, t in enumerate(after.targets) if i != index and after.held(i) < t * (1 - after.recipe.tolerance)]
    for i, word in zip(moved, (", so {} is ", ", and {} "), strict=False):
        said += [word.format(parts[i].name), Given(after.targets[i], "mass", "now"), " instead of ",
                 Given(before.targets[i], "mass", "before")]  # fmt: skip
    said.append(".")
    if after.too_much:
        said += [
            " That is more than one batch may be (",
            Given(after.recipe.most_kg, "mass", "most"),
            "): pour it at once.",
        ]
    if after.batch < after.recipe.batches:
        later = "Batch" if after.recipe.batches - after.batch == 1 else "Each batch"
        which = f" {after.recipe.batches}" if later == "Batch" else " after it"
        said += [
            f" {later}{which} {'shrinks' if over > 0 else 'grows'} to ",
            Given(after.later_kg, "mass", "later"),
            ".",
        ]
    return tuple(said)


def resume(recipe: Recipe, log: Sequence[LogEvent]) -> Weighing:
    """Take up a weighing where the log left it.

    Parameters
    ----------
    recipe
        What is weighed.
    log
        Standing entries, oldest first.

    Returns
    -------
    Weighing
        Fresh when the last pour of this mix was finished, opened or spoiled.
    """
    weighing = Weighing(recipe)
    names = [part.name for part in recipe.parts]
    for entry in log:
        if (entry.build, entry.piece) != (recipe.build, recipe.piece) or entry.op not in recipe.logged_as:
            continue
        if entry.kind in ("poured", "opened", "spoiled"):
            weighing = Weighing(recipe)
        elif entry.kind == "weighed" and entry.mix == recipe.mix and set(entry.weights_kg) <= set(names):
            if entry.batch > weighing.batch and any(weighing.cup):
                weighing = Weighing(recipe, (*weighing.done, weighing.cup), ())
            cup = list(weighing.cup) + [0.0] * (len(names) - len(weighing.cup))
            for name, mass in entry.weights_kg.items():
                cup[names.index(name)] += mass
            weighing = replace(weighing, cup=tuple(cup))
    return weighing


class Steady:
    """Watches readings and tells when one may be taken: it stood for two seconds and does not creep.

    Parameters
    ----------
    step_kg
        What the scale resolves.
    """

    def __init__(self, step_kg: float) -> None:
        self.step = step_kg
        self._readings: list[tuple[float, float]] = []

    def forget(self) -> None:
        """Begin anew, as after a tare."""
        self._readings = []

    def feed(self, at: float, kg: float, band: float = 0.0) -> float | None:
        """Take in a reading.

        Parameters
        ----------
        at
            Seconds on any clock that does not go back.
        kg
            The reading.
        band
            Spread that passes as steady [kg]; two steps of the scale at least.

        Returns
        -------
        float or None
            The weight, once it has stood for :data:`STEADY_S`.
        """
        self._readings.append((at, kg))
        while self._readings and at - self._readings[0][0] > STEADY_S * 1.25:
            self._readings.pop(0)
        if at - self._readings[0][0] < STEADY_S or len(self._readings) < 6:
            return None
        weights = [w for t, w in self._readings if at - t <= STEADY_S]
        allowed = max(2 * self.step, band)
        half = len(weights) // 2
        creep = abs(fmean(weights[half:]) - fmean(weights[:half]))
        if max(weights) - min(weights) > allowed * 1.001 or creep > max(self.step, allowed / 6) * 0.999:
            return None
        return round(median(weights) / self.step) * self.step


def inward(low: float, high: float, step: float) -> tuple[float, float]:
    """Round a band inward to what a scale with that ``step`` can show: ``low`` up, ``high`` down."""
    return math.ceil(low / step - 1e-9) * step, math.floor(high / step + 1e-9) * step
