"""Go or no-go, how the whole job stands, and what is in the frame: from the plan, for any job."""

from __future__ import annotations

from datetime import date, datetime

import pytest
from hypothesis import given
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.cells.shots import put_shot
from homunculus.core.edits.decisions import decide, find_decision
from homunculus.core.floor.go_no_go import begin_again, happens_once, lines, say
from homunculus.core.job.shots import ByBuild, Check, Deadline, Need, Plate, screen_time
from homunculus.core.log import Book
from homunculus.core.plan.job_plan import plan
from homunculus.core.plan.status import next_step, status
from homunculus.core.planners.framing import distance_of, views_of
from homunculus.core.planners.whole import late_builds
from homunculus.core.why import phrase
from tests.strategies import full_shots, jobs

AT = datetime(2026, 3, 18, 10)


@pytest.fixture(scope="module")
def made(demo_document, demo_facts):
    return plan(demo_document.job, demo_facts)


def shot_of(job, shot_id):
    return next(s for s in job.shots if s.id == shot_id)


# -------------------------------------------------------------------------------------- go or no-go
def test_what_happens_once_is_asked_with_live_figures(made):
    three = shot_of(made.job, "3")
    said = [phrase(line.words) for line in lines(three, made)]
    assert "Camera A runs at 100\N{NO-BREAK SPACE}fps" in said
    assert "Copies of gallery at hand: 6 for 6 takes" in said
    assert said[-2:] == ["dump tank full and pinned", "catch net under the gallery"]
    slower = plan(put_shot(made.job, "3", replace(three, rule=type(three.rule)(1.0))), {})
    assert phrase(lines(shot_of(slower.job, "3"), slower)[0].words) != said[0]  # the rate moved, so did the line
    unsaid = replace(three, needs=(Need("g", replace(three.needs[1].cover, chance=None)),))
    words = [phrase(line.words) for line in lines(unsaid, plan(put_shot(made.job, "3", unsaid), {}))]
    assert "There is one gallery: it is gone after this take" in words


def test_what_was_said_stays_said_until_the_next_take(made):
    three = shot_of(made.job, "3")
    first = lines(three, made)[0].check
    once = say(three, replace(first, by="camera", at=AT))
    assert [line.check.by for line in lines(once, made) if line.check.at] == ["camera"]
    assert len(lines(once, made)) == len(lines(three, made))
    changed = say(once, replace(first, by="second hand", at=AT))
    assert [c.by for c in changed.checks if c.at] == ["second hand"]
    again = begin_again(changed)
    assert not [c for c in again.checks if c.at or c.by]
    assert [line.check.what for line in lines(again, made)] == [line.check.what for line in lines(three, made)]


def test_only_what_happens_once_has_a_list(made):
    assert {s.id for s in made.job.shots if happens_once(s)} == {"3", "16"}
    assert happens_once(say(shot_of(made.job, "9"), Check("wind below 4 m/s")))


@given(jobs(), full_shots)
def test_any_shot_has_lines_that_can_be_said_once_each(job, shot):
    job = replace(job, shots=(shot,))
    found = lines(shot, plan(job, {}))
    keys = [line.check.what for line in found]
    assert len(set(keys)) == len(keys)
    for line in found:
        shot = say(shot, replace(line.check, by="x", at=AT))
    assert all(line.check.at for line in lines(shot, plan(job, {})))


# ---------------------------------------------------------------------------------- the whole job
def test_the_builds_stand_by_their_first_shoot_day(made):
    rows = made.standing
    assert [r.build.id for r in rows] == ["keeper", "lighthouse", "ferry", "tidewife", "gulls", "oldclaw", "saltbust"]
    by_id = {r.build.id: r for r in rows}
    assert [r.build.id for r in rows if r.late] == ["gulls"]
    assert by_id["oldclaw"].held == ("rights",)
    assert (by_id["oldclaw"].uncovered, by_id["ferry"].unseen) == (1, 1)
    assert [(r.build.id, r.off_count) for r in rows if r.frozen] == [("keeper", False)]
    more = decide(made.job, find_decision(made.job, "keeper", "wanted.hero"), 15)
    assert next(r for r in plan(more, {}).standing if r.build.id == "keeper").off_count


def test_what_is_in_the_way_is_counted_and_says_where(made):
    def counted(of):
        return {f.spec.name.removeprefix("job."): f.value for f in of.whole if f.spec.name.startswith("job.")}

    found = counted(made)
    assert [found[n] for n in ("late", "uncovered", "held", "frozen", "unseen", "to_decide")] == [1, 1, 2, 1, 1, 1]
    assert found["castings"] == sum(b.find(specs.ALL_CASTINGS).value for b in made.builds if b.find(specs.ALL_CASTINGS))
    assert found["needs"] == sum(max(1, len(shot.needs)) for shot in made.job.shots)
    assert found["late_uses"] > found["least_late"]
    assert [late_builds(a=-0.01, b=0.0, c=0.4), late_builds()] == [1, 0], "ready on the minute is not late"
    loose = made.whole_figure(specs.UNCOVERED)
    assert [given.label for _, given in loose.inputs] == [
        f"shot {s.id}, {s.name}" for s in made.job.shots if s.id == "14"
    ]
    bare = plan(replace(made.job, shots=()), {})
    nothing = counted(bare)
    assert (nothing["late"], nothing["uncovered"], nothing["to_decide"]) == (0, 0, 0)
    assert nothing["unseen"] == sum(len(b.pieces) for b in bare.job.builds)
    assert screen_time(made.job.shots) == 128.0


