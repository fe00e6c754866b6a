"""Numbers with units, read at the edge; inside, everything is SI (temperatures are °C).

Showing them is :mod:`homunculus.core.showing`.

Figures, cards and jobs hold plain floats in the base unit of their kind. This module is the only
place that knows grams, inches or Fahrenheit. It is a small table of its own because a units library
costs half a second at the first keystroke; the tests hold it against such a library.
"""

from __future__ import annotations

import math
import re
from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from datetime import date, datetime, time, timedelta
from typing import Literal

from homunculus.core.errors import UserError

Kind = Literal[
    "length",  # m
    "focal_length",  # m, of a lens: in millimetres everywhere
    "area",  # m²
    "volume",  # m³
    "mass",  # kg
    "density",  # kg/m³
    "duration",  # s
    "screen_time",  # s, shown in seconds however long
    "temperature",  # °C
    "speed",  # m/s
    "rate",  # frames per second
    "scale",  # denominator S = real length / model length
    "share",  # 1 is the whole; shown in per cent
    "factor",  # a bare multiplier
    "parts",  # by weight or volume; only their ratio counts
    "areal_density",  # kg/m²
    "stop",  # f-number or T-stop
    "illuminance",  # lux
    "stops",  # a ratio of light, as its logarithm to the base of 2
    "voltage",  # V
    "current",  # A
    "power",  # W
    "efficacy",  # lm/W
    "luminance",  # cd/m²
    "luminous_flux",  # lm
    "angle",  # radians
    "energy_per_mole",  # J/mol
    "line_force",  # N/m, as tear strength
    "diffusivity",  # m²/s
    "force",  # N
    "acceleration",  # m/s²
    "mass_flow",  # kg/s, shown in grams a minute
    "money",  # the job's currency
    "money_per_mass",  # the job's currency per kg
    "count",
    "pixels",
    "acceleration_share",  # apparent gravity, 1 is real
    "moment",  # naive local datetime
    "day",  # date
    "shop_days",  # days of shop hours
    "text",
    "thing",  # a form, a programme, a law: named, not numbered
]
Value = float | int | str | datetime | date
System = Literal["metric", "imperial"]
NBSP = "\N{NO-BREAK SPACE}"

# Exact by definition (international yard and pound, 1959; US customary volumes).
INCH = 0.0254
POUND = 0.45359237
GALLON = 231 * INCH**3
YEAR = 365.25 * 86400.0
"""A Julian year in seconds, for how long things keep."""

