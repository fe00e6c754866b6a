"""A piece in one line, as people type it, and back: “gallery: mesh, hollow 4 mm, casting resin fast, jacketed 10 mm”.

Before the colon its name, then phrases parted by commas, in any order:

| phrase | what it says |
| --- | --- |
| `box 6 × 3 × 4 m` | a form: length, depth, height at full size |
| `cylinder 3 × 4 m`, `cone 3 × 1 × 4 m` | diameter and height; diameters of foot and top, and height |
| `ball 3 m` | its diameter |
| `sections 2 × 1 at 0 / 1 × 1 at 4 m` | width and depth measured at heights, from the foot up |
| `clay 3.2 kg of 1650 kg/m³, 20 × 10 × 15 cm` | a sculpt that was weighed, and its three outer sizes |
| `dipped 2.4 l, 20 × 10 × 15 cm` | the water that it pushes out of a tub, and its three outer sizes |
| `mesh`, `sections` | the one that it has |
| `drawn 1:4` | the sizes are those of a form at 1:4, not the real ones |
| `hollow 4 mm`, `solid` | its wall as built |
| `casting resin fast` | what it is made of: words of a card's name |
| `jacketed 10 mm`, `block 15 mm`, `rigid 30 mm gap 4 mm`, `laminated 0.5 mm gap 8 mm` | how it is moulded, with the thickness of what is poured |
| `jacketed 10 mm of urethane rubber 40`, `… in laminate` | of what the mould is poured, and what its laminate is; where nobody says, as it was or as usual |
| `by hand`, `carved`, `printed`, `vacuum-formed`, `bought` | how else it comes to be: the name of a way without a mould |
| `250 %` | larger than the rest of the build, as an insert is |
| `2 a figure`, `1 in all` | how many of it one figure has, or how many there are whatever the figures |
| `only hero and stunt` | which figures have it: hero, stunt, background, spare, test |
| `3 spare`, `1 test` | of it alone, beside those of whole figures |
| `good 90 %`, `lost 5 %` | share that comes out good; material lost with each casting |
| `along 6 m`, `up 15.4 m` | where its foot stands in the side view |

What a line leaves out is as if nobody had said it: solid, of nothing, not moulded, one a figure. What it cannot say (variants, mixes,
operations) stays as it was.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from functools import lru_cache
from itertools import pairwise
from typing import Any, NamedTuple

from msgspec.structs import replace

from homunculus.core.constructions.construction import Construction
from homunculus.core.constructions.register import CONSTRUCTIONS
from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.lines import write_value
from homunculus.core.errors import UserError
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.counts import ROLES
from homunculus.core.job.forms import Box, Cylinder, Displaced, Form, Mesh, Section, Sections, Sphere, WeighedClay
from homunculus.core.job.moulds import Mould
from homunculus.core.job.ways import Shelf, way_of
from homunculus.core.quantities import NBSP, System, parse, parse_scale, without_noise
from homunculus.core.showing import show, show_number, show_scale

HINT = "A name, a colon, a form: gallery: box 6 × 3 × 4 m, hollow 4 mm, casting resin fast, jacketed 10 mm"
"""What a line is, in a sentence for whoever types it."""
FORMS = "box 6 × 3 × 4 m, cylinder 3 × 4 m, cone 3 × 1 × 4 m, ball 3 m, clay 3.2 kg of 1650 kg/m³, 20 × 10 × 15 cm, or dipped 2.4 l, 20 × 10 × 15 cm"
_BY = re.compile(r"\s*(?:×|\*|\bby\b|x(?=\s*[\d.,]))\s*")
_BARE = re.compile(r"[\d.,/ ]+")


class Making(NamedTuple):
    """How something comes to be, as a line says it."""

    name: str
    """Of a construction, or of a way without a mould; empty where nobody has said."""
    layer_m: float | None = None
    """Thickness of what is poured; none where none is said."""
    gap_m: float | None = None
    """To a core."""
    poured: str = ""
    """The card of what the mould is poured of; empty where the line does not say."""
    laminate: str = ""
    """The card of its laminate; empty where the line does not say."""


class Typed(NamedTuple):
    """What a line says."""

    piece: Piece
    """As it would be, but for its mould and its route, which are as they were."""
    making: Making


# --------------------------------------------------------------------------------------------- writing
def show_piece(piece: Piece, shelf: Shelf, system: System = "metric") -> str:
    """Write a ``piece`` as one line with the names of a ``shelf``, in a ``system`` of units; in metric ones it reads back equal."""
    return f"{_plain(piece.name)}: {', '.join(dict(phrases_of(piece, shelf, system)).values())}"


def _plain(words: str) -> str:
    return " ".join(words.split()).replace(":", " -")


def card_words(card_id: str, cards: tuple[MaterialCard, ...]) -> str:
    """What a line calls the card ``card_id`` of all ``cards``: the words of its name, its id where another has the same words."""
    name = next((card.name for card in cards if card.id == card_id), "")
    alone = name and sum(_words(name) == _words(card.name) for card in cards) == 1
    return " ".join(_spelled(name)) if alone else card_id


def phrases_of(piece: Piece, shelf: Shelf, system: System) -> Iterator[tuple[str, str]]:
    """What the line says of a ``piece``, by what it says it of, with the names of a ``shelf``, in a ``system`` of units."""
    cards, size = shelf.materials, _sizer(system)

    def share(value: float) -> str:
        return f"{show_number(value * 100)} %"

    yield "form", _show_form(piece.form, size)
    if piece.drawn_at != 1.0:
        yield "drawn", f"drawn {write_value(piece.drawn_at, 'drawn_at')}"
    if piece.wall_m is not None:
        yield "wall", f"hollow {size(piece.wall_m)}"
    if piece.material:
        yield "material", card_words(piece.material, cards)
    if piece.mould:
        yield "making", show_mould(piece.mould, system) + _unusual(piece.mould, shelf)
    elif way := way_of(piece, shelf.ways):
        yield "making", way.name
    if piece.enlarged != 1.0:
        yield "enlarged", share(piece.enlarged)
    if piece.copies != 1 or piece.in_all:
        yield "copies", f"{piece.copies} {'in all' if piece.in_all else 'a figure'}"
    if piece.only:
        yield "only", f"only {' and '.join(piece.only)}"
    for field, word in (("spares", "spare"), ("tests", "test")):
        if getattr(piece, field):
            yield field, f"{getattr(piece, field)} {word}"
    if piece.good != 1.0:
        yield "good", f"good {share(piece.good)}"
    if piece.waste != _default("waste"):
        yield "waste", f"lost {share(piece.waste)}"
    for name, value in zip(("along", "up"), piece.at_m, strict=True):
        if value:
            yield name, f"{name} {'−' if value < 0 else ''}{size(abs(value))}"


def show_mould(mould: Mould, system: System = "metric") -> str:
    """Write how a ``mould`` is made, and how thick what is poured lies, in a ``system`` of units: “jacketed 10 mm”."""

    size = _sizer(system)
    gap = getattr(mould, "gap_m", 0.0)
    return f"{name_of(mould)} {size(mould.layer_m)}" + (f" gap {size(gap)}" if gap else "")


def _unusual(mould: Mould, shelf: Shelf) -> str:
    """What a mould is made of, where that is not what its usual way takes."""
    usual = next((way.mould for way in shelf.ways if type(way.mould) is type(mould)), None)
    said = ""
    for field, word in ((_BY_NAME[name_of(mould)].poured, "of"), ("laminate", "in")):
        card = getattr(mould, field, "")
        if card and card != getattr(usual, field, ""):
            said += f" {word} {card_words(card, shelf.materials)}"
    return said


def _sizer(system: System) -> Callable[[float], str]:
    """Writes lengths: in metric units to the last digit, and so that nobody can take a point for one of thousands."""

    def shown(value: float) -> str:
        return str(show(value, "length", system, 5)).replace(NBSP, " ")

    return _exact if system == "metric" else shown


@lru_cache(maxsize=4096)
def _exact(value: float) -> str:
    units = (("m", 1.0), ("mm", 1e-3)) if value >= 1 else (("mm", 1e-3), ("m", 1.0))
    said = [f"{show_number(float(f'{value / size:.12g}'))} {unit}" for unit, size in units]
    return next((words for words in said if _reads(words, value)), write_value(value, "size_m"))


def _reads(text: str, value: float) -> bool:
    try:
        return _length(text, "metric") == value
    except UserError:
        return False


def name_of(mould: Mould) -> str:
    """What the construction of a ``mould`` is called: “jacketed”."""
    return str(type(mould).__struct_config__.tag)


def _show_form(form: Form, size: Any) -> str:
    match form:
        case Box(a, b, c):
            return f"box {_sizes(size, a, b, c)}"
        case Cylinder(d, h, None):
            return f"cylinder {_sizes(size, d, h)}"
        case Cylinder(d, h, float(top)):
            return f"cone {_sizes(size, d, top, h)}"
        case Sphere(d):
            return f"ball {size(d)}"
        case Sections(sections):
            each = (f"{_sizes(size, s.width_m, s.depth_m)} at {size(s.at_m)}" for s in sections)
            return "sections " + " / ".join(each)
        case WeighedClay(mass, density, a, b, c):
            weight = f"{write_value(mass, 'mass_kg')} of {show_number(density)} kg/m³"
            return f"clay {weight} {_sizes(size, a, b, c)}"
        case Displaced(water, a, b, c):
            return f"dipped {write_value(water, 'water_m3')} {_sizes(size, a, b, c)}"
    return "mesh"


def _sizes(size: Any, *values: float) -> str:
    said = [size(value) for value in values]
    units = {words.rpartition(" ")[2] for words in said}
    if len(units) == 1 and all(" " in words and '"' not in words and "'" not in words for words in said):
        said = [*(words.rpartition(" ")[0] for words in said[:-1]), said[-1]]
    return " × ".join(said)


# --------------------------------------------------------------------------------------------- reading
def read_piece(text: str, before: Piece | None, shelf: Shelf, system: System = "metric") -> Typed:
    """Read a line.

    Parameters
    ----------
    text
        As above.
    before
        The piece that it was; none for a new one, which has no id yet.
    shelf
        Materials that it may be made of, and ways of making it.
    system
        What sizes are written in where they say no unit's system. A phrase that stands as it was shown leaves its value alone.

    Raises
    ------
    UserError
        When there is no name, no form, or a phrase is not understood.
    """
    name, colon, rest = text.replace(NBSP, " ").partition(":")
    name = " ".join(name.split())
    if not name or (not colon and before is None):
        raise UserError(f"“{text.strip()[:60]}” does not say what it is called and what form it has", remedy=HINT)
    if not colon:
        assert before is not None
        return Typed(replace(before, name=name), _making(before, shelf))
    shown = {words: key for key, words in (phrases_of(before, shelf, system) if before else ())}
    said: dict[str, Any] = {}
    for words in _parts(rest, shelf.materials):
        if before is not None and words in shown:  # as it stood: rounding does not move it
            key, value = shown[words], _as_it_was(before, shown[words], shelf)
        else:
            key, value = _phrase(words, before, shelf, system)
        if key in said:
            raise UserError(f"“{words}” says anew what was said already", remedy="Take one of the two away")
        said[key] = value
    if "form" not in said:
        raise UserError(f"“{name}” has no form", remedy=FORMS)
    old = before or Piece("", name, said["form"])
    piece = replace(
        old, name=name, form=said["form"], drawn_at=said.get("drawn", 1.0), wall_m=said.get("wall"),
        material=said.get("material", ""), enlarged=said.get("enlarged", 1.0), copies=said.get("copies", (1, False))[0],
        in_all=said.get("copies", (1, False))[1], only=said.get("only", ()), spares=said.get("spares", 0), tests=said.get("tests", 0),
        good=said.get("good", 1.0), waste=said.get("waste", _default("waste")), at_m=(said.get("along", 0.0), said.get("up", 0.0)),
    )  # fmt: skip
    return Typed(piece, said.get("making", Making("")))


def _default(field: str) -> Any:
    return getattr(Piece("", "", Sphere(1.0)), field)


def _as_it_was(piece: Piece, key: str, shelf: Shelf) -> Any:
    if key in ("along", "up"):
        return piece.at_m[key == "up"]
    if key == "making":
        return _making(piece, shelf)
    if key == "copies":
        return piece.copies, piece.in_all
    return getattr(piece, {"drawn": "drawn_at", "wall": "wall_m"}.get(key, key))


def _making(piece: Piece, shelf: Shelf) -> Making:
    if piece.mould:
        mould = piece.mould
        gap, laminate = getattr(mould, "gap_m", None), getattr(mould, "laminate", "")
        return Making(name_of(mould), mould.layer_m, gap, mould.poured, laminate)
    way = way_of(piece, shelf.ways)
    return Making(way.name if way else "")


def _parts(text: str, cards: tuple[MaterialCard, ...]) -> Iterator[str]:
    """The phrases of a line. A comma within a card's name, or between a weight and its sizes, parts nothing."""
    parts = [" ".join(part.split()) for part in re.split(r"(?<!\d),|,(?!\d)", text) if part.strip()]  # not within 1,5
    while parts:
        if (
            len(parts) > 1
            and parts[0].startswith(("clay ", "dipped "))
            and not _BY.search(parts[0])
            and _BY.search(parts[1])
        ):
            parts[:2] = [f"{parts[0]} {parts[1]}"]
        both = " ".join(parts[:2])
        if len(parts) > 1 and _named(both, cards):
            parts[:2] = [both]
        yield parts.pop(0)


