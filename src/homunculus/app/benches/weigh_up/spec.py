"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Command, Key

SPEC = BenchSpec(
    "weigh_up", "Weigh-up", "What comes next onto the scale?", "weigh_up.bench:WeighUp", "window", "mix",
    keys=(
        Key("Space", "or a pedal: the next step"), Key("Backspace", "take the last weight back"), Key("digits", "type what a dial shows"),
        Key("L", "the lot"), Key("C", "the scale"), Key("Down, Right", "pour into the practice scale, fast or slow"),
        Key("Esc", "leave; it goes on from there"),
    ),
    commands=(Command("Weigh up the mix of this piece", "W on Mix", lambda window: window.benches.open("weigh_up")),),
)  # fmt: skip
