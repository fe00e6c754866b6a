"""What this bench tells about itself."""

from __future__ import annotations

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key, WindowLike


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("stage")
    getattr(window.benches.of("stage"), what)()


SPEC = BenchSpec(
    "stage", "Stage", "What stands where", "stage.bench:StageBench", "over", "lens", sheet=False,
    keys=(Key("[ ]", "another shot", "shot:"), Key("S", "the lens again", "view:Lens"), Key("W", "the light", "view:Light"), Key("C", "the measuring card", "view:Card"), Key("A", "what moves", "view:Moves"),
          Key("Enter", "type where it stands, or the camera", "place:"), Key("arrows", "a step along; on the plan aside, in the side view up", "plan:"),
          Key("Alt+pull", "a scale stays where it stands, and looks elsewhere", "scale:"), Key("X", "it may be soft, or must be sharp again"),
          Key("Del", "its foot rises to the eye again; of a row: it stands nowhere yet"), Key("Insert", "something more before the lens", "add")),
    accepts=(Accepts("picture", lambda window, path: window.benches.of("stage").take_picture(path), "Open the stage and drop it there: it lies behind the outlines."),),
    commands=(Command("What stands where in this shot", "3, S", lambda window: window.benches.open("stage")),
              Command("Write the stage plan with its floor marks", "SVG, DXF", lambda window: _do(window, "choose_plan")),
              Command("A picture of the plate behind the outlines", "PNG, JPEG or drop", lambda window: _do(window, "choose_picture")),
              Command("Say the air of the stage: haze, dry ice", "stage", lambda window: _do(window, "type_air")),
              Command("Say how high the eye looks, real", "stage", lambda window: _do(window, "type_eye"))),
)  # fmt: skip
