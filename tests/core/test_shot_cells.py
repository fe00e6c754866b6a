"""Cells of the shot list: what is written is read back, what cannot be read is said."""

from __future__ import annotations

import re
from datetime import date, time

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core.cells.shots import COLUMNS, new_shot, read_cell
from homunculus.core.edits.cutting import Clip, lay_cut
from homunculus.core.errors import UserError
from homunculus.core.job.sets import Camera, Depth
from homunculus.core.job.shots import FrameByFrame, Gravity, ScreenTime, Shot, in_order
from homunculus.core.quantities import parse_day
from tests.strategies import full_shots, jobs

DAY = date(2026, 3, 17)


@given(jobs(), full_shots)
def test_every_cell_is_read_back_as_it_was_written(job, shot):
    written = {column.key: column.write(shot, job) for column in COLUMNS}
    read = replace(new_shot((), DAY), name="")
    for key, text in written.items():
        if text:
            read = read_cell(replace(job, shots=()), read, key, text)
    for column in COLUMNS:
        assert column.write(read, job) == written[column.key], column.key
    assert (read.needs, read.rule, read.day, read.call, read.deadlines) == (
        shot.needs,
        shot.rule,
        shot.day,
        shot.call,
        shot.deadlines,
    )


@pytest.mark.parametrize(("key", "typed", "read"), [
    ("day", "24 Mar", date(2026, 3, 24)), ("day", "24.3.", date(2026, 3, 24)), ("day", "2 January 2027", date(2027, 1, 2)),
    ("call", "6.30", time(6, 30)), ("seconds", "1.5", 1.5), ("rule", "on twos", FrameByFrame(2)), ("rule", "takes 5 h", ScreenTime(18000.0)),
    ("rule", "gravity x1.2", Gravity(1.2)), ("cameras", "35 mm, 24 to 84 m", Camera(0.035, Depth(24.0, 84.0))),
    ("cameras", "50mm, 2 m to 9 m, 90°, ISO 1600", Camera(0.05, Depth(2.0, 9.0), shutter_deg=90.0, iso=1600.0)), ("cameras", "", None),
    ("cameras", "24 mm, 0.5 m to infinity on the floor, focus 80 cm, f/8, eye -30 cm, back 40 cm, body high-speed-1000, mode wide",
     Camera(0.024, Depth(0.5, None, False), body="high-speed-1000", mode="wide", focus_m=0.8, stop=8.0, height_m=-0.3, back_m=0.4)),
    ("cameras", "prime-32, 1/50 s", Camera(lens="prime-32", exposure_s=0.02)), ("cut", "", 0), ("base", "Lighthouse and breakwater", "lighthouse"),
])  # fmt: skip
def test_cells_are_typed_as_people_do(demo_document, key, typed, read):
    column = "lens" if key == "cameras" else key
    found = getattr(read_cell(demo_document.job, demo_document.job.shots[0], column, typed), key)
    assert (next(iter(found), None) if key == "cameras" else found) == read


@pytest.mark.parametrize(("key", "typed", "said"), [
    ("id", "", "needs a number"), ("id", "14", "shot 14 already"), ("seconds", "0 s", "out of reach"), ("day", "31.2.2026", "is no day"),
    ("day", "3/4/2026", "day first or month first"), ("call", "25:00", "no hour"), ("rule", "fast", "no frame rate"),
    ("rule", "gravity ×9", "1 to 2.5"), ("lens", "35 kg", "says no lens"), ("lens", "35 mm, 84 m to 24 m", "nearer"),
    ("lens", "35 mm, quickly", "nothing of a camera"), ("lens", "35 mm, focus 0 m", "out of reach"), ("base", "ferry", "no build of this shot"),
    ("cameras", "B: 85 mm; B: 50 mm", "called “B”"), ("needs", "rail: stock: rail, stands 0 m", "out of reach"),
    ("order", "first", "whole number"), ("cameras", "85 mm, 2 to 3 m", "names no camera"), ("deadlines", "clean-up", "says no day"),
    ("plate_tilt", "120", "-90 to 90"), ("plate_focal", "35 kg", "kg|weight"),
])  # fmt: skip
def test_a_cell_that_cannot_be_read_says_why(demo_document, key, typed, said):
    shot = demo_document.job.shots[0]
    with pytest.raises(UserError, match=said):
        read_cell(demo_document.job, shot, key, typed)


@pytest.mark.parametrize("column", COLUMNS, ids=lambda c: c.key)
def test_the_examples_in_the_documents_can_be_typed(demo_document, column):
    job = demo_document.job
    read = read_cell(job, job.shots[0], column.key, column.example)
    assert read_cell(job, read, column.key, column.write(read, job)) == read


def test_a_plate_comes_and_goes_with_its_cells(demo_document):
    job, bare = demo_document.job, new_shot((), DAY)
    plated = read_cell(job, read_cell(job, bare, "plate_height", "-1.5 m"), "plate_tilt", "3.5°")
    assert (plated.plate.height_m, plated.plate.tilt_deg) == (-1.5, 3.5)
    assert read_cell(job, read_cell(job, plated, "plate_height", ""), "plate_tilt", "").plate is None


@given(st.dates(date(2024, 1, 1), date(2028, 12, 31)))
def test_a_day_without_a_year_is_the_nearest(day):
    assert parse_day(f"{day.day}.{day.month}.{day.year}", DAY) == day
    if day.month != 2 or day.day != 29:
        assert abs((parse_day(f"{day.day} {day:%b}", DAY) - DAY).days) <= 183


def test_shots_are_taken_by_day_place_call_and_number():
    made = [
        Shot(i, "", 1.0, DAY, order=o, call=time(c))
        for i, o, c in (("10", 0, 8), ("9", 0, 8), ("9a", 0, 8), ("1", 2, 8), ("2", 1, 8), ("3", 0, 7))
    ]
    assert [s.id for s in in_order(tuple(made))] == ["3", "9", "9a", "10", "2", "1"]


# ------------------------------------------------------------------------------------------- the cut
def test_a_cut_gives_places_and_seconds_and_what_only_it_knows(demo_document):
    job = demo_document.job
    laid = lay_cut(
        job,
        [Clip("2 storm wide", 4.0), Clip("Shot 14", 5.0), Clip("storm wide", 2.5), Clip("21 lamp room, empty", 3.0)],
        DAY,
    )
    shots = {s.id: s for s in laid.job.shots}
    assert (shots["2"].cut, shots["2"].seconds) == (1, 6.5)  # cut in twice: as long as both
    assert (shots["14"].cut, shots["14"].seconds) == (2, 5.0)
    assert laid.new == ("21",)
    assert (shots["21"].name, shots["21"].needs, shots["21"].cut) == ("lamp room, empty", (), 3)
    assert set(laid.changed) == {"2", "14"}
    assert "1" in laid.left_out
    assert shots["1"].cut == 0


@pytest.mark.parametrize(("cell", "typed", "told"), [
    ("plate_sensor", "18 m", "It goes from 0.5 mm to 1 m"), ("lens", "5 m", "It goes from 2 mm to 2 m"),
    ("lens", "35 mm, 400°", "It goes over nought to 360"), ("lit", "0 m²", "It goes from 0.0001 m² to 1000000 m²"),
])  # fmt: skip
def test_what_is_out_of_reach_is_told_in_the_unit_of_its_field(session, cell, typed, told):
    with pytest.raises(UserError, match=re.escape(told)):
        read_cell(session.job, session.job.shots[0], cell, typed)
