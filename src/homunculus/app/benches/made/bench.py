"""What is it made of? The build in elevation, its pieces taken hold of and typed, how the chosen one comes to be."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QKeySequence, QPainterPath
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.made.acts import Acts
from homunculus.app.benches.made.begin import NewBuild
from homunculus.app.benches.made.begin_view import SIDES
from homunculus.app.benches.made.doings import MadeDoings
from homunculus.app.benches.made.elevation import Elevation
from homunculus.app.benches.made.handles import PieceHandles
from homunculus.app.benches.made.signs import SIGN, Stamps, cross_out, fitted, inside
from homunculus.app.benches.made.strip import HEIGHT, Strip
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.edits.pieces import real_size
from homunculus.core.figures import Figure
from homunculus.core.job.build import Piece
from homunculus.core.job.ways import WayCard, way_of
from homunculus.core.plan.memory import Last

ROW = 40.0
WAY_H = 66.0
ACROSS = 5
"""Ways in a row."""


class MadeBench(Bench):
    """Elevation left, lines and ways right, the strip of steps at the foot; without a build, or when asked, a new one begins here."""

    least_height = 600

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "What it is made of")
        self.acts = Acts(desk)
        self.new = NewBuild(self, self.acts)
        self.pieces = PieceHandles(self, self.acts)
        self.doings = MadeDoings(self, self.acts, self.new, self.pieces)
        self._stamps = Stamps()
        self._strip: Last[Strip] = Last()

    def enter(self) -> None:
        self.doings.enter()

    # ----------------------------------------------------------------------------------- reading
    def content(self) -> object:
        new = self.new.content()
        return self.desk.plan, self.desk.chosen, self.desk.piece_id, self.doings.op_id, self.desk.facts, new

    def can(self, key: str) -> list[Can]:
        return self.doings.can(key) or super().can(key)

    def copy(self) -> None:
        """Copy the line of the chosen piece."""
        self.doings.copy()

    # ---------------------------------------------------------------------------------- geometry
    def ways_top(self) -> float:
        """Where the ways begin."""
        rows = -(-len(self.acts.shelf.ways) // ACROSS)
        return self.pieces.strip_top() - rows * WAY_H - 34

    def strip(self, piece: Piece | None) -> Strip:
        """The steps of a piece."""
        area = QRectF(26, self.pieces.strip_top() + 8, self.width() - 44, HEIGHT - 16)
        of = (piece.id if piece else "", self.doings.op_id)
        return self._strip.get(
            (self.desk.build_plan, self.desk.job, area.width(), area.y(), *of), lambda: Strip(self.desk, area, *of)
        )

    def rows(self) -> list[tuple[Piece, QRectF]]:
        """The pieces whose lines fit, with their places; the chosen one takes two lines and is in sight."""
        pieces, chosen = self.desk.build.pieces, self.pieces.piece()
        if not pieces or chosen is None:
            return []
        room = self.ways_top() - 44 - ROW - (ROW - 6)
        fit = max(1, int(room // ROW))
        at = pieces.index(chosen)
        first = max(0, min(at - fit // 2, len(pieces) - fit))
        found, y = [], 44.0
        for piece in pieces[first : first + fit]:
            high = ROW + 16 if piece is chosen else ROW
            found.append((piece, QRectF(self.pieces.split(), y, self.width() - self.pieces.split() - 12, high)))
            y += high
        return found

    def build_area(self) -> QRectF:
        """Where it is said what the build must do."""
        return QRectF(self.pieces.split() - 250, 48, 236, 44)

    def else_area(self) -> QRectF:
        """Where one more piece is typed."""
        rows = self.rows()
        return QRectF(
            self.pieces.split(),
            rows[-1][1].bottom() if rows else 44.0,
            self.width() - self.pieces.split() - 12,
            ROW - 6,
        )

    def way_area(self, index: int) -> QRectF:
        """Where a way of making stands."""
        row, column = divmod(index, ACROSS)
        pitch = (self.width() - self.pieces.split() - 12) / ACROSS
        return QRectF(self.pieces.split() + column * pitch, self.ways_top() + 24 + row * WAY_H, pitch - 4, WAY_H - 2)

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        if self.new.beginning:
            self.new.arrange(self.new.beginning)
            return
        if not self.desk.chosen:
            return
        piece = self.pieces.piece()
        hands = self.desk.build_plan.find(specs.HANDS)
        if hands:
            self.figure_spot(hands, self.headline_area(0))
        line = self.acts.build_line()
        self.spots.place("build-line", self.build_area(), f"{line}: type it anew, F2", self.doings.type_build)
        self.pieces.arrange(piece)
        for one, area in self.rows():
            line = self.acts.line(one)
            act = partial(self.doings.line_pressed, one.id)
            self.spots.place(f"line:{one.id}", area, line, act).entered = partial(self.pieces.type_line, one.id)
        self.spots.place("else", self.else_area(), "and what else? one more piece", self.doings.add_piece)
        if piece is None:
            return
        for index, way in enumerate(self.acts.shelf.ways):
            no = self.acts.cannot(piece, way)
            said = f"make the {piece.name}: {way.name}" + (f". Cannot: {no.why}" if no else "")
            self.spots.place(f"way:{way.id}", self.way_area(index), said, partial(self.acts.made, piece, way.id))
        strip = self.strip(piece)
        for step in strip.shown:
            said = step.op.called + (f", work {self.desk.words(step.work)}" if step.work else "")
            act = partial(self.doings.step_pressed, step.key)
            self.spots.place(f"step:{step.key}", strip.step_area(step), said, act).entered = partial(
                self.doings.type_step, step.key
            )
            for key, area in strip.value_areas(step):
                self.decide_spot(key, area)
        for figure, area in strip.hours_areas(self.setting()):
            self.spots.place(
                f"hours:{area.x():.0f}",
                area,
                f"{self.desk.words(figure)} by hand: why?",
                partial(self.desk.asked_why.emit, figure),
            )
        self.spots.place("more-step", strip.more_area(), "one more step", self.doings.add_step)

    # --------------------------------------------------------------------------------------- keys
    def keyPressEvent(self, event: QKeyEvent) -> None:
        if self.new.beginning:
            self.new.key_pressed(self.new.beginning, event)
            return
        if event.matches(QKeySequence.StandardKey.Paste):
            self.doings.paste()
            return
        alt = bool(event.modifiers() & Qt.KeyboardModifier.AltModifier)
        piece = self.pieces.piece()
        focused = self.spots.focused()
        step = focused.objectName()[5:] if focused and focused.objectName().startswith("step:") else ""
        key = event.key()
        ahead = {Qt.Key.Key_Left: -1, Qt.Key.Key_Up: -1, Qt.Key.Key_Right: 1, Qt.Key.Key_Down: 1}.get(Qt.Key(key), 0)
        if alt and ahead and piece:
            self.acts.step_moved(
                self.doings.owner(step), step.removeprefix("/"), ahead
            ) if step else self.acts.reordered(piece, ahead)
        elif event.text() in ("[", "]"):
            self._turn(1 if event.text() == "]" else -1)
        elif ahead and step and piece:
            self._walk_steps(piece, step, ahead)
        elif key in (Qt.Key.Key_Up, Qt.Key.Key_Down) and focused and focused.objectName().startswith("line:"):
            self._turn(ahead)
            if (now := self.pieces.piece()) and (spot := self.spots.find(f"line:{now.id}")):
                spot.setFocus()
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.doings.type_piece()
        elif key == Qt.Key.Key_F2:
            self.doings.type_build()
        elif key == Qt.Key.Key_Insert:
            self.doings.add_piece()
        elif key == Qt.Key.Key_Delete:
            self.acts.step_deleted(
                self.doings.owner(step), step.removeprefix("/")
            ) if step else self.doings.delete_piece()
        elif event.text() == "+":
            self.doings.add_step()
        elif event.text().casefold() in ("r", "d", "x") and not alt:
            {"r": self.doings.next_way, "d": self.doings.copy_piece, "x": self.doings.mirror_piece}[
                event.text().casefold()
            ]()
        else:
            event.ignore()

    def _walk_steps(self, piece: Piece, op_id: str, by: int) -> None:
        """The keyboard goes to the next step, also to one that was not in sight."""
        ids = [step.key for step in self.strip(piece).steps]
        at = ids.index(op_id) + by
        if 0 <= at < len(ids):
            self.doings.choose_step(ids[at])
            if spot := self.spots.find(f"step:{ids[at]}"):
                spot.setFocus()

    def _turn(self, by: int) -> None:
        pieces, piece = self.desk.build.pieces, self.pieces.piece()
        if piece:
            self.acts.choose(pieces[(pieces.index(piece) + by) % len(pieces)].id)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        if self.new.beginning:
            self.new.draw(ink, self.new.beginning)
            return
        if not self.desk.chosen:
            return
        piece = self.pieces.piece()
        ink.text(
            18,
            29,
            ink.squeezed(self.pieces.split() - 40, f"What is {self.desk.build.called} made of?", "bench_question"),
            "bench_question",
        )
        self._headline(ink)
        self._must(ink)
        if build := self.desk.build if self.desk.build.follows else None:
            times = f" at {self.desk.given(build.follows_at, 'share')}" if build.follows_at != 1 else ""
            ink.text(18, 108, f"Its scale is that of {self.desk.job.build(build.follows).name}{times}.", "note", "ink2")
        view = self.pieces.elevation()
        view.draw(ink, piece.id if piece else "")
        if not self.desk.build.pieces:
            ink.text(
                view.area.left() + 150,
                view.ground - 60,
                "Of nothing yet. Type its first piece at the right.",
                "body",
                "ink2",
            )
        self._names(ink, view, piece)
        cast = self._castings()
        for one, area in self.rows():
            self._line(ink, one, area, cast.get(one.id), here=piece is not None and one.id == piece.id)
        self._else(ink)
        if piece is None:
            return
        self._ways(ink, piece, view)
        strip = self.strip(piece)
        ink.rule(18, self.pieces.strip_top() - 6, self.width() - 18, self.pieces.strip_top() - 6, "hair", 1)
        strip.draw(ink, self.doings.op_id)
        for step in strip.shown:
            for key, _ in strip.value_areas(step):
                spot = self.spots.find(f"decide:{key}")
                if spot:
                    decision, box = self.desk.decision(key), spot.geometry()
                    ink.decided(box.x() + 8, box.y() + 20, strip.written(decision), "label", begun=decision.begun)

    def _headline(self, ink: Ink) -> None:
        hands = self.desk.build_plan.find(specs.HANDS)
        if hands:
            width = ink.number(18, 88, self.desk.shown(hands), "headline", "reckon", equals=True)
            count = len(self.desk.build.pieces)
            ink.text(18 + width + 14, 70, "of hands,", "note", "ink2")
            ink.text(18 + width + 14, 87, f"all {count} pieces" if count != 1 else "its one piece", "note", "ink2")

    def _must(self, ink: Ink) -> None:
        """What the build must do, as its line says it, in two lines."""
        area = self.build_area()
        words = self.acts.build_line().partition(": ")[2]
        for i, line in enumerate(ink.within(area.width() - 8, words, "note", 2)):
            width = ink.text(area.left() + 4, area.top() + 20 + 17 * i, line, "note")
            ink.rule(
                area.left() + 4, area.top() + 24 + 17 * i, area.left() + 4 + width, area.top() + 24 + 17 * i, "hair", 1
            )

    def _names(self, ink: Ink, view: Elevation, piece: Piece | None) -> None:
        if piece is None:
            return
        box = view.outline(piece).boundingRect()
        if box.isEmpty():
            return
        for side, at in ((0, QPointF(box.right(), box.center().y())), (2, QPointF(box.center().x(), box.top()))):
            real = real_size(piece, side)
            if real is None:
                continue
            begun = self.acts.begun(piece)
            ink.lozenge(at.x(), at.y(), 11, hollow=begun)
            shown = self.desk.given(real, "length")
            width = ink.number_width(shown, "label")
            x, y = (at.x() + 12, at.y() + 4) if side == 0 else (at.x() - width / 2, at.y() - 14)
            x = max(20.0, min(x, self.pieces.split() - width - 60))
            ink.plate(x, y - 13, width + ink.width(f" {SIDES[side]}, real", "note") + 8, 16)
            ink.number(x, y, shown, "label", "decide")
            if begun:
                ink.rule(x, y + 4, x + width, y + 4, "decide", 1.5, "hidden")
            ink.text(x + width + 4, y, f"{SIDES[side]}, real", "note", "ink2")
        for _, at in self.pieces.section_ends(piece):
            ink.lozenge(at.x(), at.y(), 8)
        ink.lozenge(box.center().x(), box.bottom(), 9, hollow=not piece.at_m[1])
        name = ink.width(piece.name, "label", 600)
        left = max(20.0, min(box.left() - name - 10, self.pieces.split() - name - 40))
        ink.plate(left, box.center().y() - 12, name, 16)
        ink.text(left, box.center().y(), piece.name, "label", "ink", weight=600)

    def _line(self, ink: Ink, piece: Piece, area: QRectF, made: Figure | None, *, here: bool) -> None:
        line = self.acts.line(piece)
        name, _, rest = line.partition(":")
        tail = f"{self.desk.words(made)} cast" if made else f"{piece.copies} a figure" if piece.copies > 1 else ""
        right = area.right() - 6
        spare = ink.width(tail, "note") + 16 if tail else 0.0
        width = ink.text(
            area.x() + 4, area.y() + 24, ink.squeezed(area.width() / 2, name + ":", "label", 600), "label", weight=600
        )
        room = right - spare - area.x() - width - 10
        words = rest.strip()
        if here:
            first = ink.wrapped(room, words, "label")[0]
            ink.text(area.x() + 10 + width, area.y() + 24, ink.squeezed(room, first, "label"), "label")
            second = words[len(first) :].strip()
            if second:
                ink.text(area.x() + 18, area.y() + 42, ink.squeezed(right - area.x() - 20, second, "label"), "label")
            ink.ticks(area.adjusted(0, 4, 0, -2))
        else:
            ink.text(area.x() + 10 + width, area.y() + 24, ink.squeezed(room, words, "label"), "label", "ink2")
        if tail:
            ink.text(right, area.y() + 24, tail, "note", "ink2", "right")
        ink.rule(area.x() + 4, area.bottom() - 1, area.right(), area.bottom() - 1, "hair", 1)

    def _castings(self) -> dict[str, Figure]:
        """How often each piece is cast, by its id; of one with variants how often the first of them is."""
        figures = (f for f in self.desk.build_plan.own if f.spec is specs.CASTINGS)
        return {f.subject.piece: f for f in reversed(tuple(figures))}

    def _else(self, ink: Ink) -> None:
        area = self.else_area()
        width = ink.text(area.x() + 4, area.y() + 22, "and what else?", "label", "decide")
        ink.rule(area.x() + 4, area.y() + 27, area.x() + 4 + width, area.y() + 27, "decide", 1.5, "hidden")
        hidden = len(self.desk.build.pieces) - len(self.rows())
        ink.text(
            area.x() + 18 + width,
            area.y() + 22,
            f"{hidden} more pieces; [ ] walk" if hidden > 0 else "a line; Insert",
            "note",
            "ink2",
        )

    def _ways(self, ink: Ink, piece: Piece, view: Elevation) -> None:
        """The small sections; they are the same until form, way or room differ, and are stamped until then."""
        now = way_of(piece, self.acts.shelf.ways)
        area = QRectF(
            self.pieces.split(),
            self.ways_top(),
            self.width() - self.pieces.split() - 8,
            self.pieces.strip_top() - 8 - self.ways_top(),
        )
        key = (piece.form, piece.name, piece.material, now and now.id, id(self.desk.facts), area.getRect())
        self.kept(ink, "ways", key, area, lambda pen: self._draw_ways(pen, piece, view.outline(piece), now))

    def _draw_ways(self, ink: Ink, piece: Piece, outline: QPainterPath, now: WayCard | None) -> None:
        room = self.width() - self.pieces.split() - 20
        ink.text(
            self.pieces.split() + 4,
            self.ways_top() + 14,
            ink.squeezed(room, f"How the {piece.name} comes to be", "label", 600),
            "label",
            weight=600,
        )
        small = fitted(outline, inside(SIGN))
        areas = [(way, self.way_area(index)) for index, way in enumerate(self.acts.shelf.ways)]
        places = [SIGN.translated(round(a.center().x() - SIGN.width() / 2), round(a.top() + 2)) for _, a in areas]
        self._stamps.draw(
            ink,
            [(way, place.topLeft()) for (way, _), place in zip(areas, places, strict=True)],
            small,
            now.id if now else "",
        )
        for (way, area), place in zip(areas, places, strict=True):
            here = now is not None and way.id == now.id
            no = self.acts.cannot(piece, way)
            if no:
                cross_out(ink, place, no.word)
            weight, x, y = 600 if here else 0, area.center().x(), area.top() + 62
            name = way.name.partition(",")[0].partition(" of ")[0].removesuffix("-formed")
            word = ink.squeezed(area.width(), name, "note", weight)
            width = ink.text(x, y - 3, word, "note", "danger" if no else "ink" if here else "ink2", "centre", weight)
            if here:
                ink.rule(x - width / 2, y, x + width / 2, y, "ink", 2)
