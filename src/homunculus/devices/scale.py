"""A scale on a serial line: a thread that reads it and says what it hears. Knows no widget."""

from __future__ import annotations

import threading
import time
from collections.abc import Callable
from typing import Any

from homunculus.core.errors import UserError
from homunculus.devices.protocol import LONGEST, Hello, Reading, parse

QUIET_S = 1.5
"""So long without a line that can be read, and the scale counts as silent."""
REOPEN_S = 1.0
GARBAGE = 5
BAUD = 19200


class Scale:
    """Reads one scale until closed.

    The callbacks are called from the reading thread.

    Parameters
    ----------
    path
        Device of the line, as ``/dev/ttyUSB0``.
    heard
        Called with (seconds on the monotonic clock, reading).
    met
        Called with the scale's step and limit, once it says hello.
    quiet
        Called with a sentence when nothing that can be read has come for a while, and with none when it is back.
    """

    def __init__(
        self,
        path: str,
        heard: Callable[[float, Reading], None],
        met: Callable[[Hello], None],
        quiet: Callable[[str | None], None],
    ) -> None:
        self.path = path
        self._heard, self._met, self._quiet = heard, met, quiet
        self._stop = threading.Event()
        self._wishes: list[bytes] = []
        self._silent = False
        self._thread = threading.Thread(target=self._run, name="scale", daemon=True)
        self._thread.start()

    def tare(self) -> None:
        """Ask the scale to read nought as it stands."""
        self._wishes.append(b"zero\n")

    def close(self) -> None:
        """Stop reading; returns when the thread has ended."""
        self._stop.set()
        self._thread.join(5)

    # ---------------------------------------------------------------------------------- in the thread
    def _run(self) -> None:
        import serial  # only where something is weighed

        while not self._stop.is_set():
            try:
                with serial.Serial(self.path, BAUD, timeout=0.1, write_timeout=1) as line:
                    self._wishes.insert(0, b"hello\n")
                    self._listen(line)
            except (OSError, serial.SerialException):  # unplugged, or not there yet
                self._say_quiet(
                    "The scale is not there. The pour is kept. Plug it in, or read its dial and type the weight."
                )
                self._stop.wait(REOPEN_S)

    def _listen(self, line: Any) -> None:
        rest, last, unread = b"", time.monotonic(), 0
        while not self._stop.is_set():
            while self._wishes:
                line.write(self._wishes.pop(0))
            rest += line.read(max(1, line.in_waiting))
            *lines, rest = rest.replace(b"\r", b"\n").split(b"\n")
            rest = rest[-LONGEST:]
            now = time.monotonic()
            for text in lines:
                if not text.strip():
                    continue
                try:
                    said = parse(text)
                except UserError:
                    unread += 1
                    continue
                last, unread = now, 0
                self._back()
                if isinstance(said, Hello):
                    self._met(said)
                else:
                    self._heard(now, said)
            if now - last > QUIET_S:
                self._say_quiet(
                    "The scale sends what cannot be read. The pour is kept. Read its dial and type the weight."
                    if unread >= GARBAGE else "The scale went quiet. The pour is kept. Read its dial and type the weight."
                )  # fmt: skip

    def _say_quiet(self, sentence: str) -> None:
        if not self._silent:
            self._silent = True
            self._quiet(sentence)

    def _back(self) -> None:
        if self._silent:
            self._silent = False
            self._quiet(None)
