"""The planners, each held against an independent walk through the same shop."""

import math
from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.camera.blur import Glass, aperture_disc, worst_blur
from homunculus.core.edits.decisions import decide, find_decision, replace_build
from homunculus.core.job.build import Build, Piece, piece_of
from homunculus.core.job.forms import Box
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import JacketMould
from homunculus.core.job.operations import After, Cast, Hands, Insert, LayUp, Pour, Wait
from homunculus.core.job.shop import Shop
from homunculus.core.plan.job_plan import plan
from homunculus.core.schedule.calendar import working_time
from homunculus.core.why import why
from tests.strategies import CARDS

START = datetime(2026, 2, 16, 9)  # a Monday
H = 3600.0
JACKET = JacketMould("silicone-tin-soft", 0.010, "laminate-polyester-mat")


def one_build(*steps, copies=1, mould=JACKET, size=(0.4, 0.3, 0.2), material="resin-casting-slow"):
    piece = Piece("body", "body", Box(*size), material=material, copies=copies, mould=mould, route=steps)
    build = Build("b", "A build", "it", 1.0, START, (piece,))
    return Job("a job", Shop(camera="cinema-150"), (build,), (), CARDS)


def planned(*steps, **kwargs):
    return plan(one_build(*steps, **kwargs), {}).builds[0]


def test_hands_fill_shop_hours_and_go_on_next_day():
    made = planned(Hands("a-long-job", work_s=20.0 * H))
    (task,) = made.tasks
    assert (task.start, task.end) == (START, datetime(2026, 2, 18, 11))
    assert made.find(specs.HANDS).number == 20 * 3600


def test_hands_over_a_weekend_wait_for_monday():
    made = planned(Hands("a-week", work_s=45.0 * H), Hands("the-rest", work_s=1.0 * H))
    assert made.tasks[1].start == datetime(2026, 2, 23, 9)


def test_hours_by_the_square_metre_follow_the_surface_as_built():
    job = one_build(Hands("finish", work_s=1.0 * H, work_s_per_m2=10.0 * H))
    area = 2 * (0.4 * 0.3 + 0.3 * 0.2 + 0.2 * 0.4)
    assert plan(job, {}).builds[0].find(specs.HANDS).number == pytest.approx((1 + 10 * area) * 3600)
    half = replace_build(job, replace(job.builds[0], scale=2.0))
    assert plan(half, {}).builds[0].find(specs.HANDS).number == pytest.approx((1 + 10 * area / 4) * 3600)


def test_drying_runs_through_night_and_weekend():
    made = planned(Hands("paint", work_s=44.0 * H), Wait("dries", wait_s=50.0 * H), Hands("varnish", work_s=1.0 * H))
    dry = made.tasks[1]
    assert dry.end - dry.start == timedelta(hours=50)
    assert dry.matter == "air_dry"
    assert made.tasks[2].start == datetime(2026, 2, 23, 9)


def test_a_jacket_is_laid_up_by_hand_then_cures_before_the_rubber():
    made = planned(LayUp("jacket", work_s_per_m2=3.0 * H), Pour("rubber"))
    names = [(t.name, t.matter) for t in made.tasks]
    assert names == [
        ("body: jacket", "labour"),
        ("body: jacket", "curing"),
        ("body: rubber", "wet"),
        ("body: rubber", "curing"),
    ]
    area = made.find(specs.JACKET_AREA, "body").number
    assert working_time(made.tasks[0].start, made.tasks[0].end, Shop().hours) == pytest.approx(area * 3 * 3600)
    assert made.find(specs.POURED, "body", op="rubber").value == made.tasks[2].end
    assert made.find(specs.OPENS, "body", op="rubber").value == made.tasks[3].end


def test_a_pour_that_would_run_past_closing_waits_for_the_morning():
    made = planned(Hands("sculpt", work_s=8.8 * H), Pour("rubber"))
    assert made.find(specs.POUR_TIME, "body", op="rubber").number > 0.2 * 3600
    assert made.tasks[1].start == datetime(2026, 2, 17, 9)


@given(st.integers(1, 6))
def test_each_casting_waits_for_the_one_before(copies):
    made = planned(Cast("castings", work_s=0.5 * H), copies=copies)
    (task,) = made.tasks
    cure = next(c for c in CARDS.materials if c.id == "resin-casting-slow").demould_s.value
    assert made.find(specs.HANDS).number == copies * 1800
    assert task.end - task.start >= timedelta(seconds=copies * 1800 + (copies - 1) * cure)
    assert task.done == "last out"


def test_no_castings_take_no_time():
    made = planned(Cast("castings", work_s=0.5 * H), copies=0)
    assert made.tasks == ()
    assert made.find(specs.READY).value == START


