"""How wide words are in the theme's type, and how they are made to fit; needs no painter."""

from __future__ import annotations

from PySide6.QtGui import QFontMetricsF

from homunculus.app.theme import Theme
from homunculus.core.showing import Shown

_WIDTHS: dict[tuple[str, str, int, float], float] = {}
_METRICS: dict[tuple[str, int, float], QFontMetricsF] = {}
_ASCENTS: dict[tuple[str, int, float], float] = {}
_FIGURES = frozenset("0123456789.:+−")
CLOSE = 3.0
"""Pixels by which words measured one by one may be off those of a whole line."""
_WRAPPED: dict[tuple[float, str, str, int], list[str]] = {}
_SQUEEZED: dict[tuple[float, str, str, int], str] = {}


class Setting:
    """Measures words in one theme's type. Sizes in pixels."""

    def __init__(self, theme: Theme) -> None:
        self.theme = theme

    def width(self, words: str, role: str = "body", weight: int = 0, ratio: float = 1.0) -> float:
        """Width of words in a type role."""
        key = (words, role, weight, ratio)
        known = _WIDTHS.get(key)
        if known is None:
            if len(_WIDTHS) > 20000:
                _WIDTHS.clear()
            if len(words) > 1 and _FIGURES.issuperset(words):
                known = sum(self.width(sign, role, weight, ratio) for sign in words)  # tabular: signs stand alone
            else:
                known = self._metrics(role, weight, ratio).horizontalAdvance(words)
            _WIDTHS[key] = known
        return known

    def _metrics(self, role: str, weight: int, ratio: float) -> QFontMetricsF:
        key = (role, weight, ratio)
        metrics = _METRICS.get(key)
        if metrics is None:
            metrics = _METRICS[key] = QFontMetricsF(self.theme.font(role, weight, ratio))
        return metrics

    def _ascent(self, role: str, weight: int, ratio: float) -> float:
        key = (role, weight, ratio)
        known = _ASCENTS.get(key)
        if known is None:
            known = _ASCENTS[key] = self._metrics(role, weight, ratio).ascent()
        return known

    def number_width(self, shown: Shown, role: str, *, equals: bool = False, ratio: float = 1.0) -> float:
        """Width of a number with its unit, and with its equals sign where it has one."""
        width = self.width(shown.number, role, 0, ratio)
        if shown.unit:
            width += self.width(shown.unit, role, 500, self.theme.unit_ratio * ratio) + 0.16 * self.theme.size(role)
        if equals:
            width += self.width("=", role, 500, 0.8 * ratio) + 0.22 * self.theme.size(role)
        return width

    def fitted(self, room: float, shown: Shown, role: str, *, equals: bool = False) -> float:
        """Ratio at which a number fits the room: figures step down before they clip."""
        ratio = 1.0
        while ratio > 0.45 and self.number_width(shown, role, equals=equals, ratio=ratio) > room:
            ratio -= 0.08
        return ratio

    def wrapped(self, room: float, words: str, role: str = "body", weight: int = 0) -> list[str]:
        """Break words into lines that fit the room; a word too long for a line stays whole."""
        key = (room, words, role, weight)
        known = _WRAPPED.get(key)
        if known is None:
            if len(_WRAPPED) > 2000:
                _WRAPPED.clear()
            known = _WRAPPED[key] = self._wrap(room, words, role, weight)
        return known

    def within(self, room: float, words: str, role: str, most: int, weight: int = 0) -> list[str]:
        """Break words into at most that many lines; what does not fit is seen to be left out by a gap in the last one."""
        lines = self.wrapped(room, words, role, weight)
        if len(lines) > most:
            lines = [*lines[: most - 1], self.squeezed(room, " ".join(lines[most - 1 :]), role, weight)]
        return lines

    def _wrap(self, room: float, words: str, role: str, weight: int) -> list[str]:
        lines: list[str] = []
        line, wide, space = "", 0.0, self.width(" ", role, weight)
        for word in words.split(" "):
            own = self.width(word, role, weight)  # words come again, lines with live numbers do not
            grown = wide + space + own
            close = abs(grown - room) < CLOSE  # letters beside a space may move by a little
            if line and (self.width(f"{line} {word}", role, weight) if close else grown) > room:
                lines.append(line)
                line, wide = word, own
            else:
                line, wide = (f"{line} {word}", grown) if line else (word, own)
        return [*lines, line] if line else lines

    def squeezed(self, room: float, words: str, role: str = "body", weight: int = 0) -> str:
        """Shorten words to the room by losing their middle, never their ends."""
        if self.width(words, role, weight) <= room:
            return words
        if " · " in words:
            return self._squeeze_items(room, words.split(" · "), role, weight)
        key = (room, words, role, weight)
        known = _SQUEEZED.get(key)
        if known is None:
            if len(_SQUEEZED) > 2000:
                _SQUEEZED.clear()
            known = _SQUEEZED[key] = self._squeeze(room, words, role, weight)
        return known

    def _squeeze_items(self, room: float, items: list[str], role: str, weight: int) -> str:
        """Leave out whole items of a list and say how many: two must never be run together into one."""
        for shown in range(len(items) - 1, 0, -1):
            trial = f"{' · '.join(items[:shown])} +{len(items) - shown}"
            if self.width(trial, role, weight) <= room:
                return trial
        more = f" +{len(items) - 1}"
        return self.squeezed(room - self.width(more, role, weight), items[0], role, weight) + more

    def _squeeze(self, room: float, words: str, role: str, weight: int) -> str:
        keep = len(words)
        while keep > 4:
            keep -= 1
            head = (keep + 1) // 2
            trial = words[:head].rstrip() + "…" + words[len(words) - (keep - head) :].lstrip()
            if self.width(trial, role, weight) <= room:
                return trial
        return words[:1] + "…"
