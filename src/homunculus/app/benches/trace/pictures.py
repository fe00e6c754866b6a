"""The pictures that lie under pieces, read once: to be drawn, and as brightness for the edges in them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PySide6.QtGui import QImage, QImageReader

from homunculus.app.desk import Desk
from homunculus.core.errors import UserError

if TYPE_CHECKING:
    from numpy.typing import NDArray

MOST_PIXELS = 100_000_000


class Pictures:
    """Pictures of the job folder of a ``desk``."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._images: dict[str, QImage] = {}
        self._grey: tuple[str, Any] = ("", None)

    def image(self, name: str) -> QImage:
        """A picture of the job folder; null when it is no longer there or is too large."""
        from homunculus.store.pictures import picture_file

        if name not in self._images:
            image = QImage()
            try:
                source = QImageReader(str(picture_file(self.desk.folder.path, name)))
                source.setAutoTransform(True)
                size = source.size()
                if 0 < size.width() * size.height() <= MOST_PIXELS:
                    image = source.read()
            except UserError as trouble:
                self.desk.said.emit(str(trouble))
            self._images[name] = image
        return self._images[name]

    def grey(self, name: str) -> NDArray[Any] | None:
        """A picture's brightness, rows by columns; none where it cannot be read."""
        import numpy as np

        if self._grey[0] != name:
            image = self.image(name)
            found: NDArray[Any] | None = None
            if not image.isNull():
                plain = image.convertToFormat(QImage.Format.Format_Grayscale8)
                rows = np.frombuffer(plain.constBits(), np.uint8).reshape(plain.height(), plain.bytesPerLine())
                found = rows[:, : plain.width()].astype(float)
            self._grey = (name, found)
        return self._grey[1]  # type: ignore[no-any-return]
