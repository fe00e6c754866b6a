"""The stage of a shot as it is planned: depth by scale, feet, finish, haze, the zone, tables, the card, what moves; and their lines."""

from __future__ import annotations

import csv
import io
import math
from datetime import date, datetime
from xml.etree import ElementTree

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.camera.eye import Eye
from homunculus.core.camera.picture import body_of, eye_of, outline_seen, surfaces_of
from homunculus.core.cells.actions import example, parse_action, show_action
from homunculus.core.cells.air import parse_air, show_air
from homunculus.core.cells.places import parse_camera, place_typed, show_camera, show_place
from homunculus.core.cells.stands import parse_found, parse_stand, show_stand
from homunculus.core.edits.shot_wishes import do_shot_wish
from homunculus.core.edits.stage import as_the_plate, at_scale, timed, value_stepped, values_of
from homunculus.core.errors import UserError
from homunculus.core.floor.cue_list import card_table, cue_tables
from homunculus.core.floor.marks import floor_marks
from homunculus.core.form.facets import facets_of
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.forms import Box
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import ByBuild, ByPeople, ByStock, FixedRate, FrameByFrame, Need, Plate, Shot
from homunculus.core.job.stage import (
    CameraMove,
    Cues,
    Drop,
    Falling,
    Flown,
    Found,
    MeasuringCard,
    StageAir,
    Stand,
    Tie,
    Travel,
    Wave,
)
from homunculus.core.moving.playing import (
    camera_at,
    crest_line,
    cues_gone,
    frame_table,
    in_a_row,
    offset_of,
    shown_speed,
)
from homunculus.core.plan.cautions import set_cautions
from homunculus.core.plan.job_plan import plan
from homunculus.core.planners.moving import needs_moved
from homunculus.core.quantities import System
from homunculus.core.session import Session
from homunculus.core.why import phrase
from homunculus.exchange.stage_plan import as_dxf, as_svg
from homunculus.exchange.stage_tables import cues_as_csv
from tests.strategies import CARDS, actions, airs, cameras, places, stands

CAMERA = Camera(0.032, Depth(3.0, 6.0, looks=False), height_m=1.62)


def build(name, scale, **more):
    return Build(
        name, name, name, scale, datetime(2026, 2, 16, 9), (Piece("body", "body", Box(6.0, 3.0, 12.0)),), **more
    )


def job_of(*needs, cameras=(CAMERA,), scale=12.0, **more):
    builds = (build("tower", scale, stands_m=0.9), build("boat", 24.0))
    shot = Shot("1", "a shot", 6.0, date(2026, 3, 17), needs, cameras=cameras, **more)
    cards = replace(CARDS, hazards=library.hazards())
    return Job("a job", Shop(camera="cinema-150"), builds, (shot,), cards)


RAIL = Need("rail", ByStock("rail"), Place(0.7, wide_m=2.0, high_m=0.1))
TOWER = Need("tower", ByBuild("tower"), Place(3.4))
BOAT = Need("boat", ByBuild("boat"), Place(4.5))
HEADLAND = Need("headland", ByStock("board"), Place(5.2, scale=48.0, wide_m=150.0, high_m=40.0))
SET = (RAIL, TOWER, BOAT, HEADLAND)


def stage_of(job, camera=""):
    return plan(job, {}).stage("1", camera)


def minds(job, name="tower"):
    said = (phrase(m.headline) + " | " + phrase(m.why) for m in plan(job, {}).build(name).minds if m.station == "lens")
    return [words.replace("\N{NO-BREAK SPACE}", " ") for words in said]


# -------------------------------------------------------------------------------------------- depth
def test_a_set_laid_in_depth_is_told_plane_by_plane():
    """The drawing's own values: eye 1.62 m, 8.64 m real; feet 0.90, 1.26 and 1.44 m; contrasts by 2 km of sight."""
    stage = stage_of(job_of(*SET, air=StageAir(2000.0)))
    assert stage.find(specs.EYE_REAL).number == pytest.approx(8.64)
    feet = {p: stage.find(specs.PLANE_FOOT, use=p).number for p in ("tower", "boat", "headland", "rail")}
    assert feet == pytest.approx({"tower": 0.9, "boat": 1.26, "headland": 1.44, "rail": 0.0})
    assert stage.find(specs.PLANE_FOOT, use="rail").notes
    looks = {p: stage.find(specs.PLANE_LOOKS, use=p).number for p in feet}
    assert looks == pytest.approx({"rail": 0.7, "tower": 40.8, "boat": 108.0, "headland": 249.6})
    wanted = {p: stage.find(specs.CONTRAST_WANTED, use=p).number for p in feet}
    assert wanted == pytest.approx({"rail": 0.9986, "tower": 0.923, "boat": 0.81, "headland": 0.614}, abs=2e-3)
    air = {p: stage.find(specs.CONTRAST_AIR, use=p).number for p in feet}
    assert air["tower"] == pytest.approx(wanted["tower"])
    assert air["boat"] > wanted["boat"], "what is built smaller wants paint beside the air"
    assert stage.find(specs.SIGHT).number == pytest.approx(2000 / 12)
    reach = stage.find(specs.REACH, camera="").number
    for plane, distance in (("boat", 4.5), ("headland", 5.2)):
        blur = stage.seen(specs.PLANE_BLUR, plane).number
        assert stage.seen(specs.PLANE_FINEST, plane).number == pytest.approx(max(2.0, blur) * distance / reach)
    assert stage.seen(specs.SIDEWAYS, "tower") is None, "what stands at the base scale betrays nothing"
    tight = stage.seen(specs.SIDEWAYS, "rail")
    assert tight.number == pytest.approx(3 * 0.7 / (reach * 11))
    assert stage.find(specs.FREE_SIDEWAYS, camera="").value == tight.value


