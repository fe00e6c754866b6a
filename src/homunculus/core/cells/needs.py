"""Needs as people write them in one line, and back: “lighthouse: lighthouse/tower+gallery, soiling, left; rail: stock”.

A need is what the script says, a colon, and what covers it. Needs are parted by semicolons or lines; where
neither these nor a colon stand, by commas. What covers:

| what covers | what it is |
| --- | --- |
| `lighthouse` | a build, by its name or id |
| `lighthouse/tower+gallery` | some of its pieces |
| `…, soiling` or `…, destructive` | what the shot does to it; pristine when not said |
| `…, front, left` | the sides that the camera sees |
| `…, stands 2 m to 7 m` or `…, looks 40 m` | where it stands before the lens, as in :mod:`places`; of all that covers |
| `…, chance 35 %, resets 2` | destructive: of a good take; takes that one copy gives more |
| `…, shows 9, passes 3` | how many of it are seen at once, and in how many passes of the same move they are taken |
| `stock: two crates` | something that is there |
| `people: driver` | somebody who is called |
| `decide: build or hire? by 2026-03-02` | an open decision |

A bare name of a build covers itself. Everything else without a colon is covered by nothing.
"""

from __future__ import annotations

import re
from datetime import date

from msgspec.structs import replace

from homunculus.core.cells.places import is_placed, parse_place, phrases, show_place
from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.lines import reach
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.job.shots import SIDES, WEARS, ByBuild, ByDecision, ByPeople, ByStock, Cover, Need, Side, Wear
from homunculus.core.quantities import NBSP, parse
from homunculus.core.showing import show_number

HINT = "A build, as in lighthouse/tower, soiling, front, stands 3 m; or stock: …, people: …, decide: … by 2026-03-02."
"""What covers, in a sentence for whoever types it."""
_BY = re.compile(r"\s+by\s+(\d{4}-\d\d-\d\d)$")


def find_build(job: Job, name: str) -> Build | None:
    """Find a build of a ``job`` by its id, its name or what a question calls it; none when there is none or several."""
    words = name.strip().casefold()
    exact = [b for b in job.builds if words in (b.id.casefold(), b.name.casefold(), b.called.casefold())]
    return exact[0] if len(exact) == 1 else None


def parse_needs(text: str, job: Job) -> tuple[Need, ...]:
    """Read a line of needs.

    Parameters
    ----------
    text
        As above.
    job
        Whose builds may cover.

    Raises
    ------
    UserError
        When what covers a need names a build or piece that is not there, or cannot be read.
    """
    lines = text.replace("\n", ";")
    sign = ";" if ";" in lines or ":" in lines else ","  # words from a script, parted as people do
    return tuple(parse_need(part, job) for part in lines.split(sign) if part.strip())


def parse_need(text: str, job: Job) -> Need:
    """Read one need of a ``text`` against the builds of a ``job``.

    Raises
    ------
    UserError
        As :func:`parse_needs`.
    """
    what, colon, cover = text.partition(":")
    what = what.strip()
    if not what:
        raise UserError(
            f"“{text.strip()}” does not say what is needed", remedy="Write what, a colon, and what covers it"
        )
    if not colon:
        build = find_build(job, what)
        return Need(what, ByBuild(build.id) if build else None)
    return covered(Need(what), cover, job)


def covered(need: Need, text: str, job: Job) -> Need:
    """Return the ``need`` covered, and placed, as a ``text`` says, against the builds of a ``job``.

    Raises
    ------
    UserError
        As :func:`parse_cover`, and when a place cannot be read.
    """
    parts = phrases(text)
    placed: list[str] = []
    while parts and is_placed(parts[-1]):
        placed.insert(0, parts.pop())
    within_build = [part for part in parts[1:] if is_placed(part)]  # among other words of a build
    if within_build and ":" not in parts[0]:
        parts = [part for part in parts if part not in within_build]
        placed = [*within_build, *placed]
    return replace(need, cover=parse_cover(", ".join(parts), job), place=parse_place(placed))


def parse_cover(text: str, job: Job) -> Cover | None:
    """Read what covers a need; empty, or “nothing”, is none.

    Parameters
    ----------
    text
        As the table above has it.
    job
        Whose builds may cover.

    Raises
    ------
    UserError
        When it names a build or piece that is not there, or cannot be read.
    """
    words = " ".join(text.replace(NBSP, " ").split())
    if words.casefold() in ("", "nothing", "nobody"):
        return None
    head, colon, rest = words.partition(":")
    if colon:
        kind, rest = head.strip().casefold(), rest.strip()
        if kind == "stock" and rest:
            return ByStock(rest)
        if kind == "people" and rest:
            return ByPeople(rest)
        if kind == "decide" and rest:
            return _decision(rest)
        raise UserError(f"“{words}” is no cover", remedy="Name a build, or write stock:, people: or decide: and what")
    name, *how = (part.strip() for part in words.split(","))
    build_name, _, pieces = name.partition("/")
    build = find_build(job, build_name)
    if build is None:
        known = ", ".join(b.name for b in job.builds[:6])
        raise UserError(
            f"There is no build “{build_name}”", remedy=f"Builds are {known}. For what is there write “stock: …”"
        )
    return _use(build, tuple(_piece(build, piece) for piece in pieces.split("+")) if pieces else (), how)


