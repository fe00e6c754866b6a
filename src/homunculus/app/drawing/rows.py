"""One list for all benches: Qt's model and view, our own painting as its delegate.

Scrolling by wheel, touchpad and bar, selection of several rows, copying, columns whose widths are remembered, keys and
speech come from Qt; a bench says which columns there are, how a cell reads and how it is drawn.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Generic, NamedTuple, TypeVar

from PySide6.QtCore import (
    QAbstractTableModel,
    QItemSelectionModel,
    QModelIndex,
    QPersistentModelIndex,
    QRectF,
    QSettings,
    QSize,
    Qt,
    Signal,
)
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPalette, QResizeEvent, QWheelEvent
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
from homunculus.app.theme.ink import Ink

Item = TypeVar("Item")
Index = QModelIndex | QPersistentModelIndex
HEAD_H = 24
MOST_COMPARED = 5000
"""Rows up to which it is looked whether they are the same as before."""
OTHER = {"sheet": "film", "film": "sheet", "edge": "sheet"}
"""The ground of a chosen row, by that of the others."""
LEAST_W = 40
ITEM = Qt.ItemDataRole.UserRole


class Column(NamedTuple):
    """One column: its key, its head, how wide it is at first (0: what is left)."""

    key: str
    title: str
    width: int


class Manner(NamedTuple, Generic[Item]):
    """How a list's rows are known, read, spoken and drawn."""

    known: Callable[[Item], object]
    """What a row is known by, so that it stays chosen when the rows change."""
    text: Callable[[Item, str], str]
    """A cell as it is copied."""
    said: Callable[[Item], str]
    """A whole row as it is spoken."""
    draw: Callable[[Ink, Item, str, QRectF, Item | None], None]
    """Draws a cell into its area; last, the row above, or none."""


