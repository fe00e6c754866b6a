"""A job folder that was tampered with, moved, swapped, or lies on a disk that fails: nothing lost, nothing followed out of it."""

from __future__ import annotations

import json
import os
import shutil
import signal
import subprocess
import sys
import time
from datetime import datetime
from pathlib import Path

import msgspec
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.forms import Mesh
from homunculus.core.log import Book, LogEvent
from homunculus.store.folder import JobFolder, copy_folder, decode, encode, read_facts, recover
from homunculus.store.log_file import append, read_log
from homunculus.store.meshes import read_mesh
from homunculus.store.pictures import picture_file

AT = datetime(2026, 2, 24, 9)


@pytest.fixture
def plain(demo_document):
    return json.loads(encode(demo_document.job, ()))


def refused(document, where="job.json"):
    with pytest.raises(UserError) as refusal:
        decode(json.dumps(document).encode() if isinstance(document, dict) else document, where)
    return str(refusal.value)


# ------------------------------------------------------------------------------------- odd documents
ODD = {
    "a moment with a zone": lambda d: d["job"]["builds"][0].__setitem__("starts", "2026-02-18T09:00:00Z"),
    "an hour with a zone": lambda d: d["job"]["shop"]["hours"].__setitem__("opens", "09:00:00+02:00"),
    "two shots of one number": lambda d: d["job"]["shots"].append(d["job"]["shots"][0]),
    "two pieces of one id": lambda d: d["job"]["builds"][0]["pieces"].append(d["job"]["builds"][0]["pieces"][0]),
    "two cards of one id": lambda d: d["job"]["cards"]["materials"].append(d["job"]["cards"]["materials"][0]),
    "two variants of one name": lambda d: d["job"]["builds"][6]["pieces"][0].__setitem__(
        "variants", [{"name": "a"}, {"name": "a"}]
    ),
    "a density below nought": lambda d: d["job"]["cards"]["materials"][0]["density_kg_m3"].__setitem__("value", -3.0),
    "a density of nought": lambda d: d["job"]["cards"]["materials"][0]["density_kg_m3"].__setitem__("value", 0),
    "a camera without rates": lambda d: d["job"]["cards"]["cameras"][0]["modes"][0].__setitem__("rates_fps", []),
    "a field of tomorrow": lambda d: d["job"]["builds"][0].__setitem__("smell", "tar"),
    "a field of tomorrow at the top": lambda d: d.__setitem__("weather", 1),
    "a picture elsewhere": lambda d: d["job"]["shots"][0].__setitem__("ends_picture", "../../etc/passwd"),
    "an absolute picture": lambda d: d["job"]["shots"][0].__setitem__("ends_picture", "/etc/passwd"),
    "a mesh elsewhere": lambda d: d["job"]["builds"][0]["pieces"][0]["form"].__setitem__(
        "content", "../" * 20 + "a" * 4
    ),
    "a box as long as the world": lambda d: d["job"]["builds"][1]["pieces"][1]["form"].__setitem__("length_m", 1e200),
    "a weekday of tomorrow": lambda d: d["job"]["shop"]["hours"].__setitem__("weekdays", [7]),
    "a schema that is none": lambda d: d.__setitem__("schema", True),
    "shots that are a text": lambda d: d["job"].__setitem__("shots", "all"),
}


@pytest.mark.parametrize("oddity", sorted(ODD))
def test_an_odd_job_is_refused_in_a_sentence(plain, oddity):
    ODD[oddity](plain)
    said = refused(plain)
    assert "job.json" in said
    assert "Traceback" not in said


def test_deep_nesting_is_a_sentence(plain):
    deep = b'{"schema": 5, "job": ' + b"[" * 200_000 + b"]" * 200_000 + b"}"
    assert "damaged" in refused(deep) or "cannot be used" in refused(deep)


@settings(max_examples=150)
@given(st.data())
def test_any_value_of_a_job_swapped_for_another_is_opened_or_refused_and_never_breaks(demo_document, data):
    document = json.loads(encode(demo_document.job, ()))
    node, path = document["job"], []
    while isinstance(node, dict | list) and node:
        key = data.draw(st.sampled_from(sorted(node) if isinstance(node, dict) else range(len(node))))
        path.append((node, key))
        node = node[key]
        if data.draw(st.integers(0, 5)) == 0:
            break
    owner, key = path[-1]
    owner[key] = data.draw(
        st.sampled_from(
            [None, -1, 0, 1e308, -1e308, 2**70, "", "x" * 300, "../..", [], {}, [[]], True, "2026-02-30", 1e-320]
        )
    )
    try:
        decode(json.dumps(document).encode(), "job.json")
    except UserError as trouble:
        assert "job.json" in str(trouble)  # noqa: PT017