@given(st.sampled_from((4.0, 6.0, 8.0, 16.0)))
@settings(max_examples=8, deadline=None)
def test_moving_the_base_scale_moves_every_depth_by_its_law(scale):
    """What goes by looks comes nearer as 1/S; what stands on the floor stays and looks S times as far; feet keep one horizon."""
    near, far = Need("tower", ByBuild("tower"), Place(42.0, looks=True)), replace(BOAT, place=Place(60.0, looks=True))
    job = job_of(near, far, HEADLAND)
    other = replace(job, builds=(replace(job.builds[0], scale=scale), job.builds[1]))
    before, after = stage_of(job), stage_of(other)
    at = {p.name: p.at.number for p in after.found.planes}
    assert at == pytest.approx({"tower": 42.0 / scale, "boat": 60.0 / 24, "headland": 5.2})
    assert before.find(specs.PLANE_LOOKS, use="headland").value == after.find(specs.PLANE_LOOKS, use="headland").value
    real = after.find(specs.EYE_REAL).number
    assert real == pytest.approx((1.62 - 0.9) * scale)
    for plane in after.found.planes:
        foot = after.find(specs.PLANE_FOOT, use=plane.name).number
        assert foot == pytest.approx(max(1.62 - real / plane.scale.number, 0.0)) or plane.name == "tower"
    free = after.seen(specs.SIDEWAYS, "boat")
    expected = 3 * at["boat"] / (after.find(specs.REACH, camera="").number * abs(scale / 24 - 1))
    assert free.number == pytest.approx(expected)


def test_the_eye_goes_by_what_was_decided_then_by_the_plate_then_by_the_main_build():
    plate = Plate(height_m=2.4)
    assert stage_of(job_of(*SET)).find(specs.EYE_REAL).number == pytest.approx(8.64)
    by_plate = stage_of(job_of(*SET, plate=plate))
    assert by_plate.find(specs.EYE_REAL) is None
    assert by_plate.find(specs.PLANE_FOOT, use="tower").number == pytest.approx(1.62 - 2.4 / 12)
    decided = stage_of(job_of(*SET, plate=plate, eye_real_m=6.0))
    assert decided.find(specs.PLANE_FOOT, use="boat").number == pytest.approx(1.62 - 6.0 / 24)
    lifted = replace(BOAT, place=replace(BOAT.place, foot_m=1.0))
    assert stage_of(job_of(RAIL, TOWER, lifted)).find(specs.PLANE_FOOT, use="boat").number == 1.0


def test_tables_break_within_an_arms_reach_and_bear_what_they_can():
    job = job_of(*SET)
    wide = replace(
        job.builds[0], scale=1.0, pieces=(Piece("body", "body", Box(6.0, 3.2, 1.0), material="resin-casting-slow"),)
    )
    job = replace(job, builds=(wide, job.builds[1]))
    stage = stage_of(job)
    assert stage.find(specs.TABLES, use="tower").value == 3, "3.2 m deep, and 0.75 m from either side"
    weight = plan(job, {}).build("tower").find(specs.WEIGHT).number
    assert stage.find(specs.TABLE_LOAD, use="tower").number == pytest.approx(weight / 3)
    assert stage.find(specs.HANDS_AROUND, use="tower").value == 2 * 10 * 3
    assert any("on a table" in phrase(m.headline) for m in stage.minds)


# -------------------------------------------------------------------------------------------- picture
def test_the_picture_is_the_projection_of_the_real_forms_and_a_forced_plane_covers_what_the_real_one_would():
    """A box at 1:24 from 4.5 m covers what a real one covers from 108 m, with its foot on the same ground."""
    job = job_of(*SET)
    stage = stage_of(job)
    reach = stage.find(specs.REACH, camera="").number
    eye = eye_of(CAMERA, 1.62, reach, 4096.0, 19 / 36)
    plane = next(p for p in stage.found.planes if p.name == "boat")
    body = body_of(
        plane, surfaces_of(job, stage.found, plane, facets_of), stage.find(specs.PLANE_FOOT, use="boat").number
    )
    seen = outline_seen(body, eye).points
    real = facets_of(Box(6.0, 3.0, 12.0)).moved(1.0, (0.0, 108.0, 0.0))
    real_eye = Eye((0.0, 0.0, 8.64), 0.0, 0.0, 0.0, reach, 4096.0, 4096.0 * 19 / 36)
    expected = real_eye.pixels(real.outline(real_eye.at).points)
    assert np.concatenate((seen.min(0), seen.max(0))) == pytest.approx(
        np.concatenate((expected.min(0), expected.max(0))), abs=1e-6
    )


