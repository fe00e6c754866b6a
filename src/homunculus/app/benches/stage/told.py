"""What the stage bench tells beside its drawings: how far the camera may go, tables, air, cautions, and what stands nowhere yet."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF

from homunculus.app.benches.stage.floor_view import LOUPE_PX, FloorView, draw_loupe, zone_boxes
from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting
from homunculus.core import specs
from homunculus.core.figures import Figure
from homunculus.core.plan.cautions import set_cautions
from homunculus.core.plan.set_plan import Plane
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.showing import Shown
from homunculus.core.why import phrase


class Told:
    """Lays and draws what is told of one stage: of a chosen thing its tables, of the stage its air.

    Parameters
    ----------
    desk
        Shows figures as people want them.
    stage
        What is told of.
    plane
        The chosen thing, if any.
    picture
        Beneath which it is told.
    top, bottom
        Where the notes begin, and where the drawing ends [px].
    """

    def __init__(
        self, desk: Desk, stage: StagePlan, plane: Plane | None, picture: QRectF, top: float, bottom: float
    ) -> None:
        self.desk, self.stage, self.plane = desk, stage, plane
        self.picture, self.top, self.bottom = picture, top, bottom

    def notes(self) -> list[tuple[str, Figure]]:
        """What is told beneath the rows."""
        stage, plane = self.stage, self.plane
        found: list[tuple[str, Figure | None]] = []
        if plane:
            found += [("tables", stage.find(specs.TABLES, use=plane.name)), ("each bears", stage.find(specs.TABLE_LOAD, use=plane.name)),
                      ("pairs of hands", stage.find(specs.HANDS_AROUND, use=plane.name))]  # fmt: skip
        found += [
            ("sight on the stage", stage.find(specs.SIGHT)),
            ("carbon dioxide", stage.find(specs.CARBON_DIOXIDE)),
            ("at its limit after", stage.find(specs.ICE_TIME)),
        ]
        return [(words, figure) for words, figure in found if figure]

    def laid(self, setting: Setting) -> list[tuple[str, Figure, QPointF]]:
        """The notes with where each begins, broken into lines as a ``setting`` measures them, as far as there is room."""
        picture = self.picture
        x, y = picture.left(), self.top + 20
        found: list[tuple[str, Figure, QPointF]] = []
        for words, figure in self.notes():
            wide = (
                setting.width(words, "note") + setting.number_width(self.desk.shown(figure), "note", equals=True) + 18
            )
            if x + wide > picture.right() and x > picture.left():
                x, y = picture.left(), y + 19
            if y > self.bottom - 36:
                break
            found.append((words, figure, QPointF(x, y)))
            x += wide
        return found

    def draw_zone(self, ink: Ink, view: FloorView, passes: QRectF | None) -> None:
        """Draw how far the camera may go, and where it is decided how many pixels pass, if that is in sight."""
        stage = self.stage
        left, boxes = view.area.left(), zone_boxes(stage)
        ink.text(left, 64, "The camera may go", "note", "ink2")
        side = stage.find(specs.FREE_SIDEWAYS, camera=stage.camera.name)
        if side is None or not boxes:
            ink.text(left, 84, "anywhere: all stands at one scale", "label", "reckon")
            return
        ink.number(left, 90, self._either(side), "on_drawing", "reckon", equals=True)
        if passes:
            shown, begun = self.desk.given(stage.found.context.shop.shift_px, "pixels"), self.desk.job.begun
            width = ink.decided(passes.left() + 6, 90, shown, "label", begun="shop.shift_px" in begun)
            ink.text(passes.left() + width + 22, 90, "pass", "note", "ink2")
        ink.text(left, 106, ink.squeezed(144, f"sideways: {boxes[0][0]}", "note"), "note", "ink2")
        camera = stage.camera
        radius = min(LOUPE_PX, view.plan.height() * 0.14)
        at = QPointF(left + radius + 6, view.plan.bottom() - radius - 16)
        draw_loupe(ink, at, radius, boxes, view.px, view.on_plan(-camera.back_m, camera.across_m))
        others = [box for box in boxes if box[1] > boxes[0][1] * 1.001]
        x, y = at.x() + radius + 14, at.y() - 14
        along = stage.find(specs.FREE_ALONG, camera=camera.name)
        if along:
            ink.text(
                x + ink.number(x, y, self._either(along), "label", "reckon", equals=True) + 6,
                y,
                "along",
                "note",
                "ink2",
            )
        if others:
            name, aside, _ = others[0]
            figure = stage.seen(specs.SIDEWAYS, name)
            if figure and aside:
                words = f"sideways without {boxes[0][0]},"
                ink.text(
                    x + ink.number(x, y + 19, self._either(figure), "label", "reckon", equals=True) + 6,
                    y + 19,
                    ink.squeezed(150, words, "note"),
                    "note",
                    "ink2",
                )
                ink.text(x, y + 36, ink.squeezed(200, f"until {name} tells", "note"), "note", "ink2")

    def draw(self, ink: Ink) -> None:
        """Draw the notes, and beneath them what is to be minded."""
        stage, picture, y = self.stage, self.picture, 0.0
        for before, figure, at in self.laid(ink):
            x = at.x() + ink.text(at.x(), at.y(), before, "note", "ink2") + 5
            ink.number(x, at.y(), self.desk.shown(figure), "note", "reckon", equals=True)
            y = at.y()
        y = (y or self.top) + 24
        said = [(m.level, phrase(m.headline, self.desk.system, self.desk.job.shop.currency)) for m in stage.minds] + [
            ("mind", words) for words in set_cautions(self.desk.job, stage.found.shot)
        ]
        for index, (level, words) in enumerate(said):
            lines = ink.within(picture.width() - 30, words, "note", 2)
            if y + 16 * len(lines) > self.bottom - 44:
                if y < self.bottom - 32:
                    left = len(said) - index
                    ink.text(
                        picture.left() + 26,
                        y,
                        f"and {left} more {'caution' if left == 1 else 'cautions'}: they stand on Shoot and on paper",
                        "note",
                        "ink2",
                    )
                break
            ink.tag(picture.left(), y - 11, level)
            for i, line in enumerate(lines):
                ink.text(picture.left() + 26, y + 16 * i, line, "note", "ink2")
            y += 16 * len(lines) + 8

    def draw_hands(self, ink: Ink, view: FloorView) -> None:
        """Places for hands along the long sides of the chosen thing's tables."""
        plane = self.plane
        count = self.stage.find(specs.HANDS_AROUND, use=plane.name) if plane else None
        body = next((b for b in view.bodies if plane and b.need == plane.need), None)
        if count is None or body is None or not count.number:
            return
        box = view.box(body, "plan")
        along = box.width() > box.height()
        a_side = round(count.number / 2)
        for i in range(min(a_side, 40)):
            share = (i + 0.5) / a_side
            for side in (0, 1):
                x = box.left() + share * box.width() if along else (box.left() - 7, box.right() + 7)[side]
                y = (box.top() - 7, box.bottom() + 7)[side] if along else box.top() + share * box.height()
                if view.plan.contains(x, y):
                    ink.dot(x, y, 3.0, fill="sheet", edge="ink2")

    def _either(self, figure: Figure) -> Shown:
        shown = self.desk.shown(figure)
        return Shown("±" + shown.number, shown.unit)

    def draw_foot(self, ink: Ink, hidden: int) -> None:
        """Draw what may be put there, what stands nowhere yet, and how many rows are ``hidden``."""
        stage, picture, y = self.stage, self.picture, self.bottom - 10
        width = ink.text(picture.left(), y, "+ put something there", "note", "decide")
        ink.rule(picture.left(), y + 4, picture.left() + width, y + 4, "decide", 1)
        waiting = next((n.what for n in stage.found.shot.needs if n.place is None), "")
        x = picture.left() + 164
        if waiting:
            words = ink.squeezed(picture.right() - x - (90 if hidden else 0), f"where is {waiting}?", "note")
            width = ink.text(x, y, words, "note", "decide")
            ink.rule(x, y + 4, x + width, y + 4, "decide", 1, "hidden")
        if hidden:
            ink.text(picture.right(), y, f"and {hidden} more", "note", "ink2", "right")
