"""Somebody who tries every place, key and command of a bench one after the other, and tells in words what came of it."""

from __future__ import annotations

import os
import re
import sys
from collections import Counter
from collections.abc import Callable, Iterator
from contextlib import closing
from datetime import datetime, timedelta
from functools import partial
from inspect import Signature, signature
from itertools import count
from pathlib import Path

from PySide6.QtCore import QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QLineEdit

from homunculus import library
from homunculus.app.benches.register import BY_NAME, OF_STATION
from homunculus.app.benches.weigh_up.weigher import Weigher
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.spot import Handle, Spot
from homunculus.app.start_page import StartPage
from homunculus.app.theme.ink import Ink
from homunculus.core.edits.edit import edits_between
from homunculus.core.edits.lines import said, write
from homunculus.core.log import LogEvent
from homunculus.core.session import Session
from homunculus.devices.protocol import Reading
from homunculus.store.folder import JobFolder
from homunculus.store.new_job import new_job
from homunculus.store.recent import remember
from tests.app.conftest import open_line, turn_wheel

ELSEWHERE = {
    "shot": ("gulls",),
    "scale": ("ferry",),
    "lens": ("oldclaw", "lighthouse@1"),
    "stage": ("oldclaw", "lighthouse@4"),
    "moves": ("ferry", "lighthouse@1"),
    "card": ("lighthouse@1",),
    "mould": ("tidewife", "gulls", "oldclaw"),
    "mix": ("keeper", "saltbust"),
    "cure": ("saltbust", "tidewife"),
    "shoot": ("gulls",),
    "made": ("saltbust", "tidewife"),
    "counts": ("gulls",),
}
"""Builds that show what the lighthouse has not; behind an @ a shot that does."""
SHOTS = {"floor": "3"}
"""Shots that show most; elsewhere it is the one that was looked at last."""
STEPS = {"Enter": Qt.Key.Key_Return, "up": Qt.Key.Key_Up, "=": Qt.Key.Key_Equal}
PULL = QPointF(14, -9)
"""By so many pixels a handle is pulled, in two moves."""
NAMED = {"Enter": Qt.Key.Key_Return, "Del": Qt.Key.Key_Delete, "Delete": Qt.Key.Key_Delete, "Insert": Qt.Key.Key_Insert, "F2": Qt.Key.Key_F2, "F3": Qt.Key.Key_F3,
         "Space": Qt.Key.Key_Space, "down": Qt.Key.Key_Down, "left": Qt.Key.Key_Left, "arrows": Qt.Key.Key_Down, "[": Qt.Key.Key_BracketLeft, "]": Qt.Key.Key_BracketRight, "+": Qt.Key.Key_Plus, "-": Qt.Key.Key_Minus,
         ",": Qt.Key.Key_Comma, ".": Qt.Key.Key_Period}  # fmt: skip
HELD = {
    "": Qt.KeyboardModifier.NoModifier,
    "Ctrl": Qt.KeyboardModifier.ControlModifier,
    "Alt": Qt.KeyboardModifier.AltModifier,
}
HELD_WITH = (
    *(("Ctrl", name) for name in ("V", "A", "C", "X", "Del", "down")),
    *(("Alt", name) for name in ("L", "X", "down", "left")),
)
"""What is pressed with another key held: letters of benches do nothing then."""
MOVES = {
    "down": Qt.Key.Key_Down,
    "page down": Qt.Key.Key_PageDown,
    "up": Qt.Key.Key_Up,
    "right": Qt.Key.Key_Right,
    "end": Qt.Key.Key_End,
    "left": Qt.Key.Key_Left,
}
"""Keys that go through a list, one after the other."""
DRAWN_FROM = ("file", "study", "coarse")
"""Lanes of the runner from which benches are drawn."""
LANES: dict[str, tuple[str, ...]] = {"mould": ()}
"""Benches for which all lanes are waited for: this one draws how a mould fills, which takes its time."""
AROUND = {"lighthouse": ("Cast", "Line", "Ledger", "Clock"), "gulls": ("Line", "Ledger")}
"""What stands around every bench, and of which builds it is read."""
OF_A_KIND = 2
"""So many places of one kind are tried on a bench: the third does what they do."""

