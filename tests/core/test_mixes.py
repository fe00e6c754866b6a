"""Mixes: ratios by volume, what is stirred in, pours split into coats."""

import pytest
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.edits.decisions import decide_typed, find_decision, replace_build, replace_piece
from homunculus.core.edits.mixes import join_mix, leave_out, split_off, stir_in
from homunculus.core.errors import UserError
from homunculus.core.job.build import piece_of
from homunculus.core.job.cards import Part
from homunculus.core.job.moulds import PLAIN
from homunculus.core.job.sourced import Sourced
from homunculus.core.making.recipes import recipe_of
from homunculus.core.plan.job_plan import plan


def with_piece(job, build, piece):
    return replace_build(job, replace_piece(job.build(build), piece))


def gallery(job):
    return piece_of(job.build("lighthouse"), "gallery")


def test_what_is_stirred_in_is_weighed_with_the_rest_and_nothing_is_lost(session):
    job, facts = session.job, session.facts
    piece = stir_in(stir_in(gallery(job), "", 0, "softener 10%"), "", 0, "green pigment 2,5 %")
    job = with_piece(job, "lighthouse", piece)
    made = plan(job, facts).build("lighthouse")
    weights = {f.subject.part: f.number for f in made.figures if f.spec is specs.PART and f.subject.op == "rubber-1"}
    assert weights["softener"] == pytest.approx((weights["A"] + weights["B"]) * 0.10)
    assert weights["green pigment"] == pytest.approx((weights["A"] + weights["B"]) * 0.025)
    assert sum(weights.values()) == pytest.approx(made.find(specs.BATCH, "gallery", op="rubber-1").number)
    key = "additive.0.0:gallery"
    job = decide_typed(job, find_decision(job, "lighthouse", key), "5 %", "metric")
    assert find_decision(job, "lighthouse", key).value == pytest.approx(0.05)
    assert not leave_out(leave_out(gallery(job), "", 0, 1), "", 0, 0).mould.mixes[0].additives


def test_a_pour_split_into_coats_weighs_the_same_and_each_coat_has_batches_of_its_own(session):
    job, facts = session.job, session.facts
    before = plan(job, facts).build("lighthouse")
    piece = split_off(split_off(gallery(job), "", "print coat 20 %"), "", "red coat 10 %")
    job = with_piece(job, "lighthouse", piece)
    made = plan(job, facts).build("lighthouse")
    coats = {f.subject.mix: f.number for f in made.figures if f.spec is specs.MIX and not f.subject.op}
    whole = before.find(specs.RUBBER, "gallery").number
    assert coats == {"red coat": pytest.approx(whole * 0.1), "print coat": pytest.approx(whole * 0.18),
                     "fill": pytest.approx(whole * 0.72)}  # fmt: skip
    each = [made.find(specs.BATCHES, "gallery", op="rubber-1", mix=name).value for name in coats]
    assert made.find(specs.BATCHES, "gallery", op="rubber-1").value == sum(each)
    recipe = recipe_of(made, made.pour("gallery", "rubber-1"), 0)
    assert recipe.total_kg == pytest.approx(whole * 0.1 / 2)
    assert join_mix(join_mix(join_mix(piece, "", 0), "", 0), "", 0).mould.mixes == PLAIN


@pytest.mark.parametrize("text", ["", "pigment", "2 %", "pigment 0 %", "pigment 80 %", "pigment two %"])
def test_what_has_no_name_and_share_is_refused_and_says_how(session, text):
    with pytest.raises(UserError, match="%"):
        stir_in(gallery(session.job), "", 0, text)


def test_a_ratio_by_volume_is_weighed_by_both_densities(session):
    job, facts = session.job, session.facts
    """Worked by hand: 1 : 1 by volume at 1.06 and 1.22 g/mL is 1.06 : 1.22 by weight."""
    card = job.cards.material(gallery(job).mould.poured)
    parts = (Part("A", 1, Sourced(1060, "data sheet")), Part("B", 1, Sourced(1220, "data sheet")))
    other = replace(card, parts=parts, parts_by="volume")
    cards = replace(job.cards, materials=tuple(other if c.id == card.id else c for c in job.cards.materials))
    made = plan(replace(job, cards=cards), facts).build("lighthouse")
    a, b = (made.find(specs.PART, "gallery", op="rubber-1", part=name).number for name in "AB")
    assert a / b == pytest.approx(1.06 / 1.22)


def test_what_is_left_of_the_pot_life_is_the_cups_own_and_shrinks_with_the_batch(session):
    made = plan(session.job, session.facts).build("lighthouse")
    shop = session.job.shop.mixing
    life, batch = (made.find(spec, "gallery", op="rubber-1").number for spec in (specs.POT_LIFE, specs.BATCH))
    spare = made.find(specs.SPARE, "gallery", op="rubber-1").number
    assert spare == pytest.approx(life - shop.handling_s - shop.handling_s_per_kg * batch)
    assert spare >= life * shop.margin - 1e-6  # what is kept in hand is never poured away
