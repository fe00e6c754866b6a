"""Tables of words from CSV and spreadsheets, and back without a cell that a spreadsheet would run."""

from __future__ import annotations

import csv
import io
import json
import re
import zipfile
from collections import Counter
from collections.abc import Sequence
from datetime import date, datetime, time

from homunculus.core.errors import UserError
from homunculus.exchange.apart import read_apart

MOST_BYTES = 20_000_000
MOST_ROWS = 5_000
_SIGNS = ("=", "+", "-", "@", "＝", "＋", "－", "＠")
MOST_COLUMNS = 200
MOST_UNPACKED = 400_000_000
MOST_CELL = 20_000
_NUMBER = re.compile(r"[-+]?\d+(?:[.,]\d+)?")
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")


def inert(cell: str) -> str:
    """Return the ``cell`` so that no spreadsheet runs it: one that begins like a formula gets an apostrophe.

    Plain numbers stay. :func:`as_meant` takes the apostrophe away again.
    """
    return "'" + cell if _would_run(cell) else cell


def _would_run(cell: str) -> bool:
    """Whether a spreadsheet might run a cell: also behind blanks and line breaks, and on any line of it."""
    starts = [line.lstrip() for line in re.split(r"[\r\n\v\f\x85\u2028\u2029]", cell)]
    if cell[:1] in ("'", "\t", "\r", "\n"):
        return True
    return any(line[:1] in _SIGNS and not _NUMBER.fullmatch(line.strip()) for line in starts)


def as_meant(cell: str) -> str:
    """Return a ``cell`` without the apostrophe that :func:`inert` put before it."""
    return cell[1:] if cell[:1] == "'" and _would_run(cell[1:]) else cell


def read_table(data: bytes, name: str) -> list[list[str]]:
    """Read a file of rows, by its content a spreadsheet or text.

    Parameters
    ----------
    data
        The file.
    name
        Its name, for messages.

    Returns
    -------
    list
        Rows of cells as words, without empty rows; days as 2026-03-17.

    Raises
    ------
    UserError
        When it is neither, or too large.
    """
    if len(data) > MOST_BYTES:
        raise UserError(f"{name} is larger than any list of shots ({len(data) // 1_000_000} MB)", name)
    rows = _read_spreadsheet(data, name) if data[:4] == b"PK\x03\x04" else read_csv(data, name, MOST_ROWS)
    return [[as_meant(cell.strip()) for cell in row] for row in rows]


def read_csv(data: bytes, name: str, most: int = 250_000) -> list[list[str]]:
    """Read text with a sign between cells: tab, semicolon or comma, whichever parts the rows most evenly.

    Parameters
    ----------
    data
        The file.
    name
        Its name, for messages.
    most
        Rows; a file with more is refused.

    Raises
    ------
    UserError
        When it is no text or no table, or has too many rows or columns.
    """
    text = _text(data)
    if "\0" in text:
        raise UserError(f"{name} is no text", name, "Choose a CSV file")
    best = max(("\t", ";", ","), key=lambda sign: _evenness(_rows(text[:200_000], sign, name, 400)))
    rows = _rows(text, best, name, most + 1)
    if len(rows) > most:
        raise UserError(f"{name} has over {most} rows", name, "Take it in in parts")
    return rows


def _rows(text: str, sign: str, name: str, most: int) -> list[list[str]]:
    """The first rows that say anything."""
    found = []
    try:
        for row in csv.reader(io.StringIO(text, newline=""), delimiter=sign):
            if any(cell.strip() for cell in row):
                found.append(row)
                if len(row) > MOST_COLUMNS or len(found) >= most:
                    break
    except csv.Error as trouble:
        raise UserError(f"{name} is no CSV file ({trouble})", name, "Choose a CSV file") from None
    if found and len(found[-1]) > MOST_COLUMNS:
        raise UserError(f"{name} has rows of over {MOST_COLUMNS} cells", name, "Leave out what is not wanted")
    return found


def _evenness(rows: list[list[str]]) -> float:
    """By what share the rows are of one width that is more than a single cell."""
    widths = Counter(len(row) for row in rows if len(row) > 1)
    return max(widths.values(), default=0) / max(len(rows), 1)


