"""One line, one edit: how an edit is written, and read back equal. The same lines run from a file and from the go-to box.

::

    set builds/lighthouse/scale 1:8
    set builds/lighthouse/pieces/gallery/mould/blanket_m 12 mm
    add builds/oldclaw/moves at 1 {"name": "claw snaps", "real_m_s": 2.0}
    remove builds/ferry/pieces/wheelhouse
    move builds/ferry/pieces/hull to 1

A place is a path from the job down; spaces and slashes within a name are written %20 and %2F. A value stands in units where its
field's name has one (``_m``, ``_kg``, ``_s`` …), as plain words or a number otherwise, and as JSON where it consists of several.
Places are counted from 1. In lines the point is the decimal point.
"""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import date, datetime, time
from decimal import Decimal
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, NamedTuple, Union, get_args, get_origin, get_type_hints

import msgspec
from msgspec import Struct

from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.edit import Add, Edit, Move, Path, Remove, Set, apply, at, known_as, names_of, place_of
from homunculus.core.errors import UserError
from homunculus.core.job.consistent import doubt_about
from homunculus.core.job.job import Job
from homunculus.core.quantities import Kind, decimal_points, parse, parse_number
from homunculus.core.showing import show_scale

MOST_WHOLE = 2**53
LONGEST = 2_000_000
"""Characters of one line: more is no edit."""
NONE = "none"
_KINDS: dict[str, Kind] = {
    "m": "length",
    "m2": "area",
    "m3": "volume",
    "kg": "mass",
    "s": "duration",
    "c": "temperature",
    "fps": "rate",
}
"""What a field's last syllable says of it."""
_UNITS: dict[Kind, tuple[str, ...]] = {
    "length": ("m", "mm"), "area": ("m²",), "volume": ("m³", "l", "ml"), "mass": ("kg", "g"), "duration": ("h", "min", "s"), "temperature": ("C",),
    "rate": ("fps",),
}  # fmt: skip
"""Units in which a value is written: the largest of which there is one, or that in which it is short, and reads back equal."""
_SCALES = ("scale", "drawn_at")
VERBS = ("set", "add", "remove", "move")

OVER_NOUGHT = 1e-9
"""A least value so small stands for: anything over nought."""


def kind_of(field: str) -> Kind | None:
    """Which kind of quantity the name of a ``field`` says it is; none for plain numbers and words."""
    if field in _SCALES:
        return "scale"
    name, _, last = field.rpartition("_")
    return _KINDS.get(last) if name and not re.search(r"_(?:per|kg|m|j|g|n|m2)$", name) else None


# ---------------------------------------------------------------------------------------------- types
@cache
def _fields(owner: type) -> dict[str, Any]:
    return get_type_hints(owner, include_extras=True)


def type_at(job: Job, path: Path) -> Any:
    """The type of what may stand at a place of a job, with its bounds.

    Parameters
    ----------
    job
        Which says what kind of thing stands on the way.
    path
        The place.

    Raises
    ------
    UserError
        When the job has no such place.
    """
    if not path:
        return Job
    owner = at(job, path[:-1])
    if isinstance(owner, tuple):
        place_of(owner, path[-1])
        return _item_type(type_at(job, path[:-1]))
    at(job, path)
    owner_type: type = type(owner)
    return _fields(owner_type)[path[-1]]


def _bare(kind: Any) -> tuple[Any, ...]:
    """The types that a type with its bounds consists of."""
    if get_origin(kind) is Annotated:
        return _bare(get_args(kind)[0])
    if get_origin(kind) in (Union, UnionType):
        return tuple(one for part in get_args(kind) for one in _bare(part))
    return (kind,)


def _item_type(kind: Any) -> Any:
    listed = next((one for one in _bare(kind) if get_origin(one) is tuple), None)
    parts = get_args(listed) if listed else ()
    if len(parts) == 2 and parts[1] is Ellipsis:
        return parts[0]
    raise UserError("This is no list", remedy="Set its value")


# --------------------------------------------------------------------------------------------- writing
def _step(name: str) -> str:
    return re.sub(r"[\s/%\"]", lambda m: "".join(f"%{b:02X}" for b in m[0].encode()), name)


def write_path(path: Path) -> str:
    """Write a ``path`` as it stands in a line."""
    return "/".join(map(_step, path))


def write(edit: Edit, job: Job) -> str:
    """Write an edit as one line.

    Parameters
    ----------
    edit
        What changes.
    job
        As it is before.

    Raises
    ------
    UserError
        When the job has no such place.
    """
    match edit:
        case Set(path, _, after):
            return f"set {write_path(path)} {write_value(after, path[-1] if path else '')}"
        case Add(path, place, item):
            return f"add {write_path(path)} at {place + 1} {write_value(item)}"
        case Remove(path, place, _):
            return f"remove {write_path((*path, names_of(at(job, path))[place]))}"
        case Move(path, before, after):
            return f"move {write_path((*path, names_of(at(job, path))[before]))} to {after + 1}"


