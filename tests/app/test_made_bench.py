"""What is it made of: a build from nothing by keys or by hand, pieces taken hold of and typed, steps; every act one step of undo."""

import pytest
import trimesh
from msgspec.structs import replace
from PySide6.QtCore import QMimeData, QPoint, QRectF, Qt, QUrl
from PySide6.QtGui import QContextMenuEvent, QDropEvent
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QMenu

from homunculus import library
from homunculus.app.benches.made.bench import MadeBench
from homunculus.app.benches.made.elevation import LIFT_PX, levels
from homunculus.app.matching import remembered
from homunculus.app.shell.what_can import everything
from homunculus.core import specs
from homunculus.core.edits.pieces import section_pulled
from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.job.forms import Cylinder
from homunculus.core.job.operations import Hands
from homunculus.core.session import Session
from homunculus.exchange.mesh_files import guess_unit
from homunculus.store.new_job import new_job
from tests.app.conftest import drag, drop, key, open_line, type_words, typed, wait_until

ENTER = Qt.Key.Key_Return


@pytest.fixture
def empty(open_window, tmp_path, now):
    return open_window(new_job(tmp_path / "own", "Saltmarsh", now))


@pytest.fixture
def bench(window) -> MadeBench:
    window.benches.open("made")
    window.desk.piece_id = "tower"
    window.desk.do(
        'set builds/lighthouse/pieces/tower/form {"type": "box", "length_m": 6, "depth_m": 5, "height_m": 14}'
    )
    return window.benches.of("made")


def press(place, name):
    spot = place.spots.find(name)
    assert spot is not None, f"{name} is not on the drawing: {sorted(place.spots.areas())}"
    QTest.mouseClick(spot, Qt.MouseButton.LeftButton)
    QApplication.processEvents()


def line_open(window):
    return open_line(window) is not None


def piece(window, name="tower", build="lighthouse"):
    return next(p for p in window.desk.job.build(build).pieces if p.id == name)


def finished(window):
    """The builds that a person made, but for when."""
    return [replace(build, starts=window.desk.now()) for build in window.desk.job.builds]


def by_lines(window):
    """The same builds, made by lines."""
    session = Session(replace(window.desk.job, builds=()), shelf=library.shelf())
    for line in WANTED:
        session.do(line, today=window.desk.now().date())
    return [replace(build, starts=window.desk.now()) for build in session.job.builds]


WANTED = ("build miniature: Barge, 24 × 5 × 9 m, 1:16", "piece barge: funnel: cylinder 1.2 × 3 m, casting resin fast, jacketed 9 mm, up 8 m",
          "delete barge/detail", "way barge/top: carved")  # fmt: skip


def test_a_build_is_made_from_nothing_by_keys_alone(empty):
    window, bench = empty, empty.benches.of("made")
    assert bench.new.beginning is not None, "an empty job opens where builds begin"
    bench.doings.begin()
    key(window, Qt.Key.Key_Right, times=2)
    key(window, Qt.Key.Key_Left, times=2)
    key(window, ENTER)
    type_words(QApplication.focusWidget(), "Barge")
    key(window, ENTER)
    assert window.desk.job.builds == (), "Enter in the line names it and begins nothing yet"
    for name, words in (("begin:0", "24 m"), ("begin:1", "5 m"), ("begin:2", "9 m")):
        bench.spots.find(name).setFocus()
        key(window, ENTER)
        typed(window, words)
    bench.spots.find("begin-scale").setFocus()
    key(window, ENTER)
    typed(window, "1:16")
    bench.spots.find("begin-it").setFocus()
    key(window, ENTER)
    assert window.desk.build.name == "Barge"
    assert window.desk.undo() is None
    assert window.desk.job.builds == ()
    window.desk.redo()
    window.desk.choose("barge")
    window.setFocus()
    key(window, Qt.Key.Key_Insert)
    type_words(QApplication.focusWidget(), WANTED[1].partition(": ")[2])
    key(window, ENTER)
    key(window, Qt.Key.Key_BracketLeft)  # the detail stands before it
    key(window, Qt.Key.Key_Delete)
    window.desk.piece_id = "top"
    for _ in range(9):
        if len(piece(window, "top", "barge").route) and piece(window, "top", "barge").route[0].id == "block":
            break
        key(window, Qt.Key.Key_R)
    assert finished(window) == by_lines(window)


