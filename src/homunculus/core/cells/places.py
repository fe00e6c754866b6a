"""Where something stands before the lens, and what a camera is, as people write them in one phrase, and back.

A place: `stands 0.6 m`, `stands 2 m to 7 m` on the floor; `looks 40 m` as far away as it looks at its own scale; `may be soft`; `in a pass of its own`;
`at 1:48` for what is no build, `2 m wide`, `0.9 m high` how large it is meant; `0.3 m right` or `left` of the axis; `foot 0.9 m` over the floor, where
it does not rise to the eye; `turned 20°` clockwise from above. A camera: its focal length or the id of a lens, then in any order `24 m to 84 m` that must be sharp, as
it looks, or `2 m to 7 m on the floor`; `focus 3 m`, `f/8`, `180°` or `1/2 s`, `ISO 800`, `f/2 to f/22`, `body high-speed-1000`,
`mode full width`, `eye 1.2 m`, `back 0.4 m`, `0.2 m right`, `pan 3°`, `tilt -2°`, `roll 1°`, `filters 2 stops`.
"""

from __future__ import annotations

import re

from msgspec.structs import replace

from homunculus.core.edits.decisions import bounds
from homunculus.core.edits.lines import reach
from homunculus.core.errors import UserError
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.quantities import NBSP, Kind, System, parse, parse_number, parse_scale, parse_signed
from homunculus.core.showing import show, show_number, show_scale

_FAR = ("infinity", "inf", "∞")
_STOPS = re.compile(r"f/\s*([\d.]+)\s*(?:to|-|–)\s*f/\s*([\d.]+)")
_ASIDE = re.compile(r"(\d.*?) (right|left)", re.IGNORECASE)
_SIZE = re.compile(r"(\d.*?) (wide|high)", re.IGNORECASE)
_TURNED = re.compile(r"turned ([-\N{MINUS SIGN}]?[\d.]+)\s*°", re.IGNORECASE)
_PLACED = re.compile(
    r"(?:stands|looks|at|foot) [-\N{MINUS SIGN}]?\d.*|may be soft|in a pass of its own|turned [-\N{MINUS SIGN}]?\d.*|\d.* (?:right|left|wide|high)",
    re.IGNORECASE,
)
CAMERA_EXAMPLE = (
    "Write it like 35 mm, 24 m to 84 m, 180°, ISO 800; 2 m to 7 m on the floor; focus 3 m; f/8; 1/2 s instead of 180° frame "
    "by frame; f/2 to f/22 for its stops; or the lens of a card, as in prime-32"
)
PLACE_EXAMPLE = "Write it like stands 0.6 m, stands 2 m to 7 m, or looks 40 m; may be soft; in a pass of its own; 0.3 m right; foot 0.9 m; turned 20°; at 1:48, 2 m wide, 1 m high for what is no build"


def within(value: float, owner: type, field: str, text: str) -> float:
    """Hold a typed ``value`` to the bounds of the ``field`` of its ``owner``.

    Raises
    ------
    UserError
        When it is outside; the message names the ``text`` and says from where to where it goes.
    """
    low, high = bounds(owner, field)
    if not low <= value <= high:
        raise UserError(f"“{text.strip()}” is out of reach", remedy=reach(owner, field))
    return value


def signed_number(text: str) -> float:
    """Read a number that may be below nought from a ``text``.

    Raises
    ------
    UserError
        When it is none.
    """
    words = text.strip().replace("\N{MINUS SIGN}", "-")
    return -parse_number(words[1:]) if words.startswith("-") else parse_number(words)


def phrases(text: str) -> list[str]:
    """The phrases of a ``text``: parted by commas, but not by those within numbers."""
    return [" ".join(part.split()) for part in re.split(r",(?!\d)|(?<!\d),", text.replace(NBSP, " "))]


