"""Meshes of the desk: taken in, asked for their unit, studied, mended; and the fields that sections are cut from."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from homunculus.app.runner import Progress, Runner
from homunculus.core.errors import UserError
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Form, Mesh
from homunculus.core.plan.facts import MeshFact, Want
from homunculus.core.showing import show
from homunculus.store.folder import JobFolder

if TYPE_CHECKING:
    from homunculus.core.form.field import Field  # a heavy module, loaded by the thread that makes fields
    from homunculus.core.form.mesh import Triangles
    from homunculus.exchange.mesh_files import Taken

MOST_FIELD_BYTES = 60_000_000


class Meshes(QObject):
    """Everything of meshes that is slow. Emits; edits nothing itself.

    Parameters
    ----------
    folder
        The job folder that meshes are kept in.
    runner
        Does the work.
    """

    changed = Signal()
    said = Signal(str)
    learned = Signal(object)
    asked_unit = Signal(object, str)
    """A mesh was read (:class:`homunculus.exchange.mesh_files.Taken`), and the “build/piece” that it is for."""

    def __init__(self, folder: JobFolder, runner: Runner) -> None:
        super().__init__()
        self._folder = folder
        self._runner = runner
        self._fields: dict[str, Field] = {}

    def use(self, folder: JobFolder) -> None:
        """Read and keep in another folder from now on."""
        self._folder = folder

    # ----------------------------------------------------------------------------------- taking in
    def take_in(self, path: Path, whose: str, expected_m: float | None) -> None:
        """Read a mesh file, keep it in the job folder, and ask for its unit.

        ``whose`` form it becomes, as “build/piece”; ``expected_m`` is the longest side of what it takes the place of, as drawn, for the guess.
        """
        folder = self._folder.path

        def read() -> Taken:
            from homunculus.exchange.mesh_files import MOST_BYTES, take  # numpy only in this thread
            from homunculus.store.atomic import read_bounded
            from homunculus.store.meshes import take_in_mesh

            taken = take(read_bounded(path, MOST_BYTES, path.name), path.name, expected_m)
            return replace(taken, stl=b"", content=take_in_mesh(folder, taken.stl))

        self._runner.begin(f"Reading {path.name}", read, lambda taken: self.asked_unit.emit(taken, whose))

    def mend(self, form: Mesh, then: Callable[[Mesh, str], None]) -> None:
        """Mend a mesh; ``then`` gets the new form and a sentence of what was done."""

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
            from homunculus.core.form.mesh import read_stl, volume_at
            from homunculus.exchange.mesh_files import as_stl
            from homunculus.store.meshes import read_mesh, take_in_mesh

            before = read_stl(read_mesh(folder, form.content), form.file_name)
            after, said = how(before)
            if after is before:
                return form, f"{form.file_name}: {said}."
            was, now = (show(volume_at(t, form.unit_m), "volume") for t in (before, after))
            content = take_in_mesh(folder, as_stl(after))
            return replace(form, content=content), f"{form.file_name}: {said}. Volume {was} before, {now} now."

        self._runner.begin(doing, work, lambda brought: then(*brought))

    # ---------------------------------------------------------------------------- fields and studies
    def study(self, want: Want) -> None:
        """Study a mesh that the plan wants, unless it was asked for before."""
        folder = self._folder.path

        def work(progress: Progress) -> MeshFact:
            from homunculus.core.form.study import study_with_field  # numpy and scipy only in this thread
            from homunculus.store.meshes import keep_field, keep_study, read_mesh

            fact, field = study_with_field(read_mesh(folder, want.key), want.name, progress)
            keep_field(folder, want.key, field.to_bytes())
            keep_study(folder, fact)
            return fact

        self._runner.want(want, work, self.learned.emit, told=True)

    def field_of(self, piece: Piece) -> Field | None:
        """The distance field of a piece's form, or none yet: it is asked for and brings a change when it is there."""
        form = piece.form
        key = form.content if isinstance(form, Mesh) else repr(form)
        field = self._fields.get(key)
        if field is None:
            folder = self._folder.path

            def found(made: Field) -> None:
                self._fields[key] = made
                self.changed.emit()

            self._runner.want(Want("field", key, piece.name), lambda _: _field(folder, form), found, told=False)
        return field


def _field(folder: Path, form: Form) -> Field:
    """The distance field of a form: the kept one, else made anew."""
    from homunculus.core.form import field as fields  # numpy, scipy and contourpy only in this thread
    from homunculus.store.atomic import read_bounded
    from homunculus.store.meshes import field_file, keep_field, read_mesh

    if not isinstance(form, Mesh):
        triangles = fields.triangles_of(form)
        return fields.make_field(triangles, reach=fields.usual_reach(triangles), points=90_000)
    kept = field_file(folder, form.content)
    if kept.is_file():
        try:
            return fields.field_from_bytes(read_bounded(kept, MOST_FIELD_BYTES, "The field"), str(kept))
        except UserError:
            pass  # it is damaged, and made again
    from homunculus.core.form.mesh import read_stl

    triangles = read_stl(read_mesh(folder, form.content), form.file_name)
    made = fields.make_field(triangles, reach=fields.usual_reach(triangles), points=90_000)
    keep_field(folder, form.content, made.to_bytes())
    return made
