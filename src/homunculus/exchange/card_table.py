"""Cards from a table that anybody wrote, and back: columns are matched, good rows come in, bad ones are named.

A head may say the unit of its numbers: “pot life [min]”. Beside a quantity a column may say where it comes from: “density, from”.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from decimal import Decimal
from typing import Any

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.quantities import Kind, System, decimal_points, parse, without_noise
from homunculus.core.shelf.finding import begun, new_id
from homunculus.core.shelf.sheet import (
    is_list,
    is_sourced,
    keys,
    kind_of_row,
    read_row,
    row_of,
    whole_list,
    with_source,
    with_whole_list,
)
from homunculus.core.shelf.stock import Family, Stock, sort_of
from homunculus.core.showing import so_many
from homunculus.exchange.columns import BadRow, folded, guess
from homunculus.exchange.tables import write_csv, write_spreadsheet

FROM = "/from"
"""At the end of a column's key: where the value of the row before it comes from."""
_UNITS: dict[Kind, str] = {
    "length": "mm", "focal_length": "mm", "mass": "kg", "duration": "min", "volume": "l", "density": "kg/m³", "share": "%", "temperature": "C",
    "areal_density": "g/m²", "energy_per_mole": "kJ/mol", "line_force": "kN/m", "diffusivity": "mm²/s", "pixels": "px",
}  # fmt: skip
"""In which a column's numbers are written."""


class CardTable(Struct, frozen=True):
    """What a table gives for a shelf."""

    stock: Stock
    """The stock with the cards of the table put in."""
    new: tuple[str, ...]
    changed: tuple[str, ...]
    same: int
    bad: tuple[BadRow, ...]
    filled: tuple[str, ...] = ()
    """Sentences about what the table did not say and was filled in."""


def columns_of(sort: str) -> tuple[tuple[str, str], ...]:
    """The columns that a table of a ``sort`` of cards can have: key and head, without units."""
    card = sort_of(sort).card
    found = [("id", "id")]
    for key, label in keys(card):
        found.append((key, label))
        if is_sourced(card, key):
            found.append((key + FROM, f"{label}, from"))
    return tuple(found)


def _unit_in(head: str) -> tuple[str, str]:
    """A head without the unit that it says in brackets, and the unit."""
    match = re.fullmatch(r"(.*?)\s*[\[(]([^\])]*)[\])]\s*", head)
    return (match[1], match[2].strip()) if match else (head, "")


def guess_columns(head: Sequence[str], sort: str, remembered: Mapping[str, str]) -> tuple[str, ...]:
    """Guess for each column of a table which column of a sheet it is.

    Parameters
    ----------
    head
        First row of the table.
    sort
        Of cards.
    remembered
        Keys that a person matched before, by the folded head; empty for “leave out”.

    Returns
    -------
    tuple
        A key for each column, or empty; none twice.
    """
    heads = [words if folded(words) in remembered else _unit_in(words)[0] for words in head]
    return guess(heads, ((key, title, (folded(key),)) for key, title in columns_of(sort)), remembered)


def cards_from_table(rows: Sequence[Sequence[str]], columns: Sequence[str], stock: Stock, sort: str, families: tuple[Family, ...],
                     source: str, system: System = "metric") -> CardTable:  # fmt: skip
    """Read cards from a table.

    Parameters
    ----------
    rows
        With a head.
    columns
        Which column of a sheet each is; empty for those that are left out.
    stock
        The shelf as it is: a row whose id, or else whose name, is there changes that card, cell by cell; empty cells change nothing.
    sort
        Of cards.
    families
        Of materials.
    source
        Where values come from that do not say it themselves.
    system
        In which bare numbers are where their head says no unit.

    Raises
    ------
    UserError
        When no column says how cards are called.
    """
    if not {"id", "name", "words"} & set(columns):
        raise UserError("No column says how a card is called", remedy="Match one column to “name”")
    one = sort_of(sort)
    new, changed, bad, same = [], [], [], 0
    seen: dict[str, int] = {}
    for number, row in enumerate(rows[1:], 2):
        cells = {key: " ".join(cell.split()) for key, cell in zip(columns, row, strict=False) if key}
        if not any(cells.values()):
            continue
        column = "name"
        try:
            card, is_new = _card_of(cells, stock, sort, families)
            if card.id in seen:
                raise UserError(f"{card.id} stands in row {seen[card.id]} already")
            before = card
            for key, words in cells.items():
                column = key
                if words and key not in ("id",) and not key.endswith(FROM):
                    head = rows[0][columns.index(key)]
                    card = _with_cell(card, key, words, _unit_in(head)[1], system, cells.get(key + FROM, "") or source)
            for key, words in cells.items():
                column = key
                if words and key.endswith(FROM) and getattr(card, key.removesuffix(FROM)) is not None:
                    card = with_source(card, key.removesuffix(FROM), words)
        except UserError as trouble:
            bad.append(BadRow(number, dict(columns_of(sort)).get(column, column), str(trouble)))
            continue
        seen[card.id] = number
        if is_new:
            new.append(card.id)
        elif card != before:
            changed.append(card.id)
        else:
            same += 1
        stock = stock.with_card(one.name, card)
    return CardTable(stock, tuple(new), tuple(changed), same, tuple(bad))


