"""Mixing, moulds, shop hours and cures."""

import math
from datetime import datetime, time, timedelta

import pytest
from hypothesis import example, given
from hypothesis import strategies as st

from homunculus.core.cure.kinetics import Kinetics, time_to_cure
from homunculus.core.cure.temperature import Daily, Nights
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.job.forms import Box, Sphere
from homunculus.core.job.shop import Air, ShopHours
from homunculus.core.making import mixing, moulds
from homunculus.core.schedule.calendar import day_length, next_open, work, work_unbroken, working_time

HOURS = ShopHours()
MONDAY = datetime(2026, 2, 16)
moments = st.integers(0, 21 * 24 * 60).map(lambda m: MONDAY + timedelta(minutes=m))


# ------------------------------------------------------------------------------------------ mixing
@given(st.floats(0.01, 200), st.floats(0.05, 50))
def test_batches_are_even_and_hold_it_all(total, most):
    count = mixing.batch_count(total=total, most=most).value
    batch = mixing.batch_mass(total=total, batches=count)
    assert batch * count == pytest.approx(total)
    assert batch <= most * (1 + 1e-6)
    assert count == 1 or total / (count - 1) > most * (1 - 1e-6)


@given(st.lists(st.floats(0.1, 100), min_size=1, max_size=5), st.floats(0.01, 50))
def test_parts_weigh_the_whole(parts, total):
    whole = sum(mixing.part_mass(total=total, part=p, all_parts=sum(parts)) for p in parts)
    assert whole == pytest.approx(total)


def test_the_tighter_of_vessel_and_pot_life_limits_and_is_named():
    usual = {"vessel": 0.003, "head_room": 4.0, "density": 1120.0, "margin": 0.15, "fixed": 420.0, "per_kg": 240.0}
    slow = mixing.most_in_batch(pot_life=2700.0, **usual)
    assert slow.value == pytest.approx(0.84)
    assert slow.notes == ("limited by the vessel",)
    fast = mixing.most_in_batch(pot_life=600.0, **usual)
    assert fast.value == pytest.approx((600 * 0.85 - 420) / 240)
    assert fast.notes == ("limited by the pot life",)
    none = mixing.most_in_batch(pot_life=300.0, **usual)
    assert none.value == 0.0
    assert mixing.batch_count(total=1.0, most=0.0).value == 0


def test_a_warm_bench_shortens_the_pot_life():
    assert mixing.pot_life_here(book=2700.0, kinetics=Kinetics(23.0), bench=33.0).value == pytest.approx(1350.0)
    stopped = mixing.pot_life_here(book=2700.0, kinetics=Kinetics(23.0, None, 10.0), bench=5.0).value
    assert math.isfinite(stopped)
    assert stopped > 30 * 86400


# ------------------------------------------------------------------------------------------ moulds
def test_a_block_mould_is_its_box_less_the_form():
    form = measure(Box(0.2, 0.1, 0.05), {})
    made = moulds.block_volume(form=form, wall=0.02).value
    assert made == pytest.approx(0.24 * 0.14 * 0.07 - 0.2 * 0.1 * 0.05)


def test_halves_core_and_skin_fill_their_box():
    form = measure(Sphere(0.2), {})
    parts = [moulds.halves_volume(form=form, wall=0.03).value, moulds.core_volume(form=form, gap=0.01).value,
             moulds.wall_volume(form=form, wall=0.01)]  # fmt: skip
    assert sum(parts) == pytest.approx(0.26**3)
    assert parts[2] == pytest.approx(1.1352e-3, rel=1e-4)
    full = moulds.core_volume(form=form, gap=0.11)
    assert full.value == 0.0
    assert "no core" in full.notes[-1]


def test_the_jacket_covers_the_blanket_and_both_flanges():
    ball = measure(Sphere(0.2), {})
    area = moulds.jacket_area(form=ball, blanket=0.01, flange=0.04)
    outside = 4 * math.pi * 0.11**2
    rim = 2 * math.pi * 0.11  # the parting line runs round the outline at the blanket's outside
    assert area == pytest.approx(outside + 2 * (rim * 0.04 + math.pi * 0.04**2), rel=2e-3)


def test_small_moulds_pay_the_least_waste():
    assert moulds.waste_volume(rubber=1e-4, share=0.08, least=5e-5) == 5e-5
    assert moulds.waste_volume(rubber=1e-2, share=0.08, least=5e-5) == pytest.approx(8e-4)


