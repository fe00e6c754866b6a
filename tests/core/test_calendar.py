"""Shop hours, holidays, night shifts, clocks put forward, and plannings that cannot end."""

from __future__ import annotations

import time as clock
from datetime import date, datetime, time, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.cells.shop import parse_days_off, parse_hours, show_days_off, show_hours, with_holidays
from homunculus.core.cure.temperature import Daily
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.counts import Wanted
from homunculus.core.job.forms import Box
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import BlockMould
from homunculus.core.job.operations import Cast, Hands, Pour, Wait
from homunculus.core.job.shop import Air, Mixing, Shop, ShopHours
from homunculus.core.job.shots import Gravity, Shot, whole
from homunculus.core.plan.job_plan import plan
from homunculus.core.quantities import parse_hour
from homunculus.core.schedule.calendar import day_length, next_open, work, work_unbroken, working_time
from homunculus.core.schedule.wall_clock import later, seconds_between
from homunculus.library.public_holidays import public_holidays
from tests.strategies import CARDS

MONDAY = datetime(2026, 2, 16, 9)
H = 3600.0
NIGHT = ShopHours(time(22), time(6))
shop_hours = st.builds(
    ShopHours, st.times().map(lambda t: t.replace(second=0, microsecond=0)), st.times().map(lambda t: t.replace(second=0, microsecond=0)),
    st.lists(st.integers(0, 6), min_size=1, unique=True).map(tuple),
    st.lists(st.dates(date(2026, 2, 1), date(2026, 3, 15)), max_size=12).map(tuple),
).filter(lambda h: h.opens != h.closes)  # fmt: skip
moments = st.datetimes(datetime(2026, 2, 1), datetime(2026, 3, 20))


def by_the_minute(first, last, hours):
    """Minutes in which the shop is open, counted one by one."""
    total, moment = 0, first
    while moment < last:
        for back in (0, 1):
            day = moment.date() - timedelta(days=back)
            opens = datetime.combine(day, hours.opens)
            closes = datetime.combine(day, hours.closes) + timedelta(days=hours.closes <= hours.opens)
            if day.weekday() in hours.weekdays and day not in hours.days_off and opens <= moment < closes:
                total += 1
                break
        moment += timedelta(minutes=1)
    return total * 60.0


@given(shop_hours, moments.map(lambda m: m.replace(second=0, microsecond=0)), st.integers(0, 6 * 1440))
def test_working_time_is_what_the_minutes_add_up_to(hours, first, minutes):
    last = first + timedelta(minutes=minutes)
    assert working_time(first, last, hours) == by_the_minute(first, last, hours)


@given(shop_hours, moments, st.floats(0, 200_000))
def test_work_takes_its_working_time_and_begins_and_ends_while_the_shop_is_open(hours, start, seconds):
    begin, end = work(start, seconds, hours)
    assert begin == next_open(start, hours) >= start
    assert working_time(begin, end, hours) == pytest.approx(seconds, abs=1e-3)


@given(shop_hours, moments, st.floats(0, 1))
def test_what_cannot_be_left_fits_its_shift(hours, start, share):
    seconds = share * day_length(hours)
    begin, end = work_unbroken(start, seconds, hours)
    assert working_time(begin, end, hours) == pytest.approx(seconds, abs=1e-3)


def test_a_night_shift_belongs_to_the_day_on_which_it_begins():
    assert day_length(NIGHT) == 8 * 3600
    assert next_open(datetime(2026, 2, 16, 3), NIGHT) == datetime(2026, 2, 16, 22)  # Sunday night is not worked
    assert next_open(datetime(2026, 2, 21, 3), NIGHT) == datetime(2026, 2, 21, 3)  # Friday night goes into Saturday
    assert work(datetime(2026, 2, 20, 22), 10 * 3600, NIGHT)[1] == datetime(2026, 2, 24, 0)


@pytest.mark.parametrize("hours", [ShopHours(time(9), time(9)), ShopHours(weekdays=())])
def test_a_shop_that_never_opens_is_refused_and_never_waited_for(hours):
    begin = clock.monotonic()
    with pytest.raises(UserError, match=r"never opens|closed for forty"):
        work(MONDAY, 3600, hours)
    assert clock.monotonic() - begin < 1


def test_days_off_move_the_plan_and_are_dates_of_the_job():
    build = Build("b", "A build", "it", 1.0, MONDAY, (), (Hands("work", work_s=18.0 * H),))
    job = Job("a job", Shop(camera="cinema-150"), (build,), (), CARDS)
    days = public_holidays("de", (2026,))
    assert date(2026, 4, 3) in days  # Good Friday 2026, church calendar
    held = with_holidays(job, "DE", (date(2026, 2, 17), *days), ())
    assert plan(job, {}).builds[0].find(specs.READY).value == datetime(2026, 2, 17, 18)
    assert plan(held, {}).builds[0].find(specs.READY).value == datetime(2026, 2, 18, 18)
    back = with_holidays(held, "", (), days)
    assert back.shop.hours.days_off == (date(2026, 2, 17),)
    with pytest.raises(UserError, match="no country"):
        public_holidays("Atlantis", (2026,))


@given(shop_hours)
def test_hours_and_days_off_read_back_what_they_write(hours):
    hours = replace(hours, weekdays=tuple(sorted(hours.weekdays)), days_off=tuple(sorted(set(hours.days_off))))
    assert parse_hours(show_hours(hours), replace(ShopHours(), days_off=hours.days_off)) == hours
    assert parse_days_off(show_days_off(hours.days_off), date(2026, 1, 1)) == hours.days_off


