"""What is true now, and what moved."""

from datetime import date, datetime, timedelta

import pytest
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.camera.frame_rate import gravity_rate as RULE
from homunculus.core.edits.decisions import decide, find_decision, replace_build
from homunculus.core.figures import Figure, FigureSpec, Subject
from homunculus.core.log import Book, LogEvent, standing
from homunculus.core.plan.ledger import Moved, moved, short_pair
from homunculus.core.plan.status import (
    Promise,
    measured_air,
    minds_now,
    next_step,
    opens_now,
    pour_at_hand,
    pour_state,
    station_states,
    status,
)
from homunculus.core.session import Session


def poured(now, hours_ago, build="lighthouse", piece="gallery", kind="poured", id="p", op=""):
    return LogEvent(id, now - timedelta(hours=hours_ago), kind, build=build, piece=piece, op=op)


def state(session, log, now, build="lighthouse"):
    return status(session.plan(), tuple(log), now).states[build]


def test_a_pour_is_wet_then_set_then_firm_until_it_is_opened(session, now):
    for hours, word in ((0.2, "wet"), (3.0, "set"), (40.0, "firm")):
        assert state(session, [poured(now, hours)], now) == word
    both = [poured(now, 90), poured(now, 60, kind="opened", id="o"), poured(now, 40, id="q", op="rubber-2")]
    assert state(session, both[:2], now) == "firm", "the other half is to be poured"
    assert state(session, [*both, poured(now, 1, kind="opened", id="r", op="rubber-2")], now) == "ready"
    assert state(session, [poured(now, 40), poured(now, 1, kind="spoiled", id="s")], now) == "broken"
    assert state(session, [], now) == "none"


def test_of_several_coats_in_one_mould_the_last_says_when_it_opens(session, now):
    log = (poured(now, 9, id="coat"), poured(now, 1, id="fill"))
    bars = [b for b in status(session.plan(), log, now).bars if not b.planned]
    (alone,) = [b for b in status(session.plan(), log[1:], now).bars if not b.planned]
    assert bars == [alone]


SECOND = timedelta(seconds=1)


def test_what_a_pour_is_turns_at_the_moment_of_its_gel_and_of_its_opening(session, now):
    plan, made = session.plan(), session.plan().build("lighthouse")
    entry, pour = poured(now, 0), made.pour("gallery", "rubber-1")

    def told(moment, *more):
        true = status(plan, (entry, *more), moment)
        return true.states["lighthouse"], pour_state(pour, Book((entry, *more)), true)

    (bar,) = [b for b in status(plan, (entry,), now).bars if not b.planned]
    assert bar.start < bar.gels < bar.opens == bar.end
    assert told(now) == ("wet", "wet"), "an entry of this moment counts"
    assert told(now - SECOND) == ("none", "none")
    assert (told(bar.gels - SECOND), told(bar.gels)) == (("wet", "wet"), ("set", "set"))
    assert (told(bar.opens - SECOND), told(bar.opens)) == (("set", "set"), ("firm", "firm"))
    opened = LogEvent("o", bar.opens, "opened", "", "lighthouse", "gallery")
    assert told(bar.opens, opened)[1] == "ready"

    def there(moment):
        return [b.ended for b in status(plan, (entry, opened), moment).bars if b.op == "rubber-1" and not b.planned]

    assert there(bar.opens) == there(bar.opens + timedelta(hours=2)) == [True]
    assert there(bar.opens + timedelta(hours=2) + SECOND) == [], "what ended two hours ago is past"


def test_a_mould_of_several_pours_is_firm_when_all_may_be_opened_and_wet_while_one_is(session, now):
    first, last = poured(now, 40), poured(now, 0, id="q", op="rubber-2")
    assert state(session, [first, last], now) == "wet"
    assert state(session, [first, last], now + timedelta(hours=3)) == "set"
    assert state(session, [first, last], now + timedelta(hours=40)) == "firm"
    true = status(session.plan(), (first, last), now)
    made = session.plan().build("lighthouse")
    opens = [b.opens for b in true.bars if not b.planned]
    assert opens_now(made, true) == max(opens) > min(opens)
    assert opens_now(session.plan().build("ferry"), true) is None
    assert next_step(made, Book((first, last)), true)[:3] == ("opened", "gallery", "rubber-1"), "what opens first"


