"""Who covers what? The needs of all shots at the left, what covers them at the right, a thread from each to its cover."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainterPath, QWheelEvent
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.spot import Handle
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.needs import HINT, show_cover
from homunculus.core.job.shots import ByBuild
from homunculus.core.plan.coverage import CoveredBy, NeedRow
from homunculus.core.showing import Shown, show_day

TOP, ROW, FOOT = 140.0, 24.0, 30.0
LEFT, ID_W = 18.0, 36.0
NODE = 34.0
OTHERS: tuple[tuple[CoveredBy, str], ...] = (
    ("stock", "from stock"),
    ("people", "people called"),
    ("decision", "open decisions"),
)


class Node(NamedTuple):
    """One line at the right: a build, stock, people, decisions, or a piece that no shot sees."""

    key: str
    name: str
    note: str
    piece: str = ""


class CoverageBench(JobBench):
    """Threads. Pull the end of a loose one onto a build, or type what covers it."""

    sheet_name = "coverage"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "Who covers what")
        self.only_open = False
        self.first_node = 0
        self._pulled: tuple[NeedRow, QPointF] | None = None
        self._nodes: tuple[object, list[Node]] | None = None

    # ----------------------------------------------------------------------------------- reading
    def rows(self) -> tuple[NeedRow, ...]:
        """The needs: all, or those that nothing covers or a decision is open about."""
        covered = self.desk.plan.coverage
        if not self.only_open:
            return covered.rows
        return tuple(row for row in covered.rows if row.state in ("nothing", "decision"))

    def most(self) -> int:
        """How many needs fit."""
        return max(1, int((self.height() - TOP - FOOT) // ROW))

    def shown(self) -> tuple[NeedRow, ...]:
        """The needs that are drawn."""
        rows = self.rows()
        self.first = max(0, min(self.first, len(rows) - self.most()))
        return rows[self.first : self.first + self.most()]

    def nodes(self) -> list[Node]:
        """What may cover, by name: the builds, each followed by its pieces that no shot sees, then the rest."""
        covered = self.desk.plan.coverage
        if self._nodes is None or self._nodes[0] is not covered.never_seen:
            shots: dict[str, set[str]] = {}
            counts: dict[str, int] = {}
            for row in covered.rows:
                counts[row.state] = counts.get(row.state, 0) + 1
                if row.need and isinstance(row.need.cover, ByBuild) and row.state == "build":
                    shots.setdefault(row.need.cover.build, set()).add(row.shot.id)
            found: list[Node] = []
            unseen: dict[str, list[Node]] = {}
            for u in covered.unseen:
                node = Node(u.build.id, u.piece.name, "in no shot. Leave it out?", u.piece.id)
                unseen.setdefault(u.build.id, []).append(node)
            for build in self.desk.job.builds:
                own = shots.get(build.id, set())
                note = f"{len(own)} shots" if len(own) != 1 else "1 shot"
                if never := covered.never_seen.get(build.id):
                    note += f"; {', '.join(never)} never seen"
                found.append(Node(build.id, build.name, note if own else "in no shot. Leave it out?"))
                if own:
                    found += unseen.get(build.id, [])
            found += [Node(f"*{state}", name, str(counts[state])) for state, name in OTHERS if counts.get(state)]
            self._nodes = (covered.never_seen, found)
        return self._nodes[1]

    def most_nodes(self) -> int:
        """How many lines fit at the right."""
        return max(1, int((self.height() - TOP - FOOT) // NODE))

    def node_x(self) -> float:
        """Where the lines at the right begin."""
        return self.width() - 268.0

    def need_x(self) -> float:
        """Where the threads begin."""
        return min(330.0, self.width() * 0.42)

    def node_y(self, index: int) -> float:
        """The height of a line at the right, kept inside the drawing where it is scrolled out of it."""
        y = TOP + (index - self.first_node) * NODE + 12
        return max(TOP - 8, min(self.height() - FOOT + 4, y))

    def content(self) -> object:
        shown = tuple((row.shot.id, row.need, row.state, row.trouble) for row in self.shown())
        return (shown, self.nodes(), len(self.rows()), self.first, self.first_node, self.only_open, self.desk.chosen)

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        self.spots.place("only-open", QRectF(self.width() - 290, 92, 276, 34),
                         "show all needs" if self.only_open else "show only what is open", self.turn_only_open)  # fmt: skip
        self.spots.place("loose", QRectF(LEFT - 6, 44, 104, 66), f"{len(self.desk.plan.coverage.uncovered)} needs nobody covers: go there",
                         self.go_to_loose)  # fmt: skip
        for index, row in enumerate(self.shown()):
            area = QRectF(LEFT - 6, TOP + index * ROW, self.need_x() - LEFT + 22, ROW)
            self.spots.place_handle(f"need:{index}", area, self.said(row), Qt.CursorShape.OpenHandCursor,
                                    lambda handle, i=index: self._wire_need(handle, i))  # type: ignore[misc]  # fmt: skip
        self.first_node = max(0, min(self.first_node, len(self.nodes()) - self.most_nodes()))
        for index, node in enumerate(self.nodes()[self.first_node : self.first_node + self.most_nodes()]):
            area = QRectF(self.node_x() - 6, TOP + index * NODE - 6, self.width() - self.node_x() - 6, NODE)
            self.spots.place(f"node:{node.key}:{node.piece}", area, f"{node.name}: {node.note}",
                             lambda n=node: self.open(n))  # type: ignore[misc]  # fmt: skip

    def said(self, row: NeedRow) -> str:
        """A need in words."""
        what = row.need.what if row.need else "nothing said yet"
        cover = row.trouble or show_cover(row.need.cover if row.need else None, self.desk.job) or "nobody covers it"
        return f"shot {row.shot.id} needs {what}: {cover}"

    def _wire_need(self, handle: Handle, index: int) -> None:
        def row() -> NeedRow | None:
            shown = self.shown()
            return shown[index] if index < len(shown) else None

        def pull(at: QPointF) -> None:
            if (need := row()) and need.need:
                self._pulled = (need, at)
                self.update()

        def drop() -> None:
            pulled, self._pulled = self._pulled, None
            self.update()
            if pulled is None:
                if need := row():
                    self.breakdown.choose(need.shot.id)
                return
            if node := self.node_at(pulled[1]):
                self.drop_on(pulled[0], node)

        handle.dragged.connect(pull)
        handle.released.connect(drop)
        handle.typing.connect(lambda first: self.type_cover(index, first))
        handle.stepped.connect(lambda steps: self.walk(index, -steps))  # up is plus

    def node_at(self, at: QPointF) -> Node | None:
        """The line at the right that lies under a point."""
        for node in self.nodes():
            spot = self.spots.find(f"node:{node.key}:{node.piece}")
            if spot and spot.geometry().contains(at.toPoint()):
                return node
        return None

    # -------------------------------------------------------------------------------------- acts
    def drop_on(self, row: NeedRow, node: Node) -> None:
        """Let what the thread was pulled to cover the need."""
        if not node.key.startswith("*"):
            self.breakdown.cover(row.shot, row.index, node.key + (f"/{node.piece}" if node.piece else ""))
        else:
            words = {"*stock": "stock: ", "*people": "people: ", "*decision": "decide: "}[node.key]
            self._ask_cover(row, words)

    def type_cover(self, index: int, first: str = "") -> None:
        """Type what covers a need."""
        shown = self.shown()
        if index < len(shown):
            row = shown[index]
            self._ask_cover(row, first or show_cover(row.need.cover if row.need else None, self.desk.job), index)

    def _ask_cover(self, row: NeedRow, first: str, index: int = -1) -> None:
        self.desk.said.emit(HINT)
        at = index if index >= 0 else next((i for i, r in enumerate(self.shown()) if r == row), 0)
        area = QRectF(self.need_x() - 60, TOP + at * ROW - 6, 360, ROW)
        if row.need is None:
            self.ask(
                f"what shot {row.shot.id} needs",
                area,
                first,
                lambda words: self.breakdown.add_need(row.shot, words),
                f"need:{at}",
            )
        else:
            self.ask(f"what covers {row.need.what}", area, first,
                     lambda words: self.breakdown.cover(row.shot, row.index, words), f"need:{at}")  # fmt: skip

    def open(self, node: Node) -> None:
        """Choose a build, or leave out a piece that no shot sees."""
        if node.piece:
            self.breakdown.leave_out(node.key, node.piece)
        elif not node.key.startswith("*"):
            self.desk.choose(node.key)

    def go_to_loose(self) -> None:
        """Bring the next need that nobody covers into view."""
        rows = self.rows()
        bare = [i for i, row in enumerate(rows) if row.state == "nothing"]
        if not bare:
            self.desk.said.emit("Every need is covered.")
            return
        spot = self.spots.focused()
        name = spot.objectName() if spot else ""
        at = self.first + int(name[5:]) if name.startswith("need:") else -1
        target = next((i for i in bare if i > at), bare[0])
        if not self.first <= target < self.first + self.most():
            self.first = target - self.most() // 2
        self.refresh()
        found = self.spots.find(f"need:{target - self.first}")
        if found:
            found.setFocus()

    def walk(self, index: int, by: int) -> None:
        """Put the focus on the need so many lines on; past the edge the needs move on."""
        target = index + by
        if not 0 <= target < len(self.shown()):
            self.first += by
            self.refresh()
            target = max(0, min(target, len(self.shown()) - 1))
        found = self.spots.find(f"need:{target}")
        if found:
            found.setFocus()

    def turn_only_open(self) -> None:
        """Show only what nothing covers or a decision is open about, or all again."""
        self.only_open, self.first = not self.only_open, 0
        self.refresh()

    def wheelEvent(self, event: QWheelEvent) -> None:
        by = -2 if event.angleDelta().y() > 0 else 2
        if event.position().x() > self.node_x() - 20:
            self.first_node += by
        else:
            self.first += by
        self.refresh()

    def keyPressEvent(self, event: QKeyEvent) -> None:
        spot, key = self.spots.focused(), event.key()
        name = spot.objectName() if spot else ""
        at = int(name[5:]) if name.startswith("need:") else -1
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and at < 0:
            self.walk(-1, 1)
        elif key == Qt.Key.Key_Delete and at >= 0 and (row := self.shown()[at]).need:
            self.breakdown.cover(row.shot, row.index, "")
        else:
            event.ignore()

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_sheets(ink)
        covered = self.desk.plan.coverage
        ink.text(LEFT, 29, "Who covers what?", "bench_question")
        unseen = len(covered.unseen)
        counts = ((len(covered.uncovered), "need nobody covers", "needs nobody covers"), (len(covered.open), "open decision", "open decisions"),
                  (unseen, "part in no shot", "parts in no shot"))  # fmt: skip
        x = LEFT
        for index, (count, one, many) in enumerate(counts):
            danger = index == 0 and count
            width = ink.number(x, 84, Shown(str(count), ""), "headline", "danger" if danger else "reckon", equals=True)
            words = one if count == 1 else many
            ink.text(x + 2, 106, words, "note", "ink2")
            x += max(width, ink.width(words, "note")) + 34
        words = "show all needs" if self.only_open else "show only what is open"
        right = self.width() - 18
        ink.text(right, 116, words, "label", "ink", "right")
        ink.rule(right - ink.width(words, "label"), 121, right, 121, "ink", 1)
        ink.rule(LEFT, TOP - 10, right, TOP - 10, "ink", 1.5)
        if not covered.rows:
            ink.text(LEFT, TOP + 20, "No shot yet. Drop a list of shots here, or press B and add one.", "body", "ink2")
            return
        self._threads(ink)
        self._needs(ink)
        self._lines(ink)
        self._legend(ink)

    def _threads(self, ink: Ink) -> None:
        place = {(node.key, node.piece): index for index, node in enumerate(self.nodes())}
        painter = ink.painter
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.save()
        painter.setClipRect(QRectF(0, TOP - 10, self.width(), self.height() - TOP - FOOT + 14))
        x1, x2 = self.need_x(), self.node_x() - 10
        late: list[tuple[QPainterPath, NeedRow]] = []
        loose: list[float] = []
        for index, row in enumerate(self.shown()):
            y = TOP + index * ROW + 12
            if row.state == "nothing":
                loose.append(y)
                continue
            key = row.need.cover.build if row.need and isinstance(row.need.cover, ByBuild) else f"*{row.state}"
            y2 = self.node_y(place.get((key, ""), 0))
            path = QPainterPath(QPointF(x1, y))
            path.cubicTo(QPointF(x1 + (x2 - x1) * 0.45, y), QPointF(x1 + (x2 - x1) * 0.55, y2), QPointF(x2, y2))
            if key == self.desk.chosen:
                late.append((path, row))  # the chosen build's lie on top
                continue
            painter.setPen(ink.pen("ink2" if row.state == "decision" else "line", 1.4 if row.state == "decision" else 1.1,
                                   "planned" if row.state == "decision" else ""))  # fmt: skip
            painter.drawPath(path)
            self._end(ink, row.state, x2, y2)
        for path, row in late:
            painter.setPen(ink.pen("ink", 2.0))
            painter.drawPath(path)
            self._end(ink, row.state, x2, path.currentPosition().y())
        for y in loose:
            self._loose(ink, x1, y)
        if self._pulled:
            row, at = self._pulled
            index = next((i for i, r in enumerate(self.shown()) if r == row), 0)
            painter.setPen(ink.pen("decide", 2.0))
            painter.drawLine(QPointF(x1, TOP + index * ROW + 12), at)
            ink.lozenge(at.x(), at.y())
        painter.restore()

    @staticmethod
    def _loose(ink: Ink, x: float, y: float) -> None:
        """A thread that ends in the air, frayed."""
        ink.plate(x + 2, y - 8, 62 + ink.width("nobody", "label"), 16)
        ink.rule(x, y, x + 40, y, "danger", 2)
        ink.rules([(x + 40, y, x + 50, y - 6), (x + 40, y, x + 52, y), (x + 40, y, x + 50, y + 6)], "danger", 1.3)
        ink.text(x + 60, y + 5, "nobody", "label", "danger")

    @staticmethod
    def _end(ink: Ink, state: CoveredBy, x: float, y: float) -> None:
        """How a thread is held: by a build at a peg, from stock on a block, by people on a ring, not yet by a decision."""
        if state == "build":
            ink.dot(x, y, 3)
        elif state == "stock":
            ink.box(x - 3, y - 4, 7, 8, fill="ink2")
        elif state == "people":
            ink.dot(x, y, 3.5, fill="sheet", edge="ink2")
        else:
            ink.text(x - 2, y + 5, "?", "label", "mind")

    def _needs(self, ink: Ink) -> None:
        shot_id = ""
        for index, row in enumerate(self.shown()):
            base = TOP + index * ROW + 17
            if row.shot.id != shot_id:
                shot_id = row.shot.id
                if index:
                    ink.rule(LEFT, base - 17, self.need_x() - 12, base - 17, "hair", 0.75)
                ink.text(LEFT, base, row.shot.id, "lane_value", "ink")
            what = row.need.what if row.need else "Nothing said yet"
            own = (
                row.need is not None
                and isinstance(row.need.cover, ByBuild)
                and row.need.cover.build == self.desk.chosen
            )
            colour = "danger" if row.state == "nothing" else "ink" if own else "ink2"
            ink.text(self.need_x() - 10, base, ink.squeezed(self.need_x() - LEFT - ID_W - 14, what, "label"), "label", colour, "right",
                     600 if own else 0)  # fmt: skip

    def _lines(self, ink: Ink) -> None:
        x, right = self.node_x(), self.width() - 18
        for index, node in enumerate(self.nodes()[self.first_node : self.first_node + self.most_nodes()]):
            y = TOP + index * NODE
            bare = node.note.startswith("in no shot")
            indent = 22 if node.piece or bare else 0
            if bare:
                ink.tag(x - 2, y + 2, "mind")
            chosen = node.key == self.desk.chosen and not node.piece
            ink.text(
                x + indent,
                y + 13,
                ink.squeezed(right - x - indent, node.name, "label", 600),
                "label",
                "ink",
                weight=600 if chosen else 0,
            )
            ink.text(
                x + indent,
                y + 26,
                ink.squeezed(right - x - indent, node.note, "tick"),
                "tick",
                "mind" if bare else "ink2",
            )

    def _legend(self, ink: Ink) -> None:
        """How threads end, for those that are drawn."""
        states = {row.state for row in self.shown()}
        x, y = LEFT, self.height() - 10.0
        ink.rule(LEFT, y - 18, self.width() - 18, y - 18, "ink", 1)
        names = {
            "build": "a build",
            "stock": "stock",
            "people": "people",
            "decision": "a decision is open",
            "nothing": "nobody",
        }
        for state, words in names.items():
            if state not in states:
                continue
            if state == "nothing":
                ink.rule(x, y - 4, x + 8, y - 4, "danger", 2)
                ink.rules([(x + 8, y - 4, x + 13, y - 8), (x + 8, y - 4, x + 13, y)], "danger", 1.3)
            else:
                self._end(ink, state, x + 4, y - 4)
            x += 18 + ink.text(x + 16, y, words, "tick", "ink2") + 12
        rows = self.rows()
        if len(rows) > self.most():
            last = self.shown()[-1]
            words = f"{self.first + 1} to {self.first + len(self.shown())} of {len(rows)} needs, until {show_day(last.shot.day)}"
            ink.text(self.width() - 18, y, words, "tick", "ink2", "right")
