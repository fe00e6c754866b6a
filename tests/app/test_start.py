"""Starting: what is imported, how an unforeseen error ends, that the binding does not leak."""

import gc
import json
import os
import subprocess
import sys
import time
import weakref
from datetime import date

import pytest
from PySide6.QtCore import Qt, QTimer
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QWidget

from homunculus.app.files import ask_for_folder, ask_to_read, ask_to_write
from homunculus.app.start import catch_the_unexpected, open_start
from homunculus.app.tidying import REST_S, THOROUGH, WORTH, Tidying
from homunculus.cli import main
from homunculus.core.errors import UserError
from homunculus.core.plan.facts import Want
from homunculus.store.folder import decode
from homunculus.store.new_job import new_job
from homunculus.store.places import data_home
from homunculus.store.recent import recent, remember
from tests.app.conftest import key, open_line, type_words, typed

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
    assert sorted(loaded & HEAVY) == []


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


# ------------------------------------------------------------------------------------------ which job
def test_jobs_that_were_open_lately_come_first_and_what_is_gone_is_not_offered(page, folder, tmp_path, now):
    assert recent() == ()
    own = new_job(tmp_path / "own", "Saltmarsh", now)
    for path in (folder, own, tmp_path / "gone", folder):
        remember(path)
    found = recent()
    assert [job.path for job in found] == [folder.resolve(), own.resolve()]
    assert (found[0].name, found[0].builds[0], found[1].builds) == ("The Drowned Lamp", "Lighthouse and breakwater", ())
    first = page()
    assert first.spots.focused().objectName() == "job:0"
    key(first, Qt.Key.Key_Down, times=3)
    key(first, Qt.Key.Key_Up, times=2)
    key(first, Qt.Key.Key_Return)
    assert first.took == [own.resolve()]
    first.jobs = [found[0]._replace(builds=tuple(builds)) for builds in ("abcd", "abcde")]
    four, five = (note for _, _, note, _ in first.rows()[:2])
    assert ("a, b, c, d" in four, "more" in four, "a, b, c, d and 1 more" in five) == (True, False, True)
    for i in range(30):
        remember(tmp_path / f"n{i}")
    (data_home() / "recent.json").write_bytes(b"[3")
    assert recent() == ()
    assert [row[0] for row in page().rows()] == ["new", "demo", "open"]


def test_a_new_job_is_made_on_its_sheet_by_keys_and_refused_with_a_reason(page, tmp_path):
    first = page(new=True)
    assert first.spots.focused().objectName() == "field:name"
    first.sheet["folder"] = str(tmp_path)
    key(first, Qt.Key.Key_Return)
    typed(first, "The walrus: choir")
    assert first.spots.focused().objectName() == "field:folder", "Enter goes on to the next line"
    for field, words in (("country", "XX"), ("rate", "25")):
        first.write(field)
        typed(first, words)
    first.write("units")
    first.spots.find("make").setFocus()
    key(first, Qt.Key.Key_Return)
    assert "no country" in first.words
    assert first.took == []
    assert not list(tmp_path.glob("The walrus*")), "what could not be made leaves nothing"
    first.write("country")
    typed(first, "PT")
    key(first, Qt.Key.Key_Down)
    first.make()
    [made] = first.took
    assert made == tmp_path / "The walrus- choir"
    job = decode((made / "job.json").read_bytes(), "job.json").job
    assert (job.name, job.shop.base_rate_fps, job.shop.hours.country, job.builds) == (
        "The walrus: choir",
        25.0,
        "PT",
        (),
    )
    assert date(2026, 12, 25) in job.shop.hours.days_off
    again = page(new=True)
    assert (again.sheet["units"], again.sheet["country"], again.said) == ("imperial", "PT", set()), (
        "beginnings are those of the last time"
    )
    again.sheet |= {"name": "The walrus: choir", "folder": str(tmp_path)}
    again.make()
    assert "something in that folder" in again.words
    key(again, Qt.Key.Key_Escape)
    assert again.sheet is None
    key(again, Qt.Key.Key_N, Qt.KeyboardModifier.ControlModifier)
    assert again.sheet is not None
    assert not again.grab().isNull()


def test_a_new_jobs_sheet_is_filled_by_just_typing_and_loses_nothing_typed(page, tmp_path):
    first = page(new=True)
    first.sheet["folder"] = str(tmp_path)
    type_words(first.spots.focused(), "S")
    line = first.findChild(QLineEdit, "typed")
    type_words(line, "tilt house")
    QTest.keyClick(line, Qt.Key.Key_Tab)
    assert (first.sheet["name"], first.spots.focused().objectName()) == ("Stilt house", "field:folder")
    rate = first.spots.find("field:rate")
    rate.setFocus()
    type_words(rate, "2")
    line = open_line(first)
    type_words(line, "5")
    first.spots.find("field:zone").setFocus(Qt.FocusReason.MouseFocusReason)
    assert first.sheet["rate"] == "25", "a press elsewhere keeps what was typed"
    key(first, Qt.Key.Key_Escape)
    first.begin()
    assert first.sheet["name"] == "Stilt house", "a sheet that was left stands there again"
    key(first, Qt.Key.Key_Return)
    assert first.took == [tmp_path / "Stilt house"], "Enter makes it once it has a name"
    other = page(new=True)
    other.spots.find("field:zone").setFocus()
    type_words(other.spots.focused(), "E")
    QTest.keyClick(open_line(other), Qt.Key.Key_Return)
    assert other.spots.focused().objectName() == "field:units", "the next line has the keyboard"


