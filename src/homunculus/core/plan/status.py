"""Plan and log to what is true now: what is wet, what is set, when it may be opened, what comes next."""

from __future__ import annotations

from datetime import date, datetime, timedelta
from typing import Literal

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.cure.clock import mould_clock, pot_life_law
from homunculus.core.cure.kinetics import LONGEST_S, time_to_cure
from homunculus.core.cure.temperature import Daily, Nights, Programme
from homunculus.core.figures import Station
from homunculus.core.job.build import Build, piece_of
from homunculus.core.job.counts import unsigned
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import Mould
from homunculus.core.log import ENDS, Book, EventKind, LogEvent
from homunculus.core.plan.build_plan import BuildPlan, Matter, Mind
from homunculus.core.plan.job_plan import Plan
from homunculus.core.schedule.calendar import bench_days
from homunculus.core.schedule.wall_clock import later

BuildState = Literal["none", "wet", "set", "firm", "ready", "onset", "broken"]
WORDS: dict[BuildState, str] = {
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
    ended: bool = False
    """Whether it was opened or spoiled."""
    held: str = ""
    """Signatures that it waits for."""


class Status(Struct, frozen=True):
    """What is true at a moment."""

    now: datetime
    bars: tuple[Bar, ...]
    states: dict[str, BuildState]
    next_pour: tuple[str, datetime] | None
    air_c: float
    first_flag: date | None
    """The next shoot day."""
    bench_days: int
    """Working days until then, today among them."""


def status(plan: Plan, log: Book | tuple[LogEvent, ...], now: datetime) -> Status:
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
    book = log if isinstance(log, Book) else Book(log)
    wet = _open_pours(plan.job, book, now)
    poured = {key for key in book.pieces() if book.last(*key, ("poured",), now)}
    soon = now + timedelta(days=14)  # nothing shows further ahead than the clock and the next pour
    planned = [
        Bar(t.name, b.build.id, t.piece, t.matter, t.start, t.end, planned=True, done=t.done, held=t.held)
        for b in plan.builds
        for t in b.tasks
        if t.matter != "labour" and now < t.end and t.start < soon and (b.build.id, t.piece) not in poured
    ]
    bars = tuple(sorted((*wet, *planned), key=lambda bar: bar.start))
    pours = [b for b in planned if b.matter == "wet" and b.start > now]
    first = min(pours, key=lambda b: b.start, default=None)
    flag = min((s.day for s in plan.job.shots if s.day >= now.date()), default=None)
    return Status(
        now, bars, _states(plan, book, wet, now), (first.name, first.start) if first else None,
        measured_air(plan.job, book, now), flag, bench_days(now.date(), flag, plan.job.shop.hours) if flag else 0,
    )  # fmt: skip


def measured_air(job: Job, book: Book, now: datetime) -> float:
    """Air temperature [°C] at ``now``: told within the hour in the ``book``, else the ``job``'s programme."""
    entry = book.last_measured(now)
    if entry is not None and entry.celsius is not None and now - entry.at <= timedelta(hours=1):
        return entry.celsius
    return measured_programme(job, book).at(now)


def measured_programme(job: Job, book: Book) -> Nights:
    """The shop's air: what the ``book`` was told of it, and the ``job``'s day and night for the rest."""
    return Nights(Daily(job.shop.air), book.spans())


def _open_pours(job: Job, book: Book, now: datetime) -> list[Bar]:
    """Pours that have not been opened or spoiled, and those that ended within two hours."""
    bars: list[Bar] = []
    programme: Nights | None = None
    for key in book.pieces():
        ended: LogEvent | None = None
        for entry in reversed(book.of_piece(*key)):  # newest first: before an end that is past nothing is open
            if entry.at > now:
                continue
            if entry.kind in ("opened", "spoiled"):
                ended = entry
                if now - ended.at > timedelta(hours=2):
                    break
            elif entry.kind == "poured":
                programme = programme or measured_programme(job, book)
                bar = _bar(job, entry, ended, programme, now)
                if bar:
                    bars.append(bar)
                break  # what was poured before lies under it: the last coat says when the mould opens
    return bars


def _bar(job: Job, entry: LogEvent, ended: LogEvent | None, programme: Nights, now: datetime) -> Bar | None:
    """The bar of one pour; none when the job no longer has its mould or its material does not cure."""
    mould = _mould_of(job, entry)
    if mould is None:
        return None
    name, shape = mould
    card, air = job.cards.material(shape.poured), job.shop.air
    if card.demould_s is None:
        return None
    opens = later(entry.at, _cure(job, shape, programme, entry.at), air.zone)
    gels = None
    if card.pot_life_s:
        gel = time_to_cure(needed=card.pot_life_s.value, kinetics=pot_life_law(card), programme=programme, start=entry.at,
                           lag=0)  # fmt: skip
        gels = later(entry.at, min(gel, LONGEST_S), air.zone)
    return Bar(name, entry.build, entry.piece, "curing", entry.at, ended.at if ended else max(opens, now), gels, opens,
               ended=ended is not None)  # fmt: skip


def _cure(job: Job, mould: Mould, programme: Programme, start: datetime) -> float:
    card = job.cards.material(mould.poured)
    assert card.demould_s is not None
    clock = mould_clock(card, mould, job.shop.air)
    return min(clock.time(book=card.demould_s.value, programme=programme, start=start, lag=mould.lag_s), LONGEST_S)


class Promise(Struct, frozen=True):
    """A pour that was opened: when it was promised then, and by how much the opening missed it."""

    poured: LogEvent
    opened: LogEvent
    promised: datetime
    """With the day and night that the shop plans."""
    known: datetime
    """With the temperatures that were measured."""

    @property
    def late_s(self) -> float:
        """Seconds from the promise to the opening; negative when it was opened before."""
        return (self.opened.at - self.promised).total_seconds()

    @property
    def minded(self) -> bool:
        """Whether it was late by enough to mind: an hour."""
        return self.late_s > 3600

    @property
    def off_s(self) -> float:
        """Seconds by which the opening missed the reckoning with the temperatures that were measured."""
        return (self.opened.at - self.known).total_seconds()


def promise(job: Job, book: Book, opened: LogEvent) -> Promise | None:
    """Compare an opening with what was promised at its pour.

    Parameters
    ----------
    job
        With its cards and its shop as they are now.
    book
        The log.
    opened
        The entry of the opening.

    Returns
    -------
    Promise or None
        None when the log has no pour for it, or what was poured is no longer in the job or does not cure.
    """
    poured = book.last(opened.build, opened.piece, ("poured", "spoiled"), opened.at)
    mould = _mould_of(job, poured) if poured and poured.kind == "poured" else None
    if poured is None or mould is None:
        return None
    _, shape = mould
    if job.cards.material(shape.poured).demould_s is None:
        return None
    zone = job.shop.air.zone
    plain = later(poured.at, _cure(job, shape, Daily(job.shop.air), poured.at), zone)
    told = later(poured.at, _cure(job, shape, measured_programme(job, book), poured.at), zone)
    return Promise(poured, opened, plain, told)


def _mould_of(job: Job, entry: LogEvent) -> tuple[str, Mould] | None:
    """Name and mould of what an entry speaks of; none when the job no longer has it."""
    for build in job.builds:
        if build.id == entry.build and any(p.id == entry.piece for p in build.pieces):
            piece = piece_of(build, entry.piece)
            mould: Mould | None = piece.mould
            return (f"{piece.name}: rubber", mould) if mould else None
    return None


def _states(plan: Plan, book: Book, wet: list[Bar], now: datetime) -> dict[str, BuildState]:
    return {b.build.id: _state(b, book, wet, now) for b in plan.builds}


def _state(made: BuildPlan, book: Book, wet: list[Bar], now: datetime) -> BuildState:
    build = made.build
    mine = [b for b in wet if b.build == build.id and not b.ended]
    if mine:
        if all(b.opens and b.opens <= now for b in mine):
            return "firm"
        return "wet" if any(b.gels and b.gels > now for b in mine) else "set"
    ends = [e for p in build.pieces if (e := book.last(build.id, p.id, ENDS, now))]
    if not ends:
        return "none"
    if max(ends, key=lambda e: e.at).kind == "spoiled":
        return "broken"
    opened = {p.id for p in build.pieces if book.last(build.id, p.id, ("opened",), now)}
    if not opened:
        return "none"
    if not opened >= {p.id for p in build.pieces if p.mould}:
        return "firm"
    due = made.find(specs.DUE)
    return "onset" if due and isinstance(due.value, datetime) and due.value <= now else "ready"


def minds_now(made: BuildPlan, now: Status) -> tuple[Mind, ...]:
    """The cautions of a build that still matter: what a plan says of a cure is past once the pour is in its mould.

    Parameters
    ----------
    made
        The build's plan.
    now
        What is true at the moment.
    """
    wet = {b.piece for b in now.bars if not (b.planned or b.ended) and b.build == made.build.id}
    return tuple(m for m in made.minds if m.station != "cure" or m.subject.piece not in wet)


def opens_now(made: BuildPlan, now: Status) -> datetime | None:
    """When the pour that is in the mould of a build may be opened; none while none is.

    Parameters
    ----------
    made
        The build's plan.
    now
        What is true at the moment.
    """
    found = [b.opens for b in now.bars if not b.planned and b.build == made.build.id and b.opens and not b.ended]
    return max(found, default=None)


def next_step(build: Build, now: Status) -> tuple[EventKind, str, str] | None:
    """What is done next with a build's moulds: open what cures, else pour the first.

    Parameters
    ----------
    build
        The build.
    now
        What is true at the moment.

    Returns
    -------
    tuple or None
        Kind of the entry, the piece, and words for the log; none where nothing is moulded.
    """
    curing = {b.piece for b in now.bars if not (b.planned or b.ended) and b.build == build.id}
    moulded = [piece for piece in build.pieces if piece.mould]
    for piece in moulded:
        if piece.id in curing:
            return "opened", piece.id, f"{piece.name}: mould opened"
    held = unsigned(build.signoffs)
    told = f", though {' and '.join(held)} not signed" if held else ""
    return ("poured", moulded[0].id, f"{moulded[0].name}: rubber poured{told}") if moulded else None


def station_states(made: BuildPlan, now: Status) -> dict[Station, BuildState]:
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
        A state for each station; the early ones are settled once something was poured.
    """
    state = now.states.get(made.build.id, "none")
    poured: BuildState = "ready" if state != "none" else "none"
    has_shot: BuildState = "ready" if made.headline("shot") else "none"
    cured: dict[BuildState, BuildState] = {
        "wet": "wet",
        "set": "set",
        "firm": "firm",
        "ready": "ready",
        "onset": "ready",
    }
    return {
        "shot": has_shot,
        "scale": poured,
        "lens": poured if made.headline("lens") else "none",
        "mould": "ready" if state in ("ready", "onset") else cured.get(state, "none"),
        "mix": poured,
        "cure": "broken" if state == "broken" else cured.get(state, "none"),
        "shoot": "onset" if state == "onset" else "none",
    }
