"""Opening and saving a job folder.

``job.json`` holds job and pins; ``log.jsonl`` the shop log; ``meshes/`` meshes and their studies by content;
``backups/`` a dated copy of the last good ``job.json`` for every opening.
"""

from __future__ import annotations

import shutil
from datetime import datetime
from pathlib import Path
from typing import Any

import msgspec
from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.facts import STUDY_VERSION, MeshFact
from homunculus.core.job import SCHEMA, Job, Mesh
from homunculus.core.log import LogEvent
from homunculus.core.session import Pin
from homunculus.store.atomic import could_not_write, write_atomically
from homunculus.store.lock import Lock
from homunculus.store.log_file import append, read_log
from homunculus.store.migrate import migrate

BACKUPS_KEPT = 40


class Document(msgspec.Struct, frozen=True):
    """The content of ``job.json``."""

    schema: int
    job: Job
    pins: tuple[Pin, ...] = ()


_DECODER = msgspec.json.Decoder(Document)
_STUDY = msgspec.json.Decoder(MeshFact)


def encode(job: Job, pins: tuple[Pin, ...]) -> bytes:
    """Write a ``job`` and its ``pins`` as JSON that diffs well: stable order, one field a line."""
    return msgspec.json.format(msgspec.json.encode(Document(SCHEMA, job, pins), order="sorted"), indent=1) + b"\n"


def _shared(document: Document) -> Document:
    """Let pins share with the job what is the same, so that it is planned and kept once."""
    job = document.job
    builds = {b.id: b for b in job.builds}
    pins = []
    for pin in document.pins:
        old = pin.job
        same = tuple(builds[b.id] if builds.get(b.id) == b else b for b in old.builds)
        old = replace(
            old, builds=same, shots=job.shots if old.shots == job.shots else old.shots,
            shop=job.shop if old.shop == job.shop else old.shop, cards=job.cards if old.cards == job.cards else old.cards,
        )  # fmt: skip
        pins.append(replace(pin, job=old))
    return replace(document, pins=tuple(pins))


def decode(data: bytes, where: str) -> Document:
    """Read a ``job.json``.

    Parameters
    ----------
    data
        The whole file.
    where
        Its name, for messages.

    Raises
    ------
    UserError
        When it is cut short, is no JSON, has wrong types or values, or is of a newer schema.
    """
    remedy = "“homunculus recover” takes the newest good copy from the folder “backups”"
    try:
        plain: Any = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError) as trouble:
        raise UserError(f"The job file is damaged ({trouble})", where, remedy) from None
    if isinstance(plain, dict) and plain.get("schema") == SCHEMA:
        return _validated(data, where, remedy)
    return _validated(msgspec.json.encode(migrate(plain, where)), where, remedy)


def _validated(data: bytes, where: str, remedy: str) -> Document:
    try:
        document = _DECODER.decode(data)
    except msgspec.ValidationError as trouble:
        what, _, field = str(trouble).partition(" - at `$")
        place = f"{where}, {field.rstrip('`').lstrip('.')}" if field else where
        raise UserError(f"A value in the job file cannot be used: {what}", place, remedy) from None
    ids = [b.id for b in document.job.builds]
    if len(set(ids)) != len(ids):
        raise UserError("Two builds have the same id", where, remedy)
    return _shared(document)


class JobFolder:
    """An open job folder, locked until closed.

    Parameters
    ----------
    path
        The folder.
    now
        For the dated copy.

    Raises
    ------
    UserError
        When it is no job folder, is damaged, newer, or open elsewhere. The file is then as it was.
    """

    def __init__(self, path: Path, now: datetime) -> None:
        self.path = path
        if not path.is_dir():
            raise UserError("There is no such job folder", str(path), "Name a folder with a job.json in it")
        if not self.job_file.is_file():
            raise UserError("There is no job.json in this folder", str(path), "Choose a job folder")
        self._lock = Lock(path)
        try:
            data = self._read(self.job_file)
            document = decode(data, str(self.job_file))
            self.job, self.pins = document.job, document.pins
            self.log, self.set_aside = read_log(self.path / "log.jsonl")
            self._back_up(data, now)
        except BaseException:
            self._lock.release()
            raise

    @property
    def job_file(self) -> Path:
        """The file that holds the plan's data."""
        return self.path / "job.json"

    @staticmethod
    def _read(path: Path) -> bytes:
        try:
            return path.read_bytes()
        except OSError as trouble:
            raise UserError(f"The file cannot be read: {trouble.strerror}", str(path), "Check the disk") from trouble

    def _back_up(self, data: bytes, now: datetime) -> None:
        folder = self.path / "backups"
        copies = sorted(folder.glob("job-*.json")) if folder.exists() else []
        if copies and copies[-1].read_bytes() == data:
            return
        try:
            folder.mkdir(exist_ok=True)
        except OSError as trouble:
            raise could_not_write(folder, trouble) from trouble
        write_atomically(folder / f"job-{now:%Y-%m-%d-%H%M%S}.json", data)
        for old in copies[: max(0, len(copies) + 1 - BACKUPS_KEPT)]:
            old.unlink(missing_ok=True)

    def save(self, job: Job, pins: tuple[Pin, ...]) -> None:
        """Replace ``job.json`` by this ``job`` with its ``pins``.

        Raises
        ------
        UserError
            When it could not be written; the old file is then as it was.
        """
        write_atomically(self.job_file, encode(job, pins))

    def append(self, entry: LogEvent) -> None:
        """Append an ``entry`` to the log; it is kept when this returns.

        Raises
        ------
        UserError
            When it could not be written.
        """
        append(self.path / "log.jsonl", entry)

    def close(self) -> None:
        """Let go of the folder."""
        self._lock.release()


