"""Figures: what the plan reckons, each with how it came.

A figure is made by one call, :func:`derive`, which runs the rule and records its inputs, so that the
explanation cannot drift from the number. The words of the explanation are composed only when asked for
(:mod:`homunculus.core.why`).
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, Literal, NamedTuple

from msgspec import Struct

from homunculus.core.quantities import Kind, Value

Station = Literal["shot", "scale", "lens", "mould", "mix", "cure", "shoot"]
STATIONS: tuple[Station, ...] = ("shot", "scale", "lens", "mould", "mix", "cure", "shoot")


class FigureSpec(Struct, frozen=True, eq=False):
    """What a figure is: a stable name, its label on screen, its kind of quantity and its meaning."""

    name: str
    label: str
    kind: Kind
    station: Station
    meaning: str
    digits: int = 3
    rank: int = 20
    """How early the ledger shows that it moved; 1 is first."""


class Subject(Struct, frozen=True):
    """Whom a figure speaks of: a build, one of its pieces, a shot, and what of them."""

    build: str = ""
    piece: str = ""
    shot: str = ""
    camera: str = ""
    """One of several cameras of a shot."""
    op: str = ""
    """One operation of a route or an assembly."""
    mix: str = ""
    """One of several mixes of a mould."""
    part: str = ""
    """One part of a mix, or something stirred in."""
    variant: str = ""
    """One of the forms that a piece comes in."""
    use: str = ""
    """One of several uses of a build in a shot; or what a thing is used for, as “casting”."""
    move: str = ""
    """Something that moves."""

    @property
    def detail(self) -> str:
        """What of the piece or the shot, in words; empty when it is the whole of it."""
        return ": ".join(
            x
            for x in (self.camera, self.op.replace("-", " "), self.mix, self.part, self.variant, self.use, self.move)
            if x
        )

    @property
    def words(self) -> str:
        """Whom it speaks of, for a reader: build, piece, what of it, shot."""
        return ", ".join(x for x in (self.build, self.piece, self.detail, self.shot and f"shot {self.shot}") if x)

    def __str__(self) -> str:
        piece = f"/{self.piece}" if self.piece else ""
        detail = f"/{self.detail}" if self.detail else ""
        return self.build + piece + detail + (f"@{self.shot}" if self.shot else "")


class Given(NamedTuple):
    """An input that a person gave: read off a card, the shop or a shot, or decided by hand."""

    value: Any
    kind: Kind
    label: str
    source: str = ""
    decided: bool = False

    @property
    def number(self) -> float:
        """The value as a float."""
        return float(self.value)


class Outcome(NamedTuple):
    """What a rule returns when it has something to say besides the value."""

    value: Any
    notes: tuple[str, ...] = ()


class Rule(Struct, frozen=True, eq=False):
    """A formula with its source; call it as the function it wraps."""

    function: Callable[..., Any]
    formula: str
    source: str

    def __call__(self, **inputs: Any) -> Any:
        """Run the formula on bare values."""
        return self.function(**inputs)

    @property
    def name(self) -> str:
        """The function's own name."""
        return self.function.__name__


def rule(formula: str, source: str) -> Callable[[Callable[..., Any]], Rule]:
    """Make a function a rule of the program.

    Parameters
    ----------
    formula
        As a person would write it, in words or plain letters.
    source
        Standard, textbook, “common practice, no source” or “geometry”.

    Returns
    -------
    Callable
        A decorator that returns a :class:`Rule`.
    """

    def wrap(function: Callable[..., Any]) -> Rule:
        return Rule(function, formula, source)

    return wrap


class Figure(Struct, frozen=True, eq=False):
    """A reckoned value with its rule, its inputs and what has to be minded about it."""

    spec: FigureSpec
    subject: Subject
    value: Value
    rule: Rule
    inputs: tuple[tuple[str, Figure | Given], ...]
    notes: tuple[str, ...] = ()

    @property
    def number(self) -> float:
        """The value as a float.

        Raises
        ------
        TypeError
            When the figure is a moment or a text.
        """
        if isinstance(self.value, int | float):
            return float(self.value)
        raise TypeError(f"{self.spec.name} is not a number")

    def __repr__(self) -> str:
        """Short: inputs share inputs, and written out in full they would not end."""
        return f"Figure({self.spec.name} of {self.subject} = {self.value!r})"


def derive(spec: FigureSpec, rule: Rule, subject: Subject, /, **inputs: Figure | Given) -> Figure:
    """Run a rule on figures and given values, and keep what went in beside what came out.

    Parameters
    ----------
    spec
        Which figure this is.
    rule
        The formula; it receives bare values by the names of ``inputs``.
    subject
        Whom it speaks of.
    **inputs
        Figures or given values, never bare numbers, so that “why?” can name each.

    Returns
    -------
    Figure
        The value with its history.
    """
    items, values = tuple(inputs.items()), {}
    for name, item in items:  # a loop: this is run more often than all else
        values[name] = item.value
    result = rule.function(**values)
    if type(result) is Outcome:
        return Figure(spec, subject, result.value, rule, items, result.notes)
    return Figure(spec, subject, result, rule, items)


# A sentence with live numbers in it: words, figures and given values, put together when shown.
Phrase = tuple[str | Figure | Given, ...]
