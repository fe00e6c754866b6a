"""A card as its data sheet: one row a value, with where it comes from; read as people type it, and back.

A row left as it was shown keeps its value to the last digit. “1.12 g/cm³ from data sheet, March” says value and provenance at once.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, NamedTuple, Union, get_args, get_origin, get_type_hints

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.edits.decisions import bounds
from homunculus.core.errors import UserError
from homunculus.core.job.bodies import Level
from homunculus.core.job.cameras import CameraMode
from homunculus.core.job.cards import Hardness, Pack, Part
from homunculus.core.job.decided import Decided, Told, metas
from homunculus.core.job.sourced import Sourced
from homunculus.core.quantities import BELOW_NOUGHT, NBSP, YEAR, Kind, System, parse, without_noise
from homunculus.core.shelf.phrases import (
    read_days,
    read_hardness,
    read_level,
    read_modes,
    read_packs,
    read_parts,
    read_weekdays,
    show_days,
    show_hardness,
    show_level,
    show_modes,
    show_packs,
    show_parts,
    show_weekdays,
)
from homunculus.core.showing import show, trimmed

HERE = "typed by hand"
"""Provenance of what is typed without one."""
NOBODY = "nobody has said yet"
"""Provenance of what a new card begins with."""
LABELS = {
    "parts": "mixed of", "parts_by": "mixed by", "flow": "flows", "clock": "sets by", "degassed": "air drawn out", "packs": "sold in",
    "humidity": "air’s moisture", "release": "release it needs", "bonds_to": "grips", "poisoned_by": "cure stopped by",
    "hardness": "hardness, Shore", "nearest_from": "measured from", "vacuum": "for drawing air out", "build_kinds": "brought by builds",
    "said": "brought by words", "steps": "shown at", "decides": "who decides", "weekdays": "comes on", "days_off": "days off",
}  # fmt: skip
"""What rows are called where the field's own name is not it."""
LONG_S = 60 * 86400.0
"""From how long on a time is told in months or years."""
_SENTENCES = ("cautions",)
"""Lists of sentences, parted by a stroke; all others by commas."""


class Row(NamedTuple):
    """One row of a data sheet."""

    key: str
    label: str
    text: str
    """As it is typed; empty where nobody has said."""
    source: str = ""
    """Where the value comes from; empty where nothing is known of it, as of words."""
    sourced: bool = False
    """Whether the row has a provenance."""
    kind: Kind | None = None
    choices: tuple[str, ...] = ()
    """What it can be, where that is one of a few words."""


class _Field(NamedTuple):
    """How a field of a card stands on its sheet."""

    name: str
    label: str
    optional: bool
    bare: Any
    kind: Kind | None
    signed: bool


@cache
def _fields(card: type[Struct]) -> tuple[_Field, ...]:
    found = []
    for name, hint in get_type_hints(card, include_extras=True).items():
        if name == "id":
            continue
        bare, optional = _bare(hint)
        said = next((m.extra[k] for m in metas(hint) if m.extra for k in ("told", "decided") if k in m.extra), None)
        label = said.label if isinstance(said, Told | Decided) else LABELS.get(name, name.replace("_", " "))
        signed = isinstance(said, Told) and said.signed
        found.append(_Field(name, label, optional, bare, said.kind if said else None, signed))
    return tuple(found)


def _bare(hint: Any) -> tuple[Any, bool]:
    """The type of a value without bounds, and whether it may be none."""
    if get_origin(hint) is Annotated:
        return _bare(get_args(hint)[0])
    if get_origin(hint) in (Union, UnionType):
        parts = [part for part in get_args(hint) if part is not type(None)]
        return _bare(parts[0])[0], len(parts) < len(get_args(hint))
    return hint, False


def keys(card: type[Struct]) -> tuple[tuple[str, str], ...]:
    """The keys and labels of all rows that a ``card`` of a type can have."""
    return tuple((field.name, field.label) for field in _fields(card))


def kind_of_row(card: type[Struct], key: str) -> Kind | None:
    """Which kind of quantity stands in the row ``key`` of a type of ``card``; none where it is words."""
    return next((field.kind for field in _fields(card) if field.name == key), None)


