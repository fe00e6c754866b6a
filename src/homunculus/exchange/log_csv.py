"""The shop log as CSV: decimal points, kilograms, and no cell that a spreadsheet would run as a formula."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping

from homunculus.core.log import LogEvent
from homunculus.exchange.tables import inert

HEAD = (
    "at",
    "what",
    "build",
    "piece",
    "operation",
    "mix",
    "batch",
    "text",
    "weights_kg",
    "lot",
    "celsius",
    "until",
    "picture",
    "counts",
)


def log_as_csv(entries: Iterable[LogEvent], names: Mapping[tuple[str, str], str], corrected: set[str]) -> str:
    """Write entries as CSV.

    Parameters
    ----------
    entries
        In the order in which they shall stand.
    names
        What a (build, piece) is called; the ids stand where a name is missing.
    corrected
        Ids of entries that no longer count.
    """
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(HEAD)
    for e in entries:
        weights = "; ".join(f"{part} {mass:.4f}" for part, mass in e.weights_kg.items())
        row = (
            e.at.isoformat(sep=" ", timespec="minutes"), e.kind, names.get((e.build, ""), e.build),
            names.get((e.build, e.piece), e.piece), e.op, e.mix, e.batch or "", e.text, weights, e.lot,
            "" if e.celsius is None else f"{e.celsius:g}", e.until.isoformat(sep=" ", timespec="minutes") if e.until else "",
            e.picture, "no" if e.id in corrected else "yes",
        )  # fmt: skip
        writer.writerow([inert(str(cell)) for cell in row])
    return out.getvalue()
