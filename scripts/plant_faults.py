"""Plant single faults in the code, one at a time, and tell which the tests find. Not part of ./check: it takes a while.

Run: .venv/bin/python scripts/plant_faults.py [--seed 1] [--count 60] [--only core/cure,store] [--jobs 2]

First the tests run once with coverage, which tells who visits which line (kept beside the environment until the tests or the
code change); then each fault is planted in a copy of the sources, and the tests that visit its line run, the quickest first,
until one fails. What is planted: a comparison moved by one or turned round, + for −, × for ÷, a number changed, a truth turned
over, “and” for “or”, min for max. Needs the package “coverage” in the environment.

With --window it is the logic of the window: its own tests run, and what only says where something lies or how it is drawn is left
alone (functions that take a pen or hand back a place, and what stands in a rectangle): that is for the eye.
"""

from __future__ import annotations

import argparse
import ast
import contextlib
import hashlib
import json
import os
import random
import re
import shutil
import signal
import subprocess
import sys
import tempfile
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import NamedTuple

ROOT = Path(__file__).parent.parent
SOURCE = ROOT / "src" / "homunculus"
WITHOUT_QT = ("-p", "no:pytest-qt", "-p", "tests.no_qt")
WINDOW_SUITES = ("tests/app", "tests/test_commands.py")
WINDOW_SLOW = ("tests/app/test_texts.py",)
PLACED = ("Ink", "QPainter", "QRectF", "QPointF", "QSize", "QRect", "QPainterPath", "QPolygonF", "QPoint")
"""Types that tell of drawing."""
LAYING = (
    "arrange",
    "least_height",
    "repaint_changed",
    "resizeEvent",
    "paintEvent",
    "sizeHint",
    "lay_out",
    "lay",
    "settle",
    "place_still",
    "_lay_out",
)
"""Functions that lay things out."""
PUT = (
    *PLACED,
    "QTimer",
    "setGeometry",
    "resize",
    "adjusted",
    "round",
    "setColumnWidth",
    "Column",
    "open_over",
    "setMinimumSize",
)
"""Calls in which numbers are places."""
LAID = ("x", "y", "left", "right", "top", "bottom", "width", "pitch")
"""Names of what says where something lies."""
SUITES = ("tests/core", "tests/reference", "tests/store", "tests/exchange", "tests/devices")
SLOW = ("tests/store/test_kill.py", "test_told_to_end", "test_layers_on_a_public_mesh")
PLACES = ("core", "store", "exchange")
DRAWING = ("theme", "vessels.py", "turntable.py", "silhouette.py", "person.py", "paper.py", "chart.py", "elevation.py", "ladder_view.py",
           "section_view.py", "tally.py", "frame.py", "drawn.py", "begin_view.py", "labels.py", "room.py")  # fmt: skip
"""Places of the window that hold nothing but drawing."""
LONGEST_S = 400
MOST_S = 90
"""Of tests that are run for one fault: a fault that they do not find survives, though a slower one might find it."""
BROAD = ("tests.app.test_walkthroughs.", "tests.app.test_acts.")
"""Tests that try everything; they are run after a few quick ones, for each alone would be too slow to be among the quickest.

A fault in a bench's own folder is tried with what is done on that bench alone."""
LISTS = ("walkthroughs", "acts")
"""Where the lists of each lie, a file for each bench or some of one: named like the bench, with more words behind a line beneath."""
APART = {"devices/practice_scale.py": "tests.devices."}
"""Files that run in a process of their own, where coverage does not look, and how the names of the tests that do so begin."""
WALKS = ("tests.core.test_house_rules.test_what_the_core_hands_out_cannot_be_changed_behind_its_back",)
"""Tests that walk all of the core: they try what runs on import, of whichever file."""
FEW = 30
EQUIVALENT = {
    "MOST_TOLD": "how many rows are told one by one changes no meaning",
    "_LAID": "a cache's size",
    "len(self._pairs)": "a cache's size",
    "lru_cache": "a cache's size",
    "maxsize": "a cache's size",
    "urandom": "how long a name by chance is",
    "within_s": "how long is waited for a disk that hangs",
    "_patience_s": "how long is waited for a disk that hangs",
}
"""Lines with these words are left alone: a fault there changes nothing that a person could see. The reason stands beside."""
CHECKED = ("strict", "daemon")
"""Arguments that change nothing while all is well."""
TELLING = """
import coverage

def pytest_runtest_protocol(item):
    path, _, name = item.nodeid.partition("[")[0].partition("::")
    coverage.Coverage.current().switch_context(f"{path.removesuffix('.py').replace('/', '.')}.{name.replace('::', '.')}")
"""
"""Tells coverage which test runs: by itself it takes what runs a test of random inputs for the test."""
_COMPARE = {ast.Lt: ast.LtE, ast.LtE: ast.Lt, ast.Gt: ast.GtE, ast.GtE: ast.Gt, ast.Eq: ast.NotEq, ast.NotEq: ast.Eq,
            ast.Is: ast.IsNot, ast.IsNot: ast.Is, ast.In: ast.NotIn, ast.NotIn: ast.In}  # fmt: skip
