"""The ladder: bands that agree with their rule everywhere, and brackets where nothing fails."""

import math

import pytest
from hypothesis import given
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.job.build import Intercut, Water
from homunculus.core.job.sets import Place
from homunculus.core.job.shots import FixedRate
from homunculus.core.plan.build_plan import BuildSheet
from homunculus.core.plan.job_plan import plan
from homunculus.core.planners.ladder import _limits, candidates, ladder
from homunculus.core.planners.lens import ends_at
from homunculus.core.session import Session
from tests.strategies import jobs


def context_of(job, build_id, facts):
    return plan(job, facts).context(build_id)


@pytest.fixture
def lighthouse(demo_document, demo_facts):
    return context_of(demo_document.job, "lighthouse", demo_facts)


def test_the_lighthouse_has_every_lane(lighthouse):
    assert [lane.key for lane in ladder(lighthouse).lanes] == [
        "stage", "deep", "door", "camera", "focus", "light", "detail", "water", "bought", "weight", "rubber",
    ]  # fmt: skip


def test_bands_agree_with_the_rule_at_scales_between_their_edges(lighthouse):
    made = ladder(lighthouse)
    limits = {limit.key: limit for limit in _limits(BuildSheet(lighthouse))}
    for lane in made.lanes:
        if lane.key == "bought":
            continue  # its many runs are narrower than this walk
        for i in range(200):
            scale = made.low * (made.high / made.low) ** ((i + 0.5) / 200)
            near_edge = any(abs(math.log(scale / edge)) < 0.002 for b in lane.bands for edge in (b.low, b.high))
            assert near_edge or lane.hold_at(scale) == limits[lane.key].hold(scale), (lane.key, scale)


def test_camera_lane_fails_where_the_square_root_says(lighthouse):
    lane = next(x for x in ladder(lighthouse).lanes if x.key == "camera")
    worst = 1.2 * 24  # shot 3 runs a fifth faster than gravity
    assert lane.bands[0].high == pytest.approx((150 / worst) ** 2, rel=1e-3)
    assert [b.hold for b in lane.bands] == ["holds", "strained", "fails"]


def lane_of(context, key):
    return next(lane for lane in ladder(context).lanes if lane.key == key)


def edge(lane, first, second):
    """The scale at which a lane turns from one verdict to the next."""
    return next(a.high for a, b in zip(lane.bands, lane.bands[1:], strict=False) if (a.hold, b.hold) == (first, second))


def test_a_set_fits_the_longer_side_of_the_stage_and_a_piece_the_door(lighthouse):
    deep = lane_of(lighthouse, "deep")  # shot 1 looks 90 m away: 90/S + 1.15 m behind the eye on 12 m
    assert deep.value.number == pytest.approx(90 / 12 + 1.15)
    assert edge(deep, "fails", "strained") == pytest.approx(90 / (12 - 1.15), rel=1e-3)
    door = lane_of(lighthouse, "door")  # the tower is round, and as wide as it is deep
    assert edge(door, "fails", "holds") == pytest.approx(12 * door.value.number / 2.8, rel=0.1)
    assert [b.hold for b in door.bands] == ["fails", "holds"]


def test_lamps_and_detail_are_those_of_the_governing_shot_at_every_scale(lighthouse, demo_document, demo_facts):
    bears = 4 * 16 * 0.8 * 230
    job = demo_document.job
    few = replace(job.shop, lighting=replace(job.shop.lighting, circuits=1), finest_m=0.001)
    tight = context_of(replace(job, shop=few), "lighthouse", demo_facts)
    for scale in (8.0, 16.0, 30.0):
        moved = replace(
            job, builds=tuple(replace(b, scale=scale) if b.id == "lighthouse" else b for b in job.builds), shop=few
        )
        found = plan(moved, demo_facts).sets["3"]
        power, seen = found.find(specs.LAMP_POWER).number, found.find(specs.FINEST).number
        assert (lane_of(tight, "light").hold_at(scale) == "fails") == (power > bears / 4)
        assert lane_of(tight, "detail").hold_at(scale) == (
            "holds" if seen >= 0.001 else "strained" if seen >= 0.0005 else "fails"
        )
    assert lane_of(lighthouse, "light").value.number < bears


