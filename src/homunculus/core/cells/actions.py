"""What moves in a shot, as people write it in one line, and back: a kind, a name, a colon, and phrases in any order.

::

    travel tow past the point: of ferry, 6 m/s real, heading 90°, run-up 0.5 m, tie tow eye bears 60 N / 5
    flown gull: of gulls, 9 m/s real, wire 2 m, ramp 2.8 s
    cues lantern breaks: of lighthouse, 30 cues, along 1.8 m, for 4 s
    drop gallery: of lighthouse, falls 14 m real
    wave storm: of lighthouse, 20 m real
    falling spume: grain 0.05 mm, 1500 kg/m³ a grain, covers 0.02 kg/m², on 4 m²
    camera slider: 0.3 m right, 0.1 m up, pan 4°, from 2 s, for 6 s, eased 20 %

What a phrase does not say is as a new one has it.
"""

from __future__ import annotations

import re
from functools import cache
from typing import Any, NamedTuple

from msgspec.structs import fields, replace

from homunculus.core.cells.needs import find_build
from homunculus.core.cells.places import as_it_stood, phrases, signed_number, sized, within
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.stage import Action, CameraMove, Cues, Drop, Falling, Flown, Tie, Travel, Wave
from homunculus.core.quantities import Kind, System, parse, parse_number
from homunculus.core.showing import show_number

KINDS: dict[str, type[Action]] = {
    "travel": Travel, "flown": Flown, "cues": Cues, "drop": Drop, "wave": Wave, "falling": Falling, "camera": CameraMove,
}  # fmt: skip
"""How each kind is written."""
BEGINNINGS = {
    "travel": "travel tow: of {build}, 6 m/s real, run-up 0.6 m", "flown": "flown flight: of {build}, 8 m/s real, wire 2 m",
    "cues": "cues chain: of {build}, 12 cues, along 1 m, for 2 s", "drop": "drop fall: of {build}, falls 10 m real",
    "wave": "wave swell: of {build}, 20 m real", "falling": "falling snow: grain 0.5 mm, 300 kg/m³ a grain, covers 0.02 kg/m², on 4 m², cannot burn",
    "camera": "camera slider: 0.3 m right, for 3 s",
}  # fmt: skip
"""With what a new one begins, to be typed over."""
_SIDES = {"across_m": ("right", "left"), "along_m": ("forward", "back"), "up_m": ("up", "down")}
_TIE = re.compile(r"tie (.+?) bears (.+?)(?:\s*/\s*([\d.]+))?", re.IGNORECASE)


class Phrase(NamedTuple):
    """How a field is written: words before and behind a value, the unit in which it is written, and its kind."""

    field: str
    before: str
    behind: str
    unit: str
    kind: Kind | None
    """None for degrees and plain numbers."""
    worth: float = 1.0
    """Of what is written in the field's own unit."""


_SHARED = (
    Phrase("starts_s", "from", "", "s", "screen_time"),
    Phrase("lasts_s", "for", "", "s", "screen_time"),
    Phrase("heading_deg", "heading", "", "°", None),
    Phrase("run_up_m", "run-up", "", "m", "length"),
    Phrase("friction", "friction", "", "", None),
    Phrase("slope_deg", "slope", "", "°", None),
    Phrase("drag_m2", "afloat", "", "m²", "area"),
    Phrase("added", "water along", "", "%", "share", 0.01),
    Phrase("mass_kg", "weighs", "", "kg", "mass"),
    Phrase("wire_m", "wire", "", "m", "length"),
    Phrase("wires", "", "wires", "", None),
    Phrase("ramp_s", "ramp", "", "s", "screen_time"),
    Phrase("count", "", "cues", "", None),
    Phrase("along_m", "along", "", "m", "length"),
    Phrase("grain_m", "grain", "", "m", "length"),
    Phrase("density_kg_m3", "", "a grain", "kg/m³", "density"),
    Phrase("coverage_kg_m2", "covers", "", "kg/m²", "areal_density"),
    Phrase("area_m2", "on", "", "m²", "area"),
    Phrase("thrown_m3", "thrown into", "", "m³", "volume"),
    Phrase("pan_deg", "pan", "", "°", None),
    Phrase("tilt_deg", "tilt", "", "°", None),
    Phrase("arc_deg", "arc", "", "°", None),
    Phrase("about_m", "about", "", "m", "length"),
    Phrase("ease", "eased", "", "%", "share", 0.01),
)
_OWN: dict[type[Action], tuple[Phrase, ...]] = {
    Travel: (Phrase("real_m_s", "", "real", "m/s", "speed"),), Flown: (Phrase("real_m_s", "", "real", "m/s", "speed"),),
    Cues: (Phrase("real_m_s", "", "real", "m/s", "speed"),), Drop: (Phrase("real_m", "falls", "real", "m", "length"),),
    Wave: (Phrase("real_m", "", "real", "m", "length"),), CameraMove: (Phrase("grain_m", "placed to", "", "m", "length"),),
}  # fmt: skip
NEEDED: dict[type[Action], tuple[str, ...]] = {
    Travel: ("build", "real_m_s"), Flown: ("build", "real_m_s"), Cues: ("build",), Drop: ("build", "real_m"), Wave: ("build", "real_m"),
    Falling: ("grain_m", "density_kg_m3"), CameraMove: (),
}  # fmt: skip
"""What a line has to say, because nothing could stand for it."""


