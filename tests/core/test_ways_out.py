"""What would free a shot, and how a set is edited: each way comes out as it is told, and what is pulled lands where it was put."""

from __future__ import annotations

import math

import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.camera.blur import Glass, blur
from homunculus.core.edits.sets import (
    STOPS,
    further_back,
    next_lens,
    next_stop,
    pulled,
    put_shot,
    stepped,
    stood_at,
    turned,
    with_end,
)
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shots import ByStock, Need
from homunculus.core.job.stage import CameraMove
from homunculus.core.plan.contexts import focus_of
from homunculus.core.plan.job_plan import plan
from homunculus.core.plan.ways_out import room_left, slices, ways_out
from homunculus.core.planners.lens import verdict_of
from homunculus.core.planners.sets import plan_light
from tests.core.test_sets import job_of, looks, need

LENSES = library.stock().lenses
RAIL = Need("rail", ByStock("rail"), Place(0.5))


def found_of(job):
    return plan(job, {}).sets["1"]


def ways_of(job, lenses=LENSES):
    return {way.key: way for way in ways_out(job, found_of(job), "", lenses, "metric")}


# ---------------------------------------------------------------------------------------- ways out
def test_where_focus_holds_or_nothing_is_seen_there_is_nothing_to_free():
    assert not ways_of(job_of(need("ship", Place(2.0))))
    assert not ways_of(job_of(need("ship")))


def test_what_is_tried_comes_out_as_in_the_whole_plan(session):
    for shot in session.job.shots:
        whole = session.plan().sets[shot.id]
        lit, lamps = plan_light(whole.context), whole.find(specs.LAMP_POWER)
        assert (lamps and lamps.value) == (lamps and lit.find(specs.LAMP_POWER).value)
        for camera in shot.cameras:
            tried = focus_of(session.job, shot, camera.name)
            assert [p.at.number for p in tried.planes] == [p.at.number for p in whole.planes]
            assert (tried.refusal(camera.name) is None) == (whole.refusal(camera.name) is None)
            for spec in (specs.LEAST_BLUR, specs.STOP, specs.NEAR, specs.ANGLE):
                one, other = (found.find(spec, camera=camera.name) for found in (tried, whole))
                assert (one and one.value) == (other and other.value)


@pytest.mark.parametrize(
    "needs", [(need("ship", looks(24.0)), RAIL), (need("ship", looks(24.0)), need("boat", Place(1.1, 1.2)), RAIL)]
)
def test_every_way_that_is_said_to_hold_holds_when_it_is_taken(needs):
    job = job_of(*needs)
    assert verdict_of(found_of(job), "") == "cannot"
    ways = ways_of(job)
    assert {"lens", "back"} <= {key for key, way in ways.items() if way.holds}
    for way in ways.values():
        if way.job is None:
            assert not way.holds or way.key == "stack"
            continue
        taken = found_of(way.job)
        assert taken.find(specs.LEAST_BLUR).number == pytest.approx(way.blur.number)
        assert (verdict_of(taken, "") == "holds") == way.holds


def test_what_a_camera_move_betrays_refuses_no_shorter_lens():
    job = job_of(need("ship", looks(24.0)), need("boat", Place(1.1, 1.2)), RAIL)
    slide = CameraMove("slider", across_m=0.5)
    moved = replace(job, shots=(replace(job.shots[0], actions=(slide,)),))
    told = [m for m in found_of(moved).minds if m.level == "danger" and m.subject.move == "slider"]
    assert told, "it must betray something for this to say anything"
    assert ways_of(moved)["lens"].words == ways_of(job)["lens"].words


def test_a_thing_is_moved_no_further_and_a_camera_no_farther_back_than_it_must():
    job = job_of(need("ship", Place(2.0)), RAIL)
    moved = found_of(ways_of(job)["moved"].job)
    rail = next(p for p in moved.planes if p.name == "rail").at.number
    assert moved.find(specs.LEAST_BLUR).number == pytest.approx(
        3.0, abs=0.01
    )  # what passes: a millimetre less would not do
    assert 0.5 < rail < 2.0
    back = ways_of(job)["back"]
    assert back.blur.number == pytest.approx(3.0, abs=0.01)
    one, other = (p.at.number for p in found_of(back.job).planes)
    assert one - other == pytest.approx(1.5), "all else stands as it stood"


