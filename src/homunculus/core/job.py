"""The data of a job: frozen values, every field with its unit in its name.

An edit makes a new job that shares what did not change. Bounds are declared once, here, as part of the
type: they check files on opening and typed values at the screen (:mod:`homunculus.core.edits`).
"""

from __future__ import annotations

from datetime import date, time
from typing import Annotated

from msgspec import Meta, Struct

from homunculus.core.bounded import (
    Celsius,
    Chance,
    ClockTime,
    Confidence,
    Count,
    Denominator,
    Handling,
    Hours,
    Kilograms,
    Lag,
    Length,
    Moment,
    Place,
    Rate,
    Share,
    Size,
    Thickness,
    Vessel,
)
from homunculus.core.cards import Cards
from homunculus.core.counts import Frozen, SignOff, Variant, Wanted
from homunculus.core.errors import UserError
from homunculus.core.shots import Shot

SCHEMA = 5


# ------------------------------------------------------------------------------------------- forms
class Box(Struct, frozen=True, forbid_unknown_fields=True, tag="box"):
    """A box: length along the view, depth away from it, height."""

    length_m: Size
    depth_m: Size
    height_m: Size


class Cylinder(Struct, frozen=True, forbid_unknown_fields=True, tag="cylinder"):
    """An upright cylinder, or with two diameters a cone cut off flat."""

    diameter_m: Size
    height_m: Size
    top_diameter_m: Length | None = None


class Sphere(Struct, frozen=True, forbid_unknown_fields=True, tag="sphere"):
    """A ball."""

    diameter_m: Size


class Section(Struct, frozen=True, forbid_unknown_fields=True):
    """One measured section: height above the foot, width and depth across."""

    at_m: Length
    width_m: Length
    depth_m: Length


class Sections(Struct, frozen=True, forbid_unknown_fields=True, tag="sections"):
    """A form measured in sections from foot to top, each taken as an oval."""

    sections: Annotated[tuple[Section, ...], Meta(min_length=2, max_length=500)]


class WeighedClay(Struct, frozen=True, forbid_unknown_fields=True, tag="weighed"):
    """A sculpt known by the weight of its clay and its three outer sizes."""

    mass_kg: Kilograms
    clay_density_kg_m3: Annotated[float, Meta(ge=10, le=25000)]
    length_m: Size
    depth_m: Size
    height_m: Size


class Mesh(Struct, frozen=True, forbid_unknown_fields=True, tag="mesh"):
    """A closed triangle mesh, kept in the job folder under the hash of its content."""

    content: Annotated[str, Meta(pattern="^[0-9a-f]{64}$")]
    file_name: str
    unit_m: Annotated[float, Meta(ge=1e-6, le=1000)]
    """Metres that one unit of the file stands for."""


Form = Box | Cylinder | Sphere | Sections | WeighedClay | Mesh


# ------------------------------------------------------------------------------------------ moulds
class Additive(Struct, frozen=True, forbid_unknown_fields=True):
    """Something stirred in: pigment, softener, thickener, as a share of the weight of the material's own parts."""

    name: str
    share: Annotated[float, Meta(ge=0, le=0.5)]
    card: str = ""
    """Its card, which says density, price and what it does to the pot life; by its name when empty."""


class Mix(Struct, frozen=True, forbid_unknown_fields=True):
    """One of the mixes that fill a mould: a print coat, a colour. Without a name it is the only one."""

    name: str = ""
    share: Annotated[float, Meta(gt=0, le=1)] = 1.0
    """Of the whole pour; shares are taken in proportion."""
    additives: tuple[Additive, ...] = ()


PLAIN = (Mix(),)


class JacketMould(Struct, frozen=True, forbid_unknown_fields=True, tag="jacketed"):
    """A two-half mould: a rubber blanket over the form, in a laminated jacket with flanges."""

    rubber: str
    blanket_m: Thickness
    laminate: str
    layers: Annotated[int, Meta(ge=1, le=20)] = 3
    flange_m: Annotated[float, Meta(ge=0, le=0.3)] = 0.04
    keys: Share = 0.04
    """Keys, spout and vents, as a share of the blanket."""
    waste: Share = 0.08
    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 5e-5
    lag_s: Lag = 3600.0
    """Time constant with which the filled mould follows the air."""
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.blanket_m

    @property
    def poured(self) -> str:
        """The material that the mould is poured of."""
        return self.rubber


class BlockMould(Struct, frozen=True, forbid_unknown_fields=True, tag="block"):
    """A box filled with rubber around the form."""

    rubber: str
    wall_m: Thickness
    waste: Share = 0.05
    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 5e-5
    lag_s: Lag = 3600.0
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.wall_m

    @property
    def poured(self) -> str:
        """The material that the mould is poured of."""
        return self.rubber