def test_copies_stand_apart_people_are_as_tall_as_people_and_what_has_no_size_waits():
    flock = Need("flock", ByBuild("boat", at_once=7), Place(4.0, 6.0))
    somebody = Need("diver", ByPeople("diver"), Place(2.0, across_m=0.5))
    bare = Need("net", ByStock("net"), Place(1.0))
    job = job_of(TOWER, flock, somebody, bare)
    stage = stage_of(job)
    bodies = {p.name: body_of(p, surfaces_of(job, stage.found, p, facets_of), 0.0) for p in stage.found.planes}
    assert len(bodies["flock"].own) == 7
    middles = {tuple(np.round(f.points.mean(0)[:2], 3)) for f in bodies["flock"].own}
    assert len(middles) == 7
    high = bodies["diver"].placed()[0].points
    assert high[:, 2].max() == pytest.approx(1.75)
    assert high[:, 0].mean() == pytest.approx(0.5)
    assert bodies["net"].waits
    assert len(outline_seen(bodies["net"], eye_of(CAMERA, 1.6, 3000.0, 4096.0, 0.5)).points) == 0


# -------------------------------------------------------------------------------------------- moves
def test_a_camera_that_goes_too_far_is_minded_by_the_plane_that_tells_first_and_one_that_turns_is_not():
    slide = CameraMove("slider", across_m=0.02, starts_s=1.0, lasts_s=3.0)
    said = [m for m in minds(job_of(*SET, actions=(slide,))) if "betrays" in m]
    assert len(said) == 1
    assert said[0].startswith("Shot 1: rail betrays itself after")
    assert "and 2 more" in said[0]
    small = replace(slide, across_m=0.004)
    assert [m for m in minds(job_of(TOWER, BOAT, actions=(small,))) if "betrays" in m] == []
    turned = CameraMove("pan", pan_deg=30.0)
    assert [m for m in minds(job_of(*SET, actions=(turned,))) if "betrays" in m] == []
    assert any("has no camera B" in m for m in minds(job_of(*SET, actions=(replace(slide, camera="B"),))))
    found = plan(job_of(*SET, actions=(slide,)), {}).sets["1"]
    rate = found.find(specs.RATE).number
    assert found.find(specs.CAMERA_SPEED, move="slider").number == pytest.approx(0.02 / (3 * 24 / rate * 0.8))
    assert found.find(specs.MOVE_FRAMES, move="slider").value == 72
    assert found.find(specs.MOVE_TIME, move="slider").number == pytest.approx(3 * 24 / rate)
    assert {m.subject.move for m in found.minds if "betrays" in phrase(m.headline)} == {"slider"}


def tow(**more):
    return Travel("tow", "boat", 6.0, mass_kg=25.0, ties=(Tie("tow eye", 200.0, 5.0),), **more)


def test_a_tow_that_pulls_too_hard_is_refused_and_its_own_least_run_up_cures_it():
    job = job_of(*SET, actions=(tow(run_up_m=0.01),))
    made = plan(job, {}).build("boat")
    speed, pull, least = (
        made.find(spec, shot="1", move="tow").number for spec in (specs.MOVE_SPEED, specs.PULL, specs.LEAST_RUN_UP)
    )
    rate = made.find(specs.RATE, shot="1").number
    assert speed == pytest.approx(6 / 24 * rate / 24)
    assert pull == pytest.approx(25 * (speed**2 / 0.02 + 0.05 * 9.80665))
    assert any("pulls too hard" in m and "tow eye may get 40" in m for m in minds(job, "boat"))
    cured = job_of(*SET, actions=(tow(run_up_m=least),))
    assert plan(cured, {}).build("boat").find(specs.PULL, shot="1", move="tow").number == pytest.approx(40.0)
    assert not any("pulls too hard" in m for m in minds(cured, "boat"))
    assert any("tied by" in m for m in minds(job_of(*SET, actions=(replace(tow(), ties=()),)), "boat"))
    steep = job_of(*SET, actions=(tow(slope_deg=30.0),))
    assert plan(steep, {}).build("boat").find(specs.LEAST_RUN_UP, shot="1", move="tow") is None
    assert any("at speed alone" in m for m in minds(steep, "boat"))
    afloat = plan(job_of(*SET, actions=(tow(drag_m2=0.01),)), {}).build("boat")
    assert afloat.find(specs.PULL, shot="1", move="tow").number == pytest.approx(
        25 * 1.1 * speed**2 / 1.0 + 0.5 * 998 * 0.01 * speed**2
    )


def test_frame_by_frame_a_tow_has_a_step_and_no_pull():
    job = job_of(*SET, actions=(tow(),), rule=FrameByFrame(2))
    made = plan(job, {}).build("boat")
    assert made.find(specs.MOVE_STEP, shot="1", move="tow").number == pytest.approx(6 / 24 / 24 * 2)
    assert made.find(specs.PULL, shot="1", move="tow") is None