def test_a_double_that_cuts_at_one_scale_fails_at_others(lighthouse):
    double = replace(lighthouse, build=replace(lighthouse.build, intercut=Intercut("creature", 8.0, 1.4)))
    lane = lane_of(double, "intercut")  # 8 m built 1.40 m: it cuts at 1:5.71, and is 12.5 % off at 1:5
    assert lane.hold_at(5.714) == "holds"
    assert (lane.hold_at(5.0), lane.hold_at(5.5)) == ("fails", "strained")


def test_the_best_scales_fail_nowhere_are_strained_least_and_cheapest(lighthouse):
    made = ladder(lighthouse)
    best = candidates(lighthouse, made)
    assert [c.scale for c in best] == [12.0, 10.0]
    for candidate in best:
        assert {lane.hold_at(candidate.scale) for lane in made.lanes} <= {"holds", "strained"}
        assert candidate.strained == tuple(
            lane.name for lane in made.lanes if lane.hold_at(candidate.scale) == "strained"
        )
    costs = [(len(c.strained), c.cost.number) for c in best]
    assert costs == sorted(costs)
    others = {s for s in (8.0, 16.0, 22.5, 24.0) if all(lane.hold_at(s) != "fails" for lane in made.lanes)}
    assert not others, "none that is left out would do"


def test_what_bounds_nothing_has_no_best_scale(demo_document, demo_facts):
    keeper = context_of(demo_document.job, "keeper", demo_facts)
    assert candidates(keeper, ladder(keeper)) == ()


def test_what_follows_a_scale_moves_with_it_in_the_lanes(demo_document, demo_facts):
    job = demo_document.job
    shots = tuple(
        replace(
            s,
            needs=tuple(
                replace(n, place=Place(60.0, looks=True)) if getattr(n.cover, "build", "") == "ferry" else n
                for n in s.needs
            ),
        )
        for s in job.shots
    )
    tied = tuple(replace(b, follows="lighthouse", follows_at=0.5) if b.id == "ferry" else b for b in job.builds)
    found = plan(replace(job, shots=shots, builds=tied), demo_facts).sets["2"]
    camera = replace(found.shot.cameras[0], depth=None)
    alone = plan(replace(job, shots=shots), demo_facts).sets["2"]
    assert ends_at(found, camera, "lighthouse", 2.0)[0] == pytest.approx(
        ends_at(found, camera, "lighthouse", 1.0)[0] / 2
    )
    assert ends_at(alone, camera, "lighthouse", 2.0)[0] == pytest.approx(42 / 24), "the ferry stays"


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


@pytest.mark.parametrize("has_a_camera", [True, False])
def test_bands_are_made_anew_where_the_scale_makes_another_shot_govern(demo_document, demo_facts, has_a_camera):
    """At 1:2 the one of a fixed rate governs, at 1:12 that by gravity: the lamps are those of another shot, or none."""
    job = demo_document.job
    first, other = (s for s in job.shots if s.id in ("1", "3"))
    fixed = replace(first, rule=FixedRate(60.0), cameras=first.cameras if has_a_camera else ())
    shots = tuple(
        {"1": fixed, "3": other}.get(s.id, s) for s in job.shots if "lighthouse" not in s.builds or s.id in "13"
    )

    def scaled(scale):
        builds = tuple(replace(b, scale=scale) if b.id == "lighthouse" else b for b in job.builds)
        return replace(job, builds=builds, shots=shots)

    kept = Session(scaled(2.0), facts=demo_facts)
    for scale in (2.0, 12.0, 2.0, 16.0):
        kept.edit("change", scaled(scale))
        anew = plan(scaled(scale), demo_facts).ladder("lighthouse").lanes
        assert [(x.key, x.bands) for x in kept.plan().ladder("lighthouse").lanes] == [(x.key, x.bands) for x in anew]
        assert ("light" in [x.key for x in anew]) == (has_a_camera or scale > 10)


