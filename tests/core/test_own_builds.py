"""Builds and pieces of one's own: typed in a line, begun from a card, made another way, copied, given away, deleted."""

from __future__ import annotations

import math
from datetime import date, datetime

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core import specs
from homunculus.core.cells.pieces import read_piece, show_piece
from homunculus.core.edits.builds import build_copied, build_moved, build_named, sizes_of
from homunculus.core.edits.decisions import decide, find_decision, replace_build
from homunculus.core.edits.lines import do
from homunculus.core.edits.pieces import (
    mended,
    piece_copied,
    piece_moved,
    piece_placed,
    piece_pushed,
    piece_removed,
    piece_reordered,
    piece_sized,
    piece_typed,
    real_size,
)  # fmt: skip
from homunculus.core.edits.routes import step_moved, step_removed, step_typed
from homunculus.core.edits.wishes import do_wish, found, is_wish, kind_called, read_sizes
from homunculus.core.errors import UserError
from homunculus.core.form.stretch import nice_step, size_of, stretched
from homunculus.core.job.consistent import doubt_about
from homunculus.core.job.forms import Box, Cylinder, Mesh, Section, Sections, Sphere, WeighedClay
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import PLAIN, Additive, Mix
from homunculus.core.job.operations import After, Cast, Hands, Insert, Pour, Wait
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import ByBuild, Need, Shot
from homunculus.core.job.ways import way_of
from homunculus.core.plan.job_plan import plan
from homunculus.core.session import Session
from homunculus.store.folder import decode, encode
from tests.strategies import jobs

SHELF = library.shelf()
EMPTY = replace(
    Job("own", Shop(camera="cinema-150"), ()), cards=replace(Job("", Shop(), ()).cards, cameras=library.cameras())
)
TODAY = date(2026, 3, 2)


def wished(job, *lines, system="metric"):
    for line in lines:
        job = do_wish(job, line, SHELF, system, TODAY)[1] if is_wish(line) else do(job, line)[1]
    return job


def typed(text, before=None, system="metric"):
    return read_piece(text, before, SHELF, system)


# ------------------------------------------------------------------------------------------------- a piece in one line
@given(jobs(), st.sampled_from(("metric", "imperial")))
def test_a_line_read_over_its_own_piece_changes_nothing(job, system):
    for build in job.builds:
        for piece in build.pieces:
            after = piece_typed(
                job, build.id, piece.id, show_piece(piece, SHELF.beside(job.cards.materials), system), SHELF, system
            )
            assert after == job


@given(jobs())
def test_a_metric_line_says_all_that_it_can_to_the_last_digit(job):
    for piece in job.builds[0].pieces:
        new = typed(show_piece(piece, SHELF)).piece
        assert (new.form, new.wall_m, new.copies, new.material) == (
            piece.form,
            piece.wall_m,
            piece.copies,
            piece.material,
        )


@pytest.mark.parametrize(("words", "form"), [
    ("box 6 × 3 × 4 m", Box(6, 3, 4)), ("box 6x300mmx4 m", Box(6, 0.3, 4)), ("box 2 m by 10 cm by 5 mm", Box(2, 0.1, 0.005)),
    ("cylinder 3 * 4 m", Cylinder(3, 4)), ("cone 3 × 1 × 4 m", Cylinder(3, 4, 1)), ("ball 3 ft", Sphere(0.9144)), ("ball 1,5 m", Sphere(1.5)),
    ("sections 2 × 1 at 0 / 1 m × 500 mm at 4 m", Sections((Section(0, 2, 1), Section(4, 1, 0.5)))),
    ("clay 3.2 kg of 1650 kg/m³, 20 × 10 × 15 cm", WeighedClay(3.2, 1650, 0.2, 0.1, 0.15)),
])  # fmt: skip
def test_forms_are_typed_as_people_write_them(words, form):
    assert typed(f"it: {words}").piece.form == form


