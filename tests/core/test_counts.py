"""How many: from takes and yields to castings, the frozen number, and what it costs to change it."""

from __future__ import annotations

from datetime import date, datetime

import pytest
from hypothesis import given
from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.cells.counts import parse_signoffs, parse_variants, show_signoffs, show_variants
from homunculus.core.edits.decisions import decide, find_decision, replace_build, replace_piece
from homunculus.core.errors import UserError
from homunculus.core.job.build import piece_of
from homunculus.core.job.counts import SignOff, Variant, Wanted
from homunculus.core.plan.freezing import Cost, Drift, asked_now, cost_words, freeze
from homunculus.core.plan.job_plan import plan
from tests.strategies import jobs

AT = datetime(2026, 2, 24, 9, 10)


def planned(job, facts, build):
    return plan(job, facts).build(build)


def test_takes_reach_castings_weight_money_and_the_date(demo_document, demo_facts):
    job = demo_document.job
    made = planned(job, demo_facts, "lighthouse")
    assert made.find(specs.TAKES, shot="3", use="gallery").value == 6  # ⌈ln 0.1 / ln 0.65⌉
    assert made.find(specs.GOOD_ONES, "gallery").value == 7
    assert made.find(specs.CASTINGS, "gallery").value == 9
    sure = planned(decide(job, find_decision(job, "lighthouse", "shop.confidence"), 0.99), demo_facts, "lighthouse")
    for spec in (specs.CASTINGS, specs.CAST_MASS, specs.CAST_COST, specs.MOULD_TIME):
        assert sure.find(spec, "gallery").number > made.find(spec, "gallery").number
    assert sure.find(specs.READY).value > made.find(specs.READY).value
    one, every = made.find(specs.ONE_POURED, "gallery").number, made.find(specs.CAST_MASS, "gallery").number
    assert every == pytest.approx(9 * one * 1.05)
    assert made.find(specs.ONE_CASTING, "gallery").number == pytest.approx(one)


def test_resets_spare_copies_and_a_missing_chance_is_minded(demo_document, demo_facts):
    job = demo_document.job
    third = next(s for s in job.shots if s.id == "3")
    breaking = third.needs[1]

    def with_use(**how):
        shot = replace(third, needs=(third.needs[0], replace(breaking, cover=replace(breaking.cover, **how))))
        return planned(
            replace(job, shots=tuple(shot if s.id == "3" else s for s in job.shots)), demo_facts, "lighthouse"
        )

    assert with_use(resets=2).find(specs.GOOD_ONES, "gallery").value == 3
    unsaid = with_use(chance=None)
    assert unsaid.find(specs.GOOD_ONES, "gallery").value == 1
    assert any("Nobody has said how likely" in m.why[0] for m in unsaid.minds)


def test_variants_have_a_mould_each_and_add_up(demo_document, demo_facts):
    made = planned(demo_document.job, demo_facts, "gulls")
    each = [made.find(specs.GOOD_ONES, "body", variant=v.name).value for v in piece_of(made.build, "body").variants]
    assert each == [22, 9, 5]
    castings = [made.find(specs.CASTINGS, "body", variant=v.name).value for v in piece_of(made.build, "body").variants]
    assert made.find(specs.CASTINGS, "body").value == sum(castings)
    one = replace(piece_of(made.build, "body"), variants=())
    alike = planned(replace_build(demo_document.job, replace_piece(made.build, one)), demo_facts, "gulls")
    assert (
        alike.find(specs.MOULD_TIME, "body").number > made.find(specs.MOULD_TIME, "body").number
    )  # one mould after another


