"""A scale without a scale: speaks the protocol over a pseudo-terminal and does as it is told.

Run: ``python -m homunculus.devices.practice_scale`` (or ``homunculus practice-scale``). The first line that it prints is
the device to weigh with. It then takes orders, one a line, on its standard input:

====================  =====================================================================
``add 41.2``          lay so many grams on the pan at once (negative takes off)
``pour 8 to 63.9``    pour so many grams a second until the pan bears that much
``pour 8``            pour until told otherwise
``stop``              stop pouring
``drift 0.05``        creep by so many grams a second, as a cold scale does
``noise 0.3``         tremble by so many grams (standard deviation)
``stall``             go on sending the same reading, whatever lies on the pan
``silent``            send nothing
``garbage``           send what cannot be read
``well``              end stall, silence, garbage, drift and noise
``tare``              press the scale's own key
``quit``              end
====================  =====================================================================
"""

from __future__ import annotations

import os
import pty
import random
import select
import sys
import time
import tty
from typing import Literal

from homunculus.devices.protocol import GRAM, Hello, Reading, line_of

STEP_G = 0.1
LIMIT_G = 6000.0
PERIOD_S = 0.1
Manner = Literal["well", "stall", "silent", "garbage"]


class Pan:
    """What lies on the pan, and how the scale tells it. Grams and seconds."""

    def __init__(self, seed: int = 1) -> None:
        self.load = 0.0
        self.zero = 0.0
        self.rate = 0.0
        self.until: float | None = None
        self.drift = 0.0
        self.noise = 0.0
        self.manner: Manner = "well"
        self._chance = random.Random(seed)
        self._shown = self._last = 0.0

    def order(self, words: str) -> bool:
        """Obey an order; false for one that is not understood."""
        match words.split():
            case ["add", grams] if _number(grams):
                self.load += float(grams)
            case ["pour", rate] if _number(rate):
                self.rate, self.until = float(rate), None
            case ["pour", rate, "to", grams] if _number(rate) and _number(grams):
                self.rate, self.until = float(rate), float(grams) + self.zero
            case ["stop"]:
                self.rate = 0.0
            case ["drift", rate] if _number(rate):
                self.drift = float(rate)
            case ["noise", grams] if _number(grams):
                self.noise = abs(float(grams))
            case ["stall" | "silent" | "garbage" as manner]:
                self.manner = manner
            case ["well"]:
                self.manner, self.drift, self.noise = "well", 0.0, 0.0
            case ["tare"]:
                self.tare()
            case _:
                return False
        return True

    def tare(self) -> None:
        """Read nought as it stands."""
        self.zero = self.load

    def pass_time(self, seconds: float) -> None:
        """Let pouring and drift go on for so long."""
        before = self.load
        self.load += (self.rate + self.drift) * seconds
        if self.until is not None and self.rate > 0 and self.load >= self.until:
            self.load, self.rate = max(before, self.until), 0.0

    def line(self) -> bytes:
        """What is sent now."""
        if self.manner == "silent":
            return b""
        if self.manner == "garbage":
            return bytes(self._chance.randrange(256) for _ in range(9)).replace(b"\n", b"?") + b"\n"
        if self.manner == "well":
            self._last, self._shown = self._shown, self.load - self.zero + self._chance.gauss(0, self.noise)
        resting = abs(self._shown - self._last) <= STEP_G
        return line_of(Reading(self._shown * GRAM, resting, self.load > LIMIT_G), STEP_G)


def _number(text: str) -> bool:
    try:
        return abs(float(text)) < 1e6
    except ValueError:
        return False


def main() -> int:
    """Be a scale until told to quit, or until the standard input ends."""
    master, slave = pty.openpty()
    tty.setraw(slave)
    os.set_blocking(master, False)
    sys.stdout.write(os.ttyname(slave) + "\n")
    sys.stdout.flush()
    pan, heard, orders = Pan(), b"", b""
    then = due = time.monotonic()
    while True:
        ready, _, _ = select.select([master, 0], [], [], max(0.0, due - time.monotonic()))
        if 0 in ready:
            data = os.read(0, 4096)
            if not data:
                return 0
            *lines, orders = (orders + data).split(b"\n")
            for line in lines:
                words = line.decode("utf-8", "replace").strip()
                if words == "quit":
                    return 0
                if words and not pan.order(words):
                    sys.stderr.write(f"“{words}” is no order; see the help of this program\n")
        if master in ready:
            *lines, heard = (heard + os.read(master, 4096)).split(b"\n")
            for line in lines:
                if line.strip() == b"hello" and pan.manner != "silent":
                    _send(master, line_of(Hello(STEP_G * GRAM, LIMIT_G * GRAM), STEP_G))
                elif line.strip() == b"zero":
                    pan.tare()
        now = time.monotonic()
        if now >= due:
            pan.pass_time(now - then)
            then, due = now, now + PERIOD_S
            _send(master, pan.line())


def _send(master: int, line: bytes) -> None:
    try:
        os.write(master, line)
    except BlockingIOError:
        return  # nobody listens: a scale does not wait either


if __name__ == "__main__":
    sys.exit(main())
