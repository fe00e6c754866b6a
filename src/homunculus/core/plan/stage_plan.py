"""The plan of a shot's stage: what is reckoned of it when somebody asks."""

from __future__ import annotations

from msgspec import Struct

from homunculus.core.figures import Figure, FigureSpec, Subject
from homunculus.core.job.sets import Camera
from homunculus.core.plan.set_plan import SetPlan
from homunculus.core.plan.sheet import Mind


class StagePlan(Struct, frozen=True, eq=False):
    """Figures of a stage as one camera sees it, beside those of its set."""

    found: SetPlan
    camera: Camera
    figures: tuple[Figure, ...]
    """Those that are not of the set."""
    index: dict[tuple[str, Subject], Figure]
    """All, those of the set too."""
    minds: tuple[Mind, ...]

    def find(self, spec: FigureSpec, **of: str) -> Figure | None:
        """Return a figure by its ``spec`` and what it is ``of`` besides the shot, or none."""
        return self.index.get((spec.name, Subject(shot=self.found.shot.id, **of)))

    def seen(self, spec: FigureSpec, plane: str) -> Figure | None:
        """Return the figure of a ``spec`` about a ``plane`` as this camera sees it, or none."""
        return self.find(spec, use=plane, camera=self.camera.name)
