"""Files that are taken in: a logger's temperatures."""

from __future__ import annotations

import os
from pathlib import Path

from homunculus.app.desk import Desk
from homunculus.core.errors import UserError
from homunculus.core.log import LogEvent


def take_in_temperatures(desk: Desk, path: Path) -> None:
    """Take a logger's CSV into the log, as a measured stretch; what was left out is said."""
    from homunculus.exchange.temperatures import read_temperatures  # not needed to start

    try:
        read = read_temperatures(path.read_bytes(), path.name)
    except OSError as trouble:
        desk.said.emit(f"{path.name} cannot be read: {trouble.strerror}. Nothing was changed.")
        return
    except UserError as trouble:
        desk.said.emit(str(trouble))
        return
    record = read.record.thinned()
    gaps, left_out = len(record.gaps()), len(read.left_out)
    words = f"{path.name}: {len(read.record.series)} readings" + (f", {gaps} gaps" if gaps else "")
    desk.enter(LogEvent(os.urandom(6).hex(), record.first, "measured", words, until=record.last, series=record.series))
    if left_out:
        more = f" and {left_out - 1} more rows" if left_out > 1 else ""
        desk.said.emit(f"{words}. {read.left_out[0]}{more}: left out.")