@cache
def phrases_of(kind: type[Action]) -> tuple[Phrase, ...]:
    """How the fields of a ``kind`` are written, but for those that have a manner of their own."""
    own = _OWN.get(kind, ())
    taken = {phrase.field for phrase in own} | (set(_SIDES) if kind is CameraMove else set())
    names = {field.name for field in fields(kind)}
    return (*own, *(p for p in _SHARED if p.field in names and p.field not in taken))


def example(kind: str, build: str, job: Job | None = None, system: System = "metric") -> str:
    """With what a new line of a ``kind`` begins, about a ``build`` by its id; for a ``job`` that has it in the units of a ``system``."""
    line = BEGINNINGS[kind].format(build=build or "a-build")
    known = job is not None and (build in {b.id for b in job.builds} or "{build}" not in BEGINNINGS[kind])
    return show_action(parse_action(line, job), system) if job and known and system != "metric" else line


def parse_action(text: str, job: Job, system: System = "metric", before: Action | None = None) -> Action:
    """Read what moves.

    Parameters
    ----------
    text
        As above.
    job
        Whose builds may move.
    system
        Of units, for bare numbers.
    before
        What stood there: a phrase left as it was shown keeps its value to the last digit.

    Raises
    ------
    UserError
        When it cannot be read, or says too little.
    """
    if before:
        text = as_it_stood(text, show_action(before, system), show_action(before))
    head, colon, rest = text.strip().partition(":")
    word, _, name = head.strip().partition(" ")
    kind = KINDS.get(word.casefold())
    if kind is None or not name.strip():
        raise UserError(f"“{head.strip()}” is nothing that moves", remedy=f"Begin with one of {', '.join(KINDS)}, and a name: {example('camera', '')}")  # fmt: skip
    found: dict[str, Any] = {"name": " ".join(name.split())}
    for part in phrases(rest) if colon else []:
        if part:
            found |= _part(kind, part, job, system, found)
    missing = [field for field in NEEDED[kind] if field not in found]
    if missing:
        build = found.get("build", job.cast[0].id if job.cast else "")
        said = {"build": "whose it is", "grain_m": "how large a grain is", "density_kg_m3": "how dense it is"}
        raise UserError(f"It does not say {said.get(missing[0], 'how much, real')}", remedy=f"Write it like {example(word.casefold(), build)}")  # fmt: skip
    return kind(**found)


def _part(kind: type[Action], part: str, job: Job, system: System, found: dict[str, Any]) -> dict[str, Any]:
    names = {field.name for field in fields(kind)}
    word, _, rest = part.partition(" ")
    if word.casefold() == "of" and "build" in names:
        build = find_build(job, rest)
        if build is None:
            raise UserError(f"There is no build “{rest}”", remedy=f"Builds are {', '.join(b.id for b in job.builds[:6])}")  # fmt: skip
        return {"build": build.id}
    if "ties" in names and (match := _TIE.fullmatch(part)):
        safety = within(parse_number(match[3]), Tie, "safety", part) if match[3] else Tie("", 1.0).safety
        bears = within(parse(match[2], "force", system), Tie, "bears_n", part)
        return {"ties": (*found.get("ties", ()), Tie(match[1], bears, safety))}
    if "places_m" in names and word.casefold() == "places":
        spots = [parse(spot, "length", system) for spot in rest.split(" and ")]
        return {"places_m": tuple(within(s, kind, "places_m", part) for s in spots), "count": len(spots)}
    if "burns" in names and part.casefold() == "cannot burn":
        return {"burns": False}
    if kind is CameraMove:
        if word.casefold() == "by":
            return {"camera": rest}
        for field, sides in _SIDES.items():
            if rest and part.casefold().endswith(sides):
                size, _, side = part.rpartition(" ")
                metres = within(parse(size, "length", system), kind, field, part)
                return {field: -metres if side.casefold() == sides[1] else metres}
    for phrase in phrases_of(kind):
        value = _between(part, phrase)
        if value is not None:
            return {phrase.field: _read(kind, phrase, value, part, system)}
    says = ", ".join(_words(p, "…") for p in phrases_of(kind))
    raise UserError(f"“{part}” is not understood", remedy=f"It may say {says}")


