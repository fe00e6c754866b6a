"""What the shop has against what a build needs: oven loads by hand, doors, hands, decided without a build."""

import itertools
from datetime import time

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.edits import shop as edits
from homunculus.core.edits.decisions import decide_typed, decisions, find_decision
from homunculus.core.errors import UserError
from homunculus.core.job.workshop import Oven, Person
from homunculus.core.making.ovens import AIR_M, Chamber, moulds_in_oven, through
from homunculus.core.plan.job_plan import plan

CUBE = (Chamber("oven", 0.6, 0.6, 0.6, 2),)


def load(form, around=0.03, flange=0.0, ovens=CUBE):
    return moulds_in_oven(form=form, around=around, flange=flange, ovens=ovens).value


def test_an_oven_load_by_hand():
    # a cube of 200 with 30 of stone is 260, with air 290: two by two on each of two shelves of 300
    assert load((0.2, 0.2, 0.2)) == 8
    # 10 mm more and it is 300 + air: two a row no longer, and over the shelf: one shelf, one
    assert load((0.24, 0.24, 0.24)) == 1
    # lying it goes in where standing it does not: 500 × 80 × 80 with stone and air is 590 × 170 × 170
    assert load((0.08, 0.08, 0.5)) == 3 * 3
    assert load((0.08, 0.08, 0.5), ovens=(Chamber("flat", 0.6, 0.6, 0.2, 1),)) == 3
    # flanges stand out along and up, not across: 40 each way
    assert load((0.2, 0.2, 0.2), flange=0.04, ovens=(Chamber("o", 0.6, 0.6, 0.37, 1),)) == 2
    assert load((0.6, 0.1, 0.1)) == 0
    assert (
        "in none"
        in moulds_in_oven(form=(1.0, 1.0, 1.0), around=0.0, flange=0.0, ovens=(Chamber("o", 0.6, 0.6, 0.6, 1),)).notes[
            0
        ]
    )


@given(st.tuples(*[st.floats(0.02, 0.5)] * 3), st.tuples(*[st.floats(0.2, 1.5)] * 3), st.integers(1, 4))
def test_the_moulds_of_a_load_have_no_more_volume_than_the_oven_and_turning_either_changes_nothing(
    form, sides, shelves
):
    oven = Chamber("o", *sides, shelves)
    count = load(form, 0.02, ovens=(oven,))
    volume = (form[0] + 0.04 + AIR_M) * (form[1] + 0.04 + AIR_M) * (form[2] + 0.04 + AIR_M)
    assert count * volume <= sides[0] * sides[1] * sides[2] * (1 + 1e-9)
    turned = {load(tuple(side), 0.02, ovens=(oven,)) for side in itertools.permutations(form)}
    assert turned == {count}, "without flanges it does not matter how it was drawn"
    assert load(form, 0.02, ovens=(oven, Chamber("p", 0.1, 0.1, 0.1, 1))) == count


def of(job, facts, build, words):
    return [m for m in plan(job, facts).build(build).minds if words in str(m.headline)]


def test_the_gulls_bodies_go_into_the_demos_oven_two_by_two_and_into_none_that_is_cold_or_small(
    demo_document, demo_facts
):
    job = demo_document.job

    def with_oven(**other):
        return replace(job, shop=replace(job.shop, ovens=(replace(job.shop.ovens[0], **other),)))

    figure = plan(job, demo_facts).build("gulls").find(specs.OVEN_LOAD, "body")
    assert figure.number == 2
    assert of(with_oven(highest_c=60.0), demo_facts, "gulls", "warm enough")
    assert of(with_oven(width_m=0.2), demo_facts, "gulls", "does not fit the oven")
    assert of(replace(job, shop=replace(job.shop, ovens=())), demo_facts, "gulls", "in which oven")
    assert not of(job, demo_facts, "gulls", "oven")
    large = with_oven(width_m=1.2, depth_m=1.0, height_m=1.0)
    assert plan(large, demo_facts).build("gulls").find(specs.OVEN_LOAD, "body").number >= 8


