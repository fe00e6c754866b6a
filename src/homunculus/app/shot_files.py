"""Lists of shots and edit lists: read and written beside the interface, their columns matched once and remembered."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from functools import partial
from pathlib import Path
from typing import TYPE_CHECKING, Any

from msgspec.structs import replace
from PySide6.QtCore import QObject

from homunculus.app.editor import Editor
from homunculus.app.matching import MOST_BYTES, padded, read_rows, remember_match, remembered, take_in
from homunculus.app.to_match import ToMatch
from homunculus.core.errors import UserError
from homunculus.exchange.formats import Content, endings, reader, writer

if TYPE_CHECKING:
    from homunculus.core.edits.cutting import Cut
    from homunculus.exchange.shot_list import ShotTable


class ShotFiles(QObject):
    """Files of shots. What is read is one step of the desk; spreadsheets and edit lists need libraries that load slowly."""

    def __init__(self, desk: Editor) -> None:
        super().__init__()
        self.desk = desk

    def last_day(self) -> date:
        """The day on which a shot without one is put."""
        return self.desk.plan.shoot_day(self.desk.now().date())

    def _read(self, path: Path, read: Callable[[bytes], Any], then: Callable[[Any], None]) -> None:
        """Read a file in a thread and hand on what it gave."""

        def work() -> Any:
            from homunculus.store.atomic import read_bounded

            return read(read_bounded(path, MOST_BYTES, path.name))

        self.desk.runner.begin(f"Reading {path.name}", work, then)

    # ------------------------------------------------------------------------------------- tables
    def read_table(self, path: Path) -> None:
        """Read a table of shots and ask which of its columns are which."""

        read_rows(self.desk, path, "shots", lambda rows: self._look_over(path.name, rows))

    def read_pasted(self, text: str) -> None:
        """Look over rows that were copied from a spreadsheet, with their head."""
        from homunculus.exchange.tables import read_table

        try:
            rows = read_table(text.encode(), "what was copied")
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        if len(rows) < 2 or "id" not in self.guess(rows[0]):
            self.desk.said.emit("What was copied is no list of shots: it needs a head, with one column called “shot”.")
            return
        self._look_over("what was copied", rows)

    def guess(self, head: list[str]) -> tuple[str, ...]:
        """Which columns of the shot list a table's head means; as a person matched them before."""
        from homunculus.exchange.shot_list import guess_columns

        return guess_columns(head, self.remembered())

    @staticmethod
    def remembered() -> dict[str, str]:
        """Columns that a person matched before."""
        return remembered("shots")

    def _look_over(self, name: str, rows: list[list[str]]) -> None:
        from homunculus.core.cells.shots import COLUMNS

        rows = padded(rows)
        offered = tuple((column.key, column.head) for column in COLUMNS)
        self.desk.match(ToMatch(name, rows, self.guess(rows[0]), offered, "shot", "breakdown", partial(self.trial, rows),
                                partial(self.take_table, name, rows)))  # fmt: skip

    def trial(self, rows: list[list[str]], columns: tuple[str, ...]) -> ShotTable:
        """What a table would give; nothing is changed.

        Raises
        ------
        UserError
            When no column says which shot a row is.
        """
        from homunculus.exchange.shot_list import shots_from_table

        return shots_from_table(rows, columns, self.desk.job, self.last_day(), self.desk.system)

    def take_table(self, name: str, rows: list[list[str]], columns: tuple[str, ...]) -> bool:
        """Take the good rows of a table in, one step, and remember how its columns were matched."""
        from homunculus.exchange.shot_list import table_words

        try:
            found = self.trial(rows, columns)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        remember_match("shots", rows[0], columns)
        job = replace(self.desk.job, shots=found.shots)
        return take_in(self.desk, f"shots from {name}", job, table_words(name, found))

    # ---------------------------------------------------------------------------------- edit lists
    def read_cut(self, path: Path) -> None:
        """Read an edit list: the shots' places in the cut and their seconds; one step."""
        rate = self.desk.job.shop.base_rate_fps

        def read(data: bytes) -> Cut:
            cut: Cut = reader("cut", path.name)(data, path.name, rate)
            return cut

        self._read(path, read, lambda cut: self._lay(path.name, cut))

    def _lay(self, name: str, cut: Cut) -> None:
        from homunculus.core.edits.cutting import cut_words, lay_cut

        laid = lay_cut(self.desk.job, cut.clips, self.last_day())
        take_in(self.desk, f"cut from {name}", laid.job, cut_words(name, cut, laid))

    # ------------------------------------------------------------------------------------- writing
    def write(self, path: Path) -> None:
        """Write the shots to a file, of the kind that its ending names."""
        job = self.desk.job
        content: Content = "cut" if path.suffix.lower() in endings("cut", written=True) else "shots"

        def work() -> int:
            from homunculus.store.atomic import write_atomically

            write_atomically(path, writer(content, path.name)(job, path.name))
            return len(job.shots)

        self.desk.runner.begin(
            f"Writing {path.name}", work, lambda count: self.desk.said.emit(f"Wrote {count} shots to {path.name}.")
        )
