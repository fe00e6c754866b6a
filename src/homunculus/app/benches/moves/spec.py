"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import BenchSpec, Command, Key, WindowLike


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("moves")
    getattr(window.benches.of("moves"), what)()


SPEC = BenchSpec(
    "moves", "Moves", "What moves, and when", "moves.bench:MovesBench", "over", "lens", sheet=False,
    keys=(Key("[ ]", "another shot", "shot:"), Key("A", "the lens again", "view:Lens"), Key("S", "what stands where", "view:Stage"), Key("W", "the light", "view:Light"), Key("C", "the measuring card", "view:Card"),
          Key("Enter", "type its line; on the picture: play, or stop", "move:"), Key("arrows", "it begins a frame later or sooner", "move:"), Key("Insert", "one more", "more"),
          Key("Del", "take it out", "move:"), Key(", .", "a frame back or on", "play")),
    commands=(Command("What moves in this shot, and when", "3, A", lambda window: window.benches.open("moves")),
              Command("Write the list of cues and camera frames", "CSV, PDF", lambda window: _do(window, "choose_cues")),
              Command("Play the shot in the camera's picture", "moves", lambda window: _do(window, "play"))),
)  # fmt: skip
