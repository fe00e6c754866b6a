"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key

SPEC = BenchSpec(
    "cure", "Cure", "When may the moulds of {} be opened?", "cure.bench:CureBench", "station", "cure",
    keys=(Key("Del", "leave what was tried"), Key("Space", "log the pour, or the opening")),
    commands=(Command("Take in a logger's temperatures", "CSV file or drop", lambda window: window.bench_of("cure").choose_csv()),),
    accepts=(Accepts("temperatures", lambda window, path: window.desk.take_in_temperatures(path)),),
)  # fmt: skip
