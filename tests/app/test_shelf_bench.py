"""The shelf in the window: found, typed, compared, taken into the job, followed; by keys and by hand; undone in the order of doing."""

import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from homunculus.app.matching import remembered
from homunculus.core import specs
from homunculus.core.shelf.finding import name_of
from homunculus.store.new_job import new_job
from homunculus.store.shelf import ShelfFolder
from tests.app.conftest import drop, key, open_line, typed


@pytest.fixture
def bench(window):
    window.benches.open("shelf")
    found = window.benches.of("shelf")
    found.enter()
    return found


def row(bench, label):
    """Go to the row of the sheet that is called so."""
    at = next(i for i, r in enumerate(bench.sheet_rows()) if r.label == label)
    bench.sheet.setFocus()
    bench.sheet.choose(at)


def test_a_data_sheet_is_typed_in_by_keys_and_used_by_a_pour(window, bench):
    desk = window.desk
    key(window, Qt.Key.Key_Insert)
    typed(window, "harbour silicone: silicone")
    assert bench.choice.hit().key == "materials/harbour-silicone"
    key(window, Qt.Key.Key_Insert)
    line = open_line(window)
    assert line.text() == ": silicone", "the next is of the family of the chosen one"
    QTest.keyClick(line, Qt.Key.Key_Escape)
    for label, words in (("density", "1.2 g/cm3 from sheet 7"), ("mixed of", "A 100, B 5"), ("pot life, book", "20 min from sheet 7"),
                         ("demould, book", "6 h from sheet 7"), ("price", "31 from invoice")):  # fmt: skip
        row(bench, label)
        key(window, Qt.Key.Key_Return)
        typed(window, words)
    card = bench.choice.card()
    assert (card.density_kg_m3.value, card.pot_life_s.source, [p.parts for p in card.parts]) == (
        1200.0,
        "sheet 7",
        [100, 5],
    )
    assert ShelfFolder().read().stock.card("materials", "harbour-silicone") == card, "on the disk at once"
    said = []
    desk.said.connect(said.append)
    for words in ("30 min from sheet 7", "200 h from sheet 7", "20 min from sheet 7"):
        row(bench, "pot life, book")
        key(window, Qt.Key.Key_Return)
        typed(window, words)
    assert [one for one in said if "It is beyond" in one] == [
        "Kept. It is beyond what silicone usually has: is the unit right?"
    ]
    assert all(c.id != "harbour-silicone" for c in desk.job.cards.materials)
    assert desk.do("set builds/lighthouse/pieces/gallery/mould/rubber harbour-silicone")
    assert desk.job.cards.material("harbour-silicone") == card, "the job embeds what it uses"
    cost = desk.build_plan.find(specs.RUBBER_COST, "gallery").number
    bench.enter()
    row(bench, "price")
    key(window, Qt.Key.Key_Return)
    typed(window, "62 from the next invoice")
    assert desk.build_plan.find(specs.RUBBER_COST, "gallery").number == cost, "never done by itself"
    assert bench.choice.newer().words == "price 31 a kg → 62 a kg"
    (moved,) = [
        m
        for build, moves in desk.shelf.would_move("materials/harbour-silicone")
        for m in moves
        if m.after.spec is specs.RUBBER_COST
    ]
    assert moved.after.number == pytest.approx(2 * cost)
    bench.spots.find("follow").act()
    assert desk.build_plan.find(specs.RUBBER_COST, "gallery").number == pytest.approx(2 * cost)
    assert bench.choice.newer() is None
    key(window, Qt.Key.Key_U)
    assert desk.build_plan.find(specs.RUBBER_COST, "gallery").number == cost
    key(window, Qt.Key.Key_U)
    assert bench.choice.card().price_per_kg.value == 31, "then the shelf's own change, in the order of doing"
    key(window, Qt.Key.Key_Y, Qt.KeyboardModifier.ControlModifier)
    assert bench.choice.card().price_per_kg.value == 62
    bench.acts.leave()
    assert bench.choice.newer() is None
    assert desk.job.cards.material("harbour-silicone").price_per_kg.value == 31
    assert desk.do("set builds/lighthouse/name Tower")
    key(window, Qt.Key.Key_U)
    assert desk.job.build("lighthouse").name == "Tower", "what was done elsewhere since is not gone back on"
    assert desk.job.left
    key(window, Qt.Key.Key_U)
    assert bench.choice.card().price_per_kg.value == 31, "and does not stand in the way of the shelf's own"


