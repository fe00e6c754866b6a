"""What the camera's planner makes of odd shots: inserts, infinity, single frames, lenses that cannot."""

from __future__ import annotations

import math
from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.job.build import Build, Move, Piece
from homunculus.core.job.forms import Box
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import ByBuild, FixedRate, FrameByFrame, Gravity, Need, ScreenTime, Shot
from homunculus.core.plan.job_plan import plan
from homunculus.core.why import phrase, why
from tests.strategies import CARDS

LENS = Camera(0.035, Depth(20.0, 60.0))
BODY = Piece("body", "body", Box(2.0, 1.0, 1.0))


def made_of(*shots, scale=12.0, pieces=(BODY,), moves=(), camera="cinema-150"):
    build = Build("b", "A build", "it", scale, datetime(2026, 2, 16, 9), pieces, moves=moves)
    return plan(Job("a job", Shop(camera=camera), (build,), shots, CARDS), {}).builds[0]


def shot(rule=Gravity(), lens=LENS, number="1", use=ByBuild("b"), seconds=6.0):  # noqa: B008
    return Shot(number, "a shot", seconds, date(2026, 3, 17), (Need("it", use),), rule, cameras=(lens,))


def minds(made, station="lens"):
    return ["".join(phrase(m.headline)) for m in made.minds if m.station == station]


def test_an_insert_stands_at_its_own_scale_and_alone_it_decides_the_rate():
    pieces = (BODY, Piece("claw", "claw", Box(0.2, 0.1, 0.1), enlarged=2.5))
    looks = Place(20.0, looks=True)
    needs = (Need("crab", ByBuild("b", ("body",)), looks), Need("claw", ByBuild("b", ("claw",)), looks))
    made = made_of(replace(shot(), needs=needs, cameras=(Camera(0.035),)), scale=4.0, pieces=pieces)
    assert made.find(specs.PLANE_AT, shot="1", use="crab").number == pytest.approx(5.0)
    assert made.find(specs.PLANE_AT, shot="1", use="claw").number == pytest.approx(12.5)  # 250 % of 1:4 is 1:1.6
    assert (made.find(specs.NEAR, shot="1").number, made.find(specs.FAR, shot="1").number) == (5.0, 12.5)
    assert made.find(specs.RATE_WANTED, shot="1").number == pytest.approx(48.0)
    image = made.find(specs.IMAGE, shot="1").number
    assert made.find(specs.FRAME_SHARE, "claw", "1").number == pytest.approx(0.1 / 1.6 * image / (12.5 * 0.019))
    alone = made_of(shot(use=ByBuild("b", ("claw",))), scale=4.0, pieces=pieces)
    assert alone.find(specs.RATE_WANTED, shot="1").number == pytest.approx(24 * math.sqrt(1.6))
    assert alone.find(specs.NEAR, shot="1").number == pytest.approx(12.5)
    assert alone.find(specs.FRAME_SHARE, shot="1") is None


def test_a_far_end_at_infinity_is_held():
    made = made_of(shot(lens=Camera(0.020, Depth(24.0, None))))
    assert math.isinf(made.find(specs.FAR, shot="1").value)
    assert made.find(specs.FOCUS, shot="1").number == pytest.approx(4.0)
    disc = 0.020**2 / (4.0 - 0.020)
    airy = 2.44 * 550e-9 * 4.0 / (4.0 - 0.020)
    stop = made.find(specs.STOP, shot="1").number
    assert math.hypot(disc / stop, airy * stop) == pytest.approx(0.036 / 4096 * 3)
    assert math.isfinite(made.find(specs.LIGHT, shot="1").number)
    assert why(made.find(specs.FAR, shot="1")).value == "∞"


@pytest.mark.parametrize(
    ("lens", "said"),
    [(Camera(0.035, Depth(60.0, 20.0)), "near end lies behind"), (Camera(0.5, Depth(5.0, 20.0)), "cannot be focused"),
     (Camera(0.1, Depth(5.0, 60.0)), "no stop of this lens"), (Camera(0.035, Depth(20.0, 60.0), focus_m=0.03), "focus cannot be"),
     (Camera(0.035, Depth(20.0, 60.0), stop=1.4), "f/1.4 does not hold")],
)  # fmt: skip
def test_a_depth_that_cannot_be_is_minded_and_never_a_number(lens, said):
    made = made_of(shot(lens=lens))
    assert any(said in words for words in minds(made))
    for figure in made.figures:
        if figure.spec in (specs.STOP, specs.LIGHT, specs.FINEST, specs.FRAME_SHARE):
            assert 0 < figure.number < math.inf
            assert figure.spec is not specs.STOP or lens.widest_stop <= figure.number <= lens.smallest_stop


def test_one_plane_takes_the_widest_stop_and_has_light():
    made = made_of(shot(lens=Camera(0.035, Depth(20.0, 20.0), widest_stop=2.0)))
    assert made.find(specs.STOP, shot="1").value == 2.0
    assert made.find(specs.LIGHT, shot="1").number > 0


