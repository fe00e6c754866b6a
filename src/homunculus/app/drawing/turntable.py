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
    from homunculus.core.form.field import Field

QUARTER = math.pi / 2


class Turntable:
    """How the form is turned, and its picture. Which points are seen is kept for as long as it stands still."""

    def __init__(self) -> None:
        self.yaw, self.tilt = 0.6, 0.42
        self._seen: tuple[object, _View] | None = None
        self._made: tuple[object, QImage] | None = None

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
        size = (round(area.width() * ratio), round(area.height() * ratio))
        at = (field, self.yaw, self.tilt, size)
        if self._seen is None or self._seen[0] != at:
            self._seen = (at, _View(field, self.yaw, self.tilt, size))
        view = self._seen[1]
        key = (at, offset, angle, ink.theme.name)
        if self._made is None or self._made[0] != key:
            self._made = (key, view.picture(offset, angle, ink.theme.colour("clay"), ink.theme.colour("decide")))
        image = self._made[1]
        image.setDevicePixelRatio(ratio)
        ink.painter.drawImage(QPointF(area.x(), middle.y() - view.foot / ratio), image)


class _View:
    """The points of a form's surface that are seen from one side: one for each pixel, the nearest.

    Parameters
    ----------
    field
        Of the form.
    yaw, tilt
        How it is turned [radians].
    size
        Width and height of the picture in the device's pixels.
    """

    def __init__(self, field: Field, yaw: float, tilt: float, size: tuple[int, int]) -> None:
        import numpy as np  # only where a form is drawn

        self._np = np
        points, normals = field.surface()
        self.width, self.height = size
        low, high = points.min(axis=0), points.max(axis=0)
        x, y, z = points[:, 0] - field.middle[0], points[:, 1] - field.middle[1], points[:, 2] - low[2]
        sin, cos, up, deep = math.sin(yaw), math.cos(yaw), math.cos(tilt), math.sin(tilt)
        across, away = x * cos - y * sin, x * sin + y * cos
        rise, depth = z * up + away * deep, away * up - z * deep
        side = high - low
        reach = math.hypot(side[0], side[1])
        px = min(0.94 * self.width / max(reach, 1e-9), 0.9 * self.height / max(side[2] * up + reach * deep, 1e-9))
        self.foot = self.height - 1 - (reach * deep / 2) * px
        """The row on which the foot of the form's axis stands."""
        order = np.argsort(-depth)  # far first: of several points on a pixel the last, the nearest, stays
        half = max(1, math.ceil(field.pitch * px / 2))
        dab = np.arange(-half, half + 1)
        columns = (
            (self.width / 2 + across * px).astype(int)[order, None, None] + dab[None, :, None] + 0 * dab[None, None, :]
        ).ravel()
        rows = (
            (self.foot - rise * px).astype(int)[order, None, None] + dab[None, None, :] + 0 * dab[None, :, None]
        ).ravel()
        inside = (columns >= 0) & (columns < self.width) & (rows >= 0) & (rows < self.height)
        owner = np.full(self.height * self.width, -1)
        owner[rows[inside] * self.width + columns[inside]] = np.repeat(order, len(dab) ** 2)[inside]
        self._pixels = np.flatnonzero(owner >= 0)
        seen = owner[self._pixels]
        light = normals[seen] @ np.array([-0.35 * cos - 0.5 * sin, 0.35 * sin - 0.5 * cos, 0.79])
        self._shade = np.clip(0.62 + 0.38 * light, 0.3, 1.0)
        self._x, self._y = x[seen], y[seen]
        self._near = max(0.6 * field.pitch, 0.8 / px)

    def picture(self, offset: float, angle: float, clay: QColor, mark: QColor) -> QImage:
        """The form in ``clay``, with the cut of a plane marked on it."""
        np = self._np
        cut = np.abs(self._y * math.cos(angle) - self._x * math.sin(angle) - offset) < self._near
        packed = np.full(len(self._shade), np.uint32(0xFF000000))
        for shift, base, marked in (
            (16, clay.red(), mark.red()),
            (8, clay.green(), mark.green()),
            (0, clay.blue(), mark.blue()),
        ):
            packed |= np.where(cut, marked, base * self._shade).astype(np.uint32) << shift
        canvas = np.zeros(self.height * self.width, np.uint32)
        canvas[self._pixels] = packed
        return QImage(canvas.tobytes(), self.width, self.height, self.width * 4, QImage.Format.Format_ARGB32).copy()
