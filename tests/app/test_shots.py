"""The benches of the shots, driven as a coordinator would: typed, dragged, dropped, taken back."""

from __future__ import annotations

import zlib
from datetime import date, timedelta

import openpyxl
import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPoint, Qt
from PySide6.QtGui import QPixmap
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus.core import specs
from homunculus.core.job.shots import ByBuild, ByDecision, Need
from tests.app.conftest import drop, key, open_line, turn_wheel, typed, wait_until


def dropped(window, path):
    drop(window, path)
    rest(window)


def rest(window):
    """Wait until no file is being read or written."""
    while window.desk.runner.busy("file"):
        QTest.qWait(5)
    QApplication.processEvents()


def pull_thread(bench, to=None, by=None):
    """Pull the chosen need's thread onto the line of what covers it, known by build and piece, or ``by`` so many pixels."""
    needs, covers = bench.needs.viewport(), bench.covers
    start = bench.needs.visualRect(bench.needs.currentIndex()).center()
    if to:
        row = covers.rows.index(covers.row_of(to), 0)
        by = needs.mapFrom(bench, bench.covers.area_of(row).center().toPoint()) - start
    QTest.mousePress(needs, Qt.MouseButton.LeftButton, pos=start)
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(needs, start + by * share)
        QApplication.processEvents()
    hanging = bench.grab()
    QTest.mouseRelease(needs, Qt.MouseButton.LeftButton, pos=start + by)
    QApplication.processEvents()
    return hanging


def shot(window, number):
    return window.desk.breakdown.find(number)


# -------------------------------------------------------------------------------------- station 1
def test_the_governing_shot_is_drawn_and_its_cells_are_typed(window):
    window.desk.choose("lighthouse")
    key(window, Qt.Key.Key_1)
    bench = window.benches.of("shot")
    assert bench.isVisible()
    assert bench.breakdown.shot.id == "3"  # the highest rate of six
    bench.edit("seconds")
    typed(window, "5 s")
    assert shot(window, "3").seconds == 5.0
    bench.edit("lens")
    typed(window, "50 kg")
    assert "says no lens" in window.notice.words
    typed(window, "25 mm, 30 to 60 m")
    share = window.desk.build_plan.find(specs.FRAME_SHARE, shot="3").number
    assert share == pytest.approx(19.15 * 0.025 / (40 * 0.019), rel=0.1)  # about 19 m of lighthouse seen from 40 m
    key(window, Qt.Key.Key_U, times=2)
    assert (shot(window, "3").seconds, shot(window, "3").cameras[0].focal_m) == (4.0, 0.050)


def test_brackets_go_through_the_shots_of_the_build_and_cameras_have_lenses_of_their_own(window):
    window.desk.choose("lighthouse")
    key(window, Qt.Key.Key_1)
    bench = window.benches.of("shot")
    assert [s.id for s in bench.breakdown.own_shots] == ["1", "2", "4", "3", "5", "17"]
    wide = bench.headlines(bench.breakdown.shot)[0].number
    bench.show_camera("B")
    assert bench.headlines(bench.breakdown.shot)[0].number == pytest.approx(
        wide * 60 / 50, rel=0.02
    )  # longer lenses breathe more
    key(window, Qt.Key.Key_BracketRight)
    assert bench.breakdown.shot.id == "5"
    key(window, Qt.Key.Key_BracketLeft, times=2)
    assert bench.breakdown.shot.id == "4"
    assert not bench.grab().isNull()


def test_a_need_is_added_covered_and_a_picture_of_the_end_dropped(window, tmp_path):
    window.desk.choose("saltbust")
    key(window, Qt.Key.Key_1)
    bench = window.benches.of("shot")
    bench.add_need(bench.breakdown.shot)
    typed(window, "pedestal")
    assert window.line.spots.find("uncovered").accessibleName().startswith("2 ")
    bench.edit_need(bench.needs(bench.breakdown.shot)[-1])
    typed(window, "windmill")
    assert "There is no build “windmill”" in window.notice.words
    typed(window, "decide: who builds it? by 2026-03-02")
    assert shot(window, "16").needs[-1].cover == ByDecision("who builds it?", date(2026, 3, 2))
    picture = tmp_path / "end.png"
    pixmap = QPixmap(40, 30)
    pixmap.fill(Qt.GlobalColor.gray)
    pixmap.save(str(picture))
    dropped(window, picture)
    assert (window.desk.folder.path / "pictures" / shot(window, "16").ends_picture).exists()
    assert not bench.grab().isNull()


