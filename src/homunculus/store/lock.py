"""The lock of a job folder: held by the process that has it open, named by host, boot and process."""

from __future__ import annotations

import fcntl
import os
from pathlib import Path

import msgspec

from homunculus.core.errors import UserError
from homunculus.store.atomic import could_not_write


class Holder(msgspec.Struct, frozen=True):
    """Who holds a lock."""

    host: str
    boot: str
    process: int


def this_process() -> Holder:
    """Name this process."""
    try:
        boot = Path("/proc/sys/kernel/random/boot_id").read_text().strip()
    except OSError:
        boot = ""
    return Holder(os.uname().nodename, boot, os.getpid())


class Lock:
    """Holds a folder from when it is made until :meth:`release` or the end of the process.

    The system drops the hold by itself when the process ends, however it ends, so nothing goes stale on a
    local disk. On a network folder this depends on its server.

    Raises
    ------
    UserError
        When another process has the folder open; it is named.
    """

    def __init__(self, folder: Path) -> None:
        path = folder / "lock"
        try:
            self._folder = os.open(folder, os.O_RDONLY | os.O_DIRECTORY)
        except OSError as trouble:
            raise could_not_write(path, trouble) from trouble
        try:
            self._descriptor = os.open(path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW | os.O_NONBLOCK, 0o644)
        except OSError as trouble:
            os.close(self._folder)
            raise could_not_write(path, trouble) from trouble
        try:
            fcntl.flock(
                self._folder, fcntl.LOCK_EX | fcntl.LOCK_NB
            )  # the folder's own: deleting a file does not slip it
            fcntl.flock(self._descriptor, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError:
            holder = self._read()
            os.close(self._descriptor)
            os.close(self._folder)
            who = f"process {holder.process} on {holder.host}" if holder else "another process"
            raise UserError(f"This job is open already, in {who}", str(folder), "Close it there first") from None
        os.ftruncate(self._descriptor, 0)
        os.pwrite(self._descriptor, msgspec.json.encode(this_process()), 0)

    def _read(self) -> Holder | None:
        try:
            return msgspec.json.decode(os.pread(self._descriptor, 4096, 0), type=Holder)
        except (msgspec.DecodeError, msgspec.ValidationError):
            return None

    def release(self) -> None:
        """Let go of the folder."""
        if self._descriptor >= 0:
            os.close(self._descriptor)
            os.close(self._folder)
            self._descriptor = -1

    def still_there(self, folder: Path) -> bool:
        """Whether the ``folder`` at its path is the one that is held, and not another that was put in its place."""
        try:
            here, held = folder.stat(), os.fstat(self._folder)
        except OSError:
            return False
        return (here.st_dev, here.st_ino) == (held.st_dev, held.st_ino)
