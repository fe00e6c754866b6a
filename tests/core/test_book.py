"""The log as a book: one entry more gives what the whole log gives, and weighing holds nothing that the log does not."""

from datetime import datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from hypothesis.stateful import RuleBasedStateMachine, invariant, precondition, rule
from msgspec.structs import replace

from homunculus.core.cure.temperature import Daily, Nights
from homunculus.core.job.cards import Part
from homunculus.core.job.shop import Air
from homunculus.core.log import ENDS, Book, LogEvent
from homunculus.core.making.weighing import Recipe, Weighing, resume, what_it_did
from homunculus.core.plan.job_plan import plan
from homunculus.core.plan.status import measured_air, promise, status
from homunculus.core.why import phrase

START = datetime(2026, 2, 10, 8)
PIECES = (("ferry", "hull"), ("keeper", "cheek"), ("lighthouse", "gallery"))


@st.composite
def logs(draw):
    """Entries in the order of writing; moments may go back, and some correct an earlier one."""
    entries = []
    for i in range(draw(st.integers(0, 25))):
        kind = draw(st.sampled_from(("weighed", "poured", "opened", "spoiled", "measured", "note", "correction")))
        build, piece = draw(st.sampled_from(PIECES))
        at = START + timedelta(minutes=draw(st.integers(0, 20_000)))
        celsius = draw(st.one_of(st.none(), st.floats(5, 30)))
        until = at + timedelta(hours=draw(st.integers(1, 20))) if kind == "measured" and celsius else None
        corrects = draw(st.sampled_from([e.id for e in entries])) if entries and draw(st.integers(0, 4)) == 0 else ""
        entries.append(LogEvent(f"e{i}", at, kind, "x", build, piece, celsius, until, corrects=corrects))
    return entries


@given(logs())
def test_a_book_that_grew_is_the_book_of_the_whole_log(entries):
    grown, whole = Book(), Book(entries)
    for entry in entries:
        grown.add(entry)

    def told(book):
        key = lambda e: (e.at, e.id)  # noqa: E731  (moments may be equal, and their order is then open)
        return (sorted(book.standing, key=key), book.corrected,
                [sorted(book.of_piece(*p), key=key) for p in PIECES], [sorted(book.of_build(b), key=key) for b, _ in PIECES],
                sorted(book.spans()))  # fmt: skip

    assert told(grown) == told(whole)
    plain = [e for e in entries if e.id not in whole.corrected and e.kind != "correction"]
    assert {e.id for e in whole.standing} == {e.id for e in plain}
    assert [e.at for e in grown.standing] == sorted(e.at for e in plain)


@given(logs(), st.integers(0, 22_000))
def test_what_is_asked_of_a_book_is_what_a_search_through_all_of_it_finds(entries, minutes):
    book, now = Book(), START + timedelta(minutes=minutes)
    for entry in entries:
        book.add(entry)
    for build, piece in PIECES:
        mine = [e for e in book.standing if (e.build, e.piece) == (build, piece) and e.kind != "note"]
        ends = [i for i, e in enumerate(mine) if e.kind in ENDS]
        assert book.since_end(build, piece, ("",)) == (mine[ends[-1] + 1 :] if ends else mine)
        for kind in ENDS:
            assert book.times(kind, build, piece, now, ("",)) == sum(e.kind == kind and e.at <= now for e in mine)
        opened = [e for e in mine if e.kind == "opened" and e.at <= now]
        assert book.last(build, piece, ("opened",), now) == (opened[-1] if opened else None)
    told = [e for e in book.standing if e.celsius is not None and e.at <= now]
    assert (book.last_measured(now) is None) == (not told)


@settings(max_examples=25)
@given(logs(), st.integers(0, 22_000))
def test_a_status_says_the_same_of_a_log_and_of_its_book_and_keeps_its_own_rules(session_plan, entries, minutes):
    now = START + timedelta(minutes=minutes)
    made = status(session_plan, Book(entries), now)
    assert made == status(session_plan, tuple(entries), now)
    for bar in made.bars:
        assert bar.start < bar.end or bar.ended
        if not bar.planned:
            assert bar.start <= now
            assert bar.ended or bar.end >= now
    for build_plan in session_plan.builds:
        wet = [b for b in made.bars if b.build == build_plan.build.id and not b.planned and not b.ended]
        assert (made.states[build_plan.build.id] in ("wet", "set", "firm")) or not wet


@pytest.fixture(scope="module")
def session_plan(demo_document, demo_facts):
    from homunculus.core.session import Session

    return Session(demo_document.job, demo_facts, demo_document.pins).plan()


def test_a_temperature_told_within_the_hour_holds_and_a_measured_night_holds_for_as_long_as_it_lasted(demo_document):
    now = START.replace(hour=23)
    job = demo_document.job
    assert measured_air(job, Book(), now) == job.shop.air.night_c
    told = LogEvent("t", now - timedelta(minutes=50), "poured", celsius=17.5)
    assert measured_air(job, Book([told]), now) == 17.5
    assert measured_air(job, Book([told]), now + timedelta(minutes=30)) == job.shop.air.night_c
    night = LogEvent("n", now - timedelta(hours=5), "measured", celsius=9.0, until=now + timedelta(hours=9))
    assert measured_air(job, Book([night]), now) == 9.0
    assert measured_air(job, Book([night]), now + timedelta(hours=10)) == job.shop.air.day_c


