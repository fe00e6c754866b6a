"""Weighing a mix: over-pours saved, later batches re-shared, steady readings told from creeping ones."""

import random

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core.job.cards import Part
from homunculus.core.log import LogEvent
from homunculus.core.making.weighing import Recipe, Steady, Weighing, inward, resume, what_it_did
from homunculus.core.why import phrase

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


FOUR = Recipe("b", "p", "", "mix", (Part("A", 10), Part("B", 2), Part("C", 2), Part("D", 2)), 4800.0, 3, 1600.0, 0.02)
"""Of whole kilograms, so that what lies just on a limit lies on it to the last digit: 1 000 of A and 200 of each other a batch."""


@pytest.mark.parametrize(
    ("poured", "said"),
    [([1000.0], ""), ([1002.0], ""), ([998.0], ""), ([1000.0, 200.0, 200.0, 200.0], ""),
     ([1002.1], "A went 2.1 kg over, so B is 200 kg instead of 200 kg, and C 200 kg instead of 200 kg."
                " That is more than one batch may be (1600 kg): pour it at once. Each batch after it shrinks to 1600 kg."),
     ([900.0], "A went 100 kg under, so B is 180 kg instead of 200 kg, and C 180 kg instead of 200 kg."
               " Each batch after it grows to 1680 kg."),
     ([1000.0, 220.0], "B went 20 kg over, so A is 1100 kg instead of 1000 kg, and C 220 kg instead of 200 kg."
                       " That is more than one batch may be (1600 kg): pour it at once. Each batch after it shrinks to 1520 kg."),
     ([1000.0, 200.0, 200.0, 220.0], "D went 20 kg over, so A is 1100 kg instead of 1000 kg, and B 220 kg instead of 200 kg."
                       " That is more than one batch may be (1600 kg): pour it at once. Each batch after it shrinks to 1520 kg."),
     ([1000.0, 200.0, 201.0], "C went 1 kg over, so D is 201 kg instead of 200 kg."
                              " That is more than one batch may be (1600 kg): pour it at once. Each batch after it shrinks to 1600 kg."),
     ([1000.0, 150.0], "B went 50 kg under.")],
)  # fmt: skip
def test_what_a_weight_did_to_the_others_is_said(poured, said):
    weighing = Weighing(FOUR)
    for mass in poured[:-1]:
        weighing = weighing.pour(mass)
    assert words(what_it_did(weighing, weighing.pour(poured[-1]))) == said


def words(told):
    return phrase(told).replace("\xa0", " ")


def test_the_last_batch_but_one_says_which_is_left_and_the_last_says_nothing_of_others():
    one = Weighing(FOUR, ((1000.0, 200.0, 200.0, 200.0),))
    assert words(what_it_did(one, one.pour(1010.0))).endswith("Batch 3 shrinks to 1580 kg.")
    two = Weighing(FOUR, one.done * 2)
    assert words(what_it_did(two, two.pour(990.0))).endswith("and C 198 kg instead of 200 kg.")
    full = two.pour(1000.0).pour(200.0).pour(200.0).pour(200.0)
    assert what_it_did(full, full.pour(3.0)) == ()


def test_what_is_left_is_shared_by_the_batches_that_are_left():
    fresh = Weighing(FOUR)
    assert (fresh.share_kg, fresh.later_kg, fresh.cup_kg) == (1600.0, 1600.0, 1600.0)
    assert fresh.band(1) == pytest.approx((196.0, 204.0), abs=1e-9)
    assert fresh.pour(0.0) is fresh
    batch = (1000.0, 200.0, 200.0, 180.0)
    last = Weighing(FOUR, (batch, batch))
    assert (last.share_kg, last.later_kg) == (1640.0, 0.0)
    all_done = Weighing(FOUR, (batch, batch, batch))
    assert (all_done.share_kg, all_done.later_kg, all_done.finished) == (0.0, 0.0, True)
    assert not last.finished, "one and a fifth per cent of all is more than two of a batch"
    wide = replace(FOUR, tolerance=0.25)
    assert Weighing(wide, (batch, (1000.0, 200.0, 200.0, 200.0), (1000.0, 200.0, 200.0, 20.0))).finished
    assert Weighing(wide, ((4400.0, 0.0, 0.0, 0.0),)).finished, "a quarter of one batch is left, and no more"
    assert not Weighing(wide, ((4399.0, 0.0, 0.0, 0.0),)).finished


def test_a_part_is_over_by_what_it_outweighs_the_others():
    weighing = Weighing(FOUR).pour(1000.0).pour(230.0)
    assert weighing.over(1) == pytest.approx(30.0)
    assert weighing.over(0) == 0.0
    assert Weighing(FOUR).pour(1010.0).over(0) == pytest.approx(10.0)


@pytest.mark.parametrize(("kg", "too_much"), [(1600.0, False), (1600.7, False), (1600.9, True)])
def test_a_cup_is_too_much_from_a_hair_over_what_the_vessel_takes(kg, too_much):
    assert Weighing(FOUR).pour(kg / 1.6).too_much is too_much


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
    strange = [replace(log[-1], **{field: "another"}) for field in ("build", "piece", "mix", "op")]
    strange += [replace(log[-1], kind="note"), replace(log[-1], weights_kg={"A": 0.1, "softener": 0.1})]
    assert resume(TEN_TO_ONE, (*log, *strange)) == weighing, "what is of another cup is not poured into this one"


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


@pytest.mark.parametrize(
    ("weights", "every", "at"),
    [([5.0] * 20, 0.25, 2.0), ([5.0] * 20, 0.4, 2.0), ([5.0] * 20, 0.5, 2.5), ([5.0] * 20, 0.625, None),
     ([4.0] * 3 + [5.0] * 6, 0.25, 2.0), ([4.0] * 4 + [5.0] * 5, 0.25, None), ([4.001] * 4 + [5.0] * 5, 0.25, 2.0),
     ([4.0, 6.002] * 9, 0.25, 2.0), ([4.0, 6.003] * 9, 0.25, None)],
)  # fmt: skip
def test_what_lies_just_on_a_limit_of_standing_still_is_taken_and_no_sooner(weights, every, at):
    watch = Steady(1.0)
    took = [i * every for i, kg in enumerate(weights) if watch.feed(i * every, kg) is not None]
    assert (took[0] if took else None) == at


def test_in_a_wide_band_a_sixth_of_it_may_creep():
    for risen, taken_at in ((1.9, 2.0), (2.1, None)):
        watch = Steady(1.0)
        took = [i / 4 for i in range(9) if watch.feed(i / 4, 4.0 + (risen if i >= 4 else 0.0), 12.0) is not None]
        assert (took[0] if took else None) == taken_at


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
