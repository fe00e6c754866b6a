"""The shop's own shelf, in the user's data folder: what it has beside and instead of the cards that ship.

Several processes may edit it at once. Each edit is applied to what stands there at that moment, under a lock, and the file is
replaced whole; an edit of something that somebody else changed meanwhile is refused, and nothing is lost.
"""

from __future__ import annotations

import fcntl
import os
import time
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import datetime
from pathlib import Path

import msgspec
from msgspec import Struct
from msgspec.structs import replace

from homunculus import library
from homunculus.core.edits.edit import Edit, apply_all
from homunculus.core.errors import UserError
from homunculus.core.job.ways import Shelf
from homunculus.core.shelf.stock import SORTS, Stock, Storeroom, doubt_about_stock
from homunculus.store.atomic import could_not_write, read_bounded, write_atomically
from homunculus.store.places import data_home

SCHEMA = 1
MOST_BYTES = 100_000_000
BACKUPS_KEPT = 30
WAIT_S = 5.0
"""How long one process waits for another one's edit."""


class _Document(Struct, frozen=True, forbid_unknown_fields=True):
    """The content of ``shelf.json``: what is otherwise than in the library."""

    schema: int
    own: Stock = Stock()
    gone: tuple[str, ...] = ()
    """Cards of the library that somebody took away."""
    put_away: tuple[str, ...] = ()
    saved: str = ""


_DECODER = msgspec.json.Decoder(_Document)


class ShelfFolder:
    """The shelf's folder.

    Parameters
    ----------
    path
        The folder; that of the user where left out. It is made when the first card is put in.
    """

    def __init__(self, path: Path | None = None) -> None:
        self.path = path or data_home() / "shelf"
        self.file = self.path / "shelf.json"
        self._seen: tuple[int, int, int] | None = None
        self._room: Storeroom | None = None

    def read(self) -> Storeroom:
        """The shelf as it stands; without a file, what ships.

        Raises
        ------
        UserError
            When the file is damaged or newer; it is then as it was.
        """
        look = self._look()
        if self._room is None or look != self._seen:
            self._room = _room_of(self._document())
            self._seen = look
        return self._room

    def changed(self) -> bool:
        """Whether somebody else wrote the file since it was last read here."""
        return self._room is not None and self._look() != self._seen

    def edit(self, edits: tuple[Edit, ...], now: datetime) -> Storeroom:
        """Apply ``edits`` to the shelf as it stands on the disk and keep what comes of them.

        Parameters
        ----------
        edits
            On a :class:`Storeroom`.
        now
            For the dated copy of what was there.

        Raises
        ------
        UserError
            When something else stands there by now than an edit was made for, the shelf could not be so, or it cannot be written.
        """
        with self._held():
            before = self._bytes()
            document = _decoded(before, str(self.file)) if before is not None else _Document(SCHEMA)
            after = apply_all(_room_of(document), edits)
            if doubt := doubt_about_stock(after.stock):
                raise UserError(doubt, remedy="Choose another name, or mend it first")
            if before is not None:
                self._back_up(before, now)
            written = replace(_document_of(after), saved=f"{datetime.now():%Y-%m-%dT%H:%M:%S.%f}")
            write_atomically(
                self.file, msgspec.json.format(msgspec.json.encode(written, order="deterministic"), indent=1) + b"\n"
            )
            self._room, self._seen = _room_of(written), self._look()
        return self._room

    def recover(self) -> str:
        """Put the newest good copy in place of a damaged file, which is kept beside it; say what was done.

        Raises
        ------
        UserError
            When the file is whole, or no copy can be read.
        """
        with self._held():
            data = self._bytes()
            try:
                _decoded(data or b"", str(self.file))
            except UserError:
                pass
            else:
                raise UserError("The shelf is whole; nothing was changed", str(self.file), "Go on as usual")
            good = []
            for copy in (self.path / "backups").glob("shelf-*.json"):
                try:
                    content = read_bounded(copy, MOST_BYTES, "The copy")
                    good.append((_decoded(content, str(copy)).saved, copy.name, content))
                except UserError:
                    continue
            aside = f"shelf-damaged-{datetime.now():%Y-%m-%d-%H%M%S}.json"
            if data is not None:
                self.file.rename(self.path / aside)
            if good:
                write_atomically(self.file, max(good)[2])
            self._room = None
        said = (
            f"The shelf is as it was in {max(good)[1]}."
            if good
            else "No copy was there: the shelf is as the program ships it."
        )
        return said + (f" The damaged file is kept as {aside}." if data is not None else "")

    # ------------------------------------------------------------------------------------------ files
    def _look(self) -> tuple[int, int, int] | None:
        try:
            about = self.file.stat()
        except OSError:
            return None
        return about.st_ino, about.st_size, about.st_mtime_ns

    def _bytes(self) -> bytes | None:
        if not self.file.exists() and not self.file.is_symlink():
            return None
        return read_bounded(self.file, MOST_BYTES, "The shelf")

    def _document(self) -> _Document:
        data = self._bytes()
        return _decoded(data, str(self.file)) if data is not None else _Document(SCHEMA)

    @contextmanager
    def _held(self) -> Iterator[None]:
        """Keep all other processes from writing until it is done."""
        try:
            self.path.mkdir(parents=True, exist_ok=True)
            lock = os.open(self.path / "lock", os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW, 0o644)
        except OSError as trouble:
            raise could_not_write(self.path, trouble) from trouble
        try:
            until = time.monotonic() + WAIT_S
            while True:
                try:
                    fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
                    break
                except OSError:
                    if time.monotonic() > until:
                        raise UserError(
                            "Another program holds the shelf", str(self.path), "Try again in a moment"
                        ) from None
                    time.sleep(0.01)
            yield
        finally:
            os.close(lock)

    def _back_up(self, data: bytes, now: datetime) -> None:
        """A dated copy of what was there, once a day and hour."""
        folder = self.path / "backups"
        copy = folder / f"shelf-{now:%Y-%m-%d-%H}.json"
        try:
            if copy.exists():
                return
            folder.mkdir(exist_ok=True)
            old = sorted(folder.glob("shelf-*.json"))
        except OSError as trouble:
            raise could_not_write(folder, trouble) from trouble
        write_atomically(copy, data)
        for one in old[: max(0, len(old) + 1 - BACKUPS_KEPT)]:
            one.unlink(missing_ok=True)


