"""Plan and log to what is true now: what is wet, what is set, when it may be opened, what comes next."""

from __future__ import annotations

from bisect import bisect_left
from datetime import date, datetime, timedelta
from operator import attrgetter
from typing import Literal, NamedTuple

from msgspec import Struct

from homunculus.core import specs
from homunculus.core.cure.clock import in_its_air, pot_life_law
from homunculus.core.cure.kinetics import LONGEST_S, time_to_cure
from homunculus.core.cure.temperature import Daily, Nights, Programme
from homunculus.core.figures import Station
from homunculus.core.job.counts import unsigned
from homunculus.core.job.job import Job
from homunculus.core.log import ENDS, Book, EventKind, LogEvent
from homunculus.core.plan.build_plan import Bar, BuildPlan, PlannedPour
from homunculus.core.plan.job_plan import Plan
from homunculus.core.plan.sheet import Mind
from homunculus.core.schedule.calendar import bench_days
from homunculus.core.schedule.wall_clock import later

BuildState = Literal["none", "wet", "set", "firm", "ready", "onset", "broken"]
WORDS: dict[BuildState, str] = {
    "none": "to do", "wet": "wet", "set": "set", "firm": "firm", "ready": "ready", "onset": "on set", "broken": "broken",
}  # fmt: skip

SHOWN_AHEAD = timedelta(hours=48)
"""Nothing shows what is planned further ahead; the next pour is asked for by itself."""


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
    wet = _open_pours(plan, book, now)
    touched = set(book.pieces())
    begun = {build for build, _ in touched}
    planned: list[Bar] = []
    first: Bar | None = None
    for made in plan.builds:
        near, coming = made.ahead(now, now + SHOWN_AHEAD)
        if made.build.id in begun:

            def to_do(bar: Bar, made: BuildPlan = made) -> bool:
                return (bar.build, bar.piece) not in touched or not _is_poured(made, book, bar, now)

            near = [bar for bar in near if to_do(bar)]
            coming = next((bar for bar in made.bars if bar.start > now and bar.matter == "wet" and to_do(bar)), None)
        planned += near
        if coming and (first is None or coming.start < first.start):
            first = coming
    bars = tuple(sorted((*wet, *planned), key=attrgetter("start")))
    days = plan.shoot_days
    first_day = bisect_left(days, now.date())
    flag = days[first_day] if first_day < len(days) else None
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


def _is_poured(made: BuildPlan, book: Book, bar: Bar, now: datetime) -> bool:
    """Whether what a bar pours is in already, as often as it is to be."""
    pour = next((p for p in made.pours if p.key == (bar.piece, bar.op)), None)
    return pour is not None and _done(pour, book, now)


def _done(pour: PlannedPour, book: Book, now: datetime) -> bool:
    """Whether a pour was made as often as it is to be; one that was spoiled is to be made again."""
    poured, spoiled = (book.times(kind, pour.build, pour.piece, now, pour.logged_as) for kind in ("poured", "spoiled"))
    return poured - spoiled >= pour.times * pour.coats


def _open_pours(plan: Plan, book: Book, now: datetime) -> list[Bar]:
    """Pours that have not been opened or spoiled, and those that ended within two hours."""
    bars: list[Bar] = []
    builds = {made.build.id: made for made in plan.builds}
    programme: Nights | None = None
    for build, piece in book.pieces():
        made = builds.get(build)
        for pour in (p for p in made.pours if p.piece == piece) if made else ():
            ended: LogEvent | None = None
            for entry in reversed(
                book.of_pour(build, piece, pour.logged_as)
            ):  # newest first: before an end that is past nothing is open
                if entry.at > now:
                    continue
                if entry.kind in ("opened", "spoiled"):
                    ended = entry
                    if now - ended.at > timedelta(hours=2):
                        break
                elif entry.kind == "poured":
                    programme = programme or measured_programme(plan.job, book)
                    bar = _bar(plan.job, pour, entry, ended, programme, now)
                    if bar:
                        bars.append(bar)
                    break  # what was poured before lies under it: the last coat says when the mould opens
    return bars


def _bar(
    job: Job, pour: PlannedPour, entry: LogEvent, ended: LogEvent | None, programme: Nights, now: datetime
) -> Bar | None:
    """The bar of one pour; none when its material does not cure."""
    if pour.setting is None:
        return None
    card, air = pour.card, job.shop.air
    opens = later(entry.at, _cure(pour, programme, entry.at), air.zone)
    gels = None
    if card.pot_life_s:
        gel = time_to_cure(needed=card.pot_life_s.value, kinetics=pot_life_law(card), programme=programme, start=entry.at,
                           lag=0)  # fmt: skip
        gels = later(entry.at, min(gel, LONGEST_S), air.zone)
    return Bar(pour.name, entry.build, entry.piece, "curing", entry.at, ended.at if ended else max(opens, now), gels, opens,
               ended=ended is not None, op=pour.op)  # fmt: skip


def _cure(pour: PlannedPour, air: Programme, start: datetime) -> float:
    """Seconds that a pour takes to set from ``start`` on, in the ``air`` or in its oven; bounded."""
    card, setting = pour.card, pour.setting
    assert card.demould_s is not None
    assert setting is not None
    programme, room = in_its_air(card, air, start)
    found = setting.clock.time(
        book=card.demould_s.value, programme=programme, start=start, lag=setting.lag_s, start_c=room
    )
    return min(found, LONGEST_S)


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