def test_cards_are_found_held_beside_each_other_put_away_and_brought_back(window, bench):
    bench.show_sort("cameras")
    key(window, Qt.Key.Key_F, Qt.KeyboardModifier.ControlModifier)
    typed(window, "silicone skin")  # of whatever sort
    assert [r.card.id for r in bench.rows() if hasattr(r, "card")][:1] == ["silicone-platinum-skin"]
    key(window, Qt.Key.Key_C)
    bench.choose("materials/silicone-tin-soft")
    assert bench.choice.other().id == "silicone-platinum-skin"
    assert {r.label for r in bench.sheet_rows() if r.differs} >= {"price", "hardness, Shore", "mixed of"}
    bench.cards.setFocus()
    key(window, Qt.Key.Key_Delete)
    assert "silicone-tin-soft" not in {c.id for c in window.desk.shelf.to_take.materials}
    assert window.desk.job.cards.material("silicone-tin-soft"), "the job keeps what it carries"
    key(window, Qt.Key.Key_Delete)
    assert "silicone-tin-soft" in {c.id for c in window.desk.shelf.to_take.materials}


def test_what_is_no_value_is_said_and_nothing_is_written(window, bench):
    before = window.desk.shelf.room
    row(bench, "density")
    key(window, Qt.Key.Key_Return)
    typed(window, "heavy")
    assert "density" in window.notice.words
    assert window.desk.shelf.room is before
    assert not window.desk.shelf.folder.file.exists()


def test_things_of_every_sort_are_taken_into_the_job_each_in_its_way(window, bench):
    desk = window.desk
    pieces = len(desk.build.pieces)
    for where in (
        "ovens/oven-large",
        "lenses/probe-24",
        "stages/stage-large",
        "cameras/high-speed-1000",
        "bought/window-12",
    ):
        bench.choose(where)
        bench.cards.setFocus()
        QTest.keyClicks(bench.cards, "+")
        if where.startswith("lenses"):
            assert window.notice.words == "This job carries 24 mm probe lens. U goes back."
        if where.startswith("stages"):
            assert window.notice.words == "large stage is the stage that is shot on. U goes back."
    assert (desk.job.shop.ovens[-1].id, desk.job.cards.lenses[-1].id, desk.job.shop.stage.name) == (
        "oven-large",
        "probe-24",
        "large stage",
    )
    assert len(desk.build.pieces) == pieces + 1
    bench.choose("cameras/high-speed-1000")
    bench.spots.find("use").act()
    assert max(desk.job.mode.rates_fps) == 500
    assert desk.plan.build("lighthouse").find(specs.RATE, shot="3").number > 0
    bench.spots.find("mode").act()
    assert (desk.job.shop.mode, max(desk.job.mode.rates_fps)) == ("half width", 1000)
    bench.spots.find("mode").act()
    assert desk.job.shop.mode == "full width"


def test_a_thing_or_a_body_is_taken_for_a_build_and_without_one_it_is_said(open_window, tmp_path, now):
    window = open_window(new_job(tmp_path / "none", "None yet", now))
    window.benches.open("shelf")
    bench, desk = window.benches.of("shelf"), window.desk
    bench.enter()
    for where, said in (("bought/window-12", "A bought thing becomes a piece of a build: begin one first."),
                        ("bodies/man", "A body becomes pieces of a build: begin one first.")):  # fmt: skip
        bench.choose(where)
        assert bench.spots.find("take") is None, "nothing that is pressed says it"
        bench.acts.take()
        assert (window.notice.words, open_line(window), desk.job.builds) == (said, None, ())
    assert desk.do("build creature-suit: Crier, 1.8 m high, 1:1"), window.notice.words
    bench.acts.take()
    typed(window, "1.80 m")
    assert len(desk.build.pieces) > 3


def test_what_is_held_stands_beside_its_own_sort_alone_and_what_is_newer_is_told_of_its_own_card(window, bench):
    bench.choose("materials/silicone-tin-soft")
    bench.acts.hold()
    assert bench.choice.other() is None, "not beside itself"
    bench.choose("lenses/probe-24")
    assert bench.choice.other() is None
    bench.choose("materials/clay-oil")
    assert bench.choice.other().id == "silicone-tin-soft"
    window.desk.shelf.do("row materials/silicone-tin-soft: price: 30")
    assert bench.choice.newer() is None
    bench.choose("materials/silicone-tin-soft")
    assert "30" in bench.choice.newer().words


