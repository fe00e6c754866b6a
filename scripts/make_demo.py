"""Make the demo job: its meshes, their studies, and the job itself. Run: .venv/bin/python scripts/make_demo.py

Everything in it is invented. The meshes have undercuts and thin parts on purpose.
"""

from __future__ import annotations

import hashlib
import shutil
from datetime import date, datetime
from itertools import pairwise
from pathlib import Path
from typing import Any

import msgspec
import numpy as np
from demo_log import at, log
from demo_shots import shots
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from homunculus import demo, library
from homunculus.core.form.study import study_with_field
from homunculus.core.job.build import Build, Move, Piece, Water
from homunculus.core.job.cards import Cards
from homunculus.core.job.counts import SignOff, SignOffKind, Variant, Wanted
from homunculus.core.job.forms import Box, Cylinder, Mesh, Section, Sections, Sphere, WeighedClay
from homunculus.core.job.job import Job
from homunculus.core.job.moulds import Additive, BlockMould, JacketMould, Mix, RigidMould
from homunculus.core.job.shop import Air, Shop, Stage
from homunculus.core.job.steps import CastCopies, Dry, Hands, LayUp, PourRubber
from homunculus.core.plan.freezing import freeze
from homunculus.core.plan.job_plan import plan
from homunculus.core.session import Pin
from homunculus.store.folder import decode, encode, read_facts

Points = NDArray[np.float64]


# ------------------------------------------------------------------------------------------ meshes
def rough(points: Points, grain: float, seed: int) -> Points:
    """Smooth fixed noise in −1 … 1 at each point: a sum of turned sines of about the grain's size."""
    random = np.random.default_rng(seed)
    total = np.zeros(len(points))
    for octave in range(3):
        turn = random.normal(size=(3, 3))
        turn /= np.linalg.norm(turn, axis=1)[:, None]
        phase = random.uniform(0, 6.28, 3)
        waves = np.sin(points @ turn.T * (2 * np.pi * 2**octave / grain) + phase)
        total += waves.prod(axis=1) / 2**octave
    return total / 1.2


def weathered(solid: Manifold, edge: float, depth: float, grain: float, seed: int) -> Manifold:
    """Refine a solid and push its surface about, away from its own middle axis."""

    def push(points: Points) -> Points:
        amount = depth * rough(points, grain, seed)
        away = points - points.mean(axis=0)
        away[:, 2] *= 0.3
        length = np.linalg.norm(away, axis=1, keepdims=True)
        moved: Points = points + away / np.maximum(length, 1e-9) * amount[:, None]
        return moved

    return solid.refine_to_length(edge).warp_batch(push)


def lathe(profile: list[tuple[float, float]], around: int = 96) -> Manifold:
    """Turn a profile of (radius, height) about the vertical."""
    return Manifold.revolve(CrossSection([[*profile]]), around)


def rod(a: tuple[float, float, float], b: tuple[float, float, float], ra: float, rb: float, n: int = 20) -> Manifold:
    """A round-ended rod between two points."""
    return Manifold.batch_hull([Manifold.sphere(ra, n).translate(a), Manifold.sphere(rb, n).translate(b)])


def tower() -> Manifold:
    """A tapered stone tower with a door, windows and a corbelled head; real metres."""
    body = lathe([(0, 0), (3.0, 0), (2.85, 0.8), (2.55, 1.0), (1.75, 12.9), (2.2, 13.4), (2.2, 13.8), (0, 13.8)])
    door = Manifold.cube((1.2, 1.6, 2.4), True).translate((0.0, -2.6, 2.0))
    windows = [Manifold.cube((0.5, 1.2, 0.9), True).translate((0, -2.2, h)) for h in (5.0, 8.0, 11.0)]
    sides = [w.rotate((0, 0, 90)) for w in windows]
    solid = body - Manifold.batch_boolean([door, *windows, *sides], _add())

    def courses(points: Points) -> Points:
        groove = 0.045 * (np.abs((points[:, 2] / 0.62) % 1 - 0.5) > 0.44) * (points[:, 2] > 1.1)
        out = points.copy()
        radius = np.hypot(points[:, 0], points[:, 1])
        factor = 1 - (groove - 0.03 * rough(points, 0.9, 3)) / np.maximum(radius, 0.3) * (radius > 0.8)
        out[:, :2] *= factor[:, None]
        return out

    return solid.refine_to_length(0.14).warp_batch(courses)


