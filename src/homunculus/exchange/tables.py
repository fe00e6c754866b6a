"""Tables of words from CSV and spreadsheets, and back without a cell that a spreadsheet would run."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Sequence
from datetime import date, datetime, time
from zipfile import BadZipFile

from homunculus.core.errors import UserError

MOST_BYTES = 20_000_000
MOST_ROWS = 5_000
_RUNS = ("=", "+", "-", "@", "\t", "\r")
_NUMBER = re.compile(r"[-+]?\d+(?:[.,]\d+)?")
_CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f]")


def inert(cell: str) -> str:
    """Return the ``cell`` so that no spreadsheet runs it: one that begins like a formula gets an apostrophe.

    Plain numbers stay. :func:`as_meant` takes the apostrophe away again.
    """
    if cell[:1] == "'" or (cell[:1] in _RUNS and not _NUMBER.fullmatch(cell)):
        return "'" + cell
    return cell


def as_meant(cell: str) -> str:
    """Return a ``cell`` without the apostrophe that :func:`inert` put before it."""
    return cell[1:] if cell[:1] == "'" and cell[1:2] in ("'", *_RUNS) else cell


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
    rows = _read_spreadsheet(data, name) if data[:4] == b"PK\x03\x04" else read_csv(data, name)
    if len(rows) > MOST_ROWS:
        raise UserError(f"{name} has {len(rows)} rows, over {MOST_ROWS}", name, "Take it in in parts")
    return [[as_meant(cell.strip()) for cell in row] for row in rows]


def read_csv(data: bytes, name: str) -> list[list[str]]:
    """Read text with a sign between cells: tab, semicolon or comma, whichever parts the rows most evenly.

    Parameters
    ----------
    data
        The file.
    name
        Its name, for messages.

    Raises
    ------
    UserError
        When it is no text or no table.
    """
    text = _text(data)
    if "\0" in text:
        raise UserError(f"{name} is no text", name, "Choose a CSV file")
    best: tuple[float, list[list[str]]] = (-1.0, [])
    for sign in ("\t", ";", ","):
        try:
            read = list(csv.reader(io.StringIO(text, newline=""), delimiter=sign))
        except csv.Error as trouble:
            raise UserError(f"{name} is no CSV file ({trouble})", name, "Choose a CSV file") from None
        rows = [row for row in read if any(cell.strip() for cell in row)]
        widths = Counter(len(row) for row in rows if len(row) > 1)
        even = max(widths.values(), default=0) / max(len(rows), 1)
        if even > best[0]:
            best = (even, rows)
    return best[1]


def _text(data: bytes) -> str:
    for encoding in ("utf-8-sig", "utf-16" if data[:2] in (b"\xff\xfe", b"\xfe\xff") else "utf-8-sig"):
        try:
            return data.decode(encoding)
        except UnicodeDecodeError:
            continue
    return data.decode("latin-1")


def _read_spreadsheet(data: bytes, name: str) -> list[list[str]]:
    import openpyxl  # half a second that only a spreadsheet costs
    from openpyxl.utils.exceptions import InvalidFileException

    try:
        book = openpyxl.load_workbook(io.BytesIO(data), read_only=True, data_only=True)
        try:
            for sheet in book.worksheets:
                rows = [
                    [_words(value) for value in row] for row in sheet.iter_rows(values_only=True, max_row=MOST_ROWS + 1)
                ]
                rows = [row for row in rows if any(cell.strip() for cell in row)]
                if rows:
                    return rows
        finally:
            book.close()
    except (BadZipFile, InvalidFileException, KeyError, ValueError, TypeError, OSError, SyntaxError) as trouble:
        raise UserError(f"{name} is no spreadsheet that can be read ({trouble})", name,
                        "Save it as XLSX or CSV and try again") from None  # fmt: skip
    return []


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
