"""What is done from the shelf bench: cards found, begun, typed, copied, put away, taken into the job, followed; tables."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from msgspec.structs import replace
from PySide6.QtCore import QRectF

from homunculus.app.benches.base import Bench
from homunculus.app.benches.shelf.choice import Choice
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.typing import Typed
from homunculus.app.files import ask_to_read, ask_to_write
from homunculus.core.errors import UserError
from homunculus.core.shelf.finding import Found, name_of
from homunculus.core.shelf.sheet import Beside, Row, read_row, with_source
from homunculus.core.shelf.stock import sort_of
from homunculus.core.shelf.taking import Newer, bought_line, followed, left_as_is, put_down, shelved, taken
from homunculus.exchange.formats import offered, offered_to_write


class ShelfDoings:
    """All that is done on the shelf's bench.

    Parameters
    ----------
    bench
        On which lines to type into are laid.
    choice
        What is chosen.
    cards, sheet
        The lists of cards and of the chosen one's rows.
    show, first
        Stand on the card of a key; on the first that is shown.
    """

    def __init__(
        self,
        bench: Bench,
        choice: Choice,
        cards: RowList[Any],
        sheet: RowList[Any],
        show: Callable[[str], None],
        first: Callable[[], None],
    ) -> None:
        self.bench, self.choice, self.cards, self.sheet = bench, choice, cards, sheet
        self.show, self.first = show, first

    # ------------------------------------------------------------------------------------ by words
    def ask_words(self) -> None:
        """Ask for words to find cards by, of all sorts; none shows the open sort again."""

        def take(words: str) -> bool:
            self.choice.words, self.choice.only_newer = " ".join(words.split()), False
            self.bench.refresh()
            self.first()
            return True

        self._ask("words", "find by words", self.choice.words, take, self.bench.spots.find("words"))

    def _ask(
        self,
        spot: str,
        name: str,
        stands: str,
        accept: Callable[[str], bool],
        back: Any,
        area: QRectF | None = None,
        key: str = "",
    ) -> Typed | None:
        found = self.bench.spots.find(spot)
        where = area if area is not None else QRectF(found.geometry()) if found else QRectF(12, 76, 250, 34)
        return self.bench.type_over(name, where, stands, accept, back or self.cards, key)

    def show_newer(self) -> None:
        """Show only the cards that the shelf has newer than the job, or all again."""
        self.choice.only_newer = not self.choice.only_newer
        self.choice.words = ""
        if self.choice.only_newer and not self.choice.shelf.newer():
            self.choice.only_newer = False
            self.bench.desk.said.emit("The shelf has nothing newer than this job.")
        self.bench.refresh()
        self.first()

    # ----------------------------------------------------------------------------------- new ones
    def ask_new(self) -> None:
        """Ask what a new card is called; a material says its family behind a colon."""
        hit = self.choice.hit()
        first = f": {hit.group}" if hit and self.choice.sort == "materials" and hit.sort.name == "materials" else ""

        def take(words: str) -> bool:
            key = self.choice.shelf.do(f"new {sort_of(self.choice.sort).one}: {words}")
            if key:
                self.show(key)
                self.sheet.setFocus()
                self.bench.desk.said.emit(
                    "It is on the shelf. Type its values off its data sheet; “31 a kg from invoice” says where one comes from."
                )
            return bool(key)

        example = "name: family" if self.choice.sort == "materials" else "its name"
        typed = self._ask("new", f"a new {sort_of(self.choice.sort).one}, {example}", first, take, None)
        if typed:
            typed.setCursorPosition(0)

    def ask_copy(self) -> None:
        """Ask how a copy of the chosen card is called."""
        hit = self.choice.hit()
        if hit is None:
            return

        def take(words: str) -> bool:
            key = self.choice.shelf.do(f"copy {hit.key}: {words}")
            if key:
                self.show(key)
            return bool(key)

        self._ask("new", "the copy's name", name_of(hit.card), take, None, self._head_area())

    def _head_area(self) -> QRectF:
        return QRectF(self.sheet.x() + 66, 82, self.bench.width() - self.sheet.x() - 90, 30)

    def turn_away(self) -> None:
        """Put the chosen card away, so that it is no longer offered, or bring it back."""
        hit = self.choice.hit()
        if hit is None:
            return
        away = hit.key in self.choice.shelf.room.put_away
        if self.choice.shelf.do(f"{'back' if away else 'away'} {hit.key}"):
            self.bench.desk.said.emit(
                f"{name_of(hit.card)} is {'offered again' if away else 'put away: jobs that carry it keep it'}. U goes back."
            )

    def delete(self) -> None:
        """Delete the chosen card from the shelf; jobs keep what they carry."""
        hit = self.choice.hit()
        if hit is None or not self.choice.shelf.do(f"delete {hit.key}"):
            return
        self.bench.desk.said.emit(f"{name_of(hit.card)} is off the shelf; jobs that carry it keep it. U goes back.")
        if self.choice.card() is None:
            self.first()

    def hold(self) -> None:
        """Hold the chosen card beside others; the same one again puts it back."""
        hit = self.choice.hit()
        if hit is None:
            return
        self.choice.held = "" if self.choice.held == hit.key else hit.key
        said = f"{name_of(hit.card)} is held. Choose another of its sort: both stand beside each other. C puts it back."
        self.bench.desk.said.emit(said if self.choice.held else "Nothing is held any more.")
        self.bench.refresh()

    # -------------------------------------------------------------------------------------- rows
    def _value(self) -> tuple[Found, Row] | None:
        """The chosen card, and the row of its sheet that is chosen."""
        row, hit = self.sheet.item(), self.choice.hit()
        if row is None or hit is None:
            return None
        return hit, row.one if isinstance(row, Beside) else row

    def type_row(self, first: str = "") -> None:
        """Open the line to type a row of the sheet into; “from …” at its end says where the value comes from."""
        if not (at := self._value()):
            return
        hit, row = at
        choices = f" ({', '.join(row.choices)})" if row.choices else ""
        self._ask(
            "",
            f"{row.label}{choices}",
            row.text,
            lambda words: self._typed_row(hit, row.key, words),
            self.sheet,
            self._cell_area(),
            first,
        )

    def _cell_area(self) -> QRectF:
        area = self.sheet.area_of(self.sheet.rows.index(max(0, self.sheet.currentIndex().row()), 1))
        return QRectF(area.left(), area.top(), self.bench.width() - area.left() - 30, area.height())

    def _typed_row(self, hit: Found, key: str, words: str) -> bool:
        if not self._with_card(
            hit, lambda card: read_row(card, key, words, self.bench.desk.system, self.bench.desk.job.shop.currency), key
        ):
            return False
        card = self.choice.card()
        family = next((f for f in self.choice.shelf.families if f.id == getattr(card, "family", "")), None)
        if family and any(usual.field == key for usual in family.odd(card)):
            self.bench.desk.said.emit(f"Kept. It is beyond what {family.id} usually has: is the unit right?")
        return True

    def _with_card(self, hit: Found, make: Callable[[Any], Any], what: str) -> bool:
        room = self.choice.shelf.room
        try:
            card = make(room.stock.card(hit.sort.name, hit.card.id))
        except UserError as trouble:
            self.bench.desk.said.emit(str(trouble))
            return False
        return self.choice.shelf.change(
            f"{name_of(hit.card)}, {what}", replace(room, stock=room.stock.with_card(hit.sort.name, card))
        )

    def type_source(self) -> None:
        """Ask where the value of a row comes from."""
        if not (at := self._value()):
            return
        hit, row = at

        def take(words: str) -> bool:
            return self._with_card(hit, lambda card: with_source(card, row.key, words), row.key)

        self._ask("", f"{row.label} comes from", row.source, take, self.sheet, self._cell_area())

    def empty_row(self) -> None:
        """Take the value of a row away: nobody has said."""
        if at := self._value():
            hit, row = at
            self._typed_row(hit, row.key, "")

    # --------------------------------------------------------------------------------- and the job
    def doings(self) -> list[tuple[str, str, Callable[[], None]]]:
        """What stands at the foot of the sheet: name, words, what is done."""
        hit = self.choice.hit()
        if hit is None:
            return []
        mine = self.choice.in_job()
        take = {
            "stages": "shoot on this stage",
            "bought": f"a piece of {self.bench.desk.build.called}" if self.bench.desk.chosen else "",
            "bodies": f"pieces of {self.bench.desk.build.called} …" if self.bench.desk.chosen else "",
        }
        usual = (
            "take into this job"
            if mine is None
            else ""
            if mine == hit.card or self.choice.newer()
            else "take it as it is here"
        )
        words = take.get(hit.sort.name, usual)
        found = [("take", words, self.take)] if words else []
        if mine is not None and mine != hit.card and not self.choice.newer():
            found.append(("put", "put the job’s on the shelf", self.put_on_shelf))
        if hit.sort.name == "cameras" and mine is not None and self.bench.desk.job.shop.camera != hit.card.id:
            found.append(("use", "shoot with it", self.use_camera))
        if self._is_camera(hit) and len(mine.modes) > 1:
            found.append(("mode", f"mode: {mine.mode(self.bench.desk.job.shop.mode).name}", self.next_mode))
        found.append(("hold", "put it back" if self.choice.held == hit.key else "hold beside others", self.hold))
        found.append(("copy", "copy", self.ask_copy))
        found.append(
            ("away", "bring back" if hit.key in self.choice.shelf.room.put_away else "put away", self.turn_away)
        )
        return found

    def take(self) -> None:
        """Take the chosen card into the job; a stage is then the one shot on, a bought thing a piece of the chosen build."""
        hit = self.choice.hit()
        if hit is None:
            return
        if hit.sort.name == "bought":
            self._take_bought(hit)
            return
        if hit.sort.name == "bodies":
            self._ask_body(hit)
            return
        stock, name = self.choice.shelf.room.stock, name_of(hit.card)
        said = f"{name} is the stage that is shot on." if hit.sort.name == "stages" else f"This job carries {name}."
        self.choice.shelf.in_job(f"{name}, from the shelf", lambda job: taken(job, stock, hit.key), said)

    def _take_bought(self, hit: Found) -> None:
        if not self.bench.desk.chosen:
            self.bench.desk.said.emit("A bought thing becomes a piece of a build: begin one first.")
            return
        try:
            line = bought_line(self.bench.desk.job, self.choice.shelf.room.stock, hit.card.id, self.bench.desk.chosen)
        except UserError as trouble:
            self.bench.desk.said.emit(str(trouble))
            return
        self.bench.desk.do(line)

    def _ask_body(self, hit: Found) -> None:
        """Ask how the body is taken: of another stature or weight, reduced, built over; nothing for as it is."""
        if not self.bench.desk.chosen:
            self.bench.desk.said.emit("A body becomes pieces of a build: begin one first.")
            return
        self.bench.desk.said.emit(
            "As it is, or: 1.71 m, 66 kg, reduced 8 % (for a suit that stretches on), over 12 mm (built over). Enter makes its pieces."
        )

        def take(words: str) -> bool:
            return self.bench.desk.do(f"body {self.bench.desk.chosen}: {hit.card.id}, {words}")

        self._ask("take", "stature, weight, reduced, over", "", take, None)

    def use_camera(self) -> None:
        """Shoot with the chosen camera."""
        hit = self.choice.hit()
        if hit is not None:
            self.choice.shelf.in_job(f"shot with {name_of(hit.card)}", lambda job: replace(job, shop=replace(job.shop, camera=hit.card.id, mode="")),
                              f"{name_of(hit.card)} is the camera.")  # fmt: skip

    def _is_camera(self, hit: Found) -> bool:
        """Whether a card is that of the camera that is shot with."""
        return (
            hit.sort.name == "cameras"
            and self.bench.desk.job.shop.camera == hit.card.id
            and self.choice.in_job() is not None
        )

    def next_mode(self) -> None:
        """Record in the next mode of the camera that is shot with."""
        hit = self.choice.hit()
        if hit is None or not self._is_camera(hit):
            self.bench.desk.said.emit("Choose the camera that is shot with: its modes are its own.")
            return
        modes = self.choice.in_job().modes
        now = self.choice.in_job().mode(self.bench.desk.job.shop.mode)
        name = modes[(modes.index(now) + 1) % len(modes)].name
        self.choice.shelf.in_job(
            f"mode {name}",
            lambda job: replace(job, shop=replace(job.shop, mode=name)),
            f"The camera records in the mode “{name}”.",
        )

    def _asked(self) -> Newer | None:
        """What the shelf has newer of the chosen card; where it has nothing that is said."""
        newer = self.choice.newer()
        if newer is None:
            self.bench.desk.said.emit("Of this card the shelf has nothing newer than the job.")
        return newer

    def follow(self) -> None:
        """Let the job follow the shelf in the chosen card."""
        newer, stock = self._asked(), self.choice.shelf.room.stock
        if newer:
            self.choice.shelf.in_job(
                f"{name_of(newer.mine)} as on the shelf",
                lambda job: followed(job, stock, newer.key),
                f"This job follows: {newer.words}.",
            )

    def leave(self) -> None:
        """Leave the chosen card in the job as it is; nobody is told again of what the shelf has now."""
        newer, stock = self._asked(), self.choice.shelf.room.stock
        if newer:
            self.choice.shelf.in_job(
                f"{name_of(newer.mine)} left as it is",
                lambda job: left_as_is(job, stock, newer.key),
                "It stays as it is in this job.",
            )

    def put_on_shelf(self) -> None:
        """Put the job's own copy of the chosen card on the shelf."""
        hit = self.choice.hit()
        if hit is None or self.choice.in_job() is None:
            return
        room = self.choice.shelf.room
        if self.choice.shelf.change(
            f"{name_of(hit.card)} as in this job",
            replace(room, stock=shelved(room.stock, self.bench.desk.job, hit.key)),
        ):
            self.bench.desk.said.emit(f"The shelf has {name_of(hit.card)} as this job has it. U goes back.")

    def put_down(self) -> None:
        """Take the chosen card out of the job, where nothing uses it."""
        hit = self.choice.hit()
        if hit is not None and self.choice.in_job() is None:
            self.bench.desk.said.emit(f"This job carries no {name_of(hit.card)}.")
        elif hit is not None:
            self.choice.shelf.in_job(
                f"without {name_of(hit.card)}",
                lambda job: put_down(job, hit.key),
                f"This job no longer carries {name_of(hit.card)}.",
            )

    # -------------------------------------------------------------------------------------- files
    def choose_table(self) -> None:
        """Ask for a table of cards of the open sort."""
        path = ask_to_read(self.bench, f"A table of {self.choice.sort}", "cards", offered("Tables", "cards"))
        if path:
            self.choice.shelf.read_table(path, self.choice.sort)

    def choose_target(self) -> None:
        """Ask where to write the cards of the open sort."""
        chosen = ask_to_write(
            self.bench, f"Write the {self.choice.sort}", "cards", f"{self.choice.sort}.xlsx", offered_to_write("cards")
        )
        if chosen:
            self.choice.shelf.write_table(chosen[0], self.choice.sort)