def _spelled(name: str) -> list[str]:
    return re.sub(r"[,;:/]", " ", name.casefold()).split()


@lru_cache(maxsize=4096)
def _words(name: str) -> frozenset[str]:
    return frozenset(_spelled(name))


def _named(words: str, cards: tuple[MaterialCard, ...]) -> list[MaterialCard]:
    """The cards whose names have all these words: those alone that have no other, where there are such."""
    asked, folded = _words(words), words.casefold()
    same = [card for card in cards if folded == card.id or asked == _words(card.name)]
    return same or [card for card in cards if asked and asked <= _words(card.name)]


def find_material(words: str, cards: tuple[MaterialCard, ...]) -> MaterialCard:
    """The one card that some ``words`` name, of all ``cards``: its id, or words of its name.

    Raises
    ------
    UserError
        When none does, or several.
    """
    found = _named(words, cards)
    if len(found) == 1:
        return found[0]
    if found:
        raise UserError(
            f"“{words}” may be {' or '.join(card.name for card in found[:4])}", remedy="Write more of its name"
        )
    near = [card.name for card in cards if _words(words) & _words(card.name)] or [card.name for card in cards]
    raise UserError(f"“{words}” is no phrase and no material here", remedy=f"There are {'; '.join(near[:5])}")


def _phrase(words: str, before: Piece | None, shelf: Shelf, system: System) -> tuple[str, Any]:
    """What one phrase says, and of what."""
    first, _, rest = words.partition(" ")
    first = first.casefold()
    if first in ("box", "cylinder", "cone", "ball", "sections", "clay", "dipped", "mesh"):
        return "form", _form(first, rest, words, before, system)
    if first == "drawn":
        return "drawn", _bounded("drawn_at", parse_scale(rest), words)
    if first == "solid" and not rest:
        return "wall", None
    if first == "hollow":
        return "wall", _bounded("wall_m", _length(rest, system), words)
    if first in ("good", "lost"):
        field = {"good": "good", "lost": "waste"}[first]
        return field, _bounded(field, round(parse(rest, "share"), 12), words)
    if first in ("along", "up"):
        back = rest.startswith(("-", "−"))
        return first, (-1 if back else 1) * _length(rest.lstrip("-−").strip(), system)
    if match := re.fullmatch(r"(\d{1,6}) (a figure|in all|spares?|tests?)", words):
        field = _COUNTED.get(match[2].rstrip("s"), "copies")
        count = _bounded(field, int(match[1]), words)
        return field, (count, match[2] == "in all") if field == "copies" else count
    if first == "only":
        roles = [word for word in re.split(r"\s+and\s+|\s+", rest.casefold()) if word]
        if not roles or set(roles) - set(ROLES):
            raise UserError(f"“{words}” names no figures", remedy=f"Write only and some of {', '.join(ROLES)}")
        return "only", tuple(role for role in ROLES if role in roles)
    if words.endswith("%") and first[:1].isdigit():
        return "enlarged", _bounded("enlarged", round(parse(words, "share"), 12), words)
    if first in _BY_NAME:
        return "making", _mould_typed(first, rest, words, shelf.materials, system)
    if any(way.mould is None and way.name == words.casefold() for way in shelf.ways):
        return "making", Making(words.casefold())
    return "material", find_material(words, shelf.materials).id


