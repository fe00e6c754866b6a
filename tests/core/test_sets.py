"""One shot, one set: what decides the rate, where things stand, what a camera holds, and what is minded."""

from __future__ import annotations

import math
from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.cells.lamps import parse_light, show_light
from homunculus.core.cells.shots import read_cell
from homunculus.core.edits.decisions import decide, find_decision
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build, Move, Piece
from homunculus.core.job.forms import Box
from homunculus.core.job.job import Job
from homunculus.core.job.lighting import ModelLamps, ModelScreen
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import ByBuild, ByStock, Gravity, Need, Shot
from homunculus.core.plan.job_plan import plan
from homunculus.core.planners.lens import taken_at, verdict_of
from homunculus.core.session import Session
from homunculus.core.why import phrase
from tests.strategies import CARDS

CAMERA = Camera(0.035)
STOCK = library.stock()
LENSES = tuple(STOCK.card("lenses", name) for name in ("prime-32", "probe-24", "prime-135"))
BODIES = (*CARDS.cameras, STOCK.card("cameras", "high-speed-1000"))


def build(name, scale, **more):
    piece = Piece("body", "body", Box(2.0, 1.0, 1.0))
    return Build(name, name, name, scale, datetime(2026, 2, 16, 9), (piece,), **more)


def job_of(*needs, builds=None, cameras=(CAMERA,), rule=Gravity(), **more):  # noqa: B008
    """A ship at 1:12, a boat at 1:24, and one shot that needs what is given."""
    builds = builds or (build("ship", 12.0), build("boat", 24.0, moves=(Move("boat", 6.0),)))
    shot = Shot("1", "a shot", 6.0, date(2026, 3, 17), needs, rule, cameras=cameras, **more)
    return Job("a job", Shop(camera="cinema-150"), builds, (shot,), replace(CARDS, cameras=BODIES, lenses=LENSES))


def need(name, place=None, what=""):
    return Need(what or name, ByBuild(name), place)


def looks(at, to=None, **more):
    return Place(at, to, looks=True, **more)


def said_of(made, name):
    return [
        " | ".join((phrase(m.headline), phrase(m.why))) for m in made.build(name).minds if m.station in ("lens", "shot")
    ]


# -------------------------------------------------------------------------------------------- rate
@pytest.mark.parametrize(("base", "rate", "ship_g", "boat_g"), [("", 84.0, 0.98, 1.96), ("boat", 120.0, 0.48, 0.96)])
def test_the_main_build_decides_the_rate_and_all_others_live_with_it(base, rate, ship_g, boat_g):
    made = plan(job_of(need("ship"), need("boat"), base=base), {})
    assert {f.value for f in made.figures() if f.spec is specs.RATE} == {rate}
    for name, gravity in (("ship", ship_g), ("boat", boat_g)):
        assert made.build(name).find(specs.RATE, shot="1").value == rate
        assert made.build(name).find(specs.GRAVITY, shot="1").number == pytest.approx(gravity, abs=0.005)
    speed = made.build("boat").find(specs.SPEED, shot="1", move="boat").number
    assert speed == pytest.approx(6.0 / 24 * rate / 24)  # 0.875 m/s at 84 fps
    stray, word = ("boat", "too fast") if not base else ("ship", "floats")
    assert [word in words for words in said_of(made, stray)] == [True]
    assert not said_of(made, "boat" if base else "ship")


def test_a_take_runs_at_a_rate_that_all_its_bodies_have():
    slow = plan(job_of(need("ship"), cameras=(CAMERA,), rule=Gravity(2.5)), {})
    assert slow.sets["1"].find(specs.RATE).value == 150.0  # 208 wanted
    quick = replace(CAMERA, body="high-speed-1000")
    assert plan(job_of(need("ship"), cameras=(quick,), rule=Gravity(2.5)), {}).sets["1"].find(specs.RATE).value > 190
    both = plan(job_of(need("ship"), cameras=(quick, replace(CAMERA, name="B")), rule=Gravity(2.5)), {})
    assert both.sets["1"].find(specs.RATE).value == 150.0
    assert any("stops at" in phrase(m.headline) for m in both.build("ship").minds)


def test_without_a_build_a_shot_is_full_size():
    made = plan(job_of(Need("rail", ByStock("rail"), Place(3.0))), {})
    assert made.sets["1"].find(specs.RATE).value == 24.0
    assert made.sets["1"].find(specs.FOCUS).number == 3.0
    assert made.figure(specs.FOCUS, made.sets["1"].find(specs.FOCUS).subject).number == 3.0


