"""The Cure bench's what-ifs and the log's ruled sheet, driven as a person would."""

import csv
from datetime import datetime, timedelta

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from homunculus.app.temperature_files import take_in_temperatures
from homunculus.core.cure.curve import WhatIf
from homunculus.core.log import LogEvent
from tests.app.conftest import key, typed


@pytest.fixture
def cure(window):
    window.desk.choose("lighthouse")
    key(window, Qt.Key.Key_6)
    QApplication.processEvents()
    return window.benches.of("cure")


def opens(bench):
    return bench.course().opens(bench.course().start, bench.course().planned)


def tried_opens(bench):
    return bench.course().opens(bench.what_if.start or bench.course().start, bench.course().trial)


def test_pulling_the_start_tells_what_would_be_and_changes_nothing(window, cure):
    job, handle = window.desk.job, cure.spots.find("start")
    middle = handle.rect().center()
    QTest.mousePress(handle, Qt.MouseButton.LeftButton, pos=middle)
    for step in (0, 20, 60, 100):
        QTest.mouseMove(handle, middle + QPoint(step, 0))
    QTest.mouseRelease(handle, Qt.MouseButton.LeftButton, pos=middle + QPoint(100, 0))
    assert timedelta(hours=1) < cure.what_if.start - cure.course().start < timedelta(hours=12)
    assert tried_opens(cure) > opens(cure)
    assert window.desk.job is job
    key(window, Qt.Key.Key_Delete)
    assert not cure.what_if.any


def test_a_start_is_typed_and_an_hour_that_is_none_is_refused(window, cure):
    cure.type_start()
    typed(window, "half past four")
    assert "is no hour of the day" in window.notice.words
    typed(window, "16")
    assert cure.what_if.start.hour == 16
    key(window, Qt.Key.Key_BracketRight)
    cure.course()
    assert not cure.what_if.any, "what was tried with one pour says nothing of another"


