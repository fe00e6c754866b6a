"""How bright a picture is, for the edges in it; read once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QImage

from homunculus.app.pictures import Pictures
from homunculus.core.plan.memory import Last

if TYPE_CHECKING:
    from numpy.typing import NDArray


class Brightness:
    """Of the one of the ``pictures`` that was asked for last."""

    def __init__(self, pictures: Pictures) -> None:
        self.pictures = pictures
        self._known: Last[NDArray[Any] | None] = Last()

    def of(self, name: str) -> NDArray[Any] | None:
        """A picture's brightness, rows by columns; none where it cannot be read."""
        return self._known.get((name,), lambda: self._read(name))

    def _read(self, name: str) -> NDArray[Any] | None:
        import numpy as np

        image = self.pictures.image(name)
        if image.isNull():
            return None
        plain = image.convertToFormat(QImage.Format.Format_Grayscale8)
        rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
        return rows[:, : plain.width()].astype(float)
