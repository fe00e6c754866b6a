"""The cast: every build as a silhouette at one common scale beside a person of 1.75 m."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.drawing.place import Can, Place
from homunculus.app.theme.glyphs import state_glyph
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.job.build import Build, Piece
from homunculus.core.plan.status import WORDS
from homunculus.core.showing import show, show_scale, show_times

MORE_H = 30.0
"""Height of the row at the foot with which a build begins."""
TALL = 64.0
"""Least height of a row that shows its silhouette."""
MOST_PX_PER_M = 38.0
PERSON_X, FIGURE_X, ROOM = 28.0, 46.0, 106.0


class Rail(Place):
    """Rows of builds. A click or Enter chooses; the wheel scrolls when there are more than fit."""

    ground = "edge"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Cast")
        self._first = 0
        self._brought: tuple[object, ...] = ()
        """What was chosen, where among how many, and how many rows there were, when it was last brought into sight."""

    def row_height(self) -> float:
        """Height of a row: tall while all fit, 40 px when there are many."""
        count = max(1, len(self.desk.job.cast))
        fitting = (self.height() - MORE_H) / count
        return min(102.0, fitting) if fitting >= TALL else 40.0 if count > 12 else TALL

    def px_per_m(self) -> float:
        """The one scale of all silhouettes: as large as a person fits under a row's name."""
        return min(MOST_PX_PER_M, (self.row_height() - 33) / PERSON_M)

    def _rows(self) -> list[tuple[Build, QRectF]]:
        builds = self.desk.job.cast
        height = self.row_height()
        room = max(1, int((self.height() - MORE_H) / height + 1e-6))  # as many as were made to fit
        chosen = next((i for i, b in enumerate(builds) if b.id == self.desk.chosen), 0)
        now = (self.desk.chosen, chosen, len(builds), room)
        if now != self._brought and not self._first <= chosen < self._first + room:
            self._first = chosen - room // 2
        self._brought = now  # so the wheel leads away from it
        self._first = max(0, min(self._first, len(builds) - room))
        rows = builds[self._first : self._first + room]
        return [(b, QRectF(0, i * height, self.width(), height)) for i, b in enumerate(rows)]

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._first -= self.notches(event)
        self.refresh()

    def arrange(self) -> None:
        for build, area in self._rows():
            slack = self.desk.plan.build(build.id).find(specs.SLACK)
            state = WORDS[self.desk.status.states.get(build.id, "none")]
            said = f"{build.name}, {show_scale(build.scale)}, {state}"
            said += f", slack {self.desk.words(slack)}" if slack else ""
            self.spots.place(f"build:{build.id}", area, said, lambda b=build.id: self.desk.choose(b))  # type: ignore[misc]
        self.spots.place("begin", self._more_area(), "begin a new build, Ctrl+B", self.begin)
        if away := self._away():
            self.spots.place(
                "away",
                self._away_area(),
                f"{away} put away: bring one back",
                partial(self.desk.asked_of_made.emit, "bring_back"),
            )

    def can(self, key: str) -> list[Can]:
        """With a build of the cast: what the bench for builds does."""
        kind, _, name = key.partition(":")
        if kind != "build":
            return []
        self.desk.choose(name)
        words = (("What it is made of", "M", "enter"), ("Rename it", "", "rename_build"), ("A copy of it", "", "copy_build"), ("Its scale from another", "", "tie_build"), ("Further up", "", "build_up"),
                 ("Further down", "", "build_down"), ("Put it away", "", "put_away"), ("Delete it", "", "delete_build"))  # fmt: skip
        return [Can(said, key, partial(self.desk.asked_of_made.emit, what)) for said, key, what in words]

    def _more_area(self) -> QRectF:
        return QRectF(0, self.height() - MORE_H, 88, MORE_H)

    def _away_area(self) -> QRectF:
        return QRectF(88, self.height() - MORE_H, 84, MORE_H)

    def _away(self) -> int:
        """How many builds were put away."""
        return sum(1 for build in self.desk.job.builds if build.put_away)

    def begin(self) -> None:
        """A new build begins, on the bench for it."""
        self.desk.asked_of_made.emit("begin")

    def content(self) -> object:
        """What the foot shows, then per row what it shows."""
        states, chosen, facts = self.desk.status.states, self.desk.chosen, self.desk.session.facts
        rows = tuple(
            (self._told(b), states.get(b.id), b.id == chosen, area.top(), id(facts)) for b, area in self._rows()
        )
        return ((self._away(), len(self.desk.job.cast)), *rows)

    def _told(self, build: Build) -> tuple[object, ...]:
        """What a row tells of a build: most edits change nothing of it, although they make its plan anew."""
        made = self.desk.plan.build(build.id)
        slack, counted = made.find(specs.SLACK), made.find(specs.FIGURES)
        return (
            build.id,
            build.name,
            build.scale,
            id(build.pieces),
            slack.value if slack else None,
            counted.value if counted else None,
            self.px_per_m(),
        )

    def repaint_changed(self, before: object, now: object) -> None:
        if (
            not isinstance(before, tuple)
            or not isinstance(now, tuple)
            or len(before) != len(now)
            or before[0] != now[0]
        ):
            self.update()
            return
        for (_, area), old, new in zip(self._rows(), before[1:], now[1:], strict=True):
            if old != new:
                self.update(area.toAlignedRect())

    def draw(self, ink: Ink) -> None:
        for build, area in self._rows():
            if self.touches(area):
                self._row(ink, build, area)
        hidden = len(self.desk.job.cast) - len(self._rows())
        if hidden > 0:
            ink.text(self.width() - 8, self.height() - 10, f"{hidden} more", "tick", "ink2", "right")
        ink.text(16, self.height() - 10, "+ build", "label", "decide")
        if away := self._away():
            ink.text(94, self.height() - 10, f"{away} put away", "tick", "decide")
        ink.rule(self.width() - 0.75, 0, self.width() - 0.75, self.height(), "ink2", 1.5)

    def _row(self, ink: Ink, build: Build, area: QRectF) -> None:
        chosen = build.id == self.desk.chosen
        if chosen:
            ink.box(area.x(), area.y(), area.width(), area.height(), fill="sheet")
            ink.box(0, area.y(), 6, area.height(), fill="ink")
        top, low, middling = area.top(), area.height() < TALL, area.height() < 82
        right = self.width() - 12
        state = self.desk.status.states.get(build.id, "none")
        slack = self.desk.plan.build(build.id).find(specs.SLACK)
        late = slack is not None and slack.number < 0
        counted = self.desk.plan.build(build.id).find(specs.FIGURES)
        figures = round(counted.number) if counted else 1
        if low:
            ink.text(16, top + 17, ink.squeezed(118, build.name, "label", 600), "label", "ink", weight=600)
            state_glyph(ink, 16, top + 21, state)
            ink.text(36, top + 33, f"{WORDS[state]}  {show_scale(build.scale)}", "tick", "ink2")
        else:
            name = build.name + (f" ×{figures}" if figures > 1 else "")
            ratio = ink.width(show_scale(build.scale), "label") + 10 if middling else 0.0
            ink.text(16, top + 17, ink.squeezed(172 - ratio, name, "label", 600), "label", "ink", weight=600)
            self._figure(ink, build, area, chosen)
            ink.text(right, top + (17 if middling else 40), show_scale(build.scale), "label", "ink2", "right")
            state_glyph(ink, right - 14, top + (26 if middling else 48), state)
            ink.text(right - 20, top + (38 if middling else 60), WORDS[state], "label", "ink", "right")
        if slack is not None:
            y = top + (24 if low else min(83.0, area.height() - 6))
            shown = show(abs(slack.number) if late else slack.number, "shop_days")
            words = f"{shown.number.lstrip('+')} d late" if late else f"{shown.number} d"
            if late:
                ink.tag(right - ink.width(words, "slack") - 24, y - 13, "danger")
            if not low:
                width = ink.width(words, "slack")
                ink.plate(right - width, y - 14, width, 16, "sheet" if chosen else "edge")
            ink.text(right, y, words, "slack", "danger" if late else "ink", "right")
        ink.rule(0, area.bottom(), self.width(), area.bottom(), "hair", 1)

    def _figure(self, ink: Ink, build: Build, area: QRectF, chosen: bool) -> None:
        painter, ground = ink.painter, area.bottom() - 9
        painter.save()
        px = self.px_per_m()
        painter.translate(PERSON_X, ground)
        painter.setPen(ink.pen("line", 1.0))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(person_path(PERSON_M * px))
        painter.restore()
        ink.rule(14, ground, FIGURE_X + ROOM - 20, ground, "hair", 1)
        silhouette = self.desk.silhouette(build)
        box = silhouette.bounds
        k = px / build.scale
        if box.isEmpty():
            return  # a build without pieces has no form to show
        wide, high = box.width() * k, box.height() * k
        colour = ink.theme.colour("ink" if chosen else "ink2")
        if wide < 24 and high < 12:
            radius = 21.0 if area.height() >= 82 else 14.0
            self._loupe(ink, silhouette.paths, box, k, QPointF(96, ground - radius - 5), radius, colour)
            return
        shrink = min(1.0, ROOM / max(wide, 1e-6), (area.height() - 30) / max(high, 1e-6))
        painter.save()
        painter.translate(FIGURE_X + max(0.0, (70 - wide) / 2), ground)
        painter.scale(k * shrink, k * shrink)
        painter.translate(-box.left(), 0)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        for _piece, path in silhouette.paths:
            painter.drawPath(path)
        painter.restore()
        if shrink < 1:
            ink.text(FIGURE_X, max(area.top() + 31, ground - high * shrink - 3), show_times(shrink), "tick", "ink2")

    def _loupe(
        self,
        ink: Ink,
        paths: list[tuple[Piece, QPainterPath]],
        box: QRectF,
        k: float,
        middle: QPointF,
        radius: float,
        colour: QColor,
    ) -> None:
        """A part too small to see: a circle with its factor, tied to its place."""
        painter = ink.painter
        ground = middle.y() + radius + 5
        factor = max(2.0, round(radius * 1.8 / max(box.width() * k, box.height() * k, 1e-6)))
        spot = QPointF(52, ground - 1.5)
        ink.rule(spot.x(), spot.y(), middle.x() - radius * 0.8, middle.y() + radius * 0.6, "line", 0.75)
        painter.setBrush(ink.theme.colour("ink"))
        painter.drawEllipse(spot, 1.5, 1.5)
        circle = QPainterPath()
        circle.addEllipse(middle, radius, radius)
        painter.setBrush(ink.theme.colour("sheet"))
        painter.setPen(ink.pen("line", 1.0))
        painter.drawPath(circle)
        painter.save()
        painter.setClipPath(circle)
        painter.translate(middle)
        painter.scale(k * factor, k * factor)
        painter.translate(-box.center())
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(colour)
        for _piece, path in paths:
            painter.drawPath(path)
        painter.restore()
        if radius > 20:
            ink.text(middle.x() + radius - 2, middle.y() + radius + 8, show_times(factor), "tick", "ink2", "left")