def test_without_a_shot_there_is_a_ready_time_and_no_slack():
    made = planned(Hands("sculpt", work_s=2.0 * H))
    assert made.find(specs.READY).value == START + timedelta(hours=2)
    assert made.find(specs.SLACK) is None
    assert "in no shot" in made.headline("shoot").note[0]


@pytest.mark.parametrize(
    ("route", "said"),
    [
        ((Pour("rubber", after=(After("ghost/rubber"),)),), "ghost/rubber"),
        ((Pour("rubber", after=(After("open"),)), Hands("open")), "waits for something that waits for it"),
        ((Hands("open"), Hands("open")), "Two operations of body are called “open”"),
        ((Insert("wire", piece="ghost"),), "“ghost”, which is no piece of this build"),
    ],
)
def test_a_route_that_cannot_be_walked_holds_the_build_and_says_what_is_in_the_way(route, said):
    assert said in planned(*route).held


def test_a_pot_life_too_short_is_danger_and_counts_no_batches():
    job = one_build(Pour("rubber"))
    key = "card.silicone-tin-soft.pot_life_s"
    quick = decide(job, find_decision(job, "b", key), 120.0)
    made = plan(quick, {}).builds[0]
    assert made.find(specs.BATCHES, "body", op="rubber").value == 0
    assert any(m.level == "danger" and m.station == "mix" for m in made.minds)


def test_the_heaviest_mould_speaks_for_the_mix(session):
    made = session.plan().build("oldclaw")
    heaviest = max((f for f in made.figures if f.spec is specs.RUBBER), key=lambda f: f.number)
    assert made.headline("mix").value is heaviest


def test_the_lens_of_the_governing_shot_is_named_and_its_stop_is_the_optics(session, demo_document):
    made = session.plan().build("lighthouse")
    shot = next(s for s in demo_document.job.shots if s.id == "2")
    camera = demo_document.job.cards.camera("cinema-150")
    confusion = camera.mode("").sensor_width_m.value / 4096 * 3
    stop = made.find(specs.STOP, shot="2").number
    focus, focal = made.find(specs.FOCUS, shot="2").number, shot.cameras[0].focal_m
    airy = 2.44 * 550e-9 * made.find(specs.EFFECTIVE, shot="2").number
    ends = [math.hypot(aperture_disc(Glass(focal), focus=focus, distance=at) / stop, airy) for at in (24 / 12, 84 / 12)]
    assert ends == pytest.approx([confusion, confusion], rel=1e-6)
    spread = made.find(specs.BLUR, shot="2").number
    assert spread == pytest.approx(3.0)
    best = made.find(specs.BEST_STOP, shot="2").number
    assert best == pytest.approx(12.8, abs=0.05)
    assert (
        worst_blur.function(focal=focal, near=2.0, far=7.0, focus=focus, stop=best, sensor_width=0.036, delivery=4096)
        < spread
    )
    stops = {f.subject.shot: f.number for f in made.figures if f.spec is specs.STOP}
    worst = max(stops, key=lambda s: stops[s])
    assert made.headline("lens").note[-1] == f", shot {worst}"


def test_light_goes_with_the_square_of_the_stop_and_with_the_rate(session):
    made = session.plan().build("lighthouse")
    for shot in ("1", "2", "3", "5"):
        n, e = made.find(specs.EFFECTIVE, shot=shot).number, made.find(specs.EXPOSURE, shot=shot).number
        assert made.find(specs.LIGHT, shot=shot).number == pytest.approx(250 * n * n / (e * 800))


def test_a_hollow_wall_keeps_its_thickness_when_the_scale_changes():
    piece = Piece("wall", "wall", Box(10.0, 8.0, 6.0), material="resin-casting-slow", wall_m=0.005)
    build = Build("b", "A build", "it", 10.0, START, (piece,))
    job = Job("a job", Shop(camera="cinema-150"), (build,), (), CARDS)
    weights = [
        plan(replace_build(job, replace(build, scale=s)), {}).builds[0].find(specs.WEIGHT).number for s in (10.0, 20.0)
    ]
    assert 3.5 < weights[0] / weights[1] < 4.2  # like the area, not like the volume: eight


def test_why_of_every_figure_speaks_in_both_systems_without_holes(session):
    for figure in session.plan().figures():
        for system in ("metric", "imperial"):
            told = why(figure, system)
            text = " ".join(told.lines())
            assert "None" not in text
            assert "nan" not in text.split()
            assert told.label
            assert told.meaning


def test_editing_a_card_changes_that_card_alone(session):
    decision = find_decision(session.job, "lighthouse", "card.silicone-tin-soft.density_kg_m3")
    job = decide(session.job, decision, 1200.0)
    changed = [c.id for c, d in zip(job.cards.materials, session.job.cards.materials, strict=True) if c != d]
    assert changed == ["silicone-tin-soft"]
    assert piece_of(job.build("lighthouse"), "gallery") is piece_of(session.job.build("lighthouse"), "gallery")
