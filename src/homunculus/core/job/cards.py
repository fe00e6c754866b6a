"""Data cards: materials, and with them cameras, lenses and hazards; every value with where it comes from.

A job embeds the cards that it uses, as edited; the library only offers.
"""

from __future__ import annotations

import re
from functools import cache
from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.errors import UserError
from homunculus.core.job.bounds import Celsius, Kilograms
from homunculus.core.job.cameras import CameraCard, LensCard
from homunculus.core.job.decided import decided, told
from homunculus.core.job.sourced import Sourced

ClockKind = Literal["chemical", "baked", "gelled", "dried", "hydrated", "moisture"]
Flow = Literal["", "thin", "pours", "thick", "brushes", "paste"]
"""How it flows when mixed: like milk, like cream, like honey, stays on a slope, stays on a wall."""
STIRRED_IN = "stirred in"
"""The trait of what is only ever a part of something else's mix."""


class Hardness(Struct, frozen=True, forbid_unknown_fields=True):
    """Indentation hardness with the scale that it was read on; between scales nothing is converted (ISO 868, ASTM D2240)."""

    value: Annotated[float, Meta(ge=0, le=100)]
    scale: Literal["OO", "A", "D"]
    source: str


class Pack(Struct, frozen=True, forbid_unknown_fields=True):
    """A size in which it is sold, all parts together."""

    mass_kg: Kilograms
    price: Annotated[float, Meta(ge=0, le=1e7)]
    """Tax left out."""


class Part(Struct, frozen=True, forbid_unknown_fields=True):
    """One part of a mix, in parts by weight or, where its card says so, by volume."""

    name: str
    parts: Annotated[float, Meta(gt=0, le=1e6)]
    density_kg_m3: Sourced | None = None
    """Needed where the parts are by volume."""


class MaterialCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A material as the shop buys it. Units are in the names; times hold at ``reference_c``."""

    id: str
    name: str
    family: str
    """What it is to others: hazards, contacts and the shelf go by it. Any word; those that ship are ``library/families.toml``."""
    density_kg_m3: Annotated[Sourced, decided("density", "density", 10, "mix")]
    traits: tuple[str, ...] = ()
    """What it can and cannot: rigid, flexible, translucent, porous, perishable, stirred in …"""
    parts: Annotated[tuple[Part, ...], Meta(max_length=20)] = ()
    """What is weighed; empty for what is not mixed."""
    parts_by: Literal["weight", "volume"] = "weight"
    ratio_tolerance: Annotated[Sourced | None, told("a part may miss by", "share")] = None
    """Share by which a part may miss its weight; 2 % where the card says nothing."""
    flow: Flow = ""
    stir_s: Annotated[Sourced | None, told("stir for", "duration")] = None
    reference_c: Annotated[Celsius, told("times hold at", "temperature", signed=True)] = 23.0
    clock: ClockKind = "chemical"
    """What runs its setting."""
    degassed: bool = False
    """Whether air is drawn out of it before it is poured."""
    pot_life_s: Annotated[Sourced | None, decided("pot life, book", "duration", 60, "mix")] = None
    demould_s: Annotated[Sourced | None, decided("demould, book", "duration", 1800, "cure")] = None
    handling_s: Annotated[Sourced | None, told("may be worked on after", "duration")] = None
    """When a piece may be worked on."""
    full_cure_s: Annotated[Sourced | None, told("full cure", "duration")] = None
    activation_energy_j_mol: Annotated[Sourced | None, told("activation energy", "energy_per_mole")] = None
    """Without it the rule of ten is used, and said."""
    head_room: Annotated[Sourced | None, told("rises to, times its mix", "factor")] = None
    """Vessel over mix, for what does not rise like the shop's usual mixes."""
    least_c: Annotated[Sourced | None, told("cure stops below", "temperature", signed=True)] = None
    """Below this the cure counts as stopped."""
    humidity: str = ""
    """What the air's moisture does to this cure, in a sentence."""
    price_per_kg: Annotated[Sourced | None, decided("price", "money_per_mass", 0.5, "mould")] = None
    packs: Annotated[tuple[Pack, ...], Meta(max_length=20)] = ()
    lead_s: Annotated[Sourced | None, told("comes after", "duration")] = None
    """From the order to the shop's door."""
    shelf_life_s: Annotated[Sourced | None, told("keeps, closed", "duration")] = None
    opened_life_s: Annotated[Sourced | None, told("keeps, opened", "duration")] = None
    mat_kg_m2: Annotated[Sourced | None, told("mat, one layer dry", "areal_density")] = None
    """Laminates: areal weight of one layer of dry mat."""
    resin_to_mat: Annotated[Sourced | None, told("resin to mat by weight", "factor")] = None
    """Laminates: weight of resin per weight of mat."""
    mat_density_kg_m3: Annotated[Sourced | None, told("density of the fibre", "density")] = None
    shrink: Annotated[Sourced | None, told("shrinks by", "share", signed=True)] = None
    """Linear, of what was poured; below nought for what grows."""
    hardness: Hardness | None = None
    elongation: Annotated[Sourced | None, told("stretches by, at break", "share")] = None
    tear_n_m: Annotated[Sourced | None, told("tear strength", "line_force")] = None
    service_c: Annotated[Sourced | None, told("stands up to", "temperature", signed=True)] = None
    coat_m: Annotated[Sourced | None, told("one coat, wet", "length")] = None
    solids: Annotated[Sourced | None, told("solids by volume", "share")] = None
    """What stays of a wet coat."""
    colour: str = ""
    release: str = ""
    """What keeps it apart from a mould."""
    bonds_to: tuple[str, ...] = ()
    """Families that it grips where nothing lies between."""
    poisoned_by: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    grain_kg_m3: Annotated[Sourced | None, decided("powder's grain", "density", 10, "mix")] = None
    """Gypsum: density of the unset powder's grains; price is per kilogram of powder."""
    bake_c: Annotated[Sourced | None, decided("oven", "temperature", 1, "cure")] = None
    """Baked: the oven's temperature, at which ``demould_s`` is soaked. Nothing happens at room temperature."""
    pour_c: Annotated[Sourced | None, decided("poured at", "temperature", 1, "cure")] = None
    """Gelled: temperature at which it is poured."""
    firm_c: Annotated[Sourced | None, decided("firm below", "temperature", 1, "cure")] = None
    """Gelled: temperature below which it is firm."""
    diffusivity_m2_s: Annotated[Sourced | None, told("thermal diffusivity", "diffusivity")] = None
    """Gelled: how fast heat goes through it."""
    at_thickness_m: Annotated[Sourced | None, told("times hold for a layer of", "length")] = None
    """Dried and moisture-cured: the thickness for which the times hold."""
    pot_life_per_share: Annotated[Sourced | None, decided("pot life longer by, a part", "factor", 0.5, "mix")] = None
    """Stir-ins: by what share the pot life changes for a share of 1 of the material's own parts (plus is longer)."""

    @property
    def stirred_in(self) -> bool:
        """Whether it is only ever a part of something else's mix."""
        return STIRRED_IN in self.traits


