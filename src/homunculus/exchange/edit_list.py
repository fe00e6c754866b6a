"""Edit lists, read and written by the general timeline library: its own format and the plain-text cut list."""

from __future__ import annotations

import re

import opentimelineio as otio

from homunculus.core.cutting import Clip
from homunculus.core.errors import UserError
from homunculus.core.job import Job

SUFFIXES = {".otio": "otio_json", ".edl": "cmx_3600"}


def read_edit_list(data: bytes, name: str, rate: float) -> tuple[Clip, ...]:
    """Read the clips of an edit list, in the order of the cut.

    Parameters
    ----------
    data
        The file.
    name
        Its name; ``.edl`` is the plain-text cut list, anything else the library's own format.
    rate
        Frames per second, for a cut list that counts frames.

    Raises
    ------
    UserError
        When it is no edit list, or has no clips.
    """
    adapter = SUFFIXES[".edl"] if name.lower().endswith(".edl") else SUFFIXES[".otio"]
    options = {"rate": rate} if adapter == SUFFIXES[".edl"] else {}
    try:
        timeline = otio.adapters.read_from_string(data.decode("utf-8-sig"), adapter, **options)
        clips = _clips(timeline)
    except (otio.exceptions.OTIOError, ValueError, KeyError, IndexError, TypeError, AttributeError) as trouble:
        words = " ".join(str(trouble).split())[:120]
        raise UserError(f"{name} is no edit list that can be read ({words})", name,
                        "Ask the cutting room for a cut list or an OTIO file") from None  # fmt: skip
    if not clips:
        raise UserError(f"{name} has no clips", name, "Nothing was changed")
    return clips


def _clips(timeline: object) -> tuple[Clip, ...]:
    """Clips of all picture tracks by where they begin; gaps and sound are left out."""
    found: list[tuple[float, Clip]] = []
    for track in timeline.video_tracks():  # type: ignore[attr-defined]
        for clip in track.find_clips():
            if isinstance(clip.media_reference, otio.schema.GeneratorReference):
                continue  # black between two shots
            start = clip.transformed_time_range(clip.trimmed_range(), timeline.tracks).start_time.to_seconds()  # type: ignore[attr-defined]
            found.append((start, Clip(clip.name or "", clip.duration().to_seconds())))
    return tuple(clip for _, clip in sorted(found, key=lambda pair: pair[0]) if clip.seconds > 0)


def write_edit_list(job: Job, name: str) -> bytes:
    """Write the shots in the order of the cut, those without a place at the end.

    Parameters
    ----------
    job
        Whose shots.
    name
        Of the file; its ending decides the format.
    """
    rate = job.shop.base_rate_fps
    timeline = otio.schema.Timeline(job.name)
    track = otio.schema.Track("shots", kind=otio.schema.TrackKind.Video)
    timeline.tracks.append(track)
    for shot in sorted(job.shots, key=lambda s: s.cut or 10**6):
        length = otio.opentime.RationalTime(max(1, round(shot.seconds * rate)), rate)
        whole = otio.opentime.TimeRange(otio.opentime.RationalTime(0, rate), length)
        words = re.sub(r"\s+", " ", f"{shot.id} {shot.name}").strip()
        clip = otio.schema.Clip(words, otio.schema.MissingReference(available_range=whole), whole)
        clip.metadata["cmx_3600"] = {"reel": re.sub(r"\W", "", shot.id)[:8] or "AX"}
        track.append(clip)
    adapter = SUFFIXES[".edl"] if name.lower().endswith(".edl") else SUFFIXES[".otio"]
    text: str = otio.adapters.write_to_string(
        timeline, adapter, **({"rate": rate} if adapter == SUFFIXES[".edl"] else {})
    )
    return text.encode()