def sized(value: float, system: System, kind: Kind = "length", unit: str = "m") -> str:
    """Write a ``value`` of a ``kind`` [SI, as the metric ``unit`` is]: in metric units to the last digit, in those of another ``system`` as it is shown."""
    if system == "metric":
        return f"{show_number(value)} {unit}"
    return str(show(value, kind, system, 4)).replace(NBSP, " ")


def as_it_stood(text: str, shown: str, exact: str) -> str:
    """Return a typed ``text`` with each phrase that was left as it was ``shown`` as it is ``exact``: rounding does not move what nobody touched."""
    head, colon, rest = text.rpartition(": ") if ": " in shown else ("", "", text)
    values = [phrases(line.rpartition(": ")[2] if colon else line) for line in (shown, exact)]
    stood = dict(zip(*values, strict=True))
    return head + colon + ", ".join(stood.get(part, part) for part in phrases(rest))


def _span(text: str, system: System) -> tuple[float, float | None, bool]:
    """Read “24 m to 84 m”, “2 to 7 m”, “24 m”: near, far and whether that is at infinity."""
    near_words, to, far_words = text.partition(" to ")
    endless = far_words.strip().casefold() in _FAR
    unit = re.search(r"[^\d.,\s]+$", far_words.strip())
    if to and not re.search(r"[^\d.,\s]$", near_words.strip()) and unit and not endless:
        near_words = f"{near_words} {unit[0]}"
    near = parse(near_words, "length", system)
    return near, None if endless or not to else parse(far_words, "length", system), endless


# ----------------------------------------------------------------------------------------- places
def is_placed(phrase: str) -> bool:
    """Whether a ``phrase`` says where something stands."""
    return bool(_PLACED.fullmatch(phrase.strip()))


def parse_place(parts: list[str], system: System = "metric") -> Place | None:
    """Read a place from its phrases; none from none.

    Parameters
    ----------
    parts
        Each as :func:`is_placed` knows it.
    system
        Of units, for bare distances.

    Raises
    ------
    UserError
        When they cannot be read, or say no distance.
    """
    if not parts:
        return None
    at: float | None = None
    to: float | None = None
    looks, soft, alone, scale = False, False, False, None
    more: dict[str, float] = {}
    for part in parts:
        word, _, rest = part.strip().partition(" ")
        word = word.casefold()
        if laid := _laid(part.strip(), system):
            more |= laid
        elif word == "may":
            soft = True
        elif word == "in":
            alone = True
        elif word == "at" and ":" in rest:
            scale = within(parse_scale(rest), Place, "scale", part)
        else:  # “at 40 m” is how sheets said it before: as it looks
            at, to, endless = _span(rest, system)
            looks = word != "stands"
            if endless:
                raise UserError(f"“{part}” is nowhere", remedy="Nothing stands at infinity. " + PLACE_EXAMPLE)
            at = within(at, Place, "at_m", part)
            to = None if to is None else within(to, Place, "to_m", part)
            if to is not None and to <= at:
                raise UserError(f"“{part}” is no place", remedy="The near side comes first and is nearer")
    if at is None:
        raise UserError(f"“{', '.join(parts)}” says no distance", remedy=PLACE_EXAMPLE)
    return Place(at, to, looks, soft, alone, scale, **more)


def place_typed(text: str, before: Place, system: System = "metric") -> Place | None:
    """Read a place as :func:`parse_place` does from a ``text`` in a ``system`` of units, typed over the one ``before``: what stands as it was shown keeps its value."""
    return parse_place(phrases(as_it_stood(text, show_place(before, system), show_place(before))), system)


def _laid(part: str, system: System) -> dict[str, float]:
    """Read how something is laid out beside its distance: aside, foot, turn and size; nothing where a phrase says none of these."""
    if match := _ASIDE.fullmatch(part):
        aside = within(parse(match[1], "length", system), Place, "across_m", part)
        return {"across_m": -aside if match[2].casefold() == "left" else aside}
    if match := _SIZE.fullmatch(part):
        field = f"{match[2].casefold()}_m"
        return {field: within(parse(match[1], "length", system), Place, field, part)}
    if match := _TURNED.fullmatch(part):
        return {"turn_deg": within(signed_number(match[1]), Place, "turn_deg", part)}
    word, _, rest = part.partition(" ")
    return (
        {"foot_m": within(parse_signed(rest, system), Place, "foot_m", part)}
        if word.casefold() == "foot" and rest
        else {}
    )