_UNITS: dict[str, dict[str, float]] = {
    "length": {
        "m": 1.0, "mm": 1e-3, "cm": 1e-2, "km": 1e3, "µm": 1e-6, "um": 1e-6,
        "in": INCH, '"': INCH, "″": INCH, "inch": INCH, "inches": INCH,
        "ft": 12 * INCH, "'": 12 * INCH, "′": 12 * INCH, "foot": 12 * INCH, "feet": 12 * INCH, "yd": 36 * INCH,
    },
    "area": {"m2": 1.0, "m²": 1.0, "cm2": 1e-4, "cm²": 1e-4, "mm2": 1e-6, "mm²": 1e-6,
             "ft2": 144 * INCH**2, "ft²": 144 * INCH**2, "in2": INCH**2, "in²": INCH**2},
    "volume": {"m3": 1.0, "m³": 1.0, "l": 1e-3, "ml": 1e-6, "cl": 1e-5, "cm3": 1e-6, "cm³": 1e-6, "cc": 1e-6,
               "gal": GALLON, "qt": GALLON / 4, "pt": GALLON / 8, "fl oz": GALLON / 128,
               "in3": INCH**3, "in³": INCH**3, "ft3": (12 * INCH) ** 3, "ft³": (12 * INCH) ** 3},
    "mass": {"kg": 1.0, "g": 1e-3, "mg": 1e-6, "t": 1e3, "lb": POUND, "lbs": POUND, "oz": POUND / 16},
    "areal_density": {"kg/m2": 1.0, "kg/m²": 1.0, "g/m2": 1e-3, "g/m²": 1e-3},
    "density": {"kg/m3": 1.0, "kg/m³": 1.0, "g/cm3": 1e3, "g/cm³": 1e3, "g/ml": 1e3, "g/m3": 1e-3, "g/m³": 1e-3},
    "duration": {"ms": 1e-3, "s": 1.0, "sec": 1.0, "min": 60.0, "h": 3600.0, "hr": 3600.0, "hours": 3600.0, "d": 86400.0,
                 "day": 86400.0, "days": 86400.0, "week": 604800.0, "weeks": 604800.0, "month": YEAR / 12, "months": YEAR / 12,
                 "year": YEAR, "years": YEAR},
    "speed": {"m/s": 1.0, "mm/s": 1e-3, "cm/s": 1e-2, "km/h": 1 / 3.6, "ft/s": 12 * INCH, "in/s": INCH,
              "mph": 5280 * 12 * INCH / 3600, "kn": 1852 / 3600},
    "rate": {"fps": 1.0, "/s": 1.0},
    "share": {"%": 0.01},
    "angle": {"°": math.pi / 180, "deg": math.pi / 180, "rad": 1.0},
    "energy_per_mole": {"kj/mol": 1e3, "j/mol": 1.0},
    "line_force": {"kn/m": 1e3, "n/m": 1.0, "n/mm": 1e3, "ppi": POUND * 9.80665 / INCH, "pli": POUND * 9.80665 / INCH},
    "diffusivity": {"m2/s": 1.0, "m²/s": 1.0, "mm2/s": 1e-6, "mm²/s": 1e-6},
    "force": {"n": 1.0, "kn": 1e3, "lbf": POUND * 9.80665, "kgf": 9.80665},
    "acceleration": {"m/s2": 1.0, "m/s²": 1.0, "ft/s2": 12 * INCH, "ft/s²": 12 * INCH},
    "mass_flow": {"kg/h": 1 / 3600, "g/min": 1e-3 / 60, "kg/s": 1.0, "g/s": 1e-3, "lb/h": POUND / 3600, "oz/min": POUND / 16 / 60},
    "illuminance": {"lx": 1.0, "lux": 1.0, "fc": 1 / (12 * INCH) ** 2},
    "stops": {"stops": 1.0, "stop": 1.0},
    "voltage": {"v": 1.0, "kv": 1e3, "mv": 1e-3},
    "current": {"a": 1.0, "ma": 1e-3},
    "power": {"w": 1.0, "kw": 1e3, "mw": 1e-3},
    "efficacy": {"lm/w": 1.0},
    "luminance": {"cd/m2": 1.0, "cd/m²": 1.0, "nit": 1.0, "nits": 1.0},
    "luminous_flux": {"lm": 1.0},
    "money_per_mass": {"/kg": 1.0, "per kg": 1.0, "a kg": 1.0},
    "pixels": {"px": 1.0},
}  # fmt: skip
_UNITS["screen_time"] = _UNITS["duration"]
_UNITS["focal_length"] = _UNITS["length"]
_ANY_UNIT = {unit.lower() for units in _UNITS.values() for unit in units} | {"", "c", "f", "d"}
"""All of them, with those of temperatures and shop days: “3 crabs” is no value."""

