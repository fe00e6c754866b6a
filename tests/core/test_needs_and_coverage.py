"""Needs as they are typed, what covers them, and what no shot sees."""

from __future__ import annotations

from datetime import date

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core.cells.needs import covered, parse_needs, show_needs
from homunculus.core.errors import UserError
from homunculus.core.job.sets import Place
from homunculus.core.job.shots import ByBuild, ByDecision, ByPeople, ByStock, Need, Shot
from homunculus.core.plan.coverage import coverage
from tests.strategies import jobs, needs


@given(jobs(), st.lists(needs, max_size=4).map(tuple))
def test_needs_are_read_back_as_they_were_written(job, found):
    assert parse_needs(show_needs(found, job), job) == found


def test_every_way_of_covering_is_typed(demo_document):
    job = demo_document.job
    read = parse_needs(
        "wave; lighthouse; rope: stock: two coils, tarred; Keeper: people: performer\n"
        "crab: oldclaw/claw insert+stalks, soiling, looks 2.4 m, top, front; rail: stock: rail, 2 m long, at 1:16, stands 60 cm; "
        "pier: decide: who?, stands 2 to 3 m, may be soft; bust: saltbust, destructive, chance 70 %, resets 2; sky: decide: paint or print? by 2026-03-02; door:",
        job,
    )
    assert read == (
        Need("wave"),
        Need("lighthouse", ByBuild("lighthouse")),
        Need("rope", ByStock("two coils, tarred")),
        Need("Keeper", ByPeople("performer")),
        Need("crab", ByBuild("oldclaw", ("claw", "stalks"), "soiling", ("front", "top")), Place(2.4, looks=True)),
        Need("rail", ByStock("rail, 2 m long"), Place(0.6, scale=16.0)),
        Need("pier", ByDecision("who?"), Place(2.0, 3.0, soft=True)),
        Need("bust", ByBuild("saltbust", (), "destructive", (), 0.7, 2)),
        Need("sky", ByDecision("paint or print?", date(2026, 3, 2))),
        Need("door"),
    )
    assert [n.what for n in parse_needs("ferry, storm tank, ferry", job)] == ["ferry", "storm tank", "ferry"]


@pytest.mark.parametrize(("typed", "said"), [
    ("lighthouse/lamp room", "has no piece “lamp room”.*tower, gallery"),
    ("windmill", "no build “windmill”.*stock:"),
    ("ferry, underwater", "“underwater” is not understood"),
    ("ferry, chance 120 %", "no chance"),
    ("ferry, at -3 m", "below nought"),
    ("ferry, stands 3 m to 2 m", "near side comes first"),
    ("ferry, looks 3 m to infinity", "Nothing stands at infinity"),
    ("ferry, may be soft", "says no distance"),
    ("ferry, stands 200 km", "out of reach"),
    ("rent: a boat", "no cover"),
    ("decide: which? by 2026-02-30", "is no day"),
])  # fmt: skip
def test_what_cannot_cover_is_said(demo_document, typed, said):
    with pytest.raises(UserError, match=said):
        covered(Need("it"), typed, demo_document.job)


def test_the_two_planted_gaps_of_the_demo_are_found(demo_document):
    covered = coverage(demo_document.job)
    assert [(r.shot.id, r.need.what) for r in covered.uncovered] == [("14", "tarred rope at the claw's size")]
    assert [(u.build.id, u.piece.id) for u in covered.unseen] == [("ferry", "wheelhouse")]
    assert [r.need.what for r in covered.open] == ["headland and cut-outs behind"]
    assert covered.never_seen["lighthouse"] == ("back", "top")
    assert "gulls" not in covered.never_seen  # one of its shots does not say what it sees


def test_what_is_gone_covers_nothing_and_a_bare_shot_counts(demo_document):
    job = demo_document.job
    ferry = job.build("ferry")
    sunk = replace(job, builds=tuple(b for b in job.builds if b is not ferry))
    lost = [r for r in coverage(sunk).uncovered if r.trouble]
    assert {r.shot.id for r in lost} == {"2", "5", "6"}
    assert all("no build “ferry”" in r.trouble for r in lost)
    hulled = replace(ferry, pieces=tuple(p for p in ferry.pieces if p.id != "hull"))
    assert "no piece “hull”" in coverage(replace(sunk, builds=(*sunk.builds, hulled))).uncovered[0].trouble
    bare = replace(job, shots=(*job.shots, Shot("19", "new", 3.0, date(2026, 3, 27))))
    assert [r.shot.id for r in coverage(bare).uncovered] == ["14", "19"]


@given(jobs())
def test_every_need_has_one_row_and_what_is_seen_is_not_unseen(job):
    covered = coverage(job)
    assert len(covered.rows) == sum(max(1, len(s.needs)) for s in job.shots)
    used = {(u.build, p.id) for s in job.shots for u in s.uses for p in job.build(u.build).pieces}
    assert {(u.build.id, u.piece.id) for u in covered.unseen} == {
        (b.id, p.id) for b in job.builds for p in b.pieces
    } - used