# ------------------------------------------------------------------------------------- what stands where
@pytest.mark.parametrize("name", ["job.json", "log.jsonl", "backups", "meshes"])
@pytest.mark.parametrize("thing", ["folder", "pipe", "link to nowhere"])
def test_something_else_in_the_place_of_a_file_is_a_sentence(folder, now, name, thing):
    target = folder / name
    shutil.rmtree(target) if target.is_dir() else target.unlink(missing_ok=True)
    if thing == "folder":
        target.mkdir()
    elif thing == "pipe":
        os.mkfifo(target)
    else:
        target.symlink_to(folder / "nowhere")
    try:
        opened = JobFolder(folder, now)
    except UserError as trouble:
        assert str(folder) in str(trouble)  # noqa: PT017
    else:
        read_facts(folder, opened.job)
        opened.close()


def test_links_are_not_followed_out_of_the_folder(folder, tmp_path, demo_document):
    content = next(p.form.content for b in demo_document.job.builds for p in b.pieces if isinstance(p.form, Mesh))
    mesh = folder / "meshes" / f"{content}.stl"
    (tmp_path / "secret.stl").write_bytes(mesh.read_bytes())
    mesh.unlink()
    mesh.symlink_to(tmp_path / "secret.stl")
    with pytest.raises(UserError, match="leads out"):
        read_mesh(folder, content)
    for name in ("../job.json", "/etc/passwd", "../../x.png"):
        with pytest.raises(UserError, match="leads out"):
            picture_file(folder, name)


def test_a_job_file_changed_from_outside_is_not_overwritten(folder, now):
    opened = JobFolder(folder, now)
    opened.save(opened.job, opened.pins)
    other = (folder / "job.json").read_bytes().replace(b"Drowned", b"Wrecked")
    (folder / "job.json").write_bytes(other)
    with pytest.raises(UserError, match="changed from outside"):
        opened.save(opened.job, opened.pins)
    assert (folder / "job.json").read_bytes() == other
    opened.close()


def test_a_folder_put_in_the_place_of_another_is_not_written_into(folder, now, tmp_path):
    opened = JobFolder(folder, now)
    folder.rename(tmp_path / "moved")
    shutil.copytree(tmp_path / "moved", folder)
    before = (folder / "job.json").read_bytes(), (folder / "log.jsonl").read_bytes()
    for write in (lambda: opened.save(opened.job, opened.pins), lambda: opened.append(LogEvent("x", AT, "note", "x"))):
        with pytest.raises(UserError, match="another one now"):
            write()
    assert before == ((folder / "job.json").read_bytes(), (folder / "log.jsonl").read_bytes())
    opened.close()


def test_the_lock_is_not_slipped_by_deleting_its_file(folder, now):
    opened = JobFolder(folder, now)
    (folder / "lock").unlink()
    with pytest.raises(UserError, match="open already"):
        JobFolder(folder, now)
    opened.close()
    JobFolder(folder, now).close()


def test_recover_takes_the_newest_by_what_it_says_and_not_by_its_name(folder, now, demo_document):
    backups = folder / "backups"
    backups.mkdir()
    job = demo_document.job
    for name, saved, title in (("job-2026-01-01-000000.json", "2026-03-02T10:00:00", "newest"),
                               ("job-9999-12-31-235959.json", "2026-03-01T10:00:00", "older"),
                               ("job-2026-02-02-000000.json", "", "before there were dates")):  # fmt: skip
        (backups / name).write_bytes(encode(replace(job, name=title), (), saved))
    (backups / "job-2026-09-09-000000.json").write_bytes(b"{")
    (folder / "job.json").write_bytes(b"torn")
    assert "job-2026-01-01-000000" in recover(folder)
    assert decode((folder / "job.json").read_bytes(), "x").job.name == "newest"


# ------------------------------------------------------------------------------------- the log
def test_an_entry_written_twice_by_a_retry_counts_once(tmp_path):
    entry = LogEvent("a", AT, "weighed", weights_kg={"A": 1.0})
    for _ in range(3):
        append(tmp_path / "log.jsonl", entry)
    book = Book(read_log(tmp_path / "log.jsonl")[0])
    book.add(entry)
    assert (len(book.written), len(book.standing)) == (1, 1)


