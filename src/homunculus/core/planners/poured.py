"""What is poured: its density wet and dry, its price by the kilogram, what is stirred in; asked by moulds, castings and weights."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.errors import UserError
from homunculus.core.figures import Figure, Given, Subject, derive
from homunculus.core.job.cards import Cards, MaterialCard
from homunculus.core.job.moulds import Mix
from homunculus.core.job.shop import Mixing
from homunculus.core.making import mixing, moulds
from homunculus.core.plan.build_plan import BuildSheet, Context, card_given

USUAL_GRAIN_KG_M3 = 2630.0  # moulding plaster, value from memory


def parts_by_weight(card: MaterialCard) -> dict[str, Given]:
    """The parts of a ``card`` by weight; those given by volume take their own densities.

    Raises
    ------
    UserError
        When parts are by volume and one has no density: the ratio by weight is then not known.
    """
    found = {}
    for part in card.parts:
        value, source = part.parts, card.name
        if card.parts_by == "volume":
            if part.density_kg_m3 is None:
                raise UserError(f"{card.name} is mixed by volume, and part {part.name} has no density", "cards",
                                "Read it off the data sheet: without it nobody knows what to weigh")  # fmt: skip
            value, source = (
                mixing.weight_parts(parts=part.parts, density=part.density_kg_m3.value),
                f"{card.name}, by volume",
            )
        found[part.name] = Given(value, "parts", f"parts of {part.name}", source)
    return found


def is_stone(card: MaterialCard) -> bool:
    """Whether a ``card`` is powder that sets with water, of which part leaves again."""
    return card.clock == "hydrated" and {part.name for part in card.parts} == {"powder", "water"}


def _stone_parts(context: Context, card: MaterialCard) -> dict[str, Given]:
    found = {part.name: Given(part.parts, "parts", f"parts of {part.name}", card.name) for part in card.parts}
    if card.grain_kg_m3:
        return found | {"grain": card_given(card, card.grain_kg_m3, "density", "grain of the powder")}
    return found | {
        "grain": Given(USUAL_GRAIN_KG_M3, "density", "grain of the powder", "moulding plaster, value from memory")
    }


def _water(sheet: BuildSheet) -> Figure:
    return sheet.find(specs.WATER) or sheet.add(derive(specs.WATER, mixing.water_density, sheet.subject(),
        celsius=Given(sheet.context.shop.air.day_c, "temperature", "shop by day", "shop")))  # fmt: skip


def dry_density(context: Context, card: MaterialCard) -> float:
    """Density [kg/m³] of a finished piece of a ``card``: of stone without its loose water, of a laminate with its fibre.

    ``context`` tells the temperature of the water.
    """
    if is_stone(card):
        parts = {name: given.value for name, given in _stone_parts(context, card).items()}
        return float(mixing.dry_density(**parts, water_density=mixing.water_density(celsius=context.shop.air.day_c)))
    if card.mat_kg_m2 and card.resin_to_mat and card.mat_density_kg_m3:
        return float(moulds.laminate_density(ratio=card.resin_to_mat.value, mat_density=card.mat_density_kg_m3.value,
                                             resin_density=card.density_kg_m3.value))  # fmt: skip
    return card.density_kg_m3.value


def stirred_cards(cards: Cards, mix: Mix) -> dict[str, MaterialCard | None]:
    """The cards of what is stirred into a ``mix``, by the additive's name; none where the job's ``cards`` have no such one."""
    found: dict[str, MaterialCard | None] = {}
    for additive in mix.additives:
        words = (additive.card or additive.name).casefold()
        found[additive.name] = next(
            (c for c in cards.materials if c.stirred_in and words in (c.id.casefold(), c.name.casefold())), None
        )
    return found


def wet_density(sheet: BuildSheet, card: MaterialCard, mix: Mix, subject: Subject) -> Figure | Given:
    """Density of what is poured, as an input: a figure where it follows from parts.

    Parameters
    ----------
    sheet
        Of the build.
    card
        What is poured.
    mix
        What is stirred into it.
    subject
        Whom a figure speaks of.
    """
    base: Figure | Given
    if is_stone(card):
        whose = replace(subject, mix="")  # one slurry fills all mixes
        base = sheet.find_of(specs.SLURRY, whose) or sheet.add(derive(
            specs.SLURRY, mixing.slurry_density, whose, **_stone_parts(sheet.context, card),
            water_density=_water(sheet)))  # fmt: skip
    else:
        base = card_given(card, card.density_kg_m3, "density", "density")
    stirred = _stirred(sheet.context, card, mix, "density_kg_m3")
    if not stirred:
        return base
    return sheet.add(derive(specs.DENSITY, mixing.mixed_density, subject, own=_own(card), density=base, **stirred))


def price_of(sheet: BuildSheet, card: MaterialCard, mix: Mix, subject: Subject) -> Figure | Given | None:
    """Price of a kilogram of what is poured, as an input; none where the ``card`` has none.

    ``sheet``, ``mix`` and ``subject`` as for :func:`wet_density`. Of stone the powder is paid, water is free.
    """
    if card.price_per_kg is None:
        return None
    price = card_given(card, card.price_per_kg, "money_per_mass", "price")
    stirred = _stirred(sheet.context, card, mix, "price_per_kg")
    own = _own(card)
    if is_stone(card):
        parts = {p.name: p.parts for p in card.parts}
        own = Given(parts["powder"], "parts", "parts of powder", card.name)
        stirred["water"] = Given((parts["water"], 0.0), "thing", f"{parts['water']:g} parts of water, free", card.name)
    if not stirred:
        return price
    return sheet.add(derive(specs.PRICE, mixing.mixed_price, subject, own=own, price=price, **stirred))


def _own(card: MaterialCard) -> Given:
    own = sum(given.value for given in parts_by_weight(card).values())
    return Given(own or 1.0, "parts", "the material's own parts", card.name)


def _stirred(context: Context, card: MaterialCard, mix: Mix, field: str) -> dict[str, Given]:
    """What is stirred in with its parts and one value of its card, as inputs of a rule."""
    own, cards = _own(card).value, stirred_cards(context.cards, mix)
    found = {}
    for additive in mix.additives:
        if additive.share > 0:
            parts = mixing.additive_parts(own=own, share=additive.share)
            sourced = getattr(cards[additive.name], field) if cards[additive.name] else None
            value = f"{sourced.value:g}" if sourced else "not known"
            found[additive.name] = Given((parts, sourced.value if sourced else None), "thing",
                                         f"{additive.name}: {parts:.4g} parts, {value}", additive.name)  # fmt: skip
    return found


def pot_life_factor(cards: Cards, mix: Mix) -> Given:
    """By how much what is stirred into a ``mix`` stretches the pot life, as an input; ``cards`` are the job's."""
    factor, said = 1.0, []
    for additive, card in zip(mix.additives, stirred_cards(cards, mix).values(), strict=True):
        if card and card.pot_life_per_share:
            factor *= max(0.05, 1 + card.pot_life_per_share.value * additive.share)
            said.append(card.name)
    return Given(factor, "factor", "what is stirred in", ", ".join(said) or "nothing that its card speaks of")


