"""What those who work for the desk ask of it: the open job, what is chosen, and the ways to change it and to speak."""

from __future__ import annotations

from datetime import datetime
from typing import TYPE_CHECKING, Any, Protocol

from homunculus.app.runner import Runner
from homunculus.core.job.build import Build
from homunculus.core.job.job import Job
from homunculus.core.log import LogEvent
from homunculus.core.plan.build_plan import BuildPlan
from homunculus.core.plan.facts import Facts
from homunculus.core.plan.freezing import Cost
from homunculus.core.plan.job_plan import Plan
from homunculus.core.quantities import System

if TYPE_CHECKING:
    from homunculus.app.to_match import ToMatch

SO_ALREADY = "So it stands already."
"""Said where what was asked for changes nothing."""


def way_back(*, changed: bool) -> str:
    """What is said behind what a file gave: U takes it back, or nothing ``changed`` and there is nothing to take back."""
    return "U takes it back." if changed else "Nothing is otherwise than before."


class Editor(Protocol):
    """The desk, as far as shots, files and meshes need it."""

    chosen: str
    system: System
    runner: Runner
    changed: Any
    """Signals: something is to be drawn anew; a sentence was said; a bench is wanted by its name."""
    said: Any
    wanted: Any

    @property
    def job(self) -> Job:
        """The job as it stands."""

    @property
    def build(self) -> Build:
        """The chosen build."""

    @property
    def plan(self) -> Plan:
        """The plan of the job."""

    @property
    def build_plan(self) -> BuildPlan:
        """The plan of the chosen build."""

    @property
    def facts(self) -> Facts:
        """What is known of meshes."""

    @property
    def cost(self) -> Cost | None:
        """What it costs to let the frozen number of the chosen build follow its count."""

    def match(self, table: ToMatch) -> None:
        """Let a person look over a table's columns."""

    def plan_of(self, job: Job) -> Plan:
        """The plan of another job that shares most with this one."""

    def shelf_moved(self) -> None:
        """The shop's shelf is another one now."""

    def undo(self) -> None:
        """Go back one change."""

    def redo(self) -> None:
        """Make it again."""

    def now(self) -> datetime:
        """The present moment."""

    def edit(self, name: str, job: Job, gesture: object = None) -> bool:
        """Make a new job the current one."""

    def enter(self, entry: LogEvent) -> LogEvent:
        """Enter something into the log."""