# What a bare number means where the program already says which unit it shows.
_BARE: dict[tuple[str, System], str] = {
    ("length", "metric"): "mm", ("length", "imperial"): "in",
    ("focal_length", "metric"): "mm", ("focal_length", "imperial"): "mm",
    ("mass", "metric"): "g", ("mass", "imperial"): "oz",
    ("volume", "metric"): "l", ("volume", "imperial"): "fl oz",
    ("duration", "metric"): "h", ("duration", "imperial"): "h",
    ("screen_time", "metric"): "s", ("screen_time", "imperial"): "s",
    ("speed", "metric"): "m/s", ("speed", "imperial"): "ft/s",
    ("share", "metric"): "%", ("share", "imperial"): "%",
    ("rate", "metric"): "fps", ("rate", "imperial"): "fps",
    ("angle", "metric"): "°", ("angle", "imperial"): "°",
    ("area", "metric"): "m2", ("area", "imperial"): "ft2",
    ("areal_density", "metric"): "g/m2", ("areal_density", "imperial"): "g/m2",
    ("density", "metric"): "kg/m3", ("density", "imperial"): "kg/m3",
    ("illuminance", "metric"): "lx", ("illuminance", "imperial"): "fc",
    ("energy_per_mole", "metric"): "kj/mol", ("energy_per_mole", "imperial"): "kj/mol",
    ("line_force", "metric"): "kn/m", ("line_force", "imperial"): "ppi",
    ("force", "metric"): "n", ("force", "imperial"): "lbf", ("acceleration", "metric"): "m/s2", ("acceleration", "imperial"): "ft/s2",
    ("mass_flow", "metric"): "g/min", ("mass_flow", "imperial"): "oz/min",
    ("diffusivity", "metric"): "mm2/s", ("diffusivity", "imperial"): "mm2/s",
    ("money_per_mass", "metric"): "/kg", ("money_per_mass", "imperial"): "/kg",
    ("stops", "metric"): "stops", ("stops", "imperial"): "stops", ("voltage", "metric"): "v", ("voltage", "imperial"): "v",
    ("current", "metric"): "a", ("current", "imperial"): "a", ("power", "metric"): "w", ("power", "imperial"): "w",
    ("efficacy", "metric"): "lm/w", ("efficacy", "imperial"): "lm/w", ("luminance", "metric"): "cd/m2", ("luminance", "imperial"): "cd/m2",
    ("luminous_flux", "metric"): "lm", ("luminous_flux", "imperial"): "lm",
    ("pixels", "metric"): "px", ("pixels", "imperial"): "px",
}  # fmt: skip
_PLAIN = {"count", "factor", "parts", "stop", "money", "acceleration_share", "shop_days"}
_POWERS = ("area", "volume", "density", "areal_density", "diffusivity", "acceleration")
"""Kinds whose units have a power that is typed as a digit: kg/m3."""
_BENEATH = {"'": "in", "′": "in", "ft": "in", "foot": "in", "feet": "in", "m": "cm", "kg": "g", "lb": "oz", "lbs": "oz",
            "h": "min", "hr": "min", "hours": "min", "min": "s"}  # fmt: skip
"""What a bare number after a unit counts in, where people leave it away."""
_COMPOUND = {"length", "mass", "volume", "duration", "screen_time"}
"""Kinds that are said in several units: feet and inches, hours and minutes."""
_EXAMPLES = {
    "length": "18 m, 10 mm, 5' 10 1/2\" or 3/8 in",
    "focal_length": "35 mm",
    "mass": "250 g, 1.2 kg or 2 lb 3 oz",
    "volume": "1.5 l, 750 ml or 12 fl oz",
    "duration": "45 min, 16 h or 1 h 30 min",
    "screen_time": "6 s",
    "temperature": "21 C or 73 F",
    "scale": "1:12, 5:8 or 250 %",
    "speed": "6 m/s or 12 ft/s",
    "rate": "120 fps",
    "share": "8 %",
    "count": "7",
    "pixels": "3",
}
_FRACTIONS = {"½": "1/2", "¼": "1/4", "¾": "3/4", "⅛": "1/8", "⅜": "3/8", "⅝": "5/8", "⅞": "7/8"}

_NUMBER = r"\d[\d.,]*(?:[ \u00a0\u202f]\d{3}(?!\d))*(?:[ \u00a0]+\d+/\d+)?|\d+/\d+|[.,]\d+"
_TERM = re.compile(rf"\s*(?P<number>\d+/\d+|{_NUMBER})\s*(?P<unit>[^\d\s][^\d]*?)?\s*(?=\d|$)")

_STANDS = re.compile(
    rf"(?:(?:stands|looks) )?[-−+]?(?:{_NUMBER})[ \u00a0]?(?P<unit>fl oz|[^\W\d_]+[²³]?(?:/[^\W\d_]+[²³]?)?|[%°'′]|°[CF])(?=$|,|[ \u00a0]to |[ \u00a0][\d(])"
)
"""A value with its unit, or the first of several; of a place its distance."""