class Rows(QAbstractTableModel, Generic[Item]):
    """The rows of a list, as Qt asks for them."""

    def __init__(self, columns: Sequence[Column], manner: Manner[Item]) -> None:
        super().__init__()
        self.columns, self.manner = tuple(columns), manner
        self.items: Sequence[Item] = ()
        self._count = 0
        """How many rows Qt knows of: what is shown may be a view of something that grows."""
        self._ends: tuple[object, object] | None = None

    def put(self, items: Sequence[Item]) -> None:
        """Show these rows from now on; some that only came on top are added, which keeps a long list quick."""
        known = self.manner.known
        ends = (known(items[0]), known(items[len(items) - 1])) if items else None
        more = len(items) - self._count
        if self._ends and ends and more > 0 and (known(items[more]), ends[1]) == self._ends:
            self.beginInsertRows(QModelIndex(), 0, more - 1)
            self._take(items, ends)
            self.endInsertRows()
        elif more == 0 and self._same_rows(items):
            changed = [row for row, (old, new) in enumerate(zip(self.items, items, strict=True)) if old is not new]
            self._take(items, ends)
            for row in changed:
                self.dataChanged.emit(self.index(row, 0), self.index(row, len(self.columns) - 1))
        else:
            self.beginResetModel()
            self._take(items, ends)
            self.endResetModel()

    def _same_rows(self, items: Sequence[Item]) -> bool:
        """Whether these are the same rows in the same order, some of them perhaps changed."""
        known = self.manner.known
        return len(items) <= MOST_COMPARED and all(known(a) == known(b) for a, b in zip(self.items, items, strict=True))

    def _take(self, items: Sequence[Item], ends: tuple[object, object] | None) -> None:
        self.items, self._count, self._ends = items, len(items), ends

    def rowCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008  (Qt's own signature)
        return 0 if parent.isValid() else min(self._count, len(self.items))

    def columnCount(self, parent: Index = QModelIndex()) -> int:  # noqa: B008
        return 0 if parent.isValid() else len(self.columns)

    def data(self, index: Index, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if not index.isValid() or index.row() >= len(self.items):
            return None
        item = self.items[index.row()]
        if role == ITEM:
            return item
        if role == Qt.ItemDataRole.DisplayRole:
            return self.manner.text(item, self.columns[index.column()].key)
        if role == Qt.ItemDataRole.AccessibleTextRole:
            column = self.columns[index.column()]
            return (
                self.manner.said(item)
                if index.column() == 0
                else f"{column.title}: {self.manner.text(item, column.key) or 'nothing'}"
            )
        return None

    def headerData(self, section: int, orientation: Qt.Orientation, role: int = Qt.ItemDataRole.DisplayRole) -> Any:
        if orientation == Qt.Orientation.Horizontal and role == Qt.ItemDataRole.DisplayRole:
            return self.columns[section].title
        return None


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
        if not view.led:
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

    def paintSection(self, painter: QPainter, rect: Any, index: int) -> None:
        theme = self._view.place.theme()
        ink, area, column = Ink(painter, theme), QRectF(rect), self._view.rows.columns[index]
        painter.fillRect(area, theme.colour(self._view.place.ground))
        ink.text(
            area.left() + 10, area.bottom() - 8, ink.squeezed(area.width() - 14, column.title, "tick"), "tick", "ink2"
        )
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
        Whether the keyboard goes from cell to cell, and a cell can be acted on; the first column then stays where the others move on.
    led
        Whether the keyboard stays elsewhere and only leads it, as in a box with a line to type into.
    """

    _still: QTableView | None = None  # Qt calls back while it is being made
    acted = Signal(object)
    """Enter, or a double click, on a row."""
    cell_acted = Signal(object, str)
    """The same on a cell, with its column; F2 too."""

    def __init__(self, place: Place, name: str, columns: Sequence[Column], manner: Manner[Item], row_height: int,
                 *, heads: bool = True, cells: bool = False, led: bool = False) -> None:  # fmt: skip
        super().__init__(place)
        self.place, self.name, self.row_height, self.cells, self.led = place, name, row_height, cells, led
        self.rows: Rows[Item] = Rows(columns, manner)
        self.setObjectName(f"list:{name}")
        self.setAccessibleName(name)
        self.setModel(self.rows)
        self.setItemDelegate(_Cells(self))
        head = _Head(self)
        self.setHorizontalHeader(head)
        head.setVisible(heads)
        upright = self.verticalHeader()
        upright.hide()
        upright.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        upright.setDefaultSectionSize(row_height)
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
        self._still = self._first_column() if cells else None
        self._known: object = None
        self._drawn_for: tuple[object, ...] = ()
        self.selectionModel().currentRowChanged.connect(self._moved)

    def _first_column(self) -> QTableView:
        """A second view of the first column alone, that lies over it and stays when the others move on."""
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
        still.verticalHeader().hide()
        still.verticalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        still.verticalHeader().setDefaultSectionSize(self.row_height)
        for column in range(1, len(self.rows.columns)):
            still.setColumnHidden(column, True)
        still.setColumnWidth(0, self.columnWidth(0))
        still.doubleClicked.connect(self._act)
        self.horizontalHeader().sectionResized.connect(lambda at, _, width: self._place_still() if at == 0 else None)
        self.verticalScrollBar().valueChanged.connect(still.verticalScrollBar().setValue)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setHorizontalScrollMode(QAbstractItemView.ScrollMode.ScrollPerPixel)
        self.setCornerWidget(QWidget(self))  # bare: the style would draw a box there
        return still

    def _place_still(self) -> None:
        if self._still:
            self._still.setColumnWidth(0, self.columnWidth(0))
            self._still.setGeometry(0, 0, self.columnWidth(0), self.viewport().geometry().bottom() + 1)
            self._still.verticalScrollBar().setValue(self.verticalScrollBar().value())

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self._place_still()

    def scrollTo(
        self, index: Index, hint: QAbstractItemView.ScrollHint = QAbstractItemView.ScrollHint.EnsureVisible
    ) -> None:
        """Bring a cell into sight; one beneath the column that stays is moved out from under it."""
        super().scrollTo(index, hint)
        if self._still and index.column() > 0:
            under = self.columnWidth(0) - self.visualRect(index).left()
            if under > 0:
                self.horizontalScrollBar().setValue(self.horizontalScrollBar().value() - under)

    def _act(self, index: Index) -> None:
        self.acted.emit(index.data(ITEM))
        self.cell_acted.emit(index.data(ITEM), self.rows.columns[index.column()].key)

    # -------------------------------------------------------------------------------------- widths
    def _restore(self, columns: Sequence[Column]) -> None:
        known = QSettings("homunculus", "homunculus").value(f"widths/{self.name}")
        widths = known if isinstance(known, dict) else {}
        head = self.horizontalHeader()
        for index, column in enumerate(columns):
            if column.width:
                self.setColumnWidth(index, int(widths.get(column.key, column.width)))
            else:
                head.setSectionResizeMode(index, QHeaderView.ResizeMode.Stretch)

    def _remember(self, *_: object) -> None:
        widths = {c.key: self.columnWidth(i) for i, c in enumerate(self.rows.columns) if c.width}
        QSettings("homunculus", "homunculus").setValue(f"widths/{self.name}", widths)

    # ---------------------------------------------------------------------------------------- rows
    def _moved(self, *_: object) -> None:
        item = self.item()
        self._known = self.rows.manner.known(item) if item is not None else None
        self.viewport().update()

    def put(self, items: Sequence[Item]) -> None:
        """Show these rows; the chosen one stays chosen where it is still there, and the view where it was."""
        known, top, column = self._known, self.verticalScrollBar().value(), self.column()
        self.rows.put(items)
        if known is not None and self._known != known:
            for row in range(min(len(items), 2000)):  # further down it is no longer in sight either
                if self.rows.manner.known(self.rows.items[row]) == known:
                    self.choose(row, column)
                    break
        self.verticalScrollBar().setValue(top)

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
        area = QRectF(self.cell_area())
        return area.united(QRectF(area.left(), area.top(), self.viewport().width(), area.height()))

    def cell_area(self) -> QRectF:
        """Where the chosen cell lies on the bench."""
        corner = self.viewport().mapTo(self.place, self.viewport().rect().topLeft())
        return QRectF(self.visualRect(self.currentIndex()).translated(corner))

    def copied(self) -> str:
        """The chosen rows, all when none is, with their heads, as a spreadsheet takes them."""
        rows = [[column.title for column in self.rows.columns]]
        for item in self.selected() or self.rows.items:
            rows.append([self.rows.manner.text(item, column.key) for column in self.rows.columns])
        return "\n".join("\t".join(cell.replace("\t", " ").replace("\n", " ") for cell in row) for row in rows)

    def wheelEvent(self, event: QWheelEvent) -> None:
        if event.pixelDelta().isNull():
            super().wheelEvent(event)
        else:  # a touchpad tells pixels, and Qt's own bars would wait until they make up a step
            self.verticalScrollBar().setValue(self.verticalScrollBar().value() - event.pixelDelta().y())
            self.horizontalScrollBar().setValue(self.horizontalScrollBar().value() - event.pixelDelta().x())
            event.accept()

    # ---------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and key == Qt.Key.Key_C:
            QApplication.clipboard().setText(self.copied())
            count = len(self.selected()) or len(self.rows.items)
            self.place.desk.said.emit(f"Copied {count} {'row' if count == 1 else 'rows'}.")
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.item() is not None:
            self._act(self.currentIndex())
        elif self.cells and key == Qt.Key.Key_F2 and self.item() is not None:
            self.cell_acted.emit(self.item(), self.column())
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
            bar.setStyleSheet(
                f"QScrollBar {{ background: {colour(self.place.ground).name()}; border: none; }}"
                "QScrollBar:vertical { width: 12px; } QScrollBar:horizontal { height: 12px; }"
                f"QScrollBar::handle {{ background: {colour('line').name()}; min-height: 32px; min-width: 32px; margin: 3px; }}"
                "QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }"
                "QScrollBar::add-page, QScrollBar::sub-page { background: none; }"
            )
        if self._still:
            self._still.setPalette(palette)
            self._still.viewport().update()
            self._still.horizontalHeader().viewport().update()
        self.viewport().update()
        self.horizontalHeader().viewport().update()


ACROSS = (Qt.Key.Key_Left, Qt.Key.Key_Right)
MOVES = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
