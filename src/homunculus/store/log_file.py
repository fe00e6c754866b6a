"""The shop log on disk: one JSON line an entry, appended and flushed, never rewritten."""

from __future__ import annotations

import os
from pathlib import Path

import msgspec

from homunculus.core.log import LogEvent, odd_entry
from homunculus.store.atomic import could_not_write, flush_folder, read_bounded

MOST_BYTES = 2_000_000_000
_DECODER = msgspec.json.Decoder(LogEvent)


def read_log(path: Path) -> tuple[tuple[LogEvent, ...], tuple[str, ...]]:
    """Read all entries that can be read.

    Parameters
    ----------
    path
        ``log.jsonl``; it need not exist.

    Returns
    -------
    tuple
        The entries, and a sentence for each line that was set aside. The file stays as it is.

    Raises
    ------
    UserError
        When something else stands in its place, or it cannot be read.
    """
    if not path.exists():
        return (), ()
    data = read_bounded(path, MOST_BYTES, "The log")
    try:
        found = _DECODER.decode_lines(data)  # all at once, when every line is whole
        if not any(odd_entry(entry) for entry in found):
            return tuple(found), ()
    except (msgspec.DecodeError, msgspec.ValidationError, UnicodeDecodeError, RecursionError):
        pass
    entries, trouble = [], []
    lines = data.split(b"\n")
    for number, line in enumerate(lines, 1):
        if not line.strip():
            continue
        try:
            entry = _DECODER.decode(line)
            if odd := odd_entry(entry):
                raise msgspec.ValidationError(odd)
            entries.append(entry)
        except (msgspec.DecodeError, msgspec.ValidationError, UnicodeDecodeError, RecursionError):
            torn = number == len(lines)
            what = "was cut short, as by a power cut," if torn else "could not be read and"
            trouble.append(f"Line {number} of {path.name} {what} was set aside. It is still in the file.")
    return tuple(entries), tuple(trouble)


def append(path: Path, entry: LogEvent) -> None:
    """Append one entry; when this returns, it outlasts a power cut.

    Parameters
    ----------
    path
        ``log.jsonl``; made when missing.
    entry
        What happened.

    Raises
    ------
    UserError
        When it could not be written; nothing is then lost that was kept before.
    """
    line = msgspec.json.encode(entry) + b"\n"
    try:
        new = not path.exists()
        descriptor = os.open(path, os.O_RDWR | os.O_CREAT | os.O_APPEND, 0o644)
        try:
            size = os.fstat(descriptor).st_size
            if size and os.pread(descriptor, 1, size - 1) != b"\n":
                line = b"\n" + line  # after a torn line: begin on a line of our own
            view = memoryview(line)
            while view:
                view = view[os.write(descriptor, view) :]
            os.fsync(descriptor)
        finally:
            os.close(descriptor)
        if new:
            flush_folder(path.parent)
    except OSError as trouble:
        raise could_not_write(path, trouble) from trouble
