"""Jobs to measure with: the demo, and one of many builds made from it."""

from __future__ import annotations

import shutil
from datetime import timedelta
from pathlib import Path

from msgspec.structs import replace

from homunculus import demo
from homunculus.core.job.job import Job
from homunculus.core.job.shots import ByBuild, Need, whole
from homunculus.store.folder import decode, encode


def demo_job(folder: Path) -> Path:
    """Copy the demo as it ships."""
    demo.copy_to(folder, demo.REFERENCE_NOW.date())
    return folder


def many_builds(folder: Path, count: int = 200) -> Path:
    """A job of many builds: the demo's, over and over, each with shots of its own."""
    demo_job(folder)
    document = decode((folder / "job.json").read_bytes(), "job.json")
    job = document.job
    builds, shots = [], []
    for i in range(count):
        build = job.builds[i % len(job.builds)]
        builds.append(replace(build, id=f"{build.id}-{i}", name=f"{build.name} {i}"))
        for shot in job.shots:
            if build.id in shot.builds:
                shots.append(replace(shot, id=f"{shot.id}.{i}", needs=whole(f"{build.id}-{i}")))
    large: Job = replace(job, builds=tuple(builds), shots=tuple(shots))
    (folder / "job.json").write_bytes(encode(large, ()))
    (folder / "log.jsonl").unlink(missing_ok=True)
    return folder


def many_shots(folder: Path, count: int = 400, builds: int = 200) -> Path:
    """A job of many builds and many shots: each shot is one of the demo's with its own needs, all over again."""
    many_builds(folder, builds)
    document = decode((folder / "job.json").read_bytes(), "job.json")
    demo_shots = decode((demo.HERE / "job.json").read_bytes(), "job.json").job.shots
    by_kind: dict[str, list[str]] = {}
    for build in document.job.builds:
        by_kind.setdefault(build.id.rpartition("-")[0], []).append(build.id)
    shots = []
    for i in range(count):
        shot = demo_shots[i % len(demo_shots)]
        needs = tuple(_for_build(need, by_kind, i) for need in shot.needs)
        shots.append(replace(shot, id=str(i + 1), needs=needs, day=shot.day + timedelta(days=i // 40), cut=i + 1))
    (folder / "job.json").write_bytes(encode(replace(document.job, shots=tuple(shots)), ()))
    return folder


def _for_build(need: Need, by_kind: dict[str, list[str]], index: int) -> Need:
    if not isinstance(need.cover, ByBuild):
        return need
    same = by_kind[need.cover.build]
    return replace(need, cover=replace(need.cover, build=same[index % len(same)]))


def fresh(folder: Path) -> Path:
    """Empty a folder for a job."""
    shutil.rmtree(folder, ignore_errors=True)
    return folder


def many_pieces(folder: Path, builds: int = 200, pieces: int = 10) -> Path:
    """A job of many builds of many pieces each: those of the demo's builds that have a route, over and over."""
    many_builds(folder, builds)
    document = decode((folder / "job.json").read_bytes(), "job.json")
    made = []
    for build in document.job.builds:
        routed = [piece for piece in build.pieces if piece.route]
        more = [replace(routed[i % len(routed)], id=f"p{i}", name=f"piece {i}", route=tuple(
            replace(op, after=()) for op in routed[i % len(routed)].route)) for i in range(pieces)]  # fmt: skip
        assembly = tuple(replace(op, after=()) for op in build.assembly)
        made.append(replace(build, pieces=tuple(more), assembly=assembly, crew=2))
    shots = tuple(replace(shot, needs=tuple(whole(*shot.builds))) for shot in document.job.shots)
    (folder / "job.json").write_bytes(encode(replace(document.job, builds=tuple(made), shots=shots), ()))
    return folder