CautionStep = Literal["light", "mould", "mix", "weigh", "cure", "lift", "take", "work", "wear", "stage"]


class HazardCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A usual caution, shown beside the steps that it belongs to. It defers to whoever decides; it never replaces them."""

    id: str
    words: str
    decides: str
    """Data sheet, local code, licensed person."""
    steps: tuple[CautionStep, ...]
    """What is done: moulding, mixing, weighing, curing, lifting, a take; work by hand, wearing it, standing on the stage."""
    families: tuple[str, ...]
    """Of material; none for what no material brings."""
    build_kinds: tuple[str, ...] = ()
    """Kinds of build that bring it."""
    said: tuple[str, ...] = ()
    """Words that bring it where they are said of a step, a shot or a piece."""

    @property
    def told(self) -> str:
        """The caution as it is shown, with who decides."""
        return f"{self.words} Decides: {self.decides}."

    def brought_by(self, step: CautionStep, kind: str, families: set[str], text: str) -> bool:
        """Whether a ``step`` on a build of a ``kind``, of materials of these ``families``, brings it, or what is said in the ``text`` does."""
        if step not in self.steps:
            return False
        if kind in self.build_kinds or not families.isdisjoint(self.families):
            return True
        return bool(self.said) and _saying(self.said).search(text) is not None


@cache
def _saying(words: tuple[str, ...]) -> re.Pattern[str]:
    """Finds any of some ``words``, by itself or with a usual ending."""
    return re.compile(rf"\b(?:{'|'.join(map(re.escape, words))})(?:s|es|ing|ed)?\b", re.IGNORECASE)


_OVER_NOUGHT = (
    "density_kg_m3", "ratio_tolerance", "pot_life_s", "demould_s", "handling_s", "full_cure_s", "activation_energy_j_mol",
    "head_room", "mat_kg_m2", "resin_to_mat", "mat_density_kg_m3", "grain_kg_m3", "diffusivity_m2_s", "at_thickness_m",
    "stir_s", "lead_s", "shelf_life_s", "opened_life_s", "tear_n_m", "coat_m", "solids",
)  # fmt: skip


def odd_value(card: MaterialCard) -> str:
    """Name the first value of a ``card`` that cannot be: what is measured is over nought. Empty when all can be."""
    for field in _OVER_NOUGHT:
        sourced = getattr(card, field, None)
        if sourced is not None and not 1e-12 < sourced.value < 1e10:
            return f"{field} of {card.name} is {sourced.value:g}"
    price = getattr(card, "price_per_kg", None)
    return f"price_per_kg of {card.name} is {price.value:g}" if price and price.value < 0 else ""


class Cards(Struct, frozen=True, forbid_unknown_fields=True):
    """The cards that a job carries."""

    materials: tuple[MaterialCard, ...] = ()
    cameras: tuple[CameraCard, ...] = ()
    lenses: tuple[LensCard, ...] = ()
    hazards: tuple[HazardCard, ...] = ()

    def cautions(self, card: MaterialCard | None, step: CautionStep) -> tuple[str, ...]:
        """List the cautions that belong beside a step, the material's own first.

        Parameters
        ----------
        card
            What is worked with; none for cautions that no material brings.
        step
            What is done.
        """
        own = card.cautions if card else ()
        usual = (h.told for h in self.hazards
                 if step in h.steps and (card.family in h.families if card else not h.families))  # fmt: skip
        return (*own, *usual)

    def material(self, card_id: str) -> MaterialCard:
        """Find a material by its id.

        Parameters
        ----------
        card_id
            As a piece names it.

        Raises
        ------
        UserError
            When the job carries no such card.
        """
        for card in self.materials:
            if card.id == card_id:
                return card
        raise UserError(f"There is no material “{card_id}” in this job", "cards", "Add its card or choose another")

    def camera(self, card_id: str) -> CameraCard:
        """Find a camera by its id.

        Parameters
        ----------
        card_id
            As the shop names it.

        Raises
        ------
        UserError
            When the job carries no such card.
        """
        for card in self.cameras:
            if card.id == card_id:
                return card
        raise UserError(f"There is no camera “{card_id}” in this job", "cards", "Add its card or choose another")
