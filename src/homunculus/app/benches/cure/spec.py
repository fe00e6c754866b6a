"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key
from homunculus.app.temperature_files import take_in_temperatures

SPEC = BenchSpec(
    "cure", "Cure", "When may the moulds of {} be opened?", "cure.bench:CureBench", "station", "cure",
    keys=(Key("Del", "leave what was tried", "start"), Key("[ ]", "another pour of the piece"), Key("Space", "log the pour, or the opening")),
    commands=(Command("Take in a logger's temperatures", "CSV file or drop", lambda window: window.benches.of("cure").choose_csv()),),
    accepts=(Accepts("temperatures", lambda window, path: take_in_temperatures(window.desk, path)),),
)  # fmt: skip
