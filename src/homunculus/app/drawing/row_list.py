"""One list for all benches: Qt's model and view, our own painting as its delegate.

Scrolling by wheel, touchpad and bar, selection of several rows, copying, columns whose widths are remembered, keys and
speech come from Qt; a bench says which columns there are, how a cell reads and how it is drawn.
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any, Generic

from PySide6.QtCore import QItemSelectionModel, QModelIndex, QPointF, QRectF, QSettings, QSize, Qt, Signal
from PySide6.QtGui import (
    QColor,
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPalette,
    QResizeEvent,
    QWheelEvent,
)
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QHeaderView,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
    QWidget,
)

from homunculus.app.drawing.place import Place
from homunculus.app.drawing.rows import ITEM, Column, Index, Item, Manner, Rows
from homunculus.app.theme.bars import colour_bar
from homunculus.app.theme.ink import Ink
from homunculus.core.showing import so_many

HEAD_H = 24
OTHER = {"sheet": "film", "film": "sheet", "edge": "sheet"}
"""The ground of a chosen row, by that of the others."""
LEAST_W = 40


class _Cells(QStyledItemDelegate):
    """Paints cells in the window's own manner."""

    def __init__(self, view: RowList[Any]) -> None:
        super().__init__(view)
        self._view = view

    def paint(self, painter: QPainter, option: QStyleOptionViewItem, index: Index) -> None:
        view = self._view
        area = QRectF(option.rect)
        painter.save()
        painter.setClipRect(area, Qt.ClipOperation.IntersectClip)
        ink = Ink(painter, view.place.theme())
        row, items = index.row(), view.rows.items
        chosen = view.selectionModel().isRowSelected(row)
        painter.fillRect(area, view.place.theme().colour(OTHER[view.place.ground] if chosen else view.place.ground))
        view.rows.manner.draw(
            ink, items[row], view.rows.columns[index.column()].key, area, items[row - 1] if row else None
        )
        if view.ruled and not view.led:
            ink.rule(area.left(), area.bottom() - 1, area.right(), area.bottom() - 1, "hair", 0.75)
        if view.cells and index.column() == 0:
            ink.rule(area.right(), area.top(), area.right(), area.bottom(), "line", 1)
        here = row == view.currentIndex().row() and (view.hasFocus() or view.led)
        if here and index.column() == 0:
            ink.box(area.left(), area.top() + 1, 4, area.height() - 3, fill="ink")
        if here and view.cells and index.column() == view.currentIndex().column():
            ink.ticks(area.adjusted(1, 1, -1, -2), 6)
        painter.restore()

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        return QSize(LEAST_W, self._view.row_height)


class _Head(QHeaderView):
    """Heads of columns, ruled."""

    def __init__(self, view: RowList[Any]) -> None:
        super().__init__(Qt.Orientation.Horizontal, view)
        self._view = view
        self.setMinimumSectionSize(LEAST_W)
        self.setFixedHeight(HEAD_H)
        if view.rows.manner.worth:
            self.setSectionsClickable(True)
            self.sectionClicked.connect(lambda at: view.sort_by(view.rows.columns[at].key))

    def paintSection(self, painter: QPainter, rect: Any, index: int) -> None:
        theme = self._view.place.theme()
        ink, area, column = Ink(painter, theme), QRectF(rect), self._view.rows.columns[index]
        painter.fillRect(area, theme.colour(self._view.place.ground))
        by, falling = self._view.sorted_by
        room = area.width() - (28 if by == column.key else 14)
        width = ink.text(area.left() + 10, area.bottom() - 8, ink.squeezed(room, column.title, "tick"), "tick", "ink2")
        if by == column.key:
            x, y, up = area.left() + 16 + width, area.bottom() - 11, -3.5 if falling else 3.5
            ink.rules([(x, y, x + 4, y + up), (x + 4, y + up, x + 8, y)], "ink", 1.4)
        ink.rule(area.left(), area.bottom() - 1, area.right() + 1, area.bottom() - 1, "ink", 1.5)
        if index < len(self._view.rows.columns) - 1:
            ink.rule(area.right(), area.top() + 6, area.right(), area.bottom() - 5, "line", 1)


