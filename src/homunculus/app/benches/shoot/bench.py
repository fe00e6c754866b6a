"""In which order is nothing ruined? The chosen build's pieces worn down from shot to shot, and an order that ruins least."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainterPath, QPolygonF, QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.figures import Figure
from homunculus.core.floor.wear import GONE, LEVEL_WORDS, Late, beats, walk
from homunculus.core.job.build import Piece
from homunculus.core.job.shots import ByBuild, Shot
from homunculus.core.showing import show_day

LEFT, TOP, LANE, STEP = 148.0, 176.0, 74.0, 20.0
FOOT = 150.0


class WearCourse(NamedTuple):
    """One piece, its level after every shot of the build, and the shots that come too late for it."""

    piece: Piece
    levels: list[int]
    late: tuple[Late, ...]


class ShootBench(JobBench):
    """Shots along, wear down. O takes the proposed order; F shows the steps of the forward plan."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Order of wear")

    # ----------------------------------------------------------------------------------- reading
    def shots(self) -> tuple[Shot, ...]:
        """The shots that the chosen build is in, in their order."""
        return self.desk.plan.shots_of(self.desk.chosen)

    def courses(self) -> list[WearCourse]:
        """The pieces that the shots use, as many as fit."""
        late, course = walk(beats(self.shots(), (self.desk.build,)))
        found = [WearCourse(piece, course[self.desk.chosen, piece.id], tuple(x for x in late if x.item == (self.desk.chosen, piece.id)))
                 for piece in self.desk.build.pieces if (self.desk.chosen, piece.id) in course]  # fmt: skip
        room = max(1, int((self.height() - TOP - FOOT) // LANE))
        self.first = max(0, min(self.first, len(found) - room))
        return found[self.first : self.first + room]

    def pitch(self) -> float:
        """Distance from shot to shot."""
        return min(120.0, (self.width() - LEFT - 30) / max(1, len(self.shots())))

    def headlines(self) -> list[Figure]:
        """Slack, ready and work by hand."""
        made = self.desk.build_plan
        return [f for spec in (specs.SLACK, specs.HANDS) if (f := made.find(spec))]

    def own_late(self) -> tuple[Late, ...]:
        """Uses of the chosen build that come too late."""
        return walk(beats(self.shots(), (self.desk.build,)))[0]

    def content(self) -> object:
        return (
            self.breakdown.shots,
            self.desk.chosen,
            self.desk.build_plan if self.desk.chosen else None,
            self.first,
            self.breakdown.shot_id,
        )

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        if not self.breakdown.shots:
            self.first_shot("track", 130.0 if self.desk.chosen else 60.0)
        elif not self.desk.chosen:
            self.first_build("track")
        elif not self.shots():
            self.empty_spot(
                "track",
                f"a shot that needs {self.desk.build.called}",
                "No shot does yet. Or put it away.",
                self._add_first,
                130.0,
            )
        if not self.desk.chosen:
            return
        for index, figure in enumerate(self.headlines()):
            self.figure_spot(figure, self.headline_area(index))
        pitch, too_late = self.pitch(), {x.shot for x in self.own_late()}
        for index, shot in enumerate(self.shots()):
            uses = ", ".join(f"{u.wear}" for u in shot.uses if u.build == self.desk.chosen)
            late = " comes too late" if shot.id in too_late else ""
            self.spots.place(f"shot:{shot.id}", QRectF(LEFT + index * pitch, 118, pitch - 2, 48),
                             f"shot {shot.id} {show_day(shot.day)}, {uses}{late}",
                             lambda i=shot.id: self.breakdown.choose(i))  # type: ignore[misc]  # fmt: skip
        if self.desk.plan.wear.moved:
            self.spots.place("take-order", QRectF(12, self.height() - 54, 340, 44), "take the proposed order, key O",
                             self.breakdown.take_least_wear)  # fmt: skip

    def keyPressEvent(self, event: QKeyEvent) -> None:
        match event.key():
            case Qt.Key.Key_O:
                self.breakdown.take_least_wear()
            case Qt.Key.Key_BracketLeft | Qt.Key.Key_BracketRight:
                self.breakdown.step(1 if event.key() == Qt.Key.Key_BracketRight else -1)
            case _:
                event.ignore()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.first -= self.notches(event)
        self.refresh()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_sheets(ink)
        if not self.desk.chosen:
            ink.text(18, 29, "In which order is nothing ruined?", "bench_question")
            self.draw_empty(ink)
            return
        self.draw_question(ink, f"In which order does {self.desk.build.called} last?")
        for index, figure in enumerate(self.headlines()):
            area, shown = self.headline_area(index), self.desk.shown(figure)
            ink.number(area.x() + 6, 84, shown, "headline", "reckon", equals=True,
                       ratio=ink.fitted(area.width() - 12, shown, "headline", equals=True))  # fmt: skip
            ink.text(area.x() + 8, 106, figure.spec.label.lower(), "note", "ink2")
        late = self.own_late()
        if late:
            ink.tag(410, 62, "danger")
            ink.text(434, 74, f"{len({x.shot for x in late})} too late as planned", "label", "danger")
        if not self.shots():
            self.draw_empty(ink)
            return
        courses = self.courses()
        self._flags(ink, TOP + len(courses) * LANE - 22)
        for lane, course in enumerate(courses):
            self._lane(ink, course, TOP + lane * LANE)
        self._proposal(ink)

    def _flags(self, ink: Ink, bottom: float) -> None:
        """The shots as flags along the top, the day written where it begins."""
        pitch, day = self.pitch(), None
        for index, shot in enumerate(self.shots()):
            x = LEFT + index * pitch
            if shot.day != day:
                day = shot.day
                ink.text(x + 2, 132, ink.squeezed(pitch * 2, show_day(shot.day), "tick"), "tick", "ink2")
                if index:
                    ink.rule(x - 1, 120, x - 1, bottom, "hair", 1)
            here = self.breakdown.shot is not None and shot.id == self.breakdown.shot.id
            ink.text(x + 2, 156, shot.id, "after_value", "ink")
            if here:
                ink.rule(x + 2, 161, x + 2 + ink.width(shot.id, "after_value"), 161, "ink", 2)

    def _lane(self, ink: Ink, course: WearCourse, top: float) -> None:
        pitch, shots = self.pitch(), self.shots()
        right = LEFT + len(shots) * pitch
        ink.text(18, top + 14, ink.squeezed(LEFT - 74, course.piece.name, "label", 600), "label", weight=600)
        for level, words in enumerate(LEVEL_WORDS):
            y = top + level * STEP
            ink.text(LEFT - 10, y + 4, words, "tick", "ink2", "right")
            ink.rule(LEFT, y, right, y, "hair", 0.75)
        points, level = [QPointF(LEFT, top)], 0
        for index, after in enumerate(course.levels):
            x = LEFT + index * pitch
            points.append(QPointF(x + pitch * 0.35, top + level * STEP))
            if after > level:
                points.append(QPointF(x + pitch * 0.55, top + after * STEP))
                level = after
            points.append(QPointF(x + pitch, top + level * STEP))
        painter = ink.painter
        under = QPainterPath(points[0])
        for point in points[1:]:
            under.lineTo(point)
        under.lineTo(right, top + GONE * STEP)
        under.lineTo(LEFT, top + GONE * STEP)
        under.closeSubpath()
        painter.fillPath(under, ink.theme.colour("edge"))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.setPen(ink.pen("ink", 2.25))
        painter.drawPolyline(QPolygonF(points))
        late = {x.shot: x for x in course.late}
        for index, shot in enumerate(shots):
            self._use(ink, course, shot, late.get(shot.id), LEFT + index * pitch, top)

    def _use(self, ink: Ink, course: WearCourse, shot: Shot, late: Late | None, x: float, top: float) -> None:
        """What one shot does to the piece: a peg where it must be fresh, a danger tag where it comes too late."""
        uses = [u for u in shot.uses if u.build == self.desk.chosen and (not u.pieces or course.piece.id in u.pieces)]
        if not uses:
            return
        use: ByBuild = uses[0]
        at = x + self.pitch() * 0.18
        if use.wear == "pristine":
            ink.dot(at, top, 4, fill="sheet", edge="danger" if late else "ink")
        elif use.wear == "destructive" and use.chance is not None:
            ink.rules([(at - 4, top - 4, at + 4, top + 4), (at - 4, top + 4, at + 4, top - 4)], "ink2", 1.6)
        if late:
            ink.hatched(QRectF(at - 5, top + 4, 10, late.level * STEP - 4), "past", "danger")
            ink.tag(at - 8, top + late.level * STEP + 4, "danger")

    def _proposal(self, ink: Ink) -> None:
        proposal = self.desk.plan.wear
        y = self.height() - FOOT + 18.0
        ink.rule(18, y - 18, self.width() - 18, y - 18, "ink", 1.5)
        ink.dot(24, y - 2, 4, fill="sheet")
        x = 36 + ink.text(36, y + 2, "must be fresh", "tick", "ink2")
        if any(f.spec is specs.BROKEN for f in self.desk.build_plan.figures):
            ink.rules([(x + 16, y - 6, x + 24, y + 2), (x + 16, y + 2, x + 24, y - 6)], "ink2", 1.6)
            ink.text(x + 32, y + 2, "copies are broken, it is spared", "tick", "ink2")
        before, after = (len({x.shot for x in found}) for found in (proposal.late_before, proposal.late_after))
        if not proposal.moved:
            words = "No order within the days ruins less than the planned one" + ("." if before == 0 else
                    f"; {before} shots stay too late: move them to other days, or plan copies.")  # fmt: skip
            ink.text(18, y + 32, words, "label", "ink" if before == 0 else "mind")
            return
        said = f"An order of least wear, days kept: {after} too late instead of {before}, in the whole job."
        ink.text(18, y + 28, said + ("" if proposal.exact else " Perhaps not the best there is."), "label", weight=600)
        for index, (day, planned, proposed) in enumerate(proposal.moved[:2]):
            words = f"{show_day(day)}: {', '.join(proposed)} (planned {', '.join(planned)})"
            ink.text(18 + index * 390, y + 50, ink.squeezed(380, words, "note"), "note", "ink")
        if len(proposal.moved) > 2:
            ink.text(self.width() - 18, y + 28, f"and {len(proposal.moved) - 2} days more", "note", "ink2", "right")
        width = ink.text(18, self.height() - 24, "Take this order", "after_value")
        ink.rule(18, self.height() - 18, 18 + width, self.height() - 18, "ink", 2)
        ink.key(18 + width + 22, self.height() - 30, "O", "")
