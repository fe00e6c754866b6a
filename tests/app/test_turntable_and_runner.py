"""The turntable shows the form as it is, and slow work on meshes can be left, fails in a sentence, and waits its turn."""

import math
import threading
import time

import pytest
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QImage, QPainter
from PySide6.QtWidgets import QApplication

from homunculus.app.drawing.turntable import Turntable
from homunculus.app.runner import Runner
from homunculus.app.theme import load_themes
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.form.field import make_field, triangles_of
from homunculus.core.job.forms import Box, Sphere
from homunculus.core.plan.facts import Want
from homunculus.exchange.apart import read_apart
from homunculus.exchange.mesh_files import unit_of
from tests.app.conftest import drop, key, wait_until

SIDE = 160


@pytest.fixture(scope="module")
def themes(qapp):
    return load_themes()


def pictured(themes, table, field, offset=9.0, angle=0.0):
    image = QImage(SIDE, SIDE, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    table.draw(Ink(painter, themes["plaster"]), QRectF(0, 0, SIDE, SIDE), field, offset, angle)
    painter.end()
    theme = themes["plaster"]
    mark = theme.colour("decide").rgb()
    clay = marked = 0
    for x in range(SIDE):
        for y in range(SIDE):
            colour = image.pixelColor(x, y)
            marked += colour.rgb() == mark
            warm = colour.red() - colour.blue()
            clay += warm > 12
    return clay, marked


@pytest.fixture(scope="module")
def ball():
    return make_field(triangles_of(Sphere(0.2)), reach=0.03, points=60_000)


@pytest.fixture(scope="module")
def brick():
    return make_field(triangles_of(Box(0.4, 0.1, 0.1)), reach=0.03, points=80_000)


def test_a_ball_is_the_same_disc_from_every_side(themes, ball):
    table, seen = Turntable(), []
    for yaw in (0.0, 0.7, 2.0, 4.4):
        table.yaw, table.tilt = yaw, 0.0
        seen.append(pictured(themes, table, ball)[0])
    assert max(seen) / min(seen) < 1.03
    radius = math.sqrt(seen[0] / math.pi)
    assert 0.40 * SIDE < 2 * radius < SIDE


def test_a_brick_is_long_from_its_side_and_short_from_its_end(themes, brick):
    table = Turntable()
    table.tilt = 0.0
    table.yaw = 0.0
    side = pictured(themes, table, brick)[0]
    table.turn(math.pi / 2)
    end = pictured(themes, table, brick)[0]
    assert side / end == pytest.approx(4.0, rel=0.2)
    table.turn(0.0, 9.0)
    assert table.tilt == pytest.approx(math.pi / 2), "it never tips over"


def test_the_cut_is_marked_where_the_plane_goes_through_and_nowhere_when_it_passes_by(themes, ball):
    table = Turntable()
    table.yaw, table.tilt = 0.6, 0.4
    assert pictured(themes, table, ball, offset=0.5)[1] == 0
    middle, turned = (pictured(themes, table, ball, offset=0.0, angle=a)[1] for a in (0.0, math.pi / 2))
    assert middle > 100
    assert turned > 100
    whole = pictured(themes, table, ball, offset=0.5)[0]
    assert pictured(themes, table, ball, offset=0.0)[0] == pytest.approx(whole, rel=0.02), "the mark lies on the form"


# ------------------------------------------------------------------------------------------- the runner
@pytest.fixture
def runner(qapp):
    made = Runner()
    yield made
    made.close()


def test_nothing_is_refused_while_something_runs_and_each_lane_keeps_its_order(runner, qtbot):
    gate, brought = threading.Event(), []
    runner.begin("first", lambda: gate.wait(10) and "first", brought.append)
    runner.begin("second", lambda: "second", brought.append)
    runner.want(Want("study", "a", "ball"), lambda _: "study", brought.append, told=True)
    runner.want(Want("study", "a", "ball"), lambda _: "study once more", brought.append, told=True)
    wait_until(qtbot, lambda: brought == ["study"])  # another lane does not wait
    assert runner.busy("file")
    gate.set()
    wait_until(qtbot, lambda: brought == ["study", "first", "second"])
    assert not runner.busy()


def test_what_is_stopped_brings_nothing_running_or_waiting_and_says_so_once(runner, qtbot):
    gate, brought, said, told = threading.Event(), [], [], []
    runner.said.connect(said.append)
    runner.working.connect(lambda words, share: told.append((words, share)))

    def study(progress):
        gate.wait(10)
        progress(0.4, "closing in")
        return "study"

    runner.begin("reading", lambda: gate.wait(10) and "read", brought.append)
    runner.begin("reading more", lambda: "more", brought.append)
    runner.want(Want("study", "a", "ball"), study, brought.append, told=True)
    runner.want(Want("field", "b", "box"), lambda _: gate.wait(10) and "field", brought.append, told=False)
    runner.stop()
    assert [runner.busy(lane) for lane in ("file", "study", "field")] == [False, False, True]
    gate.set()
    wait_until(qtbot, lambda: brought == ["field"])  # nobody sees it, so nobody meant it
    wait_until(qtbot, lambda: not runner.busy())
    QApplication.processEvents()
    assert brought == ["field"]
    assert said == ["The study of ball was stopped, and nothing was changed. Drop its file again to have it made."]
    assert told[-1] == ("", 1.0)
    runner.begin("after", lambda: "after", brought.append)
    wait_until(qtbot, lambda: brought[-1] == "after")


def sleeps(_data, _name):
    """What a process of its own does that reads for ever."""
    time.sleep(60)


def test_what_reads_in_a_process_of_its_own_ends_with_its_task_and_the_next_does_not_wait(runner, qtbot):
    brought, begun = [], threading.Event()

    def read():
        begun.set()
        return read_apart(f"{__name__}:sleeps", b"", "slow.step", "Export it again", seconds=60)

    before = time.monotonic()
    runner.begin("reading slow.step", read, brought.append)
    assert begun.wait(10)
    runner.begin("reading on", lambda: "read", brought.append)
    wait_until(qtbot, lambda: runner._running["file"].words == "reading slow.step")
    with runner._lock:  # the first alone: what waits is wanted still
        runner._running["file"].stopped.set()
    wait_until(qtbot, lambda: brought == ["read"])
    assert time.monotonic() - before < 20


def test_what_works_tells_how_far_it_is_where_somebody_sees_it_and_is_never_done_before_it_is(runner, qtbot):
    told, brought = [], []
    runner.working.connect(lambda words, share: told.append((words, share)))

    def study(progress):
        progress(0.25, "faces")
        progress(1.0, "faces")
        return "study"

    runner.want(Want("field", "b", "box"), study, brought.append, told=False)
    runner.want(Want("study", "a", "ball"), study, brought.append, told=True)
    wait_until(qtbot, lambda: brought == ["study", "study"])
    QApplication.processEvents()
    assert [row for row in told if "faces" in row[0]] == [("ball: faces", 0.25), ("ball: faces", 0.99)]
    assert told[0][1] == 0.0
    runner.begin("reading", lambda: "read", brought.append)
    wait_until(qtbot, lambda: brought[-1] == "read")
    assert ("reading", 0.5) in told, "nobody knows how far a reading is"


def test_work_that_fails_says_so_in_a_sentence_and_the_next_goes_on(runner, qtbot):
    said, brought = [], []
    runner.said.connect(said.append)

    def fail():
        raise UserError("It is torn", "sculpt.obj", "Export it again")

    runner.begin("a", fail, brought.append)
    runner.begin("b", lambda: 1 / 0, brought.append)
    runner.begin("c", lambda: "c", brought.append)
    wait_until(qtbot, lambda: brought == ["c"])
    assert "It is torn" in said[0]
    assert "nobody foresaw" in said[1]
    assert "ZeroDivisionError" in said[1]


@pytest.mark.parametrize(("typed", "metres"), [("mm", 0.001), (" IN ", 0.0254), ("ft.", 0.3048), ("m", 1.0)])
def test_a_unit_is_read_as_it_is_typed(typed, metres):
    assert unit_of(typed) == metres


def test_what_is_no_mesh_changes_nothing_and_a_logger_that_is_dropped_goes_into_the_log(window, qtbot, tmp_path):
    job = window.desk.job
    (tmp_path / "sculpt.obj").write_text("v 0 0 zero\nf 1 2 3\n")
    drop(window, tmp_path / "sculpt.obj")
    wait_until(qtbot, lambda: "sculpt.obj" in window.notice.words and "Reading" not in window.notice.words, 20000)
    assert window.desk.job is job
    (tmp_path / "night.csv").write_text("".join(f"2026-02-23 {h:02d}:00,{10 + h / 10}\n" for h in range(18, 24)))
    drop(window, tmp_path / "night.csv")
    wait_until(qtbot, lambda: window.desk.log[-1].kind == "measured")
    assert window.desk.log[-1].text == "night.csv: 6 readings"
    drop(window, tmp_path / "cast.pdf")
    assert window.desk.job is job


def test_a_reading_that_is_stopped_asks_nothing(window, qtbot, tmp_path, monkeypatch):
    gate = threading.Event()

    def too_late(*_):
        gate.wait(10)
        raise ZeroDivisionError

    monkeypatch.setattr("homunculus.exchange.mesh_files.read_any", too_late)
    (tmp_path / "large.stl").write_bytes(b"solid")
    drop(window, tmp_path / "large.stl")
    wait_until(qtbot, lambda: window.notice.spots.find("cancel") is not None)
    window.notice.spots.find("cancel").act()
    assert "Nothing was changed" in window.notice.words
    monkeypatch.setattr(
        "homunculus.exchange.mesh_files.read_any", lambda *_: (_ for _ in ()).throw(UserError("too late"))
    )
    gate.set()
    wait_until(qtbot, lambda: not window.desk.runner.busy("file"))
    QApplication.processEvents()
    key(window, Qt.Key.Key_U)
    assert "no change to go back on" in window.notice.words


def test_what_still_waits_is_told_when_another_ends(runner, qtbot):
    first, second, told, brought = threading.Event(), threading.Event(), [], []
    runner.working.connect(lambda words, share: told.append((words, share)))
    runner.begin("reading", lambda: first.wait(10), brought.append)
    runner.begin("reading on", lambda: second.wait(10), brought.append)
    runner.want(Want("field", "b", "box"), lambda _: "unseen", brought.append, told=False)
    wait_until(qtbot, lambda: "unseen" in brought)
    first.set()
    wait_until(qtbot, lambda: len(brought) == 2)
    QApplication.processEvents()
    assert told[-1] == ("reading on", 0.5)
    second.set()
    wait_until(qtbot, lambda: len(brought) == 3)
    assert told[-1] == ("", 1.0)