def _decoded(data: bytes, where: str) -> _Document:
    remedy = "“homunculus shelf recover” takes the newest good copy"
    try:
        document = _DECODER.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as trouble:
        raise UserError(f"The shelf cannot be read ({str(trouble)[:200]})", where, remedy) from None
    if document.schema > SCHEMA:
        raise UserError(f"This shelf was saved by a newer version (schema {document.schema}; this one knows {SCHEMA})", where,
                        "Open it with the newer version; nothing was touched")  # fmt: skip
    if doubt := doubt_about_stock(document.own):
        raise UserError(doubt, where, remedy)
    return document


def _room_of(document: _Document) -> Storeroom:
    """The library with the shop's own cards in their places and behind; what was taken away is not there."""
    shipped, gone, found = library.stock(), set(document.gone), {}
    for sort in SORTS:
        own = {card.id: card for card in document.own.of(sort.name)}
        cards = [own.pop(c.id, c) for c in shipped.of(sort.name) if f"{sort.name}/{c.id}" not in gone]
        found[sort.name] = (*cards, *own.values())
    return Storeroom(Stock(**found), document.put_away)


def _document_of(shelf: Storeroom) -> _Document:
    """What of a ``shelf`` is otherwise than in the library."""
    shipped = library.stock()
    own, gone = {}, []
    for sort in SORTS:
        known = {card.id: card for card in shipped.of(sort.name)}
        here = shelf.stock.of(sort.name)
        own[sort.name] = tuple(card for card in here if known.get(card.id) != card)
        gone += [f"{sort.name}/{card_id}" for card_id in known.keys() - {card.id for card in here}]
    return _Document(SCHEMA, Stock(**own), tuple(sorted(gone)), shelf.put_away)


def to_take_from(folder: ShelfFolder | None = None) -> Shelf:
    """What a job may take from: the offered materials of the shop's own shelf in its ``folder``, and the ways and kinds that ship.

    Raises
    ------
    UserError
        When the shelf cannot be read.
    """
    return taken_from((folder or ShelfFolder()).read().offered)


def taken_from(offered: Stock) -> Shelf:
    """What a job may take where a shelf has ``offered`` these cards: them, and the ways and kinds that ship."""
    return replace(
        library.shelf(),
        materials=offered.materials,
        bodies=offered.bodies,
        cameras=offered.cameras,
        lenses=offered.lenses,
    )