def test_a_build_is_on_set_from_the_moment_that_it_is_due(session, now):
    made = session.plan().build("keeper")
    due = made.find(specs.DUE).value
    log = (poured(now, 40, "keeper", "cheek"), poured(now, 1, "keeper", "cheek", "opened", "o"))
    assert [status(session.plan(), log, due - back).states["keeper"] for back in (SECOND, 0 * SECOND)] == [
        "ready",
        "onset",
    ]
    spoiled = LogEvent("s", now, "spoiled", "", "keeper", "cheek")
    assert state(session, (*log, spoiled), now, "keeper") == "broken", "the last of what ended says"
    claw, crab = poured(now, 2, "oldclaw", "claw", "spoiled"), poured(now, 1, "oldclaw", "crab", "opened", "o")
    assert state(session, (claw, crab), now, "oldclaw") == "firm"
    assert state(session, (claw, replace(crab, at=claw.at - SECOND)), now, "oldclaw") == "broken"
    again = replace(log[1], id="o2", at=now + SECOND)
    assert state(session, (*log, spoiled, again), now + SECOND, "keeper") == "ready"


def test_nothing_is_shown_that_begins_in_more_than_two_days_and_no_flag_after_the_last_shoot_day(session):
    (start,) = [t.start for t in session.plan().build("ferry").tasks if (t.op, t.matter) == ("rubber-1", "wet")]

    def shown(moment):
        return ("hull", "rubber-1") in {(b.piece, b.op) for b in status(session.plan(), (), moment).bars}

    assert not shown(start - timedelta(hours=48))
    assert shown(start - timedelta(hours=48) + SECOND)
    last = session.plan().shoot_days[-1]
    evening = datetime.combine(last, datetime.min.time()) + timedelta(hours=23)
    flags = [status(session.plan(), (), moment) for moment in (evening, evening + timedelta(hours=1))]
    assert [(f.first_flag, f.bench_days) for f in flags] == [(last, 0), (None, 0)]


def test_what_was_told_of_the_air_holds_for_an_hour(session, now):
    told = Book([LogEvent("t", now, "poured", celsius=17.5)])
    usual = session.job.shop.air.day_c
    assert [measured_air(session.job, told, now + timedelta(minutes=m)) for m in (60, 61)] == [17.5, usual]


@pytest.mark.parametrize(("late", "minded"), [(3600, False), (3601, True), (-7200, False)])
def test_an_opening_is_minded_when_it_is_more_than_an_hour_late(now, late, minded):
    poured, opened = (LogEvent(i, now, kind) for i, kind in (("p", "poured"), ("o", "opened")))
    promise = Promise(poured, opened, now - timedelta(seconds=late), now - timedelta(seconds=90))
    assert (promise.late_s, promise.minded, promise.off_s) == (late, minded, 90.0)


def test_a_pour_is_done_when_it_was_made_as_often_as_it_is_to_be(session, now):
    made = session.plan().build("tidewife")
    skin = made.pour("body", "skin")
    assert (skin.times, skin.coats) == (2, 4)
    log = [poured(now, 100 + i, "tidewife", "body", id=f"p{i}", op="skin") for i in range(8)]
    opened = poured(now, 0, "tidewife", "body", "opened", "o", "skin")
    told = [pour_state(skin, Book(part), status(session.plan(), part, now))
            for part in ((*log[1:], opened), (*log, opened), (*log, opened, replace(opened, id="s", kind="spoiled")))]  # fmt: skip
    assert told == ["none", "ready", "none"]
    jacket = session.plan().build("ferry").pour("hull", "jacket-1")
    again = [
        poured(now, 9 - i, "ferry", "hull", kind, str(i), "jacket-1")
        for i, kind in enumerate(("poured", "spoiled", "poured", "opened"))
    ]
    assert [pour_state(jacket, Book(again[:n]), status(session.plan(), again[:n], now)) for n in (2, 4)] == [
        "none",
        "ready",
    ]


