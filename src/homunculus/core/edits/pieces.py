"""Pieces come, change and go: each of these makes one new job out of one typed line, or one wish."""

from __future__ import annotations

import math
import re
from collections.abc import Iterable
from operator import is_
from typing import Any, TypeVar

import msgspec
from msgspec.structs import asdict, replace

from homunculus.core.cells.pieces import Making, name_of, read_piece
from homunculus.core.constructions.register import construction_of
from homunculus.core.edits.begun import brought
from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.edits.embedded import with_cards
from homunculus.core.errors import UserError
from homunculus.core.form.stretch import nice_step, size_of, stretched
from homunculus.core.job.build import Build, Piece, piece_of
from homunculus.core.job.consistent import doubt_about
from homunculus.core.job.forms import Form, Sections
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import PLAIN, Mould
from homunculus.core.job.operations import LOOPS, AnyOperation, Cast, Insert, LayUp, Pour
from homunculus.core.job.shots import ByBuild, Need, Shot
from homunculus.core.job.ways import Shelf, WayCard, way_of
from homunculus.core.quantities import System

Item = TypeVar("Item")
OF_MOULDS = ("mould", "casting")
"""The loops that belong to a mould; the others mean the same however the piece is moulded."""


# ----------------------------------------------------------------------------------------------- names
def new_id(name: str, taken: Iterable[str]) -> str:
    """An id made of a ``name``, that is not among those ``taken``."""
    words = re.sub(r"[^0-9a-zà-öø-ÿ]+", "-", name.casefold()).strip("-")[:40] or "thing"
    known = set(taken)
    return next(one for one in (words, *(f"{words}-{n}" for n in range(2, len(known) + 3))) if one not in known)


def checked(job: Job, before: Job) -> Job:
    """The ``job`` itself, where it can be; it was made of one that can (``before``).

    Raises
    ------
    UserError
        When a value is beyond its type, two have one id, or a card is missing.
    """
    known = {id(build) for build in before.builds}
    for build in job.builds:
        if id(build) not in known:
            try:  # frozen values are made without being looked at: what no file could hold must not come this far
                msgspec.json.decode(msgspec.json.encode(build), type=Build)
            except msgspec.ValidationError as trouble:
                raise UserError(
                    f"{build.name} would have a value beyond what can be: {trouble}",
                    remedy="Look at its sizes and places",
                ) from None
    if doubt := doubt_about(job, before):
        raise UserError(doubt, remedy="Choose another, or add what is missing first")
    return job


# -------------------------------------------------------------------------------------------- by a line
def piece_typed(job: Job, build_id: str, piece_id: str, text: str, shelf: Shelf, system: System = "metric") -> Job:
    """Return the ``job`` with one piece as a line has it.

    Parameters
    ----------
    job
        As it is.
    build_id, piece_id
        Whose piece; a new one at the end where its id is empty.
    text
        As :mod:`homunculus.core.cells.pieces` reads it.
    shelf
        What may be taken into the job: cards and ways of making.
    system
        Units in which the line was written.

    Raises
    ------
    UserError
        When the line cannot be read, or the job cannot be as it would have it.
    """
    build, shelf = job.build(build_id), shelf.beside(job.cards.materials)
    before = piece_of(build, piece_id) if piece_id else None
    typed = read_piece(text, before, shelf, system)
    piece = typed.piece if before else replace(typed.piece, id=new_id(typed.piece.name, (p.id for p in build.pieces)))
    piece = made_as(piece, typed.making, shelf)
    pieces = tuple(piece if p is before else p for p in build.pieces) if before else (*build.pieces, piece)
    after = brought(mended(replace(build, pieces=pieces)), build, _said(piece, typed.making))
    return checked(with_cards(job, after, shelf), job)


