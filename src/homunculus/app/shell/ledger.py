"""The ledger: what moved since the pin, then what to mind."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.theme.ink import Ink
from homunculus.core.figures import Phrase
from homunculus.core.plan.ledger import Moved, short_pair
from homunculus.core.plan.memory import Last
from homunculus.core.plan.sheet import Mind
from homunculus.core.quantities import System
from homunculus.core.showing import Shown, show_scale
from homunculus.core.why import phrase

LEFT = 16.0
TITLE = 16
"""Line pitch of a headline."""
MORE = 24.0
"""Height of the line that leads to the cautions that did not fit."""
MOVED_PITCH = 46.0
LEAST_MOVED, MOST_MOVED = 2, 6


class Ledger(Place):
    """Differences of two plans, and the cautions of the chosen build."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Ledger")
        self._all = False
        self._first = 0
        self._first_mind = self._next_mind = 0
        self._pairs: dict[int, tuple[Moved, tuple[System, str], tuple[str, str, str]]] = {}
        self._cautions: Last[list[tuple[Mind, str, str]]] = Last()

    def _keys(self) -> list[tuple[str, str]]:
        keys = [("P", "pin this plan"), ("/", "go to anything")]
        before = self.desk.pinned_build
        if before and before.build.scale != self.desk.build.scale:
            keys.append(("Esc", f"back to the pinned {show_scale(before.build.scale)}"))
        elif self.desk.session.can_undo:
            keys.append(("U", f"back: {self.desk.session.undo_name}"))
        return keys

    def _most(self, count: int) -> int:
        """How many moved figures fit: all of the height when they were asked for, else six at most."""
        if self._all:
            return max(1, int((self.height() - 80) // MOVED_PITCH))
        if count <= LEAST_MOVED:
            return LEAST_MOVED
        cautions = self.cautions()
        least = max(
            (self._mind_height(headline, why) for _, headline, why in cautions), default=0.0
        )  # whichever is turned to
        minds = max(min(2, len(cautions)) * 72, least + MORE)
        room = int((self.height() - 190 - minds) // MOVED_PITCH)
        return max(LEAST_MOVED, min(MOST_MOVED, room, count))

    def _shown(self) -> tuple[tuple[Moved, ...], int]:
        """The moved figures on show, and how many there are."""
        items = self.desk.moved if self.desk.chosen else ()
        most = self._most(len(items))
        self._first = max(0, min(self._first, len(items) - most)) if self._all else 0
        return items[self._first : self._first + most], len(items)

    def show_all(self, *, all_of_them: bool) -> None:
        """Give the whole ledger to what moved, or give the cautions their place back."""
        self._all, self._first = all_of_them, 0
        self.refresh()

    def wheelEvent(self, event: QWheelEvent) -> None:
        if self._all:
            self._first -= self.notches(event)
            self.refresh()

    def arrange(self) -> None:
        width = self.width() - 2 * LEFT
        items, count = self._shown()
        y = 44.0
        for item in items:
            before, after, unit = self._pair(item)
            said = f"{item.after.spec.label} {item.after.subject.piece}: {before} to {after} {unit}, {item.change}"
            figure = item.after
            self.spots.place(f"moved:{figure.spec.name}:{figure.subject}", QRectF(LEFT - 6, y - 6, width + 12, 48), said,
                             lambda f=figure: self.desk.asked_why.emit(f))  # type: ignore[misc]  # fmt: skip
            y += MOVED_PITCH
        if count > len(items) or self._all:
            words = "what to mind again" if self._all else f"all {count} that moved"
            self.spots.place("all", QRectF(LEFT - 6, y - 6, width + 12, 24), words,
                             lambda: self.show_all(all_of_them=not self._all))  # fmt: skip
            y += 18
        if self._all:
            return
        minds, more = self._minds(y)
        for index, (mind, headline, why, top, bottom) in enumerate(minds):
            said = f"{mind.level}: {headline}. {why}"
            self.spots.place(f"mind:{index}", QRectF(LEFT - 6, top - 4, width + 12, bottom - top), said,
                             lambda m=mind: self._open(m))  # type: ignore[misc]  # fmt: skip
        if more:
            area = QRectF(LEFT - 6, minds[-1][4] - 4, width + 12, MORE)
            self.spots.place("minds", area, f"{more}: show them", self._turn)

    def _turn(self) -> None:
        """Show the cautions that did not fit; after the last of them, the first again."""
        self._first_mind = self._next_mind
        self.refresh()

    def _open(self, mind: Mind) -> None:
        if mind.about:
            self.desk.wanted.emit({"count": "counts", "coverage": "coverage"}[mind.about])
        else:
            self.desk.go(mind.station)

    def content(self) -> object:
        """What moved, as shown, and apart from it the cautions: a drag moves the first far oftener."""
        items, count = self._shown()
        pin = self.desk.session.last_pin
        cautions = [(m.level, headline, why) for m, headline, why in self.cautions()]
        shape = (len(items), count, self._all, pin.number if pin else 0, self.desk.chosen)
        moved = [(id(m.before), self._pair(m), m.change, m.after.value) for m in items]
        return shape, moved, (cautions, self._first_mind, self._keys())

    def cautions(self) -> list[tuple[Mind, str, str]]:
        """The cautions with their headline and why in words, put together once."""
        if not self.desk.chosen:
            return []
        return self._cautions.get((self.desk.minds, self.desk.system), self._all_cautions)

    def _all_cautions(self) -> list[tuple[Mind, str, str]]:
        self._first_mind = 0
        return [(m, self._phrase(m.headline), self._phrase(m.why)) for m in self.desk.minds]

    def repaint_changed(self, before: object, now: object) -> None:
        if not isinstance(before, tuple) or not isinstance(now, tuple) or before[0] != now[0] or before[2] != now[2]:
            self.update()
        else:
            self.update(0, 0, self.width(), round(44 + MOVED_PITCH * now[0][0]))

    def _phrase(self, parts: Phrase) -> str:
        return phrase(parts, self.desk.system, self.desk.job.shop.currency)

    def _pair(self, item: Moved) -> tuple[str, str, str]:
        """Before and after in words, put together once for each shift."""
        key = (self.desk.system, self.desk.job.shop.currency)
        known = self._pairs.get(id(item))
        if known is None or known[0] is not item or known[1] != key:
            if len(self._pairs) > 200:
                self._pairs.clear()
            known = self._pairs[id(item)] = (item, key, short_pair(item.before, item.after, *key))
        return known[2]

    def draw(self, ink: Ink) -> None:
        right = self.width() - LEFT
        ink.rule(0.75, 0, 0.75, self.height(), "ink2", 1.5)
        ink.text(LEFT, 25, "What moved", "heading")
        pin = self.desk.session.last_pin
        ink.text(right, 25, "since the pin" if pin else "", "note", "ink2", "right")
        ink.rule(LEFT, 34, right, 34, "ink", 1.5)
        items, count = self._shown()
        y = 44.0
        if not items:
            words = f"Nothing has moved since pin {pin.number}." if pin else "Pin a plan to see what moves."
            ink.text(LEFT, y + 14, words, "body", "ink2")
            y += 30
        for item in items:
            self._moved(ink, item, y)
            y += MOVED_PITCH
        if count > len(items) or self._all:
            words = "back to what to mind" if self._all else f"and {count - len(items)} more"
            ink.rule(LEFT, y + 12, LEFT + ink.text(LEFT, y + 8, words, "note", "ink"), y + 12, "ink", 1)
            y += 18
        if not self._all and self.touches(QRectF(0, y + 1, self.width(), self.height())):
            self._draw_minds(ink, y)

    def _moved(self, ink: Ink, item: Moved, y: float) -> None:
        right = self.width() - LEFT
        before, after, unit = self._pair(item)
        subject = item.after.subject
        extra = subject.detail or subject.piece or (f"shot {subject.shot}" if subject.shot else "")
        label = f"{item.after.spec.label}, {extra}" if extra else item.after.spec.label
        ink.text(LEFT, y + 10, ink.squeezed(right - LEFT, label, "body"), "body", "ink2")
        x = LEFT + ink.text(LEFT, y + 28, before, "lane_value", "ink2", weight=500) + 5
        ink.arrow(x, y + 23, 12)
        room = right - x - 18 - ink.width(item.change, "label", 500) - 8
        shown = Shown(after, unit)
        ink.number(x + 18, y + 29, shown, "after_value", ratio=ink.fitted(room, shown, "after_value"))
        ink.text(right, y + 28, item.change, "label", "ink", "right")
        self._shift(ink, item, y + 36)

    def _shift(self, ink: Ink, item: Moved, y: float) -> None:
        """Open dot before, solid dot after, joined, on a hairline of the range around both."""
        right = self.width() - LEFT
        ink.rule(LEFT, y, right, y, "hair", 1)
        a, b = item.before.value, item.after.value
        if isinstance(a, int | float) and isinstance(b, int | float) and math.isfinite(a) and math.isfinite(b):
            high = max(abs(a), abs(b)) * 1.08 or 1.0
            low = min(a, b, 0.0) * 1.08
            first, last = (LEFT + (v - low) / (high - low) * (right - LEFT) for v in (a, b))
        else:
            later = b > a  # type: ignore[operator]
            first, last = (LEFT + (right - LEFT) * s for s in ((0.45, 0.75) if later else (0.75, 0.45)))
        ink.rule(first, y, last, y, "ink", 1.6)
        ink.dot(first, y, 3, fill="film")
        ink.dot(last, y, 3)

    def _mind_height(self, headline: str, why: str) -> float:
        """Height that a caution takes, with the space behind it."""
        setting, room = self.setting(), self.width() - 2 * LEFT - 22
        lines = len(setting.within(room, why, "note", 5))
        return TITLE * len(setting.wrapped(room, headline, "body", 600)) + 18 * lines + 10

    def _minds(self, y: float) -> tuple[list[tuple[Mind, str, str, float, float]], str]:
        """The cautions that fit, with headline and why in words, and the top and bottom of each; words for the others."""
        cautions = self.cautions()
        rows: list[tuple[Mind, str, str, float, float]] = []
        top, limit = y + 44.0, self._floor()
        for mind, headline, why in cautions[self._first_mind :]:
            bottom = top + self._mind_height(headline, why)
            rows.append((mind, headline, why, top, bottom))
            top = bottom
            if top > limit:  # this one will not be told, nor those behind it
                break
        whole = not self._first_mind and top <= limit
        while len(rows) > 1 and not whole and rows[-1][4] > limit - MORE:  # one is told in any case
            rows.pop()
        self._next_mind = (self._first_mind + len(rows)) % max(1, len(cautions))
        if whole or not rows or len(rows) == len(cautions):
            return rows, ""
        left = len(cautions) - self._first_mind - len(rows)
        return rows, f"and {left} more" if left else "the first again"

    def _floor(self) -> float:
        """Where the keys begin."""
        return self.height() - 24.0 * len(self._keys()) - 8

    def _draw_minds(self, ink: Ink, y: float) -> None:
        if not self.desk.chosen:
            return
        right, minds = self.width() - LEFT, self.desk.minds
        ink.text(LEFT, y + 22, "Mind", "heading")
        ink.text(right, y + 22, str(len(minds)), "heading", "ink", "right")
        ink.rule(LEFT, y + 31, right, y + 31, "ink", 1.5)
        if not minds:
            ink.text(LEFT, y + 52, "Nothing to mind here.", "body", "ink2")
        rows, more = self._minds(y)
        if more:
            base = rows[-1][4] + 12
            ink.rule(LEFT, base + 4, LEFT + ink.text(LEFT, base, more, "note", "ink"), base + 4, "ink", 1)
        for mind, headline, why, top, _bottom in rows:
            ink.tag(LEFT - 3, top + 1, mind.level)
            colour = "danger" if mind.level == "danger" else "ink"
            x, room = LEFT + 22, right - LEFT - 22
            at = top + 12
            for line in ink.wrapped(room, headline, "body", 600):
                ink.text(x, at, line, "body", colour, weight=600)
                at += TITLE
            ink.paragraph(x, at + 1, room, why, "note", "ink2", 5)
        keys = self._keys()
        for row, (name, words) in enumerate(keys):
            ink.key(LEFT, self.height() - 24.0 * (len(keys) - row) + 6, name, ink.squeezed(170, words, "note"))