def test_what_flies_swings_unless_its_ramp_is_one_period_and_wires_bear_their_share():
    flown = Flown("flight", "boat", 3.0, wire_m=2.0, mass_kg=4.0, ties=(Tie("wire", 60.0, 5.0),), ramp_s=0.5)
    job = job_of(*SET, actions=(flown,), rule=FixedRate(60.0))
    made = plan(job, {}).build("boat")
    assert made.find(specs.SWING_SCREEN, shot="1", move="flight").number == pytest.approx(7.1, abs=0.01)
    said = minds(job, "boat")
    assert any("swings on by" in m for m in said)
    assert any("too heavy for its wires" in m for m in said)
    calm = minds(job_of(*SET, actions=(replace(flown, ramp_s=None, wires=4),), rule=FixedRate(60.0)), "boat")
    assert not any("swings on" in m or "too heavy" in m for m in calm)


def test_cues_go_by_time_or_by_the_fronts_speed_and_two_in_one_frame_are_minded():
    chain = Cues("pins", "boat", 30, 1.8, lasts_s=2.5)
    job = job_of(*SET, actions=(chain,), rule=FixedRate(120.0))
    made = plan(job, {}).build("boat")
    gap, frames = (made.find(spec, shot="1", move="pins").number for spec in (specs.CUE_GAP, specs.CUE_FRAMES))
    assert (gap, frames) == pytest.approx((0.01724, 2.07), rel=2e-3)
    by_speed = replace(chain, lasts_s=None, real_m_s=made.find(specs.CUE_READS, shot="1", move="pins").number)
    same = plan(job_of(*SET, actions=(by_speed,), rule=FixedRate(120.0)), {}).build("boat")
    assert same.find(specs.CUE_GAP, shot="1", move="pins").number == pytest.approx(gap)
    assert any(
        "fall into one frame" in m
        for m in minds(job_of(*SET, actions=(replace(chain, count=90),), rule=FixedRate(120.0)), "boat")
    )
    assert any(
        "how fast does pins run" in m for m in minds(job_of(*SET, actions=(replace(chain, lasts_s=None),)), "boat")
    )
    (table,) = cue_tables(plan(job, {}), job.shots[0])
    rows = list(csv.DictReader(io.StringIO(cues_as_csv((table,)).decode())))
    assert len(rows) == 30
    assert float(rows[-1]["after the first ms"]) == pytest.approx(500.0)
    assert float(rows[-1]["camera frame"]) == pytest.approx(60.0)
    apart = np.diff([float(r["after the first ms"]) for r in rows])
    assert apart == pytest.approx(17.24, abs=0.02)


def test_falls_and_waves_and_dust():
    spume = Falling("spume", 50e-6, 1500.0, coverage_kg_m2=0.05, area_m2=3.0, thrown_m3=2.0)
    job = job_of(*SET, actions=(Drop("gallery", "tower", 14.0), Wave("swell", "tower", 22.0), spume))
    made, found = plan(job, {}).build("tower"), plan(job, {}).sets["1"]
    assert made.find(specs.DROP_HEIGHT, shot="1", move="gallery").number == pytest.approx(14 / 12)
    # at 84 fps, not quite √12 × 24: on screen the fall lasts a hundredth longer than the real one
    assert made.find(specs.DROP_SCREEN, shot="1", move="gallery").number == pytest.approx(
        math.sqrt(2 * 14 / 9.80665) * 84 / (24 * math.sqrt(12))
    )
    assert made.find(specs.CREST_READS, shot="1", move="swell").number == pytest.approx(
        math.sqrt(9.80665 * 22 / 2 / math.pi) * 24 * math.sqrt(12) / 84
    )
    assert found.find(specs.IN_THE_AIR, move="spume").number == pytest.approx(0.075)
    said = minds(job)
    assert any("spume as dust, 75 g/m³" in m and "licensed" in m for m in said)
    assert not any("as dust" in m for m in minds(job_of(*SET, actions=(replace(spume, burns=False),))))
    assert not any("as dust" in m for m in minds(job_of(*SET, actions=(replace(spume, thrown_m3=60.0),))))
    sifted = plan(job_of(*SET, actions=(replace(spume, thrown_m3=None, coverage_kg_m2=0.02),)), {}).sets["1"]
    feed, dust, sinks = (sifted.find(spec, move="spume").number for spec in (specs.FEED, specs.IN_THE_AIR, specs.SINKS))
    assert dust == pytest.approx(feed / 3.0 / sinks)
    assert any("ripples" in m for m in minds(job_of(*SET, actions=(Wave("chop", "tower", 0.4),))))


def test_dry_ice_is_minded_by_its_limits():
    day = StageAir(ice_kg_h=12.0, ice_s=3600.0, changes_h=1.0)
    level = {
        mind.level
        for mind in plan(job_of(*SET, air=day), {}).sets["1"].minds
        if "carbon dioxide" in phrase(mind.headline)
    }
    assert level == {"mind"}
    much = replace(day, ice_kg_h=60.0)
    (danger,) = [m for m in plan(job_of(*SET, air=much), {}).sets["1"].minds if "carbon dioxide" in phrase(m.headline)]
    assert danger.level == "danger"
    assert "meter" in phrase(danger.why)
    little = plan(job_of(*SET, air=replace(day, ice_kg_h=1.0)), {}).sets["1"].minds
    assert not any("carbon dioxide" in phrase(m.headline) for m in little)


