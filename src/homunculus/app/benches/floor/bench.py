"""How is the floor put up, and is it go? The page of one shot: as it is drawn here it is printed."""

from __future__ import annotations

from functools import partial
from pathlib import Path

from PySide6.QtCore import QRectF, Qt
from PySide6.QtWidgets import QWidget

from homunculus.app.benches.job_bench import ShotPageBench
from homunculus.app.desk import Desk
from homunculus.app.drawing.paper import HEIGHT, WIDTH
from homunculus.app.pages import Pages
from homunculus.app.theme.ink import Ink
from homunculus.core.floor.go_no_go import CheckLine, begin_again, happens_once, lines, say
from homunculus.core.job.shots import Check, Setup, Shot
from homunculus.core.showing import show_clock, show_day, show_moment
from homunculus.core.why import phrase

FIELDS = (("stands", "stands"), ("lamps", "lamps"), ("lens", "lens"), ("state", "state of the model"))
TOP, FIELD, CHECK = 104.0, 62.0, 40.0
LEFT, SPLIT = 18.0, 412.0


class FloorBench(ShotPageBench):
    """Set-up record at the left, go or no-go at the right."""

    sheet_name = "floor"

    def __init__(self, parent: QWidget, desk: Desk) -> None:
        super().__init__(parent, desk, "On the floor", self._keep_set_up)
        self.pages = Pages(desk)

    # ----------------------------------------------------------------------------------- reading
    def lines(self, shot: Shot) -> tuple[CheckLine, ...]:
        """What has to be go; nothing for a shot that can simply be done again."""
        return lines(shot, self.desk.plan) if happens_once(shot) else ()

    def shown(self, shot: Shot) -> tuple[CheckLine, ...]:
        """The lines that fit."""
        found = self.lines(shot)
        room = max(1, int((self.height() - TOP - 104) // CHECK))
        self.first = max(0, min(self.first, len(found) - room))
        return found[self.first : self.first + room]

    def content(self) -> object:
        return (self.breakdown.shot, self.desk.plan, self.first)

    # ------------------------------------------------------------------------------------- spots
    def arrange(self) -> None:
        self.sheet_spots()
        shot = self.breakdown.shot
        if shot is None:
            self.first_shot("page")
            return
        record = shot.setup or Setup()
        for index, (field, words) in enumerate(FIELDS):
            area = QRectF(LEFT - 6, TOP + index * FIELD, SPLIT - LEFT - 12, FIELD)
            said = f"{words}: {getattr(record, field) or 'not written down'}"
            self.spots.place(f"setup:{field}", area, said, lambda f=field: self.write_down(f))  # type: ignore[misc]
        y = TOP + len(FIELDS) * FIELD
        self.spots.place("picture", QRectF(LEFT - 6, y + 4, SPLIT - LEFT - 12, max(40.0, self.height() - y - 60)), "picture of the set-up",
                         self.choose_picture)  # fmt: skip
        for index, line in enumerate(self.shown(shot)):
            said = phrase(line.words, self.desk.system) + (
                f": go, {line.check.by}" if line.check.at else ": not said yet"
            )
            self.spots.place(f"check:{index}", QRectF(SPLIT + 10, TOP + index * CHECK, self.width() - SPLIT - 24, CHECK), said,
                             lambda at=line: self.tick(at))  # type: ignore[misc]  # fmt: skip
        base = self.height() - 46
        self.spots.place("add-check", QRectF(SPLIT + 10, base, 150, 40), "add a line to be said", self.add_check)
        if any(line.check.at for line in self.lines(shot)):
            self.spots.place(
                "again", QRectF(SPLIT + 168, base, 120, 40), "ask everything again, for the next take", self.again
            )
        self.spots.place(
            "pdf", QRectF(self.width() - 116, base, 104, 40), "write this page as PDF, Ctrl+P", self.choose_pdf
        )

    # -------------------------------------------------------------------------------------- acts
    def write_down(self, field: str) -> None:
        """Type a line of the set-up record."""
        shot = self.breakdown.shot
        if shot is None:
            return

        def accept(words: str) -> bool:
            self.breakdown.set_up(
                shot, **{field: " ".join(words.split())}, by=self.desk.who or (shot.setup.by if shot.setup else "")
            )
            return True

        self.type_over(dict(FIELDS)[field], f"setup:{field}", getattr(shot.setup or Setup(), field), accept)

    def tick(self, line: CheckLine) -> None:
        """Say go to a line, with a name; or take it back."""
        shot = self.breakdown.shot
        spot = self.spots.focused()
        if shot is None:
            return
        if line.check.at or self.desk.who:
            self.breakdown.check(shot, line.check, self.desk.who)
            return

        def accept(by: str) -> bool:
            self.breakdown.check(shot, line.check, by)
            return True

        over = spot.objectName() if spot else QRectF(SPLIT + 10, TOP, 300, CHECK)
        self.ask_who("who says go", over, accept)

    def add_check(self) -> None:
        """Type one more line to be said."""
        shot = self.breakdown.shot
        if shot is None:
            return

        def accept(words: str) -> bool:
            if words.strip():
                self.breakdown.put(shot, say(shot, Check(" ".join(words.split()))), "go/no-go line")
            return True

        self.type_over("what has to be said", "add-check", "", accept)

    def again(self) -> None:
        """Ask everything again before the next take."""
        shot = self.breakdown.shot
        if shot:
            self.breakdown.put(shot, begin_again(shot), "asked again")

    def _keep_set_up(self, shot: Shot, picture: str) -> None:
        """A picture belongs to the set-up record."""
        self.breakdown.set_up(shot, picture=picture)

    def choose_pdf(self) -> None:
        """Ask where to write the page of this shot, or of all shots, as PDF."""
        shot = self.breakdown.shot
        if shot is None:
            self.desk.said.emit("There is no shot to print a page of.")
            return
        self.pages.ask(self, "page", "shot", shot, self.write_pdf)

    def write_pdf(self, path: Path, shots: tuple[Shot, ...]) -> None:
        """Write the pages of ``shots`` as PDF, always in the colours for paper."""
        page = partial(self.draw_page, width=WIDTH, height=HEIGHT, on_paper=True)
        self.pages.write(path, [partial(page, shot=shot) for shot in shots])

    # ----------------------------------------------------------------------------------- drawing
    def draw(self, ink: Ink) -> None:
        self.draw_sheets(ink)
        shot = self.breakdown.shot
        if shot is None:
            ink.text(LEFT, 29, "How is the floor put up?", "bench_question")
            self.draw_empty(ink)
            return
        self.draw_page(ink, shot, self.width(), self.height(), on_paper=False)

    def draw_page(self, ink: Ink, shot: Shot, width: float, height: float, *, on_paper: bool) -> None:
        """Draw the page of a shot; on paper without what can only be pressed."""
        ink.text(
            LEFT,
            29,
            ink.squeezed((width if on_paper else 460) - 40, f"Shot {shot.id}: {shot.name}", "bench_question"),
            "bench_question",
        )
        said = [self.desk.job.name if on_paper else "", show_day(shot.day), f"{show_clock(shot.call)}", shot.unit]
        ink.text(LEFT, 50, "  ·  ".join(words for words in said if words), "note", "ink2")
        if shot.ends_as:
            ink.text(LEFT, 70, ink.squeezed(width - 36, f"Ends as: {shot.ends_as}", "label"), "label")
        ink.rule(LEFT, 80, width - LEFT, 80, "ink", 1.5)
        ink.rule(SPLIT, 80, SPLIT, height - 20, "hair", 1)
        self._record(ink, shot, height, on_paper=on_paper)
        self._go(ink, shot, width, height, on_paper=on_paper)

    def _record(self, ink: Ink, shot: Shot, height: float, *, on_paper: bool) -> None:
        record = shot.setup or Setup()
        ink.text(LEFT, 98, "Set-up record", "heading")
        if record.at:
            by = f"{record.by}, " if record.by else ""
            ink.text(SPLIT - 14, 98, f"{by}{show_moment(record.at)}", "note", "ink2", "right")
        for index, (field, words) in enumerate(FIELDS):
            y = TOP + index * FIELD
            ink.text(LEFT, y + 18, words, "note", "ink2")
            value = getattr(record, field)
            if value:
                ink.paragraph(LEFT + 110, y + 18, SPLIT - LEFT - 130, value, "label", "ink", 2)
            elif not on_paper:
                ink.text(LEFT + 110, y + 18, "not written down", "note", "ink2")
            ink.rule(LEFT, y + FIELD - 2, SPLIT - 14, y + FIELD - 2, "hair", 0.75)
        self._picture(ink, record, QRectF(LEFT, TOP + len(FIELDS) * FIELD + 10, SPLIT - LEFT - 14, height - TOP - len(FIELDS) * FIELD - 40),
                      on_paper=on_paper)  # fmt: skip

    def _picture(self, ink: Ink, record: Setup, room: QRectF, *, on_paper: bool) -> None:
        if not record.picture:
            if not on_paper:
                ink.painter.setPen(ink.pen("line", 1.2, "planned"))
                ink.painter.setBrush(Qt.BrushStyle.NoBrush)
                ink.painter.drawRect(room)
                ink.text(
                    room.center().x(), room.center().y(), "No picture yet: A chooses one", "note", "ink2", "centre"
                )
            return
        photo = self.desk.pictures.pixmap(record.picture)
        if photo.isNull():
            ink.text(LEFT, room.top() + 16, "The picture is no longer in the job folder.", "note", "mind")
            return
        scale = min(room.width() / photo.width(), room.height() / photo.height())
        target = QRectF(room.left(), room.top(), photo.width() * scale, photo.height() * scale)
        ink.painter.drawPixmap(target, photo, QRectF(photo.rect()))

    def _go(self, ink: Ink, shot: Shot, width: float, height: float, *, on_paper: bool) -> None:
        x, right = SPLIT + 16, width - LEFT
        found = self.lines(shot)
        ink.text(x, 98, "Go or no-go", "heading")
        if not found:
            ink.paragraph(x, TOP + 18, right - x, "This shot can be done again, so nothing has to be said. A line that is added makes a list.", "note",
                          "ink2")  # fmt: skip
        else:
            left = sum(1 for line in found if not line.check.at)
            words, colour = ("go", "reckon") if not left else (f"no-go: {left} not said", "danger")
            ink.text(right, 98, words, "label", colour, "right", 600)
        for index, line in enumerate(found if on_paper else self.shown(shot)):
            y = TOP + index * CHECK
            if y + CHECK > height - (100 if not on_paper else 70):
                break
            self._line(ink, line, x, y, right)
        y = height - 88.0 if not on_paper else height - 58.0
        for caution in self.desk.job.cards.cautions(None, "take") if found else ():
            ink.tag(x - 4, y - 11, "mind")
            ink.paragraph(x + 22, y, right - x - 22, caution, "note", "ink", 3)
        if not on_paper:
            base = height - 20
            ink.rule(x, base + 5, x + ink.text(x, base, "add a line", "label"), base + 5, "ink", 1)
            if self.spots.find("again"):
                ink.rule(x + 158, base + 5, x + 158 + ink.text(x + 158, base, "ask again", "label"), base + 5, "ink", 1)
            ink.rule(right - ink.width("write PDF", "label"), base + 5, right, base + 5, "ink", 1)
            ink.text(right, base, "write PDF", "label", "ink", "right")

    def _line(self, ink: Ink, line: CheckLine, x: float, y: float, right: float) -> None:
        ink.box(x, y + 8, 16, 16, edge="ink", width=1.6)
        if line.check.at:
            ink.box(x + 4, y + 12, 8, 8, fill="ink")
            who = f"{line.check.by} {show_clock(line.check.at)}".strip()
            ink.text(right, y + 21, who, "tick", "ink2", "right")
            right -= ink.width(who, "tick") + 8
        words = phrase(line.words, self.desk.system, self.desk.job.shop.currency)
        for row, part in enumerate(ink.within(right - x - 28, words, "label", 2)):
            ink.text(x + 28, y + (21 if row == 0 else 36), part, "label")
