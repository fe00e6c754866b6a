"""The shop's shelf in the window: edited through its folder, one change at a time, each taken back by U; tables in and out."""

from __future__ import annotations

import threading
from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any, NamedTuple, TypeVar

from msgspec.structs import replace
from PySide6.QtCore import QObject, QTimer

from homunculus import library
from homunculus.app.editor import SO_ALREADY, Editor, way_back
from homunculus.app.matching import padded, read_rows, remember_match, remembered, write_table
from homunculus.app.to_match import ToMatch
from homunculus.core.edits.edit import Edit, edits_between, inverses
from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.job.ways import Shelf
from homunculus.core.plan.ledger import Moved, moved_builds
from homunculus.core.plan.memory import Memory
from homunculus.core.shelf.finding import name_of
from homunculus.core.shelf.lines import do_line
from homunculus.core.shelf.stock import Family, Storeroom
from homunculus.core.shelf.taking import Newer, followed, newer
from homunculus.store.shelf import ShelfFolder, taken_from

MOST_CHANGES = 500
TELL_AFTER_MS = 1000
Made = TypeVar("Made")


class _Done(NamedTuple):
    """A change that can be taken back: of the shelf by its edits, or of the job from what it was to what it became."""

    name: str
    edits: tuple[Edit, ...] = ()
    job: tuple[Job, Job] | None = None


