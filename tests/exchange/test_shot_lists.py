"""Lists of shots and edit lists: every format out and in again, and what is broken is named and harms nothing."""

from __future__ import annotations

import csv
import io
import json
import re
import time
import zipfile
from datetime import date, datetime

import openpyxl
import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core.cells.shots import COLUMNS, read_cell
from homunculus.core.edits.cutting import lay_cut
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.session import Session
from homunculus.exchange.columns import remember
from homunculus.exchange.edit_list import read_edit_list, write_edit_list
from homunculus.exchange.shot_list import guess_columns, shots_from_table, table_of
from homunculus.exchange.tables import as_meant, inert, read_table, write_csv, write_spreadsheet
from homunculus.store.folder import decode, encode
from tests.strategies import CARDS, full_shots, jobs

DAY = date(2026, 3, 27)
WRITERS = {"csv": write_csv, "xlsx": lambda rows: write_spreadsheet(rows, "shots")}


def read_all(rows, job, remembered=None):
    return shots_from_table(rows, guess_columns(rows[0], remembered or {}), job, DAY)


@pytest.mark.parametrize("kind", WRITERS)
def test_the_demo_goes_out_and_comes_back_the_same(demo_document, kind):
    job = demo_document.job
    found = read_all(read_table(WRITERS[kind](table_of(job)), f"shots.{kind}"), job)
    assert (found.new, found.changed, found.bad) == ((), (), ())
    assert found.same == len(job.shots)
    empty = read_all(read_table(WRITERS[kind](table_of(job)), f"shots.{kind}"), replace(job, shots=()))
    assert len(empty.new) == len(job.shots)
    assert empty.filled == ()
    for old, new in zip(sorted(job.shots, key=lambda s: s.id), sorted(empty.shots, key=lambda s: s.id), strict=True):
        for column in COLUMNS:
            assert column.write(new, job) == column.write(old, job)


@given(jobs(), st.lists(full_shots, max_size=3, unique_by=lambda s: s.id))
def test_any_shots_go_through_csv(job, shots):
    job = replace(job, shots=tuple(shots))
    found = read_all(read_table(write_csv(table_of(job)), "shots.csv"), job)
    assert (found.bad, found.changed) == ((), ())


@given(st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=20))
def test_a_cell_that_is_written_runs_nowhere_and_is_meant_as_before(cell):
    cell = cell.strip()
    assert as_meant(inert(cell)) == cell
    assert inert(cell)[:1] not in "=@\t\r" or not inert(cell)
    sheet = openpyxl.load_workbook(io.BytesIO(write_spreadsheet([["shot"], [cell]], "x"))).active
    assert sheet["A2"].data_type != "f"


def test_formulas_in_names_are_words(demo_document):
    job = demo_document.job
    nasty = replace(job.shots[0], name='=HYPERLINK("http://x","go")', ends_as="@SUM(A1)")
    job = replace(job, shots=(nasty,))
    for kind, write in WRITERS.items():
        assert read_all(read_table(write(table_of(job)), kind), job).same == 1
    assert b",'=HYPERLINK" in write_csv([["a", nasty.name]]) or b"'=HYPERLINK" in write_csv([["a", nasty.name]])


def test_somebody_elses_spreadsheet_is_matched_and_its_bad_rows_are_named(demo_document):
    job = demo_document.job
    book = openpyxl.Workbook()
    sheet = book.active
    for row in (
        ["Scene", "Action", "Duration", "Shoot Day", "Elements", "Notes"],
        [14, "claw takes the rope", "8.5 s", date(2026, 3, 25), "claw: oldclaw/claw, soiling; tarred rope", "hm"],
        ["21", "lamp room", 3, "28 Mar", "lighthouse, brass lamp", None],
        ["22", "boat house", "long", "28 Mar", "", ""],
        ["21", "twice", 3, "28 Mar", "", ""],
        ["", "nameless", 3, "28 Mar", "", ""],
        ["23", "windmill", 3, "30 Feb", "windmill: mill", ""],
        [None, None, None, None, None, None],
        ["24", "no day, no time", None, None, "sea: stock: wave tank", ""],
    ):
        sheet.append(row)
    out = io.BytesIO()
    book.save(out)
    rows = read_table(out.getvalue(), "script.xlsx")
    columns = guess_columns(rows[0], {})
    assert columns == ("id", "name", "seconds", "day", "needs", "")
    found = shots_from_table(rows, columns, job, DAY)
    assert (found.new, found.changed) == (("21", "24"), ("14",))
    assert [(b.row, b.column) for b in found.bad] == [(4, "seconds"), (5, "shot"), (6, "shot"), (7, "day")]
    assert "row 3 already" in found.bad[1].reason
    assert found.filled == ("new shot 24 has no day: put on 2026-03-27", "new shot 24 has no seconds: 4 s taken")
    lamp_room = next(s for s in found.shots if s.id == "21")
    assert [(n.what, n.cover is not None) for n in lamp_room.needs] == [("lighthouse", True), ("brass lamp", False)]
    fourteen = next(s for s in found.shots if s.id == "14")
    assert (fourteen.seconds, fourteen.rule) == (
        8.5,
        next(s for s in job.shots if s.id == "14").rule,
    )  # what it does not say stays


