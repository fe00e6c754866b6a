"""Figures of a job folder as text or JSON, without an interface."""

from __future__ import annotations

import inspect
from collections.abc import Iterator, Sequence
from datetime import date, datetime
from itertools import groupby
from pathlib import Path
from typing import Any, TypeVar

import msgspec

from homunculus import library
from homunculus.core.cells import needs
from homunculus.core.cells.shots import COLUMNS
from homunculus.core.edits.wishes import made_by
from homunculus.core.errors import UserError
from homunculus.core.figures import STATIONS, Figure
from homunculus.core.job.build import Build, Piece
from homunculus.core.job.job import Job
from homunculus.core.plan.facts import Facts
from homunculus.core.plan.job_plan import Plan, plan
from homunculus.core.quantities import System
from homunculus.core.specs import ALL
from homunculus.core.why import show_figure, why
from homunculus.store.atomic import read_bounded
from homunculus.store.folder import MOST_BYTES, JobFolder, decode, read_facts
from homunculus.store.meshes import read_mesh
from homunculus.store.shelf import to_take_from

Thing = TypeVar("Thing", Build, Piece)
BASE_UNITS = {
    "length": "m", "focal_length": "m", "area": "m²", "volume": "m³", "mass": "kg", "density": "kg/m³", "duration": "s", "screen_time": "s",
    "temperature": "°C", "speed": "m/s", "rate": "fps", "scale": "1:S", "share": "1", "factor": "1", "stop": "f-number",
    "illuminance": "lx", "angle": "rad", "count": "1", "acceleration_share": "g", "moment": "local time",
    "day": "date", "shop_days": "shop days", "money": "currency", "money_per_mass": "currency/kg",
    "parts": "1", "areal_density": "kg/m²", "energy_per_mole": "J/mol", "pixels": "px", "text": "",
    "stops": "stops", "voltage": "V", "current": "A", "power": "W", "efficacy": "lm/W", "luminance": "cd/m²", "luminous_flux": "lm",
    "line_force": "N/m", "diffusivity": "m²/s", "force": "N", "acceleration": "m/s²",
    "mass_flow": "kg/s", "thing": "",
}  # fmt: skip


def load(folder: Path) -> tuple[Job, Facts]:
    """Read a job folder without locking it, and study what has no study yet (in memory only).

    Parameters
    ----------
    folder
        The job folder.

    Raises
    ------
    UserError
        When it is no job folder or is damaged.
    """
    file = folder / "job.json"
    if not file.is_file():
        raise UserError("There is no job.json in this folder", str(folder), "Choose a job folder")
    job = decode(read_bounded(file, MOST_BYTES, "The job file"), str(file)).job
    facts = read_facts(folder, job)
    for want in plan(job, facts).wants():
        from homunculus.core.form.study import study_mesh  # numpy and scipy only where a study is missing

        path = folder / "meshes" / f"{want.key}.stl"
        if not path.is_file():
            raise UserError(f"The mesh of {want.name} is missing", str(path), "Take the sculpt in again")
        facts[want.key] = study_mesh(read_mesh(folder, want.key), want.name)
    return job, facts


def lines(folder: Path, *, of: str = "", as_json: bool = False, system: System = "metric",
          brief: bool = False) -> Iterator[str]:  # fmt: skip
    """Yield the figures of a job, line by line.

    Parameters
    ----------
    folder
        The job folder.
    of
        What they speak of: “job”, a build, a build’s piece (``build/piece``), a shot (``shot 14``); all when empty.
    as_json
        One JSON document in base units instead of text.
    system
        Of units, for text.
    brief
        Leave the why out.

    Raises
    ------
    UserError
        When the folder cannot be read, or there is nothing of that name.
    """
    job, facts = load(folder)
    made = plan(job, facts)
    figures = [f for f in _of(made, of) if f.spec.kind != "thing"]
    if as_json:
        yield msgspec.json.format(msgspec.json.encode([_plain(f) for f in figures]), indent=1).decode()
        return
    yield from _text(made, figures, system, brief)


def _of(made: Plan, what: str) -> tuple[Figure, ...]:
    """The figures that speak of something, by what a person calls it."""
    if not what:
        return made.figures()
    if what.casefold() == "job":
        return made.whole
    word, _, shot = what.partition(" ")
    if word.casefold() == "shot" and shot:
        if shot not in {s.id for s in made.job.shots}:
            raise UserError(f"There is no shot {shot}", "job", f"Choose one of: {', '.join(s.id for s in made.shots)}")
        return tuple(f for f in made.figures() if f.subject.shot == shot)
    name, _, piece = what.partition("/")
    build = _named(made.job.builds, name)
    if build is None:
        build = made.job.build(name)  # says which there are
    if build.put_away:
        raise UserError(
            f"{build.name} was put away: nothing of it is planned",
            "job",
            f"Bring it back first: the line bring back {build.id}",
        )
    figures = (*made.build(build.id).figures, *(f for f in made.whole if f.subject.build == build.id))
    if not piece:
        return figures
    found = _named(build.pieces, piece)
    if found is None:
        raise UserError(
            f"“{build.name}” has no piece “{piece}”", "job", f"Choose one of: {', '.join(p.id for p in build.pieces)}"
        )
    return tuple(f for f in figures if f.subject.piece == found.id)


