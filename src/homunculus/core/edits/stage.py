"""Edits of a shot's stage: things pulled along, aside and up, built at another scale, the camera moved, air and moves."""

from __future__ import annotations

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.camera.frame_rate import as_said
from homunculus.core.cells.actions import Phrase, phrases_of, put_action, renamed
from homunculus.core.edits.decisions import bounds, decide, find_decision
from homunculus.core.edits.sets import further_back, put_camera, put_place, put_shot, stood_at, to_grid
from homunculus.core.errors import UserError
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Place
from homunculus.core.job.shots import Shot
from homunculus.core.job.stage import Action, Found, MeasuringCard, StageAir, Stand
from homunculus.core.plan.set_plan import Plane, SetPlan
from homunculus.core.plan.stage_plan import StagePlan
from homunculus.core.quantities import without_noise


def _held(value: float, owner: type, field: str) -> float:
    low, high = bounds(owner, field)
    return min(max(value, low), high)


def aside(place: Place, across: float) -> Place:
    """Return the ``place`` so far to the right of the axis, ``across`` [m]."""
    return replace(place, across_m=_held(_snapped(across), Place, "across_m"))


def at_foot(place: Place, foot: float | None) -> Place:
    """Return the ``place`` with its ``foot`` over the floor [m]; none: it rises to the eye."""
    return replace(place, foot_m=None if foot is None else _held(_snapped(foot), Place, "foot_m"))


def _snapped(metres: float) -> float:
    """To five millimetres: both sides of nought alike."""
    return round(round(metres / 0.005) * 0.005, 4)


def moved(plane: Plane, along: float, across: float) -> Place:
    """The place of a ``plane`` pulled ``along`` the floor, away, and ``across``, to the right [m] from where it is."""
    place = stood_at(plane, to_grid(plane.at.number + along)) if along else plane.place
    return aside(place, place.across_m + across) if across else place


def raised(plane: Plane, foot_now: float, up: float) -> Place:
    """The place of a ``plane`` whose foot is at ``foot_now``, pulled ``up`` [both m]: its foot is decided then."""
    return at_foot(plane.place, foot_now + up)


def at_scale(job: Job, found: SetPlan, plane: Plane, scale: float, *, stays: bool = False) -> Job:
    """Return the ``job`` with what stands at a ``plane`` of the ``found`` set built at another ``scale``.

    It keeps how far away it looks, so it is moved on the floor; with ``stays`` it stays where it is, and looks nearer or farther. The scale that it has
    changes nothing, nor the way in which its place is told.

    Raises
    ------
    UserError
        When it stands at a scale that nobody decides there: of an insert, or of a build that follows another.
    """
    if scale == plane.scale.number:
        return job
    place = plane.place
    if place.looks == stays:  # told the way that does not change
        per = plane.scale.number if stays else 1 / plane.scale.number
        at = without_noise(plane.at.number if stays else place.at_m / per)
        place = replace(place, looks=not stays, at_m=at)
        if plane.place.to_m is not None and plane.to is not None:
            place = replace(place, to_m=without_noise(plane.to.number * (1.0 if stays else plane.scale.number)))
    if not plane.build:
        return put_shot(job, put_place(found.shot, plane.need, replace(place, scale=_held(scale, Place, "scale"))))
    build = job.build(plane.build)
    if plane.insert or build.follows:
        whose = "an insert: its size is that of the piece" if plane.insert else f"it follows {build.follows}"
        raise UserError(f"The scale of {plane.name} is not decided here, {whose}", remedy="Change it where it is made")
    job = put_shot(job, put_place(found.shot, plane.need, place))
    decision = find_decision(job, plane.build, "scale")
    return decide(job, decision, _held(scale, type(build), "scale"))


def scale_times(plane: Plane, times: float) -> float:
    """The scale of a ``plane`` pulled to so many ``times`` its number, as people say scales."""
    return as_said(plane.scale.number * times)


def sight_stepped(air: StageAir, steps: int) -> StageAir:
    """Return the ``air`` with its sight so many ``steps`` of a tenth on; clear air stays clear."""
    return (
        air
        if air.sight_m is None
        else replace(air, sight_m=_held(float(f"{air.sight_m * 1.1**steps:.3g}"), StageAir, "sight_m"))
    )


def camera_to(found: SetPlan, camera: Camera, along: float, across: float, up: float, eye_now: float) -> Shot:
    """The shot of the ``found`` set with a ``camera`` moved ``along``, ``across`` and ``up`` [m]; its eye is at ``eye_now`` over the floor [m].

    The first camera is the one from whose eye distances are taken: moving it along moves all that stands there nearer, and things stay
    in line with it. Any other is moved by itself.
    """
    first = camera is found.shot.cameras[0]
    shot = found.shot
    if along and first:
        shot = further_back(found, -along)
    now = next(c for c in shot.cameras if c.name == camera.name)
    if along and not first:
        now = replace(now, back_m=_held(_snapped(now.back_m - along), Camera, "back_m"))
    if across:
        now = replace(now, across_m=_held(_snapped(now.across_m + across), Camera, "across_m"))
    if up:
        now = replace(now, height_m=_held(_snapped(eye_now + up), Camera, "height_m"))
    return put_camera(shot, now)


