"""What does the camera see? One shot drawn: what is in it at what size, what it needs, what it must match."""

from __future__ import annotations

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import ShotPageBench
from homunculus.app.benches.shot.frame import Seen, draw_frame, seen
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.needs import HINT, show_covered
from homunculus.core.cells.shots import BY_KEY, COLUMNS, cell_words
from homunculus.core.figures import Figure
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Shot
from homunculus.core.plan.coverage import NeedRow
from homunculus.core.planners.shots import governing_of
from homunculus.core.showing import Shown, show_day

LEFT, TOP = 18.0, 116.0
RIGHT_W, ROW = 292.0, 24.0
FIRST_CELLS = ("name", "day", "order", "call", "unit", "cut", "rule", "base", "lens", "cameras", "ends_as", "deadlines")
PLATE_CELLS = tuple(c.key for c in COLUMNS if c.key.startswith("plate_"))
MATCHED = {"plate.focal": "lens", "plate.height": "over the ground", "plate.distance": "away"}


class ShotBench(ShotPageBench):
    """One shot. ``[`` and ``]`` go through those of the chosen build."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Shot", self._keep_end)
        self.camera = ""

    # ----------------------------------------------------------------------------------- reading
    def drawn(self) -> Camera | None:
        """The camera whose picture is drawn: the chosen one, else the first."""
        cameras = self.breakdown.shot.cameras if self.breakdown.shot else ()
        return next((camera for camera in cameras if camera.name == self.camera), next(iter(cameras), None))

    def frame(self) -> QRectF:
        """Where the frame lies, in the proportions of the sensor."""
        mode = self.desk.job.mode
        ratio = mode.sensor_height_m.value / mode.sensor_width_m.value
        width = min(self.width() - RIGHT_W - 3 * LEFT, (self.height() - TOP - 220) / ratio)
        return QRectF(LEFT, TOP, max(160.0, width), max(160.0, width) * ratio)

    def places(self, shot: Shot) -> list[tuple[str, QRectF]]:
        """Where the cells lie: one a row, those of a plate two a row."""
        x, width, y = self.width() - RIGHT_W, RIGHT_W - LEFT, TOP
        lines = len(FIRST_CELLS) + len(PLATE_CELLS) // 2
        high = max(17.0, min(ROW, (self.height() - TOP - 50) / lines))
        found = []
        for key in FIRST_CELLS:
            found.append((key, QRectF(x, y, width, high)))
            y += high
        if not shot.plate:
            return [*found, ("plate_focal", QRectF(x, y, width, high))]
        for index, key in enumerate(PLATE_CELLS):
            row, column = divmod(index, 2)
            found.append((key, QRectF(x + column * (width / 2 + 6), y + row * high, width / 2 - 6, high)))
        return found

    def needs_y(self, shot: Shot) -> float:
        """Where the needs begin: beneath what matches a plate."""
        return self.frame().bottom() + 34 + 18 * self._match_lines(shot)

    def _match_lines(self, shot: Shot) -> int:
        """How many lines the plate's match takes: one, or one a figure where the frame is narrow."""
        count = len(self.matches(shot))
        return count if self.frame().width() < 430 else min(1, count)

    def needs(self, shot: Shot) -> list[NeedRow]:
        """What the shot needs, as many as fit."""
        room = int((self.height() - self.needs_y(shot) - 58) // ROW)
        rows = [r for r in self.desk.plan.coverage.rows if r.shot.id == shot.id]
        self.first = max(0, min(self.first, len(rows) - room))
        return rows[self.first : self.first + max(room, 1)]

    def headlines(self, shot: Shot) -> list[Figure]:
        """The figures that stand large: share of the frame, rate, time on set or exposures."""
        made = self.desk.build_plan if self.desk.chosen in shot.builds else None
        if made is None:
            return []
        found = [made.find(specs.FRAME_SHARE, shot=shot.id, camera=self.camera)]
        found += [made.find(spec, shot=shot.id) for spec in (specs.RATE, specs.ON_SET, specs.EXPOSURES)]
        return [figure for figure in found if figure][:3]

    def content(self) -> object:
        shot = self.breakdown.shot
        facts = id(self.desk.session.facts)
        return (shot, self.camera, self.first, self.desk.chosen, self.desk.build_plan if self.desk.chosen else None,
                id(self.desk.plan.coverage), facts)  # fmt: skip

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        shot = self.breakdown.shot
        if shot is None:
            self.first_shot("frame")
            return
        seconds = QRectF(12, 46, 150, 52)
        self.spots.place(
            "cell:seconds",
            seconds,
            f"on screen {self.desk.given(shot.seconds, 'screen_time')}, decided",
            lambda: self.edit("seconds"),
        )
        for index, figure in enumerate(self.headlines(shot)):
            self.figure_spot(figure, QRectF(170 + index * 165, 46, 158, 52))
        self._camera_spots(shot)
        for key, area in self.places(shot):
            words = cell_words(shot, self.desk.job, key, self.desk.system) or "nothing"
            self.spots.place(f"cell:{key}", area.adjusted(-4, -4, 4, -4), f"{BY_KEY[key].head}: {words}",
                             lambda k=key: self.edit(k))  # type: ignore[misc]  # fmt: skip
        y = self.needs_y(shot)
        for row in self.needs(shot):
            what = row.need.what if row.need else "nothing said yet"
            said = f"needs {what}: {self._cover_words(row)}"
            self.spots.place(f"need:{row.index}", QRectF(LEFT - 4, y, self.frame().width() + 8, ROW), said,
                             lambda r=row: self.edit_need(r))  # type: ignore[misc]  # fmt: skip
            y += ROW
        self.spots.place(
            "add-need", QRectF(LEFT - 4, y, 200, ROW), "add what else it needs", lambda: self.add_need(shot)
        )
        self._strip_spots()

    def _camera_spots(self, shot: Shot) -> None:
        names = [camera.name for camera in shot.cameras]
        if self.camera not in names:
            self.camera = names[0] if names else ""
        if len(names) < 2:
            return
        frame = self.frame()
        for index, name in enumerate(names):
            area = QRectF(frame.right() - 34 * (len(names) - index), frame.top() - 2, 34, 34)
            self.spots.place(f"camera:{name}", area, f"camera {name or 'A'}", lambda n=name: self.show_camera(n))  # type: ignore[misc]

    def _strip_spots(self) -> None:
        own = self.breakdown.own_shots
        wide = min(46.0, (self.width() - 2 * LEFT) / max(len(own), 1))
        shown = own if wide >= 18 else own[: int((self.width() - 2 * LEFT) // 18)]
        for index, other in enumerate(shown):
            area = QRectF(LEFT - 4 + index * max(wide, 18.0), self.height() - 44, max(wide, 18.0), 40)
            said = f"shot {other.id}, {other.name}, {show_day(other.day)}"
            self.spots.place(f"shot:{other.id}", area, said, lambda i=other.id: self.breakdown.choose(i))  # type: ignore[misc]

    # -------------------------------------------------------------------------------------- acts
    def add_shot(self) -> None:
        """Add a shot to be filled in."""
        self.breakdown.add_shot()

    def show_camera(self, name: str) -> None:
        """Draw what another camera sees."""
        self.camera = name
        self.refresh()

    def edit(self, key: str) -> None:
        """Type into a cell of the shot."""
        shot = self.breakdown.shot
        if shot:
            first = BY_KEY[key].write(shot, self.desk.job)
            self.type_over(
                BY_KEY[key].head, f"cell:{key}", first, lambda words: self.breakdown.edit_cell(shot, key, words)
            )

    def edit_need(self, row: NeedRow) -> None:
        """Type what covers a need."""
        if row.need is None:
            self.add_need(row.shot)
            return
        self.type_over(f"what covers {row.need.what}", f"need:{row.index}", show_covered(row.need, self.desk.job),
                       lambda words: self.breakdown.cover(row.shot, row.index, words), hint=HINT)  # fmt: skip

    def add_need(self, shot: Shot) -> None:
        """Type one more thing that the shot needs."""
        hint = f"What it needs, a colon, and what covers it. {HINT}"
        self.type_over("what else it needs", "add-need", "", lambda words: self.breakdown.add_need(shot, words), hint=hint)  # fmt: skip

    def _keep_end(self, shot: Shot, picture: str) -> None:
        """A picture belongs to what the shot's last frame must match."""
        self.breakdown.put(shot, replace(shot, ends_picture=picture), "picture of its end")

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.first -= self.notches(event)
        self.refresh()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        shot = self.breakdown.shot
        self.draw_sheets(ink)
        if shot is None:
            ink.text(LEFT, 29, "What does the camera see?", "bench_question")
            self.draw_empty(ink)
            return
        self.draw_question(ink, f"What does the camera see in shot {shot.id}?")
        self._headlines(ink, shot)
        frame, lens = self.frame(), self.drawn()
        things = seen(self.desk, shot, self.camera, frame)
        draw_frame(ink, frame, things, self.desk.chosen, known_lens=lens is not None)
        self._labels(ink, shot, frame, things, lens)
        self._cells(ink, shot)
        self._match(ink, shot)
        self._needs(ink, shot)
        self._picture(ink, shot)
        self._strip(ink, shot)

    def _headlines(self, ink: Ink, shot: Shot) -> None:
        ink.decided(LEFT, 84, Shown(cell_words(shot, self.desk.job, "seconds"), "s"), "headline")
        ink.text(LEFT, 108, "on screen", "note", "ink2")
        for index, figure in enumerate(self.headlines(shot)):
            x = 176.0 + index * 165
            shown = self.desk.shown(figure)
            ink.number(x, 84, shown, "headline", "reckon", equals=True,
                       ratio=ink.fitted(150, shown, "headline", equals=True))  # fmt: skip
            ink.text(x, 108, figure.spec.label[:1].lower() + figure.spec.label[1:], "note", "ink2")

    def _labels(self, ink: Ink, shot: Shot, frame: QRectF, things: list[Seen], lens: Camera | None) -> None:
        for name in (camera.name for camera in shot.cameras):
            spot = self.spots.find(f"camera:{name}")
            if spot:
                ink.plate(spot.x() + 8, frame.top() + 7, 16, 18, "film")
                ink.text(
                    spot.x() + 16,
                    frame.top() + 22,
                    name or "A",
                    "label",
                    "ink",
                    "centre",
                    600 if name == self.camera else 0,
                )
                if name == self.camera:
                    ink.rule(spot.x() + 10, frame.top() + 27, spot.x() + 22, frame.top() + 27, "ink", 2)
        base = frame.bottom() + 17
        if lens is None:
            ink.text(LEFT, base, "No lens named: drawn to fit, not to size. Type one at the right.", "note", "mind")
        elif not things:
            ink.text(LEFT, base, "Nothing of ours is in the frame.", "note", "ink2")
        else:
            x = LEFT
            for thing in things:
                share = self.desk.words(thing.share) if thing.share else "waiting for its mesh"
                over = thing.share is not None and thing.share.number > 1
                words = f"{thing.name}: {share} of the height" + (", runs out of the frame" if over else "")
                x += ink.text(x, base, words, "note", "ink" if thing.build == self.desk.chosen else "ink2") + 18

    def _cells(self, ink: Ink, shot: Shot) -> None:
        bottom = TOP
        for key, area in self.places(shot):
            base = area.y() + 13
            head = BY_KEY[key].head
            width = ink.text(area.x(), base, head, "note", "ink2")
            words = cell_words(shot, self.desk.job, key, self.desk.system)
            empty = "type the plate's lens" if key == "plate_focal" and not shot.plate else "–"
            room = area.width() - width - 8
            ink.text(
                area.right(),
                base,
                ink.squeezed(room, words or empty, "label"),
                "label",
                "ink" if words else "ink2",
                "right",
            )
            ink.rule(area.x(), area.bottom() - 4, area.right(), area.bottom() - 4, "hair", 0.75)
            bottom = area.bottom()
        if not shot.ends_picture and self.height() - bottom > 110:
            ink.key(self.width() - RIGHT_W, self.height() - 62, "A", "a picture that its end must match")

    def matches(self, shot: Shot) -> list[Figure]:
        """What matches the plate on our side of it."""
        if self.desk.chosen not in shot.builds:
            return []
        specs_of = (specs.PLATE_FOCAL, specs.PLATE_HEIGHT, specs.PLATE_DISTANCE)
        return [figure for spec in specs_of if (figure := self.desk.build_plan.find(spec, shot=shot.id))]

    def _match(self, ink: Ink, shot: Shot) -> None:
        x, base = LEFT, self.frame().bottom() + 39
        if self.matches(shot):
            x += ink.text(x, base, "To match the plate: ", "note", "ink2") + 6
        for figure in self.matches(shot):
            x += ink.number(x, base, self.desk.shown(figure), "lane_value", "reckon", equals=True) + 6
            x += ink.text(x, base, MATCHED[figure.spec.name], "note", "ink2") + 14
            if self._match_lines(shot) > 1:
                x, base = LEFT, base + 18

    def _cover_words(self, row: NeedRow) -> str:
        if row.trouble:
            return row.trouble
        return (show_covered(row.need, self.desk.job) if row.need else "") or "nobody covers it"

    def _needs(self, ink: Ink, shot: Shot) -> None:
        frame = self.frame()
        y = self.needs_y(shot)
        middle = LEFT + frame.width() * 0.42
        for row in self.needs(shot):
            bare = row.state == "nothing"
            what = row.need.what if row.need else "Nothing said yet"
            ink.text(LEFT, y + 17, ink.squeezed(middle - LEFT - 12, what, "label"), "label")
            if bare:
                ink.tag(middle - 4, y + 6, "danger")
            room = frame.right() - middle - 22
            words = self._cover_words(row) if row.state != "build" else self._use_words(row)
            ink.text(
                middle + 20,
                y + 17,
                ink.squeezed(room, words, "note"),
                "note",
                "danger" if bare else "mind" if row.state == "decision" else "ink2",
            )
            ink.rule(LEFT, y + 23, frame.right(), y + 23, "hair", 0.75)
            y += ROW
        ink.rule(LEFT, y + 20, LEFT + ink.text(LEFT, y + 16, "and what else?", "note", "ink2"), y + 20, "ink2", 1)

    def _use_words(self, row: NeedRow) -> str:
        return show_covered(row.need, self.desk.job) if row.need else ""

    def _picture(self, ink: Ink, shot: Shot) -> None:
        """The picture that the end must match, beneath the cells."""
        if not shot.ends_picture:
            return
        photo = self.desk.pictures.pixmap(shot.ends_picture)
        top = self.places(shot)[-1][1].bottom() + 8
        room = QRectF(self.width() - RIGHT_W, top, RIGHT_W - LEFT, self.height() - top - 56)
        if photo.isNull() or room.height() < 40:
            return
        scaled = photo.scaled(
            room.size().toSize(), Qt.AspectRatioMode.KeepAspectRatio, Qt.TransformationMode.SmoothTransformation
        )
        ink.painter.drawPixmap(room.topLeft(), scaled)
        ink.box(room.x(), room.y(), scaled.width(), scaled.height(), edge="ink2")

    def _strip(self, ink: Ink, shot: Shot) -> None:
        governing = governing_of(self.desk.build_plan) if self.desk.chosen else ""
        base = self.height() - 18.0
        ink.rule(LEFT, base - 22, self.width() - LEFT, base - 22, "ink", 1.2)
        for other in self.breakdown.own_shots:
            spot = self.spots.find(f"shot:{other.id}")
            if spot is None:
                break
            x, here = spot.x() + 4.0, other.id == shot.id
            ink.text(x, base, other.id, "label", "ink" if here else "ink2", weight=600 if here else 0)
            if here:
                ink.rule(x, base + 5, x + ink.width(other.id, "label", 600), base + 5, "ink", 2)
            if other.id == governing:
                ink.rules([(x + 2, base - 16, x + 6, base - 20), (x + 6, base - 20, x + 10, base - 16)], "ink", 1.4)
