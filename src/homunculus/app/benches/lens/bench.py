"""Does focus hold? The set in side view; focus, stop, lens and what stands there pulled; and what would free it."""

from __future__ import annotations

import math
from functools import partial
from pathlib import Path

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.lens.card import CameraCard
from homunculus.app.benches.lens.labels import Label, spread
from homunculus.app.benches.lens.light import LightView
from homunculus.app.benches.lens.side import Side
from homunculus.app.benches.lens.told import (
    BAR_W,
    BAR_X,
    WAY_H,
    WAYS_Y,
    draw_dot,
    draw_holds,
    draw_notes,
    draw_ways,
    softest,
)
from homunculus.app.benches.set_bench import VIEWS, SetBench, View
from homunculus.app.desk import Desk
from homunculus.app.drawing.paper import HEIGHT, WIDTH
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.spot import Handle
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.places import PLACE_EXAMPLE
from homunculus.core.edits.sets import Hold
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Shot
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.ways_out import WayOut
from homunculus.core.planners.lens import optics_of, taken_at, verdict_of
from homunculus.core.showing import show

LOW = 540
"""Height under which less is told: one way out, smaller dots."""
WORDS = {"holds": "holds", "strained": "strained", "cannot": "cannot hold"}


class LensBench(SetBench):
    """The bench of station 3."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Lens bench")
        self.light = LightView(self, self.taking, self.hold_spot, self.role)
        self._held_side: Side | None = None
        """While something is pulled the drawing keeps its scale."""

    # ----------------------------------------------------------------------------------- reading
    @property
    def lit(self) -> bool:
        """Whether it shows the light instead of the focus."""
        return self.breakdown.lit

    def here(self) -> View:
        return VIEWS[1] if self.lit else VIEWS[0]

    def low(self) -> bool:
        """Whether there is little height."""
        return self.height() < LOW

    def side(self) -> Side | None:
        """How the set lies on the drawing."""
        if (drawn := self.taking.drawn()) is None:
            return None
        found, camera, _ = drawn
        told = 0 if self.lit else len(self.shown_ways())
        top = max(WAYS_Y + 24 if self.low() else 176.0, WAYS_Y + 14 + told * WAY_H) + (128 if self.lit else 0)
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
        shot, side = self.breakdown.shot, self.side()
        if shot is None:
            self.first_shot("frame")
            return
        self.arrange_top(self._question())
        if side is None:
            self.empty_spot(
                "frame", "its camera", "a lens, and what must be sharp: 35 mm, 24 m to 84 m", self.taking.begin
            )
            return
        found = side.found
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

    def _verdict_spots(self, found: SetPlan, camera: Camera) -> None:
        for figure, area in self._figures(found, camera):
            self.figure_spot(figure, area)
        x = self._columns()[1] + self._number_width(found, camera, specs.BLUR) + 8
        self.decide_spot("shop.sharp_px", QRectF(x - 8, 68, 70, 26))

    def _columns(self) -> tuple[float, float, float]:
        """Where verdict, worst blur and best blur stand."""
        return (18.0, self.width() * 0.305, self.width() * 0.62)

    def _number_width(self, found: SetPlan, camera: Camera, spec: FigureSpec) -> float:
        figure = found.find(spec, camera=camera.name)
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
        lens = str(self.desk.given(optics.focal.number, "focal_length"))
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
        called, stands = self.taking.called(hold), self.taking.words(hold)
        self.type_over(called, f"hold:{hold}", stands, lambda words: self.taking.type(hold, words), key=first)

    def _waiting(self) -> list[tuple[int, QRectF]]:
        """What of the shot stands nowhere yet, by its number, the first of it with where it is told."""
        found = self.found()
        waits = [i for i, need in enumerate(found.shot.needs) if need.place is None] if found else []
        return [(waits[0], QRectF(12, self.height() - 54, 150, 24))] if waits else []

    def put_down(self, need: int) -> None:
        """Type where something stands that stands nowhere yet."""
        shot = self.breakdown.shot
        if shot:
            what = f"where {shot.needs[need].what} stands"
            self.type_over(what, f"waiting:{need}", "stands ", partial(self.taking.put_down, need), "add", hint=f"{PLACE_EXAMPLE}.")  # fmt: skip

    def add(self) -> None:
        """Type something more that stands there, as needs are typed."""
        shot = self.breakdown.shot
        if shot:
            hint = "What it is, a colon, what covers it, and where: iron rail: stock: rail, stands 0.6 m."
            self.type_over("what else stands there", "add", "", lambda words: self.breakdown.add_need(shot, words), hint=hint)  # fmt: skip

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
        self.pages.ask(self, "camera card", "camera", shot, self.write_pdf)

    def write_pdf(self, path: Path, shots: tuple[Shot, ...]) -> None:
        """Write the cards of all cameras of ``shots`` as PDF, a page each."""
        cards = [
            CameraCard(self.desk, self.desk.plan.sets[shot.id], camera) for shot in shots for camera in shot.cameras
        ]
        self.pages.write(path, [partial(card.draw, width=WIDTH, height=HEIGHT) for card in cards])

    def keyPressEvent(self, event: QKeyEvent) -> None:
        hold = self.hold_at_hand()
        match event.key():
            case Qt.Key.Key_X if hold:
                self.taking.soften(hold)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if hold:
                self.taking.let_be(hold)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if self._light_at_hand():
                self.light.take_away(self._light_at_hand())
            case Qt.Key.Key_O:
                self.taking.next_body()
            case _:
                super().keyPressEvent(event)

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
            shot = self.breakdown.shot
            found += [Can("The set is right as it is", "", self.taking.settle)] if shot and shot.disagreed else []
            found += [Can(words, "O", act) for words, act in self.taking.bodies()]
        return found

    # ----------------------------------------------------------------------------------- drawing
    def _question(self) -> str:
        shot = self.breakdown.shot
        if self.lit:
            return f"What light does shot {shot.id} take?" if shot else "What light does it take?"
        return f"Does focus hold in shot {shot.id}?" if shot else "Does focus hold?"

    def draw(self, ink: Ink) -> None:
        side = self.side()
        self.draw_top(ink, self._question())
        if side is None:
            self.draw_empty(ink)
            return
        found = side.found
        taken = taken_at(found, side.camera)
        side.draw(ink, taken.focus.number if taken and not self.lit else None, self.desk.chosen)
        if self.lit:
            self.light.draw(ink, found, side.floor)
            return
        self._verdict(ink, found, side.camera)
        ways = self.shown_ways()
        if ways:  # they stay while something is pulled
            area = QRectF(12, WAYS_Y - 16, BAR_X + BAR_W + 180, 20 + len(ways) * WAY_H)
            more = len(self.ways()) - len(ways)
            self.kept(
                ink,
                "ways",
                (ways, more, self.desk.job.shop.sharp_px),
                area,
                lambda on: draw_ways(self.desk, on, ways, more),
            )
        draw_holds(self.desk, ink, side, self._places(side))
        draw_notes(self.desk, ink, side, self.width(), low=self.low())
        self._beneath(ink, side)

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
        whose = softest(found, camera)
        room = best_x - worst_x - width - 24
        ink.text(
            worst_x + width + 12,
            66,
            ink.squeezed(room, f"the softest, {whose}" if whose else "at either end", "note"),
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
        said = found.refusal(camera.name)
        if said:
            return self.taking.phrase(said.headline)
        return "Nothing must be sharp yet: put something before the lens, or type what it holds."

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
            draw_dot(ink, x, floor + (66 if self.low() else 78), stop, big, allowed)
            ink.number(x, self.height() - 10, self.desk.shown(stop.blur), "label", "reckon", "centre", equals=True)
        hidden = len(side.stops) - len(labels)
        if hidden:
            ink.text(self.width() - 18, floor + 25, f"and {hidden} sharper", "note", "ink2", "right")