def test_a_step_whose_skill_nobody_has_is_minded_only_where_people_are_known(demo_document, demo_facts):
    job = demo_document.job
    build = job.build("keeper")
    piece = build.pieces[0]
    ops = (replace(piece.route[0], skill="gilder"), *piece.route[1:])
    job = replace(
        job,
        builds=tuple(
            replace(b, pieces=(replace(piece, route=ops), *b.pieces[1:])) if b is build else b for b in job.builds
        ),
    )
    assert of(job, demo_facts, "keeper", "Nobody here is a gilder")
    assert not of(replace(job, shop=replace(job.shop, people=())), demo_facts, "keeper", "Nobody here")
    more = (*job.shop.people, Person("g", "Gil", ("Gilder",)))
    assert not of(replace(job, shop=replace(job.shop, people=more)), demo_facts, "keeper", "Nobody here")


def test_a_piece_goes_through_a_door_by_its_two_smaller_sides(demo_document, demo_facts):
    assert through((9.0, 1.0, 2.0), 1.1, 2.1)
    assert through((9.0, 2.0, 1.0), 1.1, 2.1), "turned on its side"
    assert not through((9.0, 1.2, 2.2), 1.1, 2.1)
    assert not through((9.0, 1.5, 2.0), 1.1, 2.1), "both ways, and not one of them twice"
    job = demo_document.job
    assert not of(job, demo_facts, "lighthouse", "door")
    small = replace(job, shop=replace(job.shop, stage=replace(job.shop.stage, door_width_m=0.2, door_height_m=0.5)))
    assert of(small, demo_facts, "lighthouse", "tower does not go through the door")


def test_the_shop_is_decided_without_any_build(demo_document):
    job = replace(demo_document.job, builds=(), shots=())
    keys = {d.key for d in decisions(job, "")}
    assert {"shop.width_m", "shop.day_c", "shop.carry_kg", "shop.hands"} <= keys
    changed = decide_typed(job, find_decision(job, "", "shop.carry_kg"), "80 kg", "metric")
    assert changed.shop.carry_kg == 80


def test_an_oven_has_a_chamber():
    with pytest.raises(TypeError):
        Oven("o", "oven")


# ---------------------------------------------------------------------------------------------- edits
def test_hours_go_by_quarters_round_the_clock():
    assert (edits.minutes_of(time(7, 45)), edits.minutes_of(time(0))) == (465, 0)
    assert [edits.clock_of(m) for m in (465, 472, 473, 1437, 1440, -15)] == [
        time(7, 45),
        time(7, 45),
        time(8),
        time(0),
        time(0),
        time(23, 45),
    ]


def test_the_shop_opens_gets_warm_and_works_on_other_days(demo_document):
    job = demo_document.job
    assert edits.with_hour(job, "closes", time(20)).shop.hours.closes == time(20)
    assert edits.with_hour(job, "warm_to", time(22)).shop.air.warm_to == time(22)
    assert edits.hour_of(job.shop, "warm_from") == time(8)
    assert edits.with_weekday(job, 5).shop.hours.weekdays == (0, 1, 2, 3, 4, 5)
    only = edits.with_weekday(edits.with_weekday(edits.with_weekday(edits.with_weekday(job, 0), 1), 2), 3)
    with pytest.raises(UserError, match="one day"):
        edits.with_weekday(only, 4)


def test_a_vessel_is_mixed_in_where_it_belongs_and_things_come_and_go(demo_document):
    job = demo_document.job
    stock, families = library.stock(), library.families()
    job, pot = edits.new_thing(job, stock, families, "vessels", "large pot")
    assert pot.volume_m3 == job.shop.vessels[0].volume_m3, "it begins like the shop's first"
    job = edits.with_row(job, "vessels", pot.id, "holds", "8 l", "metric")
    job = edits.mixed_in(job, pot.id)
    assert (job.shop.mixing.vessel_m3, job.shop.mixing.bucket_m3) == (0.008, 0.012)
    assert edits.is_mixed_in(job.shop, edits.thing_of(job, "vessels", pot.id))
    assert not edits.is_mixed_in(job.shop, job.shop.vessels[0])
    job = edits.mixed_in(edits.with_row(job, "vessels", pot.id, "for drawing air out", "no", "metric"), pot.id)
    assert job.shop.mixing.bucket_m3 == 0.008
    job = edits.without_thing(job, "vessels", pot.id)
    assert job.shop.vessels == demo_document.job.shop.vessels
    for wrong in (lambda: edits.thing_of(job, "vessels", pot.id), lambda: edits.new_thing(job, stock, families, "materials", "x"),
                  lambda: edits.new_thing(job, stock, families, "ovens", "  ")):  # fmt: skip
        with pytest.raises(UserError):
            wrong()
