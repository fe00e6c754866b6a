"""Shared Hypothesis strategies: lengths, forms, builds, jobs."""

from __future__ import annotations

from datetime import date, datetime, time, timedelta

from hypothesis import strategies as st
from msgspec.structs import replace

from homunculus import library
from homunculus.core.job.build import Build, Move, Piece, Water
from homunculus.core.job.cards import Cards
from homunculus.core.job.forms import Box, Cylinder, Sphere
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import PLAIN, Additive, BlockMould, JacketMould, Mix, RigidMould
from homunculus.core.job.operations import Cast, Hands, Layer, LayUp, Pour, Wait
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shop import Shop
from homunculus.core.job.shots import (  # fmt: skip
    SIDES,
    WEARS,
    ByBuild,
    ByDecision,
    ByPeople,
    ByStock,
    Deadline,
    FixedRate,
    FrameByFrame,
    Gravity,
    Need,
    Plate,
    ScreenTime,
    Shot,
    whole,
)
from homunculus.core.job.stage import (
    CameraMove,
    Cues,
    Drop,
    Falling,
    Flown,
    MeasuringCard,
    StageAir,
    Stand,
    Tie,
    Travel,
    Wave,
)

_USED = ("silicone-tin-soft", "silicone-platinum-soft", "urethane-rubber-40", "laminate-polyester-mat", "gypsum-fine",
         "resin-casting-slow", "resin-casting-fast", "stir-pigment", "stir-softener", "stir-thickener", "foam-latex", "gelatin-firm",
         "stir-retarder", "stir-thinner", "gel-coat-polyester", "sheet-styrene")  # fmt: skip
CARDS = Cards(
    tuple(c for c in library.materials() if c.id in _USED), library.cameras()[:1], hazards=library.hazards()[:3]
)
RUBBERS = ("silicone-tin-soft", "silicone-platinum-soft", "urethane-rubber-40")


def lengths(low: float = 0.01, high: float = 20.0):
    return st.floats(low, high, allow_nan=False).map(lambda x: float(f"{x:.4g}"))


scales = st.sampled_from((1.0, 2.0, 4.0, 6.0, 8.0, 12.0, 16.0, 24.0, 32.0))
forms = st.one_of(
    st.builds(Box, lengths(0.1), lengths(0.1), lengths(0.1)),
    st.builds(Cylinder, lengths(0.1), lengths(0.1)),
    st.builds(Sphere, lengths(0.1)),
)
additives = st.builds(Additive, st.sampled_from(("pigment", "softener", "thickener")), st.floats(0.0, 0.5))
mixes = st.one_of(
    st.just(PLAIN),
    st.builds(lambda a: (Mix("", 1.0, (a,)),), additives),
    st.lists(st.tuples(st.floats(0.05, 1.0), st.lists(additives, max_size=2, unique_by=lambda a: a.name)), min_size=2,
             max_size=3).map(lambda rows: tuple(Mix(f"coat {i}", share, tuple(a)) for i, (share, a) in enumerate(rows))),
)  # fmt: skip
moulds = st.one_of(
    st.none(),
    st.builds(JacketMould, st.sampled_from(RUBBERS), lengths(0.003, 0.03), st.just("laminate-polyester-mat"),
              st.integers(1, 4), lengths(0.0, 0.08), mixes=mixes),
    st.builds(BlockMould, st.sampled_from(RUBBERS), lengths(0.005, 0.05), mixes=mixes),
    st.builds(RigidMould, st.sampled_from(("gypsum-fine", "resin-casting-slow")), lengths(0.01, 0.05),
              st.one_of(st.just(0.0), lengths(0.002, 0.05)), mixes=mixes),
)  # fmt: skip


@st.composite
def routes(draw, piece):
    """A route that fits the piece: its mould whole or half by half, a coat, castings."""
    route = [Hands("sculpt", work_s=3600 * draw(lengths(1, 30)), work_s_per_m2=3600 * draw(lengths(0.5, 5)))]
    halves = draw(st.integers(1, 2))
    if isinstance(piece.mould, JacketMould):
        route += [LayUp(f"jacket-{i}", mixes=draw(mixes)) for i in range(halves)]
    if piece.mould:
        route += [Pour(f"rubber-{i}", share=draw(st.sampled_from((1.0, 2.0)))) for i in range(halves)]
        route += [Cast("castings", mixes=draw(mixes))]
    if draw(st.booleans()):
        route.append(
            Layer("primer", loop="piece", material="resin-casting-slow", thickness_m=0.0002, coats=2, between_s=900.0)
        )
    return tuple(route)


