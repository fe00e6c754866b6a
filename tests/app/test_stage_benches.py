"""The stage, the measuring card and the moves of a shot: by mouse, by keys and typed, told in the picture, undone, and written."""

import csv
import math
import random
import time

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QImage
from PySide6.QtWidgets import QApplication

from homunculus.app.benches.stage.scene import path_of
from homunculus.core import specs
from homunculus.core.camera.picture import outline_seen
from homunculus.core.job.sets import Place
from homunculus.core.job.stage import CameraMove, StageAir
from homunculus.core.planners.moving import offsets_at
from tests.app.acting import Noting
from tests.app.conftest import drop, key, open_line, typed


def shot_of(window, number="4"):
    return next(s for s in window.desk.job.shots if s.id == number)


def place(window, need, number="4"):
    return shot_of(window, number).needs[need].place


def settle(window, bench, seconds=30.0):
    """Wait until the coarse copies of all meshes are there."""
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        QApplication.processEvents()
        stage = bench.stage()
        if stage and not any(b.waits and window.desk.job.build(p.build).pieces for b in bench.scene.bodies(stage)
                             for p in stage.found.planes if p.need == b.need and p.build):  # fmt: skip
            return
        time.sleep(0.01)
    raise AssertionError("the meshes never came")


def opened(window, name, number, build="lighthouse"):
    window.desk.choose(build)
    window.benches.open("lens")
    window.desk.breakdown.choose(number)
    window.benches.open(name)
    return window.benches.of(name)


@pytest.fixture
def stage(window):
    bench = opened(window, "stage", "4")
    settle(window, bench)
    return bench


def pull(bench, spot, along=0.0, up=0.0):
    """Pull a handle by so many pixels to the right and up, in three moves."""
    handle = bench.spots.find(spot)
    at = QPointF(handle.geometry().center())
    handle.pressed.emit()
    for part in (0.0, 0.5, 1.0):
        handle.dragged.emit(at + QPointF(along * part, -up * part))
    handle.released.emit()


def focus(bench, spot):
    found = bench.spots.find(spot)
    found.setFocus()
    return found


def back_to(window, job):
    window.desk.undo()
    assert window.desk.job == job


# --------------------------------------------------------------------------------------------- stage
def test_a_thing_is_pulled_along_aside_and_up_in_plan_side_and_picture_and_each_pull_is_one_step(window, stage):
    px, before = stage.floor_view(stage.stage()).px, window.desk.job
    pull(stage, "plan:2", along=-0.5 * px, up=-0.2 * px)
    assert (place(window, 2).at_m, place(window, 2).across_m) == pytest.approx((4.7, 0.8), abs=0.011)
    back_to(window, before)
    pull(stage, "side:2", up=0.1 * px)
    foot = stage.stage().find(specs.PLANE_FOOT, use="headland cut-outs behind").number
    assert place(window, 2).foot_m == pytest.approx(foot, abs=1e-9)
    assert foot == pytest.approx(2.05 - 13.8 / 48 + 0.1, abs=0.006)
    focus(stage, "side:2")
    key(window, Qt.Key.Key_Delete)
    assert place(window, 2).foot_m is None, "it rises to the eye again"
    eye, picture = stage.scene.eye(stage.stage()), stage.picture_area(stage.stage())
    seen = (
        stage.scene.seen(next(b for b in stage.scene.bodies(stage.stage()) if b.need == 2), eye)
        .boundingRect()
        .center()
        .x()
    )
    pull(stage, "shape:2", along=-40.0)
    after = (
        stage.scene.seen(next(b for b in stage.scene.bodies(stage.stage()) if b.need == 2), eye)
        .boundingRect()
        .center()
        .x()
    )
    assert after - seen == pytest.approx(-40 * eye.wide_px / picture.width(), abs=6), "it stays under the hand"
    before = window.desk.job
    pull(stage, "place:1", up=80.0)
    assert place(window, 1).at_m == pytest.approx(0.62 * math.exp(0.5), abs=0.006)
    back_to(window, before)