def test_phrases_stand_in_any_order_and_a_comma_may_be_part_of_a_name():
    piece, making = typed("left arm: tin-cure silicone, soft, 2 a figure, hollow 4 mm, rigid 30 mm gap 4 mm, up 15.4 m, along -2 m, "
                          "250 %, good 90 %, lost 7 %, drawn 1:4, box 1 × 1 × 1 m")  # fmt: skip
    assert (piece.name, piece.material, piece.copies, piece.wall_m) == ("left arm", "silicone-tin-soft", 2, 0.004)
    assert (piece.at_m, piece.enlarged, piece.good, piece.waste, piece.drawn_at) == ((-2, 15.4), 2.5, 0.9, 0.07, 4)
    assert making[:3] == ("rigid", 0.03, 0.004)
    assert typed("a: ball 1 m, jacketed").making[:3] == ("jacketed", None, None)
    assert typed("a: ball 1 m, printed").making.name == "printed"
    assert typed("a: ball 1 m, laminate, polyester resin and 450 g mat").piece.material == "laminate-polyester-mat"


@pytest.mark.parametrize(("line", "said"), [
    ("tower", "form"), ("tower:", "no form"), (": ball 1 m", "called"), ("t: box 1 × 1 m", "2 sizes, not 3"), ("t: box 6 × 3 × 4", "no unit"),
    ("t: ball 1 m, ball 2 m", "anew"), ("t: ball 1 m, hollow 3 m", "500 µm|0.5 mm"), ("t: ball 1 m, silicone", "may be"),
    ("t: ball 1 m, cheese", "no phrase"), ("t: mesh", "no mesh yet"), ("t: ball 1 m, block 10 mm gap 3 mm", "no gap"),
    ("t: ball 1 m, block 3 m", "goes from"), ("t: sections 1 × 1 at 4 m / 1 × 1 at 2 m", "foot up"), ("t: ball -1 m", "below nought"),
    ("t: clay 3 kg", "density"), ("t: ball 1 m, only extras", "names no figures"), ("t: ball 1 m, 2 a figure, 1 in all", "anew"), ("t: ball 1 m, 0 %", "goes from"), ("t: ball 200000 km", "goes from"),
])  # fmt: skip
def test_a_line_that_cannot_be_is_refused_with_what_to_write(line, said):
    with pytest.raises(UserError, match=said):
        typed(line)


def test_a_phrase_left_as_it_was_shown_keeps_what_rounding_hides():
    piece = replace(typed("t: box 1 × 1 × 1 m, hollow 4 mm").piece, form=Box(1.23456789, 1.0, 2.0), wall_m=0.0041234)
    line = show_piece(piece, SHELF, "imperial").replace("t:", "tower:")
    assert typed(line, piece, "imperial").piece == replace(piece, name="tower")
    kept = replace(piece, form=Mesh("a" * 64, "t.stl", 1.0))
    assert typed("t: mesh, solid", kept).piece.form == kept.form


