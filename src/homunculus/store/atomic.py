"""Writing a file so that at every moment the old or the new one is whole."""

from __future__ import annotations

import errno
import os
import stat
from collections.abc import Sequence
from pathlib import Path

from homunculus.core.errors import UserError


def write_atomically(path: Path, data: bytes | Sequence[bytes]) -> None:
    """Write to a temporary file beside it, flush, rename over, flush the folder.

    Parameters
    ----------
    path
        The file to replace.
    data
        Its whole new content, or the parts of it.

    Raises
    ------
    UserError
        When the disk is full, read-only or gone; the old file is then as it was.
    """
    temporary = path.with_name(f".{path.name}.{os.getpid()}.new")
    try:
        descriptor = os.open(temporary, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o644)
        try:
            with os.fdopen(descriptor, "wb", 1 << 20) as file:
                file.writelines((data,) if isinstance(data, bytes) else data)
                file.flush()
                os.fsync(file.fileno())
            temporary.replace(path)
        except BaseException:
            temporary.unlink(missing_ok=True)
            raise
        flush_folder(path.parent)
    except OSError as trouble:
        raise could_not_write(path, trouble) from trouble


def keep_once(path: Path, data: bytes) -> None:
    """Write what is named after its own content: nothing to do when it is there.

    Parameters
    ----------
    path
        Its folder is made when missing.
    data
        The whole content.

    Raises
    ------
    UserError
        When it could not be written.
    """
    if path.exists():
        return
    try:
        path.parent.mkdir(exist_ok=True)
    except OSError as trouble:
        raise could_not_write(path, trouble) from trouble
    write_atomically(path, data)


def inside(folder: Path, path: Path) -> Path:
    """Return a ``path`` that lies in a ``folder``, and refuse one that leads out of it by its name or by a link.

    Raises
    ------
    UserError
        When it leads elsewhere.
    """
    try:
        real = path.resolve()
        if path.is_symlink() or not real.is_relative_to(folder.resolve()):
            raise UserError("This file leads out of the job folder", str(path), "Put the file itself there, not a link")
    except (OSError, ValueError, RuntimeError) as trouble:
        raise UserError("This file cannot be looked at", str(path), "Check the disk") from trouble
    return path


def read_bounded(path: Path, most: int, what: str) -> bytes:
    """Read a plain file that is no larger than ``most`` bytes; ``what`` names it in messages.

    Raises
    ------
    UserError
        When it is no plain file, is larger, or cannot be read.
    """
    try:
        about = path.stat()
        if not stat.S_ISREG(about.st_mode):
            raise UserError(f"{what} is no file", str(path), "Something else stands in its place: look at it")
        if about.st_size > most:
            raise UserError(
                f"{what} is larger than it can be ({about.st_size // 1_000_000} MB)", str(path), "Choose another file"
            )
        return path.read_bytes()
    except OSError as trouble:
        raise UserError(f"{what} cannot be read: {trouble.strerror}", str(path), "Check the disk") from trouble


def flush_folder(folder: Path) -> None:
    """Make a rename or a new file in a ``folder`` outlast a power cut."""
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)


def could_not_write(path: Path, trouble: OSError) -> UserError:
    """Turn the system's ``trouble`` with a ``path`` into a sentence."""
    reasons = {
        errno.ENOSPC: "the disk is full",
        errno.EROFS: "the disk is read-only",
        errno.EACCES: "this folder does not let you write",
        errno.ENOENT: "the folder is gone",
    }
    reason = reasons.get(trouble.errno or 0, trouble.strerror or "the system refused")
    return UserError(
        f"Could not save here: {reason}. Everything is still open", str(path.parent), "Choose another folder"
    )
