"""Where everything is at a moment of the shot, as it shows: what moves is off its place, and the camera off its own."""

from __future__ import annotations

import math

from msgspec.structs import replace

from homunculus.core.errors import UserError
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Action, CameraMove, Cues, Drop, Flown, Travel, Wave
from homunculus.core.moving.cueing import cue_times
from homunculus.core.moving.easing import frames_of, positions, share_done
from homunculus.core.moving.falling import fall_time, wave_period
from homunculus.core.moving.swinging import period_on_screen

Offset = tuple[float, float, float]
"""How far across, away and up something is off its place [m on set]."""
STILL: Offset = (0.0, 0.0, 0.0)
MOST_FRAMES = 100_000
"""Frames of a move that are listed one by one: over an hour at 24 a second."""
SAMPLES = 180
"""Places of a camera's way at which it is looked how far it got."""


def lasts_of(action: Action, shot: Shot) -> float:
    """Seconds on screen that an ``action`` of a ``shot`` lasts: as it says, else to the shot's end."""
    lasts = getattr(action, "lasts_s", None)
    return float(lasts) if lasts is not None else max(shot.seconds - action.starts_s, 0.001)


def ends_of(action: Action, shot: Shot) -> tuple[float, float]:
    """From when to when an ``action`` of a ``shot`` goes on [s on screen], within the shot."""
    return action.starts_s, min(action.starts_s + lasts_of(action, shot), shot.seconds)


def since(action: Action, at: float) -> float:
    """How long an ``action`` has gone on ``at`` so many seconds on screen; below nought before it begins."""
    return at - action.starts_s


def to_frame(seconds: float, base: float, steps: int = 0) -> float:
    """The moment of the frame nearest to so many ``seconds`` on screen at the ``base`` rate [fps], and so many ``steps`` of a frame on."""
    return (round(seconds * base) + steps) / base


def frame_number(seconds: float, base: float) -> int:
    """Which frame is shown after so many ``seconds`` on screen at the ``base`` rate [fps], from 1."""
    return round(seconds * base) + 1


def crest_line(
    action: Wave, scale: float, base: float, rate: float | None, after: float, half: float, level: float, away: float
) -> list[Offset]:
    """Points of a crest line of an ``action`` as made at a ``scale``, ``after`` so many seconds on screen: across from -``half`` to ``half``, ``away``, about a ``level`` [all m].

    ``base`` and ``rate`` are the projected and the camera's rate [fps]; without a rate the water stands still. Its height is a twelfth and a half of its
    length, what storm waves have before they break: common practice, no source.
    """
    length = action.real_m / scale
    speed = 0.0 if rate is None else length / float(wave_period(length=length).value) * base / rate
    xs = [half * (i / 60 - 1) for i in range(121)]
    return [(x, away, level + length / 25 * math.sin(2 * math.pi * (x - speed * after) / length)) for x in xs]


def cues_gone(places: tuple[float, ...], time: float, base: float, rate: float, after: float) -> list[bool]:
    """Which of the cues at ``places`` [m], run along in a ``time`` on set [s], have gone ``after`` so many seconds on screen; ``base`` and ``rate`` in fps."""
    return [after >= at * rate / base for at in cue_times(places, time)]


def in_a_row(places: tuple[float, ...]) -> tuple[float, ...]:
    """Cues at ``places`` along a model [m], as far to the right of its middle [m]."""
    middle = (min(places) + max(places)) / 2
    return tuple(at - middle for at in places)


def shown_speed(speed: float, base: float, rate: float) -> float:
    """How far [m on set] something with a ``speed`` on set [m/s] gets in a second on screen, at ``base`` and camera's ``rate`` [fps]."""
    return speed * base / rate


