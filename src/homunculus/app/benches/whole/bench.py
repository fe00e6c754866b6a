"""How does the whole job stand? The builds by their first shoot day, on one line of time, with what is in the way."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta
from functools import partial

from PySide6.QtCore import QRectF
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Manner
from homunculus.app.theme.glyphs import state_glyph
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.plan.memory import Last
from homunculus.core.plan.standing import Outside, Standing
from homunculus.core.schedule.calendar import open_on
from homunculus.core.showing import Shown, show, show_day

LEFT, TOP, ROW = 18.0, 158.0, 46.0
NAME_W = 190.0
FOOT = 96.0
COUNTED = (
    (specs.LATE_BUILDS, "late", ""), (specs.UNCOVERED, "uncovered", "coverage"), (specs.HELD_BUILDS, "held", "counts"),
    (specs.FROZEN_BUILDS, "frozen", "counts"), (specs.UNSEEN, "in no shot", "coverage"), (specs.TO_DECIDE, "to decide", "coverage"),
)  # fmt: skip
"""Figures of the whole job, with their word, and the bench where each is mended."""


class WholeBench(JobBench):
    """One row a build: from its beginning to ready, then slack to its flag; late is chequered."""

    sheet_name = "whole"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Whole job")
        self.list: RowList[Standing] = RowList(
            self, "whole job", (Column("build", "build", 0),), Manner(lambda r: r.build.id, lambda r, _: self.said(r), self.said, self._draw_cell),
            round(ROW), heads=False,
        )  # fmt: skip
        self.list.clicked.connect(lambda _: self._choose())
        self.list.acted.connect(lambda _: self._choose())
        self._listed: object = None
        self._span: Last[tuple[datetime, datetime]] = Last()

    # ----------------------------------------------------------------------------------- reading
    def rows(self) -> tuple[Standing, ...]:
        """All builds, the first to be shot first."""
        return self.desk.plan.standing

    def outside(self) -> tuple[Outside, ...]:
        """Deadlines of outside work and post-production from today on, and those gone by in the last week."""
        since = self.desk.now().date() - timedelta(days=7)
        return tuple(o for o in self.desk.plan.outside if o.day >= since)

    def span(self) -> tuple[datetime, datetime]:
        """First and last moment on the line of time; found once for a plan and a day."""
        return self._span.get((self.desk.plan, self.desk.now().date()), self._find_span)

    def _find_span(self) -> tuple[datetime, datetime]:
        moments = [m for row in self.rows() for m in (row.starts, row.ready, row.due) if m] + [self.desk.now()]
        moments += [datetime.combine(o.day, time(12)) for o in self.outside()]
        return min(moments) - timedelta(hours=12), max(moments) + timedelta(days=1)

    def x_of(self, moment: datetime) -> float:
        """Where a moment lies."""
        first, last = self.span()
        left, right = LEFT + NAME_W, self.width() - 30.0
        return left + (moment - first) / (last - first) * (right - left)

    def counts(self) -> list[tuple[int, str, str]]:
        """What is in the way, counted: number, words, the bench where it is mended; none for what is on this one."""
        return [(round(self.desk.plan.whole_figure(spec).number), words, where) for spec, words, where in COUNTED]

    def pitch(self) -> float:
        """From one of the counts to the next."""
        return min(124.0, (self.width() - LEFT - 8) / len(COUNTED))

    def content(self) -> object:
        return (
            self.desk.plan,
            self.desk.status.now.date(),
            id(self.desk.status),
            self.desk.chosen,
            id(self.desk.plan.coverage),
        )

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        x = LEFT
        for count, words, where in self.counts():
            self.spots.place(f"count:{words}", QRectF(x - 6, 46, self.pitch() - 6, 64), f"{count} {words}",
                             lambda w=where: self.desk.wanted.emit(w) if w else self.go_to_late())  # type: ignore[misc]  # fmt: skip
            x += self.pitch()
        self.list.setGeometry(8, round(TOP), self.width() - 16, max(round(ROW), round(self.height() - TOP - FOOT)))
        self.list.recolour(self.content())
        rows = self.rows()
        self.list.setVisible(bool(rows))
        if not rows:
            self.first_build("days", TOP)
        if rows is not self._listed:
            self._listed = rows
            self.list.put(rows)

    def _choose(self) -> None:
        row = self.list.item()
        if row:
            self.desk.choose(row.build.id)

    def go_to_late(self) -> None:
        """Choose the first build that is late."""
        late = next((row for row in self.rows() if row.late), None)
        if late:
            self.desk.choose(late.build.id)
        else:
            self.desk.said.emit("Nothing is late by the plan.")

    def marks(self, row: Standing) -> list[tuple[str, str]]:
        """What is in the way of a build: level and words."""
        found: list[tuple[str, str]] = []
        if row.late and row.slack:
            found.append(("danger", f"{show(-row.slack.number, 'shop_days').number.lstrip('+')} d late"))
        if row.uncovered:
            found.append(("danger", f"{row.uncovered} uncovered"))
        if row.off_count:
            found.append(("danger", "off its frozen count"))
        if row.held:
            found.append(("mind", f"held: {', '.join(row.held)}"))
        if row.unseen:
            found.append(("mind", f"{row.unseen} in no shot"))
        return found

    def said(self, row: Standing) -> str:
        """A build in one sentence."""
        due = f"first shot {show_day(row.due)}" if row.due else "in no shot"
        ready = f", ready {show_day(row.ready)}" if row.ready else ""
        marks = "".join(f", {words}" for _, words in self.marks(row))
        return f"{row.build.name}: {due}{ready}{marks}" + (", frozen" if row.frozen else "")

    # ----------------------------------------------------------------------------------- drawing
    def can_row(self, _rows: str, row: Standing, _column: str) -> list[Can]:
        """With a build: looked at, or what is in its way."""
        return [Can("Look at it", "Enter", self._choose), Can("What it is made of", "M", partial(self._open, row, "made")),
                Can("How many exactly", "H", partial(self._open, row, "counts")), Can("Who covers what", "V", partial(self._open, row, "coverage"))]  # fmt: skip

    def _open(self, row: Standing, bench: str) -> None:
        self.desk.choose(row.build.id)
        self.desk.wanted.emit(bench)

    def draw(self, ink: Ink) -> None:
        self.draw_sheets(ink)
        ink.text(LEFT, 29, "How does the whole job stand?", "bench_question")
        x = LEFT
        for count, words, _ in self.counts():
            bad = count and words in ("late", "uncovered")
            ink.number(x, 84, Shown(str(count), ""), "headline", "danger" if bad else "reckon", equals=True)
            ink.text(x + 2, 106, words, "note", "ink2")
            x += self.pitch()
        if self.spots.find("empty"):
            self.draw_empty(ink)
            return
        self._days(ink)
        now = self.x_of(self.desk.now())
        ink.rule(now, TOP - 18, now, TOP, "ink", 2)
        ink.text(now, TOP - 22, "now", "tick", "ink", "centre", 600)
        self._outside(ink)

    def _draw_cell(self, ink: Ink, row: Standing, _key: str, area: QRectF, _above: Standing | None) -> None:
        """A row of the list, drawn where it lies on the bench: the list begins further in."""
        ink.painter.translate(-self.list.x(), 0)
        self._free_days(ink, area.top(), area.bottom())
        now = self.x_of(self.desk.now())
        ink.rule(now, area.top(), now, area.bottom(), "ink", 2)
        self._row(ink, row, area.top())
        ink.painter.translate(self.list.x(), 0)

    def _days(self, ink: Ink) -> None:
        ink.rule(LEFT, TOP - 14, self.width() - LEFT, TOP - 14, "ink", 1.5)
        self._free_days(ink, TOP - 13, TOP)
        for day in self._every_day():
            x = self.x_of(datetime.combine(day, time(0)))
            if x >= LEFT + NAME_W and day.weekday() == 0 and not -70 < x - self.x_of(self.desk.now()) < 26:
                ink.text(x + 2, TOP - 20, show_day(day), "tick", "ink2")

    def _every_day(self) -> list[date]:
        first, last = (moment.date() for moment in self.span())
        return [first + timedelta(days=n) for n in range((last - first).days + 1)]

    def _free_days(self, ink: Ink, top: float, bottom: float) -> None:
        """Days on which the shop is closed, as far as they are in sight."""
        for day in self._every_day():
            x = self.x_of(datetime.combine(day, time(0)))
            if x >= LEFT + NAME_W and not open_on(day, self.desk.job.shop.hours):
                wide = self.x_of(datetime.combine(day + timedelta(days=1), time(0))) - x
                ink.box(x, top, wide, bottom - top, fill="edge")

    def _row(self, ink: Ink, row: Standing, y: float) -> None:
        chosen = row.build.id == self.desk.chosen
        if chosen:
            ink.box(8, y + 4, 5, ROW - 8, fill="ink")
        state_glyph(ink, LEFT, y + 5, self.desk.status.states.get(row.build.id, "none"))
        ink.text(LEFT + 22, y + 17, ink.squeezed(NAME_W - 30, row.build.name, "label", 600), "label", weight=600)
        x = LEFT + 22
        if row.frozen:
            width = ink.width("frozen", "tick", 600) + 8
            ink.box(x, y + 23, width, 15, edge="ink", width=1.4)
            x += ink.text(x + 4, y + 35, "frozen", "tick", "ink", weight=600) + 14
        due = f"first {show_day(row.due)}" if row.due else "in no shot"
        ink.text(x, y + 35, due, "tick", "ink2")
        middle = y + 16
        end = row.ready or row.starts
        a, b = self.x_of(row.starts), self.x_of(end)
        half = 6.0 if chosen else 3.5
        bar = QRectF(a, middle - half, max(2.0, b - a), 2 * half)
        ink.box(bar.x(), bar.y(), bar.width(), bar.height(), fill="ink" if chosen else "line")
        if row.due:
            flag = self.x_of(row.due)
            if row.late:
                ink.hatched(QRectF(flag, middle - 6, b - flag, 12), "past", "danger")
            else:
                ink.rule(b, middle, flag, middle, "ink" if chosen else "line", 1.4, "planned")
            ink.rule(flag, middle - 13, flag, middle + 12, "danger" if row.late else "ink", 1.6)
            ink.rules(
                [(flag, middle - 13, flag + 9, middle - 9), (flag + 9, middle - 9, flag, middle - 5)],
                "danger" if row.late else "ink",
                1.6,
            )
        x = max(LEFT + NAME_W, a)
        for level, words in self.marks(row):
            ink.plate(x, y + 28, 24 + ink.width(words, "tick"), 14)
            ink.tag(x, y + 28, level)
            x += 22 + ink.text(x + 22, y + 39, words, "tick", "danger" if level == "danger" else "mind") + 14

    def _outside(self, ink: Ink) -> None:
        """Deadlines outside the shop: a peg on the line of time each, and the next ones in words."""
        y = self.height() - FOOT + 26.0
        ink.rule(LEFT, y - 20, self.width() - LEFT, y - 20, "ink", 1.5)
        ink.text(LEFT, y - 2, "Outside and post-production", "heading")
        rows, today = self.outside(), self.desk.now().date()
        if not rows:
            ink.text(LEFT, y + 20, "No shot has a deadline that follows it.", "note", "ink2")
        for item in rows:
            x = self.x_of(datetime.combine(item.day, time(12)))
            ink.dot(x, y - 6, 4, fill="danger" if item.day < today else "sheet")
        for index, item in enumerate(rows[:4]):
            words = f"{show_day(item.day)}: {item.deadline.what}" + (
                f", {item.deadline.who}" if item.deadline.who else ""
            )
            colour = "danger" if item.day < today else "ink"
            column, line = divmod(index, 2)
            ink.text(
                LEFT + column * 400,
                y + 22 + 20 * line,
                ink.squeezed(390, f"{words} (shot {item.shot.id})", "note"),
                "note",
                colour,
            )
