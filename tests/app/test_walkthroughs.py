"""Walkthroughs of work at the benches, gone through again: what came of each step is held against what stands under it.

`WRITE_ACTS=1` writes them anew, and who does that reads what changed in them.
"""

from __future__ import annotations

import difflib
import os
from pathlib import Path

import pytest

from homunculus.app.benches.register import BENCHES
from homunculus.core.quantities import NBSP
from homunculus.store.new_job import new_job
from tests.app.acting import own_job
from tests.app.walkthrough import Walkthrough

FOLDER = Path(__file__).parent.parent / "data" / "walkthroughs"


@pytest.mark.parametrize("name", sorted(file.stem for file in FOLDER.glob("*.txt")))
def test_what_came_of_each_step_comes_of_it_again(open_window, folder, now, tmp_path, monkeypatch, name):
    for spec in BENCHES:
        if spec.factory:
            spec.load()
    file = FOLDER / f"{name}.txt"
    told = file.read_text("utf-8").splitlines()
    job = told[0].removeprefix("# job ") if told[0].startswith("# job ") else ""
    if job:
        lines = FOLDER.parent / "jobs" / f"{job}.lines"
        folder = (
            own_job(tmp_path / job, lines.read_text(), now) if lines.is_file() else new_job(tmp_path / job, job, now)
        )
    with monkeypatch.context() as patch:
        found, writing = [], os.environ.get("WRITE_ACTS")
        for line in Walkthrough(open_window(folder), patch).gone_through(told):
            found.append(line.replace(NBSP, " ").replace("\n", " ").replace(str(tmp_path), "…"))
            assert writing or not os.environ.get("ACTS_AT_ONCE") or found[-1:] == told[len(found) - 1 : len(found)]
    if writing:
        file.write_text("\n".join(found) + "\n", "utf-8")
        return
    changed = [line for line in difflib.unified_diff(told, found, lineterm="", n=0) if line[:1] in "+-"][2:]
    assert not changed, "\n".join(changed[:60])
