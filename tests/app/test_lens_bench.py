"""The lens bench: what it says of a shot, its handles by mouse, keys and typing, the ways out, and sets that are not there yet."""

import contextlib
import random

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt

from homunculus.app.benches.lens.card import CameraCard
from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.job.sets import Place
from homunculus.core.planners.lens import verdict_of
from tests.app.conftest import key, open_line, typed


@pytest.fixture
def bench(window):
    window.desk.choose("lighthouse")
    window.benches.open("lens")
    window.desk.breakdown.choose("4")
    return window.benches.of("lens")


def camera(window, shot="4", index=0):
    return next(s for s in window.desk.job.shots if s.id == shot).cameras[index]


def place(window, need, shot="4"):
    return next(s for s in window.desk.job.shots if s.id == shot).needs[need].place


def verdict(window, shot="4", name=""):
    return verdict_of(window.desk.plan.sets[shot], name)


def pull(bench, hold, along=0.0, up=0.0):
    """Pull a handle by so many pixels, in three moves."""
    handle = bench.spots.find(f"hold:{hold}")
    at = QPointF(handle.geometry().center())
    handle.pressed.emit()
    for part in (0.0, 0.5, 1.0):
        handle.dragged.emit(at + QPointF(along * part, -up * part))
    handle.released.emit()


def at_hand(bench, hold):
    spot = bench.spots.find(f"hold:{hold}")
    spot.setFocus()
    return spot


def test_a_shot_that_cannot_be_held_says_so_says_what_would_free_it_and_one_pull_does_it(window, bench):
    assert verdict(window) == "cannot"
    said = {
        key: spot.accessibleName()
        for key, spot in ((k, bench.spots.find(k)) for k in bench.spots.areas())
        if key.startswith("way:")
    }
    assert "holds" in said["way:moved"]
    assert "does not free it" in said["way:scale"]
    plane = next(p for p in window.desk.plan.sets["4"].planes if p.name.startswith("iron rail"))
    pull(bench, f"place:{plane.need}", along=(2.0 - plane.at.number) * bench.side().px)
    assert place(window, plane.need).at_m == pytest.approx(2.0, abs=0.011)
    assert verdict(window) == "holds"
    assert not [k for k in bench.spots.areas() if k.startswith("way:")]
    key(window, Qt.Key.Key_U)
    assert place(window, plane.need).at_m == 0.62, "a pull is one step"


@pytest.mark.parametrize("way", ["alone", "moved", "lens", "back"])
def test_a_way_out_is_taken_by_enter_comes_out_as_it_was_told_and_goes_back(window, bench, way):
    before = window.desk.job
    told = next(w for w in bench.ways() if w.key == way)
    assert told.holds
    bench.spots.find(f"way:{way}").setFocus()
    key(window, Qt.Key.Key_Return)
    assert verdict(window) == "holds"
    assert window.desk.plan.sets["4"].find(specs.LEAST_BLUR).number == pytest.approx(told.blur.number)
    window.desk.undo()
    assert window.desk.job == before


def test_what_does_not_help_changes_nothing_and_says_why(window, bench):
    before = window.desk.job
    for way in ("scale", "tilt", "stack"):
        bench.spots.find(f"way:{way}").act()
        assert window.desk.job is before
        assert "nothing here keeps it" in window.notice.words