def test_a_build_is_made_from_nothing_by_hand_alone_but_for_names_and_numbers(empty):
    window, bench = empty, empty.benches.of("made")
    press(bench, "kind:0")
    press(bench, "begin-name")
    typed(window, "Barge")
    for side, words in enumerate(("24 m", "5 m", "9 m")):
        press(bench, f"begin-value:{side}")
        typed(window, words)
    press(bench, "begin-scale")
    typed(window, "1:16")
    press(bench, "begin-it")
    press(bench, "else")
    typed(window, WANTED[1].partition(": ")[2])
    press(bench, "line:detail")
    window.goto.open()
    window.goto.line.setText("delete this piece")
    key(window, ENTER)
    press(bench, "line:top")
    press(bench, "way:carved")
    assert finished(window) == by_lines(window)


def test_the_dashed_form_is_pulled_and_what_nobody_said_follows(empty):
    bench = empty.benches.of("made")
    before = bench.new.beginning.sizes
    drag(bench.spots.find("begin:0"), 60)
    assert bench.new.beginning.sizes[0] > before[0]
    assert bench.new.beginning.sizes[2] / before[2] == pytest.approx(
        bench.new.beginning.sizes[0] / before[0], rel=1e-3
    ), "in proportion"
    drag(bench.spots.find("begin:2"), 0, 30)
    length, height = bench.new.beginning.sizes[0], bench.new.beginning.sizes[2]
    bench.spots.find("begin:2").setFocus()
    key(empty, Qt.Key.Key_Up)
    assert bench.new.beginning.sizes[2] > height
    assert bench.new.beginning.sizes[0] == length, "what was said stays"
    assert empty.desk.job.builds == ()


def test_a_piece_is_pulled_and_moved_and_each_drag_is_one_step(bench, window):
    before = window.desk.job
    drag(bench.spots.find("size:2"), 0, -30)
    assert piece(window).form.height_m > 14
    assert piece(window).form.length_m == 6
    window.desk.undo()
    assert window.desk.job == before
    drag(bench.spots.find("size:0"), 20)
    assert piece(window).form.length_m > 6
    window.desk.undo()
    drag(bench.spots.find("piece:tower"), 40, -20)
    along, up = piece(window).at_m
    assert along > 6.0
    assert up > 1.6
    window.desk.undo()
    assert window.desk.job == before
    bench.spots.find("foot").setFocus()
    key(window, Qt.Key.Key_Up)
    assert piece(window).at_m[1] > 1.6
    for words, up in (("2", 2.0), ("-400 mm", -0.4)):
        key(window, ENTER)
        typed(window, words)
        assert piece(window).at_m[1] == up
    bench.spots.find("piece:tower").setFocus()
    key(window, Qt.Key.Key_Left)
    assert piece(window).at_m[0] < 6.0
    bench.spots.find("size:2").setFocus()
    key(window, ENTER)
    typed(window, "50 ft")
    assert piece(window).form.height_m == pytest.approx(15.24)
    key(window, Qt.Key.Key_Equal)
    assert "was decided before" in window.notice.words
    key(window, Qt.Key.Key_9)
    typed(window, "9")
    assert piece(window).form.height_m == 9.0, "in the unit that stands there"
    assert "size:2" not in (bench.acts.choose("gallery"), *bench.spots.areas()), "a mesh is as large as it was drawn"


def test_a_line_is_typed_refused_mended_and_left(bench, window):
    before = window.desk.job
    bench.spots.find("line:tower").setFocus()
    key(window, ENTER)
    typed(window, "tower: box 6 × 5 m")
    assert "2 sizes, not 3" in window.notice.words
    assert line_open(window), "a bad line stays to be mended"
    key(window, Qt.Key.Key_Escape)
    assert window.desk.job == before, "leaving leaves nothing"
    key(window, ENTER)
    typed(
        window, "light tower: cylinder 6 × 14 m, fine casting plaster, hollow 12 mm, block 20 mm, along 6 m, up 1.6 m"
    )
    assert piece(window).form == Cylinder(6.0, 14.0)
    assert piece(window).mould.wall_m == 0.02
    assert window.desk.build_plan.find(specs.RUBBER, "tower")
    window.desk.use_units("imperial")
    shown = bench.spots.find("line:tower").accessibleName()
    assert "cylinder 19' 8" in shown
    key(window, ENTER)
    typed(window, shown)
    assert piece(window).form == Cylinder(6.0, 14.0), "a line left as it was shown changes nothing"


