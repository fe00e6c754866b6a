"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Key

SPEC = BenchSpec(
    "shot", "Shot", "What does the camera see of {}?", "shot.bench:ShotBench", "station", "shot",
    keys=(Key("[ ]", "another shot", "shot:"), Key("A", "keep a picture of how it must end", "picture")),
    accepts=(Accepts("picture", lambda window, path: window.benches.of("shot").attach(path),
             "A picture belongs to a shot: open station 1 for what its end must match, or G for its set-up."),),
)  # fmt: skip