# --------------------------------------------------------------------------------------- the list
def test_the_list_is_walked_typed_filtered_and_taken_back(window):
    key(window, Qt.Key.Key_B)
    bench = window.benches.of("breakdown")
    assert [s.id for s in bench.rows()[:3]] == ["7", "1", "2"]
    key(window, Qt.Key.Key_Down, times=2)
    key(window, Qt.Key.Key_Right)
    assert bench.at() == (1, "seconds")
    key(window, Qt.Key.Key_Return)
    typed(window, "5.5")
    assert shot(window, "1").seconds == 5.5
    key(window, Qt.Key.Key_Right, times=12)
    assert bench.at()[1] not in ("id", "name", "seconds")
    assert bench.list.horizontalScrollBar().value() > 0, "the columns moved on"
    number = bench.list._still
    assert number.visualRect(number.model().index(1, 0)).left() == 0, "beneath the shot's number, which stays"
    bench.type_filter()
    typed(window, "nobody")
    assert [s.id for s in bench.rows()] == ["14"]
    bench.type_filter()
    typed(window, " ")
    key(window, Qt.Key.Key_Insert)
    assert shot(window, "19").needs == ()
    assert bench.at()[1] == "name"
    key(window, Qt.Key.Key_Delete)
    assert shot(window, "19") is None
    key(window, Qt.Key.Key_U)
    assert shot(window, "19") is not None


