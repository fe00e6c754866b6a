"""The window around the bench: stations, cast, ledger, clock, keys, units, themes, notices."""

from pathlib import Path

import numpy as np
import pytest
from msgspec.structs import replace
from PySide6.QtCore import QMimeData, QPoint, QSettings, Qt, QUrl
from PySide6.QtGui import QAccessible, QDragEnterEvent, QDropEvent, QFontMetricsF
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit, QWidget

from homunculus.app.benches.figures.bench import Group
from homunculus.app.benches.register import BENCHES, OF_STATION
from homunculus.app.drawing.spot import Handle, Spot
from homunculus.app.shell.bench_area import BAR, BenchArea
from homunculus.app.shell.key_help import with_keys
from homunculus.app.shell.ledger import LEAST_MOVED, MOST_MOVED, MOVED_PITCH
from homunculus.app.shell.window import Window
from homunculus.app.theme import load_themes
from homunculus.core import specs
from homunculus.core.edits.decisions import Decision, find_decision
from homunculus.core.figures import STATIONS, Figure
from homunculus.core.job.forms import Mesh
from homunculus.core.plan.cautions import step_cautions
from homunculus.core.specs import ALL
from tests.app.conftest import key, turn_wheel, type_words, typed, wait_until
from tests.core.test_mesh import CUBE, binary


def test_keys_one_to_seven_open_the_stations(window):
    for number, station in enumerate(STATIONS, 1):
        key(window, Qt.Key(Qt.Key.Key_0 + number))
        assert window.desk.station == station
        assert window.benches.of("scale").isVisible() == (station == "scale")
        assert window.benches.of("mould").isVisible() == (station == "mould")
        assert window.benches.of("figures").isVisible() == (not OF_STATION[station].factory)


@pytest.mark.parametrize("station", STATIONS)
def test_every_station_of_every_build_has_something_to_say(window, station):
    window.desk.go(station)
    for build in window.desk.job.builds:
        window.desk.choose(build.id)
        QApplication.processEvents()
        said = window.line.spots.find(f"station:{station}").accessibleName()
        assert said
        if window.benches.bench is window.benches.of("figures"):
            assert window.benches.of("figures").rows() or window.benches.of("figures")._empty()
        assert not window.grab().isNull()


def test_figures_on_a_sheet_are_asked_why_all_the_way_down(window):
    window.desk.go("mould")
    key(window, Qt.Key.Key_F)
    assert window.benches.of("figures").isVisible()
    QApplication.processEvents()
    sheet = window.benches.of("figures")
    blanket = next(f for f in sheet.rows() if isinstance(f, Figure) and f.spec is specs.BLANKET)
    sheet.list.setFocus()
    sheet.list.choose(sheet.list.row_of((blanket.spec.name, blanket.subject)))
    key(window, Qt.Key.Key_Return)
    assert window.why.told().label == "Blanket"
    key(window, Qt.Key.Key_Return)  # its first input is the form as built
    assert window.why.told().label == "Form as built"
    key(window, Qt.Key.Key_Backspace)
    assert window.why.told().label == "Blanket"
    assert "decided" in [i.origin for i in window.why.told().inputs]


def test_a_figure_of_a_step_says_which_by_its_name_on_screen(window):
    window.desk.go("cure")
    window.benches.show_figures()
    rows = window.benches.of("figures").list.rows
    labels = [rows.index(row, 0).data() for row in range(rows.rowCount())]
    halves = [f"{what}, first half" for what in ("jacket", "rubber")]
    assert [f"Poured, {half}" in labels and f"Opens, {half}" in labels for half in halves] == [True, True]


def test_the_slip_follows_the_plan(window):
    window.desk.asked_why.emit(window.desk.build_plan.find(specs.HEIGHT))
    before = window.why.told().value
    window.desk.decide(window.desk.decision("scale"), 8.0)
    assert window.why.told().value != before


def test_a_thickness_is_typed_on_the_mould_sheet(window):
    window.desk.go("mould")
    window.benches.show_figures()
    QApplication.processEvents()
    rows = window.benches.of("figures").list
    row = rows.visualRect(rows.rows.index(rows.row_of("blanket_m:gallery"), 1))
    QTest.mouseClick(rows.viewport(), Qt.MouseButton.LeftButton, pos=row.center())
    line = window.findChild(QLineEdit, "typed")
    type_words(line, "12 mm")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert find_decision(window.desk.job, "lighthouse", "blanket_m:gallery").value == pytest.approx(0.012)
    key(window, Qt.Key.Key_Plus)
    assert find_decision(window.desk.job, "lighthouse", "blanket_m:gallery").value == pytest.approx(0.0125)
    key(window, Qt.Key.Key_9)  # no digit is lost, though 4 alone would go to a station
    typed(window, "9")
    assert find_decision(window.desk.job, "lighthouse", "blanket_m:gallery").value == pytest.approx(0.009)
    key(window, Qt.Key.Key_Escape)  # back to what was pinned
    assert find_decision(window.desk.job, "lighthouse", "blanket_m:gallery").value == pytest.approx(0.01)


