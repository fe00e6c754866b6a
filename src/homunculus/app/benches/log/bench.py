"""What happened? The log, newest first: filtered, corrected, with pictures, and each opening beside its promise."""

from __future__ import annotations

import os
from collections.abc import Callable, Sequence
from datetime import timedelta
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.spec import WindowLike
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.files import ask_to_read, ask_to_write
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.log import LogEvent
from homunculus.core.plan.memory import Last
from homunculus.core.plan.status import Promise, promise
from homunculus.core.quantities import parse_moment
from homunculus.core.showing import show, show_clock, show_day, show_moment
from homunculus.exchange.formats import offered, offered_to_write

HEAD, ROW, FOOT = 60.0, 46.0, 38.0
COLUMNS = (
    Column("when", "when", 94),
    Column("kind", "what", 150),
    Column("text", "what happened", 0),
    Column("picture", "", 76),
)


class Newest(Sequence[LogEvent]):
    """A log the other way round, without copying it."""

    def __init__(self, entries: list[LogEvent]) -> None:
        self._entries = entries

    def __len__(self) -> int:
        return len(self._entries)

    def __getitem__(self, index):  # type: ignore[no-untyped-def]
        """The entry so many before the newest."""
        if not 0 <= index < len(self._entries):
            raise IndexError(index)
        return self._entries[-1 - index]