# ---------------------------------------------------------------------------------------------- how it comes to be
def test_another_construction_keeps_what_means_the_same():
    job = wished(EMPTY, "build prop: Anchor, 1 m", "piece anchor: ring: ball 200 mm, casting resin fast, block 12 mm")
    build, ring = found(job, "anchor/ring")
    own = tuple(replace(op, work_s=99.0) if op.id in ("sculpt", "castings") else op for op in build.pieces[-1].route)
    piece = replace(build.pieces[-1], route=(*own, Hands("polish", loop="piece", work_s=60.0)),
                    mould=replace(build.pieces[-1].mould, cavities=3, moulds=2, rubber="urethane-rubber-40", keyed=True))  # fmt: skip
    job = replace_build(job, replace(build, pieces=(*build.pieces[:-1], piece)))
    job = wished(job, f"piece anchor/{ring}: ring: ball 200 mm, casting resin fast, jacketed 9 mm")
    after = job.build("anchor").pieces[-1]
    mould = after.mould
    assert (mould.blanket_m, mould.cavities, mould.moulds, mould.rubber, mould.keyed) == (
        0.009,
        3,
        2,
        "urethane-rubber-40",
        True,
    )
    work = {op.id: op.work_s for op in after.route if hasattr(op, "work_s")}
    assert (work["sculpt"], work["castings"], work["polish"]) == (99.0, 99.0, 60.0)
    assert [op.id for op in after.route if op.loop == "mould"] == [
        op.id for op in library.way("jacketed").route if op.loop == "mould"
    ]
    assert {"laminate-polyester-mat", "urethane-rubber-40"} <= {c.id for c in job.cards.materials}
    thicker = (
        wished(job, "piece anchor/ring: ring: ball 200 mm, casting resin fast, jacketed 12 mm")
        .build("anchor")
        .pieces[-1]
    )
    assert thicker == replace(after, mould=replace(mould, blanket_m=0.012)), "a thickness alone changes nothing else"
    carved = wished(job, "way anchor/ring: carved", "set builds/anchor/pieces/ring/route/carve/work_s 9 h")
    larger = (
        wished(carved, "piece anchor/ring: ring: ball 300 mm, casting resin fast, carved").build("anchor").pieces[-1]
    )
    assert larger.route == carved.build("anchor").pieces[-1].route, "another size decides no hours anew"
    bare = wished(job, "piece anchor/ring: ring: ball 200 mm, casting resin fast").build("anchor").pieces[-1]
    assert bare.mould is None
    assert not any(isinstance(op, Pour | Cast) for op in bare.route)
    assert [op.id for op in bare.route] == ["sculpt", "polish"]


@pytest.mark.parametrize("first", [way.id for way in SHELF.ways])
def test_from_every_way_to_every_other_only_the_cards_own_steps_change(first):
    job = wished(
        EMPTY,
        "build prop: Anchor",
        "piece anchor: ring: ball 200 mm, casting resin fast, block",
        f"way anchor/ring: {first}",
    )
    job = step_typed(job, "anchor", "ring", "polish: hands 1 h, a good piece", SHELF)
    for way in SHELF.ways:
        after = wished(job, f"way anchor/ring: {way.id}")
        ring = after.build("anchor").pieces[-1]
        ids = [op.id for op in ring.route]
        assert way_of(ring, SHELF.ways) is way
        assert ids.count("polish") == 1, "what somebody added stays"
        assert {op.id for op in way.route if op.loop == "mould"} <= set(ids)
        card = {op.id for op in library.way(first).route} - {op.id for op in way.route}
        if way.mould is None or library.way(first).mould is None:
            assert not card & set(ids), "nobody cuts and puts together what is cast"
        assert plan(after, {}).builds[0].held == ""


def test_pigment_for_rubber_is_none_for_stone():
    job = wished(EMPTY, "build prop: Anchor", "piece anchor: ring: ball 200 mm, casting resin fast, block")
    build = job.build("anchor")
    blue = (Mix(additives=(Additive("pigment", 0.02),)),)
    ring = replace(build.pieces[-1], mould=replace(build.pieces[-1].mould, mixes=blue))
    job = replace_build(job, replace(build, pieces=(*build.pieces[:-1], ring)))
    assert wished(job, "way anchor/ring: jacketed").build("anchor").pieces[-1].mould.mixes == blue
    assert wished(job, "way anchor/ring: rigid").build("anchor").pieces[-1].mould.mixes == PLAIN


@pytest.mark.parametrize(
    "line",
    [
        "ball 1 m, along 200000 km",
        "clay 0 kg of 1650 kg/m³, 20 × 10 × 15 cm",
        "sections 1 × 1 at 0 / 1 × 1 at 200000 km",
    ],
)
def test_what_no_file_could_hold_is_refused_before_it_is_kept(line):
    job = wished(EMPTY, "build prop: Anchor")
    with pytest.raises(UserError, match="beyond what can be"):
        wished(job, f"piece anchor: odd: {line}")
    tiny = wished(EMPTY, "build prop: Pin, 1 mm")
    assert decode(encode(tiny, ()), "job.json").job == tiny
    with pytest.raises(UserError):
        wished(EMPTY, "build animated-puppet: Speck, 0.002 mm")