def test_copies_the_other_side_another_build_and_away(bench, window):
    window.setFocus()
    key(window, Qt.Key.Key_D)
    assert [p.id for p in window.desk.build.pieces][:2] == ["tower", "tower-2"]
    assert window.desk.piece_id == "tower-2"
    key(window, Qt.Key.Key_X)
    assert piece(window, "tower-2-mirrored").at_m == (-6.0, 1.6)
    key(window, Qt.Key.Key_Delete)
    bench.doings.give_piece()
    typed(window, "Paddle ferry")
    assert "belongs to Paddle ferry" in window.notice.words
    assert window.desk.job.build("ferry").pieces[-1].name == "gallery"
    window.desk.choose("lighthouse")
    names = [p.id for p in window.desk.build.pieces]
    window.desk.piece_id = names[0]
    key(window, Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
    assert [p.id for p in window.desk.build.pieces] == [names[1], names[0], *names[2:]]


def test_steps_come_go_walk_and_are_pulled(bench, window):
    press(bench, "line:gallery")
    press(bench, "more-step")
    typed(window, "polish: hands 1.5 h, a good piece")
    ids = [op.id for op in piece(window, "gallery").route]
    assert piece(window, "gallery").route[-1] == Hands("polish", "polish", loop="piece", work_s=5400.0)
    press(bench, f"step:{ids[0]}")
    for name in ids[1:]:
        key(window, Qt.Key.Key_Right)
        assert QApplication.focusWidget().objectName() == f"step:{name}", "also those that were not in sight"
    key(window, Qt.Key.Key_Delete)
    assert [op.id for op in piece(window, "gallery").route] == ids[:-1]
    bench.doings.choose_step(ids[-2])
    bench.spots.find(f"step:{ids[-2]}").setFocus()
    key(window, Qt.Key.Key_Left, Qt.KeyboardModifier.AltModifier)
    assert [op.id for op in piece(window, "gallery").route][-2:] == [ids[-2], ids[-3]]
    window.desk.undo()
    bench.doings.choose_step(ids[0])
    hours = window.desk.build_plan.find(specs.HANDS).number
    drag(bench.spots.find(f"decide:work_s:gallery/{ids[0]}"), 0, -24)
    assert window.desk.build_plan.find(specs.HANDS).number > hours


def test_builds_are_renamed_copied_put_in_order_and_deleted_and_the_cast_begins_one(window):
    bench = window.benches.of("made")
    press(window.rail, "begin")
    assert bench.new.beginning is not None
    window.benches.open("made")
    bench.doings.rename_build()
    typed(window, "Light on the rock")
    assert (window.desk.build.name, window.desk.build.called) == ("Light on the rock", "the lighthouse")
    bench.doings.copy_build()
    assert window.desk.chosen == "light-on-the-rock-2"
    bench.doings.build_up()
    assert [b.id for b in window.desk.job.builds][:2] == ["light-on-the-rock-2", "lighthouse"]
    bench.doings.delete_build()
    assert "light-on-the-rock-2" not in [b.id for b in window.desk.job.builds]
    window.desk.choose("lighthouse")
    bench.doings.tie_build()
    typed(window, "Paddle ferry at 200 %")
    assert window.desk.build.scale == 12.0
    window.desk.do("set builds/ferry/scale 1:32")
    assert window.desk.build.scale == 16.0, "it moves with the one that it follows"
    window.desk.step(window.desk.decision("scale"), 1)
    assert "takes its scale from Paddle ferry" in window.notice.words
    assert window.desk.build.scale == 16.0
    bench.doings.tie_build()
    typed(window, "")
    assert window.desk.build.follows == "", "its own stands there to be taken"
    key(window, Qt.Key.Key_Question, Qt.KeyboardModifier.ShiftModifier)
    assert window.keys_here.isVisible()
    written = {one.key: one.of for one in window.keys_here.written}
    assert written["R"] is not None, "it stands at the ways"
    assert written["D"] is None, "it works on no one thing"
    key(window, Qt.Key.Key_Escape)
    assert not window.keys_here.isVisible()
    for _ in range(len(window.desk.job.builds)):
        bench.doings.delete_build()
    assert window.desk.job.builds == ()
    assert bench.new.beginning is not None, "with the last build gone one begins"
    assert not window.grab().isNull()


def test_a_press_beside_all_pieces_moves_nothing(bench, window):
    before = window.desk.job
    QTest.mouseClick(bench, Qt.MouseButton.LeftButton, pos=QPoint(300, 130))
    assert window.desk.job == before


# --------------------------------------------------------------------------------------------- what can be done
def menu_of(window):
    menus = [menu for menu in window.findChildren(QMenu, "what-can") if menu.isVisible()]
    assert menus, "no menu came"
    return menus[-1]


def entries(menu):
    return [action.text().partition("\t")[0] for action in menu.actions() if action.text()]


def right_press(window, place, name):
    spot = place.spots.find(name)
    QApplication.sendEvent(
        place,
        QContextMenuEvent(
            QContextMenuEvent.Reason.Mouse, spot.geometry().center(), spot.mapToGlobal(spot.rect().center())
        ),
    )
    return menu_of(window)


def do_entry(menu, words):
    next(action for action in menu.actions() if action.text().startswith(words)).trigger()
    menu.close()
    QApplication.processEvents()


def test_a_right_press_tells_what_can_be_done_with_a_thing_and_does_it(bench, window):
    do_entry(right_press(window, bench, "line:breakwater"), "A copy")
    assert [p.id for p in window.desk.build.pieces][-1] == "breakwater-2"
    press(bench, "line:gallery")
    menu = right_press(window, bench, "step:sculpt")
    assert entries(menu)[:4] == ["Type its line", "Done before", "Done after", "Take this step out"]
    do_entry(menu, "Take this step out")
    assert "sculpt" not in [op.id for op in piece(window, "gallery").route]
    before = window.desk.decision("work_s:gallery/clay-blanket").value
    do_entry(right_press(window, bench, "decide:work_s:gallery/clay-blanket"), "A step more")
    assert window.desk.decision("work_s:gallery/clay-blanket").value > before
    menu = right_press(window, window.rail, "build:ferry")
    assert window.desk.chosen == "ferry", "what is spoken of is chosen"
    do_entry(menu, "Further up")
    assert window.desk.job.builds[0].id == "ferry"


def test_all_that_can_be_done_is_told_by_kind_each_with_the_key_that_works_everywhere(window):
    told = [action.text() for part in everything(window).findChildren(QMenu) for action in part.actions()]
    assert "A new job\tCtrl+N" in told
    assert "One more piece of this build" in told, "its key works on its bench alone"


def test_the_menu_key_asks_of_what_has_the_keyboard(bench, window):
    spot = bench.spots.find("line:tower")
    spot.setFocus()
    QApplication.sendEvent(spot, QContextMenuEvent(QContextMenuEvent.Reason.Keyboard, QPoint(1, 1), QPoint(1, 1)))
    menu = menu_of(window)
    assert menu.activeAction().text().startswith("Type its line")
    menu.close()


def test_a_press_on_the_jobs_name_tells_all_that_the_program_can_do(window):
    press(window.line, "whole")
    menu = menu_of(window)
    told = {words for part in menu.actions() if part.menu() for words in entries(part.menu())} | set(entries(menu))
    missing = {c.words for c in window.commands if c.words != "How the whole job stands"} - told
    assert not missing
    do_entry(menu, "How the whole job stands")
    assert window.benches.open_spec.name == "whole"


@pytest.mark.parametrize(("words", "first"), [
    ("rename", "Rename this build"), ("new puppet", "A new build"), ("new job", "A new job"), ("copy piece", "A copy of this piece"),
    ("plaster", "Plaster colours"), ("delete build", "Delete this build"), ("material", "Type this piece anew"), ("step", "One more step"),
])  # fmt: skip
def test_the_go_to_box_finds_what_can_be_done_by_the_words_people_type(window, words, first):
    window.goto.open()
    window.goto.line.setText(words)
    assert any(entry[0].startswith(first) for entry in window.goto.matches()[:4]), [
        entry[0] for entry in window.goto.matches()[:6]
    ]


def test_no_bench_is_a_blank_panel_before_there_is_a_build_or_a_piece(empty):
    window = empty
    for number in (Qt.Key.Key_2, Qt.Key.Key_3, Qt.Key.Key_4, Qt.Key.Key_5, Qt.Key.Key_6):
        key(window, number)
        assert window.benches.open_spec.name == "made"
        assert window.benches.bench.spots.find("begin:0").isVisible(), "without a build they are where one begins"
    window.desk.do("build bought: Harbour, 30 m, 1:24")
    window.desk.do("delete harbour/thing")
    window.desk.choose("harbour")
    for number, name in (
        (Qt.Key.Key_2, "scale"),
        (Qt.Key.Key_4, "mould"),
        (Qt.Key.Key_5, "mix"),
        (Qt.Key.Key_6, "cure"),
    ):
        key(window, number)
        assert window.benches.open_spec.name == name
        press(window.benches.bench, "empty")
        assert window.benches.open_spec.name == "made"
        assert line_open(window)
        key(window, Qt.Key.Key_Escape)
    press(window.benches.bench, "else")
    typed(window, "bollard: cylinder 500 × 800 mm, casting resin fast, block")
    key(window, Qt.Key.Key_4)
    assert window.benches.bench.spots.find("decide:wall_m:bollard")


def row_menu(rows, row, column=0):
    """What a right press on a cell of a list shows."""
    index = rows.rows.index(row, column)
    rows.scrollTo(index)
    at = rows.visualRect(index).center()
    view = rows.viewport()
    QApplication.sendEvent(view, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, view.mapToGlobal(at)))
    QApplication.processEvents()
    return menu_of(rows.window())


