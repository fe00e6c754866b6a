"""The mesh path against closed forms and against a general mesh library.

Sources: sphere, box and torus in closed form (torus by Pappus); trimesh 5 as the second opinion on volume and area.
"""

import math

import numpy as np
import pytest
import trimesh

from homunculus import demo
from homunculus.core.errors import Cancelled
from homunculus.core.form.mesh import measure_surface, read_stl
from homunculus.core.form.nearest import distance_to_triangles
from homunculus.core.form.study import study_mesh


def written(mesh) -> bytes:
    return mesh.export(file_type="stl")


def test_volume_and_area_of_every_demo_mesh(demo_facts):
    for fact in demo_facts.values():
        data = (demo.HERE / "meshes" / f"{fact.content}.stl").read_bytes()
        theirs = trimesh.load(trimesh.util.wrap_as_stream(data), file_type="stl")
        ours = measure_surface(read_stl(data))
        assert ours.volume == pytest.approx(theirs.volume, rel=1e-4)
        assert ours.area == pytest.approx(theirs.area, rel=1e-5)
        assert ours.size == pytest.approx(tuple(theirs.extents), rel=1e-5)
        assert (ours.open_edges, ours.turned_edges) == (0, 0)
        assert 19_000 < ours.faces < 200_000
        assert len(data) < 4_000_000


BALL = trimesh.creation.icosphere(subdivisions=4, radius=0.1)
BOX = trimesh.creation.box((0.3, 0.2, 0.12))
RING = trimesh.creation.torus(0.1, 0.035, major_sections=96, minor_sections=48)


DRUM = trimesh.creation.cylinder(0.08, 0.25, sections=256)


DEEPEST = {BALL: 0.1, BOX: 0.06, RING: 0.035, DRUM: 0.08}


def drum_out(t):
    """A cylinder's layer by Pappus: the wall, two discs, and two quarter-round rims."""
    r, h = 0.08, 0.25
    return math.pi * ((r + t) ** 2 - r**2) * h + 2 * (
        math.pi * r**2 * t + math.pi**2 / 2 * r * t**2 + 2 / 3 * math.pi * t**3
    )


def box_out(t):
    a, b, c = 0.3, 0.2, 0.12
    return 2 * (a * b + b * c + c * a) * t + math.pi * (a + b + c) * t**2 + 4 / 3 * math.pi * t**3


@pytest.mark.parametrize(
    ("mesh", "outward", "inward"),
    [
        (BALL, lambda t: 4 / 3 * math.pi * ((0.1 + t) ** 3 - 0.1**3), lambda t: 4 / 3 * math.pi * (0.1**3 - (0.1 - t) ** 3)),
        (BOX, box_out, lambda t: 0.3 * 0.2 * 0.12 - (0.3 - 2 * t) * (0.2 - 2 * t) * (0.12 - 2 * t)),
        (RING, lambda t: 2 * math.pi**2 * 0.1 * ((0.035 + t) ** 2 - 0.035**2),
         lambda t: 2 * math.pi**2 * 0.1 * (0.035**2 - max(0.0, 0.035 - t) ** 2)),
        (DRUM, drum_out, lambda t: math.pi * 0.08**2 * 0.25 - math.pi * (0.08 - t) ** 2 * (0.25 - 2 * t)),
    ],
    ids=["sphere", "box", "torus", "cylinder"],
)  # fmt: skip
def test_layers_of_closed_forms_lie_within_the_shown_band_and_that_is_under_a_per_cent(mesh, outward, inward):
    fact = study_mesh(written(mesh), "form.stl")
    scale = fact.area / mesh.area
    assert scale == pytest.approx(1.0, rel=1e-5)
    for t, out in list(zip(fact.thicknesses, fact.outward_ratio, strict=True))[1:]:
        assert out * t == pytest.approx(outward(t), rel=fact.band)
    for t, into in list(zip(fact.depths, fact.inward_ratio, strict=True))[1:]:
        assert into * t == pytest.approx(inward(min(t, DEEPEST[mesh])), rel=fact.band)
    assert DEEPEST[mesh] == pytest.approx(fact.depths[-1], rel=0.06)
    assert fact.band < 0.012


def test_the_study_that_ships_is_the_study_of_the_mesh_that_ships(demo_facts, demo_document):
    form = next(p.form for b in demo_document.job.builds for p in b.pieces if p.id == "claw")
    again = study_mesh((demo.HERE / "meshes" / f"{form.content}.stl").read_bytes(), "claw.stl")
    kept = demo_facts[form.content]
    assert again.content == kept.content
    assert again.outward_ratio == pytest.approx(kept.outward_ratio, rel=1e-9)
    assert again.outline == kept.outline


def test_the_outline_of_a_ball_is_its_circle():
    fact = study_mesh(written(BALL), "ball.stl")
    assert fact.undercut == 0, "two halves come off a ball"
    assert fact.overhang > 0.7, "a sheet drawn over it does not"
    points = np.array(fact.outline[0])
    radius = np.hypot(points[:, 0], points[:, 1] - 0.1)
    assert radius == pytest.approx(0.1, rel=0.02)


def test_distances_to_triangles_against_trimesh():
    random = np.random.default_rng(2)
    corners = random.normal(size=(400, 3, 3))
    points = random.normal(size=(400, 3)) * 1.5
    nearest = trimesh.triangles.closest_point(corners, points)
    assert distance_to_triangles(points, corners) == pytest.approx(np.linalg.norm(points - nearest, axis=1), abs=1e-9)


def test_a_study_says_how_far_it_is_and_stops_when_told():
    seen = []
    study_mesh(written(BOX), "box.stl", lambda share, what: seen.append((share, what)))
    assert [s for s, _ in seen] == sorted(s for s, _ in seen)
    assert seen[-1][0] == 1.0

    def stop(share, _what):
        if share > 0.3:
            raise Cancelled

    with pytest.raises(Cancelled):
        study_mesh(written(BOX), "box.stl", stop)


def test_an_open_mesh_says_what_that_means():
    open_ball = trimesh.Trimesh(BALL.vertices, BALL.faces[:-6])
    fact = study_mesh(written(open_ball), "open.stl")
    assert fact.open_edges > 0
    assert "not closed" in fact.notes()[0]
