"""Somebody who does what a walkthrough says, step after step on one window, and writes down what came of each.

A step is a line that begins with “>”; what stands under it, moved in, is what came: what was said, asked and typed into, what the
job became, what is shown that was not, and no more shown, which places can be pressed that could not, and where the keyboard is.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from datetime import timedelta

from PySide6.QtCore import QPoint, QSettings, Qt
from PySide6.QtGui import QKeySequence
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QApplication, QHeaderView, QWidget

from homunculus.app.drawing.place import Place
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.spot import Spot
from homunculus.core.edits.edit import edits_between
from homunculus.core.edits.lines import write
from homunculus.core.log import LogEvent
from tests.app.acting import DRAWN_FROM, LANES, SIGN, Tried
from tests.app.conftest import drag, drop, turn_wheel

MOST, FEW = 30, 6
"""So many words are told of what a step shows, and of what is no more shown; so many where it went to another bench."""


class Walkthrough(Tried):
    """Somebody who goes through a walkthrough on a window."""

    def __init__(self, window, monkeypatch) -> None:
        super().__init__(window, monkeypatch)
        monkeypatch.setattr(window.desk.shelf, "tell", lambda: None)  # said a while after the opening: in the midst
        self.tasks = 0
        """How many were given to the runner so far."""
        put = window.desk.runner._put
        monkeypatch.setattr(window.desk.runner, "_put", lambda task: (self.count(), put(task)))
        self.beside: list[Place] = []
        """Places that are looked at beside the bench."""
        self.asking_why = False
        self.state: dict[str, Counter[str]] = {}
        self.at: list[str] = []
        self.steps = {
            name.removeprefix("do_").replace("_", "-"): getattr(self, name) for name in dir(self) if name[:3] == "do_"
        }

    def count(self) -> None:
        """One more task was given to the runner."""
        self.tasks += 1

    @property
    def bench(self) -> Place:
        """What is looked at: the bench that is open, or what covers it."""
        return self.window.benches.bench

    def gone_through(self, lines: list[str]) -> Iterator[str]:
        """The lines of a walkthrough again, with what comes of each step now."""
        self.settle(*DRAWN_FROM)
        self.asked.clear()
        for line in lines:
            if line.startswith(">"):
                yield line
                was = self.desk.job
                said = self.step(line[1:].strip())
                yield from (f"  {words}" for words in (*said, *self.came_of(was)))
            elif not line.startswith("  "):
                yield line

    def step(self, words: str) -> list[str]:
        """Do one step."""
        name, _, rest = words.partition(" ")
        try:
            return self.steps[name](rest.strip()) or []
        except StopIteration:
            return ["is not there"]

    def came_of(self, was) -> Iterator[str]:
        """What came of a step since the job ``was`` so."""
        self.settle(*DRAWN_FROM)
        yield from self.asked
        self.asked.clear()
        for edit in edits_between(was, self.desk.job)[:6]:
            yield f"edit {write(edit, was)}"
        why = self.window.benches.why
        if why.isVisible():
            yield f"tells why: {' | '.join(self.look(why)[:MOST])}"
            yield f"there: {' | '.join(s.accessibleName() for s in why.findChildren(Spot) if s.isVisible())[:400]}"
            if self.window.focusWidget() and not why.isAncestorOf(self.window.focusWidget()):
                yield "without the keyboard"
            if not self.asking_why:
                why.fold_whole()
        most = MOST if self.at[:1] == [self.bench.objectName()] else FEW
        lanes, asked = LANES.get(self.window.benches.open_spec.name, DRAWN_FROM), -1
        while asked != self.tasks:  # what is drawn asks for what it is drawn from
            asked = self.tasks
            self.settle(*lanes)
            seen = self.look(self.bench)
        seen += [words for place in self.beside for words in self.look(place)]
        now = {"shows": Counter(w for w in seen if not w.startswith(SIGN)), "draws": Counter(w.removeprefix(SIGN) for w in seen if w.startswith(SIGN)),
               "can": Counter(s.accessibleName() for place in (self.bench, *self.beside) for s in place.findChildren(Spot) if s.isVisible())}  # fmt: skip
        for head, found in now.items():
            old = self.state.get(head, Counter())
            for sign, words in (("", found - old), ("no more ", old - found)):
                told = [word if n == 1 else f"{n} × {word}" for word, n in words.items()]
                if told:
                    more = f" … and {len(told) - most} more" if len(told) > most else ""
                    yield f"{sign}{head} {' | '.join(told[:most])}{more}"
        self.state = now
        at = self.where()
        if moved := [words for words in at if words not in self.at]:
            yield f"at {'; '.join(moved)}"
        self.at = at

    def where(self) -> list[str]:
        """Which bench is open, what is chosen, where the keyboard is and what is open to be typed into."""
        told = [self.bench.objectName(), *self.chosen()]
        for one in (rows for rows in self.bench.findChildren(RowList) if rows.isVisible()):
            item = one.item()
            said = one.rows.manner.said(item) if item is not None else "nothing"
            told.append(f"{one.name} {one.currentIndex().row()}, {one.column()}: {said}")
            down, aside, chosen = (
                one.verticalScrollBar().value(),
                one.horizontalScrollBar().value(),
                len(one.selected()),
            )
            told += [f"{one.name} scrolled {down} down, {aside} aside"] if down or aside else []
            told += [f"{chosen} rows of {one.name}"] if chosen > 1 else []
        bar = getattr(self.bench.parentWidget(), "bar", None)
        told += [f"scrolled {bar.value()} of {bar.maximum()}"] if bar and bar.maximum() else []
        at, line = self.window.focusWidget(), self.line()
        if line:
            told.append(
                f"line “{line.accessibleName()}”: “{line.text()}”, {line.selectedText()!r} marked, at {line.cursorPosition()}"
            )
            told += [f"notice “{self.window.notice.words}”"] if self.window.notice.asking else []
        elif at:
            told.append(f"keyboard on {at.accessibleName() or at.objectName()}")
        return told

    def spot(self, start: str) -> Spot:
        """The first place whose name begins so, on the bench or on the place beside it."""
        why = self.window.benches.why
        return next(
            place.spots.find(name)
            for place in (*((why,) if why.isVisible() else ()), self.bench, *self.beside)
            for name in place.spots.areas()
            if name.startswith(start) and place.spots.find(name)
        )

    def focused(self) -> QWidget:
        """Where keys go."""
        return QApplication.focusWidget() or self.window.focusWidget() or self.bench

    def listed(self, name: str) -> RowList:
        """The list of a name on the bench."""
        return next(one for one in self.bench.findChildren(RowList) if one.name.startswith(name) and one.isVisible())

    # ------------------------------------------------------------------------------ steps
    def do_open(self, words: str) -> None:
        """Open a bench."""
        self.window.benches.open(words)

    def do_look_at(self, words: str) -> None:
        """Look at other places too, beside the bench."""
        self.beside = [self.window.findChild(Place, name) for name in words.split(", ")]
        self.state = {}

    def do_ask_on(self, _: str) -> None:
        """Let the slip that tells why lie open from now on."""
        self.asking_why = True

    def do_build(self, words: str) -> None:
        """Choose a build."""
        self.desk.choose(words)

    def do_shot(self, words: str) -> None:
        """Choose a shot."""
        self.desk.breakdown.choose(words)

    def do_piece(self, words: str) -> None:
        """Choose a piece."""
        self.desk.piece_id = words
        self.bench.refresh()

    def do_do(self, words: str) -> None:
        """Run a line."""
        self.desk.do(words)

    def do_shelf(self, words: str) -> None:
        """Run a line on the shelf."""
        self.desk.shelf.do(words)

    def do_log(self, words: str) -> None:
        """Enter into the log: hours ago, kind, fields."""
        hours, kind, *fields = words.split()
        given = dict(field.split("=", 1) for field in fields)
        numbers = {name: float(words) if name in ("celsius",) else words.replace("_", " ") for name, words in given.items()}  # fmt: skip
        at = self.desk.now() - timedelta(hours=float(hours))
        self.desk.enter(LogEvent(f"t-{hours}", at, kind, **numbers))

    def do_key(self, words: str) -> None:
        """Press keys, parted by blanks, where the keyboard is."""
        for word in words.split():
            pressed = QKeySequence("Return" if word == "Enter" else word)[0]
            QTest.keyClick(self.focused(), pressed.key(), pressed.keyboardModifiers())
            QApplication.processEvents()

    def do_letters(self, words: str) -> None:
        """Press the keys of letters where the keyboard is."""
        QTest.keyClicks(self.focused(), words)

    def do_type(self, words: str) -> None:
        """Type into the line that is open."""
        line = next(line for line in (self.line(),) if line)
        line.setText(words)
        QTest.keyClick(line, Qt.Key.Key_Return)

    def do_leave(self, _: str) -> None:
        """Leave the line that is open, where one is."""
        if line := self.line():
            QTest.keyClick(line, Qt.Key.Key_Escape)

    def do_press(self, words: str) -> None:
        """Press a place."""
        self.spot(words).act()

    def do_stand_on(self, words: str) -> None:
        """Put the keyboard on a place, or on the bench itself."""
        (self.spot(words) if words != "bench" else self.bench).setFocus()

    def do_menu(self, words: str) -> list[str]:
        """What a right press on a place offers; behind “: ” what is chosen of it."""
        name, _, chosen = words.partition(": ")
        return self.chosen_of(self.bench.can(next(k for k in self.bench.spots.areas() if k.startswith(name))), chosen)

    def do_row(self, words: str) -> None:
        """Stand on a row of a list: the list, which row or how it begins to be spoken, and its column."""
        name, _, rest = words.partition(": ")
        which, _, column = rest.partition(", column ")
        rows = self.listed(name)
        row = next(
            i for i, item in enumerate(rows.rows.items) if which == str(i) or rows.rows.manner.said(item).startswith(which)
        )  # fmt: skip
        rows.setFocus()
        rows.choose(row, column or rows.rows.columns[0].key)

    def do_head(self, words: str) -> None:
        """Press the head of a column of a list."""
        name, _, column = words.partition(": ")
        head, at = self.headed(name, column)
        QTest.mouseClick(
            head.viewport(), Qt.MouseButton.LeftButton, pos=QPoint(head.sectionViewportPosition(at) + 20, 10)
        )

    def do_widen(self, words: str) -> list[str]:
        """Make a column of a list wider by so many pixels."""
        name, _, rest = words.partition(": ")
        column, by = rest.split()
        head, at = self.headed(name, column)
        head.resizeSection(at, head.sectionSize(at) + int(by))
        return [
            f"{head.sectionSize(at)} wide; remembered {QSettings('homunculus', 'homunculus').value(f'widths/{name}')}"
        ]

    def headed(self, name: str, column: str) -> tuple[QHeaderView, int]:
        """The heads that a column stands under, and where."""
        rows = self.listed(name)
        at = [one.key for one in rows.rows.columns].index(column)
        return rows._view_of(at).horizontalHeader(), at

    def do_pull_row(self, words: str) -> None:
        """Pull a row of a list to a point of the bench: the list, the row, the point; let go there."""
        name, _, rest = words.partition(": ")
        row, x, y = (int(number) for number in rest.split())
        rows = self.listed(name)
        start = rows.visualRect(rows.rows.index(row, 0)).center()
        goal = rows.viewport().mapFrom(self.bench, QPoint(x, y))
        QTest.mousePress(rows.viewport(), Qt.MouseButton.LeftButton, pos=start)
        for part in (0.02, 0.5, 1.0):
            QTest.mouseMove(rows.viewport(), start + (goal - start) * part)
            QApplication.processEvents()
        QTest.mouseRelease(rows.viewport(), Qt.MouseButton.LeftButton, pos=goal)

    def do_press_row(self, words: str) -> None:
        """Press a cell of a list, or press it twice."""
        name, _, rest = words.partition(": ")
        row, column, *twice = rest.split()
        rows = self.listed(name)
        at = [one.key for one in rows.rows.columns].index(column)
        view = rows._view_of(at)
        for act in (QTest.mouseClick, *((QTest.mouseDClick,) if twice else ())):
            act(view.viewport(), Qt.MouseButton.LeftButton, pos=view.visualRect(rows.rows.index(int(row), at)).center())

    def do_row_menu(self, words: str) -> list[str]:
        """What a right press on the chosen row of a list offers."""
        name, _, chosen = words.partition(": ")
        rows = self.listed(name)
        item = rows.item()
        return self.chosen_of(self.bench.can_row(rows.name, item, rows.column()) if item is not None else [], chosen)

    def chosen_of(self, menu, chosen: str) -> list[str]:
        """Choose of a menu, or tell what it offers."""
        if chosen:
            next(can for can in menu if can.words.startswith(chosen)).act()
            return []
        return [f"offers {can.words}, {can.key or 'no key'}" for can in menu]

    def do_pull(self, words: str) -> None:
        """Pull a place by so many pixels across and down."""
        name, across, down = words.rsplit(" ", 2)
        self.window.setUpdatesEnabled(True)
        drag(self.spot(name), int(across), int(down))
        self.window.setUpdatesEnabled(False)

    def do_click(self, words: str) -> None:
        """Press the bench at a point."""
        x, y = words.split()
        QTest.mouseClick(self.bench, Qt.MouseButton.LeftButton, pos=QPoint(int(x), int(y)))

    def do_wheel(self, words: str) -> None:
        """Turn the wheel on the bench or a place beside it, by so many notches at a point."""
        by, x, y = words.split()[-3:]
        name = " ".join(words.split()[:-3])
        lists = [one.viewport() for one in self.bench.findChildren(RowList) if name and one.name.startswith(name)]
        target = lists[0] if lists else self.window.findChild(Place, name) if name else self.bench
        turn_wheel(target, int(by) * 120, at=(int(x), int(y)))

    def do_units(self, words: str) -> None:
        """Show other units."""
        self.desk.use_units(words)

    def do_undo(self, _: str) -> None:
        """Go back a change of the job."""
        self.desk.undo()

    def do_redo(self, _: str) -> None:
        """Make it again."""
        self.desk.redo()

    def do_size(self, words: str) -> None:
        """Make the window so wide and high."""
        self.window.resize(*(int(n) for n in words.split()))

    def do_drop_picture(self, words: str) -> None:
        """Drop a drawing of one dark rectangle on the window: left, top, width and height of 400 by 400."""
        x, y, width, height = words.split()
        file = self.desk.folder.path.parent / "drawn.svg"
        file.write_text(
            '<svg xmlns="http://www.w3.org/2000/svg" width="400" height="400"><rect width="400" height="400" fill="white"/>'
            f'<rect x="{x}" y="{y}" width="{width}" height="{height}" fill="black"/></svg>'
        )
        drop(self.window, file)
        QTest.qWait(20)

    def do_drop_table(self, words: str) -> None:
        r"""Drop a table on the window; a “\n” parts its rows."""
        file = self.desk.folder.path.parent / "dropped.csv"
        file.write_text(words.replace("\\n", "\n"), "utf-8")
        drop(self.window, file)
        QTest.qWait(20)

    def do_copy(self, _: str) -> list[str]:
        """Copy, and tell what."""
        QApplication.clipboard().setText("")
        self.window.copy()
        return [f"copies {QApplication.clipboard().text()}".replace("\n", " / ").replace("\t", ", ")]

    def do_paste(self, words: str) -> None:
        r"""Paste words; a “\t” parts cells, a “\n” rows."""
        QApplication.clipboard().setText(words.replace("\\t", "\t").replace("\\n", "\n"))
        QTest.keyClick(self.focused(), Qt.Key.Key_V, Qt.KeyboardModifier.ControlModifier)

    def do_names(self, _: str) -> list[str]:
        """Tell the names of all places, for whoever writes a walkthrough."""
        return [f"named {' '.join(name.replace(' ', '_') for name in self.bench.spots.areas())}"]

    def do_command(self, words: str) -> None:
        """Run what the go-to box offers by those words."""
        next(c for c in self.window.commands if c.words.startswith(words)).act(self.window)
