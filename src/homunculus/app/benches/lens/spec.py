"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Command, Key

SPEC = BenchSpec(
    "lens", "Lens", "Does focus hold for {}?", "lens.bench:LensBench", "station", "lens",
    keys=(Key("[ ]", "another shot", "shot:"), Key("X", "it may be soft, or must be sharp again", "hold:place"),
          Key("Del", "leave it to the program; of a thing: it stands nowhere yet", "hold:"), Key("O", "the next body or mode", "hold:camera"),
          Key("W", "the light, or the focus again", "view:Light"), Key("S", "what stands where", "view:Stage"), Key("C", "the measuring card", "view:Card"),
          Key("A", "what moves", "view:Moves")),
    commands=(Command("Write the camera card", "PDF", lambda window: window.benches.of("lens").choose_pdf()),
              Command("The set of this shot is right as it is", "", lambda window: window.benches.of("lens").taking.settle())),
)  # fmt: skip
