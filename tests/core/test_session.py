"""History, gestures, pins and memory."""

from datetime import datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.edits.decisions import decide, find_decision
from homunculus.core.plan.memory import Last
from homunculus.core.session import MOST_STEPS, Session
from tests.strategies import jobs


def scaled(session, build_id, value):
    return decide(session.job, find_decision(session.job, build_id, "scale"), value)


def test_one_gesture_is_one_step(session):
    before, gesture = session.job, object()
    for value in (11.0, 10.0, 9.0, 8.0):
        session.edit("scale", scaled(session, "lighthouse", value), gesture)
    assert session.job.build("lighthouse").scale == 8.0
    assert session.undo()
    assert session.job == before
    assert session.redo()
    assert session.job.build("lighthouse").scale == 8.0


def test_a_value_pulled_away_and_back_is_no_step_and_pulled_on_is_one(session):
    session.edit("before", scaled(session, "lighthouse", 10.0))
    gesture = object()
    for value in (9.0, 10.0):
        session.edit("scale", scaled(session, "lighthouse", value), gesture)
    assert session.undo_name == "before"
    for value in (8.0, 10.0, 7.0, 6.0):
        session.edit("scale", scaled(session, "lighthouse", value), gesture)
    assert session.undo_name == "scale"
    session.undo()
    assert (session.undo_name, session.job.build("lighthouse").scale) == ("before", 10.0)
    session.redo()
    assert session.job.build("lighthouse").scale == 6.0


def test_the_next_gesture_is_its_own_step(session):
    for value in (10.0, 8.0):
        session.edit("scale", scaled(session, "lighthouse", value), object())
    session.undo()
    assert session.job.build("lighthouse").scale == 10.0


def test_an_edit_after_undo_forgets_what_was_undone(session):
    session.edit("a", scaled(session, "lighthouse", 10.0))
    session.undo()
    session.edit("b", scaled(session, "lighthouse", 9.0))
    assert not session.can_redo
    assert session.undo_name == "b"


def test_an_edit_that_changes_nothing_is_no_step(session):
    assert not session.edit("same", replace(session.job))
    assert not session.can_undo
    assert not session.undo()
    assert not session.redo()


def test_history_is_bounded_and_each_step_back_is_one_edit_under_its_own_name(session):
    for i in range(MOST_STEPS + 20):
        session.edit(f"job {i}", replace(session.job, name=f"job {i}"))
    steps = 0
    while session.can_undo:
        assert session.undo_name == session.job.name
        session.undo()
        steps += 1
    assert steps == MOST_STEPS


def test_a_one_build_edit_leaves_the_plans_of_the_others_as_they_were(session):
    before = session.plan()
    session.edit("scale", scaled(session, "lighthouse", 8.0))
    after = session.plan()
    changed = [a.build.id for a, b in zip(after.builds, before.builds, strict=True) if a is not b]
    assert changed == ["lighthouse", "ferry"]  # that stands in two sets with it, which go by its scale
    session.edit("scale", scaled(session, "gulls", 2.0))
    changed = [a.build.id for a, b in zip(session.plan().builds, after.builds, strict=True) if a is not b]
    assert changed == ["gulls"]


def test_one_price_and_one_learned_mesh_replan_their_users_and_nothing_else(session):
    def changed(edit):
        before = session.plan()
        edit()
        return [a.build.id for a, b in zip(session.plan().builds, before.builds, strict=True) if a is not b]

    price = find_decision(session.job, "lighthouse", "card.silicone-tin-soft.price_per_kg")
    used = {
        b.id
        for b in session.job.builds
        for p in b.pieces
        if p.mould and "silicone-tin-soft" in (*p.mould.materials, p.material)
    }
    assert set(changed(lambda: session.edit("price", decide(session.job, price, 99.0)))) == used
    assert 0 < len(used) < len(session.job.builds)
    content, fact = next(iter(session.facts.items()))
    meshed = {b.id for b in session.job.builds for p in b.pieces if getattr(p.form, "content", "") == content}
    assert set(changed(lambda: session.learn(replace(fact, band=fact.band * 2)))) == meshed
    assert len(meshed) == 1
    whole = session.plan()
    assert session.plan().coverage is whole.coverage
    assert session.plan().standing is whole.standing
    assert session.plan().whole is whole.whole


def test_a_shop_edit_reaches_every_build(session):
    before = session.plan()
    decision = find_decision(session.job, "lighthouse", "shop.night_c")
    session.edit("night", decide(session.job, decision, 9.0))
    assert all(a is not b for a, b in zip(session.plan().builds, before.builds, strict=True))


