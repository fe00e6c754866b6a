"""Decisions: found by name, bounded by the job's own types, changed by replacement."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.edits.decisions import bounds, decide, decide_typed, decisions, find_decision
from homunculus.core.errors import UserError
from homunculus.core.job.build import piece_of
from homunculus.core.job.moulds import JacketMould


def test_every_decision_can_be_set_to_its_own_value_and_changes_nothing(session):
    for build in session.job.builds:
        for decision in decisions(session.job, build.id):
            assert decide(session.job, decision, decision.value) == session.job, decision.key


def test_every_decision_moves_and_only_it(session):
    for decision in decisions(session.job, "lighthouse"):
        value = decision.value * decision.step if decision.ratio else decision.value + decision.step
        after = decide(session.job, decision, value)
        changed = [d.key for d, e in zip(decisions(after, "lighthouse"), decisions(session.job, "lighthouse"), strict=True)
                   if d.value != e.value]  # fmt: skip
        follows = (
            [f"worn:{decision.piece}"] if decision.key.startswith("copies:") else []
        )  # while nobody has said how many
        assert changed == [decision.key, *follows]


def test_a_value_beyond_its_bounds_is_refused_with_the_limits(session):
    decision = find_decision(session.job, "lighthouse", "blanket_m:gallery")
    with pytest.raises(UserError) as refusal:
        decide(session.job, decision, 0.5)
    assert "0.500" in str(refusal.value).replace("\u00a0", " ")
    assert "200" in str(refusal.value)


def test_bounds_come_from_the_type():
    assert bounds(JacketMould, "blanket_m") == (0.0005, 0.2)


def test_typed_values_are_understood_in_their_unit(session):
    decision = find_decision(session.job, "lighthouse", "blanket_m:gallery")
    for text, system, metres in (("12 mm", "metric", 0.012), ("1/2 in", "metric", 0.0127), ("1/2", "imperial", 0.0127)):
        job = decide_typed(session.job, decision, text, system)
        assert piece_of(job.build("lighthouse"), "gallery").mould.blanket_m == pytest.approx(metres)
    insert = find_decision(session.job, "oldclaw", "enlarged:claw")
    job = decide_typed(session.job, insert, "300 %", "metric")
    assert piece_of(job.build("oldclaw"), "claw").enlarged == 3.0


def test_an_unknown_decision_or_build_is_named(session):
    with pytest.raises(UserError, match="wobble"):
        find_decision(session.job, "lighthouse", "wobble")
    with pytest.raises(UserError, match="Choose one of: lighthouse"):
        session.job.build("nowhere")
    with pytest.raises(UserError, match="no piece"):
        piece_of(session.job.build("lighthouse"), "nothing")


@given(st.floats(0.0005, 0.2))
def test_any_thickness_in_bounds_is_taken(demo_document, thickness):
    decision = find_decision(demo_document.job, "lighthouse", "blanket_m:gallery")
    job = decide(demo_document.job, decision, thickness)
    assert find_decision(job, "lighthouse", "blanket_m:gallery").value == thickness
