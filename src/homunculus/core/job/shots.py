"""Shots: what the camera takes, when, and what has to be there for it. Plain data, like the rest of a job."""

from __future__ import annotations

import re
from datetime import date, time
from functools import cached_property, lru_cache
from typing import Annotated, Literal

from msgspec import Meta, Struct

from homunculus.core.job.bounds import Chance, ClockTime, Count, FileName, Moment, Rate, Seconds, Sensor, Size, Stop
from homunculus.core.job.sets import Camera, Focal, Lean, Place
from homunculus.core.job.stage import Action, MeasuringCard, StageAir

Wear = Literal["pristine", "soiling", "destructive"]
WEARS: tuple[Wear, ...] = ("pristine", "soiling", "destructive")
Side = Literal["front", "back", "left", "right", "top", "inside"]
SIDES: tuple[Side, ...] = ("front", "back", "left", "right", "top", "inside")


# ------------------------------------------------------------------------------------ frame rates
class Gravity(Struct, frozen=True, forbid_unknown_fields=True, tag="gravity"):
    """Frame rate by the square root of the scale; ``faster`` over 1 for collapses and blasts."""

    faster: Annotated[float, Meta(ge=1, le=2.5)] = 1.0


class ScreenTime(Struct, frozen=True, forbid_unknown_fields=True, tag="screen-time"):
    """Frame rate from how long the event takes and how long it shall show."""

    event_s: Seconds


class FixedRate(Struct, frozen=True, forbid_unknown_fields=True, tag="fixed"):
    """A frame rate chosen by hand."""

    rate_fps: Rate


class FrameByFrame(Struct, frozen=True, forbid_unknown_fields=True, tag="frame-by-frame"):
    """Animated by hand, one exposure held for so many frames: on ones, twos, threes."""

    hold: Annotated[int, Meta(ge=1, le=24)] = 2


FrameRule = Gravity | ScreenTime | FixedRate | FrameByFrame


# ------------------------------------------------------------------------------------------ plates
class Plate(Struct, frozen=True, forbid_unknown_fields=True):
    """A live plate that the shot must cut to, as the camera sheet has it; what was not written down is none."""

    format: str = ""
    """What the camera sheet calls it."""
    sensor_width_m: Sensor | None = None
    focal_m: Focal | None = None
    height_m: Annotated[float, Meta(ge=-100, le=1000)] | None = None
    """Of the lens over the ground that shows."""
    tilt_deg: Lean | None = None
    """Up is plus."""
    roll_deg: Lean | None = None
    """Clockwise is plus."""
    picture: FileName = ""
    """File name in the job folder's ``pictures``."""
    distance_m: Size | None = None
    """From the lens to what the build replaces."""
    rate_fps: Rate | None = None
    shutter_deg: Annotated[float, Meta(gt=0, le=360)] | None = None
    stop: Stop | None = None
    iso: Annotated[float, Meta(ge=25, le=25600)] | None = None


# ------------------------------------------------------------------------------------------ needs
class ByBuild(Struct, frozen=True, forbid_unknown_fields=True, tag="build"):
    """Covered by a build of this job, or by some of its pieces."""

    build: str
    pieces: tuple[str, ...] = ()
    """All pieces when empty."""
    wear: Wear = "pristine"
    """Pristine: must be fresh, stays fresh. Soiling: may be soiled, is soiled after. Destructive: gone after."""
    sides: tuple[Side, ...] = ()
    """The sides that the camera sees; empty when nobody said."""
    chance: Chance | None = None
    """Destructive: chance that one take is good. With it, copies are broken and the thing itself is spared."""
    resets: Count = 0
    """Destructive: how many more takes one copy can be put together for again."""
    at_once: Annotated[int, Meta(ge=1, le=100_000)] = 1
    """How many of it the picture shows."""
    passes: Annotated[int, Meta(ge=1, le=1000)] = 1
    """In how many passes of the same move they are taken and laid over each other: each shows as many as there are models."""


class ByStock(Struct, frozen=True, forbid_unknown_fields=True, tag="stock"):
    """Covered by something that is there."""

    item: str


class ByPeople(Struct, frozen=True, forbid_unknown_fields=True, tag="people"):
    """Covered by somebody who is called for the day."""

    who: str


class ByDecision(Struct, frozen=True, forbid_unknown_fields=True, tag="decision"):
    """Not covered yet, but somebody decides it: what, and by when."""

    question: str
    by: date | None = None


Cover = ByBuild | ByStock | ByPeople | ByDecision


class Need(Struct, frozen=True, forbid_unknown_fields=True):
    """One thing that a shot needs, in the words of the script, what covers it, none when nothing does, and where it stands."""

    what: str
    cover: Cover | None = None
    place: Place | None = None
    """Where it stands before the lens; none while nobody has said."""


