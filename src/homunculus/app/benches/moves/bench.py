"""What moves, and when? The shot on its time with its frames, played as outlines at screen speed in the camera's picture."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QElapsedTimer, QPointF, QRectF, Qt, QTimer
from PySide6.QtGui import QHideEvent, QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.grips import Grip, Grips
from homunculus.app.benches.moves.page import CuePage
from homunculus.app.benches.moves.played import draw_marks
from homunculus.app.benches.moves.timeline import LANE, NAME_W, Timeline
from homunculus.app.benches.moves.told import FIGURE_H, Told
from homunculus.app.benches.moves.values import Values
from homunculus.app.benches.set_bench import VIEWS, SetBench
from homunculus.app.benches.stage.scene import Scene
from homunculus.app.desk import Desk
from homunculus.app.drawing.paper import HEIGHT, WIDTH
from homunculus.app.drawing.place import Can
from homunculus.app.files import ask_to_write
from homunculus.app.theme.ink import Ink
from homunculus.core.camera.picture import Body
from homunculus.core.cells.actions import BEGINNINGS, example, parse_action, show_action
from homunculus.core.edits.sets import eye_height, put_shot
from homunculus.core.edits.stage import timed, with_action
from homunculus.core.errors import UserError
from homunculus.core.floor.cue_list import Table, cue_tables
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Action
from homunculus.core.moving.playing import camera_at, ends_of, kind_words, lasts_of, to_frame
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.planners.moving import offsets_at
from homunculus.core.showing import significant
from homunculus.exchange.formats import offered_to_write, writer

SPLIT = 0.52

NO_SHOT = "There is no shot yet in which anything could move. Begin one in the list of shots (B)."


class MovesBench(SetBench):
    """The movements of a shot."""

    view = VIEWS[4]
    least_height = 470

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Moves bench")
        self.scene = Scene(desk)
        self.grips = Grips(desk, self.spots, self._grasp)
        self.values = Values(self)
        self.chosen = 0
        """Which of the moves, from 0."""
        self.at_s = 0.0
        """The moment that is drawn, in seconds on screen."""
        self.held: tuple[Shot, Action] | None = None
        """The shot, and the move that is pulled, as they were when the hand took hold."""
        self._clock = QElapsedTimer()
        self._began = 0.0
        self._timer = QTimer(self)
        self._timer.setInterval(33)
        self._timer.timeout.connect(self._tick)
        desk.meshes.changed.connect(self._learned)

    def _learned(self) -> None:
        self.again()

    # ----------------------------------------------------------------------------------- reading
    def all_moves(self) -> tuple[Action, ...]:
        """All that moves in the drawn shot."""
        return self.breakdown.shot.actions if self.breakdown.shot else ()

    def chosen_move(self) -> Action | None:
        """The one that is chosen."""
        found = self.all_moves()
        self.chosen = max(0, min(self.chosen, len(found) - 1))
        return found[self.chosen] if found else None

    def content(self) -> object:
        return (
            self.found(),
            self.stage(),
            self.desk.build_plan if self.desk.chosen else None,
            self.chosen,
            self.at_s,
            self.desk.gesture is None,
            self.taking.name,
            self.breakdown.own_shots,
        )

    # ----------------------------------------------------------------------------------- places
    def picture_area(self, stage: StagePlan) -> QRectF:
        """Where the camera's picture lies."""
        wide = self.width() * SPLIT - 30
        mode = stage.found.context.mode(stage.camera)
        ratio = mode.ratio if mode else 0.56
        high = min(wide * ratio, self.height() * 0.42)
        return QRectF(18, 50, high / ratio, high)

    def lanes_top(self, stage: StagePlan) -> float:
        """Where the time begins."""
        return self.picture_area(stage).bottom() + 112

    def lanes(self, stage: StagePlan) -> list[tuple[int, QRectF]]:
        """The moves in sight, each with its lane."""
        top, count = self.lanes_top(stage) + 10, len(self.all_moves())
        room = max(1, int((self.height() - 44 - top) // LANE))
        self.first = max(0, min(self.first, count - room))
        if not self.first <= self.chosen < self.first + room and count:
            self.first = max(0, min(self.chosen, count - room))
        return [
            (i, QRectF(18, top + n * LANE, self.width() - 36, LANE))
            for n, i in enumerate(range(self.first, min(count, self.first + room)))
        ]

    def timeline(self, stage: StagePlan) -> Timeline:
        """The time of the shot as it lies on the drawing."""
        return Timeline(
            self.desk,
            stage,
            QRectF(18, self.lanes_top(stage), self.width() - 36, self.height() - self.lanes_top(stage)),
        )

    # ------------------------------------------------------------------------------------- spots
    def question(self) -> str:
        """What it answers."""
        shot = self.breakdown.shot
        return f"What moves in shot {shot.id}?" if shot else "What moves?"

    def arrange(self) -> None:
        stage = self.arrange_stage(self.question())
        if stage is None:
            return
        shot = stage.found.shot
        picture = self.picture_area(stage)
        self.spots.place(
            "play", picture, "stop" if self.playing else f"play the shot, {shot.seconds:g} s on screen", self.play
        )
        self._figure_spots(shot, picture)
        self._line_spot(picture)
        self.values.arrange(picture)
        time = self.timeline(stage)
        x, top = time.x_of(self.at_s), time.area.top()
        self.grips.lay("now", QRectF(x - 20, top - 36, 40, 40), f"the moment that is drawn, {significant(self.at_s)} s", "along",
                       Grip(self._pull_now, lambda steps: self.go_to(self._on(self.at_s, steps)), lambda _first: None))  # fmt: skip
        for index, area in self.lanes(stage):
            self._lane_spots(index, area, time)
        x = 18.0
        for kind in BEGINNINGS:
            width = 18 + self.setting().width(kind, "note")
            self.spots.place(
                f"more:{kind}",
                QRectF(x - 4, self.height() - 34, width, 32),
                f"one more: {kind}",
                partial(self.add, kind),
            )
            x += width + 4

    def told(self, shot: Shot, picture: QRectF) -> Told:
        """What is told of the chosen move."""
        return Told(self.desk, shot, self.chosen_move(), picture, self.width())

    def _figure_spots(self, shot: Shot, picture: QRectF) -> None:
        for figure, at in self.told(shot, picture).laid():
            self.figure_spot(figure, QRectF(at.x() - 6, at.y() - 18, self.width() - at.x() - 14, FIGURE_H))

    def _line_spot(self, picture: QRectF) -> None:
        action = self.chosen_move()
        if action:
            self.spots.place(
                "line",
                QRectF(14, picture.bottom() + 4, self.width() - 28, 30),
                f"{show_action(action, self.desk.system)}; Enter types it anew",
                partial(self.type_line, self.chosen),
            )

    def _lane_spots(self, index: int, area: QRectF, time: Timeline) -> None:
        shot, px = time.shot, time.px_per_s
        action = shot.actions[index]
        x1, x2 = (time.x_of(end) for end in ends_of(action, shot))
        said = f"{kind_words(action)} {action.name}, from {significant(action.starts_s)} s for {significant(lasts_of(action, shot))} s"
        self.spots.place(
            f"choose:{index}", QRectF(area.left() - 4, area.top(), NAME_W - 8, LANE), said, partial(self.choose, index)
        )
        self.grips.lay(f"move:{index}", QRectF(x1 - 8, area.top(), max(24.0, x2 - x1 - 12), LANE), said + "; pull it sooner or later", "along",
                       Grip(lambda by: self._pull_start(by.x() / px), lambda steps: self._time(index, self._on(action.starts_s, steps), None), partial(self.type_line, index)))  # fmt: skip
        if hasattr(action, "lasts_s"):
            self.grips.lay(f"end:{index}", QRectF(x2 - 18, area.top(), 40, LANE), f"the end of {action.name}", "along",
                           Grip(lambda by: self._pull_end(by.x() / px), lambda steps: self._time(index, action.starts_s, self._on(lasts_of(action, shot), steps)),
                                partial(self.type_line, index)))  # fmt: skip

    # --------------------------------------------------------------------------------------- acts
    def _grasp(self, key: str) -> None:
        kind, _, index = key.partition(":")
        shot = self.breakdown.shot
        self._began = self.at_s
        if kind == "now":
            self.held = None
            self.desk.grasp()
            return
        if kind != "value":  # those are of the chosen one
            self.chosen = int(index)
        self.held = (shot, shot.actions[self.chosen]) if shot else None
        self.desk.grasp()

    def _pull_now(self, by: QPointF) -> None:
        stage = self.stage()
        if stage:
            self.go_to(self._began + by.x() / self.timeline(stage).px_per_s)

    def _on(self, seconds: float, steps: int = 0) -> float:
        return to_frame(seconds, self.desk.job.shop.base_rate_fps, steps)

    def _pull_start(self, by: float) -> None:
        if self.held:
            self.put(
                self.chosen, timed(self.held[1], self.held[0], self._on(self.held[1].starts_s + by), None), "pulled"
            )

    def _pull_end(self, by: float) -> None:
        if self.held:
            shot, action = self.held
            self.put(
                self.chosen,
                timed(action, shot, action.starts_s, max(self._on(lasts_of(action, shot) + by), self._on(0.05))),
                "pulled",
            )

    def _time(self, index: int, starts: float, lasts: float | None) -> None:
        shot = self.breakdown.shot
        if shot:
            self.put(index, timed(shot.actions[index], shot, starts, lasts), "moved in time")

    def put(self, index: int, action: Action | None, what: str) -> bool:
        """Put a move in the place of another, or take it out; ``what`` was done to it is its name in undo."""
        shot = self.breakdown.shot
        if shot is None:
            return False
        name = action.name if action else shot.actions[index].name
        return self.desk.edit(
            f"{name} {what}", put_shot(self.desk.job, with_action(shot, index, action)), self.desk.gesture
        )

    def choose(self, index: int) -> None:
        """Choose a move."""
        self.chosen = index
        self.refresh()

    def add(self, kind: str) -> None:
        """Type one more move of a kind."""
        shot = self.breakdown.shot
        spot = self.spots.find(f"more:{kind}")
        if shot is None or spot is None:
            return
        build = next((b for b in (self.desk.chosen, *shot.builds) if b in shot.builds), "")
        stands = example(kind, build, self.desk.job, self.desk.system)
        self.type_over(
            f"one more {kind}",
            QRectF(spot.geometry()).adjusted(0, -8, 260, 0),
            stands,
            partial(self._take, len(shot.actions)),
            f"more:{kind}",
            hint=f"A kind, a name, a colon, and phrases: {stands}.",
        )

    def type_line(self, index: int, first: str = "") -> None:
        """Type the line of a move anew."""
        del first
        self.chosen = index
        self.refresh()
        actions = self.all_moves()
        if index < len(actions):
            line = show_action(actions[index], self.desk.system)
            self.type_over("the line of this move", "line", line, partial(self._take, index), f"move:{index}")

    def _take(self, index: int, words: str) -> bool:
        before = self.all_moves()[index] if index < len(self.all_moves()) else None
        action = parse_action(words, self.desk.job, self.desk.system, before)
        if not self.put(index, action, "typed"):
            return False
        self.chosen = index
        self.refresh()
        return True

    def remove(self, index: int) -> None:
        """Take a move out."""
        if index < len(self.all_moves()):
            self.put(index, None, "taken out")

    # ------------------------------------------------------------------------------------ playing
    @property
    def playing(self) -> bool:
        """Whether it runs."""
        return self._timer.isActive()

    def play(self) -> None:
        """Play the shot at screen speed, from its beginning where it stands at its end; or stop."""
        shot = self.breakdown.shot
        if self.playing:
            self._timer.stop()
        elif shot:
            self._began = 0.0 if self.at_s >= shot.seconds - 1e-6 else self.at_s
            self._clock.start()
            self._timer.start()
        else:
            self.desk.said.emit(NO_SHOT)
        self.again()

    def _tick(self) -> None:
        shot = self.breakdown.shot
        if shot is None or not self.isVisible():
            self._timer.stop()
            return
        self.at_s = min(self._began + self._clock.elapsed() / 1000, shot.seconds)
        if self.at_s >= shot.seconds:
            self._timer.stop()
            self.again()
        self._moment_changed()

    def _moment_changed(self) -> None:
        """Nothing but the picture and the time beneath it is another at another moment."""
        stage = self.stage()
        if stage:
            top = self.lanes_top(stage) - 42
            self.update(self.picture_area(stage).toAlignedRect())
            self.update(QRectF(0, top, self.width(), self.height() - 40 - top).toAlignedRect())

    def repaint_changed(self, before: object, now: object) -> None:
        if isinstance(before, tuple) and isinstance(now, tuple) and before[:4] == now[:4] and before[5:] == now[5:]:
            self._moment_changed()
        else:
            self.update()

    def go_to(self, seconds: float) -> None:
        """Draw another moment."""
        shot = self.breakdown.shot
        if shot:
            self.at_s = max(0.0, min(self._on(seconds), shot.seconds))
            self.refresh()

    def hideEvent(self, event: QHideEvent) -> None:
        self._timer.stop()
        super().hideEvent(event)

    # ---------------------------------------------------------------------------------------- out
    def tables(self) -> tuple[Table, ...]:
        """Cues and camera frames of the drawn shot; where there are none, or too many, that is said."""
        shot = self.breakdown.shot
        try:
            found = cue_tables(self.desk.plan, shot) if shot else ()
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return ()
        if not found:
            self.desk.said.emit("There are no cues and no camera moves in this shot to write.")
        return found

    def choose_cues(self) -> None:
        """Ask where to write cues and camera frames."""
        shot = self.breakdown.shot
        if shot is None:
            self.desk.said.emit(NO_SHOT)
        elif self.tables():
            kinds = f"{offered_to_write('cues')};;Page (*.pdf)"
            asked = ask_to_write(self, "Write the list of cues", "page", f"cues-{shot.id}.csv", kinds)
            if asked:
                self.write_cues(asked[0])

    def write_cues(self, path: Path) -> None:
        """Write cues and camera frames of the drawn shot, as CSV or as pages by the ending of the file."""
        from homunculus.store.atomic import write_atomically

        shot, tables = self.breakdown.shot, self.tables()
        if shot is None or not tables:
            return
        if path.suffix.lower() == ".pdf":
            pages = CuePage.all(self.desk, shot, tables)
            self.pages.write(path, [partial(page.draw, width=WIDTH, height=HEIGHT) for page in pages])
            return
        try:
            write_atomically(path, writer("cues", path.name)(tables))
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        self.desk.said.emit(f"Wrote {sum(len(t.rows) for t in tables)} lines to {path.name}.")

    # --------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        spot = self.spots.focused()
        kind, _, index = (spot.objectName() if spot else "").partition(":")
        match event.key():
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind in ("move", "choose", "end"):
                self.remove(int(index))
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "line":
                self.remove(self.chosen)
            case Qt.Key.Key_Comma | Qt.Key.Key_Period:
                self.go_to(self._on(self.at_s, 1 if event.key() == Qt.Key.Key_Period else -1))
            case Qt.Key.Key_Insert:
                self.add("travel" if self.desk.chosen else "camera")
            case _:
                super().keyPressEvent(event)

    def can(self, key: str) -> list[Can]:
        kind, _, index = key.partition(":")
        if kind in ("move", "choose", "end"):
            at = int(index)
            return [
                Can("Type its line", "Enter", lambda: self.type_line(at)),
                Can("Take it out", "Del", lambda: self.remove(at)),
            ]
        if kind == "play":
            return [
                Can("Play, or stop", "Enter", self.play),
                Can("Write cues and camera frames", "CSV, PDF", self.choose_cues),
            ]
        return super().can(key)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_top(ink, self.question())
        stage = self.stage()
        if stage is None:
            self.draw_empty(ink)
            return
        shot = stage.found.shot
        picture = self.picture_area(stage)
        if self.touches(picture):
            self._picture(ink, shot, stage, picture)
        if self.touches(QRectF(picture.right() + 4, picture.top(), self.width(), picture.height())):
            self.told(shot, picture).draw(ink)
        if self.touches(QRectF(0, picture.bottom() + 4, self.width(), 60)):
            self._line(ink, picture)
            self.values.draw(ink, picture)
        time = self.timeline(stage)
        time.draw(ink)
        for index, area in self.lanes(stage):
            time.draw_lane(ink, shot.actions[index], area, mine=index == self.chosen)
        time.draw_moment(ink, self.at_s, self.height() - 42)
        for kind in BEGINNINGS:
            spot = self.spots.find(f"more:{kind}")
            if spot:
                width = ink.text(spot.x() + 4, self.height() - 14, f"+ {kind}", "note", "decide")
                ink.rule(spot.x() + 4, self.height() - 10, spot.x() + 4 + width, self.height() - 10, "decide", 1)

    def _picture(self, ink: Ink, shot: Shot, stage: StagePlan, picture: QRectF) -> None:
        height = eye_height(stage.found, stage.camera)
        camera = camera_at(replace(stage.camera, height_m=height), shot, self.at_s, height)
        eye = self.scene.eye(stage, camera)
        if eye is None:
            return
        bodies: list[Body] = self.scene.bodies(
            stage, offsets_at(stage.found, self.desk.job.shop.base_rate_fps, self.at_s)
        )
        self.scene.draw(ink, picture, stage, bodies, eye, -1)
        draw_marks(self.desk, ink, picture, stage, bodies, eye, shot, self.at_s)
        if not self.playing:
            x, y = picture.left() + 12, picture.bottom() - 26
            ink.plate(x - 2, y - 2, 22, 18, "film")
            ink.rules([(x, y, x, y + 14), (x, y, x + 12, y + 7), (x, y + 14, x + 12, y + 7)], "decide", 2)

    def _line(self, ink: Ink, picture: QRectF) -> None:
        action = self.chosen_move()
        if action:
            words = ink.squeezed(self.width() - 40, show_action(action, self.desk.system), "label")
            width = ink.text(18, picture.bottom() + 24, words, "label", "decide")
            ink.rule(18, picture.bottom() + 29, 18 + width, picture.bottom() + 29, "decide", 1.2)