_DECIMAL: ContextVar[bool] = ContextVar("decimal", default=False)


@contextmanager
def decimal_points() -> Iterator[None]:
    """Read points as decimal points, as in files and at the scale: there nobody groups thousands."""
    token = _DECIMAL.set(True)
    try:
        yield
    finally:
        _DECIMAL.reset(token)


def _two_faced(text: str, first: str, second: str) -> UserError:
    return UserError(f"“{text}” can be read as {first} or as {second}", remedy=f"Type {first} or {second}")


def parse_number(text: str) -> float:
    """Read one number: decimal point or comma, grouped thousands, fractions such as ``10 1/2``.

    Parameters
    ----------
    text
        What was typed, without its unit.

    Returns
    -------
    float
        The number, as a bare figure.

    Raises
    ------
    UserError
        When it is no number, or when a comma or a point leaves two readings (``1,500``, ``1.500``); a nought more
        (``1.5000``) makes it plain. In files the point is decimal (:func:`decimal_points`).

    Examples
    --------
    >>> parse_number("10 1/2")
    10.5
    """
    whole = text.strip()
    parts = whole.replace("\u00a0", " ").replace("\u202f", " ").split(" ")
    if "/" in parts[-1]:
        top, _, bottom = parts[-1].partition("/")
        if not (top.isdigit() and bottom.isdigit()) or int(bottom) == 0:
            raise UserError(f"“{whole}” is not a fraction", remedy="Write it like 3/8")
        return (parse_number(" ".join(parts[:-1])) if parts[:-1] else 0.0) + int(top) / int(bottom)
    if len(parts) > 1:
        if not all(re.fullmatch(r"\d{3}", p) for p in parts[1:-1]) or not re.fullmatch(r"\d{3}([.,]\d+)?", parts[-1]):
            raise UserError(f"“{whole}” is more than one number", remedy="Type one number")
        whole = "".join(parts)
    if re.fullmatch(r"[1-9]\d{0,2}\.\d{3}", whole) and not _DECIMAL.get():
        raise _two_faced(whole, whole + "0", whole.replace(".", ""))
    if re.fullmatch(r"\d+|\d*\.\d+|\d+\.", whole):
        return float(whole)
    if re.fullmatch(r"\d{1,3}(,\d{3})+\.\d+|\d{1,3}(,\d{3}){2,}", whole):
        return float(whole.replace(",", ""))
    if re.fullmatch(r"\d{1,3}(\.\d{3})+,\d+|\d{1,3}(\.\d{3}){2,}", whole):
        return float(whole.replace(".", "").replace(",", "."))
    if re.fullmatch(r"[1-9]\d{0,2},\d{3}", whole):
        raise _two_faced(whole, whole.replace(",", ".") + "0", whole.replace(",", ""))
    if re.fullmatch(r"\d*,\d+", whole):
        return float(whole.replace(",", "."))
    raise UserError(f"“{whole}” is not a number", remedy="Type a number such as 12, 1.5 or 3/8")


BELOW_NOUGHT: tuple[Kind, ...] = ("temperature", "shop_days")
"""Kinds of which a value may lie below nought."""


def without_noise(value: float) -> float:
    """A ``value`` to twelve digits, without what comes of multiplying by a unit or dividing by a scale: 41.519999999999996 is 41.52."""
    return float(f"{value:.12g}")


