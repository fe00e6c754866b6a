"""Data cards: materials and cameras, every value with where it comes from.

A job embeds the cards that it uses, as edited; the library only offers.
"""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.errors import UserError
from homunculus.core.job.bounds import Celsius, Known, Rate
from homunculus.core.job.decided import decided

MaterialKind = Literal[
    "silicone", "resin", "gypsum", "alginate", "laminate", "urethane rubber", "foam latex", "polyurethane foam",
    "gelatin", "latex", "clay", "board", "stir-in", "wax", "sheet", "gel coat",
]  # fmt: skip


ClockKind = Literal["chemical", "baked", "gelled", "dried", "hydrated", "moisture"]
CLOCKS: dict[str, ClockKind] = {
    "foam latex": "baked", "gelatin": "gelled", "latex": "dried", "gypsum": "hydrated", "wax": "gelled",
}  # fmt: skip
"""What runs a setting, by kind of material, where the card does not say; all else is chemical."""
DEGASSED = ("silicone", "urethane rubber")
"""Kinds that air is drawn out of before they are poured, where the card does not say."""


class Sourced(Struct, frozen=True, forbid_unknown_fields=True):
    """A value with its provenance: a data sheet, a standard, or memory."""

    value: Known
    source: str


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
    kind: MaterialKind
    density_kg_m3: Annotated[Sourced, decided("density", "density", 10, "mix")]
    parts: tuple[Part, ...] = ()
    """What is weighed; empty for what is not mixed."""
    parts_by: Literal["weight", "volume"] = "weight"
    ratio_tolerance: Sourced | None = None
    """Share by which a part may miss its weight; 2 % where the card says nothing."""
    stir_s: Sourced | None = None
    reference_c: Celsius = 23.0
    pot_life_s: Annotated[Sourced | None, decided("pot life, book", "duration", 60, "mix")] = None
    demould_s: Annotated[Sourced | None, decided("demould, book", "duration", 1800, "cure")] = None
    handling_s: Sourced | None = None
    """When a piece may be worked on."""
    full_cure_s: Sourced | None = None
    activation_energy_j_mol: Sourced | None = None
    """Without it the rule of ten is used, and said."""
    head_room: Sourced | None = None
    """Vessel over mix, for what does not rise like the shop's usual mixes."""
    least_c: Sourced | None = None
    """Below this the cure counts as stopped."""
    humidity: str = ""
    """What the air's moisture does to this cure, in a sentence."""
    price_per_kg: Annotated[Sourced | None, decided("price", "money_per_mass", 0.5, "mould")] = None
    mat_kg_m2: Sourced | None = None
    """Laminates: areal weight of one layer of dry mat."""
    resin_to_mat: Sourced | None = None
    """Laminates: weight of resin per weight of mat."""
    mat_density_kg_m3: Sourced | None = None
    poisoned_by: tuple[str, ...] = ()
    cautions: tuple[str, ...] = ()
    clock: ClockKind | None = None
    """What runs its setting; by its kind where the card does not say."""
    degassed: bool | None = None
    """Whether air is drawn out of it before it is poured; by its kind where the card does not say."""
    grain_kg_m3: Annotated[Sourced | None, decided("powder's grain", "density", 10, "mix")] = None
    """Gypsum: density of the unset powder's grains; price is per kilogram of powder."""
    bake_c: Annotated[Sourced | None, decided("oven", "temperature", 1, "cure")] = None
    """Baked: the oven's temperature, at which ``demould_s`` is soaked. Nothing happens at room temperature."""
    pour_c: Annotated[Sourced | None, decided("poured at", "temperature", 1, "cure")] = None
    """Gelled: temperature at which it is poured."""
    firm_c: Annotated[Sourced | None, decided("firm below", "temperature", 1, "cure")] = None
    """Gelled: temperature below which it is firm."""
    diffusivity_m2_s: Sourced | None = None
    """Gelled: how fast heat goes through it."""
    at_thickness_m: Sourced | None = None
    """Dried and moisture-cured: the thickness for which the times hold."""
    pot_life_per_share: Annotated[Sourced | None, decided("pot life longer by, a part", "factor", 0.5, "mix")] = None
    """Stir-ins: by what share the pot life changes for a share of 1 of the material's own parts (plus is longer)."""

    @property
    def clock_kind(self) -> ClockKind:
        """What runs its setting."""
        return self.clock or CLOCKS.get(self.kind, "chemical")

    @property
    def draws_air(self) -> bool:
        """Whether air is drawn out of it before it is poured."""
        return self.kind in DEGASSED if self.degassed is None else self.degassed


CautionStep = Literal["mould", "mix", "weigh", "cure", "lift", "take"]


class HazardCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A usual caution, shown beside the steps that it belongs to. It defers to whoever decides; it never replaces them."""

    id: str
    words: str
    decides: str
    """Data sheet, local code, licensed person."""
    kinds: tuple[MaterialKind, ...]
    """Of material; none for what any material brings."""
    steps: tuple[CautionStep, ...]


class CameraCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A camera body with the rates that it offers at full width."""

    id: str
    name: str
    rates_fps: Annotated[tuple[Rate, ...], Meta(min_length=1, max_length=1000)]
    sensor_width_m: Sourced
    sensor_height_m: Sourced
    pixels_across: Sourced


_OVER_NOUGHT = (
    "density_kg_m3", "ratio_tolerance", "pot_life_s", "demould_s", "handling_s", "full_cure_s", "activation_energy_j_mol",
    "head_room", "mat_kg_m2", "resin_to_mat", "mat_density_kg_m3", "grain_kg_m3", "diffusivity_m2_s", "at_thickness_m",
    "sensor_width_m", "sensor_height_m", "pixels_across",
)  # fmt: skip


def odd_value(card: MaterialCard | CameraCard) -> str:
    """Name the first value of a ``card`` that cannot be: what is measured is over nought. Empty when all can be."""
    for field in _OVER_NOUGHT:
        sourced = getattr(card, field, None)
        if sourced is not None and not 1e-12 < sourced.value < 1e8:
            return f"{field} of {card.name} is {sourced.value:g}"
    price = getattr(card, "price_per_kg", None)
    return f"price_per_kg of {card.name} is {price.value:g}" if price and price.value < 0 else ""


class Cards(Struct, frozen=True, forbid_unknown_fields=True):
    """The cards that a job carries."""

    materials: tuple[MaterialCard, ...] = ()
    cameras: tuple[CameraCard, ...] = ()
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
        usual = (f"{h.words} Decides: {h.decides}." for h in self.hazards
                 if step in h.steps and (card.kind in h.kinds if card else not h.kinds))  # fmt: skip
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
