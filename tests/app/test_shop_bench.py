"""The shop in the window: its hours pulled and typed, its week, people and things added, typed, taken out; with and without builds."""

from datetime import date, datetime, time

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace
from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest

from homunculus.app.benches.shop.drawing import _spans
from homunculus.core import specs
from homunculus.core.cure.temperature import Daily
from homunculus.core.job.shop import Air, Shop
from homunculus.store.shelf import ShelfFolder
from tests.app.conftest import key, open_line, typed


@pytest.fixture
def bench(window):
    window.benches.open("shop")
    return window.benches.of("shop")


def row(bench, label):
    at = next(i for i, r in enumerate(bench.sheet_rows()) if r.label == label)
    bench.list.setFocus()
    bench.list.choose(at)


def test_hours_are_pulled_stepped_and_typed_and_the_date_follows(window, bench):
    desk = window.desk
    ready = desk.plan.build("ferry").find(specs.READY).value
    closes = bench.spots.find("hour:closes")
    closes.pressed.emit()
    closes.dragged.emit(QPointF(closes.geometry().center().x() + bench.width() * 0.1, 80))
    closes.dragged.emit(QPointF(closes.geometry().center().x() + 40, 80))
    closes.released.emit()
    pulled = desk.job.shop.hours.closes
    assert pulled > time(18, 30)
    assert pulled.minute % 15 == 0
    assert desk.plan.build("ferry").find(specs.READY).value <= ready
    key(window, Qt.Key.Key_U)
    assert desk.job.shop.hours.closes == time(18), "a pull is one step"
    opens = bench.spots.find("hour:opens")
    opens.setFocus()
    key(window, Qt.Key.Key_Left)
    assert desk.job.shop.hours.opens == time(8, 45)
    key(window, Qt.Key.Key_Return)
    typed(window, "07:30")
    assert desk.job.shop.hours.opens == time(7, 30)
    bench.spots.find("hour:warm_from").stepped.emit(2)
    assert desk.job.shop.air.warm_from == time(8, 30)
    bench.spots.find("hour:opens").typing.emit("")
    typed(window, "late")
    assert "no hour" in window.notice.words
    assert desk.job.shop.hours.opens == time(7, 30)


def test_a_day_of_the_week_is_pressed_and_the_last_one_stays(window, bench):
    bench.spots.find("day:5").act()
    assert window.desk.job.shop.hours.weekdays == (0, 1, 2, 3, 4, 5)
    for day in range(5):
        bench.spots.find(f"day:{day}").act()
    bench.spots.find("day:5").act()
    assert window.desk.job.shop.hours.weekdays == (5,)
    assert "one day of the week" in window.notice.words


def test_somebody_comes_learns_a_skill_works_half_the_week_and_leaves(window, bench):
    desk = window.desk
    bench.spots.find("new:people").act()
    typed(window, "Paulo")
    assert bench.thing()[1].name == "Paulo"
    for label, words in (
        ("skills", "gilder, caster"),
        ("comes on", "Mon to Wed, Sat"),
        ("days off", "2026-03-02 to 2026-03-04"),
    ):
        row(bench, label)
        key(window, Qt.Key.Key_Return)
        typed(window, words)
    paulo = desk.job.shop.people[-1]
    assert (paulo.skills, paulo.weekdays, len(paulo.days_off)) == (("gilder", "caster"), (0, 1, 2, 5), 3)
    assert "Mon to Wed, Sat" in {r.text for r in bench.sheet_rows()}
    bench.put_on_shelf()
    assert ShelfFolder().read().stock.people == (paulo,)
    bench.setFocus()
    key(window, Qt.Key.Key_Delete)
    assert all(p.name != "Paulo" for p in desk.job.shop.people)
    key(window, Qt.Key.Key_U)
    assert desk.job.shop.people[-1] == paulo