def test_every_caution_of_what_moves_says_who_decides():
    everything = (
        tow(),
        Flown("flight", "boat", 3.0),
        Cues("pins", "boat"),
        Drop("gallery", "tower", 14.0),
        Falling("flour", 5e-5, 1500.0),
    )
    said = set_cautions(
        *(lambda job: (job, job.shots[0]))(job_of(*SET, actions=everything, air=StageAir(800.0, ice_kg_h=5.0)))
    )
    for word in ("tension", "Over heads", "timing only", "dust", "Smoke", "Dry ice", "Once armed"):
        assert any(word in caution for caution in said), word
    assert all("Decides:" in caution or "decide" in caution.casefold() for caution in said)
    assert set_cautions(*(lambda job: (job, job.shots[0]))(job_of(*SET))) == ()


# -------------------------------------------------------------------------------------------- playing
def test_what_plays_is_at_its_place_at_every_moment():
    shot = job_of(*SET, actions=(tow(starts_s=1.0, lasts_s=2.0, heading_deg=90.0),)).shots[0]
    action = shot.actions[0]
    assert offset_of(action, shot, 24.0, 24.0, 84.0, 0.5) == (0.0, 0.0, 0.0)
    assert offset_of(action, shot, 24.0, 24.0, 84.0, 2.0) == pytest.approx((0.25, 0.0, 0.0), abs=1e-12)
    assert offset_of(action, shot, 24.0, 24.0, 84.0, 9.0) == pytest.approx((0.5, 0.0, 0.0), abs=1e-12)
    fall = Drop("gallery", "tower", 14.0, 1.0)
    whole = math.sqrt(2 * 14 / 12 / 9.80665) * 84 / 24
    half = offset_of(fall, shot, 12.0, 24.0, 84.0, 1.0 + whole / 2)
    assert half == pytest.approx((0.0, 0.0, -14 / 12 / 4))
    assert offset_of(fall, shot, 12.0, 24.0, 84.0, 30.0) == pytest.approx((0.0, 0.0, -14 / 12))
    arc = CameraMove("arc", arc_deg=90.0, about_m=2.0, lasts_s=6.0, ease=0.0)
    moving = replace(shot, actions=(arc,))
    end = camera_at(CAMERA, moving, 6.0, 1.62)
    assert (end.across_m, end.back_m, end.pan_deg) == pytest.approx((2.0, -2.0, -90.0))
    middle = Eye((end.across_m, -end.back_m, 1.62), math.radians(end.pan_deg), 0.0, 0.0, 3000.0, 4096.0, 2160.0)
    assert middle.pixels(np.array([[0.0, 2.0, 1.62]]))[0] == pytest.approx((2048.0, 1080.0)), (
        "what it goes round stays in the middle"
    )
    rows = frame_table(CameraMove("slider", across_m=0.3, lasts_s=2.0, grain_m=0.001), moving, 24.0)
    assert len(rows) == 48
    steps = np.diff([row[1] for row in rows])
    assert sum(steps) == pytest.approx(0.3, abs=1e-12)
    assert {round(step * 1000) for step in steps} <= set(range(12))


def test_cues_that_have_gone_and_waves_that_run_are_where_they_should_be():
    places = (0.2, 0.5, 1.2)
    assert in_a_row(places) == pytest.approx((-0.5, -0.2, 0.5))
    # 0.5 s on set at 96 fps are 2 s on screen: the middle one goes at 0.3 / 1.0 of it
    assert cues_gone(places, 0.5, 24.0, 96.0, 0.0) == [True, False, False]
    assert cues_gone(places, 0.5, 24.0, 96.0, 0.59) == [True, False, False]
    assert cues_gone(places, 0.5, 24.0, 96.0, 0.61) == [True, True, False]
    assert cues_gone(places, 0.5, 24.0, 96.0, 2.0) == [True, True, True]
    assert shown_speed(0.4, 24.0, 96.0) == pytest.approx(0.1)
    wave = Wave("swell", "tower", 24.0)
    length, period = 2.0, math.sqrt(2 * math.pi * 2.0 / 9.80665)
    still = crest_line(wave, 12.0, 24.0, 84.0, 0.0, 5.0, 0.9, 3.0)
    assert (still[0][0], still[-1][0]) == (-5.0, 5.0)
    assert {point[1] for point in still} == {3.0}
    heights = [point[2] for point in still]
    assert (min(heights), max(heights)) == pytest.approx((0.9 - length / 25, 0.9 + length / 25), abs=2e-3)
    later = crest_line(wave, 12.0, 24.0, 84.0, period * 84 / 24, 5.0, 0.9, 3.0)
    assert [p[2] for p in later] == pytest.approx(heights, abs=1e-9), "a period on set is so much longer on screen"
    quarter = crest_line(wave, 12.0, 24.0, 84.0, period * 84 / 24 / 4, 5.0, 0.9, 3.0)
    assert quarter[60][2] == pytest.approx(0.9 - length / 25), "it runs to the right"
    assert crest_line(wave, 12.0, 24.0, None, 3.0, 5.0, 0.9, 3.0) == still


