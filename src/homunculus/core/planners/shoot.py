"""When a build and each of its pieces is ready, by which shot it is needed, and how much is left between."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from homunculus.core import specs
from homunculus.core.cure.kinetics import kinetics_of, moment_after, slowest
from homunculus.core.figures import Figure, Given, derive, rule
from homunculus.core.job.operations import AnyOperation, Cast, LayUp, Pour
from homunculus.core.job.shop import ShopHours
from homunculus.core.making.contacts import contact
from homunculus.core.plan.build_plan import BuildSheet, Headline, PlannedPour
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.route import ASSEMBLY, Key, Walk, tasks, walk, windows_missed
from homunculus.core.planners.scale import on_the_figure
from homunculus.core.planners.setting import Stopped
from homunculus.core.schedule.calendar import day_length, working_time
from homunculus.core.schedule.graph import CannotBe
from homunculus.core.showing import show_clock


@rule(
    "the end of the last step; hands in shop hours, cures through the night",
    "forward pass over the graph of what waits for what",
)
def ready_moment(**steps: datetime) -> datetime:
    """Moment at which the last of the ``steps`` is done; each is the end of one operation."""
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


@rule("sum of the operations", "arithmetic")
def hands_time(**steps: float) -> float:
    """Working time [s] of all ``steps``."""
    return sum(steps.values())


@rule("the least of the figure's and of those of its pieces", "arithmetic")
def least_slack(**slacks: float) -> float:
    """The least of all ``slacks`` [shop days]: one that is late makes the build late."""
    return min(slacks.values())


def plan_shoot(sheet: BuildSheet) -> None:
    """Place the operations of the ``sheet``'s build and derive opening times, ready times and slack."""
    build = sheet.context.build
    if not (build.assembly or any(piece.route for piece in build.pieces)):
        return
    needed = _needed(sheet)
    walked = walk(sheet, {whose: min(calls.values()).value for whose, calls in needed.items() if calls})
    sheet.tasks += tasks(sheet, walked)
    _derive_settings(sheet, walked)
    _derive_work(sheet, walked)
    _headline_cure(sheet)
    _mind_windows(sheet, walked)
    _mind_contacts(sheet, walked)
    stops = list(walked.stops())
    for key, trouble in stops:
        _mind_the_stop(sheet, walked, key, trouble)
    _derive_ready(sheet, walked, needed, stopped=bool(stops))


def _needed(sheet: BuildSheet) -> dict[str, dict[str, Given]]:
    """The calls of the shots that need each piece, and under :data:`ASSEMBLY` those that need the figure.

    A shot that names a piece of the figure needs it put together; of what is no part of it, an insert, it needs that alone.
    """
    build = sheet.context.build
    on_it = {piece.id for piece in build.pieces if on_the_figure(piece)}
    found: dict[str, dict[str, Given]] = {ASSEMBLY: {}, **{piece.id: {} for piece in build.pieces}}
    for shot in sheet.context.shots:
        call = Given(datetime.combine(shot.day, shot.call), "moment", f"call of shot {shot.id}", shot.name)
        for use in shot.uses:
            if use.build == build.id:
                named = [name for name in use.pieces if name in found] or [piece.id for piece in build.pieces]
                for whose in (*named, *((ASSEMBLY,) if not use.pieces or on_it & set(named) else ())):
                    found[whose][f"shot {shot.id}"] = call
    return found


def _mind_the_stop(sheet: BuildSheet, walked: Walk, key: Key, trouble: CannotBe) -> None:
    op = walked.operations[key][1]
    if not isinstance(trouble, Stopped):
        trouble = Stopped("shoot", key[0], f"{op.called}: ends more than forty years on",
                          ("Look at its hours, at the sizes and the scale.",))  # fmt: skip
    if not any(m.headline == (trouble.headline,) for m in sheet.minds):
        sheet.minds.append(
            Mind("danger", trouble.station, sheet.subject(trouble.piece), (trouble.headline,), trouble.why, 12.0)
        )
    if not any(h.station == "shoot" for h in sheet.headlines):
        sheet.headlines.append(Headline("shoot", Given("held", "text", "ready"), (trouble.headline,)))


