"""Wait: a clock without hands."""

from __future__ import annotations

from homunculus.core.job.operations import Wait
from homunculus.core.operations.operation import OperationKind
from homunculus.core.plan.build_plan import Matter


class ByClock(OperationKind):
    """The kind."""

    data = Wait

    def matter(self, op: Wait) -> Matter:
        """Air-drying, or a time in the oven that it takes up."""
        return "oven" if "oven" in op.takes else "air_dry"
