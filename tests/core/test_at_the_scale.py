"""The weighing machine without a scale: noughts, readings at rest, typed weights, taking back, and what the clock says."""

from datetime import timedelta

import pytest
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.log import Book, LogEvent
from homunculus.core.making.at_the_scale import ZERO_S, AtTheScale
from homunculus.core.making.recipes import recipe_of


class Bench:
    """What is around a scale: a clock that is set, an air that is told, a log that is kept."""

    def __init__(self, session, now):
        self.session, self.moment, self.celsius, self.entries, self.tares = session, now, 21.0, [], 0

    def now(self):
        return self.moment

    def air_c(self):
        return self.celsius

    def job(self):
        return self.session.job

    def log(self, kind, text, **fields):
        self.entries.append(LogEvent(f"t{len(self.entries)}", self.moment, kind, text, **fields))
        return self.entries[-1]

    def tare(self):
        self.tares += 1


@pytest.fixture
def bench(session, now):
    return Bench(session, now)


def machine(bench, entries=()):
    made = bench.session.plan().build("lighthouse")
    pour = made.pour("gallery", "rubber-1")
    return AtTheScale(bench, recipe_of(made, pour, 0), pour.card, Book(entries))


def rest(at, kg, start, seconds=3.0):
    """Readings of a scale at rest, five a second."""
    for i in range(int(seconds * 5) + 1):
        at.hear(start + i / 5, kg)
    return start + seconds


def test_the_cup_is_put_to_nought_and_only_what_rests_within_the_band_is_taken(bench):
    at = machine(bench)
    low, high = at.weighing.band(0)
    at.hear(0.0, 0.0312)  # the cup
    at.go_on()
    assert (at.phase, at.pan.zeroing, bench.tares) == ("part", True, 1)
    at.hear(0.2, 0.0312)
    assert at.pan.zeroing, "it has not come to nought yet"
    at.hear(0.4, 0.0002)
    assert not at.pan.zeroing
    clock = rest(at, low * 0.98, 1.0)
    assert not bench.entries, "too little rests as long as it likes"
    clock = rest(at, (low + high) / 2, clock)
    (entry,) = bench.entries
    assert (entry.kind, entry.batch, entry.celsius) == ("weighed", 1, 21.0)
    assert entry.weights_kg == {"A": pytest.approx((low + high) / 2, abs=1e-4)}
    assert at.pan.zeroing, "the next part begins at nought"
    assert at.weighing.next_part == 1
    rest(at, 0.5, clock, 0.4)
    assert at.pan.zeroing


def test_a_scale_that_will_not_come_to_nought_is_read_from_where_it_stands(bench):
    at = machine(bench)
    at.hear(0.0, 0.050)
    at.go_on()
    at.hear(0.1, 0.050)
    at.hear(0.1 + ZERO_S - 0.2, 0.050)
    assert at.pan.zeroing
    at.hear(0.1 + ZERO_S, 0.050)
    assert not at.pan.zeroing
    low, high = at.weighing.band(0)
    rest(at, 0.050 + (low + high) / 2, 10.0)
    assert bench.entries[0].weights_kg["A"] == pytest.approx((low + high) / 2, abs=1e-4)


def test_what_reads_nought_already_is_not_put_to_nought_again_and_silence_takes_nothing(bench):
    at = machine(bench)
    at.hear(0.0, 0.00004)
    at.go_on()
    assert (bench.tares, at.pan.zeroing) == (0, False)
    at.hear(0.2, 0.3)
    assert at.to_take
    at.go_quiet("it was pulled out")
    assert not at.to_take
    at.go_on()
    assert not bench.entries
    at.go_quiet("")
    at.hear(0.4, 2 * at.pan.step_kg)
    assert not at.to_take, "two steps of the scale are no weight"
    for i in range(30):
        at.hear(0.6 + i / 5, at.weighing.targets[0], beyond=True)
    assert at.pan.beyond
    assert not bench.entries, "more than the scale bears is no weight"


def test_weights_are_typed_taken_back_and_the_batches_end_in_one_pour(bench):
    at = machine(bench)
    with pytest.raises(UserError, match="is not a mass"):
        at.type_weight("a cup full", "metric")
    at.type_weight(f"{at.weighing.targets[0] * 1000:.1f} g", "metric")
    at.type_weight(f"{at.weighing.targets[1] * 1100:.2f} g", "metric")  # a tenth over: A is due again
    assert at.weighing.next_part == 0
    assert "went" in "".join(map(str, at.did))
    at.take_back()
    assert (bench.entries[-1].kind, bench.entries[-1].corrects) == ("correction", bench.entries[-2].id)
    assert (at.weighing.next_part, at.did, at.phase) == (1, (), "part")
    while at.phase != "end":
        if at.weighing.next_part is None:
            at.go_on()
        else:
            at.take(at.weighing.targets[at.weighing.next_part] - at.weighing.held(at.weighing.next_part))
            at.phase = "part" if at.weighing.next_part is not None else at.phase
    poured = bench.entries[-1]
    assert poured.kind == "poured"
    assert sum(poured.weights_kg.values()) == pytest.approx(at.recipe.total_kg, rel=0.02)
    at.take_back()
    assert bench.entries[-1] is poured, "what is poured is not taken back"


