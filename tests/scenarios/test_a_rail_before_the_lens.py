"""A shot of a job made from nothing, in a real window: it cannot be held, says what would free it, and one pull of the mouse does it."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from homunculus.core import specs
from homunculus.core.planners.lens import verdict_of
from homunculus.store.new_job import new_job
from tests.app.conftest import key, open_window, own_settings, pressed_by_key, qapp, typed_by_keys, wait_until  # noqa: F401

pytestmark = pytest.mark.window


def test_a_rail_too_near_is_pulled_out_until_the_focus_holds(open_window, tmp_path, now, qtbot):  # noqa: F811
    new_job(tmp_path / "job", "The harbour wall", now)
    window = open_window(tmp_path / "job")
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    desk = window.desk
    assert QApplication.platformName() == "xcb"
    assert desk.do("build miniature: Harbour wall, 6 m high, 1:12")
    desk.choose(desk.job.builds[0].id)

    # the shot, its camera, and what stands before it, by keys
    key(window, Qt.Key.Key_3)
    bench = window.benches.of("lens")
    pressed_by_key(bench, "empty")
    pressed_by_key(bench, "empty")
    at = desk.breakdown.shot.id
    bench.spots.find("hold:end:far").setFocus()
    key(window, Qt.Key.Key_Delete)
    pressed_by_key(bench, "waiting:0")
    typed_by_keys(window, "looks 30 m")
    pressed_by_key(bench, "add")
    typed_by_keys(window, "iron rail: stock: rail, stands 0.5 m")
    assert verdict_of(desk.plan.sets[at], "") == "cannot"
    assert {way.key for way in bench.ways() if way.holds} >= {"alone", "moved", "lens"}

    # one pull of the mouse
    handle = bench.spots.find("hold:place:1")
    start = handle.rect().center()
    along = round((2.0 - 0.5) * bench.side().px)
    QTest.mousePress(handle, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for moved in (1, *(along * part // 10 for part in range(1, 11))):
        QTest.mouseMove(handle, start + QPoint(moved, 0))
        QApplication.processEvents()
    QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(along, 0))
    found = desk.plan.sets[at]
    assert next(p for p in found.planes if p.name == "iron rail").at.number == pytest.approx(2.0, abs=0.03)
    assert verdict_of(found, "") == "holds"
    assert not bench.ways()
    assert found.find(specs.RATE).value == 84.0

    # and its light, its card, and back
    key(window, Qt.Key.Key_W)
    assert bench.light.headlines(found)
    bench.write_pdf(tmp_path / "card.pdf", (desk.breakdown.shot,))
    assert (tmp_path / "card.pdf").read_bytes().startswith(b"%PDF")
    key(window, Qt.Key.Key_W)
    key(window, Qt.Key.Key_U)
    assert verdict_of(desk.plan.sets[at], "") == "cannot", "all of the pull is one step"