class RowList(QTableView, Generic[Item]):
    """A list on a bench.

    Parameters
    ----------
    place
        The bench that it lies on: its colours, and who gets the keys that are not the list's.
    name
        What it is called; its columns' widths are remembered under it.
    columns, manner
        What stands in it, and how.
    row_height
        Of every row [px].
    heads
        Whether its columns have heads.
    cells
        Whether the keyboard goes from cell to cell, and a cell can be acted on.
    led
        Whether the keyboard stays elsewhere and only leads it, as in a box with a line to type into.
    pulls
        Whether a row, or a cell, can be taken hold of and pulled.
    stays
        Whether the first column stays where the others move on.
    ruled
        Whether there is a rule beneath every row.
    """

    _still: QTableView | None = None  # Qt calls back while it is being made
    acted = Signal(object)
    """Enter, or a double click, on a row."""
    cell_acted = Signal(object, str)
    """The same on a cell, with its column; F2 too."""
    pulled = Signal(object, str, QPointF)
    """A row is pulled by the cell of a column, to a point of the bench."""
    dropped = Signal(object, str, QPointF)
    """It is let go there."""

    def __init__(self, place: Place, name: str, columns: Sequence[Column], manner: Manner[Item], row_height: int,
                 *, heads: bool = True, cells: bool = False, led: bool = False, pulls: bool = False, stays: bool = False,
                 ruled: bool = True) -> None:  # fmt: skip
        super().__init__(place)
        self.place, self.name, self.row_height, self.cells, self.led = place, name, row_height, cells, led
        self.pulls, self.ruled = pulls, ruled
        self._held: tuple[QPointF, Item, str] | None = None
        """Where the button went down, and on what, while it is down."""
        self._pulling = False
        self.sorted_by = ("", False)
        """The column whose values the rows are sorted by, and whether the highest comes first; none: their own order."""
        self.given: Sequence[Item] = ()
        """What :meth:`put` was given last, in that order."""
        self.rows: Rows[Item] = Rows(columns, manner)
        self.setObjectName(f"list:{name}")
        self.setAccessibleName(name)
        self.setModel(self.rows)
        self.setItemDelegate(_Cells(self))
        head = _Head(self)
        self.setHorizontalHeader(head)
        head.setVisible(heads)
        _rule_rows(self, row_height)
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        if led:
            self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setFrameShape(QTableView.Shape.NoFrame)
        self.setShowGrid(False)
        self.setTabKeyNavigation(False)
        self._restore(columns)
        head.sectionResized.connect(self._remember)
        self.doubleClicked.connect(self._act)
        self._still = self._first_column() if stays else None
        self._known: object = None
        self._drawn_for: tuple[object, ...] = ()
        self.selectionModel().currentRowChanged.connect(self._moved)

    def _first_column(self) -> QTableView:
        """A second view of the first column alone, that stays when the others move on.

        It lies where Qt would put heads of rows, beside the other columns and not over them, so that what is scrolled
        is moved and not painted anew.
        """
        still = QTableView(self)
        still.setModel(self.rows)
        still.setSelectionModel(self.selectionModel())
        still.setItemDelegate(self.itemDelegate())
        still.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        still.setFrameShape(QTableView.Shape.NoFrame)
        still.setShowGrid(False)
        still.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        still.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        still.setVerticalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        for off in (still.setVerticalScrollBarPolicy, still.setHorizontalScrollBarPolicy):
            off(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        still.setHorizontalHeader(_Head(self))
        _rule_rows(still, self.row_height)
        for column in range(1, len(self.rows.columns)):
            still.setColumnHidden(column, True)
        still.setColumnWidth(0, self.columnWidth(0))
        self.setColumnHidden(0, True)
        self.verticalHeader().show()
        still.doubleClicked.connect(self._act)
        still.horizontalHeader().sectionResized.connect(self._remember)
        still.horizontalHeader().sectionResized.connect(self._place_still)
        self.verticalScrollBar().valueChanged.connect(still.verticalScrollBar().setValue)
        still.verticalScrollBar().valueChanged.connect(self.verticalScrollBar().setValue)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setCornerWidget(QWidget(self))  # bare: the style would draw a box there
        self.setCornerButtonEnabled(False)
        return still

    def _place_still(self, *_: object) -> None:
        if self._still:
            self.verticalHeader().setFixedWidth(self._still.columnWidth(0))
            self._still.setGeometry(0, 0, self._still.columnWidth(0), self.viewport().geometry().bottom() + 1)
            self._still.verticalScrollBar().setValue(self.verticalScrollBar().value())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place_still()

    def scrollTo(
        self, index: Index, hint: QAbstractItemView.ScrollHint = QAbstractItemView.ScrollHint.EnsureVisible
    ) -> None:
        """Bring a cell into sight."""
        if self._still and index.column() == 0:
            self._still.scrollTo(index, hint)
        else:
            super().scrollTo(index, hint)

    def moveCursor(self, action: QAbstractItemView.CursorAction, modifiers: Qt.KeyboardModifier) -> QModelIndex:
        """Where a key leads; Qt knows no way to and from the column that stays, which it holds for hidden."""
        here, to = self.currentIndex(), QAbstractItemView.CursorAction
        if self._still is None or not here.isValid():
            return super().moveCursor(action, modifiers)
        if here.column() == 0:
            page = max(1, self.viewport().height() // self.row_height)
            down = {to.MoveUp: -1, to.MoveDown: 1, to.MovePageUp: -page, to.MovePageDown: page}.get(action, 0)
            row = max(0, min(here.row() + down, len(self.rows.items) - 1))
            return self.rows.index(row, 1 if action == to.MoveRight else 0)
        if here.column() == 1 and action == to.MoveLeft:
            return self.rows.index(here.row(), 0)
        return super().moveCursor(action, modifiers)

    def _act(self, index: Index) -> None:
        self.acted.emit(index.data(ITEM))
        self.cell_acted.emit(index.data(ITEM), self.rows.columns[index.column()].key)

    def contextMenuEvent(self, event: QContextMenuEvent) -> None:
        """A right press on a row, or the Menu key: what can be done with it; the bench tells."""
        by_key = event.reason() == QContextMenuEvent.Reason.Keyboard
        if not by_key:
            index = self.indexAt(event.pos())  # Qt hands over what happens on the viewport in its own pixels
            if index.isValid():
                self.setFocus()
                self.choose(index.row(), self.rows.columns[index.column()].key)
        item = self.item()
        own = self.place.can_row(self.name, item, self.column()) if item is not None else []
        cell = self.visualRect(self.currentIndex())
        at = self.viewport().mapToGlobal(cell.center()) if by_key else event.globalPos()
        self.place.desk.asked_what.emit(self.place, own, at)

    # -------------------------------------------------------------------------------------- widths
    def _restore(self, columns: Sequence[Column]) -> None:
        known = QSettings("homunculus", "homunculus").value(f"widths/{self.name}")
        widths = known if isinstance(known, dict) else {}
        head = self.horizontalHeader()
        for index, column in enumerate(columns):
            if column.width:
                self.setColumnWidth(index, min(2000, max(LEAST_W, int(widths.get(column.key, column.width)))))
            else:
                head.setSectionResizeMode(index, QHeaderView.ResizeMode.Stretch)

    def _remember(self, *_: object) -> None:
        widths = {c.key: self._view_of(i).columnWidth(i) for i, c in enumerate(self.rows.columns) if c.width}
        QSettings("homunculus", "homunculus").setValue(f"widths/{self.name}", widths)

    def _view_of(self, column: int) -> QTableView:
        """The view that a column stands in."""
        return self._still if self._still and column == 0 else self

    # ---------------------------------------------------------------------------------------- rows
    def _moved(self, *_: object) -> None:
        item = self.item()
        self._known = self.rows.manner.known(item) if item is not None else None
        self.viewport().update()
        if self._still:
            self._still.viewport().update()

    def put(self, items: Sequence[Item]) -> None:
        """Show these rows; the chosen one stays chosen where it is still there, and the view where it was."""
        known, top, column = self._known, self.verticalScrollBar().value(), self.column()
        self.given = items
        self.rows.put(self._in_order())
        self._span()
        here = self.item()
        lost = known is not None and (here is None or self.rows.manner.known(here) != known)
        row = self.row_of(known) if lost else None
        if row is not None:
            self.choose(row, column)
        self.verticalScrollBar().setValue(top)

    def row_of(self, known: object) -> int | None:
        """The row of what is known by that, or none; what lies further down than 2000 rows is not looked for."""
        items, name = self.rows.items, self.rows.manner.known
        return next((row for row in range(min(len(items), 2000)) if name(items[row]) == known), None)

    def _span(self) -> None:
        """Let rows that are drawn in one piece reach over all columns."""
        whole, wide = self.rows.manner.whole, len(self.rows.columns)
        if whole is None or wide < 2:
            return
        self.clearSpans()
        for row, item in enumerate(self.rows.items):
            if whole(item):
                self.setSpan(row, 0, 1, wide)

    def _in_order(self) -> Sequence[Item]:
        """The rows as they are sorted; what has no value in the column comes last either way."""
        (key, falling), worth = self.sorted_by, self.rows.manner.worth
        if not key or worth is None:
            return self.given
        valued = [(worth(item, key), item) for item in self.given]
        known = sorted((pair for pair in valued if pair[0] is not None), key=lambda pair: pair[0], reverse=falling)
        return [item for _, item in known] + [item for value, item in valued if value is None]

    def sort_by(self, key: str) -> None:
        """Sort by the values of a column: rising, then falling, then in the rows' own order again."""
        before = self.sorted_by
        self.sorted_by = (key, False) if before[0] != key else (key, True) if not before[1] else ("", False)
        self.put(self.given)
        self.verticalScrollBar().setValue(0)
        for view in (self, self._still):
            if view:
                view.horizontalHeader().viewport().update()
        title = next(c.title for c in self.rows.columns if c.key == key)
        how = "highest first" if self.sorted_by[1] else "lowest first"
        self.place.desk.said.emit(f"By {title}, {how}." if self.sorted_by[0] else "In their own order.")

    def item(self) -> Item | None:
        """The row that the keyboard is on."""
        found: Item | None = self.currentIndex().data(ITEM) if self.currentIndex().isValid() else None
        return found

    def selected(self) -> list[Item]:
        """The rows that are chosen, from the top."""
        return [self.rows.items[i] for i in sorted({index.row() for index in self.selectionModel().selectedRows()})]

    def column(self) -> str:
        """The column that the keyboard is on; empty when it is on none."""
        return self.rows.columns[self.currentIndex().column()].key if self.currentIndex().isValid() else ""

    def choose(self, row: int, column: str = "") -> None:
        """Bring the keyboard to a row, to a column of it where one is named, and both into sight."""
        keys = [c.key for c in self.rows.columns]
        index = self.rows.index(row, keys.index(column) if column else 0)
        flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
        self.selectionModel().setCurrentIndex(index, flags)
        self.scrollTo(index)

    def row_area(self) -> QRectF:
        """Where the chosen row lies on the bench."""
        area = self.cell_area()
        return QRectF(self.x(), area.top(), self.width(), area.height())

    def cell_area(self) -> QRectF:
        """Where the chosen cell lies on the bench."""
        return self.area_of(self.currentIndex())

    def area_of(self, index: Index) -> QRectF:
        """Where a cell lies on the bench."""
        view = self._view_of(index.column())
        corner = view.viewport().mapTo(self.place, view.viewport().rect().topLeft())
        return QRectF(view.visualRect(index).translated(corner))

    def at(self, point: QPointF) -> Item | None:
        """The row beneath a point of the bench, or none."""
        here = self.viewport().mapFrom(self.place, point.toPoint())
        found: Item | None = self.indexAt(here).data(ITEM) if self.viewport().rect().contains(here) else None
        return found

    def copied(self) -> str:
        """The chosen rows, all when none is, with their heads, as a spreadsheet takes them."""
        rows = [[column.title for column in self.rows.columns]]
        for item in self.selected() or self.rows.items:
            rows.append([self.rows.manner.text(item, column.key) for column in self.rows.columns])
        return "\n".join("\t".join(cell.replace("\t", " ").replace("\n", " ") for cell in row) for row in rows)

    def copy(self) -> None:
        """Hand the chosen rows to other programs, all when none is, and say how many."""
        QApplication.clipboard().setText(self.copied())
        count = len(self.selected()) or len(self.rows.items)
        self.place.desk.said.emit(f"Copied {so_many(count, 'row')}.")

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.pixelDelta().isNull():
            super().wheelEvent(event)
        else:  # a touchpad tells pixels, and Qt's own bars would wait until they make up a step
            self.verticalScrollBar().setValue(self.verticalScrollBar().value() - event.pixelDelta().y())
            self.horizontalScrollBar().setValue(self.horizontalScrollBar().value() - event.pixelDelta().x())
            event.accept()

    # ---------------------------------------------------------------------------------------- pulling
    def mousePressEvent(self, event: QMouseEvent) -> None:
        super().mousePressEvent(event)
        index = self.indexAt(event.position().toPoint())
        if self.pulls and event.button() == Qt.MouseButton.LeftButton and index.isValid():
            self._held = (event.position(), index.data(ITEM), self.rows.columns[index.column()].key)

    def mouseMoveEvent(self, event: QMouseEvent) -> None:
        if self._held is None:
            super().mouseMoveEvent(event)
            return
        start, item, key = self._held
        if not self._pulling:
            far = (event.position() - start).manhattanLength() >= QApplication.startDragDistance()
            self._pulling = far
            if far:
                self.pulled.emit(item, key, self._on_place(start))
        if self._pulling:
            self.pulled.emit(item, key, self._on_place(event.position()))

    def mouseReleaseEvent(self, event: QMouseEvent) -> None:
        held, self._held = self._held, None
        pulling, self._pulling = self._pulling, False
        if held and pulling:
            self.setState(QAbstractItemView.State.NoState)
            self.dropped.emit(held[1], held[2], self._on_place(event.position()))
        else:
            super().mouseReleaseEvent(event)

    def _on_place(self, at: QPointF) -> QPointF:
        return QPointF(self.viewport().mapTo(self.place, at.toPoint()))

    # ---------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and key == Qt.Key.Key_C:
            self.copy()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.item() is not None:
            self._act(self.currentIndex())
        elif self.cells and key == Qt.Key.Key_F2 and self.item() is not None:
            self.cell_acted.emit(self.item(), self.column())
        elif key == Qt.Key.Key_F3 and self.rows.manner.worth and self.item() is not None:
            self.sort_by(self.column())
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End) and self.rows.items:
            self.choose(0 if key == Qt.Key.Key_Home else len(self.rows.items) - 1)
        elif (
            key in MOVES
            or (self.cells and key in ACROSS)
            or (event.modifiers() & Qt.KeyboardModifier.ControlModifier and key == Qt.Key.Key_A)
        ):
            super().keyPressEvent(event)
        else:
            event.ignore()  # letters and Escape are the bench's and the window's

    def focusInEvent(self, event: Any) -> None:
        if not self.currentIndex().isValid() and self.rows.items:
            self.choose(0)
        super().focusInEvent(event)

    def recolour(self, *depends: object) -> None:
        """Take on the colours in use, and draw all rows anew where something else is different that they all depend on.

        Rows that themselves changed are told of by :meth:`put`.
        """
        key = (self.place.theme().name, self.place.desk.system, *depends)
        if key == self._drawn_for:
            return
        recoloured, self._drawn_for = not self._drawn_for or key[0] != self._drawn_for[0], key
        self.viewport().update()
        if self._still:
            self._still.viewport().update()
        if not recoloured:
            return
        colour, palette = self.place.theme().colour, self.palette()
        for role in (QPalette.ColorRole.Base, QPalette.ColorRole.Window):
            palette.setColor(role, QColor(colour(self.place.ground)))
        self.setPalette(palette)
        for bar in (self.verticalScrollBar(), self.horizontalScrollBar()):
            colour_bar(bar, self.place.theme(), self.place.ground)
        if self._still:
            self._still.setPalette(palette)
            self._still.viewport().update()
            self._still.horizontalHeader().viewport().update()
        self.viewport().update()
        self.horizontalHeader().viewport().update()


ACROSS = (Qt.Key.Key_Left, Qt.Key.Key_Right)
MOVES = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)


def _rule_rows(view: QTableView, height: int) -> None:
    """Make all rows of a view so high, and hide the heads of rows."""
    upright = view.verticalHeader()
    upright.hide()
    upright.setMinimumSectionSize(1)
    upright.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
    upright.setDefaultSectionSize(height)