def gallery() -> Manifold:
    """The lantern gallery that breaks away: deck, rail on posts, glazed drum, roof with ball; foot at 0."""
    deck = lathe([(0, 0), (1.5, 0), (1.75, 0.35), (2.1, 0.45), (2.1, 0.62), (0, 0.62)])
    drum = lathe([(0, 0.6), (1.15, 0.6), (1.15, 2.5), (1.35, 2.6), (1.35, 2.75), (0.12, 3.7), (0.12, 3.75), (0, 3.75)])
    panes = [Manifold.cube((0.5, 1.0, 1.1), True).translate((1.3, 0, 1.65)).rotate((0, 0, 45 * k)) for k in range(8)]
    panes = [p.scale((1, 1, 1)) for p in panes]
    ball = Manifold.sphere(0.28, 32).translate((0, 0, 3.92))
    rail = [_ring(1.95, 0.05, h) for h in (1.1, 1.55)]
    posts = [
        Manifold.cylinder(1.0, 0.05, 0.05, 10).translate((1.95, 0, 0.58)).rotate((0, 0, 22.5 * k)) for k in range(16)
    ]
    brackets = [
        Manifold.cube((0.6, 0.16, 0.3), True).translate((1.7, 0, 0.28)).rotate((0, 0, 45 * k + 11)) for k in range(8)
    ]
    solid = (drum - Manifold.batch_boolean(panes, _add())) + Manifold.batch_boolean(
        [deck, ball, *rail, *posts, *brackets], _add()
    )
    return weathered(solid, 0.055, 0.008, 0.5, 7)


def breakwater() -> Manifold:
    """Tumbled blocks, forty metres of them; real metres."""
    random = np.random.default_rng(11)
    core = Manifold.hull_points([(x, y, z) for x in (-20, 19) for y in (-2.6, 2.6) for z in (0, 1.2)])
    blocks = []
    for _ in range(110):
        size = random.uniform(1.0, 2.3, 3)
        x, y = random.uniform(-19.6, 19.4), random.uniform(-2.6, 2.6)
        top = 1.7 - 0.35 * abs(y) + 0.6 * np.sin(x / 5) - 0.02 * abs(x)
        turn = tuple(random.uniform(-25, 25, 3))
        blocks.append(Manifold.cube(tuple(size), True).rotate(turn).translate((x, y, max(0.6, top))))
    solid = core + Manifold.batch_boolean(blocks, _add())
    solid = solid.trim_by_plane((0, 0, 1), 0.0)
    return weathered(solid, 0.44, 0.1, 2.2, 13)


def ferry() -> Manifold:
    """A paddle ferry, thirty-one metres; real metres."""
    stations = []
    for x in np.linspace(-15.5, 15.5, 25):
        fullness = max(0.02, 1 - abs(x / 15.6) ** 3.2)
        half, rise = 3.1 * fullness, 0.5 * abs(x / 15.5) ** 3
        stations.append([(x, s * half * w, z + rise) for s in (-1, 1) for w, z in ((0.35, 0), (0.9, 0.7), (1, 2.1))])
    hull = Manifold.batch_boolean([Manifold.hull_points(a + b) for a, b in pairwise(stations)], _add())
    well = Manifold.cube((20, 4.6, 1.0), True).translate((0, 0, 2.3))
    house = Manifold.cube((13.5, 4.2, 2.2), True).translate((-0.5, 0, 2.9))
    upper = Manifold.cube((6.0, 3.2, 1.8), True).translate((-2.5, 0, 4.8))
    wheel = Manifold.cube((2.2, 2.4, 1.9), True).translate((3.4, 0, 4.9))
    boxes = [
        Manifold.cylinder(1.2, 2.2, 2.2, 64, True).rotate((90, 0, 0)).translate((0.4, y, 2.0)) for y in (-3.5, 3.5)
    ]
    wells = [
        Manifold.cylinder(1.0, 1.85, 1.85, 48, True).rotate((90, 0, 0)).translate((0.4, y, 1.6)) for y in (-3.7, 3.7)
    ]
    funnel = lathe([(0, 0), (0.55, 0), (0.5, 4.2), (0.62, 4.3), (0.62, 4.6), (0.42, 4.6), (0.42, 3.6), (0, 3.6)], 48)
    mast = Manifold.cylinder(6.2, 0.13, 0.07, 16).translate((8.6, 0, 2.2))
    stern_mast = Manifold.cylinder(4.2, 0.11, 0.07, 16).translate((-9.8, 0, 2.2))
    ports = [Manifold.cube((0.55, 5.0, 0.7), True).translate((x, 0, 3.1)) for x in np.arange(-6.4, 5.6, 1.2)]
    solid = (hull - well) + Manifold.batch_boolean(
        [house, upper, wheel, *boxes, funnel.translate((-4.6, 0, 3.8)), mast, stern_mast], _add()
    )
    solid = solid - Manifold.batch_boolean([*wells, *ports], _add())
    return weathered(solid, 0.22, 0.012, 1.5, 17)