def as_the_plate(stage: StagePlan, asked: dict[str, float]) -> Shot:
    """The shot of a ``stage`` with its camera as the plate asks: focal length, height over the model's ground, distance [m], tilt, roll [deg], as far as they are ``asked``."""
    found, camera = stage.found, stage.camera
    base = next((plane for plane in found.planes if plane.build == found.base), None)
    foot = stage.find(specs.PLANE_FOOT, use=base.name) if base else None
    shot = found.shot
    if base and "distance" in asked:
        shot = put_place(shot, base.need, stood_at(base, asked["distance"]))
    if "focal length" in asked:
        camera = replace(camera, focal_m=_held(asked["focal length"], Camera, "focal_m"), lens="")
    if foot and "height" in asked:
        camera = replace(camera, height_m=_held(round(foot.number + asked["height"], 4), Camera, "height_m"))
    turns = {f"{what}_deg": asked[what] for what in ("tilt", "roll") if what in asked}
    return put_camera(shot, replace(camera, **turns))


# --------------------------------------------------------------------------------------- what moves
def with_action(shot: Shot, index: int, action: Action | None) -> Shot:
    """Return the ``shot`` with an ``action`` in the place of the one at an ``index``, taken away by none, and one more where there is none there."""
    others = tuple(one for i, one in enumerate(shot.actions) if i != index)
    named = renamed(others, action) if action else None
    return replace(shot, actions=put_action(shot.actions, index, named))


def timed(action: Action, shot: Shot, starts: float, lasts: float | None) -> Action:
    """Return an ``action`` of a ``shot`` that ``starts`` and ``lasts`` so many seconds on screen, within the shot; none: to its end."""
    starts = round(min(max(starts, 0.0), max(shot.seconds - 0.01, 0.0)), 3)
    changed = replace(action, starts_s=starts)
    if lasts is not None and hasattr(action, "lasts_s"):
        changed = replace(changed, lasts_s=round(max(min(lasts, 1e8), 0.02), 3))
    return changed


WHOLE = ("count", "wires")
"""Values that are counted."""
TIMES = ("starts_s", "lasts_s")


def values_of(action: Action) -> tuple[Phrase, ...]:
    """What is decided of an ``action`` beside its time, as far as it says a number: each as its line writes it."""
    even = not getattr(action, "places_m", None)

    def told(field: str) -> bool:
        return field not in TIMES and isinstance(getattr(action, field), int | float) and (even or field != "count")

    return tuple(phrase for phrase in phrases_of(type(action)) if told(phrase.field))


def valued(action: Action, field: str, value: float) -> Action:
    """Return an ``action`` with another ``value`` of a ``field``, in the field's own unit, within what it may be."""
    held = _held(value, type(action), field)
    changed: Action = replace(action, **{field: round(held) if field in WHOLE else float(f"{held:.4g}")})
    return changed


def value_stepped(action: Action, phrase: Phrase, steps: int) -> Action:
    """Return an ``action`` with the value of a ``phrase`` so many ``steps`` on: counts by one, degrees by one, all else by a twentieth."""
    now: float = getattr(action, phrase.field)
    if phrase.field in WHOLE or phrase.unit == "°":
        return valued(action, phrase.field, now + steps)
    if phrase.kind == "share":
        return valued(action, phrase.field, round(now + 0.01 * steps, 6))
    return valued(action, phrase.field, now * 1.05**steps if now else 0.001 * steps)


# --------------------------------------------------------------------------------------- the card
def with_stand(card: MeasuringCard | None, stand: Stand, before: str = "") -> MeasuringCard:
    """Return the ``card``, or a new one, with a ``stand`` in the place of the one called ``before``, or one more; its readings follow its name."""
    card = card or MeasuringCard()
    if before and any(one.name == before for one in card.stands):
        kept = tuple(stand if one.name == before else one for one in card.stands)
        readings = tuple(replace(r, stand=stand.name) if r.stand == before else r for r in card.readings)
        return replace(card, stands=kept, readings=readings)
    return replace(card, stands=(*card.stands, stand))


def without_stand(card: MeasuringCard, name: str) -> MeasuringCard:
    """Return the ``card`` without the stand of a ``name``, and without what was found of it."""
    return replace(
        card,
        stands=tuple(s for s in card.stands if s.name != name),
        readings=tuple(r for r in card.readings if r.stand != name),
    )


def with_reading(card: MeasuringCard, reading: Found) -> MeasuringCard:
    """Return the ``card`` with one more ``reading``."""
    return replace(card, readings=(*card.readings, reading))