def _between(part: str, phrase: Phrase) -> str | None:
    """What stands between the words of a phrase; none where they are others."""
    folded, before, behind = part.casefold(), f"{phrase.before} " if phrase.before else "", f" {phrase.behind}" if phrase.behind else ""  # fmt: skip
    if folded.startswith(before) and folded.endswith(behind) and len(folded) > len(before) + len(behind):
        inner = part[len(before) : len(part) - len(behind) if behind else None]
        return inner if re.match(r"[-\N{MINUS SIGN}]?\.?\d", inner) else None
    return None


def read_value(kind: type[Action], phrase: Phrase, text: str, system: System = "metric") -> float:
    """Read the value of one ``phrase`` of a ``kind`` as a ``text`` says it by itself; bare numbers in the units of the ``system``.

    Raises
    ------
    UserError
        When it cannot be read, or is out of reach.
    """
    value: float = _read(kind, phrase, text.strip(), text, system)
    return value


def _read(kind: type[Action], phrase: Phrase, value: str, part: str, system: System) -> Any:
    if phrase.kind is None:
        number = signed_number(value.removesuffix("°").strip())
        if phrase.field in ("count", "wires"):
            if number != round(number):
                raise UserError(f"“{part}” is no whole number", remedy="Write it without a fraction")
            return round(within(number, kind, phrase.field, part))
        return within(number, kind, phrase.field, part)
    number = parse(value, phrase.kind, system)
    return within(round(number, 12) if phrase.kind == "share" else number, kind, phrase.field, part)


def _words(phrase: Phrase, value: str) -> str:
    unit = phrase.unit if phrase.unit in ("°", "") else f" {phrase.unit}"
    return f"{phrase.before} {value}{unit} {phrase.behind}".strip()


def show_action(action: Action, system: System = "metric") -> str:
    """Write an ``action`` as :func:`parse_action` reads it, in the units of a ``system``; in metric ones it reads back equal."""
    kind = type(action)
    word = next(name for name, one in KINDS.items() if one is kind)
    words: list[str] = []
    build = getattr(action, "build", "")
    words += [f"of {build}"] if build else []
    plain = {field.name: field.default for field in fields(kind)}
    if isinstance(action, CameraMove):
        words += [f"by {action.camera}"] if action.camera else []
        for field, sides in _SIDES.items():
            metres: float = getattr(action, field)
            words += [f"{sized(abs(metres), system)} {sides[metres < 0]}"] if metres else []
    for phrase in phrases_of(kind):
        value = getattr(action, phrase.field)
        if (
            value is None
            or value == plain[phrase.field]
            or (phrase.field == "count" and getattr(action, "places_m", ()))
        ):
            continue
        if phrase.kind is None or phrase.kind in ("screen_time", "share") or system == "metric":
            words.append(_words(phrase, show_number(round(value / phrase.worth, 10) if phrase.worth != 1 else value)))
        else:
            words.append(f"{phrase.before} {sized(value, system, phrase.kind)} {phrase.behind}".strip())
    words += [f"tie {' '.join(tie.name.replace(',', ' ').replace(';', ' ').split())} bears {sized(tie.bears_n, system, 'force', 'N')} / {show_number(tie.safety)}" for tie in getattr(action, "ties", ())]  # fmt: skip
    places = getattr(action, "places_m", ())
    words += ["places " + " and ".join(sized(place, system) for place in places)] if places else []
    words += ["cannot burn"] if isinstance(action, Falling) and not action.burns else []
    name = " ".join(action.name.split()).replace(":", " -").replace(";", ",")
    return f"{word} {name}" + (": " + ", ".join(words) if words else "")


def put_action(actions: tuple[Action, ...], index: int, action: Action | None) -> tuple[Action, ...]:
    """Return ``actions`` with the one at an ``index`` replaced by an ``action``, taken away by none, and one more behind the last."""
    kept = list(actions)
    if action is None:
        del kept[index]
    elif index < len(kept):
        kept[index] = action
    else:
        kept.append(action)
    return tuple(kept)


def renamed(actions: tuple[Action, ...], action: Action) -> Action:
    """Return an ``action`` under a name that none of the ``actions`` has."""
    taken, number, name = {one.name for one in actions}, 1, action.name
    while name in taken:
        number += 1
        name = f"{action.name}, {number}"
    changed: Action = replace(action, name=name)
    return changed
