"""The strip at the foot: the steps of a piece in their loops, and those of its whole figure, with what each takes."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting
from homunculus.core.edits.decisions import Decision
from homunculus.core.figures import Figure
from homunculus.core.operations.register import kind_of
from homunculus.core.plan.making import LOOP_WORDS, Step, Stretch, all_steps_of, stretches
from homunculus.core.showing import Shown

PER = {"work_s_per_m2": "/m²", "work_s_per_kg": "/kg"}
"""What stands behind the unit of a rate."""
STEP_W = 92.0
HEIGHT = 206.0
MARKS = {"labour": "", "wet": "wet", "curing": "curing", "air_dry": "air_dry", "oven": "oven"}


class Strip:
    """Steps in an area; those that find no room wait at the ends, the chosen one is in sight."""

    def __init__(self, desk: Desk, area: QRectF, piece: str, chosen: str) -> None:
        self.desk, self.area, self.piece = desk, area, piece
        self.steps = all_steps_of(desk.job, desk.build_plan, piece, desk.decisions().values())
        self.loops: tuple[Stretch, ...] = stretches(self.steps)
        room = max(1, int((area.width() - 84) // STEP_W))
        at = next((i for i, step in enumerate(self.steps) if step.key == chosen), 0)
        self.first = max(0, min(at - room // 2, len(self.steps) - room))
        self.shown = self.steps[self.first : self.first + room]

    def x_of(self, index: int) -> float:
        """Left of a step, counted from the first."""
        return self.area.left() + (index - self.first) * STEP_W

    def step_area(self, step: Step) -> QRectF:
        """Where a step's name and mark lie."""
        return QRectF(self.x_of(self.steps.index(step)), self.area.top(), STEP_W - 4, 62)

    def value_areas(self, step: Step) -> list[tuple[str, QRectF]]:
        """Where what is decided about a step lies, by its key: two at most."""
        left = self.x_of(self.steps.index(step))
        return [
            (d.key, QRectF(left - 8, self.area.top() + 58 + 26 * i, STEP_W - 2, 28))
            for i, d in enumerate(step.decided[:2])
        ]

    def written(self, decision: Decision) -> Shown:
        """A decided value as the strip has it."""
        shown = self.desk.given(decision.value, decision.kind)
        return Shown(shown.number, shown.unit + PER.get(decision.path[1], ""))

    def more_area(self) -> QRectF:
        """Where one more step is added."""
        return QRectF(min(self.x_of(self.first + len(self.shown)), self.area.right() - 82), self.area.top(), 80, 50)

    def draw(self, ink: Ink, chosen: str) -> None:
        """Draw steps, values and brackets."""
        y = self.area.top() + 18
        end = self.more_area().left() + 10
        ink.rule(self.area.left(), y, end, y, "ink", 2)
        ink.rule(end, y, self.area.right(), y, "ink2", 1.5, "hidden")
        for step in self.shown:
            self._step(ink, step, y, here=step.key == chosen)
        left_over = len(self.steps) - len(self.shown)
        if left_over:
            ink.text(self.area.right(), self.area.top() + 8, f"{left_over} more: arrows walk",
                     "tick", "ink2", "right")  # fmt: skip
        for i, stretch in enumerate(self.loops):
            self._bracket(ink, stretch, last=i == len(self.loops) - 1)
        more = self.more_area()
        ink.text(more.left() + 6, y + 23, "+ step", "label", "decide")

    def _step(self, ink: Ink, step: Step, y: float, *, here: bool) -> None:
        x = self.x_of(self.steps.index(step))
        ink.dot(x + 5, y, 4.5 if here else 3.5, fill="ink")
        for i, line in enumerate(ink.within(STEP_W - 8, step.op.called, "label", 2, 600)[:2]):
            ink.text(x, y + 20 + 15 * i, line, "label", "ink", weight=600 if here else 0)
        foot = self.area.top() + 62 + 26 * min(2, len(step.decided))
        matter = MARKS[kind_of(step.op).matter(step.op)]
        known = [d.value for d in step.decided if d.path[1] == "work_s"]
        for figure, mark in ((step.work, ""), (step.sets, matter or "curing")):
            if figure is None or not figure.number or (not mark and known == [figure.number]):
                continue  # what is decided already says it
            shift = 0.0
            if mark:
                ink.hatched(QRectF(x, foot + 1, 12, 12), mark, "ink2")
                ink.box(x, foot + 1, 12, 12, edge="ink2")
                shift = 17.0
            ink.number(x + shift, foot + 13, self.desk.shown(figure), "label", "reckon", equals=True)
            foot += 18

    def _bracket(self, ink: Ink, stretch: Stretch, *, last: bool) -> None:
        span = self._span(stretch)
        if span is None:
            return
        y = self.area.bottom() - 34
        left, right = span
        ink.rule(left, y, right, y, "ink", 1.2)
        for x in (left, right):
            ink.rule(x, y - 5, x, y, "ink", 1.2)
        width = ink.text(
            left,
            y + 16,
            ink.squeezed(right - left + 8, LOOP_WORDS[stretch.loop], "note", 600),
            "note",
            "ink",
            weight=600,
        )
        if stretch.work:
            at = self._hours_at(left, right, width)
            ink.number(at.x(), at.y(), self.desk.shown(stretch.work), "note", "reckon", equals=True)

    def _hours_at(self, left: float, right: float, words: float) -> QPointF:
        """Where a bracket's hours stand: behind its words, or beneath them where there is no room."""
        y = self.area.bottom() - 34
        return QPointF(left + words + 8, y + 16) if words + 70 <= right - left + 10 else QPointF(left, y + 31)

    def hours_areas(self, setting: Setting) -> list[tuple[Figure, QRectF]]:
        """The hours of each bracket in sight, and where they lie."""
        found = []
        for stretch in self.loops:
            span = self._span(stretch)
            if span and stretch.work:
                words = setting.width(LOOP_WORDS[stretch.loop], "note", 600)
                at = self._hours_at(*span, min(words, span[1] - span[0] + 8))
                found.append((stretch.work, QRectF(at.x() - 2, at.y() - 14, 64, 19)))
        return found

    def _span(self, stretch: Stretch) -> tuple[float, float] | None:
        """From where to where a bracket goes; none where it is out of sight."""
        shown = [
            n
            for n in (self.steps.index(step) for step in stretch.steps)
            if self.first <= n < self.first + len(self.shown)
        ]
        return (self.x_of(shown[0]), self.x_of(shown[-1]) + STEP_W - 14) if shown else None