def show_place(place: Place, system: System = "metric") -> str:
    """Write a ``place`` as :func:`parse_place` reads it, in the units of a ``system``; in metric ones it reads back equal."""
    words = f"{'looks' if place.looks else 'stands'} {sized(place.at_m, system)}"
    words += f" to {sized(place.to_m, system)}" if place.to_m is not None else ""
    words += f", at {show_scale(place.scale)}" if place.scale is not None else ""
    words += f", {show_aside(place.across_m, system)}" if place.across_m else ""
    words += f", foot {sized(place.foot_m, system)}" if place.foot_m is not None else ""
    words += f", turned {show_number(place.turn_deg)}°" if place.turn_deg else ""
    words += f", {sized(place.wide_m, system)} wide" if place.wide_m is not None else ""
    words += f", {sized(place.high_m, system)} high" if place.high_m is not None else ""
    words += ", in a pass of its own" if place.alone else ""
    return words + (", may be soft" if place.soft else "")


def show_aside(metres: float, system: System = "metric") -> str:
    """Write how far to the right of the axis something is, ``metres`` [m], in a ``system`` of units: below nought as “0.3 m left”."""
    return f"{sized(abs(metres), system)} {'left' if metres < 0 else 'right'}"


# ---------------------------------------------------------------------------------------- cameras
def parse_camera(text: str, system: System = "metric", name: str = "", before: Camera | None = None) -> Camera:
    """Read a camera.

    Parameters
    ----------
    text
        As above.
    system
        Of units, for bare distances.
    name
        Of the camera.
    before
        What stood there: a phrase left as it was shown keeps its value to the last digit.

    Raises
    ------
    UserError
        When it cannot be read.
    """
    if before:
        text = as_it_stood(text, show_camera(before, system), show_camera(before))
    first, *rest = phrases(text)
    if not first:
        raise UserError(f"“{text.strip()}” says no lens", remedy=CAMERA_EXAMPLE)
    camera = Camera(name=name)
    try:
        camera = replace(camera, focal_m=within(parse(first, "focal_length"), Camera, "focal_m", first))
    except UserError as trouble:
        if not re.fullmatch(r"[a-z][\w-]*-?[\w-]*", first):
            raise UserError(
                f"“{first}” says no lens",
                remedy=f"{trouble.remedy.rstrip('.')}. {CAMERA_EXAMPLE}" if trouble.remedy else CAMERA_EXAMPLE,
            ) from None
        hidden = before.focal_m if before and before.lens == first else camera.focal_m  # no line shows it beside a card
        camera = replace(camera, lens=first, focal_m=hidden)
    for part in rest:
        camera = _camera_part(camera, part, system)
    return camera


