"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Command, Key, WindowLike


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("card")
    getattr(window.benches.of("card"), what)()


SPEC = BenchSpec(
    "card", "Measuring card", "Does it stand as the plate asks", "card.bench:CardBench", "over", "lens", sheet=False,
    keys=(Key("[ ]", "another shot", "shot:"), Key("C", "the lens again", "view:Lens"), Key("S", "what stands where", "view:Stage"), Key("A", "what moves", "view:Moves"), Key("W", "the light", "view:Light"),
          Key("Enter", "type the plate's value, the stand, what was found", "plate:"), Key("Insert", "one more stand", "add-stand"), Key("Del", "take it away", "stand:")),
    commands=(Command("The measuring card of this shot", "3, C", lambda window: window.benches.open("card")),
              Command("Set the camera as the plate asks", "measuring card", lambda window: _do(window, "as_asked")),
              Command("Write the measuring card", "PDF, CSV", lambda window: _do(window, "choose_card"))),
)  # fmt: skip