def test_focus_and_stop_are_pulled_stepped_typed_and_left_to_the_program_again(window, bench):
    reckoned = window.desk.plan.sets["4"].find(specs.FOCUS).number
    pull(bench, "focus", along=0.5 * bench.side().px)
    assert camera(window).focus_m == pytest.approx(reckoned + 0.5, abs=0.006)
    at_hand(bench, "focus")
    key(window, Qt.Key.Key_Right, times=2)
    assert camera(window).focus_m == pytest.approx((reckoned + 0.5) * 1.01**2, abs=0.011)
    key(window, Qt.Key.Key_Return)
    typed(window, "4 ft")
    assert camera(window).focus_m == pytest.approx(1.2192)
    key(window, Qt.Key.Key_Return)
    typed(window, "soon")
    assert "soon" in window.notice.words
    assert camera(window).focus_m == pytest.approx(1.2192)
    at_hand(bench, "focus")
    key(window, Qt.Key.Key_Delete)
    assert camera(window).focus_m is None
    at_hand(bench, "stop")
    key(window, Qt.Key.Key_Down, times=3)
    assert camera(window).stop == 16.0  # f/22 less three thirds
    key(window, Qt.Key.Key_Return)
    typed(window, "f/11")
    assert camera(window).stop == 11.0
    pull(bench, "stop", up=10.0)
    assert camera(window).stop == 13.0
    assert window.desk.plan.sets["4"].find(specs.LIGHT).number == pytest.approx(
        250 * window.desk.plan.sets["4"].find(specs.EFFECTIVE).number ** 2 * 84 * 2 / 800
    )
    at_hand(bench, "stop")
    key(window, Qt.Key.Key_Backspace)
    assert camera(window).stop is None


def test_the_lens_comes_from_the_shelf_by_steps_by_its_name_and_by_hand(window, bench):
    at_hand(bench, "focal")
    key(window, Qt.Key.Key_Down)
    assert camera(window).lens == "prime-32"
    key(window, Qt.Key.Key_Up)
    assert camera(window).lens == "prime-50"
    assert "prime-50" in {card.id for card in window.desk.job.cards.lenses}
    key(window, Qt.Key.Key_Return)
    typed(window, "prime-18")
    assert (camera(window).lens, camera(window).focal_m) == ("prime-18", 0.018)
    assert "prime-18" in {card.id for card in window.desk.job.cards.lenses}
    key(window, Qt.Key.Key_Return)
    typed(window, "prime-19")
    assert "no lens “prime-19”" in window.notice.words
    at_hand(bench, "focal")
    key(window, Qt.Key.Key_Return)
    typed(window, "27 mm")
    assert (camera(window).lens, camera(window).focal_m) == ("", 0.027)
    pull(bench, "focal", up=12.0)
    assert camera(window).focal_m == pytest.approx(0.030)
    assert any("probe" in can.words for can in bench.can("hold:focal"))
    next(can for can in bench.can("hold:focal") if "probe" in can.words).act()
    assert camera(window).lens == "probe-24"


def test_bodies_and_their_modes_are_turned_through_and_the_rate_follows(window, bench):
    first = window.desk.plan.sets["4"].find(specs.CONFUSION).number
    at_hand(bench, "camera")
    key(window, Qt.Key.Key_O)
    assert camera(window).mode == "middle of the sensor"
    assert window.desk.plan.sets["4"].find(specs.CONFUSION).number == pytest.approx(first / 2)
    bodies = len(bench.taking.bodies())
    for _ in range(bodies - 1):
        key(window, Qt.Key.Key_O)
    assert window.desk.plan.sets["4"].find(specs.CONFUSION).number == pytest.approx(first)


def test_a_thing_may_be_soft_stand_in_a_pass_of_its_own_go_by_its_looks_or_nowhere(window, bench):
    hold = "place:1"
    at_hand(bench, hold)
    key(window, Qt.Key.Key_X)
    assert place(window, 1).soft
    assert window.desk.plan.sets["4"].find(specs.NEAR).number == 2.0
    key(window, Qt.Key.Key_X)
    cans = {can.words.split(",")[0]: can.act for can in bench.can(f"hold:{hold}")}
    cans["In a pass of its own"]()
    assert place(window, 1).alone
    one = window.desk.plan.sets["4"].find(specs.ON_SET).number
    key(window, Qt.Key.Key_U)
    assert window.desk.plan.sets["4"].find(specs.ON_SET).number == pytest.approx(one / 2)
    gallery = "place:0"
    {can.words.split(",")[0]: can.act for can in bench.can(f"hold:{gallery}")}["By how far it looks"]()
    assert place(window, 0) == Place(24.0, looks=True, across_m=0.05, turn_deg=12.0)
    at_hand(bench, gallery)
    key(window, Qt.Key.Key_Return)
    typed(window, "looks 30 m, may be soft")
    assert place(window, 0) == Place(30.0, looks=True, soft=True)
    key(window, Qt.Key.Key_Return)
    typed(window, "2 m")
    assert place(window, 0).at_m == pytest.approx(24.0)
    at_hand(bench, gallery)
    key(window, Qt.Key.Key_Delete)
    assert place(window, 0) is None
    bench.spots.find("add").act()
    typed(window, "post: stock: post, stands 1.1 m")
    assert place(window, 3) == Place(1.1)
    assert "place:3" in {name.removeprefix("hold:") for name in bench.spots.areas()}


