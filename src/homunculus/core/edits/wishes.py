"""Lines that say what is wanted rather than which field: the go-to box and a file of lines take them beside plain edits.

::

    build miniature: Barge, 24 × 5 × 3 m, 1:8, from 2026-03-02, without top and detail
    piece barge: hull: box 24 × 5 × 3 m, hollow 4 mm, casting resin fast, jacketed 10 mm
    piece barge/hull: hull: box 25 × 5 × 3 m, hollow 4 mm, casting resin fast, jacketed 10 mm
    way barge/hull: block
    step barge/hull: polish: hands 1.5 h, a good piece
    step barge: rig: hands 12 h
    step barge/hull/polish: polish: hands 2 h, a good piece
    step barge//rig: rig: hands 14 h, a figure, rigger
    copy barge
    copy barge/hull
    mirror barge/left-arm
    split barge/hull at 3 m up
    give barge/hull to ferry
    rename barge: Old barge
    describe barge: Barge: 1:8, from 2026-03-02, wave 1.5 m, budget 300, 2 hero
    tie gulls to barge
    tie crab to barge at 250 %
    untie gulls
    delete barge/hull
    put away barge
    bring back barge
    accept barge
    accept barge: blanket_m:hull, scale
    accept shop
    body tidewife: woman, 1.71 m, 66 kg, reduced 8 %
    trace barge/hull: front known 12 340 to 812 340 is 24 m; front 12 30, 40 22, 60 300

and those about a shot's stage (:mod:`homunculus.core.edits.shot_wishes`).
"""

from __future__ import annotations

import re
from datetime import date, datetime
from typing import TypeVar

from msgspec.structs import replace

from homunculus.core.cells.builds import BEGINS, read_starts
from homunculus.core.cells.pieces import Making, name_of, read_lengths
from homunculus.core.edits.begun import brought
from homunculus.core.edits.bodies import read_body, with_body
from homunculus.core.edits.builds import (
    build_begun,
    build_copied,
    build_named,
    build_put_away,
    build_removed,
    build_typed,
    sizes_of,
)
from homunculus.core.edits.decisions import accepted
from homunculus.core.edits.embedded import with_cards
from homunculus.core.edits.pieces import checked, made_as, mended, piece_copied, piece_moved, piece_removed, piece_typed
from homunculus.core.edits.reshape import Reshaping, cut_at, mesh_of, piece_in_two
from homunculus.core.edits.routes import route_of, step_typed
from homunculus.core.edits.shot_wishes import VERBS as SHOT_VERBS
from homunculus.core.edits.shot_wishes import do_shot_wish
from homunculus.core.edits.ties import tie
from homunculus.core.edits.traced import traced
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, piece_of
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.job.ways import KindCard, Shelf
from homunculus.core.quantities import System, parse, parse_scale

Found = TypeVar("Found")
VERBS = (
    "build",
    "piece",
    "way",
    "step",
    "copy",
    "mirror",
    "split",
    "give",
    "rename",
    "tie",
    "untie",
    "delete",
    "put",
    "bring",
    "accept",
    "describe",
    "body",
    "trace",
    *SHOT_VERBS,
)


def is_wish(line: str) -> bool:
    """Whether a ``line`` is one of these."""
    return line.strip().partition(" ")[0] in VERBS


