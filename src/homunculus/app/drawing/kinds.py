"""Kinds of build as silhouettes: small as their cards draw them, and large as their usual pieces."""

from __future__ import annotations

from datetime import datetime
from functools import cache

from PySide6.QtCore import QPointF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF

from homunculus import library
from homunculus.app.drawing.silhouette import Silhouette
from homunculus.core.edits.builds import build_begun, sizes_of
from homunculus.core.job.cards import Cards
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop


@cache
def sign_of(kind_id: str) -> QPainterPath:
    """How a kind is drawn, small: about one high, y downwards; its usual pieces where its card has no drawing."""
    kind = next(k for k in library.shelf().kinds if k.id == kind_id)
    path = QPainterPath()
    path.setFillRule(Qt.FillRule.WindingFill)
    for outline in kind.sign:
        path.addPolygon(QPolygonF([QPointF(x, -y) for x, y in outline]))
        path.closeSubpath()
    return path if kind.sign else shape_of(kind_id)


@cache
def shape_of(kind_id: str, without: frozenset[str] = frozenset()) -> QPainterPath:
    """The usual pieces of a kind but for some, in side view, real metres, y downwards."""
    shelf = library.shelf()
    kind = next(k for k in shelf.kinds if k.id == kind_id)
    camera = library.cameras()[0]
    nothing = Job("", Shop(camera=camera.id), (), cards=Cards(cameras=(camera,)))
    made, _ = build_begun(
        nothing, kind, kind.name, sizes_of(kind, kind.size_m), kind.scale, datetime.min, shelf, without=without
    )
    whole = Silhouette(made.builds[0], {}).whole
    whole.setFillRule(Qt.FillRule.WindingFill)
    return whole.simplified()
