"""Meshes of the desk: taken in, asked for their unit, studied, mended; and the fields that sections are cut from."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING

from msgspec.structs import replace
from PySide6.QtCore import QObject, Signal

from homunculus.app.editor import Editor
from homunculus.app.runner import Progress
from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.edits.wishes import do_wish
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.job.forms import Form, Mesh
from homunculus.core.job.ways import Shelf
from homunculus.core.plan.facts import MeshFact, Want
from homunculus.core.showing import show, show_scale
from homunculus.reshaping import Reshaper
from homunculus.store.folder import JobFolder

if TYPE_CHECKING:
    from homunculus.core.form.facets import Facets
    from homunculus.core.form.field import Field  # a heavy module, loaded by the thread that makes fields
    from homunculus.core.form.mesh import Triangles
    from homunculus.exchange.mesh_files import Taken

MOST_FIELD_BYTES = 60_000_000


class Meshes(QObject):
    """Everything of meshes, most of it slow. What becomes a form is one step of the desk.

    Parameters
    ----------
    desk
        Whose forms these are.
    folder
        The job folder that meshes are kept in.
    """

    changed = Signal()
    learned = Signal(object)
    asked_unit = Signal(object, str)
    """A mesh was read (:class:`homunculus.exchange.mesh_files.Taken`), and the “build/piece” that it is for."""

    def __init__(self, desk: Editor, folder: JobFolder) -> None:
        super().__init__()
        self._desk, self._runner = desk, desk.runner
        self._folder = folder
        self._fields: dict[str, Field] = {}
        self._facets: dict[str, Facets] = {}
        self.reshaper = Reshaper(folder.path)

    def move_to(self, folder: JobFolder) -> None:
        """Read and keep in another folder from now on."""
        self._folder = folder
        self.reshaper = Reshaper(folder.path)

    # ----------------------------------------------------------------------------------- taking in
    def take_in(self, path: Path, piece_id: str = "") -> None:
        """Take a mesh in for a piece of the chosen build (its first, when none is named); its unit is asked for."""
        build, folder = self._desk.build, self._folder.path
        if not build.pieces:
            self._desk.said.emit(f"{build.name} has no piece that a mesh could be the form of.")
            return
        piece = piece_of(build, piece_id) if piece_id else build.pieces[0]
        known = measure(piece.form, self._desk.facts)

        def read() -> Taken:
            from homunculus.exchange.mesh_files import MOST_BYTES, take  # numpy only in this thread
            from homunculus.store.atomic import read_bounded
            from homunculus.store.meshes import take_in_mesh

            data = read_bounded(path, MOST_BYTES, path.name)
            taken = take(data, path.name, max(known.size) if known else None)
            return replace(taken, stl=b"", content=take_in_mesh(folder, taken.stl))

        whose = f"{build.id}/{piece.id}"
        self._runner.begin(f"Reading {path.name}", read, lambda taken: self.asked_unit.emit(taken, whose))

    def use(self, taken: Taken, whose: str, unit_m: float) -> None:
        """Make a mesh that was taken in the form of a piece (“build/piece”), read in a unit [m]."""
        desk = self._desk
        build = desk.job.build(whose.partition("/")[0])
        piece = piece_of(build, whose.partition("/")[2])
        new = replace(piece, form=Mesh(taken.content, taken.file_name, unit_m))
        self._runner.again(Want("study", taken.content, taken.file_name))  # its study may have been stopped before
        desk.edit(f"{piece.name} from {taken.file_name}", replace_build(desk.job, replace_piece(build, new)))
        length = show(taken.longest_m(unit_m), "length", desk.system)
        desk.said.emit(f"{taken.file_name} is the form of {piece.name} now, {length} long, drawn at "
                       f"{show_scale(new.drawn_at)}. U goes back.")  # fmt: skip

    # ------------------------------------------------------------------------------------- mending
    def fact_of(self, piece: Piece) -> MeshFact | None:
        """What the study of a piece's mesh found; None while it goes on, or if the form is no mesh."""
        return self._desk.facts.get(piece.form.content) if isinstance(piece.form, Mesh) else None

    def mend(self, piece: Piece) -> None:
        """Mend the mesh of a piece; one step, that can be taken back."""

        def mended(torn: Triangles) -> tuple[Triangles, str]:
            from homunculus.core.form.repair import mend  # heavy: the thread loads it

            done = mend(torn)
            return done.triangles, done.words

        self._reshape("Mending", piece, mended, "mended")

    def fill(self, piece: Piece) -> None:
        """Fill the closed cavities of a piece's mesh; one step, that can be taken back."""

        def filled(hollow: Triangles) -> tuple[Triangles, str]:
            from homunculus.core.form.repair import fill  # heavy: the thread loads it

            return fill(hollow)

        self._reshape("Filling", piece, filled, "filled")

    def _reshape(self, doing: str, piece: Piece, how: Callable[[Triangles], tuple[Triangles, str]], done: str) -> None:
        desk, folder, form = self._desk, self._folder.path, piece.form
        if not isinstance(form, Mesh):
            return
        build_id = desk.chosen

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

        def put(brought: tuple[Mesh, str]) -> None:
            whose = desk.job.build(build_id)
            if brought[0] != form:
                new = replace(piece_of(whose, piece.id), form=brought[0])
                desk.edit(f"{piece.name} {done}", replace_build(desk.job, replace_piece(whose, new)))
            desk.said.emit(brought[1])

        self._runner.begin(f"{doing} {form.file_name}", work, put)

    def reshape(self, line: str, done: Callable[[], object]) -> None:
        """Turn over or cut the mesh that a line names; then the line finds it done."""
        job, system, reshaper = self._desk.job, self._desk.system, self.reshaper

        def work() -> None:
            do_wish(job, line, Shelf(), system, None, reshaper)

        def put(_nothing: None) -> None:
            done()

        self._runner.begin(f"Cutting: {line[:40]}", work, put)

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

    def facets_of(self, form: Form) -> Facets | None:
        """The triangles of a form in its own metres, of a mesh a coarse copy; none yet where that has to be made: it then brings a change."""
        from homunculus.core.form.facets import facets_of

        if not isinstance(form, Mesh):
            return facets_of(form)
        found = self._facets.get(form.content)
        if found is None:
            folder = self._folder.path

            def take(made: Facets) -> None:
                self._facets[form.content] = made
                self.changed.emit()

            def fetch(_: Progress) -> Facets:
                from homunculus.surfaces import surface_in  # numpy only in this thread

                return surface_in(folder, form)

            self._runner.want(Want("coarse", form.content, form.file_name), fetch, take, told=False)
        return found


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