def test_a_camera_goes_back_only_as_far_as_the_stage_has_room():
    job = job_of(need("ship", Place(2.0)), RAIL)
    assert room_left(job, found_of(job)) == pytest.approx(12.0 - 1.15 - 2.0)
    narrow = replace(job, shop=replace(job.shop, stage=replace(job.shop.stage, width_m=3.3, depth_m=2.0)))
    way = ways_of(narrow)["back"]
    assert (way.holds, way.job) == (False, None)
    assert "no room" in way.note


def test_another_stop_is_the_way_where_one_that_was_decided_does_not_hold():
    job = job_of(need("ship", Place(1.6, 2.2)), cameras=(Camera(0.035, stop=1.4, focus_m=1.7),))
    ways = ways_of(job)
    assert set(ways) == {"stop"}
    taken = ways["stop"].job.shots[0].cameras[0]
    assert (taken.stop, taken.focus_m) == (None, None)


def test_a_larger_model_helps_only_what_stands_as_far_away_as_it_looks():
    looking = job_of(need("ship", looks(12.0, 60.0)))
    way = ways_of(looking)["scale"]
    assert way.holds
    assert way.job.build("ship").scale < 12.0
    assert "floor stays" in ways_of(job_of(need("ship", Place(1.0, 5.0)), RAIL))["scale"].note


def test_less_is_held_where_nothing_stands_at_the_near_end():
    job = job_of(need("ship", looks(48.0)), cameras=(Camera(0.05, Depth(10.0, 60.0)),))
    way = ways_of(job)["less"]
    assert way.holds
    depth = way.job.shots[0].cameras[0].depth
    assert 10.0 < depth.near_m <= 48.0
    assert depth.far_m == 60.0


def test_without_a_shelf_the_longest_lens_that_would_do_is_told():
    job = job_of(need("ship", Place(2.0)), RAIL)
    way = ways_of(job, lenses=())["lens"]
    focal = way.job.shots[0].cameras[0].focal_m
    assert way.blur.number == pytest.approx(3.0, abs=0.01)
    assert 0.010 < focal < 0.035
    assert "none such on the shelf" in way.note


@given(st.floats(0.012, 0.06), st.floats(0.3, 2.0), st.floats(1.2, 12), st.floats(1.5e-5, 4e-5))
def test_stacked_slices_cover_the_depth_and_one_fewer_would_not(focal, near, ratio, confusion):
    glass, far = Glass(focal), near * ratio
    assume(near > 5 * focal)
    count = slices(glass, near=near, far=far, confusion=confusion, widest=1.4, smallest=22.0)
    assert count is not None
    stop = confusion / math.sqrt(2) / (2.44 * 550e-9 * (1 + focal / near))
    # each slice is bounded by where the defocus of both its ends is what diffraction leaves: in reciprocals all slices are nearly alike
    spread = stop * math.sqrt(confusion**2 - (2.44 * 550e-9 * stop) ** 2) / focal**2
    fewest = (1 / near - 1 / far) / (2 * spread)
    assert count >= math.floor(fewest * 0.9)
    assert count <= math.ceil(fewest * 1.35) + 1


# -------------------------------------------------------------------------------------------- edits
def test_stops_go_by_thirds_as_barrels_have_them():
    assert [next_stop(8.0, n) for n in (-3, -1, 1, 3)] == [5.6, 7.1, 9.0, 11.0]
    assert next_stop(9.7, 1) == 10.0
    assert next_stop(9.7, -1) == 9.0
    assert (next_stop(0.7, -5), next_stop(128.0, 5)) == (0.7, 128.0)
    for a, b in zip(
        STOPS[3:], STOPS[6:], strict=False
    ):  # three thirds are a stop: the light doubles, as near as marks are rounded
        assert (b / a) ** 2 == pytest.approx(2.0, rel=0.13)


