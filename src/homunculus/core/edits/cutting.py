"""What an edit list says of the shots: their place in the cut and how long they are on screen."""

from __future__ import annotations

import re
from collections.abc import Sequence
from datetime import date

from msgspec import Struct
from msgspec.structs import replace

from homunculus.core.cells.shots import new_shot
from homunculus.core.job.job import Job
from homunculus.core.job.shots import Shot
from homunculus.core.showing import so_many


class Clip(Struct, frozen=True):
    """One piece of the cut: its name and how long it lasts."""

    name: str
    seconds: float


class Cut(Struct, frozen=True):
    """What an edit list gave: clips in the order of the cut, and a sentence for each that was left out."""

    clips: tuple[Clip, ...]
    left_out: tuple[str, ...] = ()


class Laid(Struct, frozen=True):
    """A job with a cut laid over its shots."""

    job: Job
    new: tuple[str, ...]
    """Shots that the cut has and the job had not; they need something, and nobody has said what."""
    changed: tuple[str, ...]
    """Shots whose seconds changed."""
    left_out: tuple[str, ...]
    """Shots of the job that the cut does not have."""


def cut_words(name: str, cut: Cut, laid: Laid) -> str:
    """Say what a ``cut`` from the file ``name`` did when it was ``laid`` over the shots."""
    words = f"{name}: {so_many(len(cut.clips), 'clip')}, the seconds of {so_many(len(laid.changed), 'shot')} changed"
    if laid.new:
        words += f", {len(laid.new)} new ({', '.join(laid.new[:4])})"
    if laid.left_out:
        words += f"; not in the cut: {', '.join(laid.left_out[:6])}"
    if cut.left_out:
        words += f"; {cut.left_out[0]}" + (f" and {len(cut.left_out) - 1} more" if len(cut.left_out) > 1 else "")
    return words + "."


def lay_cut(job: Job, clips: Sequence[Clip], day: date) -> Laid:
    """Lay a cut over the shots of a job.

    A shot that is cut in several times lasts as long as all its pieces, and stands where the first is.

    Parameters
    ----------
    job
        As it is.
    clips
        In the order of the cut.
    day
        For shots that only the cut knows.
    """
    shots = {shot.id: shot for shot in job.shots}
    places: dict[str, int] = {}
    seconds: dict[str, float] = {}
    new: list[str] = []
    for clip in clips:
        shot = _match(clip.name, tuple(shots.values()))
        if shot is None:
            number, _, words = clip.name.strip().partition(" ")
            made = new_shot(tuple(shots.values()), day)
            free = re.fullmatch(r"\d+\w*", number) and number not in shots
            shot = replace(made, id=number if free else made.id, name=words.strip() or clip.name.strip() or "unnamed")
            shots[shot.id] = shot
            new.append(shot.id)
        places.setdefault(shot.id, len(places) + 1)
        seconds[shot.id] = seconds.get(shot.id, 0.0) + clip.seconds
    laid = tuple(
        replace(s, cut=places.get(s.id, 0), seconds=min(max(round(seconds.get(s.id, s.seconds), 6), 0.001), 1e8))
        for s in shots.values()
    )
    before = {s.id: s.seconds for s in job.shots}
    changed = tuple(s.id for s in laid if s.id in before and abs(s.seconds - before[s.id]) > 1e-6)
    left_out = tuple(s.id for s in job.shots if s.id not in places)
    return Laid(replace(job, shots=laid), tuple(new), changed, left_out)


def _match(name: str, shots: tuple[Shot, ...]) -> Shot | None:
    """The shot that a clip's name means: its number, a name that begins with the number, or what happens in it."""
    words = name.strip().casefold()
    first = re.split(r"[\s_.\-]+", words.removeprefix("shot").removeprefix("sh").lstrip(" _-"))[0]
    by_id = {shot.id.casefold(): shot for shot in shots}
    found = by_id.get(words) or by_id.get(first) or by_id.get(first.lstrip("0"))
    return found or next((shot for shot in shots if shot.name.casefold() == words), None)
