"""Every bench at every size, in both colours and both systems: it paints, it can be reached, and it speaks."""

import math

import pytest
from PySide6.QtCore import QEvent, QObject, QRectF, Qt
from PySide6.QtGui import QAccessible
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.benches.mix.bench import MixBench
from homunculus.app.benches.register import BENCHES
from homunculus.app.drawing.spot import SPARE, Handle, Spot, Spots
from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.figures import STATIONS
from homunculus.devices.protocol import Hello, Reading
from tests.app.conftest import drag, key, open_line, turn_wheel, wait_until

SIZES = ((1280, 800), (900, 560), (1920, 1080))
BUILDS = ("lighthouse", "keeper", "gulls", "oldclaw", "saltbust")


def settle(window, qtbot):
    QApplication.processEvents()
    wait_until(qtbot, lambda: not window.desk.runner.busy("field", "study"), 60000)
    QApplication.processEvents()


def spots(bench):
    return [s for s in bench.findChildren(Spot) if s.isVisible()]


@pytest.mark.parametrize(
    ("size", "build"),
    [
        *((SIZES[0], build) for build in BUILDS),
        *((size, build) for size in SIZES[1:] for build in ("lighthouse", "gulls")),
    ],
)
def test_every_bench_paints_is_reached_and_speaks_in_both_systems_and_colours(open_window, folder, qtbot, size, build):
    window = open_window(folder, size)
    window.desk.choose(build)
    for place in (*STATIONS, *(spec.name for spec in BENCHES if spec.key)):
        if place in STATIONS:
            window.desk.go(place)
        else:
            window.benches.toggle(place)
        settle(window, qtbot)
        for theme, system in (("plaster", "metric"), ("stage", "imperial")):
            window.desk.use_theme(theme)
            window.desk.use_units(system)
            QApplication.processEvents()
            bench = window.benches.bench
            picture = bench.grab().toImage()
            seen = {picture.pixel(x, y) for x in range(0, picture.width(), 7) for y in range(0, picture.height(), 7)}
            assert len(seen) > 3, "an empty bench"
            for spot in spots(bench):
                assert spot.accessibleName().strip(), spot.objectName()
                assert "None" not in spot.accessibleName()
                assert spot.focusPolicy() == Qt.FocusPolicy.StrongFocus
                if isinstance(bench, JobBench | MixBench):
                    assert bench.rect().intersects(spot.geometry()), spot.objectName()
                if isinstance(spot, Handle):
                    assert max(spot.width(), spot.height()) >= 40, spot.objectName()


def test_every_spot_of_a_bench_is_reached_by_tab(open_window, folder, qtbot):
    window = open_window(folder)
    for place in ("mould", "mix", "cure", "shot", "shoot", "breakdown", "coverage", "counts", "floor", "whole"):
        if place in STATIONS:
            window.desk.go(place)
        else:
            window.benches.toggle(place)
        settle(window, qtbot)
        wanted = {s.objectName() for s in spots(window.benches.bench)}
        first = spots(window.benches.bench)[0]
        first.setFocus()
        seen = set()
        for _ in range(3 * len(wanted) + 80):
            focus = QApplication.focusWidget()
            seen.add(focus.objectName() if focus else "")
            QTest.keyClick(focus or window, Qt.Key.Key_Tab)
        assert wanted <= seen, wanted - seen


def test_the_log_and_the_weigh_up_paint_at_every_size(open_window, folder, qtbot):
    window = open_window(folder)
    window.desk.go("mix")
    settle(window, qtbot)
    window.benches.of("mix").show_pour("rubber-1")
    window.benches.open("weigh_up")
    window.benches.of("weigh_up").weigher.close()
    for size in SIZES:
        window.resize(*size)
        window.desk.use_units("imperial" if size[0] < 1000 else "metric")
        QApplication.processEvents()
        assert not window.benches.of("weigh_up").grab().isNull()
        assert window.benches.of("weigh_up").width() == size[0]
    window.benches.of("weigh_up").close_up()
    key(window, Qt.Key.Key_L)
    for size in SIZES:
        window.resize(*size)
        QApplication.processEvents()
        assert spots(window.benches.of("log"))