def test_what_is_pulled_keeps_no_noise_and_what_is_worked_out_keeps_its_last_digit(window):
    decision, noisy = window.desk.decision("blanket_m:gallery"), 3 * 0.0041 - 0.0003
    assert noisy != 0.012
    window.desk.decide(decision, noisy)
    assert window.desk.decision("blanket_m:gallery").value == noisy
    window.desk.grasp()
    window.desk.decide(decision, noisy)
    window.desk.let_go()
    assert window.desk.decision("blanket_m:gallery").value == 0.012


def test_a_value_beyond_its_bounds_is_said_and_changes_nothing(window):
    before = window.desk.job
    window.desk.decide_typed(window.desk.decision("blanket_m:gallery"), "3 m")
    assert "goes from" in window.notice.words
    assert window.desk.job is before


def test_undo_and_redo_by_key_say_what_they_did(window):
    window.desk.decide(window.desk.decision("scale"), 8.0)
    window.setFocus()
    key(window, Qt.Key.Key_U)
    assert window.notice.words == "Went back on: scale 1:8."
    QTest.keyClick(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert window.desk.build.scale == 8.0
    QTest.keyClick(window, Qt.Key.Key_Z, Qt.KeyboardModifier.ControlModifier)
    assert window.desk.build.scale == 12.0
    key(window, Qt.Key.Key_U)
    assert "no change" in window.notice.words


def test_page_keys_and_clicks_choose_builds(window):
    key(window, Qt.Key.Key_PageDown)
    assert window.desk.chosen == "ferry"
    key(window, Qt.Key.Key_PageUp, times=2)
    assert window.desk.chosen == "gulls"
    QTest.mouseClick(window.rail.spots.find("build:saltbust"), Qt.MouseButton.LeftButton)
    assert window.desk.chosen == "saltbust"


def test_units_switch_everywhere_at_once(window):
    QTest.keyClick(window, Qt.Key.Key_I)
    said = window.line.spots.find("station:mould").accessibleName()
    assert "in" in said.split()[2].replace("\u00a0", " ") or "13/32" in said
    assert "'" in window.benches.of("scale").spots.find("height").accessibleName()
    window.desk.go("cure")
    QApplication.processEvents()
    assert "°F" in " ".join(s.accessibleName() for s in window.benches.bench.findChildren(Spot))


def test_both_themes_paint_and_differ(window):
    plaster = window.grab().toImage()
    key(window, Qt.Key.Key_T)
    stage = window.grab().toImage()
    assert plaster != stage
    brightest = max(stage.pixelColor(x, y).lightness() for x in range(0, 1280, 7) for y in range(0, 800, 7))
    assert brightest < 0xCD + 15  # no area brighter than the figures


def test_the_go_to_box_finds_builds_stations_figures_and_commands(window):
    for words, check in (
        ("ferry", lambda: window.desk.chosen == "ferry"),
        ("cure", lambda: window.desk.station == "cure"),
        ("imperial", lambda: window.desk.system == "imperial"),
        ("slack to", lambda: window.why.told().label == "Slack to the shoot"),
    ):
        window.setFocus()
        key(window, Qt.Key.Key_Slash)
        assert window.goto.isVisible()
        type_words(window.goto.line, words)
        QTest.keyClick(window.goto.line, Qt.Key.Key_Return)
        assert check(), words
        window.why.fold_whole()
    key(window, Qt.Key.Key_Slash)
    type_words(window.goto.line, "zzz")
    assert window.goto.matches() == []
    QTest.keyClick(window.goto.line, Qt.Key.Key_Escape)
    assert not window.goto.isVisible()


def test_the_go_to_box_offers_the_way_to_a_value_and_runs_the_line(window):
    def press(words):
        type_words(window.goto.line, words)
        QTest.keyClick(window.goto.line, Qt.Key.Key_Return)
        QApplication.processEvents()

    window.setFocus()
    key(window, Qt.Key.Key_Slash)
    for words in ("set bui", "lightho", "pie", "gal", "moul"):
        press(words)  # Enter takes what is offered
    assert window.goto.line.text() == "set builds/lighthouse/pieces/gallery/mould/"
    assert ("blanket_m", "10 mm") in [entry[:2] for entry in window.goto.matches()]
    press("blan")
    assert window.goto.line.text() == "set builds/lighthouse/pieces/gallery/mould/blanket_m 10 mm"
    press("3 m")  # typed over the value that stood there
    assert "It goes from 0.5 mm to 200 mm" in window.notice.words
    assert window.goto.isVisible(), "a bad line stays, to be mended"
    window.goto.line.setText("set builds/lighthouse/pieces/gallery/mould/blanket_m 12 mm")
    press("")
    assert window.desk.decision("blanket_m:gallery").value == 0.012
    assert not window.goto.isVisible()
    window.setFocus()
    key(window, Qt.Key.Key_U)
    assert window.notice.words == "Went back on: set builds/lighthouse/pieces/gallery/mould/blanket_m 12 mm."
    assert window.desk.decision("blanket_m:gallery").value == 0.01
    key(window, Qt.Key.Key_Slash)
    window.goto.line.setText("set")
    assert [entry.name for entry in window.goto.matches()][:3] == ["name", "shop", "builds"]
    window.goto.line.setText("set flying")
    assert [entry.name for entry in window.goto.matches()] == ["set flying"]
    press("")
    assert window.goto.isVisible()
    key(window, Qt.Key.Key_Escape)
    assert window.desk.do("remove builds/gulls")
    assert "gulls" not in [b.id for b in window.desk.job.builds]
    assert window.desk.do("set builds/ferry/scale 1:24")
    assert window.notice.words == "So it stands already."


def test_pinning_empties_the_ledger_and_numbers_the_pin(window):
    window.desk.decide(window.desk.decision("scale"), 8.0)
    assert window.desk.moved
    window.setFocus()
    key(window, Qt.Key.Key_P)
    assert window.desk.moved == ()
    assert window.desk.session.last_pin.number == 2


def test_a_caution_leads_to_its_station(window):
    window.desk.choose("gulls")
    QApplication.processEvents()
    QTest.mouseClick(window.ledger.spots.find("mind:0"), Qt.MouseButton.LeftButton)
    assert window.desk.station == "shoot"


@pytest.mark.parametrize(("station", "step"), [("mix", "mix"), ("cure", "cure")])
def test_no_caution_of_a_step_is_left_out_of_its_drawing(window, station, step):
    job = window.desk.job
    own = tuple(
        f"{n}. {'Read the sheet before it is opened, and again before it is poured. ' * n}".strip() for n in (1, 2, 3)
    )
    cards = tuple(replace(m, cautions=own) if m.id == "silicone-tin-soft" else m for m in job.cards.materials)
    window.desk.edit("cautions", replace(job, cards=replace(job.cards, materials=cards)))
    window.desk.go(station)
    QApplication.processEvents()
    bench = window.benches.of(station)
    if step != "mould":
        bench.show_pour("rubber-1")
    QApplication.processEvents()
    mine = (
        [bench.pour()] if step != "mould" else [p for p in window.desk.build_plan.pours if p.piece == bench.piece().id]
    )
    wanted = [words for _, words in step_cautions(window.desk.job, mine, step)]
    assert set(own) < set(wanted)
    seen = []
    for _ in range(9):
        seen += [" ".join(lines) for _, lines in bench._laid]
        if not (more := bench.spots.find("cautions")):
            break
        assert bench.rect().contains(more.geometry())
        QTest.mouseClick(more, Qt.MouseButton.LeftButton)
        if bench._first_caution == 0:
            break
    assert [words for words in seen if words in wanted] == wanted
    assert len(seen) > 1


def test_cautions_that_do_not_fit_are_told_and_turned_to(window):
    """The head counts them all, so each must be reachable; after the last comes the first again."""
    window.desk.decide(window.desk.decision("scale"), 8.0)  # what moved takes half of the room
    QApplication.processEvents()
    seen, headlines = [], [headline for _, headline, _ in window.ledger.cautions()]
    while len(seen) < len(headlines):
        spots = [window.ledger.spots.find(f"mind:{i}") for i in range(len(headlines))]
        here = [spot.accessibleName() for spot in spots if spot and spot.isVisible()]
        assert 0 < len(here) < len(headlines)
        seen += here
        QTest.mouseClick(window.ledger.spots.find("minds"), Qt.MouseButton.LeftButton)
        QApplication.processEvents()
    assert len(seen) == len(headlines)
    assert all(f": {headline}. " in said for headline, said in zip(headlines, seen, strict=True))
    assert headlines[0] in window.ledger.spots.find("mind:0").accessibleName()


def test_space_logs_the_pour_then_the_opening_and_the_clock_shows_it(window, qtbot):
    window.desk.go("mix")
    window.setFocus()
    key(window, Qt.Key.Key_Space)
    wait_until(qtbot, lambda: any(e.kind == "poured" and e.piece == "gallery" for e in window.desk.log))
    assert window.desk.status.states["lighthouse"] == "wet"
    bars = [b for b in window.desk.status.bars if b.piece == "gallery"]
    assert bars
    assert not bars[0].planned
    key(window, Qt.Key.Key_Space)
    wait_until(qtbot, lambda: any(e.kind == "opened" and e.piece == "gallery" for e in window.desk.log))
    assert b"opened" in (window.desk.folder.path / "log.jsonl").read_bytes().splitlines()[-1]


def test_a_note_goes_into_the_log(window, qtbot):
    key(window, Qt.Key.Key_N)
    line = window.findChild(QLineEdit, "typed")
    type_words(line, "the heater is off again")
    QTest.keyClick(line, Qt.Key.Key_Return)
    wait_until(qtbot, lambda: window.desk.log[-1].text == "the heater is off again")
    window.desk.undo()
    assert window.desk.log[-1].text == "the heater is off again"  # undo never touches the log


def test_everything_is_saved_by_itself_and_opens_again(window, qtbot, open_window, folder):
    window.desk.decide(window.desk.decision("scale"), 9.0)
    wait_until(qtbot, lambda: b'"scale": 9.0' in (folder / "job.json").read_bytes())
    window.close()
    again = open_window(folder)
    assert again.desk.build.scale == 9.0
    assert again.desk.session.last_pin.number == 1


def test_the_window_remembers_its_place_units_and_colours(open_window, folder):
    first = open_window(folder)
    first.resize(940, 650)
    first.desk.use_units("imperial")
    first.desk.use_theme("stage")
    first.close()
    assert QSettings("homunculus", "homunculus").value("units") == "imperial"
    second = Window(type(first.desk)(_reopened(folder), load_themes()))
    shown = (second.desk.system, second.desk.theme_name)
    size = second.size()
    second.close()
    assert shown == ("imperial", "stage")
    assert size.height() == 650  # the offscreen screen is narrower than any window of ours


def _reopened(folder):
    from homunculus import demo
    from homunculus.store.folder import JobFolder

    return JobFolder(folder, demo.REFERENCE_NOW)


def test_a_full_disk_is_said_and_nothing_is_lost(window, qtbot, monkeypatch, tmp_path):
    from homunculus.core.errors import UserError

    def full(_job, _pins):
        raise UserError(
            "Could not save here: the disk is full. Everything is still open", remedy="Choose another folder"
        )

    monkeypatch.setattr(window.desk.folder, "save", full)
    window.desk.decide(window.desk.decision("scale"), 9.0)
    wait_until(qtbot, lambda: "disk is full" in window.notice.words)
    assert window.desk.build.scale == 9.0
    assert not window.close()  # what is not on the disk is not given up without a word
    assert "not on the disk" in window.notice.words
    target = tmp_path / "elsewhere"
    window.desk.move_to(target)
    wait_until(qtbot, lambda: b'"scale": 9.0' in (target / "job.json").read_bytes())
    assert (target / "meshes").is_dir()
    assert window.desk.folder.path == target
    window.desk.decide(window.desk.decision("scale"), 8.0)
    wait_until(qtbot, lambda: b'"scale": 8.0' in (target / "job.json").read_bytes())
    window.desk.move_to(target)
    assert "something in that folder" in window.notice.words


def test_a_log_entry_that_could_not_be_written_is_held_and_written_later_in_order(window, qtbot, monkeypatch):
    from homunculus.core.errors import UserError

    whole = window.desk.folder.append

    def full(_entry):
        raise UserError(
            "Could not save here: the disk is full. Everything is still open", remedy="Choose another folder"
        )

    monkeypatch.setattr(window.desk.folder, "append", full)
    window.desk.write("note", "first")
    window.desk.write("note", "second")
    wait_until(qtbot, lambda: len(window.desk.keeper.held) == 2)
    assert window.desk.log[-1].text not in ("first", "second")  # not shown as kept before it is
    monkeypatch.setattr(window.desk.folder, "append", whole)
    window.desk.write("note", "third")
    wait_until(qtbot, lambda: [e.text for e in window.desk.log[-3:]] == ["first", "second", "third"])
    assert window.desk.keeper.all_kept


def test_a_second_closing_gives_up_what_cannot_be_kept(open_window, folder, monkeypatch):
    from homunculus.core.errors import UserError

    window = open_window(folder)

    def gone(_job, _pins):
        raise UserError("Could not save here: the folder is gone. Everything is still open")

    monkeypatch.setattr(window.desk.folder, "save", gone)
    assert not window.close()
    assert not window.desk.closed
    assert window.close()
    assert window.desk.closed, "nothing is begun after it"


def test_leaving_asks_nobody_where_nothing_can_be_kept(open_window, folder, monkeypatch):
    window = open_window(folder)
    monkeypatch.setattr(window.desk.keeper, "save", lambda *_: None)
    monkeypatch.setattr(window.desk, "finish", lambda: False)
    window.leave()
    assert window.isHidden()


def test_a_dropped_mesh_becomes_the_form_is_studied_and_is_one_step(window, qtbot, tmp_path):
    file = tmp_path / "block.stl"
    file.write_bytes(binary(CUBE * 20))
    window.desk.choose("keeper")
    mime = QMimeData()
    mime.setUrls([QUrl.fromLocalFile(str(file))])
    enter = QDragEnterEvent(QPoint(600, 400), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
                            Qt.KeyboardModifier.NoModifier)  # fmt: skip
    window.dragEnterEvent(enter)
    assert enter.isAccepted()
    window.dropEvent(QDropEvent(QPoint(600, 400), Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton,
                                Qt.KeyboardModifier.NoModifier))  # fmt: skip
    wait_until(qtbot, lambda: window.findChild(QLineEdit, "typed") is not None)
    line = window.findChild(QLineEdit, "typed")
    assert "20 × 20 × 20" in window.notice.words
    line.setText("furlong")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert "no unit of a mesh" in window.notice.words
    line.setText("mm")
    QTest.keyClick(line, Qt.Key.Key_Return)
    form = window.desk.build.pieces[0].form
    assert isinstance(form, Mesh)
    wait_until(qtbot, lambda: form.content in window.desk.session.facts, 60000)
    height = window.desk.build_plan.find(specs.HEIGHT)
    assert height.number == pytest.approx(0.020)
    assert (window.desk.folder.path / "meshes" / f"{form.content}.study.json").exists()
    window.desk.undo()
    assert not isinstance(window.desk.build.pieces[0].form, Mesh)


def test_a_mesh_that_is_none_says_so_and_the_study_can_be_stopped(window, qtbot, tmp_path):
    file = tmp_path / "torn.stl"
    file.write_bytes(binary(CUBE)[:-10])
    window.desk.meshes.take_in(file)
    wait_until(qtbot, lambda: "stops after 11 of 12" in window.notice.words)
    whole = tmp_path / "whole.stl"
    whole.write_bytes(binary(CUBE))
    window.desk.meshes.take_in(whole)
    wait_until(qtbot, lambda: window.findChild(QLineEdit, "typed") is not None)
    QTest.keyClick(window.findChild(QLineEdit, "typed"), Qt.Key.Key_Return)
    wait_until(qtbot, lambda: window.notice.isVisible() and window.desk.runner.busy("study"))
    window.desk.runner.stop()
    wait_until(qtbot, lambda: not window.desk.runner.busy("study"), 2000)
    window.desk.meshes.take_in(tmp_path / "missing.stl")
    wait_until(qtbot, lambda: "cannot be read" in window.notice.words)


def test_a_torn_mesh_is_mended_on_the_bench_in_one_step(window, qtbot, tmp_path):
    file = tmp_path / "lid-off.stl"
    file.write_bytes(binary(CUBE[2:] * 60))
    window.desk.choose("keeper")
    window.desk.go("mould")
    window.desk.meshes.take_in(file)
    wait_until(qtbot, lambda: window.findChild(QLineEdit, "typed") is not None)
    QTest.keyClick(window.findChild(QLineEdit, "typed"), Qt.Key.Key_Return)
    wait_until(qtbot, lambda: window.benches.of("mould").spots.find("mend") is not None, 60000)
    assert window.desk.meshes.fact_of(window.desk.build.pieces[0]).torn
    assert window.benches.of("mould").spots.find("mend").accessibleName() == "4 open edges: mend the mesh"
    window.benches.of("mould").spots.find("mend").act()
    wait_until(qtbot, lambda: "closed 1 hole" in window.notice.words, 30000)
    content = window.desk.build.pieces[0].form.content
    wait_until(qtbot, lambda: content in window.desk.session.facts, 60000)
    assert not window.desk.meshes.fact_of(window.desk.build.pieces[0]).torn
    key(window, Qt.Key.Key_U)
    assert window.desk.meshes.fact_of(window.desk.build.pieces[0]).torn


def test_a_closed_cavity_is_asked_about_and_filled_in_one_step(window, qtbot, tmp_path):
    file = tmp_path / "bubble.stl"
    bubble = (CUBE - CUBE.mean(axis=(0, 1))) / 2 + CUBE.mean(axis=(0, 1))
    file.write_bytes(binary(np.concatenate((CUBE, bubble[:, ::-1])) * 60))
    window.desk.choose("keeper")
    window.desk.go("mould")
    window.desk.meshes.take_in(file)
    wait_until(qtbot, lambda: window.findChild(QLineEdit, "typed") is not None)
    QTest.keyClick(window.findChild(QLineEdit, "typed"), Qt.Key.Key_Return)
    wait_until(qtbot, lambda: window.benches.of("mould").spots.find("fill") is not None, 60000)
    window.benches.of("mould").spots.find("fill").act()
    wait_until(qtbot, lambda: "filled 1 closed cavity" in window.notice.words, 30000)
    content = window.desk.build.pieces[0].form.content
    wait_until(qtbot, lambda: content in window.desk.session.facts, 60000)
    assert not window.desk.meshes.fact_of(window.desk.build.pieces[0]).cavities
    key(window, Qt.Key.Key_U)
    assert window.desk.meshes.fact_of(window.desk.build.pieces[0]).cavities == 1


def test_figures_of_a_station_are_copied_as_text(window):
    window.desk.go("mix")
    window.setFocus()
    QTest.keyClick(window, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    text = QApplication.clipboard().text()
    assert "Batches\tlighthouse/gallery/rubber 1\t5" in text


# ------------------------------------------------------------------------------ reach and speech
def test_every_lane_and_handle_is_reached_by_tab_and_speaks(window):
    window.setFocus()
    seen, first = [], None
    for _ in range(120):
        QTest.keyClick(QApplication.focusWidget() or window, Qt.Key.Key_Tab)
        widget = QApplication.focusWidget()
        if widget is first:
            break
        first = first or widget
        seen.append(widget)
    names = [w.objectName() for w in seen]
    for wanted in ("scale", "height", "lane:stage", "lane:camera", "lane:bought", "lane:weight", "lane:rubber",
                   "build:lighthouse", "station:mould", "bar:0"):  # fmt: skip
        assert wanted in names, wanted
    for widget in seen:
        interface = QAccessible.queryAccessibleInterface(widget)
        if isinstance(widget, Spot):
            assert interface.text(QAccessible.Text.Name), widget.objectName()
    lane = window.benches.of("scale").spots.find("lane:water")
    said = QAccessible.queryAccessibleInterface(lane).text(QAccessible.Text.Name)
    assert said.startswith("Water reads right: strained at 1:12")


def test_anything_dragged_or_pressed_is_forty_pixels_somewhere(window):
    for handle in window.benches.of("scale").findChildren(Handle):
        assert max(handle.width(), handle.height()) >= 40
        assert min(handle.width(), handle.height()) >= 38


@pytest.mark.parametrize("size", [(1280, 800), (1100, 700), (900, 600), (2560, 1440)])
def test_it_folds_and_grows(open_window, folder, size):
    window = open_window(folder, size)
    assert window.ledger.isVisible() == (size[0] >= 1180)
    assert window.clock.height() == (92 if size[1] >= 760 else 46 if size[1] >= 640 else 24)
    for station in STATIONS:
        window.desk.go(station)
        QApplication.processEvents()
        assert not window.grab().isNull()


def test_thirty_builds_and_long_names_fit(open_window, folder):
    from msgspec.structs import replace

    from homunculus.store.folder import decode, encode

    document = decode((folder / "job.json").read_bytes(), "x")
    job = document.job
    many = tuple(
        replace(job.builds[i % 7], id=f"b{i}", name=f"Leuchtturmwärterhäuschen mit Wellenbrecher Nummer {i}")
        for i in range(30)
    )
    (folder / "job.json").write_bytes(encode(replace(job, builds=many), ()))
    window = open_window(folder)
    assert window.rail.row_height() == 40.0
    window.desk.choose("b29")
    QApplication.processEvents()
    assert window.rail.spots.find("build:b29")
    assert not window.grab().isNull()


def test_every_glyph_of_labels_and_formulas_is_in_the_fonts(qapp, window):
    metrics = QFontMetricsF(load_themes()["plaster"].font("body"))
    words = "".join(s.label + s.meaning for s in ALL)
    words += "".join(f.rule.formula + f.rule.source + "".join(f.notes) for f in window.desk.plan.figures())
    assert not {c for c in words if not metrics.inFontUcs4(ord(c))}


def test_no_widget_is_left_without_a_parent(window):
    strays = [w for w in QApplication.topLevelWidgets() if isinstance(w, QWidget) and not isinstance(w, Window)]
    assert not [w for w in strays if w.isVisible()]


def test_every_key_of_the_register_does_one_thing_and_the_readme_tells_it(window):
    keys = [k for command in window.commands for k in command.keys]
    assert len(keys) == len(set(keys)), "a key with two meanings"
    readme = (Path(__file__).parents[2] / "README.md").read_text("utf-8")
    assert with_keys(readme) == readme, "run scripts/write_docs.py"
    for spec in BENCHES:
        if spec.key:
            key(window, Qt.Key[f"Key_{spec.key}"])
            assert window.benches.open_spec is spec
            key(window, Qt.Key.Key_F1)
            here = window.keys_here
            assert here.isVisible()
            told = [here.accessibleDescription()]
            if spec.keys:
                areas = [one.area for one in here.written]
                assert not any(a.intersects(b) for i, a in enumerate(areas) for b in areas[:i]), (
                    "two keys are written on each other"
                )
                assert all(here.rect().toRectF().contains(area) for area in areas)
            key(window, Qt.Key.Key_F1)
            assert not here.isVisible(), "the second press goes on to all keys"
            told.append(window.help.accessibleDescription())
            assert all(f"{k.name}: {k.words}" in words for k in spec.keys for words in told)
            key(window, Qt.Key.Key_Escape)
            assert not window.help.isVisible()
            assert window.benches.open_spec is spec
            key(window, Qt.Key[f"Key_{spec.key}"])
            assert window.benches.open_spec.place == "station"


def test_what_is_said_while_nobody_looks_is_announced(window, monkeypatch):
    heard = []
    monkeypatch.setattr(
        "homunculus.app.shell.notice.QAccessible.updateAccessibility", lambda event: heard.append(event.message())
    )
    window.desk.keeper.failed.emit("The job could not be written. It is tried on.")
    QApplication.processEvents()
    assert heard == ["The job could not be written. It is tried on."]


# --------------------------------------------------------------------------- small decisions of the window
def test_comma_and_period_go_one_stock_scale_down_and_up(window):
    key(window, Qt.Key.Key_Period)
    after = window.desk.build.scale
    assert after == 16.0
    key(window, Qt.Key.Key_Comma)
    assert window.desk.build.scale == 12.0


def test_what_begins_with_the_letters_comes_first(window):
    window.goto.open()
    window.goto.line.setText("s")
    names = [entry[0].casefold() for entry in window.goto.matches()]
    starts = [name.startswith("s") for name in names]
    assert any(starts)
    assert not all(starts)
    assert starts == sorted(starts, reverse=True)


def test_the_whole_ledger_begins_at_its_head_each_time(window):
    window.desk.decide(window.desk.decision("scale"), 8.0)
    assert window.ledger._shown()[0][0] is window.desk.moved[0]
    window.ledger.show_all(all_of_them=True)
    top = window.ledger._shown()[0][0]
    assert top is window.desk.moved[0]
    window.ledger._first = 2
    window.ledger.refresh()
    assert window.ledger._shown()[0][0] is not top
    window.ledger.show_all(all_of_them=True)
    assert window.ledger._shown()[0][0] is top


def test_a_sheet_names_its_shots_and_whose_a_headline_is(window):
    window.desk.go("lens")
    sheet = window.benches.of("figures")
    groups = [row.name for row in sheet.rows() if isinstance(row, Group)]
    assert "Shot 2: storm wide" in groups
    assert sheet._group_name("gallery", "") == "Gallery"
    figures = {f.subject.shot: f for f in sheet.rows() if isinstance(f, Figure) and f.subject.shot}
    assert sheet._whose(figures["2"]).endswith("2")
    assert sheet._whose(window.desk.build_plan.find(specs.RUBBER, "gallery")) == ", gallery"
    assert sheet._whose(window.desk.build_plan.find(specs.SLACK)) == ""


def test_why_nothing_cures_is_told_from_what_is_in_the_way_of_it(window):
    cure = window.benches.of("cure")
    window.desk.choose("lighthouse")
    assert any(m.level == "danger" and m.station == "lens" for m in window.desk.build_plan.minds)
    assert "stop" not in cure._why_nothing()
    window.desk.choose("lighthouse")
    window.desk.decide(window.desk.decision("shop.night_c"), -20.0)
    window.desk.decide(window.desk.decision("shop.day_c"), -20.0)
    assert any(m.level == "danger" and m.station == "cure" for m in window.desk.build_plan.minds)
    window.desk.go("cure")
    QApplication.processEvents()
    assert cure.course() is None
    assert "gallery: will not cure here" in cure._why_nothing()


def test_the_wheel_goes_down_the_cast_and_up_again(open_window, folder):
    window = open_window(folder, (1000, 560))
    rail = window.rail

    def first():
        return next(name for name in rail.spots.areas() if name.startswith("build:"))

    cast = [f"build:{build.id}" for build in window.desk.job.cast]
    assert first() == cast[0]
    turn_wheel(rail, 120)
    assert first() == cast[0]
    turn_wheel(rail, -120)
    assert first() == cast[1]
    turn_wheel(rail, across=-360)
    assert first() == cast[1], "sideways is neither up nor down"
    turn_wheel(rail, 40, times=2)  # a touchpad
    assert first() == cast[1]
    turn_wheel(rail, 40)
    assert first() == cast[0]


def test_the_log_says_whose_entries_it_shows(window):
    key(window, Qt.Key.Key_L)
    QApplication.processEvents()
    log = window.benches.of("log")
    assert log.spots.find("only").accessibleName() == f"only {window.desk.build.name}"
    log.only_this_build()
    QApplication.processEvents()
    assert log.spots.find("only").accessibleName() == "every build"


def test_clocks_are_put_forward_by_a_zone_or_by_none(window):
    command = next(c for c in window.commands if "summer time" in c.words.casefold() or "clocks" in c.words.casefold())
    for words, zone in (("Europe/Lisbon", "Europe/Lisbon"), ("None", "")):
        command.act(window)
        typed(window, words)
        assert window.desk.job.shop.air.zone == zone


def test_days_off_are_typed_and_all_taken_away(window):
    command = next(c for c in window.commands if "days off" in c.words.casefold())
    for words, count in (("2026-03-09 to 2026-03-11", 3), ("None", 0)):
        command.act(window)
        typed(window, words)
        assert len(window.desk.job.shop.hours.days_off) == count


def test_what_the_shop_decides_is_typed_on_any_build(window):
    window.desk.choose("ferry")
    assert window.desk.decide_typed(window.desk.decision("shop.night_c"), "12 C")
    assert window.desk.job.shop.air.night_c == 12
    assert window.desk.session.undo_name == "shop by night 12 °C".replace(" °", "\N{NO-BREAK SPACE}°")


def test_escape_puts_the_go_to_box_away_wherever_the_keyboard_went(window):
    window.goto.open()
    window.setFocus()
    key(window, Qt.Key.Key_Escape)
    assert not window.goto.isVisible()
    window.desk.go("mould")
    before = window.desk.job
    key(window, Qt.Key.Key_Escape)
    assert window.desk.job is before


def test_the_line_follows_the_units_and_the_log(window):
    def height():
        return window.line._words(window.desk.build_plan, "mix")

    metric = height()
    window.desk.use_units("imperial")
    assert height() != metric
    window.desk.use_units("metric")
    assert height() == metric


def test_a_sheet_is_copied_and_spoken_cell_by_cell(window):
    window.desk.go("mould")
    window.benches.show_figures()
    QApplication.processEvents()
    rows = window.benches.of("figures").list
    row = rows.row_of("blanket_m:gallery")
    rows.choose(row)
    assert rows.copied().splitlines()[1].replace("\N{NO-BREAK SPACE}", " ") == "Blanket\t10 mm\tdecided"
    said = [rows.rows.data(rows.rows.index(row, c), Qt.ItemDataRole.AccessibleTextRole) for c in range(3)]
    assert said[0] == "gallery, blanket 10\N{NO-BREAK SPACE}mm, decided"
    assert said[1] == "value: 10\N{NO-BREAK SPACE}mm"
    groups = [i for i, item in enumerate(window.benches.of("figures").rows()) if isinstance(item, Group)]
    decided = [
        item for item in window.benches.of("figures").rows()[groups[0] + 1 : groups[1]] if isinstance(item, Decision)
    ]
    assert {d.piece for d in decided} == {"gallery"}
    assert {d.build for d in window.benches.of("figures").rows()[groups[-1] + 1 :]} == {""}


def test_of_many_builds_the_window_stands_at_once_and_the_rest_is_reckoned_after(window, qtbot, monkeypatch):
    desk = window.desk
    monkeypatch.setattr(desk.session, "patience_s", 0.0)
    desk.grasp()
    desk.decide(desk.decision("shop.night_c"), 9.0)
    QApplication.processEvents()
    assert desk.build_plan.find(specs.READY), "the one that is looked at is reckoned"
    assert desk.plan.left == {b.id for b in desk.job.builds} - {desk.chosen}
    desk.choose("ferry")
    assert desk.build_plan.find(specs.READY)
    desk.let_go()
    monkeypatch.setattr(desk.session, "patience_s", 0.001)  # a build a time
    told = []
    desk.working.connect(lambda words, share: told.append((words, share)))
    left, total = len(desk.plan.left), len(desk.job.cast)
    wait_until(qtbot, lambda: not desk.plan.left)
    reckoned = [(f"Reckoning {n} more builds" if n else "", 1 - n / total) for n in range(left)]
    assert told[-1] == ("", 1.0)
    assert set(told) <= {*reckoned}
    assert all(made.find(specs.READY) for made in desk.plan.builds)
    assert not window.notice.words.startswith("Reckoning")


def test_a_bench_that_needs_more_height_than_there_is_is_scrolled_by_wheel_and_focus(open_window, folder):
    window = open_window(folder, size=(960, 600))
    area = window.findChild(BenchArea)
    window.benches.go("mould")
    QApplication.processEvents()
    bench, over = window.benches.bench, window.benches.bench.least_height - area.height()
    assert over > 60
    assert (area.bar.maximum(), area.bar.isVisible()) == (over, True)
    assert (bench.height(), bench.width()) == (bench.least_height, area.width() - BAR)

    def turn(by):
        turn_wheel(area, by)
        return area.bar.value(), -bench.y()

    assert turn(-120) == (40, 40)
    assert turn(-1200) == (over, over)
    assert turn(60) == (over - 20, over - 20)
    assert turn(1200) == (0, 0)
    lowest = max((bench.spots.find(name) for name in bench.spots.areas()), key=lambda spot: spot.geometry().bottom())
    lowest.setFocus()
    assert area.rect().contains(lowest.geometry().translated(0, bench.y()).center()), (
        "what has the keyboard is in sight"
    )
    there = area.bar.value()
    assert there == min(over, lowest.geometry().bottom() + 1 - area.height() + 20)
    ends = {spot: spot.geometry().bottom() + 1 - area.height() for spot in map(bench.spots.find, bench.spots.areas())}
    between, end = next((spot, end) for spot, end in ends.items() if 0 < end < over - 20)
    area.bar.setValue(0)
    between.setFocus()
    assert area.bar.value() == end + 20, "no further than it must"
    lowest.setFocus()
    assert area.bar.pageStep() == area.height()
    window.rail.setFocus()  # elsewhere, and then nothing at all: neither scrolls
    QApplication.focusWidget().clearFocus()
    assert area.bar.value() == there
    highest = min((bench.spots.find(name) for name in bench.spots.areas()), key=lambda spot: spot.geometry().top())
    highest.setFocus()
    assert area.bar.value() == max(0, highest.y() - 20)
    window.resize(1280, 1000)
    QApplication.processEvents()
    assert (area.bar.maximum(), area.bar.isVisible(), bench.y(), bench.height()) == (0, False, 0, area.height())


def test_all_that_moved_is_shown_as_far_as_it_fits_turned_by_the_wheel_and_left_again(window):
    ledger, desk = window.ledger, window.desk
    desk.decide(desk.decision("scale"), 9.0)
    QApplication.processEvents()

    def shown():
        return [name for name in ledger.spots.areas() if name.startswith("moved:")]

    count, few = len(desk.moved), shown()
    assert LEAST_MOVED <= len(few) <= MOST_MOVED < count
    assert any(name.startswith("mind:") for name in ledger.spots.areas())
    ledger.spots.find("all").act()
    many, fit = shown(), int((ledger.height() - 80) // MOVED_PITCH)
    assert len(many) == min(count, fit) > len(few)
    assert many[: len(few)] == few
    assert not any(name.startswith("mind:") for name in ledger.spots.areas())

    def turn(by, times):
        turn_wheel(ledger, by, times=times)
        return shown()

    assert turn(-120, 1)[:-1] == many[1:]
    turn(-120, 1)
    assert turn(120, 1)[:-1] == many[1:]
    last = turn(-120, count)
    assert (len(last), last[-1].split(":")[1]) == (fit, desk.moved[-1].after.spec.name)
    assert turn(120, count) == many
    ledger.spots.find("all").act()
    assert shown() == few
