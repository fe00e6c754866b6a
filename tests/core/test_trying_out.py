"""What would be otherwise: warmer is never later, an oven hurries the mould and not the cup, recorded air is air."""

import math
from datetime import datetime, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.cure.clock import clock_of, mould_clock
from homunculus.core.cure.curve import WhatIf, cure_curve, cure_steps, moment
from homunculus.core.cure.record import Record
from homunculus.core.cure.temperature import Constant, Daily
from homunculus.core.job.cards import Cards
from homunculus.core.job.operations import Hands
from homunculus.core.job.shop import Air
from homunculus.core.job.sourced import Sourced
from homunculus.core.log import Book, LogEvent
from homunculus.core.plan.cautions import lift_words, step_minds
from homunculus.core.plan.course import CureCourse
from homunculus.core.plan.job_plan import plan
from homunculus.core.plan.status import status
from homunculus.core.session import Session

CARDS = {card.id: card for card in library.materials()}
CURING = [card for card in CARDS.values() if card.demould_s and card.pot_life_s and card.clock == "chemical"]
POUR = datetime(2026, 2, 24, 14)
AIR = Air(21.0, 14.0)


@given(st.sampled_from(CURING), st.floats(10, 20), st.floats(0, 15), st.floats(0, 4 * 3600))
def test_a_warmer_night_never_opens_later(card, night, warmer, lag):
    cold, warm = (cure_steps(card, Daily(Air(21.0, c)), POUR, lag) for c in (night, night + warmer))
    assert all(w.here <= c.here * (1 + 1e-9) for w, c in zip(warm, cold, strict=True))


@given(st.sampled_from(CURING), st.floats(25, 80), st.floats(0, 4 * 3600))
def test_an_oven_hurries_the_mould_and_leaves_the_cup_alone(card, oven, lag):
    usual = Daily(AIR)
    room = {s.name: s.here for s in cure_steps(card, usual, POUR, lag)}
    hot = {s.name: s.here for s in cure_steps(card, WhatIf(oven_c=oven).programme(usual, AIR), POUR, lag, usual)}
    assert hot["gels"] == room["gels"]
    assert hot["opens"] <= room["opens"] + 1e-6
    assert hot["opens"] >= cure_steps(card, Constant(oven), POUR, 0.0)[1].here - 1e-6  # the mould has to warm first


@given(st.sampled_from(CURING), st.integers(0, 72))
def test_stages_come_in_their_order_whenever_it_is_poured(card, hours):
    times = [s.here for s in cure_steps(card, Daily(AIR), POUR + timedelta(hours=hours), 3600.0)]
    books = [s.book for s in cure_steps(card, Daily(AIR), POUR, 3600.0)]
    assert books == sorted(books)
    assert times == sorted(times)


def test_at_its_book_temperature_a_cure_takes_its_book_time():
    for card in CURING:
        for step in cure_steps(card, Constant(card.reference_c), POUR, 3600.0):
            assert step.here == pytest.approx(step.book, rel=1e-6)


def test_an_oven_wakes_what_is_baked_and_a_cold_bench_firms_what_gels():
    foam, gelatin, plaster = (
        next(c for c in library.materials() if c.id == i) for i in ("foam-latex", "gelatin-firm", "gypsum-fine")
    )
    opens = {s.name: s.here for s in cure_steps(foam, Daily(AIR), POUR, 3600.0)}["opens"]
    assert math.isinf(opens)
    baked = {s.name: s.here for s in cure_steps(foam, Constant(85.0), POUR, 3600.0, Daily(AIR))}["opens"]
    assert (
        foam.demould_s.value + 3600 < baked < foam.demould_s.value + 4 * 3600
    )  # the mould warms first: a few of its lags
    assert baked - foam.demould_s.value == pytest.approx(3600 * math.log((85 - AIR.day_c) / 3), rel=0.01)
    cold, mild, hot = (
        clock_of(gelatin, thickness=0.008).time(book=1, programme=Constant(c), start=POUR, lag=0)
        for c in (8.0, 20.0, 31.0)
    )
    assert cold < mild
    assert math.isinf(hot)
    assert mild == pytest.approx(4 / math.pi**2 * 457 * math.log(4 / math.pi * (60 - 20) / (30 - 20)), rel=0.002)
    for celsius in (15.0, 30.0):
        assert cure_steps(plaster, Constant(celsius), POUR, 3600.0)[1].here == pytest.approx(plaster.demould_s.value)


