"""Pour: a mould's rubber or stone, whole or half by half, poured in one go and left alone."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.constructions.register import construction_of
from homunculus.core.cure.clock import mould_clock
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.operations import LayUp, Pour
from homunculus.core.making import moulds
from homunculus.core.operations.operation import Mixed, OperationKind, how_often, working_time
from homunculus.core.plan.build_plan import BuildSheet, Setting
from homunculus.core.plan.sheet import Mind


class Pouring(OperationKind):
    """The kind."""

    data = Pour
    unbroken = True
    hands_matter = "wet"
    needs_mould = True

    def mixed(self, piece: Piece, _op: Pour) -> Mixed | None:
        """What the mould is poured of, in its mixes."""
        mould = piece.mould
        return Mixed("mould", mould.poured, mould.mixes, mould.keyed) if mould else None

    def mass(self, sheet: BuildSheet, piece: Piece, op: Pour, index: int) -> Figure | None:
        """Its share of the whole mould, or of one of its mixes."""
        assert piece.mould is not None
        mixes = piece.mould.mixes
        name = mixes[index].name if len(mixes) > 1 else ""
        total = (
            sheet.find(specs.MIX, piece.id, mix=name)
            if name
            else sheet.find(construction_of(piece.mould).mass, piece.id)
        )
        pours = [other for other in piece.route if isinstance(other, Pour)]
        named = {other.part for other in pours if other.part}
        if total is None or not named:
            return shared(sheet, piece, op, total, name)
        volumes: dict[str, Figure | Given] = {}
        for part, spec in construction_of(piece.mould).named.items():
            mine = part == op.part if op.part else part not in named
            if figure := sheet.find(spec, piece.id):
                volumes[f"{'in' if mine else 'out'}_{part}"] = figure
        if not any(name.startswith("in_") for name in volumes):
            sheet.minds.append(Mind("mind", "mould", sheet.subject(piece.id, op=op.id), (f"{piece.name}: {op.called} has nothing to pour",),
                (f"This mould has no {op.part or 'part that no other pour names'}. Take the pour out, or change the mould.",), 3.0))  # fmt: skip
            return None
        shares = sum(other.share for other in pours if other.part == op.part)
        return sheet.add(derive(specs.POUR, moulds.part_of_pour, sheet.subject(piece.id, op=op.id, mix=name), total=total,
            share=Given(op.share, "share", "its share", piece.name), shares=Given(shares, "share", "of all shares", piece.name), **volumes))  # fmt: skip

    def setting(self, sheet: BuildSheet, piece: Piece, _op: Pour, card: MaterialCard) -> Setting | None:
        """As thick as the layer is, with the mould's lag."""
        if piece.mould is None or not card.demould_s:
            return None
        return Setting(card, mould_clock(card, piece.mould, sheet.context.shop.air), piece.mould.lag_s)

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Pour) -> Figure | None:
        """As long as its batches take, once for each mould."""
        time = sheet.find(specs.POUR_TIME, piece.id if piece else "", op=op.id)
        if piece is None or time is None:
            return None
        times = how_often(sheet, piece, op.loop)
        return sheet.add(derive(specs.WORK, working_time, sheet.subject(piece.id, op=op.id), fixed=time,
                                **({"times": times} if times else {})))  # fmt: skip


def shared(sheet: BuildSheet, piece: Piece, op: Pour | LayUp, total: Figure | None, mix: str) -> Figure | None:
    """Derive the part that one ``op`` of a ``piece`` has of the ``total`` of all operations of its kind; of a ``mix``, onto a ``sheet``."""
    if total is None:
        return None
    all_shares = sum(other.share for other in piece.route if type(other) is type(op)) or op.share
    return sheet.add(derive(specs.POUR, moulds.share_of_pour, sheet.subject(piece.id, op=op.id, mix=mix), total=total,
        share=Given(op.share, "share", "its share", piece.name), shares=Given(all_shares, "share", "of all shares", piece.name)))  # fmt: skip