def is_sourced(card: type[Struct], key: str) -> bool:
    """Whether the row ``key`` of a type of ``card`` has a provenance."""
    return any(_has_source(field) for field in _fields(card) if field.name == key)


def _has_source(field: _Field) -> bool:
    return field.bare in (Sourced, Hardness) or _item(field.bare) is CameraMode


def _source(value: Any) -> str:
    """Where a value comes from; of modes, where the first does."""
    if isinstance(value, tuple):
        value = value[0].sensor_width_m if value else None
    return value.source if value is not None else ""


def _come_from(value: Any, source: str) -> Any:
    """A value that comes from another source; of modes, all that they say."""
    if isinstance(value, tuple):
        fields = ("sensor_width_m", "sensor_height_m", "pixels_across")
        return tuple(replace(mode, **{f: replace(getattr(mode, f), source=source) for f in fields}) for mode in value)
    return replace(value, source=source)


def _each(card: Any, field: _Field, system: System) -> list[Row]:
    """The rows of a list whose items stand one a row, each known by its name, and an empty one for one more."""
    show_one = _PER_ITEM[_item(field.bare)][1]
    made = [
        Row(f"{field.name}:{one.name}", one.name, show_one(one, system).replace(NBSP, " "), one.source, True)
        for one in getattr(card, field.name)
    ]
    return [*made, Row(f"{field.name}:", f"one more of the {field.label}", "")]


def _read_each(card: Any, field: _Field, name: str, text: str, system: System, source: str) -> Any:
    """A card in which the item of a name says something else, is gone where nothing is typed, or is there where it has no name yet."""
    read_one, show_one = _PER_ITEM[_item(field.bare)]
    items = getattr(card, field.name)
    before = next((one for one in items if one.name == name), None)
    if name and before is None:
        raise UserError(f"There is no “{name}” on this sheet", remedy="Type it as one more")
    said, whence = _parted(text)
    whence = whence or source
    if before is None:
        return _with_items(card, field, (*items, read_one(said, None, system, whence or HERE))) if said else card
    if not said and not whence:
        return replace(card, **{field.name: tuple(one for one in items if one is not before)})
    as_it_is = said in ("", show_one(before, system).replace(NBSP, " "))
    if as_it_is and not whence:
        return card
    if as_it_is:  # only where it comes from was typed
        made_one = replace(before, source=whence)
    else:
        made_one = read_one(said if ":" in said else f"{before.name}: {said}", before, system, whence or HERE)
    return _with_items(card, field, tuple(made_one if one is before else one for one in items))


def _with_items(card: Any, field: _Field, items: tuple[Any, ...]) -> Any:
    names = [one.name for one in items]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise UserError(f"There is a {twice} already", remedy="Give it another name")
    return checked(replace(card, **{field.name: items}))


def rows(card: Struct, system: System = "metric", currency: str = "€") -> tuple[Row, ...]:
    """All rows of a ``card``, with quantities in a ``system`` of units and money in a ``currency``.

    First those that say something of their own, then what is so where nobody says otherwise, last what nobody has said.
    """
    usual = {f.name: f.default for f in msgspec.structs.fields(type(card))}
    fields = [field for field in _fields(type(card)) if _item(field.bare) not in _PER_ITEM]
    all_rows = [_row(card, field, system, currency) for field in fields]
    said = [row for row in all_rows if row.text and getattr(card, row.key) != usual[row.key]]
    each = [
        row for field in _fields(type(card)) if _item(field.bare) in _PER_ITEM for row in _each(card, field, system)
    ]
    return (
        *said,
        *each,
        *(row for row in all_rows if row.text and row not in said),
        *(row for row in all_rows if not row.text),
    )


def row_of(card: Struct, key: str, system: System = "metric", currency: str = "€") -> Row:
    """The row ``key`` of a ``card``, in a ``system`` and a ``currency``.

    Raises
    ------
    UserError
        When such cards have no such row.
    """
    field = _field_of(card, key.partition(":")[0])
    if _item(field.bare) in _PER_ITEM:
        return next(row for row in _each(card, field, system) if row.key == key or row.key == f"{field.name}:")
    return _row(card, field, system, currency)