def card_words(name: str, read: CardTable) -> str:
    """Say what the table ``name`` gave, as it was ``read``."""
    words = f"{name}: {so_many(len(read.new), 'new card')}, {len(read.changed)} changed, {read.same} as before"
    return words + (f", {so_many(len(read.bad), 'row')} left out." if read.bad else ".")


def _card_of(cells: dict[str, str], stock: Stock, sort: str, families: tuple[Family, ...]) -> tuple[Any, bool]:
    """The card that a row is about, and whether it is a new one."""
    card_id, name = cells.get("id", ""), cells.get("name", "") or cells.get("words", "")
    cards = stock.of(sort_of(sort).name)
    by_name = [c for c in cards if name and getattr(c, "name", "").casefold() == name.casefold()]
    found = next(
        (c for c in cards if card_id and c.id == card_id), by_name[0] if len(by_name) == 1 and not card_id else None
    )
    if found is not None:
        return found, False
    if not name:
        raise UserError("it has no name")
    card = begun(stock, families, sort, f"{name.replace(':', ' ')}: {cells.get('family', '')}")
    return (replace(card, id=new_id(card_id, {c.id for c in cards})) if card_id else card), True


def _with_cell(card: Any, key: str, words: str, unit: str, system: System, source: str) -> Any:
    kind = kind_of_row(type(card), key)
    if is_list(type(card), key):
        with decimal_points():
            return with_whole_list(card, key, words, system, source)
    if kind and unit and re.fullmatch(r"[−-]?[\d.,]+(?:e[+-]?\d+)?", words):
        words = f"{words} {unit}"
    with decimal_points():
        if kind and kind in _UNITS and _reads(words, kind) == _value(card, key):
            return card
        return read_row(card, key, words, system, source=source if is_sourced(type(card), key) else "")


def _value(card: Any, key: str) -> float | None:
    value = getattr(card, key)
    number = getattr(value, "value", value)
    return float(number) if isinstance(number, int | float) else None


def _reads(words: str, kind: Kind) -> float | None:
    sign = -1 if words[:1] in "-−" and kind != "temperature" else 1
    try:
        value = parse(words.lstrip("-−") if sign < 0 else words, kind)
    except UserError:
        return None
    return sign * without_noise(value)


def _cell(card: Any, key: str) -> str:
    """A quantity as its column has it: a bare number in the column's unit where that is exact, else with a unit of its own."""
    if is_list(type(card), key):
        return whole_list(card, key)
    kind, value = kind_of_row(type(card), key), _value(card, key)
    if kind is None or value is None:
        return row_of(card, key).text
    if kind not in _UNITS:
        return _plain(value) if kind != "scale" else row_of(card, key).text
    unit = _UNITS[kind]
    with decimal_points():
        size = 1.0 if kind == "temperature" else parse(f"1 {unit}", kind)
        said = _plain(float(f"{value / size:.12g}"))
        if _reads(f"{said} {unit}", kind) == value:
            return said
        base = next(
            u
            for u in ("m", "kg", "s", "m³", "kg/m³", "kg/m²", "J/mol", "N/m", "m²/s", "px", "C", "%")
            if _is_base(u, kind)
        )
    return f"{_plain(value)} {base}"


def _is_base(unit: str, kind: Kind) -> bool:
    try:
        return parse(f"1 {unit}", kind) in (1.0, 0.01 if kind == "share" else 1.0)
    except UserError:
        return False


def _plain(value: float) -> str:
    return f"{Decimal(repr(value)):f}".removesuffix(".0")


def table_of(cards: Sequence[Any], sort: str) -> list[list[str]]:
    """Return ``cards`` of one ``sort`` as rows of words with a head; columns that none of them fills are left out. Read back they are the same."""
    card_type = sort_of(sort).card
    columns = [("id", "id", [card.id for card in cards])]
    for key, label in keys(card_type):
        kind = kind_of_row(card_type, key)
        unit = f" [{_UNITS[kind]}]" if kind in _UNITS else ""
        columns.append((key, label + unit, [_cell(card, key) for card in cards]))
        if is_sourced(card_type, key):
            columns.append((key + FROM, f"{label}, from", [row_of(card, key).source for card in cards]))
    filled = [(title, cells) for _, title, cells in columns if any(cells)]
    return [[title for title, _ in filled], *([cells[i] for _, cells in filled] for i in range(len(cards)))]


def as_csv(cards: Sequence[Any], sort: str) -> bytes:
    """Write ``cards`` of one ``sort`` as CSV."""
    return write_csv(table_of(cards, sort))


def as_spreadsheet(cards: Sequence[Any], sort: str) -> bytes:
    """Write ``cards`` of one ``sort`` as a spreadsheet."""
    return write_spreadsheet(table_of(cards, sort), sort)
