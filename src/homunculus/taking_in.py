"""A mesh into a job folder from the command line: read, studied, kept, and made the form of a piece."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from msgspec.structs import replace

from homunculus.core.edits import replace_build, replace_piece
from homunculus.core.errors import UserError
from homunculus.core.job import Mesh, piece_of
from homunculus.core.quantities import System
from homunculus.core.showing import show
from homunculus.store.folder import JobFolder, read_facts


def take_in(folder: Path, whose: str, file: Path, unit: str, now: datetime, system: System = "metric") -> list[str]:
    """Take a mesh in as the form of a piece, and say what was read.

    Parameters
    ----------
    folder
        The job folder; it must not be open elsewhere.
    whose
        ``build`` or ``build/piece``; the first piece when none is named.
    file
        An STL, OBJ or PLY mesh.
    unit
        What one unit of it stands for (mm, cm, m, in, ft); guessed from its size when empty, and said.
    now
        For the dated copy of the job.
    system
        Of units, for what is said.

    Raises
    ------
    UserError
        When something cannot be found, read or written; nothing is changed then.
    """
    from homunculus.core.form.measure import measure  # what is heavy is loaded where a mesh is taken in
    from homunculus.core.form.study import study_with_field
    from homunculus.exchange.mesh_files import UNITS, as_stl, guess_unit, read_any
    from homunculus.store.meshes import keep_field, keep_study, take_in_mesh

    units = dict(UNITS)
    if unit and unit not in units:
        raise UserError(f"“{unit}” is no unit of a mesh", remedy=f"Name one of {', '.join(units)}")
    try:
        data = file.read_bytes()
    except OSError as trouble:
        raise UserError(f"The mesh cannot be read: {trouble.strerror}", str(file)) from trouble
    open_folder = JobFolder(folder, now)
    try:
        job = open_folder.job
        build = job.build(whose.partition("/")[0])
        piece_id = whose.partition("/")[2]
        if not build.pieces:
            raise UserError(f"{build.name} has no piece that a mesh could be the form of")
        piece = piece_of(build, piece_id) if piece_id else build.pieces[0]
        triangles = read_any(data, file.name)
        stl = data if file.suffix.lower() == ".stl" else as_stl(triangles)
        known = measure(piece.form, read_facts(folder, job))
        sides = (triangles.max(axis=(0, 1)) - triangles.min(axis=(0, 1))).tolist()
        guess = guess_unit((sides[0], sides[1], sides[2]), max(known.size) if known else None)
        unit_m = units[unit] if unit else guess.unit_m
        fact, field = study_with_field(stl, file.name)
        content = take_in_mesh(folder, stl)
        keep_study(folder, fact)
        keep_field(folder, content, field.to_bytes())
        new = replace(piece, form=Mesh(content, file.name, unit_m))
        open_folder.save(replace_build(job, replace_piece(build, new)), open_folder.pins)
    finally:
        open_folder.close()
    how = f"{file.name} is the form of {build.id}/{piece.id} now, read in {unit or guess.unit}"
    size = " × ".join(str(show(side * unit_m, "length", system)) for side in sides)
    said = [how + ("." if unit else ", guessed from its size (--unit says otherwise).")]
    said.append(f"{fact.faces} faces, {size}, {show(fact.volume * unit_m**3, 'volume', system)}, "
                f"surface {show(fact.area * unit_m**2, 'area', system)}")  # fmt: skip
    return [*said, *(f"note: {note}" for note in fact.notes())]
