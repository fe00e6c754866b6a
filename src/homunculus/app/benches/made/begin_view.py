"""How a new build begins: what kind of thing it is, how big it really is, at which scale. Drawn beside a person, handles live at once."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QTransform

from homunculus.app.drawing.kinds import shape_of, sign_of
from homunculus.app.drawing.person import PERSON_M, person_path
from homunculus.app.theme.ink import Ink
from homunculus.app.theme.setting import Setting
from homunculus.core.edits.builds import Sizes, piece_name, sizes_of
from homunculus.core.job.ways import KindCard, Shelf
from homunculus.core.quantities import NBSP

SIDES = ("long", "deep", "high")


def with_article(name: str) -> str:
    """A kind's ``name`` as one of them: “an animated puppet”."""
    return f"{'an' if name[:1] in 'aeiou' else 'a'} {name}"


class Beginning:
    """What is said of a new build so far; a beginning of the card where nobody has said otherwise."""

    def __init__(self, shelf: Shelf) -> None:
        self.kinds: tuple[KindCard, ...] = shelf.kinds
        self.at = 0
        self.name = ""
        self.sizes: Sizes = sizes_of(self.kind, self.kind.size_m)
        self.scale = self.kind.scale
        self.said: set[str] = set()
        """What somebody has decided: a side, the scale, the name."""
        self.struck: frozenset[str] = frozenset()
        """Names of the pieces that its kind would bring, and that it has not."""

    @property
    def kind(self) -> KindCard:
        """Of which kind it is to be."""
        return self.kinds[self.at]

    def choose(self, at: int) -> None:
        """It is of another kind; what was decided stays."""
        self.at, self.struck = at % len(self.kinds), frozenset()
        if not self.said & set(SIDES):
            self.sizes = sizes_of(self.kind, self.kind.size_m)
        if "scale" not in self.said:
            self.scale = self.kind.scale

    def strike(self, name: str) -> None:
        """Strike a piece that the kind brings, or take it after all."""
        self.struck ^= {name}

    def size(self, side: int, value: float) -> None:
        """It is so long, deep or high [m]; sides that nobody has said follow in proportion."""
        times = value / self.sizes[side]
        self.said.add(SIDES[side])
        given = [
            value if i == side else s if SIDES[i] in self.said else float(f"{s * times:.4g}")
            for i, s in enumerate(self.sizes)
        ]
        self.sizes = (given[0], given[1], given[2])


