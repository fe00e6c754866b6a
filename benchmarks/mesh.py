"""An STL of 1.3 million faces to volume, area, size and open edges, over a general mesh library merely loading it.

Run: python -m benchmarks.mesh
"""

from __future__ import annotations

import statistics
import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import trimesh

from homunculus.core.form.mesh import measure_surface, read_stl

ROUNDS = 3


def main() -> int:
    """Print the ratio, from runs taken in turn."""
    ball = trimesh.creation.icosphere(subdivisions=8)
    bumps = 1 + 0.02 * np.sin(ball.vertices * 40).prod(axis=1)
    mesh = trimesh.Trimesh(ball.vertices * bumps[:, None], ball.faces, process=False)
    with tempfile.TemporaryDirectory() as scratch:
        path = Path(scratch) / "large.stl"
        mesh.export(path)
        ours, theirs = [], []
        for _ in range(ROUNDS):
            begin = time.perf_counter()
            surface = measure_surface(read_stl(path.read_bytes(), path.name))
            ours.append(time.perf_counter() - begin)
            begin = time.perf_counter()
            trimesh.load(path)
            theirs.append(time.perf_counter() - begin)
    a, b = statistics.median(ours), statistics.median(theirs)
    print(
        f"STL of {surface.faces} faces, measured: {a:.2f} s / merely loaded by trimesh {b:.2f} s = {a / b:.2f} (goal <= 0.5)"
    )
    return 0


if __name__ == "__main__":
    sys.exit(main())
