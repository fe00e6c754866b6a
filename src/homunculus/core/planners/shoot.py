"""The forward plan of one build: its steps in shop hours, its cures through the night, to a ready time."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from homunculus.core import specs
from homunculus.core.cure.clock import Clock, clock_of, mould_clock
from homunculus.core.cure.kinetics import cure_time, kinetics_of, moment_after, slowest
from homunculus.core.cure.temperature import Constant, Programme
from homunculus.core.figures import Figure, Given, Phrase, Station, derive, rule
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.counts import unsigned
from homunculus.core.job.shop import ShopHours
from homunculus.core.job.steps import CastCopies, Dry, Hands, LayUp, PourRubber, Step
from homunculus.core.plan.build_plan import Headline, Matter, Mind, Sheet, Task, card_given
from homunculus.core.planners.counts import castings_of, variants_of
from homunculus.core.planners.scale import form_of, wall_of
from homunculus.core.schedule.calendar import FARTHEST_DAYS, day_length, work, work_unbroken, working_time
from homunculus.core.schedule.wall_clock import later
from homunculus.core.showing import show_clock


@rule("the end of the last step; hands in shop hours, cures through the night", "forward pass, one step after another")
def ready_moment(**steps: datetime) -> datetime:
    """Moment at which the last of the ``steps`` is done; each is the end of one step, in the order of the walk."""
    return max(steps.values())


@rule("working time from ready to due / one shop day", "the shop's hours")
def slack_days(*, ready: datetime, due: datetime, hours: ShopHours) -> float:
    """Days of shop ``hours`` between ``ready`` and ``due``; negative when late."""
    return working_time(ready, due, hours) / day_length(hours)


@rule("last − first", "arithmetic")
def between(*, first: datetime, last: datetime) -> float:
    """Time [s] from the ``first`` moment to the ``last``."""
    return (last - first).total_seconds()


@rule("call of the first shot, the earliest of all that need it", "the shots' days and calls")
def first_call(**shots: datetime) -> datetime:
    """The moment by which a build must be ready: the earliest call of all ``shots``."""
    return min(shots.values())


@rule("sum of the steps", "arithmetic")
def hands_time(**steps: float) -> float:
    """Working time [s] of all ``steps``."""
    return sum(steps.values())


MOST_TURNS = 3000
"""Castings of one mould after another; no mould lives so long."""


class _Stopped(Exception):  # noqa: N818  (it is an answer: from here on nothing can be dated)
    """A step that cannot be done as things stand."""

    def __init__(self, station: Station, piece: str, headline: str, why: Phrase) -> None:
        super().__init__(headline)
        self.station, self.piece, self.headline, self.why = station, piece, headline, why


class _Walk:
    """One walk over the steps: where time stands, and how much of it was work."""

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self.hours = sheet.context.shop.hours
        self.zone = sheet.context.shop.air.zone
        self.now = sheet.context.build.starts
        self.held = ""
        self.work: dict[str, Given] = {}
        """Seconds of hands, step by step."""
        self.ends: dict[str, Given] = {}
        """When each step was done."""

    def task(self, name: str, piece: str, matter: Matter, start: datetime, end: datetime, done: str = "opens") -> None:
        if (end - self.sheet.context.build.starts).days > FARTHEST_DAYS:
            raise _Stopped(
                "shoot",
                piece,
                f"{name}: ends more than forty years on",
                ("Look at its hours, at the sizes and the scale.",),
            )
        if end > start:
            self.sheet.tasks.append(Task(name, piece, matter, start, end, done, self.held))
        self.now = end
        self.ends[f"{len(self.ends) + 1} {name}"] = Given(end, "moment", name, "forward plan")

    def hands(self, name: str, seconds: float) -> None:
        self.work[f"{len(self.work) + 1} {name}"] = Given(seconds, "duration", name, "forward plan")

    def labour(self, name: str, piece: str, seconds: float) -> None:
        start, end = work(self.now, seconds, self.hours)
        self.hands(name, seconds)
        self.task(name, piece, "labour", start, end)

    def step(self, step: Step) -> None:
        self.held = (
            ", ".join(unsigned(self.sheet.context.build.signoffs)) if isinstance(step, LayUp | PourRubber) else ""
        )
        match step:
            case Hands(name=name, hours=hours, hours_per_m2=rate, piece=piece):
                area = self._area(piece) if piece and rate else 0.0
                self.labour(name, piece, (hours + rate * area) * 3600)
            case Dry(name=name, hours=hours):
                self.task(name, "", "air_dry", self.now, later(self.now, hours * 3600, self.zone), "dry")
            case LayUp(piece=piece, hours_per_m2=rate):
                self._wait_for_signatures()
                self._lay_up(piece_of(self.sheet.context.build, piece), rate)
            case PourRubber(piece=piece):
                self._wait_for_signatures()
                self._pour(piece_of(self.sheet.context.build, piece))
            case CastCopies(piece=piece, hands_per_casting_h=hours):
                self._cast(piece_of(self.sheet.context.build, piece), hours)

    def _wait_for_signatures(self) -> None:
        """A mould is not begun before the day on which the last missing signature is expected."""
        build = self.sheet.context.build
        for signoff in build.signoffs:
            if signoff.at is None and signoff.expected:
                self.now = max(self.now, datetime.combine(signoff.expected, self.hours.opens))

    def _area(self, piece_id: str) -> float:
        form = form_of(self.sheet, piece_of(self.sheet.context.build, piece_id))
        return form.area / self.sheet.context.build.scale**2 if form else 0.0

    def _lay_up(self, piece: Piece, rate: float) -> None:
        area = self.sheet.find(specs.JACKET_AREA, piece.id)
        if area:
            self.labour(f"{piece.name}: jacket", piece.id, area.number * rate * 3600 * len(variants_of(piece)))
            card = self.sheet.context.cards.material(getattr(piece.mould, "laminate", ""))
            if card.demould_s:
                seconds = self._setting(piece, card, clock_of(card), card.demould_s.value, self.now, 0.0)
                self.task(f"{piece.name}: jacket", piece.id, "curing", self.now, later(self.now, seconds, self.zone))

    def _setting(
        self, piece: Piece, card: MaterialCard, clock: Clock, book: float, start: datetime, lag: float
    ) -> float:
        """Seconds that something takes to set; nothing behind it can be dated where it never does."""
        programme: Programme = self.sheet.context.programme
        room: float | None = None
        if card.clock_kind == "baked" and card.bake_c:
            room = _air_at(programme, start)
            programme = Constant(card.bake_c.value)
        seconds = clock.time(book=book, programme=programme, start=start, lag=lag, start_c=room)
        if not math.isfinite(seconds):
            raise _Stopped(
                "cure",
                piece.id,
                f"{piece.name}: will not cure here",
                _why_not(self.sheet, card, _air_at(self.sheet.context.programme, start)),
            )
        return seconds

    def _pour(self, piece: Piece) -> None:
        sheet, mould = self.sheet, piece.mould
        pouring, count = sheet.find(specs.POUR_TIME, piece.id), sheet.find(specs.BATCHES, piece.id)
        if mould is None or pouring is None or count is None:
            return
        card, subject = sheet.context.cards.material(mould.poured), sheet.subject(piece.id)
        if not count.value or pouring.number > day_length(self.hours) or count.number > 100_000:
            why: Phrase = ("No batch can be mixed before it gels. Cool the shop, or choose a slower material.",)
            if count.value:
                why = (
                    count,
                    " batches take ",
                    pouring,
                    ", longer than the shop is open. More hands, a larger vessel, or part it.",
                )
            raise _Stopped("mix", piece.id, f"{piece.name}: cannot be poured in one go", why)
        start, end = work_unbroken(self.now, pouring.number, self.hours)
        begun = start
        for _ in variants_of(piece)[1:]:  # a mould of its own for each
            start, end = work_unbroken(end, pouring.number, self.hours)
        self.hands(f"{piece.name}: rubber", pouring.number * len(variants_of(piece)))
        self.task(f"{piece.name}: rubber", piece.id, "wet", begun, end, "poured")
        if card.demould_s is None:
            return
        clock = mould_clock(card, mould, sheet.context.shop.air)
        poured = sheet.add(derive(specs.POURED, moment_after, subject, seconds=pouring,
                                  start=Given(start, "moment", "mixing starts", "forward plan")))  # fmt: skip
        self._setting(piece, card, clock, card.demould_s.value, end, mould.lag_s)
        cure = sheet.add(derive(specs.CURE, cure_time, subject, start=poured,
            book=card_given(card, card.demould_s, "duration", "demould, book"),
            clock=Given(clock, "thing", f"{clock.kinetics.law} from its card", card.name),
            programme=Given(sheet.context.programme, "thing", _air_words(sheet), "shop"),
            lag=Given(mould.lag_s, "duration", "mould's lag", piece.name, decided=True)))  # fmt: skip
        opens = sheet.add(
            derive(specs.OPENS, moment_after, subject, start=poured, seconds=cure, zone=self._zone_given())
        )
        assert isinstance(opens.value, datetime)
        self.task(f"{piece.name}: rubber", piece.id, "curing", end, opens.value)
        _mind_the_cold(sheet, piece, card, cure, opens, end)

    def _cast(self, piece: Piece, hands_h: float) -> None:
        card = self.sheet.context.cards.material(piece.material)
        wet_from: datetime | None = None
        moulds = castings_of(self.sheet, piece)
        clock = clock_of(card, thickness=self._thickness(piece), humidity=self.sheet.context.shop.air.humidity)
        lag = piece.mould.lag_s if piece.mould and card.clock_kind == "baked" else 0.0
        hands, now = 0.0, self.now
        if max(moulds, default=0) > MOST_TURNS:
            raise _Stopped("mould", piece.id, f"{piece.name}: more castings than can be planned one after another",
                           (f"{max(moulds)} from one mould. More moulds, or fewer copies.",))  # fmt: skip
        for turn in range(max(moulds, default=0)):
            filled = sum(1 for castings in moulds if castings > turn)  # each mould gives one casting a turn
            start, end = work_unbroken(now, hands_h * 3600 * filled, self.hours)
            wet_from = wet_from or start
            hands += hands_h * 3600 * filled
            seconds = self._setting(piece, card, clock, card.demould_s.value, end, lag) if card.demould_s else 0.0
            now = later(end, seconds, self.zone)
        if wet_from:
            self.hands(f"{piece.name}: castings", hands)
            self.task(
                f"{piece.name}: castings",
                piece.id,
                "oven" if card.clock_kind == "baked" else "curing",
                wet_from,
                now,
                "last out",
            )
            self.sheet.add(derive(specs.MOULD_TIME, between, self.sheet.subject(piece.id),
                first=Given(wet_from, "moment", "first casting", "forward plan"),
                last=Given(self.now, "moment", "last one out", "forward plan")))  # fmt: skip

    def _zone_given(self) -> Given:
        return (
            Given(self.zone, "text", "clocks change by", "shop")
            if self.zone
            else Given("", "text", "clocks do not change", "shop")
        )

    def _thickness(self, piece: Piece) -> float | None:
        """How thick a casting is [m]: its wall, or as deep as its form goes."""
        form = form_of(self.sheet, piece)
        return wall_of(piece) or (form.shell.inradius / self.sheet.context.build.scale if form else None)


def _air_at(programme: Programme, moment: datetime) -> float:
    return next(iter(programme.steps(moment)))[1]


def _why_not(sheet: Sheet, card: MaterialCard, room: float) -> Phrase:
    """What is in the way of a setting, and what would help."""
    here = Given(room, "temperature", "here")
    if card.clock_kind == "gelled":
        return (f"{card.name} stays liquid at ", here, ". Cool the bench.")
    if card.clock_kind in ("dried", "moisture") and not card.least_c:
        return (
            f"{card.name} does not dry in air of ",
            Given(sheet.context.shop.air.humidity, "share", "humidity"),
            " humidity.",
        )
    least = f", below {card.least_c.value:g} °C it stands still" if card.least_c else ""
    return (f"{card.name} needs more than 60 days at ", here, f"{least}. Warm the room.")


def _air_words(sheet: Sheet) -> str:
    air = sheet.context.shop.air
    return f"shop {air.day_c:g} °C by day, {air.night_c:g} °C by night"


def _mind_the_cold(
    sheet: Sheet, piece: Piece, card: MaterialCard, cure: Figure, opens: Figure, poured: datetime
) -> None:
    """Say when the cold stretches a cure by more than an hour, and name the temperature that did most of it."""
    if card.demould_s is None or not math.isfinite(cure.number):
        return
    book = card.demould_s.value
    if cure.number <= 1.15 * book or cure.number - book < 3600:
        return
    celsius = slowest(kinetics_of(card), sheet.context.programme, poured, cure.number)
    air = sheet.context.shop.air
    when = " at night" if celsius == air.night_c != air.day_c else " by day" if air.night_c != air.day_c else ""
    by_book = Given(poured + timedelta(seconds=book), "moment", "by the book")
    did_it = Given(celsius, "temperature", "shop", "shop")
    sheet.minds.append(Mind("mind", "cure", sheet.subject(piece.id),
        (f"Cold{when}: opens ", opens), (f"{piece.name[:1].upper()}{piece.name[1:]}; by the book ", by_book, ". ", did_it,
         f"{when} stretches ", Given(book, "duration", "book"), " to ", cure, "."), 2.0))  # fmt: skip


def plan_shoot(sheet: Sheet) -> None:
    """Walk the steps of the ``sheet``'s build and derive opening times, ready time and slack."""
    walk, build, hours = _Walk(sheet), sheet.context.build, sheet.context.shop.hours
    stopped: _Stopped | None = None
    try:
        for step in build.steps:
            walk.step(step)
    except _Stopped as trouble:  # nothing behind it is dated
        stopped = trouble
    _headline_cure(sheet)
    if not build.steps:
        return
    subject = sheet.subject()
    if stopped is not None:
        sheet.minds.append(
            Mind("danger", stopped.station, sheet.subject(stopped.piece), (stopped.headline,), stopped.why, 12.0)
        )
        sheet.headlines.append(Headline("shoot", Given("held", "text", "ready"), (stopped.headline,)))
        return
    given_hours = Given(hours, "thing", f"shop hours {show_clock(hours.opens)} to {show_clock(hours.closes)}", "shop")
    sheet.add(derive(specs.HANDS, hands_time, subject, **walk.work))
    begins = Given(build.starts, "moment", "work may begin", build.name, decided=True)
    ready = sheet.add(derive(specs.READY, ready_moment, subject, **{"0 begins": begins}, **walk.ends))
    if not sheet.context.shots:
        sheet.headlines.append(Headline("shoot", ready, ("ready; in no shot",)))
        return
    shot = sheet.context.shots[0]
    calls = {f"shot {s.id}": Given(datetime.combine(s.day, s.call), "moment", f"call of shot {s.id}", s.name)
             for s in sheet.context.shots}  # fmt: skip
    due = sheet.add(derive(specs.DUE, first_call, subject, **calls))
    slack = sheet.add(derive(specs.SLACK, slack_days, subject, ready=ready, due=due, hours=given_hours))
    sheet.headlines.append(Headline("shoot", Given(shot.day, "day", "first shoot day", shot.name), (slack, " slack")))
    if slack.number < 0:
        sheet.minds.append(Mind("danger", "shoot", subject, ("Late by ",
            Given(f"{-slack.number:.1f} d", "text", "late")), ("Ready ", ready, ", due ", due, "."), 10.0 - slack.number))  # fmt: skip
    elif slack.number < 1:
        sheet.minds.append(Mind("mind", "shoot", subject, (f"{build.name} has ", slack, " slack"),
            ("Ready ", ready, ", due ", due, ". One spoiled pour would make it late.",), 4.0))  # fmt: skip


def _headline_cure(sheet: Sheet) -> None:
    cures = [f for f in sheet.figures if f.spec is specs.CURE]
    if cures:
        longest = max(cures, key=lambda f: f.number)
        opens = sheet.find(specs.OPENS, longest.subject.piece)
        sheet.headlines.append(Headline("cure", longest, ("opens ", opens) if opens else ()))
