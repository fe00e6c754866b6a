"""The forward plan of one build: its steps in shop hours, its cures through the night, to a ready time."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from homunculus.core import specs
from homunculus.core.cards import MaterialCard
from homunculus.core.counts import unsigned
from homunculus.core.cure.kinetics import cure_time, kinetics_of, moment_after, time_to_cure
from homunculus.core.figures import Figure, Given, derive, rule
from homunculus.core.job import CastCopies, Dry, Hands, LayUp, Piece, PourRubber, ShopHours, Step, piece_of
from homunculus.core.plan_types import Headline, Matter, Mind, Sheet, Task, card_given
from homunculus.core.schedule.calendar import day_length, work, work_unbroken, working_time
from homunculus.core.stages.count import castings_of, variants_of
from homunculus.core.stages.scale import form_of


@rule("last step done, in shop hours, cures through the night", "forward pass, one step after another")
def ready_moment(*, last: datetime, hours: ShopHours) -> datetime:
    """Moment at which the ``last`` step is done; what cures at night counts as ready when it is.

    ``hours`` are the shop's.
    """
    return last


@rule("working time from ready to due / one shop day", "the shop's hours")
def slack_days(*, ready: datetime, due: datetime, hours: ShopHours) -> float:
    """Days of shop ``hours`` between ``ready`` and ``due``; negative when late."""
    return working_time(ready, due, hours) / day_length(hours)


@rule("last − first", "arithmetic")
def between(*, first: datetime, last: datetime) -> float:
    """Time [s] from the ``first`` moment to the ``last``."""
    return (last - first).total_seconds()


@rule("sum of the steps", "arithmetic")
def hands_time(*, seconds: float) -> float:
    """Working time [s] of all steps: their ``seconds``."""
    return seconds


class _Walk:
    """One walk over the steps: where time stands, and how much of it was work."""

    def __init__(self, sheet: Sheet) -> None:
        self.sheet = sheet
        self.hours = sheet.context.shop.hours
        self.now = sheet.context.build.starts
        self.held = ""
        self.hands = 0.0

    def task(self, name: str, piece: str, matter: Matter, start: datetime, end: datetime, done: str = "opens") -> None:
        if end > start:
            self.sheet.tasks.append(Task(name, piece, matter, start, end, done, self.held))
        self.now = end

    def labour(self, name: str, piece: str, seconds: float) -> None:
        start, end = work(self.now, seconds, self.hours)
        self.hands += seconds
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
                self.task(name, "", "air_dry", self.now, self.now + timedelta(hours=hours), "dry")
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
            laminate = getattr(piece.mould, "laminate", "")
            self._cure(piece, self.sheet.context.cards.material(laminate), f"{piece.name}: jacket", 0.0)

    def _cure(self, piece: Piece, card: MaterialCard, name: str, lag: float) -> float:
        """Let a material cure from now on; where it has no cure, nothing happens."""
        if card.demould_s is None:
            return 0.0
        seconds = time_to_cure(needed=card.demould_s.value, kinetics=kinetics_of(card), lag=lag,
                               programme=self.sheet.context.programme, start=self.now)  # fmt: skip
        self.task(name, piece.id, "curing", self.now, self.now + timedelta(seconds=min(seconds, 366 * 86400)))
        return seconds

    def _pour(self, piece: Piece) -> None:
        sheet, mould = self.sheet, piece.mould
        pouring = sheet.find(specs.POUR_TIME, piece.id)
        if mould is None or pouring is None:
            return
        card, subject = sheet.context.cards.material(mould.poured), sheet.subject(piece.id)
        start, end = work_unbroken(self.now, pouring.number, self.hours)
        begun = start
        for _ in variants_of(piece)[1:]:  # a mould of its own for each
            start, end = work_unbroken(end, pouring.number, self.hours)
        self.hands += pouring.number * len(variants_of(piece))
        self.task(f"{piece.name}: rubber", piece.id, "wet", begun, end, "poured")
        if card.demould_s is None:
            return
        poured = sheet.add(derive(specs.POURED, moment_after, subject, seconds=pouring,
                                  start=Given(start, "moment", "mixing starts", "forward plan")))  # fmt: skip
        cure = sheet.add(derive(specs.CURE, cure_time, subject, start=poured,
            book=card_given(card, card.demould_s, "duration", "demould, book"),
            kinetics=Given(kinetics_of(card), "thing", f"{kinetics_of(card).law} from its card", card.name),
            programme=Given(sheet.context.programme, "thing", _air_words(sheet), "shop"),
            lag=Given(mould.lag_s, "duration", "mould's lag", piece.name, decided=True)))  # fmt: skip
        opens = sheet.add(derive(specs.OPENS, moment_after, subject, start=poured, seconds=cure))
        assert isinstance(opens.value, datetime)
        self.task(f"{piece.name}: rubber", piece.id, "curing", end, opens.value)
        _mind_the_cold(sheet, piece, card, cure, opens, end)

    def _cast(self, piece: Piece, hands_h: float) -> None:
        card = self.sheet.context.cards.material(piece.material)
        first, wet_from = self.now, None
        moulds = castings_of(self.sheet, piece)
        for turn in range(max(moulds, default=0)):
            filled = sum(1 for castings in moulds if castings > turn)  # each mould gives one casting a turn
            start, end = work_unbroken(self.now, hands_h * 3600 * filled, self.hours)
            wet_from = wet_from or start
            self.hands += hands_h * 3600 * filled
            seconds = 0.0
            if card.demould_s:
                seconds = time_to_cure(needed=card.demould_s.value, kinetics=kinetics_of(card), lag=0.0,
                                       programme=self.sheet.context.programme, start=end)  # fmt: skip
            self.now = end + timedelta(seconds=min(seconds, 366 * 86400))
        if wet_from:
            self.task(f"{piece.name}: castings", piece.id, "curing", wet_from, self.now, "last out")
            self.sheet.add(derive(specs.MOULD_TIME, between, self.sheet.subject(piece.id),
                first=Given(wet_from, "moment", "first casting", "forward plan"),
                last=Given(self.now, "moment", "last one out", "forward plan")))  # fmt: skip
        else:
            self.now = first


def _air_words(sheet: Sheet) -> str:
    air = sheet.context.shop.air
    return f"shop {air.day_c:g} °C by day, {air.night_c:g} °C by night"


def _mind_the_cold(
    sheet: Sheet, piece: Piece, card: MaterialCard, cure: Figure, opens: Figure, poured: datetime
) -> None:
    if card.demould_s is None:
        return
    book = card.demould_s.value
    if not math.isfinite(cure.number):
        sheet.minds.append(Mind("danger", "cure", sheet.subject(piece.id), (f"{piece.name}: too cold to cure",),
            (f"{card.name} stands still at the shop's temperature. Warm the room.",), 6.0))  # fmt: skip
    elif cure.number > 1.15 * book:
        by_book = Given(poured + timedelta(seconds=book), "moment", "by the book")
        night = Given(sheet.context.shop.air.night_c, "temperature", "night", "shop")
        sheet.minds.append(Mind("mind", "cure", sheet.subject(piece.id),
            ("Cold night: opens ", opens), (f"{piece.name[:1].upper()}{piece.name[1:]}; by the book ", by_book, ". ", night,
             " at night stretches ", Given(book, "duration", "book"), " to ", cure, "."), 2.0))  # fmt: skip


def plan_shoot(sheet: Sheet) -> None:
    """Walk the steps of the ``sheet``'s build and derive opening times, ready time and slack."""
    walk, build, hours = _Walk(sheet), sheet.context.build, sheet.context.shop.hours
    for step in build.steps:
        walk.step(step)
    _headline_cure(sheet)
    if not build.steps:
        return
    subject = sheet.subject()
    given_hours = Given(hours, "thing", f"shop hours {hours.opens:%H:%M} to {hours.closes:%H:%M}", "shop")
    sheet.add(derive(specs.HANDS, hands_time, subject, seconds=Given(walk.hands, "duration", "all steps", build.name)))
    ready = sheet.add(derive(specs.READY, ready_moment, subject, hours=given_hours,
                             last=Given(walk.now, "moment", "last step done", "forward plan")))  # fmt: skip
    if not sheet.context.shots:
        sheet.headlines.append(Headline("shoot", ready, ("ready; in no shot",)))
        return
    shot = sheet.context.shots[0]
    call = Given(datetime.combine(shot.day, shot.call), "moment", "call", shot.name)
    due = sheet.add(derive(specs.DUE, moment_after, subject, start=call, seconds=Given(0.0, "duration", "lead")))
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
