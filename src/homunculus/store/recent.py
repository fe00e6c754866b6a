"""Jobs that were open lately, in the user's data folder: what the start page offers."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import NamedTuple

import msgspec

from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.forms import Mesh
from homunculus.core.plan.facts import Facts
from homunculus.store.atomic import read_bounded, write_atomically
from homunculus.store.places import data_home

MOST = 12
MOST_LISTED = 100_000
MOST_BYTES = 300_000_000
MOST_DRAWN, MOST_BUILDS = 3_000_000, 8
"""Bytes of a job whose builds are drawn on the page, and how many of them."""


class _Build(msgspec.Struct):
    name: str


class _Job(msgspec.Struct):
    name: str
    builds: tuple[_Build, ...] = ()


class _Document(msgspec.Struct):
    job: _Job


class Recent(NamedTuple):
    """A job that was open lately."""

    path: Path
    name: str
    builds: tuple[str, ...]
    """What its builds are called."""
    saved: datetime


def _list_file() -> Path:
    return data_home() / "recent.json"


def _listed() -> list[str]:
    try:
        return msgspec.json.decode(read_bounded(_list_file(), MOST_LISTED, "The list of recent jobs"), type=list[str])
    except (UserError, OSError, msgspec.DecodeError):
        return []  # a convenience: without it there is nothing to offer, and nothing is lost


def remember(path: Path) -> None:
    """Put the job folder at ``path`` first of those that were open lately; what cannot be noted is not missed."""
    here = str(path.resolve())
    paths = [here, *(one for one in _listed() if one != here)][:MOST]
    with suppress(UserError, OSError):
        _list_file().parent.mkdir(parents=True, exist_ok=True)
        write_atomically(_list_file(), msgspec.json.encode(paths))


def cast_of(job: Recent) -> tuple[tuple[Build, ...], Facts]:
    """The builds of a ``job`` that was open lately, to be drawn, and what is known of their meshes.

    Nothing where it cannot be read, or is so large that the page would wait for it.
    """
    from homunculus.store.folder import decode, read_studies

    file = job.path / "job.json"
    try:
        builds = decode(read_bounded(file, MOST_DRAWN, "The job"), str(file)).job.cast[:MOST_BUILDS]
    except (UserError, OSError):
        return (), {}
    meshes = {p.form.content for b in builds for p in b.pieces if isinstance(p.form, Mesh)}
    return builds, read_studies(job.path, meshes)


def recent() -> tuple[Recent, ...]:
    """The jobs that were open lately and are still there, the last one first."""
    found = []
    for one in _listed()[:MOST]:
        file = Path(one) / "job.json"
        try:
            document = msgspec.json.decode(read_bounded(file, MOST_BYTES, "The job"), type=_Document)
            saved = datetime.fromtimestamp(file.stat().st_mtime)
        except (UserError, OSError, msgspec.DecodeError, ValueError, OverflowError):
            continue
        found.append(Recent(Path(one), document.job.name, tuple(b.name for b in document.job.builds), saved))
    return tuple(found)
