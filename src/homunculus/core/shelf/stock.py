"""What stands on a shelf: cards of every sort, by sort; and the families that materials belong to."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal, NamedTuple

from msgspec import Meta, Struct
from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.bodies import BodyCard
from homunculus.core.job.bounds import Known
from homunculus.core.job.cameras import CameraCard, LensCard, odd_optics
from homunculus.core.job.cards import ClockKind, HazardCard, MaterialCard, odd_value
from homunculus.core.job.workshop import BoughtCard, Machine, Oven, Person, Scale, StageCard, Vessel

Card = (
    MaterialCard
    | CameraCard
    | LensCard
    | Person
    | Oven
    | Vessel
    | Scale
    | Machine
    | StageCard
    | BoughtCard
    | HazardCard
)
MOST = 20_000
"""Cards of one sort."""


class Sort(NamedTuple):
    """One sort of cards."""

    name: str
    """The field of the stock."""
    one: str
    card: type[Any]
    where: tuple[str, ...]
    """The list of a job that cards of this sort are taken into; none where taking one does something else."""


SORTS = (
    Sort("materials", "material", MaterialCard, ("cards", "materials")),
    Sort("cameras", "camera", CameraCard, ("cards", "cameras")),
    Sort("lenses", "lens", LensCard, ("cards", "lenses")),
    Sort("people", "person", Person, ("shop", "people")),
    Sort("ovens", "oven", Oven, ("shop", "ovens")),
    Sort("vessels", "vessel", Vessel, ("shop", "vessels")),
    Sort("scales", "scale", Scale, ("shop", "scales")),
    Sort("machines", "machine", Machine, ("shop", "machines")),
    Sort("stages", "stage", StageCard, ()),
    Sort("bought", "bought thing", BoughtCard, ()),
    Sort("bodies", "body", BodyCard, ()),
    Sort("hazards", "caution", HazardCard, ("cards", "hazards")),
)


class Stock(Struct, frozen=True, forbid_unknown_fields=True):
    """All cards of a shelf."""

    materials: Annotated[tuple[MaterialCard, ...], Meta(max_length=MOST)] = ()
    cameras: Annotated[tuple[CameraCard, ...], Meta(max_length=MOST)] = ()
    lenses: Annotated[tuple[LensCard, ...], Meta(max_length=MOST)] = ()
    people: Annotated[tuple[Person, ...], Meta(max_length=MOST)] = ()
    ovens: Annotated[tuple[Oven, ...], Meta(max_length=MOST)] = ()
    vessels: Annotated[tuple[Vessel, ...], Meta(max_length=MOST)] = ()
    scales: Annotated[tuple[Scale, ...], Meta(max_length=MOST)] = ()
    machines: Annotated[tuple[Machine, ...], Meta(max_length=MOST)] = ()
    stages: Annotated[tuple[StageCard, ...], Meta(max_length=MOST)] = ()
    bought: Annotated[tuple[BoughtCard, ...], Meta(max_length=MOST)] = ()
    bodies: Annotated[tuple[BodyCard, ...], Meta(max_length=MOST)] = ()
    hazards: Annotated[tuple[HazardCard, ...], Meta(max_length=MOST)] = ()

    def of(self, sort: str) -> tuple[Any, ...]:
        """The cards of a ``sort``."""
        found: tuple[Any, ...] = getattr(self, sort)
        return found

    def cards(self) -> Iterator[tuple[Sort, Any]]:
        """All cards with their sort, in the order of the sorts."""
        return ((sort, card) for sort in SORTS for card in self.of(sort.name))

    def card(self, sort: str, card_id: str) -> Any:
        """Find a card of a ``sort`` by its ``card_id``.

        Raises
        ------
        UserError
            When there is none.
        """
        found = next((card for card in self.of(sort_of(sort).name) if card.id == card_id), None)
        if found is None:
            raise UserError(
                f"There is no {sort_of(sort).one} “{card_id}” on the shelf", remedy="Look for it by its name"
            )
        return found

    def with_card(self, sort: str, card: Any) -> Stock:
        """The stock with a ``card`` of a ``sort`` in place of the one of its id, or as the last of its sort."""
        cards = self.of(sort)
        if any(one.id == card.id for one in cards):
            return replace(self, **{sort: tuple(card if one.id == card.id else one for one in cards)})
        return replace(self, **{sort: (*cards, card)})

    def without(self, sort: str, card_id: str) -> Stock:
        """The stock without the card of a ``sort`` that has the ``card_id``."""
        return replace(self, **{sort: tuple(one for one in self.of(sort) if one.id != card_id)})


class Storeroom(Struct, frozen=True, forbid_unknown_fields=True):
    """A shelf as it is edited: all its cards, those that ship and the shop's own, and which of them were put away."""

    stock: Stock
    put_away: tuple[str, ...] = ()
    """Sort and id of each card that is not offered."""

    @property
    def offered(self) -> Stock:
        """The cards that were not put away."""
        if not self.put_away:
            return self.stock
        hidden = set(self.put_away)
        left = {
            sort.name: tuple(c for c in self.stock.of(sort.name) if f"{sort.name}/{c.id}" not in hidden)
            for sort in SORTS
        }
        return Stock(**left)


def sort_of(name: str) -> Sort:
    """The sort of a ``name``, in the plural or for one.

    Raises
    ------
    UserError
        When there is none.
    """
    found = next((sort for sort in SORTS if name.strip().casefold() in (sort.name, sort.one)), None)
    if found is None:
        raise UserError(f"“{name}” is no sort of card", remedy=f"Choose one of: {', '.join(s.name for s in SORTS)}")
    return found


def doubt_about_stock(stock: Stock) -> str:
    """Say in a sentence why a ``stock`` cannot be; empty when it can."""
    for sort in SORTS:
        ids = [card.id for card in stock.of(sort.name)]
        twice = next((i for i in ids if ids.count(i) > 1), None) if len(set(ids)) < len(ids) else None
        if twice is not None:
            return f"Two {sort.name} are called “{twice}”"
        if not all(ids):
            return f"One of the {sort.name} has no id"
        unnamed = next((c.id for c in stock.of(sort.name) if not getattr(c, "name", "named").strip()), None)
        if unnamed is not None:
            return f"{unnamed} has no name"
    odd = next(
        filter(
            None, [*map(odd_value, stock.materials), *map(odd_optics, stock.cameras), *map(odd_optics, stock.lenses)]
        ),
        "",
    )
    return f"A card has a value that cannot be: {odd}" if odd else ""


class Usual(Struct, frozen=True, forbid_unknown_fields=True):
    """Between which values a field of a family's cards usually lies."""

    field: str
    least: Known
    most: Known


Holder = Literal["pail", "bottle", "jar", "bag", "block", "sheet", "roll", "spool", "bundle"]


class Family(Struct, frozen=True, forbid_unknown_fields=True):
    """A family of materials: where it stands on the shelf, and with what a new card of it begins."""

    id: str
    shelf: str
    holder: Holder
    """What it stands on the shelf in."""
    clock: ClockKind
    degassed: bool
    traits: tuple[str, ...] = ()
    bonds_to: tuple[str, ...] = ()
    usual: tuple[Usual, ...] = ()

    def odd(self, card: MaterialCard) -> Iterator[Usual]:
        """What of a ``card`` lies outside what is usual here."""
        for usual in self.usual:
            sourced = getattr(card, usual.field)
            if sourced is not None and not usual.least <= sourced.value <= usual.most:
                yield usual
