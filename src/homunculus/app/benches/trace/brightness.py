"""How bright a picture is, for the edges in it; read once."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QImage

from homunculus.app.pictures import Pictures

if TYPE_CHECKING:
    from numpy.typing import NDArray


class Brightness:
    """Of the one of the ``pictures`` that was asked for last."""

    def __init__(self, pictures: Pictures) -> None:
        self.pictures = pictures
        self._known: tuple[str, Any] = ("", None)

    def of(self, name: str) -> NDArray[Any] | None:
        """A picture's brightness, rows by columns; none where it cannot be read."""
        import numpy as np

        if self._known[0] != name:
            image = self.pictures.image(name)
            found: NDArray[Any] | None = None
            if not image.isNull():
                plain = image.convertToFormat(QImage.Format.Format_Grayscale8)
                rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
                found = rows[:, : plain.width()].astype(float)
            self._known = (name, found)
        return self._known[1]  # type: ignore[no-any-return]
