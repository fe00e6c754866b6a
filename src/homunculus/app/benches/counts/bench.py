"""How many exactly? Figures by what they are for, castings of each mould, signatures, and the number for the mould shop."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QKeyEvent, QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.counts.tally import draw_tally
from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.counts import show_signoffs, show_variants
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.build import Piece
from homunculus.core.job.counts import ROLES, SignOff
from homunculus.core.plan.freezing import Cost, cost_words
from homunculus.core.planners.counts import off_the_count, variants_of
from homunculus.core.showing import show_day

LEFT, TOP, ROW = 18.0, 128.0, 40.0
ROLE_W = 190.0
PIECE_X = 236.0
EACH_X, GOOD_X, YIELD_X, CAST_X = 150.0, 206.0, 268.0, 352.0
FOOT = 148.0


class CountLine(NamedTuple):
    """One line of castings: a piece, or one of its variants."""

    piece: Piece
    variant: str
    place: int


class CountBench(JobBench):
    """Roles at the left, castings at the right, what is signed and frozen beneath."""

    least_height = 520

    sheet_name = "counts"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "How many")

    # ----------------------------------------------------------------------------------- reading
    def lines(self) -> list[CountLine]:
        """The lines of castings, as many as fit; the wheel moves on."""
        every = [CountLine(piece, variant.name, index) for piece in self.desk.build.pieces if piece.copies
                 for index, variant in enumerate(variants_of(piece))]  # fmt: skip
        room = max(1, int((self.height() - TOP - FOOT - 24) // ROW))
        self.first = max(0, min(self.first, len(every) - room))
        return every[self.first : self.first + room]

    def figure(self, line: CountLine, spec: FigureSpec) -> Figure | None:
        """A count of a line."""
        return self.desk.build_plan.find(spec, line.piece.id, variant=line.variant)

    def total(self) -> Figure | None:
        """Castings of all moulds, as the mould shop has them."""
        return self.desk.build_plan.find(specs.ALL_CASTINGS)

    def role_row(self) -> float:
        """Height of a role's row: lower where the window is."""
        room = self.height() - TOP - FOOT - 56 - 20 * min(3, len(self.broken()))
        return max(26.0, min(ROW, room / len(ROLES)))

    def broken(self) -> list[Figure]:
        """Copies that takes break, shot by shot."""
        return [f for f in self.desk.build_plan.figures if f.spec is specs.BROKEN]

    def content(self) -> object:
        return (self.desk.build_plan if self.desk.chosen else None, self.first, self.desk.job.shop.confidence)

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        if not self.desk.chosen:
            return
        if total := self.total():
            self.figure_spot(total, QRectF(LEFT - 6, 46, 130, 64))
        self.decide_spot("shop.confidence", QRectF(PIECE_X + 150, 44, 160, 52))
        for index, role in enumerate(ROLES):
            self.decide_spot(f"wanted.{role}", QRectF(LEFT + 80, TOP + index * self.role_row(), 90, self.role_row()))
        figures = self.desk.build_plan.find(specs.FIGURES)
        if figures:
            self.figure_spot(figures, QRectF(LEFT - 6, self._sum_y() - 26, ROLE_W, 40))
        for index, line in enumerate(self.lines()):
            self._line_spots(line, TOP + 24 + index * ROW)
        y = self.height() - FOOT + 24
        area = QRectF(LEFT - 6, y - 28, ROLE_W + 20, 30)
        self.spots.place("signoffs", area, "who has to sign before the moulds", self.type_signoffs)
        for index, signoff in enumerate(self.desk.build.signoffs):
            self.spots.place(f"sign:{signoff.kind}", QRectF(LEFT - 6, y + index * 30, ROLE_W + 30, 30), self._signed_words(signoff),
                             lambda s=signoff: self.sign(s))  # type: ignore[misc]  # fmt: skip
        self.spots.place(
            "freeze",
            QRectF(PIECE_X + 16, self.height() - 54, self.width() - PIECE_X - 30, 44),
            self._freeze_words(),
            self.freeze,
        )

    def _line_spots(self, line: CountLine, y: float) -> None:
        piece, x = line.piece, PIECE_X
        if line.place == 0:
            comes_in = show_variants(piece.variants) or "all alike"
            room = EACH_X - 70 if piece.variants else EACH_X
            self.spots.place(f"variants:{piece.id}", QRectF(x - 6, y, room, ROW), f"{piece.name} comes in: {comes_in}",
                             lambda p=piece: self.type_variants(p))  # type: ignore[misc]  # fmt: skip
            self.decide_spot(f"copies:{piece.id}", QRectF(x + EACH_X, y, 66, ROW))
            if piece.mould:
                self.decide_spot(f"good:{piece.id}", QRectF(x + YIELD_X, y, 92, ROW))
        if line.variant:
            self.decide_spot(f"variant.{line.place}:{piece.id}", QRectF(x + EACH_X - 66, y, 62, ROW))
        for spec, at in ((specs.GOOD_ONES, GOOD_X), (specs.CASTINGS, CAST_X)):
            figure = self.figure(line, spec)
            if figure:
                key = f"figure:{spec.name}:{piece.id}:{line.variant}"
                self.spots.place(key, QRectF(x + at - 8, y, 80, ROW), f"{spec.label} {piece.name} {line.variant} {self.desk.words(figure)}",
                                 lambda f=figure: self.desk.asked_why.emit(f), spec.meaning)  # type: ignore[misc]  # fmt: skip

    def _sum_y(self) -> float:
        return TOP + len(ROLES) * self.role_row() + 20 * min(3, len(self.broken())) + 34

    # -------------------------------------------------------------------------------------- acts
    def type_variants(self, piece: Piece) -> None:
        """Type the variants that a piece comes in: each has a mould of its own."""
        spot = self.spots.find(f"variants:{piece.id}")
        if spot:
            self.ask(f"what {piece.name} comes in", QRectF(spot.geometry()), show_variants(piece.variants),
                     lambda words: self.breakdown.type_variants(piece.id, words), f"variants:{piece.id}")  # fmt: skip

    def type_signoffs(self) -> None:
        """Type who has to sign."""
        spot = self.spots.find("signoffs")
        if spot:
            self.ask("who signs", QRectF(spot.geometry()), show_signoffs(self.desk.build.signoffs),
                     self.breakdown.type_signoffs, "signoffs")  # fmt: skip

    def sign(self, signoff: SignOff) -> None:
        """Ask who has signed."""
        spot = self.spots.find(f"sign:{signoff.kind}")
        if spot is None:
            return
        if signoff.at:
            self.desk.said.emit(
                f"{signoff.kind.capitalize()} was signed by {signoff.by}, {show_day(signoff.at)}. U takes a slip back."
            )
            return

        def accept(words: str) -> bool:
            if not words.strip():
                self.desk.said.emit("Type who has signed.")
                return False
            self.breakdown.sign(signoff.kind, words.strip())
            return True

        self.ask(
            f"who has signed for {signoff.kind}", QRectF(spot.geometry()), signoff.by, accept, f"sign:{signoff.kind}"
        )

    def freeze(self) -> None:
        """Freeze the count, or let the frozen number follow it: for that a reason is asked."""
        spot = self.spots.find("freeze")
        if spot is None:
            return
        area = QRectF(spot.geometry())
        frozen, cost = self.desk.build.frozen, self.desk.cost
        if frozen is None:
            self.ask_who("who freezes the count", area, lambda by: self.breakdown.freeze(by), "freeze")
        elif cost is None:
            self.desk.said.emit(f"{frozen.by} froze it on {show_day(frozen.at)}, and the count asks for nothing else.")
        else:
            self.ask("why the frozen number changes", area, "",
                     lambda why: self.breakdown.freeze(self.desk.who or frozen.by, why), "freeze")  # fmt: skip

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Z:
            self.freeze()
        else:
            event.ignore()

    def wheelEvent(self, event: QWheelEvent) -> None:
        self.first += -1 if event.angleDelta().y() > 0 else 1
        self.refresh()

    # ------------------------------------------------------------------------------------- words
    def _signed_words(self, signoff: SignOff) -> str:
        if signoff.at:
            return f"{signoff.kind}: {signoff.by}, {show_day(signoff.at)}"
        expected = f", expected {show_day(signoff.expected)}" if signoff.expected else ""
        return f"{signoff.kind}: not signed{expected}"

    def _freeze_words(self) -> str:
        frozen = self.desk.build.frozen
        if frozen is None:
            return "Freeze this number for the mould shop"
        return (
            "Let the frozen number follow: type why"
            if self.desk.cost
            else f"Frozen by {frozen.by}, {show_day(frozen.at)}"
        )

    def cost_words(self, cost: Cost) -> str:
        """What it costs to follow the count, in a sentence."""
        return cost_words(cost, self.desk.build, self.desk.system, self.desk.job.shop.currency)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_sheets(ink)
        if not self.desk.chosen:
            ink.text(LEFT, 29, "How many exactly?", "bench_question")
            return
        build = self.desk.build
        self.draw_question(ink, f"How many exactly, of {build.called}?")
        total = self.total()
        width = ink.number(LEFT, 84, self.desk.shown(total), "headline", "reckon", equals=True) if total else 0.0
        words = "castings for the mould shop" + (", frozen" if build.frozen else ", not frozen")
        ink.text(LEFT + 2, 106, words, "note", "ink2")
        if build.frozen:
            self._stamp(ink, LEFT + width + 18, 54, f"{build.frozen.by}, {show_day(build.frozen.at)}")
        self.draw_decided(ink, "shop.confidence", "sure that enough are good", "on_drawing")
        ink.rule(LEFT, TOP - 8, self.width() - LEFT, TOP - 8, "ink", 1.5)
        self._roles(ink)
        self._castings(ink)
        self._signatures(ink)
        self._freezing(ink)

    @staticmethod
    def _stamp(ink: Ink, x: float, y: float, words: str) -> None:
        """A stamp pressed on the sheet: frozen."""
        width = max(ink.width(words, "tick"), ink.width("FROZEN", "label", 600)) + 20
        ink.box(x, y, width, 36, edge="ink", width=2)
        ink.box(x + 3, y + 3, width - 6, 30, edge="ink", width=1)
        ink.text(x + width / 2, y + 17, "FROZEN", "label", "ink", "centre", 600)
        ink.text(x + width / 2, y + 30, words, "tick", "ink", "centre")

    def _roles(self, ink: Ink) -> None:
        wanted = self.desk.build.wanted
        for index, role in enumerate(ROLES):
            y = TOP + index * self.role_row()
            count = getattr(wanted, role)
            ink.text(LEFT, y + self.role_row() - 15, role, "label", "ink" if count else "ink2")
            spot = self.spots.find(f"wanted.{role}") or self.spots.find(f"decide:wanted.{role}")
            if spot:
                ink.decided(LEFT + 88, y + self.role_row() - 15, self.desk.given(count, "count"), "lane_value")
            ink.rule(LEFT, y + self.role_row() - 1, LEFT + ROLE_W, y + self.role_row() - 1, "hair", 0.75)
        y = TOP + len(ROLES) * self.role_row() + 16
        for figure in self.broken()[:3]:
            what = figure.subject.detail or "whole"
            names = [p.name for p in self.desk.build.pieces if p.id in what.split("+")]
            said = f"broken in shot {figure.subject.shot}" + (f", {' and '.join(names)}" if names else "")
            ink.text(LEFT, y, ink.squeezed(ROLE_W - 30, said, "note"), "note", "ink2")
            ink.number(LEFT + ROLE_W, y, self.desk.shown(figure), "lane_value", "reckon", "right", equals=True)
            y += 20
        figures = self.desk.build_plan.find(specs.FIGURES)
        y = self._sum_y()
        ink.rule(LEFT, y - 22, LEFT + ROLE_W, y - 22, "ink", 1.5)
        ink.text(LEFT, y, "whole figures", "label", weight=600)
        if figures:
            ink.number(LEFT + ROLE_W, y, self.desk.shown(figures), "after_value", "reckon", "right", equals=True)

    def _castings(self, ink: Ink) -> None:
        x, right = PIECE_X, self.width() - LEFT
        ink.rule(x - 16, TOP - 8, x - 16, self.height() - FOOT + 2, "hair", 1)
        for at, words in (
            (0.0, "piece"),
            (EACH_X, "each has"),
            (GOOD_X, "good ones"),
            (YIELD_X, "come out good"),
            (CAST_X, "castings"),
        ):
            ink.text(x + at, TOP + 12, words, "note", "ink2")
        known = None
        for index, line in enumerate(self.lines()):
            y = TOP + 24 + index * ROW
            base = y + 26
            if line.piece.id != known:
                known = line.piece.id
                if index:
                    ink.rule(x, y, right, y, "line", 0.75)
                room = (EACH_X if not line.variant else EACH_X - 70) - 8
                ink.text(
                    x,
                    base - (9 if line.variant else 0),
                    ink.squeezed(room, line.piece.name, "label", 600),
                    "label",
                    weight=600,
                )
                if not line.variant:
                    ink.text(x, base + 12, "all alike", "tick", "ink2")
                ink.decided(x + EACH_X, base, self.desk.given(line.piece.copies, "count"), "lane_value")
                if line.piece.mould:
                    ink.decided(x + YIELD_X, base, self.desk.given(line.piece.good, "share"), "lane_value")
                else:
                    ink.text(x + YIELD_X, base, "not cast", "note", "ink2")
            if line.variant:
                ink.text(
                    x,
                    base + (8 if line.place == 0 else 0),
                    ink.squeezed(EACH_X - 74, line.variant, "note"),
                    "note",
                    "ink2",
                )
                ink.decided(
                    x + EACH_X - 62, base, self.desk.given(line.piece.variants[line.place].share, "share"), "label"
                )
            self._counted(ink, line, base, right)

    def _counted(self, ink: Ink, line: CountLine, base: float, right: float) -> None:
        good, asked, cast = (self.figure(line, s) for s in (specs.GOOD_ONES, specs.ASKED, specs.CASTINGS))
        if good:
            ink.number(PIECE_X + GOOD_X, base, self.desk.shown(good), "lane_value", "reckon", equals=True)
        if not (good and asked and cast):
            return
        ink.number(PIECE_X + CAST_X, base, self.desk.shown(cast), "after_value", "reckon", equals=True)
        made, wanted = round(cast.number), round(asked.number)
        x = PIECE_X + CAST_X + 58
        draw_tally(ink, x, base, right - x - 10, round(good.number), made, short=max(0, wanted - made))
        level = off_the_count(asked, cast)
        if level:
            ink.plate(x, base + 2, 90, 11)
            ink.text(x, base + 13, f"asked for {wanted}", "tick", level)

    def _signatures(self, ink: Ink) -> None:
        y = self.height() - FOOT + 14
        ink.rule(LEFT, y - 16, self.width() - LEFT, y - 16, "ink", 1.5)
        ink.rule(LEFT, y + 4, LEFT + ink.text(LEFT, y, "Signed before the moulds", "heading"), y + 4, "ink", 1)
        signoffs = self.desk.build.signoffs
        if not signoffs:
            ink.text(LEFT, y + 26, "Nobody has to sign.", "note", "ink2")
        for index, signoff in enumerate(signoffs):
            base = y + 30 + index * 30
            if signoff.at:
                ink.box(LEFT, base - 11, 12, 12, fill="ink")
            else:
                ink.tag(LEFT - 2, base - 12, "mind")
            ink.text(
                LEFT + 22,
                base,
                ink.squeezed(ROLE_W, self._signed_words(signoff), "label"),
                "label",
                "ink" if signoff.at else "mind",
            )

    def _freezing(self, ink: Ink) -> None:
        x, y = PIECE_X + 20, self.height() - FOOT + 14
        ink.text(x, y, "The number for the mould shop", "heading")
        frozen, cost = self.desk.build.frozen, self.desk.cost
        room = self.width() - x - LEFT
        if cost:
            ink.tag(x - 2, y + 12, "danger")
            ink.paragraph(x + 24, y + 24, room - 24, self.cost_words(cost), "note", "ink", 3)
        elif frozen:
            words = f"{frozen.by}, {show_day(frozen.at)}" + (f": {frozen.reason}" if frozen.reason else "")
            ink.paragraph(
                x, y + 24, room, f"{words}. After this a change says what it costs, and asks why.", "note", "ink2", 2
            )
        else:
            ink.paragraph(
                x,
                y + 24,
                room,
                "Not frozen: it moves with every count. Freeze it before the mould shop begins.",
                "note",
                "ink2",
                2,
            )
        base = self.height() - 24.0
        if cost or not frozen:
            width = ink.text(x, base, self._freeze_words(), "after_value")
            ink.rule(x, base + 6, x + width, base + 6, "ink", 2)
            ink.key(x + width + 24, base - 5, "Z", "")
