"""Which job? Those that were open lately, a new one, the demo, another folder; and the sheet with which a new one begins."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, QSettings, Qt, Signal
from PySide6.QtGui import QKeyEvent, QPainter, QPainterPath, QPaintEvent, QResizeEvent, QShowEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.drawing.kinds import sign_of
from homunculus.app.drawing.silhouette import Silhouette
from homunculus.app.drawing.spot import Spots
from homunculus.app.drawing.typing import Typed
from homunculus.app.files import ask_for_folder
from homunculus.app.theme import Theme
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.plan.facts import Facts
from homunculus.core.quantities import parse
from homunculus.core.showing import show_moment
from homunculus.store.new_job import new_job
from homunculus.store.recent import Recent, cast_of, recent

ROW, LEFT, TOP = 58.0, 60.0, 150.0
DRAWN_W, DRAWN_H = 330.0, 40.0
"""What the silhouettes beside a row may take."""
FIELDS = (("name", "What is the job called?"), ("folder", "Folder"), ("country", "Country, for its holidays"), ("zone", "Clocks change by"),
          ("units", "Units"), ("rate", "Frame rate of the show"))  # fmt: skip
KEPT = ("country", "zone", "units", "rate")
"""What stands there again the next time."""


def _whole(build: Build, facts: Facts) -> QPainterPath:
    """All of a build in side view; empty where a form cannot be measured."""
    try:
        whole = Silhouette(build, facts).whole
    except UserError:
        return QPainterPath()
    whole.setFillRule(Qt.FillRule.WindingFill)
    return whole


class StartPage(QWidget):
    """One drawing; arrows and Enter, or a press, choose."""

    chosen = Signal(object)
    """The folder of a job that is there."""
    asked_demo = Signal()

    def __init__(self, theme: Theme, now: Callable[[], datetime], *, new: bool = False) -> None:
        super().__init__()
        self.setObjectName("start-page")
        self.setWindowTitle("Homunculus")
        self.setMinimumSize(760, 560)
        self.theme, self.now = theme, now
        self.spots = Spots(self)
        self.jobs: tuple[Recent, ...] = recent()
        self.sheet: dict[str, str] | None = None
        """What a new job's sheet says; none while no new job is wanted."""
        self.said: set[str] = set()
        """What somebody has decided on it; the rest are beginnings."""
        self._left: dict[str, str] | None = None
        """A sheet that was left as it was."""
        self.words = ""
        self._casts: dict[Path, list[QPainterPath]] = {}
        self._typed: Typed | None = None
        if new:
            self.begin()

    # ----------------------------------------------------------------------------------- reading
    def rows(self) -> list[tuple[str, str, str, Callable[[], None]]]:
        """What can be chosen: a key, a title, a note, what it does."""
        found: list[tuple[str, str, str, Callable[[], None]]] = []
        for i, job in enumerate(self.jobs[: self._room()]):
            builds = (
                ", ".join(job.builds[:4]) + (f" and {len(job.builds) - 4} more" if len(job.builds) > 4 else "")
                or "nothing in it yet"
            )
            found.append(
                (
                    f"job:{i}",
                    job.name,
                    f"{builds}; saved {show_moment(job.saved)}; {job.path}",
                    partial(self.chosen.emit, job.path),
                )
            )
        found.append(("new", "A new job", "Ctrl+N", self.begin))
        found.append(
            ("demo", "The demo job", "The Drowned Lamp: your own copy, to try everything on", self.asked_demo.emit)
        )
        found.append(("open", "Open another", "Ctrl+O, a folder with a job.json in it", self.choose))
        return found

    def _room(self) -> int:
        return max(1, int((self.height() - TOP - 60) // ROW) - 3)

    # -------------------------------------------------------------------------------------- acts
    def begin(self) -> None:
        """A new job is wanted: its sheet."""
        kept = QSettings("homunculus", "homunculus")
        parent = Path(str(kept.value("jobs-folder") or Path.home()))
        usual = {"country": "", "zone": "", "units": "metric", "rate": "24"}
        if self._left:
            self.sheet = self._left
        else:
            again = {key: str(kept.value(f"new-{key}") or usual[key]) for key in KEPT}
            self.sheet = {"name": "", "folder": str(parent), **again}
            self.said = set()
        self.refresh()
        if spot := self.spots.find("field:name"):
            spot.setFocus()

    def leave(self) -> None:
        """No new job after all; what its sheet said is there again when one is wanted."""
        self._left, self.sheet, self.words = self.sheet, None, ""
        self.refresh()

    def choose(self) -> None:
        """Ask for a job folder."""
        usual = str(self.jobs[0].path.parent) if self.jobs else ""
        if path := ask_for_folder(self, "Open a job folder", "job", usual):
            self.chosen.emit(path)

    def write(self, field: str, first: str = "") -> None:
        """Type what a line of the sheet says, ``first`` the key that began it; units turn over at a press."""
        sheet, spot = self.sheet, self.spots.find(f"field:{field}")
        if sheet is None or spot is None:
            return
        if field == "units":
            self._set(field, "imperial" if sheet["units"] == "metric" else "metric")
            return

        def accept(words: str) -> bool:
            self._set(field, " ".join(words.split()))
            return True

        question = dict(FIELDS)[field]
        self._typed = Typed(self, self.theme, question, sheet[field], accept, first, words=True)
        self._typed.setFont(self.theme.font("label"))
        after = FIELDS[min(len(FIELDS) - 1, [f for f, _ in FIELDS].index(field) + 1)][0]
        self._typed.closed.connect(lambda: self._focus(f"field:{after}" if sheet[field] else f"field:{field}"))
        area = QRectF(spot.geometry())
        self._typed.open_over(QRectF(area.x() + 250, area.y(), area.width() - 270, area.height()), area.width() - 270)

    def _focus(self, key: str) -> None:
        if spot := self.spots.find(key):
            spot.setFocus()

    def _set(self, field: str, words: str) -> None:
        if self.sheet is not None:
            if field == "folder" or self.sheet[field] != words:
                self.said.add(field)
            self.sheet[field] = words
            self.words = ""
            self.refresh()

    def place(self) -> Path:
        """The folder that the new job gets."""
        assert self.sheet is not None
        name = "".join(c if c.isalnum() or c in " -_" else "-" for c in self.sheet["name"]).strip() or "job"
        return Path(self.sheet["folder"]).expanduser() / name

    def make(self) -> None:
        """Make the new job as the sheet has it and go on in it."""
        sheet = self.sheet
        if sheet is None:
            return
        try:
            rate = parse(sheet["rate"], "rate")
            made = new_job(
                self.place(),
                sheet["name"],
                self.now(),
                country=sheet["country"],
                zone=sheet["zone"],
                base_rate_fps=rate,
            )
        except UserError as trouble:
            self.say(str(trouble))
            return
        kept = QSettings("homunculus", "homunculus")
        for key in KEPT:
            kept.setValue(f"new-{key}", sheet[key])
        kept.setValue("units", sheet["units"])
        kept.setValue("jobs-folder", sheet["folder"])
        self.chosen.emit(made)

    def say(self, words: str) -> None:
        """Say a sentence at the foot."""
        self.words = words
        self.setAccessibleDescription(words)
        self.update()

    # --------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        spot = self.spots.focused()
        keys = list(self.spots.areas())
        control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        if event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Up) and keys:
            by = 1 if event.key() == Qt.Key.Key_Down else -1
            at = keys.index(spot.objectName()) + by if spot else 0
            self._focus(keys[at % len(keys)])
        elif event.key() == Qt.Key.Key_Escape:
            self.leave() if self.sheet else self.close()
        elif spot and spot.objectName().startswith("field:") and not control and event.text().isprintable():
            self.write(spot.objectName().removeprefix("field:"), event.text())
        elif control and event.key() == Qt.Key.Key_N:
            self.begin()
        elif control and event.key() == Qt.Key.Key_O:
            self.choose()
        elif control and event.key() == Qt.Key.Key_Q:
            self.close()
        else:
            event.ignore()

    # ----------------------------------------------------------------------------------- drawing
    def refresh(self) -> None:
        """Lay the spots anew and draw."""
        self.spots.begin()
        if self.sheet is None:
            for i, (key, title, note, act) in enumerate(self.rows()):
                self.spots.place(
                    key,
                    QRectF(LEFT - 12, TOP + i * ROW, self.width() - 2 * LEFT + 24, ROW - 4),
                    f"{title}, {note}",
                    act,
                )
        else:
            for i, (field, question) in enumerate(FIELDS):
                area = QRectF(LEFT - 12, TOP + i * ROW, self.width() - 2 * LEFT + 24, ROW - 8)
                said = f"{question}: {self.sheet[field] or 'nothing yet'}"
                spot = self.spots.place(f"field:{field}", area, said, partial(self.write, field))
                spot.entered = self.make if self.sheet["name"] else None
            foot = TOP + len(FIELDS) * ROW + 16
            self.spots.place("make", QRectF(LEFT - 12, foot, 260, 44), "make it", self.make)
            self.spots.place("leave", QRectF(LEFT + 270, foot, 160, 44), "not now, Esc", self.leave)
        self.spots.end()
        self.update()

    def showEvent(self, event: QShowEvent) -> None:
        super().showEvent(event)
        self.refresh()
        self._focus("field:name" if self.sheet else next(iter(self.spots.areas()), ""))

    def resizeEvent(self, event: QResizeEvent) -> None:
        super().resizeEvent(event)
        self.refresh()

    def paintEvent(self, event: QPaintEvent) -> None:
        painter = QPainter(self)
        try:
            painter.fillRect(event.rect(), self.theme.colour("sheet"))
            ink = Ink(painter, self.theme)
            ink.text(LEFT, 84, "Which job?" if self.sheet is None else "A new job", "headline")
            ink.rule(LEFT, 104, self.width() - LEFT, 104, "ink", 2)
            if self.sheet is None:
                self._draw_rows(ink)
            else:
                self._draw_sheet(ink, self.sheet)
            if self.words:
                ink.paragraph(LEFT, self.height() - 44, self.width() - 2 * LEFT, self.words, "label", "danger", 2)
            spot = self.spots.focused()
            if spot is not None:
                ink.ticks(QRectF(spot.geometry()))
        finally:
            painter.end()

    def _draw_rows(self, ink: Ink) -> None:
        ink.text(LEFT, 132, "Open lately" if self.jobs else "Nothing was open yet on this machine.", "body", "ink2")
        for i, (key, title, note, _) in enumerate(self.rows()):
            y = TOP + i * ROW
            own = key.startswith("job:")
            ink.text(
                LEFT,
                y + 22,
                ink.squeezed(self.width() - 2 * LEFT, title, "on_drawing"),
                "on_drawing",
                "ink" if own else "decide",
            )
            ink.text(LEFT, y + 42, ink.squeezed(self.width() - 2 * LEFT - DRAWN_W, note, "note"), "note", "ink2")
            self._silhouettes(ink, self._drawn(key), self.width() - LEFT, y + ROW - 8, own=own)
            ink.rule(LEFT, y + ROW - 4, self.width() - LEFT, y + ROW - 4, "hair", 1)

    def _drawn(self, key: str) -> list[QPainterPath]:
        """What stands beside a row: the builds of a job, else what the row is about."""
        if not key.startswith("job:"):
            return [sign_of({"new": "set-cut-out", "demo": "miniature", "open": "bought"}[key])]
        job = self.jobs[int(key[4:])]
        if job.path not in self._casts:
            builds, facts = cast_of(job)
            self._casts[job.path] = [path for build in builds if not (path := _whole(build, facts)).isEmpty()]
        return self._casts[job.path]

    def _silhouettes(self, ink: Ink, paths: list[QPainterPath], right: float, ground: float, *, own: bool) -> None:
        """Draw paths on the ground, from the right edge on, each as high as a row lets it."""
        painter, x = ink.painter, right
        for path in reversed(paths):
            box = path.boundingRect()
            k = min(DRAWN_H / box.height(), 60 / box.width())
            x -= box.width() * k + 8
            if x < right - DRAWN_W:
                break
            painter.save()
            painter.translate(x, ground)
            painter.scale(k, k)
            painter.translate(-box.left(), -box.bottom())
            if own:
                painter.fillPath(path, ink.theme.colour("ink2"))
            else:
                pen = ink.pen("decide", 1.2, "hidden")
                pen.setCosmetic(True)
                painter.setPen(pen)
                painter.drawPath(path)
            painter.restore()

    def _draw_sheet(self, ink: Ink, sheet: dict[str, str]) -> None:
        ink.text(LEFT, 132, "What has a dashed line is a beginning. Everything can be changed later.", "body", "ink2")
        usual = {"country": "none: no holidays", "zone": "none: they do not", "name": "type its name"}
        for i, (field, question) in enumerate(FIELDS):
            y = TOP + i * ROW
            ink.text(LEFT, y + 28, question, "label", "ink2")
            words = str(self.place()) if field == "folder" and sheet["name"] else sheet[field] or usual.get(field, "")
            width = ink.text(
                LEFT + 250,
                y + 28,
                ink.squeezed(self.width() - 2 * LEFT - 260, words, "on_drawing"),
                "on_drawing",
                "decide",
            )
            ink.rule(
                LEFT + 250, y + 34, LEFT + 250 + width, y + 34, "decide", 1.5, "" if field in self.said else "hidden"
            )
            ink.rule(LEFT, y + ROW - 8, self.width() - LEFT, y + ROW - 8, "hair", 1)
        foot = TOP + len(FIELDS) * ROW + 38
        ink.key(LEFT, foot, "Enter", "make it, and go on with its first build")
        ink.key(LEFT + 282, foot, "Esc", "not now")