def claw(finger: float = 1.0) -> Manifold:
    """The large claw: a swollen palm, two toothed fingers that nearly meet; about 0.2 m long."""
    palm = Manifold.sphere(0.05, 64).scale((1.25, 0.72, 1.0))
    wrist = rod((-0.085, 0, -0.012), (-0.05, 0, -0.004), 0.02, 0.03, 32)
    fixed = Manifold.batch_boolean(
        [rod(a, b, ra, rb, 28) for a, b, ra, rb in (
            ((0.035, 0, -0.018), (0.082, 0, -0.026), 0.028, 0.019), ((0.082, 0, -0.026), (0.118, 0, -0.008), 0.019, 0.006))],
        _add(),
    )  # fmt: skip
    moving = Manifold.batch_boolean(
        [rod(a, b, ra, rb, 28) for a, b, ra, rb in (
            ((0.03, 0, 0.03), (0.08, 0, 0.048), 0.022, 0.016), ((0.08, 0, 0.048), (0.12, 0, 0.014), 0.016, 0.005))],
        _add(),
    )  # fmt: skip
    teeth = [
        Manifold.cylinder(0.012, 0.0055, 0.001, 12).translate((x, 0, -0.012 + 0.1 * (x - 0.06) ** 2))
        for x in np.linspace(0.062, 0.105, 5)
    ]
    solid = Manifold.batch_boolean([palm, wrist, fixed, moving.scale((1, finger, 1)), *teeth], _add())

    def bumps(points: Points) -> Points:
        away = points / np.maximum(np.linalg.norm(points, axis=1, keepdims=True), 1e-6)
        moved: Points = points + away * (0.0012 * np.maximum(rough(points, 0.02, 23), 0) ** 2)[:, None]
        return moved

    return solid.refine_to_length(0.0022).warp_batch(bumps)


def crab() -> Manifold:
    """Old Claw himself, 0.9 m across in the story; real metres, foot at 0."""
    shell = Manifold.sphere(0.5, 96).scale((0.42, 0.30, 0.17)).translate((0, 0, 0.2))
    parts = [shell]
    for side in (-1, 1):
        for k, y in enumerate((-0.08, -0.02, 0.05, 0.11)):
            knee = (side * (0.26 + 0.02 * k), y * 1.6, 0.27 - 0.02 * k)
            foot = (side * (0.36 + 0.015 * k), y * 2.1, 0.012)
            parts += [rod((side * 0.15, y, 0.19), knee, 0.028, 0.02), rod(knee, foot, 0.02, 0.007)]
        parts += [
            rod((side * 0.12, -0.12, 0.2), (side * 0.25, -0.17, 0.2), 0.03, 0.03),
            rod((side * 0.06, -0.13, 0.25), (side * 0.07, -0.15, 0.34), 0.012, 0.009),
            Manifold.sphere(0.02, 24).translate((side * 0.07, -0.15, 0.35)),
        ]
    big = claw().scale((1.35, 1.35, 1.35)).translate((0.34, -0.17, 0.2))
    small = claw().scale((-0.95, 0.95, 0.95)).translate((-0.33, -0.17, 0.2))
    solid = Manifold.batch_boolean(parts, _add())

    def barnacles(points: Points) -> Points:
        out = points.copy()
        out[:, 2] += 0.012 * np.maximum(rough(points, 0.09, 29), 0) ** 2 * (points[:, 2] > 0.2)
        return out

    return (solid.refine_to_length(0.012).warp_batch(barnacles) + big + small).simplify(0.0004)


