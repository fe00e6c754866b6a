"""Cards of camera bodies with their modes, and of lenses."""

from __future__ import annotations

from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.errors import UserError
from homunculus.core.job.bounds import Rate
from homunculus.core.job.decided import told
from homunculus.core.job.sourced import Sourced


class CameraMode(Struct, frozen=True, forbid_unknown_fields=True):
    """One way in which a body records: the part of the sensor that is read, how many pixels, at which rates."""

    name: str
    rates_fps: Annotated[tuple[Rate, ...], Meta(min_length=1, max_length=1000)]
    sensor_width_m: Annotated[Sourced, told("wide", "length")]
    sensor_height_m: Annotated[Sourced, told("high", "length")]
    pixels_across: Annotated[Sourced, told("pixels across", "pixels")]

    @property
    def ratio(self) -> float:
        """Height over width of its picture."""
        return self.sensor_height_m.value / self.sensor_width_m.value


class CameraCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A camera body."""

    id: str
    name: str
    modes: Annotated[tuple[CameraMode, ...], Meta(min_length=1, max_length=100)]
    flange_m: Annotated[Sourced | None, told("mount to image plane", "length")] = None

    def mode(self, name: str) -> CameraMode:
        """Find the mode of a ``name``; the first where none is named.

        Raises
        ------
        UserError
            When the body has no such mode.
        """
        if not name:
            return self.modes[0]
        for mode in self.modes:
            if mode.name == name:
                return mode
        raise UserError(
            f"{self.name} has no mode “{name}”", "cards", f"Choose one of: {', '.join(m.name for m in self.modes)}"
        )


class LensCard(Struct, frozen=True, forbid_unknown_fields=True):
    """A lens of one focal length."""

    id: str
    name: str
    focal_m: Annotated[Sourced, told("focal length", "focal_length")]
    widest: Annotated[Sourced, told("widest stop", "stop")]
    narrowest: Annotated[Sourced, told("narrowest stop", "stop")]
    nearest_m: Annotated[Sourced, told("nearest focus", "length")]
    nearest_from: Literal["sensor", "front"] = "sensor"
    """From where the nearest focus is measured."""
    t_widest: Annotated[Sourced | None, told("widest T-stop", "stop")] = None
    """What it lets through, wide open; none: taken as its f-number."""
    front_m: Annotated[Sourced | None, told("front, across", "length")] = None
    length_m: Annotated[Sourced | None, told("length from the mount", "length")] = None
    pupil: Annotated[Sourced | None, told("pupil magnification", "factor")] = None
    """Exit pupil over entrance pupil."""


_OVER_NOUGHT = (
    "focal_m", "widest", "narrowest", "t_widest", "nearest_m", "front_m", "length_m", "pupil",
    "sensor_width_m", "sensor_height_m", "pixels_across", "flange_m",
)  # fmt: skip


def odd_optics(card: CameraCard | LensCard) -> str:
    """Name the first value of a ``card`` that cannot be. Empty when all can be."""
    for one in (card, *card.modes) if isinstance(card, CameraCard) else (card,):
        for field in _OVER_NOUGHT:
            sourced = getattr(one, field, None)
            if sourced is not None and not 1e-12 < sourced.value < 1e8:
                return f"{field} of {card.name} is {sourced.value:g}"
    if isinstance(card, CameraCard):
        twice = {mode.name for mode in card.modes}
        return "" if len(twice) == len(card.modes) else f"two modes of {card.name} have one name"
    return f"{card.name} opens less than it closes" if card.widest.value > card.narrowest.value else ""
