"""What is slow, beside the interface: files read and written; meshes taken in, asked for their unit, studied, mended; and the fields that sections are cut from."""

from __future__ import annotations

import threading
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from msgspec import Struct
from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer, Signal

from homunculus.app.keeper import Fields, Study
from homunculus.core.errors import UserError
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Mesh
from homunculus.core.quantities import System
from homunculus.core.showing import Shown, show, significant, trimmed
from homunculus.store.folder import JobFolder

if TYPE_CHECKING:
    from homunculus.core.form.field import Field  # a heavy module, loaded by the thread that makes fields
    from homunculus.core.form.mesh import Triangles
    from homunculus.exchange.mesh_files import Guess


class Taken(Struct, frozen=True):
    """A mesh that was read and is kept in the job folder: its content, name, size in its own units, and a guess."""

    content: str
    file_name: str
    size: tuple[float, float, float]
    guess: Guess

    def question(self, system: System) -> str:
        """Ask for the unit, saying what was guessed."""
        a, b, c = (str(trimmed(Shown(significant(v, 4), ""))) for v in self.size)
        would = show(self.guess.longest_m, "length", system)
        return f"{self.file_name} is {a} × {b} × {c}. In {self.guess.unit} it is {would} long. Which unit?"


def unit_of(words: str) -> float:
    """Metres of a unit that was typed.

    Raises
    ------
    UserError
        When it is none that a mesh is drawn in.
    """
    from homunculus.exchange.mesh_files import UNITS

    known = dict(UNITS)
    name = words.strip().lower().strip(".")
    if name not in known:
        raise UserError(f"“{words}” is no unit of a mesh", remedy=f"Type one of {', '.join(known)}")
    return known[name]


class Work(QObject):
    """One piece of slow work after another in a thread of its own; what it brings comes back in the interface's thread."""

    done = Signal(object, object)
    failed = Signal(str)

    def __init__(self) -> None:
        super().__init__()
        self._thread: threading.Thread | None = None
        self.given_up = False
        self.done.connect(self._hand_over)

    @property
    def busy(self) -> bool:
        """Whether something is being done."""
        return self._thread is not None and self._thread.is_alive()

    def start(self, work: Callable[[], object], then: Callable[[object], None]) -> bool:
        """Do some work, and hand what it brought to ``then``; false while other work goes on."""
        if self.busy:
            return False
        self.given_up = False
        self._thread = threading.Thread(target=self._run, args=(work, then), name="matter", daemon=True)
        self._thread.start()
        return True

    def _run(self, work: Callable[[], object], then: Callable[[object], None]) -> None:
        try:
            self.done.emit(then, work())
        except UserError as trouble:
            self.failed.emit(str(trouble))
        except Exception as trouble:  # noqa: BLE001  (a thread that died silently would be waited for for ever)
            self.failed.emit(f"Something happened that nobody foresaw ({type(trouble).__name__}). Nothing was changed.")

    def _hand_over(self, then: Callable[[object], None], brought: object) -> None:
        if not self.given_up:
            then(brought)

    def give_up(self) -> None:
        """Let what runs bring nothing, and fail unheard."""
        self.given_up = True

    def close(self) -> None:
        """Wait for what runs."""
        if self._thread:
            self._thread.join(60)


