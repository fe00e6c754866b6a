"""The side elevation: stage, camera, person and model at true proportion."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QColor, QPainterPath, QPolygonF, QTransform

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.figures import Figure
from homunculus.core.showing import Shown, show, show_times

CAMERA_M = 1.35
FIGURE_H = 68.0
"""Height that each figure at the left takes."""
FIGURES_W = 190.0


class Elevation:
    """Geometry and drawing of the side view within an area of the bench."""

    def __init__(self, desk: Desk, area: QRectF) -> None:
        self.desk = desk
        self.area = area
        self.made = desk.build_plan
        self.stage = desk.job.shop.stage
        self.silhouette = desk.silhouette(desk.build)
        self.scale = desk.build.scale
        box = self.silhouette.bounds
        self.length, self.height = box.width() / self.scale, box.height() / self.scale
        self.camera = self._camera_distance()
        floor_height = 18.0
        self.floor = area.bottom() - floor_height
        left = area.left() + FIGURES_W
        tall = max(self.stage.height_m, desk.build.stands_m + self.height) + 0.12
        across = 0.9 + 0.9 + self.camera + self.length + 1.6
        room = area.right() - left - 130
        self.px = min((self.floor - area.top() - 14) / tall, room / across)
        spare = room - across * self.px
        self.person_x = left + min(spare * 0.25, 60) + 0.45 * self.px
        self.lens_x = self.person_x + 1.15 * self.px
        self.model_left = self.lens_x + self.camera * self.px
        self.foot = self.floor - desk.build.stands_m * self.px
        self._height_at = -1000.0
        self._taken: list[QRectF] = []
        """Where words and the loupe stand already."""

    def _camera_distance(self) -> float:
        """From the lens to the model's near end: the governing shot's, else as far as the model is long."""
        nears = [f for f in self.made.figures if f.spec is specs.NEAR]
        if not nears:
            return max(0.8, min(3.0, 1.2 * self.length))
        return min(6.0, max(f.number for f in nears))

    def y_of(self, above_foot: float) -> float:
        """Where a height above the model's foot lies [m]."""
        return self.foot - above_foot * self.px

    @property
    def top(self) -> QPointF:
        """The highest point of the model, where the height is taken hold of."""
        return QPointF(self.model_left + self.length * self.px + 14, self.y_of(self.height))

    def handle_area(self) -> QRectF:
        """Where the height can be taken hold of."""
        return QRectF(self.top.x() - 20, self.top.y() - 20, 40, 40)

    def scale_for_y(self, y: float) -> float:
        """The scale at which the model's top would lie at y."""
        height = max(0.01, (self.foot - y) / self.px)
        scale = self.height * self.scale / height
        return round(scale, 1) if scale < 20 else float(round(scale))

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        """Draw the whole elevation."""
        self._figures(ink)
        if not self.silhouette.paths or self.silhouette.bounds.isEmpty():
            self._waiting(ink)
            return
        self._room(ink)
        self._person(ink)
        self._model(ink)
        self._dimensions(ink)

    def waiting_area(self) -> QRectF:
        """Where the model will stand, while it has no form."""
        return QRectF(self.area.center().x() - 60, self.floor - 150, 220, 130)

    def _waiting(self, ink: Ink) -> None:
        box = self.waiting_area()
        ink.painter.setPen(ink.pen("line", 1.2, "hidden"))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawRect(box)
        words = "No form yet. Drop a mesh here." if self.desk.build.pieces else "+ type its first piece …"
        ink.text(
            box.center().x(), box.center().y(), words, "body", "ink2" if self.desk.build.pieces else "decide", "centre"
        )

    def _figures(self, ink: Ink) -> None:
        """Three reckoned figures at the left, the largest first."""
        y = self.area.top() + 40
        for figure, note, role in self.headline_figures():
            shown = self.desk.shown(figure)
            ink.number(
                18, y, shown, role, "reckon", equals=True, ratio=ink.fitted(FIGURES_W - 26, shown, role, equals=True)
            )
            ink.text(18, y + 20, ink.squeezed(FIGURES_W - 10, note, "note"), "note", "ink2")
            y += FIGURE_H

    def headline_figures(self) -> list[tuple[Figure, str, str]]:
        """Figure, note and type role of what stands at the left."""
        made, found = self.made, []
        rate = made.find(specs.BUILD_RATE)
        if rate:
            shots = [f for f in made.figures if f.spec is specs.RATE]
            worst = max(shots, key=lambda f: f.number)
            words = f"at the camera, worst of {len(shots)}: shot {worst.subject.shot}"
            if len(shots) == 1:
                words = f"at the camera, shot {worst.subject.shot}"
            found.append((rate, words, "headline"))
            stretch = made.find(specs.STRETCH, shot=worst.subject.shot)
            exposures = made.find(specs.EXPOSURES, shot=worst.subject.shot)
            if stretch:
                found.append((stretch, "time stretched", "on_drawing"))
            elif exposures:
                found.append((exposures, f"exposures, shot {worst.subject.shot}", "on_drawing"))
        weight = made.find(specs.WEIGHT)
        if weight and weight.number:
            found.append((weight, "all pieces as made", "on_drawing"))
        return found[: max(1, int((self.area.height() - 4) // FIGURE_H))]

    def _room(self, ink: Ink) -> None:
        left, right = self.area.left() + FIGURES_W, self.area.right()
        ink.rule(self.area.left(), self.floor, right, self.floor, "ink", 1.6)
        ink.hatched(QRectF(self.area.left(), self.floor, right - self.area.left(), self.area.bottom() - self.floor),
                    "structure", "line")  # fmt: skip
        roof = self.floor - self.stage.height_m * self.px
        if roof < self.area.top() + 2:
            return
        ink.rule(left, roof, right - 4, roof, "ink", 1.4)
        ink.hatched(QRectF(left, roof - 8, right - 4 - left, 8), "structure", "line")
        words = f"roof at {self.desk.given(self.stage.height_m, 'length')}"
        ink.text(left + 4, roof + 17, words, "note", "ink2")
        lamps = roof + self.stage.lamps_m * self.px
        ink.rule(left + 130, lamps, right - 70, lamps, "line", 1, "hidden")
        for share in (0.45, 0.6, 0.75):
            self._lamp(ink, left + share * (right - left), roof)
        ink.text(
            right - 12, lamps - 4, f"lamps {self.desk.given(self.stage.lamps_m, 'length')}", "note", "ink2", "right"
        )

    @staticmethod
    def _lamp(ink: Ink, x: float, roof: float) -> None:
        ink.painter.setPen(ink.pen("line", 1))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPolygon(QPolygonF([QPointF(x - 7, roof + 7), QPointF(x + 7, roof + 7), QPointF(x + 11, roof + 20),
                                           QPointF(x - 11, roof + 20)]))  # fmt: skip

    def _person(self, ink: Ink) -> None:
        painter = ink.painter
        tall = round(PERSON_M * self.px, 1)
        painter.save()
        painter.translate(self.person_x, self.floor)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(ink.theme.colour("ink2"))
        painter.drawPath(person_path(tall))
        painter.restore()
        words = str(self.desk.given(PERSON_M, "length"))
        ink.text(self.person_x, self.floor - tall - 8, words, "note", "ink2", "centre")
        lens_y = self._lens_y()
        body = QRectF(self.lens_x - 22, lens_y - 6, 16, 12)
        ink.painter.fillRect(body, ink.theme.colour("ink"))
        ink.painter.setBrush(ink.theme.colour("ink"))
        ink.painter.setPen(Qt.PenStyle.NoPen)
        ink.painter.drawPolygon(QPolygonF([QPointF(self.lens_x - 6, lens_y - 2), QPointF(self.lens_x, lens_y - 6),
                                           QPointF(self.lens_x, lens_y + 6), QPointF(self.lens_x - 6, lens_y + 2)]))  # fmt: skip
        for foot in (-28, -14, 0):
            ink.rule(self.lens_x - 14, lens_y + 6, self.lens_x + foot, self.floor, "ink", 1.3)

    def _lens_y(self) -> float:
        middle = self.desk.build.stands_m + self.height / 2
        return self.floor - min(CAMERA_M, max(0.35, middle)) * self.px

    def model_path(self, path: QPainterPath) -> QPainterPath:
        """A piece's outline, real metres, as it lies on the drawing."""
        k = self.px / self.scale
        shift = QTransform().translate(self.model_left, self.foot).scale(k, k)
        return shift.translate(-self.silhouette.bounds.left(), 0).map(path)

    def _model(self, ink: Ink) -> None:
        painter = ink.painter
        lens = QPointF(self.lens_x, self._lens_y())
        if self.desk.build.stands_m > 0.05:
            self._stand(ink)
        drawn_height = max(self.height, self.length) * self.px
        far = self.model_left + self.length * self.px
        ink.rule(lens.x(), lens.y(), far, self.y_of(self.height * 1.05), "line", 0.9, "sight")
        ink.rule(lens.x(), lens.y(), self.model_left, self.foot, "line", 0.9, "sight")
        for _piece, path in self.silhouette.paths:
            mapped = self.model_path(path)
            ink.hatched(mapped, "structure", "ink2", "sheet")
            painter.setPen(ink.pen("ink", 1.5))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            for index, polygon in enumerate(mapped.toSubpathPolygons()):
                box = polygon.boundingRect()
                if index == 0 or box.width() + box.height() > 12:  # smaller holes would be blots
                    painter.setPen(ink.pen("ink", 1.5 if index == 0 else 0.75))
                    painter.drawPolygon(polygon)
        if self.desk.build.water:
            self._water(ink)
        if drawn_height < 70:
            self._loupe(ink, drawn_height)

    def _stand(self, ink: Ink) -> None:
        """What it stands on: a table, or a tank of water where there is water in the shot."""
        left, right = self._stand_edges()
        deep = self._tank_depth()
        if deep:
            tank = QRectF(left, self.foot - 6, right - left, deep + 6)
            ink.painter.fillRect(tank.adjusted(0, 6, 0, 0), ink.theme.colour("water"))
            ink.painter.setPen(ink.pen("ink", 1.4))
            ink.painter.drawPolyline([tank.topLeft(), tank.bottomLeft(), tank.bottomRight(), tank.topRight()])
        else:
            ink.rule(left, self.foot, right, self.foot, "ink", 1.4)
        for share in (0.03, 0.36, 0.68, 0.97):
            x = left + share * (right - left)
            ink.rule(x, self.foot + deep, x, self.floor, "line", 1)

    def _stand_edges(self) -> tuple[float, float]:
        return self.model_left - 14, self.model_left + self.length * self.px + 34

    def _tank_depth(self) -> float:
        return min(0.28, self.desk.build.stands_m * 0.35) * self.px if self.desk.build.water else 0.0

    def _water(self, ink: Ink) -> None:
        wave = self.made.find(specs.WAVE)
        if wave is None:
            return
        left, right = self._stand_edges()
        high = wave.number * self.px
        crest = left + 0.16 * (right - left)
        points = []
        x = left
        while x <= right:
            bump = high * math.exp(-(((x - crest) / (0.06 * (right - left) + 4)) ** 2))
            points.append(QPointF(x, self.foot - bump - 1.2 * math.sin((x - left) / 6)))
            x += 6
        fill = QColor(ink.theme.colour("water"))
        fill.setAlpha(205)
        path = QPainterPath()
        path.addPolygon(QPolygonF([QPointF(left, self.foot + 2), *points, QPointF(right, self.foot + 2)]))
        ink.painter.fillPath(path, fill)
        ink.painter.setPen(ink.pen("reckon", 1.5))
        ink.painter.drawPolyline(points)

    def _loupe(self, ink: Ink, drawn: float) -> None:
        """Too small to read at true proportion: a loupe tied to its place."""
        radius = max(30.0, min(78.0, (self.floor - 66 - self.area.top()) / 2))  # beneath the ladder
        middle = QPointF(min(self.area.right() - radius - 150, self.model_left + 190), self.floor - radius - 62)
        factor = max(2.0, float(round(radius * 1.55 / drawn)))
        at = QPointF(self.model_left + self.length * self.px / 2, self.foot - self.height * self.px / 2)
        for side in (-1, 1):
            ink.rule(at.x(), at.y(), middle.x() + side * radius * 0.72, middle.y() + radius * 0.7, "line", 0.8)
        circle = QPainterPath()
        circle.addEllipse(middle, radius, radius)
        self._taken.append(circle.boundingRect())
        ink.painter.fillPath(circle, ink.theme.colour("sheet"))
        ink.painter.save()
        ink.painter.setClipPath(circle)
        shift = QTransform().translate(middle.x(), middle.y()).scale(factor, factor).translate(-at.x(), -at.y())
        for _piece, path in self.silhouette.paths:
            mapped = shift.map(self.model_path(path))
            ink.painter.fillPath(mapped, ink.theme.colour("clay"))
            ink.painter.setPen(ink.pen("ink", 1.4))
            ink.painter.drawPath(mapped)
        ink.painter.restore()
        ink.painter.setPen(ink.pen("ink", 1.4))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(circle)
        ink.text(middle.x(), middle.y() + radius - 8, show_times(factor), "label", "ink2", "centre")

    def _dimensions(self, ink: Ink) -> None:
        height = self.made.find(specs.HEIGHT)
        if height is None:
            return
        x, top = self.top.x(), self.top.y()
        ink.dimension(x, self.foot, x, top, "ink")
        ink.lozenge(x, top, 12, hollow=True)
        shown = self.desk.shown(height)
        width = ink.number_width(shown, "on_drawing", equals=True)
        y = max(min((top + self.foot) / 2 + 4, self.floor - 26), self.area.top() + 60)
        self._height_at = y
        text_x = x + 14 if x + 20 + width < self.area.right() else x - 18 - width
        ink.plate(text_x, y - 20, width, 40)
        self._taken.append(QRectF(text_x, y - 24, max(width, 90), 46))
        ink.number(text_x, y, shown, "on_drawing", "reckon", equals=True)
        real = show(height.number * self.scale, "length", self.desk.system)
        ink.text(text_x, y + 17, f"{real} real", "note", "ink2")
        self._wave_label(ink)
        self._speed_labels(ink)

    def _wave_label(self, ink: Ink) -> None:
        wave, water = self.made.find(specs.WAVE), self.desk.build.water
        if wave is None or water is None:
            return
        shown = self.desk.shown(wave)
        x, y = self._stand_edges()[0] - 12, self.foot + 8
        width = ink.number_width(shown, "after_value", equals=True)
        ink.plate(x - width, y - 18, width, 34)
        ink.number(x, y, shown, "after_value", "reckon", "right", equals=True)
        ink.text(x, y + 15, f"wave, {self.desk.given(water.wave_m, 'length')} real", "note", "ink2", "right")

    def _speed_labels(self, ink: Ink) -> None:
        """Of each move its speed in its first shot, where there is room; the others are among the figures."""
        first: dict[str, Figure] = {}
        for figure in self.made.figures:
            if figure.spec is specs.SPEED:
                first.setdefault(figure.subject.move, figure)
        x, below = self._stand_edges()[1] + 12, min(self.foot + 12.0, self.floor - 20)
        for figure in list(first.values())[:2]:
            move = next(m for m in self.desk.build.moves if m.name == figure.subject.move)
            shown: Shown = self.desk.shown(figure)
            note = f"{move.name}, {self.desk.given(move.real_m_s, 'speed')} real, shot {figure.subject.shot}"
            width = max(ink.number_width(shown, "after_value", equals=True), ink.width(note, "note"))
            for y in (below, below + 40, self._height_at + 46, self._height_at - 48, below - 90):
                label = QRectF(x, y - 18, width, 36)
                inside = (
                    self.area.top() < label.top()
                    and label.bottom() < self.area.bottom()
                    and label.right() < self.area.right()
                )
                if inside and not any(label.intersects(taken) for taken in self._taken):
                    ink.plate(x, y - 18, width, 34)
                    ink.number(x, y, shown, "after_value", "reckon", equals=True)
                    ink.text(x, y + 15, note, "note", "ink2")
                    self._taken.append(label)
                    break
