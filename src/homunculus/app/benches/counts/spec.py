"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "counts", "How many", "How many exactly", "counts.bench:CountBench", "job", "mould", "H", keys=(Key("Z", "freeze the count"),),
)  # fmt: skip
