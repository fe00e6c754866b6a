"""The ruled sheet of a station: its headline, what is decided there, and every figure with its why."""

from __future__ import annotations

from collections.abc import Callable
from typing import NamedTuple

from msgspec.structs import replace
from PySide6.QtCore import QRectF
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import Bench
from homunculus.app.benches.register import OF_STATION
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.theme.ink import Ink
from homunculus.core.edits.decisions import Decision, decisions
from homunculus.core.figures import Figure, Subject
from homunculus.core.plan.build_plan import Task
from homunculus.core.plan.cautions import step_cautions
from homunculus.core.plan.memory import Last
from homunculus.core.showing import Shown, show_moment

ROW = 28
HEAD = 128.0
COLUMNS = (Column("what", "what", 236), Column("value", "value", 150), Column("rule", "by which rule", 0))


class Group(NamedTuple):
    """The head of what belongs together."""

    name: str


class Caution(NamedTuple):
    """What a material's card says about the step."""

    words: str


SheetRow = Group | Figure | Decision | Task | Caution


def known_by(row: SheetRow) -> object:
    """What a row is known by from plan to plan."""
    if isinstance(row, Figure):
        return row.spec.name, row.subject
    if isinstance(row, Task):
        return row.name, row.piece
    return row.key if isinstance(row, Decision) else row


def _standing(decision: Decision) -> str:
    return "a beginning" if decision.begun else "decided"