def test_a_row_of_every_list_tells_what_can_be_done_with_it(window, qtbot):
    benches, desk = window.benches, window.desk
    benches.open("breakdown")
    shots = benches.of("breakdown").list
    first = shots.rows.items[1]
    do_entry(row_menu(shots, 1, 1), "Look at this shot")
    assert (benches.open_spec.name, desk.breakdown.shot.id) == ("shot", first.id)
    benches.open("breakdown")
    do_entry(row_menu(shots, 1, 1), "Take it out")
    assert first.id not in [s.id for s in desk.job.shots]
    key(window, Qt.Key.Key_U)
    benches.open("coverage")
    needs = benches.of("coverage").needs
    covered = next(i for i, row in enumerate(needs.rows.items) if row.state == "build")
    what = needs.rows.items[covered]
    do_entry(row_menu(needs, covered, 1), "Let it go")
    assert desk.breakdown.find(what.shot.id).needs[what.index].cover is None
    benches.open("counts")
    counts = benches.of("counts").list
    good = next(i for i, column in enumerate(counts.rows.columns) if column.key == "good")
    cast = next(i for i, line in enumerate(counts.rows.items) if line.piece.mould)
    before = counts.rows.items[cast].piece.good
    do_entry(row_menu(counts, cast, good), "A step less")
    assert next(p for p in desk.build.pieces if p.id == counts.rows.items[cast].piece.id).good < before
    benches.open("log")
    log = benches.of("log").list
    assert entries(row_menu(log, 0))[0] == "Correct it"
    window.findChildren(QMenu, "what-can")[-1].close()
    struck = log.rows.items[0].id
    do_entry(row_menu(log, 0), "Strike it")
    wait_until(qtbot, lambda: struck not in [entry.id for entry in desk.book.standing])
    benches.open("whole")
    whole = benches.of("whole").list
    do_entry(row_menu(whole, 1), "What it is made of")
    assert (benches.open_spec.name, desk.chosen) == ("made", whole.rows.items[1].build.id)


