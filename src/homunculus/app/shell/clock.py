"""The clock: thirty-six hours of pours and cures, two of them past, with the night and its temperature."""

from __future__ import annotations

from bisect import bisect_left
from datetime import datetime, timedelta

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QPen
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.theme.ink import Ink
from homunculus.core.plan.build_plan import Bar
from homunculus.core.plan.memory import Last
from homunculus.core.showing import show, show_clock, show_day, show_long_day, show_moment

PAST_H, AHEAD_H = 2.0, 36.0
LEFT = 200.0
AXIS = 22.0
PITCH = 23.0


class Clock(Place):
    """Bars in lanes under an axis of hours; folds to fewer lanes when it is low."""

    ground = "edge"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Clock")
        self._near: Last[list[Bar]] = Last()
        self._lanes: Last[tuple[list[list[Bar]], int]] = Last()

    def x_of(self, moment: datetime) -> float:
        """Where a moment stands on the axis."""
        hours = (moment - self.desk.now()).total_seconds() / 3600 + PAST_H
        return LEFT + hours * (self.width() - LEFT) / (PAST_H + AHEAD_H)

    def _window(self) -> tuple[datetime, datetime]:
        now = self.desk.now()
        return now - timedelta(hours=PAST_H), now + timedelta(hours=AHEAD_H)

    def lanes(self) -> tuple[list[list[Bar]], int]:
        """Bars of the window in the lanes that there is room for, and how many found none."""
        return self._lanes.get((self.desk.status, self.desk.chosen, self.height()), self._fill_lanes)

    def _bars(self) -> list[Bar]:
        """Bars of the window; kept while the status is the same."""
        first, last = self._window()
        status = self.desk.status
        return self._near.get((status,), lambda: [b for b in status.bars if b.end >= first and b.start <= last])

    def _fill_lanes(self) -> tuple[list[list[Bar]], int]:
        shown = list(self._bars())
        shown.sort(key=lambda b: (b.planned, b.build != self.desk.chosen, b.start))
        lanes: list[list[Bar]] = [[] for _ in range(max(0, int((self.height() - AXIS) // PITCH)))]
        begins: list[list[datetime]] = [[] for _ in lanes]
        left_over = 0
        for bar in shown:
            for lane, starts in zip(lanes, begins, strict=True):
                at = bisect_left(starts, bar.start)
                if (at == 0 or lane[at - 1].end <= bar.start) and (at == len(lane) or starts[at] >= bar.end):
                    lane.insert(at, bar)
                    starts.insert(at, bar.start)
                    break
            else:
                left_over += 1
        return lanes, left_over

    def _places(self) -> list[tuple[Bar, QRectF]]:
        found = []
        for row, lane in enumerate(self.lanes()[0]):
            for bar in lane:
                left, right = max(LEFT, self.x_of(bar.start)), min(self.width(), self.x_of(bar.end))
                found.append((bar, QRectF(left, AXIS + 2 + row * PITCH, max(3.0, right - left), 19)))
        return found

    def _words(self, bar: Bar) -> tuple[str, str]:
        if bar.held:
            return bar.name, f"held: {bar.held} not signed"
        end = bar.opens or bar.end
        day = f"{show_day(end)[:3]} " if end.date() != self.desk.now().date() else ""
        return bar.name, f"{bar.done} {day}{show_clock(end)}"

    def content(self) -> object:
        """The bars and the minute."""
        now = self.desk.now()
        return (tuple(self._bars()), now.replace(second=0, microsecond=0), self.desk.chosen, self.desk.status.air_c,
                self.desk.job.shop)  # fmt: skip

    def arrange(self) -> None:
        for index, (bar, area) in enumerate(self._places()):
            build = self.desk.job.build(bar.build).name
            name, opens = self._words(bar)
            said = f"{build}, {name}, {'planned, ' if bar.planned else ''}{opens}"
            self.spots.place(f"bar:{index}", area, said, lambda b=bar: self.desk.choose(b.build))  # type: ignore[misc]

    def draw(self, ink: Ink) -> None:
        now = self.desk.now().replace(second=0, microsecond=0)
        self.kept(ink, "axis", (now, self.desk.job.shop.air), QRectF(self.rect()), self._axis)
        places = self._places()
        for bar, area in places:
            self._bar(ink, bar, area)
        if not places and self.height() > 50:
            upcoming = self.desk.status.next_pour
            words = f"Nothing is wet. Next pour {show_moment(upcoming[1])}." if upcoming else "Nothing is wet."
            ink.text(LEFT + 80, AXIS + 34, words, "body", "ink2")
        more = self.lanes()[1]
        if more and self.height() > 50:
            words = f"+{more} more"
            ink.plate(
                self.width() - 10 - ink.width(words, "tick"), self.height() - 15, ink.width(words, "tick") + 4, 12
            )
            ink.text(self.width() - 8, self.height() - 5, words, "tick", "ink2", "right")
        self._now(ink)
        ink.rule(0, 0.75, self.width(), 0.75, "ink2", 1.5)
        self._label(ink)

    def _label(self, ink: Ink) -> None:
        ink.box(0, 2, LEFT, self.height(), fill="edge")
        now = self.desk.now()
        ink.text(16, 24, "Clock", "heading")
        if self.height() > 50:
            ink.text(16, 43, show_long_day(now), "body")
            air = show(self.desk.status.air_c, "temperature", self.desk.system)
            ink.text(16, 59, f"Shop {air}", "body", "ink2")

    def _axis(self, ink: Ink) -> None:
        first, last = self._window()
        hour = first.replace(minute=0, second=0, microsecond=0)
        air, system = self.desk.job.shop.air, self.desk.system
        day = datetime.combine(first.date() - timedelta(days=1), air.warm_to)
        while day < last:  # nights
            end = datetime.combine(day.date() + timedelta(days=1), air.warm_from)
            left, right = max(LEFT, self.x_of(day)), min(float(self.width()), self.x_of(end))
            if right > left:
                ink.box(left, 2, right - left, self.height(), fill="night")
            day += timedelta(days=1)
        while hour <= last:
            x = self.x_of(hour)
            if x > LEFT and hour.hour % 3 == 0:
                tall = hour.hour % 6 == 0
                ink.rule(x, 2, x, 16 if tall else 7, "line", 1)
                if hour.hour == 0:
                    ink.text(x + 4, 16, show_day(hour), "tick", "ink", weight=600)
                elif tall:
                    ink.text(x + 4, 16, show_clock(hour)[:2], "tick", "ink2")
                words = f"night {show(air.night_c, 'temperature', system)}"
                if hour.hour == 18 and x + 30 + ink.width(words, "tick") < self.width():
                    ink.text(x + 28, 16, words, "tick", "ink2")
            hour += timedelta(hours=1)

    def _bar(self, ink: Ink, bar: Bar, area: QRectF) -> None:
        chosen = bar.build == self.desk.chosen
        colour = "ink" if chosen else "ink2"
        ink.box(area.x(), area.y(), area.width(), area.height(), fill="sheet")
        if bar.gels and self.x_of(bar.gels) > area.left():
            gel = min(area.right(), self.x_of(bar.gels))
            wet = QRectF(area.left(), area.top(), gel - area.left(), area.height())
            ink.hatched(wet, "wet", colour)
            ink.hatched(QRectF(gel, area.top(), area.right() - gel, area.height()), "curing", colour)
            ink.rule(gel, area.top(), gel, area.bottom(), colour, 1)
        else:
            ink.hatched(area, bar.matter, colour)
        painter = ink.painter
        pen = QPen(ink.pen(colour, 1.5 if chosen else 1.0))
        if bar.planned:
            pen.setDashPattern([4, 3])
        painter.setPen(pen)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawRect(area)
        self._name(ink, bar, area)

    def _name(self, ink: Ink, bar: Bar, area: QRectF) -> None:
        """The label on a plate: inside the bar where it fits, else the bar goes without."""
        name, opens = self._words(bar)
        x = max(area.left(), LEFT, self.x_of(self.desk.now()) if area.left() <= self.x_of(self.desk.now()) else 0) + 8
        room = area.right() - x - 8
        both = ink.width(name, "body") + 8 + ink.width(opens, "body", 600)
        if room < 60:
            return
        if both > room:
            name = ink.squeezed(room - ink.width(opens, "body", 600) - 8, name)
            if len(name) < 6:
                name = ""
        width = (ink.width(name, "body") + 8 if name else 0) + ink.width(opens, "body", 600)
        if width > room + 4:
            return
        ink.plate(x - 2, area.top() + 4, width + 4, area.height() - 8)
        if name:
            x += ink.text(x, area.top() + 14, name, "body") + 8
        ink.text(x, area.top() + 14, opens, "body", weight=600)

    def _now(self, ink: Ink) -> None:
        x = self.x_of(self.desk.now())
        ink.rule(x, 2, x, self.height(), "ink", 2.4)
        ink.box(x - 25, 1, 50, 20, fill="ink")
        ink.text(x, 17, show_clock(self.desk.now()), "lane_value", "film", "centre")