# ------------------------------------------------------------------------------------ the weigh-up
@pytest.fixture
def weigh(open_window, folder, qtbot):
    """The weigh-up of the gallery, whose readings come from the test."""
    window = open_window(folder)
    window.desk.go("mix")
    settle(window, qtbot)
    window.benches.of("mix").show_pour("rubber-1")
    window.benches.open("weigh_up")
    window.benches.of("weigh_up").weigher.close()
    yield window
    if window.benches.of("weigh_up").weigher:
        window.benches.of("weigh_up").close_up()


def feed(weigher, grams, seconds=3.0, start=[0.0]):  # noqa: B006  (a clock that goes on)
    for _ in range(round(seconds * 10)):
        start[0] += 0.1
        weigher.hear(start[0], Reading(grams / 1000, True))


def test_readings_at_rest_within_the_tolerance_are_taken_and_others_wait(weigh):
    weigher, up = weigh.benches.of("weigh_up").weigher, weigh.benches.of("weigh_up")
    target = weigher.at.weighing.targets[0] * 1000
    assert "Put the cup for batch 1" in up._next_words(weigher)
    parts, stir = weigher.at.recipe.parts, f"then stir for {weigh.desk.given(weigher.at.stir_s, 'duration')}"
    assert len(parts) == 2
    feed(weigher, target)
    assert not weigher.at.weighing.cup, "nothing is taken before the cup stands there"
    key(weigh, Qt.Key.Key_Space)
    feed(weigher, 0.0)
    assert up._next_words(weigher).startswith(f"Pour {parts[0].name} to ")
    assert stir not in up._next_words(weigher), "only with what comes last"
    feed(weigher, target * 0.7)
    assert not weigher.at.weighing.cup, "it waits for the rest"
    feed(weigher, target)
    assert up._next_words(weigher).startswith(f"Pour {parts[1].name} to ")
    assert up._next_words(weigher).endswith(stir)
    assert weigher.at.weighing.cup[0] * 1000 == pytest.approx(target, abs=0.06)
    assert weigher.at.weighing.next_part == 1


def test_less_than_asked_is_taken_by_hand_and_can_be_taken_back(weigh):
    weigher = weigh.benches.of("weigh_up").weigher
    key(weigh, Qt.Key.Key_Space)
    feed(weigher, 0.0, 0.2)
    weigher.hear(1000.0, Reading(0.200, False))
    key(weigh, Qt.Key.Key_Space)
    assert weigher.at.weighing.cup[0] == pytest.approx(0.2)
    assert "under" in weigh.benches.of("weigh_up")._why_words(weigher)
    key(weigh, Qt.Key.Key_Backspace)
    assert not any(weigher.at.weighing.cup)
    assert weigher.at.phase == "part"


def test_the_lot_is_named_once_and_goes_into_every_weight_after(weigh, qtbot):
    key(weigh, Qt.Key.Key_L)
    line = open_line(weigh)
    assert "lot of A" in line.accessibleName()
    line.setText("2301 A")
    QTest.keyClick(line, Qt.Key.Key_Return)
    key(weigh, Qt.Key.Key_L)
    line = open_line(weigh)
    line.setText("2302")  # a lot has no unit: what stood there adds nothing to it
    QTest.keyClick(line, Qt.Key.Key_Return)
    weigh.benches.of("weigh_up").weigher.type_weight("680 g")
    wait_until(qtbot, lambda: weigh.desk.log[-1].kind == "weighed")
    entry = weigh.desk.log[-1]
    assert (entry.lot, entry.batch, entry.weights_kg) == ("2302", 1, {"A": 0.68})
    assert entry.celsius == weigh.desk.status.air_c