def of_build(job, build_id, **values):
    return replace(job, builds=tuple(replace(b, **values) if b.id == build_id else b for b in job.builds))


def of_shot(job, shot_id, **values):
    return replace(job, shots=tuple(replace(s, **values) if s.id == shot_id else s for s in job.shots))


def of_shop(job, **values):
    return replace(job, shop=replace(job.shop, **values))


def of_cards(job, sort, card_id, change):
    cards = tuple(change(card) if card.id == card_id else card for card in getattr(job.cards, sort))
    return replace(job, cards=replace(job.cards, **{sort: cards}))


def narrow(body):
    return replace(
        body, modes=tuple(replace(m, sensor_width_m=replace(m.sensor_width_m, value=0.01)) for m in body.modes)
    )


def long(lens):
    return replace(lens, focal_m=replace(lens.focal_m, value=0.1))


def heavy(material):
    return replace(material, density_kg_m3=replace(material.density_kg_m3, value=3 * material.density_kg_m3.value))


@pytest.mark.parametrize(
    ("build_id", "change"),
    [
        ("lighthouse", lambda job: of_build(job, "lighthouse", water=Water(1.0))),
        ("lighthouse", lambda job: of_build(job, "lighthouse", bought_parts=False)),
        ("lighthouse", lambda job: of_build(job, "lighthouse", rubber_budget=50.0)),
        ("lighthouse", lambda job: of_build(job, "lighthouse", stands_m=2.0)),
        ("lighthouse", lambda job: of_build(job, "lighthouse", intercut=Intercut("door", 3.0, 0.5))),
        ("ferry", lambda job: of_build(job, "lighthouse", scale=13.0)),
        ("lighthouse", lambda job: of_shot(job, "3", lit_m2=90.0)),
        ("lighthouse", lambda job: of_shot(job, "3", rule=FixedRate(96.0))),
        ("lighthouse", lambda job: of_shot(job, "3", cameras=())),
        ("lighthouse", lambda job: of_shop(job, carry_kg=20.0)),
        ("lighthouse", lambda job: of_cards(job, "lenses", "prime-32", long)),
        ("lighthouse", lambda job: of_cards(job, "materials", "silicone-tin-soft", heavy)),
        ("saltbust", lambda job: of_cards(job, "cameras", "stills-single", narrow)),
    ],
)  # fmt: skip
def test_bands_are_made_anew_where_anything_but_the_scale_is_another(demo_document, demo_facts, build_id, change):
    job = of_build(demo_document.job, "lighthouse", intercut=Intercut("door", 2.0, 0.5))
    kept = Session(job, facts=demo_facts)
    before = [(x.key, x.bands) for x in kept.plan().ladder(build_id).lanes]
    kept.edit("change", change(job))
    found = [(x.key, x.bands) for x in kept.plan().ladder(build_id).lanes]
    assert found == [(x.key, x.bands) for x in plan(kept.job, demo_facts).ladder(build_id).lanes]
    assert found != before


def test_bands_are_made_anew_when_a_mesh_is_studied_again(demo_document, demo_facts):
    kept = Session(demo_document.job, facts=demo_facts)
    before = [(x.key, x.bands) for x in kept.plan().ladder("lighthouse").lanes]
    gallery = next(p for p in kept.job.build("lighthouse").pieces if p.id == "gallery")
    fact = demo_facts[gallery.form.content]
    kept.learn(replace(fact, outward_ratio=tuple(2 * ratio for ratio in fact.outward_ratio)))
    found = [(x.key, x.bands) for x in kept.plan().ladder("lighthouse").lanes]
    assert found == [(x.key, x.bands) for x in plan(kept.job, kept.facts).ladder("lighthouse").lanes]
    assert found != before


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
