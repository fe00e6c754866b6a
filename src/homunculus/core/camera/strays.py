"""What a set's one rate does to things that are built at another scale than the one that decides it."""

from __future__ import annotations

from homunculus.core.showing import show_scale


def strays(scale: float, base: float) -> float:
    """How many times too fast something at a ``scale`` falls in a set that goes by the ``base`` scale; under 1 too slowly."""
    return scale / base


STRAYS = 1.25
"""From how many times on what falls too fast or too slowly is minded: common practice, no source."""


def stray_words(scale: float, base: float) -> str:
    """Say how what stands at a ``scale`` looks in a set that goes by ``base``."""
    share = strays(scale, base)
    pace = (
        f"{share:.2g} times too fast: it looks small" if share > 1 else f"{1 / share:.2g} times too slowly: it floats"
    )
    return f"At {show_scale(scale)} among {show_scale(base)} it falls {pace}"
