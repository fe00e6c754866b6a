"""Every kind of file that comes in or goes out: its endings, its words, who reads it and who writes it.

A new one is its own module and one line here; what is dropped on the window, what the command line takes in and what a file
dialog offers all follow. Readers and writers are named, not imported: most need libraries that load slowly.
"""

from __future__ import annotations

import importlib
from collections.abc import Callable, Collection, Mapping
from pathlib import Path, PurePath
from typing import Any, Literal, NamedTuple

from homunculus.core.errors import UserError

Content = Literal[
    "mesh", "shots", "cut", "temperatures", "picture", "log", "cards", "pieces", "drawing", "stage", "card", "cues"
]


class Format(NamedTuple):
    """One kind of file. A reader takes the bytes and the file's name first; a writer's first is what is written."""

    content: Content
    words: str
    endings: tuple[str, ...]
    reader: str = ""
    writer: str = ""


FORMATS = (
    Format("mesh", "STL", (".stl",), "core.form.mesh:read_stl"),
    Format("mesh", "OBJ", (".obj",), "exchange.mesh_files:read_by_library"),
    Format("mesh", "PLY", (".ply",), "exchange.mesh_files:read_by_library"),
    Format("shots", "Spreadsheet", (".xlsx",), "exchange.tables:read_table", "exchange.shot_list:as_spreadsheet"),
    Format("shots", "CSV", (".csv", ".tsv", ".txt"), "exchange.tables:read_table", "exchange.shot_list:as_csv"),
    Format("cut", "Edit list", (".otio",), "exchange.edit_list:read_edit_list", "exchange.edit_list:write_edit_list"),
    Format("cut", "Cut list", (".edl",), "exchange.edit_list:read_edit_list", "exchange.edit_list:write_edit_list"),
    Format("temperatures", "CSV", (".csv", ".tsv", ".txt"), "exchange.temperatures:read_temperatures"),
    Format("picture", "PNG", (".png",), "store.pictures:keep_picture"),
    Format("picture", "JPEG", (".jpg", ".jpeg"), "store.pictures:keep_picture"),
    Format("cards", "Spreadsheet", (".xlsx",), "exchange.tables:read_table", "exchange.card_table:as_spreadsheet"),
    Format("cards", "CSV", (".csv", ".tsv", ".txt"), "exchange.tables:read_table", "exchange.card_table:as_csv"),
    Format("pieces", "Spreadsheet", (".xlsx",), "exchange.tables:read_table", "exchange.piece_table:as_spreadsheet"),
    Format("pieces", "CSV", (".csv", ".tsv", ".txt"), "exchange.tables:read_table", "exchange.piece_table:as_csv"),
    Format("drawing", "SVG", (".svg",), "app.rasterise:svg_as_png"),
    Format("stage", "Drawing", (".svg",), writer="exchange.stage_plan:as_svg"),
    Format("stage", "CAD drawing", (".dxf",), writer="exchange.stage_plan:as_dxf"),
    Format("card", "CSV", (".csv",), writer="exchange.stage_tables:card_as_csv"),
    Format("cues", "CSV", (".csv",), writer="exchange.stage_tables:cues_as_csv"),
    Format("log", "CSV", (".csv",), writer="exchange.log_csv:log_as_csv"),
)


ONLY_WHERE_ASKED: tuple[Content, ...] = ("cards", "pieces")
"""What no file tells by itself: any table may be one."""


def endings(*contents: Content, written: bool = False) -> tuple[str, ...]:
    """The endings of all files that can be read as one of the ``contents``; or ``written``."""
    found = (f for f in FORMATS if f.content in contents and (f.writer if written else f.reader))
    return tuple(dict.fromkeys(ending for f in found for ending in f.endings))


def offered(words: str, *contents: Content) -> str:
    """What a file dialog offers to read, as “``words`` (*.stl *.STL)” for the ``contents``."""
    return f"{words} ({' '.join(f'*{e} *{e.upper()}' for e in endings(*contents))})"


def offered_to_write(*contents: Content) -> str:
    """What a file dialog offers to write of the ``contents``, a line for each format."""
    found = (f for f in FORMATS if f.content in contents and f.writer)
    return ";;".join(f"{f.words} (*{f.endings[0]})" for f in found)


def reader(content: Content, name: str) -> Callable[..., Any]:
    """The function that reads a file as some ``content``, by the ending of its ``name``.

    Raises
    ------
    UserError
        When no format of that content ends so.
    """
    return _function(_format(content, name, "reader").reader)


def writer(content: Content, name: str) -> Callable[..., Any]:
    """The function that writes some ``content``, by the ending of the file's ``name``.

    Raises
    ------
    UserError
        When no format of that content ends so.
    """
    return _function(_format(content, name, "writer").writer)


def _format(content: Content, name: str, how: Literal["reader", "writer"]) -> Format:
    ending = PurePath(name).suffix.lower()
    known = [f for f in FORMATS if f.content == content and getattr(f, how)]
    for found in known:
        if ending in found.endings:
            return found
    what = {
        "mesh": "mesh",
        "cut": "edit list",
        "shots": "list of shots",
        "cards": "table of cards",
        "pieces": "list of pieces",
        "stage": "stage plan",
        "card": "measuring card",
        "cues": "list of cues",
    }.get(content, "file")
    names = ", ".join(dict.fromkeys(f.words for f in known))
    raise UserError(
        f"{name} is no {what} that can be {'read' if how == 'reader' else 'written'}",
        name,
        f"Choose one of these: {names}",
    )


def _function(where: str) -> Callable[..., Any]:
    module, _, name = where.partition(":")
    found: Callable[..., Any] = getattr(importlib.import_module(f"homunculus.{module}"), name)
    return found


def content_of(path: Path, remembered: Mapping[str, str], wanted: Collection[Content] = ()) -> Content:
    """What a file holds: by its ending, and where that leaves a choice by its head.

    Parameters
    ----------
    path
        The file.
    remembered
        Columns of a list of shots that a person matched before.
    wanted
        What is asked for where it is dropped: tables of cards are taken where cards are, and nowhere else.
    """
    ending = path.suffix.lower()
    contents = [f.content for f in FORMATS if f.reader and ending in f.endings]
    asked = next((content for content in contents if content in ONLY_WHERE_ASKED and content in wanted), None)
    if asked:
        return asked
    contents = [content for content in contents if content not in ONLY_WHERE_ASKED]
    if "shots" not in contents or len(contents) == 1:
        return contents[0] if contents else "mesh"  # whose reader says that it cannot be read, and what can
    from homunculus.exchange.shot_list import guess_columns
    from homunculus.exchange.tables import read_table

    head: list[list[str]] = []
    try:
        if path.is_file():  # opening a pipe would wait for whoever writes to it
            with path.open("rb") as file:
                head = read_table(file.read(65_536), path.name)[:1]
    except (OSError, UserError):
        pass  # nothing that a list of shots could be: a logger's
    return "shots" if head and "id" in guess_columns(head[0], remembered) else "temperatures"
