"""Castings as tally strokes, as a casting hand chalks them on the wall: wanted in ink, for the failures in pencil."""

from __future__ import annotations

from PySide6.QtCore import QLineF

from homunculus.app.theme.ink import Ink

STROKE, GROUP, HIGH = 4.0, 22.0, 15.0


def tally_width(count: int) -> float:
    """How wide so many strokes are."""
    groups, rest = divmod(count, 5)
    return groups * GROUP + rest * STROKE


def draw_tally(ink: Ink, x: float, y: float, room: float, good: int, made: int, *, short: int = 0) -> float:
    """Draw ``good`` strokes in ink, those up to ``made`` in pencil, and ``short`` ones that are missing in dashes.

    What does not fit in ``room`` is said as a number. Returns where it ends.
    """
    total = made + short
    fits = int((room - ink.width("and 1000 more", "note")) // GROUP) * 5
    shown = total if tally_width(total) <= room else max(0, fits)
    lines: dict[str, list[QLineF]] = {"ink": [], "line": [], "danger": []}
    for i in range(shown):
        colour = "ink" if i < min(good, made) else "line" if i < made else "danger"
        group, place = divmod(i, 5)
        left = x + group * GROUP
        if place < 4:
            lines[colour].append(QLineF(left + place * STROKE, y - HIGH, left + place * STROKE, y))
        else:
            lines[colour].append(QLineF(left - 3, y - 2, left + 3 * STROKE + 3, y - HIGH + 2))
    for colour, found in lines.items():
        if found:
            ink.painter.setPen(ink.pen(colour, 1.8, "planned" if colour == "danger" else ""))
            ink.painter.drawLines(found)
    end = x + tally_width(shown)
    if shown < total:
        words = f"and {total - shown} more"
        if end + 4 + ink.width(words, "note") > x + room:
            words = f"+{total - shown}"
        end += ink.text(end + 4, y, words, "note", "ink2") + 4
    return end
