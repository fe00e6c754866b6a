"""The pen: text, numbers with units, rules, lozenges, tags, plates, in the colours of the theme."""

from __future__ import annotations

from typing import Literal

from PySide6.QtCore import QLineF, QPoint, QPointF, QRectF, Qt
from PySide6.QtGui import QBrush, QFont, QPainter, QPainterPath, QPen, QPixmap, QPolygonF, QStaticText
from PySide6.QtWidgets import QWidget

from homunculus.app.theme import Theme
from homunculus.app.theme.hatch import hatch
from homunculus.app.theme.setting import Setting
from homunculus.core.showing import Shown

Align = Literal["left", "right", "centre"]
_DOTS: dict[tuple[str, float, str, str, float], QPixmap] = {}
_STRIPS: dict[tuple[int, int, str], QPixmap] = {}


class _Laid:
    """Words in a font, measured, and shaped from the second time on: labels are drawn sixty times a second."""

    __slots__ = ("_seen", "_shaped", "_words", "ascent", "font", "width")

    def __init__(self, words: str, font: QFont, width: float, ascent: float) -> None:
        self.font, self.width, self.ascent = font, width, ascent
        self._words, self._seen = words, False
        self._shaped: QStaticText | None = None

    def shaped(self) -> QStaticText | None:
        """The words shaped; none the first time, for most are drawn once."""
        if self._shaped is None and self._seen:
            self._shaped = QStaticText(self._words)
            self._shaped.setTextFormat(Qt.TextFormat.PlainText)
            self._shaped.setPerformanceHint(QStaticText.PerformanceHint.AggressiveCaching)
            self._shaped.prepare(font=self.font)
        self._seen = True
        return self._shaped


_LAID: dict[tuple[str, str, int, float], _Laid] = {}