def test_the_next_lens_is_the_next_that_there_is():
    assert next_lens(LENSES, 0.035, -1).id == "prime-32"
    assert next_lens(LENSES, 0.035, 1).id == "prime-50"
    assert next_lens(LENSES, 0.5, 1) is None
    assert next_lens(LENSES, 0.001, -3) is None
    assert next_lens(LENSES, 0.035, -99).focal_m.value == min(card.focal_m.value for card in LENSES)


@given(st.floats(0.3, 9), st.floats(0.02, 3), st.booleans())
def test_what_is_pulled_lands_where_it_was_put_and_stays_as_deep(at, deep, looking):
    place = Place(at * 12, (at + deep) * 12, looks=True) if looking else Place(at, at + deep)
    found = found_of(job_of(need("ship", place)))
    plane = found.planes[0]
    moved = replace(found.shot, needs=(replace(found.shot.needs[0], place=stood_at(plane, 2.5)),))
    there = focus_of(put_shot(job_of(need("ship", place)), moved), moved, "").planes[0]
    assert there.at.number == pytest.approx(2.5)
    assert there.to.number - there.at.number == pytest.approx(deep)
    other = turned(plane)
    assert other.looks is not looking
    assert other.at_m == pytest.approx(at if looking else at * 12)


@pytest.mark.parametrize("by", [0.7, -0.3, -50.0])
def test_a_camera_that_goes_back_leaves_all_else_where_it_is(by):
    cameras = (Camera(0.035, Depth(24.0, None)), Camera(0.05, Depth(1.0, 4.0, looks=False), name="B", back_m=0.4))
    job = job_of(need("ship", looks(24.0)), RAIL, cameras=cameras)
    before = [p.at.number for p in found_of(job).planes]
    shot = further_back(found_of(job), by)
    after = [p.at.number for p in focus_of(put_shot(job, shot), shot, "").planes]
    least = max(by, 0.01 - min(before))
    assert after == pytest.approx([at + least for at in before], abs=1e-3)
    assert shot.cameras[0].depth.near_m == pytest.approx(24.0 + 12 * least)
    assert shot.cameras[0].depth.far_m is None
    assert shot.cameras[1].depth.near_m > 0


def test_the_ends_of_a_depth_never_cross():
    found = found_of(job_of(need("ship"), cameras=(Camera(0.035, Depth(24.0, 84.0)),)))
    camera = found.shot.cameras[0]
    assert with_end(found, camera, "near", 3.0).depth == Depth(36.0, 84.0)
    for end, at in (("near", 99.0), ("far", 0.1)):
        depth = with_end(found, camera, end, at).depth
        assert depth.near_m < depth.far_m


def test_what_is_not_there_is_not_pulled():
    found = found_of(job_of(need("ship", Place(2.0))))
    assert pulled(found, "", "place:7", 1.0, 0.0, 0) is None
    assert pulled(found, "", "end:near", 1.0, 0.0, 0) is None
    assert stepped(found_of(job_of(need("ship"), cameras=())), "", "stop", 1) is None
    assert stepped(found, "", "place:0", 10).needs[0].place.at_m == pytest.approx(2.2)
    assert stepped(found, "", "camera", 1).needs[0].place.at_m == pytest.approx(2.05, abs=1e-3)


def test_a_thing_in_a_pass_of_its_own_is_focused_on_and_costs_a_pass():
    together, apart = (
        found_of(job_of(need("ship", Place(2.0)), replace(RAIL, place=Place(0.5, alone=alone))))
        for alone in (False, True)
    )
    assert together.find(specs.NEAR).number == 0.5
    assert apart.find(specs.NEAR).number == 2.0
    stop = apart.find(specs.STOP).number
    own = blur(Glass(0.035), stop=stop, focus=0.5, distance=0.5) * 4096 / 0.036
    assert apart.find(specs.PLANE_BLUR, use="rail").number == pytest.approx(own)
    assert apart.find(specs.ON_SET).number == pytest.approx(2 * together.find(specs.ON_SET).number)