def test_rows_are_copied_and_pasted_as_a_spreadsheet_has_them(window):
    key(window, Qt.Key.Key_B)
    key(window, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    copied = QApplication.clipboard().text()
    assert copied.startswith("shot\twhat happens\tseconds")
    assert len(copied.splitlines()) == 19
    QApplication.clipboard().setText("shot\tseconds\tneeds\n14\t6\trope: stock: coil\n30\t2\tgull\n")
    key(window, Qt.Key.Key_Down)
    key(window, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert window.benches.of("match").isVisible()
    key(window, Qt.Key.Key_Return)
    assert window.benches.of("breakdown").isVisible()
    assert (shot(window, "14").seconds, shot(window, "30").needs[0].what) == (6.0, "gull")
    QApplication.clipboard().setText("only words")
    window.benches.of("breakdown").paste()
    assert "no list of shots" in window.notice.words


def test_a_table_of_one_row_is_a_table_and_a_head_alone_is_none(window, tmp_path):
    for rows, said in (("shot,seconds\n", "has no rows beneath a head"), ("shot,seconds\n14,6\n", "")):
        file = tmp_path / f"{len(rows)}.csv"
        file.write_text(rows)
        dropped(window, file)
        assert said in window.notice.words
        assert window.benches.of("match").isVisible() == (not said)


def test_a_spreadsheet_is_dropped_matched_by_hand_taken_in_once_and_the_match_remembered(window, tmp_path):
    book = openpyxl.Workbook()
    for row in (
        ["Slate", "What", "Dur.", "Tag"],
        ["14", "rope", 4, "x"],
        ["31", "boat", 3, "y"],
        ["32", "", "long", ""],
        ["", "", 1, ""],
    ):
        book.active.append(row)
    file = tmp_path / "script.xlsx"
    book.save(file)
    before = window.desk.job
    dropped(window, file)
    bench = window.benches.of("match")
    assert bench.columns == ("", "", "", "")
    first = window.desk.to_match
    window.desk.breakdown.files.read_pasted("shot,what happens\n41,a gull lands\n")
    assert bench.of.name == "what was copied", "a second table takes the first one's place"
    window.desk.to_match = first
    window.desk.wanted.emit("match")
    assert "No column says which shot" in bench.trial()
    bench.take()
    assert window.desk.job is before
    offered = [name for name, _ in bench.of.offered]
    bench.list.setFocus()
    bench.list.choose(1)
    for which, wanted in ((Qt.Key.Key_Right, offered[0]), (Qt.Key.Key_Right, offered[1]), (Qt.Key.Key_Left, offered[0]), (Qt.Key.Key_Left, "")):  # fmt: skip
        key(window, which)
        assert bench.columns == ("", wanted, "", "")
    for index, wanted in ((0, "id"), (1, "name"), (2, "seconds")):
        bench.list.setFocus()
        bench.list.choose(index)
        while bench.columns[index] != wanted:
            key(window, Qt.Key.Key_Right)
    assert [(b.row, b.column) for b in bench.trial().bad] == [(4, "seconds"), (5, "shot")]
    assert not bench.grab().isNull()
    key(window, Qt.Key.Key_Return)
    assert (shot(window, "14").name, shot(window, "31").seconds, shot(window, "32")) == ("rope", 3.0, None)
    assert "2 rows left out" in window.notice.words
    key(window, Qt.Key.Key_U)
    assert window.desk.job == before
    dropped(window, file)
    assert bench.columns == ("id", "name", "seconds", "")


@pytest.mark.parametrize("name", ["shots.csv", "shots.xlsx", "cut.otio", "cut.edl"])
def test_what_is_written_can_be_dropped_again(window, tmp_path, name):
    before = window.desk.job
    window.desk.breakdown.files.write(tmp_path / name)
    rest(window)
    assert f"Wrote 18 shots to {name}" in window.notice.words
    dropped(window, tmp_path / name)
    if name.startswith("shots"):
        assert window.benches.of("match").trial().same == 18
        window.benches.of("match").take()
    assert window.desk.job.shots == before.shots


def test_a_loggers_temperatures_are_still_told_from_shots(window, tmp_path, qtbot):
    file = tmp_path / "room.csv"
    file.write_text("time,temperature\n2026-02-23 20:00,12\n2026-02-23 20:10,12.5\n2026-02-23 20:20,12\n")
    dropped(window, file)
    wait_until(qtbot, lambda: any(e.text.startswith("room.csv") for e in window.desk.log))
    for broken in ("gone.otio", "gone.xlsx"):
        dropped(window, tmp_path / broken)
        assert "cannot be read" in window.notice.words


def test_the_list_is_sorted_by_worth_and_goes_back_to_the_order_of_the_shoot(window):
    key(window, Qt.Key.Key_B)
    rows = window.benches.of("breakdown").list
    rows.setFocus()
    rows.choose(2, "seconds")
    chosen = rows.item().id
    key(window, Qt.Key.Key_F3)
    seconds = [s.seconds for s in rows.rows.items]
    assert seconds == sorted(seconds)
    assert seconds[0] < 9 < 10 < seconds[-1]
    assert rows.item().id == chosen
    key(window, Qt.Key.Key_F3)
    assert [s.seconds for s in rows.rows.items] == sorted(seconds, reverse=True)
    window.desk.breakdown.edit_cell(rows.rows.items[-1], "seconds", "40")
    assert rows.rows.items[0].seconds == 40  # it stays sorted
    head = rows.horizontalHeader()
    column = [c.key for c in rows.rows.columns].index("seconds")
    point = QPoint(head.sectionViewportPosition(column) + 12, head.height() // 2)
    QTest.mouseClick(head.viewport(), Qt.MouseButton.LeftButton, pos=point)
    assert list(rows.rows.items) == list(window.desk.breakdown.shots)
    window.desk.breakdown.edit_cell(window.desk.breakdown.find("7"), "plate_height", "-1.5 m")
    window.desk.breakdown.edit_cell(window.desk.breakdown.find("9"), "plate_height", "11 m")
    rows.sort_by("plate_height")
    heights = [s.plate.height_m if s.plate else None for s in rows.rows.items]
    known = [h for h in heights if h is not None]
    assert heights[: len(known)] == known
    assert known == [-1.5, 2.4, 11]


# ---------------------------------------------------------------------------------------- coverage
def test_threads_are_pulled_typed_and_cut(window):
    window.desk.choose("ferry")
    key(window, Qt.Key.Key_V)
    bench, needed = window.benches.of("coverage"), [need.what for need in shot(window, "14").needs]
    bench.go_to_loose()
    pull_thread(bench, ("oldclaw", ""))
    rope = shot(window, "14").needs[2]
    assert rope.cover == ByBuild("oldclaw")
    assert [need.what for need in shot(window, "14").needs] == needed, "and no other need is touched"
    assert window.desk.plan.coverage.uncovered == ()
    key(window, Qt.Key.Key_Delete)
    assert shot(window, "14").needs[2].cover is None
    key(window, Qt.Key.Key_Return)
    typed(window, "people: props")
    bench.go_to_loose()
    assert "Every need is covered" in window.notice.words
    bench.turn_only_open()
    assert [r.state for r in bench.rows()] == ["decision"]
    assert not bench.grab().isNull()


def test_a_piece_that_no_shot_sees_is_left_out_and_its_steps_with_it(window):
    window.desk.choose("ferry")
    key(window, Qt.Key.Key_V)
    assert any("wheelhouse interior is in no shot" in str(m.headline[0]) for m in window.desk.minds)
    covers = window.benches.of("coverage").covers
    row = covers.visualRect(covers.rows.index(covers.row_of(("ferry", "wheelhouse")), 0))
    QTest.mouseClick(covers.viewport(), Qt.MouseButton.LeftButton, pos=row.center())
    assert [p.id for p in window.desk.job.build("ferry").pieces] == ["hull"]
    assert window.desk.plan.coverage.unseen == ()
    key(window, Qt.Key.Key_U)
    assert len(window.desk.plan.coverage.unseen) == 1


# ------------------------------------------------------------------------------------------ counts
def caution(window, words):
    """The caution that says so; others than those that fit are turned to."""
    for _ in window.desk.minds:
        for index in range(len(window.desk.minds)):
            spot = window.ledger.spots.find(f"mind:{index}")
            if spot and words in spot.accessibleName():
                return spot
        QTest.mouseClick(window.ledger.spots.find("minds"), Qt.MouseButton.LeftButton)
        QApplication.processEvents()
    raise AssertionError(f"no caution says {words}")


def test_counts_are_pulled_signed_and_reach_every_figure(window, qtbot):
    window.desk.choose("oldclaw")
    key(window, Qt.Key.Key_H)
    bench = window.benches.of("counts")
    before = window.desk.build_plan
    handle = bench.spots.find("decide:wanted.hero")
    handle.setFocus()
    key(window, Qt.Key.Key_Up)
    after = window.desk.build_plan
    assert after.find(specs.GOOD_ONES, "stalks").number == before.find(specs.GOOD_ONES, "stalks").number + 9
    assert after.find(specs.READY).value > before.find(specs.READY).value
    key(window, Qt.Key.Key_2)
    QTest.mouseClick(caution(window, "not signed"), Qt.MouseButton.LeftButton)
    assert bench.isVisible()  # the caution leads to where it is signed
    assert "held: rights" in window.line.spots.find("station:mould").accessibleName()
    bench.sign(next(s for s in window.desk.build.signoffs if s.kind == "rights"))
    typed(window, "script office")
    assert "held" not in window.line.spots.find("station:mould").accessibleName()
    wait_until(qtbot, lambda: any(e.kind == "signed" for e in window.desk.log))
    bench.type_variants(window.desk.build.pieces[2])
    typed(window, "left, right")
    assert window.desk.build_plan.find(specs.GOOD_ONES, "stalks", variant="left").number == 14  # half of 27
    bench.type_signoffs()
    typed(window, "colour: me")
    assert "is no sign-off" in window.notice.words


def test_castings_are_walked_cell_by_cell_typed_stepped_pulled_and_asked(window):
    window.desk.choose("gulls")
    key(window, Qt.Key.Key_H)
    rows = window.benches.of("counts").list
    rows.setFocus()
    rows.choose(0, "copies")
    key(window, Qt.Key.Key_Right, times=2)
    assert rows.column() == "good"
    cast = window.desk.build_plan.find(specs.CASTINGS, "body", variant="perched").number
    key(window, Qt.Key.Key_5)
    typed(window, "50 %")
    assert window.desk.decision("good:body").value == 0.5
    assert window.desk.build_plan.find(specs.CASTINGS, "body", variant="perched").number > 1.5 * cast
    key(window, Qt.Key.Key_Minus)
    assert window.desk.decision("good:body").value == pytest.approx(0.49)
    rows.choose(0, "copies")
    start = rows.visualRect(rows.currentIndex()).center()
    QTest.mousePress(rows.viewport(), Qt.MouseButton.LeftButton, pos=start)
    for up in (4, 12, 20):
        QTest.mouseMove(rows.viewport(), start - QPoint(0, up))
    QTest.mouseRelease(rows.viewport(), Qt.MouseButton.LeftButton, pos=start - QPoint(0, 20))
    assert window.desk.decision("copies:body").value == 3
    assert open_line(window) is None  # it was pulled, not pressed
    key(window, Qt.Key.Key_U)
    assert window.desk.decision("copies:body").value == 1  # in one step
    rows.setFocus()
    rows.choose(1, "share")
    key(window, Qt.Key.Key_Return)
    typed(window, "30 %")
    assert window.desk.build.pieces[0].variants[1].share == pytest.approx(0.3)
    rows.choose(0, "castings")
    key(window, Qt.Key.Key_Return)
    assert window.why.told().label == "Castings"
    assert "body perched\t60" in rows.copied()
    assert "= 28" not in rows.copied()


# ------------------------------------------------------------------------------------ order, floor
def test_the_order_of_wear_names_what_is_late_and_takes_the_better_one(window):
    window.desk.choose("oldclaw")
    key(window, Qt.Key.Key_7)
    bench = window.benches.of("shoot")
    assert [s.id for s in bench.shots()] == ["14", "13", "15"]
    assert "shot 13 Wed 25 Mar, pristine comes too late" in [s.accessibleName() for s in [bench.spots.find("shot:13")]]
    assert any("Shot 13 comes too late" in str(m.headline[0]) for m in window.desk.minds)
    assert not bench.grab().isNull()
    key(window, Qt.Key.Key_O)
    assert [s.id for s in bench.shots()] == ["13", "14", "15"]
    assert not any("too late" in str(m.headline[0]) for m in window.desk.minds)
    key(window, Qt.Key.Key_O)
    assert "ruins less" in window.notice.words
    key(window, Qt.Key.Key_U)
    assert [s.id for s in bench.shots()] == ["14", "13", "15"]


def test_the_floor_is_written_down_said_go_and_printed(window, tmp_path):
    window.desk.choose("lighthouse")
    key(window, Qt.Key.Key_G)
    bench = window.benches.of("floor")
    three = shot(window, "3")
    words = [bench.spots.find(f"check:{i}").accessibleName() for i in range(len(bench.shown(three)))]
    assert any("Copies of gallery at hand: 6 for 6" in w for w in words)
    assert all("not said yet" in w for w in words)
    bench.write_down("stands")
    typed(window, "stand A on the cross, 1.10 m")
    bench.spots.find("check:0").setFocus()
    key(window, Qt.Key.Key_Return)
    typed(window, "first hand")
    key(window, Qt.Key.Key_Return)  # once more takes it back
    key(window, Qt.Key.Key_Return)
    assert [c.by for c in shot(window, "3").checks if c.at] == ["first hand"]
    bench.add_check()
    typed(window, "wind below 4 m/s")
    assert any(c.what == "wind below 4 m/s" for c in shot(window, "3").checks)
    file = tmp_path / "page.pdf"
    bench.write_pdf(file, bench.breakdown.shots)
    data = file.read_bytes()
    assert data.startswith(b"%PDF")
    assert data.count(b"/MediaBox [0 0 842") == 18
    streams = [
        part.split(b"endstream")[0].strip(b"\r\n")
        for part in data.split(b"stream\r\n" if b"stream\r\n" in data else b"stream\n")[1:]
    ]
    pages = [text for s in streams if (text := _inflated(s)) and b"BT" in text]
    assert len(pages) == 18  # text stays text
    file.unlink()
    window.desk.working.connect(lambda _words, share: window.desk.runner.stop() if share < 1 else None)
    bench.write_pdf(file, bench.breakdown.shots * 4)
    assert "Nothing was written" in window.notice.words
    assert not file.exists()
    bench.again()
    assert not [c for c in shot(window, "3").checks if c.at]
    bench.breakdown.choose("9")
    assert bench.lines(shot(window, "9")) == ()


def _inflated(stream):
    try:
        return zlib.decompress(stream)
    except zlib.error:
        return b""


# --------------------------------------------------------------------------------------- whole job
def test_the_whole_job_says_what_is_in_the_way_and_goes_there(window):
    key(window, Qt.Key.Key_J)
    bench = window.benches.of("whole")
    assert [r.build.id for r in bench.rows()][:3] == ["keeper", "lighthouse", "ferry"]
    assert {words: count for count, words, _ in bench.counts()} == {
        "late": 1,
        "uncovered": 1,
        "held": 2,
        "frozen": 1,
        "in no shot": 1,
        "to decide": 1,
    }
    assert any("held: likeness" in bench.said(row) for row in bench.list.rows.items if row.build.id == "saltbust")
    bench.list.choose(2)
    QTest.keyClick(bench.list, Qt.Key.Key_Return)
    assert window.desk.chosen == "ferry"
    assert [o.day.isoformat() for o in bench.outside()] == ["2026-03-13", "2026-03-19", "2026-04-08", "2026-04-09"]
    assert not bench.grab().isNull()
    QTest.mouseClick(bench.spots.find("count:late"), Qt.MouseButton.LeftButton)
    assert window.desk.chosen == "gulls"
    QTest.mouseClick(bench.spots.find("count:held"), Qt.MouseButton.LeftButton)
    assert window.benches.of("counts").isVisible()
    key(window, Qt.Key.Key_Escape)
    assert window.benches.of("mould").isVisible()
    window.desk.breakdown.edit_cell(shot(window, "1"), "day", "19 Mar")
    assert [o.day.isoformat() for o in bench.outside()][:2] == [
        "2026-03-15",
        "2026-03-21",
    ]  # deadlines follow their shot


def test_a_job_without_shots_says_what_to_do_on_every_bench(open_window, tmp_path, now):
    from homunculus.store.new_job import new_job

    window = open_window(new_job(tmp_path / "empty", "Empty", now))
    for which in (Qt.Key.Key_1, Qt.Key.Key_7, Qt.Key.Key_B, Qt.Key.Key_V, Qt.Key.Key_H, Qt.Key.Key_G, Qt.Key.Key_J):
        key(window, which)
        spot = window.benches.bench.spots.find("empty")
        assert spot, window.benches.open_spec.name
        assert window.benches.bench.rect().contains(spot.geometry())
        assert not window.grab().isNull()
        QTest.mouseClick(spot, Qt.MouseButton.LeftButton)  # it is live: a shot, or where the first build begins
        assert window.benches.open_spec.name == "made" or [s.id for s in window.desk.job.shots] == ["1"]
        while window.desk.session.can_undo:
            window.desk.undo()
    assert window.line.spots.find("uncovered") is None
    key(window, Qt.Key.Key_L)
    QTest.mouseClick(window.benches.bench.spots.find("empty"), Qt.MouseButton.LeftButton)
    assert any(line.isVisible() for line in window.findChildren(QLineEdit)), "a note is asked for"
    key(window, Qt.Key.Key_Escape)
    key(window, Qt.Key.Key_L)
    window.desk.do("build prop: Rock")
    window.desk.choose("rock")
    key(window, Qt.Key.Key_7)
    QTest.mouseClick(window.benches.bench.spots.find("empty"), Qt.MouseButton.LeftButton)
    assert [s.builds for s in window.desk.job.shots] == [("rock",)], "the first shot needs the build that is looked at"
    made = window.desk.build_plan
    assert window.desk.job.shots[0].day - made.find(specs.READY).value.date() == timedelta(days=1), (
        "and is when it is ready"
    )
    assert not [mind for mind in made.minds if (mind.station, mind.level) == ("shoot", "danger")], (
        "a beginning makes nothing late"
    )
    assert window.line.spots.find("uncovered") is None


# ------------------------------------------------------------------------------- hands and wheels
def test_long_lists_are_walked_past_their_edges_by_wheel_and_arrow(open_window, folder):
    window = open_window(folder, (1000, 600))
    key(window, Qt.Key.Key_V)
    bench = window.benches.of("coverage")
    fit = len(bench.shown())
    assert fit < len(bench.rows())
    turn_wheel(bench.needs.viewport(), -120, times=40)
    assert bench.shown()[-1][0] is bench.rows()[-1]
    turn_wheel(bench.needs.viewport(), 120, times=40)
    key(window, Qt.Key.Key_Down, times=fit + 3)
    assert bench.shown()[-1][0] is bench.needs.item()  # the keyboard went past the last row that was shown
    turn_wheel(bench.covers.viewport(), -120, times=40)
    assert bench.covers.verticalScrollBar().value() == bench.covers.verticalScrollBar().maximum() > 0
    key(window, Qt.Key.Key_B)
    shots = window.benches.of("breakdown").list
    turn_wheel(shots.viewport(), -120, times=40)
    assert shots.verticalScrollBar().value() == shots.verticalScrollBar().maximum() > 0
    assert shots._still.verticalScrollBar().value() == shots.verticalScrollBar().value()
    key(window, Qt.Key.Key_Down, times=3)
    key(window, Qt.Key.Key_Up, times=5)
    assert window.benches.of("breakdown").at() is not None
    key(window, Qt.Key.Key_J)
    whole = window.benches.of("whole").list
    key(window, Qt.Key.Key_Tab)
    whole.choose(6)
    assert whole.rows.items[6].build.id == "saltbust"
    assert whole.viewport().rect().contains(whole.visualRect(whole.currentIndex()))


def test_a_thread_dropped_on_stock_asks_what_and_one_dropped_on_nothing_stays_loose(window):
    key(window, Qt.Key.Key_V)
    bench = window.benches.of("coverage")
    bench.go_to_loose()
    bare = bench.grab()
    hanging = pull_thread(bench, by=QPoint(250, 4))
    assert hanging.toImage() != bare.toImage()  # the thread hangs from the hand
    assert shot(window, "14").needs[2].cover is None
    assert not window.findChildren(QLineEdit, "typed")
    pull_thread(bench, ("*decision", ""))
    typed(window, "decide:")
    assert "is no cover" in window.notice.words
    typed(window, "decide: hemp or wire?")
    assert shot(window, "14").needs[2].cover == ByDecision("hemp or wire?")
    here = bench.needs.visualRect(bench.needs.currentIndex()).center()
    QTest.mouseClick(bench.needs.viewport(), Qt.MouseButton.LeftButton, pos=here)
    assert window.desk.breakdown.shot_id == "14"
    assert window.desk.chosen == "oldclaw"


def test_pictures_go_where_they_belong_and_others_are_refused(window, tmp_path):
    picture = tmp_path / "floor.png"
    pixmap = QPixmap(60, 40)
    pixmap.fill(Qt.GlobalColor.white)
    pixmap.save(str(picture))
    window.desk.choose("lighthouse")
    key(window, Qt.Key.Key_2)
    dropped(window, picture)
    assert "A picture belongs to a shot" in window.notice.words
    key(window, Qt.Key.Key_G)
    dropped(window, picture)
    assert shot(window, "3").setup.picture
    assert not window.benches.of("floor").grab().isNull()
    window.benches.of("floor").write_pdf(tmp_path / "with-picture.pdf", (shot(window, "3"),))
    assert b"/Image" in (tmp_path / "with-picture.pdf").read_bytes()
    (tmp_path / "no.png").write_bytes(b"no picture")
    dropped(window, tmp_path / "no.png")
    assert "is no PNG or JPEG" in window.notice.words
    (window.desk.folder.path / "pictures" / shot(window, "3").setup.picture).unlink()
    window.desk.pictures._pixmaps.clear()
    assert not window.benches.of("floor").grab().isNull()  # it says that the picture is gone


def test_what_cannot_be_written_is_said(window, tmp_path):
    window.desk.breakdown.files.write(tmp_path / "no-lists" / "shots.xlsx")
    rest(window)
    assert "no-lists: Could not save here" in window.notice.words
    window.benches.of("floor").write_pdf(tmp_path / "no-pages" / "page.pdf", window.desk.breakdown.shots[:1])
    assert "no-pages: Could not save here" in window.notice.words


def test_a_frozen_count_is_not_frozen_twice_and_the_signed_are_named(window, qtbot):
    window.desk.choose("keeper")
    key(window, Qt.Key.Key_H)
    bench = window.benches.of("counts")
    key(window, Qt.Key.Key_Z)
    assert "asks for nothing else" in window.notice.words
    bench.sign(window.desk.build.signoffs[0])
    assert "was signed by performer" in window.notice.words
    before = bench.total().value
    bench.type_value("good:cheek")
    typed(window, "70 %")
    assert bench.total().value == before
    assert "+" in bench.cost_words(window.desk.cost)
    assert not bench.grab().isNull()
    bench.type_value("good:cheek")
    typed(window, "100 %")
    words = bench.cost_words(window.desk.cost)
    assert "−" in words
    assert "sooner" in words
    window.desk.who = "lead"
    bench.freeze()
    typed(window, "two more calls")
    assert (window.desk.build.frozen.by, window.desk.cost) == ("lead", None), "who follows it signs, not who froze it"
    qtbot.waitUntil(
        lambda: any(e.text.startswith("Frozen count changed by lead: ") for e in window.desk.log), timeout=60_000
    )
    key(window, Qt.Key.Key_U, times=3)
    assert window.desk.cost is None


def test_a_count_that_asks_for_nothing_else_is_not_frozen_again(window):
    window.desk.choose("oldclaw")
    assert window.desk.breakdown.freeze("lead")
    frozen = window.desk.build.frozen
    assert not window.desk.breakdown.freeze("somebody", "because")
    assert "The count stands as lead froze it" in window.notice.words
    assert window.desk.build.frozen is frozen


def test_what_covers_says_in_how_many_shots_it_is(window):
    key(window, Qt.Key.Key_V)
    notes = {(n.key, n.piece): n.note for n in window.benches.of("coverage").nodes()}
    assert notes["lighthouse", ""].startswith("6 shots")
    assert notes["saltbust", ""].startswith("1 shot;")
    assert notes["*stock", ""] == "5"


def test_a_page_is_written_only_where_there_is_a_shot(open_window, tmp_path, now):
    from homunculus.store.new_job import new_job

    window = open_window(new_job(tmp_path / "bare", "Bare", now))
    window.benches.open("floor")
    window.benches.of("floor").choose_pdf()
    assert "There is no shot to print a page of" in window.notice.words


def test_the_keyboard_reaches_the_column_that_stays_and_comes_back(window):
    key(window, Qt.Key.Key_B)
    rows = window.benches.of("breakdown").list
    rows.setFocus()
    rows.choose(2, "name")
    key(window, Qt.Key.Key_Left)
    assert (rows.currentIndex().row(), rows.column()) == (2, "id")
    assert rows.cell_area().width() == rows._still.columnWidth(0)
    key(window, Qt.Key.Key_Down)
    assert (rows.currentIndex().row(), rows.column()) == (3, "id")
    key(window, Qt.Key.Key_Up, times=9)
    assert (rows.currentIndex().row(), rows.column()) == (0, "id")
    key(window, Qt.Key.Key_PageDown)
    assert rows.currentIndex().row() > 5
    key(window, Qt.Key.Key_Right)
    assert rows.column() == "name"
    key(window, Qt.Key.Key_Right)
    assert rows.column() == "seconds"
    rows.choose(17, "id")
    assert rows._still.viewport().rect().contains(rows._still.visualRect(rows.currentIndex()))


def test_pieces_and_their_variants_are_called_by_name_in_the_log(window):
    window.desk.choose("gulls")
    assert window.desk.breakdown.piece_words("far-wing", "") == "far wing"
    assert window.desk.breakdown.piece_words("body", "perched") == "body, perched"
    assert window.desk.breakdown.piece_words("gone", "") == "gone"


def test_each_piece_of_the_order_of_wear_names_its_own_late_shots(window):
    window.desk.choose("oldclaw")
    key(window, Qt.Key.Key_7)
    courses = {course.piece.id: course for course in window.benches.of("shoot").courses()}
    late = {piece: [x.shot for x in course.late] for piece, course in courses.items()}
    assert sum(map(len, late.values())) == len({(p, s) for p, shots in late.items() for s in shots})
    assert any(late.values())
    assert not all(late.values())
    for piece, course in courses.items():
        assert all(x.item == ("oldclaw", piece) for x in course.late)


def test_the_keyboard_comes_into_the_list_where_something_can_be_typed(window):
    window.benches.open("breakdown")
    bench = window.benches.of("breakdown")
    for column, comes in (("id", "name"), ("day", "day")):
        bench.list.choose(2, column)
        bench.setFocus()
        QTest.keyClick(bench, Qt.Key.Key_Down)
        assert bench.list.hasFocus()
        assert (bench.list.currentIndex().row(), bench.list.column()) == (2, comes)


def test_sorting_by_another_column_begins_with_the_lowest(window):
    key(window, Qt.Key.Key_B)
    rows = window.benches.of("breakdown").list
    rows.sort_by("seconds")
    rows.sort_by("seconds")
    assert rows.sorted_by == ("seconds", True)
    rows.sort_by("unit")
    assert rows.sorted_by == ("unit", False)
    assert [s.unit for s in rows.rows.items] == sorted(s.unit for s in rows.rows.items)


def test_the_next_need_that_nobody_covers_is_gone_to_one_after_the_other_and_round(window):
    for other in ("2", "9"):
        row = window.desk.breakdown.find(other)
        window.desk.breakdown.put(row, replace(row, needs=(*row.needs, Need("a bell"))), "a need")
    window.benches.open("coverage")
    bench = window.benches.of("coverage")
    QApplication.processEvents()
    bare = [i for i, row in enumerate(bench.rows()) if row.state == "nothing"]
    assert len(bare) == 3
    went = []
    for _ in range(4):
        bench.go_to_loose()
        went.append(bench.needs.currentIndex().row())
    assert went == [*bare, bare[0]]
