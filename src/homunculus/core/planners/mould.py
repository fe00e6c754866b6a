"""Moulds of a build: rubber, laminate, weight and cost of each."""

from __future__ import annotations

from functools import partial

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.constructions.register import construction_of
from homunculus.core.figures import Figure, FigureSpec, Given, derive
from homunculus.core.job.build import Piece
from homunculus.core.job.cards import MaterialCard
from homunculus.core.making import mixing, moulds
from homunculus.core.plan.build_plan import BuildSheet, Context, Headline
from homunculus.core.plan.sheet import Mind
from homunculus.core.planners.counts import moulds_of
from homunculus.core.planners.poured import price_of, wet_density
from homunculus.core.planners.scale import form_of
from homunculus.core.planners.shots import scale_given
from homunculus.core.showing import show_day


def plan_moulds(sheet: BuildSheet) -> None:
    """Derive the mould figures of every piece of the ``sheet``'s build that has a mould."""
    moulded = [piece for piece in sheet.context.build.pieces if piece.mould]
    reckoned = [piece for piece in moulded if sheet.part("mould", piece, partial(_plan_one, sheet, piece))]
    for one, whole in ((specs.RUBBER, specs.BUILD_RUBBER), (specs.RUBBER_COST, specs.BUILD_COST)):
        if figure := _sum_of(sheet, reckoned, one, whole):
            sheet.add(figure)
    cost, tax = sheet.find(specs.BUILD_COST), sheet.context.shop.tax
    if cost and tax:
        sheet.add(
            derive(
                specs.BUILD_TAXED,
                mixing.with_tax,
                sheet.subject(),
                cost=cost,
                tax=Given(tax, "share", "tax", "shop", decided=True),
            )
        )
    _headline(sheet, moulded)
    _mind_signatures(sheet, moulded)


def moulds_cost(context: Context, scale: float) -> Figure | None:
    """What all moulds of the ``context``'s build would cost at a ``scale``: the planner's own chain, run for that scale alone.

    None while a form has not been studied, or where no material has a price.
    """
    sheet = BuildSheet(replace(context, build=replace(context.build, scale=scale)))
    moulded = [piece for piece in context.build.pieces if piece.mould]
    if not all(_plan_one(sheet, piece) for piece in moulded):
        return None
    return _sum_of(sheet, moulded, specs.RUBBER_COST, specs.BUILD_COST)


def _sum_of(sheet: BuildSheet, moulded: list[Piece], one: FigureSpec, whole: FigureSpec) -> Figure | None:
    found = {piece.id: figure for piece in moulded if (figure := _of_all_moulds(sheet, piece, one))}
    return derive(whole, moulds.total_volume, sheet.subject(), **found) if found else None


def _mind_signatures(sheet: BuildSheet, moulded: list[Piece]) -> None:
    """A late objection costs a finished mould, so what is not signed holds it."""
    missing = [s for s in sheet.context.build.signoffs if s.at is None]
    if not (moulded and missing):
        return
    words = " and ".join(s.kind for s in missing)
    who = "; ".join(f"{s.kind} by {s.by or 'nobody named'}"
                    + (f", expected {show_day(s.expected)}" if s.expected else "") for s in missing)  # fmt: skip
    sheet.minds.append(Mind("mind", "mould", sheet.subject(), (f"Moulds held: {words} not signed",),
        (f"{who[:1].upper()}{who[1:]}. An objection after the mould costs the mould.",), 9.0, "count"))  # fmt: skip


def _of_all_moulds(sheet: BuildSheet, piece: Piece, spec: FigureSpec) -> Figure | None:
    """A figure of one mould of a piece, times the moulds that are made of it."""
    one = sheet.find(spec, piece.id)
    number = moulds_of(piece)
    if one is None or number < 2:
        return one
    count = Given(number, "count", "moulds", piece.name, decided=True)
    return derive(spec, moulds.of_all_moulds, sheet.subject(piece.id), one=one, moulds=count)