def test_a_frozen_number_stays_and_says_what_a_change_costs(demo_document, demo_facts):
    job = demo_document.job
    more = decide(job, find_decision(job, "keeper", "wanted.spare"), 3)
    made = planned(more, demo_facts, "keeper")
    assert (made.find(specs.ASKED, "cheek").value, made.find(specs.CASTINGS, "cheek").value) == (18, 16)
    assert any(m.level == "danger" and "short of the count" in m.headline[0] for m in made.minds)
    cost = plan(more, demo_facts).cost("keeper")
    followed = planned(freeze(more, made, AT, "shop lead", "two more calls"), demo_facts, "keeper")
    assert followed.find(specs.CASTINGS, "cheek").value == 18
    assert [(m.piece, m.frozen, m.asked) for m in cost.moved] == [("cheek", 16, 18)]

    def grew(spec):
        return followed.find(spec, "cheek").number - made.find(spec, "cheek").number

    assert [m.subject.part for m in cost.masses] == ["thin encapsulated silicone"]
    assert cost.masses[0].number == pytest.approx(grew(specs.CAST_MASS))
    assert cost.money.number == pytest.approx(grew(specs.CAST_COST))
    assert cost.mould_time.number == pytest.approx(grew(specs.MOULD_TIME))
    later = followed.find(specs.READY).value - made.find(specs.READY).value
    assert cost.ready.number == later.total_seconds() > 0
    assert len(cost.figures) == len([f for f in plan(more, demo_facts).whole if f.spec.name.startswith("freeze.")])
    assert plan(job, demo_facts).cost("keeper") is None
    assert plan(job, demo_facts).cost("gulls") is None


def test_the_cost_of_a_change_is_said_in_the_units_in_use_and_signed(demo_document, demo_facts):
    job = demo_document.job

    def said(role, count, *how):
        changed = decide(job, find_decision(job, "keeper", f"wanted.{role}"), count)
        made = planned(changed, demo_facts, "keeper")
        return cost_words(plan(changed, demo_facts).cost("keeper"), made.build, *how)

    more = said("spare", 3)
    assert more.startswith("cheek and brow 16 → 18: +315\N{NO-BREAK SPACE}g thin encapsulated silicone; +€")
    assert "mould days; ready 1.0 d later." in more
    fewer = said("hero", 8)
    assert "; −€" in fewer
    assert "sooner." in fewer
    assert " oz " in said("spare", 3, "imperial").replace("\N{NO-BREAK SPACE}", " ")
    stands = Cost((Drift("wing", "left", 3, 4),), (), None, ("foam latex",), None, None)
    assert cost_words(stands, job.build("gulls")) == "wing, left 3 → 4: foam latex has no price; the ready date stands."


@given(jobs())
def test_all_castings_are_those_of_every_piece_and_say_why(job):
    for made in plan(job, {}).builds:
        whole, cast = made.find(specs.ALL_CASTINGS), [p.id for p in made.build.pieces if p.mould]
        assert (whole is None) is (not cast)
        if whole:
            assert whole.value == sum(made.find(specs.CASTINGS, p).number for p in cast)
            assert whole.value == sum(o.castings for o in asked_now(made))
            assert [figure.subject.piece for _, figure in whole.inputs] == cast


def test_freezing_wants_a_name_and_changing_it_a_reason(demo_document, demo_facts):
    job = demo_document.job
    with pytest.raises(UserError, match="Nobody's name"):
        freeze(job, planned(job, demo_facts, "gulls"), AT, "  ")
    with pytest.raises(UserError, match="only with a reason"):
        freeze(job, planned(job, demo_facts, "keeper"), AT, "shop lead", " ")


@given(jobs())
def test_freezing_moves_nothing_and_a_frozen_count_never_moves(job):
    build = job.builds[0]
    made = planned(job, {}, build.id)
    frozen = freeze(job, made, AT, "lead")
    same = planned(frozen, {}, build.id)
    assert [f.value for f in same.figures if f.spec is specs.CASTINGS] == [
        f.value for f in made.figures if f.spec is specs.CASTINGS
    ]
    busier = planned(replace_build(frozen, replace(frozen.build(build.id), wanted=Wanted(5))), {}, build.id)
    cast = [p.id for p in build.pieces if p.mould]
    by_hero = [p.id for p in build.pieces if p.mould and not p.in_all and (not p.only or "hero" in p.only)]
    assert (asked_now(same) != asked_now(busier)) is bool(by_hero)
    for piece in cast:
        assert busier.find(specs.CASTINGS, piece).value == same.find(specs.CASTINGS, piece).value


