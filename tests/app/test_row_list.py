"""A list by itself: what is sorted, kept, copied, pulled and led by keys, on a place that holds nothing else."""

from __future__ import annotations

from typing import NamedTuple

import pytest
from PySide6.QtCore import QAbstractItemModel, QEvent, QPoint, QPointF, QSettings, Qt
from PySide6.QtGui import QContextMenuEvent, QMouseEvent
from PySide6.QtTest import QAbstractItemModelTester, QTest
from PySide6.QtWidgets import QApplication

from homunculus.app.drawing.place import Place
from homunculus.app.drawing.row_list import LEAST_W, RowList
from homunculus.app.drawing.rows import Column, Manner
from tests.app.conftest import turn_wheel


class Pot(NamedTuple):
    """A row."""

    name: str
    weight: float | None = None


COLUMNS = (Column("name", "pot", 120), Column("weight", "kg", 90), Column("note", "note", 300))
POTS = tuple(Pot(f"pot {i:02}", None if i % 10 == 3 else (i * 7) % 40) for i in range(40))


def text(pot, key):
    return {
        "name": pot.name,
        "weight": "" if pot.weight is None else f"{pot.weight}",
        "note": f"a\tnote\nof {pot.name}",
    }[key]


def manner(**more):
    return Manner(lambda pot: pot.name, text, lambda pot: pot.name, lambda *_: None, **more)


@pytest.fixture
def on(window):
    """Make a list on a place of its own, 40 rows of 20 pixels in 300."""
    window.setUpdatesEnabled(False)

    def make(items=POTS, columns=COLUMNS, worth=True, **kind):
        place = Place(window, window.desk, "pots")
        place.resize(400, 330)
        rows = RowList(
            place,
            "pots",
            columns,
            manner(worth=(lambda pot, key: getattr(pot, key, None)) if worth else None),
            20,
            **kind,
        )
        rows.setGeometry(20, 10, 360, 300)
        rows.put(items)
        place.show()
        QApplication.processEvents()
        return rows

    return make


def names(rows):
    return [pot.name for pot in rows.rows.items]


def said(window):
    words = []
    window.desk.said.connect(words.append)
    return words


