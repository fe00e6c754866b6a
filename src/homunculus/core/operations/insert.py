"""Insert: another piece of the build is laid into the mould before it is filled."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.figures import Figure, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.operations import Insert
from homunculus.core.operations.operation import OperationKind, working_time
from homunculus.core.plan.build_plan import BuildSheet


class Inserting(OperationKind):
    """The kind. What it displaces is taken off the casting by :func:`homunculus.core.planners.counts.plan_castings`."""

    data = Insert
    needs_mould = True

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Insert) -> Figure | None:
        """So much for each casting."""
        if piece is None:
            return None
        return sheet.add(
            derive(specs.WORK, working_time, sheet.subject(piece.id, op=op.id), **self.inputs(sheet, piece, op))
        )
