"""One decision through every figure behind it."""

from datetime import datetime, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.edits.decisions import decide, find_decision, replace_build, replace_piece
from homunculus.core.job.build import Intercut, piece_of
from homunculus.core.job.moulds import JacketMould
from homunculus.core.job.shots import FixedRate, Gravity, Shot, whole
from homunculus.core.plan.job_plan import plan
from homunculus.core.showing import show
from tests.strategies import jobs


def build_at(session, scale, build="lighthouse"):
    session.edit("scale", decide(session.job, find_decision(session.job, build, "scale"), scale))
    return session.plan().build(build)


def test_the_scale_moves_rate_speed_rubber_batches_opening_and_slack_together(session):
    before = session.plan().build("lighthouse")
    after = build_at(session, 8.0)
    for spec, piece, direction in (
        (specs.BUILD_RATE, "", -1), (specs.RUBBER, "gallery", 1),
        (specs.HEIGHT, "", 1), (specs.WEIGHT, "", 1), (specs.SLACK, "", -1),
        (specs.RUBBER_COST, "gallery", 1), (specs.JACKET, "gallery", 1), (specs.WAVE, "", 1),
    ):  # fmt: skip
        a, b = before.find(spec, piece).number, after.find(spec, piece).number
        assert (b - a) * direction > 0, spec.name
    for spec in (specs.BATCHES, specs.OPENS):
        a, b = (made.find(spec, "gallery", op="rubber-1").value for made in (before, after))
        assert b > a, spec.name
    speeds = [made.find(specs.SPEED, shot="2", move="ferry").number for made in (before, after)]
    assert speeds[1] > speeds[0]


def test_check_values_of_the_lighthouse_at_one_to_twelve(session):
    made = session.plan().build("lighthouse")
    assert made.find(specs.RATE_WANTED, shot="2").number == pytest.approx(83.138, abs=1e-3)
    assert made.find(specs.RATE, shot="2").value == 84.0
    assert made.find(specs.WAVE).number == pytest.approx(0.250)
    assert made.find(specs.DROP).number == pytest.approx(12 * 0.0027)
    assert made.find(specs.BOUGHT).value == pytest.approx(0.0)
    assert made.find(specs.GRAVITY, shot="2").number == pytest.approx(12 * (24 / 84) ** 2)


def test_the_governing_shot_is_the_worst_and_is_named(session):
    made = session.plan().build("lighthouse")
    rates = [f.number for f in made.figures if f.spec is specs.RATE]
    assert made.find(specs.BUILD_RATE).number == max(rates)
    assert made.headline("shot").note == ("worst of 6: shot 3",)


def weighed_of(made, piece, of):
    """All parts of all batches of all pours of one sort."""
    total = 0.0
    for pour in (p for p in made.pours if p.piece == piece and p.of == of):
        for i in range(len(pour.mixes)):
            batches = made.find(specs.BATCHES, piece, op=pour.op, mix=pour.mix_name(i)).number
            mine = (f for f in made.figures if f.spec is specs.PART
                    and (f.subject.piece, f.subject.op, f.subject.mix) == (piece, pour.op, pour.mix_name(i)))  # fmt: skip
            total += batches * sum(f.number for f in mine)
    return total


def test_parts_add_up_as_shown(session):
    made = session.plan().build("lighthouse")
    parts = [made.find(s, "gallery").number for s in (specs.BLANKET, specs.KEYS, specs.WASTE)]
    assert sum(parts) == pytest.approx(made.find(specs.RUBBER_VOLUME, "gallery").number, rel=1e-12)
    weighed = weighed_of(made, "gallery", "mould")
    assert weighed == pytest.approx(made.find(specs.RUBBER, "gallery").number, rel=1e-12)