# ------------------------------------------------------------------------------------------ planes
def test_what_looks_right_follows_its_scale_and_what_stands_on_the_floor_stays():
    rail = Need("rail", ByStock("rail"), Place(0.6))
    cut_out = Need("headland", ByStock("cut-out"), Place(6.0, scale=48.0))
    job = job_of(need("ship", looks(36.0)), need("boat", Place(2.0)), rail, cut_out)
    found = plan(job, {}).sets["1"]
    assert [plane.at.number for plane in found.planes] == pytest.approx([3.0, 2.0, 0.6, 6.0])
    assert (found.find(specs.NEAR).number, found.find(specs.FAR).number) == (0.6, 6.0)
    assert found.find(specs.PLANE_LOOKS, use="boat").number == pytest.approx(48.0)
    assert found.find(specs.PLANE_LOOKS, use="headland").number == pytest.approx(288.0)
    assert found.find(specs.PLANE_LOOKS, use="rail").number == pytest.approx(0.6)
    larger = plan(decide(job, find_decision(job, "ship", "scale"), 4.0), {}).sets["1"]
    assert [plane.at.number for plane in larger.planes] == pytest.approx([9.0, 2.0, 0.6, 6.0])
    assert larger.find(specs.FAR).number == pytest.approx(9.0)


@given(st.floats(0.3, 9), st.floats(1.0, 3), st.floats(0.3, 9), st.booleans(), st.floats(0.0, 2.0))
def test_a_camera_holds_from_the_nearest_to_the_farthest_of_all_that_must_be_sharp(at, ratio, other, soft, back):
    cameras = (CAMERA, replace(CAMERA, name="B", back_m=back))
    found = plan(
        job_of(need("ship", Place(at, at * ratio)), need("boat", Place(other, soft=soft)), cameras=cameras), {}
    ).sets["1"]
    ends = [at, at * ratio] + ([] if soft else [other])
    for name, behind in (("", 0.0), ("B", back)):
        assert found.find(specs.NEAR, camera=name).number == pytest.approx(min(ends) + behind)
        assert found.find(specs.FAR, camera=name).number == pytest.approx(max(ends) + behind)
    worst, planes = (
        found.find(specs.BLUR).number,
        [found.find(specs.PLANE_BLUR, use=name).number for name in ("ship", "boat")],
    )
    assert worst == pytest.approx(max(planes[:1] if soft else planes))


def test_what_is_held_beside_the_planes_goes_by_the_base_scale_or_by_the_floor():
    depth = Depth(24.0, 84.0)
    job = job_of(
        need("ship"),
        cameras=(replace(CAMERA, depth=depth), replace(CAMERA, name="B", depth=replace(depth, looks=False))),
    )
    found = plan(job, {}).sets["1"]
    assert (found.find(specs.NEAR).number, found.find(specs.FAR).number) == pytest.approx((2.0, 7.0))
    assert found.find(specs.NEAR, camera="B").number == 24.0


@pytest.mark.parametrize(("stop", "to", "verdict"), [(None, 2.2, "holds"), (1.4, 2.2, "strained"), (22.0, 2.2, "strained"),
                                                     (None, 40.0, "cannot"), (8.0, 40.0, "cannot")])  # fmt: skip
def test_focus_holds_is_strained_where_another_stop_would_hold_and_else_cannot(stop, to, verdict):
    made = plan(job_of(need("ship", Place(1.6, to)), cameras=(replace(CAMERA, stop=stop),)), {})
    assert verdict_of(made.sets["1"], "") == verdict
    assert bool(said_of(made, "ship")) is (verdict != "holds")
    if stop:
        assert made.sets["1"].find(specs.LIGHT).number == pytest.approx(
            250 * made.sets["1"].find(specs.EFFECTIVE).number ** 2 * 84 * 2 / 800
        )


# ------------------------------------------------------------------------------------------- lenses
def test_a_card_says_what_the_lens_is_and_where_its_pupils_are():
    card = LENSES[0]
    made = plan(job_of(need("ship", Place(2.0, 4.0)), cameras=(replace(CAMERA, lens=card.id, focal_m=0.9),)), {}).sets[
        "1"
    ]
    eye = card.focal_m.value * (1 / card.pupil.value - 1)
    n, f = 2.0 - eye, 4.0 - eye
    assert made.find(specs.FOCUS).number == pytest.approx((2 * n * f + eye * (n + f)) / (n + f + 2 * eye) + eye)
    beyond = replace(card, narrowest=replace(card.narrowest, value=1.9), widest=replace(card.widest, value=1.8))
    job = job_of(need("ship", Place(2.0, 4.0)), cameras=(replace(CAMERA, lens=card.id),))
    job = replace(job, cards=replace(job.cards, lenses=(beyond,)))
    assert plan(job, {}).sets["1"].find(specs.STOP).number == pytest.approx(1.9)


