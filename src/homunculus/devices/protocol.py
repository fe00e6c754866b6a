"""The line protocol of a scale, plain enough to type: see ``docs/scale-protocol.md``."""

from __future__ import annotations

import re

from msgspec import Struct

from homunculus.core.errors import UserError

GRAM = 0.001
LONGEST = 120
_READING = re.compile(rb"([=~]) (-?\d{1,7}(?:\.\d{1,4})?) g")
_HELLO = re.compile(rb"hello scale step (\d{1,4}(?:\.\d{1,4})?) g limit (\d{1,7}(?:\.\d{1,4})?) g")


class Reading(Struct, frozen=True):
    """What the pan bears: kg, whether at rest, and whether it is more than the scale can tell."""

    kg: float
    resting: bool
    beyond: bool = False


class Hello(Struct, frozen=True):
    """What the scale is: its step and its limit [kg]."""

    step_kg: float
    limit_kg: float


def parse(line: bytes) -> Reading | Hello:
    """Read one line.

    Parameters
    ----------
    line
        Without its line end.

    Raises
    ------
    UserError
        When it is none of the protocol's lines.
    """
    line = line.strip()
    match = _READING.fullmatch(line)
    if match:
        return Reading(float(match[2]) * GRAM, match[1] == b"=")
    if line == b"> limit":
        return Reading(0.0, False, True)
    match = _HELLO.fullmatch(line)
    if match and float(match[1]) > 0:
        return Hello(float(match[1]) * GRAM, float(match[2]) * GRAM)
    shown = line[:40].decode("ascii", "replace")
    raise UserError(f"The scale sent “{shown}”, which cannot be read", "scale", "See docs/scale-protocol.md")


def line_of(said: Reading | Hello, step_g: float) -> bytes:
    """Write one line, with its line end; readings are rounded to the ``step_g`` of the scale."""
    if isinstance(said, Hello):
        return f"hello scale step {said.step_kg / GRAM:g} g limit {said.limit_kg / GRAM:g} g\n".encode()
    if said.beyond:
        return b"> limit\n"
    grams = round(said.kg / GRAM / step_g) * step_g
    decimals = len(f"{step_g:g}".partition(".")[2])
    return f"{'=' if said.resting else '~'} {grams + 0.0:.{decimals}f} g\n".encode()
