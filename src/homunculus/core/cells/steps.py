"""One step of a route in one line, as people type it, and back: “polish: hands 1.5 h and 30 min a m², a good piece”.

Before the colon its name, then phrases parted by commas:

| phrase | what it says |
| --- | --- |
| `hands 1.5 h`, `hands 1.5 h and 2 h a m² and 5 min a kg` | work, and for each square metre or kilogram of the piece |
| `wait 20 h` | a clock without hands |
| `layer primer 0.1 mm`, `2 coats` | coats of a material, each so thick |
| `sprayed`, `poured`, `boxed`, `laid up`; `inside` | how a layer is put on, brushed when nobody says; and inward from the form |
| `pour`, `pour core`, `2 shares` | what the mould is poured of, or a part of it; so many shares of all pours |
| `lay up` | plies of the mould's laminate |
| `cast` | the mould is filled with the piece's material |
| `lay in wire` | another piece is laid into the mould first |
| `draw styrene sheet 2 mm`, `50 mm around` | a sheet drawn over the form, and how much of it stands around the foot |
| `once`, `a mould`, `a casting`, `a good piece`, `a figure` | how often |
| `every 2 h`, `lost 10 %` | from one coat to the next, where not until it has set; what is lost of a layer |
| `takes spray booth`, `onto plywood` | what there is one of and it takes up; what its material touches beside what the route shows |
| `release “wax, film”`, `caution “wear a mask”` | what keeps it from bonding; a caution beside it |
| `shows likeness`, `held by design` | signatures given on what it leaves; those that hold it |
| `after sculpt`, `after hull/plug` | what is done before it, where that is not the step before |
| `sculptor` | whose hands: any other word |

Words in quotes may hold commas. A line typed over an older one keeps what it cannot say: its mixes, how long may lie between two steps.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any, get_args

import msgspec

from homunculus.core.cells.pieces import card_words, find_material
from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.lines import reach
from homunculus.core.errors import UserError
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.counts import SIGN_OFFS, SignOffKind
from homunculus.core.job.operations import (
    After,
    AnyOperation,
    Cast,
    Draw,
    Hands,
    How,
    Insert,
    Layer,
    LayUp,
    Loop,
    Pour,
    Wait,
)
from homunculus.core.quantities import NBSP, System, parse
from homunculus.core.showing import show, show_number, trimmed

HINT = "A name, a colon, what it takes, how often: polish: hands 1.5 h, a good piece"
TAKES = (
    "Write hands 1.5 h, wait 20 h, layer and a material, pour, lay up, cast, lay in and a piece, or draw and a sheet"
)
HOW_OFTEN: dict[str, Loop] = {
    "once": "once", "a mould": "mould", "a casting": "casting", "a good piece": "piece", "a piece": "piece", "a figure": "figure",
}  # fmt: skip
_SAID_OFTEN: dict[Loop, str] = {
    "once": "once",
    "mould": "a mould",
    "casting": "a casting",
    "piece": "a good piece",
    "figure": "a figure",
}
_KINDS: dict[str, type[AnyOperation]] = {
    "wait": Wait, "layer": Layer, "pour": Pour, "lay up": LayUp, "cast": Cast, "lay in": Insert, "draw": Draw,
}  # fmt: skip
_HOWS: tuple[str, ...] = get_args(How)
_RATES = (("work_s_per_m2", "a m²"), ("work_s_per_kg", "a kg"))
Named = tuple[tuple[str, str], ...]
"""Pieces that may be laid in: id and name of each."""


# --------------------------------------------------------------------------------------------- writing
def show_step(op: AnyOperation, cards: tuple[MaterialCard, ...], pieces: Named = (), system: System = "metric") -> str:
    """Write an operation ``op`` as one line, with the names of ``cards`` and ``pieces``, in a ``system`` of units."""
    name = " ".join(op.called.split()).replace(":", " -")
    return f"{name}: {', '.join(words for words, _ in _phrases(op, cards, pieces, system))}"


def _phrases(
    op: AnyOperation, cards: tuple[MaterialCard, ...], pieces: Named, system: System
) -> Iterator[tuple[str, tuple[str, ...]]]:
    """What the line says, and which fields each phrase stands for."""

    def size(value: float, kind: Any) -> str:
        return str(trimmed(show(value, kind, system, 5))).replace(NBSP, " ")

    def card(name: str) -> str:
        return card_words(name, cards)

    match op:
        case Wait(wait_s=wait):
            yield f"wait {size(wait, 'duration')}", ("wait_s",)
        case Layer(material=material, thickness_m=thick, coats=coats, how=how, side=side):
            yield (
                " ".join(filter(None, ("layer", card(material), size(thick, "length") if thick is not None else ""))),
                ("material", "thickness_m"),
            )
            if coats > 1:
                yield f"{coats} coats", ("coats",)
            if how != "brushed":
                yield how, ("how",)
            if side == "casting":
                yield "inside", ("side",)
        case Pour(part=part):
            yield f"pour {part}".strip(), ("part",)
        case LayUp():
            yield "lay up", ()
        case Cast():
            yield "cast", ()
        case Insert(piece=piece):
            yield f"lay in {dict(pieces).get(piece, piece)}", ("piece",)
        case Draw(material=material, sheet_m=thick, margin_m=margin):
            yield (
                " ".join(filter(None, ("draw", card(material), size(thick, "length") if thick is not None else ""))),
                ("material", "sheet_m"),
            )
            if margin:
                yield f"{size(margin, 'length')} around", ("margin_m",)
    if isinstance(op, Pour | LayUp) and op.share != 1:
        yield f"{show_number(op.share)} shares", ("share",)
    worked = tuple(f for f in ("work_s", "work_s_per_m2", "work_s_per_kg") if hasattr(op, f))
    if worked and (isinstance(op, Hands) or any(getattr(op, f) for f in worked)):
        rates = [f"{size(getattr(op, f), 'duration')} {word}" for f, word in _RATES if getattr(op, f, 0.0)]
        yield " and ".join((f"hands {size(op.work_s, 'duration')}", *rates)), worked  # type: ignore[union-attr]
    if isinstance(op, Layer):
        if op.between_s is not None:
            yield f"every {size(op.between_s, 'duration')}", ("between_s",)
        if op.waste:
            yield f"lost {show_number(op.waste * 100)} %", ("waste",)
    if op.takes:
        yield f"takes {_quoted(' and '.join(op.takes))}", ("takes",)
    if op.onto:
        yield f"onto {card(op.onto)}", ("onto",)
    if op.release:
        yield f"release {_quoted(op.release)}", ("release",)
    for caution in op.cautions:
        yield f"caution {_quoted(caution)}", ("cautions",)
    if op.shows:
        yield f"shows {' and '.join(op.shows)}", ("shows",)
    if op.held_by:
        yield f"held by {' and '.join(op.held_by)}", ("held_by",)
    if op.after and not any(w.least_s or w.most_s is not None for w in op.after):
        yield f"after {' and '.join(w.of for w in op.after)}", ("after",)
    if op.loop != type(op)("x").loop:
        yield _SAID_OFTEN[op.loop], ("loop",)
    if op.skill:
        yield op.skill, ("skill",)


def _quoted(words: str) -> str:
    """Words as a phrase holds them: in quotes where a comma would part them."""
    plain = words.replace('"', "”")
    return f'"{plain}"' if "," in plain or plain != " ".join(plain.split()) else plain


# --------------------------------------------------------------------------------------------- reading
def read_step(
    text: str,
    op_id: str,
    cards: tuple[MaterialCard, ...],
    system: System = "metric",
    before: AnyOperation | None = None,
    pieces: Named = (),
) -> AnyOperation:
    """Read a line as an operation.

    Parameters
    ----------
    text
        As above.
    op_id
        The id that it gets.
    cards
        Materials for layers and sheets.
    system
        Units of bare numbers.
    before
        The operation that it was; none for a new one.
    pieces
        What may be laid in.

    Raises
    ------
    UserError
        When it does not say what it takes, or a value is beyond what can be.
    """
    name, colon, rest = text.replace(NBSP, " ").partition(":")
    name = " ".join(name.split())
    parts = _parts(rest)
    if not colon or not name or not parts:
        raise UserError(f"“{text.strip()[:60]}” says no step", remedy=HINT)
    shown = dict(_phrases(before, cards, pieces, system)) if before else {}
    made, said = _said(parts, shown, before, cards, pieces, system)
    if made is None:
        raise UserError(f"“{name}” does not say what it takes", remedy=TAKES)
    if odd := next((field for field in said if field not in made.__struct_fields__), ""):
        raise UserError(
            f"“{name}” says what this kind of step has not: {odd.removesuffix('_s').replace('_', ' ')}", remedy=TAKES
        )
    for field, value in said.items():
        if isinstance(value, int | float):
            low, high = bounds(made, field)
            if not low <= value <= high:
                raise UserError(f"“{text.strip()[:60]}” has a value beyond what can be", remedy=reach(made, field))
    kept: dict[str, Any] = {}
    if before is not None:  # what a line cannot say stays
        mine = {field for _, fields in _phrases(before, cards, pieces, system) for field in fields} | {
            "loop",
            "skill",
            "id",
            "name",
        }
        kept = {
            f: v for f, v in msgspec.structs.asdict(before).items() if f in made.__struct_fields__ and f not in mine
        }
    if before is not None and name == before.called.replace(":", " -"):
        name = before.name
    op: AnyOperation = made(op_id, name, **{**kept, **said})
    return op


def _parts(rest: str) -> list[str]:
    """The phrases of a line: parted by commas that stand neither between quotes nor within a number."""
    found = re.findall(r'(?:[“"][^"”]*["”]|(?<=\d),(?=\d)|[^,])+', rest)
    return [" ".join(part.split()) for part in found if part.strip()]


def _unquoted(words: str) -> str:
    return words.strip().strip('"“”').strip()


def _said(
    parts: list[str],
    shown: dict[str, tuple[str, ...]],
    before: AnyOperation | None,
    cards: tuple[MaterialCard, ...],
    pieces: Named,
    system: System,
) -> tuple[type[AnyOperation] | None, dict[str, Any]]:
    """The kind of operation that phrases say, and its fields."""
    made: type[AnyOperation] | None = None
    said: dict[str, Any] = {}
    for words in parts:
        kind = next((k for k in _KINDS if words == k or words.startswith(k + " ")), "")
        if before is not None and words in shown and (not kind or isinstance(before, _KINDS[kind])):
            new = {field: getattr(before, field) for field in shown[words]}  # as it stood: rounding does not move it
            if "cautions" in new:
                new = {"cautions": (next(c for c in new["cautions"] if words == f"caution {_quoted(c)}"),)}
            made = _KINDS[kind] if kind else made
        elif kind and made is None:
            made = _KINDS[kind]
            new = _takes(kind, words[len(kind) :].strip(), words, cards, pieces, system)
        else:
            new = _phrase(words, cards, system)
        if "cautions" in new:  # each stands in a phrase of its own
            said["cautions"] = (*said.get("cautions", ()), *new.pop("cautions"))
        if twice := set(new) & set(said):
            raise UserError(
                f"“{words}” says anew what was said already", remedy=f"Take one away; {', '.join(sorted(twice))}"
            )
        said |= new
    return (made or (Hands if "work_s" in said else None)), said


def _phrase(words: str, cards: tuple[MaterialCard, ...], system: System) -> dict[str, Any]:
    """What a phrase says that is no kind of step."""
    if words in HOW_OFTEN:
        return {"loop": HOW_OFTEN[words]}
    if words.startswith("hands"):
        return _work(words, system)
    if match := re.fullmatch(r"(\d{1,3}) (?:coats?|plies)", words):
        return {"coats": int(match[1])}
    if match := re.fullmatch(r"([\d.]{1,8}) shares?", words):
        return {"share": float(parse(match[1], "factor"))}
    if words in _HOWS:
        return {"how": words}
    if words == "inside":
        return {"side": "casting"}
    if words.endswith(" around"):
        return {"margin_m": parse(words.removesuffix(" around"), "length", system)}
    if tied := _tied(words, cards, system):
        return tied
    if re.fullmatch(r"[^\d]+", words):
        return {"skill": words}
    raise UserError(f"“{words}” is not understood", remedy=HINT)


def _tied(words: str, cards: tuple[MaterialCard, ...], system: System) -> dict[str, Any]:
    """What a phrase says of a step's surroundings: what it takes up and touches, signatures, what goes before; nothing where it is none."""
    first, _, rest = words.partition(" ")
    rest = _unquoted(rest)
    if first == "held" and rest.startswith("by "):
        return {"held_by": _signatures(rest.removeprefix("by "), words)}
    if not rest:
        return {}
    match first:
        case "every":
            return {"between_s": parse(rest, "duration", system)}
        case "lost":
            return {"waste": round(parse(rest, "share"), 12)}
        case "takes":
            return {"takes": tuple(one.strip() for one in rest.split(" and "))}
        case "onto":
            return {"onto": find_material(rest, cards).id}
        case "release":
            return {"release": rest}
        case "caution":
            return {"cautions": (rest,)}
        case "shows":
            return {"shows": _signatures(rest, words)}
        case "after":
            return {"after": tuple(_after(one.strip(), words) for one in rest.split(" and "))}
    return {}


