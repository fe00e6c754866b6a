"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "shoot", "Shoot", "Will {} be ready for its flag?", "shoot.bench:ShootBench", "station", "shoot",
    keys=(Key("O", "take the order that ruins least", "take-order"), Key("[ ]", "another shot")),
)  # fmt: skip
