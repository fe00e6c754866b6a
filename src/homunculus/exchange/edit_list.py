"""Edit lists, read and written by the general timeline library: its own format and the plain-text cut list."""

from __future__ import annotations

import math
import re

import msgspec

from homunculus.core.edits.cutting import Clip, Cut
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.exchange.apart import read_apart

MOST_BYTES = 50_000_000
MOST_CLIPS = 20_000
LONGEST_S = 86_400.0
REMEDY = "Ask the cutting room for a cut list or an OTIO file"
SUFFIXES = {".otio": "otio_json", ".edl": "cmx_3600"}


def read_edit_list(data: bytes, name: str, rate: float) -> Cut:
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
        When it is no edit list, or has no clips that can be.
    """
    if len(data) > MOST_BYTES:
        raise UserError(
            f"{name} is larger than any edit list ({len(data) // 1_000_000} MB)", name, "Choose another file"
        )
    found = read_apart(f"{__name__}:clips_of", data, name, REMEDY, f"{rate:.10g}")
    read: list[tuple[str, float]] = msgspec.json.decode(found, type=list[tuple[str, float]])
    clips, left_out = [], []
    for words, seconds in read:
        if 0.001 <= seconds <= LONGEST_S:
            clips.append(Clip(" ".join(words.split())[:200], seconds))
        else:
            left_out.append(f"“{words[:60]}” lasts {seconds:.3g} s and was left out")
    if len(clips) > MOST_CLIPS:
        raise UserError(f"{name} has over {MOST_CLIPS} clips", name, "Take it in in parts")
    if not clips:
        why = f" ({left_out[0]})" if left_out else ""
        raise UserError(f"{name} has no clips that can be on screen{why}", name, "Nothing was changed")
    return Cut(tuple(clips), tuple(left_out))


def clips_of(data: bytes, name: str, rate: str) -> bytes:
    """Read an edit list by the general library, in a process of its own: (name, seconds) of each clip as JSON.

    Parameters
    ----------
    data, name
        The file.
    rate
        Frames per second, as text.

    Raises
    ------
    UserError
        When it cannot be read.
    """
    import opentimelineio as otio  # only where such a file is read

    adapter = SUFFIXES[".edl"] if name.lower().endswith(".edl") else SUFFIXES[".otio"]
    options = {"rate": float(rate)} if adapter == SUFFIXES[".edl"] else {}
    try:
        timeline = otio.adapters.read_from_string(data.decode("utf-8-sig"), adapter, **options)
        found: list[tuple[float, str, float]] = []
        for track in timeline.video_tracks():
            for clip in track.find_clips():
                if isinstance(clip.media_reference, otio.schema.GeneratorReference):
                    continue  # black between two shots
                span = clip.transformed_time_range(clip.trimmed_range(), timeline.tracks)
                begin, seconds = span.start_time.to_seconds(), clip.duration().to_seconds()
                found.append(
                    (
                        begin if math.isfinite(begin) else 0.0,
                        clip.name or "",
                        seconds if math.isfinite(seconds) else -1.0,
                    )
                )
    except MemoryError:
        raise
    except Exception as trouble:  # noqa: BLE001  (the library lets all sorts of errors through)
        words = " ".join(str(trouble).split())[:120]
        raise UserError(f"{name} is no edit list that can be read ({words})", name, REMEDY) from None
    return msgspec.json.encode([(words, seconds) for _, words, seconds in sorted(found, key=lambda clip: clip[0])])


def write_edit_list(job: Job, name: str) -> bytes:
    """Write the shots in the order of the cut, those without a place at the end.

    Parameters
    ----------
    job
        Whose shots.
    name
        Of the file; its ending decides the format.
    """
    import opentimelineio as otio  # only where such a file is written

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
