"""Stands of a measuring card in one line each, and back: “lens stand: A 2.31 m, B 3.02 m, left”; found again: “2.33 m, 3.02 m by Joost”."""

from __future__ import annotations

import re

from homunculus.core.cells.places import as_it_stood, phrases, sized, within
from homunculus.core.errors import UserError
from homunculus.core.job.stage import Found, Stand
from homunculus.core.quantities import System, parse

EXAMPLE = "lens stand: A 2.31 m, B 3.02 m, left"
FOUND_EXAMPLE = "2.33 m, 3.02 m by whoever measured"


def parse_stand(text: str, system: System = "metric", before: Stand | None = None) -> Stand:
    """Read a stand from a ``text``; bare numbers in the units of the ``system``, what stands as it was shown of the one ``before`` keeps its value.

    Raises
    ------
    UserError
        When it says no name, or not both distances.
    """
    if before:
        text = as_it_stood(text, show_stand(before, system), show_stand(before))
    name, colon, rest = text.strip().partition(":")
    name = " ".join(name.split())
    found: dict[str, float] = {}
    side = "left"
    for part in phrases(rest) if colon else []:
        if match := re.fullmatch(r"(?:from )?([ab])[ :]+(.+)", part, re.IGNORECASE):
            field = f"from_{match[1].lower()}_m"
            found[field] = within(parse(match[2], "length", system), Stand, field, part)
        elif part.casefold() in ("left", "right"):
            side = part.casefold()
        elif part:
            raise UserError(f"“{part}” is not understood", remedy=f"Write it like {EXAMPLE}")
    if not name or len(found) < 2:
        raise UserError("A stand has a name and its distance from both nails", remedy=f"Write it like {EXAMPLE}")
    return Stand(name, found["from_a_m"], found["from_b_m"], "right" if side == "right" else "left")


def show_stand(stand: Stand, system: System = "metric") -> str:
    """Write a ``stand`` as :func:`parse_stand` reads it, in the units of a ``system``."""
    return f"{stand.name}: A {sized(stand.from_a_m, system)}, B {sized(stand.from_b_m, system)}, {stand.side}"


def parse_found(stand: str, text: str, system: System = "metric") -> Found:
    """Read where a ``stand``, by its name, was found, from a ``text``; bare numbers in the units of the ``system``.

    Raises
    ------
    UserError
        When it does not say both distances.
    """
    words, _, by = text.partition(" by ")
    parts = [re.sub(r"^(?:from )?[ab][ :]+", "", part, flags=re.IGNORECASE) for part in phrases(words) if part]
    if len(parts) != 2:
        raise UserError(f"“{text.strip()}” does not say both distances", remedy=f"From A, then from B: {FOUND_EXAMPLE}")
    a, b = (within(parse(part, "length", system), Found, "from_a_m", part) for part in parts)
    return Found(stand, a, b, by=by.strip())
