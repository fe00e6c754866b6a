"""The time of a shot with its frames, and a lane for each move: where a moment lies, and how it is drawn."""

from __future__ import annotations

from PySide6.QtCore import QRectF

from homunculus.app.desk import Desk
from homunculus.app.theme.ink import Ink
from homunculus.core import specs
from homunculus.core.job.stage import Action
from homunculus.core.moving.playing import ends_of, frame_number, kind_words
from homunculus.core.plan.stage_plan import StagePlan

LANE, NAME_W = 40.0, 168.0
STEPS = (0.25, 0.5, 1, 2, 5, 10, 30, 60, 300)
"""Seconds from mark to mark."""


class Timeline:
    """Seconds on screen along an area whose top is the axis.

    Parameters
    ----------
    desk
        For the rate at which it is shown.
    stage
        Of the shot whose time it is.
    area
        Names stand at its left, above it the seconds.
    """

    def __init__(self, desk: Desk, stage: StagePlan, area: QRectF) -> None:
        self.desk, self.stage, self.area = desk, stage, area
        self.shot = stage.found.shot

    @property
    def px_per_s(self) -> float:
        """Pixels a second."""
        return (self.area.width() - NAME_W - 8) / self.shot.seconds

    def x_of(self, seconds: float) -> float:
        """Where a moment lies."""
        return self.area.left() + NAME_W + seconds * self.px_per_s

    def draw(self, ink: Ink) -> None:
        """Draw the axis: seconds, and frames where there is room for them."""
        y, base, px = self.area.top(), self.desk.job.shop.base_rate_fps, self.px_per_s
        ink.rule(self.area.left(), y, self.area.right(), y, "ink", 1.4)
        step = next((s for s in STEPS if s * px >= 46), self.shot.seconds)
        for i in range(int(self.shot.seconds / step + 1e-6) + 1):
            x = self.x_of(i * step)
            ink.rule(x, y - 6, x, y, "ink", 1.2)
            ink.text(x, y - 10, f"{i * step:g}" if i else "0 s", "note", "ink2", "centre")
        if px / base >= 3:
            frames = (self.x_of(i / base) for i in range(round(self.shot.seconds * base)))
            ink.rules([(x, y - 3, x, y) for x in frames], "ink2", 1.0)
        rate = self.stage.found.find(specs.RATE)
        on_set = f", {self.desk.words(rate)} on set" if rate else ""
        ink.text(self.area.left(), y - 10, f"{base:g} fps on screen{on_set}", "note", "ink2")

    def draw_lane(self, ink: Ink, action: Action, area: QRectF, *, mine: bool) -> None:
        """Draw one move: its name, and from when to when it goes on."""
        weight, colour = (600, "ink") if mine else (0, "ink2")
        ink.text(
            area.left(),
            area.top() + 25,
            ink.squeezed(NAME_W - 14, action.name, "label", weight),
            "label",
            colour,
            weight=weight,
        )
        x1, x2 = (self.x_of(end) for end in ends_of(action, self.shot))
        bar = QRectF(x1, area.top() + 10, max(x2 - x1, 3.0), LANE - 20)
        ink.box(bar.x(), bar.y(), bar.width(), bar.height(), "film", colour, 1.6 if mine else 1.0)
        if bar.width() > 60:
            ink.text(
                bar.x() + 12,
                area.top() + 25,
                ink.squeezed(bar.width() - 20, kind_words(action), "note"),
                "note",
                "ink2",
            )
        ink.lozenge(bar.x(), bar.center().y(), 9)
        if hasattr(action, "lasts_s"):
            ink.lozenge(bar.right(), bar.center().y(), 9, hollow=action.lasts_s is None)
        ink.rule(area.left(), area.bottom(), area.right(), area.bottom(), "line", 1)

    def draw_moment(self, ink: Ink, seconds: float, foot: float) -> None:
        """Draw the line of the moment that is shown, down to a foot, and the number of its frame."""
        x, y = self.x_of(seconds), self.area.top()
        ink.rule(x, y + 2, x, foot, "ink", 1.6, "hidden")
        words = f"frame {frame_number(seconds, self.desk.job.shop.base_rate_fps)}"
        width = ink.width(words, "note")
        left = min(max(x - width / 2, self.area.left() + NAME_W), self.area.right() - 4 - width)
        ink.plate(left, y - 40, width, 16)
        ink.text(left, y - 27, words, "note", "ink", weight=600)
