"""Drawings made of lines (SVG) as pictures made of pixels. Run in a process of its own (:mod:`homunculus.exchange.apart`)."""

from __future__ import annotations

import os

from PySide6.QtCore import QBuffer, QByteArray, QIODevice, Qt
from PySide6.QtGui import QGuiApplication, QImage, QPainter
from PySide6.QtSvg import QSvgRenderer

from homunculus.core.errors import UserError

LONGEST_PX = 1600


def svg_as_png(data: bytes, name: str) -> bytes:
    """Draw an SVG on white, its longer side 1600 pixels, and return it as PNG.

    Parameters
    ----------
    data
        The file.
    name
        Its name, for messages.

    Raises
    ------
    UserError
        When it is none, or has no size.
    """
    os.environ["QT_QPA_PLATFORM"] = "offscreen"
    application = QGuiApplication.instance() or QGuiApplication([])
    renderer = QSvgRenderer(QByteArray(data))
    size = renderer.defaultSize()
    if not renderer.isValid() or size.isEmpty():
        raise UserError(f"{name} is no drawing that can be shown", name, "Export it as SVG again, or as PNG")
    image = QImage(size.scaled(LONGEST_PX, LONGEST_PX, Qt.AspectRatioMode.KeepAspectRatio), QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    renderer.render(painter)
    painter.end()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")  # type: ignore[call-overload]
    del application
    return bytes(buffer.data().data())
