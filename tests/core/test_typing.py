"""What people type, and what we print: two readings are asked about, one is taken, and what was printed is read back."""

from __future__ import annotations

import os
import subprocess
import sys
from datetime import date, datetime

import pytest
from hypothesis import assume, example, given
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.core.quantities import decimal_points, parse, parse_day, parse_moment, parse_number
from homunculus.core.showing import show, show_number, trimmed


@pytest.mark.parametrize("system", ["metric", "imperial"])
@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [("5'10", "length", 70 * 0.0254), ("5' 10 1/2", "length", 70.5 * 0.0254), ("5 ft 10", "length", 70 * 0.0254),
     ("1 m 50", "length", 1.50), ("1m50", "length", 1.50), ("1 m 5", "length", 1.05), ("2 kg 300", "mass", 2.3), ("2 lb 3", "mass", 35 * 0.45359237 / 16),
     ("1 h 30", "duration", 5400.0), ("5'", "length", 60 * 0.0254), ("50 m 1 mm", "length", 50.001)],
)  # fmt: skip
def test_a_number_after_a_unit_counts_in_the_unit_beneath_it_in_any_system(text, kind, value, system):
    assert parse(text, kind, system) == pytest.approx(value)


@pytest.mark.parametrize("text", ["1.500 g", "1,500 g", "12.345 mm", "999,999 lx"])
def test_a_point_is_as_two_faced_as_a_comma_and_a_nought_more_makes_it_plain(text):
    kind = {"g": "mass", "mm": "length", "lx": "illuminance"}[text.split()[1]]
    with pytest.raises(UserError, match="can be read as") as refusal:
        parse(text, kind)
    for reading in refusal.value.remedy.removeprefix("Type ").split(" or "):
        assert parse(reading, kind) > 0  # either way out can be typed as it is said
    if "." in text:
        with decimal_points():
            assert parse(text, kind) == pytest.approx(parse(text.replace(" ", "0 "), kind))


@pytest.mark.parametrize(
    ("text", "value"),
    [("0.500", 0.5), ("1.50", 1.5), ("1.5000", 1.5), ("1234.567", 1234.567), ("1.234.567", 1234567.0)],
)
def test_what_has_one_reading_is_taken(text, value):
    assert parse_number(text) == value


@pytest.mark.parametrize("text", ["3 Mm", "3 MM", "3 Mg", "3 Ml"])
def test_case_never_turns_a_million_into_a_thousandth(text):
    kind = {"m": "length", "g": "mass", "l": "volume"}[text[-1].lower()]
    with pytest.raises(UserError, match="capital M"):
        parse(text, kind)
    assert parse(text.lower(), kind) == pytest.approx({"length": 3e-3, "mass": 3e-6, "volume": 3e-6}[kind])
    assert parse("3 KG", "mass") == 3.0


def test_a_weekday_that_contradicts_its_date_is_said():
    assert parse_day("Tue 17 March 2026", date(2026, 1, 1)) == date(2026, 3, 17)
    with pytest.raises(UserError, match=r"2026-03-17 is a Tuesday"):
        parse_day("Wed 17 March 2026", date(2026, 1, 1))
    with pytest.raises(UserError, match="no day of the week"):
        parse_day("Xyz 17 March 2026", date(2026, 1, 1))


@pytest.mark.parametrize(
    ("near", "year"),
    [(date(2028, 1, 5), 2028), (date(2027, 6, 1), 2028), (date(2026, 2, 1), 2024), (date(2026, 4, 1), 2028)],
)
def test_the_29th_of_february_is_taken_in_its_year(near, year):
    assert parse_day("29 Feb", near) == date(year, 2, 29)
    with pytest.raises(UserError, match="no day"):
        parse_day("29 Feb 2027", near)
    assert parse_moment("29 Feb 16:10", datetime(2030, 1, 1)) == datetime(2028, 2, 29, 16, 10)


KINDS = (
    "length",
    "mass",
    "volume",
    "duration",
    "temperature",
    "speed",
    "rate",
    "share",
    "area",
    "density",
    "illuminance",
    "stops",
    "voltage",
    "current",
    "power",
    "efficacy",
    "luminance",
    "luminous_flux",
    "scale",
    "screen_time",
    "areal_density",
    "angle",
    "line_force",
    "force",
    "acceleration",
    "mass_flow",
)


@example("duration", "metric", 0.0625, 3)  # what a cue is told in
@given(st.sampled_from(KINDS), st.sampled_from(["metric", "imperial"]), st.floats(1e-3, 500), st.integers(3, 5))
def test_what_is_shown_can_be_typed_back(kind, system, value, digits):
    for shown in (show(value, kind, system, digits), trimmed(show(value, kind, system, digits))):
        words = str(shown).replace("f/", "").replace("−", "-")
        assume(shown.unit != "d")
        again = parse(words, kind, system)
        assert str(trimmed(show(again, kind, system, digits))) == str(trimmed(show(value, kind, system, digits)))


@given(st.floats(1e-6, 1e6))
def test_numbers_of_cells_read_back_typed_and_from_files(value):
    assert parse_number(show_number(value)) == pytest.approx(value, rel=1e-9) or "e" in show_number(value)


def test_what_is_shown_does_not_depend_on_the_machines_language():
    code = (
        "import locale\n"
        "try: locale.setlocale(locale.LC_ALL, '')\nexcept locale.Error: pass\n"
        "from datetime import datetime\nfrom homunculus.core.showing import *\n"
        "m = datetime(2026, 3, 17, 9)\nprint(show_day(m), show_moment(m), show_long_day(m), show(1234.5, 'mass'))"
    )
    said = {subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True, encoding="utf-8",
                           env=os.environ | {"LC_ALL": name, "LANG": name, "PYTHONIOENCODING": "utf-8"}).stdout
            for name in ("C", "C.UTF-8", "de_DE.UTF-8", "tr_TR.UTF-8")}  # fmt: skip
    assert len(said) == 1
    assert "Tuesday 17 March" in said.pop()


def test_no_module_asks_the_machine_for_names_of_days_or_months():
    from pathlib import Path

    import homunculus

    for path in Path(homunculus.__file__).parent.rglob("*.py"):
        text = path.read_text(encoding="utf-8")
        assert not [
            sign for sign in ("%b", "%B", "%a", "%A", "%x", "%c") if f":{sign}" in text or f" {sign}" in text
        ], path