def _signatures(rest: str, words: str) -> tuple[SignOffKind, ...]:
    asked = [one.strip() for one in rest.split(" and ")]
    if unknown := [one for one in asked if one not in SIGN_OFFS]:
        raise UserError(f"“{words}”: {unknown[0]} is no signature", remedy=f"There are {', '.join(SIGN_OFFS)}")
    return tuple(kind for kind in SIGN_OFFS if kind in asked)


def _after(name: str, words: str) -> After:
    if not re.fullmatch(r"[^/\s]*(/[^/\s]+)?", name) or not name:
        raise UserError(f"“{words}” names no step", remedy="Write after and a step's id, or a piece's: after hull/plug")
    return After(name)


def _work(words: str, system: System) -> dict[str, Any]:
    fixed, *rates = words.removeprefix("hands").strip().split(" and ")
    if not fixed:
        raise UserError(f"“{words}” does not say how much", remedy=TAKES)
    said = {"work_s": parse(fixed, "duration", system)}
    for rate in rates:
        match = re.fullmatch(r"(.+?) (?:a|per) (m[2²]|kg)", rate)
        if not match:
            raise UserError(f"“{words}” is not understood", remedy="Write hands 1.5 h and 2 h a m²")
        said["work_s_per_kg" if match[2] == "kg" else "work_s_per_m2"] = parse(match[1], "duration", system)
    return said