def _said(piece: Piece, making: Making) -> frozenset[str]:
    """The keys of what a line says of a mould."""
    if piece.mould is None:
        return frozenset()
    said = {construction_of(piece.mould).thickness: making.layer_m, "gap_m": making.gap_m}
    return frozenset(f"{field}:{piece.id}" for field, value in said.items() if value is not None)


def made_as(piece: Piece, making: Making, shelf: Shelf) -> Piece:
    """Return the ``piece`` made as its line says (``making``); ``shelf`` has the ways that there are.

    What means the same in another way stays: who sculpts it and how long, what is done with a good piece, how many moulds, what is lost.
    """
    now = way_of(piece, shelf.ways)
    if not making.name:  # what the line never showed, it cannot take away
        return without_mould(piece) if piece.mould else replace(piece, route=()) if now else piece
    if piece.mould and name_of(piece.mould) == making.name:
        return replace(piece, mould=_sized(piece.mould, making))
    if now and now.mould is None and now.name == making.name:
        return piece
    return by_way(piece, now, _way(making.name, shelf), making)


def _way(name: str, shelf: Shelf) -> WayCard:
    found = (way for way in shelf.ways if (name_of(way.mould) if way.mould else way.name) == name)
    way = next(found, None)
    if way is None:
        raise UserError(f"No card says how what is {name} is usually made", "library", "Choose another way")
    return way


def _sized(mould: Mould, making: Making) -> Mould:
    said: dict[str, Any] = {}
    if making.layer_m is not None:
        said[construction_of(mould).thickness] = making.layer_m
    if making.gap_m is not None:
        said["gap_m"] = making.gap_m
    if making.poured and making.poured != mould.poured:
        said |= {construction_of(mould).poured: making.poured, "mixes": PLAIN}  # pigment for rubber is none for stone
    if making.laminate:
        said["laminate"] = making.laminate
    return replace(mould, **said)


def by_way(piece: Piece, now: WayCard | None, way: WayCard, making: Making) -> Piece:
    """Return the ``piece``, so far made by the way ``now``, made by another ``way``, with the thickness that a ``making`` says.

    What means the same stays as it was decided.
    """
    mould = way.mould
    if mould and piece.mould:
        layers = {
            name
            for kind in (construction_of(mould), construction_of(piece.mould))
            for name in (kind.layer, kind.thickness)
        } | {"gap_m"}
        mine = {name: value for name, value in asdict(piece.mould).items()
                if name in mould.__struct_fields__ and name not in layers}  # fmt: skip
        new: Mould = replace(mould, **mine)
        mould = (
            new if new.poured == piece.mould.poured else replace(new, mixes=mould.mixes)
        )  # pigment for rubber is none for stone
    if mould:
        mould = _sized(mould, making)
    from_card = set() if (piece.mould and mould) or now is None else {op.id for op in now.route}
    kept = tuple(op for op in piece.route if op.id not in from_card)
    return replace(piece, mould=mould, route=_joined(kept, way.route, moulded=bool(piece.mould and mould)))


def _joined(old: tuple[AnyOperation, ...], new: tuple[AnyOperation, ...], *, moulded: bool) -> tuple[AnyOperation, ...]:
    """The steps of the new way and those that stay. From one mould to another what comes before, the castings and what comes after stay; else
    what somebody has added to the card's own steps."""
    route: list[AnyOperation] = []
    for loop in LOOPS:
        mine = tuple(op for op in old if op.loop == loop)
        theirs = tuple(op for op in new if op.loop == loop)
        if loop == "mould":
            mine = ()
        elif loop == "casting":
            mine = mine if moulded and any(isinstance(op, Cast) for op in mine) else ()
        if moulded and mine:
            theirs = ()
        taken = {op.id for op in (*route, *new)} - {op.id for op in mine if moulded}
        for op in (*theirs, *mine):
            name = op.id if op in theirs or op.id not in taken else new_id(op.id, taken)
            route.append(op if name == op.id else replace(op, id=name))
    return tuple(route)