_ARITHMETIC = {ast.Add: ast.Sub, ast.Sub: ast.Add, ast.Mult: ast.Div, ast.Div: ast.Mult}
_WRITTEN = {ast.Lt: "<", ast.LtE: "<=", ast.Gt: ">", ast.GtE: ">=", ast.Eq: "==", ast.NotEq: "!=", ast.Is: "is", ast.IsNot: "is not",
            ast.In: "in", ast.NotIn: "not in", ast.Add: "+", ast.Sub: "-", ast.Mult: "*", ast.Div: "/"}  # fmt: skip


class Fault(NamedTuple):
    """One fault: where, from which character to which, what stands there instead."""

    path: str
    line: int
    start: int
    end: int
    new: str

    def words(self, old: str) -> str:
        """One line that tells the fault to a reader."""
        return f"{self.path}:{self.line}: “{old}” → “{self.new}”"


def _offset(lines: list[int], node: ast.AST, *, end: bool = False) -> int:
    """Where a node begins or ends, in bytes; ``lines`` are where each line of the source begins."""
    line, column = ("end_lineno", "end_col_offset") if end else ("lineno", "col_offset")
    return lines[int(getattr(node, line)) - 1] + int(getattr(node, column))


def _reckons_room(node: ast.AST) -> bool:
    """Whether code reckons from how large the place is."""
    return any(
        isinstance(n, ast.Call)
        and isinstance(n.func, ast.Attribute)
        and n.func.attr in ("width", "height")
        and not n.args
        for n in ast.walk(node)
    )


def _drawn(node: ast.AST) -> bool:
    """Whether code only says where something lies or how it is drawn, or how long a timer waits."""
    if isinstance(node, ast.Module):
        return False
    if isinstance(node, ast.FunctionDef):
        laying = node.name in LAYING or node.name.endswith("_spots")
        if laying or (node.returns is not None and "float" in ast.unparse(node.returns)):
            return True
        told = [node.returns, *(a.annotation for a in (*node.args.args, *node.args.kwonlyargs))]
        if isinstance(node.returns, ast.Name) and node.returns.id == "int" and _reckons_room(node):
            return True  # how much fits
        pen = any(isinstance(n, ast.Attribute) and n.attr == "ink" for n in ast.walk(node))  # one that it holds
        return pen or any(name in ast.unparse(t) for t in told if t for name in PLACED)
    if isinstance(node, ast.Assign | ast.AugAssign):
        goals = node.targets if isinstance(node, ast.Assign) else [node.target]
        if all(isinstance(goal, ast.Name) and goal.id in LAID for goal in goals):
            return True
        return _reckons_room(node.value)
    if isinstance(node, ast.Compare) and _reckons_room(node):
        return True
    if isinstance(node, ast.Return) and isinstance(node.value, ast.Call | ast.BinOp) and _reckons_room(node.value):
        return True  # how much fits
    called = node.func if isinstance(node, ast.Call) else None
    if isinstance(node, ast.Call) and isinstance(called, ast.Attribute) and called.attr == "start":
        return all(isinstance(argument, ast.Constant) for argument in node.args)  # how long a timer waits
    return (
        isinstance(called, ast.Name | ast.Attribute)
        and (called.id if isinstance(called, ast.Name) else called.attr) in PUT
    )


