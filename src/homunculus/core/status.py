"""Plan and log to what is true now: what is wet, what is set, when it may be opened, what comes next."""

from __future__ import annotations

import math
from datetime import datetime, timedelta
from typing import Literal

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.cure.kinetics import kinetics_of, time_to_cure
from homunculus.core.cure.temperature import Daily, Nights
from homunculus.core.figures import Stage
from homunculus.core.job import Job, Mould, piece_of
from homunculus.core.log import LogEvent, standing
from homunculus.core.plan import Plan
from homunculus.core.plan_types import BuildPlan, Matter

State = Literal["none", "wet", "set", "firm", "ready", "onset", "broken"]
WORDS: dict[State, str] = {
    "none": "to do", "wet": "wet", "set": "set", "firm": "firm", "ready": "ready", "onset": "on set", "broken": "broken",
}  # fmt: skip


class Bar(Struct, frozen=True):
    """One pour or cure on the clock."""

    name: str
    build: str
    piece: str
    matter: Matter
    start: datetime
    end: datetime
    gels: datetime | None = None
    opens: datetime | None = None
    planned: bool = False
    done: str = "opens"
    """What the end is called."""


class Status(Struct, frozen=True):
    """What is true at a moment."""

    now: datetime
    bars: tuple[Bar, ...]
    states: dict[str, State]
    next_pour: tuple[str, datetime] | None
    air_c: float


def status(plan: Plan, log: tuple[LogEvent, ...], now: datetime) -> Status:
    """Join the plan with the log.

    Parameters
    ----------
    plan
        The current plan.
    log
        All entries, in any order.
    now
        The moment asked about, naive local.
    """
    entries = tuple(e for e in standing(log) if e.at <= now)
    wet = _open_pours(plan.job, entries, now)
    poured = {(e.build, e.piece) for e in entries if e.kind == "poured"}
    soon = now + timedelta(days=14)  # nothing shows further ahead than the clock and the next pour
    planned = [
        Bar(t.name, b.build.id, t.piece, t.matter, t.start, t.end, planned=True, done=t.done)
        for b in plan.builds
        for t in b.tasks
        if t.matter != "labour" and now < t.end and t.start < soon and (b.build.id, t.piece) not in poured
    ]
    bars = tuple(sorted((*wet, *planned), key=lambda bar: bar.start))
    pours = [b for b in planned if b.matter == "wet" and b.start > now]
    first = min(pours, key=lambda b: b.start, default=None)
    return Status(
        now, bars, _states(plan, entries, wet, now), (first.name, first.start) if first else None,
        measured_air(plan.job, entries, now),
    )  # fmt: skip


def measured_air(job: Job, entries: tuple[LogEvent, ...], now: datetime) -> float:
    """Air temperature [°C] at ``now``: last measured within the hour in the ``entries``, else the ``job``'s programme."""
    for entry in reversed(entries):
        if entry.celsius is not None and now - entry.at <= timedelta(hours=1):
            return entry.celsius
    return Daily(job.shop.air).at(now)


def _programme(job: Job, entries: tuple[LogEvent, ...]) -> Nights:
    spans = tuple(
        (e.at, e.until, e.celsius) for e in entries if e.kind == "measured" and e.until and e.celsius is not None
    )
    return Nights(Daily(job.shop.air), spans)


def _open_pours(job: Job, entries: tuple[LogEvent, ...], now: datetime) -> list[Bar]:
    """Pours that have not been opened or spoiled, and those that ended within two hours."""
    programme = _programme(job, entries)
    bars = []
    for entry in entries:
        if entry.kind != "poured":
            continue
        mould = _mould_of(job, entry)
        if mould is None:
            continue
        name, rubber, lag = mould
        card = job.cards.material(rubber)
        ended = next(
            (e for e in entries if e.at > entry.at and (e.build, e.piece) == (entry.build, entry.piece)
             and e.kind in ("opened", "spoiled")), None)  # fmt: skip
        if ended and now - ended.at > timedelta(hours=2):
            continue
        if card.demould_s is None:
            continue
        law = kinetics_of(card)
        cure = time_to_cure(needed=card.demould_s.value, kinetics=law, programme=programme, start=entry.at, lag=lag)
        opens = entry.at + timedelta(seconds=cure if math.isfinite(cure) else 60 * 86400)
        gels = None
        if card.pot_life_s:
            gel = time_to_cure(needed=card.pot_life_s.value, kinetics=law, programme=programme, start=entry.at, lag=0)
            gels = entry.at + timedelta(seconds=min(gel, 60 * 86400))
        end = ended.at if ended else max(opens, now)
        bars.append(Bar(name, entry.build, entry.piece, "curing", entry.at, end, gels, opens))
    return bars


def _mould_of(job: Job, entry: LogEvent) -> tuple[str, str, float] | None:
    """Name, rubber and lag of what an entry speaks of; none when the job no longer has it."""
    for build in job.builds:
        if build.id == entry.build and any(p.id == entry.piece for p in build.pieces):
            piece = piece_of(build, entry.piece)
            mould: Mould | None = piece.mould
            return (f"{piece.name}: rubber", mould.poured, mould.lag_s) if mould else None
    return None


def _states(plan: Plan, entries: tuple[LogEvent, ...], wet: list[Bar], now: datetime) -> dict[str, State]:
    states: dict[str, State] = {}
    touched = {e.build for e in entries} | {b.build for b in wet}
    for build_plan in plan.builds:
        build = build_plan.build
        if build.id not in touched:
            states[build.id] = "none"
            continue
        mine = [b for b in wet if b.build == build.id and b.end >= now]
        last = next((e for e in reversed(entries) if e.build == build.id and e.kind != "note"), None)
        moulded = [p.id for p in build.pieces if p.mould]
        opened = {e.piece for e in entries if e.build == build.id and e.kind == "opened"}
        state: State = "none"
        if mine:
            state = "wet" if any(b.gels and b.gels > now for b in mine) else "set"
            if all(b.opens and b.opens <= now for b in mine):
                state = "firm"
        elif last and last.kind == "spoiled":
            state = "broken"
        elif opened:
            state = "ready" if moulded and opened >= set(moulded) else "firm"
        if state == "ready":
            due = build_plan.find(specs.DUE)
            if due and isinstance(due.value, datetime) and due.value <= now:
                state = "onset"
        states[build.id] = state
    return states


def stage_states(made: BuildPlan, now: Status) -> dict[Stage, State]:
    """How far the matter of a build has gone along the line.

    Parameters
    ----------
    made
        The build's plan.
    now
        What is true at the moment.

    Returns
    -------
    dict
        A state for each stage; the early ones are settled once something was poured.
    """
    state = now.states.get(made.build.id, "none")
    poured: State = "ready" if state != "none" else "none"
    has_shot: State = "ready" if made.headline("shot") else "none"
    cured: dict[State, State] = {"wet": "wet", "set": "set", "firm": "firm", "ready": "ready", "onset": "ready"}
    return {
        "shot": has_shot,
        "scale": poured,
        "lens": poured if made.headline("lens") else "none",
        "mould": "ready" if state in ("ready", "onset") else cured.get(state, "none"),
        "mix": poured,
        "cure": "broken" if state == "broken" else cured.get(state, "none"),
        "shoot": "onset" if state == "onset" else "none",
    }