ASKED = (
    "",
    "g",
    "1",
    "lighthouse",
    "gal mass",
    "pla",
    "rename",
    "zzz",
    "set ",
    "set scale",
    "set shop/conf",
    "set builds/lighthouse/scale 1:9",
    "set builds/lighthouse/scale 0",
    "piece",
    "piece lighthouse: knob: ball 300 mm",
    "piece nobody: x",
    "undo",
    "tie gulls",
    "copy ferry",
)
"""What is typed into the go-to box."""

FILTERS = ("type filter", "type find by words")

PLAIN = ("ink", "ink2", "hair", "line", "sheet")
"""Colours that mean nothing by themselves."""
SIGN = "sign: "
SIGNS = {
    "tag": "tag, {level}",
    "lozenge": "lozenge, {colour}, hollow {hollow}",
    "hatched": "hatch, {name}",
    "box": "box, {fill} {edge}",
    "dot": "dot, {fill} {edge}",
}
"""What is drawn beside words, and how it is told."""

NOWHERE = (10_000, 0)


EXAMPLE = re.compile(r"(?:Write it like|For example) (.+?)(?:, (?:\d|or )| or |\.”|\.$)")
"""What a sentence of refusal gives as an example."""


class Word(str):
    """What was written, and its baseline and left."""

    at = NOWHERE


class Noting:
    """Notes what is drawn: words with the colours that mean something, and signs by their kind."""

    def __init__(self, monkeypatch) -> None:
        self.painted: list[str] = []
        text, rule = Ink.text, Ink.rule

        def written(ink, x, y, words, role="body", colour="ink", align="left", weight=0, ratio=1.0):
            told = f", in {colour}" if colour not in PLAIN else ""
            word = Word(words + (told + (", bold" if weight >= 600 else "") if words.strip() else ""))
            word.at = (round(y), round(x))
            self.painted.append(word)
            return text(ink, x, y, words, role, colour, align, weight, ratio)

        def ruled(ink, x1, y1, x2, y2, colour="ink", width=1.0, dash=""):
            self.painted += [f"{SIGN}{dash or 'straight'} line, {colour}"] if dash or colour not in PLAIN else []
            rule(ink, x1, y1, x2, y2, colour, width, dash)

        monkeypatch.setattr(Ink, "text", written)
        monkeypatch.setattr(Ink, "rule", ruled)
        monkeypatch.setattr(Place, "kept", lambda _place, ink, _name, _key, _area, draw: draw(ink))
        for name, sign in SIGNS.items():
            monkeypatch.setattr(Ink, name, self.noting(sign, signature(getattr(Ink, name))))

    def noting(self, sign: str, given: Signature) -> Callable[..., None]:
        """Note a sign with what it is given, instead of drawing it."""

        def note(*args: object, **more: object) -> None:
            told = given.bind(*args, **more)
            told.apply_defaults()
            self.painted.append(SIGN + sign.format(**told.arguments))

        return note