@pytest.mark.parametrize(("lens", "at", "said"), [("prime-32", 0.2, "does not focus so near"), ("probe-24", 0.004, "cannot be focused"), ("prime-32", 0.06, "stands in what it looks at"),
                                                 ("probe-24", 0.03, ""), ("prime-135", 0.05, "cannot be focused")])  # fmt: skip
def test_a_lens_that_comes_too_near_is_minded(lens, at, said):
    made = plan(job_of(need("ship", Place(at, at * 1.02)), cameras=(replace(CAMERA, lens=lens),)), {})
    words = [w for w in said_of(made, "ship") if "focus" in w or "stands in" in w]
    assert any(said in w for w in words) if said else not [w for w in words if "near" in w.split("|")[0]]


@pytest.mark.parametrize(("stop", "taken"), [(0.7, 1.4), (64.0, 22.0), (8.0, 8.0)])
def test_a_stop_that_the_lens_has_not_is_minded_and_never_reckoned_with(stop, taken):
    made = plan(job_of(need("ship", Place(2.0)), cameras=(replace(CAMERA, stop=stop),)), {})
    found = made.sets["1"]
    assert taken_at(found, found.shot.cameras[0]).stop.number == taken
    assert found.find(specs.EFFECTIVE).number == pytest.approx(taken * (1 + 0.035 / (2 - 0.035)))
    assert any("has no f/" in words for words in said_of(made, "ship")) is (stop != taken)


def test_a_mode_that_a_body_has_not_is_said_and_the_job_opens_all_the_same():
    made = plan(job_of(need("ship", Place(2.0)), cameras=(replace(CAMERA, mode="slow"),)), {})
    assert any("no mode “slow”" in words for words in said_of(made, "ship"))
    assert made.sets["1"].find(specs.RATE).value == 84.0


def test_a_camera_before_what_it_should_see_is_said():
    made = plan(job_of(need("ship", Place(2.0)), cameras=(CAMERA, replace(CAMERA, name="B", back_m=-3.0))), {})
    assert any("behind camera B" in words for words in said_of(made, "ship"))
    assert made.sets["1"].find(specs.STOP, camera="B") is None
    assert made.sets["1"].find(specs.STOP) is not None


@given(st.builds(Place, st.floats(1e-6, 1e5), st.one_of(st.none(), st.floats(1e-6, 1e5)), st.booleans(), st.booleans(), st.booleans()),
       st.floats(0.002, 2), st.floats(-100, 100), st.one_of(st.none(), st.floats(1e-6, 1e5)),
       st.sampled_from(("", *(card.id for card in LENSES))))  # fmt: skip
def test_no_set_that_can_be_typed_breaks_the_plan_or_gives_a_figure_without_bounds(place, focal, back, focus, lens):
    cameras = (Camera(focal, focus_m=focus, lens=lens), Camera(focal, name="B", back_m=back))
    made = plan(job_of(need("ship", place), need("boat", place), cameras=cameras), {})
    assert not [b.held for b in made.builds if b.held]
    for figure in made.figures():
        if isinstance(figure.value, float) and figure.spec is not specs.AIR_TO:
            assert math.isfinite(figure.value), figure


# -------------------------------------------------------------------------------------------- light
def test_the_light_is_that_of_the_camera_that_needs_most_and_its_lamps_are_told_as_an_estimate():
    cameras = (replace(CAMERA, stop=5.6), replace(CAMERA, name="B", stop=11.0, filters=2.0))
    job = job_of(need("ship", Place(2.0, 4.0)), cameras=cameras)
    found = plan(job, {}).sets["1"]
    most = found.find(specs.LIGHT, camera="B").number
    n = found.find(specs.EFFECTIVE, camera="B").number
    assert most == pytest.approx(4 * 250 * n**2 * 84 * 2 / 800)
    assert found.find(specs.LIGHT_MORE).number == pytest.approx(math.log2(most / (250 * 5.6**2 * 48 / 800)))
    image = found.find(specs.IMAGE, camera="B").number
    assert found.find(specs.LIT_AREA).number == pytest.approx(0.036 * 4.0 / image * 2.0)
    decided = plan(replace(job, shots=(replace(job.shots[0], lit_m2=6.0),)), {}).sets["1"]
    assert decided.find(specs.LIT_AREA) is None
    power = decided.find(specs.LAMP_POWER).number
    assert power == pytest.approx(most * 6.0 / (90 * 0.4))
    assert decided.find(specs.CIRCUITS).value == math.ceil(power / 230 / 12.8)
    assert decided.find(specs.WARMS).number == pytest.approx(1.2 * 1005 * 12 * 8 * 4.2 / power)
    few = replace(job.shop, lighting=replace(job.shop.lighting, circuits=1))
    minds = plan(replace(job, shop=few), {}).build("ship").minds
    assert any("circuits" in phrase(m.headline) and "licensed" in phrase(m.why) for m in minds)
    assert not [m for m in plan(replace(job, shop=replace(few, lighting=replace(few.lighting, circuits=99))), {}).build("ship").minds
                if "circuits" in phrase(m.headline)]  # fmt: skip