def without_mould(piece: Piece) -> Piece:
    """Return the ``piece`` without its mould, and its route without what needs one."""
    needs = (Pour, LayUp, Cast, Insert)
    return replace(
        piece,
        mould=None,
        route=tuple(op for op in piece.route if op.loop not in OF_MOULDS and not isinstance(op, needs)),
    )


def mended(build: Build) -> Build:
    """Return the ``build`` in which nothing waits for an operation that is gone, or lays in a piece that is."""
    there = {(p.id, op.id) for p in build.pieces for op in p.route} | {("", op.id) for op in build.assembly}
    pieces = {p.id for p in build.pieces}

    def kept(owner: str, ops: tuple[AnyOperation, ...]) -> tuple[AnyOperation, ...]:
        found = []
        for op in ops:
            after = tuple(w for w in op.after if (w.of.rpartition("/")[::2] if "/" in w.of else (owner, w.of)) in there)
            if not (isinstance(op, Insert) and op.piece not in pieces):
                found.append(op if len(after) == len(op.after) else replace(op, after=after))
        return ops if len(found) == len(ops) and all(map(is_, found, ops)) else tuple(found)

    def piece_kept(piece: Piece) -> Piece:
        """The very same where nothing changes: what is reckoned and drawn of it is kept by it."""
        route = kept(piece.id, piece.route)
        return piece if route is piece.route else replace(piece, route=route)

    return replace(build, pieces=tuple(map(piece_kept, build.pieces)), assembly=kept("", build.assembly))


# ------------------------------------------------------------------------------------------ come and go
def piece_removed(job: Job, build_id: str, piece_id: str) -> Job:
    """Return the ``job`` without the piece ``piece_id`` of the build ``build_id``; what waited for it waits no more, and shots that named it alone need what nothing covers.

    Raises
    ------
    UserError
        When there is no such build or piece.
    """
    build = job.build(build_id)
    piece_of(build, piece_id)
    left = mended(replace(build, pieces=tuple(p for p in build.pieces if p.id != piece_id)))
    return shots_without(replace_build(job, left), build_id, piece_id)