class Ink(Setting):
    """Draws on one painter with one theme. Positions are baselines, in pixels of the widget."""

    def __init__(self, painter: QPainter, theme: Theme, *, quick: bool = False, paper: bool = False) -> None:
        super().__init__(theme)
        self._paper = paper
        """Whether text must stay text, as on a page that is printed."""
        self.painter = painter
        self._quick = quick
        self._font: QFont | None = None
        # Lines are drawn coarse while something is dragged, and smooth again when the hand lets go; text is not.
        painter.setRenderHint(QPainter.RenderHint.Antialiasing, not quick)
        painter.setRenderHint(QPainter.RenderHint.TextAntialiasing)

    # ------------------------------------------------------------------------------------- text
    def text(
        self, x: float, y: float, words: str, role: str = "body", colour: str = "ink", align: Align = "left",
        weight: int = 0, ratio: float = 1.0,
    ) -> float:  # fmt: skip
        """Write words with their baseline at y; return their width."""
        key = (words, role, weight, ratio)
        laid = _LAID.get(key)
        if laid is None:
            if len(_LAID) > 6000:
                _LAID.clear()
            laid = _LAID[key] = _Laid(
                words, self.theme.font(role, weight, ratio), self.width(*key), self._ascent(role, weight, ratio)
            )
        if align == "right":
            x -= laid.width
        elif align == "centre":
            x -= laid.width / 2
        painter = self.painter
        if laid.font is not self._font:
            self._font = laid.font
            painter.setFont(laid.font)
        painter.setPen(self.theme.colour(colour))
        shaped = None if self._paper else laid.shaped()
        if shaped is None:
            painter.drawText(QPointF(x, y), words)
        else:
            painter.drawStaticText(QPointF(x, y - laid.ascent), shaped)
        return laid.width

    def dot(self, x: float, y: float, radius: float, *, fill: str = "ink", edge: str = "ink") -> None:
        """A round dot, painted once and stamped where it is wanted."""
        theme, ratio = self.theme, self.painter.device().devicePixelRatio()
        key = (theme.name, radius, fill, edge, ratio)
        stamp = _DOTS.get(key)
        if stamp is None:
            side = round((2 * radius + 4) * ratio)
            stamp = QPixmap(side, side)
            stamp.setDevicePixelRatio(ratio)
            stamp.fill(Qt.GlobalColor.transparent)
            painter = QPainter(stamp)
            painter.setRenderHint(QPainter.RenderHint.Antialiasing)
            painter.setPen(QPen(theme.colour(edge), 1.2))
            painter.setBrush(theme.colour(fill))
            painter.drawEllipse(QPointF(radius + 2, radius + 2), radius, radius)
            painter.end()
            _DOTS[key] = stamp
        self.painter.drawPixmap(QPointF(x - radius - 2, y - radius - 2), stamp)

    def number(
        self, x: float, y: float, shown: Shown, role: str, colour: str = "ink", align: Align = "left",
        *, equals: bool = False, ratio: float = 1.0,
    ) -> float:  # fmt: skip
        """Write a number and, smaller, its unit; a reckoned one after an equals sign. Return the width."""
        width = self.number_width(shown, role, equals=equals, ratio=ratio)
        if align == "right":
            x -= width
        elif align == "centre":
            x -= width / 2
        if equals:
            x += self.text(x, y, "=", role, colour, weight=500, ratio=0.8 * ratio) + 0.22 * self.theme.size(role)
        x += self.text(x, y, shown.number, role, colour, ratio=ratio)
        if shown.unit:
            x += 0.16 * self.theme.size(role)
            self.text(x, y, shown.unit, role, colour, weight=500, ratio=self.theme.unit_ratio * ratio)
        return width

    def paragraph(
        self, x: float, y: float, room: float, words: str, role: str = "body", colour: str = "ink2", most: int = 99
    ) -> float:
        """Write words over several lines; return the baseline after the last.

        If they do not fit into ``most`` lines, the last one shows by its gap that something is left out.
        """
        for line in self.within(room, words, role, most):
            self.text(x, y, line, role, colour)
            y += round(self.theme.size(role) * 1.28)
        return y

    # ------------------------------------------------------------------------------------ lines
    def pen(self, colour: str, width: float = 1.0, dash: str = "") -> QPen:
        """A pen of a colour; ``dash`` names one of the theme's. While something is dragged what is hardly wider than a pixel is one wide: ten times as fast."""
        return self.theme.pen(colour, 1.0 if self._quick and 1.0 < width < 2.0 else width, dash)

    def rule(
        self, x1: float, y1: float, x2: float, y2: float, colour: str = "ink", width: float = 1.0, dash: str = ""
    ) -> None:
        """Draw a straight line; level and upright ones lie on whole pixels, crisp and cheap."""
        if not dash and (x1 == x2 or y1 == y2):
            thick = max(1, round(width))
            left, top = (
                round(min(x1, x2) - (thick / 2 if x1 == x2 else 0)),
                round(min(y1, y2) - (thick / 2 if y1 == y2 else 0)),
            )
            across = thick if x1 == x2 else round(abs(x2 - x1))
            down = thick if y1 == y2 else round(abs(y2 - y1))
            self.painter.fillRect(left, top, across, down, self.theme.colour(colour))
            return
        if dash and y1 == y2:
            self._dashes(x1, x2, y1, colour, width, dash)
            return
        self.painter.setPen(self.theme.pen(colour, width, dash))
        self.painter.drawLine(QPointF(x1, y1), QPointF(x2, y2))

    def _dashes(self, x1: float, x2: float, y: float, colour: str, width: float, dash: str) -> None:
        """A level dashed line on whole pixels, stamped from a strip of its pattern."""
        thick, part = max(1, round(width)), self.theme.colour(colour)
        key = (part.rgb(), thick, dash)
        strip = _STRIPS.get(key)
        if strip is None:
            lengths = self.theme.dash[dash]
            strip = QPixmap(round(40 * sum(lengths)), thick)
            strip.fill(Qt.GlobalColor.transparent)
            painter, x, i = QPainter(strip), 0.0, 0
            while x < strip.width():
                step = lengths[i % len(lengths)]
                if i % 2 == 0:
                    painter.fillRect(round(x), 0, max(1, round(step)), thick, part)
                x, i = x + step, i + 1
            painter.end()
            _STRIPS[key] = strip
        self.painter.drawTiledPixmap(round(x1), round(y - thick / 2), round(x2 - x1), thick, strip)

    def rules(self, ends: list[tuple[float, float, float, float]], colour: str, width: float = 1.0) -> None:
        """Draw many straight lines at once."""
        self.painter.setPen(self.theme.pen(colour, width, ""))
        self.painter.drawLines([QLineF(*line) for line in ends])

    def box(self, x: float, y: float, w: float, h: float, fill: str = "", edge: str = "", width: float = 1.0) -> None:
        """Draw a rectangle, filled, edged or both."""
        if fill:
            self.painter.fillRect(QRectF(x, y, w, h), self.theme.colour(fill))
        if edge:
            self.painter.setBrush(Qt.BrushStyle.NoBrush)
            self.painter.setPen(self.pen(edge, width))
            self.painter.drawRect(QRectF(x, y, w, h))

    def hatched(self, area: QPainterPath | QRectF, name: str, colour: str, ground: str = "") -> None:
        """Fill an area with a pattern on the window's one grid; with a ``ground`` in one go with what is behind it."""
        painter = self.painter
        device = painter.device()
        if isinstance(device, QWidget):
            shift = device.mapTo(device.window(), QPoint(0, 0))
            painter.setBrushOrigin(-shift.x(), -shift.y())
        behind = self.theme.colour(ground).name() if ground else ""
        brush: QBrush = hatch(name, self.theme.colour(colour).name(), device.devicePixelRatio(), behind)
        if isinstance(area, QRectF):
            painter.fillRect(area, brush)
        else:
            painter.fillPath(area, brush)

    def plate(self, x: float, y: float, w: float, h: float, colour: str = "sheet") -> None:
        """A piece of sheet behind a label, so that it never lies straight on a hatch."""
        self.painter.fillRect(QRectF(x - 2, y - 2, w + 4, h + 4), self.theme.colour(colour))

    def dimension(self, x1: float, y1: float, x2: float, y2: float, colour: str = "ink") -> None:
        """A dimension line with a slash at either end."""
        self.rule(x1, y1, x2, y2, colour, 1.0)
        for x, y in ((x1, y1), (x2, y2)):
            self.rule(x - 4, y + 4, x + 4, y - 4, colour, self.theme.line["dimension_slash"])

    def arrow(self, x: float, y: float, length: float, colour: str = "ink2") -> None:
        """A small arrow to the right, its shaft at y."""
        tip = x + length
        self.rules([(x, y, tip, y), (tip - 4, y - 3, tip, y), (tip - 4, y + 3, tip, y)], colour, 1.1)

    # ------------------------------------------------------------------------------------ signs
    def lozenge(self, x: float, y: float, size: float = 10, colour: str = "decide", *, hollow: bool = False) -> None:
        """The sign that you may take hold here; hollow for another view of the same value."""
        r = size / 2
        shape = QPolygonF([QPointF(x, y - r), QPointF(x + r, y), QPointF(x, y + r), QPointF(x - r, y)])
        self.painter.setPen(self.pen(colour, 1.5))
        self.painter.setBrush(self.theme.colour("sheet") if hollow else self.theme.colour(colour))
        self.painter.drawPolygon(shape)

    def decided(
        self,
        x: float,
        y: float,
        shown: Shown,
        role: str,
        align: Align = "left",
        ratio: float = 1.0,
        *,
        begun: bool = False,
    ) -> float:
        """A decided value: terracotta, underlined, a lozenge at the end; dashed where nobody has decided it yet. Return the width."""
        width = self.number_width(shown, role, ratio=ratio)
        if align == "right":
            x -= width + 6
        elif align == "centre":
            x -= width / 2
        self.number(x, y, shown, role, "decide", ratio=ratio)
        drop = 4 + 0.1 * self.theme.size(role) * ratio
        self.rule(x, y + drop, x + width + 4, y + drop, "decide", 1.5, "hidden" if begun else "")
        self.lozenge(x + width + 5, y + drop, hollow=begun)
        return width

    def tag(self, x: float, y: float, level: str) -> None:
        """A paper hang tag, pointing left at its subject; danger is filled and torn across."""
        shape = QPainterPath(QPointF(x, y + 6.5))
        for px, py in ((5, 0), (17, 0), (17, 13), (5, 13)):
            shape.lineTo(x + px, y + py)
        shape.closeSubpath()
        danger = level == "danger"
        self.painter.setPen(self.pen(level, 1.4))
        self.painter.setBrush(self.theme.colour("danger" if danger else "mind_t"))
        self.painter.drawPath(shape)
        paper = "sheet" if danger else "mind"
        self.painter.setPen(self.pen(paper, 1.2))
        self.painter.setBrush(Qt.BrushStyle.NoBrush)
        self.painter.drawEllipse(QPointF(x + 5, y + 6.5), 1.4, 1.4)
        if danger:
            self.painter.setPen(self.pen("film", 2))
            self.painter.drawPolyline([QPointF(x + 12, y - 1), QPointF(x + 9, y + 5), QPointF(x + 13, y + 8),
                                       QPointF(x + 10, y + 14)])  # fmt: skip
        else:
            self.rule(x + 11, y + 3, x + 11, y + 7.6, paper, 1.8)
            self.painter.setBrush(self.theme.colour(paper))
            self.painter.drawEllipse(QPointF(x + 11, y + 9.8), 0.6, 0.6)

    def key(self, x: float, y: float, name: str, words: str) -> None:
        """A key cap and what it does; y is the middle."""
        cap = max(20.0, self.width(name, "tick", 600) + 10)
        self.box(x, y - 10, cap, 19, edge="line")
        self.text(x + cap / 2, y + 4, name, "tick", "ink", "centre", 600)
        self.text(x + max(cap, 20) + 8, y + 4.5, words, "note", "ink2")

    def ticks(self, area: QRectF, legs: float = 8) -> None:
        """Four corner ticks: where the focus is."""
        left, top, right, bottom = area.left() + 1, area.top() + 1, area.right() - 1, area.bottom() - 1
        for x, dx in ((left, legs), (right, -legs)):
            for y, dy in ((top, legs), (bottom, -legs)):
                self.rule(x, y, x + dx, y, "ink", 2)
                self.rule(x, y, x, y + dy, "ink", 2)
