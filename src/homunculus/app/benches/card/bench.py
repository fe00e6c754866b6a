"""Does the camera stand as the plate asks, and has a stand moved? The plate's values beside ours, and stands from two fixed nails."""

from __future__ import annotations

from collections.abc import Callable
from datetime import datetime
from functools import partial
from pathlib import Path

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.card.match import ROW, ROWS, SHARES, MatchRow, draw_match, match_rows
from homunculus.app.benches.card.nails import draw_nails
from homunculus.app.benches.set_bench import VIEWS, SetBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.paper import HEIGHT, WIDTH
from homunculus.app.drawing.place import Can
from homunculus.app.files import ask_to_write
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.shots import read_cell
from homunculus.core.cells.stands import EXAMPLE, FOUND_EXAMPLE, parse_found, parse_stand, show_stand
from homunculus.core.edits.sets import put_shot
from homunculus.core.edits.stage import as_the_plate, with_reading, with_stand, without_stand
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure
from homunculus.core.floor.cue_list import card_table
from homunculus.core.floor.stands import from_nails
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Found, MeasuringCard, Stand
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.quantities import parse
from homunculus.core.why import phrase
from homunculus.exchange.formats import offered_to_write, writer

STAND = 40.0
TOP = 84.0
CELLS = {
    "sensor": "plate_sensor",
    "focal length": "plate_focal",
    "height": "plate_height",
    "distance": "plate_distance",
    "tilt": "plate_tilt",
    "roll": "plate_roll",
}
SPLIT = 0.56