def parse(text: str, kind: Kind, system: System = "metric") -> float:
    """Read a quantity as a person types it and return it in the base unit of its kind.

    Parameters
    ----------
    text
        For example ``18 m``, ``5' 10 1/2"``, ``2 lb 3 oz``, ``1,5 l``, ``1:12``, ``73 F``.
    kind
        Which kind of quantity the place wants.
    system
        Decides what a bare number means: mm or in, g or oz.

    Returns
    -------
    float
        SI value; °C for temperatures, the denominator S for scales, 0.08 for ``8 %``.

    Raises
    ------
    UserError
        With both readings when there are two; otherwise with what was understood and examples.

    Examples
    --------
    >>> parse("3/8 in", "length")
    0.009525
    """
    typed = text.strip().replace("−", "-")
    for sign, words in _FRACTIONS.items():
        typed = typed.replace(sign, " " + words)
    typed = re.sub(r"\s+", " ", typed).strip()
    if not typed:
        raise UserError("Nothing stands there", remedy=_for_example(kind))
    if kind == "scale":
        return parse_scale(typed)
    if kind in _POWERS:
        typed = re.sub(r"(?<=[A-Za-z])[23]\b", lambda m: "²³"[int(m[0]) - 2], typed)
    if kind == "stop":
        typed = re.sub(r"^[fFtT] ?/? ?", "", typed)
    negative = typed.startswith("-")
    if negative:
        if kind not in BELOW_NOUGHT:
            raise UserError(f"“{typed}” is below nought", remedy=_for_example(kind))
        typed = typed[1:].strip()
    if kind == "temperature":
        return _parse_temperature(typed, negative, system)
    total, last, understood = 0.0, math.inf, ""
    position, terms, before = 0, 0, ""
    while position < len(typed):
        match = _TERM.match(typed, position)
        if not match:
            raise UserError(
                f"“{text.strip()}” was understood as far as “{understood}”" if understood
                else f"“{text.strip()}” is not {_a_kind(kind)}",
                remedy=_for_example(kind),
            )  # fmt: skip
        number_text, unit_text = match["number"], (match["unit"] or "").strip()
        if terms and not unit_text:  # 5'10, 1 m 50, 1 h 30: the unit beneath the one before
            unit_text = _BENEATH.get(before, "")
        before = unit_text.lower()
        factor = _factor(unit_text, kind, system, text.strip(), number_text)
        try:
            value = parse_number(number_text)
        except UserError as trouble:
            if "can be read as" in trouble.what:
                unit = f" {unit_text}" if unit_text else ""
                few = number_text.replace(",", ".") + "0"
                raise _two_faced(text.strip(), few + unit, re.sub("[.,]", "", number_text) + unit) from None
            raise
        if terms and kind not in _COMPOUND:
            raise UserError(f"“{text.strip()}” is more than one number", remedy=_for_example(kind))
        if factor >= last:
            raise UserError(f"“{text.strip()}” names its units out of order", remedy=_for_example(kind))
        size = value if factor == 1 else float(f"{value * factor:.15g}")  # 51 mm is 0.051 m, not 0.051000000000000004
        total, last, terms = total + size, factor, terms + 1
        understood = typed[: match.end()].strip()
        position = match.end()
    return -total if negative else total


def parse_signed(text: str, system: System = "metric") -> float:
    """Read a length that may lie on the other side of nought [m], as ``-0.3 m``; ``text``, ``system`` and what is raised as for :func:`parse`."""
    bare = text.strip()
    back = bare[:1] in ("-", "\N{MINUS SIGN}")
    size = parse(bare[1:] if back else bare, "length", system)
    return -size if back else size


def like_what_stands(text: str, stands: str) -> str:
    """Give a bare number the unit of what it is typed over: ``9`` over ``6 m`` is 9 m, not 9 mm.

    Parameters
    ----------
    text
        What was typed.
    stands
        The words that stood there. Where they are no value with a unit, or end in something else than further values, the text stays.

    Examples
    --------
    >>> like_what_stands("9", "6 m")
    '9 m'
    """
    bare = text.strip()
    found = _STANDS.match(stands)
    known = found is not None and found["unit"].lower().lstrip("°") in _ANY_UNIT
    return f"{bare} {found['unit']}" if found and known and re.fullmatch(rf"-?(?:{_NUMBER})", bare) else text