def test_drying_goes_with_thickness_squared_and_the_airs_moisture_and_not_with_the_rule_of_ten():
    latex = next(c for c in library.materials() if c.id == "latex-slush")

    def hours(thickness, humidity=0.5, celsius=23.0):
        clock = clock_of(latex, thickness=thickness, humidity=humidity)
        return clock.time(book=latex.demould_s.value, programme=Constant(celsius), start=POUR, lag=0.0) / 3600

    assert hours(0.002) == pytest.approx(24.0)
    assert hours(0.004) == pytest.approx(96.0)
    assert hours(0.002, 0.75) == pytest.approx(48.0)
    assert hours(0.002, celsius=13.0) == pytest.approx(24.0)
    assert math.isinf(hours(0.002, 0.97))


def test_nothing_tried_is_what_is():
    assert not WhatIf().any
    assert WhatIf(night_c=18.0).any
    usual = Daily(AIR)
    assert WhatIf(start=POUR).programme(usual, AIR) is usual
    assert WhatIf(night_c=18.0).programme(usual, AIR).at(POUR.replace(hour=23)) == 18.0


@given(st.sampled_from(CURING), st.floats(0, 3 * 3600), st.floats(0.2, 2.0))
def test_a_curve_is_monotone_follows_the_air_and_ends_where_it_was_told_to(card, lag, longer):
    book = card.demould_s.value
    points = cure_curve(book=book, clock=clock_of(card), programme=Daily(AIR), start=POUR, lag=lag, until=book * longer)
    assert points[-1].seconds == pytest.approx(book * longer)
    assert [p.seconds for p in points] == sorted(p.seconds for p in points)
    assert [p.done for p in points] == sorted(p.done for p in points)
    assert all(13.999 <= p.mould <= 21.001 for p in points)
    if lag == 0:
        assert all(p.mould == pytest.approx(p.air) for p in points[1:])


def test_what_never_ends_has_no_moment():
    assert moment(POUR, float("inf")) is None
    assert moment(POUR, 60.0) == POUR + timedelta(minutes=1)
    frozen = next(c for c in CURING if c.least_c)
    assert cure_steps(frozen, Constant(frozen.least_c.value - 5), POUR, 0.0)[1].here == float("inf")


@given(st.lists(st.tuples(st.floats(60, 7200), st.floats(-10, 40)), min_size=1, max_size=60))
def test_the_stretches_of_a_record_lie_in_order_inside_it_and_leave_its_gaps_out(steps):
    times, series = 0.0, []
    for step, celsius in steps:
        times += step
        series.append((times, celsius))
    record = Record(POUR, ((0.0, 20.0), *series))
    spans = record.spans()
    assert all(a < b for a, b, _ in spans)
    assert all(first[1] <= second[0] + timedelta(milliseconds=1) for first, second in pairwise(spans))
    assert not spans or (spans[0][0] >= record.first and spans[-1][1] <= record.last)
    for low, high in record.gaps():
        assert not any(a < low + (high - low) / 2 < b for a, b, _ in spans)


