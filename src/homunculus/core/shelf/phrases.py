"""Values of a data sheet that consist of several: parts, packs, hardness, camera modes, days of the week; as typed, and back."""

from __future__ import annotations

import re
from datetime import date
from typing import get_args, get_type_hints

from homunculus.core.cells.shop import DAYS, parse_days_off, read_weekdays, show_days_off
from homunculus.core.errors import UserError
from homunculus.core.job.bodies import Level
from homunculus.core.job.cameras import CameraMode
from homunculus.core.job.cards import Hardness, Pack, Part
from homunculus.core.job.sourced import Sourced
from homunculus.core.quantities import System, parse, parse_number, without_noise
from homunculus.core.showing import show, show_number, trimmed

__all__ = ("read_weekdays",)
_SCALES: tuple[str, ...] = get_args(get_type_hints(Hardness)["scale"])


def _several(text: str) -> list[str]:
    return [" ".join(part.split()) for part in re.split(r"[,;](?!\d)", text) if part.strip()]


# -------------------------------------------------------------------------------------------- hardness
def read_hardness(text: str, source: str) -> Hardness:
    """Read a ``text`` as a hardness such as “20 A”, “Shore 00-30” or “75 D”, with its ``source``.

    Raises
    ------
    UserError
        When no scale is named, or the number is none of it.
    """
    folded = re.sub(r"shore|[-/]", " ", text.casefold()).replace("00", "oo")
    scale = next((s for s in ("OO", "A", "D") if re.search(rf"(?<![a-z]){s.casefold()}(?![a-z])", folded)), "")
    number = re.search(r"\d+(?:[.,]\d+)?", folded)
    if not scale or not number or not 0 <= parse_number(number[0]) <= 100:
        raise UserError(
            f"“{text}” is no hardness",
            remedy=f"Write a number from 0 to 100 and its scale ({', '.join(_SCALES)}): 20 A",
        )
    return Hardness(parse_number(number[0]), scale, source)  # type: ignore[arg-type]


def show_hardness(value: Hardness) -> str:
    """Write the ``value`` of a hardness as it is read."""
    return f"{show_number(value.value)} {value.scale}"


# ----------------------------------------------------------------------------------------------- parts
def read_parts(text: str, system: System, source: str) -> tuple[Part, ...]:
    """Read a ``text`` as parts such as “A 100, B 10”, in a ``system`` of units and with their ``source``, or, where they are by volume, “A 1 at 1.1 g/cm³, B 1 at 0.98 g/cm³”.

    Raises
    ------
    UserError
        When one has no name or no number, or two have one name.
    """
    found = []
    for phrase in _several(text):
        match = re.fullmatch(r"(.*?\S)\s+([\d.,/ ]+?)(?:\s+at\s+(.+))?", phrase)
        if not match:
            raise UserError(f"“{phrase}” is no part", remedy="Write a name and how much of it: A 100, B 10")
        density = Sourced(without_noise(parse(match[3], "density", system)), source) if match[3] else None
        found.append(Part(match[1], parse_number(match[2]), density))
    if len({part.name for part in found}) < len(found):
        raise UserError("Two parts have one name", remedy="Give each its own: A 100, B 10")
    return tuple(found)


def show_parts(parts: tuple[Part, ...], system: System) -> str:
    """Write ``parts`` as they are read, in a ``system``."""

    def one(part: Part) -> str:
        density = f" at {trimmed(show(part.density_kg_m3.value, 'density', system, 4))}" if part.density_kg_m3 else ""
        return f"{part.name} {show_number(part.parts)}{density}"

    return ", ".join(map(one, parts))


# ----------------------------------------------------------------------------------------------- packs
def read_packs(text: str, system: System) -> tuple[Pack, ...]:
    """Read a ``text`` as packs such as “1 kg 28, 5.5 kg 132”, in a ``system`` of units: how much is in, and what it costs without tax.

    Raises
    ------
    UserError
        When one says no weight or no price.
    """
    found = []
    for phrase in _several(text):
        match = re.fullmatch(r"(\d.*[^\W\d])\s+\D{0,3}?\s*([\d.,]+)\s*\D{0,3}", phrase)
        if not match:
            raise UserError(f"“{phrase}” is no pack", remedy="Write weight and price: 1 kg 28, 5.5 kg 132")
        found.append(Pack(without_noise(parse(match[1], "mass", system)), parse_number(match[2])))
    return tuple(found)


def show_packs(packs: tuple[Pack, ...], system: System) -> str:
    """Write ``packs`` as they are read, in a ``system``."""
    return ", ".join(f"{trimmed(show(p.mass_kg, 'mass', system, 4))} {show_number(p.price)}" for p in packs)


# ----------------------------------------------------------------------------------------------- modes
_MODE = re.compile(
    r"(?P<name>[^:]+):\s*(?P<wide>.+?)\s*[×x]\s*(?P<high>.+?),\s*(?P<px>\d+)\s*px,\s*at\s+(?P<rates>[\d.\s]+?)(?:\s*fps)?"
)


