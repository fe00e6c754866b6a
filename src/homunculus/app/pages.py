"""Pages drawn with the screen's pen and written as PDF: while many are drawn the interface breathes, and may say stop."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtWidgets import QApplication, QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.paper import pdf_of
from homunculus.app.files import ask_to_write
from homunculus.app.theme.ink import Ink
from homunculus.core.errors import UserError
from homunculus.core.job.shots import Shot
from homunculus.core.showing import so_many


class Pages:
    """Writes pages, and can be stopped while it does.

    Parameters
    ----------
    desk
        Whose job they are of; it says how far they are.
    """

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._stopped = False
        desk.runner.stopping.connect(self._stop)

    def _stop(self) -> None:
        self._stopped = True

    def ask(
        self, parent: QWidget, what: str, name: str, shot: Shot, write: Callable[[Path, tuple[Shot, ...]], None]
    ) -> None:
        """Ask where to ``write`` what a ``shot`` has, or what all shots have; files are called by a ``name`` and the shot's number."""
        every = f"{what[:1].upper()}{what[1:]}s of all shots (*.pdf)"
        asked = ask_to_write(
            parent,
            f"Write the {what}",
            "page",
            f"{name}-{shot.id}.pdf",
            f"{what[:1].upper()}{what[1:]} of shot {shot.id} (*.pdf);;{every}",
        )
        if asked:
            path, kind = asked
            write(path.with_suffix(".pdf"), self.desk.plan.shots if kind == every else (shot,))

    def write(self, path: Path, pages: Sequence[Callable[[Ink], None]]) -> None:
        """Write ``pages`` as PDF, always in the colours for paper; what cannot be written is said."""
        from homunculus.store.atomic import write_atomically

        self._stopped = False

        def going_on(index: int) -> bool:
            if index % 20 == 19:
                self.desk.working.emit(f"Drawing {len(pages)} pages", index / len(pages))
                QApplication.processEvents()
            return not self._stopped

        content = pdf_of(self.desk.job.name, self.desk.themes["plaster"], pages, going_on)
        self.desk.working.emit("", 1.0)
        if content is None:
            self.desk.said.emit("Stopped. Nothing was written.")
            return
        try:
            write_atomically(path, content)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        self.desk.said.emit(f"Wrote {so_many(len(pages), 'page')} to {path.name}.")
