"""Colours, type and lengths from ``tokens.toml``, and the fonts beside it."""

from __future__ import annotations

import tomllib
from pathlib import Path
from typing import Any, Literal

from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QFont, QFontDatabase, QPen

HERE = Path(__file__).parent
ThemeName = Literal["plaster", "stage"]


class Theme:
    """One colour table with the type scale; all drawing code asks by name."""

    def __init__(self, tokens: dict[str, Any], name: ThemeName) -> None:
        self.name = name
        self.colours = {key: QColor(value) for key, value in tokens["color"][name].items()}
        self._sizes: dict[str, tuple[float, int, str]] = {k: tuple(v) for k, v in tokens["type"]["size_px"].items()}
        self._families = {"body": tokens["type"]["body"], "figures": tokens["type"]["figures"]}
        self.unit_ratio = float(tokens["type"]["unit_ratio"])
        self.line: dict[str, float] = tokens["line_px"]
        self.dash: dict[str, list[float]] = tokens["line_dash"]
        self._fonts: dict[tuple[str, int, float], QFont] = {}
        self._pens: dict[tuple[str, float, str], QPen] = {}

    def colour(self, name: str) -> QColor:
        """The colour of that name; copy it before changing it."""
        return self.colours[name]

    def size(self, role: str) -> float:
        """Size of a type role in pixels."""
        return self._sizes[role][0]

    def pen(self, name: str, width: float, dash: str) -> QPen:
        """A pen of a colour; ``dash`` names one of the dashes. Copy it before changing it."""
        key = (name, width, dash)
        pen = self._pens.get(key)
        if pen is None:
            pen = self._pens[key] = QPen(self.colours[name], width)
            pen.setCapStyle(Qt.PenCapStyle.FlatCap)
            pen.setJoinStyle(Qt.PenJoinStyle.MiterJoin)
            if dash:
                pen.setDashPattern([max(0.1, part / width) for part in self.dash[dash]])
        return pen

    def font(self, role: str, weight: int = 0, ratio: float = 1.0) -> QFont:
        """The font of a type role with tabular figures; ``ratio`` makes it smaller, never under 12 px."""
        key = (role, weight, ratio)
        font = self._fonts.get(key)
        if font is None:
            size, usual, family = self._sizes[role]
            font = QFont(self._families[family])
            font.setPixelSize(max(12, round(size * ratio)))
            font.setWeight(QFont.Weight(weight or usual))
            font.setFeature(QFont.Tag("tnum"), 1)
            font.setHintingPreference(QFont.HintingPreference.PreferVerticalHinting)
            self._fonts[key] = font
        return font


def load_themes() -> dict[str, Theme]:
    """Read the tokens; fonts must have been loaded with :func:`load_fonts` before anything is drawn."""
    tokens = tomllib.loads((HERE / "tokens.toml").read_text("utf-8"))
    return {name: Theme(tokens, name) for name in ("plaster", "stage")}


def load_fonts() -> None:
    """Give Qt the fonts that ship with the program; without them every glyph may be a box."""
    for path in sorted((HERE / "fonts").glob("*[456]00*.ttf")):
        QFontDatabase.addApplicationFont(str(path))
