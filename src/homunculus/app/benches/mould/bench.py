"""What does the mould take? A section through the real form, thickness set on it, volumes that add up as shown."""

from __future__ import annotations

import math
from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainterPath
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import PieceBench
from homunculus.app.benches.mould.section_view import SectionView
from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Handle
from homunculus.app.drawing.turntable import Turntable
from homunculus.app.files import ask_to_read
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.constructions.construction import Construction
from homunculus.core.constructions.register import construction_of
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.build import Piece
from homunculus.core.plan.build_plan import PlannedPour
from homunculus.core.plan.cautions import lift_words
from homunculus.core.plan.memory import Last
from homunculus.core.planners.poured import vessel
from homunculus.core.showing import Shown, show_times, stacked
from homunculus.exchange.formats import offered

COLUMN = 212.0
HEAD = 104.0
TABLE_W, TABLE_H = 156.0, 122.0
LOUPE_R = 52.0
TURN_PX = 12
"""Pixels across that turn the plane by five degrees."""
WASTE_SLOT = 164.0
SLOTS = (290.0, 214.0, WASTE_SLOT)
"""Where the labels of the stack stand, from the lowest part to the waste."""


class MouldBench(PieceBench):
    """The bench of station 4. What cannot be drawn (no mould) is said, with the way to the figures."""

    least_height = 610

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Mould bench")
        self.offset = 0.0
        """Of the cutting plane from the form's middle, metres as built."""
        self.angle = 0.0
        """Turn of the cutting plane about the vertical, radians."""
        self._from: tuple[float, float] = (0.0, 0.0)
        self._held: QPointF | None = None
        self._cut: Last[SectionView] = Last()
        self.turntable = Turntable()
        self._seen_at = QPointF()

    def show_piece(self, piece_id: str) -> None:
        self.offset = self.angle = 0.0
        super().show_piece(piece_id)

    # ---------------------------------------------------------------------------------- geometry
    def section_area(self) -> QRectF:
        """Where the section is drawn."""
        return QRectF(100, 130, self.width() - COLUMN - 150, self.height() - 130 - 150)

    def section(self, piece: Piece) -> SectionView:
        """The cut as it lies now; kept while nothing that it shows has changed."""
        of = (piece, self.desk.build.scale, self.offset, self.angle, self.desk.meshes.field_of(piece), self.width(), self.height())  # fmt: skip
        return self._cut.get(of, lambda: SectionView(self.desk, piece, self.section_area(), self.offset, self.angle))

    def table_area(self) -> QRectF:
        """The form on its turntable, with the cutting plane on it."""
        return QRectF(18, self.height() - TABLE_H - 26, TABLE_W, TABLE_H)

    def slide_area(self) -> QRectF:
        """The way along which the cutting plane slides, beside the turntable."""
        area = self.table_area()
        return QRectF(area.right() + 2, area.top(), 26, area.height())

    def loupe_middle(self) -> QPointF:
        """Middle of the loupe that shows the layers."""
        most = self.width() - COLUMN - 30 - LOUPE_R - 122  # with its labels it ends before the column
        return QPointF(max(LOUPE_R + 130.0, min(18.0 + TABLE_W + 202, most)), self.height() - LOUPE_R - 16)

    def _made(self, piece: Piece) -> Construction:
        """How the piece's mould is made."""
        assert piece.mould is not None
        return construction_of(piece.mould)

    def _layer_key(self, piece: Piece) -> str:
        return f"{self._made(piece).layer}:{piece.id}"

    def _poured(self) -> tuple[FigureSpec, FigureSpec]:
        """Volume and mass of what the mould is poured of."""
        piece = self.piece()
        made = self._made(piece) if piece else None
        return (made.volume, made.mass) if made else (specs.RUBBER_VOLUME, specs.RUBBER)

    def _parts(self, piece: Piece) -> list[tuple[Figure, str, float]]:
        """The volumes of the stack from the lowest up: figure, word, where the label stands."""
        known = [(f, word) for spec, word in self._made(piece).stack if (f := self.figure(spec))]
        slots = SLOTS if len(known) == 3 else SLOTS[::2]
        return [(f, word, slot) for (f, word), slot in zip(known, slots, strict=False)]

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        piece = self.piece()
        if piece is None:
            self.nothing_spots()
            return
        self.piece_spots("mould")
        for spec, area in zip((*self._poured(), specs.BATCHES), map(self.headline_area, range(3)), strict=True):
            figure = self._batches() if spec is specs.BATCHES else self.figure(spec)
            if figure:
                self.figure_spot(figure, area)
        self._decision_spots(piece)
        self.spots.place_handle("turntable", self.table_area(), "the form on its turntable: arrows turn it",
                                Qt.CursorShape.OpenHandCursor, self._wire_table)  # fmt: skip
        slide = self.slide_area().adjusted(-6, 0, 8, 0)
        self.spots.place_handle("plane", slide, self._plane_words(), Qt.CursorShape.SizeVerCursor, self._wire_plane)
        asked = self._asked(piece)
        if asked:
            name, _, why, act = asked
            self.spots.place(name, QRectF(12, 112, 330, 30), f"{why}: {name} the mesh", lambda: act(piece))
        column = self.width() - COLUMN
        for figure, _, slot in self._parts(piece):
            self.figure_spot(figure, QRectF(column + 62, slot, 86, 40))
        foot = self._made(piece).foot
        for spec, area in ((foot, QRectF(column, self.height() - 92, COLUMN - 14, 40)),
                           (specs.MOULD_WEIGHT, QRectF(column, self.height() - 46, COLUMN - 14, 40))):  # fmt: skip
            figure = self.figure(spec)
            if figure:
                self.figure_spot(figure, area)

    def _decision_spots(self, piece: Piece) -> None:
        middle = self.loupe_middle()
        places = {self._layer_key(piece): QRectF(middle.x() - LOUPE_R - 118, middle.y() - 30, 110, 44)}
        view, made = self.section(piece), self._made(piece)
        end = view.edges()[0] if view.form else QPointF(60, self.section_area().center().y())
        handles = {
            "flange_m": QRectF(max(8.0, end.x() - view.flange * view.px - 60), end.y() - 84, 96, 44),
            "layers": QRectF(middle.x() + LOUPE_R + 12, middle.y() - 4, 110, 44),
            "keys": QRectF(self.width() - 64, SLOTS[1] - 2, 60, 40),
            "wall_m": QRectF(20, self.section_area().center().y() - 22, 96, 44),
            "gap_m": QRectF(20, self.section_area().center().y() + 26, 96, 44),
        }  # where each lies, of whichever construction it is
        places |= {f"{name}:{piece.id}": handles[name] for name in made.handles}
        places[f"waste:{piece.id}"] = QRectF(self.width() - 64, WASTE_SLOT - 2, 60, 40)
        for key, area in places.items():
            self.decide_spot(key, area)

    def _plane_words(self) -> str:
        return f"cutting plane {self.desk.given(abs(self.offset), 'length')} from the middle, turned {math.degrees(self.angle):.0f} degrees"

    # ------------------------------------------------------------------------------------- edits
    def _wire_table(self, handle: Handle) -> None:
        def turn(at: QPointF) -> None:
            if not self._seen_at.isNull():
                moved = at - self._seen_at
                self.turn_table(moved.x() / 60, moved.y() / 120)
            self._seen_at = at

        def grasp() -> None:
            self._seen_at = QPointF()

        handle.pressed.connect(grasp)
        handle.dragged.connect(turn)
        handle.stepped.connect(lambda steps: self.turn_table(math.radians(10 * steps)))

    def turn_table(self, yaw: float, tilt: float = 0.0) -> None:
        """Turn the form on its table by so much [radians]."""
        self.turntable.turn(yaw, tilt)
        self.update(self.table_area().toAlignedRect())

    def _wire_plane(self, handle: Handle) -> None:
        def grasp() -> None:
            self._from, self._held = (self.offset, self.angle), None
            self.desk.grasp()

        def pull(at: QPointF) -> None:
            self._held = self._held or at
            moved = at - self._held
            slid = self._from[0] - moved.y() * 2 * self._depth() / self.slide_area().height()
            self.move_plane(slid, self._from[1] + round(moved.x() / TURN_PX) * math.radians(5))

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(lambda steps: self.move_plane(self.offset + steps * 0.005, self.angle))

    def _depth(self) -> float:
        """How far the plane slides either way [m as built]."""
        form = self.figure(specs.FORM)
        return form.value.size[1] / 2 if form else 0.5  # type: ignore[union-attr]

    def move_plane(self, offset: float, angle: float) -> None:
        """Lay the cutting plane so far from the middle, so far turned."""
        piece = self.piece()
        if piece is None:
            return
        self.offset = max(-self._depth(), min(self._depth(), offset))
        self.angle = (angle + math.pi) % (2 * math.pi) - math.pi
        if self.desk.gesture is None:
            self.again()
        else:
            self._behind = True
            self.update(self._section_room().toAlignedRect())

    def choose_mesh(self) -> None:
        """Ask for a mesh file and take it in as the form of the drawn piece, where this bench is open, else of the build's first."""
        path = ask_to_read(self, "Take in a mesh", "mesh", offered("Meshes", "mesh"))
        if path:
            piece = self.piece() if self.desk.station == "mould" else None
            self.desk.meshes.take_in(path, piece.id if piece else "")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Brackets turn the plane by five degrees, whatever has the focus here."""
        if event.text() in ("[", "]"):
            self.move_plane(self.offset, self.angle + math.radians(5 if event.text() == "]" else -5))
        else:
            event.ignore()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        piece = self.piece()
        if piece is None:
            self.draw_nothing(ink)
            return
        view = self.section(piece)
        if self.touches(QRectF(0, 0, self.width(), HEAD)):
            ink.text(18, 29, f"What does the {piece.name} mould take?", "bench_question")
            self.draw_pieces(ink)
            self._headlines(ink)
        if self.touches(self._section_room()):
            view.draw(ink)
            self._labels(ink, piece, view)
            self._loupe(ink, piece, view)
        if self.touches(self.table_area()):
            self._table(ink, piece, view)
        if self.touches(QRectF(self.width() - COLUMN, HEAD, COLUMN, self.height())):
            self._column(ink, piece)

    def _section_room(self) -> QRectF:
        """All that the section, its labels and the loupe may take."""
        return QRectF(0, HEAD, self.width() - COLUMN - 15, self.height() - HEAD)

    def _headlines(self, ink: Ink) -> None:
        waste, most = self.figure(specs.WASTE), self._first_mix(specs.MOST)
        volume, mass = self._poured()
        piece = self.piece()
        matter, pours = self._made(piece).matter if piece else "", len(self._pours())
        notes = {
            volume: (f"of {matter}", ""),
            mass: (f"{matter}, with", f"{self.desk.words(waste)} waste" if waste else ""),
            specs.BATCHES: (
                f"in each of {pours} pours;" if pours > 1 else "a bucket takes",
                f"{self.desk.words(most)} at most" if most else "",
            ),
        }
        for (spec, lines), area in zip(notes.items(), map(self.headline_area, range(3)), strict=True):
            figure = self._batches() if spec is specs.BATCHES else self.figure(spec)
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
            middle = view.point(*view.form[0].mean(axis=0).tolist())
            ink.plate(middle.x() - 34, middle.y() - 12, 68, 18)
            ink.text(middle.x(), middle.y() + 3, "core" if view.core else "clay sculpt", "note", "ink", "centre")
            self._fineness(ink, piece, view)
            if view.beyond:
                ink.text(
                    view.area.center().x(),
                    view.area.top() - 8,
                    "≈ thicker than the section was read for",
                    "note",
                    "mind",
                    "centre",
                )
        made = self._made(piece)
        for name in (made.layer, *(name for name in made.handles if name != "keys")):  # these stand by the stack
            self.draw_decided(ink, f"{name}:{piece.id}")
        view.scale_bar(ink, 18, self.table_area().top() - 30)

    def turned(self) -> Shown:
        """How far the form is turned, to whole degrees."""
        return self.desk.given(math.radians(round(math.degrees(self.angle))), "angle")

    def _fineness(self, ink: Ink, piece: Piece, view: SectionView) -> None:
        """What the section cannot tell, and what is torn or hollow of the mesh, with the way to mend or fill it."""
        asked = self._asked(piece)
        ink.text(
            18,
            146 if asked else 128,
            f"parts under {self.desk.given(view.finest, 'length')} do not show",
            "tick",
            "ink2",
        )
        if asked:
            _, handle, words, _ = asked
            ink.tag(18, 118, "mind")
            width = ink.text(42, 129, ink.squeezed(210, words, "note"), "note", "ink")
            ink.rule(
                50 + width, 133, 50 + width + ink.text(50 + width, 129, handle, "note", "decide"), 133, "decide", 1
            )

    def _asked(self, piece: Piece) -> tuple[str, str, str, Callable[[Piece], None]] | None:
        """What the mesh of a piece asks to be decided: the spot's name, its handle, the words, what to do. None: nothing."""
        fact = self.desk.meshes.fact_of(piece)
        if fact is None or not (fact.torn or fact.cavities):
            return None
        if fact.torn:
            return "mend", "mend it", fact.notes()[0].split(":")[0], self.desk.meshes.mend
        return "fill", "fill it", fact.cavity_words, self.desk.meshes.fill

    def _table(self, ink: Ink, piece: Piece, view: SectionView) -> None:
        """The form on its turntable, and beside it the way along which the plane slides."""
        area, slide = self.table_area(), self.slide_area()
        self.turntable.draw(ink, area, self.desk.meshes.field_of(piece), self.offset / view.k, self.angle)
        x = slide.center().x()
        ink.rule(x, slide.top() + 6, x, slide.bottom() - 6, "line", 1.2)
        ink.rule(x - 4, slide.center().y(), x + 4, slide.center().y(), "line", 1.2)
        at = slide.center().y() - self.offset / max(self._depth(), 1e-9) * (slide.height() / 2 - 8)
        ink.lozenge(x, at, 11)
        words = (
            f"cut {self.desk.given(abs(self.offset), 'length')} off the middle"
            if self.offset
            else "cut through the middle"
        )
        if self.angle:
            words += f", turned {self.turned()}"
        ink.text(area.x(), area.bottom() + 18, words, "note", "ink2")

    def _loupe(self, ink: Ink, piece: Piece, view: SectionView) -> None:
        """The layers, too thin to grip on the section, enlarged and dimensioned: clay, rubber, laminate; or core, skin, stone."""
        middle = self.loupe_middle()
        laminate = view.laminate if view.surround == "jacket" else 0.0
        grip = (view.gap or view.layer) if view.halves else view.layer
        per_m = 2 * LOUPE_R * 0.62 / max(grip + laminate, 1e-6)
        top = middle.y() - LOUPE_R * 0.42
        rubber, laminate = grip * per_m, laminate * per_m
        within, without = ("edge", "structure"), ("edge", "structure") if view.halves else ("sheet", "")
        if not (view.halves and view.gap):
            within = ("clay", "clay")
        gripped = ("edge", "structure") if view.halves and not view.gap else ("rubber", "wet")
        circle = QPainterPath()
        circle.addEllipse(middle, LOUPE_R, LOUPE_R)
        ink.painter.save()
        ink.painter.setClipPath(circle)
        left, width = middle.x() - LOUPE_R, 2 * LOUPE_R
        for y, height, (colour, hatch) in (
            (middle.y() - LOUPE_R, top - middle.y() + LOUPE_R, within), (top, rubber, gripped),
            (top + rubber, laminate, ("steel", "laminate")), (top + rubber + laminate, 2 * LOUPE_R, without),
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
        words = show_times(factor)
        ink.plate(middle.x() - ink.width(words, "tick") / 2, middle.y() + LOUPE_R - 17, ink.width(words, "tick"), 13)
        ink.text(middle.x(), middle.y() + LOUPE_R - 6, words, "tick", "ink", "centre")
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
        self._buckets(ink, x, piece)
        jacket, weight = self.figure(specs.JACKET), self.figure(specs.MOULD_WEIGHT)
        if jacket:
            ink.number(x, self.height() - 70, self.desk.shown(jacket), "after_value", "reckon", equals=True)
            ink.text(x, self.height() - 55, "of laminate, mat and resin", "note", "ink2")
        skin = self.figure(specs.ONE_CASTING)
        if skin and jacket:
            ink.text(x, self.height() - 88, f"one casting {self.desk.words(skin)}", "note", "ink2")
        elif skin:
            ink.number(x, self.height() - 70, self.desk.shown(skin), "after_value", "reckon", equals=True)
            ink.text(x, self.height() - 55, "one casting, the skin in the gap", "note", "ink2")
        if weight:
            words = lift_words(weight.number, self.desk.job.shop)
            ink.number(x, self.height() - 26, self.desk.shown(weight), "after_value", "reckon", equals=True)
            ink.text(x, self.height() - 10, f"the mould, empty: {words}", "note", "ink2")

    def _stack(self, ink: Ink, x: float, piece: Piece) -> None:
        """Volumes that add up as shown, in one unit."""
        parts = self._parts(piece)
        if not parts:
            return
        shown, total, name = stacked([f.number for f, _, _ in parts], self.desk.system)
        top, bottom = 128.0, 396.0
        rigid = self._made(piece).mass is specs.STONE
        ink.text(x, top - 2, f"{self._made(piece).matter.capitalize()} to mix", "label", "ink", weight=600)
        ink.number(x + 62, top + 24, Shown(f"{total}", name), "after_value", "reckon", equals=True)
        foot, height = bottom, bottom - top - 34
        for (figure, word, slot), amount in zip(parts, shown, strict=True):
            waste_part = figure.spec is specs.WASTE
            part = height * amount / max(total, 1)
            area = QRectF(x, foot - part, 46, part)
            ink.box(
                area.x(),
                area.y(),
                area.width(),
                area.height(),
                fill="sheet" if waste_part else "edge" if rigid else "rubber",
            )
            if not waste_part:
                ink.hatched(area, "structure" if rigid else "wet", "ink2" if rigid else "reckon")
            ink.box(area.x(), area.y(), area.width(), area.height(), edge="ink", width=1.5)
            ink.rule(x + 46, foot - part / 2, x + 58, slot + 14, "line", 1)
            ink.number(x + 62, slot + 18, Shown(str(amount), name), "lane_value")
            ink.text(x + 62, slot + 34, word, "note", "ink2")
            foot -= part
        for key, slot in ((f"waste:{piece.id}", WASTE_SLOT), (f"keys:{piece.id}", SLOTS[1])):
            if self.spots.find(f"decide:{key}"):
                decision = self.desk.decision(key)
                share = self.desk.given(decision.value, "share")
                ink.decided(self.width() - 58, slot + 18, share, "lane_value", begun=decision.begun)

    def _pours(self) -> list[PlannedPour]:
        """The pours of the mould, in the order of the route."""
        piece = self.piece()
        return [p for p in self.desk.build_plan.pours if piece and p.piece == piece.id and p.of == "mould"]

    def _first_mix(self, spec: FigureSpec) -> Figure | None:
        """A figure of the mould's first pour, of its first mix where that has several."""
        pour = next(iter(self._pours()), None)
        return self.desk.build_plan.find(spec, pour.piece, op=pour.op, mix=pour.mix_name(0)) if pour else None

    def _batches(self) -> Figure | None:
        """How many batches the mould's first pour takes."""
        pour = next(iter(self._pours()), None)
        return self.desk.build_plan.find(specs.BATCHES, pour.piece, op=pour.op) if pour else None

    def _buckets(self, ink: Ink, x: float, piece: Piece) -> None:
        count, batch, fill = self._batches(), self._first_mix(specs.BATCH), self._first_mix(specs.FILL)
        if not (count and batch and fill and piece.mould):
            return
        y, mixed_in = 414.0, vessel(self.desk.job.cards.material(piece.mould.poured), self.desk.job.shop.mixing)
        head_room = mixed_in["head_room"].value
        number = int(count.number)
        ink.text(
            x,
            y + 4,
            f"{self.desk.given(mixed_in['vessel'].value, 'volume')} bucket, filled to {self.desk.words(fill)}",
            "note",
            "ink2",
        )
        drawn = min(number, 4)
        full = min(1.0, fill.number)
        for i in range(drawn):
            left = x + i * 46
            ink.box(left, y + 14, 36, 50, fill="sheet")
            level = QRectF(left, y + 14 + 50 * (1 - full), 36, 50 * full)
            ink.box(level.x(), level.y(), level.width(), level.height(), fill="rubber")
            ink.hatched(level, "wet", "reckon")
            ink.rule(left, y + 14 + 50 * (1 - 1 / head_room), left + 36, y + 14 + 50 * (1 - 1 / head_room),
                     "decide", 1.2, "limit")  # fmt: skip
            ink.box(left, y + 14, 36, 50, edge="ink", width=1.5)
            last = i == drawn - 1 and number > drawn
            ink.text(left + 18, y + 36, f"… {number}" if last else str(i + 1), "lane_value", "ink", "centre")
        ink.number(x, y + 84, self.desk.shown(batch), "lane_value", "reckon", equals=True)
        ink.text(x + 86, y + 84, "each", "note", "ink2")
