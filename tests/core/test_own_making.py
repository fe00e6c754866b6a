"""Builds put away, beginnings, forms that were dipped, steps typed over, ways that cannot be, meshes turned over and cut."""

from __future__ import annotations

from datetime import date

import pytest
import trimesh
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import demo, library
from homunculus.core import specs
from homunculus.core.cells.builds import read_build, show_build
from homunculus.core.cells.steps import read_step, show_step
from homunculus.core.edits.decisions import decide, find_decision, replace_build
from homunculus.core.errors import UserError
from homunculus.core.form.field import make_field
from homunculus.core.form.measure import measure
from homunculus.core.form.mesh import mirrored, read_stl
from homunculus.core.form.study import locking
from homunculus.core.job.build import Intercut, Move, Water
from homunculus.core.job.counts import Wanted
from homunculus.core.job.forms import Box, Cylinder, Displaced, Mesh, Section, Sections, Sphere
from homunculus.core.job.moulds import Additive, Mix
from homunculus.core.job.operations import After, Hands, Layer, Pour, Wait
from homunculus.core.making.cannot import cannot, locking_of
from homunculus.core.plan.coverage import coverage
from homunculus.core.plan.making import breaks
from homunculus.core.session import Session
from homunculus.exchange.mesh_cut import cut_mesh
from homunculus.exchange.mesh_files import as_stl
from homunculus.reshaping import Reshaper
from homunculus.store.folder import JobFolder
from homunculus.store.new_job import new_job
from tests.core.test_own_builds import EMPTY

SHELF = library.shelf()
CARDS = SHELF.materials
DAY = date(2026, 3, 2)


def session_of(*lines, job=EMPTY):
    session = Session(job, shelf=SHELF)
    for line in lines:
        session.do(line, today=DAY)
    return session


def values(made):
    return {(f.spec.name, f.subject): f.value for f in made.own}


# ------------------------------------------------------------------------------------------- put away
def test_a_build_that_is_put_away_is_planned_nowhere_and_covers_nothing(demo_document, demo_facts):
    session = Session(demo_document.job, demo_facts, shelf=SHELF)
    before = session.plan()
    needs = [row for row in coverage(session.job).rows if row.need and getattr(row.need.cover, "build", "") == "ferry"]
    assert needs
    assert {row.state for row in needs} == {"build"}
    session.do("put away ferry")
    after = session.plan()
    assert {b.build.id for b in before.builds} - {b.build.id for b in after.builds} == {"ferry"}
    assert not [f for f in after.figures() if f.subject.build == "ferry"]
    assert after.build("ferry").held == "put away"
    assert all(values(after.build(b.build.id)) == values(b) for b in before.builds if b.build.id != "ferry")
    gone = [row for row in coverage(session.job).rows if row.need and getattr(row.need.cover, "build", "") == "ferry"]
    assert {(row.state, row.trouble) for row in gone} == {("nothing", "Paddle ferry was put away")}
    assert "ferry" not in {unseen.build.id for unseen in coverage(session.job).unseen}
    with pytest.raises(UserError, match="bring back"):
        after.context("ferry")
    for line in ("put away ferry", "put ferry", "bring away ferry"):
        with pytest.raises(UserError):
            session.do(line)
    session.do("bring back ferry")
    assert session.job == demo_document.job


# ----------------------------------------------------------------------------------------- beginnings
def test_what_a_kind_brings_is_a_beginning_until_somebody_decides_it():
    session = session_of("build prop: Anchor", "build prop: Bell, 1:4")
    anchor, bell = session.job.builds
    assert "scale" in anchor.begun
    assert "scale" not in bell.begun, "somebody has said it"
    wall = find_decision(session.job, "anchor", "wall_m:hero")
    assert wall.begun
    session.edit("wall", decide(session.job, wall, 0.02))
    assert not find_decision(session.job, "anchor", "wall_m:hero").begun
    assert set(session.job.build("anchor").begun) == set(anchor.begun) - {"wall_m:hero"}
    session.undo()
    assert session.job.build("anchor") == anchor, "undo takes the decision back, and with it the mark"
    session.edit("it stays", decide(session.job, wall, wall.value))
    assert not find_decision(session.job, "anchor", "wall_m:hero").begun, "to say the same decides it too"
    session.do("set builds/anchor/scale 1:2")
    assert "scale" not in session.job.build("anchor").begun
    session.do("accept anchor: crew")
    assert "crew" not in session.job.build("anchor").begun
    with pytest.raises(UserError, match="no beginning"):
        session.do("accept anchor: crew")
    session.do("accept anchor")
    assert session.job.build("anchor").begun == ()
    assert session.job.build("bell").begun == bell.begun