def read_modes(text: str, system: System, source: str) -> tuple[CameraMode, ...]:
    """Read a ``text`` as modes such as “full width: 36 mm × 19 mm, 4096 px, at 24 25 30 150 fps”, parted by a stroke.

    Sizes are in a ``system`` of units; all that they say comes from a ``source``.

    Raises
    ------
    UserError
        When one cannot be read.
    """
    found = []
    for phrase in filter(None, (" ".join(p.split()) for p in text.split("|"))):
        match = _MODE.fullmatch(phrase)
        if not match:
            raise UserError(
                f"“{phrase[:60]}” is no mode",
                remedy="Write it like full width: 36 mm × 19 mm, 4096 px, at 24 25 30 150 fps",
            )

        def told(value: float) -> Sourced:
            return Sourced(value, source)

        high = match["high"] if re.search(r"[^\d.,\s]", match["high"]) else f"{match['high']} {_unit(match['wide'])}"
        wide = match["wide"] if _unit(match["wide"]) else f"{match['wide']} {_unit(match['high'])}"
        rates = sorted({float(rate) for rate in match["rates"].split()})
        found.append(CameraMode(match["name"].strip(), tuple(rates), told(without_noise(parse(wide, "length", system))),
                                told(without_noise(parse(high, "length", system))), told(float(match["px"]))))  # fmt: skip
    if len({mode.name for mode in found}) < len(found):
        raise UserError("Two modes have one name", remedy="Give each its own")
    return tuple(found)


def _unit(words: str) -> str:
    return re.sub(r"[\d.,/\s]", "", words)


def show_modes(modes: tuple[CameraMode, ...], system: System) -> str:
    """Write ``modes`` as they are read, in a ``system``."""

    def one(mode: CameraMode) -> str:
        wide, high = (trimmed(show(v.value, "length", system, 4)) for v in (mode.sensor_width_m, mode.sensor_height_m))
        return f"{mode.name}: {wide} × {high}, {mode.pixels_across.value:.0f} px, at {' '.join(f'{r:g}' for r in mode.rates_fps)} fps"

    return " | ".join(map(one, modes))


# ------------------------------------------------------------------------------------------------ days
def show_weekdays(days: tuple[int, ...]) -> str:
    """Write ``days`` of the week as they are read: three and more that follow each other as a run."""
    said: list[str] = []
    left = sorted(days)
    while left:
        run = next(n for n in range(len(left), 0, -1) if left[n - 1] - left[0] == n - 1)
        said += [f"{DAYS[left[0]]} to {DAYS[left[run - 1]]}"] if run > 2 else [DAYS[day] for day in left[:run]]
        left = left[run:]
    return ", ".join(said)


def read_days(text: str) -> tuple[date, ...]:
    """Read a ``text`` as days off, each with its year: “2026-04-03, 2026-12-24 to 2026-12-31”.

    Raises
    ------
    UserError
        When one is no day.
    """
    return parse_days_off(text, date.today())


def show_days(days: tuple[date, ...]) -> str:
    """Write days off as they are read."""
    return show_days_off(days)


# ---------------------------------------------------------------------------------------------- levels
_LEVEL = re.compile(
    r"(?:(?P<limb>trunk|head|arm|leg|hand|foot),?\s+)?(?P<at>.+?)\s+up,\s*(?P<girth>.+?)\s+round(?:,\s*(?P<aspect>[\d.,]+)\s*(?:wide|×)?)?"
)


def read_level(text: str, before: Level | None, system: System, source: str) -> Level:
    """Read a ``text`` as a level such as “chest: trunk, 1.29 m up, 106 cm round, 1.3 wide”: limb, height, girth, width over depth.

    In a ``system`` of units, with its ``source``; what it does not say is as it was ``before``.

    Raises
    ------
    UserError
        When it has no name or cannot be read.
    """
    name, colon, rest = text.partition(":")
    match = _LEVEL.fullmatch(" ".join(rest.split()))
    if not colon or not name.strip() or not match:
        raise UserError(
            f"“{text[:60]}” is no level", remedy="Write it like chest: trunk, 1.29 m up, 106 cm round, 1.3 wide"
        )
    limb = match["limb"] or (before.limb if before else "trunk")
    aspect = parse_number(match["aspect"]) if match["aspect"] else before.aspect if before else 1.0
    return Level(" ".join(name.split()), limb, without_noise(parse(match["at"], "length", system)),  # type: ignore[arg-type]
                 without_noise(parse(match["girth"], "length", system)), aspect, source)  # fmt: skip


def show_level(level: Level, system: System) -> str:
    """Write a ``level`` as it is read, without its name, in a ``system`` of units."""
    if system == "metric":  # in millimetres: nobody takes a point for one of thousands when another part is typed over
        at, girth = (f"{show_number(without_noise(value * 1000))} mm" for value in (level.at_m, level.girth_m))
    else:
        at, girth = (str(trimmed(show(value, "length", system, 4))) for value in (level.at_m, level.girth_m))
    return f"{level.limb}, {at} up, {girth} round, {show_number(level.aspect)} wide"