def test_what_waited_for_an_operation_that_is_gone_waits_no_more():
    job = wished(EMPTY, "build prop: Anchor", "piece anchor: ring: ball 200 mm, casting resin fast, block")
    build = job.build("anchor")
    arm = replace(
        build.pieces[0],
        route=(Hands("arm"), Insert("in", piece="ring"), Hands("fit", after=(After("ring/box"), After("arm")))),
    )
    build = replace(build, pieces=(arm, *build.pieces[1:]), assembly=(Hands("rig", after=(After("ring/castings"),)),))
    left = mended(build)
    assert left == build
    job = piece_removed(replace_build(job, build), "anchor", "ring")
    left = job.build("anchor")
    assert [op.id for op in left.pieces[0].route] == ["arm", "fit"]
    assert left.pieces[0].route[1].after == (After("arm"),)
    assert left.assembly[0].after == ()
    assert plan(job, {}).builds[0].held == ""


# ------------------------------------------------------------------------------------------------ builds
@pytest.mark.parametrize("kind", [kind.id for kind in SHELF.kinds])
def test_every_kind_begins_with_a_build_that_is_planned_to_its_end(kind):
    card = kind_called(kind, SHELF)
    job = wished(EMPTY, f"build {kind}: Sea thing, {card.size_m * 1.2} m")
    build = job.builds[0]
    assert (build.kind, build.scale, build.starts) == (kind, card.scale, datetime(2026, 3, 2, 9))
    assert [p.name for p in build.pieces] == [line.partition(":")[0] for line in card.pieces]
    assert doubt_about(job) == ""
    assert all(way_of(piece, SHELF.ways) for piece in build.pieces), "each says how it comes to be"
    made = plan(job, {}).builds[0]
    assert (made.held, made.wants) == ("", ())
    assert made.find(specs.READY)
    whole = Box(*sizes_of(card, card.size_m * 1.2))
    for piece in build.pieces:
        across = getattr(piece.form, "length_m", getattr(piece.form, "diameter_m", 0.0)) / 2
        up = getattr(piece.form, "height_m", getattr(piece.form, "diameter_m", 0.0))
        assert abs(piece.at_m[0]) + across <= whole.length_m / 2 * 1.001, piece.name
        assert piece.at_m[1] + up <= whole.height_m * 1.001, piece.name
    assert card.doubts
    assert "no source" in card.source


def test_a_build_is_begun_from_how_big_it_really_is():
    job = wished(
        EMPTY,
        "build miniature: Barge, 24 × 5 × 3 m, 1:8, from 2026-04-01",
        "build prosthetic: Brow, from 2026-04-01 10:30",
        "build miniature: Barge, 9 ft high",
    )
    barge, brow, tall = job.builds
    assert (barge.id, barge.called, barge.scale, barge.starts) == ("barge", "the barge", 8.0, datetime(2026, 4, 1, 9))
    assert barge.pieces[0].form == Box(24.0, 5.0, 2.0), "two thirds of its height, as the card has it"
    assert (brow.scale, brow.starts) == (1.0, datetime(2026, 4, 1, 10, 30))
    assert tall.id == "barge-2"
    assert tall.pieces[0].form.height_m == pytest.approx(9 * 0.3048 * 2 / 3, rel=1e-3)
    assert read_sizes("24 m long", SHELF.kinds[0]) == read_sizes("24 m", SHELF.kinds[0])
    assert (
        read_sizes("9 ft tall", SHELF.kinds[0])
        == read_sizes("9 ft high", SHELF.kinds[0])
        != read_sizes("9 ft deep", SHELF.kinds[0])
    )
    for line, said in (("build boat: X", "no kind"), ("build miniature: ", "no name"), ("build miniature: X, 5", "no unit"),
                       ("build miniature: X, 1 km, from May", "no day"), ("build miniature: X, 2000 × 3 × 200000 km", "beyond"),
                       ("build miniature: X, 1:0", "scale"), ("way x: block", "is no build"), ("copy barge/mast", "is no piece"),
                       ("rename barge:", "no name"), ("give barge/body to x", "is no build")):  # fmt: skip
        with pytest.raises(UserError, match=said):
            wished(job, line)