def test_while_something_is_pulled_the_drawing_keeps_its_scale_under_the_hand(window, stage):
    px = stage.floor_view(stage.stage()).px
    window.desk.grasp()
    stage.laying.grasp()
    stage.laying.pull(2, 30.0, 0.0, 0.0)
    assert stage.floor_view(stage.stage()).px == px
    window.desk.let_go()
    assert stage.floor_view(stage.stage()).px < px, "then all is in sight again"


def test_arrows_enter_and_delete_do_what_the_mouse_does(window, stage):
    focus(stage, "plan:0")
    key(window, Qt.Key.Key_Right)
    assert place(window, 0).across_m == pytest.approx(0.055)
    key(window, Qt.Key.Key_Delete)
    assert (place(window, 0).across_m, place(window, 0).turn_deg) == (0.0, 0.0)
    focus(stage, "side:1")
    key(window, Qt.Key.Key_Up)
    assert place(window, 1).foot_m == pytest.approx(1.935)
    focus(stage, "place:2")
    key(window, Qt.Key.Key_Up)
    assert place(window, 2).at_m == pytest.approx(5.25, abs=0.006)
    key(window, Qt.Key.Key_Return)
    typed(window, "stands 6 m, 0.2 m left, turned 10°, at 1:72, 3 m wide, 2 m high")
    assert place(window, 2) == Place(6.0, scale=72.0, across_m=-0.2, turn_deg=10.0, wide_m=3.0, high_m=2.0)
    key(window, Qt.Key.Key_X)
    assert place(window, 2).soft
    focus(stage, "camera")
    key(window, Qt.Key.Key_Return)
    typed(window, "28 mm, eye 1.9 m, 0.1 m right, pan 3°, tilt -2°, roll 1°")
    camera = shot_of(window).cameras[0]
    assert (camera.focal_m, camera.height_m, camera.across_m, camera.pan_deg, camera.tilt_deg, camera.roll_deg) == (
        0.028,
        1.9,
        0.1,
        3.0,
        -2.0,
        1.0,
    )
    focus(stage, "eye")
    key(window, Qt.Key.Key_Up, times=2)
    assert shot_of(window).cameras[0].height_m == pytest.approx(1.91)
    focus(stage, "camera")
    key(window, Qt.Key.Key_Right)
    assert place(window, 1).at_m == pytest.approx(0.61)
    assert shot_of(window).cameras[0].height_m == pytest.approx(1.91), "along and no higher"
    focus(stage, "row:1")
    key(window, Qt.Key.Key_Down)
    assert stage.chosen == 0
    key(window, Qt.Key.Key_Delete)
    assert place(window, 0) is None
    assert stage.spots.find("waiting:0")
    stage.put_down(0)
    typed(window, "stands 2 m")
    assert place(window, 0) == Place(2.0)


def test_a_camera_is_pulled_in_plan_and_its_eye_from_the_side_and_neither_moves_the_other(window, stage):
    before = shot_of(window).cameras[0]
    pull(stage, "camera", 30.0, 20.0)
    moved = shot_of(window).cameras[0]
    assert moved.height_m == before.height_m
    assert moved.across_m != before.across_m
    assert place(window, 1).at_m != 0.6
    stood = place(window, 1)
    pull(stage, "eye", up=25.0)
    raised = shot_of(window).cameras[0]
    assert raised.height_m > before.height_m
    assert (raised.across_m, place(window, 1)) == (moved.across_m, stood)


def test_a_scale_is_pulled_stepped_and_typed_and_keeps_what_it_looks_or_where_it_stands(window, stage):
    before = window.desk.job
    pull(stage, "scale:2", up=160.0)
    plane = next(p for p in window.desk.plan.sets["4"].planes if p.need == 2)
    assert plane.scale.number == pytest.approx(48 * math.e, abs=1)
    assert plane.at.number * plane.scale.number == pytest.approx(5.2 * 48)
    back_to(window, before)
    focus(stage, "scale:2")
    key(window, Qt.Key.Key_Up)
    assert place(window, 2).scale == 72.0
    key(window, Qt.Key.Key_Return)
    typed(window, "1:96 stays")
    plane = next(p for p in window.desk.plan.sets["4"].planes if p.need == 2)
    assert (plane.scale.number, plane.at.number) == pytest.approx((96.0, 5.2 * 48 / 72))
    key(window, Qt.Key.Key_Return)
    typed(window, "huge")
    assert "huge" in window.notice.words
    key(window, Qt.Key.Key_Escape)
    focus(stage, "scale:0")
    key(window, Qt.Key.Key_Down)
    assert window.desk.job.build("lighthouse").scale == 10.0
    looks = next(p for p in window.desk.plan.sets["4"].planes if p.need == 0)
    assert looks.at.number == pytest.approx(2.4), "it keeps what it looks"


