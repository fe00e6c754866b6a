"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Key

SPEC = BenchSpec(
    "mix", "Mix", "What is weighed for {}?", "mix.bench:MixBench", "station", "mix",
    keys=(Key("W", "weigh up", "weigh"), Key("Del", "leave out what is stirred in", "decide:additive"), Key("[ ]", "another pour of the piece"), Key("Space", "log the pour, or the opening")),
)  # fmt: skip
