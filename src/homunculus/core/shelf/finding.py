"""Finding cards on a shelf, and beginning new ones."""

from __future__ import annotations

import re
from typing import Any, NamedTuple

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.bodies import BODY_PARTS, BodyCard
from homunculus.core.job.cards import HazardCard, MaterialCard
from homunculus.core.job.sourced import Sourced
from homunculus.core.shelf.sheet import NOBODY, rows, with_source
from homunculus.core.shelf.stock import Family, Sort, Stock, sort_of


class Found(NamedTuple):
    """A card that was found, with where it stands."""

    sort: Sort
    card: Any
    group: str
    """Of a material its family, else its sort."""

    @property
    def key(self) -> str:
        """What it is known by among all cards."""
        return f"{self.sort.name}/{self.card.id}"


def name_of(card: Any) -> str:
    """What a ``card`` is called; a caution by its first words."""
    return " ".join(card.words.split()[:7]).rstrip(".,;:") if isinstance(card, HazardCard) else str(card.name)


def found(stock: Stock, families: tuple[Family, ...], words: str = "", sort: str = "") -> tuple[Found, ...]:
    """The cards of a ``stock`` that all of some ``words`` tell of, materials in the order of their ``families``.

    A word may be part of a name, a family, where the family stands, a trait, a skill, a colour or a choice; of one ``sort`` only, where one
    is named.
    """
    order = {family.id: i for i, family in enumerate(families)}
    stands = {family.id: family.shelf for family in families}
    asked = [word for word in re.split(r"[\s,]+", words.casefold()) if word]
    hits = [
        Found(one, card, group_of(one, card)) for one, card in stock.cards()
        if (not sort or one.name == sort) and (not asked or _tells(one, card, stands, asked))
    ]  # fmt: skip
    return tuple(
        sorted(hits, key=lambda f: order.get(f.group, len(order)) if f.sort.name == "materials" else len(order) + 1)
    )


def group_of(sort: Sort, card: Any) -> str:
    """What a ``card`` of a ``sort`` stands among."""
    return card.family if isinstance(card, MaterialCard) else sort.name


def _tells(sort: Sort, card: Any, stands: dict[str, str], asked: list[str]) -> bool:
    said = [sort.name, sort.one, card.id, name_of(card)]
    for field in ("family", "traits", "skills", "colour", "does", "clock", "families", "words"):
        value = getattr(card, field, "")
        said += value if isinstance(value, tuple) else [value]
    said.append(stands.get(getattr(card, "family", ""), ""))
    text = " ".join(said).casefold()
    return all(word in text for word in asked)


def new_id(name: str, taken: set[str]) -> str:
    """An id made of a ``name`` that is not ``taken``."""
    stem = "-".join(re.findall(r"[^\W_]+", name.casefold()))[:40] or "card"
    return next(i for i in (stem, *(f"{stem}-{n}" for n in range(2, len(taken) + 3))) if i not in taken)


def copied(stock: Stock, sort: str, card_id: str, name: str) -> Any:
    """A copy of a card of a ``sort`` in a ``stock``, under another ``name``; its values say from where they came.

    Raises
    ------
    UserError
        When there is no card of that ``card_id``, or the name is empty.
    """
    card = stock.card(sort, card_id)
    words = _named(name)
    return replace(card, id=new_id(words, {one.id for one in stock.of(sort_of(sort).name)}),
                   **{"words" if isinstance(card, HazardCard) else "name": words})  # fmt: skip


def begun(stock: Stock, families: tuple[Family, ...], sort: str, line: str) -> Any:
    """A new card as a line says it: “very soft silicone: silicone” for a material and its family, a name for all others.

    Values that such a card must have begin with what is usual, and say that nobody has said so.

    Parameters
    ----------
    stock
        For an id that is free, and for what other cards of that sort are like.
    families
        Of materials.
    sort
        Which sort of card.
    line
        As typed.

    Raises
    ------
    UserError
        When the line has no name, or names a family that there is not.
    """
    found_sort = sort_of(sort)
    name, _, kind = (part.strip() for part in line.partition(":"))
    words = _named(line if found_sort.name == "hazards" else name)
    card_id = new_id(words, {card.id for card in stock.of(found_sort.name)})
    if found_sort.name == "materials":
        return _of_family(card_id, words, kind, families)
    like = next(iter(stock.of(found_sort.name)), None)
    if found_sort.name in ("people", "bought"):
        return found_sort.card(card_id, words)
    if found_sort.name == "bodies":  # a performer begins like another body of that part, and is then measured
        part = kind or "whole"
        if part not in BODY_PARTS:
            raise UserError(
                f"“{kind}” is no part of a body",
                remedy=f"Write a name and {', '.join(BODY_PARTS)}, such as “Ines: whole”",
            )
        other = next((card for card in stock.bodies if card.part == part), None)
        return replace(_unsaid(other), id=card_id, name=words) if other else BodyCard(card_id, words, part)
    if like is None:
        raise UserError(
            f"There is no {found_sort.one} yet that a new one could begin like", remedy="Take one in from a table"
        )
    if isinstance(like, HazardCard):
        return HazardCard(card_id, words, "the data sheet and the local code", ("work",), (), (), ())
    return replace(_unsaid(like), id=card_id, name=words)


def _named(name: str) -> str:
    words = " ".join(name.split())
    if not words:
        raise UserError("A card has a name", remedy="Type one")
    return words


def _of_family(card_id: str, name: str, kind: str, families: tuple[Family, ...]) -> MaterialCard:
    asked = kind.casefold() or name.casefold()
    hits = [f for f in families if f.id == asked] or [f for f in families if f.id in asked.split() or f.id in asked]
    family = max(hits, key=lambda f: len(f.id), default=None)
    if family is None:
        raise UserError(f"“{kind or name}” names no family", remedy="Write name and family, such as “very soft silicone: silicone”; "
                        f"there are {', '.join(f.id for f in families)}")  # fmt: skip
    usual = {u.field: (u.least + u.most) / 2 for u in family.usual}
    return MaterialCard(card_id, name, family.id, Sourced(usual.get("density_kg_m3", 1000.0), NOBODY), family.traits,
                        clock=family.clock, degassed=family.degassed, bonds_to=family.bonds_to)  # fmt: skip


def _unsaid(card: Any) -> Any:
    """A ``card`` whose every value says that nobody has said it."""
    for row in rows(card):
        if row.sourced and row.text:
            card = with_source(card, row.key, NOBODY)
    return card
