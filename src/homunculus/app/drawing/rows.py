"""One list for all benches: Qt's model and view, our own painting as its delegate.

Scrolling by wheel, touchpad and bar, selection of several rows, copying, columns whose widths are remembered, sorting where order
is not meaning, keys and speech come from Qt; a bench says which columns there are, how a cell reads and how it is drawn.
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
from PySide6.QtGui import QColor, QKeyEvent, QPainter, QPalette, QWheelEvent
from PySide6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QHeaderView,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTableView,
)

from homunculus.app.drawing.place import Place
from homunculus.app.theme.ink import Ink

Item = TypeVar("Item")
Index = QModelIndex | QPersistentModelIndex
HEAD_H = 24
OTHER = {"sheet": "film", "film": "sheet", "edge": "sheet"}
"""The ground of a chosen row, by that of the others."""
LEAST_W = 40
ITEM = Qt.ItemDataRole.UserRole


class Column(NamedTuple):
    """One column: its key, its head, how wide it is at first (0: what is left), whether rows may be sorted by it."""

    key: str
    title: str
    width: int
    sorted: bool = False


class Manner(NamedTuple, Generic[Item]):
    """How a list's rows are known, read, spoken and drawn."""

    known: Callable[[Item], object]
    """What a row is known by, so that it stays chosen when the rows change."""
    text: Callable[[Item, str], str]
    """A cell as it is copied and sorted by."""
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
        self._given: Sequence[Item] = ()
        self._count = 0
        """How many rows Qt knows of: what is shown may be a view of something that grows."""
        self._ends: tuple[object, object] | None = None
        self._by: tuple[str, bool] | None = None

    def put(self, items: Sequence[Item]) -> None:
        """Show these rows from now on; some that only came on top are added, which keeps a long list quick."""
        known = self.manner.known
        ends = (known(items[0]), known(items[len(items) - 1])) if items else None
        more = len(items) - self._count
        if self._by is None and self._ends and ends and more > 0 and (known(items[more]), ends[1]) == self._ends:
            self.beginInsertRows(QModelIndex(), 0, more - 1)
            self._take(items, ends)
            self.endInsertRows()
        else:
            self.beginResetModel()
            self._take(items, ends)
            self.endResetModel()

    def _take(self, items: Sequence[Item], ends: tuple[object, object] | None) -> None:
        self._given, self._count, self._ends = items, len(items), ends
        self._order()

    def _order(self) -> None:
        if self._by is None:
            self.items = self._given
        else:
            key, down = self._by
            self.items = sorted(self._given, key=lambda item: self.manner.text(item, key).casefold(), reverse=down)

    def sort(self, column: int, order: Qt.SortOrder = Qt.SortOrder.AscendingOrder) -> None:
        """Order the rows by a column; by none as they were given."""
        chosen = self.columns[column] if 0 <= column < len(self.columns) else None
        by = (chosen.key, order == Qt.SortOrder.DescendingOrder) if chosen and chosen.sorted else None
        if by != self._by:
            self.layoutAboutToBeChanged.emit()
            self._by = by
            self._order()
            self.layoutChanged.emit()

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
            return (
                self.manner.said(item)
                if index.column() == 0
                else self.manner.text(item, self.columns[index.column()].key)
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
        if row == view.currentIndex().row() and (view.hasFocus() or view.led) and index.column() == 0:
            ink.box(area.left(), area.top() + 1, 4, area.height() - 3, fill="ink")
        painter.restore()

    def sizeHint(self, _option: QStyleOptionViewItem, _index: Index) -> QSize:
        return QSize(LEAST_W, self._view.row_height)


class _Head(QHeaderView):
    """Heads of columns, ruled; a sorted one says so."""

    def __init__(self, view: RowList[Any]) -> None:
        super().__init__(Qt.Orientation.Horizontal, view)
        self._view = view
        self.setSectionsClickable(True)
        self.setSortIndicatorClearable(True)
        self.setMinimumSectionSize(LEAST_W)
        self.setFixedHeight(HEAD_H)

    def paintSection(self, painter: QPainter, rect: Any, index: int) -> None:
        theme = self._view.place.theme()
        ink, area, column = Ink(painter, theme), QRectF(rect), self._view.rows.columns[index]
        painter.fillRect(area, theme.colour(self._view.place.ground))
        words = column.title
        if self.sortIndicatorSection() == index and column.sorted:
            words += " ▴" if self.sortIndicatorOrder() == Qt.SortOrder.AscendingOrder else " ▾"
        ink.text(area.left() + 10, area.bottom() - 8, ink.squeezed(area.width() - 14, words, "tick"), "tick", "ink2")
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
    led
        Whether the keyboard stays elsewhere and only leads it, as in a box with a line to type into.
    """

    acted = Signal(object)
    """Enter, or a double click, on a row."""

    def __init__(self, place: Place, name: str, columns: Sequence[Column], manner: Manner[Item], row_height: int,
                 *, heads: bool = True, led: bool = False) -> None:  # fmt: skip
        super().__init__(place)
        self.place, self.name, self.row_height, self.led = place, name, row_height, led
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
        self.setSortingEnabled(any(column.sorted for column in columns))
        head.setSortIndicator(-1, Qt.SortOrder.AscendingOrder)
        self._restore(columns)
        head.sectionResized.connect(self._remember)
        self.doubleClicked.connect(lambda index: self.acted.emit(index.data(ITEM)))
        self._known: object = None
        self.selectionModel().currentRowChanged.connect(self._moved)

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
        known, top = self._known, self.verticalScrollBar().value()
        self.rows.put(items)
        if known is not None:
            for row in range(min(len(items), 2000)):  # further down it is no longer in sight either
                if self.rows.manner.known(self.rows.items[row]) == known:
                    self.choose(row)
                    break
        self.verticalScrollBar().setValue(top)

    def item(self) -> Item | None:
        """The row that the keyboard is on."""
        found: Item | None = self.currentIndex().data(ITEM) if self.currentIndex().isValid() else None
        return found

    def selected(self) -> list[Item]:
        """The rows that are chosen, from the top."""
        return [self.rows.items[i] for i in sorted({index.row() for index in self.selectionModel().selectedRows()})]

    def choose(self, row: int) -> None:
        """Bring the keyboard to a row, and the row into sight."""
        index = self.rows.index(row, 0)
        flags = QItemSelectionModel.SelectionFlag.ClearAndSelect | QItemSelectionModel.SelectionFlag.Rows
        self.selectionModel().setCurrentIndex(index, flags)
        self.scrollTo(index)

    def row_area(self) -> QRectF:
        """Where the chosen row lies on the bench."""
        area = self.visualRect(self.currentIndex()).translated(
            self.viewport().mapTo(self.place, self.viewport().rect().topLeft())
        )
        return QRectF(area).united(QRectF(area.left(), area.top(), self.viewport().width(), area.height()))

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
            event.accept()

    # ---------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key = event.key()
        if event.modifiers() & Qt.KeyboardModifier.ControlModifier and key == Qt.Key.Key_C:
            QApplication.clipboard().setText(self.copied())
            count = len(self.selected()) or len(self.rows.items)
            self.place.desk.said.emit(f"Copied {count} {'row' if count == 1 else 'rows'}.")
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter) and self.item() is not None:
            self.acted.emit(self.item())
        elif key in (Qt.Key.Key_Home, Qt.Key.Key_End) and self.rows.items:
            self.choose(0 if key == Qt.Key.Key_Home else len(self.rows.items) - 1)
        elif key in MOVES or (event.modifiers() & Qt.KeyboardModifier.ControlModifier and key == Qt.Key.Key_A):
            super().keyPressEvent(event)
        else:
            event.ignore()  # letters and Escape are the bench's and the window's

    def focusInEvent(self, event: Any) -> None:
        if not self.currentIndex().isValid() and self.rows.items:
            self.choose(0)
        super().focusInEvent(event)

    def recolour(self) -> None:
        """Take on the colours in use."""
        colour, palette = self.place.theme().colour, self.palette()
        for role in (QPalette.ColorRole.Base, QPalette.ColorRole.Window):
            palette.setColor(role, QColor(colour(self.place.ground)))
        self.setPalette(palette)
        self.verticalScrollBar().setStyleSheet(
            f"QScrollBar {{ background: {colour(self.place.ground).name()}; width: 12px; border: none; }}"
            f"QScrollBar::handle {{ background: {colour('line').name()}; min-height: 32px; margin: 2px 2px 2px 4px; }}"
            "QScrollBar::add-line, QScrollBar::sub-line, QScrollBar::add-page, QScrollBar::sub-page { height: 0; background: none; }"
        )
        self.viewport().update()
        self.horizontalHeader().viewport().update()


MOVES = (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
