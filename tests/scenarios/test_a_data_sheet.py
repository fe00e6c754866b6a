"""A shop's afternoon in a real window: a data sheet typed in, used by a pour, its price changed on the shelf, the job asked whether to follow."""

import json

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus.core import specs
from homunculus.store.shelf import ShelfFolder
from tests.app.conftest import key, open_window, own_settings, qapp, typed_by_keys, wait_until  # noqa: F401

pytestmark = pytest.mark.window

SHEET = (("density", "1.18 g/cm3 from sheet 7"), ("mixed of", "A 100, B 8"), ("pot life, book", "35 min from sheet 7"),
         ("demould, book", "14 h from sheet 7"), ("price", "29 a kg from invoice"))  # fmt: skip


def row(window, bench, label):
    """Walk to a row of the sheet by arrows."""
    bench.sheet.setFocus()
    key(window, Qt.Key.Key_Home)
    for _ in range(60):
        if bench.sheet.item().label == label:
            return
        key(window, Qt.Key.Key_Down)
    raise AssertionError(f"no row {label}")


def test_a_sheet_is_typed_used_by_a_pour_dearer_on_the_shelf_and_followed_when_asked(open_window, folder, qtbot):  # noqa: F811
    window = open_window(folder)
    window.activateWindow()
    wait_until(qtbot, window.isActiveWindow)
    desk = window.desk
    assert QApplication.platformName() == "xcb"

    # the sheet, by keys
    key(window, Qt.Key.Key_K)
    bench = window.benches.of("shelf")
    key(window, Qt.Key.Key_Insert)
    typed_by_keys(window, "harbour silicone: silicone")
    for label, words in SHEET:
        row(window, bench, label)
        key(window, Qt.Key.Key_Return)
        typed_by_keys(window, words)
    assert ShelfFolder().read().stock.card("materials", "harbour-silicone").price_per_kg.value == 29

    # the gallery's mould is poured of it, by its typed line
    key(window, Qt.Key.Key_M)
    made = window.benches.of("made")
    desk.piece_id = "gallery"
    desk.changed.emit()
    made.doings.type_piece()
    line = next(line for line in window.findChildren(QLineEdit, "typed") if line.isVisible())
    typed_by_keys(window, line.text().replace("jacketed 10 mm", "jacketed 10 mm of harbour silicone"))
    assert desk.build.pieces[1].mould.rubber == "harbour-silicone"
    wait_until(qtbot, lambda: not desk.runner.busy("field"), 30000)
    cost, mass = (desk.build_plan.find(spec, "gallery").number for spec in (specs.RUBBER_COST, specs.RUBBER))
    assert cost == pytest.approx(mass * 29)
    desk.op_id = "rubber-1"
    key(window, Qt.Key.Key_5)
    pour = window.benches.of("mix").pour()
    assert (pour.card.id, [part.name for part in pour.card.parts]) == ("harbour-silicone", ["A", "B"])

    # dearer on the shelf: said, with what would move; nothing moves by itself
    key(window, Qt.Key.Key_K)
    row(window, bench, "price")
    key(window, Qt.Key.Key_Return)
    typed_by_keys(window, "34.8 a kg from the next invoice")
    assert desk.build_plan.find(specs.RUBBER_COST, "gallery").number == cost
    assert [hit.words for hit in desk.shelf.newer()] == ["price 29 a kg → 34.8 a kg"]
    told = [
        m.words("metric", "€")
        for build, moves in desk.shelf.would_move("materials/harbour-silicone")
        for m in moves
        if build.id == "lighthouse"
    ]
    assert any("Rubber cost" in words and "+20 %" in words for words in told)

    # followed, by a press
    spot = bench.spots.find("follow")
    QTest.mouseClick(spot, Qt.MouseButton.LeftButton)
    assert desk.build_plan.find(specs.RUBBER_COST, "gallery").number == pytest.approx(mass * 34.8)
    assert desk.shelf.newer() == ()
    wait_until(qtbot, lambda: any(card["id"] == "harbour-silicone" and card["price_per_kg"]["value"] == 34.8
                                  for card in json.loads((folder / "job.json").read_text())["job"]["cards"]["materials"]))  # fmt: skip
    window.close()

    # the next day the bottle is still there, in this job and for any other
    again = open_window(folder)
    assert again.desk.job.cards.material("harbour-silicone").price_per_kg.source == "the next invoice"
    assert "harbour-silicone" in {card.id for card in again.desk.shelf.to_take.materials}