# ---------------------------------------------------------------------------------------- calendar
def walked(first: datetime, last: datetime) -> float:
    """Working seconds by walking minute after minute."""
    count, moment = 0, first
    while moment < last:
        count += moment.weekday() < 5 and time(9) <= moment.time() < time(18)
        moment += timedelta(minutes=1)
    return count * 60.0


@given(moments, st.integers(0, 4 * 24 * 60))
def test_working_time_is_what_walking_the_minutes_finds(first, minutes):
    last = first + timedelta(minutes=minutes)
    assert working_time(first, last, HOURS) == walked(first, last)
    assert working_time(last, first, HOURS) == -walked(first, last)


@given(moments, st.integers(1, 60 * 60))
def test_work_takes_its_working_time_and_starts_when_the_shop_is_open(start, minutes):
    begin, end = work(start, minutes * 60.0, HOURS)
    assert begin == next_open(start, HOURS)
    assert working_time(begin, end, HOURS) == pytest.approx(minutes * 60.0)


@given(moments, st.integers(1, 9 * 60))
def test_work_that_cannot_be_left_ends_on_its_day(start, minutes):
    begin, end = work_unbroken(start, minutes * 60.0, HOURS)
    assert begin.date() == end.date()
    assert end - begin == timedelta(minutes=minutes)
    assert time(9) <= begin.time() < time(18)
    assert end.time() <= time(18)


def test_a_shop_that_never_opens_is_refused():
    with pytest.raises(UserError, match="never opens"):
        day_length(ShopHours(time(9), time(9)))
    with pytest.raises(UserError, match="never opens"):
        day_length(ShopHours(weekdays=()))


# ------------------------------------------------------------------------------------------- cures
def test_the_programme_is_warm_by_day_and_has_no_gaps():
    daily = Daily(Air(21.0, 14.0))
    start, total = datetime(2026, 2, 16, 16, 20), 0.0
    for seconds, temperature in daily.steps(start):
        assert temperature == daily.at(start + timedelta(seconds=total))
        total += seconds
        if total > 5 * 86400:
            break
    assert daily.at(datetime(2026, 2, 16, 8)) == 21.0
    assert daily.at(datetime(2026, 2, 16, 18)) == 14.0


def test_a_measured_night_replaces_the_programme_while_it_lasts():
    cold = (datetime(2026, 2, 19, 18), datetime(2026, 2, 20, 8), 9.0)
    nights = Nights(Daily(Air()), (cold,))
    seen = []
    for seconds, temperature in nights.steps(datetime(2026, 2, 19, 12)):
        seen.append((seconds / 3600, temperature))
        if len(seen) == 4:
            break
    assert seen == [(6.0, 21.0), (14.0, 9.0), (10.0, 21.0), (14.0, 14.0)]


@given(st.floats(600, 2e5), st.floats(5, 30), st.floats(0, 4 * 3600), moments)
@example(
    2625.0, 7.6328125, 19.0, MONDAY + timedelta(minutes=314)
)  # it has set before the day is warmer: alike but for rounding
def test_a_warmer_room_never_cures_later(needed, night, lag, start):
    law = Kinetics(23.0, 60000.0)
    times = [
        time_to_cure(needed=needed, kinetics=law, programme=Daily(Air(night + more, night)), start=start, lag=lag)
        for more in (0.0, 3.0, 8.0)
    ]
    told_to = 0.02  # the last slice is halved until it is known to a fiftieth of a second
    assert times[0] >= times[1] - told_to
    assert times[1] >= times[2] - told_to
    assert times[2] > 0


@given(st.floats(3600, 1e5), st.floats(0, 7200), moments)
def test_half_a_cure_and_then_the_rest_is_the_whole_in_a_steady_room(needed, lag, start):
    law, room = Kinetics(23.0), Daily(Air(18.0, 18.0))
    whole = time_to_cure(needed=needed, kinetics=law, programme=room, start=start, lag=lag)
    half = time_to_cure(needed=needed / 2, kinetics=law, programme=room, start=start, lag=lag)
    assert whole == pytest.approx(2 * half, rel=1e-6)


def test_below_its_least_temperature_the_cure_stands_still_and_goes_on_by_day():
    law = Kinetics(23.0, 60000.0, least_c=15.0)
    room = Daily(Air(23.0, 10.0))
    start = datetime(2026, 2, 16, 8)
    took = time_to_cure(needed=15 * 3600.0, kinetics=law, programme=room, start=start, lag=0.0)
    assert took == pytest.approx(29 * 3600.0)  # ten hours by day, a night, five more
    frozen = time_to_cure(needed=3600.0, kinetics=law, programme=Daily(Air(5.0, 5.0)), start=start, lag=0.0)
    assert math.isinf(frozen)
