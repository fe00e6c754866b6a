"""Jobs to measure with: the demo, and one of many builds made from it."""

from __future__ import annotations

import shutil
from pathlib import Path

from msgspec.structs import replace

from homunculus import demo
from homunculus.core.job import Job
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
                shots.append(replace(shot, id=f"{shot.id}.{i}", builds=(f"{build.id}-{i}",)))
    large: Job = replace(job, builds=tuple(builds), shots=tuple(shots))
    (folder / "job.json").write_bytes(encode(large, ()))
    (folder / "log.jsonl").unlink(missing_ok=True)
    return folder


def fresh(folder: Path) -> Path:
    """Empty a folder for a job."""
    shutil.rmtree(folder, ignore_errors=True)
    return folder
