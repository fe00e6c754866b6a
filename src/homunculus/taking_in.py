"""Files into a job folder from the command line: whatever the window takes by drop, with the same sentences."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

from msgspec.structs import replace

from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.errors import UserError
from homunculus.core.job.build import piece_of
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.quantities import System
from homunculus.core.showing import show
from homunculus.exchange.formats import content_of, reader
from homunculus.store.atomic import read_bounded
from homunculus.store.folder import JobFolder, read_facts

MOST_BYTES = 60_000_000
MOST_DRAWING = 5_000_000


def take_in(
    folder: Path,
    files: Sequence[Path],
    whose: str,
    unit: str,
    now: datetime,
    system: System = "metric",
    *,
    pieces: bool = False,
) -> list[str]:
    """Take files in, one after another, and say what was read.

    Parameters
    ----------
    folder
        The job folder; it must not be open elsewhere.
    files
        Meshes (STL, OBJ, PLY), lists of shots or a logger's temperatures (CSV, XLSX), edit lists (OTIO, cut list), pictures.
    whose
        For a mesh ``build`` or ``build/piece``, the first piece when none is named; for a picture the number of a shot.
    unit
        What one unit of a mesh stands for (mm, cm, m, in, ft); guessed from its size when empty, and said.
    now
        For the dated copy of the job.
    system
        Of units.
    pieces
        Whether tables are lists of pieces; rows that name no build are of ``whose`` build, else of the first.

    Raises
    ------
    UserError
        When something cannot be found, read or written; files before it are taken in, it and those after it are not.
    """
    opened = JobFolder(folder, now)
    said: list[str] = []
    try:
        for file in files:
            said += (
                _take_pieces(opened, file, whose, system) if pieces else _take_one(opened, file, whose, unit, system)
            )
    except UserError as trouble:
        if said:
            raise UserError(f"{' '.join(said)} Then: {trouble.what}", trouble.where, trouble.remedy) from trouble
        raise
    finally:
        opened.close()
    return said


def _take_one(opened: JobFolder, file: Path, whose: str, unit: str, system: System) -> list[str]:
    match content_of(file, {}):
        case "shots":
            return _take_table(opened, file, system)
        case "temperatures":
            return _take_temperatures(opened, file)
        case "cut":
            return _take_cut(opened, file)
        case "picture":
            return _take_picture(opened, file, whose)
        case "drawing":
            return _take_drawing(opened, file, whose)
    return _take_mesh(opened, file, whose, unit, system)


def _keep(opened: JobFolder, job: Job) -> None:
    opened.save(job, opened.pins)
    opened.job = job


def _last_day(job: Job) -> datetime:
    return datetime.combine(max((s.day for s in job.shots), default=datetime.now().date()), datetime.min.time())


def _take_table(opened: JobFolder, file: Path, system: System) -> list[str]:
    from homunculus.exchange.shot_list import guess_columns, shots_from_table, table_words

    rows = reader("shots", file.name)(read_bounded(file, MOST_BYTES, file.name), file.name)
    if len(rows) < 2:
        raise UserError(f"{file.name} has no rows beneath a head", file.name, "Nothing was changed")
    found = shots_from_table(rows, guess_columns(rows[0], {}), opened.job, _last_day(opened.job).date(), system)
    _keep(opened, replace(opened.job, shots=found.shots))
    return [table_words(file.name, found), *(f"row {b.row}, {b.column}: {b.reason}" for b in found.bad[:20])]


def _take_pieces(opened: JobFolder, file: Path, whose: str, system: System) -> list[str]:
    from homunculus.exchange.piece_table import guess_columns, pieces_from_table, table_words
    from homunculus.store.shelf import to_take_from

    rows = reader("pieces", file.name)(read_bounded(file, MOST_BYTES, file.name), file.name)
    if len(rows) < 2:
        raise UserError(f"{file.name} has no rows beneath a head", file.name, "Nothing was changed")
    build = whose or (opened.job.builds[0].id if opened.job.builds else "")
    found = pieces_from_table(rows, guess_columns(rows[0], {}), opened.job, to_take_from(), build, system)
    _keep(opened, found.job)
    return [table_words(file.name, found), *(f"row {b.row}, {b.column}: {b.reason}" for b in found.bad[:20])]


def write_stage(folder: Path, file: Path, what: str, shot_id: str) -> str:
    """Write of a shot (``shot_id``) of the job in a ``folder`` its stage, card or cues (``what``) to a ``file``, of the kind that its ending names, and say so.

    Raises
    ------
    UserError
        When the job cannot be read or has no such shot, or the file cannot be written or is of no such kind.
    """
    from homunculus.core.floor.cue_list import card_table, cue_tables
    from homunculus.core.floor.marks import floor_marks
    from homunculus.core.plan.job_plan import plan
    from homunculus.exchange.formats import writer
    from homunculus.report import load
    from homunculus.store.atomic import write_atomically
    from homunculus.surfaces import surface_in

    job, facts = load(folder)
    made = plan(job, facts)
    shot = next((one for one in job.shots if one.id == shot_id), None)
    if shot is None:
        raise UserError(
            f"There is no shot “{shot_id}”", "job", f"Name one with --of: {', '.join(s.id for s in job.shots[:12])}"
        )
    write = writer(what, file.name)  # type: ignore[arg-type]
    stage = made.stage(shot.id, shot.cameras[0].name) if shot.cameras else None
    if stage is None and what == "stage":
        raise UserError(f"Shot {shot.id} has no camera yet", "job", f"Give it one: camera {shot.id}: 35 mm")
    if what == "stage" and stage:
        data = write(floor_marks(job, stage, lambda form: surface_in(folder, form)))
    else:
        data = write(card_table(made, shot) if what == "card" else cue_tables(made, shot))
    write_atomically(file, data)
    return f"Wrote the {what} of shot {shot.id} to {file.name}."


def write_out(folder: Path, file: Path, what: str) -> str:
    """Write the pieces or the shots (``what``) of the job in a ``folder`` to a ``file``, of the kind that its ending names, and say so.

    Raises
    ------
    UserError
        When the job cannot be read, or the file cannot be written or is of no such kind.
    """
    from homunculus.exchange.formats import writer
    from homunculus.report import load
    from homunculus.store.atomic import write_atomically
    from homunculus.store.shelf import to_take_from

    job, _ = load(folder)
    if what == "pieces":
        data = writer("pieces", file.name)(job, to_take_from())
        count = sum(len(build.pieces) for build in job.builds)
    else:
        data, count = writer("shots", file.name)(job, file.name), len(job.shots)
    write_atomically(file, data)
    return f"Wrote {count} {what} to {file.name}."


def _take_temperatures(opened: JobFolder, file: Path) -> list[str]:
    from homunculus.exchange.temperatures import as_entry

    read = reader("temperatures", file.name)(read_bounded(file, MOST_BYTES, file.name), file.name)
    entry = as_entry(read, file.name)
    opened.append(entry)
    return [f"{entry.text}.", *(f"left out: {row}" for row in read.left_out[:20])]


def _take_cut(opened: JobFolder, file: Path) -> list[str]:
    from homunculus.core.edits.cutting import cut_words, lay_cut

    read = reader("cut", file.name)
    cut = read(read_bounded(file, MOST_BYTES, file.name), file.name, opened.job.shop.base_rate_fps)
    laid = lay_cut(opened.job, cut.clips, _last_day(opened.job).date())
    _keep(opened, laid.job)
    return [cut_words(file.name, cut, laid)]


def _take_picture(opened: JobFolder, file: Path, whose: str) -> list[str]:
    from homunculus.core.cells.shots import put_shot
    from homunculus.store.pictures import keep_picture

    if "/" in whose:
        return _lay_under(opened, keep_picture(opened.path, file), file, whose)
    shot = next((s for s in opened.job.shots if s.id == whose), None)
    if shot is None:
        raise UserError(
            "A picture belongs to a shot or lies under a piece",
            file.name,
            "Say which with --for: a shot's number, or BUILD/PIECE",
        )
    name = keep_picture(opened.path, file)
    _keep(opened, put_shot(opened.job, shot.id, replace(shot, ends_picture=name)))
    return [f"{file.name} is what shot {shot.id} must end as."]


def _take_drawing(opened: JobFolder, file: Path, whose: str) -> list[str]:
    from homunculus.exchange.apart import read_apart
    from homunculus.store.pictures import keep_data

    if "/" not in whose:
        raise UserError("A drawing lies under a piece", file.name, "Say which with --for BUILD/PIECE")
    png = read_apart(
        "homunculus.app.rasterise:svg_as_png",
        read_bounded(file, MOST_DRAWING, file.name),
        file.name,
        "Export it as PNG",
    )
    return _lay_under(opened, keep_data(opened.path, png, file.name), file, whose)


def _lay_under(opened: JobFolder, name: str, file: Path, whose: str) -> list[str]:
    from homunculus.core.edits.traced import with_picture

    build, _, piece = whose.partition("/")
    _keep(opened, with_picture(opened.job, build, piece, "front", name))
    return [f"{file.name} lies under {whose}: “trace {whose}: front known …” makes a form of it (docs/lines.md)."]


def _take_mesh(opened: JobFolder, file: Path, whose: str, unit: str, system: System) -> list[str]:
    from homunculus.core.form.measure import measure  # what is heavy is loaded where a mesh is taken in
    from homunculus.core.form.study import study_with_field
    from homunculus.exchange import mesh_files
    from homunculus.store.meshes import keep_field, keep_study, take_in_mesh

    asked_m = mesh_files.unit_of(unit) if unit else None
    data = read_bounded(file, mesh_files.MOST_BYTES, file.name)
    job = opened.job
    if not job.builds:
        raise UserError("The job has no build that a mesh could be the form of")
    build = job.build(whose.partition("/")[0]) if whose else job.builds[0]
    piece_id = whose.partition("/")[2]
    if not build.pieces:
        raise UserError(f"{build.name} has no piece that a mesh could be the form of")
    piece = piece_of(build, piece_id) if piece_id else build.pieces[0]
    known = measure(piece.form, read_facts(opened.path, job))
    taken = mesh_files.take(data, file.name, max(known.size) if known else None)
    stl, guess = taken.stl, taken.guess
    unit_m = asked_m or guess.unit_m
    fact, field = study_with_field(stl, file.name)
    content = take_in_mesh(opened.path, stl)
    keep_study(opened.path, fact)
    keep_field(opened.path, content, field.to_bytes())
    new = replace(piece, form=Mesh(content, file.name, unit_m))
    _keep(opened, replace_build(job, replace_piece(build, new)))
    how = f"{file.name} is the form of {build.id}/{piece.id} now, read in {unit or guess.unit}"
    size = " × ".join(str(show(side * unit_m, "length", system)) for side in taken.size)
    said = [how + ("." if unit else ", guessed from its size (--unit says otherwise).")]
    said.append(f"{fact.faces} faces, {size}, {show(fact.volume * unit_m**3, 'volume', system)}, "
                f"surface {show(fact.area * unit_m**2, 'area', system)}")  # fmt: skip
    return [*said, *(f"note: {note}" for note in fact.notes())]