def test_the_camera_is_pulled_back_and_up_and_all_else_stands_as_it_stood(window, bench):
    far, eye = place(window, 2).at_m, camera(window).height_m
    pull(bench, "camera", along=-0.3 * bench.side().px, up=0.2 * bench.side().px)
    assert place(window, 1).at_m == pytest.approx(0.92, abs=0.011)
    assert place(window, 2).at_m == pytest.approx(far + 0.3, abs=0.011)
    assert camera(window).height_m == pytest.approx(eye + 0.2, abs=0.011)
    at_hand(bench, "camera")
    key(window, Qt.Key.Key_Return)
    typed(window, "90 cm")
    assert camera(window).height_m == 0.9


def test_each_camera_has_its_drawing_and_the_ends_of_what_it_holds_are_pulled(window, bench):
    window.desk.breakdown.choose("3")
    bench.spots.find("camera:B").act()
    assert bench.taking.camera().name == "B"
    pull(bench, "end:far", along=0.25 * bench.side().px)
    assert camera(window, "3", 1).depth.far_m == pytest.approx(55.0 + 0.25 * 12, abs=0.07)
    assert camera(window, "3").depth.far_m == 60.0
    at_hand(bench, "end:near")
    key(window, Qt.Key.Key_Return)
    typed(window, "2 m")
    assert camera(window, "3", 1).depth.near_m == pytest.approx(24.0)
    at_hand(bench, "end:near")
    key(window, Qt.Key.Key_Delete)
    assert camera(window, "3", 1).depth is None
    key(window, Qt.Key.Key_BracketRight)
    assert window.desk.breakdown.shot.id == "5"
    key(window, Qt.Key.Key_BracketLeft, times=2)
    assert window.desk.breakdown.shot.id == "4"


def test_a_shot_without_a_camera_and_a_job_without_a_shot_have_a_live_handle(window, bench):
    shot = window.desk.breakdown.shot
    window.desk.breakdown.put(
        shot, replace(shot, cameras=(), needs=tuple(replace(n, place=None) for n in shot.needs)), "bare"
    )
    bench.spots.find("empty").act()
    assert camera(window).depth is not None
    assert verdict(window) is not None
    at_hand(bench, "end:far")
    key(window, Qt.Key.Key_Delete)
    assert "Nothing must be sharp yet" in bench._why_none(window.desk.plan.sets["4"], camera(window))
    window.desk.edit("no shots", replace(window.desk.job, shots=()))
    bench.spots.find("empty").act()
    assert len(window.desk.job.shots) == 1


@pytest.mark.parametrize("seed", [5, 6])
def test_whatever_is_done_here_goes_back_to_where_it_began_and_opens_again(window, bench, seed):
    before, rng = window.desk.job, random.Random(seed)
    for _ in range(60):
        holds = [name.removeprefix("hold:") for name in bench.spots.areas() if name.startswith("hold:")]
        if not holds:
            bench.spots.find("empty").act()
            continue
        hold, act = rng.choice(holds), rng.randrange(6)
        if act == 0:
            pull(bench, hold, rng.uniform(-400, 400), rng.uniform(-90, 90))
        elif act == 1:
            bench.taking.step(hold, rng.choice((-10, -1, 1, 10)))
        elif act == 2:
            rng.choice(
                [can for can in bench.can(f"hold:{hold}") if can.words != "Type it"] or [bench.can(f"hold:{hold}")[0]]
            ).act()
        elif act == 3 and bench.ways():
            bench.taking.take(rng.choice(bench.ways()))
        elif act == 4:
            with contextlib.suppress(UserError):
                bench.taking.type(
                    hold, rng.choice(("1.3 m", "f/8", "24 mm", "prime-85", "looks 50 m", "", "900 m", "0.001 mm", "∞"))
                )
        else:
            key(window, rng.choice((Qt.Key.Key_BracketRight, Qt.Key.Key_BracketLeft)))
        assert not window.desk.build_plan.held
    if line := open_line(window):
        line.close()
    after = window.desk.job
    window.desk.save_now()
    while window.desk.session.can_undo:
        window.desk.undo()
    assert window.desk.job == before
    while window.desk.session.can_redo:
        window.desk.redo()
    assert window.desk.job == after


