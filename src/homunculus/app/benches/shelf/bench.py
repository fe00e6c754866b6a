"""What stands on the shelf? Every card a shop has: boards on the left, the sheet of the chosen card on the right."""

from __future__ import annotations

from functools import partial
from pathlib import Path
from typing import Any, NamedTuple

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.shelf.choice import Choice
from homunculus.app.benches.shelf.doings import ShelfDoings
from homunculus.app.benches.shelf.holders import draw_holder
from homunculus.app.benches.shelf.sheet_rows import LABEL_W, SheetRow, draw_sheet_cell, said_of, text_of
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.theme.ink import Ink
from homunculus.core.job.cards import MaterialCard
from homunculus.core.plan.ledger import news
from homunculus.core.plan.memory import Last
from homunculus.core.quantities import System
from homunculus.core.shelf.finding import Found, found, name_of
from homunculus.core.shelf.sheet import Row, beside, rows
from homunculus.core.shelf.stock import SORTS
from homunculus.core.shelf.taking import Newer, carried
from homunculus.core.shelf.telling import CLOCK_WORDS, fact_of, strip_of

SPLIT, TOP, ROW, SHEET_ROW, FOOT = 372, 112, 40, 28, 48
CARDS = (Column("card", "card", 238), Column("fact", "", 0))
SHEET = (Column("label", "", LABEL_W), Column("value", "", 132), Column("from", "", 0))


class Board(NamedTuple):
    """The edge of a board: what stands on it."""

    name: str


ShelfRow = Board | Found


def known_by(row: ShelfRow) -> object:
    """What a row is known by."""
    return row.key if isinstance(row, Found) else row