def test_builds_are_named_copied_moved_and_deleted_and_shots_follow():
    job = wished(EMPTY, "build prop: Anchor", "build prop: Buoy")
    needs = (
        Need("an anchor", ByBuild("anchor", ("hero",))),
        Need("both", ByBuild("anchor", ("hero", "soft-copy"))),
        Need("a buoy", ByBuild("buoy")),
    )
    job = replace(job, shots=(Shot("1", "s", 3.0, date(2026, 4, 1), needs),))
    renamed = build_named(job, "anchor", "Old anchor").build("anchor")
    assert (renamed.name, renamed.called) == ("Old anchor", "the old anchor")
    said = replace(job.build("anchor"), called="it")
    assert build_named(replace_build(job, said), "anchor", "X").build("anchor").called == "it"
    copied, new = build_copied(job, "anchor")
    assert [b.id for b in copied.builds] == ["anchor", new, "buoy"]
    assert copied.build(new).pieces == job.build("anchor").pieces
    assert [b.id for b in build_moved(job, "anchor", 1).builds] == ["buoy", "anchor"]
    assert build_moved(job, "anchor", -5).builds == job.builds
    covers = [need.cover for need in wished(job, "delete anchor/hero").shots[0].needs]
    assert covers == [None, ByBuild("anchor", ("soft-copy",)), ByBuild("buoy")]
    gone = wished(job, "delete anchor")
    assert [need.cover for need in gone.shots[0].needs] == [None, None, ByBuild("buoy")]
    assert [b.id for b in gone.builds] == ["buoy"]


def test_pieces_are_copied_mirrored_and_given_away():
    job = wished(
        EMPTY,
        "build creature-suit: Seal",
        "build prop: Float",
        "piece seal: left fin: ball 300 mm, along 400 mm, block",
    )
    job, right = piece_copied(job, "seal", "left-fin", mirrored=True)
    pieces = {p.id: p for p in job.build("seal").pieces}
    assert (right, pieces[right].name, pieces[right].at_m) == ("right-fin", "right fin", (-0.4, 0.0))
    assert pieces[right].route == pieces["left-fin"].route
    after = piece_moved(job, "seal", "right-fin", "float")
    assert [p.name for p in after.build("float").pieces] == ["hero", "soft copy", "right fin"]
    assert "right-fin" not in {p.id for p in after.build("seal").pieces}
    assert doubt_about(wished(job, "copy seal/left-fin", "copy seal", "give seal-2/left-fin-2 to float")) == ""


# -------------------------------------------------------------------------------------------- forms and steps by hand
@pytest.mark.parametrize(("form", "side", "after"), [
    (Box(1, 2, 3), 0, Box(4, 2, 3)), (Box(1, 2, 3), 1, Box(1, 4, 3)), (WeighedClay(3, 1650, 1, 2, 3), 2, WeighedClay(3, 1650, 1, 2, 4)),
    (Cylinder(1, 2), 2, Cylinder(1, 4)), (Cylinder(1, 2, 0.5), 0, Cylinder(4, 2, 2)), (Cylinder(0.5, 2, 1), 1, Cylinder(2, 2, 4)),
    (Sphere(1), 2, Sphere(4)), (Sections((Section(1, 2, 1), Section(3, 1, 1))), 2, Sections((Section(1, 2, 1), Section(5, 1, 1)))),
    (Sections((Section(0, 2, 1), Section(3, 1, 1))), 0, Sections((Section(0, 4, 1), Section(3, 2, 1)))),
])  # fmt: skip
def test_a_form_is_pulled_to_a_size_and_what_is_round_stays_round(form, side, after):
    assert stretched(form, side, 4.0) == after
    assert size_of(after)[side] == 4.0
    with pytest.raises(UserError, match="drawn in"):
        stretched(Mesh("a" * 64, "m.stl", 1.0), side, 4.0)


