"""The line: seven stations in the order of the work, each with one figure and a state."""

from __future__ import annotations

from collections.abc import Mapping

from PySide6.QtCore import QRectF
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.register import OF_STATION
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Place
from homunculus.app.theme.glyphs import state_glyph
from homunculus.app.theme.ink import Ink
from homunculus.core.figures import STATIONS, Figure, Station
from homunculus.core.job.counts import unsigned
from homunculus.core.plan.build_plan import BuildPlan, Headline
from homunculus.core.plan.memory import Last
from homunculus.core.plan.status import opens_now, station_states
from homunculus.core.showing import Shown, show, show_day, show_moment, so_many, trimmed
from homunculus.core.why import phrase

FIRST_X = 220.0


class Line(Place):
    """Job name and pin at the left, then the stations."""

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Line")
        self._said: Last[dict[Station, tuple[Shown, str] | tuple[()]]] = Last()

    def pitch(self) -> float:
        """Distance from station to station."""
        return (self.width() - FIRST_X - 10) / 7

    def station_area(self, station: Station) -> QRectF:
        """Where a station stands on the line."""
        x = FIRST_X + STATIONS.index(station) * self.pitch()
        return QRectF(x - 12, 0, self.pitch() - 6, self.height())

    def arrange(self) -> None:
        made = self.desk.build_plan if self.desk.chosen else None
        self.spots.place(
            "whole", QRectF(8, 4, FIRST_X - 26, 72), f"{self.desk.job.name}: all that can be done", self._all
        )
        uncovered = len(self.desk.plan.coverage.uncovered)
        if uncovered:
            self.spots.place("uncovered", QRectF(8, 76, FIRST_X - 26, 22), f"{uncovered} need{'s' if uncovered > 1 else ''} that nobody covers",
                             lambda: self.desk.wanted.emit("coverage"))  # fmt: skip
        for number, station in enumerate(STATIONS, 1):
            said = f"{number} {OF_STATION[station].title}"
            headline = made.headline(station) if made else None
            if headline:
                said += f": {self._shown(headline)}, {self._note(headline)}"
            self.spots.place(f"station:{station}", self.station_area(station), said, lambda s=station: self.desk.go(s))  # type: ignore[misc]

    def _shown(self, headline: Headline) -> Shown:
        value, currency = headline.value, self.desk.job.shop.currency
        if isinstance(value, Figure):
            return self.desk.shown(value)
        return trimmed(show(value.value, value.kind, self.desk.system, 3, currency))

    def _note(self, headline: Headline) -> str:
        """The note beneath; what is in the mould opens when its own pour says, not when the plan had it."""
        held = unsigned(self.desk.build.signoffs) if headline.station == "mould" else ()
        if held:
            return f"held: {', '.join(held)} not signed"
        opens = opens_now(self.desk.build_plan, self.desk.status) if headline.station == "cure" else None
        if opens:
            return f"opens {show_moment(opens)}"
        return phrase(headline.note, self.desk.system, self.desk.job.shop.currency)

    def _all(self) -> None:
        spot = self.spots.find("whole")
        if spot:
            self.desk.asked_what.emit(self, spot, spot.mapToGlobal(spot.rect().bottomLeft()))

    def content(self) -> object:
        """Station by station, what is shown."""
        desk, pin = self.desk, self.desk.session.last_pin
        title = (desk.job.name, pin.number if pin else 0, desk.now().date(), desk.status.first_flag, desk.status.bench_days,
                 len(desk.plan.coverage.uncovered))  # fmt: skip
        if not desk.chosen:
            return (title,)
        made = desk.build_plan
        states = station_states(made, desk.status)
        return (title, *((self._words(made, s), states[s], s == desk.station) for s in STATIONS))

    def _words(self, made: BuildPlan, station: Station) -> tuple[Shown, str] | tuple[()]:
        """What a station shows and its note, put together once for each state of the desk."""
        said = self._said.get((made, self.desk.status, self.desk.system), dict)
        if station not in said:
            said[station] = self._compose(made, station)
        return said[station]

    def _compose(self, made: BuildPlan, station: Station) -> tuple[Shown, str] | tuple[()]:
        headline = made.headline(station)
        return (self._shown(headline), self._note(headline)) if headline else ()

    def repaint_changed(self, before: object, now: object) -> None:
        if (
            not isinstance(before, tuple)
            or not isinstance(now, tuple)
            or len(before) != len(now)
            or before[0] != now[0]
        ):
            self.update()
            return
        for station, old, new in zip(STATIONS, before[1:], now[1:], strict=True):
            if old != new:
                self.update(self.station_area(station).adjusted(-2, 0, 8, 0).toAlignedRect())

    def draw(self, ink: Ink) -> None:
        if self.touches(QRectF(0, 0, FIRST_X - 14, self.height())):
            self._title(ink)
        if not self.desk.chosen:
            return
        made, bottom = self.desk.build_plan, self.height() - 0.75
        here = self.station_area(self.desk.station)
        ink.rule(0, bottom, self.width(), bottom, "ink2", 1.5)
        ink.box(here.x(), 0, here.width(), self.height(), fill="sheet")
        for x in (here.left(), here.right()):
            ink.rule(x, 0, x, self.height(), "ink", 1.5)
        states = station_states(made, self.desk.status)
        for station in STATIONS:
            if self.touches(self.station_area(station).adjusted(0, 0, 6, 0)):
                self._station(ink, made, station, states)

    def _title(self, ink: Ink) -> None:
        desk, pin = self.desk, self.desk.session.last_pin
        ink.text(16, 25, ink.squeezed(180, desk.job.name, "bench_question"), "bench_question")
        if pin:
            painter = ink.painter
            painter.setPen(ink.pen("ink", 1.4))
            painter.setBrush(ink.theme.colour("film"))
            painter.drawEllipse(QRectF(18.5, 33.5, 6, 6))
            ink.rule(21.5, 39.5, 21.5, 45, "ink", 1.4)
            ink.text(32, 43, f"Pin {pin.number} · {show_moment(pin.at)}", "body", "ink2")
        else:
            ink.text(16, 43, "Nothing pinned yet", "body", "ink2")
        status = desk.status
        if status.first_flag:
            ink.text(16, 60, f"First flag {show_day(status.first_flag)}", "body", "ink", weight=600)
            ink.text(16, 75, f"{status.bench_days} bench days left", "body", "ink2")
        uncovered = len(desk.plan.coverage.uncovered)
        if uncovered:
            ink.tag(13, 81, "danger")
            ink.text(36, 92, f"{so_many(uncovered, 'need')} nobody covers", "body", "danger", weight=600)

    def _station(self, ink: Ink, made: BuildPlan, station: Station, states: Mapping[Station, str]) -> None:
        x, number = FIRST_X + STATIONS.index(station) * self.pitch(), STATIONS.index(station) + 1
        room = self.pitch() - 24
        width = ink.text(x, 20, str(number), "body", "ink2")
        ink.text(x + width + 4, 20, OF_STATION[station].title, "body", "ink", weight=600)
        headline = made.headline(station)
        if headline:
            shown, note = self._words(made, station) or (self._shown(headline), self._note(headline))
            ratio = ink.fitted(room - 6, shown, "station")
            here = station == self.desk.station
            if here and not isinstance(headline.value, Figure) and headline.value.decided:
                ink.decided(x, 46, shown, "station", ratio=ratio)
            else:
                ink.number(x, 50, shown, "station", ratio=ratio)
            ink.text(x, 68, ink.squeezed(room + 8, note, "note"), "note", "ink2")
        else:
            ink.text(x, 50, "–", "station", "ink2")
            ink.text(x, 67, "nothing here yet", "note", "ink2")
        state_glyph(ink, x + 1, 76, states[station])
        if number < 7:
            done = states[station] not in ("none",) and states[STATIONS[number]] != "none"
            ink.rule(x + 20, 84, x + self.pitch() - 6, 84, "ink", 2.0 if done else 1.2, "" if done else "planned")