def test_the_pour_at_hand_is_what_sets_else_the_next_else_the_last(session, now):
    made = session.plan().build("ferry")

    def at_hand(*log, piece="hull"):
        true = status(session.plan(), log, now)
        pour = pour_at_hand(made, Book(log), true, piece)
        return pour and pour.op

    done = [poured(now, 200 - i, "ferry", "hull", kind, f"{kind}{op}", op)
            for op in ("jacket-1", "jacket-2", "rubber-1", "rubber-2", "castings") for i, kind in enumerate(("poured", "opened"))]  # fmt: skip
    assert [at_hand(*done[: 2 * n]) for n in range(6)] == [
        "jacket-1",
        "jacket-2",
        "rubber-1",
        "rubber-2",
        "castings",
        "castings",
    ]
    assert at_hand(poured(now, 1, "ferry", "hull", op="rubber-2")) == "rubber-2"
    assert at_hand(poured(now, 1, "oldclaw", "hull", op="rubber-2")) == "jacket-1"
    assert at_hand(piece="wheelhouse") is None


def test_the_next_step_names_who_has_not_signed_and_what_opens_first(session, now):
    def step(name, *log, of=session, at=now):
        return next_step(of.plan().build(name), Book(log), status(of.plan(), log, at))

    unsigned = "crab: jacket, first half laid up, though rights not signed"
    assert step("oldclaw").words == unsigned
    build = session.job.build("oldclaw")
    both = replace(build, signoffs=tuple(replace(s, at=None, by="") for s in build.signoffs))
    edited = Session(replace_build(session.job, both), session.facts)
    assert step("oldclaw", of=edited).words == unsigned.replace("rights", "design and rights")
    bare = replace(build, pieces=tuple(replace(piece, route=()) for piece in build.pieces))
    edited = Session(replace_build(session.job, bare), session.facts)
    assert step("oldclaw", of=edited) == ("poured", "crab", "", "crab: rubber poured, though rights not signed")
    first = min(bar.start for bar in session.plan().build("oldclaw").bars)
    assert step("oldclaw", at=first + SECOND).kind == "poured", "what is planned cures nowhere yet"
    late = poured(now, 90, "oldclaw", "claw", id="a"), poured(now, 60, "oldclaw", "crab", id="b")
    assert step("oldclaw", *late)[:2] == ("opened", "claw"), "what has waited longest"


def test_what_a_plan_minds_of_a_cure_is_past_once_the_pour_is_in(session, now):
    made = session.plan().build("oldclaw")

    def minded(*log):
        return {m.subject.piece for m in minds_now(made, status(session.plan(), log, now)) if m.station == "cure"}

    wet = poured(now, 1, "oldclaw", "crab")
    others = [m for m in made.minds if m.station != "cure"]
    assert minded() == {"crab", "claw"}
    assert minded(wet) == {"claw"}
    assert [m for m in minds_now(made, status(session.plan(), (wet,), now)) if m.station != "cure"] == others
    assert minded(replace(wet, build="ferry", piece="crab")) == {"crab", "claw"}
    assert minded(wet, poured(now, 0.5, "oldclaw", "crab", "spoiled", "s")) == {"crab", "claw"}


def test_an_entry_that_is_corrected_no_longer_counts(session, now):
    wrong = poured(now, 0.2, id="wrong")
    right = LogEvent("right", now, "correction", "that was the ferry", corrects="wrong")
    assert standing((wrong, right)) == ()
    again = LogEvent("again", now, "note", "poured for the ferry", corrects="wrong")
    assert [e.id for e in standing((wrong, again))] == ["again"]
    assert state(session, [wrong, right], now) == "none"


def test_entries_of_tomorrow_do_not_count_today(session, now):
    assert state(session, [poured(now, -5)], now) == "none"


def test_a_measured_cold_night_moves_the_prediction(session, now):
    pour = poured(now, 16)
    cold = LogEvent("c", now - timedelta(hours=15), "measured", celsius=9.0, until=now - timedelta(hours=1))
    usual, late = (
        next(b for b in status(session.plan(), log, now).bars if not b.planned and b.build == "lighthouse")
        for log in ((pour,), (pour, cold))
    )
    assert late.opens - usual.opens > timedelta(hours=2)


def test_a_logged_pour_takes_the_place_of_the_planned_one(session, now):
    starts = {
        t.op: t.start for t in session.plan().build("lighthouse").tasks if t.piece == "gallery" and t.matter != "labour"
    }

    def planned(*log):
        """What is on the clock when its turn has come."""
        return {op for op, at in starts.items() for b in status(session.plan(), log, at).bars
                if (b.piece, b.op, b.planned) == ("gallery", op, True)}  # fmt: skip

    assert {"jacket-1", "jacket-2", "rubber-1", "rubber-2"} <= planned()
    assert planned() - planned(poured(now, 1)) == {"rubber-1"}, "what names no operation was the mould's first pour"
    assert planned() - planned(poured(now, 1, op="rubber-2")) == {"rubber-2"}
    spoiled = poured(now, 0.5, op="rubber-2", kind="spoiled", id="s")
    assert planned(poured(now, 1, op="rubber-2"), spoiled) == planned(), "what was spoiled is to be poured again"


