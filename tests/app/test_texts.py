"""Every bench of every build at every size: no two texts lie on each other, and none is cut off."""

from __future__ import annotations

from datetime import timedelta

import pytest
from msgspec.structs import replace
from PySide6.QtCore import QRectF
from PySide6.QtGui import QFontMetricsF
from PySide6.QtWidgets import QApplication

from homunculus.app.benches.register import BENCHES
from homunculus.app.benches.set_bench import VIEWS
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.row_list import RowList
from homunculus.app.theme.ink import Ink
from homunculus.core.figures import STATIONS
from homunculus.core.plan.course import WhatIf

SIZES = [(900, 560), (960, 600), (1280, 800), (1920, 1200)]
"""The smallest, that of a large screen at 200 %, the usual one, a large one."""
HELD = 12
"""Pixels by which what is taken hold of may reach over the edge of a drawing."""
TOUCH = 1.6
"""Pixels by which two texts may come into each other's box: the box is that of the ink, not of the line."""


class Written:
    """Where each text was painted, by widget, and which places were painted since they were last looked at."""

    def __init__(self, monkeypatch):
        self.texts: dict[object, list[tuple[QRectF, str]]] = {}
        self.anew: set[Place] = set()
        self.partly: set[Place] = set()
        self.boxes: dict[tuple[object, ...], QRectF] = {}
        paint, self._text, self._paragraph = Place.paintEvent, Ink.text, Ink.paragraph

        def begun(place, event):
            self.texts[place] = []
            self.anew.add(place)
            (self.partly.add if event.rect() != place.rect() else self.partly.discard)(place)
            paint(place, event)

        monkeypatch.setattr(Place, "paintEvent", begun)
        monkeypatch.setattr(Ink, "text", lambda *told, **named: self.text(*told, **named))
        monkeypatch.setattr(Ink, "paragraph", lambda *told, **named: self.paragraph(*told, **named))
        monkeypatch.setattr(Place, "kept", lambda _place, ink, _name, _key, _area, draw: draw(ink))

    def text(self, ink, x, y, words, role="body", colour="ink", align="left", weight=0, ratio=1.0):
        width = self._text(ink, x, y, words, role, colour, align, weight, ratio)
        if words.strip():
            left = x - width if align == "right" else x - width / 2 if align == "centre" else x
            key = (role, weight, ratio, words)
            if key not in self.boxes:
                self.boxes[key] = QFontMetricsF(ink.theme.font(role, weight, ratio)).tightBoundingRect(words)
            shown = ink.painter.transform().mapRect(self.boxes[key].translated(left, y))
            if ink.painter.hasClipping():
                seen = shown.intersected(ink.painter.transform().mapRect(ink.painter.clipBoundingRect()))
                if seen.isEmpty():
                    return width
            self.texts.setdefault(ink.painter.device(), []).append((shown, words))
        return width

    def paragraph(self, ink, x, y, room, words, role="body", colour="ink2", most=99):
        if len(ink.wrapped(room, words, role)) > most:
            cut = (QRectF(-99, -99, 1, 1), words)  # told as cut off
            self.texts.setdefault(ink.painter.device(), []).append(cut)
        return self._paragraph(ink, x, y, room, words, role, colour, most)


@pytest.fixture
def written(monkeypatch):
    return Written(monkeypatch)


def faults(written, place):
    """Texts of one place that lie on each other or run out of it."""
    texts = written.texts.get(place, [])
    frame = QRectF(place.rect()).adjusted(-1, -1, 1, 1)
    said = [f"{place.objectName()}: “{words}” is cut off" for box, words in texts if not frame.contains(box)]
    for i, (a, first) in enumerate(texts):
        for b, second in texts[i + 1 :]:
            if a.intersects(b):
                both = a.intersected(b)
                if both.width() > TOUCH and both.height() > TOUCH:
                    said.append(f"{place.objectName()}: “{first}” and “{second}” lie on each other")
    return said


