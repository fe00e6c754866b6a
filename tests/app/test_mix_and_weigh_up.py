"""The Mix bench and the weigh-up, driven by keys and by a practice scale in a process of its own."""

import pytest
from PySide6.QtCore import QEvent, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from homunculus.core import specs
from homunculus.core.log import standing
from homunculus.core.quantities import NBSP
from homunculus.devices.protocol import Reading
from tests.app.conftest import key, typed


@pytest.fixture
def mix(window):
    window.desk.choose("oldclaw")
    key(window, Qt.Key.Key_5)
    QApplication.processEvents()
    window.benches.of("mix").show_pour("rubber-1")
    QApplication.processEvents()
    return window


def test_every_pour_of_the_piece_is_turned_to_by_name_and_by_key_and_has_its_own_flasks(mix):
    bench, desk = mix.benches.of("mix"), mix.desk
    assert [p.op for p in bench.pours()] == ["jacket-1", "jacket-2", "rubber-1", "rubber-2", "castings"]
    seen = []
    for _ in bench.pours():
        seen.append((bench.pour().op, [p.name for p in bench.recipe().parts]))
        key(mix, Qt.Key.Key_BracketRight)
        QApplication.processEvents()
    assert seen[0] == ("rubber-1", ["A", "B"]) == (bench.pour().op, [p.name for p in bench.recipe().parts])
    assert ("jacket-2", ["resin", "catalyst"]) in seen
    key(mix, Qt.Key.Key_BracketLeft)
    assert bench.pour().op == "jacket-2"
    bench.spots.find("pour:castings").act()
    bench.spots.find("stir in").act()
    typed(mix, "pigment 3 %")
    assert desk.build.pieces[0].route[-2].mixes[0].additives[0].share == pytest.approx(0.03), (
        "of the castings, not of the mould"
    )
    assert not desk.build.pieces[0].mould.mixes[0].additives
    assert [p.name for p in bench.recipe().parts] == ["A", "B", "pigment"]


def test_what_is_stirred_in_is_typed_stepped_left_out_and_undone(mix):
    bench, desk = mix.benches.of("mix"), mix.desk
    bench.spots.find("stir in").act()
    typed(mix, "pigment")
    assert "pigment 2 %" in mix.notice.words
    typed(mix, "pigment 3 %")
    assert desk.build.pieces[0].mould.mixes[0].additives[0].share == pytest.approx(0.03)
    handle = bench.spots.find("decide:additive.0.0:" + desk.build.pieces[0].id)
    handle.setFocus()
    QTest.keyClick(handle, Qt.Key.Key_Up)
    assert desk.build.pieces[0].mould.mixes[0].additives[0].share == pytest.approx(0.035)
    QTest.keyClick(bench.spots.find(handle.objectName()), Qt.Key.Key_Delete)
    assert not desk.build.pieces[0].mould.mixes[0].additives
    key(mix, Qt.Key.Key_U)
    assert desk.build.pieces[0].mould.mixes[0].additives


def test_each_mix_has_its_own_flasks_and_recipe(mix):
    bench = mix.benches.of("mix")
    bench.show_piece("claw")
    bench.show_pour("rubber-1")
    names = [p.name for p in bench.recipe().parts]
    assert (names, bench.mix_index) == (["A", "B", "thickener"], 0)
    weighed = [bench._part_figure(name).number for name in names[:2]]
    bench.show_mix(1)
    assert [p.name for p in bench.recipe().parts] == ["A", "B"]
    assert [bench._part_figure(name).number for name in names[:2]] != weighed
    bench.show_mix(7)
    assert bench.mix_index == len(bench.mixes()) - 1
    bench.show_mix(1)
    assert bench.recipe().total_kg == pytest.approx(bench.pour_figure(specs.POUR, "fill").number)


@pytest.fixture
def weigher(mix, qtbot):
    key(mix, Qt.Key.Key_W)
    weigher = mix.benches.of("weigh_up").weigher
    qtbot.waitUntil(lambda: weigher.at.pan.heard, timeout=60_000)
    yield weigher
    if mix.benches.of("weigh_up").weigher:
        mix.benches.of("weigh_up").close_up()


def pour(qtbot, weigher, grams):
    before = len(weigher.at._entries)
    qtbot.waitUntil(lambda: not weigher.at.pan.zeroing, timeout=60_000)
    weigher.order(f"add {grams:.1f}")
    qtbot.waitUntil(lambda: len(weigher.at._entries) > before, timeout=60_000)


