"""Starting: what is imported, how an unforeseen error ends, that the binding does not leak."""

import json
import os
import subprocess
import sys
import time

import pytest
from PySide6.QtCore import QTimer
from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.start import catch_the_unexpected
from homunculus.core.plan.facts import Want

HEAVY = {"numpy", "scipy", "contourpy", "trimesh", "manifold3d", "pint", "pydantic"}


def test_the_window_comes_up_without_anything_heavy(folder):
    code = (
        "import sys, json; from pathlib import Path; from datetime import datetime;"
        "from homunculus.app.start import make_window; from PySide6.QtWidgets import QApplication;"
        f"w = make_window(Path({str(folder)!r}), datetime(2026, 2, 24, 9, 10)); w.show(); w.desk.start();"
        "QApplication.processEvents(); w.close(); print(json.dumps(sorted(sys.modules)))"
    )
    env = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    ran = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, env=env)
    loaded = {name.partition(".")[0] for name in json.loads(ran.stdout.splitlines()[-1])}
    assert not loaded & HEAVY


def test_an_unforeseen_error_saves_the_job_then_says_so(window, monkeypatch):
    monkeypatch.setattr(sys, "excepthook", sys.excepthook)
    catch_the_unexpected(window)
    window.desk.decide(window.desk.decision("scale"), 9.0)
    try:
        raise RuntimeError("nobody thought of this")
    except RuntimeError as trouble:
        sys.excepthook(type(trouble), trouble, trouble.__traceback__)
    assert "The job is saved" in window.notice.words
    assert b'"scale": 9.0' in (window.desk.folder.path / "job.json").read_bytes()
    assert "nobody thought of this" in (window.desk.folder.path / "trouble.txt").read_text()


def test_an_error_while_painting_does_not_take_the_program_down(window, capfd):
    def broken(_ink):
        raise RuntimeError("in the middle of a drawing")

    whole = window.ledger.draw
    window.ledger.draw = broken
    window.ledger.update()
    with pytest.raises(RuntimeError, match="drawing"):
        window.ledger.grab()
    window.ledger.draw = whole
    assert not window.ledger.grab().isNull()


def test_void_calls_do_not_eat_references(qapp):
    """A binding that drops a reference to None with every void call aborts after some thousand of them."""
    widget, before = QWidget(), sys.getrefcount(None)
    for _ in range(2000):
        widget.update()
    assert sys.getrefcount(None) > before - 100
    widget.deleteLater()


def test_the_interface_thread_goes_on_while_a_mesh_is_studied(window, qtbot):
    content = next(iter(window.desk.session.facts))
    gaps, last = [], [time.perf_counter()]

    def beat():
        now = time.perf_counter()
        gaps.append(now - last[0])
        last[0] = now

    timer = QTimer(window, interval=10)
    timer.timeout.connect(beat)
    timer.start()
    window.desk.meshes.study(Want("study", content, "again.stl"))
    qtbot.waitUntil(lambda: not window.desk.runner.busy("study"), timeout=60000)
    timer.stop()
    QApplication.processEvents()
    assert sorted(gaps)[int(len(gaps) * 0.9)] < 0.25
