"""Opening and saving a job folder.

``job.json`` holds job and pins; ``log.jsonl`` the shop log; ``meshes/`` meshes and their studies by content;
``backups/`` a dated copy of the last good ``job.json`` for every opening.
"""

from __future__ import annotations

import shutil
from collections.abc import Sequence
from datetime import datetime
from pathlib import Path
from threading import current_thread, main_thread
from time import sleep
from typing import Any

import msgspec
from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.consistent import doubt_about
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import SCHEMA, Job
from homunculus.core.log import LogEvent
from homunculus.core.plan.facts import STUDY_VERSION, MeshFact
from homunculus.core.session import Pin
from homunculus.store.atomic import could_not_write, inside, read_bounded, write_atomically
from homunculus.store.lock import Lock
from homunculus.store.log_file import append, read_log
from homunculus.store.migrate import migrate

BACKUPS_KEPT = 40
MOST_BYTES = 300_000_000


class Document(msgspec.Struct, frozen=True, forbid_unknown_fields=True):
    """The content of ``job.json``."""

    schema: int
    job: Job
    pins: tuple[Pin, ...] = ()
    saved: str = ""
    """When it was written, for telling which of several copies is the newest."""


_DECODER = msgspec.json.Decoder(Document)
_STUDY = msgspec.json.Decoder(MeshFact)


_NO_BUILDS = b'"builds": []'
"""How a job without builds is written; no text in a job can look like it, for its quotes would be escaped."""
_NOT_SAVED = b'"saved": ""'
"""How a document is written that says not when; it is the last of it."""

GIVES_WAY_S = 0.002
"""For so long a thread beside the interface rests after each build that it puts into words."""


class Writer:
    """Writes jobs as JSON that diffs well: stable order, one field a line. What stays the same is put into words once."""

    def __init__(self) -> None:
        self._known: dict[tuple[int, int], tuple[Build, bytes]] = {}
        self._rest: tuple[tuple[object, ...], tuple[list[bytes], bytes]] = ((), ([], b""))
        """What all but the builds was put into words from, and those words: what stands before, between and behind the builds, and the end."""

    def parts(self, job: Job, pins: tuple[Pin, ...], saved: str = "") -> list[bytes]:
        """The document of a ``job`` and its ``pins`` in parts to be written one after the other; ``saved`` says when."""
        jobs = [(job, 3), *((pin.job, 5) for pin in pins)]  # how deep a list of builds lies in the document
        (head, *rests), end = self._hollow(job, pins)
        written, before = [head], self._known
        self._known = {}
        for (one, deep), rest in zip(jobs, rests, strict=True):
            written.append(b'"builds": [')
            for i, build in enumerate(one.builds):
                written += [b"," if i else b"", self._build(build, deep, before)]
            written += [b"\n" + b" " * (deep - 1) if one.builds else b"", b"]", rest]
        return [*written, b'"saved": ', msgspec.json.encode(saved), end]

    def _hollow(self, job: Job, pins: tuple[Pin, ...]) -> tuple[list[bytes], bytes]:
        """The document as if it had no builds and were not saved yet, cut where they come; long words are not cut at every save."""
        of = (pins, *(getattr(job, field) for field in job.__struct_fields__ if field != "builds"))
        if len(self._rest[0]) != len(of) or any(a is not b for a, b in zip(of, self._rest[0], strict=True)):
            hollow = tuple(replace(pin, job=replace(pin.job, builds=())) for pin in pins)
            words = _json(Document(SCHEMA, replace(job, builds=()), hollow)) + b"\n"
            text, _, end = words.rpartition(_NOT_SAVED)
            self._rest = (of, (text.split(_NO_BUILDS), end))
        return self._rest[1]

    def _build(self, build: Build, deep: int, before: dict[tuple[int, int], tuple[Build, bytes]]) -> bytes:
        key, start = (id(build), deep), b"\n" + b" " * deep
        known = before.get(key)
        if known is None:
            known = (build, start + _json(build).replace(b"\n", start))
            if current_thread() is not main_thread():
                sleep(GIVES_WAY_S)  # whoever draws meanwhile waits for one build, not for two hundred
        self._known[key] = known
        return known[1]