def _camera_part(camera: Camera, part: str, system: System) -> Camera:
    """Read what may stand after the lens."""
    words = part.casefold()
    if match := _STOPS.fullmatch(words):
        widest = within(parse_number(match[1]), Camera, "widest_stop", part)
        smallest = within(parse_number(match[2]), Camera, "smallest_stop", part)
        if widest > smallest:
            raise UserError(f"“{part}” has its stops the wrong way round", remedy="The widest comes first: f/2 to f/22")
        return replace(camera, widest_stop=widest, smallest_stop=smallest)
    if match := re.fullmatch(r"f/\s*([\d.]+)", words):
        return replace(camera, stop=within(parse_number(match[1]), Camera, "stop", part))
    if match := re.fullmatch(r"([\d.]+)\s*°", words):
        return replace(camera, shutter_deg=within(parse_number(match[1]), Camera, "shutter_deg", part))
    if match := re.fullmatch(r"iso\s*([\d.]+)", words):
        return replace(camera, iso=within(parse_number(match[1]), Camera, "iso", part))
    if re.fullmatch(r"[\d./ ]+(?:m?s|sec|min)", words):
        seconds = parse_number(words[:-2]) / 1000 if words.endswith("ms") else parse(words, "screen_time")
        return replace(camera, exposure_s=within(seconds, Camera, "exposure_s", part))
    if match := _ASIDE.fullmatch(words):
        aside = within(parse(match[1], "length", system), Camera, "across_m", part)
        return replace(camera, across_m=-aside if match[2] == "left" else aside)
    if match := re.fullmatch(r"(pan|tilt|roll) ([-\N{MINUS SIGN}]?[\d.]+)\s*°", words):
        field = f"{match[1]}_deg"
        turn = within(signed_number(match[2]), Camera, field, part)
        return replace(camera, **{field: turn})
    word, _, rest = part.partition(" ")
    match word.casefold():
        case "focus" if rest:
            return replace(camera, focus_m=within(parse(rest, "length", system), Camera, "focus_m", part))
        case "body" if rest:
            return replace(camera, body=rest)
        case "mode" if rest:
            return replace(camera, mode=rest)
        case "eye" if rest:
            return replace(camera, height_m=within(parse_signed(rest, system), Camera, "height_m", part))
        case "filters" if rest:
            return replace(camera, filters=within(parse(rest, "stops"), Camera, "filters", part))
        case "back" if rest:
            return replace(camera, back_m=within(parse_signed(rest, system), Camera, "back_m", part))
    floor = words.endswith(" on the floor")
    if " to " not in words:
        raise UserError(f"“{part}” says nothing of a camera", remedy=CAMERA_EXAMPLE)
    near, far, _ = _span(part[: -len(" on the floor")] if floor else part, system)
    if far is not None and not near < far:
        raise UserError(f"“{part}” is no depth", remedy="The near end comes first and is nearer")
    near = within(near, Depth, "near_m", part)
    return replace(camera, depth=Depth(near, far if far is None else within(far, Depth, "far_m", part), not floor))


def show_camera(camera: Camera, system: System = "metric") -> str:
    """Write a ``camera`` as :func:`parse_camera` reads it, in the units of a ``system``; its name is not part of it, and a lens has millimetres everywhere."""
    words = [camera.lens or f"{show_number(camera.focal_m * 1000)} mm"]
    if depth := camera.depth:
        far = "infinity" if depth.far_m is None else sized(depth.far_m, system)
        words.append(f"{sized(depth.near_m, system)} to {far}" + ("" if depth.looks else " on the floor"))
    words += [f"focus {sized(camera.focus_m, system)}"] if camera.focus_m is not None else []
    words += [f"f/{show_number(camera.stop)}"] if camera.stop is not None else []
    words += [f"{show_number(camera.shutter_deg)}°"] if camera.shutter_deg != 180 else []
    words += [f"{show_number(camera.exposure_s)} s"] if camera.exposure_s is not None else []
    words += [f"ISO {show_number(camera.iso)}"] if camera.iso != 800 else []
    if (camera.widest_stop, camera.smallest_stop) != (1.4, 22.0):
        words.append(f"f/{show_number(camera.widest_stop)} to f/{show_number(camera.smallest_stop)}")
    words += [f"filters {show_number(camera.filters)} stops"] if camera.filters else []
    words += [f"body {camera.body}"] if camera.body else []
    words += [f"mode {camera.mode}"] if camera.mode else []
    words += [f"eye {sized(camera.height_m, system)}"] if camera.height_m is not None else []
    words += [f"back {sized(camera.back_m, system)}"] if camera.back_m else []
    words += [show_aside(camera.across_m, system)] if camera.across_m else []
    for turn in ("pan", "tilt", "roll"):
        value: float = getattr(camera, f"{turn}_deg")
        words += [f"{turn} {show_number(value)}°"] if value else []
    return ", ".join(words)
