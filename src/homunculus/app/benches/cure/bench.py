"""When does it open? The course of the cure over the shop's air; start, night and oven pulled to see what would be."""

from __future__ import annotations

import math
from collections.abc import Callable
from datetime import datetime, timedelta

from msgspec.structs import replace
from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.base import PourBench
from homunculus.app.benches.cure.chart import AIR_FOOT, AIR_TOP, FOOT, Chart
from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Handle
from homunculus.app.files import ask_to_read
from homunculus.app.temperature_files import take_in_temperatures
from homunculus.app.theme.ink import Ink
from homunculus.core.cure.clock import book_c
from homunculus.core.cure.curve import OVEN_FROM_C, START_STEP_MIN, WhatIf
from homunculus.core.plan.build_plan import PlannedPour
from homunculus.core.plan.cautions import step_cautions
from homunculus.core.plan.course import CureCourse
from homunculus.core.plan.memory import Last
from homunculus.core.plan.status import Promise, promise
from homunculus.core.quantities import parse, parse_hour
from homunculus.core.showing import Shown, show, show_clock, show_day, show_moment
from homunculus.core.why import phrase
from homunculus.exchange.formats import offered

TABLE = 434.0


class CureBench(PourBench):
    """The bench of station 6."""

    @property
    def least_height(self) -> int:  # type: ignore[override]
        """Taller where the last promise is told beside the cautions."""
        return 650 if self._promised() else 610

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Cure bench")
        self.what_if = WhatIf()
        self._course: Last[CureCourse | None] = Last()
        self._grip = (0.0, 0.0)
        self._per_px = 0.1
        self._for = ""

    # ------------------------------------------------------------------------------------ course
    def course(self) -> CureCourse | None:
        """What is drawn: the pour in the mould or, before it, the planned one; none where nothing cures."""
        pour = self.pour()
        if pour is None:
            return None
        whose = f"{self.desk.chosen}/{pour.piece}/{pour.op}"
        if self._for != whose:
            self._for, self.what_if = whose, WhatIf()
        desk = self.desk
        return self._course.get(
            (pour, desk.status, desk.build_plan, self.what_if),
            lambda: CureCourse.of(desk.job, desk.build_plan, desk.status, desk.book, pour, self.what_if),
        )

    def _why_nothing(self) -> str:
        """Why there is no course to draw: what is in the way of the plan, where something is."""
        stopped = next(
            (m for m in self.desk.build_plan.minds if m.level == "danger" and m.station in ("cure", "mix", "mould")),
            None,
        )
        if stopped:
            system, currency = self.desk.system, self.desk.job.shop.currency
            return f"{phrase(stopped.headline, system, currency)}. {phrase(stopped.why, system, currency)}"
        return "What it is poured of has no cure time on its card, or how much it takes is not known yet."

    def chart(self, course: CureCourse) -> Chart:
        """The drawing of a course as it lies now."""
        return Chart(self.desk, course, self.what_if, self.width())

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        course = self.course()
        if self.pour() is None:
            self.nothing_spots()
            return
        self.piece_spots("cure")
        self.pour_spots(self.width() - 240)
        self.spots.place(
            "csv",
            QRectF(self.width() - 214, TABLE + 4, 206, 34),
            "take in a logger's temperatures, CSV",
            self.choose_csv,
        )
        pour = self.pour()
        if course is None or pour is None:
            return
        self._lay_cautions(course, pour)
        for index, figure in enumerate(course.figures):
            self.figure_spot(figure, QRectF(12 + index * 230, 46, 222, 52))
        tried = self.what_if
        if not course.poured:
            start = tried.start or course.start
            x = self.chart(course).x_of(start)
            self.spots.place_handle("start", QRectF(x - 22, FOOT - 22, 44, 44), f"what if it is poured {show_moment(start)}",
                                    Qt.CursorShape.SizeHorCursor, self._wire_start)  # fmt: skip
        night = self._night()
        area = QRectF(self.width() - 40, self.chart(course).y_air(night) - 20, 38, 40)
        self.spots.place_handle("night", area, f"what if the nights had {self._shown_c(night)}",
                                Qt.CursorShape.SizeVerCursor, self._wire_night)  # fmt: skip
        oven = QRectF(self.width() - 214, TABLE + 44, 206, 40)
        words = self._shown_c(tried.oven_c) if tried.oven_c is not None else "off"
        self.spots.place_handle("oven", oven, f"what if it went into an oven, now {words}", Qt.CursorShape.SizeVerCursor,
                                self._wire_oven)  # fmt: skip
        if tried.any:
            self.spots.place(
                "drop", QRectF(self.width() - 214, 102, 206, 40), "Delete: back to what is planned", self.drop
            )
            if tried.night_c is not None:
                self.spots.place(
                    "keep",
                    QRectF(self.width() - 214, TABLE + 88, 206, 24),
                    "keep this night for the shop",
                    self.keep_night,
                )

    def _night(self) -> float:
        return self.desk.job.shop.air.night_c if self.what_if.night_c is None else self.what_if.night_c

    def _shown_c(self, celsius: float) -> Shown:
        return show(celsius, "temperature", self.desk.system)

    # ------------------------------------------------------------------------------------ what if
    def try_out(self, what_if: WhatIf) -> None:
        """Try something out; nothing of the job changes."""
        self.what_if = what_if
        self.refresh()

    def drop(self) -> None:
        """Go back to what is planned."""
        self.try_out(WhatIf())

    def keep_night(self) -> None:
        """Make the tried night the shop's."""
        if self.what_if.night_c is not None:
            self.desk.decide(self.desk.decision("shop.night_c"), self.what_if.night_c)
            self.try_out(replace(self.what_if, night_c=None))

    def _wire_start(self, handle: Handle) -> None:
        def pull(at: QPointF) -> None:
            course = self.course()
            if course:
                if math.isnan(self._grip[0]):
                    self._grip = (at.x(), course.shift_min)
                moved = (at.x() - self._grip[0]) / self.chart(course).px_per_s() / 60
                self._start_at(course, self._grip[1] + moved)

        def step(steps: int) -> None:
            course = self.course()
            if course:
                self._start_at(course, course.shift_min + steps * START_STEP_MIN)

        self._wire_tried(handle, pull, step, self.type_start)

    def _wire_tried(
        self,
        handle: Handle,
        pull: Callable[[QPointF], None],
        step: Callable[[int], None],
        typing: Callable[[str], None],
    ) -> None:
        def grasp() -> None:
            self._grip = (math.nan, 0.0)
            self.desk.grasp()

        handle.pressed.connect(grasp)
        handle.dragged.connect(pull)
        handle.released.connect(self.desk.let_go)
        handle.stepped.connect(step)
        handle.typing.connect(typing)

    def _start_at(self, course: CureCourse, shift_min: float) -> None:
        self.try_out(self.what_if.shifted(course.start, shift_min))

    def _wire_night(self, handle: Handle) -> None:
        def pull(at: QPointF) -> None:
            course = self.course()
            if course:
                if math.isnan(self._grip[0]):
                    low, high = self.chart(course).degrees()
                    self._grip = (at.y(), self._night())
                    self._per_px = (high - low) / (AIR_FOOT - AIR_TOP)
                self._night_at(self._grip[1] + (self._grip[0] - at.y()) * self._per_px)

        self._wire_tried(handle, pull, lambda steps: self._night_at(self._night() + steps * 0.5), self.type_night)

    def _night_at(self, celsius: float) -> None:
        self.try_out(self.what_if.with_nights(celsius, self.desk.job.shop.air))

    def _wire_oven(self, handle: Handle) -> None:
        def pull(at: QPointF) -> None:
            if math.isnan(self._grip[0]):
                self._grip = (at.y(), self.what_if.oven_c or OVEN_FROM_C - 1)
            self._oven_at(self._grip[1] + (self._grip[0] - at.y()) / 3)

        self._wire_tried(
            handle, pull, lambda steps: self._oven_at((self.what_if.oven_c or OVEN_FROM_C - 1) + steps), self.type_oven
        )

    def _oven_at(self, celsius: float) -> None:
        """Under the oven's least it is off."""
        self.try_out(self.what_if.with_oven(celsius))

    def type_start(self, first: str = "") -> None:
        """Type the hour of the pour, as 16:00."""
        course = self.course()
        if course is None:
            return
        begin = self.what_if.start or course.start

        def accept(words: str) -> bool:
            wanted = datetime.combine(begin.date(), parse_hour(words))
            self.try_out(replace(self.what_if, start=wanted if wanted != course.start else None))
            return True

        self.type_over("the hour of the pour", "start", show_clock(begin), accept, key=first, role="on_drawing")

    def type_night(self, first: str = "") -> None:
        """Type the night's temperature."""
        now = str(self._shown_c(self._night()))
        self.type_over(
            "the night's temperature", "night", now, self._read(self._night_at), key=first, role="on_drawing"
        )

    def type_oven(self, first: str = "") -> None:
        """Type the oven's temperature."""
        now = str(self._shown_c(self.what_if.oven_c or 40.0))
        self.type_over("the oven's temperature", "oven", now, self._read(self._oven_at), key=first, role="on_drawing")

    def _read(self, take: Callable[[float], None]) -> Callable[[str], bool]:
        def accept(words: str) -> bool:
            take(parse(words, "temperature", self.desk.system))
            return True

        return accept

    def keyPressEvent(self, event: QKeyEvent) -> None:
        if event.key() == Qt.Key.Key_Delete and self.what_if.any:
            self.drop()
        elif event.key() in (Qt.Key.Key_BracketLeft, Qt.Key.Key_BracketRight):
            self.show_next_pour(1 if event.key() == Qt.Key.Key_BracketRight else -1)
        else:
            event.ignore()

    def choose_csv(self) -> None:
        """Ask for a logger's file and take its temperatures into the log."""
        path = ask_to_read(self, "A logger's temperatures", "temperatures", offered("CSV", "temperatures"))
        if path:
            take_in_temperatures(self.desk, path)

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        pour, course = self.pour(), self.course()
        if pour is None:
            self.draw_nothing(ink)
            return
        ink.text(18, 29, ink.squeezed(self._question_room(), f"When has {pour.name} set?" if pour.of != "mould" else
                                      f"When does {pour.name} open?", "bench_question"), "bench_question")  # fmt: skip
        self.draw_pieces(ink)
        self.draw_pours(ink)
        if course is None:
            ink.paragraph(18, 200, self.width() - 60, self._why_nothing(), "body", "ink2")
            return
        self._headlines(ink, course)
        self.chart(course).draw(ink)
        self._table(ink, course)
        self._beside(ink, course)

    def _headlines(self, ink: Ink, course: CureCourse) -> None:
        here = course.planned[1] if len(course.planned) > 1 else None
        opens = course.opens(course.start, course.planned)
        book = self.desk.given(here.book, "duration") if here else None
        at = self._shown_c(book_c(course.card))
        rows = (
            (Shown(f"{show_day(opens)[:3]} {show_clock(opens)}" if opens else "never", ""), ("it opens" if course.poured else "would open", show_day(opens) if opens else "too cold")),
            (show(here.here, "duration", self.desk.system) if here and math.isfinite(here.here) else Shown("∞", ""), ("in this shop", f"book {book} at {at}")),
        )  # fmt: skip
        x = 18.0
        for shown, notes in rows:
            width = ink.number(x, 86, shown, "headline", "reckon", equals=True)
            for i, line in enumerate(notes):
                ink.text(x + width + 10, 70 + 17 * i, line, "note", "ink2")
            x += width + 20 + max(ink.width(line, "note") for line in notes)
        if not course.tried:
            return
        x = self.width() - 208.0
        then = course.opens(self.what_if.start or course.start, course.trial)
        ink.text(x, 96, "what if", "note", "decide")
        shown = Shown(f"{show_day(then)[:3]} {show_clock(then)}" if then else "never", "")
        width = ink.number(x + 44, 98, shown, "after_value", "reckon", equals=True)
        moves = course.tried_later_s
        if moves is not None:
            sign = "−" if moves < 0 else "+"
            ink.text(x + 52 + width, 98, f"{sign}{show(abs(moves), 'duration')}", "label", "ink")
        ink.key(x, 122, "Del", "as planned")

    def _table(self, ink: Ink, course: CureCourse) -> None:
        """Each step of the cure: book, here, and as tried."""
        columns = (18.0, 168.0, 268.0, 400.0) if self.width() > 780 else (18.0, 108.0, 178.0, 306.0)
        heads = ("stage", f"book at {self._shown_c(book_c(course.card))}", "here", "what if")
        for x, head in zip(columns, heads[: 4 if course.tried else 3], strict=False):
            ink.text(x, TABLE + 8, head, "note", "ink2")
        ink.rule(18, TABLE + 14, self.width() - 230, TABLE + 14, "ink", 1.2)
        tried = {s.name: s for s in course.trial}
        for row, step in enumerate(course.planned):
            y = TABLE + 32 + row * 22
            ink.text(columns[0], y, step.name, "label", weight=600)
            ink.number(columns[1], y, self.desk.given(step.book, "duration"), "lane_value")
            self._step(ink, columns[2], y, course.start, step.here)
            if course.tried and step.name in tried:
                self._step(ink, columns[3], y, self.what_if.start or course.start, tried[step.name].here)
            ink.rule(18, y + 6, self.width() - 230, y + 6, "hair", 0.75)

    def _step(self, ink: Ink, x: float, y: float, start: datetime, seconds: float) -> None:
        if not math.isfinite(seconds):
            ink.text(x, y, "not in 60 days", "label", "danger")
            return
        width = ink.number(x, y, show(seconds, "duration", self.desk.system), "lane_value", "reckon", equals=True)
        ink.text(
            x + max(width, 58) + 8,
            y,
            f"{show_day(start + timedelta(seconds=seconds))[:3]} {show_clock(start + timedelta(seconds=seconds))}",
            "note",
            "ink2",
        )

    def _beside(self, ink: Ink, course: CureCourse) -> None:
        x = self.width() - 208.0
        ink.text(x, TABLE + 25, "+ a logger's temperatures", "label", "decide")
        ink.rule(x, TABLE + 30, x + ink.width("+ a logger's temperatures", "label"), TABLE + 30, "decide", 1)
        oven = self.what_if.oven_c
        if oven is None:
            ink.lozenge(x + 6, TABLE + 62, 10, hollow=True)
            ink.text(x + 18, TABLE + 66, "oven: pull up, or type", "note", "ink2")
        else:
            ink.decided(x, TABLE + 66, self._shown_c(oven), "lane_value")
            ink.text(x + 70, TABLE + 66, "oven, from the pour on", "note", "ink2")
        if self.what_if.night_c is not None:
            words = f"keep nights of {self._shown_c(self.what_if.night_c)} for the shop"
            ink.text(x, TABLE + 102, words, "note", "decide")
            ink.rule(x, TABLE + 106, x + ink.width(words, "note"), TABLE + 106, "decide", 1)
        y = self._foot_y(course)
        for line in self.setting().wrapped(self.width() - 40, self._promise_words(), "note"):
            ink.text(18, y + 2, line, "note", "ink")
            y += 15
        self.draw_cautions(ink)

    @staticmethod
    def _foot_y(course: CureCourse) -> float:
        return TABLE + max(32 + len(course.planned) * 22, 112)

    def _lay_cautions(self, course: CureCourse, pour: PlannedPour) -> None:
        """Beneath the table and what was promised last time."""
        lines = len(self.setting().wrapped(self.width() - 40, self._promise_words(), "note"))
        y = self._foot_y(course) + 15 * lines - 8
        cautions = [words for _, words in step_cautions(self.desk.job, [pour], "cure")]
        damp = [course.card.humidity] if course.card.humidity else []
        self.lay_cautions([*cautions, *damp], QRectF(16, y, self.width() - 34, self.height() - y - 4))

    def _promise_words(self) -> str:
        """What was promised when it was opened last; empty when nothing is known of that."""
        told = self._promised()
        if not told:
            return ""
        late = show(abs(told.late_s), "duration")
        way = "late" if told.late_s > 0 else "early"
        known = show(abs(told.off_s), "duration")
        return (f"Last time promised {show_moment(told.promised)}, opened {show_moment(told.opened.at)}: {late} {way}."
                f" With the nights as measured the reckoning is {known} off.")  # fmt: skip

    def _promised(self) -> Promise | None:
        pour, book = self.pour(), self.desk.book
        opened = book.last(self.desk.chosen, pour.piece, ("opened",), self.desk.now(), pour.logged_as) if pour else None
        return promise(self.desk.job, self.desk.build_plan, book, opened) if opened else None