def _named(things: Sequence[Thing], name: str) -> Thing | None:
    return next((t for t in things if name.casefold() in (t.id.casefold(), t.name.casefold())), None)


def _text(made: Plan, figures: list[Figure], system: System, brief: bool) -> Iterator[str]:
    currency = made.job.shop.currency
    heads = {b.build.id: b.build.name + (f"  ({b.held})" if b.held else "") for b in made.builds} | {"": made.job.name}
    whole = {id(figure) for figure in made.whole}
    for head, group in groupby(figures, key=lambda f: "" if id(f) in whole else f.subject.build):
        yield heads[head]
        for figure in group:
            where = str(figure.subject).removeprefix(head).lstrip("/")
            yield f"  {figure.spec.name:24} {where:18} = {show_figure(figure, system, currency)}"
            if brief:
                continue
            told = why(figure, system, currency)
            inputs = "; ".join(f"{item.label} {item.value} ({item.origin})" for item in told.inputs)
            yield f"      {told.formula} | {inputs} | {told.source}"
            for note in told.notes:
                yield f"      note: {note}"
        yield ""


def _plain(figure: Figure) -> dict[str, Any]:
    value = figure.value
    told = why(figure)
    return {
        "name": figure.spec.name,
        "subject": str(figure.subject),
        "value": value.isoformat() if isinstance(value, datetime | date) else value,
        "unit": BASE_UNITS[figure.spec.kind],
        "shown": told.value,
        "rule": told.formula,
        "source": told.source,
        "inputs": [{"label": i.label, "value": i.value, "origin": i.origin} for i in told.inputs],
        "notes": list(told.notes),
    }


def make_by(folder: Path, whose: str, way: str, now: datetime) -> str:
    """Make a piece another way, as a card of the library has it, and say so.

    Parameters
    ----------
    folder
        The job folder; it must not be open elsewhere.
    whose
        Build and piece, as ``lighthouse/gallery``.
    way
        Id of the card.
    now
        For the dated copy of the job.

    Raises
    ------
    UserError
        When there is no such piece or way; nothing is changed then.
    """
    card = library.way(way)
    build, _, piece = whose.partition("/")
    opened = JobFolder(folder, now)
    try:
        opened.save(made_by(opened.job, build, piece, way, to_take_from()), opened.pins)
    finally:
        opened.close()
    return f"{whose} is made {card.name}: {len(card.route)} operations, {card.source}."


def figure_table() -> str:
    """Every figure's stable name, unit and meaning, as the Markdown of ``docs/figures.md``."""
    rows = ["# Figures", "", "Written from `homunculus.core.specs` by `scripts/write_docs.py`; a test keeps it true.",
            "Units are those of `homunculus figures --json`.", ""]  # fmt: skip
    for station in STATIONS:
        rows += [f"## {station.capitalize()}", "", "| name | unit | meaning |", "| --- | --- | --- |"]
        for spec in ALL:
            if spec.station == station and spec.kind != "thing":
                rows.append(f"| `{spec.name}` | {BASE_UNITS[spec.kind]} | {spec.meaning} |")
        rows.append("")
    return "\n".join(rows)


def column_table() -> str:
    """The columns of a list of shots and how their cells are written, as the Markdown of ``docs/shot-list.md``."""
    rows = ["# The list of shots", "", "Written from `homunculus.core.cells.shots` by `scripts/write_docs.py`; a test keeps it true.", "",
            "CSV (UTF-8) or XLSX; the first row is the head, `shot` alone is needed. Other heads are matched by hand once and",
            "remembered. An empty cell changes nothing; a row with a cell that cannot be read is left out and named. A cell that a",
            "spreadsheet would run as a formula is written with an apostrophe before it, and read without.", "",
            "| head | also understood | for example |", "| --- | --- | --- |"]  # fmt: skip
    for column in COLUMNS:
        rows.append(f"| `{column.head}` | {', '.join(column.also)} | `{column.example}` |")
    rows += ["", "## Needs", "", (inspect.getdoc(needs) or "").split("\n\n", 1)[1], ""]
    return "\n".join(rows)