def test_a_disk_that_is_full_is_said_while_weighing_and_the_weight_is_held(weigh, qtbot, monkeypatch):
    def full(_entry):
        raise UserError("Could not save here: the disk is full. Everything is still open")

    desk = weigh.desk
    append = desk.folder.append
    monkeypatch.setattr(desk.folder, "append", full)
    weigh.benches.of("weigh_up").weigher.type_weight("680 g")
    wait_until(
        qtbot, lambda: "disk is full" in weigh.benches.of("weigh_up")._why_words(weigh.benches.of("weigh_up").weigher)
    )
    assert [e.weights_kg for e in desk.keeper.held] == [{"A": 0.68}]
    monkeypatch.setattr(desk.folder, "append", append)
    weigh.benches.of("weigh_up").weigher.type_weight("68 g")
    wait_until(qtbot, lambda: [e.weights_kg for e in desk.log[-2:]] == [{"A": 0.68}, {"B": 0.068}])
    assert (
        "Space when" in weigh.benches.of("weigh_up")._why_words(weigh.benches.of("weigh_up").weigher)
        or weigh.benches.of("weigh_up").weigher.at.did
    )


def test_a_coarser_scale_shows_what_it_resolves_and_no_more(weigh):
    weigher, up = weigh.benches.of("weigh_up").weigher, weigh.benches.of("weigh_up")
    weigher._meet(Hello(0.001, 15.0))
    weigher.at.pan.zeroing = False
    weigher.hear(1.0, Reading(0.0412, True))
    assert up._reading(weigher) == "41\N{NO-BREAK SPACE}g"
    weigh.desk.use_units("imperial")
    assert up._reading(weigher) == "1.45\N{NO-BREAK SPACE}oz"


def test_the_pot_life_runs_from_when_the_parts_meet_and_warns_once_before_gel(weigh, monkeypatch):
    from datetime import timedelta

    weigher, up, desk = weigh.benches.of("weigh_up").weigher, weigh.benches.of("weigh_up"), weigh.desk
    beeps = []
    monkeypatch.setattr(QApplication, "beep", lambda: beeps.append(1))
    whole = weigher.at.left_s
    weigher.type_weight("689 g")
    assert weigher.at.met is None
    weigher.type_weight("68.9 g")
    assert weigher.at.met == desk.now()
    start = desk.now()
    desk._frozen = start + timedelta(seconds=whole - 240)
    for _ in range(3):
        up._pass_time()
    assert beeps == [1]
    assert weigher.at.left_s == pytest.approx(240)
    desk._frozen = start + timedelta(seconds=whole + 60)
    up._pass_time()
    assert weigher.at.left_s < 0
    assert not up.grab().isNull()


def test_the_device_of_the_scale_is_typed_and_one_that_is_not_there_is_said(weigh, qtbot):
    key(weigh, Qt.Key.Key_C)
    line = open_line(weigh)
    line.setText("/dev/no-such-scale")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert open_line(weigh) is None
    weigher = weigh.benches.of("weigh_up").weigher
    wait_until(qtbot, lambda: "not there" in weigher.at.pan.quiet, 60_000)
    assert not weigher.practising
    assert "not there" in weigh.benches.of("weigh_up")._why_words(weigher)
    weigher.connect_scale("practice")
    wait_until(qtbot, lambda: not weigher.at.pan.quiet and weigher.at.pan.heard, 60_000)
    QTest.keyPress(weigh.benches.of("weigh_up"), Qt.Key.Key_Down)
    wait_until(qtbot, lambda: weigher.at.pan.kg > 0.005, 60_000)
    QTest.keyRelease(weigh.benches.of("weigh_up"), Qt.Key.Key_Down)