def write_value(value: Any, field: str = "") -> str:
    """Write a ``value`` so that it reads back equal; the ``field`` that it is for says its unit."""
    if value is None:
        return NONE
    if isinstance(value, bool):
        return "yes" if value else "no"
    if isinstance(value, int | float):
        return _write_number(value, kind_of(field))
    if isinstance(value, datetime | date | time):
        return value.isoformat()
    if (
        isinstance(value, str)
        and value
        and value != NONE
        and value == " ".join(value.split())
        and value[0] not in '"{['
    ):
        return value
    return msgspec.json.encode(value).decode()


def reach(owner: type, field: str) -> str:
    """Say from where to where the values of a ``field`` of its ``owner`` go, in the field's unit."""
    low, high = bounds(owner, field)
    least = "over nought" if 0 < low <= OVER_NOUGHT else f"from {write_value(low, field)}"
    return f"It goes {least} to {write_value(high, field)}"


def _plain(value: float) -> str:
    written = f"{Decimal(repr(value)):f}"
    return written.removesuffix(".0")


def _write_number(value: float, kind: Kind | None) -> str:
    if kind == "scale":
        said = show_scale(value)
        return said if _reads(said, "scale", value) else f"1:{_plain(value)}"
    if kind is None:
        return _plain(value)
    sized = [(unit, parse(f"1 {unit}", kind)) for unit in _UNITS[kind]]
    fits = next((one for one in sized if abs(value) >= one[1]), sized[-1])
    for unit, size in (fits, *(other for other in sized if other is not fits)):
        said = f"{_plain(float(f'{value / size:.12g}'))} {unit}"
        if len(said) < 14 and _reads(said, kind, value):
            return said
    return f"{_plain(value)} {next(unit for unit, size in sized if size == 1.0)}"


def _reads(text: str, kind: Kind | None, value: float) -> bool:
    try:
        return _number(text, kind) == value
    except UserError:
        return False


# --------------------------------------------------------------------------------------------- reading
def read(line: str, job: Job) -> Edit:
    """Read a line as an edit of a job.

    Parameters
    ----------
    line
        As it was typed.
    job
        As it is.

    Raises
    ------
    UserError
        With what was wrong, the limits where a value is beyond them, or what there is where a place is not.
    """
    if len(line) > LONGEST:
        raise UserError("The line is too long to be one edit", remedy=f"Keep it under {LONGEST} characters")
    verb, _, rest = line.strip().partition(" ")
    place, _, value = rest.strip().partition(" ")
    if verb not in VERBS or not place:
        raise UserError(
            f"“{line.strip()[:60]}” is no edit", remedy="Begin with set, add, remove or move, then say the place"
        )
    path, value = _path(place), value.strip()
    match verb:
        case "set":
            return Set(path, at(job, path), _read_value(job, path, value))
        case "add":
            return _read_add(job, path, value)
        case "remove":
            owner, index = _item(job, path)
            return Remove(path[:-1], index, owner[index])
    _, index = _item(job, path)
    to = re.fullmatch(r"to (\d{1,6})", value)
    count = len(at(job, path[:-1]))
    if not to or not 1 <= int(to[1]) <= count:
        raise UserError(f"“{value or line.strip()}” says no place to move to", remedy=f"Write to 1 up to to {count}")
    return Move(path[:-1], index, int(to[1]) - 1)


def _path(text: str) -> Path:
    def plain(step: str) -> str:
        return re.sub(
            r"(?:%[0-9A-Fa-f]{2})+", lambda m: bytes.fromhex(m[0].replace("%", "")).decode(errors="replace"), step
        )

    return tuple(plain(step) for step in text.strip("/").split("/"))


def _item(job: Job, path: Path) -> tuple[tuple[Any, ...], int]:
    owner = at(job, path[:-1])
    if not isinstance(owner, tuple):
        raise UserError(
            f"{write_path(path)} is no item of a list", remedy="Set its value; none takes it away where that can be"
        )
    return owner, place_of(owner, path[-1])


def _read_add(job: Job, path: Path, text: str) -> Add:
    items = at(job, path)
    kind = _item_type(type_at(job, path))
    said = re.match(r"at (\d{1,6})\s+", text)
    place = int(said[1]) - 1 if said else len(items)
    if not 0 <= place <= len(items):
        raise UserError(f"There is no place {place + 1} here", remedy=f"Write at 1 up to at {len(items) + 1}")
    item = _convert(kind, text[said.end() :] if said else text, type(None), "")
    return Add(path, place, item)


def _read_value(job: Job, path: Path, text: str) -> Any:
    owner = at(job, path[:-1])
    return _convert(type_at(job, path), text, type(owner), path[-1])


def _convert(kind: Any, text: str, owner: type, field: str) -> Any:
    """Text as a value of a type with its bounds; ``owner`` and ``field`` say the limits in the message."""
    types = _bare(kind)
    if not text:
        raise UserError("No value was given", remedy="Write it after the place")
    if text == NONE and type(None) in types:
        return None
    try:
        if text[0] in '"{[':
            return msgspec.json.decode(text, type=kind)
        return msgspec.json.decode(msgspec.json.encode(_scalar(types, text, field)), type=kind)
    except msgspec.ValidationError as trouble:
        raise UserError(f"“{text[:60]}” cannot stand here: {trouble}", remedy=_limits(owner, field)) from None
    except (msgspec.DecodeError, UnicodeError) as trouble:
        raise UserError(f"“{text[:60]}” cannot be read: {trouble}", remedy="Write it as JSON") from None


