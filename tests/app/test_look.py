"""The look: contrast, sizes, wording that fits, silhouettes and bars that lie where they should."""

from datetime import timedelta
from itertools import pairwise

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from msgspec.structs import replace
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor, QImage, QPainter
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication

from homunculus.app.drawing.person import person_path
from homunculus.app.shell.clock import AHEAD_H, LEFT, PAST_H
from homunculus.app.shell.rail import PERSON_M
from homunculus.app.theme import load_themes
from homunculus.app.theme.glyphs import state_glyph
from homunculus.app.theme.hatch import hatch
from homunculus.app.theme.ink import Ink
from homunculus.core.plan.memory import Last
from homunculus.core.plan.status import WORDS
from homunculus.core.showing import Shown

TEXT = ("ink", "ink2", "decide", "reckon", "mind", "danger")
GROUNDS = ("sheet", "film", "edge")


def luminance(colour: QColor) -> float:
    """WCAG 2.2 relative luminance."""
    parts = [
        c / 12.92 if c <= 0.04045 else ((c + 0.055) / 1.055) ** 2.4
        for c in (colour.redF(), colour.greenF(), colour.blueF())
    ]
    return 0.2126 * parts[0] + 0.7152 * parts[1] + 0.0722 * parts[2]


def contrast(a: QColor, b: QColor) -> float:
    """WCAG 2.2 contrast ratio."""
    light, dark = sorted((luminance(a), luminance(b)), reverse=True)
    return (light + 0.05) / (dark + 0.05)


@pytest.fixture(scope="module")
def themes(qapp):
    return load_themes()


@pytest.fixture
def ink(themes):
    image = QImage(400, 200, QImage.Format.Format_ARGB32_Premultiplied)
    image.fill(themes["plaster"].colour("sheet"))
    painter = QPainter(image)
    yield Ink(painter, themes["plaster"])
    painter.end()


@pytest.mark.parametrize("name", ["plaster", "stage"])
def test_text_and_marks_have_the_contrast_that_wcag_asks_for(themes, name):
    theme = themes[name]
    for ground in GROUNDS:
        for colour in TEXT:
            assert contrast(theme.colour(colour), theme.colour(ground)) >= 4.5, (colour, ground)
        assert contrast(theme.colour("line"), theme.colour(ground)) >= 3.0


def test_both_themes_have_the_same_names_and_stage_has_no_white(themes):
    assert themes["plaster"].colours.keys() == themes["stage"].colours.keys()
    assert max(c.lightness() for c in themes["stage"].colours.values()) < 190


def test_no_text_is_under_twelve_pixels_however_it_is_shrunk(themes):
    theme = themes["plaster"]
    for role in ("tick", "note", "label", "lane_value", "headline"):
        for ratio in (1.0, 0.62, 0.3):
            assert theme.font(role, 0, ratio).pixelSize() >= 12


def test_figures_are_tabular(ink):
    assert len({round(ink.width(digit * 6, "headline"), 3) for digit in "0123456789"}) == 1


def test_a_number_steps_down_before_it_clips(ink):
    shown = Shown("5' 10 1/2\"", "")
    ratio = ink.fitted(60, shown, "station")
    assert ratio < 1
    assert ink.number_width(shown, "station", ratio=ratio) <= 66
    assert ink.fitted(400, shown, "station") == 1.0


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.text("abcdefgh äöü", min_size=1, max_size=60).map(str.strip).filter(bool), st.floats(30, 200))
def test_long_names_lose_their_middle_never_their_ends(ink, words, room):
    short = ink.squeezed(room, words, "label")
    if short == words:
        assert ink.width(words, "label") <= room
    elif len(words) > 5:
        assert short[0] == words[0]
        assert "…" in short
        assert ink.width(short, "label") <= room or len(short) <= 3


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.text("abcdefgh", min_size=6, max_size=20), min_size=2, max_size=6), st.floats(80, 300))
def test_a_squeezed_list_leaves_out_whole_items_and_never_joins_two(ink, items, room):
    short = ink.squeezed(room, " · ".join(items), "label")
    shown, _, left_out = short.partition(" +")
    assert int(left_out or 0) + len(shown.split(" · ")) == len(items)
    whole = shown.split(" · ")
    assert whole == items[: len(whole)] or ("…" in shown and len(whole) == 1 and whole[0][0] == items[0][0])