def _derive_settings(sheet: BuildSheet, walked: Walk) -> None:
    """When each pour of a mould and each lay-up is in, how long it sets and when it opens; when the castings have left their moulds."""
    for pour in sheet.pours:
        done = walked.done(pour.key) if pour.key in walked.operations else []
        if not done:
            continue
        op = walked.operations[pour.key][1]
        if isinstance(op, Cast):
            sheet.add(derive(specs.MOULD_TIME, between, sheet.subject(pour.piece),
                first=Given(done[0].start, "moment", "first casting", "forward plan"),
                last=Given(done[-1].end, "moment", "last one out", "forward plan")))  # fmt: skip
        _derive_opening(sheet, pour, op, done[-1].left)
    for piece in sheet.context.build.pieces:
        ends = {f"{op.id}": Given(walked.done((piece.id, op.id))[-1].end, "moment", op.called, "forward plan")
                for op in piece.route if op.loop == "mould" and walked.done((piece.id, op.id))}  # fmt: skip
        if ends and piece.mould:
            sheet.add(derive(specs.MOULD_DONE, ready_moment, sheet.subject(piece.id), **ends))


def _derive_opening(sheet: BuildSheet, pour: PlannedPour, op: AnyOperation, left: datetime) -> None:
    subject, zone = sheet.subject(pour.piece, op=pour.op), sheet.context.shop.air.zone
    poured, cure = sheet.find_of(specs.POURED, subject), sheet.find_of(specs.CURE, subject)
    if poured is None or cure is None:
        return
    opens = sheet.add(derive(specs.OPENS, moment_after, subject, start=poured, seconds=cure,
        zone=Given(zone, "text", "clocks change by" if zone else "clocks do not change", "shop")))  # fmt: skip
    if isinstance(op, Pour):
        _mind_the_cold(sheet, pour, cure, opens, left)


def _derive_work(sheet: BuildSheet, walked: Walk) -> None:
    found = (sheet.find(specs.WORK, whose, op=name) for whose, name in walked.operations)
    work = {f"{i} {f.subject.op}": f for i, f in enumerate(filter(None, found), 1)}
    sheet.add(derive(specs.HANDS, hands_time, sheet.subject(), **work))


def _derive_ready(sheet: BuildSheet, walked: Walk, needed: dict[str, dict[str, Given]], *, stopped: bool) -> None:
    """Derive when each piece and the figure is ready, is due, and what lies between."""
    build, hours = sheet.context.build, sheet.context.shop.hours
    given_hours = Given(hours, "thing", f"shop hours {show_clock(hours.opens)} to {show_clock(hours.closes)}", "shop")
    ends = _ends(walked)
    slacks: dict[str, Figure] = {}
    for piece in build.pieces:
        mine = {op.id: ends[piece.id, op.id] for op in piece.route if (piece.id, op.id) in ends}
        if not mine or len(mine) < len(piece.route):
            continue
        ready = sheet.add(derive(specs.PIECE_READY, ready_moment, sheet.subject(piece.id), **mine))
        if calls := needed[piece.id]:
            due = sheet.add(derive(specs.PIECE_DUE, first_call, sheet.subject(piece.id), **calls))
            slacks[piece.name] = sheet.add(
                derive(specs.PIECE_SLACK, slack_days, sheet.subject(piece.id), ready=ready, due=due, hours=given_hours)
            )
    if stopped:
        return
    subject, begins = sheet.subject(), Given(build.starts, "moment", "work may begin", build.name, decided=True)
    everything = {f"{i} {whose or 'figure'} {name}": end for i, ((whose, name), end) in enumerate(ends.items(), 1)}
    ready = sheet.add(derive(specs.READY, ready_moment, subject, **{"0 begins": begins}, **everything))
    calls = {name: call for shots in needed.values() for name, call in shots.items()}
    if not calls:
        sheet.headlines.append(Headline("shoot", ready, ("ready; in no shot",)))
        return
    due = sheet.add(derive(specs.DUE, first_call, subject, **calls))
    on_it = {ASSEMBLY, *(piece.id for piece in build.pieces if on_the_figure(piece))}
    figure = {f"{i} {name}": end for i, ((whose, name), end) in enumerate(ends.items(), 1) if whose in on_it}
    if needed[ASSEMBLY]:
        whole = derive(specs.READY, ready_moment, subject, **{"0 begins": begins}, **figure)
        first = derive(specs.DUE, first_call, subject, **needed[ASSEMBLY])
        slacks["the figure"] = derive(specs.SLACK, slack_days, subject, ready=whole, due=first, hours=given_hours)
    if not slacks:
        slacks["the whole"] = derive(specs.SLACK, slack_days, subject, ready=ready, due=due, hours=given_hours)
    slack = sheet.add(derive(specs.SLACK, least_slack, subject, **slacks))
    shot = sheet.context.shots[0]
    sheet.headlines.append(Headline("shoot", Given(shot.day, "day", "first shoot day", shot.name), (slack, " slack")))
    late = min(slacks.values(), key=lambda f: f.number)
    _mind_the_slack(sheet, slack, dict(late.inputs)["ready"], dict(late.inputs)["due"])


