"""Draw: a heated sheet over the form; it thins as it stretches, and some spoil."""

from __future__ import annotations

import math

from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.forms import Box, Mesh
from homunculus.core.job.operations import Draw
from homunculus.core.making import mixing, sheets, yields
from homunculus.core.operations.layer import form_as_built
from homunculus.core.operations.operation import OperationKind, working_time
from homunculus.core.plan.build_plan import BuildSheet, card_given
from homunculus.core.plan.sheet import Mind

THINNEST = 0.35
"""Share of the sheet's thickness below which a draw tears or flutters. Common practice, no source."""


class Drawing(OperationKind):
    """The kind."""

    data = Draw
    laid_aside = True

    def work(self, sheet: BuildSheet, piece: Piece | None, op: Draw) -> Figure | None:
        """So much for each sheet, spoiled ones too."""
        form = form_as_built(sheet, piece) if piece else None
        good = sheet.find(specs.GOOD_ONES, piece.id) if piece else None
        if piece is None or form is None or good is None:
            return None
        if op.sheet_m is None or not op.material:
            raise UserError(
                f"Nobody has said which sheet “{op.called}” draws, and how thick it is", "route", "Say both"
            )
        subject, card = sheet.subject(piece.id, op=op.id), sheet.context.cards.material(op.material)
        round_share, foot = (1.0, "a rectangle") if isinstance(piece.form, Box | Mesh) else (math.pi / 4, "an oval")
        margin = Given(op.margin_m, "length", "sheet around the form", piece.name, decided=True)
        thick = Given(op.sheet_m, "length", "sheet", card.name, decided=True)
        blank = sheet.add(derive(specs.BLANK, sheets.blank_area, subject, form=form, margin=margin))
        drawn = sheet.add(derive(specs.DRAWN, sheets.drawn_thickness, subject, sheet=thick, blank=blank, form=form,
            foot=Given(round_share, "factor", f"its foot taken as {foot}", piece.name)))  # fmt: skip
        count = sheet.add(derive(specs.SHEETS, yields.castings_for, subject, wanted=good,
            good=Given(piece.good, "share", "come out good", piece.name, decided=True),
            confidence=Given(sheet.context.shop.confidence, "share", "confidence", "shop", decided=True)))  # fmt: skip
        mass = sheet.add(derive(specs.SHEET_MASS, sheets.sheets_mass, subject, blank=blank, sheet=thick, count=count,
            density=card_given(card, card.density_kg_m3, "density", "density")))  # fmt: skip
        if card.price_per_kg:
            price = card_given(card, card.price_per_kg, "money_per_mass", "price")
            sheet.add(derive(specs.SHEET_COST, mixing.cost_of, subject, mass=mass, price=price))
        if drawn.number < THINNEST * op.sheet_m:
            sheet.minds.append(Mind("mind", "mould", subject, (f"{piece.name}: the sheet thins to ", drawn),
                ("Drawn deeper than sheets usually stand: it tears or flutters at the corners. A thicker sheet, more of it around the "
                 "form, or the form in two parts. Common practice, no source.",), 4.0))  # fmt: skip
        return sheet.add(derive(specs.WORK, working_time, subject, times=count,
                                fixed=Given(op.work_s, "duration", op.called, piece.name, decided=True)))  # fmt: skip