def test_the_next_pour_of_a_build_that_was_begun_is_the_first_that_is_to_be_poured(session, now):
    alone = session.plan()
    alone.builds = (alone.build("ferry"),)
    first, second = [t.start for t in alone.builds[0].tasks if t.matter == "wet"]
    log = (poured(now, 1, "ferry", "hull", op="jacket-1"),)
    assert status(alone, log, now).next_pour == ("hull: rubber, first half", first)
    assert status(alone, log, first).next_pour == ("hull: rubber, second half", second), "it has begun"
    log = (*log, poured(now, 0, "ferry", "hull", id="q", op="rubber-1"))
    assert status(alone, log, now).next_pour == ("hull: rubber, second half", second)
    assert status(alone, log, second).next_pour is None


def test_a_log_that_speaks_of_what_the_job_no_longer_has_is_passed_over(session, now):
    odd = poured(now, 1, build="gone", piece="gone")
    assert "gone" not in status(session.plan(), (odd,), now).states


def test_the_next_pour_is_named(session, now):
    name, moment = status(session.plan(), (), now).next_pour
    assert name == "hull: rubber, first half"
    assert moment > now


def test_the_line_is_inked_as_far_as_the_matter_has_gone(session, now):
    made = session.plan().build("lighthouse")
    fresh = station_states(made, status(session.plan(), (), now))
    assert fresh["shot"] == "ready"
    assert fresh["scale"] == fresh["cure"] == "none"
    wet = station_states(made, status(session.plan(), (poured(now, 0.1),), now))
    assert (wet["scale"], wet["cure"], wet["mould"], wet["shoot"]) == ("ready", "wet", "wet", "none")


# ------------------------------------------------------------------------------------------ ledger
def ledger_after(session, key, value, build="lighthouse"):
    before = session.plan().build(build)
    session.edit("x", decide(session.job, find_decision(session.job, build, key), value))
    return {(m.after.spec, m.after.subject.piece): m for m in moved(before, session.plan().build(build))}


def test_the_ledger_lists_what_moved_the_weightiest_first(session):
    items = ledger_after(session, "scale", 8.0)
    first = [spec for spec, _ in items][:4]
    assert first == [specs.SLACK, specs.BUILD_RATE, specs.RUBBER, specs.BATCHES]
    assert items[specs.HEIGHT, ""].change == "+50 %"
    assert items[specs.BATCHES, "gallery"].change == "+4"
    assert items[specs.BUILD_RATE, ""].change == "−20 %"


def test_a_thicker_blanket_moves_the_rubber_and_not_the_frame_rate(session):
    items = ledger_after(session, "blanket_m:gallery", 0.012)
    assert (specs.RUBBER, "gallery") in items
    assert (specs.BUILD_RATE, "") not in items


def test_nothing_moved_is_an_empty_ledger(session):
    made = session.plan().build("lighthouse")
    assert moved(made, made) == ()


def test_figures_that_differ_by_shot_alone_stand_once(session):
    items = ledger_after(session, "scale", 8.0)
    assert sum(spec is specs.STOP for spec, _ in items) == 1


@pytest.mark.parametrize(
    ("spec", "piece", "unit"),
    [(specs.HEIGHT, "", "m"), (specs.BATCHES, "gallery", ""), (specs.RUBBER, "gallery", "kg")],
)
def test_before_and_after_share_a_unit(session, spec, piece, unit):
    item = ledger_after(session, "scale", 8.0)[spec, piece]
    before, after, shared = short_pair(item.before, item.after, "metric", "€")
    assert shared == unit
    assert float(before) == pytest.approx(item.before.number, rel=5e-3)
    assert float(after) == pytest.approx(item.after.number, rel=5e-3)


def test_times_of_one_day_are_shown_as_times(session):
    items = ledger_after(session, "lag_s:gallery", 14400.0)
    before, after, unit = short_pair(
        items[specs.OPENS, "gallery"].before, items[specs.OPENS, "gallery"].after, "metric", "€"
    )
    assert before.count(":") == after.count(":") == 1
    assert not unit
    assert items[specs.OPENS, "gallery"].change.endswith(("min", "h"))