class RigidMould(Struct, frozen=True, forbid_unknown_fields=True, tag="rigid"):
    """A rigid mould of two halves closed all round; with a gap, a core hangs inside and the gap is the skin."""

    stone: str
    """What is poured: a card of gypsum or casting resin."""
    wall_m: Thickness
    """Least wall around the form."""
    gap_m: Annotated[float, Meta(ge=0, le=0.2)] = 0.0
    """Between form and core: how thick the skin comes out; 0 for a solid casting without a core."""
    waste: Share = 0.1
    least_waste_m3: Annotated[float, Meta(ge=0, le=1)] = 2e-4
    lag_s: Lag = 3600.0
    mixes: Annotated[tuple[Mix, ...], Meta(min_length=1)] = PLAIN
    keyed: bool = False
    """Whether its batches may be layers keyed on purpose, and need not run into one body."""

    @property
    def layer_m(self) -> float:
        """How thick what is poured lies [m]."""
        return self.wall_m

    @property
    def poured(self) -> str:
        """The material that the mould is poured of."""
        return self.stone


Mould = JacketMould | BlockMould | RigidMould


# ------------------------------------------------------------------------------------------- steps
class Hands(Struct, frozen=True, forbid_unknown_fields=True, tag="hands"):
    """Work by hand, in shop hours."""

    name: str
    hours: Hours = 0.0
    hours_per_m2: Hours = 0.0
    """Added for every square metre of the piece's surface as built."""
    piece: str = ""


class LayUp(Struct, frozen=True, forbid_unknown_fields=True, tag="lay-up"):
    """Laminating the jacket of a piece's mould, half by half."""

    piece: str
    hours_per_m2: Hours = 3.0


class PourRubber(Struct, frozen=True, forbid_unknown_fields=True, tag="pour"):
    """Mixing and pouring the rubber of a piece's mould, then leaving it alone."""

    piece: str


class CastCopies(Struct, frozen=True, forbid_unknown_fields=True, tag="cast"):
    """Making all castings of a piece, one after another from each of its moulds."""

    piece: str
    hands_per_casting_h: Hours = 0.5


class Dry(Struct, frozen=True, forbid_unknown_fields=True, tag="dry"):
    """Waiting without hands: air-drying, soaking, growing."""

    name: str
    hours: Hours


Step = Hands | LayUp | PourRubber | CastCopies | Dry


# ------------------------------------------------------------------------------------------- builds
class Piece(Struct, frozen=True, forbid_unknown_fields=True):
    """One part of a build."""

    id: str
    name: str
    form: Form
    drawn_at: Denominator = 1.0
    """Scale at which the form is drawn: 1 when its sizes are the real ones."""
    enlarged: Annotated[float, Meta(ge=0.05, le=20)] = 1.0
    """Size over that of the build: 2.5 for an insert at 250 % of it. Inserts do not count as its height."""
    material: str = ""
    """What the finished piece is made of; a card of the job."""
    wall_m: Thickness | None = None
    """Wall of a hollow piece as built; none for a solid one."""
    copies: Count = 1
    """How many of it one figure has."""
    worn: Count | None = None
    """How many of these hang on one figure at once; all when none is said. Of a library of faces it is one."""
    waste: Share = 0.05
    """Material lost with every casting: wetting, sprue, what stays in the cup."""
    variants: tuple[Variant, ...] = ()
    """Forms that it comes in, each with a mould of its own; none when all are alike."""
    good: Chance = 1.0
    """Share of its castings that come out good."""
    at_m: tuple[Place, Place] = (0.0, 0.0)
    """Where its foot stands in the side view, real metres: along, up."""
    mould: Mould | None = None


class Water(Struct, frozen=True, forbid_unknown_fields=True):
    """Water in the shot: the size of what it does, in real metres."""

    wave_m: Size


class Move(Struct, frozen=True, forbid_unknown_fields=True):
    """Something that must appear to move at a real speed."""

    name: str
    real_m_s: Annotated[float, Meta(gt=0, le=20000)]
    shots: tuple[str, ...] = ()
    """The shots in which it moves; all of the build's when none is named."""


class Intercut(Struct, frozen=True, forbid_unknown_fields=True):
    """A double that must cut together with a full-size one: one dimension, real and as it was built."""

    what: str
    real_m: Size
    built_m: Size


