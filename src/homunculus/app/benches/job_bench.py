"""Benches about the whole job: their names stand at the upper right, from each the others are one press away."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.register import OF_JOB
from homunculus.app.breakdown import Breakdown
from homunculus.app.desk import Desk
from homunculus.app.drawing.empty import What
from homunculus.app.files import ask_to_read
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.job.shots import ByBuild, Need, Shot
from homunculus.core.showing import show_day
from homunculus.exchange.formats import offered


class JobBench(Bench):
    """A bench that knows the shots."""

    sheet_name = ""

    def __init__(self, parent: QWidget, desk: Desk, name: str) -> None:
        super().__init__(parent, desk, name)
        self.first = 0
        """The first row that is drawn, where there are more than fit."""

    @property
    def breakdown(self) -> Breakdown:
        """The shots of the desk."""
        return self.desk.breakdown

    def sheet_spots(self) -> None:
        """Lay the names of these benches at the upper right."""
        x = self.width() - 14.0
        for spec in reversed(OF_JOB):
            width = 12 + self.setting().width(spec.title, "label")
            x -= width
            self.spots.place(f"sheet:{spec.name}", QRectF(x, 4, width, 40), f"{spec.title}, key {spec.key}",
                             partial(self.desk.wanted.emit, spec.name))  # fmt: skip
            x -= 4

    def draw_sheets(self, ink: Ink) -> None:
        """Draw the names, the open one underlined."""
        for spec in OF_JOB:
            spot = self.spots.find(f"sheet:{spec.name}")
            if spot is None:
                continue
            x, here = spot.x() + 6.0, spec.name == self.sheet_name
            width = ink.text(x, 29, spec.title, "label", "ink" if here else "ink2")
            if here:
                ink.rule(x, 34, x + width, 34, "ink", 2)

    def first_shot(self, what: What, top: float = 60.0) -> None:
        """Where no shot is there yet: the drawing in dashes is pressed for the first one."""
        self.empty_spot(
            what,
            "the first shot",
            "or drop a list of shots (CSV, XLSX) or an edit list (OTIO, cut list)",
            self._add_first,
            top,
        )

    def _add_first(self) -> None:
        needs = (Need(self.desk.build.name, ByBuild(self.desk.chosen)),) if self.desk.chosen else ()
        shot = self.breakdown.add_shot(needs)
        self.desk.said.emit(
            f"Shot {shot.id} is there, on {show_day(shot.day)} until you say another day. Say how long it is and what it needs."
        )

    def first_build(self, what: What, top: float = 60.0) -> None:
        """Where no build is there yet: the drawing in dashes leads to where one begins."""
        self.empty_spot(
            what,
            "the first build",
            "a miniature, a puppet, a suit, a prop …",
            partial(self.desk.asked_of_made.emit, "begin"),
            top,
        )

    def draw_question(self, ink: Ink, words: str) -> None:
        """Draw what the bench answers, as far as the names at the right leave room."""
        first = self.spots.find(f"sheet:{OF_JOB[0].name}")
        room = (first.x() if first else self.width()) - 30.0
        ink.text(18, 29, ink.squeezed(room, words, "bench_question"), "bench_question")

    def ask_who(self, question: str, over: QRectF | str, accept: Callable[[str], bool]) -> None:
        """Ask for a name; what was typed last stands there already."""

        def take(words: str) -> bool:
            if not words.strip():
                self.desk.said.emit("Type who says so.")
                return False
            self.desk.who = words.strip()
            return accept(words.strip())

        self.type_over(question, over, self.desk.who, take)


class ShotPageBench(JobBench):
    """A bench about one shot: brackets go from shot to shot, A keeps a picture of it."""

    def __init__(self, parent: QWidget, desk: Desk, name: str, keep: Callable[[Shot, str], None]) -> None:
        super().__init__(parent, desk, name)
        self._keep = keep
        """Writes into a shot that a picture of the job folder, by its name, belongs to it."""

    def attach(self, path: Path) -> None:
        """Keep a picture in the job folder and write it into the drawn shot."""
        from homunculus.store.pictures import keep_picture

        shot = self.breakdown.shot
        if shot is None:
            return
        try:
            self._keep(shot, keep_picture(self.desk.folder.path, path))
        except UserError as trouble:
            self.desk.said.emit(str(trouble))

    def choose_picture(self) -> None:
        """Ask for a picture."""
        path = ask_to_read(self, "A picture", "picture", offered("Pictures", "picture"))
        if path:
            self.attach(path)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        match event.key():
            case Qt.Key.Key_BracketLeft:
                self.breakdown.step(-1)
            case Qt.Key.Key_BracketRight:
                self.breakdown.step(1)
            case Qt.Key.Key_A:
                self.choose_picture()
            case _:
                event.ignore()
