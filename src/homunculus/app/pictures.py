"""The pictures of the job folder, read once, upright as they were taken, within bounds."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TypeVar

from PySide6.QtGui import QImage, QImageReader, QPixmap

from homunculus.core.errors import UserError

MOST_PIXELS = 100_000_000
KEPT = 40
One = TypeVar("One", QImage, QPixmap)


class Pictures:
    """Pictures by the names under which the job folder keeps them.

    Parameters
    ----------
    folder
        The job folder, as it is now.
    say
        What is wrong with one is said there.
    """

    def __init__(self, folder: Callable[[], Path], say: Callable[[str], object]) -> None:
        self._folder, self._say = folder, say
        self._images: dict[str, QImage] = {}
        self._pixmaps: dict[str, QPixmap] = {}

    def image(self, name: str) -> QImage:
        """A picture to be measured; null where there is none, it is no longer there or is too large."""
        known = self._images.get(name)
        return known if known is not None else _kept(self._images, name, self._read(name))

    def pixmap(self, name: str) -> QPixmap:
        """The same, to be drawn."""
        known = self._pixmaps.get(name)
        return known if known is not None else _kept(self._pixmaps, name, QPixmap.fromImage(self._read(name)))

    def _read(self, name: str) -> QImage:
        from homunculus.store.pictures import picture_file  # no start needs it

        if not name:
            return QImage()
        try:
            source = QImageReader(str(picture_file(self._folder(), name)))
        except UserError as trouble:
            self._say(str(trouble))
            return QImage()
        source.setAutoTransform(True)
        size = source.size()
        return source.read() if 0 < size.width() * size.height() <= MOST_PIXELS else QImage()


def _kept(known: dict[str, One], name: str, one: One) -> One:
    """Keep one that could be read, of so many at most; what is missing may come back."""
    if not one.isNull():
        if len(known) >= KEPT:
            known.clear()
        known[name] = one
    return one
