"""The job folder: save, open, refuse, recover."""

import json
import os
import subprocess
import sys
from datetime import timedelta
from pathlib import Path

import msgspec
import pytest
from hypothesis import given
from msgspec.structs import replace

from homunculus import demo
from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.job import SCHEMA
from homunculus.core.job.moulds import PLAIN
from homunculus.core.log import LogEvent
from homunculus.core.plan.facts import STUDY_VERSION
from homunculus.core.plan.job_plan import plan
from homunculus.core.session import Pin
from homunculus.store.atomic import write_atomically
from homunculus.store.folder import (
    _NO_BUILDS,
    _NOT_SAVED,
    Document,
    JobFolder,
    Writer,
    copy_folder,
    create,
    decode,
    encode,
    read_facts,
    recover,
)  # fmt: skip
from homunculus.store.log_file import append, read_log
from homunculus.store.meshes import mesh_file, read_mesh, take_in_mesh
from homunculus.store.migrate import STEPS, migrate
from homunculus.store.pictures import keep_picture, picture_file
from tests.strategies import jobs

DATA = Path(__file__).parents[1] / "data"


@given(jobs())
def test_what_is_saved_is_what_is_opened(job):
    pins = (Pin(1, demo.REFERENCE_NOW, job),)
    document = decode(encode(job, pins), "job.json")
    assert document.job == job
    assert document.pins == pins


def test_the_file_is_ordered_and_one_field_a_line(folder):
    data = (folder / "job.json").read_bytes()
    document = decode(data, "job.json")
    data = encode(document.job, document.pins)
    assert encode(decode(data, "job.json").job, document.pins) == data
    assert f'\n "schema": {SCHEMA}'.encode() in data


def test_builds_that_stay_are_put_into_words_once_and_the_file_is_the_same(folder, monkeypatch):
    document = decode((folder / "job.json").read_bytes(), "job.json")
    job, pins, writer = document.job, document.pins, Writer()
    builds = job.builds
    for now in (job, replace(job, builds=(replace(builds[0], scale=9.0), *builds[:0:-1])), replace(job, builds=())):
        plain = msgspec.json.encode(Document(SCHEMA, now, pins, "then"), order="deterministic")
        assert b"".join(writer.parts(now, pins, "then")) == msgspec.json.format(plain, indent=1) + b"\n"
        assert encode(now, pins, "then") == b"".join(writer.parts(now, pins, "then"))
    writer.parts(job, ())
    written: list[object] = []
    monkeypatch.setattr("homunculus.store.folder._json", lambda value: written.append(value) or _NO_BUILDS + _NOT_SAVED)
    moved = replace(job, builds=(replace(builds[0], scale=9.0), *builds[1:]))
    writer.parts(moved, (), "later")
    assert [type(value) for value in written] == [Build]
    writer.parts(replace(moved, name="Another"), ())
    assert [type(value) for value in written] == [Build, Document]


def test_open_save_open(folder, now):
    opened = JobFolder(folder, now)
    renamed = replace(opened.job, name="Another name")
    opened.save(renamed, opened.pins)
    opened.close()
    again = JobFolder(folder, now)
    assert again.job == renamed
    assert again.pins == opened.pins
    again.close()


def test_a_second_opening_is_refused_and_names_who_has_it(folder, now):
    first = JobFolder(folder, now)
    with pytest.raises(UserError, match=f"process {os.getpid()}"):
        JobFolder(folder, now)
    first.close()
    JobFolder(folder, now).close()


def test_a_lock_left_by_a_killed_process_does_not_lock(folder, now):
    code = (
        "import sys, os, signal; from datetime import datetime; from pathlib import Path;"
        "from homunculus.store.folder import JobFolder;"
        "f = JobFolder(Path(sys.argv[1]), datetime(2026, 2, 24)); os.kill(os.getpid(), signal.SIGKILL)"
    )
    ended = subprocess.run([sys.executable, "-c", code, str(folder)], check=False)
    assert ended.returncode == -9
    JobFolder(folder, now).close()


