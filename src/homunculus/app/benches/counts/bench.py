"""How many exactly? Figures by what they are for, castings of each mould, signatures, and the number for the mould shop."""

from __future__ import annotations

from functools import partial
from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Pull
from homunculus.app.benches.counts.tally import draw_tally
from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.counts import show_signoffs, show_variants
from homunculus.core.figures import Figure, FigureSpec
from homunculus.core.job.build import Piece
from homunculus.core.job.counts import ROLES, SignOff
from homunculus.core.plan.freezing import Cost, cost_words
from homunculus.core.planners.counts import off_the_count, variants_of
from homunculus.core.showing import show_day

LEFT, TOP, ROW = 18.0, 128.0, 40
ROLE_W = 190.0
PIECE_X = 236.0
FOOT = 148.0
COLUMNS = (
    Column("piece", "piece", 104), Column("share", "of which", 62), Column("copies", "each has", 62), Column("good_ones", "good ones", 66),
    Column("good", "come out good", 92), Column("castings", "castings", 0),
)  # fmt: skip
COUNTED = {"good_ones": specs.GOOD_ONES, "castings": specs.CASTINGS}
"""Columns that are reckoned."""


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
        self.list: RowList[CountLine] = RowList(
            self, "castings", COLUMNS, Manner(lambda line: (line.piece.id, line.variant), self._cell, self._said, self._draw_cell), ROW,
            cells=True, pulls=True,
        )  # fmt: skip
        self.list.clicked.connect(lambda _: self._act(self.list.item(), self.list.column()))
        self.list.cell_acted.connect(self._act)
        self.list.pulled.connect(self._pull)
        self.list.dropped.connect(self._drop)
        self._pulled: Pull | None = None

    # ----------------------------------------------------------------------------------- reading
    def lines(self) -> list[CountLine]:
        """The lines of castings."""
        return [CountLine(piece, variant.name, index) for piece in self.desk.build.pieces if piece.copies
                for index, variant in enumerate(variants_of(piece))]  # fmt: skip

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
        return (self.desk.build_plan if self.desk.chosen else None, self.desk.job.shop.confidence)

    def repaint_changed(self, _before: object, _now: object) -> None:
        self.update()
        self.list.viewport().update()  # while something is pulled the rows are not laid anew, but what they count moves

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        self.list.setVisible(bool(self.desk.chosen))
        if not self.desk.chosen:
            self.first_build("figures")
            return
        lines = self.lines()
        self.list.setVisible(bool(lines))
        if not lines:
            self.empty_spot("figures", "its first piece", "What there is to count is told by its pieces.",
                            partial(self.desk.asked_of_made.emit, "add_piece"), TOP + 8)  # fmt: skip
            return
        self.list.setGeometry(round(PIECE_X) - 14, round(TOP) - 6, self.width() - round(PIECE_X + LEFT) + 14,
                              self.height() - round(TOP + FOOT))  # fmt: skip
        self.list.setColumnHidden(1, not any(line.variant for line in lines))
        self.list.recolour()
        self.list.put(lines)
        if total := self.total():
            self.figure_spot(total, QRectF(LEFT - 6, 46, 130, 64))
        self.decide_spot("shop.confidence", QRectF(PIECE_X + 150, 44, 160, 52))
        for index, role in enumerate(ROLES):
            self.decide_spot(f"wanted.{role}", QRectF(LEFT + 80, TOP + index * self.role_row(), 90, self.role_row()))
        figures = self.desk.build_plan.find(specs.FIGURES)
        if figures:
            self.figure_spot(figures, QRectF(LEFT - 6, self._sum_y() - 26, ROLE_W, 40))
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

    # -------------------------------------------------------------------------------------- list
    @staticmethod
    def _decided_key(line: CountLine, column: str) -> str:
        """The decided value that a cell shows, or nothing."""
        if column == "share":
            return f"variant.{line.place}:{line.piece.id}" if line.variant else ""
        if line.place == 0 and (column == "copies" or (column == "good" and line.piece.mould)):
            return f"{column}:{line.piece.id}"
        return ""

    def _cell(self, line: CountLine, column: str) -> str:
        if column == "piece":
            return f"{line.piece.name} {line.variant}".strip()
        if column in COUNTED:
            figure = self.figure(line, COUNTED[column])
            return str(self.desk.shown(figure)) if figure else ""
        key = self._decided_key(line, column)
        if not key:
            return "not cast" if column == "good" and not line.piece.mould else ""
        decision = self.desk.decision(key)
        return str(self.desk.given(decision.value, decision.kind))

    def _said(self, line: CountLine) -> str:
        comes_in = show_variants(line.piece.variants) or "all alike"
        cells = [f"{c.title} {cell}" for c in COLUMNS[1:] if (cell := self._cell(line, c.key))]
        return f"{line.piece.name} {line.variant}".strip() + f", comes in {comes_in}; " + ", ".join(cells)

    def _act(self, line: CountLine | None, column: str) -> None:
        """Type what a cell holds, or ask why it is what it is."""
        if line is None:
            return
        key = self._decided_key(line, column)
        figure = self.figure(line, COUNTED[column]) if column in COUNTED else None
        if key:
            self.type_value(key)
        elif figure:
            self.desk.asked_why.emit(figure)
        elif column == "piece":
            self.type_variants(line.piece)

    def _pull(self, line: CountLine, column: str, at: QPointF) -> None:
        if self._pulled is None and (key := self._decided_key(line, column)):
            self._pulled = Pull(self.desk, key)
            self._pulled.grasp()
        if self._pulled:
            self._pulled.to(at)

    def _drop(self, *_: object) -> None:
        if self._pulled:
            self._pulled = None
            self.desk.let_go()

    def decided_at_hand(self) -> str:
        """The decided value of the cell that the keyboard is on."""
        line = self.list.item() if self.list.hasFocus() else None
        return self._decided_key(line, self.list.column()) if line else super().decided_at_hand()

    def where_decided(self, key: str) -> tuple[QRectF, QWidget] | None:
        """Where it stands in the list, or beside it."""
        for row, line in enumerate(self.list.rows.items):
            for column in COLUMNS:
                if self._decided_key(line, column.key) == key:
                    self.list.choose(row, column.key)
                    return self.list.cell_area(), self.list
        return super().where_decided(key)

    def _sum_y(self) -> float:
        return TOP + len(ROLES) * self.role_row() + 20 * min(3, len(self.broken())) + 34

    # -------------------------------------------------------------------------------------- acts
    def type_variants(self, piece: Piece) -> None:
        """Type the variants that a piece comes in: each has a mould of its own."""
        row = self.list.row_of((piece.id, variants_of(piece)[0].name))
        if row is not None:
            self.list.choose(row, "piece")
            self.type_over(f"what {piece.name} comes in", self.list.cell_area(), show_variants(piece.variants),
                     lambda words: self.breakdown.type_variants(piece.id, words), back=self.list)  # fmt: skip

    def type_signoffs(self) -> None:
        """Type who has to sign."""
        signs = show_signoffs(self.desk.build.signoffs)
        self.type_over("who signs", "signoffs", signs, self.breakdown.type_signoffs)

    def sign(self, signoff: SignOff) -> None:
        """Ask who has signed."""
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

        self.type_over(f"who has signed for {signoff.kind}", f"sign:{signoff.kind}", signoff.by, accept)

    def freeze(self) -> None:
        """Freeze the count, or let the frozen number follow it: for that a reason is asked."""
        if not self.desk.chosen:
            return
        frozen, cost = self.desk.build.frozen, self.desk.cost
        if frozen is None:
            self.ask_who("who freezes the count", "freeze", lambda by: self.breakdown.freeze(by))
        elif cost is None:
            self.desk.said.emit(f"{frozen.by} froze it on {show_day(frozen.at)}, and the count asks for nothing else.")
        else:
            self.type_over("why the frozen number changes", "freeze", "",
                           lambda why: self.breakdown.freeze(self.desk.who or frozen.by, why))  # fmt: skip

    def can_row(self, _rows: str, line: CountLine, column: str) -> list[Can]:
        """With a cell of the counts: what is decided in it, what it comes in, why."""
        key = self._decided_key(line, column)
        own = (
            self.can(f"decide:{key}") if key else [Can("Type it, or ask why", "Enter", lambda: self._act(line, column))]
        )
        return [
            *own,
            Can("What it comes in", "", lambda: self.type_variants(line.piece)),
            Can("Freeze the count", "Z", self.freeze),
        ]

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Z:
            self.freeze()
        elif not self.value_key(event):
            event.ignore()

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
            self.draw_empty(ink)
            return
        build = self.desk.build
        self.draw_question(ink, f"How many exactly, of {build.called}?")
        if self.spots.find("empty"):
            self.draw_empty(ink)
            return
        total = self.total()
        width = ink.number(LEFT, 84, self.desk.shown(total), "headline", "reckon", equals=True) if total else 0.0
        words = "castings for the mould shop" + (", frozen" if build.frozen else ", not frozen")
        ink.text(LEFT + 2, 106, words, "note", "ink2")
        if build.frozen:
            self._stamp(ink, LEFT + width + 18, 54, f"{build.frozen.by}, {show_day(build.frozen.at)}")
        self.draw_decided(ink, "shop.confidence", "sure that enough are good", "on_drawing")
        ink.rule(LEFT, TOP - 8, self.width() - LEFT, TOP - 8, "ink", 1.5)
        self._roles(ink)
        ink.rule(PIECE_X - 16, TOP - 8, PIECE_X - 16, self.height() - FOOT + 2, "hair", 1)
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
                ink.decided(LEFT + 88, y + self.role_row() - 15, self.desk.given(count, "count"), "lane_value",
                            begun=f"wanted.{role}" in self.desk.build.begun)  # fmt: skip
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

    def _draw_cell(self, ink: Ink, line: CountLine, column: str, area: QRectF, _above: CountLine | None) -> None:
        x, base, room = area.left() + 10, area.top() + 26, area.width() - 14
        if column == "piece":
            second = line.variant or "all alike"
            if line.place == 0:
                ink.text(x, base - 7, ink.squeezed(room, line.piece.name, "label", 600), "label", weight=600)
            ink.text(x, base + 9, ink.squeezed(room, second, "note"), "note", "ink2")
        elif column == "castings":
            self._counted(ink, line, area.left() + 10, base, area.right())
        elif column == "good_ones":
            if figure := self.figure(line, specs.GOOD_ONES):
                ink.number(x, base, self.desk.shown(figure), "lane_value", "reckon", equals=True)
        elif key := self._decided_key(line, column):
            decision = self.desk.decision(key)
            ink.decided(x, base, self.desk.given(decision.value, decision.kind), "lane_value", begun=decision.begun)
        elif column == "good" and not line.piece.mould:
            ink.text(x, base, "not cast", "note", "ink2")

    def _counted(self, ink: Ink, line: CountLine, left: float, base: float, right: float) -> None:
        good, asked, cast = (self.figure(line, s) for s in (specs.GOOD_ONES, specs.ASKED, specs.CASTINGS))
        if not (good and asked and cast):
            return
        ink.number(left, base, self.desk.shown(cast), "after_value", "reckon", equals=True)
        made, wanted = round(cast.number), round(asked.number)
        x = left + 58
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
