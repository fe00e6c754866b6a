"""Pages for the floor: drawn with the same pen as the screen, written as PDF with text that stays text."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, QMarginsF, QSizeF
from PySide6.QtGui import QPageLayout, QPageSize, QPainter, QPdfWriter

from homunculus.app.theme import Theme
from homunculus.app.theme.ink import Ink

POINTS = 72
WIDTH, HEIGHT = 842.0, 595.0
"""A4 lying, in points: on screen a page is as large as on paper."""


def pdf_of(
    title: str, theme: Theme, pages: Sequence[Callable[[Ink], None]], going_on: Callable[[int], bool] | None = None
) -> bytes | None:
    """Draw ``pages`` with a ``theme``'s ink on A4 lying, and return them as a PDF called ``title``.

    ``going_on`` is asked before every page, by its number from 0; where it says no, nothing comes back.
    """
    content = QByteArray()
    buffer = QBuffer(content)
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(buffer)
    writer.setTitle(title)
    writer.setCreator("Homunculus")
    writer.setResolution(POINTS)
    size = QPageSize(QSizeF(HEIGHT, WIDTH), QPageSize.Unit.Point)
    writer.setPageLayout(QPageLayout(size, QPageLayout.Orientation.Landscape, QMarginsF(0, 0, 0, 0)))
    painter = QPainter(writer)
    try:
        for index, draw in enumerate(pages):
            if going_on and not going_on(index):
                return None
            if index:
                writer.newPage()
            draw(Ink(painter, theme, paper=True))
    finally:
        painter.end()
    buffer.close()
    return bytes(content.data())
