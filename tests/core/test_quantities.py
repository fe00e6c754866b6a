"""Reading and showing quantities as people type and say them."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.core.quantities import NBSP, like_what_stands, parse, parse_number
from homunculus.core.showing import show, show_inches, show_run, show_scale, show_times, significant, trimmed


@pytest.mark.parametrize(
    ("text", "kind", "value"),
    [
        ("18 m", "length", 18.0),
        ("5' 10 1/2\"", "length", 70.5 * 0.0254),
        ("3/8 in", "length", 0.375 * 0.0254),
        ("3/8\"", "length", 0.375 * 0.0254),
        ("1 1/32 in", "length", 33 / 32 * 0.0254),
        ("6 ft 2 in", "length", 74 * 0.0254),
        ("½ in", "length", 0.0127),
        ("12", "length", 0.012),
        ("250 g", "mass", 0.25),
        ("2 lb 3 oz", "mass", 35 * 0.45359237 / 16),
        ("1.5 l", "volume", 0.0015),
        ("1,5 l", "volume", 0.0015),
        ("1,5 L", "volume", 0.0015),
        ("1:12", "scale", 12.0),
        ("5:8", "scale", 1.6),
        ("250 %", "scale", 0.4),
        ("12", "scale", 12.0),
        ("1/12", "scale", 12.0),
        ("45 min", "duration", 2700.0),
        ("16 h", "duration", 57600.0),
        ("1 h 30 min", "duration", 5400.0),
        ("73 F", "temperature", (73 - 32) / 1.8),
        ("−4 °C", "temperature", -4.0),
        ("21.5", "temperature", 21.5),
        ("8 %", "share", 0.08),
        ("6 m/s", "speed", 6.0),
        ("120 fps", "rate", 120.0),
        ("7", "count", 7.0),
    ],
)  # fmt: skip
def test_what_people_type_is_read(text, kind, value):
    assert parse(text, kind) == pytest.approx(value, rel=1e-12)


@pytest.mark.parametrize(
    ("text", "value"),
    [("0,500", 0.5), ("1,234,567", 1234567), ("1,500.5", 1500.5), ("1.500,5", 1500.5), ("12,5", 12.5), ("1500", 1500),
     ("1 500", 1500), ("10 1/2", 10.5), (".5", 0.5), ("1.5000", 1.5)],
)  # fmt: skip
def test_a_number_with_one_reading_is_read(text, value):
    assert parse_number(text) == value


def test_a_two_faced_number_is_refused_with_both_readings():
    with pytest.raises(UserError) as refusal:
        parse("1,500 g", "mass")
    assert "1.5000 g" in str(refusal.value)
    assert "1500 g" in str(refusal.value)


@pytest.mark.parametrize(
    ("text", "kind", "said"),
    [
        ("", "length", "Nothing stands there"),
        ("twelve", "length", "“twelve” is not a length"),
        ("12 kg", "length", "which is a mass, not a length"),
        ("12 furlongs", "length", "“furlongs”"),
        ("3 in 2 ft", "length", "out of order"),
        ("-3 mm", "length", "below nought"),
        ("1 2 3", "count", "more than one number"),
        ("-300 C", "temperature", "absolute zero"),
        ("1:0", "scale", "beyond any scale"),
        ("1:x", "scale", "not a scale"),
        ("12 m", "count", "none belongs here"),
        ("3/0 in", "length", "fraction"),
    ],
)
def test_what_cannot_be_read_is_refused_saying_what_was_understood(text, kind, said):
    with pytest.raises(UserError) as refusal:
        parse(text, kind)
    assert said in str(refusal.value)


def test_bare_numbers_follow_the_system():
    assert parse("12", "length", "imperial") == pytest.approx(12 * 0.0254)
    assert parse("70", "temperature", "imperial") == pytest.approx(21.111, abs=1e-3)


@pytest.mark.parametrize(
    ("value", "kind", "system", "shown"),
    [
        (1.5, "length", "metric", "1.50 m"),
        (0.25, "length", "metric", "250 mm"),
        (0.00069, "length", "metric", "0.690 mm"),
        (70.5 * 0.0254, "length", "imperial", "5' 10 1/2\""),
        (33 / 32 * 0.0254, "length", "imperial", "1 1/32 in"),
        (35.999 * 0.0254, "length", "imperial", "3'"),
        (3.333, "length", "imperial", "10' 11\""),
        (40.0, "length", "imperial", "131' 3\""),
        (800.0, "length", "imperial", "2625'"),
        (0.04, "focal_length", "imperial", "40.0 mm"),
        (1.2, "focal_length", "metric", "1200 mm"),
        (2.09, "mass", "metric", "2.09 kg"),
        (0.696, "mass", "metric", "696 g"),
        (35 * 0.45359237 / 16, "mass", "imperial", "2 lb 3 oz"),
        (0.001864, "volume", "metric", "1.86 L"),
        (12.0, "scale", "metric", "1:12"),
        (1.6, "scale", "metric", "5:8"),
        (0.4, "scale", "metric", "2.5:1"),
        (6.6, "scale", "metric", "1:6.6"),
        (83.138, "rate", "metric", "83.1 fps"),
        (80.0, "rate", "metric", "80 fps"),
        (21.0, "temperature", "imperial", "70 °F"),
        (-0.09, "share", "metric", "−9.00 %"),
        (91080.0, "duration", "metric", "25.3 h"),
        (3.13, "shop_days", "metric", "+3.1 d"),
        (-0.2, "shop_days", "metric", "−0.2 d"),
        (8.8, "stop", "metric", "f/8.8"),
    ],
)  # fmt: skip
def test_values_are_shown_as_people_say_them(value, kind, system, shown):
    assert (
        str(show(value, kind, system)) == shown.replace(" ", NBSP)
        or str(show(value, kind, system)).replace(NBSP, " ") == shown
    )


def test_runs_of_scales_round_inward():
    assert show_run(6.57, 15.96) == "1:6.6 to 1:15.9"


def test_given_values_lose_empty_noughts_only():
    assert trimmed(show(0.010, "length")).number == "10"
    assert trimmed(show(4.2, "length")).number == "4.2"
    assert trimmed(show(100.0, "mass")).number == "100"


@given(st.floats(0.0005, 90.0), st.sampled_from(["metric", "imperial"]))
def test_a_shown_length_reads_back_within_what_it_shows(value, system):
    back = parse(str(show(value, "length", system)), "length", system)
    allowed = max(0.0254 / 64 * 1.001, value * 0.006) if system == "imperial" else value * 0.006
    assert abs(back - value) <= allowed


@pytest.mark.parametrize(
    ("typed", "stands", "meant"),
    [
        ("9", "6 m", "9 m"),
        ("1,5", "25.3 h", "1,5 h"),
        ("20", "19' 8\"", "20 '"),
        ("3", "2 lb 3 oz", "3 lb"),
        ("5", "12 fl oz", "5 fl oz"),
        ("4", "1 200 kg/m³", "4 kg/m³"),
        ("-3", "-2°", "-3 °"),
        ("0.7", "0.6 m, 0.2 m right", "0.7 m"),
        ("0.7", "0.6 m to 1.2 m", "0.7 m"),
        ("0.7", "stands 0.6 m, may be soft", "0.7 m"),
        ("6", "looks 19' 8\"", "6 '"),
        ("900 mm", "6 m", "900 mm"),
        ("5", "1:8, 250 %", "5"),
        ("5", "f/11", "5"),
        ("5", "box 3 × 4 mm", "5"),
        ("a ferry", "6 m", "a ferry"),
        ("4", "3 crabs", "4"),
        ("5", "14 °C", "5 °C"),
        ("4", "12 L", "4 L"),
    ],
)
def test_a_bare_number_means_the_unit_of_what_it_is_typed_over(typed, stands, meant):
    assert like_what_stands(typed, stands) == meant


@given(st.floats(0.001, 5e5), st.sampled_from(["length", "mass", "volume", "duration", "speed", "share", "area"]))
def test_the_number_of_a_shown_value_typed_over_it_changes_nothing(value, kind):
    shown = show(value, kind)
    assert parse(like_what_stands(shown.number, str(shown)), kind) == parse(str(shown), kind)


def test_how_much_larger_a_loupe_draws_is_written_without_an_exponent():
    assert [show_times(x) for x in (0.69, 1.0, 8.0, 12.5, 530.0)] == ["×0.69", "×1", "×8", "×12", "×530"]


@given(st.floats(0.004, 900))
def test_a_shown_scale_reads_back_within_what_it_shows(denominator):
    assert parse(show_scale(denominator), "scale") == pytest.approx(denominator, rel=0.006)


@given(st.text(max_size=12), st.sampled_from(["length", "mass", "duration", "temperature", "scale", "count", "share"]))
def test_no_text_does_anything_but_read_or_refuse(text, kind):
    try:
        assert isinstance(parse(text, kind), float)
    except UserError as refusal:
        assert str(refusal)  # noqa: PT017  (either outcome is right; anything else is not)


@given(st.integers(0, 32 * 400))
def test_inches_are_exact_to_a_thirty_second(thirty_seconds):
    if thirty_seconds:
        assert parse(f"{show_inches(thirty_seconds / 32)} in", "length") == pytest.approx(thirty_seconds / 32 * 0.0254)


@given(st.floats(-1e6, 1e6).filter(lambda x: abs(x) > 1e-6))
def test_three_figures_are_within_half_a_unit_of_the_third(value):
    shown = float(significant(value, 3).replace("−", "-"))
    assert abs(shown - value) <= abs(value) * 0.00501