def test_a_body_stands_where_its_place_and_its_move_have_it():
    turned = replace(BOAT, place=replace(BOAT.place, across_m=0.4, turn_deg=90.0, to_m=5.5))
    job = job_of(TOWER, turned)
    plane = next(p for p in stage_of(job).found.planes if p.name == "boat")
    body = body_of(plane, surfaces_of(job, stage_of(job).found, plane, facets_of), 1.26, (0.1, -0.2, 0.05))
    assert body.where == pytest.approx((0.5, 4.8, 1.31))
    low, high = body.reach()
    assert low == pytest.approx((0.5 - 1.5 / 24, 4.8 - 3 / 24, 1.31))
    assert high == pytest.approx((0.5 + 1.5 / 24, 4.8 + 3 / 24, 1.31 + 0.5))
    assert body.in_set(np.array([body.local((1.0, 2.0, 3.0))]))[0] == pytest.approx((1.0, 2.0, 3.0))


def test_what_falls_moves_the_piece_that_breaks_and_a_tow_moves_all_of_its_build():
    whole, part = (
        Need("all", ByBuild("tower"), Place(3.0)),
        Need("part", ByBuild("tower", ("body",), wear="destructive"), Place(3.0)),
    )
    found = plan(job_of(whole, part), {}).sets["1"]
    assert needs_moved(found, Drop("d", "tower", 3.0)) == (1,)
    assert needs_moved(found, replace(tow(), build="tower")) == (0, 1)


# -------------------------------------------------------------------------------------------- plate and card
def test_the_camera_is_held_against_the_plate_and_one_act_sets_it():
    plate = Plate("a plate", 0.0254, 0.024, 2.4, 3.5, distance_m=90.0, roll_deg=1.0)
    job = job_of(Need("tower", ByBuild("tower"), Place(8.0)), plate=plate)
    stage = stage_of(job)
    shows = {
        what: stage.find(specs.MATCH_SHIFT, use=what).number
        for what in ("focal length", "height", "distance", "tilt", "roll")
    }
    reach = stage.find(specs.REACH, camera="").number
    assert shows["tilt"] == pytest.approx(reach * math.tan(math.radians(3.5)))
    assert shows["roll"] == pytest.approx(2048 * math.sin(math.radians(1.0)))
    assert shows["distance"] == pytest.approx(2048 * 0.5 / 7.5)
    assert sum("parts from the plate" in phrase(m.headline) for m in stage.minds) >= 3
    made = plan(job, {}).build("tower")
    asked = {
        what: made.find(spec, shot="1").number
        for what, spec in (
            ("focal length", specs.PLATE_FOCAL),
            ("height", specs.PLATE_HEIGHT),
            ("distance", specs.PLATE_DISTANCE),
        )
    }
    set_up = replace(job, shots=(as_the_plate(stage, asked | {"tilt": 3.5, "roll": 1.0}),))
    after = stage_of(set_up)
    assert [after.find(specs.MATCH_SHIFT, use=what).number for what in shows] == pytest.approx([0.0] * 5, abs=0.2)


def test_a_stand_that_was_knocked_is_found_and_told_the_way_back():
    card = MeasuringCard(4.0, 0.003, (Stand("lens", 2.31, 3.02), Stand("lamp", 5.2, 2.6)),
                         (Found("lens", 2.31, 3.021), Found("lamp", 5.0, 2.6), Found("lamp", 5.192, 2.614)))  # fmt: skip
    job = job_of(*SET, card=card)
    stage = stage_of(job)
    assert stage.find(specs.STAND_OFF, use="lens").number < 0.003
    moved = stage.find(specs.STAND_OFF, use="lamp").number
    assert moved == pytest.approx(0.0268, abs=2e-4), "by the last reading"
    assert stage.find(specs.STAND_SHIFT, use="lamp").number == pytest.approx(
        moved * stage.find(specs.REACH, camera="").number / 0.7
    )
    assert stage.find(specs.STAND_ALLOWED).number == pytest.approx(
        0.003 * stage.find(specs.REACH, camera="").number / 0.7
    )
    said = [phrase(m.headline) + phrase(m.why) for m in stage.minds if "moved" in phrase(m.headline)]
    assert len(said) == 1
    assert "lamp" in said[0]
    assert "20 mm towards B, 18 mm to the right" in said[0]
    table = card_table(plan(job, {}), job.shots[0])
    assert table.rows[1][0] == "lamp"
    assert table.rows[1][8] == pytest.approx(26.8)
    torn = replace(card, stands=(Stand("lens", 0.5, 0.5),))
    assert any("cannot be there" in phrase(m.headline) for m in stage_of(job_of(*SET, card=torn)).minds)


# -------------------------------------------------------------------------------------------- lines
JOB = job_of(*SET)
LINES = Job(
    "a job", Shop(camera="cinema-150"), (replace(JOB.builds[0], id="b0", name="b0", called="b0"),), (), JOB.cards
)


IMPERIAL: System = "imperial"


@given(actions)
def test_a_move_typed_over_itself_changes_nothing(action):
    assert parse_action(show_action(action), LINES) == action
    assert parse_action(show_action(action, IMPERIAL), LINES, IMPERIAL, action) == action