_COUNTED = {"spare": "spares", "test": "tests"}
_BY_NAME: dict[str, Construction] = {str(one.mould.__struct_config__.tag): one for one in CONSTRUCTIONS}


def _mould_typed(first: str, rest: str, words: str, cards: tuple[MaterialCard, ...], system: System) -> Making:
    rest, said_in, laminate = rest.partition(" in ") if not rest.startswith("in ") else ("", "in", rest[3:])
    rest, said_of, poured = rest.partition("of ") if rest.startswith("of ") else rest.partition(" of ")
    thick, said_gap, gap = rest.partition("gap")
    made = _BY_NAME[first]
    type_of: type = made.mould
    if said_gap and "gap_m" not in made.mould.__struct_fields__:
        raise UserError(
            f"“{words}”: what is {first} has no gap to a core", remedy="Leave the gap out, or make it rigid"
        )
    if said_in and "laminate" not in made.mould.__struct_fields__:
        raise UserError(f"“{words}”: what is {first} has no laminate", remedy="Leave it out, or make it jacketed")
    layer = _length(thick, system) if thick.strip() else None
    inner = _length(gap, system) if said_gap else None
    for value, field in ((layer, made.thickness), (inner, "gap_m")):
        if value is not None:
            low, high = bounds(type_of, field)
            if not low <= value <= high:
                raise UserError(
                    f"“{words}” is beyond what can be", remedy=f"It goes from {_said(low)} to {_said(high)}"
                )
    if layer is not None and inner is None and "gap_m" in made.mould.__struct_fields__:
        inner = 0.0  # a thickness without a gap: solid
    found = (find_material(name, cards).id if said else "" for said, name in ((said_of, poured), (said_in, laminate)))
    return Making(first, layer, inner, *found)