def test_a_measured_section_is_pulled_wider_and_higher_between_its_neighbours(bench, window):
    window.desk.do("piece lighthouse/tower: tower: sections 4 × 2 at 0 / 6 × 3 at 5 / 2 × 2 at 14 m, carved")
    before = piece(window).form.sections
    drag(bench.spots.find("section:1"), 30, -20)
    after = piece(window).form.sections
    assert after[1].width_m > before[1].width_m
    assert after[1].depth_m / after[1].width_m == pytest.approx(0.5), "as round as it was"
    assert after[1].at_m > before[1].at_m
    assert (after[0], after[2]) == (before[0], before[2])
    drag(bench.spots.find("section:1"), 0, -900)
    assert 13 < piece(window).form.sections[1].at_m < 14, "it stays beneath the one above"
    window.desk.undo()
    window.desk.undo()
    assert piece(window).form.sections == before, "each pull is one step"
    bench.spots.find("section:2").setFocus()
    key(window, Qt.Key.Key_Down, times=3)
    assert piece(window).form.sections[2].width_m == pytest.approx(2 - 3 * 0.02)
    with pytest.raises(UserError, match="no such section"):
        section_pulled(window.desk.job, "lighthouse", "gallery", 0, 1.0, None)


def test_what_a_kind_brings_is_struck_and_taken_again_before_it_begins(empty):
    bench = empty.benches.of("made")
    press(bench, "brings:detail")
    press(bench, "brings:top")
    press(bench, "brings:top")
    assert bench.new.beginning.struck == {"detail"}
    press(bench, "begin-name")
    typed(empty, "Barge")
    press(bench, "begin-it")
    assert [p.name for p in empty.desk.build.pieces] == ["body", "top"]
    with pytest.raises(UserError, match="brings no"):
        empty.desk.session.do("build miniature: Raft, without sail")
    empty.desk.do("build miniature: Raft, without top and detail")
    assert [p.name for p in empty.desk.job.builds[-1].pieces] == ["body"]