class Tried(Noting):
    """Somebody who tries everything on a window, and tells what came of it."""

    def __init__(self, window, monkeypatch, *, changes: bool = False) -> None:
        self.changes = changes
        """Whether something else is typed into each line than what stands there."""
        self.window, self.desk, self.start = window, window.desk, window.desk.job
        self.asked: list[str] = []
        self.seen: list[str] = []
        self.chose: tuple[str, ...] = ()
        self.trying = self.opened = False
        self.left: str | None = None
        """What stood in a filter, which would hide what is tried next."""
        study = window.desk.meshes.study
        monkeypatch.setattr(window.desk.meshes, "study", lambda want: None if self.trying else study(want))
        monkeypatch.setattr(
            Weigher, "connect_scale", lambda weigher, _device="": weigher.at.forget_scale()
        )  # what it hears is said here
        window.setUpdatesEnabled(False)  # nobody looks: a bench is painted when it is asked what it shows
        window.desk.said.connect(lambda words: self.asked.append(f"says “{words}”"))
        for module in [module for name, module in sys.modules.items() if name.startswith("homunculus.app.")]:
            for name in ("ask_to_read", "ask_to_write", "ask_for_folder"):
                if hasattr(module, name):
                    monkeypatch.setattr(module, name, partial(self.asks, name))
        monkeypatch.setattr(
            self.desk.keeper, "save", lambda *_: None
        )  # saving has tests of its own, and takes its time
        super().__init__(monkeypatch)

    def asks(self, what: str, _parent: object, title: str, *more: str) -> tuple[Path, str] | None:
        """Be asked for a file: one to write is given where things are changed, in the first of the formats."""
        self.asked.append(f"asks “{title}”" + (f" ({more[-1]})" if what != "ask_for_folder" else ""))
        if what != "ask_to_write" or not self.changes:
            return None
        _, usual, filters = more
        return self.desk.folder.path / usual, filters.partition(";;")[0]

    def open(self, place: str, build: str):
        """The bench as it is when one comes to it."""
        benches = self.window.benches
        build, _, shot = build.partition("@")
        shown = self.desk.breakdown.shot
        if shot and shown and shown.id != shot:
            self.desk.breakdown.choose(shot)
        if build in {one.id for one in self.desk.job.cast} and self.desk.chosen != build:
            self.desk.choose(build)
        if benches.figures_wanted or benches.open_spec.name != place:
            benches.figures_wanted = False
            benches.go(OF_STATION[BY_NAME[place].station or "mould"].name)
            if benches.open_spec.name != place:
                benches.open(place)
            self.settle(*LANES.get(place, DRAWN_FROM))
        self.settle("file")
        return benches.bench

    def settle(self, *lanes: str) -> None:
        """Until nothing waits or is on its way in those lanes of the runner, or in the log."""
        idle = 0
        while idle < 2:
            QApplication.processEvents()
            idle = idle + 1 if not self.desk.runner.busy(*lanes) and self.desk.keeper.all_kept else 0
            if not idle:
                QTest.qWait(2)

    def look(self, bench) -> list[str]:
        """What is written on a bench."""
        self.painted.clear()
        bench.grab()
        for rows in [
            one for one in bench.findChildren(RowList) if one.isVisible()
        ]:  # what lies on it is not painted with it: nobody looks
            for part in (rows, rows._still) if rows._still else (rows,):
                part.horizontalHeader().viewport().grab()
                begin = len(self.painted)
                part.viewport().grab()
                drawn = self.painted[begin:]  # rows that reach over all columns Qt draws in any order
                self.painted[begin:] = sorted(drawn, key=lambda word: word.at if isinstance(word, Word) else NOWHERE)
        return [words for words in self.painted if words.strip()]

    def read(self, head: str) -> Iterator[str]:
        """What was seen last: words one by one, signs counted."""
        yield from (f"{head} | reads | {words}" for words in self.seen if not words.startswith(SIGN))
        signs = Counter(words.removeprefix(SIGN) for words in self.seen if words.startswith(SIGN))
        yield from (f"{head} | has | {count} × {sign}" for sign, count in sorted(signs.items()))

    def came(self, bench, place=None) -> str:
        """What has changed, was said or opened, in one line; and all is put back. What else it shows is looked for on the bench, or on a place."""
        self.settle("file")
        told = [write(edit, self.start) for edit in edits_between(self.start, self.desk.job)[:2]]
        line = self.line()
        self.opened = line is not None
        if line:
            told.append(self.typed_over_itself(line))
        told += self.asked
        why, now = self.window.benches.why, self.window.benches.bench
        if why.isVisible():
            told.append("tells why")
            why.hide()
        if self.window.benches.covering:
            told.append(f"opens {self.window.benches.covering.objectName()}")
            self.window.benches.covering.close_up()
            self.settle()
        elif now is not bench:
            told.append(f"goes to {now.objectName()}")
        chosen = self.chosen()
        told += [f"chooses {now}" for was, now in zip(self.chose, chosen, strict=True) if was != now]
        if getattr(bench, "playing", False):
            told.append("plays")
            bench.play()
            bench.go_to(0.0)
        if not told:
            seen = self.look(place or bench)
            new = Counter(seen) - Counter(self.seen)
            told, self.seen = (
                [f"shows {', '.join(words.removeprefix(SIGN) for words in list(new)[:4])}"] if new else [],
                seen,
            )
        while self.desk.session.can_undo:
            self.desk.undo()
        self.asked.clear()
        return "; ".join(told)[:300] or "nothing"

    def chosen(self) -> tuple[str, ...]:
        """What is chosen of the job."""
        desk, shot = self.desk, self.desk.breakdown.shot
        return (
            f"shot {shot.id if shot else 'none'}",
            f"build {desk.chosen}",
            f"piece {desk.piece_id}",
            f"step {desk.op_id}",
        )

    def typed_over_itself(self, line: QLineEdit) -> str:
        """What is asked for; what stands there already is taken as it is, and changes nothing."""
        job, words = self.desk.job, f"{line.accessibleName()}: “{line.text()}”"
        stands, asked = line.text(), line.accessibleName()
        line.setText("§ 1 §")
        QTest.keyClick(line, Qt.Key.Key_Return)
        self.settle("file")
        if self.line() is not line:
            self.left = stands if asked in FILTERS else None
            return f"{words}; § taken" + "".join(
                f", {write(edit, job)}" for edit in edits_between(job, self.desk.job)[:1]
            )
        words += "; § refused"
        line.setText(self.another(stands) if self.changes else stands)
        if line.text():
            if self.changes:
                words += f" “{line.text()}”"
            QTest.keyClick(line, Qt.Key.Key_Return)
            self.settle("file")
            words += " refused" if self.line() else " taken"
            words += "".join(f", {write(edit, job)}" for edit in edits_between(job, self.desk.job)[:1])
        if open_still := self.line():
            QTest.keyClick(open_still, Qt.Key.Key_Escape)
        return words

    def put_back(self, bench, act: Callable[[], object]) -> None:
        """Show all again that an act hid."""
        if self.left is not None:
            act()
            if line := self.line():
                line.setText(self.left)
                QTest.keyClick(line, Qt.Key.Key_Return)
        for only in ("only_build", "only_open"):
            if getattr(bench, only, None):
                setattr(bench, only, type(getattr(bench, only))())
                bench.refresh()
        self.left = None
        self.settle("file")
        self.asked.clear()

    def emptied(self, bench, head: str, act: Callable[[], object]) -> Iterator[str]:
        """What comes of it when nothing is typed into the line that an act opened, where it opened one."""
        if not (self.opened and self.changes):
            return
        act()
        if line := self.line():
            asked = line.accessibleName()
            line.clear()
            QTest.keyClick(line, Qt.Key.Key_Return)
            self.settle("file")
            if stays := self.line():
                QTest.keyClick(stays, Qt.Key.Key_Escape)
            yield f"{head} | {asked} | nothing typed, {'refused' if stays else 'taken'} | {self.came(bench)}"

    def another(self, stands: str) -> str:
        """Something that is not there yet: what the refusal gave as an example, else a number one more, else other words."""
        examples = [found.group(1) for words in self.asked for found in [EXAMPLE.search(words)] if found]
        if examples:
            return examples[-1]
        numbers = [*re.finditer(r"\d+", stands)]
        if not numbers:
            return f"{stands} b".strip()
        last = numbers[-1]
        return stands[: last.start()] + str(int(last.group()) + 1).zfill(len(last.group())) + stands[last.end() :]

    def line(self) -> QLineEdit | None:
        """The line that is open to be typed into."""
        return open_line(self.window)

    def acts(self, bench, name: str, spot: Spot) -> Iterator[tuple[str, Callable[[], object]]]:
        """What can be done to a place, in words and as an act."""
        if spot.action:
            yield "press", spot.act
        if isinstance(spot, Handle):
            for words, which in STEPS.items():
                yield words, lambda which=which: QTest.keyClick(spot, which)
            yield "ten back", lambda: QTest.keyClick(spot, Qt.Key.Key_Left, Qt.KeyboardModifier.ShiftModifier)
            yield "3", lambda: QTest.keyClick(spot, "3")
            yield "pull", lambda: self.pull(spot)
        for i, can in enumerate(bench.can(name)):  # a menu is of what was just pressed
            yield f"“{can.words}”", lambda i=i: bench.can(name)[i].act()

    def pull(self, handle: Handle) -> None:
        """Take hold of a handle, pull it and let go."""
        at = QPointF(handle.geometry().center())
        handle.pressed.emit()
        for part in (0.0, 0.5, 1.0):
            handle.dragged.emit(at + part * PULL)
        handle.released.emit()

    def pressed(self, bench, at: str, name: str, held: str = "") -> None:
        """Press a key of a bench on the first place of a kind, or on the bench itself; with another one held."""
        spot = next((bench.spots.find(key) for key in bench.spots.areas() if at and key.startswith(at)), None)
        target = spot or getattr(bench, "list", bench)
        target.setFocus()
        QTest.keyClick(target, NAMED[name] if name in NAMED else name.lower(), HELD[held])

    def account(self, place: str, build: str) -> Iterator[str]:
        """All that a bench can do, a line each."""
        self.trying = False
        QApplication.clipboard().setText("first\tsecond\n1\t2")  # for Ctrl+V; else what a bench before had copied
        bench, head, kinds = self.open(place, build), f"{place} {build}", Counter()
        if self.window.benches.open_spec.name != place:  # without a build it is asked for first
            yield f"{head} | opens {self.window.benches.open_spec.name}"
            return
        if place in SHOTS and self.desk.job.shots:
            self.desk.breakdown.choose(SHOTS[place])
        for _ in range(2):  # what is drawn asks for what it is drawn from
            self.look(bench)
            self.settle(*LANES.get(place, DRAWN_FROM))
        self.trying = True  # what comes of an act is gone again before anybody could have studied it
        self.seen = self.look(bench)
        yield from self.read(head)
        self.window.desk.use_units("imperial")
        yield from (f"{head} | in feet | {words}" for words in Counter(self.look(bench)) - Counter(self.seen))
        self.window.desk.use_units("metric")
        self.look(bench)
        for name in [*bench.spots.areas()]:
            kind = ":".join(name.split(":")[:2]) if name.startswith("hold:") else name.partition(":")[0]
            spot, kinds[kind] = bench.spots.find(name), kinds[kind] + 1
            if spot is None or kinds[kind] > OF_A_KIND or kind in ("sheet", "view"):
                if spot and kind not in ("sheet", "view"):
                    yield f"{head} | has | {spot.accessibleName()}"
                continue
            for words, act in [*self.acts(bench, name, spot)]:
                said, self.chose = spot.accessibleName(), self.chosen()
                act()
                yield f"{head} | {said} | {words} | {self.came(bench)}"
                self.put_back(bench, act)
                self.open(place, build)
                if words in ("press", "Enter") and (build or place != "made") and place != "log":
                    # what was typed of a beginning stays, and so does an entry
                    yield from self.emptied(bench, head, act)
                    self.open(place, build)
        yield from self.through_lists(place, build, bench)
        yield from self.turned(head, bench, bench)
        for said in BY_NAME[place].keys:
            names = [word.rstrip(",") or word for word in said.name.split()]
            for name in [*names, *(reversed(names) if len(names) > 1 else ())]:  # there and back
                if name in NAMED or (len(name) == 1 and name.isascii()):
                    self.chose = self.chosen()
                    self.pressed(bench, said.at, name)
                    yield f"{head} | {said.words} | key {name} | {self.came(bench)}"
                    self.open(place, build)
        for held, name in HELD_WITH if build == "lighthouse" else ():
            self.chose = self.chosen()
            self.pressed(bench, "", name, held)
            if (came := self.came(bench)) != "nothing":
                yield f"{head} | key {held}+{name} | {came}"
            self.open(place, build)
        for command in BY_NAME[place].commands:
            self.chose = self.chosen()
            act = partial(command.act, self.window)
            act()
            yield f"{head} | {command.words} | go to | {self.came(bench)}"
            self.put_back(bench, act)
            self.open(place, build)
        yield self.copied(head)

    def through_lists(self, place: str, build: str, bench) -> Iterator[str]:
        """What can be done with rows, and where keys lead in a list."""
        head = f"{place} {build}"
        for rows in [one for one in bench.findChildren(RowList) if one.isVisible()]:
            kinds: Counter[str] = Counter()
            known: set[tuple[str, str]] = set()
            for row in range(len(rows.rows.items)):
                if row >= len(rows.rows.items):
                    break
                item = rows.rows.items[row]
                kind = type(item).__name__
                sort = f"{kind} {getattr(item, 'kind', '')} {getattr(item, 'state', '')}"
                kinds[kind] += 1
                kinds[sort] += 1
                if kinds[kind] > OF_A_KIND and kinds[sort] > 1:
                    continue
                yield f"{head} | {rows.name} {row} | is | {rows.rows.manner.said(item)}"
                for column in rows.rows.columns if rows.cells and kinds[kind] == 1 else rows.rows.columns[:1]:
                    rows.choose(row, column.key)
                    menu = bench.can_row(rows.name, rows.rows.items[row], column.key)
                    for words in ["Enter", *(can.words for can in menu if (kind, can.words) not in known)]:
                        if row >= len(rows.rows.items):  # the last one was struck
                            break
                        rows.choose(row, column.key)
                        self.chose = self.chosen()
                        if words == "Enter":
                            self.entered(rows)
                        elif kinds[kind] == 1:
                            known.add((kind, words))
                        if words != "Enter":  # what was done before it may have taken it off the menu
                            now = bench.can_row(rows.name, rows.rows.items[row], column.key)
                            can = next((can for can in now if can.words == words), None)
                            words = f"“{words}” {can.key if can else 'is gone'}"
                            if can:
                                can.act()
                        yield f"{head} | {rows.name} {row} {column.key} | {words} | {self.came(bench)}"
                        self.open(place, build)
                        if words == "Enter" and place != "log":  # what is struck there stays struck
                            rows.choose(row, column.key)
                            yield from self.emptied(bench, f"{head} | {rows.name} {row} {column.key}", partial(self.entered, rows))  # fmt: skip
                            self.open(place, build)
            if rows.rows.items:
                rows.choose(0)
                rows.setFocus()
                for words, which in MOVES.items():
                    QTest.keyClick(rows, which)
                    yield f"{head} | {rows.name} | key {words} | row {rows.currentIndex().row()}, {rows.column()}; {self.came(bench)}"

    def entered(self, rows: RowList) -> None:
        """Press Enter on the chosen cell."""
        rows.setFocus()
        QTest.keyClick(rows, Qt.Key.Key_Return)

    def turned(self, head: str, bench, place) -> Iterator[str]:
        """What the wheel does on either side of a place, down and up again; on most it does nothing."""
        for share in (0.2, 0.8):
            for words, by in (("down", -120), ("down", -120), ("up", 120), ("up", 120), ("up", 120)):
                self.chose = self.chosen()
                turn_wheel(place, by, at=(share * place.width(), place.height() / 2))
                if (came := self.came(bench, place)) != "nothing":
                    yield f"{head} | at {share} of its width | wheel {words} | {came}"

    def around(self, build: str, names: tuple[str, ...]) -> Iterator[str]:
        """What stands around the bench, and what it does."""
        bench = self.open("scale", build)
        for place in [one for one in self.window.findChildren(Place) if one.objectName() in names]:
            head = f"{place.objectName()} {build}"
            self.seen = self.look(place)
            yield from self.read(head)
            for name in [*place.spots.areas()]:
                spot = place.spots.find(name)
                for words, act in self.acts(place, name, spot) if spot else ():  # a menu chooses what it is of
                    said, self.chose = spot.accessibleName(), self.chosen()
                    act()
                    yield f"{head} | {said} | {words} | {self.came(bench, place)}"
                    bench = self.open("scale", build)
            yield from self.turned(head, bench, place)

    def gone_to(self, bench, words: str) -> Iterator[str]:
        """What the go-to box offers for some words, where its keys lead, and what Enter does."""
        box = self.window.goto
        for keys in (("Enter",), ("down", "down", "up", "Enter"), ("up", "Enter"), ("page down", "Enter"), ("Esc",)):
            box.open()
            QTest.keyClicks(box.line, words) if len(words) < 3 else box.line.setText(words)
            rows = box.list.rows.items if not box.list.isHidden() else ()
            if keys == ("Enter",):
                told = "; ".join(f"{entry.name}, {entry.sort}" for entry in rows[:5])
                yield f"go to | {words} | offers {len(rows)} | {told} … {rows[-1].name if rows else 'nothing'}"
            for key in keys[:-1]:
                QTest.keyClick(box.line, MOVES[key])
            at = box.list.item()
            self.chose = self.chosen()
            QTest.keyClick(box.line, {"Enter": Qt.Key.Key_Return, "Esc": Qt.Key.Key_Escape}[keys[-1]])
            went = f"{at.name if at else 'nothing'} | {self.came(bench)}"
            stays = (
                f"stays, “{box.line.text()}”, “{box.line.selectedText()}” to be typed over"
                if box.isVisible()
                else "closed"
            )
            yield f"go to | {words} | {', '.join(keys)} | {went} | {stays}"
            box.hide()
            bench = self.open("scale", "lighthouse")

    def weighed(self, build: str) -> Iterator[str]:
        """What the scale's page shows from the first cup to the pour, with a part short, one over, and one that is taken back."""
        self.open("mix", build)
        QTest.keyClick(self.window.benches.bench, Qt.Key.Key_W)
        up = self.window.benches.of("weigh_up")
        weigher, now = up.weigher, count(1000)

        def hear(kg: float) -> None:
            for _ in range(40):
                weigher.hear(next(now) / 10, Reading(kg, True))

        def short() -> None:
            hear(0.4 * weigher.at.weighing.targets[0])

        def due(times: float = 1.0) -> None:
            hear(times * weigher.at.weighing.targets[weigher.at.weighing.next_part])

        self.seen = self.look(up)
        yield from self.read("weigh_up " + build)
        for words, act in (("the cup is on", lambda: QTest.keyClick(up, Qt.Key.Key_Space)), ("nought", lambda: hear(0.0)), ("short", short), ("more than it bears", lambda: weigher.hear(next(now), Reading(0.0, False, True))),
                           ("a part over", lambda: due(1.04)), ("nought", lambda: hear(0.0)), ("the next", due), ("taken back", lambda: QTest.keyClick(up, Qt.Key.Key_Backspace)),
                           ("the next again", lambda: (hear(0.0), due())), ("nought", lambda: hear(0.0)), ("poured", lambda: QTest.keyClick(up, Qt.Key.Key_Space))):  # fmt: skip
            act()
            self.settle("file")
            was, self.seen = self.seen, self.look(up)
            came, gone = Counter(self.seen) - Counter(was), Counter(was) - Counter(self.seen)
            yield f"weigh_up {build} | {words} | shows {', '.join(came)}; no more {', '.join(gone)}; says {up._next_words(weigher)}. {up._why_words(weigher)}"
        up.close_up()

    def full_log(self) -> Iterator[str]:
        """The log once it holds entries of all kinds: poured and opened late, spoiled, weighed from a lot, measured over a night, corrected."""
        now, of = self.desk.now(), {"build": "lighthouse", "piece": "gallery"}
        kinds = (("weighed", {"text": "A 340 g", "weights_kg": {"A": 0.34}, "lot": "2411 B", "batch": 1, "op": "rubber-1", **of}), ("poured", {"op": "rubber-1", "celsius": 21.5, **of}),
                 ("opened", {"op": "rubber-1", **of}), ("spoiled", {"text": "torn", "op": "castings", **of}), ("measured", {"celsius": 11.0, "until": now - timedelta(hours=2)}),
                 ("note", {"text": "a note of the night"}), ("counted", {"text": "9 castings", **of}))  # fmt: skip
        for hours, (kind, fields) in zip(range(40, 0, -5), kinds, strict=False):
            self.desk.enter(LogEvent(f"entry-{hours}", now - timedelta(hours=hours), kind, **fields))
        self.desk.enter(LogEvent("right", now - timedelta(hours=1), "note", "another night", corrects="entry-15"))
        self.settle("file")
        self.asked.clear()
        yield from self.account("log", "lighthouse@2")
        yield from self.around("lighthouse", ("Clock",))

    def copied(self, head: str) -> str:
        """What a bench hands to other programs."""
        QApplication.clipboard().setText("")
        self.window.copy()
        rows = QApplication.clipboard().text().split("\n")
        self.asked.clear()
        return f"{head} | copies {len(rows)} lines | {rows[0]} | {rows[-1]}".replace("\t", ", ")


