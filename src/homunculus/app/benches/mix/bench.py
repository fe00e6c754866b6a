"""What goes into the bucket? Parts of one batch as flasks, the batches as buckets, the pot life as a ring."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import PourBench
from homunculus.app.benches.mix.drawn import drawn_recipe
from homunculus.app.desk import Desk
from homunculus.app.drawing.vessels import Flask, bucket, ring
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.edits.decisions import replace_build, replace_piece
from homunculus.core.edits.mixes import join_mix, leave_out, split_off, stir_in
from homunculus.core.figures import Figure
from homunculus.core.job.build import Piece, piece_of
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.making.mixing import pot_life_shares
from homunculus.core.making.weighing import Recipe, Weighing, resume
from homunculus.core.plan.cautions import step_cautions
from homunculus.core.planners.poured import vessel, vessel_keys
from homunculus.core.showing import Shown, show, show_times

FLASKS_TOP = 196.0


class MixBench(PourBench):
    """The bench of station 5."""

    least_height = 596

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Mix bench")

    # ------------------------------------------------------------------------------------- what
    def mixes(self) -> tuple[Mix, ...]:
        """The mixes of the drawn pour."""
        pour = self.pour()
        return pour.mixes if pour else ()

    @property
    def mix_index(self) -> int:
        """Which of the mixes is drawn."""
        return min(self.desk.mix_index, max(0, len(self.mixes()) - 1))

    def show_mix(self, index: int) -> None:
        """Draw another of the mixes."""
        self.desk.mix_index = index
        self.refresh()

    def _key(self, sort: str) -> str:
        """Key of a decision about the drawn pour: of the mould's own mixes by the piece, of others by piece and operation."""
        pour = self.pour()
        assert pour is not None
        return f"{sort}:{pour.piece}" if pour.of == "mould" else f"{sort}:{pour.piece}/{pour.op}"

    def recipe(self) -> Recipe | None:
        """What is weighed for the drawn mix."""
        return drawn_recipe(self.desk)

    def weighing(self) -> Weighing | None:
        """Where the weighing of the drawn mix stands, by the log."""
        recipe = self.recipe()
        return (
            resume(recipe, self.desk.book.since_end(recipe.build, recipe.piece, recipe.logged_as)) if recipe else None
        )

    def _part_figure(self, name: str) -> Figure | None:
        """Weight of one part of one batch of the drawn mix."""
        return self.pour_figure(specs.PART, self._part(), name)

    def _part(self) -> str:
        return self.mixes()[self.mix_index].name if len(self.mixes()) > 1 else ""

    # ------------------------------------------------------------------------------------- spots
    def _buckets_y(self) -> float:
        """Where the buckets stand: above the way on, however low the window is."""
        return min(460.0, self.height() - 152.0)

    def _flasks_foot(self) -> float:
        """Where the flasks stand: with room for their shares above the buckets."""
        return max(FLASKS_TOP + 60, min(360.0, self._buckets_y() - 62))

    def _flask_areas(self, count: int) -> list[QRectF]:
        pitch = min(164.0, (self.width() - 300) / max(count, 1))
        width = min(104.0, pitch - 34)
        return [QRectF(24 + i * pitch, FLASKS_TOP, width, self._flasks_foot() - FLASKS_TOP) for i in range(count)]

    def _ring_radius(self) -> float:
        """Of the ring of the pot life: it ends above the buckets."""
        return max(56.0, min(92.0, (self._buckets_y() - 188) / 2))

    def _ring_middle(self) -> QPointF:
        return QPointF(self.width() - 132, FLASKS_TOP + self._ring_radius())

    def arrange(self) -> None:
        pour, recipe = self.pour(), self.recipe()
        if pour is None:
            self.nothing_spots()
            return
        self.piece_spots("mixes")
        self.pour_spots(self.width() - 24)
        x, y = 330.0, self._buckets_y() + 80
        cautions = [words for _, words in step_cautions(self.desk.job, [pour], "mix")]
        self.lay_cautions(cautions, QRectF(x, y, self.width() - x - 20, self.height() - y - 4))
        self._headline_spots()
        self._mix_spots()
        mix, own = self.mixes()[self.mix_index], len(pour.card.parts)
        for index, area in enumerate(self._flask_areas(len(recipe.parts) if recipe else 0)):
            assert recipe is not None
            name = recipe.parts[index].name
            figure = self._part_figure(name)
            if figure:
                self.figure_spot(figure, area)
            if index >= own and self._additive(mix, name) is not None:
                which = self._additive(mix, name)
                self.decide_spot(self._key(f"additive.{self.mix_index}.{which}"), QRectF(area.x() - 8, self._flasks_foot() + 14, 96, 44),
                                 keys=". Delete leaves it out")  # fmt: skip
        self.spots.place("stir in", QRectF(12, 426, 190, 34), "stir in pigment, softener or thickener", self.stir_in)
        self.spots.place("split", QRectF(206, 426, 170, 34), "split off a coat or a colour", self.split)
        vessel, head_room = vessel_keys(pour.card)
        self.decide_spot(vessel, QRectF(self.width() - 200, self._buckets_y() - 8, 90, 44))
        if not pour.card.head_room:
            self.decide_spot(head_room, QRectF(self.width() - 106, self._buckets_y() - 8, 90, 44))
        spare = self.pour_figure(specs.SPARE, self._part())
        if spare:
            middle = self._ring_middle()
            self.figure_spot(spare, QRectF(middle.x() - 70, middle.y() - 40, 140, 76))
        if recipe:
            self.spots.place("weigh", self.weigh_area(), "Enter or W: weigh up", self._weigh_up)

    def weigh_area(self) -> QRectF:
        """Where the way to the weigh-up lies."""
        return QRectF(12, self.height() - 62, 300, 52)

    def _headline_spots(self) -> None:
        part = self._part()
        wanted = [self.pour_figure(spec, part) for spec in (specs.POUR, specs.BATCHES, specs.POT_LIFE)]
        for index, figure in enumerate(wanted):
            if figure:
                self.figure_spot(figure, self.headline_area(index))

    def _mix_spots(self) -> None:
        x = 18.0
        for i, mix in enumerate(self.mixes() if len(self.mixes()) > 1 else ()):
            self.spots.place(f"mix:{i}", QRectF(x, 138, 86, 34), f"mix {mix.name}", lambda i=i: self.show_mix(i))  # type: ignore[misc]
            self.decide_spot(self._key(f"mix.{i}"), QRectF(x + 88, 138, 74, 34), keys=". Delete gives it up")
            x += 176

    @staticmethod
    def _additive(mix: Mix, name: str) -> int | None:
        return next((i for i, a in enumerate(mix.additives) if a.name == name), None)

    # ------------------------------------------------------------------------------------- edits
    def keyPressEvent(self, event: QKeyEvent) -> None:
        """W weighs up; Delete leaves out what has the focus."""
        focused = self.spots.focused()
        name = focused.objectName() if focused else ""
        if event.key() == Qt.Key.Key_W and self.recipe():
            self._weigh_up()
        elif event.key() == Qt.Key.Key_Delete and name.startswith(("decide:additive.", "decide:mix.")):
            self._leave_out(name.removeprefix("decide:").split(":")[0])
        elif event.key() in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight):
            self.show_next_pour(1 if event.key() == Qt.Key.Key_BracketRight else -1)
        else:
            event.ignore()

    def _weigh_up(self) -> None:
        self.desk.wanted.emit("weigh_up")

    def _leave_out(self, key: str) -> None:
        sort, *at = key.split(".")
        of = int(at[0])
        mix = self.mixes()[of]
        if sort == "mix":
            self._put(f"{mix.name} given up", lambda piece, op: join_mix(piece, op, of))
        else:
            which = int(at[1])
            self._put(f"{mix.additives[which].name} left out", lambda piece, op: leave_out(piece, op, of, which))

    def _put(self, step: str, make: Callable[[Piece, str], Piece]) -> None:
        """Change the piece of the drawn pour: ``make`` is given it, and the operation."""
        if pour := self.pour():
            piece = make(piece_of(self.desk.build, pour.piece), pour.op)
            self.desk.edit(step, replace_build(self.desk.job, replace_piece(self.desk.build, piece)))

    def stir_in(self) -> None:
        """Type what is stirred in, as “pigment 2 %”."""
        self._type(
            "what is stirred in", "pigment 2 %", "stir in", lambda p, op, words: stir_in(p, op, self.mix_index, words)
        )

    def split(self) -> None:
        """Type the mix that is split off, as “print coat 20 %”."""
        self._type("the mix that is split off", "print coat 20 %", "split", split_off)

    def _type(self, name: str, example: str, over: str, make: Callable[[Piece, str, str], Piece]) -> None:
        def accept(words: str) -> bool:
            self._put(words.strip(), lambda piece, op: make(piece, op, words))
            return True

        self.type_over(name, over, example, accept)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        pour, recipe = self.pour(), self.recipe()
        if pour is None:
            self.draw_nothing(ink)
            return
        card = pour.card
        question = f"What goes into the bucket? {pour.name[:1].upper()}{pour.name[1:]}"
        ink.text(18, 29, ink.squeezed(self._question_room(), question, "bench_question"), "bench_question")
        self.draw_pieces(ink)
        self.draw_pours(ink)
        self._headlines(ink, card)
        self._mix_names(ink)
        if recipe is None:
            words = (
                "No batch can be mixed in time here."
                if self.pour_figure(specs.BATCHES)
                else "How much there is to mix is not known yet."
            )
            ink.text(18, 200, words if card.parts else f"{card.name} is not mixed from parts.", "body", "ink2")
        else:
            self._flasks(ink, recipe)
            self._ring(ink, card)
            self._buckets(ink, card, recipe)
            self._way_on(ink)
        self.draw_cautions(ink)
        for words, x in (("+ stir in pigment, softener …", 18.0), ("+ split off a coat …", 212.0)):
            width = ink.text(x, 447, words, "label", "decide")
            ink.rule(x, 452, x + width, 452, "decide", 1)

    def _headlines(self, ink: Ink, card: MaterialCard) -> None:
        part = self._part()
        mass = self.pour_figure(specs.POUR, part)
        count, batch, life = (
            self.pour_figure(specs.BATCHES, part),
            self.pour_figure(specs.BATCH, part),
            self.pour_figure(specs.POT_LIFE, part),
        )
        book, pour = card.pot_life_s, self.pour()
        times = pour.times * pour.coats if pour else 1
        at = show(card.reference_c, "temperature", self.desk.system)
        rows = (
            (mass, "", (card.name, part or (f"{times} times" if times > 1 else ""))),
            (count, "batch" if count and count.value == 1 else "batches", ("even, each", self.desk.words(batch) if batch else "")),
            (life, "", ("pot life here", f"book {self.desk.given(book.value, 'duration')} at {at}" if book else "")),
        )  # fmt: skip
        for index, (figure, unit, notes) in enumerate(rows):
            if figure is None:
                continue
            area, shown = self.headline_area(index), self.desk.shown(figure)
            shown = Shown(shown.number, unit) if unit else shown
            ratio = ink.fitted(area.width() - 84, shown, "headline", equals=True)
            width = ink.number(area.x() + 6, 86, shown, "headline", "reckon", equals=True, ratio=ratio)
            for i, line in enumerate(notes):
                room = (area.right() if index < 2 else self.width() - 8) - area.x() - width - 12
                ink.text(area.x() + width + 14, 70 + 17 * i, ink.squeezed(room, line, "note"), "note", "ink2")

    def _mix_names(self, ink: Ink) -> None:
        for i, mix in enumerate(self.mixes() if len(self.mixes()) > 1 else ()):
            spot = self.spots.find(f"mix:{i}")
            if spot is None:
                continue
            x, here = spot.geometry().x(), i == self.mix_index
            width = ink.text(
                x + 4,
                160,
                ink.squeezed(80, mix.name, "label"),
                "label",
                "ink" if here else "ink2",
                weight=600 if here else 0,
            )
            if here:
                ink.rule(x + 4, 165, x + 4 + width, 165, "ink", 2)
            decision = self.desk.decision(self._key(f"mix.{i}"))
            ink.decided(x + 94, 160, self.desk.given(decision.value, "share"), "lane_value", begun=decision.begun)

    def _flasks(self, ink: Ink, recipe: Recipe) -> None:
        mix, weighing = self.mixes()[self.mix_index], self.weighing()
        ink.text(18, 188, "One batch" if recipe.batches > 1 else "The batch", "note", "ink2")
        for part, area in zip(recipe.parts, self._flask_areas(len(recipe.parts)), strict=True):
            flask = Flask(area)
            flask.draw(ink, 1.0)
            figure = self._part_figure(part.name)
            shown = self.desk.shown(figure, 4) if figure else Shown("–", "")
            ink.rule(area.left() + flask.side - 4, flask.mark, area.right() - flask.side + 6, flask.mark, "reckon", 2.5)
            ink.number(area.right() - flask.side + 10, flask.mark + 6, shown, "after_value", "reckon", equals=True)
            name = ink.squeezed(area.width(), part.name, "label", 600)
            width = ink.width(name, "label", 600)
            ink.plate(area.center().x() - width / 2 - 2, area.bottom() - 44, width + 4, 18)
            ink.text(area.center().x(), area.bottom() - 30, name, "label", "ink", "centre", 600)
            which = self._additive(mix, part.name)
            if which is not None:
                self.draw_decided(ink, self._key(f"additive.{self.mix_index}.{which}"), part.name, "lane_value")
            else:
                share = show(part.parts / recipe.all_parts, "share", self.desk.system)
                ink.text(area.x(), self._flasks_foot() + 32, str(share), "lane_value", "ink")
                ink.text(area.x(), self._flasks_foot() + 49, "of the mix", "note", "ink2")
        if weighing and (weighing.done or weighing.cup):
            ink.text(
                120, 188, f"batch {weighing.batch} of {recipe.batches} is next; the log has the rest", "note", "mind"
            )

    def _ring(self, ink: Ink, card: MaterialCard) -> None:
        life, spare = self.pour_figure(specs.POT_LIFE, self._part()), self.pour_figure(specs.SPARE, self._part())
        if life is None or spare is None:
            return
        shares = pot_life_shares(life=life.number, hands=life.number - spare.number, margin=self.desk.job.shop.mixing.margin,
                                 stir=card.stir_s.value if card.stir_s else 0.0)  # fmt: skip
        parts = [(shares.pour, "wet", "rubber", "pour"), (shares.stir, "firm", "film", "stir"),
                 (shares.spare, "", "edge", "to spare"), (shares.kept, "curing", "mind_t", "kept")]  # fmt: skip
        middle = self._ring_middle()
        ring(ink, middle, self._ring_radius(), [p for p in parts if p[0] > 0], None)
        ink.number(middle.x(), middle.y() + 4, self.desk.shown(spare), "on_drawing", "reckon", "centre", equals=True)
        ink.text(middle.x(), middle.y() - 24, "left when poured", "note", "ink2", "centre")
        ink.text(middle.x(), middle.y() + 24, f"of {self.desk.words(life)}", "note", "ink2", "centre")

    def _buckets(self, ink: Ink, card: MaterialCard, recipe: Recipe) -> None:
        shop, weighing = self.desk.job.shop.mixing, self.weighing()
        head_room = vessel(card, shop)["head_room"].value
        done = len(weighing.done) if weighing else 0
        fill = self.pour_figure(specs.FILL, self._part())
        each = fill.number if fill else 0.0
        most = max(1, int((self.width() - 250) // 50))
        drawn = min(recipe.batches, most)
        for i in range(drawn):
            last = i == drawn - 1 and recipe.batches > drawn
            bucket(ink, QRectF(18 + i * 50, self._buckets_y(), 40, 58), min(1.0, each), 1 / head_room,
                   f"… {recipe.batches}" if last else str(i + 1), done=i < done)  # fmt: skip
        of_vessel, of_room = vessel_keys(card)
        self.draw_decided(ink, of_vessel, "vessel" if card.degassed else "bucket", "lane_value")
        if card.head_room:
            ink.text(self.width() - 98, self._buckets_y() + 10, show_times(head_room), "lane_value")
            ink.text(self.width() - 98, self._buckets_y() + 29, "head-room, card", "note", "ink2")
        else:
            self.draw_decided(ink, of_room, "head-room", "lane_value")
        most_figure = self.pour_figure(specs.MOST, self._part())
        if most_figure and most_figure.notes:
            words = f"at most {self.desk.words(most_figure)} in one, {most_figure.notes[0]}"
            ink.paragraph(self.width() - 192, self._buckets_y() + 54, 184, words, "note", "ink2", 2)

    def _way_on(self, ink: Ink) -> None:
        area = self.weigh_area()
        ink.arrow(area.x() + 6, area.center().y(), 26, "ink")
        ink.text(area.x() + 42, area.center().y() + 8, "Weigh it up", "on_drawing")
        ink.key(area.x() + 168, area.center().y(), "W", "hands free after that")
