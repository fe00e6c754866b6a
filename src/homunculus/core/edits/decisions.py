"""Decisions: what a person may change, found by name, with the bounds that the job's types declare."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from functools import cache, lru_cache
from typing import Any, NamedTuple, get_type_hints

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.edits.mixes import put, with_mix
from homunculus.core.errors import UserError
from homunculus.core.figures import Station
from homunculus.core.job.build import Build, Piece, materials_of, mixes_at, mixes_of, piece_of
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.decided import decided_fields, metas
from homunculus.core.job.job import Job
from homunculus.core.job.operations import AnyOperation
from homunculus.core.job.shop import Shop
from homunculus.core.job.sourced import ENTERED, Sourced
from homunculus.core.quantities import NBSP, Kind, System, parse
from homunculus.core.showing import show, show_given


class Decision(Struct, frozen=True):
    """One value that may be changed: where it stands, what it is, how far it may go and by which step."""

    key: str
    label: str
    kind: Kind
    station: Station
    build: str
    piece: str
    path: tuple[str, str]
    value: float
    step: float
    ratio: bool = False
    """Whether a step multiplies rather than adds."""
    begun: bool = False
    """Whether nobody has decided it yet: a card, or the program, began it."""


def decisions(job: Job, build_id: str) -> tuple[Decision, ...]:
    """List what may be decided about a build, in the order of the line.

    Parameters
    ----------
    job
        The whole job.
    build_id
        One of its builds; empty for the shop alone.

    Raises
    ------
    UserError
        When there is no such build.
    """
    if not build_id:
        return tuple(_marked(_shop_decisions(job.shop), job.begun))
    return tuple(_decisions(job, job.build(build_id)))


def decisions_of_build(build: Build) -> tuple[Decision, ...]:
    """List what may be decided about a ``build`` itself, neither its cards nor its shop."""
    return tuple(_own_decisions(build))


def decisions_but_of(build: Build, pieces: frozenset[str]) -> tuple[Decision, ...]:
    """List what may be decided about a ``build`` itself, but for its ``pieces`` of these ids."""
    return tuple(_own_decisions(build, pieces))


def decisions_of_shop(shop: Shop) -> tuple[Decision, ...]:
    """List what may be decided about a ``shop``."""
    return tuple(_shop_decisions(shop))


class _Place(NamedTuple):
    """Where values are decided: the owner's place, and how its decisions are called."""

    build: str
    piece: str
    where: str
    before: str = ""
    """Of the key."""
    after: str = ""
    whose: str = ""


def _of(owner: Struct, place: _Place, only: tuple[str, ...] = ()) -> Iterator[Decision]:
    """What is decided about an owner, in the order of its fields; the type says how."""
    for field, how in decided_fields(type(owner)).items():
        value = getattr(owner, field)
        if isinstance(value, Sourced):
            value = value.value
        if (only and field not in only) or value is None:
            continue
        label = ", ".join(filter(None, (place.whose, how.label)))
        yield Decision(f"{place.before}{field}{place.after}", label, how.kind, how.station, place.build, place.piece, (place.where, field),
                       value, how.step, how.ratio)  # fmt: skip


def _decisions(job: Job, build: Build) -> Iterator[Decision]:
    yield from _marked(_own_decisions(build), build.begun)
    for card in _cards_of(job, build):
        yield from _of(card, _Place(build.id, "", f"card:{card.id}", f"card.{card.id}.", whose=card.name))
    yield from _marked(_shop_decisions(job.shop), job.begun)


def _marked(found: Iterator[Decision], begun: tuple[str, ...]) -> Iterator[Decision]:
    marks = set(begun)
    return (replace(d, begun=True) if d.key in marks else d for d in found) if marks else found


def _own_decisions(build: Build, but: frozenset[str] = frozenset()) -> Iterator[Decision]:
    yield from _of(build, _Place(build.id, "", "build"))
    yield from _of(build.wanted, _Place(build.id, "", "wanted", "wanted."))
    for piece in build.pieces:
        if piece.id not in but:
            yield from _about_piece(build.id, piece)
    for op in build.assembly:
        yield from _about_operation(op, build.id, None)


