"""From the script's shot to floor marks, moves and cues, in a real window and from nothing: a betrayal seen and cured, a tow refused and mended, cards printed."""

import csv

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from homunculus.core import specs
from homunculus.core.why import phrase
from homunculus.store.folder import JobFolder
from homunculus.store.new_job import new_job
from tests.app.conftest import key, open_window, own_settings, pressed_by_key, qapp, typed_by_keys, wait_until  # noqa: F401

pytestmark = pytest.mark.window


def pull(bench, spot, along=0, up=0):
    """Pull with the mouse, in ten moves."""
    handle = bench.spots.find(spot)
    start = handle.rect().center()
    QTest.mousePress(handle, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start)
    for part in range(11):
        QTest.mouseMove(handle, start + QPoint(round(along * part / 10) + (part == 0), round(-up * part / 10)))
        QApplication.processEvents()
    QTest.mouseRelease(
        handle, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier, start + QPoint(round(along), round(-up))
    )
    QApplication.processEvents()


def test_a_harbour_is_laid_in_depth_towed_through_and_taken_to_the_floor(open_window, tmp_path, now, qtbot):  # noqa: F811
    new_job(tmp_path / "job", "The harbour wall", now)
    window = open_window(tmp_path / "job")
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    desk = window.desk
    assert QApplication.platformName() == "xcb"
    assert desk.do("build miniature: Harbour wall, 12 m high, 1:12")
    assert desk.do("build miniature: Lugger, 14 m, 1:24")
    desk.choose(desk.job.builds[0].id)

    # planes, by keys: the shot, its camera, the wall, the boat, a painted sea behind
    key(window, Qt.Key.Key_3)
    key(window, Qt.Key.Key_S)
    stage = window.benches.of("stage")
    pressed_by_key(stage, "empty")
    pressed_by_key(stage, "empty")
    at = desk.breakdown.shot.id
    pressed_by_key(stage, "empty")  # where the wall stands
    typed_by_keys(window, "stands 3.4 m")
    pressed_by_key(stage, "add")
    typed_by_keys(window, "lugger: lugger, stands 4.5 m, 0.3 m left")
    pressed_by_key(stage, "add")
    typed_by_keys(window, "sea behind: stock: painted cloth, stands 6 m, at 1:72, 300 m wide, 30 m high")
    planes = {p.name: p for p in desk.plan.sets[at].planes}
    assert set(planes) == {"Harbour wall", "lugger", "sea behind"}
    shown = stage.stage()
    assert shown.find(specs.PLANE_LOOKS, use="sea behind").number == pytest.approx(432.0)

    # one pull of the mouse in plan, and back
    px = stage.floor_view(shown).px
    sea = planes["sea behind"].need
    pull(stage, f"plan:{sea}", along=-0.5 * px)
    assert next(p for p in desk.plan.sets[at].planes if p.need == sea).at.number == pytest.approx(5.5, abs=0.03)
    key(window, Qt.Key.Key_U)
    assert next(p for p in desk.plan.sets[at].planes if p.need == sea).at.number == 6.0

    # the camera slides: the first plane that tells is named; the boat at the wall's own scale, and less of a slide, cure it
    key(window, Qt.Key.Key_A)
    moves = window.benches.of("moves")
    pressed_by_key(moves, "more:camera")
    typed_by_keys(window, "camera slider: 20 mm right, for 2 s")
    said = [phrase(m.headline) for m in desk.build_plan.minds if "betrays" in phrase(m.headline)]
    assert len(said) == 1
    free = stage.stage().seen(specs.SIDEWAYS, "sea behind").number
    assert desk.do(f"action {at}/slider: camera slider: {free * 900:.2f} mm right, for 2 s")
    assert desk.do("set builds/lugger/scale 1:12")
    assert not [m for m in desk.build_plan.minds if "betrays" in phrase(m.headline)]

    # a tow: refused as it is, its run-up is lengthened by one pull of the mouse
    pressed_by_key(moves, "more:travel")
    typed_by_keys(window, "travel tow: of lugger, 5 m/s real, run-up 30 mm, weighs 18 kg, tie tow eye bears 200 N / 5")
    tow = next(i for i, action in enumerate(desk.breakdown.shot.actions) if action.name == "tow")
    made = desk.plan.build("lugger")
    assert any("pulls too hard" in phrase(m.headline) for m in made.minds)
    least = made.find(specs.LEAST_RUN_UP, shot=at, move="tow").number
    pressed_by_key(moves, f"choose:{tow}")
    for _ in range(6):
        pull(moves, "value:run_up_m", up=200)
        if desk.breakdown.shot.actions[tow].run_up_m >= least:
            break
    assert desk.breakdown.shot.actions[tow].run_up_m >= least
    assert not any("pulls too hard" in phrase(m.headline) for m in desk.plan.build("lugger").minds)
    pressed_by_key(moves, "more:cues")
    typed_by_keys(window, "cues lamps: of lugger, 8 cues, along 0.8 m, for 2 s")
    moves.spots.find("play").act()
    wait_until(qtbot, lambda: moves.at_s > 0.2)
    moves.spots.find("play").act()

    # the card, and all on paper
    key(window, Qt.Key.Key_C)
    card = window.benches.of("card")
    pressed_by_key(card, "add-stand")
    typed_by_keys(window, "lens stand: A 2.31 m, B 3.02 m")
    pressed_by_key(card, "found:lens stand")
    typed_by_keys(window, "2.36 m, 3.02 m by the grip")
    assert any("has moved" in phrase(m.headline) for m in card.stage().minds)
    card.write_card(tmp_path / "card.pdf")
    moves.write_cues(tmp_path / "cues.csv")
    stage.write_plan(tmp_path / "plan.dxf")
    wait_until(qtbot, lambda: (tmp_path / "plan.dxf").is_file())
    assert (tmp_path / "card.pdf").read_bytes().startswith(b"%PDF")
    rows = [
        row for row in csv.DictReader((tmp_path / "cues.csv").read_text("utf-8").splitlines()) if row["of"] == "lamps"
    ]
    assert len(rows) == 8

    # all of it is there after a power cut
    window.save()
    window.desk.keeper.settle() if hasattr(window.desk.keeper, "settle") else None
    wait_until(qtbot, lambda: b"lens stand" in (tmp_path / "job" / "job.json").read_bytes())
    job = desk.job
    window.close()
    opened = JobFolder(tmp_path / "job", now)
    assert opened.job == job
    opened.close()