def test_steps_of_work_are_round():
    assert [nice_step(size) for size in (10.0, 6.0, 0.3, 0.011, 1e9)] == pytest.approx([0.1, 0.1, 0.005, 0.0002, 1e7])


def test_steps_of_a_route_are_typed_taken_out_and_moved():
    job = wished(EMPTY, "build prop: Anchor", "piece anchor: ring: ball 200 mm, casting resin fast, block")

    def ids(job):
        return [op.id for op in job.build("anchor").pieces[-1].route]

    job = step_typed(job, "anchor", "ring", "polish twice: hands 1.5 h and 30 min a m², a good piece, sculptor", SHELF)
    job = step_typed(job, "anchor", "ring", "dry: wait 20 h, a mould", SHELF)
    job = step_typed(job, "anchor", "ring", "skin: layer slip latex 0.3 mm, 2 coats, a good piece", SHELF)
    assert ids(job) == ["sculpt", "box", "rubber", "cut", "dry", "castings", "polish-twice", "skin"]
    ops = {op.id: op for op in job.build("anchor").pieces[-1].route}
    polish, skin = ops["polish-twice"], ops["skin"]
    assert (polish.name, polish.work_s, polish.work_s_per_m2, polish.loop, polish.skill) == (
        "polish twice",
        5400,
        1800,
        "piece",
        "sculptor",
    )
    assert (skin.material, skin.thickness_m, skin.coats) == ("latex-slush", pytest.approx(0.0003), 2)
    assert ops["dry"] == Wait("dry", "dry", loop="mould", wait_s=72000)
    assert "latex-slush" in {card.id for card in job.cards.materials}
    assert plan(job, {}).builds[0].held == ""
    assert ids(step_moved(job, "anchor", "ring", "dry", -1))[3:5] == ["dry", "cut"]
    assert ids(step_moved(job, "anchor", "ring", "sculpt", -3)) == ids(job)
    gone = step_removed(job, "anchor", "ring", "cut")
    assert "cut" not in ids(gone)
    rigged = step_typed(gone, "anchor", "", "rig: hands 2 h", SHELF).build("anchor").assembly
    assert rigged == (Hands("rig", "rig", loop="figure", work_s=7200),)
    for line, said in (("polish", "no step"), (": hands 1 h", "no step"), ("polish:", "no step"), ("polish: a good piece", "what it takes"), ("p: hands", "how much"), ("p: hands 2 kg", "not a duration"),
                       ("p: hands 1 h and 2 h a litre", "not understood"), ("p: wait 9000000 h", "beyond"), ("p: layer cheese 1 mm", "no material"),
                       ("p: hands 1 h, 7", "not understood")):  # fmt: skip
        with pytest.raises(UserError, match=said):
            step_typed(job, "anchor", "ring", line, SHELF)
    with pytest.raises(UserError, match="no step"):
        step_removed(job, "anchor", "ring", "ghost")


def test_pieces_are_sized_and_pushed_by_round_steps_and_stay_on_the_ground():
    job = wished(
        EMPTY, "build miniature: Barge, 24 m, 1:8", "piece barge: mast: cylinder 200 mm × 4 m, drawn 1:2, 250 %, up 2 m"
    )

    def mast(job):
        return job.build("barge").pieces[-1]

    assert real_size(mast(job), 2) == pytest.approx(20.0), "an insert is larger than it was typed"
    sized = mast(piece_sized(job, "barge", "mast", 2, 5.0))
    assert sized.form == Cylinder(0.2, 1.0), "five metres of an insert at 250 %, drawn at half"
    assert mast(piece_pushed(job, "barge", "mast", along=3)).at_m == (pytest.approx(0.03), 2.0), (
        "steps of a hundredth of a metre's width"
    )
    assert mast(piece_pushed(job, "barge", "mast", up=-50)).at_m == (0.0, 0.0)
    for bad in (lambda: piece_sized(job, "barge", "mast", 0, 0.0), lambda: piece_sized(job, "barge", "mast", 2, 1e9),
                lambda: piece_placed(job, "barge", "mast", 2e5, 0), lambda: piece_placed(job, "barge", "mast", math.nan, 0)):  # fmt: skip
        with pytest.raises(UserError):
            bad()
    assert piece_reordered(job, "barge", "mast", -9).build("barge").pieces[0].id == "mast"