def test_another_way_and_a_typed_piece_bring_beginnings_but_what_was_said_is_decided():
    session = session_of("build prop: Anchor", "accept anchor")
    session.do("piece anchor: ring: ball 200 mm, casting resin fast, block 12 mm")
    begun = set(session.job.build("anchor").begun)
    assert "wall_m:ring" not in begun
    assert {"waste:ring", "lag_s:ring", "work_s:ring/sculpt"} <= begun
    assert not any(key.endswith((":hero", "/hero")) for key in begun), "other pieces stand as they were decided"
    assert "copies:ring" not in begun
    session.do("accept anchor")
    session.do("way anchor/ring: jacketed")
    begun = set(session.job.build("anchor").begun)
    assert {"blanket_m:ring", "layers:ring", "work_s:ring/bolts"} <= begun
    assert "work_s:ring/sculpt" not in begun, "the sculpt means the same in both"
    session.do("delete anchor/ring")
    assert session.job.build("anchor").begun == (), "what is gone is no beginning"


def test_a_new_job_knows_that_nobody_decided_its_shop(tmp_path, now):
    job = JobFolder(new_job(tmp_path / "j", "mine", now), now).job
    assert "shop.day_c" in job.begun
    assert "shop.base_rate_fps" not in job.begun, "the sheet asks for it"
    session = Session(job, shelf=SHELF)
    session.do("build prop: Anchor", today=DAY)
    session.do("set shop/air/day_c 19 °C")
    assert set(job.begun) - set(session.job.begun) == {"shop.day_c"}
    session.do("accept shop")
    assert session.job.begun == ()


# ---------------------------------------------------------------------------------------------- forms
def test_a_thing_that_was_dipped_has_the_volume_of_its_water():
    session = session_of("build prop: Idol", "piece idol: foot: dipped 0.5 l, 10 × 10 × 10 cm, casting wax")
    form = session.job.builds[0].pieces[-1].form
    assert form == Displaced(0.0005, 0.1, 0.1, 0.1)
    assert measure(form, {}).volume == pytest.approx(0.0005)
    ball = measure(Sphere(0.1 * (0.0005 / (3.14159265 / 6 * 0.1**3)) ** (1 / 3)), {})
    assert measure(form, {}).area == pytest.approx(ball.area, rel=1e-3)
    with pytest.raises(UserError, match="do not fit each other"):
        measure(Displaced(0.01, 0.1, 0.1, 0.1), {})
    for line in ("dipped, 1 × 1 × 1 m", "dipped 2 kg 1 × 1 × 1 m", "dipped 3000000 l, 1 × 1 × 1 m"):
        with pytest.raises(UserError):
            session.do(f"piece idol: x: {line}")


# ---------------------------------------------------------------------------------------------- steps
ALL_OPS = tuple(op for way in SHELF.ways for op in way.route)


@pytest.mark.parametrize("system", ["metric", "imperial"])
@given(op=st.sampled_from(ALL_OPS), share=st.sampled_from([1.0, 0.5, 3.0]), work=st.floats(0, 1e6), loop=st.sampled_from(["once", "mould", "piece"]))  # fmt: skip
@settings(max_examples=60, deadline=None)
def test_a_step_typed_over_itself_is_the_same_whatever_the_units(system, op, share, work, loop):
    if hasattr(op, "share"):
        op = replace(op, share=share)
    if hasattr(op, "work_s"):
        op = replace(op, work_s=work)
    op = replace(op, loop=loop)
    pieces = (("wire", "wire"),)
    assert read_step(show_step(op, CARDS, pieces, system), op.id, CARDS, system, op, pieces) == op


