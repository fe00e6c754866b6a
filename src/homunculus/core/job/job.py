"""The data of a job: frozen values, every field with its unit in its name.

An edit makes a new job that shares what did not change. Bounds are declared once, as part of the
types: they check files on opening and typed values at the screen (:mod:`homunculus.core.edits.decisions`).
"""

from __future__ import annotations

from functools import cached_property
from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.errors import UserError
from homunculus.core.job.build import Build
from homunculus.core.job.cameras import CameraMode
from homunculus.core.job.cards import Cards
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import Shot

SCHEMA = 11


class Job(Struct, frozen=True, forbid_unknown_fields=True, dict=True):
    """Everything that is planned. The log of what was done is kept apart."""

    name: str
    shop: Shop
    builds: tuple[Build, ...]
    shots: tuple[Shot, ...] = ()
    cards: Cards = Cards()
    begun: tuple[str, ...] = ()
    """Values of the shop that nobody has decided yet, by their keys: a card or a country began them."""
    left: Annotated[tuple[str, ...], Meta(max_length=100_000)] = ()
    """Newer cards of the shelf that somebody chose not to follow: sort, id and content of each."""

    @cached_property
    def cast(self) -> tuple[Build, ...]:
        """The builds that are worked on; what was put away is none of them."""
        return tuple(build for build in self.builds if not build.put_away)

    @property
    def mode(self) -> CameraMode:
        """How the shop's camera records.

        Raises
        ------
        UserError
            When the job carries no such camera.
        """
        return self.cards.camera(self.shop.camera).mode(self.shop.mode)

    def build(self, build_id: str) -> Build:
        """Find a build by its id.

        Parameters
        ----------
        build_id
            The stable id, not the name.

        Raises
        ------
        UserError
            When there is none; the message lists those there are.
        """
        for build in self.builds:
            if build.id == build_id:
                return build
        known = ", ".join(b.id for b in self.builds)
        raise UserError(f"There is no build “{build_id}”", "job", f"Choose one of: {known}")