@settings(suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(st.lists(st.text("abcdefgh", min_size=1, max_size=9), min_size=1, max_size=25), st.floats(60, 300))
def test_wrapped_words_are_all_there_in_order_and_fit(ink, words, room):
    lines = ink.wrapped(room, " ".join(words), "body")
    assert " ".join(lines).split() == words
    assert all(ink.width(line, "body") <= room or " " not in line for line in lines)


@pytest.mark.parametrize("name", ["wet", "curing", "firm", "oven", "air_dry", "past", "laminate", "structure", "clay"])
def test_every_pattern_of_matter_differs_from_every_other(qapp, name):
    def tile(pattern):
        image = QImage(60, 60, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        painter.fillRect(image.rect(), hatch(pattern, "#22262b"))
        painter.end()
        return image

    mine = tile(name)
    assert mine != tile("cured")
    others = {"wet", "curing", "firm", "oven", "air_dry", "past", "laminate", "structure", "clay"} - {name}
    assert all(mine != tile(other) for other in others)


def test_every_state_has_its_own_glyph(themes):
    drawn = []
    for state in WORDS:
        image = QImage(20, 20, QImage.Format.Format_ARGB32_Premultiplied)
        image.fill(Qt.GlobalColor.white)
        painter = QPainter(image)
        state_glyph(Ink(painter, themes["plaster"]), 2, 2, state)
        painter.end()
        drawn.append(image)
    assert all(a != b for i, a in enumerate(drawn) for b in drawn[:i])


def test_a_person_is_as_tall_as_asked():
    assert person_path(175.0).boundingRect().height() == pytest.approx(175, rel=0.02)


# ------------------------------------------------------------------------------- rail and clock
def test_silhouettes_and_person_share_one_scale(window):
    px = window.rail.px_per_m()
    assert px * PERSON_M < window.rail.row_height()
    window.resize(1280, 1200)
    QApplication.processEvents()
    assert window.rail.px_per_m() >= px


def test_bars_of_one_lane_never_overlap_and_lie_where_their_time_is(window):
    clock = window.clock
    lanes, _ = clock.lanes()
    assert any(lanes)
    for lane in lanes:
        bars = sorted(lane, key=lambda b: b.start)
        assert all(a.end <= b.start for a, b in pairwise(bars))
    now = window.desk.now()
    assert clock.x_of(now - timedelta(hours=PAST_H)) == pytest.approx(LEFT)
    assert clock.x_of(now + timedelta(hours=AHEAD_H)) == pytest.approx(clock.width())


def test_bars_that_touch_share_a_lane_and_what_finds_no_room_is_counted(window, monkeypatch):
    at, clock = window.desk.now(), window.clock
    first = next(bar for bar in window.desk.status.bars)

    def bar(name, begin, hours):
        return replace(first, name=name, start=at + timedelta(hours=begin), end=at + timedelta(hours=begin + hours), planned=False)  # fmt: skip

    bars = [bar("a", 0, 2), bar("b", 2, 1), bar("between", 1, 2), bar("before", -1, 1), bar("third", 1.5, 1), *(bar(f"no room {i}", 1, 1) for i in range(9))]  # fmt: skip
    monkeypatch.setattr(clock, "_bars", lambda: bars)
    clock._lanes = Last()
    lanes, left_over = clock.lanes()
    assert [one.name for one in lanes[0]] == ["before", "a", "b"]
    assert len(lanes) > 1
    assert left_over == len(bars) - sum(map(len, lanes)) > 0


def test_a_click_on_a_bar_chooses_its_build(window):
    bar, _ = window.clock._places()[0]
    window.desk.choose("ferry")
    QApplication.processEvents()
    target = window.clock._places()
    index = next(i for i, (b, _) in enumerate(target) if b.build != "ferry")
    QTest.mouseClick(window.clock.spots.find(f"bar:{index}"), Qt.MouseButton.LeftButton)
    assert window.desk.chosen == target[index][0].build
    assert bar.build


def test_nothing_wet_says_when_the_next_pour_is(open_window, folder):
    (folder / "log.jsonl").unlink()
    job = (folder / "job.json").read_text()
    (folder / "job.json").write_text(job.replace("2026-02-1", "2026-04-1").replace("2026-02-2", "2026-04-2"))
    window = open_window(folder)
    assert window.clock.lanes() == ([[], [], []], 0)
    assert not window.clock.grab().isNull()


def test_of_several_waiting_saves_only_the_newest_is_written(window, qtbot, monkeypatch):
    written = []
    monkeypatch.setattr(window.desk.folder, "save", lambda job, pins: written.append(job.builds[0].scale))
    for scale in (11.0, 10.0, 9.0, 8.0):
        window.desk.decide(window.desk.decision("scale"), scale)
        window.desk.save_now()
    qtbot.waitUntil(lambda: bool(written) and written[-1] == 8.0, timeout=3000)
    assert len(written) <= 4
