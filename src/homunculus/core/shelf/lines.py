"""Edits of the shelf as typed lines: what the shelf bench does, the go-to box and the command line do in the same words.

::

    new material: very soft silicone: silicone
    row materials/very-soft-silicone: price: 31 a kg from data sheet, March
    copy lenses/prime-50: 50 mm, the old one
    away materials/clay-sulphur
    back materials/clay-sulphur
    delete materials/very-soft-silicone
"""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.quantities import System
from homunculus.core.shelf.finding import begun, copied
from homunculus.core.shelf.sheet import read_row
from homunculus.core.shelf.stock import Family, Stock, Storeroom, sort_of

VERBS = ("new", "row", "copy", "away", "back", "delete")
EXAMPLE = "Write new, row, copy, away, back or delete, such as “row materials/silicone-tin-soft: price: 26 a kg from data sheet”"


def do_line(
    room: Storeroom, line: str, families: tuple[Family, ...], system: System = "metric", currency: str = "€"
) -> tuple[Storeroom, str]:
    """Run one line.

    Parameters
    ----------
    room
        The shelf as it is.
    line
        As typed.
    families
        Of materials.
    system, currency
        In which bare numbers and prices are.

    Returns
    -------
    tuple
        The shelf that it leads to, and which card it was about.

    Raises
    ------
    UserError
        When it cannot be read or done; the message says what can.
    """
    verb, _, rest = line.strip().partition(" ")
    if verb not in VERBS or not rest.strip():
        raise UserError(f"“{line.strip()[:60]}” is nothing that a shelf does", remedy=EXAMPLE)
    place, _, words = (part.strip() for part in rest.partition(":"))
    if verb == "new":
        sort = sort_of(place).name
        card = begun(room.stock, families, sort, words)
        return _with(room, room.stock.with_card(sort, card)), f"{sort}/{card.id}"
    name, _, card_id = place.partition("/")
    sort = sort_of(name).name
    card, key = room.stock.card(sort, card_id), f"{sort}/{card_id}"
    if verb == "copy":
        made = copied(room.stock, sort, card_id, words)
        return _with(room, room.stock.with_card(sort, made)), f"{sort}/{made.id}"
    if verb == "row":
        label, colon, value = words.partition(":")
        if not colon:
            raise UserError(f"“{words}” says no row and value", remedy=EXAMPLE)
        return _with(room, room.stock.with_card(sort, read_row(card, label, value, system, currency))), key
    if verb == "delete":
        left = replace(room, put_away=tuple(one for one in room.put_away if one != key))
        return _with(left, room.stock.without(sort, card_id)), key
    hidden = [one for one in room.put_away if one != key]
    return replace(room, put_away=tuple([*hidden, key] if verb == "away" else hidden)), key


def _with(room: Storeroom, stock: Stock) -> Storeroom:
    return replace(room, stock=stock)