def _add() -> Any:
    from manifold3d import OpType

    return OpType.Add


def _ring(radius: float, thick: float, height: float) -> Manifold:
    circle = CrossSection.circle(thick, 12).translate((radius, 0))
    return Manifold.revolve(circle, 96).translate((0, 0, height))


def stl(solid: Manifold, most: int = 80_000) -> bytes:
    """Write a solid as binary STL, simplified until it is under the size that the repository wants."""
    tolerance = 0.0
    size = float(np.ptp(np.array(solid.bounding_box()).reshape(2, 3), axis=0).max())
    while solid.num_tri() > most:
        tolerance = tolerance * 1.5 if tolerance else size * 2e-5
        solid = solid.simplify(tolerance)
    solid = solid.simplify(max(tolerance, size * 2e-5))  # slivers would fall together when written as float32
    mesh = solid.to_mesh()
    corners = np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts)].astype("<f4")
    corners -= np.array([0, 0, corners[:, :, 2].min()], "<f4")
    record = np.zeros(len(corners), np.dtype([("normal", "<f4", 3), ("corners", "<f4", (3, 3)), ("rest", "<u2")]))
    record["corners"] = corners
    return b"homunculus demo".ljust(80) + len(corners).to_bytes(4, "little") + record.tobytes()


MAKERS = {
    "tower": tower, "gallery": gallery, "breakwater": breakwater, "ferry": ferry, "crab": crab, "claw": claw,
}  # fmt: skip


def keep_meshes(folder: Path) -> dict[str, Mesh]:
    """Write every mesh and its study; return the forms that name them."""
    forms = {}
    for name, make in MAKERS.items():
        data = stl(make())
        content = hashlib.sha256(data).hexdigest()
        (folder / f"{content}.stl").write_bytes(data)
        fact, field = study_with_field(data, f"{name}.stl")
        (folder / f"{content}.field").write_bytes(field.to_bytes())
        (folder / f"{content}.study.json").write_bytes(msgspec.json.encode(fact))
        forms[name] = Mesh(content, f"{name}.stl", 1.0)
        print(f"{name:10} {fact.faces:6} faces {len(data) / 1e6:.2f} MB volume {fact.volume:.4g} band {fact.band:.2%}"
              f" open {fact.open_edges} outline {[len(p) for p in fact.outline]}")  # fmt: skip
    return forms


# --------------------------------------------------------------------------------------------- job
def sections(*rows: tuple[float, float, float]) -> Sections:
    """Sections from (height, width, depth) in centimetres."""
    return Sections(tuple(Section(h / 100, w / 100, d / 100) for h, w, d in rows))


BODY = sections(
    (0, 30, 26), (4, 34, 24), (10, 22, 16), (45, 30, 16), (78, 36, 22), (92, 38, 25), (108, 31, 21), (128, 40, 24),
    (141, 42, 20), (147, 17, 14), (152, 15, 16), (160, 19, 22), (168, 17, 20), (174, 8, 8),
)  # fmt: skip
BUST = sections(
    (0, 34, 20), (3, 36, 22), (16, 40, 21), (24, 36, 19), (29, 15, 14), (36, 14, 15), (44, 17, 20), (52, 16, 20),
    (58, 10, 12), (60, 4, 5),
)  # fmt: skip
BIRD = sections((0, 5, 8), (6, 18, 12), (12, 22, 14), (18, 16, 11), (24, 8, 8), (29, 8, 9), (33, 4, 5))


POSES = (Variant("perched", 0.6), Variant("preening", 0.25), Variant("wings half open", 0.15))
HANDS = (Variant("left", 0.5), Variant("right", 0.5))


def signed(kind: SignOffKind, by: str, when: datetime) -> SignOff:
    """A sign-off that is in."""
    return SignOff(kind, by, when)


