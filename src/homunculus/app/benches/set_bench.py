"""What the benches about a shot's set share: its shots and cameras along the top, and the way from one view of it to another."""

from __future__ import annotations

from functools import partial
from typing import NamedTuple

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.benches.lens.taking import Taking
from homunculus.app.desk import Desk
from homunculus.app.pages import Pages
from homunculus.app.theme.ink import Ink
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Shot
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.lens import verdict_of


class View(NamedTuple):
    """One view of a set."""

    name: str
    bench: str
    key: str
    """Goes there from another view of the set, and from itself back to the lens."""
    lit: bool = False


VIEWS = (
    View("Lens", "lens", ""), View("Light", "lens", "W", lit=True), View("Stage", "stage", "S"), View("Card", "card", "C"), View("Moves", "moves", "A"),
)  # fmt: skip
_KEYS = {Qt.Key.Key_W: VIEWS[1], Qt.Key.Key_S: VIEWS[2], Qt.Key.Key_C: VIEWS[3], Qt.Key.Key_A: VIEWS[4]}


class SetBench(JobBench):
    """A bench of station 3."""

    view = VIEWS[0]

    def __init__(self, parent: QWidget, desk: Desk, name: str) -> None:
        super().__init__(parent, desk, name)
        self.taking = Taking(desk)
        self.pages = Pages(desk)

    # ----------------------------------------------------------------------------------- reading
    def here(self) -> View:
        """The view that is drawn."""
        return self.view

    def found(self) -> SetPlan | None:
        """The set that is drawn."""
        return self.taking.found()

    def camera(self) -> Camera | None:
        """The camera that it is drawn for."""
        return self.taking.camera()

    def stage(self) -> StagePlan | None:
        """The stage that is drawn, as its camera sees it; none where there is no camera yet."""
        shot, camera = self.breakdown.shot, self.camera()
        return self.desk.plan.stage(shot.id, camera.name) if shot and camera else None

    # ------------------------------------------------------------------------------------- spots
    def arrange_stage(self, question: str) -> StagePlan | None:
        """Lay the top beside the ``question``, and where shot or camera is missing the drawing that is pressed for it; else the stage."""
        if self.breakdown.shot is None:
            self.first_shot("frame")
            return None
        self.arrange_top(question)
        stage = self.stage()
        if stage is None:
            self.empty_spot(
                "frame", "its camera", "a lens, and what must be sharp: 35 mm, 24 m to 84 m", self.taking.begin
            )
        return stage

    def arrange_top(self, question: str) -> None:
        """Lay the shots, the cameras and the views along the top, beside the ``question``."""
        self._view_spots()
        shot = self.breakdown.shot
        names = [camera.name for camera in shot.cameras] if shot else []
        right = min((self.spots.areas()[f"view:{view.name}"].x() for view in VIEWS), default=self.width())
        for name in reversed(names) if len(names) > 1 else []:
            right -= 32
            self.spots.place(f"camera:{name}", QRectF(right, 6, 30, 36), f"camera {name or 'A'}", partial(self._show, name))  # fmt: skip
        x = 30 + self.setting().width(question, "bench_question") + 10
        for one in self.breakdown.own_shots:
            width = 14 + self.setting().width(one.id, "label", 600)
            if x + width > right - 10:
                break
            self.spots.place(f"shot:{one.id}", QRectF(x, 6, width, 36), f"shot {one.id}, {one.name}",
                             partial(self.breakdown.choose, one.id))  # fmt: skip
            x += width + 2

    def _view_spots(self) -> None:
        x = self.width() - 10.0
        for view in reversed(VIEWS):
            width = 12 + self.setting().width(view.name, "label")
            x -= width
            key = f", key {view.key}" if view.key else ", key 3"
            self.spots.place(
                f"view:{view.name}", QRectF(x, 6, width, 36), f"{view.name}{key}", partial(self.turn_to, view)
            )

    def turn_to(self, view: View) -> None:
        """Show another view of the set."""
        self.breakdown.lit = view.lit
        if view.bench == self.view.bench:
            self.refresh()
        else:
            self.desk.wanted.emit(view.bench)

    def _show(self, name: str) -> None:
        self.taking.name = name
        self.refresh()

    def view_key(self, event: QKeyEvent) -> bool:
        """Do what a key does on every view of a set: another shot, another view; whether it did."""
        if event.key() in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight):
            self.breakdown.step(1 if event.key() == Qt.Key.Key_BracketRight else -1)
            return True
        wanted = _KEYS.get(Qt.Key(event.key()))
        if wanted is None:
            return False
        self.turn_to(VIEWS[0] if wanted == self.here() else wanted)
        return True

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.view_key(event):
            event.ignore()

    # ----------------------------------------------------------------------------------- drawing
    def draw_top(self, ink: Ink, question: str) -> None:
        """Draw what :meth:`arrange_top` laid; while something is pulled it seldom changes, and is stamped."""
        shot = self.breakdown.shot
        cannot = tuple(one.id for one in self.breakdown.own_shots if self._cannot(one))
        key = (
            question,
            shot.id if shot else "",
            self.taking.name,
            self.here().name,
            cannot,
            tuple(s.id for s in self.breakdown.own_shots),
        )
        self.kept(ink, "top", key, QRectF(0, 0, self.width(), 42), lambda on: self._top(on, question))

    def _top(self, ink: Ink, question: str) -> None:
        first = min(
            (spot.x() for view in VIEWS if (spot := self.spots.find(f"view:{view.name}"))), default=self.width()
        )
        ink.text(18, 29, ink.squeezed(first - 30, question, "bench_question"), "bench_question")
        here = self.breakdown.shot
        for shot in self.breakdown.own_shots:
            spot = self.spots.find(f"shot:{shot.id}")
            if spot is None:
                break
            mine = here is not None and shot.id == here.id
            width = ink.text(spot.x() + 7, 29, shot.id, "label", "ink" if mine else "ink2", weight=600 if mine else 0)
            if mine:
                ink.rule(spot.x() + 7, 34, spot.x() + 7 + width, 34, "ink", 2)
            elif self._cannot(shot):
                ink.rule(spot.x() + 7, 34, spot.x() + 7 + width, 34, "danger", 2)
        for view in VIEWS:
            spot = self.spots.find(f"view:{view.name}")
            if spot:
                width = ink.text(spot.x() + 6, 29, view.name, "label", "ink" if view == self.here() else "ink2")
                if view == self.here():
                    ink.rule(spot.x() + 6, 34, spot.x() + 6 + width, 34, "ink", 2)
        for camera in here.cameras if here else ():
            spot = self.spots.find(f"camera:{camera.name}")
            if spot:
                mine = camera.name == self.taking.name
                ink.text(spot.x() + 15, 29, camera.name or "A", "label", "ink" if mine else "ink2", "centre", 600 if mine else 0)  # fmt: skip
                if mine:
                    ink.rule(spot.x() + 8, 34, spot.x() + 22, 34, "ink", 2)

    def _cannot(self, shot: Shot) -> bool:
        found = self.desk.plan.sets.get(shot.id)
        return found is not None and any(verdict_of(found, c.name) == "cannot" for c in shot.cameras)