def test_an_oven_opens_it_sooner_and_its_cup_gels_as_in_the_room(cure):
    before = {s.name: s.here for s in cure.course().planned}
    handle = cure.spots.find("oven")
    handle.setFocus()
    QTest.keyClick(handle, Qt.Key.Key_Up)
    assert cure.what_if.oven_c == 30.0
    QTest.keyClick(handle, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert cure.what_if.oven_c == 40.0
    after = {s.name: s.here for s in cure.course().trial}
    assert after["opens"] < 0.3 * before["opens"]
    assert after["gels"] == pytest.approx(before["gels"], rel=0.02)
    assert "40" in handle.accessibleName()


def test_a_warm_night_can_be_kept_for_the_shop_and_taken_back(window, cure):
    cold = opens(cure)
    handle = cure.spots.find("night")
    handle.setFocus()
    QTest.keyClick(handle, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert tried_opens(cure) < cold
    cure.spots.find("keep").act()
    assert window.desk.job.shop.air.night_c == 19.0
    assert not cure.what_if.any
    key(window, Qt.Key.Key_U)
    assert window.desk.job.shop.air.night_c == 14.0


def logger(path, first, celsius, hours, gap=()):
    rows = [f"{first + timedelta(minutes=10 * i):%Y-%m-%d %H:%M},{celsius}" for i in range(hours * 6) if i not in gap]
    path.write_text("time,temp °C\n" + "\n".join(rows) + "\n")
    return path


def test_a_loggers_cold_night_moves_the_opening_of_what_is_in_the_mould(window, cure, tmp_path, qtbot):
    window.desk.choose("keeper")
    before = opens(cure)
    assert cure.course().poured
    file = logger(tmp_path / "night.csv", datetime(2026, 2, 23, 18), 11.0, 14, gap=range(30, 45))
    take_in_temperatures(window.desk, file)
    qtbot.waitUntil(lambda: window.desk.log[-1].kind == "measured", timeout=60_000)
    assert "1 gap" in window.desk.log[-1].text
    assert opens(cure) > before + timedelta(minutes=30)
    assert len(cure.course().gaps) == 1
    assert not cure.grab().isNull()
    for bad in (1, 3):
        rows = "".join(f"2026-02-23 {20 + i}:00,warm\n" for i in range(bad))
        (tmp_path / f"bad{bad}.csv").write_text(
            "time,temperature\n2026-02-22 20:00,12\n2026-02-22 20:10,12.5\n2026-02-22 20:20,12\n" + rows
        )
        take_in_temperatures(window.desk, tmp_path / f"bad{bad}.csv")
        said = f"bad{bad}.csv: 3 readings, {'1 row' if bad == 1 else '3 rows'} left out, the first: Row 5"
        qtbot.waitUntil(lambda said=said: said in window.notice.words, timeout=60_000)
    (tmp_path / "bad.csv").write_text("no times here")
    take_in_temperatures(window.desk, tmp_path / "bad.csv")
    qtbot.waitUntil(lambda: "no column of days" in window.notice.words, timeout=60_000)


def test_a_room_too_cold_says_so(window, cure):
    cure.try_out(WhatIf(night_c=2.0))
    window.desk.decide(window.desk.decision("shop.day_c"), 3.0)
    window.desk.decide(window.desk.decision("shop.night_c"), 2.0)
    assert cure.course() is None  # before anything is poured the jacket would not cure: nothing behind it has a date
    assert not cure.grab().isNull()
    minds = [m.headline[0] for m in window.desk.minds]
    assert "gallery: will not cure here" in minds
    assert "held" in window.line.spots.find("station:shoot").accessibleName()
    window.desk.choose("keeper")
    assert cure.course().poured
    assert opens(cure) is None
    assert not cure.grab().isNull()


# -------------------------------------------------------------------------------------------- log
@pytest.fixture
def log(window):
    key(window, Qt.Key.Key_L)
    QApplication.processEvents()
    return window.benches.of("log")


def test_the_log_is_newest_first_filtered_by_words_and_shows_how_far_a_promise_was_off(window, log):
    rows = log.rows()
    assert len(rows) >= 25
    assert [e.at for e in rows] == sorted((e.at for e in rows), reverse=True)
    log.type_filter()
    typed(window, "ferry opened")
    (entry,) = log.rows()
    assert log.promise(entry).late_s == pytest.approx(17.4 * 3600, abs=360)
    assert "after the promised" in log._spoken(log.rows()[0])
    log.type_filter()
    typed(window, "zebra")
    assert not log.rows()
    assert not log.grab().isNull()


def focus_row(log, kind, build):
    index = next(i for i, e in enumerate(log.rows()) if e.kind == kind and e.build == build)
    log.list.choose(index)
    return log.rows()[index]


def test_a_pour_is_opened_at_its_real_time_and_compared(window, log, qtbot):
    focus_row(log, "poured", "keeper")
    key(window, Qt.Key.Key_O)
    typed(window, "tomorrow")
    assert "no moment" in window.notice.words
    typed(window, "22 Feb 10:00")
    assert "since then" in window.notice.words
    typed(window, "08:30")
    qtbot.waitUntil(lambda: window.desk.log[-1].kind == "opened", timeout=60_000)
    assert window.desk.log[-1].op == "rubber", "it is of the same pour"
    assert log.promise(window.desk.log[-1]).late_s < 0
    assert window.desk.status.states["keeper"] == "ready"


def test_an_entry_is_corrected_struck_spoiled_and_never_rewritten(window, log, qtbot, folder):
    before = (folder / "log.jsonl").read_bytes()
    entry = focus_row(log, "note", "saltbust")
    key(window, Qt.Key.Key_C)
    typed(window, "Bust dry; sprayed at noon.")
    qtbot.waitUntil(lambda: log.rows()[0].text == "Bust dry; sprayed at noon.", timeout=60_000)
    assert log.rows()[0].corrects == entry.id
    focus_row(log, "note", "saltbust")
    key(window, Qt.Key.Key_Delete)
    qtbot.waitUntil(lambda: "noon" not in log.rows()[0].text, timeout=60_000)
    focus_row(log, "poured", "keeper")
    key(window, Qt.Key.Key_S)
    typed(window, "sticky at the brow")
    qtbot.waitUntil(lambda: window.desk.status.states["keeper"] == "broken", timeout=60_000)
    assert window.desk.log[-1].op == "rubber"
    assert (folder / "log.jsonl").read_bytes().startswith(before)


def test_a_picture_is_kept_in_the_job_and_what_is_none_is_refused(window, log, qtbot, tmp_path, folder):
    entry = focus_row(log, "note", "saltbust")
    picture = tmp_path / "bust.png"
    window.grab().scaled(300, 200).save(str(picture))
    log.attach(entry, picture)
    qtbot.waitUntil(lambda: bool(log.rows()[0].picture), timeout=60_000)
    assert (folder / "pictures" / log.rows()[0].picture).read_bytes() == picture.read_bytes()
    log.list.acted.emit(log.rows()[0])
    assert log._large
    assert not log.grab().isNull()
    (tmp_path / "bust.gif").write_bytes(b"GIF89a")
    log.attach(entry, tmp_path / "bust.gif")
    assert "no PNG or JPEG" in window.notice.words


def test_the_log_goes_out_as_csv_that_no_spreadsheet_runs(window, log, qtbot, tmp_path):
    window.desk.enter(LogEvent("evil", window.desk.now(), "note", "=1+1"))
    qtbot.waitUntil(lambda: window.desk.log[-1].id == "evil", timeout=60_000)
    log.write_csv(tmp_path / "out.csv")
    with (tmp_path / "out.csv").open(newline="") as file:
        rows = list(csv.DictReader(file))
    assert len(rows) == len(window.desk.log)
    assert rows[-1]["text"] == "'=1+1"
    weighed = next(r for r in rows if r["lot"] == "A 2207")
    assert (weighed["weights_kg"], weighed["piece"], weighed["counts"]) == ("A 0.4520", "cheek and brow", "yes")