# ---------------------------------------------------------------------------------------- hazards
def test_every_chemical_step_has_its_caution_and_each_says_who_decides():
    cards = Cards(tuple(CARDS.values()), hazards=library.hazards())
    for kind, step, said in (
        ("resin", "weigh", "Isocyanates"), ("gypsum", "mix", "sift into the water"), ("gypsum", "cure", "never encase a limb"),
        ("laminate", "mould", "Styrene"), ("alginate", "weigh", "second person"), ("foam latex", "cure", "never again one for food"),
        ("latex", "mix", "Ammonia"), ("gelatin", "weigh", "wrist"), ("silicone", "cure", "patch-tested"),
    ):  # fmt: skip
        card = next(c for c in CARDS.values() if c.family == kind)
        words = cards.cautions(card, step)
        assert any(said in w for w in words), (kind, step)
        assert all("Decides: " in w for w in words if w not in card.cautions)
    assert len({h.id for h in cards.hazards}) == len(cards.hazards)
    assert not any(word in h.words.lower() for h in cards.hazards for word in ("recipe", "gunpowder"))


def test_what_two_cannot_carry_brings_the_hoist_and_its_caution(demo_document, demo_facts):
    job = demo_document.job
    made = plan(job, demo_facts)
    for step in ("mix", "cure"):
        assert not step_minds(job, made.build("lighthouse"), step)
    light = step_minds(job, made.build("lighthouse"), "mould")
    assert any("Styrene" in m.why[0] for m in light)
    assert not any("hoist" in m.why[0] for m in light)
    weak = replace(job, shop=replace(job.shop, carry_kg=2.0))
    heavy = step_minds(weak, plan(weak, demo_facts).build("lighthouse"), "mould")
    assert any("hoist" in m.why[0] for m in heavy)
    assert len({m.why for m in heavy}) == len(heavy)
    weight = plan(job, demo_facts).build("lighthouse").find(specs.MOULD_WEIGHT, "gallery").number
    for carry, hoist, words, levels in ((weight, 99.0, "two can lift it", []), (weight * 0.99, weight, "for the hoist", ["mind"]),
                                        (weight * 0.5, weight * 0.99, "too heavy for the hoist", ["mind", "danger"])):  # fmt: skip
        shop = replace(job.shop, carry_kg=carry, hoist_kg=hoist)
        told = step_minds(replace(job, shop=shop), plan(job, demo_facts).build("lighthouse"), "mould")
        assert lift_words(weight, shop) == words
        assert [m.level for m in told if "lift" in str(m.headline) or "hoist" in str(m.headline)] == levels


def test_what_is_said_of_a_build_brings_its_cautions_and_nothing_else_does(demo_document):
    """By the build's kind, by words of its steps and shots, by families; a word within another word is none."""
    job = demo_document.job
    job = replace(job, builds=tuple(replace(b, kind="creature-suit") if b.id == "keeper" else b for b in job.builds))

    def told(of, station):
        return " ".join(m.why[0] for m in step_minds(of, plan(of, {}).build("keeper"), station))

    assert "Out of the suit in seconds" in told(job, "shoot")
    assert "Over heads" not in told(job, "shoot")
    mine = next(s for s in job.shots if "keeper" in s.builds)
    for words, said in (
        ("the keeper is lowered by a crane", True),
        ("the keeper is flown", True),
        ("a craneless night", False),
    ):
        shots = tuple(replace(s, name=words) if s.id == mine.id else s for s in job.shots)
        assert ("Over heads" in told(replace(job, shots=shots), "shoot")) == said, words
    assert "Brazing and soldering fume" not in told(job, "mould")
    build = job.build("keeper")
    sanded = replace(build, assembly=(*build.assembly, Hands("frame", "braze the frame", work_s=3600.0)))
    job = replace(job, builds=tuple(sanded if b.id == "keeper" else b for b in job.builds))
    assert "Brazing and soldering fume" in told(job, "mould")