def test_an_opening_without_a_pour_or_after_a_spoiled_one_has_no_promise(demo_document):
    job = demo_document.job
    made = plan(job, {}).build("keeper")
    opened = LogEvent("o", START + timedelta(days=2), "opened", "", "keeper", "cheek")
    poured = LogEvent("p", START, "poured", "", "keeper", "cheek")
    spoiled = LogEvent("s", START + timedelta(hours=3), "spoiled", "", "keeper", "cheek")
    assert promise(job, made, Book([opened]), opened) is None
    assert promise(job, made, Book([poured, spoiled, opened]), opened) is None
    told = promise(job, made, Book([poured, opened]), opened)
    assert told.promised == told.known
    assert told.late_s == (opened.at - told.promised).total_seconds()
    assert promise(job, made, Book([poured, opened]), replace(opened, op="trim")) is None, "nothing is mixed there"


@given(
    st.lists(st.tuples(st.integers(0, 2000), st.integers(1, 600), st.floats(0, 40)), max_size=30), st.integers(0, 2600)
)
def test_the_air_at_a_moment_is_the_air_of_the_step_that_it_lies_in(spans, minute):
    air = Nights(
        Daily(Air()), [(START + timedelta(minutes=a), START + timedelta(minutes=a + n), c) for a, n, c in spans]
    )
    moment = START + timedelta(minutes=minute)
    assert next(iter(air.steps(moment)))[1] == air.at(moment)


# ----------------------------------------------------------------------------------------- weighing
THREE = Recipe("oldclaw", "claw", "", "claw", (Part("A", 100), Part("B", 10), Part("pigment", 2)), 2.0, 4, 0.6, 0.03)


class AtTheScale(RuleBasedStateMachine):
    """Any order of pours, emptied cups and power cuts."""

    def __init__(self):
        super().__init__()
        self.weighing = Weighing(THREE)
        self.log = []
        self.poured = 0.0

    @precondition(lambda self: not self.weighing.finished and self.weighing.next_part is not None)
    @rule(share=st.floats(0.05, 1.5))
    def pour(self, share):
        before, index = self.weighing, self.weighing.next_part
        mass = max(1e-6, (before.targets[index] - before.held(index)) * share)
        self.weighing = before.pour(mass)
        self.poured += mass
        name = THREE.parts[index].name
        self.log.append(LogEvent(f"w{len(self.log)}", START + timedelta(seconds=len(self.log)), "weighed", "", "oldclaw", "claw",
                                 weights_kg={name: mass}, batch=before.batch))  # fmt: skip
        said = phrase(what_it_did(before, self.weighing))
        assert not said or said.startswith(name)

    @precondition(lambda self: not self.weighing.finished and self.weighing.next_part is None)
    @rule()
    def empty_the_cup(self):
        self.weighing = self.weighing.empty_cup()

    @precondition(lambda self: self.weighing.finished)
    @rule()
    def begin_the_next_pour(self):
        self.log.append(
            LogEvent(f"w{len(self.log)}", START + timedelta(seconds=len(self.log)), "poured", "", "oldclaw", "claw")
        )
        self.log = Book(self.log).since_end("oldclaw", "claw", ("",))
        self.weighing, self.poured = Weighing(THREE), 0.0

    @invariant()
    def nothing_is_lost(self):
        assert sum(map(sum, self.weighing.done)) + sum(self.weighing.cup) == pytest.approx(self.poured)

    @invariant()
    def what_is_done_is_in_proportion(self):
        for batch in self.weighing.done:
            per = [mass / part.parts for mass, part in zip(batch, THREE.parts, strict=True)]
            assert max(per) / min(per) <= 1 / (1 - THREE.tolerance) + 1e-9

    @invariant()
    def the_targets_ask_for_no_less_than_is_in_the_cup(self):
        for index, target in enumerate(self.weighing.targets):
            assert self.weighing.held(index) <= target * (1 + 1e-9)
            low, high = self.weighing.band(index)
            assert low <= target <= high

    @invariant()
    def a_power_cut_changes_nothing(self):
        again = resume(THREE, self.log)
        if self.weighing.cup:
            assert flat(again.done) == pytest.approx(flat(self.weighing.done))
            held = [again.held(i) for i in range(len(THREE.parts))]
            assert held == pytest.approx([self.weighing.held(i) for i in range(len(THREE.parts))])
        elif self.weighing.done:  # the cup was emptied and nothing poured since: it counts as the last batch still
            assert flat((*again.done, again.cup)) == pytest.approx(flat(self.weighing.done))


def flat(batches):
    return [mass for batch in batches for mass in batch]


TestAtTheScale = AtTheScale.TestCase
