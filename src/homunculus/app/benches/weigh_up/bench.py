"""The weigh-up: read from two metres, with wet gloves. Space, or a pedal that sends it, does every step."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt, QTimer, Signal
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.benches.base import drawn_pour
from homunculus.app.benches.mix.drawn import drawn_recipe
from homunculus.app.benches.weigh_up.weigher import PRACTICE, Weigher
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.vessels import Flask, ring
from homunculus.app.theme.glyphs import state_glyph
from homunculus.app.theme.ink import Ink
from homunculus.core.figures import STATIONS
from homunculus.core.job.cards import MaterialCard
from homunculus.core.making.mixing import pot_life_shares
from homunculus.core.making.weighing import Recipe, inward
from homunculus.core.plan.status import station_states
from homunculus.core.showing import Shown, show, show_at_the_scale, show_clock, show_countdown
from homunculus.core.why import phrase

STRIP = 58.0
STEP = 124.0
LEAST = (1180.0, 660.0)
"""Width and height that the drawing needs; in a smaller window all of it is drawn smaller, so that nothing is left out."""
WARN_S = 300.0
FAST, SLOW = 40, 3
"""Grams a second that the practice scale is poured."""


class WeighUp(Place):
    """Covers all but the clock while something is weighed."""

    ground = "sheet"
    left = Signal()

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Weigh-up")
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.weigher: Weigher | None = None
        self._warned = 0
        desk.said.connect(self._hear)
        self._tick = QTimer(self, interval=500)
        self._tick.timeout.connect(self._pass_time)
        self.hide()

    # ------------------------------------------------------------------------- opening and leaving
    def enter(self) -> None:
        """Weigh up what the Mix bench draws."""
        recipe, pour = drawn_recipe(self.desk), drawn_pour(self.desk)
        if recipe and pour:
            self.open(recipe, pour.card)
        else:
            self.desk.said.emit("There is nothing to weigh: nothing of this build is mixed of parts, or not in time.")

    def open(self, recipe: Recipe, card: MaterialCard, device: str = "") -> None:
        """Begin, or go on with, the weighing of a recipe."""
        self.weigher = Weigher(self.desk, recipe, card)
        self.weigher.changed.connect(self.refresh)
        self.weigher.ended.connect(self.close_up)
        self.weigher.connect_scale(device)
        self.show()
        self.raise_()
        self.setFocus()
        self._tick.start()

    def close_up(self) -> None:
        """Leave; every weight is in the log, and the weighing goes on from there."""
        self._tick.stop()
        if self.weigher:
            weigher, self.weigher = self.weigher, None
            weigher.close()
            weigher.deleteLater()
        self.hide()
        self.left.emit()

    def _hear(self, words: str) -> None:
        """What is said while the notice lies hidden beneath: shown here, unless it only tells that a weight was kept."""
        if self.weigher and not words.startswith("Logged at"):
            self.weigher.note = words
            self.refresh()

    def _pass_time(self) -> None:
        weigher = self.weigher
        if weigher and weigher.at.met and 0 < weigher.at.left_s < WARN_S and self._warned != weigher.at.weighing.batch:
            self._warned = weigher.at.weighing.batch
            QApplication.beep()  # the one sound: five minutes to gel
        self.refresh()

    # -------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        weigher, key = self.weigher, event.key()
        if weigher is None:
            event.ignore()
        elif key == Qt.Key.Key_Space and not event.isAutoRepeat():
            weigher.go_on()
        elif key == Qt.Key.Key_Escape:
            self.close_up()
        elif key == Qt.Key.Key_Backspace:
            weigher.take_back()
        elif event.text() and event.text() in "0123456789.,":
            self.type_weight(event.text())
        elif key == Qt.Key.Key_L:
            self._type_lot()
        elif key == Qt.Key.Key_C:
            self._type_device()
        elif key in (Qt.Key.Key_Down, Qt.Key.Key_Right) and weigher.practising:
            if not event.isAutoRepeat():
                weigher.order(f"pour {FAST if key == Qt.Key.Key_Down else SLOW}")
        elif key in (Qt.Key.Key_T, Qt.Key.Key_I):
            event.ignore()  # colours and units are the window's

    def keyReleaseEvent(self, event: QKeyEvent) -> None:
        if self.weigher and event.key() in (Qt.Key.Key_Down, Qt.Key.Key_Right) and not event.isAutoRepeat():
            self.weigher.order("stop")

    def type_weight(self, first: str = "") -> None:
        """Type the weight that a dial shows."""
        if self.weigher and self.weigher.at.phase in ("cup", "part"):
            self._ask("the weight on the dial", "", self.weigher.type_weight, first)

    def _type_lot(self) -> None:
        weigher = self.weigher
        index = weigher.at.weighing.next_part if weigher else None
        if weigher is None or index is None:
            return
        part = weigher.at.recipe.parts[index].name

        def accept(words: str) -> bool:
            weigher.name_lot(part, words.strip())
            return True

        self._ask(f"lot of {part}", weigher.at.lots.get(part, ""), accept)

    def _type_device(self) -> None:
        weigher = self.weigher
        if weigher is None:
            return

        def accept(words: str) -> bool:
            weigher.connect_scale(words.strip() or PRACTICE)
            return True

        self._ask("the scale's device, or “practice”", weigher.device, accept)

    def _ask(self, name: str, stands: str, accept: Callable[[str], bool], key: str = "") -> None:
        area = self._shown(QRectF(self._middle_x(), 320, 300, 44))
        self.type_over(name, area, stands, accept, self, key, role="on_drawing", least=320, words=True)

    # ---------------------------------------------------------------------------------- geometry
    def _zoom(self) -> float:
        """How much smaller than designed all is drawn."""
        return min(1.0, self.width() / LEAST[0], self.height() / LEAST[1])

    def _across(self) -> float:
        return self.width() / self._zoom()

    def _down(self) -> float:
        return self.height() / self._zoom()

    def _shown(self, area: QRectF) -> QRectF:
        """Where an area of the drawing lies in the window."""
        k = self._zoom()
        return QRectF(area.x() * k, area.y() * k, area.width() * k, area.height() * k)

    def _middle_x(self) -> float:
        return self._count() * 224.0 + 64

    def _count(self) -> int:
        return min(2, len(self.weigher.at.recipe.parts)) if self.weigher else 2

    def _ring_x(self) -> float:
        return self._across() - 322.0

    def arrange(self) -> None:
        weigher = self.weigher
        if weigher is None:
            return
        self.spots.place("next", self._shown(QRectF(0, self._down() - STEP, self._across(), STEP)),
                         f"Space: {self._next_words(weigher)}. {self._why_words(weigher)}", weigher.go_on)  # fmt: skip
        reading = self._reading(weigher)
        said = f"{self._part_name(weigher)} on the scale: {reading}" + (
            f". {weigher.at.pan.quiet}" if weigher.at.pan.quiet else ""
        )
        self.spots.place("reading", self._shown(QRectF(self._middle_x() - 12, 80, self._ring_x() - self._middle_x(), 260)), said,
                         self.type_weight, "Enter types a weight")  # fmt: skip

    # ------------------------------------------------------------------------------------- words
    def _mass(self, weigher: Weigher, kg: float) -> Shown:
        """A weight as the scale resolves it."""
        return show_at_the_scale(kg, weigher.at.pan.step_kg, self.desk.system)

    def _part_name(self, weigher: Weigher) -> str:
        index = weigher.at.weighing.next_part
        return weigher.at.recipe.parts[index].name if index is not None else "The mix"

    def _reading(self, weigher: Weigher) -> str:
        if weigher.at.pan.beyond:
            return "more than the scale bears"
        return str(self._mass(weigher, weigher.at.pan.kg)) if weigher.at.pan.heard else "–"

    def _next_words(self, weigher: Weigher) -> str:
        weighing, index = weigher.at.weighing, weigher.at.weighing.next_part
        if weigher.at.phase == "cup":
            return f"Put the cup for batch {weighing.batch} on the scale"
        if weigher.at.phase == "part" and index is not None:
            target = self._mass(weigher, weighing.targets[index])
            name = weigher.at.recipe.parts[index].name
            last = index == len(weigher.at.recipe.parts) - 1 or weighing.held(index) > 0
            stir = (
                f", then stir for {self.desk.given(weigher.at.stir_s, 'duration')}"
                if last and weigher.at.stir_s
                else ""
            )
            verb = f"Top {name} up to" if weighing.held(index) else f"Pour {name} to"
            return f"{verb} {target}{stir}"
        return (
            f"Stir for {self.desk.given(weigher.at.stir_s, 'duration')}, then pour"
            if weigher.at.stir_s
            else "Stir, then pour"
        )

    def _why_words(self, weigher: Weigher) -> str:
        if weigher.note:
            return weigher.note
        if weigher.at.pan.quiet:
            at = f" It last read {self._mass(weigher, weigher.at.pan.kg)}." if weigher.at.pan.heard else ""
            return weigher.at.pan.quiet + at
        if weigher.at.did:
            return phrase(weigher.at.did, self.desk.system, self.desk.job.shop.currency)
        if weigher.at.phase == "cup":
            cautions = self.desk.job.cards.cautions(weigher.at.card, "weigh")
            turn = weigher.at.weighing.batch - 1  # one fits: each cup brings the next of them
            return cautions[turn % len(cautions)] if cautions else "It is set to nought by itself."
        if weigher.at.phase == "stir":
            return "Space when it is in the mould."
        return "Poured over? Go on: the rest is reckoned anew."

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        weigher = self.weigher
        if weigher is None:
            return
        ink.painter.save()
        ink.painter.scale(self._zoom(), self._zoom())
        self._strip(ink, weigher)
        foot = self._down() - STEP
        self._flasks(ink, weigher, foot)
        self._live(ink, weigher, foot)
        self._pot_life(ink, weigher, foot)
        for x in (self._middle_x() - 26, self._ring_x()):
            ink.rule(x, 84, x, foot - 18, "hair", 1.5)
        self._next(ink, weigher, foot)
        ink.painter.restore()

    def _strip(self, ink: Ink, weigher: Weigher) -> None:
        ink.box(0, 0, self._across(), STRIP, fill="film")
        ink.rule(0, STRIP, self._across(), STRIP, "ink2", 1.5)
        x = 24.0
        build = self.desk.job.build(weigher.at.recipe.build)
        x += ink.text(x, 39, ink.squeezed(260, build.name, "reason_2m", 600), "reason_2m", weight=600) + 14
        right = self._across() - 80.0 - 6 * 62
        uncovered = len(self.desk.plan.coverage.uncovered)
        room = right - x - (350 if uncovered else 190)
        x += (
            ink.text(x, 39, ink.squeezed(min(300.0, room), weigher.at.recipe.name, "least_2m"), "least_2m", "ink2") + 34
        )
        x += ink.text(x, 39, "batch ", "least_2m", "ink2")
        done = min(weigher.at.weighing.batch, weigher.at.recipe.batches)
        ink.text(x, 39, f"{done} of {weigher.at.recipe.batches}", "reason_2m", weight=600)
        states = station_states(self.desk.plan.build(build.id), self.desk.status)
        if uncovered:
            ink.tag(right - 160, 24, "danger")
            ink.text(right - 136, 37, f"{uncovered} uncovered", "least_2m", "danger")
        for i, station in enumerate(STATIONS):
            here = station == "mix"
            ink.rule(
                right + i * 62 + 18,
                29,
                right + (i + 1) * 62 - 6,
                29,
                "ink",
                1.6,
                "" if states[station] != "none" else "planned",
            )
            if here:
                ink.text(right + i * 62 + 7, 50, "Mix", "least_2m", "ink", "centre", 600)
            state_glyph(ink, right + i * 62, 14 if here else 21, "wet" if here else states[station])

    def _flasks(self, ink: Ink, weigher: Weigher, foot: float) -> None:
        weighing, parts = weigher.at.weighing, weigher.at.recipe.parts
        due = weighing.next_part
        first = max(0, min((due if due is not None else len(parts)) - 1, len(parts) - self._count()))
        for place, index in enumerate(range(first, first + self._count())):
            x = 40 + place * 224.0
            held, target = weighing.held(index), weighing.targets[index]
            live = held + (
                weigher.at.pan.kg if index == due and weigher.at.phase == "part" and not weigher.at.pan.zeroing else 0.0
            )
            words = "pouring" if index == due and weigher.at.phase == "part" else "weighed in" if held else "to come"
            name = parts[index].name
            if len(name) < 8:
                width = ink.text(x, 112, name, "to_go", ratio=0.55)
            else:
                width = ink.text(x, 112, ink.squeezed(110, name, "reason_2m", 600), "reason_2m", weight=600)
            ink.text(x + width + 10, 112, words, "least_2m", "ink2")
            over = weighing.over(index)
            flask = Flask(QRectF(x, 126, 176, foot - 126 - 18))
            asked = target if index == due or not over else target - over
            flask.draw(ink, live / asked if asked else 0.0, past=live > asked * 1.001)
            lot = weigher.at.lots.get(name, "")
            if lot:
                shown = ink.squeezed(150, f"lot {lot}", "least_2m")
                ink.plate(x + 14, foot - 52, ink.width(shown, "least_2m"), 22)
                ink.text(x + 14, foot - 35, shown, "least_2m", "ink")
            label = x + 176 - flask.side + 8
            if held and index != due:
                ink.text(
                    label,
                    flask.level(live / asked) + 4,
                    self._mass(weigher, held).number,
                    "reason_2m",
                    "ink",
                    weight=600,
                )
                if over > weigher.at.pan.step_kg:
                    ink.text(label, flask.mark + 26, self._mass(weigher, asked).number, "least_2m", "ink2")
                    self._over_tag(ink, weigher, QRectF(x + 12, foot - 122, 152, 56), over)
            else:
                ink.rule(x + flask.side - 6, flask.mark, x + 176 - flask.side + 6, flask.mark, "reckon", 3)
                ink.text(label, flask.mark + 8, self._mass(weigher, target).number, "reason_2m", "reckon", weight=600)
                plain = weighing.asked(index)
                if abs(plain - target) > weigher.at.pan.step_kg:
                    ink.text(label, flask.mark + 36, f"was {self._mass(weigher, plain).number}", "least_2m", "ink2")

    def _over_tag(self, ink: Ink, weigher: Weigher, area: QRectF, over: float) -> None:
        ink.box(area.x(), area.y(), area.width(), area.height(), fill="sheet")
        ink.tag(area.x() + 8, area.center().y() - 6, "mind")
        shown = self._mass(weigher, over)
        width = ink.text(area.x() + 34, area.center().y() + 9, shown.number, "reason_2m", "ink", weight=600)
        ink.text(area.x() + 38 + width, area.center().y() + 9, f"{shown.unit} over", "least_2m", "ink")

    def _live(self, ink: Ink, weigher: Weigher, foot: float) -> None:
        x, room = self._middle_x(), self._ring_x() - self._middle_x() - 20
        weighing, pan, index = weigher.at.weighing, weigher.at.pan, weigher.at.weighing.next_part
        ink.text(x, 112, f"{self._part_name(weigher)} on the scale", "least_2m", "ink2", ratio=1.2)
        if pan.beyond:
            ink.text(x, 230, "Too much for this scale", "next_step", "danger")
        shown = self._mass(weigher, pan.kg) if pan.heard else Shown("–", "")
        ratio = ink.fitted(room, Shown(shown.number, ""), "reading_2m")
        ratio = min(ratio, (room - 40) / max(1.0, ink.width(shown.number, "reading_2m")))
        if not pan.beyond:
            width = ink.text(x - 4, 322, shown.number, "reading_2m", "ink2" if pan.quiet else "ink", ratio=ratio)
            ink.text(x + width + 4, 322, shown.unit, "next_step", "ink2")
        if index is None or weigher.at.phase != "part":
            return
        target, held = weighing.targets[index], weighing.held(index)
        rest = target - held - (0.0 if pan.zeroing else pan.kg)
        if pan.zeroing:
            ink.text(x, 412, "setting to nought", "next_step", "ink2")
        elif rest > 0:
            to_go = self._mass(weigher, rest)
            width = ink.text(x, 418, "= ", "to_go", "reckon") + ink.width(to_go.number, "to_go")
            ink.text(x + ink.width("= ", "to_go"), 418, to_go.number, "to_go", "reckon")
            width += ink.text(x + width + 8, 418, to_go.unit, "next_step", "reckon", ratio=0.8)
            ink.text(x + width + 22, 418, "to go", "next_step", "ink2", ratio=0.8)
        else:
            more = self._mass(weigher, -rest)
            width = ink.text(x, 418, more.number, "to_go", "mind")
            ink.text(x + width + 10, 418, f"{more.unit} over", "next_step", "mind", ratio=0.8)
        low, high = (max(0.0, v - held) for v in weighing.band(index))
        self._bar(ink, weigher, QRectF(x, 462, room - 10, 30), (low, target - held, high))

    def _bar(self, ink: Ink, weigher: Weigher, area: QRectF, marks: tuple[float, float, float]) -> None:
        low, target, high = marks
        full = max(high, 1e-9)
        share = min(1.0, max(0.0, weigher.at.pan.kg / full)) if not weigher.at.pan.zeroing else 0.0
        level = QRectF(area.x(), area.y(), area.width() * share, area.height())
        ink.box(level.x(), level.y(), level.width(), level.height(), fill="rubber")
        ink.hatched(level, "wet", "reckon")
        ink.box(area.x(), area.y(), area.width(), area.height(), edge="ink", width=2)
        for i in range(1, 10):
            ink.rule(
                area.x() + area.width() * i / 10,
                area.bottom(),
                area.x() + area.width() * i / 10,
                area.bottom() + 8,
                "ink",
                1.2,
            )
        left, right = area.x() + area.width() * low / full, area.right()
        for x in (left, right):
            ink.rule(x, area.top() - 8, x, area.top() - 1, "ink", 2)
        wanted = area.x() + area.width() * target / full
        ink.rule(wanted, area.top(), wanted, area.bottom(), "reckon", 2.5)
        ink.rule(left, area.top() - 8, right, area.top() - 8, "ink", 2)
        step = weigher.at.pan.step_kg
        good = [self._mass(weigher, v) for v in inward(low, high, step)]
        ink.text(
            area.center().x(),
            area.bottom() + 34,
            f"good from {good[0].number} to {good[1]}",
            "least_2m",
            "ink2",
            "centre",
        )

    def _pot_life(self, ink: Ink, weigher: Weigher, foot: float) -> None:
        life = weigher.at.pot_life_s
        middle = QPointF(self._ring_x() + 161, min(300.0, foot - 190))
        air = show(self.desk.status.air_c, "temperature", self.desk.system)
        ink.text(middle.x(), 112, f"bench {air}", "reason_2m", "ink", "centre", weight=600)
        if not life:
            ink.text(middle.x(), middle.y(), "no pot life on the card", "least_2m", "ink2", "centre")
            return
        shares = pot_life_shares(life=life, gone=weigher.at.gone_s, hands=min(weigher.at.hands_s, max(0.0, weigher.at.left_s)),
                                 margin=self.desk.job.shop.mixing.margin)  # fmt: skip
        parts = [(shares.gone, "", "hair", ""), (shares.pour, "wet", "rubber", "pour"), (shares.spare, "", "film", ""),
                 (shares.kept, "curing", "mind_t", "gel")]  # fmt: skip
        ring(ink, middle, 132, [p for p in parts if p[0] > 0], shares.gone, "least_2m")
        left = max(0.0, weigher.at.left_s)
        ink.text(middle.x(), middle.y() - 42, "pot life", "least_2m", "ink2", "centre")
        clock = show_countdown(left)
        ink.text(
            middle.x(),
            middle.y() + 22,
            clock,
            "ring",
            "danger" if weigher.at.left_s <= 0 else "ink",
            "centre",
            ratio=0.9,
        )
        gels = weigher.at.gels()
        if gels:
            ink.text(
                middle.x(),
                middle.y() + 54,
                f"batch {gels[0][0]} gels {show_clock(gels[0][1])}",
                "least_2m",
                "ink2",
                "centre",
            )
        elif weigher.at.met is None:
            ink.text(middle.x(), middle.y() + 54, "from when they meet", "least_2m", "ink2", "centre")
        spare = weigher.at.spare_s
        sign = "to spare" if spare >= 0 else "too late"
        size = abs(spare)
        ink.text(middle.x(), middle.y() + 186, f"{int(size // 60)}:{int(size % 60):02d} {sign}", "marker", "ink" if spare >= 0 else "danger",
                 "centre", ratio=0.9)  # fmt: skip
        if weigher.at.card.pot_life_s:
            book, at = (
                weigher.at.card.pot_life_s.value,
                show(weigher.at.card.reference_c, "temperature", self.desk.system),
            )
            words = f"book {_clock(book)} at {at}, {_clock(life)} here"
            ink.text(middle.x(), middle.y() + 216, words, "least_2m", "ink2", "centre")

    def _next(self, ink: Ink, weigher: Weigher, foot: float) -> None:
        ink.box(0, foot, self._across(), STEP, fill="film")
        ink.rule(0, foot, self._across(), foot, "ink2", 2)
        painter = ink.painter
        ink.rule(28, foot + 42, 66, foot + 42, "ink", 5)
        painter.setPen(ink.pen("ink", 5))
        painter.drawPolyline([QPointF(56, foot + 31), QPointF(70, foot + 42), QPointF(56, foot + 53)])
        words = self._next_words(weigher)
        room = self._across() - 92 - 270
        ratio = min(1.0, room / max(1.0, ink.width(words, "next_step")))
        ink.text(92, foot + 60, words, "next_step", ratio=ratio)
        reason = ink.wrapped(room, self._why_words(weigher), "least_2m")
        colour = "danger" if weigher.at.pan.quiet else "ink2"
        for i, line in enumerate(reason[:2]):
            ink.text(92, foot + (90 if len(reason) > 1 else 98) + 24 * i, line, "least_2m", colour)
        right = self._across() - 28.0
        if weigher.at.phase == "part":
            ink.text(right, foot + 40, "takes the weight itself", "least_2m", "ink2", "right")
            ink.text(right, foot + 64, "after 2 s steady", "least_2m", "ink2", "right")
        else:
            ink.text(right, foot + 40, "Space goes on", "least_2m", "ink2", "right")
        if len(reason) < 2:
            ink.text(92, foot + 119, "L lot  ·  C scale  ·  digits: a dial's weight  ·  Backspace takes back  ·  Esc leaves",
                     "least_2m", "line")  # fmt: skip
        if weigher.practising:
            ink.text(right, foot + 104, "practice scale: hold Down or Right", "least_2m", "ink2", "right")


def _clock(seconds: float) -> str:
    return show_countdown(seconds)
