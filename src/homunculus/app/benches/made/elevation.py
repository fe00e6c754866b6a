"""The build in elevation, as built, in true proportion beside a person; its pieces are taken hold of here."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QPainterPath, QTransform

from homunculus.app.desk import Desk
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.core.job.build import Piece
from homunculus.core.plan.making import Breaks, breaks
from homunculus.core.showing import bar_lengths

BESIDE = 0.42 + 0.12
"""How much room a person takes beside a build, and the gap, as a share of how large the person is."""
AT_LEAST = 1 / 3
"""A build stands beside a person while it is drawn at least so large as it could be; else beside a bar: nothing of it could be taken hold of."""


LIFT_PX = 18.0
"""By which a piece that stands on another is lifted off it, so that their joint is seen."""
NEAR = 0.12
"""How far into a piece another may reach that still stands on it, as a share of its height."""


def levels(bounds: dict[str, QRectF]) -> dict[str, tuple[int, str]]:
    """On how many pieces one above the other each piece stands, and on which, by the ``bounds`` of all; on none where it stands on the ground."""
    found: dict[str, tuple[int, str]] = {}
    for name, box in sorted(bounds.items(), key=lambda row: -row[1].bottom()):  # from the ground up; y goes down
        beneath = [
            (found[other][0] + 1, other)
            for other, low in bounds.items()
            if other in found and box.bottom() <= low.top() + NEAR * low.height() and box.bottom() < low.bottom() - 0.3 * low.height()
            and box.left() < low.right() and low.left() < box.right()
        ]  # fmt: skip
        found[name] = max(beneath, key=lambda row: row[0], default=(0, ""))
    return found


class Elevation:
    """Geometry of the pieces in an area of the bench. Real metres along and up from the build's foot.

    Pieces that stand on others are lifted off them; ``lifted`` keeps how, while something is dragged.
    """

    def __init__(self, desk: Desk, area: QRectF, lifted: dict[str, tuple[int, str]] | None = None) -> None:
        self.desk, self.area = desk, area
        self.scale = desk.build.scale
        silhouette = desk.silhouette(desk.build)
        self.paths = silhouette.paths
        bounds = silhouette.bounds
        wide, high = bounds.width(), max(-bounds.top(), bounds.height())
        if bounds.isEmpty():  # of nothing yet: room for something as high as a person
            wide = high = PERSON_M * self.scale
        self.lifted = (
            levels({piece.id: path.boundingRect() for piece, path in self.paths}) if lifted is None else lifted
        )
        lift = LIFT_PX * max((level for level, _ in self.lifted.values()), default=0)

        def pixels(person: float) -> float:
            """Pixels for a real metre, beside a person so large."""
            tall = max(high, person)
            return min((area.height() - 26 - lift) / tall, (area.width() - 60) / (wide + BESIDE * person))

        self.person = pixels(PERSON_M * self.scale) >= AT_LEAST * pixels(0.0)
        person = PERSON_M * self.scale if self.person else 0.0
        beside = BESIDE * person
        self.px = pixels(person)
        """Pixels for a real metre."""
        self.ground = area.bottom()
        self.person_x = area.left() + 0.22 * person * self.px
        room = area.right() - area.left() - 60 - (wide + beside) * self.px
        self.left = area.left() + 30 + beside * self.px + max(0.0, room / 2) - bounds.left() * self.px
        """Where the middle of the build's foot lies."""
        self._outlines: dict[str, QPainterPath] = {}

    def lift(self, piece: str) -> float:
        """By how many pixels a piece is lifted."""
        return LIFT_PX * self.lifted.get(piece, (0, ""))[0]

    def point(self, along: float, up: float, piece: str) -> QPointF:
        """Where a place of a piece lies on the bench."""
        return QPointF(self.left + along * self.px, self.ground - self.lift(piece) - up * self.px)

    def up(self, y: float, piece: str) -> float:
        """How high above the build's foot a place of a piece lies [m, real]."""
        return (self.ground - self.lift(piece) - y) / self.px

    def outline(self, piece: Piece) -> QPainterPath:
        """The outline of a piece on the bench; empty while its form is not known."""
        known = self._outlines.get(piece.id)
        if known is None:
            path = next((path for one, path in self.paths if one.id == piece.id), QPainterPath())
            placed = QTransform(self.px, 0, 0, self.px, self.left, self.ground - self.lift(piece.id))
            known = self._outlines[piece.id] = placed.map(path)
        return known

    def draw(self, ink: Ink, chosen: str) -> None:
        """Draw ground, person and pieces: the chosen one inked, the others pencilled."""
        area = self.area
        ink.rule(area.left(), self.ground, area.right(), self.ground, "ink", 1.5)
        if self.person:
            height = PERSON_M * self.scale * self.px
            ink.painter.save()
            ink.painter.translate(self.person_x, self.ground)
            ink.painter.setPen(ink.pen("line", 1.2))
            ink.painter.setBrush(Qt.BrushStyle.NoBrush)
            ink.painter.drawPath(person_path(height))
            ink.painter.restore()
            ink.text(
                self.person_x,
                self.ground - height - 8,
                str(self.desk.given(PERSON_M, "length")),
                "note",
                "ink2",
                "centre",
            )
        else:
            self._bar(ink)
        lost = breaks(self.desk.plan.shots_of(self.desk.build.id), self.desk.build_plan)
        self._joints(ink, lost)
        self._broken(ink, lost)
        for piece, _ in sorted(self.paths, key=lambda row: row[0].id == chosen):
            here, path = piece.id == chosen, self.outline(piece)
            ink.hatched(path, *(("clay", "ink", "clay") if here else ("structure", "line", "sheet")))
            ink.painter.setPen(ink.pen("ink" if here else "line", 2.25 if here else 1.0))
            ink.painter.setBrush(Qt.BrushStyle.NoBrush)
            ink.painter.drawPath(path)

    def _joints(self, ink: Ink, lost: dict[str, Breaks]) -> None:
        """Between a piece and the one that it stands on: where they come apart; a zigzag where takes break it off."""
        boxes = {piece.id: self.outline(piece).boundingRect() for piece, _ in self.paths}
        for name, (_, under) in self.lifted.items():
            box, low = boxes.get(name, QRectF()), boxes.get(under, QRectF())
            if box.isEmpty() or low.isEmpty():
                continue
            left, right = max(box.left(), low.left()), min(box.right(), low.right())
            for x in (left, right):
                ink.rule(x, box.bottom(), x, max(box.bottom(), low.top()), "ink2", 1.0, "hidden")
            y = (box.bottom() + max(box.bottom() + 8, low.top())) / 2
            if name in lost:
                step, path = 6.0, QPainterPath(QPointF(left - 6, y))
                for i in range(1, int((right - left + 12) // step) + 1):
                    path.lineTo(left - 6 + i * step, y + (3 if i % 2 else -3))
                ink.painter.setPen(ink.pen("ink", 1.4))
                ink.painter.setBrush(Qt.BrushStyle.NoBrush)
                ink.painter.drawPath(path)
            else:
                ink.rule(left - 6, y, right + 6, y, "ink2", 1.0, "parting")

    def _broken(self, ink: Ink, told: dict[str, Breaks]) -> None:
        """What takes break stands behind the piece, pencilled, one each as far as there is room, with how many and where."""
        for piece, _ in self.paths:
            if not (lost := told.get(piece.id)) or not lost.number:
                continue
            path = self.outline(piece)
            box = path.boundingRect()
            pitch = max(5.0, min(box.width() * 0.55, 26.0))
            room = int((self.area.right() - box.right() - 6) // pitch)
            ink.painter.setPen(ink.pen("line", 1.0))
            for i in range(min(lost.number, max(0, room), 9), 0, -1):
                behind = path.translated(i * pitch, 0)
                ink.painter.fillPath(behind, ink.theme.colour("sheet"))
                ink.painter.setBrush(Qt.BrushStyle.NoBrush)
                ink.painter.drawPath(behind)
            words = f"{lost.number} break, shot {', '.join(lost.shots)}"
            ink.text(
                min(box.left(), self.area.right() - ink.width(words, "tick")), box.top() - 22, words, "tick", "ink2"
            )

    def _bar(self, ink: Ink) -> None:
        lengths = bar_lengths(self.desk.system)
        px = self.px * self.scale
        length = max((v for v in lengths if v * px < 90), default=lengths[0])
        x, y = self.area.left() + 4, self.ground - 14
        for i in range(4):
            ink.box(x + i * length * px / 4, y, length * px / 4, 5, fill="ink" if i % 2 == 0 else "sheet", edge="ink")
        ink.text(x + length * px, y - 6, str(self.desk.given(length, "length")), "tick", "ink2", "centre")
