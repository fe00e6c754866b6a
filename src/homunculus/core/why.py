"""The words of “why?”, composed only when somebody asks."""

from __future__ import annotations

from msgspec import Struct

from homunculus.core.figures import Figure, Given, Phrase
from homunculus.core.form.measure import Measure
from homunculus.core.quantities import System, Value
from homunculus.core.showing import show, show_given, trimmed


class WhyInput(Struct, frozen=True):
    """One input: its label, its value in words, and where it comes from."""

    label: str
    value: str
    origin: str
    figure: Figure | None = None


class Why(Struct, frozen=True):
    """The explanation of one figure."""

    label: str
    subject: str
    """Whom it speaks of, in words; empty where it is the whole job."""
    value: str
    formula: str
    inputs: tuple[WhyInput, ...]
    source: str
    meaning: str
    notes: tuple[str, ...]

    def lines(self) -> tuple[str, ...]:
        """Plain text, a line each."""
        head = f"{self.label} = {self.value}" + (f"  ({self.subject})" if self.subject else "")
        rows = [f"{item.label}: {item.value}  ({item.origin})" for item in self.inputs]
        return (head, self.meaning, f"Rule: {self.formula}", *rows, f"Source: {self.source}", *self.notes)


def why(figure: Figure, system: System = "metric", currency: str = "€") -> Why:
    """Explain a figure from its own record.

    Parameters
    ----------
    figure
        Any figure of a plan.
    system
        Of units.
    currency
        Sign for money.
    """
    inputs = []
    for name, item in figure.inputs:
        if isinstance(item, Figure):
            value = _words(item.value, item, system, currency)
            inputs.append(WhyInput(_label(item, figure), value, "reckoned", item))
        else:
            origin = "decided" if item.decided else item.source or "given"
            inputs.append(WhyInput(item.label or name, _given_words(item, system, currency), origin))
    return Why(
        figure.spec.label,
        figure.subject.words,
        _words(figure.value, figure, system, currency),
        figure.rule.formula,
        tuple(inputs),
        figure.rule.source,
        figure.spec.meaning,
        figure.notes,
    )


def show_figure(figure: Figure, system: System = "metric", currency: str = "€") -> str:
    """Number and unit of a ``figure`` in a ``system`` of units, money in the ``currency``."""
    return _words(figure.value, figure, system, currency)


def _words(value: Value, figure: Figure, system: System, currency: str) -> str:
    if figure.spec.kind == "thing":
        return _thing(value, system)
    return str(show(value, figure.spec.kind, system, figure.spec.digits, currency))


def _given_words(item: Given, system: System, currency: str) -> str:
    if item.kind == "thing":
        return _thing(item.value, system)
    return str(show_given(item.value, item.kind, system, currency))


def _thing(value: object, system: System) -> str:
    if isinstance(value, Measure):
        return f"{show(value.volume, 'volume', system)}, surface {show(value.area, 'area', system)}"
    if isinstance(value, tuple) and value and all(isinstance(v, float) for v in value):
        return ", ".join(f"{v:g}" for v in value)
    return ""


def phrase(parts: Phrase, system: System = "metric", currency: str = "€") -> str:
    """Put a sentence with live numbers together.

    Parameters
    ----------
    parts
        Words, figures and given values.
    system
        Of units.
    currency
        Sign for money.
    """
    said = []
    for part in parts:
        if isinstance(part, str):
            said.append(part)
        elif isinstance(part, Figure):
            said.append(_words(part.value, part, system, currency))
        else:
            said.append(str(trimmed(show(part.value, part.kind, system, 3, currency))))
    return "".join(said)


def _label(item: Figure, of: Figure) -> str:
    """What an input is called beside the others: those that differ by what they speak of say so."""
    other = item.subject.detail and item.subject.detail != of.subject.detail
    return f"{item.spec.label}, {item.subject.detail}" if other else item.spec.label
