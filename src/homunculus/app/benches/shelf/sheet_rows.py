"""Rows of a data sheet on the shelf bench: what stands there, where it comes from, and where it lies among its family."""

from __future__ import annotations

from PySide6.QtCore import QRectF

from homunculus.app.theme.ink import Ink
from homunculus.core.shelf.sheet import NOBODY, Beside, Row
from homunculus.core.shelf.telling import Strip

LABEL_W = 130
STRIP_W = 56.0
SheetRow = Row | Beside


def text_of(row: SheetRow, key: str) -> str:
    """A cell as it is copied."""
    if isinstance(row, Beside):
        return {"label": row.label, "value": row.one.text, "from": row.other.text}[key]
    return {"label": row.label, "value": row.text, "from": row.source}[key]


def said_of(row: SheetRow) -> str:
    """A row as it is spoken."""
    if isinstance(row, Beside):
        return f"{row.label}: {row.one.text or 'nothing'}, beside {row.other.text or 'nothing'}"
    return f"{row.label}: {row.text or 'nobody has said'}" + (f", from {row.source}" if row.source else "")


def draw_sheet_cell(ink: Ink, row: SheetRow, key: str, area: QRectF, strip: Strip | None = None) -> None:
    """Draw one cell of a sheet; behind a value with the ``strip`` of its family."""
    x, base, room = area.left() + 6, area.bottom() - 9, area.width() - 10
    if key == "label":
        said = row.text if isinstance(row, Row) else "x"
        ink.text(x, base, ink.squeezed(room, row.label, "label"), "label", "ink" if said else "ink2")
    elif isinstance(row, Beside):
        words = row.one.text if key == "value" else row.other.text
        weight = 600 if row.differs else 0
        ink.text(
            x,
            base,
            ink.squeezed(room, words or "–", "label", weight),
            "label",
            "ink" if row.differs else "ink2",
            weight=weight,
        )
    elif row.text and ":" in row.key:
        limb, up, girth, wide = row.text.split(", ")
        words = girth if key == "value" else f"{up}, {limb}, {wide}; {row.source.partition(':')[0]}"
        words = ink.squeezed(room, words, "label" if key == "value" else "note")
        width = ink.text(x, base, words, "label" if key == "value" else "note", "decide" if key == "value" else "ink2")
        if key == "value":
            ink.rule(x, base + 4, x + width, base + 4, "decide", 1, "hidden" if row.source == NOBODY else "")
    elif not row.text:
        if key == "value":
            ink.rule(x, base, x + 40, base, "decide", 1, "hidden")
    elif key == "value":
        begun = row.source == NOBODY
        words = ink.squeezed(room - 8, row.text, "label")
        width = ink.text(x, base, words, "label", "decide")
        ink.rule(x, base + 4, x + width, base + 4, "decide", 1, "hidden" if begun else "")
    else:
        if strip:
            _strip(ink, strip, x, base - 4)
            x, room = x + STRIP_W + 10, room - STRIP_W - 10
        ink.text(x, base, ink.squeezed(room, row.source.partition(":")[0], "note"), "note", "ink2")


def _strip(ink: Ink, strip: Strip, x: float, y: float) -> None:
    """The reach of what is usual, the others of the family as small strokes, this one as a heavy one; beyond the reach it is chequered."""
    ink.rule(x, y, x + STRIP_W, y, "line", 1)
    for end in (x, x + STRIP_W):
        ink.rule(end, y - 3, end, y + 3, "line", 1)
    ink.rules([(x + other * STRIP_W, y - 3, x + other * STRIP_W, y + 3) for other in strip.others], "line", 0.75)
    at = x + max(-0.06, min(1.06, strip.mine)) * STRIP_W
    if strip.outside:
        ink.hatched(QRectF(at - 4, y - 6, 8, 12), "past", "danger")
    else:
        ink.rule(at, y - 6, at, y + 6, "decide", 2.25)
