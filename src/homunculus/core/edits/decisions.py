"""Decisions: what a person may change, found by name, with the bounds that the job's types declare."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cache
from typing import Any, get_args, get_type_hints

from msgspec import Meta, Struct
from msgspec.structs import replace

from homunculus.core.edits.mixes import put, with_mix
from homunculus.core.errors import UserError
from homunculus.core.figures import Station
from homunculus.core.job.build import Build, Piece, piece_of
from homunculus.core.job.cards import MaterialCard, Sourced
from homunculus.core.job.counts import ROLES
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import BlockMould, JacketMould, RigidMould
from homunculus.core.quantities import Kind, System, parse
from homunculus.core.showing import show


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


# (field, label, kind, step) of what is decided about each sort of mould.
_JACKET: tuple[tuple[str, str, Kind, float, Station], ...] = (
    ("blanket_m", "blanket", "length", 0.0005, "mould"),
    ("flange_m", "flange", "length", 0.005, "mould"),
    ("layers", "layers of laminate", "count", 1, "mould"),
    ("keys", "keys and spout", "share", 0.01, "mould"),
    ("waste", "waste", "share", 0.01, "mould"),
    ("lag_s", "mould's lag", "duration", 900, "cure"),
)
_BLOCK: tuple[tuple[str, str, Kind, float, Station], ...] = (
    ("wall_m", "wall", "length", 0.0005, "mould"),
    ("waste", "waste", "share", 0.01, "mould"),
    ("lag_s", "mould's lag", "duration", 900, "cure"),
)
_RIGID: tuple[tuple[str, str, Kind, float, Station], ...] = (
    ("wall_m", "wall", "length", 0.0005, "mould"),
    ("gap_m", "gap to the core", "length", 0.0005, "mould"),
    ("waste", "waste", "share", 0.01, "mould"),
    ("lag_s", "mould's lag", "duration", 900, "cure"),
)
_ROWS: dict[type, tuple[tuple[str, str, Kind, float, Station], ...]] = {
    JacketMould: _JACKET, BlockMould: _BLOCK, RigidMould: _RIGID,
}  # fmt: skip
_CARD: tuple[tuple[str, str, Kind, float, Station], ...] = (
    ("price_per_kg", "price", "money_per_mass", 0.5, "mould"),
    ("density_kg_m3", "density", "density", 10, "mix"),
    ("pot_life_s", "pot life, book", "duration", 60, "mix"),
    ("demould_s", "demould, book", "duration", 1800, "cure"),
    ("bake_c", "oven", "temperature", 1, "cure"),
    ("pour_c", "poured at", "temperature", 1, "cure"),
    ("firm_c", "firm below", "temperature", 1, "cure"),
    ("grain_kg_m3", "powder's grain", "density", 10, "mix"),
    ("pot_life_per_share", "pot life longer by, a part", "factor", 0.5, "mix"),
)
_SHOP: tuple[tuple[str, str, str, Kind, float, Station], ...] = (
    ("air", "day_c", "shop by day", "temperature", 0.5, "cure"),
    ("air", "night_c", "shop by night", "temperature", 0.5, "cure"),
    ("air", "humidity", "air's humidity", "share", 0.05, "cure"),
    ("mixing", "vessel_m3", "mixing vessel", "volume", 0.0005, "mix"),
    ("mixing", "head_room", "head-room", "factor", 0.5, "mix"),
    ("mixing", "bucket_m3", "mixing bucket", "volume", 0.001, "mix"),
    ("mixing", "bucket_head_room", "bucket's head-room", "factor", 0.05, "mix"),
    ("mixing", "handling_s", "handling a batch, air drawn out", "duration", 30, "mix"),
    ("mixing", "handling_s_per_kg", "and for each kg", "duration", 10, "mix"),
    ("mixing", "plain_s", "handling a batch", "duration", 10, "mix"),
    ("mixing", "plain_s_per_kg", "and for each kg, plain", "duration", 5, "mix"),
    ("mixing", "hands", "who mix side by side", "count", 1, "mix"),
    ("mixing", "margin", "pot life kept in hand", "share", 0.05, "mix"),
    ("", "confidence", "confidence of counts", "share", 0.01, "mould"),
)


def decisions(job: Job, build_id: str) -> tuple[Decision, ...]:
    """List what may be decided about a build, in the order of the line.

    Parameters
    ----------
    job
        The whole job.
    build_id
        One of its builds.

    Raises
    ------
    UserError
        When there is no such build.
    """
    return tuple(_decisions(job, job.build(build_id)))


def _decisions(job: Job, build: Build) -> Iterator[Decision]:
    yield Decision("scale", "scale", "scale", "scale", build.id, "", ("build", "scale"), build.scale, 1.01, True)
    for role in ROLES:
        yield Decision(
            f"wanted.{role}", role, "count", "mould", build.id, "", ("wanted", role), getattr(build.wanted, role), 1
        )
    for piece in build.pieces:
        yield from _count_decisions(build, piece)
        if piece.enlarged != 1:
            yield Decision(f"enlarged:{piece.id}", f"{piece.name}, size of the build's", "share", "scale", build.id, piece.id,
                           ("piece", "enlarged"), piece.enlarged, 0.1)  # fmt: skip
        for field, label, kind, step, station in _ROWS.get(type(piece.mould), ()):
            yield Decision(f"{field}:{piece.id}", f"{piece.name}, {label}", kind, station, build.id, piece.id,
                           ("mould", field), getattr(piece.mould, field), step)  # fmt: skip
        yield from _mix_decisions(build, piece)
    for card in _cards_of(job, build):
        for field, label, kind, step, station in _CARD:
            sourced = getattr(card, field)
            if sourced is not None:
                yield Decision(f"card.{card.id}.{field}", f"{card.name}, {label}", kind, station, build.id, "",
                               (f"card:{card.id}", field), sourced.value, step)  # fmt: skip
    for part, field, label, kind, step, station in _SHOP:
        value = getattr(getattr(job.shop, part) if part else job.shop, field)
        yield Decision(f"shop.{field}", label, kind, station, "", "", (part, field), value, step)


def _count_decisions(build: Build, piece: Piece) -> list[Decision]:
    """How many one figure has, in which shares its variants come, and how many castings come out good."""
    found = [Decision(f"copies:{piece.id}", f"{piece.name}, one figure has", "count", "mould", build.id, piece.id,
                      ("piece", "copies"), piece.copies, 1)]  # fmt: skip
    worn = piece.copies if piece.worn is None else piece.worn
    found.append(Decision(f"worn:{piece.id}", f"{piece.name}, hang on a figure at once", "count", "scale", build.id,
                          piece.id, ("piece", "worn"), worn, 1))  # fmt: skip
    if piece.mould:
        found.append(Decision(f"cast_waste:{piece.id}", f"{piece.name}, lost with each casting", "share", "mould", build.id,
                              piece.id, ("piece", "waste"), piece.waste, 0.01))  # fmt: skip
    for i, variant in enumerate(piece.variants):
        found.append(Decision(f"variant.{i}:{piece.id}", f"{piece.name}, {variant.name}", "share", "mould", build.id,
                              piece.id, (f"variant:{i}", "share"), variant.share, 0.05))  # fmt: skip
    if piece.mould:
        found.append(Decision(f"good:{piece.id}", f"{piece.name}, come out good", "share", "mould", build.id, piece.id,
                              ("piece", "good"), piece.good, 0.01))  # fmt: skip
    return found


def _mix_decisions(build: Build, piece: Piece) -> list[Decision]:
    """Shares of the mixes of a mould, where there are several, and of what is stirred into each."""
    found: list[Decision] = []
    for i, mix in enumerate(piece.mould.mixes if piece.mould else ()):
        whose = f"{piece.name}, {mix.name}" if mix.name else piece.name
        if len(piece.mould.mixes) > 1:  # type: ignore[union-attr]
            found.append(Decision(f"mix.{i}:{piece.id}", whose, "share", "mix", build.id, piece.id,
                                  (f"mix:{i}", "share"), mix.share, 0.05))  # fmt: skip
        for j, additive in enumerate(mix.additives):
            found.append(Decision(f"additive.{i}.{j}:{piece.id}", f"{whose}, {additive.name}", "share", "mix", build.id,
                                  piece.id, (f"additive:{i}:{j}", "share"), additive.share, 0.005))  # fmt: skip
    return found


def _cards_of(job: Job, build: Build) -> tuple[MaterialCard, ...]:
    """What a build's moulds and castings are poured of, and what is stirred in, each once."""
    moulded = [piece for piece in build.pieces if piece.mould]
    names = dict.fromkeys(piece.mould.poured for piece in moulded if piece.mould)
    names |= dict.fromkeys(piece.material for piece in moulded if piece.material)
    stirred = {
        (a.card or a.name).casefold() for p in moulded if p.mould for mix in p.mould.mixes for a in mix.additives
    }
    found = [card for name in names for card in job.cards.materials if card.id == name]
    found += [c for c in job.cards.materials if c.kind == "stir-in" and stirred & {c.id.casefold(), c.name.casefold()}]
    return tuple(found)