def _json(value: object) -> bytes:
    return msgspec.json.format(msgspec.json.encode(value, order="deterministic"), indent=1)


def encode(job: Job, pins: tuple[Pin, ...], saved: str = "") -> bytes:
    """Write a ``job`` and its ``pins`` once; ``saved`` says when."""
    return b"".join(Writer().parts(job, pins, saved))


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
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as trouble:
        raise UserError(f"The job file is damaged ({str(trouble)[:200]})", where, remedy) from None
    if isinstance(plain, dict) and plain.get("schema") == SCHEMA:
        return _validated(data, where, remedy)
    return _validated(msgspec.json.encode(migrate(plain, where)), where, remedy)


def _validated(data: bytes, where: str, remedy: str) -> Document:
    try:
        document = _DECODER.decode(data)
    except RecursionError:
        raise UserError("The job file is damaged (nested too deeply)", where, remedy) from None
    except msgspec.ValidationError as trouble:
        what, _, field = str(trouble).partition(" - at `$")
        if "unknown field" in what:
            raise UserError(f"The job knows something that this version does not: {what}", where,
                            f"Open it with the version that wrote it; nothing was touched. Else {remedy}") from None  # fmt: skip
        place = f"{where}, {field.rstrip('`').lstrip('.')}" if field else where
        raise UserError(f"A value in the job file cannot be used: {what}", place, remedy) from None
    for job in (document.job, *(pin.job for pin in document.pins)):
        if doubt := doubt_about(job):
            raise UserError(doubt, where, remedy)
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
        self._writer = Writer()
        self._lock = Lock(path)
        try:
            data = self._read(self.job_file)
            self._known = self._look()
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
        return read_bounded(path, MOST_BYTES, "The job file")

    def _look(self) -> tuple[int, int, int] | None:
        """What tells whether the job file is the one that was last read or written here; none when it is gone."""
        try:
            about = self.job_file.stat()
        except OSError:
            return None
        return about.st_ino, about.st_size, about.st_mtime_ns

    def _not_changed_from_outside(self) -> None:
        if not self._lock.still_there(self.path):
            raise UserError("The folder at this place is another one now; nothing was written into it", str(self.path),
                            "Go on in another folder (Ctrl+Shift+S)")  # fmt: skip
        if self._look() != self._known:
            raise UserError("The job file was changed from outside, and is not overwritten", str(self.job_file),
                            "Go on in another folder (Ctrl+Shift+S), then compare the two")  # fmt: skip

    def _back_up(self, data: bytes, now: datetime) -> None:
        folder = self.path / "backups"
        try:
            copies = sorted(folder.glob("job-*.json")) if folder.exists() else []
            if copies and copies[-1].read_bytes() == data:
                return
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
            When it could not be written, or was changed from outside meanwhile; the old file is then as it was.
        """
        self._not_changed_from_outside()
        write_atomically(self.job_file, self._writer.parts(job, pins, f"{datetime.now():%Y-%m-%dT%H:%M:%S.%f}"))
        self._known = self._look()

    def prepare(self, job: Job, pins: tuple[Pin, ...]) -> None:
        """Put this ``job`` with its ``pins`` into words, which :meth:`save` then has."""
        self._writer.parts(job, pins)

    def append(self, entry: LogEvent) -> None:
        """Append an ``entry`` to the log; it is kept when this returns.

        Raises
        ------
        UserError
            When it could not be written.
        """
        if not self._lock.still_there(self.path):
            raise UserError("The folder at this place is another one now; nothing was written into it", str(self.path),
                            "Go on in another folder (Ctrl+Shift+S)")  # fmt: skip
        append(self.path / "log.jsonl", entry)

    def close(self) -> None:
        """Let go of the folder."""
        self._lock.release()


def read_facts(path: Path, job: Job) -> dict[str, MeshFact]:
    """Read the studies of all meshes that a ``job`` in the folder ``path`` uses.

    Those missing, damaged or old are left out: they can always be made again from the mesh.
    """
    return read_studies(path, {p.form.content for b in job.builds for p in b.pieces if isinstance(p.form, Mesh)})


def read_studies(path: Path, wanted: set[str]) -> dict[str, MeshFact]:
    """Read the studies of the meshes ``wanted``, by content, in the folder ``path``; those that are no good are left out."""
    facts = {}
    for content in wanted:
        try:
            kept = inside(path, path / "meshes" / f"{content}.study.json")
            fact = _STUDY.decode(read_bounded(kept, 20_000_000, "The study"))
        except (UserError, msgspec.DecodeError, msgspec.ValidationError, RecursionError):
            continue
        if fact.version == STUDY_VERSION and fact.content == content and fact.sound:
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
        good: list[tuple[str, float, Path, bytes]] = []
        for copy in (path / "backups").glob("job-*.json"):
            try:
                data = read_bounded(inside(path, copy), MOST_BYTES, "The copy")
                good.append((decode(data, str(copy)).saved, copy.stat().st_mtime, copy, data))
            except (UserError, OSError):
                continue
        if not good:
            raise UserError("No copy in backups can be read", str(path), "Look for another copy of the folder")
        _, _, copy, data = max(
            good, key=lambda item: (item[0], item[1], item[2].name)
        )  # by what it says, not by its name
        aside = _put_aside(file)
        write_atomically(file, data)
        return f"The job is as it was in {copy.name}." + (f" The damaged file is kept as {aside}." if aside else "")
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


def copy_folder(old: Path, new: Path, job: Job, pins: tuple[Pin, ...], log: Sequence[LogEvent] = ()) -> None:
    """Copy a job folder: meshes, pictures and log as they are, and the ``job`` with its ``pins`` as it stands.

    What the old folder no longer gives is left out; the log is then written from what is in memory.

    Parameters
    ----------
    old, new
        Folders; the new one does not exist or is empty.
    job, pins
        What ``job.json`` shall hold; it is written last, so that with it the copy is whole.
    log
        Entries as they are known; those that the old file lacks are added.

    Raises
    ------
    UserError
        When something is there already or cannot be written.
    """
    if new.exists() and any(new.iterdir()):
        raise UserError("There is something in that folder already", str(new), "Choose an empty one")
    try:
        new.mkdir(parents=True, exist_ok=True)
        (new / "meshes").mkdir(exist_ok=True)
        for name in ("meshes", "pictures"):
            if (old / name).is_dir():
                shutil.copytree(old / name, new / name, dirs_exist_ok=True, ignore_dangling_symlinks=True)
    except shutil.Error as trouble:
        raise UserError(
            f"Not everything could be copied: {str(trouble)[:200]}", str(new), "Choose another folder"
        ) from trouble
    except OSError as trouble:
        raise could_not_write(new / "job.json", trouble) from trouble
    _copy_log(old / "log.jsonl", new / "log.jsonl", log)
    write_atomically(new / "job.json", encode(job, pins))


def _copy_log(old: Path, new: Path, log: Sequence[LogEvent]) -> None:
    """Write the old log as it is, where it can be read, and after it the entries that it lacks."""
    try:
        data = old.read_bytes() if old.is_file() else b""
        known = {entry.id for entry in read_log(old)[0]} if data else set()
    except (OSError, UserError):
        data, known = b"", set()
    if data and not data.endswith(b"\n"):
        data += b"\n"
    data += b"".join(msgspec.json.encode(entry) + b"\n" for entry in log if entry.id not in known)
    if data:
        write_atomically(new, data)


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
