"""Cards as tables: written and read back equal, matched by their heads and units, bad rows named."""

import pytest
from msgspec.structs import replace

from homunculus import library
from homunculus.core.errors import UserError
from homunculus.core.shelf.stock import SORTS
from homunculus.exchange.card_table import as_csv, as_spreadsheet, card_words, cards_from_table, guess_columns, table_of
from homunculus.exchange.tables import read_table

STOCK, FAMILIES = library.stock(), library.families()


def read(rows, sort="materials", stock=STOCK, source="own.csv", remembered=None):
    return cards_from_table(rows, guess_columns(rows[0], sort, remembered or {}), stock, sort, FAMILIES, source)


@pytest.mark.parametrize("how", [("cards.csv", as_csv), ("cards.xlsx", as_spreadsheet)], ids=["csv", "xlsx"])
@pytest.mark.parametrize("sort", [s.name for s in SORTS if STOCK.of(s.name)])
def test_cards_written_and_read_into_a_shelf_without_them_are_the_same(sort, how):
    name, write = how
    cards = STOCK.of(sort)
    stock = replace(STOCK, **{sort: cards[:1]})  # one is left, for new ones to begin like
    found = read(read_table(write(cards, sort), name), sort, stock)
    assert found.bad == ()
    assert found.stock == STOCK
    assert (len(found.new), found.same) == (len(cards) - 1, 1)


def test_a_shops_own_sheet_is_read_by_its_heads_and_units():
    rows = [["Name", "family", "Density (g/ml)", "pot life, book [min]", "price", "density, from", "smells of"],
            ["ocean gel", "gelatin", "1.15", "12", "11.5", "drum label", "fish"],
            ["tin-cure silicone, soft", "", "", "", "25", "", ""]]  # fmt: skip
    found = read(rows)
    assert found.bad == ()
    assert (found.new, found.changed) == (("ocean-gel",), ("silicone-tin-soft",))
    gel = found.stock.card("materials", "ocean-gel")
    assert (gel.density_kg_m3.value, gel.density_kg_m3.source) == (1150.0, "drum label")
    assert (gel.pot_life_s.value, gel.pot_life_s.source, gel.clock) == (720.0, "own.csv", "gelled")
    soft = found.stock.card("materials", "silicone-tin-soft")
    assert (soft.price_per_kg.value, soft.density_kg_m3) == (
        25.0,
        STOCK.card("materials", "silicone-tin-soft").density_kg_m3,
    )
    assert "1 new card, 1 changed" in card_words("own.csv", found)


def test_bad_rows_are_named_and_the_good_ones_come_in():
    rows = [["name", "family", "density"], ["good wax", "wax", "0.9 g/cm3"], ["odd", "cheese", "1"], ["", "", "3"],
            ["heavy", "wax", "very"], ["good wax", "wax", "1"]]  # fmt: skip
    found = read(rows)
    assert found.new == ("good-wax",)
    assert [(bad.row, bad.column) for bad in found.bad] == [(3, "name"), (4, "name"), (5, "density"), (6, "name")]
    with pytest.raises(UserError, match="how a card is called"):
        read([["colour"], ["red"]])


def test_a_match_that_somebody_made_before_comes_again():
    rows = [["Bezeichnung", "Dichte"], ["Ocker", "1200"]]
    assert guess_columns(rows[0], "materials", {}) == ("", "")
    assert guess_columns(rows[0], "materials", {"bezeichnung": "name", "dichte": "density_kg_m3"}) == (
        "name",
        "density_kg_m3",
    )
    assert guess_columns(["name", "name"], "materials", {}) == ("name", "")


def test_a_cell_that_would_run_in_a_spreadsheet_is_written_as_words():
    card = replace(STOCK.card("materials", "clay-oil"), name='=HYPERLINK("x")')
    assert not any(cell.startswith("=") for cell in as_csv((card,), "materials").decode().splitlines()[1].split(","))
    found = read(read_table(as_csv((card,), "materials"), "x.csv"), stock=replace(STOCK, materials=()))
    assert found.stock.materials == (card,)
    assert table_of((), "materials") == [[]]


def test_quantities_stand_as_bare_numbers_in_the_unit_of_their_head():
    head, latex = table_of((STOCK.card("materials", "foam-latex"),), "materials")
    cells = dict(zip(head, latex, strict=True))
    assert (cells["oven [C]"], cells["demould, book [min]"], cells["shrinks by [%]"]) == ("85", "240", "5")
    assert cells["density [kg/m³]"] == "180"
    stone = dict(zip(*table_of((STOCK.card("materials", "gypsum-moulding"),), "materials"), strict=True))
    assert stone["shrinks by [%]"] == "-0.2"