def _said(metres: float) -> str:
    return write_value(metres, "size_m")


def _bounded(field: str, value: Any, words: str) -> Any:
    low, high = bounds(Piece, field)
    if not low <= value <= high:
        limits = (
            (show_scale(low), show_scale(high))
            if field == "drawn_at"
            else tuple(write_value(v, field) for v in (low, high))
        )
        raise UserError(f"“{words}” is beyond what can be", remedy=f"It goes from {limits[0]} to {limits[1]}")
    return value


def _length(text: str, system: System) -> float:
    """One length; a bare number is refused, for it may be metres or millimetres here."""
    text = text.strip()
    if text and _BARE.fullmatch(text) and set(text) - set("0.,/ "):
        raise UserError(f"“{text}” says no unit", remedy="Write m, mm, ft or in behind it")
    return without_noise(parse(text, "length", system))


def read_lengths(text: str, count: int, words: str, system: System) -> list[float]:
    """Read lengths parted by ×; the unit of the last holds for those that have none.

    Parameters
    ----------
    text
        “24 × 5 × 3 m”, “24 m × 500 mm × 3 m”.
    count
        How many there are to be.
    words
        The phrase that they stand in, for the message.
    system
        Units of bare inches and millimetres.

    Returns
    -------
    list
        Metres.

    Raises
    ------
    UserError
        When there are others than so many, one has no unit, or is no size.
    """
    parts = [part for part in _BY.split(text.strip()) if part]
    if len(parts) != count:
        raise UserError(
            f"“{words}” has {len(parts) or 'no'} size{'s' if len(parts) != 1 else ''}, not {count}", remedy=FORMS
        )
    unit = re.sub(r"^[\d.,/\s]+", "", parts[-1])
    unit = unit if re.fullmatch(r"[^\d\s]+", unit) else ""
    sized = [f"{part} {unit}" if unit and _BARE.fullmatch(part) else part for part in parts]
    found = [_length(part, system) for part in sized]
    low, high = bounds(Box, "length_m")
    if not all(low <= value <= high for value in found):
        raise UserError(
            f"“{words}” has a size beyond what can be", remedy=f"It goes from {_said(low)} to {_said(high)}"
        )
    return found