def test_a_lens_s_own_t_stop_costs_light_and_no_depth():
    card = replace(LENSES[0], t_widest=replace(LENSES[0].widest, value=LENSES[0].widest.value * 1.1))
    job = job_of(need("ship", Place(2.0, 4.0)), cameras=(replace(CAMERA, lens=card.id),))
    plain, dim = (plan(replace(job, cards=replace(job.cards, lenses=(c,))), {}).sets["1"] for c in (LENSES[0], card))
    assert dim.find(specs.STOP).number == plain.find(specs.STOP).number
    assert dim.find(specs.LIGHT).number == pytest.approx(1.21 * plain.find(specs.LIGHT).number)


def test_lamps_and_screens_of_a_model_go_by_the_shot_that_sees_them():
    lamps, screen = parse_light("hull: 150 of 20 mA at 12 V, 2 m of wire"), parse_light("chart: 60 x 30 mm")
    ship = build("ship", 12.0, lamps=(lamps,), screens=(screen,))
    made = plan(job_of(need("ship", Place(2.0, 4.0)), builds=(ship,)), {})
    assert made.build("ship").find(specs.MODEL_POWER, part="hull").number == pytest.approx(36.0)
    lux = made.sets["1"].find(specs.LIGHT).number
    assert made.build("ship").find(specs.SCREEN, shot="1", part="chart").number == pytest.approx(lux * 0.9 / math.pi)


@given(st.one_of(
    st.builds(ModelLamps, st.sampled_from(("deck", "hull, aft")), st.integers(1, 500), st.integers(1, 900).map(lambda n: n / 1000),
              st.integers(1, 240).map(float), st.integers(1, 400).map(lambda n: n / 10)),
    st.builds(ModelScreen, st.just("chart"), st.integers(1, 900).map(lambda n: n / 1000), st.integers(1, 900).map(lambda n: n / 1000),
              st.sampled_from((0.9, 0.5)), st.sampled_from((1.0, 1.25))),
))  # fmt: skip
def test_lamps_and_screens_read_back_as_they_were_written(light):
    assert parse_light(show_light(light)) == light


@pytest.mark.parametrize(("typed", "said"), [
    ("40 of 20 mA at 12 V", "has no name"), ("deck: many", "says no lamps and no screen"), ("deck: 0 of 20 mA at 12 V", "out of reach"),
    ("deck: 4 of 20 mA at 12 V, blue", "nothing of lamps"), ("chart: 6 mm × 3 mm, loud", "nothing of a screen"),
    ("chart: 6 mm × 3 mm, gain 99", "out of reach"),
])  # fmt: skip
def test_lamps_that_cannot_be_read_are_refused_in_a_sentence(typed, said):
    with pytest.raises(UserError, match=said):
        parse_light(typed)


# -------------------------------------------------------------------------------------------- edits
def test_a_camera_is_made_changed_and_taken_back_by_lines_and_brings_its_cards(demo_document, demo_facts):
    job = replace(demo_document.job, cards=replace(demo_document.job.cards, lenses=()))
    job = replace(job, shots=tuple(replace(s, cameras=()) for s in job.shots))
    session = Session(job, demo_facts, shelf=library.shelf())
    session.do('add shots/2/cameras {"lens":"probe-24","body":"high-speed-1000"}')
    assert [card.id for card in session.job.cards.lenses] == ["probe-24"]
    assert "high-speed-1000" in {card.id for card in session.job.cards.cameras}
    session.do("set shots/2/cameras/#1/focus_m 1.2 m")
    assert session.plan().build("lighthouse").find(specs.FOCUS, shot="2") is None
    assert session.job.shots[1].cameras[0].focus_m == 1.2
    while session.can_undo:
        session.undo()
    assert session.job.shots[1].cameras == ()
    with pytest.raises(UserError, match="no lens “monocle”"):
        session.do('add shots/2/cameras {"lens":"monocle"}')


def test_typing_a_camera_settles_what_an_older_job_had_left_open(demo_document):
    job = demo_document.job
    open_shot = replace(job.shots[1], disagreed="Two builds had a camera each.")
    made = plan(replace(job, shots=(open_shot,)), {})
    assert any("has one set now" in phrase(m.headline) for m in made.build("lighthouse").minds)
    assert read_cell(job, open_shot, "lens", "35 mm, 24 m to 84 m").disagreed == ""
