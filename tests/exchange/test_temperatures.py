"""A logger's CSV: its many shapes, its gaps, its bad rows, and what a cure makes of it."""

import time
from datetime import datetime, timedelta
from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus.core.cure.clock import Clock
from homunculus.core.cure.curve import cure_curve
from homunculus.core.cure.kinetics import Kinetics, time_to_cure
from homunculus.core.cure.record import Record
from homunculus.core.cure.temperature import Daily, Nights
from homunculus.core.errors import UserError
from homunculus.core.job.shop import Air
from homunculus.exchange.temperatures import MOST_TOLD, as_entry, read_temperatures

NIGHT = datetime(2026, 2, 19, 18)


@pytest.mark.parametrize("text", [
    "2026-02-19 18:00,9.5\n2026-02-19 18:10,9.0\n",
    "\ufeffNo.;Time;Temp °C\n1;19.02.2026 18:00;9,5\n2;19.02.2026 18:10;9,0\n",
    "time\tT °F\thumidity\n2026-02-19T18:00:00\t49.1\t40\n2026-02-19T18:10:00\t48.2\t41\n",
    "19/02/2026 18:00:00,9.5 °C\n19/02/2026 18:10:00,9.0 °C\n",
    "02/19/2026 18:00,9.5\r\n02/19/2026 18:10,9.0\r\n",
])  # fmt: skip
def test_a_loggers_file_is_read_in_the_shapes_that_loggers_write(text):
    record = read_temperatures(text.encode(), "logger.csv").record
    assert record.first == NIGHT
    assert [round(c, 6) for _, c in record.series] == [9.5, 9.0]
    assert record.last - record.first == timedelta(minutes=10)


def test_bad_rows_are_left_out_and_said_and_the_good_ones_come_in():
    text = "time,T\n2026-02-19 18:00,9.5\n2026-02-19 18:10,ERR\nnonsense,9\n2026-02-31 18:20,9\n2026-02-19 18:30,900\n2026-02-19 18:40,9.1\n"
    read = read_temperatures(text.encode(), "logger.csv")
    assert len(read.record.series) == 2
    assert [line.split(" of ")[0] for line in read.left_out] == ["Row 3", "Row 4", "Row 5", "Row 6"]
    assert as_entry(read, "logger.csv").text.startswith(
        "logger.csv: 2 readings, 4 rows left out, the first: Row 3 of logger.csv has"
    )
    many = replace(read, left_out=read.left_out[:1] * MOST_TOLD)
    assert f"{MOST_TOLD} rows or more left out" in as_entry(many, "logger.csv").text


@pytest.mark.parametrize(("text", "said"), [
    ("03/04/2026 18:00,9\n05/06/2026 18:00,8\n", "day first or month first"), ("a,b\nc,d\n", "no column of days"), ("", "no column of days"),
    ("2026-02-19 18:00,x\n2026-02-19 18:10,y\n", "no column of temperatures"), ("2026\0", "no text"),
])  # fmt: skip
def test_what_cannot_be_read_or_can_be_read_two_ways_is_refused(text, said):
    with pytest.raises(UserError, match=said):
        read_temperatures(text.encode(), "logger.csv")


@given(st.binary(max_size=200))
def test_no_file_breaks_the_reader(data):
    try:
        assert len(read_temperatures(data, "x.csv").record.series) >= 2
    except UserError as trouble:
        assert "x.csv" in str(trouble)  # noqa: PT017  (the only way out but an answer)


def test_a_gap_is_seen_and_the_programme_holds_in_it():
    series = tuple((600.0 * i, 9.0) for i in range(40) if not 10 <= i < 25)
    record = Record(NIGHT, series)
    assert record.gaps() == ((NIGHT + timedelta(seconds=5400), NIGHT + timedelta(seconds=15000)),)
    air = Nights(Daily(Air(21.0, 14.0)), record.spans())
    assert [air.at(NIGHT + timedelta(minutes=m)) for m in (30, 170, 300)] == [9.0, 14.0, 9.0]
    assert air.at(NIGHT + timedelta(days=1)) == 14.0


@given(st.lists(st.tuples(st.integers(0, 200), st.integers(1, 60), st.floats(-5, 40)), max_size=12))
def test_later_stretches_lie_over_earlier_ones_and_time_is_neither_lost_nor_doubled(spans):
    told = [(NIGHT + timedelta(minutes=a), NIGHT + timedelta(minutes=a + n), c) for a, n, c in spans]
    air = Nights(Daily(Air(21.0, 14.0)), told)
    moment = NIGHT
    for seconds, celsius in air.steps(NIGHT):
        middle = moment + timedelta(seconds=seconds / 2)
        expected = next((c for a, b, c in reversed(told) if a <= middle < b), Daily(Air(21.0, 14.0)).at(middle))
        assert celsius == expected
        moment += timedelta(seconds=seconds)
        if moment > NIGHT + timedelta(hours=6):
            break


@given(st.lists(st.floats(5, 30), min_size=5, max_size=120))
def test_thinning_a_record_keeps_its_ends_and_hardly_moves_a_cure(celsius):
    record = Record(NIGHT, tuple((300.0 * i, c) for i, c in enumerate(celsius)))
    thin = record.thinned()
    assert thin.series[0] == record.series[0]
    assert thin.series[-1] == record.series[-1]
    law = Kinetics(23.0, 60000.0)
    times = [time_to_cure(needed=8000.0, kinetics=law, programme=Nights(Daily(Air()), r.spans()), start=NIGHT, lag=1800.0)
             for r in (record, thin)]  # fmt: skip
    assert times[1] == pytest.approx(times[0], rel=0.01)


def test_the_curve_reaches_its_mark_when_the_time_says_so():
    law, air = Kinetics(23.0, 60000.0), Daily(Air(21.0, 14.0))
    seconds = time_to_cure(needed=57600.0, kinetics=law, programme=air, start=NIGHT, lag=3600.0)
    points = cure_curve(book=57600.0, clock=Clock(law), programme=air, start=NIGHT, lag=3600.0, until=seconds)
    assert points[-1].seconds == pytest.approx(seconds)
    assert points[-1].done == pytest.approx(1.0, abs=2e-4)
    assert all(b.done >= a.done for a, b in pairwise(points))


def test_universal_time_is_told_from_the_shops_own(monkeypatch):
    monkeypatch.setenv("TZ", "XST-2")  # two hours east
    time.tzset()
    try:
        read = read_temperatures(b"2026-02-19T16:00:00Z,9.5\n2026-02-19T16:10:00Z,9.0\n", "logger.csv")
        assert read.record.first == NIGHT
    finally:
        monkeypatch.undo()
        time.tzset()
