"""What is poured, weighed and waited for: figures that must move, and those that must not."""

from __future__ import annotations

from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.cards import Part
from homunculus.core.job.forms import Box
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import Additive, BlockMould, JacketMould, Mix, RigidMould
from homunculus.core.job.operations import Cast, Hands, Pour
from homunculus.core.job.shop import Air, Mixing, Shop
from homunculus.core.job.shots import Gravity, Shot, whole
from homunculus.core.making.weighing import Recipe, Weighing
from homunculus.core.plan.build_plan import Context
from homunculus.core.plan.job_plan import plan
from homunculus.core.planners.mould import moulds_cost
from homunculus.core.why import why
from tests.strategies import CARDS, jobs

START = datetime(2026, 2, 16, 9)
H = 3600.0
BLOCK = BlockMould("silicone-tin-soft", 0.015)
SHOT = Shot("1", "a shot", 5.0, date(2026, 3, 17), whole("b"), Gravity())


def job_of(
    mould=BLOCK, steps=(), material="resin-casting-slow", shop=None, cards=CARDS, size=(0.2, 0.15, 0.1), **piece
):
    body = Piece("body", "body", Box(*size), material=material, mould=mould, route=steps, **piece)
    build = Build("b", "A build", "it", 1.0, START, (body,))
    return Job("a job", replace(shop or Shop(), camera="cinema-150"), (build,), (SHOT,), cards)


def planned(*args, **kwargs):
    return plan(job_of(*args, **kwargs), {}).builds[0]


def with_card(card_id, **changes):
    return replace(CARDS, materials=tuple(replace(c, **changes) if c.id == card_id else c for c in CARDS.materials))


def mixed(*additives):
    return replace(BLOCK, mixes=(Mix("", 1.0, additives),))


# ------------------------------------------------------------------------------------------ stirred in
def test_what_is_stirred_in_changes_density_cost_and_by_its_card_the_pot_life():
    bare, soft = planned(), planned(mixed(Additive("softener", 0.10)))
    retarded = planned(mixed(Additive("retarder", 0.02)))
    volume = bare.find(specs.RUBBER_VOLUME, "body").number
    assert soft.find(specs.RUBBER_VOLUME, "body").number == volume
    density = 110 * 1.1 / (110 / 1120 + 11 / 960) / 1.1  # ten parts of hundred and ten
    assert soft.find(specs.DENSITY, "body").number == pytest.approx((110 + 11) / (110 / 1120 + 11 / 960))
    assert density
    assert soft.find(specs.RUBBER, "body").number == pytest.approx(volume * (121 / (110 / 1120 + 11 / 960)))
    assert soft.find(specs.PRICE, "body").number == pytest.approx((110 * 24 + 11 * 22) / 121)
    assert retarded.find(specs.POT_LIFE, "body").number == pytest.approx(1.5 * bare.find(specs.POT_LIFE, "body").number)
    assert soft.find(specs.POT_LIFE, "body").number > bare.find(specs.POT_LIFE, "body").number
    dust = planned(mixed(Additive("bone dust", 0.10)))
    assert "not known" in dust.find(specs.DENSITY, "body").notes[0]
    assert "no price" in dust.find(specs.PRICE, "body").notes[0]


def test_each_coat_has_its_own_density_pot_life_and_vessel():
    coats = (Mix("print", 0.25, (Additive("retarder", 0.02),)), Mix("fill", 0.75))
    made = planned(replace(BLOCK, mixes=coats))
    lives = [made.find(specs.POT_LIFE, "body", mix=p).number for p in ("print", "fill")]
    assert lives[0] == pytest.approx(1.5 * lives[1])
    masses = [made.find(specs.MIX, "body", mix=p).number for p in ("print", "fill")]
    assert sum(masses) == pytest.approx(made.find(specs.RUBBER, "body").number)


def test_a_ratio_by_volume_without_a_density_is_refused_and_never_taken_as_weight():
    parts = (Part("A", 1), Part("B", 1))
    made = planned(cards=with_card("silicone-tin-soft", parts=parts, parts_by="volume"))
    assert "part A has no density" in made.held
    assert not [f for f in made.figures if f.spec is specs.PART]


# ------------------------------------------------------------------------------------------ stone
STONE = RigidMould("gypsum-fine", 0.03, 0.006)


def test_stone_is_lifted_wet_finished_dry_and_paid_by_the_powder():
    made = planned(
        STONE,
        material="gypsum-fine",
        cards=with_card("gypsum-fine", price_per_kg=CARDS.material("gypsum-fine").price_per_kg),
    )
    wet = made.find(specs.SLURRY, "body").number
    assert wet == pytest.approx(170 / (100 / 2630 + 70 / made.find(specs.WATER).number))
    assert made.find(specs.MOULD_WEIGHT, "body").number < made.find(specs.STONE, "body").number
    assert made.find(specs.RUBBER_COST, "body").number == pytest.approx(
        made.find(specs.STONE, "body").number * 100 / 170 * 1.2
    )
    one, poured = made.find(specs.ONE_CASTING, "body").number, made.find(specs.ONE_POURED, "body").number
    assert one / poured == pytest.approx(118.6 / 170)
    assert made.find(specs.BUILD_COST).number == made.find(specs.RUBBER_COST, "body").number


