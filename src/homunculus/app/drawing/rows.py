"""The rows of a list as Qt asks for them, and what a bench says of them: columns, how a cell reads, how it is drawn."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any, Generic, NamedTuple, TypeVar

from PySide6.QtCore import QAbstractTableModel, QModelIndex, QPersistentModelIndex, QRectF, Qt

from homunculus.app.theme.ink import Ink

Item = TypeVar("Item")
Index = QModelIndex | QPersistentModelIndex
MOST_COMPARED = 5000
"""Rows up to which it is looked whether they are the same as before."""
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
    whole: Callable[[Item], bool] | None = None
    """Whether a row is drawn in one piece over all columns, as that of the first."""
    worth: Callable[[Item, str], Any] | None = None
    """What a cell is sorted by, none where it has no value; left out where the rows' order is their meaning."""


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
