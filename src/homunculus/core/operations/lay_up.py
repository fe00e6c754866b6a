"""Lay up: the laminate of a jacket, whole or half by half."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.constructions.register import construction_of
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.operations import LayUp
from homunculus.core.making import moulds
from homunculus.core.operations.operation import Mixed, OperationKind, working_time
from homunculus.core.operations.pour import shared
from homunculus.core.plan.build_plan import BuildSheet


class LayingUp(OperationKind):
    """The kind."""

    data = LayUp
    worked_in = True
    needs_mould = True

    def mixed(self, piece: Piece, op: LayUp) -> Mixed | None:
        """The resin of the jacket, batch by batch: layers are wetted one after the other."""
        card = construction_of(piece.mould).laminate(piece.mould) if piece.mould else ""
        return Mixed("jacket", card, op.mixes, keyed=True) if card else None

    def mass(self, sheet: BuildSheet, piece: Piece, op: LayUp, index: int) -> Figure | None:
        """Its share of the resin of the whole jacket."""
        total = sheet.find(specs.RESIN, piece.id)
        if total is None or len(op.mixes) == 1:
            return shared(sheet, piece, op, total, "")
        mix, shares = op.mixes[index], sum(m.share for m in op.mixes)
        part = derive(specs.MIX, moulds.share_of_pour, sheet.subject(piece.id, op=op.id, mix=mix.name), total=total,
            share=Given(mix.share, "share", mix.name, piece.name, decided=True), shares=Given(shares, "share", "all shares", piece.name))  # fmt: skip
        return shared(sheet, piece, op, part, mix.name)

    def work(self, sheet: BuildSheet, piece: Piece | None, op: LayUp) -> Figure | None:
        """By the square metre of its part of the jacket, for each mould."""
        area = sheet.find(specs.JACKET_AREA, piece.id if piece else "")
        if piece is None or area is None:
            return None
        mine = derive(specs.JACKET_AREA, moulds.share_of_pour, sheet.subject(piece.id, op=op.id), total=area,
            share=Given(op.share, "share", "its share", piece.name),
            shares=Given(sum(o.share for o in piece.route if isinstance(o, LayUp)) or op.share, "share", "of all shares", piece.name))  # fmt: skip
        inputs = self.inputs(sheet, piece, op) | {
            "per_m2": Given(op.work_s_per_m2, "duration", "for each m²", piece.name, decided=True), "area": mine}  # fmt: skip
        return sheet.add(derive(specs.WORK, working_time, sheet.subject(piece.id, op=op.id), **inputs))
