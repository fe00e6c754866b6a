"""A saving, logging process is killed a hundred times: every acknowledged entry is there, the job opens."""

import random
import subprocess
import sys
from pathlib import Path

from homunculus.store.folder import JobFolder

KILLS = 100


def test_killed_a_hundred_times(folder, now):
    shipped = len((folder / "log.jsonl").read_bytes().splitlines())
    acknowledged, chance = 0, random.Random(7)
    script = Path(__file__).with_name("saving_process.py")
    for round_number in range(KILLS):
        process = subprocess.Popen(
            [sys.executable, "-S", "-c", _without_site(script), str(folder), str(acknowledged + 1000 * (round_number + 1))],
            stdout=subprocess.PIPE, text=True,
        )  # fmt: skip
        lines, wanted = [], chance.randint(1, 12)
        while len(lines) < wanted:
            lines.append(process.stdout.readline())
        process.kill()  # at whatever it is doing
        lines += process.stdout.read().splitlines()
        process.wait()
        process.stdout.close()
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


def _without_site(script: Path) -> str:
    """Start without the site module (quicker, a hundred times over), with the same import path."""
    return f"import sys; sys.path[:] = {sys.path!r}; exec(open({str(script)!r}).read())"
