"""Saves and logs without end, saying on standard output what was acknowledged. Killed by test_kill.py."""

import sys
from datetime import datetime, timedelta
from pathlib import Path

from msgspec.structs import replace

from homunculus.core.log import LogEvent
from homunculus.store.folder import JobFolder

start = datetime(2026, 2, 24, 9, 0)
folder = JobFolder(Path(sys.argv[1]), start)
number = int(sys.argv[2])
while True:
    number += 1
    folder.append(LogEvent(f"k{number}", start + timedelta(seconds=number), "note", "x" * (number % 700)))
    sys.stdout.write(f"log {number}\n")
    sys.stdout.flush()
    folder.save(replace(folder.job, name=f"saved {number}"), folder.pins)
    sys.stdout.write(f"job {number}\n")
    sys.stdout.flush()
