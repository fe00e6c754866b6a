"""Make the demo job: its meshes, their studies, and, from ``demo.lines``, the job itself. Run: .venv/bin/python scripts/make_demo.py

Everything in it is invented. The meshes have undercuts and thin parts on purpose.
"""

from __future__ import annotations

import hashlib
import shutil
from itertools import pairwise
from pathlib import Path
from typing import Any

import msgspec
import numpy as np
from demo_log import at, log
from manifold3d import CrossSection, Manifold
from numpy.typing import NDArray

from homunculus import demo
from homunculus.core.edits.lines import do, said
from homunculus.core.errors import UserError
from homunculus.core.form.study import study_with_field
from homunculus.core.job.forms import Mesh
from homunculus.core.job.job import Job
from homunculus.core.job.shop import Shop
from homunculus.core.plan.freezing import freeze
from homunculus.core.plan.job_plan import plan
from homunculus.core.session import Pin
from homunculus.exchange.mesh_coarse import coarsen
from homunculus.store.folder import decode, encode, read_facts

Points = NDArray[np.float64]
LINES = Path(__file__).with_name("demo.lines")


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
        (folder / f"{content}.coarse.stl").write_bytes(coarsen(data, f"{name}.stl"))
        forms[name] = Mesh(content, f"{name}.stl", 1.0)
        print(f"{name:10} {fact.faces:6} faces {len(data) / 1e6:.2f} MB volume {fact.volume:.4g} band {fact.band:.2%}"
              f" open {fact.open_edges} outline {[len(p) for p in fact.outline]}")  # fmt: skip
    return forms


# --------------------------------------------------------------------------------------------- job
def make_job(mesh: dict[str, Mesh]) -> Job:
    """The whole demo job, from its lines: each is one edit, from a job with nothing in it on."""
    text = LINES.read_text("utf-8")
    for name, form in mesh.items():
        text = text.replace(f'"@{name}"', f'"{form.content}"')
    job = Job("a job", Shop(), ())
    for number, line in said(text):
        try:
            job = do(job, line)[1]
        except UserError as trouble:
            raise SystemExit(f"{LINES.name}, line {number}: {trouble}") from trouble
    return job


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