# ---------------------------------------------------------------------------------------- the mould
def test_the_plane_slides_turns_and_the_table_turns_under_the_hand(open_window, folder, qtbot):
    window = open_window(folder)
    window.desk.go("mould")
    settle(window, qtbot)
    bench, job = window.benches.of("mould"), window.desk.job
    plane = bench.spots.find("plane")
    drag(plane, 0, -30)
    assert bench.offset > 0
    drag(plane, 36)
    assert bench.angle == pytest.approx(3 * 0.0872665, abs=1e-3)
    assert "turned 15" in bench.spots.find("plane").accessibleName()
    before = bench.grab(bench.table_area().toAlignedRect()).toImage()
    drag(bench.spots.find("turntable"), 60, 10)
    assert bench.grab(bench.table_area().toAlignedRect()).toImage() != before
    bench.spots.find("turntable").setFocus()
    yaw = bench.turntable.yaw
    key(window, Qt.Key.Key_Right, times=36)
    assert bench.turntable.yaw % math.tau == pytest.approx(yaw % math.tau), "36 steps of ten degrees are once around"
    bench.move_plane(99.0, 0.0)
    assert bench.offset == pytest.approx(bench.figure(specs.FORM).value.size[1] / 2)
    assert window.desk.job is job


def test_a_rigid_mould_has_its_gap_wall_and_skin_taken_hold_of(open_window, folder, qtbot):
    window = open_window(folder)
    window.desk.choose("gulls")
    window.desk.go("mould")
    settle(window, qtbot)
    bench = window.benches.of("mould")
    view = bench.section(bench.piece())
    assert view.surround == "halves"
    assert view.core
    before = bench.figure(specs.ONE_CASTING).number
    bench.spots.find("decide:gap_m:body").setFocus()
    key(window, Qt.Key.Key_Up, times=4)
    assert window.desk.decision("gap_m:body").value == pytest.approx(0.014)
    assert bench.figure(specs.ONE_CASTING).number > before
    bench.type_value("gap_m:body")
    line = open_line(bench)
    line.setText("0")
    QTest.keyClick(line, Qt.Key.Key_Return)
    assert bench.figure(specs.CORE) is None
    assert not bench.section(bench.piece()).core
    shown = [round(f.number * 1e6) for f, _, _ in bench._parts(bench.piece())]
    assert sum(shown) == pytest.approx(bench.figure(specs.STONE_VOLUME).number * 1e6, abs=2)


def test_a_list_is_walked_scrolled_chosen_from_copied_widened_and_heard(open_window, folder, qtbot):
    window = open_window(folder)
    key(window, Qt.Key.Key_L)
    log = window.benches.of("log")
    rows, bar = log.list, log.list.verticalScrollBar()
    turn_wheel(rows.viewport(), pixels=(0, -30))
    assert bar.value() == 30, "a touchpad moves by pixels, not by rows"
    turn_wheel(rows.viewport(), -120)
    assert bar.value() > 30
    key(window, Qt.Key.Key_Down)
    assert rows.hasFocus()
    assert rows.item() is log.rows()[0]
    assert bar.value() == 0, "the row that the keyboard is on is brought into sight"
    key(window, Qt.Key.Key_End)
    assert rows.item() is log.rows()[len(log.rows()) - 1]
    rows.choose(2)
    key(window, Qt.Key.Key_Down, Qt.KeyboardModifier.ShiftModifier)
    assert rows.selected() == list(log.rows())[2:4]
    QTest.keyClick(rows, Qt.Key.Key_C, Qt.KeyboardModifier.ControlModifier)
    head, *copied = QApplication.clipboard().text().split("\n")
    assert head.split("\t")[:3] == ["when", "what", "what happened"]
    assert [line.split("\t")[1].split(",")[0] for line in copied] == [e.kind for e in rows.selected()]
    spoken = QAccessible.queryAccessibleInterface(rows)
    assert spoken.role() == QAccessible.Role.Table
    heard = [spoken.child(i).text(QAccessible.Text.Name) for i in range(min(spoken.childCount(), 40))]
    assert log._spoken(log.rows()[2]) in heard
    chosen = rows.item()
    window.desk.write("note", "one more on top")
    qtbot.waitUntil(lambda: log.rows()[0].text == "one more on top", timeout=60_000)
    QApplication.processEvents()
    assert rows.rows.rowCount() == len(log.rows())
    assert rows.item() is chosen, "what was chosen stays chosen when a row comes in above"
    rows.horizontalHeader().resizeSection(0, 140)
    window.close()
    again = open_window(folder)
    again.benches.toggle("log")
    assert again.benches.of("log").list.columnWidth(0) == 140
    window, log = again, again.benches.of("log")
    log.only_this_build()
    assert {e.build for e in log.rows()} <= {window.desk.chosen}
    window.desk.choose("ferry")
    log.only_this_build()
    log.only_this_build()
    assert {e.build for e in log.rows()} == {"ferry"}
    key(window, Qt.Key.Key_Escape)
    assert not log.isVisible()


