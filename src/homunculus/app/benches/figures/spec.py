"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "figures", "Figures", "The figures of a station", "figures.bench:SheetBench", "sheet",
    keys=(Key("Enter", "why it is so, or type over what is decided"), Key("+ −", "a step more or less")),
)  # fmt: skip
