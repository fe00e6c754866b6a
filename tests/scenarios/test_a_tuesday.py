"""What a model-shop lead does on a Tuesday, in a real window on real files."""

import json
import subprocess
import sys

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus.core import specs
from homunculus.store.folder import decode
from tests.app.conftest import drag, key, open_window, own_settings, qapp, type_words, wait_until  # noqa: F401

pytestmark = pytest.mark.window


def test_drag_the_scale_type_a_thickness_undo_twice_save_and_reopen(open_window, folder, qtbot):  # noqa: F811
    window = open_window(folder)
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    desk = window.desk
    assert QApplication.platformName() == "xcb"

    # the lighthouse from 1:12 to 1:8: everything behind it moves, each with its why
    before = {s: desk.build_plan.find(s, **of).value for s, of in CHAIN}
    view = window.benches.of("scale").ladder()
    drag(window.benches.of("scale").spots.find("scale"), round(view.x_of(8.0) - view.x_of(12.0)))
    assert desk.build.scale == pytest.approx(8.0, abs=0.15)
    for spec, of in CHAIN:
        figure = desk.build_plan.find(spec, **of)
        assert figure.value != before[spec], spec.name
        desk.asked_why.emit(figure)
        told = window.why.told()
        assert told.formula
        assert told.inputs
        assert told.source
        window.why.fold_whole()
    dragged = desk.build.scale

    # a thickness, typed on the mould's section
    window.setFocus()
    key(window, Qt.Key.Key_4)
    wait_until(qtbot, lambda: not desk.runner.busy("field"), 30000)
    window.benches.of("mould").spots.find("decide:blanket_m:gallery").setFocus()
    key(window, Qt.Key.Key_1)
    line = window.findChild(QLineEdit, "typed")
    type_words(line, "/2 in")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert desk.decision("blanket_m:gallery").value == pytest.approx(0.0127)

    # undo twice, do the first again
    QApplication.processEvents()  # the line that was typed into goes
    key(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier, times=2)
    assert desk.build.scale == 12.0
    assert desk.decision("blanket_m:gallery").value == 0.010
    assert {s: desk.build_plan.find(s, **of).value for s, of in CHAIN} == before
    key(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert desk.build.scale == dragged

    # it is on the disk without being asked; the command line prints the same numbers
    wait_until(qtbot, lambda: decode((folder / "job.json").read_bytes(), "job.json").job == desk.job)
    shown = {(f.spec.name, str(f.subject)): f.value for f in desk.build_plan.figures if isinstance(f.value, float)}
    ran = subprocess.run([sys.executable, "-m", "homunculus", "figures", str(folder), "--json", "--build", "lighthouse"],
                         capture_output=True, text=True, check=True)  # fmt: skip
    printed = {(f["name"], f["subject"]): f["value"] for f in json.loads(ran.stdout)}
    assert {k: v for k, v in printed.items() if k in shown} == shown
    window.close()

    again = open_window(folder)
    assert again.desk.build.scale == dragged
    assert again.desk.session.last_pin.number == 1
    assert not again.desk.session.can_undo


CHAIN = (
    (specs.BUILD_RATE, {}), (specs.SPEED, {"shot": "2", "move": "ferry"}), (specs.RUBBER, {"piece": "gallery"}),
    (specs.BATCHES, {"piece": "gallery", "op": "rubber-1"}), (specs.OPENS, {"piece": "gallery", "op": "rubber-1"}), (specs.SLACK, {}),
)  # fmt: skip


def test_killed_while_working_everything_is_there_next_morning(folder, tmp_path):
    """The program as a process, killed without warning just after a change and a log entry were kept."""
    code = f"""
import os, signal, sys
from datetime import datetime
from pathlib import Path
from PySide6.QtCore import QTimer
from homunculus.app.start import make_window, make_application
app = make_application()
window = make_window(Path({str(folder)!r}), datetime(2026, 2, 24, 9, 10))
window.show()
desk = window.desk
desk.start()
desk.keeper.saved.connect(lambda: desk.write("note", "last words"))
desk.keeper.kept.connect(lambda entry: os.kill(os.getpid(), signal.SIGKILL))
QTimer.singleShot(0, lambda: desk.decide(desk.decision("scale"), 8.0))
QTimer.singleShot(20000, lambda: sys.exit(3))
app.exec()
"""
    ran = subprocess.run([sys.executable, "-c", code], check=False, capture_output=True, text=True)
    assert ran.returncode == -9, ran.stderr
    from homunculus import demo
    from homunculus.store.folder import JobFolder

    opened = JobFolder(folder, demo.REFERENCE_NOW)
    assert opened.job.build("lighthouse").scale == 8.0
    assert opened.log[-1].text == "last words"
    opened.close()
