"""Hands: work by hand, in shop hours."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.operations import Hands
from homunculus.core.operations.operation import OperationKind, surface, working_time
from homunculus.core.plan.build_plan import BuildSheet


class ByHand(OperationKind):
    """The kind."""

    data = Hands
    laid_aside = True

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Hands) -> Figure:
        """Fixed hours, hours by the square metre and by the kilogram, as often as its loop comes round."""
        inputs, whose = self.inputs(sheet, piece, op), piece.id if piece else ""
        name = piece.name if piece else sheet.context.build.name
        if op.work_s_per_m2 and (area := surface(sheet, piece)):
            inputs |= {"per_m2": Given(op.work_s_per_m2, "duration", "for each m²", name, decided=True), **area}
        mass = sheet.find(specs.ONE_CASTING, whose) if piece else sheet.find(specs.WEIGHT)
        if op.work_s_per_kg and mass:
            inputs |= {"per_kg": Given(op.work_s_per_kg, "duration", "for each kg", name, decided=True), "mass": mass}
        return sheet.add(derive(specs.WORK, working_time, sheet.subject(whose, op=op.id), **inputs))