class Build(Struct, frozen=True, forbid_unknown_fields=True):
    """One thing the workshop makes."""

    id: str
    name: str
    called: str
    """How a question names it: “the lighthouse”."""
    scale: Denominator
    starts: Moment
    """When work on it may begin."""
    pieces: tuple[Piece, ...]
    steps: tuple[Step, ...] = ()
    wanted: Wanted = Wanted()
    frozen: Frozen | None = None
    signoffs: tuple[SignOff, ...] = ()
    """Those that it needs before its moulds are begun."""
    bought_parts: bool = False
    rubber_budget: Annotated[float, Meta(ge=0, le=1e9)] | None = None
    water: Water | None = None
    moves: tuple[Move, ...] = ()
    intercut: Intercut | None = None
    stands_m: Length = 0.0
    """Height of its foot above the stage floor."""


# --------------------------------------------------------------------------------------------- shop
class Stage(Struct, frozen=True, forbid_unknown_fields=True):
    """The stage: its room, and what the lamps take from the height."""

    width_m: Size
    depth_m: Size
    height_m: Size
    lamps_m: Length = 0.8


class ShopHours(Struct, frozen=True, forbid_unknown_fields=True):
    """When hands work."""

    opens: ClockTime = time(9, 0)
    closes: ClockTime = time(18, 0)
    """Before it opens: then the shift goes past midnight."""
    weekdays: tuple[Annotated[int, Meta(ge=0, le=6)], ...] = (0, 1, 2, 3, 4)
    """Monday is 0."""
    days_off: Annotated[tuple[date, ...], Meta(max_length=3000)] = ()
    """Holidays and days on which nobody comes, as dates: no later version of a calendar moves a plan."""
    country: str = ""
    """Whose public holidays were written into the days off."""


class Air(Struct, frozen=True, forbid_unknown_fields=True):
    """The shop's temperature: warm by day, cold by night."""

    day_c: Celsius = 21.0
    night_c: Celsius = 14.0
    warm_from: ClockTime = time(8, 0)
    warm_to: ClockTime = time(18, 0)
    zone: str = ""
    """Time zone by which the shop's clocks change (IANA name); none: they do not."""
    humidity: Share = 0.5
    """Relative humidity of the air, by which things dry."""


class Mixing(Struct, frozen=True, forbid_unknown_fields=True):
    """How the shop mixes."""

    vessel_m3: Vessel = 0.003
    head_room: Annotated[float, Meta(ge=1, le=10)] = 4.0
    """The vessel's volume over the mix's: silicone rises when air is drawn out."""
    handling_s: Handling = 420.0
    """Weighing, stirring, drawing the air out and pouring one batch, whatever its size."""
    handling_s_per_kg: Handling = 240.0
    margin: Share = 0.15
    """Part of the pot life that is kept in hand."""
    bucket_m3: Vessel = 0.012
    """The bucket for what no air is drawn out of."""
    bucket_head_room: Annotated[float, Meta(ge=1, le=10)] = 1.35
    plain_s: Handling = 90.0
    """Weighing, stirring and pouring one batch of it, whatever its size."""
    plain_s_per_kg: Handling = 20.0
    hands: Annotated[int, Meta(ge=1, le=20)] = 1
    """How many mix side by side."""


class Shop(Struct, frozen=True, forbid_unknown_fields=True):
    """What all builds share."""

    base_rate_fps: Rate = 24.0
    camera: str = ""
    delivery_px: Annotated[int, Meta(ge=100, le=100000)] = 4096
    sharp_px: Annotated[float, Meta(ge=0.5, le=10)] = 3.0
    """Delivered pixels of blur that pass as sharp."""
    stage: Stage = Stage(12.0, 8.0, 4.2)
    hours: ShopHours = ShopHours()
    air: Air = Air()
    mixing: Mixing = Mixing()
    carry_kg: Kilograms = 100.0
    hoist_kg: Kilograms = 250.0
    finest_m: Size = 0.0003
    currency: str = "€"
    confidence: Confidence = 0.95
    """With which enough castings come out good and enough takes succeed."""


class Job(Struct, frozen=True, forbid_unknown_fields=True):
    """Everything that is planned. The log of what was done is kept apart."""

    name: str
    shop: Shop
    builds: tuple[Build, ...]
    shots: tuple[Shot, ...] = ()
    cards: Cards = Cards()

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


def piece_of(build: Build, piece_id: str) -> Piece:
    """Find a piece of a build.

    Parameters
    ----------
    build
        The build to look in.
    piece_id
        The stable id of the piece.

    Raises
    ------
    UserError
        When the build has no such piece.
    """
    for piece in build.pieces:
        if piece.id == piece_id:
            return piece
    raise UserError(f"“{build.name}” has no piece “{piece_id}”", "job", "Name one of its pieces")
