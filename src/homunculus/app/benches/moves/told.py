"""What is told of a move beside the camera's picture: its figures, what of them is refused, and what is to be minded."""

from __future__ import annotations

from PySide6.QtCore import QPointF, QRectF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.figures import Figure
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Action
from homunculus.core.moving.playing import kind_words
from homunculus.core.plan.cautions import set_cautions
from homunculus.core.plan.sheet import Mind
from homunculus.core.why import phrase

FIGURE_H = 25.0
SHOWN = (
    specs.MOVE_SPEED, specs.MOVE_STEP, specs.MOVE_TIME, specs.PULL, specs.PULL_ALLOWED, specs.LEAST_RUN_UP, specs.STEADY_PULL, specs.ACCELERATION, specs.TRACK,
    specs.SWING, specs.SWING_SCREEN, specs.SWING_LEFT, specs.CUE_TIME, specs.CUE_GAP, specs.CUE_FRAMES, specs.CUE_READS,
    specs.DROP_HEIGHT, specs.DROP_TIME, specs.DROP_SPEED, specs.DROP_SCREEN, specs.CREST, specs.CREST_TIME, specs.CREST_READS,
    specs.SINKS, specs.SINKS_SCREEN, specs.FEED, specs.IN_THE_AIR, specs.MOVE_FRAMES, specs.CAMERA_WAY, specs.CAMERA_SPEED, specs.CAMERA_READS,
)  # fmt: skip


class Told:
    """Lays and draws what is told of the chosen move.

    Parameters
    ----------
    desk
        Has the plan, and shows figures as people want them.
    shot, action
        Of which shot, and of which of its moves, if there is one.
    picture
        Beside which it is told.
    width
        How wide the drawing is [px].
    """

    def __init__(self, desk: Desk, shot: Shot, action: Action | None, picture: QRectF, width: float) -> None:
        self.desk, self.shot, self.action = desk, shot, action
        self.picture, self.width = picture, width

    def figures(self) -> list[Figure]:
        """What is reckoned of the chosen move, in the order in which it is told."""
        shot, action = self.shot, self.action
        if action is None:
            return []
        plan, build = self.desk.plan, getattr(action, "build", "")
        at_hand = plan.build(build) if build and any(b.id == build for b in self.desk.job.cast) else None
        own = plan.sets[shot.id]
        found = [
            (at_hand.find(spec, shot=shot.id, move=action.name) if at_hand else None)
            or own.find(spec, move=action.name)
            for spec in SHOWN
        ]
        return [figure for figure in found if figure]

    def minds(self) -> list[Mind]:
        """What is to be minded of the moves of this shot, of the chosen one first."""
        shot, plan = self.shot, self.desk.plan
        builds = [plan.build(b) for b in shot.builds if any(c.id == b for c in self.desk.job.cast)]
        said = [*plan.sets[shot.id].minds, *(m for made in builds for m in made.minds if m.subject.shot == shot.id)]
        mine = self.action.name if self.action else ""
        return sorted((m for m in dict.fromkeys(said) if m.subject.move), key=lambda m: m.subject.move != mine)

    def laid(self) -> list[tuple[Figure, QPointF]]:
        """The figures with where each begins, as far as there is room beside the picture."""
        picture = self.picture
        x, y = picture.right() + 22, picture.top() + 40
        room = int((picture.bottom() - y + 12) // FIGURE_H)
        return [(figure, QPointF(x, y + i * FIGURE_H)) for i, figure in enumerate(self.figures()[:room])]

    def draw(self, ink: Ink) -> None:
        """Draw the figures, what is refused among them in red, and beneath them what is to be minded."""
        action, picture = self.action, self.picture
        x = picture.right() + 22
        if action is None:
            ink.paragraph(
                x,
                picture.top() + 20,
                self.width - x - 18,
                "Nothing moves yet. Take one of the words at the foot: it opens a line to type over.",
                "body",
                "ink2",
                4,
            )
            return
        ink.text(
            x,
            picture.top() + 16,
            ink.squeezed(self.width - x - 18, f"{kind_words(action)}: {action.name}", "label", 600),
            "label",
            weight=600,
        )
        refused = [part for mind in self.minds() if mind.level == "danger" for part in mind.headline]
        for figure, at in self.laid():
            ink.text(at.x(), at.y(), ink.squeezed(self.width - at.x() - 130, figure.spec.label, "note"), "note", "ink2")
            ink.number(
                self.width - 22,
                at.y(),
                self.desk.shown(figure),
                "label",
                "danger" if figure in refused else "reckon",
                "right",
                equals=True,
            )
        self._cautions(ink, x)

    def _cautions(self, ink: Ink, x: float) -> None:
        """The first thing to mind, else the first caution: there is one line for it beneath the figures; all stand in the ledger."""
        picture = self.picture
        y = picture.top() + 40 + len(self.laid()) * FIGURE_H + 2
        said = [(m.level, phrase(m.headline, self.desk.system)) for m in self.minds()]
        said += [("mind", words) for words in set_cautions(self.desk.job, self.shot)]
        for level, words in said:
            lines = ink.within(self.width - x - 46, words, "note", 3)
            if y + 16 * len(lines) > picture.bottom() + 4:
                break
            ink.tag(x, y - 10, level)
            for i, line in enumerate(lines):
                ink.text(x + 26, y + 2 + 16 * i, line, "note", "danger" if level == "danger" else "ink2")
            y += 16 * len(lines) + 10