def test_an_insert_is_as_large_as_its_percentage_of_the_puppet(session):
    before = session.plan().build("oldclaw").find(specs.BLANKET, "claw").number
    assert "5:8" in [show(p.value, p.kind).number for p in session.plan().build("oldclaw").headline("scale").note
                     if not isinstance(p, str)]  # fmt: skip
    decision = find_decision(session.job, "oldclaw", "enlarged:claw")
    session.edit("insert", decide(session.job, decision, 5.0))
    assert session.plan().build("oldclaw").find(specs.BLANKET, "claw").number > 3 * before
    height = session.plan().build("oldclaw").find(specs.HEIGHT).number
    assert height == pytest.approx(0.4 / 4, rel=0.05)  # the insert does not count as the puppet's height


def test_a_double_that_will_not_cut_is_an_alarm(session):
    build = replace(session.job.build("tidewife"), scale=5.0, intercut=Intercut("standing height", 8.0, 1.40))
    session.edit("double", replace_build(session.job, build))
    made = session.plan().build("tidewife")
    assert made.find(specs.INTERCUT).number == pytest.approx(-0.125)
    assert any(m.level == "danger" and "will not cut" in str(m.headline[0]) for m in made.minds)
    fits = replace(build, intercut=Intercut("standing height", 8.0, 1.60))
    session.edit("fits", replace_build(session.job, fits))
    assert session.plan().build("tidewife").find(specs.INTERCUT).number == pytest.approx(0.0)


def test_a_person_stands_350_mm_at_one_to_five(session):
    assert build_at(session, 5.0).find(specs.PERSON).number == pytest.approx(0.350)


def test_a_value_from_the_shops_own_data_sheet_reaches_the_date_and_says_whose_it_is(session):
    before = session.plan().build("lighthouse").find(specs.OPENS, "gallery", op="rubber-1").value
    decision = find_decision(session.job, "lighthouse", "card.silicone-tin-soft.demould_s")
    session.edit("data sheet", decide(session.job, decision, 8 * 3600.0))
    cure = session.plan().build("lighthouse").find(specs.CURE, "gallery", op="rubber-1")
    assert session.plan().build("lighthouse").find(specs.OPENS, "gallery", op="rubber-1").value < before
    assert dict(cure.inputs)["book"].source.endswith("entered for this job")


def test_a_colder_night_opens_the_mould_later_and_says_so(session):
    made = session.plan().build("lighthouse")
    decision = find_decision(session.job, "lighthouse", "shop.night_c")
    session.edit("night", decide(session.job, decision, 9.0))
    cold = session.plan().build("lighthouse")
    assert cold.find(specs.OPENS, "gallery", op="rubber-1").value > made.find(
        specs.OPENS, "gallery", op="rubber-1"
    ).value + timedelta(hours=3)
    minds = [m for m in cold.minds if m.station == "cure"]
    assert minds
    assert minds[0].level == "mind"


def test_too_cold_to_cure_is_danger_not_a_date(session):
    job = session.job
    for key in ("shop.day_c", "shop.night_c"):
        job = decide(job, find_decision(job, "lighthouse", key), 2.0)
    session.edit("ice", job)
    made = session.plan().build("lighthouse")
    assert any(m.level == "danger" and m.station == "cure" for m in made.minds)


def test_a_build_that_contradicts_itself_is_held_with_the_reason_and_others_go_on(session):
    build = session.job.build("lighthouse")
    gallery = piece_of(build, "gallery")
    broken = replace(gallery, mould=replace(gallery.mould, rubber="no-such-rubber"))
    session.edit("bad", replace_build(session.job, replace_piece(build, broken)))
    made = session.plan().build("lighthouse")
    assert "no-such-rubber" in made.held
    assert made.find(specs.BUILD_RATE)
    assert not session.plan().build("ferry").held


def test_without_its_mesh_study_a_build_says_what_it_waits_for(demo_document):
    made = plan(demo_document.job, {}).build("ferry")
    assert made.held == "waiting for the study of ferry.stl"
    assert made.find(specs.RATE, shot="2")
    assert made.find(specs.HEIGHT) is None