def _text(data: bytes) -> str:
    for encoding in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    return data.decode("latin-1")


def _read_spreadsheet(data: bytes, name: str) -> list[list[str]]:
    """Read the first sheet that says anything, in a process of its own: what a spreadsheet unpacks to nobody knows before."""
    try:
        with zipfile.ZipFile(io.BytesIO(data)) as book:
            unpacked = sum(entry.file_size for entry in book.infolist())
    except (zipfile.BadZipFile, ValueError, OSError, NotImplementedError) as trouble:
        raise UserError(
            f"{name} is no spreadsheet that can be read ({trouble})", name, "Save it as XLSX or CSV and try again"
        ) from None
    if unpacked > MOST_UNPACKED:
        raise UserError(
            f"{name} unpacks to {unpacked // 1_000_000} MB, more than any list", name, "Save the list alone"
        )
    found = read_apart(f"{__name__}:cells_of", data, name, "Save it as XLSX or CSV and try again")
    rows: list[list[str]] = json.loads(found)
    if len(rows) > MOST_ROWS:
        raise UserError(f"{name} has over {MOST_ROWS} rows", name, "Take it in in parts")
    return rows


def cells_of(data: bytes, name: str) -> bytes:
    """Read a spreadsheet's ``data`` by the kept library, in a process of its own; rows of words as JSON. ``name`` is for messages.

    Raises
    ------
    UserError
        When it cannot be read, or is too wide.
    """
    import openpyxl  # half a second that only a spreadsheet costs

    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        for sheet in book.worksheets:
            rows = []
            cells = sheet.iter_rows(values_only=True, max_row=20 * MOST_ROWS, max_col=MOST_COLUMNS + 1)
            for row in cells:
                if len(row) > MOST_COLUMNS and row[MOST_COLUMNS] is not None:
                    raise UserError(
                        f"{name} has rows of over {MOST_COLUMNS} cells", name, "Leave out what is not wanted"
                    )
                words = [_words(value)[:MOST_CELL] for value in row]
                while words and not words[-1]:
                    words.pop()
                if any(cell.strip() for cell in words):
                    rows.append(words)
                if len(rows) > MOST_ROWS:
                    break
            if rows:
                return json.dumps(rows).encode()
    except (UserError, MemoryError):
        raise
    except Exception as trouble:  # noqa: BLE001  (the library lets zip, zlib, XML and type errors through)
        raise UserError(f"{name} is no spreadsheet that can be read ({type(trouble).__name__})", name,
                        "Save it as XLSX or CSV and try again") from None  # fmt: skip
    return b"[]"


def _words(value: object) -> str:
    """A cell's value as words: days without an hour, whole numbers without a point."""
    match value:
        case None:
            return ""
        case datetime():
            plain = value.time() == time(0)
            return value.date().isoformat() if plain else value.isoformat(sep=" ", timespec="minutes")
        case date():
            return value.isoformat()
        case time():
            return f"{value:%H:%M}"
        case bool():
            return "yes" if value else "no"
        case float():
            return f"{value:.10g}"
    return str(value)


def write_csv(rows: Sequence[Sequence[str]]) -> bytes:
    """Write ``rows`` as CSV, UTF-8 with a mark that spreadsheets know, no cell that runs."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerows([inert(cell) for cell in row] for row in rows)
    return out.getvalue().encode("utf-8-sig")


def write_spreadsheet(rows: Sequence[Sequence[str]], title: str) -> bytes:
    """Write ``rows`` as one sheet of an XLSX called ``title``; numbers as numbers, no cell that runs."""
    import openpyxl  # half a second that only a spreadsheet costs

    book = openpyxl.Workbook()
    sheet = book.active
    sheet.title = title[:31]
    for row in rows:
        sheet.append([_cell(cell) for cell in row])
    sheet.freeze_panes = "B2"
    out = io.BytesIO()
    book.save(out)
    return out.getvalue()


def _cell(cell: str) -> str | float:
    if re.fullmatch(r"-?(?:0|[1-9]\d{0,8})(?:\.\d{1,6})?", cell):
        return float(cell) if "." in cell else int(cell)
    return inert(_CONTROL.sub(" ", cell))
