"""Every way of making a mould is known at every place that asks for it."""

from typing import get_args

import pytest
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.constructions.construction import Line
from homunculus.core.constructions.register import CONSTRUCTIONS, construction_of
from homunculus.core.edits.decisions import decisions, replace_build, replace_piece
from homunculus.core.edits.pieces import with_cards
from homunculus.core.job.decided import decided_fields
from homunculus.core.job.forms import Sphere
from homunculus.core.job.moulds import BlockMould, JacketMould, LaminateMould, Mould, RigidMould
from homunculus.core.plan.job_plan import plan
from homunculus.core.session import Session

KINDS = {
    JacketMould: JacketMould("silicone-tin-soft", 0.010, "laminate-polyester-mat"),
    BlockMould: BlockMould("silicone-tin-soft", 0.015),
    RigidMould: RigidMould("gypsum-fine", 0.03, 0.006),
    LaminateMould: LaminateMould("gel-coat-polyester", 0.0006, "laminate-polyester-mat", gap_m=0.006),
}


def test_there_is_one_for_every_kind_of_data():
    assert {construction.mould for construction in CONSTRUCTIONS} == set(get_args(Mould)) == set(KINDS)
    assert all(construction_of(mould).mould is kind for kind, mould in KINDS.items())


@pytest.mark.parametrize("kind", KINDS, ids=lambda k: k.__name__)
def test_each_is_reckoned_weighed_priced_decided_drawn_and_scaled(demo_document, demo_facts, kind):
    """Of a ball of a tenth of a metre, at 1:1: every place that asks a construction gets an answer that holds."""
    mould, made = KINDS[kind], construction_of(KINDS[kind])
    build = demo_document.job.build("keeper")
    piece = replace(build.pieces[0], form=Sphere(0.1), mould=mould)
    job = with_cards(demo_document.job, replace_piece(build, piece), library.shelf())
    one = plan(job, demo_facts).build("keeper")
    stack = [one.find(spec, piece.id) for spec, _ in made.stack]
    assert all(stack), "what the stack shows is reckoned"
    assert sum(f.number for f in stack) == pytest.approx(one.find(made.volume, piece.id).number)
    assert one.find(made.mass, piece.id).number > 0
    assert one.find(specs.RUBBER_COST, piece.id).number > 0
    assert one.find(specs.MOULD_WEIGHT, piece.id).number > one.find(made.volume, piece.id).number
    assert one.find(specs.BATCHES, piece.id, op="rubber").number >= 1
    assert one.find(made.foot, piece.id) or made.surround == "box"
    shown = {d.key for d in decisions(job, "keeper")}
    assert {f"{name}:{piece.id}" for name in (made.layer, *made.handles)} <= shown
    assert {made.layer, *made.handles} <= set(decided_fields(kind))
    headline = one.headline("mould")
    assert headline.value.decided
    assert headline.value.value == getattr(mould, made.layer)
    first, *others = made.section(mould, 0.003)
    assert first == Line("form", 0.0)
    assert [abs(line.outward_m) for line in others] == sorted(abs(line.outward_m) for line in others)
    half = plan(replace_build(job, replace(job.build("keeper"), scale=2.0)), demo_facts).build("keeper")
    assert 0 < half.find(made.volume, piece.id).number < one.find(made.volume, piece.id).number
    assert Session(job, demo_facts).plan().ladder("keeper").lanes


def test_closed_forms_of_a_ball_in_each(demo_document, demo_facts):
    """Geometry: a shell of 4/3 π((r+t)³−r³), a box less the ball, two halves less the ball and the core within."""
    from math import pi

    build = demo_document.job.build("keeper")
    r = 0.05
    ball = 4 / 3 * pi * r**3
    wanted = {
        JacketMould: 4 / 3 * pi * ((r + 0.010) ** 3 - r**3) * 1.04,
        BlockMould: 0.13 * 0.13 * 0.115 - ball,
        RigidMould: 0.16**3 - ball + 4 / 3 * pi * (r - 0.006) ** 3,
        LaminateMould: 4 / 3 * pi * ((r + 0.0006) ** 3 - r**3),
    }
    for kind, mould in KINDS.items():
        ball_of = replace_piece(build, replace(build.pieces[0], form=Sphere(2 * r), mould=mould))
        job = with_cards(demo_document.job, ball_of, library.shelf())
        made = plan(job, demo_facts).build("keeper")
        bare = sum(
            made.find(spec, "cheek").number for spec, _ in construction_of(mould).stack if spec is not specs.WASTE
        )
        assert bare == pytest.approx(wanted[kind], rel=2e-3), kind
