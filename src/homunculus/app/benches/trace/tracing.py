"""Tracing the chosen piece: which view is shown, and what is done with it. Every point is a step of the job."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path

from PySide6.QtGui import QImage

from homunculus.app.benches.trace.brightness import Brightness
from homunculus.app.desk import Desk
from homunculus.core.edits import traced as edits
from homunculus.core.edits.traced import Which
from homunculus.core.errors import UserError
from homunculus.core.job.build import Piece
from homunculus.core.job.job import Job
from homunculus.core.job.traces import Point, View

NO_PIECE = "A picture is laid under a piece: say first what the build consists of (M)."


class Tracing:
    """The piece of a ``desk`` that the benches draw, and its pictures."""

    def __init__(self, desk: Desk) -> None:
        self.desk = desk
        self._brightness = Brightness(desk.pictures)
        self.which: Which = "front"
        self.snap = True
        """Whether points go to the edges near them."""
        self.cross: Point = (0.0, 0.0)
        """Where the keyboard points, in pixels of the picture."""

    def piece(self) -> Piece | None:
        """The piece that is traced: the one that the benches draw, else the first."""
        if not self.desk.chosen or not self.desk.build.pieces:
            return None
        pieces = self.desk.build.pieces
        return next((p for p in pieces if p.id == self.desk.piece_id), pieces[0])

    def view(self) -> View | None:
        """The view that is shown, or none where no picture lies under it."""
        piece = self.piece()
        return edits.view_of(piece, self.which) if piece else None

    def _laid(self) -> View | None:
        """The view that is shown; where no picture lies under it, that is said."""
        view = self.view()
        if view is None:
            self.desk.said.emit(
                "No picture is laid under. Drop a drawing or a photograph on the bench (PNG, JPEG, SVG)."
            )
        return view

    def image(self) -> QImage:
        """The picture that is shown; null where there is none, or it is no longer in the job folder."""
        view = self.view()
        return self.desk.pictures.image(view.picture) if view else QImage()

    def change(self, name: str, make: Callable[[Job, str, str, Which], Job]) -> bool:
        """Make another job, as a step of a name; false, with the reason said, when it cannot be."""
        piece = self.piece()
        if piece is None:
            self.desk.said.emit(NO_PIECE)
            return False
        try:
            job = make(self.desk.job, self.desk.chosen, piece.id, self.which)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return False
        return self.desk.edit(f"{piece.name}: {name}", job, self.desk.gesture)

    def lay(self, path: Path) -> None:
        """Lay a picture under the view that is shown; a drawing of lines is made one of pixels first, in a process of its own."""
        piece = self.piece()
        if piece is None:
            self.desk.said.emit(NO_PIECE)
            return
        folder = self.desk.folder.path

        def work() -> str:
            from homunculus.exchange.apart import read_apart
            from homunculus.store.atomic import read_bounded
            from homunculus.store.pictures import keep_data, keep_picture

            if path.suffix.lower() != ".svg":
                return keep_picture(folder, path)
            data = read_bounded(path, 5_000_000, path.name)
            return keep_data(
                folder,
                read_apart("homunculus.app.rasterise:svg_as_png", data, path.name, "Export it as PNG"),
                path.name,
            )

        self.desk.runner.begin(f"Reading {path.name}", work, lambda name: self._laid_under(path.name, name))

    def _laid_under(self, called: str, name: str) -> None:
        if self.desk.pictures.image(name).isNull():
            self.desk.said.emit(f"{called} cannot be shown: it is damaged, or larger than 100 million pixels.")
            return
        self.cross = (self.desk.pictures.image(name).width() / 2, self.desk.pictures.image(name).height() / 2)
        if self.change(
            "a picture laid under", lambda job, build, piece, which: edits.with_picture(job, build, piece, which, name)
        ):
            self.desk.said.emit("Which length in it do you know? Press its two ends, then type how long it really is.")

    def take_away(self) -> None:
        """Take the picture away; the form stays as it is."""
        if self.change("without the picture", edits.without_picture):
            self.desk.said.emit("The picture is gone from under it, the form stays. U goes back.")

    def press(self, at: Point, *, free: bool = False) -> bool:
        """Set a point: an end of the known length first, then along the outline; ``free`` of the edges near it.

        Returns
        -------
        bool
            Whether it has to be asked now how long the known length is.
        """
        view = self.view()
        if view is None:
            return False
        if view.closed:
            self.desk.said.emit("The outline is closed. Drag its points, or Backspace opens it again.")
            return False
        if len(view.known) < 2:
            ends = (*view.known, at)
            made = self.change(
                "an end of the known length",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, ends, None),
            )
            return made and len(ends) == 2
        if view.known_m is None:
            return True
        to = at if free else self._to_edge(at)
        points = (*view.outline, to)
        self.change(
            "one more point",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, points, closed=False),
        )
        return False

    def _to_edge(self, at: Point) -> Point:
        from homunculus.core.form.traced import edge_near

        view = self.view()
        grey = self._brightness.of(view.picture) if view and self.snap else None
        return edge_near(grey, at) if grey is not None else at

    def pull(self, key: str, to: Point) -> None:
        """Pull the point of a key, of the outline or an end of the known length, to another place."""
        sort, _, number = key.partition(":")
        (self._pull_known if sort == "known" else self._pull_point)(int(number), to)

    def _pull_known(self, index: int, to: Point) -> None:
        view = self.view()
        if view and index < len(view.known):
            ends = (*view.known[:index], to, *view.known[index + 1 :])
            self.change(
                "an end of the known length",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, ends, view.known_m),
            )

    def _pull_point(self, index: int, to: Point) -> None:
        view = self.view()
        if view and index < len(view.outline):
            points = (*view.outline[:index], to, *view.outline[index + 1 :])
            self.change(
                "a point pulled",
                lambda job, build, piece, which: edits.with_outline(
                    job, build, piece, which, points, closed=view.closed
                ),
            )

    def step(self, key: str, steps: int) -> None:
        """Move the point of a key by pixels."""
        view = self.view()
        sort, _, number = key.partition(":")
        points = view.known if view and sort == "known" else view.outline if view else ()
        if int(number) < len(points):
            x, y = points[int(number)]
            self.pull(key, (x + steps, y))

    def back(self) -> None:
        """Open a closed outline again, or take its last point back."""
        view = self.view()
        if view is None or not (view.outline or view.known):
            return
        if not view.outline:
            self.change(
                "an end taken back",
                lambda job, build, piece, which: edits.with_known(job, build, piece, which, view.known[:-1], None),
            )
            return
        points = view.outline if view.closed else view.outline[:-1]
        self.change(
            "the last point back",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, points, closed=False),
        )

    def close_outline(self) -> None:
        """Bring the outline to its beginning: the form follows."""
        view = self._laid()
        if view is None:
            return
        if view.closed:
            self.desk.said.emit("The outline is closed already.")
        elif self.change(
            "traced",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, view.outline, closed=True),
        ):
            self.desk.said.emit(
                "Closed: the form follows, also while you pull. V lays one from the side under, for the depth. U goes back."
            )

    def offer(self) -> None:
        """Outline what stands out in the picture."""
        from homunculus.core.form.traced import outline_offered

        view = self._laid()
        grey = self._brightness.of(view.picture) if view else None
        if view is None or grey is None:
            return
        try:
            points = outline_offered(grey)
        except UserError as trouble:
            self.desk.said.emit(str(trouble))
            return
        closed = view.known_m is not None
        if self.change(
            "outlined by itself",
            lambda job, build, piece, which: edits.with_outline(job, build, piece, which, points, closed=closed),
        ):
            self.desk.said.emit(
                f"{len(points)} points are offered: pull those that are wrong, or U takes all of them back."
            )