def piece_copied(
    job: Job, build_id: str, piece_id: str, *, mirrored: bool = False, form: Form | None = None
) -> tuple[Job, str]:
    """Return the ``job`` with a copy of the piece ``piece_id`` of the build ``build_id`` behind it, and the copy's id.

    Where it is ``mirrored`` it stands on the other side of the build; a mesh has another ``form`` there, turned over by who has its file.

    Raises
    ------
    UserError
        When there is no such build or piece.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    name = _other_side(piece.name) if mirrored else f"{piece.name} 2"
    new = new_id(name, (p.id for p in build.pieces))
    at = (-piece.at_m[0], piece.at_m[1]) if mirrored else piece.at_m
    place = build.pieces.index(piece) + 1
    copy = with_own_route(replace(piece, id=new, name=name, at_m=at, form=form or piece.form), piece_id)
    pieces = (*build.pieces[:place], copy, *build.pieces[place:])
    return checked(replace_build(job, replace(build, pieces=pieces)), job), new


def piece_added(job: Job, build_id: str, piece: Piece, shelf: Shelf) -> Job:
    """Return the ``job`` with a ``piece`` as it stands, mesh, mixes and steps, at the end of the build ``build_id``, under an id of its own.

    ``shelf`` has the cards that it names.

    Raises
    ------
    UserError
        When there is no such build, or a card is missing.
    """
    build = job.build(build_id)
    new = new_id(piece.name, (p.id for p in build.pieces))
    copy = with_own_route(replace(piece, id=new), piece.id)
    return checked(with_cards(job, mended(replace(build, pieces=(*build.pieces, copy))), shelf), job)


def with_own_route(copy: Piece, of: str) -> Piece:
    """Return a ``copy`` whose steps wait for its own where they waited for those of the piece it is a copy ``of``, by its id."""

    def own(op: AnyOperation) -> AnyOperation:
        after = (
            replace(w, of=f"{copy.id}/{w.of.partition('/')[2]}") if w.of.startswith(f"{of}/") else w for w in op.after
        )
        return replace(op, after=tuple(after))

    return replace(copy, route=tuple(own(op) for op in copy.route))


def _other_side(name: str) -> str:
    for one, other in (("left", "right"), ("right", "left")):
        if re.search(rf"\b{one}\b", name):
            return re.sub(rf"\b{one}\b", other, name)
    return f"{name}, mirrored".replace(",", "")


def piece_moved(job: Job, build_id: str, piece_id: str, to: str) -> Job:
    """Return the ``job`` with the piece ``piece_id`` taken from the build ``build_id`` to the end of another (``to``); shots that named it there need something else.

    Raises
    ------
    UserError
        When there is no such build or piece.
    """
    piece, goal = piece_of(job.build(build_id), piece_id), job.build(to)
    if build_id == to:
        return job
    new = new_id(piece.name, (p.id for p in goal.pieces))
    job = piece_removed(job, build_id, piece_id)
    return checked(replace_build(job, mended(replace(goal, pieces=(*goal.pieces, replace(piece, id=new))))), job)


def shots_without(job: Job, build_id: str, piece_id: str = "") -> Job:
    """The ``job`` whose shots do not name the build ``build_id``, or its piece ``piece_id``, that is gone."""

    def left(need: Need) -> Need:
        cover = need.cover
        if not isinstance(cover, ByBuild) or cover.build != build_id or (piece_id and piece_id not in cover.pieces):
            return need
        others = tuple(p for p in cover.pieces if p != piece_id)
        return replace(need, cover=replace(cover, pieces=others) if piece_id and others else None)

    def kept(shot: Shot) -> Shot:
        needs = tuple(left(need) for need in shot.needs)
        return shot if needs == shot.needs else replace(shot, needs=needs)

    return replace(job, shots=tuple(kept(shot) for shot in job.shots))


# --------------------------------------------------------------------------------------- taken hold of
def real_size(piece: Piece, side: int) -> float | None:
    """Length (``side`` 0), depth (1) or height (2) of a ``piece`` at full size [m]; none of a mesh, which is as large as it was drawn."""
    size = size_of(piece.form)
    return size[side] * piece.drawn_at * piece.enlarged if size else None


def piece_sized(job: Job, build_id: str, piece_id: str, side: int, real_m: float) -> Job:
    """Return the ``job`` in which the piece ``piece_id`` of the build ``build_id`` is so long, deep or high (``side`` 0, 1, 2).

    Parameters
    ----------
    job, build_id, piece_id
        Whose piece.
    side
        Which of its sizes.
    real_m
        At full size.

    Raises
    ------
    UserError
        When there is no such piece, it is a mesh, or the size cannot be.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    size = float(f"{real_m / (piece.drawn_at * piece.enlarged):.6g}")
    return checked(
        replace_build(job, replace_piece(build, replace(piece, form=stretched(piece.form, side, size)))), job
    )


def section_ends(piece: Piece) -> tuple[tuple[float, float], ...]:
    """Where the right ends of the measured sections of a ``piece`` lie in the side view [m, real]: along, up; none where it has none."""
    times, cuts = piece.drawn_at * piece.enlarged, piece.form.sections if isinstance(piece.form, Sections) else ()
    foot = cuts[0].at_m if cuts else 0.0
    return tuple((piece.at_m[0] + c.width_m / 2 * times, piece.at_m[1] + (c.at_m - foot) * times) for c in cuts)


def section_width(piece: Piece, index: int) -> float:
    """Width of the measured section ``index`` of a ``piece`` at full size [m]; nought where there is none."""
    cuts = piece.form.sections if isinstance(piece.form, Sections) else ()
    return cuts[index].width_m * piece.drawn_at * piece.enlarged if index < len(cuts) else 0.0


