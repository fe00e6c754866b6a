"""The columns of the shot list: each reads a cell into a shot and writes it out, on the sheet and in files alike."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import date
from typing import Any, NamedTuple

from msgspec.structs import replace

from homunculus.core.cells.actions import parse_action, renamed, show_action
from homunculus.core.cells.air import parse_air, show_air
from homunculus.core.cells.needs import find_build, parse_needs, show_needs
from homunculus.core.cells.places import parse_camera, show_camera, within
from homunculus.core.cells.stands import parse_stand, show_stand
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera
from homunculus.core.job.shots import Deadline, FixedRate, FrameByFrame, FrameRule, Gravity, Plate, ScreenTime, Shot
from homunculus.core.job.stage import Action, MeasuringCard
from homunculus.core.quantities import NBSP, Kind, System, parse, parse_day, parse_hour, parse_number, parse_signed
from homunculus.core.showing import show, show_clock, show_day, show_number, significant

DEFAULT_DAY = date(2000, 1, 3)


class CellContext(NamedTuple):
    """What a cell is read against: the job with its builds, and the units for bare numbers."""

    job: Job
    system: System = "metric"


class Column(NamedTuple):
    """One column: a stable key, its head on screen and in files, other heads in files, reading, writing, an example."""

    key: str
    head: str
    also: tuple[str, ...]
    read: Callable[[Shot, str, CellContext], Shot]
    write: Callable[[Shot, Job], str]
    example: str


# ------------------------------------------------------------------------------------------- parts
def _plain(field: str) -> tuple[Callable[[Shot, str, CellContext], Shot], Callable[[Shot, Job], str]]:
    def read(shot: Shot, text: str, _: CellContext) -> Shot:
        return replace(shot, **{field: " ".join(text.split())})

    return read, lambda shot, _: getattr(shot, field)


def _whole(field: str, label: str) -> tuple[Callable[[Shot, str, CellContext], Shot], Callable[[Shot, Job], str]]:
    def read(shot: Shot, text: str, _: CellContext) -> Shot:
        words = text.strip()
        if not re.fullmatch(r"\d{1,5}(?:\.0)?", words or "0"):
            raise UserError(f"“{words}” is no {label}", remedy="Write a whole number, or leave it empty")
        return replace(shot, **{field: int(float(words or 0))})

    return read, lambda shot, _: str(getattr(shot, field) or "")


def _read_id(shot: Shot, text: str, context: CellContext) -> Shot:
    name = " ".join(text.split())
    if not name:
        raise UserError("A shot needs a number or a name of its own", remedy="Write one, such as 14 or 12a")
    if name != shot.id and any(other.id == name for other in context.job.shots):
        raise UserError(f"There is a shot {name} already", remedy="Give it another number")
    return replace(shot, id=name)


def _read_seconds(shot: Shot, text: str, _: CellContext) -> Shot:
    return replace(shot, seconds=within(parse(text, "screen_time"), Shot, "seconds", text))


def _read_day(shot: Shot, text: str, _: CellContext) -> Shot:
    return replace(shot, day=parse_day(text, shot.day))


def _read_call(shot: Shot, text: str, _: CellContext) -> Shot:
    return replace(shot, call=parse_hour(text))


def _read_rule(shot: Shot, text: str, _: CellContext) -> Shot:
    return replace(shot, rule=parse_rule(text))


_HELD = {"ones": 1, "twos": 2, "threes": 3, "fours": 4}


def parse_rule(text: str) -> FrameRule:
    """Read what decides a shot's frame rate: “gravity”, “gravity ×1.2”, “48 fps”, “on twos”, “takes 5 h”.

    Raises
    ------
    UserError
        When the ``text`` is none of these.
    """
    words = " ".join(text.replace(NBSP, " ").casefold().split())
    remedy = "Write gravity, gravity ×1.2, 48 fps, on twos, or takes 5 h"
    if words in ("", "gravity"):
        return Gravity()
    if match := re.fullmatch(r"gravity [×x*] ?(\d+(?:[.,]\d+)?)", words):
        return Gravity(within(parse_number(match[1]), Gravity, "faster", text))
    if match := re.fullmatch(r"on (\w+)", words):
        hold = _HELD.get(match[1]) or (int(match[1]) if match[1].isdecimal() else 0)
        return FrameByFrame(round(within(hold, FrameByFrame, "hold", text)))
    if words.startswith("takes "):
        return ScreenTime(within(parse(words[6:], "duration"), ScreenTime, "event_s", text))
    try:
        return FixedRate(within(parse(words, "rate"), FixedRate, "rate_fps", text))
    except UserError:
        raise UserError(f"“{text.strip()}” says no frame rate", remedy=remedy) from None


def show_rule(rule: FrameRule) -> str:
    """Write a ``rule`` as :func:`parse_rule` reads it."""
    match rule:
        case Gravity(faster=faster):
            return "gravity" if faster == 1 else f"gravity ×{show_number(faster)}"
        case FixedRate(rate_fps=rate):
            return f"{show_number(rate)} fps"
        case FrameByFrame(hold=hold):
            names = {count: name for name, count in _HELD.items()}
            return f"on {names.get(hold, str(hold))}"
        case ScreenTime(event_s=event):
            return f"takes {show_number(event / 3600)} h" if event >= 3600 else f"takes {show_number(event)} s"


def _read_lens(shot: Shot, text: str, context: CellContext) -> Shot:
    """The first camera; empty takes it away, and the next becomes the first."""
    rest = shot.cameras[1:]
    if not text.strip():
        return replace(shot, cameras=rest)
    name = shot.cameras[0].name if shot.cameras else ""
    return replace(shot, cameras=(parse_camera(text, context.system, name), *rest), disagreed="")


def _show_lens(shot: Shot, _: Job) -> str:
    return show_camera(shot.cameras[0]) if shot.cameras else ""


def _read_cameras(shot: Shot, text: str, context: CellContext) -> Shot:
    found = []
    for part in (p for p in text.split(";") if p.strip()):
        name, colon, lens = part.partition(":")
        if not colon or not name.strip():
            raise UserError(f"“{part.strip()}” names no camera", remedy="Write it like B: 85 mm, 30 m to 60 m")
        found.append(parse_camera(lens, context.system, name.strip()))
    if found and not shot.cameras:
        raise UserError("The first camera has no lens yet", remedy="Type its lens first")
    names = [camera.name for camera in (*shot.cameras[:1], *found)]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise UserError(f"Two cameras are called “{twice}”", remedy="Give each a name of its own")
    return replace(shot, cameras=(*shot.cameras[:1], *found), disagreed="")


def _show_cameras(shot: Shot, _: Job) -> str:
    return "; ".join(f"{camera.name}: {show_camera(camera)}" for camera in shot.cameras[1:])


def _read_base(shot: Shot, text: str, context: CellContext) -> Shot:
    if not text.strip():
        return replace(shot, base="")
    build = find_build(context.job, text)
    if build is None or build.id not in shot.builds:
        known = ", ".join(shot.builds) or "none yet"
        raise UserError(f"“{text.strip()}” is no build of this shot", remedy=f"It has {known}")
    return replace(shot, base=build.id)


def _read_lit(shot: Shot, text: str, context: CellContext) -> Shot:
    """The area that is lit; empty leaves it to what the camera sees."""
    area = within(parse(text, "area", context.system), Shot, "lit_m2", text) if text.strip() else None
    return replace(shot, lit_m2=area)


def _read_deadlines(shot: Shot, text: str, _: CellContext) -> Shot:
    found = []
    for part in (p for p in text.split(";") if p.strip()):
        match = re.fullmatch(r"\s*(.+?)\s*([+−-])\s*(\d{1,3})\s*d?(?:\s*,\s*(.+?))?\s*", part)
        if not match:
            raise UserError(
                f"“{part.strip()}” says no day", remedy="Write days from the shoot: plate to compositing +2, lab"
            )
        days = int(match[3]) * (1 if match[2] == "+" else -1)
        found.append(Deadline(match[1], days, match[4] or ""))
    return replace(shot, deadlines=tuple(found))


def _show_deadlines(shot: Shot, _: Job) -> str:
    return "; ".join(f"{d.what} {d.days:+d}" + (f", {d.who}" if d.who else "") for d in shot.deadlines)


def _read_moves(shot: Shot, text: str, context: CellContext) -> Shot:
    found: tuple[Action, ...] = ()
    for part in (p for p in re.split(r"[;\n]", text) if p.strip()):
        found = (*found, renamed(found, parse_action(part, context.job, context.system)))
    return replace(shot, actions=found)


def _read_eye(shot: Shot, text: str, context: CellContext) -> Shot:
    """How high the eye looks, real; empty leaves it to the plate or the main build."""
    words = text.replace(NBSP, " ").replace("\N{MINUS SIGN}", "-").strip()
    if not words:
        return replace(shot, eye_real_m=None)
    height = parse_signed(words, context.system)
    return replace(shot, eye_real_m=within(height, Shot, "eye_real_m", text))


def _read_marks(shot: Shot, text: str, context: CellContext) -> Shot:
    """Nails and stands; what was found of a stand that keeps its name stays."""
    parts = [part for part in re.split(r"[;\n]", text) if part.strip()]
    if not parts:
        return replace(shot, card=None)
    card = shot.card or MeasuringCard()
    if parts[0].strip().casefold().startswith("nails "):
        nails = parse(parts.pop(0).strip()[len("nails ") :], "length", context.system)
        card = replace(card, nails_m=within(nails, MeasuringCard, "nails_m", text))
    stands = tuple(parse_stand(part, context.system) for part in parts)
    names = [stand.name for stand in stands]
    twice = next((name for name in names if names.count(name) > 1), None)
    if twice is not None:
        raise UserError(f"Two stands are called “{twice}”", remedy="Give each a name of its own")
    kept = tuple(reading for reading in card.readings if reading.stand in names)
    return replace(shot, card=replace(card, stands=stands, readings=kept))


def _show_marks(shot: Shot, _: Job) -> str:
    card = shot.card
    return "; ".join((f"nails {show_number(card.nails_m)} m", *map(show_stand, card.stands))) if card else ""


# ------------------------------------------------------------------------------------------- plate
def _plate(field: str, kind: Kind, unit: str, per: float = 1.0) -> tuple[Callable[[Shot, str, CellContext], Shot],
                                                                        Callable[[Shot, Job], str]]:  # fmt: skip
    """A number of the plate; written in ``unit``, of which ``per`` make a base unit."""

    def read(shot: Shot, text: str, context: CellContext) -> Shot:
        words = text.replace(NBSP, " ").strip()
        value: float | None = None
        if words:
            words = words.removeprefix("f/").removeprefix("ISO").removesuffix("°").strip()
            below = words[:1] in ("-", "−")  # a lens may look down, and stand lower than the ground that shows
            size = words[1:] if below else words
            value = parse_number(size) if kind == "count" else parse(size, kind, context.system)
            value = -value if below else value
            value = within(value, Plate, field, text)
        return _with_plate(shot, field, value)

    def write(shot: Shot, _: Job) -> str:
        value = getattr(shot.plate, field) if shot.plate else None
        return "" if value is None else f"{show_number(value * per)}{unit}"

    return read, write


def _with_plate(shot: Shot, field: str, value: Any) -> Shot:
    changed = replace(shot.plate or Plate(), **{field: value})
    return replace(shot, plate=None if changed == Plate() else changed)


def _read_format(shot: Shot, text: str, _: CellContext) -> Shot:
    return _with_plate(shot, "format", " ".join(text.split()))


COLUMNS: tuple[Column, ...] = (
    Column("id", "shot", ("shot number", "no", "number", "scene", "id"), _read_id, lambda s, _: s.id, "14a"),
    Column("name", "what happens", ("description", "action", "name", "title"), *_plain("name"), "claw takes the rope"),
    Column("seconds", "seconds", ("duration", "length", "time on screen", "screen time", "sec", "s"), _read_seconds,
           lambda s, _: f"{show_number(s.seconds)}", "7.5"),
    Column("unit", "unit", ("crew",), *_plain("unit"), "puppets"),
    Column("day", "day", ("date", "shoot day", "shooting day"), _read_day, lambda s, _: s.day.isoformat(), "2026-03-17"),
    Column("order", "order", ("order of day", "slot"), *_whole("order", "place within the day"), "2"),
    Column("cut", "place in cut", ("cut", "story order", "event"), *_whole("cut", "place in the cut"), "31"),
    Column("needs", "needs", ("elements", "breakdown", "requirements", "what it needs"),
           lambda s, text, context: replace(s, needs=parse_needs(text, context.job)), lambda s, job: show_needs(s.needs, job),
           "wave: stock: tank; tarred rope"),
    Column("rule", "frame rate", ("rate", "fps", "frames per second"), _read_rule, lambda s, _: show_rule(s.rule), "gravity ×1.2"),
    Column("base", "goes by", ("main build", "base scale"), _read_base, lambda s, _: s.base, "lighthouse"),
    Column("lens", "camera", ("lens", "optics"), _read_lens, _show_lens, "35 mm, 24 m to 84 m, 180°, ISO 800"),
    Column("cameras", "more cameras", ("cameras",), _read_cameras, _show_cameras, "B: 85 mm, 30 m to 60 m"),
    Column("lit", "lit area", ("area lit",), _read_lit, lambda s, _: "" if s.lit_m2 is None else f"{show_number(s.lit_m2)} m2", "6 m2"),
    Column("eye", "eye looks", ("eye height, real", "real eye height"), _read_eye, lambda s, _: "" if s.eye_real_m is None else f"{show_number(s.eye_real_m)} m", "8.6 m"),
    Column("air", "air", ("haze", "atmosphere"), lambda s, text, context: replace(s, air=parse_air(text, context.system)),
           lambda s, _: show_air(s.air) if s.air else "", "sight 2 km at 2 %"),
    Column("moves", "moves", ("movement", "actions"), _read_moves, lambda s, _: "; ".join(map(show_action, s.actions)), "camera slider: 0.3 m right"),
    Column("marks", "stands", ("measuring card", "floor marks"), _read_marks, _show_marks, "nails 4 m; lens stand: A 2.31 m, B 3.02 m, left"),
    Column("ends_as", "ends as", ("must match", "matches"), *_plain("ends_as"), "lamp dark, as the plate ends"),
    Column("deadlines", "deadlines", ("due", "follow-up"), _read_deadlines, _show_deadlines, "cut-outs back -4, printer; plate out +2"),
    Column("call", "call", ("call time",), _read_call, lambda s, _: f"{show_clock(s.call)}", "06:30"),
    Column("plate_format", "plate format", ("format",), _read_format, lambda s, _: s.plate.format if s.plate else "", "spherical"),
    Column("plate_sensor", "plate sensor", ("sensor", "sensor width"), *_plate("sensor_width_m", "length", " mm", 1000), "25.4 mm"),
    Column("plate_focal", "plate lens", ("focal length", "plate focal length"), *_plate("focal_m", "focal_length", " mm", 1000), "24 mm"),
    Column("plate_height", "plate height", ("height", "lens height"), *_plate("height_m", "length", " m"), "-1.5 m"),
    Column("plate_tilt", "plate tilt", ("tilt",), *_plate("tilt_deg", "count", "°"), "3.5°"),
    Column("plate_roll", "plate roll", ("roll",), *_plate("roll_deg", "count", "°"), "-1°"),
    Column("plate_distance", "plate distance", ("distance",), *_plate("distance_m", "length", " m"), "90 m"),
    Column("plate_rate", "plate rate", ("plate fps",), *_plate("rate_fps", "rate", " fps"), "24 fps"),
    Column("plate_shutter", "plate shutter", ("shutter", "shutter angle"), *_plate("shutter_deg", "count", "°"), "172.8°"),
    Column("plate_stop", "plate stop", ("stop", "aperture", "f-stop"), *_plate("stop", "count", ""), "5.6"),
    Column("plate_iso", "plate ISO", ("iso",), *_plate("iso", "count", ""), "800"),
)  # fmt: skip
BY_KEY = {column.key: column for column in COLUMNS}


def read_cell(job: Job, shot: Shot, key: str, text: str, system: System = "metric") -> Shot:
    """Read a cell into a shot.

    Parameters
    ----------
    job
        With its builds and the other shots.
    shot
        As it is.
    key
        Of the column.
    text
        As typed; an empty cell takes the value away where that can be.
    system
        Of units, for bare numbers.

    Raises
    ------
    UserError
        When the text cannot be read.
    """
    return BY_KEY[key].read(shot, text, CellContext(job, system))


def cell_words(shot: Shot, job: Job, key: str, system: System = "metric") -> str:
    """A cell of a ``shot`` of a ``job`` as the sheet shows it: column ``key``, in the ``system``'s units."""
    match key:
        case "seconds":
            return f"{float(significant(shot.seconds, 3)):g}"
        case "needs":
            return " · ".join(need.what for need in shot.needs)
        case "day":
            return show_day(shot.day)
        case "lens" if shot.cameras:
            return _camera_words(shot.cameras[0], job, system)
    return BY_KEY[key].write(shot, job)


