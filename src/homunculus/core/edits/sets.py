"""Edits of a shot's set: its cameras focused, stopped down, moved, given another lens; what stands in it pulled to another place."""

from __future__ import annotations

import bisect
import math

from msgspec.structs import replace

from homunculus.core import specs
from homunculus.core.edits.decisions import bounds
from homunculus.core.job.cameras import LensCard
from homunculus.core.job.job import Job
from homunculus.core.job.sets import Camera, Depth, Place
from homunculus.core.job.shots import Shot
from homunculus.core.plan.set_plan import Plane, SetPlan, base_scale
from homunculus.core.planners.lens import optics_of, taken_at
from homunculus.core.quantities import without_noise

STOPS = (
    0.7, 0.8, 0.9, 1.0, 1.1, 1.2, 1.4, 1.6, 1.8, 2.0, 2.2, 2.5, 2.8, 3.2, 3.5, 4.0, 4.5, 5.0, 5.6, 6.3, 7.1, 8.0, 9.0, 10.0, 11.0,
    13.0, 14.0, 16.0, 18.0, 20.0, 22.0, 25.0, 29.0, 32.0, 36.0, 40.0, 45.0, 51.0, 57.0, 64.0, 72.0, 81.0, 90.0, 102.0, 114.0, 128.0,
)  # fmt: skip
"""Marks a third of a stop apart, as barrels have them: ISO 517, value from memory."""


def next_stop(stop: float, steps: int) -> float:
    """The mark so many ``steps`` beyond a ``stop`` (f-numbers), each a third of a stop; the last one where there are no more."""
    at = bisect.bisect_left(STOPS, stop * 0.999)
    on = at < len(STOPS) and math.isclose(STOPS[at], stop, rel_tol=2e-3)
    at += steps if on or steps < 0 else steps - 1
    return STOPS[min(max(at, 0), len(STOPS) - 1)]


def put_shot(job: Job, shot: Shot) -> Job:
    """Return the ``job`` with a ``shot`` in the place of the one of its id."""
    return replace(job, shots=tuple(shot if one.id == shot.id else one for one in job.shots))


def put_camera(shot: Shot, camera: Camera) -> Shot:
    """Return the ``shot`` with a ``camera`` in the place of the one of its name; somebody has looked at its set then."""
    cameras = tuple(camera if one.name == camera.name else one for one in shot.cameras)
    return replace(shot, cameras=cameras, disagreed="")


def put_place(shot: Shot, need: int, place: Place | None) -> Shot:
    """Return the ``shot`` with what it needs, by its number ``need`` from 0, at a ``place``, or at none."""
    needs = tuple(replace(one, place=place) if i == need else one for i, one in enumerate(shot.needs))
    return replace(shot, needs=needs, disagreed="")


def with_focal(camera: Camera, focal: float) -> Camera:
    """Return the ``camera`` with a ``focal`` length [m] of its own: what its card said of the lens holds no longer."""
    low, high = bounds(Camera, "focal_m")
    return replace(camera, focal_m=min(max(focal, low), high), lens="")


def with_card(camera: Camera, card: LensCard) -> Camera:
    """Return the ``camera`` with the lens of a ``card``."""
    return replace(camera, focal_m=card.focal_m.value, lens=card.id)


def next_lens(cards: tuple[LensCard, ...], focal: float, steps: int) -> LensCard | None:
    """Of lens ``cards`` the one so many ``steps`` longer than a ``focal`` length [m], shorter when negative; none where there are no such."""
    ordered = sorted(cards, key=lambda card: card.focal_m.value)
    beyond = [c for c in ordered if (c.focal_m.value > focal * 1.001 if steps > 0 else c.focal_m.value < focal * 0.999)]
    if not beyond:
        return None
    return beyond[min(steps, len(beyond)) - 1] if steps > 0 else beyond[max(len(beyond) + steps, 0)]