def test_every_opening_keeps_a_dated_copy_but_not_twice_the_same(folder, now):
    for hour in range(3):
        opened = JobFolder(folder, now + timedelta(hours=hour))
        if hour == 1:
            opened.save(replace(opened.job, name="changed"), ())
        opened.close()
    copies = sorted(p.name for p in (folder / "backups").iterdir())
    assert copies == ["job-2026-02-24-091000.json", "job-2026-02-24-111000.json"]
    assert decode((folder / "backups" / copies[0]).read_bytes(), "x").job.name == "The Drowned Lamp"


DAMAGE = {
    "cut short": lambda d: d[: len(d) // 2],
    "empty": lambda d: b"",
    "garbage": lambda d: bytes(range(256)) * 40,
    "wrong encoding": lambda d: d.decode().replace("Drowned", "Drøwned").encode("cp1252"),
    "utf-16": lambda d: d.decode().encode("utf-16"),
    "no object": lambda d: b"[1, 2, 3]",
    "wrong type": lambda d: d.replace(b'"scale": 12.0', b'"scale": "twelve"', 1),
    "out of bounds": lambda d: d.replace(b'"scale": 12.0', b'"scale": -3.0', 1),
    "a field is gone": lambda d: d.replace(b'"builds":', b'"buildings":', 1),
    "no schema": lambda d: d.replace(f'"schema": {SCHEMA}'.encode(), b'"scheme": 2', 1),
    "two of one id": lambda d: d.replace(b'"id": "ferry"', b'"id": "lighthouse"'),
}


@pytest.mark.parametrize("damage", list(DAMAGE), ids=list(DAMAGE))
def test_a_damaged_file_gives_a_sentence_and_stays_as_it_was(folder, now, damage):
    file = folder / "job.json"
    spoiled = DAMAGE[damage](file.read_bytes())
    assert spoiled != file.read_bytes()
    file.write_bytes(spoiled)
    with pytest.raises(UserError) as refusal:
        JobFolder(folder, now)
    assert "job.json" in str(refusal.value)
    assert "backups" in str(refusal.value)
    assert file.read_bytes() == spoiled
    file.unlink()
    with pytest.raises(UserError, match=r"no job\.json"):
        JobFolder(folder, now)  # and the lock was let go


def test_a_damaged_job_is_recovered_from_the_newest_good_copy(folder, now):
    opened = JobFolder(folder, now)
    opened.save(replace(opened.job, name="the newest"), ())
    opened.close()
    JobFolder(folder, now + timedelta(hours=1)).close()
    with pytest.raises(UserError, match="is whole"):
        recover(folder)
    (folder / "backups" / "job-2026-02-24-235959.json").write_bytes(b"damaged as well")
    (folder / "job.json").write_bytes(b"{")
    said = recover(folder)
    assert "job-2026-02-24-101000.json" in said
    assert (folder / "job-damaged-1.json").read_bytes() == b"{"
    again = JobFolder(folder, now)
    assert again.job.name == "the newest"
    with pytest.raises(UserError, match="open already"):
        recover(folder)
    again.close()
    for copy in (folder / "backups").iterdir():
        copy.unlink()
    (folder / "job.json").write_bytes(b"{")
    with pytest.raises(UserError, match="No copy"):
        recover(folder)


def test_the_message_names_the_field(folder, now):
    file = folder / "job.json"
    file.write_bytes(file.read_bytes().replace(b'"blanket_m": 0.01', b'"blanket_m": 5.0', 1))
    with pytest.raises(UserError) as refusal:
        JobFolder(folder, now)
    assert "blanket_m" in refusal.value.where
    assert "0.2" in refusal.value.what


def test_a_newer_job_is_refused_and_not_touched(folder, now):
    file = folder / "job.json"
    newer = file.read_bytes().replace(f'"schema": {SCHEMA}'.encode(), b'"schema": 99', 1)
    file.write_bytes(newer)
    with pytest.raises(UserError, match=r"newer version \(schema 99"):
        JobFolder(folder, now)
    assert file.read_bytes() == newer
    assert not (folder / "backups").exists()


def test_schema_1_is_migrated_and_the_old_file_kept(tmp_path, now):
    old = (DATA / "job-schema-1.json").read_bytes()
    (tmp_path / "job.json").write_bytes(old)
    opened = JobFolder(tmp_path, now)
    assert opened.job.shop.air.day_c == 20.0
    assert opened.job.shop.air.night_c == 11.5
    opened.save(opened.job, opened.pins)
    opened.close()
    assert json.loads((tmp_path / "job.json").read_text())["schema"] == SCHEMA
    assert next((tmp_path / "backups").iterdir()).read_bytes() == old


def test_schema_2_had_no_mixes_and_opens_with_one_plain_one(tmp_path, now):
    old = (DATA / "job-schema-2.json").read_bytes()
    assert json.loads(old)["schema"] == 2
    (tmp_path / "job.json").write_bytes(old)
    opened = JobFolder(tmp_path, now)
    moulds = [p.mould for b in opened.job.builds for p in b.pieces if p.mould]
    assert moulds
    assert all(mould.mixes == PLAIN for mould in moulds)
    opened.save(opened.job, opened.pins)
    opened.close()
    assert decode((tmp_path / "job.json").read_bytes(), "job.json").job == opened.job
    assert next((tmp_path / "backups").iterdir()).read_bytes() == old


def test_schema_3_listed_builds_and_copies_and_opens_with_needs_and_heroes(tmp_path, now):
    old = (DATA / "job-schema-3.json").read_bytes()
    assert json.loads(old)["schema"] == 3
    (tmp_path / "job.json").write_bytes(old)
    opened = JobFolder(tmp_path, now)
    assert [s.builds for s in opened.job.shots] == [("keeper",), ("gulls",), ()]
    assert [n.what for n in opened.job.shots[0].needs] == ["Keeper, barnacle cheek"]
    assert [b.wanted.hero for b in opened.job.builds] == [2, 1]
    opened.save(opened.job, opened.pins)
    opened.close()
    assert decode((tmp_path / "job.json").read_bytes(), "job.json").job == opened.job
    assert next((tmp_path / "backups").iterdir()).read_bytes() == old


def test_schema_4_opens_with_a_beginning_for_what_it_did_not_ask(tmp_path, now):
    old = (DATA / "job-schema-4.json").read_bytes()
    assert json.loads(old)["schema"] == 4
    (tmp_path / "job.json").write_bytes(old)
    opened = JobFolder(tmp_path, now)
    assert {s.cameras[0].depth.far_m for s in opened.job.shots if s.cameras} == {60.0, 3.4, 3.2}
    assert [m.shots for b in opened.job.builds for m in b.moves] == [()]
    opened.save(opened.job, opened.pins)
    opened.close()
    assert decode((tmp_path / "job.json").read_bytes(), "job.json").job == opened.job


def ready_times(made):
    """When each build is ready, to the second: older programs reckoned cures to a fiftieth."""
    times = {b.build.id: b.find(specs.READY).value for b in made.builds}
    return {build: (at + timedelta(seconds=0.5)).replace(microsecond=0).isoformat() for build, at in times.items()}


def test_schema_5_did_one_step_after_another_and_opens_with_routes_that_move_no_date(tmp_path, now):
    """The moments are those that the program of schema 5 reckoned of this very file."""
    old = (DATA / "job-schema-5.json").read_bytes()
    assert json.loads(old)["schema"] == 5
    (tmp_path / "job.json").write_bytes(old)
    job = JobFolder(tmp_path, now).job
    made = plan(job, {})
    assert ready_times(made) == {"keeper": "2026-03-10T11:46:59", "saltbust": "2026-03-06T10:15:00",
                     "gulls": "2026-03-26T19:27:20"}  # fmt: skip
    bust = job.build("saltbust").pieces[0]
    assert [type(op).__name__ for op in bust.route] == ["Hands", "LayUp", "Pour", "Hands", "Cast"]
    assert [op.id for op in job.build("saltbust").assembly] == ["plaster-dries", "seal-base-soak-test"]
    opens = made.build("saltbust").find(specs.OPENS, "bust", op="rubber").value
    assert opens.strftime("%d %H:%M") == "27 11:37"


def test_schema_6_opens_with_builds_of_no_kind_and_no_date_moved(tmp_path, now):
    """The moments are those that the program of schema 6 reckoned of this very file."""
    old = (DATA / "job-schema-6.json").read_bytes()
    assert json.loads(old)["schema"] == 6
    (tmp_path / "job.json").write_bytes(old)
    job = JobFolder(tmp_path, now).job
    assert {build.kind for build in job.builds} == {""}
    assert ready_times(plan(job, {})) == {
        "keeper": "2026-03-10T12:04:59", "saltbust": "2026-03-09T14:00:00", "gulls": "2026-03-25T19:15:20"}  # fmt: skip


def test_schema_7_opens_with_all_decided_nothing_put_away_and_no_date_moved(tmp_path, now):
    """The moments are those that the program of schema 7 reckoned of this very file."""
    old = (DATA / "job-schema-7.json").read_bytes()
    assert json.loads(old)["schema"] == 7
    (tmp_path / "job.json").write_bytes(old)
    job = JobFolder(tmp_path, now).job
    assert [build.kind for build in job.builds] == ["prosthetic", "", ""]
    assert job.cast == job.builds
    assert not any(thing.begun for thing in (job, *job.builds))
    assert ready_times(plan(job, {})) == {
        "keeper": "2026-03-10T12:04:59", "saltbust": "2026-03-09T14:00:00", "gulls": "2026-03-25T19:15:20"}  # fmt: skip


def test_schema_8_had_kinds_of_material_and_cameras_of_one_mode_and_no_date_moves(tmp_path, now):
    """The moments are those that the program of schema 8 reckoned of this very file."""
    old = (DATA / "job-schema-8.json").read_bytes()
    assert json.loads(old)["schema"] == 8
    (tmp_path / "job.json").write_bytes(old)
    job = JobFolder(tmp_path, now).job
    soft = job.cards.material("silicone-tin-soft")
    assert (soft.family, soft.clock, soft.degassed, soft.traits, soft.bonds_to) == (
        "silicone", "chemical", True, ("flexible",), ("silicone",))  # fmt: skip
    assert job.cards.material("stir-softener").stirred_in
    assert [(m.name, max(m.rates_fps), m.sensor_width_m.value) for m in job.cards.cameras[0].modes] == [
        ("full width", 150.0, 0.036)
    ]
    assert job.mode.pixels_across.value == 4096
    assert "silicone" in next(h for h in job.cards.hazards if h.id == "catalyst").families
    assert ready_times(plan(job, {})) == {
        "keeper": "2026-03-10T12:04:59", "saltbust": "2026-03-09T14:00:00", "gulls": "2026-03-25T19:15:20"}  # fmt: skip


def test_every_older_schema_has_a_step():
    assert sorted(STEPS) == list(range(1, SCHEMA))
    with pytest.raises(UserError, match="Part of the job is missing"):
        migrate({"schema": 1}, "job.json")
    with pytest.raises(UserError, match="unknown"):
        migrate({"schema": 0}, "job.json")


def test_a_write_that_fails_leaves_the_old_file(folder, monkeypatch):
    file = folder / "job.json"
    before = file.read_bytes()

    def full(_descriptor):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(UserError, match="the disk is full"):
        write_atomically(file, b"half")
    assert file.read_bytes() == before
    assert not list(folder.glob(".*.new"))


def test_meshes_are_kept_by_content_and_a_changed_one_is_noticed(folder):
    content = take_in_mesh(folder, b"solid something")
    assert read_mesh(folder, content) == b"solid something"
    mesh_file(folder, content).write_bytes(b"solid other")
    with pytest.raises(UserError, match="was changed since"):
        read_mesh(folder, content)
    with pytest.raises(UserError, match="cannot be read"):
        read_mesh(folder, "0" * 64)


def test_a_study_that_is_damaged_or_older_is_left_out(folder):
    job = decode((folder / "job.json").read_bytes(), "x").job
    facts = read_facts(folder, job)
    first, second = sorted(facts)[:2]
    (folder / "meshes" / f"{first}.study.json").write_bytes(b"{")
    path = folder / "meshes" / f"{second}.study.json"
    path.write_bytes(path.read_bytes().replace(b'"version":%d' % STUDY_VERSION, b'"version":0'))
    assert set(facts) - set(read_facts(folder, job)) == {first, second}


def test_a_new_job_goes_into_an_empty_folder_only(tmp_path, demo_document):
    create(tmp_path / "new", demo_document.job)
    with pytest.raises(UserError, match="something in that folder"):
        create(tmp_path / "new", demo_document.job)


# --------------------------------------------------------------------------------------------- log
def entry(name, now):
    return LogEvent(name, now, "note", "Über die Nacht: ½ °C", weights_kg={"A": 0.5})


def test_log_entries_come_back_in_order(folder, now):
    opened = JobFolder(folder, now)
    shipped = len(opened.log)
    for i in range(5):
        opened.append(entry(f"n{i}", now))
    opened.close()
    again = JobFolder(folder, now)
    assert [e.id for e in again.log[shipped:]] == [f"n{i}" for i in range(5)]
    assert again.log[-1] == entry("n4", now)
    assert again.set_aside == ()
    again.close()


def test_a_torn_last_line_is_set_aside_and_the_next_entry_starts_afresh(folder, now):
    log = folder / "log.jsonl"
    whole = log.read_bytes()
    log.write_bytes(whole + b'{"id":"torn","at":"2026-02-2')
    opened = JobFolder(folder, now)
    assert "cut short" in opened.set_aside[0]
    opened.append(entry("after", now))
    opened.close()
    again = JobFolder(folder, now)
    assert again.log[-1].id == "after"
    assert len(again.set_aside) == 1
    assert log.read_bytes().startswith(whole)
    again.close()


def test_a_line_of_garbage_in_the_middle_loses_only_itself(folder, now):
    log = folder / "log.jsonl"
    lines = log.read_bytes().splitlines(keepends=True)
    log.write_bytes(b"".join([*lines[:2], b"\xff\xfe not json\n", *lines[2:]]))
    opened = JobFolder(folder, now)
    assert len(opened.log) == len(lines)
    assert "Line 3" in opened.set_aside[0]
    opened.close()


# -------------------------------------------------------------------------------------------- demo
def test_the_demo_moves_by_whole_weeks_to_this_week(tmp_path, demo_document):
    today = demo.REFERENCE_NOW.date() + timedelta(days=400)
    demo.copy_to(tmp_path / "copy", today)
    moved = decode((tmp_path / "copy" / "job.json").read_bytes(), "x").job
    shifts = {(a.day - b.day).days for a, b in zip(moved.shots, demo_document.job.shots, strict=True)}
    assert len(shifts) == 1
    assert shifts.pop() % 7 == 0
    assert all(a.starts.time() == b.starts.time() for a, b in zip(moved.builds, demo_document.job.builds, strict=True))


def test_the_demo_copy_can_be_broken_and_reset(tmp_path, monkeypatch, now):
    monkeypatch.setenv("XDG_DATA_HOME", str(tmp_path))
    target = demo.open_copy(now.date())
    (target / "job.json").write_bytes(b"broken")
    assert demo.open_copy(now.date()) == target
    demo.open_copy(now.date(), reset=True)
    JobFolder(target, now).close()
    aside = target.with_name(target.name + "-before-reset-1")
    assert (aside / "job.json").read_bytes() == b"broken"


def test_pictures_go_along_to_another_folder_and_are_kept_once(folder, tmp_path):
    picture = tmp_path / "bust.jpg"
    picture.write_bytes(b"\xff\xd8\xff" + bytes(range(200)))
    name = keep_picture(folder, picture)
    assert keep_picture(folder, picture) == name
    assert len(list((folder / "pictures").iterdir())) == 1
    document = decode((folder / "job.json").read_bytes(), "x")
    copy_folder(folder, tmp_path / "new", document.job, document.pins)
    assert picture_file(tmp_path / "new", name).read_bytes() == picture.read_bytes()
    for bad, said in (("missing.jpg", "cannot be read"), ("words.jpg", "no PNG or JPEG")):
        (tmp_path / "words.jpg").write_text("not a picture")
        with pytest.raises(UserError, match=said):
            keep_picture(folder, tmp_path / bad)


def test_a_log_with_every_field_comes_back_as_it_was(folder, now):
    entry = LogEvent("all", now, "measured", "logger", "keeper", "cheek", 20.5, now, {"A": 0.5}, "lot", "coat", 3,
                     ((0.0, 20.0), (600.0, 19.5)), "x.png", "d03", "rubber")  # fmt: skip
    append(folder / "log.jsonl", entry)
    entries, trouble = read_log(folder / "log.jsonl")
    assert entries[-1] == entry
    assert not trouble


def test_schema_9_had_a_camera_for_each_build_and_opens_with_one_set_that_keeps_what_its_main_build_had(tmp_path, now):
    """The figures are those that the program of schema 9 reckoned of this very file."""
    old = (DATA / "job-schema-9.json").read_bytes()
    assert json.loads(old)["schema"] == 9
    (tmp_path / "job.json").write_bytes(old)
    opened = JobFolder(tmp_path, now)
    job, made = opened.job, plan(opened.job, {})
    had = {("1", ""): (3.33333, 10.83333, 5.09804), ("3", ""): (2.5, 5.0, 3.33333), ("3", "B"): (2.5, 5.0, 3.33333),
           ("14", ""): (0.65, 0.8, 0.71724)}  # fmt: skip
    for (shot, camera), ends in had.items():
        found = [made.sets[shot].find(spec, camera=camera).number for spec in (specs.NEAR, specs.FAR, specs.FOCUS)]
        assert found == pytest.approx(ends, rel=1e-4)
    assert {shot: made.sets[shot].find(specs.RATE).value for shot in "123"} == {"1": 84.0, "2": 84.0, "3": 100.0}
    shares = [made.build("lighthouse").find(specs.FRAME_SHARE, shot=shot).number for shot in "13"]
    assert shares == pytest.approx([0.0941583, 0.3339567], rel=1e-5)
    disagreed = {shot.id: shot.disagreed for shot in job.shots if shot.disagreed}
    assert set(disagreed) == {"2", "5"}
    assert "Paddle ferry" in disagreed["2"]
    ferry = next(plane for plane in made.sets["2"].planes if plane.build == "ferry")
    assert ferry.at.number == pytest.approx(1.555556)  # where its own camera had it in focus
    assert any("one set now" in str(m.headline) for m in made.build("lighthouse").minds)
    opened.save(job, opened.pins)
    opened.close()
    assert decode((tmp_path / "job.json").read_bytes(), "job.json").job == job


def test_schema_10_knew_no_stage_and_opens_with_every_figure_that_the_program_of_schema_10_reckoned(tmp_path, now):
    old = (DATA / "job-schema-10.json").read_bytes()
    assert json.loads(old)["schema"] == 10
    (tmp_path / "job.json").write_bytes(old)
    opened = JobFolder(tmp_path, now)
    job, made = opened.job, plan(opened.job, {})
    had = {"2": (1.0, 3.5, 1.5555556, 18.0556352, 0.93163336, 25588.997554),
           "6": (1.2916667, 2.5, 1.7032967, 10.6593269, 0.93323512, 8882.901719),
           "13": (0.5625, 0.825, 0.6689189, 10.6387764, 1.1041271, 77.055590),
           "15": (0.6, 1.0, 0.75, 9.4097144, 1.2160727, 59.221501)}  # fmt: skip
    told = (specs.NEAR, specs.FAR, specs.FOCUS, specs.STOP, specs.ANGLE, specs.LIGHT)
    for shot, figures in had.items():
        assert [made.sets[shot].find(spec).number for spec in told] == pytest.approx(figures, rel=1e-6)
    opened.save(job, opened.pins)
    opened.close()
    kept = (tmp_path / "job.json").read_bytes()
    assert json.loads(kept)["schema"] == SCHEMA > 10
    assert decode(kept, "job.json").job == job
