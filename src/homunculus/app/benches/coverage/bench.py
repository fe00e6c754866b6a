"""Who covers what? The needs of all shots at the left, what covers them at the right, a thread from each to its cover."""

from __future__ import annotations

from typing import NamedTuple

from PySide6.QtCore import QPointF, QRectF, Qt
from PySide6.QtGui import QKeyEvent, QPainterPath
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import JobBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.place import Can
from homunculus.app.drawing.row_list import RowList
from homunculus.app.drawing.rows import Column, Item, Manner
from homunculus.app.theme.ink import Ink
from homunculus.core.cells.needs import HINT, show_covered
from homunculus.core.job.shots import ByBuild
from homunculus.core.plan.coverage import Coverage, CoveredBy, NeedRow
from homunculus.core.plan.memory import Last
from homunculus.core.showing import Shown, show_day, so_many

TOP, ROW, FOOT = 140.0, 24, 34.0
LEFT = 18.0
NODE = 34
NODE_W = 260.0
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
        self.needs: RowList[NeedRow] = RowList(
            self, "needs", (Column("shot", "shot", 46), Column("need", "need", 0)),
            Manner(lambda row: (row.shot.id, row.index), self._cell, self.said, self._draw_need), ROW, heads=False, pulls=True, ruled=False,
        )  # fmt: skip
        self.covers: RowList[Node] = RowList(
            self, "what covers", (Column("cover", "cover", 0),),
            Manner(lambda node: (node.key, node.piece), lambda node, _: f"{node.name}: {node.note}", lambda node: f"{node.name}: {node.note}",
                   self._draw_node), NODE, heads=False, ruled=False,
        )  # fmt: skip
        self.needs.pulled.connect(self._pull)
        self.needs.dropped.connect(self._drop)
        self.needs.acted.connect(lambda row: self.type_cover(row))
        self.needs.clicked.connect(lambda at: self.breakdown.choose(self.needs.rows.items[at.row()].shot.id))
        self.covers.clicked.connect(lambda at: self.open(self.covers.rows.items[at.row()]))
        self.covers.acted.connect(self.open)
        for rows in (self.needs, self.covers):
            rows.verticalScrollBar().valueChanged.connect(lambda _: self.update())
        self._pulled: tuple[NeedRow, QPointF] | None = None
        self._listed: object = None
        self._nodes: Last[list[Node]] = Last()

    # ----------------------------------------------------------------------------------- reading
    def rows(self) -> tuple[NeedRow, ...]:
        """The needs: all, or those that nothing covers or a decision is open about."""
        covered = self.desk.plan.coverage
        if not self.only_open:
            return covered.rows
        return tuple(row for row in covered.rows if row.state in ("nothing", "decision"))

    def shown(self) -> list[tuple[NeedRow, float]]:
        """The needs that are in sight, with the height at which each one's thread begins."""
        return in_sight(self.needs)

    def nodes(self) -> list[Node]:
        """What may cover, by name: the builds, each followed by its pieces that no shot sees, then the rest."""
        covered = self.desk.plan.coverage
        return self._nodes.get((covered.never_seen,), lambda: self._all_nodes(covered))

    def _all_nodes(self, covered: Coverage) -> list[Node]:
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
        for build in self.desk.job.cast:
            own = shots.get(build.id, set())
            note = f"{len(own)} shots" if len(own) != 1 else "1 shot"
            if never := covered.never_seen.get(build.id):
                note += f"; {', '.join(never)} never seen"
            found.append(Node(build.id, build.name, note if own else "in no shot. Leave it out?"))
            if own:
                found += unseen.get(build.id, [])
        found += [Node(f"*{state}", name, str(counts[state])) for state, name in OTHERS if counts.get(state)]
        return found

    def node_x(self) -> float:
        """Where the lines at the right begin."""
        return self.width() - NODE_W

    def need_x(self) -> float:
        """Where the threads begin."""
        return min(330.0, self.width() * 0.42)

    def content(self) -> object:
        return (self.rows(), self.nodes(), self.only_open, self.desk.chosen)

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        self.spots.place("only-open", QRectF(self.width() - 290, 92, 276, 34),
                         "show all needs" if self.only_open else "show only what is open", self.turn_only_open)  # fmt: skip
        loose = len(self.desk.plan.coverage.uncovered)
        said = f"{so_many(loose, 'need')} nobody covers: go there" if loose else "nothing is uncovered"
        self.spots.place("loose", QRectF(LEFT - 6, 44, 104, 66), said, self.go_to_loose)
        rows, high = self.rows(), round(self.height() - TOP - FOOT) + 10
        self.needs.setGeometry(8, round(TOP) - 9, round(self.need_x()) - 8, high)
        self.covers.setGeometry(round(self.node_x()) - 6, round(TOP) - 9, self.width() - round(self.node_x()) - 6, high)
        for shown in (self.needs, self.covers):
            shown.setVisible(bool(rows))
            shown.recolour(self.desk.chosen)
        if not self.desk.plan.coverage.rows:
            self.first_shot("threads", TOP + 10)
        if rows is not self._listed:
            self._listed = rows
            self.needs.put(rows)
        self.covers.put(self.nodes())

    def _cell(self, row: NeedRow, key: str) -> str:
        return row.shot.id if key == "shot" else self.said(row).partition(" needs ")[2]

    def said(self, row: NeedRow) -> str:
        """A need in words."""
        what = row.need.what if row.need else "nothing said yet"
        cover = row.trouble or (show_covered(row.need, self.desk.job) if row.need else "") or "nobody covers it"
        return f"shot {row.shot.id} needs {what}: {cover}"

    # ----------------------------------------------------------------------------------- pulling
    def _pull(self, row: NeedRow, _column: str, at: QPointF) -> None:
        if row.need is None:
            return
        self._pulled = (row, at)
        node = self.covers.at(at)
        if node:  # the hand is over it, and the thread's end hidden by it
            self.covers.choose(self.covers.rows.items.index(node))
        else:
            self.covers.clearSelection()
        self.update()

    def _drop(self, _row: NeedRow, _column: str, at: QPointF) -> None:
        pulled, self._pulled = self._pulled, None
        self.covers.clearSelection()
        self.update()
        node = self.covers.at(at)
        if pulled and node:
            self.drop_on(pulled[0], node)

    # -------------------------------------------------------------------------------------- acts
    def drop_on(self, row: NeedRow, node: Node) -> None:
        """Let what the thread was pulled to cover the need."""
        if not node.key.startswith("*"):
            self.breakdown.cover(row.shot, row.index, node.key + (f"/{node.piece}" if node.piece else ""))
        else:
            words = {"*stock": "stock: ", "*people": "people: ", "*decision": "decide: "}[node.key]
            self._ask_cover(row, words)

    def type_cover(self, row: NeedRow, first: str = "") -> None:
        """Type what covers a need."""
        self._ask_cover(row, show_covered(row.need, self.desk.job) if row.need else "", first)

    def _ask_cover(self, row: NeedRow, stands: str, key: str = "") -> None:
        at = self.needs.row_of((row.shot.id, row.index)) or 0
        self.needs.choose(at)
        y = self.needs.row_area().top()
        area = QRectF(self.need_x() - 60, y - 6, 360, ROW)
        if row.need is None:
            what = f"what shot {row.shot.id} needs"
            self.type_over(what, area, stands, lambda words: self.breakdown.add_need(row.shot, words), self.needs, key, hint=HINT)  # fmt: skip
        else:
            what = f"what covers {row.need.what}"
            self.type_over(
                what,
                area,
                stands,
                lambda words: self.breakdown.cover(row.shot, row.index, words),
                self.needs,
                key,
                hint=HINT,
            )

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
        at = self.needs.currentIndex().row() if self.needs.hasFocus() else -1
        self.needs.setFocus()
        self.needs.choose(next((i for i in bare if i > at), bare[0]))

    def turn_only_open(self) -> None:
        """Show only what nothing covers or a decision is open about, or all again."""
        self.only_open = not self.only_open
        self.refresh()
        self.needs.scrollToTop()

    def can_row(self, rows: str, item: NeedRow | Node, _column: str) -> list[Can]:
        """With a need, or with what covers."""
        if isinstance(item, Node):
            out = (
                [Can("Leave this piece out", "", lambda: self.breakdown.leave_out(item.key, item.piece))]
                if item.piece
                else []
            )
            return [Can("Look at it", "Enter", lambda: self.open(item)), *out]
        let_go = (
            [Can("Let it go", "Del", lambda: self.breakdown.cover(item.shot, item.index, ""))]
            if item.need and item.need.cover
            else []
        )
        return [Can("Type what covers it", "Enter", lambda: self.type_cover(item)), *let_go,
                Can("Look at its shot", "1", lambda: self._look_at(item))]  # fmt: skip

    def _look_at(self, row: NeedRow) -> None:
        self.breakdown.choose(row.shot.id)
        self.desk.wanted.emit("shot")

    def keyPressEvent(self, event: QKeyEvent) -> None:
        row, key = self.needs.item(), event.key()
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up) and self.rows() and not self.needs.hasFocus():
            self.needs.setFocus()
            self.needs.choose(max(0, self.needs.currentIndex().row()))
        elif key == Qt.Key.Key_Delete and row and row.need and self.needs.hasFocus():
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
            self.draw_empty(ink)
            return
        self._threads(ink)
        self._legend(ink)

    def _threads(self, ink: Ink) -> None:
        place = {(node.key, node.piece): y for node, y in in_sight(self.covers, every=True)}
        painter = ink.painter
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.save()
        painter.setClipRect(QRectF(0, TOP - 10, self.width(), self.height() - TOP - FOOT + 14))
        x1, x2 = self.need_x(), self.node_x() - 10
        late: list[tuple[QPainterPath, NeedRow]] = []
        loose: list[float] = []
        for row, y in self.shown():
            if row.state == "nothing":
                loose.append(y)
                continue
            key = row.need.cover.build if row.need and isinstance(row.need.cover, ByBuild) else f"*{row.state}"
            y2 = place.get((key, ""), TOP)
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
            start = next((y for r, y in self.shown() if r is row), TOP)
            painter.setPen(ink.pen("decide", 2.0))
            painter.drawLine(QPointF(x1, start), at)
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

    def _draw_need(self, ink: Ink, row: NeedRow, key: str, area: QRectF, above: NeedRow | None) -> None:
        base, first = area.top() + 17, above is None or above.shot.id != row.shot.id
        if first and above:
            ink.rule(
                area.left() + (10 if key == "shot" else 0),
                area.top() + 0.5,
                area.right(),
                area.top() + 0.5,
                "hair",
                0.75,
            )
        if key == "shot":
            if first:
                ink.text(area.left() + 10, base, row.shot.id, "lane_value", "ink")
            return
        own = row.need is not None and isinstance(row.need.cover, ByBuild) and row.need.cover.build == self.desk.chosen
        colour = "danger" if row.state == "nothing" else "ink" if own else "ink2"
        what = ink.squeezed(area.width() - 16, row.need.what if row.need else "Nothing said yet", "label")
        ink.text(area.right() - 10, base, what, "label", colour, "right", 600 if own else 0)

    def _draw_node(self, ink: Ink, node: Node, _key: str, area: QRectF, _above: Node | None) -> None:
        x, y, right = area.left() + 6, area.top() + 2, area.right() - 4
        bare = node.note.startswith("in no shot")
        indent = 22 if node.piece or bare else 0
        if bare:
            ink.tag(x - 2, y + 2, "mind")
        weight = 600 if node.key == self.desk.chosen and not node.piece else 0
        room = right - x - indent
        ink.text(x + indent, y + 13, ink.squeezed(room, node.name, "label", 600), "label", "ink", weight=weight)
        ink.text(x + indent, y + 26, ink.squeezed(room, node.note, "tick"), "tick", "mind" if bare else "ink2")

    def _legend(self, ink: Ink) -> None:
        """How threads end, for those that are drawn."""
        shown = self.shown()
        states = {row.state for row, _ in shown}
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
        if len(rows) > len(shown) and shown:
            first = self.needs.rowAt(0) + 1
            words = f"{first} to {first + len(shown) - 1} of {len(rows)} needs, until {show_day(shown[-1][0].shot.day)}"
            ink.text(self.width() - 18, y, words, "tick", "ink2", "right")


def in_sight(rows: RowList[Item], *, every: bool = False) -> list[tuple[Item, float]]:
    """Rows in sight, each with the height of its middle on the bench; ``every`` one, kept at the edge where it is out of it."""
    high, top = rows.viewport().height(), rows.y()
    first, last = rows.rowAt(0), rows.rowAt(high - 1)
    count = len(rows.rows.items)
    span = range(count) if every else range(max(0, first), (last if last >= 0 else count - 1) + 1)
    middles = ((rows.rows.items[i], rows.rowViewportPosition(i) + rows.row_height / 2) for i in span)
    return [(item, top + max(-2.0, min(high + 2.0, y))) for item, y in middles]