def test_plaster_is_mixed_in_a_bucket_and_silicone_in_a_vacuum():
    stone, rubber = planned(STONE, size=(0.5, 0.4, 0.3)), planned(size=(0.5, 0.4, 0.3))
    shop = Shop().mixing
    limits = {i.label: i.value for i in why(stone.find(specs.MOST, "body")).inputs}
    assert limits["bucket"].startswith("12")
    assert {i.label for i in why(rubber.find(specs.MOST, "body")).inputs} >= {
        "vessel",
        "handling a batch, with drawing the air out",
    }
    batch = stone.find(specs.BATCH, "body").number
    life = stone.find(specs.POT_LIFE, "body").number
    assert stone.find(specs.SPARE, "body").number == pytest.approx(life - shop.plain_s - shop.plain_s_per_kg * batch)
    assert stone.find(specs.FILL, "body").number == pytest.approx(
        batch / stone.find(specs.SLURRY, "body").number / shop.bucket_m3
    )
    assert life == 720.0  # plaster's set is nearly fixed between 15 and 30 °C
    assert planned(STONE, shop=Shop(air=Air(28.0, 20.0))).find(specs.POT_LIFE, "body").number == 720.0


def test_a_laminate_weighs_as_a_laminate():
    made = planned(None, material="laminate-polyester-mat", wall_m=0.003)
    volume = 0.2 * 0.15 * 0.1 - 0.194 * 0.144 * 0.094
    assert made.find(specs.WEIGHT).number == pytest.approx(volume * 3.3 / (1 / 2560 + 2.3 / 1150))


def test_a_skin_over_a_core_weighs_its_skin_and_inserts_and_libraries_hang_on_no_figure():
    skin = planned(STONE, material="silicone-platinum-soft")
    volume = 0.2 * 0.15 * 0.1 - 0.188 * 0.138 * 0.088
    assert skin.find(specs.WEIGHT).number == pytest.approx(volume * 1080)
    assert skin.find(specs.ONE_CASTING, "body").number == pytest.approx(volume * 1080)
    whole_one = planned(None).find(specs.WEIGHT).number
    assert planned(None, enlarged=2.5).find(specs.WEIGHT).number == 0
    assert planned(None, copies=9).find(specs.WEIGHT).number == pytest.approx(9 * whole_one)
    assert planned(None, copies=9, worn=2).find(specs.WEIGHT).number == pytest.approx(2 * whole_one)