def _field_of(card: Struct, key: str) -> _Field:
    found = _fields(type(card))
    asked = key.strip().casefold()
    field = next((f for f in found if asked in (f.name, f.label.casefold())), None)
    if field is None:
        near = [f.label for f in found if asked and asked in f.label.casefold()] or [f.label for f in found]
        raise UserError(f"There is no row “{key.strip()}” on this sheet", remedy=f"There are {', '.join(near[:8])}")
    return field


def _field_named(card: Any, owner: str, name: str) -> _Field:
    """The field of a row; items of a list that stand one a row are found by their own names too."""
    kind: Any = type(card)
    for field in _fields(kind):
        if _item(field.bare) in _PER_ITEM and any(
            one.name.casefold() == owner.strip().casefold() for one in getattr(card, field.name)
        ):
            return field
    return _field_of(card, owner)


def _row(card: Struct, field: _Field, system: System, currency: str) -> Row:
    value = getattr(card, field.name)
    sourced = _has_source(field)
    choices = get_args(field.bare) if get_origin(field.bare) is Literal else ()
    return Row(field.name, field.label, _text(value, field, system, currency), _source(value) if sourced else "",
               sourced, field.kind, tuple(choice for choice in choices if choice))  # fmt: skip


def _text(value: Any, field: _Field, system: System, currency: str) -> str:
    if value is None or value == () or value == "":
        return ""
    if isinstance(value, Sourced):
        value = value.value
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return shown(value, field.kind or "factor", system, currency)
    special = _SPECIAL.get(_item(field.bare)) or _BY_NAME.get(field.name)
    if special:
        return special[1](value, system).replace(NBSP, " ")
    if isinstance(value, tuple):
        return (" | " if field.name in _SENTENCES else ", ").join(map(str, value))
    return str(value)


def shown(value: float, kind: Kind, system: System, currency: str = "€") -> str:
    """A ``value`` of a ``kind`` as it stands on a sheet and is read back, in a ``system`` and a ``currency``."""
    if kind == "duration" and value >= LONG_S:
        unit, size = ("years", YEAR) if value >= 2 * YEAR else ("months", YEAR / 12)
        return f"{value / size:.3g} {unit}"
    sign = "−" if value < 0 and kind not in BELOW_NOUGHT else ""
    made = trimmed(show(abs(value) if sign else value, kind, system, 4, currency))
    return sign + str(made).replace(NBSP, " ")


def read_row(card: Any, key: str, text: str, system: System = "metric", currency: str = "€", source: str = "") -> Any:
    """Make the card of which one row says something else.

    Parameters
    ----------
    card
        As it is.
    key
        Which row: its field, or what it is called.
    text
        As typed, in a ``system`` of units and a ``currency``; with “from …” at its end where it comes from. Nothing takes the value away.
    source
        Where it comes from, where the text does not say; where neither does, the value keeps its provenance when it stays the same.

    Raises
    ------
    UserError
        When the row or the value cannot be; the message says what it can.
    """
    owner, _, name = key.partition(":")
    field = _field_named(card, owner, name)
    if _item(field.bare) in _PER_ITEM:
        return _read_each(card, field, name or ("" if owner == field.name else owner), text, system, source)
    before = getattr(card, field.name)
    sourced = _has_source(field)
    said, whence = _parted(text) if sourced else (" ".join(text.split()), "")
    now = _text(before, field, system, currency)
    if said == now and not (whence or source):
        return card
    if not said and whence and before is not None:
        said = now  # only where it comes from was typed
    if not said:
        value = _emptied(card, field)
    elif said == now and sourced:
        value = _come_from(before, whence or source)
    else:
        value = _read(said, field, system, whence or source or HERE)
    return checked(replace(card, **{field.name: value}))