def look(window, written, only=None):
    """What is wrong with all that is in sight and was painted since the last look, or with one place ``only``."""
    QApplication.processEvents()
    said = []
    for place in list(written.partly):
        place.repaint()  # whole, for what was not drawn anew may lie on what was
    for place in [only] if only else written.anew:
        if place.isVisible():
            assert place in written.anew
            said += faults(written, place)
            held = place.rect().adjusted(-HELD, -HELD, HELD, HELD)
            reached = [key for key, area in place.spots.areas().items() if not held.contains(area)]
            said += [f"{place.objectName()}: {key} is reached outside of it" for key in reached]
    written.anew.clear()
    for rows in [] if only else window.findChildren(RowList):
        if rows.isVisible():
            for part in (rows.viewport(), rows.horizontalHeader().viewport()):
                written.texts[part] = []
                part.repaint()
                said += [words for words in faults(written, part) if "is cut off" not in words]
    return said


@pytest.mark.parametrize(
    ("size", "system"),
    [*((size, "metric") for size in SIZES), (SIZES[2], "imperial"), (SIZES[0], "imperial")],
    ids=lambda s: f"{s[0]}x{s[1]}" if isinstance(s, tuple) else s,
)
def test_no_text_lies_on_another_and_none_is_cut(open_window, folder, written, size, system):
    window = open_window(folder, size=size)
    window.desk.use_units(system)
    ferry = window.desk.job.build("ferry")  # and one of which nothing is known yet, so that there are eight
    bare = replace(
        ferry,
        id="bare",
        name="A thing with a long name of which nothing is known",
        pieces=(),
        assembly=(),
        moves=(),
        water=None,
    )
    window.desk.edit("one more", replace(window.desk.job, builds=(*window.desk.job.builds, bare)))
    said: dict[str, None] = {}
    usual = (
        size in SIZES[::2] and system == "metric"
    )  # between these two the widest and the fullest builds tell as much
    for build in window.desk.job.builds:
        if not usual and build.id not in ("lighthouse", "oldclaw", "gulls", "bare"):
            continue
        window.desk.choose(build.id)
        for station in STATIONS:
            window.benches.over = ""
            window.desk.go(station)
            for words in look(window, written):
                said[f"{size} {build.id} {station} {words}"] = None
            if station == "lens" and build.id in ("lighthouse", "ferry", "oldclaw"):
                for shot in (s for s in window.desk.breakdown.own_shots if s.id in ("3", "4", "6", "13")):
                    window.desk.breakdown.choose(shot.id)
                    for lit in (False, True):
                        window.benches.of("lens").turn_to(VIEWS[lit])
                        for words in look(window, written):
                            said[f"{size} {build.id} shot {shot.id} {'light' if lit else 'lens'} {words}"] = None
                    window.benches.of("lens").turn_to(VIEWS[0])
                    for name in ("stage", "card", "moves"):
                        window.benches.open(name)
                        for words in look(window, written):
                            said[f"{size} {build.id} shot {shot.id} {name} {words}"] = None
                    window.benches.go("lens")
            pours = (
                window.benches.of(station).pours()
                if station in ("mix", "cure") and build.id in ("tidewife", "gulls")
                else []
            )
            for pour in pours:
                window.benches.of(station).show_pour(pour.op)
                for words in look(window, written):
                    said[f"{size} {build.id} {station} {pour.op} {words}"] = None
            if station == "mix" and build.id in ("lighthouse", "oldclaw"):  # two parts, and three
                window.benches.open("weigh_up")
                for words in look(window, written):
                    said[f"{size} {build.id} weigh-up {words}"] = None
                window.benches.of("weigh_up").close_up()
                window.desk.go(station)
            for figure in (
                window.desk.build_plan.figures
                if usual and station == "shoot" and build.id in ("lighthouse", "gulls")
                else ()
            ):
                window.desk.asked_why.emit(figure)
                for words in look(window, written, window.why):
                    said[f"{size} {build.id} why {figure.spec.name} {words}"] = None
                window.why.fold_whole()
            if station == "cure" and window.benches.of("cure").course():
                start = window.benches.of("cure").course().start + timedelta(hours=2)
                window.benches.of("cure").try_out(WhatIf(start=start, oven_c=40.0, night_c=18.0))
                for words in look(window, written):
                    said[f"{size} {build.id} what if {words}"] = None
    for spec in BENCHES:
        if spec.place in ("job", "over"):
            window.benches.open(spec.name)
        if spec.place == "station":
            window.benches.go(spec.name)
        for words in look(window, written):
            said[f"{size} {spec.name} {words}"] = None
        window.help.toggle()
        for words in look(window, written):
            said[f"{size} keys on {spec.name} {words}"] = None
        window.help.toggle()
    assert not said, "\n".join(said)