def test_an_oven_grows_and_takes_more_moulds_and_a_vessel_is_mixed_in(window, bench):
    desk = window.desk
    assert desk.plan.build("gulls").find(specs.OVEN_LOAD, "body").number == 2
    bench.spots.find("thing:ovens/bench-oven").act()
    bench.spots.find("thing:ovens/bench-oven").act()
    assert bench.list.hasFocus()
    for label, words in (("chamber, wide", "1.2 m"), ("chamber, deep", "1 m"), ("chamber, high", "1 m")):
        row(bench, label)
        key(window, Qt.Key.Key_F2)
        typed(window, words)
    assert desk.plan.build("gulls").find(specs.OVEN_LOAD, "body").number > 6
    row(bench, "shelves")
    key(window, Qt.Key.Key_Return)
    typed(window, "none")
    assert desk.job.shop.ovens[0].shelves == 2
    key(window, Qt.Key.Key_Escape)
    bench.ask_new("vessels")
    typed(window, "large pot")
    row(bench, "holds")
    QTest.keyClicks(bench.list, "8")
    typed(window, "8 l")
    row(bench, "for drawing air out")
    key(window, Qt.Key.Key_Return)
    typed(window, "yes")
    bench.spots.find("mix").act()
    assert desk.job.shop.mixing.vessel_m3 == 0.008
    assert bench.spots.find("mix") is None
    bench.step(1)
    assert bench.thing()[1].name != "large pot"


def test_a_shop_without_builds_is_decided_all_the_same(window):
    desk = window.desk
    desk.edit("from nothing", replace(desk.job, builds=(), shots=(), shop=replace(Shop(), camera="cinema-150")))
    window.benches.open("shop")
    bench = window.benches.of("shop")
    assert not bench.grab().isNull()
    bench.spots.find("decide:shop.hoist_kg").stepped.emit(1)
    assert desk.job.shop.hoist_kg == 260
    bench.spots.find("door").act()
    bench.type_value("shop.door_width_m")
    typed(window, "2.4 m")
    assert desk.job.shop.stage.door_width_m == 2.4
    bench.spots.find("stage-name").act()
    typed(window, "the old net loft")
    assert desk.job.shop.stage.name == "the old net loft"
    for sign in ("a currency", "CHF", "£", "£", "kroner, 8"):
        bench.ask_currency()
        typed(window, sign)
        if line := open_line(window):
            assert "a sign or a few letters" in window.notice.words
            QTest.keyClick(line, Qt.Key.Key_Escape)
        else:
            assert desk.job.shop.currency == sign
    assert desk.job.shop.currency == "£"
    bench.spots.find("new:people").act()
    typed(window, "Ines")
    assert [p.name for p in desk.job.shop.people] == ["Ines"]
    assert not bench.grab().isNull()


def test_another_stage_is_taken_from_the_shelf_by_a_press_on_the_stage(window, bench):
    bench.spots.find("stage").act()
    shelf = window.benches.of("shelf")
    assert window.benches.over == "shelf"
    assert {r.card.id for r in shelf.rows() if hasattr(r, "card")} == {"stage-hall", "stage-large", "stage-room"}
    shelf.choose("stages/stage-room")
    shelf.cards.setFocus()
    QTest.keyClicks(shelf.cards, "+")
    assert (window.desk.job.shop.stage.name, window.desk.job.shop.stage.width_m) == ("small stage", 6.0)
    key(window, Qt.Key.Key_U)
    assert window.desk.job.shop.stage.name == "the harbour hall"


def test_costs_are_told_with_tax_where_the_shop_says_what_it_is(window):
    desk = window.desk
    cost = desk.build_plan.find(specs.BUILD_COST).number
    assert desk.build_plan.find(specs.BUILD_TAXED) is None
    desk.decide_typed(desk.decision("shop.tax"), "23 %")
    assert desk.build_plan.find(specs.BUILD_TAXED).number == pytest.approx(cost * 1.23)


@given(st.integers(0, 1439), st.integers(0, 1439), st.integers(0, 1439))
def test_the_warm_part_of_the_day_is_drawn_where_it_is_reckoned(first, last, minute):
    air = replace(Air(), day_c=21.0, night_c=14.0, warm_from=clock(first), warm_to=clock(last))
    drawn = any(start <= minute < end for start, end in _spans(first, last))
    assert drawn == (Daily(air).at(datetime.combine(date(2026, 3, 2), clock(minute))) == 21.0)


def clock(minute):
    return time(minute // 60, minute % 60)