def find_decision(job: Job, build_id: str, key: str) -> Decision:
    """Find one decision by its key.

    Parameters
    ----------
    job
        The whole job.
    build_id
        The build that it belongs to.
    key
        As :class:`Decision` names it, for example ``scale`` or ``blanket_m:gallery``.

    Raises
    ------
    UserError
        When nothing of that name can be decided.
    """
    found = next((d for d in _decisions(job, job.build(build_id)) if d.key == key), None)
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
    hints = get_type_hints(owner, include_extras=True)
    parts = get_args(hints[field])
    for meta in [m for part in parts for m in (part, *get_args(part)[1:])]:  # also where it may be none
        if isinstance(meta, Meta):
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
    if value == decision.value:
        return job  # looked at, not changed
    if decision.path[0].startswith("card:"):
        return _edit_card(job, decision, value)
    owner = _owner(job, decision)
    owner_type: type = type(owner)
    low, high = bounds(owner_type, decision.path[1])
    if not low <= value <= high:
        limits = f"{show(low, decision.kind)} to {show(high, decision.kind)}"
        raise UserError(
            f"{decision.label.capitalize()} cannot be {show(value, decision.kind)}", remedy=f"It goes from {limits}"
        )
    whole = decision.kind == "count"
    changed = replace(owner, **{decision.path[1]: round(value) if whole else float(value)})
    return _put_back(job, decision, changed)


