"""Reading STL, and what a surface encloses."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from homunculus.core.errors import UserError
from homunculus.core.form.mesh import measure_surface, read_stl

CUBE = np.array([
    [[0, 0, 0], [0, 1, 0], [1, 1, 0]], [[0, 0, 0], [1, 1, 0], [1, 0, 0]],
    [[0, 0, 1], [1, 0, 1], [1, 1, 1]], [[0, 0, 1], [1, 1, 1], [0, 1, 1]],
    [[0, 0, 0], [1, 0, 0], [1, 0, 1]], [[0, 0, 0], [1, 0, 1], [0, 0, 1]],
    [[0, 1, 0], [0, 1, 1], [1, 1, 1]], [[0, 1, 0], [1, 1, 1], [1, 1, 0]],
    [[0, 0, 0], [0, 0, 1], [0, 1, 1]], [[0, 0, 0], [0, 1, 1], [0, 1, 0]],
    [[1, 0, 0], [1, 1, 0], [1, 1, 1]], [[1, 0, 0], [1, 1, 1], [1, 0, 1]],
], np.float32)  # fmt: skip


def binary(triangles) -> bytes:
    record = np.zeros(len(triangles), np.dtype([("n", "<f4", 3), ("c", "<f4", (3, 3)), ("r", "<u2")]))
    record["c"] = triangles
    return b"made by hand".ljust(80) + len(triangles).to_bytes(4, "little") + record.tobytes()


def ascii_stl(triangles) -> bytes:
    lines = ["solid cube"]
    for triangle in triangles:
        lines += ["facet normal 0 0 0", "outer loop"]
        lines += [f"vertex {x} {y} {z}" for x, y, z in triangle.tolist()]
        lines += ["endloop", "endfacet"]
    return "\n".join([*lines, "endsolid cube"]).encode()


@pytest.mark.parametrize("write", [binary, ascii_stl])
def test_both_kinds_of_stl_are_read(write):
    assert np.array_equal(read_stl(write(CUBE)), CUBE)


@pytest.mark.parametrize(
    ("data", "said"),
    [
        (b"", "not an STL"),
        (b"\x89PNG and so on", "not an STL"),
        (binary(CUBE)[:-70], "stops after 10 of 12"),
        (b"solid nothing\nendsolid", "cut short or missing"),
        (ascii_stl(CUBE).replace(b"vertex 1.0", b"vertex one", 1), "not three numbers"),
        (binary(np.full((1, 3, 3), np.nan, np.float32)), "not numbers"),
    ],
)
def test_what_is_no_mesh_is_refused_in_a_sentence(data, said):
    with pytest.raises(UserError) as refusal:
        read_stl(data, "sculpt.stl")
    assert said in str(refusal.value)
    assert "sculpt.stl" in str(refusal.value)


def test_a_cube_is_a_cube():
    surface = measure_surface(CUBE)
    assert surface.volume == pytest.approx(1.0)
    assert surface.area == pytest.approx(6.0)
    assert surface.size == (1.0, 1.0, 1.0)
    assert (surface.open_edges, surface.turned_edges) == (0, 0)


def test_a_missing_triangle_leaves_three_open_edges():
    assert measure_surface(CUBE[1:]).open_edges == 3


def test_a_turned_triangle_is_found():
    turned = CUBE.copy()
    turned[0] = turned[0, ::-1]
    assert measure_surface(turned).turned_edges == 3


def test_a_triangle_fallen_into_a_line_is_no_fault():
    line = np.array([[[0, 0, 0], [1, 1, 0], [0, 0, 0]]], np.float32)
    surface = measure_surface(np.concatenate((CUBE, line)))
    assert (surface.open_edges, surface.turned_edges) == (0, 0)


def test_minus_nought_is_nought():
    signed = CUBE.copy()
    signed[::2][signed[::2] == 0] = -0.0
    assert measure_surface(signed).open_edges == 0


@given(st.floats(-50, 50), st.floats(0.01, 30), st.integers(0, 2))
def test_moving_turning_and_scaling_change_nothing_but_the_scale(shift, k, axis):
    moved = np.roll(CUBE, axis, axis=2) * np.float32(k) + np.float32(shift)
    surface = measure_surface(moved)
    assert surface.volume == pytest.approx(k**3, rel=2e-3)
    assert surface.area == pytest.approx(6 * k**2, rel=1e-3)
    assert surface.open_edges == 0


def test_inside_out_is_the_same_volume():
    assert measure_surface(CUBE[:, ::-1]).volume == pytest.approx(1.0)