def test_sorted_rising_falling_and_back_what_has_no_value_last_either_way(on, window):
    rows, words = on(cells=True), said(window)
    rows.choose(5, "weight")
    for falling in (False, True):
        rows.setFocus()
        QTest.keyClick(rows, Qt.Key.Key_F3)
        values = [pot.weight for pot in rows.rows.items]
        assert values[:36] == sorted(values[:36], reverse=falling)
        assert values[36:] == [None] * 4
        assert rows.item().name == "pot 05", "what was chosen stays chosen"
        assert rows.column() == "weight"
    QTest.keyClick(rows, Qt.Key.Key_F3)
    assert names(rows) == [pot.name for pot in POTS]
    assert words == ["By kg, lowest first.", "By kg, highest first.", "In their own order."]
    plain = on(worth=False, cells=True)
    plain.choose(0)
    QTest.keyClick(plain, Qt.Key.Key_F3)
    for one in (rows, plain):
        head = one.horizontalHeader()
        at = QPoint(head.sectionViewportPosition(1) + 40, head.height() // 2)
        QTest.mouseClick(head.viewport(), Qt.MouseButton.LeftButton, pos=at)
    assert (rows.sorted_by, rows.rows.items[0].weight) == (("weight", False), 0)
    assert names(plain) == [pot.name for pot in POTS]


def test_unless_it_is_asked_for_a_list_has_heads_and_rules_and_leads_from_row_to_row(on):
    rows = on()
    kind = (rows.horizontalHeader().isVisible(), rows.ruled, rows.cells, rows.led, rows.pulls, rows._still)
    assert kind == (True, True, False, False, False, None)
    assert not on(heads=False).horizontalHeader().isVisible()


def test_what_is_chosen_stays_chosen_where_it_is_still_there_and_the_view_where_it_was(on):
    rows = on()
    rows.choose(20)
    rows.verticalScrollBar().setValue(200)
    rows.put((Pot("new"), *POTS))
    assert rows.item().name == "pot 20"
    rows.put(POTS[10:])
    assert rows.item().name == "pot 20"
    rows.put(tuple(reversed(POTS)))
    assert (rows.item().name, rows.currentIndex().row()) == ("pot 20", 19)
    assert rows.verticalScrollBar().value() == 200
    assert rows.row_of("pot 39") == 0
    assert rows.row_of("nothing") is None
    rows.put(tuple(Pot(str(i)) for i in range(2001)))
    assert (rows.row_of("1999"), rows.row_of("2000")) == (1999, None)


def test_the_rows_are_as_qt_wants_them_whatever_is_put(on):
    rows = on()
    QAbstractItemModelTester(rows.rows, QAbstractItemModelTester.FailureReportingMode.Fatal)
    changed, came = [], []
    rows.rows.dataChanged.connect(lambda a, b, _: changed.append((a.row(), b.column())))
    rows.rows.rowsInserted.connect(lambda _, first, last: came.append((first, last)))
    rows.put((*POTS[:7], POTS[7]._replace(weight=99.0), *POTS[8:]))
    assert (changed, came) == ([(7, 2)], [])
    rows.put((Pot("x"), Pot("y"), *rows.rows.items))
    assert came == [(0, 1)]
    for items in ((), POTS[:1], POTS, POTS[:39]):
        rows.put(items)
        assert rows.rows.rowCount() == len(items)
    model: QAbstractItemModel = rows.rows
    index = model.index(2, 1)
    assert model.rowCount(index) == model.columnCount(index) == 0
    assert (model.columnCount(), model.headerData(1, Qt.Orientation.Horizontal)) == (3, "kg")
    assert model.data(index, Qt.ItemDataRole.AccessibleTextRole) == "kg: 14"
    assert model.data(model.index(3, 1), Qt.ItemDataRole.AccessibleTextRole) == "kg: nothing"
    assert model.data(model.index(2, 0), Qt.ItemDataRole.AccessibleTextRole) == "pot 02"


def test_what_can_be_done_is_asked_of_the_cell_under_the_pointer_by_key_of_the_chosen_one(on, window):
    rows, asked = on(cells=True), []
    window.desk.asked_what.disconnect()
    window.desk.asked_what.connect(lambda _place, own, at: asked.append((own, at)))
    rows.place.can_row = lambda name, pot, column: [(name, pot.name, column)]
    rows.choose(2, "weight")
    reason, corner = QContextMenuEvent.Reason, QPoint(3, 3)
    middle = rows.viewport().mapToGlobal(rows.visualRect(rows.currentIndex()).center())
    rows.contextMenuEvent(QContextMenuEvent(reason.Keyboard, corner, corner))
    assert asked.pop() == ([("pots", "pot 02", "weight")], middle)
    pos = rows.visualRect(rows.rows.index(5, 0)).center()
    rows.contextMenuEvent(QContextMenuEvent(reason.Mouse, pos, corner))
    assert asked.pop() == ([("pots", "pot 05", "name")], corner)
    assert rows.hasFocus()
    rows.put(POTS[:2])
    rows.choose(1, "name")
    rows.contextMenuEvent(QContextMenuEvent(reason.Mouse, QPoint(5, 200), corner))
    assert asked.pop() == ([("pots", "pot 01", "name")], corner), "beside all rows the chosen one is meant"
    rows.put(())
    rows.contextMenuEvent(QContextMenuEvent(reason.Mouse, corner, corner))
    assert asked.pop() == ([], corner)


def test_rows_are_copied_with_heads_one_cell_a_column_the_chosen_or_all(on, window):
    rows, words = on(), said(window)
    assert len(rows.copied().split("\n")) == 41
    rows.choose(4)
    assert rows.copied() == "pot\tkg\tnote\npot 04\t28\ta note of pot 04"
    rows.setFocus()
    QTest.keyClick(rows, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert QApplication.clipboard().text() == rows.copied()
    QTest.keyClick(rows, Qt.Key.Key_A, Qt.KeyboardModifier.ControlModifier)
    QTest.keyClick(rows, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    assert words == ["Copied 1 row.", "Copied 40 rows."]
    assert [pot.name for pot in rows.selected()] == names(rows)


def test_keys_lead_through_rows_and_cells_and_what_is_not_theirs_goes_on(on):
    rows, acted, cells, place_got = on(cells=True), [], [], []
    rows.acted.connect(lambda pot: acted.append(pot.name))
    rows.cell_acted.connect(lambda pot, key: cells.append((pot.name, key)))
    rows.place.keyPressEvent = lambda event: place_got.append(event.key())
    rows.setFocus()
    assert rows.item().name == "pot 00", "the keyboard comes to the first"
    for key in (Qt.Key.Key_Down, Qt.Key.Key_Right, Qt.Key.Key_F2, Qt.Key.Key_Return, Qt.Key.Key_X, Qt.Key.Key_Escape):
        QTest.keyClick(rows, key)
    assert (acted, cells) == (["pot 01"], [("pot 01", "weight"), ("pot 01", "weight")])
    assert place_got == [Qt.Key.Key_X, Qt.Key.Key_Escape]
    QTest.keyClick(rows, Qt.Key.Key_End)
    assert rows.currentIndex().row() == 39
    QTest.keyClick(rows, Qt.Key.Key_Home)
    assert rows.currentIndex().row() == 0
    plain = on()
    plain.setFocus()
    plain.cell_acted.connect(lambda pot, key: cells.append((pot.name, key)))
    QTest.keyClick(plain, Qt.Key.Key_F2)
    assert len(cells) == 2, "F2 is of cells"
    led = on(led=True)
    assert led.focusPolicy() == Qt.FocusPolicy.NoFocus
    empty = on(items=())
    empty.setFocus()
    for key in (Qt.Key.Key_End, Qt.Key.Key_Return, Qt.Key.Key_F3):
        QTest.keyClick(empty, key)
    assert empty.item() is None
    assert empty.column() == ""


def test_the_column_that_stays_is_walked_to_and_from_and_by_pages(on):
    rows = on(stays=True, cells=True)
    rows.setFocus()
    rows.choose(0)
    walked = []
    for key in (Qt.Key.Key_PageDown, Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_PageUp, Qt.Key.Key_Up, Qt.Key.Key_Right, Qt.Key.Key_Right,
                Qt.Key.Key_Down, Qt.Key.Key_Left, Qt.Key.Key_Left, Qt.Key.Key_Left):  # fmt: skip
        QTest.keyClick(rows, key)
        walked.append((rows.currentIndex().row(), rows.currentIndex().column()))
    page = rows.viewport().height() // 20
    assert walked == [
        (page, 0),
        (page + 1, 0),
        (page, 0),
        (0, 0),
        (0, 0),
        (0, 1),
        (0, 2),
        (1, 2),
        (1, 1),
        (1, 0),
        (1, 0),
    ]
    rows.choose(39, "name")
    QTest.keyClick(rows, Qt.Key.Key_Down)
    assert rows.currentIndex().row() == 39
    assert rows._still.verticalScrollBar().value() == rows.verticalScrollBar().value() > 0
    assert rows.area_of(rows.rows.index(39, 0)).right() <= rows.area_of(rows.rows.index(39, 1)).left() + 1


def test_widths_are_remembered_within_bounds(on):
    rows = on()
    rows.setColumnWidth(1, 150)
    assert on().columnWidth(1) == 150
    for kept, shown in ((5, LEAST_W), (9000, 2000)):
        QSettings("homunculus", "homunculus").setValue("widths/pots", {"weight": kept})
        assert on().columnWidth(1) == shown
    stretched = on(columns=(COLUMNS[0], Column("weight", "kg", 0)))
    assert stretched.columnWidth(0) + stretched.columnWidth(1) == pytest.approx(stretched.viewport().width(), abs=2)


def pulled_on(rows, start, *to):
    """Press on the viewport, move through some points, let go."""
    at = QPointF(start)
    for kind, where in ((QEvent.Type.MouseButtonPress, start), *((QEvent.Type.MouseMove, p) for p in to), (QEvent.Type.MouseButtonRelease, (to or (start,))[-1])):  # fmt: skip
        at, buttons = (
            QPointF(where),
            Qt.MouseButton.NoButton if kind == QEvent.Type.MouseButtonRelease else Qt.MouseButton.LeftButton,
        )
        button = Qt.MouseButton.NoButton if kind == QEvent.Type.MouseMove else Qt.MouseButton.LeftButton
        event = QMouseEvent(
            kind,
            at,
            QPointF(rows.viewport().mapToGlobal(at.toPoint())),
            button,
            buttons,
            Qt.KeyboardModifier.NoModifier,
        )
        QApplication.sendEvent(rows.viewport(), event)


def test_a_row_is_pulled_once_the_hand_went_far_enough_and_dropped_where_it_is_let_go(on):
    rows, pulled, dropped = on(pulls=True), [], []
    rows.pulled.connect(lambda pot, key, at: pulled.append((pot.name, key, at.toTuple())))
    rows.dropped.connect(lambda pot, key, at: dropped.append((pot.name, key, at.toTuple())))
    far = QApplication.startDragDistance()
    corner = rows.viewport().mapTo(rows.place, QPoint(0, 0))
    start = QPoint(130, 45)
    pulled_on(rows, start, start + QPoint(far - 1, 0))
    assert (pulled, dropped) == ([], []), "a press that shakes is a press"
    end = start + QPoint(far, 30)
    pulled_on(rows, start, start + QPoint(far, 0), end)
    told = [(p + corner).toTuple() for p in (start, start + QPoint(far, 0), end)]
    assert pulled == [("pot 02", "weight", p) for p in told]
    assert dropped == [("pot 02", "weight", told[-1])]
    fixed, none = on(), []
    fixed.pulled.connect(none.append)
    pulled_on(fixed, start, end)
    assert none == []


def test_a_touchpad_moves_by_pixels_and_a_point_finds_its_row(on):
    rows = on(stays=True)
    bar = rows.verticalScrollBar()
    turn_wheel(rows.viewport(), -120, across=-40, pixels=(-12, -33))
    assert (bar.value(), rows.horizontalScrollBar().value()) == (33, 12)
    bar.setValue(0)
    rows = on()
    corner = rows.viewport().mapTo(rows.place, QPoint(0, 0))
    assert rows.at(QPointF(corner + QPoint(5, 45))).name == "pot 02"
    assert rows.at(QPointF(corner + QPoint(5, -3))) is None
    rows.choose(2)
    assert rows.row_area().top() == rows.cell_area().top() == corner.y() + 40
    assert rows.row_area().width() == 360
    assert rows.cell_area().width() == rows.columnWidth(0)
