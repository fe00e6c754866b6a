"""What this bench tells about itself."""

from __future__ import annotations

from functools import partial

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key, WindowLike


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("trace")
    getattr(window.benches.of("trace"), what)()


COMMANDS = (
    ("Lay a picture under this piece and trace it", "", "choose_picture"), ("Close the outline: the form follows", "Enter", "close_outline"),
    ("Outline what stands out in the picture", "A", "offer"), ("Draw points to the edges near them, or not", "S", "turn_snap"),
    ("The picture from the side, for the depth, or from the front", "V", "turn_view"), ("Take this picture away", "Delete", "take_away"),
)  # fmt: skip

SPEC = BenchSpec(
    "trace", "Trace", "What outline has a piece", "trace.bench:TraceBench", "over", key="Q", sheet=False,
    keys=(Key("press", "a point of the outline; drag one"), Key("arrows, Insert", "the cross goes, and sets a point"), Key("Backspace", "the last point back", "close"),
          Key("Enter", "closes the outline"), Key("A", "outlines what stands out", "offer"), Key("S", "to the edges, or not", "snap"),
          Key("V", "the front, the side", "view:"), Key("Delete", "the picture away"), Key("[ ]", "another piece")),
    commands=tuple(Command(words, f"Q, {key}" if key else "PNG, JPEG, SVG or drop", partial(_do, what=what)) for words, key, what in COMMANDS),
    accepts=(Accepts("picture", lambda window, path: window.benches.of("trace").lay(path), "A picture belongs to a shot or to a piece: open 1, G or Q."),
             Accepts("drawing", lambda window, path: window.benches.of("trace").lay(path), "Open Q and drop it on the piece that it shows.")),
)  # fmt: skip