def section_pulled(job: Job, build_id: str, piece_id: str, index: int, width: float | None, at: float | None) -> Job:
    """Return the ``job`` in which one measured section of a piece has another width, or lies at another height.

    Parameters
    ----------
    job, build_id, piece_id
        Whose piece; its depth goes with its width, so that it stays as round as it was.
    index
        Which section, from the foot.
    width, at
        At full size [m], the height from the piece's foot; none for what stays. A section stays between its neighbours, the first at the foot.

    Raises
    ------
    UserError
        When there is no such piece or section, or a size cannot be.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    cuts = piece.form.sections if isinstance(piece.form, Sections) else ()
    if not 0 <= index < len(cuts):
        raise UserError(f"The {piece.name} has no such section", remedy="Measure it in sections first")
    times, cut = piece.drawn_at * piece.enlarged, cuts[index]
    if width is not None:
        wide = float(f"{max(0.0, width) / times:.6g}")
        deep = cut.depth_m * wide / cut.width_m if cut.width_m else cut.depth_m
        cut = replace(cut, width_m=wide, depth_m=float(f"{deep:.6g}"))
    if at is not None and index:
        low = cuts[index - 1].at_m
        high = cuts[index + 1].at_m if index + 1 < len(cuts) else math.inf
        step = nice_step(cuts[-1].at_m)
        cut = replace(cut, at_m=float(f"{min(max(at / times, low + step), high - step):.6g}"))
    form = Sections((*cuts[:index], cut, *cuts[index + 1 :]))
    return checked(replace_build(job, replace_piece(build, replace(piece, form=form))), job)


def piece_placed(job: Job, build_id: str, piece_id: str, along: float, up: float) -> Job:
    """Return the ``job`` in which the piece ``piece_id`` of the build ``build_id`` stands at ``along`` and ``up`` [m, real] in the side view.

    Raises
    ------
    UserError
        When there is no such piece, or it would stand further off than anything may.
    """
    build = job.build(build_id)
    at = (float(f"{along:.9g}"), float(f"{up:.9g}"))
    return checked(replace_build(job, replace_piece(build, replace(piece_of(build, piece_id), at_m=at))), job)


def on_ground(piece: Piece, up: float) -> float:
    """How far ``up`` a ``piece`` gets that is pulled there [m]: not below the ground, unless it reached there already because somebody typed it."""
    return max(up, min(0.0, piece.at_m[1]))


def piece_pushed(job: Job, build_id: str, piece_id: str, along: int = 0, up: int = 0) -> Job:
    """Return the ``job`` in which the piece ``piece_id`` of the build ``build_id`` stands so many steps further ``along`` or ``up``.

    A step is about a hundredth of its own size, one, two or five of something; of a mesh about a millimetre as built. What stands on the ground is not
    pushed under it.

    Raises
    ------
    UserError
        As :func:`piece_placed`.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    step = nice_step(max(real_size(piece, 0 if along else 2) or 0.0, build.scale * 0.1))
    return piece_placed(
        job, build_id, piece_id, piece.at_m[0] + along * step, on_ground(piece, piece.at_m[1] + up * step)
    )


def piece_reordered(job: Job, build_id: str, piece_id: str, by: int) -> Job:
    """Return the ``job`` in which the piece ``piece_id`` of the build ``build_id`` is told so many places later (``by``).

    Raises
    ------
    UserError
        When there is no such piece.
    """
    build = job.build(build_id)
    piece = piece_of(build, piece_id)
    return replace_build(job, replace(build, pieces=moved_by(build.pieces, piece, by)))


def moved_by(items: tuple[Item, ...], item: Item, by: int) -> tuple[Item, ...]:
    """The ``items`` with one ``item`` so many places further on (``by``), or back; at the ends it stays there."""
    others = [one for one in items if one is not item]
    others.insert(max(0, min(len(others), items.index(item) + by)), item)
    return tuple(others)
