"""The demo job: data made by ``scripts/make_demo.py``, copied into the user's data folder to be worked on."""

from __future__ import annotations

import re
import shutil
from datetime import date, datetime, timedelta
from pathlib import Path

from homunculus.core.errors import UserError
from homunculus.store.atomic import could_not_write, flush_folder, write_atomically
from homunculus.store.places import data_home

HERE = Path(__file__).parent / "the-drowned-lamp"
REFERENCE_NOW = datetime(2026, 2, 24, 9, 10)
"""The moment that the demo's dates are written around."""

_MOMENT = re.compile(rb'"(\d{4}-\d\d-\d\d)((?:T[\d:.]+)?)"')


def demo_folder() -> Path:
    """Where the user's copy of the demo is."""
    return data_home() / "the-drowned-lamp"


def open_copy(today: date, *, reset: bool = False) -> Path:
    """Make the user's copy of the demo, or make it anew, and say where it is.

    Parameters
    ----------
    today
        All dates move by whole weeks so that the demo is in the middle of its work in this week.
    reset
        Put the old copy aside and start from the demo as it ships.

    Raises
    ------
    UserError
        When it cannot be written there.
    """
    target = demo_folder()
    try:
        if target.exists() and reset:
            _put_aside(target)
        if not (target / "job.json").exists():
            copy_to(target, today)
    except OSError as trouble:
        raise could_not_write(target, trouble) from trouble
    return target


def _put_aside(target: Path) -> None:
    number = 1
    while (aside := target.with_name(f"{target.name}-before-reset-{number}")).exists():
        number += 1
    target.rename(aside)


def copy_to(target: Path, today: date) -> None:
    """Copy the demo into the folder ``target``, its dates moved by whole weeks to the week of ``today``.

    Raises
    ------
    UserError
        When the demo is not part of this installation.
    """
    if not HERE.is_dir():
        raise UserError("The demo job is missing from this installation", str(HERE), "Install the program again")
    weeks = (_monday(today) - _monday(REFERENCE_NOW.date())) // timedelta(weeks=1)
    target.mkdir(parents=True, exist_ok=True)
    shutil.copytree(HERE / "meshes", target / "meshes", dirs_exist_ok=True)
    for name in ("log.jsonl", "job.json"):  # job.json last: with it the copy is whole
        if (HERE / name).exists():
            write_atomically(target / name, shift_dates((HERE / name).read_bytes(), timedelta(weeks=weeks)))
    flush_folder(target)


def shift_dates(data: bytes, by: timedelta) -> bytes:
    """Move every date in JSON ``data`` ``by`` whole days; times of day stay."""

    def moved(match: re.Match[bytes]) -> bytes:
        day = date.fromisoformat(match[1].decode()) + by
        return b'"' + day.isoformat().encode() + match[2] + b'"'

    return _MOMENT.sub(moved, data)


def _monday(day: date) -> date:
    return day - timedelta(days=day.weekday())