class SheetBench(Bench):
    """All figures of the open station, grouped by piece or shot."""

    ground = "sheet"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Figures")
        self._shown_for: tuple[str, str] = ("", "")
        self._found: Last[tuple[SheetRow, ...]] = Last()
        self.list: RowList[SheetRow] = RowList(
            self, "figures", COLUMNS,
            Manner(known_by, self._cell, self._said, self._draw_cell, lambda r: isinstance(r, Group | Task | Caution)), ROW, heads=False,
        )  # fmt: skip
        self.list.clicked.connect(lambda _: self._act())
        self.list.acted.connect(lambda _: self._act())

    # -------------------------------------------------------------------------------------- rows
    def rows(self) -> tuple[SheetRow, ...]:
        """Everything on the sheet, in order; found once for a plan."""
        desk = self.desk
        if not desk.chosen:
            return ()
        return self._found.get((desk.build_plan, desk.job, desk.station), lambda: tuple(self._all_rows()))

    def _all_rows(self) -> list[SheetRow]:
        desk, station = self.desk, self.desk.station
        figures = [f for f in desk.build_plan.figures if f.spec.station == station and f.spec.kind != "thing"]
        decided = [d for d in decisions(desk.job, desk.chosen) if d.station == station]
        if station == "mould":  # how many has a bench of its own: here it stands last
            figures.sort(key=lambda f: f.spec.name.startswith("count."))
            decided.sort(key=lambda d: d.path[0] == "wanted" or d.path[1] in ("copies", "good", "share"))
        rows: list[SheetRow] = []
        groups = self._groups(figures, decided)
        if station == "mould":
            moulded = {p.id for p in desk.build.pieces if p.mould}
            groups.sort(key=lambda g: g[0] not in moulded)
        for group in groups:
            piece, shot = group
            rows.append(Group(self._group_name(piece, shot)))
            rows += [d for d in decided if d.build and (d.piece, "") == group]
            rows += [f for f in figures if (f.subject.piece, f.subject.shot) == group]
            rows += [Caution(c) for c in self._cautions_of(piece)]
        if station == "shoot" and desk.build_plan.tasks:
            rows.append(Group("Step by step, by the forward plan"))
            rows += desk.build_plan.tasks
        shop = [d for d in decided if not d.build]
        if shop:
            rows.append(Group("The shop, for every build"))
            rows += shop
        return rows

    def _detail(self, subject: Subject) -> str:
        """What of its piece a figure speaks of, an operation by the name that it has on screen."""
        if not subject.op:
            return subject.detail
        build = self.desk.build
        piece = next((p for p in build.pieces if p.id == subject.piece), None)
        called = next(
            (op.called for op in (piece.route if piece else build.assembly) if op.id == subject.op), subject.op
        )
        rest = replace(subject, op="").detail
        return f"{called}: {rest}" if rest else called

    @staticmethod
    def _groups(figures: list[Figure], decided: list[Decision]) -> list[tuple[str, str]]:
        seen: dict[tuple[str, str], None] = {}
        for decision in decided:
            if decision.build:
                seen.setdefault((decision.piece, ""))
        for figure in figures:
            seen.setdefault((figure.subject.piece, figure.subject.shot))
        return sorted(seen, key=lambda g: (g != ("", ""), 0))

    def _group_name(self, piece: str, shot: str) -> str:
        if shot:
            found = next((s for s in self.desk.job.shots if s.id == shot), None)
            return f"Shot {shot}: {found.name}" if found else f"Shot {shot}"
        if piece:
            name = next((p.name for p in self.desk.build.pieces if p.id == piece), piece)
            return name[:1].upper() + name[1:]
        return f"{self.desk.build.name}, the whole"

    def _cautions_of(self, piece_id: str) -> list[str]:
        """Cautions of the materials that this piece's step needs; the data sheet decides."""
        station = self.desk.station
        if station not in ("mould", "mix", "cure"):
            return []
        mine = [pour for pour in self.desk.build_plan.pours if pour.piece == piece_id]
        return [f"{name}: {words}" for name, words in step_cautions(self.desk.job, mine, station)]

    # -------------------------------------------------------------------------------------- list
    def content(self) -> object:
        return self.rows(), self._step_words()

    def arrange(self) -> None:
        rows = self.rows()
        self.list.setVisible(bool(rows))
        if not self.desk.chosen:
            return
        step = self._step_words()
        if step:
            self.spots.place("step", QRectF(self.width() - 330, 58, 312, 44), f"Space: log {step[1]} now", step[2])
        self.list.setGeometry(8, round(HEAD) - 10, self.width() - 16, self.height() - round(HEAD) + 8)
        self.list.recolour()
        if rows is not self.list.given:
            self.list.put(rows)
        showing = (self.desk.station, self.desk.chosen)
        if showing != self._shown_for:
            self._shown_for = showing
            self.list.scrollToTop()

    def _cell(self, row: SheetRow, key: str) -> str:
        if isinstance(row, Figure | Decision):
            if key == "what":
                return self._label(row)
            if key == "value":
                return str(self.desk.shown(row) if isinstance(row, Figure) else self.desk.given(row.value, row.kind))
            return self._rule(row) if isinstance(row, Figure) else _standing(row)
        return self._said(row) if key == "what" else ""

    def _said(self, row: SheetRow) -> str:
        if isinstance(row, Figure):
            return f"{row.spec.label} {self._detail(row.subject)} {self.desk.words(row)}"
        if isinstance(row, Decision):
            return f"{row.label} {self.desk.given(row.value, row.kind)}, {_standing(row)}"
        if isinstance(row, Task):
            return f"{row.name}, {show_moment(row.start)} to {show_moment(row.end)}" + self._held(row)
        return row.name if isinstance(row, Group) else row.words

    def _label(self, row: Figure | Decision) -> str:
        if isinstance(row, Figure):
            return row.spec.label + (f", {self._detail(row.subject)}" if row.subject.detail else "")
        label = row.label.split(", ", 1)[-1] if row.piece else row.label
        return label[:1].upper() + label[1:]

    @staticmethod
    def _rule(figure: Figure) -> str:
        return figure.rule.formula + ("  · " + figure.notes[0] if figure.notes else "")

    @staticmethod
    def _held(task: Task) -> str:
        return f", held: {task.held} not signed" if task.held else ""

    def _act(self) -> None:
        """Ask why a figure is what it is, or type over what is decided."""
        row = self.list.item()
        if isinstance(row, Figure):
            self.desk.asked_why.emit(row)
        elif isinstance(row, Decision):
            self.type_value(row.key)

    def can_row(self, _rows: str, row: SheetRow, _column: str) -> list[Can]:
        """With a figure why, with a decided value what can be done with one."""
        if isinstance(row, Figure):
            return [Can("Why is it so?", "Enter", lambda: self.desk.asked_why.emit(row))]
        return self.can(f"decide:{row.key}") if isinstance(row, Decision) else []

    def where_decided(self, key: str) -> tuple[QRectF, QWidget] | None:
        """Where it stands in the list."""
        row = self.list.row_of(key)
        if row is None:
            return None
        self.list.choose(row)
        return self.list.area_of(self.list.rows.index(row, 1)), self.list

    def decided_at_hand(self) -> str:
        """The decided value of the row that the keyboard is on."""
        row = self.list.item()
        return row.key if isinstance(row, Decision) and self.list.hasFocus() else ""

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if not self.value_key(event):
            event.ignore()

    def _step_words(self) -> tuple[str, str, Callable[[], None]] | None:
        step = self.desk.next_pour_step()
        if step is None or self.desk.station not in ("mould", "mix", "cure"):
            return None
        kind, piece, op, words = step
        return kind, words, lambda: self.desk.write(kind, words, piece, op)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        desk = self.desk
        if not desk.chosen:
            ink.text(18, 30, "No build yet.", "bench_question")
            return
        ink.text(18, 29, OF_STATION[desk.station].question.format(desk.build.called), "bench_question")
        self._headlines(ink)
        step = self._step_words()
        if step:
            ink.key(self.width() - 320, 80, "Space", f"log: {step[1]}")
        if not self.rows():
            ink.text(18, HEAD + 20, self._empty(), "body", "ink2")

    def _draw_cell(self, ink: Ink, row: SheetRow, key: str, area: QRectF, _above: SheetRow | None) -> None:
        x, base, room = area.left() + 10, area.bottom() - 9, area.width() - 14
        if isinstance(row, Group):
            ink.text(x, base, ink.squeezed(room, row.name, "heading"), "heading")
            ink.rule(x, area.bottom() - 1, area.right() - 10, area.bottom() - 1, "ink", 1.2)
        elif isinstance(row, Caution):
            ink.tag(x, area.top() + 6, "mind")
            ink.text(x + 26, base, ink.squeezed(room - 26, row.words, "note"), "note", "mind")
        elif isinstance(row, Task):
            self._task(ink, row, area)
        elif key == "what":
            ink.text(x, base, ink.squeezed(room, self._label(row), "label"), "label")
        elif key == "rule":
            if isinstance(row, Figure):
                ink.text(x, base, ink.squeezed(room, self._rule(row), "note"), "note", "ink2")
        elif isinstance(row, Figure):
            ink.number(area.left(), base, self.desk.shown(row), "lane_value", "reckon", equals=True)
        else:
            ink.decided(area.left() + 14, base - 4, self.desk.given(row.value, row.kind), "lane_value", begun=row.begun)

    @staticmethod
    def _task(ink: Ink, task: Task, area: QRectF) -> None:
        """A step with its matter, from when to when."""
        x, base, value = area.left() + 10, area.bottom() - 9, area.left() + 252
        sample = QRectF(x, area.top() + 6, 34, 14)
        ink.hatched(sample, task.matter, "ink")
        ink.box(sample.x(), sample.y(), sample.width(), sample.height(), edge="ink")
        ink.text(x + 44, base, ink.squeezed(value - x - 60, task.name, "label"), "label")
        ink.text(value, base, f"{show_moment(task.start)} to", "note", "ink2")
        width = ink.number(value + 118, base, Shown(show_moment(task.end), ""), "lane_value", "reckon", equals=True)
        if task.held:
            ink.tag(value + 134 + width, base - 11, "mind")
            ink.text(value + 158 + width, base, f"held: {task.held} not signed", "note", "mind")

    def _empty(self) -> str:
        return {
            "lens": "No shot of this build names a lens yet.",
            "mould": "No piece of this build has a mould.",
            "mix": "Nothing is mixed for this build: no piece has a rubber mould.",
            "cure": "Nothing cures here: no step of this build pours rubber.",
            "shot": "No shot needs this build yet. Leave it out?",
        }.get(self.desk.station, "Nothing is reckoned here yet.")

    def _headlines(self, ink: Ink) -> None:
        """The station's weightiest figures at 42 px, as many as fit."""
        figures = [row for row in self.rows() if isinstance(row, Figure)]
        best: dict[str, Figure] = {}
        for figure in sorted(figures, key=lambda f: (f.spec.rank, -f.number if isinstance(f.value, float) else 0)):
            best.setdefault(figure.spec.name, figure)
        x = 18.0
        for figure in list(best.values())[:4]:
            shown = self.desk.shown(figure)
            width = ink.number_width(shown, "headline", equals=True)
            if x + width > self.width() - 345:
                break
            ink.number(x, 84, shown, "headline", "reckon", equals=True)
            ink.text(x + 2, 104, figure.spec.label.lower() + self._whose(figure), "note", "ink2")
            x += max(width, 120) + 30
        ink.rule(18, HEAD - 14, self.width() - 18, HEAD - 14, "ink", 1.5)

    def _whose(self, figure: Figure) -> str:
        subject = figure.subject
        return f", {subject.detail or subject.piece}" if subject.piece or subject.detail else (
            f", shot {subject.shot}" if subject.shot else "")  # fmt: skip
