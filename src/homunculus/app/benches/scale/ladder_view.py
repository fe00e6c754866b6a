"""The ladder: one lane a limit over a log axis of scales, the decision across all of them."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QColor, QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting
from homunculus.core.camera.frame_rate import as_said
from homunculus.core.planners.ladder import Band, Candidate, Ladder, Lane
from homunculus.core.showing import Shown, show_run, show_scale
from homunculus.core.why import phrase

LABEL_X = 18.0
AXIS_X = 188.0
TOP = 96.0
PITCH = 29.0
BEST_ROOM = 300.0
"""Width that the best scales take at the left, beneath the question."""
TICKS = (0.1, 0.2, 0.4, 1, 2, 4, 6, 8, 10, 12, 16, 24, 32, 48, 72, 100)
LABELLED = (0.1, 0.25, 0.5, 1, 2, 4, 6, 8, 10, 16, 24, 32, 48, 100)
COLOURS = {"holds": ("reckon", "reckon_t"), "strained": ("mind", "mind_t"), "fails": ("danger", "")}


class LadderView:
    """Geometry and drawing of the ladder within a bench of a given width."""

    def __init__(self, desk: Desk, width: float) -> None:
        self.desk = desk
        self.ladder: Ladder = desk.ladder
        self.right = width - 22.0
        self.bottom = TOP + PITCH * max(1, len(self.ladder.lanes))

    def x_of(self, scale: float) -> float:
        """Where a scale stands on the log axis."""
        low, high = math.log(self.ladder.low), math.log(self.ladder.high)
        share = (math.log(max(scale, 1e-6)) - low) / (high - low)
        return AXIS_X + share * (self.right - AXIS_X)

    def scale_at(self, x: float) -> float:
        """The scale at a place on the axis, kept within the ladder, rounded as people say scales."""
        share = min(1.0, max(0.0, (x - AXIS_X) / (self.right - AXIS_X)))
        low, high = math.log(self.ladder.low), math.log(self.ladder.high)
        return as_said(math.exp(low + share * (high - low)))

    def lane_area(self, index: int) -> QRectF:
        """Where a lane lies, its label with it."""
        return QRectF(LABEL_X - 8, TOP + index * PITCH, self.right - LABEL_X + 10, PITCH)

    def marker_area(self) -> QRectF:
        """Where the decision can be taken hold of: its number and its line through the lanes."""
        x = self._marker_text_x(self.desk.build.scale)
        return QRectF(x - 58, 14, 116, 46)

    def _marker_text_x(self, scale: float) -> float:
        return min(max(self.x_of(scale), AXIS_X + 58), self.right - 52)

    # ----------------------------------------------------------------------------------- drawing
    def draw_still(self, ink: Ink) -> None:
        """Draw what stays while the decision moves: bands, brackets, axis and legend."""
        self._legend(ink)
        self._brackets(ink)
        for index, lane in enumerate(self.ladder.lanes):
            self._lane(ink, index, lane)
        self._axis(ink)

    def draw_moving(self, ink: Ink) -> None:
        """Draw what moves with the decision: its number and line, the values on it, notes, the pin."""
        self._free(ink)
        self._best(ink)
        for index, lane in enumerate(self.ladder.lanes):
            note = phrase(lane.note, self.desk.system, self.desk.job.shop.currency)
            ink.text(
                LABEL_X, TOP + index * PITCH + 26, ink.squeezed(AXIS_X - LABEL_X - 8, note, "note"), "note", "ink2"
            )
        self._pin(ink)
        self._decision(ink)

    def candidates(self) -> tuple[Candidate, ...]:
        """The best three scales; not sought while something is pulled, nor drawn where the decision stands."""
        if self.desk.gesture is not None or self.marker_area().left() < BEST_ROOM:
            return ()
        return self.desk.plan.candidates(self.desk.chosen)

    def candidate_areas(self) -> list[tuple[Candidate, QRectF]]:
        """Where each can be taken, beneath the question."""
        x, found = 18 + Setting(self.desk.theme).width("best", "note") + 10, []
        for candidate in self.candidates():
            width = Setting(self.desk.theme).width(show_scale(candidate.scale), "label", 600) + 14
            found.append((candidate, QRectF(x - 6, 38, width, 22)))
            x += width
        return found

    def candidate_words(self, candidate: Candidate) -> str:
        """A candidate and why, in words."""
        strained = f"strained: {', '.join(candidate.strained)}" if candidate.strained else "all holds"
        cost = f"; {self.desk.words(candidate.cost)}" if candidate.cost else ""
        return f"{show_scale(candidate.scale)}: nothing fails, {strained}{cost}"

    def _best(self, ink: Ink) -> None:
        """The best three scales, and why the first is the first."""
        areas = self.candidate_areas()
        if not areas:
            return
        ink.text(18, 53, "best", "note", "ink2")
        for index, (candidate, area) in enumerate(areas):
            words, here = show_scale(candidate.scale), candidate.scale == self.desk.build.scale
            width = ink.text(area.x() + 6, 53, words, "label", "ink" if here or not index else "ink2", weight=600)
            ink.rule(area.x() + 6, 57, area.x() + 6 + width, 57, "ink" if here else "decide", 2 if here else 1)
        why = self.candidate_words(areas[0][0]).partition(": ")[2]
        ink.text(18, 72, ink.squeezed(BEST_ROOM - 30, why, "note"), "note", "ink2")

    def _legend(self, ink: Ink) -> None:
        x = self.right - 206
        if x - 46 < self.x_of(self.desk.build.scale) < self.right + 46:
            return  # the decided scale stands where the legend would
        for hold in ("holds", "strained", "fails"):
            self._band(ink, QRectF(x, 17, 24, 14), hold)
            x += 30
            x += ink.text(x, 29, hold, "note", "ink2") + 12

    def _brackets(self, ink: Ink) -> None:
        runs = self.ladder.free
        top, bottom = TOP - 26, self.bottom + 1
        for low, high in runs:
            left, right = self.x_of(low), self.x_of(high)
            fill = QColor(ink.theme.colour("reckon_t"))
            fill.setAlpha(70)
            ink.painter.fillRect(QRectF(left, top, right - left, TOP - top), fill)
            for x, turn in ((left, 9), (right, -9)):
                ink.rule(x, top, x, bottom, "reckon", 2)
                ink.rule(x, top, x + turn, top, "reckon", 2)
                ink.rule(x, bottom, x + turn, bottom, "reckon", 2)

    def _free(self, ink: Ink) -> None:
        runs = self.ladder.free
        scale, x = self.desk.build.scale, self._marker_text_x(self.desk.build.scale)
        if not runs:
            words = Shown("at no scale", "")
        else:
            low, high = min(runs, key=lambda r: 0 if r[0] <= scale <= r[1] else abs(math.log(r[0] / scale)))
            words = Shown(show_run(low, high), "")
        edge = self.x_of(runs[0][0]) - 10 if runs else self.x_of(scale) - 20
        width = ink.width("nothing fails ", "label", 500) + ink.number_width(words, "lane_value", equals=True)
        left_of_marker = x - 66
        at = min(edge, left_of_marker) if edge > left_of_marker and edge - width < x + 66 else edge
        at = max(at, LABEL_X + width)
        reckoned = ink.number(at, TOP - 8, words, "lane_value", "reckon", "right", equals=True)
        ink.text(at - reckoned - 5, TOP - 8, "nothing fails", "label", "ink2", "right")

    def _band(self, ink: Ink, area: QRectF, hold: str) -> None:
        """A firm band holds; its edges turn to teeth when strained; a crossed thin line fails."""
        edge, fill = COLOURS[hold]
        if hold == "fails":
            y = area.center().y()
            ink.rule(area.left(), y, area.right(), y, edge, 1)
            x = area.left() + 6
            crosses = []
            while x < area.right() - 2:
                crosses += [(x - 3, y - dy, x + 3, y + dy) for dy in (-3.0, 3.0)]
                x += 14
            ink.rules(crosses, edge, 1.3)
            return
        if hold == "strained":
            self._teeth(ink, area)
            return
        ink.painter.fillRect(area, ink.theme.colour(fill))
        for y in (area.top(), area.bottom()):
            ink.rule(area.left(), y, area.right(), y, edge, 1.5)

    def _teeth(self, ink: Ink, area: QRectF) -> None:
        count = max(1, round(area.width() / 9))
        step = area.width() / count
        points = []
        for i in range(count):
            points += [
                QPointF(area.left() + i * step, area.top()),
                QPointF(area.left() + (i + 0.5) * step, area.top() + 4),
            ]
        points.append(QPointF(area.right(), area.top()))
        low = [QPointF(p.x(), area.top() + area.bottom() - p.y()) for p in reversed(points)]
        ink.painter.setPen(ink.pen("mind", 1.4))
        ink.painter.setBrush(ink.theme.colour("mind_t"))
        ink.painter.drawPolygon(QPolygonF([*points, *low]))

    def _lane(self, ink: Ink, index: int, lane: Lane) -> None:
        top = TOP + index * PITCH
        middle = top + PITCH / 2
        ink.text(LABEL_X, top + 13, lane.name, "label", "ink", weight=600)
        for band in lane.bands:
            left, right = self._edges(band)
            self._band(ink, QRectF(left, middle - 9, max(1.0, right - left), 18), band.hold)
        ink.rule(LABEL_X, top + PITCH, self.right, top + PITCH, "hair", 0.75)

    def _edges(self, band: Band) -> tuple[float, float]:
        return self.x_of(band.low), self.x_of(band.high)

    def _axis(self, ink: Ink) -> None:
        y = self.bottom + 12
        ink.rule(AXIS_X, y, self.right, y, "ink", 1.2)
        last = -100.0
        for scale in TICKS:
            if self.ladder.low <= scale <= self.ladder.high:
                ink.rule(self.x_of(scale), y, self.x_of(scale), y + 5, "ink", 1)
        for scale in LABELLED:
            if self.ladder.low <= scale <= self.ladder.high and self.x_of(scale) - last > 30:
                last = self.x_of(scale)
                ink.text(last, y + 18, show_scale(scale), "tick", "ink2", "centre")

    def _pin(self, ink: Ink) -> None:
        pinned = self.desk.pinned_build
        if pinned is None or pinned.build.scale == self.desk.build.scale:
            return
        x = self.x_of(pinned.build.scale)
        ink.rule(x, 62, x, self.bottom, "ink2", 1.2, "pin")
        ink.painter.setPen(ink.pen("ink", 1.4))
        ink.painter.setBrush(ink.theme.colour("sheet"))
        ink.painter.drawEllipse(QPointF(x, 58), 4, 4)
        right = x < self._marker_text_x(self.desk.build.scale)
        words = f"pinned {show_scale(pinned.build.scale)}"
        ink.text(x - 9 if right else x + 9, 62, words, "note", "ink2", "right" if right else "left")

    def _decision(self, ink: Ink) -> None:
        scale = self.desk.build.scale
        x, text_x = self.x_of(scale), self._marker_text_x(scale)
        ink.number(text_x, 46, Shown(show_scale(scale), ""), "marker", "decide", "centre")
        ink.rule(x - 34, 55, x + 34, 55, "decide", 1.5)
        for side in (-1, 1):
            for dy in (-4, 4):
                ink.rule(x + side * 17, 55, x + side * 12, 55 + dy, "decide", 1.5)
        ink.rule(x, 50, x, self.bottom + 2, "decide", 2.2)
        ink.lozenge(x, 55, 16)
        for index, lane in enumerate(self.ladder.lanes):
            self._value(ink, index, lane, x)

    def _value(self, ink: Ink, index: int, lane: Lane, x: float) -> None:
        if lane.value is None:
            return
        y = TOP + index * PITCH + PITCH / 2
        ink.dot(x, y, 4, edge="sheet")
        shown = self.desk.shown(lane.value)
        width = ink.number_width(shown, "lane_value")
        hold = lane.hold_at(self.desk.build.scale)
        extra = 24 if hold != "holds" else 0
        left = x + 14 if x + 24 + width + extra < self.right else x - 18 - width - extra
        ink.plate(left, y - 9, width + extra + 6, 18)
        if extra:
            ink.tag(left, y - 6.5, "danger" if hold == "fails" else "mind")
        ink.number(left + 3 + extra, y + 6, shown, "lane_value")
