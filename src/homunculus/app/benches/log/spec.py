"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Command, Key

SPEC = BenchSpec(
    "log", "Log", "The log", "log.bench:LogBench", "over", key="L",
    keys=(Key("Up, Down", "another entry"), Key("C", "correct it"), Key("Del", "strike it"), Key("A", "a picture to it"),
          Key("S", "it was spoiled"), Key("O", "it was opened at")),
    commands=(Command("Write the log as CSV", "file", lambda window: window.benches.of("log").choose_csv()),),
)  # fmt: skip