def _form(first: str, rest: str, words: str, before: Piece | None, system: System) -> Form:
    match first:
        case "box":
            return Box(*read_lengths(rest, 3, words, system))
        case "cylinder":
            return Cylinder(*read_lengths(rest, 2, words, system))
        case "cone":
            foot, top, height = read_lengths(rest, 3, words, system)
            return Cylinder(foot, height, top)
        case "ball":
            return Sphere(*read_lengths(rest, 1, words, system))
        case "clay":
            return _clay(rest, words, system)
        case "dipped":
            return _dipped(rest, words, system)
        case "sections" if rest:
            return _measured(rest, words, system)
    kept = before.form if before else None
    if isinstance(kept, Mesh if first == "mesh" else Sections):
        return kept
    raise UserError(
        f"It has no {first} yet",
        remedy="Drop a mesh on it" if first == "mesh" else "Write sections 2 × 1 at 0 / 1 × 1 at 4 m",
    )


def _clay(rest: str, words: str, system: System) -> WeighedClay:
    match = re.match(r"(?P<mass>.+?) of (?P<density>.+?kg/m[3³]) (?P<sizes>.+)$", rest)
    if not match:
        raise UserError(
            f"“{words}” does not say weight, density and sizes", remedy="clay 3.2 kg of 1650 kg/m³, 20 × 10 × 15 cm"
        )
    return WeighedClay(parse(match["mass"], "mass", system), parse(match["density"], "density"),
                       *read_lengths(match["sizes"], 3, words, system))  # fmt: skip


