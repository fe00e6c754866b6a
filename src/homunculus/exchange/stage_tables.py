"""Measuring card and cue list as CSV: decimal points, units in the heads, and no cell that a spreadsheet would run as a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Sequence

from homunculus.core.floor.cue_list import Table
from homunculus.exchange.tables import inert


def cues_as_csv(tables: Sequence[Table]) -> bytes:
    """Write ``tables`` one under the other, each row with the name of what it belongs to."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    for table in tables:
        writer.writerow(("of", *table.heads))
        for row in table.rows:
            writer.writerow([inert(table.name), *(_cell(value) for value in row)])
    return out.getvalue().encode("utf-8")


def card_as_csv(table: Table) -> bytes:
    """Write the stands of a measuring card."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(table.heads)
    for row in table.rows:
        writer.writerow([_cell(value) for value in row])
    return out.getvalue().encode("utf-8")


def _cell(value: str | float) -> str:
    return inert(value) if isinstance(value, str) else f"{value:.10g}"