def _ends(walked: Walk) -> dict[Key, Given]:
    found = {}
    for key, (piece, op) in walked.operations.items():
        if done := walked.done(key):
            name = f"{piece.name}: {op.called}" if piece else op.called
            found[key] = Given(
                done[-1].end, "moment", name, f"forward plan{', after ' + done[-1].waited if done[-1].waited else ''}"
            )
    return found


def _mind_the_slack(sheet: BuildSheet, slack: Figure, ready: Figure | Given, due: Figure | Given) -> None:
    subject, name = sheet.subject(), sheet.context.build.name
    if slack.number < 0:
        sheet.minds.append(Mind("danger", "shoot", subject, ("Late by ",
            Given(f"{-slack.number:.1f} d", "text", "late")), ("Ready ", ready, ", due ", due, "."), 10.0 - slack.number))  # fmt: skip
    elif slack.number < 1:
        sheet.minds.append(Mind("mind", "shoot", subject, (f"{name} has ", slack, " slack"),
            ("Ready ", ready, ", due ", due, ". One spoiled pour would make it late.",), 4.0))  # fmt: skip


def _mind_windows(sheet: BuildSheet, walked: Walk) -> None:
    for key, before, over in windows_missed(walked):
        (piece, op), other = walked.operations[key], walked.operations[before][1]
        whose = f"{piece.name}: " if piece else ""
        sheet.minds.append(Mind("mind", "shoot", sheet.subject(key[0], op=op.id), (f"{whose}{op.called} comes too late",),
            (f"After “{other.called}” it is begun ", Given(over, "duration", "too late"), " later than it may be. More hands, or another order.",), 5.0))  # fmt: skip


def _mind_contacts(sheet: BuildSheet, walked: Walk) -> None:
    """Say what must not meet: what an operation touches by its own word, and halves that are poured against each other."""
    materials = {card.id: card for card in sheet.context.cards.materials}
    for pour in sheet.pours:
        op = walked.operations.get(pour.key, (None, None))[1]
        if op is None:
            continue
        touched = [materials[op.onto]] if op.onto in materials else []
        if isinstance(op, Pour | LayUp) and _has_one_before(walked, pour.key, type(op)):
            touched.append(pour.card)
        for other in touched:
            if found := contact(pour.card, other, op.release):
                sheet.minds.append(Mind(found.level, "mould", sheet.subject(pour.piece, op=pour.op),
                    (f"{pour.name}: {found.headline}",), (found.why,), 8.0))  # fmt: skip
                break


def _has_one_before(walked: Walk, key: Key, kind: type) -> bool:
    piece = walked.operations[key][0]
    return piece is not None and next((op.id for op in piece.route if type(op) is kind), key[1]) != key[1]


def _headline_cure(sheet: BuildSheet) -> None:
    """The longest setting of a mould speaks for all."""
    moulds = {pour.key for pour in sheet.pours if pour.of == "mould"}
    cures = [f for f in sheet.figures if f.spec is specs.CURE and (f.subject.piece, f.subject.op) in moulds]
    if cures:
        longest = max(cures, key=lambda f: f.number)
        opens = sheet.find_of(specs.OPENS, longest.subject)
        sheet.headlines.append(Headline("cure", longest, ("opens ", opens) if opens else ()))


def _mind_the_cold(sheet: BuildSheet, pour: PlannedPour, cure: Figure, opens: Figure, poured: datetime) -> None:
    """Say when the cold stretches a cure by more than an hour, and name the temperature that did most of it."""
    card = pour.card
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
    sheet.minds.append(Mind("mind", "cure", sheet.subject(pour.piece, op=pour.op),
        (f"Cold{when}: opens ", opens), (f"{pour.name[:1].upper()}{pour.name[1:]}; by the book ", by_book, ". ", did_it,
         f"{when} stretches ", Given(book, "duration", "book"), " to ", cure, "."), 2.0))  # fmt: skip