def test_a_table_is_dropped_matched_taken_in_and_taken_back(window, bench, tmp_path, qtbot):
    file = tmp_path / "own.csv"
    file.write_text("Bezeichnung;family;price\nmarsh wax;wax;6.5\nodd;cheese;1\n", "utf-8")
    drop(window, file)
    qtbot.waitUntil(lambda: window.benches.over == "match", timeout=20_000)
    match, room = window.benches.of("match"), window.desk.shelf.room
    assert match.columns == ("", "family", "price_per_kg")
    match.take()
    assert window.benches.over == "match", "without a name nothing is taken in, and the table stays to be matched"
    assert window.desk.shelf.room is room
    while match.columns[0] != "name":
        match.turn(0, 1)
    assert [(b.row, b.column) for b in match.trial().bad] == [(3, "name")]
    assert not match.grab().isNull()
    match.take()
    assert window.benches.over == "shelf"
    card = window.desk.shelf.room.stock.card("materials", "marsh-wax")
    assert (card.price_per_kg.value, card.price_per_kg.source.startswith("own.csv")) == (6.5, True)
    key(window, Qt.Key.Key_U)
    assert "marsh-wax" not in {c.id for c in window.desk.shelf.room.stock.materials}
    assert remembered("materials")["bezeichnung"] == "name"
    out = tmp_path / "lenses.xlsx"
    window.desk.shelf.write_table(out, "lenses")
    qtbot.waitUntil(out.exists, timeout=20_000)


def test_a_shelf_that_cannot_be_read_is_said_kept_and_what_ships_is_shown(open_window, folder, tmp_path):
    ShelfFolder().path.mkdir(parents=True)
    ShelfFolder().file.write_text("{", "utf-8")
    window = open_window(folder)
    window.benches.open("shelf")
    bench = window.benches.of("shelf")
    bench.enter()
    assert "cannot be read" in window.desk.shelf.trouble
    bench.choose("materials/clay-oil")
    bench.acts.turn_away()
    assert "recover" in window.notice.words
    assert ShelfFolder().file.read_text("utf-8") == "{"
    assert not bench.grab().isNull()


def test_what_another_window_wrote_is_seen_at_the_next_look(window, bench):
    from datetime import datetime

    from homunculus import library
    from homunculus.core.edits.edit import edits_between
    from homunculus.core.shelf.lines import do_line

    other = ShelfFolder()
    room = other.read()
    other.edit(edits_between(room, do_line(room, "new person: Ines", library.families())[0]), datetime(2026, 2, 24))
    assert not window.desk.shelf.room.stock.people
    window.desk._tick()
    assert [p.name for p in window.desk.shelf.room.stock.people] == ["Ines"]
    bench.show_sort("people")
    assert bench.choice.card().name == "Ines"


def test_rows_are_reached_by_mouse_and_every_row_says_what_it_is(window, bench):
    area = bench.cards.visualRect(bench.cards.rows.index(3, 0))
    QTest.mouseClick(bench.cards.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(area.center()))
    assert bench.choice.hit() == bench.cards.rows.items[3]
    for list_ in (bench.cards, bench.sheet):
        for i in range(min(12, list_.rows.rowCount())):
            assert list_.rows.manner.said(list_.rows.items[i])
    window.desk.use_units("imperial")
    assert any("°F" in r.text for r in bench.sheet_rows())


def test_a_job_that_is_opened_is_told_what_the_shelf_has_newer_and_nothing_moves(open_window, folder):
    first = open_window(folder)
    first.desk.shelf.tell()
    assert "shelf" not in first.notice.words, "nothing is newer"
    first.desk.shelf.do("row materials/silicone-tin-soft: price: 30")
    job = first.desk.job
    first.desk.shelf.tell()
    assert "tin-cure silicone, soft. K" in first.notice.words
    assert first.desk.job is job
    for card in [card.id for card in job.cards.materials if card.id != "silicone-tin-soft"][:2]:
        first.desk.shelf.do(f"row materials/{card}: price: 31")
    first.desk.shelf.tell()
    named = [name_of(hit.mine) for hit in first.desk.shelf.newer()]
    assert f": {named[0]} and {named[1]} and 1 more. K" in first.notice.words