def test_a_step_typed_over_keeps_what_no_line_says_and_takes_what_it_says():
    session = session_of("build prop: Anchor", "way anchor/hero: jacketed", "way anchor/hero: jacketed")
    route = {op.id: op for op in session.job.builds[0].pieces[0].route}
    assert show_step(route["jacket-1"], CARDS) == (
        'jacket, first half: lay up, hands 1 h and 3 h a m², release "wax and film, the wall and its flange too", mould maker'
    )
    session.do(
        'step anchor/hero/turn: flip it: hands 2 h, a mould, two people, caution "two lift, nobody alone", caution gloves, takes hoist, after clay-blanket'
    )
    turned = next(op for op in session.job.builds[0].pieces[0].route if op.id == "turn")
    assert turned == replace(route["turn"], name="flip it", work_s=7200.0, skill="two people", cautions=("two lift, nobody alone", "gloves"),
                             takes=("hoist",), after=(After("clay-blanket"),))  # fmt: skip
    line = show_step(turned, CARDS)
    session.do(f"step anchor/hero/turn: {line.replace(', caution gloves', '')}")
    assert next(op for op in session.job.builds[0].pieces[0].route if op.id == "turn").cautions == (
        "two lift, nobody alone",
    )
    session.do(
        "step anchor/hero: skin: layer slip latex 0.3 mm, sprayed, every 2 h, lost 10 %, onto plywood, shows likeness, held by design, a good piece"
    )
    skin = next(op for op in session.job.builds[0].pieces[0].route if op.id == "skin")
    assert (skin.between_s, skin.waste, skin.onto, skin.shows, skin.held_by) == (
        7200.0,
        0.1,
        "board-ply",
        ("likeness",),
        ("design",),
    )
    mix = Layer(
        "m",
        material="latex-slush",
        thickness_m=0.001,
        mixes=(Mix(additives=(Additive("pigment", 0.02),)),),
        after=(After("a", 60.0),),
    )
    assert read_step("m: layer slip latex 2 mm", "m", CARDS, before=mix) == replace(mix, thickness_m=0.002), (
        "what no line says stays"
    )
    session.do("step anchor/hero/rubber-1: rubber, first half: wait 2 h, a mould")
    assert isinstance(next(op for op in session.job.builds[0].pieces[0].route if op.id == "rubber-1"), Wait)
    session.do("step anchor/hero: core: pour core, 2 shares")
    core = next(op for op in session.job.builds[0].pieces[0].route if op.id == "core")
    assert core == Pour("core", "core", part="core", share=2.0)
    session.do("step anchor: rig: hands 12 h and 10 min a kg")
    session.do("step anchor//rig: rig: hands 14 h, rigger, a figure")
    assert session.job.builds[0].assembly == (Hands("rig", "rig", loop="figure", work_s=50400.0, skill="rigger"),)
    for line, said in (("step anchor/hero/none: x: hands 1 h", "no step"), ("step anchor/hero: x: wait 1 h, hands 2 h", "has not"),
                       ("step anchor/hero: x: lay in moon", "no piece"), ("step anchor/hero: x: cast iron", "not understood"),
                       ("step anchor/hero: x: draw cheese 1 mm", "no material"), ("step anchor/hero: x: hands 1 h, hands 2 h", "anew"),
                       ("step anchor/hero: x: hands 1 h, after nothing", "no such step"), ("step anchor/hero: x: hands 1 h, shows colour", "no signature")):  # fmt: skip
        with pytest.raises(UserError, match=said):
            session.do(line)


# ------------------------------------------------------------------------------------ ways that cannot
def piece_with(demo_document, form, material):
    return replace(demo_document.job.build("lighthouse").pieces[0], form=form, material=material, mould=None, route=())