@pytest.mark.parametrize("kind", ["moisture", "dried", "hydrated", "chemical"])
def test_plan_log_stages_and_curve_give_one_opening_whatever_runs_the_clock(demo_document, demo_facts, kind):
    """A card that a shop made itself, in damp air: all four ask the same clock."""
    job = demo_document.job
    card = replace(job.cards.material("silicone-tin-soft"), id="own", clock=kind, at_thickness_m=Sourced(0.008, "own"))
    build = job.build("keeper")
    piece = build.pieces[0]
    piece = replace(piece, mould=replace(piece.mould, rubber="own"))
    made = replace(job, builds=tuple(replace(b, pieces=(piece, *b.pieces[1:])) if b.id == "keeper" else b for b in job.builds),
                   cards=replace(job.cards, materials=(*job.cards.materials, card)),
                   shop=replace(job.shop, air=replace(job.shop.air, humidity=0.65)))  # fmt: skip
    session = Session(made, demo_facts)
    planned = session.plan().build("keeper")
    poured, opens, cure = (planned.find(s, piece.id, op="rubber") for s in (specs.POURED, specs.OPENS, specs.CURE))
    entry = LogEvent("1", poured.value, "poured", "", build="keeper", piece=piece.id)
    bars = status(session.plan(), (entry,), poured.value + timedelta(minutes=1)).bars
    bar = next(b for b in bars if not b.planned and b.piece == piece.id)
    assert bar.opens == opens.value
    clock, air, lag = mould_clock(card, piece.mould, made.shop.air), Daily(made.shop.air), piece.mould.lag_s
    step = next(s for s in cure_steps(card, air, poured.value, lag, clock=clock) if s.name == "opens")
    assert step.here == pytest.approx(cure.number)
    book = card.demould_s.value
    curve = cure_curve(book=book, clock=clock, programme=air, start=poured.value, lag=lag, until=cure.number)
    assert curve[-1].done == pytest.approx(1.0, abs=1e-3)
    assert (cure.number > 1.2 * book) == (kind != "hydrated")  # its wall, or the cold night


def test_the_course_of_a_pour_is_that_of_the_plan_and_what_is_tried_stands_beside_it(demo_document, demo_facts, now):
    session, book = Session(demo_document.job, demo_facts), Book()
    made = session.plan().build("ferry")
    pour = made.pour("hull", "rubber-1")

    def course(what_if=WhatIf()):  # noqa: B008
        return CureCourse.of(session.job, made, status(session.plan(), book, now), book, pour, what_if)

    plain = course()
    assert plain.start == made.find(specs.POURED, "hull", op=pour.op).value
    assert abs(plain.opens(plain.start, plain.planned) - made.find(specs.OPENS, "hull", op=pour.op).value) < timedelta(
        minutes=1
    )
    assert (plain.trial, plain.tried, plain.tried_later_s, plain.shift_min, plain.poured) == ((), (), None, 0.0, False)
    assert plain.points[-1].seconds == pytest.approx(1.25 * plain.planned[1].here, rel=0.02)
    later = course(WhatIf().shifted(plain.start, 95.0))
    assert later.shift_min == 90.0, "half hours"
    assert later.tried_later_s == pytest.approx(
        (later.opens(later.tried_from, later.trial) - plain.opens(plain.start, plain.planned)).total_seconds()
    )
    hot = course(WhatIf().with_oven(60.4))
    assert hot.tried_later_s < -3600
    first, last = hot.window()
    assert first == hot.start - timedelta(hours=1)
    assert last == hot.start + timedelta(seconds=max(hot.points[-1].seconds, hot.tried[-1].seconds), hours=1)
    assert WhatIf().with_oven(29.4) == WhatIf()
    assert WhatIf().with_nights(session.job.shop.air.night_c + 0.2, session.job.shop.air) == WhatIf()
    assert WhatIf().shifted(plain.start, 10 * 24 * 60).start - plain.start == timedelta(days=4)
    assert course(WhatIf(night_c=18.0)).tried_later_s < 0
    never = replace(pour, setting=None)
    assert CureCourse.of(session.job, made, status(session.plan(), book, now), book, never, WhatIf()) is None
