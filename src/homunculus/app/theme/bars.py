"""Scroll bars in the colours in use: none of them may be the brightest thing on a dark set."""

from __future__ import annotations

from PySide6.QtWidgets import QScrollBar

from homunculus.app.theme import Theme


def colour_bar(bar: QScrollBar, theme: Theme, ground: str) -> None:
    """Give a scroll ``bar`` the colours of a ``theme``: a plain grip on a ``ground`` of that name."""
    under, grip, held = (theme.colour(name).name() for name in (ground, "line", "ink2"))
    style = (
        f"QScrollBar {{ background: {under}; border: none; }}"
        "QScrollBar:vertical { width: 12px; } QScrollBar:horizontal { height: 12px; }"
        f"QScrollBar::handle {{ background: {grip}; min-height: 32px; min-width: 32px; margin: 3px; }}"
        f"QScrollBar::handle:hover {{ background: {held}; }}"
        "QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }"
        "QScrollBar::add-page, QScrollBar::sub-page { background: none; }"
    )
    if bar.styleSheet() != style:
        bar.setStyleSheet(style)
