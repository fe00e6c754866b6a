"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec

SPEC = BenchSpec("figures", "Figures", "The figures of a station", "figures.bench:SheetBench", "sheet")