def test_without_a_folder_the_program_asks_which_job_once_there_is_one(folder, monkeypatch, tmp_path):
    asked = []
    monkeypatch.setattr("homunculus.app.start.open_start", lambda *a, **k: asked.append(("start", k)) or 0)
    monkeypatch.setattr("homunculus.app.start.open_window", lambda path, **_: asked.append(path.name) or 0)
    assert main([]) == 0
    remember(folder)
    assert main([]) == 0
    assert main(["start", "--new"]) == 0
    assert asked == ["the-drowned-lamp", ("start", {"new": False}), ("start", {"new": True})]


def test_what_is_chosen_at_the_start_is_opened_in_the_colours_asked_for_or_it_is_said_why_not(
    qapp, folder, monkeypatch, tmp_path, now
):
    pages, shown = [], []
    monkeypatch.setattr("homunculus.app.start._run", lambda _: len(pages))
    monkeypatch.setattr("homunculus.app.start._show", lambda *given: folder_there(given[0]) and shown.append(given))
    monkeypatch.setattr("homunculus.app.start_page.StartPage.show", lambda page: pages.append(page))
    monkeypatch.setattr("homunculus.app.start.demo.open_copy", lambda day: folder_there(folder / f"{day}"))
    for theme, named in ((None, "plaster"), ("stage", "stage")):
        assert open_start(now, theme) == len(pages)
        assert pages[-1].theme.name == named
    page = pages[-1]
    page.chosen.emit(tmp_path / "gone")
    page.asked_demo.emit()
    assert (page.words, shown) == (f"There is no {now.date()}.", [])
    page.chosen.emit(folder)
    assert shown == [(folder, now, "stage")]
    for page in pages:
        page.close()


def folder_there(path):
    if not path.is_dir():
        raise UserError(f"There is no {path.name}")
    return path


def test_questions_for_files_begin_where_the_last_of_their_kind_was(window, tmp_path, monkeypatch):
    from PySide6.QtWidgets import QFileDialog

    begun = []
    there = tmp_path / "scans"
    there.mkdir()

    def read(_parent, _title, folder, _filters):
        begun.append(folder)
        return str(there / "x.stl"), ""

    monkeypatch.setattr(QFileDialog, "getOpenFileName", read)
    assert ask_to_read(window, "a mesh", "mesh", "*") == there / "x.stl"
    ask_to_read(window, "a picture", "picture", "*")
    ask_to_read(window, "a mesh", "mesh", "*")
    assert begun == ["", "", str(there)], "each kind has a folder of its own"
    monkeypatch.setattr(
        QFileDialog,
        "getSaveFileName",
        lambda _p, _t, name, _f: (begun.append(name), (str(there / "log.csv"), "CSV"))[1],
    )
    assert ask_to_write(window, "the log", "log", "log.csv", "CSV") == (there / "log.csv", "CSV")
    ask_to_write(window, "the log", "log", "log.csv", "CSV")
    assert begun[-2:] == ["log.csv", str(there / "log.csv")]
    there.rename(tmp_path / "gone")
    ask_to_read(window, "a mesh", "mesh", "*")
    assert begun[-1] == "", "a folder that is gone is not asked for"
    monkeypatch.setattr(QFileDialog, "getExistingDirectory", lambda _p, _t, folder: (begun.append(folder), "")[1])
    assert ask_for_folder(window, "a job", "job", "/usual") is None
    assert begun[-1] == "/usual"


class Knot:
    """Something that holds itself, so that only the collector lets it go."""

    def __init__(self):
        self.own = self


@pytest.fixture
def thawed():
    """What was frozen meanwhile is no longer, once the window of the test is gone."""
    yield
    gc.unfreeze()
    gc.collect()
    gc.freeze()


def test_what_holds_itself_is_let_go_at_rest_and_never_during_a_drag(thawed, window, monkeypatch):
    now = [100.0]
    tidying = Tidying(window.desk, lambda: now[0])
    left = weakref.ref(Knot())
    heap = [[] for _ in range(WORTH + 100)]
    now[0] += REST_S / 2
    window.desk.changed.emit()
    now[0] += REST_S / 2
    tidying.look()
    assert left() is not None, "an edit was made just now"
    now[0] += REST_S
    window.desk.grasp()
    tidying.look()
    assert left() is not None, "something is held"
    window.desk.gesture = None
    tidying.look()
    assert left() is None
    assert gc.get_count()[0] < WORTH < len(heap)
    more, walked = [[] for _ in range(WORTH + 100)], []
    with monkeypatch.context() as patch:
        patch.setattr("gc.collect", walked.append)
        for _ in range(THOROUGH):
            tidying.look()
    assert sorted(walked) == [1] * (THOROUGH - 1) + [2], "now and then all of it is walked"
    assert len(more) > WORTH
    heap, left = [[] for _ in range(WORTH + 100)], weakref.ref(Knot())
    window.desk.closed = True
    tidying.look()
    assert heap
    assert left() is not None, "somebody may work at another desk"
    window.desk.closed = False
