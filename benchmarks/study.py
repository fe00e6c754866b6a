"""The whole study of a mesh of 1.3 million faces, over a general mesh library merely loading it.

Run: python -m benchmarks.study
"""

from __future__ import annotations

import sys
import tempfile
import time
from pathlib import Path

import numpy as np
import trimesh

from homunculus.core.form.study import study_mesh


def main() -> int:
    """Print the ratio; both are done once, the study first."""
    ball = trimesh.creation.icosphere(subdivisions=8, radius=100)
    bumps = 1 + 0.02 * np.sin(ball.vertices * 0.4).prod(axis=1)
    mesh = trimesh.Trimesh(ball.vertices * bumps[:, None], ball.faces, process=False)
    with tempfile.TemporaryDirectory() as scratch:
        path = Path(scratch) / "large.stl"
        mesh.export(path)
        begin = time.perf_counter()
        fact = study_mesh(path.read_bytes(), path.name)
        ours = time.perf_counter() - begin
        begin = time.perf_counter()
        trimesh.load(path)
        theirs = time.perf_counter() - begin
    print(f"study of {fact.faces} faces    : {ours:.1f} s / merely loaded by trimesh {theirs:.1f} s "
          f"= {ours / theirs:.2f} (goal <= 2), band {fact.band:.2%}")  # fmt: skip
    return 0


if __name__ == "__main__":
    sys.exit(main())