def _headline(sheet: BuildSheet, moulded: list[Piece]) -> None:
    if len(moulded) > 1:
        names = ", ".join(p.name for p in moulded)
        sheet.headlines.append(Headline("mould", Given(len(moulded), "count", "moulds"), (f"moulds: {names}",)))
    elif moulded:
        piece, mould = moulded[0], moulded[0].mould
        if mould:
            sheet.headlines.append(construction_of(mould).headline(mould, piece))


def _plan_one(sheet: BuildSheet, piece: Piece) -> bool:
    """Derive one piece's mould; false while its form has not been studied."""
    real = form_of(sheet, piece)
    if real is None or piece.mould is None:
        return False
    mould, subject, made = piece.mould, sheet.subject(piece.id), construction_of(piece.mould)
    card = sheet.context.cards.material(mould.poured)
    form = sheet.add(derive(specs.FORM, moulds.form_at_scale, subject, scale=scale_given(sheet),
        form=Given(real, "thing", "form at real size", piece.name)))  # fmt: skip
    parts = made.parts(sheet, piece, mould, form)
    bare = derive(made.volume, moulds.total_volume, subject, **parts)
    waste = sheet.add(derive(specs.WASTE, moulds.waste_volume, subject, rubber=bare,
        share=Given(mould.waste, "share", "waste", piece.name, decided=True),
        least=Given(mould.least_waste_m3, "volume", "least waste", piece.name)))  # fmt: skip
    volume = sheet.add(derive(made.volume, moulds.total_volume, subject, **parts, waste=waste))
    mass, in_place, cost = _masses(sheet, piece, card, volume, bare)
    sheet.add(mass)
    if cost:
        sheet.add(cost)
    jacket = made.jacket(sheet, piece, mould, form)
    weighed = {"poured": in_place} | ({"jacket": jacket} if jacket else {})
    sheet.add(derive(specs.MOULD_WEIGHT, moulds.total_volume, subject, **weighed))
    return True


def _masses(
    sheet: BuildSheet, piece: Piece, card: MaterialCard, volume: Figure, bare: Figure
) -> tuple[Figure, Figure, Figure | None]:
    """Mass of all that is mixed, of what stays in the mould, and its cost: mix by mix, with what is stirred into each."""
    assert piece.mould is not None
    subject, mixes = sheet.subject(piece.id), piece.mould.mixes
    mass_spec = construction_of(piece.mould).mass
    if len(mixes) == 1:
        density = wet_density(sheet, card, mixes[0], subject)
        mass = derive(mass_spec, moulds.mass_of, subject, volume=volume, density=density)
        price = price_of(sheet, card, mixes[0], subject)
        cost = derive(specs.RUBBER_COST, mixing.cost_of, subject, mass=mass, price=price) if price else None
        return mass, derive(mass_spec, moulds.mass_of, subject, volume=bare, density=density), cost
    shares = Given(sum(m.share for m in mixes), "share", "all shares", piece.name)
    whole: dict[str, Figure] = {}
    placed: dict[str, Figure] = {}
    costs: dict[str, Figure] = {}
    for i, mix in enumerate(mixes, 1):
        mine, name = sheet.subject(piece.id, mix=mix.name), f"{mix.name or 'mix'} {i}"
        share = Given(mix.share, "share", mix.name, piece.name, decided=True)
        density = wet_density(sheet, card, mix, mine)
        whole[name] = sheet.add(
            derive(specs.MIX, mixing.mix_mass, mine, volume=volume, share=share, shares=shares, density=density)
        )
        placed[name] = derive(
            specs.MIX, mixing.mix_mass, mine, volume=bare, share=share, shares=shares, density=density
        )
        if price := price_of(sheet, card, mix, mine):
            costs[name] = derive(specs.RUBBER_COST, mixing.cost_of, mine, mass=whole[name], price=price)
    cost = derive(specs.RUBBER_COST, moulds.total_volume, subject, **costs) if costs else None
    return (
        derive(mass_spec, moulds.total_volume, subject, **whole),
        derive(mass_spec, moulds.total_volume, subject, **placed),
        cost,
    )
