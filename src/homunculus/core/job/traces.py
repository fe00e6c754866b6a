"""Forms traced over pictures: a known length and an outline in the picture's own pixels, from the front and, where there is one, from the side."""

from __future__ import annotations

from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.job.bounds import FileName, Size

Pixel = Annotated[float, Meta(ge=-100_000, le=100_000)]
Point = tuple[Pixel, Pixel]
"""Across from the left and down from the top, in pixels of the picture."""
MOST_POINTS = 2000


class View(Struct, frozen=True, forbid_unknown_fields=True):
    """One picture and what was pressed on it."""

    picture: FileName
    known: Annotated[tuple[Point, ...], Meta(max_length=2)] = ()
    """The two ends of the length that somebody knows."""
    known_m: Size | None = None
    """How long that is, real."""
    outline: Annotated[tuple[Point, ...], Meta(max_length=MOST_POINTS)] = ()
    closed: bool = False
    """Whether the outline was brought to its beginning again."""


class Trace(Struct, frozen=True, forbid_unknown_fields=True):
    """The pictures of a piece. Without one from the side it is as deep as it is wide."""

    front: View
    side: View | None = None
