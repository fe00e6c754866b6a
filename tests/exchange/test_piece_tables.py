"""Pieces as tables: written and read back equal, changed cell by cell, new ones made, bad rows named."""

import pytest
from hypothesis import given, settings
from msgspec.structs import replace

from homunculus import library
from homunculus.core.errors import UserError
from homunculus.exchange.piece_table import (
    as_csv,
    as_spreadsheet,
    guess_columns,
    pieces_from_table,
    table_of,
    table_words,
)
from homunculus.exchange.tables import read_table
from tests.strategies import jobs

SHELF = library.shelf()


def read(rows, job, build="", system="metric"):
    return pieces_from_table(rows, guess_columns(rows[0], {}), job, SHELF, build, system)


@pytest.mark.parametrize("how", [("a.csv", as_csv), ("a.xlsx", as_spreadsheet)], ids=["csv", "xlsx"])
def test_the_demos_pieces_written_and_read_are_the_same(demo_document, how):
    job = demo_document.job
    found = read(read_table(how[1](job, SHELF), how[0]), job)
    assert (found.bad, found.new, found.changed, found.same) == ((), (), (), 15)
    assert found.job == job


@settings(max_examples=25)
@given(jobs())
def test_any_jobs_pieces_written_and_read_are_the_same(job):
    found = read(table_of(job, SHELF), job)
    assert found.bad == ()
    assert found.job == job


def test_a_cell_changes_one_thing_and_an_empty_one_nothing(demo_document):
    job = demo_document.job
    rows = [["build", "name", "hollow", "quantity", "mould", "yield"], ["lighthouse", "gallery", "6 mm", "", "", "80 %"],
            ["Paddle ferry", "hull", "", "2", "block 20 mm", ""]]  # fmt: skip
    found = read(rows, job)
    assert found.bad == ()
    assert found.changed == ("lighthouse/gallery", "ferry/hull")
    before, gallery = (next(p for p in j.build("lighthouse").pieces if p.id == "gallery") for j in (job, found.job))
    assert gallery == replace(before, wall_m=0.006, good=0.8)
    hull = next(p for p in found.job.build("ferry").pieces if p.id == "hull")
    assert (hull.copies, type(hull.mould).__struct_config__.tag, hull.mould.layer_m) == (2, "block", 0.02)


def test_new_pieces_are_made_as_lines_make_them_and_embed_their_cards(demo_document):
    job = demo_document.job
    rows = [["part", "form", "made of", "how it is made", "count"], ["buoy", "ball 800 mm", "casting resin slow", "block 12 mm", "3"],
            ["net", "box 2 × 0.1 × 1 m", "print filament", "printed", ""]]  # fmt: skip
    found = read(rows, job, "ferry")
    assert found.bad == ()
    assert found.new == ("ferry/buoy", "ferry/net")
    buoy, net = found.job.build("ferry").pieces[-2:]
    assert (buoy.name, buoy.copies, buoy.mould.wall_m) == ("buoy", 3, 0.012)
    assert [op.id for op in buoy.route], "the usual route of a block"
    assert found.job.cards.material("print-filament") == next(c for c in SHELF.materials if c.id == "print-filament")
    assert net.mould is None
    assert "2 new pieces" in table_words("own.csv", found)


def test_rows_that_cannot_be_are_named_and_left_out(demo_document):
    rows = [["build", "name", "size", "material"], ["lighthouse", "mast", "cone 0.2 × 0.1 × 4 m", "wood"], ["nowhere", "x", "ball 1 m", ""],
            ["lighthouse", "", "ball 1 m", ""], ["lighthouse", "ball", "huge", ""], ["lighthouse", "mast", "ball 1 m", ""]]  # fmt: skip
    found = read(rows, demo_document.job)
    assert [bad.row for bad in found.bad] == [2, 3, 4, 5]
    assert "no build" in found.bad[1].reason
    assert len(found.new) == 1
    with pytest.raises(UserError, match="how a piece is called"):
        read([["colour"], ["red"]], demo_document.job)


def test_sizes_without_units_are_refused_and_feet_are_read(demo_document):
    rows = [["build", "name", "size"], ["ferry", "rail", "box 10 × 1 × 4"], ["ferry", "deck", "box 10 × 1 × 4 ft"]]
    found = read(rows, demo_document.job, system="imperial")
    assert "no unit" in found.bad[0].reason
    assert found.job.build("ferry").pieces[-1].form.length_m == pytest.approx(3.048)