def stood_at(plane: Plane, floor: float) -> Place:
    """The place of a ``plane`` pulled to a distance on the ``floor`` from the eye [m]; how deep it is, and whether it goes by looks, stays."""
    per = plane.scale.number if plane.place.looks else 1.0
    low, high = bounds(Place, "at_m")
    at = min(max(floor * per, low), high)
    to = None if plane.place.to_m is None else without_noise(at + plane.place.to_m - plane.place.at_m)
    return replace(plane.place, at_m=without_noise(at), to_m=to)


def turned(plane: Plane) -> Place:
    """The place of a ``plane`` told the other way, by how far it looks or by the floor: it stays where it is."""
    place, scale = plane.place, plane.scale.number
    per = 1 / scale if place.looks else scale
    to = None if place.to_m is None else without_noise(place.to_m * per)
    return replace(place, looks=not place.looks, at_m=without_noise(place.at_m * per), to_m=to)


def depth_ends(found: SetPlan, camera: Camera) -> tuple[float, float] | None:
    """Near and far end [m on the floor] of what a ``camera`` of the ``found`` set holds besides what stands there; none without."""
    if camera.depth is None:
        return None
    per = base_scale(found.context).number if camera.depth.looks else 1.0
    return camera.depth.near_m / per, camera.depth.far / per


def with_end(found: SetPlan, camera: Camera, end: str, floor: float) -> Camera:
    """Return the ``camera`` of the ``found`` set with the near or far ``end`` of its depth at a distance on the ``floor`` [m]."""
    depth = camera.depth or Depth(floor, floor, looks=False)
    per = base_scale(found.context).number if depth.looks else 1.0
    low, high = bounds(Depth, "near_m")
    value = without_noise(min(max(floor * per, low), high))
    if end == "near":
        return replace(camera, depth=replace(depth, near_m=min(value, depth.far * 0.999)))
    return replace(camera, depth=replace(depth, far_m=max(value, depth.near_m * 1.001)))


def further_back(found: SetPlan, by: float) -> Shot:
    """The shot of the ``found`` set with its cameras so far back, ``by`` [m], nearer when negative: all else stands as it stood."""
    scale = base_scale(found.context).number
    nearest = min((plane.at.number for plane in found.planes), default=math.inf)
    by = max(by, 0.01 - nearest)

    def place_of(index: int) -> Place | None:
        plane = next((p for p in found.planes if p.need == index), None)
        return stood_at(plane, plane.at.number + by) if plane else None

    def depth_of(depth: Depth) -> Depth:
        per = scale if depth.looks else 1.0
        near = without_noise(max(depth.near_m + by * per, bounds(Depth, "near_m")[0]))
        far = None if depth.far_m is None else without_noise(max(depth.far_m + by * per, near * 1.001))
        return replace(depth, near_m=near, far_m=far)

    return replace(
        found.shot,
        needs=tuple(replace(need, place=place_of(i)) for i, need in enumerate(found.shot.needs)),
        cameras=tuple(replace(c, depth=depth_of(c.depth) if c.depth else None) for c in found.shot.cameras),
        disagreed="",
    )


# -------------------------------------------------------------------------------------- taken hold of
Hold = str
"""What of a set is held: “focal”, “stop”, “focus”, “camera”, “place:2” for the third need, “end:near” or “end:far”."""
EYE_M = 1.5
"""Height of the eye over the floor where nobody has said it: a person's, common practice, no source."""


def camera_of(shot: Shot, name: str) -> Camera | None:
    """The camera of a ``name`` in a ``shot``, else its first; none where it has none."""
    return next((camera for camera in shot.cameras if camera.name == name), next(iter(shot.cameras), None))


def eye_height(found: SetPlan, camera: Camera) -> float:
    """Height [m] of a ``camera``'s eye over the floor: as said, else a person's, and lower over a set of the ``found`` shot that ends near."""
    if camera.height_m is not None:
        return camera.height_m
    ends = [end.number for plane in found.planes for end in (plane.at, plane.to) if end]
    ends += [end for end in depth_ends(found, camera) or () if math.isfinite(end)]
    return min(EYE_M, max(ends, default=2 * EYE_M) / 2)


