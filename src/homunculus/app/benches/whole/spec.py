"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec

SPEC = BenchSpec("whole", "Whole job", "How the whole job stands", "whole.bench:WholeBench", "job", key="J")
