"""Tables of pieces: their columns matched once and remembered, their good rows one step of the job; written for other programs."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial
from pathlib import Path
from typing import Any

from homunculus.app.editor import Editor
from homunculus.app.matching import padded, read_rows, remember_match, remembered, take_in, write_table
from homunculus.app.to_match import ToMatch
from homunculus.core.errors import UserError
from homunculus.core.job.ways import Shelf


class PieceFiles:
    """Files of pieces.

    Parameters
    ----------
    desk
        Whose job's pieces they are.
    shelf
        Tells what may be taken into the job.
    """

    def __init__(self, desk: Editor, shelf: Callable[[], Shelf]) -> None:
        self.desk, self._shelf = desk, shelf

    def read_table(self, path: Path) -> None:
        """Read a table of pieces and ask which of its columns are which; rows that name no build are of the chosen one."""
        read_rows(self.desk, path, "pieces", lambda rows: self._match(path.name, rows))

    def _match(self, name: str, rows: list[list[str]]) -> None:
        from homunculus.exchange.piece_table import COLUMNS, guess_columns, pieces_from_table

        rows, build = padded(rows), self.desk.chosen

        def trial(columns: tuple[str, ...]) -> Any:
            return pieces_from_table(rows, columns, self.desk.job, self._shelf(), build, self.desk.system)

        offered = tuple((column.key, column.head) for column in COLUMNS)
        self.desk.match(ToMatch(name, rows, guess_columns(rows[0], remembered("pieces")), offered, "piece", "made", trial,
                                partial(self._take, name, rows, trial)))  # fmt: skip

    def _take(
        self, name: str, rows: list[list[str]], trial: Callable[[tuple[str, ...]], Any], columns: tuple[str, ...]
    ) -> bool:
        from homunculus.exchange.piece_table import table_words

        try:
            found = trial(columns)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        remember_match("pieces", rows[0], columns)
        return take_in(self.desk, f"pieces from {name}", found.job, table_words(name, found))

    def write(self, path: Path) -> None:
        """Write the pieces of all builds to a file, of the kind that its ending names."""
        count = sum(len(build.pieces) for build in self.desk.job.builds)
        write_table(self.desk, path, "pieces", (self.desk.job, self._shelf()), f"Wrote {count} pieces")
