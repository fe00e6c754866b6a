"""The section: clay, rubber and laminate where a plane cuts the mould, from the form's own distance field."""

from __future__ import annotations

from typing import TYPE_CHECKING

from PySide6.QtCore import QByteArray, QDataStream, QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QPolygonF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.constructions.register import construction_of
from homunculus.core.job.build import Piece
from homunculus.core.showing import bar_lengths

if TYPE_CHECKING:
    import numpy as np
    from numpy.typing import NDArray

    Polygon = NDArray[np.float64]


def as_polygon(points: Polygon) -> QPolygonF:
    """Points, shape (n, 2) [px], as Qt takes them in one go: one by one they cost more than the filling."""
    polygon = QPolygonF()
    stream = QDataStream(QByteArray(len(points).to_bytes(4, "big") + points.astype(">f8").tobytes()))
    stream >> polygon
    return polygon


LAMINATE_M = 0.003  # drawn thickness where a laminate card says none


class SectionView:
    """Geometry of one cut through one mould, in an area of the bench. Lengths in metres as built."""

    def __init__(self, desk: Desk, piece: Piece, area: QRectF, offset: float, angle: float) -> None:
        self.desk, self.piece, self.area = desk, piece, area
        self.k = piece.drawn_at * piece.enlarged / desk.build.scale
        laminate = desk.build_plan.find(specs.JACKET_THICKNESS, piece.id)
        self.laminate = laminate.number if laminate else LAMINATE_M
        mould = piece.mould
        assert mould is not None
        made = construction_of(mould)
        self.surround = made.surround
        self.halves = made.surround == "halves"
        self.layer = mould.layer_m
        self.flange = made.flange_m(mould)
        self.gap = made.gap_m(mould)
        lines = made.section(mould, self.laminate)
        self.offset, self.angle = offset, angle
        field = desk.meshes.field_of(piece)
        self.ready = field is not None
        self.beyond = False
        self.finest = 0.0
        """Thinnest part that the field can tell, as built [m]."""
        self.form: list[Polygon] = []
        self.rubber: list[Polygon] = []
        self.jacket: list[Polygon] = []
        self.core: list[Polygon] = []
        if field is not None:
            limit = field.reach * 0.995
            self.finest = float(f"{field.pitch * self.k:.1g}")
            wanted = [line.outward_m for line in lines]
            self.beyond = any(abs(level) / self.k > limit for level in wanted[1:2])
            levels = tuple(max(-limit, min(level / self.k, limit)) for level in wanted)
            cuts = field.section(offset=offset / self.k, angle=angle, levels=levels)
            for line, cut in zip(lines, cuts, strict=True):
                setattr(self, line.name, self._as_built(cut))
        self._fit()

    def _as_built(self, polygons: tuple[Polygon, ...]) -> list[Polygon]:
        return [polygon * self.k for polygon in polygons]

    def _bounds(self, polygons: list[Polygon]) -> tuple[float, float, float, float]:
        """Left, right, lowest and highest of polygons; of a small nothing where there are none."""
        if not polygons:
            return -0.05, 0.05, 0.0, 0.1
        lows, highs = [p.min(axis=0) for p in polygons], [p.max(axis=0) for p in polygons]
        return (float(min(v[0] for v in lows)), float(max(v[0] for v in highs)),
                float(min(v[1] for v in lows)), float(max(v[1] for v in highs)))  # fmt: skip

    def _fit(self) -> None:
        """Choose the drawing's scale and where its middle lies, so that mould and flanges are inside the area."""
        margin = self.flange if self.surround == "jacket" else self.layer
        left, right, low, high = self._bounds(self.jacket or self.form)
        left, right = left - margin, right + margin
        if self.surround != "jacket":
            low, high = low - self.layer, high + self.layer * (1.0 if self.halves else 0.3)
        self.px = min(self.area.width() / (right - left), self.area.height() / (high - low))
        self._shift = QPointF(
            self.area.center().x() - (left + right) / 2 * self.px, self.area.center().y() + (low + high) / 2 * self.px
        )

    def point(self, x: float, z: float) -> QPointF:
        """Where a point of the section lies on the bench."""
        return QPointF(self._shift.x() + x * self.px, self._shift.y() - z * self.px)

    def parting(self) -> float:
        """Height at which the outline is widest: where the two halves meet."""
        if not self.form:
            return 0.0
        outline = self.form[0]
        left, right = outline[outline[:, 0].argmin()], outline[outline[:, 0].argmax()]
        return float(left[1] + right[1]) / 2

    def edges(self) -> tuple[QPointF, QPointF]:
        """Left and right end of the outermost line, at the parting height."""
        z = self.parting()
        crossings: list[float] = []
        for outer in self.jacket or self.rubber or self.form:
            along, up = outer[:, 0], outer[:, 1]
            onward, higher = (
                along.take(range(1, len(along) + 1), mode="wrap"),
                up.take(range(1, len(up) + 1), mode="wrap"),
            )
            cut = (up > z) != (higher > z)
            crossings += (along[cut] + (onward[cut] - along[cut]) * (z - up[cut]) / (higher[cut] - up[cut])).tolist()
        if not crossings:
            crossings = self.form[0][:, 0].tolist()
        return self.point(min(crossings), z), self.point(max(crossings), z)

    def path(self, polygons: list[Polygon]) -> QPainterPath:
        """Polygons as a path; what lies inside another is a hole."""
        path = QPainterPath()
        for polygon in polygons:
            path.addPolygon(as_polygon(polygon * (self.px, -self.px) + (self._shift.x(), self._shift.y())))
            path.closeSubpath()
        return path

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        """Draw the cut, outermost matter first."""
        if not self.form:
            words = "The plane passes the form by." if self.ready else "Reading the form for its section…"
            ink.painter.setPen(ink.pen("line", 1.2, "hidden"))
            ink.painter.setBrush(Qt.BrushStyle.NoBrush)
            ink.painter.drawRect(self.area.adjusted(60, 40, -60, -40))
            ink.text(self.area.center().x(), self.area.center().y(), words, "body", "ink2", "centre")
            return
        if self.surround == "jacket":
            rubber = self.path(self.rubber)
            self._matter(ink, self.path(self.jacket), "steel", "laminate", 2.25, rubber)
            self._flanges(ink)
            self._matter(ink, rubber, "rubber", "wet", 1.5, self.path(self.form))
        elif self.halves:
            self._halves(ink)
        else:
            self._block(ink)
        if self.core:
            self._matter(ink, self.path(self.form), "rubber", "wet", 2.25)
            self._matter(ink, self.path(self.core), "edge", "structure", 1.5)
        else:
            self._matter(ink, self.path(self.form), "clay", "clay", 2.25)
        if self.surround == "jacket":
            left, right = self.edges()
            ink.rule(left.x() - self.flange * self.px - 10, left.y(), right.x() + self.flange * self.px + 10, left.y(),
                     "ink", 1.2, "parting")  # fmt: skip

    @staticmethod
    def _matter(
        ink: Ink, path: QPainterPath, colour: str, hatch: str, edge: float, within: QPainterPath | None = None
    ) -> None:
        """Fill what lies between a line and the one ``within`` it: the layers beneath what is drawn next cost time unseen."""
        ring = QPainterPath(path)
        if within:
            ring.addPath(within)
        ink.painter.fillPath(ring, ink.theme.colour(colour))
        ink.hatched(ring, hatch, "reckon" if hatch == "wet" else "ink2")
        ink.painter.setPen(ink.pen("ink", edge))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(path)

    def _flanges(self, ink: Ink) -> None:
        thick = max(3.0, self.laminate * self.px)
        for edge, way in zip(self.edges(), (-1, 1), strict=True):
            length = self.flange * self.px
            left = edge.x() - length if way < 0 else edge.x()
            for top in (edge.y() - thick, edge.y()):
                area = QRectF(left, top, length, thick)
                ink.box(area.x(), area.y(), area.width(), area.height(), fill="steel")
                ink.hatched(area, "laminate", "ink2")
                ink.box(area.x(), area.y(), area.width(), area.height(), edge="ink", width=1.5)
            middle = left + length / 2
            if length > 14:
                ink.rule(middle, edge.y() - thick - 6, middle, edge.y() + thick + 6, "ink", 2)
                ink.box(middle - 5, edge.y() - thick - 5, 10, 5, fill="ink")
                ink.box(middle - 5, edge.y() + thick, 10, 5, fill="ink")

    def _block(self, ink: Ink) -> None:
        left, right, low, high = self._bounds(self.form)
        left, right, foot, top = left - self.layer, right + self.layer, low, high + self.layer
        a, b = self.point(left, top), self.point(right, foot)
        area = QPainterPath()
        area.addRect(QRectF(a, b))
        self._matter(ink, area, "rubber", "wet", 2.25)
        ink.rule(a.x() - 16, b.y(), b.x() + 16, b.y(), "ink", 3)

    def _halves(self, ink: Ink) -> None:
        """Two halves of stone, closed all round, with round keys where they meet."""
        left, right, low, high = self._bounds(self.form)
        left, right, foot, top = left - self.layer, right + self.layer, low - self.layer, high + self.layer
        a, b, split = self.point(left, top), self.point(right, foot), self.point(0.0, self.parting()).y()
        area = QPainterPath()
        area.addRect(QRectF(a, b))
        self._matter(ink, area, "edge", "structure", 2.25)
        ink.rule(a.x(), split, b.x(), split, "ink", 1.5)
        key = max(3.0, self.layer * self.px * 0.22)
        ink.painter.setPen(ink.pen("ink", 1.5))
        ink.painter.setBrush(ink.theme.colour("edge"))
        for x in (a.x() + self.layer * self.px / 2, b.x() - self.layer * self.px / 2):
            ink.painter.drawEllipse(QPointF(x, split), key, key)

    def scale_bar(self, ink: Ink, x: float, y: float) -> None:
        """A bar of a round length, a quarter of the drawing at most."""
        lengths = bar_lengths(self.desk.system)
        length = max((v for v in lengths if v * self.px < 90), default=lengths[0])
        for i in range(4):
            step = length * self.px / 4
            ink.box(x + i * step, y, step, 5, fill="ink" if i % 2 == 0 else "sheet", edge="ink")
        ink.text(x, y + 18, "0", "tick", "ink2")
        ink.text(x + length * self.px, y + 18, str(self.desk.given(length, "length")), "tick", "ink2", "centre")