def test_air_eye_and_what_passes_are_decided_on_the_drawing(window, stage):
    focus(stage, "air")
    key(window, Qt.Key.Key_Up)
    assert shot_of(window).air.sight_m == pytest.approx(2200.0)
    key(window, Qt.Key.Key_Return)
    typed(window, "sight 1 km at 5 %, dry ice 30 kg/h for 1 h")
    assert shot_of(window).air == StageAir(1000.0, 5, 30.0, 3600.0)
    assert any(f.spec is specs.CARBON_DIOXIDE for _, f in stage.told(stage.stage()).notes())
    assert stage.spots.find("figure:stage.carbon_dioxide")
    key(window, Qt.Key.Key_Delete)
    assert shot_of(window).air is None
    focus(stage, "real")
    key(window, Qt.Key.Key_Return)
    typed(window, "9.6 m")
    assert stage.stage().find(specs.PLANE_FOOT, use="headland cut-outs behind").number == pytest.approx(2.05 - 9.6 / 48)
    pull(stage, "real", up=16.0)
    assert shot_of(window).eye_real_m == pytest.approx(9.8)
    focus(stage, "real")
    key(window, Qt.Key.Key_Delete)
    assert shot_of(window).eye_real_m is None
    tight = stage.stage().find(specs.FREE_SIDEWAYS, camera="").number
    focus(stage, "decide:shop.shift_px")
    key(window, Qt.Key.Key_Return)
    typed(window, "6")
    assert stage.stage().find(specs.FREE_SIDEWAYS, camera="").number == pytest.approx(2 * tight)


def test_what_is_painted_in_the_picture_is_the_exact_outline_and_the_near_covers_the_far(window, stage):
    window.desk.use_theme("plaster")
    QApplication.processEvents()
    shown = stage.stage()
    picture, eye = stage.picture_area(shown), stage.scene.eye(shown)
    image: QImage = stage.grab().toImage()
    ratio = image.width() / stage.width()
    k = picture.width() / eye.wide_px

    def colour(x, y):
        return image.pixelColor(round((picture.left() + x * k) * ratio), round((picture.top() + y * k) * ratio))

    bodies = {b.need: b for b in stage.scene.bodies(shown)}
    paths = {need: path_of(outline_seen(body, eye)) for need, body in bodies.items()}
    rng = random.Random(4)
    checked = 0
    fills = {}
    while checked < 150:
        at = QPointF(rng.uniform(40, eye.wide_px - 40), rng.uniform(40, eye.high_px - 40))
        near = [need for need in (1, 0, 2) if paths[need].contains(at)]
        edge = any(
            paths[n].contains(at + QPointF(dx, dy)) != paths[n].contains(at)
            for n in paths
            for dx in (-30, 30)
            for dy in (-30, 30)
        )
        if edge:
            continue  # an edge is ink
        fills.setdefault(near[0] if near else None, set()).add(colour(at.x(), at.y()).name())
        checked += 1
    assert {1, 0, 2, None} <= set(fills)
    assert all(len(fills[need]) == 1 for need in (0, 1, 2)), fills
    assert len({next(iter(fills[need])) for need in (0, 1, 2)}) == 3


