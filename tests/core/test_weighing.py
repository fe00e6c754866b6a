"""Weighing a mix: over-pours saved, later batches re-shared, steady readings told from creeping ones."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.job.cards import Part
from homunculus.core.log import LogEvent
from homunculus.core.making.weighing import Recipe, Steady, Weighing, inward, resume

TEN_TO_ONE = Recipe("oldclaw", "claw", "", "claw: rubber", (Part("A", 10), Part("B", 1)), 2.088, 3, 0.7, 0.02)


def test_a_part_poured_over_moves_the_other_part_and_the_batches_to_come():
    weighing = Weighing(TEN_TO_ONE)
    weighing = weighing.pour(0.6327).pour(0.06327).empty_cup()
    assert [round(t, 4) for t in weighing.targets] == [0.6327, 0.0633]
    weighing = weighing.pour(0.6387)
    assert weighing.over(0) == pytest.approx(0.006, abs=1e-4)
    assert weighing.targets[1] == pytest.approx(0.06387, abs=1e-5)
    assert weighing.asked(1) == pytest.approx(0.0633, abs=1e-4)
    saved = weighing.pour(weighing.targets[1])
    assert [round(saved.over(i), 9) for i in (0, 1)] == [0.0, 0.0], "a part that follows another went over nothing"
    assert weighing.later_kg == pytest.approx(2.088 - 0.69597 - 0.70257, abs=1e-4)
    assert weighing.too_much  # 703 g where the vessel takes 700
    assert not Weighing(TEN_TO_ONE).too_much


def test_a_second_part_poured_over_asks_for_more_of_the_first():
    weighing = Weighing(TEN_TO_ONE).pour(0.6327).pour(0.0700)
    assert weighing.next_part == 0
    assert weighing.targets[0] == pytest.approx(0.700)
    weighing = weighing.pour(0.700 - 0.6327)
    assert weighing.next_part is None
    assert weighing.empty_cup().batch == 2


def test_a_cup_that_lacks_a_part_is_no_batch():
    weighing = Weighing(TEN_TO_ONE).pour(0.6)
    assert weighing.empty_cup() is weighing
    assert weighing.pour(-1) is weighing


parts = st.lists(st.floats(0.5, 100), min_size=1, max_size=4)
slips = st.lists(st.floats(0.985, 1.4), min_size=60, max_size=60)


@given(parts, st.integers(1, 6), slips)
def test_whatever_is_poured_every_batch_ends_in_proportion_and_nothing_is_lost(amounts, batches, slip):
    names = tuple(Part(f"P{i}", amount) for i, amount in enumerate(amounts))
    weighing = Weighing(Recipe("b", "p", "", "mix", names, 2.0, batches, 9.0, 0.02))
    poured = 0.0
    for factor in slip:
        if weighing.finished:
            break
        index = weighing.next_part
        if index is None:
            weighing = weighing.empty_cup()
            continue
        mass = (weighing.targets[index] - weighing.held(index)) * factor
        poured += mass
        weighing = weighing.pour(mass)
    for batch in weighing.done:
        per = [mass / amount for mass, amount in zip(batch, amounts, strict=True)]
        assert max(per) / min(per) <= 1 / (1 - 0.02) + 1e-9
    assert sum(map(sum, weighing.done)) + sum(weighing.cup) == pytest.approx(poured)
    if weighing.finished and batches == 1:
        assert poured >= 2.0 * (1 - 0.02) * (1 - 0.02)


def entry(at, kind, weights=None, batch=0):
    return LogEvent(f"e{at}{kind}{batch}", at, kind, "", "oldclaw", "claw", weights_kg=weights or {}, batch=batch)


def test_a_weighing_goes_on_where_the_log_left_it(now):
    log = (entry(now, "weighed", {"A": 0.7}, 1), entry(now, "weighed", {"B": 0.07}, 1), entry(now, "poured"),
           entry(now, "weighed", {"A": 0.6}, 1), entry(now, "weighed", {"A": 0.0327}, 1),
           entry(now, "weighed", {"B": 0.0633}, 1), entry(now, "weighed", {"A": 0.64}, 2))  # fmt: skip
    weighing = resume(TEN_TO_ONE, log)
    assert weighing.batch == 2
    assert weighing.done[0] == pytest.approx((0.6327, 0.0633))
    assert weighing.next_part == 1
    assert resume(TEN_TO_ONE, (*log, entry(now, "spoiled"))) == Weighing(TEN_TO_ONE)


def taken(weights, band=0.0, every=0.1):
    watch = Steady(0.0001)
    found = [watch.feed(i * every, w, band) for i, w in enumerate(weights)]
    return [(i * every, w) for i, w in enumerate(found) if w is not None]


def test_a_weight_is_taken_after_two_seconds_at_rest_and_not_while_it_is_poured():
    pour = [0.0004 * i for i in range(100)]
    assert not taken(pour)
    first = taken([*pour, *[0.0412] * 40])[0]
    assert first[1] == pytest.approx(0.0412)
    assert 11.8 <= first[0] <= 12.3


def test_a_trembling_scale_is_read_by_its_middle_but_a_slow_pour_never_is():
    chance = random.Random(4)
    tremble = [0.0600 + chance.gauss(0, 0.0002) for _ in range(120)]
    assert not taken(tremble)
    assert taken(tremble, band=0.0012)[0][1] == pytest.approx(0.0600, abs=0.0002)
    assert not taken([w + 0.0010 * i * 0.1 for i, w in enumerate(tremble)], band=0.0012)


def test_a_band_is_rounded_inward():
    assert inward(62.59, 65.17, 0.1) == pytest.approx((62.6, 65.1))


@given(st.floats(0.0, 5.0), st.sampled_from([0.0001, 0.001, 0.005]), st.floats(0.0, 0.4))
def test_a_weight_that_stands_is_taken_in_two_to_three_seconds_and_is_itself(kg, step, late):
    watch = Steady(step)
    shown = round(kg / step) * step
    for tenth in range(40):
        taken_weight = watch.feed(late + tenth / 10, shown)
        if taken_weight is not None:
            assert 2.0 - 1e-6 <= tenth / 10 <= 2.6
            assert taken_weight == pytest.approx(shown)
            return
    raise AssertionError("it was never taken")


@given(st.floats(0.0005, 0.2), st.floats(0.0, 2.0))
def test_what_is_poured_faster_than_two_steps_a_second_is_never_taken(rate, start):
    watch = Steady(0.0001)
    assert all(watch.feed(i / 10, start + rate * i / 10) is None for i in range(80))


def test_a_reading_taken_before_the_tare_does_not_count_after_it():
    watch = Steady(0.0001)
    for tenth in range(19):
        assert watch.feed(tenth / 10, 0.5) is None
    watch.forget()
    assert all(watch.feed(2 + tenth / 10, 0.5) is None for tenth in range(19))
    assert watch.feed(4.1, 0.5) == pytest.approx(0.5)
