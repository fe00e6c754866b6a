"""The log as CSV: nothing lost, nothing run, and moments read as people type them."""

import csv
import io
import re
from datetime import datetime, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.core.log import LogEvent
from homunculus.core.quantities import parse_moment
from homunculus.exchange.log_csv import HEAD, log_as_csv
from homunculus.exchange.tables import inert

NOW = datetime(2026, 2, 24, 9, 10)
words = st.text(st.characters(blacklist_categories=("Cs", "Cc")), max_size=40)
entries = st.builds(
    LogEvent, st.uuids().map(str), st.datetimes(datetime(2020, 1, 1), datetime(2030, 1, 1)), st.sampled_from(("note", "poured", "weighed")),
    words, words, words, st.one_of(st.none(), st.floats(-20, 60)), weights_kg=st.dictionaries(st.sampled_from("AB"), st.floats(0, 9)), lot=words,
)  # fmt: skip


@given(st.lists(entries, max_size=8))
def test_every_entry_is_a_row_that_reads_back_and_that_no_spreadsheet_runs(log):
    text = log_as_csv(log, {}, {log[0].id} if log else set())
    rows = list(csv.DictReader(io.StringIO(text, newline="")))
    assert len(rows) == len(log)
    assert tuple(rows[0] if rows else HEAD) == HEAD
    for i, (row, entry) in enumerate(zip(rows, log, strict=True)):
        assert row["text"] == inert(entry.text)
        assert row["counts"] == ("no" if i == 0 else "yes")
        assert (row["celsius"] == "") == (entry.celsius is None)
        for cell in row.values():
            assert cell[:1] not in ("=", "+", "-", "@", "\t", "\r") or re.fullmatch(r"[-+]?\d+([.,]\d+)?", cell)


def test_a_corrected_entry_and_its_names_stand_in_their_columns():
    entry = LogEvent(
        "a",
        NOW,
        "weighed",
        "cup",
        "keeper",
        "cheek",
        20.55,
        weights_kg={"A": 0.45, "B": 0.0451},
        lot="7",
        mix="coat",
        batch=2,
    )
    text = log_as_csv([entry], {("keeper", ""): "Keeper", ("keeper", "cheek"): "cheek and brow"}, {"a"})
    (row,) = csv.DictReader(io.StringIO(text))
    assert (row["at"], row["what"], row["build"], row["piece"]) == (
        "2026-02-24 09:10",
        "weighed",
        "Keeper",
        "cheek and brow",
    )
    assert (row["weights_kg"], row["mix"], row["batch"], row["celsius"], row["counts"]) == (
        "A 0.4500; B 0.0451",
        "coat",
        "2",
        "20.55",
        "no",
    )


@pytest.mark.parametrize(("typed", "moment"), [
    ("08:30", datetime(2026, 2, 24, 8, 30)), ("8.05", datetime(2026, 2, 24, 8, 5)), (" 16:10 ", datetime(2026, 2, 23, 16, 10)),
    ("21 Feb 10:10", datetime(2026, 2, 21, 10, 10)), ("21. february, 10.10", datetime(2026, 2, 21, 10, 10)),
    ("30 Dec 12:00", datetime(2025, 12, 30, 12, 0)), ("2026-02-20 16:10", datetime(2026, 2, 20, 16, 10)),
    ("2026-2-3T7:05", datetime(2026, 2, 3, 7, 5)),
])  # fmt: skip
def test_a_moment_is_read_as_people_type_it(typed, moment):
    assert parse_moment(typed, NOW) == moment


@pytest.mark.parametrize(
    "typed", ["", "soon", "25:00", "12:60", "31 Feb 10:00", "24 Fob 10:00", "2026-13-01 10:00", "10", "24/2 10:00"]
)
def test_what_is_no_moment_is_refused_with_examples(typed):
    with pytest.raises(UserError, match="16:10, 24 Feb 16:10"):
        parse_moment(typed, NOW)


@given(st.datetimes(NOW - timedelta(days=300), NOW).map(lambda m: m.replace(second=0, microsecond=0)))
def test_a_moment_written_in_full_comes_back(moment):
    assert parse_moment(f"{moment:%Y-%m-%d %H:%M}", NOW) == moment
    assert parse_moment(f"{moment.day} {moment:%b %H:%M}", NOW) in (moment, moment.replace(year=NOW.year))
