"""The Scale bench: dragged, typed, stepped, undone, pinned, seen."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus.core import specs
from tests.app.conftest import drag, key, type_words


def scale(window):
    return window.desk.build.scale


def spot(window, name):
    found = window.benches.bench.spots.find(name)
    assert found is not None, name
    return found


def test_dragging_the_decision_moves_every_figure_and_is_one_step(window):
    desk, view = window.desk, window.benches.of("scale").ladder()
    target = view.x_of(8.0) - view.x_of(12.0)
    drag(spot(window, "scale"), round(target))
    assert scale(window) == pytest.approx(8.0, abs=0.15)
    rate = desk.build_plan.find(specs.BUILD_RATE)
    assert rate.number < 100
    assert [m.after.spec for m in desk.moved][:2] == [specs.SLACK, specs.BUILD_RATE]
    assert desk.session.undo_name.startswith("scale 1:")
    desk.undo()
    assert scale(window) == 12.0
    assert not desk.session.can_undo


def test_what_is_drawn_moves_in_the_same_painting(window):
    before = window.grab().toImage()
    bench = window.benches.of("scale")
    desk = window.desk
    desk.grasp()
    desk.decide(desk.decision("scale"), 8.0)
    after = window.grab().toImage()  # one painting, no event loop between
    desk.let_go()
    for place in (bench, window.ledger, window.line, window.rail):
        corner = place.mapTo(window, place.rect().topLeft())
        area = place.rect().translated(corner)
        assert before.copy(area) != after.copy(area), place.objectName()


def test_the_handle_is_under_the_marker_after_the_drag(window):
    view = window.benches.of("scale").ladder()
    drag(spot(window, "scale"), round(view.x_of(24.0) - view.x_of(12.0)))
    middle = spot(window, "scale").geometry().center()
    assert middle.x() == pytest.approx(window.benches.of("scale").ladder().x_of(scale(window)), abs=2)


def test_dragging_the_height_is_another_view_of_the_scale(window):
    drag(spot(window, "height"), 0, -60)
    assert scale(window) < 12.0
    assert window.desk.session.can_undo


def test_a_scale_is_typed_over_the_number(window):
    spot(window, "scale").setFocus()
    key(window, Qt.Key.Key_8)
    line = window.findChild(QLineEdit, "typed")
    assert line.text() == "8"
    key(window, Qt.Key.Key_Return)
    assert scale(window) == 8.0
    assert window.benches.of("scale").spots.find("scale").hasFocus()


@pytest.mark.parametrize(("typed", "expected"), [("1:16", 16.0), ("5:8", 1.6), ("250 %", 0.4), ("1/24", 24.0)])
def test_scales_are_typed_as_people_say_them(window, typed, expected):
    window.benches.of("scale").type_scale()
    line = window.findChild(QLineEdit, "typed")
    line.selectAll()
    type_words(line, typed)
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert scale(window) == pytest.approx(expected)


def test_what_cannot_be_read_is_said_and_kept_to_be_mended(window):
    window.benches.of("scale").type_scale()
    line = window.findChild(QLineEdit, "typed")
    line.selectAll()
    type_words(line, "twelve")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert "“twelve” is not a scale" in window.notice.words
    assert line.isVisible()
    assert line.text() == "twelve"
    assert scale(window) == 12.0
    QTest.keyClick(line, Qt.Key.Key_Escape)
    QApplication.processEvents()
    assert not window.findChildren(QLineEdit, "typed") or not line.isVisible()


def test_arrows_go_to_the_next_stock_scale_and_shift_ten(window):
    spot(window, "scale").setFocus()
    key(window, Qt.Key.Key_Right)
    assert scale(window) == 16.0
    key(window, Qt.Key.Key_Left, times=2)
    assert scale(window) == 10.0
    key(window, Qt.Key.Key_Right, Qt.KeyboardModifier.ShiftModifier)
    assert scale(window) > 32.0
    window.setFocus()
    key(window, Qt.Key.Key_Comma)
    assert scale(window) < 72.0


def test_escape_goes_back_to_the_pinned_value_as_a_step(window):
    window.desk.decide(window.desk.decision("scale"), 8.0)
    window.setFocus()
    key(window, Qt.Key.Key_Escape)
    assert scale(window) == 12.0
    window.desk.undo()
    assert scale(window) == 8.0


def test_a_lane_is_asked_why(window):
    QTest.mouseClick(spot(window, "lane:weight"), Qt.MouseButton.LeftButton)
    told = window.why.told()
    assert window.why.isVisible()
    assert told.label == "Weight of the build"
    assert "volume of the wall" in told.formula
    key(window, Qt.Key.Key_Escape)
    assert not window.why.isVisible()


def test_a_small_puppet_gets_a_loupe_and_no_lane_for_water(window):
    window.desk.choose("oldclaw")
    QApplication.processEvents()
    assert window.benches.bench.spots.find("lane:stage")
    assert window.benches.bench.spots.find("lane:water") is None
    elevation = window.benches.of("scale").elevation()
    assert elevation.height * elevation.px < 70


def test_proportions_are_true(window):
    for build in ("lighthouse", "tidewife", "gulls"):
        window.desk.choose(build)
        elevation = window.benches.of("scale").elevation()
        height = window.desk.build_plan.find(specs.HEIGHT).number
        assert elevation.height == pytest.approx(height, rel=0.02)
        drawn = elevation.foot - elevation.top.y()
        assert drawn / elevation.px == pytest.approx(height, rel=0.02)


def test_without_a_form_the_bench_says_what_to_do(open_window, folder):
    for study in (folder / "meshes").glob("*.study.json"):
        study.unlink()
    (folder / "meshes").rename(folder / "gone")
    window = open_window(folder)
    window.desk.choose("ferry")
    QApplication.processEvents()
    assert window.benches.of("scale").elevation().silhouette.missing == ["hull"]
    assert not window.grab().isNull()
