"""Layer: coats of something over the form or inside the mould, over a finished piece, or plies of a laminate."""

from __future__ import annotations

from homunculus.core import specs
from homunculus.core.cure.clock import clock_of
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.job.operations import Layer
from homunculus.core.making import moulds
from homunculus.core.operations.operation import Mixed, OperationKind, surface, working_time
from homunculus.core.plan.build_plan import BuildSheet, Setting
from homunculus.core.planners.poured import wet_density
from homunculus.core.planners.scale import form_of
from homunculus.core.planners.shots import scale_given


def form_as_built(sheet: BuildSheet, piece: Piece) -> Figure | None:
    """The form of a ``piece`` as built, on the ``sheet``: the mould's own figure, or one of its own where nothing is moulded.

    None while a mesh waits for its study.
    """
    real = form_of(sheet, piece)
    if real is None:
        return None
    return sheet.find(specs.FORM, piece.id) or sheet.add(derive(specs.FORM, moulds.form_at_scale, sheet.subject(piece.id),
        scale=scale_given(sheet), form=Given(real, "thing", "form at real size", piece.name)))  # fmt: skip


class Layering(OperationKind):
    """The kind."""

    data = Layer
    worked_in = True

    def mixed(self, _piece: Piece, op: Layer) -> Mixed | None:
        """One coat, or all plies."""
        return Mixed("layer", op.material, op.mixes, keyed=op.how not in ("poured", "boxed")) if op.material else None

    def mass(self, sheet: BuildSheet, piece: Piece, op: Layer, index: int) -> Figure | None:
        """One coat, with what is lost; of what is laid up the resin of all plies."""
        form, mix = form_as_built(sheet, piece), op.mixes[index]
        if form is None:
            return None
        card, name = sheet.context.cards.material(op.material), mix.name if len(op.mixes) > 1 else ""
        subject = sheet.subject(piece.id, op=op.id, mix=name)
        waste = Given(op.waste, "share", "lost", piece.name, decided=True)
        density = wet_density(sheet, card, mix, subject)
        if op.how == "laid up":
            whole: Figure | None = self._resin(sheet, piece, op, card)
        else:
            if op.thickness_m is None:
                raise UserError(f"Nobody has said how thick a coat of “{op.called}” is", "route", "Say its thickness")
            thick = Given(op.thickness_m, "length", "a coat", piece.name, decided=True)
            volume = sheet.find(specs.LAYER, piece.id, op=op.id) or sheet.add(derive(specs.LAYER, moulds.layer_volume,
                sheet.subject(piece.id, op=op.id), form=form, thickness=thick,
                inward=Given(op.side == "casting", "thing", "inward" if op.side == "casting" else "outward", op.called)))  # fmt: skip
            whole = derive(specs.POUR, moulds.layer_mass, subject, volume=volume, density=density, waste=waste)
        if whole is None or not name:
            return sheet.add(whole) if whole else None
        return sheet.add(derive(specs.POUR, moulds.share_of_pour, subject, total=whole,
            share=Given(mix.share, "share", name, piece.name, decided=True),
            shares=Given(sum(m.share for m in op.mixes), "share", "all shares", piece.name)))  # fmt: skip

    def _resin(self, sheet: BuildSheet, piece: Piece, op: Layer, card: MaterialCard) -> Figure | None:
        area = surface(sheet, piece)
        if not (area and card.mat_kg_m2 and card.resin_to_mat):
            return None
        return derive(specs.POUR, moulds.laminate_resin, sheet.subject(piece.id, op=op.id), **area,
            layers=Given(op.coats, "count", "plies", piece.name, decided=True), waste=Given(op.waste, "share", "lost", piece.name, decided=True),
            mat=Given(card.mat_kg_m2.value, "areal_density", "mat", card.name),
            ratio=Given(card.resin_to_mat.value, "factor", "resin to mat", card.name))  # fmt: skip

    def coats(self, op: Layer) -> int:
        """As decided; plies are laid up in one go."""
        return 1 if op.how == "laid up" else op.coats

    def setting(self, sheet: BuildSheet, _piece: Piece, op: Layer, card: MaterialCard) -> Setting | None:
        """As thick as a coat is."""
        if not card.demould_s:
            return None
        return Setting(card, clock_of(card, thickness=op.thickness_m, humidity=sheet.context.shop.air.humidity))

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Layer) -> Figure:
        """Coat by coat."""
        inputs = self.inputs(sheet, piece, op)
        name = piece.name if piece else sheet.context.build.name
        if op.coats > 1:
            inputs["coats"] = Given(op.coats, "count", "coats", name, decided=True)
        if area := surface(sheet, piece):
            inputs |= {"per_m2": Given(op.work_s_per_m2, "duration", "for each m²", name, decided=True), **area}
        return sheet.add(derive(specs.WORK, working_time, sheet.subject(piece.id if piece else "", op=op.id), **inputs))