def _scalar(types: tuple[Any, ...], text: str, field: str) -> Any:
    """Text as what JSON would hold for one of the types."""
    if bool in types:
        if text not in ("yes", "no"):
            raise UserError(f"“{text[:60]}” is neither yes nor no", remedy="Write yes or no")
        return text == "yes"
    whole = int in types or any(get_origin(one) is Literal and isinstance(get_args(one)[0], int) for one in types)
    if float in types or whole:
        value = _number(text, kind_of(field))
        if float in types:
            return value
        if abs(value) > MOST_WHOLE or value != int(value):
            raise UserError(f"“{text[:60]}” is no whole number", remedy="Write one such as 7")
        return int(value)
    if re.search(r"(?<![:\d])\d\d:\d\d$", text) and (time in types or datetime in types):
        return text.replace(" ", "T") + ":00"
    tags = [one for one in types if isinstance(one, type) and issubclass(one, Struct)]
    if tags:  # a kind of thing by its name alone, where the rest of it has beginnings
        return {"type": text}
    if any(get_origin(one) is tuple for one in types):
        raise UserError(f"“{text[:60]}” is no list", remedy="Write it as JSON, such as [1, 2]")
    return text


def _number(text: str, kind: Kind | None) -> float:
    below = text.startswith(("-", "−")) and kind not in ("temperature", "scale")
    size = text[1:].strip() if below else text
    with decimal_points():
        if kind:
            value = parse(size, kind)
        elif size.endswith("%"):
            value = parse_number(size[:-1]) / 100
        else:
            value = parse_number(size)
    return -value if below else value


def _limits(owner: type, field: str) -> str:
    if field and issubclass(owner, Struct):
        chosen = [arg for one in _bare(_fields(owner)[field]) if get_origin(one) is Literal for arg in get_args(one)]
        if chosen:
            return f"Write one of: {', '.join(map(str, chosen))}"
        low, high = bounds(owner, field)
        if low > -1e12 or high < 1e12:
            return reach(owner, field)
    return "Look at how such a value stands in the job file"


# -------------------------------------------------------------------------------------------- offering
class Offer(NamedTuple):
    """How a line that is being typed may go on."""

    name: str
    """The next step of the place."""
    line: str
    """The line as far as it goes then."""
    note: str
    """What stands there now, in short."""


def offers(text: str, job: Job) -> tuple[Offer, ...]:
    """What may follow in a line that is being typed, while its place is not said to the end.

    Parameters
    ----------
    text
        As typed so far.
    job
        Whose places are offered.
    """
    verb, _, place = text.lstrip().partition(" ")
    if verb not in VERBS or " " in place:
        return ()
    done, _, begun = place.rpartition("/")
    path = _path(done) if done else ()
    try:
        owner = at(job, path)
    except UserError:
        return ()
    names: tuple[str, ...] = ()
    if isinstance(owner, tuple):
        names = names_of(owner) if all(isinstance(item, Struct) for item in owner) else ()
    elif isinstance(owner, Struct):
        names = tuple(_fields(type(owner)))
    return tuple(_offer(verb, job, (*path, name)) for name in names if _step(name).startswith(begun))


def _offer(verb: str, job: Job, path: Path) -> Offer:
    here, line = at(job, path), f"{verb} {write_path(path)}"
    if isinstance(here, Struct) or (isinstance(here, tuple) and all(isinstance(item, Struct) for item in here)):
        count = f"{len(here)}" if isinstance(here, tuple) else known_as(here) if known_as(here) != path[-1] else ""
        return Offer(path[-1], f"{line} " if verb == "add" and isinstance(here, tuple) else f"{line}/", count)
    return Offer(path[-1], f"{line} ", write_value(here, path[-1]))


# --------------------------------------------------------------------------------------------- running
def said(text: str) -> list[tuple[int, str]]:
    """The lines of a ``text`` that say something, with their numbers from 1; what begins with # is a remark."""
    return [
        (n, line.strip())
        for n, line in enumerate(text.splitlines(), 1)
        if line.strip() and not line.lstrip().startswith("#")
    ]


def do(job: Job, line: str, embed: Callable[[Job], Job] = lambda job: job) -> tuple[Edit, Job]:
    """Read a line and make the job that it leads to.

    Parameters
    ----------
    job
        As it is.
    line
        One edit.
    embed
        Brings in the cards that the job then uses and lacks.

    Raises
    ------
    UserError
        As :func:`read` does, or because the job cannot be as the line would have it.
    """
    edit = read(line, job)
    after = embed(apply(job, edit))
    if doubt := doubt_about(after, job):
        raise UserError(doubt, remedy="Choose another, or add what is missing first")
    return edit, after
