"""Meshes that are no plain skin: shells that run into each other, cavities, fins, holes; and those that are no form at all.

Sources: a solid kernel's own volumes, areas and rounded sums (manifold3d); a horn's core in closed form; what is refused is
what the reader must not hang on, within the time and memory that are promised.
"""

from __future__ import annotations

import math
import resource
import subprocess
import sys
import time
from functools import cache

import numpy as np
import pytest
from manifold3d import Manifold

from homunculus.core.errors import UserError
from homunculus.core.form.measure import measure
from homunculus.core.form.mesh import measure_surface
from homunculus.core.form.parallel import frustum_core
from homunculus.core.form.repair import fill, inside_out
from homunculus.core.form.study import study_mesh
from homunculus.core.job.forms import Mesh
from homunculus.exchange.mesh_files import as_stl, read_any


def triangles(solid):
    mesh = solid.to_mesh()
    return np.asarray(mesh.vert_properties)[:, :3][np.asarray(mesh.tri_verts)].astype(np.float32)


def box(a, b, c, at=(0.0, 0.0, 0.0)):
    return Manifold.cube((a, b, c), True).translate(at)


def study(*parts):
    return study_mesh(as_stl(np.concatenate(parts)), "odd.stl")


@cache
def ball_of_64():
    """The study of a whole ball, against which others are held."""
    return study(triangles(Manifold.sphere(0.5, 64)))


def layer(fact, t):
    return measure(Mesh(fact.content, "odd.stl", 1.0), {fact.content: fact}).shell.outward(t)


def test_shells_that_run_into_each_other_are_one_body_with_one_skin():
    a, b = box(1, 1, 1), box(1, 0.6, 0.6, (0.7, 0.1, 0.05))
    fact, whole = study(triangles(a), triangles(b)), a + b
    assert fact.joined
    assert fact.volume == pytest.approx(whole.volume(), rel=fact.band)
    assert fact.area == pytest.approx(whole.surface_area(), rel=fact.band)
    for t in (0.02, 0.08):
        grown = whole.minkowski_sum(Manifold.sphere(t, 48)).volume() - whole.volume()
        assert layer(fact, t) == pytest.approx(grown, rel=fact.band)
    assert "one body" in " ".join(fact.notes())


def test_a_closed_cavity_is_no_matter_carries_no_layer_and_is_asked_about():
    ball, hole = Manifold.sphere(0.5, 64), Manifold.sphere(0.25, 64)
    fact = study(triangles(ball), triangles(hole)[:, ::-1])
    plain = ball_of_64()
    assert (fact.cavities, fact.joined, fact.inside_out) == (1, False, 0)
    assert fact.volume == pytest.approx(ball.volume() - hole.volume(), rel=1e-4)
    assert fact.hollow == pytest.approx(hole.volume(), rel=0.03)
    assert fact.area == pytest.approx(ball.surface_area(), rel=1e-3)
    assert layer(fact, 0.03) == pytest.approx(layer(plain, 0.03), rel=fact.band)
    assert "is it meant?" in " ".join(fact.notes())
    filled, said = fill(np.concatenate((triangles(ball), triangles(hole)[:, ::-1])))
    assert measure_surface(filled).volume == pytest.approx(plain.volume)
    assert said == "filled 1 closed cavity"
    assert not plain.cavities


def test_a_body_with_fins_that_share_its_edges_is_one_body():
    body = triangles(box(1, 0.6, 1))
    fins = []
    for i in range(12):  # each closed, and hanging on the edge of the body with two of its corners
        x = np.float32(-0.45 + 0.075 * i)
        fins.append(triangles(box(0.02, 0.1, 0.2, (x, -0.25, 0.6))))
    whole = np.concatenate((body, *fins))
    assert inside_out(whole) == (13, [])
    fact = study(whole)
    assert (fact.inside_out, fact.joined) == (0, False)  # they stand on it: nothing is enclosed twice
    assert fact.volume == pytest.approx(0.6 + 12 * 0.004 * 0.1, rel=2e-3)
    shared = np.concatenate((body, body[:1], body[:1, ::-1]))  # a face laid twice more: four at each of its edges
    assert inside_out(shared) == (1, [])


def test_layers_inside_a_horn_go_on_past_its_thin_end_and_end_at_all_of_it():
    horn = Manifold.cylinder(1, 0.06, 0.005, 96)
    fact = study(triangles(horn))
    shell = measure(Mesh(fact.content, "odd.stl", 1.0), {fact.content: fact}).shell
    before = 0.0
    for t in np.linspace(0.001, 0.07, 60):
        inward = shell.inward(float(t))
        assert inward >= before
        whole = frustum_core(0.06, 0.005, 1.0, 0.0)
        known = horn.volume() * (1 - frustum_core(0.06, 0.005, 1.0, float(t)) / whole)
        assert inward == pytest.approx(known, rel=fact.band)
        before = inward
    assert before == fact.volume


@pytest.mark.parametrize(("size", "t"), [((1, 0.8, 0.02), 0.01), ((1, 0.2, 0.2), 0.05)])
def test_the_band_holds_on_thin_plates_and_rods(size, t):
    solid = box(*size)
    fact = study(triangles(solid))
    a, b, c = size
    out = 2 * (a * b + b * c + c * a) * t + math.pi * (a + b + c) * t**2 + 4 / 3 * math.pi * t**3
    assert layer(fact, t) == pytest.approx(out, rel=fact.band)