def _camera_words(camera: Camera, job: Job, system: System) -> str:
    """The lens and what it must hold."""
    card = next((card for card in job.cards.lenses if card.id == camera.lens), None)
    lens = card.name if card else f"{camera.focal_m * 1000:.4g} mm"
    if camera.depth is None:
        return lens
    near, far = (str(show(d, "length", system, 3)) for d in (camera.depth.near_m, camera.depth.far))
    return f"{lens}, {near} to {far}"


def cell_worth(shot: Shot, job: Job, key: str) -> tuple[str | float, ...] | None:
    """What the column ``key`` of a ``shot`` of a ``job`` is sorted by: numbers in words by their worth; none when empty."""
    if key == "day":
        return (shot.day.toordinal(), shot.order)
    text = BY_KEY[key].write(shot, job).replace("\N{MINUS SIGN}", "-").casefold()
    below = -1.0 if text.startswith("-") else 1.0  # each column is written in one unit
    parts = re.split(r"(\d+(?:\.\d+)?)", text.removeprefix("-"))
    return (
        tuple(float(part) * (below if at == 1 else 1.0) if at % 2 else part for at, part in enumerate(parts))
        if text
        else None
    )


def new_shot(shots: tuple[Shot, ...], day: date) -> Shot:
    """A shot to be filled in, numbered after the highest of the ``shots``, on a ``day``."""
    numbers = [int(m[0]) for s in shots if (m := re.match(r"\d+", s.id))]
    return Shot(str(max(numbers, default=0) + 1), "new shot", 4.0, day)


def put_shot(job: Job, old_id: str, shot: Shot) -> Job:
    """Return the ``job`` with ``shot`` in the place of the one called ``old_id``."""
    return replace(job, shots=tuple(shot if s.id == old_id else s for s in job.shots))