@given(airs)
def test_air_typed_over_itself_changes_nothing(air):
    assert parse_air(show_air(air)) == air
    assert parse_air(show_air(air, IMPERIAL), IMPERIAL, air) == air


@given(stands)
def test_a_stand_typed_over_itself_changes_nothing(stand):
    assert parse_stand(show_stand(stand)) == stand
    assert parse_stand(show_stand(stand, IMPERIAL), IMPERIAL, stand) == stand


@given(places, cameras)
def test_places_and_cameras_typed_over_themselves_in_feet_change_nothing(place, camera):
    assert place_typed(show_place(place, IMPERIAL), place, IMPERIAL) == place
    for one in (camera, replace(camera, lens="prime-50")):  # a card hides the length that was typed before it
        assert parse_camera(show_camera(one, IMPERIAL), IMPERIAL, one.name, one) == one


def test_what_moves_and_where_it_stands_is_written_in_feet_and_one_phrase_typed_anew_moves_no_other():
    tow = Travel("tow", "b0", 6.0, run_up_m=0.6, mass_kg=25.0, ties=(Tie("tow eye", 120.0, 5.0),))
    line = show_action(tow, IMPERIAL)
    assert (
        line == "travel tow: of b0, 19.69 ft/s real, run-up 23 5/8 in, weighs 55.12 lb, tie tow eye bears 26.98 lbf / 5"
    )
    typed = parse_action(line.replace("23 5/8 in", "3 ft"), LINES, IMPERIAL, tow)
    assert typed == replace(tow, run_up_m=0.9144)
    assert example("travel", "b0", LINES, IMPERIAL) == "travel tow: of b0, 19.69 ft/s real, run-up 23 5/8 in"
    place = Place(3.0, across_m=-0.3, foot_m=0.9)
    assert show_place(place, IMPERIAL) == "stands 9' 10 1/8\", 11 13/16 in left, foot 35 7/16 in"
    assert place_typed("stands 10 ft, 11 13/16 in left, foot 35 7/16 in", place, IMPERIAL) == replace(place, at_m=3.048)
    assert show_air(StageAir(1000.0, 5, 2.0, 600.0), IMPERIAL) == "sight 3281' at 5 %, dry ice 1.1760 oz/min for 600 s, air changed 1 times an hour"  # fmt: skip


@pytest.mark.parametrize(("line", "said"), [
    ("walk there: of b0", "nothing that moves"), ("travel: of b0, 6 m/s real", "nothing that moves"), ("travel tow: 6 m/s real", "whose it is"),
    ("travel tow: of b0", "how much"), ("travel tow: of nobody, 6 m/s real", "no build"), ("cues c: of b0, 2.5 cues", "whole number"),
    ("drop d: of b0, falls 3 m real, wobbles", "not understood"), ("travel t: of b0, 6 m/s real, tie eye bears 60 N / 0.2", "out of reach"),
    ("falling snow: grain 1 mm", "how dense"),
])  # fmt: skip
def test_a_line_that_cannot_be_is_refused_with_a_sentence(line, said):
    with pytest.raises(UserError, match=said):
        parse_action(line, LINES)
    for text in ("fog 3 m", "sight yesterday"):
        with pytest.raises(UserError):
            parse_air(text)
    for text in ("stand", "stand: A 3 m", "stand: A 3 m, B 2 m, up"):
        with pytest.raises(UserError):
            parse_stand(text)
    with pytest.raises(UserError, match="both distances"):
        parse_found("lens", "2 m")


@given(actions.filter(lambda a: values_of(a)), st.integers(-30, 30))
def test_every_value_of_a_move_is_stepped_within_what_it_may_be_and_its_line_still_reads(action, steps):
    for phrase_of in values_of(action):
        changed = value_stepped(action, phrase_of, steps)
        assert parse_action(show_action(changed), LINES) == changed
        assert replace(changed, **{phrase_of.field: getattr(action, phrase_of.field)}) == action


def test_lines_about_a_shot_make_undo_steps_and_refuse_what_is_not_there():
    session = Session(job_of(*SET), {})
    lines = ("stand 1/rail: stands 0.9 m, 0.2 m left, foot 1 m, turned 20°, 3 m wide", "camera 1: 40 mm, eye 1.5 m, tilt 2°", "camera 1/B: 60 mm, back 0.4 m, 0.3 m right",
             "action 1: travel tow: of boat, 6 m/s real, run-up 0.4 m", "action 1/tow: travel tow: of boat, 3 m/s real", "air 1: sight 800 m", "eye 1: 7 m",
             "mark 1: lens: A 2 m, B 3 m", "found 1/lens: 2.02 m, 3 m by Joost", "mark 1/lens: none", "camera 1/B: none", "action 1/tow: none", "stand 1/rail: nowhere")  # fmt: skip
    states = [session.job]
    for line in lines:
        session.do(line)
        states.append(session.job)
    shot = states[6].shots[0]
    assert shot.needs[0].place == Place(0.9, across_m=-0.2, foot_m=1.0, turn_deg=20.0, wide_m=3.0)
    assert [c.name for c in shot.cameras] == ["", "B"]
    assert shot.actions == (Travel("tow", "boat", 3.0),)
    assert states[9].shots[0].card.readings[0].by == "Joost"
    assert session.job.shots[0].needs[0].place is None
    for before in reversed(states[:-1]):
        session.undo()
        assert session.job == before
    for verb, rest in (("stand", "9/rail: stands 1 m"), ("stand", "1/moon: stands 1 m"), ("found", "1/lens: 2 m, 3 m"), ("action", "1/x: none"), ("air", "1"),
                       ("camera", "1/C: none"), ("mark", "1: far: A 1 m, B 1 m")):  # fmt: skip
        with pytest.raises(UserError):
            do_shot_wish(JOB, verb, rest)