def test_a_pin_keeps_the_job_and_its_figures(session):
    pin = session.pin(datetime(2026, 2, 24, 9, 10))
    session.edit("scale", scaled(session, "lighthouse", 8.0))
    assert pin.number == 2
    assert session.pinned_build("lighthouse").build.scale == 12.0
    assert session.plan().build("lighthouse").build.scale == 8.0


def test_a_fact_is_learned_for_every_build_at_once(session, demo_facts):
    fresh = Session(session.job)
    assert {w.name for w in fresh.plan().wants()} == {
        "tower.stl", "gallery.stl", "breakwater.stl", "ferry.stl", "crab.stl", "claw.stl",
    }  # fmt: skip
    for fact in demo_facts.values():
        fresh.learn(fact)
    assert not fresh.plan().wants()


@given(jobs(), st.lists(st.sampled_from([2.0, 5.0, 9.0, 15.0]), max_size=6))
def test_undoing_everything_gives_back_the_very_job_and_redoing_the_last(job, values):
    session = Session(job)
    for value in values:
        session.edit("scale", scaled(session, job.builds[0].id, value))
    last, planned = session.job, session.plan()
    if session.undo():
        session.plan()
        session.redo()
        assert session.plan() is planned, "what was planned of it before"
    while session.undo():
        pass
    assert session.job == job
    while session.redo():
        pass
    assert session.job == last


@pytest.mark.parametrize(
    "wrong",
    [{"thicknesses": (0.0, 0.2, 0.1)}, {"depths": (0.0, 0.5, 0.5)}, {"volume": 0.0}, {"area": 0.0}, {"size": (1.0, 0.0, 1.0)},
     {"outward_ratio": (0.0, 0.5)}, {"outward_ratio": (0.0, -0.1, 0.5)}, {"inward_ratio": (0.0, 0.5)},
     {"thicknesses": (0.0, 0.1), "outward_ratio": (0.0, 0.1)}, {"depths": (0.0, 1.0), "inward_ratio": (0.0, 1.0)}],
)  # fmt: skip
def test_a_study_whose_numbers_cannot_be_those_of_a_form_is_made_again(demo_facts, wrong):
    whole = replace(next(iter(demo_facts.values())), thicknesses=(0.0, 0.1, 0.2), outward_ratio=(0.0, 0.5, 1.1), depths=(0.0, 0.5, 1.0),
                    inward_ratio=(0.0, 0.8, 1.0))  # fmt: skip
    assert whole.sound
    assert not replace(whole, **wrong).sound


@pytest.mark.parametrize("what", ["open_edges", "turned_edges", "inside_out"])
def test_what_is_torn_or_turned_can_be_mended(demo_facts, what):
    whole = replace(next(iter(demo_facts.values())), open_edges=0, turned_edges=0, inside_out=0)
    assert not whole.torn
    assert replace(whole, **{what: 1}).torn


def test_of_many_builds_those_looked_at_are_planned_first_and_the_rest_when_there_is_time(demo_document, demo_facts):
    session = Session(demo_document.job, demo_facts)
    whole = session.plan()
    hasty = Session(demo_document.job, demo_facts)
    hasty.patience_s = 0.0
    hasty.look_at("gulls")
    made = hasty.plan()
    assert made.left == {b.id for b in demo_document.job.builds} - {"gulls"}
    assert made.build("gulls").find(specs.READY).value == whole.build("gulls").find(specs.READY).value
    assert (made.build("ferry").held, made.build("ferry").figures) == ("being reckoned", ())
    assert hasty.plan() is made, "nothing is planned again while nothing is asked for"
    hasty.look_at("ferry")
    assert hasty.plan().left == made.left - {"ferry"}, "what was planned stays"
    hasty.patience_s = 60.0
    hasty.go_on()
    assert not hasty.plan().left
    late = Session(demo_document.job, demo_facts)
    late.patience_s = 0.0
    assert [f.value for f in late.plan().whole] == [f.value for f in whole.whole], (
        "what speaks of the whole job waits for all of it"
    )
    assert not late.plan().left


def test_what_was_last_made_is_handed_back_while_all_that_it_was_made_of_is_the_same():
    last, made, things = Last(), [], [1]

    def get(*of):
        return last.get(of, lambda: made.append(of))  # nothing is a result too

    get(things, "metric", 1500, datetime(2026, 3, 2))
    get(things, "".join(["met", "ric"]), int("1500"), datetime(2026, 3, 2))
    assert len(made) == 1, "texts, numbers and days are the same when they are equal"
    for of in ((things, "metric", 1500), ([1], "metric", 1500), ([1], "metric", 1501), ([1], "imperial", 1501), ()):
        before = len(made)
        get(*of)
        assert len(made) == before + 1, of
    get()
    assert len(made) == 6