def _takes(
    kind: str, what: str, words: str, cards: tuple[MaterialCard, ...], pieces: Named, system: System
) -> dict[str, Any]:
    """What a phrase says that names the kind of a step."""
    if kind == "pour":
        return {"part": what}
    if kind in ("lay up", "cast"):
        if what:
            raise UserError(f"“{words}” is not understood", remedy=f"Write {kind}, then a comma and hands 1 h")
        return {}
    if not what:
        raise UserError(f"“{words}” does not say how much", remedy=TAKES)
    if kind == "wait":
        return {"wait_s": parse(what, "duration", system)}
    if kind == "lay in":
        found = [key for key, name in pieces if what.casefold() in (key.casefold(), name.casefold())]
        if len(found) != 1:
            raise UserError(
                f"There is no piece “{what}” to lay in",
                remedy=f"There are {', '.join(name for _, name in pieces[:8]) or 'none'}",
            )
        return {"piece": found[0]}
    match = re.match(r"(?P<name>.+?)(?: (?P<thick>[\d.,/]+ ?\D+))?$", what)
    assert match is not None
    field = "sheet_m" if kind == "draw" else "thickness_m"
    thick = {field: parse(match["thick"], "length", system)} if match["thick"] else {}
    return {"material": find_material(match["name"], cards).id, **thick}