@pytest.mark.parametrize(("form", "material", "words"), [
    (Box(1, 1, 1), "resin-casting-fast", {}),
    (Sphere(1), "resin-casting-fast", {"vacuum": "locks"}),
    (Cylinder(1, 1, 0.5), "sheet-styrene", {}),
    (Cylinder(1, 1, 1.5), "sheet-styrene", {"vacuum": "locks"}),
    (Sections((Section(0, 1, 1), Section(1, 2, 2))), "sheet-styrene", {"vacuum": "locks"}),
    (Box(1, 1, 1), "foam-latex", {"block": "oven", "jacketed": "oven", "carved": "too soft", "printed": "no print"}),
    (Box(1, 1, 1), "silicone-platinum-soft", {"block": "no cure", "jacketed": "no cure", "carved": "too soft", "printed": "no print"}),
    (Box(1, 1, 1), "gypsum-fine", {"printed": "no print"}),
    (Box(1, 1, 1), "", {}),
])  # fmt: skip
def test_ways_that_cannot_be_say_why_in_a_word(demo_document, form, material, words):
    piece = piece_with(demo_document, form, material)
    found = {way.id: no.word for way in SHELF.ways if (no := cannot(piece, way, CARDS, {}))}
    assert found == words


def test_how_much_of_a_form_locks():
    waist = (Section(0, 2, 1), Section(1, 1, 1), Section(2, 2, 2))
    assert (
        locking_of(Box(1, 2, 3), {})
        == locking_of(Cylinder(2, 1, 1.0), {})
        == locking_of(Cylinder(2, 1), {})
        == (0.0, 0.0)
    )
    assert locking_of(Cylinder(1, 1, 2.0), {}) == (0.0, 0.75), (
        "three quarters of the view from above stand over nothing"
    )
    assert locking_of(Sections(waist), {}) == (0.0, 0.5)
    assert locking_of(Sections(waist[:2]), {}) == (0.0, 0.0), "it only grows narrower"
    assert locking_of(Displaced(0.5, 1, 1, 1), {}) == (0.0, 1.0)


def test_the_gallery_with_its_undercuts_locks_in_a_hard_mould_unless_what_is_cast_bends(demo_document, demo_facts):
    gallery = next(p for p in demo_document.job.build("lighthouse").pieces if p.id == "gallery")
    words = {way.id: no.word for way in SHELF.ways if (no := cannot(gallery, way, CARDS, demo_facts))}
    assert words == {"rigid": "locks", "laminate": "locks", "vacuum": "locks"}
    assert not cannot(gallery, next(w for w in SHELF.ways if w.id == "rigid"), CARDS, {}), "not studied: nobody knows"
    soft = replace(gallery, material="foam-latex")
    assert not cannot(soft, next(w for w in SHELF.ways if w.id == "rigid"), CARDS, demo_facts)


@pytest.mark.parametrize(("made", "undercut", "overhang"), [
    (trimesh.creation.box((1, 1, 1)), 0.0, 0.0),
    (trimesh.creation.icosphere(subdivisions=4), 0.0, 0.8),
    (trimesh.util.concatenate([trimesh.creation.box((1, 0.2, 1)), trimesh.creation.box((1, 0.2, 0.5), trimesh.transformations.translation_matrix((0, 0.6, 0)))]), 0.5, 0.5),
])  # fmt: skip
def test_the_study_tells_what_would_lock(made, undercut, overhang):
    """A box comes out of anything; a ball out of two halves, and all of it but what lies within two cells of its foot overhangs; a plate with a lower one behind it locks over half of the side view, and of its two
    feet the half that hangs higher overhangs."""
    triangles = made.triangles.astype("float32")
    locked = locking(make_field(triangles, reach=0.2, points=60_000))
    assert locked == (pytest.approx(undercut, abs=0.03), pytest.approx(overhang, abs=0.09))


# ------------------------------------------------------------------------------------ meshes reshaped
def test_a_mesh_cut_in_two_is_closed_and_both_halves_are_the_whole():
    ball = trimesh.creation.icosphere(subdivisions=3, radius=2.0)
    lower, upper = (trimesh.load(trimesh.util.wrap_as_stream(stl), file_type="stl") for stl in cut_mesh(ball.export(file_type="stl"), "b.stl", 2, 1.0))  # fmt: skip
    assert lower.is_watertight
    assert upper.is_watertight
    assert lower.volume + upper.volume == pytest.approx(ball.volume, rel=1e-5)
    cap = 3.14159 * 1.0**2 / 3 * (3 * 2.0 - 1.0)
    assert lower.volume == pytest.approx(cap, rel=0.02), "a cap one metre high of a ball of two metres: π h²/3 (3r − h)"
    for data, at, said in (
        (ball.export(file_type="stl"), 9.0, "one side"),
        (as_stl(ball.triangles[1:]), 1.0, "not closed"),
        (b"solid", 1.0, "b.stl"),
    ):
        with pytest.raises(UserError, match=said):
            cut_mesh(data, "b.stl", 2, at)


