"""What may touch what: cures that are stopped, and what bonds where nothing keeps it apart.

Which families a material grips, and what stops its cure, its card says. A test patch that passed is entered as a release.
"""

from __future__ import annotations

from typing import Literal, NamedTuple

from homunculus.core.job.cards import MaterialCard


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
    names = (other.name.casefold(), other.family.casefold())
    stopped = next((word for word in poured.poisoned_by if any(name.startswith(word.casefold()) for name in names)), "")
    if stopped and not release:
        return Contact("danger", f"{other.name} stops its cure",
                       f"{poured.name} stays soft against {stopped}. Seal it, take another, or log a test patch that passed.")  # fmt: skip
    if release:
        return None
    if other.family not in poured.bonds_to:
        return None
    if poured.family == other.family:
        return Contact(
            "mind",
            "bonds to its own kind",
            f"{poured.name} against {other.name}, and no release is named: they become one.",
        )
    return Contact("mind", f"bonds to {other.name}", f"{poured.name} grips {other.name} where no release is named.")
