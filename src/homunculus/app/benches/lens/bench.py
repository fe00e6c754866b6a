"""Does focus hold? The set in side view; focus, stop, lens and what stands there pulled; and what would free it."""

from __future__ import annotations

import math
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainterPath
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.benches.lens.card import CameraCard
from homunculus.app.benches.lens.labels import Label, spread
from homunculus.app.benches.lens.light import LightView
from homunculus.app.benches.lens.side import Side, Stop
from homunculus.app.benches.lens.taking import Taking
from homunculus.app.desk import Desk
from homunculus.app.drawing.paper import HEIGHT, WIDTH
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.spot import Handle
from homunculus.app.files import ask_to_write
from homunculus.app.pages import Pages
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.places import PLACE_EXAMPLE
from homunculus.core.edits.sets import Hold
from homunculus.core.figures import Figure, Given
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Shot
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.ways_out import WayOut
from homunculus.core.planners.lens import optics_of, taken_at, verdict_of
from homunculus.core.showing import show

LOW = 540
"""Height under which less is told: one way out, smaller dots."""
WAYS_Y, WAY_H = 122.0, 21.0
BAR_X, BAR_W, BAR_PX = 236.0, 86.0, 6.0
"""Of the bars of the ways out: where they begin, how long they are, and how many pixels of blur that is."""
WORDS = {"holds": "holds", "strained": "strained", "cannot": "cannot hold"}