def do_wish(
    job: Job,
    line: str,
    shelf: Shelf,
    system: System = "metric",
    today: date | None = None,
    reshaping: Reshaping | None = None,
) -> tuple[str, Job]:
    """Do what a line wishes.

    Parameters
    ----------
    job
        As it is.
    line
        As above.
    shelf
        What there is to take from.
    system
        Units in which it was written.
    today
        On which a build begins that says no day; where none is told, with the job's latest build.
    reshaping
        Who has the files of meshes, for those that are turned over or cut; none where nobody has.

    Returns
    -------
    tuple
        What was done, in a few words for undo, and the job.

    Raises
    ------
    UserError
        When it cannot be read, or the job cannot be as it would have it.
    """
    verb, _, rest = line.strip().partition(" ")
    whose, _, words = rest.partition(":")
    whose, words = whose.strip(), words.strip()
    match verb:
        case "build":
            return _begin(job, whose, words, shelf, system, today)
        case "piece":
            build, piece = found(job, whose)
            after = piece_typed(job, build.id, piece, words, shelf, system)
            return (words.partition(":")[0].strip() or "a piece"), after
        case "body":
            build, _ = found(job, whose)
            wish = read_body(words, system)
            return f"{build.name}: the body of {wish.card}", with_body(job, build.id, wish, shelf.bodies)
        case "trace":
            build, piece = _with_piece(job, whose)
            return f"{piece_of(build, piece).name}, traced", traced(job, build.id, piece, words, system)
        case "way":
            build, piece = _with_piece(job, whose)
            return f"{piece_of(build, piece).name}: {words}", made_by(job, build.id, piece, words, shelf)
        case "step":
            build, piece, op = _step_named(job, whose)
            after = step_typed(job, build.id, piece, words, shelf, system, op)
            return (words.partition(":")[0].strip() or "a step"), after
        case "copy":
            build, piece = found(job, rest.strip())
            after, _new = piece_copied(job, build.id, piece) if piece else build_copied(job, build.id)
            return f"a copy of {piece_of(build, piece).name if piece else build.name}", after
        case "mirror":
            build, piece = _with_piece(job, rest.strip())
            form = piece_of(build, piece).form
            over = _files(reshaping).turned_over(form) if isinstance(form, Mesh) else None
            return f"{piece_of(build, piece).name} mirrored", piece_copied(
                job, build.id, piece, mirrored=True, form=over
            )[0]
        case "split":
            return _split(job, rest.strip(), reshaping, system)
        case "give":
            what, _, goal = rest.rpartition(" to ")
            (build, piece), to = _with_piece(job, what.strip()), found(job, goal.strip())[0]
            return f"{piece_of(build, piece).name} given to {to.name}", piece_moved(job, build.id, piece, to.id)
        case "rename":
            build, piece = found(job, whose)
            if piece:
                raise UserError("A piece is named by its line", remedy=f"Write piece {whose}: and its new name")
            return f"{build.name} renamed", build_named(job, build.id, words)
        case "tie":
            what, _, goal = rest.partition(" to ")
            other, _, size = goal.partition(" at ")
            build, leader = found(job, what)[0], found(job, other.strip())[0]
            times = parse(size, "share") if size else 1.0
            return f"{build.name} takes its scale from {leader.name}", tie(job, build.id, leader.id, times)
        case "untie":
            build = found(job, rest.strip())[0]
            return f"{build.name} has its own scale", tie(job, build.id, "")
        case "delete":
            build, piece = found(job, rest.strip())
            if piece:
                return f"{piece_of(build, piece).name} deleted", piece_removed(job, build.id, piece)
            return f"{build.name} deleted", build_removed(job, build.id)
        case "describe":
            build = found(job, whose)[0]
            return f"{build.name} described", build_typed(job, build.id, words, system)
        case "put" | "bring":
            return _put_away(job, verb, rest)
        case "accept":
            return _accept(job, whose, words)
    if verb in SHOT_VERBS:
        return do_shot_wish(job, verb, rest, system)
    raise UserError(f"“{line.strip()[:60]}” is no wish", remedy=f"Begin with one of: {', '.join(VERBS)}")


def needs_files(job: Job, line: str) -> bool:
    """Whether a ``line`` turns over or cuts a mesh of the ``job``, which takes its time; false where it cannot be read at all."""
    verb, _, rest = line.strip().partition(" ")
    try:
        if verb not in ("split", "mirror"):
            return False
        build, piece = _with_piece(job, rest.strip().rpartition(" at ")[0] if verb == "split" else rest.strip())
        return isinstance(piece_of(build, piece).form, Mesh)
    except UserError:
        return False


def _files(reshaping: Reshaping | None) -> Reshaping:
    if reshaping is None:
        raise UserError("The file of this mesh is not at hand here", remedy="Do it in the job's own folder")
    return reshaping


SIDES = {"along": 0, "deep": 1, "up": 2}
"""How a line says where a mesh is cut: so far along from its left end, deep from its front, up from its foot."""