def _dipped(rest: str, words: str, system: System) -> Displaced:
    match = re.match(r"(?P<water>[\d.,]+ ?\S+) (?P<sizes>.+)$", rest)
    if not match:
        raise UserError(f"“{words}” does not say water and sizes", remedy="dipped 2.4 l, 20 × 10 × 15 cm")
    water = without_noise(parse(match["water"], "volume", system))
    low, high = bounds(Displaced, "water_m3")
    if not low <= water <= high:
        raise UserError(
            f"“{words}” has water beyond what can be",
            remedy=f"It goes from {write_value(low, 'water_m3')} to {write_value(high, 'water_m3')}",
        )
    return Displaced(water, *read_lengths(match["sizes"], 3, words, system))


def _measured(rest: str, words: str, system: System) -> Sections:
    parts = [part.strip() for part in rest.split("/")]
    unit = re.search(r"[^\d\s.,]+$", parts[-1])
    found = []
    for part in parts:
        across, _, at = part.rpartition(" at ")
        if not across:
            raise UserError(f"“{part}” is no section", remedy="Write sections 2 × 1 at 0 / 1 × 1 at 4 m")
        own = re.search(r"[^\d\s.,]+$", at) or unit
        at = at if re.search(r"[^\d\s.,]", at) else f"{at} {unit[0] if unit else ''}"
        if own and not re.search(r"[^\d\s.,×x*]", across):
            across = f"{across} {own[0]}"
        height = 0.0 if re.fullmatch(r"0(?: \S+)?", at.strip()) else _length(at, system)
        found.append(Section(height, *read_lengths(across, 2, words, system)))
    if len(found) < 2 or any(a.at_m >= b.at_m for a, b in pairwise(found)):
        raise UserError(
            f"“{words}”: sections go from the foot up, two at least", remedy="Write sections 2 × 1 at 0 / 1 × 1 at 4 m"
        )
    return Sections(tuple(found))
