"""Who and what is in the shop? Its day and week, its people, its ovens and vessels to scale, the stage; and the sheet of what is chosen."""

from __future__ import annotations

from functools import partial
from typing import Any, get_args

from msgspec.structs import replace
from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.shelf.sheet_rows import LABEL_W, SheetRow, draw_sheet_cell, said_of, text_of
from homunculus.app.benches.shop.drawing import Shown, draw_shop
from homunculus.app.benches.shop.room import PEOPLE_FLOOR, WEEK_Y, Room
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.drawing.spot import Handle
from homunculus.app.shell.shop_commands import ask_country, ask_days_off, ask_zone
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.shop import DAYS
from homunculus.core.edits import shop as edits
from homunculus.core.edits.shop import Hour
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.plan.memory import Last
from homunculus.core.quantities import parse_hour
from homunculus.core.shelf.sheet import Row, rows
from homunculus.core.shelf.stock import sort_of
from homunculus.core.shelf.taking import shelved
from homunculus.core.showing import show_clock

HOURS: tuple[Hour, ...] = get_args(Hour)
HOUR_WORDS = {
    "opens": "the shop opens",
    "closes": "the shop closes",
    "warm_from": "the air is warm from",
    "warm_to": "and until",
}
STAGE_KEYS = ("width_m", "depth_m", "height_m", "lamps_m", "door_width_m", "door_height_m")
SHEET = (Column("label", "", LABEL_W - 26), Column("value", "", 0))
NEW = (
    ("people", "somebody"),
    ("ovens", "an oven"),
    ("machines", "a machine"),
    ("scales", "a scale"),
    ("vessels", "a vessel"),
)


