"""What light the shot takes: lux, stops against what the shop knows, lamps, circuits with their breakers, lamps in the model."""

from __future__ import annotations

from collections.abc import Callable
from functools import partial

from msgspec.structs import replace
from PySide6.QtCore import QRectF

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.benches.lens.taking import Taking
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.cells.lamps import LAMPS_EXAMPLE, SCREEN_EXAMPLE, parse_light, show_light
from homunculus.core.edits.decisions import replace_build
from homunculus.core.edits.sets import Hold
from homunculus.core.figures import Figure
from homunculus.core.job.lighting import ModelLamps, ModelScreen
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.planners.light import most_light

KNOWN = ("known_stop", "known_fps", "known_shutter_rad", "known_iso")
ESTIMATED = ("lm_w", "used", "volts", "breaker_a", "load", "circuits")
TOP, PITCH = 132.0, 50.0
BARS_X, BAR_H, MOST_BARS = 18.0, 15.0, 6


class LightView:
    """The bench's other side; it draws on the bench and lays its spots there.

    Parameters
    ----------
    bench
        On which it draws.
    taking
        What can be done to its set.
    hold_spot
        Lays a handle over a value of the set: what is held, where, and what is said of it.
    role
        The type of what stands large.
    """

    def __init__(
        self, bench: JobBench, taking: Taking, hold_spot: Callable[[Hold, QRectF, str], None], role: Callable[[], str]
    ) -> None:
        self.bench, self.taking, self.hold_spot, self.role = bench, taking, hold_spot, role

    # ----------------------------------------------------------------------------------- reading
    def headlines(self, found: SetPlan) -> list[tuple[Figure, str]]:
        """The figures that stand large, with what is said of each."""
        needed = most_light(found, found.shot.cameras)
        shown = [(needed[0], "for a correct exposure")] if needed else []
        for spec, words in (
            (specs.LIGHT_MORE, "against the set-up that you know"),
            (specs.LAMP_POWER, "of lamps, an estimate"),
        ):
            figure = found.find(spec)
            if figure:
                shown.append((figure, words))
        return shown

    def lights(self) -> list[ModelLamps | ModelScreen]:
        """Lamps and screens of the chosen build."""
        build = self.bench.desk.build
        found: list[ModelLamps | ModelScreen] = list(build.lamps)
        return [*found, *build.screens]

    @property
    def _bar_w(self) -> float:
        """How long a bar is: shorter where there is little width."""
        return min(190.0, self._columns()[0] - 90)

    def _columns(self) -> tuple[float, float]:
        """Where the known set-up and the estimates begin."""
        return self.bench.width() * 0.34, self.bench.width() * 0.66

    # ------------------------------------------------------------------------------------- spots
    def arrange(self, found: SetPlan, floor: float) -> None:
        """Lay the spots."""
        bench = self.bench
        third = (bench.width() - 30) / 3
        for index, (figure, _) in enumerate(self.headlines(found)):
            bench.figure_spot(figure, QRectF(12 + index * third, 46, third - 10, 54))
        for index, key in enumerate(KNOWN):
            row, column = divmod(index, 2)
            bench.decide_spot(f"shop.{key}", QRectF(self._columns()[0] - 8 + column * 112, TOP + row * PITCH, 106, 44))
        for index, key in enumerate(ESTIMATED):
            row, column = divmod(index, 2)
            bench.decide_spot(f"shop.{key}", QRectF(self._columns()[1] - 8 + column * 132, TOP + row * PITCH, 126, 44))
        for index, hold in enumerate(("filters", "lit")):
            area = QRectF(self._columns()[0] - 8 + index * 112, TOP + 2 * PITCH, 106, 44)
            self.hold_spot(hold, area, f"{self.taking.called(hold)} {self.taking.words(hold) or 'left to the program'}")
        for index, (figure, _) in enumerate(self._beside(found)):
            bench.figure_spot(figure, QRectF(BARS_X - 6, self._bars_end(found) + 4 + index * 20, self._bar_w + 40, 20))
        y = floor + 12
        for light in self.lights():
            bench.spots.place(f"light:{light.name}", QRectF(12, y, bench.width() * 0.62, 24), f"{show_light(light)}{self._said(light)}",
                              partial(self.type_light, light))  # fmt: skip
            y += 26
        bench.spots.place(
            "add-light",
            QRectF(12, y, 260, 26),
            "add lamps on the model, or a screen in it",
            partial(self.type_light, None),
        )
        cautions = bench.desk.job.cards.cautions(None, "light")
        bench.lay_cautions(
            cautions, QRectF(bench.width() * 0.66, floor + 14, bench.width() * 0.34 - 18, bench.height() - floor - 20)
        )

    def _said(self, light: ModelLamps | ModelScreen) -> str:
        return "".join(f"; {figure.spec.label} {self.bench.desk.words(figure)}" for figure in self._of(light))

    def _of(self, light: ModelLamps | ModelScreen) -> list[Figure]:
        """What is reckoned of lamps or a screen."""
        made, shot = self.bench.desk.build_plan, self.bench.breakdown.shot
        if isinstance(light, ModelLamps):
            return [
                f
                for spec in (specs.MODEL_CURRENT, specs.MODEL_POWER, specs.WIRE)
                if (f := made.find(spec, part=light.name))
            ]
        name = shot.id if shot else ""
        return [f for spec in (specs.SCREEN, specs.SCREEN_FLUX) if (f := made.find(spec, shot=name, part=light.name))]

    def type_light(self, light: ModelLamps | ModelScreen | None) -> None:
        """Type lamps or a screen; what is emptied is taken away."""
        bench = self.bench
        key = f"light:{light.name}" if light else "add-light"
        stands, hint = show_light(light) if light else "", f"{LAMPS_EXAMPLE}. {SCREEN_EXAMPLE}."
        bench.type_over("lamps or a screen", key, stands, partial(self._take, light), hint=hint)

    def _take(self, light: ModelLamps | ModelScreen | None, words: str) -> bool:
        """Put what was typed in the place of what was there."""
        desk = self.bench.desk
        build = desk.build
        lamps = tuple(one for one in build.lamps if one is not light)
        screens = tuple(one for one in build.screens if one is not light)
        name = light.name if light else "lamps"
        if words.strip():
            new = parse_light(words, desk.system)
            if new.name in {one.name for one in lamps} | {one.name for one in screens}:
                desk.said.emit(f"There is something called “{new.name}” already. Give it another name.")
                return False
            name = new.name
            lamps, screens = ((*lamps, new), screens) if isinstance(new, ModelLamps) else (lamps, (*screens, new))
        return desk.edit(
            f"{name} of {build.name}", replace_build(desk.job, replace(build, lamps=lamps, screens=screens))
        )

    def _named(self, name: str) -> ModelLamps | ModelScreen | None:
        return next((one for one in self.lights() if one.name == name), None)

    def type_named(self, name: str) -> None:
        """Type lamps or a screen anew by their name."""
        light = self._named(name)
        if light:
            self.type_light(light)

    def take_away(self, name: str) -> None:
        """Take lamps or a screen away by their name."""
        light = self._named(name)
        if light:
            self._take(light, "")

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink, found: SetPlan, floor: float) -> None:
        """Draw all but the set itself."""
        bench, desk = self.bench, self.bench.desk
        third = (bench.width() - 30) / 3
        if not self.headlines(found):
            ink.text(
                18,
                84,
                "No light is reckoned yet: say what must be sharp, and how long a frame is exposed.",
                "body",
                "danger",
            )
        for index, (figure, words) in enumerate(self.headlines(found)):
            x = 18 + index * third
            shown = desk.shown(figure)
            role = self.role()
            ink.number(
                x, 84, shown, role, "reckon", equals=True, ratio=ink.fitted(third - 24, shown, role, equals=True)
            )
            ink.text(x, 104, ink.squeezed(third - 20, words, "note"), "note", "ink2")
        ink.text(self._columns()[0], TOP - 6, "a set-up that you know", "label", weight=600)
        ink.text(self._columns()[1], TOP - 6, "estimates and circuits", "label", weight=600)
        for key in KNOWN:
            bench.draw_decided(ink, f"shop.{key}", "", "label")
        for key in ESTIMATED:
            bench.draw_decided(ink, f"shop.{key}", "", "label")
        self._holds(ink)
        self._bars(ink, found)
        for index, (figure, words) in enumerate(self._beside(found)):
            y = self._bars_end(found) + 18 + index * 20
            ink.plate(BARS_X, y - 13, self._bar_w + 40, 15)
            width = ink.number(BARS_X, y, desk.shown(figure), "label", "reckon", equals=True)
            ink.text(BARS_X + width + 8, y, words, "note", "ink2")
        self._lights(ink, floor)
        bench.draw_cautions(ink)

    def _holds(self, ink: Ink) -> None:
        """Filters, and the area that is lit."""
        bench = self.bench
        for hold, words in (("filters", "filters take"), ("lit", "lit area")):
            spot = bench.spots.find(f"hold:{hold}")
            if spot is None:
                continue
            figure = self.taking.left_to_program(hold)
            shown = bench.desk.shown(figure) if figure else self.taking.shown(hold)
            if shown:
                ink.decided(spot.x() + 8, spot.y() + 18, shown, "label", begun=figure is not None)
            ink.text(spot.x() + 8, spot.y() + 37, words, "note", "ink2")

    def _beside(self, found: SetPlan) -> list[tuple[Figure, str]]:
        words = ((specs.AMPERES, "from the mains"), (specs.WARMS, "for a degree in the closed stage"))
        return [(f, said) for spec, said in words if (f := found.find(spec))]

    def _count(self, found: SetPlan) -> int:
        figure = found.find(specs.CIRCUITS)
        return int(figure.number) if figure else 0

    def _bars_end(self, found: SetPlan) -> float:
        rows = min(max(self._count(found), 1), MOST_BARS)
        return TOP + 14 + rows * (BAR_H + 5) + (16 if self._count(found) > MOST_BARS else 0)

    def _bars(self, ink: Ink, found: SetPlan) -> None:
        """A bar a circuit, loaded alike, against its breaker and how far that is loaded for hours; those beyond what there is are danger."""
        figure, drawn = found.find(specs.CIRCUITS), found.find(specs.AMPERES)
        shop = self.bench.desk.job.shop.lighting
        width = ink.text(BARS_X, TOP - 6, "circuits", "label", weight=600)
        if figure is None or drawn is None:
            return
        ink.number(BARS_X + width + 8, TOP - 6, self.bench.desk.shown(figure), "label", "reckon", equals=True)
        count = self._count(found)
        limit = self._bar_w * shop.load
        load = self._bar_w * drawn.number / (count * shop.breaker_a)
        for index in range(min(count, MOST_BARS)):
            y = TOP + 10 + index * (BAR_H + 5)
            there = index < shop.circuits
            if there:
                ink.box(BARS_X, y, load, BAR_H, fill="reckon_t")
            else:
                ink.hatched(QRectF(BARS_X, y, load, BAR_H), "past", "danger")
            ink.box(BARS_X, y, self._bar_w, BAR_H, edge="ink2" if there else "danger")
            ink.rule(BARS_X + limit, y - 2, BARS_X + limit, y + BAR_H + 2, "ink", 2)
            if not there:
                ink.text(BARS_X + self._bar_w + 8, y + 12, "not there", "note", "danger")
        if count > MOST_BARS:
            ink.text(BARS_X, self._bars_end(found), f"and {count - MOST_BARS} more", "note", "danger")

    def _lights(self, ink: Ink, floor: float) -> None:
        """Lamps and screens of the chosen build, with what is reckoned of each."""
        bench, y = self.bench, floor + 29
        for light in self.lights():
            if bench.spots.find(f"light:{light.name}") is None or y > bench.height() - 8:
                break
            x = (
                18
                + ink.text(18, y, ink.squeezed(bench.width() * 0.3, show_light(light), "note"), "note", "decide")
                + 12
            )
            for figure in self._of(light):
                shown = bench.desk.shown(figure)
                if x + ink.number_width(shown, "label", equals=True) > bench.width() * 0.64:
                    break
                x += ink.number(x, y, shown, "label", "reckon", equals=True) + 10
            y += 26
        width = ink.text(18, y, f"+ lamps on {bench.desk.build.called}, or a screen in it", "note", "decide")
        ink.rule(18, y + 4, 18 + width, y + 4, "decide", 1)