def read_facts(path: Path, job: Job) -> dict[str, MeshFact]:
    """Read the studies of all meshes that a ``job`` in the folder ``path`` uses.

    Those missing, damaged or old are left out: they can always be made again from the mesh.
    """
    wanted = {p.form.content for b in job.builds for p in b.pieces if isinstance(p.form, Mesh)}
    facts = {}
    for content in wanted:
        try:
            fact = _STUDY.decode((path / "meshes" / f"{content}.study.json").read_bytes())
        except (OSError, msgspec.DecodeError, msgspec.ValidationError):
            continue
        if fact.version == STUDY_VERSION and fact.content == content:
            facts[content] = fact
    return facts


def recover(path: Path) -> str:
    """Put the newest good copy from ``backups`` in place of a damaged ``job.json``; the damaged one is kept beside it.

    Parameters
    ----------
    path
        The job folder.

    Returns
    -------
    str
        What was done, as a sentence.

    Raises
    ------
    UserError
        When the job is open elsewhere, is not damaged, or no copy can be read.
    """
    file = path / "job.json"
    if not path.is_dir():
        raise UserError("There is no such job folder", str(path), "Name a folder with a job.json in it")
    lock = Lock(path)
    try:
        if file.is_file():
            try:
                decode(file.read_bytes(), str(file))
            except UserError:
                pass
            else:
                raise UserError("The job file is whole; nothing was changed", str(file), "Open it as usual")
        for copy in sorted((path / "backups").glob("job-*.json"), reverse=True):
            try:
                decode(copy.read_bytes(), str(copy))
            except UserError:
                continue
            aside = _put_aside(file)
            write_atomically(file, copy.read_bytes())
            return f"The job is as it was in {copy.name}." + (f" The damaged file is kept as {aside}." if aside else "")
        raise UserError("No copy in backups can be read", str(path), "Look for another copy of the folder")
    finally:
        lock.release()


def _put_aside(file: Path) -> str:
    if not file.exists():
        return ""
    number = 1
    while (aside := file.with_name(f"job-damaged-{number}.json")).exists():
        number += 1
    file.rename(aside)
    return aside.name


def copy_folder(old: Path, new: Path, job: Job, pins: tuple[Pin, ...]) -> None:
    """Copy a job folder: meshes, studies and log as they are, and the ``job`` with its ``pins`` as it stands.

    Parameters
    ----------
    old, new
        Folders; the new one does not exist or is empty.
    job, pins
        What ``job.json`` shall hold; it is written last, so that with it the copy is whole.

    Raises
    ------
    UserError
        When something is there already or cannot be written.
    """
    if new.exists() and any(new.iterdir()):
        raise UserError("There is something in that folder already", str(new), "Choose an empty one")
    try:
        new.mkdir(parents=True, exist_ok=True)
        for name in ("meshes", "pictures"):
            if (old / name).is_dir():
                shutil.copytree(old / name, new / name)
        if (old / "log.jsonl").is_file():
            write_atomically(new / "log.jsonl", (old / "log.jsonl").read_bytes())
    except OSError as trouble:
        raise could_not_write(new / "job.json", trouble) from trouble
    write_atomically(new / "job.json", encode(job, pins))


def create(path: Path, job: Job) -> None:
    """Make a new job folder.

    Parameters
    ----------
    path
        A folder that does not exist or is empty.
    job
        What it starts with.

    Raises
    ------
    UserError
        When something is there already or cannot be written.
    """
    if path.exists() and any(path.iterdir()):
        raise UserError("There is something in that folder already", str(path), "Choose an empty one")
    try:
        (path / "meshes").mkdir(parents=True, exist_ok=True)
    except OSError as trouble:
        raise could_not_write(path, trouble) from trouble
    write_atomically(path / "job.json", encode(job, ()))
