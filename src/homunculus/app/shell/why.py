"""The why slip: a figure's formula, inputs, rule, source and notes, unfolded from the figure."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QRectF, Qt, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.theme.ink import Ink
from homunculus.core.figures import Figure
from homunculus.core.why import Why, why

WIDTH = 400
LEFT = 18.0
TOP, PITCH = 156.0, 30.0


class WhySlip(Place):
    """A slip over the bench. Inputs that are figures can be asked in turn; Esc or Backspace goes back."""

    ground = "film"
    closed = Signal()

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Why")
        self._trail: list[Figure] = []
        self._first = 0
        self.hide()

    def ask(self, figure: Figure) -> None:
        """Unfold the slip for a figure."""
        self._trail.append(figure)
        self._first = 0
        self.setGeometry(self.room().width() - WIDTH, 0, WIDTH, self.room().height())
        self.show()
        self.raise_()
        self.refresh()
        first = self.spots.find("input:0") or self.spots.find("close")
        if first:
            first.setFocus()

    def fold(self) -> None:
        """Go back to the figure that led here, or fold the slip away."""
        if self._trail:
            self._trail.pop()
            self._first = 0
        if self._trail:
            self.refresh()
        else:
            self.hide()
            self.closed.emit()

    def fold_whole(self) -> None:
        """Fold the slip away, whatever was asked on the way."""
        self._trail.clear()
        self.hide()

    def told(self) -> Why | None:
        """The explanation on the slip, from the plan as it stands."""
        if not self._trail:
            return None
        figure = self._trail[-1]
        if figure.subject.build in {b.id for b in self.desk.job.cast}:
            figure = self.desk.plan.figure(figure.spec, figure.subject) or figure
        return why(figure, self.desk.system, self.desk.job.shop.currency)

    def _lines(self) -> list[tuple[str, str, float, int]]:
        """Rows of the slip: sort, words, baseline, index of the input. What has no room waits behind “more”."""
        told = self.told()
        if told is None:
            return []
        room = int((self.height() - TOP - self._foot(told)) // PITCH)
        count = len(told.inputs)
        most = count if count <= room else max(1, room - 1)
        first = self._first if self._first < count else 0
        shown = range(first, min(count, first + most))
        rows = [("input", told.inputs[i].label, TOP + PITCH * row, i) for row, i in enumerate(shown)]
        y = TOP + PITCH * len(rows)
        if most < count:
            rows.append(("more", f"{shown.start + 1} to {shown.stop} of {count}: more", y, shown.stop))
            y += PITCH
        rows.append(("source", told.source, y + 12, -1))
        return rows

    def _foot(self, told: Why) -> float:
        """Height of what stands beneath the inputs: meaning, source and notes."""
        setting, room = self.setting(), self.width() - 2 * LEFT
        body, note = (round(self.theme().size(role) * 1.28) for role in ("body", "note"))
        high = 20 + body * len(setting.wrapped(room, told.meaning, "body")) + 8
        high += note * len(setting.wrapped(room, f"Source: {told.source}.", "note"))
        return float(high + sum(8 + note * len(setting.wrapped(room, f"Note: {n}.", "note")) for n in told.notes))

    def _turn(self, first: int) -> None:
        self._first = first
        self.refresh()
        more = self.spots.find("more")
        if more:
            more.setFocus()

    def arrange(self) -> None:
        told = self.told()
        if told is None:
            return
        self.spots.place(
            "close", QRectF(self.width() - 54, 6, 44, 40), f"{' '.join(told.lines())} Fold away", self.fold
        )
        for sort, words, y, index in self._lines():
            area = QRectF(LEFT - 6, y - 20, self.width() - 2 * LEFT + 12, 30)
            if sort == "more":
                self.spots.place("more", area, words, partial(self._turn, index))
            item = told.inputs[index] if sort == "input" else None
            if item is None:
                continue
            action = (lambda f=item.figure: self.ask(f)) if item.figure else None
            self.spots.place(f"input:{index}", area, f"{words} {item.value}, {item.origin}", action)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() in (Qt.Key.Key_Escape, Qt.Key.Key_Backspace):
            self.fold()
        else:
            event.ignore()

    def draw(self, ink: Ink) -> None:
        told = self.told()
        if told is None:
            return
        ink.rule(0.75, 0, 0.75, self.height(), "ink", 1.5)
        ink.text(LEFT, 28, "Why?", "heading", "ink2")
        for a, b in ((-5, 5), (5, -5)):
            ink.rule(self.width() - 32 - 5, 26 + a, self.width() - 32 + 5, 26 + b, "ink", 1.6)
        whose = f"{told.label}  ·  {told.subject}" if told.subject else told.label
        ink.text(LEFT, 52, ink.squeezed(self.width() - 2 * LEFT, whose, "body"), "body", "ink2")
        ink.text(LEFT, 88, f"= {told.value}", "on_drawing", "reckon")
        for i, line in enumerate(ink.within(self.width() - 2 * LEFT, told.formula, "label", 2, 600)):
            ink.text(LEFT, 112 + i * 17, line, "label", "ink", weight=600)
        right = self.width() - LEFT
        y = 140.0
        for sort, words, base, index in self._lines():
            if sort == "more":
                ink.rule(LEFT, base + 4, LEFT + ink.text(LEFT, base, words, "note", "decide"), base + 4, "decide", 1)
            if sort != "input":
                y = base
                continue
            item = told.inputs[index]
            colour = "decide" if item.origin == "decided" else "reckon" if item.figure else "ink"
            value = ("= " if item.figure else "") + item.value
            width = ink.text(right, base, ink.squeezed(180, value, "label"), "label", colour, "right", 600)
            ink.text(LEFT, base - 4, ink.squeezed(right - LEFT - min(width, 180) - 10, words, "body"), "body")
            ink.text(LEFT, base + 8, ink.squeezed(200, item.origin, "tick"), "tick", "ink2")
            ink.rule(LEFT, base + 12, right, base + 12, "hair", 0.75)
        y = ink.paragraph(LEFT, y + 8, right - LEFT, told.meaning, "body", "ink")
        y = ink.paragraph(LEFT, y + 8, right - LEFT, f"Source: {told.source}.", "note", "ink2")
        for note in told.notes:
            y = ink.paragraph(LEFT, y + 6, right - LEFT, f"Note: {note}.", "note", "ink2") + 2
