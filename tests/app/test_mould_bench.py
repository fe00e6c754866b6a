"""The Mould bench: a true section, thickness set on it by hand and by key, volumes that add up as shown."""

import math

import numpy as np
import pytest
from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus import library
from homunculus.app.benches.mould.bench import MouldBench
from homunculus.core import specs
from homunculus.core.constructions.register import CONSTRUCTIONS
from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.edits.pieces import with_cards
from homunculus.core.job.moulds import BlockMould
from tests.app.conftest import drag, key, type_words, typed, wait_until
from tests.core.test_constructions import KINDS


@pytest.fixture
def bench(window, qtbot) -> MouldBench:
    window.desk.go("mould")
    wait_until(
        qtbot,
        lambda: window.benches.of("mould").isVisible() and window.benches.of("mould").section(gallery(window)).ready,
        30000,
    )
    QApplication.processEvents()
    return window.benches.of("mould")


def gallery(window):
    return next(p for p in window.desk.build.pieces if p.id == "gallery")


def enclosed(polygons):
    return sum(abs(np.sum(p[:, 0] * np.roll(p[:, 1], -1) - np.roll(p[:, 0], -1) * p[:, 1])) / 2 for p in polygons)


def test_the_section_is_the_real_form_in_its_rubber_in_its_jacket(bench, window):
    view = bench.section(gallery(window))
    form, rubber, jacket = (enclosed(polygons) for polygons in (view.form, view.rubber, view.jacket))
    assert 0 < form < rubber < jacket
    height = max(z for p in view.form for _, z in p) - min(z for p in view.form for _, z in p)
    assert height == pytest.approx(4.2 / 12, rel=0.05)  # ball on top, foot below, at 1:12
    around = (rubber - form) / 0.010
    assert 1.0 < around < 3.0  # a layer of ten millimetres along a line of a metre or two


def test_pulling_the_thickness_moves_section_volume_and_ledger_together_as_one_step(bench, window):
    desk, before = window.desk, enclosed(bench.section(gallery(window)).rubber)
    mass = desk.build_plan.find(specs.RUBBER, "gallery").number
    drag(bench.spots.find("decide:blanket_m:gallery"), 0, -32)
    assert desk.decision("blanket_m:gallery").value == pytest.approx(0.012)
    assert enclosed(bench.section(gallery(window)).rubber) > before
    assert desk.build_plan.find(specs.RUBBER, "gallery").number > mass
    assert any(m.after.spec is specs.RUBBER for m in desk.moved)
    desk.undo()
    assert desk.decision("blanket_m:gallery").value == 0.010


@pytest.mark.parametrize(
    ("name", "typed", "value"), [("blanket_m", "3/8 in", 0.009525), ("flange_m", "55", 0.055), ("waste", "12 %", 0.12),
                                 ("layers", "4", 4)],
)  # fmt: skip
def test_every_decision_on_the_drawing_is_typed(bench, window, name, typed, value):
    handle = bench.spots.find(f"decide:{name}:gallery")
    QTest.mouseDClick(handle, Qt.MouseButton.LeftButton)
    line = window.findChild(QLineEdit, "typed")
    line.selectAll()
    type_words(line, typed)
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert window.desk.decision(f"{name}:gallery").value == pytest.approx(value)


def test_the_plane_slides_and_turns_and_stays_in_the_form(bench, window):
    middle = enclosed(bench.section(gallery(window)).form)
    plane = bench.spots.find("plane")
    plane.setFocus()
    key(window, Qt.Key.Key_Up, times=4)
    assert bench.offset == pytest.approx(0.020)
    assert enclosed(bench.section(gallery(window)).form) != middle
    key(window, Qt.Key.Key_BracketRight, times=3)
    assert math.degrees(bench.angle) == pytest.approx(15)
    assert "20 mm" in bench.spots.find("plane").accessibleName().replace("\u00a0", " ")
    drag(plane, 0, -4000)
    depth = bench.figure(specs.FORM).value.size[1] / 2
    assert bench.offset == pytest.approx(depth)
    assert not bench.grab().isNull()