def test_a_mesh_turned_over_is_its_mirror_image_and_faces_outward(folder):
    job = JobFolder(folder, demo.REFERENCE_NOW).job
    claw = next(
        p for b in job.builds for p in b.pieces if isinstance(p.form, Mesh) and p.form.file_name.startswith("claw")
    )
    over = Reshaper(folder).turned_over(claw.form)
    before, after = (read_stl((folder / "meshes" / f"{c}.stl").read_bytes()) for c in (claw.form.content, over.content))
    assert after.min(axis=(0, 1)) == pytest.approx(before.min(axis=(0, 1)), abs=1e-5)
    assert trimesh.Trimesh(**trimesh.triangles.to_kwargs(after)).volume == pytest.approx(trimesh.Trimesh(**trimesh.triangles.to_kwargs(before)).volume, rel=1e-4)  # fmt: skip
    assert after[:, ::-1, 0] == pytest.approx(before[:, :, 0].min() + before[:, :, 0].max() - before[:, :, 0], abs=1e-5)
    assert mirrored(mirrored(before)) == pytest.approx(before, abs=1e-5)


def test_the_halves_of_a_piece_stand_where_they_stood_and_shots_need_both(folder):
    opened = JobFolder(folder, demo.REFERENCE_NOW)
    lighthouse = opened.job.build("lighthouse")
    whole = next(p for p in lighthouse.pieces if p.id == "gallery")
    first, *_, last = whole.route
    waits = replace(whole, route=(*whole.route[:-1], replace(last, after=(After(f"gallery/{first.id}"),))))
    pieces = tuple(waits if p is whole else p for p in lighthouse.pieces)
    job = replace_build(opened.job, replace(lighthouse, pieces=pieces))
    session = Session(job, shelf=SHELF, reshaping=Reshaper(folder))
    session.do("split lighthouse/gallery at 1.5 m up")
    pieces = session.job.build("lighthouse").pieces
    lower, upper = (p for p in pieces if p.name.startswith("gallery "))
    assert (lower.id, lower.name, upper.name) == ("gallery", "gallery lower", "gallery upper")
    assert lower.at_m[1] == pytest.approx(whole.at_m[1], abs=1e-3)
    assert upper.at_m[1] == pytest.approx(whole.at_m[1] + 1.5, abs=1e-3)
    assert (lower.mould, lower.route, upper.route[:-1]) == (whole.mould, waits.route, whole.route[:-1])
    assert upper.route[-1].after == (After(f"{upper.id}/{first.id}"),), "on itself, not on the other half"
    named = [use.pieces for shot in session.job.shots for use in shot.uses if "gallery" in use.pieces]
    assert named
    assert all(upper.id in pieces for pieces in named)
    session.undo()
    assert session.job == job
    for line, said in (
        ("split lighthouse/gallery at noon", "where it is cut"),
        ("split lighthouse/gallery at 90 m up", "one side"),
        ("split tidewife/bust at 1 m up", "no piece"),
    ):
        with pytest.raises(UserError, match=said):
            session.do(line)
    with pytest.raises(UserError, match="not at hand"):
        Session(opened.job, shelf=SHELF).do("mirror lighthouse/gallery")
    opened.close()


def test_a_line_says_of_what_a_mould_is_poured_and_what_its_laminate_is():
    session = session_of(
        "build prop: Anchor",
        "piece anchor/hero: hero: box 1 × 1 × 1 m, casting resin fast, block 15 mm of urethane rubber 40",
    )
    mould = session.job.builds[0].pieces[0].mould
    assert (mould.rubber, mould.wall_m) == ("urethane-rubber-40", 0.015)
    assert "urethane-rubber-40" in {card.id for card in session.job.cards.materials}
    session.do("piece anchor/hero: hero: box 1 × 1 × 1 m, casting resin fast, block 12 mm")
    assert session.job.builds[0].pieces[0].mould.rubber == "urethane-rubber-40", (
        "what is not said stays, as with another way"
    )
    session.do(
        "piece anchor/hero: hero: box 1 × 1 × 1 m, casting resin fast, jacketed of tin-cure silicone soft in 450 g mat"
    )
    assert session.job.builds[0].pieces[0].mould.rubber == "silicone-tin-soft"
    for words, said in (
        ("block 12 mm in laminate", "no laminate"),
        ("block of cheese", "no material"),
        ("rigid 3 m", "beyond"),
    ):
        with pytest.raises(UserError, match=said):
            session.do(f"piece anchor/hero: hero: box 1 × 1 × 1 m, casting resin fast, {words}")