def test_pieces_are_copied_as_lines_and_pasted_into_another_build_in_one_step(bench, window):
    press(bench, "line:breakwater")
    key(window, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    window.copy()
    line = QApplication.clipboard().text()
    assert line.startswith("breakwater: mesh")
    window.desk.choose("ferry")
    QTest.keyClick(bench, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    pasted = window.desk.build.pieces[-1]
    original = piece(window, "breakwater")
    assert (pasted.form, pasted.route, pasted.material) == (original.form, original.route, original.material), (
        "with its mesh and its steps"
    )
    window.desk.undo()
    window.desk.choose("lighthouse")
    lines = "mast: cylinder 20 × 400 mm, casting resin fast\nyard: cylinder 10 × 200 mm, up 300 mm"
    QApplication.clipboard().setText(lines)
    before = window.desk.job
    QTest.keyClick(bench, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert [p.name for p in window.desk.build.pieces][-2:] == ["mast", "yard"]
    assert window.desk.piece_id == "yard"
    key(window, Qt.Key.Key_U)
    assert window.desk.job == before, "one paste is one step"
    QApplication.clipboard().setText("mast: cylinder 20 × 400 mm\nnonsense")
    QTest.keyClick(bench, Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)
    assert window.desk.job == before, "all or nothing"
    assert "nonsense" in window.notice.words


def test_a_mesh_dropped_on_a_piece_becomes_its_form_and_beside_all_a_piece_of_its_own(bench, window, qtbot, tmp_path):
    mesh = tmp_path / "knob.stl"
    knob = trimesh.creation.cylinder(
        5, 1000, sections=12
    )  # a pole: in which unit is asked by the longest side of what stands there
    mesh.write_bytes(knob.export(file_type="stl"))

    def drop_on(place):
        mime = QMimeData()
        mime.setUrls([QUrl.fromLocalFile(str(mesh))])
        at = window.mapFromGlobal(bench.mapToGlobal(place))
        window.dropEvent(
            QDropEvent(at, Qt.DropAction.CopyAction, mime, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier)
        )
        wait_until(qtbot, lambda: "Which unit?" in window.notice.words)
        asked.append(window.notice.words)
        typed(window, "mm")

    asked, stood = [], measure(piece(window, "breakwater").form, window.desk.facts).size
    drop_on(bench.spots.find("piece:breakwater").geometry().center())
    assert piece(window, "breakwater").form.file_name == "knob.stl"
    units = [guess_unit((10.0, 10.0, 1000.0), side(stood)).unit for side in (max, min)]
    assert units[0] != units[1]
    assert f"In {units[0]} it is" in asked[0]
    count = len(window.desk.build.pieces)
    drop_on(bench.spots.find("else").geometry().center())
    assert [p.name for p in window.desk.build.pieces][count:] == ["knob"]
    assert piece(window, "knob").form.file_name == "knob.stl"


def test_a_piece_that_stands_on_another_is_lifted_off_it_and_stays_so_while_it_is_pulled(bench, window):
    boxes = {
        "foot": QRectF(-5, -2, 10, 2),
        "body": QRectF(-2, -6, 4, 4.1),
        "head": QRectF(-1, -7, 2, 1),
        "beside": QRectF(8, -9, 1, 3),
        "low": QRectF(-5, -1, 1, 1),
    }
    assert levels(boxes) == {
        "foot": (0, ""),
        "body": (1, "foot"),
        "head": (2, "body"),
        "beside": (0, ""),
        "low": (0, ""),
    }
    view = bench.pieces.elevation()
    assert (view.lift("gallery"), view.lift("tower")) == (LIFT_PX, 0)
    assert view.up(view.point(3.0, 15.4, "gallery").y(), "gallery") == pytest.approx(15.4), "there and back"
    press(bench, "line:gallery")
    handle, high = bench.spots.find("foot"), piece(window, "gallery").at_m[1]
    QTest.mousePress(handle, Qt.MouseButton.LeftButton)
    at = handle.rect().center()
    QTest.mouseMove(handle, at + QPoint(0, 1))
    QTest.mouseMove(handle, at + QPoint(0, 40))
    assert bench.pieces.elevation().lift("gallery") == LIFT_PX, "it does not jump under the hand"
    QTest.mouseRelease(handle, Qt.MouseButton.LeftButton)
    assert piece(window, "gallery").at_m[1] < high


def test_a_build_that_is_put_away_is_looked_at_nowhere_until_it_is_brought_back(bench, window):
    bench.doings.put_away()
    assert window.desk.chosen == "ferry", "its neighbour is chosen"
    assert "Lighthouse and breakwater is put away" in window.notice.words
    cast = {b.id for b in window.desk.job.cast}
    for place in ("made", "breakdown", "coverage", "counts", "floor", "whole", "log", "shot", "shoot"):
        window.benches.open(place)
        for shot in window.desk.job.shots:
            window.desk.breakdown.choose(shot.id)
            QApplication.processEvents()
            assert window.desk.chosen in cast
    window.desk.choose("lighthouse")
    assert window.desk.chosen != "lighthouse"
    assert "brings it back" in window.notice.words
    assert not window.rail.spots.find("build:lighthouse")
    assert window.rail.spots.find("away").accessibleName() == "1 put away: bring one back"
    press(window.rail, "away")
    typed(window, "")
    assert window.desk.chosen == "lighthouse"
    assert window.rail.spots.find("build:lighthouse")
    assert not window.rail.spots.find("away")
    for build in window.desk.job.builds:
        window.desk.choose(build.id)
        window.benches.of("made").doings.put_away()
    assert window.desk.job.cast == ()
    assert window.benches.open_spec.name == "made", "a new one begins, or an old one comes back"
    window.benches.of("made").doings.bring_back()
    typed(window, "Gull colony")
    assert window.desk.chosen == "gulls"


def test_a_mesh_is_cut_and_turned_over_from_the_bench(bench, window, qtbot):
    press(bench, "line:gallery")
    do_entry(right_press(window, bench, "line:gallery"), "Cut its mesh in two")
    assert open_line(window).text().startswith("2.10"), "half its height"
    typed(window, "1.234567 m up")
    wait_until(qtbot, lambda: len(window.desk.build.pieces) == 4)
    lower, upper = (p for p in window.desk.build.pieces if p.name.startswith("gallery "))
    assert upper.at_m[1] - lower.at_m[1] == pytest.approx(1.234567, abs=1e-4), "to the last digit that was typed"
    window.desk.undo()
    press(bench, "line:breakwater")
    key(window, Qt.Key.Key_X)
    wait_until(qtbot, lambda: len(window.desk.build.pieces) == 4)
    over = window.desk.build.pieces[-1]
    assert over.name == "breakwater mirrored"
    assert over.form.content != piece(window, "breakwater").form.content
    assert over.form.unit_m == piece(window, "breakwater").form.unit_m
    bench.acts.choose("tower")
    bench.doings.split_mesh()
    assert "is no mesh" in window.notice.words
    bench.acts.choose("gallery")
    bench.doings.split_mesh()
    typed(window, "somewhere")
    assert "does not say where it is cut" in window.notice.words


def test_r_passes_by_what_cannot_be_but_a_press_makes_it_all_the_same(bench, window):
    press(bench, "line:gallery")
    key(window, Qt.Key.Key_R)
    assert "draw" not in [op.id for op in piece(window, "gallery").route]
    assert piece(window, "gallery").mould is None, "laminate locks: the next that can be is printed"
    window.desk.undo()
    press(bench, "way:rigid")
    assert piece(window, "gallery").mould.layer_m == 0.03
    assert "it cannot: 20% of the side view is undercut" in window.notice.words


def test_a_piece_is_given_to_the_build_that_stands_there_to_be_taken(bench, window):
    press(bench, "line:breakwater")
    bench.doings.give_piece()
    typed(window, "")
    assert "breakwater" in [p.name for p in window.desk.job.build("ferry").pieces]
    assert "breakwater" not in [p.name for p in window.desk.build.pieces]


def test_arrows_walk_the_lines_and_take_the_keyboard_along(bench, window):
    bench.spots.find("line:tower").setFocus()
    key(window, Qt.Key.Key_Down)
    assert (window.desk.piece_id, QApplication.focusWidget().objectName()) == ("gallery", "line:gallery")
    key(window, Qt.Key.Key_Up, times=2)
    assert QApplication.focusWidget().objectName() == "line:breakwater", "round and round"


def test_a_table_of_pieces_is_dropped_matched_and_taken_in_as_one_step(window, tmp_path, qtbot):
    window.desk.choose("ferry")
    window.benches.open("made")
    before = window.desk.job
    file = tmp_path / "parts.csv"
    file.write_text("Teil;size;made of;count\nbuoy;ball 800 mm;casting resin slow;3\nodd;huge;;\n", "utf-8")
    drop(window, file)
    qtbot.waitUntil(lambda: window.benches.over == "match", timeout=20_000)
    match = window.benches.of("match")
    while match.columns[0] != "name":
        match.turn(0, 1)
    assert [b.row for b in match.trial().bad] == [3]
    columns, place = match.columns, match.list.visualRect(match.list.model().index(1, 1)).center()
    QTest.mouseClick(match.list.viewport(), Qt.MouseButton.LeftButton, pos=place)
    assert match.columns != columns
    match.list.choose(1)
    QTest.keyClick(match, Qt.Key.Key_Left)
    assert match.columns == columns, "there by a press and back by a key"
    match.take()
    assert window.benches.over == "made"
    assert [p.name for p in window.desk.build.pieces][-1] == "buoy"
    assert remembered("pieces")["teil"] == "name"
    key(window, Qt.Key.Key_U)
    assert window.desk.job == before
    out = tmp_path / "all.xlsx"
    window.desk.pieces.write(out)
    qtbot.waitUntil(out.exists, timeout=20_000)


def test_another_piece_is_looked_at_from_its_first_mix_and_a_line_names_its_step(bench, window):
    window.desk.piece_id, window.desk.mix_index, window.desk.op_id = "tower", 1, "rubber"
    bench.acts.choose("gallery")
    assert (window.desk.piece_id, window.desk.mix_index, window.desk.op_id) == ("gallery", 0, None)
    assert bench.acts.described("Lighthouse and breakwater: 1:10")
    assert window.desk.build.scale == 10
    assert window.desk.session.undo_name == "Lighthouse and breakwater described"


def test_the_go_to_box_is_walked_by_arrows_and_takes_what_is_chosen(window):
    window.goto.open()
    type_words(window.goto.line, "ferry")
    rows, at = window.goto.list, []
    for which in (Qt.Key.Key_Down, Qt.Key.Key_Down, Qt.Key.Key_Up, Qt.Key.Key_Up, Qt.Key.Key_Up):
        QTest.keyClick(window.goto.line, which)
        at.append(rows.currentIndex().row())
    last = rows.rows.rowCount() - 1
    assert at == [1, 2, 1, 0, last], "one at a time, and round"
    QTest.keyClick(window.goto.line, Qt.Key.Key_Down)
    QTest.keyClick(window.goto.line, Qt.Key.Key_Return)
    assert (window.desk.chosen, window.goto.isVisible()) == ("ferry", False)
    window.goto.open()
    type_words(window.goto.line, "paddle ferry")
    assert [rows.rows.index(0, column).data() for column in range(2)] == [*window.goto.matches()[0][:2]]
    window.goto.open()
    type_words(window.goto.line, "one more piece of this build")
    assert rows.rows.rowCount() == 1
    QTest.keyClick(window.goto.line, Qt.Key.Key_Down)
    assert rows.currentIndex().row() == 0, "there is no other"