def _shop_decisions(shop: Shop) -> Iterator[Decision]:
    for part in shop.__struct_fields__:
        owner = getattr(shop, part)
        if isinstance(owner, Struct):
            yield from _of(owner, _Place("", "", part, "shop."))
    yield from _of(shop, _Place("", "", "", "shop."))


@lru_cache(maxsize=2048)  # one edit leaves all pieces but one as they were
def _about_piece(build: str, piece: Piece) -> tuple[Decision, ...]:
    return tuple(_all_about_piece(build, piece))


def _all_about_piece(build: str, piece: Piece) -> Iterator[Decision]:
    """How many one figure has, in which shares its variants come, how it is moulded and mixed, and what comes out good."""

    def place(where: str, before: str = "", whose: str = piece.name, after: str = f":{piece.id}") -> _Place:
        return _Place(build, piece.id, where, before, after, whose)

    worn = replace(piece, worn=piece.copies) if piece.worn is None else piece
    moulded = ("waste", "good") if piece.mould else ()
    own = (
        "copies",
        "worn",
        *(field for field in ("spares", "tests") if getattr(piece, field)),
        *moulded,
        *(("enlarged",) if piece.enlarged != 1 else ()),
    )
    for decision in _of(worn, place("piece"), own):
        key = (
            f"cast_waste:{piece.id}" if decision.path[1] == "waste" else decision.key
        )  # a mould has a waste of its own
        if decision.path[1] == "copies" and piece.in_all:
            decision = replace(decision, label=f"{piece.name}, in all")
        yield replace(decision, key=key)
    for i, variant in enumerate(piece.variants):
        yield from _shared(
            variant, place(f"variant:{i}", whose=f"{piece.name}, {variant.name}"), f"variant.{i}:{piece.id}"
        )
    if piece.mould:
        yield from _of(piece.mould, place("mould"))
        yield from _mixtures(piece, "", place)
    for op in piece.route:
        yield from _about_operation(op, build, piece)
        if hasattr(op, "mixes"):
            yield from _mixtures(piece, op.id, place)


def _about_operation(op: AnyOperation, build: str, piece: Piece | None) -> Iterator[Decision]:
    """What is decided about one operation; rates by area and weight only where there are any."""
    whose = f"{piece.name}, {op.called}" if piece else op.called
    of = _Place(
        build, piece.id if piece else "", f"op:{op.id}", after=f":{piece.id if piece else ''}/{op.id}", whose=whose
    )
    return (d for d in _of(op, of) if d.value or not d.path[1].startswith("work_s_per"))


def _mixtures(piece: Piece, op: str, place: Callable[..., _Place]) -> Iterator[Decision]:
    """Shares of the mixes of one pour, and of what is stirred into them."""
    mixes, at = mixes_at(piece, op), f"{piece.id}/{op}" if op else piece.id
    called = next((f"{piece.name}, {o.called}" for o in piece.route if o.id == op), piece.name)
    for i, mix in enumerate(mixes):
        whose = f"{called}, {mix.name}" if mix.name else called
        if len(mixes) > 1:
            yield from _shared(mix, place(f"mix:{op}:{i}", whose=whose), f"mix.{i}:{at}")
        for j, additive in enumerate(mix.additives):
            of = place(f"additive:{op}:{i}:{j}", whose=f"{whose}, {additive.name}")
            yield from _shared(additive, of, f"additive.{i}.{j}:{at}")


def _shared(owner: Struct, place: _Place, key: str) -> Iterator[Decision]:
    """The share of something of which there are several, under a key of its own."""
    for decision in _of(owner, place):
        yield replace(decision, key=key)