def test_a_hole_does_not_leak():
    ball = triangles(Manifold.sphere(0.5, 64))
    torn = ball[ball[:, :, 2].max(axis=1) < 0.49]
    fact = study(torn)
    assert fact.open_edges
    assert layer(fact, 0.05) == pytest.approx(layer(ball_of_64(), 0.05), rel=0.03)


# ----------------------------------------------------------------------------------- what is refused
rng = np.random.default_rng(3)
BALL, BOX = triangles(Manifold.sphere(0.5, 64)), triangles(Manifold.cube((1, 1, 1), True))


def fan(count):
    turn = rng.uniform(0, 6.28, (count, 1))
    tips = np.concatenate((np.cos(turn), np.sin(turn), rng.uniform(0, 1, (count, 1))), axis=1)
    return np.stack((np.zeros((count, 3)), np.tile([0.0, 0.0, 1.0], (count, 1)), tips), axis=1).astype(np.float32)


ODD = {
    "huge": (BALL * np.float32(1e30), "units out"),
    "endless": (np.where(BALL > 0.49, np.float32(np.inf), BALL), "not numbers"),
    "not a number": (np.where(BALL > 0.49, np.float32(np.nan), BALL), "not numbers"),
    "far": (BALL * np.float32(1e-6) + np.float32(1e6), "no thickness"),
    "flat": (BALL * np.float32([1, 1, 0]), "no thickness"),
    "a line": (BALL * np.float32([1, 0, 0]), "no thickness"),
    "a point": (BALL * np.float32(0), "no thickness"),
    "soup": (rng.normal(size=(200_000, 3, 3)).astype(np.float32), "do not hang together"),
    "fan": (fan(200_000), "do not hang together"),
    "doubled": (np.concatenate((BALL, BALL)), "more than two"),
    "emptied": (np.concatenate((BALL, BALL[:, ::-1] * np.float32(0.999999))), "encloses nothing"),
    "leaves": (np.concatenate([BOX * np.float32(1 + i * 1e-4) for i in range(3000)]), "folded too often"),
}  # fmt: skip


@pytest.mark.parametrize("kind", sorted(ODD))
def test_what_no_form_can_be_made_of_is_refused_in_a_sentence_and_in_time(kind):
    odd, said = ODD[kind]
    begin = time.monotonic()
    with pytest.raises(UserError, match=said):
        study_mesh(as_stl(odd), "odd.stl")
    assert time.monotonic() - begin < 20


@pytest.mark.parametrize(
    ("name", "data"),
    [
        ("lies.stl", b"\0" * 80 + (2**32 - 1).to_bytes(4, "little") + b"\0" * 500),
        ("lies.ply", b"ply\nformat binary_little_endian 1.0\nelement vertex 4000000000\nproperty float x\nproperty float y\n"
                     b"property float z\nelement face 4000000000\nproperty list uchar int vertex_indices\nend_header\n" + b"\0" * 300),
        ("many.obj", b"v 0 0 0\nv 1 0 0\nv 0 1 0\n" + b"f 1 2 99999999\n" * 20),
        ("long.obj", b"f " + b"1 " * 3_000_000),
        ("text.stl", b"solid x\n" + b"vertex 1e999 0 0\n" * 3),
        ("zero.ply", b""),
    ],
)  # fmt: skip
def test_files_that_lie_are_refused_by_name_within_their_bounds(name, data):
    begin = time.monotonic()
    with pytest.raises(UserError, match=name.replace(".", r"\.")):
        read_any(data, name)
    assert time.monotonic() - begin < 25
    assert resource.getrusage(resource.RUSAGE_CHILDREN).ru_maxrss < 2.2e6  # kB


def test_a_study_of_a_large_odd_mesh_stays_under_two_gigabytes():
    code = (
        "import numpy as np, resource\nfrom homunculus.core.form.study import study_mesh\n"
        "from homunculus.exchange.mesh_files import as_stl\nfrom homunculus.core.errors import UserError\n"
        "r = np.random.default_rng(1); c = r.normal(size=(60000, 1, 3)) * 3; s = r.normal(size=(60000, 3)) * .4\n"
        "base = np.array([[0,0,0],[1,0,0],[0,1,0],[0,0,1]], float)\n"
        "f = np.array([[0,2,1],[0,1,3],[1,2,3],[0,3,2]])\n"
        "t = (base[f][None] * .5 + c[:, None]).reshape(-1, 3, 3).astype('f4')\n"
        "try:\n    study_mesh(as_stl(t), 'x')\nexcept UserError as e:\n    print(e)\n"
        "print(resource.getrusage(resource.RUSAGE_SELF).ru_maxrss)\n"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, timeout=120, check=True)
    assert int(done.stdout.split()[-1]) < 2_100_000, done.stdout


def test_a_flap_is_told_from_a_hole():
    body = triangles(box(1, 0.6, 1))
    flap = np.array([[[-0.5, -0.3, 0.5], [0.5, -0.3, 0.5], [0, -0.3, 0.9]]], np.float32)  # on an edge of the box
    surface = measure_surface(np.concatenate((body, flap)))
    assert surface.shared_edges == 1
    fact = study(body, flap)
    assert fact.shells == 1
    assert not fact.inside_out
    assert fact.volume == pytest.approx(0.6, rel=0.02)
    assert "more than two faces" in " ".join(fact.notes())
