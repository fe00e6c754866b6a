"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key

SPEC = BenchSpec(
    "breakdown", "Shots", "The list of shots", "breakdown.bench:BreakdownBench", "job", "shot", "B",
    keys=(Key("arrows, F2", "from cell to cell, type into one"), Key("F3, or a press on a head", "sort by a column"), Key("Ins, Del", "a shot more or less"), Key("Ctrl+C, Ctrl+V", "rows, as a spreadsheet has them")),
    commands=(
        Command("Take in a list of shots", "CSV, XLSX or drop", lambda window: window.benches.of("breakdown").choose_list("shots")),
        Command("Take in an edit list", "OTIO, cut list or drop", lambda window: window.benches.of("breakdown").choose_list("cut")),
        Command("Write the list of shots", "CSV, XLSX, OTIO, cut list", lambda window: window.benches.of("breakdown").choose_target()),
    ),
    accepts=(
        Accepts("shots", lambda window, path: window.desk.breakdown.files.read_table(path)),
        Accepts("cut", lambda window, path: window.desk.breakdown.files.read_cut(path)),
    ),
)  # fmt: skip