def _split(job: Job, words: str, reshaping: Reshaping | None, system: System) -> tuple[str, Job]:
    whose, _, where = words.rpartition(" at ")
    build, piece_id = _with_piece(job, whose.strip())
    piece = piece_of(build, piece_id)
    side, real_m = read_cut(where, system)
    halves = _files(reshaping).cut(mesh_of(piece), side, cut_at(piece, real_m))
    return f"{piece.name} cut in two", piece_in_two(job, build.id, piece_id, side, halves)


def read_cut(words: str, system: System = "metric") -> tuple[int, float]:
    """Read where something is cut, as some ``words`` say it in a ``system`` of units: “3 m up”, “0.4 m along”; the side, and real metres.

    Raises
    ------
    UserError
        When they do not say it.
    """
    size, _, side = words.strip().rpartition(" ")
    if side not in SIDES or not size:
        raise UserError(
            f"“{words.strip()[:60]}” does not say where it is cut", remedy="Write 3 m up, 0.4 m along or 0.2 m deep"
        )
    return SIDES[side], parse(size, "length", system)


def _step_named(job: Job, words: str) -> tuple[Build, str, str]:
    """“barge/hull/polish”, “barge//rig”: the build, the piece and the step that it names."""
    owner, slash, op = words.rpartition("/") if words.count("/") == 2 else (words, "", "")
    build, piece = found(job, owner.removesuffix("/"))
    route = route_of(build, piece)
    if slash and not any(o.id == op.strip() for o in route):
        raise UserError(
            f"There is no step “{op.strip()}”", remedy=f"There are {', '.join(o.id for o in route) or 'none'}"
        )
    return build, piece, op.strip()


def _put_away(job: Job, verb: str, rest: str) -> tuple[str, Job]:
    word, _, whose = rest.strip().partition(" ")
    if word != {"put": "away", "bring": "back"}[verb]:
        raise UserError(
            f"“{verb} {rest.strip()[:60]}” is no wish", remedy="Write put away and a build, or bring back and a build"
        )
    build = found(job, whose)[0]
    return f"{build.name} {'put away' if verb == 'put' else 'brought back'}", build_put_away(
        job, build.id, verb == "put"
    )


def _accept(job: Job, whose: str, words: str) -> tuple[str, Job]:
    build = None if whose.casefold() == "shop" else found(job, whose)[0]
    begun, name = (build.begun, build.name) if build else (job.begun, "the shop")
    keys = frozenset(key.strip() for key in words.split(",") if key.strip())
    if unknown := sorted(keys - set(begun)):
        raise UserError(
            f"“{unknown[0]}” is no beginning of {name}", remedy=f"There are {', '.join(begun[:8]) or 'none left'}"
        )
    return f"{name} as it began", accepted(job, build.id if build else "", keys or None)


def found(job: Job, words: str) -> tuple[Build, str]:
    """The build that some ``words`` name, by id or name, and the id of its piece where they go on with one: “barge/hull”; of a ``job``.

    Raises
    ------
    UserError
        When there is none, or several.
    """
    name, _, part = words.partition("/")
    build = _one([(b.id, b.name, b) for b in job.builds], name, "build", "There is no build yet")
    if not part:
        return build, ""
    return build, _one(
        [(p.id, p.name, p.id) for p in build.pieces], part, f"piece of {build.name}", f"{build.name} has no piece yet"
    )


def _one(known: list[tuple[str, str, Found]], name: str, what: str, none: str) -> Found:
    asked = name.strip().casefold()
    hits = [one for key, said, one in known if asked == key.casefold()] or [
        one for _, said, one in known if asked == said.casefold()
    ]
    if len(hits) == 1:
        return hits[0]
    listed = ", ".join(key for key, _, _ in known[:8])
    raise UserError(
        f"There {'are several' if hits else 'is no'} {what} “{name.strip()}”",
        remedy=f"Name one of: {listed}" if known else none,
    )


def _with_piece(job: Job, words: str) -> tuple[Build, str]:
    build, piece = found(job, words)
    if not piece:
        raise UserError(f"“{words}” names no piece", remedy=f"Write {words or 'the build'}/ and the piece")
    return build, piece