def test_boards_are_drawn_edge_on_and_nothing_lies_where_it_does_not_stand(window, stage):
    view = stage.floor_view(stage.stage())
    for body in view.bodies:
        low, high = body.reach()
        plan, side = view.box(body, "plan"), view.box(body, "side")
        assert (plan.top(), plan.bottom()) == pytest.approx(
            (view.axis_y + low[0] * view.px, view.axis_y + high[0] * view.px), abs=0.5
        ), body.name
        assert (side.bottom(), side.top()) == pytest.approx(
            (view.floor - low[2] * view.px, view.floor - high[2] * view.px), abs=0.5
        ), body.name
        assert (plan.left(), plan.right()) == pytest.approx((view.x_of(low[1]), view.x_of(high[1])), abs=0.5), body.name


def test_a_set_is_laid_from_nothing_and_every_empty_state_has_a_live_handle(open_window, tmp_path, now):
    from homunculus.store.new_job import new_job

    window = open_window(new_job(tmp_path / "own", "Own", now))
    window.desk.do("build miniature: Barge, 24 × 5 × 3 m, 1:8")
    window.benches.open("stage")
    bench = window.benches.of("stage")
    bench.spots.find("empty").act()
    assert shot_of(window, window.desk.job.shots[0].id)
    bench.spots.find("empty").act()
    assert window.desk.job.shots[0].cameras
    shot = window.desk.job.shots[0]
    assert not any(need.place for need in shot.needs)
    bench.spots.find("empty").act()
    typed(window, "stands 3 m")
    bench.spots.find("add").act()
    typed(window, "post: stock: post, stands 1 m, 0.3 m wide, 2 m high")
    assert [need.place for need in window.desk.job.shots[0].needs] == [Place(3.0), Place(1.0, wide_m=0.3, high_m=2.0)]
    assert any(need.place for need in window.desk.job.shots[0].needs)
    window.benches.open("moves")
    moves = window.benches.of("moves")
    moves.spots.find("more:travel").act()
    typed(window, "travel drift: of barge, 2 m/s real, weighs 20 kg, tie eye bears 100 N / 5")
    assert window.desk.job.shots[0].actions[0].name == "drift"
    window.benches.open("card")
    card = window.benches.of("card")
    card.add_stand()
    typed(window, "lens: A 2 m, B 3 m")
    assert window.desk.job.shots[0].card.stands[0].name == "lens"
    while window.desk.session.can_undo:
        window.desk.undo()
    assert window.desk.job.shots == ()


def test_the_views_of_a_set_are_one_key_away_and_keep_shot_and_camera(window):
    opened(window, "stage", "3")
    window.benches.of("stage").spots.find("camera:B").act()
    for press, name, lit in ((Qt.Key.Key_A, "moves", False), (Qt.Key.Key_C, "card", False), (Qt.Key.Key_W, "lens", True), (Qt.Key.Key_S, "stage", False),
                             (Qt.Key.Key_S, "lens", False), (Qt.Key.Key_W, "lens", True), (Qt.Key.Key_W, "lens", False)):  # fmt: skip
        window.setFocus()
        window.benches.bench.setFocus()
        key(window, press)
        assert window.benches.open_spec.name == name
        assert window.desk.breakdown.lit == lit
        assert window.benches.bench.taking.camera().name == "B"
        assert window.desk.breakdown.shot.id == "3"
    key(window, Qt.Key.Key_BracketRight)
    assert window.desk.breakdown.shot.id == "5"


def test_a_picture_of_the_plate_lies_behind_the_outlines(window, stage, tmp_path):
    photo = QImage(64, 32, QImage.Format.Format_RGB32)
    photo.fill(Qt.GlobalColor.red)
    photo.save(str(tmp_path / "plate.png"))
    picture = stage.picture_area(stage.stage())
    bare = stage.grab().toImage().pixelColor(round(picture.left() + 20), round(picture.top() + 20))
    drop(window, tmp_path / "plate.png")
    assert shot_of(window).plate.picture
    QApplication.processEvents()
    behind = stage.grab().toImage().pixelColor(round(picture.left() + 20), round(picture.top() + 20))
    assert behind.red() > behind.green() + 60
    assert bare.red() - bare.green() < 30
    stage.take_picture(tmp_path / "none.png")
    assert window.notice.words