def test_the_pot_life_runs_from_when_the_parts_met_at_the_benchs_own_temperature(bench):
    at = machine(bench)
    whole = at.pot_life_s
    assert (at.met, at.left_s, at.gone_s) == (None, whole, 0.0)
    at.take(at.weighing.targets[0])
    assert at.met is None
    at.take(at.weighing.targets[1])
    met = bench.moment
    assert at.met == met
    hands = at.hands_s
    assert hands > 30
    assert at.spare_s == pytest.approx(whole - hands)
    bench.moment += timedelta(minutes=10)
    assert at.left_s == pytest.approx(whole - 600)
    before, hands = at.spare_s, at.hands_s
    assert before == pytest.approx(at.left_s - hands)
    bench.celsius = 31.0
    assert at.pot_life_s < whole
    bench.celsius = 21.0
    at.go_on()
    assert (at.weighing.batch, at.met) == (2, None)
    assert at.gels() == [(1, met + timedelta(seconds=whole))]
    bench.moment = met + timedelta(seconds=whole + 1)
    assert at.gels() == []


def test_parts_meet_when_the_second_falls_into_the_cup_not_when_it_rests(bench):
    at = machine(bench)
    assert (at.pan.kg, at.pan.heard, at.to_take) == (0.0, False, False), "no scale has said anything"
    at.hear(0.0, 0.0)
    at.go_on()
    clock = rest(at, at.weighing.targets[0], 0.2)
    assert (at.weighing.next_part, at.met) == (1, None)
    at.hear(clock, 3.6 * at.pan.step_kg)
    assert at.pan.zeroing, "more than three steps are not nought"
    at.hear(clock, 3 * at.pan.step_kg)
    assert (at.pan.zeroing, at.pan.offset_kg) == (False, 0.0)
    at.hear(clock + 0.2, 4.9 * at.pan.step_kg)
    assert at.met is None
    bench.moment += timedelta(minutes=2)
    at.hear(clock + 0.4, 6 * at.pan.step_kg)
    assert at.met == bench.moment


@pytest.mark.parametrize(("share", "taken"), [(0.12, True), (0.15, False)])
def test_a_reading_wanders_by_an_eighth_of_its_band_and_is_still_taken(bench, share, taken):
    at = machine(bench)
    at.meet(at.weighing.targets[0] / 200)  # coarse enough that the band is what counts
    low, high = at.weighing.band(0)
    assert 2 * at.pan.step_kg < (high - low) / 8 < 15 * at.pan.step_kg
    at.hear(0.0, 0.0)
    at.go_on()
    for i in range(20):
        at.hear(0.2 + i / 5, (low + high) / 2 + (high - low) * share * (i % 2))
    assert (at.weighing.next_part == 1) is taken


def test_a_card_that_says_nothing_of_stirring_asks_for_none(bench):
    at = machine(bench)
    assert at.stir_s > 0
    at.card = replace(at.card, stir_s=None)
    assert at.stir_s == 0.0


def test_what_was_left_goes_on_from_the_log_with_the_lots_that_were_named(bench):
    at = machine(bench)
    at.lots["A"] = "A 2211"
    at.take(at.weighing.targets[0])
    at.take(at.weighing.targets[1] * 0.5)  # half of B, then the light went out
    again = machine(bench, tuple(bench.entries))
    assert again.weighing.cup == pytest.approx(at.weighing.cup, abs=1e-6)  # the log keeps milligrams
    assert again.met == bench.moment
    assert again.lots["A"] == "A 2211"
    again.take_back()
    assert again.weighing.held(1) == 0.0
    assert bench.entries[-1].corrects == bench.entries[-2].id


def test_each_weight_is_taken_back_for_itself(bench):
    at = machine(bench)
    a, b = at.weighing.targets[0], at.weighing.targets[1] * 1.1
    at.take(a)
    at.take(b)  # a tenth over: more of A is due
    more = at.weighing.targets[0] - a
    at.take(more)
    assert at.weighing.cup == pytest.approx((a + more, b), abs=1e-6)  # the log keeps milligrams
    at.take_back()
    assert at.weighing.cup == pytest.approx((a, b), abs=1e-6)
    at.take_back()
    assert at.weighing.cup == pytest.approx((a,), abs=1e-6)
    at.take_back()
    assert at.weighing.cup == ()
    count = len(bench.entries)
    at.take_back()
    assert len(bench.entries) == count, "there is nothing left to take back"


def test_what_is_worked_in_by_hand_has_to_spare_what_the_plan_says(bench):
    """A jacket's resin is used up as fast as it is laid up: the cup at the scale and the Mix bench reckon alike."""
    made = bench.session.plan().build("lighthouse")
    pour = made.pour("gallery", "jacket-1")
    at = AtTheScale(bench, recipe_of(made, pour, 0), pour.card, Book())
    spare = made.find(specs.SPARE, "gallery", op="jacket-1").number
    life = made.find(specs.POT_LIFE, "gallery", op="jacket-1").number
    assert at.hands_s == pytest.approx(life - spare)
    assert at.hands_s > 300, "minutes of laying up, not seconds of pouring"
