"""Reading a file in a process of its own, with bounds on time and memory: what breaks there breaks nothing here.

Some kept libraries end the process or take all memory on a file that was made to hurt. The child reads the file from its
standard input, limits itself, and writes what it found to its standard output.
"""

from __future__ import annotations

import importlib
import os
import resource
import subprocess
import sys
import tempfile
import time
from collections.abc import Callable
from contextvars import ContextVar
from typing import IO

from homunculus.core.errors import Cancelled, UserError

SECONDS = 20.0
LOOK_S = 0.1
"""How often it is looked whether somebody has stopped the reading."""
STOPPED: ContextVar[Callable[[], bool]] = ContextVar("stopped", default=lambda: False)
"""Tells whether what is read is no longer wanted; who runs the reading sets it in his thread."""
MEMORY_BYTES = 2 << 30
_REFUSED, _TOO_MUCH = 3, 4


def read_apart(task: str, data: bytes, name: str, remedy: str, *words: str, seconds: float = SECONDS) -> bytes:
    """Let another process read a file.

    Parameters
    ----------
    task
        ``module:function``; the function takes the data, the name and the ``words``, and returns bytes.
    data
        The whole file.
    name
        Its name, for messages.
    remedy
        What to do when it cannot be read.
    *words
        Further arguments, as text.
    seconds
        After so long it is stopped.

    Raises
    ------
    UserError
        With the child's own sentence, or because it took too long, too much memory, or broke down.
    Cancelled
        When :data:`STOPPED` says so; the child is ended then.
    """
    environment = os.environ | {"OPENBLAS_NUM_THREADS": "1", "OMP_NUM_THREADS": "1"}
    command = [sys.executable, "-m", "homunculus.exchange.apart", task, name, *words]
    with (
        tempfile.TemporaryFile() as given,
        subprocess.Popen(
            command, stdin=_filled(given, data), stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment
        ) as child,
    ):
        stopped, until = STOPPED.get(), time.monotonic() + seconds
        while True:
            try:
                found, said = child.communicate(timeout=LOOK_S)
                break
            except subprocess.TimeoutExpired:
                if stopped() or time.monotonic() > until:
                    child.kill()
                    child.communicate()
                    if stopped():
                        raise Cancelled from None
                    raise UserError(f"{name} takes longer to read than {seconds:.0f} s", name, remedy) from None
    if child.returncode == 0:
        return found
    if child.returncode == _REFUSED:
        what, _, way = said.decode(errors="replace").strip().rpartition("\n")
        raise UserError(what, name, way)
    if child.returncode == _TOO_MUCH:
        raise UserError(f"{name} asks for more memory than a file may take", name, remedy)
    raise UserError(f"The reader broke down on {name}", name, remedy)


def _filled(file: IO[bytes], data: bytes) -> IO[bytes]:
    """The ``data`` in a ``file``, read from its beginning: a pipe would have to be fed while it is waited for."""
    file.write(data)
    file.seek(0)
    return file


def main(task: str, name: str, *words: str) -> int:
    """Be the child: read standard input by the ``task`` (``module:function``), for the file ``name``, with the ``words``."""
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY_BYTES, MEMORY_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    module, _, function = task.partition(":")
    try:
        found = getattr(importlib.import_module(module), function)(sys.stdin.buffer.read(), name, *words)
        sys.stdout.buffer.write(found)
        sys.stdout.buffer.flush()
    except UserError as trouble:
        sys.stderr.write(f"{trouble.what}\n{trouble.remedy}")
        return _REFUSED
    except MemoryError:
        return _TOO_MUCH
    return 0


if __name__ == "__main__":
    sys.exit(main(*sys.argv[1:]))
