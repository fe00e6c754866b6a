"""Silhouettes of builds from their own forms, at real size, drawn at any scale by the painter's transform."""

from __future__ import annotations

from functools import lru_cache

from PySide6.QtCore import QPointF, QRectF
from PySide6.QtGui import QPainterPath, QPolygonF

from homunculus.core.form.measure import measure
from homunculus.core.job.build import Build, Piece
from homunculus.core.plan.facts import Facts


class Silhouette:
    """One build in side view: a path for each piece, real metres, y downwards, foot of the build at 0."""

    def __init__(self, build: Build, facts: Facts) -> None:
        self.paths: list[tuple[Piece, QPainterPath]] = []
        self.whole = QPainterPath()
        self.missing: list[str] = []
        for piece in build.pieces:
            form = measure(piece.form, facts)
            if form is None:
                self.missing.append(piece.name)
                continue
            path = _path(form.outline, piece.drawn_at * piece.enlarged, piece.at_m)
            self.paths.append((piece, path))
            self.whole.addPath(path)
        self.bounds: QRectF = self.whole.boundingRect()


@lru_cache(512)  # outlines are kept with what was learned of a form, and hash by what they hold
def _path(outline: tuple[tuple[tuple[float, float], ...], ...], k: float, at: tuple[float, float]) -> QPainterPath:
    path = QPainterPath()
    for polygon in outline:
        path.addPolygon(QPolygonF([QPointF(at[0] + x * k, -(at[1] + z * k)) for x, z in polygon]))
        path.closeSubpath()
    return path


class Silhouettes:
    """Silhouettes kept while a build's pieces and the facts are the same objects."""

    def __init__(self) -> None:
        self._known: dict[str, tuple[tuple[Piece, ...], Facts, Silhouette]] = {}

    def of(self, build: Build, facts: Facts) -> Silhouette:
        """The silhouette of a build."""
        known = self._known.get(build.id)
        if known is None or known[0] is not build.pieces or known[1] is not facts:
            known = (build.pieces, facts, Silhouette(build, facts))
            self._known[build.id] = known
        return known[2]