def test_builds_follow_another_in_scale_through_undo_and_when_it_goes():
    session = Session(
        wished(
            EMPTY,
            "build animated-puppet: Diver, 1.6 m, 1:4",
            "build set-cut-out: Quay",
            "build prop: Glove",
            "build prop: Reef",
        ),
        shelf=SHELF,
    )
    for line in ("tie quay to diver", "tie glove to quay at 250 %"):
        session.do(line)

    def scales():
        return {b.id: b.scale for b in session.job.builds}

    assert scales() == {"diver": 4.0, "quay": 4.0, "glove": pytest.approx(1.6), "reef": 1.0}
    session.do("set builds/diver/scale 1:6")
    assert scales() == {"diver": 6.0, "quay": 6.0, "glove": pytest.approx(2.4), "reef": 1.0}
    session.undo()
    assert scales()["glove"] == pytest.approx(1.6)
    before = session.job
    with pytest.raises(UserError, match="takes its scale from Diver"):
        decide(session.job, find_decision(session.job, "quay", "scale"), 8.0)
    for line, said in (("tie diver to glove", "from itself"), ("tie quay to ghost", "is no build"), ("tie quay to diver at 5000 %", "beyond"),
                       ("set builds/diver/scale 1:0.002", "would be built at")):  # fmt: skip
        with pytest.raises(UserError, match=said):
            session.do(line)
    assert session.job == before
    session.do("untie glove")
    session.do("set builds/diver/scale 1:8")
    assert scales() == {"diver": 8.0, "quay": 8.0, "glove": pytest.approx(1.6), "reef": 1.0}
    session.do("delete diver")
    assert (session.job.build("quay").follows, session.job.build("quay").scale) == ("", 8.0)
    assert build_copied(before, "glove")[0].build("glove-2").follows == "quay"


def test_a_piece_multiplies_by_figure_by_role_in_all_and_with_spares_of_its_own():
    lines = (
        "build creature-suit: Seal",
        "set builds/seal/wanted/hero 3",
        "set builds/seal/wanted/background 20",
        "set builds/seal/wanted/spare 1",
    )
    session = Session(wished(EMPTY, lines[0]), shelf=SHELF)
    for line in lines[1:]:
        session.do(line)
    session.do(
        "piece seal: flipper: ball 200 mm, casting resin fast, block, 2 a figure, only hero and spare, 3 spares, 1 test"
    )
    session.do("piece seal: stamp: ball 50 mm, casting resin fast, block, 2 in all, 1 spare")
    made = session.plan().build("seal")
    assert made.find(specs.CASTINGS, "flipper").value == 2 * (3 + 1) + 3 + 1
    assert made.find(specs.CASTINGS, "stamp").value == 3
    assert made.find(specs.CASTINGS, "cowl").value == 24
    session.do("set builds/seal/wanted/background 50")
    assert session.plan().build("seal").find(specs.CASTINGS, "flipper").value == 12, "the background has none"
    job = session.job
    for piece in job.build("seal").pieces:
        assert piece_typed(job, "seal", piece.id, show_piece(piece, SHELF), SHELF) == job
    shot = Shot("1", "s", 3.0, date(2026, 4, 1), (Need("seal", ByBuild("seal", wear="destructive", chance=0.5)),))
    broken = plan(replace(job, shots=(shot,)), {}).build("seal")
    takes = broken.find(specs.BROKEN, shot="1").value
    assert broken.find(specs.CASTINGS, "flipper").value == 12 + 2 * takes, "what a take breaks is a hero"
    assert broken.find(specs.CASTINGS, "stamp").value == 3
