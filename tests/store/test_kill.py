"""A saving, logging process is killed a hundred times: every acknowledged entry is there, the job opens."""

import os
import random
import signal
from datetime import timedelta

from msgspec.structs import replace

from homunculus.core.log import LogEvent
from homunculus.store.folder import JobFolder

KILLS = 100


def test_killed_a_hundred_times(folder, now):
    shipped = len((folder / "log.jsonl").read_bytes().splitlines())
    acknowledged, chance = 0, random.Random(7)
    for round_number in range(KILLS):
        process, told = begin(folder, now, acknowledged + 1000 * (round_number + 1))
        with told:
            lines, wanted = [], chance.randint(1, 12)
            while len(lines) < wanted:
                lines.append(told.readline())
            os.kill(process, signal.SIGKILL)  # at whatever it is doing
            lines += told.read().splitlines()
        assert os.waitstatus_to_exitcode(os.waitpid(process, 0)[1]) == -signal.SIGKILL
        whole = [line.split() for line in lines if len(line.split()) == 2]
        entries = {f"k{n}" for what, n in whole if what == "log"}
        saved = max((int(n) for what, n in whole if what == "job"), default=0)
        opened = JobFolder(folder, now)
        kept = {e.id for e in opened.log}
        assert entries <= kept
        if saved:
            assert int(opened.job.name.split()[1]) >= saved
        acknowledged += len(entries)
        opened.close()
    assert acknowledged > KILLS
    assert len((folder / "log.jsonl").read_bytes().splitlines()) >= shipped + acknowledged


def begin(folder, start, number):
    """A process of its own that saves and logs without end; its number and the pipe that tells what was acknowledged.

    It is split off rather than begun anew, which would take a third of a second a hundred times over.
    """
    reads, writes = os.pipe()
    process = os.fork()
    if process:
        os.close(writes)
        return process, open(reads)
    try:
        save_without_end(folder, start, number, writes)
    finally:  # whatever happened, it never goes on as a second run of these tests
        os._exit(1)


def save_without_end(folder, start, number, told):
    kept = JobFolder(folder, start)
    while True:
        number += 1
        kept.append(LogEvent(f"k{number}", start + timedelta(seconds=number), "note", "x" * (number % 700)))
        os.write(told, f"log {number}\n".encode())
        kept.save(replace(kept.job, name=f"saved {number}"), kept.pins)
        os.write(told, f"job {number}\n".encode())