class ShopShelf(QObject):
    """What the shelf bench works on.

    Parameters
    ----------
    desk
        Whose job takes from it.
    """

    def __init__(self, desk: Editor) -> None:
        super().__init__()
        self.desk = desk
        self.folder = ShelfFolder()
        self.trouble = ""
        """Why the shop's own shelf cannot be read; what ships is shown then, and nothing is written."""
        self._room: Storeroom | None = None
        self._done: list[_Done] = []
        self._undone: list[_Done] = []
        self._memory = Memory()

    @property
    def room(self) -> Storeroom:
        """The shelf as it stands; read when it is first asked for, for a start needs none of it."""
        return self._room or self._read()

    def _read(self) -> Storeroom:
        try:
            self._room, self.trouble = self.folder.read(), ""
        except UserError as trouble:
            self._room, self.trouble = Storeroom(library.stock()), str(trouble)
        return self._room

    def warm(self) -> None:
        """Read the cards that ship in a thread of its own, beside the window, so that nobody waits for them later."""
        threading.Thread(target=library.stock, name="cards", daemon=True).start()
        QTimer.singleShot(TELL_AFTER_MS, self, self.tell)

    def tell(self) -> None:
        """Say once, after the job was opened, that the shelf has newer cards than it carries; nothing is done by itself."""
        hits = self.newer()
        if hits:
            more = f" and {len(hits) - 2} more" if len(hits) > 2 else ""
            names = " and ".join(name_of(hit.mine) for hit in hits[:2]) + more
            self.desk.said.emit(
                f"The shelf has other values by now of what this job uses: {names}. K, then Y, shows what following would move."
            )

    @property
    def families(self) -> tuple[Family, ...]:
        """The families of materials."""
        return library.families()

    @property
    def to_take(self) -> Shelf:
        """What a job may take from: the same object as long as the shelf is."""
        return self._memory.get("to take", (self.room,), lambda: taken_from(self.room.offered))

    def look_again(self) -> None:
        """Read it again where somebody else wrote it."""
        if self.folder.changed():
            self._read()
            self.desk.shelf_moved()

    # ------------------------------------------------------------------------------------ editing
    def do(self, line: str) -> str:
        """Run a typed line; return the card that it was about, or nothing where it could not be run, which is said."""
        currency = self.desk.job.shop.currency
        try:
            room, key = do_line(self.room, line, self.families, self.desk.system, currency)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return ""
        return key if self.change(" ".join(line.split())[:60], room) else ""

    def change(self, name: str, room: Storeroom) -> bool:
        """Keep the shelf as it is in another ``room``, as one change of a ``name``; false, with a sentence, when it cannot be."""
        edits = edits_between(self.room, room)
        if not edits:
            return True
        if not self._apply(edits):
            return False
        self._done = [*self._done, _Done(name, edits)][-MOST_CHANGES:]
        self._undone = []
        return True

    def _apply(self, edits: tuple[Edit, ...]) -> bool:
        if self.trouble:
            self.desk.said.emit(self.trouble)
            return False
        try:
            self._room = self.folder.edit(edits, self.desk.now())
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            self._read()
            return False
        finally:
            self.desk.shelf_moved()
        return True

    def in_job(self, name: str, make: Callable[[Job], Job], said: str) -> None:
        """Change the job by something of the shelf, as one of its own changes, and say so; or why it cannot be."""
        try:
            job = make(self.desk.job)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        before = self.desk.job
        if job == before:
            self.desk.said.emit(SO_ALREADY)
            return
        if not self.desk.edit(name, job):
            return
        self._done.append(_Done(name, job=(before, self.desk.job)))
        self._undone = []
        self.desk.said.emit(f"{said} U goes back.")

    def undo(self) -> None:
        """Go back one change of the shelf, or of the job where the last one made from here was of it."""
        if not self._done:
            self.desk.said.emit("There is no change of the shelf to go back on.")
            return
        done = self._done.pop()
        if done.job is not None:
            gone = self._job_step(done, done.job[1], self.desk.undo)
        else:
            gone = self._apply_step("Went back on", done, inverses(done.edits))
        if gone:
            self._undone.append(done)

    def redo(self) -> None:
        """Make the change again that was gone back on."""
        if not self._undone:
            self.desk.said.emit("There is no change of the shelf to do again.")
            return
        done = self._undone.pop()
        if done.job is not None:
            made = self._job_step(done, done.job[0], self.desk.redo)
        else:
            made = self._apply_step("Did again", done, done.edits)
        if made:
            self._done.append(done)

    def _apply_step(self, words: str, done: _Done, edits: tuple[Edit, ...]) -> bool:
        if not self._apply(edits):
            return False
        self.desk.said.emit(f"{words}: {done.name}.")
        return True

    def _job_step(self, done: _Done, stands: Job, step: Callable[[], None]) -> bool:
        """Step the job where it ``stands`` as that change left it; over what was done elsewhere since, nothing is stepped."""
        if self.desk.job != stands:
            self.desk.said.emit(f"The job was changed elsewhere since “{done.name}”: go back on that at its own bench.")
            return False
        step()
        return True

    # ------------------------------------------------------------------------- what the job has of it
    def newer(self) -> tuple[Newer, ...]:
        """The cards of the job of which the shelf has others by now."""
        job = self.desk.job
        return self._memory.get("newer", (job.cards, job.shop, job.left, self.room, self.desk.system),
                          lambda: newer(job, self.room.offered, self.desk.system))  # fmt: skip

    def would_move(self, key: str) -> tuple[tuple[Build, tuple[Moved, ...]], ...]:
        """What following the shelf in the card ``key`` would move, build by build."""
        job = self.desk.job
        return self._memory.get(f"move {key}", (job, self.room, self.desk.facts),
                          lambda: moved_builds(self.desk.plan, self.desk.plan_of(followed(job, self.room.offered, key))))  # fmt: skip

    # ------------------------------------------------------------------------------------- tables
    def read_table(self, path: Path, sort: str) -> None:
        """Read a table of cards of a ``sort`` and ask which of its columns are which."""
        read_rows(self.desk, path, "cards", lambda rows: self._match(path.name, rows, sort))

    def _match(self, name: str, rows: list[list[str]], sort: str) -> None:
        from homunculus.exchange.card_table import cards_from_table, columns_of, guess_columns

        def trial(columns: tuple[str, ...]) -> Any:
            source = f"{name}, {self.desk.now().date().isoformat()}"
            return cards_from_table(rows, columns, self.room.stock, sort, self.families, source, self.desk.system)

        rows = padded(rows)
        guess = guess_columns(rows[0], sort, remembered(sort))
        self.desk.match(
            ToMatch(
                name,
                rows,
                guess,
                columns_of(sort),
                "card",
                "shelf",
                trial,
                partial(self._take, name, rows, sort, trial),
            )
        )

    def _take(
        self,
        name: str,
        rows: list[list[str]],
        sort: str,
        trial: Callable[[tuple[str, ...]], Any],
        columns: tuple[str, ...],
    ) -> bool:
        from homunculus.exchange.card_table import card_words

        try:
            read = trial(columns)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        remember_match(sort, rows[0], columns)
        before = self.room
        if not self.change(f"cards from {name}", replace(self.room, stock=read.stock)):
            return False
        self.desk.said.emit(f"{card_words(name, read)} {way_back(changed=self.room is not before)}")
        return True

    def write_table(self, path: Path, sort: str) -> None:
        """Write all cards of a ``sort`` that are offered to a file, of the kind that its ending names."""
        cards = self.room.offered.of(sort)
        write_table(self.desk, path, "cards", (cards, sort), f"Wrote {len(cards)} {sort}")
