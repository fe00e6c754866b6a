"""Files that are taken in and written: a logger's temperatures, lists of shots, edit lists."""

from __future__ import annotations

from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from homunculus.app.desk import Desk
from homunculus.core.errors import UserError
from homunculus.core.log import LogEvent


def take_in_temperatures(desk: Desk, path: Path) -> None:
    """Take a logger's CSV into the log, as a measured stretch; what was left out is said."""

    def read() -> tuple[LogEvent, str]:
        from homunculus.exchange.temperatures import MOST_BYTES, as_entry, read_temperatures  # not needed to start
        from homunculus.store.atomic import read_bounded

        found = read_temperatures(read_bounded(path, MOST_BYTES, path.name), path.name)
        entry, left_out = as_entry(found, path.name), len(found.left_out)
        more = f" and {left_out - 1} more rows" if left_out > 1 else ""
        return entry, f"{entry.text}. {found.left_out[0]}{more}: left out." if left_out else ""

    def enter(brought: tuple[LogEvent, str]) -> None:
        desk.enter(brought[0])
        if brought[1]:
            desk.said.emit(brought[1])

    desk.matter.begin(f"Reading {path.name}", read, enter)


LISTS, CUTS = (".xlsx", ".tsv", ".csv", ".txt"), (".otio", ".edl")


def take_in_list(desk: Desk, path: Path) -> None:
    """Take in a list of shots or an edit list, by its ending."""
    if path.suffix.lower() in CUTS:
        desk.breakdown.files.read_cut(path)
    else:
        desk.breakdown.files.read_table(path)


def take_in_text(desk: Desk, path: Path) -> None:
    """Take in a CSV that may be a logger's temperatures or a list of shots: which it is shows its head."""
    from homunculus.exchange.tables import read_table  # not needed to start

    try:
        with path.open("rb") as file:
            head = read_table(file.read(65_536), path.name)[:1]
    except (OSError, UserError):
        head = []
    if head and "id" in desk.breakdown.files.guess(head[0]):
        desk.breakdown.files.read_table(path)
    else:
        take_in_temperatures(desk, path)


def choose_list(parent: QWidget, desk: Desk, what: str) -> None:
    """Ask for a list of shots (“table”) or an edit list (“cut”), and take it in."""
    kinds = "Lists of shots (*.xlsx *.csv *.tsv *.txt)" if what == "table" else "Edit lists (*.otio *.edl)"
    name, _ = QFileDialog.getOpenFileName(
        parent, "Take in shots", "", f"{kinds};;All of them (*.xlsx *.csv *.tsv *.txt *.otio *.edl)"
    )
    if name:
        take_in_list(desk, Path(name))


def choose_target(parent: QWidget, desk: Desk) -> None:
    """Ask where to write the shots; the ending decides what is written."""
    kinds = "Spreadsheet (*.xlsx);;CSV (*.csv);;Edit list (*.otio);;Cut list (*.edl)"
    name, chosen = QFileDialog.getSaveFileName(parent, "Write the shots", "shots.xlsx", kinds)
    if name:
        path = Path(name)
        desk.breakdown.files.write(path if path.suffix else path.with_suffix(chosen.partition("*")[2].rstrip(")")))
