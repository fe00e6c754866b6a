"""A mould maker's afternoon and the morning after, in a real window, with a practice scale on a line of its own."""

from datetime import timedelta

import pytest
import trimesh
from PySide6.QtCore import QMimeData, QPoint, Qt, QUrl
from PySide6.QtGui import QDropEvent
from PySide6.QtWidgets import QLineEdit

from homunculus.core import specs
from homunculus.core.showing import show
from tests.app.conftest import key, open_window, own_settings, qapp, typed, wait_until  # noqa: F401

pytestmark = pytest.mark.window


def answered(window, qtbot, words):
    wait_until(qtbot, lambda: any(line.isVisible() for line in window.findChildren(QLineEdit, "typed")))
    typed(window, words)


def pour(window, qtbot, grams):
    weigher = window.benches.of("weigh_up").weigher
    before = weigher.at.weighing
    wait_until(qtbot, lambda: not weigher.at.pan.zeroing, 60_000)
    weigher.order(f"add {grams:.1f}")
    wait_until(qtbot, lambda: weigher.at.weighing is not before, 60_000)


def test_a_mesh_dropped_ten_millimetres_set_weighed_saved_closed_and_compared(open_window, folder, qtbot, tmp_path):  # noqa: F811
    window = open_window(folder)
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    desk = window.desk
    desk.choose("oldclaw")
    key(window, Qt.Key.Key_4)

    # a mesh is dropped in; its unit is guessed and said, Enter takes it
    mesh = tmp_path / "crab-again.obj"
    mesh.write_text(trimesh.creation.icosphere(subdivisions=4, radius=200).export(file_type="obj"))
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(mesh))])
    window.dropEvent(QDropEvent(QPoint(600, 400), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
                                Qt.KeyboardModifier.NoModifier))  # fmt: skip
    wait_until(qtbot, lambda: "Which unit?" in window.notice.words, 120_000)
    assert "In mm it is 400\N{NO-BREAK SPACE}mm long" in window.notice.words
    answered(window, qtbot, "")
    wait_until(qtbot, lambda: desk.build_plan.find(specs.RUBBER, "crab") is not None, 300_000)

    # ten millimetres of rubber on its section
    bench = window.benches.of("mould")
    bench.show_piece("crab")
    wait_until(qtbot, lambda: bench.section(bench.piece()).ready, 120_000)
    bench.type_value("blanket_m:crab")
    answered(window, qtbot, "10 mm")
    ball = 4 / 3 * 3.14159265 * (0.060**3 - 0.050**3)  # as built, at 1:4
    assert desk.build_plan.find(specs.BLANKET, "crab").number == pytest.approx(ball, rel=0.01)

    # weighed with nothing but the space bar; A goes over and B follows it
    window.setFocus()
    key(window, Qt.Key.Key_5)
    window.benches.of("mix").spots.find("pour:rubber-1").act()  # the jacket is laid up already
    key(window, Qt.Key.Key_W)
    weigher = window.benches.of("weigh_up").weigher
    assert weigher.at.recipe.batches == 1
    wait_until(qtbot, lambda: weigher.at.pan.heard, 60_000)
    asked = [t * 1000 for t in weigher.at.weighing.targets]
    key(window, Qt.Key.Key_Space)
    pour(window, qtbot, asked[0] + 15)
    saved = weigher.at.weighing.targets[1] * 1000
    assert saved == pytest.approx(asked[1] * (asked[0] + 15) / asked[0], abs=0.02)
    assert not window.benches.of("weigh_up").grab().isNull()
    pour(window, qtbot, saved)
    key(window, Qt.Key.Key_Space)
    wait_until(qtbot, lambda: any(b.piece == "crab" and not b.planned for b in desk.status.bars), 10000)

    # the lid is closed, and it says when it opens given tonight's cold
    bar = next(b for b in desk.status.bars if b.piece == "crab" and not b.planned)
    assert bar.opens - bar.start > timedelta(hours=20)  # sixteen by the book
    assert window.benches.of("weigh_up").isHidden()
    key(window, Qt.Key.Key_6)
    assert window.benches.of("cure").course().poured
    window.close()

    # next morning it is opened before its time, and the log says by how much
    again = open_window(folder)
    again.activateWindow()
    wait_until(qtbot, again.isActiveWindow)
    again.desk._frozen = bar.opens - timedelta(hours=2)
    again.desk._tick()
    key(again, Qt.Key.Key_L)
    index = next(i for i, e in enumerate(again.benches.of("log").rows()) if e.kind == "poured" and e.piece == "crab")
    again.benches.of("log").list.choose(index)
    key(again, Qt.Key.Key_O)
    answered(again, qtbot, "")
    wait_until(qtbot, lambda: again.desk.log[-1].kind == "opened", 5000)
    told = again.benches.of("log").promise(again.desk.log[-1])
    assert told.late_s == pytest.approx(-7200, abs=90)
    assert f"{show(-told.late_s, 'duration')} before the promised" in again.benches.of("log")._spoken(
        again.benches.of("log").rows()[0]
    )
    weights = next(e for e in again.desk.log if e.kind == "poured" and e.piece == "crab").weights_kg
    assert weights["A"] * 1000 == pytest.approx(asked[0] + 15, abs=0.11)