# ------------------------------------------------------------------------------------ a build in one line
def builds_of_all_kinds(demo_document):
    return [
        *demo_document.job.builds,
        *session_of("build prop: A, 1 m", "build set-cut-out: B, 9 m, 1:30", "tie a to b at 50 %").job.builds,
    ]


@pytest.mark.parametrize("system", ["metric", "imperial"])
def test_a_build_typed_over_itself_is_the_same_whatever_the_units(demo_document, system):
    for build in builds_of_all_kinds(demo_document):
        assert read_build(show_build(build, system), build, system) == build


@given(
    st.floats(0.01, 999),
    st.floats(0, 50),
    st.floats(0.001, 90),
    st.integers(1, 50),
    st.integers(0, 30),
    st.floats(0, 1e6),
)
@settings(max_examples=80, deadline=None)
def test_what_a_build_must_do_is_read_as_it_is_written(scale, stands, wave, crew, spare, budget):
    build = session_of("build prop: A").job.builds[0]
    build = replace(build, scale=scale, stands_m=stands, water=Water(wave), crew=crew, wanted=Wanted(hero=0, spare=spare), rubber_budget=budget,
                    moves=(Move("bow", 6.0, ("2", "5")), Move("stern", 2.5)), intercut=Intercut("wheel", 1.2, 0.1), bought_parts=True, called="that thing")  # fmt: skip
    assert read_build(show_build(build), replace(build, name="other")) == build


def test_a_build_is_described_by_a_line_and_refused_with_a_reason(demo_document):
    session = Session(demo_document.job, shelf=SHELF)
    session.do(
        "describe saltbust: Salt bust: 1:2, from 2026-02-20 10:30, 6 hero, crew 2, wave 1 m, tide moves 2 m/s in 2"
    )
    bust = session.job.build("saltbust")
    assert (bust.scale, bust.starts.isoformat(), bust.wanted.hero, bust.crew) == (2.0, "2026-02-20T10:30:00", 6, 2)
    assert (bust.rubber_budget, bust.called) == (None, "the salt bust"), (
        "what a line leaves out is as if nobody had said it"
    )
    assert bust.pieces == demo_document.job.build("saltbust").pieces
    for words, said in (("Salt bust: 1:2, 1:3", "anew"), ("Salt bust: tall", "not understood"), ("Salt bust: from soon", "no day"), ("Salt bust: from 2026-02-20 10:30+02:00", "no day"), ("Salt bust: 1:9000", "beyond"),
                        (": 1:2", "no name"), ("Salt bust: x moves 2 m/s in 99", "none"), ("Salt bust: wave 900000 km", "beyond"), ("Salt bust: crew 0", "beyond")):  # fmt: skip
        with pytest.raises(UserError, match=said):
            session.do(f"describe saltbust: {words}")


def test_what_takes_break_is_told_of_the_piece_that_they_break(demo_document, demo_facts):
    made = Session(demo_document.job, demo_facts).plan()
    told = breaks(made.shots_of("lighthouse"), made.build("lighthouse"))
    taken = made.build("lighthouse").find(specs.BROKEN, shot="3", use="gallery")
    assert told == {"gallery": (taken.number, ("3",))}
    session = session_of("build prop: Idol", 'add shots {"id":"1","name":"x","seconds":1,"day":"2026-05-04","needs":[{"what":"i","cover":{"type":"build","build":"idol","wear":"destructive","chance":0.5}}]}')  # fmt: skip
    plan = session.plan()
    assert set(breaks(plan.shots_of("idol"), plan.build("idol"))) == {"hero", "soft-copy"}, "all of it is broken"