@pytest.mark.parametrize(("seconds", "said"), [
    (1800, "+30 min"), (-3599, "−60 min"), (3600, "+1 h"), (35_000, "+9.7 h"), (-36_000, "−10 h"), (90_000, "+25 h"),
    (345_599, "+96 h"), (345_600, "+4 d"),
])  # fmt: skip
def test_what_moved_in_time_is_said_in_minutes_hours_or_days(seconds, said):
    begin = datetime(2026, 2, 24, 9)
    before, after = (
        Figure(specs.READY, Subject("b"), moment, RULE, ()) for moment in (begin, begin + timedelta(seconds=seconds))
    )
    assert Moved(before, after).change.replace(".0 ", " ") == said


def test_what_came_from_nothing_is_new_and_shares_are_signed():
    def figure(value):
        return Figure(specs.RUBBER, Subject("b"), value, RULE, ())

    def hours(value):
        return Figure(specs.MOULD_TIME, Subject("b"), value, RULE, ())

    assert Moved(hours(7200.0), hours(14_400.0)).change == "+2.0 h"
    assert Moved(figure(0.0), figure(2.0)).change == "new"
    assert Moved(figure(2.0), figure(1.0)).change == "−50 %"
    assert Moved(figure(1.0), figure(3.0)).change == "+200 %"


def test_the_next_step_is_that_of_the_build_itself(session, now):
    poured = LogEvent("p", now - timedelta(hours=1), "poured", "cheek", "keeper", "cheek", 21.0)
    at = status(session.plan(), (poured,), now)

    def step(build, *log):
        book = Book((poured, *log))
        return next_step(session.plan().build(build), book, status(session.plan(), book, now))

    assert step("keeper")[:3] == ("opened", "cheek", "rubber")
    assert step("lighthouse") == ("poured", "gallery", "jacket-1", "gallery: jacket, first half laid up")
    assert step("oldclaw", LogEvent("q", now, "poured", "", "oldclaw", "crab", op="jacket-1"))[:3] == (
        "opened",
        "crab",
        "jacket-1",
    )
    assert (at.first_flag.isoformat(), at.bench_days) == ("2026-03-17", 15)
    busy = replace(session.job.shop.hours, days_off=(date(2026, 3, 2), date(2026, 3, 17)))
    closed = Session(replace(session.job, shop=replace(session.job.shop, hours=busy)))
    assert status(closed.plan(), (), now).bench_days == 14, (
        "a day off before the flag is no bench day, the flag's own is not counted"
    )


@pytest.mark.parametrize(
    ("kind", "a", "b", "said"),
    [("length", 1.0, 1.12, "+12 %"), ("length", 1.0, 0.5, "−50 %"), ("length", 1.0, 2.344, "+134 %"), ("length", 0.0, 0.5, "new"),
     ("count", 3, 1, "−2"), ("duration", 0.0, 3599.0, "+60 min"), ("duration", 3600.0, 0.0, "−1.0 h"), ("duration", 0.0, 35_999.0, "+10 h"),
     ("duration", 0.0, 36_000.0, "+10.0 h"), ("duration", 0.0, 96 * 3600.0 - 1, "+96.0 h"), ("duration", 0.0, 96 * 3600.0, "+4.0 d"),
     ("day", date(2026, 3, 1), date(2026, 2, 27), "−2 d"), ("text", "one", "two", "changed")],
)  # fmt: skip
def test_a_shift_is_told_as_people_say_it(kind, a, b, said):
    spec = FigureSpec("t", "T", kind, "scale", "t")
    before, after = (Figure(spec, Subject("b"), value, RULE, ()) for value in (a, b))
    assert Moved(before, after).change == said


@pytest.mark.parametrize(
    ("days", "first"), [(1, "Mon 09:00"), (5, "Mon 09:00"), (6, "Mon 2 Mar"), (-5, "Mon 09:00"), (-7, "Mon 2 Mar")]
)
def test_a_moment_is_told_by_its_weekday_while_that_is_enough(days, first):
    spec, a = FigureSpec("t", "T", "moment", "scale", "t"), datetime(2026, 3, 2, 9)
    before, after = (Figure(spec, Subject("b"), value, RULE, ()) for value in (a, a + timedelta(days=days)))
    assert short_pair(before, after, "metric", "€")[0] == first