def own_job(folder: Path, lines: str, now: datetime) -> Path:
    """The folder of a job that is made by lines from nothing."""
    new_job(folder, folder.name, now)
    with closing(JobFolder(folder, now)) as opened:
        session = Session(opened.job, {}, shelf=library.shelf())
        for _, line in said(lines):
            session.do(line, today=now.date())
        opened.save(session.job, ())
    return folder


class AtTheStart(Noting):
    """Somebody who tries the page that asks which job, with so many jobs that not all have room."""

    def __init__(
        self, monkeypatch, page: Callable[..., StartPage], folder: Path, now: datetime, tmp_path: Path
    ) -> None:
        monkeypatch.setattr(
            Ink, "squeezed", lambda _ink, _room, words, *_more: words
        )  # folders are elsewhere each time
        monkeypatch.setattr("homunculus.app.start_page.ask_for_folder", lambda *given: self.asks(given))
        monkeypatch.setattr(Ink, "paragraph", lambda ink, x, y, _room, words, *more: ink.text(x, y, words, *more[:2]))
        monkeypatch.setenv("HOME", str(tmp_path))
        self.elsewhere: Path | None = None
        self.said: list[str] = []
        self.seen: list[str] = []
        self.folder, self.now, self.tmp_path, self.make = folder, now, tmp_path, page
        super().__init__(monkeypatch)

    def asks(self, given: tuple[object, ...]) -> Path | None:
        """Ask for a folder, and get one where there is one to get."""
        self.said.append(f"asks “{given[1]}” in {given[3] or 'no folder'}")
        return self.elsewhere

    def open(self, **how: bool) -> None:
        """A page, as when the program starts."""
        self.page = self.make(**how)
        self.page.chosen.connect(lambda path: self.said.append(f"goes to {path}"))
        self.page.asked_demo.connect(lambda: self.said.append("goes to the demo"))

    def came(self, words: str) -> str:
        """What is seen on the page now, what was said, and where the keyboard is."""
        QApplication.processEvents()
        self.painted.clear()
        self.page.grab()
        page, told = self.page, [*self.said]
        at = page.spots.focused()
        line = open_line(page)
        told += [f"open: {line.accessibleName()}: “{line.text()}”"] if line else []
        told += [f"at {at.accessibleName()}" if at else "nowhere", "closed" if page.isHidden() else "open"]
        seen = [word for word in self.painted if word.strip()]
        new, gone = Counter(seen) - Counter(self.seen), Counter(self.seen) - Counter(seen)
        self.seen = seen
        self.said.clear()
        more = [f"{what} {' / '.join(found)}" for what, found in (("shows", new), ("no more", gone)) if found]
        return f"{words} | {'; '.join((*told, *more))}".replace(str(self.tmp_path), "…")

    def press(self, name: str, which: Qt.Key, modifier: Qt.KeyboardModifier = Qt.KeyboardModifier.NoModifier) -> str:
        """Press a key where the keyboard is."""
        QTest.keyClick(self.page.focusWidget() or self.page, which, modifier)
        return self.came(f"key {name}")

    def typed(self, field: str, words: str) -> Iterator[str]:
        """Type into a line of the sheet, begun by its first letter."""
        self.page.spots.find(f"field:{field}").setFocus()
        QTest.keyClicks(self.page.spots.focused(), words[:1])
        line = open_line(self.page)
        QTest.keyClicks(line, words[1:])
        yield self.came(f"{words} on {field}")
        QTest.keyClick(line, Qt.Key.Key_Return)
        yield self.came("Enter")

    def tried(self) -> Iterator[str]:
        """All that can be done there, a line each."""
        keys, control = Qt.Key, Qt.KeyboardModifier.ControlModifier
        self.open()
        yield self.came("the first time")
        yield self.press("Enter", keys.Key_Return)
        yield self.press("Esc", keys.Key_Escape)
        yield self.press("Ctrl+O", keys.Key_O, control)
        for i in range(5):
            job = new_job(self.tmp_path / f"job {i}", f"Job {i}", self.now)
            self.dated(job)
        self.dated(self.folder)
        self.open()
        yield self.came("six jobs were open")
        for _ in range(7):
            yield self.press("Down", keys.Key_Down)
        yield self.press("Up", keys.Key_Up)
        for key in [*self.page.spots.areas()]:
            if key != "new":
                self.page.spots.find(key).act()
                yield self.came(f"press {key}")
        self.elsewhere = self.tmp_path / "job 4"
        yield self.press("Ctrl+O", keys.Key_O, control)
        yield self.press("O", keys.Key_O)
        self.page.resize(960, 420)
        yield self.came("little room")
        yield self.press("Ctrl+N", keys.Key_N, control)
        yield self.press("Enter", keys.Key_Return)
        yield self.press("Esc", keys.Key_Escape)
        yield from self.typed("name", "Stilt/house: 2 - a_b")
        for field, words in (("folder", str(self.tmp_path)), ("country", "XX"), ("zone", "Mars"), ("rate", "§")):
            yield from self.typed(field, words)
        for field in ("units", "units", "units"):
            self.page.spots.find(f"field:{field}").act()
            yield self.came(f"press {field}")
        yield self.press("Down", keys.Key_Down)
        for field, words in (("rate", "25"), ("country", "PT"), ("zone", "Europe/Lisbon")):
            self.page.make()
            yield self.came("make it")
            yield from self.typed(field, words)
        self.page.leave()
        yield self.came("not now")
        self.page.begin()
        yield self.came("a new job after all")
        self.page.spots.find("make").act()
        yield self.came("make it")
        self.page.make()
        yield self.came("make it again")
        self.open(new=True)
        yield self.came("another new job")
        yield self.press("Ctrl+Q", keys.Key_Q, control)
        self.open()
        yield self.press("Esc", keys.Key_Escape)

    def dated(self, job: Path) -> None:
        """Let a job have been open, and saved at a time that is known."""
        os.utime(job / "job.json", (self.now.timestamp(), self.now.timestamp()))
        remember(job)