def test_the_light_stands_on_the_same_view_and_all_that_it_goes_by_is_decided_there(window, bench):
    key(window, Qt.Key.Key_W)
    assert bench.lit
    found = window.desk.plan.sets["4"]
    big = [figure.spec for figure, _ in bench.light.headlines(found)]
    assert big == [specs.LIGHT, specs.LIGHT_MORE, specs.LAMP_POWER]
    assert found.find(specs.CIRCUITS).value > 4
    spot = bench.spots.find("decide:shop.circuits")
    spot.setFocus()
    key(window, Qt.Key.Key_Return)
    typed(window, "20")
    assert not [m for m in window.desk.build_plan.minds if "circuits" in str(m.headline)]
    bench.spots.find("decide:shop.known_iso").stepped.emit(1)
    assert window.desk.job.shop.lighting.known_iso == 900
    lux = found.find(specs.LIGHT).number
    at_hand(bench, "filters")
    key(window, Qt.Key.Key_Up, times=2)
    assert camera(window).filters == 2.0
    assert window.desk.plan.sets["4"].find(specs.LIGHT).number == pytest.approx(4 * lux)
    key(window, Qt.Key.Key_Return)
    typed(window, "1 stop")
    assert camera(window).filters == 1.0
    key(window, Qt.Key.Key_Delete)
    assert camera(window).filters == 0.0
    at_hand(bench, "lit")
    key(window, Qt.Key.Key_Return)
    typed(window, "4 m2")
    assert next(s for s in window.desk.job.shots if s.id == "4").lit_m2 == 4.0
    key(window, Qt.Key.Key_Delete)
    assert next(s for s in window.desk.job.shots if s.id == "4").lit_m2 is None
    key(window, Qt.Key.Key_W)
    assert not bench.lit


def test_lamps_and_a_screen_in_the_model_are_typed_changed_and_taken_away(window, bench):
    key(window, Qt.Key.Key_W)
    bench.spots.find("add-light").act()
    typed(window, "chart: 60 mm × 30 mm")
    assert window.desk.build.screens[0].width_m == 0.06
    assert "Screen as bright as" in bench.spots.find("light:chart").accessibleName()
    bench.spots.find("light:lantern").act()
    typed(window, "lantern: 24 of 350 mA at 12 V")
    assert window.desk.build.lamps[0].count == 24
    assert window.desk.build_plan.find(specs.MODEL_CURRENT, part="lantern").number == pytest.approx(8.4)
    bench.spots.find("add-light").act()
    typed(window, "chart: 3 of 1 A at 12 V")
    assert "already" in window.notice.words
    key(open_line(window), Qt.Key.Key_Escape)
    bench.spots.find("light:chart").setFocus()
    key(window, Qt.Key.Key_Delete)
    assert window.desk.build.screens == ()
    key(window, Qt.Key.Key_U, times=3)
    assert window.desk.build.lamps[0].count == 12