def builds(mesh: dict[str, Mesh]) -> tuple[Build, ...]:
    """The seven builds."""
    tin, plate = "silicone-tin-soft", "laminate-polyester-mat"
    jacket = JacketMould(tin, 0.010, plate)
    return (
        Build(
            "lighthouse", "Lighthouse and breakwater", "the lighthouse", 12.0, at(18, 2), (
                Piece("tower", "tower", mesh["tower"], material="gypsum-fine", wall_m=0.012, at_m=(6.0, 1.6)),
                Piece("gallery", "gallery", mesh["gallery"], material="resin-casting-fast", wall_m=0.004, good=0.9,
                      at_m=(6.0, 15.4), mould=jacket),
                Piece("breakwater", "breakwater", mesh["breakwater"], material="polyurethane-foam-soft", at_m=(0.0, 0.0)),
            ), (
                Hands("sculpt the gallery", 14, 60, "gallery"), LayUp("gallery"), PourRubber("gallery"),
                Hands("open, clean, seal", 3), CastCopies("gallery", 0.7), Hands("tower and stones", 24, 3.2, "tower"),
                Dry("paint dries", 20), Hands("rig the breakaway", 12),
            ), bought_parts=True, rubber_budget=180.0, water=Water(3.0), moves=(Move("ferry", 6.0, ("2", "5")),), stands_m=0.9,
            signoffs=(signed("design", "director", at(13, 2, 15)),),
        ),
        Build(
            "ferry", "Paddle ferry", "the ferry", 24.0, at(16, 2), (
                Piece("hull", "hull", mesh["ferry"], material="resin-casting-slow", wall_m=0.005,
                      mould=JacketMould(tin, 0.008, plate, 3, 0.035)),
                Piece("wheelhouse", "wheelhouse interior", Box(2.0, 2.2, 1.7), material="board-ply", wall_m=0.003,
                      at_m=(3.4, 4.0)),
            ), (
                Hands("hull plug", 30, 20, "hull"), LayUp("hull"), PourRubber("hull"), Hands("open, clean", 2),
                CastCopies("hull", 2.0), Hands("deck, lights, winch", 26), Dry("paint dries", 24), Hands("float test", 5),
            ), bought_parts=True, rubber_budget=320.0, water=Water(2.0), moves=(Move("ferry", 6.0, ("2", "5")),), stands_m=0.9,
            signoffs=(signed("design", "director", at(13, 2, 15)),),
        ),
        Build(
            "tidewife", "Tidewife suit", "the Tidewife", 1.0, at(16, 2), (
                Piece("body", "foam body", BODY, material="polyurethane-foam-soft", wall_m=0.012),
                Piece("collar", "gill collar", Cylinder(0.30, 0.12, 0.22), material="silicone-platinum-soft", wall_m=0.005,
                      good=0.95, at_m=(0.0, 1.40), mould=JacketMould(tin, 0.010, plate)),
            ), (
                Hands("pattern and body form", 22), Hands("sculpt gill collar", 16), LayUp("collar"), PourRubber("collar"),
                Hands("open, clean", 2), CastCopies("collar", 1.5), Hands("sheet foam, sew, glue", 38),
                Dry("sprayed latex dries", 36), Hands("fit on the performer", 6),
            ), rubber_budget=150.0, wanted=Wanted(2),
            signoffs=(signed("design", "director", at(13, 2, 15, 20)), signed("likeness", "performer", at(16, 2, 10))),
        ),
        Build(
            "keeper", "Keeper, barnacle cheek", "the cheek", 1.0, at(18, 2), (
                Piece("cheek", "cheek and brow", WeighedClay(0.21, 1500.0, 0.11, 0.035, 0.15),
                      material="resin-encapsulated-silicone", good=0.9, mould=BlockMould("urethane-rubber-40", 0.015)),
            ), (
                Hands("life cast", 5), Hands("sculpt", 22), PourRubber("cheek"), Hands("vent, release, test", 3),
                CastCopies("cheek", 0.8), Hands("trim edges, colour", 14),
            ), rubber_budget=60.0, wanted=Wanted(11, spare=1, test=1),
            signoffs=(signed("likeness", "performer", at(10, 2, 17)),),
        ),
        Build(
            "oldclaw", "Old Claw, claw insert", "the crab", 4.0, at(18, 2), (
                Piece("crab", "crab", mesh["crab"], material="silicone-tin-soft", wall_m=0.004,
                      mould=JacketMould("silicone-tin-soft", 0.008, plate, 2, 0.03)),
                Piece("claw", "claw insert", mesh["claw"], enlarged=2.5, drawn_at=0.75, material="silicone-tin-soft",
                      wall_m=0.005, at_m=(0.95, 0.0), mould=JacketMould("silicone-tin-soft", 0.010, plate, mixes=(
                          Mix("print coat", 0.2, (Additive("thickener", 0.01),)), Mix("fill", 0.8)))),
                Piece("stalks", "eye-stalks", Sphere(0.04), material="resin-casting-fast", copies=9, worn=2, at_m=(0.0, 0.36)),
            ), (
                Hands("armature", 20), Hands("sculpt crab and claw", 30), LayUp("claw"), PourRubber("claw"), LayUp("crab"),
                PourRubber("crab"), Hands("open both", 3), CastCopies("claw", 1.5), CastCopies("crab", 2.5),
                Hands("seams, paint, rig", 16), Dry("varnish", 12),
            ), rubber_budget=60.0, wanted=Wanted(1, spare=1),
            signoffs=(signed("design", "director", at(13, 2, 15, 30)), SignOff("rights", "script office", None, date(2026, 2, 26))),
        ),
        Build(
            "saltbust", "Salt bust", "the bust", 1.0, at(19, 2), (
                Piece("bust", "bust", BUST, material="gypsum-fine", wall_m=0.015, good=0.9,
                      mould=JacketMould("silicone-tin-soft", 0.009, plate)),
            ), (
                Hands("sculpt", 18), LayUp("bust"), PourRubber("bust"), Hands("open, clean", 2), CastCopies("bust", 1.0),
                Dry("plaster dries", 72), Hands("seal base, soak test", 5),
            ), rubber_budget=170.0, wanted=Wanted(1, test=1),
            signoffs=(SignOff("likeness", "heir of the sitter", None, date(2026, 2, 25)),),
        ),
        Build(
            "gulls", "Gull colony", "a gull", 1.0, at(17, 2), (
                Piece("body", "body", BIRD, material="foam-latex", variants=POSES, good=0.9, mould=RigidMould("gypsum-fine", 0.03, 0.012)),
                Piece("wing", "wing", Box(0.46, 0.02, 0.14), material="foam-latex", copies=2, variants=HANDS, at_m=(0.31, 0.16)),
                Piece("far-wing", "far wing", Box(0.46, 0.02, 0.14), material="foam-latex", copies=0, at_m=(-0.31, 0.16)),
            ), (
                Hands("sculpt three poses", 26), PourRubber("body"), Hands("vent, release", 3), CastCopies("body", 0.4),
                Hands("feather sheets, hinges", 56), Dry("glue sets", 10),
            ), rubber_budget=160.0, wanted=Wanted(6, background=30),
            signoffs=(signed("design", "director", at(13, 2, 15, 40)),),
        ),
    )  # fmt: skip


