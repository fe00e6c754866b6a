"""What is done with builds and pieces from the bench; each is one step of undo and says what it did."""

from __future__ import annotations

from collections.abc import Callable
from typing import TYPE_CHECKING

from homunculus.core.cells.builds import show_build
from homunculus.core.cells.pieces import show_piece
from homunculus.core.cells.steps import show_step
from homunculus.core.edits import builds, pieces, routes
from homunculus.core.edits.begun import form_key
from homunculus.core.edits.decisions import accepted
from homunculus.core.edits.lines import write_value
from homunculus.core.edits.wishes import SIDES, do_wish, found, made_by, read_cut
from homunculus.core.errors import UserError
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.job.ways import Shelf, WayCard
from homunculus.core.making.cannot import Cannot, cannot
from homunculus.core.plan.memory import Last
from homunculus.core.quantities import NBSP

if TYPE_CHECKING:
    from homunculus.app.desk import Desk


class Acts:
    """Edits of the chosen build and its pieces.

    Parameters
    ----------
    desk
        What they are done on.
    """

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._copied: tuple[str, Piece] | None = None
        self._lines: Last[dict[int, tuple[Piece, str]]] = Last()
        self._build_line: Last[str] = Last()
        self._beside: Last[Shelf] = Last()

    def length(self, metres: float) -> str:
        """A length as it is typed."""
        return str(self.desk.given(metres, "length")).replace(NBSP, " ")

    @property
    def shelf(self) -> Shelf:
        """What there is to take from."""
        return self.desk.shelf.to_take

    @property
    def beside(self) -> Shelf:
        """The same with the job's own cards in front; put together once."""
        shelf, own = self.shelf, self.desk.job.cards.materials
        return self._beside.get((shelf, own), lambda: shelf.beside(own))

    def try_to(self, name: str, make: Callable[[], Job], said: str = "") -> bool:
        """Make a new job and say it; false, with the reason said, when it cannot be."""
        try:
            job = make()
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        if not self.desk.edit(name, job, self.desk.gesture):
            return False
        if said:
            self.desk.said.emit(f"{said} U goes back.")
        return True

    # -------------------------------------------------------------------------------------- pieces
    def typed(self, piece_id: str, text: str) -> bool:
        """Take a typed line for a piece, or for a new one where no id is given."""
        desk = self.desk
        before = {p.id for p in desk.build.pieces}
        name = text.partition(":")[0].strip() or "a piece"

        def make() -> Job:
            job = pieces.piece_typed(desk.job, desk.chosen, piece_id, text, self.shelf, desk.system)
            for piece in job.build(desk.chosen).pieces:
                if piece.id not in before:
                    desk.piece_id, desk.op_id, desk.mix_index = piece.id, None, 0
            return job

        return self.try_to(name, make, "" if piece_id else f"The {name} is there, the chosen one.")

    def line(self, piece: Piece) -> str:
        """The line of a piece, put together once."""
        lines = self._lines.get((self.desk.job.cards.materials, self.shelf, self.desk.system), dict)
        if id(piece) not in lines:
            lines[id(piece)] = (piece, show_piece(piece, self.beside, self.desk.system))
        return lines[id(piece)][1]

    def build_line(self) -> str:
        """The line of the chosen build, put together once."""
        of = (self.desk.build, self.desk.system)
        return self._build_line.get(of, lambda: show_build(*of))

    def copied_line(self, piece: Piece) -> str:
        """The line of a piece, which is remembered whole: pasted here it comes with what no line can say."""
        line = self.line(piece)
        self._copied = (line, piece)
        return line

    def pasted(self, text: str) -> bool:
        """Take lines that were copied as so many pieces; all of them or, with the reason said, none."""
        desk, lines = self.desk, [line for line in text.splitlines() if line.strip()]
        if not lines:
            desk.said.emit("Nothing that was copied is the line of a piece.")
            return False

        def make() -> Job:
            job = desk.job
            for line in lines:
                if self._copied and line == self._copied[0]:  # copied here: with its mesh and its steps
                    job = pieces.piece_added(job, desk.chosen, self._copied[1], self.shelf.beside(job.cards.materials))
                else:
                    job = pieces.piece_typed(job, desk.chosen, "", line, self.shelf, desk.system)
            return job

        said = f"{len(lines)} piece{'s' if len(lines) > 1 else ''} pasted, the last one chosen."
        if not self.try_to("pieces pasted", make, said):
            return False
        self.choose(desk.build.pieces[-1].id)
        return True

    def choose(self, piece_id: str) -> None:
        """The piece that this and all other benches draw."""
        if self.desk.piece_id != piece_id:
            self.desk.piece_id, self.desk.op_id, self.desk.mix_index = piece_id, None, 0
            self.desk.changed.emit()

    def copied(self, piece: Piece, *, mirrored: bool = False) -> None:
        """A copy of a piece, chosen."""
        if mirrored and isinstance(piece.form, Mesh):  # its file is turned over first
            self.desk.do(f"mirror {self.desk.chosen}/{piece.id}")
            return
        job, new = pieces.piece_copied(self.desk.job, self.desk.chosen, piece.id, mirrored=mirrored)
        name = piece_of(job.build(self.desk.chosen), new).name
        self.desk.piece_id = new
        self.try_to(f"{name}, a copy", lambda: job, f"{name} is a copy of the {piece.name}.")

    def deleted(self, piece: Piece) -> None:
        """Take a piece away."""
        left = [p.id for p in self.desk.build.pieces if p.id != piece.id]
        at = self.desk.build.pieces.index(piece)
        self.desk.piece_id = left[min(at, len(left) - 1)] if left else ""
        self.try_to(f"{piece.name} deleted", lambda: pieces.piece_removed(self.desk.job, self.desk.chosen, piece.id),
                    f"The {piece.name} is gone, and its steps with it.")  # fmt: skip

    def given(self, piece: Piece, words: str) -> None:
        """Give a piece to the build that some words name; raises what cannot be."""
        goal = found(self.desk.job, words)[0]
        job = pieces.piece_moved(self.desk.job, self.desk.chosen, piece.id, goal.id)
        self.try_to(f"{piece.name} given to {goal.name}", lambda: job, f"The {piece.name} belongs to {goal.name} now.")

    def reordered(self, piece: Piece, by: int) -> None:
        """A piece stands further down among its build's, or up."""
        self.try_to(
            f"{piece.name} moved", lambda: pieces.piece_reordered(self.desk.job, self.desk.chosen, piece.id, by)
        )

    def placed(self, piece: Piece, along: float, up: float) -> bool:
        """A piece stands elsewhere in the side view [m, real]."""
        return self.try_to(
            f"{piece.name} placed", lambda: pieces.piece_placed(self.desk.job, self.desk.chosen, piece.id, along, up)
        )

    def pushed(self, piece: Piece, along: int = 0, up: int = 0) -> None:
        """A piece stands so many steps further along, or up."""
        self.try_to(
            f"{piece.name} placed", lambda: pieces.piece_pushed(self.desk.job, self.desk.chosen, piece.id, along, up)
        )

    def section(self, piece: Piece, index: int, width: float | None = None, at: float | None = None) -> None:
        """One measured section of a piece is so wide, or lies so high above its foot, at full size [m]."""
        job, chosen = self.desk.job, self.desk.chosen
        self.try_to(
            f"{piece.name}, section {index + 1}", lambda: pieces.section_pulled(job, chosen, piece.id, index, width, at)
        )

    def sized(self, piece: Piece, side: int, real_m: float) -> bool:
        """A piece's form is so long, deep or high at full size [m]."""
        name = f"{piece.name} {('length', 'depth', 'height')[side]}"
        return self.try_to(name, lambda: pieces.piece_sized(self.desk.job, self.desk.chosen, piece.id, side, real_m))

    def made(self, piece: Piece, way_id: str) -> None:
        """A piece comes to be another way."""
        way = next(w for w in self.shelf.ways if w.id == way_id)
        no = self.cannot(piece, way)
        said = (
            f"By its usual steps, but it cannot: {no.why}"
            if no
            else f"The {piece.name}: {way.name}, by its usual steps. What means the same was kept."
        )
        self.try_to(
            f"{piece.name}: {way.name}",
            lambda: made_by(self.desk.job, self.desk.chosen, piece.id, way_id, self.shelf),
            said,
        )

    def cannot(self, piece: Piece, way: WayCard) -> Cannot | None:
        """Why a piece cannot come to be a way; none where it can."""
        return cannot(piece, way, self.beside.materials, self.desk.facts)

    def split(self, piece: Piece, words: str) -> None:
        """Cut a piece's mesh where some words say; raises what cannot be read."""
        side, real_m = read_cut(words, self.desk.system)
        word = next(name for name, at in SIDES.items() if at == side)
        self.desk.do(f"split {self.desk.chosen}/{piece.id} at {write_value(real_m, 'size_m')} {word}")

    # --------------------------------------------------------------------------------------- steps
    def step_typed(self, piece_id: str, text: str, op_id: str = "") -> bool:
        """Take a typed line for a step of a route; for one more where none is named."""
        desk = self.desk
        return self.try_to(text.partition(":")[0].strip() or "a step",
                           lambda: routes.step_typed(desk.job, desk.chosen, piece_id, text, self.shelf, desk.system, op_id))  # fmt: skip

    def step_line(self, piece_id: str, op_id: str) -> str:
        """The line of a step; empty where there is none."""
        build, cards = self.desk.build, self.beside.materials
        pieces = tuple((p.id, p.name) for p in build.pieces if p.id != piece_id)
        op = next((op for op in routes.route_of(build, piece_id) if op.id == op_id), None)
        return show_step(op, cards, pieces, self.desk.system) if op else ""

    def step_deleted(self, piece_id: str, op_id: str) -> None:
        """Take a step out of its route."""
        self.try_to(
            "a step taken out",
            lambda: routes.step_removed(self.desk.job, self.desk.chosen, piece_id, op_id),
            "The step is out.",
        )

    def step_moved(self, piece_id: str, op_id: str, by: int) -> None:
        """A step is done later, or earlier."""
        self.try_to("a step moved", lambda: routes.step_moved(self.desk.job, self.desk.chosen, piece_id, op_id, by))

    # -------------------------------------------------------------------------------------- builds
    def renamed(self, name: str) -> None:
        """The chosen build has another name; raises what cannot be."""
        self.desk.edit("a build renamed", builds.build_named(self.desk.job, self.desk.chosen, name))

    def described(self, text: str) -> bool:
        """The chosen build is as a line has it."""
        desk = self.desk
        name = text.partition(":")[0].strip() or "a build"
        return self.try_to(f"{name} described", lambda: builds.build_typed(desk.job, desk.chosen, text, desk.system))

    def tied(self, words: str) -> None:
        """The chosen build takes its scale from another: “ferry”, “ferry at 250 %”; “its own” unties it. Raises what cannot be."""
        name = self.desk.chosen
        line = f"untie {name}" if words.strip().casefold() in ("its own", "own", "none") else f"tie {name} to {words}"
        said, job = do_wish(self.desk.job, line, self.shelf, self.desk.system)
        self.try_to(said, lambda: job, f"{said}.")

    def build_copied(self) -> None:
        """A copy of the chosen build, chosen."""
        job, new = builds.build_copied(self.desk.job, self.desk.chosen)
        if self.try_to("a build copied", lambda: job, f"{job.build(new).name} is a copy, in no shot."):
            self.desk.choose(new)

    def build_deleted(self) -> None:
        """Take the chosen build away; its neighbour is chosen."""
        desk, name = self.desk, self.desk.build.name
        ids = [b.id for b in desk.job.cast]
        at, gone = ids.index(desk.chosen), desk.chosen
        left = [i for i in ids if i != gone]
        if self.try_to(f"{name} deleted", lambda: builds.build_removed(desk.job, gone),
                       f"{name} is gone. Its log stays; shots that used it need something else.") and left:  # fmt: skip
            desk.choose(left[min(at, len(left) - 1)])

    def put_away(self) -> None:
        """The chosen build leaves the cast; its neighbour is chosen."""
        desk, build = self.desk, self.desk.build
        ids = [b.id for b in desk.job.cast]
        at, left = ids.index(build.id), [i for i in ids if i != build.id]
        said = (
            f"{build.name} is put away: nothing of it is planned, no shot has it. The foot of the cast brings it back."
        )
        if self.try_to(f"{build.name} put away", lambda: builds.build_put_away(desk.job, build.id), said) and left:
            desk.choose(left[min(at, len(left) - 1)])

    def brought_back(self, words: str) -> None:
        """A build that was put away comes back, and is chosen; raises what cannot be."""
        build = found(self.desk.job, words)[0]
        job = builds.build_put_away(self.desk.job, build.id, False)
        if self.try_to(f"{build.name} brought back", lambda: job, f"{build.name} is in the cast again."):
            self.desk.choose(build.id)

    def size_accepted(self, piece: Piece) -> None:
        """A piece is as large as its kind began it: that is decided."""
        if not self.begun(piece):
            self.desk.said.emit(f"How large the {piece.name} is was decided before.")
            return
        keys = frozenset({form_key(piece.id)})
        said = f"The {piece.name} is as large as it began: that is decided now."
        self.try_to(f"{piece.name}, its size", lambda: accepted(self.desk.job, self.desk.chosen, keys), said)

    def begun(self, piece: Piece) -> bool:
        """Whether nobody has said how large a piece is."""
        return form_key(piece.id) in self.desk.build.begun

    def accepted(self) -> None:
        """All that a card began of the chosen build stands as it is."""
        build = self.desk.build
        if not build.begun:
            self.desk.said.emit(f"All of {build.called} was decided before.")
            return
        said = f"{len(build.begun)} beginnings of {build.called} stand as they are: they are decided now."
        self.try_to("beginnings accepted", lambda: accepted(self.desk.job, build.id), said)

    def build_moved(self, by: int) -> None:
        """The chosen build stands further down in the cast, or up."""
        self.try_to("a build moved", lambda: builds.build_moved(self.desk.job, self.desk.chosen, by))