def with_source(card: Any, key: str, source: str) -> Any:
    """The ``card`` of which the row ``key`` comes from another ``source``.

    Raises
    ------
    UserError
        When the row has no value, or no provenance.
    """
    owner, _, name = key.partition(":")
    field = _field_of(card, owner)
    if _item(field.bare) in _PER_ITEM:
        items = getattr(card, field.name)
        return replace(
            card,
            **{
                field.name: tuple(
                    replace(one, source=" ".join(source.split()) or HERE) if one.name == name else one for one in items
                )
            },
        )
    before = getattr(card, field.name)
    if not _has_source(field):
        raise UserError(
            f"{field.label.capitalize()} is words: nobody asks where they come from", remedy="Type the value"
        )
    if not before:
        raise UserError(f"{field.label.capitalize()} has no value yet", remedy="Type the value first")
    return replace(card, **{field.name: _come_from(before, " ".join(source.split()) or HERE)})


def _parted(text: str) -> tuple[str, str]:
    """A typed row as its value and its provenance."""
    value, _, source = f" {' '.join(text.split())} ".partition(" from ")
    return value.strip(), source.strip()


def _emptied(card: Any, field: _Field) -> Any:
    if field.optional:
        return None
    if field.name == "name" or field.bare in (Sourced, float, int):
        raise UserError(f"Without {field.label} the card says too little", remedy="Type another value")
    return _default(type(card), field)


def _default(card: type[Struct], field: _Field) -> Any:
    known = next(f for f in msgspec.structs.fields(card) if f.name == field.name)
    if known.default is not msgspec.NODEFAULT:
        return known.default
    if get_origin(field.bare) is tuple:
        return ()
    raise UserError(f"Without {field.label} the card says too little", remedy="Type another value")


def _read(text: str, field: _Field, system: System, source: str) -> Any:
    if field.bare is Sourced:
        return Sourced(_number(text, field, system), source)
    if field.bare is Hardness:
        return read_hardness(text, source)
    if field.bare in (float, int):
        number = _number(text, field, system)
        return round(number) if field.bare is int else number
    if field.bare is bool:
        return _yes(text, field)
    if get_origin(field.bare) is Literal:
        return _choice(text, field)
    special = _SPECIAL.get(_item(field.bare)) or _BY_NAME.get(field.name)
    if special:
        return special[0](text, system, source)
    if get_origin(field.bare) is tuple:
        mark = "|" if field.name in _SENTENCES else ","
        return tuple(dict.fromkeys(part for part in (" ".join(p.split()) for p in text.split(mark)) if part))
    return text


def _number(text: str, field: _Field, system: System) -> float:
    kind: Kind = field.kind or "factor"
    negative = field.signed and kind != "temperature" and text.startswith(("-", "−"))
    if kind in ("money", "money_per_mass"):  # whatever the sign of the currency is
        text = re.sub(r"^[^\d.,]{1,4}\s*|\s*[^\w\s./,]{1,4}$", "", text) or text
    value = parse(text[1:] if negative else text, kind, system)
    return -without_noise(value) if negative else without_noise(value)


def _yes(text: str, field: _Field) -> bool:
    if text.casefold() not in ("yes", "no"):
        raise UserError(f"“{text}” is neither yes nor no", remedy=f"{field.label.capitalize()}: type yes or no")
    return text.casefold() == "yes"


def _choice(text: str, field: _Field) -> str:
    choices = [str(choice) for choice in get_args(field.bare) if choice]
    found = [c for c in choices if c.casefold() == text.casefold()] or [
        c for c in choices if c.casefold().startswith(text.casefold())
    ]
    if len(found) != 1:
        raise UserError(
            f"“{text}” is not one of what {field.label} can be", remedy=f"Choose one of: {', '.join(choices)}"
        )
    return found[0]


def _item(bare: Any) -> Any:
    """Of what a list is a list; nothing where it is none."""
    return get_args(bare)[0] if get_origin(bare) is tuple else bare


def checked(card: Any) -> Any:
    """The ``card`` again, held against its types.

    Raises
    ------
    UserError
        When a value is out of bounds; the message names the row.
    """
    try:
        return msgspec.convert(msgspec.to_builtins(card), type(card))
    except msgspec.ValidationError as trouble:
        what, _, where = str(trouble).partition(" - at `$.")
        name = re.split(r"[.\[`]", where)[0]
        kind: Any = type(card)
        field = next((f for f in _fields(kind) if f.name == name), None)
        label = field.label.capitalize() if field else "A value"
        low, high = bounds(kind, name) if field and field.bare in (float, int) else (0.0, 0.0)
        limits = (
            f"It goes from {show(low, field.kind)} to {show(high, field.kind)}"
            if field and field.kind and high
            else f"It goes from {low:g} to {high:g}"
            if high
            else "One at least is needed"
            if "of length >= 1" in what
            else "Type another value"
        )
        raise UserError(f"{label} cannot be that", remedy=limits) from None