class ShopBench(Bench):
    """The shop. All that is changed here is a step of the job."""

    least_height = 560

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Shop")
        self.chosen = ""
        """The person or thing whose sheet is shown, as sort and id."""
        self.first = 0
        """The first person that is drawn, where there are more than fit."""
        self._sheet: Last[tuple[SheetRow, ...]] = Last()
        self.list: RowList[SheetRow] = RowList(
            self, "sheet in the shop", SHEET, Manner(lambda row: row.key, text_of, said_of, self._draw_row), 28, heads=False)  # fmt: skip
        self.list.acted.connect(lambda _: self.type_row())

    # ------------------------------------------------------------------------------------ reading
    @property
    def shop(self) -> Shop:
        """The shop of the job."""
        return self.desk.job.shop

    def things(self) -> list[tuple[str, Any]]:
        """Everybody and everything, in the order of the drawing."""
        return [
            (sort, thing)
            for sort in ("people", "ovens", "machines", "scales", "vessels")
            for thing in getattr(self.shop, sort)
        ]

    def thing(self) -> tuple[str, Any] | None:
        """What is chosen: its sort, and itself; the first where nothing is."""
        things = self.things()
        found = next((one for one in things if f"{one[0]}/{one[1].id}" == self.chosen), None)
        return found or (things[0] if things else None)

    def _chosen(self) -> tuple[str, Any] | None:
        """What is chosen; where the shop has nobody and nothing, that is said."""
        chosen = self.thing()
        if chosen is None:
            self.desk.said.emit("Nobody and nothing is in the shop yet. Insert adds somebody.")
        return chosen

    def sheet_rows(self) -> tuple[SheetRow, ...]:
        """The rows of the chosen one's sheet."""
        chosen = self.thing()
        system, currency = self.desk.system, self.shop.currency
        return self._sheet.get(
            (chosen and chosen[1], system, currency), lambda: rows(chosen[1], system, currency) if chosen else ()
        )

    # -------------------------------------------------------------------------------------- spots
    def content(self) -> object:
        return (self.shop, self.chosen, self.first, self.desk.job.begun)

    def arrange(self) -> None:
        room, shop = Room(self.width(), self.height(), self.shop), self.shop
        for which in HOURS:
            self._hour_spot(room, which, shop)
        for key, area in ((f"shop.{name}_c", room.air_area(name, shop)) for name in ("day", "night")):
            self.decide_spot(key, area)
        self.decide_spot("shop.humidity", QRectF(room.day.right() - 104, WEEK_Y + 30, 110, 34))
        for day, name in enumerate(DAYS):
            works = "works" if day in shop.hours.weekdays else "is off"
            self.spots.place(
                f"day:{day}",
                QRectF(room.day.left() + day * 42, WEEK_Y, 40, 32),
                f"{name} {works}: change it",
                partial(self._turn_day, day),
            )
        x = room.day.left() + 306
        self.spots.place(
            "off",
            QRectF(x, WEEK_Y, 92, 32),
            f"{len(shop.hours.days_off)} days off",
            partial(ask_days_off, self.window()),
        )
        self.spots.place(
            "country",
            QRectF(room.day.left() + 142, WEEK_Y + 32, 92, 32),
            "country and its public holidays",
            partial(ask_country, self.window()),
        )
        self.spots.place(
            "zone",
            QRectF(room.day.left(), WEEK_Y + 32, 134, 32),
            "by which zone clocks change",
            partial(ask_zone, self.window()),
        )
        self._people_spots(room)
        self._thing_spots(room)
        self._column_spots(room)

    def _turn_day(self, day: int) -> None:
        self._change(f"{DAYS[day]} in the shop's week", lambda job: edits.with_weekday(job, day))

    def _hour_spot(self, room: Room, which: Hour, shop: Shop) -> None:
        minutes = edits.minutes_of(edits.hour_of(shop, which))
        top = room.day.top() - 22 if which in ("warm_from", "warm_to") else room.day.top() + 4
        area = QRectF(room.hour_x(minutes) - 20, top, 40, 40)
        said = f"{HOUR_WORDS[which]} at {show_clock(edits.hour_of(shop, which))}"
        self.spots.place_handle(
            f"hour:{which}", area, said, Qt.CursorShape.SizeHorCursor, lambda handle: self._wire_hour(handle, which)
        )

    def _wire_hour(self, handle: Handle, which: Hour) -> None:
        def to(at: Any) -> None:
            self._set_hour(which, Room(self.width(), self.height(), self.shop).minutes_at(at.x()))

        handle.pressed.connect(self.desk.grasp)
        handle.dragged.connect(to)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(
            lambda steps: self._set_hour(
                which, edits.minutes_of(edits.hour_of(self.shop, which)) + steps * edits.QUARTER
            )
        )
        handle.typing.connect(lambda first: self._type_hour(which, first))

    def _set_hour(self, which: Hour, minutes: float) -> None:
        self._change(HOUR_WORDS[which], lambda job: edits.with_hour(job, which, edits.clock_of(minutes)))

    def _type_hour(self, which: Hour, first: str) -> None:
        name, stands = HOUR_WORDS[which], show_clock(edits.hour_of(self.shop, which))
        self.type_over(name, f"hour:{which}", stands,
                       lambda words: self._change(name, lambda job: edits.with_hour(job, which, parse_hour(words, midnight=True))), key=first)  # fmt: skip

    def _people_spots(self, room: Room) -> None:
        people = self.shop.people
        self.first = max(0, min(self.first, len(people) + 1 - room.fit))
        for place, person in enumerate(people[self.first : self.first + room.fit]):
            words = f"{person.name}, {', '.join(person.skills) or 'no skill said'}"
            self.spots.place(
                f"thing:people/{person.id}", room.person_area(place), words, partial(self.press, f"people/{person.id}")
            )
        place = len(people) - self.first
        if place < room.fit:
            self.spots.place("new:people", room.person_area(place), "one more person", partial(self.ask_new, "people"))

    def _thing_spots(self, room: Room) -> None:
        for standing in room.standing:
            area = standing.area.adjusted(-4, -4, 4, 4)
            wide = QRectF(
                area.center().x() - max(20.0, area.width() / 2),
                area.bottom() - max(40.0, area.height()),
                max(40.0, area.width()),
                max(40.0, area.height()),
            )
            self.spots.place(f"thing:{standing.sort}/{standing.thing.id}", wide, f"{sort_of(standing.sort).one} {standing.thing.name}",
                             partial(self.press, f"{standing.sort}/{standing.thing.id}"))  # fmt: skip
        self.decide_spot("shop.carry_kg", QRectF(12, room.floor + 2, 100, 46))
        self.decide_spot("shop.hoist_kg", QRectF(12, PEOPLE_FLOOR + 62, 100, 46))
        x = 12.0
        for sort, words in NEW[1:]:
            width = self.setting().width(f"+ {words}", "label") + 14
            self.spots.place(
                f"new:{sort}",
                QRectF(x, self.height() - 40, width, 36),
                f"one more: {words}",
                partial(self.ask_new, sort),
            )
            x += width

    def _column_spots(self, room: Room) -> None:
        x, y = room.right, 132.0
        for i, key in enumerate(f"shop.{name}" for name in STAGE_KEYS):
            if key in self.desk.decisions():
                self.decide_spot(key, QRectF(x + (i % 3) * 80, y + (i // 3) * 48, 78, 46))
        stage = QRectF(x - 4, 46, self.width() - x - 10, 82)
        self.spots.place("stage", stage, "shoot on another stage: those of the shelf", self.other_stage)
        self.spots.place(
            "stage-name",
            QRectF(x - 4, 24, 180, 22),
            f"the stage is called {self.shop.stage.name or 'nothing yet'}",
            self.ask_stage,
        )
        if self.shop.stage.door_width_m is None:
            self.spots.place(
                "door", QRectF(x + 80, y + 48, 150, 38), "the stage has a door: say how wide and high", self._add_door
            )
        for i, key in enumerate(("shop.vessel_m3", "shop.bucket_m3", "shop.hands")):
            self.decide_spot(key, QRectF(x + i * 80, y + 96, 78, 46))
        self.spots.place("money", QRectF(x, y + 148, 110, 32), f"prices are in {self.shop.currency}", self.ask_currency)
        self.decide_spot("shop.tax", QRectF(x + 120, y + 144, 110, 46))
        top, chosen = y + 222, self.thing()
        self.list.setVisible(chosen is not None)
        if chosen is None:
            return
        self.list.setGeometry(round(x - 4), round(top), round(self.width() - x - 4), round(self.height() - top - 46))
        made = self.sheet_rows()
        self.list.recolour(made)
        if made is not self.list.given:
            self.list.put(made)
        for name, words, act in self.doings(*chosen):
            width = self.setting().width(words, "label") + 16
            self.spots.place(name, QRectF(x - 4, self.height() - 42, width, 36), words, act)
            x += width

    def doings(self, sort: str, thing: Any) -> list[tuple[str, str, Any]]:
        """What stands beneath the sheet of the chosen one."""
        mix = (
            [("mix", "mix in it", self.mix_in_it)]
            if sort == "vessels" and not edits.is_mixed_in(self.shop, thing)
            else []
        )
        return [*mix, ("out", "take out", self.take_out), ("shelf", "put on the shelf", self.put_on_shelf)]

    # --------------------------------------------------------------------------------------- acts
    def _change(self, name: str, make: Any) -> bool:
        """Make another job; what cannot be is said."""
        try:
            job: Job = make(self.desk.job)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        return self.desk.edit(name, job, self.desk.gesture)

    def press(self, key: str) -> None:
        """Choose a person or thing; again goes to its sheet."""
        chosen = self.thing()
        if chosen and key == f"{chosen[0]}/{chosen[1].id}" and self.chosen == key:
            self.list.setFocus()
            self.list.choose(max(0, self.list.currentIndex().row()))
        self.chosen = key
        self.refresh()

    def step(self, by: int) -> None:
        """Choose the person or thing so many on."""
        things, chosen = self.things(), self.thing()
        if chosen:
            sort, thing = things[(things.index(chosen) + by) % len(things)]
            self.chosen = f"{sort}/{thing.id}"
            if sort == "people":
                at, fit = self.shop.people.index(thing), Room(self.width(), self.height(), self.shop).fit
                self.first = min(max(self.first, at - fit + 1), at)
            self.refresh()

    def ask_new(self, sort: str = "") -> None:
        """Ask how one more of a sort is called; of that of the chosen one where none is named."""
        chosen = self.thing()
        sort = sort or (chosen[0] if chosen else "people")
        spot = self.spots.find(f"new:{sort}")

        def take(words: str) -> bool:
            made: list[Any] = []

            def make(job: Job) -> Job:
                new, thing = edits.new_thing(job, self.desk.shelf.room.offered, self.desk.shelf.families, sort, words)
                made.append(thing)
                return new

            if not self._change(f"{sort_of(sort).one} {words.strip()}", make):
                return False
            self.chosen = f"{sort}/{made[0].id}"
            self.desk.said.emit(
                f"{made[0].name} is in the shop. What nobody has said yet began like another one: type it on its sheet. U goes back."
            )
            self.refresh()
            return True

        area = QRectF(spot.geometry()) if spot else QRectF(18, PEOPLE_FLOOR - 60, 200, 36)
        name = f"how {'is somebody' if sort == 'people' else 'is the ' + sort_of(sort).one} called"
        self.type_over(name, area, "", take, spot or self)

    def take_out(self) -> None:
        """Take the chosen one out of the shop."""
        chosen = self._chosen()
        if chosen and self._change(
            f"without {chosen[1].name}", lambda job: edits.without_thing(job, chosen[0], chosen[1].id)
        ):
            self.desk.said.emit(f"{chosen[1].name} is out of the shop. U goes back.")

    def mix_in_it(self) -> None:
        """Mix in the chosen vessel."""
        chosen = self.thing()
        if chosen and chosen[0] == "vessels":
            self._change(f"mixed in the {chosen[1].name}", lambda job: edits.mixed_in(job, chosen[1].id))

    def put_on_shelf(self) -> None:
        """Put the chosen one on the shelf, for other jobs."""
        chosen = self._chosen()
        if chosen is None:
            return
        shelf = self.desk.shelf
        stock = shelved(shelf.room.stock, self.desk.job, f"{chosen[0]}/{chosen[1].id}")
        if shelf.change(f"{chosen[1].name} on the shelf", replace(shelf.room, stock=stock)):
            self.desk.said.emit(f"{chosen[1].name} is on the shelf (K): every job can take it.")

    def ask_currency(self) -> None:
        """Ask in what prices are."""
        self.type_over("currency", "money", self.shop.currency, self._use_currency)

    def _use_currency(self, words: str) -> bool:
        sign = words.strip()
        if not 1 <= len(sign) <= 8:
            self.desk.said.emit("A currency is a sign or a few letters, such as € or CHF.")
            return False
        return self._change(f"prices in {sign}", lambda job: replace(job, shop=replace(job.shop, currency=sign)))

    def other_stage(self) -> None:
        """Look at the stages of the shelf: one of them is taken by +."""
        self.desk.wanted.emit("shelf")
        self.window().benches.of("shelf").show_sort("stages")  # type: ignore[attr-defined]

    def ask_stage(self) -> None:
        """Ask how the stage is called."""

        def take(words: str) -> bool:
            name = " ".join(words.split())
            return self._change(
                "the stage's name",
                lambda job: replace(job, shop=replace(job.shop, stage=replace(job.shop.stage, name=name))),
            )

        self.type_over("how the stage is called", "stage-name", self.shop.stage.name, take)

    def _add_door(self) -> None:
        stage = self.shop.stage
        self._change(
            "the stage's door",
            lambda job: replace(job, shop=replace(job.shop, stage=replace(stage, door_width_m=2.0, door_height_m=2.0))),
        )

    # --------------------------------------------------------------------------------- the sheet
    def type_row(self, first: str = "") -> None:
        """Open the line to type a row of the chosen one's sheet into."""
        row, chosen = self.list.item(), self.thing()
        if not isinstance(row, Row) or chosen is None:
            return
        area = self.list.area_of(self.list.rows.index(max(0, self.list.currentIndex().row()), 1))

        def take(words: str) -> bool:
            return self._change(
                f"{chosen[1].name}, {row.label}",
                lambda job: edits.with_row(job, chosen[0], chosen[1].id, row.key, words, self.desk.system),
            )

        self.type_over(row.label, area, row.text, take, self.list, first)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, in_sheet = event.key(), self.list.hasFocus()
        match key:
            case Qt.Key.Key_BracketLeft:
                self.step(-1)
            case Qt.Key.Key_BracketRight:
                self.step(1)
            case Qt.Key.Key_Insert:
                self.ask_new()
            case Qt.Key.Key_Delete:
                self.take_out()
            case Qt.Key.Key_F2 if in_sheet:
                self.type_row()
            case _ if in_sheet and event.text() and event.text() in "0123456789.,":
                self.type_row(event.text())
            case _:
                event.ignore()

    def can(self, key: str) -> list[Can]:
        """A person or thing has a sheet, is taken out, goes on the shelf."""
        if not key.startswith("thing:"):
            return super().can(key)
        self.chosen = key.removeprefix("thing:")
        self.refresh()
        chosen = self.thing()
        own = [Can(words[:1].upper() + words[1:], "", act) for _, words, act in self.doings(*chosen)] if chosen else []
        return [Can("Its sheet", "Enter", self.list.setFocus), *own]

    def can_row(self, _rows: str, _row: Any, _column: str) -> list[Can]:
        return [Can("Type it anew", "Enter", self.type_row)]

    # ----------------------------------------------------------------------------------- drawing
    def _draw_row(self, ink: Ink, row: SheetRow, key: str, area: QRectF, _above: SheetRow | None) -> None:
        draw_sheet_cell(ink, row, key, area)

    def draw(self, ink: Ink) -> None:
        chosen = self.thing()
        beneath = [(name, words) for name, words, _ in self.doings(*chosen)] if chosen else []
        draw_shop(
            ink, self, Shown(Room(self.width(), self.height(), self.shop), self.shop, chosen, self.first, beneath)
        )
