"""The cue list on paper: what is called, when, in a type that is read by a torch."""

from __future__ import annotations

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core.floor.cue_list import Table
from homunculus.core.job.shots import Shot
from homunculus.core.plan.cautions import set_cautions
from homunculus.core.showing import show_day

LEFT, TOP, ROW = 36.0, 96.0, 17.0
ROWS, COLUMNS = 24, 2
"""A page has two columns of so many rows."""


class CuePage:
    """One page of one table."""

    def __init__(self, desk: Desk, shot: Shot, table: Table, first: int) -> None:
        self.desk, self.shot, self.table, self.first = desk, shot, table, first

    @classmethod
    def all(cls, desk: Desk, shot: Shot, tables: tuple[Table, ...]) -> list[CuePage]:
        """All pages of a shot's tables."""
        return [
            cls(desk, shot, table, first)
            for table in tables
            for first in range(0, max(1, len(table.rows)), ROWS * COLUMNS)
        ]

    def draw(self, ink: Ink, width: float, height: float) -> None:
        """Draw the page."""
        shot, table = self.shot, self.table
        ink.text(LEFT, 48, f"Shot {shot.id}: {shot.name}", "bench_question")
        ink.text(width - LEFT, 48, f"{self.desk.job.name}, {show_day(shot.day)}", "note", "ink2", "right")
        ink.text(LEFT, 72, table.name, "label", weight=600)
        wide = (width - 2 * LEFT - 20) / COLUMNS
        for column in range(COLUMNS):
            rows = table.rows[self.first + column * ROWS : self.first + (column + 1) * ROWS]
            if not rows:
                break
            x = LEFT + column * (wide + 20)
            step = wide / len(table.heads)
            for i, head in enumerate(table.heads):
                ink.text(x + (i + 1) * step - 4, TOP, head, "note", "ink2", "right")
            ink.rule(x, TOP + 5, x + wide, TOP + 5, "ink", 1.2)
            for n, row in enumerate(rows):
                y = TOP + 20 + n * ROW
                for i, cell in enumerate(row):
                    ink.text(
                        x + (i + 1) * step - 4,
                        y,
                        cell if isinstance(cell, str) else f"{cell:g}",
                        "label",
                        "ink",
                        "right",
                    )
        y = height - 64.0
        for words in set_cautions(self.desk.job, shot)[:3]:
            ink.tag(LEFT, y - 10, "mind")
            ink.text(LEFT + 26, y, ink.squeezed(width - 2 * LEFT - 26, words, "note"), "note", "ink2")
            y += 18