def parse_scale(text: str) -> float:
    """Read a scale: ``1:12`` and ``12`` give 12, ``5:8`` gives 1.6, ``250 %`` gives 0.4.

    Parameters
    ----------
    text
        The scale as typed.

    Returns
    -------
    float
        The denominator S, real length over model length.

    Raises
    ------
    UserError
        When it is no scale or is outside 1000:1 to 1:1000.
    """
    typed = text.replace(" ", "").replace(NBSP, "")
    try:
        if typed.endswith("%"):
            denominator = 100 / parse_number(typed[:-1])
        elif ":" in typed or "/" in typed:
            model, real = re.split("[:/]", typed, maxsplit=1)
            denominator = parse_number(real) / parse_number(model)
        else:
            denominator = parse_number(typed)
    except ZeroDivisionError:
        denominator = 0.0
    except UserError as trouble:
        if "can be read as" in trouble.what:
            raise
        raise UserError(f"“{text}” is not a scale", remedy=_for_example("scale")) from None
    if not 0.001 <= denominator <= 1000:
        raise UserError(f"“{text}” is beyond any scale used here", remedy=_for_example("scale"))
    return denominator


def _parse_temperature(typed: str, negative: bool, system: System) -> float:
    match = re.fullmatch(r"(?P<number>[\d.,]+) ?°?(?P<unit>[cCfF])?(?:elsius|ahrenheit)?", typed)
    if not match:
        raise UserError(f"“{typed}” is not a temperature", remedy=_for_example("temperature"))
    number = parse_number(match["number"]) * (-1 if negative else 1)
    unit = (match["unit"] or ("C" if system == "metric" else "F")).upper()
    celsius = number if unit == "C" else (number - 32) / 1.8
    if celsius < -273.15:
        raise UserError(f"“{typed}” is below absolute zero", remedy=_for_example("temperature"))
    return celsius


def _factor(unit: str, kind: Kind, system: System, typed: str, number: str) -> float:
    """Return the size of a unit in the base unit of the kind; say which kind it is of otherwise."""
    if kind in _PLAIN:
        if unit and unit not in ("×", "x", "d"):
            raise UserError(f"“{typed}” was understood as {number} with a unit “{unit}”, and none belongs here",
                            remedy=_for_example(kind))  # fmt: skip
        return 1.0
    table = _UNITS[kind]
    name = unit.rstrip(".") or _BARE[kind, system]
    if name[:1] == "M" and name.lower() in ("mm", "mg", "ml", "ms"):
        raise UserError(
            f"“{typed}” has a capital M, which is a million", remedy=f"Write {name.lower()} for thousandths"
        )
    for candidate in (name, name.lower()):
        if candidate in table:
            return table[candidate]
    other = next((k for k, units in _UNITS.items() if name in units or name.lower() in units), "")
    meant = f", which is {_a_kind(other)}" if other else ""
    raise UserError(
        f"“{typed}” was understood as {number} “{unit}”{meant}, not {_a_kind(kind)}", remedy=_for_example(kind)
    )


def _a_kind(kind: str) -> str:
    word = {"pixels": "number of pixels"}.get(kind, kind.replace("_", " "))
    return ("an " if word[0] in "aeiou" else "a ") + word


def _for_example(kind: str) -> str:
    return f"For example {_EXAMPLES[kind]}" if kind in _EXAMPLES else "Type a plain number"


_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


def parse_moment(text: str, now: datetime) -> datetime:
    """Read a moment as a person types it: ``16:10`` (the last time it was that late), ``24 Feb 16:10``, ``2026-02-24 16:10``.

    Parameters
    ----------
    text
        As typed.
    now
        What “today” is; naive local.

    Raises
    ------
    UserError
        When it is none of these.
    """
    typed = text.strip().lower()
    try:
        if match := re.fullmatch(r"(\d{1,2})[:.](\d{2})", typed):
            moment = now.replace(hour=int(match[1]), minute=int(match[2]), second=0, microsecond=0)
            return moment if moment <= now else moment - timedelta(days=1)
        if match := re.fullmatch(r"(\d{4})-(\d{1,2})-(\d{1,2})[ t](\d{1,2})[:.](\d{2})", typed):
            return datetime(*(int(part) for part in match.groups()))  # type: ignore[arg-type]
        if (match := re.fullmatch(r"(\d{1,2})\.? ([a-z]{3})[a-z]*,? (\d{1,2})[:.](\d{2})", typed)) and match[
            2
        ] in _MONTHS:
            month = _MONTHS.index(match[2]) + 1
            years = [y for y in range(now.year, now.year - 5, -1) if _is_day(y, month, int(match[1]))]
            found = (datetime(y, month, int(match[1]), int(match[3]), int(match[4])) for y in years)
            return (
                next((m for m in found if m <= now + timedelta(days=31)), datetime.min) if years else datetime(0, 0, 0)
            )
    except ValueError:
        pass  # such a day or hour there is not
    raise UserError(f"“{text}” is no moment", remedy="Type it like 16:10, 24 Feb 16:10 or 2026-02-24 16:10")