class LogBench(Bench):
    """The log as a list. Arrows walk it; letters act on the row that the keyboard is on."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Log")
        self.filter = ""
        self.only_build = ""
        self._found: Last[list[LogEvent]] = Last()
        self._large = ""
        self._promises: Last[dict[str, Promise | None]] = Last()
        self.list: RowList[LogEvent] = RowList(
            self, "log", COLUMNS, Manner(lambda entry: entry.id, self._cell, self._spoken, self._draw_cell), round(ROW)
        )
        self.list.acted.connect(self.enlarge)
        self._listed: object = None

    # ------------------------------------------------------------------------------------- rows
    def rows(self) -> Sequence[LogEvent]:
        """The entries that count and hold every word of the filter, newest first."""
        if not self.filter and not self.only_build:
            return Newest(self.desk.book.standing)
        return self._found.get((len(self.desk.book.written), self.filter, self.only_build), self._kept_ones)

    def _kept_ones(self) -> list[LogEvent]:
        words, names, book = self.filter.lower().split(), self._names(), self.desk.book
        source = book.of_build(self.only_build) if self.only_build else book.standing
        return [e for e in reversed(source) if all(word in self._haystack(e, names) for word in words)]

    def _names(self) -> dict[tuple[str, str], str]:
        names = {(b.id, ""): b.name for b in self.desk.job.builds}
        return names | {(b.id, p.id): p.name for b in self.desk.job.builds for p in b.pieces}

    @staticmethod
    def _haystack(e: LogEvent, names: dict[tuple[str, str], str]) -> str:
        build, piece = names.get((e.build, ""), e.build), names.get((e.build, e.piece), e.piece)
        return f"{e.kind} {e.text} {build} {piece} {e.lot} {e.mix} {show_day(e.at)}".lower()

    def promise(self, entry: LogEvent) -> Promise | None:
        """What was promised for an opening; reckoned once for as long as the log and the job stand."""
        known = self._promises.get((len(self.desk.book.written), self.desk.plan), dict)
        if entry.kind == "opened" and entry.id not in known:
            made = next((b for b in self.desk.plan.builds if b.build.id == entry.build), None)
            known[entry.id] = promise(self.desk.job, made, self.desk.book, entry) if made else None
        return known.get(entry.id)

    # ------------------------------------------------------------------------------------- spots
    def content(self) -> object:
        return (len(self.desk.book.written), self.filter, self.only_build, self._large, self.desk.job.builds)

    def arrange(self) -> None:
        self.list.setGeometry(8, round(HEAD), self.width() - 16, round(self.height() - HEAD - FOOT))
        rows = self.rows()
        listed = (len(self.desk.book.written), self.filter, self.only_build, self.desk.job.builds)
        self.list.recolour(listed)
        if listed != self._listed:
            self._listed = listed
            self.list.put(rows)
        self.list.setVisible(bool(rows) and not self._large)
        self.spots.place(
            "filter", QRectF(self.width() - 400, 4, 250, 40), f"filter: {self.filter or 'none'}", self.type_filter
        )
        if not rows and not self.filter and not self.only_build:
            self.empty_spot("rows", "a note, N", "Pours and openings come here by themselves.", self._note, HEAD + 20)
        whose = self.desk.build.name if self.desk.chosen else ""
        said = f"only {whose}" if not self.only_build else "every build"
        self.spots.place("only", QRectF(self.width() - 146, 4, 138, 40), said, self.only_this_build)

    def _note(self) -> None:
        window: WindowLike = self.window()
        window.note()

    def _spoken(self, entry: LogEvent) -> str:
        told = self.promise(entry)
        head = ", ".join(words for words in (show_moment(entry.at), entry.kind, self._whose(entry)) if words)
        said = (entry.text.rstrip("."), self._details(entry), _late_words(told) if told else "")
        return f"{head}: {'. '.join(words for words in said if words)}"

    def _whose(self, entry: LogEvent) -> str:
        names = self._names()
        build, piece = names.get((entry.build, ""), entry.build), names.get((entry.build, entry.piece), "")
        return f"{build}, {piece}" if piece and entry.piece else build

    def _details(self, entry: LogEvent) -> str:
        system, said = self.desk.system, []
        if entry.weights_kg:
            said.append(", ".join(f"{part} {self.desk.given(mass, 'mass')}" for part, mass in entry.weights_kg.items()))
        if entry.lot:
            said.append(f"lot {entry.lot}")
        if entry.celsius is not None:
            said.append(str(show(entry.celsius, "temperature", system)))
        if entry.until:
            said.append(f"until {show_moment(entry.until)}")
        return "  ·  ".join(said)

    def _cell(self, entry: LogEvent, key: str) -> str:
        """A cell as it is copied."""
        match key:
            case "when":
                return show_moment(entry.at)
            case "kind":
                return f"{entry.kind}, {self._whose(entry)}" if entry.build else entry.kind
            case "text":
                return "  ·  ".join(words for words in (entry.text, self._details(entry)) if words)
        return entry.picture

    def can_row(self, _rows: str, entry: LogEvent, _column: str) -> list[Can]:
        """With an entry: what is written stays in the file; what corrects it stands after it."""
        poured = [
            Can("It was opened at …", "O", lambda: self.opened_at(entry)),
            Can("It was spoiled", "S", lambda: self.spoil(entry)),
        ]
        seen = [Can("Show its picture", "Enter", lambda: self.enlarge(entry))] if entry.picture else []
        return [Can("Correct it", "C", lambda: self.correct(entry)), *(poured if entry.kind in ("poured", "weighed") else []), *seen,
                Can("Put a picture to it", "A", lambda: self.choose_picture(entry)), Can("Strike it", "Del", lambda: self.strike(entry)),
                Can("Copy the chosen entries", "Ctrl+C", self.copy)]  # fmt: skip

    def keyPressEvent(self, event: QKeyEvent) -> None:
        entry, key = self.list.item(), event.key()
        acts: dict[int, Callable[[LogEvent], None]] = {
            Qt.Key.Key_C: self.correct, Qt.Key.Key_A: self.choose_picture, Qt.Key.Key_S: self.spoil,
            Qt.Key.Key_O: self.opened_at, Qt.Key.Key_Delete: self.strike,
        }  # fmt: skip
        if key == Qt.Key.Key_Escape and self._large:
            self._large = ""
            self.refresh()
        elif entry and key in acts:
            acts[key](entry)
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.list.isVisible():
            self.list.setFocus()
        else:
            event.ignore()

    def copy(self) -> None:
        """Copy the chosen entries, or all."""
        self.list.copy()

    # -------------------------------------------------------------------------------------- acts
    def type_filter(self) -> None:
        """Type the words that the rows must hold."""

        def accept(words: str) -> bool:
            self.filter = words.strip()
            self.refresh()
            return True

        self._ask("filter", "filter", self.filter, accept)

    def only_this_build(self) -> None:
        """Show the chosen build alone, or every build again."""
        self.only_build = "" if self.only_build else self.desk.chosen
        self.refresh()

    def correct(self, entry: LogEvent) -> None:
        """Type what should stand there; the old words stay in the file, and no longer count."""

        def accept(words: str) -> bool:
            if words.strip() and words.strip() != entry.text:
                self._again(entry, text=words.strip())
            return True

        self._ask("what happened", "", entry.text, accept)

    def strike(self, entry: LogEvent) -> None:
        """Let an entry no longer count."""
        self.desk.enter(LogEvent(os.urandom(6).hex(), self.desk.now(), "correction", f"struck: {entry.text}", entry.build,
                                 entry.piece, corrects=entry.id))  # fmt: skip

    def spoil(self, entry: LogEvent) -> None:
        """Log that what was poured is spoiled."""
        if entry.kind not in ("poured", "weighed"):
            self.desk.said.emit("Only what was poured can be spoiled. Choose its row.")
            return

        def accept(words: str) -> bool:
            if words.strip():
                self.desk.enter(
                    LogEvent(
                        os.urandom(6).hex(),
                        self.desk.now(),
                        "spoiled",
                        words.strip(),
                        entry.build,
                        entry.piece,
                        op=entry.op,
                    )
                )
            return True

        self._ask("what went wrong", "", "", accept)

    def opened_at(self, entry: LogEvent) -> None:
        """Log the real time at which a pour was opened."""
        if entry.kind != "poured":
            self.desk.said.emit("Only what was poured can be opened. Choose its row.")
            return

        def accept(words: str) -> bool:
            moment = parse_moment(words, self.desk.now())
            if not entry.at < moment <= self.desk.now() + timedelta(minutes=1):
                self.desk.said.emit(
                    f"It was poured {show_moment(entry.at)}: type a time since then, and not ahead of now."
                )
                return False
            self.desk.enter(
                LogEvent(
                    os.urandom(6).hex(),
                    moment,
                    "opened",
                    f"{self._whose(entry)}: opened",
                    entry.build,
                    entry.piece,
                    op=entry.op,
                )
            )
            return True

        self._ask("when it was opened", "", f"{show_clock(self.desk.now())}", accept)

    def choose_picture(self, entry: LogEvent) -> None:
        """Ask for a picture and put it to an entry."""
        path = ask_to_read(self, "A picture", "picture", offered("Pictures", "picture"))
        if path:
            self.attach(entry, path)

    def attach(self, entry: LogEvent, path: Path) -> None:
        """Put a picture to an entry."""
        from homunculus.store.pictures import keep_picture

        try:
            self._again(entry, picture=keep_picture(self.desk.folder.path, path))
        except UserError as trouble:
            self.desk.said.emit(str(trouble))

    def _again(self, entry: LogEvent, **changes: object) -> None:
        """Write an entry anew with something changed; the old one no longer counts."""
        self.desk.enter(replace(entry, id=os.urandom(6).hex(), corrects=entry.id, **changes))

    def enlarge(self, entry: LogEvent) -> None:
        """Show the picture of an entry large, or fold it again."""
        self._large = "" if self._large == entry.picture else entry.picture
        self.refresh()

    def choose_csv(self) -> None:
        """Ask where to write the log as CSV."""
        asked = ask_to_write(self, "Write the log", "log", "log.csv", offered_to_write("log"))
        if asked:
            self.write_csv(asked[0])

    def write_csv(self, path: Path) -> None:
        """Write all entries as CSV, those that no longer count too."""
        from homunculus.exchange.log_csv import log_as_csv
        from homunculus.store.atomic import write_atomically

        book = self.desk.book
        text = log_as_csv(sorted(book.written, key=lambda e: e.at), self._names(), book.corrected)
        try:
            write_atomically(path, text.encode())
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        self.desk.said.emit(f"Wrote {len(book.written)} entries to {path.name}.")

    def _ask(self, name: str, over: str, first: str, accept: Callable[[str], bool]) -> None:
        spot = self.spots.find(over) if over else None
        row = self.list.row_area() if self.list.item() else QRectF(18, HEAD, 250, ROW)
        self.type_over(
            name, QRectF(spot.geometry()) if spot else row, first, accept, spot or self.list, least=250, words=True
        )

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        rows = self.rows()
        ink.text(18, 29, "What happened?", "bench_question")
        count = (
            f"{len(rows)} of {len(self.desk.book.standing)} entries"
            if self.filter or self.only_build
            else f"{len(rows)} entries"
        )
        ink.text(18, 50, count, "note", "ink2")
        x = self.width() - 394.0
        words = self.filter or "filter by any words"
        ink.text(x, 29, ink.squeezed(236, words, "label"), "label", "decide" if self.filter else "ink2")
        ink.rule(x, 34, x + 240, 34, "decide" if self.filter else "line", 1.2)
        words = "every build" if self.only_build else "this build only"
        ink.rule(
            self.width() - 140,
            34,
            self.width() - 140 + ink.text(self.width() - 140, 29, words, "label", "ink"),
            34,
            "ink",
            1,
        )
        if not rows:
            if self.filter or self.only_build:
                ink.text(18, HEAD + 24, "No entry holds these words.", "body", "ink2")
            self.draw_empty(ink)
        self._keys(ink)
        if self._large:
            self._large_picture(ink)

    def _draw_cell(self, ink: Ink, entry: LogEvent, key: str, area: QRectF, above: LogEvent | None) -> None:
        x, y, room = area.left() + 10, area.top(), area.width() - 18
        if key == "when":
            new_day = above is None or above.at.date() != entry.at.date()
            if new_day:
                ink.text(x, y + 17, ink.squeezed(room, show_day(entry.at), "label", 600), "label", "ink", weight=600)
            ink.text(x, y + 34 if new_day else y + 17, show_clock(entry.at), "lane_value", "ink2")
        elif key == "kind":
            ink.text(x, y + 17, entry.kind, "label", "danger" if entry.kind == "spoiled" else "ink", weight=600)
            ink.text(x, y + 34, ink.squeezed(room, self._whose(entry), "tick"), "tick", "ink2")
        elif key == "text":
            ink.text(x, y + 17, ink.squeezed(room, entry.text or "–", "body"), "body")
            self._draw_details(ink, entry, x, y + 35, room)
        elif entry.picture:
            self._draw_small(ink, entry.picture, area)

    def _draw_details(self, ink: Ink, entry: LogEvent, x: float, y: float, room: float) -> None:
        told, details = self.promise(entry), self._details(entry)
        if details:
            x += ink.text(x, y, ink.squeezed(room * (0.5 if told else 1.0), details, "note"), "note", "ink2") + 18
        if told:
            ink.text(x, y, _late_words(told), "note", "mind" if told.minded else "reckon")

    def _draw_small(self, ink: Ink, name: str, area: QRectF) -> None:
        picture = self.desk.pictures.pixmap(name)
        if picture.isNull():
            ink.text(area.right() - 4, area.top() + 17, "is missing", "tick", "danger", "right")
            return
        small = picture.scaled(56, 38, Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation)
        ink.painter.drawPixmap(int(area.right() - 4 - small.width()), int(area.top() + 3), small)

    def _large_picture(self, ink: Ink) -> None:
        picture = self.desk.pictures.pixmap(self._large)
        area = QRectF(40, HEAD, self.width() - 80, self.height() - HEAD - FOOT - 10)
        ink.box(area.x(), area.y(), area.width(), area.height(), fill="sheet", edge="ink", width=1.5)
        if picture.isNull():
            ink.text(
                area.center().x(),
                area.center().y(),
                "This picture is missing from the job folder.",
                "body",
                "danger",
                "centre",
            )
            return
        large = picture.scaled(area.adjusted(8, 8, -8, -8).size().toSize(), Qt.AspectRatioMode.KeepAspectRatio,
                               Qt.TransformationMode.SmoothTransformation)  # fmt: skip
        ink.painter.drawPixmap(
            int(area.center().x() - large.width() / 2), int(area.center().y() - large.height() / 2), large
        )

    def _keys(self, ink: Ink) -> None:
        x, y = 18.0, self.height() - 18.0
        ink.rule(18, self.height() - FOOT + 2, self.width() - 18, self.height() - FOOT + 2, "ink", 1.2)
        for name, words in (
            ("C", "correct"),
            ("O", "opened at …"),
            ("S", "spoiled"),
            ("A", "picture"),
            ("Del", "strike out"),
        ):
            ink.key(x, y, name, words)
            x += 130


def _late_words(told: Promise) -> str:
    way = "after" if told.late_s > 0 else "before"
    return f"{show(abs(told.late_s), 'duration')} {way} the promised {show_moment(told.promised)}"
