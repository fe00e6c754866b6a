"""What this bench tells about itself."""

from __future__ import annotations

from functools import partial

from homunculus.app.benches.spec import Accepts, BenchSpec, Command, Key, WindowLike


def _do(window: WindowLike, what: str) -> None:
    window.benches.open("shelf")
    getattr(window.benches.of("shelf").acts, what)()


COMMANDS = (
    ("Find a card on the shelf: material, camera, lens, oven, person …", "Ctrl+F", "ask_words"), ("A new card from a data sheet", "Insert", "ask_new"),
    ("A copy of this card", "D", "ask_copy"), ("Put this card away, or bring it back", "Delete", "turn_away"),
    ("Delete this card from the shelf", "", "delete"), ("Take this card into the job", "+", "take"),
    ("Hold this card beside others", "C", "hold"), ("Cards that the shelf has newer than this job", "Y", "show_newer"),
    ("Follow the shelf in this card", "", "follow"), ("Leave this card in the job as it is", "", "leave"),
    ("The next mode of the camera that is shot with", "", "next_mode"), ("Put this job's card on the shelf", "", "put_on_shelf"), ("Take the card out of the job", "−", "put_down"),
    ("Take in a table of cards", "CSV, XLSX or drop", "choose_table"), ("Write the cards of this sort to a table", "CSV, XLSX", "choose_target"),
)  # fmt: skip

SPEC = BenchSpec(
    "shelf", "Shelf", "What stands on the shelf", "shelf.bench:ShelfBench", "over", key="K", sheet=False,
    keys=(Key("Up, Down", "another card, or row of its sheet"), Key("Right, Left", "to its sheet and back"), Key("Enter", "type into the row"),
          Key("Ctrl+F", "find by words", "words"), Key("Insert", "a new card", "new"), Key("D", "a copy"), Key("Delete", "put away, bring back"),
          Key("+", "take it into the job", "take"), Key("C", "hold it beside others", "hold"), Key("Y", "what the shelf has newer", "newer"),
          Key("[ ]", "another sort", "sort:")),
    commands=tuple(Command(words, key if key[:4] == "Ctrl" or len(key) > 6 else f"K, {key}" if key else "the shelf", partial(_do, what=what),
                           (key,) if key[:4] == "Ctrl" else ()) for words, key, what in COMMANDS),
    accepts=(Accepts("cards", lambda window, path: window.benches.of("shelf").take_table(path), "Open K and drop it there."),),
)  # fmt: skip