@pytest.mark.parametrize("line", [
    '{"id":"a","at":"2026-02-24T09:00:00+01:00","kind":"note"}', '{"id":"a","at":"2026-02-24T09:00:00","kind":"measured","celsius":1e9}',
    '{"id":"a","at":"2026-02-24T09:00:00","kind":"measured","series":[[60,20],[0,21]]}', '{"id":"a","at":"2026-02-24T09:00:00","kind":"weighed","weights_kg":{"A":1e300}}',
    '{"id":"a","at":"2026-02-24T09:00:00","kind":"note","picture":"../../x"}', '{"id":"a","at":"2026-02-24T09:00:00","kind":"measured","until":"2020-01-01T00:00:00"}',
    "[" * 100_000, '{"id":1}',
])  # fmt: skip
def test_an_odd_line_is_set_aside_and_the_others_stand(tmp_path, line):
    good = '{"id":"b","at":"2026-02-24T09:00:00","kind":"note","text":"x"}'
    (tmp_path / "log.jsonl").write_text(f"{line}\n{good}\n")
    entries, said = read_log(tmp_path / "log.jsonl")
    assert [e.id for e in entries] == ["b"]
    assert len(said) == 1


def test_going_on_elsewhere_takes_the_log_from_memory_when_the_old_folder_is_gone(folder, now, tmp_path, demo_document):
    opened = JobFolder(folder, now)
    log = (*opened.log, LogEvent("new", AT, "note", "only in memory"))
    opened.close()
    shutil.rmtree(folder)
    copy_folder(folder, tmp_path / "new", demo_document.job, (), log)
    assert [e.id for e in read_log(tmp_path / "new" / "log.jsonl")[0]] == [e.id for e in log]
    (tmp_path / "old").mkdir()
    (tmp_path / "old" / "log.jsonl").write_bytes(msgspec.json.encode(log[0]) + b"\n{torn")
    copy_folder(tmp_path / "old", tmp_path / "third", demo_document.job, (), log)
    kept, said = read_log(tmp_path / "third" / "log.jsonl")
    assert sorted(e.id for e in kept) == sorted(e.id for e in log)
    assert len(said) == 1  # the torn line is still in the file


# ------------------------------------------------------------------------------------- told to end
RUN = """
import sys, os, time, threading
from pathlib import Path
os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
from datetime import datetime
from PySide6.QtCore import QTimer
from homunculus.app import start
from homunculus.core.log import LogEvent
from msgspec.structs import replace
def later(window):
    desk = window.desk
    if len(sys.argv) > 2:
        desk.folder.save = desk.folder.append = lambda *_: time.sleep(60)
    desk.edit("name", replace(desk.job, name="told to end"))
    desk.enter(LogEvent("last", datetime.now(), "note", "last words"))
    print("ready", flush=True)
make = start.make_window
def made(*a, **k):
    window = make(*a, **k)
    QTimer.singleShot(300, lambda: later(window))
    return window
start.make_window = made
sys.exit(start.open_window(Path(sys.argv[1])))
"""


@pytest.mark.parametrize("which", [signal.SIGTERM, signal.SIGHUP])
@pytest.mark.parametrize("disk", ["well", "hangs"])
def test_told_to_end_it_saves_within_three_seconds_here_or_elsewhere_and_says_where(folder, tmp_path, which, disk):
    home = tmp_path / "home"
    environment = os.environ | {
        "XDG_DATA_HOME": str(home),
        "XDG_CONFIG_HOME": str(tmp_path / "config"),
        "QT_QPA_PLATFORM": "offscreen",
    }
    words = [sys.executable, "-c", RUN, str(folder), *(["hang"] if disk == "hangs" else [])]
    child = subprocess.Popen(words, stdout=subprocess.PIPE, stderr=subprocess.PIPE, env=environment, text=True)
    assert child.stdout.readline().strip() == "ready"
    begin = time.monotonic()
    child.send_signal(which)
    _, said = child.communicate(timeout=20)
    assert time.monotonic() - begin < (3 if disk == "well" else 6), said
    assert child.returncode == 0, said
    where = folder
    if disk == "hangs":
        where = next((home / "homunculus" / "rescued").iterdir())
        assert (where / "from.txt").read_text().strip() == str(folder)
    assert decode((where / "job.json").read_bytes(), "x").job.name == "told to end"
    assert "last" in [e.id for e in read_log(Path(where) / "log.jsonl")[0]]
