"""What every place, key and command does, tried one after the other and held against lists that people read.

Where something does another thing than it did, the test says which; `WRITE_ACTS=1` writes the lists anew, and who does that reads what changed in them.
"""

from __future__ import annotations

import difflib
import os
from pathlib import Path

import pytest

from homunculus.app.benches.register import BENCHES
from homunculus.core.quantities import NBSP
from tests.app.acting import AROUND, ASKED, ELSEWHERE, AtTheStart, Tried, own_job

ACTS = Path(__file__).parent.parent / "data" / "acts"

NAMES = sorted(spec.name for spec in BENCHES if spec.factory and spec.name != "match")  # which wants a table first

OWN: dict[str, dict[str, tuple[str, ...]]] = {
    "nothing": {"": ()},
    "bare": {"bare": ()},
    "alone": {"alone": ("made", "counts", "trace", "mix", "lens")},
    "odd": {"mill": tuple(name for name in NAMES if name != "mould"), "miller@1A": ("lens", "shot", "made", "mould", "card", "cure", "mix"),
            "sack@2": ("shot", "lens", "mix", "counts", "shoot"), "yard@3": ("shot", "lens", "moves", "made", "stage")},
}  # fmt: skip
"""Jobs made of lines: with nothing, next to nothing, one build, and what the demo has not; of which builds and shots they are tried,
on which benches, on all where none is named."""


@pytest.mark.parametrize("name", [*NAMES, "around", "goto"])
def test_everything_on_a_bench_does_what_it_did(window, open_window, tmp_path, now, monkeypatch, name):
    for spec in BENCHES:
        if spec.factory:
            spec.load()  # what asks for files is there before it is kept from asking
    found = Found(name)
    with monkeypatch.context() as patch:
        tried = Tried(window, patch)
        if name == "around":
            found.take(line for build, names in AROUND.items() for line in tried.around(build, names))
        elif name == "goto":
            bench = tried.open("scale", "lighthouse")
            found.take(line for words in ASKED for line in tried.gone_to(bench, words))
        elif name == "weigh_up":
            found.take(line for build in ("oldclaw", "saltbust") for line in tried.weighed(build))
        else:
            found.take(
                line for build in ("lighthouse", *ELSEWHERE.get(name, ())) for line in tried.account(name, build)
            )
        if name == "log":
            found.take(tried.full_log())
    for job, builds in OWN.items() if name in NAMES and name != "weigh_up" else ():
        with monkeypatch.context() as patch:
            lines = (ACTS.parent / "jobs" / f"{job}.lines").read_text()
            tried = Tried(open_window(own_job(tmp_path / job, lines, now)), patch, changes=job != "bare")
            here = [build for build, names in builds.items() if not names or name in names]
            found.take(f"{job} | {line}" for build in here for line in tried.account(name, build))
    found.hold()


def test_the_page_that_asks_which_job_does_what_it_did(page, monkeypatch, folder, now, tmp_path):
    found = Found("start")
    found.take(AtTheStart(monkeypatch, page, folder, now, tmp_path).tried())
    found.hold()


class Found:
    """What was found, held against the list of that name, or written as it."""

    def __init__(self, name):
        self.told, self.lines = ACTS / f"{name}.txt", []
        writing = os.environ.get("WRITE_ACTS")
        self.was = None if writing else self.told.read_text().splitlines()
        self.at_once = self.was if os.environ.get("ACTS_AT_ONCE") else None

    def take(self, lines):
        """Take in what a bench did; with `ACTS_AT_ONCE=1` the first difference ends the test."""
        for line in lines:
            self.lines.append(line.replace(NBSP, " ").replace("\n", " "))
            if self.at_once is not None:
                assert self.lines[-1:] == self.at_once[len(self.lines) - 1 : len(self.lines)]

    def hold(self):
        """Compare all, or write it."""
        if self.was is None:
            self.told.write_text("\n".join(self.lines) + "\n")
            return
        changed = [line for line in difflib.unified_diff(self.was, self.lines, lineterm="", n=0) if line[:1] in "+-"][
            2:
        ]
        assert not changed, "\n".join(changed[:60])
