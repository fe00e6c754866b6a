"""The order of wear: what comes too late, and the least-wear order against every order there is."""

from __future__ import annotations

from datetime import date, timedelta
from itertools import groupby, permutations, product

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.floor.wear import FRESH, GONE, SOILED, Beat, beats, least_wear, take_order, walk

DAY = date(2026, 3, 17)
touch = st.tuples(st.sampled_from([("b", "x"), ("b", "y"), ("b", "z")]),
                  st.sampled_from([(FRESH, FRESH), (SOILED, SOILED), (SOILED, GONE)])).map(lambda t: (t[0], *t[1]))  # fmt: skip


@st.composite
def days_of_beats(draw):
    found = []
    for d in range(draw(st.integers(1, 2))):
        for i in range(draw(st.integers(1, 5))):
            touches = draw(st.lists(touch, max_size=3, unique_by=lambda t: t[0]))
            found.append(Beat(f"{d}.{i}", DAY + timedelta(days=d), tuple(touches)))
    return found


def every_order(order):
    """All orders that keep each beat on its day."""
    days = [list(group) for _, group in groupby(order, key=lambda b: b.day)]
    for choice in product(*(permutations(day) for day in days)):
        yield [beat for day in choice for beat in day]


@given(days_of_beats())
def test_no_order_within_the_days_leaves_fewer_late_uses(order):
    proposal = least_wear(order)
    by_id = {b.shot: b for b in order}
    assert [by_id[i].day for i in proposal.order] == [b.day for b in order]
    assert sorted(proposal.order) == sorted(by_id)
    assert proposal.exact
    assert len(proposal.late_after) == len(walk([by_id[i] for i in proposal.order])[0])
    assert len(proposal.late_after) == min(len(walk(o)[0]) for o in every_order(order))


def beat(shot, *touches):
    return Beat(shot, DAY, touches)


X, Y = ("b", "x"), ("b", "y")


def test_a_close_up_after_the_rope_is_named_with_who_did_it():
    late, course = walk([beat("14", (X, SOILED, SOILED)), beat("13", (X, FRESH, FRESH)), beat("15", (X, SOILED, GONE)),
                         beat("16", (X, SOILED, SOILED))])  # fmt: skip
    assert [(x.shot, x.level, x.spoiled_by) for x in late] == [("13", SOILED, "14"), ("16", GONE, "15")]
    assert course[X] == [SOILED, SOILED, GONE, GONE]


def test_an_order_that_ruins_nothing_stays_as_it_is():
    order = [beat("b", (X, FRESH, FRESH)), beat("a"), beat("c", (X, SOILED, SOILED)), beat("d", (Y, SOILED, GONE))]
    proposal = least_wear(order)
    assert proposal.order == ("b", "a", "c", "d")
    assert proposal.moved == ()


def test_a_circle_is_broken_where_it_costs_least():
    circle = [beat("a", (X, FRESH, FRESH), (Y, SOILED, SOILED)), beat("b", (Y, FRESH, FRESH), (X, SOILED, SOILED))]
    assert len(least_wear(circle).late_after) == 1
    assert least_wear(circle).moved == ()  # one is late either way, so nothing moves


def test_a_circle_too_large_to_search_says_so():
    items = [("b", str(i)) for i in range(16)]
    ring = [beat(str(i), (items[i], FRESH, FRESH), (items[i - 1], SOILED, SOILED)) for i in range(16)]
    assert not least_wear(ring).exact


def test_the_demo_spoils_the_crab_before_its_close_up(demo_document):
    job = demo_document.job
    proposal = least_wear(beats(job.shots, job.builds))
    assert [(x.shot, x.item, x.spoiled_by) for x in proposal.late_before] == [("13", ("oldclaw", "crab"), "14")]
    assert proposal.late_after == ()
    assert [(day, after) for day, _, after in proposal.moved] == [(date(2026, 3, 25), ("13", "14"))]
    taken = take_order(job, proposal.order)
    assert least_wear(beats(taken.shots, taken.builds)).moved == ()
    assert {s.id: s.day for s in taken.shots} == {s.id: s.day for s in job.shots}


def test_copies_that_are_broken_spare_the_thing_itself(demo_document):
    job = demo_document.job
    third = next(b for b in beats(job.shots, job.builds) if b.shot == "3")
    assert ("lighthouse", "gallery") not in [item for item, _, _ in third.touches]


@pytest.mark.parametrize("wear", ["pristine", "soiling"])
def test_a_whole_build_in_a_shot_is_all_of_its_pieces(demo_document, wear):
    job = demo_document.job
    twelfth = next(b for b in beats(job.shots, job.builds) if b.shot == ("12" if wear == "soiling" else "11"))
    assert {item[1] for item, _, _ in twelfth.touches} == {"body", "wing", "far-wing"}
    assert {leaves for _, _, leaves in twelfth.touches} == {SOILED if wear == "soiling" else FRESH}
