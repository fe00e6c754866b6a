"""Tracing in the window: pictures dropped, a length known, points pressed, pulled and taken back, by mouse and by keys alone."""

import math

import pytest
from PySide6.QtCore import QPoint, QRectF, Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QTest

from homunculus.app.benches.trace.brightness import Brightness
from homunculus.core.form.measure import measure
from homunculus.core.job.build import piece_of
from tests.app.conftest import drop, key, open_line, pressed_by_key, typed

SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400"><rect width="400" height="400" fill="white"/>
<rect x="100" y="50" width="200" height="300" fill="black"/></svg>"""


def drawn(path, ellipse):
    """A dark oval on light ground, as a PNG."""
    image = QImage(400, 300, QImage.Format.Format_RGB32)
    image.fill(QColor("#dddddd"))
    painter = QPainter(image)
    painter.setBrush(QColor("#333333"))
    painter.setPen(Qt.PenStyle.NoPen)
    painter.drawEllipse(ellipse)
    painter.end()
    image.save(str(path))
    return path


@pytest.fixture
def bench(window):
    window.desk.choose("ferry")
    window.desk.piece_id = "wheelhouse"
    window.benches.open("trace")
    return window.benches.of("trace")


def laid(window, bench, qtbot, path):
    drop(window, path)
    qtbot.waitUntil(lambda: bench.tracing.view() is not None, timeout=60_000)


def press(bench, x, y):
    at = bench.on_bench((x, y))
    QTest.mouseClick(
        bench, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ShiftModifier, QPoint(round(at.x()), round(at.y()))
    )


def form(window):
    return measure(piece_of(window.desk.build, "wheelhouse").form, {})


def test_a_photograph_is_dropped_and_traced_by_mouse_and_every_step_goes_back(window, bench, qtbot, tmp_path):
    before = window.desk.job
    laid(window, bench, qtbot, drawn(tmp_path / "oval.png", QRectF(100, 50, 200, 200)))
    assert (window.desk.folder.path / "pictures" / bench.tracing.view().picture).exists(), "kept in the job by content"
    press(bench, 100, 280)
    press(bench, 300, 280)
    typed(window, "2 m")
    assert bench.tracing.view().known_m == 2
    for i in range(48):
        angle = 2 * math.pi * i / 48
        at = bench.on_bench((200 + 100 * math.cos(angle), 150 + 100 * math.sin(angle)))
        bench.press(bench.in_picture(at), free=True)
    key(window, Qt.Key.Key_Backspace)
    assert len(bench.tracing.view().outline) == 47
    size = form(window).size
    bench.spots.find("close").act()
    assert form(window).volume == pytest.approx(math.pi / 6 * 2**3, rel=0.02)
    assert not bench.grab().isNull()
    handle = bench.spots.find("point:0")
    handle.pressed.emit()
    handle.dragged.emit(bench.on_bench((330, 150)))
    handle.dragged.emit(bench.on_bench((350, 150)))
    handle.released.emit()
    assert form(window).size[0] > 2.3, "the form follows while it is pulled"
    key(window, Qt.Key.Key_U)
    assert form(window).volume == pytest.approx(math.pi / 6 * 2**3, rel=0.02)
    press(bench, 20, 20)
    assert "closed" in window.notice.words
    for _ in range(60):
        window.desk.undo()
    assert window.desk.job == before
    assert form(window).size == size


def test_a_drawing_of_lines_is_traced_by_keys_alone_and_from_the_side(window, bench, qtbot, tmp_path):
    front = tmp_path / "front.svg"
    front.write_bytes(SVG)
    laid(window, bench, qtbot, front)
    bench.setFocus()
    bench.tracing.cross = (400.0, 1500.0)  # a sheet of 1600 pixels
    key(window, Qt.Key.Key_Insert)
    key(window, Qt.Key.Key_Right, times=80)
    key(window, Qt.Key.Key_Insert)
    typed(window, "4 m")
    assert bench.tracing.view().known_m == 4
    ends = bench.tracing.view().known
    for index in (0, 1):
        handle = bench.spots.find(f"known:{index}")
        handle.pressed.emit()
        for by in (5.0, 9.0):
            handle.dragged.emit(bench.on_bench((ends[index][0] + by, ends[index][1])))
        handle.released.emit()
        now = bench.tracing.view().known
        assert now[1 - index] == ends[1 - index]
        assert now[index] != ends[index]
        key(window, Qt.Key.Key_U)
        assert bench.tracing.view().known == ends
    key(window, Qt.Key.Key_A)
    assert form(window).size == pytest.approx((4.0, 4.0, 6.0), rel=0.01)
    points = bench.tracing.view().outline
    bench.spots.find("point:1").stepped.emit(3)
    assert bench.tracing.view().outline == (points[0], (points[1][0] + 3, points[1][1]), *points[2:])
    key(window, Qt.Key.Key_U)
    key(window, Qt.Key.Key_V)
    assert bench.tracing.which == "side"
    drop(window, drawn(tmp_path / "side.png", QRectF(150, 20, 100, 260)))
    qtbot.waitUntil(lambda: bench.tracing.view() is not None, timeout=60_000)
    bench.press((0.0, 290.0))
    bench.press((100.0, 290.0))
    typed(window, "2 m")
    bench.offer()
    wide, deep, tall = form(window).size
    assert (wide, deep, tall) == (
        pytest.approx(4.0, rel=0.01),
        pytest.approx(2.0, rel=0.02),
        pytest.approx(6.0, rel=0.01),
    )
    key(window, Qt.Key.Key_Delete)
    assert bench.tracing.view() is None
    assert form(window).size[1] == pytest.approx(2.0, rel=0.02), "the form stays"


def test_where_nothing_was_pressed_nothing_is_taken_back(window, bench, qtbot, tmp_path):
    key(window, Qt.Key.Key_Backspace)
    laid(window, bench, qtbot, drawn(tmp_path / "oval.png", QRectF(100, 50, 200, 200)))
    window.notice.say("")
    before = window.desk.job
    key(window, Qt.Key.Key_Backspace)
    assert (window.desk.job, window.notice.words) == (before, "")


def test_a_known_length_wants_both_its_ends_and_is_typed_again_from_either(window, bench, qtbot, tmp_path):
    laid(window, bench, qtbot, drawn(tmp_path / "oval.png", QRectF(100, 50, 200, 200)))
    bench.press((100.0, 280.0))
    assert open_line(window) is None, "one end is no length"
    pressed_by_key(bench, "known:0")
    assert window.notice.words == "Press the two ends of the known length first."
    bench.press((300.0, 280.0))
    typed(window, "4 m")
    for end, metres in ((0, 8.0), (1, 6.0)):
        pressed_by_key(bench, f"known:{end}")
        typed(window, f"{metres} m")
        assert bench.tracing.view().known_m == metres


def test_points_go_to_the_edge_near_them_unless_nobody_wants_that(window, bench, qtbot, tmp_path):
    laid(window, bench, qtbot, drawn(tmp_path / "oval.png", QRectF(100, 50, 200, 200)))
    bench.press((100.0, 280.0))
    bench.press((300.0, 280.0))
    typed(window, "2 m")
    bench.press((308.0, 150.0))
    x, y = bench.tracing.view().outline[-1]
    assert abs(math.hypot(x - 200, y - 150) - 100) < 2
    key(window, Qt.Key.Key_S)
    bench.press((308.0, 150.0))
    assert bench.tracing.view().outline[-1] == (308.0, 150.0)
    assert Brightness(window.desk.pictures).of("gone.png") is None, "without the picture there is no edge"


@pytest.mark.parametrize(("name", "content"), [
    ("a.png", b"\x89PNG\r\n\x1a\nbroken"), ("a.svg", b"<svg"), ("a.svg", b"<svg xmlns='http://www.w3.org/2000/svg' width='0' height='0'/>"),
    ("a.jpg", b"no picture"),
])  # fmt: skip
def test_what_is_no_picture_is_said_and_nothing_is_laid_under(window, bench, qtbot, tmp_path, name, content):
    file = tmp_path / name
    file.write_bytes(content)
    before = window.desk.job
    drop(window, file)
    qtbot.waitUntil(
        lambda: (
            not window.desk.runner.busy("file")
            and window.notice.words != ""
            and name in window.notice.words
            and "Reading" not in window.notice.words
        ),
        timeout=60_000,
    )
    assert window.desk.job == before
    assert bench.tracing.view() is None