# ------------------------------------------------------------------------------------ on the floor
class Setup(Struct, frozen=True, forbid_unknown_fields=True):
    """How the floor stood when the shot was taken, so that it can be put up again."""

    stands: str = ""
    lamps: str = ""
    lens: str = ""
    state: str = ""
    """Of the model or puppet."""
    picture: FileName = ""
    """File name in the job folder's ``pictures``."""
    at: Moment | None = None
    by: str = ""


class Check(Struct, frozen=True, forbid_unknown_fields=True):
    """One line of a go/no-go list; ``at`` and ``by`` once it was said."""

    what: str
    by: str = ""
    at: Moment | None = None


class Deadline(Struct, frozen=True, forbid_unknown_fields=True):
    """Outside work or post-production that follows the shoot day and moves with it; before it when negative."""

    what: str
    days: Annotated[int, Meta(ge=-1000, le=1000)]
    who: str = ""


class Shot(Struct, frozen=True, forbid_unknown_fields=True, dict=True):
    """One shot: what is in it, how long, on which day. What is read off its needs is kept beside them, never written."""

    id: str
    name: str
    seconds: Seconds
    day: date
    needs: tuple[Need, ...] = ()
    rule: FrameRule = Gravity()
    base: str = ""
    """The build whose scale governs it; empty: the first that it shows."""
    cameras: Annotated[tuple[Camera, ...], Meta(max_length=100)] = ()
    """The first is the one from whose eye distances are taken."""
    lit_m2: Annotated[float, Meta(ge=1e-4, le=1e6)] | None = None
    """Area that is lit for it; none: estimated from what the camera sees."""
    eye_real_m: Annotated[float, Meta(ge=-1000, le=10_000)] | None = None
    """How high the eye looks over the ground, real; none: as the plate has it, else as its main build stands."""
    air: StageAir | None = None
    card: MeasuringCard | None = None
    actions: Annotated[tuple[Action, ...], Meta(max_length=200)] = ()
    """What moves in it, and how its cameras do."""
    disagreed: str = ""
    """What its builds had said of their cameras before it had one set for all; empty once somebody has settled it."""
    call: ClockTime = time(8, 0)
    unit: str = ""
    """Which unit takes it."""
    order: Count = 0
    """Place within the day; shots without one come first, by call and number."""
    cut: Count = 0
    """Place in the cut, from 1; 0 when no edit list has named it."""
    plate: Plate | None = None
    ends_as: str = ""
    """What its last frame must match."""
    ends_picture: FileName = ""
    """File name in the job folder's ``pictures``."""
    setup: Setup | None = None
    checks: tuple[Check, ...] = ()
    deadlines: tuple[Deadline, ...] = ()

    @cached_property
    def uses(self) -> tuple[ByBuild, ...]:
        """The builds and pieces that cover its needs."""
        return tuple(need.cover for need in self.needs if isinstance(need.cover, ByBuild))

    @cached_property
    def builds(self) -> tuple[str, ...]:
        """Ids of the builds in it, each once."""
        return tuple(dict.fromkeys(use.build for use in self.uses))


def breaking_uses(shot: Shot, build_id: str) -> tuple[tuple[str, ByBuild], ...]:
    """Uses of a build (``build_id``) that a ``shot`` destroys, each with a name of its own.

    The name is that of the pieces; a shot that breaks the same thing twice has “claw” and “claw, 2”.
    """
    found: dict[str, ByBuild] = {}
    for use in shot.uses:
        if use.build == build_id and use.wear == "destructive":
            pieces, number = "+".join(use.pieces), 1
            name = pieces
            while name in found:
                number += 1
                name = f"{pieces}, {number}"
            found[name] = use
    return tuple(found.items())


def screen_time(shots: tuple[Shot, ...]) -> float:
    """Seconds that the ``shots`` are on screen together."""
    return sum(shot.seconds for shot in shots)


def whole(*builds: str) -> tuple[Need, ...]:
    """Needs that are whole builds and nothing else, by the ids of the ``builds``."""
    return tuple(Need(build, ByBuild(build)) for build in builds)


@lru_cache(maxsize=8192)
def natural(words: str) -> tuple[tuple[int, int, str], ...]:
    """A key by which ``words`` sort as people number shots: 9 before 10, 12 before 12a."""
    parts = re.findall(r"\d+|\D+", words)
    return tuple((0, int(p), "") if p.isdecimal() else (1, 0, p.casefold()) for p in parts)


def in_order(shots: tuple[Shot, ...]) -> tuple[Shot, ...]:
    """Return the ``shots`` as they are to be taken: by day, place in the day, call and number."""
    return tuple(sorted(shots, key=lambda s: (s.day, s.order, s.call, natural(s.id))))