@given(st.floats(0.005, 0.6), st.floats(0.01, 400), st.one_of(st.none(), st.floats(0.01, 4000)), st.floats(0.2, 900))
def test_no_lens_gives_a_figure_without_bounds(focal, near, far, scale):
    made = made_of(shot(lens=Camera(focal, Depth(near, far))), scale=scale)
    for figure in made.figures:
        if isinstance(figure.value, float) and figure.spec not in (specs.FAR, specs.AIR_TO):
            assert math.isfinite(figure.value), figure.spec.name
        if figure.spec in (specs.STOP, specs.LIGHT, specs.EXPOSURE, specs.IMAGE, specs.FOCUS):
            assert figure.number > 0


def test_frame_by_frame_has_its_exposure_by_hand_and_says_when_nobody_has_decided_it():
    told, silent = replace(LENS, exposure_s=0.5), LENS
    made = made_of(shot(FrameByFrame(2), silent))
    assert made.find(specs.LIGHT, shot="1") is None
    assert made.find(specs.GRAVITY, shot="1") is None
    assert made.find(specs.RATE, shot="1") is None
    assert made.find(specs.EXPOSURES, shot="1").value == 72
    assert any("how long is one frame exposed" in words for words in minds(made))
    made = made_of(shot(FrameByFrame(2), told))
    n = made.find(specs.EFFECTIVE, shot="1").number
    assert made.find(specs.LIGHT, shot="1").number == pytest.approx(250 * n * n / (0.5 * 800))
    assert not minds(made)
    assert made.headline("shot").note[0] == "a shot = "
    interval = made_of(shot(ScreenTime(5 * 3600.0), told, seconds=8.0))
    assert interval.find(specs.GRAVITY, shot="1") is None
    assert interval.find(specs.LIGHT, shot="1").number == pytest.approx(
        250 * interval.find(specs.EFFECTIVE, shot="1").number ** 2 / (0.5 * 800))  # fmt: skip
    too_long = made_of(shot(Gravity(), told))
    assert any("longer than a frame" in words for words in minds(too_long))
    assert too_long.find(specs.LIGHT, shot="1") is None


@pytest.mark.parametrize(
    ("wanted", "taken", "note"),
    [(5.9, 6.0, "slowest is 6"), (6.0, 6.0, ""), (1.01, 6.0, "slowest is 6"), (1.0, 1.0, "one by one"), (150.2, 150.0, "stops at 150")],
)  # fmt: skip
def test_single_frames_begin_at_one_a_second_not_just_under_the_slowest_rate(wanted, taken, note):
    found = made_of(shot(FixedRate(wanted))).find(specs.RATE, shot="1")
    assert found.value == taken
    assert note in " ".join(found.notes)


def test_a_model_moves_at_the_rate_of_the_shot_it_moves_in():
    slow, quick = shot(Gravity(), number="1"), shot(Gravity(2.0), number="2")
    made = made_of(slow, quick, moves=(Move("boat", 6.0, ("1",)), Move("gull", 3.0)))
    assert made.find(specs.SPEED, shot="1", move="boat").number == pytest.approx(6.0 / 12 * 84 / 24)
    assert made.find(specs.SPEED, shot="2", move="boat") is None
    rate = made.find(specs.RATE, shot="2").number
    assert rate > 84
    assert made.find(specs.SPEED, shot="2", move="gull").number == pytest.approx(3.0 / 12 * rate / 24)


def test_parts_of_real_size_fit_a_build_of_real_size():
    build = Build("b", "A build", "it", 1.0, datetime(2026, 2, 16, 9), (BODY,), bought_parts=True)
    job = Job("a job", Shop(camera="cinema-150"), (build,), (), CARDS)
    assert plan(job, {}).builds[0].find(specs.BOUGHT).number == 0
    assert "1:1" in plan(job, {}).builds[0].find(specs.BOUGHT).notes[0]


def test_why_shows_angles_and_densities_as_they_were_given(session):
    session.edit("shutter", replace(session.job, shots=tuple(
        replace(s, cameras=(replace(s.cameras[0], shutter_deg=172.8),)) if s.id == "2" else s for s in session.job.shots)))  # fmt: skip
    made = session.plan().build("lighthouse")
    told = {i.label: i.value for i in why(made.find(specs.EXPOSURE, shot="2")).inputs}
    assert told["shutter"] == "172.8\N{NO-BREAK SPACE}°"
    told = {i.label: i.value for i in why(made.find(specs.FOOT, shot="1")).inputs}
    assert told["tilt of the plate"] == "3.5\N{NO-BREAK SPACE}°"
    told = {i.label: i.value for i in why(made.find(specs.JACKET, "gallery")).inputs}
    assert told["mat"] == "450\N{NO-BREAK SPACE}g/m²"
