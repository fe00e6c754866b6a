"""One step of a route in one line, as people type it: “polish: hands 1.5 h and 30 min a m², a good piece”.

Before the colon its name, then phrases parted by commas:

| phrase | what it says |
| --- | --- |
| `hands 1.5 h`, `hands 1.5 h and 2 h a m²` | work, and for each square metre of the piece |
| `wait 20 h` | a clock without hands |
| `layer primer 0.1 mm, 2 coats` | coats of a material, each so thick |
| `once`, `a mould`, `a casting`, `a good piece`, `a figure` | how often; once when nobody says |
| `sculptor` | whose hands: any other word |
"""

from __future__ import annotations

import re
from typing import Any

from homunculus.core.cells.pieces import find_material
from homunculus.core.edits.decisions import bounds
from homunculus.core.errors import UserError
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.operations import AnyOperation, Hands, Layer, Loop, Wait
from homunculus.core.quantities import NBSP, System, parse

HINT = "A name, a colon, what it takes, how often: polish: hands 1.5 h, a good piece"
HOW_OFTEN: dict[str, Loop] = {
    "once": "once", "a mould": "mould", "a casting": "casting", "a good piece": "piece", "a piece": "piece", "a figure": "figure",
}  # fmt: skip
_KINDS: dict[str, type[Hands | Wait | Layer]] = {"hands": Hands, "wait": Wait, "layer": Layer}


def read_step(text: str, op_id: str, cards: tuple[MaterialCard, ...], system: System = "metric") -> AnyOperation:
    """Read a line as an operation.

    Parameters
    ----------
    text
        As above.
    op_id
        The id that it gets.
    cards
        Materials for layers.
    system
        Units of bare numbers.

    Raises
    ------
    UserError
        When it does not say what it takes, or a value is beyond what can be.
    """
    name, colon, rest = text.replace(NBSP, " ").partition(":")
    parts = [" ".join(part.split()) for part in rest.split(",") if part.strip()]
    if not colon or not name.strip() or not parts:
        raise UserError(f"“{text.strip()[:60]}” says no step", remedy=HINT)
    said: dict[str, Any] = {}
    made: type[Hands | Wait | Layer] | None = None
    for words in parts:
        first, _, what = words.partition(" ")
        if words in HOW_OFTEN:
            said["loop"] = HOW_OFTEN[words]
        elif first in ("hands", "wait", "layer") and made is None:
            made = _KINDS[first]
            said |= _takes(first, what, words, cards, system)
        elif made is Layer and (coats := re.fullmatch(r"(\d{1,3}) coats?", words)):
            said["coats"] = int(coats[1])
        elif made is not None and re.fullmatch(r"[^\d]+", words) and "skill" not in said:
            said["skill"] = words
        else:
            raise UserError(f"“{words}” is not understood", remedy=HINT)
    if made is None:
        raise UserError(
            f"“{name.strip()}” does not say what it takes",
            remedy="Write hands 1.5 h, wait 20 h, or layer and a material",
        )
    for field, value in said.items():
        if isinstance(value, int | float):
            low, high = bounds(made, field)
            if not low <= value <= high:
                raise UserError(
                    f"“{text.strip()[:60]}” has a value beyond what can be", remedy=f"It goes from {low:g} to {high:g}"
                )
    return made(op_id, " ".join(name.split()), **said)


def _takes(first: str, what: str, words: str, cards: tuple[MaterialCard, ...], system: System) -> dict[str, Any]:
    if not what:
        raise UserError(
            f"“{words}” does not say how much", remedy="Write hands 1.5 h, wait 20 h, or layer and a material"
        )
    if first == "wait":
        return {"wait_s": parse(what, "duration", system)}
    if first == "hands":
        fixed, _, rate = what.partition(" and ")
        if rate and not re.search(r" (?:a|per) m[2²]$", rate):
            raise UserError(f"“{words}” is not understood", remedy="Write hands 1.5 h and 2 h a m²")
        per_m2 = {"work_s_per_m2": parse(re.sub(r" (?:a|per) m[2²]$", "", rate), "duration", system)} if rate else {}
        return {"work_s": parse(fixed, "duration", system), **per_m2}
    match = re.match(r"(?P<name>.+?)(?: (?P<thick>[\d.,/]+ ?\D+))?$", what)
    assert match is not None
    thick = {"thickness_m": parse(match["thick"], "length", system)} if match["thick"] else {}
    return {"material": find_material(match["name"], cards).id, "how": "brushed", **thick}