def test_a_match_is_remembered_even_what_was_left_out():
    head = ["Slate #", "Fassung", "Day"]
    assert guess_columns(head, {}) == ("", "", "day")
    known = remember(head, ("id", "name", ""))
    assert guess_columns(["slate", "FASSUNG", "day"], known) == ("id", "name", "")
    with pytest.raises(UserError, match="which shot a row is"):
        shots_from_table([head, ["1", "a", "b"]], ("", "name", ""), None, DAY)


@given(st.lists(st.lists(st.one_of(st.text(max_size=12), st.sampled_from(["14", "=1+1", "2026-03-25", "on twos", "x: y", ";;"])),
                         max_size=len(COLUMNS) + 2), max_size=6))  # fmt: skip
def test_broken_rows_are_left_out_with_a_reason_and_the_rest_is_as_it_was(demo_document, rows):
    job = demo_document.job
    table = [[c.head for c in COLUMNS], *rows]
    found = read_all(table, job)
    assert len(found.bad) + len(found.new) + len(found.changed) + found.same == len(rows)
    assert all(b.reason and 2 <= b.row <= len(rows) + 1 for b in found.bad)
    touched = {*found.new, *found.changed}
    kept = {s.id: s for s in found.shots}
    assert all(kept[s.id] is s for s in job.shots if s.id not in touched)


@pytest.mark.parametrize(("data", "said"), [
    (b"PK\x03\x04 no spreadsheet at all", "no spreadsheet that can be read"), (b"\x00\x01\x02\x00", "no text"),
    (b"x" * 20_000_001, "larger than any list"), (b"shot,seconds\n" * 5_002, "over 5000"),
])  # fmt: skip
def test_a_file_that_is_no_table_is_refused(data, said):
    with pytest.raises(UserError, match=said):
        read_table(data, "shots")


@pytest.mark.parametrize("sign", [",", ";", "\t"])
def test_the_sign_between_cells_is_found_though_needs_have_semicolons(sign):
    out = io.StringIO()
    csv.writer(out, delimiter=sign).writerows([["shot", "needs"], ["1", "a; b; c"], ["2", "d, e\nf"], ["3", "g;h"]])
    assert read_table(out.getvalue().encode("utf-16"), "x.csv")[2] == ["2", "d, e\nf"]


# ------------------------------------------------------------------------------------- edit lists
@pytest.mark.parametrize("name", ["cut.otio", "cut.edl"])
def test_a_cut_goes_out_and_comes_back(demo_document, name):
    job = demo_document.job
    laid = lay_cut(job, read_edit_list(write_edit_list(job, name), name, 24.0).clips, DAY)
    assert (laid.new, laid.left_out) == ((), ())
    assert [s.cut for s in laid.job.shots] == [s.cut for s in job.shots]
    assert {s.id: s.seconds for s in laid.job.shots} == pytest.approx({s.id: s.seconds for s in job.shots}, abs=1 / 24)


CUT_LIST = """TITLE: LAMP
FCM: NON-DROP FRAME

001  REEL     V     C        00:00:10:00 00:00:15:12 01:00:00:00 01:00:05:12
* FROM CLIP NAME: 2 storm wide
002  BL       V     C        00:00:00:00 00:00:01:00 01:00:05:12 01:00:06:12
003  REEL     V     C        00:00:00:00 00:00:03:00 01:00:06:12 01:00:09:12
* FROM CLIP NAME: 21 lamp room
"""


def test_a_cut_list_written_by_hand_gives_order_and_seconds():
    clips = read_edit_list(CUT_LIST.encode(), "cut.edl", 24.0).clips
    assert [(c.name, c.seconds) for c in clips] == [("2 storm wide", 5.5), ("21 lamp room", 3.0)]