def test_a_camera_that_cannot_keep_up_is_danger(session):
    minds = build_at(session, 60.0).minds
    assert any("camera stops" in str(m.headline[0]) and m.level == "danger" for m in minds)


def test_undercranking_gives_the_interval_between_frames(session):
    made = session.plan().build("saltbust")
    wanted = made.find(specs.RATE_WANTED, shot="16")
    assert wanted.number == pytest.approx(192 / 18000)
    assert "93.8 s" in wanted.notes[0]
    assert made.find(specs.GRAVITY, shot="16") is None


def test_frame_by_frame_counts_exposures(session):
    made = session.plan().build("oldclaw")
    counts = {shot: made.find(specs.EXPOSURES, shot=shot).value for shot in ("13", "14", "15")}
    assert counts == {"13": 144, "14": 216, "15": 204}


def test_late_is_danger_and_comes_first(session):
    made = session.plan().build("gulls")
    assert made.find(specs.SLACK).number < 0
    assert made.minds[0].level == "danger"
    assert made.minds[0].station == "shoot"


def test_tasks_follow_each_other_and_hands_keep_shop_hours(session):
    for made in session.plan().builds:
        for piece in made.build.pieces:
            mine = [t for t in made.tasks if t.piece == piece.id]
            assert all(a.end <= b.start for a, b in pairwise(mine))
        hands = sorted((t for t in made.tasks if t.matter in ("labour", "wet")), key=lambda t: t.start)
        assert all(a.end <= b.start for a, b in pairwise(hands)), "one pair of hands does one thing at a time"
        for task in made.tasks:
            if task.matter == "labour":
                assert 9 <= task.start.hour < 18
                assert task.start.weekday() < 5


@given(jobs())
def test_every_job_can_be_planned(job):
    made = plan(job, {})
    assert len(made.builds) == len(job.builds)
    for build in made.builds:
        assert not build.held
        names = [(f.spec.name, str(f.subject)) for f in build.figures]
        assert len(set(names)) == len(names)


@given(jobs(), st.floats(1.05, 3.0))
def test_a_smaller_model_never_needs_more_rubber_or_more_weight(job, factor):
    first = job.builds[0]
    smaller = replace_build(job, replace(first, scale=first.scale * factor))
    a, b = plan(job, {}).builds[0], plan(smaller, {}).builds[0]
    for spec in (specs.BUILD_RUBBER, specs.WEIGHT, specs.HEIGHT, specs.BUILD_COST):
        if a.find(spec):
            assert b.find(spec).number <= a.find(spec).number * (1 + 1e-9)


@given(jobs(), st.floats(0.001, 0.02))
def test_a_thicker_blanket_never_takes_less(job, more):
    build = job.builds[0]
    for piece in build.pieces:
        if isinstance(piece.mould, JacketMould):
            thick = replace(piece, mould=replace(piece.mould, blanket_m=piece.mould.blanket_m + more))
            after = plan(replace_build(job, replace_piece(build, thick)), {}).builds[0]
            before = plan(job, {}).builds[0]
            assert after.find(specs.RUBBER, piece.id).number > before.find(specs.RUBBER, piece.id).number
            for op in (p.op for p in before.pours if p.piece == piece.id and p.of == "mould"):
                assert (
                    after.find(specs.BATCHES, piece.id, op=op).value
                    >= before.find(specs.BATCHES, piece.id, op=op).value
                )


def test_a_shot_rule_is_named_and_followed(session):
    build = session.job.build("keeper")
    day = session.job.shots[0].day
    shots = (
        Shot("a", "slow", 4.0, day, whole(build.id), FixedRate(48.0)),
        Shot("b", "fast", 4.0, day, whole(build.id), Gravity()),
    )
    session.edit("shots", replace(session.job, shots=shots))
    made = session.plan().build("keeper")
    assert made.find(specs.RATE, shot="a").value == 48.0
    assert made.find(specs.RATE, shot="b").value == 24.0
    assert made.find(specs.DUE).value == datetime.combine(day, shots[0].call)
