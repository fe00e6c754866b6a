"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "scale", "Scale", "How big is {}?", "scale.bench:ScaleBench", "station", "scale", sheet=False,
    keys=(Key(", .", "a stock scale down or up", "scale"), Key("Esc", "back to the pinned scale")),
)  # fmt: skip