@st.composite
def builds(draw, number: int = 0):
    pieces = []
    for i in range(draw(st.integers(1, 3))):
        pieces.append(Piece(f"p{i}", f"piece {i}", draw(forms), material="resin-casting-slow",
                            wall_m=draw(st.sampled_from((None, 0.003, 0.006))), copies=draw(st.integers(1, 4)),
                            in_all=draw(st.booleans()), only=draw(st.sampled_from(((), ("hero",), ("stunt", "background")))), spares=draw(st.integers(0, 2)),
                            mould=draw(moulds)))  # fmt: skip
    pieces = [replace(piece, route=draw(routes(piece))) for piece in pieces]
    return Build(f"b{number}", f"build {number}", f"build {number}", draw(scales), datetime(2026, 2, 16, 9), tuple(pieces),
                 (Wait("paint-dries", wait_s=12 * 3600.0),), draw(st.integers(1, 3)), bought_parts=draw(st.booleans()), rubber_budget=draw(st.sampled_from((None, 100.0))),
                 water=draw(st.sampled_from((None, Water(2.5)))), moves=draw(st.sampled_from(((), (Move("boat", 5.0),)))))  # fmt: skip


plain_words = st.text("abc dé12'&(", min_size=1, max_size=12).map(lambda s: " ".join(s.split())).filter(bool)
days = st.dates(date(2026, 3, 2), date(2026, 4, 30))
uses = st.builds(
    ByBuild, st.just("b0"), st.sampled_from(((), ("p0",))), st.sampled_from(WEARS),
    st.lists(st.sampled_from(SIDES), unique=True).map(lambda found: tuple(s for s in SIDES if s in found)),
    st.one_of(st.none(), st.integers(1, 100).map(lambda n: n / 100)), st.integers(0, 5),
)  # fmt: skip
covers = st.one_of(st.none(), uses, st.builds(ByStock, plain_words), st.builds(ByPeople, plain_words),
                   st.builds(ByDecision, plain_words, st.one_of(st.none(), days)))  # fmt: skip
quarters = st.integers(1, 400).map(lambda n: n / 4)
places = st.builds(Place, quarters, st.one_of(st.none(), st.integers(401, 900).map(lambda n: n / 4)), st.booleans(), st.booleans(), st.booleans(),
                   st.sampled_from((None, 48.0, 0.4)), st.sampled_from((0.0, 0.25, -1.5)), st.sampled_from((None, 0.9, -0.25)), st.sampled_from((0.0, 20.0, -7.5)),
                   st.sampled_from((None, 2.0)), st.sampled_from((None, 1.125)))  # fmt: skip
needs = st.builds(Need, plain_words, covers, st.one_of(st.none(), places))
depths = st.builds(Depth, lengths(1.0, 20.0), st.one_of(st.none(), lengths(21.0, 200.0)), st.booleans())
cameras = st.builds(Camera, st.integers(8, 300).map(lambda n: n / 1000), st.one_of(st.none(), depths),
                    shutter_deg=st.sampled_from((180.0, 90.0, 172.8)), iso=st.sampled_from((800.0, 400.0)),
                    focus_m=st.one_of(st.none(), quarters), stop=st.sampled_from((None, 5.6, 11.0)),
                    height_m=st.sampled_from((None, 1.25, -0.5)), back_m=st.sampled_from((0.0, 0.4, -0.2)),
                    exposure_s=st.sampled_from((None, 0.5)), filters=st.sampled_from((0.0, 2.0)), across_m=st.sampled_from((0.0, 0.2, -0.3)),
                    pan_deg=st.sampled_from((0.0, 3.0, -12.5)), tilt_deg=st.sampled_from((0.0, 2.0, -4.5)), roll_deg=st.sampled_from((0.0, 1.0)))  # fmt: skip