@pytest.mark.parametrize(("name", "data"), [
    ("cut.edl", b"TITLE: EMPTY\n"), ("cut.edl", b"001 this is no event\n"), ("cut.otio", b"{}"), ("cut.otio", b"{nonsense"),
    ("cut.otio", b"\xff\xfe\x00"), ("cut.otio", b'{"OTIO_SCHEMA": "Clip.1", "name": "alone"}'),
])  # fmt: skip
def test_what_is_no_edit_list_is_refused(name, data):
    with pytest.raises(UserError, match=r"no edit list|no clips|broke down"):
        read_edit_list(data, name, 24.0)


def timeline(*clips):
    """The library's own format by hand; each clip is (name, frames, rate)."""

    def time(value, rate):
        return {"OTIO_SCHEMA": "RationalTime.1", "value": value, "rate": rate}

    children = [{"OTIO_SCHEMA": "Clip.1", "name": name, "source_range": {
        "OTIO_SCHEMA": "TimeRange.1", "start_time": time(0, rate), "duration": time(frames, rate)}} for name, frames, rate in clips]  # fmt: skip
    track = {"OTIO_SCHEMA": "Track.1", "kind": "Video", "children": children}
    return {"OTIO_SCHEMA": "Timeline.1", "name": "x", "tracks": {"OTIO_SCHEMA": "Stack.1", "children": [track]}}


def test_clips_that_cannot_be_on_screen_are_named_and_left_out_and_the_job_opens_again(demo_document):
    data = json.dumps(
        timeline(("2", 48, 24), ("3", 0, 24), ("4", 1, 2_000_000), ("5", 48, 0), ("9" * 300, 24, 24), ("6", -5, 24))
    ).encode()
    cut = read_edit_list(data, "cut.otio", 24.0)
    assert [c.name[:4] for c in cut.clips] == ["2", "9999"]
    assert len(cut.left_out) == 4
    laid = lay_cut(demo_document.job, cut.clips, DAY)
    assert decode(encode(laid.job, ()), "job.json").job == laid.job
    nothing = timeline()
    nothing["tracks"] = None
    for odd in (
        nothing,
        timeline(),
        {"OTIO_SCHEMA": "Timeline.1", "tracks": {"OTIO_SCHEMA": "Stack.1", "children": None}},
    ):
        with pytest.raises(UserError, match=r"cut\.otio"):
            read_edit_list(json.dumps(odd).encode(), "cut.otio", 24.0)


@given(
    full_shots, st.sampled_from([c.key for c in COLUMNS]), st.text("0123456789.,:;°%'\"/-+ mftoinsdISOf∞e", max_size=24)
)
def test_what_a_cell_takes_is_read_back_from_the_job_file(shot, key, text):
    job = Job(
        "a job",
        Shop(camera="cinema-150"),
        (Build("b0", "build", "it", 1.0, datetime(2026, 2, 16, 9), ()),),
        (shot,),
        CARDS,
    )
    try:
        made = read_cell(job, shot, key, text)
    except UserError:
        return
    session = Session(job, shelf=library.shelf())
    try:
        session.edit("a cell", replace(job, shots=(made,)))
    except UserError:
        return  # a card that nobody has
    assert decode(encode(session.job, ()), "job.json").job.shots == (made,)


@given(st.text("=+-@'\t\n\r 1a\u2028", max_size=8))
def test_no_cell_runs_however_it_begins_and_each_reads_back(cell):
    kept = inert(cell)
    assert as_meant(kept) == cell
    for line in re.split(r"[\r\n\u2028]", kept):
        first = line.lstrip()[:1]
        assert kept[:1] == "'" or first not in ("=", "+", "-", "@") or re.fullmatch(r"\s*[-+]?\d+(?:[.,]\d+)?\s*", line)


@pytest.mark.parametrize("make", [
    lambda: b"PK\x03\x04" + bytes(range(256)) * 40,
    lambda: zipped({"[Content_Types].xml": b"<a/>", "xl/workbook.xml": b"<b" * 1000}),
    lambda: zipped({"xl/worksheets/sheet1.xml": b"\0" * 450_000_000}),
    lambda: wide_book(), lambda: b"a,b\n" * 6000, lambda: (b",".join([b"1"] * 300) + b"\n") * 3, lambda: b"\0\0\0\0",
])  # fmt: skip
def test_broken_wide_and_swollen_tables_are_refused_in_a_sentence(make):
    begin = time.monotonic()
    with pytest.raises(UserError, match=r"list\.xlsx"):
        read_table(make(), "list.xlsx")
    assert time.monotonic() - begin < 20


def zipped(parts):
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as book:
        for name, data in parts.items():
            book.writestr(name, data)
    return out.getvalue()


def wide_book():
    book = openpyxl.Workbook()
    book.active.append([f"c{i}" for i in range(400)])
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()