def test_a_missing_signature_holds_the_moulds(demo_document, demo_facts):
    job = demo_document.job
    made = planned(job, demo_facts, "oldclaw")
    held = [t for t in made.tasks if t.held]
    assert {t.held for t in held} == {"rights"}
    assert all(t.start.date() >= date(2026, 2, 26) for t in held)  # not before the signature is expected
    assert any(m.headline[0] == "Moulds held: rights not signed" for m in made.minds)
    build = made.build
    signed = replace(build, signoffs=tuple(replace(s, at=AT) for s in build.signoffs))
    free = planned(replace_build(job, signed), demo_facts, "oldclaw")
    assert not [t for t in free.tasks if t.held]
    late = replace(build, signoffs=(SignOff("rights", "script office", None, date(2026, 3, 20)),))
    assert (
        planned(replace_build(job, late), demo_facts, "oldclaw").find(specs.SLACK).number
        < free.find(specs.SLACK).number
    )


def test_variants_and_signoffs_are_typed_in_a_line():
    assert parse_variants("left, right") == (Variant("left", 0.5), Variant("right", 0.5))
    typed = parse_variants("perched 60 %, preening 25 %, wings half open 15%")
    assert [v.name for v in typed] == ["perched", "preening", "wings half open"]
    assert parse_variants(show_variants(typed)) == typed
    assert parse_variants(" ") == ()
    for wrong, said in (("left, left", "one name"), ("left 30 %, right", "Only some"), ("a 0 %, b 5 %", "nought")):
        with pytest.raises(UserError, match=said):
            parse_variants(wrong)
    known = (SignOff("design", "director", AT), SignOff("rights", "office"))
    read = parse_signoffs("design: director; likeness: performer, expected 25 Feb", known, AT.date())
    assert read == (SignOff("design", "director", AT), SignOff("likeness", "performer", None, date(2026, 2, 25)))
    assert parse_signoffs(show_signoffs(read), read, AT.date()) == read
    assert parse_signoffs("design: somebody else", known, AT.date())[0].at is None
    for wrong in ("colour: painter", "design: a; design: b"):
        with pytest.raises(UserError, match="no sign-off"):
            parse_signoffs(wrong, known, AT.date())


def test_a_take_that_breaks_the_figure_costs_a_figure_and_one_that_breaks_a_piece_costs_a_piece():
    from homunculus.core.making.yields import figures_wanted, pieces_wanted

    whole = figures_wanted(hero=2, stunt=0, background=0, spare=0, test=0, shot_3=3)
    assert pieces_wanted(figures=whole, each=4) == (2 + 3) * 4
    assert pieces_wanted(figures=2, each=4, shot_3=3) == 2 * 4 + 3


def test_confidence_is_that_of_the_whole_figure_and_what_is_not_cast_is_no_casting(session):
    """Six of each of five rows at 95 % in all: yields 0.7, 0.85, 0.9 take 14, 10, 9 (worked beforehand)."""
    from homunculus.core.making.yields import castings_for, row_confidence

    each = row_confidence(confidence=0.95, rows=5)
    assert [castings_for(wanted=6, good=g, confidence=each).value for g in (0.7, 0.85, 0.9)] == [14, 10, 9]
    assert [castings_for(wanted=6, good=g, confidence=0.95).value for g in (0.7, 0.85, 0.9)] == [12, 9, 8]
    made = session.plan().build("gulls")
    assert made.find(specs.ROW_CONFIDENCE).number == pytest.approx(0.9 ** (1 / 3))
    assert made.find(specs.CASTINGS, "wing") is None
    assert made.find(specs.GOOD_ONES, "wing").number == 72
    assert made.find(specs.ALL_CASTINGS).number == made.find(specs.CASTINGS, "body").number