def test_what_is_in_its_mould_opens_when_its_own_pour_says(open_window, folder):
    window = open_window(folder)
    window.desk.choose("keeper")
    bar = next(b for b in window.desk.status.bars if b.build == "keeper" and not b.planned)
    said = window.line.spots.find("station:cure").accessibleName()
    assert f"{bar.opens:%H:%M}" in said
    assert not [m for m in window.desk.minds if m.station == "cure"]
    window.desk.choose("lighthouse")
    assert [m for m in window.desk.minds if m.station == "cure"]


class Painted(QObject):
    """Counts how often a widget was painted."""

    def __init__(self, widget):
        super().__init__(widget)
        self.times = 0
        widget.installEventFilter(self)

    def eventFilter(self, _watched, event):
        self.times += event.type() == QEvent.Type.Paint
        return False


def test_a_list_is_drawn_anew_when_what_its_rows_depend_on_differs_and_only_then(open_window, folder):
    window = open_window(folder)

    def painted(name, act):
        QTest.qWait(120)  # what opening it still has to paint
        counted = Painted(window.benches.of(name).list.viewport())
        act()
        QTest.qWait(60)
        return counted.times > 0

    window.benches.open("log")
    assert painted("log", lambda: window.desk.use_units("imperial")), "weights are in ounces now"
    assert not painted("log", lambda: window.desk.changed.emit())
    window.benches.open("whole")
    assert painted("whole", lambda: window.desk.choose("gulls"))
    window.benches.open("breakdown")
    covered = window.desk.breakdown.find("14")
    assert painted("breakdown", lambda: window.desk.breakdown.cover(covered, 2, "stock: a rope"))
    window.desk.breakdown.files.read_pasted("shot,what happens\n41,a gull lands\n")
    assert painted("match", lambda: window.benches.of("match").turn(1, 1)), "what a column becomes"


def test_spots_of_long_ago_are_let_go_and_those_of_late_are_the_same_again(window):
    place = window.rail
    spots, area = Spots(place), QRectF(0, 0, 20, 20)
    made = []
    for number in range(SPARE + 40):
        spots.begin()
        made.append(spots.place(f"of {number}", area, "here", None))
        spots.end()
    assert len(spots._known) == SPARE + 1
    spots.begin()
    assert spots.place("of 41", area, "here", None) is made[41], "it was kept"
    assert spots.place("of 1", area, "here", None) is not made[1], "it was let go"
    spots.end()
    assert list(spots.areas()) == ["of 41", "of 1"]


@pytest.mark.parametrize(
    ("held", "said"), [(Qt.KeyboardModifier.NoModifier, 1), (Qt.KeyboardModifier.ControlModifier, 0)]
)
def test_a_letter_of_a_bench_stands_alone(window, held, said):
    window.benches.open("made")
    before = len(window.desk.build.pieces)
    QTest.keyClick(window.benches.bench, Qt.Key.Key_D, held)
    assert len(window.desk.build.pieces) - before == said