def offset_of(action: Action, shot: Shot, scale: float, base: float, rate: float | None, at: float) -> Offset:
    """How far across, away and up [m on set] what an ``action`` of a ``shot`` moves is off its place ``at`` so many seconds on screen.

    ``scale`` is that of what moves, ``base`` and ``rate`` the projected and the camera's rate [fps]; without a rate nothing falls.
    """
    gone = min(max(since(action, at), 0.0), lasts_of(action, shot))
    match action:
        case Travel(real_m_s=speed, heading_deg=heading) | Flown(real_m_s=speed, heading_deg=heading):
            way = speed / scale * gone
            turn = math.radians(heading)
            return way * math.sin(turn), way * math.cos(turn), 0.0
        case Drop(real_m=real):
            if rate is None:
                return STILL
            height = real / scale
            whole = float(period_on_screen(period=fall_time(height=height), rate=rate, base=base))
            return 0.0, 0.0, -height * min((at - action.starts_s) / whole, 1.0) ** 2 if at > action.starts_s else 0.0
    return STILL


def camera_at(camera: Camera, shot: Shot, at: float, eye: float) -> Camera:
    """The ``camera`` of a ``shot`` as it stands and looks ``at`` so many seconds on screen; its ``eye`` is so high over the floor [m] where it begins."""
    for move in shot.actions:
        if isinstance(move, CameraMove) and move.camera == camera.name:
            share = share_done((at - move.starts_s) / lasts_of(move, shot), move.ease)
            camera = moved_camera(camera, move, share, eye)
    return camera


def moved_camera(camera: Camera, move: CameraMove, share: float, eye: float) -> Camera:
    """The ``camera`` after a ``share`` of a ``move``; its ``eye`` is so high over the floor [m] where it begins."""
    across, along, up, turn = gone(move, share)
    height = eye if camera.height_m is None else camera.height_m
    return replace(
        camera,
        across_m=camera.across_m + across,
        back_m=camera.back_m - along,
        height_m=height + up,
        pan_deg=camera.pan_deg + turn,
        tilt_deg=camera.tilt_deg + move.tilt_deg * share,
    )


def gone(move: CameraMove, share: float) -> tuple[float, float, float, float]:
    """How far across, along and up [m] the eye has gone after a ``share`` of a ``move``, and how far its camera is turned to the right [deg]."""
    arc = math.radians(move.arc_deg) * share
    across = move.across_m * share + move.about_m * math.sin(arc)
    along = move.along_m * share + move.about_m * (1 - math.cos(arc))
    return across, along, move.up_m * share, (move.pan_deg - move.arc_deg) * share


def extent_of(move: CameraMove) -> tuple[float, float]:
    """How far [m] the eye of a ``move`` gets, at the most, sideways or up from where it began, and along: an arc may go out and come back."""
    ways = [gone(move, i / SAMPLES) for i in range(SAMPLES + 1)]
    return max(math.hypot(across, up) for across, _, up, _ in ways), max(abs(along) for _, along, _, _ in ways)


def frame_table(move: CameraMove, shot: Shot, base: float) -> tuple[tuple[int, float, float, float, float, float], ...]:
    """Where the camera of a ``move`` of a ``shot`` is at each of its frames, shown at the ``base`` rate [fps]: frame, across, along, up [m], pan, tilt [deg].

    Each is rounded to what it can be placed to, never the steps, so they add up to the whole.

    Raises
    ------
    UserError
        When they are more than anybody calls.
    """
    frames = int(frames_of(screen=lasts_of(move, shot), base=base))
    if frames > MOST_FRAMES:
        raise UserError(
            f"{move.name} has {frames} frames, more than a list holds", remedy="Say how long it lasts, as in “for 8 s”"
        )
    first = round(move.starts_s * base)
    shares = positions(1.0, frames, move.ease)
    rows = []
    for i, share in enumerate(shares):
        *places, turn = gone(move, share)
        across, along, up = (round(p / move.grain_m) * move.grain_m if move.grain_m else p for p in places)
        rows.append((first + i, across, along, up, turn, move.tilt_deg * share))
    return tuple(rows)


def kind_words(action: Action) -> str:
    """What kind of move an ``action`` is, in a word for a heading."""
    names: dict[type, str] = {
        Travel: "travel",
        Flown: "flown",
        Cues: "cue chain",
        Drop: "drop",
        Wave: "waves",
        CameraMove: "camera",
    }
    return names.get(type(action), "falling matter")
