"""The plan of a shot's set: what all builds in it share, so that no build's figures have to ask another build's."""

from __future__ import annotations

from typing import NamedTuple

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.figures import Figure, FigureSpec, Given, Phrase, Station, Subject
from homunculus.core.job.cameras import CameraCard, CameraMode, LensCard
from homunculus.core.job.sets import Camera, Place
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import Shot
from homunculus.core.plan.sheet import Level, Mind, Sheet


class InSet(Struct, frozen=True):
    """What a set has to know of a build that stands in it."""

    build: str
    name: str
    scale: float
    inserts: tuple[tuple[str, str, float], ...]
    """Pieces that are enlarged: id, name, how many times."""
    follows: str = ""
    """The build whose scale it takes."""
    stands_m: float = 0.0
    """Height of its foot over the floor, as the build has it."""


class SetContext(Struct, frozen=True, eq=False):
    """All that the figures of one shot's set may depend on."""

    shot: Shot
    standing: tuple[InSet, ...]
    """The builds in it that are worked on, in the order of its needs."""
    shop: Shop
    bodies: tuple[CameraCard, ...]
    lenses: tuple[LensCard, ...]

    @property
    def base(self) -> InSet | None:
        """The build by whose scale it goes: the one that was chosen, else the first; none where no build is in it."""
        chosen = next((b for b in self.standing if b.build == self.shot.base), None)
        return chosen or next(iter(self.standing), None)

    def body(self, camera: Camera) -> CameraCard | None:
        """The card of a ``camera``'s body; the shop's where it names none, and none where that is not here either."""
        wanted = camera.body or self.shop.camera
        return next((card for card in self.bodies if card.id == wanted), None)

    def mode(self, camera: Camera) -> CameraMode | None:
        """How a ``camera`` records: in its own mode, the shop's for the shop's body, else the first."""
        card = self.body(camera)
        if card is None:
            return None
        named = camera.mode or (self.shop.mode if card.id == self.shop.camera else "")
        return next((mode for mode in card.modes if mode.name == named), card.modes[0])

    def lens(self, camera: Camera) -> LensCard | None:
        """The card of a ``camera``'s lens; none where it goes by its own values."""
        return next((card for card in self.lenses if card.id == camera.lens), None)


FULL_SIZE = Given(1.0, "scale", "full size", "what is no build stands as large as it is")


def base_scale(context: SetContext) -> Given:
    """The scale by which the set of a ``context`` goes: that of its main build, or of an insert of it that is seen alone; full size without builds."""
    base = context.base
    if base is None:
        return FULL_SIZE
    named = {piece for use in context.shot.uses if use.build == base.build for piece in use.pieces or ("",)}
    inserts = {piece for piece, _, _ in base.inserts}
    alone = next(iter(sorted(named)), "") if named and named <= inserts else ""
    return scale_in(base, alone)


def scale_in(standing: InSet, insert: str = "") -> Given:
    """The scale of a build as it is ``standing`` in a set, or of one ``insert`` of it by its piece's id."""
    for piece, name, times in standing.inserts:
        if piece == insert:
            return Given(standing.scale / times, "scale", "scale of the insert", name, decided=True)
    return Given(standing.scale, "scale", "scale", standing.name, decided=True)


def moving_with(context: SetContext, build: str) -> frozenset[str]:
    """Of what stands in the set of a ``context`` all that a ``build``'s scale moves: itself, and what follows it, by their ids."""
    found = {build}
    for _ in context.standing:
        found |= {one.build for one in context.standing if one.follows in found}
    return frozenset(found)


def at_times(context: SetContext, build: str, times: float) -> SetContext:
    """The ``context`` with a ``build``, and what follows it, at so many ``times`` its scale number, a bare number."""
    moving = moving_with(context, build)
    standing = tuple(replace(b, scale=b.scale * times) if b.build in moving else b for b in context.standing)
    return replace(context, standing=standing)


class Plane(NamedTuple):
    """Something that stands before the lens at a distance."""

    name: str
    """As its need calls it, and unlike all others of the shot."""
    need: int
    """Which of the shot's needs."""
    build: str
    insert: str
    """The piece, where it is an insert that stands at a scale of its own."""
    scale: Given
    at: Figure | Given
    to: Figure | Given | None
    """Its far side, where it is deep."""
    place: Place

    @property
    def deep(self) -> float:
        """How deep it is [m]: from its near side to its far one; 0 where it stands at one distance."""
        return self.to.number - self.at.number if self.to else 0.0


class SetPlan(Struct, frozen=True, eq=False):
    """Every figure of one shot's set, its planes and its cautions."""

    context: SetContext
    figures: tuple[Figure, ...]
    index: dict[tuple[str, Subject], Figure]
    planes: tuple[Plane, ...]
    minds: tuple[Mind, ...]

    @property
    def shot(self) -> Shot:
        """The shot."""
        return self.context.shot

    @property
    def base(self) -> str:
        """Id of the build by whose scale it goes; empty where no build is in it."""
        return self.context.base.build if self.context.base else ""

    def find(self, spec: FigureSpec, **of: str) -> Figure | None:
        """Return a figure of the set by its ``spec`` and what it is ``of`` besides the shot, or none."""
        return self.index.get((spec.name, Subject(shot=self.shot.id, **of)))

    def refusal(self, camera: str) -> Mind | None:
        """Return what cannot be of a ``camera`` as it is set up; where its moves take it is another matter."""
        said = (m for m in self.minds if m.subject.camera == camera and not m.subject.move)
        return next((m for m in said if m.level == "danger"), None)


class SetSheet(Sheet):
    """Collects a set's figures while it is planned."""

    def __init__(self, context: SetContext) -> None:
        super().__init__()
        self.set = context
        self.planes: list[Plane] = []

    def subject(self, piece: str = "", shot: str = "", **of: str) -> Subject:
        """Name whom a figure speaks of: the set, or something ``of`` it."""
        return Subject("", piece, shot or self.set.shot.id, **of)

    def mind(self, level: Level, station: Station, headline: Phrase, why: Phrase, cost: float, **of: str) -> None:
        """Add a caution of a ``level`` at a ``station``, to be said at the build by which the set goes.

        ``headline`` and ``why`` are its words, ``cost``, a bare number, orders it, and it speaks ``of`` something by the fields of :class:`Subject`.
        """
        base = self.set.base
        subject = Subject(base.build if base else "", shot=self.set.shot.id, **of)
        self.minds.append(Mind(level, station, subject, headline, why, cost))