def faults_of(path: Path, *, window: bool = False) -> list[Fault]:
    """Every fault that can be planted in a file; of the ``window`` only where it decides something."""
    source = path.read_bytes()
    tree = ast.parse(source)
    lines, total = [], 0
    for line in source.split(b"\n"):
        lines.append(total)
        total += len(line) + 1
    told = source.decode().split("\n")
    skip: set[int] = set()
    declared = [n for owner in ast.walk(tree) if isinstance(owner, ast.Module | ast.ClassDef) for n in owner.body
                if isinstance(n, ast.Assign | ast.AnnAssign)]  # fmt: skip
    for node in ast.walk(tree):
        if isinstance(node, ast.Expr) and isinstance(node.value, ast.Constant) and isinstance(node.value.value, str):
            skip |= set(range(node.lineno, (node.end_lineno or node.lineno) + 1))
        annotation = getattr(node, "annotation", None) or getattr(node, "returns", None)
        if annotation is not None:
            skip |= {id(n) for n in ast.walk(annotation)}
        if window and (_drawn(node) or node in declared):
            skip |= {id(n) for n in ast.walk(node)}
        if (
            window
            and isinstance(node, ast.Call)
            and isinstance(node.func, ast.Attribute)
            and node.func.attr == "singleShot"
        ):
            skip.add(id(node.args[0]))  # how long it waits, not what it does then
        if window and isinstance(node, ast.FunctionDef) and node.name == "content":
            # what a drawing depends on is only ever held against what it was: a truth turned over tells the same apart
            skip |= {id(n) for n in ast.walk(node) if isinstance(n, ast.Constant | ast.Compare)}
        if isinstance(node, ast.Call):
            skip |= {id(word.value) for word in node.keywords if word.arg in CHECKED}
        if isinstance(node, ast.JoinedStr | ast.Raise):  # words for people are not what is tested here
            skip |= {id(n) for n in ast.walk(node)}
    name = str(path.relative_to(SOURCE))
    found: list[Fault] = []

    def between(left: ast.expr, right: ast.expr, old: str, new: str) -> None:
        a, b = _offset(lines, left, end=True), _offset(lines, right)
        match = re.search(rb"(?<![<>=!*/])" + re.escape(old.encode()) + rb"(?![<>=*/])", source[a:b])
        if match:
            found.append(Fault(name, left.end_lineno or 0, a + match.start(), a + match.end(), new))

    for node in ast.walk(tree):
        row = node.lineno if isinstance(node, ast.stmt | ast.expr) else 0
        if id(node) in skip or row in skip or any(word in told[row - 1] for word in EQUIVALENT):
            continue
        at = _offset(lines, node) if row else 0
        if isinstance(node, ast.Compare) and len(node.ops) == 1 and type(node.ops[0]) in _COMPARE:
            kind = type(node.ops[0])
            between(node.left, node.comparators[0], _WRITTEN[kind], _WRITTEN[_COMPARE[kind]])
        elif isinstance(node, ast.BinOp) and type(node.op) in _ARITHMETIC:
            sign = type(node.op)
            between(node.left, node.right, _WRITTEN[sign], _WRITTEN[_ARITHMETIC[sign]])
        elif isinstance(node, ast.BoolOp):
            old, new = ("and", "or") if isinstance(node.op, ast.And) else ("or", "and")
            between(node.values[0], node.values[1], old, new)
        elif isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
            found.append(Fault(name, row, at, at + 4, ""))
        elif isinstance(node, ast.Constant) and type(node.value) is int:
            found.append(Fault(name, row, at, _offset(lines, node, end=True), str(node.value + 1)))
        elif isinstance(node, ast.Constant) and type(node.value) is float:
            moved = node.value * 1.1 + (0.1 if node.value == 0 else 0)
            found.append(Fault(name, row, at, _offset(lines, node, end=True), repr(moved)))
        elif isinstance(node, ast.Constant) and type(node.value) is bool:
            found.append(Fault(name, row, at, _offset(lines, node, end=True), str(not node.value)))
        elif isinstance(node, ast.Name) and node.id in ("min", "max"):
            found.append(Fault(name, row, at, at + 3, "max" if node.id == "min" else "min"))
    return found


def usual(*, window: bool) -> tuple[str, ...]:
    """How pytest is called for one kind of test or the other."""
    return ("-m", "not window") if window else WITHOUT_QT