class CardBench(SetBench):
    """The measuring card of a shot."""

    view = VIEWS[3]
    least_height = 540

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Measuring card")

    # ----------------------------------------------------------------------------------- reading
    def rows(self, stage: StagePlan) -> list[MatchRow]:
        """The plate's values beside ours."""
        return match_rows(self.desk, stage)

    def card(self) -> MeasuringCard:
        """The card, or an empty one."""
        shot = self.breakdown.shot
        return (shot.card if shot else None) or MeasuringCard()

    def content(self) -> object:
        return (self.found(), self.stage(), self.taking.name, self.first, self.breakdown.own_shots)

    # ----------------------------------------------------------------------------------- places
    def _row_area(self, index: int) -> QRectF:
        return QRectF(18, TOP + 12 + index * ROW, self.width() - 36, ROW)

    def _stands_top(self) -> float:
        return TOP + 12 + ROWS * ROW + 62

    def shown_stands(self) -> list[tuple[Stand, QRectF]]:
        """The stands in sight, with their lines."""
        top, card = self._stands_top() + 10, self.card()
        room = max(1, int((self.height() - 48 - top) // STAND))
        self.first = max(0, min(self.first, len(card.stands) - room))
        wide = self.width() * SPLIT - 30
        return [
            (stand, QRectF(18, top + i * STAND, wide, STAND))
            for i, stand in enumerate(card.stands[self.first : self.first + room])
        ]

    # ------------------------------------------------------------------------------------- spots
    def question(self) -> str:
        """What it answers."""
        shot = self.breakdown.shot
        return f"Does shot {shot.id} stand as measured?" if shot else "Does it stand as measured?"

    def arrange(self) -> None:
        stage = self.arrange_stage(self.question())
        if stage is None:
            return
        for index, row in enumerate(self.rows(stage)):
            area = self._row_area(index)
            x = [area.left() + share * area.width() for share in SHARES]
            said = f"{row.what} of the plate: {row.plate or 'nobody wrote it down'}; Enter types it"
            self.spots.place(
                f"plate:{row.what}", QRectF(x[1] - 90, area.top(), 100, ROW), said, partial(self.type_plate, row.what)
            )
            for figure, at in ((row.asked, x[2]), (row.off, x[4]), (row.shows, x[5])):
                if isinstance(figure, Figure):
                    self.figure_spot(figure, QRectF(at - 84, area.top() + 4, 88, ROW - 8))
        y = TOP + 12 + ROWS * ROW + 4
        self.spots.place("as-asked", QRectF(14, y, 220, 32), "set the camera as the plate asks", self.as_asked)
        card = self.card()
        self.spots.place(
            "within",
            QRectF(self.width() - 230, y, 216, 32),
            f"a stand may be off by {self.desk.given(card.within_m, 'length')}; nails {self.desk.given(card.nails_m, 'length')} apart",
            self.type_nails,
        )
        for stand, area in self.shown_stands():
            off = stage.find(specs.STAND_OFF, use=stand.name)
            said = f"{show_stand(stand, self.desk.system)}" + (f", was found {self.desk.words(off)} off" if off else "")
            self.spots.place(
                f"stand:{stand.name}",
                QRectF(area.left() - 4, area.top(), area.width() * 0.62, STAND),
                said,
                partial(self.type_stand, stand.name),
            )
            self.spots.place(
                f"found:{stand.name}",
                QRectF(area.left() + area.width() * 0.62, area.top(), area.width() * 0.38, STAND),
                f"{stand.name} as found: type both distances",
                partial(self.type_found, stand.name),
            )
        foot = self.height() - 34
        self.spots.place("add-stand", QRectF(14, foot, 120, 32), f"one more stand: {EXAMPLE}", self.add_stand)
        self.spots.place("write", QRectF(150, foot, 160, 32), "write the measuring card, PDF or CSV", self.choose_card)

    # --------------------------------------------------------------------------------------- acts
    def _put(self, what: str, make: Callable[[Shot], Shot]) -> bool:
        """Change the shot that is drawn; false without one, and where nothing changes."""
        shot = self.breakdown.shot
        return shot is not None and self.desk.edit(f"{what}, shot {shot.id}", put_shot(self.desk.job, make(shot)))

    def _put_card(self, what: str, card: MeasuringCard) -> bool:
        return self._put(what, lambda shot: replace(shot, card=card))

    def type_plate(self, what: str) -> None:
        """Type a value of the plate, as its column of the list of shots reads it; nothing takes it away."""
        row = next((r for r in self.rows(stage) if r.what == what), None) if (stage := self.stage()) else None
        if row:
            self.type_over(
                f"{what} of the plate", f"plate:{what}", str(row.plate or ""), partial(self._take_plate, what)
            )

    def _take_plate(self, what: str, words: str) -> bool:
        job, system = self.desk.job, self.desk.system
        return self._put(f"{what} of the plate", lambda shot: read_cell(job, shot, CELLS[what], words, system))

    def as_asked(self) -> None:
        """Set the camera, and where the main build stands, as the plate asks."""
        stage = self.stage()
        if stage is None:
            self.desk.said.emit("A plate asks something of a shot's camera, and there is none yet.")
            return
        asked: dict[str, float] = {}
        for row in self.rows(stage):
            if isinstance(row.asked, Figure):
                asked[row.what] = row.asked.number
        plate = stage.found.shot.plate
        asked |= {"tilt": plate.tilt_deg} if plate and plate.tilt_deg is not None else {}
        asked |= {"roll": plate.roll_deg} if plate and plate.roll_deg is not None else {}
        if not asked:
            self.desk.said.emit(
                "The plate says nothing yet. Type its values: focal length, height, distance, tilt, roll."
            )
        elif self._put("as the plate asks", lambda _: as_the_plate(stage, asked)):
            self.desk.said.emit("The camera stands as the plate asks. U goes back.")

    def type_nails(self) -> None:
        """Type how far apart the nails are, and how far off a stand may be."""
        card = self.card()
        words = f"{self.desk.given(card.nails_m, 'length')} apart, within {self.desk.given(card.within_m, 'length')}"
        self.type_over("nails and tolerance", "within", words, self._take_nails)

    def _take_nails(self, words: str) -> bool:
        apart, _, within = words.partition("within")
        card = replace(self.card(), nails_m=parse(apart.replace("apart", "").strip(" ,"), "length", self.desk.system))
        if within.strip():
            card = replace(card, within_m=parse(within, "length", self.desk.system))
        return self._put_card("nails", card)

    def add_stand(self) -> None:
        """Type one more stand."""
        hint = f"A name, a colon, and both distances: {EXAMPLE}."
        if not self.type_over("one more stand", "add-stand", "", partial(self._take_stand, ""), hint=hint):
            self.desk.said.emit("A stand is of a shot with a camera, and there is none yet.")

    def type_stand(self, name: str) -> None:
        """Type a stand anew."""
        stand = next((s for s in self.card().stands if s.name == name), None)
        if stand:
            self.type_over(
                "the stand", f"stand:{name}", show_stand(stand, self.desk.system), partial(self._take_stand, name)
            )

    def _take_stand(self, before: str, words: str) -> bool:
        stood = next((s for s in self.card().stands if s.name == before), None)
        stand = parse_stand(words, self.desk.system, stood)
        if stand.name != before and any(s.name == stand.name for s in self.card().stands):
            raise UserError(f"There is a stand {stand.name} already", remedy="Give it another name")
        from_nails(self.card().nails_m, stand.from_a_m, stand.from_b_m, left=stand.side == "left")
        return self._put(stand.name, lambda shot: replace(shot, card=with_stand(shot.card, stand, before)))

    def type_found(self, name: str) -> None:
        """Type where a stand was found."""
        hint = f"Both distances, from A and from B: {FOUND_EXAMPLE}."
        self.type_over(f"{name} as found", f"found:{name}", "", partial(self._take_found, name), hint=hint)

    def _take_found(self, name: str, words: str) -> bool:
        card = self.card()
        found: Found = parse_found(name, words, self.desk.system)
        from_nails(card.nails_m, found.from_a_m, found.from_b_m, left=True)
        now: datetime = self.desk.now().replace(microsecond=0)
        read = replace(found, at=now, by=found.by or self.desk.who)
        return self._put_card(f"{name} as found", with_reading(card, read))

    def remove_stand(self, name: str) -> None:
        """Take a stand off the card."""
        self._put_card(f"{name} taken off", without_stand(self.card(), name))

    def forget_found(self, name: str) -> None:
        """Take back what was found of a stand last."""
        card = self.card()
        last = max((i for i, r in enumerate(card.readings) if r.stand == name), default=-1)
        if last >= 0:
            kept = card.readings[:last] + card.readings[last + 1 :]
            self._put_card(f"{name}: reading taken back", replace(card, readings=kept))

    # ---------------------------------------------------------------------------------------- out
    def choose_card(self) -> None:
        """Ask where to write the card."""
        stage = self.stage()
        if stage is None:
            self.desk.said.emit("There is no camera yet, and nothing to measure.")
            return
        shot = stage.found.shot
        asked = ask_to_write(
            self, "Write the measuring card", "page", f"card-{shot.id}.pdf", f"Page (*.pdf);;{offered_to_write('card')}"
        )
        if asked:
            self.write_card(asked[0])

    def write_card(self, path: Path) -> None:
        """Write the measuring card of the drawn shot, as a page or as CSV by the ending of the file."""
        from homunculus.store.atomic import write_atomically

        stage = self.stage()
        if stage is None:
            return
        shot = stage.found.shot
        if path.suffix.lower() == ".pdf":
            self.pages.write(path, [lambda ink: self.draw_page(ink, stage)])
            return
        try:
            write_atomically(path, writer("card", path.name)(card_table(self.desk.plan, shot)))
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        self.desk.said.emit(f"Wrote the measuring card of shot {shot.id} to {path.name}.")

    def draw_page(self, ink: Ink, stage: StagePlan) -> None:
        """Draw the card on paper."""
        shot = stage.found.shot
        ink.text(36, 48, f"Shot {shot.id}: {shot.name}, measuring card", "bench_question")
        ink.text(WIDTH - 36, 48, self.desk.job.name, "note", "ink2", "right")
        draw_match(self.desk, ink, stage, QRectF(36, 70, WIDTH - 72, 0))
        card, y = self.card(), 70 + 24 + ROWS * ROW + 40
        ink.text(
            36,
            y,
            f"Stands from two nails, {self.desk.given(card.nails_m, 'length')} apart; each within {self.desk.given(card.within_m, 'length')}",
            "label",
            weight=600,
        )
        for i, stand in enumerate(card.stands[: int((HEIGHT - y - 60) // 24)]):
            ink.text(36, y + 26 + i * 24, ink.squeezed(360, show_stand(stand, self.desk.system), "label"), "label")
            ink.text(420, y + 26 + i * 24, "found A ________  B ________  by ____________", "note", "ink2")
        draw_nails(ink, self.card(), QRectF(WIDTH - 250, y - 10, 214, HEIGHT - y - 30))

    # --------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        spot = self.spots.focused()
        kind, _, name = (spot.objectName() if spot else "").partition(":")
        match event.key():
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "stand":
                self.remove_stand(name)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "found":
                self.forget_found(name)
            case Qt.Key.Key_Delete | Qt.Key.Key_Backspace if kind == "plate":
                self._take_plate(name, "")
            case Qt.Key.Key_Insert:
                self.add_stand()
            case _:
                super().keyPressEvent(event)

    def can(self, key: str) -> list[Can]:
        kind, _, name = key.partition(":")
        own = {"stand": [Can("Type it anew", "Enter", lambda: self.type_stand(name)), Can("It was found elsewhere", "", lambda: self.type_found(name)), Can("Take it off the card", "Del", lambda: self.remove_stand(name))],
               "found": [Can("Type what was found", "Enter", lambda: self.type_found(name)), Can("Take the last reading back", "Del", lambda: self.forget_found(name))],
               "plate": [Can("Type it", "Enter", lambda: self.type_plate(name)), Can("The plate does not say it", "Del", lambda: self._take_plate(name, ""))]}  # fmt: skip
        return own.get(kind) or super().can(key)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_top(ink, self.question())
        stage = self.stage()
        if stage is None:
            self.draw_empty(ink)
            return
        draw_match(self.desk, ink, stage, QRectF(18, TOP, self.width() - 36, 0))
        y = TOP + 12 + ROWS * ROW + 26
        width = ink.text(18, y, "set the camera as the plate asks", "label", "decide")
        ink.rule(18, y + 5, 18 + width, y + 5, "decide", 1.2)
        card = self.card()
        words = (
            f"nails {self.desk.given(card.nails_m, 'length')} apart, within {self.desk.given(card.within_m, 'length')}"
        )
        shows, right = stage.find(specs.STAND_ALLOWED), self.width() - 18.0
        if shows:
            ink.number(right, y, self.desk.shown(shows), "label", "reckon", "right", equals=True)
            right -= ink.number_width(self.desk.shown(shows), "label", equals=True) + 10
        ink.text(right, y, words, "label", "decide", "right")
        ink.rule(right - ink.width(words, "label"), y + 5, right, y + 5, "decide", 1.2)
        self._stands(ink, stage)
        top = self._stands_top() - 8
        draw_nails(
            ink,
            self.card(),
            QRectF(self.width() * SPLIT + 6, top, self.width() * (1 - SPLIT) - 24, self.height() - top - 16),
        )
        for x, words in ((18.0, "+ stand"), (154.0, "write the card")):
            width = ink.text(x, self.height() - 14, words, "note", "decide")
            ink.rule(x, self.height() - 10, x + width, self.height() - 10, "decide", 1)

    def _stands(self, ink: Ink, stage: StagePlan) -> None:
        top, card = self._stands_top(), self.card()
        wide = self.width() * SPLIT - 30
        ink.text(18, top, "stand, from nails A and B", "note", "ink2")
        ink.text(18 + wide, top, "as found", "note", "ink2", "right")
        ink.rule(18, top + 7, 18 + wide, top + 7, "ink", 1.4)
        if not card.stands:
            ink.paragraph(
                18,
                top + 34,
                wide - 20,
                f"No stand yet. Drive two nails that nobody moves, tape each stand from both, and type it: {EXAMPLE}.",
                "note",
                "ink2",
                4,
            )
        for stand, area in self.shown_stands():
            y = area.top() + 25
            ink.text(
                area.left(),
                y,
                ink.squeezed(area.width() * 0.62 - 10, show_stand(stand, self.desk.system), "label"),
                "label",
                "decide",
            )
            off = stage.find(specs.STAND_OFF, use=stand.name)
            if off:
                moved = off.number > card.within_m
                ink.number(
                    area.right(),
                    y,
                    self.desk.shown(off),
                    "label",
                    "danger" if moved else "reckon",
                    "right",
                    equals=True,
                )
                wide_px = ink.number_width(self.desk.shown(off), "label", equals=True)
                ink.text(
                    area.right() - wide_px - 8,
                    y,
                    "moved by" if moved else "stands, off",
                    "note",
                    "danger" if moved else "ink2",
                    "right",
                )
            else:
                ink.text(area.right(), y, "type it", "note", "decide", "right")
            ink.rule(area.left(), area.bottom() - 1, area.right(), area.bottom() - 1, "line", 1)
        said = [m for m in stage.minds if any(m.subject.use == s.name for s in card.stands)]
        y = top + 14 + len(self.shown_stands()) * STAND + 22
        for mind in said[:2]:
            if y + 34 > self.height() - 40:
                break
            ink.tag(18, y - 11, mind.level)
            y = ink.paragraph(44, y, wide - 30, phrase(mind.why, self.desk.system), "note", "ink2", 3) + 12