def _decision(words: str) -> ByDecision:
    match = _BY.search(words)
    if not match:
        return ByDecision(words)
    try:
        return ByDecision(words[: match.start()].strip() or "to be decided", date.fromisoformat(match[1]))
    except ValueError:
        raise UserError(f"“{match[1]}” is no day", remedy="Write it like 2026-03-02") from None


def _piece(build: Build, name: str) -> str:
    words = name.strip().casefold()
    for piece in build.pieces:
        if words in (piece.id.casefold(), piece.name.casefold()):
            return piece.id
    known = ", ".join(p.name for p in build.pieces)
    raise UserError(f"{build.name} has no piece “{name.strip()}”", remedy=f"It has {known}")


def _use(build: Build, pieces: tuple[str, ...], how: list[str]) -> ByBuild:
    wear: Wear = "pristine"
    sides: list[Side] = []
    chance, counted = None, {"resets": 0, "shows": 1, "passes": 1}
    for words in how:
        folded = words.casefold()
        if folded in WEARS:
            wear = folded
        elif folded in SIDES:
            sides.append(folded)
        elif folded.startswith("chance "):
            chance = round(parse(words[7:], "share"), 9)
            if not 0.01 <= chance <= 1:
                raise UserError(f"“{words}” is no chance", remedy="It goes from 1 % to 100 %")
        elif match := re.fullmatch(r"(resets|shows|passes) (\d{1,6})", folded):
            counted[match[1]] = _counted(match[1], int(match[2]), words)
        else:
            raise UserError(f"“{words}” is not understood",
                            remedy="After a build come pristine, soiling or destructive; sides; stands 3 m; chance 35 %; resets 2; shows 9; passes 3")  # fmt: skip
    return ByBuild(build.id, pieces, wear, tuple(s for s in SIDES if s in sides), chance,
                   counted["resets"], counted["shows"], counted["passes"])  # fmt: skip


def _counted(name: str, count: int, words: str) -> int:
    field = {"shows": "at_once"}.get(name, name)
    low, high = bounds(ByBuild, field)
    if not low <= count <= high:
        raise UserError(f"“{words}” is beyond what can be", remedy=reach(ByBuild, field))
    return count


def show_need(need: Need, job: Job) -> str:
    """Write a ``need`` of a ``job`` so that :func:`parse_need` reads it back."""
    what = " ".join(need.what.split()).replace(":", " -").replace(";", ",")
    cover = show_covered(need, job)
    if not cover and (find_build(job, what) or "," in what):
        cover = "nothing"
    return f"{what}: {cover}" if cover else what


def show_covered(need: Need, job: Job) -> str:
    """Write what covers a ``need`` of a ``job`` and where it stands, as :func:`covered` reads it; empty for neither."""
    cover = show_cover(need.cover, job)
    return f"{cover or 'nothing'}, {show_place(need.place)}" if need.place else cover


def show_cover(cover: Cover | None, job: Job) -> str:
    """Write what covers, as :func:`parse_cover` reads it; empty for none. ``job`` tells which builds there are."""
    match cover:
        case ByStock(item=item):
            return f"stock: {_plain(item)}"
        case ByPeople(who=who):
            return f"people: {_plain(who)}"
        case ByDecision(question=question, by=by):
            return f"decide: {_plain(question)}" + (f" by {by}" if by else "")
        case ByBuild():
            return _show_use(cover)
    return ""


def _plain(words: str) -> str:
    return " ".join(words.split()).replace(";", ",")


def _show_use(use: ByBuild) -> str:
    words = [use.build + ("/" + "+".join(use.pieces) if use.pieces else "")]
    if use.wear != "pristine":
        words.append(use.wear)
    words += use.sides
    if use.chance is not None:
        words.append(f"chance {show_number(use.chance * 100)} %")
    if use.resets:
        words.append(f"resets {use.resets}")
    if use.at_once > 1:
        words.append(f"shows {use.at_once}")
    if use.passes > 1:
        words.append(f"passes {use.passes}")
    return ", ".join(words)


def show_needs(needs: tuple[Need, ...], job: Job) -> str:
    """Write the ``needs`` of a shot of a ``job`` in one line."""
    return "; ".join(show_need(need, job) for need in needs)
