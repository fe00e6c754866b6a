"""Jobs that were open lately, in the user's data folder: what the start page offers."""

from __future__ import annotations

from contextlib import suppress
from datetime import datetime
from pathlib import Path
from typing import NamedTuple

import msgspec

from homunculus.core.errors import UserError
from homunculus.store.atomic import read_bounded, write_atomically
from homunculus.store.places import data_home

MOST = 12
MOST_LISTED = 100_000
MOST_BYTES = 300_000_000


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
