"""Lamps on a model and screens within it in one line each, and back.

`deck lights: 40 of 20 mA at 12 V, 4 m of wire` — `chart: 60 mm × 30 mm, reflects 90 %, gain 1.2`.
"""

from __future__ import annotations

import re

from msgspec.structs import replace

from homunculus.core.cells.places import phrases, within
from homunculus.core.errors import UserError
from homunculus.core.job.lighting import ModelLamps, ModelScreen
from homunculus.core.quantities import System, parse, parse_number
from homunculus.core.showing import show_number

LAMPS_EXAMPLE = "Write it like deck lights: 40 of 20 mA at 12 V, 4 m of wire"
SCREEN_EXAMPLE = "Write it like chart: 60 mm × 30 mm, reflects 90 %, gain 1.2"


def parse_light(text: str, system: System = "metric") -> ModelLamps | ModelScreen:
    """Read lamps or a screen of a model from a line.

    Parameters
    ----------
    text
        As above.
    system
        Of units, for bare lengths.

    Raises
    ------
    UserError
        When it is neither.
    """
    name, colon, rest = text.partition(":")
    parts = phrases(rest)
    if not colon or not name.strip():
        raise UserError(
            f"“{text.strip()}” has no name",
            remedy=f"{LAMPS_EXAMPLE}; a screen {SCREEN_EXAMPLE[0].lower()}{SCREEN_EXAMPLE[1:]}",
        )
    name = " ".join(name.split())
    if match := re.fullmatch(r"(\d+)\s*(?:of|×|x)\s*(.+?)\s+at\s+(.+)", parts[0], re.IGNORECASE):
        return _lamps(name, match, parts[1:], system)
    if match := re.fullmatch(r"(.+?)\s*[×x]\s*(.+)", parts[0], re.IGNORECASE):
        return _screen(name, match, parts[1:], system)
    raise UserError(f"“{parts[0]}” says no lamps and no screen", remedy=f"{LAMPS_EXAMPLE}. {SCREEN_EXAMPLE}")


def _lamps(name: str, match: re.Match[str], rest: list[str], system: System) -> ModelLamps:
    lamps = ModelLamps(
        name, int(within(int(match[1]), ModelLamps, "count", match[1])), within(round(parse(match[2], "current"), 9), ModelLamps, "amps", match[2]),
        within(parse(match[3], "voltage"), ModelLamps, "volts", match[3]),
    )  # fmt: skip
    for part in rest:
        found = re.fullmatch(r"(.+?)\s+of\s+wire", part, re.IGNORECASE)
        if not found:
            raise UserError(f"“{part}” says nothing of lamps", remedy=LAMPS_EXAMPLE)
        lamps = replace(lamps, wire_m=within(parse(found[1], "length", system), ModelLamps, "wire_m", part))
    return lamps


def _screen(name: str, match: re.Match[str], rest: list[str], system: System) -> ModelScreen:
    high = round(parse(match[2], "length", system), 9)
    unit = re.search(r"[^\d.,\s]+$", match[2].strip())
    wide_words = match[1] if re.search(r"[^\d.,\s]$", match[1].strip()) or not unit else f"{match[1]} {unit[0]}"
    screen = ModelScreen(name, within(round(parse(wide_words, "length", system), 9), ModelScreen, "width_m", match[1]),
                         within(high, ModelScreen, "height_m", match[2]))  # fmt: skip
    for part in rest:
        word, _, words = part.partition(" ")
        if word.casefold() == "reflects" and words:
            screen = replace(screen, reflects=within(round(parse(words, "share"), 9), ModelScreen, "reflects", part))
        elif word.casefold() == "gain" and words:
            screen = replace(screen, gain=within(parse_number(words), ModelScreen, "gain", part))
        else:
            raise UserError(f"“{part}” says nothing of a screen", remedy=SCREEN_EXAMPLE)
    return screen


def show_light(light: ModelLamps | ModelScreen) -> str:
    """Write lamps or a screen as :func:`parse_light` reads them: a ``light`` of a model."""
    name = light.name.replace(":", " -")
    if isinstance(light, ModelLamps):
        return f"{name}: {light.count} of {show_number(light.amps * 1000)} mA at {show_number(light.volts)} V, {show_number(light.wire_m)} m of wire"
    words = f"{name}: {show_number(light.width_m * 1000)} mm × {show_number(light.height_m * 1000)} mm"
    words += f", reflects {show_number(light.reflects * 100)} %" if light.reflects != 0.9 else ""
    return words + (f", gain {show_number(light.gain)}" if light.gain != 1 else "")
