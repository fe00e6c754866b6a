"""The form on a turntable: its surface as shaded points, near ones over far ones, with the cut marked on it.

Drawn without a graphics card, so that it looks the same everywhere and prints.
"""

from __future__ import annotations

import math
from typing import TYPE_CHECKING

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QImage

from homunculus.app.theme.ink import Ink

if TYPE_CHECKING:
    from numpy.typing import NDArray

    from homunculus.core.form.field import Field

QUARTER = math.pi / 2


class Turntable:
    """How the form is turned, and its picture, kept while nothing of it changes."""

    def __init__(self) -> None:
        self.yaw, self.tilt = 0.6, 0.42
        self._cloud: tuple[Field, NDArray, NDArray] | None = None  # type: ignore[type-arg]
        self._made: tuple[object, QImage, float] | None = None

    def turn(self, yaw: float, tilt: float = 0.0) -> None:
        """Turn it by so much [radians]; it never tips over."""
        self.yaw = (self.yaw + yaw) % (2 * math.pi)
        self.tilt = max(-0.2, min(self.tilt + tilt, QUARTER))

    def draw(self, ink: Ink, area: QRectF, field: Field | None, offset: float, angle: float) -> None:
        """Draw the form of a field into an area.

        Parameters
        ----------
        ink, area
            Where.
        field
            Of the form; without one only the table is drawn.
        offset, angle
            The cutting plane, in the form's own units and radians.
        """
        middle = QPointF(area.center().x(), area.bottom() - 12)
        ink.painter.setPen(ink.pen("line", 1.2))
        ink.painter.setBrush(ink.theme.colour("film"))
        flat = 6 + 18 * math.sin(max(0.0, self.tilt))
        ink.painter.drawEllipse(middle, area.width() * 0.46, flat)
        if field is None:
            return
        ratio = ink.painter.device().devicePixelRatio()
        key = (id(field), self.yaw, self.tilt, offset, angle, area.size().toTuple(), ratio, ink.theme.name)
        if self._made is None or self._made[0] != key:
            self._made = (
                key,
                *self._render(ink, field, offset, angle, (round(area.width() * ratio), round(area.height() * ratio))),
            )
        _, image, foot = self._made
        image.setDevicePixelRatio(ratio)
        ink.painter.drawImage(QPointF(area.x(), middle.y() - foot / ratio), image)

    def _render(
        self, ink: Ink, field: Field, offset: float, angle: float, size: tuple[int, int]
    ) -> tuple[QImage, float]:
        """The picture, and the row on which the foot of the form's axis stands in it."""
        import numpy as np  # only where a form is drawn

        if self._cloud is None or self._cloud[0] is not field:
            points, normals = field.surface()
            self._cloud = (field, points, normals)
        _, points, normals = self._cloud
        width, height = size
        low, high = points.min(axis=0), points.max(axis=0)
        x, y, z = points[:, 0] - field.middle[0], points[:, 1] - field.middle[1], points[:, 2] - low[2]
        sin, cos = math.sin(self.yaw), math.cos(self.yaw)
        up, deep = math.cos(self.tilt), math.sin(self.tilt)
        across, away = x * cos - y * sin, x * sin + y * cos
        rise, depth = z * up + away * deep, away * up - z * deep
        side = high - low
        reach = math.hypot(side[0], side[1])
        px = min(0.94 * width / max(reach, 1e-9), 0.9 * height / max(side[2] * up + reach * deep, 1e-9))
        foot = height - 1 - (reach * deep / 2) * px
        column = (width / 2 + across * px).astype(int)
        row = (foot - rise * px).astype(int)
        light = normals @ np.array([-0.35 * cos - 0.5 * sin, 0.35 * sin - 0.5 * cos, 0.79])
        cut = np.abs(y * math.cos(angle) - x * math.sin(angle) - offset) < max(0.6 * field.pitch, 0.8 / px)
        shade = np.clip(0.62 + 0.38 * light, 0.3, 1.0)
        clay, mark = ink.theme.colour("clay"), ink.theme.colour("decide")
        colour = np.where(cut[:, None], _rgb(np, mark), _rgb(np, clay) * shade[:, None]).astype(np.uint32)
        packed = (np.uint32(255) << 24) | (colour[:, 0] << 16) | (colour[:, 1] << 8) | colour[:, 2]
        far_first = np.argsort(-(depth - cut * field.pitch))
        canvas = np.zeros((height, width), np.uint32)
        dab = (
            np.arange(-1, 2)
            if field.pitch * px < 3
            else np.arange(-math.ceil(field.pitch * px / 2), math.ceil(field.pitch * px / 2) + 1)
        )
        columns = (column[far_first, None, None] + dab[None, :, None] + 0 * dab[None, None, :]).ravel()
        rows = (row[far_first, None, None] + dab[None, None, :] + 0 * dab[None, :, None]).ravel()
        inside = (columns >= 0) & (columns < width) & (rows >= 0) & (rows < height)
        canvas[rows[inside], columns[inside]] = np.repeat(packed[far_first], len(dab) ** 2)[
            inside
        ]  # the last, the nearest, stays
        image = QImage(canvas.tobytes(), width, height, width * 4, QImage.Format.Format_ARGB32).copy()
        return image, foot


def _rgb(np, colour: QColor) -> NDArray:  # type: ignore[no-untyped-def,type-arg]
    return np.array([colour.red(), colour.green(), colour.blue()], float)  # type: ignore[no-any-return]
