"""The drawing of a course: the cure above, air and mould below, over the same hours with their nights."""

from __future__ import annotations

import math
from datetime import datetime, timedelta

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainterPath, QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core.cure.curve import Point, WhatIf
from homunculus.core.plan.course import CureCourse
from homunculus.core.showing import Shown, show, show_clock, show_day, trimmed

LEFT, TOP, FOOT = 64.0, 158.0, 318.0
AIR_TOP, AIR_FOOT = 334.0, 406.0
RESTING_C = 23.0
FULLEST = 1.25
"""Share of the demould cure at the top of the drawing."""


class Chart:
    """Where the hours and degrees of a course stand on a bench of that width, and how they are drawn."""

    def __init__(self, desk: Desk, course: CureCourse, what_if: WhatIf, width: float) -> None:
        self.desk, self.course, self.what_if, self.width = desk, course, what_if, width
        self.begin = what_if.start or course.start

    @property
    def night(self) -> float:
        """The night's temperature, as tried or as it is [°C]."""
        return self.desk.job.shop.air.night_c if self.what_if.night_c is None else self.what_if.night_c

    def _shown_c(self, celsius: float) -> Shown:
        return show(celsius, "temperature", self.desk.system)

    def draw(self, ink: Ink) -> None:
        """Draw all of it."""
        self.draw_nights(ink)
        self._curve(ink)
        self._air(ink)
        self._axis(ink)

    def _line(self, points: list[tuple[float, float]], begin: datetime) -> QPolygonF:
        found = [QPointF(self.x_of(begin + timedelta(seconds=t)), self.y_air(c)) for t, c in points]
        return QPolygonF([p for p in found if p.x() <= self.width - 40])

    def x_of(self, moment: datetime) -> float:
        """Where a moment stands on the axis."""
        first, last = self.course.window()
        room = self.width - LEFT - 40
        return LEFT + room * (moment - first).total_seconds() / (last - first).total_seconds()

    def px_per_s(self) -> float:
        first, last = self.course.window()
        return (self.width - LEFT - 40) / (last - first).total_seconds()

    def _y_done(self, done: float) -> float:
        return FOOT - (FOOT - TOP) * min(done, FULLEST) / FULLEST

    def degrees(self) -> tuple[float, float]:
        """Lowest and highest temperature on the strip."""
        told = [p.air for p in self.course.points] + [p.mould for p in self.course.points] + [RESTING_C]
        told += [p.mould for p in self.course.tried]
        if self.course.card.least_c:
            told.append(self.course.card.least_c.value)
        return min(told) - 2, max(told) + 2

    def y_air(self, celsius: float) -> float:
        low, high = self.degrees()
        return AIR_FOOT - (AIR_FOOT - AIR_TOP) * (celsius - low) / (high - low)

    def draw_nights(self, ink: Ink) -> None:
        first, last = self.course.window()
        air, day = (
            self.desk.job.shop.air,
            datetime.combine(first.date() - timedelta(days=1), self.desk.job.shop.air.warm_to),
        )
        while day < last:
            end = datetime.combine(day.date() + timedelta(days=1), air.warm_from)
            left, right = max(LEFT, self.x_of(day)), min(self.width - 40, self.x_of(end))
            if right > left:
                ink.box(left, TOP - 12, right - left, AIR_FOOT - TOP + 12, fill="night")
            day += timedelta(days=1)
        for a, b in self.course.gaps:
            left, right = max(LEFT, self.x_of(a)), min(self.width - 40, self.x_of(b))
            if right > left:
                gap = QRectF(left, AIR_TOP, right - left, AIR_FOOT - AIR_TOP)
                ink.hatched(gap, "past", "hair")
                ink.plate(gap.x() + 2, gap.y(), ink.width("no reading", "tick"), 13)
                ink.text(gap.x() + 2, gap.y() + 11, "no reading", "tick", "ink2")

    def _done_line(self, points: tuple[Point, ...], begin: datetime) -> list[QPointF]:
        """The line of what is done, up to the top of the drawing and its right edge."""
        found = [
            QPointF(self.x_of(begin + timedelta(seconds=p.seconds)), self._y_done(p.done))
            for p in points
            if p.done <= FULLEST
        ]
        return [p for p in found if p.x() <= self.width - 40]

    def _curve(self, ink: Ink) -> None:
        full = self._y_done(1.0)
        ink.rule(LEFT, full, self.width - 40, full, "reckon", 1.2)
        ink.text(LEFT - 6, full + 4, "opens", "tick", "reckon", "right")
        for share in (0.25, 0.5, 0.75):
            ink.text(LEFT - 6, self._y_done(share) + 4, str(trimmed(show(share, "share"))), "tick", "ink2", "right")
        line = self._done_line(self.course.points, self.course.start)
        if line:
            under = QPainterPath(QPointF(line[0].x(), FOOT))
            for point in line:
                under.lineTo(point)
            under.lineTo(line[-1].x(), FOOT)
            under.closeSubpath()
            ink.hatched(under, "curing", "ink2")
        painter = ink.painter
        painter.setPen(ink.pen("ink", 2.25))
        painter.drawPolyline(QPolygonF(line))
        if self.course.tried:
            painter.setPen(ink.pen("decide", 2.25, "limit"))
            painter.drawPolyline(QPolygonF(self._done_line(self.course.tried, self.begin)))
        for step in self.course.planned[:3]:
            if math.isfinite(step.here):
                self._mark(ink, self.course.start + timedelta(seconds=step.here), step.name, "ink")
        ink.rule(LEFT, FOOT, self.width - 40, FOOT, "ink", 1.5)
        if not self.course.poured:
            ink.lozenge(self.x_of(self.begin), FOOT, 12)
        now = self.desk.now()
        if self.course.window()[0] < now < self.course.window()[1]:
            x = self.x_of(now)
            ink.rule(x, TOP - 12, x, AIR_FOOT, "ink", 2.4)
            ink.box(x - 22, TOP - 30, 44, 18, fill="ink")
            ink.text(x, TOP - 16, f"{show_clock(now)}", "lane_value", "film", "centre")

    def _mark(self, ink: Ink, moment: datetime, name: str, colour: str) -> None:
        x = self.x_of(moment)
        if x > self.width - 40:
            return
        ink.rule(x, TOP - 4, x, FOOT, colour, 1.2, "hidden")
        words = f"{name} {show_clock(moment)}"
        width = ink.width(words, "tick")
        left = min(max(LEFT, x - width / 2), self.width - 42 - width)
        y = TOP - 14 if name != "gels" else TOP + 2
        if abs(left + width / 2 - self.x_of(self.desk.now())) < 26 + width / 2:
            y = TOP + 2  # the hour stands there
        ink.plate(left, y - 10, width, 13)
        ink.text(left, y + 1, words, "tick", colour)

    def _air(self, ink: Ink) -> None:
        painter = ink.painter

        if self.course.card.least_c:
            y = self.y_air(self.course.card.least_c.value)
            ink.rule(LEFT, y, self.width - 40, y, "danger", 1.2, "limit")
        painter.setPen(ink.pen("ink2", 1.2, "hidden"))
        painter.drawPolyline(self._line([(p.seconds, p.air) for p in self.course.points], self.course.start))
        painter.setPen(ink.pen("ink", 2))
        painter.drawPolyline(self._line([(p.seconds, p.mould) for p in self.course.points], self.course.start))
        if self.course.tried:
            painter.setPen(ink.pen("decide", 2, "limit"))
            painter.drawPolyline(self._line([(p.seconds, p.mould) for p in self.course.tried], self.begin))
        low, high = self.degrees()
        for celsius in (low + 2, high - 2):
            ink.text(LEFT - 6, self.y_air(celsius) + 4, str(self._shown_c(round(celsius))), "tick", "ink2", "right")
        ink.plate(LEFT + 2, AIR_TOP - 1, ink.width("mould, and air dashed", "tick") + 4, 13)
        ink.text(LEFT + 4, AIR_TOP + 9, "mould, and air dashed", "tick", "ink2")
        if self.course.card.least_c:
            words = f"stands still under {self._shown_c(self.course.card.least_c.value)}"
            y, width = self.y_air(self.course.card.least_c.value), ink.width(words, "tick")
            y = y - 3 if y - 3 - AIR_TOP > 30 else y + 12  # above its line, beneath it where the air is drawn there
            ink.plate(self.width - 46 - width, y - 10, width + 4, 13)
            ink.text(self.width - 44, y, words, "tick", "danger", "right")
        y = self.y_air(self.night)
        ink.lozenge(self.width - 30, y, 11, hollow=self.what_if.night_c is None)

    def _axis(self, ink: Ink) -> None:
        first, last = self.course.window()
        ink.rule(LEFT, AIR_FOOT, self.width - 40, AIR_FOOT, "ink", 1)
        every = 3 if (last - first) < timedelta(hours=40) else 6 if (last - first) < timedelta(hours=90) else 24
        hour = first.replace(minute=0, second=0, microsecond=0)
        while hour <= last:
            x = self.x_of(hour)
            if x >= LEFT and hour.hour % every == 0:
                ink.rule(x, AIR_FOOT, x, AIR_FOOT + 5, "ink", 1)
                words = show_day(hour)[:6] if hour.hour == 0 else show_clock(hour)[:2]
                ink.text(x, AIR_FOOT + 17, words, "tick", "ink" if hour.hour == 0 else "ink2", "centre")
            hour += timedelta(hours=1)
