"""What of the shelf is looked at: which sort, by which words, which card, which one is held beside it."""

from __future__ import annotations

from typing import Any

from homunculus.app.shelf import ShopShelf
from homunculus.core.job.job import Job
from homunculus.core.shelf.finding import Found, group_of
from homunculus.core.shelf.stock import sort_of
from homunculus.core.shelf.taking import Newer, carried


class Choice:
    """What is chosen of a ``shelf``."""

    def __init__(self, shelf: ShopShelf) -> None:
        self.shelf = shelf
        self.sort, self.words, self.only_newer = "materials", "", False
        self.key = ""
        """Of the card that is chosen, as sort and id."""
        self.held = ""
        """Of the card that others stand beside."""

    @property
    def job(self) -> Job:
        """The job that takes from it."""
        return self.shelf.desk.job

    def hit(self) -> Found | None:
        """The card that is chosen, with where it stands."""
        name, _, card_id = self.key.partition("/")
        if not name:
            return None
        sort = sort_of(name)
        card = next((c for c in self.shelf.room.stock.of(sort.name) if c.id == card_id), None)
        return Found(sort, card, group_of(sort, card)) if card is not None else None

    def card(self) -> Any:
        """The card that is chosen, or none."""
        hit = self.hit()
        return hit.card if hit else None

    def other(self) -> Any:
        """The card that is held beside it, where it is of the same sort."""
        hit = self.hit()
        sort, _, card_id = self.held.partition("/")
        if not hit or not self.held or sort != hit.sort.name or card_id == hit.card.id:
            return None
        return next((card for card in self.shelf.room.stock.of(sort) if card.id == card_id), None)

    def newer(self) -> Newer | None:
        """What the shelf has newer of the chosen card than the job."""
        return next((one for one in self.shelf.newer() if one.key == self.key), None)

    def in_job(self) -> Any:
        """The job's own copy of the chosen card, or none."""
        hit = self.hit()
        return next((card for card in carried(self.job, hit.sort) if card.id == hit.card.id), None) if hit else None