def visits(scratch: Path, *, window: bool) -> tuple[dict[str, dict[int, list[str]]], dict[str, float]]:
    """Which tests visit which line of which file, and how long each takes; from a run with coverage, kept while nothing changes."""
    files = sorted([*SOURCE.rglob("*.py"), *(ROOT / "tests").rglob("*.py")])
    state = hashlib.sha256(b"".join(f.read_bytes() for f in files)).hexdigest()
    kept = ROOT / ".venv" / f"visits{'-window' if window else ''}.json"
    if kept.is_file():
        known = json.loads(kept.read_text())
        if known["state"] == state:
            return {f: {int(n): t for n, t in lines.items()} for f, lines in known["lines"].items()}, known["seconds"]
    print("The tests run once with coverage …", flush=True)
    config = scratch / "coveragerc"
    config.write_text(f"[run]\nsource = {SOURCE}\ndata_file = {scratch / 'data'}\n")
    (scratch / "telling.py").write_text(TELLING)
    report = scratch / "junit.xml"
    suites, slow = (WINDOW_SUITES, WINDOW_SLOW) if window else (SUITES, SLOW)
    by_name = " and ".join(f"not {n}" for n in slow if not n.endswith(".py"))
    left_out = [word for name in slow for word in ((f"--ignore={name}",) if name.endswith(".py") else ())]
    words = [sys.executable, "-m", "coverage", "run", f"--rcfile={config}", "-m", "pytest", "-q", "-p", "telling", *usual(window=window),
             f"--junitxml={report}", *left_out, *(("-k", by_name) if by_name else ()), *suites]  # fmt: skip
    subprocess.run(
        words, cwd=ROOT, env=os.environ | {"PYTHONPATH": str(scratch)}, check=False, stdout=subprocess.DEVNULL
    )
    from xml.etree import ElementTree

    import coverage

    seconds: dict[str, float] = {}
    failed = set()
    for case in ElementTree.parse(report).getroot().iter("testcase"):
        test = f"{case.get('classname')}.{(case.get('name') or '').partition('[')[0]}"
        seconds[test] = seconds.get(test, 0.0) + float(case.get("time") or 0)
        if case.find("failure") is not None or case.find("error") is not None:
            failed.add(test)
    for test in sorted(failed):
        print(f"{test} fails without a fault: left out", flush=True)
    data = coverage.CoverageData(str(scratch / "data"))
    data.read()
    lines: dict[str, dict[int, list[str]]] = {}
    for file in data.measured_files():
        by_line = data.contexts_by_lineno(file)
        lines[str(Path(file).relative_to(SOURCE))] = {
            n: sorted(t for t in tests if t and t not in failed) for n, tests in by_line.items()
        }
    kept.write_text(json.dumps({"state": state, "lines": lines, "seconds": seconds}))
    return lines, seconds


def tests_for(fault: Fault, lines: dict[int, list[str]], seconds: dict[str, float]) -> list[str]:
    """The tests that visit a fault's line, the quickest first; for a line that runs on import, those that visit its file.

    Of the latter only as many as fit into a minute. A line that only goes on with a statement is visited with its beginning.
    """
    if fault.path in APART:
        return [test for test in sorted(seconds, key=lambda t: seconds[t]) if test.startswith(APART[fault.path])]
    begun = [line for line in lines if line <= fault.line]
    if not begun:
        return []
    here = lines[max(begun)]
    if here:
        broad = [test for start in BROAD for test in here if test.startswith(start)]
        inside = sorted((test for test in here if test not in broad), key=lambda t: seconds.get(t, 1.0))
        so_far = [sum(seconds.get(t, 1.0) for t in inside[: i + 1]) for i in range(len(inside))]
        quick = [test for test, total in zip(inside, so_far, strict=True) if total <= MOST_S]
        return [*quick[:FEW], *broad, *quick[FEW:]]
    visits: dict[str, int] = {}
    for tests in lines.values():
        for test in tests:
            visits[test] = visits.get(test, 0) + 1
    chosen, total = [test for test in WALKS if fault.path.startswith("core") and test in seconds], 0.0
    for test in sorted(visits, key=lambda t: seconds.get(t, 1.0) / visits[t]):
        total += seconds.get(test, 1.0)
        if total > 60:
            break
        chosen.append(test)
    return chosen


def nodes_of(test: str, path: str) -> list[str]:
    """pytest's names of a test, from the dotted one, for a fault in the file of a ``path``."""
    parts = test.split(".")  # a module, perhaps a class in it, a name
    until = next(i for i in range(len(parts) - 1, 0, -1) if (ROOT / Path(*parts[:i]).with_suffix(".py")).is_file())
    node = f"{'/'.join(parts[:until])}.py::{'::'.join(parts[until:])}"
    where = Path(path).parts
    bench = where[2] if where[:2] == ("app", "benches") and len(where) == 4 else ""
    own: list[str] = []
    for start, folder in zip(BROAD, LISTS, strict=True):
        if bench and test.startswith(start):
            names = sorted(file.stem for file in (ROOT / "tests" / "data" / folder).glob("*.txt"))
            own = [f"{node}[{name}]" for name in names if f"{name}_".startswith(f"{bench}_")]
    return own or [node]


