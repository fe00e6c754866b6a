"""How a new build begins: what kind of thing it is, how big it really is, at which scale; handles live at once."""

from __future__ import annotations

from functools import partial

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent

from homunculus.app.benches.base import Bench
from homunculus.app.benches.made.acts import Acts
from homunculus.app.benches.made.begin_view import SIDES, Beginning, BeginView
from homunculus.app.drawing.spot import Handle
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.builds import BEGINS
from homunculus.core.edits.builds import build_begun
from homunculus.core.errors import UserError
from homunculus.core.form.stretch import nice_step
from homunculus.core.quantities import parse, parse_scale


class NewBuild:
    """The build that begins on a bench, where one does.

    Parameters
    ----------
    bench
        On which it is drawn and taken hold of.
    acts
        What there is to take from.
    """

    def __init__(self, bench: Bench, acts: Acts) -> None:
        self.bench, self.desk, self.spots, self.acts = bench, bench.desk, bench.spots, acts
        self.beginning: Beginning | None = None
        self._beside = ""
        """The build that was looked at when one began: who looks at another has left the beginning."""

    def begin(self) -> None:
        """A new build begins."""
        self.beginning, self._beside = Beginning(self.acts.shelf), self.desk.chosen
        self.bench.again()
        spot = self.spots.find(f"kind:{self.beginning.at}")
        if spot:
            spot.setFocus()

    def enter(self) -> None:
        """The bench is shown: nothing begins, unless there is no build yet."""
        self.beginning, self._beside = None if self.desk.chosen else Beginning(self.acts.shelf), self.desk.chosen

    def content(self) -> object:
        """What its drawing depends on. Where another build is looked at by now it is left; where the last one went, one begins."""
        if self.beginning and self.desk.chosen != self._beside:
            self.beginning = None
        if not self.desk.chosen and self.beginning is None:
            self.enter()
        now = self.beginning
        return (now.at, now.name, now.sizes, now.scale, tuple(now.said), now.struck) if now else None

    def view(self) -> BeginView:
        """What is said of the new build, laid out."""
        assert self.beginning
        return BeginView(self.beginning, self.bench.width(), self.bench.height())

    def arrange(self, now: Beginning) -> None:
        """Lay its spots."""
        view = self.view()
        for i, kind in enumerate(now.kinds):
            handle = self.spots.place(
                f"kind:{i}", view.kind_area(i), f"{kind.name}: {kind.says}", partial(self._kind, i)
            )
            handle.entered = self.type_name
        for side, at in view.handles().items():
            shown = self.desk.given(now.sizes[side], "length")
            cursor = Qt.CursorShape.SizeVerCursor if side == 2 else Qt.CursorShape.SizeHorCursor
            self.spots.place_handle(f"begin:{side}", QRectF(at.x() - 20, at.y() - 20, 40, 40), f"{SIDES[side]}, {shown} real", cursor,
                                    partial(self._wire, side))  # fmt: skip
            self.spots.place(
                f"begin-value:{side}",
                view.value_area(side),
                f"type how {SIDES[side]} it really is, {shown}",
                partial(self._type_size, side),
            )
        self.spots.place("begin-name", view.name_area(), f"name: {now.name or 'none yet'}", self.type_name)
        self.spots.place(
            "begin-scale", view.scale_area(), f"built at {self.desk.given(now.scale, 'scale')}", self._type_scale
        )
        for name, area in view.brought(self.bench.setting()):
            said = f"{name}: {'struck, press takes it' if name in now.struck else 'comes with it, press strikes it'}"
            self.spots.place(f"brings:{name}", area, said, partial(self._strike, name))
        self.spots.place("begin-it", view.begin_area(), "begin it", self._begin_it)

    def _kind(self, index: int) -> None:
        if self.beginning:
            self.beginning.choose(index)
            self.bench.again()

    def _strike(self, name: str) -> None:
        if self.beginning:
            self.beginning.strike(name)
            self.bench.again()

    def _wire(self, side: int, handle: Handle) -> None:
        held: list[tuple[float, float, float]] = []

        def pull(at: QPointF) -> None:
            now = self.beginning
            if now is None:
                return
            here = -at.y() if side == 2 else at.x()
            if not held:
                held.append((here, now.sizes[side], self.view().px))
            start, size, px = held[0]
            step = nice_step(40 / px)
            now.size(side, float(f"{max(step, round((size + (here - start) / px) / step) * step):.9g}"))
            self.bench.again()

        def step(steps: int) -> None:
            now = self.beginning
            if now:
                by = nice_step(now.sizes[side])
                now.size(side, float(f"{max(by, round(now.sizes[side] / by + steps) * by):.9g}"))
                self.bench.again()

        handle.pressed.connect(held.clear)
        handle.dragged.connect(pull)
        handle.stepped.connect(step)
        handle.typing.connect(lambda first: self._type_size(side, first))

    def _type_size(self, side: int, first: str = "") -> None:
        now = self.beginning
        if now is None:
            return

        def accept(words: str) -> bool:
            now.size(side, parse(words, "length", self.desk.system))
            self.bench.again()
            return True

        what, stands = f"how {SIDES[side]} it really is", self.acts.length(now.sizes[side])
        self.bench.type_over(what, f"begin-value:{side}", stands, accept, key=first, role="on_drawing")

    def _type_scale(self) -> None:
        now = self.beginning
        if now is None:
            return

        def accept(words: str) -> bool:
            now.scale = parse_scale(words)
            now.said.add("scale")
            self.bench.again()
            return True

        self.bench.type_over(
            "its scale", "begin-scale", str(self.desk.given(now.scale, "scale")), accept, role="on_drawing"
        )

    def type_name(self) -> None:
        """Type what the new build is called; Enter goes on to begin it."""
        now = self.beginning
        if now is None:
            return

        def accept(words: str) -> bool:
            now.name = " ".join(words.split())
            self.bench.again()
            return True

        self.bench.type_over("its name", "begin-name", now.name, accept, "begin-it")

    def _begin_it(self) -> None:
        now, desk = self.beginning, self.desk
        if now is None:
            return
        if not now.name:
            self.type_name()
            return
        starts = desk.now().replace(hour=BEGINS.hour, minute=0, second=0, microsecond=0)
        try:
            job, new = build_begun(
                desk.job,
                now.kind,
                now.name,
                now.sizes,
                now.scale,
                starts,
                self.acts.shelf,
                said=frozenset({"scale"} & now.said) | ({"size"} if now.said & set(SIDES) else set()),
                without=now.struck,
            )
        except UserError as trouble:
            desk.said.emit(str(trouble))
            return
        self.beginning = None
        desk.piece_id, desk.op_id = "", None
        desk.edit(f"a new {now.kind.name}, {now.name}", job)
        desk.choose(new)
        self.bench.again()
        first = self.spots.find(f"line:{desk.build.pieces[0].id}") if desk.build.pieces else None
        if first:
            first.setFocus()
        desk.said.emit(
            f"{now.name} is begun with {len(desk.build.pieces)} piece{'' if len(desk.build.pieces) == 1 else 's'}, made the usual way. To be asked: {'; '.join(now.kind.doubts)}."
        )

    def key_pressed(self, now: Beginning, event: QKeyEvent) -> None:
        """Do what a key does while a build begins."""
        ahead = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}.get(Qt.Key(event.key()), 0)
        if ahead:
            self._kind((now.at + ahead) % len(now.kinds))
            if spot := self.spots.find(f"kind:{now.at}"):
                spot.setFocus()
        elif event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._begin_it()
        else:
            event.ignore()

    def draw(self, ink: Ink, now: Beginning) -> None:
        """Draw what is said of the new build."""
        written: dict[int, object] = {side: self.desk.given(size, "length") for side, size in enumerate(now.sizes)}
        self.view().draw(ink, written, self.desk.given(now.scale, "scale"))