def test_another_scale_keeps_what_a_plane_looks_or_where_it_stands():
    job = job_of(*SET)
    found = plan(job, {}).sets["1"]
    plane = {p.name: p for p in found.planes}
    nearer = at_scale(job, found, plane["headland"], 96.0)
    moved = {p.name: p for p in plan(nearer, {}).sets["1"].planes}
    assert moved["headland"].at.number == pytest.approx(5.2 / 2)
    stays = {p.name: p for p in plan(at_scale(job, found, plane["headland"], 96.0, stays=True), {}).sets["1"].planes}
    assert stays["headland"].at.number == pytest.approx(5.2)
    built = at_scale(job, found, plane["boat"], 12.0)
    assert built.build("boat").scale == 12.0
    assert {p.name: p for p in plan(built, {}).sets["1"].planes}["boat"].at.number == pytest.approx(9.0)
    for same in plane.values():
        for stays in (False, True):
            assert at_scale(job, found, same, same.scale.number, stays=stays) is job
    tied = replace(job, builds=(job.builds[0], replace(job.builds[1], follows="tower")))
    with pytest.raises(UserError, match="follows"):
        at_scale(tied, plan(tied, {}).sets["1"], plane["boat"], 12.0)


def test_what_no_list_and_no_drawing_can_hold_is_refused_or_left_out():
    endless = CameraMove("slider", across_m=1.0, lasts_s=1e7)
    with pytest.raises(UserError, match="more than a list holds"):
        frame_table(endless, JOB.shots[0], 24.0)
    odd = job_of(replace(RAIL, what="rail\x07 of\n iron"))
    drawing = floor_marks(replace(odd, name="a\x00 job"), stage_of(odd), facets_of)
    assert ElementTree.fromstring(as_svg(drawing)) is not None
    assert any(words.words.startswith("rail of iron") for words in drawing.words)


def test_a_move_stays_within_its_shot():
    shot = JOB.shots[0]
    assert timed(tow(), shot, -3.0, None).starts_s == 0.0
    assert timed(tow(), shot, 99.0, None).starts_s < shot.seconds
    assert timed(tow(), shot, 1.0, -5.0).lasts_s > 0
    assert not hasattr(timed(Drop("d", "boat", 1.0), shot, 1.0, 3.0), "lasts_s")


# -------------------------------------------------------------------------------------------- paper
def test_the_stage_plan_says_the_same_places_as_svg_and_as_dxf():
    """Read back: the drawing format by its kept library, in millimetres at full size; the other by its marks on paper at 1:20."""
    import ezdxf

    card = MeasuringCard(4.0, stands=(Stand("lens stand", 2.31, 3.02),))
    turned = replace(BOAT, place=replace(BOAT.place, across_m=0.8, turn_deg=90.0))
    job = job_of(RAIL, TOWER, turned, HEADLAND, card=card)
    drawing = floor_marks(job, stage_of(job), facets_of)
    document = ezdxf.read(io.StringIO(as_dxf(drawing).decode()))
    assert document.units == 4, "millimetres"
    words = {text.dxf.text for text in document.modelspace().query("TEXT")}
    assert any(w.startswith("boat") and "4.5 m" in w and "800 mm right" in w and "1:24" in w for w in words)
    assert any(w.startswith("lens stand") for w in words)
    outlines = document.modelspace().query('LWPOLYLINE[layer=="outline"]')
    spans = [np.ptp(np.array([p[:2] for p in line.get_points()]), axis=0) for line in outlines]
    assert any(span == pytest.approx((3000 / 24, 6000 / 24), abs=1e-6) for span in spans), "turned by a right angle"
    assert any(span == pytest.approx((150_000 / 48, 0.0), abs=1e-6) for span in spans)
    root = ElementTree.fromstring(as_svg(drawing))
    name = "{http://www.w3.org/2000/svg}"
    marks = [line.get("points") for line in root.find(f"{name}g[@id='mark']")]
    assert len(marks) == 2 * (4 + 1 + 2 + 1), "two strokes a cross: things, camera, nails, a stand"
    polygons = [line.get("points") for line in root.find(f"{name}g[@id='outline']") if line.tag == f"{name}polygon"]
    sizes = [
        np.ptp(np.array([[float(v) for v in p.split(",")] for p in points.split()]), axis=0) for points in polygons
    ]
    assert any(size == pytest.approx((3000 / 24 / 20, 6000 / 24 / 20), abs=2e-3) for size in sizes)
