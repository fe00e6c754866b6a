"""What is done from the bench for builds and pieces: by key, by menu, by name in the go-to box."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QPoint
from PySide6.QtWidgets import QApplication

from homunculus.app.benches.base import Bench
from homunculus.app.benches.made.acts import Acts
from homunculus.app.benches.made.begin import NewBuild
from homunculus.app.benches.made.handles import PieceHandles
from homunculus.app.benches.spec import WindowLike
from homunculus.app.drawing.place import Can
from homunculus.app.files import ask_to_read, ask_to_write
from homunculus.core.cells.builds import HINT as BUILD_HINT
from homunculus.core.cells.pieces import HINT
from homunculus.core.cells.steps import HINT as STEP_HINT
from homunculus.core.edits.reshape import half_way_up
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Mesh
from homunculus.core.job.ways import way_of
from homunculus.exchange.formats import offered, offered_to_write


class MadeDoings:
    """All that is done on the bench for builds and pieces.

    Parameters
    ----------
    bench
        On which it is done.
    acts
        The edits.
    new
        The build that begins, where one does.
    pieces
        The pieces as they stand.
    """

    def __init__(self, bench: Bench, acts: Acts, new: NewBuild, pieces: PieceHandles) -> None:
        self.bench, self.desk, self.spots, self.acts = bench, bench.desk, bench.spots, acts
        self.new, self.pieces = new, pieces
        self.op_id = ""
        """The step that is chosen."""

    def _window(self) -> WindowLike:
        return self.bench.window()

    def _begun(self) -> bool:
        """Whether there is a build that it could be done with; where there is none, that is said."""
        if not self.desk.chosen:
            self.desk.said.emit("There is no build yet. One begins with its kind (Ctrl+B).")
        return bool(self.desk.chosen)

    def _piece(self) -> Piece | None:
        """The piece that it is done with; where there is none, that is said."""
        piece = self.pieces.piece()
        if piece is None and self._begun():
            self.desk.said.emit(f"{self.desk.build.name} has no piece yet. Insert types one.")
        return piece

    def enter(self) -> None:
        """Show the build's pieces, unless there is none yet: then one begins."""
        self.new.enter()
        self.bench.again()

    def begin(self) -> None:
        """A new build begins."""
        self.new.begin()

    def line_pressed(self, piece_id: str) -> None:
        """Choose a piece; press again to type its line."""
        piece = self.pieces.piece()
        if piece and piece.id == piece_id and self.desk.piece_id == piece_id:
            self.pieces.type_line(piece_id)
        else:
            self.acts.choose(piece_id)

    def add_piece(self) -> None:
        """Type one more piece."""
        if self._begun():
            self.pieces.wide(
                "one more piece", "else", "", lambda words: not words.strip() or self.acts.typed("", words), HINT
            )

    def type_piece(self) -> None:
        """Type the chosen piece anew."""
        piece = self.pieces.piece()
        self.pieces.type_line(piece.id) if piece else self.add_piece()

    def copy_piece(self) -> None:
        """A copy of the chosen piece."""
        if piece := self._piece():
            self.acts.copied(piece)

    def mirror_piece(self) -> None:
        """A copy of the chosen piece on the other side."""
        if piece := self._piece():
            self.acts.copied(piece, mirrored=True)

    def delete_piece(self) -> None:
        """Take the chosen piece away."""
        if piece := self._piece():
            self.acts.deleted(piece)

    def copy(self) -> None:
        """Copy the line of the chosen piece, to be pasted into another build or another program."""
        if piece := self._piece():
            QApplication.clipboard().setText(self.acts.copied_line(piece))
            self.desk.said.emit(f"Copied the line of the {piece.name}. Ctrl+V makes a piece of it, in any build.")

    def paste(self) -> None:
        """Make pieces of the lines that were copied."""
        if self._begun() and not self.new.beginning:
            self.acts.pasted(QApplication.clipboard().text())

    def choose_table(self) -> None:
        """Ask for a table of pieces."""
        path = ask_to_read(self.bench, "Take in pieces", "pieces", offered("Lists of pieces", "pieces"))
        if path:
            self.desk.pieces.read_table(path)

    def choose_target(self) -> None:
        """Ask where to write the pieces of all builds."""
        asked = ask_to_write(self.bench, "Write the pieces", "pieces", "pieces.xlsx", offered_to_write("pieces"))
        if asked:
            path, kind = asked
            self.desk.pieces.write(path if path.suffix else path.with_suffix(kind.partition("*")[2].rstrip(")")))

    def take_mesh(self, path: Path, at: QPoint | None) -> None:
        """Take a mesh in as the form of the piece that it was dropped on; beside all pieces it makes one of its own."""
        if not self.desk.chosen or self.new.beginning:
            self.desk.said.emit("Begin the build first, then drop its mesh on a piece.")
            return
        spot = self.bench.childAt(self.bench.mapFromGlobal(at)) if at else None
        kind, _, name = spot.objectName().partition(":") if spot else ("", "", "")
        if kind in ("piece", "line"):
            self.acts.choose(name)
        beside = at is not None and kind in ("", "else")
        # the form of a piece of its own; the mesh takes its place
        if (beside or self.pieces.piece() is None) and not self.acts.typed(
            "", f"{path.stem.replace(':', ' ')}: box 1 × 1 × 1 m"
        ):
            return
        piece = self.pieces.piece()
        self.desk.meshes.take_in(path, piece.id if piece else "")

    def give_piece(self) -> None:
        """Ask which build the chosen piece goes to."""
        others = [b.name for b in self.desk.job.cast if b.id != self.desk.chosen]
        if not others:
            self.desk.said.emit("There is no other build to give it to.")
        elif piece := self._piece():
            self._window().notice.ask(
                f"To which build does the {piece.name} go?", lambda words: self.acts.given(piece, words), others[0]
            )

    def next_way(self) -> None:
        """The chosen piece is made by the next way."""
        if piece := self._piece():
            ways = self.acts.shelf.ways
            now = way_of(piece, ways)
            at = ways.index(now) if now else -1
            after = [ways[(at + i) % len(ways)] for i in range(1, len(ways) + 1)]
            self.acts.made(piece, next((w for w in after if not self.acts.cannot(piece, w)), after[0]).id)

    def add_step(self) -> None:
        """Type one more step of the chosen piece."""
        if piece := self._piece():
            self.pieces.wide(f"one more step of the {piece.name}", "more-step", "",
                             lambda words: not words.strip() or self.acts.step_typed(piece.id, words), STEP_HINT)  # fmt: skip

    def add_figure_step(self) -> None:
        """Ask for one more step of what is done with the pieces together."""
        if self._begun():
            question = f"One more step with all of {self.desk.build.called} together"
            self._window().notice.ask(question, lambda words: self.acts.step_typed("", words), "rig: hands 12 h")

    def choose_step(self, key: str) -> None:
        self.op_id = key
        self.bench.again()

    def step_pressed(self, key: str) -> None:
        """Choose a step; press again to type its line."""
        self.type_step(key) if self.op_id == key else self.choose_step(key)

    def type_step(self, key: str = "") -> None:
        """Type a step anew, the chosen one where none is named."""
        key = key or self.op_id
        line = self.acts.step_line(self.owner(key), key.removeprefix("/")) if self.desk.chosen else ""
        if not line:
            self.desk.said.emit("No step is chosen. Press one in the strip, or Tab to it.")
            return
        self.choose_step(key)
        self.pieces.wide(f"the line of {line.partition(':')[0]}", f"step:{key}", line,
                         lambda words: self.acts.step_typed(self.owner(key), words, key.removeprefix("/")), STEP_HINT)  # fmt: skip

    def owner(self, key: str) -> str:
        """Whose route a step stands in: the chosen piece's, or none's, for the whole figure."""
        piece = self.pieces.piece()
        return "" if key.startswith("/") or piece is None else piece.id

    def split_mesh(self) -> None:
        """Ask where the chosen piece's mesh is cut in two."""
        piece = self._piece()
        if piece is None:
            return
        if not isinstance(piece.form, Mesh):
            self.desk.said.emit(
                f"The form of the {piece.name} is no mesh. Drop one on it, or make it of several pieces."
            )
            return
        half = half_way_up(piece, self.desk.facts)
        where = self.acts.length(half) if half is not None else "1 m"
        self._window().notice.ask(
            f"Where is the {piece.name} cut? So far up, along or deep, real",
            partial(self.acts.split, piece),
            f"{where} up",
        )

    def type_build(self) -> None:
        """Type what the chosen build must do: its scale, from when, how many, water, moves."""
        if self._begun():
            name, line = self.desk.build.name, self.acts.build_line()
            self.pieces.wide(f"the line of {name}", "build-line", line, self.acts.described, BUILD_HINT)

    def rename_build(self) -> None:
        """Ask for another name of the chosen build."""
        if self._begun():
            self._window().notice.ask("What is it called?", self.acts.renamed, self.desk.build.name)

    def tie_build(self) -> None:
        """Ask from which build the chosen one takes its scale."""
        others = [b.name for b in self.desk.job.builds if b.id != self.desk.chosen]
        if not others:
            self.desk.said.emit("There is no other build to take its scale from.")
            return
        build = self.desk.build
        first = "its own" if build.follows else others[0]
        self._window().notice.ask(
            f"From which build does {build.name} take its scale? One at 250 % of it, or its own", self.acts.tied, first
        )

    def copy_build(self) -> None:
        """A copy of the chosen build."""
        if self._begun():
            self.acts.build_copied()

    def delete_build(self) -> None:
        """Take the chosen build away."""
        if self._begun():
            self.acts.build_deleted()
            if not self.desk.chosen:
                self.new.begin()

    def put_away(self) -> None:
        """The chosen build leaves the cast; it is kept."""
        if self._begun():
            self.acts.put_away()
            if not self.desk.chosen:
                self.new.begin()

    def bring_back(self) -> None:
        """Ask which of the builds that were put away comes back into the cast."""
        away = [b.name for b in self.desk.job.builds if b.put_away]
        if not away:
            self.desk.said.emit("No build was put away.")
            return
        self._window().notice.ask(f"Which comes back: {', '.join(away[:6])}?", self.acts.brought_back, away[0])

    def accept_all(self) -> None:
        """All beginnings of the chosen build stand as they are."""
        if self._begun():
            self.acts.accepted()

    def build_up(self) -> None:
        """The chosen build stands one row further up."""
        if self._begun():
            self.acts.build_moved(-1)

    def build_down(self) -> None:
        """The chosen build stands one row further down."""
        if self._begun():
            self.acts.build_moved(1)

    def can(self, key: str) -> list[Can]:
        """With a piece, or with a step of its making; nothing with what else there is."""
        kind, _, name = key.partition(":")
        if kind == "step":
            owner, op = self.owner(name), name.removeprefix("/")
            return [Can("Type its line", "Enter", lambda: self.type_step(name)), Can("Done before", "Alt+←", lambda: self.acts.step_moved(owner, op, -1)),
                    Can("Done after", "Alt+→", lambda: self.acts.step_moved(owner, op, 1)), Can("Take this step out", "Delete", lambda: self.acts.step_deleted(owner, op)),
                    Can("One more step", "+", self.add_step), Can("One more step with all pieces together", "", self.add_figure_step)]  # fmt: skip
        if kind == "build-line":
            return [
                Can("Type its line", "F2", self.type_build),
                Can("Its scale from another", "", self.tie_build),
                Can("Let all its beginnings stand", "", self.accept_all),
            ]
        if kind in ("line", "piece"):
            self.acts.choose(name)
        if kind in ("line", "piece", "size", "foot"):
            return [Can("Type its line", "Enter", self.type_piece), Can("A copy", "D", self.copy_piece), Can("A copy for the other side", "X", self.mirror_piece),
                    Can("Another way of making it", "R", self.next_way), Can("Cut its mesh in two", "", self.split_mesh), Can("Give it to another build", "", self.give_piece), Can("Delete it", "Delete", self.delete_piece)]  # fmt: skip
        return []
