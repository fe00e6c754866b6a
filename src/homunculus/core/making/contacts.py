"""What may touch what: cures that are stopped, and what bonds where nothing keeps it apart.

Families by common practice, no source; what a card says of its own cure goes before. A test patch that passed is entered as a release.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from homunculus.core.job.cards import MaterialCard

BONDS = ("silicone", "urethane rubber", "resin", "laminate", "gypsum", "polyurethane foam")
"""Kinds that bond to their own kind."""
GRIPS: dict[str, tuple[str, ...]] = {
    "urethane rubber": ("resin", "polyurethane foam", "laminate", "gypsum", "board"),
    "resin": ("urethane rubber", "laminate", "gypsum", "board", "polyurethane foam"),
    "polyurethane foam": ("urethane rubber", "resin", "laminate", "gypsum", "board"),
    "laminate": ("resin", "urethane rubber", "gypsum", "board"),
    "gypsum": ("board",),
}
"""Other kinds that they bond to."""


class Contact(NamedTuple):
    """What comes of two that touch."""

    level: Literal["mind", "danger"]
    headline: str
    why: str


def contact(poured: MaterialCard, other: MaterialCard, release: str) -> Contact | None:
    """Say what happens where something is poured or laid against something else; none where nothing does.

    Parameters
    ----------
    poured
        What is wet.
    other
        What it touches.
    release
        What lies between; empty for nothing.
    """
    names = (other.name.casefold(), other.kind.casefold())
    stopped = next((word for word in poured.poisoned_by if any(name.startswith(word.casefold()) for name in names)), "")
    if stopped and not release:
        return Contact("danger", f"{other.name} stops its cure",
                       f"{poured.name} stays soft against {stopped}. Seal it, take another, or log a test patch that passed.")  # fmt: skip
    if release:
        return None
    if poured.kind == other.kind and poured.kind in BONDS:
        return Contact(
            "mind",
            "bonds to its own kind",
            f"{poured.name} against {other.name}, and no release is named: they become one.",
        )
    if other.kind in GRIPS.get(poured.kind, ()):
        return Contact("mind", f"bonds to {other.name}", f"{poured.name} grips {other.name} where no release is named.")
    return None