_Special = tuple[Callable[[str, System, str], Any], Callable[[Any, System], str]]
_SPECIAL: dict[Any, _Special] = {
    Hardness: (lambda text, _, source: read_hardness(text, source), lambda value, _: show_hardness(value)),
    Part: (lambda text, system, source: read_parts(text, system, source), show_parts),
    Pack: (lambda text, system, _: read_packs(text, system), show_packs),
    CameraMode: (read_modes, show_modes),
}
_PER_ITEM: dict[Any, tuple[Callable[[str, Any, System, str], Any], Callable[[Any, System], str]]] = {
    Level: (read_level, show_level)
}
"""Lists whose items stand one a row."""
_BY_NAME: dict[str, _Special] = {
    "weekdays": (lambda text, _, __: read_weekdays(text), lambda value, _: show_weekdays(value)),
    "days_off": (lambda text, _, __: read_days(text), lambda value, _: show_days(value)),
}


def is_list(card: type[Struct], key: str) -> bool:
    """Whether the items of the list ``key`` of a type of ``card`` stand one a row."""
    return any(_item(field.bare) in _PER_ITEM for field in _fields(card) if field.name == key)


def whole_list(card: Any, key: str) -> str:
    """All items of the list ``key`` of a ``card`` in one text, parted by strokes, each with where it comes from."""
    rows_of = [row for row in _each(card, _field_of(card, key), "metric") if row.text]
    return " | ".join(f"{row.label}: {row.text} from {row.source}" for row in rows_of)


def with_whole_list(card: Any, key: str, text: str, system: System, source: str) -> Any:
    """The ``card`` whose list ``key`` is as a ``text`` has it, in a ``system`` of units; items that say no ``source`` of their own come from it.

    Raises
    ------
    UserError
        When an item cannot be read.
    """
    made = replace(card, **{key: ()})
    for part in filter(str.strip, text.split("|")):
        made = read_row(made, f"{key}:", part, system, source=source if " from " not in part else "")
    before = {one.name: one for one in getattr(card, key)}
    shown = {row.label: row for row in _each(card, _field_of(card, key), "metric")}
    again = {row.label: row for row in _each(made, _field_of(card, key), "metric")}
    kept = tuple(
        before[one.name] if one.name in before and again[one.name] == shown.get(one.name) else one
        for one in getattr(made, key)
    )
    return replace(made, **{key: kept})


class Beside(NamedTuple):
    """A row of two cards beside each other."""

    key: str
    label: str
    one: Row
    other: Row

    @property
    def differs(self) -> bool:
        """Whether the two say something else; where it comes from does not count."""
        return self.one.text != self.other.text


def _each_beside(one: list[Row], other: list[Row]) -> Iterator[Beside]:
    """Items by their names, those of the first card in its order."""
    theirs = {row.key: row for row in other}
    for row in (*one, *(r for r in other if r.key not in {o.key for o in one})):
        mine = next((r for r in one if r.key == row.key), Row(row.key, row.label, ""))
        yours = theirs.get(row.key, Row(row.key, row.label, ""))
        if mine.text or yours.text:
            yield Beside(row.key, row.label, mine, yours)


def beside(one: Struct, other: Struct, system: System = "metric", currency: str = "€") -> tuple[Beside, ...]:
    """The rows of ``one`` card beside those of an ``other`` of its type, in a ``system`` and a ``currency``; what neither says is left out."""

    def made() -> Iterator[Beside]:
        for field in _fields(type(one)):
            if _item(field.bare) in _PER_ITEM:
                yield from _each_beside(_each(one, field, system), _each(other, field, system))
                continue
            a, b = _row(one, field, system, currency), _row(other, field, system, currency)
            if a.text or b.text:
                yield Beside(field.name, field.label, a, b)

    return tuple(made())