class LensBench(JobBench):
    """The bench of station 3."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Lens bench")
        self.taking = Taking(desk)
        self.light = LightView(self, self.taking, self.hold_spot, self.role)
        self.pages = Pages(desk)
        self.lit = False
        """Whether it shows the light instead of the focus."""
        self._held_side: Side | None = None
        """While something is pulled the drawing keeps its scale."""

    # ----------------------------------------------------------------------------------- reading
    def found(self) -> SetPlan | None:
        """The set that is drawn."""
        shot = self.breakdown.shot
        return self.desk.plan.sets.get(shot.id) if shot else None

    def low(self) -> bool:
        """Whether there is little height."""
        return self.height() < LOW

    def side(self) -> Side | None:
        """How the set lies on the drawing."""
        found, camera = self.found(), self.taking.camera()
        if found is None or camera is None:
            return None
        top = (WAYS_Y + 24 if self.low() else 176.0) + (128 if self.lit else 0)
        floor = self.height() - (104 if self.low() else 132)
        side = Side(self.desk, found, camera, QRectF(12, top, self.width() - 24, max(60.0, floor - top)))
        side.above = 0.0 if self.lit else side.above
        if self.desk.gesture is not None and self._held_side is not None:
            side.px, side.eye_x = self._held_side.px, self._held_side.eye_x
            side.eye_y = side.floor - side.eye_m * side.px
        else:
            self._held_side = side
        return side

    def ways(self) -> tuple[WayOut, ...]:
        """What would free it; not while something is pulled."""
        return self.taking.ways()

    def labels(self, side: Side) -> list[Label]:
        """What stands beneath the floor, the worst where not all fit."""
        return spread(side, self.low())

    def content(self) -> object:
        return (self.found(), self.lit, self.desk.build, self.desk.build_plan, self.taking.name, self.desk.chosen, self.desk.gesture is None, self.ways(), self.breakdown.own_shots,
                id(self.desk.session.facts))  # fmt: skip

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        shot, found, side = self.breakdown.shot, self.found(), self.side()
        if shot is None:
            self.first_shot("frame")
            return
        self._shot_spots()
        if found is None or side is None:
            self.empty_spot(
                "frame", "its camera", "a lens, and what must be sharp: 35 mm, 24 m to 84 m", self.taking.begin
            )
            return
        self._camera_spots()
        if self.lit:
            self.light.arrange(found, side.floor)
            return
        self._verdict_spots(found, side.camera)
        for index, way in enumerate(self.shown_ways()):
            blurred = f", {self.desk.words(way.blur)}" if way.blur else ""
            said = f"{way.words}, {way.note}{blurred}: {'holds' if way.holds else 'does not free it'}"
            area = QRectF(12, WAYS_Y + 6 + index * WAY_H, BAR_X + BAR_W + 60, WAY_H)
            self.spots.place(f"way:{way.key}", area, said, partial(self.taking.take, way))
        self._handles(side)
        for label in self.labels(side):
            self._label_handle(label)
        for index, area in self._waiting():
            what = found.shot.needs[index].what
            self.spots.place(
                f"waiting:{index}", area, f"{what} stands nowhere yet: say where", partial(self.put_down, index)
            )
        self.spots.place("add", QRectF(12, self.height() - 30, 150, 26), "put something more before the lens", self.add)

    def _shot_spots(self) -> None:
        x = 30 + self.setting().width(self._question(), "bench_question") + 18
        for shot in self.breakdown.own_shots:
            width = 14 + self.setting().width(shot.id, "label", 600)
            if x + width > self.width() - 190:
                break
            self.spots.place(f"shot:{shot.id}", QRectF(x, 6, width, 36), f"shot {shot.id}, {shot.name}",
                             partial(self.breakdown.choose, shot.id))  # fmt: skip
            x += width + 2

    def _camera_spots(self) -> None:
        shot = self.breakdown.shot
        names = [camera.name for camera in shot.cameras] if shot else []
        x = self.width() - 14.0
        for name, lit in (("Light", True), ("Lens", False)):
            width = 14 + self.setting().width(name, "label")
            x -= width
            self.spots.place(f"view:{name}", QRectF(x, 6, width, 36), f"{name}, key S", partial(self.turn_to, lit))
        for name in reversed(names) if len(names) > 1 else []:
            x -= 32
            self.spots.place(f"camera:{name}", QRectF(x, 6, 30, 36), f"camera {name or 'A'}", partial(self._show, name))

    def turn_to(self, lit: bool) -> None:
        """Show the light, or the focus."""
        self.lit = lit
        self.refresh()

    def _show(self, name: str) -> None:
        self.taking.name = name
        self.refresh()

    def _verdict_spots(self, found: SetPlan, camera: Camera) -> None:
        for figure, area in self._figures(found, camera):
            self.figure_spot(figure, area)
        x = self._columns()[1] + self._number_width(found, camera, specs.BLUR) + 8
        self.decide_spot("shop.sharp_px", QRectF(x - 8, 68, 70, 26))

    def _columns(self) -> tuple[float, float, float]:
        """Where verdict, worst blur and best blur stand."""
        return (18.0, self.width() * 0.305, self.width() * 0.62)

    def _number_width(self, found: SetPlan, camera: Camera, spec: object) -> float:
        figure = found.find(spec, camera=camera.name)  # type: ignore[arg-type]
        return self.setting().number_width(self.desk.shown(figure), self.role(), equals=True) if figure else 0.0

    def role(self) -> str:
        """The type of what stands large."""
        return "on_drawing" if self.low() else "headline"

    def _figures(self, found: SetPlan, camera: Camera) -> list[tuple[Figure, QRectF]]:
        placed = []
        for spec, x in zip((specs.BLUR, specs.LEAST_BLUR), self._columns()[1:], strict=True):
            figure = found.find(spec, camera=camera.name)
            if figure:
                placed.append((figure, QRectF(x - 6, 50, self._number_width(found, camera, spec) + 10, 44)))
        return placed

    def shown_ways(self) -> tuple[WayOut, ...]:
        """The ways out that are in sight."""
        ways = self.ways()
        return ways[:1] if self.low() else ways[:8]

    # ----------------------------------------------------------------------------------- handles
    def _handles(self, side: Side) -> None:
        found, camera = side.found, side.camera
        optics, taken = optics_of(found.context, camera), taken_at(found, camera)
        lens = str(self.desk.given(optics.focal.number, "length"))
        card = f", {optics.card.name}" if optics.card else ""
        for hold, area in self._places(side).items():
            if hold == "focal":
                self._handle(hold, area, f"lens {lens}{card}, decided", Qt.CursorShape.SizeVerCursor)
            elif hold == "stop" and taken:
                state = "decided" if camera.stop is not None else "left to the program"
                self._handle(
                    hold,
                    area,
                    f"stop {self.desk.given(taken.stop.number, 'stop')}, {state}",
                    Qt.CursorShape.SizeVerCursor,
                )
            elif hold == "focus" and taken:
                state = "decided" if camera.focus_m is not None else "left to the program"
                self._handle(
                    hold,
                    area,
                    f"focus {self.desk.given(taken.focus.number, 'length')}, {state}",
                    Qt.CursorShape.SizeHorCursor,
                )
            elif hold == "camera":
                height = f", eye {self.desk.given(side.eye_m, 'length')} over the floor" + (
                    "" if camera.height_m is not None else ", nobody said"
                )
                self._handle(hold, area, f"camera{height}; pull it back or up", Qt.CursorShape.SizeAllCursor)

    def _places(self, side: Side) -> dict[Hold, QRectF]:
        """Where the handles of the camera lie."""
        x, y = side.own_x, side.eye_y
        taken = taken_at(side.found, side.camera)
        places: dict[Hold, QRectF] = {}
        top = y - 62
        left = max(16.0, x - 48)
        places["focal"] = QRectF(left - 8, top - 4, 72, 36)
        places["stop"] = QRectF(left + 70, top - 4, 70, 36)
        places["camera"] = QRectF(x - 34, y - 14, 40, 28)
        if taken and math.isfinite(taken.focus.number):
            at = min(x + taken.focus.number * side.px, side.area.right() - 40)
            below = y + 84 < side.floor
            places["focus"] = QRectF(max(at - 36, 14.0), y + 46 if below else y - 86, 84, 36)
        return places

    def hold_spot(self, hold: Hold, area: QRectF, said: str) -> None:
        """Lay a handle over a value of the set that stands beside the drawing."""
        self._handle(hold, area, said, Qt.CursorShape.SizeVerCursor)

    def _handle(self, hold: Hold, area: QRectF, said: str, cursor: Qt.CursorShape) -> None:
        self.spots.place_handle(f"hold:{hold}", area, said, cursor, lambda handle: self._wire_hold(handle, hold))

    def _label_handle(self, label: Label) -> None:
        stop = label.stop
        soft = "" if stop.held else ", taken alone" if stop.alone else ", may be soft"
        blurred = f", {self.desk.words(stop.blur)}" if stop.blur else ""
        said = f"{stop.name} at {self.desk.given(stop.at, 'length')}{soft}{blurred}"
        self.spots.place_handle(f"hold:{stop.key}", label.area, said, Qt.CursorShape.SizeHorCursor,
                                lambda handle: self._wire_hold(handle, stop.key))  # fmt: skip

    def _wire_hold(self, handle: Handle, hold: Hold) -> None:
        start: list[QPointF] = []

        def grasp() -> None:
            start.clear()
            self.taking.grasp(hold)

        def pull(at: QPointF) -> None:
            side = self._held_side
            if side is None:
                return
            if not start:
                start.append(at)
            self.taking.pull(
                hold, (at.x() - start[0].x()) / side.px, (start[0].y() - at.y()) / side.px, start[0].y() - at.y()
            )

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(lambda steps: self.taking.step(hold, steps))
        handle.typing.connect(lambda first: self.type_hold(hold, first))

    def type_hold(self, hold: Hold, first: str = "") -> None:
        """Open the line to type what a handle holds."""
        spot = self.spots.find(f"hold:{hold}")
        if spot:
            self.ask(self.taking.called(hold), QRectF(spot.geometry()), first or self.taking.words(hold),
                     lambda words: self.taking.type(hold, words), f"hold:{hold}")  # fmt: skip

    def _waiting(self) -> list[tuple[int, QRectF]]:
        """What of the shot stands nowhere yet, by its number, the first of it with where it is told."""
        found = self.found()
        waits = [i for i, need in enumerate(found.shot.needs) if need.place is None] if found else []
        return [(waits[0], QRectF(12, self.height() - 54, 150, 24))] if waits else []

    def put_down(self, need: int) -> None:
        """Type where something stands that stands nowhere yet."""
        spot, shot = self.spots.find(f"waiting:{need}"), self.breakdown.shot
        if spot and shot:
            self.desk.said.emit(f"{PLACE_EXAMPLE}.")
            self.ask(f"where {shot.needs[need].what} stands", QRectF(spot.geometry()), "stands ",
                     partial(self.taking.put_down, need), "add")  # fmt: skip

    def add(self) -> None:
        """Type something more that stands there, as needs are typed."""
        spot, shot = self.spots.find("add"), self.breakdown.shot
        if spot and shot:
            self.desk.said.emit("What it is, a colon, what covers it, and where: iron rail: stock: rail, stands 0.6 m.")
            self.ask(
                "what else stands there",
                QRectF(spot.geometry()),
                "",
                lambda words: self.breakdown.add_need(shot, words),
                "add",
            )

    def hold_at_hand(self) -> Hold:
        """The handle that the keyboard is on, or nothing."""
        spot = self.spots.focused()
        name = spot.objectName() if spot else ""
        return name.removeprefix("hold:") if name.startswith("hold:") else ""

    def _light_at_hand(self) -> str:
        spot = self.spots.focused()
        name = spot.objectName() if spot else ""
        return name.removeprefix("light:") if name.startswith("light:") else ""

    def choose_pdf(self) -> None:
        """Ask where to write the camera card of this shot, or of all shots."""
        shot = self.breakdown.shot
        if shot is None or not shot.cameras:
            self.desk.said.emit("There is no camera yet to write a card of.")
            return
        every = "Cards of all shots (*.pdf)"
        asked = ask_to_write(
            self, "Write the camera card", "page", f"camera-{shot.id}.pdf", f"Card of shot {shot.id} (*.pdf);;{every}"
        )
        if asked:
            path, kind = asked
            self.write_pdf(path.with_suffix(".pdf"), self.breakdown.shots if kind == every else (shot,))

    def write_pdf(self, path: Path, shots: tuple[Shot, ...]) -> None:
        """Write the cards of all cameras of ``shots`` as PDF, a page each."""
        cards = [
            CameraCard(self.desk, self.desk.plan.sets[shot.id], camera) for shot in shots for camera in shot.cameras
        ]
        self.pages.write(path, [partial(card.draw, width=WIDTH, height=HEIGHT) for card in cards])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        hold = self.hold_at_hand()
        match event.key():
            case Qt.Key.Key_BracketLeft:
                self.breakdown.step(-1)
            case Qt.Key.Key_BracketRight:
                self.breakdown.step(1)
            case Qt.Key.Key_X if hold:
                self.taking.soften(hold)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if hold:
                self.taking.let_be(hold)
            case Qt.Key.Key_S:
                self.turn_to(not self.lit)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if self._light_at_hand():
                self.light.take_away(self._light_at_hand())
            case Qt.Key.Key_O:
                self.taking.next_body()
            case _:
                event.ignore()

    def can(self, key: str) -> list[Can]:
        hold = key.removeprefix("hold:")
        if key.startswith("light:"):
            name = key.removeprefix("light:")
            return [
                Can("Type it", "Enter", lambda: self.light.type_named(name)),
                Can("Take it away", "Del", lambda: self.light.take_away(name)),
            ]
        if hold == key:
            return super().can(key)
        found = [Can("Type it", "Enter", lambda: self.type_hold(hold))]
        if hold == "focal":
            found += [Can(f"{card.name}", "", partial(self.taking.take_card, card)) for card in self.taking.cards()]
        if hold in ("focus", "stop"):
            found.append(Can("Leave it to the program", "Del", lambda: self.taking.let_be(hold)))
        if hold.startswith("place:"):
            found += [Can("It may be soft, or must be sharp again", "X", lambda: self.taking.soften(hold)),
                      Can("In a pass of its own, or with the others again", "", lambda: self.taking.alone(hold)),
                      Can("By how far it looks, or by the floor", "", lambda: self.taking.turn(hold)),
                      Can("It stands nowhere yet", "Del", lambda: self.taking.let_be(hold))]  # fmt: skip
        if hold.startswith("end:"):
            found.append(Can("Hold only what stands there", "Del", lambda: self.taking.let_be(hold)))
        if hold == "camera":
            found += [Can(words, "O", act) for words, act in self.taking.bodies()]
        return found

    # ----------------------------------------------------------------------------------- drawing
    def _question(self) -> str:
        shot = self.breakdown.shot
        if self.lit:
            return f"What light does shot {shot.id} take?" if shot else "What light does it take?"
        return f"Does focus hold in shot {shot.id}?" if shot else "Does focus hold?"

    def draw(self, ink: Ink) -> None:
        shot, found, side = self.breakdown.shot, self.found(), self.side()
        ink.text(18, 29, ink.squeezed(self.width() - 60, self._question(), "bench_question"), "bench_question")
        if shot is None or found is None or side is None:
            self._shots(ink)
            self.draw_empty(ink)
            return
        self._shots(ink)
        taken = taken_at(found, side.camera)
        side.draw(ink, taken.focus.number if taken and not self.lit else None, self.desk.chosen)
        if self.lit:
            self.light.draw(ink, found, side.floor)
            return
        self._verdict(ink, found, side.camera)
        self._ways(ink)
        self._holds(ink, side)
        self._notes(ink, side)
        self._beneath(ink, side)

    def _shots(self, ink: Ink) -> None:
        here = self.breakdown.shot
        for shot in self.breakdown.own_shots:
            spot = self.spots.find(f"shot:{shot.id}")
            if spot is None:
                break
            mine = here is not None and shot.id == here.id
            width = ink.text(spot.x() + 7, 29, shot.id, "label", "ink" if mine else "ink2", weight=600 if mine else 0)
            if mine:
                ink.rule(spot.x() + 7, 34, spot.x() + 7 + width, 34, "ink", 2)
            elif any(verdict_of(self.desk.plan.sets[shot.id], c.name) == "cannot" for c in shot.cameras):
                ink.rule(spot.x() + 7, 34, spot.x() + 7 + width, 34, "danger", 2)
        for name, lit in (("Light", True), ("Lens", False)):
            view = self.spots.find(f"view:{name}")
            if view:
                width = ink.text(view.x() + 7, 29, name, "label", "ink" if lit == self.lit else "ink2")
                if lit == self.lit:
                    ink.rule(view.x() + 7, 34, view.x() + 7 + width, 34, "ink", 2)
        for camera in here.cameras if here else ():
            spot = self.spots.find(f"camera:{camera.name}")
            if spot:
                mine = camera.name == self.taking.name
                ink.text(
                    spot.x() + 15,
                    29,
                    camera.name or "A",
                    "label",
                    "ink" if mine else "ink2",
                    "centre",
                    600 if mine else 0,
                )
                if mine:
                    ink.rule(spot.x() + 8, 34, spot.x() + 22, 34, "ink", 2)

    def _verdict(self, ink: Ink, found: SetPlan, camera: Camera) -> None:
        verdict, (x, worst_x, best_x), role = verdict_of(found, camera.name), self._columns(), self.role()
        if verdict is None:
            ink.text(x, 84, self._why_none(found, camera), "body", "danger")
            return
        if verdict != "holds":
            ink.tag(x, 66, "danger" if verdict == "cannot" else "mind")
        colour = {"holds": "reckon", "strained": "mind", "cannot": "danger"}[verdict]
        left = x if verdict == "holds" else x + 28
        ink.text(left, 86, ink.squeezed(worst_x - left - 12, WORDS[verdict], role, 600), role, colour, weight=600)
        worst, least = (found.find(spec, camera=camera.name) for spec in (specs.BLUR, specs.LEAST_BLUR))
        best = found.find(specs.BEST_STOP, camera=camera.name)
        if worst is None or least is None or best is None:
            return
        width = ink.number(worst_x, 86, self.desk.shown(worst), role, "reckon", equals=True)
        softest = self._softest(found, camera)
        room = best_x - worst_x - width - 24
        ink.text(
            worst_x + width + 12,
            66,
            ink.squeezed(room, f"the softest, {softest}" if softest else "at either end", "note"),
            "note",
        )
        spot = self.spots.find("decide:shop.sharp_px")
        if spot:
            allowed = self.desk.decision("shop.sharp_px")
            wide = ink.decided(spot.x() + 8, 86, self.desk.given(allowed.value, "pixels"), "label", begun=allowed.begun)
            ink.text(
                spot.x() + wide + 24, 86, ink.squeezed(max(10.0, best_x - spot.x() - wide - 30), "pass", "note"), "note"
            )
        width = ink.number(best_x, 86, self.desk.shown(least), role, "reckon", equals=True)
        ink.text(
            best_x + width + 12,
            66,
            ink.squeezed(self.width() - best_x - width - 20, "is the best of this lens,", "note"),
            "note",
        )
        ink.number(best_x + width + 12, 86, self.desk.shown(best), "label", "reckon", equals=True)

    def _why_none(self, found: SetPlan, camera: Camera) -> str:
        said = next((m for m in found.minds if m.subject.camera == camera.name and m.level == "danger"), None)
        if said:
            return self.taking.phrase(said.headline)
        return "Nothing must be sharp yet: put something before the lens, or type what it holds."

    def _softest(self, found: SetPlan, camera: Camera) -> str:
        held = [(f.number, p.name) for p in found.planes
                if p.place.held and (f := found.find(specs.PLANE_BLUR, use=p.name, camera=camera.name))]  # fmt: skip
        worst = found.find(specs.BLUR, camera=camera.name)
        name = max(held)[1] if held else ""
        return name if held and worst and math.isclose(max(held)[0], worst.number, rel_tol=0.01) else ""

    def _ways(self, ink: Ink) -> None:
        ways = self.shown_ways()
        if not ways:
            return
        more = len(self.ways()) - len(ways)
        ink.text(
            18,
            WAYS_Y,
            "Ways out, each at its own best stop" + (f", and {more} more" if more else ""),
            "label",
            weight=600,
        )
        allowed = self.desk.job.shop.sharp_px
        scale = BAR_W / max(BAR_PX, 2 * allowed)
        for value in (0.0, allowed):
            ink.text(BAR_X + 80 + value * scale, WAYS_Y, f"{value:g}", "tick", "ink2", "centre")
        for index, way in enumerate(ways):
            y = WAYS_Y + 22 + index * WAY_H
            room = BAR_X + 66 - 18
            width = ink.text(18, y, ink.squeezed(room, way.words, "label"), "label", "ink" if way.holds else "ink2")
            if room - width > 40:
                ink.text(18 + width + 8, y, ink.squeezed(room - width - 8, way.note, "note"), "note", "ink2")
            if way.blur is None:
                continue
            x, ends = BAR_X + 80, min(way.blur.number * scale, BAR_W)
            ink.box(x, y - 10, allowed * scale, 10, fill="reckon_t")
            ink.rules([(x, y - 10, x + allowed * scale, y - 10), (x, y, x + allowed * scale, y)], "reckon", 1.2)
            marks = [x + allowed * scale + 5 + i * 9 for i in range(round((BAR_W - allowed * scale) / 9))]
            ink.rules(
                [(m - 3, y - 8, m + 3, y - 2) for m in marks] + [(m - 3, y - 2, m + 3, y - 8) for m in marks],
                "danger",
                1.0,
            )
            ink.dot(x + ends, y - 5, 3)
            ink.number(x + BAR_W + 14, y, self.desk.shown(way.blur), "label", "reckon", equals=True)

    def _holds(self, ink: Ink, side: Side) -> None:
        """The decided values on the drawing: lens, stop, focus."""
        found, camera = side.found, side.camera
        optics, taken = optics_of(found.context, camera), taken_at(found, camera)
        for hold, area in self._places(side).items():
            x, y = area.x() + 8, area.y() + 24
            if hold == "focal":
                ink.plate(x - 2, y - 20, 62, 26)
                ink.decided(x, y, self.desk.given(optics.focal.number, "length"), "on_drawing")
            elif hold == "stop" and taken:
                ink.plate(x - 2, y - 20, 60, 26)
                self._taken(ink, x, y, taken.stop)
            elif hold == "focus" and taken:
                ink.plate(x - 2, y - 20, 76, 26)
                at = side.own_x + taken.focus.number * side.px
                ink.lozenge(min(at, side.area.right()), side.eye_y + (46 if y > side.eye_y else -46))
                self._taken(ink, x, y, taken.focus)

    def _taken(self, ink: Ink, x: float, y: float, value: Figure | Given) -> None:
        """A value that somebody decided, or that is left to the program: the lozenge is then hollow."""
        left = isinstance(value, Figure)
        shown = self.desk.shown(value) if isinstance(value, Figure) else self.desk.given(value.number, value.kind)
        ink.decided(x, y, shown, "on_drawing", begun=left)

    def _notes(self, ink: Ink, side: Side) -> None:
        """What is told beside: sharp air, angle of view, barrel, clearance."""
        found, camera = side.found, side.camera
        air = side.air()
        low, high = (found.find(spec, camera=camera.name) for spec in (specs.AIR_FROM, specs.AIR_TO))
        right = self.width() - 18.0
        y = WAYS_Y
        angle, across = (found.find(spec, camera=camera.name) for spec in (specs.ANGLE_HIGH, specs.ANGLE))
        lines: list[tuple[str, str]] = []
        if low and high:
            lines.append((f"= {self.desk.words(low)} to {self.desk.words(high)}", "is sharp") if air else
                         ("no air is quite sharp", "diffraction alone is more"))  # fmt: skip
            inside = any(s.held and air and air[0] <= s.at + camera.back_m and s.to <= air[1] for s in side.stops)
            if air and not inside:
                lines.append(("nothing stands in sharp air", ""))
        if angle and across:
            lines.append((f"= {self.desk.words(angle)}", f"high, {self.desk.words(across)} across"))
        barrel, clear = (found.find(spec, camera=camera.name) for spec in (specs.BARREL, specs.CLEARANCE))
        if barrel:
            lines.append((f"= {self.desk.words(barrel)}", "on the barrel"))
        if clear:
            lines.append((f"= {self.desk.words(clear)}", "free before the lens"))
        nearest = found.find(specs.NEAREST, camera=camera.name)
        if nearest:
            lines.append((f"= {self.desk.words(nearest)}", "is its nearest focus"))
        light = found.find(specs.LIGHT, camera=camera.name)
        if light:
            lines.append((f"= {self.desk.words(light)}", "on the set"))
        card = optics_of(found.context, camera).card
        body = found.context.body(camera)
        lines.append(("", ", ".join(part for part in (card.name if card else "", body.name if body else "") if part)))
        for value, words in lines[: 2 if self.low() else 8]:
            words = ink.squeezed(self.width() * 0.4, words, "note")
            x = right - (ink.width(words, "note") if words else 0)
            ink.plate(x - 8 - ink.width(value, "label"), y - 13, right - x + 8 + ink.width(value, "label"), 16)
            if words:
                ink.text(x, y, words, "note", "ink2")
            if value:
                ink.text(x - 6, y, value, "label", "reckon" if value.startswith("=") else "danger", "right")
            y += 18

    def _beneath(self, ink: Ink, side: Side) -> None:
        """Beneath the floor: name, distance, the dot ×8 in its ring, pixels."""
        big, allowed = (5.0 if self.low() else 8.0), self.desk.job.shop.sharp_px
        floor = side.floor
        if not self.low():
            ink.text(18, floor + 26, "one point becomes", "note")
            ink.paragraph(
                18, floor + 43, 120, f"true size on the axis, ×{big:g} here; the ring passes", "note", "ink2", 2
            )
        for index, area in self._waiting():
            words = ink.squeezed(area.width() - 8, f"where is {side.found.shot.needs[index].what}?", "note")
            width = ink.text(18, self.height() - 36, words, "note", "decide")
            ink.rule(18, self.height() - 32, 18 + width, self.height() - 32, "decide", 1, "hidden")
        width = ink.text(18, self.height() - 14, "+ put something there", "note", "decide")
        ink.rule(18, self.height() - 10, 18 + width, self.height() - 10, "decide", 1)
        labels = self.labels(side)
        for label in labels:
            stop, x = label.stop, label.area.center().x()
            if abs(x - side.x_of(stop.at)) > 3:
                ink.rules([(side.x_of(stop.at), floor + 5, x, floor + 12)], "line", 1.0)
            colour = "ink" if stop.held else "ink2"
            ink.text(x, floor + 25, ink.squeezed(label.area.width() - 4, stop.name, "note"), "note", colour, "centre")
            shown = show(stop.at, "length", self.desk.system, 3) if stop.looks else self.desk.given(stop.at, "length")
            if stop.looks and stop.key.startswith("place:"):
                ink.number(x, floor + 44, shown, "label", "reckon", "centre", equals=True)
            else:
                ink.decided(x, floor + 44, shown, "label", "centre")
            if stop.blur is None:
                continue
            self._dot(ink, x, floor + (66 if self.low() else 78), stop, big, allowed)
            ink.number(x, self.height() - 10, self.desk.shown(stop.blur), "label", "reckon", "centre", equals=True)
        hidden = len(side.stops) - len(labels)
        if hidden:
            ink.text(self.width() - 18, floor + 25, f"and {hidden} sharper", "note", "ink2", "right")

    def _dot(self, ink: Ink, x: float, y: float, stop: Stop, big: float, allowed: float) -> None:
        assert stop.blur is not None
        radius, ring = min(stop.blur.number * big / 2, 26.0), min(allowed * big / 2, 26.0)
        painter, theme = ink.painter, ink.theme
        if stop.blur.number > allowed and stop.held:
            disc = QPainterPath()
            disc.addEllipse(QPointF(x, y), radius, radius)
            painter.fillPath(disc, theme.colour("sheet"))
            ink.hatched(disc, "past", "danger")
            painter.setPen(ink.pen("danger", 1.6))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawEllipse(QPointF(x, y), radius, radius)
        painter.setPen(ink.pen("reckon", 1.4, "" if stop.held else "hidden"))
        painter.setBrush(theme.colour("reckon_t") if stop.held else Qt.BrushStyle.NoBrush)
        painter.drawEllipse(QPointF(x, y), min(radius, ring), min(radius, ring))
        if stop.blur.number <= allowed:
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(ink.pen("line", 1.0))
            painter.drawEllipse(QPointF(x, y), ring, ring)
