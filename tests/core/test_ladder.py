"""The ladder: bands that agree with their rule everywhere, and brackets where nothing fails."""

import math

import pytest
from hypothesis import given
from msgspec.structs import replace

from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.job_plan import plan
from homunculus.core.planners.ladder import _tests, ladder
from tests.strategies import jobs


def context_of(job, build_id, facts):
    return plan(job, facts).context(build_id)


@pytest.fixture
def lighthouse(demo_document, demo_facts):
    return context_of(demo_document.job, "lighthouse", demo_facts)


def test_the_lighthouse_has_every_lane(lighthouse):
    assert [lane.key for lane in ladder(lighthouse).lanes] == [
        "stage", "camera", "focus", "water", "bought", "weight", "rubber",
    ]  # fmt: skip


def test_bands_agree_with_the_rule_at_scales_between_their_edges(lighthouse):
    made = ladder(lighthouse)
    tests = {t.key: t for t in _tests(BuildSheet(lighthouse)) if t}
    for lane in made.lanes:
        if lane.key == "bought":
            continue  # its many runs are narrower than this walk
        for i in range(200):
            scale = made.low * (made.high / made.low) ** ((i + 0.5) / 200)
            near_edge = any(abs(math.log(scale / edge)) < 0.002 for b in lane.bands for edge in (b.low, b.high))
            assert near_edge or lane.hold_at(scale) == tests[lane.key].hold(scale), (lane.key, scale)


def test_camera_lane_fails_where_the_square_root_says(lighthouse):
    lane = next(x for x in ladder(lighthouse).lanes if x.key == "camera")
    worst = 1.2 * 24  # shot 3 runs a fifth faster than gravity
    assert lane.bands[0].high == pytest.approx((150 / worst) ** 2, rel=1e-3)
    assert [b.hold for b in lane.bands] == ["holds", "strained", "fails"]


def test_brackets_hold_no_failing_lane_and_leave_none_out(lighthouse):
    made = ladder(lighthouse)
    assert made.free
    for i in range(400):
        scale = made.low * (made.high / made.low) ** ((i + 0.5) / 400)
        inside = any(a <= scale <= b for a, b in made.free)
        fails = any(lane.hold_at(scale) == "fails" for lane in made.lanes)
        near = any(abs(math.log(scale / e)) < 0.002 for run in made.free for e in run)
        assert near or inside != fails


def test_moving_only_the_scale_reuses_the_bands(lighthouse):
    first = ladder(lighthouse)
    moved = replace(lighthouse, build=replace(lighthouse.build, scale=8.0))
    second = ladder(moved, first)
    assert all(a.bands is b.bands for a, b in zip(first.lanes, second.lanes, strict=True))
    assert second.lanes[0].value.number > first.lanes[0].value.number
    tighter = replace(lighthouse, build=replace(lighthouse.build, rubber_budget=50.0))
    assert ladder(tighter, first).lanes[-1].bands != first.lanes[-1].bands


def test_each_lane_speaks_one_sentence(lighthouse):
    for lane in ladder(lighthouse).lanes:
        said = lane.speech(12.0)
        assert lane.name in said
        assert "1:12" in said


@given(jobs())
def test_every_build_has_a_ladder_whose_bands_are_contiguous(job):
    for build in job.builds:
        made = ladder(context_of(job, build.id, {}))
        for lane in made.lanes:
            assert lane.bands[0].low == made.low
            assert lane.bands[-1].high == pytest.approx(made.high)
            for a, b in zip(lane.bands, lane.bands[1:], strict=False):
                assert a.high == b.low
                assert a.hold != b.hold or lane.key == "bought"