def try_out(fault: Fault, copy: Path, tests: list[str], *, window: bool) -> str:
    """Plant a fault in a copy and run the tests: “killed”, “survived”, “unseen”, or “late” where no test had failed within the limit."""
    if not tests:
        return "unseen"
    target = copy / "homunculus" / fault.path
    source = target.read_bytes()
    target.write_bytes(source[: fault.start] + fault.new.encode() + source[fault.end :])
    environment = os.environ | {"PYTHONPATH": str(copy), "PYTHONDONTWRITEBYTECODE": "1", "QT_QPA_PLATFORM": "offscreen",
                                "ACTS_AT_ONCE": "1"}  # fmt: skip
    words = [
        sys.executable,
        "-m",
        "pytest",
        "-x",
        "-q",
        "-p",
        "no:cacheprovider",
        *usual(window=window),
        *(node for test in tests for node in nodes_of(test, fault.path)),
    ]
    process = subprocess.Popen(
        words, cwd=ROOT, env=environment, stdout=subprocess.PIPE, stderr=subprocess.STDOUT, start_new_session=True
    )
    try:
        told = process.communicate(timeout=LONGEST_S)[0]
        if process.returncode > 1:  # no test failed: they could not be run
            raise SystemExit(f"pytest ended with {process.returncode}:\n{told.decode()[-2000:]}")
        return "survived" if process.returncode == 0 else "killed"
    except subprocess.TimeoutExpired:  # it may never end for the fault, or the machine was busy: nobody knows
        return "late"
    finally:
        with contextlib.suppress(ProcessLookupError):  # a program that a test began may run on for ever
            os.killpg(process.pid, signal.SIGKILL)
        process.wait()
        target.write_bytes(source)


def main() -> int:
    """Plant so many faults, drawn by the seed, and print what became of each."""
    parser = argparse.ArgumentParser(description=__doc__, formatter_class=argparse.RawDescriptionHelpFormatter)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--count", type=int, default=60)
    parser.add_argument(
        "--only", default=",".join(PLACES), help="folders or files within the package, parted by commas"
    )
    parser.add_argument("--window", action="store_true", help="the logic of the window, by the window's own tests")
    parser.add_argument("--jobs", type=int, default=2)
    chosen = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        scratch = Path(name)
        lines, seconds = visits(scratch, window=chosen.window)
        files = [
            f
            for place in chosen.only.split(",")
            for f in ([SOURCE / place] if place.endswith(".py") else sorted((SOURCE / place).rglob("*.py")))
        ]
        if chosen.window:
            files = [file for file in files if not {file.name, file.parent.name} & set(DRAWING)]
        every = [fault for file in files for fault in faults_of(file, window=chosen.window)]
        drawn = random.Random(chosen.seed).sample(every, min(chosen.count, len(every)))
        print(
            f"{len(every)} faults can be planted in {len(files)} files; {len(drawn)} are, seed {chosen.seed}.",
            flush=True,
        )
        copies = [scratch / f"copy{i}" for i in range(chosen.jobs)]
        for copy in copies:
            shutil.copytree(SOURCE.parent, copy, ignore=shutil.ignore_patterns("__pycache__"))
        free = list(copies)

        def run(fault: Fault) -> tuple[Fault, str, float]:
            copy = free.pop()
            begin = time.monotonic()
            tests = tests_for(fault, lines.get(fault.path, {}), seconds)
            try:
                return fault, try_out(fault, copy, tests, window=chosen.window), time.monotonic() - begin
            finally:
                free.append(copy)

        counted = {"killed": 0, "survived": 0, "unseen": 0, "late": 0}
        with ThreadPoolExecutor(chosen.jobs) as pool:
            for fault, end, took in pool.map(run, drawn):
                counted[end] += 1
                old = (SOURCE / fault.path).read_bytes()[fault.start : fault.end].decode()
                print(f"{end:9}{took:6.1f} s  {fault.words(old)}", flush=True)
    share = counted["killed"] / max(1, len(drawn))
    print(
        f"{counted['killed']} killed, {counted['survived']} survived, {counted['unseen']} on lines that no test visits, "
        f"{counted['late']} ran into the limit of {LONGEST_S} s: {share:.0%}"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