class BeginView:
    """Where its parts lie in a bench so wide and high."""

    def __init__(self, now: Beginning, width: float, height: float) -> None:
        self.now, self.width, self.height = now, width, height
        length, depth, high = now.sizes
        self.ground = height - 176.0
        tall = max(high, PERSON_M)
        gap = 0.3 * tall
        self.px = min((self.ground - 236) / tall, (width - 330) / (length + depth + gap + 0.5 * PERSON_M))
        self.person_x = 30 + 0.22 * PERSON_M * self.px
        left = 30 + 0.55 * PERSON_M * self.px + 40
        self.front = QRectF(left, self.ground - high * self.px, length * self.px, high * self.px)
        self.side = QRectF(
            self.front.right() + max(70.0, gap * self.px), self.front.top(), depth * self.px, high * self.px
        )

    def kind_area(self, index: int) -> QRectF:
        """Where a kind stands in the row of all."""
        pitch = min(96.0, (self.width - 36) / len(self.now.kinds))
        return QRectF(18 + index * pitch, 64, pitch - 6, 96)

    def handles(self) -> dict[int, QPointF]:
        """Where each side is taken hold of."""
        return {0: QPointF(self.front.right(), self.front.center().y()), 1: QPointF(self.side.right(), self.side.center().y()),
                2: QPointF(self.front.center().x(), self.front.top())}  # fmt: skip

    def value_area(self, side: int) -> QRectF:
        """Where a side's value is written."""
        at = {0: QPointF(self.front.center().x() - 50, self.ground + 12), 1: QPointF(self.side.left() - 6, self.ground + 12),
              2: QPointF(self.front.center().x() + 16, self.front.top() - 52)}[side]  # fmt: skip
        return QRectF(at.x(), at.y(), 118, 42)

    def foot(self) -> float:
        """Top of what is said beneath the ground."""
        return self.ground + 66

    def name_area(self) -> QRectF:
        """Where its name is typed."""
        return QRectF(14, self.foot(), 250, 40)

    def scale_area(self) -> QRectF:
        """Where its scale is typed."""
        return QRectF(274, self.foot(), 110, 44)

    def begin_area(self) -> QRectF:
        """What begins it."""
        return QRectF(14, self.foot() + 54, 250, 40)

    def draw(self, ink: Ink, written: dict[int, object], scale: object) -> None:
        """Draw kinds, the dashed form, and what is said of it; ``written`` has the sides in the units in use, ``scale`` likewise."""
        now = self.now
        ink.text(18, 29, "What is it, and how big is it really?", "bench_question")
        ink.text(
            18, 52, "Choose its kind, pull or type its sizes, name it. Everything can be changed later.", "body", "ink2"
        )
        for i, kind in enumerate(now.kinds):
            self._kind(ink, i, kind)
        ink.rule(18, self.ground, self.width - 18, self.ground, "ink", 1.5)
        painter = ink.painter
        painter.save()
        painter.translate(self.person_x, self.ground)
        painter.setPen(ink.pen("line", 1.2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(person_path(PERSON_M * self.px))
        painter.restore()
        for area, word in ((self.front, "front"), (self.side, "side")):
            painter.setPen(ink.pen("ink", 1.5, "hidden"))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(area)
            ink.text(
                area.left(), area.top() - 7 if word == "side" else max(area.top() - 7, 180.0), word, "note", "ink2"
            )
        shape = QTransform.fromScale(*self._stretch()).map(shape_of(now.kind.id, now.struck))
        painter.save()
        painter.translate(self.front.center().x(), self.ground)
        painter.setPen(ink.pen("ink2", 1.1))
        painter.drawPath(shape)
        painter.restore()
        for side, at in self.handles().items():
            ink.lozenge(at.x(), at.y(), 12, hollow=SIDES[side] not in now.said)
            area = self.value_area(side)
            self._value(ink, area, written[side], SIDES[side] + ", real", said=SIDES[side] in now.said)
        area = self.name_area()
        words = now.name or "what is it called?"
        width = ink.text(
            area.x() + 6,
            area.y() + 24,
            ink.squeezed(area.width() - 12, words, "label", 600),
            "label",
            "ink" if now.name else "decide",
            weight=600,
        )
        ink.rule(
            area.x() + 6,
            area.y() + 30,
            area.x() + 6 + width,
            area.y() + 30,
            "decide",
            1.5,
            "" if now.name else "hidden",
        )
        self._value(ink, self.scale_area(), scale, "built at", said="scale" in now.said)
        area = self.begin_area()
        ink.key(
            area.x() + 6,
            area.y() + 18,
            "Enter",
            f"begin {with_article(now.kind.name)}" if now.name else "name it, then begin",
        )
        self._brings(ink)

    def _stretch(self) -> tuple[float, float]:
        kind = self.now.kind
        own = sizes_of(kind, kind.size_m)
        return self.now.sizes[0] / own[0] * self.px, self.now.sizes[2] / own[2] * self.px

    @staticmethod
    def _value(ink: Ink, area: QRectF, shown: object, note: str, *, said: bool) -> None:
        words = str(shown).replace(NBSP, " ")
        width = ink.text(area.x() + 4, area.y() + 20, words, "on_drawing", "decide")
        ink.rule(
            area.x() + 4, area.y() + 26, area.x() + 8 + width, area.y() + 26, "decide", 1.5, "" if said else "hidden"
        )
        ink.lozenge(area.x() + 9 + width, area.y() + 26, hollow=not said)
        ink.text(area.x() + 4, area.y() + 41, note, "note", "ink2")

    def _kind(self, ink: Ink, index: int, kind: KindCard) -> None:
        area, here = self.kind_area(index), index == self.now.at
        box = sign_of(kind.id).boundingRect()
        k = min((area.width() - 14) / box.width(), 54 / box.height())
        path = QTransform(k, 0, 0, k, area.center().x() - box.center().x() * k, area.top() + 62 - box.bottom() * k).map(
            sign_of(kind.id)
        )
        ink.painter.fillPath(path, ink.theme.colour("ink2" if here else "edge"))
        ink.painter.setPen(ink.pen("ink" if here else "line", 1.2))
        ink.painter.setBrush(Qt.BrushStyle.NoBrush)
        ink.painter.drawPath(path)
        ink.rule(area.left() + 4, area.top() + 62, area.right() - 4, area.top() + 62, "hair", 1)
        for i, line in enumerate(ink.within(area.width(), kind.name, "note", 2, 600 if here else 0)):
            ink.text(
                area.center().x(),
                area.top() + 78 + 14 * i,
                line,
                "note",
                "ink" if here else "ink2",
                "centre",
                600 if here else 0,
            )
        if here:
            ink.ticks(area.adjusted(-2, -4, 2, 4))

    def _brings(self, ink: Ink) -> None:
        """What the kind brings, and with which doubts it begins."""
        x, y = 410.0, self.foot() + 8
        room = self.width - x - 18
        ink.text(
            x,
            y,
            ink.squeezed(room, f"{with_article(self.now.kind.name).capitalize()} brings", "label", 600),
            "label",
            weight=600,
        )
        ink.text(self.width - 18, y, "press strikes one", "tick", "ink2", "right")
        setting = Setting(ink.theme)
        for name, area in self.brought(setting):
            gone = name in self.now.struck
            width = ink.text(area.x() + 4, area.y() + 17, name, "label", "ink2" if gone else "decide")
            if gone:
                ink.rule(area.x() + 2, area.y() + 12, area.x() + width + 6, area.y() + 12, "ink2", 1.5)
            else:
                ink.rule(area.x() + 4, area.y() + 22, area.x() + 4 + width, area.y() + 22, "decide", 1.2, "hidden")
        y = self.foot() + 78
        ink.text(x, y, "To be asked", "label", weight=600)
        ink.paragraph(x, y + 18, room, "; ".join(self.now.kind.doubts) + ".", "note", most=2)

    def brought(self, setting: Setting) -> list[tuple[str, QRectF]]:
        """The pieces that the kind brings, and where each is struck or taken: two rows of them."""
        found, x, y = [], 406.0, self.foot() + 14
        for line in self.now.kind.pieces:
            name = piece_name(line)
            width = setting.width(name, "label") + 10
            if x + width > self.width - 14 and x > 406:
                x, y = 406.0, y + 25
            found.append((name, QRectF(x, y, width, 25)))
            x += width + 6
        return found