def _cards_of(job: Job, build: Build) -> tuple[MaterialCard, ...]:
    """What a build's moulds, castings and layers are poured of, and what is stirred in, each once."""
    moulded = tuple(replace(p, material=p.material if p.mould else "") for p in build.pieces)
    names = dict.fromkeys(p.mould.poured for p in moulded if p.mould)
    names |= dict.fromkeys(materials_of(replace(build, pieces=moulded)))
    stirred = {(a.card or a.name).casefold() for p in moulded for mix in mixes_of(p) for a in mix.additives}
    found = [card for name in names for card in job.cards.materials if card.id == name]
    found += [c for c in job.cards.materials if c.stirred_in and stirred & {c.id.casefold(), c.name.casefold()}]
    return tuple(found)


def find_decision(job: Job, build_id: str, key: str) -> Decision:
    """Find one decision by its key.

    Parameters
    ----------
    job
        The whole job.
    build_id
        The build that it belongs to; empty for the shop alone, as in a job without builds.
    key
        As :class:`Decision` names it, for example ``scale`` or ``blanket_m:gallery``.

    Raises
    ------
    UserError
        When nothing of that name can be decided.
    """
    of = _decisions(job, job.build(build_id)) if build_id else _marked(_shop_decisions(job.shop), job.begun)
    found = next((d for d in of if d.key == key), None)
    if found:
        return found
    raise UserError(f"Nothing called “{key}” can be decided here", "job")


@cache
def bounds(owner: type, field: str) -> tuple[float, float]:
    """Return the least and greatest value that the type of a field allows.

    Parameters
    ----------
    owner
        A struct of the job.
    field
        One of its fields.
    """
    low, high = -1e12, 1e12
    for meta in metas(get_type_hints(owner, include_extras=True)[field]):
        low = meta.ge if meta.ge is not None else (meta.gt + 1e-12 if meta.gt is not None else low)
        high = meta.le if meta.le is not None else high
    return low, high


def decide(job: Job, decision: Decision, value: float) -> Job:
    """Make the job in which a decision has another value.

    Parameters
    ----------
    job
        As it is.
    decision
        What is decided.
    value
        In the base unit of its kind.

    Raises
    ------
    UserError
        When the value is beyond what the decision allows; the message says the limits.
    """
    if value == decision.value:  # looked at, not changed; but a beginning is decided by it
        return accepted(job, decision.build, frozenset({decision.key})) if decision.begun else job
    if decision.path[0].startswith("card:"):
        return _edit_card(job, decision, value)
    owner = _owner(job, decision)
    if isinstance(owner, Build) and owner.follows and decision.path[1] == "scale":
        raise UserError(
            f"{owner.name} takes its scale from {job.build(owner.follows).name}",
            remedy="Change that one, or untie it first",
        )
    owner_type: type = type(owner)
    low, high = bounds(owner_type, decision.path[1])
    if not low <= value <= high:
        limits = f"{show(low, decision.kind)} to {show(high, decision.kind)}"
        raise UserError(
            f"{decision.label.capitalize()} cannot be {show(value, decision.kind)}", remedy=f"It goes from {limits}"
        )
    whole = decision.kind == "count" or isinstance(getattr(owner, decision.path[1]), int)
    changed = replace(owner, **{decision.path[1]: round(value) if whole else float(value)})
    return _put_back(job, decision, changed)


def accepted(job: Job, build_id: str, keys: frozenset[str] | None = None) -> Job:
    """Return the ``job`` in which beginnings of the build ``build_id`` stand as decided: those of these ``keys``, or all.

    Those of the shop where no build is named.

    Raises
    ------
    UserError
        When there is no such build.
    """

    def left(begun: tuple[str, ...]) -> tuple[str, ...]:
        return tuple(key for key in begun if keys is not None and key not in keys)

    if not build_id:
        return replace(job, begun=left(job.begun))
    build = job.build(build_id)
    return replace_build(job, replace(build, begun=left(build.begun)))


def _edit_card(job: Job, decision: Decision, value: float) -> Job:
    """Change a value of a card that the job carries; its provenance says that it was changed here."""
    if not 0 < value < 1e7:
        raise UserError(
            f"{decision.label.capitalize()} cannot be {show(value, decision.kind)}", remedy="It is over nought"
        )
    card = job.cards.material(decision.path[0].removeprefix("card:"))
    changed = replace(card, **{decision.path[1]: Sourced(float(value), ENTERED)})
    others = tuple(changed if c.id == card.id else c for c in job.cards.materials)
    return replace(job, cards=replace(job.cards, materials=others))


