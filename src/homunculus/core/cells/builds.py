"""A build in one line, as people type it, and back: what it must do, beside its pieces.

“Paddle ferry: 1:24, from 2026-02-16, stands 900 mm, wave 2 m, bought parts, budget 320, ferry moves 6 m/s in 2 and 5”

Before the colon its name, then phrases parted by commas, in any order:

| phrase | what it says |
| --- | --- |
| `1:24` | its scale; left out where it takes that from another |
| `from 2026-02-16`, `from 2026-02-16 10:30` | when work on it may begin |
| `called the ferry` | how a question names it, where that is not its name |
| `2 hero`, `1 spare` | how many whole figures, by what they are for: one hero where nothing is said |
| `crew 2` | how many work on it side by side |
| `stands 900 mm` | height of its foot above the stage floor |
| `wave 2 m` | water in the shot: the real size of what it does |
| `bought parts` | that parts come out of a box, of the scales that are sold |
| `budget 320` | money set aside for its rubber |
| `ferry moves 6 m/s in 2 and 5` | something that must appear to move at a real speed; in the shots named, or in all |
| `double of wheel 1.2 m built 100 mm` | a double that must cut with a full-size one: a dimension, real and as it was built |

What a line leaves out is as if nobody had said it.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date, datetime, time
from typing import Any

from msgspec.structs import replace

from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.lines import reach, write_value
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, Intercut, Move, Water
from homunculus.core.job.counts import ROLES, Wanted
from homunculus.core.quantities import NBSP, Kind, System, parse, parse_scale, without_noise
from homunculus.core.showing import show, show_number, trimmed

HINT = "A name, a colon, what it must do: Paddle ferry: 1:24, from 2026-02-16, wave 2 m, ferry moves 6 m/s in 2 and 5"
BEGINS = time(9)
"""At which hour work begins where a day alone is said."""


def usual_name(name: str) -> str:
    """How a question names a build of that ``name`` while nobody says otherwise: “the barge”."""
    words = name[:1].lower() + name[1:] if name[1:2].islower() else name
    return words if words.casefold().startswith(("the ", "a ")) else f"the {words}"


def show_build(build: Build, system: System = "metric") -> str:
    """Write a ``build`` as one line, in a ``system`` of units."""
    return f"{_called(build)}: {', '.join(words for words, _ in _phrases(build, system))}"


def _called(build: Build) -> str:
    """Its name as a line begins with it: only a colon would end it."""
    return " ".join(build.name.split()).replace(":", " -")


def _plain(words: str) -> str:
    return " ".join(words.split()).replace(":", " -").replace(",", " ")


def _phrases(build: Build, system: System) -> Iterator[tuple[str, Any]]:
    """What the line says, and the fields that each phrase stands for with their values."""

    def size(value: float, kind: Kind, field: str) -> str:
        said = write_value(value, field) if system == "metric" else str(trimmed(show(value, kind, system, 5)))
        return said.replace(NBSP, " ")

    if not build.follows:
        yield write_value(build.scale, "scale"), {"scale": build.scale}
    starts = build.starts
    clock = starts.time().isoformat("auto" if starts.second or starts.microsecond else "minutes")
    yield f"from {starts.date().isoformat()}" + ("" if starts.time() == BEGINS else f" {clock}"), {"starts": starts}
    if build.called != usual_name(build.name):
        yield f"called {_plain(build.called)}", {"called": build.called}
    if build.wanted != Wanted():
        for role in ROLES:
            if (count := getattr(build.wanted, role)) or role == "hero":
                yield f"{count} {role}", {role: count}
    if build.crew != 1:
        yield f"crew {build.crew}", {"crew": build.crew}
    if build.stands_m:
        yield f"stands {size(build.stands_m, 'length', 'stands_m')}", {"stands_m": build.stands_m}
    if build.water:
        yield f"wave {size(build.water.wave_m, 'length', 'wave_m')}", {"water": build.water}
    if build.bought_parts:
        yield "bought parts", {"bought_parts": True}
    if build.rubber_budget is not None:
        yield f"budget {show_number(build.rubber_budget)}", {"rubber_budget": build.rubber_budget}
    for move in build.moves:
        shots = f" in {' and '.join(move.shots)}" if move.shots else ""
        yield f"{_plain(move.name)} moves {size(move.real_m_s, 'speed', 'real_m_s')}{shots}", {"moves": move}
    if cut := build.intercut:
        real, built = size(cut.real_m, "length", "real_m"), size(cut.built_m, "length", "built_m")
        yield f"double of {_plain(cut.what)} {real} built {built}", {"intercut": cut}


def read_build(text: str, before: Build, system: System = "metric") -> Build:
    """Read a line over a build.

    Parameters
    ----------
    text
        As above.
    before
        The build that it was; its pieces, signatures and what is frozen stay.
    system
        Units of what the line says without any. A phrase that stands as it was shown leaves its value alone.

    Raises
    ------
    UserError
        When there is no name, or a phrase is not understood.
    """
    name, _, rest = text.replace(NBSP, " ").partition(":")
    name = " ".join(name.split())
    if not name:
        raise UserError("It would have no name", remedy=HINT)
    name = before.name if name == _called(before) else name
    shown = dict(_phrases(before, system))
    said: dict[str, Any] = {}
    moves: list[Move] = []
    for words in (" ".join(part.split()) for part in re.split(r"(?<!\d),|,(?!\d)", rest) if part.strip()):
        new = shown[words] if words in shown else _phrase(words, system)
        if "moves" in new:
            moves.append(new["moves"])
            continue
        if twice := sorted(set(new) & set(said)):
            raise UserError(f"“{words}” says anew what was said already: {twice[0]}", remedy="Take one of the two away")
        said |= new
    for field, value in said.items():
        _bounded(field, value)
    roles = {role: said.pop(role) for role in ROLES if role in said}
    if before.follows and "scale" in said:
        raise UserError(f"{before.name} takes its scale from another", remedy="Leave the scale out, or untie it first")
    return replace(
        before, name=name, scale=said.get("scale", before.scale), starts=said.get("starts", before.starts),
        called=said.get("called", usual_name(name)), wanted=Wanted(**({"hero": 0} | roles)) if roles else Wanted(), crew=said.get("crew", 1),
        stands_m=said.get("stands_m", 0.0), water=said.get("water"), bought_parts=said.get("bought_parts", False),
        rubber_budget=said.get("rubber_budget"), moves=tuple(moves), intercut=said.get("intercut"),
    )  # fmt: skip


def _bounded(field: str, value: Any) -> None:
    owner: type = Wanted if field in ROLES else Build
    if isinstance(value, int | float) and not isinstance(value, bool):
        low, high = bounds(owner, field)
        if not low <= value <= high:
            raise UserError(
                f"{value:g} is beyond what can be for {field.removesuffix('_m')}", remedy=reach(owner, field)
            )


def _phrase(words: str, system: System) -> dict[str, Any]:
    """What one phrase says."""
    first, _, rest = words.partition(" ")
    if re.fullmatch(r"[\d.]+ ?: ?[\d.]+", words):
        return {"scale": parse_scale(words)}
    if first == "from":
        return {"starts": read_starts(rest)}
    if first == "called" and rest:
        return {"called": rest}
    if match := re.fullmatch(rf"(\d{{1,6}}) ({'|'.join(ROLES)})", words):
        return {match[2]: int(match[1])}
    if match := re.fullmatch(r"crew (\d{1,4})", words):
        return {"crew": int(match[1])}
    if words == "bought parts":
        return {"bought_parts": True}
    if first == "budget" and (match := re.fullmatch(r"[\d.,]+", rest)):
        return {"rubber_budget": parse(rest, "factor")}
    if first == "stands":
        return {"stands_m": _size(rest, "length", system)}
    if first == "wave":
        wave = _size(rest, "length", system)
        _within(Water, "wave_m", wave, words)
        return {"water": Water(wave)}
    if match := re.fullmatch(r"(.+?) moves (.+?)(?: in (.+))?", words):
        speed = _size(match[2], "speed", system)
        _within(Move, "real_m_s", speed, words)
        return {"moves": Move(match[1], speed, tuple(s.strip() for s in match[3].split(" and ")) if match[3] else ())}
    if match := re.fullmatch(r"double of (.+?) ([\d.,/]+ ?\S+) built ([\d.,/]+ ?\S+)", words):
        real, built = (_size(match[i], "length", system) for i in (2, 3))
        _within(Intercut, "real_m", real, words)
        _within(Intercut, "built_m", built, words)
        return {"intercut": Intercut(match[1], real, built)}
    raise UserError(f"“{words}” is not understood", remedy=HINT)


def _size(words: str, kind: Kind, system: System) -> float:
    return without_noise(parse(words, kind, system))


def _within(owner: type, field: str, value: float, words: str) -> None:
    low, high = bounds(owner, field)
    if not low <= value <= high:
        raise UserError(f"“{words}” is beyond what can be", remedy=reach(owner, field))


def read_starts(words: str) -> datetime:
    """Read ``words`` that say when work may begin: a day, and an hour of the shop's own clock where it is not the usual one.

    Raises
    ------
    UserError
        When it is no day.
    """
    day, _, clock = words.partition(" ")
    try:
        hour = time.fromisoformat(clock.strip()) if clock.strip() else BEGINS
        moment = datetime.combine(date.fromisoformat(day), hour)
    except ValueError:
        moment = None
    if moment is None or moment.tzinfo is not None:  # the shop's own clock, and no other
        raise UserError(f"“{words}” is no day", remedy="Write it like 2026-03-02, or 2026-03-02 10:30")
    return moment