class ShelfBench(Bench):
    """The shelf. What it shows is the shop's; what it changes of the job is one step of the job."""

    ground = "sheet"
    least_height = 420

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Shelf")
        self.shelf = desk.shelf
        self.choice = Choice(desk.shelf)
        self._rows: Last[tuple[ShelfRow, ...]] = Last()
        self._sheet: Last[tuple[SheetRow, ...]] = Last()
        self.cards: RowList[ShelfRow] = RowList(
            self, "shelf", CARDS,
            Manner(known_by, self._cell, self._said, self._draw_card, lambda row: isinstance(row, Board)), ROW, heads=False, ruled=False,
        )  # fmt: skip
        self.cards.acted.connect(lambda _: self.to_sheet())
        self.cards.selectionModel().currentRowChanged.connect(lambda *_: self._moved())
        self.sheet: RowList[SheetRow] = RowList(
            self, "sheet of a card", SHEET, Manner(lambda row: row.key, self._sheet_text, self._sheet_said, self._draw_row), SHEET_ROW, heads=False)  # fmt: skip
        self.acts = ShelfDoings(self, self.choice, self.cards, self.sheet, self.choose, self.first)
        self.sheet.acted.connect(lambda _: self.acts.type_row())

    def _moved(self) -> None:
        row = self.cards.item()
        self.choice.key = row.key if isinstance(row, Found) else self.choice.key
        self.refresh()

    # -------------------------------------------------------------------------------------- reading
    def enter(self) -> None:
        """Look whether somebody else changed it, and stand on a card."""
        self.shelf.look_again()
        self.refresh()
        if self.choice.card() is None:
            self.first()
        self.cards.setFocus()

    def rows(self) -> tuple[ShelfRow, ...]:
        """The boards and what stands on them, in order; found once for a shelf and what is asked."""
        choice = self.choice
        newer = self.shelf.newer() if choice.only_newer else None
        of = (self.shelf.room, choice.words, choice.sort, choice.only_newer, newer)
        return self._rows.get(of, lambda: tuple(self._all_rows()))

    def _all_rows(self) -> list[ShelfRow]:
        stock = self.shelf.room.stock
        made: list[ShelfRow] = []
        wanted = {hit.key for hit in self.shelf.newer()} if self.choice.only_newer else None
        sort = "" if self.choice.only_newer or self.choice.words else self.choice.sort
        hits = [
            hit
            for hit in found(stock, self.shelf.families, self.choice.words, sort)
            if wanted is None or hit.key in wanted
        ]
        boards = {family.id: family.shelf for family in self.shelf.families}
        last = ""
        for hit in hits:
            board = boards.get(hit.group, hit.group) if hit.sort.name == "materials" else hit.sort.name
            if board != last:
                made.append(Board(board))
                last = board
            made.append(hit)
        return made

    def sheet_rows(self) -> tuple[SheetRow, ...]:
        """The rows of the chosen card's sheet, beside those of the one that is held."""
        of = (self.choice.card(), self.choice.other(), self.desk.system, self.desk.job.shop.currency)
        return self._sheet.get(of, lambda: self._all_sheet_rows(*of))

    @staticmethod
    def _all_sheet_rows(card: Any, other: Any, system: System, currency: str) -> tuple[SheetRow, ...]:
        if card is None:
            return ()
        return rows(card, system, currency) if other is None else beside(card, other, system, currency)

    # ---------------------------------------------------------------------------------------- spots
    def content(self) -> object:
        hit = self.choice.hit()
        return (self.shelf.room, self.choice.words, self.choice.sort, self.choice.only_newer, self.choice.held, hit.key if hit else "", self.desk.job.cards,
                self.desk.job.shop, self.desk.job.left, self.shelf.trouble)  # fmt: skip

    def arrange(self) -> None:
        x = 12.0
        for sort in SORTS:
            count = len(self.shelf.room.offered.of(sort.name))
            words = f"{sort.name} {count}"
            width = self.setting().width(words, "note") + 11
            self.spots.place(
                f"sort:{sort.name}",
                QRectF(x, 40, width, 34),
                f"{sort.name}, {count} of them",
                partial(self.show_sort, sort.name),
            )
            x += width
        self.spots.place(
            "words", QRectF(12, 76, 250, 34), f"find {self.choice.words or 'by words'}, key Ctrl+F", self.acts.ask_words
        )
        count = len(self.shelf.newer())
        if count or self.choice.only_newer:
            self.spots.place(
                "newer", QRectF(262, 76, 108, 34), f"{count} newer than in this job, key Y", self.acts.show_newer
            )
        made = self.rows()
        self.cards.setGeometry(8, TOP, SPLIT - 16, round(self.height() - TOP - FOOT))
        self.cards.recolour(
            self.shelf.room, self.desk.job.cards, self.desk.job.shop, self.desk.job.left, self.choice.held
        )
        if made is not self.cards.given:
            self.cards.put(made)
            if self.choice.card() is None and made:
                self.first()
        self.cards.setVisible(bool(made))
        self.spots.place(
            "new", QRectF(12, self.height() - FOOT + 6, 250, 38), "a new card, key Insert", self.acts.ask_new
        )
        if not made:
            self.spots.place(
                "empty",
                QRectF(12, TOP, SPLIT - 40, 120),
                "Nothing is found: another search, or a new card",
                self.acts.ask_new,
            )
        self._arrange_card()

    def _arrange_card(self) -> None:
        hit, top = self.choice.hit(), self._sheet_top()
        self.sheet.setVisible(hit is not None)
        if hit is None:
            return
        self.sheet.setGeometry(SPLIT, round(top), round(self.width() - SPLIT - 8), round(self.height() - top - FOOT))
        made = self.sheet_rows()
        self.sheet.recolour(made)
        if made is not self.sheet.given:
            self.sheet.put(made)
        x, y = SPLIT + 4.0, self.height() - FOOT + 6
        for name, words, act in self.acts.doings():
            width = self.setting().width(words, "label") + 18
            if x + width > self.width() - 4:  # by key and by a right press it is done all the same
                break
            self.spots.place(name, QRectF(x, y, width, 38), words, act)
            x += width
        if self.choice.newer():
            self.spots.place(
                "follow", QRectF(SPLIT + 66, top - 40, 110, 34), "follow the shelf in this card", self.acts.follow
            )
            self.spots.place(
                "leave", QRectF(SPLIT + 184, top - 40, 160, 34), "leave this card in the job as it is", self.acts.leave
            )

    def _sheet_top(self) -> float:
        newer = self.choice.newer()
        return 168.0 + (max(1, len(self._news(newer))) * 17 + 53 if newer else 0.0)

    def _news(self, newer: Newer) -> tuple[str, ...]:
        """What following the shelf would move."""
        return news(self.shelf.would_move(newer.key), self.desk.system, self.desk.job.shop.currency)

    def first(self) -> None:
        """Stand on the first card that is shown; where none is, on none."""
        at = next((i for i, row in enumerate(self.cards.rows.items) if isinstance(row, Found)), None)
        if at is not None:
            self.cards.choose(at)
        else:
            self.choice.key = ""
            self.refresh()

    def choose(self, key: str) -> None:
        """Stand on the card of a key, of whatever sort it is."""
        self.choice.sort = key.partition("/")[0]
        self.choice.words, self.choice.only_newer = "", False
        self.refresh()
        row = self.cards.row_of(key)
        if row is not None:
            self.cards.choose(row)
        self.refresh()

    def show_sort(self, name: str) -> None:
        """Show the cards of a sort."""
        self.choice.sort, self.choice.words, self.choice.only_newer = name, "", False
        self.refresh()
        self.first()

    # ----------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        key, plain = event.key(), not event.modifiers() & ~Qt.KeyboardModifier.KeypadModifier
        in_sheet = self.sheet.hasFocus()
        match key:
            case Qt.Key.Key_Right if self.cards.hasFocus():
                self.to_sheet()
            case Qt.Key.Key_Left if in_sheet:
                self.cards.setFocus()
            case Qt.Key.Key_F2 if in_sheet:
                self.acts.type_row()
            case Qt.Key.Key_Insert:
                self.acts.ask_new()
            case Qt.Key.Key_Delete:
                self.acts.empty_row() if in_sheet else self.acts.turn_away()
            case Qt.Key.Key_D if plain:
                self.acts.ask_copy()
            case Qt.Key.Key_C if plain:
                self.acts.hold()
            case Qt.Key.Key_Y if plain:
                self.acts.show_newer()
            case Qt.Key.Key_BracketLeft | Qt.Key.Key_BracketRight:
                names = [sort.name for sort in SORTS]
                self.show_sort(
                    names[(names.index(self.choice.sort) + (1 if key == Qt.Key.Key_BracketRight else -1)) % len(names)]
                )
            case _ if event.text() == "+":
                self.acts.take()
            case _ if event.text() in ("-", "−") and not in_sheet:
                self.acts.put_down()
            case _ if in_sheet and event.text() and event.text() in "0123456789.,":
                self.acts.type_row(event.text())
            case _:
                event.ignore()

    def to_sheet(self) -> None:
        """Go on to the sheet of the chosen card."""
        if self.sheet_rows():
            self.sheet.setFocus()

    def can_row(self, rows_name: str, row: Any, _column: str) -> list[Can]:
        """What can be done with a card, or a row of its sheet."""
        if rows_name == "shelf" and isinstance(row, Found):
            away = "Bring it back" if row.key in self.shelf.room.put_away else "Put it away"
            found_can = [Can(words, key, act) for words, key, act in (
                ("Take it into the job", "+", self.acts.take), ("A copy", "D", self.acts.ask_copy), (away, "Delete", self.acts.turn_away),
                ("Hold it beside others", "C", self.acts.hold), ("Delete it from the shelf", "", self.acts.delete),
            )]  # fmt: skip
            if self.choice.in_job():
                found_can += [
                    Can("Put this job's card on the shelf", "", self.acts.put_on_shelf),
                    Can("Take it out of the job", "−", self.acts.put_down),
                ]
            return found_can
        if rows_name == "sheet of a card":
            return [
                Can("Type it anew", "Enter", self.acts.type_row),
                Can("Say where it comes from", "", self.acts.type_source),
                Can("Nobody has said: take it away", "Delete", self.acts.empty_row),
            ]
        return []

    # ----------------------------------------------------------------------------- drawing the boards
    def _cell(self, row: ShelfRow, key: str) -> str:
        if isinstance(row, Board):
            return row.name if key == "card" else ""
        return name_of(row.card) if key == "card" else fact_of(row.card, self.desk.system, self.desk.job.shop.currency)

    def _said(self, row: ShelfRow) -> str:
        if isinstance(row, Board):
            return row.name
        marks = [words for has, words in ((row.key in self.shelf.room.put_away, "put away"), (self._carries(row), "in this job"),
                                          (any(n.key == row.key for n in self.shelf.newer()), "newer than in this job")) if has]  # fmt: skip
        return ", ".join(filter(None, (self._cell(row, "card"), row.group, self._cell(row, "fact"), *marks)))

    def _carries(self, row: Found) -> bool:
        return any(card.id == row.card.id for card in carried(self.desk.job, row.sort))

    def _draw_card(self, ink: Ink, row: ShelfRow, key: str, area: QRectF, _above: ShelfRow | None) -> None:
        if isinstance(row, Board):
            ink.text(area.left() + 6, area.bottom() - 8, row.name, "heading")
            ink.rule(area.left(), area.bottom() - 2, area.right() - 8, area.bottom() - 2, "ink", 2.25)
            return
        away = row.key in self.shelf.room.put_away
        here = self.choice.hit() is not None and row.key == self.choice.hit().key  # type: ignore[union-attr]
        ink.rule(area.left(), area.bottom() - 1.5, area.right(), area.bottom() - 1.5, "line", 1.5)
        if key == "card":
            draw_holder(ink, QRectF(area.left() + 8, area.top() + 3, 30, area.height() - 5), row.card, row.sort.name, self.shelf.families,
                        width=1.8 if here else 1.1, colour="ink" if here else "line")  # fmt: skip
            if self._carries(row):
                ink.box(area.left() + 42, area.bottom() - 24, 7, 7, fill="ink2" if not here else "ink")
            words = ink.squeezed(area.width() - 56, name_of(row.card), "label", 600 if here else 0)
            ink.text(
                area.left() + 54,
                area.bottom() - 15,
                words,
                "label",
                "ink2" if away else "ink",
                weight=600 if here else 0,
            )
            if away:
                ink.rule(
                    area.left() + 54,
                    area.bottom() - 19,
                    area.left() + 54 + ink.width(words, "label"),
                    area.bottom() - 19,
                    "ink2",
                    1,
                )
        else:
            if any(n.key == row.key for n in self.shelf.newer()):
                ink.tag(area.left() + 2, area.bottom() - 26, "mind")
            ink.text(
                area.right() - 8,
                area.bottom() - 15,
                ink.squeezed(area.width() - 28, self._cell(row, "fact"), "note"),
                "note",
                "ink2",
                "right",
            )

    # ------------------------------------------------------------------------------ drawing the sheet
    def _sheet_text(self, row: SheetRow, key: str) -> str:
        return text_of(row, key)

    def _sheet_said(self, row: SheetRow) -> str:
        return said_of(row)

    def _draw_row(self, ink: Ink, row: SheetRow, key: str, area: QRectF, _above: SheetRow | None) -> None:
        desk, choice = self.desk, self.choice
        strip = None
        if key == "from" and isinstance(row, Row):
            strip = strip_of(
                choice.card(),
                row.key,
                self.shelf.families,
                self.shelf.room.stock.materials,
                desk.system,
                desk.job.shop.currency,
            )
        draw_sheet_cell(ink, row, key, area, strip)

    def draw(self, ink: Ink) -> None:
        ink.text(18, 29, "What stands on the shelf?", "bench_question")
        for sort in SORTS:
            spot = self.spots.find(f"sort:{sort.name}")
            if spot is None:
                continue
            here = sort.name == self.choice.sort and not self.choice.words and not self.choice.only_newer
            words = f"{sort.name} {len(self.shelf.room.offered.of(sort.name))}"
            width = ink.text(spot.x() + 5, 62, words, "note", "ink" if here else "ink2", weight=600 if here else 0)
            if here:
                ink.rule(spot.x() + 5, 67, spot.x() + 5 + width, 67, "ink", 2)
        width = ink.text(
            18,
            98,
            ink.squeezed(236, f"find: {self.choice.words}" if self.choice.words else "find …", "label"),
            "label",
            "decide",
        )
        ink.rule(18, 103, 18 + width, 103, "decide", 1.2, "" if self.choice.words else "hidden")
        if self.spots.find("newer"):
            ink.tag(266, 86, "mind")
            ink.text(
                290, 98, f"{len(self.shelf.newer())} newer", "label", "ink", weight=600 if self.choice.only_newer else 0
            )
        if self.shelf.trouble:
            ink.tag(400, 12, "danger")
            ink.paragraph(424, 24, self.width() - 440, self.shelf.trouble, "note", "danger")
        if not self.rows():
            said = f"Nothing tells of “{self.choice.words}”." if self.choice.words else f"No {self.choice.sort} yet."
            ink.text(18, TOP + 30, said, "body", "ink2")
            ink.box(18, TOP + 50, 46, 46, edge="line")
        ink.rule(
            18,
            self.height() - FOOT + 31,
            18 + ink.text(18, self.height() - FOOT + 26, "+ a new card from its data sheet …", "label", "decide"),
            self.height() - FOOT + 31,
            "decide",
            1,
        )
        ink.rule(SPLIT - 8, TOP - 30, SPLIT - 8, self.height() - 10, "line", 1)
        self._draw_head(ink)
        for name, words, _ in self.acts.doings():
            spot = self.spots.find(name)
            if spot is not None:
                y = spot.y() + 20.0
                ink.rule(spot.x() + 6, y + 5, spot.x() + 6 + ink.text(spot.x() + 6, y, words, "label"), y + 5, "ink", 1)

    def _draw_head(self, ink: Ink) -> None:
        hit, room = self.choice.hit(), self.width() - SPLIT - 96
        if hit is None:
            return
        card = hit.card
        draw_holder(ink, QRectF(SPLIT + 4, 84, 56, 66), card, hit.sort.name, self.shelf.families, width=2.0)
        ink.text(SPLIT + 72, 102, ink.squeezed(room, name_of(card), "after_value"), "after_value")
        ink.text(SPLIT + 72, 121, ink.squeezed(room, self._what(card, hit), "note"), "note", "ink2")
        mine = self.choice.in_job()
        said = (
            "not in this job"
            if mine is None
            else "in this job, as it stands here"
            if mine == card
            else "in this job, otherwise than here"
        )
        if not hit.sort.where:
            said = ""
        other = self.choice.other()
        if other is not None:
            said = f"beside {name_of(other)}"
        if hit.key in self.shelf.room.put_away:
            said = "put away: no longer offered"
        ink.text(SPLIT + 72, 139, ink.squeezed(room, said, "note"), "note", "ink")
        newer = self.choice.newer()
        if newer:
            self._draw_newer(ink, newer)

    def _what(self, card: Any, hit: Found) -> str:
        if isinstance(card, MaterialCard):
            setting = [CLOCK_WORDS[card.clock]] if card.parts or card.demould_s else []
            return ", ".join((card.family, *card.traits, *setting))
        return f"{hit.sort.one}: {fact_of(card, self.desk.system, self.desk.job.shop.currency)}"

    def _draw_newer(self, ink: Ink, newer: Newer) -> None:
        """What the shelf says otherwise, what following it would move, and the two ways on."""
        x, y, room = SPLIT + 72.0, 164.0, self.width() - SPLIT - 84.0
        ink.tag(SPLIT + 46, y - 10, "mind")
        ink.text(x, y, ink.squeezed(room, f"The shelf: {newer.words}", "label", 600), "label", weight=600)
        told = self._news(newer)
        for line in told or ("Nothing that is reckoned would move.",):
            y += 17
            ink.text(x, y, ink.squeezed(room, line, "note"), "note", "reckon" if told else "ink2")
        for name, words in (("follow", "follow it"), ("leave", "leave it as it is")):
            spot = self.spots.find(name)
            if spot is not None:
                ink.rule(
                    spot.x() + 6,
                    spot.y() + 25,
                    spot.x() + 6 + ink.text(spot.x() + 6, spot.y() + 20, words, "label", "decide"),
                    spot.y() + 25,
                    "decide",
                    1.2,
                )

    def undo(self) -> None:
        """Go back one change that was made from here: of the shelf, or of the job."""
        self.shelf.undo()

    def redo(self) -> None:
        """Make it again."""
        self.shelf.redo()

    # ----------------------------------------------------------------------------------------- files
    def take_table(self, path: Path) -> None:
        """Take a table of cards of the open sort in."""
        self.shelf.read_table(path, self.choice.sort)