def test_parts_shown_add_up_to_the_total_shown(bench, window):
    parts = [round(bench.figure(s).number * 1e6) for s in (specs.BLANKET, specs.KEYS, specs.WASTE)]
    assert abs(sum(parts) - bench.figure(specs.RUBBER_VOLUME).number * 1e6) < 2


def test_a_build_with_two_moulds_shows_either_and_a_block_mould_has_a_wall(bench, window, qtbot):
    window.desk.choose("oldclaw")
    QApplication.processEvents()
    QTest.mouseClick(bench.spots.find("piece:claw"), Qt.MouseButton.LeftButton)
    assert bench.piece().id == "claw"
    wait_until(qtbot, lambda: bench.section(bench.piece()).ready, 30000)
    window.desk.choose("keeper")
    QApplication.processEvents()
    assert bench.spots.find("decide:wall_m:cheek")
    wait_until(qtbot, lambda: bench.section(bench.piece()).ready, 30000)
    assert bench.section(bench.piece()).surround == "box"
    assert not bench.grab().isNull()


def test_drawing_and_figures_change_places(bench, window):
    window.setFocus()
    key(window, Qt.Key.Key_F)
    assert window.benches.of("figures").isVisible()
    assert not bench.isVisible()
    key(window, Qt.Key.Key_F)
    assert bench.isVisible()


def test_figures_on_the_drawing_are_asked_why(bench, window):
    bench.spots.find("figure:rubber.blanket").setFocus()
    key(window, Qt.Key.Key_Return)
    assert window.why.told().label == "Blanket"


def test_a_build_without_moulds_says_so(bench, window):
    from msgspec.structs import replace

    build = window.desk.job.build("ferry")
    bare = replace(build, pieces=tuple(replace(p, mould=None, route=()) for p in build.pieces))
    window.desk.edit("bare", replace_build(window.desk.job, bare))
    window.desk.choose("ferry")
    QApplication.processEvents()
    assert bench.pieces() == []
    assert not bench.grab().isNull()
    for station in ("mix", "cure", "mould"):
        window.desk.go(station)
        QApplication.processEvents()
        assert window.benches.of(station).spots.find("way"), "an empty bench has a way out"
    bench.spots.find("way").act()
    typed(window, "block")
    assert [type(p.mould) for p in bench.pieces()] == [BlockMould]
    assert not bench.spots.find("way")


@pytest.mark.parametrize("construction", CONSTRUCTIONS, ids=lambda c: c.mould.__name__)
def test_each_construction_is_drawn_with_its_handles(bench, window, construction):
    mould = KINDS[construction.mould]
    build = window.desk.build
    piece = replace(gallery(window), mould=mould)
    window.desk.edit("made otherwise", with_cards(window.desk.job, replace_piece(build, piece), library.shelf()))
    QApplication.processEvents()
    for name in (construction.layer, *construction.handles):
        handle = bench.spots.find(f"decide:{name}:gallery")
        assert handle, name
        assert bench.rect().contains(handle.geometry()), name
    view = bench.section(piece)
    assert view.surround == construction.surround
    assert view.flange == getattr(mould, "flange_m", 0.0)


def test_a_piece_is_made_by_a_usual_way_from_the_go_to_box_and_that_is_one_step(bench, window):
    window.desk.choose("oldclaw")
    before = window.desk.job
    window.desk.piece_id = "stalks"  # it has no mould, and its job no card of the rubber would need one
    key(window, Qt.Key.Key_Slash)
    type_words(window.goto.line, "usual way")
    key(window, Qt.Key.Key_Return)
    typed(window, "as a jelly")
    assert "jacketed, rigid" in window.notice.words or "Choose one of" in window.notice.words
    assert window.desk.job is before
    typed(window, "block")
    stalks = next(p for p in window.desk.build.pieces if p.id == "stalks")
    assert (type(stalks.mould), [op.id for op in stalks.route]) == (
        BlockMould,
        ["sculpt", "box", "rubber", "cut", "castings"],
    )
    assert bench.piece().id == "stalks"
    assert window.desk.build_plan.find(specs.RUBBER, "stalks")
    key(window, Qt.Key.Key_U)
    assert window.desk.job == before
