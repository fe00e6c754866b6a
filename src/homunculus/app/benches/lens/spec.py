"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec

SPEC = BenchSpec("lens", "Lens", "Can the lens hold {}?", "", "station", "lens")
