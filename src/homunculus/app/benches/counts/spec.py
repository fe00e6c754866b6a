"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "counts", "How many", "How many exactly", "counts.bench:CountBench", "job", "mould", "H", keys=(Key("arrows, Enter", "from cell to cell, type into one or ask why"), Key("+ −", "a step more or less"), Key("Z", "freeze the count", "freeze")),
)  # fmt: skip
