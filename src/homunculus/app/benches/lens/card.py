"""The camera card of a shot: one page a camera, for whoever stands behind it."""

from __future__ import annotations

import math

from PySide6.QtCore import QRectF

from homunculus.app.benches.lens.side import Side
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.figures import Figure, FigureSpec, Given
from homunculus.core.job.sets import Camera
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.planners.lens import optics_of, taken_at, verdict_of
from homunculus.core.showing import show_day, show_exposure

LEFT, ROW = 36.0, 21.0
VERDICTS = {
    "holds": "Focus holds.",
    "strained": "Focus does not hold as it is set.",
    "cannot": "No stop of this lens holds the focus.",
}


class CameraCard:
    """Draws the card of one camera of a set."""

    def __init__(self, desk: Desk, found: SetPlan, camera: Camera) -> None:
        self.desk, self.found, self.camera = desk, found, camera

    def _words(self, value: Figure | Given | None) -> str:
        if value is None:
            return ""
        return self.desk.words(value) if isinstance(value, Figure) else str(self.desk.given(value.number, value.kind))

    def rows(self) -> list[tuple[str, str]]:
        """What stands on it: what it is, and its value in words; what is not known is left out."""
        found, camera = self.found, self.camera
        body, mode, optics, taken = (
            found.context.body(camera),
            found.context.mode(camera),
            optics_of(found.context, camera),
            taken_at(found, camera),
        )

        def of(spec: FigureSpec) -> str:
            return self._words(found.find(spec, camera=camera.name))

        exposure = found.find(specs.EXPOSURE, camera=camera.name)
        shutter = str(self.desk.given(math.radians(camera.shutter_deg), "angle")) if camera.exposure_s is None else ""
        seconds = exposure.number if exposure else camera.exposure_s
        time = show_exposure(seconds) if seconds else ""
        depth = " to ".join(filter(None, (of(specs.NEAR), of(specs.FAR))))
        low = found.find(specs.AIR_FROM, camera=camera.name)
        air = (
            "nothing: diffraction alone is more"
            if low and low.notes
            else " to ".join(filter(None, (of(specs.AIR_FROM), of(specs.AIR_TO))))
        )
        rows = [
            ("body", ", ".join(filter(None, (body.name if body else "", mode.name if mode else "")))),
            ("rate", self._words(found.find(specs.RATE))), ("exposures", self._words(found.find(specs.EXPOSURES))),
            ("shutter", shutter), ("exposure", time), ("ISO", f"{camera.iso:g}"),
            ("lens", optics.card.name if optics.card else self._words(optics.focal)),
            ("stop", self._words(taken.stop) if taken else ""), ("filters", str(self.desk.given(camera.filters, "stops")) if camera.filters else ""),
            ("focus, from the eye", self._words(taken.focus) if taken else ""), ("focus, on the barrel", of(specs.BARREL)),
            ("must be sharp", depth), ("is sharp", air), ("angle, across", of(specs.ANGLE)), ("free before the lens", of(specs.CLEARANCE)),
            ("light on the set", of(specs.LIGHT)), ("eye over the floor", str(self.desk.given(camera.height_m, "length")) if camera.height_m is not None else ""),
            ("eye behind the first", str(self.desk.given(camera.back_m, "length")) if camera.back_m else ""),
            ("take on set", self._words(found.find(specs.ON_SET))),
        ]  # fmt: skip
        return [(name, words) for name, words in rows if words]

    def draw(self, ink: Ink, width: float, height: float) -> None:
        """Draw it on a page."""
        found, shot = self.found, self.found.shot
        ink.text(
            LEFT, 48, ink.squeezed(width - 260, f"Shot {shot.id}: {shot.name}", "bench_question"), "bench_question"
        )
        ink.text(width - LEFT, 48, f"camera {self.camera.name or 'A'} · {show_day(shot.day)}", "label", "ink", "right")
        verdict = verdict_of(found, self.camera.name)
        if verdict:
            ink.text(LEFT, 72, VERDICTS[verdict], "label", "ink" if verdict == "holds" else "danger")
            worst = found.find(specs.BLUR, camera=self.camera.name)
            ink.text(width - LEFT, 72, f"softest {self._words(worst)}", "label", "ink2", "right")
        rows, half = self.rows(), (width - 2 * LEFT) / 2
        per = math.ceil(len(rows) / 2)
        for index, (name, words) in enumerate(rows):
            column, row = divmod(index, per)
            x, y = LEFT + column * (half + 12), 104 + row * ROW
            ink.text(x, y, name, "note", "ink2")
            ink.text(x + half - 12, y, ink.squeezed(half - 130, words, "label"), "label", "ink", "right")
            ink.rule(x, y + 5, x + half - 12, y + 5, "hair", 0.75)
        top = 104 + per * ROW + 16
        side = Side(self.desk, found, self.camera, QRectF(LEFT, top, width - 2 * LEFT, max(80.0, height - top - 110)))
        side.above = 0.0
        taken = taken_at(found, self.camera)
        side.draw(ink, taken.focus.number if taken else None, "")
        y = side.floor + 24
        for stop in side.stops[: max(1, int((height - y - 8) // 16))]:
            blurred = f", {self.desk.words(stop.blur)} of blur" if stop.blur else ""
            held = "" if stop.held else ", in a pass of its own" if stop.alone else ", may be soft"
            ink.text(LEFT, y, f"{stop.name}: {self.desk.given(stop.at, 'length')} from the eye{held}{blurred}", "note")
            y += 16