def over_ground(found: SetPlan, camera: Camera, foot: float) -> float:
    """Height [m] of a ``camera``'s eye in the ``found`` set over ground whose ``foot`` is so high over the floor [m]."""
    return eye_height(found, camera) - foot


def held_plane(found: SetPlan, hold: Hold) -> Plane | None:
    """What stands in the ``found`` set where a ``hold`` takes it; none where that is no thing."""
    need = int(hold.removeprefix("place:")) if hold.startswith("place:") else -1
    return next((plane for plane in found.planes if plane.need == need), None)


def pulled(found: SetPlan, name: str, hold: Hold, along: float, up: float, notches: int) -> Shot | None:
    """The shot of a ``found`` set with something pulled from where it is.

    Parameters
    ----------
    found
        As it was when the hand took hold.
    name
        Of the camera that is drawn.
    hold
        What is held.
    along, up
        How far it was pulled along the floor and up [m].
    notches
        How far in steps, for what is no length on the floor: millimetres of focal length, thirds of a stop, stops of filters, halves of a square metre.

    Returns
    -------
    Shot
        None where there is nothing of the kind.
    """
    camera, plane = camera_of(found.shot, name), held_plane(found, hold)
    if camera is None:
        return None
    if plane:
        return put_place(found.shot, plane.need, stood_at(plane, to_grid(plane.at.number + along)))
    taken, ends = taken_at(found, camera), depth_ends(found, camera)
    match hold:
        case "focal":
            focal = optics_of(found.context, camera).focal.number
            return put_camera(found.shot, with_focal(camera, (round(focal * 1000) + notches) / 1000))
        case "stop" if taken:
            return put_camera(found.shot, replace(camera, stop=next_stop(taken.stop.number, notches)))
        case "focus" if taken and math.isfinite(taken.focus.number):
            return put_camera(found.shot, replace(camera, focus_m=to_grid(taken.focus.number + along)))
        case "filters":
            return put_camera(found.shot, replace(camera, filters=min(max(camera.filters + notches, 0.0), 30.0)))
        case "lit":
            lit = found.find(specs.LIT_AREA)
            area = found.shot.lit_m2 if found.shot.lit_m2 is not None else lit.number if lit else 1.0
            return replace(found.shot, lit_m2=round(min(max(area + 0.5 * notches, 0.5), 1e5), 2))
        case "camera":
            shot = further_back(found, -along)
            height = round(max(eye_height(found, camera) + up, 0.0), 3)
            return put_camera(shot, replace(camera_of(shot, name) or camera, height_m=height)) if up else shot
        case "end:near" | "end:far" if ends:
            end = hold.removeprefix("end:")
            at = ends[0 if end == "near" else 1]
            return (
                put_camera(found.shot, with_end(found, camera, end, to_grid(at + along))) if math.isfinite(at) else None
            )
    return None


def stepped(found: SetPlan, name: str, hold: Hold, steps: int) -> Shot | None:
    """The shot of a ``found`` set with what is held, by the ``name`` of its camera and a ``hold``, ``steps`` further: distances by a hundredth each."""
    camera, plane = camera_of(found.shot, name), held_plane(found, hold)
    if camera is None:
        return None
    taken, ends = taken_at(found, camera), depth_ends(found, camera)
    at = {"camera": -5.0, "focus": taken.focus.number if taken else 0.0, "end:near": ends[0] if ends else 0.0,
          "end:far": ends[1] if ends else 0.0}  # fmt: skip
    reach = plane.at.number if plane else at.get(hold, 0.0)
    return pulled(found, name, hold, 0.01 * steps * reach if math.isfinite(reach) else 0.0, 0.0, steps)


def to_grid(metres: float) -> float:
    """A distance of so many ``metres`` [m] as it is pulled: to five millimetres, near the lens to one."""
    step = 0.005 if metres > 1 else 0.001
    return round(max(round(metres / step) * step, 0.001), 4)
