"""What could not be kept where it belongs: written to a folder of its own, and told at the next start."""

from __future__ import annotations

import os
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path

import msgspec

from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.log import LogEvent
from homunculus.core.session import Pin
from homunculus.store.atomic import write_atomically
from homunculus.store.folder import encode
from homunculus.store.meshes import mesh_file
from homunculus.store.places import data_home

NOTE = "from.txt"


def rescue_home() -> Path:
    """The folder in which rescued jobs lie."""
    return data_home() / "rescued"


def keep_elsewhere(folder: Path, job: Job, pins: tuple[Pin, ...], log: Sequence[LogEvent]) -> Path:
    """Write a ``job`` with its ``pins`` and its ``log`` to a new folder, with a note where it is from.

    ``folder`` is where it belongs; its meshes stay there.

    Raises
    ------
    UserError
        When it cannot be written there either.
    """
    target = rescue_home() / f"{folder.name}-{datetime.now():%Y-%m-%d-%H%M%S}-{os.getpid()}"
    target.mkdir(parents=True, exist_ok=True)
    write_atomically(target / "log.jsonl", b"".join(msgspec.json.encode(entry) + b"\n" for entry in log))
    write_atomically(target / "job.json", encode(job, pins, f"{datetime.now():%Y-%m-%dT%H:%M:%S.%f}"))
    write_atomically(target / NOTE, f"{folder}\n".encode())
    return target


def rescued() -> tuple[str, ...]:
    """Say for each rescued job that was not told yet where it is; each is told once."""
    said = []
    try:
        notes = sorted(rescue_home().glob(f"*/{NOTE}"))
    except OSError:
        return ()
    for note in notes:
        try:
            origin = note.read_text(encoding="utf-8").strip()
            note.rename(note.with_name("told.txt"))
        except (OSError, UnicodeDecodeError):
            continue
        said.append(f"The last changes to {origin} could not be kept there; they are in {note.parent}.")
    return tuple(said)


def missing_meshes(folder: Path, job: Job) -> tuple[str, ...]:
    """File names of the meshes that a ``job`` uses and its ``folder`` does not have."""
    forms = {p.form.content: p.form.file_name for b in job.builds for p in b.pieces if isinstance(p.form, Mesh)}
    return tuple(name for content, name in forms.items() if not mesh_file(folder, content).is_file())