def test_a_mix_is_weighed_with_nothing_but_space_and_an_over_pour_is_saved(mix, weigher, qtbot):
    up, desk = mix.benches.of("weigh_up"), mix.desk
    grams = [t * 1000 for t in weigher.at.weighing.targets]
    key(mix, Qt.Key.Key_Space)  # the cup is on
    pour(qtbot, weigher, grams[0] + 12)
    assert weigher.at.weighing.next_part == 1
    assert weigher.at.weighing.targets[1] * 1000 == pytest.approx((grams[0] + 12) * grams[1] / grams[0], abs=0.02)
    assert f"{weigher.at.weighing.targets[1] * 1000:.1f}{NBSP}g" in up._next_words(weigher)
    assert "over" in up._why_words(weigher)
    pour(qtbot, weigher, weigher.at.weighing.targets[1] * 1000)
    assert weigher.at.phase == "stir"
    key(mix, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: any(e.kind == "poured" and e.build == "oldclaw" for e in desk.log), timeout=60_000)
    assert up.isHidden()
    poured = next(e for e in desk.log if e.kind == "poured" and e.build == "oldclaw")
    assert poured.weights_kg["A"] * 1000 == pytest.approx(grams[0] + 12, abs=0.11)
    assert desk.status.states["oldclaw"] == "wet"


def test_a_silent_scale_keeps_the_pour_and_the_weight_is_typed(mix, weigher, qtbot):
    up = mix.benches.of("weigh_up")
    key(mix, Qt.Key.Key_Space)
    qtbot.waitUntil(lambda: not weigher.at.pan.zeroing, timeout=60_000)
    weigher.order("add 41.2")
    qtbot.waitUntil(lambda: weigher.at.pan.kg > 0.041, timeout=60_000)
    weigher.order("silent")
    qtbot.waitUntil(lambda: bool(weigher.at.pan.quiet), timeout=60_000)
    assert f"41.2{NBSP}g" in up._why_words(weigher)
    assert "went quiet" in up.spots.find("reading").accessibleName()
    QTest.keyClick(up, Qt.Key.Key_6)
    typed(mix, "a cup full")
    assert "a cup full" in up._why_words(weigher)
    typed(mix, f"{weigher.at.weighing.targets[0] * 1000:.1f} g")
    assert weigher.at.weighing.next_part == 1
    QTest.keyClick(up, Qt.Key.Key_Backspace)
    assert weigher.at.weighing.next_part == 0


def test_held_keys_pour_on_the_practice_scale_until_they_are_let_go_and_a_lot_is_named(mix, weigher, monkeypatch):
    up, orders = mix.benches.of("weigh_up"), []
    monkeypatch.setattr(weigher, "order", orders.append)
    for which in (Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_T):
        QTest.keyPress(up, which)
        QTest.keyRelease(up, which)
    assert orders == ["pour 40", "stop", "pour 3", "stop"], "T is the window's"
    for sort in (QEvent.Type.KeyPress, QEvent.Type.KeyRelease):  # a key that is held tells itself again and again
        again = QKeyEvent(sort, Qt.Key.Key_Down, Qt.KeyboardModifier.NoModifier, "", True)
        QApplication.sendEvent(up, again)
    assert len(orders) == 4
    units = mix.desk.system
    key(up, Qt.Key.Key_I)
    assert mix.desk.system != units
    key(up, Qt.Key.Key_I)
    told = up.grab().toImage()
    mix.desk.said.emit("Logged at 09:10: a note.")
    assert up.grab().toImage() == told, "that a weight was kept is no news here"
    mix.desk.said.emit("The disk is full.")
    assert up.grab().toImage() != told
    QTest.keyClick(up, Qt.Key.Key_L)
    typed(mix, " 2411 B ")
    assert weigher.at.lots[weigher.at.recipe.parts[0].name] == "2411 B"


def test_what_was_weighed_is_there_again_after_leaving(mix, weigher, qtbot):
    key(mix, Qt.Key.Key_Space)
    weigher.type_weight("500 g")
    qtbot.waitUntil(lambda: any(e.kind == "weighed" and e.build == "oldclaw" for e in mix.desk.log), timeout=60_000)
    key(mix, Qt.Key.Key_Escape)
    assert mix.benches.of("weigh_up").weigher is None
    key(mix, Qt.Key.Key_W)
    again = mix.benches.of("weigh_up").weigher
    assert again.at.weighing.cup[0] == pytest.approx(0.5)
    again.take_back()
    qtbot.waitUntil(lambda: mix.desk.log[-1].kind == "correction", timeout=60_000)
    assert not [e for e in standing(mix.desk.log) if e.kind == "weighed" and e.build == "oldclaw"]


def test_a_scale_that_will_not_go_to_nought_is_read_from_where_it_stands(mix, weigher):
    weigher.close()
    weigher.hear(99.0, Reading(0.2, True))
    key(mix, Qt.Key.Key_Space)
    for tenth in range(40):
        weigher.hear(100 + tenth / 10, Reading(0.2, True))
    assert not weigher.at.pan.zeroing
    weigher.hear(105.0, Reading(0.3, True))
    assert weigher.at.pan.kg == pytest.approx(0.1)
    weigher.hear(105.1, Reading(0.0, False, True))
    assert mix.benches.of("weigh_up")._reading(weigher) == "more than the scale bears"
