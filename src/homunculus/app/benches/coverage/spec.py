"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "coverage", "Who covers", "Who covers what", "coverage.bench:CoverageBench", "job", "shot", "V",
    keys=(Key("Enter", "type what covers a need"), Key("Del", "let it go")),
)  # fmt: skip
