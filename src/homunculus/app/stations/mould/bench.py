"""What does the mould take? A section through the real form, thickness set on it, volumes that add up as shown."""

from __future__ import annotations

import math

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainterPath
from PySide6.QtWidgets import QWidget

from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Handle
from homunculus.app.drawing.typing import Typed
from homunculus.app.shell.place import Place
from homunculus.app.stations.mould.section_view import SectionView
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job import JacketMould, Piece
from homunculus.core.showing import Shown

COLUMN = 212.0
PLAN = 92.0
LOUPE_R = 52.0
SLOTS = {"rubber.waste": 164.0, "rubber.keys": 214.0, "rubber.blanket": 290.0}
"""Where the labels of the stack stand, top to bottom as the parts lie."""


class MouldBench(Place):
    """The bench of station 4. What cannot be drawn (no mould) is said, with the way to the figures."""

    ground = "sheet"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Mould bench")
        self._piece = ""
        self._typed: Typed | None = None
        self.offset = 0.0
        """Of the cutting plane from the form's middle, metres as built."""
        self.angle = 0.0
        """Turn of the cutting plane about the vertical, radians."""
        self._from: tuple[float, float] = (0.0, 0.0)
        self._cut: tuple[object, SectionView] | None = None

    # ------------------------------------------------------------------------------------ pieces
    def pieces(self) -> list[Piece]:
        """Pieces of the chosen build that have a mould."""
        return [p for p in self.desk.build.pieces if p.mould] if self.desk.chosen else []

    def piece(self) -> Piece | None:
        """The piece whose mould is drawn."""
        pieces = self.pieces()
        return next((p for p in pieces if p.id == self._piece), pieces[0] if pieces else None)

    def show_piece(self, piece_id: str) -> None:
        """Draw the mould of another piece."""
        self._piece, self.offset, self.angle = piece_id, 0.0, 0.0
        self.refresh()

    # ---------------------------------------------------------------------------------- geometry
    def section_area(self) -> QRectF:
        """Where the section is drawn."""
        return QRectF(100, 130, self.width() - COLUMN - 150, self.height() - 130 - 150)

    def section(self, piece: Piece) -> SectionView:
        """The cut as it lies now; kept while nothing that it shows has changed."""
        key = (piece, self.desk.build.scale, self.offset, self.angle, self.desk.field_of(piece), self.size().toTuple())
        if self._cut is None or self._cut[0] != key:
            self._cut = (key, SectionView(self.desk, piece, self.section_area(), self.offset, self.angle))
        return self._cut[1]

    def plan_area(self) -> QRectF:
        """The small plan on which the cutting plane lies."""
        return QRectF(18, self.height() - PLAN - 30, PLAN * 1.3, PLAN)

    def loupe_middle(self) -> QPointF:
        """Middle of the loupe that shows the layers."""
        return QPointF(18 + PLAN * 1.3 + 190, self.height() - LOUPE_R - 16)

    def figure(self, spec: FigureSpec) -> Figure | None:
        """A figure of the piece whose mould is drawn."""
        piece = self.piece()
        return self.desk.build_plan.find(spec, piece.id) if piece else None

    def _layer_key(self, piece: Piece) -> str:
        return f"{'blanket_m' if isinstance(piece.mould, JacketMould) else 'wall_m'}:{piece.id}"

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        piece = self.piece()
        if piece is None:
            return
        x = self.width() - 18.0
        for other in reversed(self.pieces()) if len(self.pieces()) > 1 else []:
            width = 14 + self.setting().width(other.name, "label")
            self.spots.place(f"piece:{other.id}", QRectF(x - width, 4, width, 40), f"mould of {other.name}",
                             lambda i=other.id: self.show_piece(i))  # type: ignore[misc]  # fmt: skip
            x -= width + 6
        for spec, area in zip((specs.RUBBER_VOLUME, specs.RUBBER, specs.BATCHES), self._headline_areas(), strict=True):
            figure = self.figure(spec)
            if figure:
                self._figure_spot(figure, area)
        self._decision_spots(piece)
        self.spots.place_handle(
            "plane", self.plan_area(), self._plane_words(), Qt.CursorShape.SizeVerCursor, self._wire_plane
        )
        column = self.width() - COLUMN
        for spec in (specs.BLANKET, specs.KEYS, specs.WASTE):
            figure = self.figure(spec)
            if figure:
                self._figure_spot(figure, QRectF(column + 62, SLOTS[spec.name], 86, 40))
        for spec, area in ((specs.JACKET, QRectF(column, self.height() - 92, COLUMN - 14, 40)),
                           (specs.MOULD_WEIGHT, QRectF(column, self.height() - 46, COLUMN - 14, 40))):  # fmt: skip
            figure = self.figure(spec)
            if figure:
                self._figure_spot(figure, area)

    def _figure_spot(self, figure: Figure, area: QRectF) -> None:
        self.spots.place(f"figure:{figure.spec.name}", area, f"{figure.spec.label} {self.desk.words(figure)}",
                         lambda: self.desk.asked_why.emit(figure), figure.spec.meaning)  # fmt: skip

    def _decision_spots(self, piece: Piece) -> None:
        middle = self.loupe_middle()
        places = {self._layer_key(piece): QRectF(middle.x() - LOUPE_R - 118, middle.y() - 30, 110, 44)}
        if isinstance(piece.mould, JacketMould):
            view = self.section(piece)
            end = view.edges()[0] if view.form else QPointF(60, self.section_area().center().y())
            places[f"flange_m:{piece.id}"] = QRectF(
                max(8.0, end.x() - view.flange * view.px - 60), end.y() - 84, 96, 44
            )
            places[f"layers:{piece.id}"] = QRectF(middle.x() + LOUPE_R + 12, middle.y() - 4, 110, 44)
        places[f"waste:{piece.id}"] = QRectF(self.width() - 64, SLOTS["rubber.waste"] - 2, 60, 40)
        for key, area in places.items():
            decision = self.desk.decision(key)
            said = f"{decision.label} {self.desk.given(decision.value, decision.kind)}, decided"
            self.spots.place_handle(f"decide:{key}", area, said, Qt.CursorShape.SizeVerCursor,
                                    lambda h, k=key: self._wire(h, k))  # type: ignore[misc]  # fmt: skip

    def _plane_words(self) -> str:
        return f"cutting plane {self.desk.given(abs(self.offset), 'length')} from the middle, turned {math.degrees(self.angle):.0f} degrees"

    # ------------------------------------------------------------------------------------- edits
    def _wire(self, handle: Handle, key: str) -> None:
        start = {"y": 0.0, "value": 0.0}

        def grasp() -> None:
            start["value"], start["y"] = self.desk.decision(key).value, math.nan
            self.desk.grasp()

        def pull(at: QPointF) -> None:
            """Eight pixels a step: fine enough to stop at half a millimetre."""
            if math.isnan(start["y"]):
                start["y"] = at.y()
            decision = self.desk.decision(key)
            steps = round((start["y"] - at.y()) / 8)
            self.desk.decide(decision, round(start["value"] / decision.step + steps) * decision.step)

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(lambda steps: self.desk.step(self.desk.decision(key), steps))
        handle.typing.connect(lambda first: self.type_value(key, first))

    def _wire_plane(self, handle: Handle) -> None:
        def grasp() -> None:
            self._from = (self.offset, math.nan)

        def pull(at: QPointF) -> None:
            if math.isnan(self._from[1]):
                self._from = (self._from[0], at.y())
            self.move_plane(self._from[0] + (self._from[1] - at.y()) / self._plan_px(), self.angle)

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.stepped.connect(lambda steps: self.move_plane(self.offset + steps * 0.005, self.angle))

    def move_plane(self, offset: float, angle: float) -> None:
        """Lay the cutting plane so far from the middle, so far turned."""
        piece = self.piece()
        if piece is None:
            return
        form = self.figure(specs.FORM)
        depth = form.value.size[1] / 2 if form else 0.5  # type: ignore[union-attr]
        self.offset = max(-depth, min(depth, offset))
        self.angle = (angle + math.pi) % (2 * math.pi) - math.pi
        self._painted = None
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Brackets turn the plane by five degrees, whatever has the focus here."""
        if event.text() in ("[", "]"):
            self.move_plane(self.offset, self.angle + math.radians(5 if event.text() == "]" else -5))
        else:
            event.ignore()

    def type_value(self, key: str, first: str = "") -> None:
        """Open the line to type a decided value into."""
        handle = self.spots.find(f"decide:{key}")
        if handle is None:
            return
        decision = self.desk.decision(key)
        text = first or str(self.desk.given(decision.value, decision.kind)).replace("\N{NO-BREAK SPACE}", " ")
        self._typed = Typed(self, self.theme(), decision.label, text,
                            lambda words: self.desk.decide_typed(self.desk.decision(key), words))  # fmt: skip
        self._typed.closed.connect(handle.setFocus)
        self._typed.open_over(QRectF(handle.geometry()))

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        piece = self.piece()
        if piece is None:
            ink.text(18, 29, "Nothing is moulded here.", "bench_question")
            ink.text(18, 60, "No piece of this build has a mould.", "body", "ink2")
            return
        ink.text(18, 29, f"What does the {piece.name} mould take?", "bench_question")
        self._pieces(ink, piece)
        self._headlines(ink)
        view = self.section(piece)
        view.draw(ink)
        self._labels(ink, piece, view)
        self._plan(ink)
        self._loupe(ink, piece, view)
        self._column(ink, piece)

    def _pieces(self, ink: Ink, chosen: Piece) -> None:
        for other in self.pieces() if len(self.pieces()) > 1 else []:
            spot = self.spots.find(f"piece:{other.id}")
            if spot is None:
                continue
            box = spot.geometry()
            width = ink.text(box.x() + 7, 29, other.name, "label", "ink" if other.id == chosen.id else "ink2")
            if other.id == chosen.id:
                ink.rule(box.x() + 7, 34, box.x() + 7 + width, 34, "ink", 2)

    def _headline_areas(self) -> list[QRectF]:
        return [QRectF(12 + i * 196, 46, 188, 52) for i in range(3)]

    def _headlines(self, ink: Ink) -> None:
        waste = self.figure(specs.WASTE)
        most = self.figure(specs.MOST)
        notes = {
            specs.RUBBER_VOLUME: ("of rubber", ""),
            specs.RUBBER: ("rubber, with", f"{self.desk.words(waste)} waste" if waste else ""),
            specs.BATCHES: ("a bucket takes", f"{self.desk.words(most)} at most" if most else ""),
        }
        for (spec, lines), area in zip(notes.items(), self._headline_areas(), strict=True):
            figure = self.figure(spec)
            if figure is None:
                continue
            shown = self.desk.shown(figure)
            if spec is specs.BATCHES:
                shown = Shown(shown.number, "batch" if figure.value == 1 else "batches")
            ratio = ink.fitted(area.width() - 74, shown, "headline", equals=True)
            width = ink.number(area.x() + 6, 86, shown, "headline", "reckon", equals=True, ratio=ratio)
            for i, line in enumerate(lines):
                ink.text(area.x() + width + 14, 70 + 17 * i, line, "note", "ink2")

    def _labels(self, ink: Ink, piece: Piece, view: SectionView) -> None:
        if view.form:
            middle = view.point(*_middle(view.form[0]))
            ink.plate(middle.x() - 34, middle.y() - 12, 68, 18)
            ink.text(middle.x(), middle.y() + 3, "clay sculpt", "note", "ink", "centre")
            ink.text(
                view.area.left() - 82,
                view.area.top() - 14,
                f"parts under {self.desk.given(view.finest, 'length')} do not show",
                "tick",
                "ink2",
            )
            if view.beyond:
                ink.text(
                    view.area.center().x(),
                    view.area.top() - 8,
                    "≈ thicker than the section was read for",
                    "note",
                    "mind",
                    "centre",
                )
        for key in (f"flange_m:{piece.id}", f"layers:{piece.id}", self._layer_key(piece)):
            spot = self.spots.find(f"decide:{key}")
            if spot is None:
                continue
            decision, box = self.desk.decision(key), spot.geometry()
            ink.decided(box.x() + 8, box.y() + 24, self.desk.given(decision.value, decision.kind), "on_drawing")
            ink.text(box.x() + 8, box.y() + 43, decision.label.split(", ", 1)[-1], "note", "ink2")
        view.scale_bar(ink, 18, self.plan_area().top() - 34)

    def _plan_px(self) -> float:
        form = self.figure(specs.FORM)
        area = self.plan_area()
        if form is None:
            return 1.0
        length, depth, _ = form.value.size  # type: ignore[union-attr]
        return float(min((area.width() - 16) / length, (area.height() - 16) / depth))

    def _plan(self, ink: Ink) -> None:
        """The form's footprint with the cutting plane on it, seen from above."""
        form, area = self.figure(specs.FORM), self.plan_area()
        if form is None:
            return
        length, depth, _ = form.value.size  # type: ignore[union-attr]
        px, middle = self._plan_px(), area.center()
        ink.painter.setPen(ink.pen("line", 1.2))
        ink.painter.setBrush(ink.theme.colour("clay"))
        ink.painter.drawRect(QRectF(middle.x() - length * px / 2, middle.y() - depth * px / 2, length * px, depth * px))
        reach = area.width() / 2
        dx, dy = math.cos(self.angle), -math.sin(self.angle)
        at = QPointF(
            middle.x() + self.offset * px * math.sin(-self.angle), middle.y() - self.offset * px * math.cos(self.angle)
        )
        ink.rule(
            at.x() - dx * reach,
            at.y() - dy * reach,
            at.x() + dx * reach,
            at.y() + dy * reach + 0.01,
            "decide",
            1.6,
            "parting",
        )
        ink.lozenge(at.x(), at.y(), 10)
        words = (
            f"cut {self.desk.given(abs(self.offset), 'length')} off the middle"
            if self.offset
            else "cut through the middle"
        )
        ink.text(area.x(), area.bottom() + 18, words, "note", "ink2")

    def _loupe(self, ink: Ink, piece: Piece, view: SectionView) -> None:
        """The layers, too thin to grip on the section: clay, rubber, laminate, enlarged and dimensioned."""
        middle = self.loupe_middle()
        total = view.layer + (view.laminate if view.jacketed else 0.0)
        per_m = 2 * LOUPE_R * 0.62 / max(total, 1e-6)
        top = middle.y() - LOUPE_R * 0.42
        rubber, laminate = view.layer * per_m, view.laminate * per_m if view.jacketed else 0.0
        circle = QPainterPath()
        circle.addEllipse(middle, LOUPE_R, LOUPE_R)
        ink.painter.save()
        ink.painter.setClipPath(circle)
        left, width = middle.x() - LOUPE_R, 2 * LOUPE_R
        for y, height, colour, hatch in (
            (middle.y() - LOUPE_R, top - middle.y() + LOUPE_R, "clay", "clay"), (top, rubber, "rubber", "wet"),
            (top + rubber, laminate, "steel", "laminate"), (top + rubber + laminate, 2 * LOUPE_R, "sheet", ""),
        ):  # fmt: skip
            area = QRectF(left, y, width, height)
            ink.painter.fillRect(area, ink.theme.colour(colour))
            if hatch:
                ink.hatched(area, hatch, "reckon" if hatch == "wet" else "ink2")
            ink.rule(left, y + height, left + width, y + height, "ink", 2)
        ink.rule(left, top, left + width, top, "ink", 2)
        ink.painter.restore()
        ink.painter.setPen(ink.pen("ink", 1.5))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(circle)
        factor = per_m / view.px
        ink.text(middle.x(), middle.y() + LOUPE_R - 6, f"×{factor:.2g}", "tick", "ink", "centre")
        ink.dimension(left - 8, top, left - 8, top + rubber, "ink")
        thick = self.figure(specs.JACKET_THICKNESS)
        if thick:
            ink.dimension(left + width + 6, top + rubber, left + width + 6, top + rubber + laminate)
            ink.number(left + width + 20, top + 2, self.desk.shown(thick), "after_value", "reckon", equals=True)
            ink.text(left + width + 20, top + 17, "laminate", "note", "ink2")

    def _column(self, ink: Ink, piece: Piece) -> None:
        x = self.width() - COLUMN
        ink.rule(x - 14, 110, x - 14, self.height() - 16, "hair", 1)
        self._stack(ink, x, piece)
        self._buckets(ink, x)
        jacket, weight = self.figure(specs.JACKET), self.figure(specs.MOULD_WEIGHT)
        if jacket:
            ink.number(x, self.height() - 70, self.desk.shown(jacket), "after_value", "reckon", equals=True)
            ink.text(x, self.height() - 55, "of laminate, mat and resin", "note", "ink2")
        if weight:
            carry = self.desk.job.shop.carry_kg
            words = "two can lift it" if weight.number <= carry else "for the hoist"
            ink.number(x, self.height() - 26, self.desk.shown(weight), "after_value", "reckon", equals=True)
            ink.text(x, self.height() - 10, f"the mould, empty: {words}", "note", "ink2")

    def _stack(self, ink: Ink, x: float, piece: Piece) -> None:
        """Volumes that add up as shown, in one unit."""
        parts = [(spec, f) for spec in (specs.BLANKET, specs.KEYS, specs.WASTE) if (f := self.figure(spec))]
        if not parts:
            return
        metric = self.desk.system == "metric"
        unit, name = (1e-6, "mL") if metric else (2.95735295625e-5, "fl oz")
        shown = [round(f.number / unit) for _, f in parts]
        total = sum(shown)
        top, bottom = 128.0, 396.0
        ink.text(x, top - 2, "Rubber to mix", "label", "ink", weight=600)
        ink.number(x + 62, top + 24, Shown(f"{total}", name), "after_value", "reckon", equals=True)
        foot, height = bottom, bottom - top - 34
        names = {specs.BLANKET: "blanket" if isinstance(piece.mould, JacketMould) else "block", specs.KEYS: "keys, spout",
                 specs.WASTE: "waste"}  # fmt: skip
        for (spec, _), amount in zip(parts, shown, strict=True):
            part = height * amount / max(total, 1)
            area = QRectF(x, foot - part, 46, part)
            ink.box(
                area.x(), area.y(), area.width(), area.height(), fill="rubber" if spec is not specs.WASTE else "sheet"
            )
            if spec is not specs.WASTE:
                ink.hatched(area, "wet", "reckon")
            ink.box(area.x(), area.y(), area.width(), area.height(), edge="ink", width=1.5)
            slot = SLOTS[spec.name]
            ink.rule(x + 46, foot - part / 2, x + 58, slot + 14, "line", 1)
            ink.number(x + 62, slot + 18, Shown(str(amount), name), "lane_value")
            ink.text(x + 62, slot + 34, names[spec], "note", "ink2")
            foot -= part
        waste = self.desk.decision(f"waste:{piece.id}")
        ink.decided(self.width() - 58, SLOTS["rubber.waste"] + 18, self.desk.given(waste.value, "share"), "lane_value")

    def _buckets(self, ink: Ink, x: float) -> None:
        count, batch, most = self.figure(specs.BATCHES), self.figure(specs.BATCH), self.figure(specs.MOST)
        if not (count and batch and most):
            return
        y, shop = 414.0, self.desk.job.shop.mixing
        number = int(count.number)
        ink.text(
            x,
            y + 4,
            f"{self.desk.given(shop.vessel_m3, 'volume')} bucket, filled to 1/{shop.head_room:g}",
            "note",
            "ink2",
        )
        drawn = min(number, 4)
        full = batch.number / max(most.number, 1e-9) / shop.head_room
        for i in range(drawn):
            left = x + i * 46
            ink.box(left, y + 14, 36, 50, fill="sheet")
            level = QRectF(left, y + 14 + 50 * (1 - full), 36, 50 * full)
            ink.box(level.x(), level.y(), level.width(), level.height(), fill="rubber")
            ink.hatched(level, "wet", "reckon")
            ink.rule(left, y + 14 + 50 * (1 - 1 / shop.head_room), left + 36, y + 14 + 50 * (1 - 1 / shop.head_room),
                     "decide", 1.2, "limit")  # fmt: skip
            ink.box(left, y + 14, 36, 50, edge="ink", width=1.5)
            last = i == drawn - 1 and number > drawn
            ink.text(left + 18, y + 36, f"… {number}" if last else str(i + 1), "lane_value", "ink", "centre")
        ink.number(x, y + 84, self.desk.shown(batch), "lane_value", "reckon", equals=True)
        ink.text(x + 86, y + 84, "each", "note", "ink2")


def _middle(polygon: tuple[tuple[float, float], ...]) -> tuple[float, float]:
    return sum(x for x, _ in polygon) / len(polygon), sum(z for _, z in polygon) / len(polygon)
