"""The ruled sheet of a station: its headline, what is decided there, and every figure with its why."""

from __future__ import annotations

from collections.abc import Callable

from PySide6.QtCore import QRectF, Qt
from PySide6.QtGui import QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.register import OF_STATION
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.drawing.spot import Handle
from homunculus.app.drawing.typing import Typed
from homunculus.app.theme.ink import Ink
from homunculus.core.edits.decisions import Decision, decisions
from homunculus.core.figures import Figure
from homunculus.core.plan.build_plan import Task
from homunculus.core.showing import Shown, show, show_moment

ROW = 27.0
GROUP = 34.0
HEAD = 128.0
VALUE_X = 250.0
RULE_X = 400.0
SheetRow = tuple[str, Figure | Decision | Task | str]
"""What a row is (“group”, “figure”, “decision”, “caution”) and what it shows."""


class SheetBench(Place):
    """All figures of the open station, grouped by piece or shot. It scrolls when it is long."""

    ground = "sheet"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Figures")
        self._scroll = 0.0
        self._shown_for: tuple[str, str] = ("", "")
        self._typed: Typed | None = None

    # -------------------------------------------------------------------------------------- rows
    def rows(self) -> list[SheetRow]:
        """Everything on the sheet, in order."""
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
            rows.append(("group", self._group_name(piece, shot)))
            rows += [("decision", d) for d in decided if d.build and (d.piece, "") == group]
            rows += [("figure", f) for f in figures if (f.subject.piece, f.subject.shot) == group]
            rows += [("caution", c) for c in self._cautions(piece)]
        if station == "shoot" and desk.build_plan.tasks:
            rows.append(("group", "Step by step, by the forward plan"))
            rows += [("task", t) for t in desk.build_plan.tasks]
        shop = [d for d in decided if not d.build]
        if shop:
            rows.append(("group", "The shop, for every build"))
            rows += [("decision", d) for d in shop]
        return rows

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

    def _cautions(self, piece_id: str) -> list[str]:
        """Cautions of the materials that this piece's step needs; the data sheet decides."""
        piece = next((p for p in self.desk.build.pieces if p.id == piece_id), None)
        if piece is None or piece.mould is None or self.desk.station not in ("mould", "mix", "cure"):
            return []
        station = self.desk.station
        names = [piece.mould.poured]
        if station == "mould":
            names += [getattr(piece.mould, "laminate", ""), piece.material]
        cards = self.desk.job.cards
        return [f"{card.name}: {words}" for card in cards.materials if card.id in names
                for words in cards.cautions(card, station)]  # fmt: skip

    def _heights(self) -> list[tuple[SheetRow, float, float]]:
        y, placed = HEAD - self._scroll, []
        for row in self.rows():
            height = GROUP if row[0] == "group" else ROW
            placed.append((row, y, height))
            y += height
        return placed

    def _limit_scroll(self) -> None:
        total = sum(h for _, _, h in self._heights()) + HEAD + 20
        self._scroll = max(0.0, min(self._scroll, total - self.height()))

    def wheelEvent(self, event: QWheelEvent) -> None:
        self._scroll -= event.angleDelta().y() / 120 * ROW * 2
        self._limit_scroll()
        self.refresh()

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        if not self.desk.chosen:
            return
        showing = (self.desk.station, self.desk.chosen)
        if showing != self._shown_for:
            self._shown_for, self._scroll = showing, 0.0
        self._limit_scroll()
        step = self._step_words()
        if step:
            self.spots.place("step", QRectF(self.width() - 330, 58, 312, 44), f"Space: log {step[1]} now", step[2])
        for (sort, item), y, height in self._heights():
            if y < HEAD - 4 or y + height > self.height():
                continue
            area = QRectF(12, y, self.width() - 24, height)
            if sort == "figure" and isinstance(item, Figure):
                key = f"figure:{item.spec.name}:{item.subject}"
                self.spots.place(key, area, f"{item.spec.label} {item.subject.detail} {self.desk.words(item)}",
                                 lambda f=item: self.desk.asked_why.emit(f), item.spec.meaning)  # type: ignore[misc]  # fmt: skip
            elif sort == "decision" and isinstance(item, Decision):
                shown = show(item.value, item.kind, self.desk.system)
                said = f"{item.label} {shown}, decided"
                self.spots.place_handle(f"decide:{item.key}", area, said, Qt.CursorShape.IBeamCursor,
                                        lambda h, k=item.key: self._wire(h, k))  # type: ignore[misc]  # fmt: skip

    def _wire(self, handle: Handle, key: str) -> None:
        handle.stepped.connect(lambda steps: self.desk.step(self.desk.decision(key), steps))
        handle.typing.connect(lambda first: self.type_value(key, first))
        handle.released.connect(lambda: self.type_value(key))

    def type_value(self, key: str, first: str = "") -> None:
        """Open the line to type a decided value into."""
        decision = self.desk.decision(key)
        handle = self.spots.find(f"decide:{key}")
        if handle is None:
            return
        text = first or str(show(decision.value, decision.kind, self.desk.system)).replace("\N{NO-BREAK SPACE}", " ")
        self._typed = Typed(self, self.theme(), decision.label, text,
                            lambda words: self.desk.decide_typed(self.desk.decision(key), words))  # fmt: skip
        self._typed.closed.connect(handle.setFocus)
        area = QRectF(handle.geometry())
        self._typed.open_over(QRectF(VALUE_X - 20, area.top(), 140, area.height()))

    def _step_words(self) -> tuple[str, str, Callable[[], None]] | None:
        step = self.desk.next_pour_step()
        if step is None or self.desk.station not in ("mould", "mix", "cure"):
            return None
        kind, piece, words = step
        return kind, words, lambda: self.desk.write(kind, words, piece)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        desk = self.desk
        if not desk.chosen:
            ink.text(18, 30, "No build yet.", "bench_question")
            return
        for row, y, height in self._heights():
            if y + height > self.height() or y < HEAD - 14:
                continue  # only whole rows: half a number is none
            self._row(ink, row, y, height)
        ink.box(0, 0, self.width(), HEAD - 14, fill="sheet")
        ink.text(18, 29, OF_STATION[desk.station].question.format(desk.build.called), "bench_question")
        self._headlines(ink)
        step = self._step_words()
        if step:
            ink.key(self.width() - 320, 80, "Space", f"log: {step[1]}")
        if not self.rows():
            ink.text(18, HEAD + 20, self._empty(), "body", "ink2")

    def _task(self, ink: Ink, task: Task, y: float, base: float) -> None:
        """A step with its matter, from when to when."""
        area = QRectF(18, y + 6, 34, 14)
        ink.hatched(area, task.matter, "ink")
        ink.box(area.x(), area.y(), area.width(), area.height(), edge="ink")
        ink.text(62, base, ink.squeezed(VALUE_X - 90, task.name, "label"), "label")
        ink.text(VALUE_X, base, f"{show_moment(task.start)} to", "note", "ink2")
        ink.number(VALUE_X + 118, base, Shown(show_moment(task.end), ""), "lane_value", "reckon", equals=True)
        if task.held:
            ink.tag(RULE_X + 130, base - 11, "mind")
            ink.text(RULE_X + 154, base, f"held: {task.held} not signed", "note", "mind")

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
        figures = [f for _, f in ((s, i) for s, i in self.rows() if s == "figure") if isinstance(f, Figure)]
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

    def _row(self, ink: Ink, row: SheetRow, y: float, height: float) -> None:
        sort, item = row
        base = y + height - 9
        if sort == "group":
            ink.text(18, base, str(item), "heading")
            ink.rule(18, y + height - 1, self.width() - 18, y + height - 1, "ink", 1.2)
            return
        if sort == "caution":
            ink.tag(18, y + 6, "mind")
            ink.text(44, base, ink.squeezed(self.width() - 70, str(item), "note"), "note", "mind")
        elif isinstance(item, Task):
            self._task(ink, item, y, base)
        elif isinstance(item, Decision):
            label = item.label.split(", ", 1)[-1] if item.piece else item.label
            ink.text(18, base, label[:1].upper() + label[1:], "label")
            ink.decided(VALUE_X, base - 2, self.desk.given(item.value, item.kind), "lane_value")
        elif isinstance(item, Figure):
            label = item.spec.label + (f" {item.subject.detail}" if item.subject.detail else "")
            ink.text(18, base, label, "label")
            ink.number(VALUE_X - 16, base, self.desk.shown(item), "lane_value", "reckon", equals=True)
            words = item.rule.formula + ("  · " + item.notes[0] if item.notes else "")
            ink.text(RULE_X, base, ink.squeezed(self.width() - RULE_X - 20, words, "note"), "note", "ink2")
        ink.rule(18, y + height - 1, self.width() - 18, y + height - 1, "hair", 0.75)
