"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "match", "Columns", "Which column is which", "match.bench:MatchBench", "over", "shot",
    keys=(Key("Left, Right", "what a column becomes"), Key("Enter", "take the rows in"), Key("Esc", "leave it")),
)  # fmt: skip
