"""A stage's air in one line, and back: “sight 2 km at 2 %, dry ice 10 kg/h for 15 min, air changed 2 times an hour”; empty: clear air."""

from __future__ import annotations

import re

from msgspec.structs import replace

from homunculus.core.cells.places import as_it_stood, phrases, sized, within
from homunculus.core.errors import UserError
from homunculus.core.job.stage import StageAir
from homunculus.core.quantities import System, parse, parse_number
from homunculus.core.showing import show_number

EXAMPLE = "sight 2 km at 2 %, dry ice 10 kg/h for 15 min, air changed 2 times an hour"


def parse_air(text: str, system: System = "metric", before: StageAir | None = None) -> StageAir | None:
    """Read the air of a stage.

    Parameters
    ----------
    text
        As above; “clear” or nothing is clear air.
    system
        Of units, for bare numbers.
    before
        What stood there: a phrase left as it was shown keeps its value to the last digit.

    Raises
    ------
    UserError
        When it cannot be read.
    """
    if text.strip().casefold() in ("", "clear", "none", "clear air"):
        return None
    if before:
        text = as_it_stood(text, show_air(before, system), show_air(before))
    air = StageAir()
    for part in phrases(text):
        if match := re.fullmatch(r"sight (.+?)(?: at ([25]) ?%)?", part, re.IGNORECASE):
            sight = within(parse(match[1], "length", system), StageAir, "sight_m", part)
            air = replace(air, sight_m=sight, threshold_pct=5 if match[2] == "5" else 2)
        elif match := re.fullmatch(r"dry ice (.+?)(?: for (.+))?", part, re.IGNORECASE):
            ice = within(round(parse(match[1], "mass_flow", system) * 3600, 9), StageAir, "ice_kg_h", part)
            air = replace(air, ice_kg_h=ice)
            if match[2]:
                air = replace(air, ice_s=within(parse(match[2], "duration", system), StageAir, "ice_s", part))
        elif match := re.fullmatch(r"air changed ([\d.,]+) times an hour", part, re.IGNORECASE):
            air = replace(air, changes_h=within(parse_number(match[1]), StageAir, "changes_h", part))
        else:
            raise UserError(f"“{part}” says nothing of the air", remedy=f"Write it like {EXAMPLE}, or clear")
    return air


def show_air(air: StageAir | None, system: System = "metric") -> str:
    """Write the ``air`` of a stage as :func:`parse_air` reads it, in the units of a ``system``."""
    if air is None:
        return "clear"
    words = []
    if air.sight_m is not None:
        words.append(f"sight {sized(air.sight_m, system)} at {air.threshold_pct} %")
    if (air.ice_kg_h, air.ice_s) != (0.0, StageAir().ice_s):
        ice = (
            f"{show_number(air.ice_kg_h)} kg/h"
            if system == "metric"
            else sized(air.ice_kg_h / 3600, system, "mass_flow")
        )
        words.append(f"dry ice {ice} for {show_number(air.ice_s)} s")
    return ", ".join((*words, f"air changed {show_number(air.changes_h)} times an hour"))
