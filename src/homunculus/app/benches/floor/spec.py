"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key

SPEC = BenchSpec(
    "floor", "On the floor", "On the floor: set-up record, go or no-go", "floor.bench:FloorBench", "job", "shoot", "G",
    keys=(Key("[ ]", "another shot"), Key("A", "keep a picture of the set-up", "picture")),
    commands=(Command("Print the shot's page", "Ctrl+P, PDF", lambda window: window.benches.of("floor").choose_pdf(), ("Ctrl+P",)),),
    accepts=(Accepts("picture", lambda window, path: window.benches.of("floor").attach(path),
             "A picture belongs to a shot: open station 1 for what its end must match, or G for its set-up."),),
)  # fmt: skip
