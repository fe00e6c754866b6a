"""Two builds of the demo made from nothing in a real window: one by keys alone, one by hand alone, but for names and numbers."""

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QContextMenuEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from homunculus import library
from homunculus.core.cells.builds import show_build
from homunculus.core.cells.counts import show_signoffs
from homunculus.core.cells.pieces import show_piece
from homunculus.core.cells.steps import show_step
from homunculus.store.new_job import new_job
from tests.app.conftest import key, open_window, own_settings, qapp, type_words, typed, wait_until  # noqa: F401

pytestmark = pytest.mark.window
K = Qt.Key


def plain(build):
    """A build without ids, and without the times at which something was signed and frozen."""

    def op_of(index, op):
        return replace(op, id=f"op-{index}", name=op.called)

    pieces = tuple(
        replace(p, id=f"piece-{i}", route=tuple(op_of(j, op) for j, op in enumerate(p.route)))
        for i, p in enumerate(build.pieces)
    )
    signoffs = tuple(replace(s, at=None) for s in build.signoffs)
    return replace(build, id="", pieces=pieces, signoffs=signoffs, frozen=None)


class Wanted:
    """The lines that a person types for a build of the demo."""

    def __init__(self, job, name):
        self.build = job.build(name)
        shelf = library.shelf().beside(job.cards.materials)
        self.piece = self.build.pieces[0]
        self.piece_line = show_piece(self.piece, shelf)
        self.build_line, self.signoffs = (
            show_build(self.build),
            show_signoffs(tuple(replace(s, at=None) for s in self.build.signoffs)),
        )
        self.steps = {op.id: show_step(op, shelf.materials) for op in self.piece.route}


@pytest.fixture
def empty(open_window, tmp_path, now, qtbot):  # noqa: F811
    window = open_window(new_job(tmp_path / "own", "Saltmarsh", now))
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    return window


def tab_to(window, name):
    """Press Tab until the keyboard is on something."""
    for _ in range(300):
        focus = QApplication.focusWidget()
        if focus is not None and focus.objectName() == name:
            return
        key(window, K.Key_Tab)
    raise AssertionError(f"Tab does not lead to {name}")


def ids(window):
    return [op.id for op in window.desk.build.pieces[0].route]


def test_the_cheek_is_made_from_nothing_by_keys_alone(empty, demo_document):
    window, wanted = empty, Wanted(demo_document.job, "keeper")
    key(window, K.Key_B, Qt.KeyboardModifier.ControlModifier)
    key(window, K.Key_Right, times=5)
    key(window, K.Key_Return)
    typed(window, wanted.build.name)
    key(window, K.Key_Return)
    assert window.desk.build.kind == "prosthetic"
    key(window, K.Key_F2)
    typed(window, wanted.build_line)
    key(window, K.Key_Insert)
    typed(window, wanted.piece_line)
    while len(window.desk.build.pieces) > 1:
        key(window, K.Key_BracketLeft)
        key(window, K.Key_Delete)
    for name in ("box", "cut"):
        tab_to(window, f"step:{name}")
        key(window, K.Key_Delete)
    for name in ("sculpt", "rubber", "castings"):
        tab_to(window, f"step:{name}")
        key(window, K.Key_Return)
        typed(window, wanted.steps[name])
    for name in ("life-cast", "vent", "trim"):
        key(window, K.Key_Plus)
        typed(window, wanted.steps[name])
    tab_to(window, "step:life-cast")
    key(window, K.Key_Left, Qt.KeyboardModifier.AltModifier)
    key(window, K.Key_H)
    tab_to(window, "signoffs")
    key(window, K.Key_Return)
    typed(window, wanted.signoffs)
    tab_to(window, "sign:likeness")
    key(window, K.Key_Return)
    typed(window, "performer")
    key(window, K.Key_Slash)
    type_words(window.goto.line, "beginnings of this build stand")
    key(window, K.Key_Return)
    made = window.desk.build
    assert plain(made) == plain(wanted.build)
    assert made.signoffs[0].at is not None


def press(place, name):
    spot = place.spots.find(name)
    assert spot is not None, f"{name} is not on the drawing: {sorted(place.spots.areas())}"
    QTest.mouseClick(spot, Qt.MouseButton.LeftButton)
    QApplication.processEvents()


def choose(window, place, name, words):
    """A right press on something, and a press on what can be done with it."""
    spot = place.spots.find(name)
    assert spot is not None, f"{name} is not on the drawing: {sorted(place.spots.areas())}"
    at = spot.rect().center()
    QApplication.sendEvent(spot, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, spot.mapToGlobal(at)))
    QApplication.processEvents()
    menu = next(menu for menu in reversed(window.findChildren(QMenu, "what-can")) if menu.isVisible())
    area = menu.actionGeometry(next(action for action in menu.actions() if action.text().startswith(words)))
    QTest.mouseClick(menu, Qt.MouseButton.LeftButton, pos=QPoint(area.center()))
    QApplication.processEvents()


def walk_to(bench, name, end):
    """Bring a step into sight: pressing the one at an end of what is seen goes on there."""
    for _ in range(20):
        seen = [n for n in bench.spots.areas() if n.startswith("step:")]
        if f"step:{name}" in seen:
            return
        press(bench, seen[end])
    raise AssertionError(f"{name} does not come into sight")


def test_the_bust_is_made_from_nothing_by_hand_alone(empty, demo_document):
    window, wanted = empty, Wanted(demo_document.job, "saltbust")
    bench = window.benches.of("made")
    press(window.rail, "begin")
    press(bench, "kind:6")
    press(bench, "begin-name")
    typed(window, wanted.build.name)
    for kind_brings in [n for n in bench.spots.areas() if n.startswith("brings:")][1:]:
        press(bench, kind_brings)
    press(bench, "begin-it")
    press(bench, "build-line")
    typed(window, wanted.build_line)
    press(bench, "else")
    typed(window, wanted.piece_line)
    choose(window, bench, f"line:{window.desk.build.pieces[0].id}", "Delete it")
    for name in [op.id for op in wanted.piece.route if op.id in ids(window)]:
        walk_to(bench, name, -1)
        press(bench, f"step:{name}")
        press(bench, f"step:{name}")
        typed(window, wanted.steps[name])
    for name, line in (("plaster-dries", wanted.steps["plaster-dries"]), ("seal-base-soak-test", wanted.steps["seal"])):
        press(bench, "more-step")
        typed(window, line)
        while ids(window)[-1] != name:
            walk_to(bench, name, 0)
            press(bench, f"step:{name}") if bench.doings.op_id != name else None
            choose(window, bench, f"step:{name}", "Done after")
    choose(window, bench, "build-line", "Let all its beginnings stand")
    window.desk.wanted.emit("counts")
    QApplication.processEvents()
    press(window.benches.of("counts"), "signoffs")
    typed(window, wanted.signoffs)
    assert plain(window.desk.build) == plain(wanted.build)