def _edit_card(job: Job, decision: Decision, value: float) -> Job:
    """Change a value of a card that the job carries; its provenance says that it was changed here."""
    if not 0 < value < 1e7:
        raise UserError(
            f"{decision.label.capitalize()} cannot be {show(value, decision.kind)}", remedy="It is over nought"
        )
    card = job.cards.material(decision.path[0].removeprefix("card:"))
    changed = replace(card, **{decision.path[1]: Sourced(float(value), "entered for this job")})
    others = tuple(changed if c.id == card.id else c for c in job.cards.materials)
    return replace(job, cards=replace(job.cards, materials=others))


def stepped(decision: Decision, steps: int) -> float:
    """The value of a ``decision`` so many workshop ``steps`` on; a ratio steps by a factor, others land on whole steps."""
    if decision.ratio:
        return float(decision.value * decision.step**steps)
    return float((round(decision.value / decision.step) + steps) * decision.step)


def decide_typed(job: Job, decision: Decision, text: str, system: System) -> Job:
    """Make the job from a typed value.

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
    value = parse(text, decision.kind, system)
    return decide(job, decision, value)


def _owner(job: Job, decision: Decision) -> Any:
    where = decision.path[0]
    if not decision.build:
        return getattr(job.shop, where) if where else job.shop
    build = job.build(decision.build)
    if where == "build":
        return build
    if where == "wanted":
        return build.wanted
    piece = piece_of(build, decision.piece)
    if where.startswith("variant:"):
        return piece.variants[int(where[8:])]
    if where.startswith("mix:"):
        return piece.mould.mixes[int(where[4:])]  # type: ignore[union-attr]
    if where.startswith("additive:"):
        i, j = map(int, where.split(":")[1:])
        return piece.mould.mixes[i].additives[j]  # type: ignore[union-attr]
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
    piece = piece_of(build, decision.piece)
    if where.startswith("variant:"):
        new = replace(piece, variants=put(piece.variants, int(where[8:]), changed))
    elif where.startswith("mix:"):
        new = with_mix(piece, int(where[4:]), changed)
    elif where.startswith("additive:"):
        i, j = map(int, where.split(":")[1:])
        mix = piece.mould.mixes[i]  # type: ignore[union-attr]
        new = with_mix(piece, i, replace(mix, additives=put(mix.additives, j, changed)))
    else:
        new = changed if where == "piece" else replace(piece, mould=changed)
    return replace_build(job, replace_piece(build, new))


def replace_build(job: Job, build: Build) -> Job:
    """Return the ``job`` with the ``build`` of the same id put in place of the old one."""
    return replace(job, builds=tuple(build if b.id == build.id else b for b in job.builds))


def replace_piece(build: Build, piece: Piece) -> Build:
    """Return the ``build`` with the ``piece`` of the same id put in place of the old one."""
    return replace(build, pieces=tuple(piece if p.id == piece.id else p for p in build.pieces))