# ------------------------------------------------------------------------------------------ time
def test_batches_that_must_be_one_body_meet_within_the_pot_life():
    big = {"size": (0.6, 0.5, 0.4)}
    made = planned(**big)
    joint, life = made.find(specs.JOINT, "body").number, made.find(specs.POT_LIFE, "body").number
    assert joint > life
    assert any("gels before the last is in" in m.headline[0] for m in made.minds)
    takes = made.find(specs.BATCHES, "body").number
    batch = made.find(specs.BATCH, "body").number
    assert joint == pytest.approx((takes - 1) * (420 + 240 * batch))
    for other in (
        planned(replace(BLOCK, keyed=True), **big),
        planned(shop=Shop(mixing=Mixing(hands=20, vessel_m3=0.02)), **big),
    ):
        assert not any("gels before" in m.headline[0] for m in other.minds)
    two = planned(shop=Shop(mixing=Mixing(hands=2)), **big)
    assert two.find(specs.POUR_TIME, "body").number == pytest.approx(-(-takes // 2) * (420 + 240 * batch))


def test_a_pour_longer_than_the_shift_is_held_and_nothing_behind_it_is_dated():
    steps = (Hands("before", work_s=2.0 * H), Pour("rubber"), Hands("after", work_s=2.0 * H))
    made = planned(steps=steps, size=(1.2, 1.0, 0.8))
    assert made.find(specs.READY) is None
    assert made.find(specs.SLACK) is None
    assert [t.name for t in made.tasks] == ["body: before"]
    held = next(m for m in made.minds if "in one go" in m.headline[0])
    assert held.level == "danger"
    assert "More hands" in "".join(str(p) for p in held.why if isinstance(p, str))
    fits = planned(steps=steps, size=(0.3, 0.2, 0.2))
    assert fits.find(specs.READY)


def test_too_cold_says_will_not_cure_here_and_gives_no_date_two_years_on():
    made = planned(steps=(Pour("rubber"), Hands("after", work_s=1.0 * H)), shop=Shop(air=Air(3.0, 1.0)))
    assert made.find(specs.OPENS, "body") is None
    assert made.find(specs.READY) is None
    assert any("will not cure here" in m.headline[0] for m in made.minds)
    assert made.headline("shoot").value.value == "held"


def test_foam_latex_waits_for_the_oven_and_not_for_a_bench_clock():
    made = planned(STONE, steps=(Cast("castings"),), material="foam-latex")
    (task,) = made.tasks
    assert task.matter == "oven"
    soak = 4 * 3600
    assert soak + 3600 < (task.end - task.start).total_seconds() - 1800 < soak + 5 * 3600
    colder = planned(STONE, steps=(Cast("castings"),), material="foam-latex", shop=Shop(air=Air(12.0, 8.0)))
    assert abs((colder.tasks[0].end - task.end).total_seconds()) < 1800


def test_a_caution_names_the_temperature_that_did_it_and_is_silent_under_an_hour():
    quick = planned(BlockMould("resin-casting-fast", 0.015), steps=(Pour("rubber"),), shop=Shop(air=Air(15.0, 14.0)))
    cure, book = quick.find(specs.CURE, "body", op="rubber").number, 1800.0
    assert 1.15 * book < cure < book + 3600
    assert not [m for m in quick.minds if m.station == "cure"]
    slow = planned(steps=(Pour("rubber"),))
    assert [m.headline[0] for m in slow.minds if m.station == "cure"] == ["Cold at night: opens "]
    day = planned(steps=(Pour("rubber"),), shop=Shop(air=Air(15.0, 22.0)), cards=with_card("silicone-tin-soft", demould_s=replace(
        CARDS.material("silicone-tin-soft").demould_s, value=6 * 3600.0)))  # fmt: skip
    assert [m.headline[0] for m in day.minds if m.station == "cure"] == ["Cold by day: opens "]


def test_ready_tells_the_walk():
    made = planned(steps=(Hands("before", work_s=2.0 * H), Pour("rubber"), Cast("castings")))
    told = [item.label for item in why(made.find(specs.READY)).inputs]
    assert told == ["work may begin", "body: before", "body: rubber", "body: castings"]
    assert [i.label for i in why(made.find(specs.HANDS)).inputs] == ["Work, before", "Work, rubber", "Work, castings"]


# ------------------------------------------------------------------------------------------ weighing
@given(st.integers(1, 40), st.floats(0.005, 0.06))
def test_weighing_up_ends_when_the_last_batch_is_done_and_not_before(batches, tolerance):
    recipe = Recipe("b", "p", "", "x", (Part("A", 1.0), Part("B", 0.1)), batches * 0.5, batches, 0.6, tolerance)
    weighing, done = Weighing(recipe), 0
    while not weighing.finished:
        while weighing.next_part is not None:
            weighing = weighing.pour(weighing.targets[weighing.next_part])
        weighing, done = weighing.empty_cup(), done + 1
    assert done == batches
    assert sum(map(sum, weighing.done)) == pytest.approx(recipe.total_kg)


# ------------------------------------------------------------------------------------------ one value
@given(jobs(), st.floats(0.9, 30))
def test_what_the_ladder_says_of_rubber_at_a_scale_is_what_the_plan_says_there(job, scale):
    for build in job.builds:
        at = replace(build, scale=scale)
        made = plan(replace(job, builds=tuple(at if b.id == build.id else b for b in job.builds)), {}).build(build.id)
        told = moulds_cost(Context(build, (), job.shop, job.cards, {}), scale)
        planned_cost = made.find(specs.BUILD_COST)
        assert (told is None) is (planned_cost is None)
        if told:
            assert told.number == pytest.approx(planned_cost.number, rel=1e-12)


def test_variants_and_rigid_moulds_cost_money_on_the_ladder_too(session):
    made = session.plan().build("gulls")
    assert made.find(specs.BUILD_COST).number == pytest.approx(3 * made.find(specs.RUBBER_COST, "body").number)
    context = session.plan().context("gulls")
    assert moulds_cost(context, made.build.scale).number == made.find(specs.BUILD_COST).number


def test_two_figures_with_one_identity_are_an_error_where_they_are_made():
    from homunculus.core.camera.stand import at_scale
    from homunculus.core.figures import Given, derive
    from homunculus.core.plan.build_plan import BuildSheet

    sheet = BuildSheet(Context(job_of().builds[0], (), Shop(), CARDS, {}))
    figure = derive(
        specs.PERSON, at_scale, sheet.subject(), real=Given(1.75, "length", "p"), scale=Given(1.0, "scale", "s")
    )
    sheet.add(figure)
    with pytest.raises(ValueError, match="twice"):
        sheet.add(figure)


def test_jackets_are_held_by_their_own_laminate():
    mould = JacketMould("silicone-tin-soft", 0.01, "laminate-polyester-mat")
    made = planned(mould)
    assert made.find(specs.JACKET, "body").number > 0
