"""Cast: the mould is filled with the piece's material, turn by turn, and left alone until the casting is out."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.cure.clock import clock_of
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.operations import Cast
from homunculus.core.making import yields
from homunculus.core.making.moulds import share_of_pour
from homunculus.core.operations.operation import Mixed, OperationKind, working_time
from homunculus.core.plan.build_plan import BuildSheet, Setting
from homunculus.core.planners.counts import turns_of
from homunculus.core.planners.scale import form_of, wall_of


class Casting(OperationKind):
    """The kind."""

    data = Cast
    unbroken = True
    one_bar = True
    needs_mould = True

    def mixed(self, piece: Piece, op: Cast) -> Mixed | None:
        """The piece's own material."""
        return Mixed("casting", piece.material, op.mixes, keyed=False) if piece.material and piece.mould else None

    def mass(self, sheet: BuildSheet, piece: Piece, op: Cast, index: int) -> Figure | None:
        """All castings of the fullest turn, with what is lost."""
        one, turns = sheet.find(specs.ONE_POURED, piece.id), turns_of(sheet, piece)
        if one is None or not turns:
            return None
        mix, name = op.mixes[index], op.mixes[index].name if len(op.mixes) > 1 else ""
        subject = sheet.subject(piece.id, op=op.id, mix=name)
        whole = derive(specs.POUR, yields.all_castings, subject, one=one,
            castings=Given(max(turns), "count", "castings of a turn", piece.name),
            waste=Given(piece.waste, "share", "lost with each", piece.name, decided=True))  # fmt: skip
        if not name:
            return sheet.add(whole)
        return sheet.add(derive(specs.POUR, share_of_pour, subject, total=whole,
            share=Given(mix.share, "share", name, piece.name, decided=True),
            shares=Given(sum(m.share for m in op.mixes), "share", "all shares", piece.name)))  # fmt: skip

    def times(self, sheet: BuildSheet, piece: Piece, _op: Cast) -> int:
        """Turn by turn."""
        return len(turns_of(sheet, piece))

    def setting(self, sheet: BuildSheet, piece: Piece, _op: Cast, card: MaterialCard) -> Setting | None:
        """As thick as the casting is; what is baked follows the oven with the mould's lag."""
        if not card.demould_s:
            return None
        form = form_of(sheet, piece)
        thick = wall_of(piece) or (form.shell.inradius / sheet.context.build.scale if form else None)
        lag = piece.mould.lag_s if piece.mould and card.clock == "baked" else 0.0
        return Setting(card, clock_of(card, thickness=thick, humidity=sheet.context.shop.air.humidity), lag)

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Cast) -> Figure | None:
        """So much for each casting."""
        if piece is None:
            return None
        return sheet.add(
            derive(specs.WORK, working_time, sheet.subject(piece.id, op=op.id), **self.inputs(sheet, piece, op))
        )