def test_random_acts_on_the_stage_break_nothing_and_all_go_back(window, stage):
    rng, before = random.Random(14), window.desk.job
    for _ in range(60):
        window.desk.breakdown.choose(rng.choice(("1", "2", "3", "4", "5")))
        handles = [
            k for k in stage.spots.areas() if hasattr(stage.spots.find(k), "stepped") and not k.startswith("decide:")
        ]
        spot = stage.spots.find(rng.choice(handles))
        if rng.random() < 0.5:
            spot.stepped.emit(rng.choice((-10, -1, 1, 10)))
        else:
            pull(stage, spot.objectName(), rng.uniform(-400, 400), rng.uniform(-200, 200))
        QApplication.processEvents()
    while window.desk.session.can_undo:
        window.desk.undo()
    assert window.desk.job == before


# --------------------------------------------------------------------------------------------- moves
@pytest.fixture
def moves(window):
    bench = opened(window, "moves", "5", "ferry")
    settle(window, bench)
    return bench


def told(moves):
    return moves.told(moves.breakdown.shot, moves.picture_area(moves.stage()))


def test_a_tow_that_pulls_too_hard_is_told_and_its_run_up_is_pulled_until_it_does_not(window, moves):
    figures = {f.spec: f for f in told(moves).figures()}
    assert figures[specs.PULL].number > figures[specs.PULL_ALLOWED].number
    assert any("pulls too hard" in str(m.headline) for m in told(moves).minds())
    focus(moves, "value:run_up_m")
    least = figures[specs.LEAST_RUN_UP].number
    while shot_of(window, "5").actions[0].run_up_m < least:
        key(window, Qt.Key.Key_Up, Qt.KeyboardModifier.ShiftModifier)
    assert not any("pulls too hard" in str(m.headline) for m in told(moves).minds())
    key(window, Qt.Key.Key_Return)
    typed(window, "3 cm")
    assert shot_of(window, "5").actions[0].run_up_m == pytest.approx(0.03)
    before = window.desk.job
    pull(moves, "value:run_up_m", up=80.0)
    assert shot_of(window, "5").actions[0].run_up_m == pytest.approx(0.03 * 1.05**10, rel=1e-3)
    back_to(window, before)
    key(window, Qt.Key.Key_Return)
    typed(window, "long")
    assert window.desk.job == before


def test_bars_are_pulled_and_stepped_by_frames_retyped_added_and_taken_out(window, moves):
    px, before = moves.timeline(moves.stage()).px_per_s, window.desk.job
    pull(moves, "move:0", along=1.0 * px)
    assert shot_of(window, "5").actions[0].starts_s == pytest.approx(1.0, abs=1 / 24)
    back_to(window, before)
    pull(moves, "end:0", along=-3.0 * px)
    assert shot_of(window, "5").actions[0].lasts_s == pytest.approx(4.0, abs=1 / 24)
    focus(moves, "move:0")
    key(window, Qt.Key.Key_Right)
    assert shot_of(window, "5").actions[0].starts_s == pytest.approx(1 / 24, abs=1e-3)
    key(window, Qt.Key.Key_Return)
    typed(window, "travel round: of ferry, 4 m/s real, from 1 s, for 2 s, weighs 9 kg")
    assert (shot_of(window, "5").actions[0].name, shot_of(window, "5").actions[0].real_m_s) == ("round", 4.0)
    moves.spots.find("more:camera").act()
    typed(window, "camera crane: 0.2 m up, tilt -4°, for 3 s")
    assert shot_of(window, "5").actions[1] == CameraMove("crane", up_m=0.2, tilt_deg=-4.0, lasts_s=3.0)
    assert any(f.spec is specs.CAMERA_SPEED for f in told(moves).figures())
    moves.spots.find("more:camera").act()
    typed(window, "camera crane: sideways")
    assert "not understood" in window.notice.words
    key(window, Qt.Key.Key_Escape)
    focus(moves, "move:1")
    key(window, Qt.Key.Key_Delete)
    assert len(shot_of(window, "5").actions) == 1


