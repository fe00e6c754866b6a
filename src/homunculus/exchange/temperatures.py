"""A logger's temperatures from CSV: one column of moments, one of degrees, whatever stands beside them."""

from __future__ import annotations

import os
import re
from datetime import UTC, datetime
from itertools import pairwise

from msgspec import Struct

from homunculus.core.cure.record import Record
from homunculus.core.errors import UserError
from homunculus.core.log import LogEvent
from homunculus.exchange.tables import read_csv

MOST_BYTES = 20_000_000
MOST_TOLD = 200
"""Rows left out that are told one by one."""
_ISO = re.compile(r"(\d{4})-(\d{1,2})-(\d{1,2})[T ](\d{1,2}):(\d{2})(?::(\d{2})(?:[.,]\d+)?)?Z?")
_DOTTED = re.compile(r"(\d{1,2})\.(\d{1,2})\.(\d{4}),? (\d{1,2}):(\d{2})(?::(\d{2}))?")
_SLASHED = re.compile(r"(\d{1,2})/(\d{1,2})/(\d{4}),? (\d{1,2}):(\d{2})(?::(\d{2}))?")
_DEGREES = re.compile(r"([-+−]?\d{1,3}(?:[.,]\d+)?)\s*(?:°?\s*([CF]))?", re.IGNORECASE)


class Read(Struct, frozen=True):
    """What a file gave: the record, and a sentence for each row that was left out."""

    record: Record
    left_out: tuple[str, ...]


def as_entry(read: Read, name: str) -> LogEvent:
    """The log entry of a logger's file: what was ``read`` from the file of that ``name``, thinned to what a cure can tell, and what was left out."""
    record = read.record.thinned()
    told = [(len(read.record.series), "reading"), (len(record.gaps()), "gap")]
    words = f"{name}: " + ", ".join(f"{count} {what}{'' if count == 1 else 's'}" for count, what in told if count)
    if lost := len(read.left_out):
        rows = "1 row" if lost == 1 else f"{lost} rows" if lost < MOST_TOLD else f"{MOST_TOLD} rows or more"
        words += f", {rows} left out, the first: {read.left_out[0].rstrip('.')}"
    return LogEvent(os.urandom(6).hex(), record.first, "measured", words, until=record.last, series=record.series)


def read_temperatures(data: bytes, name: str) -> Read:
    """Read a logger's CSV.

    Parameters
    ----------
    data
        The file.
    name
        Its name, for messages.

    Raises
    ------
    UserError
        When it is no text, has no column of moments and one of degrees, or its days can be read two ways.
    """
    if len(data) > MOST_BYTES:
        raise UserError(f"{name} is larger than any logger's file ({len(data) // 1_000_000} MB)", name)
    rows = read_csv(data, name)
    when, degrees = _columns(rows, name)
    fahrenheit = _fahrenheit(rows, degrees)
    month_first = _month_first(rows, when, name)
    found: dict[datetime, float] = {}
    left_out: list[str] = []
    for number, row in enumerate(rows, 1):
        moment = _moment(_cell(row, when), month_first=month_first)
        celsius = _celsius(_cell(row, degrees), fahrenheit=fahrenheit)
        if moment is None or celsius is None or not -60 <= celsius <= 300:
            if (found or moment or celsius is not None) and len(
                left_out
            ) < MOST_TOLD:  # before the first reading is the head
                what = "no moment" if moment is None else "no temperature that can be"
                left_out.append(f"Row {number} of {name} has {what}: {', '.join(row)[:60]}")
            continue
        found[moment] = celsius
    if len(found) < 2:
        raise UserError(f"{name} has fewer than two readings", name, "Choose the logger's CSV file")
    first = min(found)
    series = tuple(((t - first).total_seconds(), found[t]) for t in sorted(found))
    return Read(Record(first, series), tuple(left_out))


def _cell(row: list[str], index: int) -> str:
    return row[index].strip() if index < len(row) else ""


def _columns(rows: list[list[str]], name: str) -> tuple[int, int]:
    """The column of moments and the first other one that holds degrees in most rows."""
    width = max((len(row) for row in rows), default=0)
    moments = [sum(bool(_matched(_cell(r, i))) for r in rows) for i in range(width)]
    if not moments or max(moments) < max(2, len(rows) // 3):
        raise UserError(f"{name} has no column of days and times", name, "Write them like 2026-02-24 09:10")
    when = moments.index(max(moments))
    found = []
    for i in range(width):
        values = [c for r in rows if (c := _celsius(_cell(r, i), fahrenheit=False)) is not None]
        counts = values[:1] in ([0.0], [1.0]) and all(
            b - a == 1 for a, b in pairwise(values)
        )  # 1, 2, 3 … are row numbers
        if i != when and len(values) >= moments[when] / 2 and not counts:
            found.append(i)
    named = [i for i in found if re.search(r"temp|°|celsius|fahrenheit", _cell(rows[0], i), re.IGNORECASE)]
    if found:
        return when, (named or found)[0]
    raise UserError(f"{name} has no column of temperatures", name, "It needs one beside the times")


def _fahrenheit(rows: list[list[str]], column: int) -> bool:
    """Whether the degrees are Fahrenheit: said by a cell or by the column's head."""
    said = " ".join(_cell(row, column) for row in rows[:3]).upper()
    return bool(re.search(r"°\s*F|\bF\b|\d\s*F\b|FAHRENHEIT", said))


def _month_first(rows: list[list[str]], when: int, name: str) -> bool:
    slashed = [m for row in rows if (m := _SLASHED.fullmatch(_cell(row, when)))]
    if not slashed:
        return False
    first, second = max(int(m[1]) for m in slashed), max(int(m[2]) for m in slashed)
    if first > 12:
        return False
    if second > 12:
        return True
    days_first, months_first = len({m[1] for m in slashed}), len({m[2] for m in slashed})
    if (days_first == 1) != (months_first == 1):  # over a few days the day moves and the month stands
        return days_first == 1
    example = slashed[0][0]
    raise UserError(f"“{example}” in {name} can be read day first or month first", name,
                    "Let the logger write days like 2026-02-24")  # fmt: skip


def _matched(text: str) -> bool:
    return any(pattern.fullmatch(text) for pattern in (_ISO, _DOTTED, _SLASHED))


def _moment(text: str, *, month_first: bool) -> datetime | None:
    match = _ISO.fullmatch(text)
    if match:
        year, month, day = int(match[1]), int(match[2]), int(match[3])
    elif match := _DOTTED.fullmatch(text):
        day, month, year = int(match[1]), int(match[2]), int(match[3])
    elif match := _SLASHED.fullmatch(text):
        first, second, year = int(match[1]), int(match[2]), int(match[3])
        month, day = (first, second) if month_first else (second, first)
    else:
        return None
    try:
        moment = datetime(year, month, day, int(match[4]), int(match[5]), int(match[6] or 0))
        if text.endswith("Z"):  # told in universal time; the shop's log is local
            moment = moment.replace(tzinfo=UTC).astimezone().replace(tzinfo=None)
    except (ValueError, OverflowError):
        return None
    return moment if moment.year >= 1970 else None


def _celsius(text: str, *, fahrenheit: bool) -> float | None:
    match = _DEGREES.fullmatch(text)
    if not match:
        return None
    value = float(match[1].replace(",", ".").replace("−", "-"))
    return (value - 32) / 1.8 if fahrenheit or (match[2] or "").upper() == "F" else value