def stepped(decision: Decision, steps: int) -> float:
    """The value of a ``decision`` so many workshop ``steps`` on; a ratio steps by a factor, others land on whole steps."""
    if decision.ratio:
        return float(decision.value * decision.step**steps)
    return float(
        f"{(round(decision.value / decision.step) + steps) * decision.step:.12g}"
    )  # 13 l, not 13.000000000000002


def decide_typed(job: Job, decision: Decision, text: str, system: System) -> Job:
    """Make the job from a typed value; what stands there typed over itself stays to the last digit, and is decided.

    Parameters
    ----------
    job
        As it is.
    decision
        What is decided.
    text
        As typed, with or without unit.
    system
        Of units, for bare numbers.

    Raises
    ------
    UserError
        When the text cannot be read or the value is out of bounds.
    """
    stood = str(show_given(decision.value, decision.kind, system, job.shop.currency)).replace(NBSP, " ")
    kept = text.strip() == stood and decision.kind != "scale"  # 1:11.96 is shown as 1:12, and may be made that
    return decide(job, decision, decision.value if kept else parse(text, decision.kind, system))


def _owner(job: Job, decision: Decision) -> Any:
    where = decision.path[0]
    if not decision.build:
        return getattr(job.shop, where) if where else job.shop
    build = job.build(decision.build)
    if where == "build":
        return build
    if where == "wanted":
        return build.wanted
    sort, *at = where.split(":")
    if sort == "op":
        ops: tuple[AnyOperation, ...] = piece_of(build, decision.piece).route if decision.piece else build.assembly
        return next(op for op in ops if op.id == at[0])
    piece = piece_of(build, decision.piece)
    if sort == "variant":
        return piece.variants[int(at[0])]
    if sort == "mix":
        return mixes_at(piece, at[0])[int(at[1])]
    if sort == "additive":
        return mixes_at(piece, at[0])[int(at[1])].additives[int(at[2])]
    return piece if where == "piece" else piece.mould


def _put_back(job: Job, decision: Decision, changed: Any) -> Job:
    where = decision.path[0]
    if not decision.build:
        return replace(job, shop=replace(job.shop, **{where: changed}) if where else changed)
    build = job.build(decision.build)
    if where == "build":
        return replace_build(job, changed)
    if where == "wanted":
        return replace_build(job, replace(build, wanted=changed))
    sort, *at = where.split(":")
    if sort == "op" and not decision.piece:
        return replace_build(job, replace(build, assembly=_with_operation(build.assembly, changed)))
    piece = piece_of(build, decision.piece)
    if sort == "op":
        new = replace(piece, route=_with_operation(piece.route, changed))
    elif sort == "variant":
        new = replace(piece, variants=put(piece.variants, int(at[0]), changed))
    elif sort == "mix":
        new = with_mix(piece, at[0], int(at[1]), changed)
    elif sort == "additive":
        mix = mixes_at(piece, at[0])[int(at[1])]
        new = with_mix(piece, at[0], int(at[1]), replace(mix, additives=put(mix.additives, int(at[2]), changed)))
    else:
        new = changed if where == "piece" else replace(piece, mould=changed)
    return replace_build(job, replace_piece(build, new))


def _with_operation(ops: tuple[AnyOperation, ...], changed: AnyOperation) -> tuple[AnyOperation, ...]:
    return tuple(changed if op.id == changed.id else op for op in ops)


def replace_build(job: Job, build: Build) -> Job:
    """Return the ``job`` with the ``build`` of the same id put in place of the old one."""
    return replace(job, builds=tuple(build if b.id == build.id else b for b in job.builds))


def replace_piece(build: Build, piece: Piece) -> Build:
    """Return the ``build`` with the ``piece`` of the same id put in place of the old one."""
    return replace(build, pieces=tuple(piece if p.id == piece.id else p for p in build.pieces))