def test_the_shot_plays_at_screen_speed_and_everything_is_where_it_should_be_at_each_frame(window, moves, qtbot):
    found = window.desk.plan.sets["5"]
    start, later = offsets_at(found, 24.0, 0.0), offsets_at(found, 24.0, 4.0)
    ferry = next(p for p in found.planes if p.build == "ferry")
    way = math.hypot(later[ferry.need][0], later[ferry.need][1])
    assert way == pytest.approx(6 / 24 * 4)
    assert start[ferry.need] == (0.0, 0.0, 0.0)
    assert moves.at_s == 0.0
    key(window, Qt.Key.Key_Period, times=3)
    assert moves.at_s == pytest.approx(3 / 24)
    first = moves.grab().toImage()
    moves.go_to(5.0)
    assert moves.grab().toImage() != first
    moves.go_to(0.0)
    began = time.monotonic()
    moves.play()
    qtbot.waitUntil(lambda: moves.at_s > 0.4, timeout=5000)
    assert moves.playing
    assert moves.at_s == pytest.approx(time.monotonic() - began, abs=0.25)
    moves.play()
    assert not moves.playing
    stood = moves.at_s
    QApplication.processEvents()
    assert moves.at_s == stood
    end = moves.breakdown.shot.seconds
    moves.go_to(end)
    moves.play()
    qtbot.waitUntil(lambda: 0.0 < moves.at_s < 0.5, timeout=5000)  # from its beginning
    moves.play()
    moves.go_to(end - 0.2)
    moves.play()
    qtbot.waitUntil(lambda: not moves.playing, timeout=5000)
    assert moves.at_s == end, "it stops by itself at its end"
    moves.play()
    window.benches.open("lens")
    assert not moves.playing, "what is not seen does not run"


def test_a_moving_camera_shifts_the_picture_by_what_the_zone_says(window):
    bench = opened(window, "moves", "4")
    settle(window, bench)
    stage = bench.stage()
    free = stage.seen(specs.SIDEWAYS, "headland cut-outs behind").number
    reach = stage.find(specs.REACH, camera="").number
    moved = CameraMove("slide", across_m=free, starts_s=0.0, lasts_s=3.5, ease=0.0)
    window.desk.edit(
        "slide",
        replace(
            window.desk.job,
            shots=tuple(replace(s, actions=(moved,)) if s.id == "4" else s for s in window.desk.job.shots),
        ),
    )
    eye = [bench.scene.eye(bench.stage(), replace(stage.camera, across_m=x)) for x in (0.0, free)]
    body = next(b for b in bench.scene.bodies(bench.stage()) if b.need == 2)
    shifted = [outline_seen(body, e).points[:, 0].mean() for e in eye]
    true = reach * free * 12 / (48 * 5.2)
    assert abs((shifted[0] - shifted[1]) - true) == pytest.approx(3.0, abs=0.02)