def made_by(job: Job, build_id: str, piece_id: str, words: str, shelf: Shelf) -> Job:
    """Return the ``job`` in which a piece is made another way.

    Parameters
    ----------
    job
        As it is.
    build_id, piece_id
        Whose piece.
    words
        The way by its id or its name, or the name of its construction.
    shelf
        Ways, and materials that they need.

    Raises
    ------
    UserError
        When there is no such piece or way.
    """
    asked, shelf = words.strip().casefold(), shelf.beside(job.cards.materials)
    way = next((w for w in shelf.ways if asked in (w.id, w.name.casefold(), name_of(w.mould) if w.mould else "")), None)
    if way is None:
        raise UserError(f"There is no way of making called “{words.strip()}”", "library",
                        f"Choose one of: {', '.join(w.id for w in shelf.ways)}")  # fmt: skip
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    made = made_as(piece, Making(name_of(way.mould) if way.mould else way.name), shelf)
    pieces = tuple(made if p is piece else p for p in build.pieces)
    return checked(with_cards(job, brought(mended(replace(build, pieces=pieces)), build), shelf), job)


def _begin(job: Job, kind: str, words: str, shelf: Shelf, system: System, today: date | None) -> tuple[str, Job]:
    """“miniature”, “Barge, 24 × 5 × 3 m, 1:8, from 2026-03-02”: everything after the name may be left out."""
    card = kind_called(kind, shelf)
    name, *rest = (part.strip() for part in words.split(","))
    sizes, scale, starts, said = sizes_of(card, card.size_m), card.scale, _begins(job, today), set[str]()
    without: frozenset[str] = frozenset()
    for part in rest:
        if part.startswith("from "):
            starts = read_starts(part[5:].strip())
        elif part.startswith("without "):
            without = frozenset(word.strip() for word in part[8:].split(" and "))
        elif re.fullmatch(r"\d[\d.]* ?: ?\d[\d.]*", part):
            scale = parse_scale(part)
            said.add("scale")
        else:
            sizes = read_sizes(part, card, system)
            said.add("size")
    return f"a new {card.name}, {name}", build_begun(
        job, card, name, sizes, scale, starts, shelf, said=frozenset(said), without=without
    )[0]


def kind_called(words: str, shelf: Shelf) -> KindCard:
    """The kind of build that some ``words`` name, on a ``shelf``.

    Raises
    ------
    UserError
        When there is none.
    """
    asked = words.strip().casefold()
    kinds = [k for k in shelf.kinds if asked in (k.id, k.name)] or [k for k in shelf.kinds if asked and asked in k.name]
    if len(kinds) != 1:
        raise UserError(
            f"“{words.strip()}” is no kind of build", remedy=f"Write one of: {', '.join(k.id for k in shelf.kinds)}"
        )
    return kinds[0]


def _begins(job: Job, today: date | None) -> datetime:
    if today is not None:
        return datetime.combine(today, BEGINS)
    if not job.builds:
        raise UserError(
            "Nobody has said when work on it may begin", remedy="Write from and a day behind it: from 2026-03-02"
        )
    return max(build.starts for build in job.builds)


def read_sizes(text: str, kind: KindCard, system: System = "metric") -> tuple[float, float, float]:
    """Read how big something really is: “24 m”, “9 m high” or “24 × 5 × 3 m”; one size alone is its longest, or the one it names.

    Parameters
    ----------
    text
        As typed.
    kind
        Whose proportions give what is not said.
    system
        Units of bare inches and millimetres.

    Raises
    ------
    UserError
        When it cannot be read.
    """
    words = text.strip()
    sides = {"long": 0, "deep": 1, "high": 2, "tall": 2}
    side = sides.get(words.rpartition(" ")[2])
    if side is not None:
        value = read_lengths(words.rpartition(" ")[0], 1, words, system)[0]
        return sizes_of(kind, value / kind.shape[side])
    if re.search(r"[×*]|(?<![a-z])x(?![a-z])|\bby\b", words):
        length, depth, height = read_lengths(words, 3, words, system)
        return length, depth, height
    return sizes_of(kind, read_lengths(words, 1, words, system)[0])