def make_job(mesh: dict[str, Mesh]) -> Job:
    """The whole demo job, with the cards that it uses."""
    made = builds(mesh)
    used = {p.material for b in made for p in b.pieces} | {
        getattr(p.mould, field, "") for b in made for p in b.pieces for field in ("rubber", "laminate")
    }
    cards = Cards(
        tuple(c for c in library.materials() if c.id in used or c.kind == "stir-in"),
        library.cameras()[:1],
        library.hazards(),
    )
    shop = Shop(camera="cinema-150", stage=Stage(12.0, 8.0, 4.2), air=Air(21.0, 14.0), confidence=0.9)
    return Job("The Drowned Lamp", shop, made, shots(), cards)


def main() -> None:
    """Write the demo folder anew."""
    folder = demo.HERE.with_name("being-made")  # the old one stays until the new one is whole
    shutil.rmtree(folder, ignore_errors=True)
    (folder / "meshes").mkdir(parents=True)
    job = make_job(keep_meshes(folder / "meshes"))
    job = freeze(
        job,
        plan(job, read_facts(folder, job)).build("keeper"),
        at(20, 2, 16),
        "shop lead",
        "eleven calls, a test, a spare",
    )
    document = decode(encode(job, (Pin(1, at(20, 2, 17, 30), job),)), "demo")  # whole numbers become floats
    (folder / "job.json").write_bytes(encode(document.job, document.pins))
    lines = b"\n".join(msgspec.json.encode(entry) for entry in log())
    (folder / "log.jsonl").write_bytes(lines + b"\n")
    shutil.rmtree(demo.HERE, ignore_errors=True)
    folder.rename(demo.HERE)


if __name__ == "__main__":
    main()
