"""Rigid moulds: halves, core and skin add up, whatever the form, the scale and the gap."""

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.edits.decisions import decide, decide_typed, find_decision
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.job.build import piece_of
from homunculus.core.job.moulds import RigidMould
from homunculus.core.making import moulds
from homunculus.core.plan.job_plan import plan
from homunculus.exchange.mesh_files import UNITS, guess_unit
from tests.strategies import forms, lengths

gaps = st.floats(0.0005, 0.15)


@given(forms, gaps, lengths(0.01, 0.1))
def test_core_and_skin_are_the_form_and_with_the_halves_they_are_the_box(form, gap, wall):
    made = measure(form, {})
    core, skin = moulds.core_volume(form=made, gap=gap).value, moulds.wall_volume(form=made, wall=gap)
    halves = moulds.halves_volume(form=made, wall=wall).value
    length, depth, height = made.size
    assert core + skin == pytest.approx(made.volume, rel=1e-9)
    assert halves + core + skin == pytest.approx(
        (length + 2 * wall) * (depth + 2 * wall) * (height + 2 * wall), rel=1e-9
    )
    assert core >= 0
    assert skin <= made.volume * (1 + 1e-9)


@given(forms, gaps, st.floats(1.0, 3.0))
def test_a_wider_gap_leaves_less_core_and_takes_more_skin(form, gap, more):
    made = measure(form, {})
    thin, thick = (moulds.wall_volume(form=made, wall=g) for g in (gap, gap * more))
    assert thick >= thin * (1 - 1e-9)
    assert thin <= made.area * gap * (1 + 1e-9)  # a skin inside a convex form is less than area times thickness


def gulls(session, **changes):
    job = session.job
    piece = piece_of(job.build("gulls"), "body")
    for key, value in changes.items():
        job = decide(job, find_decision(job, "gulls", f"{key}:{piece.id}"), value)
    return job, plan(job, session.facts).build("gulls")


def test_the_stone_that_is_mixed_is_halves_core_and_waste_and_weighs_what_its_water_makes_it(session):
    job, made = gulls(session)
    parts = [made.find(spec, "body").number for spec in (specs.HALVES, specs.CORE, specs.WASTE)]
    assert made.find(specs.STONE_VOLUME, "body").number == pytest.approx(sum(parts))
    density = made.find(specs.SLURRY, "body").number
    assert made.find(specs.STONE, "body").number == pytest.approx(sum(parts) * density)
    assert made.find(specs.MOULD_WEIGHT, "body").number == pytest.approx(sum(parts[:2]) * density)
    assert made.find(specs.RUBBER, "body") is None
    skin = made.find(specs.SKIN, "body").number
    foam = job.cards.material("foam-latex").density_kg_m3.value
    assert made.find(specs.ONE_CASTING, "body").number == pytest.approx(skin * foam)
    pours = {p.op: made.find(specs.POUR, "body", op=p.op).number for p in made.pours if p.of == "mould"}
    assert pours == {"half-1": pytest.approx(pours["half-2"]), "half-2": pours["half-2"],
                     "core": pytest.approx(parts[1] / sum(parts[:2]) * made.find(specs.STONE, "body").number)}  # fmt: skip
    assert sum(pours.values()) == pytest.approx(made.find(specs.STONE, "body").number)


def test_without_a_gap_there_is_no_core_and_the_casting_is_solid(session):
    _, made = gulls(session, gap_m=0.0)
    assert made.find(specs.CORE, "body") is None
    assert made.find(specs.SKIN, "body").number == pytest.approx(made.find(specs.FORM, "body").value.volume)
    assert made.headline("mould").value.value == 0.03


def test_more_water_makes_lighter_stone_and_the_plan_follows(session):
    job, before = gulls(session)
    card = job.cards.material("gypsum-fine")
    wetter = replace(card, parts=tuple(replace(p, parts=90.0) if p.name == "water" else p for p in card.parts))
    cards = replace(job.cards, materials=tuple(wetter if c.id == card.id else c for c in job.cards.materials))
    after = plan(replace(job, cards=cards), session.facts).build("gulls")
    assert after.find(specs.SLURRY, "body").number < before.find(specs.SLURRY, "body").number
    assert after.find(specs.STONE_VOLUME, "body").number == before.find(specs.STONE_VOLUME, "body").number
    assert after.find(specs.STONE, "body").number < before.find(specs.STONE, "body").number


def test_a_gap_is_typed_in_any_unit_and_one_that_no_shop_could_mean_is_refused(session):
    job, _ = gulls(session)
    decision = find_decision(job, "gulls", "gap_m:body")
    thick = decide_typed(job, decision, "3/8 in", "metric")
    assert isinstance(piece_of(thick.build("gulls"), "body").mould, RigidMould)
    assert find_decision(thick, "gulls", "gap_m:body").value == pytest.approx(0.009525)
    with pytest.raises(UserError, match="It goes from"):
        decide_typed(job, decision, "3 m", "metric")
    third = decide(job, decision, 0.0254 / 3)
    for words, system in (("8.4670 mm", "metric"), ("11/32 in", "imperial")):
        again = decide_typed(third, find_decision(third, "gulls", "gap_m:body"), words, system)
        assert find_decision(again, "gulls", "gap_m:body").value == 0.0254 / 3, (
            "typed over itself it stays to the last digit"
        )


@given(st.floats(0.02, 3.0), st.sampled_from(UNITS), st.floats(0.9, 1.1))
def test_a_mesh_about_as_large_as_what_it_replaces_is_read_in_its_own_unit(real, unit, off):
    longest = real * off / unit[1]
    assert guess_unit((longest, longest / 2, longest / 4), real).unit == unit[0]
