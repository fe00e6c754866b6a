"""What this bench tells about itself."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key, WindowLike


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("made")
    getattr(window.benches.of("made").doings, what)()


def _lay(window: WindowLike, path: Path) -> None:
    """A picture dropped on the pieces lies under the chosen one, to be traced."""
    window.benches.open("trace")
    window.benches.of("trace").lay(path)


COMMANDS = (
    ("One more piece of this build", "Insert", "add_piece"), ("Type this piece anew: form, size, material", "Enter", "type_piece"),
    ("A copy of this piece", "D", "copy_piece"), ("A copy of this piece for the other side", "X", "mirror_piece"),
    ("Delete this piece", "Delete", "delete_piece"), ("Give this piece to another build", "", "give_piece"),
    ("One more step of its making", "+", "add_step"), ("Type this step anew", "", "type_step"), ("Cut this piece's mesh in two", "", "split_mesh"), ("One more step with all pieces together: rig, dress, test", "", "add_figure_step"), ("Another way of making this piece", "R", "next_way"),
    ("Type what this build must do: scale, start, how many, water, moves, budget", "F2", "type_build"), ("Rename this build", "", "rename_build"), ("A copy of this build", "", "copy_build"), ("Put this build away", "", "put_away"), ("Bring back a build that was put away", "", "bring_back"), ("Delete this build", "", "delete_build"),
    ("Let all beginnings of this build stand", "", "accept_all"),
    ("Take in a list of pieces (CSV, XLSX)", "", "choose_table"), ("Write the list of pieces (CSV, XLSX)", "", "choose_target"),
    ("This build takes its scale from another", "", "tie_build"),
    ("This build further up in the cast", "", "build_up"), ("This build further down in the cast", "", "build_down"),
)  # fmt: skip

SPEC = BenchSpec(
    "made", "Made of", "What is it made of", "made.bench:MadeBench", "over", "mould", "M", sheet=False,
    keys=(Key("[ ]", "another piece", "piece:"), Key("Enter", "type the line of the piece, or of the step", "line:"), Key("Insert", "one more piece", "else"), Key("Delete", "take the piece, or the step, away"),
          Key("R", "another way of making it", "way:"), Key("+", "one more step", "more-step"), Key("Alt+arrows", "the step, or the piece, goes before or behind", "step:"),
          Key("F2", "what the build must do", "build-line"), Key("D", "a copy of the piece"), Key("X", "a copy for the other side"), Key("Ctrl+C, Ctrl+V", "the piece's line, also from another build or program")),
    accepts=(Accepts("mesh", lambda window, path: window.benches.of("made").doings.take_mesh(path, window.dropped_at),
                     "Open M and drop it on a piece."),
             Accepts("picture", _lay, "Open M and drop it there: it lies under the chosen piece."), Accepts("drawing", _lay, "Open M and drop it there."),
             Accepts("pieces", lambda window, path: window.desk.pieces.read_table(path), "Open M and drop it there.")),
    commands=(Command("A new build: miniature, puppet, suit, prop …", "Ctrl+B", partial(_do, what="begin"), ("Ctrl+B",)),
              *(Command(words, f"M, {key}" if key else "what it is made of", partial(_do, what=what)) for words, key, what in COMMANDS)),
)  # fmt: skip
