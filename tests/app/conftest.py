"""A window on a copy of the demo, driven as a person would; what is left behind fails the test."""

from __future__ import annotations

import gc
import os
import threading

import pytest
from PySide6.QtCore import QEvent, QMimeData, QPoint, QPointF, QSettings, Qt, QUrl
from PySide6.QtGui import QDropEvent, QWheelEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus.app.start import make_application, make_window
from homunculus.app.start_page import StartPage
from homunculus.app.theme import load_themes

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")  # a run by hand needs no display


@pytest.fixture(scope="session")
def qapp():
    gc.disable()  # as in the program: else a worker's thread may be the one that collects, and drops what is Qt's
    application = make_application()
    gc.collect()
    gc.freeze()  # what is imported stays: to walk over all of it after each window is a fifth of a second
    return application


@pytest.fixture(autouse=True)
def own_settings(tmp_path, monkeypatch):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path / "data"))
    QSettings.setDefaultFormat(QSettings.Format.IniFormat)
    QSettings.setPath(QSettings.Format.NativeFormat, QSettings.Scope.UserScope, str(tmp_path / "config"))
    for when in ("desk.WARM_AFTER_MS", "shelf.TELL_AFTER_MS"):  # said at the opening, not in the midst of what is tried
        monkeypatch.setattr(f"homunculus.app.{when}", 0)


@pytest.fixture
def open_window(qapp, now):
    """Open windows on job folders; all are closed after the test, and no thread may outlive them."""
    opened = []

    def open_one(folder, size=(1280, 800), **kwargs):
        window = make_window(folder, now, **kwargs)
        window.resize(*size)
        window.show()
        window.desk.start()
        for _ in range(3):  # what begins at once, and what that begins
            QApplication.processEvents()
        opened.append(window)
        return window

    yield open_one
    for window in opened:
        window.close()
        window.deleteLater()
    QApplication.processEvents()
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)  # no loop runs that would: windows heaped up
    gc.collect()
    left = [t.name for t in threading.enumerate() if t.name.startswith(("keeper", "runner"))]
    assert not left, f"threads outlive their window: {left}"


@pytest.fixture
def window(open_window, folder):
    return open_window(folder)


@pytest.fixture
def page(qapp, now):
    made = []

    def open_page(**kwargs):
        page = StartPage(load_themes()["plaster"], lambda: now, **kwargs)
        page.resize(960, 640)
        page.show()
        page.took = []
        page.chosen.connect(page.took.append)
        made.append(page)
        QApplication.processEvents()
        return page

    yield open_page
    for one in made:
        one.close()
        one.deleteLater()
    QApplication.processEvents()


def drop(window, *paths):
    """Drop files on the window."""
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(path)) for path in paths])
    window.dropEvent(QDropEvent(QPoint(600, 400), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
                                Qt.KeyboardModifier.NoModifier))  # fmt: skip


def key(window, which, modifier=Qt.KeyboardModifier.NoModifier, times=1):
    """Press a key wherever the focus is."""
    for _ in range(times):
        target = QApplication.focusWidget() or window
        QTest.keyClick(target, which, modifier)
        QApplication.processEvents()


def type_words(widget, words):
    """Type words letter by letter."""
    QTest.keyClicks(widget, words)
    QApplication.processEvents()


def open_line(window):
    """The line that is open to type into, or none."""
    return next((line for line in window.findChildren(QLineEdit, "typed") if line.isVisible()), None)


def typed(window, words):
    """Type into the line that is open; nothing typed takes what stands there. A line that stays open says why."""
    line = open_line(window)
    itself = type(line.parentWidget()).__name__ == "WeighUp"  # says on its own drawing what it cannot read
    notice = None if itself else getattr(window.window(), "notice", None)
    if words:
        line.setText(words)
    before = notice.words if notice else ""
    if notice:
        notice.words = ""
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert open_line(window) is not line or notice is None or notice.words, "it stays open and does not say why"
    if notice:
        notice.words = notice.words or before
    QApplication.processEvents()


def typed_by_keys(window, words):
    """Type over what stands in the line that is open, key by key."""
    line = open_line(window)
    line.clear()
    type_words(line, words)
    QTest.keyClick(line, Qt.Key.Key_Return)
    QApplication.processEvents()


def pressed_by_key(bench, spot):
    """Put the keyboard on a spot of a bench, and press Enter."""
    bench.spots.find(spot).setFocus()
    key(bench, Qt.Key.Key_Return)


def drag(spot, across, down=0, steps=8):
    """Take hold of a spot in its middle and pull it."""
    start = spot.rect().center()
    QTest.mousePress(spot, Qt.MouseButton.LeftButton, pos=start)
    origin = spot.mapToGlobal(start)
    for i in range(1, steps + 1):
        point = origin + type(origin)(across * i // steps, down * i // steps)
        QTest.mouseMove(spot, spot.mapFromGlobal(point))
        QApplication.processEvents()
    QTest.mouseRelease(spot, Qt.MouseButton.LeftButton, pos=spot.mapFromGlobal(origin + type(origin)(across, down)))
    QApplication.processEvents()


def turn_wheel(target, by=0, across=0, pixels=(0, 0), at=None, times=1):
    """Turn a wheel over a place: by eighths of a degree, 120 a notch, below nought towards the hand; a touchpad tells pixels too."""
    point = QPointF(*at) if at else QPointF(target.rect().center())
    for _ in range(times):
        turn = QWheelEvent(point, QPointF(target.mapToGlobal(point)), QPoint(*pixels), QPoint(across, by), Qt.MouseButton.NoButton,
                           Qt.KeyboardModifier.NoModifier, Qt.ScrollPhase.NoScrollPhase, False)  # fmt: skip
        QApplication.sendEvent(target, turn)
    QApplication.processEvents()


def wait_until(qtbot, what, timeout=60_000):
    """Wait until something is so."""
    qtbot.waitUntil(what, timeout=timeout)