class Matter(QObject):
    """Everything of meshes that is slow. Emits; edits nothing itself.

    Parameters
    ----------
    folder
        The job folder that meshes are kept in.
    """

    changed = Signal()
    said = Signal(str)
    working = Signal(str, float)
    learned = Signal(object)
    wants_again = Signal()
    stopped = Signal()
    """A person asked that what goes on be stopped."""
    asked_unit = Signal(object, str)
    """A mesh was read: :class:`Taken`, and the “build/piece” that it is for."""

    def __init__(self, folder: JobFolder) -> None:
        super().__init__()
        self._folder = folder
        self.study = Study(folder)
        self.fields = Fields(folder)
        self.work = Work()
        self._fields: dict[str, Field] = {}
        self.fields.found.connect(self._field_found)
        self.fields.failed.connect(lambda _key, sentence: self.said.emit(sentence))
        self.study.progressed.connect(self.working)
        self.study.found.connect(self.learned)
        self.study.failed.connect(self._study_failed)
        self.study.ended.connect(self._study_ended)
        self.work.failed.connect(self._work_failed)

    def use(self, folder: JobFolder) -> None:
        """Read and keep in another folder from now on."""
        self._folder = folder
        self.study.use(folder)
        self.fields.use(folder)

    def close(self) -> None:
        """Stop and wait."""
        self.study.close()
        self.fields.close()
        self.work.close()

    def cancel(self) -> None:
        """Stop what runs; nothing is changed by it then."""
        self.study.cancel()
        self.stopped.emit()
        if self.work.busy:
            self.work.give_up()
            self.working.emit("", 1.0)
            self.said.emit("Stopped. Nothing was changed.")

    # ----------------------------------------------------------------------------------- taking in
    def take_in(self, path: Path, whose: str, expected_m: float | None) -> None:
        """Read a mesh file, keep it in the job folder, and ask for its unit.

        ``whose`` form it becomes, as “build/piece”; ``expected_m`` is the longest side of what it takes the place of, as drawn, for the guess.
        """
        folder = self._folder.path

        def read() -> Taken:
            from homunculus.exchange.mesh_files import (
                MOST_BYTES,
                as_stl,
                guess_unit,
                read_any,
            )  # numpy only in this thread
            from homunculus.store.atomic import read_bounded
            from homunculus.store.meshes import take_in_mesh

            data = read_bounded(path, MOST_BYTES, path.name)
            triangles = read_any(data, path.name)
            sides = (triangles.max(axis=(0, 1)) - triangles.min(axis=(0, 1))).tolist()
            kept = data if path.suffix.lower() == ".stl" else as_stl(triangles)
            size = (float(sides[0]), float(sides[1]), float(sides[2]))
            return Taken(take_in_mesh(folder, kept), path.name, size, guess_unit(size, expected_m))

        self.begin(f"Reading {path.name}", read, lambda taken: self.asked_unit.emit(taken, whose))

    def mend(self, form: Mesh, then: Callable[[Mesh, str], None]) -> None:
        """Mend a mesh; ``then`` gets the mended form and a sentence of what was done."""

        def mended(torn: Triangles) -> tuple[Triangles, str]:
            from homunculus.core.form.repair import mend  # heavy: the thread loads it

            done = mend(torn)
            return done.triangles, done.words

        self._reshape(f"Mending {form.file_name}", form, mended, then)

    def fill(self, form: Mesh, then: Callable[[Mesh, str], None]) -> None:
        """Fill the closed cavities of a mesh; ``then`` gets the new form and a sentence of what was done."""

        def filled(hollow: Triangles) -> tuple[Triangles, str]:
            from homunculus.core.form.repair import fill  # heavy: the thread loads it

            return fill(hollow)

        self._reshape(f"Filling {form.file_name}", form, filled, then)

    def _reshape(self, doing: str, form: Mesh, how: Callable[[Triangles], tuple[Triangles, str]],
                 then: Callable[[Mesh, str], None]) -> None:  # fmt: skip
        folder = self._folder.path

        def work() -> tuple[Mesh, str]:
            from homunculus.core.form.mesh import measure_surface, read_stl
            from homunculus.exchange.mesh_files import as_stl
            from homunculus.store.meshes import read_mesh, take_in_mesh

            before = read_stl(read_mesh(folder, form.content), form.file_name)
            after, said = how(before)
            if after is before:
                return form, f"{form.file_name}: {said}."
            was, now = (show(measure_surface(t).volume * form.unit_m**3, "volume") for t in (before, after))
            content = take_in_mesh(folder, as_stl(after))
            return replace(form, content=content), f"{form.file_name}: {said}. Volume {was} before, {now} now."

        self.begin(doing, work, lambda brought: then(*brought))

    def begin(self, words: str, work: Callable[[], object], then: Callable[[Any], None]) -> None:
        """Do slow work in a thread, saying in ``words`` what goes on; ``then`` gets what it brought, unless it was stopped."""

        def ended(brought: object) -> None:
            self.working.emit("", 1.0)
            then(brought)

        if self.work.start(work, ended):
            self.working.emit(words, 0.5)
        else:
            self.said.emit("Another file is being read or written. Try again when that is done.")

    def _work_failed(self, sentence: str) -> None:
        if self.work.given_up:
            return
        self.working.emit("", 1.0)
        self.said.emit(sentence)

    # ---------------------------------------------------------------------------- fields and studies
    def field_of(self, piece: Piece) -> Field | None:
        """The distance field of a piece's form, or none yet: it is asked for and brings a change when it is there."""
        key = piece.form.content if isinstance(piece.form, Mesh) else repr(piece.form)
        field = self._fields.get(key)
        if field is None:
            self.fields.want(key, piece.form)
        return field

    def _field_found(self, key: str, field: Field) -> None:
        self._fields[key] = field
        self.changed.emit()

    def _study_failed(self, _content: str, sentence: str) -> None:
        self.said.emit(sentence)
        self.working.emit("", 1.0)

    def _study_ended(self, _content: str) -> None:
        self.working.emit("", 1.0)
        QTimer.singleShot(0, self.wants_again.emit)