def test_the_camera_card_has_a_page_a_camera_with_what_stands_on_the_screen(window, bench, tmp_path):
    sets = window.desk.plan.sets
    card = CameraCard(window.desk, sets["4"], camera(window))
    rows = dict(card.rows())
    assert (
        rows["must be sharp"]
        == f"{window.desk.words(sets['4'].find(specs.NEAR))} to {window.desk.words(sets['4'].find(specs.FAR))}"
    )
    assert rows["light on the set"] == window.desk.words(sets["4"].find(specs.LIGHT))
    assert rows["rate"].startswith("84")
    file = tmp_path / "cards.pdf"
    bench.write_pdf(file, tuple(s for s in window.desk.job.shots if s.id in ("3", "4")))
    assert file.read_bytes().startswith(b"%PDF")
    assert "3 pages" in window.notice.words  # two cameras, and one
    bench.write_pdf(tmp_path / "nowhere" / "cards.pdf", window.desk.breakdown.shots)
    assert "nowhere" in window.notice.words
    window.desk.edit(
        "no cameras", replace(window.desk.job, shots=tuple(replace(s, cameras=()) for s in window.desk.job.shots))
    )
    bench.choose_pdf()
    assert "no camera yet" in window.notice.words


def test_the_best_scales_are_told_with_reasons_and_one_is_taken_by_a_press(window):
    window.desk.choose("lighthouse")
    window.benches.open("scale")
    scale = window.benches.of("scale")
    assert "1:12: nothing fails" in scale.spots.find("best:1").accessibleName()
    scale.spots.find("best:2").act()
    assert window.desk.build.scale == 10.0


def test_a_shot_without_a_build_is_drawn_until_another_build_is_chosen(window, bench):
    window.desk.breakdown.choose("18")
    assert bench.found().shot.id == "18"
    assert verdict(window, "18") == "holds"
    window.desk.choose("ferry")
    assert window.desk.breakdown.shot.id != "18"


def test_what_stands_nowhere_yet_is_asked_for_and_put_down(window, bench):
    shot = window.desk.breakdown.shot
    window.desk.breakdown.put(
        shot, replace(shot, needs=tuple(replace(n, place=None) for n in shot.needs)), "nothing placed"
    )
    bench.spots.find("waiting:0").act()
    typed(window, "stands 2 m to")
    assert place(window, 0) is None
    key(open_line(window), Qt.Key.Key_Escape)
    bench.spots.find("waiting:0").act()
    typed(window, "stands 2 m to 3 m")
    assert place(window, 0) == Place(2.0, 3.0)
    assert bench.spots.find("waiting:0") is None
    assert "iron rail" in bench.spots.find("waiting:1").accessibleName()


def test_distances_are_typed_and_shown_in_feet_where_those_are_the_units(window, bench):
    window.desk.use_units("imperial")
    at_hand(bench, "place:1")
    assert "in" in bench.spots.find("hold:place:1").accessibleName()
    key(window, Qt.Key.Key_Return)
    typed(window, "stands 2' 6\"")
    assert place(window, 1).at_m == pytest.approx(0.762)
    at_hand(bench, "camera")
    key(window, Qt.Key.Key_Return)
    typed(window, "4 ft")
    assert camera(window).height_m == pytest.approx(1.2192)
    key(window, Qt.Key.Key_W)
    assert window.desk.shown(window.desk.plan.sets["4"].find(specs.LIGHT)).unit == "fc"
    at_hand(bench, "lit")
    key(window, Qt.Key.Key_Return)
    typed(window, "50 ft2")
    assert next(s for s in window.desk.job.shots if s.id == "4").lit_m2 == pytest.approx(4.645, abs=1e-3)


def test_a_way_out_keeps_what_was_done_beside_it_meanwhile(window, bench):
    assert bench.ways()
    window.desk.decide(window.desk.decision("crew"), 3)  # no set depends on it
    bench.spots.find("way:moved").act()
    assert verdict(window) == "holds"
    assert window.desk.build.crew == 3


def test_a_set_that_is_right_as_it_is_is_settled_by_hand(window, bench):
    shot = window.desk.breakdown.shot
    window.desk.breakdown.put(shot, replace(shot, disagreed="Two builds had a camera each."), "opened")
    next(can for can in bench.can("hold:camera") if "right" in can.words).act()
    assert window.desk.breakdown.shot.disagreed == ""
    bench.taking.settle()
    assert "Nothing is open" in window.notice.words