def handling(card: MaterialCard, shop: Mixing) -> dict[str, Given]:
    """What a batch of a ``card`` takes in this ``shop``: fixed time, time for each kg, as inputs."""
    fixed, per_kg = (shop.handling_s, shop.handling_s_per_kg) if card.degassed else (shop.plain_s, shop.plain_s_per_kg)
    how = "with drawing the air out" if card.degassed else "without drawing air out"
    return {"fixed": Given(fixed, "duration", f"handling a batch, {how}", "shop", decided=True),
            "per_kg": Given(per_kg, "duration", "handling, for each kg", "shop", decided=True)}  # fmt: skip


def vessel(card: MaterialCard, shop: Mixing) -> dict[str, Given]:
    """In what a ``card`` is mixed in this ``shop``: the vessel and its head-room, as inputs. Plaster is not silicone in a vacuum."""
    volume, room = (shop.vessel_m3, shop.head_room) if card.degassed else (shop.bucket_m3, shop.bucket_head_room)
    head_room = card_given(card, card.head_room, "factor", "head-room") if card.head_room else Given(
        room, "factor", "head-room", "shop", decided=True)  # fmt: skip
    return {
        "vessel": Given(volume, "volume", "vessel" if card.degassed else "bucket", "shop", decided=True),
        "head_room": head_room,
    }


def vessel_keys(card: MaterialCard) -> tuple[str, str]:
    """Names of the shop's decisions about the vessel that a ``card`` is mixed in, and its head-room."""
    return ("shop.vessel_m3", "shop.head_room") if card.degassed else ("shop.bucket_m3", "shop.bucket_head_room")