@pytest.mark.parametrize(
    "words", ["", "nine to five", "09:00", "09:00 to 25:00", "09:00 to 18:00, Noday", "09:00 to 09:00"]
)
def test_hours_that_cannot_be_are_refused(words):
    with pytest.raises(UserError):
        parse_hours(words, ShopHours())


# ------------------------------------------------------------------------------------------ clocks
def test_warm_hours_may_go_past_midnight_and_none_may_be_warm():
    late = Daily(Air(21.0, 12.0, time(20), time(4)))
    assert [late.at(datetime(2026, 2, 16, h)) for h in (3, 4, 19, 20, 23)] == [21.0, 12.0, 12.0, 21.0, 21.0]
    steps = late.steps(datetime(2026, 2, 16, 12))
    assert [next(steps) for _ in range(3)] == [(8 * 3600.0, 12.0), (8 * 3600.0, 21.0), (16 * 3600.0, 12.0)]
    never = Daily(Air(21.0, 12.0, time(8), time(8))).steps(datetime(2026, 2, 16, 8))
    assert [next(never) for _ in range(2)] == [(86400.0, 12.0)] * 2


def test_a_night_in_which_the_clock_is_put_forward_is_an_hour_shorter():
    evening, morning = datetime(2026, 3, 28, 22), datetime(2026, 3, 29, 8)
    assert (
        seconds_between(evening, morning, "Europe/Lisbon") == 9 * 3600
    )  # last Sunday of March: EU directive 2000/84/EC
    assert later(evening, 9 * 3600, "Europe/Lisbon") == morning
    assert later(datetime(2026, 10, 24, 22), 11 * 3600, "Europe/Lisbon") == datetime(2026, 10, 25, 8)
    assert seconds_between(evening, morning) == 10 * 3600
    with pytest.raises(UserError, match="no time zone"):
        later(evening, 1, "Mars/Olympus")
    steps = [n for n, _ in zip((s for s, _ in Daily(Air(zone="Europe/Lisbon")).steps(evening)), range(2), strict=False)]
    assert steps == [9 * 3600.0, 10 * 3600.0]


# ------------------------------------------------------------------------------------------ without end
SHOT = Shot("1", "a shot", 5.0, date(2026, 3, 17), whole("b"), Gravity())


def build_of(scale=1.0, copies=1, steps=(), mould=BlockMould("silicone-tin-soft", 0.015), good=0.9, size=0.2, wanted=1):  # noqa: B008
    piece = Piece(
        "p",
        "piece",
        Box(size, size, size),
        material="resin-casting-slow",
        copies=copies,
        good=good,
        mould=mould,
        route=steps,
    )
    return Build("b", "A build", "it", scale, MONDAY, (piece,), wanted=Wanted(wanted))


EVERYTHING = (
    Hands("sculpt", work_s=10 * H, work_s_per_m2=50 * H),
    Pour("rubber"),
    Cast("castings"),
    Wait("dries", wait_s=20 * H),
)


@pytest.mark.parametrize(
    ("build", "shop"),
    [
        (build_of(scale=0.001, steps=EVERYTHING, size=200.0), Shop()),
        (build_of(copies=100_000, steps=EVERYTHING), Shop()),
        (build_of(copies=100_000, wanted=100_000, steps=EVERYTHING), Shop()),
        (build_of(steps=EVERYTHING, size=2.0), Shop(mixing=Mixing(vessel_m3=1e-6))),
        (build_of(steps=(Hands("ever", work_s=7.2e7, work_s_per_m2=7.2e7),), scale=0.001), Shop()),
        (build_of(steps=(Wait("ever", wait_s=7.2e7),) * 400), Shop()),
        (build_of(steps=EVERYTHING), Shop(hours=ShopHours(weekdays=()))),
    ],
)  # fmt: skip
def test_a_planning_that_cannot_end_is_refused_in_a_sentence_within_a_second(build, shop):
    begin = clock.monotonic()
    made = plan(Job("a job", replace(shop, camera="cinema-150"), (build,), (SHOT,), CARDS), {}).builds[0]
    assert clock.monotonic() - begin < 1
    said = [m.headline[0] for m in made.minds if m.level == "danger"]
    assert said
    assert made.find(specs.READY) is None or made.find(specs.READY).value < datetime(2200, 1, 1)


def test_dates_at_the_ends_of_the_calendar_are_no_traceback():
    far = replace(SHOT, day=date(9999, 12, 31))
    late = replace(build_of(steps=EVERYTHING), starts=datetime(9999, 12, 30, 23))
    for build, shot in ((build_of(steps=EVERYTHING), far), (late, SHOT)):
        assert plan(Job("a job", Shop(camera="cinema-150"), (build,), (shot,), CARDS), {}).builds[0].held


def test_an_hour_of_the_day_is_read_as_people_and_spreadsheets_write_it():
    for words, hour in (("9", time(9)), (" 09:30 ", time(9, 30)), ("9.05", time(9, 5)), ("06:30:00", time(6, 30)), ("23:59", time(23, 59)), ("0", time())):  # fmt: skip
        assert parse_hour(words) == parse_hour(words, midnight=True) == hour
    assert parse_hour("24:00", midnight=True) == time()
    for words in ("24:00", "24:01", "25", "9:60", "9:5", "noon", "", "-1", "1630"):
        with pytest.raises(UserError, match=r"16:00"):
            parse_hour(words)
    with pytest.raises(UserError):
        parse_hour("24:01", midnight=True)