ties = st.lists(
    st.builds(Tie, st.sampled_from(("tow eye", "winch line")), lengths(10, 900), st.sampled_from((5.0, 8.0))),
    max_size=2,
    unique_by=lambda t: t.name,
).map(tuple)
starts, lasts = st.sampled_from((0.0, 0.5, 2.25)), st.sampled_from((None, 0.75, 3.0))
actions = st.one_of(
    st.builds(Travel, st.just("tow"), st.just("b0"), lengths(0.5, 20), starts, lasts, st.sampled_from((90.0, -75.0)), lengths(0.02, 3), st.sampled_from((0.05, 0.2)),
              st.sampled_from((0.0, -2.5)), st.sampled_from((None, 0.004)), st.sampled_from((0.1, 0.25)), st.sampled_from((None, 12.5)), ties),
    st.builds(Flown, st.just("flight"), st.just("b0"), lengths(0.5, 9), starts, lasts, st.sampled_from((90.0, 0.0)), lengths(0.5, 4), st.integers(1, 4),
              st.sampled_from((None, 0.0, 1.5)), st.sampled_from((None, 2.0)), ties),
    st.builds(Cues, st.just("pins"), st.just("b0"), st.integers(1, 40), lengths(0.1, 3), starts, lasts, st.sampled_from((None, 10.0))),
    st.builds(lambda spots: Cues("spots", "b0", len(spots), places_m=tuple(spots)), st.lists(lengths(0.01, 2), min_size=1, max_size=5)),
    st.builds(Drop, st.just("fall"), st.just("b0"), lengths(0.5, 30), starts), st.builds(Wave, st.just("swell"), st.just("b0"), lengths(0.5, 60), starts, lasts),
    st.builds(Falling, st.just("snow"), lengths(5e-5, 3e-3), lengths(100, 2000), st.sampled_from(("", "b0")), lengths(0.001, 0.2), lengths(0.5, 20), starts, lasts,
              st.sampled_from((None, 2.5)), st.booleans()),
    st.builds(CameraMove, st.just("slider"), st.sampled_from(("", "B")), *(st.sampled_from((0.0, 0.3, -0.125)) for _ in range(3)), *(st.sampled_from((0.0, 4.0, -7.5)) for _ in range(3)),
              st.sampled_from((2.0, 0.75)), starts, lasts, st.sampled_from((0.2, 0.0, 0.35)), st.sampled_from((0.0, 0.001))),
)  # fmt: skip
many_actions = st.lists(actions, max_size=3, unique_by=lambda a: a.name).map(tuple)
clear = st.builds(
    StageAir,
    ice_kg_h=st.sampled_from((0.0, 12.0)),
    ice_s=st.sampled_from((900.0, 600.0)),
    changes_h=st.sampled_from((1.0, 2.5)),
)
airs = st.one_of(
    st.none(),
    clear,
    st.builds(
        lambda air, sight, at: replace(air, sight_m=sight, threshold_pct=at),
        clear,
        lengths(50, 5000),
        st.sampled_from((2, 5)),
    ),
)
stands = st.builds(
    Stand,
    st.sampled_from(("lens stand", "lamp 2", "table")),
    lengths(1, 6),
    lengths(1, 6),
    st.sampled_from(("left", "right")),
)
cards = st.one_of(
    st.none(),
    st.builds(
        MeasuringCard,
        st.sampled_from((4.0, 2.5)),
        stands=st.lists(stands, min_size=1, max_size=2, unique_by=lambda s: s.name).map(tuple),
    ),
)
plates = st.builds(Plate, plain_words, st.one_of(st.none(), lengths(0.01, 0.05)), st.one_of(st.none(), lengths(0.01, 0.3)),
                   height_m=st.one_of(st.none(), st.integers(-20, 50).map(float)), tilt_deg=st.one_of(st.none(), st.integers(-30, 30).map(float)), roll_deg=st.sampled_from((None, 1.5)),
                   stop=st.sampled_from((None, 5.6, 11.0)), iso=st.sampled_from((None, 400.0)))  # fmt: skip
full_shots = st.builds(
    Shot, st.integers(1, 300).map(str), plain_words, lengths(0.5, 60), days, st.lists(needs, max_size=4).map(tuple),
    st.sampled_from((Gravity(), Gravity(1.5), ScreenTime(18000.0), ScreenTime(40.0), FixedRate(48.0), FrameByFrame(1), FrameByFrame(6))),
    call=st.times(time(5), time(20)).map(lambda t: t.replace(second=0, microsecond=0)),
    unit=plain_words, order=st.integers(0, 9), cut=st.integers(0, 99), plate=st.one_of(st.none(), plates),
    cameras=st.one_of(st.just(()), cameras.map(lambda c: (c,)), st.builds(lambda a, b: (a, replace(b, name="B")), cameras, cameras)),
    disagreed=st.just(""), eye_real_m=st.sampled_from((None, 8.5, -2.0)), air=airs, card=cards, actions=many_actions, lit_m2=st.sampled_from((None, 6.5)), ends_as=plain_words,
    deadlines=st.lists(st.builds(Deadline, st.sampled_from(("plate to compositing", "clean-up")), st.integers(-30, 60),
                                 st.sampled_from(("", "lab"))), max_size=2).map(tuple),
)  # fmt: skip


@st.composite
def jobs(draw):
    made = tuple(draw(builds(i)) for i in range(draw(st.integers(1, 3))))
    shots = []
    for i in range(draw(st.integers(0, 4))):
        rule = draw(st.sampled_from((Gravity(), Gravity(1.5), ScreenTime(40.0), FixedRate(48.0))))
        seen = draw(st.sampled_from(((), (Camera(0.035, Depth(20.0, 60.0)),))))
        names = tuple(b.id for b in made if draw(st.booleans()))
        shots.append(
            Shot(
                str(i),
                f"shot {i}",
                draw(lengths(1, 20)),
                date(2026, 3, 17) + timedelta(days=i),
                whole(*names),
                rule,
                cameras=seen,
                air=draw(airs),
                card=draw(cards),
                actions=draw(many_actions) if names else (),
            )
        )
    return Job("a job", Shop(camera="cinema-150"), made, tuple(shots), CARDS)