# --------------------------------------------------------------------------------------------- card
def test_the_measuring_card_is_typed_found_again_and_set_as_the_plate_asks(window, tmp_path):
    bench = opened(window, "card", "1")
    rows = {row.what: row for row in bench.rows(bench.stage())}
    assert rows["focal length"].shows.number > 3
    bench.spots.find("as-asked").act()
    rows = {row.what: row for row in bench.rows(bench.stage())}
    assert max(rows[what].shows.number for what in ("focal length", "height", "distance", "tilt")) < 0.5
    window.desk.undo()
    focus(bench, "plate:roll")
    key(window, Qt.Key.Key_Return)
    typed(window, "-1.5°")
    assert shot_of(window, "1").plate.roll_deg == -1.5
    key(window, Qt.Key.Key_Delete)
    assert shot_of(window, "1").plate.roll_deg is None
    focus(bench, "plate:height")
    key(window, Qt.Key.Key_Return)
    typed(window, "2.6 m")
    assert shot_of(window, "1").plate.height_m == 2.6
    focus(bench, "within")
    key(window, Qt.Key.Key_Return)
    typed(window, "4.2 m apart, within 5 mm")
    assert (shot_of(window, "1").card.nails_m, shot_of(window, "1").card.within_m) == (4.2, 0.005)
    window.desk.undo()
    focus(bench, "found:table corner")
    key(window, Qt.Key.Key_Return)
    typed(window, "7.89 m, 8.25 m by Mara")
    reading = shot_of(window, "1").card.readings[-1]
    assert (reading.stand, reading.from_a_m, reading.by) == ("table corner", 7.89, "Mara")
    assert reading.at is not None
    assert bench.stage().find(specs.STAND_OFF, use="table corner").number > 0.003
    key(window, Qt.Key.Key_Return)
    typed(window, "7.9 m, 8.26 m by Ida")
    key(window, Qt.Key.Key_Delete)
    assert [r.by for r in shot_of(window, "1").card.readings if r.stand == "table corner"] == ["Mara"], (
        "the last goes first"
    )
    key(window, Qt.Key.Key_Delete)
    assert all(r.stand != "table corner" for r in shot_of(window, "1").card.readings)
    focus(bench, "stand:hard lamp")
    key(window, Qt.Key.Key_Return)
    typed(window, "key lamp: A 5.2 m, B 2.6 m, right")
    assert [r.stand for r in shot_of(window, "1").card.readings] == ["lens stand", "key lamp"]
    focus(bench, "stand:key lamp")
    key(window, Qt.Key.Key_Return)
    typed(window, "key lamp: A 0.2 m, B 0.2 m")
    assert "do not meet" in window.notice.words
    key(window, Qt.Key.Key_Escape)
    focus(bench, "stand:key lamp")
    key(window, Qt.Key.Key_Delete)
    assert [s.name for s in shot_of(window, "1").card.stands] == ["lens stand", "table corner"]
    bench.write_card(tmp_path / "card.csv")
    rows = list(csv.DictReader((tmp_path / "card.csv").read_text("utf-8").splitlines()))
    assert [row["stand"] for row in rows] == ["lens stand", "table corner"]
    bench.write_card(tmp_path / "card.pdf")
    assert (tmp_path / "card.pdf").read_bytes().startswith(b"%PDF")


def test_plans_and_cues_are_written_from_the_window(window, stage, tmp_path, qtbot, monkeypatch):
    for name, start in (("stage.svg", b"<?xml"), ("stage.dxf", b"  0\nSECTION")):
        stage.write_plan(tmp_path / name)
        qtbot.waitUntil(lambda name=name: (tmp_path / name).is_file(), timeout=20_000)
        assert (tmp_path / name).read_bytes().replace(b"\r", b"").startswith(start)
    wanted = []
    floor = opened(window, "floor", "3")
    monkeypatch.setattr(floor, "write_pdf", lambda path, shots: wanted.append((path.name, [shot.id for shot in shots])))
    for which in (0, 1):
        monkeypatch.setattr("homunculus.app.pages.ask_to_write", lambda *asked, which=which: (tmp_path / "floor", asked[-1].split(";;")[which]))  # fmt: skip
        floor.pages.ask(floor, "page", "shot", shot_of(window, "3"), floor.write_pdf)
    assert wanted == [("floor.pdf", ["3"]), ("floor.pdf", [shot.id for shot in window.desk.plan.shots])]
    bench = opened(window, "moves", "3")
    bench.write_cues(tmp_path / "cues.csv")
    rows = list(csv.DictReader((tmp_path / "cues.csv").read_text("utf-8").splitlines()))
    assert len(rows) == 12
    assert [float(row["after the first ms"]) for row in rows] == sorted(
        float(row["after the first ms"]) for row in rows
    )
    written = Noting(monkeypatch).painted
    bench.write_cues(tmp_path / "cues.pdf")
    assert (tmp_path / "cues.pdf").read_bytes().startswith(b"%PDF")
    for row in bench.tables()[0].rows:
        assert {cell if isinstance(cell, str) else f"{cell:g}" for cell in row} <= set(written)
    still = opened(window, "moves", "11", "gulls")
    still.choose_cues()
    assert "no cues" in window.notice.words
    still.type_line(len(still.all_moves()))
    assert open_line(window) is None, "there is no such move"