@given(jobs())
def test_every_build_stands_once_and_those_in_no_shot_last(job):
    rows = plan(job, {}).standing
    assert sorted(r.build.id for r in rows) == sorted(b.id for b in job.builds)
    dues = [r.due for r in rows]
    assert dues == sorted((d for d in dues if d), key=lambda d: d) + [None] * dues.count(None)
    for row in rows:
        assert row.late == (row.slack is not None and row.ready > row.due and row.slack.number < 0)


def test_deadlines_follow_their_shot(made):
    shot = shot_of(made.job, "15")
    moved = put_shot(
        made.job,
        "15",
        replace(shot, day=date(2026, 3, 30), deadlines=(Deadline("clean-up", 14), Deadline("order", -20))),
    )
    days = [(o.deadline.what, o.day) for o in plan(moved, {}).outside if o.shot.id == "15"]
    assert days == [("order", date(2026, 3, 10)), ("clean-up", date(2026, 4, 13))]


def test_a_pour_that_was_held_says_so_in_the_log(made, now):
    state = status(made, (), now)
    kind, piece, op, words = next_step(made.build("saltbust"), Book(), state)
    assert (kind, piece, op) == ("poured", "bust", "jacket-1")
    assert words.endswith("though likeness not signed")
    assert "signed" not in next_step(made.build("lighthouse"), Book(), state).words
    held = [bar for bar in state.bars if bar.held]
    assert {bar.build for bar in held} <= {"saltbust", "oldclaw"}


# ----------------------------------------------------------------------------------------- the frame
def test_focused_closer_a_lens_sees_less_so_a_smaller_model_fills_a_little_more(demo_document, demo_facts):
    job = demo_document.job
    for shot_id in ("1", "2", "5"):
        focal = 0.032 if shot_id == "1" else 0.035
        shares = []
        for scale in (12.0, 24.0):
            made = plan(decide(job, find_decision(job, "lighthouse", "scale"), scale), demo_facts).build("lighthouse")
            image = made.find(specs.IMAGE, shot=shot_id).number
            shares.append(made.find(specs.FRAME_SHARE, shot=shot_id).number * focal / image)
        assert shares[0] == pytest.approx(shares[1])


def test_distance_is_what_the_shot_says_else_where_the_camera_is_focused(made):
    views = views_of(made.context("lighthouse"))
    assert distance_of(views[0]) == (7.5, "said in the shot")
    two = shot_of(made.job, "2")
    bare = replace(two, needs=tuple(replace(need, place=None) for need in two.needs))
    view = views_of(plan(put_shot(made.job, "2", bare), {}).context("lighthouse"))[1]
    assert distance_of(view)[0] == pytest.approx(2 * 2 * 7 / 9)
    held = replace(bare, cameras=(replace(two.cameras[0], focus_m=4.0),))
    view = views_of(plan(put_shot(made.job, "2", held), {}).context("lighthouse"))[1]
    assert distance_of(view) == (4.0, "where the camera is focused")


def test_a_plate_is_matched_as_far_as_its_sheet_says(made):
    one = shot_of(made.job, "1")
    lighthouse = made.build("lighthouse")
    assert lighthouse.find(specs.PLATE_HEIGHT, shot="1").number == pytest.approx(2.4 / 12)
    assert lighthouse.find(specs.PLATE_DISTANCE, shot="1").number == pytest.approx(90 / 12)
    image = 0.024 * 90 / (90 - 0.024) * 36 / 25.4
    assert 1 / lighthouse.find(specs.PLATE_FOCAL, shot="1").number == pytest.approx(1 / image + 12 / 90)
    vague = put_shot(made.job, "1", replace(one, plate=Plate(height_m=1.2)))
    found = plan(vague, {}).build("lighthouse")
    assert found.find(specs.PLATE_HEIGHT, shot="1").number == pytest.approx(0.1)
    assert not [s for s in (specs.PLATE_FOCAL, specs.PLATE_DISTANCE, specs.FOOT) if found.find(s, shot="1")]


def test_every_camera_has_its_own_lens_figures_and_the_worst_governs(made):
    lighthouse = made.build("lighthouse")
    a, b = (lighthouse.find(specs.FINEST, shot="3", camera=part).number for part in ("", "B"))
    assert b < a  # 60 mm shows more than 50 mm
    assert lighthouse.find(specs.NEAR, shot="3", camera="B").number == pytest.approx(35 / 12)
    assert lighthouse.headline("lens").note[0] == "no stop holds it, "
    assert "shot 4" in str(lighthouse.headline("lens").note[-1])


def test_a_piece_that_no_shot_names_is_minded_only_where_all_shots_name_pieces(made):
    minds = [m.headline[0] for m in made.build("ferry").minds]
    assert "wheelhouse interior is in no shot" in minds
    six = shot_of(made.job, "6")
    all_of_it = put_shot(made.job, "6", replace(six, needs=(Need("ferry", ByBuild("ferry")),)))
    assert "wheelhouse interior is in no shot" not in [m.headline[0] for m in plan(all_of_it, {}).build("ferry").minds]
