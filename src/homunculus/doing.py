"""Lines of edits into a job folder from the command line, as the go-to box takes them."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

from homunculus.core.edits.lines import said
from homunculus.core.errors import UserError
from homunculus.core.session import Session
from homunculus.reshaping import Reshaper
from homunculus.store.folder import JobFolder, read_facts
from homunculus.store.shelf import to_take_from


def do_lines(folder: Path, text: str, where: str, now: datetime) -> Iterator[str]:
    """Run lines on a job, one after another, and say each that was done.

    Parameters
    ----------
    folder
        The job folder; it must not be open elsewhere.
    text
        The lines. What begins with # is a remark.
    where
        Their file, for the message.
    now
        For the dated copy of the job.

    Raises
    ------
    UserError
        With the number of the first line that cannot be run; the lines before it are done and kept, it and those after it are not.
    """
    opened = JobFolder(folder, now)
    try:
        session = Session(opened.job, read_facts(opened.path, opened.job), opened.pins, to_take_from(),
                          Reshaper(opened.path))  # fmt: skip
        try:
            for number, line in said(text):
                try:
                    session.do(line, today=now.date())
                except UserError as trouble:
                    raise UserError(trouble.what, f"{where}, line {number}", trouble.remedy) from trouble
                yield line
        finally:
            if session.can_undo:
                opened.save(session.job, session.pins)
    finally:
        opened.close()