def promise(job: Job, made: BuildPlan, book: Book, opened: LogEvent) -> Promise | None:
    """Compare an opening with what was promised at its pour.

    Parameters
    ----------
    job
        With its shop as it is now.
    made
        The plan of the entry's build.
    book
        The log.
    opened
        The entry of the opening.

    Returns
    -------
    Promise or None
        None when the log has no pour for it, or what was poured is no longer in the job or does not cure.
    """
    pour = next((p for p in made.pours if p.piece == opened.piece and opened.op in p.logged_as), None)
    if pour is None or pour.setting is None:
        return None
    poured = book.last(opened.build, opened.piece, ("poured", "spoiled"), opened.at, pour.logged_as)
    if poured is None or poured.kind != "poured":
        return None
    zone = job.shop.air.zone
    plain = later(poured.at, _cure(pour, Daily(job.shop.air), poured.at), zone)
    told = later(poured.at, _cure(pour, measured_programme(job, book), poured.at), zone)
    return Promise(poured, opened, plain, told)


def _states(plan: Plan, book: Book, wet: list[Bar], now: datetime) -> dict[str, BuildState]:
    return {b.build.id: _state(b, book, wet, now) for b in plan.builds}


def _state(made: BuildPlan, book: Book, wet: list[Bar], now: datetime) -> BuildState:
    build = made.build
    mine = [b for b in wet if b.build == build.id and not b.ended]
    if mine:
        if all(b.opens and b.opens <= now for b in mine):
            return "firm"
        return "wet" if any(b.gels and b.gels > now for b in mine) else "set"
    known = book.of_build(build.id)
    ends = [e for p in build.pieces if (e := book.last(build.id, p.id, ENDS, now))] if known else []
    if not ends:
        return "none"
    if max(ends, key=lambda e: e.at).kind == "spoiled":
        return "broken"
    moulds = [p for p in made.pours if p.of == "mould"]
    opened = [p for p in moulds if book.last(build.id, p.piece, ("opened",), now, p.logged_as)]
    if not opened:
        return "none"
    if len(opened) < len(moulds):
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


def pour_at_hand(made: BuildPlan, book: Book, now: Status, piece: str) -> PlannedPour | None:
    """The pour of a piece that matters now: the one that sets, else the next of its route, else the last.

    Parameters
    ----------
    made
        The build's plan.
    book
        The log.
    now
        What is true at the moment.
    piece
        Which.
    """
    mine = [pour for pour in made.pours if pour.piece == piece]
    curing = {(b.piece, b.op) for b in now.bars if not (b.planned or b.ended) and b.build == made.build.id}
    wet = next((pour for pour in mine if pour.key in curing), None)
    return wet or next(
        (pour for pour in mine if pour.dated and not _done(pour, book, now.now)), mine[-1] if mine else None
    )


def pour_state(pour: PlannedPour, book: Book, now: Status) -> BuildState:
    """How far a pour is, by the ``book`` and what is true ``now``: to do, set, firm, ready."""
    bar = next(
        (b for b in now.bars if not (b.planned or b.ended) and (b.build, b.piece, b.op) == (pour.build, *pour.key)),
        None,
    )
    if bar:
        return "firm" if bar.opens and bar.opens <= now.now else "wet" if bar.gels and bar.gels > now.now else "set"
    return "ready" if _done(pour, book, now.now) else "none"


class NextStep(NamedTuple):
    """What is done next with something poured: kind of the entry, whose it is, and words for the log."""

    kind: EventKind
    piece: str
    op: str
    words: str


def next_step(made: BuildPlan, book: Book, now: Status) -> NextStep | None:
    """What is done next with the pours of a build: of each piece what cures is opened, else the next of its route is poured.

    Parameters
    ----------
    made
        The build's plan.
    book
        The log: what was poured is not poured again.
    now
        What is true at the moment.

    Returns
    -------
    NextStep or None
        That which comes first by the clock; none where nothing is left to pour.
    """
    held = unsigned(made.build.signoffs)
    starts = {(t.piece, t.op): t.start for t in reversed(made.tasks)}
    found: list[tuple[datetime, int, NextStep]] = []
    for i, piece in enumerate(made.build.pieces):
        curing = [b for b in now.bars if not (b.planned or b.ended) and (b.build, b.piece) == (made.build.id, piece.id)]
        if curing:
            bar = min(curing, key=lambda b: b.opens or b.end)
            found.append((bar.opens or bar.end, i, NextStep("opened", piece.id, bar.op, f"{bar.name} opened")))
            continue
        pour = next((p for p in made.pours if p.piece == piece.id and p.dated and not _done(p, book, now.now)), None)
        if pour:
            task = next((t for t in made.tasks if (t.piece, t.op) == pour.key), None)
            signs = held if task is None else task.held.split(", ") if task.held else ()
            told = f", though {' and '.join(signs)} not signed" if signs else ""
            at = starts.get(pour.key, datetime.max)
            found.append((at, i, NextStep("poured", piece.id, pour.op, f"{pour.name} {pour.verb}{told}")))
    return min(found)[2] if found else None


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