def parse_hour(text: str, *, midnight: bool = False) -> time:
    """Read an hour of the day: ``9``, ``09:30``, ``9.30``, as a spreadsheet has it ``09:30:00``.

    Parameters
    ----------
    text
        As typed.
    midnight
        Whether ``24:00`` is one, as where a day ends: it comes out as 0:00, which elsewhere would be a day too early.

    Raises
    ------
    UserError
        When it is none.
    """
    match = re.fullmatch(r"(\d{1,2})(?:[:.](\d{2})(?::00)?)?", text.strip())
    hour, minute = (int(match[1]), int(match[2] or 0)) if match else (25, 0)
    if minute > 59 or hour > 24 or (hour == 24 and (minute or not midnight)):
        raise UserError(f"“{text.strip()}” is no hour of the day", remedy="Write it like 9, 09:30 or 16:00")
    return time(hour % 24, minute)


def parse_day(text: str, near: date) -> date:
    """Read a day: ``2026-03-17``, ``17 Mar``, ``Tue 17 March 2026``, ``17.3.2026``; without a year, the one nearest to ``near``.

    Parameters
    ----------
    text
        As typed, or as a spreadsheet has it.
    near
        A day of the same job.

    Raises
    ------
    UserError
        When it is no day, could be read day first or month first, or is on another weekday than it says.
    """
    typed = text.strip().lower()
    year = month = day = 0
    weekday = ""
    if match := re.fullmatch(r"(\d{4})-(\d{1,2})-(\d{1,2})(?:[t ]00:00(?::00)?)?", typed):
        year, month, day = (int(part) for part in match.groups())
    elif match := re.fullmatch(r"(?:([a-z]{2,9})\.?,? )?(\d{1,2})\.? ([a-z]{3})[a-z]*\.?(?: (\d{4}))?", typed):
        month = _MONTHS.index(match[3]) + 1 if match[3] in _MONTHS else 0
        day, year, weekday = int(match[2]), int(match[4] or 0), match[1] or ""
    elif match := re.fullmatch(r"(\d{1,2})\. ?(\d{1,2})\.? ?(\d{4})?", typed):
        day, month, year = int(match[1]), int(match[2]), int(match[3] or 0)
    elif match := re.fullmatch(r"(\d{1,2})/(\d{1,2})/(\d{4})", typed):
        first, second, year = (int(part) for part in match.groups())
        if first <= 12 and second <= 12 and first != second:
            raise UserError(
                f"“{text.strip()}” can be read day first or month first", remedy="Write days like 2026-03-17"
            )
        day, month = (first, second) if first > 12 or first == second else (second, first)
    years = [year] if year else [near.year + by for by in range(-4, 5)]
    found = [date(y, month, day) for y in years if _is_day(y, month, day)]
    if not found:
        raise UserError(f"“{text.strip()}” is no day", remedy="Write it like 2026-03-17 or 17 Mar")
    nearest = min(found, key=lambda d: abs((d - near).days))
    if weekday:
        said = [i for i, name in enumerate(_WEEKDAYS) if len(weekday) >= 2 and name.startswith(weekday[:3])]
        if not said:
            raise UserError(f"“{weekday}” is no day of the week", remedy="Write it like Tue 17 Mar")
        if nearest.weekday() not in said:
            right = _WEEKDAYS[nearest.weekday()].capitalize()
            raise UserError(
                f"“{text.strip()}”: {nearest.isoformat()} is a {right}", remedy="Which is meant, the day or the date?"
            )
    return nearest


_WEEKDAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")


def _is_day(year: int, month: int, day: int) -> bool:
    try:
        date(year, month, day)
    except ValueError:
        return False
    return True
